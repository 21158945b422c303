//! Adding entries up. Total: any book folds, and striking never fails.

use super::charge::Charge;
use super::entries::{Hardens, Kind, Payload};
use super::record::{Birth, Logged, Record};
use super::{Entry, deviations};
use crate::component::Component;
use crate::quantity::Prefs;
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
        if entry.kind.is_work() {
            record.workers.insert(entry.who);
        }
        Payload::clone(&said).apply(record, entry);
    }
    settle_births(record);
}

/// Hardener met base in a vessel: by the act of combining, or by a pour of hardener onto base. A struck entry counts too,
/// for striking says that a line was wrong and not that the paint is younger.
fn note_birth(record: &mut Record, entry: &Entry, said: &Payload, struck: bool) {
    let Some(Hardens { charge, lot, onto_base }) = said.hardens() else { return };
    // Poured into the same vessel before, struck or not: base must have been in, or hardener alone was named by a slip.
    let poured = |of: fn(Component) -> bool| {
        record
            .log
            .iter()
            .filter_map(|l| l.said.as_deref())
            .filter_map(|s| if let Payload::Pour(p) = s { Some(p) } else { None })
            .filter(move |p| p.charge == charge && of(p.component))
    };
    if !onto_base && poured(|c| c == Component::Base).next().is_none() {
        return;
    }
    let proportioned = |c: Component| matches!(c, Component::Base | Component::Hardener);
    let lots = poured(proportioned).filter_map(|p| p.lot.as_ref().map(|l| l.id)).chain(lot).collect();
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
