//! Adding entries up. Total: any book folds, and striking never fails.

use super::hand_over::TakeOver;
use super::mixed::{Born, Divide};
use super::payload::{CloseCharge, Ended, Payload};
use super::record::{Birth, Charge, CombRead, Logged, Poured, Record, Signature, Stamped};
use super::{Entry, Kind, deviations};
use crate::film;
use crate::mixing::{self, Component, Weighed};
use crate::pot_life::HeldTemperature;
use crate::quantity::Prefs;
use crate::sheets::ChargeKind;
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
    if let Some(said) = &said {
        note_birth(record, entry, said, !live);
    }
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
    settle_births(record);
}

/// Hardener met base in a vessel: by the act of combining, or by a pour of hardener onto base. A struck entry counts too,
/// for striking says that a line was wrong and not that the paint is younger.
fn note_birth(record: &mut Record, entry: &Entry, said: &Payload, struck: bool) {
    let charge = match said {
        Payload::Combine(c) => c.charge,
        Payload::Pour(p) if p.component == Component::Hardener => p.charge,
        Payload::Pour(_)
        | Payload::Begin(_)
        | Payload::Conditions(_)
        | Payload::Guards(_)
        | Payload::TakeLot(_)
        | Payload::Tick(_)
        | Payload::OpenCharge(_)
        | Payload::Stirred(_)
        | Payload::PotTemperature(_)
        | Payload::ChooseRig(_)
        | Payload::SetUp(_)
        | Payload::SetStep(_)
        | Payload::CupRun(_)
        | Payload::FlowCatch(_)
        | Payload::Catch(_)
        | Payload::StartSpraying(_)
        | Payload::Pass(_)
        | Payload::Comb(_)
        | Payload::FilmLook(_)
        | Payload::DenyBirth(_)
        | Payload::CloseCharge(_)
        | Payload::PlanMix(_)
        | Payload::Rescue(_)
        | Payload::Transfer(_)
        | Payload::Fill(_)
        | Payload::Divide(_)
        | Payload::HandOver(_)
        | Payload::TakeOver(_)
        | Payload::Flush(_)
        | Payload::Note(_)
        | Payload::Answer(_)
        | Payload::Release(_)
        | Payload::Strike(_)
        | Payload::Sign(_)
        | Payload::Accept(_)
        | Payload::Reopen(_) => return,
    };
    // Poured into the same vessel before, struck or not: base must have been in, or hardener alone was named by a slip.
    let poured = |of: fn(Component) -> bool| {
        record
            .log
            .iter()
            .filter_map(|l| l.said.as_deref())
            .filter_map(|s| if let Payload::Pour(p) = s { Some(p) } else { None })
            .filter(move |p| p.charge == charge && of(p.component))
    };
    let onto_base = matches!(said, Payload::Combine(_)) || poured(|c| c == Component::Base).next().is_some();
    if !onto_base {
        return;
    }
    let own = if let Payload::Pour(p) = said { p.lot.as_ref().map(|l| l.id) } else { None };
    let proportioned = |c: Component| matches!(c, Component::Base | Component::Hardener);
    let lots = poured(proportioned).filter_map(|p| p.lot.as_ref().map(|l| l.id)).chain(own).collect();
    record.births.push(Birth { charge, at: entry.happened, seq: entry.seq, struck, lots });
}

