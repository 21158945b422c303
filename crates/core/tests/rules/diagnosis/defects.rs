//! Defects in the book: seen at any time once something is on, looked for, settled, and struck.

use super::plant::{HULL, Plant};
use crate::book::*;
use jiff::SignedDuration;
use level_keel_core::batch::EntryKind;
use level_keel_core::batch::card::card;
use level_keel_core::batch::diagnosis::RepairedBy;
use level_keel_core::batch::view::{DefectsView, Viewer, defects, whole};
use level_keel_core::book::Ledger;
use level_keel_core::diagnosis::{Cause, Look, Side, Strength};
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use serde_json::json;
use uuid::Uuid;

fn seen(book: &Book, beside: &Beside, role: Role) -> DefectsView {
    let record = book.record();
    defects(&Case::new(&record, beside), &writer(role))
}

#[test]
fn a_defect_is_seen_looked_for_and_settled_after_the_card_is_closed() {
    let (mut book, beside) = Plant { failed: vec!["water_traps"], ..Plant::pot() }.made();
    let before = book.now - SignedDuration::from_hours(5);
    let now = std::mem::replace(&mut book.now, before);
    refused(book.write(EntryKind::DefectSeen, json!({ "symptom": "fish_eyes", "zone": HULL })), "before-the-coat");
    book.now = now;
    refused(book.write(EntryKind::DefectSeen, json!({ "symptom": "fish_eyes", "zone": Uuid::from_u128(77) })), "unknown-zone");
    refused(book.write(EntryKind::DefectSeen, json!({ "symptom": "warts" })), "not-understood");
    let entry =
        book.write(EntryKind::DefectSeen, json!({ "symptom": "fish_eyes", "zone": HULL, "text": "at the seam" })).unwrap();
    let view = seen(&book, &beside, Role::Applicator);
    let defect = &view.defects[0];
    assert_eq!((defect.name.as_str(), defect.zone_name.as_deref(), view.can_settle), ("Fish-eyes", Some("hull"), false));
    let first = &defect.causes[0];
    assert_eq!((first.cause, first.strength, first.counts), (Cause::WetAir, Strength::Strong, [1, 0, 0]));
    // The figure stands in an entry of this book.
    let record = book.record();
    let named = first.evidence[0].entry.unwrap();
    assert!(record.log.iter().any(|l| l.entry == named), "{:?}", first.evidence);
    // What parts it from the next is asked; the answer stands as evidence.
    let next = defect.next.clone().unwrap();
    assert!(next.why.contains("oil or water in the air"), "{}", next.why);
    refused(book.write(EntryKind::DefectLook, json!({ "defect": entry, "look": "pot_warm", "yes": true })), "not-of-this");
    refused(
        book.write(EntryKind::DefectLook, json!({ "defect": Uuid::from_u128(5), "look": next.look, "yes": true })),
        "unknown-defect",
    );
    book.write(
        EntryKind::DefectLook,
        json!({ "defect": entry, "look": "air_on_glass", "yes": true, "text": "drops on the glass" }),
    )
    .unwrap();
    let looked = seen(&book, &beside, Role::Applicator);
    assert_eq!(looked.defects[0].causes[0].counts, [2, 0, 0]);
    assert_ne!(looked.defects[0].next.as_ref().map(|n| n.look), Some(Look::AirOnGlass), "it is not asked twice");
    // An answer that is taken back and given anew: the newest counts.
    book.write(EntryKind::DefectLook, json!({ "defect": entry, "look": "air_on_glass", "yes": false })).unwrap();
    assert_eq!(
        seen(&book, &beside, Role::Applicator).defects[0].causes.iter().find(|c| c.cause == Cause::WetAir).unwrap().counts,
        [1, 1, 0]
    );
    let settled = json!({ "defect": entry, "cause": "wet_air", "text": "separator was full" });
    refused(book.write(EntryKind::DefectSettled, settled.clone()), "not-your-role");
    book.write_as(Role::Inspector, EntryKind::DefectSettled, settled).unwrap();
    let view = seen(&book, &beside, Role::Lead);
    assert_eq!(view.defects[0].settled.as_ref().map(|s| s.cause), Some(Cause::WetAir));
    assert!(view.defects[0].next.is_none(), "nothing is left to part");
}

