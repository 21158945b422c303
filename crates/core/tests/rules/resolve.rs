//! One pass over a request: texts become numbers, what was typed is kept, every bad field is named.

use level_keel_core::book::canonical;
use level_keel_core::quantity::{NumberFormat, Prefs, UnitSet, resolve, understood};
use serde_json::json;

#[test]
fn texts_become_numbers_at_any_depth_and_the_rest_is_left_alone() {
    let mut value = json!({
        "pot_kpa": "0.8 bar", "air_c": 21, "note": "0.8 bar", "empty_c": " ",
        "teeth_um": ["3 mil", 101.6], "inner": { "area_m2": "10 m2", "list": [{ "rh_pct": "55 %" }] }
    });
    let typed = resolve(&mut value, Prefs::METRIC).unwrap();
    assert_eq!(value["pot_kpa"], 80.0);
    assert_eq!((&value["note"], &value["empty_c"]), (&json!("0.8 bar"), &json!(null)));
    assert_eq!(value["teeth_um"], json!([76.2, 101.6]));
    assert_eq!(value["inner"]["list"][0]["rh_pct"], 55.0);
    let paths: Vec<&str> = typed.keys().map(String::as_str).collect();
    assert_eq!(paths, ["inner.area_m2", "inner.list[0].rh_pct", "pot_kpa", "teeth_um[0]"]);
    assert_eq!(typed["pot_kpa"], "0.8 bar");
}

#[test]
fn every_bad_field_is_named_by_its_path() {
    let mut value =
        json!({ "air_c": "warm", "inner": { "area_m2": "12 furlongs" }, "rh_pct": "50", "pot_kpa": [true], "wet_um": {} });
    let refusals = resolve(&mut value, Prefs::METRIC).unwrap_err();
    let mut fields: Vec<&str> = refusals.iter().filter_map(|r| r.field.as_deref()).collect();
    fields.sort_unstable();
    assert_eq!(fields, ["air_c", "inner.area_m2", "pot_kpa[0]", "wet_um"]);
    assert!(refusals.iter().any(|r| r.text.contains("furlongs")));
}

#[test]
fn what_was_understood_is_shown_in_the_persons_set() {
    let value = json!({ "pot_kpa": 68.947_572_9, "wet_um": 101.6, "temp_c": 20.0, "name": "x" });
    let text = |units| {
        let shown = understood(&value, Prefs { units, numbers: NumberFormat::Point });
        shown.values().map(|s| s.text.replace('\u{a0}', " ")).collect::<Vec<_>>()
    };
    assert_eq!(text(UnitSet::Us), ["10 psi", "68 °F", "4 mil"]);
    assert_eq!(text(UnitSet::Metric), ["68.9 kPa", "20 °C", "102 µm"]);
    assert_eq!(text(UnitSet::Mixed), ["10 psi", "20 °C", "4 mil"]);
}

#[test]
fn canonical_text_does_not_depend_on_the_order_of_keys() {
    let one = json!({ "b": [1, { "z": null, "a": "ü\"" }], "a": 1.5e-7 });
    let two: serde_json::Value = serde_json::from_str(r#"{ "a": 1.5e-7, "b": [1, { "a": "ü\"", "z": null }] }"#).unwrap();
    assert_eq!(canonical::text(&one), canonical::text(&two));
    assert_eq!(canonical::text(&one), r#"{"a":1.5e-7,"b":[1,{"a":"ü\"","z":null}]}"#);
}
