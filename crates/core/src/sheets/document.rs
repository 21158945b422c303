//! A sheet as an open document, to carry to another shop. Its JSON Schema is served beside it.

use super::Sheet;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Name of the format.
pub const FORMAT: &str = "level-keel-sheet";
/// Version of the format.
pub const FORMAT_VERSION: u32 = 1;

/// A sheet with the name of its format. Field names end in their unit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SheetDocument {
    /// Always `level-keel-sheet`.
    pub format: String,
    /// Version of the format.
    pub format_version: u32,
    /// The shop's own number of this version, for people.
    #[serde(default)]
    pub edition: Option<i32>,
    /// The sheet.
    pub sheet: Sheet,
}

impl SheetDocument {
    /// A sheet on its way out.
    pub fn of(sheet: Sheet, edition: i32) -> SheetDocument {
        SheetDocument { format: FORMAT.into(), format_version: FORMAT_VERSION, edition: Some(edition), sheet }
    }

    /// The sheet on its way in, checked as if it were typed.
    ///
    /// **Errors:** a [`Refusal`] naming the path in the document.
    pub fn accept(self, prefs: Prefs) -> Result<Sheet, Refusal> {
        if self.format != FORMAT {
            return Err(Refusal::bad_input("other-format", "format", format!("This is not a {FORMAT} document.")));
        }
        if self.format_version != FORMAT_VERSION {
            let text =
                format!("Version {} of the format is not known here; this reads version {FORMAT_VERSION}.", self.format_version);
            return Err(Refusal::bad_input("unknown-version", "format_version", text));
        }
        self.sheet.validate(prefs).map_err(|mut r| {
            r.field = r.field.map(|f| format!("sheet.{f}"));
            r
        })
    }
}
