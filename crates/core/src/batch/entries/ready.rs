//! Ready: conditions, guards, lots taken, items of the lists.

use super::{Asked, LotRef, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::gates::Severity;
use crate::batch::ready_lists;
use crate::batch::record::Record;
use crate::component::Component;
use crate::conditions::{Readings, dew_point_c};
use crate::limits::{self, check_text};
use crate::lists::{self, Did, Tick, What};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::sheets::Hazard;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// Guards acknowledged.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Guards {
    /// The hazards whose guards are on.
    pub hazards: BTreeSet<Hazard>,
}

/// A lot taken for a component.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeLot {
    /// For which.
    pub component: Component,
    /// The lot; a browser sends its code.
    #[schema(value_type = String)]
    pub lot: LotRef,
    /// Why this one, when another is first in.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Statement for Readings {
    const WAITS_AS: Option<&'static str> = Some("Conditions");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        self.validate(prefs).map(drop)
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.conditions.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let dew = dew_point_c(self.air_c, self.rh_pct);
        let (surface, dew) = (told.say(self.surface_c, QuantityKind::Temperature), told.say(dew, QuantityKind::Temperature));
        format!("Conditions: surface {surface}, dew point {dew}")
    }
}

impl Statement for Guards {
    const WAITS_AS: Option<&'static str> = Some("Guards on");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, _entry: &Entry) {
        record.guards.extend(self.hazards);
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Guards on: {}", self.hazards.iter().map(|h| h.word()).collect::<Vec<_>>().join(", "))
    }
}

impl Statement for TakeLot {
    const WAITS_AS: Option<&'static str> = Some("Lot taken");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    /// First in, first out, unless there is a reason; an expired or quarantined lot never.
    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let Some(aim) = asked.case.aim() else { return Ok(()) };
        if self.component == Component::Hardener && !aim.sheet.has_hardener {
            return Err(Refusal::bad_input("no-hardener", "component", "This product has no second component."));
        }
        refuse_stopped(asked.case, self.component, &self.lot, asked.happened)?;
        let first = self.lot.known.as_ref().and_then(|s| s.first.as_ref());
        match (first, self.reason.as_deref().map(str::trim).filter(|r| !r.is_empty())) {
            (Some(first), None) => Err(Refusal::bad_input(
                "not-first-in",
                "reason",
                format!("Lot {first} came in first and is fit: take it, or say why not."),
            )),
            (_, Some(why)) => check_text("reason", why, limits::TEXT_CHARS).map(drop),
            (None, None) => Ok(()),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.lots.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let why = self.reason.as_deref().map_or(String::new(), |r| format!(": {r}"));
        format!("Lot {} taken for {}{why}", self.lot.code, told.component(self.component))
    }
}

/// A lot that nobody may take, by what the stores know of it.
pub(super) fn refuse_stopped(record: &Record, component: Component, lot: &LotRef, now: Timestamp) -> Result<(), Refusal> {
    let (Some(known), Some(aim)) = (&lot.known, record.aim()) else { return Ok(()) };
    let stop = known.troubles(&lot.code, &aim.sheet, component, now).into_iter().find(|t| t.severity == Severity::Stop);
    stop.map_or(Ok(()), |t| Err(Refusal { field: Some("lot".into()), ..Refusal::stop(t.code, t.text) }))
}

impl Statement for Tick {
    const WAITS_AS: Option<&'static str> = Some("List item");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        optional_text("text", self.text.as_deref())
    }

    /// An item of this batch, done in a way that fits it.
    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let items = asked.case.aim().map(|b| b.items.as_slice()).unwrap_or_default();
        let item = items
            .iter()
            .find(|i| i.key == self.item)
            .ok_or_else(|| Refusal::bad_input("unknown-item", "item", "The lists of this batch have no such item."))?;
        let fits = matches!(
            (&item.what, self.did),
            (What::Tick | What::Test { .. } | What::Approve, Did::Done | Did::Failed)
                | (What::GoodFor { .. } | What::Profile, Did::Done)
                | (What::Timer { .. }, Did::Start | Did::Stop)
        );
        if !fits {
            return Err(Refusal::bad_input("wrong-tick", "did", format!("“{}” is not ticked that way.", item.text)));
        }
        if matches!(item.what, What::Approve) {
            if !matches!(asked.writer.role, Role::Lead | Role::Owner) {
                return Err(Refusal::forbidden(
                    "not-your-role",
                    format!("“{}”: a lead or the owner approves. Ask them.", item.text),
                ));
            }
            check_text("text", self.text.as_deref().unwrap_or_default(), limits::TEXT_CHARS)
                .map_err(|_| Refusal::bad_input("missing", "text", "Name the control sample it was compared with."))?;
        }
        if matches!(item.what, What::Profile) {
            limits::FILM.check("read_um", limits::required("read_um", self.read_um)?, asked.prefs())?;
        }
        if self.did == Did::Stop {
            let running = asked.case.ticks.iter().rev().find(|t| t.it.item == self.item).is_some_and(|t| t.it.did == Did::Start);
            if !running {
                return Err(Refusal::conflict("not-running", format!("“{}” is not running. Start it first.", item.text)));
            }
        }
        if let Some(first) = item.after.as_ref().and_then(|k| items.iter().find(|i| i.key == *k)) {
            let state = ready_lists::state(asked.case, first, asked.happened, asked.prefs());
            if !matches!(state.state, lists::ItemState::Done | lists::ItemState::Watch | lists::ItemState::Held)
                || state.ran_s.is_some()
            {
                return Err(Refusal::hold("not-yet", format!("“{}” comes first.", first.text)));
            }
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.ticks.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let item = told.record.aim().and_then(|b| b.items.iter().find(|i| i.key == self.item));
        let name = item.map_or(self.item.clone(), |i| i.text.clone());
        let how = match (self.did, item.map(|i| &i.what)) {
            (Did::Start, _) => "started".to_string(),
            (Did::Stop, _) => "stopped".to_string(),
            (Did::Failed, Some(What::Test { fails })) => fails.clone(),
            (Did::Failed, _) => "not right".to_string(),
            (Did::Done, Some(What::Approve)) => "approved".to_string(),
            (Did::Done, Some(What::Test { .. })) => "good".to_string(),
            (Did::Done, _) => self.read_um.map_or("done".to_string(), |um| told.say(um, QuantityKind::Film)),
        };
        let remark = self.text.as_deref().filter(|t| !t.is_empty()).map_or(String::new(), |t| format!(", {t}"));
        format!("{name}: {how}{remark}")
    }
}

/// A remark that may be left out, and is readable where it is not.
pub(super) fn optional_text(field: &str, text: Option<&str>) -> Result<(), Refusal> {
    match text.filter(|t| !t.trim().is_empty()) {
        Some(text) => check_text(field, text, limits::TEXT_CHARS).map(drop),
        None => Ok(()),
    }
}
