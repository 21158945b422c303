//! The one public error of core: what was refused, why, at which field, and the way out.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use utoipa::ToSchema;

/// What kind of no it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Why {
    /// The input cannot be read, is outside its limits, or contradicts itself.
    BadInput,
    /// This person's role may not do it.
    Forbidden,
    /// A rule holds it; a lead may release.
    Hold,
    /// A rule stops it; nobody may.
    Stop,
    /// It does not fit the state of the book (already signed, seen an older head …).
    Conflict,
}

/// A refusal in words a worker understands.
#[derive(Debug, Clone, PartialEq, Error, Serialize, Deserialize, ToSchema)]
#[error("{text}")]
pub struct Refusal {
    /// What kind of no.
    pub why: Why,
    /// Stable kebab-case code.
    pub code: String,
    /// The field it belongs to, when it belongs to one.
    pub field: Option<String>,
    /// What, why, and what to do.
    pub text: String,
}

impl Refusal {
    fn new(why: Why, code: &str, field: Option<&str>, text: impl Into<String>) -> Self {
        Refusal { why, code: code.into(), field: field.map(Into::into), text: text.into() }
    }

    /// An input that cannot be taken, at its field.
    pub fn bad_input(code: &str, field: &str, text: impl Into<String>) -> Self {
        Self::new(Why::BadInput, code, Some(field), text)
    }

    /// The same refusal at another field.
    #[must_use]
    pub fn at(mut self, field: &str) -> Self {
        self.field = Some(field.into());
        self
    }

    /// Not for this role.
    pub fn forbidden(code: &str, text: impl Into<String>) -> Self {
        Self::new(Why::Forbidden, code, None, text)
    }

    /// Held by a rule a lead may release.
    pub fn hold(code: &str, text: impl Into<String>) -> Self {
        Self::new(Why::Hold, code, None, text)
    }

    /// Stopped by a rule nobody may release.
    pub fn stop(code: &str, text: impl Into<String>) -> Self {
        Self::new(Why::Stop, code, None, text)
    }

    /// Does not fit the state of the book.
    pub fn conflict(code: &str, text: impl Into<String>) -> Self {
        Self::new(Why::Conflict, code, None, text)
    }
}
