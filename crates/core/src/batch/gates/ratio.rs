//! The ratio of a charge: as weighed for a pot, as caught at the gun; proved, in, and not gone stale.

use super::{Answer, Found, Severity, UNREAD, trouble_of};
use crate::batch::charge::Charge;
use crate::batch::record::{Record, Stamped};
use crate::batch::{entries::Catch, gates::GateName};
use crate::mixing::{self, Component, Said};
use crate::quantity::{Prefs, show};
use crate::ratio_check;
use crate::sheets::{ChargeKind, Hardener, Sheet};
use crate::verdict::{Measured, Verdict, is_over};
use jiff::{Timestamp, tz::TimeZone};

/// A twin-feed or machine proof holds so long at most; from memory.
pub const PROOF_GOOD_FOR_S: f64 = 12.0 * 3600.0;

/// A pressure further off than this from the one it was caught at makes a proof stale, as a part of it; from memory.
const PRESSURE_OFF: f64 = 0.10;

/// How far an interval reaches past a band, relative to the band.
fn outside(m: Measured, lo: f64, hi: f64) -> f64 {
    ((m.hi - hi).max(lo - m.lo) / (hi - lo).max(1e-9)).max(0.0)
}

/// With `at`, only what was poured, caught and released by then counts.
pub(super) fn judge(record: &Record, charge: &Charge, at: Option<Timestamp>, now: Timestamp, prefs: Prefs) -> Answer {
    let Some(aim) = record.aim() else { return Answer::NotReached(GateName::Ratio, "The batch is not begun.".into()) };
    if !aim.sheet.has_hardener {
        return Answer::NotNeeded;
    }
    let gate = Gate { record, charge, at, now, prefs, sheet: &aim.sheet };
    let Some(hardener) = aim.sheet.hardener() else {
        let text = "The sheet does not say in what ratio hardener goes to base: nothing can be proved. Mend the sheet.";
        return gate.held("not-stated", text, UNREAD);
    };
    match charge.kind {
        ChargeKind::Pot => gate.pot(&hardener),
        ChargeKind::AtGun => gate.at_gun(&hardener),
    }
}

struct Gate<'a> {
    record: &'a Record,
    charge: &'a Charge,
    at: Option<Timestamp>,
    now: Timestamp,
    prefs: Prefs,
    sheet: &'a Sheet,
}

impl Gate<'_> {
    fn by_then(&self, when: Timestamp) -> bool {
        self.at.is_none_or(|at| when <= at)
    }

    fn found(&self, trouble: &'static str, text: impl Into<String>, badness: f64) -> Found {
        let reached = badness != UNREAD;
        Found { charge: Some(self.charge.id), badness, reached, ..Found::hold(GateName::Ratio, trouble, text) }
    }

    fn held(&self, trouble: &'static str, text: impl Into<String>, badness: f64) -> Answer {
        self.found(trouble, text, badness).answer(self.record, self.at)
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
        let by_cup = self.charge.pours.iter().any(|p| p.it.by_mark);
        let instrument = if by_cup { "this cup" } else { "this scale" };
        let way = if by_cup { "Weigh it, or mix more at once." } else { "Tare before hardener, or take a finer scale." };
        let figure = show(said.measured.value, said.kind, self.prefs).text;
        self.judged(hardener, said, |verdict| match verdict {
            Verdict::CannotTell | Verdict::In => format!("Pot {no} at {figure} as weighed: {instrument} cannot tell. {way}"),
            Verdict::Low | Verdict::High => format!("Pot {no} at {figure} as weighed is out. Add what is short before you stir."),
        })
    }

    fn at_gun(&self, hardener: &Hardener) -> Answer {
        let caught = self.record.catches.iter().rev().find(|c| c.it.charge == self.charge.id && self.by_then(c.at));
        let Some(catch) = caught else {
            return self.held("not-proved", "The ratio is not proved yet. Catch both streams.", UNREAD);
        };
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
        match (judged, proof_stale(self.record, catch, self.at, self.now)) {
            (Answer::Go, Some((trouble, why))) => {
                let text = format!("The last check of the ratio does not stand any more: {why}. Catch both streams again.");
                // One release covers one proof that went stale, not the next.
                let proofs = self.record.catches.iter().filter(|c| self.by_then(c.at)).count() as f64;
                self.held(trouble, text, proofs)
            }
            (answer, _) => answer,
        }
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
            return Found { severity: Severity::Stop, ..found }.answer(self.record, self.at);
        }
        self.held(trouble_of(verdict), words(verdict), badness)
    }
}

