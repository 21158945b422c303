//! How far the passes of one zone are: each pass with its step, what the next one is, and what it waits for.

use super::OutOfOrder;
use super::planned::{NextStep, trade_rank};
use crate::batch::Record;
use crate::batch::entries::Pass;
use crate::batch::record::Stamped;
use crate::pot_life::after;
use crate::sheets::{CoatStep, ReadyLook};
use jiff::Timestamp;
use uuid::Uuid;

/// What the next pass of a zone waits for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Wait {
    /// The last pass there.
    pub since: Timestamp,
    /// It may be gone over from then on; none: the sheet asks no time.
    pub earliest: Option<Timestamp>,
    /// Then the edge is lost; none: the sheet names no latest.
    pub latest: Option<Timestamp>,
    /// What it must look like.
    pub look: Option<ReadyLook>,
    /// Somebody said that it does, since the last pass.
    pub looked: bool,
}

impl Wait {
    /// Nothing that the sheet states is still to be waited for: neither a time nor a look.
    ///
    /// **Rule:** both, where the sheet asks both. **Source:** the sheet.
    pub fn is_over(&self, now: Timestamp) -> bool {
        self.earliest.is_none_or(|from| now >= from) && (self.look.is_none() || self.looked)
    }
}

/// A pass on a zone.
#[derive(Debug, Clone, PartialEq)]
pub struct Made<'a> {
    /// The entry.
    pub pass: &'a Stamped<Pass>,
    /// The step it was of, as a place in the sheet's list.
    pub step: Option<usize>,
    /// What was out of order about it.
    pub out_of_order: Vec<OutOfOrder>,
}

/// How far the passes of a zone are.
#[derive(Debug, Clone, PartialEq)]
pub struct ZonePasses<'a> {
    /// The zone; `None`: the part has none, and is one.
    pub id: Option<Uuid>,
    /// Its name.
    pub name: String,
    /// Its place in the order it was written in, from 0.
    pub place: usize,
    /// Its rank in the order of the trade: corners, edges and insides before faces.
    pub rank: u8,
    /// Its area.
    pub area_m2: f64,
    /// Every pass on it, oldest first.
    pub made: Vec<Made<'a>>,
    /// Passes planned in all; none: the sheet does not say.
    pub planned: Option<usize>,
    /// The next pass; none once all that are planned are on.
    pub next: Option<NextStep<'a>>,
    /// What it waits for; none before the first, and once all are on.
    pub wait: Option<Wait>,
}

fn is(said: &str, step: &CoatStep) -> bool {
    said.trim().eq_ignore_ascii_case(&step.name)
}

/// Passes of a step; none: it goes on until a pass names the next.
pub(super) fn count_of(step: &CoatStep) -> Option<usize> {
    step.passes_count.map(|n| n.round().max(1.0) as usize)
}

