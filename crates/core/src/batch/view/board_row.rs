//! A batch as the board shows it: a row, what it needs next, its pots, the air last read there. Nothing of its stations.

use super::{Next, PotView, Viewer, Waits, hands_at, label, next, pots, prove, spray};
use crate::batch::case::Case;
use crate::batch::gates;
use crate::batch::job::JobRow;
use crate::batch::stations::{self, Station};
use crate::conditions::dew_point_c;
use crate::quantity::{QuantityKind, Shown, show_live};
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
    /// Who is on it.
    pub on_it: Option<String>,
    /// The reader is.
    pub mine: bool,
    /// What is lost first there, and when.
    pub loses: Option<LosesNext>,
    /// The last ratio.
    pub ratio: Option<Level>,
    /// The last film.
    pub film: Option<Level>,
    /// The coat of a job it is.
    #[serde(default)]
    pub job: Option<JobRow>,
}

/// What a batch loses first while it waits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LosesNext {
    /// When.
    pub at: Timestamp,
    /// Seconds from now; zero or less: it is lost.
    pub in_s: f64,
    /// What is to be done about it.
    pub what: String,
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
    let next = next(id, case, &holds, now, prefs);
    // In the order of loss: the first that is lost, if any is.
    let loses = next.iter().find(|n| n.waits == Waits::Loss);
    let on_it = case.record.on_it();
    Some(OnBoard {
        row: BoardRow {
            id,
            mine: on_it.is_some_and(|on| on.person == viewer.writer.id),
            on_it: on_it.map(|on| on.name.to_string()),
            loses: loses.map(|n| LosesNext { at: n.at, in_s: n.in_s, what: n.text.clone() }),
            label: label(aim),
            product: aim.sheet.label.clone(),
            hands_at: hands_at(&stations),
            stations,
            ratio: prove::newest(case, prefs),
            film,
            job: aim.job.map(|j| JobRow { job: j.job, coat: j.coat, of: j.of, is_on: gates::over(case) }),
        },
        next,
        pots: pots(id, case, now, prefs),
        air: read.map(|r| AirNow {
            at: r.at,
            air: show_live(r.it.air_c, QuantityKind::Temperature, prefs),
            humidity: show_live(r.it.rh_pct, QuantityKind::Percent, prefs),
            dew_point: show_live(dew_point_c(r.it.air_c, r.it.rh_pct), QuantityKind::Temperature, prefs),
        }),
    })
}
