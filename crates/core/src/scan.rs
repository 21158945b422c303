//! A line that a scanner types, or a person into the box that finds: an address of a label of this shop, or words to look for.

use crate::refusal::Refusal;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Longest line that is read. A label holds an address of some seventy characters.
pub const LINE_CHARS: usize = 200;

/// What a label may name.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ThingKind {
    /// A batch in work.
    #[strum(serialize = "batch in work")]
    Batch,
    /// A card: a batch that is signed.
    #[strum(serialize = "card")]
    Card,
    /// A part.
    #[strum(serialize = "part")]
    Part,
    /// A lot.
    #[strum(serialize = "lot")]
    Lot,
    /// A sheet.
    #[strum(serialize = "sheet")]
    Sheet,
    /// A rig.
    #[strum(serialize = "rig")]
    Rig,
    /// A person.
    #[strum(serialize = "person")]
    Person,
}

impl Worded for ThingKind {}

/// What a line turned out to be.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Scanned {
    /// The address of a thing, of this kind, by its id. Whether it is kept here only the stores know.
    Label(ThingKind, Uuid),
    /// Words to look for.
    Words(String),
}

/// Reads a line.
///
/// **Rule:** an address is that of a label when its path is one a label is printed with, whatever host it was printed under: a server
/// may have been moved since. Any other address is refused, so that nobody is led elsewhere. The rest is words. **Source:** ours.
/// **Errors:** `empty`, `scan-too-long` over [`LINE_CHARS`], `scan-unreadable` with control characters in it, `foreign-label`.
///
/// ```
/// use level_keel_core::scan::{ThingKind, Scanned, read};
/// let lot = "http://127.0.0.1:7070/stores/0191d000-0000-7000-8000-000000000007";
/// assert!(matches!(read(lot), Ok(Scanned::Label(ThingKind::Lot, _))));
/// assert_eq!(read(" P-2207 "), Ok(Scanned::Words("P-2207".into())));
/// assert!(read("https://example.com/win").is_err());
/// ```
pub fn read(line: &str) -> Result<Scanned, Refusal> {
    let line = line.trim();
    let refuse = |code: &'static str, text: &str| Err(Refusal::bad_input(code, "q", text));
    if line.is_empty() {
        return refuse("empty", "What is to be found?");
    }
    if line.chars().count() > LINE_CHARS {
        return refuse("scan-too-long", "This is longer than any label of this shop. Nothing was opened.");
    }
    if line.chars().any(char::is_control) {
        return refuse("scan-unreadable", "This cannot be read. Scan it again, or type the code under it.");
    }
    let lower = line.to_ascii_lowercase();
    if !lower.starts_with("http://") && !lower.starts_with("https://") {
        return Ok(Scanned::Words(line.into()));
    }
    let path = line.split_once("://").and_then(|(_, rest)| rest.split_once('/')).map_or("", |(_, path)| path);
    let path = path.split(['?', '#']).next().unwrap_or_default().trim_end_matches('/');
    let named = match path.split('/').collect::<Vec<_>>()[..] {
        ["stores", id] => Some((ThingKind::Lot, id)),
        ["parts", id] => Some((ThingKind::Part, id)),
        ["batches", id] => Some((ThingKind::Batch, id)),
        ["batches", id, "card"] => Some((ThingKind::Card, id)),
        ["sheets", id] => Some((ThingKind::Sheet, id)),
        ["rigs", id] => Some((ThingKind::Rig, id)),
        _ => None,
    };
    match named.and_then(|(named, id)| Some((named, Uuid::parse_str(id).ok()?))) {
        Some((named, id)) => Ok(Scanned::Label(named, id)),
        None => refuse("foreign-label", "This label is not of this shop. Nothing was opened."),
    }
}
