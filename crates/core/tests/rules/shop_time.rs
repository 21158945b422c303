//! Time never makes paint younger: steps of the wall clock, suspended hosts, restarts, wrong clocks, nights of daylight saving.

use jiff::Timestamp;
use jiff::tz::TimeZone;
use level_keel_core::shop_time::{Hands, Mark, STEP_S, ShopTime};

/// A host whose two clocks a test moves.
struct Host {
    wall: Timestamp,
    boot_s: f64,
}

impl Host {
    fn at(wall: &str) -> Host {
        Host { wall: wall.parse().unwrap(), boot_s: 3600.0 }
    }

    /// Time goes by: running or suspended, both clocks count it.
    fn run(&mut self, s: f64) {
        self.step(s);
        self.boot_s += s;
    }

    /// Somebody sets the wall clock.
    fn step(&mut self, s: f64) {
        self.wall = self.wall.checked_add(jiff::SignedDuration::from_secs_f64(s)).unwrap();
    }

    fn hands(&self) -> Hands {
        Hands { wall: self.wall, boot_s: self.boot_s }
    }
}

fn age(time: &mut ShopTime, host: &Host, born: Timestamp) -> f64 {
    time.look(host.hands()).now.duration_since(born).as_secs_f64()
}

fn begun(host: &Host) -> ShopTime {
    ShopTime::begun(host.wall, host.hands(), 1.0)
}

#[test]
fn set_forward_by_two_hours_paint_is_older() {
    let mut host = Host::at("2026-11-16T10:00:00Z");
    let mut time = begun(&host);
    let born = time.look(host.hands()).now;
    host.run(600.0);
    host.step(7200.0);
    let look = time.look(host.hands());
    assert_eq!(look.step.map(|s| (s.by_s, s.over_a_start)), Some((7200.0, false)));
    assert!(look.step.unwrap().said().contains("set forward by 2 h 0 min"));
    assert_eq!(age(&mut time, &host, born), 7800.0, "the wall clock shows it older");
    assert_eq!(time.look(host.hands()).step, None, "told once");
}

#[test]
fn set_back_by_two_hours_paint_ages_on_by_the_time_that_went_by() {
    let mut host = Host::at("2026-11-16T10:00:00Z");
    let mut time = begun(&host);
    let born = time.look(host.hands()).now;
    host.run(600.0);
    host.step(-7200.0);
    let look = time.look(host.hands());
    assert_eq!(look.step.map(|s| s.by_s), Some(-7200.0));
    assert!(look.step.unwrap().said().contains("set back by 2 h 0 min"));
    host.run(60.0);
    assert_eq!(age(&mut time, &host, born), 660.0);
    // A pot mixed now ages as time goes by, and no faster.
    let later = time.look(host.hands()).now;
    host.run(30.0);
    assert_eq!(age(&mut time, &host, later), 30.0);
    assert_eq!(time.ahead_s(), 7200.0);
    // It is held there as long as the wall clock is behind, a night and more; and follows it once that has caught up.
    host.run(40.0 * 3600.0);
    assert_eq!(age(&mut time, &host, later), 40.0 * 3600.0 + 30.0);
    assert_eq!(time.ahead_s(), 7200.0);
    host.step(7260.0);
    assert_eq!(time.look(host.hands()).now, host.wall);
    assert_eq!(time.ahead_s(), 0.0);
}

#[test]
fn a_suspended_host_ages_paint_and_steps_nothing() {
    let mut host = Host::at("2026-11-16T10:00:00Z");
    let mut time = begun(&host);
    let born = time.look(host.hands()).now;
    host.run(5400.0);
    let look = time.look(host.hands());
    assert_eq!(look.step, None);
    assert_eq!(look.now.duration_since(born).as_secs_f64(), 5400.0);
    // Even where the wall clock slept with the host.
    host.boot_s += 1800.0;
    assert_eq!(age(&mut time, &host, born), 7200.0);
}

#[test]
fn a_step_is_told_from_just_over_half_a_minute_both_ways() {
    for (by_s, told) in [(STEP_S, false), (STEP_S + 0.5, true), (-STEP_S, false), (-STEP_S - 0.5, true)] {
        let mut host = Host::at("2026-11-16T10:00:00Z");
        let mut time = begun(&host);
        host.run(5.0);
        host.step(by_s);
        assert_eq!(time.look(host.hands()).step.is_some(), told, "{by_s}");
    }
}

