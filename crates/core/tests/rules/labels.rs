//! What stands on a printed label, and what its address opens.

use crate::book::*;
use crate::mix::SECOND;
use jiff::Timestamp;
use level_keel_core::batch::{Case, EntryKind};
use level_keel_core::labels::{Label, LabelPaper, LotFacts, of_card, of_lot, of_part, of_pot, of_rig};
use level_keel_core::quantity::Prefs;
use level_keel_core::scan::{Scanned, ThingKind, path, read, scanned_into};
use level_keel_core::worded::VariantArray;
use serde_json::json;
use uuid::Uuid;

fn pot(book: &Book) -> Label {
    of_pot(&Case::alone(&book.record()), POT, book.now).expect("a label of the pot")
}

fn times(label: &Label) -> Vec<(&str, Timestamp)> {
    label.times.iter().map(|t| (t.word, t.at)).collect()
}

/// A pot has its times once hardener met base; a closed one has none, so that nobody sprays by an old label.
#[test]
fn a_pot_says_when_it_was_mixed_and_when_it_dies() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    book.pour("base", 1900.0).unwrap();
    let filling = pot(&book);
    assert_eq!((filling.heading.as_str(), filling.lines[0].as_str(), times(&filling).len()), ("Pot 1", "not mixed yet", 0));
    let mixed_at = book.now;
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    // Hardener is in and nobody stirred: without a word the label would let it be sprayed.
    let unstirred = pot(&book);
    assert_eq!((unstirred.lines[0].as_str(), times(&unstirred).len()), ("not stirred yet: not to be used", 0));
    book.write(EntryKind::Stirred, on()).unwrap();
    let mixed = pot(&book);
    let record = book.record();
    let clock = record.clock(&record.charges[0], book.now).expect("a clock");
    let induction = clock.induction_ends.map(|at| ("not before", at));
    let wanted: Vec<_> = [("mixed", mixed_at)].into_iter().chain(induction).chain([("use by", clock.spent_at)]).collect();
    assert_eq!(times(&mixed), wanted);
    assert!(clock.induction_ends.is_some(), "this sheet has an induction");
    assert!(!mixed.lines.iter().any(|l| l == "not mixed yet"), "{mixed:?}");
    assert_eq!(mixed.lines.last().map(String::as_str), Some("sooner if warm: see the rack"));
    let now = book.now;
    book.now = clock.spent_at + jiff::SignedDuration::from_mins(1);
    let spent = pot(&book);
    assert_eq!((spent.lines[0].as_str(), times(&spent).len()), ("spent: not to be used", 0));
    book.now = now;
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "discarded", "reason": "hard" })).unwrap();
    let closed = pot(&book);
    assert_eq!((closed.lines[0].as_str(), times(&closed).len()), ("closed: not to be used", 0));
    assert_eq!(of_pot(&Case::alone(&book.record()), SECOND, book.now), None, "a charge that is not there");
}

#[test]
fn a_lot_a_part_and_a_rig_say_what_is_needed_first() {
    let lot = LotFacts {
        code: "P-2207".into(),
        product: "Harbor primer".into(),
        component: "base".into(),
        colour: Some("grey".into()),
        expires: Some(jiff::civil::date(2027, 3, 1)),
        ..LotFacts::default()
    };
    assert_eq!(of_lot(&lot).lines, ["Harbor primer", "base, grey", "good until 2027-03-01"]);
    // An age that is not known is said, not left out.
    let unknown = of_lot(&LotFacts { expires: None, makers_lot: Some("M 7".into()), ..lot });
    assert_eq!(unknown.lines[2..], ["maker’s lot M 7", "no expiry known"]);
    let part = of_part("Tower section of buoy 8", "Tower buoy 8", &["primer".into(), "finish".into()]);
    assert_eq!(
        (part.heading.as_str(), &part.lines[..]),
        ("Tower buoy 8", &["Tower section of buoy 8".into(), "primer, then finish".to_string()][..])
    );
    assert_eq!(of_part("Buoy 8", "Buoy 8", &[]).lines, Vec::<String>::new());
    let rig = serde_json::from_value(pot_rig()).expect("a rig");
    let (metric, us) =
        (of_rig(&rig, Prefs::METRIC), of_rig(&rig, Prefs { units: level_keel_core::quantity::UnitSet::Us, ..Prefs::METRIC }));
    assert_eq!(metric.heading, rig.name);
    assert_eq!(metric.lines[0], "pressure pot");
    assert!(us.lines[1].ends_with("psi") && metric.lines[1].ends_with("kPa"), "{us:?} {metric:?}");
}

#[test]
fn an_address_on_a_label_gives_the_thing_again() {
    let (a, b) = (Uuid::from_u128(7), Uuid::from_u128(8));
    for is in ThingKind::VARIANTS {
        let line = path(*is, a, None).map(|path| read(&format!("https://shop.example{path}")));
        let has = matches!(is, ThingKind::Lot | ThingKind::Part | ThingKind::Rig | ThingKind::Card);
        assert_eq!(line, has.then_some(Ok(Scanned::Label(*is, a))), "{is:?}");
    }
    let pot = path(ThingKind::Pot, a, Some(b)).expect("a pot has a label");
    assert_eq!(read(&format!("http://127.0.0.1:7070{pot}")), Ok(Scanned::Pot(a, b)));
    for broken in ["/batches/x/pots/y", "/batches/0191d000-0000-7000-8000-000000000007/pots", "/labels"] {
        assert_eq!(read(&format!("http://shop{broken}")).expect_err("no label").code, "foreign-label", "{broken}");
    }
}

/// Where a lot is typed its label may be scanned, and the label of nothing else.
#[test]
fn a_field_takes_the_label_of_its_own_kind() {
    let id = Uuid::from_u128(7);
    let address = |path: &str| format!("http://127.0.0.1:7070/{path}/{id}");
    assert_eq!(scanned_into("lot", "P-2207", ThingKind::Lot), Ok(None), "a code is typed");
    assert_eq!(scanned_into("lot", &address("stores"), ThingKind::Lot), Ok(Some(id)));
    let other = scanned_into("lot", &address("parts"), ThingKind::Lot).expect_err("a part is no lot");
    assert_eq!((other.code.as_str(), other.field.as_deref()), ("other-label", Some("lot")));
    assert_eq!(other.text, "This is the label of a part. Scan that of a lot.");
    let foreign = scanned_into("part", "https://example.com/x", ThingKind::Part).expect_err("foreign");
    assert_eq!((foreign.code.as_str(), foreign.field.as_deref()), ("foreign-label", Some("part")));
}

/// The code and the words fit on their paper.
#[test]
fn papers_have_room_for_their_code() {
    for size in LabelPaper::sizes() {
        assert!(size.code_mm < size.height_mm && size.code_mm < 0.5 * size.width_mm, "{size:?}");
    }
}

/// The code of a card opens that card, and the line under it is the head the paper was made from.
#[test]
fn a_card_has_its_code() {
    let book = Book::begun(sheet());
    let record = book.record();
    let label = of_card(&Case::alone(&record)).expect("a begun batch");
    assert_eq!(label.heading, "Buoy 5 · primer");
    assert_eq!(label.lines, ["batch 0012".into(), "entry 1".into(), format!("head {}", &record.log.head_hash[..12])]);
    let id = Uuid::from_u128(7);
    let line = format!("https://shop.test{}", path(ThingKind::Card, id, None).expect("cards have codes"));
    assert_eq!(read(&line), Ok(Scanned::Label(ThingKind::Card, id)));
}
