//! Dew point against psychrolib 2.5.0 (ASHRAE Handbook Fundamentals 2017, ch. 1): within 0.04 °C above
//! freezing. The 3 °C margin: ISO 8502-4 / 12944-7.

use super::near;
use super::sheet::{example, with};
use jiff::{SignedDuration, Timestamp};
use level_keel_core::conditions::probe::{Probe, ProbeFault, ProbeOf};
use level_keel_core::conditions::{Gate, Readings, dew_point_c, judge};
use level_keel_core::quantity::Prefs;
use serde_json::json;

#[test]
fn dew_points() {
    for (air, rh, want) in [(25.0, 50.0, 13.86), (21.0, 65.0, 14.18), (30.0, 85.0, 27.20), (10.0, 90.0, 8.44), (15.0, 40.0, 1.52)]
    {
        near(dew_point_c(air, rh), want, 0.04);
    }
    near(dew_point_c(20.0, 100.0), 20.0, 1e-9);
}

// Thirteen more by psychrolib 2.5.0, printed by tests/reference/dew_points.py. The Magnus form strays a little above 40 °C
// and toward saturation: still within 0.05 °C here.
#[test]
fn more_dew_points_by_the_reference_library() {
    let cases = [
        (35.0, 30.0, 14.84),
        (40.0, 20.0, 12.78),
        (5.0, 95.0, 4.27),
        (12.0, 75.0, 7.71),
        (18.0, 60.0, 10.13),
        (22.0, 45.0, 9.53),
        (28.0, 70.0, 22.02),
        (33.0, 55.0, 22.75),
        (8.0, 80.0, 4.76),
        (16.0, 88.0, 14.02),
        (24.0, 35.0, 7.61),
        (45.0, 60.0, 35.41),
        (20.0, 99.0, 19.84),
    ];
    for (air, rh, want) in cases {
        near(dew_point_c(air, rh), want, 0.05);
    }
}

// Rules of belief for probes: figures from memory, worked by hand.
#[test]
fn a_probe_is_believed_only_while_it_makes_sense() {
    let at = |s: i64| Timestamp::UNIX_EPOCH + SignedDuration::from_secs(s);
    let mut air = Probe::new(ProbeOf::Air);
    assert_eq!(air.fault(at(0)), Some(ProbeFault::Silent), "nothing was heard yet");
    air.heard(at(0), 21.0);
    assert_eq!(air.fresh(at(60)), Some((at(0), 21.0)));
    assert_eq!(air.fresh(at(61)), None, "a minute old is old");
    // Nonsense is not taken, and the value before it is not fresh beside it.
    air.heard(at(10), 3276.7);
    assert_eq!((air.fault(at(10)), air.last()), (Some(ProbeFault::Absurd), Some((at(0), 21.0))));
    // A leap of more than 5 °C is watched until three agree.
    air.heard(at(20), 21.1);
    air.heard(at(25), 46.0);
    air.heard(at(30), 46.2);
    assert_eq!(air.fault(at(30)), Some(ProbeFault::Leapt));
    air.heard(at(35), 46.1);
    assert_eq!(air.fresh(at(35)), Some((at(35), 46.1)));
    // Two hours without the least move.
    for s in (40..=40 + 7_210).step_by(10) {
        air.heard(at(s), 46.5);
    }
    assert_eq!(air.fault(at(7_250)), Some(ProbeFault::Stuck));
    air.heard(at(7_260), 46.4);
    assert!(air.fresh(at(7_260)).is_some());
    air.missed();
    assert_eq!(air.fresh(at(7_261)), None, "a lost probe is never fresh");
}

fn gate(air_c: f64, surface_c: f64, material_c: f64, rh_pct: f64) -> Gate {
    judge(&example(), &Readings { air_c, surface_c, material_c, rh_pct }, Prefs::METRIC).gate
}

#[test]
fn go_hold_stop() {
    assert_eq!(gate(21.0, 20.0, 20.0, 60.0), Gate::Go);
    assert_eq!(gate(21.0, 16.0, 20.0, 65.0), Gate::Hold, "1.8 °C above a dew point of 14.18");
    assert_eq!(gate(21.0, 14.0, 20.0, 65.0), Gate::Stop, "under the dew point");
    assert_eq!(gate(28.0, 28.0, 25.0, 90.0), Gate::Hold, "too humid");
    assert_eq!(gate(21.0, 20.0, 40.0, 50.0), Gate::Hold, "material too hot");
    assert_eq!(gate(12.0, 10.2, 12.0, 40.0), Gate::Hold, "0.2 °C from its limit on a ± 0.5 °C thermometer: cannot tell");
}

#[test]
fn the_margin_judges_the_reading_and_on_the_hairline_is_in() {
    let dew = dew_point_c(20.0, 60.0);
    assert_eq!(gate(20.0, dew + 3.0, 20.0, 60.0), Gate::Go);
    assert_eq!(gate(20.0, dew + 2.99, 20.0, 60.0), Gate::Hold);
}

#[test]
fn not_applicable_by_sheet_is_not_judged() {
    let wet = with(json!({ "margin_min_dk": null, "rh_max_pct": null })).unwrap();
    let judged = judge(&wet, &Readings { air_c: 20.0, surface_c: 15.0, material_c: 20.0, rh_pct: 99.0 }, Prefs::METRIC);
    assert_eq!(judged.gate, Gate::Go);
    assert_eq!(judged.levels.len(), 3);
}

#[test]
fn the_working_ends_in_the_margin() {
    let judged = judge(&example(), &Readings { air_c: 25.0, surface_c: 20.0, material_c: 20.0, rh_pct: 50.0 }, Prefs::METRIC);
    near(judged.working.result().unwrap(), 20.0 - 13.86, 0.04);
}

#[test]
fn readings_outside_sense_are_refused_at_their_field() {
    let good = Readings { air_c: 20.0, surface_c: 20.0, material_c: 20.0, rh_pct: 50.0 };
    for (bad, field) in [
        (Readings { air_c: -60.0, ..good }, "air_c"),
        (Readings { surface_c: f64::NAN, ..good }, "surface_c"),
        (Readings { rh_pct: 0.0, ..good }, "rh_pct"),
        (Readings { rh_pct: 101.0, ..good }, "rh_pct"),
    ] {
        assert_eq!(bad.validate(Prefs::METRIC).unwrap_err().field.as_deref(), Some(field));
    }
}
