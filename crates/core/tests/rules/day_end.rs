//! The end of a day: rigs under pressure, pots that are mixed, care that is due, what was thrown away.

use jiff::Timestamp;
use level_keel_core::batch::view::{Next, Tone, Waits};
use level_keel_core::care::{Done, RigState};
use level_keel_core::day_end::{DayEnd, RigTonight, WasteOf, day_end, wants};
use level_keel_core::quantity::Prefs;
use level_keel_core::rigs::Rig;
use uuid::Uuid;

fn at(hour: i8) -> Timestamp {
    format!("2026-05-04T{hour:02}:00:00Z").parse().unwrap()
}

fn rig() -> Rig {
    serde_json::from_value(crate::book::pot_rig()).unwrap()
}

/// A rig that a batch pressed at ten, with so many of its steps done after it.
fn tonight(done: usize, in_work: bool) -> RigTonight {
    let rig = rig();
    let all = level_keel_core::care::steps(&rig);
    let steps: Vec<Done> = (0..)
        .zip(all.iter().take(done))
        .map(|(n, s)| Done {
            id: s.id.into(),
            at: at(11).checked_add(jiff::Span::new().minutes(n)).unwrap(),
            by: "Ansa Reef".into(),
        })
        .collect();
    let state = RigState { rig: &rig, steps: &steps, cared: &[], pressed_at: Some(at(10)), live_kpa: None };
    RigTonight {
        id: Uuid::from_u128(1),
        name: "Buoy pot".into(),
        care: state.view(at(17), Prefs::METRIC),
        used_today: true,
        batch: Some(Uuid::from_u128(2)),
        in_work,
    }
}

fn of_the_rig(end: &DayEnd) -> (&str, bool, Tone) {
    let item = end.items.iter().find(|i| i.what.contains("hut")).expect("a line for the shut-down");
    (item.what.as_str(), item.done, item.tone)
}

fn end(rigs: &[RigTonight]) -> DayEnd {
    day_end(&[], &[], rigs, &[], at(17), Prefs::METRIC)
}

#[test]
fn a_rig_is_shut_down_when_every_step_is_done_and_its_gauge_read_zero() {
    let steps = tonight(0, false).care.steps.len();
    assert_eq!(of_the_rig(&end(&[tonight(0, false)])), ("Shut down", false, Tone::Urgent));
    // Under pressure until the gauge reads zero, which is the fourth step; after it some are left.
    assert_eq!(of_the_rig(&end(&[tonight(3, false)])), ("Shut down", false, Tone::Urgent));
    assert_eq!(of_the_rig(&end(&[tonight(5, false)])), ("Finish the shut-down", false, Tone::Watch));
    assert_eq!(of_the_rig(&end(&[tonight(steps, false)])), ("Shut down", true, Tone::Quiet));
    // One in work is not urged to be shut down; it stands on the list all the same.
    assert_eq!(of_the_rig(&end(&[tonight(0, true)])), ("Shut down", false, Tone::Watch));
    // Flushing presses it again: all but the last reading of zero is not done.
    assert!(!of_the_rig(&end(&[tonight(steps - 2, false)])).1);
}

#[test]
fn a_rig_whose_transmitter_reads_pressure_is_never_called_shut_down() {
    let rig = rig();
    let all = level_keel_core::care::steps(&rig);
    let steps: Vec<Done> = all.iter().map(|s| Done { id: s.id.into(), at: at(11), by: "Ansa Reef".into() }).collect();
    // Nobody's batch pressed it, by the books; its transmitter says otherwise.
    for pressed_at in [Some(at(10)), None] {
        let state = RigState { rig: &rig, steps: &steps, cared: &[], pressed_at, live_kpa: Some(70.0) };
        let care = state.view(at(17), Prefs::METRIC);
        let seen = RigTonight { care, used_today: false, ..tonight(0, false) };
        let list = end(std::slice::from_ref(&seen));
        assert_eq!(of_the_rig(&list), ("Shut down", false, Tone::Urgent), "{:?}", list.items);
        assert!(list.items[0].why.contains("transmitter"), "{}", list.items[0].why);
        assert_eq!(wants(&[seen], at(17)).len(), 1, "and hands next wants it");
    }
}

