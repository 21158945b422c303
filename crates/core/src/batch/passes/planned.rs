//! What is planned: how many passes, which zone comes next, on which step and way.

use super::zone::{ZonePasses, count_of};
use crate::batch::Record;
use crate::sheets::{CoatStep, PassWay};
use crate::verdict::Tolerance;
use jiff::Timestamp;

/// The next pass of a zone.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NextStep<'a> {
    /// Its step, as the sheet states it; none: the sheet names no steps.
    pub step: Option<&'a CoatStep>,
    /// Which pass of the step it is; without steps, of all.
    pub no: usize,
    /// Passes of the step; none: nobody says how many.
    pub of: Option<usize>,
    /// Its way; none: the sheet states none.
    pub way: Option<PassWay>,
    /// The cap is turned a quarter for it.
    pub turned: bool,
}

impl<'a> NextStep<'a> {
    /// The pass of a step after so many of it.
    ///
    /// **Rule:** the way of the sheet; crossed, every second pass goes across and the cap is turned. Corners, edges and insides are
    /// gone round where the sheet states no way. **Source:** the sheet; common practice in the trade.
    pub(super) fn of(step: &'a CoatStep, on: usize, rank: u8) -> NextStep<'a> {
        let usual = if step.crossed { Some(PassWay::Along) } else { (rank < FACES).then_some(PassWay::Corners) };
        let way = step.way.or(usual);
        let second = step.crossed && on % 2 == 1;
        NextStep {
            step: Some(step),
            no: on + 1,
            of: count_of(step),
            way: if second { way.map(PassWay::crossed) } else { way },
            // It is turned for the second, and back for the third.
            turned: step.crossed && on > 0,
        }
    }
}

/// The next pass of all.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NextPass<'z, 'a> {
    /// Where.
    pub zone: &'z ZonePasses<'a>,
    /// Which.
    pub next: NextStep<'a>,
}

/// The step the next pass is of.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StepAtHand<'a> {
    /// As the sheet states it.
    pub step: &'a CoatStep,
    /// Which of its passes is next.
    pub pass_no: usize,
    /// The wait that the pass before asks is over then, in the zone where it is over first.
    pub from: Option<Timestamp>,
}

/// Rank of what is no corner, edge or inside.
const FACES: u8 = 3;

/// The place of a zone in the order of the trade, by its name: corners, then edges, then insides, then all else.
///
/// **Rule:** by the word in its name. **Source:** common practice in the trade.
///
/// ```
/// use level_keel_core::batch::passes::trade_rank;
/// assert!(trade_rank("Corners") < trade_rank("lower edge"));
/// assert!(trade_rank("Inside") < trade_rank("hull"));
/// ```
pub fn trade_rank(name: &str) -> u8 {
    let name = name.to_lowercase();
    let first = [&["corner"][..], &["edge", "rim"][..], &["inside", "channel", "inner"][..]];
    let has = |words: &&[&str]| words.iter().any(|w| name.split(|c: char| !c.is_alphabetic()).any(|said| said.starts_with(w)));
    first.iter().position(has).map_or(FACES, |rank| rank as u8)
}

/// A window in its last quarter comes before all else.
const LAST_PART: f64 = 0.25;

/// The zone that is next, of those that still want a pass.
///
/// **Rule:** what may be gone over before what still waits; of the first, a window in its last quarter before it closes, then the
/// zone with the fewest passes, in the order of the trade, then as they were written; of the others the one that is ready first.
/// **Source:** common practice in the trade: work in turn while one dries, and never lose an edge.
pub fn next_of<'z, 'a>(zones: &'z [ZonePasses<'a>], now: Timestamp) -> Option<NextPass<'z, 'a>> {
    let key = |z: &&ZonePasses<'_>| {
        let wait = z.wait.as_ref();
        let from = wait.and_then(|w| w.earliest).filter(|from| *from > now);
        let closing = wait.and_then(|w| {
            let latest = w.latest?;
            let (left, whole) = (latest.duration_since(now).as_secs_f64(), latest.duration_since(w.since).as_secs_f64());
            (left <= LAST_PART * whole).then_some(latest)
        });
        (wait.is_some_and(|w| !w.is_over(now)), from, closing.is_none(), closing, z.made.len(), z.rank, z.place)
    };
    let zone = zones.iter().filter(|z| z.next.is_some()).min_by_key(key)?;
    zone.next.map(|next| NextPass { zone, next })
}

impl Record {
    /// Passes planned on each zone; `None` where the sheet does not say.
    ///
    /// **Rule:** the passes of all steps; without steps, a first pass at the middle of its band and as many later ones at the middle of
    /// theirs as the film wants. **Formula:** `1 + ⌈(aim − first)/later⌉`. **Units:** µm. **Source:** the sheet; arithmetic.
    pub fn planned_passes(&self) -> Option<usize> {
        let sheet = &self.aim()?.sheet;
        if !sheet.steps.is_empty() {
            return sheet.steps.iter().map(count_of).sum();
        }
        let middle = |first: bool| self.pass_band(first).and_then(|t| Some((t.lo? + t.hi?) / 2.0));
        let (first, later) = (middle(true).or(middle(false))?, middle(false)?);
        let rest = (self.wet_aim_um() - first) / later;
        Some(1 + (rest - 1e-9).ceil().max(0.0) as usize)
    }

    /// The band of one pass, the first or a later one; `None` where the sheet states none.
    ///
    /// **Units:** µm. **Source:** the sheet. **Rule:** the first has a band of its own, else that of the later ones.
    pub fn pass_band(&self, first: bool) -> Option<Tolerance> {
        let sheet = &self.aim()?.sheet;
        let own = (sheet.first_pass_min_um, sheet.first_pass_max_um);
        let each = (sheet.pass_min_um, sheet.pass_max_um);
        let (lo, hi) = if first && own != (None, None) { own } else { each };
        (lo.is_some() || hi.is_some()).then_some(Tolerance { lo, hi })
    }

    /// The step the next pass is of; the last one once all are on. `None` where the sheet names no steps.
    ///
    /// **Rule:** of the zone with the fewest passes, in the order of the trade. **Source:** the sheet.
    pub fn step_at_hand(&self) -> Option<StepAtHand<'_>> {
        let zones = self.zone_passes();
        let step = self.aim()?.sheet.steps.last()?;
        let from = zones.iter().filter_map(|z| z.wait?.earliest).min();
        let next = zones.iter().filter(|z| z.next.is_some()).min_by_key(|z| (z.made.len(), z.rank, z.place));
        Some(match next.and_then(|z| z.next) {
            Some(NextStep { step: Some(step), no, .. }) => StepAtHand { step, pass_no: no, from },
            _ => StepAtHand { step, pass_no: count_of(step).unwrap_or(0) + 1, from: None },
        })
    }
}
