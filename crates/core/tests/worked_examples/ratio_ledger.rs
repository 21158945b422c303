//! The ledger of the ratio: control limits, trend, balance, what settles a doubt.
//!
//! Sources: NIST/SEMATECH e-Handbook of Statistical Methods (individuals chart 6.3.2.2, Student's t 1.3.6.7.2); scipy 1.17.1
//! by `tests/reference/ratio_trend.py`; the rest is arithmetic written beside it.

use super::near;
use super::sheet::with;
use level_keel_core::component::Component;
use level_keel_core::mixing::Weighed;
use level_keel_core::quantity::{Prefs, UnitSet};
use level_keel_core::ratio_check::{
    Account, Agreement, Doubt, Further, Limits, RunRule, SettingTrial, Supply, Trend, advise_setting, fired_at, mean_of,
    normal_under, settle, slips, student_t,
};
use level_keel_core::verdict::{Measured, Tolerance};
use serde_json::json;

/// 8 : 1 with ± 5 % on B per A.
fn adhesive() -> Tolerance {
    Tolerance::between(8.0 / 1.05, 8.0 / 0.95)
}

const ADHESIVE: [f64; 10] = [8.02, 7.97, 8.05, 8.04, 8.10, 8.06, 8.13, 8.11, 8.17, 8.16];

fn along(x: &[f64], y: &[f64]) -> Trend {
    let points: Vec<(f64, f64)> = x.iter().copied().zip(y.iter().copied()).collect();
    Trend::of(&points).unwrap()
}

fn tens() -> Vec<f64> {
    (1..=10).map(f64::from).collect()
}

/// NIST/SEMATECH e-Handbook 6.3.2.2, its own ten flow rates, all of them taken.
#[test]
fn the_individuals_chart_of_the_handbook() {
    let flow = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1];
    let limits = Limits::of(&flow).unwrap();
    near(limits.mean, 50.81, 5e-3);
    near(limits.range, 1.8778, 5e-5);
    near(limits.lo(), 45.8167, 2e-3);
    near(limits.hi(), 55.8041, 2e-3);
    for at in 0..flow.len() {
        assert!(fired_at(&flow, &limits, at).iter().all(|f| f.rule != RunRule::OneBeyond), "{at}");
    }
}

/// The mean of ten ratios and what two sigma are: derived on paper from the moving ranges 0.40/9.
#[test]
fn the_limits_of_an_adhesive() {
    let limits = Limits::of(&ADHESIVE).unwrap();
    near(limits.lo(), 7.9628, 5e-5);
    near(limits.hi(), 8.1992, 5e-5);
    near((8.17 - limits.mean) / limits.sigma(), 2.26, 5e-3);
    near((8.16 - limits.mean) / limits.sigma(), 2.01, 5e-3);
    let fired: Vec<RunRule> = fired_at(&ADHESIVE, &limits, 9).iter().map(|f| f.rule).collect();
    // Of the last five only three stand past one sigma.
    assert_eq!(fired, [RunRule::TwoOfThree]);
    // Frozen, they come from the first eight: 64.48/8, and ranges of 0.33/7.
    let frozen = Limits::frozen(&ADHESIVE).unwrap();
    near(frozen.mean, 8.06, 1e-9);
    near(frozen.hi(), 8.06 + 3.0 * 0.33 / 7.0 / 1.128, 1e-9);
    assert!(Limits::frozen(&ADHESIVE[..7]).is_none());
}

