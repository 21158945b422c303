//! The chain of a book in the database: opened and locked, read, one link stored.

use super::kept::Kept;
use crate::live::CHANNEL;
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::book::canonical::text;
use level_keel_core::book::{Entry, LedgerKind, fold};
use level_keel_core::refusal::Refusal;
use serde_json::Value;
use sqlx::PgConnection;
use std::sync::Arc;
use uuid::Uuid;

/// Locks a book, so that of two writers the second waits, and opens one that its row alone calls for. The sequence of its head.
pub async fn open<L: Kept>(tx: &mut PgConnection, book: Uuid, now: Timestamp) -> Result<i64, Problem> {
    L::lock(tx, book).await?;
    if let Some(head) = locked(tx, book, L::BOOK).await? {
        return Ok(head);
    }
    if L::BEGINS_ITSELF {
        return Err(Problem::NotFound("book"));
    }
    sqlx::query!(
        "insert into book (id, kind, created) values ($1, $2, $3) on conflict (id) do nothing",
        book,
        L::BOOK,
        now.to_sqlx() as _
    )
    .execute(&mut *tx)
    .await?;
    locked(tx, book, L::BOOK).await?.ok_or(Problem::NotFound("book"))
}

async fn locked(tx: &mut PgConnection, book: Uuid, kind: &str) -> Result<Option<i64>, Problem> {
    Ok(sqlx::query_scalar!("select head_seq from book where id = $1 and kind = $2 for update", book, kind)
        .fetch_optional(tx)
        .await?)
}

/// The sequence of a book's head, for readers and dry runs: they store nothing, so they wait for no writer and none waits for
/// them. `None`: it is not opened yet.
pub async fn head_of(db: &mut PgConnection, book: Uuid, kind: &str) -> Result<Option<i64>, Problem> {
    Ok(sqlx::query_scalar!("select head_seq from book where id = $1 and kind = $2", book, kind).fetch_optional(db).await?)
}

/// The entries of a book, in sequence; none when there is no such book.
pub async fn load<K: LedgerKind>(tx: &mut PgConnection, book: Uuid) -> Result<Vec<Entry<K>>, Problem> {
    let rows = sqlx::query!(
        r#"select e.seq, e.id, e.kind, e.version, e.payload, e.who, p.name as by, e.hash,
             e.happened as "happened: jiff_sqlx::Timestamp", e.arrived as "arrived: jiff_sqlx::Timestamp"
           from entry e join person p on p.id = e.who where e.book_id = $1 order by e.seq"#,
        book
    )
    .fetch_all(tx)
    .await?;
    let unknown = |kind: &str| Problem::Fault(format!("unknown kind {kind} in book {book}"));
    rows.into_iter()
        .map(|r| {
            Ok(Entry {
                id: r.id,
                seq: r.seq,
                kind: K::from_name(&r.kind).ok_or_else(|| unknown(&r.kind))?,
                version: r.version,
                payload: serde_json::from_str(&r.payload)?,
                who: r.who,
                by: r.by,
                happened: r.happened.to_jiff(),
                arrived: r.arrived.to_jiff(),
                hash: r.hash,
            })
        })
        .collect()
}

/// A book at the head it has now, for readers: what they see is committed, and is kept. An empty one where there is none.
pub async fn read<L: Kept>(db: &mut PgConnection, state: &State, book: Uuid) -> Result<Arc<L>, Problem> {
    match head_of(db, book, L::BOOK).await? {
        None => Ok(Arc::default()),
        Some(head) => at_head(db, state, book, head).await,
    }
}

/// The same where its head is known.
pub async fn at_head<L: Kept>(db: &mut PgConnection, state: &State, book: Uuid, head_seq: i64) -> Result<Arc<L>, Problem> {
    let kept: Arc<L> = in_hand(db, state, book, head_seq).await?;
    L::cache(state).put(book, kept.clone());
    Ok(kept)
}

/// The same for a writer, whose transaction may see what is not committed yet: nothing enters the cache by it.
pub async fn in_hand<L: Kept>(tx: &mut PgConnection, state: &State, book: Uuid, head_seq: i64) -> Result<Arc<L>, Problem> {
    match L::cache(state).get(book, head_seq) {
        Some(kept) => Ok(kept),
        None => Ok(Arc::new(fold(&load(tx, book).await?))),
    }
}

/// An entry on its way into a book.
pub struct Link<'a, K> {
    /// The book.
    pub book: Uuid,
    /// The entry, sealed.
    pub entry: &'a Entry<K>,
    /// Canonical text of its payload.
    pub text: &'a str,
    /// Hash of what was sent.
    pub request: &'a str,
    /// Hash of the entry before.
    pub previous: &'a str,
}

impl<K: LedgerKind> Link<'_, K> {
    /// Stores it: the entry, the head of its book and the word to the browsers in one round trip. `false`: the id is
    /// taken.
    pub async fn store(&self, tx: &mut PgConnection) -> Result<bool, Problem> {
        let e = self.entry;
        let stored = sqlx::query!(
            "with written as (
               insert into entry (book_id, seq, id, kind, version, payload, who, happened, arrived, request_sha256, previous_hash, hash)
               values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) on conflict (id) do nothing returning book_id
             ), headed as (update book set head_seq = $2 where id in (select book_id from written) returning id)
             select pg_notify($13, w.book_id::text) from written w join headed h on h.id = w.book_id",
            self.book,
            e.seq,
            e.id,
            e.kind.name_at(e.version),
            e.version,
            self.text,
            e.who,
            e.happened.to_sqlx() as _,
            e.arrived.to_sqlx() as _,
            self.request,
            self.previous,
            e.hash,
            CHANNEL,
        )
        .fetch_all(tx)
        .await?;
        Ok(!stored.is_empty())
    }
}

/// Where an entry of this id stands in this book, when it was stored before with the same content.
///
/// **Errors:** a conflict, when the id is taken by another entry.
pub async fn stored_before(tx: &mut PgConnection, book: Uuid, id: Uuid, request: &str) -> Result<Option<i64>, Problem> {
    let known = sqlx::query!("select book_id, seq, request_sha256 from entry where id = $1", id).fetch_optional(tx).await?;
    match known {
        Some(known) if known.book_id == book && known.request_sha256 == request => Ok(Some(known.seq)),
        Some(_) => Err(Refusal::conflict("id-taken", "This entry was stored with other content. Enter it afresh.").into()),
        None => Ok(None),
    }
}

/// Hash of what a browser sent, without the time, which a repeat counts anew.
pub fn request_hash(kind: &str, payload: &Value) -> String {
    use sha2::{Digest, Sha256};
    let sent = format!("{kind}\n{}", text(payload));
    Sha256::digest(sent.as_bytes()).iter().map(|b| format!("{b:02x}")).collect()
}
