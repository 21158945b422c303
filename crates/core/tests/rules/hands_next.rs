//! What stands at the top of the board: what is lost first.

use jiff::{SignedDuration, Timestamp};
use level_keel_core::batch::temperature_feed;
use level_keel_core::batch::view::{Next, Tone, Viewer, Waits, on_board, order, whole};
use level_keel_core::batch::{EntryKind, Record};
use level_keel_core::book::Ledger;
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::worded::Worded;
use serde_json::json;
use uuid::Uuid;

use crate::book::*;

fn next(book: &Book) -> Vec<Next> {
    let viewer = Viewer { writer: writer(Role::Lead), comb_um: vec![25.4], scale_g: 1.0 };
    whole(Uuid::nil(), &Case::alone(&book.record()), &viewer, book.now).expect("begun").head.next
}

fn line(waits: Waits, minutes: i64, tone: Tone) -> Next {
    let now: Timestamp = "2026-05-04T08:00:00Z".parse().unwrap();
    let at = now + SignedDuration::from_mins(minutes);
    let text = format!("{waits:?} {minutes} {tone:?}");
    Next { batch: Uuid::nil(), at, in_s: 0.0, text, why: String::new(), part: String::new(), tone, waits, station: 1 }
}

#[test]
fn loss_stands_before_mixed_paint_before_a_person_before_a_chore() {
    let now: Timestamp = "2026-05-04T08:00:00Z".parse().unwrap();
    let mut list = vec![
        line(Waits::Chore, -30, Tone::Calm),
        line(Waits::Person, 0, Tone::Urgent),
        line(Waits::Person, -5, Tone::Watch),
        line(Waits::Mixed, 10, Tone::Calm),
        line(Waits::Loss, 90, Tone::Quiet),
        line(Waits::Loss, 12, Tone::Urgent),
        line(Waits::Loss, 40, Tone::Watch),
    ];
    order(&mut list, now);
    let texts: Vec<_> = list.iter().map(|n| n.text.as_str()).collect();
    assert_eq!(
        texts,
        [
            "Loss 12 Urgent",
            "Loss 40 Watch",
            "Loss 90 Quiet",
            "Mixed 10 Calm",
            "Person 0 Urgent",
            "Person -5 Watch",
            "Chore -30 Calm"
        ]
    );
}

#[test]
fn the_pot_that_dies_is_before_what_holds_it_up() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.pass(70.0); // the readings are an hour old
    let list = next(&book);
    let waits: Vec<_> = list.iter().map(|n| (n.waits, n.text.as_str())).collect();
    assert_eq!(waits[0], (Waits::Loss, "Pot 1 must be empty"));
    assert_eq!(waits[1], (Waits::Mixed, "Read the conditions again"), "{waits:?}");
    assert!(list[0].part.starts_with("Buoy 5 · "));
}

#[test]
fn a_chore_holds_nobody_and_the_film_is_asked_before_the_signature() {
    let mut book = Book::begun(sheet());
    book.ready();
    assert!(next(&book).iter().any(|n| n.text == "Mix the first pot" && n.waits == Waits::Chore));
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 1600.0 })).unwrap();
    book.pass(2.0).write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    let first = next(&book).into_iter().find(|n| n.station >= 5).expect("something at the end");
    assert_eq!((first.text.as_str(), first.waits, first.station), ("Prove the film", Waits::Person, 5), "{}", first.why);
    book.film(4.0);
    assert!(next(&book).iter().any(|n| n.text == "Sign the work" && n.waits == Waits::Chore));
}

/// The station says the worst of its pots: a spent one, then one that wants hands, then the one that dies first.
#[test]
fn the_worst_pot_stands_under_its_station() {
    let mut book = Book::begun(sheet());
    book.ready();
    let mix = |book: &Book| {
        let viewer = Viewer { writer: writer(Role::Lead), comb_um: vec![25.4], scale_g: 1.0 };
        whole(Uuid::nil(), &Case::alone(&book.record()), &viewer, book.now).unwrap().stations[1].line.replace('\u{a0}', " ")
    };
    book.mixed(328.0);
    book.pass(60.0);
    let second = Uuid::from_u128(8);
    book.write(EntryKind::OpenCharge, json!({ "charge": second, "no": 2, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    assert_eq!(mix(&book), "pot 2 · filling");
    for (component, reading) in [("base", 1900.0), ("hardener", 2228.0)] {
        if component == "hardener" {
            book.write(EntryKind::Conditions, json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 20.0, "rh_pct": 55.0 }))
                .unwrap();
            book.write(EntryKind::Combine, json!({ "charge": second })).unwrap();
        }
        let pour = json!({ "charge": second, "component": component, "reading_g": reading, "resolution_g": 1.0, "lot": null });
        book.write(EntryKind::Pour, pour).unwrap();
    }
    assert_eq!(mix(&book), "pot 2 · stir it");
    book.write(EntryKind::Stirred, json!({ "charge": second })).unwrap();
    assert!(mix(&book).starts_with("pot 1 · "), "it dies first: {}", mix(&book));
    book.pass(200.0);
    assert_eq!(mix(&book), "pot 1 · spent");
}

/// A live pot's temperature goes into its book on a change of half a degree, or ten minutes after the last.
#[test]
fn a_probe_feeds_a_live_pot_by_half_degrees_or_ten_minutes() {
    let mut book = Book::begun(sheet());
    book.ready();
    let due = |record: &Record, at: Timestamp, temp_c: f64| temperature_feed::due(record, at, temp_c).len();
    assert_eq!(due(&book.record(), book.now, 30.0), 0, "no pot lives");
    book.mixed(328.0);
    book.write(EntryKind::PotTemperature, json!({ "charge": POT, "temp_c": 20.0, "probe": "bench" })).unwrap();
    let (record, at) = (book.record(), book.now + SignedDuration::from_mins(9));
    assert_eq!([20.0, 20.49, 19.51, 20.5, 19.5].map(|temp_c| due(&record, at, temp_c)), [0, 0, 0, 1, 1]);
    assert_eq!(due(&record, book.now + SignedDuration::from_mins(10), 20.0), 1, "ten minutes after the last");
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "discarded", "reason": "late" })).unwrap();
    assert_eq!(due(&book.record(), at, 30.0), 0, "a closed pot");
}

