//! Roles, who writes, and what each role may do outside the books of batches.

use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What a person is in the shop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Does the work.
    #[strum(serialize = "applicator")]
    Applicator,
    /// Releases work.
    #[strum(serialize = "lead")]
    Lead,
    /// Measures and accepts.
    #[strum(serialize = "inspector")]
    Inspector,
    /// Answers for the records.
    #[strum(serialize = "owner")]
    Owner,
}

impl Worded for Role {}

/// Who writes.
#[derive(Debug, Clone, PartialEq)]
pub struct Writer {
    /// Id.
    pub id: Uuid,
    /// Role.
    pub role: Role,
    /// How they read numbers.
    pub prefs: Prefs,
    /// The shop is worked by one person: nobody else could accept their work.
    pub works_alone: bool,
}

/// What a person may do outside the books.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Duty {
    /// Create and edit sheets and instruments.
    Sheets,
    /// People, settings, exports of everything.
    House,
}

/// How far a permission reaches.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum May {
    /// Always.
    Yes,
    /// Only on a batch they worked on.
    OwnBatch,
    /// Only where they did not do the work alone, unless the shop is worked by one person.
    NotAlone,
    /// Only an entry of their own.
    OwnEntry,
    /// Never.
    No,
}

/// Whether a role has a duty outside the books.
pub fn has_duty(role: Role, duty: Duty) -> Result<(), Refusal> {
    let ok = match duty {
        Duty::Sheets => matches!(role, Role::Lead | Role::Owner),
        Duty::House => role == Role::Owner,
    };
    let whose = match duty {
        Duty::Sheets => "a lead or the owner",
        Duty::House => "the owner",
    };
    if ok { Ok(()) } else { Err(Refusal::forbidden("not-your-role", format!("Only {whose} may do this. Ask them to."))) }
}

/// A PIN: four to twelve digits, not all the same.
pub fn check_pin(pin: &str) -> Result<(), Refusal> {
    let digits = pin.chars().all(|c| c.is_ascii_digit()) && (4..=12).contains(&pin.len());
    let same = pin.bytes().all(|b| pin.bytes().next() == Some(b));
    if digits && !same {
        Ok(())
    } else {
        Err(Refusal::bad_input("weak-pin", "pin", "A PIN is 4 to 12 digits, not all the same."))
    }
}
