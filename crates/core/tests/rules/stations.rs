//! The waterline: how each station stands and what its line says, from nothing to accepted.

use level_keel_core::batch::gates;
use level_keel_core::batch::stations::{StationState, stations};
use level_keel_core::batch::{EntryKind, Record};
use level_keel_core::mixing::Component;
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

/// StationState and line of one station, no-break spaces made plain.
fn at(book: &Book, name: &str) -> (StationState, String) {
    of(&book.record(), book, name)
}

fn of(record: &Record, book: &Book, name: &str) -> (StationState, String) {
    let case = &Case::alone(record);
    let holds = gates::all(case, book.now, Prefs::METRIC);
    let all = stations(case, &holds, book.now, Prefs::METRIC);
    assert_eq!(all.iter().map(|s| s.no).collect::<Vec<_>>(), [1, 2, 3, 4, 5, 6]);
    let one = all.into_iter().find(|s| s.name == name).expect("a station of that name");
    (one.state, one.line.replace('\u{a0}', " "))
}

#[track_caller]
fn is(book: &Book, name: &str, stand: StationState, line: &str) {
    assert_eq!(at(book, name), (stand, line.to_string()));
}

fn read(book: &mut Book, surface_c: f64, rh_pct: f64) {
    let body = json!({ "air_c": 21.0, "surface_c": surface_c, "material_c": 20.0, "rh_pct": rh_pct });
    book.write(EntryKind::Conditions, body).unwrap();
}

#[test]
fn ready_says_the_worst_thing_first() {
    let items = json!([
        { "key": "lot_base", "group": "material", "text": "Base lot", "what": { "kind": "lot", "component": "base" }, "before": "combine" },
        { "key": "masked", "group": "surface", "text": "Masked", "what": { "kind": "tick" }, "before": "spray" },
        { "key": "rinse", "group": "surface", "text": "Rinse sheets", "what": { "kind": "test", "fails": "It beads" }, "before": "spray" }
    ]);
    let mut book = Book::begun_with(sheet(), json!({ "items": items }));
    is(&book, "Ready", StationState::InWork, "read the conditions");
    // 21 °C and 55 % dew at 11.6 °C: a surface of 20 °C is 8.4 over it.
    read(&mut book, 20.0, 55.0);
    is(&book, "Ready", StationState::InWork, "0 of 3 done");
    book.write(EntryKind::Tick, json!({ "item": "masked", "did": "done" })).unwrap();
    is(&book, "Ready", StationState::InWork, "1 of 3 done");
    // Read and wrong: it stands before what is only to do.
    read(&mut book, 24.0, 86.0);
    is(&book, "Ready", StationState::Hold, "too humid");
    read(&mut book, 8.0, 30.0);
    is(&book, "Ready", StationState::Hold, "surface out of band");
    read(&mut book, 13.0, 55.0);
    is(&book, "Ready", StationState::Hold, "dew margin 1.4 °C");
    read(&mut book, 20.0, 55.0);
    book.pass(125.0);
    is(&book, "Ready", StationState::Hold, "read conditions again");
    read(&mut book, 20.0, 55.0);
    // A lot stands before all.
    let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1", "stand": { "received": true, "expires_at": "2027-01-01T00:00:00Z", "damaged": "lid dented" } });
    book.write(EntryKind::TakeLot, json!({ "component": "base", "lot": lot })).unwrap();
    is(&book, "Ready", StationState::Hold, "damaged lot P-1");
    read(&mut book, 20.0, 90.0);
    is(&book, "Ready", StationState::Hold, "damaged lot P-1");
    // A wet surface is a stop, and a stop is not hidden by what only holds.
    read(&mut book, 8.0, 90.0);
    assert_eq!(at(&book, "Ready").0, StationState::Stop);
}

