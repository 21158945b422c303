//! The sheet used by the examples: invented, nobody's.

use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::Refusal;
use level_keel_core::sheets::{Sheet, propose_label};
use serde_json::{Value, json};

/// 4:1 by volume, 1.42 and 0.98 kg/L.
pub fn body() -> Value {
    json!({
        "name": "Example primer", "label": "Primer", "charge": "pot", "base_density_kg_l": 1.42, "solids_pct": 62.0,
        "has_hardener": true, "basis": "by_volume", "ratio": 4.0, "hardener_density_kg_l": 0.98, "tolerance_pct": 5.0,
        "thinner_max_pct": 20.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87,
        "pot_life_s": 14400.0, "pot_life_at_c": 20.0, "induction_s": 1200.0,
        "recoat_min_s": 21600.0, "recoat_max_s": 604800.0, "recoat_at_c": 20.0,
        "wet_um": 101.6, "wet_min_um": 76.2, "wet_max_um": 152.4, "temp_min_c": 10.0, "temp_max_c": 35.0,
        "margin_min_dk": 3.0, "rh_max_pct": 85.0, "stream": "industrial", "hazards": ["solvent"]
    })
}

/// The sheet with some fields changed.
pub fn with(changes: Value) -> Result<Sheet, Refusal> {
    let mut value = body();
    for (key, change) in changes.as_object().expect("an object") {
        value[key] = change.clone();
    }
    serde_json::from_value::<Sheet>(value).expect("a sheet").validate(Prefs::METRIC)
}

/// The plain example.
pub fn example() -> Sheet {
    with(json!({})).expect("a valid sheet")
}

#[test]
fn every_bad_figure_is_refused_at_its_field() {
    let refused = [
        (json!({ "ratio": 0.0 }), "ratio"),
        (json!({ "ratio": -4.0 }), "ratio"),
        (json!({ "ratio": null }), "ratio"),
        (json!({ "basis": null }), "basis"),
        (json!({ "base_density_kg_l": 0.2 }), "base_density_kg_l"),
        (json!({ "hardener_density_kg_l": 3.6 }), "hardener_density_kg_l"),
        (json!({ "thinner_basis": null }), "thinner_basis"),
        (json!({ "thinner_basis": "of_finished", "thinner_max_pct": 100.0 }), "thinner_max_pct"),
        (json!({ "solids_pct": 0.0 }), "solids_pct"),
        (json!({ "pot_life_s": null }), "pot_life_s"),
        (json!({ "induction_s": 20000.0 }), "induction_s"),
        (json!({ "wet_um": 50.0 }), "wet_um"),
        (json!({ "temp_max_c": 5.0 }), "temp_max_c"),
        (json!({ "temp_min_c": -60.0 }), "temp_min_c"),
        (json!({ "rh_max_pct": 101.0 }), "rh_max_pct"),
        (json!({ "recoat_max_s": 60.0 }), "recoat_max_s"),
        (json!({ "name": "  " }), "name"),
        (json!({ "name": "n".repeat(300) }), "name"),
        (json!({ "basis": "percent_by_weight", "hardener_pct": 3.0, "band_low_pct": 1.5, "band_high_pct": 2.5 }), "hardener_pct"),
    ];
    for (change, field) in refused {
        let refusal = with(change.clone()).expect_err(&format!("{change} must be refused"));
        assert_eq!(refusal.field.as_deref(), Some(field), "{change}: {}", refusal.text);
    }
}

#[test]
fn thinning_one_to_one_is_100_percent_of_base_and_right() {
    assert!(with(json!({ "thinner_basis": "of_base", "thinner_max_pct": 100.0 })).is_ok());
}

#[test]
fn a_product_without_a_second_component_keeps_no_ratio_and_no_life() {
    let sheet = with(json!({ "has_hardener": false })).expect("valid");
    assert!(sheet.hardener().is_none());
    assert_eq!((sheet.ratio, sheet.pot_life_s, sheet.basis), (None, None, None));
    assert_eq!(sheet.ratio_words(Prefs::METRIC), "no second component");
}

#[test]
fn a_label_is_proposed_within_its_fourteen_characters() {
    for name in ["Marker urethane finish", "X", "Supercalifragilistic", "Æble grød på dåse 12"] {
        assert!((1..=14).contains(&propose_label(name).chars().count()), "{name}");
    }
}
