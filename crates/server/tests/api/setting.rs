//! Set over the wire: the line asked, a tip that wears, pieces and scales kept by those who may.

use super::client::{Client, applicator, lead};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

fn refused(answer: &Value) -> (String, String) {
    let first = &answer["fields"][0];
    let field = first["field"].as_str().or(answer["field"].as_str()).unwrap_or_default();
    (answer["code"].as_str().unwrap_or_default().into(), field.into())
}

async fn rig_named(client: &Client, name: &str) -> String {
    let (_, rigs) = client.get("/rigs").await;
    let found = rigs.as_array().unwrap().iter().find(|r| r["rig"]["name"] == name).unwrap_or_else(|| panic!("no {name}"));
    found["id"].as_str().unwrap().into()
}

#[sqlx::test]
async fn the_line_is_asked_in_any_unit_and_keeps_nothing(db: PgPool) {
    let shop = Shop::open(db).await;
    let hand = applicator(&shop).await;
    let book = hand.begun().await;
    let ask = async |line: Value| hand.post(&format!("/compute/delivery/line/{book}"), json!({ "line": line })).await;
    // Before a rig is chosen, of the one Set opens on; a shop without one is told to choose.
    let (status, proposed) = ask(json!({ "pot_kpa": "10 psi" })).await;
    assert_eq!((status.as_u16(), proposed["level"]["label"].as_str()), (200, Some("Stream")), "{proposed}");
    sqlx::query("update rig set retired = true").execute(&shop.state.db).await.unwrap();
    let (status, body) = ask(json!({ "pot_kpa": "10 psi" })).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (409, Some("no-line")));
    sqlx::query("update rig set retired = false").execute(&shop.state.db).await.unwrap();
    hand.wrote(&book, "choose_rig", json!({ "rig": rig_named(&hand, "Buoy pot, two litres").await })).await;
    let (_, before) = hand.get(&format!("/batches/{book}")).await;
    let flow = async |line: Value| ask(line).await.1["modelled"]["flow"]["figure"].as_str().unwrap().parse::<f64>().unwrap();
    let ten = flow(json!({ "pot_kpa": "10 psi" })).await;
    assert!((flow(json!({ "pot_kpa": "0.689476 bar" })).await - ten).abs() <= 1.0, "the same pressure by another unit");
    assert!(flow(json!({ "pot_kpa": "10 psi", "nozzle_mm": "1.2 mm" })).await < ten);
    assert!(flow(json!({ "pot_kpa": "10 psi", "hose_bore_mm": "1/4 in" })).await < ten);
    assert!(flow(json!({ "pot_kpa": "10 psi", "paint_c": "95 F" })).await > ten, "warmer is thinner");
    let (_, by_stream) = ask(json!({ "stream_mm": "10 in" })).await;
    assert_eq!(by_stream["level"]["word"], "in");
    let (_, over) = ask(json!({ "pot_kpa": "100 psi" })).await;
    assert!(over["stop"].as_str().unwrap().contains("80\u{a0}psi"), "{over}");
    for (line, code, field) in [
        (json!({ "pot_kpa": "5 oz" }), "wrong-unit", "pot_kpa"),
        (json!({ "pot_kpa": "0,8" }), "comma", "pot_kpa"),
        (json!({ "pot_kpa": "3 1/0" }), "not-a-number", "pot_kpa"),
        (json!({ "pot_kpa": "NaN" }), "not-a-number", "pot_kpa"),
        (json!({ "pot_kpa": "10 psi", "colour_mm": 4 }), "unknown-field", "colour_mm"),
        (json!({ "pot_kpa": "-15 psi" }), "outside-limits", "pot_kpa"),
        (json!({ "pot_kpa": "10 psi", "nozzle_mm": "0" }), "outside-limits", "nozzle_mm"),
        (json!({ "pot_kpa": "10 psi", "hose_length_mm": "5 km" }), "outside-limits", "hose_length_mm"),
        (json!({ "flow_ml_min": "300 mL/min", "stream_mm": "9 in" }), "one-of-three", "stream_mm"),
    ] {
        let (status, body) = ask(line.clone()).await;
        assert_eq!(status, 422, "{line} {body}");
        assert_eq!(refused(&body).1, field, "{line} {body}");
        assert!(code == "unknown-field" || !refused(&body).0.is_empty(), "{line} {body}");
    }
    assert_eq!(hand.post(&format!("/compute/delivery/line/{}", Uuid::nil()), json!({ "line": { "pot_kpa": 70 } })).await.0, 404);
    let (_, after) = hand.get(&format!("/batches/{book}")).await;
    assert_eq!((&before["head_seq"], &before["log"]), (&after["head_seq"], &after["log"]), "nothing was kept");
    shop.close().await;
}

