//! Gates: what holds or stops the work now, why, and whether a lead has released it.
//!
//! A gate gives an [`Answer`]. None of its values means "nothing is known, so go on": what cannot be reckoned holds.

mod clocks;
mod conditions;
mod film;
mod guards;
mod lists;
mod lots;
mod proof;
mod ratio;
mod recoat;
mod thinner;

pub use crate::verdict::Severity;
pub use film::{LOOK_ITEM, USE_ITEM};
pub use lots::words_of as lot_words_of;
pub use proof::{PROOF_GOOD_FOR_S, proof_stale};
pub use ratio::said_of as catch_said;
pub use recoat::recoat_clock;

use super::case::Case;
use super::charge::Charge;
use super::entries::Release;
use super::record::Stamped;
use crate::lists::Before;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::verdict::Verdict;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The gates of a batch.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum GateName {
    /// Dew margin, humidity, temperatures.
    Conditions,
    /// Guards by hazard.
    Guards,
    /// Ratio as weighed, or as caught.
    Ratio,
    /// Induction of a pot.
    Induction,
    /// Life of a pot.
    Life,
    /// Film at the end.
    Film,
    /// Recoat window of the coat beneath.
    Recoat,
    /// A lot taken: date, quarantine, colour, certificate, one for the part.
    Lots,
    /// An item of the Ready lists.
    Lists,
    /// Thinner in a pot.
    Thinner,
}

/// A closed gate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Hold {
    /// Which gate.
    pub gate: GateName,
    /// Which charge, for a gate of one.
    pub charge: Option<Uuid>,
    /// Which of several things the gate looks at: a figure, a zone, a lot, an item of the lists.
    pub item: Option<String>,
    /// What is wrong with it, in one word of ours: `over`, `cannot-tell`, `not-read` …. A release is of this and no other.
    #[serde(default)]
    pub trouble: String,
    /// Hold or stop.
    pub severity: Severity,
    /// What, why, and what to do.
    pub text: String,
    /// How far past the limit, for comparing with what was released.
    pub badness: f64,
    /// Something was read or done and is held. False: it only waits to be done, and its station says so.
    pub reached: bool,
    /// Who released it and why.
    pub released: Option<String>,
}

/// What a gate answers.
#[derive(Debug, Clone, PartialEq)]
#[must_use]
pub enum Answer {
    /// The sheet or the method does not ask it.
    NotNeeded,
    /// What it judges is not there yet; the words say what it waits for.
    NotReached(GateName, String),
    /// Judged, and right.
    Go,
    /// Judged and not right, or not provable: a lead may release it.
    Held(Hold),
    /// Judged and wrong beyond any release.
    Stopped(Hold),
}

impl Answer {
    /// The closed gate, where it is closed.
    pub fn closed(self) -> Option<Hold> {
        match self {
            Answer::Held(hold) | Answer::Stopped(hold) => Some(hold),
            Answer::NotNeeded | Answer::NotReached(..) | Answer::Go => None,
        }
    }
}

/// What stands between an act and the work: every closed gate, and what is not there yet.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Standing {
    /// Closed gates, stops first.
    pub holds: Vec<Hold>,
    /// What gates wait for that are not reached yet.
    pub waits: Vec<(GateName, String)>,
}

impl Standing {
    /// Sorted from the answers of gates.
    pub fn of(answers: impl IntoIterator<Item = Answer>) -> Standing {
        let mut standing = Standing::default();
        for answer in answers {
            match answer {
                Answer::Held(hold) | Answer::Stopped(hold) => standing.holds.push(hold),
                Answer::NotReached(gate, what) => standing.waits.push((gate, what)),
                Answer::NotNeeded | Answer::Go => {}
            }
        }
        standing.holds.sort_by_key(|h| h.severity == Severity::Hold);
        standing
    }
}

impl Standing {
    /// Gates that are closed and not released: the first one refuses, stops before holds.
    ///
    /// **Errors:** a stop or a hold with the gate's own text.
    pub fn refuse(self) -> Result<(), Refusal> {
        match self.holds.into_iter().find(|h| h.released.is_none()) {
            None => Ok(()),
            Some(h) if h.severity == Severity::Stop => Err(Refusal::stop("stop", h.text)),
            Some(h) => Err(Refusal::hold("hold", h.text)),
        }
    }
}

/// Nothing was read at all: worse than any reading.
const UNREAD: f64 = 1e6;

/// A trouble a gate found, before it is known whether it was released.
struct Found {
    gate: GateName,
    charge: Option<Uuid>,
    item: Option<String>,
    trouble: &'static str,
    severity: Severity,
    text: String,
    badness: f64,
    reached: bool,
    /// What it judges began then: a release given earlier was of something else.
    since: Option<Timestamp>,
}

impl Found {
    fn hold(gate: GateName, trouble: &'static str, text: impl Into<String>) -> Found {
        Found {
            gate,
            charge: None,
            item: None,
            trouble,
            severity: Severity::Hold,
            text: text.into(),
            badness: 0.0,
            reached: true,
            since: None,
        }
    }

