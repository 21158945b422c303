//! The ledger of a rig and product: regimes, run rules, the next check, and the way to the ratio on rigs of every kind.

mod due;
mod in_a_batch;
mod properties;
mod regimes;
mod rigs;

use crate::book::*;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::batch::entries::{BondTest, Statement};
use level_keel_core::batch::proofs::{self, RigLedger};
use level_keel_core::batch::{EntryKind, gates};
use level_keel_core::mixing::said;
use level_keel_core::quantity::{Prefs, QuantityKind};
use level_keel_core::ratio_check::{
    self, DueBy, Fired, LedgerFigure, LedgerProof, Limits, NEWEST_DRAWN, ProofKind, RunRule, SprayedBatch, Trial, advise,
    along_kg, b_per_a_of, chart, due, fired_at, moved, regimes, study,
};
use level_keel_core::rig_book::PaperProof;
use level_keel_core::rigs::Exchanged;
use level_keel_core::sheets::Sheet;
use level_keel_core::verdict::{Measured, Verdict};
use proptest::prelude::*;
use serde_json::{Value, json};
use uuid::Uuid;

/// An adhesive of 8 : 1 by weight with ± 5 % on B per A.
fn adhesive() -> Value {
    let changes = json!({
        "name": "Collar adhesive", "label": "Adhesive", "charge": "at_gun", "base_density_kg_l": 0.85, "solids_pct": 40.0,
        "basis": "by_weight", "ratio": 8.0, "hardener_density_kg_l": 1.05, "film_proof": "look"
    });
    with(sheet(), changes)
}

fn morning() -> Timestamp {
    "2026-05-04T08:00:00Z".parse().unwrap()
}

fn after(hours: f64) -> Timestamp {
    morning() + SignedDuration::from_secs_f64(hours * 3600.0)
}

/// A pair of catches of so much to one, `hours` after the morning and after `kg` of its batch.
fn caught(ratio: f64, hours: f64, kg: f64) -> LedgerProof {
    let figure =
        LedgerFigure { lo: ratio - 0.04, value: ratio, hi: ratio + 0.04, least: 8.0 / 1.05, most: 8.0 / 0.95, percent: false };
    LedgerProof {
        entry: Uuid::from_u128((hours * 1000.0) as u128),
        kind: ProofKind::TwoCatches,
        at: after(hours),
        by: "Ansa Reef".into(),
        number: Some(7),
        lot_a: Some("K-1".into()),
        lot_b: Some("V-1".into()),
        a_kpa: Some(90.0),
        b_kpa: Some(55.0),
        setting_count: None,
        temp_c: Some(21.0),
        instrument: None,
        resolution_g: Some(0.1),
        a_g: Some(40.0),
        b_g: Some(5.0),
        caught_watch_s: Some(15.0),
        figure: Some(figure),
        verdict: figure.tolerance().judge(figure.measured()),
        sprayed_kg: Some(kg),
        bond: None,
        two_scales: false,
    }
}

const RISING: [f64; 10] = [8.02, 7.97, 8.05, 8.04, 8.10, 8.06, 8.13, 8.11, 8.17, 8.16];

/// One catch an hour, a kilogram between.
fn rising() -> Vec<LedgerProof> {
    (1..).map(f64::from).zip(RISING).map(|(x, ratio)| caught(ratio, x, x)).collect()
}

fn studied(proofs: &[LedgerProof], exchanged: &[Exchanged]) -> Vec<ratio_check::Studied> {
    study(proofs, &along_kg(proofs, &[]), exchanged, &[])
}

fn exchanged(hours: f64, what: &str) -> Exchanged {
    Exchanged { at: after(hours), what: what.into() }
}
