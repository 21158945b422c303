//! Properties of the fluid line and the air hose over any input, and the stream test on two hundred seeded rigs.

use level_keel_core::atomizing::{air_hose::AirHose, tips};
use level_keel_core::delivery::advise::{Seen, Takes, next, short_of, start_kpa};
use level_keel_core::delivery::calibrate::viscosity_mpa_s;
use level_keel_core::delivery::viscosity::FlowCup;
use level_keel_core::delivery::{BEND_MM, Eye, Fluid, FluidLine, Regime, stream_verdict};
use level_keel_core::quantity::Prefs;
use level_keel_core::sheets::StreamSchool;
use level_keel_core::verdict::Verdict;
use level_keel_core::worded::VariantArray;
use proptest::prelude::*;

const PSI: f64 = 6.894_757_293_168_361;

fn line() -> impl Strategy<Value = FluidLine> {
    (3.0..20.0f64, 200.0..60_000.0f64, -2000.0..5000.0f64, 0.5..4.0f64).prop_map(
        |(hose_bore_mm, hose_length_mm, lift_mm, nozzle_mm)| FluidLine { hose_bore_mm, hose_length_mm, lift_mm, nozzle_mm },
    )
}

fn fluid() -> impl Strategy<Value = Fluid> {
    (0.0..9.0f64, 0.7..2.0f64, prop_oneof![3 => Just(1.0), 1 => 0.3..1.0f64]).prop_map(|(log, density_kg_l, flow_index)| Fluid {
        viscosity_mpa_s: log.exp(),
        density_kg_l,
        flow_index,
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(512))]

    #[test]
    fn flow_rises_with_pressure(l in line(), f in fluid(), kpa in 1.0..500.0f64, more in 0.1..200.0f64) {
        let (low, high) = (l.at(&f, kpa), l.at(&f, kpa + more));
        prop_assert!(high.flow_ml_min >= low.flow_ml_min * (1.0 - 1e-9), "{low:?} {high:?}");
    }

    #[test]
    fn flow_rises_with_bore_and_falls_with_viscosity_and_length(l in line(), f in fluid(), kpa in 20.0..500.0f64, by in 1.01..3.0f64) {
        let flow = |l: FluidLine, f: Fluid| l.at(&f, kpa).flow_ml_min * (1.0 + 1e-9) + 1e-9;
        let here = l.at(&f, kpa).flow_ml_min;
        let wider = flow(FluidLine { nozzle_mm: l.nozzle_mm * by, ..l }, f);
        let shorter = flow(FluidLine { hose_length_mm: l.hose_length_mm / by, ..l }, f);
        prop_assert!(wider >= here && shorter >= here, "{here} {wider} {shorter}");
        // A wider or thinner-filled hose may pass from laminar to turbulent, where the step takes some of what it gains:
        // compared where both flow alike.
        for (other, fluid) in [(FluidLine { hose_bore_mm: l.hose_bore_mm * by, ..l }, f), (l, Fluid { viscosity_mpa_s: f.viscosity_mpa_s / by, ..f })] {
            let (a, b) = (l.at(&f, kpa), other.at(&fluid, kpa));
            if a.regime == b.regime && a.regime != Regime::Join {
                prop_assert!(b.flow_ml_min * (1.0 + 1e-9) + 1e-9 >= a.flow_ml_min, "{a:?} {b:?}");
            }
        }
    }

    #[test]
    fn the_inverse_of_the_inverse(l in line(), f in fluid(), kpa in 1.0..600.0f64) {
        let at = l.at(&f, kpa);
        if matches!(at.regime, Regime::Laminar | Regime::Turbulent) {
            let back = l.drops(&f, at.flow_ml_min);
            prop_assert!((back.total_kpa / kpa - 1.0).abs() < 1e-6, "{at:?} {back:?}");
            if at.flow_ml_min > 1.0 {
                let known = viscosity_mpa_s(&l, &Fluid { viscosity_mpa_s: 10.0, ..f }, kpa, at.flow_ml_min).unwrap();
                let again = l.drops(&Fluid { viscosity_mpa_s: known, ..f }, at.flow_ml_min);
                prop_assert!((again.total_kpa / kpa - 1.0).abs() < 1e-6, "{known} for {}", f.viscosity_mpa_s);
            }
        }
        prop_assert!((at.hose_kpa + at.lift_kpa + at.nozzle_kpa - at.total_kpa).abs() < 1e-6);
    }

    #[test]
    fn air_hoses_both_ways(bore_mm in 3.0..20.0f64, length_mm in 100.0..50_000.0f64, wall in 10.0..900.0f64, nl in 5.0..1500.0f64) {
        let hose = AirHose { bore_mm, length_mm };
        if let Ok(gun) = hose.at_gun_kpa(wall, nl) {
            prop_assert!(gun < wall && gun >= -1e-6);
            prop_assert!((hose.at_wall_kpa(gun, nl).unwrap() - wall).abs() < 1e-4 * wall.max(1.0));
            if let Ok(more) = hose.at_gun_kpa(wall, nl * 1.2) {
                prop_assert!(more <= gun);
            }
        }
    }

    /// Whatever is put in, something is said and nothing panics.
    #[test]
    fn no_input_panics(a in any::<f64>(), b in any::<f64>(), c in any::<f64>(), d in any::<f64>(), e in any::<f64>(), text in ".{0,8}") {
        let line = FluidLine { hose_bore_mm: a, hose_length_mm: b, lift_mm: c, nozzle_mm: d };
        let fluid = Fluid { viscosity_mpa_s: e, density_kg_l: a, flow_index: b };
        let _ = (line.check(Prefs::METRIC), fluid.check(Prefs::METRIC));
        let _ = (line.at(&fluid, c), line.drops(&fluid, d), viscosity_mpa_s(&line, &fluid, a, e));
        let _ = next(&line, &fluid, BEND_MM, &[Seen { pot_kpa: a, stream_mm: b, eye: Eye::Part(0.15) }], c, d, false);
        let _ = short_of(&line, &fluid, BEND_MM, c, d, false);
        let hose = AirHose { bore_mm: a, length_mm: b };
        let _ = (hose.at_gun_kpa(c, d), hose.at_wall_kpa(c, d), tips::decode(&text, &[]));
        for cup in FlowCup::VARIANTS {
            let _ = cup.mm2_s(a, Prefs::METRIC).is_ok();
        }
    }
}

