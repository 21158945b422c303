//! Two catches. Arithmetic; the example pairs are common practice in the trade.

use super::near;
use super::sheet::with;
use level_keel_core::quantity::Prefs;
use level_keel_core::ratio_check::{Side, Trial, advise, judge, lift_kpa};
use level_keel_core::verdict::Verdict;
use serde_json::json;

#[test]
fn catches_of_a_five_to_one() {
    let sheet = with(json!({ "basis": "by_weight", "ratio": 5.0 })).unwrap();
    for (a, b, ratio, verdict) in
        [(12.4, 6.2, 2.00, Verdict::Low), (27.0, 7.9, 3.418, Verdict::Low), (24.6, 4.9, 5.02, Verdict::In)]
    {
        let (said, working) = judge(&sheet, a, b, 0.1, Prefs::METRIC).unwrap();
        near(said.measured.value, ratio, 0.005);
        near(working.result().unwrap(), ratio, 0.005);
        assert_eq!(said.tolerance.judge(said.measured), verdict, "{a} : {b}");
    }
}

#[test]
fn a_coarse_scale_cannot_tell() {
    let sheet = with(json!({ "basis": "by_weight", "ratio": 5.0 })).unwrap();
    let (said, _) = judge(&sheet, 25.0, 5.0, 1.0, Prefs::METRIC).unwrap();
    assert_eq!(said.tolerance.judge(said.measured), Verdict::CannotTell);
}

#[test]
fn nothing_caught_is_no_ratio() {
    let sheet = with(json!({})).unwrap();
    assert!(judge(&sheet, 0.0, 5.0, 0.1, Prefs::METRIC).is_none());
}

const PSI: f64 = 6.894_757;

fn trial(a_psi: f64, b_psi: f64, a_g: f64, b_g: f64) -> Trial {
    Trial { a_g, b_g, a_kpa: a_psi * PSI, b_kpa: b_psi * PSI, time_s: None, lift_mm: 0.0, resolution_g: 0.1 }
}

fn five_to_one() -> level_keel_core::sheets::Sheet {
    with(json!({ "basis": "by_weight", "ratio": 5.0 })).unwrap()
}

/// Target 5 : 1. First trial 2.00 at 9 psi: the straight line asks 22.5 psi, a step is at most half again.
/// Second trial 3.418 at 13 psi: the secant gives 17.5 psi. Then 5.02: in, and nothing to move.
#[test]
fn the_next_pressure() {
    let sheet = five_to_one();
    let first = trial(9.0, 8.0, 12.4, 6.2);
    let one = advise(&sheet, &[first], Some(1000.0), Prefs::METRIC).unwrap();
    near(one.to_kpa.unwrap() / PSI, 13.5, 1e-9);
    assert_eq!(one.side, Side::A);
    let second = trial(13.0, 8.0, 27.0, 7.9);
    let two = advise(&sheet, &[first, second], Some(1000.0), Prefs::default()).unwrap();
    near(two.to_kpa.unwrap() / PSI, 17.46, 0.01);
    // A catch plays by 1 % and its scale by 0.8 %/√3: 1.1 % in all. Carried along the line, √(0.080² + 0.025² + 0.050²) = 0.097.
    assert_eq!(
        two.text.replace('\u{a0}', " "),
        "Raise A from 13 psi to 17.5 psi. Expect 4.80 to 5.20 : 1; catch again with clean cups."
    );
    assert_eq!(two.working.result(), two.to_kpa);
    assert!(advise(&sheet, &[first, second, trial(17.5, 8.0, 24.6, 4.9)], Some(1000.0), Prefs::METRIC).is_none());
}

#[test]
fn the_lift_takes_its_part_of_the_pressure() {
    // 2 m of 1.42 kg/L: 27.9 kPa carry the fluid only up. Source: hydrostatics.
    near(lift_kpa(2000.0, 1.42), 27.851, 0.001);
    let sheet = five_to_one();
    let lifted = Trial { lift_mm: 2000.0, ..trial(9.0, 8.0, 20.0, 5.0) };
    // 4 : 1 to 5 : 1 wants a quarter more of what is over the lift: 27.851 + 1.25·(62.053 − 27.851).
    near(advise(&sheet, &[lifted], Some(1000.0), Prefs::METRIC).unwrap().to_kpa.unwrap(), 70.60, 0.01);
}

#[test]
fn when_both_moved_each_stream_needs_its_own_flow() {
    let sheet = five_to_one();
    let (first, second) = (trial(9.0, 8.0, 12.4, 6.2), trial(13.0, 9.0, 27.0, 7.9));
    let untimed = advise(&sheet, &[first, second], Some(1000.0), Prefs::METRIC).unwrap();
    assert_eq!(untimed.to_kpa, None);
    assert!(untimed.text.starts_with("Both pressures moved"));
    let timed = |t: Trial, s| Trial { time_s: Some(s), ..t };
    // A: 0.62 then 1.35 g/s over 4 psi; B now 0.395 g/s wants 1.975 of A: 13 + (1.975 − 1.35)/0.1825.
    let advice = advise(&sheet, &[timed(first, 20.0), timed(second, 20.0)], Some(1000.0), Prefs::METRIC).unwrap();
    near(advice.to_kpa.unwrap() / PSI, 16.42, 0.01);
}

#[test]
fn more_pressure_and_less_paint_is_a_fault_and_no_sum() {
    let advice =
        advise(&five_to_one(), &[trial(9.0, 8.0, 12.4, 6.2), trial(13.0, 8.0, 10.0, 6.2)], Some(1000.0), Prefs::METRIC).unwrap();
    assert_eq!(advice.to_kpa, None);
    assert!(advice.text.contains("clog"));
}

#[test]
fn catalyst_is_moved_by_its_own_pressure_and_at_the_limit_it_says_so() {
    let gel =
        with(json!({ "basis": "percent_by_weight", "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 })).unwrap();
    let low = advise(&gel, &[trial(50.0, 40.0, 1000.0, 10.0)], Some(1000.0), Prefs::METRIC).unwrap();
    assert_eq!(low.side, Side::B);
    near(low.to_kpa.unwrap() / PSI, 60.0, 1e-9);
    let full = Trial { b_kpa: 1000.0, ..trial(50.0, 0.0, 1000.0, 10.0) };
    assert_eq!(advise(&gel, &[full], Some(1000.0), Prefs::METRIC).unwrap().to_kpa, None);
}
