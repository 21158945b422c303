//! The log is what it claims: nothing is kept that is not committed, repeats are repeats, two who pour do not block each
//! other, what is answered is what is read next, and doors stand shut.

use super::client::{Client, applicator, lead};
use level_keel_harness::Shop;
use level_keel_server::books::check_log;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn primer(client: &Client) -> Value {
    let (_, sheets) = client.get("/sheets").await;
    sheets.as_array().unwrap().iter().find(|s| s["name"] == "Island epoxy primer").unwrap()["id"].clone()
}

/// A batch with a stirred pot of about two litres in it.
async fn with_pot(client: &Client) -> (String, Uuid) {
    let book = client.begun().await;
    let charge = Uuid::now_v7();
    client.wrote(&book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 2000 })).await;
    (book, charge)
}

fn pour(charge: Uuid, component: &str, reading_g: f64, lot: &str) -> Value {
    json!({ "charge": charge, "component": component, "reading_g": reading_g, "resolution_g": 1, "lot": lot })
}

/// A hand-over under an id that is used already is refused, and leaves no phantom pot in the other batch.
#[sqlx::test]
async fn a_refused_hand_over_leaves_nothing_behind(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let client = applicator(&shop).await;
    let (from, charge) = with_pot(&client).await;
    client.wrote(&from, "pour", pour(charge, "base", 1200.0, "")).await;
    let to = client.begun().await;
    // Both are read, so that both are kept in memory.
    for book in [&from, &to] {
        client.get(&format!("/batches/{book}")).await;
    }
    let used = Uuid::now_v7();
    let note = json!({ "id": used, "kind": "note", "payload": { "text": "an id that is taken" } });
    assert_eq!(client.post(&format!("/books/{from}/entries"), note).await.0, 200);
    let hand = json!({ "id": used, "charge": charge, "to_batch": to });
    // The id stands in the log of the giver as a note: the hand-over is not a repeat of it.
    let (status, body) = client.post(&format!("/books/{from}/hand-over"), hand).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (409, Some("id-taken")), "{body}");
    let elsewhere = Uuid::now_v7();
    let other = client.begun().await;
    let note = json!({ "id": elsewhere, "kind": "note", "payload": { "text": "in a third book" } });
    assert_eq!(client.post(&format!("/books/{other}/entries"), note).await.0, 200);
    let hand = json!({ "id": elsewhere, "charge": charge, "to_batch": to });
    let (status, body) = client.post(&format!("/books/{from}/hand-over"), hand).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (409, Some("id-taken")), "{body}");
    let (_, view) = client.get(&format!("/batches/{to}")).await;
    assert_eq!(view["pots"], json!([]), "no pot came");
    // The log goes on without a break.
    for text in ["one", "two", "three"] {
        client.wrote(&to, "note", json!({ "text": text })).await;
    }
    assert_eq!(check_log(&db).await.unwrap().faults, Vec::<String>::new());
    shop.close().await;
}

/// Begun again with the same texts it is the same batch, sent again.
#[sqlx::test]
async fn a_begin_typed_as_text_and_sent_again_is_one_batch(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let client = applicator(&shop).await;
    let sheet = primer(&client).await;
    let id = Uuid::now_v7();
    let wanted = |film: &str| {
        json!({ "id": id, "wanted": { "sheet": sheet, "part": "Buoy 31", "coat": "primer", "zones": ["hull", "tower"], "area_m2": "120 ft2",
            "film_um": film, "film_is": "wet", "transfer_pct": "62 %", "thinner_pct": "5 %" } })
    };
    let (status, first) = client.post("/batches", wanted("4 mil")).await;
    assert_eq!(status, 200, "{first}");
    let (status, again) = client.post("/batches", wanted("4 mil")).await;
    assert_eq!((status.as_u16(), again["repeated"].as_bool(), again["seq"].as_i64()), (200, Some(true), Some(1)), "{again}");
    assert_eq!(client.post("/batches", wanted("5 mil")).await.0, 409, "another film is another batch");
    let begun: i64 = sqlx::query_scalar("select count(*) from batch where label like 'Buoy 31%'").fetch_one(&db).await.unwrap();
    assert_eq!(begun, 1);
    let typed: Value =
        sqlx::query_scalar("select payload_json -> 'typed' from entry where book_id = $1").bind(id).fetch_one(&db).await.unwrap();
    assert_eq!(typed["area_m2"], "120 ft2");
    shop.close().await;
}

#[sqlx::test]
async fn a_book_of_another_kind_is_not_here(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let client = lead(&shop).await;
    for kind in ["rig", "place", "lot"] {
        let book: Option<Uuid> =
            sqlx::query_scalar("select id from book where kind = $1 limit 1").bind(kind).fetch_optional(&db).await.unwrap();
        let Some(book) = book else { panic!("the demo has a {kind} with a book") };
        let (status, body) = client.write(&book.to_string(), "note", json!({ "text": "astray" })).await;
        assert_eq!((status.as_u16(), body["code"].as_str()), (404, Some("not-found")), "{kind}: {body}");
        assert_eq!(client.get(&format!("/batches/{book}")).await.0, 404, "{kind}");
    }
    shop.close().await;
}

