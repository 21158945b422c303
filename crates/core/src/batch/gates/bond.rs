//! The bond test, where the sheet asks for one: a piece of the real substrate, pressed and parted, before it goes on the part.

use super::proof::another_lot;
use super::{Act, Answer, Found, Gate, Judging, Looks, ON_HOLD, UNREAD, no_line, no_next};
use crate::batch::charge::Charge;
use crate::batch::gates::GateName;
use crate::verdict::Verdict;
use crate::worded::Worded;
use jiff::Timestamp;

pub(super) const GATE: Gate = Gate {
    station: 4,
    acts: &[Act::Spray],
    judge: Looks::AtCharge(|j, charge| vec![judge(j, charge)]),
    combined_past: ON_HOLD,
    next: no_next,
    line: no_line,
};

/// The newest test of the charge, with the lots that are in use.
fn judge(j: &Judging<'_>, charge: &Charge) -> Answer {
    let Some(aim) = j.case.aim().filter(|aim| aim.sheet.bond_test) else { return Answer::NotNeeded };
    let by_then = |when: Timestamp| j.at.is_none_or(|at| when <= at);
    let held = |trouble: &'static str, text: String, badness: f64| {
        let reached = badness != UNREAD;
        let found = Found { charge: Some(charge.id), badness, reached, ..Found::hold(GateName::Bond, trouble, text) };
        found.answer(j.case, j.at)
    };
    let Some(test) = j.case.bonds.iter().rev().find(|b| b.it.charge == charge.id && by_then(b.at)) else {
        let text = format!("{} asks for a bond test. Press a small piece of the real substrate, and part it.", aim.sheet.name);
        return held("not-tested", text, UNREAD);
    };
    if let Some(code) = another_lot(j.case, test.at, j.at.unwrap_or(j.now)) {
        return held("stale-lot", format!("Lot {code} is another than the bond was tested with. Press a new piece."), 1.0);
    }
    match test.it.result.verdict() {
        Verdict::In => Answer::Go,
        Verdict::Low | Verdict::High | Verdict::CannotTell => {
            held("out", format!("Bond test: {}. {}", test.it.result.word(), test.it.result.advice()), 1.0)
        }
    }
}