/// scipy 1.17.1: linregress and t, the band solved by brentq.
#[test]
fn the_trend_and_where_its_band_meets_the_limit() {
    let rising = along(&tens(), &ADHESIVE);
    near(rising.slope, 0.019_333_33, 1e-8);
    near(rising.s, 0.027_507_57, 1e-8);
    assert!(rising.is_real());
    near(rising.band(10.0).lo, 8.094_422, 1e-6);
    near(rising.band(10.0).hi, 8.241_578, 1e-6);
    near(rising.meets(adhesive(), 10.0).unwrap(), 17.542_39, 1e-5);

    let kg = [0.0, 2.1, 4.0, 6.6, 8.1, 10.4, 12.0, 14.2, 15.9];
    let falling = along(&kg, &[8.21, 8.19, 8.13, 8.14, 8.06, 8.05, 7.99, 7.97, 7.92]);
    near(falling.slope, -0.018_161_76, 1e-8);
    near(falling.s, 0.020_351_42, 1e-8);
    near(falling.meets(adhesive(), 15.9).unwrap(), 28.667_35, 1e-5);

    let kg: Vec<f64> = (0..10).map(|i| f64::from(i) * 3.0).collect();
    let catalyst = along(&kg, &[2.01, 1.99, 2.00, 1.96, 1.97, 1.93, 1.94, 1.90, 1.91, 1.87]);
    near(catalyst.slope, -0.004_888_89, 1e-8);
    near(catalyst.meets(Tolerance::between(1.5, 2.5), 27.0).unwrap(), 86.993_50, 1e-5);
}

/// scipy 1.17.1: p of 0.679 and 0.175; a slope like that is no slope.
#[test]
fn a_slope_that_chance_gives_is_not_real() {
    let x: Vec<f64> = (0..8).map(f64::from).collect();
    assert!(!along(&x, &[8.02, 7.98, 8.01, 7.99, 8.00, 8.03, 7.97, 8.00]).is_real());
    let x: Vec<f64> = (0..10).map(f64::from).collect();
    let scattered = along(&x, &[7.9, 8.3, 7.8, 8.35, 8.0, 8.4, 7.95, 8.45, 8.1, 8.5]);
    assert!(!scattered.is_real());
    near(scattered.s, 0.238_532_44, 1e-8);
    // Its band is past the tolerance where it stands.
    assert_eq!(scattered.meets(adhesive(), 9.0), Some(9.0));
}

/// Under eight catches, or all at one place, there is no trend.
#[test]
fn a_trend_needs_eight_catches_apart() {
    let points: Vec<(f64, f64)> = tens().into_iter().zip(ADHESIVE).collect();
    assert!(Trend::of(&points[..7]).is_none() && Trend::of(&points[..8]).is_some());
    let at_one: Vec<(f64, f64)> = ADHESIVE.iter().map(|y| (3.0, *y)).collect();
    assert!(Trend::of(&at_one).is_none());
}

/// Table of critical values of Student's t, NIST/SEMATECH e-Handbook 1.3.6.7.2, three decimals; the rest by scipy 1.17.1.
#[test]
fn students_t_against_the_table() {
    for (alpha, freedom, t) in [
        (0.05, 1.0, 12.706),
        (0.05, 6.0, 2.447),
        (0.05, 8.0, 2.306),
        (0.05, 10.0, 2.228),
        (0.05, 30.0, 2.042),
        (0.01, 10.0, 3.169),
    ] {
        near(student_t(alpha, freedom), t, 6e-4);
    }
    near(student_t(0.05, 8.0), 2.306_004, 1e-6);
    near(student_t(0.05, 9998.0), 1.960_201, 1e-6);
    for (z, under) in [(-1.5, 0.066_807_201), (0.5, 0.691_462_461), (2.326_347_874, 0.99)] {
        near(normal_under(z), under, 1e-8);
    }
}

fn supply(before_g: f64, after_g: f64) -> Supply {
    Supply { before_g, after_g, added_g: None, purged_g: None, returned_g: None }
}

