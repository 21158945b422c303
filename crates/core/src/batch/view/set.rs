//! The Set station: tries of pressure, and the stream each gave.

use crate::batch::record::Record;
use crate::delivery::{ArcPoint, RuleMark, Stream, arc, judge_stream, rule};
use crate::quantity::{Kind, Prefs, Shown, show};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// One try of the Set station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Try {
    pub entry: Uuid,
    pub pot: Shown,
    pub atomizing: Option<Shown>,
    pub stream: Option<Shown>,
    pub word: String,
    /// The stream of this try, for the picture.
    pub arc: Vec<ArcPoint>,
}

/// The Set station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SetView {
    /// Tries, oldest first.
    pub tries: Vec<Try>,
    /// The last stream seen.
    pub stream: Option<Stream>,
    /// The school's band, in words.
    pub school: String,
    /// The band, for the picture before any stream is seen.
    pub band_lo_mm: f64,
    pub band_hi_mm: f64,
    /// Marks of the rule under the stream, in the reader's unit.
    pub rule: Vec<RuleMark>,
    /// Unit of the rule.
    pub rule_unit: String,
}

pub(super) fn set(record: &Record, prefs: Prefs) -> SetView {
    let school = record.aim().map(|b| b.sheet.stream).unwrap_or_default();
    let (lo, hi) = school.band_mm();
    let (rule, rule_unit) = rule(prefs);
    let tries = record
        .set_ups
        .iter()
        .map(|s| Try {
            entry: s.entry,
            pot: show(s.it.pot_kpa, Kind::Pressure, prefs),
            atomizing: s.it.atomizing_kpa.map(|p| show(p, Kind::Pressure, prefs)),
            stream: s.it.stream_mm.map(|mm| show(mm, Kind::Length, prefs)),
            word: s.it.stream_mm.map_or(String::new(), |mm| judge_stream(school, mm, prefs).level.word),
            arc: s.it.stream_mm.map(arc).unwrap_or_default(),
        })
        .collect();
    SetView {
        tries,
        stream: record.set_ups.last().and_then(|s| s.it.stream_mm).map(|mm| judge_stream(school, mm, prefs)),
        school: format!("{} to {}", show(lo, Kind::Length, prefs).figure, show(hi, Kind::Length, prefs).text),
        band_lo_mm: lo,
        band_hi_mm: hi,
        rule,
        rule_unit,
    }
}
