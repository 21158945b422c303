//! The stream. Free fall with g = 9.80665 m/s² (standard gravity, CGPM 1901); the bands are common practice.

use super::near;
use level_keel_core::delivery::{BEND_MM, drop_mm, judge_stream, stream_length_mm, stream_speed_m_s};
use level_keel_core::quantity::Prefs;
use level_keel_core::sheets::StreamSchool;
use level_keel_core::verdict::Verdict;

const IN: f64 = 25.4;

#[test]
fn speeds_at_which_a_stream_bends_by_an_inch() {
    for (inches, speed) in [(6.0, 2.12), (8.0, 2.82), (10.0, 3.53), (12.0, 4.24)] {
        // The reference rounds g to 9.81 and the speed to the centimetre.
        near(stream_speed_m_s(inches * IN, BEND_MM), speed, 0.01);
    }
}

#[test]
fn the_inverse_and_the_other_bend() {
    near(stream_length_mm(stream_speed_m_s(200.0, BEND_MM), BEND_MM), 200.0, 1e-9);
    // 2.08 m/s bends an inch at 5.9 in; who sees 7 in calls it bent at 1.4 in of fall.
    near(stream_length_mm(2.08, IN) / IN, 5.9, 0.05);
    near(stream_length_mm(2.08, 1.4 * IN) / IN, 7.0, 0.05);
}

#[test]
fn the_arc_falls_an_inch_at_its_length() {
    near(drop_mm(200.0, 200.0), IN, 1e-9);
    near(drop_mm(400.0, 200.0), 4.0 * IN, 1e-9);
}

#[test]
fn schools() {
    let word = |school, inches: f64| {
        judge_stream(school, level_keel_core::delivery::Eye::USUAL.interval(inches * IN), Prefs::default()).level.verdict
    };
    assert_eq!(word(StreamSchool::GeneralPot, 7.0), Some(Verdict::In));
    assert_eq!(word(StreamSchool::Industrial, 7.0), Some(Verdict::Low));
    assert_eq!(word(StreamSchool::Industrial, 8.2), Some(Verdict::CannotTell));
    assert_eq!(word(StreamSchool::Industrial, 10.0), Some(Verdict::In));
    assert_eq!(word(StreamSchool::HighTransfer, 12.0), Some(Verdict::High));
}

// The fluid line, against others.

use level_keel_core::delivery::{
    Fluid, FluidLine, Regime,
    calibrate::{bend_mm, viscosity_mpa_s},
    choose::{FINE_MOST_KPA, smallest_nozzle_mm},
    viscosity::{FlowCup, STEEPNESS_K, aged, at_temperature, steepness_k},
};

const PSI: f64 = 6.894_757_293_168_361;
const FT: f64 = 304.8;

fn line(bore_in: f64, feet: f64, lift_mm: f64, nozzle_mm: f64) -> FluidLine {
    FluidLine { hose_bore_mm: bore_in * IN, hose_length_mm: feet * FT, lift_mm, nozzle_mm }
}

fn paint(viscosity_mpa_s: f64, density_kg_l: f64) -> Fluid {
    Fluid { viscosity_mpa_s, density_kg_l, flow_index: 1.0 }
}

/// Loss in a smooth hose by `fluids` 1.3.1 (`one_phase_dP`), laminar to 0.01 %; turbulent by its Colebrook, to 1.5 % of
/// Haaland's. Water by CoolProp 8.0.0. Script: `tests/reference/delivery.py`.
#[test]
fn hoses_by_a_reference_library() {
    for (flow, mpa_s, kg_l, bore_in, feet, psi, within) in [
        (350.0, 100.0, 1.2, 0.375, 25.0, 3.1912, 1e-4),
        (350.0, 100.0, 1.2, 0.25, 25.0, 16.1554, 1e-4),
        (900.0, 60.0, 1.05, 0.375, 50.0, 9.8471, 1e-4),
        (250.0, 400.0, 1.4, 0.5, 35.0, 4.0389, 1e-4),
        (120.0, 25.0, 0.9, 0.25, 15.0, 0.8308, 1e-4),
        (6000.0, 1.0, 0.998, 0.375, 50.0, 6.5338, 0.015),
        (9000.0, 1.5, 0.88, 0.25, 30.0, 55.0368, 0.015),
        (12_000.0, 2.0, 0.95, 0.5, 100.0, 12.8942, 0.015),
        (5000.0, 1.0016, 0.998_21, 0.25, 25.0, 16.2904, 0.015),
        (5000.0, 0.6527, 0.992_22, 0.25, 25.0, 14.6045, 0.015),
    ] {
        let drops = line(bore_in, feet, 0.0, 1.8).drops(&paint(mpa_s, kg_l), flow);
        near(drops.hose_kpa / PSI / psi, 1.0, within);
        assert_eq!(drops.regime, if within < 0.01 { Regime::Laminar } else { Regime::Turbulent });
    }
    // A power law by the shear at its wall (Rabinowitsch), the same script.
    let gel = Fluid { viscosity_mpa_s: 8000.0, density_kg_l: 1.2, flow_index: 0.45 };
    near(line(0.5, 25.0, 0.0, 2.5).drops(&gel, 1000.0).hose_kpa / PSI, 22.9185, 1e-3);
}

