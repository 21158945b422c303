//! The coat beneath: too early, too late, and by which temperatures.

use super::*;
use level_keel_core::batch::beside::surface_since;
use level_keel_core::batch::beside::window_beneath;

/// Six hours at 20 °C are twelve at 10 °C: read at the part after the coat beneath was signed, the cold counts.
#[test]
fn recoat_is_judged_by_what_was_read_since() {
    let mut book = ready(sheet());
    let ended = book.now - SignedDuration::from_hours(7);
    let warm = Some(SurfaceRange { coldest_c: 20.0, hottest_c: 20.0 });
    assert!(over_a_coat(&book, Some(ended), warm).is_empty());
    book.write(EntryKind::Conditions, json!({ "air_c": 11.0, "surface_c": 10.0, "material_c": 20.0, "rh_pct": 40.0 })).unwrap();
    assert_eq!(over_a_coat(&book, Some(ended), warm), [("too-early".to_string(), false)]);
    // Hot since, the latest comes sooner: a day at 20 °C is half a day at 30 °C.
    let mut book = ready(sheet());
    let ended = book.now - SignedDuration::from_hours(13);
    assert!(over_a_coat(&book, Some(ended), warm).is_empty());
    book.write(EntryKind::Conditions, json!({ "air_c": 31.0, "surface_c": 30.0, "material_c": 25.0, "rh_pct": 40.0 })).unwrap();
    assert_eq!(over_a_coat(&book, Some(ended), warm), [("past-latest".to_string(), false)]);
}

/// Recoat is judged until spraying begins, and not after its first pass.
#[test]
fn recoat_is_judged_only_until_spraying_begins() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    let ended = book.now - SignedDuration::from_hours(5);
    let at_20 = Some(SurfaceRange { coldest_c: 20.0, hottest_c: 20.0 });
    assert_eq!(over_a_coat(&book, Some(ended), at_20), [("too-early".to_string(), false)]);
    book.write(EntryKind::Pass, pass_on(&[])).unwrap();
    assert!(over_a_coat(&book, Some(ended), at_20).is_empty());
}

/// With no reading of the surface the shortest stated latest and the longest stated earliest stand in.
#[test]
fn recoat_without_a_reading_takes_the_safe_side() {
    let two = json!({ "recoat_min_s": 21_600.0, "recoat_max_s": 172_800.0, "recoat_at_c": 20.0,
        "times": [{ "at_c": 30.0, "recoat_min_s": 10_800.0, "recoat_max_s": 86_400.0 }] });
    let sheet: Sheet = serde_json::from_value(with(sheet(), two)).unwrap();
    let ended: jiff::Timestamp = "2026-05-04T08:00:00Z".parse().unwrap();
    let window = level_keel_core::recoat::recoat(&sheet, ended, None);
    assert_eq!(window.earliest.unwrap().duration_since(ended).as_secs(), 21_600);
    assert_eq!(window.latest.unwrap().duration_since(ended).as_secs(), 86_400);
}

/// Where the sheet of the coat beneath states no earliest, nobody knows when it may be coated: a lead says so, for this coat.
#[test]
fn a_coat_beneath_without_an_earliest_holds() {
    let mut book = ready(sheet());
    let beneath = |times: RecoatTimes, hours: i64, book: &Book| {
        let link = CoatLink { batch: Uuid::from_u128(80), number: 11, coat: "primer".into(), product: "Example".into() };
        let ended = Some(book.now - SignedDuration::from_hours(hours));
        let (record, mut beside) = (book.record(), Beside::default());
        beside.beneath = Some(CoatBeneath { link, ended, times, surface: None, prepare: None });
        let all = gates::all(&Case::new(&record, &beside), book.now, Prefs::METRIC);
        all.into_iter().filter(|h| h.gate == GateName::Recoat).map(|h| (h.trouble, h.released.is_some())).collect::<Vec<_>>()
    };
    let of = |changes: Value| {
        let sheet: Sheet = serde_json::from_value(with(sheet(), changes)).unwrap();
        RecoatTimes::of_sheet(&sheet)
    };
    let silent = || of(json!({ "recoat_min_s": null, "recoat_max_s": null }));
    let latest_alone = || of(json!({ "recoat_min_s": null, "recoat_max_s": 86_400.0 }));
    assert_eq!(beneath(silent(), 48, &book), [("not-stated".to_string(), false)]);
    assert_eq!(beneath(latest_alone(), 1, &book), [("not-stated".to_string(), false)]);
    assert_eq!(beneath(latest_alone(), 48, &book), [("past-latest".to_string(), false)], "what is known to be late is late");
    assert!(beneath(of(json!({})), 48, &book).is_empty(), "an earliest alone is a window that does not close");
    // A release is of this trouble, and not of coming too early once the times are known.
    let release = json!({ "gate": "recoat", "trouble": "not-stated", "reason": "a day by the maker", "seen_seq": book.record().log.head_seq });
    force(&mut book, EntryKind::Release, release);
    assert_eq!(beneath(silent(), 48, &book), [("not-stated".to_string(), true)]);
    assert_eq!(beneath(of(json!({})), 1, &book), [("too-early".to_string(), false)]);
}

