//! What a scale that was found off puts in doubt since its last good check. A mark never alters a verdict.

use super::book::InstrumentBook;
use super::checked::Fault;
use crate::ratio_check::{LedgerProof, ProofKind};
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A proof in doubt.
#[derive(Debug, Clone, PartialEq)]
pub struct Mark {
    /// The proof.
    pub proof: LedgerProof,
    /// When the scale was found off.
    pub found: Timestamp,
    /// How.
    pub fault: Fault,
    /// By whom and how it was answered.
    pub answered: Option<String>,
}

/// A mark, for people.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ProofInDoubt {
    pub proof: Uuid,
    pub at: Timestamp,
    /// The batch, by number.
    pub number: Option<i64>,
    /// What it proved, and what the scale was.
    pub text: String,
    pub answered: Option<String>,
}

impl Mark {
    /// For people.
    pub fn view(&self) -> ProofInDoubt {
        ProofInDoubt {
            proof: self.proof.entry,
            at: self.proof.at,
            number: self.proof.number,
            text: format!("{}: the scale was found off, {}", self.proof.kind.word(), self.fault.word()),
            answered: self.answered.clone(),
        }
    }
}

/// The proofs weighed on an instrument that its checks put in doubt, in the order they happened.
///
/// **Rule:** what was weighed between a check that found it off and the good ones on either side is marked. A gain error cancels in a
/// ratio weighed on one scale, and marks whole runs, whose flows it falsifies, and ratios from two scales; an offset or an unknown
/// kind marks all. **Source:** arithmetic: a common factor divides out of a ratio.
pub fn marks(book: &InstrumentBook, weighed: &[LedgerProof]) -> Vec<Mark> {
    let found: Vec<(Timestamp, Option<Fault>)> = book.checks.iter().filter_map(|c| Some((c.at, c.it.found()?.fault))).collect();
    let mut all = Vec::new();
    for proof in weighed {
        // The checks on either side of it decide: off after it, or off already when it was weighed.
        let after = found.iter().find(|(at, _)| *at >= proof.at);
        let before = found.iter().rev().find(|(at, _)| *at < proof.at);
        let off = [after, before].into_iter().flatten().find_map(|(at, fault)| Some((at, fault.as_ref()?)));
        let Some((found, fault)) = off else { continue };
        let cancels = *fault == Fault::Gain && proof.kind != ProofKind::WholeRun && !proof.two_scales;
        if cancels || proof.kind == ProofKind::BondTest {
            continue;
        }
        let answer = book.answers.iter().rev().find(|a| a.it.proof == proof.entry);
        let answered = answer.map(|a| format!("{}: {}", a.by, a.it.text));
        all.push(Mark { proof: proof.clone(), found: *found, fault: *fault, answered });
    }
    all
}
