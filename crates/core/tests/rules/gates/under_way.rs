//! What goes bad while the work is under way, and batches begun under older rules.

use super::*;

#[test]
fn what_goes_bad_under_way_holds_and_marks_the_passes() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), Vec::<String>::new());
    book.pass(5.0).write(EntryKind::Conditions, conditions(13.0, 65.0)).unwrap();
    assert!(holds(&book).iter().any(|h| h.trouble == "wet" && h.severity == Severity::Stop));
    let wet = book.pass(1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    let record = book.record();
    let marked: Vec<_> = record.deviations.iter().map(|d| (d.code.as_str(), d.entry)).collect();
    assert_eq!(marked, [("sprayed-on-hold", wet)]);
    // Dried and read again the next pass is clean; a pass released by a lead is too.
    book.pass(1.0).write(EntryKind::Conditions, conditions(16.5, 65.0)).unwrap();
    release(&mut book, "conditions", json!({})).unwrap();
    book.pass(1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), ["sprayed-on-hold"]);
}

/// A lot of which neither the stores nor the entry say anything is not in date: nobody knows.
#[test]
fn a_lot_nobody_knows_holds() {
    let items = json!([{ "key": "lot_base", "group": "material", "text": "Base lot", "what": { "kind": "lot", "component": "base" }, "before": "combine" }]);
    let mut book = Book::begun_with(sheet(), json!({ "items": items }));
    book.ready();
    let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1" });
    force(&mut book, EntryKind::TakeLot, json!({ "component": "base", "lot": lot }));
    assert_eq!(troubles(&book, GateName::Lots), ["unknown-lot"]);
    open(&mut book, POT);
    book.pour("base", 1900.0).unwrap();
    held(book.write(EntryKind::Combine, on()), "P-1");
    // Combined all the same: marked where the rules asked it, and not in a book begun before they did.
    force(&mut book, EntryKind::Combine, on());
    assert_eq!(codes(&book), ["combined-with-lot-held"]);
    book.entries[0].payload["rules"] = json!(0);
    assert_eq!(codes(&book), Vec::<String>::new());
    assert_eq!(troubles(&book, GateName::Lots), ["unknown-lot"], "an open one is held by the rules of today");
}

#[test]
fn the_hose_of_the_rig_is_a_vessel_though_no_plan_named_one() {
    let mut book = Book::with_rig(sheet(), pot_rig());
    book.mixed(328.0);
    assert!(book.record().hose(book.now).is_none());
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    let line = book.record().hose(book.now).expect("mixed paint stands in the hose");
    assert!((line.hose_ml - 543.0).abs() < 1.0, "25 ft of 3/8 in");
    book.write(EntryKind::Pass, pass_on(&[])).unwrap();
    book.film(4.0);
    close(&mut book);
    let seen = book.seen();
    assert_eq!(book.write(EntryKind::Sign, seen).unwrap_err().code, "line-not-flushed");
    // At the very instant the later entry of the two counts.
    book.write(EntryKind::Flush, json!({})).unwrap();
    assert!(book.record().hose(book.now).is_none());
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
}

#[test]
fn a_flush_before_the_paint_at_the_same_instant_flushes_nothing_of_it() {
    let mut book = Book::with_rig(sheet(), pot_rig());
    book.mixed(328.0);
    book.pass(25.0);
    force(&mut book, EntryKind::Flush, json!({}));
    book.write(EntryKind::StartSpraying, on()).unwrap();
    assert!(book.record().hose(book.now).is_some());
    // What only went into a gun's cup went through no hose.
    let mut book = Book::with_rig(sheet(), pot_rig());
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::Fill, json!({ "charge": POT, "into": "gun_cup", "fill_ml": 400.0 })).unwrap();
    book.write(EntryKind::StartSpraying, on()).unwrap();
    assert!(book.record().hose(book.now).is_none());
}

/// A batch begun before the rules had a version gets holds by today's, and no deviation for what was not asked then.
#[test]
fn an_older_open_batch_is_held_by_todays_rules_and_marked_by_its_own() {
    let mut book = Book::begun_with(sheet(), json!({ "rules": 0 }));
    book.ready();
    open(&mut book, POT);
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["not-measured"]);
    force(&mut book, EntryKind::StartSpraying, on());
    book.write(EntryKind::Conditions, conditions(13.0, 65.0)).unwrap();
    force(&mut book, EntryKind::Pass, pass_on(&[]));
    assert_eq!(codes(&book), Vec::<String>::new());
    let today = book.entries[0].payload.clone();
    book.entries[0].payload = with(today, json!({ "rules": RULES }));
    assert_eq!(codes(&book), ["ratio-not-proved", "sprayed-on-hold"]);
}

/// What was signed stays signed: no rule of today adds a deviation or a hold to it, and what was answered stays answered.
#[test]
fn a_signed_batch_keeps_its_deviations_and_holds_nothing() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(5.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    let pass = book.record().passes[0].entry;
    for code in codes(&book) {
        book.write(EntryKind::Answer, json!({ "entry": pass, "code": code, "text": "a test card" })).unwrap();
    }
    close(&mut book);
    force(&mut book, EntryKind::Sign, json!({ "seen_seq": 1 }));
    let record = book.record();
    assert_eq!(record.deviations.len(), 2);
    assert!(record.deviations.iter().all(|d| d.answer.is_some()));
    assert!(holds(&book).is_empty(), "film was never read, and nobody asks any more");
    // Another rule that would not find them any more changes nothing: they are kept as they were answered.
    let about = record.answers[0].it.about.clone().unwrap();
    assert_eq!(record.deviations[0].text, about);
    book.entries[0].payload["sheet"]["induction_s"] = Value::Null;
    let kept = book.record();
    assert_eq!(kept.deviations.len(), 2);
    assert!(kept.deviations.iter().any(|d| d.code == "sprayed-inducting" && d.text.contains("during induction")));
}
