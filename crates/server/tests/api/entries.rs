use super::client::{Client, INSPECTOR, applicator, lead};
use level_keel_harness::Shop;
use level_keel_server::books::check_log;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::time::Duration;
use uuid::Uuid;

fn conditions() -> Value {
    json!({ "air_c": "70 F", "surface_c": "20", "material_c": 20, "rh_pct": "55 %" })
}

/// From an own beginning to a signed and accepted card, over the wire.
#[sqlx::test]
async fn a_batch_from_begin_to_signed_card(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let held =
        client.wrote(&book, "open_charge", json!({ "charge": Uuid::from_u128(5), "kind": "pot", "wanted_ml": "1.7 L" })).await;
    let pot = held["view"]["mix"]["pots"][0]["id"].clone();
    let base = json!({ "charge": pot, "component": "base", "reading_g": "1900", "resolution_g": 1 });
    client.wrote(&book, "pour", base).await;
    let (status, refused) = client.write(&book, "combine", json!({ "charge": pot })).await;
    assert_eq!((status.as_u16(), refused["code"].as_str()), (409, Some("hold")), "{refused}");
    client.wrote(&book, "conditions", conditions()).await;
    client.wrote(&book, "guards", json!({ "hazards": ["solvent", "pressure_vessel"] })).await;
    let (status, refused) = client.write(&book, "combine", json!({ "charge": pot })).await;
    assert_eq!((status.as_u16(), refused["code"].as_str()), (409, Some("hold")), "the lists are not gone through: {refused}");
    shop.make_ready(&book).await;
    client.wrote(&book, "combine", json!({ "charge": pot })).await;
    let hardener = json!({ "charge": pot, "component": "hardener", "reading_g": "2228 g", "resolution_g": 1 });
    client.wrote(&book, "pour", hardener).await;
    client.wrote(&book, "stirred", json!({ "charge": pot })).await;
    // 20 min by the sheet at 21.1 °C; at 20 °C it takes a little longer.
    shop.clock.advance(jiff::SignedDuration::from_mins(22));
    let (status, refused) = client.write(&book, "start_spraying", json!({ "charge": pot })).await;
    assert_eq!(status.as_u16(), 409, "the sheet states the least rig: {refused}");
    let (_, rigs) = client.get("/rigs").await;
    let buoy_pot =
        rigs.as_array().unwrap().iter().find(|r| r["rig"]["name"].as_str().is_some_and(|n| n.starts_with("Buoy"))).unwrap();
    client.wrote(&book, "choose_rig", json!({ "rig": buoy_pot["id"] })).await;
    client.wrote(&book, "start_spraying", json!({ "charge": pot })).await;
    client.wrote(&book, "pass", json!({ "charge": pot, "used_ml": "1.6 L" })).await;
    let teeth = [3, 4, 5, 6].map(|t| json!(format!("{t} mil")));
    // Three readings prove the total of a zone.
    for _ in 0..2 {
        client.wrote(&book, "comb", json!({ "tooth_um": "4 mil", "teeth_um": teeth, "of": "total" })).await;
    }
    let read = client.wrote(&book, "comb", json!({ "tooth_um": "4 mil", "teeth_um": teeth, "of": "total" })).await;
    assert_eq!(read["view"]["spray"]["total"]["verdict"], "in", "{}", read["view"]["spray"]["total"]);
    client.wrote(&book, "flush", json!({})).await;
    let closed = client.wrote(&book, "close_charge", json!({ "charge": pot, "how": "emptied" })).await;
    let signed = client.wrote(&book, "sign", json!({ "seen_seq": closed["seq"] })).await;
    let inspector = Client::signed(&shop.address, INSPECTOR).await;
    inspector.wrote(&book, "accept", json!({ "seen_seq": signed["seq"] })).await;
    let (_, card) = inspector.get(&format!("/batches/{book}/card")).await;
    assert_eq!(card["accepted"]["by"], INSPECTOR.0);
    assert_eq!(card["core_version"], level_keel_core::CORE_VERSION);
    assert_eq!(card["head_hash"].as_str().unwrap().len(), 64);
    // The lots taken are traced.
    let lots = sqlx::query_scalar::<_, i64>("select count(*) from lot_use where batch_id = $1")
        .bind(Uuid::parse_str(&book).unwrap())
        .fetch_one(&shop.state.db)
        .await
        .unwrap();
    assert_eq!(lots, 2);
    assert_eq!(check_log(&shop.state.db).await.unwrap().faults, Vec::<String>::new());
    shop.close().await;
}