/// Weeks later: signed and accepted, a defect is still written, and a wrong one struck with its reason; what is of the card is not.
#[test]
fn a_closed_card_takes_defects_and_gives_them_back() {
    let mut book = Book::begun_with(sheet(), json!({ "substrate": "sanded_steel" }));
    book.ready();
    book.mixed(328.0);
    book.sprayed();
    let signing = book.seen();
    book.write(EntryKind::Sign, signing).unwrap();
    let accepting = book.seen();
    book.write_as(Role::Inspector, EntryKind::Accept, accepting).unwrap();
    let head = book.record().log.head_seq;
    let entry = book.pass(60.0 * 24.0 * 20.0).write(EntryKind::DefectSeen, json!({ "symptom": "peel" })).unwrap();
    assert!(book.record().acceptance.is_some(), "the card stays closed");
    let view = seen(&book, &Beside::default(), Role::Lead);
    assert_eq!(view.defects[0].zone, None);
    assert!(view.defects[0].causes.iter().flat_map(|c| &c.evidence).any(|e| e.side == Side::Against));
    let comb = book.record().combs[0].entry;
    refused(book.write(EntryKind::Strike, json!({ "entry": comb, "reason": "x" })), "accepted");
    book.write(EntryKind::Strike, json!({ "entry": entry, "reason": "another buoy" })).unwrap();
    assert!(book.record().defects.is_empty());
    assert_eq!(book.record().log.head_seq, head + 2);
}

/// A defect seen before the card is closed stands on it, and so does what a repair repairs.
#[test]
fn the_card_says_what_was_seen() {
    let noted = |book: &Book| {
        let record = book.record();
        let case = Case::alone(&record);
        let viewer = Viewer { writer: writer(Role::Lead), comb_um: vec![MIL], scale_g: 1.0 };
        let view = whole(Uuid::from_u128(9), &case, &viewer, book.now).expect("a begun batch");
        card(&case, view, Prefs::METRIC).noted
    };
    let (mut book, _) = Plant::pot().made();
    let entry = book.write(EntryKind::DefectSeen, json!({ "symptom": "sag", "zone": HULL })).unwrap();
    assert_eq!(noted(&book).last().unwrap(), "Sag or run on hull was seen: not settled what it came of.");
    let settled = json!({ "defect": entry, "cause": "gun_slow", "text": "seen at the keel" });
    book.write_as(Role::Lead, EntryKind::DefectSettled, settled).unwrap();
    assert_eq!(noted(&book).last().unwrap(), "Sag or run on hull was seen: it came of gun slow or near.");
    let repairs = json!({ "batch": Uuid::from_u128(9), "number": 12, "defect": entry, "symptom": "sag" });
    let repair = Book::begun_with(sheet(), json!({ "repairs": repairs }));
    assert_eq!(noted(&repair), ["It repairs sag or run of batch 0012."]);
}

#[test]
fn what_repairs_a_defect_stands_with_it_and_says_what_it_repairs() {
    let (mut book, beside) = Plant::pot().made();
    let entry = book.write(EntryKind::DefectSeen, json!({ "symptom": "sag", "zone": HULL })).unwrap();
    let repair = RepairedBy { batch: Uuid::from_u128(8), number: 31, defect: entry, stands: "open".into() };
    let elsewhere = RepairedBy { defect: Uuid::from_u128(9), ..repair.clone() };
    let view = seen(&book, &Beside { repairs: vec![repair, elsewhere], ..beside }, Role::Lead);
    assert_eq!(view.defects[0].repaired_by.iter().map(|r| r.text.as_str()).collect::<Vec<_>>(), ["Batch 0031, open"]);
    let repairs = json!({ "batch": Uuid::from_u128(9), "number": 12, "defect": entry, "symptom": "sag" });
    let repair = Book::begun_with(sheet(), json!({ "repairs": repairs }));
    assert_eq!(seen(&repair, &Beside::default(), Role::Lead).repairs.unwrap().text, "It repairs sag or run of batch 0012");
    let record = repair.record();
    let line = record.words(record.log.last().unwrap().said.as_deref().unwrap(), Prefs::METRIC);
    assert!(line.ends_with("repairs sag or run of batch 0012"), "{line}");
}