/// A pair of catches in the sheet's words; `None` where the scale cannot bound it.
pub fn said_of(sheet: &Sheet, catch: &Catch) -> Option<Said> {
    mixing::said(sheet, ratio_check::b_per_a_of(catch.a_g, catch.b_g, catch.resolution_g)?)
}

/// Why a proof by two catches does not stand any more, if it does not: the trouble's word and the reason.
///
/// **Rule:** 12 h, another shop day, another lot, a pressure over 10 % off the one it was caught at, another rig, an
/// exchanged tip, hose, pump, filter or packing. **Source:** common practice in the trade; hours and per cent from memory.
/// What nobody wrote cannot be compared and makes it stale: a pressure at the catch once one is set, a zone for its day.
/// With `at`, by what the book knew then.
pub fn proof_stale(
    record: &Record,
    catch: &Stamped<Catch>,
    at: Option<Timestamp>,
    now: Timestamp,
) -> Option<(&'static str, String)> {
    let then = at.unwrap_or(now);
    if then.duration_since(catch.at).as_secs_f64() > PROOF_GOOD_FOR_S {
        return Some(("stale-time", "it is more than 12 h old".into()));
    }
    if let Some(stale) = of_another_day(record, catch.at, then) {
        return Some(stale);
    }
    let in_use = |component: Component, when: Timestamp| {
        record.lots_at(when).into_iter().rev().find(|l| l.component == component).map(|l| (l.lot.id, l.lot.code.clone()))
    };
    for component in [Component::Base, Component::Hardener] {
        let (was, is) = (in_use(component, catch.at), in_use(component, then));
        if let Some((_, code)) = is.filter(|is| was.as_ref().map(|w| w.0) != Some(is.0)) {
            return Some(("stale-lot", format!("lot {code} is another than it was caught with")));
        }
    }
    if let Some(rig) = record.rig_changes.iter().find(|c| c.at > catch.at && c.at <= then) {
        return Some(("stale-rig", format!("the rig is another: {}", rig.it)));
    }
    if let Some(changed) = record.beside.rig_exchanged.iter().find(|c| at.is_none() && c.at > catch.at && c.at <= then) {
        return Some(("stale-exchange", changed.what.clone()));
    }
    let set: Vec<_> = record.set_ups.iter().filter(|s| s.at <= then).collect();
    let before = set.iter().rev().find(|s| s.at <= catch.at).map(|s| s.it.pot_kpa);
    let mut after = set.iter().filter(|s| s.at > catch.at).map(|s| s.it.pot_kpa);
    let is = after.next_back()?;
    // Caught without a pressure said: at the one set before.
    let Some(proved_at) = catch.it.a_kpa.or(before) else {
        return Some(("stale-pressure-unknown", "nobody wrote at what pressure it was caught, and one was set since".into()));
    };
    let off = (is - proved_at).abs();
    (is_over(off, PRESSURE_OFF * proved_at))
        .then(|| ("stale-pressure", "the pressure was moved by more than a tenth since".into()))
}

/// Whether the shop's day is another by now. The zone is the one in the book, else the shop's of today; where neither is
/// known a proof stands until the next quarter of an hour, since every zone has its midnight on one.
fn of_another_day(record: &Record, caught: Timestamp, then: Timestamp) -> Option<(&'static str, String)> {
    let named = record.aim().and_then(|b| b.zone.as_deref()).or(record.beside.zone.as_deref());
    let Some(zone) = named.and_then(|name| TimeZone::get(name).ok()) else {
        let quarter = |at: Timestamp| at.as_second().div_euclid(15 * 60);
        let why = "no zone of the shop is known, so nobody can say whether it is of today";
        return (quarter(caught) != quarter(then)).then(|| ("stale-day-unknown", why.into()));
    };
    let another = caught.to_zoned(zone.clone()).date() != then.to_zoned(zone).date();
    another.then(|| ("stale-day", "it is of another day".into()))
}
