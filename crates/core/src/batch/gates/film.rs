//! Film: what proves it is the sheet's, and every zone is asked for itself.

use super::{Act, Answer, Found, Gate, Judging, Looks, ON_HOLD, UNREAD, no_line, no_next, over, trouble_of};
use crate::batch::case::Case;
use crate::batch::gates::GateName;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::FilmProof;
use crate::verdict::{Measured, Tolerance, Verdict};
use crate::worded::capital;
use jiff::Timestamp;

/// The item of film proved by use: one figure for the whole part.
pub const USE_ITEM: &str = "by-use";
/// The item of film proved by the eye.
pub const LOOK_ITEM: &str = "by-look";

pub(super) const GATE: Gate = Gate {
    station: 5,
    // What is too heavy already is not made heavier.
    acts: &[Act::Spray, Act::Sign],
    judge: Looks::AtBatch(judge),
    combined_past: ON_HOLD,
    next: no_next,
    line: no_line,
};

/// One answer a zone, or one for the part where the proof is of the whole. While spraying goes on only what is already too
/// much is held; what is missing is asked once it is over.
pub(super) fn judge(j: &Judging<'_>) -> Vec<Answer> {
    by(j, j.case.film_proof())
}

/// As one proof of it judges it.
pub(super) fn by(j: &Judging<'_>, proof: FilmProof) -> Vec<Answer> {
    let (case, at, prefs) = (j.case, j.at, j.prefs);
    let Some(aim) = case.aim() else { return vec![Answer::NotReached(GateName::Film, "The batch is not begun.".into())] };
    let band = Tolerance::between(aim.sheet.wet_min_um, aim.sheet.wet_max_um);
    let gate = Looked { case, at, prefs, band, done: at.is_none() && over(case) };
    match proof {
        FilmProof::NotAsked => vec![Answer::NotNeeded],
        FilmProof::Look => vec![gate.look()],
        FilmProof::Use => gate.by_use(),
        FilmProof::Comb => gate.zones(),
    }
}

struct Looked<'a> {
    case: &'a Case<'a>,
    at: Option<Timestamp>,
    prefs: Prefs,
    band: Tolerance,
    /// Spraying is over: what is not proved holds.
    done: bool,
}

