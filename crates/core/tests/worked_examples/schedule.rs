//! Recoat: the safe side of the halving rule, common practice in the trade.

use super::sheet::example;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::recoat::{SurfaceRange, WindowState, clock, recoat};

#[test]
fn colder_lengthens_the_earliest_and_hotter_shortens_the_latest_never_the_reverse() {
    let sheet = example(); // 6 h to 7 d at 20 °C
    let end = Timestamp::UNIX_EPOCH;
    let hours = |t: Option<Timestamp>| t.unwrap().duration_since(end).as_secs_f64() / 3600.0;
    let at = |c: f64| recoat(&sheet, end, SurfaceRange::of([c]));
    assert_eq!(hours(at(20.0).earliest), 6.0);
    assert_eq!(hours(at(10.0).earliest), 12.0);
    assert_eq!(hours(at(30.0).earliest), 6.0);
    assert_eq!(hours(at(30.0).latest), 84.0);
    assert_eq!(hours(at(10.0).latest), 168.0);
    // Of several readings the coldest sets the earliest and the hottest the latest.
    let both = recoat(&sheet, end, SurfaceRange::of([10.0, 30.0]));
    assert_eq!((hours(both.earliest), hours(both.latest)), (12.0, 84.0));
    // Longer is the safe side of an earliest, so very cold is not capped at twice: 6 h × 2³ at −10 °C.
    assert_eq!(hours(at(-10.0).earliest), 48.0);
    assert_eq!(recoat(&sheet, end, SurfaceRange::of([])).earliest, Some(end + SignedDuration::from_hours(6)));
}

#[test]
fn the_clock_waits_opens_and_is_past() {
    let sheet = example();
    let end = Timestamp::UNIX_EPOCH;
    let window = recoat(&sheet, end, SurfaceRange::of([20.0]));
    let at = |h: i64| clock(Some(window), Some(end), None, end + SignedDuration::from_hours(h));
    assert_eq!((at(2).state, at(2).changes_s), (WindowState::Wait, Some(4.0 * 3600.0)));
    assert_eq!((at(8).state, at(8).changes_s), (WindowState::Open, Some(160.0 * 3600.0)));
    assert_eq!((at(169).state, at(169).word.as_str()), (WindowState::Past, "abrade first"));
    assert_eq!(clock(None, None, None, end).state, WindowState::NotSprayed);
    // On the line from the last pass to the latest: 84 h of 168 h is the middle, 6 h is one twenty-eighth.
    assert_eq!(at(84).at, Some(0.5));
    assert!((at(84).earliest_at.unwrap() - 1.0 / 28.0).abs() < 1e-9);
}
