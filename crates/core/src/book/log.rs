//! The lines of a book: every entry ever written, struck or not.

use super::{Entry, LedgerKind};
use jiff::Timestamp;
use serde::Serialize;
use serde_json::Value;
use std::ops::Deref;
use std::sync::Arc;
use uuid::Uuid;

/// An entry that arrived more than this after it happened is flagged.
const LATE_S: i64 = 120;

/// A line of a book.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(bound = "K: Serialize")]
pub struct Line<K, S> {
    /// The entry.
    pub entry: Uuid,
    /// Its sequence.
    pub seq: i64,
    /// Kind.
    pub kind: K,
    /// When it happened.
    pub at: Timestamp,
    /// It was entered later than two minutes after.
    pub late: bool,
    /// The clock stood before the entry above it: it was set back between the two. Their order is that of their sequence.
    #[serde(skip)]
    pub clock_back: bool,
    /// Who.
    pub who: Uuid,
    /// Name.
    pub by: String,
    /// What it said.
    pub payload: Arc<Value>,
    /// The same, read once; `None` where this version cannot read it.
    #[serde(skip)]
    pub said: Option<Arc<S>>,
    /// Struck: by whom and why.
    pub struck: Option<String>,
}

/// The lines of a book in sequence, and its head. It reads like a list of its lines.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(bound = "K: Serialize")]
pub struct Log<K, S> {
    #[serde(rename = "log")]
    lines: Vec<Line<K, S>>,
    /// Sequence of the last entry; 0 for an empty book.
    pub head_seq: i64,
    /// Hash of the last entry; empty for an empty book.
    pub head_hash: String,
    /// When the last entry arrived.
    #[serde(skip)]
    last_arrived: Option<Timestamp>,
}

impl<K, S> Default for Log<K, S> {
    fn default() -> Log<K, S> {
        Log { lines: Vec::new(), head_seq: 0, head_hash: String::new(), last_arrived: None }
    }
}

impl<K, S> Deref for Log<K, S> {
    type Target = [Line<K, S>];

    fn deref(&self) -> &[Line<K, S>] {
        &self.lines
    }
}

impl<K: LedgerKind, S> Log<K, S> {
    /// Puts down an entry; what it says is given back, shared with its line.
    pub(super) fn push(&mut self, entry: &Entry<K>, said: Option<S>, struck: Option<String>) -> Option<Arc<S>> {
        let said = said.map(Arc::new);
        self.head_seq = entry.seq;
        self.head_hash.clone_from(&entry.hash);
        self.lines.push(Line {
            entry: entry.id,
            seq: entry.seq,
            kind: entry.kind,
            at: entry.happened,
            late: entry.arrived.duration_since(entry.happened).as_secs() > LATE_S,
            clock_back: self.last_arrived.is_some_and(|last| entry.arrived < last),
            who: entry.who,
            by: entry.by.clone(),
            payload: Arc::new(entry.payload.clone()),
            said: said.clone(),
            struck,
        });
        self.last_arrived = Some(entry.arrived);
        said
    }

    /// The line of an entry.
    pub fn line(&self, entry: Uuid) -> Option<&Line<K, S>> {
        self.lines.iter().find(|l| l.entry == entry)
    }
}