/// A 48.62 to 31.40 kg, B 6.85 to 4.72 kg, a scale of 0.02 kg: 17.22/2.13, 17.20/2.15 and 17.24/2.11.
#[test]
fn the_balance_of_a_whole_run() {
    let (a, b) = (supply(48_620.0, 31_400.0), supply(6_850.0, 4_720.0));
    let (a_g, b_g) = (a.used_g("A", 20.0, Prefs::METRIC).unwrap(), b.used_g("B", 20.0, Prefs::METRIC).unwrap());
    let b_per_a = level_keel_core::ratio_check::Run { a_g, b_g }.b_per_a().unwrap();
    near(1.0 / b_per_a.value, 8.085, 5e-4);
    near(1.0 / b_per_a.hi, 8.000, 5e-4);
    near(1.0 / b_per_a.lo, 8.171, 5e-4);
    // 0.40 kg of B purged and 0.10 kg back in its can, 1.00 kg filled in: 2.13 + 1.00 − 0.40 − 0.10, five readings of ± 10 g.
    let more = Supply { added_g: Some(1_000.0), purged_g: Some(400.0), returned_g: Some(100.0), ..b };
    let used = more.used_g("B", 20.0, Prefs::METRIC).unwrap();
    near(used.value, 2_630.0, 1e-9);
    near(used.hi - used.value, 50.0, 1e-9);
}

/// A run of ten times the mass on the same scale is ten times as narrow.
#[test]
fn a_longer_run_is_narrower() {
    let width = |times: f64| {
        let of = |s: Supply| s.used_g("A", 20.0, Prefs::METRIC).unwrap();
        let run =
            level_keel_core::ratio_check::Run { a_g: of(supply(1_722.0 * times, 0.0)), b_g: of(supply(213.0 * times, 0.0)) };
        let r = run.b_per_a().unwrap();
        (r.hi - r.lo) / r.value
    };
    near(width(100.0) / width(10.0), 0.1, 1e-3);
}

/// 4.1 L went where 3.5 L was reckoned. 22.8 m² of 100 µm at 65.14 % ask 3.5 L; times 4.1/3.5 each: 26.7 m², 117 µm (4.6 mil),
/// 55.6 %.
#[test]
fn where_the_paint_went() {
    let account = Account {
        went_ml: Measured::pm(4_100.0, 20.0),
        area_m2: Measured::pm(22.8, 0.5),
        wet_um: Measured::pm(100.0, 4.0),
        transfer_pct: Measured::pm(65.14, 2.0),
    };
    near(account.reckoned_ml().value, 3_500.0, 1.0);
    near(account.area_then_m2(), 26.71, 0.01);
    near(account.wet_then_um(), 117.1, 0.1);
    near(account.transfer_then_pct(), 55.6, 0.1);
    near(account.unaccounted_ml(), 600.0, 1.0);
    assert!(!account.agrees());
    let said = account.words(Some(3_200.0), Prefs::METRIC).replace('\u{a0}', " ");
    assert!(
        said.starts_with("4.1 L went where 3.50 L was reckoned: transfer 55.6 %, or film 117 µm, or area 26.71 m²"),
        "{said}"
    );
    let wide = Account { transfer_pct: Measured::pm(65.14, 10.0), ..account };
    assert!(wide.agrees() && wide.words(None, Prefs::METRIC).contains("agree"));
    // 3.2 L of A and 0.3 L short: B per A by volume would be 0.3/3.2.
    near(account.b_per_a_then(3_200.0).unwrap(), 0.3 / 3.2, 1e-3);
    assert_eq!(account.b_per_a_then(3_600.0), None);
}

/// Mean of 8.02, 7.97, 8.05 is 8.0133, s 0.040415, t(2) 4.302653: ± 0.1004; the scale's half width of 0.08 beside it.
#[test]
fn the_mean_of_the_catches_has_its_own_interval() {
    let catches: Vec<Measured> = [8.02, 7.97, 8.05].iter().map(|v| Measured::pm(*v, 0.08)).collect();
    let mean = mean_of(&catches).unwrap();
    near(mean.value, 8.013_333, 1e-6);
    near(mean.hi - mean.value, 0.08 + 0.100_396, 1e-5);
    // Of one catch the usual spread of 1 % stands in.
    near(mean_of(&catches[..1]).unwrap().hi, 8.02 + 0.08 + 0.0802, 1e-9);
    assert!(mean_of(&[]).is_none());
    assert_eq!(Agreement::of(Measured::pm(8.085, 0.086), mean), Agreement::Agree);
    assert_eq!(Agreement::of(Measured::pm(8.5, 0.05), mean), Agreement::DoubtTheCatches);
    assert_eq!(Agreement::of(Measured::pm(9.0, 0.6), mean), Agreement::DoubtTheRun);
}