/// An item that was tried and is not right is named; of several the one that holds.
#[test]
fn ready_names_the_item_that_is_not_right() {
    let items = json!([
        { "key": "masked", "group": "surface", "text": "Masked", "what": { "kind": "tick" }, "before": "spray" },
        { "key": "rinse", "group": "surface", "text": "Rinse sheets", "what": { "kind": "test", "fails": "It beads" }, "before": "spray" }
    ]);
    let mut book = Book::begun_with(sheet(), json!({ "items": items }));
    read(&mut book, 20.0, 55.0);
    book.write(EntryKind::Tick, json!({ "item": "masked", "did": "done" })).unwrap();
    book.write(EntryKind::Tick, json!({ "item": "rinse", "did": "failed" })).unwrap();
    is(&book, "Ready", StationState::Hold, "Rinse sheets");
}

#[test]
fn ready_is_done_with_guards_on_and_says_what_a_lead_released() {
    let mut book = Book::begun(sheet());
    read(&mut book, 20.0, 55.0);
    is(&book, "Ready", StationState::InWork, "guards not on yet");
    book.write(EntryKind::Guards, json!({ "hazards": ["solvent"] })).unwrap();
    is(&book, "Ready", StationState::Done, "dew margin 8.4 °C");
    read(&mut book, 11.7, 55.0);
    is(&book, "Ready", StationState::Hold, "dew margin 0.1 °C");
    read(&mut book, 11.0, 55.0);
    assert_eq!(at(&book, "Ready").0, StationState::Stop, "under the dew point nobody may");
    read(&mut book, 13.0, 55.0);
    let seen = book.record().log.head_seq;
    let release = json!({ "gate": "conditions", "item": "dew-margin", "reason": "the shed is warming", "seen_seq": seen });
    book.write_as(Role::Lead, EntryKind::Release, release).unwrap();
    is(&book, "Ready", StationState::Done, "released by a lead");
}

#[test]
fn mix_says_the_pot_that_wants_hands_or_dies_first() {
    let mut book = Book::begun(sheet());
    book.ready();
    is(&book, "Mix", StationState::NotReached, "");
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    is(&book, "Mix", StationState::InWork, "pot 1 · filling");
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    is(&book, "Mix", StationState::InWork, "pot 1 · stir it");
    book.write(EntryKind::Stirred, on()).unwrap();
    is(&book, "Mix", StationState::Done, "pot 1 · 4 h 00");
    // A second one filling wants hands before the first dies.
    let second = Uuid::from_u128(8);
    book.write(EntryKind::OpenCharge, json!({ "charge": second, "no": 2, "kind": "pot", "wanted_ml": 500.0 })).unwrap();
    is(&book, "Mix", StationState::InWork, "pot 2 · filling");
    book.pass(241.0);
    is(&book, "Mix", StationState::Stop, "pot 1 · spent");
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "discarded", "reason": "spent" })).unwrap();
    is(&book, "Mix", StationState::InWork, "pot 2 · filling");
    book.write(EntryKind::CloseCharge, json!({ "charge": second, "how": "emptied" })).unwrap();
    is(&book, "Mix", StationState::Done, "pot 2 closed");
    let gel = json!({ "charge": "at_gun", "basis": "percent_by_weight", "ratio": null, "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 });
    is(&Book::begun(with(sheet(), gel)), "Mix", StationState::NotNeeded, "mixed at the gun");
}

#[test]
fn set_says_the_pressure_and_what_is_known_of_the_stream() {
    let thick = with(sheet(), json!({ "viscosity_mpa_s": 100.0, "viscosity_at_c": 20.0 }));
    let tried = |body: Value| {
        let mut book = Book::with_rig(thick.clone(), pot_rig());
        assert_eq!(at(&book, "Set"), (StationState::NotReached, String::new()));
        book.write(EntryKind::SetUp, with(json!({ "pot_kpa": 10.0 * PSI }), body)).unwrap();
        at(&book, "Set")
    };
    let says = |stand: StationState, line: &str| (stand, line.to_string());
    assert_eq!(tried(json!({})), says(StationState::InWork, "68.9 kPa, no stream"));
    assert_eq!(tried(json!({ "pattern": "even" })), says(StationState::Done, "68.9 kPa, even"));
    assert_eq!(tried(json!({ "pattern": "heavy_middle" })), says(StationState::InWork, "68.9 kPa, not full"));
    // 10 in is in the middle of 8 to 12; 8.1 in may be short of it by half an inch.
    assert_eq!(tried(json!({ "stream_mm": 254.0 })).0, StationState::Done);
    assert_eq!(tried(json!({ "stream_mm": 205.7 })), says(StationState::InWork, "68.9 kPa, catch a flow"));
    assert_eq!(tried(json!({ "stream_mm": 150.0 })).0, StationState::InWork);
    // By brush there is nothing to set and nothing to prove.
    let brush = Book::begun_with(sheet(), json!({ "method": "brush" }));
    is(&brush, "Set", StationState::NotNeeded, "by brush");
    is(&brush, "Prove", StationState::NotNeeded, "by brush");
    // Without its rig a stream is looked at and not right.
    let mut book = Book::begun(thick);
    book.ready();
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 10.0 * PSI, "stream_mm": 254.0 })).unwrap();
    assert_eq!(at(&book, "Set").0, StationState::InWork);
}

