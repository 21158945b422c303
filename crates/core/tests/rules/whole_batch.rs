//! A batch from its beginning to its card: the fold, the card, the rack, the hands next.

use crate::batch::seen_by;
use crate::book::*;
use level_keel_core::batch::{EntryKind, Record, card};
use level_keel_core::book::{fold, fold_on};
use level_keel_core::people::Role;
use serde_json::{Value, json};

#[test]
fn a_product_without_a_second_component_goes_from_fill_to_card() {
    let mut plain = sheet();
    for (key, value) in
        [("has_hardener", json!(false)), ("ratio", Value::Null), ("basis", Value::Null), ("pot_life_s", Value::Null)]
    {
        plain[key] = value;
    }
    let mut book = Book::begun(plain);
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1000.0 })).unwrap();
    assert_eq!(book.pour("hardener", 10.0).unwrap_err().code, "no-hardener");
    book.pour("base", 1420.0).unwrap();
    book.write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT })).unwrap();
    book.film(4.0);
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
    let stands = seen_by(&book, Role::Lead).head.stations;
    assert_eq!(stands[3].state, level_keel_core::batch::stations::StationState::NotNeeded);
}

#[test]
fn the_fold_of_a_whole_batch() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 69.0, "atomizing_kpa": 310.0, "stream_mm": 240.0 })).unwrap();
    book.sprayed();
    insta::assert_json_snapshot!("fold", book.record());
    // Step by step, with a strike among them, comes to the same as all at once.
    let pass = book.record().passes[0].entry;
    book.write_as(Role::Lead, EntryKind::Strike, json!({ "entry": pass, "reason": "stamped twice" })).unwrap();
    book.write(EntryKind::Note, json!({ "text": "after it" })).unwrap();
    let all = &book.entries;
    for n in 1..=all.len() {
        assert_eq!(fold_on::<Record>(&fold(&all[..n - 1]), &all[..n]), fold(&all[..n]), "entry {n}");
    }
}

#[test]
fn the_card_of_a_whole_batch() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.sprayed();
    let seen = book.seen();
    book.pass(10.0).write(EntryKind::Sign, seen).unwrap();
    let seen = book.seen();
    book.pass(10.0).write_as(Role::Inspector, EntryKind::Accept, seen).unwrap();
    let card =
        card::card(&Case::alone(&book.record()), seen_by(&book, Role::Inspector), level_keel_core::quantity::Prefs::METRIC);
    assert_eq!(card.core_version, env!("CARGO_PKG_VERSION"));
    insta::assert_json_snapshot!("card", card, { ".core_version" => "[version]" });
}

#[test]
fn station_lines_fit_under_their_floats() {
    let mut book = Book::begun(sheet());
    for step in 0..3 {
        match step {
            0 => book.ready(),
            1 => book.mixed(328.0),
            _ => book.sprayed(),
        }
        for station in seen_by(&book, Role::Lead).head.stations {
            assert!(station.line.chars().count() <= 22, "{}", station.line);
        }
    }
}

#[test]
fn hands_next_follow_the_work() {
    let mut book = Book::begun(sheet());
    let first = |book: &Book| seen_by(book, Role::Lead).next.first().map(|n| n.text.clone()).unwrap_or_default();
    assert_eq!(first(&book), "Read the conditions");
    book.write(EntryKind::Conditions, json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 20.0, "rh_pct": 55.0 })).unwrap();
    assert_eq!(first(&book), "Put the guards on");
    book.write(EntryKind::Guards, json!({ "hazards": ["solvent"] })).unwrap();
    assert_eq!(first(&book), "Mix the first pot");
    book.mixed(328.0);
    assert_eq!(first(&book), "Pot 1 is ready: stir once, then load");
    book.sprayed();
    assert_eq!(first(&book), "Sign the work");
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
    assert_eq!(first(&book), "Accept the work");
    let seen = book.seen();
    book.write_as(Role::Inspector, EntryKind::Accept, seen).unwrap();
    assert!(seen_by(&book, Role::Lead).next.is_empty());
}

#[test]
fn the_cup_and_the_pour_in_hand() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    let pot = |book: &Book| seen_by(book, Role::Applicator).mix.pots[0].clone();
    let empty = pot(&book);
    // 1,700 mL at 4:1: 1,360 mL × 1.42 = 1,931 g of base; 340 mL × 0.98 = 333 g of hardener.
    assert_eq!(empty.to_reading.unwrap().figure, "1931");
    assert!(empty.marks.iter().all(|m| !m.poured && m.at > 0.0 && m.at < 1.0));
    book.pour("base", 1000.0).unwrap();
    let short = pot(&book);
    assert_eq!(short.level.as_ref().unwrap().verdict, None, "a pour still short has no verdict");
    assert_eq!(short.to_go.unwrap().figure, "931.2");
    book.pour("base", 1931.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2264.0).unwrap();
    let full = pot(&book);
    assert_eq!(full.hand, None);
    assert_eq!(full.ratio.unwrap().verdict, Some(level_keel_core::verdict::Verdict::In));
    assert!(full.marks.windows(2).all(|w| w[0].at < w[1].at));
}

#[test]
fn the_rack_counts_induction_then_life_and_the_liquid_falls() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let pot = |book: &Book| seen_by(book, Role::Lead).pots[0].clone();
    let inducting = pot(&book);
    assert_eq!((inducting.word.as_str(), inducting.counts_s), ("Inducting", Some(1200.0)));
    assert_eq!(inducting.left_share, 1.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "used_ml": 800.0 })).unwrap();
    let ready = pot(&book);
    // 30 min since combining on a four-hour sheet: 3 h 30 left.
    assert!((ready.counts_s.unwrap() - 12_600.0).abs() < 1.0);
    assert!((ready.age - 0.125).abs() < 1e-6);
    assert!(ready.left_share > 0.4 && ready.left_share < 0.6);
    // A pot's own warmth shortens its life from then on.
    book.write(EntryKind::PotTemperature, json!({ "charge": POT, "temp_c": 30.0 })).unwrap();
    assert!((pot(&book).counts_s.unwrap() - 6_300.0).abs() < 1.0);
}
