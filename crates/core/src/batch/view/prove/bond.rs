//! Bond tests as they are shown.

use crate::batch::case::Case;
use crate::ratio_check::BondResult;
use crate::verdict::Verdict;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A bond test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct BondSeen {
    pub entry: Uuid,
    pub at: Timestamp,
    pub by: String,
    pub result: BondResult,
    pub word: String,
    pub substrate: String,
    pub verdict: Verdict,
    /// What it means and what to do.
    pub advice: String,
    /// Hash of its photo.
    pub photo: Option<String>,
    pub text: Option<String>,
}

/// Every bond test, newest first.
pub(super) fn seen(case: &Case<'_>) -> Vec<BondSeen> {
    let all = case.bonds.iter().rev().map(|b| BondSeen {
        entry: b.entry,
        at: b.at,
        by: b.by.clone(),
        result: b.it.result,
        word: b.it.result.word().into(),
        substrate: b.it.substrate.clone(),
        verdict: b.it.result.verdict(),
        advice: b.it.result.advice().into(),
        photo: b.it.photo.as_ref().map(|p| p.sha256.clone()),
        text: b.it.text.clone(),
    });
    all.collect()
}
