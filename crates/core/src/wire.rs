//! Reading what came over the wire or out of a book, with serde's words turned into a refusal at the field.

use crate::refusal::Refusal;
use serde::Deserialize;
use serde_json::Value;

/// Reads any wire form.
///
/// **Errors:** a [`Refusal`] naming the field that is missing, unknown or of the wrong shape.
pub fn read<T: serde::de::DeserializeOwned>(value: Value) -> Result<T, Refusal> {
    parse(&value)
}

/// As [`read`], from a value that is kept.
///
/// **Errors:** as [`read`].
pub fn parse<'a, T: Deserialize<'a>>(value: &'a Value) -> Result<T, Refusal> {
    // Nearly all that is read is right, and following the path costs a third more: only what failed is read again with it.
    if let Ok(read) = T::deserialize(value) {
        return Ok(read);
    }
    serde_path_to_error::deserialize(value).map_err(|e| {
        let path = e.path().to_string();
        let text = e.into_inner().to_string();
        let named = text.split('`').nth(1).unwrap_or("payload").to_string();
        // The path leads to what was read when it failed: of a field that is missing, to what it is missing in.
        let here = if path == "." { "payload".to_string() } else { path.clone() };
        let inside = |name: &str| match path.rsplit_once('.') {
            _ if path == "." || path == name => name.to_string(),
            Some((_, last)) if last == name => path.clone(),
            _ => format!("{path}.{name}"),
        };
        match text.as_str() {
            t if t.starts_with("missing field") => Refusal::bad_input("missing", &inside(&named), "This is needed."),
            t if t.starts_with("unknown field") => {
                Refusal::bad_input("unknown-field", &inside(&named), "There is no such field here.")
            }
            t if t.contains("null") => Refusal::bad_input("missing", &here, "This is needed."),
            _ => Refusal::bad_input("not-understood", &here, format!("This cannot be read: {text}.")),
        }
    })
}
