//! The induction of a pot: stirred, and stood as long as the sheet says.

use super::life::unborn;
use super::{Act, Answer, Found, Gate, Looks, ON_HOLD, UNREAD, no_line, no_next};
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::gates::GateName;
use crate::pot_life::PotState;
use crate::quantity::show_duration;
use jiff::Timestamp;

pub(super) const GATE: Gate = Gate {
    station: 2,
    acts: &[Act::Fill, Act::Spray],
    judge: Looks::AtCharge(|j, charge| vec![judge(j.case, charge, j.now)]),
    combined_past: ON_HOLD,
    next: no_next,
    line: no_line,
};

fn judge(case: &Case<'_>, charge: &Charge, now: Timestamp) -> Answer {
    if let Some(answer) = unborn(case, charge, GateName::Induction) {
        return answer;
    }
    // A pot whose age nobody can reckon is held by its life; a lead who releases that has looked at its induction too.
    let Some(clock) = case.clock(charge, now) else { return Answer::NotNeeded };
    let found = |trouble, text: String| Found { charge: Some(charge.id), ..Found::hold(GateName::Induction, trouble, text) };
    match clock.state {
        PotState::Mixing => {
            let again = if charge.mixes.is_empty() {
                "it is not stirred. Stir it"
            } else {
                "something went in after it was stirred. Stir it again"
            };
            let found = found("not-stirred", format!("Pot {} cannot be {} yet: {again}.", charge.no, case.put_on().done));
            Found { badness: UNREAD, reached: false, since: charge.last_added(), ..found }.answer(case, None)
        }
        PotState::Inducting => {
            let left = clock.induction_ends.map_or(0.0, |end| end.duration_since(now).as_secs_f64());
            let left_words = show_duration(left);
            let text = format!(
                "Pot {} cannot be {} yet: induction ends in {left_words}. Stir it once more then.",
                charge.no,
                case.put_on().done
            );
            // A release is of the induction that ran when it was given.
            Found { badness: left, since: charge.stirred, ..found("inducting", text) }.answer(case, None)
        }
        // What is spent is stopped by its life.
        PotState::Ready | PotState::Watch | PotState::LastCall | PotState::Spent => Answer::Go,
        // A mixed pot is neither filling nor open.
        PotState::Filling | PotState::Open => {
            Answer::NotReached(GateName::Induction, format!("Pot {} holds no hardener yet.", charge.no))
        }
    }
}
