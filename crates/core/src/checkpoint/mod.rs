//! Checkpoints: a signed statement of how far every book had come, so that whoever holds the database cannot rewrite it unseen.
//!
//! A statement is over the heads and lengths of all books, the signed cards, the files that are kept, and what a shop keeps beside its
//! books (people, editions of sheets, lists, pieces, instruments, settings); it names the one before it.
//! It is signed by a key that lies outside the database. What came after the newest checkpoint it does not cover.

mod merkle;

pub use merkle::{hex, root, unhex};

use crate::book::canonical;
use ed25519_dalek::{Signature, Signer, SigningKey, VerifyingKey};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::json;
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// Name of the format.
pub const FORMAT: &str = "level-keel-checkpoint";
/// Version of the format. The first covered books, cards and files alone.
pub const FORMAT_VERSION: u32 = 2;

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

/// A row beside the books, as it was kept.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HouseRow {
    /// What it is: `person`, `sheet edition`, `ready lists`, `recoat pair`, `piece`, `tip`, `instrument`, `setting`.
    pub of: String,
    /// Which.
    pub id: String,
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
    /// What a shop keeps beside its books; missing in the first version.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub house: Option<Covered>,
    /// One root over these, in this order: this is what is printed.
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
    /// Every row beside the books, by what it is and which.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub house: Vec<HouseRow>,
}

impl Rows {
    fn covered(&self) -> [Covered; 4] {
        let under = |rows: Vec<Vec<u8>>| Covered { count: rows.len(), root: root(&rows) };
        let row = |value: serde_json::Value| canonical::text(&value).into_bytes();
        [
            under(self.books.iter().map(|b| row(json!([b.id, b.kind, b.seq, b.hash]))).collect()),
            under(self.cards.iter().map(|c| row(json!([c.batch, c.sha256]))).collect()),
            under(self.files.iter().map(|f| row(json!([f]))).collect()),
            under(self.house.iter().map(|h| row(json!([h.of, h.id, h.sha256]))).collect()),
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
        let [books, cards, files, house] = rows.covered();
        let all = over([&books, &cards, &files, &house]);
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
            house: Some(house),
            root: all,
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
        let has_house = s.house.is_some();
        fault(s.format != FORMAT || s.format_version != if has_house { FORMAT_VERSION } else { 1 }, "nobody knows its format");
        fault(!self.is_signed(), "its signature is not of this statement");
        fault(key.is_some_and(|key| key != self.key), "it is signed by another key than this server's");
        let [books, cards, files, house] = self.rows.covered();
        fault(s.books != books, "its list of books is not the one that was signed");
        fault(s.cards != cards, "its list of cards is not the one that was signed");
        fault(s.files != files, "its list of files is not the one that was signed");
        let wrong = s.house.as_ref().map_or(!self.rows.house.is_empty(), |signed| *signed != house);
        fault(wrong, "its list of people, sheets and the like is not the one that was signed");
        let parts = [Some(&s.books), Some(&s.cards), Some(&s.files), s.house.as_ref()];
        fault(s.root != over(parts.into_iter().flatten()), "its root is not over its parts");
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

    /// What changed beside the books between this and a later one, in words; nothing where either says nothing of it.
    pub fn house_changes(&self, later: &[HouseRow]) -> Vec<String> {
        if self.statement.house.is_none() {
            return Vec::new();
        }
        let by = |rows: &[HouseRow]| -> BTreeMap<(String, String), String> {
            rows.iter().map(|r| ((r.of.clone(), r.id.clone()), r.sha256.clone())).collect()
        };
        let (was, is) = (by(&self.rows.house), by(later));
        let gone = was.keys().filter(|key| !is.contains_key(*key)).map(|(of, id)| format!("{of} {id} is gone"));
        let other = is.iter().filter_map(|(key, sha256)| match was.get(key) {
            Some(before) if before == sha256 => None,
            Some(_) => Some(format!("{} {} was changed", key.0, key.1)),
            None => Some(format!("{} {} was added", key.0, key.1)),
        });
        gone.chain(other).collect()
    }

    /// Whether it covers a book up to an entry.
    pub fn covers(&self, book: Uuid, seq: i64) -> bool {
        self.rows.books.iter().any(|b| b.id == book && b.seq >= seq)
    }
}

fn over<'a>(parts: impl IntoIterator<Item = &'a Covered>) -> String {
    let all: Vec<Vec<u8>> = parts.into_iter().map(|c| c.root.clone().into_bytes()).collect();
    root(&all)
}
