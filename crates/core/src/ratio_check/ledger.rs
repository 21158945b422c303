//! The ledger of a rig and a product: every proof of the ratio in one book, and the regimes it falls into.

use super::bond::BondResult;
use crate::mixing::Said;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::rigs::Exchanged;
use crate::verdict::{Measured, Tolerance, Verdict, is_over};
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A pressure further off than this from the one of a proof, as a part of it, makes it another; from memory.
pub const PRESSURE_OFF: f64 = 0.10;

/// How the ratio was proved.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ProofKind {
    /// Both streams caught for the same time.
    #[strum(serialize = "two catches")]
    TwoCatches,
    /// A pot, by its pours.
    #[strum(serialize = "pot as weighed")]
    PotAsWeighed,
    /// Supplies weighed before and after.
    #[strum(serialize = "whole run")]
    WholeRun,
    /// A test piece pressed and parted.
    #[strum(serialize = "bond test")]
    BondTest,
}

impl Worded for ProofKind {}

/// A ratio as its sheet says it, with the tolerance of that sheet: parts A to one B, or per cent.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LedgerFigure {
    /// Least it may be.
    pub lo: f64,
    /// As measured.
    pub value: f64,
    /// Most it may be.
    pub hi: f64,
    /// Least allowed.
    pub least: f64,
    /// Most allowed.
    pub most: f64,
    /// Per cent of B on A; else parts of A to one of B.
    pub percent: bool,
}

impl LedgerFigure {
    /// Of a ratio said in its sheet's words; `None` where the scale bounds it on one side only.
    pub fn of(said: Said) -> Option<LedgerFigure> {
        let Measured { lo, value, hi } = said.measured;
        let figure = LedgerFigure {
            lo,
            value,
            hi,
            least: said.tolerance.lo?,
            most: said.tolerance.hi?,
            percent: said.kind == QuantityKind::Percent,
        };
        // Where B may be nothing at all, A to one B has no upper end.
        (hi < f64::MAX / 2.0).then_some(figure)
    }

    /// The figure with its interval.
    pub fn measured(&self) -> Measured {
        Measured { lo: self.lo, value: self.value, hi: self.hi }
    }

    /// Its tolerance.
    pub fn tolerance(&self) -> Tolerance {
        Tolerance::between(self.least, self.most)
    }

    /// What it is said in.
    pub fn kind(&self) -> QuantityKind {
        if self.percent { QuantityKind::Percent } else { QuantityKind::Ratio }
    }
}

/// One proof as the ledger keeps it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LedgerProof {
    /// The entry it stands in; of a pot as weighed the pot.
    pub entry: Uuid,
    /// How it was proved.
    pub kind: ProofKind,
    /// When.
    pub at: Timestamp,
    /// Who.
    pub by: String,
    /// The batch, by number; none for a card that was typed in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub number: Option<i64>,
    /// Lot of A.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lot_a: Option<String>,
    /// Lot of B.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lot_b: Option<String>,
    /// Pressure on A.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub a_kpa: Option<f64>,
    /// Pressure on B.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub b_kpa: Option<f64>,
    /// Setting of a machine's catalyst.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting_count: Option<f64>,
    /// Temperature of the material as read last.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temp_c: Option<f64>,
    /// The scale.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub instrument: Option<Uuid>,
    /// Its resolution.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub resolution_g: Option<f64>,
    /// Mass of A.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub a_g: Option<f64>,
    /// Mass of B.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub b_g: Option<f64>,
    /// How long both ran.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub caught_watch_s: Option<f64>,
    /// The ratio; none for a bond test, or where the scale says nothing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub figure: Option<LedgerFigure>,
    /// The verdict, by the sheet of then.
    pub verdict: Verdict,
    /// Sprayed by this batch until then, in kilograms; none where nobody wrote what a pass took.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sprayed_kg: Option<f64>,
    /// How the test piece parted.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bond: Option<BondResult>,
    /// A and B were weighed on two scales.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub two_scales: bool,
}

