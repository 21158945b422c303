//! Passes, what happened between them, and the film read: as the card documents them.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocPass {
    pub no: usize,
    pub at: Timestamp,
    pub by: String,
    pub charge: i64,
    /// Empty: the whole part.
    pub zones: Vec<String>,
    /// The step of the coat it was of, as its sheet names it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<String>,
    /// Its way over the part.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub way: Option<String>,
    pub used_ml: Option<f64>,
    /// What was out of order about it, in words.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub out_of_order: Vec<String>,
}

/// Something that happened while it was sprayed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocHappening {
    pub at: Timestamp,
    pub by: String,
    /// What, as it is called.
    pub what: String,
    pub zone: Option<String>,
    /// During which pass of that zone.
    pub pass_no: Option<u32>,
    pub text: Option<String>,
}

/// A film reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocFilm {
    pub at: Timestamp,
    pub by: String,
    pub zone: Option<String>,
    pub after_pass: usize,
    pub wet_least_um: f64,
    pub wet_most_um: f64,
    /// Predicted from the volume solids of the finished paint.
    pub dry_least_um: f64,
    pub dry_most_um: f64,
    /// A pass was made that nobody measured: the film may be more than its most here.
    #[serde(default)]
    pub open_ended: bool,
}
