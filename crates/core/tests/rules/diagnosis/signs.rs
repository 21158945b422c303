//! Single signs at their limits: each turns with its limit, and what is half recorded is not recorded.

use super::plant::{HULL, Plant};
use crate::book::*;
use level_keel_core::batch::EntryKind;
use level_keel_core::batch::diagnosis::heard;
use level_keel_core::diagnosis::{Heard, Side, Sign, Symptom};
use level_keel_core::quantity::Prefs;
use serde_json::json;
use uuid::Uuid;

fn hear(plant: &Plant, symptom: Symptom, sign: Sign) -> Heard {
    let (book, beside) = plant.made();
    let record = book.record();
    heard(&Case::new(&record, &beside), symptom, Some(HULL), Prefs::METRIC).into_iter().find(|h| h.sign == sign).unwrap()
}

#[track_caller]
fn sides(symptom: Symptom, sign: Sign, of: &[(&str, Plant, Side)]) {
    for (name, plant, side) in of {
        let heard = hear(plant, symptom, sign);
        assert_eq!(heard.side, *side, "{name}: {}", heard.text);
    }
}

#[test]
fn a_film_that_lies_across_its_limit_is_not_recorded() {
    let combs = |first: f64| Plant { combs: vec![[first; 3], [14.0; 3], [20.0; 3]], ..Plant::gun() };
    sides(
        Symptom::Porosity,
        Sign::FirstPassHeavy,
        &[
            ("11 to 12", combs(11.0), Side::Against),
            ("12 to 13", combs(12.0), Side::NotRecorded),
            ("13 to 14", combs(13.0), Side::For),
        ],
    );
    let unread = Plant { combs: vec![[14.0; 3]], ..Plant::gun() };
    assert_eq!(
        hear(&Plant { sheet: json!({ "first_pass_max_um": null }), ..unread }, Symptom::Porosity, Sign::FirstPassHeavy).side,
        Side::NotRecorded
    );
}

#[test]
fn temperatures_are_judged_with_their_thermometer_and_a_stale_reading_says_nothing() {
    let at = |material_c: f64| Plant { material_c, ..Plant::pot() };
    sides(
        Symptom::Coarse,
        Sign::MaterialCold,
        &[("9.4", at(9.4), Side::For), ("9.8", at(9.8), Side::NotRecorded), ("10.5", at(10.5), Side::Against)],
    );
    let stale = Plant { wait_min: 90.0, combs: vec![[3.0; 3]], ..at(5.0) };
    let heard = hear(&stale, Symptom::Coarse, Sign::MaterialCold);
    assert_eq!(heard.side, Side::NotRecorded, "{}", heard.text);
    assert!(heard.text.contains("before"), "{}", heard.text);
}

#[test]
fn catalyst_air_is_held_to_the_band_of_the_sheet() {
    let at = |catalyst_kpa: f64| Plant { catalyst_kpa, ..Plant::gun() };
    sides(
        Symptom::Porosity,
        Sign::CatalystAirHigh,
        &[("on the limit", at(180.0), Side::Against), ("over", at(181.0), Side::For), ("far under", at(90.0), Side::Against)],
    );
    sides(
        Symptom::Porosity,
        Sign::CatalystAirLow,
        &[("on the limit", at(120.0), Side::Against), ("under", at(119.0), Side::For)],
    );
}

#[test]
fn pressures_are_held_to_the_last_good_set_up() {
    let at = |pot_kpa: f64| Plant { pot_kpa, ..Plant::pot() };
    sides(
        Symptom::Coarse,
        Sign::FluidHigh,
        &[
            ("7 % over", at(75.0), Side::Against),
            ("11 % over is neither", at(78.0), Side::NotRecorded),
            ("16 % over", at(81.5), Side::For),
            ("under", at(40.0), Side::Against),
        ],
    );
    let supply = |supply_kpa: f64| Plant { supply_kpa, ..Plant::pot() };
    sides(
        Symptom::PulsingFan,
        Sign::SupplyNear,
        &[("10 psi over", supply(369.0), Side::Against), ("9 psi over", supply(362.0), Side::For)],
    );
}

/// The ratio turned either way, as parts and as per cent.
#[test]
fn too_little_and_too_much_hardener_are_told_apart() {
    let pot = |hardener_g: f64| Plant { hardener_g, ..Plant::pot() };
    let gun = |caught_b_g: f64| Plant { caught_b_g, ..Plant::gun() };
    for (little, right, much) in [(pot(230.0), pot(328.0), pot(430.0)), (gun(8.0), gun(18.0), gun(30.0))] {
        let short = |plant: &Plant| hear(plant, Symptom::PoorCure, Sign::HardenerShort).side;
        let over = |plant: &Plant| hear(plant, Symptom::PoorCure, Sign::HardenerMuch).side;
        assert_eq!((short(&little), over(&little)), (Side::For, Side::Against));
        assert_eq!((short(&right), over(&right)), (Side::Against, Side::Against));
        assert_eq!((short(&much), over(&much)), (Side::Against, Side::For));
    }
}

