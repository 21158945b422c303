//! Folded books in memory. One stands for exactly one head of one book, and the head is asked of the database each time, so
//! another process that writes makes it stale and never wrong.

use super::kept_proofs::Ledgers;
use super::shared_looks::Looks;
use level_keel_core::batch::Record;
use level_keel_core::book::Ledger;
use level_keel_core::instruments::InstrumentBook;
use level_keel_core::people::Role;
use level_keel_core::quantity::{NumberFormat, UnitSet};
use level_keel_core::rig_book::RigBook;
use level_keel_core::stores::Lot;
use level_keel_core::stores::place::PlaceBook;
use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};
use uuid::Uuid;

/// Books kept of one sort; a shop has a few dozen in use.
const BOOKS: usize = 512;

/// Folded books of one sort.
pub struct Cache<L>(Arc<Mutex<HashMap<Uuid, Arc<L>>>>);

/// Folded books of every sort.
#[derive(Clone, Default)]
pub struct Caches {
    /// Of batches.
    pub batches: Cache<Record>,
    /// Of rigs.
    pub rigs: Cache<RigBook>,
    /// Of lots.
    pub lots: Cache<Lot>,
    /// Of instruments.
    pub instruments: Cache<InstrumentBook>,
    /// Of places.
    pub places: Cache<PlaceBook>,
    /// Proofs of the ratio, by rig and product.
    pub ledgers: Ledgers,
    /// Looks at a batch that are under way.
    pub looks: Looks<LookOf>,
}

/// What a look at a batch is of, and for whom.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct LookOf {
    /// The batch.
    pub batch: Uuid,
    /// The station, from 0; none: all of them.
    pub station: Option<u8>,
    /// Who looks.
    pub person: Uuid,
    /// As what, in which units, alone.
    pub reads: (Role, UnitSet, NumberFormat, bool),
}

impl<L> Clone for Cache<L> {
    fn clone(&self) -> Cache<L> {
        Cache(self.0.clone())
    }
}

impl<L> Default for Cache<L> {
    fn default() -> Cache<L> {
        Cache(Arc::default())
    }
}

impl<L: Ledger> Cache<L> {
    /// The book at a head, if that is the one kept.
    pub fn get(&self, id: Uuid, head_seq: i64) -> Option<Arc<L>> {
        let kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        kept.get(&id).filter(|b| b.log().head_seq == head_seq).cloned()
    }

    /// Keeps a book that is committed.
    pub fn put(&self, id: Uuid, book: Arc<L>) {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if kept.len() >= BOOKS && !kept.contains_key(&id) {
            // Any one: what is asked for again is folded again.
            let old = kept.keys().next().copied();
            old.and_then(|b| kept.remove(&b));
        }
        // Two that commit one after the other may come here the other way round.
        if kept.get(&id).is_none_or(|b| b.log().head_seq <= book.log().head_seq) {
            kept.insert(id, book);
        }
    }
}