/// A small seeded generator, so that the two hundred rigs are the same on every day: splitmix64, from memory.
struct Seeded(u64);

impl Seeded {
    fn unit(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ (z >> 31)) >> 11) as f64 / (1_u64 << 53) as f64
    }

    fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.unit()
    }
}

/// A seeded rig whose paint is up to 1.8 times thicker or thinner than its sheet says, and that can reach its band.
fn rig(seeded: &mut Seeded, band: (f64, f64)) -> (FluidLine, Fluid, Fluid) {
    loop {
        let line = FluidLine {
            hose_bore_mm: [6.35, 7.94, 9.525, 12.7][(seeded.unit() * 4.0) as usize],
            hose_length_mm: seeded.between(3.0, 12.0) * 1000.0,
            lift_mm: seeded.between(-300.0, 1500.0),
            nozzle_mm: [1.0, 1.2, 1.4, 1.8, 2.2][(seeded.unit() * 5.0) as usize],
        };
        let sheet =
            Fluid { viscosity_mpa_s: seeded.between(30.0, 200.0), density_kg_l: seeded.between(0.9, 1.5), flow_index: 1.0 };
        let really = Fluid { viscosity_mpa_s: sheet.viscosity_mpa_s * 1.8_f64.powf(seeded.between(-1.0, 1.0)), ..sheet };
        let wants = |fluid: &Fluid, mm: f64| line.for_stream(fluid, mm, BEND_MM).total_kpa;
        if wants(&really, (band.0 * band.1).sqrt()) <= 50.0 * PSI && wants(&really, band.0) > 0.0 {
            return (line, sheet, really);
        }
    }
}

const BANDS: [StreamSchool; 3] = [StreamSchool::Industrial, StreamSchool::GeneralPot, StreamSchool::HighTransfer];
const PLATE_KPA: f64 = 80.0 * PSI;

/// Of two hundred rigs, how many have their true stream in the band at one of the first three tries. The eye is off by up to
/// 15 % at each look; with `caught` the second try is a flow that was caught.
fn in_three_tries(school: StreamSchool, caught: bool) -> usize {
    let mut seeded = Seeded(20_261_128);
    let (lo, hi) = school.band_mm();
    let aim = (lo * hi).sqrt();
    (0..200)
        .filter(|_| {
            let (line, sheet, really) = rig(&mut seeded, (lo, hi));
            let mut kpa = start_kpa(&line, &sheet, BEND_MM, aim, PLATE_KPA);
            let mut tries = Vec::new();
            for n in 0..3 {
                let stream_mm = line.at(&really, kpa).stream_mm(BEND_MM);
                if (lo..=hi).contains(&stream_mm) {
                    return true;
                }
                let seen_mm = stream_mm * seeded.between(0.85, 1.15);
                tries.push(Seen { pot_kpa: kpa, stream_mm: seen_mm, eye: Eye::Part(0.15) });
                let known = (caught && n == 1).then(|| {
                    let flow = line.at(&really, kpa).flow_ml_min;
                    Fluid { viscosity_mpa_s: viscosity_mpa_s(&line, &sheet, kpa, flow).expect("it flowed"), ..sheet }
                });
                let fluid = known.unwrap_or(sheet);
                kpa = next(&line, &fluid, BEND_MM, &tries, aim, PLATE_KPA, known.is_some()).expect("it flowed").to_kpa;
            }
            false
        })
        .count()
}

