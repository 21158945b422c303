//! Adding entries up. Total: any book folds, and striking never fails.

use super::hand_over::TakeOver;
use super::mixed::{Born, Divide};
use super::payload::{CloseCharge, Comb, Ended, Payload};
use super::record::{Charge, CombRead, Logged, Poured, Record, Signature, Stamped};
use super::{Entry, Kind, deviations};
use crate::film::{self, CombOf};
use crate::mixing::{self, Weighed};
use crate::pot_life::HeldTemperature;
use crate::quantity::Prefs;
use crate::sheets::ChargeKind;
use crate::verdict::Measured;
use std::collections::HashMap;
use std::sync::Arc;
use uuid::Uuid;

/// An entry that arrived more than this after it happened is flagged.
const LATE_S: i64 = 120;

/// Folds the entries of a book, in sequence, into its record.
pub fn fold(entries: &[Entry]) -> Record {
    let struck = strikes(entries);
    let mut record = Record::default();
    for entry in entries {
        step(&mut record, entry, struck.get(&entry.id).cloned());
    }
    record.deviations = deviations::find(&record, Prefs::METRIC);
    record
}

/// The record with one more entry, the last of `entries`; `before` is the fold of all before it.
///
/// Only a strike reaches back and needs all of `entries`; for everything else it is one step on from where the book
/// stood, and the last alone will do.
pub fn fold_on(before: &Record, entries: &[Entry]) -> Record {
    let Some(last) = entries.last().filter(|e| e.kind != Kind::Strike) else { return fold(entries) };
    let mut record = before.clone();
    step(&mut record, last, strikes(entries).remove(&last.id));
    record.deviations = deviations::find(&record, Prefs::METRIC);
    record
}

/// Adds one entry; a struck one stands in the log alone.
fn step(record: &mut Record, entry: &Entry, struck: Option<String>) {
    let said = Payload::decode(entry.kind, entry.version, &entry.payload).ok().map(Arc::new);
    record.head_seq = entry.seq;
    record.head_hash.clone_from(&entry.hash);
    let live = struck.is_none();
    record.log.push(Logged {
        entry: entry.id,
        seq: entry.seq,
        kind: entry.kind,
        at: entry.happened,
        late: entry.arrived.duration_since(entry.happened).as_secs() > LATE_S,
        who: entry.who,
        by: entry.by.clone(),
        payload: Arc::new(entry.payload.clone()),
        about: said.as_deref().and_then(Payload::charge),
        said: said.clone(),
        struck,
    });
    if let Some(said) = said.filter(|_| live) {
        apply(record, entry, Payload::clone(&said));
    }
}

fn strikes(entries: &[Entry]) -> HashMap<Uuid, String> {
    entries
        .iter()
        .filter(|e| e.kind == Kind::Strike)
        .filter_map(|e| match Payload::decode(e.kind, e.version, &e.payload) {
            Ok(Payload::Strike(s)) => Some((s.entry, format!("{}: {}", e.by, s.reason))),
            _ => None,
        })
        .collect()
}

