//! Jobs of several coats: how many the sheet allows, what carries on from coat to coat, what is asked again, and pieces counted.

use level_keel_core::batch::begin::{self, area_m2, check, zones};
use level_keel_core::batch::entries::{carried, take};
use level_keel_core::batch::gates::GateName;
use level_keel_core::batch::job::{CoatStands, JobMate, JobRow, coats_wanted, job_view, pieces_wanted, shown_of_jobs};
use level_keel_core::batch::{EntryKind, Record};
use level_keel_core::book::{Asking, Wanted};
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::sheets::Sheet;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;
use crate::mix::seen;

const JOB: Uuid = Uuid::from_u128(6);

fn items() -> Value {
    let item =
        |key: &str, group: &str, what: Value| json!({ "key": key, "group": group, "text": key, "what": what, "before": "spray" });
    json!([
        item("stirred", "material", json!({ "kind": "tick" })),
        item("settles", "material", json!({ "kind": "good_for", "window_s": 2400.0, "over": "stir it" })),
        item("earthed", "rig", json!({ "kind": "tick" })),
        item(
            "open",
            "surface",
            json!({ "kind": "good_for", "window_s": 14400.0, "until_coated": true, "over": "blast it again" })
        ),
        item("masked", "masking", json!({ "kind": "tick" })),
        item("approved", "mock_up", json!({ "kind": "approve" }))
    ])
}

fn coat(no: u32) -> Value {
    json!({ "job": { "job": JOB, "coat": no, "of": 2 }, "items": items(), "number": 11 + no })
}

/// The first coat, made ready and sprayed.
fn first() -> Book {
    first_of(sheet())
}

fn first_of(sheet: Value) -> Book {
    let mut book = Book::begun_with(sheet, coat(1));
    book.ready();
    for key in ["stirred", "settles", "earthed", "open", "masked"] {
        book.write(EntryKind::Tick, json!({ "item": key, "did": "done" })).unwrap();
    }
    let approved = json!({ "item": "approved", "did": "done", "text": "panel 4" });
    book.write_as(level_keel_core::people::Role::Lead, EntryKind::Tick, approved).unwrap();
    book.mixed(328.0);
    book.pass(22.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 800.0 })).unwrap();
    book
}

fn second(at: jiff::Timestamp) -> Book {
    let mut book = Book::begun_with(sheet(), coat(2));
    book.now = at;
    book
}

fn carry(from: &Record, to: &mut Book, touched: bool) -> Value {
    let said = carried((JOB, from), &to.record(), touched, to.now).unwrap();
    let payload = serde_json::to_value(said).unwrap();
    to.write(EntryKind::CarryOn, payload.clone()).unwrap();
    payload
}

fn open(book: &Book) -> Vec<String> {
    let lists = |h: &&level_keel_core::batch::gates::Hold| h.gate == GateName::Lists && h.released.is_none();
    seen(book).holds.iter().filter(lists).filter_map(|h| h.item.clone()).collect()
}

#[test]
fn the_sheet_says_how_many_coats_of_it() {
    let wanted = |count: f64, allows: Option<f64>| coats_wanted(Some(count), allows, Prefs::METRIC);
    assert_eq!(wanted(3.0, Some(3.0)).unwrap(), 3);
    assert_eq!(wanted(1.0, None).unwrap(), 1);
    for (count, allows) in [(3.0, Some(2.0)), (2.0, None), (1.5, Some(3.0)), (7.0, Some(6.0)), (0.0, Some(2.0))] {
        assert_eq!(wanted(count, allows).unwrap_err().field.as_deref(), Some("coat_count"), "{count} of {allows:?}");
    }
    let third = wanted(3.0, Some(2.0)).unwrap_err().text;
    assert!(third.contains("allows 2 coats"), "{third}");
    let stated = |n: f64| {
        let body = with(sheet(), json!({ "coats_most_count": n }));
        serde_json::from_value::<Sheet>(body).unwrap().validate(Prefs::METRIC)
    };
    assert!(stated(2.0).is_ok());
    for n in [0.0, 1.5, 7.0] {
        assert_eq!(stated(n).unwrap_err().field.as_deref(), Some("coats_most_count"));
    }
}

