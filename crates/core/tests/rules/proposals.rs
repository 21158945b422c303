//! What a batch begins with before anything is typed, and where each figure of it comes from.

use crate::book::{Book, sheet};
use level_keel_core::batch::entries::Begin;
use level_keel_core::batch::proposal::{Filled, Known, proposal};
use level_keel_core::coat_system::CoatPlan;
use level_keel_core::quantity::{Prefs, QuantityKind, parse};
use level_keel_core::sheets::Sheet;
use serde_json::{Value, json};
use std::collections::BTreeMap;
use uuid::Uuid;

fn begun(changes: Value) -> Begin {
    let begin = Book::begun(sheet()).record().begin.expect("begun").it;
    let mut body = serde_json::to_value(begin).unwrap();
    for (field, value) in changes.as_object().unwrap() {
        body[field] = value.clone();
    }
    serde_json::from_value(body).unwrap()
}

fn plan(changes: Value) -> CoatPlan {
    let mut body = json!({ "name": "finish" });
    for (field, value) in changes.as_object().unwrap() {
        body[field] = value.clone();
    }
    serde_json::from_value(body).unwrap()
}

fn text<'a>(fields: &'a BTreeMap<String, Filled>, name: &str) -> Option<(&'a str, &'a str)> {
    fields.get(name).map(|f| (f.text.as_str(), f.from.as_str()))
}

/// The plan rules over the sheet, the sheet over habit.
#[test]
fn the_plan_rules_over_the_sheet_and_the_sheet_over_habit() {
    let of: Sheet = serde_json::from_value(sheet()).unwrap();
    let id = Uuid::from_u128(5);
    let planned = plan(json!({ "sheet": id, "method": "roller", "film_um": 60.0, "film_is": "dry" }));
    let before = begun(json!({ "number": 7, "method": "airless", "transfer_pct": 55.0, "thinner_pct": 5.0 }));
    let known = Known { plan: Some(&planned), sheet: Some((id, &of)), product_before: Some(&before), ..Known::default() };
    let fields = proposal(&known, Prefs::METRIC);
    assert_eq!(text(&fields, "sheet"), Some((id.to_string().as_str(), "by the plan of the coat")));
    assert_eq!(text(&fields, "method"), Some(("roller", "by the plan of the coat")));
    assert_eq!(text(&fields, "film_is"), Some(("dry", "by the plan of the coat")));
    assert_eq!(parse(&fields["film_um"].text, QuantityKind::Film, Prefs::METRIC), Ok(60.0));
    // What no plan says: the film of the sheet, and how the product was last put on.
    let fields = proposal(&Known { plan: None, ..known }, Prefs::METRIC);
    assert_eq!(parse(&fields["film_um"].text, QuantityKind::Film, Prefs::METRIC), Ok(of.wet_um));
    assert_eq!(text(&fields, "film_is"), Some(("wet", "by the sheet")));
    assert_eq!(text(&fields, "method"), Some(("airless", "as in batch 0007")));
    assert_eq!(text(&fields, "transfer_pct").map(|t| t.1), Some("as in batch 0007"));
    assert_eq!(fields.get("sheet"), None, "who chose a sheet is not told which");
    // A film that is planned without saying which is a wet one, and not the sheet's.
    let wet = plan(json!({ "film_um": parse("3 mil", QuantityKind::Film, Prefs::default()).unwrap() }));
    let fields = proposal(&Known { plan: Some(&wet), ..known }, Prefs::default());
    assert_eq!(
        (text(&fields, "film_um").map(|t| t.0), text(&fields, "film_is")),
        (Some("3 mil"), Some(("wet", "by the plan of the coat")))
    );
}

/// A figure stands in the reader's own unit wherever that says it; 101.6 µm is 4 mil, and 100 µm is not 3.9.
#[test]
fn a_figure_stands_in_the_form_of_its_reader() {
    for (um, mixed) in [(101.6, "4 mil"), (100.0, "100 µm"), (76.2, "3 mil")] {
        let planned = plan(json!({ "film_um": um }));
        let known = Known { plan: Some(&planned), ..Known::default() };
        assert_eq!(proposal(&known, Prefs::default())["film_um"].text, mixed);
        // In metric units too it reads back as what was planned, with the digits it needs.
        let metric = proposal(&known, Prefs::METRIC)["film_um"].text.clone();
        let read_um = parse(&metric, QuantityKind::Film, Prefs::METRIC).unwrap();
        assert!((read_um - um).abs() < 1e-6, "{metric} is not {um} µm");
    }
}