fn pair(a_g: f64, b_g: f64, resolution_g: f64) -> [Weighed; 2] {
    let apart = |component, reading_g| Weighed { component, reading_g, tared: true, resolution_g, start_g: None };
    [apart(Component::Base, a_g), apart(Component::Hardener, b_g)]
}

/// 40.5 g to 5.0 g on a 0.5 g scale: the scale alone is off by 0.25/40.5 + 0.25/5.0 = 5.6 %, more than the ± 5 % allowed. On
/// 0.1 g it is 1.1 %: the reading lies 1.2 % under the aim, 3.8 % from the nearer limit, so it settles.
#[test]
fn the_finer_scale_settles_what_longer_catching_alone_may_not() {
    let weighed = pair(40.5, 5.0, 0.5);
    let doubt = Doubt {
        weighed: &weighed,
        caught: true,
        time_s: Some(15.0),
        allowed: (0.95 / 8.0, 1.05 / 8.0),
        repeat: 0.01,
        scales_g: &[0.5, 0.1],
    };
    let settling = settle(&doubt, Prefs::METRIC);
    let best = settling.best.clone().unwrap();
    assert_eq!(best.further, Further::CatchLonger, "{settling:?}");
    assert!(best.text.contains("instead of 15"), "{}", best.text);
    let finer = settling.others.iter().find(|s| s.further == Further::FinerScale).unwrap();
    // σ² = 2·0.01² + (0.0562² + 0.0112²)/3 = 0.036; inside from 0.95/8·1.0113 to 1.05/8/1.0112: −2.7 % to +5.1 % of 0.12346.
    near(
        finer.chance,
        normal_under(0.051_4 / 0.035_9) - normal_under(-0.027_2 / 0.035_9) + normal_under(-0.048_8 / 0.035_9),
        0.03,
    );
    // Twice as fine a scale never settles less.
    let of = |d: f64| settle(&Doubt { scales_g: &[d], ..doubt }, Prefs::METRIC);
    let chance = |s: level_keel_core::ratio_check::Settling| {
        s.best.into_iter().chain(s.others).find(|s| s.further == Further::FinerScale).map_or(0.0, |s| s.chance)
    };
    assert!(chance(of(0.05)) >= chance(of(0.1)) && chance(of(0.1)) > chance(of(0.4)));
}

/// A ratio that stands on its limit is settled by longer catching in about half of the cases; nearer to the aim in most.
#[test]
fn on_the_limit_itself_longer_catching_is_a_toss() {
    let weighed = pair(84.21, 10.0, 0.1);
    let nearer = pair(83.9, 10.0, 0.1);
    let doubt = Doubt {
        weighed: &weighed,
        caught: true,
        time_s: Some(60.0),
        allowed: (0.95 / 8.0, 1.05 / 8.0),
        repeat: 0.002,
        scales_g: &[0.1],
    };
    let longer = |doubt: &Doubt<'_>| {
        let settling = settle(doubt, Prefs::METRIC);
        let all: Vec<_> = settling.best.into_iter().chain(settling.others).collect();
        all.into_iter().find(|s| s.further == Further::CatchLonger).unwrap().chance
    };
    // σ = √(2·0.002² + (0.0056² + 0.0028²)/3) = 0.0046, and a band of ± 0.0028 on either side of the limit stays undecided.
    near(longer(&doubt), 2.0 * normal_under(-0.002_8 / 0.004_6), 0.03);
    assert!(longer(&Doubt { weighed: &nearer, ..doubt }) > longer(&doubt) + 0.1);
}

