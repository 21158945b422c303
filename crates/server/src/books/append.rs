//! One entry, one transaction: lock the book, ask core, chain the hash, keep the projection, tell the browsers.

use super::chain::{Link, request_hash, stored_before};
use super::{enrich, store};
use crate::auth::Person;
use crate::instruments::viewer;
use crate::parts::beside;
use crate::problem::Problem;
use crate::state::State;
use crate::stores::lots_of;
use jiff::Timestamp;
use level_keel_core::batch::card::card;
use level_keel_core::batch::check::check;
use level_keel_core::batch::view::{BatchView, Viewer, view};
use level_keel_core::batch::{Entry, Kind, Record, fold_on};
use level_keel_core::canonical::cut;
use level_keel_core::pot_life::after;
use level_keel_core::quantity::{Shown, resolve, understood};
use level_keel_core::refusal::Refusal;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::{PgConnection, Postgres, Transaction};
use std::collections::BTreeMap;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// An entry as a browser sends it.
#[derive(Debug, Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewEntry {
    /// Made by the browser when the form is armed, renewed after the answer: a double tap is one entry.
    pub id: Uuid,
    /// Kind of entry.
    #[schema(value_type = Kind)]
    pub kind: String,
    /// What it says; quantities as numbers in the unit of the field's name, or texts as typed.
    #[schema(value_type = Object)]
    pub payload: Value,
    /// Seconds ago it happened, by the browser's own monotonic clock.
    #[serde(default)]
    pub ago_s: f64,
}

/// What came of it.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Written {
    /// Stored; false for a dry run.
    pub stored: bool,
    /// It was stored before, by the same id and content.
    pub repeated: bool,
    /// Sequence in the book.
    pub seq: i64,
    /// Every quantity as understood, by field.
    pub understood: BTreeMap<String, Shown>,
    /// What is wrong with it (dry run only; else an error).
    pub refusals: Vec<Refusal>,
    /// The batch as it is, or as it would be.
    pub view: Option<BatchView>,
}

/// What an append made: the answer, and the record once it is committed.
pub(super) struct Made {
    pub written: Written,
    /// Missing when nothing new was stored.
    pub record: Option<Arc<Record>>,
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
    /// The server itself writes: kinds that are halves of one act are taken.
    pub inside: bool,
}