#[test]
fn prove_says_the_ratio_as_far_as_it_is_known() {
    let mut book = Book::begun(sheet());
    book.ready();
    is(&book, "Prove", StationState::NotReached, "not proved yet");
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    is(&book, "Prove", StationState::InWork, "not proved yet");
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    assert_eq!(at(&book, "Prove").0, StationState::InWork, "in, and not stirred");
    book.write(EntryKind::Stirred, on()).unwrap();
    is(&book, "Prove", StationState::Done, "4.00 : 1 in");
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(420.0);
    assert_eq!(at(&book, "Prove").0, StationState::Hold, "out and stirred");
    let plain = with(sheet(), json!({ "has_hardener": false, "basis": null, "ratio": null, "pot_life_s": null }));
    is(&Book::begun(plain), "Prove", StationState::NotNeeded, "nothing to prove");
}

#[test]
fn spray_and_close_follow_the_passes_to_the_signature() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    is(&book, "Spray", StationState::NotReached, "");
    is(&book, "Close", StationState::NotReached, "");
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    is(&book, "Spray", StationState::InWork, "0 passes");
    let pass = json!({ "charge": POT, "zones": [], "used_ml": 800.0 });
    book.write(EntryKind::Pass, pass.clone()).unwrap();
    is(&book, "Spray", StationState::InWork, "1 pass");
    book.pass(1.0).write(EntryKind::Pass, pass).unwrap();
    is(&book, "Spray", StationState::InWork, "2 passes");
    book.pass(1.0).comb(4.0).unwrap();
    is(&book, "Spray", StationState::InWork, "2 passes · 102–127 µm");
    is(&book, "Close", StationState::NotReached, "");
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    assert_eq!(at(&book, "Spray").0, StationState::Hold, "one reading proves no film");
    is(&book, "Close", StationState::InWork, "to sign");
    book.film(4.0);
    assert_eq!(at(&book, "Spray").0, StationState::Done);
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
    is(&book, "Close", StationState::InWork, "signed, to accept");
    let seen = book.seen();
    book.write_as(Role::Inspector, EntryKind::Accept, seen).unwrap();
    is(&book, "Close", StationState::Done, "accepted");
    // What wants an answer stands before the signature.
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 100.0 })).unwrap();
    is(&book, "Close", StationState::Hold, "2 to answer");
    // Spent on the gun is a stop at Spray at once, not only when it is over.
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.pass(240.0);
    assert_eq!(at(&book, "Spray").0, StationState::Stop);
}

// ---- What the record says of itself.

/// 800 g at 1.42 kg/L and 196 g at 0.98 kg/L in 30 s: (563.4 + 200) × 2 = 1,526.8 mL a minute.
#[test]
fn the_flow_of_a_timed_catch_is_of_both_streams() {
    let mut book = Book::begun(sheet());
    book.ready();
    assert_eq!(book.record().flow_ml_min(), None);
    book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 300.0, "fill_ml": 2000.0 })).unwrap();
    assert_eq!(book.record().flow_ml_min(), Some(300.0));
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 5000.0 })).unwrap();
    let mut record = book.record();
    let at_gun = with(sheet(), json!({ "charge": "at_gun" }));
    let mut twin = Book::begun(at_gun);
    twin.ready();
    twin.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    let caught = json!({ "charge": POT, "a_g": 800.0, "b_g": 196.0, "resolution_g": 0.1, "caught_watch_s": 30.0 });
    twin.write(EntryKind::RatioCheck, caught).unwrap();
    let flow = twin.record().flow_ml_min().unwrap();
    assert!((flow - (800.0 / 1.42 + 200.0) * 2.0).abs() < 1e-6, "{flow}");
    record.catches = twin.record().catches;
    assert_eq!(record.flow_ml_min(), Some(flow), "a catch stands before the plan");
}

