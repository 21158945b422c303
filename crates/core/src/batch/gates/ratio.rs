//! The ratio of a charge: as weighed for a pot, as caught at the gun; proved, and in.

use super::proof::proof_stale;
use super::{Act, Answer, Found, Gate, Hold, Judging, Looks, ON_HOLD, Severity, UNREAD, no_line, no_next, trouble_of};
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::{entries::RatioCheck, gates::GateName, proofs};
use crate::instruments::Overdue;
use crate::mixing::{self, Component, Said, Weighed};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::ratio_check;
use crate::sheets::{ChargeKind, Hardener, Sheet};
use crate::verdict::{Measured, Verdict};
use jiff::Timestamp;

/// How far an interval reaches past a band, relative to the band.
fn outside(m: Measured, lo: f64, hi: f64) -> f64 {
    ((m.hi - hi).max(lo - m.lo) / (hi - lo).max(1e-9)).max(0.0)
}

pub(super) const GATE: Gate = Gate {
    station: 4,
    acts: &[Act::Spray],
    judge: Looks::AtCharge(|j, charge| vec![judge(j, charge)]),
    combined_past: ON_HOLD,
    next: no_next,
    line: no_line,
};

/// With `at`, only what was poured, caught and released by then counts.
pub(super) fn judge(j: &Judging<'_>, charge: &Charge) -> Answer {
    let (case, at, now, prefs) = (j.case, j.at, j.now, j.prefs);
    let Some(aim) = case.aim() else { return Answer::NotReached(GateName::Ratio, "The batch is not begun.".into()) };
    if !aim.sheet.has_hardener {
        return Answer::NotNeeded;
    }
    let gate = Looked { case, charge, at, now, prefs, sheet: &aim.sheet };
    let Some(hardener) = aim.sheet.hardener() else {
        let text = "The sheet does not say in what ratio hardener goes to base: nothing can be proved. Mend the sheet.";
        return gate.held("not-stated", text, UNREAD);
    };
    match charge.kind {
        ChargeKind::Pot => gate.pot(&hardener),
        ChargeKind::AtGun => gate.at_gun(&hardener),
    }
}

/// The trouble of a pot that was mixed by a cup which cannot tell, where its sheet allows that.
pub const BY_CUP: &str = "mixed-by-cup";

/// Who released it.
const BY_THE_SHEET: &str = "the sheet: it may be mixed by cup";

/// The reading itself is in; only its interval is not.
fn is_in_as_read(said: Said) -> bool {
    let as_read = Measured::pm(said.measured.value, 0.0);
    said.tolerance.judge(said.measured) == Verdict::CannotTell && said.tolerance.judge(as_read) == Verdict::In
}

struct Looked<'a> {
    case: &'a Case<'a>,
    charge: &'a Charge,
    at: Option<Timestamp>,
    now: Timestamp,
    prefs: Prefs,
    sheet: &'a Sheet,
}

