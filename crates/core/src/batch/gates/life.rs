//! The life of a pot: born when, not spent.

use super::{Act, Answer, Found, Gate, Looks, ON_HOLD, Severity, no_line, no_next};
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::gates::GateName;
use crate::pot_life::PotState;
use crate::quantity::show_duration;
use crate::sheets::ChargeKind;
use jiff::Timestamp;

pub(super) const GATE: Gate = Gate {
    station: 5,
    acts: &[Act::Fill, Act::Spray],
    judge: Looks::AtCharge(|j, charge| vec![birth(j.case, charge, j.now), life(j.case, charge, j.now)]),
    combined_past: ON_HOLD,
    next: no_next,
    line: no_line,
};

/// What this pot waits for while it holds no hardener; `None`: it ages, or never does.
pub(super) fn unborn(case: &Case<'_>, charge: &Charge, gate: GateName) -> Option<Answer> {
    let hardened = case.aim().is_none_or(|b| b.sheet.has_hardener);
    if !hardened || charge.kind == ChargeKind::AtGun {
        return Some(Answer::NotNeeded);
    }
    let empty = charge.combined().is_none();
    empty.then(|| Answer::NotReached(gate, format!("Pot {} holds no hardener yet.", charge.no)))
}

/// Hardener met base by an entry that was struck, earlier than anything that stands now says.
fn birth(case: &Case<'_>, charge: &Charge, now: Timestamp) -> Answer {
    let Some(born) = charge.birth_in_doubt() else { return Answer::Go };
    let ago = show_duration(now.duration_since(born).as_secs_f64().max(0.0));
    let text = format!(
        "Pot {}: an entry that was struck says hardener met base {ago} ago, and its age counts from then. A lead who knows that it never happened says so; or releases the pot as old as it says.",
        charge.no
    );
    let found = Found::hold(GateName::Life, "birth-in-doubt", text);
    Found { charge: Some(charge.id), item: Some("birth".into()), ..found }.answer(case, None)
}

fn life(case: &Case<'_>, charge: &Charge, now: Timestamp) -> Answer {
    if let Some(answer) = unborn(case, charge, GateName::Life) {
        return answer;
    }
    let found = |trouble, text: String| Found { charge: Some(charge.id), ..Found::hold(GateName::Life, trouble, text) };
    let Some(clock) = case.clock(charge, now) else {
        let text =
            format!("Pot {}: the sheet states no pot life, so its age cannot be reckoned. Ask for the data sheet.", charge.no);
        return found("not-known", text).answer(case, None);
    };
    if clock.state == PotState::Spent {
        let text = format!("Pot {} is spent. Discard it; thinner does not bring it back.", charge.no);
        return Found { severity: Severity::Stop, badness: clock.age, ..found("spent", text) }.answer(case, None);
    }
    Answer::Go
}
