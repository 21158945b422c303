//! Rigs over the wire: kept by leads, their books, a batch that pins one, what it bears, what was good last time.

use super::client::{applicator, lead};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

fn pot(name: &str) -> Value {
    json!({ "name": name, "kind": "pot", "rating_kpa": "80 psi", "relief_kpa": "5.5 bar", "two_regulators": true, "vent_valve": true,
        "hose_bore_mm": "3/8 in", "hose_length_mm": "25 ft", "lift_mm": "", "gun": "Spare gun", "class": "conventional",
        "nozzle_mm": "1.8 mm", "spare_mm": "1.2 mm; 1.4 mm", "air_nl_min": "12 scfm", "air_bore_mm": "1/4 in", "air_length_mm": "50 ft" })
}

fn refused(answer: &Value) -> (String, String) {
    let first = &answer["fields"][0];
    (
        answer["code"].as_str().unwrap_or_default().into(),
        first["field"].as_str().or(answer["field"].as_str()).unwrap_or_default().into(),
    )
}

#[sqlx::test]
async fn a_rig_is_kept_by_a_lead_and_has_a_book(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let id = Uuid::now_v7();
    let new = json!({ "id": id, "rig": pot("Spare pot") });
    assert_eq!(hand.post("/rigs", new.clone()).await.0, 403);
    assert_eq!(lead.post("/rigs", new.clone()).await.0, 200);
    // A double tap is one rig; another of its name is refused.
    assert_eq!(lead.post("/rigs", new).await.0, 200);
    let (status, body) = lead.post("/rigs", json!({ "rig": pot("spare POT") })).await;
    assert_eq!((status.as_u16(), refused(&body)), (422, ("taken".into(), "name".into())));
    for (field, bad, named) in [
        ("nozzle_mm", json!("0"), "nozzle_mm"),
        ("hose_length_mm", json!("5 km"), "hose_length_mm"),
        ("rating_kpa", json!(""), "rating_kpa"),
        ("relief_kpa", json!("90 psi"), "relief_kpa"),
        ("spare_mm", json!("1.2 mm; furlong"), "spare_mm[1]"),
        ("tip_code", json!("52"), "tip_code"),
        ("class", json!("zap"), "class"),
    ] {
        let mut rig = pot("Other pot");
        rig[field] = bad;
        let (status, body) = lead.post("/rigs", json!({ "rig": rig })).await;
        assert_eq!((status.as_u16(), refused(&body).1), (422, named.into()), "{body}");
    }
    // Its book: anyone who works with it.
    let write = async |kind: &str, payload: Value| {
        hand.post(&format!("/rigs/{id}/entries"), json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload, "ago_s": 0 }))
            .await
    };
    assert_eq!(write("inspected", json!({ "sound": true, "text": "" })).await.0, 200);
    let (status, body) = write("inspected", json!({ "sound": false })).await;
    assert_eq!((status.as_u16(), refused(&body).1), (422, "text".into()));
    assert_eq!(write("fitted", json!({ "nozzle_mm": "1.4 mm" })).await.0, 200);
    assert_eq!(write("fitted", json!({})).await.0, 422);
    assert_eq!(write("burnt", json!({})).await.0, 422);
    let (_, now) = lead.get(&format!("/rigs/{id}")).await;
    assert_eq!(now["rig"]["nozzle_mm"], 1.4);
    let (entry, text) = (now["book"][0]["entry"].clone(), now["book"][0]["text"].as_str().unwrap().to_string());
    assert!(text.starts_with("Fitted nozzle"), "{text}");
    let strike =
        json!({ "id": Uuid::now_v7(), "kind": "strike", "payload": { "entry": entry, "reason": "mis-read" }, "ago_s": 0 });
    assert_eq!(lead.post(&format!("/rigs/{id}/entries"), strike).await.0, 200);
    let (_, now) = lead.get(&format!("/rigs/{id}")).await;
    assert_eq!(now["rig"]["nozzle_mm"], 1.8, "what was fitted before is back");
    assert_eq!((now["book"][1]["struck"].clone(), now["book"].as_array().unwrap().len()), (json!(true), 4));
    assert!(level_keel_server::books::check_log(&db).await.unwrap().faults.is_empty());
    shop.close().await;
}

