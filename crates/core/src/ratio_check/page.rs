//! A ledger as it is read: its proofs newest first, its chart, and when the next check is due.

use super::chart::{Chart, DueView, NEWEST_DRAWN, RuleSaid, chart};
use super::due::{PROOF_GOOD_FOR_S, due};
use super::ledger::{LedgerProof, ProofKind, moved};
use super::study::{Along, SprayedBatch, Studied, along_kg, study};
use super::trend::Trend;
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_duration};
use crate::rigs::Exchanged;
use crate::verdict::{Level, Verdict};
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// Rows of one page.
pub const LEDGER_PAGE: usize = 50;

/// The book of a rig and product, oldest proof first.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Ledger {
    /// Every proof.
    pub proofs: Arc<Vec<LedgerProof>>,
    /// What each batch sprayed.
    pub totals: Vec<SprayedBatch>,
    /// What was exchanged on the rig.
    pub exchanged: Vec<Exchanged>,
    /// When its limits were taken anew, oldest first.
    pub renewed: Vec<Timestamp>,
    /// The shop's own interval between two checks.
    pub shop_s: Option<f64>,
    /// The batch of a proof, by its entry, and the names of scales, where they are known.
    pub batches: Arc<HashMap<Uuid, Uuid>>,
    /// Names of scales.
    pub scales: HashMap<Uuid, String>,
    /// Proofs in doubt, because their scale was found off, in words.
    pub marks: HashMap<Uuid, String>,
}

/// A proof in the list.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct LedgerRow {
    pub entry: Uuid,
    pub at: Timestamp,
    pub by: String,
    pub kind: ProofKind,
    /// Two catches, a pot as weighed, a whole run, a bond test.
    pub word: String,
    /// Its batch, and that by number.
    pub batch: Option<Uuid>,
    pub number: Option<i64>,
    /// What was measured.
    pub measured: String,
    pub level: Option<Level>,
    /// From where to where it may be, by its scale.
    #[serde(default)]
    pub interval: Option<String>,
    pub verdict: Verdict,
    pub lots: String,
    /// Pressures or setting, temperature, scale.
    pub under: String,
    /// What was moved after it.
    pub moved: Vec<String>,
    /// A regime begins here: what began it.
    pub begins: Option<String>,
    /// Its scale was found off since: what that is, and how it was answered.
    #[serde(default)]
    pub mark: Option<String>,
}

/// A ledger as it is read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LedgerPage {
    /// Proofs, newest first.
    pub rows: Vec<LedgerRow>,
    /// Proofs in all.
    pub count: usize,
    /// Given back as `skip` for the next page; missing at the end.
    pub next: Option<usize>,
    /// The chart; none without a proof that has a figure.
    pub chart: Option<Chart>,
    /// When the next check is due.
    pub due: Option<DueView>,
    /// Kilograms sprayed by rig and product.
    pub sprayed: Option<Shown>,
}

impl Ledger {
    /// The ledger studied, regime by regime.
    pub fn studied(&self) -> Vec<Studied> {
        study(&self.proofs, &along_kg(&self.proofs, &self.totals), &self.exchanged, &self.renewed)
    }

    /// A page of it: `skip` of the newest proofs left out; the chart of the newest, or with `all` of every one.
    pub fn page(&self, now: Timestamp, skip: usize, all: bool, prefs: Prefs) -> LedgerPage {
        let studied = self.studied();
        let due = studied.last().and_then(|s| due(s, self.shop_s));
        let drawn = if all { usize::MAX } else { NEWEST_DRAWN };
        let kg: f64 = self.totals.iter().map(|t| t.kg).sum();
        let till = self.proofs.len().saturating_sub(skip);
        let from = till.saturating_sub(LEDGER_PAGE);
        LedgerPage {
            rows: (from..till).rev().map(|i| self.row(i, &studied, prefs)).collect(),
            count: self.proofs.len(),
            next: (from > 0).then_some(skip + till - from),
            chart: chart(&self.proofs, &studied, drawn, prefs).map(|mut chart| {
                chart.said.extend(studied.last().and_then(|s| drifts(s, prefs)));
                chart
            }),
            due: due.and_then(|due| {
                let old_s = now.duration_since(due.since).as_secs_f64();
                // Of an old catch no clock runs: every coat begins with one.
                (old_s <= PROOF_GOOD_FOR_S).then(|| due.view(now, Some(kg), None, prefs))
            }),
            sprayed: (kg > 0.0).then(|| show(kg * 1000.0, QuantityKind::Mass, prefs)),
        }
    }

