//! Vessels: what goes from one into another, is divided, filled into the gun, and stands in the line.

use crate::book::*;
use crate::mix::{SECOND, near, planned, seen};
use level_keel_core::batch::view::Vessel;
use level_keel_core::batch::{Entry, EntryKind};
use level_keel_core::mixing::Component;
use level_keel_core::worded::{VariantArray, Worded};
use serde_json::{Value, json};
use uuid::Uuid;

#[test]
fn a_transfer_is_weighed_again_and_the_ratio_stays() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    book.pour("base", 1900.0).unwrap();
    let moved = |g: f64| json!({ "charge": POT, "reading_g": g, "resolution_g": 1.0 });
    refused(book.write(EntryKind::Transfer, moved(1950.0)), "more-than-before");
    refused(book.write(EntryKind::Transfer, moved(0.0)), "more-than-before");
    // What both scales may be off by is no more than before: a step of each.
    refused(
        book.write(EntryKind::Transfer, json!({ "charge": POT, "reading_g": 1904.5, "resolution_g": 3.0 })),
        "more-than-before",
    );
    let edge = book.write(EntryKind::Transfer, json!({ "charge": POT, "reading_g": 1904.0, "resolution_g": 3.0 })).unwrap();
    book.write(EntryKind::Strike, json!({ "entry": edge, "reason": "read wrong" })).unwrap();
    // 57 g stay on the wall of the old cup: 3 % of what is in, and so of what is wanted.
    book.write(EntryKind::Transfer, moved(1843.0)).unwrap();
    let record = book.record();
    near(record.plan(&record.charges[0])[1].mass_g, 0.97 * 1700.0 / 5.0 * 0.98, 0.01);
    near(record.charges[0].pours[0].it.taken_g, 1900.0, 1e-9);
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 1843.0 + 318.0).unwrap();
    let ratio = |book: &Book| level_keel_core::mixing::b_per_a(&book.record().charges[0].weighed()).unwrap().value;
    near(ratio(&book), 318.0 / 1843.0, 1e-9);
    // Moved once more it is still the same, and what stands on the scale is the last weight and no pour.
    book.write(EntryKind::Transfer, moved(2053.0)).unwrap();
    near(ratio(&book), 318.0 / 1843.0, 1e-9);
    let pot = book.record().charges[0].clone();
    let total = |weighed: &[level_keel_core::mixing::Weighed]| -> f64 {
        Component::VARIANTS.iter().copied().map(|c| level_keel_core::mixing::total_g(weighed, c)).sum()
    };
    near(total(&pot.weighed()), 2053.0, 1e-6);
    near(total(&pot.standing()), 2053.0, 1e-6);
    near(pot.standing().last().unwrap().reading_g, 2053.0, 1e-9);
}

/// The pours struck away under a move leave nothing to share, and the plan as it was.
#[test]
fn a_move_of_nothing_leaves_the_plan() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    refused(book.write(EntryKind::Transfer, json!({ "charge": POT, "reading_g": 5.0, "resolution_g": 1.0 })), "empty-pot");
    let pour = book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Transfer, json!({ "charge": POT, "reading_g": 1843.0, "resolution_g": 1.0 })).unwrap();
    book.write(EntryKind::Strike, json!({ "entry": pour, "reason": "another pot" })).unwrap();
    let record = book.record();
    near(record.plan(&record.charges[0])[0].mass_g, 1700.0 * 0.8 * 1.42, 0.01);
    near(record.charges[0].kept, 1.0, 1e-12);
}

#[test]
fn a_divided_pot_conserves_what_is_in_it_and_ages_as_one() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let before = book.record();
    let mixed = before.left_ml(&before.charges[0]);
    let divide = |ml: f64| json!({ "charge": POT, "new_charge": SECOND, "no": 2, "part_ml": ml });
    refused(book.write(EntryKind::Divide, divide(mixed + 50.0)), "more-than-left");
    book.pass(10.0).write(EntryKind::Divide, divide(600.0)).unwrap();
    refused(book.write(EntryKind::Divide, divide(100.0)), "charge-exists");
    let record = book.record();
    let (one, two) = (record.charge(POT).unwrap(), record.charge(SECOND).unwrap());
    near(record.left_ml(one) + record.left_ml(two), mixed, 1e-6);
    near(record.left_ml(two), 600.0, 1e-6);
    let age = |c| record.clock(c, book.now).unwrap();
    near(age(one).age, age(two).age, 1e-12);
    assert_eq!(age(one).state, age(two).state);
    // The stores gave it out once.
    let uses = level_keel_core::batch::lot_uses::uses(&record);
    assert!(uses.is_empty(), "no lot was named");
    // Struck, all is as before, and what hangs on the second vessel is a deviation.
    let entry = book.entries.last().unwrap().id;
    book.write(EntryKind::Fill, json!({ "charge": SECOND, "into": "gun_cup", "fill_ml": 100.0 })).unwrap();
    book.write(EntryKind::Strike, json!({ "entry": entry, "reason": "the vessel leaked" })).unwrap();
    let record = book.record();
    near(record.left_ml(record.charge(POT).unwrap()), mixed, 1e-6);
    assert!(record.deviations.iter().any(|d| d.code == "names-nothing"));
}

