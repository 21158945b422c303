//! One engine for every log book: of a batch, of a rig, of a lot, of a place.
//!
//! A book is a list of entries that are only ever added. What they add up to is a [`Ledger`]: it says which kinds of entry there
//! are, what each says, whether it may be written and what it changes. The engine does the rest alike for all: it adds up
//! ([`fold`]), leaves out what is struck, judges what is new ([`judge`]), and chains the hashes ([`canonical`]).

pub mod canonical;
mod in_memory;
mod kinds;
mod log;
mod strike;

pub use in_memory::{InMemory, Wanted, next};
pub use kinds::Carries;
pub(crate) use kinds::kinds;
pub use log::{Line, Log};
pub use strike::Strike;
pub(crate) use strike::own_or_lead;

use crate::limits;
use crate::people::Writer;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::HashMap;
use std::fmt::Debug;
use std::str::FromStr;
use uuid::Uuid;

/// The kinds of entry of one sort of book.
pub trait LedgerKind: Copy + Eq + Debug + Send + Sync + Into<&'static str> + FromStr + 'static {
    /// The kind that voids another entry.
    const STRIKE: Self;

    /// The name on the wire and in the log.
    fn name(self) -> &'static str {
        self.into()
    }

    /// Reads a wire name.
    fn from_name(name: &str) -> Option<Self> {
        name.parse().ok()
    }

    /// The payload version written today. Older ones are read for ever.
    fn version(self) -> i32 {
        1
    }

    /// What entries of this kind carry, as a browser sends it.
    fn carries(self) -> Carries;

    /// The name an entry of this version was written under. Names change with the words of the trade; what was hashed does not.
    fn name_at(self, _version: i32) -> &'static str {
        self.name()
    }

    /// Why it cannot be sent from outside, where the server alone writes it, as a part of an act.
    fn written_inside(self) -> Option<&'static str> {
        None
    }

    /// May a strike void it?
    ///
    /// **Errors:** a conflict that says what to do instead.
    fn may_be_struck(self) -> Result<(), Refusal> {
        if self == Self::STRIKE {
            return Err(Refusal::conflict("not-strikable", "A strike is not struck. Enter it again."));
        }
        Ok(())
    }
}

/// What the entries of one book add up to. Total: any book adds up, and striking never fails.
pub trait Ledger: Clone + Default {
    /// What the book is kept for, as the database names it.
    const BOOK: &'static str;

    /// Its kinds of entry.
    type Kind: LedgerKind;

    /// What an entry says, decoded.
    type Said: Clone + PartialEq + Debug;

    /// What a new entry is judged with that does not stand in the book: neighbours, tables, gauges.
    type Beside: Default;

    /// Its lines so far.
    fn log(&self) -> &Log<Self::Kind, Self::Said>;

    /// The same, to be written on.
    fn log_mut(&mut self) -> &mut Log<Self::Kind, Self::Said>;

    /// Decodes a payload of any version ever written. It never asks for the limits of today.
    ///
    /// **Errors:** a [`Refusal`] naming the field that is missing, unknown or of the wrong shape.
    fn decode(kind: Self::Kind, version: i32, payload: &Value) -> Result<Self::Said, Refusal>;

    /// The strike an entry is, if it is one.
    fn strike(said: &Self::Said) -> Option<&Strike>;

    /// What an entry that stands changes.
    fn apply(&mut self, said: &Self::Said, entry: &Entry<Self::Kind>);

    /// What even a struck entry leaves behind, before it is known whether it stands.
    fn note(&mut self, _said: &Self::Said, _entry: &Entry<Self::Kind>, _struck: bool) {}

    /// What follows once an entry is taken in.
    fn settle(&mut self) {}

    /// What follows from the whole book once it is added up.
    fn finish(&mut self) {}

    /// May this entry be written? What core adds to it is filled in.
    ///
    /// **Errors:** a [`Refusal`] with its reason and way out.
    fn may(&self, entry: &mut Entry<Self::Kind>, asked: &Asking<'_, Self::Beside>) -> Result<(), Refusal>;

    /// What an entry says, in one line, in the reader's units.
    fn words(&self, said: &Self::Said, prefs: Prefs) -> String;
}

/// Who asks, when, and with what beside the book.
#[derive(Clone, Copy)]
pub struct Asking<'a, B> {
    /// Who writes.
    pub writer: &'a Writer,
    /// What stands beside the book.
    pub beside: &'a B,
    /// When it is judged.
    pub now: Timestamp,
}

