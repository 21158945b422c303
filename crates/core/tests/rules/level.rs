//! The level: hairlines, bubble, verdict, word. Places are from the design: thirds, and the half for one side.

use level_keel_core::quantity::{Prefs, QuantityKind};
use level_keel_core::verdict::{Level, Measured, Tolerance, Verdict};
use proptest::prelude::*;

fn draw(m: Measured, tol: Tolerance) -> Level {
    Level::draw("Ratio", m, tol, 10.0, QuantityKind::Ratio, Prefs::METRIC)
}

fn near(got: f64, want: f64) {
    assert!((got - want).abs() < 1e-9, "{got} is not {want}");
}

#[test]
fn two_limits_stand_at_the_thirds_and_carry_their_figures() {
    let level = draw(Measured::pm(5.0, 0.1), Tolerance::between(4.76, 5.26));
    near(level.hairlines[0].at, 1.0 / 3.0);
    near(level.hairlines[1].at, 2.0 / 3.0);
    assert_eq!((level.hairlines[0].figure.as_str(), level.hairlines[1].figure.as_str()), ("4.76", "5.26"));
    assert!(level.hairlines[0].low && !level.hairlines[1].low);
}

#[test]
fn one_limit_stands_at_the_half() {
    for tol in [Tolerance::at_least(3.0), Tolerance::at_most(3.0)] {
        let level = draw(Measured::pm(5.0, 0.1), tol);
        assert_eq!(level.hairlines.len(), 1);
        near(level.hairlines[0].at, 0.5);
    }
}

#[test]
fn the_bubble_is_as_long_as_the_doubt() {
    let tol = Tolerance::between(4.0, 6.0);
    let fine = draw(Measured::pm(5.0, 0.1), tol);
    let coarse = draw(Measured::pm(5.0, 0.9), tol);
    near(fine.to - fine.from, 0.2 / 6.0);
    near(coarse.to - coarse.from, 1.8 / 6.0);
    near((fine.from + fine.to) / 2.0, 0.5);
}

#[test]
fn verdicts_and_their_words() {
    let tol = Tolerance::between(4.0, 6.0);
    for (value, half, verdict, word) in [
        (5.0, 0.5, Verdict::In, "in"),
        (5.0, 1.0, Verdict::In, "in"), // on both hairlines counts as in
        (5.8, 0.5, Verdict::CannotTell, "cannot tell"),
        (3.0, 0.5, Verdict::Low, "out"),
        (7.0, 0.5, Verdict::High, "out"),
        (3.5, 0.5, Verdict::CannotTell, "cannot tell"), // its end touches the hairline
    ] {
        let level = draw(Measured::pm(value, half), tol);
        assert_eq!((level.verdict, level.word.as_str()), (Some(verdict), word), "{value} ± {half}");
    }
}

#[test]
fn off_the_vial_the_bubble_rests_at_the_end() {
    let tol = Tolerance::between(4.0, 6.0);
    assert_eq!(draw(Measured::pm(1.0, 0.1), tol).off, -1);
    assert_eq!(draw(Measured::pm(9.0, 0.1), tol).off, 1);
    assert_eq!(draw(Measured::pm(7.9, 0.1), tol).off, 0);
}

#[test]
fn under_way_there_is_no_verdict() {
    let level = draw(Measured::pm(5.0, 0.1), Tolerance::between(4.0, 6.0)).under_way("pouring");
    assert_eq!((level.verdict, level.word.as_str()), (None, "pouring"));
}

#[test]
fn where_the_limit_is_the_guard_the_reading_is_judged() {
    let tol = Tolerance::at_least(3.0);
    let level = draw(Measured::pm(3.2, 1.5), tol);
    assert_eq!(level.verdict, Some(Verdict::CannotTell));
    assert_eq!(level.judged_by_reading(tol, 3.2).verdict, Some(Verdict::In));
}

#[test]
fn an_interval_is_its_own_figure() {
    let m = Measured::between(16.0 * 25.4, 18.0 * 25.4);
    let tol = Tolerance::between(18.0 * 25.4, 24.0 * 25.4);
    let level = Level::draw("Total wet", m, tol, 1.0, QuantityKind::Film, Prefs::default()).as_interval(
        m,
        QuantityKind::Film,
        Prefs::default(),
    );
    assert_eq!(level.shown.figure, "16–18");
    assert_eq!(level.verdict, Some(Verdict::CannotTell), "its end touches the hairline of 18");
}

proptest! {
    #[test]
    fn places_stay_on_the_vial(value in -1e4..1e4f64, half in 0.0..1e3f64, lo in -1e3..1e3f64, width in 0.001..1e3f64) {
        let level = draw(Measured::pm(value, half), Tolerance::between(lo, lo + width));
        for place in [level.from, level.to, level.hairlines[0].at, level.hairlines[1].at] {
            prop_assert!((0.0..=1.0).contains(&place));
        }
        prop_assert!(level.from <= level.to);
    }

    #[test]
    fn less_doubt_never_turns_in_into_out(value in 0.0..10.0f64, half in 0.0..5.0f64, less in 0.0..1.0f64) {
        let tol = Tolerance::between(4.0, 6.0);
        let (before, after) = (tol.judge(Measured::pm(value, half)), tol.judge(Measured::pm(value, half * less)));
        if before != Verdict::CannotTell {
            prop_assert_eq!(before, after);
        }
    }
}
