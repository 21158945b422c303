//! The look of a coat at a stage of it, with a photo, beside a sample that it should match.

use super::ready::optional_text;
use super::spray::in_zones;
use super::{Asked, Phase, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::record::Record;
use crate::limits::{self, check_text};
use crate::people::{May, Role};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::sheets::LookStage;
use crate::stores::Attached;
use crate::worded::{Worded, capital};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// The coat, looked at at a stage.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StageLook {
    /// Which stage.
    pub stage: LookStage,
    /// Where; missing: everywhere.
    #[serde(default)]
    pub zone: Option<Uuid>,
    /// It is as it should be.
    pub good: bool,
    /// What was seen; needed where it is not right.
    #[serde(default)]
    pub text: Option<String>,
    /// The photo.
    #[serde(default)]
    pub photo: Option<Attached>,
}

/// The sample the coat should match.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ControlSample {
    /// Which sample: its number, where it lies.
    pub text: String,
    /// Its photo.
    #[serde(default)]
    pub photo: Option<Attached>,
}

impl Statement for StageLook {
    const WAITS_AS: Option<&'static str> = Some("Look at a stage");
    const WHO: fn(Role) -> May = everyone;
    const UNTIL: Phase = Phase::Signed;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        if !self.good && self.text.as_deref().is_none_or(|t| t.trim().is_empty()) {
            return Err(Refusal::bad_input("missing", "text", "What is not right with it?"));
        }
        optional_text("text", self.text.as_deref())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let case = asked.case;
        if case.last_pass_at().is_none_or(|first| self.stage.is_of_the_finished_film() && asked.happened < first) {
            return Err(Refusal::bad_input("before-the-coat", "ago_s", "The coat is not on yet: there is nothing to look at."));
        }
        match self.zone {
            None => Ok(()),
            Some(zone) => in_zones(case, "zone", &[zone]),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.stage_looks.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let place = self.zone.map_or(String::new(), |z| format!(", {}", told.zone(z)));
        let why = self.text.as_deref().map_or(String::new(), |t| format!(": {t}"));
        let photo = if self.photo.is_some() { ", with a photo" } else { "" };
        format!("{}{place}: {}{why}{photo}", capital(self.stage.word()), if self.good { "right" } else { "not right" })
    }
}

impl Statement for ControlSample {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;
    const UNTIL: Phase = Phase::Signed;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        check_text("text", &self.text, limits::TEXT_CHARS).map(drop)
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.control_sample = Some(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("It should match {}", self.text)
    }
}