#[test]
fn a_gun_with_its_own_cup_has_no_gauge_to_read() {
    let gun: Rig =
        serde_json::from_value(crate::book::with(crate::book::pot_rig(), serde_json::json!({ "kind": "gun_cup" }))).unwrap();
    let all = level_keel_core::care::steps(&gun);
    let steps: Vec<Done> = all.iter().map(|s| Done { id: s.id.into(), at: at(11), by: "Ansa Reef".into() }).collect();
    let state = RigState { rig: &gun, steps: &steps, cared: &[], pressed_at: Some(at(10)), live_kpa: None };
    let seen = RigTonight { care: state.view(at(17), Prefs::METRIC), ..tonight(0, false) };
    let list = end(&[seen]);
    let item = list.items.iter().find(|i| i.what == "Shut down").expect("its shut-down");
    assert!(item.done && !item.why.contains("gauge"), "{item:?}");
}

#[test]
fn hands_next_wants_a_rig_shut_down_once_its_work_is_over() {
    let said = |rig: RigTonight| wants(&[rig], at(17)).into_iter().map(|n| (n.text, n.waits)).collect::<Vec<_>>();
    assert_eq!(said(tonight(0, false)), [("Shut down".to_string(), Waits::Chore)]);
    assert!(said(tonight(0, true)).is_empty(), "paint is in work for it");
    assert!(said(tonight(5, false)).is_empty(), "nothing presses");
}

#[test]
fn care_that_is_due_is_named_for_rigs_used_today_alone() {
    let list = end(&[tonight(0, false)]);
    let care = list.items.iter().find(|i| i.what == "Care for it").expect("a day's care is due");
    assert!(care.why.contains("more") && !care.done, "{care:?}");
    let resting = RigTonight { used_today: false, ..tonight(tonight(0, false).care.steps.len(), false) };
    assert!(end(&[resting]).items.is_empty(), "a rig that rests and is shut down wants nothing");
    let pressed = RigTonight { used_today: false, ..tonight(0, false) };
    assert_eq!(of_the_rig(&end(&[pressed])), ("Shut down", false, Tone::Urgent), "pressed yesterday is pressed");
}

#[test]
fn what_is_lost_stands_first_and_what_is_done_last() {
    let next = |text: &str, waits, hour| Next {
        batch: Uuid::from_u128(9),
        at: at(hour),
        in_s: 0.0,
        text: text.into(),
        why: String::new(),
        part: "Buoy 7".into(),
        tone: Tone::Quiet,
        waits,
        station: 5,
    };
    let all = [next("Pot 2 must be empty", Waits::Loss, 16), next("Sign the work", Waits::Chore, 17)];
    let list = day_end(&all, &[], &[tonight(tonight(0, false).care.steps.len(), false)], &[], at(17), Prefs::METRIC);
    let read: Vec<(&str, bool)> = list.items.iter().map(|i| (i.what.as_str(), i.done)).collect();
    assert_eq!(read, [("Pot 2 must be empty", false), ("Care for it", false), ("Shut down", true)]);
    assert_eq!(list.items[0].tone, Tone::Urgent, "its time is over");
    assert_eq!(list.left, 2, "a chore that can wait is not of the day's end");
}

#[test]
fn the_waste_of_a_day_is_added_up_and_a_price_that_is_missing_is_no_cost_of_nothing() {
    let of = |product: &str, cost_minor, weighed| WasteOf {
        product: product.into(),
        times: 2,
        weighed,
        waste_ml: 640.0,
        waste_g: (weighed > 0).then_some(420.0),
        cost_minor,
    };
    let both = day_end(&[], &[], &[], &[of("Finish", Some(1250.0), 2), of("Primer", Some(333.0), 1)], at(17), Prefs::METRIC);
    assert_eq!(both.cost.as_deref(), Some("15.83"));
    assert_eq!(both.waste[0].line, "2 pots, weighed");
    assert_eq!((both.waste[1].line.as_str(), both.waste[1].cost.as_deref()), ("2 pots, 1 of them weighed", Some("3.33")));
    let unpriced = day_end(&[], &[], &[], &[of("Finish", Some(1250.0), 2), of("Gel coat", None, 0)], at(17), Prefs::METRIC);
    assert_eq!((unpriced.cost, unpriced.waste[1].cost.clone(), unpriced.waste[1].mass.clone()), (None, None, None));
    assert_eq!(unpriced.waste[1].line, "2 pots, not weighed");
    assert_eq!(end(&[]).cost, None, "of nothing no cost is said");
}