/// A plate, a relief, "not flushed yet": each change stands in the book with who made it; what was typed is kept; an id that
/// is taken refuses the whole of it.
#[sqlx::test]
async fn figures_of_a_rig_change_with_an_entry_that_says_who(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let lead = lead(&shop).await;
    let body = |relief: &str, unflushed: bool| {
        json!({ "name": "Pot of the slip", "kind": "pot", "rating_kpa": "80 psi", "relief_kpa": relief, "two_regulators": true, "vent_valve": true,
            "hose_bore_mm": "3/8 in", "hose_length_mm": "25 ft", "gun": "Slip gun", "class": "conventional", "nozzle_mm": 1.8, "unflushed": unflushed })
    };
    let id = Uuid::now_v7();
    let put = |relief: &str, unflushed: bool| json!({ "id": id, "rig": body(relief, unflushed) });
    assert_eq!(lead.post("/rigs", put("80 psi", true)).await.0, 200);
    assert_eq!(lead.post("/rigs", put("80 psi", true)).await.0, 200, "sent again it is the same rig");
    let (status, refused) = lead.post("/rigs", put("60 psi", true)).await;
    assert_eq!((status.as_u16(), refused["code"].clone()), (422, json!("id-taken")));
    let (_, one) = lead.get(&format!("/rigs/{id}")).await;
    assert!((one["rig"]["relief_kpa"].as_f64().unwrap() - 551.58).abs() < 0.01, "nothing of it was taken");
    assert_eq!(lead.put(&format!("/rigs/{id}"), put("70 psi", false)).await.0, 200);
    assert_eq!(lead.put(&format!("/rigs/{id}"), put("70 psi", false)).await.0, 200, "nothing changed, nothing written");
    let (_, one) = lead.get(&format!("/rigs/{id}")).await;
    let book = one["book"].as_array().unwrap();
    assert_eq!(book.len(), 2);
    let said = book[0]["text"].as_str().unwrap().replace('\u{a0}', " ");
    assert!(said.contains("relief 80 psi to 70 psi") && said.contains("unflushed yes to no"), "{said}");
    assert!(book[0]["by"].as_str().is_some_and(|by| !by.is_empty()));
    // Struck, the plate is what it was; and a piece of its line exchanged is written down too.
    let strike = json!({ "id": Uuid::now_v7(), "kind": "strike", "payload": { "entry": book[0]["entry"], "reason": "mis-read plate" }, "ago_s": 0 });
    assert_eq!(lead.post(&format!("/rigs/{id}/entries"), strike).await.0, 200);
    let (_, one) = lead.get(&format!("/rigs/{id}")).await;
    assert!((one["rig"]["relief_kpa"].as_f64().unwrap() - 551.58).abs() < 0.01);
    assert_eq!(one["rig"]["unflushed"], true);
    let write = |kind: &str, payload: Value| json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload, "ago_s": 0 });
    let path = format!("/rigs/{id}/entries");
    assert_eq!(lead.post(&path, write("exchanged", json!({ "piece": "packing" }))).await.0, 200);
    assert_eq!(lead.post(&path, write("changed", json!({ "rig": body("90 psi", false) }))).await.0, 422, "only by its page");
    // What was typed stays beside what it was understood as.
    assert_eq!(lead.post(&path, write("fitted", json!({ "nozzle_mm": "0.055 in" }))).await.0, 200);
    let typed: Value = sqlx::query_scalar("select payload_json -> 'typed' from entry where book_id = $1 and kind = 'fitted'")
        .bind(id)
        .fetch_one(&db)
        .await
        .unwrap();
    assert_eq!(typed["nozzle_mm"], "0.055 in");
    assert!(level_keel_server::books::check_log(&db).await.unwrap().faults.is_empty());
    shop.close().await;
}

