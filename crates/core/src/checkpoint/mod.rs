//! Checkpoints: a signed statement of how far every book had come, so that whoever holds the database cannot rewrite it unseen.
//!
//! A statement is over the heads and lengths of all books, the signed cards, and the files that are kept; it names the one before it.
//! It is signed by a key that lies outside the database. What came after the newest checkpoint it does not cover.

mod merkle;

pub use merkle::{hex, root, unhex};

use crate::book::canonical;
use ed25519_dalek::{Signature, Signer, SigningKey, VerifyingKey};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::json;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;

/// Name of the format.
pub const FORMAT: &str = "level-keel-checkpoint";
/// Version of the format.
pub const FORMAT_VERSION: u32 = 1;

/// How far a book had come.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BookHead {
    /// The book.
    pub id: Uuid,
    /// Its sort: batch, rig, lot, place, instrument.
    pub kind: String,
    /// Entries in it.
    pub seq: i64,
    /// Hash of the last one.
    pub hash: String,
}

/// A signed card as it was kept.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CardKept {
    /// Its batch.
    pub batch: Uuid,
    /// SHA-256 of its text.
    pub sha256: String,
}

/// So many rows of one sort, under one root.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Covered {
    /// How many.
    pub count: usize,
    /// Their Merkle root.
    pub root: String,
}

/// What is signed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Statement {
    /// Always `level-keel-checkpoint`.
    pub format: String,
    /// Version of the format.
    pub format_version: u32,
    /// The first is 1.
    pub number: u64,
    /// When, by the clock of the server.
    pub made: Timestamp,
    /// SHA-256 of the statement before it; none for the first.
    pub before: Option<String>,
    /// Entries in all books.
    pub entries: i64,
    /// Heads of the books.
    pub books: Covered,
    /// Signed cards.
    pub cards: Covered,
    /// Files that are kept.
    pub files: Covered,
    /// One root over the three, in this order: this is what is printed.
    pub root: String,
}

impl Statement {
    /// What is signed, as text: canonical JSON.
    fn text(&self) -> String {
        canonical::text(&serde_json::to_value(self).unwrap_or_default())
    }

    /// Its hash, by which the next one names it.
    pub fn sha256(&self) -> String {
        hex(&Sha256::digest(self.text().as_bytes()))
    }
}

/// What a checkpoint covers, read in one instant.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Rows {
    /// Every book, by id.
    pub books: Vec<BookHead>,
    /// Every signed card, by batch.
    pub cards: Vec<CardKept>,
    /// Every file, by hash.
    pub files: Vec<String>,
}

impl Rows {
    fn covered(&self) -> [Covered; 3] {
        let under = |rows: Vec<Vec<u8>>| Covered { count: rows.len(), root: root(&rows) };
        let row = |value: serde_json::Value| canonical::text(&value).into_bytes();
        [
            under(self.books.iter().map(|b| row(json!([b.id, b.kind, b.seq, b.hash]))).collect()),
            under(self.cards.iter().map(|c| row(json!([c.batch, c.sha256]))).collect()),
            under(self.files.iter().map(|f| row(json!([f]))).collect()),
        ]
    }
}

/// A checkpoint as it is kept in its file: the statement, who signed it, and the rows, so that a fault names what it is of.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Checkpoint {
    /// What is signed.
    pub statement: Statement,
    /// The public key, in hexadecimal digits.
    pub key: String,
    /// Ed25519 over the canonical text of the statement, in hexadecimal digits.
    pub signature: String,
    /// What it covers.
    pub rows: Rows,
}

impl Checkpoint {
    /// Signs what was read.
    ///
    /// **Formula:** Ed25519 over canonical JSON; roots as [`root`]. **Source:** RFC 8032, RFC 6962.
    pub fn sign(rows: Rows, made: Timestamp, before: Option<&Statement>, key: &[u8; 32]) -> Checkpoint {
        let signing = SigningKey::from_bytes(key);
        let [books, cards, files] = rows.covered();
        let all: Vec<Vec<u8>> = [&books, &cards, &files].map(|c| c.root.clone().into_bytes()).to_vec();
        let statement = Statement {
            format: FORMAT.into(),
            format_version: FORMAT_VERSION,
            number: before.map_or(1, |b| b.number + 1),
            made,
            before: before.map(Statement::sha256),
            entries: rows.books.iter().map(|b| b.seq).sum(),
            books,
            cards,
            files,
            root: root(&all),
        };
        let signature = hex(&signing.sign(statement.text().as_bytes()).to_bytes());
        Checkpoint { statement, key: hex(signing.verifying_key().as_bytes()), signature, rows }
    }

    /// What is wrong with it by itself: its signature, its rows, its place after the one before.
    pub fn faults(&self, before: Option<&Statement>, key: Option<&str>) -> Vec<String> {
        let s = &self.statement;
        let mut faults = Vec::new();
        let mut fault = |wrong: bool, what: &str| {
            if wrong {
                faults.push(format!("checkpoint {}: {what}", s.number));
            }
        };
        fault(s.format != FORMAT || s.format_version != FORMAT_VERSION, "nobody knows its format");
        fault(!self.is_signed(), "its signature is not of this statement");
        fault(key.is_some_and(|key| key != self.key), "it is signed by another key than this server's");
        let [books, cards, files] = self.rows.covered();
        fault(s.books != books, "its list of books is not the one that was signed");
        fault(s.cards != cards, "its list of cards is not the one that was signed");
        fault(s.files != files, "its list of files is not the one that was signed");
        let all: Vec<Vec<u8>> = [&s.books, &s.cards, &s.files].map(|c| c.root.clone().into_bytes()).to_vec();
        fault(s.root != root(&all), "its root is not over its parts");
        fault(s.number != before.map_or(1, |b| b.number + 1), "one before it is missing");
        fault(s.before != before.map(Statement::sha256), "it does not follow the one before it");
        faults
    }

    fn is_signed(&self) -> bool {
        let key = unhex::<32>(&self.key).and_then(|key| VerifyingKey::from_bytes(&key).ok());
        let signature = unhex::<64>(&self.signature).map(|bytes| Signature::from_bytes(&bytes));
        let text = self.statement.text();
        key.zip(signature).is_some_and(|(key, signature)| key.verify_strict(text.as_bytes(), &signature).is_ok())
    }

    /// Whether it covers a book up to an entry.
    pub fn covers(&self, book: Uuid, seq: i64) -> bool {
        self.rows.books.iter().any(|b| b.id == book && b.seq >= seq)
    }
}
