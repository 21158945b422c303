//! The part in sections: the largest patch by what limits it, each zone in so many of them, by the plan and by what passes took.

use crate::batch::Record;
use crate::batch::case::Case;
use crate::batch::entries::{Happened, PlanSections};
use crate::film::section::{PatchAsked, PatchLimit, pass_m2_min, patch, patches};
use jiff::Timestamp;
use uuid::Uuid;

/// A zone in sections.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ZoneInSections {
    /// The zone.
    pub id: Option<Uuid>,
    /// How many patches.
    pub count: usize,
    /// Each of them.
    pub each_m2: f64,
    /// One pass of one patch; none: the rate is not known.
    pub pass_s: Option<f64>,
}

/// The part in sections.
#[derive(Debug, Clone, PartialEq)]
pub struct SectionsNow {
    /// The area each limit allows, the least first.
    pub limits: Vec<(PatchLimit, f64)>,
    /// Each zone in the order it was written.
    pub zones: Vec<ZoneInSections>,
    /// Area of a pass in a minute.
    pub pass_m2_min: Option<f64>,
    /// By so many passes as they went; none: by flow, transfer and film.
    pub by_passes: Option<usize>,
}

/// Passes that a measured rate takes at the least; from memory.
const LEAST_PASSES: usize = 2;
/// A gap longer than so many times the planned time of a pass was not spraying; from memory.
const GAP_TIMES: f64 = 2.0;

impl Record {
    /// Area of a pass in a minute as it is planned: by flow, transfer and the film of a pass.
    fn planned_m2_min(&self) -> Option<f64> {
        let flow = self.flow_ml_min()?;
        Some(pass_m2_min(flow, self.aim()?.transfer_pct, self.pass_um(false)))
    }

    /// Area of a pass in a minute as the passes went, and by how many of them.
    ///
    /// **Formula:** `Σ area / Σ time`; the time is that of the trigger where it was said, else from the stamp before, where nobody
    /// paused and it is no longer than twice what the plan gives it. **Units:** m²/min. **Source:** arithmetic; limits from memory.
    pub fn measured_m2_min(&self) -> Option<(f64, usize)> {
        let zones = self.zone_passes();
        let planned = self.planned_m2_min();
        let mut passes: Vec<_> = self.passes.iter().collect();
        passes.sort_by_key(|p| (p.at, p.seq));
        let paused = |from: Timestamp, to: Timestamp| {
            self.happenings.iter().any(|h| h.it.what == Happened::Pause && h.at >= from && h.at <= to)
        };
        let (mut area, mut minutes, mut count) = (0.0, 0.0, 0);
        for (i, pass) in passes.iter().enumerate() {
            let m2: f64 = zones
                .iter()
                .filter(|z| pass.it.zones.is_empty() || z.id.is_some_and(|id| pass.it.zones.contains(&id)))
                .map(|z| z.area_m2)
                .sum();
            let gap = i.checked_sub(1).map(|before| passes[before]).and_then(|before| {
                let s = pass.at.duration_since(before.at).as_secs_f64();
                let short = planned.is_none_or(|rate| s / 60.0 <= GAP_TIMES * m2 / rate);
                (s > 0.0 && short && !paused(before.at, pass.at)).then_some(s)
            });
            if let Some(s) = pass.it.sprayed_watch_s.or(gap) {
                (area, minutes, count) = (area + m2, minutes + s / 60.0, count + 1);
            }
        }
        (count >= LEAST_PASSES).then(|| (area / minutes, count))
    }
}

/// The part in sections, by what was planned for it last; `None` without such a plan, or where nothing limits.
pub fn sections(case: &Case<'_>, now: Timestamp) -> Option<SectionsNow> {
    let plan: &PlanSections = &case.section_plan.as_ref()?.it;
    let measured = case.measured_m2_min();
    let rate = measured.map(|(rate, _)| rate).or(case.planned_m2_min());
    let step = case.step_at_hand().map(|at| at.step);
    // Without a return time of its own the edge is lost where the sheet says so.
    let return_s = plan.return_s.or(step.and_then(|s| s.between_latest_s));
    let live = case.charges.iter().filter(|c| c.closed.is_none());
    let spent = live.filter_map(|c| case.clock(c, now)).map(|k| k.spent_at).min();
    let asked = PatchAsked {
        pass_m2_min: rate,
        pass_count: case.planned_passes().map(|n| n as f64),
        return_s,
        open_s: plan.open_s.or(case.aim()?.sheet.open_surface_s),
        prepare_m2_min: plan.prepared_m2.zip(plan.prepared_s).map(|(m2, s)| m2 / (s / 60.0)),
        life_s: spent.map(|at| at.duration_since(now).as_secs_f64()),
        reach_m2: plan.reach_m2,
    };
    let limits = patch(&asked);
    let largest = limits.first()?.1;
    let zone = |z: super::ZonePasses<'_>| {
        let (count, each_m2) = patches(z.area_m2, largest)?;
        Some(ZoneInSections { id: z.id, count, each_m2, pass_s: rate.map(|rate| each_m2 / rate * 60.0) })
    };
    let zones = case.zone_passes().into_iter().filter_map(zone).collect();
    Some(SectionsNow { limits, zones, pass_m2_min: rate, by_passes: measured.map(|(_, n)| n) })
}