/// A part divided off a pot on the gun is a vessel of its own: its age and its paint came along, its work did not.
#[test]
fn what_is_divided_off_brings_its_age_and_not_its_work() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Fill, json!({ "charge": POT, "into": "gun_cup", "fill_ml": 100.0 })).unwrap();
    book.pass(1.0).write(EntryKind::Divide, json!({ "charge": POT, "new_charge": SECOND, "no": 2, "part_ml": 400.0 })).unwrap();
    let record = book.record();
    let (one, two) = (record.charge(POT).unwrap(), record.charge(SECOND).unwrap());
    near(two.wanted_ml, 400.0, 1e-9);
    assert!(one.started.is_some() && two.started.is_none() && two.fills.is_empty());
    near(two.out_ml, 0.0, 1e-9);
    near(one.out_ml, 400.0, 1e-9);
    let born = two.born.expect("it says where it came from");
    assert_eq!((born.of_no, born.of_batch), (1, None));
    assert_eq!(two.combined(), one.combined());
    // Its plan is the part of the plan of the first: 400 mL of 1,672.7 mL.
    let (whole, part) = (record.plan(one), record.plan(two));
    near(part[0].mass_g / whole[0].mass_g, 400.0 / (1900.0 / 1.42 + 328.0 / 0.98), 1e-9);
    book.write(EntryKind::Pass, json!({ "charge": SECOND, "zones": [], "used_ml": 10.0 })).unwrap();
    assert!(book.record().deviations.iter().any(|d| d.code == "pass-without-start"));
    // Of a pot that holds nothing, and of one that is not there, nothing is divided off.
    let mut book = Book::begun(sheet());
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    assert!(book.write(EntryKind::Divide, json!({ "charge": POT, "new_charge": SECOND, "no": 2, "part_ml": 400.0 })).is_err());
}

/// What comes from another batch is as old as it was there, with its stirring, its temperatures and its birthplace.
#[test]
fn what_is_taken_over_is_as_it_was_there() {
    let mut source = Book::begun(sheet());
    source.ready();
    source.mixed(328.0);
    source.write(EntryKind::PotTemperature, json!({ "charge": POT, "temp_c": 31.0 })).unwrap();
    let (from, to) = (Uuid::from_u128(40), Uuid::from_u128(41));
    let mut target = Book::begun_with(sheet(), json!({ "number": 13 }));
    target.now = source.now;
    target.ready();
    let wanted = serde_json::from_value(json!({ "charge": POT, "to_batch": to })).unwrap();
    let taken = level_keel_core::batch::entries::take(&source.record(), &target.record(), &wanted, from, SECOND).unwrap();
    let payload = serde_json::to_value(&taken).unwrap();
    let last = target.entries.last().unwrap().clone();
    let seq = last.seq + 1;
    target.entries.push(Entry { id: Uuid::from_u128(4001), seq, kind: EntryKind::TakeOver, payload, ..last });
    source.pass(12.0);
    target.pass(12.0);
    let (here, there) = (target.record(), source.record());
    let (two, one) = (here.charge(SECOND).expect("it stands here"), there.charge(POT).unwrap());
    assert_eq!((two.no, two.combined(), two.stirred, &two.stirs), (1, one.combined(), one.stirred, &one.stirs));
    let (a, b) = (here.clock(two, target.now).unwrap(), there.clock(one, source.now).unwrap());
    near(a.age, b.age, 1e-9);
    assert_eq!((a.state, a.induction_ends), (b.state, b.induction_ends));
    assert_eq!(two.temperatures.last(), one.temperatures.last());
    let born = two.born.expect("it says where it came from");
    assert_eq!((born.of_no, born.of_batch), (1, Some(12)));
    near(here.left_ml(two), 1900.0 / 1.42 + 328.0 / 0.98, 1e-6);
}

