//! Canonical bytes of a JSON value, and the hash that chains the entries of a book.
//!
//! Keys are sorted at every depth here, so that the text does not depend on how a map was built.

use super::{Entry, LedgerKind};
use jiff::Timestamp;
use serde_json::Value;
use sha2::{Digest, Sha256};
use uuid::Uuid;

/// The canonical text of a value: sorted keys, no spaces, numbers as `serde_json` writes them.
///
/// ```
/// let v = serde_json::json!({"b": 1.5, "a": [true, null]});
/// assert_eq!(level_keel_core::book::canonical::text(&v), r#"{"a":[true,null],"b":1.5}"#);
/// ```
pub fn text(value: &Value) -> String {
    let mut out = String::new();
    write(value, &mut out);
    out
}

fn write(value: &Value, out: &mut String) {
    match value {
        Value::Object(map) => {
            let mut keys: Vec<&String> = map.keys().collect();
            keys.sort();
            out.push('{');
            for (i, key) in keys.iter().enumerate() {
                if i > 0 {
                    out.push(',');
                }
                out.push_str(&Value::String((*key).clone()).to_string());
                out.push(':');
                write(&map[*key], out);
            }
            out.push('}');
        }
        Value::Array(items) => {
            out.push('[');
            for (i, item) in items.iter().enumerate() {
                if i > 0 {
                    out.push(',');
                }
                write(item, out);
            }
            out.push(']');
        }
        plain => out.push_str(&plain.to_string()),
    }
}

/// An entry as it is stored: the canonical text of its payload, and its hash upon the entry before.
pub fn seal_entry<K: LedgerKind>(book: Uuid, entry: &Entry<K>, previous: &str) -> (String, String) {
    let payload = text(&entry.payload);
    let sealed = Sealed {
        book,
        seq: entry.seq,
        id: entry.id,
        kind: entry.kind.name_at(entry.version),
        version: entry.version,
        payload: &payload,
        who: entry.who,
        happened: entry.happened,
        arrived: entry.arrived,
    };
    let hash = seal(previous, &sealed);
    (payload, hash)
}

/// What of an entry is hashed.
pub struct Sealed<'a> {
    /// The book.
    pub book: Uuid,
    /// Sequence in the book, from 1.
    pub seq: i64,
    /// Id of the entry.
    pub id: Uuid,
    /// Kind.
    pub kind: &'a str,
    /// Payload version.
    pub version: i32,
    /// Canonical payload text, as stored.
    pub payload: &'a str,
    /// Who.
    pub who: Uuid,
    /// When it happened.
    pub happened: Timestamp,
    /// When it arrived.
    pub arrived: Timestamp,
}

/// SHA-256 over the previous hash and every part, each with its length, in hex.
pub fn seal(previous: &str, e: &Sealed<'_>) -> String {
    let mut hash = Sha256::new();
    let parts = [
        previous.to_string(),
        e.book.to_string(),
        e.seq.to_string(),
        e.id.to_string(),
        e.kind.to_string(),
        e.version.to_string(),
        e.payload.to_string(),
        e.who.to_string(),
        e.happened.as_microsecond().to_string(),
        e.arrived.as_microsecond().to_string(),
    ];
    for part in parts {
        hash.update((part.len() as u64).to_be_bytes());
        hash.update(part.as_bytes());
    }
    hash.finalize().iter().map(|b| format!("{b:02x}")).collect()
}

/// An instant cut to the microsecond, as the database keeps it.
pub fn cut(at: Timestamp) -> Timestamp {
    Timestamp::from_microsecond(at.as_microsecond()).unwrap_or(at)
}