/// Every vessel's birth by struck entries: its own; and, for a pot opened after hardener was struck out of another that holds
/// none any more, that other's, unless both name lots and share none. A lead's denial clears what stood before it.
fn settle_births(record: &mut Record) {
    if record.births.iter().all(|b| !b.struck) {
        return;
    }
    let lots_of = |c: &Charge| -> Vec<Uuid> { c.pours.iter().filter_map(|p| p.it.lot.as_ref().map(|l| l.id)).collect() };
    let gone = |id: Uuid| record.charges.iter().find(|c| c.id == id).is_none_or(|c| c.combined_now().is_none());
    let found: Vec<Option<jiff::Timestamp>> = record
        .charges
        .iter()
        .map(|c| {
            let (own_lots, hardened) = (lots_of(c), c.combined_now().is_some());
            let alike = |b: &Birth| b.lots.is_empty() || own_lots.is_empty() || b.lots.iter().any(|l| own_lots.contains(l));
            let in_its_place = |b: &Birth| hardened && b.seq < c.opened_seq && gone(b.charge) && alike(b);
            let denied = |b: &Birth| record.denied.iter().any(|d| d.it.charge == c.id && d.seq > b.seq);
            let mine = record.births.iter().filter(|b| b.struck && (b.charge == c.id || in_its_place(b)) && !denied(b));
            mine.map(|b| b.at).min()
        })
        .collect();
    for (charge, born) in record.charges.iter_mut().zip(found) {
        charge.born_struck = born;
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
        Kind::Note | Kind::Answer | Kind::Release | Kind::DenyBirth | Kind::Strike | Kind::Sign | Kind::Accept | Kind::Reopen
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
            record.charges.push(Charge { amount: c.amount, opened_seq: entry.seq, ..fresh });
        }
        Payload::Pour(p) => on(record, p.charge, |c| {
            let (component, start_g) = (p.component, c.moved_g.take());
            let weighed = Weighed { component, reading_g: p.reading_g, tared: p.tared, resolution_g: p.resolution_g, start_g };
            let by_mark = p.mark.is_some();
            c.pours.push(stamp(entry, Poured { weighed, lot: p.lot, taken_g: 0.0, by_mark, whole_can: p.whole_can }));
            let (all, last) = (c.weighed(), c.pours.len() - 1);
            c.pours[last].it.taken_g = mixing::poured_g(&all, last);
            c.settle_stirring();
        }),
        Payload::Combine(p) => on(record, p.charge, |c| c.combine = Some(stamp(entry, ()))),
        Payload::Stirred(p) => on(record, p.charge, |c| {
            c.mixes.push((entry.happened, entry.seq));
            c.stirs.push(entry.happened);
            c.settle_stirring();
        }),
        Payload::PotTemperature(p) => on(record, p.charge, |c| {
            let held = HeldTemperature { from: entry.happened, temp_c: p.temp_c };
            // The bench's probe stands beside the pot; a hand that reads the pot is nearer.
            if p.probe.is_some() { c.bench_temperatures.push(held) } else { c.temperatures.push(held) }
        }),
        Payload::ChooseRig(r) => {
            if record.rig.as_ref().is_some_and(|had| had.it.rig != r.rig) {
                let name = r.fitted.as_ref().map_or(String::new(), |rig| rig.name.clone());
                record.rig_changes.push(stamp(entry, name));
            }
            record.rig = Some(stamp(entry, *r));
        }
        Payload::FlowCatch(c) => record.flow_catches.push(stamp(entry, c)),
        Payload::SetUp(s) => record.set_ups.push(stamp(entry, s)),
        Payload::SetStep(s) => record.set_steps.push(stamp(entry, s)),
        Payload::CupRun(c) => record.cup_runs.push(stamp(entry, c)),
        Payload::Catch(c) => record.catches.push(stamp(entry, c)),
        Payload::StartSpraying(p) => on(record, p.charge, |c| {
            if c.started.is_none() {
                (c.started, c.started_seq) = (Some(entry.happened), entry.seq);
            }
            c.over = p.over;
        }),
        Payload::Pass(p) => record.passes.push(stamp(entry, p)),
        Payload::Comb(c) => {
            if let Ok(read_um) = film::comb_as_written(&c.teeth_um, c.tooth_um, Prefs::METRIC) {
                record.combs.push(stamp(entry, CombRead { zone: c.zone, of: c.of, read_um }));
            }
        }
        Payload::FilmLook(l) => record.film_looks.push(stamp(entry, l)),
        Payload::DenyBirth(d) => record.denied.push(stamp(entry, d)),
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
        born_struck: None,
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
        // Stirred there with all that was in it then: what is added here comes after.
        mixes: t.stirred.into_iter().map(|at| (at, i64::MAX)).collect(),
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
