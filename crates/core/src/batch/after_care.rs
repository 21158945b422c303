//! The clocks of a coat once it is on: mask off, dust dry, touch, handle, next coat, the next trade, service.

use super::beside::{ended, surface_since, window_of};
use super::case::Case;
use crate::batch::Record;
use crate::pot_life::after;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::Sheet;
use crate::sheets::times::Curve;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A clock of a coat that is on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CoatClock {
    /// What may be done then.
    pub what: String,
    /// When.
    pub at: Timestamp,
    /// It is over by then, and not open from then on.
    pub latest: bool,
    /// It is of the next coat.
    #[serde(default)]
    pub is_next_coat: bool,
    /// What it follows from.
    pub why: String,
}

/// What a time is called, and its place on the sheet.
type Named = (&'static str, fn(&Sheet) -> Option<f64>);

const AFTER: [Named; 6] = [
    ("Masking off", |s| s.mask_off_s),
    ("Dust dry", |s| s.dust_dry_s),
    ("Dry to touch", |s| s.touch_dry_s),
    ("May be handled", |s| s.handle_s),
    ("The next trade", |s| s.next_trade_s),
    ("Into service", |s| s.service_s),
];

/// Temperature the times of a coat are stated at, where the sheet states none; from memory, as for recoat.
const USUAL_AT_C: f64 = 20.0;

/// Every clock of a coat that is on, soonest first; none while it is being sprayed.
///
/// **Rule:** from the last pass. Colder than the sheet states lengthens a time, hotter never shortens it; the coldest surface read since
/// counts. The next coat by its pair. **Formula:** [`Curve::wait_s`]. **Units:** s, °C. **Source:** the sheet; common practice in the
/// trade for the safe side.
pub fn coat_clocks(case: &Case<'_>, prefs: Prefs) -> Vec<CoatClock> {
    let record: &Record = case.record;
    let (Some(aim), Some(last)) = (record.aim(), ended(record).filter(|_| record.is_sprayed())) else { return Vec::new() };
    let coldest = surface_since(record).map(|s| s.coldest_c);
    let at_c = aim.sheet.recoat_at_c.unwrap_or(USUAL_AT_C);
    let unread = format!("by sheet at {}, nobody read the surface", show(at_c, QuantityKind::Temperature, prefs).text);
    let why = coldest.map_or(unread, |c| format!("by sheet, coldest surface {}", show(c, QuantityKind::Temperature, prefs).text));
    let mut all: Vec<CoatClock> = AFTER
        .iter()
        .filter_map(|(what, of)| {
            let curve = Curve::through([(at_c, of(&aim.sheet)?)])?;
            let at = after(last, curve.wait_s(coldest.unwrap_or(at_c)));
            Some(CoatClock { what: (*what).into(), at, latest: false, is_next_coat: false, why: why.clone() })
        })
        .collect();
    if let Some(window) = window_of(record) {
        let next = |what: &str, at: Option<Timestamp>, latest| {
            at.map(|at| CoatClock { what: what.into(), at, latest, is_next_coat: true, why: why.clone() })
        };
        all.extend(next("Next coat may go on", window.earliest, false));
        all.extend(next("Next coat, latest", window.latest, true));
    }
    all.sort_by_key(|c| c.at);
    all
}
