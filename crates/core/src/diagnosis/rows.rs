//! Which causes a symptom may have, and what in a record speaks of each: one row each.

use super::{Cause, Sign, Symptom};
use Weight::{Fair, Slight, Telling};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How much a sign says of a cause.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Weight {
    /// A little.
    Slight,
    /// Some.
    Fair,
    /// By itself it explains the symptom.
    Telling,
}

impl Weight {
    /// What it adds where the sign is there. **Source:** from memory.
    pub fn speaks_for(self) -> f64 {
        match self {
            Weight::Slight => 1.0,
            Weight::Fair => 2.0,
            Weight::Telling => 3.0,
        }
    }

    /// What it takes off where the sign is not there: the lack of a lesser sign says little. **Source:** from memory.
    pub fn speaks_against(self) -> f64 {
        match self {
            Weight::Slight => 0.5,
            Weight::Fair => 1.0,
            Weight::Telling => 3.0,
        }
    }
}

/// A cause of a symptom, with the signs a record can answer. One without signs is told by looking alone.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Row {
    /// What is seen.
    pub symptom: Symptom,
    /// What may lie behind it.
    pub cause: Cause,
    /// What speaks of it.
    pub signs: &'static [(Sign, Weight)],
}

/// Rows of one symptom.
pub type Causes = Vec<&'static Row>;

/// Every cause of a symptom, in the order the trade looks at them.
pub fn causes_of(symptom: Symptom) -> Causes {
    ROWS.iter().filter(|row| row.symptom == symptom).collect()
}