impl Looked<'_> {
    fn held(&self, item: &str, trouble: &'static str, text: String, badness: f64) -> Answer {
        let reached = badness != UNREAD;
        let found = Found::hold(GateName::Film, trouble, text);
        Found { item: Some(item.into()), badness, reached, ..found }.answer(self.case, self.at)
    }

    fn film(&self, um: Measured) -> String {
        let say = |um| show(um, QuantityKind::Film, self.prefs).text;
        format!("{} to {}", say(um.lo), say(um.hi))
    }

    fn badness(&self, um: Measured) -> f64 {
        let (lo, hi) = (self.band.lo.unwrap_or(0.0), self.band.hi.unwrap_or(f64::MAX));
        ((um.hi - hi).max(lo - um.lo) / (hi - lo).max(1e-9)).clamp(0.0, UNREAD / 2.0)
    }

    fn against_band(&self, item: &str, place: &str, um: Measured) -> Answer {
        let what = match self.band.judge(um) {
            Verdict::In => return Answer::Go,
            Verdict::Low if !self.done => return Answer::NotReached(GateName::Film, format!("{place} is not at its film yet.")),
            Verdict::CannotTell if !self.done => {
                return Answer::NotReached(GateName::Film, format!("{place} is not proved yet."));
            }
            Verdict::Low => "is under the sheet",
            Verdict::High => "is over the sheet",
            Verdict::CannotTell => "cannot be told from its limit",
        };
        let text = format!("{place}: wet film {} {what}.", self.film(um));
        self.held(item, trouble_of(self.band.judge(um)), text, self.badness(um))
    }

    fn zones(&self) -> Vec<Answer> {
        let films = self.case.film_by_zone(self.at);
        films
            .iter()
            .map(|zone| {
                let (item, place) = (zone.item(), zone.name.as_str());
                let worst = zone.last.iter().map(|r| r.total_um).max_by(|a, b| self.badness(*a).total_cmp(&self.badness(*b)));
                // Whatever is not known of the rest, this much is on: too much stays too much.
                if self.band.judge(Measured::pm(zone.at_least_um(), 0.0)) == Verdict::High {
                    let on = worst.unwrap_or(Measured::pm(zone.at_least_um(), 0.0));
                    let text = format!("{place}: wet film {} is over the sheet. Let it level; do not add.", self.film(on));
                    return self.held(&item, "over", text, self.badness(on));
                }
                if !self.done {
                    return match worst {
                        Some(um) if !zone.open_ended => self.against_band(&item, place, um),
                        _ => Answer::NotReached(GateName::Film, format!("{place} is not read yet.")),
                    };
                }
                let Some(worst) = worst.filter(|_| !zone.open_ended) else {
                    let why = if zone.passes == 0 {
                        "no pass and no reading reached it"
                    } else if zone.read == 0 {
                        "no comb was set in it"
                    } else {
                        "a pass was made that nobody measured, so its total is open"
                    };
                    let text = format!("{place}: film not proved, {why}. Set the comb in it.");
                    return self.held(&item, "not-proved", text, UNREAD);
                };
                match self.against_band(&item, place, worst) {
                    Answer::Go if zone.last.len() < zone.asked => {
                        let text = format!(
                            "{place}: film not proved, {} of {} readings of its last pass. Set the comb at other places in it.",
                            zone.last.len(),
                            zone.asked
                        );
                        self.held(&item, "too-few", text, (zone.asked - zone.last.len()) as f64)
                    }
                    answer => answer,
                }
            })
            .collect()
    }

    /// One answer for the paint on the zones that were sprayed, and one for each zone that no pass reached.
    fn by_use(&self) -> Vec<Answer> {
        if !self.done {
            let later = "Film by use is reckoned once every pot is closed.";
            return vec![Answer::NotReached(GateName::Film, later.into())];
        }
        let used = match self.case.film_by_use_um(self.prefs) {
            Some(um) => self.against_band(USE_ITEM, "By use", um),
            None => {
                let text = "Film not proved: by use it is reckoned of what was weighed and where it went, and one of them is not \
                            known. Weigh the pots and measure the zones, or use a comb.";
                self.held(USE_ITEM, "not-proved", text.into(), UNREAD)
            }
        };
        let films = self.case.film_by_zone(self.at);
        let put_on = self.case.put_on();
        let bare = films.iter().filter(|z| z.passes == 0).map(|zone| {
            let text = format!(
                "{}: film not proved, no pass reached it. {} it, or release it with a reason.",
                zone.name,
                capital(put_on.verb)
            );
            self.held(&zone.item(), "not-proved", text, UNREAD)
        });
        std::iter::once(used).chain(bare).collect()
    }

    fn look(&self) -> Answer {
        let looked = self.case.film_looks.iter().rev().find(|l| self.at.is_none_or(|at| l.at <= at));
        // What was looked at before a later pass was another film.
        let last_pass = self.case.passes.iter().filter(|p| self.at.is_none_or(|at| p.at <= at)).map(|p| p.at).max();
        match looked {
            Some(l) if !l.it.good => {
                let why = l.it.text.as_deref().map_or(String::new(), |t| format!(" {t}."));
                self.held(LOOK_ITEM, "not-right", format!("Film by look is not right.{why} Mend it, then look again."), 1.0)
            }
            Some(l) if last_pass.is_none_or(|p| l.at >= p) => Answer::Go,
            _ if !self.done => Answer::NotReached(GateName::Film, "The film is not looked at yet.".into()),
            _ => self.held(
                LOOK_ITEM,
                "not-proved",
                format!("Film not proved: nobody looked at it. Look, and say so at {}.", self.case.put_on().station),
                UNREAD,
            ),
        }
    }
}
