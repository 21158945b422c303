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
    /// A mixed pot.
    #[strum(serialize = "pot")]
    Pot,
}

impl Worded for ThingKind {}

/// What a line turned out to be.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Scanned {
    /// The address of a thing, of this kind, by its id. Whether it is kept here only the stores know.
    Label(ThingKind, Uuid),
    /// The address of a pot: its batch and its charge.
    Pot(Uuid, Uuid),
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
    if !is_address(line) {
        return Ok(Scanned::Words(line.into()));
    }
    address(line).map_or_else(|| refuse("foreign-label", "This label is not of this shop. Nothing was opened."), Ok)
}

/// The line is an address, whoever's it is: no name or code looks like one.
pub fn is_address(line: &str) -> bool {
    let lower = line.trim_start().to_ascii_lowercase();
    lower.starts_with("http://") || lower.starts_with("https://")
}

/// What an address names; nothing when its path is none that a label is printed with.
fn address(line: &str) -> Option<Scanned> {
    let path = line.split_once("://").and_then(|(_, rest)| rest.split_once('/')).map_or("", |(_, path)| path);
    let path = path.split(['?', '#']).next().unwrap_or_default().trim_end_matches('/');
    let (named, id) = match path.split('/').collect::<Vec<_>>()[..] {
        ["batches", batch, "pots", pot] => return Some(Scanned::Pot(Uuid::parse_str(batch).ok()?, Uuid::parse_str(pot).ok()?)),
        ["stores", id] => (ThingKind::Lot, id),
        ["parts", id] => (ThingKind::Part, id),
        ["batches", id] => (ThingKind::Batch, id),
        ["batches", id, "card"] => (ThingKind::Card, id),
        ["sheets", id] => (ThingKind::Sheet, id),
        ["rigs", id] => (ThingKind::Rig, id),
        _ => return None,
    };
    Some(Scanned::Label(named, Uuid::parse_str(id).ok()?))
}

/// The path of the address that a label of a thing is printed with; of a pot, `of` is its batch and `pot` its charge.
///
/// **Rule:** [`read`] of any address with this path gives the thing again. **Source:** ours. Nothing for what no label is printed of.
///
/// ```
/// use level_keel_core::scan::{Scanned, ThingKind, path, read};
/// let id = uuid::Uuid::from_u128(7);
/// let line = format!("http://127.0.0.1:7070{}", path(ThingKind::Rig, id, None).expect("rigs have labels"));
/// assert_eq!(read(&line), Ok(Scanned::Label(ThingKind::Rig, id)));
/// ```
pub fn path(is: ThingKind, of: Uuid, pot: Option<Uuid>) -> Option<String> {
    match (is, pot) {
        (ThingKind::Lot, None) => Some(format!("/stores/{of}")),
        (ThingKind::Part, None) => Some(format!("/parts/{of}")),
        (ThingKind::Rig, None) => Some(format!("/rigs/{of}")),
        (ThingKind::Card, None) => Some(format!("/batches/{of}/card")),
        (ThingKind::Pot, Some(pot)) => Some(format!("/batches/{of}/pots/{pot}")),
        _ => None,
    }
}

/// The id of the thing of this kind whose label was scanned into `field`; nothing when the text is no address.
///
/// **Errors:** those of [`read`] that an address meets, and `other-label` for a label of something else, each at `field`.
pub fn scanned_into(field: &str, text: &str, wanted: ThingKind) -> Result<Option<Uuid>, Refusal> {
    if !is_address(text) {
        return Ok(None);
    }
    let at_field = |refusal: Refusal| Refusal { field: Some(field.into()), ..refusal };
    let is = match read(text).map_err(at_field)? {
        Scanned::Label(is, id) if is == wanted => return Ok(Some(id)),
        Scanned::Label(is, _) => is,
        Scanned::Pot(..) | Scanned::Words(_) => ThingKind::Pot,
    };
    let text = format!("This is the label of a {}. Scan that of a {}.", is.word(), wanted.word());
    Err(Refusal::bad_input("other-label", field, text))
}
