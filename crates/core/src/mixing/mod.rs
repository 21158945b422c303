//! Proportioning: how much of each, what the scale can prove, and what a wrong pour still allows.

mod amount;
mod cup;
mod judge;
mod need;
mod plan;
pub mod provable;
mod rescue;
mod scale;
mod split;
mod stand;
mod thinner;

pub use amount::{Amount, AskField, FigureIs, OnThePart, Way, wanted_ml, ways};
pub use cup::{Cup, Mark, marks};
pub use judge::{Judgement, Mixed, dose_step, judgements, kit_off};
pub use need::{Allowances, CoatNeed, LEARN_FROM, LEARN_NEWEST, Learned, Took, hose_ml, need};
pub use plan::{PlannedPour, Share, check_thinner, finished_solids_pct, plan, shares, thinned_solids_pct, thinner_ml, working};
pub use rescue::{Rescue, RescueTo, rescues, retarget, to_go};
pub use scale::{Said, Weighed, b_per_a, off_g, poured_g, said, total_g};
pub use split::{Because, PlannedPot, PotLimits, split};
pub use stand::{PourStand, is_done, pour_stand, slack_g};
pub use thinner::{ThinnerStand, thinner_stand};

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is poured, in the order it is poured.
#[derive(
    Debug, Clone, Copy, Default, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema, strum::IntoStaticStr, strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
pub enum Component {
    /// A.
    #[default]
    #[strum(serialize = "base")]
    Base,
    /// B.
    #[strum(serialize = "hardener")]
    Hardener,
    /// Thinner.
    #[strum(serialize = "thinner")]
    Thinner,
    /// First additive of the sheet.
    #[strum(serialize = "additive")]
    Additive1,
    /// Second additive of the sheet.
    #[strum(serialize = "additive")]
    Additive2,
    /// Third additive of the sheet.
    #[strum(serialize = "additive")]
    Additive3,
}

impl Worded for Component {}

impl Component {
    /// The additives in the order of the sheet.
    pub const ADDITIVES: [Component; 3] = [Component::Additive1, Component::Additive2, Component::Additive3];

    /// Place among the sheet's additives.
    pub fn additive(self) -> Option<usize> {
        Component::ADDITIVES.iter().position(|c| *c == self)
    }
}