impl Record {
    /// The passes of every zone.
    ///
    /// **Rule:** each zone counts for itself; a pass without a zone is on all of them. A pass is of the step it names, else of the one
    /// at hand there. Once a step's passes are on, the next step follows. **Source:** the sheet.
    pub fn zone_passes(&self) -> Vec<ZonePasses<'_>> {
        let Some(aim) = self.aim() else { return Vec::new() };
        let planned = self.planned_passes();
        let mut in_order: Vec<&Stamped<Pass>> = self.passes.iter().collect();
        in_order.sort_by_key(|p| (p.at, p.seq));
        let area = |id: Option<Uuid>| {
            let of = aim.zones.iter().find(|z| Some(z.id) == id).map(|z| z.area_m2);
            of.filter(|m2| *m2 > 0.0).unwrap_or(aim.area_m2 / aim.zones.len().max(1) as f64)
        };
        let zones = self.zones().into_iter().enumerate();
        zones
            .map(|(place, (id, name))| {
                let mut zone = ZonePasses {
                    id,
                    rank: trade_rank(&name),
                    name,
                    place,
                    area_m2: area(id),
                    made: Vec::new(),
                    planned,
                    next: None,
                    wait: None,
                };
                let here = |p: &&&Stamped<Pass>| p.it.zones.is_empty() || id.is_none_or(|id| p.it.zones.contains(&id));
                let passes = in_order.iter().filter(here).copied().collect::<Vec<_>>();
                self.follow(&mut zone, &aim.sheet.steps, &passes);
                zone
            })
            .collect()
    }

    /// Goes through the passes of a zone, oldest first.
    fn follow<'a>(&'a self, zone: &mut ZonePasses<'a>, steps: &'a [CoatStep], passes: &[&'a Stamped<Pass>]) {
        let mut on = vec![0_usize; steps.len()];
        let mut at = 0;
        let mut last: Option<(Timestamp, usize)> = None;
        for pass in passes {
            let named = pass.it.step.as_deref().map(|said| steps.iter().position(|s| is(said, s)));
            let step = named.unwrap_or(steps.len().checked_sub(1).map(|last| at.min(last)));
            let mut out_of_order = Vec::new();
            if let (Some((since, of)), Some(step)) = (last, step) {
                self.against_the_wait(zone.id, &self.waits(zone.id, since, steps, of, step), pass, &mut out_of_order);
            }
            let missing = |i: usize| count_of(&steps[i]).is_some_and(|n| on[i] < n);
            if let Some(skipped) = step.and_then(|step| (at..step).find(|i| missing(*i))) {
                out_of_order.push(OutOfOrder::Skipped(steps[skipped].name.clone()));
            }
            let full = step.is_some_and(|step| count_of(&steps[step]).is_some_and(|n| on[step] >= n));
            let past_all = steps.is_empty() && zone.planned.is_some_and(|n| zone.made.len() >= n);
            if full || past_all {
                out_of_order.push(OutOfOrder::Extra);
            }
            if let Some(step) = step {
                on[step] += 1;
                let done = count_of(&steps[step]).is_some_and(|n| on[step] >= n);
                at = if done { step + 1 } else { step };
            }
            last = step.map(|step| (pass.at, step)).or(last.map(|(_, of)| (pass.at, of)));
            zone.made.push(Made { pass, step, out_of_order });
        }
        // Without steps the passes follow the film, as many as it takes.
        if steps.is_empty() {
            let (no, of) = (zone.made.len() + 1, zone.planned);
            zone.next = of.is_none_or(|n| no <= n).then_some(NextStep { step: None, no, of, way: None, turned: false });
            let since = zone.made.last().map(|m| m.pass.at);
            zone.wait = since.filter(|_| zone.next.is_some()).map(|since| Wait {
                since,
                earliest: None,
                latest: None,
                look: None,
                looked: false,
            });
            return;
        }
        let Some(step) = steps.get(at) else { return };
        zone.next = Some(NextStep::of(step, on[at], zone.rank));
        zone.wait = last.map(|(since, of)| self.waits(zone.id, since, steps, of, at));
    }

    /// What a pass of one step waits for after one of another, or of the same.
    fn waits(&self, zone: Option<Uuid>, since: Timestamp, steps: &[CoatStep], of: usize, next: usize) -> Wait {
        let step = &steps[of];
        let earliest_s = if of == next { step.between_s } else { step.wait_s.or(step.between_s) };
        Wait {
            since,
            earliest: earliest_s.map(|s| after(since, s)),
            latest: step.between_latest_s.map(|s| after(since, s)),
            look: step.look,
            looked: step.look.is_some_and(|look| self.looked(zone, look, since, Timestamp::MAX)),
        }
    }

    /// Somebody said that a zone looks like this, after an instant and up to another.
    fn looked(&self, zone: Option<Uuid>, look: ReadyLook, from: Timestamp, to: Timestamp) -> bool {
        self.pass_looks.iter().any(|l| {
            let here = l.it.zones.is_empty() || zone.is_none_or(|zone| l.it.zones.contains(&zone));
            here && l.it.look == look && l.at >= from && l.at <= to
        })
    }

    fn against_the_wait(&self, zone: Option<Uuid>, wait: &Wait, pass: &Stamped<Pass>, found: &mut Vec<OutOfOrder>) {
        let past = |t: Timestamp| pass.at.duration_since(t).as_secs_f64();
        if let Some(s) = wait.earliest.map(|t| -past(t)).filter(|s| *s > 0.0) {
            found.push(OutOfOrder::Early(s));
        }
        if let Some(s) = wait.latest.map(past).filter(|s| *s > 0.0) {
            found.push(OutOfOrder::Late(s));
        }
        if let Some(look) = wait.look.filter(|look| !self.looked(zone, *look, wait.since, pass.at)) {
            found.push(OutOfOrder::NotLooked(look));
        }
    }
}
