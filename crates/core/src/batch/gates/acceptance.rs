//! Acceptance: what the sheet names and what was planned by gauge stands before the second signature.

use super::{Act, Answer, Found, Gate, GateName, Judging, Looks, ON_HOLD, UNREAD, no_line, no_next, trouble_of};
use crate::batch::accepting::{Method, Unproved};
use crate::batch::entries::Phase;
use crate::verdict::Verdict;
use crate::worded::{Worded, capital};

pub(super) const GATE: Gate =
    Gate { station: 6, acts: &[Act::Accept], judge: Looks::AtBatch(judge), combined_past: ON_HOLD, next: no_next, line: no_line };

/// One answer for each thing that accepts the batch.
fn judge(j: &Judging<'_>) -> Vec<Answer> {
    let case = j.case;
    if !case.is_accepted_after() {
        return vec![Answer::NotNeeded];
    }
    match case.phase() {
        Phase::Open | Phase::Sprayed => {
            return vec![Answer::NotReached(GateName::Acceptance, "It is accepted once the work is signed.".into())];
        }
        Phase::Accepted => return vec![Answer::NotNeeded],
        Phase::Signed => {}
    }
    case.methods(j.prefs).into_iter().map(|method| one(j, method)).collect()
}

fn one(j: &Judging<'_>, method: Method) -> Answer {
    let name = capital(method.by.word());
    let (trouble, text, badness) = match method.verdict {
        Some(Verdict::In) => return Answer::Go,
        // What a lead released when the work was signed stands.
        _ if method.released => return Answer::Go,
        None if !method.begun => {
            ("not-done", format!("{name}: not done yet. The sheet asks it before the coat is accepted."), UNREAD)
        }
        None => ("under-way", under_way(j, method, &name), UNREAD / 2.0),
        Some(verdict) => {
            let why = j.case.by_gauge().filter(|_| method.by.is_by_gauge()).map(|g| unproved_words(&g.unproved));
            let why = why.filter(|w| !w.is_empty() && verdict == Verdict::CannotTell);
            let said = match verdict {
                Verdict::Low => "under its limit",
                Verdict::High => "over its limit",
                Verdict::CannotTell | Verdict::In => "cannot be told",
            };
            (trouble_of(verdict), why.unwrap_or_else(|| format!("{name}: {said}.")), 1.0)
        }
    };
    let found = Found::hold(GateName::Acceptance, trouble, text);
    let reached = method.verdict.is_some();
    Found { item: Some(<&str>::from(method.by).into()), badness, reached, ..found }.answer(j.case, j.at)
}

/// How far it has come.
fn under_way(j: &Judging<'_>, method: Method, name: &str) -> String {
    let gauge = j.case.by_gauge().filter(|_| method.by.is_by_gauge());
    match gauge {
        Some(g) if g.figures.is_some() => format!("{name}: {}", unproved_words(&g.unproved)),
        Some(g) => format!("{name}: not finished yet, {}.", g.read_of_asked()),
        None => format!("{name}: not finished yet."),
    }
}

/// Why readings are not proved, and what settles it.
pub fn unproved_words(unproved: &[Unproved]) -> String {
    let one = |u: &Unproved| match u {
        Unproved::GaugeNotBefore => "The gauge was on no foil before it read: read again, after a foil.",
        Unproved::GaugeInDoubt => "The gauge read its foil wrong: what it read since the last right one is in doubt. Read again.",
        Unproved::GaugeAwaits => "Put the gauge on its foil once more: what it read counts once it reads that right.",
        Unproved::BareNotRead => "Blasted steel makes a gauge read too much: read it bare, or say its roughness.",
        Unproved::SurfaceNotSaid => {
            "Nobody said what was coated, and a gauge reads roughness and old paint along: say how rough it is or read it bare, and say from what to what the coats beneath are, 0 for none."
        }
        Unproved::BeneathNotSaid => "The gauge reads the coats beneath along: say from what to what they are.",
    };
    unproved.iter().map(one).collect::<Vec<_>>().join(" ")
}
