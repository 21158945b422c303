//! Coverage: base and hardener go on no larger an area than the sheet says, by what was used.

use super::{Act, Answer, Found, Gate, Judging, Looks, ON_HOLD, UNREAD, no_line, no_next, over, trouble_of};
use crate::batch::gates::GateName;
use crate::quantity::{QuantityKind, show};
use crate::verdict::{Tolerance, Verdict};

pub(super) const GATE: Gate = Gate {
    station: 5,
    acts: &[Act::Sign],
    judge: Looks::AtBatch(|j| vec![judge(j)]),
    combined_past: ON_HOLD,
    next: no_next,
    line: no_line,
};

/// Judged once every pot is closed: until then more may go on.
fn judge(j: &Judging<'_>) -> Answer {
    let Some(aim) = j.case.aim() else { return Answer::NotReached(GateName::Coverage, "The batch is not begun.".into()) };
    let Some(most_m2_l) = aim.sheet.area_max_m2_l else { return Answer::NotNeeded };
    if !over(j.case) {
        return Answer::NotReached(GateName::Coverage, "Coverage is reckoned once every pot is closed.".into());
    }
    let most = show(most_m2_l, QuantityKind::AreaPerVolume, j.prefs).text;
    let Some(covered) = j.case.covered_m2_l(j.prefs) else {
        let text = format!(
            "Coverage not proved: the sheet allows at most {most}, and what was weighed or where it went is not known. Weigh the \
             pots and measure the zones."
        );
        return Found { badness: UNREAD, reached: false, ..Found::hold(GateName::Coverage, "not-proved", text) }
            .answer(j.case, None);
    };
    let band = Tolerance::at_most(most_m2_l);
    let verdict = band.judge(covered);
    let said = match verdict {
        Verdict::In | Verdict::Low => return Answer::Go,
        Verdict::High => format!("over the sheet's {most}. Mix more and put it on"),
        Verdict::CannotTell => format!("and the sheet's {most} lies between. Weigh on a finer scale, or put a little more on"),
    };
    let say = |v| show(v, QuantityKind::AreaPerVolume, j.prefs).text;
    let text = format!("Spread thin: {} to {}, {said}.", say(covered.lo), say(covered.hi));
    Found { badness: covered.hi / most_m2_l, ..Found::hold(GateName::Coverage, trouble_of(verdict), text) }.answer(j.case, None)
}