#[test]
fn fills_empty_the_pot_and_the_next_dose_matches() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let left = |book: &Book| book.record().left_ml(&book.record().charges[0]);
    let mixed = left(&book);
    let fill = |ml: f64, dose: Value| json!({ "charge": POT, "into": "gun_cup", "fill_ml": ml, "dose_g": dose });
    book.write(EntryKind::Fill, fill(600.0, json!(9.0))).unwrap();
    near(left(&book), mixed - 600.0, 1e-6);
    let pot = seen(&book).mix.pots[0].clone();
    assert_eq!(pot.dose_for_litre.map(|d| d.text.replace('\u{a0}', " ")), Some("15 g/L".into()));
    refused(book.write(EntryKind::Fill, fill(5000.0, Value::Null)), "more-than-left");
    // A thousandth and half a millilitre are rounding, not more than is left: 1,072.7 mL are.
    refused(book.write(EntryKind::Fill, fill(mixed - 600.0 + 1.7, Value::Null)), "more-than-left");
    let all = book.write(EntryKind::Fill, fill(mixed - 600.0 + 1.5, Value::Null)).unwrap();
    book.write(EntryKind::Strike, json!({ "entry": all, "reason": "into the other gun" })).unwrap();
    refused(book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "handed_over" })), "not-this-way");
    refused(
        book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "discarded", "reason": "late", "waste_ml": 9000.0 })),
        "more-than-left",
    );
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "discarded", "reason": "end of shift" })).unwrap();
    let closed = book.record().charges[0].closed.clone().unwrap();
    near(closed.it.waste_ml.unwrap(), mixed - 600.0, 1e-6);
    refused(book.write(EntryKind::Fill, fill(10.0, Value::Null)), "charge-closed");
}

/// The words of the log for where a fill went.
#[test]
fn a_fill_says_into_what() {
    use level_keel_core::batch::entries::FillInto;
    let words = [FillInto::GunCup, FillInto::PressurePot, FillInto::Tray].map(FillInto::word);
    assert_eq!(words, ["gun cup", "pressure pot", "tray"]);
}

/// A pot of an older book, written before transfers were kept, is whole.
#[test]
fn a_pot_written_before_transfers_is_whole() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let mut old = serde_json::to_value(&book.record().charges[0]).unwrap();
    old.as_object_mut().unwrap().remove("kept");
    let read: level_keel_core::batch::charge::Charge = serde_json::from_value(old).unwrap();
    near(read.kept, 1.0, 1e-12);
}

#[test]
fn nothing_of_a_spent_or_unstirred_pot_goes_to_the_gun() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    book.pour("base", 1900.0).unwrap();
    // Base alone is one liquid and may be divided; hardener in it and not stirred is two.
    let part = |n: u128, no: i64| json!({ "charge": POT, "new_charge": Uuid::from_u128(n), "no": no, "part_ml": 300.0 });
    book.write(EntryKind::Divide, part(81, 8)).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    refused(book.write(EntryKind::Divide, part(82, 9)), "unstirred");
    let fill = json!({ "charge": POT, "into": "pressure_pot", "fill_ml": 500.0 });
    refused(book.write(EntryKind::Fill, fill.clone()), "unstirred");
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(300.0);
    refused(book.write(EntryKind::Fill, fill), "spent");
}

/// Paint in the hose is a vessel of its own: it lives on when the pot is empty, and holds the signature until flushed.
#[test]
fn the_line_is_a_vessel_until_it_is_flushed() {
    let mut book = Book::begun(sheet());
    book.ready();
    planned(&mut book, json!({ "hose_bore_mm": 9.525, "hose_length_mm": 7620.0 }));
    refused(book.write(EntryKind::Flush, json!({})), "nothing-in-the-line");
    book.mixed(328.0);
    assert!(book.record().hose(book.now).is_none());
    book.sprayed();
    let line = book.record().hose(book.now).expect("the hose is full");
    near(line.hose_ml, 543.0, 0.5);
    // 543 mL at 300 mL/min: 1.81 min until new paint arrives.
    near(line.renewed_s.unwrap(), 108.6, 0.1);
    let rack = seen(&book).head.pots;
    assert_eq!(rack.iter().map(|p| p.vessel).collect::<Vec<_>>(), [Vessel::Hose], "the pot is gone, the hose is not");
    assert!(seen(&book).next.iter().any(|n| n.text == "Flush the hose"), "{:?}", seen(&book).next);
    let before = rack[0].age;
    book.pass(30.0);
    assert!(seen(&book).pots[0].age > before, "it ages on");
    refused(book.write(EntryKind::Sign, book.seen()), "line-not-flushed");
    book.write(EntryKind::Flush, json!({ "text": "epoxy thinner" })).unwrap();
    assert!(seen(&book).pots.is_empty());
}