impl LedgerProof {
    /// It counts for limits and trend: two cups, caught, with a figure.
    pub fn is_caught(&self) -> bool {
        self.kind == ProofKind::TwoCatches && self.figure.is_some()
    }
}

/// A run of proofs under one and the same circumstances.
#[derive(Debug, Clone, PartialEq)]
pub struct Regime {
    /// First proof of it, counted from 0.
    pub from: usize,
    /// One past the last.
    pub to: usize,
    /// What began it, in words; none for the first.
    pub began: Option<String>,
}

/// What stands for a regime: another of these begins a new one.
#[derive(Default)]
struct Stands<'a> {
    lots: [Option<&'a str>; 2],
    kpa: [Option<f64>; 2],
}

/// Parts proofs, oldest first, into regimes.
///
/// **Rule:** a regime begins at another lot of A or B, a pressure moved by over 10 per cent from the regime's first, and an
/// exchanged tip, hose, pump, filter or packing. What nobody wrote is not compared. **Units:** kPa. **Source:** common practice in the
/// trade; per cent from memory.
pub fn regimes(proofs: &[LedgerProof], exchanged: &[Exchanged]) -> Vec<Regime> {
    let mut all: Vec<Regime> = Vec::new();
    let mut stands = Stands::default();
    let mut exchanges = exchanged.iter().peekable();
    for (i, proof) in proofs.iter().enumerate() {
        let mut change = None;
        while let Some(e) = exchanges.next_if(|e| e.at <= proof.at) {
            change = Some(e.what.clone());
        }
        let lots = [proof.lot_a.as_deref(), proof.lot_b.as_deref()];
        for (side, (was, is)) in ["A", "B"].iter().zip(stands.lots.iter().zip(lots)) {
            if let (Some(was), Some(is)) = (was, is)
                && *was != is
            {
                change = Some(format!("{side} from lot {is}"));
            }
        }
        let kpa = [proof.a_kpa, proof.b_kpa];
        for (side, (was, is)) in ["A", "B"].iter().zip(stands.kpa.iter().zip(kpa)) {
            if let (Some(was), Some(is)) = (was, is)
                && is_over((is - was).abs(), PRESSURE_OFF * was)
            {
                change = Some(format!("pressure of {side} moved"));
            }
        }
        match all.last_mut() {
            Some(last) if change.is_none() => last.to = i + 1,
            // What was done before the first proof begins nothing.
            None => all.push(Regime { from: 0, to: 1, began: None }),
            Some(_) => {
                stands = Stands::default();
                all.push(Regime { from: i, to: i + 1, began: change });
            }
        }
        for side in 0..2 {
            stands.lots[side] = stands.lots[side].or(lots[side]);
            stands.kpa[side] = stands.kpa[side].or(kpa[side]);
        }
    }
    all
}

/// What was moved between a proof and the one after it, in words; empty where nothing is known to have moved.
///
/// **Rule:** every pressure and setting that reads otherwise, every other lot, every exchange between. **Units:** kPa.
/// **Source:** the books.
pub fn moved(before: &LedgerProof, after: &LedgerProof, exchanged: &[Exchanged], prefs: Prefs) -> Vec<String> {
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    let mut all = Vec::new();
    for (side, was, is) in [("A", before.a_kpa, after.a_kpa), ("B", before.b_kpa, after.b_kpa)] {
        if let (Some(was), Some(is)) = (was, is)
            && say(was) != say(is)
        {
            all.push(format!("{side} {} to {}", say(was), say(is)));
        }
    }
    if let (Some(was), Some(is)) = (before.setting_count, after.setting_count)
        && was != is
    {
        all.push(format!("catalyst setting {was} to {is}"));
    }
    for (side, was, is) in [("A", &before.lot_a, &after.lot_a), ("B", &before.lot_b, &after.lot_b)] {
        if let (Some(was), Some(is)) = (was, is)
            && was != is
        {
            all.push(format!("{side} from lot {is}"));
        }
    }
    let between = exchanged.iter().filter(|e| e.at > before.at && e.at <= after.at);
    all.extend(between.map(|e| e.what.clone()));
    all
}