/// 62 % solids with 146 g of thinner at 0.87 kg/L (167.8 mL) in 1,672.7 mL: 62 × 1,672.7 / 1,840.5 = 56.35 %.
#[test]
fn solids_and_film_follow_what_was_poured_into_the_pots_sprayed_from() {
    let thin = with(
        sheet(),
        json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87, "film_proof": "not_asked" }),
    );
    let mut book = Book::begun_with(thin, json!({ "dry_um": 62.0, "thinner_pct": 5.0 }));
    book.ready();
    assert!((book.record().thinner_pct() - 5.0).abs() < 1e-12);
    // As planned: 5 mL on 100 of mixed, 62 / 1.05.
    assert!((book.record().finished_solids_pct() - 62.0 / 1.05).abs() < 1e-9);
    assert!((book.record().wet_aim_um() - 62.0 / (0.62 / 1.05)).abs() < 1e-9, "a dry film asked");
    book.mixed(328.0);
    book.pour("thinner", 2228.0 + 146.0).unwrap();
    assert!((book.record().finished_solids_pct() - 62.0 / 1.05).abs() < 1e-9, "poured, and not sprayed from");
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(45.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 500.0 })).unwrap();
    let mixed = 1900.0 / 1.42 + 328.0 / 0.98;
    let solids = 62.0 * mixed / (mixed + 146.0 / 0.87);
    let record = book.record();
    assert!((record.finished_solids_pct() - solids).abs() < 1e-9, "{}", record.finished_solids_pct());
    // 10 m² of that film at 60 % onto the part.
    let wet = 62.0 / (solids / 100.0);
    assert!((record.need_ml() - 10.0 * wet / 0.6).abs() < 1e-6, "{}", record.need_ml());
    let onto = record.on_the_part().expect("begun");
    assert!((onto.wet_um - wet).abs() < 1e-9 && onto.transfer_pct == 60.0 && onto.thinner_pct == 5.0);
    assert!((record.used_in_all_ml() - 500.0).abs() < 1e-9);
    let pot = record.charge(POT).unwrap();
    assert!((record.left_ml(pot) - (mixed + 146.0 / 0.87 - 500.0)).abs() < 1e-6);
}

/// A lot is in use from when it was taken or poured, a reading from when it was read.
#[test]
fn lots_and_readings_are_those_of_the_instant() {
    let mut book = Book::begun(sheet());
    let early = book.now;
    book.pass(1.0).ready();
    let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1" });
    book.write(EntryKind::TakeLot, json!({ "component": "base", "lot": lot })).unwrap();
    let record = book.record();
    assert!(record.lots_at(early).is_empty() && record.conditions_at(early).is_none());
    let in_use = record.lots_at(book.now);
    assert_eq!(in_use.iter().map(|l| (l.component, l.lot.code.as_str())).collect::<Vec<_>>(), [(Component::Base, "P-1")]);
    assert!(record.conditions_at(book.now).is_some_and(|c| c.it.material_c == 20.0));
    book.pass(1.0)
        .write(EntryKind::Conditions, json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 26.0, "rh_pct": 55.0 }))
        .unwrap();
    let record = book.record();
    assert!(record.conditions_at(book.now).is_some_and(|c| c.it.material_c == 26.0));
    book.mixed(328.0);
    let record = book.record();
    let read: Vec<f64> = record.temperatures(record.charge(POT).unwrap()).iter().map(|t| t.temp_c).collect();
    assert_eq!(read, [20.0, 26.0]);
}
