//! How a rig stands: under pressure or not, which steps are done, what is due. Never opened under pressure.

use super::lists::{CareItemView, CareList, items};
use super::shut_down::{ShutDownStep, StepIs, steps};
use super::{FlushSchool, flush_ml, item, step};
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::refusal::Refusal;
use crate::rigs::Rig;
use crate::worded::VariantArray;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a gauge may show and be called zero: half a psi, half a division of a common gauge; from memory.
pub const ZERO_KPA: f64 = 3.447_378_646_584_18;

/// A step or an item of care that was done; never one that is struck.
#[derive(Debug, Clone, PartialEq)]
pub struct Done {
    /// Name of the step or item.
    pub id: String,
    /// When.
    pub at: Timestamp,
    /// By whom.
    pub by: String,
}

/// A rig, what its book says was done, and what is known of its pressure.
#[derive(Debug, Clone)]
pub struct RigState<'a> {
    /// The rig.
    pub rig: &'a Rig,
    /// Steps of shut-downs, oldest first.
    pub steps: &'a [Done],
    /// Items of care, oldest first.
    pub cared: &'a [Done],
    /// When a batch put it under pressure last.
    pub pressed_at: Option<Timestamp>,
    /// What its transmitter reads now.
    pub live_kpa: Option<f64>,
}

