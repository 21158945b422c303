//! Check values of the passes: fans of any fade, patches, the pace of the gun, film by use.

use crate::near;
use level_keel_core::conditions::falling::meets;
use level_keel_core::film::laps::{even_section_of_fade, fade_of_card, ripple_of_fade_pct};
use level_keel_core::film::pace::{click_s, measured_m_s};
use level_keel_core::film::section::{PatchAsked, PatchLimit, pass_m2_min, patch, patches};
use level_keel_core::pot_life::after;
use level_keel_core::quantity::Prefs;
use level_keel_core::verdict::Tolerance;

/// Numerical sums with numpy 2.4.6 by `tests/reference/ripple.py`; the first four are the two schools of overlap, common practice.
#[test]
fn ripple_of_any_fade() {
    for (fade, overlap, ripple) in [
        (0.5, 50.0, 0.0),
        (0.5, 20.0, 96.0),
        (0.2, 20.0, 0.0),
        (0.2, 50.0, 62.5),
        (0.3, 30.0, 0.0),
        (0.3, 50.0, 47.62),
        (0.1, 20.0, 88.89),
        (0.4, 20.0, 66.67),
        (0.35, 60.0, 8.79),
        (0.25, 40.0, 48.0),
    ] {
        near(ripple_of_fade_pct(fade, overlap), ripple, 0.1);
    }
    // Even where the overlap is the fade itself, whatever that is.
    for fade in [0.12, 0.27, 0.41, 0.5] {
        near(ripple_of_fade_pct(fade, 100.0 * fade), 0.0, 0.1);
    }
    let film = even_section_of_fade(0.2, 20.0, 40);
    assert!(film.len() == 81 && film.iter().all(|v| (v - 1.0).abs() < 1e-6));
}

/// By hand: 12 in where any paint lies and 7.2 in in full fade over 2.4 in a side, a fifth of the width.
#[test]
fn the_fade_of_a_sprayed_card() {
    near(fade_of_card(304.8, 182.88).unwrap(), 0.2, 1e-12);
    near(fade_of_card(304.8, 0.0).unwrap(), 0.5, 1e-12);
    assert_eq!((fade_of_card(300.0, 310.0), fade_of_card(300.0, -1.0), fade_of_card(0.0, 0.0)), (None, None, None));
}

/// By hand: 1 L/min with 80 % on the part at 8 mil covers 1000·0.8/203.2 = 3.937 m² a minute.
#[test]
fn the_largest_patch_and_what_limits_it() {
    let rate = pass_m2_min(1000.0, 80.0, 203.2);
    near(rate, 3.937, 5e-4);
    let asked = PatchAsked {
        pass_m2_min: Some(rate),
        pass_count: Some(3.0),
        return_s: Some(60.0),
        open_s: Some(4.0 * 3600.0),
        prepare_m2_min: Some(0.05),
        life_s: Some(600.0),
        reach_m2: Some(5.0),
    };
    let limits = patch(&asked);
    let order: Vec<PatchLimit> = limits.iter().map(|(limit, _)| *limit).collect();
    assert_eq!(order, [PatchLimit::ReturnTime, PatchLimit::Reach, PatchLimit::OpenSurface, PatchLimit::ChargeLife]);
    near(limits[0].1, 3.94, 5e-3);
    near(limits[2].1, 12.0, 1e-9);
    // Ten minutes of life for three passes: 600/60·3.937/3.
    near(limits[3].1, 13.12, 5e-3);
    assert_eq!(patch(&PatchAsked { reach_m2: Some(2.0), ..PatchAsked::default() }), [(PatchLimit::Reach, 2.0)]);
    assert!(patch(&PatchAsked::default()).is_empty());
    // A charge that is dead allows nothing, and not less than nothing.
    assert_eq!(patch(&PatchAsked { life_s: Some(-5.0), ..asked })[0], (PatchLimit::ChargeLife, 0.0));
    assert_eq!((patches(10.0, 0.0), patches(10.0, 3.94).map(|(n, _)| n)), (None, Some(3)));
}

/// By hand: 24 in at 0.245 m/s are 2.49 s; five of them stamped in 12.2 s were 0.25 m/s, by a hand that is off by 0.3 s.
#[test]
fn the_pace_of_the_gun() {
    near(click_s(609.6, 0.245, Prefs::METRIC).unwrap(), 2.488, 5e-4);
    let v = measured_m_s(5.0, 609.6, 12.2, Prefs::METRIC).unwrap();
    near(v.value, 0.2498, 5e-5);
    near(v.lo, 0.2438, 5e-5);
    near(v.hi, 0.2561, 5e-5);
    assert_eq!(click_s(10.0, 0.5, Prefs::METRIC).unwrap_err().code, "no-click");
    assert_eq!(click_s(20_000.0, 0.005, Prefs::METRIC).unwrap_err().code, "no-click");
    assert_eq!(measured_m_s(1.0, 600.0, 12.0, Prefs::METRIC).unwrap_err().field.as_deref(), Some("stroke_count"));
    assert_eq!(measured_m_s(5.0, 600.0, 0.5, Prefs::METRIC).unwrap_err().field.as_deref(), Some("stroked_watch_s"));
}

/// By hand: a straight fall of 0.1 K a minute from 7.0 K is at 4.5 K in 25 min, with nothing scattered about it at once known.
#[test]
fn minutes_to_a_gate() {
    let now = jiff::Timestamp::UNIX_EPOCH;
    let read = |n: i32, wave: f64| -> Vec<_> {
        (0..n).map(|i| (after(now, -60.0 * f64::from(i)), 7.0 + 0.1 * f64::from(i) + wave * f64::from(i % 2 * 2 - 1))).collect()
    };
    let gate = Tolerance::at_least(4.5);
    let straight = meets(&read(30, 0.0), gate, now).unwrap();
    near(straight.in_s / 60.0, 25.0, 1e-6);
    near(straight.earliest_s / 60.0, 25.0, 1e-3);
    let scattered = meets(&read(30, 0.2), gate, now).unwrap();
    assert!(scattered.earliest_s < scattered.in_s - 120.0, "what scatters is less certain: {scattered:?}");
    assert_eq!(meets(&read(7, 0.0), gate, now), None, "too few");
    assert_eq!(meets(&read(30, 0.0), gate, after(now, 16.0 * 60.0)), None, "none of them fresh");
    assert!(meets(&read(30, 0.0), gate, after(now, 14.0 * 60.0)).is_some());
    // Humidity rises to its most.
    let damp: Vec<_> = (0..20).map(|i| (after(now, -60.0 * f64::from(i)), 80.0 - 0.2 * f64::from(i))).collect();
    near(meets(&damp, Tolerance::at_most(85.0), now).unwrap().in_s / 60.0, 25.0, 1e-6);
    assert_eq!(meets(&damp, Tolerance::at_least(60.0), now), None, "it leads away");
}
