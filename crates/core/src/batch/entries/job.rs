//! Acts of a job: what was made ready for the coat before is carried on, a coat is left out, pieces are counted.

use super::{Asked, Payload, Statement, TakeLot, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::beside::window_of;
use crate::batch::job::{Pieces, is_untouched, may_leave_out};
use crate::batch::ready_lists;
use crate::batch::record::{Record, Stamped};
use crate::conditions::Readings;
use crate::limits::{self, check_text};
use crate::lists::{ChecklistItem, Group, ItemState, Tick, What};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::rigs::ChooseRig;
use crate::sheets::Hazard;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::BTreeSet;
use utoipa::ToSchema;
use uuid::Uuid;

/// What was made ready for the coat before stands for this one too, as far as its reason has not returned.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CarryOn {
    /// The surface was touched since: what belongs to surface and masking is asked again.
    #[serde(default)]
    pub touched: bool,
    /// The batch of the coat before; the server fills in this and all that follows.
    #[serde(default)]
    #[schema(read_only)]
    pub from_batch: Uuid,
    /// Its number.
    #[serde(default)]
    #[schema(read_only)]
    pub from_number: i64,
    /// Keys of the items that stand.
    #[serde(default)]
    #[schema(read_only)]
    pub items: Vec<String>,
    /// What of them was ticked, when and by whom.
    #[serde(default)]
    #[schema(read_only, value_type = Vec<Object>)]
    pub ticks: Vec<Stamped<Tick>>,
    /// Lots in use.
    #[serde(default)]
    #[schema(read_only, value_type = Vec<Object>)]
    pub lots: Vec<Stamped<TakeLot>>,
    /// Guards that are on.
    #[serde(default)]
    #[schema(read_only)]
    pub guards: BTreeSet<Hazard>,
    /// The rig.
    #[serde(default)]
    #[schema(read_only, value_type = Option<Object>)]
    pub rig: Option<Stamped<ChooseRig>>,
    /// The conditions as read last.
    #[serde(default)]
    #[schema(read_only, value_type = Option<Object>)]
    pub conditions: Option<Stamped<Readings>>,
    /// Items that are asked again, in words.
    #[serde(default)]
    #[schema(read_only)]
    pub again: Vec<String>,
}

/// What of the coat before stands for the one after it.
///
/// **Rule:** an item that is done is asked again when its reason returns: of material and rig on another day of the shop, of surface and
/// masking where the surface was touched, as it is past the latest recoat; what a lead approved and lots in use stand for the job. Guards and readings of the conditions
/// stand for the day. A clock that runs on, as of a mix that settles, is carried with its time and judged by it. **Errors:** `not-on` while
/// nothing of the coat before is on; `other-sheet` where it is not the same product. **Source:** common practice in the trade.
pub fn carried(from: (Uuid, &Record), to: &Record, touched: bool, now: Timestamp) -> Result<CarryOn, Refusal> {
    let (from_batch, from) = from;
    let (Some(was), Some(is)) = (from.aim(), to.aim()) else {
        return Err(Refusal::conflict("not-begun", "This batch is not begun."));
    };
    if was.sheet_version != is.sheet_version || was.job.map(|j| j.job) != is.job.map(|j| j.job) {
        return Err(Refusal::conflict("other-sheet", "Only the coats of one job carry on from each other."));
    }
    if from.passes.is_empty() {
        return Err(Refusal::conflict("not-on", "Nothing of the coat before is on yet."));
    }
    let zone = is.zone.as_deref().and_then(|name| TimeZone::get(name).ok()).unwrap_or(TimeZone::UTC);
    let day = |at: Timestamp| at.to_zoned(zone.clone()).date();
    let today = |at: Timestamp| day(at) == day(now);
    // Past its latest the coat before is abraded, and that touches the surface.
    let past = window_of(from).and_then(|w| w.latest).is_some_and(|latest| latest < now);
    let touched = touched || past;
    let mut out = CarryOn {
        touched,
        from_batch,
        from_number: was.number,
        items: Vec::new(),
        ticks: Vec::new(),
        lots: from.lots.clone(),
        guards: put_on(from, &today),
        rig: from.rig.clone(),
        conditions: from.conditions.iter().max_by_key(|c| (c.at, c.seq)).filter(|c| today(c.at)).cloned(),
        again: Vec::new(),
    };
    for item in &is.items {
        let last = from.ticks.iter().rev().find(|t| t.it.item == item.key);
        let state = ready_lists::state(from, item, now, Prefs::METRIC).state;
        if !matches!(state, ItemState::Done | ItemState::Watch) {
            continue;
        }
        let returned = match item.group {
            _ if matches!(item.what, What::Lot { .. }) => false,
            Group::Material | Group::Rig => !last.is_some_and(|t| today(t.at)),
            Group::Surface | Group::Masking => touched,
            Group::MockUp => false,
        };
        if returned {
            out.again.push(item.text.clone());
            continue;
        }
        out.ticks.extend(last.cloned());
        if stands_by_itself(item) {
            out.items.push(item.key.clone());
        }
    }
    Ok(out)
}