#[sqlx::test]
async fn while_typing_the_same_code_answers_and_nothing_is_stored(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let dry = |payload: Value| json!({ "id": Uuid::now_v7(), "kind": "conditions", "payload": payload });
    let path = format!("/books/{book}/entries?dry_run=true");
    let (status, seen) = client.post(&path, dry(conditions())).await;
    assert_eq!((status.as_u16(), &seen["stored"]), (200, &json!(false)));
    assert_eq!(seen["view"]["ready"]["gate"], "go");
    insta::assert_json_snapshot!("dry_run_understood", seen["understood"]);
    insta::assert_json_snapshot!("dry_run_levels", seen["view"]["ready"]["levels"]);
    let (status, bad) = client.post(&path, dry(json!({ "air_c": "12 furlongs", "rh_pct": "0,8" }))).await;
    assert_eq!(status, 200);
    insta::assert_json_snapshot!("dry_run_refusals", bad["refusals"]);
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    assert_eq!(view["head_seq"], 1);
    shop.close().await;
}

#[sqlx::test]
async fn bad_entries_name_their_field_and_store_nothing(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let with = |field: &str, bad: Value| {
        let mut c = conditions();
        c[field] = bad;
        c
    };
    for (kind, payload, field) in [
        ("conditions", with("air_c", json!("-60 °C")), "air_c"),
        ("conditions", with("rh_pct", json!(0)), "rh_pct"),
        ("conditions", with("rh_pct", json!("101")), "rh_pct"),
        ("conditions", with("surface_c", json!("12 furlongs")), "surface_c"),
        ("conditions", with("surface_c", json!(true)), "surface_c"),
        ("set_up", json!({ "pot_kpa": "1e999 psi" }), "pot_kpa"),
        ("set_up", json!({ "pot_kpa": "5 oz" }), "pot_kpa"),
        ("set_up", json!({ "pot_kpa": "NaN" }), "pot_kpa"),
        ("comb", json!({ "tooth_um": "9 mil", "teeth_um": ["3 mil", "4 mil"], "of": "total" }), "tooth_um"),
        ("note", json!({ "text": "" }), "text"),
        ("wish", json!({}), "kind"),
    ] {
        let (status, body) = client.write(&book, kind, payload).await;
        assert_eq!(status, 422, "{kind} {field}: {body}");
        assert_eq!(body["fields"][0]["field"], field, "{body}");
    }
    let late = json!({ "id": Uuid::now_v7(), "kind": "note", "payload": { "text": "x" }, "ago_s": 90_000 });
    assert_eq!(client.post(&format!("/books/{book}/entries"), late).await.1["code"], "too-long-ago");
    let (_, sheets) = client.get("/sheets").await;
    let wanted = json!({ "sheet": sheets[0]["id"], "part": "B", "coat": "c", "area_m2": "-3 m2", "film_um": 100, "film_is": "wet", "transfer_pct": 60 });
    let (status, body) = client.post("/batches", json!({ "id": Uuid::now_v7(), "wanted": wanted })).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("area_m2")));
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    assert_eq!(view["head_seq"], 1, "nothing was stored");
    shop.close().await;
}

#[sqlx::test]
async fn a_repeat_is_the_same_entry_and_other_content_is_a_conflict(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let path = format!("/books/{book}/entries");
    let entry = json!({ "id": Uuid::now_v7(), "kind": "note", "payload": { "text": "once" } });
    let (_, first) = client.post(&path, entry.clone()).await;
    let (_, second) = client.post(&path, entry.clone()).await;
    assert_eq!((&first["seq"], &first["repeated"]), (&json!(2), &json!(false)));
    assert_eq!((&second["seq"], &second["repeated"]), (&json!(2), &json!(true)));
    let mut other = entry;
    other["payload"]["text"] = json!("twice");
    assert_eq!(client.post(&path, other).await.1["code"], "id-taken");
    shop.close().await;
}

#[sqlx::test]
async fn a_double_tap_on_begin_is_one_batch(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (_, sheets) = client.get("/sheets").await;
    let wanted = json!({ "sheet": sheets[1]["id"], "part": "Buoy 30", "coat": "primer", "area_m2": 5, "film_um": 100, "film_is": "wet", "transfer_pct": 60 });
    let body = json!({ "id": Uuid::now_v7(), "wanted": wanted });
    let (a, b) = tokio::join!(client.post("/batches", body.clone()), client.post("/batches", body.clone()));
    assert_eq!((a.0.as_u16(), b.0.as_u16()), (200, 200), "{} {}", a.1, b.1);
    assert_eq!(a.1["view"]["number"], b.1["view"]["number"]);
    shop.close().await;
}