/// Who worked last is on a batch until somebody says otherwise; then who was said, whoever works.
#[test]
fn who_is_on_a_batch() {
    let mut book = Book::begun(sheet());
    let on = |book: &Book| {
        let record = book.record();
        record.on_it().map(|on| (on.person, on.name.to_string(), on.said))
    };
    let (hand, lead) = (writer(Role::Applicator).id, writer(Role::Lead).id);
    let (first, _, said) = on(&book).expect("who began it");
    assert!(!said);
    book.write_as(Role::Inspector, EntryKind::Note, json!({ "text": "damp" })).unwrap();
    assert_eq!(on(&book).unwrap().0, first, "a note is no work");
    book.ready();
    assert_eq!(on(&book).unwrap().0, hand);
    // Handed to the lead; what the applicator goes on to write changes nothing of it.
    let to = |person: Uuid, name: &str| json!({ "person": person, "name": name });
    book.write(EntryKind::InHand, to(lead, "lead")).unwrap();
    book.ready();
    assert_eq!(on(&book), Some((lead, "lead".into(), true)));
    let twice = book.write(EntryKind::InHand, to(lead, "lead")).unwrap_err();
    assert_eq!((twice.code.as_ref(), twice.text.as_str()), ("in-hand", "lead has it in hand already."));
    assert_eq!(book.write(EntryKind::InHand, to(hand, " ")).unwrap_err().field.as_deref(), Some("person"));
    // Who began it and never said so may say so; and it is handed on from one who said so.
    let mut other = Book::begun(sheet());
    other.write(EntryKind::InHand, to(hand, "hand")).unwrap();
    other.write(EntryKind::InHand, to(lead, "lead")).unwrap();
    assert_eq!(on(&other), Some((lead, "lead".into(), true)));
    // A lead who was only handed it has done no work of it, and the line says who has it.
    let record = book.record();
    assert!(!record.workers.contains(&lead));
    let line = record.log.iter().find(|l| l.kind == EntryKind::InHand).unwrap();
    assert_eq!(record.words(line.said.as_deref().unwrap(), Prefs::METRIC), "In the hands of lead");
    // A strike takes it back.
    let id = line.entry;
    book.write_as(Role::Lead, EntryKind::Strike, json!({ "entry": id, "reason": "not I" })).unwrap();
    assert_eq!(on(&book), Some((hand, writer_name(), false)));
    // Taken once nothing hangs on hands any more: the work is signed.
    book.mixed(328.0);
    book.sprayed();
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
    assert_eq!(book.write(EntryKind::InHand, to(lead, "lead")).unwrap_err().code, "signed");
}

fn writer_name() -> String {
    Role::Applicator.word().into()
}

/// The row of a batch says what is lost first there, for its reader.
#[test]
fn a_row_says_what_is_lost_first_and_whose_it_is() {
    let mut book = Book::begun(sheet());
    book.ready();
    let row = |book: &Book, role: Role| {
        let viewer = Viewer { writer: writer(role), comb_um: Vec::new(), scale_g: 1.0 };
        on_board(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("begun").row
    };
    let before = row(&book, Role::Applicator);
    assert_eq!((before.loses, before.mine), (None, true), "nothing is mixed, and who read the air is on it");
    assert!(!row(&book, Role::Lead).mine);
    book.mixed(328.0);
    book.pass(30.0);
    let mixed = row(&book, Role::Lead);
    let loses = mixed.loses.expect("a pot that ages");
    assert!(loses.in_s > 0.0 && loses.what.contains("Pot"), "{loses:?}");
    assert_eq!(mixed.on_it.as_deref(), Some(Role::Applicator.word()));
}