/// A running total of 100 g and 2 g on a 1 g scale: 1.00 to 3.02 %. Tared, ± half; more at once on the same scale proves it.
#[test]
fn a_pot_is_settled_by_taring_or_by_more() {
    let running = [
        Weighed { component: Component::Base, reading_g: 500.0, tared: false, resolution_g: 1.0, start_g: None },
        Weighed { component: Component::Hardener, reading_g: 510.0, tared: false, resolution_g: 1.0, start_g: None },
    ];
    let doubt = Doubt { weighed: &running, caught: false, time_s: None, allowed: (0.019, 0.021), repeat: 0.0, scales_g: &[1.0] };
    let settling = settle(&doubt, Prefs::METRIC);
    let all: Vec<Further> = settling.best.iter().chain(&settling.others).map(|s| s.further).collect();
    assert!(all.contains(&Further::TareBetween) && all.contains(&Further::MixMore), "{settling:?}");
    assert!(!all.contains(&Further::CatchLonger) && !all.contains(&Further::WeighSupplies));
    let more = settling.best.iter().chain(&settling.others).find(|s| s.further == Further::MixMore).unwrap();
    assert!(more.text.starts_with("Mix at least"), "{}", more.text);
}

/// A machine that gives 1.6 % at mark 4 wants mark 5 for 2 %: catalyst in proportion. Without a mark it is said as a share.
#[test]
fn a_machine_is_set_in_its_own_words() {
    let gel =
        with(json!({ "basis": "percent_by_weight", "hardener_pct": 2.0, "band_low_pct": 1.8, "band_high_pct": 2.2 })).unwrap();
    let at = |b_per_a: f64, setting| SettingTrial { b_per_a: Measured::pm(b_per_a, 0.000_1), setting };
    let advice = advise_setting(&gel, &[at(0.016, Some(4.0))], Prefs::METRIC).unwrap();
    near(advice.to_setting.unwrap(), 5.0, 1e-9);
    assert!(advice.raise && advice.to_kpa.is_none());
    assert!(advice.text.starts_with("Turn the catalyst setting up from 4 to 5. Expect 1.9"), "{}", advice.text);
    // The second gives 1.7 % at 5: a mark is a tenth of a per cent, so 2 % is at 8, and half again of 5 is 7.5.
    let second = advise_setting(&gel, &[at(0.016, Some(4.0)), at(0.017, Some(5.0))], Prefs::METRIC).unwrap();
    near(second.to_setting.unwrap(), 7.5, 1e-9);
    let unmarked = advise_setting(&gel, &[at(0.016, None)], Prefs::METRIC).unwrap();
    assert!(unmarked.text.starts_with("Turn the catalyst setting up by 25 %"), "{}", unmarked.text);
    assert!(advise_setting(&gel, &[at(0.0201, Some(4.0))], Prefs::METRIC).is_none());
}

/// 11.2 g of A to 4.7 g of B is 2.38 : 1 and not 1 : 2.38; 0.9 psi is hardly a pressure, 0.9 bar is 13.05 psi.
#[test]
fn usual_slips_are_named() {
    let sheet = with(json!({ "basis": "by_weight", "ratio": 2.38 })).unwrap();
    let turned = slips(&sheet, 4.7, 11.2, &[], Prefs::METRIC);
    assert!(turned[0].replace('\u{a0}', " ").ends_with("turned, it is 2.38 : 1."), "{turned:?}");
    assert!(slips(&sheet, 11.2, 4.7, &[], Prefs::METRIC).is_empty());
    let psi = 6.894_757;
    let bar = slips(&sheet, 11.2, 4.7, &[("A", 0.9 * psi), ("B", 8.0 * psi)], Prefs { units: UnitSet::Us, ..Prefs::default() });
    assert_eq!(bar.len(), 1, "{bar:?}");
    assert!(bar[0].replace('\u{a0}', " ").contains("0.9 bar is 13"), "{bar:?}");
}
