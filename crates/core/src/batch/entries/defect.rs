//! A defect is seen, looked at for its cause, and settled. It may be long after the card was closed.

use super::ready::optional_text;
use super::{Asked, Phase, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::record::{Record, Stamped};
use crate::diagnosis::{Cause, Look, LookRow, Symptom};
use crate::limits::{self, check_text};
use crate::people::{May, Role};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::stores::Attached;
use crate::worded::{Worded, capital};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A defect is seen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DefectSeen {
    /// What is seen.
    pub symptom: Symptom,
    /// Where; missing: all over, or at the gun.
    #[serde(default)]
    pub zone: Option<Uuid>,
    /// What else is seen.
    #[serde(default)]
    pub text: Option<String>,
    /// The photo.
    #[serde(default)]
    pub photo: Option<Attached>,
}

/// Somebody looked at what parts its causes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DefectLook {
    /// The entry of the defect.
    pub defect: Uuid,
    /// What was looked at.
    pub look: Look,
    /// It is so.
    pub yes: bool,
    /// What was seen.
    #[serde(default)]
    pub text: Option<String>,
}

/// What it was.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DefectSettled {
    /// The entry of the defect.
    pub defect: Uuid,
    /// The cause.
    pub cause: Cause,
    /// How one knows.
    pub text: String,
}

fn known(record: &Record, defect: Uuid) -> Result<&Stamped<DefectSeen>, Refusal> {
    let unknown = || Refusal::bad_input("unknown-defect", "defect", "No such defect was seen in this batch.");
    record.defects.iter().find(|d| d.entry == defect).ok_or_else(unknown)
}

impl Statement for DefectSeen {
    const WAITS_AS: Option<&'static str> = Some("Defect");
    const WHO: fn(Role) -> May = everyone;
    const UNTIL: Phase = Phase::Accepted;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        optional_text("text", self.text.as_deref())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let case = asked.case;
        if !self.symptom.is_at_the_gun() && case.passes.iter().all(|p| p.at > asked.happened) {
            return Err(Refusal::bad_input("before-the-coat", "ago_s", "Nothing was on the part yet then."));
        }
        match self.zone {
            Some(zone) if !case.zones().iter().any(|(id, _)| *id == Some(zone)) => {
                Err(Refusal::bad_input("unknown-zone", "zone", "The part has no such zone."))
            }
            Some(_) | None => Ok(()),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.defects.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let place = self.zone.map_or(String::new(), |z| format!(", {}", told.zone(z)));
        let seen = self.text.as_deref().map_or(String::new(), |t| format!(": {t}"));
        let photo = if self.photo.is_some() { ", with a photo" } else { "" };
        format!("Defect: {}{place}{seen}{photo}", self.symptom.word())
    }
}

impl Statement for DefectLook {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;
    const UNTIL: Phase = Phase::Accepted;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        optional_text("text", self.text.as_deref())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let symptom = known(asked.case, self.defect)?.it.symptom;
        match LookRow::of(self.look).asks(symptom) {
            true => Ok(()),
            false => Err(Refusal::bad_input("not-of-this", "look", format!("This is not asked of {}.", symptom.word()))),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.defect_looks.push(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        let seen = self.text.as_deref().map_or(String::new(), |t| format!(" {t}"));
        format!("{} {}.{seen}", LookRow::of(self.look).question, if self.yes { "Yes" } else { "No" })
    }
}

impl Statement for DefectSettled {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = |role| match role {
        Role::Lead | Role::Inspector | Role::Owner => May::Yes,
        Role::Applicator => May::No,
    };
    const UNTIL: Phase = Phase::Accepted;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        check_text("text", &self.text, limits::TEXT_CHARS).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        known(asked.case, self.defect).map(drop)
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.defects_settled.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let of = told.record.defects.iter().find(|d| d.entry == self.defect);
        let of = of.map_or("A defect that was struck".into(), |d| capital(d.it.symptom.word()));
        format!("{of} came of: {}. {}", self.cause.word(), self.text)
    }
}
