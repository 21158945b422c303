//! Clocks. Halving per 10 °C is common practice in the trade; the figures follow from it by arithmetic.

use super::near;
use super::sheet::example;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::pot_life::{HeldTemperature, PotState, Temperatures, age, clock, induction_s, life_s};
use level_keel_core::sheets::times::Curve;

const H: f64 = 3600.0;

fn at(hours: f64) -> Timestamp {
    Timestamp::UNIX_EPOCH + SignedDuration::from_secs_f64(hours * H)
}

#[test]
fn halving() {
    near(life_s(4.0 * H, 21.1, 32.2) / H, 1.85, 0.005);
    near(life_s(4.0 * H, 20.0, 30.0) / H, 2.0, 1e-9);
    near(life_s(4.0 * H, 20.0, 0.0) / H, 8.0, 1e-9); // colder: at most twice
}

#[test]
fn induction_is_never_shorter_than_the_sheet() {
    near(induction_s(900.0, 20.0, 35.0), 900.0, 0.0);
    near(induction_s(900.0, 20.0, 10.0), 1800.0, 1e-9);
}

#[test]
fn an_hour_cool_and_an_hour_hot() {
    // 1 h at 20 °C + 1 h at 30 °C on a 4 h sheet at 20 °C → 0.75; 30 min left at 30 °C.
    let history = [HeldTemperature { from: at(0.0), temp_c: 20.0 }, HeldTemperature { from: at(1.0), temp_c: 30.0 }];
    let aged = age(&four_hours(), 20.0, &history, at(0.0), at(2.0));
    near(aged, 0.75, 1e-9);
    let sheet = example();
    let clock = clock(&sheet, Temperatures::same(&history), at(0.0), Some(at(0.1)), at(2.0)).unwrap();
    near(clock.spent_at.duration_since(at(2.0)).as_secs_f64(), 1800.0, 0.01);
    assert_eq!(clock.state, PotState::Watch);
}

#[test]
fn states_in_order() {
    let sheet = example();
    let history = [HeldTemperature { from: at(0.0), temp_c: 20.0 }];
    let state = |hours, stirred: Option<f64>| {
        clock(&sheet, Temperatures::same(&history), at(0.0), stirred.map(at), at(hours)).unwrap().state
    };
    assert_eq!(state(0.2, None), PotState::Mixing);
    assert_eq!(state(0.3, Some(0.1)), PotState::Inducting);
    assert_eq!(state(0.5, Some(0.1)), PotState::Ready);
    assert_eq!(state(3.1, Some(0.1)), PotState::Watch);
    assert_eq!(state(3.7, Some(0.1)), PotState::LastCall);
    assert_eq!(state(4.0, Some(0.1)), PotState::Spent);
}

fn four_hours() -> Curve {
    Curve::through([(20.0, 4.0 * H)]).unwrap()
}

// Arrhenius between two stated temperatures, derived by hand from `ln t = a + b/T` with T in kelvin.
#[test]
fn between_two_stated_temperatures_life_follows_arrhenius() {
    let life = Curve::through([(10.0, 6.0 * H), (25.0, 2.5 * H)]).unwrap();
    near(life.life_s(18.0) / H, 3.72, 0.005);
    near(life.life_s(10.0) / H, 6.0, 1e-9);
    near(life.life_s(25.0) / H, 2.5, 1e-9);
    // The middle of 1/T gives the geometric mean: 1/(1/2·(1/283.15 + 1/298.15)) = 290.456 K.
    near(life.life_s(290.456 - 273.15) / H, (6.0_f64 * 2.5).sqrt(), 0.001);
    // A third value is met exactly, and the piece below it does not move.
    let three = Curve::through([(10.0, 6.0 * H), (25.0, 2.5 * H), (35.0, 1.0 * H)]).unwrap();
    near(three.life_s(35.0) / H, 1.0, 1e-9);
    near(three.life_s(18.0) / H, 3.72, 0.005);
}

// Outside the stated temperatures: the shorter of fit and halving; colder at most twice the nearest (domain rule).
#[test]
fn outside_the_stated_temperatures_the_safe_side_stands() {
    // Slow fit: 4 h at 10 °C, 3 h at 25 °C. Halving is the shorter at 35 °C: 3 h → 1.5 h.
    let slow = Curve::through([(10.0, 4.0 * H), (25.0, 3.0 * H)]).unwrap();
    near(slow.life_s(35.0) / H, 1.5, 1e-9);
    // Steep fit: 8 h at 10 °C, 1 h at 25 °C falls faster than halving from 1 h: under 0.5 h at 35 °C.
    let steep = Curve::through([(10.0, 8.0 * H), (25.0, 1.0 * H)]).unwrap();
    assert!(steep.life_s(35.0) < 0.5 * H);
    // Colder: never over twice the coldest stated, and the shorter of the two rules.
    near(steep.life_s(-20.0) / H, 16.0, 1e-9);
    assert!(slow.life_s(0.0) <= 8.0 * H && slow.life_s(0.0) > 4.0 * H);
    assert!(slow.is_estimate(35.0) && !slow.is_estimate(18.0) && !slow.is_estimate(25.0));
    // Waiting: colder the longer of the two, without limit; hotter never under the hottest stated.
    let wait = Curve::through([(10.0, 12.0 * H), (25.0, 4.0 * H)]).unwrap();
    near(wait.wait_s(35.0) / H, 4.0, 1e-9);
    assert!(wait.wait_s(0.0) >= 24.0 * H);
    near(wait.latest_s(0.0) / H, 12.0, 1e-9);
    near(wait.latest_s(35.0).min(2.0 * H), wait.latest_s(35.0), 1e-9);
    // Induction: colder longer to twice, hotter never shorter.
    let rest = Curve::through([(20.0, 900.0)]).unwrap();
    near(rest.induction_s(-40.0), 1800.0, 1e-9);
    near(rest.induction_s(40.0), 900.0, 1e-9);
}
