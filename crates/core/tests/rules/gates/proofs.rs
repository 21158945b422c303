//! A proof of the ratio at the gun, and when it does not stand any more.

use super::*;

#[test]
fn a_proof_at_the_gun_goes_stale_with_its_reason() {
    let proved = || {
        let mut book = at_gun(gel(json!({})));
        book.write(EntryKind::RatioCheck, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
        book
    };
    // Twelve hours, to the minute; another shop day in the zone of the shop (08:00 UTC is 09:00 in Lisbon in May).
    let mut book = proved();
    book.pass(12.0 * 60.0).ready();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    book.pass(1.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-time"]);
    let mut night = Book { kept: InMemory::new(Uuid::from_u128(6)), now: "2026-05-04T22:30:00Z".parse().unwrap() };
    let begin = Book::begun(gel(json!({}))).entries[0].payload.clone();
    night.write(EntryKind::Begin, begin).unwrap();
    night.ready();
    night.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    night.write(EntryKind::RatioCheck, catch(800.0, 16.0)).unwrap();
    night.pass(29.0);
    assert_eq!(troubles(&night, GateName::Ratio), Vec::<String>::new(), "22:59 UTC is one minute to midnight in Lisbon");
    night.pass(2.0);
    assert_eq!(troubles(&night, GateName::Ratio), ["stale-day"]);
    held(start(&mut night), "another day");
    // Another lot.
    let take = |code: &str, n: u128| json!({ "component": "hardener", "lot": { "id": Uuid::from_u128(n), "code": code } });
    let mut book = proved();
    book.pass(1.0).write(EntryKind::TakeLot, take("H-2", 62)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-lot"]);
    book.pass(1.0).write(EntryKind::RatioCheck, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    // Another can of thinner is no other ratio.
    let thinner = json!({ "component": "thinner", "lot": { "id": Uuid::from_u128(63), "code": "T-1" } });
    book.pass(1.0).write(EntryKind::TakeLot, thinner).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    // A pressure over a tenth off the one it was caught at, entered at Set; a tenth exactly is none.
    for (kpa, stale) in [(110.0, false), (111.0, true), (90.0, false), (89.0, true)] {
        let mut book = proved();
        book.pass(1.0).write(EntryKind::SetUp, json!({ "pot_kpa": kpa })).unwrap();
        assert_eq!(troubles(&book, GateName::Ratio) == ["stale-pressure"], stale, "{kpa}");
    }
    // Another rig, and by the rig's own book another tip.
    let rig = |n: u128| json!({ "rig": Uuid::from_u128(n), "fitted": pot_rig() });
    let mut book = proved();
    book.write(EntryKind::ChooseRig, rig(30)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new(), "the first one named is the one it was caught with");
    book.pass(1.0).write(EntryKind::ChooseRig, rig(31)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-rig"]);
    let book = proved();
    let (record, mut beside) = (book.record(), Beside::default());
    let at = book.now + SignedDuration::from_secs(60);
    beside.rig_exchanged = vec![Exchanged { at, what: "another tip is fitted".into() }];
    let all = gates::all(&Case::new(&record, &beside), at, Prefs::METRIC);
    assert!(all.iter().any(|h| h.trouble == "stale-exchange" && h.text.contains("another tip")));
    // A pot as weighed never goes stale.
    let mut book = ready(with(sheet(), json!({ "pot_life_s": 200_000.0 })));
    book.mixed(328.0);
    book.pass(13.0 * 60.0);
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
}

/// What nobody wrote cannot be compared, so it does not let a proof stand.
#[test]
fn a_proof_whose_pressure_or_day_nobody_knows_goes_stale() {
    // Caught before any pressure was said: the first one set after it may be another.
    let mut book = at_gun(gel(json!({})));
    book.write(EntryKind::RatioCheck, catch(800.0, 16.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    book.pass(1.0).write(EntryKind::SetUp, json!({ "pot_kpa": 100.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure-unknown"]);
    held(start(&mut book), "nobody wrote at what pressure it was caught");
    // Caught again it is known, by the pressure that was set before it.
    book.pass(1.0).write(EntryKind::RatioCheck, catch(800.0, 16.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    book.pass(1.0).write(EntryKind::SetUp, json!({ "pot_kpa": 111.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure"]);

    // A book that names no zone goes by the zone of the shop today.
    let mut book = Book { kept: InMemory::new(Uuid::from_u128(6)), now: "2026-05-04T22:20:00Z".parse().unwrap() };
    let begin = Book::begun(gel(json!({}))).entries[0].payload.clone();
    book.write(EntryKind::Begin, with(begin, json!({ "zone": null }))).unwrap();
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    book.write(EntryKind::RatioCheck, catch(800.0, 16.0)).unwrap();
    let after = |minutes: i64, zone: Option<&str>| {
        let (record, mut beside) = (book.record(), Beside::default());
        beside.zone = zone.map(str::to_owned);
        let now = book.now + SignedDuration::from_mins(minutes);
        let all = gates::all(&Case::new(&record, &beside), now, Prefs::METRIC);
        all.iter().filter(|h| h.gate == GateName::Ratio).map(|h| h.trouble.clone()).collect::<Vec<_>>()
    };
    assert_eq!(after(39, Some("Europe/Lisbon")), Vec::<String>::new());
    assert_eq!(after(40, Some("Europe/Lisbon")), ["stale-day"], "midnight in Lisbon is 23:00 UTC in May");
    // Without any zone it stands until the next quarter of an hour: every zone has its midnight on one.
    assert_eq!(after(9, None), Vec::<String>::new());
    assert_eq!(after(10, None), ["stale-day-unknown"]);
    assert_eq!(after(9, Some("Nowhere/None")), Vec::<String>::new());
    assert_eq!(after(10, Some("Nowhere/None")), ["stale-day-unknown"]);
}

/// On twin pots a proof is of both pressures: that of B moves the ratio as much as that of A.
#[test]
fn a_proof_goes_stale_by_the_pressure_of_b_too() {
    let twin =
        json!({ "rig": Uuid::from_u128(30), "fitted": with(pot_rig(), json!({ "kind": "twin_pots", "class": "twin_feed" })) });
    let proved = |at: Value| {
        let mut book = at_gun(gel(json!({})));
        book.write(EntryKind::ChooseRig, twin.clone()).unwrap();
        book.write(EntryKind::RatioCheck, with(catch(800.0, 16.0), at)).unwrap();
        book.pass(1.0);
        book
    };
    let both = json!({ "a_kpa": 100.0, "b_kpa": 50.0 });
    for (a, b, stale) in
        [(100.0, 55.0, false), (100.0, 55.6, true), (100.0, 45.0, false), (100.0, 44.4, true), (111.0, 50.0, true)]
    {
        let mut book = proved(both.clone());
        book.write(EntryKind::SetUp, json!({ "pot_kpa": a, "b_kpa": b })).unwrap();
        assert_eq!(troubles(&book, GateName::Ratio) == ["stale-pressure"], stale, "{a} {b}");
    }
    // A try that says nothing of B leaves it unknown, until one says it.
    let mut book = proved(both.clone());
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 100.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure-unknown"]);
    held(start(&mut book), "nobody wrote the pressure of B (a try that says it settles that). Catch both streams again.");
    book.pass(1.0).write(EntryKind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": 50.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    // A try written at the instant of the catch is what it was caught with.
    let mut book = at_gun(gel(json!({})));
    book.write(EntryKind::ChooseRig, twin.clone()).unwrap();
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 100.0 })).unwrap();
    book.write(EntryKind::RatioCheck, with(catch(800.0, 16.0), both.clone())).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    // Caught without a pressure of B said: at the one set before, else at none that is known.
    let mut book = proved(json!({ "a_kpa": 100.0 }));
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": 50.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure-unknown"]);
    book.pass(1.0).write(EntryKind::RatioCheck, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
    book.pass(1.0).write(EntryKind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": 60.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure"]);
    // B's pot has the plate of its rig.
    let refusal = book.write(EntryKind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": 600.0 })).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("over-rating", Some("b_kpa")));
    let refusal = book.write(EntryKind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": -1.0 })).unwrap_err();
    assert_eq!((refusal.why, refusal.field.as_deref()), (Why::BadInput, Some("b_kpa")));
}

/// What was caught for its flow was caught at a pressure that was set for it.
#[test]
fn a_flow_caught_at_another_pressure_makes_a_proof_stale() {
    for (kpa, stale) in [(110.0, false), (111.0, true)] {
        let mut book = at_gun(gel(json!({})));
        book.write(EntryKind::ChooseRig, json!({ "rig": Uuid::from_u128(30), "fitted": pot_rig() })).unwrap();
        book.write(EntryKind::RatioCheck, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
        book.pass(1.0);
        book.write(EntryKind::FlowCatch, json!({ "pot_kpa": kpa, "caught_ml": 200.0, "caught_watch_s": 60.0 })).unwrap();
        assert_eq!(troubles(&book, GateName::Ratio) == ["stale-pressure"], stale, "{kpa}");
    }
}

#[test]
fn a_stale_proof_that_was_sprayed_on_is_marked_and_a_release_is_of_one_proof() {
    let mut book = at_gun(gel(json!({ "film_proof": "not_asked" })));
    book.write(EntryKind::RatioCheck, catch(800.0, 16.0)).unwrap();
    start(&mut book).unwrap();
    book.pass(12.0 * 60.0 + 1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), ["ratio-not-proved"]);
    book.pass(1.0);
    release_pot(&mut book, "ratio").unwrap();
    book.pass(1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), ["ratio-not-proved"]);
    book.write(EntryKind::RatioCheck, catch(800.0, 16.0)).unwrap();
    book.pass(12.0 * 60.0 + 1.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-time"], "the release was of the first proof");
}

/// A tip that was fitted before the catch, or at its instant, was caught with.
#[test]
fn what_was_exchanged_before_the_catch_leaves_its_proof() {
    let mut book = at_gun(gel(json!({})));
    book.pass(10.0).write(EntryKind::RatioCheck, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
    let caught = book.now;
    let stale = |minutes: i64| {
        let (record, mut beside) = (book.record(), Beside::default());
        let at = caught + SignedDuration::from_mins(minutes);
        beside.rig_exchanged = vec![Exchanged { at, what: "another tip is fitted".into() }];
        let all = gates::all(&Case::new(&record, &beside), caught + SignedDuration::from_mins(20), Prefs::METRIC);
        all.iter().any(|h| h.trouble == "stale-exchange")
    };
    assert_eq!([-5, 0, 5, 25].map(stale), [false, false, true, false], "and what is yet to come is none");
}

/// What happened at the very instant of the catch was there when it was caught: a rig chosen, a pressure set. What was changed
/// after a pass does not reach back to it.
#[test]
fn what_stood_at_the_instant_of_the_catch_is_what_it_was_caught_with() {
    let rig = |n: u128| json!({ "rig": Uuid::from_u128(n), "fitted": pot_rig() });
    let caught = || {
        let mut book = at_gun(gel(json!({ "film_proof": "not_asked" })));
        book.write(EntryKind::ChooseRig, rig(30)).unwrap();
        book.write(EntryKind::SetUp, json!({ "pot_kpa": 100.0 })).unwrap();
        book.pass(1.0).write(EntryKind::RatioCheck, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
        book
    };
    let mut book = caught();
    book.write(EntryKind::ChooseRig, rig(31)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new(), "at the same instant");
    let mut book = caught();
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 150.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new(), "at the same instant");
    let mut book = caught();
    start(&mut book).unwrap();
    book.pass(1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(EntryKind::ChooseRig, rig(31)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-rig"]);
    assert_eq!(codes(&book), Vec::<String>::new(), "the pass was made before");
}
