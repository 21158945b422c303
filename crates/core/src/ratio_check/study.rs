//! A regime studied: limits, trend and the rules that fired, from its two-cup catches alone.

use super::ledger::{LedgerFigure, LedgerProof, Regime, regimes};
use super::limits_of::{Fired, Limits, fired_at};
use super::trend::Trend;
use super::{D2_OF_TWO, LEAST_FOR_LIMITS};
use crate::rigs::Exchanged;
use crate::verdict::Tolerance;
use jiff::Timestamp;
use serde::Deserialize;
use std::collections::HashMap;

/// Repeat spread of two catches where the regime says nothing of its own, as a part of the ratio; from memory.
pub const USUAL_REPEAT: f64 = 0.01;

/// A catch as limits and trend see it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Caught {
    /// Its place among all proofs.
    pub index: usize,
    /// When.
    pub at: Timestamp,
    /// Kilograms sprayed by rig and product until then.
    pub kg: Option<f64>,
    /// The ratio.
    pub figure: LedgerFigure,
}

/// What a trend runs along.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Along {
    /// Kilograms sprayed.
    Kilograms,
    /// Hours since the first catch of the regime.
    Hours,
}

/// A regime with what its catches say.
#[derive(Debug, Clone, PartialEq)]
pub struct Studied {
    /// Which proofs.
    pub regime: Regime,
    /// Its catches, oldest first.
    pub catches: Vec<Caught>,
    /// Control limits: frozen from the first eight, or from the eight before they were renewed.
    pub limits: Option<Limits>,
    /// What the trend runs along.
    pub along: Along,
    /// The trend, from eight catches on.
    pub trend: Option<Trend>,
}

impl Studied {
    /// Where a catch stands along the trend.
    ///
    /// **Formula:** kilograms, or hours since the first catch. **Units:** kg or h. **Source:** arithmetic.
    pub fn x(&self, at: Timestamp, kg: Option<f64>) -> Option<f64> {
        match self.along {
            Along::Kilograms => kg,
            Along::Hours => self.catches.first().map(|first| at.duration_since(first.at).as_secs_f64() / 3600.0),
        }
    }

    /// The tolerance of the newest catch.
    pub fn tolerance(&self) -> Option<Tolerance> {
        self.catches.last().map(|c| c.figure.tolerance())
    }

    /// The rules that fired at the last catch.
    pub fn fired(&self) -> Vec<Fired> {
        let values = self.values();
        match (&self.limits, values.len().checked_sub(1)) {
            (Some(limits), Some(last)) => fired_at(&values, limits, last),
            (Some(_), None) | (None, _) => Vec::new(),
        }
    }

    /// For each catch of the regime whether a rule fired there; none without limits.
    pub fn fired_each(&self) -> Vec<bool> {
        let values = self.values();
        let limits = self.limits.as_ref();
        (0..values.len()).map(|at| limits.is_some_and(|limits| !fired_at(&values, limits, at).is_empty())).collect()
    }

    fn values(&self) -> Vec<f64> {
        self.catches.iter().map(|c| c.figure.value).collect()
    }

    /// How far two catches of the same ratio differ by themselves, as a part of it, in standard deviations.
    ///
    /// **Formula:** `MR̄/1.128` of the regime's catches over their mean, from eight on; else 1 per cent. **Units:** none.
    /// **Source:** NIST/SEMATECH e-Handbook 6.3.2.2; the 1 per cent from memory.
    pub fn repeat(&self) -> f64 {
        self.limits.map_or(USUAL_REPEAT, |l| l.range / D2_OF_TWO / l.mean)
    }
}

/// Studies every regime of a ledger, oldest first. `renewed`: when the limits were asked to be renewed, oldest first.
///
/// **Rule:** limits and trend come from two-cup catches only. **Units:** as [`Caught`]. **Source:** common practice; see
/// [`Limits`] and [`Trend`].
pub fn study(proofs: &[LedgerProof], along_kg: &[Option<f64>], exchanged: &[Exchanged], renewed: &[Timestamp]) -> Vec<Studied> {
    let parted = regimes(proofs, exchanged);
    parted.into_iter().map(|regime| studied(proofs, along_kg, regime, renewed)).collect()
}

fn studied(proofs: &[LedgerProof], along_kg: &[Option<f64>], regime: Regime, renewed: &[Timestamp]) -> Studied {
    let caught = |index: usize| {
        let proof = &proofs[index];
        let figure = proof.figure.filter(|_| proof.is_caught())?;
        Some(Caught { index, at: proof.at, kg: along_kg.get(index).copied().flatten(), figure })
    };
    let catches: Vec<Caught> = (regime.from..regime.to).filter_map(caught).collect();
    let values: Vec<f64> = catches.iter().map(|c| c.figure.value).collect();
    let by_kg = catches.iter().all(|c| c.kg.is_some()) && catches.first().map(|c| c.kg) != catches.last().map(|c| c.kg);
    let along = if by_kg { Along::Kilograms } else { Along::Hours };
    let before = |at: Timestamp| catches.partition_point(|c| c.at <= at);
    let renewed = renewed.iter().rev().map(|at| before(*at)).find(|n| *n >= LEAST_FOR_LIMITS);
    let limits = match renewed {
        Some(n) => Limits::of(&values[n - LEAST_FOR_LIMITS..n]),
        None => Limits::frozen(&values),
    };
    let mut studied = Studied { regime, catches, limits, along, trend: None };
    let points: Vec<(f64, f64)> = studied.catches.iter().filter_map(|c| Some((studied.x(c.at, c.kg)?, c.figure.value))).collect();
    studied.trend = Trend::of(&points);
    studied
}

/// Kilograms sprayed by rig and product until each proof.
///
/// **Formula:** what other batches had sprayed by then, and what this one had. `totals`: batch, when it ended, kilograms.
/// **Units:** kg. **Source:** arithmetic. `None` where a proof's own batch does not know what it sprayed.
pub fn along_kg(proofs: &[LedgerProof], totals: &[SprayedBatch]) -> Vec<Option<f64>> {
    let mut by_end: Vec<&SprayedBatch> = totals.iter().collect();
    by_end.sort_by_key(|t| t.ended);
    let mut sums = vec![0.0];
    sums.extend(by_end.iter().scan(0.0, |sum, t| {
        *sum += t.kg;
        Some(*sum)
    }));
    let of_batch: HashMap<i64, &SprayedBatch> = totals.iter().map(|t| (t.number, t)).collect();
    let of = |proof: &LedgerProof| {
        let ended = by_end.partition_point(|t| t.ended <= proof.at);
        // Its own batch may have ended by then: what it had sprayed is counted once.
        let own = proof.number.and_then(|number| of_batch.get(&number)).filter(|t| t.ended <= proof.at);
        Some(sums[ended] - own.map_or(0.0, |t| t.kg) + proof.sprayed_kg?)
    };
    proofs.iter().map(of).collect()
}

/// What a batch sprayed in all.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
pub struct SprayedBatch {
    /// By number.
    pub number: i64,
    /// When its last pass was.
    pub ended: Timestamp,
    /// Kilograms.
    pub kg: f64,
}
