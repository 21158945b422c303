//! The Ready station: conditions on their levels, and the coat beneath.

use crate::batch::record::Record;
use crate::conditions;
use crate::quantity::{Kind, Prefs, Shown, show};
use crate::schedule::{self, RecoatClock};
use crate::verdict::Level;
use crate::working::Working;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The Ready station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ReadyView {
    /// Levels of the last reading.
    pub levels: Vec<Level>,
    /// Go, hold, stop, or not read.
    pub gate: Option<conditions::Gate>,
    pub working: Option<Working>,
    pub read_at: Option<Timestamp>,
    pub air: Option<Shown>,
    pub surface: Option<Shown>,
    pub material: Option<Shown>,
    pub humidity: Option<Shown>,
    pub dew_point: Option<Shown>,
    /// The clock of the coat beneath, when there is one.
    pub beneath: Option<RecoatClock>,
}

/// The clock of the coat beneath a batch.
pub fn recoat_clock(record: &Record, now: Timestamp) -> Option<RecoatClock> {
    let beneath = record.beside.beneath.as_ref()?;
    Some(schedule::clock(beneath.window, beneath.ended, Some(beneath.link.clone()), now))
}

pub(super) fn ready(record: &Record, now: Timestamp, prefs: Prefs) -> ReadyView {
    let last = record.conditions.iter().max_by_key(|c| (c.at, c.seq));
    let judged = record.aim().zip(last).map(|(aim, read)| conditions::judge(&aim.sheet, &read.it, prefs));
    let temp = |f: fn(&conditions::Readings) -> f64| last.map(|r| show(f(&r.it), Kind::Temperature, prefs));
    ReadyView {
        gate: judged.as_ref().map(|j| j.gate),
        working: judged.as_ref().map(|j| j.working.clone()),
        levels: judged.map(|j| j.levels).unwrap_or_default(),
        read_at: last.map(|r| r.at),
        air: temp(|r| r.air_c),
        surface: temp(|r| r.surface_c),
        material: temp(|r| r.material_c),
        humidity: last.map(|r| show(r.it.rh_pct, Kind::Percent, prefs)),
        dew_point: temp(|r| conditions::dew_point_c(r.air_c, r.rh_pct)),
        beneath: recoat_clock(record, now),
    }
}
