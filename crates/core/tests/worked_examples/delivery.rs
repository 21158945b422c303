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
    let word = |school, inches: f64| judge_stream(school, inches * IN, Prefs::default()).level.verdict;
    assert_eq!(word(StreamSchool::GeneralPot, 7.0), Some(Verdict::In));
    assert_eq!(word(StreamSchool::Industrial, 7.0), Some(Verdict::Low));
    assert_eq!(word(StreamSchool::Industrial, 8.2), Some(Verdict::CannotTell));
    assert_eq!(word(StreamSchool::Industrial, 10.0), Some(Verdict::In));
    assert_eq!(word(StreamSchool::HighTransfer, 12.0), Some(Verdict::High));
}
