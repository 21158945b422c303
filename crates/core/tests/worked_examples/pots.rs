//! How much, in how many pots; what a scale can prove; by marked cup; take-off. Worked by hand beside each.

use super::near;
use super::sheet::{example, with};
use level_keel_core::mixing::provable::{Pair, nearest, proves};
use level_keel_core::mixing::{
    Allowances, Because, CoatNeed, Component, Cup, Learned, PlannedPour, PotLimits, RescueTo, Weighed, hose_ml, marks, need,
    plan, rescues, retarget, split,
};
use level_keel_core::quantity::Prefs;
use level_keel_core::sheets::Sheet;
use level_keel_core::takeoff::{Shape, TakeOffShape, area};
use level_keel_core::verdict::Measured;
use serde_json::json;
use std::f64::consts::PI;

const FT: f64 = 304.8;
const IN: f64 = 25.4;

fn gel_coat() -> Sheet {
    with(json!({ "basis": "percent_by_weight", "hardener_pct": 1.8, "ratio": null, "band_low_pct": 1.5, "band_high_pct": 2.5 }))
        .expect("a gel coat")
}

#[test]
fn what_a_hose_holds() {
    // π/4·d²·L, worked by hand; the figures a shop knows.
    for (bore, feet, ml) in [(0.375, 25.0, 543.0), (0.25, 25.0, 241.0), (0.375, 50.0, 1086.0)] {
        near(hose_ml(bore * IN, feet * FT), ml, 0.5);
    }
}

/// Pairs a 1 g scale can prove of a gel coat, band 1.5–2.5 %: derived by hand from (b ± d)/(a ∓ d).
#[test]
fn pairs_a_scale_can_prove() {
    let sheet = gel_coat();
    let from_to = |b: f64, tared: bool| {
        let provable: Vec<f64> =
            (50..400).map(f64::from).filter(|a| proves(&sheet, Pair { base_g: *a, hardener_g: b, tared }, 1.0)).collect();
        (provable.first().copied(), provable.last().copied())
    };
    assert_eq!(from_to(3.0, true), (Some(141.0), Some(166.0)));
    assert_eq!(from_to(4.0, true), (Some(181.0), Some(232.0)));
    assert_eq!(from_to(5.0, true), (Some(221.0), Some(299.0)));
    assert_eq!(from_to(5.0, false), (Some(241.0), Some(266.0)));
    assert_eq!(from_to(6.0, false), (Some(281.0), Some(332.0)));
    assert_eq!(from_to(3.0, false), (None, None));
    assert_eq!(from_to(4.0, false), (None, None));
    let near_100 = nearest(&sheet, 100.0, 1.0, true).expect("a pair");
    assert!(proves(&sheet, near_100, 1.0) && near_100.hardener_g == 3.0 && near_100.base_g >= 141.0, "{near_100:?}");
    let running = nearest(&sheet, 100.0, 1.0, false).expect("a pair");
    assert!(running.hardener_g == 5.0 && (241.0..=266.0).contains(&running.base_g), "{running:?}");
}

/// 4:1 by weight, A 1,000 g, B 268 g: 268·4 = 1,072, so 72 g of A, 1,340 g in all.
#[test]
fn an_over_pour_has_an_exact_and_a_least_way_back() {
    let sheet =
        with(json!({ "basis": "by_weight", "thinner_max_pct": null, "thinner_basis": null, "thinner_density_kg_l": null }))
            .expect("by weight");
    let plan = [
        PlannedPour { component: Component::Base, mass_g: 1000.0, volume_ml: 704.2, running_g: 1000.0 },
        PlannedPour { component: Component::Hardener, mass_g: 250.0, volume_ml: 255.1, running_g: 1250.0 },
    ];
    let at = |component, reading_g| Weighed { component, reading_g, resolution_g: 1.0, ..Weighed::default() };
    let pours = [at(Component::Base, 1000.0), at(Component::Hardener, 1268.0)];
    let ways = rescues(&sheet, &plan, &pours, false);
    let exact = &ways[0];
    assert_eq!((exact.to, exact.adds.len(), exact.adds[0].component), (RescueTo::Exact, 1, Component::Base));
    near(exact.adds[0].mass_g, 72.0, 1e-9);
    near(exact.total_g, 1340.0, 1e-9);
    // The most B per A allowed is 0.25·1.05: 268/0.2625 = 1,020.95 g of A, and more for what the scale cannot see.
    let least = &ways[1];
    assert_eq!(least.to, RescueTo::Least);
    assert!((21.0..30.0).contains(&least.adds[0].mass_g), "{least:?}");
    let target = retarget(&plan, &pours, exact);
    near(target[0].mass_g, 1072.0, 1e-9);
    near(target[1].running_g, 1340.0, 1e-9);
    // In: nothing to rescue.
    assert!(rescues(&sheet, &plan, &[at(Component::Base, 1000.0), at(Component::Hardener, 1250.0)], true).is_empty());
}

