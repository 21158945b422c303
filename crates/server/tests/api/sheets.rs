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

/// While a sheet is typed the server says what it comes to, what contradicts and what is missing, and keeps nothing.
#[sqlx::test]
async fn a_sheet_at_work_while_it_is_typed(db: PgPool) {
    let shop = Shop::open(db).await;
    let hand = applicator(&shop).await;
    let (_, before) = hand.get("/sheets").await;
    let said = async |sheet: Value| hand.post("/sheets/understand", json!({ "sheet": sheet })).await.1;
    // Half of it is typed: what can be read is shown, the rest is named as missing or wrong.
    let half = said(json!({ "name": "Half", "charge": "pot", "has_hardener": true, "basis": "by_volume", "ratio": "4:1",
        "pot_life_s": "four hours", "base_density_kg_l": "1.4" }))
    .await;
    assert_eq!(half["shown"]["ratio"]["figure"], "4", "{half}");
    let fields: Vec<&str> = half["refusals"].as_array().unwrap().iter().filter_map(|r| r["field"].as_str()).collect();
    assert!(fields.contains(&"pot_life_s"), "{fields:?}");
    assert!(half["at_work"]["missing"].as_array().unwrap().contains(&json!("hardener_density_kg_l")), "{half}");
    // The whole of it: nothing is missing, a cup of it, its life over temperature, its film.
    let whole = said(typed()).await;
    let at_work = &whole["at_work"];
    assert_eq!((&at_work["missing"], &at_work["contradictions"], &whole["refusals"]), (&json!([]), &json!([]), &json!([])));
    assert!(at_work["cup"].is_object() && at_work["film"].is_object() && !at_work["clocks"].as_array().unwrap().is_empty());
    // Life under the induction, latest recoat before the earliest: each is named at its field.
    for (field, text, other) in [("pot_life_s", "15 min", "induction_s"), ("recoat_max_s", "1 h", "recoat_min_s")] {
        let mut sheet = typed();
        sheet[field] = text.into();
        let now = said(sheet).await;
        let named = now["at_work"]["contradictions"].as_array().unwrap().iter().any(|c| {
            let pair = [c["field"].as_str(), c["other"].as_str()];
            pair.contains(&Some(field)) && pair.contains(&Some(other))
        });
        assert!(named, "{field}: {now}");
    }
    assert_eq!(hand.get("/sheets").await.1, before, "nothing was kept");
    let (_, kinds) = hand.get("/sheets/kinds").await;
    let most = kinds.as_array().unwrap().iter().map(|k| k["asks"].as_array().unwrap().len()).max();
    assert!(kinds.as_array().unwrap().len() == 7 && most <= Some(12), "{kinds}");
    shop.close().await;
}

/// A sheet is compared with another, or with its own earlier version; what is not there is said to be.
#[sqlx::test]
async fn a_sheet_is_compared(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    let (_, made) = lead.post("/sheets", json!({ "sheet": typed() })).await;
    let id = made["id"].as_str().unwrap();
    let mut other = typed();
    (other["name"], other["ratio"], other["label"]) = (json!("Another two-pack"), json!("3:1"), json!("Another"));
    let (_, second) = lead.post("/sheets", json!({ "sheet": other })).await;
    let against = second["id"].as_str().unwrap();
    let (status, changes) = lead.get(&format!("/sheets/{id}/changes?against={against}")).await;
    assert_eq!(status, 200);
    let ratio = changes.as_array().unwrap().iter().find(|c| c["field"] == "ratio").unwrap_or_else(|| panic!("{changes}"));
    assert!(ratio["before"].as_str().unwrap().starts_with('3') && ratio["after"].as_str().unwrap().starts_with('4'), "{ratio}");
    let fields: Vec<&str> = changes.as_array().unwrap().iter().filter_map(|c| c["field"].as_str()).collect();
    assert!(!fields.contains(&"pot_life_s"), "what is the same is not told: {fields:?}");
    assert_eq!(lead.get(&format!("/sheets/{id}/changes?against={id}")).await.1, json!([]), "with itself");
    for missing in [format!("/sheets/{id}/changes?against={}", uuid::Uuid::now_v7()), format!("/sheets/{id}/changes?from=7&to=9")]
    {
        assert_eq!(lead.get(&missing).await.0, 404, "{missing}");
    }
    shop.close().await;
}

/// Combs are a lead's to keep; teeth that are none are named, and nothing of them is kept.
#[sqlx::test]
async fn combs_are_kept_by_a_lead(db: PgPool) {
    let shop = Shop::open(db).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let comb = |name: &str, teeth: &str| json!({ "comb": { "name": name, "teeth": teeth } });
    assert_eq!(hand.put("/instruments/combs", comb("Pocket", "1 mil; 2 mil; 3 mil")).await.0, 403);
    let (status, id) = lead.put("/instruments/combs", comb("Pocket", "1 mil; 2 mil; 3 mil")).await;
    assert_eq!(status, 200, "{id}");
    let kept = async || lead.get("/instruments").await.1;
    let before = kept().await;
    assert!(before.to_string().contains("Pocket"), "{before}");
    for (name, teeth) in
        [("", "1 mil; 2 mil"), ("Bent", ""), ("Bent", "three"), ("Bent", "1 mil; 1 mil"), ("pocket", "4 mil; 5 mil")]
    {
        let (status, body) = lead.put("/instruments/combs", comb(name, teeth)).await;
        assert_eq!(status, 422, "{name} {teeth}: {body}");
    }
    assert_eq!(kept().await, before);
    shop.close().await;
}
