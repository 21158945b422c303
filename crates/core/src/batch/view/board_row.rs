//! A batch as the board shows it: a row, what it needs next, its pots, the air last read there. Nothing of its stations.

use super::{Next, PotView, Viewer, hands_at, label, next, pots, prove, spray};
use crate::batch::case::Case;
use crate::batch::gates;
use crate::batch::stations::{self, Station};
use crate::conditions::dew_point_c;
use crate::quantity::{QuantityKind, Shown, show};
use crate::verdict::Level;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A batch in the list.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct BoardRow {
    pub id: Uuid,
    pub label: String,
    pub product: String,
    pub stations: Vec<Station>,
    /// The station that wants hands, 1 to 6.
    pub hands_at: u8,
    /// The last ratio.
    pub ratio: Option<Level>,
    /// The last film.
    pub film: Option<Level>,
}

/// The air as it was read last.
#[derive(Debug, Clone, PartialEq)]
pub struct AirNow {
    /// When.
    pub at: Timestamp,
    /// Its temperature.
    pub air: Shown,
    /// Its humidity.
    pub humidity: Shown,
    /// Its dew point.
    pub dew_point: Shown,
}

/// All the board takes of a batch.
#[derive(Debug, Clone, PartialEq)]
pub struct OnBoard {
    /// Its row.
    pub row: BoardRow,
    /// What it needs next.
    pub next: Vec<Next>,
    /// Its pots.
    pub pots: Vec<PotView>,
    /// The air last read there.
    pub air: Option<AirNow>,
}

/// A begun batch on the board; `None` before its first entry.
pub fn on_board(id: Uuid, case: &Case<'_>, viewer: &Viewer, now: Timestamp) -> Option<OnBoard> {
    let prefs = viewer.writer.prefs;
    let aim = case.aim()?;
    let holds = gates::all(case, now, prefs);
    let stations = stations::stations(case, &holds, now, prefs);
    let read = case.conditions.iter().max_by_key(|c| (c.at, c.seq));
    let (_, film, _, _) = spray::levels(case, prefs);
    Some(OnBoard {
        row: BoardRow {
            id,
            label: label(aim),
            product: aim.sheet.label.clone(),
            hands_at: hands_at(&stations),
            stations,
            ratio: prove::newest(case, prefs),
            film,
        },
        next: next(id, case, &holds, now, prefs),
        pots: pots(id, case, now, prefs),
        air: read.map(|r| AirNow {
            at: r.at,
            air: show(r.it.air_c, QuantityKind::Temperature, prefs),
            humidity: show(r.it.rh_pct, QuantityKind::Percent, prefs),
            dew_point: show(dew_point_c(r.it.air_c, r.it.rh_pct), QuantityKind::Temperature, prefs),
        }),
    })
}