impl Looked<'_> {
    fn by_then(&self, when: Timestamp) -> bool {
        self.at.is_none_or(|at| when <= at)
    }

    fn found(&self, trouble: &'static str, text: impl Into<String>, badness: f64) -> Found {
        let reached = badness != UNREAD;
        Found { charge: Some(self.charge.id), badness, reached, ..Found::hold(GateName::Ratio, trouble, text) }
    }

    fn held(&self, trouble: &'static str, text: impl Into<String>, badness: f64) -> Answer {
        self.found(trouble, text, badness).answer(self.case, self.at)
    }

    fn pot(&self, hardener: &Hardener) -> Answer {
        let no = self.charge.no;
        let weighed: Vec<_> = self.charge.pours.iter().filter(|p| self.by_then(p.at)).map(|p| p.it.weighed).collect();
        let has = |c: Component| weighed.iter().any(|w| w.component == c);
        let combined = self.charge.combined().is_some_and(|at| self.by_then(at));
        match (has(Component::Base), has(Component::Hardener)) {
            (false, false) if !combined => return Answer::NotReached(GateName::Ratio, format!("Pot {no} is empty.")),
            (true, false) if !combined => return Answer::NotReached(GateName::Ratio, format!("Pot {no} holds no hardener yet.")),
            (_, false) => {
                let text = format!(
                    "Pot {no}: hardener went in and was never measured, so the ratio is not proved. Weigh it, read it on the cup, or say that a whole kit was emptied."
                );
                return self.held("not-measured", text, UNREAD);
            }
            (false, true) => {
                let text = format!("Pot {no} holds hardener and no measured base: the ratio is not proved. Measure the base.");
                return self.held("hardener-alone", text, UNREAD);
            }
            (true, true) => {}
        }
        let Some(said) = mixing::b_per_a(&weighed).and_then(|b_per_a| mixing::said(self.sheet, b_per_a)) else {
            let text = format!("Pot {no}: this scale is too coarse to say anything of so little base. Take a finer scale.");
            return self.held("cannot-bound", text, UNREAD);
        };
        if self.charge.pours.iter().any(|p| p.it.overdue == Some(Overdue::Holds) && self.by_then(p.at)) {
            return self.scale_overdue(&format!("Pot {no}"));
        }
        let by_cup = self.charge.pours.iter().any(|p| p.it.by_mark);
        let instrument = if by_cup { "this cup" } else { "this scale" };
        let figure = show(said.measured.value, said.kind, self.prefs).text;
        if by_cup && self.sheet.mixed_by_cup && is_in_as_read(said) {
            return self.released_by_the_sheet(&figure);
        }
        let way = if by_cup { self.beyond_the_cup(&weighed) } else { "Tare before hardener, or take a finer scale.".into() };
        self.judged(hardener, said, |verdict| match verdict {
            Verdict::CannotTell | Verdict::In => format!("Pot {no} at {figure} as weighed: {instrument} cannot tell. {way}"),
            Verdict::Low | Verdict::High => format!("Pot {no} at {figure} as weighed is out. Add what is short before you stir."),
        })
    }

    /// What would prove it, where a cup cannot.
    fn beyond_the_cup(&self, weighed: &[Weighed]) -> String {
        let least = mixing::least_read_ml(self.sheet, weighed).map_or(String::new(), |ml| {
            format!("It can from {} of base and hardener on. ", show(ml, QuantityKind::Volume, self.prefs).text)
        });
        let weigh = if self.sheet.by_volume_alone() { "" } else { "Weigh it, mix" };
        let mix = if weigh.is_empty() { "Mix" } else { weigh };
        format!("{least}{mix} more at once, or a lead lets the sheet be mixed by cup.")
    }

    /// The sheet lets it be mixed by a cup: a standing release, said on every card.
    fn released_by_the_sheet(&self, figure: &str) -> Answer {
        let text = format!("Pot {} at {figure} as read: this cup cannot tell.", self.charge.no);
        let found = self.found(BY_CUP, text, 0.0);
        match found.answer(self.case, self.at) {
            Answer::Held(hold) => Answer::Held(Hold { released: Some(BY_THE_SHEET.into()), ..hold }),
            other => other,
        }
    }

    fn at_gun(&self, hardener: &Hardener) -> Answer {
        let caught = self.case.catches.iter().rev().find(|c| c.it.charge == self.charge.id && self.by_then(c.at));
        let Some(catch) = caught else {
            return self.held("not-proved", "The ratio is not proved yet. Catch both streams.", UNREAD);
        };
        if catch.it.overdue == Some(Overdue::Holds) {
            return self.scale_overdue("The ratio");
        }
        let proof = said_of(self.sheet, &catch.it);
        let Some(said) = proof else {
            let text = "This scale is too coarse to say anything of so little. Catch longer, or take a finer scale.";
            return self.held("cannot-bound", text, UNREAD);
        };
        let figure = show(said.measured.value, said.kind, self.prefs).text;
        let judged = self.judged(hardener, said, |verdict| match verdict {
            Verdict::CannotTell | Verdict::In => {
                format!("The ratio at {figure} as caught: this scale cannot tell. Catch longer, or take a finer scale.")
            }
            Verdict::Low | Verdict::High => {
                format!("The ratio at {figure} as caught is out. Move one pressure at Prove, then catch again.")
            }
        });
        match (judged, proof_stale(self.case, catch, self.at, self.now)) {
            (Answer::Go, Some((trouble, why))) => {
                let text = format!("The last check of the ratio does not stand any more: {why}. Catch both streams again.");
                // One release covers one proof that went stale, not the next.
                let proofs = self.case.catches.iter().filter(|c| self.by_then(c.at)).count() as f64;
                self.held(trouble, text, proofs)
            }
            (Answer::Go, None) => self.not_overdue(),
            (answer, _) => answer,
        }
    }

    /// In, and the next check is not overdue: by the trend of the rig's ledger and by the shop's own interval, as they stood when
    /// it was caught.
    fn not_overdue(&self) -> Answer {
        let then = self.at.unwrap_or(self.now);
        let due = proofs::next_due(self.case, self.at, self.now);
        let Some(why) = due.and_then(|(due, kg)| due.overdue(then, kg, self.prefs)) else { return Answer::Go };
        let caught = self.case.catches.iter().filter(|c| self.by_then(c.at)).count() as f64;
        self.held("check-due", format!("A check of the ratio is due: {why}. Catch both streams again."), caught)
    }

    /// Weighed on a scale that nobody checked in time, in a shop where that holds.
    fn scale_overdue(&self, what: &str) -> Answer {
        let text =
            format!("{what} was weighed on a scale whose check is overdue. Check it against a known mass, then weigh again.");
        self.held("scale-overdue", text, 1.0)
    }

    fn judged(&self, hardener: &Hardener, said: Said, words: impl Fn(Verdict) -> String) -> Answer {
        let verdict = said.tolerance.judge(said.measured);
        if verdict == Verdict::In {
            return Answer::Go;
        }
        let (lo, hi) = (said.tolerance.lo.unwrap_or(0.0), said.tolerance.hi.unwrap_or(f64::MAX));
        let badness = outside(said.measured, lo, hi).min(UNREAD / 2.0);
        if hardener.is_stop(verdict) {
            let figure = show(said.measured.value, said.kind, self.prefs).text;
            let text =
                format!("Catalyst at {figure} is outside its band. It is no gel-time control: discard, or correct the pour.");
            let found = self.found("catalyst-outside-band", text, badness);
            return Found { severity: Severity::Stop, ..found }.answer(self.case, self.at);
        }
        self.held(trouble_of(verdict), words(verdict), badness)
    }
}

/// A pair of catches in the sheet's words; `None` where the scale cannot bound it.
pub fn said_of(sheet: &Sheet, catch: &RatioCheck) -> Option<Said> {
    mixing::said(sheet, ratio_check::b_per_a_of(catch.a_g, catch.b_g, catch.resolution_g)?)
}
