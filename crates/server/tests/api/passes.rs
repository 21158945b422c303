//! The pass board over the wire: what is refused by its name, sixty zones, the pace, a card's fade, a margin that falls.

use super::client::{Client, applicator, lead};
use jiff_sqlx::ToSqlx;
use level_keel_core::conditions::probe::ProbeOf;
use level_keel_core::pot_life::after;
use level_keel_harness::Shop;
use level_keel_server::settings::{ProbeAt, RegisterTable, RegisterType, Transmitter};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn batch_of(client: &Client, label: &str) -> String {
    let (_, board) = client.get("/board").await;
    let rows = board["batches"].as_array().unwrap();
    let row = rows.iter().find(|b| b["label"].as_str().unwrap().starts_with(label)).expect("a batch of the demo");
    row["id"].as_str().unwrap().into()
}

async fn spray(client: &Client, book: &str) -> Value {
    client.get(&format!("/batches/{book}?station=spray")).await.1["spray"].clone()
}

#[sqlx::test]
async fn what_is_no_pass_is_refused_by_its_name(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (book, other) = (batch_of(&client, "Buoy 7").await, batch_of(&client, "Flume 12").await);
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    let charge = view["spray"]["charge"].clone();
    let (_, elsewhere) = client.get(&format!("/batches/{other}")).await;
    let stamp = |zone: &Value| json!({ "charge": charge, "zones": [zone] });
    let (status, refused) = client.write(&book, "pass", stamp(&elsewhere["zones"][0]["id"])).await;
    assert_eq!((status.as_u16(), refused["code"].as_str()), (422, Some("unknown-zone")), "{refused}");
    // Two taps, from two screens at that: one pass.
    let before = view["spray"]["passes"].as_array().unwrap().len();
    let (one, two) = tokio::join!(
        client.write(&book, "pass", stamp(&view["zones"][2]["id"])),
        client.write(&book, "pass", stamp(&view["zones"][2]["id"]))
    );
    let mut statuses = [one.0.as_u16(), two.0.as_u16()];
    statuses.sort_unstable();
    assert_eq!(statuses, [200, 409]);
    assert_eq!(spray(&client, &book).await["passes"].as_array().unwrap().len(), before + 1);
    // Before its pot was opened there was nothing to spray.
    let entry = json!({ "id": Uuid::now_v7(), "kind": "pass", "payload": stamp(&view["zones"][1]["id"]), "ago_s": 5.0 * 3600.0 });
    let (status, refused) = client.post(&format!("/books/{book}/entries"), entry).await;
    assert_eq!((status.as_u16(), refused["code"].as_str()), (422, Some("before-its-pot")), "{refused}");
    let comb =
        json!({ "zone": view["zones"][1]["id"], "tooth_um": "3.7 mil", "teeth_um": [25.4, 50.8, 76.2, 101.6], "of": "total" });
    let (status, refused) = client.write(&book, "comb", comb).await;
    assert_eq!((status.as_u16(), refused["field"].as_str()), (422, Some("tooth_um")), "{refused}");
    shop.close().await;
}

