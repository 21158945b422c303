//! A book kept in memory, for tests, for the demo, for practice; and the next entry of any book, in memory or not.

use super::canonical::{cut, seal_entry};
use super::{Asking, Entry, Ledger, LedgerKind, fold, judge};
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
        let (entry, _) = next(self.id, &self.fold(), wanted, by, asked)?;
        let seq = entry.seq;
        self.entries.push(entry);
        Ok(seq)
    }
}

/// The next entry of a book, judged and sealed upon the one before; with the canonical text of its payload.
///
/// **Errors:** the refusal of [`judge`].
pub fn next<L: Ledger>(
    id: Uuid,
    book: &L,
    wanted: Wanted<L::Kind>,
    by: &str,
    asked: &Asking<'_, L::Beside>,
) -> Result<(Entry<L::Kind>, String), Refusal> {
    let mut entry = Entry {
        id: wanted.id,
        seq: book.log().head_seq + 1,
        version: wanted.kind.version(),
        kind: wanted.kind,
        payload: wanted.payload,
        who: asked.writer.id,
        by: by.into(),
        happened: cut(wanted.happened),
        arrived: cut(asked.now),
        hash: String::new(),
    };
    judge(book, &mut entry, asked)?;
    let (text, hash) = seal_entry(id, &entry, &book.log().head_hash);
    entry.hash = hash;
    Ok((entry, text))
}
