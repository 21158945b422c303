//! What a record can say of a cause: one observation each.

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Where a sign is read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum SignFrom {
    /// The batch.
    #[strum(serialize = "batch")]
    Batch,
    /// The book of its rig.
    #[strum(serialize = "rig book")]
    RigBook,
    /// The stores.
    #[strum(serialize = "lots")]
    Lots,
    /// Conditions.
    #[strum(serialize = "weather")]
    Weather,
    /// The ratio ledger of rig and product.
    #[strum(serialize = "ledger")]
    Ledger,
    /// Somebody looked.
    #[strum(serialize = "looked at")]
    Looked,
}

impl Worded for SignFrom {}

/// An observation a record can answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Sign {
    /// The first pass was over what the sheet allows of it.
    #[strum(serialize = "first pass heavy")]
    FirstPassHeavy,
    /// The film was over what the sheet allows.
    #[strum(serialize = "film heavy")]
    FilmHeavy,
    /// Readings of one zone after one pass lie apart.
    #[strum(serialize = "film uneven")]
    FilmUneven,
    /// Catalyst air over the sheet's band.
    #[strum(serialize = "catalyst air high")]
    CatalystAirHigh,
    /// Catalyst air under the sheet's band.
    #[strum(serialize = "catalyst air low")]
    CatalystAirLow,
    /// Fluid pressure over that of the last good set-up.
    #[strum(serialize = "fluid pressure high")]
    FluidHigh,
    /// Fluid pressure under that of the last good set-up.
    #[strum(serialize = "fluid pressure low")]
    FluidLow,
    /// Atomizing air over that of sheet or last good set-up.
    #[strum(serialize = "atomizing air high")]
    AirHigh,
    /// Atomizing air under that of sheet or last good set-up.
    #[strum(serialize = "atomizing air low")]
    AirLow,
    /// The last pattern on the card was not even.
    #[strum(serialize = "pattern not even")]
    PatternNotEven,
    /// The supply stood hardly over what was set.
    #[strum(serialize = "supply near what is set")]
    SupplyNear,
    /// The needle opened less than the trigger's full way.
    #[strum(serialize = "needle short of full trigger")]
    NeedleShort,
    /// Material colder than the sheet allows.
    #[strum(serialize = "material cold")]
    MaterialCold,
    /// Surface colder than the sheet allows.
    #[strum(serialize = "surface cold")]
    SurfaceCold,
    /// Air, surface or material hotter than the sheet allows.
    #[strum(serialize = "too hot")]
    Hot,
    /// The surface stood too near the dew point.
    #[strum(serialize = "near the dew point")]
    DewNear,
    /// The air was damper than the sheet allows.
    #[strum(serialize = "air damp")]
    AirDamp,
    /// Sprayed unstirred or while inducting.
    #[strum(serialize = "not stirred")]
    Unstirred,
    /// Sprayed after its life.
    #[strum(serialize = "past its life")]
    PastLife,
    /// The pot was hotter than its life is stated at.
    #[strum(serialize = "pot hot")]
    PotHot,
    /// More mass than its life was measured at.
    #[strum(serialize = "large mass")]
    LargeMass,
    /// More thinner than the sheet allows.
    #[strum(serialize = "over-thinned")]
    OverThinned,
    /// The drum was stirred longer than the sheet allows.
    #[strum(serialize = "drum stirred too long")]
    DrumOverStirred,
    /// Fills hold different doses.
    #[strum(serialize = "doses differ")]
    DosesDiffer,
    /// The ratio was proved with too little hardener.
    #[strum(serialize = "hardener short")]
    HardenerShort,
    /// The ratio was proved with too much hardener.
    #[strum(serialize = "hardener too much")]
    HardenerMuch,
    /// The ledger of the rig drifts toward too little hardener.
    #[strum(serialize = "ratio drifts to little hardener")]
    DriftsShort,
    /// The ledger of the rig drifts toward too much hardener.
    #[strum(serialize = "ratio drifts to much hardener")]
    DriftsMuch,
    /// A pass went on before the one beneath was ready.
    #[strum(serialize = "pass too early")]
    PassEarly,
    /// A pass came after the edge was lost.
    #[strum(serialize = "edge lost")]
    EdgeLost,
    /// Before the window of the coat beneath.
    #[strum(serialize = "coated over too early")]
    RecoatEarly,
    /// After the window of the coat beneath.
    #[strum(serialize = "coated over too late")]
    RecoatLate,
    /// A burst of catalyst was tapped.
    #[strum(serialize = "burst of catalyst")]
    CatalystBurst,
    /// The tip plugged.
    #[strum(serialize = "tip plugged")]
    TipPlugged,
    /// The gun spat.
    #[strum(serialize = "gun spat")]
    GunSpat,
    /// The water traps were not drained.
    #[strum(serialize = "traps not drained")]
    TrapsNotDrained,
    /// Cleaning of the surface is not ticked, or failed.
    #[strum(serialize = "surface not clean")]
    NotClean,
    /// Old styrene in the mould, or it is not sound.
    #[strum(serialize = "mould not sound")]
    MouldNotSound,
    /// Old edges were not feathered.
    #[strum(serialize = "edges not feathered")]
    NotFeathered,
    /// Nothing was abraded.
    #[strum(serialize = "not abraded")]
    NotAbraded,
    /// The tip lets through more than when it was new.
    #[strum(serialize = "tip worn")]
    TipWorn,
    /// Nozzle or tip larger than at the last good set-up.
    #[strum(serialize = "tip larger than last time")]
    TipLarger,
    /// Cap and screens were not cleaned since it was used before.
    #[strum(serialize = "cap not cleaned")]
    CapNotCleaned,
    /// A lot was past its date, damaged or in quarantine.
    #[strum(serialize = "lot past its date")]
    LotOld,
    /// Put on by brush or roller.
    #[strum(serialize = "by hand")]
    ByHand,
    /// It went over old paint.
    #[strum(serialize = "over old paint")]
    OverOldPaint,
}