    /// The answer, released or not; judged as of `at` (`None`: now), a release given later does not reach back.
    fn answer(self, case: &Case<'_>, at: Option<Timestamp>) -> Answer {
        let released = case.releases.iter().rev().find(|r| self.is_covered_by(r, at));
        let released = released.filter(|_| self.severity == Severity::Hold).map(|r| format!("{}: {}", r.by, r.it.reason));
        let hold = Hold {
            gate: self.gate,
            charge: self.charge,
            item: self.item,
            trouble: self.trouble.into(),
            severity: self.severity,
            text: self.text,
            badness: self.badness,
            reached: self.reached,
            released,
        };
        match self.severity {
            Severity::Hold => Answer::Held(hold),
            Severity::Stop => Answer::Stopped(hold),
        }
    }

    /// A release covers the gate, item and trouble it named, as long as it is no worse than what was released.
    fn is_covered_by(&self, release: &Stamped<Release>, at: Option<Timestamp>) -> bool {
        let r = &release.it;
        let named = match &r.trouble {
            Some(trouble) => trouble == self.trouble && r.item == self.item,
            // Written before releases named their trouble: it stands for what was done under it, never for what stands now.
            None => at.is_some() && (r.item == self.item || (r.item.is_none() && self.trouble != conditions::OLD)),
        };
        named
            && r.gate == self.gate
            && r.charge == self.charge
            && r.badness >= self.badness - 1e-9
            && at.is_none_or(|at| release.at <= at)
            && self.since.is_none_or(|since| release.at >= since)
    }
}

/// The word of a verdict that holds.
fn trouble_of(verdict: Verdict) -> &'static str {
    match verdict {
        Verdict::Low => "under",
        Verdict::High => "over",
        Verdict::CannotTell | Verdict::In => "cannot-tell",
    }
}

/// Whether spraying is over: something was sprayed and every charge is closed.
pub fn over(case: &Case<'_>) -> bool {
    !case.passes.is_empty() && case.charges.iter().all(|c| c.closed.is_some())
}

/// What stands before hardener goes to base, or before the first pass; with `at`, as it was known then.
pub fn before(case: &Case<'_>, act: Before, at: Option<Timestamp>, now: Timestamp, prefs: Prefs) -> Standing {
    let mut answers = conditions::judge(case, at, now, prefs);
    answers.extend(guards::judge(case, at));
    answers.extend(lots::judge(case, at, now));
    // Who sprays has passed what combining waits for; what combining waits for is asked again, for at the gun there is none.
    let narrowed = if act == Before::Combine { Some(Before::Combine) } else { None };
    answers.extend(lists::judge(case, narrowed, at, now, prefs));
    Standing::of(answers)
}

/// What stands before this charge goes on the part.
pub fn before_spraying(case: &Case<'_>, charge: &Charge, now: Timestamp, prefs: Prefs) -> Standing {
    let mut standing = before(case, Before::Spray, None, now, prefs);
    let mut own =
        vec![recoat::judge(case, now), ratio::judge(case, charge, None, now, prefs), thinner::judge(case, charge, prefs)];
    own.extend(clocks::judge(case, charge, now));
    // What is too heavy already is not made heavier.
    own.extend(film::judge(case, None, prefs));
    let own = Standing::of(own);
    standing.holds.extend(own.holds);
    standing.waits.extend(own.waits);
    standing.holds.sort_by_key(|h| h.severity == Severity::Hold);
    standing
}

/// What stands before the signature.
pub fn before_signing(case: &Case<'_>, prefs: Prefs) -> Standing {
    Standing::of(film::judge(case, None, prefs))
}

/// The ratio of a charge as of an instant (`None`: now).
pub fn ratio(case: &Case<'_>, charge: &Charge, at: Option<Timestamp>, now: Timestamp, prefs: Prefs) -> Answer {
    ratio::judge(case, charge, at, now, prefs)
}

/// The clocks of a charge: its birth, its induction and its life.
pub fn life(case: &Case<'_>, charge: &Charge, now: Timestamp) -> Standing {
    Standing::of(clocks::judge(case, charge, now))
}

/// The conditions as read by an instant, whatever their age.
pub fn conditions_at(case: &Case<'_>, at: Timestamp, prefs: Prefs) -> Vec<Answer> {
    conditions::as_read(case, Some(at), prefs)
}

/// The film as read by an instant.
pub fn film_at(case: &Case<'_>, at: Timestamp, prefs: Prefs) -> Vec<Answer> {
    film::judge(case, Some(at), prefs)
}

/// Every closed gate now, worst first. Of a signed batch only what was released: what was signed stays as it was signed.
pub fn all(case: &Case<'_>, now: Timestamp, prefs: Prefs) -> Vec<Hold> {
    let mut standing = before(case, Before::Spray, None, now, prefs).holds;
    let mut rest = film::judge(case, None, prefs);
    rest.push(recoat::judge(case, now));
    for charge in case.charges.iter().filter(|c| c.closed.is_none()) {
        rest.push(ratio::judge(case, charge, None, now, prefs));
        rest.push(thinner::judge(case, charge, prefs));
        rest.extend(clocks::judge(case, charge, now));
    }
    standing.extend(Standing::of(rest).holds);
    if case.signature.is_some() {
        standing.retain(|h| h.released.is_some());
    }
    standing.sort_by_key(|h| (h.severity == Severity::Hold, h.released.is_some()));
    standing
}
