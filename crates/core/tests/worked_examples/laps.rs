//! Gun speed and laps: derived, worked by hand from the shapes of the fans.

use super::near;
use level_keel_core::film::laps::{FanProfile, ripple_pct, section, spread_pct};
use level_keel_core::film::speed::{Lap, solve};
use level_keel_core::quantity::Prefs;

#[test]
fn ripple_of_every_fan() {
    for (profile, overlap, ripple) in [
        (FanProfile::Fading, 50.0, 0.0),
        (FanProfile::Fading, 20.0, 96.0),
        (FanProfile::Flat, 20.0, 0.0),
        (FanProfile::Flat, 50.0, 62.5),
        (FanProfile::Parabola, 30.0, 18.9),
        (FanProfile::Parabola, 50.0, 37.5),
        (FanProfile::Parabola, 60.0, 7.2),
    ] {
        near(ripple_pct(profile, overlap), ripple, 0.06);
    }
    // A cross coat lowers the spread by √2 and never raises it.
    for profile in [FanProfile::Fading, FanProfile::Flat, FanProfile::Parabola] {
        near(spread_pct(profile, 35.0, true) * 2f64.sqrt(), spread_pct(profile, 35.0, false), 1e-9);
        assert!(ripple_pct(profile, profile.even_at_pct()) < 10.0);
    }
    assert_eq!(section(FanProfile::Flat, 20.0, 80).len(), 81);
}

#[test]
fn any_one_of_the_five() {
    let all = Lap {
        flow_ml_min: Some(350.0),
        fan_mm: Some(304.8),
        overlap_pct: Some(50.0),
        gun_speed_m_s: Some(0.244_879),
        wet_um: Some(101.6),
        transfer_pct: 65.0,
        ..Lap::default()
    };
    let solved = |lap: Lap| solve(&lap, Prefs::METRIC).unwrap().0;
    near(solved(Lap { gun_speed_m_s: None, ..all }).gun_speed_m_s, 0.245, 5e-4);
    near(solved(Lap { flow_ml_min: None, ..all }).flow_ml_min, 350.0, 0.01);
    near(solved(Lap { fan_mm: None, ..all }).fan_mm, 304.8, 0.01);
    near(solved(Lap { overlap_pct: None, ..all }).overlap_pct, 50.0, 0.01);
    near(solved(Lap { wet_um: None, ..all }).wet_um, 101.6, 0.01);
    // 10 m² at 0.245 m/s and half of 12 in: 10/(0.245·0.1524) = 267.8 s, worked by hand.
    near(solved(Lap { gun_speed_m_s: None, ..all }).time_s(10.0), 267.9, 0.5);
    let code = |lap: Lap| solve(&lap, Prefs::METRIC).unwrap_err().code;
    assert_eq!(code(all), "leave-one-out");
    assert_eq!(code(Lap { overlap_pct: None, wet_um: Some(40.0), ..all }), "no-overlap");
    assert_eq!(code(Lap { fan_mm: Some(0.0), wet_um: None, ..all }), "outside-limits");
}
