//! The steps of a coat: which is at hand, how many of its passes are on, and when the next may begin.

use super::Record;
use super::entries::Pass;
use super::record::Stamped;
use crate::pot_life::after;
use crate::sheets::CoatStep;
use jiff::Timestamp;
use uuid::Uuid;

/// The step the next pass is of.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StepAtHand<'a> {
    /// As the sheet states it.
    pub step: &'a CoatStep,
    /// Which of its passes is next, counted on every zone alike.
    pub pass_no: usize,
    /// The wait that the step before asks is over then, in the zone where it is over first.
    pub from: Option<Timestamp>,
}

fn is(said: &str, step: &CoatStep) -> bool {
    said.trim().eq_ignore_ascii_case(&step.name)
}

impl Record {
    /// The step the next pass is of: the first whose passes are not all on, by the last pass that named its step; the last step once
    /// all are. `None` where the sheet names no steps.
    ///
    /// **Rule:** counted on every zone alike; a step without a count goes on until a pass names the next. A wait runs from the last
    /// pass of the step before, in each zone for itself. **Source:** the sheet.
    pub fn step_at_hand(&self) -> Option<StepAtHand<'_>> {
        let steps = &self.aim()?.sheet.steps;
        let last = self.passes.iter().rev().find_map(|p| p.it.step.as_deref());
        let at = last.and_then(|last| steps.iter().position(|s| is(last, s))).unwrap_or(0);
        let zones = self.zones().len().max(1);
        let on = |step: &CoatStep| -> usize {
            let done = self.passes.iter().filter(|p| p.it.step.as_deref().is_some_and(|said| is(said, step)));
            done.map(|p| if p.it.zones.is_empty() { zones } else { p.it.zones.len() }).sum()
        };
        let full = steps.get(at)?.passes_count.is_some_and(|n| on(&steps[at]) as f64 >= n * zones as f64);
        let next = if full && at + 1 < steps.len() { at + 1 } else { at };
        let step = &steps[next];
        let waited = self.zones().into_iter().filter_map(|(zone, _)| self.may_begin(next, zone));
        Some(StepAtHand { step, pass_no: on(step) / zones + 1, from: waited.min() })
    }

    /// When a step may begin in a zone: after the wait that the step before it asks, from that step's last pass there.
    fn may_begin(&self, at: usize, zone: Option<Uuid>) -> Option<Timestamp> {
        let steps = &self.aim()?.sheet.steps;
        let before = steps.get(at.checked_sub(1)?)?;
        let here = |p: &&Stamped<Pass>| p.it.zones.is_empty() || zone.is_none_or(|zone| p.it.zones.contains(&zone));
        let of_it = self.passes.iter().filter(here).filter(|p| p.it.step.as_deref().is_some_and(|said| is(said, before)));
        Some(after(of_it.map(|p| p.at).max()?, before.wait_s?))
    }

    /// How much too early a pass was, by the wait of the step before its own, in the zone where it was the most.
    ///
    /// **Units:** s. **Rule:** named and never held: a stamp is a fact. **Source:** the sheet.
    pub fn too_early_s(&self, pass: &Stamped<Pass>) -> Option<f64> {
        let steps = &self.aim()?.sheet.steps;
        let at = pass.it.step.as_deref().and_then(|said| steps.iter().position(|s| is(said, s)))?;
        let zones = self.zones().into_iter().map(|(id, _)| id);
        let hit = zones.filter(|id| pass.it.zones.is_empty() || id.is_none_or(|id| pass.it.zones.contains(&id)));
        let early = hit.filter_map(|zone| Some(self.may_begin(at, zone)?.duration_since(pass.at).as_secs_f64()));
        early.filter(|s| *s > 0.0).max_by(f64::total_cmp)
    }
}