/// Three hours later on the same day: nothing is asked again but what has a clock of its own.
#[test]
fn lists_are_asked_once_in_a_job() {
    let mut first = first();
    first.pass(180.0);
    let mut second = second(first.now);
    assert_eq!(open(&second).len(), 6, "by itself the coat is asked everything: {:?}", open(&second));
    let payload = carry(&first.record(), &mut second, false);
    assert_eq!(payload["from_number"], 12);
    // What settles runs on by its own clock, and is over.
    assert_eq!(open(&second), ["settles"], "{payload}");
    let record = second.record();
    assert!(record.guards.len() == 1 && record.conditions.len() == 1, "guards and readings stand for the day");
    let said = seen(&second).log[0].text.clone();
    assert!(said.contains("Carried on from batch 0012: 5 items"), "{said}");
    refused(second.write(EntryKind::CarryOn, json!({})), "made-ready");
    // Done anew, it is judged by that again.
    second.write(EntryKind::Tick, json!({ "item": "earthed", "did": "failed" })).unwrap();
    assert!(open(&second).contains(&"earthed".to_string()));
}

#[test]
fn another_day_asks_material_and_rig_again_and_a_touched_surface_what_belongs_to_it() {
    let mut first = first();
    first.pass(60.0);
    let mut touched = second(first.now);
    let payload = carry(&first.record(), &mut touched, true);
    assert_eq!(payload["again"], json!(["open", "masked"]), "{payload}");
    assert_eq!(open(&touched), ["settles", "open", "masked"]);
    first.pass(24.0 * 60.0);
    let mut tomorrow = second(first.now);
    let payload = carry(&first.record(), &mut tomorrow, false);
    assert_eq!(payload["again"], json!(["stirred", "earthed"]), "{payload}");
    let record = tomorrow.record();
    assert!(record.guards.is_empty() && record.conditions.is_empty(), "guards and readings are of yesterday");
    assert!(open(&tomorrow).contains(&"earthed".to_string()) && !open(&tomorrow).contains(&"masked".to_string()));
}

#[test]
fn nothing_carries_on_from_a_coat_that_is_not_on_or_of_another_job() {
    let mut book = Book::begun_with(sheet(), coat(1));
    book.ready();
    let second = second(book.now);
    let not_on = carried((JOB, &book.record()), &second.record(), false, book.now).unwrap_err();
    assert_eq!(not_on.code, "not-on");
    let other = Book::begun_with(sheet(), with(coat(2), json!({ "job": { "job": Uuid::from_u128(99), "coat": 2, "of": 2 } })));
    assert_eq!(carried((JOB, &first().record()), &other.record(), false, book.now).unwrap_err().code, "other-sheet");
    refused(book.write(EntryKind::CarryOn, json!({})), "no-coat-before");
}

#[test]
fn a_coat_is_left_out_before_anything_of_it_is_mixed() {
    let mut first = first();
    refused(first.write(EntryKind::LeaveOut, json!({ "reason": "enough" })), "not-left-out");
    let mut alone = Book::begun(sheet());
    refused(alone.write(EntryKind::LeaveOut, json!({ "reason": "enough" })), "not-left-out");
    let mut mixed = second(first.now);
    mixed.ready();
    mixed.mixed(328.0);
    refused(mixed.write(EntryKind::LeaveOut, json!({ "reason": "enough" })), "not-left-out");
    let mut out = second(first.now);
    assert_eq!(out.write(EntryKind::LeaveOut, json!({ "reason": " " })).unwrap_err().field.as_deref(), Some("reason"));
    out.write(EntryKind::LeaveOut, json!({ "reason": "the film is there" })).unwrap();
    refused(out.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 900.0 })), "accepted");
    assert!(seen(&out).next.is_empty(), "it wants nothing any more");
}

