//! What holds whatever is caught.

use super::*;

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, cases: 200, ..ProptestConfig::default() })]

    /// A worse slope is never due later.
    #[test]
    fn a_worse_slope_is_never_due_later(play in prop::collection::vec(-0.03f64..0.03, 8..20), slope in 0.0f64..0.02, worse in 0.0f64..0.02) {
        let of = |slope: f64| {
            let proofs: Vec<LedgerProof> = (0..).map(f64::from).zip(&play).map(|(x, e)| caught(7.9 + slope * x + e, x, x)).collect();
            let all = studied(&proofs, &[]);
            (due(all.last().unwrap(), Some(100.0 * 3600.0)), all[0].trend.unwrap().slope)
        };
        let ((mild, rises), (steep, _)) = (of(slope), of(slope + worse));
        // One that falls is not made worse by rising.
        prop_assume!(rises >= 0.0);
        if let (Some(mild), Some(steep)) = (mild, steep) {
            let kg = |d: &ratio_check::Due| if d.noisy { 0.0 } else { d.at_kg.unwrap_or(f64::MAX) };
            prop_assert!(kg(&steep) <= kg(&mild) + 1e-6, "{mild:?} {steep:?}");
        }
    }

    /// Limits are the same whatever unit the values are in.
    #[test]
    fn limits_are_unchanged_by_unit(values in prop::collection::vec(1.0f64..50.0, 8..40), unit in 0.001f64..1000.0) {
        let (plain, scaled) = (Limits::of(&values), Limits::of(&values.iter().map(|v| v * unit).collect::<Vec<_>>()));
        match (plain, scaled) {
            (Some(p), Some(s)) => {
                prop_assert!((s.lo() / unit - p.lo()).abs() < 1e-6 * p.hi().abs().max(1.0));
                prop_assert!((s.hi() / unit - p.hi()).abs() < 1e-6 * p.hi().abs().max(1.0));
            }
            (p, s) => prop_assert_eq!(p.is_some(), s.is_some()),
        }
    }

    /// A regime never mixes lots, whatever is written and whatever is not; regimes lie end to end.
    #[test]
    fn a_regime_never_mixes_lots(lots in prop::collection::vec((0u8..4, 0u8..4), 1..40)) {
        let name = |n: u8| (n > 0).then(|| format!("L-{n}"));
        let proofs: Vec<LedgerProof> = (0..)
            .map(f64::from)
            .zip(&lots)
            .map(|(x, (a, b))| LedgerProof { lot_a: name(*a), lot_b: name(*b), ..caught(8.0, x, x) })
            .collect();
        let all = regimes(&proofs, &[]);
        prop_assert_eq!((all[0].from, all.last().unwrap().to), (0, proofs.len()));
        prop_assert!(all.windows(2).all(|w| w[0].to == w[1].from));
        for regime in all {
            for of in [|p: &LedgerProof| p.lot_a.clone(), |p: &LedgerProof| p.lot_b.clone()] {
                let mut known: Vec<String> = proofs[regime.from..regime.to].iter().filter_map(of).collect();
                known.dedup();
                prop_assert!(known.len() <= 1, "{known:?}");
            }
        }
    }

    /// The relative width of a run falls as one over its mass.
    #[test]
    fn a_run_narrows_as_its_mass_grows(a_kg in 1.0f64..60.0, ratio in 2.0f64..12.0, times in 1.5f64..10.0) {
        let width = |times: f64| {
            let run = ratio_check::Run {
                a_g: Measured::pm(a_kg * 1000.0 * times, 20.0),
                b_g: Measured::pm(a_kg * 1000.0 * times / ratio, 20.0),
            };
            run.b_per_a().map(|r| (r.hi - r.lo) / r.value)
        };
        if let (Some(one), Some(more)) = (width(1.0), width(times)) {
            prop_assert!(more <= one / times * 1.0001, "{one} {more} {times}");
        }
    }
}
