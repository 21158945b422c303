//! Recoat: the coat beneath is on, not too fresh, not past its latest.

use super::{Act, Answer, Found, Gate, Hold, Judging, Looks, ON_HOLD, UNREAD, no_next};
use crate::batch::beside;
use crate::batch::case::Case;
use crate::batch::gates::GateName;
use crate::quantity::show_duration;
use crate::recoat::{self, CoatBeneath, RecoatClock, WindowState};
use jiff::Timestamp;

/// Past the latest recoat: one figure whatever the delay, so that a release after abrading stands.
const PAST_LATEST: f64 = 1e7;

pub(super) const GATE: Gate = Gate {
    station: 1,
    acts: &[Act::Spray],
    judge: Looks::AtBatch(|j| vec![judge(j.case, j.now)]),
    combined_past: ON_HOLD,
    next: no_next,
    line,
};

fn line(j: &Judging<'_>, _hold: &Hold) -> Option<String> {
    let left = recoat_clock(j.case, j.now).and_then(|c| c.changes_s);
    Some(left.map_or("abrade first".into(), |s| format!("recoat in {}", show_duration(s))))
}

/// Judged until spraying begins.
fn judge(case: &Case<'_>, now: Timestamp) -> Answer {
    let Some(beneath) = case.beside.beneath.as_ref().filter(|_| case.passes.is_empty()) else { return Answer::NotNeeded };
    let window = beside::window_beneath(case);
    let Some((state, text, how_far)) = recoat::too_soon_or_late(beneath, window, now) else {
        return match window.and_then(|w| w.earliest) {
            Some(_) => Answer::Go,
            None => not_stated(case, beneath),
        };
    };
    let (trouble, badness) = match state {
        WindowState::Past => ("past-latest", PAST_LATEST),
        WindowState::NotSprayed => ("not-sprayed", UNREAD),
        WindowState::Wait | WindowState::Open => ("too-early", how_far),
    };
    let reached = state != WindowState::NotSprayed;
    Found { badness, reached, ..Found::hold(GateName::Recoat, trouble, text) }.answer(case, None)
}

/// No earliest is stated of the coat beneath: nobody knows when it may be coated.
fn not_stated(case: &Case<'_>, beneath: &CoatBeneath) -> Answer {
    let text = format!(
        "Of the {} beneath (batch {:04}) no earliest recoat is stated: nobody knows when it may be coated. Ask for its data sheet, or a lead releases it.",
        beneath.link.coat, beneath.link.number
    );
    Found::hold(GateName::Recoat, "not-stated", text).answer(case, None)
}

/// The clock of the coat beneath a batch.
pub fn recoat_clock(case: &Case<'_>, now: Timestamp) -> Option<RecoatClock> {
    let beneath = case.beside.beneath.as_ref()?;
    Some(recoat::clock(beside::window_beneath(case), beneath.ended, Some(beneath.link.clone()), now))
}