/// Four people pour at once from the same two lots into a pot each: every pour is stored, none waits for ever.
#[sqlx::test]
async fn four_who_pour_from_the_same_two_lots_do_not_block_each_other(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let mut hands = Vec::new();
    for _ in 0..4 {
        let client = applicator(&shop).await;
        let (book, charge) = with_pot(&client).await;
        hands.push((client, book, charge));
    }
    let pours = hands.iter().enumerate().map(|(n, (client, book, charge))| async move {
        let mut on_scale = 0.0;
        let mut failed = Vec::new();
        for i in 0..20 {
            // Half begin with base, half with hardener: each holds what the other wants next.
            let component = if (i + n) % 2 == 0 { "base" } else { "hardener" };
            on_scale += 25.0;
            let lot = if component == "base" { "P-2207" } else { "H-118" };
            let (status, body) = client.write(book, "pour", pour(*charge, component, on_scale, lot)).await;
            if status != 200 {
                failed.push(format!("{status} {body}"));
            }
        }
        failed
    });
    let failed: Vec<String> = futures_util::future::join_all(pours).await.into_iter().flatten().collect();
    assert_eq!(failed, Vec::<String>::new(), "{} of 80", failed.len());
    assert_eq!(check_log(&db).await.unwrap().faults, Vec::<String>::new());
    shop.close().await;
}

/// What differs only because time went on between the two.
fn timeless(mut view: Value) -> Value {
    for field in ["as_of", "next"] {
        view[field] = Value::Null;
    }
    for pot in view["pots"].as_array_mut().into_iter().flatten() {
        for field in ["counts_s", "age", "changes_s", "spent_at", "age_per_s"] {
            pot[field] = Value::Null;
        }
    }
    view["ready"]["beneath"]["at"] = Value::Null;
    view["ready"]["beneath"]["changes_s"] = Value::Null;
    view["holds"] = view["holds"]
        .as_array()
        .map(|all| all.iter().map(|h| json!([h["gate"], h["item"], h["trouble"], h["released"]])).collect::<Vec<_>>())
        .into();
    view["stations"] = view["stations"].as_array().map(|all| all.iter().map(|s| s["state"].clone()).collect::<Vec<_>>()).into();
    view
}

/// The answer to a begin over a coat, a rig chosen and a release shows what the next read shows.
#[sqlx::test]
async fn an_answer_shows_what_the_next_read_shows(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let client = lead(&shop).await;
    let sheet = primer(&client).await;
    let id = Uuid::now_v7();
    // Buoy 3 has its primer from days ago: what is begun on it now goes over that.
    let wanted = json!({ "sheet": sheet, "part": "Buoy 3", "coat": "second primer", "area_m2": "11.4 m2", "film_um": "4 mil",
        "film_is": "wet", "transfer_pct": 62, "thinner_pct": null });
    let (status, body) = client.post("/batches", json!({ "id": id, "wanted": wanted })).await;
    assert_eq!(status, 200, "{body}");
    let read = async || timeless(client.get(&format!("/batches/{id}")).await.1);
    assert!(body["view"]["ready"]["beneath"].is_object(), "the coat beneath is known at once");
    assert_eq!(timeless(body["view"].clone()), read().await);
    let book = id.to_string();
    let (_, rigs) = client.get("/rigs").await;
    let chosen = client.wrote(&book, "choose_rig", json!({ "rig": rigs[0]["id"] })).await;
    assert_eq!(timeless(chosen["view"].clone()), read().await);
    let air = json!({ "air_c": 21, "surface_c": 16, "material_c": 20, "rh_pct": 65 });
    let held = client.wrote(&book, "conditions", air).await;
    let hold = held["view"]["holds"].as_array().unwrap().iter().find(|h| h["gate"] == "conditions").unwrap().clone();
    let release = json!({ "gate": "conditions", "item": hold["item"], "trouble": hold["trouble"], "reason": "warming",
        "seen_seq": held["seq"] });
    let released = client.wrote(&book, "release", release).await;
    assert!(released["view"]["holds"].as_array().unwrap().iter().any(|h| h["released"].is_string()));
    assert_eq!(timeless(released["view"].clone()), read().await);
    shop.close().await;
}