impl Writing<'_> {
    /// Appends to a book that exists.
    pub async fn append(&self, book: Uuid, new: NewEntry) -> Result<Written, Problem> {
        let mut tx = self.state.db.begin().await?;
        // Boxed: record and view lie in this future, and a thread's stack is small.
        let result = Box::pin(self.append_in(&mut tx, book, new)).await;
        self.end(tx, book, result).await
    }

    /// Commits what was newly stored, rolls back all else.
    pub(super) async fn end(
        &self,
        tx: Transaction<'_, Postgres>,
        book: Uuid,
        result: Result<Made, Problem>,
    ) -> Result<Written, Problem> {
        match result {
            Ok(Made { written, record: Some(record) }) => {
                tx.commit().await?;
                self.state.books.put(book, record);
                Ok(written)
            }
            other => {
                tx.rollback().await?;
                self.soften(other.map(|made| made.written))
            }
        }
    }

    /// In a dry run a refusal is an answer and not an error: the form shows it at the field.
    fn soften(&self, result: Result<Written, Problem>) -> Result<Written, Problem> {
        let refusals = match result {
            Err(Problem::Refused(r)) if self.dry_run => vec![r],
            Err(Problem::Fields(all)) if self.dry_run => all,
            other => return other,
        };
        Ok(Written { stored: false, repeated: false, seq: 0, understood: BTreeMap::new(), refusals, view: None })
    }

    /// Appends inside a transaction; the caller commits.
    ///
    /// Everything is read through that one connection: taking a second one from the pool while the first waits
    /// for the book's lock would let writers starve each other.
    pub(super) async fn append_in(&self, tx: &mut PgConnection, book: Uuid, new: NewEntry) -> Result<Made, Problem> {
        let opened = sqlx::query!(
            r#"select head_seq, (select teeth_um from instrument where kind = 'comb' order by resolution limit 1) as comb_um,
                 (select min(resolution) from instrument where kind = 'scale') as scale_g
               from book where id = $1 and kind = 'batch' for update"#,
            book,
        )
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("book"))?;
        let kind = Kind::from_name(&new.kind)
            .ok_or_else(|| Refusal::bad_input("unknown-kind", "kind", "There is no such kind of entry."))?;
        let request = request_hash(&new.kind, &new.payload);
        let mut record = store::in_hand(tx, &self.state.books, book, opened.head_seq).await?;
        // Its neighbours matter to what is shown, and to the two acts that recoat rules decide.
        if self.view || kind.needs_beside() {
            let mut beside = beside(&mut *tx, &self.state.settings.zone, &[book]).await?.remove(&book).unwrap_or_default();
            beside.lots = lots_of(&mut *tx, self.state, &record).await?;
            record = Arc::new(Record { beside, ..Record::clone(&record) });
        }
        let viewer = viewer(self.person, opened.comb_um, opened.scale_g);
        let (id, view) = (new.id, viewer.clone());
        let made = self.judge(tx, book, kind, new, &record, &request, viewer).await;
        // What is known already shows as an id that is taken or as an act that was done; only then is it asked for.
        match made {
            Ok(Some(made)) => Ok(made),
            other => match self.known(tx, book, id, &request, &record, &view).await? {
                Some(repeat) => Ok(repeat),
                None => Err(other.err().unwrap_or_else(|| Problem::Fault("an id that is taken and is not there".into()))),
            },
        }
    }

    /// The answer to an entry that is stored already.
    async fn known(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        id: Uuid,
        request: &str,
        record: &Record,
        viewer: &Viewer,
    ) -> Result<Option<Made>, Problem> {
        let Some(seq) = stored_before(tx, book, id, request).await? else { return Ok(None) };
        let stored = record.log.iter().find(|l| l.entry == id).map(|l| understood(&l.payload, self.person.prefs));
        let written = Written {
            stored: true,
            repeated: true,
            seq,
            understood: stored.unwrap_or_default(),
            refusals: Vec::new(),
            view: self.view.then(|| view(book, record, viewer, self.now)).flatten(),
        };
        Ok(Some(Made { written, record: None }))
    }

    /// Resolves, enriches, judges and stores. `None`: the id is taken.
    #[allow(clippy::too_many_arguments)] // what one entry is judged by
    async fn judge(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        kind: Kind,
        new: NewEntry,
        record: &Record,
        request: &str,
        viewer: Viewer,
    ) -> Result<Option<Made>, Problem> {
        if !new.ago_s.is_finite() {
            return Err(Refusal::bad_input("not-understood", "ago_s", "Seconds ago must be a number.").into());
        }
        let mut payload = new.payload;
        let typed = resolve(&mut payload, self.person.prefs)?;
        enrich::enrich(self, tx, (book, record), kind, &mut payload).await?;
        if let (Value::Object(map), false) = (&mut payload, typed.is_empty()) {
            map.insert("typed".into(), serde_json::to_value(&typed)?);
        }
        let mut entry = Entry {
            id: new.id,
            seq: record.head_seq + 1,
            kind,
            version: kind.version(),
            payload,
            who: self.person.id,
            by: self.person.name.clone(),
            happened: cut(after(self.now, -new.ago_s)),
            arrived: cut(self.now),
            hash: String::new(),
        };
        check(record, &mut entry, &viewer.writer, self.now)?;
        self.store(tx, book, entry, record, request, &viewer).await
    }

    #[allow(clippy::too_many_arguments)] // the parts of one row; a struct for one call would only rename them
    async fn store(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        mut entry: Entry,
        before: &Record,
        request: &str,
        viewer: &Viewer,
    ) -> Result<Option<Made>, Problem> {
        let (seq, understood) = (entry.seq, understood(&entry.payload, self.person.prefs));
        let (id, kind, version, payload) = (entry.id, entry.kind, entry.version, entry.payload.clone());
        let link = Link {
            book,
            seq,
            id,
            kind: kind.name(),
            version,
            payload: &payload,
            who: entry.who,
            happened: entry.happened,
            arrived: entry.arrived,
            request,
            previous: &before.head_hash,
        };
        let forged = link.forge();
        entry.hash.clone_from(&forged.hash);
        // Only a strike reaches back into what was written before it.
        let mut entries = if kind == Kind::Strike { store::load(tx, book).await? } else { Vec::new() };
        entries.push(entry);
        let mut record = fold_on(before, &entries);
        record.beside.clone_from(&before.beside);
        // A signature keeps the view as its card, asked for or not.
        let signs = matches!(kind, Kind::Sign | Kind::Accept);
        if self.dry_run {
            let view = if self.view || signs { view(book, &record, viewer, self.now) } else { None };
            let written = Written { stored: false, repeated: false, seq, understood, refusals: Vec::new(), view };
            return Ok(Some(Made { written, record: None }));
        }
        // The entry first: an id that is taken must touch no row that hangs on it.
        if !link.store(tx, &forged).await? {
            return Ok(None);
        }
        if kind == Kind::Begin {
            // Its row is what its neighbours are found by: before it stands, the answer would not know the coat beneath.
            store::project(tx, book, &record, None).await?;
            let mut beside = beside(&mut *tx, &self.state.settings.zone, &[book]).await?.remove(&book).unwrap_or_default();
            beside.lots = lots_of(&mut *tx, self.state, &record).await?;
            record.beside = beside;
        }
        let view = if self.view || signs { view(book, &record, viewer, self.now) } else { None };
        if kind != Kind::Begin && !store::unchanged(before, &record) {
            let card = self.card(tx, book, kind, &record, view.as_ref()).await?;
            store::project(tx, book, &record, card.as_ref()).await?;
        }
        store::derive(tx, book, &record, Some(before)).await?;
        // What stands beside it goes by the row: by its rig, its lots, its end. The answer shows what the next read shows.
        let view = if self.view && !signs && kind != Kind::Begin && !store::unchanged(before, &record) {
            let mut beside = beside(&mut *tx, &self.state.settings.zone, &[book]).await?.remove(&book).unwrap_or_default();
            beside.lots = lots_of(&mut *tx, self.state, &record).await?;
            record.beside = beside;
            level_keel_core::batch::view(book, &record, viewer, self.now)
        } else {
            view
        };
        let written = Written { stored: true, repeated: false, seq, understood, refusals: Vec::new(), view };
        Ok(Some(Made { written, record: Some(Arc::new(record)) }))
    }

    /// The card to keep: made anew by a signature, kept by a note, dropped by a reopening.
    async fn card(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        kind: Kind,
        record: &Record,
        view: Option<&BatchView>,
    ) -> Result<Option<Value>, Problem> {
        match kind {
            Kind::Sign | Kind::Accept => {
                Ok(view.map(|v| serde_json::to_value(card(record, v.clone(), self.person.prefs))).transpose()?)
            }
            Kind::Reopen => Ok(None),
            // Nothing was signed before this, so no card lies there.
            _ if record.signature.is_none() => Ok(None),
            _ => {
                let stored = sqlx::query_scalar!("select signed_card from batch where id = $1", book).fetch_optional(tx).await?;
                Ok(stored.flatten())
            }
        }
    }
}
