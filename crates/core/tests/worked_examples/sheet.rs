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

/// What a sheet says of handling, clocks at several temperatures, surface, stores, steps and additives.
#[test]
fn the_further_figures_are_refused_at_theirs() {
    let additive = |more: Value| {
        let mut a = json!({ "name": "Pearl", "dose_g_l": 20.0, "density_kg_l": 3.0 });
        for (key, value) in more.as_object().unwrap() {
            a[key] = value.clone();
        }
        json!({ "additives": [a] })
    };
    let step = |more: Value| {
        let mut s = json!({ "name": "Tack" });
        for (key, value) in more.as_object().unwrap() {
            s[key] = value.clone();
        }
        json!({ "steps": [s] })
    };
    let times = |rows: Value| json!({ "times": rows });
    let refused = [
        (additive(json!({ "name": "" })), "additives[0].name", "missing"),
        (additive(json!({ "dose_g_l": null })), "additives[0].dose_g_l", "dose-basis"),
        (additive(json!({ "dose_pct": 2.0 })), "additives[0].dose_g_l", "dose-basis"),
        (additive(json!({ "dose_g_l": 900.0 })), "additives[0].dose_g_l", "outside-limits"),
        (additive(json!({ "density_kg_l": 20.0 })), "additives[0].density_kg_l", "outside-limits"),
        (step(json!({ "name": " " })), "steps[0].name", "missing"),
        (step(json!({ "atomizing_kpa": 5000.0 })), "steps[0].atomizing_kpa", "outside-limits"),
        (step(json!({ "wait_s": -1.0 })), "steps[0].wait_s", "outside-limits"),
        (times(json!([{ "at_c": 30.0, "pot_life_s": 0.0 }])), "times[0].pot_life_s", "outside-limits"),
        (times(json!([{ "at_c": 90.0, "pot_life_s": 3600.0 }])), "times[0].at_c", "outside-limits"),
        (times(json!([{ "at_c": 30.0 }, { "at_c": 30.2 }])), "times[1].at_c", "twice"),
        (times(json!([{ "at_c": 30.0, "pot_life_s": 20000.0 }])), "times[0].pot_life_s", "longer-when-warm"),
        (times(json!([{ "at_c": 30.0, "recoat_min_s": 90000.0 }])), "times[0].recoat_min_s", "longer-when-warm"),
        (
            times(json!([{ "at_c": 1.0 }, { "at_c": 2.0 }, { "at_c": 3.0 }, { "at_c": 4.0 }, { "at_c": 5.0 }, { "at_c": 6.0 }])),
            "times",
            "too-many",
        ),
        (json!({ "viscosity_mpa_s": 100.0 }), "viscosity_at_c", "missing"),
        (json!({ "viscosity_at_c": 20.0 }), "viscosity_mpa_s", "missing"),
        (json!({ "viscosity_warm_mpa_s": 60.0 }), "viscosity_warm_at_c", "missing"),
        (json!({ "flow_index": 3.0 }), "flow_index", "outside-limits"),
        (json!({ "drum_stir_min_s": 900.0, "drum_stir_max_s": 600.0 }), "drum_stir_max_s", "out-of-order"),
        (json!({ "catalyst_air_min_kpa": 170.0, "catalyst_air_max_kpa": 120.0 }), "catalyst_air_max_kpa", "out-of-order"),
        (json!({ "profile_min_um": 80.0, "profile_max_um": 40.0 }), "profile_max_um", "out-of-order"),
        (json!({ "store_min_c": 25.0, "store_max_c": 20.0 }), "store_max_c", "out-of-order"),
        (json!({ "shelf_life_days": 0 }), "shelf_life_days", "outside-limits"),
        (json!({ "price_minor_l": -1 }), "price_minor_l", "outside-limits"),
        (json!({ "price_minor_l": 100_001_000 }), "price_minor_l", "outside-limits"),
        (json!({ "colour": "c".repeat(200) }), "colour", "too-long"),
        (json!({ "kit_base_g": 4000.0 }), "kit_hardener_g", "missing"),
        (json!({ "kit_base_g": 4000.0, "kit_hardener_g": 1000.0 }), "kit_hardener_g", "kit-off-ratio"),
        (json!({ "basis": "by_kit", "ratio": null }), "kit_base_g", "missing"),
        (json!({ "basis": "percent_by_volume", "ratio": null }), "hardener_pct", "missing"),
        (json!({ "tolerance_pct": 0.0 }), "tolerance_pct", "outside-limits"),
        (json!({ "induction_s": 14400.0 }), "induction_s", "induction-too-long"),
        (json!({ "margin_min_dk": 40.0 }), "margin_min_dk", "outside-limits"),
        (json!({ "recoat_at_c": 200.0 }), "recoat_at_c", "outside-limits"),
    ];
    for (change, field, code) in refused {
        let refusal = with(change.clone()).expect_err(&format!("{change} must be refused"));
        assert_eq!((refusal.field.as_deref(), refusal.code.as_str()), (Some(field), code), "{change}: {}", refusal.text);
    }
    // 4,000 g of 1.42 and 690.2 g of 0.98 kg/L are 4:1 by volume: such a kit is right.
    assert!(with(json!({ "kit_base_g": 4000.0, "kit_hardener_g": 690.2 })).is_ok());
    assert!(with(times(json!([{ "at_c": 30.0, "pot_life_s": 7200.0, "recoat_min_s": 10800.0 }]))).is_ok());
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

/// What changed between two versions is said without the unit of the field's name: the figure carries it.
#[test]
fn a_change_is_named_without_its_unit() {
    let after =
        with(json!({ "viscosity_mpa_s": 100.0, "viscosity_at_c": 20.0, "price_minor_l": 2400, "pot_life_s": 3600.0 })).unwrap();
    let changes = level_keel_core::sheets::changes::changes(&example(), &after, Prefs::METRIC);
    let said: std::collections::BTreeSet<_> = changes.iter().map(|c| c.label.as_str()).collect();
    assert_eq!(said, ["Pot life", "Price", "Viscosity", "Viscosity at"].into());
}
