//! The passes as they stand in the table.

use super::film::interval;
use crate::batch::case::Case;
use crate::batch::entries::Pass;
use crate::batch::film_zones::ZoneState;
use crate::batch::passes::names_of;
use crate::batch::record::Stamped;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::verdict::Measured;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A pass in the table.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PassRow {
    pub entry: Uuid,
    pub no: usize,
    pub at: Timestamp,
    pub pot: i64,
    /// Zones by name; empty: the whole part.
    pub zones: Vec<String>,
    /// The step it was of.
    #[serde(default)]
    pub step: Option<String>,
    /// Its way, in words.
    #[serde(default)]
    pub way: Option<String>,
    pub used: Option<Shown>,
    /// What was out of order about it, in words.
    #[serde(default)]
    pub named: Vec<String>,
    /// Wet film read after it.
    pub wet: Option<Shown>,
}

pub(super) fn passes(case: &Case<'_>, films: &[ZoneState], prefs: Prefs) -> Vec<PassRow> {
    let zones = case.zone_passes();
    let name =
        |id: &Uuid| case.aim().and_then(|b| b.zones.iter().find(|z| z.id == *id)).map_or(String::new(), |z| z.name.clone());
    (1..)
        .zip(&case.passes)
        .map(|(no, p)| PassRow {
            entry: p.entry,
            no,
            at: p.at,
            pot: case.charge(p.it.charge).map_or(0, |c| c.no),
            zones: p.it.zones.iter().map(name).collect(),
            step: p.it.step.clone(),
            way: p.it.way.map(|w| w.word().into()),
            used: p.it.used_ml.map(|ml| show(ml, QuantityKind::Volume, prefs)),
            named: names_of(&zones, p.entry),
            wet: read_after(case, films, p).map(|um| interval(um, prefs)),
        })
        .collect()
}

/// The film read after a pass, before the next one on the same zone.
fn read_after(case: &Case<'_>, films: &[ZoneState], pass: &Stamped<Pass>) -> Option<Measured> {
    let on = |id: Option<Uuid>| pass.it.zones.is_empty() || id.is_none_or(|id| pass.it.zones.contains(&id));
    let mut found = films.iter().filter(|z| on(z.id)).filter_map(|z| {
        let here = |p: &&Stamped<Pass>| p.it.zones.is_empty() || z.id.is_none_or(|id| p.it.zones.contains(&id));
        let mine = case.passes.iter().filter(here).filter(|p| (p.at, p.seq) <= (pass.at, pass.seq)).count();
        z.reads.iter().rev().find(|r| r.after_pass == mine).map(|r| r.total_um)
    });
    found.next()
}
