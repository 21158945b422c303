//! Acceptance: is the coat good? By gauge (spots, 80/20, least and most), by comb total, by use, by look, by bond test.
//!
//! `spots` judges by the spot method and `eighty_twenty` by 80/20; `flat` lays a zone's shape flat and `draw` draws spots on it;
//! `foil` is the gauge on a certified foil, before and after; `file` reads what a gauge wrote into a
//! file, and `indicator` a line it sends.

pub mod draw;
pub mod eighty_twenty;
pub mod file;
pub mod flat;
pub mod foil;
pub mod indicator;
pub mod spots;

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a coat is accepted by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum AcceptBy {
    /// Dry film by gauge: means of spots drawn by lot, by areas.
    #[strum(serialize = "spots by gauge")]
    Spots,
    /// Dry film by gauge: a mean, and how many readings may be under it.
    #[strum(serialize = "80/20 by gauge")]
    EightyTwenty,
    /// Dry film by gauge: every reading between a least and a most.
    #[strum(serialize = "least and most by gauge")]
    LeastMost,
    /// Wet film by comb, every zone in its total.
    #[strum(serialize = "comb total")]
    CombTotal,
    /// Film by what was used.
    #[strum(serialize = "film by use")]
    ByUse,
    /// By the eye, at the stages the product has.
    #[strum(serialize = "look")]
    Look,
    /// By a bond test on the real substrate.
    #[strum(serialize = "bond test")]
    BondTest,
}

impl Worded for AcceptBy {}

impl AcceptBy {
    /// It reads the dry film with a gauge.
    pub fn is_by_gauge(self) -> bool {
        match self {
            AcceptBy::Spots | AcceptBy::EightyTwenty | AcceptBy::LeastMost => true,
            AcceptBy::CombTotal | AcceptBy::ByUse | AcceptBy::Look | AcceptBy::BondTest => false,
        }
    }
}

/// Roughness of a blasted surface, as it is graded.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Roughness {
    /// Fine.
    #[strum(serialize = "fine")]
    Fine,
    /// Medium.
    #[strum(serialize = "medium")]
    Medium,
    /// Coarse.
    #[strum(serialize = "coarse")]
    Coarse,
}

impl Worded for Roughness {}

impl Roughness {
    /// What a gauge reads too much over steel blasted so.
    ///
    /// **Rule:** 10, 25, 40 µm by grade. **Units:** µm. **Source:** ISO 19840, from memory.
    ///
    /// ```
    /// use level_keel_core::acceptance::Roughness;
    /// assert_eq!(Roughness::Medium.correction_um(), 25.0);
    /// ```
    pub fn correction_um(self) -> f64 {
        match self {
            Roughness::Fine => 10.0,
            Roughness::Medium => 25.0,
            Roughness::Coarse => 40.0,
        }
    }
}
