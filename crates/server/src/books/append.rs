//! One entry in one book, one transaction: lock the book, ask core, chain the hash, keep the row, tell the browsers. The same
//! for a batch, a rig, a lot and a place.

use super::chain::{Link, head_of, in_hand, load, open, request_hash, stored_before};
use super::kept::Kept;
use super::rows::project;
use crate::auth::Person;
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use level_keel_core::batch::StationName;
use level_keel_core::book::{Asking, LedgerKind, Wanted, fold_on, next};
use level_keel_core::pot_life::after;
use level_keel_core::quantity::{Shown, resolve, understood};
use level_keel_core::refusal::Refusal;
use serde::Deserialize;
use serde_json::Value;
use sqlx::{PgConnection, Postgres, Transaction};
use std::collections::BTreeMap;
use std::sync::Arc;
use uuid::Uuid;

/// An entry as a browser sends it, into whichever book; what each kind carries is described in [`crate::openapi`].
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct NewEntry {
    /// Made by the browser when the form is armed, renewed after the answer: a double tap is one entry.
    pub id: Uuid,
    /// Kind of entry.
    pub kind: String,
    /// What it says; quantities as numbers in the unit of the field's name, or texts as typed.
    pub payload: Value,
    /// Seconds ago it happened, by the browser's own monotonic clock.
    #[serde(default)]
    pub ago_s: f64,
}

impl NewEntry {
    /// Its kind, as a book of this sort knows it.
    pub(super) fn kind_of<L: Kept>(&self) -> Result<L::Kind, Refusal> {
        let unknown = || Refusal::bad_input("unknown-kind", "kind", "There is no such kind of entry.");
        L::Kind::from_name(&self.kind).ok_or_else(unknown)
    }

    /// An entry of this instant.
    pub fn now<K: LedgerKind>(id: Uuid, kind: K, payload: Value) -> NewEntry {
        NewEntry { id, kind: kind.name().into(), payload, ago_s: 0.0 }
    }
}

/// Who writes, when.
pub struct Writing<'a> {
    /// The server.
    pub state: &'a State,
    /// Who.
    pub person: &'a Person,
    /// When it arrives.
    pub now: Timestamp,
    /// Store nothing.
    pub dry_run: bool,
    /// Answer with the batch as it is then.
    pub view: bool,
    /// At this station alone; `None`: at all of them.
    pub station: Option<StationName>,
    /// The server itself writes: kinds that are halves of one act are taken.
    pub inside: bool,
}

/// What an entry made of its book.
pub struct Made<L: Kept> {
    /// Its sequence.
    pub seq: i64,
    /// It is stored by this, and was not before.
    pub new: bool,
    /// It was stored before, by the same id and content.
    pub repeated: bool,
    /// Every quantity as understood, by field.
    pub understood: BTreeMap<String, Shown>,
    /// The book without it.
    pub before: Arc<L>,
    /// The book with it.
    pub book: Arc<L>,
    /// What it was judged with.
    pub beside: L::Beside,
}

