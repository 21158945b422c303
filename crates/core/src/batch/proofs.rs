//! The proofs of a batch as the ledger of its rig and product keeps them, and what that ledger says of the next check.

use super::case::Case;
use super::charge::Charge;
use super::entries::{Payload, RatioCheck};
use super::gates::catch_said;
use super::record::{Record, Stamped};
use crate::component::Component;
use crate::mixing;
use crate::quantity::Prefs;
use crate::ratio_check::{self, Due, LedgerFigure, LedgerProof, ProofKind, SprayedBatch, Studied, along_kg, due, study};
use crate::rig_book::sprayed_kg;
use crate::sheets::{ChargeKind, Sheet};
use crate::verdict::{Measured, Verdict};
use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;
use uuid::Uuid;

/// What the ledger of a rig and product knows from other batches. Given by the server when a record is read, never stored.
#[derive(Debug, Clone, Default, PartialEq, Deserialize)]
pub struct RigLedger {
    /// Its newest proofs, oldest first, without those of this batch.
    pub proofs: Vec<LedgerProof>,
    /// What other batches sprayed through the rig since the first of them.
    pub totals: Vec<SprayedBatch>,
    /// When its limits were asked to be renewed, oldest first.
    pub renewed: Vec<Timestamp>,
    /// The shop's own interval between two checks.
    #[serde(default)]
    pub shop_s: Option<f64>,
}

/// A proof, and the rig it is of, where one was chosen by then.
pub type OfRig = (Option<Uuid>, LedgerProof);

/// Every proof a batch holds, in the order they happened.
pub fn proofs(record: &Record) -> Vec<OfRig> {
    let Some(aim) = record.aim() else { return Vec::new() };
    let sheet = &aim.sheet;
    let caught = record.catches.iter().map(|c| of_catch(record, sheet, c));
    let weighed = record.charges.iter().filter_map(|charge| of_pot(record, sheet, charge));
    let runs = record.runs.iter().filter_map(|r| {
        let run = r.it.run(Prefs::METRIC).ok()?;
        let figure = run.b_per_a().and_then(|b_per_a| mixing::said(sheet, b_per_a)).and_then(LedgerFigure::of);
        let bare = bare(record, ProofKind::WholeRun, r.entry, r.at, &r.by);
        Some(LedgerProof {
            instrument: r.it.instrument,
            resolution_g: Some(r.it.resolution_g),
            a_g: Some(run.a_g.value),
            b_g: Some(run.b_g.value),
            ..judged(bare, figure)
        })
    });
    let bonds = record.bonds.iter().map(|b| {
        let bare = bare(record, ProofKind::BondTest, b.entry, b.at, &b.by);
        LedgerProof { bond: Some(b.it.result), verdict: b.it.result.verdict(), ..bare }
    });
    let mut all: Vec<LedgerProof> = caught.chain(weighed).chain(runs).chain(bonds).collect();
    all.sort_by_key(|p| p.at);
    all.into_iter().map(|p| (rig_at(record, p.at), p)).collect()
}

fn of_catch(record: &Record, sheet: &Sheet, c: &Stamped<RatioCheck>) -> LedgerProof {
    let figure = catch_said(sheet, &c.it).and_then(LedgerFigure::of);
    let bare = bare(record, ProofKind::TwoCatches, c.entry, c.at, &c.by);
    LedgerProof {
        a_kpa: c.it.a_kpa,
        b_kpa: c.it.b_kpa,
        setting_count: c.it.setting_count,
        instrument: c.it.instrument,
        resolution_g: Some(c.it.resolution_g),
        a_g: Some(c.it.a_g),
        b_g: Some(c.it.b_g),
        caught_watch_s: c.it.caught_watch_s,
        ..judged(bare, figure)
    }
}

/// With its figure and what that is by the sheet of then.
fn judged(proof: LedgerProof, figure: Option<LedgerFigure>) -> LedgerProof {
    let verdict = figure.map_or(Verdict::CannotTell, |f| f.tolerance().judge(f.measured()));
    LedgerProof { figure, verdict, ..proof }
}

/// A proof without what was measured: when, by whom, with what lots, how warm, after how much.
fn bare(record: &Record, kind: ProofKind, entry: Uuid, at: Timestamp, by: &str) -> LedgerProof {
    let lot = |component: Component| {
        record.lots_at(at).into_iter().rev().find(|l| l.component == component).map(|l| l.lot.code.clone())
    };
    LedgerProof {
        entry,
        kind,
        at,
        by: by.to_string(),
        number: record.aim().map(|aim| aim.number),
        lot_a: lot(Component::Base),
        lot_b: lot(Component::Hardener),
        a_kpa: None,
        b_kpa: None,
        setting_count: None,
        temp_c: record.conditions_at(at).map(|c| c.it.material_c),
        instrument: None,
        resolution_g: None,
        a_g: None,
        b_g: None,
        caught_watch_s: None,
        figure: None,
        verdict: Verdict::CannotTell,
        sprayed_kg: sprayed_by(record, at),
        bond: None,
        two_scales: false,
    }
}

/// A pot with base and hardener in it, as they were weighed.
fn of_pot(record: &Record, sheet: &Sheet, charge: &Charge) -> Option<LedgerProof> {
    let (at, weighed) = (charge.combined_now()?, charge.weighed());
    let figure = mixing::b_per_a(&weighed).and_then(|b_per_a| mixing::said(sheet, b_per_a)).and_then(LedgerFigure::of)?;
    let last = charge.pours.iter().rev().find(|p| p.it.weighed.component == Component::Hardener)?;
    let by_cup = charge.pours.iter().any(|p| p.it.by_mark);
    let resolution_g = weighed.iter().map(|w| w.resolution_g).fold(0.0, f64::max);
    let bare = bare(record, ProofKind::PotAsWeighed, charge.id, at, &last.by);
    Some(LedgerProof {
        instrument: last.it.instrument,
        resolution_g: (!by_cup).then_some(resolution_g),
        a_g: Some(mixing::total_g(&weighed, Component::Base)),
        b_g: Some(mixing::total_g(&weighed, Component::Hardener)),
        sprayed_kg: None,
        two_scales: charge.pours.iter().any(|p| p.it.instrument != last.it.instrument),
        ..judged(bare, Some(figure))
    })
}