/// The same entry sent twice at once, as a hand that taps twice does: one entry, two answers.
#[sqlx::test]
async fn a_double_tap_at_once_is_one_entry(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let path = format!("/books/{book}/entries");
    for n in 0..12 {
        let entry = json!({ "id": Uuid::now_v7(), "kind": "note", "payload": { "text": format!("tap {n}") } });
        let (a, b) = tokio::join!(client.post(&path, entry.clone()), client.post(&path, entry.clone()));
        assert_eq!((a.0.as_u16(), b.0.as_u16()), (200, 200), "{} {}", a.1, b.1);
        assert_eq!(a.1["seq"], b.1["seq"]);
        assert_ne!(a.1["repeated"], b.1["repeated"]);
    }
    shop.close().await;
}

/// Two servers over one database, as after a quick restart: neither shows what the other has moved past.
#[sqlx::test]
async fn a_record_kept_in_memory_is_never_an_old_one(db: PgPool) {
    let shop = Shop::open(db).await;
    let other = Shop::beside(&shop).await;
    let (here, there) = (applicator(&shop).await, applicator(&other).await);
    let book = here.begun().await;
    for n in 0..6 {
        let (writer, reader) = if n % 2 == 0 { (&here, &there) } else { (&there, &here) };
        let written = writer.wrote(&book, "note", json!({ "text": format!("note {n}") })).await;
        let (_, seen) = reader.get(&format!("/batches/{book}")).await;
        assert_eq!(seen["head_seq"], written["seq"]);
        assert_eq!(seen["log"][0]["text"], format!("Note: note {n}"));
        // Read back by the one that wrote it, too.
        assert_eq!(writer.get(&format!("/batches/{book}")).await.1["head_hash"], seen["head_hash"]);
    }
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    other.close().await;
    shop.close().await;
}

/// Twenty clients on one book at once: nothing lost, nothing doubled, the chain whole.
#[sqlx::test]
async fn an_append_race_of_twenty(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let tasks: Vec<_> = (0..20)
        .map(|n| {
            let (client, book) = (client.clone(), book.clone());
            tokio::spawn(async move {
                let mut seqs = Vec::new();
                for i in 0..3 {
                    let body = client.wrote(&book, "note", json!({ "text": format!("{n} {i}") })).await;
                    seqs.push(body["seq"].as_i64().unwrap());
                }
                seqs
            })
        })
        .collect();
    let mut seqs = Vec::new();
    for task in tasks {
        seqs.extend(task.await.unwrap());
    }
    seqs.sort_unstable();
    assert_eq!(seqs, (2..=61).collect::<Vec<_>>());
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn the_log_cannot_be_changed_and_tampering_is_found(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    client.wrote(&book, "note", json!({ "text": "as it was" })).await;
    let change = "update entry set payload = '{\"text\":\"as I wish\"}' where kind = 'note' and payload like '%as it was%'";
    assert!(sqlx::query(change).execute(&shop.state.db).await.is_err());
    assert!(sqlx::query("delete from entry").execute(&shop.state.db).await.is_err());
    sqlx::query("alter table entry disable trigger entry_append_only").execute(&shop.state.db).await.unwrap();
    sqlx::query(change).execute(&shop.state.db).await.unwrap();
    let faults = check_log(&shop.state.db).await.unwrap().faults;
    assert!(faults.iter().any(|f| f.contains("does not match its hash")), "{faults:?}");
    shop.close().await;
}

#[sqlx::test]
async fn a_lead_releases_and_strikes_an_applicator_is_refused(db: PgPool) {
    let shop = Shop::open(db).await;
    let (client, lead) = (applicator(&shop).await, lead(&shop).await);
    let book = client.begun().await;
    let damp = json!({ "air_c": 21, "surface_c": 16, "material_c": 20, "rh_pct": 65 });
    let read = client.wrote(&book, "conditions", damp).await;
    let release = json!({ "gate": "conditions", "reason": "heater is on", "seen_seq": read["seq"] });
    let (status, body) = client.write(&book, "release", release.clone()).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (403, Some("not-your-role")));
    let released = lead.wrote(&book, "release", release).await;
    let held = released["view"]["holds"].as_array().unwrap().iter().find(|h| h["gate"] == "conditions").unwrap();
    assert!(held["released"].is_string());
    let line = released["view"]["log"].as_array().unwrap().iter().find(|l| l["kind"] == "conditions").unwrap();
    lead.wrote(&book, "strike", json!({ "entry": line["entry"], "reason": "another part" })).await;
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    assert_eq!(view["ready"]["gate"], Value::Null);
    shop.close().await;
}

