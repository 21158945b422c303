//! Ready to use: one press a fill, no ratio and no life; what is left goes back to its can or stays, what is mixed never does.

use jiff::SignedDuration;
use level_keel_core::batch::EntryKind;
use level_keel_core::batch::lot_uses::uses;
use level_keel_core::lists::ItemState;
use level_keel_core::refusal::Why;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;
use crate::mix::seen;
use crate::set_by_gun::cup_rig;

const LOT: Uuid = Uuid::from_u128(61);

fn one_can(changes: Value) -> Value {
    let mut sheet = sheet();
    for (field, value) in [
        ("has_hardener", json!(false)),
        ("basis", Value::Null),
        ("ratio", Value::Null),
        ("pot_life_s", Value::Null),
        ("film_proof", json!("not_asked")),
    ] {
        sheet[field] = value;
    }
    for (field, value) in changes.as_object().unwrap() {
        sheet[field] = value.clone();
    }
    sheet
}

fn begun(sheet: Value, rig: Value) -> Book {
    let mut book = Book::with_rig(sheet, rig);
    book.pass(1.0);
    book
}

fn fill(ml: f64, more: Value) -> Value {
    let lot = json!({ "id": LOT, "code": "X-30", "stand": { "received": true } });
    let mut body = json!({ "charge": POT, "no": 5, "into": "pressure_pot", "fill_ml": ml, "lot": lot, "stirred": true });
    for (field, value) in more.as_object().unwrap() {
        body[field] = value.clone();
    }
    body
}

fn end(how: &str) -> Value {
    json!({ "charge": POT, "how": how })
}

/// One press pours it in; it is sprayed from at once, and filled again into the same.
#[test]
fn a_fill_is_one_press_and_nothing_ages() {
    let mut book = begun(one_can(json!({})), pot_rig());
    book.write(EntryKind::ReadyFill, fill(600.0, json!({}))).unwrap();
    let view = seen(&book);
    assert!(view.mix.ready_to_use);
    let pot = &view.pots[0];
    assert_eq!((pot.no, pot.left.text.as_str(), pot.counts_s, pot.word.as_str()), (5, "600\u{a0}mL", None, "Open"));
    assert!(view.mix.pots[0].ratio.is_none() && view.mix.pots[0].hand.is_none());
    book.write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 500.0 })).unwrap();
    book.pass(5.0).write(EntryKind::ReadyFill, fill(400.0, json!({ "dose_g": 4.0 }))).unwrap();
    let record = book.record();
    assert_eq!(record.charges.len(), 1, "the same pot is filled again");
    assert!((record.left_ml(&record.charges[0]) - 500.0).abs() < 1e-9);
    assert_eq!(seen(&book).mix.pots[0].fills.len(), 2);
    assert!(record.clock(&record.charges[0], book.now + SignedDuration::from_hours(40)).is_none(), "it has no life");
    book.write(EntryKind::CloseCharge, end("emptied")).unwrap();
    refused(book.write(EntryKind::ReadyFill, fill(100.0, json!({}))), "charge-closed");
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
}

