//! Between the passes: a pass looks ready, something happened, the part in sections, a photo behind its zones.

use super::ready::optional_text;
use super::{Asked, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::record::Record;
use crate::limits;
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::sheets::ReadyLook;
use crate::stores::Attached;
use crate::worded::{Worded, capital};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// The last pass looks as the sheet asks before the next.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PassLook {
    /// Which zones; empty means the whole part.
    #[serde(default)]
    pub zones: Vec<Uuid>,
    /// What was seen.
    pub look: ReadyLook,
}

/// What happened while it was sprayed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Happened {
    /// The tip plugged.
    #[strum(serialize = "tip plugged")]
    TipPlugged,
    /// A burst of catalyst.
    #[strum(serialize = "burst of catalyst")]
    CatalystBurst,
    /// A run or a sag.
    #[strum(serialize = "run")]
    Run,
    /// A drip was mended.
    #[strum(serialize = "drip mended")]
    DripMended,
    /// The gun spat.
    #[strum(serialize = "gun spat")]
    Spat,
    /// The part was touched.
    #[strum(serialize = "touched")]
    Touched,
    /// Work stopped.
    #[strum(serialize = "pause")]
    Pause,
    /// Work goes on.
    #[strum(serialize = "goes on")]
    GoesOn,
}

impl Worded for Happened {}

/// Something happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Happening {
    /// What.
    pub what: Happened,
    /// In which zone; missing: nobody said, or nowhere on the part.
    #[serde(default)]
    pub zone: Option<Uuid>,
    /// During which pass of that zone; core fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub pass_no: Option<u32>,
    /// What else was seen.
    #[serde(default)]
    pub text: Option<String>,
}

/// What limits a patch, as far as the sheet and the passes do not say it.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlanSections {
    /// A prepared surface is coated within this time; missing: as the sheet states.
    #[serde(default)]
    pub open_s: Option<f64>,
    /// So much area is prepared …
    #[serde(default)]
    pub prepared_m2: Option<f64>,
    /// … in this time.
    #[serde(default)]
    pub prepared_s: Option<f64>,
    /// The gun is back on the first of a pass by then.
    #[serde(default)]
    pub return_s: Option<f64>,
    /// Area reached without moving.
    #[serde(default)]
    pub reach_m2: Option<f64>,
}

/// A photo stands behind the zones.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Backdrop {
    /// The photo; missing: none any more.
    #[serde(default)]
    pub photo: Option<Attached>,
}

/// Every zone named is one of the part.
fn known_zones<'z>(record: &Record, field: &str, zones: impl IntoIterator<Item = &'z Uuid>) -> Result<(), Refusal> {
    let all = record.aim().map(|b| b.zones.as_slice()).unwrap_or_default();
    match zones.into_iter().all(|z| all.iter().any(|k| k.id == *z)) {
        true => Ok(()),
        false => Err(Refusal::bad_input("unknown-zone", field, "The part has no such zone.")),
    }
}

impl Statement for PassLook {
    const WAITS_AS: Option<&'static str> = Some("Ready by its look");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        known_zones(asked.case, "zones", &self.zones)
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.pass_looks.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let zones: Vec<String> = self.zones.iter().map(|z| told.zone(*z)).collect();
        let place = if zones.is_empty() { String::new() } else { format!("{}: ", zones.join(", ")) };
        capital(&format!("{place}{}", self.look.word()))
    }
}

impl Statement for Happening {
    const WAITS_AS: Option<&'static str> = Some("Something happened");
    const WHO: fn(Role) -> May = everyone;

    /// The pass it fell into: the one after those that are on.
    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        let zones = asked.case.zone_passes();
        let at = zones.iter().find(|z| z.id == self.zone && (self.zone.is_some() || zones.len() == 1));
        self.pass_no = at.map(|z| {
            let on = z.made.iter().filter(|m| m.pass.at <= asked.happened).count() as u32;
            if z.next.is_some() { on + 1 } else { on }
        });
        value["pass_no"] = self.pass_no.into();
        Ok(())
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        optional_text("text", self.text.as_deref())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        known_zones(asked.case, "zone", self.zone.as_ref())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.happenings.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let zone = self.zone.map_or(String::new(), |z| format!(" at {}", told.zone(z)));
        let pass = self.pass_no.map_or(String::new(), |no| format!(", pass {no}"));
        let text = self.text.as_deref().map_or(String::new(), |t| format!(": {t}"));
        capital(&format!("{}{zone}{pass}{text}", self.what.word()))
    }
}

impl Statement for PlanSections {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        for (field, s) in [("open_s", self.open_s), ("prepared_s", self.prepared_s), ("return_s", self.return_s)] {
            limits::PREPARED_IN.check_optional(field, s, prefs)?;
        }
        for (field, m2) in [("prepared_m2", self.prepared_m2), ("reach_m2", self.reach_m2)] {
            limits::AREA.check_optional(field, m2, prefs)?;
        }
        match (self.prepared_m2, self.prepared_s) {
            (Some(_), None) => Err(Refusal::bad_input("missing", "prepared_s", "In which time is that much prepared?")),
            (None, Some(_)) => Err(Refusal::bad_input("missing", "prepared_m2", "How much is prepared in that time?")),
            (Some(_), Some(_)) | (None, None) => Ok(()),
        }
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.section_plan = Some(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let reach = self.reach_m2.map_or(String::new(), |m2| format!(", reach {}", told.say(m2, QuantityKind::Area)));
        let back = self.return_s.map_or(String::new(), |s| format!(", back in {}", told.say(s, QuantityKind::Time)));
        format!("Sections planned{back}{reach}")
    }
}

impl Statement for Backdrop {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.backdrop = Some(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        if self.photo.is_some() { "A photo stands behind the zones".into() } else { "No photo behind the zones".into() }
    }
}