/// 12 m² at 100 µm wet, 60 % stays: 2,000 mL from the gun.
#[test]
fn the_need_by_its_parts() {
    let coat = CoatNeed {
        area_m2: Measured { lo: 10.8, value: 12.0, hi: 13.2 },
        wet_um: 100.0,
        transfer_pct: 60.0,
        solids_pct: 50.0,
        least_ml_m2: None,
    };
    let by = |more: Allowances, learned| need(&coat, &more, learned, Prefs::METRIC).expect("a need").0;
    near(by(Allowances::default(), None).value, 2000.0, 1e-9);
    near(by(Allowances::default(), None).hi, 2200.0, 1e-9);
    // 25 µm dry in the profile at 50 % solids is 50 µm wet more: half as much again.
    near(by(Allowances { profile_um: Some(25.0), ..Allowances::default() }, None).value, 3000.0, 1e-9);
    let hose = Allowances {
        hose_bore_mm: Some(0.375 * IN),
        hose_length_mm: Some(25.0 * FT),
        heel_ml: Some(57.0),
        ..Allowances::default()
    };
    near(by(hose, None).value, 2600.0, 0.5);
    near(by(Allowances { extra_pct: Some(10.0), ..hose }, None).value, 2860.0, 0.5);
    // Learned use counts only when it is asked for.
    let learned = Some(Learned { factor: 1.08, least: 1.02, most: 1.14, coats: 3 });
    near(by(Allowances::default(), learned).value, 2000.0, 1e-9);
    near(by(Allowances { by_learned: true, ..Allowances::default() }, learned).value, 2160.0, 1e-9);
    // At most 5 m² a litre of finished paint: 200 mL a square metre and 2,400 in all; at most 6.25 asks less than the film does.
    let spread = |ml_m2| need(&CoatNeed { least_ml_m2: Some(ml_m2), ..coat }, &hose, None, Prefs::METRIC).expect("a need").0;
    near(spread(200.0).value, 3000.0, 0.5);
    near(spread(160.0).value, 2600.0, 0.5);
    let bad = need(&coat, &Allowances { hose_bore_mm: Some(0.0), ..Allowances::default() }, None, Prefs::METRIC);
    assert_eq!(bad.unwrap_err().field.as_deref(), Some("hose_bore_mm"));
}

/// 4 h of life, 20 min of induction, 5 min of handling at 100 mL/min: 0.9·240 − 25 = 191 min, so 19.1 L at most.
#[test]
fn pots_by_life_fill_and_mass() {
    let by = PotLimits {
        rate_ml_min: 100.0,
        life_s: Some(4.0 * 3600.0),
        induction_s: 1200.0,
        fill_ml: None,
        life_mass_g: None,
        density_kg_l: 1.3,
        handling_s: 300.0,
    };
    let pots = |by: &PotLimits, ml: f64| split(ml, by, Prefs::METRIC).expect("a split");
    assert_eq!((pots(&by, 19_000.0).0.len(), pots(&by, 19_000.0).1), (1, Because::Need));
    let (two, why) = pots(&by, 19_200.0);
    assert_eq!((two.len(), why), (2, Because::Life));
    near(two[1].mix_by_s, 96.0 * 60.0 - 25.0 * 60.0, 1e-6);
    near(two[0].ml + two[1].ml, 19_200.0, 1e-6);
    assert_eq!(pots(&PotLimits { fill_ml: Some(2000.0), ..by }, 5000.0).0.len(), 3);
    // 4,000 g at 1.3 kg/L are 3,077 mL.
    let (by_mass, why) = pots(&PotLimits { life_mass_g: Some(4000.0), ..by }, 6200.0);
    assert_eq!((by_mass.len(), why), (3, Because::Mass));
    // No rest of 0.1 L: the pots are alike.
    assert!(pots(&PotLimits { fill_ml: Some(2000.0), ..by }, 4100.0).0.iter().all(|p| (p.ml - 4100.0 / 3.0).abs() < 1e-6));
    let hot = PotLimits { life_s: Some(1500.0), ..by };
    assert_eq!(split(1000.0, &hot, Prefs::METRIC).unwrap_err().code, "no-time-to-spray");
    let slow = PotLimits { rate_ml_min: 1.0, ..by };
    assert_eq!(split(500_000.0, &slow, Prefs::METRIC).unwrap_err().code, "too-many-pots");
}

