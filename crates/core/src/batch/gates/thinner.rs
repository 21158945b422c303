//! Thinner: none where the sheet allows none, and no more than its most.

use super::{Act, Answer, Found, Gate, Looks, ON_HOLD, no_line, no_next};
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::gates::GateName;
use crate::mixing;
use crate::quantity::{Prefs, QuantityKind, show};

pub(super) const GATE: Gate = Gate {
    station: 2,
    acts: &[Act::Spray],
    judge: Looks::AtCharge(|j, charge| vec![judge(j.case, charge, j.prefs)]),
    combined_past: ON_HOLD,
    next: no_next,
    line: no_line,
};

/// Judged once any is in.
fn judge(case: &Case<'_>, charge: &Charge, prefs: Prefs) -> Answer {
    let Some(aim) = case.aim() else { return Answer::NotReached(GateName::Thinner, "The batch is not begun.".into()) };
    let Some(t) = mixing::thinner_state(&aim.sheet, &charge.weighed()) else { return Answer::NotNeeded };
    if !t.over {
        return Answer::Go;
    }
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    let (trouble, text, badness) = match t.allowed_ml {
        None => (
            "none-allowed",
            format!(
                "Pot {} has {} of thinner in it, and the sheet allows none. Ask the maker, or discard it.",
                charge.no,
                say(t.poured_g, QuantityKind::Mass)
            ),
            t.poured_g,
        ),
        Some(allowed) => (
            "over",
            format!(
                "Pot {} has {} of thinner in it; the sheet allows {}. More base and hardener bring it back.",
                charge.no,
                say(t.poured_ml, QuantityKind::Volume),
                say(allowed, QuantityKind::Volume)
            ),
            t.poured_ml / allowed.max(f64::MIN_POSITIVE),
        ),
    };
    Found { charge: Some(charge.id), badness, ..Found::hold(GateName::Thinner, trouble, text) }.answer(case, None)
}
