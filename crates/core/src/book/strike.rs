//! Striking: an entry is voided with a reason and stays in the log. It is never changed, and a strike is never struck.

use super::{LedgerKind, Line, Log};
use crate::limits::{self, check_text};
use crate::people::{Role, Writer};
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// An entry is struck.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Strike {
    /// Which entry.
    pub entry: Uuid,
    /// Why.
    pub reason: String,
}

impl Strike {
    /// Its reason can be read.
    ///
    /// **Errors:** a refusal naming `reason`.
    pub fn has_a_reason(&self) -> Result<(), Refusal> {
        check_text("reason", &self.reason, limits::TEXT_CHARS).map(drop)
    }

    /// The line it voids.
    ///
    /// **Errors:** there is none, it is struck already, or its kind is not struck.
    pub fn of<'a, K: LedgerKind, S>(&self, log: &'a Log<K, S>) -> Result<&'a Line<K, S>, Refusal> {
        let line = log
            .line(self.entry)
            .ok_or_else(|| Refusal::bad_input("unknown-entry", "entry", "There is no such entry in this book."))?;
        if line.struck.is_some() {
            return Err(Refusal::conflict("struck-already", "This entry is struck already."));
        }
        line.kind.may_be_struck()?;
        Ok(line)
    }
}

/// One's own entry may be struck, a lead or the owner strikes any.
///
/// **Errors:** a refusal that says whom to ask.
pub(crate) fn own_or_lead<K, S>(line: &Line<K, S>, writer: &Writer) -> Result<(), Refusal> {
    if line.who == writer.id || matches!(writer.role, Role::Lead | Role::Owner) {
        return Ok(());
    }
    Err(Refusal::forbidden("not-your-role", "Somebody else wrote this. They or a lead may strike it."))
}