/// Solid geometry by hand.
#[test]
fn shapes_of_a_take_off() {
    let m2 = |shape: Shape| shape.area_m2();
    near(m2(Shape::Plate { width_mm: 2000.0, height_mm: 500.0, side_count: 2.0 }), 2.0, 1e-12);
    near(m2(Shape::Box { width_mm: 1000.0, height_mm: 2000.0, length_mm: 3000.0 }), 22.0, 1e-12);
    near(m2(Shape::Cylinder { diameter_mm: 1000.0, height_mm: 1000.0, end_count: 2.0 }), 1.5 * PI, 1e-12);
    // Radius 3, height 4: slant 5.
    near(m2(Shape::Cone { diameter_mm: 6000.0, height_mm: 4000.0 }), 15.0 * PI, 1e-9);
    near(m2(Shape::Dome { diameter_mm: 2000.0, height_mm: 1000.0 }), 2.0 * PI, 1e-9);
    near(m2(Shape::Pipe { diameter_mm: 100.0, length_mm: 10_000.0 }), PI, 1e-12);
    near(m2(Shape::Rail { girth_mm: 200.0, length_mm: 5000.0 }), 1.0, 1e-12);
    near(m2(Shape::Door { width_mm: 1000.0, height_mm: 2000.0, thick_mm: 50.0, side_count: 2.0 }), 4.3, 1e-12);
    let plate = Shape::Plate { width_mm: 1000.0, height_mm: 1000.0, side_count: 1.0 };
    let piece = |off_pct, corner_pct| TakeOffShape { shape: plate, piece_count: 2.0, off_pct, corner_pct, zone: None };
    let (sum, working) = area(&[piece(10.0, 0.0), piece(0.0, 25.0)], Prefs::METRIC).expect("an area");
    near(sum.value, 4.5, 1e-12);
    near(sum.hi - sum.lo, 0.4, 1e-12);
    assert_eq!(working.lines.last().map(|l| l.label.as_str()), Some("Area"));
    let none = TakeOffShape { shape: Shape::Plate { width_mm: 0.0, height_mm: 1.0, side_count: 1.0 }, ..piece(0.0, 0.0) };
    let refused = area(&[piece(0.0, 0.0), none], Prefs::METRIC).unwrap_err();
    assert_eq!(refused.field.as_deref(), Some("takeoff[1].shape.width_mm"));
}

#[test]
fn marks_of_a_straight_and_a_tapered_cup() {
    // π/4·10² cm² is 78.54 mL a centimetre.
    let straight = Cup { floor_mm: 100.0, rim_mm: 100.0, height_mm: 160.0 };
    near(straight.level_mm(785.398).expect("a level"), 100.0, 1e-3);
    // A frustum 80 to 120 mm over 100 mm: π·10/12·(64 + 96 + 144) = 795.87 mL.
    let tapered = Cup { floor_mm: 80.0, rim_mm: 120.0, height_mm: 100.0 };
    near(tapered.volume_ml(100.0), 795.87, 0.01);
    near(tapered.level_mm(795.87).expect("a level"), 100.0, 0.001);
    let pours = plan(&example(), 1000.0, 10.0, Prefs::METRIC).expect("a plan");
    let strip = marks(&straight, &pours, Prefs::METRIC).expect("marks");
    assert_eq!(strip.len(), 3);
    near(strip[2].level_mm, 127.32, 0.01);
    // ± 1 mm at one mark is 7.85 mL; between two marks twice that.
    near(strip[0].off_g, 7.854 * 1.42, 0.01);
    near(strip[1].off_g, 2.0 * 7.854 * 0.98, 0.01);
    let small = marks(&Cup { height_mm: 100.0, ..straight }, &pours, Prefs::METRIC).unwrap_err();
    assert_eq!((small.code.as_str(), small.field.as_deref()), ("cup-too-small", Some("cup.height_mm")));
}

