use super::client::{applicator, lead};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;

pub fn typed() -> Value {
    json!({
        "name": "Our own two-pack", "label": "", "charge": "pot", "base_density_kg_l": "11.85 lb/gal", "solids_pct": "62 %",
        "has_hardener": true, "basis": "by_volume", "ratio": "4:1", "hardener_density_kg_l": "0.98", "tolerance_pct": "5",
        "thinner_max_pct": "10 %", "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87,
        "pot_life_s": "4 h", "pot_life_at_c": "70 F", "induction_s": "20 min", "recoat_min_s": "6 h", "recoat_max_s": "7 d", "recoat_at_c": "70 F",
        "wet_um": "4 mil", "wet_min_um": "3 mil", "wet_max_um": "6 mil", "temp_min_c": "50 F", "temp_max_c": "95 F",
        "margin_min_dk": "5 F", "rh_max_pct": "85", "stream": "industrial", "hazards": ["solvent"]
    })
}

#[sqlx::test]
async fn a_sheet_is_created_edited_as_a_new_version_and_listed(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    let (status, made) = lead.post("/sheets", json!({ "sheet": typed() })).await;
    assert_eq!(status, 200, "{made}");
    assert_eq!((made["edition"].as_i64(), made["sheet"]["label"].as_str()), (Some(1), Some("Our own")));
    assert_eq!(made["sheet"]["pot_life_s"], 14400.0);
    let id = made["id"].as_str().unwrap();
    let mut change = typed();
    change["induction_s"] = json!("30 min");
    let stale = lead.put(&format!("/sheets/{id}"), json!({ "seen_edition": 0, "sheet": change.clone() })).await;
    assert_eq!((stale.0.as_u16(), stale.1["code"].as_str()), (409, Some("seen-older")));
    let (_, edited) = lead.put(&format!("/sheets/{id}"), json!({ "seen_edition": 1, "sheet": change })).await;
    assert_eq!(edited["edition"], 2);
    let (_, versions) = lead.get(&format!("/sheets/{id}")).await;
    assert_eq!(versions.as_array().unwrap().len(), 2);
    assert_eq!(versions[1]["sheet"]["induction_s"], 1200.0);
    shop.close().await;
}

#[sqlx::test]
async fn every_bad_field_is_named_and_nothing_is_stored(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    let (_, before) = lead.get("/sheets").await;
    for (field, bad) in [
        ("ratio", json!("0")),
        ("ratio", json!("four to one")),
        ("base_density_kg_l", json!("0.2")),
        ("basis", json!(null)),
        ("thinner_max_pct", json!("120 furlongs")),
        ("pot_life_s", json!("0,5 h")),
        ("temp_min_c", json!("-60 °C")),
        ("rh_max_pct", json!("101")),
        ("rh_max_pct", json!("0")),
        ("wet_um", json!("12 furlongs")),
        ("solids_pct", json!("1e999")),
        ("name", json!("<script>alert(1)</script>".repeat(20))),
    ] {
        let mut sheet = typed();
        sheet[field] = bad.clone();
        let (status, body) = lead.post("/sheets", json!({ "sheet": sheet })).await;
        assert_eq!(status, 422, "{field} {bad}: {body}");
        assert_eq!(body["fields"][0]["field"], field, "{body}");
    }
    let mut finished = typed();
    finished["thinner_basis"] = json!("of_finished");
    finished["thinner_max_pct"] = json!("100 %");
    assert_eq!(lead.post("/sheets", json!({ "sheet": finished })).await.1["field"], "thinner_max_pct");
    assert_eq!(lead.get("/sheets").await.1, before);
    shop.close().await;
}

#[sqlx::test]
async fn an_applicator_reads_sheets_and_does_not_write_them(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    assert_eq!(client.post("/sheets", json!({ "sheet": typed() })).await.0, 403);
    let (_, understood) = client.post("/sheets/understand", json!({ "sheet": typed() })).await;
    assert_eq!(understood["refusals"], json!([]));
    assert_eq!(understood["ratio"], "4 : 1 by volume");
    shop.close().await;
}