/// What left a pot is the larger of what was filled out of it and what its passes say they took; never the sum.
#[test]
fn the_larger_of_filled_and_sprayed_left_the_pot() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let used = |book: &Book| book.record().used_ml(&book.record().charges[0]);
    book.write(EntryKind::Fill, json!({ "charge": POT, "into": "gun_cup", "fill_ml": 600.0, "dose_g": null })).unwrap();
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    let pass = |ml: f64| json!({ "charge": POT, "zones": [], "used_ml": ml });
    book.write(EntryKind::Pass, pass(400.0)).unwrap();
    near(used(&book), 600.0, 1e-9);
    book.pass(1.0).write(EntryKind::Pass, pass(500.0)).unwrap();
    near(used(&book), 900.0, 1e-9);
}

/// At the gun each pass takes of both lots as the ratio says: 100 mL at 8 : 1 by weight, of 0.98 and 1.08 kg/L, are 88.02 g and
/// 11.00 g; both together fill the 100 mL.
#[test]
fn a_pass_at_the_gun_takes_of_both_lots() {
    let mut adhesive = sheet();
    for (field, value) in [
        ("charge", json!("at_gun")),
        ("basis", json!("by_weight")),
        ("ratio", json!(8.0)),
        ("base_density_kg_l", json!(0.98)),
        ("hardener_density_kg_l", json!(1.08)),
        ("film_proof", json!("not_asked")),
    ] {
        adhesive[field] = value;
    }
    let mut book = Book::begun(adhesive);
    book.ready();
    let lot = |n: u128| Uuid::from_u128(n);
    for (component, n) in [("base", 60), ("hardener", 61), ("base", 62)] {
        let taken = json!({ "component": component, "lot": { "id": lot(n), "code": format!("L-{n}") } });
        book.pass(1.0).write(EntryKind::TakeLot, taken).unwrap();
    }
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 700.0 })).unwrap();
    book.write(EntryKind::RatioCheck, json!({ "charge": POT, "a_g": 400.0, "b_g": 50.0, "resolution_g": 0.1 })).unwrap();
    book.write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 100.0 })).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [] })).unwrap();
    let mut uses = level_keel_core::batch::lot_uses::uses(&book.record());
    uses.sort_by_key(|u| u.lot);
    assert_eq!(
        uses.iter().map(|u| u.lot).collect::<Vec<_>>(),
        [lot(61), lot(62)],
        "the newest of each; a pass that says no paint takes none"
    );
    near(uses[0].used_g, 11.002, 0.001);
    near(uses[1].used_g, 88.017, 0.001);
    near(uses[1].used_g / 0.98 + uses[0].used_g / 1.08, 100.0, 1e-6);
}

/// Of a pot that was handed over, the paint that passes used is what went on this part.
#[test]
fn a_pot_handed_over_left_what_was_sprayed_of_it() {
    let mut by_use = sheet();
    by_use["film_proof"] = json!("use");
    let mut book = Book::begun(by_use);
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 500.0 })).unwrap();
    let over = json!({ "charge": POT, "to_batch": Uuid::from_u128(90), "to_number": 13 });
    book.write(EntryKind::HandOver, over).unwrap();
    let um = book.record().film_by_use_um(level_keel_core::quantity::Prefs::METRIC).unwrap();
    // 500 mL on 10 m² at 60 %: 30 µm; all that was mixed would be three times that.
    near(um.value, 30.0, 0.1);
}

/// The hose on the rack was called a line once: cards kept then are read.
#[test]
fn the_hose_of_an_older_card_is_read() {
    for (word, vessel) in [("pot", Vessel::Pot), ("hose", Vessel::Hose), ("line", Vessel::Hose)] {
        assert_eq!(serde_json::from_value::<Vessel>(json!(word)).unwrap(), vessel, "{word}");
    }
    assert_eq!(serde_json::to_value(Vessel::Hose).unwrap(), "hose");
}