#[test]
fn the_head_shows_the_coats_of_the_job() {
    let book = second(first().now);
    let mate = |coat: u32, stands, ended: bool| JobMate {
        batch: Uuid::from_u128(u128::from(coat)),
        number: 11 + i64::from(coat),
        coat,
        stands,
        ended: ended.then_some(book.now),
    };
    let record = book.record();
    let view = |job: Vec<JobMate>| {
        let beside = Beside { job, ..Beside::default() };
        job_view(&Case::new(&record, &beside)).unwrap()
    };
    let on = view(vec![mate(1, CoatStands::Signed, true), mate(2, CoatStands::Open, false)]);
    assert_eq!((on.word.as_str(), on.carry_from), ("coat 2 of 2", Some(12)));
    assert_eq!(on.coats.iter().map(|c| (c.word.as_str(), c.here)).collect::<Vec<_>>(), [("signed", false), ("to come", true)]);
    let waits = view(vec![mate(1, CoatStands::Open, false), mate(2, CoatStands::Open, false)]);
    assert_eq!(waits.carry_from, None, "there is nothing to carry on from yet");
}

#[test]
fn the_board_shows_one_row_of_a_job() {
    let row = |job: u128, coat: u32, is_on: bool| Some(JobRow { job: Uuid::from_u128(job), coat, of: 3, is_on });
    assert_eq!(shown_of_jobs(&[row(1, 2, false), None, row(1, 1, true), row(1, 3, false)]), [true, true, false, false]);
    assert_eq!(shown_of_jobs(&[row(1, 1, true), row(1, 2, true)]), [true, false], "all on: the first that is not accepted");
    assert_eq!(shown_of_jobs(&[row(1, 2, false), row(2, 1, false)]), [true, true]);
}

fn wanted(more: Value) -> begin::Wanted {
    let plain = json!({ "sheet": Uuid::from_u128(1), "part": "Shutters", "coat": "finish", "film_um": 100.0, "film_is": "wet", "transfer_pct": 60.0 });
    serde_json::from_value(with(plain, more)).unwrap()
}

/// Two dozen shutters of 0.6 m² a side, both sides: 28.8 m², by hand.
#[test]
fn pieces_make_the_area_and_a_zone_of_each_side() {
    let shutters = wanted(json!({ "piece_count": 24.0, "side_count": 2.0, "side_m2": 0.6 }));
    assert!((area_m2(&shutters, Prefs::METRIC).unwrap() - 28.8).abs() < 1e-9);
    assert_eq!(zones(&shutters).iter().map(|z| z.name().to_string()).collect::<Vec<_>>(), ["side 1", "side 2"]);
    let one = wanted(json!({ "piece_count": 24.0, "area_m2": 20.0 }));
    assert!(zones(&one).is_empty() && (area_m2(&one, Prefs::METRIC).unwrap() - 20.0).abs() < 1e-9);
    for (pieces, sides, field) in [
        (2.5, 1.0, "piece_count"),
        (0.0, 1.0, "piece_count"),
        (20_000.0, 1.0, "piece_count"),
        (4.0, 1.5, "side_count"),
        (4.0, 13.0, "side_count"),
    ] {
        assert_eq!(pieces_wanted(Some(pieces), Some(sides), Prefs::METRIC).unwrap_err().field.as_deref(), Some(field));
    }
    let sheet: Sheet = serde_json::from_value(with(sheet(), json!({ "coats_most_count": 2.0 }))).unwrap();
    let third = wanted(json!({ "coat_count": 3.0, "area_m2": 20.0 }));
    assert_eq!(check(&third, &sheet, Prefs::METRIC).unwrap_err().field.as_deref(), Some("coat_count"));
}