/// Transfer as this product last had it; the usual one where nobody knows, which says so; none before a sheet is known.
#[test]
fn transfer_nobody_knows_is_the_usual_one_and_says_so() {
    let of: Sheet = serde_json::from_value(sheet()).unwrap();
    let known = Known { sheet: Some((Uuid::nil(), &of)), ..Known::default() };
    assert_eq!(text(&proposal(&known, Prefs::METRIC), "transfer_pct"), Some(("65 %", "usual for spraying")));
    let before = begun(json!({ "number": 7, "transfer_pct": 55.0 }));
    let fields = proposal(&Known { product_before: Some(&before), ..known }, Prefs::METRIC);
    assert_eq!(text(&fields, "transfer_pct"), Some(("55 %", "as in batch 0007")));
    assert!(proposal(&Known::default(), Prefs::METRIC).is_empty());
}

/// Thinner is proposed as last time only as far as this sheet allows it.
#[test]
fn thinner_over_the_sheets_most_is_not_proposed() {
    let most_pct = 10.0;
    let mut body = sheet();
    body["thinner_max_pct"] = json!(most_pct);
    let of: Sheet = serde_json::from_value(body).unwrap();
    for (last_pct, proposed) in [(0.0, false), (5.0, true), (most_pct, true), (most_pct + 0.1, false)] {
        let before = begun(json!({ "thinner_pct": last_pct }));
        let known = Known { sheet: Some((Uuid::nil(), &of)), product_before: Some(&before), ..Known::default() };
        assert_eq!(proposal(&known, Prefs::METRIC).contains_key("thinner_pct"), proposed, "{last_pct} %");
        // Without a sheet nobody knows what it allows.
        let known = Known { sheet: None, ..known };
        assert!(!proposal(&known, Prefs::METRIC).contains_key("thinner_pct"));
    }
}

/// Area and zones as the part was last coated; what nobody measured goes by its name.
#[test]
fn a_part_keeps_its_area_and_zones() {
    let zone = |n: u128, name: &str, area_m2: f64, assumed: bool| json!({ "id": Uuid::from_u128(n), "name": name, "area_m2": area_m2, "area_assumed": assumed, "place": n });
    let before = begun(json!({ "number": 12, "area_m2": 11.494, "substrate": "blasted_steel",
        "zones": [zone(1, "tower", 4.0, false), zone(2, "hull", 7.494, true), zone(3, "old", 0.0, false)] }));
    let known = Known { part_before: Some(&before), coat_before: Some(&before), ..Known::default() };
    let fields = proposal(&known, Prefs::METRIC);
    assert_eq!(parse(&fields["area_m2"].text, QuantityKind::Area, Prefs::METRIC), Ok(11.494), "it reads back exactly");
    let (zones, from) = text(&fields, "zones").unwrap();
    assert_eq!(from, "as in batch 0012");
    assert!(zones.starts_with("tower: 4 ") && zones.ends_with(", hull, old"), "{zones}");
    assert_eq!(text(&fields, "substrate"), Some(("blasted_steel", "as in batch 0012")));
    // Over another coat it is already coated, whatever lay beneath that one.
    let fields = proposal(&Known { coat_before: None, ..known }, Prefs::METRIC);
    assert_eq!(text(&fields, "substrate"), Some(("already_coated", "over batch 0012")));
    // This coat before, on nobody knows what: nothing is made up.
    let unsaid = begun(json!({ "substrate": null }));
    let fields = proposal(&Known { coat_before: Some(&unsaid), part_before: Some(&unsaid), ..known }, Prefs::METRIC);
    assert_eq!(fields.get("substrate"), None);
}

/// A shop of one sheet is not asked which; a plan still rules.
#[test]
fn the_only_sheet_is_taken() {
    let of: Sheet = serde_json::from_value(sheet()).unwrap();
    let (id, other) = (Uuid::from_u128(5), Uuid::from_u128(6));
    let known = Known { only_sheet: Some(id), sheet: Some((id, &of)), ..Known::default() };
    let fields = proposal(&known, Prefs::METRIC);
    assert_eq!(text(&fields, "sheet"), Some((id.to_string().as_str(), "the only sheet here")));
    let planned = plan(json!({ "sheet": other }));
    let fields = proposal(&Known { plan: Some(&planned), ..known }, Prefs::METRIC);
    assert_eq!(text(&fields, "sheet"), Some((other.to_string().as_str(), "by the plan of the coat")));
}