/// Two components are mixed; thinned by plan it is weighed.
#[test]
fn what_is_mixed_is_no_ready_fill() {
    let mut two = begun(sheet(), pot_rig());
    refused(two.write(EntryKind::ReadyFill, fill(600.0, json!({}))), "not-ready-to-use");
    assert!(!seen(&two).mix.ready_to_use);
    let thin = one_can(json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_base", "thinner_density_kg_l": 0.87 }));
    let mut thinned = Book::begun_with(thin, json!({ "thinner_pct": 5.0 }));
    refused(thinned.write(EntryKind::ReadyFill, fill(600.0, json!({}))), "thinned");
    let mut book = begun(one_can(json!({})), pot_rig());
    for ml in [0.0, -5.0, 2e6] {
        let wrong = book.write(EntryKind::ReadyFill, fill(ml, json!({}))).unwrap_err();
        assert_eq!(wrong.field.as_deref(), Some("fill_ml"), "{ml}");
    }
}

/// What settles is stirred at each fill: a fill that says so renews the list's own clock, one that does not is named.
#[test]
fn a_fill_is_stirred() {
    let item = json!([{ "key": "stir_again", "group": "material", "text": "Settling mix stirred", "before": "spray",
        "what": { "kind": "good_for", "window_s": 1200.0, "by": "stir_again", "over": "stir it again" } }]);
    let mut book = Book::begun_with(one_can(json!({ "stir_again_s": 1200.0 })), json!({ "items": item }));
    book.ready();
    book.pass(1.0);
    let state = |book: &Book| seen(book).ready.groups[0].items[0].state;
    let named = |book: &Book| seen(book).mix.pots[0].judgements.iter().any(|j| j.code == "not-stirred");
    assert_eq!(state(&book), ItemState::Open);
    book.write(EntryKind::ReadyFill, fill(600.0, json!({}))).unwrap();
    assert_eq!(state(&book), ItemState::Done);
    assert!(!named(&book));
    book.pass(21.0).write(EntryKind::ReadyFill, fill(600.0, json!({ "stirred": false }))).unwrap();
    assert_eq!(state(&book), ItemState::Held, "twenty minutes are over");
    assert!(named(&book));
    // Another cup, stirred just now, says nothing of the one that stands: it settles on.
    let other = json!({ "charge": Uuid::from_u128(78), "no": 6 });
    book.write(EntryKind::ReadyFill, fill(100.0, other)).unwrap();
    assert_eq!(state(&book), ItemState::Held);
    // What does not settle is not asked.
    let mut calm = begun(one_can(json!({})), pot_rig());
    calm.write(EntryKind::ReadyFill, fill(600.0, json!({ "stirred": false }))).unwrap();
    assert!(!named(&calm));
}

/// 1,000 mL of 1.42 kg/L were taken and 300 mL go back: the lot is down by 994 g. Mixed paint never goes back, and what was
/// thinned or dosed is another paint than the can's.
#[test]
fn what_is_left_goes_back_to_its_can_and_what_is_mixed_never() {
    let mut book = begun(one_can(json!({})), pot_rig());
    book.write(EntryKind::ReadyFill, fill(600.0, json!({}))).unwrap();
    book.write(EntryKind::ReadyFill, fill(400.0, json!({}))).unwrap();
    let used = |book: &Book| uses(&book.record()).iter().map(|u| u.used_g).sum::<f64>();
    assert!((used(&book) - 1420.0).abs() < 1e-6);
    book.write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 700.0 })).unwrap();
    let more = json!({ "charge": POT, "how": "back_to_can", "waste_ml": 310.0 });
    assert_eq!(book.write(EntryKind::CloseCharge, more).unwrap_err().field.as_deref(), Some("waste_ml"));
    book.write(EntryKind::CloseCharge, end("back_to_can")).unwrap();
    assert!((used(&book) - 994.0).abs() < 1e-6, "{}", used(&book));
    let mut mixed = Book::begun(sheet());
    mixed.ready();
    mixed.mixed(328.0);
    for (how, code) in [("back_to_can", "mixed-back-never"), ("left_in_pot", "mixed-stays-never")] {
        assert_eq!(refused(mixed.write(EntryKind::CloseCharge, end(how)), code).why, Why::Stop);
    }
    let mut dosed = begun(one_can(json!({})), pot_rig());
    dosed.write(EntryKind::ReadyFill, fill(600.0, json!({ "dose_g": 3.0 }))).unwrap();
    refused(dosed.write(EntryKind::CloseCharge, end("back_to_can")), "changed");
}

/// It may stay in pot and hose for a week from the first that came in; flushed, nothing is in it. Out of a gun's cup none is.
#[test]
fn what_stays_in_the_hose_is_flushed_within_a_week() {
    let mut book = begun(one_can(json!({})), pot_rig());
    let stays = |book: &Book| book.record().stays_in_hose(book.now);
    assert!(stays(&book).is_none());
    book.write(EntryKind::ReadyFill, fill(600.0, json!({}))).unwrap();
    let first = book.now;
    book.pass(60.0).write(EntryKind::ReadyFill, fill(600.0, json!({}))).unwrap();
    let hose = stays(&book).unwrap();
    assert_eq!(hose.flush_by, first + SignedDuration::from_hours(24 * 7), "of the first that came in");
    assert!((hose.hose_ml - 543.0).abs() < 0.5);
    assert!(book.record().hose(book.now).is_none(), "nothing in it dies");
    let rack = |book: &Book| seen(book).pots.iter().find(|p| p.word == "In the hose").map(|p| p.note.clone().unwrap());
    assert!(rack(&book).unwrap().starts_with("flush within 7.0"), "{:?}", rack(&book));
    let asks = |book: &Book| format!("{:?}", seen(book).next).contains("Flush the hose");
    assert!(!asks(&book));
    book.pass(60.0 * 24.0 * 7.0 - 30.0);
    assert!(asks(&book));
    assert_eq!(rack(&book).as_deref(), Some("flush it now"));
    book.write(EntryKind::Flush, json!({})).unwrap();
    assert!(stays(&book).is_none());
    book.write(EntryKind::CloseCharge, end("left_in_pot")).unwrap();
    let mut cup = begun(one_can(json!({})), cup_rig(json!({})));
    cup.write(EntryKind::ReadyFill, fill(600.0, json!({ "into": "gun_cup" }))).unwrap();
    assert!(stays(&cup).is_none());
    let mut mixed = Book::with_rig(sheet(), pot_rig());
    mixed.mixed(328.0);
    mixed.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    assert!(stays(&mixed).is_none() && mixed.record().hose(mixed.now).is_some(), "mixed paint has a clock of its own");
}

/// What stays in the pot is not on the part: where a pass said no paint, nobody knows how much is, and the film is not proved.
#[test]
fn what_stays_is_known_only_by_what_the_passes_said() {
    let film = |second: Value| {
        let mut book = begun(one_can(json!({ "film_proof": "use" })), pot_rig());
        book.write(EntryKind::ReadyFill, fill(2000.0, json!({}))).unwrap();
        book.write(EntryKind::StartSpraying, on()).unwrap();
        for used in [json!(800.0), second] {
            book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": used })).unwrap();
        }
        book.write(EntryKind::CloseCharge, end("left_in_pot")).unwrap();
        book.record().film_by_use_um(level_keel_core::quantity::Prefs::METRIC)
    };
    assert!(film(json!(700.0)).is_some());
    assert_eq!(film(Value::Null), None);
}
