//! How a product is stirred, sprayed and proved, as its sheet says.

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The stream school of the product or gun.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum StreamSchool {
    /// 6–8 in, general pressure pot.
    #[default]
    #[strum(serialize = "6 to 8 in, general pot")]
    GeneralPot,
    /// 8–10 in, high-transfer guns.
    #[strum(serialize = "8 to 10 in, high transfer")]
    HighTransfer,
    /// 8–12 in, industrial urethanes and single-pack.
    #[strum(serialize = "8 to 12 in, industrial")]
    Industrial,
}

impl Worded for StreamSchool {}

/// A stage of a coat at which it is looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum LookStage {
    /// After the ground.
    #[strum(serialize = "colour after the ground")]
    GroundColour,
    /// After the pattern.
    #[strum(serialize = "particle size after the pattern")]
    PatternSize,
    /// Before lamination.
    #[strum(serialize = "dry to the touch everywhere")]
    DryToTouch,
    /// Of a release film.
    #[strum(serialize = "a shine, no colour seen")]
    Shine,
    /// Of the finished film.
    #[strum(serialize = "runs, voids, stripes, blotch, sheen, nibs")]
    Finish,
}

impl Worded for LookStage {}

impl LookStage {
    /// It is looked at once every pass is on.
    pub fn is_of_the_finished_film(self) -> bool {
        match self {
            LookStage::GroundColour => false,
            LookStage::PatternSize | LookStage::DryToTouch | LookStage::Shine | LookStage::Finish => true,
        }
    }
}

/// How a component is stirred.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Stir {
    /// By hand only: a machine would beat air in.
    #[strum(serialize = "by hand only")]
    HandOnly,
    /// A paddle, by hand or slow machine.
    #[strum(serialize = "with a paddle")]
    Paddle,
    /// Shaken in its closed can.
    #[strum(serialize = "shaken")]
    Shake,
    /// Poured back and forth between two containers.
    #[strum(serialize = "poured back and forth")]
    PourOver,
}

impl Worded for Stir {}

/// What proves the film.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum FilmProof {
    /// The comb, in every zone.
    #[strum(serialize = "the comb, in every zone")]
    Comb,
    /// What was weighed and is gone: where no comb works.
    #[strum(serialize = "what was weighed and is gone")]
    Use,
    /// The eye.
    #[strum(serialize = "the eye")]
    Look,
    /// Nothing: the sheet names no film that must be proved.
    #[strum(serialize = "nothing: no film is asked")]
    NotAsked,
}

impl Worded for FilmProof {}

/// The way of a pass over the part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum PassWay {
    /// Along the part.
    #[strum(serialize = "along")]
    Along,
    /// Across the pass before.
    #[strum(serialize = "across")]
    Across,
    /// Small circles, half overlapped: mist and thick textures.
    #[strum(serialize = "in circles")]
    Circles,
    /// Corners, edges and insides, before the faces.
    #[strum(serialize = "corners and edges")]
    Corners,
}

impl Worded for PassWay {}

impl PassWay {
    /// The way of the pass that crosses this one; circles and corners are not crossed.
    pub fn crossed(self) -> PassWay {
        match self {
            PassWay::Along => PassWay::Across,
            PassWay::Across => PassWay::Along,
            PassWay::Circles | PassWay::Corners => self,
        }
    }
}

/// What a pass looks like when the next may go over it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ReadyLook {
    /// The damp film has turned dull.
    #[strum(serialize = "damp turned dull")]
    DampDull,
    /// The gloss is gone.
    #[strum(serialize = "gloss gone")]
    GlossGone,
    /// A finger stays dry.
    #[strum(serialize = "dry to touch")]
    DryToTouch,
}

impl Worded for ReadyLook {}

/// Which overlap the fan of this product wants.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum OverlapSchool {
    /// Half the fan: air-spray fans whose edges fade to nothing.
    #[strum(serialize = "half the fan")]
    Half,
    /// A fifth of the fan: flat airless gel-coat fans.
    #[strum(serialize = "a fifth of the fan")]
    Fifth,
}

impl Worded for OverlapSchool {}