/// A reading of the very instant the coat beneath ended is of that coat's own work; one later is of its drying.
#[test]
fn the_window_goes_by_what_was_read_after_the_coat_beneath() {
    let mut book = Book::begun(sheet());
    book.write(EntryKind::Conditions, conditions(10.0, 55.0)).unwrap();
    let times = RecoatTimes::of_sheet(&serde_json::from_value(with(sheet(), json!({}))).unwrap());
    let earliest_s = |ended: jiff::Timestamp, book: &Book| {
        let link = CoatLink { batch: Uuid::from_u128(80), number: 11, coat: "primer".into(), product: "Example".into() };
        let (record, times) = (book.record(), times.clone());
        let beneath = CoatBeneath { link, ended: Some(ended), times, surface: None, prepare: None };
        let beside = Beside { beneath: Some(beneath), ..Beside::default() };
        let window = window_beneath(&Case::new(&record, &beside)).unwrap();
        window.earliest.unwrap().duration_since(ended).as_secs_f64()
    };
    let read = book.now;
    let unread = earliest_s(read, &book);
    // Without a reading the wait is the longest stated: six hours at 20 °C; at 10 °C they are twelve.
    assert!((unread - 21_600.0).abs() < 1.0, "{unread}");
    assert!((earliest_s(read - SignedDuration::from_secs(1), &book) - 43_200.0).abs() < 1.0);
}

/// The clock of the coat beneath counts to its earliest, then to its latest.
#[test]
fn the_clock_of_the_coat_beneath() {
    let book = Book::begun(sheet());
    let both = with(sheet(), json!({ "recoat_max_s": 86_400.0 }));
    let times = RecoatTimes::of_sheet(&serde_json::from_value(both).unwrap());
    let clock = |hours: i64| {
        let link = CoatLink { batch: Uuid::from_u128(80), number: 11, coat: "primer".into(), product: "Example".into() };
        let ended = Some(book.now - SignedDuration::from_hours(hours));
        let beneath = CoatBeneath { link, ended, times: times.clone(), surface: None, prepare: None };
        let (record, beside) = (book.record(), Beside { beneath: Some(beneath), ..Beside::default() });
        let clock = gates::recoat_clock(&Case::new(&record, &beside), book.now).expect("a coat beneath");
        (clock.word, clock.changes_s)
    };
    assert_eq!(clock(2), ("wait".into(), Some(4.0 * 3600.0)));
    assert_eq!(clock(7), ("open".into(), Some(17.0 * 3600.0)));
    assert_eq!(clock(25), ("abrade first".into(), None));
    assert!(gates::recoat_clock(&Case::alone(&book.record()), book.now).is_none());
}

/// A coat dries at the surface it stands on: what was read when it went on, and all that was read since.
#[test]
fn a_coat_dries_at_every_surface_read_since() {
    let mut book = ready(sheet());
    let since = |book: &Book| surface_since(&book.record()).map(|s| (s.coldest_c, s.hottest_c));
    assert_eq!(since(&book), None, "nothing is sprayed yet");
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, pass_on(&[])).unwrap();
    let (coldest_c, hottest_c) = since(&book).expect("it was read before");
    assert_eq!(coldest_c, hottest_c);
    book.pass(60.0).write(EntryKind::Conditions, conditions(coldest_c - 6.0, 40.0)).unwrap();
    assert_eq!(since(&book), Some((coldest_c - 6.0, coldest_c)));
    book.pass(60.0).write(EntryKind::Conditions, conditions(coldest_c + 4.0, 40.0)).unwrap();
    assert_eq!(since(&book), Some((coldest_c - 6.0, coldest_c + 4.0)));
}
