//! Recoat window of a coat from its sheet.

use crate::pot_life::{after, life_s};
use crate::sheets::Sheet;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// When the next coat may go on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct RecoatWindow {
    /// Earliest.
    pub earliest: Option<Timestamp>,
    /// Latest without abrading.
    pub latest: Option<Timestamp>,
}

/// The window after a coat ended at `ended`, at a temperature.
///
/// The safe side of the halving rule: colder lengthens the earliest (to twice), hotter shortens the
/// latest, never the reverse without a sheet value. **Source:** common practice in the trade.
pub fn recoat(sheet: &Sheet, ended: Timestamp, temp_c: Option<f64>) -> RecoatWindow {
    let at = |sheet_s: f64| {
        let stated = sheet.recoat_at_c.unwrap_or(20.0);
        life_s(sheet_s, stated, temp_c.unwrap_or(stated))
    };
    RecoatWindow {
        earliest: sheet.recoat_min_s.map(|s| after(ended, at(s).max(s))),
        latest: sheet.recoat_max_s.map(|s| after(ended, at(s).min(s))),
    }
}