#[sqlx::test]
async fn browsers_hear_of_every_entry(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let mut stream = client.http.get(format!("{}/live", client.base)).send().await.unwrap();
    assert_eq!(stream.status(), 200);
    client.wrote(&book, "note", json!({ "text": "hear" })).await;
    let mut heard = String::new();
    while !heard.contains(&book) {
        let chunk = tokio::time::timeout(Duration::from_secs(20), stream.chunk())
            .await
            .expect("an event comes")
            .unwrap()
            .expect("a chunk");
        heard.push_str(&String::from_utf8_lossy(&chunk));
    }
    assert!(heard.contains("event: changed"));
    drop(stream);
    shop.close().await;
}

/// In a shop of one person the lists are shorter, a lot nobody received holds nothing, and one signature closes the card.
#[sqlx::test]
async fn who_works_alone_signs_once(db: PgPool) {
    let shop = Shop::open(db).await;
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    let items = async |book: &str| {
        let (_, view) = owner.get(&format!("/batches/{book}")).await;
        let groups = view["ready"]["groups"].as_array().unwrap().clone();
        groups.iter().map(|g| g["items"].as_array().unwrap().len()).sum::<usize>()
    };
    let crew = owner.begun().await;
    let alone = json!({ "name": "Skerry works", "zone": "Atlantic/Faroe", "works_alone": true });
    assert_eq!(owner.put("/shop", alone).await.0, 200);
    let book = owner.begun().await;
    assert!(items(&book).await < items(&crew).await);
    owner.wrote(&book, "conditions", conditions()).await;
    owner.wrote(&book, "guards", json!({ "hazards": ["solvent", "pressure_vessel"] })).await;
    owner.wrote(&book, "take_lot", json!({ "component": "base", "lot": "NOBODYS-1", "reason": "bought today" })).await;
    let held = owner.get(&format!("/batches/{book}")).await.1["holds"].clone();
    assert!(held.as_array().unwrap().iter().all(|h| h["gate"] != "lots"), "{held}");
    let (_, card) = owner.get(&format!("/batches/{book}/card")).await;
    let noted = card["noted"].as_array().unwrap();
    assert!(
        noted[0].as_str().unwrap().starts_with("Worked alone") && noted[1].as_str().unwrap().contains("NOBODYS-1"),
        "{noted:?}"
    );
    // Signed once, it is closed.
    let (status, refused) = owner.write(&book, "sign", json!({ "seen_seq": 4 })).await;
    assert_eq!(status.as_u16(), 409, "nothing is sprayed: {refused}");
    shop.make_ready(&book).await;
    let pot = Uuid::now_v7();
    owner.wrote(&book, "open_charge", json!({ "charge": pot, "kind": "pot", "wanted_ml": "1.7 L" })).await;
    let pour = |component: &str, g: &str| json!({ "charge": pot, "component": component, "reading_g": g, "resolution_g": 1 });
    owner.wrote(&book, "pour", pour("base", "1900")).await;
    owner.wrote(&book, "combine", json!({ "charge": pot })).await;
    owner.wrote(&book, "pour", pour("hardener", "2228")).await;
    owner.wrote(&book, "stirred", json!({ "charge": pot })).await;
    shop.clock.advance(jiff::SignedDuration::from_mins(22));
    let (_, rigs) = owner.get("/rigs").await;
    let all = rigs.as_array().unwrap();
    let rig = all.iter().find(|r| r["rig"]["name"].as_str().is_some_and(|n| n.starts_with("Buoy"))).unwrap();
    owner.wrote(&book, "choose_rig", json!({ "rig": rig["id"] })).await;
    owner.wrote(&book, "start_spraying", json!({ "charge": pot })).await;
    owner.wrote(&book, "pass", json!({ "charge": pot, "used_ml": "1.6 L" })).await;
    let teeth = [3, 4, 5, 6].map(|t| json!(format!("{t} mil")));
    for _ in 0..3 {
        owner.wrote(&book, "comb", json!({ "tooth_um": "4 mil", "teeth_um": teeth, "of": "total" })).await;
    }
    owner.wrote(&book, "flush", json!({})).await;
    let closed = owner.wrote(&book, "close_charge", json!({ "charge": pot, "how": "emptied" })).await;
    let signed = owner.wrote(&book, "sign", json!({ "seen_seq": closed["seq"] })).await;
    let (_, card) = owner.get(&format!("/batches/{book}/card")).await;
    assert_eq!((&card["signed"]["by"], &card["accepted"]["by"]), (&json!("Dunja Fenn"), &json!("Dunja Fenn")));
    let again = owner.write(&book, "accept", json!({ "seen_seq": signed["seq"] })).await;
    assert_eq!(again.0.as_u16(), 409, "it is closed: {}", again.1);
    shop.close().await;
}
