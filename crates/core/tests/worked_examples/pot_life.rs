//! Clocks. Halving per 10 °C is common practice in the trade; the figures follow from it by arithmetic.

use super::near;
use super::sheet::example;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::pot_life::{HeldTemperature, PotState, age, clock, induction_s, life_s};

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
    let aged = age(4.0 * H, 20.0, &history, at(0.0), at(2.0));
    near(aged, 0.75, 1e-9);
    let sheet = example();
    let clock = clock(&sheet, &history, at(0.0), Some(at(0.1)), at(2.0)).unwrap();
    near(clock.spent_at.duration_since(at(2.0)).as_secs_f64(), 1800.0, 0.01);
    assert_eq!(clock.state, PotState::Watch);
}

#[test]
fn states_in_order() {
    let sheet = example();
    let history = [HeldTemperature { from: at(0.0), temp_c: 20.0 }];
    let state = |hours, stirred: Option<f64>| clock(&sheet, &history, at(0.0), stirred.map(at), at(hours)).unwrap().state;
    assert_eq!(state(0.2, None), PotState::Mixing);
    assert_eq!(state(0.3, Some(0.1)), PotState::Inducting);
    assert_eq!(state(0.5, Some(0.1)), PotState::Ready);
    assert_eq!(state(3.1, Some(0.1)), PotState::Watch);
    assert_eq!(state(3.7, Some(0.1)), PotState::LastCall);
    assert_eq!(state(4.0, Some(0.1)), PotState::Spent);
}