impl RigState<'_> {
    /// The newest doing of a step since it was put under pressure.
    fn done(&self, id: &str) -> Option<&Done> {
        let since = |d: &&Done| self.pressed_at.is_none_or(|p| d.at >= p);
        self.steps.iter().rev().filter(|d| d.id == id).find(since)
    }

    /// Newest step since the pressure that does this to it.
    fn last_of(&self, is: StepIs) -> Option<Timestamp> {
        steps(self.rig).iter().filter(|s| s.is == is).filter_map(|s| self.done(s.id)).map(|d| d.at).max()
    }

    /// Since when it is under pressure by the books: pressed, and no gauge read zero since. `None`: it is not.
    ///
    /// **Rule:** a batch's try or catch, or flushing, puts it under pressure; only a gauge read as zero takes it off.
    pub fn under_pressure(&self) -> Option<Timestamp> {
        let pressed = self.last_of(StepIs::Presses).max(self.pressed_at)?;
        self.last_of(StepIs::Zero).is_none_or(|zero| zero < pressed).then_some(pressed)
    }

    /// Whether something of it may be opened.
    ///
    /// **Errors:** a stop `open-under-pressure`, by the transmitter or by the books: nobody may.
    pub fn may_open(&self, prefs: Prefs) -> Result<(), Refusal> {
        if let Some(kpa) = self.live_kpa.filter(|kpa| kpa.abs() > ZERO_KPA) {
            let text = format!(
                "Its transmitter reads {}. Never open it under pressure, not by one clamp: relieve it first.",
                show(kpa, QuantityKind::Pressure, prefs).text
            );
            return Err(Refusal::stop("open-under-pressure", text));
        }
        if self.under_pressure().is_some() {
            let text =
                "It was put under pressure and no gauge was read at zero since. Never open it under pressure, not by one clamp.";
            return Err(Refusal::stop("open-under-pressure", text));
        }
        Ok(())
    }

    /// Whether a step may be ticked; a step of zero with what the gauge reads.
    ///
    /// **Errors:** a stop for what opens it under pressure; `not-zero` at `gauge_kpa` while the gauge or the transmitter
    /// shows more than half a psi; a refusal naming a step this rig does not have.
    pub fn may_step(&self, id: &str, gauge_kpa: Option<f64>, prefs: Prefs) -> Result<(), Refusal> {
        let step = step(self.rig, id).ok_or_else(|| no_such("step"))?;
        match step.is {
            StepIs::Plain | StepIs::Presses => Ok(()),
            StepIs::Zero => {
                let read = gauge_kpa.ok_or_else(|| Refusal::bad_input("missing", "gauge_kpa", "What does the gauge read?"))?;
                let most = [Some(read), self.live_kpa].into_iter().flatten().find(|kpa| kpa.abs() > ZERO_KPA);
                most.map_or(Ok(()), |kpa| {
                    let text = format!(
                        "{} is not zero. Vent again, trigger again, look again; nothing is opened before.",
                        show(kpa, QuantityKind::Pressure, prefs).text
                    );
                    Err(Refusal::bad_input("not-zero", "gauge_kpa", text))
                })
            }
            StepIs::Opens => {
                self.may_open(prefs)?;
                self.last_of(StepIs::Zero).map(|_| ()).ok_or_else(|| {
                    let text = "No gauge was read at zero yet. It may hold pressure with its hose off: look first.";
                    Refusal::stop("open-under-pressure", text)
                })
            }
        }
    }

    /// Whether an item of care may be ticked.
    ///
    /// **Errors:** as [`RigState::may_open`] for what comes off; a refusal naming an item this rig does not have.
    pub fn may_care(&self, id: &str, prefs: Prefs) -> Result<(), Refusal> {
        match item(self.rig, id) {
            None => Err(no_such("item")),
            Some(i) if i.opens => self.may_open(prefs),
            Some(_) => Ok(()),
        }
    }

    /// How it stands, for the page.
    pub fn view(&self, now: Timestamp, prefs: Prefs) -> CareView {
        let one = |s: ShutDownStep| {
            let done = self.done(s.id);
            // What was done before it was pressed again is not done.
            let gauge = (s.is == StepIs::Zero).then_some(0.0);
            ShutStepView {
                id: s.id.into(),
                word: s.word.into(),
                is: s.is,
                done_at: done.map(|d| d.at),
                done_by: done.map(|d| d.by.clone()),
                held: self.may_step(s.id, gauge, prefs).err().filter(|_| s.is == StepIs::Opens).map(|r| r.text),
            }
        };
        let all: Vec<ShutStepView> = steps(self.rig).into_iter().map(one).collect();
        let flush = FlushSchool::VARIANTS
            .iter()
            .copied()
            .filter_map(|school| {
                let volume = show(flush_ml(school, self.rig)?, QuantityKind::Volume, prefs);
                Some(FlushBy { school, word: school.word().into(), volume })
            })
            .collect();
        let lists =
            CareList::VARIANTS.iter().copied().map(|list| self.list(list, now, prefs)).filter(|l| !l.items.is_empty()).collect();
        CareView {
            under_pressure: self.under_pressure(),
            open: self.may_open(prefs).err().map(|r| r.text),
            live: self.live_kpa.map(|kpa| show(kpa, QuantityKind::Pressure, prefs)),
            done: all.iter().filter(|s| s.done_at.is_some()).count(),
            next: all.iter().find(|s| s.done_at.is_none()).map(|s| s.id.clone()),
            steps: all,
            flush,
            lists,
        }
    }

    fn list(&self, list: CareList, now: Timestamp, prefs: Prefs) -> CareListView {
        let view = |i: super::CareItem| {
            let last = self.cared.iter().rev().find(|d| d.id == i.id);
            let due = match list {
                // Done once, and only where it is still to be done.
                CareList::New => self.rig.unflushed,
                CareList::EachUse => self.pressed_at.is_some_and(|p| last.is_none_or(|d| d.at < p)),
                CareList::Daily | CareList::Weekly => {
                    last.is_none_or(|d| list.due_after_s().is_some_and(|s| now.duration_since(d.at).as_secs_f64() > s))
                }
            };
            CareItemView {
                id: i.id.into(),
                word: i.word.into(),
                done_at: last.map(|d| d.at),
                done_by: last.map(|d| d.by.clone()),
                due,
                held: self.may_care(i.id, prefs).err().map(|r| r.text),
            }
        };
        let wanted = |i: &super::CareItem| i.list == list && (list != CareList::New || self.rig.unflushed);
        let items: Vec<CareItemView> = items(self.rig).into_iter().filter(wanted).map(view).collect();
        CareListView { list, word: list.word().into(), due: items.iter().filter(|i| i.due).count(), items }
    }
}

fn no_such(field: &str) -> Refusal {
    Refusal::bad_input("unknown", field, format!("This rig has no such {field}."))
}

/// How a rig stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CareView {
    /// Since when it is under pressure by the books.
    pub under_pressure: Option<Timestamp>,
    /// Why nothing of it may be opened now.
    pub open: Option<String>,
    /// What its transmitter reads now.
    pub live: Option<Shown>,
    pub steps: Vec<ShutStepView>,
    /// Steps done since it was put under pressure.
    pub done: usize,
    /// The step next in order.
    pub next: Option<String>,
    pub flush: Vec<FlushBy>,
    pub lists: Vec<CareListView>,
}

/// A step as it stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ShutStepView {
    pub id: String,
    pub word: String,
    pub is: StepIs,
    pub done_at: Option<Timestamp>,
    pub done_by: Option<String>,
    /// Why it is a stop now.
    pub held: Option<String>,
}

/// Solvent by a school.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlushBy {
    pub school: FlushSchool,
    pub word: String,
    pub volume: Shown,
}

/// A list as it stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CareListView {
    pub list: CareList,
    pub word: String,
    pub due: usize,
    pub items: Vec<CareItemView>,
}
