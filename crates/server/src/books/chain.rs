//! One link of a book's chain: sealed, stored, the head moved, the browsers told. Every kind of book uses it.

use crate::live::CHANNEL;
use crate::problem::Problem;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::canonical::{self, Sealed, seal};
use level_keel_core::refusal::Refusal;
use serde_json::Value;
use sqlx::PgConnection;
use uuid::Uuid;

/// An entry about to be stored.
pub struct Link<'a> {
    /// Its book.
    pub book: Uuid,
    /// Its sequence.
    pub seq: i64,
    /// Its id.
    pub id: Uuid,
    /// Kind of entry.
    pub kind: &'a str,
    /// Payload version.
    pub version: i32,
    /// What it says.
    pub payload: &'a Value,
    /// Who.
    pub who: Uuid,
    /// When it happened.
    pub happened: Timestamp,
    /// When it arrived.
    pub arrived: Timestamp,
    /// Hash of what was sent.
    pub request: &'a str,
    /// Hash of the entry before.
    pub previous: &'a str,
}

/// A link with its text and hash.
pub struct Forged {
    /// Canonical text of the payload.
    pub text: String,
    /// Its hash.
    pub hash: String,
}

impl Link<'_> {
    /// Makes the text and the hash.
    pub fn forge(&self) -> Forged {
        let text = canonical::text(self.payload);
        let sealed = Sealed {
            book: self.book,
            seq: self.seq,
            id: self.id,
            kind: self.kind,
            version: self.version,
            payload: &text,
            who: self.who,
            happened: self.happened,
            arrived: self.arrived,
        };
        let hash = seal(self.previous, &sealed);
        Forged { text, hash }
    }

    /// Stores it: the entry, the head of its book and the word to the browsers in one round trip. `false`: the id is
    /// taken.
    pub async fn store(&self, tx: &mut PgConnection, forged: &Forged) -> Result<bool, Problem> {
        let stored = sqlx::query!(
            "with written as (
               insert into entry (book_id, seq, id, kind, version, payload, who, happened, arrived, request_sha256, previous_hash, hash)
               values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) on conflict (id) do nothing returning book_id
             ), headed as (update book set head_seq = $2 where id in (select book_id from written) returning id)
             select pg_notify($13, w.book_id::text) from written w join headed h on h.id = w.book_id",
            self.book,
            self.seq,
            self.id,
            self.kind,
            self.version,
            forged.text,
            self.who,
            self.happened.to_sqlx() as _,
            self.arrived.to_sqlx() as _,
            self.request,
            self.previous,
            forged.hash,
            CHANNEL,
        )
        .fetch_all(tx)
        .await?;
        Ok(!stored.is_empty())
    }
}

/// Opens a book on its first entry, and locks it: of two writers the second waits. The sequence and hash of its head.
pub async fn open_book(tx: &mut PgConnection, book: Uuid, kind: &str, now: Timestamp) -> Result<(i64, String), Problem> {
    sqlx::query!(
        "insert into book (id, kind, created) values ($1, $2, $3) on conflict (id) do nothing",
        book,
        kind,
        now.to_sqlx() as _
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!("select id from book where id = $1 for update", book).fetch_one(&mut *tx).await?;
    let head = sqlx::query!(
        r#"select b.head_seq, coalesce((select hash from entry e where e.book_id = b.id and e.seq = b.head_seq), '') as "hash!"
           from book b where b.id = $1"#,
        book
    )
    .fetch_one(tx)
    .await?;
    Ok((head.head_seq, head.hash))
}

/// Where an entry of this id stands in this book, when it was stored before with the same content.
///
/// **Errors:** a conflict, when the id is taken by another entry.
pub async fn stored_before(tx: &mut PgConnection, book: Uuid, id: Uuid, request: &str) -> Result<Option<i64>, Problem> {
    let known = sqlx::query!("select book_id, seq, request_sha256 from entry where id = $1", id).fetch_optional(tx).await?;
    match known {
        Some(known) if known.book_id == book && known.request_sha256 == request => Ok(Some(known.seq)),
        Some(_) => Err(id_taken().into()),
        None => Ok(None),
    }
}

/// The refusal of an id that another entry has.
pub fn id_taken() -> Refusal {
    Refusal::conflict("id-taken", "This entry was stored with other content. Enter it afresh.")
}

/// Hash of what a browser sent, without the time, which a repeat counts anew.
pub fn request_hash(kind: &str, payload: &Value) -> String {
    use sha2::{Digest, Sha256};
    let text = format!("{kind}\n{}", canonical::text(payload));
    Sha256::digest(text.as_bytes()).iter().map(|b| format!("{b:02x}")).collect()
}