/// 1.8 mm, 25 ft of 3/8 in, 100 mPa·s, 1.2 kg/L, 0.5 m of lift: agrees with the trade's "8–12 psi gives 8–12 in".
#[test]
fn pressures_and_streams_of_the_trade() {
    let (line, paint) = (line(0.375, 25.0, 500.0, 1.8), paint(100.0, 1.2));
    for (psi, ml_min, inches) in [(8.0, 462.0, 8.6), (10.0, 564.0, 10.5), (12.0, 658.0, 12.2)] {
        let at = line.at(&paint, psi * PSI);
        near(at.flow_ml_min, ml_min, 0.6);
        near(at.stream_mm(BEND_MM) / IN, inches, 0.06);
        near(line.for_stream(&paint, inches * IN, BEND_MM).total_kpa / PSI, psi, 0.1);
        near(line.drops(&paint, at.flow_ml_min).total_kpa / PSI, psi, 1e-9);
    }
    assert_eq!(line.at(&paint, 0.5 * PSI).regime, Regime::Still);
    // The smallest nozzle that gives 350 mL/min at 20 psi; through too thin a one nothing does.
    assert_eq!(smallest_nozzle_mm(&line, &paint, &[1.8, 1.0, 1.4, 0.8], 350.0, FINE_MOST_KPA), Some(1.4));
    assert_eq!(smallest_nozzle_mm(&line, &paint, &[0.5], 350.0, FINE_MOST_KPA), None);
}

/// 318 mL/min through 1.8 mm leaves at 2.08 m/s; a bend of 1 in is seen at 5.9 in; who sees 7 in calls 1.4 in bent.
#[test]
fn a_catch_teaches_viscosity_and_a_stream_the_bend() {
    let (line, thick) = (line(0.375, 25.0, 500.0, 1.8), paint(160.0, 1.2));
    let caught = line.at(&thick, 8.0 * PSI);
    near(viscosity_mpa_s(&line, &paint(100.0, 1.2), 8.0 * PSI, caught.flow_ml_min).unwrap(), 160.0, 1e-6);
    let out = line.drops(&thick, 318.0);
    near(out.speed_m_s, 2.08, 0.005);
    near(out.stream_mm(IN) / IN, 5.9, 0.02);
    near(bend_mm(7.0 * IN, out.speed_m_s) / IN, 1.4, 0.02);
    // Thin solvent in a long hose runs turbulent: the same both ways.
    let (long, solvent) = (FluidLine { nozzle_mm: 3.0, ..line }, paint(0.6, 0.8));
    let caught = long.at(&solvent, 60.0 * PSI);
    assert_eq!(caught.regime, Regime::Turbulent);
    near(viscosity_mpa_s(&long, &paint(100.0, 0.8), 60.0 * PSI, caught.flow_ml_min).unwrap(), 0.6, 1e-6);
    let code = |flow| viscosity_mpa_s(&line, &thick, 8.0 * PSI, flow).unwrap_err().code;
    assert_eq!([code(0.0), code(-10.0), code(9000.0)], ["nothing-caught", "nothing-caught", "flows-too-much"]);
}