/// Peroxide does not stand beside resin, whichever way the place is named.
#[sqlx::test]
async fn peroxide_beside_resin_is_refused_whichever_way_the_place_is_named(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let client = lead(&shop).await;
    let (_, sheets) = client.get("/sheets").await;
    let gel = sheets.as_array().unwrap().iter().find(|s| s["label"] == "Gel coat").unwrap()["id"].clone();
    let today = shop.state.shop_day().to_string();
    let receive = |component: &str, code: &str, place: Value| {
        json!({ "id": Uuid::now_v7(), "kind": "received", "payload": { "code": code, "sheet": gel, "component": component,
            "received": today, "container_g": "5 kg", "containers_count": 1, "place": place } })
    };
    assert_eq!(client.post("/lots", receive("base", "G-77", json!("Cold shelf"))).await.0, 200);
    let place: Uuid = sqlx::query_scalar("select id from place where name = 'Cold shelf'").fetch_one(&db).await.unwrap();
    for named in
        [json!("Cold shelf"), json!("cold  SHELF "), json!({ "id": place, "name": "Another shelf" }), json!({ "id": place })]
    {
        let (status, body) = client.post("/lots", receive("hardener", "C-77", named.clone())).await;
        assert!(
            matches!(status.as_u16(), 409 | 422) && body["detail"].as_str().unwrap().contains("eroxide"),
            "{named}: {status} {body}"
        );
    }
    let (status, body) = client.post("/lots", receive("hardener", "C-77", json!({ "id": Uuid::now_v7() }))).await;
    assert_eq!(
        (status.as_u16(), body["code"].as_str(), body["field"].as_str()),
        (422, Some("unknown-place"), Some("place")),
        "{body}"
    );
    shop.close().await;
}

/// A packed body is not unpacked: neither a stranger's nor a person's.
#[sqlx::test]
async fn packed_bodies_are_refused(db: PgPool) {
    let shop = Shop::open(db).await;
    let http = reqwest::Client::new();
    for encoding in ["br", "gzip", "deflate", "zstd", "GZIP"] {
        let sent = http
            .post(format!("{}/api/v1/session", shop.address))
            .header("content-type", "application/json")
            .header("content-encoding", encoding)
            .body(vec![0_u8; 64])
            .send()
            .await
            .unwrap();
        assert_eq!(sent.status().as_u16(), 415, "{encoding}");
        assert!(sent.text().await.unwrap().contains("packed-body"));
    }
    shop.close().await;
}

/// A sheet opened and saved unchanged changes nothing: no figure, no text, no version; in whatever units it is opened.
#[sqlx::test]
async fn a_sheet_saved_unchanged_changes_nothing(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = lead(&shop).await;
    let typed = json!({ "name": "Example enamel", "label": "", "charge": "pot", "has_hardener": true, "basis": "by_volume", "ratio": "4to1",
        "base_density_kg_l": "11.85 lb/gal", "hardener_density_kg_l": 0.98, "solids_pct": 62, "pot_life_s": "170 s", "pot_life_at_c": "70 ºF",
        "recoat_min_s": "330 s", "recoat_max_s": "80 h", "recoat_at_c": 20, "wet_um": "100 µm", "wet_min_um": "3-1/2 mil", "wet_max_um": "11.494 mil",
        "temp_min_c": 8, "temp_max_c": 32, "stream": "industrial", "thinner_max_pct": "6 oz/gal", "thinner_basis": "of_mixed",
        "thinner_density_kg_l": 0.87, "strain_um": "120 mesh", "times": [{ "at_c": "30 °C", "pot_life_s": "95 s" }] });
    let (status, made) = client.post("/sheets", json!({ "sheet": typed })).await;
    assert_eq!(status, 200, "{made}");
    let id = made["id"].as_str().unwrap().to_string();
    let texts = made["texts"].clone();
    assert_eq!(
        (&texts["pot_life_s"], &texts["wet_min_um"], &texts["times[0].pot_life_s"], &texts["thinner_max_pct"]),
        (&json!("170 s"), &json!("3-1/2 mil"), &json!("95 s"), &json!("6 oz/gal"))
    );
    for units in ["metric", "us", "mixed"] {
        assert_eq!(
            client.put("/session/reads", json!({ "units": units, "numbers": "point" })).await.0.as_u16() / 100,
            2,
            "{units}"
        );
        let (_, versions) = client.get(&format!("/sheets/{id}")).await;
        let row = &versions[0];
        // The form sends what it shows, as the page does.
        let mut form = row["sheet"].clone();
        for (path, text) in row["texts"].as_object().unwrap() {
            if let Some(at) = path.strip_prefix("times[0].") {
                form["times"][0][at] = text.clone();
            } else {
                form[path] = text.clone();
            }
        }
        let (status, saved) = client.put(&format!("/sheets/{id}"), json!({ "seen_edition": 1, "sheet": form })).await;
        assert_eq!((status.as_u16(), saved["edition"].as_i64()), (200, Some(1)), "{units}: {saved}");
        assert_eq!(saved["sheet"], made["sheet"], "{units}");
    }
    shop.close().await;
}