#[sqlx::test]
async fn sixty_zones_are_begun_and_stamped(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    let (_, sheets) = lead.get("/sheets").await;
    let rows = sheets.as_array().or(sheets["rows"].as_array()).unwrap();
    let release = rows.iter().find(|s| s.to_string().contains("Mould release film")).unwrap()["id"].clone();
    let begin = async |zones: Value| {
        let wanted = json!({ "sheet": release, "part": "Locker doors", "coat": "release", "zones": zones, "area_m2": 30,
            "film_um": 25, "film_is": "wet", "transfer_pct": 60 });
        let id = Uuid::now_v7();
        let (status, body) = lead.post("/batches", json!({ "id": id, "wanted": wanted })).await;
        (status.as_u16(), body, id.to_string())
    };
    let doors = |n: usize| (0..n).map(|i| json!(format!("door {i}"))).collect::<Vec<_>>();
    let (status, refused, _) = begin(json!(doors(61))).await;
    assert_eq!((status, refused["fields"][0]["field"].as_str()), (422, Some("zones")), "{refused}");
    let (status, refused, _) = begin(json!([{ "name": "lid", "area_m2": 0 }, "floor"])).await;
    assert_eq!((status, refused["fields"][0]["field"].as_str()), (422, Some("zones[0].area_m2")), "{refused}");
    let (status, body, book) = begin(json!(doors(60))).await;
    assert_eq!(status, 200, "{body}");
    lead.wrote(&book, "conditions", json!({ "air_c": 21, "surface_c": 20, "material_c": 20, "rh_pct": 50 })).await;
    shop.make_ready(&book).await;
    let charge = Uuid::now_v7();
    lead.wrote(&book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": "2 L" })).await;
    lead.wrote(&book, "pour", json!({ "charge": charge, "component": "base", "reading_g": 1900, "resolution_g": 1 })).await;
    lead.wrote(&book, "start_spraying", json!({ "charge": charge })).await;
    for i in 0..60 {
        let next = spray(&lead, &book).await["board"]["next"].clone();
        assert_eq!(next["title"], format!("Door {i}, pass 1 of 3"));
        lead.wrote(&book, "pass", json!({ "charge": charge, "zones": [next["zone"]] })).await;
    }
    let board = spray(&lead, &book).await["board"].clone();
    assert_eq!((board["zones"].as_array().unwrap().len(), board["drawing"].as_array().unwrap().len()), (60, 60));
    assert!(board["zones"].as_array().unwrap().iter().all(|z| z["done"] == 1 && z["wait"]["look"] == "damp_dull"));
    shop.close().await;
}

#[sqlx::test]
async fn the_pace_by_ear_and_the_fade_of_a_card(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let pace = json!({ "width_mm": "24 in", "gun_speed_m_s": "0.245 m/s", "stroke_count": 5, "stroked_watch_s": 12.2 });
    let (status, body) = client.post("/compute/film/pace", pace).await;
    assert_eq!(status, 200, "{body}");
    assert!((body["click_s"].as_f64().unwrap() - 2.488).abs() < 1e-3, "{body}");
    assert!(body["measured"]["text"].is_string() && body["between"].as_str().unwrap().contains(" to "), "{body}");
    let (status, refused) = client.post("/compute/film/pace", json!({ "width_mm": "24 in", "gun_speed_m_s": "9 m/s" })).await;
    assert_eq!((status.as_u16(), refused["fields"][0]["field"].as_str()), (422, Some("gun_speed_m_s")), "{refused}");
    let lap = |more: Value| {
        let mut lap = json!({ "flow_ml_min": 350, "fan_mm": 304.8, "overlap_pct": 35, "wet_um": 101.6, "transfer_pct": 65 });
        lap.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        json!({ "lap": lap, "profile": "flat" })
    };
    let (_, body) = client.post("/compute/film/laps", lap(json!({ "card_outer_mm": 300, "card_full_mm": 90 }))).await;
    assert_eq!(body["even_at"]["figure"], "35", "a fan that fades over 35 % on each side: {body}");
    assert!(body["ripple"]["figure"].as_str().unwrap().parse::<f64>().unwrap() < 0.5, "{body}");
    let (status, refused) = client.post("/compute/film/laps", lap(json!({ "card_outer_mm": 300 }))).await;
    assert_eq!((status.as_u16(), refused["fields"][0]["field"].as_str()), (422, Some("card_full_mm")), "{refused}");
    shop.close().await;
}

/// The surface falls by a tenth of a kelvin a minute: the gate is said with its minutes, as long as the probes tell it.
#[sqlx::test]
async fn a_margin_that_falls_is_said_while_spraying(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let client = applicator(&shop).await;
    let book = batch_of(&client, "Buoy 7").await;
    let probe = |name: &str, of, register| ProbeAt {
        rig: None,
        name: name.into(),
        of,
        table: RegisterTable::Input,
        register,
        holds: RegisterType::I16,
        scale: 0.1,
        offset: 0.0,
    };
    let probes =
        vec![probe("air", ProbeOf::Air, 0), probe("humidity", ProbeOf::Humidity, 1), probe("surface", ProbeOf::Surface, 2)];
    shop.state.probes.expect(&[Transmitter { name: "hall".into(), address: "127.0.0.1:1".into(), unit: 1, poll_s: 5.0, probes }]);
    assert_eq!(spray(&client, &book).await["board"]["falling"], json!([]));
    let now = shop.state.clock.now();
    for i in 0..40_i32 {
        let at = after(now, -60.0 * f64::from(i));
        for (source, value) in [("air", 20.0), ("humidity", 60.0), ("surface", 19.0 + 0.1 * f64::from(i))] {
            sqlx::query("insert into reading (source, at, value) values ($1, $2, $3)")
                .bind(format!("probe:{source}"))
                .bind(at.to_sqlx())
                .bind(value)
                .execute(&db)
                .await
                .unwrap();
        }
    }
    // 20 °C at 60 % has its dew point at 12.0 °C: 7.0 K of margin, 3 K asked, a tenth a minute.
    let falling = spray(&client, &book).await["board"]["falling"][0].as_str().unwrap_or_default().to_string();
    assert!(falling.starts_with("dew gate in about 40\u{a0}min at this rate"), "{falling}");
    shop.close().await;
}