    fn row(&self, i: usize, studied: &[Studied], prefs: Prefs) -> LedgerRow {
        let proof = &self.proofs[i];
        let say = |v: f64, kind| show(v, kind, prefs).text;
        let begins = studied.binary_search_by_key(&i, |s| s.regime.from).ok().and_then(|at| studied[at].regime.began.clone());
        let after = self.proofs.get(i + 1);
        LedgerRow {
            entry: proof.entry,
            at: proof.at,
            by: proof.by.clone(),
            kind: proof.kind,
            word: proof.kind.word().into(),
            batch: self.batches.get(&proof.entry).copied(),
            number: proof.number,
            measured: measured(proof, prefs),
            level: proof.figure.map(|f| Level::draw("Ratio", f.measured(), f.tolerance(), 1.0, f.kind(), prefs)),
            interval: proof.figure.map(|f| format!("{} to {}", say(f.lo, f.kind()), say(f.hi, f.kind()))),
            verdict: proof.verdict,
            lots: [&proof.lot_a, &proof.lot_b].into_iter().flatten().cloned().collect::<Vec<_>>().join(", "),
            under: {
                let pressure =
                    |side: &str, kpa: Option<f64>| kpa.map(|kpa| format!("{side} {}", say(kpa, QuantityKind::Pressure)));
                let scale = proof.instrument.and_then(|id| self.scales.get(&id).cloned());
                let scale = scale.or_else(|| proof.resolution_g.map(|d| format!("scale of {}", say(d, QuantityKind::Mass))));
                let each = [
                    pressure("A", proof.a_kpa),
                    pressure("B", proof.b_kpa),
                    proof.setting_count.map(|s| format!("setting {s}")),
                    proof.temp_c.map(|c| say(c, QuantityKind::Temperature)),
                    scale,
                ];
                each.into_iter().flatten().collect::<Vec<_>>().join(" · ")
            },
            moved: after.map(|after| moved(proof, after, &self.exchanged, prefs)).unwrap_or_default(),
            begins,
            mark: self.marks.get(&proof.entry).cloned(),
        }
    }
}

/// What the trend of a regime says, where its slope is real: which limit its band meets, and after how much or how long.
fn drifts(s: &Studied, prefs: Prefs) -> Option<RuleSaid> {
    let (trend, last) = (s.trend.filter(Trend::is_real)?, s.catches.last()?);
    let x = s.x(last.at, last.kg)?;
    let meets = trend.meets(last.figure.tolerance(), x);
    let limit = if trend.slope > 0.0 { last.figure.most } else { last.figure.least };
    let limit = show(limit, last.figure.kind(), prefs).text;
    let when = meets.map(|m| match s.along {
        Along::Kilograms => format!("after {} more", show((m - x) * 1000.0, QuantityKind::Mass, prefs).text),
        Along::Hours => format!("{} after the last catch", show_duration((m - x) * 3600.0)),
    });
    let text = match (meets, when) {
        (Some(m), _) if m <= x => {
            "The slope is real, and the band of the next catch is past its limit already: catch longer.".into()
        }
        (_, Some(when)) => format!("The slope is real and no play of chance. The band of the next catch meets {limit} {when}."),
        (_, None) => "The slope is real and no play of chance.".into(),
    };
    Some(RuleSaid { title: "It drifts.".into(), text })
}

/// What was measured, in words.
fn measured(proof: &LedgerProof, prefs: Prefs) -> String {
    if let Some(bond) = proof.bond {
        return bond.word().into();
    }
    let say = |g: Option<f64>| g.map_or("nothing".into(), |g| show(g, QuantityKind::Mass, prefs).text);
    format!("A {} to B {}", say(proof.a_g), say(proof.b_g))
}
