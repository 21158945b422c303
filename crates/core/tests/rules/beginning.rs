//! What is asked of a batch before it has a book: its film, its area, its zones, the way its sheet is mixed.

use crate::book::{MIL, sheet};
use level_keel_core::batch::begin::{FilmAim, Wanted, ZoneWanted, area_m2, by_method, check};
use level_keel_core::coat_system::Method;
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::Refusal;
use level_keel_core::sheets::{ChargeKind, Sheet};
use serde_json::{Value, json};
use uuid::Uuid;

fn wanted(changes: Value) -> Wanted {
    let mut body = json!({
        "sheet": Uuid::from_u128(1), "part": "Buoy 5", "coat": "primer", "area_m2": 10.0, "film_um": 4.0 * MIL, "film_is": "wet",
        "transfer_pct": 60.0
    });
    for (field, value) in changes.as_object().unwrap() {
        body[field] = value.clone();
    }
    serde_json::from_value(body).unwrap()
}

fn of(changes: Value) -> Sheet {
    let mut body = sheet();
    for (field, value) in changes.as_object().unwrap() {
        body[field] = value.clone();
    }
    serde_json::from_value(body).unwrap()
}

fn checked(changes: Value) -> Result<FilmAim, Refusal> {
    check(&wanted(changes), &of(json!({})), Prefs::METRIC)
}

/// A wet film stands as asked and leaves no dry one; a dry film is what dries from the wet one: 2 mil at 62 % solids is 3.226 mil.
#[test]
fn a_film_is_asked_wet_or_dry() {
    assert_eq!(checked(json!({})).unwrap(), FilmAim { wet_um: 4.0 * MIL, dry_um: None });
    let dry = checked(json!({ "film_um": 2.0 * MIL, "film_is": "dry" })).unwrap();
    assert_eq!(dry.dry_um, Some(2.0 * MIL));
    assert!((dry.wet_um / MIL - 2.0 / 0.62).abs() < 1e-9, "{}", dry.wet_um / MIL);
}

/// Every figure and name that cannot be is refused by its field; the most and least of each are taken.
#[test]
fn what_cannot_be_is_refused_by_its_field() {
    let zones = |count: usize| (0..count).map(|n| format!("zone {n}")).collect::<Vec<_>>();
    for (wrong, field) in [
        (json!({ "part": " " }), "part"),
        (json!({ "coat": "" }), "coat"),
        (json!({ "zones": ["hull", " "] }), "zones"),
        (json!({ "zones": [{ "name": "", "area_m2": 10.0 }] }), "zones"),
        (json!({ "zones": zones(61) }), "zones"),
        // One name is one zone: counted twice, its area would be twice as large as it is.
        (json!({ "zones": ["hull", " Hull "] }), "zones"),
        (json!({ "area_m2": 0.0 }), "area_m2"),
        (json!({ "film_um": 0.5 }), "film_um"),
        (json!({ "film_um": 10_001.0 }), "film_um"),
        (json!({ "transfer_pct": 4.9 }), "transfer_pct"),
        (json!({ "transfer_pct": 100.1 }), "transfer_pct"),
        (json!({ "thinner_pct": 1.0 }), "thinner_pct"),
        // A dry film whose wet one is past all sense.
        (json!({ "film_um": 9_000.0, "film_is": "dry" }), "film_um"),
    ] {
        let refusal = checked(wrong.clone()).expect_err(&wrong.to_string());
        assert_eq!(refusal.field.as_deref(), Some(field), "{wrong}: {}", refusal.text);
    }
    for right in [
        json!({ "zones": zones(60) }),
        json!({ "film_um": 1.0 }),
        json!({ "transfer_pct": 5.0 }),
        json!({ "transfer_pct": 100.0 }),
        json!({ "thinner_pct": 0.0 }),
    ] {
        checked(right.clone()).unwrap_or_else(|e| panic!("{right}: {}", e.text));
    }
}

/// The name of a zone is what was typed without the blanks round it, with an area or without.
#[test]
fn a_zone_is_called_what_was_typed() {
    assert_eq!(ZoneWanted::Named(" hull ".into()).name(), "hull");
    assert_eq!(ZoneWanted::Measured { name: "keel ".into(), area_m2: 2.0 }.name(), "keel");
}

/// The shapes rule over the figure: two plates of 2 m × 3 m are 12 m²; without shapes the figure counts.
#[test]
fn the_area_is_of_the_shapes_or_as_stated() {
    assert_eq!(area_m2(&wanted(json!({ "area_m2": 7.5 })), Prefs::METRIC).unwrap(), 7.5);
    let plate =
        json!({ "shape": { "is": "plate", "width_mm": 2000.0, "height_mm": 3000.0, "side_count": 1.0 }, "piece_count": 2.0 });
    let of_shapes = area_m2(&wanted(json!({ "area_m2": 7.5, "takeoff": [plate] })), Prefs::METRIC).unwrap();
    assert!((of_shapes - 12.0).abs() < 1e-9, "{of_shapes}");
    assert_eq!(area_m2(&wanted(json!({ "area_m2": -1.0 })), Prefs::METRIC).unwrap_err().field.as_deref(), Some("area_m2"));
}

/// A sheet for a pot is mixed at the gun only where there is something to mix, one for the gun in a pot only where its life is
/// stated.
#[test]
fn a_method_may_mix_otherwise_than_the_sheet() {
    let pot = of(json!({}));
    let charge = |sheet: &Sheet, method| by_method(sheet.clone(), method).map(|s| s.charge).map_err(|e| e.field);
    let not_this_way = Err(Some("method".to_string()));
    assert_eq!(charge(&pot, None), Ok(ChargeKind::Pot));
    assert_eq!(charge(&pot, Some(Method::Roller)), Ok(ChargeKind::Pot));
    assert_eq!(charge(&pot, Some(Method::TwinFeed)), Ok(ChargeKind::AtGun));
    let gun = of(json!({ "charge": "at_gun" }));
    assert_eq!(charge(&gun, Some(Method::TwinFeed)), Ok(ChargeKind::AtGun));
    assert_eq!(charge(&gun, Some(Method::Brush)), Ok(ChargeKind::Pot));
    for silent in [json!({ "charge": "at_gun", "pot_life_s": null }), json!({ "charge": "at_gun", "pot_life_at_c": null })] {
        assert_eq!(charge(&of(silent), Some(Method::Brush)), not_this_way);
    }
    // Ready to use: nothing to mix at a gun, and no pot life to state.
    let one = json!({ "has_hardener": false, "basis": null, "ratio": null, "hardener_density_kg_l": null, "pot_life_s": null });
    let mut one = of(one);
    assert_eq!(charge(&one, Some(Method::TwinFeed)), not_this_way);
    one.charge = ChargeKind::AtGun;
    assert_eq!(charge(&one, Some(Method::Pot)), Ok(ChargeKind::Pot));
}