/// Three flows of the demo's machine in its book: a fifth over its first; another tip begins anew, a strike goes back.
#[sqlx::test]
async fn a_tip_wears_by_its_rigs_book(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let machine = rig_named(&hand, "Flume gel-coat machine").await;
    let wear = async || hand.get(&format!("/rigs/{machine}")).await.1["wear"].clone();
    let write = async |client: &Client, kind: &str, payload: Value| {
        let entry = json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload, "ago_s": 0 });
        client.post(&format!("/rigs/{machine}/entries"), entry).await
    };
    let worn = wear().await;
    // 310 mL in 15 s at 40 psi, 385 at 42: 1.2419 × √(40/42) = 1.212, worked by hand.
    assert_eq!(
        (worn["level"]["shown"]["figure"].as_str(), worn["level"]["word"].as_str()),
        (Some("21.2"), Some("out")),
        "{worn}"
    );
    let flow = |psi: &str, ml: u32| json!({ "pot_kpa": psi, "caught_ml": format!("{ml} mL"), "caught_watch_s": "15 s" });
    let (_, body) = write(&hand, "tip_flow", flow("130 psi", 300)).await;
    assert_eq!(refused(&body), ("over-rating".into(), "pot_kpa".into()));
    let (status, now) = write(&hand, "tip_flow", flow("40 psi", 315)).await;
    assert_eq!(status, 200, "{now}");
    assert_eq!(now["wear"]["level"]["word"], "in", "{}", now["wear"]);
    // That one was of another rig: struck, the one before stands again.
    let mistaken = now["book"][0]["entry"].clone();
    assert_eq!(write(&lead, "strike", json!({ "entry": mistaken, "reason": "the other machine" })).await.0, 200);
    assert_eq!(wear().await["level"]["shown"]["figure"], "21.2");
    let pot = rig_named(&hand, "Buoy pot, two litres").await;
    let entry = json!({ "id": Uuid::now_v7(), "kind": "tip_flow", "payload": flow("10 psi", 300), "ago_s": 0 });
    let (status, body) = hand.post(&format!("/rigs/{pot}/entries"), entry).await;
    assert_eq!((status.as_u16(), refused(&body).0), (422, "no-such-place".into()));
    assert!(level_keel_server::books::check_log(&db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn pieces_stay_what_they_are_and_fit_their_place(db: PgPool) {
    let shop = Shop::open(db).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let hose = json!({ "kind": "fluid_hose", "name": "Sixty feet", "hose_bore_mm": "3/8 in", "hose_length_mm": "60 ft" });
    assert_eq!(hand.post("/pieces", json!({ "piece": hose })).await.0, 403);
    let (status, id) = lead.post("/pieces", json!({ "piece": hose })).await;
    assert_eq!(status, 200, "{id}");
    let id = id.as_str().unwrap().to_string();
    let (status, body) = lead.post("/pieces", json!({ "piece": hose })).await;
    assert_eq!((status.as_u16(), refused(&body).0), (422, "taken".into()));
    for (change, field) in [
        (json!({ "kind": "air_hose", "name": "Sixty feet", "air_bore_mm": "5/16 in", "air_length_mm": "60 ft" }), "kind"),
        (json!({ "kind": "fluid_hose", "name": "", "hose_bore_mm": "3/8 in", "hose_length_mm": "60 ft" }), "name"),
        (json!({ "kind": "fluid_hose", "name": "Sixty feet", "hose_bore_mm": "3/8 in" }), "hose_length_mm"),
        (
            json!({ "kind": "fluid_hose", "name": "Sixty feet", "hose_bore_mm": "3/8 in", "hose_length_mm": "0" }),
            "hose_length_mm",
        ),
        (json!({ "kind": "fluid_hose", "name": "Sixty feet", "rating_kpa": "80 psi" }), "rating_kpa"),
    ] {
        let (status, body) = lead.put(&format!("/pieces/{id}"), json!({ "piece": change })).await;
        assert_eq!((status.as_u16(), refused(&body).1), (422, field.into()), "{change} {body}");
    }
    let rig = |place: &str| {
        json!({ "name": "Long pot", "kind": "pot", "rating_kpa": "80 psi", "relief_kpa": "80 psi", "two_regulators": true, "gun": "G",
            "class": "conventional", "nozzle_mm": "1.8 mm", "hose_bore_mm": "3/8 in", "hose_length_mm": "25 ft", "pieces": { place: id } })
    };
    for place in ["air_hose", "tip"] {
        let (status, body) = lead.post("/rigs", json!({ "rig": rig(place) })).await;
        assert_eq!((status.as_u16(), refused(&body)), (422, ("unknown-piece".into(), format!("pieces.{place}"))), "{body}");
    }
    let (status, made) = lead.post("/rigs", json!({ "rig": rig("fluid_hose") })).await;
    assert_eq!(status, 200, "{made}");
    let (_, seen) = lead.get(&format!("/rigs/{}", made.as_str().unwrap())).await;
    // The piece's figure stands before what was typed.
    assert!((seen["rig"]["hose_length_mm"].as_f64().unwrap() - 18_288.0).abs() < 1e-6, "{}", seen["rig"]);
    // Put away it is fitted to no other rig; the one that has it keeps its figures.
    assert_eq!(lead.put(&format!("/pieces/{id}"), json!({ "piece": hose, "retired": true })).await.0, 200);
    let mut second = rig("fluid_hose");
    second["name"] = json!("Second long pot");
    let (_, body) = lead.post("/rigs", json!({ "rig": second })).await;
    assert_eq!(refused(&body), ("retired".into(), "pieces.fluid_hose".into()));
    // A rig that is not used any more stays so when one of its pieces changes, and its figures follow the piece.
    assert_eq!(lead.put(&format!("/pieces/{id}"), json!({ "piece": hose })).await.0, 200, "back on the shelf");
    let path = format!("/rigs/{}", made.as_str().unwrap());
    assert_eq!(lead.put(&path, json!({ "rig": seen["rig"], "retired": true })).await.0, 200);
    let shorter = json!({ "kind": "fluid_hose", "name": "Sixty feet", "hose_bore_mm": "3/8 in", "hose_length_mm": "50 ft" });
    assert_eq!(lead.put(&format!("/pieces/{id}"), json!({ "piece": shorter })).await.0, 200);
    let (_, seen) = lead.get(&path).await;
    assert_eq!(seen["retired"], true, "{}", seen["book"]);
    assert!((seen["rig"]["hose_length_mm"].as_f64().unwrap() - 15_240.0).abs() < 1e-6, "{}", seen["rig"]);
    shop.close().await;
}

#[sqlx::test]
async fn scales_are_kept_by_leads_with_their_step(db: PgPool) {
    let shop = Shop::open(db).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let keep = async |client: &Client, scale: Value| client.put("/instruments/scales", json!({ "scale": scale })).await;
    let fine = json!({ "name": "Gold scale", "resolution_g": "10 mg" });
    assert_eq!(keep(&hand, fine.clone()).await.0, 403);
    let (status, id) = keep(&lead, fine.clone()).await;
    assert_eq!(status, 200, "{id}");
    let listed = async |name: &str| {
        let (_, all) = hand.get("/instruments").await;
        all.as_array().unwrap().iter().find(|i| i["name"] == name).cloned()
    };
    assert_eq!(listed("Gold scale").await.unwrap()["shown"]["text"].as_str().unwrap().replace('\u{a0}', " "), "0.01 g");
    for (scale, field) in [
        (json!({ "name": "gold SCALE", "resolution_g": "1 g" }), "name"),
        (json!({ "name": " ", "resolution_g": "1 g" }), "name"),
        (json!({ "name": "Other", "resolution_g": "0" }), "resolution_g"),
        (json!({ "name": "Other", "resolution_g": "2 psi" }), "resolution_g"),
        (json!({ "name": "Other" }), "resolution_g"),
        (json!({ "name": "Other", "resolution_g": 1, "colour": "red" }), "colour"),
    ] {
        let (status, body) = keep(&lead, scale.clone()).await;
        assert_eq!((status.as_u16(), refused(&body).1), (422, field.into()), "{scale} {body}");
    }
    let changed = json!({ "id": id, "scale": { "name": "Gold scale", "resolution_g": "0.1 g" } });
    assert_eq!(lead.put("/instruments/scales", changed).await.0, 200);
    assert_eq!(listed("Gold scale").await.unwrap()["resolution"], 0.1);
    assert!(listed("Other").await.is_none(), "nothing half kept");
    shop.close().await;
}