/// At the join the pressure steps up; inside the step the flow is that at Reynolds 2,300, and that is said.
#[test]
fn the_step_between_laminar_and_turbulent() {
    let (line, thin) = (line(0.25, 50.0, 0.0, 4.0), paint(2.0, 1.0));
    let pressures = (1..400).map(|i| f64::from(i) * 0.5);
    let seen: Vec<_> = pressures.map(|kpa| (kpa, line.at(&thin, kpa))).collect();
    assert!(seen.windows(2).all(|w| w[1].1.flow_ml_min >= w[0].1.flow_ml_min - 1e-9));
    let join: Vec<_> = seen.iter().filter(|(_, d)| d.regime == Regime::Join).collect();
    assert!(join.len() > 2, "a step of some kilopascal");
    for (_, d) in join {
        near(d.reynolds, 2300.0, 1e-6);
        assert!(d.regime.words().contains("between smooth (laminar) and churning (turbulent)"));
    }
}

/// ASTM D1200 (Ford), ASTM D4212 (Zahn), ISO 2431: worked by hand from their formulas.
#[test]
fn cups() {
    for (cup, seconds, mm2_s) in [
        (FlowCup::Ford4, 30.0, 98.2),
        (FlowCup::Zahn2, 25.0, 38.5),
        (FlowCup::Zahn3, 20.0, 146.3),
        (FlowCup::Iso4, 40.0, 49.8),
        (FlowCup::Iso6, 60.0, 404.5),
    ] {
        near(cup.mm2_s(seconds, Prefs::METRIC).unwrap(), mm2_s, 0.06);
    }
    let refused = |cup: FlowCup, s| cup.mm2_s(s, Prefs::METRIC).unwrap_err();
    assert!(refused(FlowCup::Ford4, 15.0).text.contains("Ford 3 would"), "{}", refused(FlowCup::Ford4, 15.0).text);
    assert!(refused(FlowCup::Zahn2, 120.0).text.contains("Zahn 3"), "{}", refused(FlowCup::Zahn2, 120.0).text);
    // Zahn 1 says nothing near 29 s: from 35 s on. 1.1·(35 − 29) = 6.6.
    near(FlowCup::Zahn1.mm2_s(35.0, Prefs::METRIC).unwrap(), 6.6, 1e-9);
    assert_eq!(refused(FlowCup::Zahn1, 34.9).code, "cup-out-of-range");
    for s in [f64::NAN, -5.0, 0.0, f64::INFINITY] {
        assert_eq!(
            (refused(FlowCup::Iso4, s).code.as_str(), refused(FlowCup::Iso4, s).field.as_deref()),
            ("cup-out-of-range", Some("cup_s"))
        );
    }
}

#[test]
fn viscosity_by_temperature_and_age() {
    // Two points give their own steepness back, and every point between lies between.
    let b = steepness_k((240.0, 15.0), (90.0, 35.0)).unwrap();
    near(at_temperature(240.0, 15.0, 35.0, b), 90.0, 1e-9);
    let middle = at_temperature(240.0, 15.0, 25.0, b);
    assert!((90.0..240.0).contains(&middle));
    // exp(4500·(1/303.15 − 1/293.15)) = 0.6027, worked by hand.
    near(at_temperature(100.0, 20.0, 30.0, STEEPNESS_K), 60.3, 0.05);
    assert_eq!(steepness_k((100.0, 20.0), (90.0, 20.0)), None);
    near(aged(100.0, 1.0), 200.0, 1e-9);
    near(aged(100.0, 0.5), 141.42, 0.01);
}

#[test]
fn a_line_out_of_sense_is_refused_by_name() {
    let good = line(0.375, 25.0, 500.0, 1.8);
    let field = |l: FluidLine| l.check(Prefs::METRIC).unwrap_err().field.unwrap();
    assert_eq!(field(FluidLine { nozzle_mm: 0.0, ..good }), "nozzle_mm");
    assert_eq!(field(FluidLine { hose_length_mm: 0.0, ..good }), "hose_length_mm");
    assert_eq!(field(FluidLine { hose_length_mm: 5e6, ..good }), "hose_length_mm");
    assert_eq!(field(FluidLine { hose_bore_mm: f64::NAN, ..good }), "hose_bore_mm");
    let thick = Fluid { flow_index: 0.0, ..paint(100.0, 1.2) };
    assert_eq!(thick.check(Prefs::METRIC).unwrap_err().field.as_deref(), Some("flow_index"));
}
