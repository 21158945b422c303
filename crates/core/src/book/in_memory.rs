//! A book kept in memory: for tests, for practice, for whatever asks "what if" of a whole book.

use super::canonical::{cut, seal_entry};
use super::{Asking, Entry, Ledger, LedgerKind, fold, judge};
use crate::people::Writer;
use crate::refusal::Refusal;
use jiff::Timestamp;
use serde_json::Value;
use uuid::Uuid;

/// A book in memory. It is added up anew each time it is asked, so what it says can never be stale.
#[derive(Debug, Clone)]
pub struct InMemory<L: Ledger> {
    /// Its id.
    pub id: Uuid,
    /// Its entries, in sequence.
    pub entries: Vec<Entry<L::Kind>>,
}

/// What is to be written.
#[derive(Debug, Clone)]
pub struct Wanted<K> {
    /// Id of the entry.
    pub id: Uuid,
    /// Kind.
    pub kind: K,
    /// What it says.
    pub payload: Value,
    /// When it happened.
    pub happened: Timestamp,
}

impl<L: Ledger> InMemory<L> {
    /// An empty book.
    pub fn new(id: Uuid) -> InMemory<L> {
        InMemory { id, entries: Vec::new() }
    }

    /// What it adds up to.
    pub fn fold(&self) -> L {
        fold(&self.entries)
    }

    /// Writes an entry, judged and sealed as everywhere; its sequence.
    ///
    /// **Errors:** the refusal; nothing is written then.
    pub fn write(&mut self, wanted: Wanted<L::Kind>, by: &str, asked: &Asking<'_, L::Beside>) -> Result<i64, Refusal> {
        let book = self.fold();
        let mut entry = self.next(&book, wanted, by, asked.writer, asked.now);
        judge(&book, &mut entry, asked)?;
        (_, entry.hash) = seal_entry(self.id, &entry, &book.log().head_hash);
        let seq = entry.seq;
        self.entries.push(entry);
        Ok(seq)
    }

    fn next(&self, book: &L, wanted: Wanted<L::Kind>, by: &str, writer: &Writer, now: Timestamp) -> Entry<L::Kind> {
        Entry {
            id: wanted.id,
            seq: book.log().head_seq + 1,
            version: wanted.kind.version(),
            kind: wanted.kind,
            payload: wanted.payload,
            who: writer.id,
            by: by.into(),
            happened: cut(wanted.happened),
            arrived: cut(now),
            hash: String::new(),
        }
    }
}