/// Chosen for a batch a rig is pinned: what is changed later does not reach back. Over its plate is a stop.
#[sqlx::test]
async fn a_batch_pins_its_rig_and_nobody_goes_over_its_plate(db: PgPool) {
    let shop = Shop::open(db).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let id = Uuid::now_v7();
    lead.post("/rigs", json!({ "id": id, "rig": pot("Spare pot") })).await;
    let book = hand.begun().await;
    let chosen = hand.wrote(&book, "choose_rig", json!({ "rig": id })).await;
    assert_eq!(chosen["view"]["set"]["rig_name"], "Spare pot");
    assert_eq!(chosen["view"]["set"]["points"].as_array().unwrap().len(), 6);
    // The air hose of 50 ft of 1/4 in chokes at 12 scfm from the start: said where the wall is asked.
    let tried = hand
        .dry(&book, "set_up", json!({ "pot_kpa": "10 psi", "stream_mm": "10 in", "atomizing_kpa": "45 psi", "air_at": "wall" }))
        .await;
    assert!(tried["view"]["set"]["wall"].as_str().unwrap().contains("too thin"), "{}", tried["view"]["set"]["wall"]);
    for (kind, payload, code, field) in [
        ("set_up", json!({ "pot_kpa": "81 psi" }), "over-rating", "pot_kpa"),
        ("set_up", json!({ "pot_kpa": "-3 psi" }), "outside-limits", "pot_kpa"),
        ("set_up", json!({ "pot_kpa": "10 psi", "run_cup_s": "8 s", "cup": "ford4" }), "cup-out-of-range", "run_cup_s"),
        (
            "flow_catch",
            json!({ "pot_kpa": "10 psi", "caught_g": "-4 g", "caught_watch_s": "60 s" }),
            "outside-limits",
            "caught_g",
        ),
        ("flow_catch", json!({ "pot_kpa": "10 psi", "caught_watch_s": "60 s" }), "missing", "caught_g"),
        (
            "flow_catch",
            json!({ "pot_kpa": "10 psi", "caught_ml": "9 L", "caught_watch_s": "60 s" }),
            "flows-too-much",
            "caught_ml",
        ),
        ("choose_rig", json!({ "rig": Uuid::nil() }), "unknown-rig", "rig"),
    ] {
        let (status, body) = hand.write(&book, kind, payload.clone()).await;
        assert_eq!(refused(&body), (code.into(), field.into()), "{status} {payload} {body}");
        assert!(status.is_client_error());
    }
    let mut changed = pot("Spare pot");
    changed["rating_kpa"] = json!("60 psi");
    changed["relief_kpa"] = json!("60 psi");
    assert_eq!(lead.put(&format!("/rigs/{id}"), json!({ "rig": changed, "retired": true })).await.0, 200);
    assert!(hand.wrote(&book, "set_up", json!({ "pot_kpa": "70 psi" })).await["stored"].as_bool().unwrap());
    let other = hand.begun().await;
    let (status, body) = hand.write(&other, "choose_rig", json!({ "rig": id })).await;
    assert_eq!((status.as_u16(), refused(&body).0), (422, "retired".into()));
    shop.close().await;
}

/// The demo's signed primers were set at 10 psi with the buoy pot: the next one with that pot starts from there.
#[sqlx::test]
async fn last_good_set_ups_stand_beside_the_next_one(db: PgPool) {
    let shop = Shop::open(db).await;
    let hand = applicator(&shop).await;
    let (_, rigs) = hand.get("/rigs").await;
    let rig = rigs.as_array().unwrap().iter().find(|r| r["rig"]["name"] == "Buoy pot, two litres").unwrap()["id"].clone();
    let book = hand.begun().await;
    let view = hand.wrote(&book, "choose_rig", json!({ "rig": rig })).await["view"].clone();
    // The answer shows what the next read shows.
    assert_eq!(view["set"]["presets"], hand.get(&format!("/batches/{book}")).await.1["set"]["presets"]);
    let presets = view["set"]["presets"].as_array().unwrap();
    assert_eq!(presets.len(), 2, "{presets:?}");
    assert_eq!(presets[0]["pot"]["figure"], "10");
    hand.wrote(&book, "set_up", json!({ "pot_kpa": "14 psi", "stream_mm": "10 in" })).await;
    let (_, view) = hand.get(&format!("/batches/{book}")).await;
    assert!(view["set"]["drift"].as_str().unwrap().contains("more than last time"), "{}", view["set"]["drift"]);
    shop.close().await;
}