/// All of them. **Source:** common practice in the trade; the weights are from memory.
#[rustfmt::skip]
pub const ROWS: &[Row] = &[
    Row { symptom: Symptom::Porosity, cause: Cause::FirstPassHeavy, signs: &[(Sign::FirstPassHeavy, Telling)] },
    Row { symptom: Symptom::Porosity, cause: Cause::CatalystAirHigh, signs: &[(Sign::CatalystAirHigh, Telling)] },
    Row { symptom: Symptom::Porosity, cause: Cause::CatalystAirLow, signs: &[(Sign::CatalystAirLow, Telling)] },
    Row { symptom: Symptom::Porosity, cause: Cause::FluidHigh, signs: &[(Sign::FluidHigh, Fair), (Sign::PatternNotEven, Slight)] },
    Row { symptom: Symptom::Porosity, cause: Cause::FluidLow, signs: &[(Sign::FluidLow, Fair), (Sign::PatternNotEven, Slight)] },
    Row { symptom: Symptom::Porosity, cause: Cause::ColdMaterial, signs: &[(Sign::MaterialCold, Telling)] },
    Row { symptom: Symptom::Porosity, cause: Cause::ColdSurface, signs: &[(Sign::SurfaceCold, Telling)] },
    Row { symptom: Symptom::Porosity, cause: Cause::HardenerShort, signs: &[(Sign::HardenerShort, Telling), (Sign::DriftsShort, Fair)] },
    Row { symptom: Symptom::Porosity, cause: Cause::HardenerMuch, signs: &[(Sign::HardenerMuch, Telling), (Sign::DriftsMuch, Fair)] },
    Row { symptom: Symptom::Porosity, cause: Cause::OverMixed, signs: &[(Sign::DrumOverStirred, Telling)] },
    Row { symptom: Symptom::Porosity, cause: Cause::SolventTrapped, signs: &[(Sign::PassEarly, Telling), (Sign::MouldNotSound, Fair)] },
    Row { symptom: Symptom::Porosity, cause: Cause::FastBrushing, signs: &[(Sign::ByHand, Fair)] },
    Row { symptom: Symptom::FishEyes, cause: Cause::WetAir, signs: &[(Sign::TrapsNotDrained, Telling)] },
    Row { symptom: Symptom::FishEyes, cause: Cause::CatalystDroplets, signs: &[(Sign::CatalystBurst, Telling), (Sign::CatalystAirLow, Fair)] },
    Row { symptom: Symptom::FishEyes, cause: Cause::Dirt, signs: &[(Sign::NotClean, Telling), (Sign::MouldNotSound, Fair)] },
    Row { symptom: Symptom::LargePits, cause: Cause::CatalystAirHigh, signs: &[(Sign::CatalystAirHigh, Telling)] },
    Row { symptom: Symptom::LargePits, cause: Cause::CatalystDroplets, signs: &[(Sign::CatalystBurst, Fair)] },
    Row { symptom: Symptom::LargePits, cause: Cause::AirInLine, signs: &[(Sign::GunSpat, Fair)] },
    Row { symptom: Symptom::Sag, cause: Cause::FilmHeavy, signs: &[(Sign::FilmHeavy, Telling), (Sign::FirstPassHeavy, Fair)] },
    Row { symptom: Symptom::Sag, cause: Cause::Hot, signs: &[(Sign::Hot, Telling)] },
    Row { symptom: Symptom::Sag, cause: Cause::OverMixed, signs: &[(Sign::DrumOverStirred, Telling)] },
    Row { symptom: Symptom::Sag, cause: Cause::OverThinned, signs: &[(Sign::OverThinned, Telling)] },
    Row { symptom: Symptom::Sag, cause: Cause::SolventTrapped, signs: &[(Sign::PassEarly, Fair)] },
    Row { symptom: Symptom::Sag, cause: Cause::FluidHigh, signs: &[(Sign::FluidHigh, Fair)] },
    Row { symptom: Symptom::Sag, cause: Cause::GunSlow, signs: &[(Sign::FilmUneven, Slight)] },
    Row { symptom: Symptom::Coarse, cause: Cause::AirLow, signs: &[(Sign::AirLow, Telling)] },
    Row { symptom: Symptom::Coarse, cause: Cause::ColdMaterial, signs: &[(Sign::MaterialCold, Telling)] },
    Row { symptom: Symptom::Coarse, cause: Cause::FluidHigh, signs: &[(Sign::FluidHigh, Telling)] },
    Row { symptom: Symptom::Splatter, cause: Cause::FluidOverAir, signs: &[(Sign::FluidHigh, Fair), (Sign::AirLow, Fair)] },
    Row { symptom: Symptom::Splatter, cause: Cause::TipDirty, signs: &[(Sign::TipPlugged, Fair), (Sign::CapNotCleaned, Fair)] },
    Row { symptom: Symptom::Splatter, cause: Cause::AirInLine, signs: &[(Sign::GunSpat, Telling)] },
    Row { symptom: Symptom::DrySpray, cause: Cause::AirHigh, signs: &[(Sign::AirHigh, Telling)] },
    Row { symptom: Symptom::DrySpray, cause: Cause::FluidLow, signs: &[(Sign::FluidLow, Telling)] },
    Row { symptom: Symptom::DrySpray, cause: Cause::SectionLarge, signs: &[(Sign::EdgeLost, Telling)] },
    Row { symptom: Symptom::DrySpray, cause: Cause::Hot, signs: &[(Sign::Hot, Fair)] },
    Row { symptom: Symptom::DrySpray, cause: Cause::GunFar, signs: &[] },
    Row { symptom: Symptom::Fingers, cause: Cause::FluidLow, signs: &[(Sign::FluidLow, Telling), (Sign::PatternNotEven, Slight)] },
    Row { symptom: Symptom::Fingers, cause: Cause::TipWorn, signs: &[(Sign::TipWorn, Telling)] },
    Row { symptom: Symptom::Fingers, cause: Cause::TipDirty, signs: &[(Sign::TipPlugged, Telling), (Sign::CapNotCleaned, Fair)] },
    Row { symptom: Symptom::Fingers, cause: Cause::ColdMaterial, signs: &[(Sign::MaterialCold, Telling)] },
    Row { symptom: Symptom::PoorCure, cause: Cause::HardenerShort, signs: &[(Sign::HardenerShort, Telling), (Sign::DriftsShort, Fair)] },
    Row { symptom: Symptom::PoorCure, cause: Cause::HardenerMuch, signs: &[(Sign::HardenerMuch, Fair), (Sign::DriftsMuch, Slight)] },
    Row { symptom: Symptom::PoorCure, cause: Cause::ColdSurface, signs: &[(Sign::SurfaceCold, Telling), (Sign::MaterialCold, Fair)] },
    Row { symptom: Symptom::PoorCure, cause: Cause::OldMaterial, signs: &[(Sign::LotOld, Telling)] },
    Row { symptom: Symptom::PoorCure, cause: Cause::NotStirred, signs: &[(Sign::Unstirred, Fair)] },
    Row { symptom: Symptom::PatchyCure, cause: Cause::NotStirred, signs: &[(Sign::Unstirred, Telling)] },
    Row { symptom: Symptom::PatchyCure, cause: Cause::PartTrigger, signs: &[(Sign::NeedleShort, Telling)] },
    Row { symptom: Symptom::PatchyCure, cause: Cause::CatalystDroplets, signs: &[(Sign::CatalystBurst, Telling), (Sign::CatalystAirLow, Fair)] },
    Row { symptom: Symptom::PatchyCure, cause: Cause::HardenerShort, signs: &[(Sign::HardenerShort, Fair), (Sign::DriftsShort, Fair)] },
    Row { symptom: Symptom::PatchyCure, cause: Cause::ColdSurface, signs: &[(Sign::SurfaceCold, Fair)] },
    Row { symptom: Symptom::PatchyCure, cause: Cause::StyreneLow, signs: &[] },
    Row { symptom: Symptom::Blisters, cause: Cause::CatalystDroplets, signs: &[(Sign::CatalystBurst, Telling), (Sign::CatalystAirLow, Fair)] },
    Row { symptom: Symptom::Blisters, cause: Cause::SolventTrapped, signs: &[(Sign::PassEarly, Telling), (Sign::FilmHeavy, Fair), (Sign::OverThinned, Slight)] },
    Row { symptom: Symptom::Blisters, cause: Cause::RecoatEarly, signs: &[(Sign::RecoatEarly, Telling)] },
    Row { symptom: Symptom::Peel, cause: Cause::RecoatLate, signs: &[(Sign::RecoatLate, Telling), (Sign::NotAbraded, Fair)] },
    Row { symptom: Symptom::Peel, cause: Cause::Blush, signs: &[(Sign::AirDamp, Telling)] },
    Row { symptom: Symptom::Peel, cause: Cause::Dew, signs: &[(Sign::DewNear, Telling)] },
    Row { symptom: Symptom::Peel, cause: Cause::Dirt, signs: &[(Sign::NotClean, Telling)] },
    Row { symptom: Symptom::Cracks, cause: Cause::FilmHeavy, signs: &[(Sign::FilmHeavy, Telling)] },
    Row { symptom: Symptom::Cracks, cause: Cause::HardenerMuch, signs: &[(Sign::HardenerMuch, Telling), (Sign::DriftsMuch, Fair)] },
    Row { symptom: Symptom::BridgedGaps, cause: Cause::FilmHeavy, signs: &[(Sign::FilmHeavy, Telling)] },
    Row { symptom: Symptom::BridgedGaps, cause: Cause::TipLarge, signs: &[(Sign::TipLarger, Telling), (Sign::TipWorn, Fair)] },
    Row { symptom: Symptom::Ghosting, cause: Cause::OldEdges, signs: &[(Sign::NotFeathered, Telling), (Sign::OverOldPaint, Slight)] },
    Row { symptom: Symptom::Ghosting, cause: Cause::RecoatEarly, signs: &[(Sign::RecoatEarly, Fair)] },
    Row { symptom: Symptom::Ghosting, cause: Cause::SolventTrapped, signs: &[(Sign::PassEarly, Fair)] },
    Row { symptom: Symptom::Stripes, cause: Cause::UnevenSpeed, signs: &[(Sign::FilmUneven, Telling)] },
    Row { symptom: Symptom::Stripes, cause: Cause::OverlapWrong, signs: &[(Sign::PatternNotEven, Fair)] },
    Row { symptom: Symptom::ShadeSteps, cause: Cause::DoseDiffers, signs: &[(Sign::DosesDiffer, Telling)] },
    Row { symptom: Symptom::ShadeSteps, cause: Cause::NotStirred, signs: &[(Sign::Unstirred, Fair)] },
    Row { symptom: Symptom::ShadeSteps, cause: Cause::UnevenSpeed, signs: &[(Sign::FilmUneven, Fair)] },
    Row { symptom: Symptom::RaggedTape, cause: Cause::Hot, signs: &[(Sign::Hot, Telling)] },
    Row { symptom: Symptom::RaggedTape, cause: Cause::FilmHeavy, signs: &[(Sign::FilmHeavy, Fair)] },
    Row { symptom: Symptom::RaggedTape, cause: Cause::TapeLate, signs: &[] },
    Row { symptom: Symptom::EarlyGel, cause: Cause::PastLife, signs: &[(Sign::PastLife, Telling)] },
    Row { symptom: Symptom::EarlyGel, cause: Cause::Hot, signs: &[(Sign::PotHot, Telling), (Sign::Hot, Fair)] },
    Row { symptom: Symptom::EarlyGel, cause: Cause::LargeMass, signs: &[(Sign::LargeMass, Telling)] },
    Row { symptom: Symptom::EarlyGel, cause: Cause::HardenerMuch, signs: &[(Sign::HardenerMuch, Fair)] },
    Row { symptom: Symptom::PulsingFan, cause: Cause::SupplyNear, signs: &[(Sign::SupplyNear, Telling)] },
    Row { symptom: Symptom::PulsingFan, cause: Cause::AirInLine, signs: &[(Sign::GunSpat, Telling)] },
    Row { symptom: Symptom::PulsingFan, cause: Cause::TipDirty, signs: &[(Sign::TipPlugged, Fair)] },
];
