//! Film. Arithmetic of volume solids; 1 US gal = 231 in³ (NIST Handbook 44). Comb: ASTM D4414.

use super::near;
use level_keel_core::film::{comb, dry_of_wet_um, less, need_ml, plus, wet_for_dry_um};
use level_keel_core::quantity::Prefs;
use level_keel_core::verdict::Measured;

const MIL: f64 = 25.4;

#[test]
fn wet_for_dry() {
    // 2.2 mil dry at 56.36 % finished solids → 3.903 mil wet.
    near(wet_for_dry_um(2.2 * MIL, 62.0 / 1.1) / MIL, 3.903, 0.0005);
    near(dry_of_wet_um(wet_for_dry_um(55.0, 56.36), 56.36), 55.0, 1e-9);
}

#[test]
fn a_gallon_on_eighty_square_feet() {
    // 231 in³ on 80 ft² = 20.05 mil, nothing lost; a film of 15 mil means 74.8 % stayed.
    let area_m2 = 80.0 * 0.092_903_04;
    near(need_ml(area_m2, 20.052 * MIL, 100.0), 3785.41, 0.1);
    near(need_ml(area_m2, 15.0 * MIL, 74.8), 3785.41, 2.0);
}

#[test]
fn a_metre_at_a_hundred_micrometres() {
    near(need_ml(1.0, 100.0, 100.0), 100.0, 1e-9); // 1 m² × 100 µm = 100 cm³
}

#[test]
fn a_comb_reads_between_teeth() {
    let teeth: Vec<f64> = [6.0, 7.0, 8.0, 10.0, 12.0].map(|m| m * MIL).to_vec();
    let read = comb(&teeth, Some(8.0 * MIL), Prefs::METRIC).unwrap();
    near(read.lo / MIL, 8.0, 1e-9);
    near(read.hi / MIL, 10.0, 1e-9);
    near(comb(&teeth, None, Prefs::METRIC).unwrap().hi / MIL, 6.0, 1e-9);
    assert_eq!(comb(&teeth, Some(9.0 * MIL), Prefs::METRIC).unwrap_err().code, "not-on-comb");
    assert_eq!(comb(&teeth, Some(12.0 * MIL), Prefs::METRIC).unwrap_err().code, "comb-too-short");
    assert!(comb(&[], None, Prefs::METRIC).is_err());
}

#[test]
fn this_pass_is_the_difference_of_intervals() {
    // Total 16–18 less pass one 8–9: this pass 7–10.
    let pass = less(Measured::between(16.0, 18.0), Measured::between(8.0, 9.0));
    assert_eq!((pass.lo, pass.hi), (7.0, 10.0));
    let total = plus(Measured::between(8.0, 9.0), Measured::between(7.0, 8.0));
    assert_eq!((total.lo, total.hi), (15.0, 17.0));
}