/// Guards that were put on in a span of time and not struck since, by hand or carried on.
fn put_on(from: &Record, when: &impl Fn(Timestamp) -> bool) -> BTreeSet<Hazard> {
    let lines = from.log.iter().filter(|l| l.struck.is_none() && when(l.at)).filter_map(|l| l.said.as_deref());
    let mut on = BTreeSet::new();
    for said in lines {
        if let Payload::Guards(guards) = said {
            on.extend(guards.hazards.iter().copied());
        } else if let Payload::CarryOn(carried) = said {
            on.extend(carried.guards.iter().copied());
        }
    }
    on
}

/// Done is done: no clock of it runs on into the next coat.
fn stands_by_itself(item: &ChecklistItem) -> bool {
    match &item.what {
        What::Tick | What::Test { .. } | What::Profile | What::Approve | What::Lot { .. } | What::Timer { .. } => true,
        What::GoodFor { until_coated, .. } => *until_coated,
    }
}

impl Statement for CarryOn {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let case = asked.case;
        match case.aim().and_then(|aim| aim.job) {
            Some(job) if job.coat > 1 => {}
            _ => return Err(Refusal::conflict("no-coat-before", "There is no coat of this job before it.")),
        }
        if !is_untouched(case) {
            return Err(Refusal::conflict("made-ready", "This coat is being made ready by itself already."));
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.carried_from = Some(stamp(entry, self.from_number));
        record.ticks.extend(self.ticks);
        record.lots.extend(self.lots);
        record.guards.extend(self.guards);
        record.rig = record.rig.take().or(self.rig);
        record.conditions.extend(self.conditions);
        record.carried.extend(self.items);
    }

    fn words(&self, _told: &Told<'_>) -> String {
        let items = self.items.len();
        let again = if self.again.is_empty() { String::new() } else { format!("; asked again: {}", self.again.join(", ")) };
        format!("Carried on from batch {:04}: {items} items{again}", self.from_number)
    }
}

/// This coat of the job is not put on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LeaveOut {
    /// Why.
    pub reason: String,
}

impl Statement for LeaveOut {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        check_text("reason", &self.reason, limits::TEXT_CHARS).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        may_leave_out(asked.case)
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.left_out = Some(stamp(entry, self.reason));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("This coat is left out: {}", self.reason)
    }
}

/// So many more pieces are done on one side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PiecesDone {
    /// Which side, from 1.
    pub side: u32,
    /// So many.
    pub done_count: f64,
}

impl Statement for PiecesDone {
    const WAITS_AS: Option<&'static str> = Some("Pieces done");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::COUNT.check("done_count", self.done_count, prefs)?;
        if self.done_count.fract() != 0.0 {
            return Err(Refusal::bad_input("whole-ones", "done_count", "Whole pieces."));
        }
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let case = asked.case;
        let Some(Pieces { piece_count, side_count }) = case.aim().and_then(|aim| aim.pieces) else {
            return Err(Refusal::conflict("no-pieces", "This part is not counted in pieces."));
        };
        if self.side < 1 || f64::from(self.side) > side_count {
            return Err(Refusal::bad_input("no-such-side", "side", format!("Each piece has {side_count} sides.")));
        }
        if case.passes.is_empty() {
            return Err(Refusal::hold("nothing-on", format!("Nothing is {} yet: stamp the pass first.", case.put_on().done)));
        }
        let left = piece_count - case.pieces_done(self.side);
        if self.done_count > left {
            let text = format!("Of {piece_count} pieces {left} are left on side {}.", self.side);
            return Err(Refusal::bad_input("more-than-there-are", "done_count", text));
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.pieces.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("{} pieces done, side {}", told.say(self.done_count, QuantityKind::Count), self.side)
    }
}

impl Record {
    /// Pieces done on a side.
    pub fn pieces_done(&self, side: u32) -> f64 {
        // From zero: the sum of no numbers is one below it.
        self.pieces.iter().filter(|p| p.it.side == side).fold(0.0, |all, p| all + p.it.done_count)
    }
}
