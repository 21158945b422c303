//! Check values from outside the code, one file per slice, the source beside each. An expected value is
//! never tuned to the code.

mod acceptance;
mod atomizing;
mod conditions;
mod delivery;
mod film;
mod laps;
mod mixing;
mod passes;
mod pot_life;
mod pots;
mod quantity;
mod ratio_check;
mod ratio_ledger;
mod schedule;
mod sheet;
mod stores;
mod weighing;

/// Asserts that two figures agree within a stated tolerance.
#[track_caller]
pub fn near(got: f64, want: f64, within: f64) {
    assert!((got - want).abs() <= within, "got {got}, want {want} ± {within}");
}