impl<'a> Writing<'a> {
    /// A person writes, and it is stored.
    pub fn of(state: &'a State, person: &'a Person, now: Timestamp) -> Writing<'a> {
        Writing { state, person, now, dry_run: false, view: false, station: None, inside: false }
    }

    /// Writes one entry and commits it.
    pub async fn one<L: Kept>(&self, book: Uuid, new: NewEntry) -> Result<Made<L>, Problem> {
        let mut tx = self.state.db.begin().await?;
        // Boxed: the book lies in this future, and a thread's stack is small.
        let made = Box::pin(self.write::<L>(&mut tx, book, new)).await;
        self.end(tx, book, made).await
    }

    /// Commits what was newly stored and keeps it in memory, rolls back all else.
    pub async fn end<L: Kept>(
        &self,
        tx: Transaction<'_, Postgres>,
        book: Uuid,
        made: Result<Made<L>, Problem>,
    ) -> Result<Made<L>, Problem> {
        match made {
            Ok(made) if made.new => {
                tx.commit().await?;
                L::cache(self.state).put(book, made.book.clone());
                Ok(made)
            }
            other => {
                tx.rollback().await?;
                other
            }
        }
    }

    /// In a dry run a refusal is an answer and not an error: the form shows it at the field.
    pub fn refusals(&self, problem: Problem) -> Result<Vec<Refusal>, Problem> {
        match problem {
            Problem::Refused(r) if self.dry_run => Ok(vec![r]),
            Problem::Fields(all) if self.dry_run => Ok(all),
            other => Err(other),
        }
    }

    /// Writes one entry inside a transaction; the caller commits.
    ///
    /// Everything is read through that one connection: taking a second one from the pool while the first waits
    /// for the book's lock would let writers starve each other.
    pub async fn write<L: Kept>(&self, tx: &mut PgConnection, book: Uuid, new: NewEntry) -> Result<Made<L>, Problem> {
        let read = if self.dry_run { head_of(tx, book, L::BOOK).await? } else { None };
        let head_seq = match read {
            Some(head) => head,
            None => open::<L>(tx, book, self.now).await?,
        };
        let kind = new.kind_of::<L>()?;
        let request = request_hash(&new.kind, &new.payload);
        let before: Arc<L> = in_hand(tx, self.state, book, head_seq).await?;
        let id = new.id;
        let made = match kind.written_inside().filter(|_| !self.inside) {
            Some(why) => Err(Refusal::bad_input("unknown-kind", "kind", why).into()),
            None => self.judged(tx, book, (kind, new), before.clone(), &request).await,
        };
        // What is known already shows as an id that is taken or as an act that was done; only then is it asked for.
        match made {
            Ok(Some(made)) => Ok(made),
            other => match stored_before(tx, book, id, &request).await? {
                Some(seq) => Ok(self.again(before, id, seq)),
                None => Err(other.err().unwrap_or_else(|| Problem::Fault("an id that is taken and is not there".into()))),
            },
        }
    }

    /// The answer to an entry that is stored already.
    fn again<L: Kept>(&self, book: Arc<L>, id: Uuid, seq: i64) -> Made<L> {
        let stored = book.log().line(id).map(|l| understood(&l.payload, self.person.prefs));
        Made {
            seq,
            new: false,
            repeated: true,
            understood: stored.unwrap_or_default(),
            before: book.clone(),
            book,
            beside: L::Beside::default(),
        }
    }

    /// What was sent, in numbers and with what only the server knows; and what it is judged with beside the book.
    pub(super) async fn filled<L: Kept>(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        before: &L,
        kind: L::Kind,
        mut payload: Value,
    ) -> Result<(Value, L::Beside), Problem> {
        let typed = resolve(&mut payload, self.person.prefs)?;
        let beside = before.prepare(self, tx, book, kind, &mut payload).await?;
        if let (Value::Object(map), false) = (&mut payload, typed.is_empty()) {
            map.insert("typed".into(), serde_json::to_value(&typed)?);
        }
        Ok((payload, beside))
    }

    /// Fills in, judges and stores. `None`: the id is taken.
    async fn judged<L: Kept>(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        (kind, new): (L::Kind, NewEntry),
        before: Arc<L>,
        request: &str,
    ) -> Result<Option<Made<L>>, Problem> {
        if !new.ago_s.is_finite() {
            return Err(Refusal::bad_input("not-understood", "ago_s", "Seconds ago must be a number.").into());
        }
        let (payload, beside) = self.filled(tx, book, &*before, kind, new.payload).await?;
        let wanted = Wanted { id: new.id, kind, payload, happened: after(self.now, -new.ago_s) };
        let asked = Asking { writer: &self.person.writer(), beside: &beside, now: self.now };
        let (entry, text) = next(book, &*before, wanted, &self.person.name, &asked)?;
        let understood = understood(&entry.payload, self.person.prefs);
        let seq = entry.seq;
        let link = Link { book, entry: &entry, text: &text, request, previous: &before.log().head_hash };
        // The entry first: an id that is taken must touch no row that hangs on it.
        if !self.dry_run && !link.store(tx).await? {
            return Ok(None);
        }
        // Only a strike reaches back into what was written before it.
        let mut entries = if kind == L::Kind::STRIKE { load(tx, book).await? } else { Vec::new() };
        if kind != L::Kind::STRIKE || self.dry_run {
            entries.push(entry);
        }
        let after: Arc<L> = Arc::new(fold_on(&*before, &entries));
        if !self.dry_run {
            if before.columns()? != after.columns()? {
                project(tx, book, &*after).await?;
            }
            after.derive(tx, book, Some(&before)).await?;
        }
        Ok(Some(Made { seq, new: !self.dry_run, repeated: false, understood, before, book: after, beside }))
    }
}
