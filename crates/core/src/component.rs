//! What is poured together: base, hardener, thinner, additives.

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is poured, in the order it is poured.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
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
