//! A book written in memory by core's own engine and stored whole: the demo comes into a database by it.

use super::chain::{Link, load, open, request_hash};
use super::kept::Kept;
use super::rows::project;
use super::{NewEntry, Writing};
use crate::problem::Problem;
use jiff::Timestamp;
use level_keel_core::book::canonical::text;
use level_keel_core::book::{Asking, InMemory, Wanted, fold_on};
use level_keel_core::pot_life::after;
use level_keel_core::refusal::Refusal;
use sqlx::PgConnection;
use uuid::Uuid;

/// A book in memory, with what is not stored of it yet.
pub struct Draft<L: Kept> {
    book: InMemory<L>,
    folded: L,
    /// Hash of what was asked for, of each entry that is not stored yet.
    requests: Vec<String>,
}

impl<L: Kept> Draft<L> {
    /// A book as the database keeps it, locked until the transaction ends, to go on with.
    pub async fn open(tx: &mut PgConnection, id: Uuid, now: Timestamp) -> Result<Draft<L>, Problem> {
        open::<L>(tx, id, now).await?;
        let book = InMemory { id, entries: load(tx, id).await? };
        Ok(Draft { folded: book.fold(), book, requests: Vec::new() })
    }

    /// What it adds up to.
    pub fn folded(&self) -> &L {
        &self.folded
    }

    /// Writes an entry into it, judged by core with what the server reads beside it; its sequence. The row goes along, since what
    /// stands beside a book is found by its row; the entries come with [`Draft::store`].
    pub async fn write(&mut self, w: &Writing<'_>, tx: &mut PgConnection, new: NewEntry) -> Result<i64, Problem> {
        let kind = new.kind_of::<L>()?;
        let request = request_hash(&new.kind, &new.payload);
        let id = self.book.id;
        let (payload, beside) = w.filled(tx, id, &self.folded, kind, new.payload).await?;
        let wanted = Wanted { id: new.id, kind, payload, happened: after(w.now, -new.ago_s) };
        let asked = Asking { writer: &w.person.writer(), beside: &beside, now: w.now };
        let seq = self.book.write(wanted, &w.person.name, &asked)?;
        let after = fold_on(&self.folded, &self.book.entries);
        if after.columns()? != self.folded.columns()? {
            project(tx, id, &after).await?;
        }
        self.folded = after;
        self.requests.push(request);
        Ok(seq)
    }

    /// Stores what was written, and the small tables that hang on it. The caller commits.
    pub async fn store(&mut self, tx: &mut PgConnection) -> Result<(), Problem> {
        let stored = self.book.entries.len() - self.requests.len();
        let mut previous = stored.checked_sub(1).map(|n| self.book.entries[n].hash.clone()).unwrap_or_default();
        for (entry, request) in self.book.entries[stored..].iter().zip(&self.requests) {
            let text = text(&entry.payload);
            let link = Link { book: self.book.id, entry, text: &text, request, previous: &previous };
            if !link.store(tx).await? {
                return Err(Refusal::conflict("id-taken", "This entry was stored before.").into());
            }
            previous.clone_from(&entry.hash);
        }
        self.requests.clear();
        self.folded.derive(tx, self.book.id, None).await
    }
}