fn apply(record: &mut Record, entry: &Entry, payload: Payload) {
    fn stamp<T>(entry: &Entry, it: T) -> Stamped<T> {
        Stamped { entry: entry.id, seq: entry.seq, at: entry.happened, by: entry.by.clone(), who: entry.who, it }
    }
    let worked = !matches!(
        entry.kind,
        Kind::Note | Kind::Answer | Kind::Release | Kind::Strike | Kind::Sign | Kind::Accept | Kind::Reopen
    );
    if worked {
        record.workers.insert(entry.who);
    }
    let signature = || Signature { who: entry.who, by: entry.by.clone(), at: entry.happened, hash: entry.hash.clone() };
    match payload {
        Payload::Begin(b) => record.begin = Some(stamp(entry, *b)),
        Payload::Conditions(c) => record.conditions.push(stamp(entry, c)),
        Payload::Guards(g) => record.guards.extend(g.hazards),
        Payload::TakeLot(t) => record.lots.push(stamp(entry, t)),
        Payload::Tick(t) => record.ticks.push(stamp(entry, t)),
        Payload::OpenCharge(c) => {
            let fresh = Charge::open(c.charge, c.no, c.kind, c.wanted_ml, entry.happened);
            record.charges.push(Charge { amount: c.amount, ..fresh });
        }
        Payload::Pour(p) => on(record, p.charge, |c| {
            let (component, start_g) = (p.component, c.moved_g.take());
            let weighed = Weighed { component, reading_g: p.reading_g, tared: p.tared, resolution_g: p.resolution_g, start_g };
            let by_mark = p.mark.is_some();
            c.pours.push(stamp(entry, Poured { weighed, lot: p.lot, taken_g: 0.0, by_mark }));
            let (all, last) = (c.weighed(), c.pours.len() - 1);
            c.pours[last].it.taken_g = mixing::poured_g(&all, last);
        }),
        Payload::Combine(p) => on(record, p.charge, |c| c.combine = Some(stamp(entry, ()))),
        // Stirring again does not restart the induction.
        Payload::Stirred(p) => {
            on(record, p.charge, |c| {
                c.stirred = Some(c.stirred.map_or(entry.happened, |s| s.min(entry.happened)));
                c.stirs.push(entry.happened);
            });
        }
        Payload::PotTemperature(p) => on(record, p.charge, |c| {
            c.temperatures.push(HeldTemperature { from: entry.happened, temp_c: p.temp_c });
        }),
        Payload::ChooseRig(r) => record.rig = Some(stamp(entry, *r)),
        Payload::FlowCatch(c) => record.flow_catches.push(stamp(entry, c)),
        Payload::SetUp(s) => record.set_ups.push(stamp(entry, s)),
        Payload::SetStep(s) => record.set_steps.push(stamp(entry, s)),
        Payload::CupRun(c) => record.cup_runs.push(stamp(entry, c)),
        Payload::Catch(c) => record.catches.push(stamp(entry, c)),
        Payload::StartSpraying(p) => on(record, p.charge, |c| {
            c.started = Some(c.started.unwrap_or(entry.happened));
            c.over = p.over;
        }),
        Payload::Pass(p) => record.passes.push(stamp(entry, p)),
        Payload::Comb(c) => {
            if let Some(read) = comb(record, &c) {
                record.combs.push(stamp(entry, read));
            }
        }
        Payload::CloseCharge(p) => on(record, p.charge, |c| c.closed = Some(stamp(entry, p.clone()))),
        Payload::PlanMix(p) => record.plan_mix = Some(stamp(entry, p)),
        Payload::Rescue(r) => on(record, r.charge, |c| {
            c.rescues.push(stamp(entry, r.to));
            c.retarget = r.plan;
        }),
        Payload::Transfer(t) => on(record, t.charge, |c| {
            c.transfers.push(stamp(entry, t.reading_g));
            c.transferred(t.reading_g);
        }),
        Payload::Fill(f) => on(record, f.charge, |c| {
            if f.stirred {
                c.stirs.push(entry.happened);
            }
            c.fills.push(stamp(entry, f.clone()));
        }),
        Payload::Divide(d) => divide(record, &d),
        Payload::HandOver(h) => {
            let closed = CloseCharge { charge: h.charge, how: Ended::HandedOver, reason: None, waste_ml: None };
            on(record, h.charge, |c| c.closed = Some(stamp(entry, closed)));
        }
        Payload::TakeOver(t) => record.charges.push(taken_over(*t, entry)),
        Payload::Flush(f) => record.flushes.push(stamp(entry, f)),
        Payload::Answer(a) => record.answers.push(stamp(entry, a)),
        Payload::Release(r) => record.releases.push(stamp(entry, r)),
        Payload::Sign(_) => record.signature = Some(signature()),
        Payload::Accept(_) => record.acceptance = Some(signature()),
        Payload::Reopen(_) => (record.signature, record.acceptance) = (None, None),
        Payload::Note(_) | Payload::Strike(_) => {}
    }
}

/// A part of a pot in a vessel of its own: what was poured is shared, the clocks are the same.
fn divide(record: &mut Record, d: &Divide) {
    let Some(aim) = record.aim() else { return };
    let Some(from) = record.charge(d.charge) else { return };
    let mixed = from.mixed_ml(&aim.sheet);
    if mixed <= 0.0 {
        return;
    }
    let part = d.part_ml / mixed;
    let plan = record.plan(from).into_iter().map(|p| p.scaled(part)).collect();
    let new = Charge {
        id: d.new_charge,
        no: d.no,
        wanted_ml: d.part_ml,
        amount: None,
        pours: from.share(part),
        retarget: plan,
        started: None,
        over: None,
        fills: Vec::new(),
        out_ml: 0.0,
        born: Some(Born { of_no: from.no, of_batch: None }),
        combined_before: from.combined(),
        combine: None,
        ..from.clone()
    };
    on(record, d.charge, |c| c.out_ml += d.part_ml);
    record.charges.push(new);
}

fn taken_over(t: TakeOver, entry: &Entry) -> Charge {
    Charge {
        pours: t.pours,
        combined_before: t.combined,
        stirred: t.stirred,
        stirs: t.stirred.into_iter().collect(),
        temperatures: t.temperatures,
        born: Some(Born { of_no: t.no, of_batch: Some(t.from_number) }),
        ..Charge::open(t.charge, t.no, ChargeKind::Pot, t.ml, entry.happened)
    }
}

/// Does something to a charge; to one that was struck away, nothing (a deviation says so).
fn on(record: &mut Record, charge: Uuid, act: impl FnOnce(&mut Charge)) {
    if let Some(charge) = record.charges.iter_mut().find(|c| c.id == charge) {
        act(charge);
    }
}

fn comb(record: &Record, c: &Comb) -> Option<CombRead> {
    let read = film::comb(&c.teeth_um, c.tooth_um, Prefs::METRIC).ok()?;
    let here = |zone: Option<Uuid>| zone.is_none() || c.zone.is_none() || zone == c.zone;
    let after_pass =
        record.passes.iter().filter(|p| p.it.zones.is_empty() || c.zone.is_none_or(|z| p.it.zones.contains(&z))).count();
    // The total before is the last one read here after an earlier pass.
    let before = record.combs.iter().rev().find(|r| here(r.it.zone) && r.it.after_pass < after_pass).map(|r| r.it.total_um);
    let nothing = Measured::between(0.0, 0.0);
    let (total_um, pass_um) = match c.of {
        CombOf::Total => (read, film::less(read, before.unwrap_or(nothing))),
        CombOf::ThisPass => (film::plus(before.unwrap_or(nothing), read), read),
    };
    Some(CombRead { zone: c.zone, after_pass, total_um, pass_um })
}
