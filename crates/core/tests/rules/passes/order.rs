//! Which zone is next, on which step and way; what was too early, too late, skipped or one too many.

use super::*;
use level_keel_core::batch::view::PassRow;
use level_keel_core::sheets::PassWay;

fn steps() -> Value {
    json!({ "film_proof": "not_asked", "steps": [
        { "name": "tack", "passes_count": 1.0, "wait_s": 600.0, "way": "along" },
        { "name": "wet", "passes_count": 2.0, "between_s": 300.0, "between_latest_s": 1200.0, "look": "gloss_gone", "way": "along", "crossed": true }
    ] })
}

fn named(book: &Book) -> Vec<String> {
    let rows: Vec<PassRow> = spray(book).passes;
    rows.last().map(|row| row.named.clone()).unwrap_or_default()
}

/// Zone after zone, pass after pass; a pass over one zone does not start the clock of another.
#[test]
fn zones_are_worked_in_turn() {
    let mut book =
        spraying(json!({ "film_proof": "not_asked", "steps": [{ "name": "mist", "passes_count": 2.0, "between_s": 60.0 }] }));
    assert_eq!(next(&book).as_deref(), Some("Tower, pass 1 of 2"));
    stamp(&mut book, TOWER);
    let began = book.now;
    assert_eq!(next(&book).as_deref(), Some("Hull, pass 1 of 2"));
    book.pass(0.5);
    stamp(&mut book, HULL);
    let waits = |book: &Book, i: usize| board(book).zones[i].wait.as_ref().and_then(|w| w.earliest);
    assert_eq!(waits(&book, 0).unwrap().duration_since(began).as_secs(), 60);
    assert_eq!(waits(&book, 1).unwrap().duration_since(began).as_secs(), 90);
    assert_eq!(waits(&book, 2), None, "nothing is on the skirt yet");
    book.pass(0.5);
    stamp(&mut book, SKIRT);
    assert_eq!(next(&book).as_deref(), Some("Tower, pass 2 of 2"), "the one that is ready");
    book.pass(2.0);
    for zone in [TOWER, HULL, SKIRT] {
        stamp(&mut book, zone);
        assert!(named(&book).is_empty());
    }
    assert_eq!(next(&book), None, "all passes are on");
    // One more is a fact, and named.
    book.pass(2.0);
    stamp(&mut book, HULL);
    assert_eq!(named(&book), ["one more than planned"]);
    assert_eq!(board(&book).zones[1].line, "pass 3 of 2");
}

/// By time and by look, whichever the sheet asks: named and never held.
#[test]
fn too_early_too_late_and_not_looked_at_are_named() {
    let mut book = spraying(steps());
    stamp(&mut book, HULL);
    // Ten minutes after the tack, and not a second less.
    book.pass(9.5);
    stamp(&mut book, HULL);
    assert_eq!(named(&book), ["30\u{a0}s early on the one before"]);
    assert_eq!(board(&book).zones[1].line, "pass 2 of 3", "it is on all the same");
    let wait = board(&book).zones[1].wait.clone().expect("a wait");
    assert_eq!((wait.look_word.as_deref(), wait.looked), (Some("gloss gone"), false));
    let hull = json!([Uuid::from_u128(HULL)]);
    book.pass(1.0).write(EntryKind::PassLook, json!({ "zones": hull, "look": "dry_to_touch" })).unwrap();
    assert!(!board(&book).zones[1].wait.as_ref().unwrap().looked, "another look than the sheet's");
    book.write(EntryKind::PassLook, json!({ "zones": [Uuid::from_u128(TOWER)], "look": "gloss_gone" })).unwrap();
    assert!(!board(&book).zones[1].wait.as_ref().unwrap().looked, "of another zone");
    let said = book.write(EntryKind::PassLook, json!({ "zones": hull, "look": "gloss_gone" })).unwrap();
    assert!(board(&book).zones[1].wait.as_ref().unwrap().looked);
    book.write(EntryKind::Strike, json!({ "entry": said, "reason": "it still shines" })).unwrap();
    assert!(!board(&book).zones[1].wait.as_ref().unwrap().looked, "a strike takes it back");
    // On the last second of the window it is in time; a second later the edge was lost.
    book.pass(19.0);
    let on_time = stamp(&mut book, HULL);
    assert_eq!(named(&book), ["nobody said “gloss gone”"]);
    book.write(EntryKind::Strike, json!({ "entry": on_time, "reason": "another zone" })).unwrap();
    book.pass(1.0 / 60.0);
    stamp(&mut book, HULL);
    assert_eq!(named(&book), ["1\u{a0}s late, the edge was lost", "nobody said “gloss gone”"]);
}

/// What nobody looked at is not ready: a zone that is said to be comes before it.
#[test]
fn what_nobody_looked_at_waits() {
    let mut book =
        spraying(json!({ "film_proof": "not_asked", "steps": [{ "name": "coat", "passes_count": 2.0, "look": "gloss_gone" }] }));
    for zone in [TOWER, HULL, SKIRT] {
        stamp(&mut book, zone);
    }
    assert_eq!(next(&book).as_deref(), Some("Tower, pass 2 of 2"));
    book.write(EntryKind::PassLook, json!({ "zones": [Uuid::from_u128(HULL)], "look": "gloss_gone" })).unwrap();
    assert_eq!(next(&book).as_deref(), Some("Hull, pass 2 of 2"));
}

/// A step that is begun before the one before it is all on.
#[test]
fn a_skipped_step_is_named() {
    let mut book = spraying(steps());
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(HULL)], "step": "wet" })).unwrap();
    assert_eq!(named(&book), ["tack was skipped"]);
    assert_eq!(next(&book).as_deref(), Some("Tower, pass 1 of 3"), "the other zones begin with it");
    book.pass(11.0);
    stamp(&mut book, TOWER);
    assert!(named(&book).is_empty());
}

