//! One link of a book's chain: sealed, stored, the head moved, the browsers told. Every kind of book uses it.

use crate::live::CHANNEL;
use crate::problem::Problem;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::canonical::{self, Sealed, seal};
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

/// Hash of what a browser sent, without the time, which a repeat counts anew.
pub fn request_hash(kind: &str, payload: &Value) -> String {
    use sha2::{Digest, Sha256};
    let text = format!("{kind}\n{}", canonical::text(payload));
    Sha256::digest(text.as_bytes()).iter().map(|b| format!("{b:02x}")).collect()
}
