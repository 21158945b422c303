//! Air, tips and the ladder. Air hoses by fluids 1.3.1 (Colebrook) with air of CoolProp 8.0.0; script
//! `tests/reference/delivery.py`. Class rules, codes and rungs are common practice in the trade.

use super::near;
use level_keel_core::atomizing::{
    air_hose::AirHose,
    classes::{AirRead, GunClass, ReadHow, air_notes},
    ladder::{Climb, LadderSchool, Pattern, Rung, next},
    tips::{TipRow, decode, fan_mm, wear, wear_words},
};
use level_keel_core::quantity::Prefs;
use level_keel_core::worded::VariantArray;
use level_keel_core::worded::Worded;

const PSI: f64 = 6.894_757_293_168_361;
const SCFM: f64 = 28.316_846_592;

fn hose(bore_in: f64, feet: f64) -> AirHose {
    AirHose { bore_mm: bore_in * 25.4, length_mm: feet * 304.8 }
}

#[test]
fn air_hoses_by_reference_libraries() {
    for (scfm, bore_in, feet, wall, left) in [
        (12.0, 0.25, 25.0, 50.0, 26.487),
        (12.0, 0.3125, 25.0, 50.0, 43.590),
        (12.0, 0.375, 25.0, 50.0, 47.519),
        (12.0, 0.3125, 50.0, 50.0, 36.364),
        (20.0, 0.375, 50.0, 60.0, 47.942),
        (8.0, 0.25, 35.0, 40.0, 22.715),
        (16.0, 0.375, 75.0, 80.0, 71.024),
        (5.0, 0.25, 15.0, 30.0, 26.749),
    ] {
        let hose = hose(bore_in, feet);
        let got = hose.at_gun_kpa(wall * PSI, scfm * SCFM).unwrap() / PSI;
        // Haaland within 2 % of the drop by Colebrook.
        near(wall - got, wall - left, 0.02 * (wall - left));
        near(hose.at_wall_kpa(got * PSI, scfm * SCFM).unwrap() / PSI, wall, 1e-6);
    }
    let thin = hose(0.25, 50.0).at_gun_kpa(50.0 * PSI, 12.0 * SCFM).unwrap_err();
    assert_eq!(thin.code, "hose-too-thin");
    assert_eq!(hose(0.25, 50.0).at_gun_kpa(-200.0, 12.0 * SCFM).unwrap_err().code, "hose-too-thin");
}

#[test]
fn tip_codes() {
    let tip = decode("517", &[]).unwrap();
    near(tip.angle_deg, 50.0, 1e-9);
    near(tip.nominal_fan_mm / 25.4, 10.0, 1e-9);
    near(tip.geometric_fan_mm / 25.4, 11.19, 0.005);
    near(tip.hole_mm / 25.4, 0.017, 1e-9);
    near(fan_mm(40.0, 457.2) / 25.4, 36.0 * 20f64.to_radians().tan(), 1e-9);
    for bad in ["52", "5170", "017", "500", "", "5a7", "٥١٧", "5 17"] {
        assert_eq!(decode(bad, &[]).unwrap_err().code, "tip-code", "{bad}");
    }
    let own = [TipRow { code: "W-4".into(), angle_deg: 40.0, hole_mm: 0.53 }];
    near(decode("w-4", &own).unwrap().hole_mm, 0.53, 1e-12);
}

#[test]
fn wear_by_flow_at_the_root_of_pressure() {
    near(wear((1000.0, 100.0), (1180.0, 100.0)).unwrap(), 1.18, 1e-12);
    assert_eq!(wear_words(1.18), Some("wearing: have another ready"));
    assert_eq!(wear_words(1.3), Some("worn out: replace it"));
    assert_eq!(wear_words(1.1), None);
    assert_eq!(wear((0.0, 100.0), (100.0, 100.0)), None);
}

#[test]
fn classes_and_what_they_say() {
    let read = |kpa: f64| AirRead { kpa, at: None, how: None, printed_kpa: None, at_gun_kpa: None };
    let says = |class, r| air_notes(class, r, Prefs::default()).join(" ").replace('\u{a0}', " ");
    assert_eq!(says(GunClass::Conventional, read(45.0 * PSI)), "");
    assert!(says(GunClass::TwinFeed, read(30.0 * PSI)).contains("do not blend"));
    assert!(says(GunClass::Hvlp, read(35.0 * PSI)).contains("30 psi at most"));
    // What is printed on the gun rules over the class.
    assert_eq!(says(GunClass::Hvlp, AirRead { printed_kpa: Some(40.0 * PSI), ..read(35.0 * PSI) }), "");
    assert!(says(GunClass::Hvlp, AirRead { printed_kpa: Some(29.0 * PSI), ..read(35.0 * PSI) }).contains("printed on this gun"));
    assert!(says(GunClass::Conventional, AirRead { how: Some(ReadHow::Closed), ..read(45.0 * PSI) }).contains("trigger closed"));
    for class in GunClass::VARIANTS.iter().copied() {
        if let Some(rule) = class.air() {
            assert_eq!(says(class, read(rule.start_kpa)), "", "{}", class.word());
        }
    }
}

#[test]
fn the_ladder_stops_at_the_lowest_full_pattern() {
    let psi = |kpa: f64| (kpa / PSI).round();
    for school in [LadderSchool::Fives, LadderSchool::Tens] {
        assert_eq!(next(school, false, &[]), Climb::CatalystAir);
        // A rig that is full from 45 psi on.
        let mut tried = Vec::new();
        let done = loop {
            match next(school, true, &tried) {
                Climb::To(kpa) => {
                    let pattern = match psi(kpa) {
                        p if p < 35.0 => Pattern::RoundFingers,
                        p if p < 45.0 => Pattern::OvalFingers,
                        _ => Pattern::Even,
                    };
                    tried.push(Rung { pump_kpa: kpa, pattern, refined: true });
                }
                Climb::Done(kpa) => break psi(kpa),
                other => panic!("{other:?}"),
            }
        };
        let by_hand = if school == LadderSchool::Fives { 45.0 } else { 50.0 };
        assert_eq!(done, by_hand, "{}", school.words(Prefs::METRIC));
    }
    let rung = |p: f64, pattern| Rung { pump_kpa: p * PSI, pattern, refined: false };
    let top = [rung(60.0, Pattern::HeavyEnds)];
    assert_eq!(next(LadderSchool::Tens, true, &top), Climb::ChangeTip);
    assert_eq!(next(LadderSchool::Tens, true, &[rung(40.0, Pattern::Lopsided)]), Climb::TurnCap);
    // Fog at the second rung with fingers under it: there is nothing between.
    let fog = [rung(30.0, Pattern::OvalFingers), rung(40.0, Pattern::Fog)];
    assert!(matches!(next(LadderSchool::Tens, true, &fog), Climb::Done(kpa) if psi(kpa) == 40.0));
    let fog = [rung(50.0, Pattern::Fog)];
    assert!(matches!(next(LadderSchool::Tens, true, &fog), Climb::To(kpa) if psi(kpa) == 40.0));
}