#[test]
fn a_restart_of_the_server_goes_on_by_the_boot_clock() {
    let mut host = Host::at("2026-11-16T10:00:00Z");
    let mut time = begun(&host);
    let born = time.look(host.hands()).now;
    let mark = time.mark("one start");
    // While the server is down the wall clock is set back.
    host.run(900.0);
    host.step(-3600.0);
    let (mut again, step) = ShopTime::resumed(&mark, host.hands(), "one start");
    assert_eq!(step.map(|s| (s.by_s, s.over_a_start)), Some((-3600.0, false)));
    assert_eq!(age(&mut again, &host, born), 900.0);
    host.run(100.0);
    assert_eq!(age(&mut again, &host, born), 1000.0);
}

#[test]
fn a_host_that_starts_with_a_wrong_clock_never_goes_back_and_is_right_once_corrected() {
    let mut host = Host::at("2026-11-16T10:00:00Z");
    let mut time = begun(&host);
    let born = time.look(host.hands()).now;
    host.run(1200.0);
    time.look(host.hands());
    let mark: Mark = time.mark("one start");
    // Off for ten minutes; its clock comes up two hours behind.
    host.run(600.0);
    let right = host.wall;
    host.step(-7200.0);
    host.boot_s = 12.0;
    let (mut again, step) = ShopTime::resumed(&mark, host.hands(), "another start");
    let step = step.expect("told");
    assert!(step.over_a_start && step.said().contains("trust no pot mixed before"), "{}", step.said());
    assert_eq!(age(&mut again, &host, born), 1200.0, "it goes on from what was last known");
    let late = again.look(host.hands()).now;
    host.run(60.0);
    // The network tells the time.
    host.step(7200.0);
    let look = again.look(host.hands());
    assert_eq!(look.now, right.checked_add(jiff::SignedDuration::from_secs(60)).unwrap());
    assert!(look.step.is_some());
    assert_eq!(age(&mut again, &host, born), 1860.0);
    assert!(age(&mut again, &host, late) >= 60.0, "what was born under the wrong clock is no younger for it");
    // A clock that came up ahead and was corrected: what was born meanwhile goes on ageing.
    let mut host = Host::at("2026-11-16T12:00:00Z");
    let (mut ahead, step) = ShopTime::resumed(&mark, host.hands(), "a third start");
    assert_eq!(step, None, "ahead of the mark is what a night off looks like");
    let born = ahead.look(host.hands()).now;
    host.run(60.0);
    host.step(-5400.0);
    assert_eq!(age(&mut ahead, &host, born), 60.0);
}

/// Instants know no daylight saving: both nights of a year, in the zone of a shop that has them.
#[test]
fn both_nights_of_daylight_saving_age_paint_by_what_went_by() {
    let zone = TimeZone::get("Europe/Berlin").unwrap();
    for (night, apart_h) in [("2026-03-29T00:30:00Z", 2), ("2026-10-25T00:30:00Z", 0)] {
        let mut host = Host::at(night);
        let mut time = begun(&host);
        let born = time.look(host.hands()).now;
        host.run(3600.0);
        let now = time.look(host.hands());
        assert_eq!(now.step, None, "the change of the hour is none of the clock");
        let shown = |t: Timestamp| i64::from(t.to_zoned(zone.clone()).hour());
        assert_eq!(shown(now.now) - shown(born), apart_h, "the hands jump");
        assert_eq!(now.now.duration_since(born).as_secs_f64(), 3600.0, "the paint does not");
    }
}

#[test]
fn what_is_written_is_never_ahead_of_the_time() {
    let host = Host::at("2026-11-16T10:00:00Z");
    for (ahead_s, told) in [(0.0, false), (20.0, false), (600.0, true)] {
        let mut time = begun(&host);
        let written = level_keel_core::pot_life::after(host.wall, ahead_s);
        assert_eq!(time.not_before(written).is_some(), told, "{ahead_s}");
        assert_eq!(time.look(host.hands()).now, written);
    }
}

/// A demo runs at another time and rate, and stands still at none.
#[test]
fn another_time_and_another_rate() {
    let mut host = Host::at("2026-11-16T10:00:00Z");
    let shop: Timestamp = "2026-06-01T08:00:00Z".parse().unwrap();
    let mut fast = ShopTime::begun(shop, host.hands(), 60.0);
    let mut still = ShopTime::begun(shop, host.hands(), 0.0);
    host.run(10.0);
    assert_eq!(fast.look(host.hands()).now.duration_since(shop).as_secs_f64(), 600.0);
    assert_eq!(still.look(host.hands()).now, shop);
    fast.advance(30.0);
    assert_eq!(fast.look(host.hands()).now.duration_since(shop).as_secs_f64(), 630.0);
    assert_eq!(fast.ahead_s(), 0.0);
}
