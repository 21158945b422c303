//! Gates: what holds or stops the work now, why, and whether a lead has released it.
//!
//! A gate gives an [`Answer`]. None of its values means "nothing is known, so go on": what cannot be reckoned holds. Each gate has a
//! file here that says what it judges, before which acts it stands, which station answers it, and what the waterline and *Hands next*
//! say of it; [`registry`] is the only list of them.

mod acceptance;
mod bond;
mod conditions;
mod coverage;
mod film;
mod guards;
mod induction;
mod life;
mod lists;
mod lots;
mod pieces;
mod proof;
mod ratio;
mod recoat;
mod registry;
mod rig;
mod thinner;

pub use crate::verdict::Severity;
pub use acceptance::unproved_words;
pub use conditions::GOOD_FOR_S as CONDITIONS_GOOD_FOR_S;
pub use film::{LOOK_ITEM, USE_ITEM};
pub use lots::{noted as lots_noted, words_of as lot_words_of};
pub use proof::{PROOF_GOOD_FOR_S, proof_stale};
pub use ratio::BY_CUP;
pub use ratio::said_of as catch_said;
pub use recoat::recoat_clock;

use super::case::Case;
use super::charge::Charge;
use super::entries::Release;
pub use registry::GateName;

use super::record::Stamped;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::sheets::FilmProof;
use crate::verdict::Verdict;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

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

/// An act that gates stand before.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Act {
    /// Hardener goes to base.
    Combine,
    /// Paint of a pot goes to the gun.
    Fill,
    /// A charge goes on the part.
    Spray,
    /// The work is signed.
    Sign,
    /// The work is accepted.
    Accept,
}

/// What a gate is asked.
struct Judging<'a> {
    case: &'a Case<'a>,
    /// Before which act; `None`: whatever the gate looks at.
    act: Option<Act>,
    /// As it was known then; `None`: now.
    at: Option<Timestamp>,
    now: Timestamp,
    prefs: Prefs,
}

/// What a gate looks at: the batch, or each charge by itself.
enum Looks {
    AtBatch(fn(&Judging<'_>) -> Vec<Answer>),
    AtCharge(fn(&Judging<'_>, &Charge) -> Vec<Answer>),
}

/// A gate as its own file states it.
struct Gate {
    /// The station that answers it: where the hands go to open it.
    station: u8,
    /// The acts it stands before.
    acts: &'static [Act],
    judge: Looks,
    /// The code of the deviation of combining past it.
    combined_past: &'static str,
    /// What *Hands next* says of a hold that was reached; `None`: another line of it speaks for the gate.
    next: fn(&Hold) -> Option<&'static str>,
    /// What stands under the float of its station; `None`: the station's own figure does.
    line: fn(&Judging<'_>, &Hold) -> Option<String>,
}

impl Gate {
    fn stands_before(&self, act: Option<Act>) -> bool {
        act.is_none_or(|act| self.acts.contains(&act))
    }
}

impl GateName {
    /// The station that answers it, from 1 to 6.
    pub fn station(self) -> u8 {
        self.gate().station
    }

    /// The acts it stands before.
    pub fn acts(self) -> &'static [Act] {
        self.gate().acts
    }

    /// It looks at each charge by itself.
    pub fn is_of_a_charge(self) -> bool {
        matches!(self.gate().judge, Looks::AtCharge(_))
    }

    /// The code of the deviation of combining past it.
    pub fn combined_past(self) -> &'static str {
        self.gate().combined_past
    }
}

impl Hold {
    /// What *Hands next* says of it, where it speaks for its gate.
    pub fn next(&self) -> Option<&'static str> {
        (self.gate.gate().next)(self)
    }

    /// What stands under the float of its station.
    pub fn line(&self, case: &Case<'_>, now: Timestamp, prefs: Prefs) -> Option<String> {
        (self.gate.gate().line)(&Judging { case, act: None, at: None, now, prefs }, self)
    }
}

/// For a gate of which the station's own figure speaks.
fn no_line(_judging: &Judging<'_>, _hold: &Hold) -> Option<String> {
    None
}

/// For a gate another line of *Hands next* speaks for.
fn no_next(_hold: &Hold) -> Option<&'static str> {
    None
}

/// The code of combining past any gate that has none of its own.
const ON_HOLD: &str = "combined-on-hold";

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

/// What stands before an act upon the batch; with `at`, as it was known then.
pub fn before(case: &Case<'_>, act: Act, at: Option<Timestamp>, now: Timestamp, prefs: Prefs) -> Standing {
    Standing::of(of_the_batch(&Judging { case, act: Some(act), at, now, prefs }))
}

/// What stands before an act upon a charge: what stands before it for the batch, and for this charge.
pub fn before_with(case: &Case<'_>, act: Act, charge: &Charge, now: Timestamp, prefs: Prefs) -> Standing {
    let judging = Judging { case, act: Some(act), at: None, now, prefs };
    Standing::of(of_the_batch(&judging).into_iter().chain(of_the_charge(&judging, charge)))
}

fn of_the_batch(judging: &Judging<'_>) -> Vec<Answer> {
    let asked = registry::ALL.iter().filter(|gate| gate.stands_before(judging.act));
    asked.flat_map(|gate| if let Looks::AtBatch(judge) = gate.judge { judge(judging) } else { Vec::new() }).collect()
}

fn of_the_charge(judging: &Judging<'_>, charge: &Charge) -> Vec<Answer> {
    let asked = registry::ALL.iter().filter(|gate| gate.stands_before(judging.act));
    asked.flat_map(|gate| if let Looks::AtCharge(judge) = gate.judge { judge(judging, charge) } else { Vec::new() }).collect()
}

/// The ratio of a charge as of an instant (`None`: now).
pub fn ratio(case: &Case<'_>, charge: &Charge, at: Option<Timestamp>, now: Timestamp, prefs: Prefs) -> Answer {
    ratio::judge(&Judging { case, act: None, at, now, prefs }, charge)
}

/// The conditions as read by an instant, whatever their age.
pub fn conditions_at(case: &Case<'_>, at: Timestamp, prefs: Prefs) -> Vec<Answer> {
    conditions::as_read(case, Some(at), prefs)
}

/// The film as read by an instant.
pub fn film_at(case: &Case<'_>, at: Timestamp, prefs: Prefs) -> Vec<Answer> {
    film::judge(&Judging { case, act: None, at: Some(at), now: at, prefs })
}

/// The film as one proof of it would judge it, whatever the sheet asks.
pub fn film_by(case: &Case<'_>, proof: FilmProof, prefs: Prefs) -> Vec<Answer> {
    film::by(&Judging { case, act: None, at: None, now: Timestamp::MAX, prefs }, proof)
}

/// Every closed gate now, worst first. Of a signed batch only what was released, and what keeps it from being accepted: what was signed
/// stays as it was signed.
pub fn all(case: &Case<'_>, now: Timestamp, prefs: Prefs) -> Vec<Hold> {
    let judging = Judging { case, act: None, at: None, now, prefs };
    let open = case.charges.iter().filter(|c| c.closed.is_none());
    let of_charges = open.flat_map(|charge| of_the_charge(&judging, charge));
    let mut all = Standing::of(of_the_batch(&judging).into_iter().chain(of_charges)).holds;
    if case.signature.is_some() {
        all.retain(|h| h.released.is_some() || h.gate == GateName::Acceptance);
    }
    all.sort_by_key(|h| (h.severity == Severity::Hold, h.released.is_some()));
    all
}