/// The rig that was chosen by then.
fn rig_at(record: &Record, at: Timestamp) -> Option<Uuid> {
    // Most batches have one rig; only where it changed is the log gone through.
    if record.rig_changes.is_empty() {
        return record.rig.as_ref().map(|r| r.it.rig);
    }
    let chosen = record.log.iter().filter(|l| l.struck.is_none()).filter_map(|l| {
        let Some(Payload::ChooseRig(c)) = l.said.as_deref() else { return None };
        Some((l.at, c.rig))
    });
    let all: Vec<(Timestamp, Uuid)> = chosen.collect();
    // What was caught before a rig was written is of the first one.
    all.iter().rev().find(|(when, _)| *when <= at).or(all.first()).map(|(_, rig)| *rig)
}

/// What was sprayed by then, in kilograms of mixed paint; `None` where a pass does not say what it took.
///
/// **Formula:** `Σ` what the passes took, by [`sprayed_kg`]. **Units:** kg. **Source:** arithmetic.
pub fn sprayed_by(record: &Record, at: Timestamp) -> Option<f64> {
    let mut ml = 0.0;
    for pass in record.passes.iter().filter(|p| p.at <= at) {
        ml += pass.it.used_ml?;
    }
    sprayed_kg(&record.aim()?.sheet, ml)
}

/// What a batch sprayed in all through its rig, for the ledger: when its last pass was, and how much.
pub fn sprayed_in_all(record: &Record) -> Option<(Timestamp, f64)> {
    let ended = super::beside::ended(record)?;
    Some((ended, sprayed_by(record, ended)?))
}

/// The ledger of the rig and product of a batch, its own proofs in it, and one more that is just written.
pub fn studied(case: &Case<'_>, new: Option<LedgerProof>) -> Vec<Studied> {
    let rig = case.record.rig.as_ref().map(|r| r.it.rig);
    let own = proofs(case.record).into_iter().filter(|(of, _)| *of == rig).map(|(_, p)| p);
    let ledger = &case.beside.ledger;
    let mut all: Vec<LedgerProof> = ledger.proofs.iter().cloned().chain(own).chain(new).collect();
    all.sort_by_key(|p| p.at);
    let kg = along_kg(&all, &ledger.totals);
    study(&all, &kg, &case.beside.rig_exchanged, &ledger.renewed)
}

/// When the check after a catch that is just written is due, by the ledger as it stands then: in kilograms of this batch.
pub fn due_after(case: &Case<'_>, catch: &Stamped<RatioCheck>) -> Option<Due> {
    let aim = case.aim().filter(|aim| aim.sheet.charge == ChargeKind::AtGun)?;
    let all = studied(case, Some(of_catch(case.record, &aim.sheet, catch)));
    let due = due(all.last()?, case.beside.ledger.shop_s)?;
    let others: f64 = case.beside.ledger.totals.iter().filter(|t| t.ended <= catch.at).map(|t| t.kg).sum();
    Some(Due { at_kg: due.at_kg.map(|kg| kg - others), ..due })
}

/// When the ratio is to be checked next, as the newest catch by an instant (`None`: now) has it, and what this batch had sprayed
/// by then, in kilograms.
pub fn next_due(case: &Case<'_>, at: Option<Timestamp>, now: Timestamp) -> Option<(Due, Option<f64>)> {
    let then = at.unwrap_or(now);
    let last = case.catches.iter().rev().find(|c| at.is_none() || c.at <= then)?;
    Some((last.it.due?, sprayed_by(case.record, then)))
}

/// Kilograms a second over the last hour; `None` where nothing was sprayed in it or nobody knows how much.
///
/// **Formula:** `Σ kg of the last hour / 3600`. **Units:** kg/s. **Source:** arithmetic.
pub fn last_hours_rate(case: &Case<'_>, now: Timestamp) -> Option<f64> {
    let before = now.checked_sub(SignedDuration::from_hours(1)).ok()?;
    let kg = sprayed_by(case.record, now)? - sprayed_by(case.record, before)?;
    (kg > 0.0).then_some(kg / 3600.0)
}

/// The mean of this batch's catches that stand under one regime with its run, with its own interval.
pub fn mean_of_catches(case: &Case<'_>) -> Option<Measured> {
    let sheet = &case.aim()?.sheet;
    let figures: Vec<Measured> = case.catches.iter().filter_map(|c| catch_said(sheet, &c.it)).map(|s| s.measured).collect();
    // Those caught while it was still being set say nothing of the run: from the last pressure that was moved on.
    let moved = case.catches.windows(2).rposition(|w| moved_between(&w[0].it, &w[1].it)).map_or(0, |i| i + 1);
    ratio_check::mean_of(figures.get(moved..)?)
}

fn moved_between(a: &RatioCheck, b: &RatioCheck) -> bool {
    let off = |was: Option<f64>, is: Option<f64>| {
        was.zip(is).is_some_and(|(was, is)| (is - was).abs() > ratio_check::PRESSURE_OFF * was.abs())
    };
    off(a.a_kpa, b.a_kpa) || off(a.b_kpa, b.b_kpa) || off(a.setting_count, b.setting_count)
}
