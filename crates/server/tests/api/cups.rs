//! Printed cups over the wire: kept by the lead, asked of a pot, poured to.

use super::client::{applicator, lead};
use super::mixing::ready_pot;
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// A cup is kept by those who keep the sheets; its lines are asked of a pot, and what is wrong with a cup stands at its field.
#[sqlx::test]
async fn printed_cups_are_kept_and_a_pot_is_filled_to_their_lines(db: PgPool) {
    let shop = Shop::open(db).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let (book, charge) = ready_pot(&shop, &hand).await;
    let cup = json!({ "name": "Two quart cup", "printed": "fl_oz", "holds_ml": "64 fl oz", "step_ml": "1/2 fl oz" });
    let keep = |cup: Value| json!({ "id": Uuid::from_u128(5), "cup": cup });
    assert_eq!(hand.put("/instruments/cups", keep(cup.clone())).await.0, 403);
    let (status, body) = lead.put("/instruments/cups", keep(cup.clone())).await;
    assert_eq!(status, 200, "{body}");
    for (change, field) in [
        (json!({ "name": "Bench scale", "printed": "fl_oz", "holds_ml": "64 fl oz", "step_ml": "40 fl oz" }), "step_ml"),
        (
            json!({ "name": "X", "printed": "parts", "holds_ml": "1 L", "parts": "4 1/4 to 0", "last_count": 5, "step_count": 1 }),
            "parts",
        ),
        (json!({ "name": "Quart cup", "printed": "ml", "holds_ml": "1 L", "step_ml": "50 mL" }), "name"),
    ] {
        let (status, body) = lead.put("/instruments/cups", json!({ "cup": change })).await;
        assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some(field)), "{body}");
    }
    let (_, all) = hand.get("/instruments").await;
    let kept = all.as_array().unwrap().iter().find(|i| i["name"] == "Two quart cup").unwrap();
    assert_eq!(kept["cup"]["printed"], "fl_oz");
    let lines = format!("/compute/mixing/lines/{book}/{charge}");
    let (status, body) = hand.post(&lines, json!({ "cup": kept["cup"] })).await;
    assert_eq!((status.as_u16(), body["lines"].as_array().map(Vec::len)), (200, Some(2)), "{body}");
    let (status, body) =
        hand.post(&lines, json!({ "cup": { "name": "small", "printed": "ml", "holds_ml": "50 mL", "step_ml": "5 mL" } })).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("cup.holds_ml")), "{body}");
    let (status, body) =
        hand.post(&lines, json!({ "cup": { "name": "small", "printed": "ml", "holds_ml": "50 psi", "step_ml": "5 mL" } })).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("cup.holds_ml")), "{body}");
    let pour = json!({ "charge": charge, "component": "base", "reading_g": 0, "resolution_g": 1, "line": { "cup": kept["cup"], "at": "8" } });
    let (status, body) = hand.write(&book, "pour", pour).await;
    assert_eq!(status, 200, "{body}");
    let (_, view) = hand.get(&format!("/batches/{book}")).await;
    assert!(view["log"][0]["text"].as_str().unwrap().contains("to a line of the Two quart cup"), "{}", view["log"][0]);
    shop.close().await;
}
