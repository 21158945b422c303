//! Proportioning. Check values: arithmetic of the ratio, worked by hand.

use super::near;
use super::sheet::{example, with};
use level_keel_core::mixing::{Component, PlannedPour, Weighed, b_per_a, finished_solids_pct, plan, said, thinner_ml, to_go};
use level_keel_core::quantity::Prefs;
use level_keel_core::sheets::ThinnerBasis;
use level_keel_core::verdict::Verdict;
use serde_json::json;

fn pour(component: Component, reading_g: f64, tared: bool) -> Weighed {
    Weighed { component, reading_g, tared, resolution_g: 1.0 }
}

#[test]
fn a_volume_ratio_weighed_takes_the_densities() {
    // 4:1 by volume at 1.42 and 0.98 kg/L: 100·0.98/(4·1.42) g of B per 100 g of A.
    near(100.0 * example().hardener().unwrap().b_per_a, 17.254, 0.0005);
    let by_weight = with(json!({ "basis": "by_weight" })).unwrap();
    near(100.0 * by_weight.hardener().unwrap().b_per_a, 25.0, 1e-9);
}

#[test]
fn thinner_by_its_basis() {
    near(thinner_ml(800.0, 200.0, 15.0, ThinnerBasis::OfBase), 120.0, 1e-9);
    near(thinner_ml(800.0, 200.0, 15.0, ThinnerBasis::OfMixed), 150.0, 1e-9);
    near(thinner_ml(800.0, 200.0, 15.0, ThinnerBasis::OfFinished), 176.5, 0.05);
}

#[test]
fn catalyst_by_weight() {
    // 1.8 % of 2,400 g.
    let gel = with(json!({ "basis": "percent_by_weight", "hardener_pct": 1.8 })).unwrap();
    near(2400.0 * gel.hardener().unwrap().b_per_a, 43.2, 1e-9);
}

#[test]
fn finished_solids() {
    let sheet = with(json!({ "thinner_max_pct": 10.0 })).unwrap();
    near(finished_solids_pct(&sheet, 10.0), 56.36, 0.005);
    near(finished_solids_pct(&sheet, 0.0), 62.0, 1e-9);
}

#[test]
fn the_plan_adds_up() {
    let sheet = example();
    let pours = plan(&sheet, 1000.0, 10.0, Prefs::METRIC).unwrap();
    let volume: f64 = pours.iter().map(|p| p.volume_ml).sum();
    near(volume, 1000.0, 1e-6);
    near(pours[0].volume_ml / pours[1].volume_ml, 4.0, 1e-9);
    near(pours[2].volume_ml, 0.1 * (pours[0].volume_ml + pours[1].volume_ml), 1e-9);
    near(pours[2].running_g, pours.iter().map(|p| p.mass_g).sum(), 1e-9);
    assert!(plan(&sheet, 1000.0, 25.0, Prefs::METRIC).is_err(), "over the most the sheet allows");
    assert!(plan(&sheet, -1.0, 0.0, Prefs::METRIC).is_err());
}

#[test]
fn what_a_one_gram_scale_can_prove() {
    // 100 g + 2 g: apart 1.49–2.51 %, running 1.00–3.02 %; both across a 1.5–2.5 % band.
    let apart = b_per_a(&[pour(Component::Base, 100.0, false), pour(Component::Hardener, 2.0, true)]).unwrap();
    near(100.0 * apart.lo, 1.49, 0.005);
    near(100.0 * apart.hi, 2.51, 0.005);
    let running = b_per_a(&[pour(Component::Base, 100.0, false), pour(Component::Hardener, 102.0, false)]).unwrap();
    near(100.0 * running.lo, 1.00, 0.005);
    near(100.0 * running.hi, 3.02, 0.005);
    let gel =
        with(json!({ "basis": "percent_by_weight", "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 })).unwrap();
    for measured in [apart, running] {
        let said = said(&gel, measured).unwrap();
        assert_eq!(said.tolerance.judge(said.measured), Verdict::CannotTell);
    }
}

/// Pairs a 1 g scale can prove for 1.5–2.5 %: the edges of each published range, and one gram past them.
#[test]
fn provable_pairs() {
    let gel =
        with(json!({ "basis": "percent_by_weight", "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 })).unwrap();
    let proved = |a: f64, b: f64, tared: bool| {
        let reading = if tared { b } else { a + b };
        let m = b_per_a(&[pour(Component::Base, a, false), pour(Component::Hardener, reading, tared)]).unwrap();
        let said = said(&gel, m).unwrap();
        said.tolerance.judge(said.measured) == Verdict::In
    };
    for (b, from, to) in [(3.0, 141.0, 166.0), (4.0, 181.0, 232.0), (5.0, 221.0, 299.0)] {
        assert!(proved(from, b, true) && proved(to, b, true), "apart {b}");
        assert!(!proved(from - 1.0, b, true) && !proved(to + 1.0, b, true), "apart {b}, one past");
    }
    for (b, from, to) in [(5.0, 241.0, 266.0), (6.0, 281.0, 332.0)] {
        assert!(proved(from, b, false) && proved(to, b, false), "running {b}");
        assert!(!proved(from - 1.0, b, false) && !proved(to + 1.0, b, false), "running {b}, one past");
    }
    assert!(!(1..1000).any(|a| proved(f64::from(a), 3.0, false) || proved(f64::from(a), 4.0, false)));
}

#[test]
fn an_over_pour_is_met_by_the_rest() {
    // 4:1 by weight, A 1,000 g, B 268 g → add 72 g A, total 1,340 g.
    let plan = [
        PlannedPour { component: Component::Base, mass_g: 1000.0, volume_ml: 1000.0, running_g: 1000.0 },
        PlannedPour { component: Component::Hardener, mass_g: 250.0, volume_ml: 250.0, running_g: 1250.0 },
    ];
    let go = to_go(&plan, &[pour(Component::Base, 1000.0, false), pour(Component::Hardener, 1268.0, false)]);
    near(go[0].mass_g, 72.0, 1e-9);
    near(go[1].mass_g, 0.0, 1e-9);
    near(1268.0 + go[0].mass_g, 1340.0, 1e-9);
}

#[test]
fn ten_percent_poured_as_ten_ounces_is_25_percent_and_out() {
    let sheet = with(json!({ "basis": "percent_by_weight", "hardener_pct": 10.0, "hardener_density_kg_l": 1.42 })).unwrap();
    let m = b_per_a(&[pour(Component::Base, 4000.0, false), pour(Component::Hardener, 5000.0, false)]).unwrap();
    let said = said(&sheet, m).unwrap();
    near(said.measured.value, 25.0, 1e-9);
    assert_eq!(said.tolerance.judge(said.measured), Verdict::High);
}
