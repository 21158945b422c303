//! Spans of tips and of scales in doubt, and which scales a batch was weighed on.

use crate::book::*;
use jiff::Timestamp;
use level_keel_core::batch::EntryKind;
use level_keel_core::batch::weighed_on::weighed_on;
use level_keel_core::instruments::Fault;
use level_keel_core::rig_book::{Fitted, Remark, RigEntry};
use level_keel_core::trace::{doubts, tips};
use serde_json::json;
use uuid::Uuid;

fn day(day: i8) -> Timestamp {
    format!("2026-05-{day:02}T08:00:00Z").parse().unwrap()
}

#[test]
fn a_tip_is_in_from_its_fitting_to_the_next_one() {
    let fitted = |code: Option<&str>, mm: Option<f64>| {
        RigEntry::Fitted(Fitted { nozzle_mm: mm, tip_code: code.map(String::from), before: None })
    };
    assert_eq!(tips(&[]).len(), 1, "one that nobody named, since ever");
    assert_eq!((tips(&[])[0].from, tips(&[])[0].to), (None, None));
    let note = RigEntry::Note(Remark { text: Some("dropped".into()), was_new: false });
    // Written in another order than it happened.
    let told = [(day(9), fitted(Some("521"), None)), (day(3), fitted(Some(" "), Some(1.8))), (day(5), note)];
    let spans = tips(&told);
    let read: Vec<_> = spans.iter().map(|s| (s.words.as_str(), s.from, s.to)).collect();
    let want =
        [("tip 521", Some(day(9)), None), ("nozzle 1.8 mm", Some(day(3)), Some(day(9))), ("the tip before", None, Some(day(3)))];
    assert_eq!(read, want);
}

#[test]
fn a_scale_is_in_doubt_from_its_last_good_check_to_its_next() {
    let off = Some(Fault::Gain);
    assert!(doubts(&[]).is_empty() && doubts(&[(day(1), None), (day(2), None)]).is_empty());
    let spans = doubts(&[(day(1), None), (day(2), None), (day(4), off), (day(5), off), (day(7), None), (day(9), off)]);
    let read: Vec<_> = spans.iter().map(|s| (s.from, s.to)).collect();
    assert_eq!(read, [(Some(day(7)), None), (Some(day(2)), Some(day(7)))], "newest first; the last is not answered yet");
    assert!(spans[0].words.starts_with("found off"), "{}", spans[0].words);
    assert_eq!(doubts(&[(day(4), off)])[0].from, None, "never found good: since ever");
}

#[test]
fn a_batch_knows_the_scales_it_was_weighed_on() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    let scale = |n: u128| Uuid::from_u128(800 + n);
    let pour = |n: u128, component: &str, g: f64| json!({ "charge": POT, "component": component, "reading_g": g, "resolution_g": 1.0, "lot": null, "instrument": scale(n) });
    let first = book.now;
    let base = book.write(EntryKind::Pour, pour(1, "base", 1900.0)).unwrap();
    book.pass(5.0).write(EntryKind::Combine, on()).unwrap();
    book.write(EntryKind::Pour, pour(1, "hardener", 2228.0)).unwrap();
    let used = weighed_on(&book.record());
    assert_eq!(used.iter().map(|u| (u.instrument, u.first, u.last)).collect::<Vec<_>>(), [(scale(1), first, book.now)]);
    book.write(EntryKind::Strike, json!({ "entry": base, "reason": "another pot" })).unwrap();
    assert_eq!(weighed_on(&book.record())[0].first, book.now, "a struck pour weighed nothing");
}
