//! The book of a batch: how its entries add up, over and above what every book does.

use super::beside::Beside;
use super::case::Case;
use super::charge::Charge;
use super::check::check;
use super::entries::{EntryKind, Hardens, Payload, Told};
use super::record::{Birth, Record};
use super::{Entry, deviations};
use crate::book::{Asking, Ledger, Log, Strike};
use crate::component::Component;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use serde_json::Value;
use uuid::Uuid;

impl Ledger for Record {
    const BOOK: &'static str = "batch";
    type Kind = EntryKind;
    type Said = Payload;
    type Beside = Beside;

    fn log(&self) -> &Log<EntryKind, Payload> {
        &self.log
    }

    fn log_mut(&mut self) -> &mut Log<EntryKind, Payload> {
        &mut self.log
    }

    fn decode(kind: EntryKind, version: i32, payload: &Value) -> Result<Payload, Refusal> {
        Payload::decode(kind, version, payload)
    }

    fn strike(said: &Payload) -> Option<&Strike> {
        if let Payload::Strike(strike) = said { Some(strike) } else { None }
    }

    fn note(&mut self, said: &Payload, entry: &Entry, struck: bool) {
        note_birth(self, entry, said, struck);
    }

    fn apply(&mut self, said: &Payload, entry: &Entry) {
        if entry.kind.is_work() {
            self.workers.insert(entry.who);
        }
        said.clone().apply(self, entry);
    }

    fn settle(&mut self) {
        settle_births(self);
    }

    fn finish(&mut self) {
        self.deviations = deviations::find(self, Prefs::METRIC);
    }

    fn may(&self, entry: &mut Entry, asked: &Asking<'_, Beside>) -> Result<(), Refusal> {
        check(&Case::new(self, asked.beside), entry, asked.writer, asked.now)
    }

    fn words(&self, said: &Payload, prefs: Prefs) -> String {
        said.words(&Told { record: self, prefs })
    }
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
