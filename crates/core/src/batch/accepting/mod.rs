//! What accepts a batch, and how each of it stands: by gauge as it was planned and read, by comb, by use, by look, by bond test.

mod file;
mod gauge;
mod stages;
pub mod surface;

pub use gauge::{AreaState, ByGauge, OneRead, SpotState, Unproved};

use super::case::Case;
use super::gates;
use super::record::Record;
use crate::acceptance::AcceptBy;
use crate::quantity::Prefs;
use crate::ratio_check::BondResult;
use crate::sheets::FilmProof;
use crate::verdict::Verdict;
use crate::worded::VariantArray;

/// One thing that accepts a coat, and how it stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Method {
    /// Which.
    pub by: AcceptBy,
    /// How it stands; `None`: not done, or under way.
    pub verdict: Option<Verdict>,
    /// Somebody began it.
    pub begun: bool,
    /// What is not right with it was released by a lead when the work was signed.
    pub released: bool,
}

impl Record {
    /// Something is measured or looked at after the signature, before the coat is accepted.
    pub fn is_accepted_after(&self) -> bool {
        let sheet = self.aim().map(|aim| &aim.sheet);
        self.acceptance_plan.is_some() || sheet.is_some_and(|s| !s.accepted_by.is_empty() || !s.look_stages.is_empty())
    }
}

impl Case<'_> {
    /// What accepts this batch: what its sheet names, what was planned by gauge, and what was begun.
    ///
    /// **Rule:** a sheet that names nothing is accepted by what proves its film. Of several ways by gauge that the sheet names, the one
    /// that was planned stands for all; a way that it does not name stands beside them. **Source:** the sheet; common practice in the trade.
    pub fn methods(&self, prefs: Prefs) -> Vec<Method> {
        let Some(aim) = self.aim() else { return Vec::new() };
        let planned = self.acceptance_plan.as_ref().map(|p| p.it.by);
        // Which of the ways by gauge it is, is said at the batch where the sheet names several.
        let chosen = planned.filter(|by| aim.sheet.accepted_by.contains(by));
        let asked = |by: AcceptBy| match chosen {
            Some(chosen) if by.is_by_gauge() => by == chosen,
            _ if planned == Some(by) => true,
            _ if by == AcceptBy::Look && !aim.sheet.look_stages.is_empty() => true,
            _ => aim.sheet.accepted_by.contains(&by) || self.implied() == Some(by),
        };
        AcceptBy::VARIANTS.iter().copied().filter(|by| asked(*by)).map(|by| self.method(by, prefs)).collect()
    }

    fn implied(&self) -> Option<AcceptBy> {
        if self.aim().is_none_or(|aim| !aim.sheet.accepted_by.is_empty()) {
            return None;
        }
        match self.film_proof() {
            FilmProof::Comb => Some(AcceptBy::CombTotal),
            FilmProof::Use => Some(AcceptBy::ByUse),
            FilmProof::Look => Some(AcceptBy::Look),
            FilmProof::NotAsked => None,
        }
    }

    fn method(&self, by: AcceptBy, prefs: Prefs) -> Method {
        let (verdict, begun) = match by {
            AcceptBy::Spots | AcceptBy::EightyTwenty | AcceptBy::LeastMost => {
                let gauge = self.by_gauge().filter(|g| g.plan.it.by == by);
                (gauge.as_ref().and_then(ByGauge::verdict), gauge.is_some())
            }
            AcceptBy::CombTotal => (self.film_by(FilmProof::Comb, prefs), !self.combs.is_empty()),
            AcceptBy::ByUse => (self.film_by(FilmProof::Use, prefs), self.went_ml().is_some()),
            AcceptBy::Look => (self.looked_at(), !self.film_looks.is_empty() || !self.stage_looks.is_empty()),
            AcceptBy::BondTest => {
                let newest = self.bonds.last().map(|b| b.it.result);
                let verdict = newest.map(|r| if r == BondResult::Holds { Verdict::In } else { Verdict::Low });
                (verdict, newest.is_some())
            }
        };
        let released = match by {
            AcceptBy::CombTotal => self.film_released(FilmProof::Comb, prefs),
            AcceptBy::ByUse => self.film_released(FilmProof::Use, prefs),
            // What was released at the signature is the finished film; a stage that is bad after it is not.
            AcceptBy::Look => self.stages_in() && self.film_released(FilmProof::Look, prefs),
            AcceptBy::Spots | AcceptBy::EightyTwenty | AcceptBy::LeastMost | AcceptBy::BondTest => false,
        };
        Method { by, verdict, begun, released }
    }

    /// Everything the gate of the film holds by one proof was released by a lead.
    fn film_released(&self, proof: FilmProof, prefs: Prefs) -> bool {
        let mut holds = gates::film_by(self, proof, prefs).into_iter().filter_map(gates::Answer::closed).peekable();
        holds.peek().is_some() && holds.all(|h| h.released.is_some())
    }

    /// The film by comb or by use, as the gate of the film judges it; released by a lead it is not in for that.
    fn film_by(&self, proof: FilmProof, prefs: Prefs) -> Option<Verdict> {
        let answers = gates::film_by(self, proof, prefs);
        if answers.iter().any(|a| matches!(a, gates::Answer::NotReached(..))) {
            return None;
        }
        let holds: Vec<gates::Hold> = answers.into_iter().filter_map(gates::Answer::closed).collect();
        let of = |trouble: &str| holds.iter().any(|h| h.trouble == trouble);
        Some(match () {
            () if holds.is_empty() => Verdict::In,
            () if of("over") => Verdict::High,
            () if of("under") => Verdict::Low,
            () if of("cannot-tell") => Verdict::CannotTell,
            () => return None,
        })
    }
}
