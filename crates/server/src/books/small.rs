//! Small books: of a place, of a rig. Read under a lock, written in one link, struck by who wrote it or by a lead.

use super::NewEntry;
use super::chain::{Link, open_book, request_hash, stored_before};
use crate::auth::Person;
use crate::problem::Problem;
use jiff::Timestamp;
use level_keel_core::canonical::cut;
use level_keel_core::limits;
use level_keel_core::people::Role;
use level_keel_core::pot_life::after;
use level_keel_core::quantity::resolve;
use level_keel_core::refusal::Refusal;
use serde_json::Value;
use sqlx::PgConnection;
use std::collections::BTreeMap;
use uuid::Uuid;

/// An entry on its way into a small book, its book locked.
pub struct Small<'a> {
    /// The book.
    pub book: Uuid,
    /// What is written.
    pub payload: Value,
    /// When it happened.
    pub happened: Timestamp,
    typed: BTreeMap<String, String>,
    id: Uuid,
    kind: String,
    request: String,
    person: &'a Person,
    now: Timestamp,
    head: (i64, String),
}

/// What a strike strikes.
pub struct Struck {
    /// Kind of entry.
    pub kind: String,
    /// What it said.
    pub payload: Value,
    /// When it happened.
    pub at: Timestamp,
}

/// When an entry happened that is so old; at most a day.
///
/// **Errors:** a refusal naming `ago_s`.
pub fn happened(now: Timestamp, ago_s: f64) -> Result<Timestamp, Refusal> {
    if !(0.0..=limits::BACK_DATE_S).contains(&ago_s) {
        return Err(Refusal::bad_input("outside-limits", "ago_s", "An entry may be at most 24 h old."));
    }
    Ok(cut(after(now, -ago_s)))
}

impl<'a> Small<'a> {
    /// Reads the quantities, opens the book and locks it. `None`: this very entry is stored already.
    pub async fn open(
        tx: &mut PgConnection,
        (book, book_kind): (Uuid, &str),
        person: &'a Person,
        new: NewEntry,
        happened: Timestamp,
        now: Timestamp,
    ) -> Result<Option<Small<'a>>, Problem> {
        let request = request_hash(&new.kind, &new.payload);
        let mut payload = new.payload;
        let typed = resolve(&mut payload, person.prefs)?;
        let head = open_book(&mut *tx, book, book_kind, now).await?;
        if stored_before(tx, book, new.id, &request).await?.is_some() {
            return Ok(None);
        }
        Ok(Some(Small { book, payload, typed, happened, id: new.id, kind: new.kind, request, person, now, head }))
    }

    /// What a strike in this book strikes: an entry of it, of this person or struck by a lead.
    pub async fn struck(&self, tx: &mut PgConnection, entry: Uuid) -> Result<Struck, Problem> {
        let row = sqlx::query!(
            r#"select who, kind, payload_json as "payload!", happened as "at: jiff_sqlx::Timestamp",
                 exists (select 1 from entry s where s.book_id = $2 and s.kind = 'strike' and (s.payload_json ->> 'entry')::uuid = $1) as "struck!"
               from entry where id = $1 and book_id = $2 and kind <> 'strike'"#,
            entry,
            self.book
        )
        .fetch_optional(tx)
        .await?
        .ok_or_else(|| Refusal::bad_input("unknown-entry", "entry", "There is no such entry in this book."))?;
        if row.struck {
            return Err(Refusal::conflict("struck-already", "This entry is struck already.").into());
        }
        if row.who != self.person.id && !matches!(self.person.role, Role::Lead | Role::Owner) {
            return Err(Refusal::forbidden("not-your-role", "This is another's entry. They or a lead may strike it.").into());
        }
        Ok(Struck { kind: row.kind, payload: row.payload, at: row.at.to_jiff() })
    }

    /// Stores it, with what was typed beside the figures it was understood as.
    pub async fn store(mut self, tx: &mut PgConnection) -> Result<(), Problem> {
        if let (Value::Object(map), false) = (&mut self.payload, self.typed.is_empty()) {
            map.insert("typed".into(), serde_json::to_value(&self.typed)?);
        }
        let link = Link {
            book: self.book,
            seq: self.head.0 + 1,
            id: self.id,
            kind: &self.kind,
            version: 1,
            payload: &self.payload,
            who: self.person.id,
            happened: self.happened,
            arrived: cut(self.now),
            request: &self.request,
            previous: &self.head.1,
        };
        let forged = link.forge();
        link.store(tx, &forged).await?;
        Ok(())
    }
}