/// Laps and tips as asked while typing.
#[sqlx::test]
async fn laps_and_tips(db: PgPool) {
    let shop = Shop::open(db).await;
    let hand = applicator(&shop).await;
    let lap = json!({ "flow_ml_min": "350 mL/min", "fan_mm": "12 in", "overlap_pct": 50, "wet_um": "4 mil", "transfer_pct": 65 });
    let (_, laps) = hand.post("/compute/film/laps", json!({ "lap": lap, "profile": "flat", "area_m2": 10.0 })).await;
    // 0.245 m/s is 9.6 in/s; a flat fan at half overlap: 62.5 % of ripple.
    assert_eq!(
        (laps["gun_speed"]["text"].as_str().unwrap().replace('\u{a0}', " "), laps["ripple"]["figure"].clone()),
        ("9.6 in/s".into(), json!("62.5"))
    );
    let (status, body) = hand.post("/compute/film/laps", json!({ "lap": { "transfer_pct": 65 } })).await;
    assert_eq!((status.as_u16(), refused(&body).0), (422, "leave-one-out".into()));
    assert_eq!(hand.get("/compute/tips/517").await.1["angle"]["figure"], "50");
    assert_eq!(hand.get("/compute/tips/52").await.0, 422);
    shop.close().await;
}

/// A rig is drawn while it is typed, and says what it still needs; nothing of it is kept.
#[sqlx::test]
async fn a_rig_is_drawn_while_it_is_put_together(db: PgPool) {
    let shop = Shop::open(db).await;
    let hand = applicator(&shop).await;
    let (_, before) = hand.get("/rigs").await;
    let drawn = async |rig: Value| hand.post("/rigs/understand", json!({ "rig": rig })).await;
    let (status, bare) = drawn(json!({ "kind": "gun_cup" })).await;
    assert_eq!(status, 200, "{bare}");
    let line = |body: &Value| -> Vec<String> {
        body["points"].as_array().unwrap().iter().map(|p| p["is"].as_str().unwrap().to_string()).collect()
    };
    assert_eq!(line(&bare), ["supply", "regulator", "gun", "nozzle"], "a cup on the gun has neither vessel nor hose");
    assert_eq!(bare["needs"], "What is it called?");
    // A pot says what its plate must tell, one after the other.
    let mut rig = json!({ "name": "New pot", "kind": "pot", "two_regulators": true });
    for (needs, field, text) in [
        ("rated for", "rating_kpa", "80 psi"),
        ("relief valve open", "relief_kpa", "60 psi"),
        ("Bore and length", "hose_bore_mm", "3/8 in"),
        ("Bore and length", "hose_length_mm", "25 ft"),
        ("hole of the fitted nozzle", "nozzle_mm", "1.8 mm"),
    ] {
        let (_, now) = drawn(rig.clone()).await;
        assert!(now["needs"].as_str().is_some_and(|said| said.contains(needs)), "{now}");
        rig[field] = text.into();
    }
    let (_, whole) = drawn(rig.clone()).await;
    assert!(whole["needs"].is_null(), "{whole}");
    assert_eq!(line(&whole), ["supply", "regulator", "vessel", "hose", "gun", "nozzle"]);
    assert!(whole["points"][3]["facts"].as_str().is_some_and(|facts| facts.contains("3/8")), "{whole}");
    // What cannot be read names its field; a kind nobody knows is refused.
    rig["hose_bore_mm"] = "wide".into();
    let (status, body) = drawn(rig).await;
    assert_eq!((status.as_u16(), refused(&body).1), (422, "hose_bore_mm".into()));
    assert_eq!(drawn(json!({ "kind": "cannon" })).await.0, 422);
    assert_eq!(hand.get("/rigs").await.1, before, "nothing was kept");
}

/// Each figure of a piece says what it is, in the words of the shop.
#[sqlx::test]
async fn the_figures_of_a_piece_say_what_they_are(db: PgPool) {
    let shop = Shop::open(db).await;
    let hand = lead(&shop).await;
    let (_, pieces) = hand.get("/pieces").await;
    let facts = |name: &str| {
        let piece = pieces.as_array().unwrap().iter().find(|p| p["piece"]["name"] == name);
        piece.unwrap_or_else(|| panic!("no piece {name}"))["facts"].as_str().unwrap().replace('\u{a0}', " ")
    };
    assert_eq!(facts("Two-litre pot"), "rated 80 psi, relief 80 psi, fill 2 L, valve to vent by");
    assert_eq!(facts("Pot gun, bench three"), "conventional, air to 60 psi, takes 12 scfm, turns of the needle: 3");
    assert_eq!(facts("Bench 1.8"), "1.8 mm, at hand 1.2 mm; 1.4 mm; 2.2 mm");
    assert!(facts("Sign gun").starts_with("high volume, low pressure, "), "{}", facts("Sign gun"));
    shop.close().await;
}
