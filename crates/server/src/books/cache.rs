//! Folded records in memory. One stands for exactly one head of one book, and the head is asked of the database each
//! time, so another process that writes makes it stale and never wrong.

use level_keel_core::batch::Record;
use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};
use uuid::Uuid;

/// Books kept; a shop has a few dozen open.
const BOOKS: usize = 512;

/// The records kept.
#[derive(Clone, Default)]
pub struct Cache(Arc<Mutex<HashMap<Uuid, Arc<Record>>>>);

impl Cache {
    /// The record of a book at a head, if that is the one kept.
    pub fn get(&self, book: Uuid, head_seq: i64) -> Option<Arc<Record>> {
        let kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        kept.get(&book).filter(|r| r.head_seq == head_seq).cloned()
    }

    /// Keeps a record that is committed.
    pub fn put(&self, book: Uuid, record: Arc<Record>) {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if kept.len() >= BOOKS && !kept.contains_key(&book) {
            // Any one: what is asked for again is folded again.
            let old = kept.keys().next().copied();
            old.and_then(|b| kept.remove(&b));
        }
        // Two that commit one after the other may come here the other way round.
        if kept.get(&book).is_none_or(|r| r.head_seq <= record.head_seq) {
            kept.insert(book, record);
        }
    }
}
