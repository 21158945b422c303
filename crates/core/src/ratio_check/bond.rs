//! The bond test of a contact adhesive: a small piece on the real substrate, pressed and parted.

use super::Side;
use crate::verdict::Verdict;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a test piece parted, as it is chosen by its picture.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum BondResult {
    /// It resists and draws strings.
    #[strum(serialize = "strings and holds")]
    Holds,
    /// It parts easily and leaves one side bare.
    #[strum(serialize = "parts easily, one side bare")]
    OneSideBare,
    /// Dark, wet, with bubbles of water.
    #[strum(serialize = "dark, wet, bubbles of water")]
    WetBubbles,
}

impl Worded for BondResult {}

impl BondResult {
    /// What it says of the share of activator: right, too much or too little.
    ///
    /// **Rule:** strings = in; one side bare = too much activator; wet with bubbles of water = too little. **Units:** none.
    /// **Source:** common practice in the trade.
    ///
    /// ```
    /// use level_keel_core::{ratio_check::BondResult, verdict::Verdict};
    /// assert_eq!(BondResult::OneSideBare.verdict(), Verdict::High);
    /// ```
    pub fn verdict(self) -> Verdict {
        match self {
            BondResult::Holds => Verdict::In,
            BondResult::OneSideBare => Verdict::High,
            BondResult::WetBubbles => Verdict::Low,
        }
    }

    /// The stream to move, and whether up.
    ///
    /// **Rule:** activator (B) down where there is too much of it, up where there is too little. **Units:** none.
    /// **Source:** common practice in the trade.
    pub fn moves(self) -> Option<(Side, bool)> {
        match self {
            BondResult::Holds => None,
            BondResult::OneSideBare => Some((Side::B, false)),
            BondResult::WetBubbles => Some((Side::B, true)),
        }
    }

    /// What it means and what to do, in words.
    pub fn advice(self) -> &'static str {
        match self {
            BondResult::Holds => "It holds: the bond is right on this substrate.",
            BondResult::OneSideBare => {
                "Too much activator. Lower B a little, or raise A; catch both streams, then press a new piece."
            }
            BondResult::WetBubbles => {
                "Too little activator. Raise B a little, or lower A; catch both streams, then press a new piece."
            }
        }
    }
}
