//! The clocks of a pot: born when, stirred and through its induction, not spent.

use super::{Answer, Found, Severity, UNREAD};
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::gates::GateName;
use crate::pot_life::PotState;
use crate::quantity::show_duration;
use crate::sheets::ChargeKind;
use jiff::Timestamp;

/// Birth, induction and life, each with its answer.
pub(super) fn judge(case: &Case<'_>, charge: &Charge, now: Timestamp) -> Vec<Answer> {
    vec![birth(case, charge, now), clock(case, charge, now)]
}

/// Hardener met base by an entry that was struck, earlier than anything that stands now says.
fn birth(case: &Case<'_>, charge: &Charge, now: Timestamp) -> Answer {
    let Some(born) = charge.birth_in_doubt() else { return Answer::Go };
    let ago = show_duration(now.duration_since(born).as_secs_f64().max(0.0));
    let text = format!(
        "Pot {}: an entry that was struck says hardener met base {ago} ago, and its age counts from then. A lead who knows that it never happened denies that birth; or releases the pot as old as it says.",
        charge.no
    );
    let found = Found::hold(GateName::Life, "birth-in-doubt", text);
    Found { charge: Some(charge.id), item: Some("birth".into()), ..found }.answer(case, None)
}

fn clock(case: &Case<'_>, charge: &Charge, now: Timestamp) -> Answer {
    let hardened = case.aim().is_none_or(|b| b.sheet.has_hardener);
    if !hardened || charge.kind == ChargeKind::AtGun {
        return Answer::NotNeeded;
    }
    if charge.combined().is_none() {
        return Answer::NotReached(GateName::Induction, format!("Pot {} holds no hardener yet.", charge.no));
    }
    let found = |gate, trouble, text: String| Found { charge: Some(charge.id), ..Found::hold(gate, trouble, text) };
    let Some(clock) = case.clock(charge, now) else {
        let text =
            format!("Pot {}: the sheet states no pot life, so its age cannot be reckoned. Ask for the data sheet.", charge.no);
        return found(GateName::Life, "not-known", text).answer(case, None);
    };
    match clock.state {
        PotState::Spent => {
            let text = format!("Pot {} is spent. Discard it; thinner does not bring it back.", charge.no);
            let found = found(GateName::Life, "spent", text);
            Found { severity: Severity::Stop, badness: clock.age, ..found }.answer(case, None)
        }
        PotState::Mixing => {
            let again = if charge.mixes.is_empty() {
                "it is not stirred. Stir it"
            } else {
                "something went in after it was stirred. Stir it again"
            };
            let text = format!("Pot {} cannot be sprayed yet: {again}.", charge.no);
            let found = found(GateName::Induction, "not-stirred", text);
            Found { badness: UNREAD, reached: false, since: charge.last_added(), ..found }.answer(case, None)
        }
        PotState::Inducting => {
            let left = clock.induction_ends.map_or(0.0, |end| end.duration_since(now).as_secs_f64());
            let left_words = show_duration(left);
            let text =
                format!("Pot {} cannot be sprayed yet: induction ends in {left_words}. Stir it once more then.", charge.no);
            let found = found(GateName::Induction, "inducting", text);
            // A release is of the induction that ran when it was given.
            Found { badness: left, since: charge.stirred, ..found }.answer(case, None)
        }
        PotState::Ready | PotState::Watch | PotState::LastCall => Answer::Go,
        // A mixed pot is neither filling nor open.
        PotState::Filling | PotState::Open => {
            Answer::NotReached(GateName::Induction, format!("Pot {} holds no hardener yet.", charge.no))
        }
    }
}