/// 4:1 by weight, a third part of additive: what is over, whatever it is, grows the rest; what is short is met.
#[test]
fn any_over_or_under_pour_has_a_way_back() {
    let sheet = with(json!({ "basis": "by_weight", "thinner_max_pct": 20.0, "thinner_basis": "of_base",
        "thinner_density_kg_l": 0.88, "additives": [{ "name": "pearl", "dose_pct": 2.0 }] }))
    .expect("by weight");
    // 1,000 g of base at 1.42 kg/L are 704.2 mL; 10 % of them 70.4 mL, 62.0 g of thinner; 20 g of pearl.
    let plan: Vec<PlannedPour> = [
        (Component::Base, 1000.0, 1000.0 / 1.42),
        (Component::Hardener, 250.0, 250.0 / 0.98),
        (Component::Thinner, 62.0, 62.0 / 0.88),
        (Component::Additive1, 20.0, 0.0),
    ]
    .map(|(component, mass_g, volume_ml)| PlannedPour { component, mass_g, volume_ml, running_g: 0.0 })
    .to_vec();
    let poured = |masses: &[f64]| -> Vec<Weighed> {
        let mut reading_g = 0.0;
        plan.iter()
            .zip(masses)
            .map(|(p, g)| {
                reading_g += g;
                Weighed { component: p.component, reading_g, resolution_g: 1.0, ..Weighed::default() }
            })
            .collect()
    };
    let ways = |masses: &[f64], stirred: bool| rescues(&sheet, &plan, &poured(masses), stirred);
    let adds = |masses: &[f64], stirred| -> Vec<(Component, f64)> {
        ways(masses, stirred).first().map_or(Vec::new(), |w| w.adds.iter().map(|a| (a.component, a.mass_g)).collect())
    };
    // On the way, as planned: nothing is wrong.
    for masses in [&[1000.0][..], &[1000.0, 100.0], &[1000.0, 250.0], &[1000.0, 250.0, 62.0], &[1000.0, 250.0, 62.0, 20.0]] {
        assert_eq!(adds(masses, false), [], "{masses:?}");
    }
    // Base 20 % over before the hardener: all the rest is 1.2 times the plan, or the least that is in.
    let found = adds(&[1200.0], false);
    near(found[0].1, 300.0, 1e-9);
    near(found[2].1, 24.0, 1e-9);
    let least = &ways(&[1200.0], false)[1];
    near(least.adds[0].mass_g, 1200.0 * 0.25 * 0.95, 3.0);
    // Hardener short with the pearl on top: 50 g more, though nothing is over.
    assert_eq!(adds(&[1000.0, 200.0, 62.0, 20.0], false), [(Component::Hardener, 50.0)]);
    // Pearl forgotten and all stirred: it is still to come.
    assert_eq!(adds(&[1000.0, 250.0, 62.0], true), [(Component::Additive1, 20.0)]);
    // Thinner over the plan and within the sheet's 20 % of base (124 g) is no trouble; 186 g is 30 %: 1.5 times the base.
    assert_eq!(adds(&[1000.0, 250.0, 100.0, 20.0], true), []);
    let thin = ways(&[1000.0, 250.0, 186.0], false);
    near(thin[0].adds[0].mass_g, 2000.0, 1e-6);
    near(thin[1].adds[0].mass_g, 500.0, 10.0);
    assert_eq!(thin[1].adds[0].component, Component::Base);
    // Pearl twice the dose: twice the paint.
    near(adds(&[1000.0, 250.0, 62.0, 40.0], true)[0].1, 1000.0, 1e-9);
}