impl Worded for Sign {}

impl Sign {
    /// Where it is read.
    pub fn from(self) -> SignFrom {
        match self {
            Sign::MaterialCold | Sign::SurfaceCold | Sign::Hot | Sign::DewNear | Sign::AirDamp => SignFrom::Weather,
            Sign::DriftsShort | Sign::DriftsMuch => SignFrom::Ledger,
            Sign::TipWorn | Sign::CapNotCleaned => SignFrom::RigBook,
            Sign::LotOld => SignFrom::Lots,
            Sign::FirstPassHeavy
            | Sign::FilmHeavy
            | Sign::FilmUneven
            | Sign::CatalystAirHigh
            | Sign::CatalystAirLow
            | Sign::FluidHigh
            | Sign::FluidLow
            | Sign::AirHigh
            | Sign::AirLow
            | Sign::PatternNotEven
            | Sign::SupplyNear
            | Sign::NeedleShort
            | Sign::Unstirred
            | Sign::PastLife
            | Sign::PotHot
            | Sign::LargeMass
            | Sign::OverThinned
            | Sign::DrumOverStirred
            | Sign::DosesDiffer
            | Sign::HardenerShort
            | Sign::HardenerMuch
            | Sign::PassEarly
            | Sign::EdgeLost
            | Sign::RecoatEarly
            | Sign::RecoatLate
            | Sign::CatalystBurst
            | Sign::TipPlugged
            | Sign::GunSpat
            | Sign::TrapsNotDrained
            | Sign::NotClean
            | Sign::MouldNotSound
            | Sign::NotFeathered
            | Sign::NotAbraded
            | Sign::TipLarger
            | Sign::ByHand
            | Sign::OverOldPaint => SignFrom::Batch,
        }
    }
}