/// Core fills in the step and the way that are planned; every second pass crosses, with the cap turned a quarter.
#[test]
fn a_bare_stamp_is_of_the_step_and_way_that_are_planned() {
    let mut book = spraying(steps());
    let last = |book: &Book| {
        let record = book.record();
        let pass = record.passes.last().unwrap().it.clone();
        (pass.step.unwrap_or_default(), pass.way)
    };
    stamp(&mut book, HULL);
    assert_eq!(last(&book), ("tack".into(), Some(PassWay::Along)));
    book.pass(10.0);
    stamp(&mut book, HULL);
    assert_eq!(last(&book), ("wet".into(), Some(PassWay::Along)));
    for zone in [TOWER, SKIRT] {
        stamp(&mut book, zone);
        book.pass(10.0);
        stamp(&mut book, zone);
    }
    let seen = board(&book).next.expect("a pass more");
    assert_eq!((seen.title.as_str(), seen.way, seen.turned), ("Hull, pass 3 of 3", Some(PassWay::Across), true));
    assert!(seen.hint.starts_with("turn the cap a quarter · half the fan over the last lap"), "{}", seen.hint);
    stamp(&mut book, HULL);
    assert_eq!(last(&book), ("wet".into(), Some(PassWay::Across)));
    // What is said stays said.
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(TOWER)], "way": "circles" })).unwrap();
    assert_eq!(last(&book), ("wet".into(), Some(PassWay::Circles)));
}

/// Corners, edges and insides come first whatever order they were written in; an edge about to be lost comes before all.
#[test]
fn the_order_of_the_trade_and_of_loss() {
    let zone = |id: u128, name: &str, place: u32| json!({ "id": Uuid::from_u128(id), "name": name, "area_m2": 4.0, "area_assumed": false, "place": place });
    let zones = [zone(TOWER, "face", 1), zone(HULL, "inside", 2), zone(SKIRT, "Corners", 3)];
    let steps =
        json!({ "film_proof": "not_asked", "steps": [{ "name": "coat", "passes_count": 2.0, "between_latest_s": 400.0 }] });
    let mut book = Book::begun_with(with(sheet(), steps), json!({ "zones": zones, "area_m2": 12.0 }));
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    assert_eq!(next(&book).as_deref(), Some("Corners, pass 1 of 2"));
    assert!(board(&book).next.unwrap().hint.starts_with("each corner in one pass, then away from it"));
    stamp(&mut book, SKIRT);
    book.pass(4.9);
    assert_eq!(next(&book).as_deref(), Some("Inside, pass 1 of 2"), "106 s to go are more than a quarter of 400");
    book.pass(0.2);
    assert_eq!(next(&book).as_deref(), Some("Corners, pass 2 of 2"), "94 s to go are less");
    stamp(&mut book, SKIRT);
    assert_eq!(next(&book).as_deref(), Some("Inside, pass 1 of 2"));
}

/// Two taps are one pass; what says its paint is no second tap; another zone is another pass.
#[test]
fn two_stamps_at_once_are_one() {
    let mut book = spraying(json!({ "film_proof": "not_asked" }));
    stamp(&mut book, HULL);
    book.pass(0.2 / 60.0);
    refused(book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(HULL)] })), "stamped-just-now");
    stamp(&mut book, TOWER);
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(HULL)], "used_ml": 50.0 })).unwrap();
    book.pass(0.31 / 60.0);
    stamp(&mut book, HULL);
    assert_eq!(board(&book).zones.iter().map(|z| z.done).collect::<Vec<_>>(), [1, 3, 0]);
    let elsewhere = json!({ "charge": POT, "zones": [Uuid::from_u128(77)] });
    assert_eq!(refused(book.write(EntryKind::Pass, elsewhere), "unknown-zone").field.as_deref(), Some("zones"));
}

/// A pass before its pot was opened is no fact.
#[test]
fn a_pass_is_not_older_than_its_pot() {
    let mut book = spraying(json!({ "film_proof": "not_asked" }));
    book.pass(-30.5);
    refused(book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(HULL)] })), "before-its-pot");
    book.pass(0.5);
    stamp(&mut book, HULL);
}

/// Sixty zones all work: each is drawn in its place, and the next is the one without a pass.
#[test]
fn sixty_zones_work() {
    let zones: Vec<Value> = (0..60)
        .map(|i| json!({ "id": Uuid::from_u128(1000 + i), "name": format!("door {i}"), "area_m2": 0.5, "area_assumed": false, "place": i + 1 }))
        .collect();
    let mut book =
        Book::begun_with(with(sheet(), json!({ "film_proof": "not_asked" })), json!({ "zones": zones, "area_m2": 30.0 }));
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    for i in 0..60 {
        assert_eq!(next(&book), Some(format!("Door {i}, pass 1")));
        stamp(&mut book, 1000 + i);
    }
    let seen = board(&book);
    assert_eq!(seen.zones.iter().map(|z| z.done).sum::<usize>(), 60);
    for (i, a) in seen.drawing.iter().enumerate() {
        assert!(a.x >= 0.0 && a.y >= 0.0 && a.x + a.wide <= 1.0 && a.y + a.high <= 1.0, "{a:?}");
        let apart = |b: &level_keel_core::batch::passes::ZoneDrawn| {
            a.x + a.wide <= b.x || b.x + b.wide <= a.x || a.y + a.high <= b.y || b.y + b.high <= a.y
        };
        assert!(seen.drawing[..i].iter().all(apart), "{a:?} lies over another");
    }
}
