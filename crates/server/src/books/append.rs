//! One entry, one transaction: lock the book, ask core, chain the hash, keep the projection, tell the browsers.

use super::{enrich, store};
use crate::auth::Person;
use crate::instruments::usual_comb_um;
use crate::live::CHANNEL;
use crate::parts::beside;
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::card::card;
use level_keel_core::batch::check::check;
use level_keel_core::batch::view::{BatchView, Viewer, view};
use level_keel_core::batch::{Entry, Kind, Record, fold, fold_on};
use level_keel_core::canonical::{self, Sealed, cut, seal};
use level_keel_core::pot_life::after;
use level_keel_core::quantity::{Shown, resolve, understood};
use level_keel_core::refusal::Refusal;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sha2::{Digest, Sha256};
use sqlx::{PgConnection, Postgres, Transaction};
use std::collections::BTreeMap;
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
}

impl Writing<'_> {
    /// Appends to a book that exists.
    pub async fn append(&self, book: Uuid, new: NewEntry) -> Result<Written, Problem> {
        let mut tx = self.state.db.begin().await?;
        let result = self.append_in(&mut tx, book, new).await;
        self.end(tx, result).await
    }

    /// Commits what was newly stored, rolls back all else.
    pub(super) async fn end(&self, tx: Transaction<'_, Postgres>, result: Result<Written, Problem>) -> Result<Written, Problem> {
        match result {
            Ok(written) if written.stored && !written.repeated => {
                tx.commit().await?;
                Ok(written)
            }
            other => {
                tx.rollback().await?;
                self.soften(other)
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
    pub(super) async fn append_in(&self, tx: &mut PgConnection, book: Uuid, new: NewEntry) -> Result<Written, Problem> {
        // One round trip: the lock, whether this id is known, and the comb to read films with.
        let opened = sqlx::query!(
            r#"select b.id, k.book_id as "known_book?", k.seq as "known_seq?", k.request_sha256 as "known_request?",
                 (select teeth_um from instrument where kind = 'comb' order by resolution limit 1) as comb_um
               from book b left join entry k on k.id = $2 where b.id = $1 for update of b"#,
            book,
            new.id,
        )
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("book"))?;
        let kind = Kind::from_name(&new.kind)
            .ok_or_else(|| Refusal::bad_input("unknown-kind", "kind", "There is no such kind of entry."))?;
        let request = request_hash(&new);
        let entries = store::load(tx, book).await?;
        let viewer = Viewer { writer: self.person.writer(), comb_um: opened.comb_um.unwrap_or_else(usual_comb_um) };
        if let (Some(known_book), Some(seq), Some(known)) = (opened.known_book, opened.known_seq, opened.known_request) {
            if known_book != book || known != request {
                return Err(Refusal::conflict("id-taken", "This entry was stored with other content. Enter it afresh.").into());
            }
            let shown = entries.iter().find(|e| e.id == new.id).map(|e| understood(&e.payload, self.person.prefs));
            let mut record = fold(&entries);
            record.beside = beside(&mut *tx, &[book]).await?.remove(&book).unwrap_or_default();
            let view = self.view.then(|| view(book, &record, &viewer, self.now)).flatten();
            return Ok(Written {
                stored: true,
                repeated: true,
                seq,
                understood: shown.unwrap_or_default(),
                refusals: Vec::new(),
                view,
            });
        }
        if !new.ago_s.is_finite() {
            return Err(Refusal::bad_input("not-understood", "ago_s", "Seconds ago must be a number.").into());
        }
        let mut payload = new.payload;
        let typed = resolve(&mut payload, self.person.prefs)?;
        let mut record = fold(&entries);
        record.beside = beside(&mut *tx, &[book]).await?.remove(&book).unwrap_or_default();
        enrich::enrich(self, tx, &record, kind, &mut payload).await?;
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
        check(&record, &mut entry, &viewer.writer, self.now)?;
        self.store(tx, book, entries, entry, record, &request, &viewer).await
    }

    #[allow(clippy::too_many_arguments)] // the parts of one row; a struct for one call would only rename them
    async fn store(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        mut entries: Vec<Entry>,
        mut entry: Entry,
        before: Record,
        request: &str,
        viewer: &Viewer,
    ) -> Result<Written, Problem> {
        let text = canonical::text(&entry.payload);
        let (seq, understood) = (entry.seq, understood(&entry.payload, self.person.prefs));
        entry.hash = seal(
            &before.head_hash,
            &Sealed {
                book,
                seq,
                id: entry.id,
                kind: entry.kind.name(),
                version: entry.version,
                payload: &text,
                who: entry.who,
                happened: entry.happened,
                arrived: entry.arrived,
            },
        );
        let (id, kind, version, who) = (entry.id, entry.kind, entry.version, entry.who);
        let (happened, arrived, hash) = (entry.happened, entry.arrived, entry.hash.clone());
        entries.push(entry);
        let record = Record { beside: before.beside.clone(), ..fold_on(&before, &entries) };
        // A signature keeps the view as its card, asked for or not.
        let signs = matches!(kind, Kind::Sign | Kind::Accept);
        let view = if self.view || signs { view(book, &record, viewer, self.now) } else { None };
        if self.dry_run {
            return Ok(Written { stored: false, repeated: false, seq, understood, refusals: Vec::new(), view });
        }
        if !store::unchanged(&before, &record) {
            let card = self.card(tx, book, kind, &record, view.as_ref()).await?;
            store::project(tx, book, &record, card.as_ref()).await?;
        }
        store::derive(tx, book, &record, Some(&before)).await?;
        // The entry, the record it makes and the word to the browsers: one round trip.
        sqlx::query!(
            "with written as (
               insert into entry (book_id, seq, id, kind, version, payload, who, happened, arrived, request_sha256, previous_hash, hash)
               values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) returning book_id
             ), kept as (
               insert into batch_record (batch_id, record) values ($1, $13)
               on conflict (batch_id) do update set record = $13 returning batch_id
             )
             select pg_notify($14, w.book_id::text) from written w join kept k on k.batch_id = w.book_id",
            book,
            seq,
            id,
            kind.name(),
            version,
            text,
            who,
            happened.to_sqlx() as _,
            arrived.to_sqlx() as _,
            request,
            before.head_hash,
            hash,
            serde_json::to_string(&record)?,
            CHANNEL,
        )
        .fetch_all(&mut *tx)
        .await?;
        Ok(Written { stored: true, repeated: false, seq, understood, refusals: Vec::new(), view })
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
            Kind::Sign | Kind::Accept => Ok(view.map(|v| serde_json::to_value(card(record, v.clone()))).transpose()?),
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

/// Hash of what the browser sent, without the time, which a repeat counts anew.
fn request_hash(new: &NewEntry) -> String {
    let text = format!("{}\n{}", new.kind, canonical::text(&new.payload));
    Sha256::digest(text.as_bytes()).iter().map(|b| format!("{b:02x}")).collect()
}