#[test]
fn the_advice_reaches_the_band_in_three_tries() {
    let alone = BANDS.map(|school| in_three_tries(school, false));
    // 98, 97 and 93 of a hundred for 8 to 12, 6 to 8 and 8 to 10 in.
    assert!(alone[0] >= 196 && alone[1] >= 194 && alone[2] >= 186, "{alone:?} of 200");
    let caught = BANDS.map(|school| in_three_tries(school, true));
    assert!(caught.iter().all(|n| *n >= 198), "{caught:?} of 200 with a caught flow");
}

/// *Right* is said only when all the eye allows lies inside: of streams that are outside, by an eye that is good to half an
/// inch, in at most 2 of a hundred. An eye that is off by 15 % can never say it of the two narrow bands.
#[test]
fn right_is_not_said_of_a_stream_outside() {
    let mut seeded = Seeded(7);
    for school in BANDS {
        let (lo, hi) = school.band_mm();
        let (mut outside, mut said) = (0, 0);
        for _ in 0..20_000 {
            let true_mm = seeded.between(lo - 50.0, hi + 50.0);
            let seen_mm = true_mm + seeded.between(-12.7, 12.7);
            if !(lo..=hi).contains(&true_mm) {
                outside += 1;
                said += u32::from(stream_verdict(school, Eye::USUAL.interval(seen_mm)) == Verdict::In);
            }
        }
        assert!(f64::from(said) <= 0.02 * f64::from(outside), "{said} of {outside}");
        let wide = (0..400).map(|i| lo + (hi - lo) * f64::from(i) / 400.0);
        let can = wide.filter(|mm| stream_verdict(school, Eye::Part(0.15).interval(*mm)) == Verdict::In).count();
        assert_eq!(can > 0, school == StreamSchool::Industrial, "{school:?}");
    }
    let seen = |inches: f64| stream_verdict(StreamSchool::Industrial, Eye::USUAL.interval(inches * 25.4));
    assert_eq!((seen(8.1), seen(8.5), seen(10.0)), (Verdict::CannotTell, Verdict::In, Verdict::In));
}

/// 25 ft of 1/4 in with 260 mPa·s: the hose takes it, and more than 50 psi would be wanted.
#[test]
fn a_line_that_cannot_reach_its_band_says_what_takes_the_pressure() {
    let line = FluidLine { hose_bore_mm: 6.35, hose_length_mm: 7620.0, lift_mm: 500.0, nozzle_mm: 1.8 };
    let paint = Fluid { viscosity_mpa_s: 260.0, density_kg_l: 1.2, flow_index: 1.0 };
    let (lo, _) = StreamSchool::Industrial.band_mm();
    let short = |line: &FluidLine, vessel: f64, heavy| short_of(line, &paint, BEND_MM, lo, vessel, heavy);
    let found = short(&line, PLATE_KPA, false).expect("it is out of reach");
    assert_eq!(found.takes, Takes::Hose);
    assert!(found.wants_kpa > 50.0 * PSI && found.most_kpa < 50.1 * PSI);
    let wide = FluidLine { hose_bore_mm: 9.525, ..line };
    assert_eq!(short(&wide, PLATE_KPA, false), None);
    assert!(short(&wide, 5.0 * PSI, false).is_some(), "a vessel of five psi");
    assert_eq!(short(&line, 400.0 * PSI, true), None, "heavy-bodied material is the declared exception");
    let pin = FluidLine { nozzle_mm: 0.6, hose_bore_mm: 12.7, hose_length_mm: 3000.0, ..line };
    assert_eq!(
        short_of(&pin, &Fluid { viscosity_mpa_s: 900.0, ..paint }, BEND_MM, lo, PLATE_KPA, false).map(|s| s.takes),
        Some(Takes::Nozzle)
    );
}
