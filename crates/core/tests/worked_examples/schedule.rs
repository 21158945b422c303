//! Recoat: the safe side of the halving rule, common practice in the trade.

use super::sheet::example;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::schedule::recoat;

#[test]
fn colder_lengthens_the_earliest_and_hotter_shortens_the_latest_never_the_reverse() {
    let sheet = example(); // 6 h to 7 d at 20 °C
    let end = Timestamp::UNIX_EPOCH;
    let hours = |t: Option<Timestamp>| t.unwrap().duration_since(end).as_secs_f64() / 3600.0;
    let at = |c: f64| recoat(&sheet, end, Some(c));
    assert_eq!(hours(at(20.0).earliest), 6.0);
    assert_eq!(hours(at(10.0).earliest), 12.0);
    assert_eq!(hours(at(30.0).earliest), 6.0);
    assert_eq!(hours(at(30.0).latest), 84.0);
    assert_eq!(hours(at(10.0).latest), 168.0);
    assert_eq!(recoat(&sheet, end, None).earliest, Some(end + SignedDuration::from_hours(6)));
}