/// An entry as it stands in a book, with the writer's name joined on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Entry<K> {
    /// Id, made by the client.
    pub id: Uuid,
    /// Sequence in the book.
    pub seq: i64,
    /// Kind.
    pub kind: K,
    /// Payload version.
    pub version: i32,
    /// Payload.
    pub payload: Value,
    /// Who.
    pub who: Uuid,
    /// Their name.
    pub by: String,
    /// When it happened.
    pub happened: Timestamp,
    /// When it arrived.
    pub arrived: Timestamp,
    /// Its hash.
    pub hash: String,
}

/// Adds up the entries of a book, in sequence.
pub fn fold<L: Ledger>(entries: &[Entry<L::Kind>]) -> L {
    let struck = strikes::<L>(entries);
    let mut book = L::default();
    for entry in entries {
        step(&mut book, entry, struck.get(&entry.id).cloned());
    }
    book.finish();
    book
}

/// The book with one more entry, the last of `entries`; `before` is the fold of all before it.
///
/// Only a strike reaches back and needs all of `entries`; for everything else it is one step on from where the book stood, and
/// the last alone will do.
pub fn fold_on<L: Ledger>(before: &L, entries: &[Entry<L::Kind>]) -> L {
    let Some(last) = entries.last().filter(|e| e.kind != L::Kind::STRIKE) else { return fold(entries) };
    let mut book = before.clone();
    step(&mut book, last, None);
    book.finish();
    book
}

/// Decides on a new entry against the book so far. What core adds to it is filled in.
///
/// **Errors:** a [`Refusal`] with its reason and way out: not of today, or as its kind asks. Nothing is half taken.
pub fn judge<L: Ledger>(book: &L, entry: &mut Entry<L::Kind>, asked: &Asking<'_, L::Beside>) -> Result<(), Refusal> {
    let ago_s = asked.now.duration_since(entry.happened).as_secs_f64();
    if ago_s > limits::BACK_DATE_S {
        return Err(Refusal::bad_input("too-long-ago", "ago_s", "More than 24 h back. Write a note with the time instead."));
    }
    // A clock in a browser may be a little ahead of ours.
    if ago_s < -1.0 {
        return Err(Refusal::bad_input("in-the-future", "ago_s", "This has not happened yet."));
    }
    book.may(entry, asked)
}

/// A payload without what was typed (`typed`), which is for people and not for sums; `None`: it has none.
pub fn without_typed(payload: &Value) -> Option<Value> {
    payload.as_object().filter(|map| map.contains_key("typed")).map(|map| {
        let mut map = map.clone();
        map.remove("typed");
        Value::Object(map)
    })
}

/// The refusal of a payload of a version nobody ever wrote.
pub(crate) fn known_version<K: LedgerKind>(kind: K, version: i32) -> Result<(), Refusal> {
    if (1..=kind.version()).contains(&version) {
        return Ok(());
    }
    Err(Refusal::bad_input("unknown-version", "version", format!("There is no version {version} of this entry.")))
}

/// Takes in one entry; a struck one stands in the log alone.
fn step<L: Ledger>(book: &mut L, entry: &Entry<L::Kind>, struck: Option<String>) {
    let said = L::decode(entry.kind, entry.version, &entry.payload).ok();
    if let Some(said) = &said {
        book.note(said, entry, struck.is_some());
    }
    let stands = struck.is_none();
    let line = book.log_mut().push(entry, said, struck);
    if let Some(said) = line.filter(|_| stands) {
        book.apply(&said, entry);
    }
    book.settle();
}

/// Who struck what, and why, by the entry that is struck.
fn strikes<L: Ledger>(entries: &[Entry<L::Kind>]) -> HashMap<Uuid, String> {
    let strikes = entries.iter().filter(|e| e.kind == L::Kind::STRIKE);
    strikes
        .filter_map(|e| {
            let said = L::decode(e.kind, e.version, &e.payload).ok()?;
            L::strike(&said).map(|s| (s.entry, format!("{}: {}", e.by, s.reason)))
        })
        .collect()
}