/// A pass on another zone says nothing of this one.
#[test]
fn only_what_is_of_the_zone_counts() {
    let deck = Uuid::from_u128(33);
    let zones = json!([{ "id": HULL, "name": "hull", "area_m2": 5.0, "place": 1 }, { "id": deck, "name": "deck", "area_m2": 5.0, "place": 2 }]);
    let mut book = Book::begun_with(with(sheet(), json!({ "first_pass_max_um": 5.0 * MIL })), json!({ "zones": zones }));
    book.ready();
    book.mixed(328.0);
    let teeth: Vec<f64> = (1..20).map(|t| f64::from(t) * MIL).collect();
    for (zone, tooth) in [(HULL, 3.0), (deck, 9.0)] {
        book.pass(25.0).write(EntryKind::Pass, json!({ "charge": POT, "zones": [zone] })).unwrap();
        book.write(EntryKind::Comb, json!({ "zone": zone, "tooth_um": tooth * MIL, "teeth_um": teeth, "of": "total" })).unwrap();
    }
    book.write(EntryKind::Happening, json!({ "what": "catalyst_burst", "zone": deck })).unwrap();
    let record = book.record();
    let case = Case::alone(&record);
    let side = |zone: Option<Uuid>, symptom: Symptom, sign: Sign| {
        heard(&case, symptom, zone, Prefs::METRIC).into_iter().find(|h| h.sign == sign).unwrap().side
    };
    assert_eq!(side(Some(HULL), Symptom::Porosity, Sign::FirstPassHeavy), Side::Against);
    assert_eq!(side(Some(deck), Symptom::Porosity, Sign::FirstPassHeavy), Side::For);
    assert_eq!(side(None, Symptom::Porosity, Sign::FirstPassHeavy), Side::For, "all of it");
    assert_eq!(side(Some(HULL), Symptom::Blisters, Sign::CatalystBurst), Side::NotRecorded);
    assert_eq!(side(Some(deck), Symptom::Blisters, Sign::CatalystBurst), Side::For);
}

/// A list item that nobody ticked is not recorded; let go by a lead it was not done.
#[test]
fn what_was_let_go_was_not_done() {
    let side = |failed: Vec<&'static str>| hear(&Plant { failed, ..Plant::pot() }, Symptom::FishEyes, Sign::NotClean).side;
    assert_eq!(side(vec![]), Side::Against);
    assert_eq!(side(vec!["degreased"]), Side::For);
    let mut book = Book::begun_with(
        sheet(),
        json!({ "items": [{ "key": "degreased", "group": "surface", "text": "Degreased", "what": { "kind": "tick" }, "before": "spray" }] }),
    );
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::Pass, json!({ "charge": POT, "zones": [] })).unwrap();
    let record = book.record();
    let told = heard(&Case::alone(&record), Symptom::FishEyes, None, Prefs::METRIC);
    assert_eq!(told.iter().find(|h| h.sign == Sign::NotClean).unwrap().side, Side::NotRecorded);
}

/// Nothing is held against a cause because nobody wrote it down.
#[test]
fn what_nobody_wrote_is_held_against_no_cause() {
    let pot = Plant::pot();
    assert_eq!(hear(&pot, Symptom::Sag, Sign::OverThinned).side, Side::NotRecorded, "no thinner was weighed");
    assert_eq!(hear(&pot, Symptom::PoorCure, Sign::LotOld).side, Side::NotRecorded, "no lot of the base was written down");
    let spent = Plant { stirred: false, wait_min: 300.0, ..Plant::pot() };
    assert_eq!(hear(&spent, Symptom::PatchyCure, Sign::Unstirred).side, Side::For, "a spent pot is not a stirred one");
    let deck = Uuid::from_u128(33);
    let zones = json!([{ "id": HULL, "name": "hull", "area_m2": 5.0, "place": 1 }, { "id": deck, "name": "deck", "area_m2": 5.0, "place": 2 }]);
    let mut book = Book::begun_with(sheet(), json!({ "zones": zones }));
    let pour = |component: &str, g: f64| json!({ "charge": POT, "component": component, "reading_g": g, "resolution_g": 1.0, "lot": null });
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    book.write(EntryKind::Pour, pour("base", 1900.0)).unwrap();
    book.write(EntryKind::Pour, pour("hardener", 2228.0)).unwrap();
    book.pass(25.0).write(EntryKind::Pass, json!({ "charge": POT, "zones": [HULL, deck] })).unwrap();
    let teeth: Vec<f64> = (1..20).map(|t| f64::from(t) * MIL).collect();
    for _ in 0..3 {
        book.write(EntryKind::Comb, json!({ "zone": HULL, "tooth_um": 4.0 * MIL, "teeth_um": teeth, "of": "total" })).unwrap();
    }
    let record = book.record();
    let side = |symptom: Symptom, sign: Sign| {
        heard(&Case::alone(&record), symptom, None, Prefs::METRIC).into_iter().find(|h| h.sign == sign).unwrap().side
    };
    assert_eq!(side(Symptom::Stripes, Sign::FilmUneven), Side::NotRecorded, "nobody read the deck");
    assert_eq!(side(Symptom::EarlyGel, Sign::PastLife), Side::NotRecorded, "nobody read how warm the pot was");
}
