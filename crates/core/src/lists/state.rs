//! What is ticked of an item, and how it then stands.

use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::Sheet;
use crate::stores::Attached;
use crate::verdict::{Measured, Tolerance, Verdict};
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What was done for an item.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Did {
    /// Done, good, approved.
    Done,
    /// Tried and failed.
    Failed,
    /// A timer begins.
    Start,
    /// A timer ends.
    Stop,
}

/// An item ticked, tried, timed or read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Tick {
    /// Key of the item.
    pub item: String,
    /// What was done.
    pub did: Did,
    /// A profile, as read.
    #[serde(default)]
    pub read_um: Option<f64>,
    /// The control sample, a remark.
    #[serde(default)]
    pub text: Option<String>,
    /// A photo.
    #[serde(default)]
    pub photo: Option<Attached>,
}

/// How it stands. Worst last.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ItemState {
    /// Done.
    Done,
    /// Done, and soon over.
    Watch,
    /// A timer runs.
    Running,
    /// Not done yet.
    Open,
    /// Failed, over, or out.
    Held,
}

/// An item at an instant.
#[derive(Debug, Clone, PartialEq)]
pub struct ItemNow {
    /// How it stands.
    pub state: ItemState,
    /// In a few words.
    pub line: String,
    /// When it was last ticked, and by whom.
    pub last: Option<(Timestamp, String)>,
    /// Seconds until it changes by itself.
    pub changes_s: Option<f64>,
    /// Seconds a timer has run.
    pub ran_s: Option<f64>,
}

/// Error of a profile reading (replica tape or needle), as a part of it; from memory.
const PROFILE_ERROR: f64 = 0.1;

/// A profile against its sheet, with the error of the reading.
///
/// **Rule:** the reading ± a tenth, inside the least and most of the sheet. **Units:** µm. **Source:** the sheet; the error is
/// from memory.
pub fn profile(sheet: &Sheet, um: f64, prefs: Prefs) -> (Verdict, String) {
    let tolerance = Tolerance { lo: sheet.profile_min_um, hi: sheet.profile_max_um };
    let verdict = tolerance.judge(Measured::pm(um, um * PROFILE_ERROR));
    (verdict, format!("{} {}", show(um, QuantityKind::Film, prefs).text, verdict.word()))
}