#[test]
fn pieces_are_counted_on_each_side_and_all_are_asked_before_the_signature() {
    let pieces = json!({ "pieces": { "piece_count": 3.0, "side_count": 2.0 }, "zones": [] });
    let mut book = Book::begun_with(sheet(), pieces);
    book.ready();
    book.mixed(328.0);
    let done = |side: u32, n: f64| json!({ "side": side, "done_count": n });
    refused(book.write(EntryKind::PiecesDone, done(1, 1.0)), "nothing-on");
    book.pass(22.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 1600.0 })).unwrap();
    for (payload, field) in
        [(done(3, 1.0), "side"), (done(0, 1.0), "side"), (done(1, 4.0), "done_count"), (done(1, 0.5), "done_count")]
    {
        assert_eq!(book.write(EntryKind::PiecesDone, payload).unwrap_err().field.as_deref(), Some(field));
    }
    let one = book.write(EntryKind::PiecesDone, done(1, 1.0)).unwrap();
    assert_eq!(seen(&book).spray.pieces[1].text, "0 of 3");
    book.write(EntryKind::PiecesDone, done(1, 2.0)).unwrap();
    book.write(EntryKind::PiecesDone, done(2, 2.0)).unwrap();
    let sides = seen(&book).spray.pieces.clone();
    assert_eq!(sides.iter().map(|s| s.text.as_str()).collect::<Vec<_>>(), ["3 of 3", "2 of 3"]);
    book.pass(2.0).film(4.0);
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    let held = |book: &Book| seen(book).holds.iter().find(|h| h.trouble == "not-all").map(|h| h.text.clone());
    assert!(held(&book).unwrap().contains("1 on side 2 of 3"), "{:?}", held(&book));
    book.write(EntryKind::PiecesDone, done(2, 1.0)).unwrap();
    assert_eq!(held(&book), None);
    // A count that was struck is to be done again.
    book.write(EntryKind::Strike, json!({ "entry": one, "reason": "counted twice" })).unwrap();
    assert!(held(&book).unwrap().contains("1 on side 1"), "{:?}", held(&book));
    let mut whole = Book::begun(sheet());
    whole.ready();
    refused(whole.write(EntryKind::PiecesDone, done(1, 1.0)), "no-pieces");
}

/// A pot that was mixed for the coat before was judged there: it is no deviation here, and the lists are still carried on.
#[test]
fn a_pot_handed_on_is_judged_where_it_was_mixed() {
    let first = first();
    let mut second = second(first.now);
    let target = second.record();
    let wanted = serde_json::from_value(json!({ "charge": POT, "to_batch": Uuid::from_u128(8) })).unwrap();
    let taken = take(&first.record(), &target, &wanted, JOB, Uuid::from_u128(71)).unwrap();
    let entry = serde_json::to_value(taken).unwrap();
    second
        .kept
        .write(
            Wanted { id: Uuid::from_u128(900), kind: EntryKind::TakeOver, payload: entry, happened: second.now },
            "Ansa",
            &Asking { writer: &writer(Role::Applicator), beside: &Beside::default(), now: second.now },
        )
        .unwrap();
    assert_eq!(second.record().deviations, []);
    carry(&first.record(), &mut second, false);
    assert_eq!(open(&second), [""; 0]);
}

/// What was put on yesterday is not on today, though somebody wrote a note this morning.
#[test]
fn guards_of_yesterday_are_put_on_again() {
    let mut first = first();
    first.pass(24.0 * 60.0).write(EntryKind::Note, json!({ "text": "looks dry" })).unwrap();
    let mut second = second(first.now);
    let payload = carry(&first.record(), &mut second, false);
    assert_eq!(payload["guards"], json!([]), "{payload}");
}

/// Past its latest a coat is abraded: that touches the surface, whether or not somebody says so.
#[test]
fn past_the_latest_recoat_the_surface_is_touched() {
    let again = |hours: f64| {
        let mut first = first_of(with(sheet(), json!({ "recoat_max_s": 36_000.0 })));
        first.pass(hours * 60.0);
        let target = Book::begun_with(with(sheet(), json!({ "recoat_max_s": 36_000.0 })), coat(2)).record();
        carried((JOB, &first.record()), &target, false, first.now).unwrap().again
    };
    assert!(!again(9.0).contains(&"masked".to_string()));
    assert!(again(11.0).contains(&"masked".to_string()), "{:?}", again(11.0));
}

#[test]
fn a_coat_left_out_is_opened_again_by_a_lead() {
    let mut out = second(first().now);
    out.write(EntryKind::LeaveOut, json!({ "reason": "the film is there" })).unwrap();
    out.write_as(Role::Lead, EntryKind::Reopen, json!({ "reason": "it is not" })).unwrap();
    out.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 900.0 })).unwrap();
}

#[test]
fn sides_without_pieces_are_refused_and_not_dropped() {
    for more in [json!({ "side_m2": 0.6 }), json!({ "side_count": 2.0 })] {
        let asked = wanted(with(more, json!({ "area_m2": 5.0 })));
        let sheet: Sheet = serde_json::from_value(sheet()).unwrap();
        assert_eq!(check(&asked, &sheet, Prefs::METRIC).unwrap_err().field.as_deref(), Some("piece_count"), "{asked:?}");
    }
}
