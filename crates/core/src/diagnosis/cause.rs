//! What may lie behind a symptom.

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A cause.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::EnumString, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Cause {
    #[strum(serialize = "first pass too heavy")]
    FirstPassHeavy,
    #[strum(serialize = "film too heavy")]
    FilmHeavy,
    #[strum(serialize = "catalyst air too high")]
    CatalystAirHigh,
    #[strum(serialize = "catalyst air too low: droplets of catalyst")]
    CatalystAirLow,
    #[strum(serialize = "droplets of catalyst on the part")]
    CatalystDroplets,
    #[strum(serialize = "fluid pressure too high")]
    FluidHigh,
    #[strum(serialize = "fluid pressure too low")]
    FluidLow,
    #[strum(serialize = "atomizing air too high")]
    AirHigh,
    #[strum(serialize = "atomizing air too low")]
    AirLow,
    #[strum(serialize = "much fluid at little air")]
    FluidOverAir,
    #[strum(serialize = "material cold or thick")]
    ColdMaterial,
    #[strum(serialize = "part or mould cold")]
    ColdSurface,
    #[strum(serialize = "too hot")]
    Hot,
    #[strum(serialize = "too much hardener")]
    HardenerMuch,
    #[strum(serialize = "too little hardener")]
    HardenerShort,
    #[strum(serialize = "stirred too long")]
    OverMixed,
    #[strum(serialize = "not stirred through")]
    NotStirred,
    #[strum(serialize = "styrene or solvent trapped: the next pass too early")]
    SolventTrapped,
    #[strum(serialize = "styrene lying low")]
    StyreneLow,
    #[strum(serialize = "fast brushing")]
    FastBrushing,
    #[strum(serialize = "oil or water in the air")]
    WetAir,
    #[strum(serialize = "surface not clean")]
    Dirt,
    #[strum(serialize = "too much thinner")]
    OverThinned,
    #[strum(serialize = "gun slow or near")]
    GunSlow,
    #[strum(serialize = "gun too far")]
    GunFar,
    #[strum(serialize = "section too large: the edge was lost")]
    SectionLarge,
    #[strum(serialize = "tip worn")]
    TipWorn,
    #[strum(serialize = "tip or cap dirty")]
    TipDirty,
    #[strum(serialize = "tip too large")]
    TipLarge,
    #[strum(serialize = "trigger pulled in part")]
    PartTrigger,
    #[strum(serialize = "coated over too early")]
    RecoatEarly,
    #[strum(serialize = "coated over too late, not abraded")]
    RecoatLate,
    #[strum(serialize = "blush: damp air while it cured")]
    Blush,
    #[strum(serialize = "dew on the surface")]
    Dew,
    #[strum(serialize = "old edges swollen")]
    OldEdges,
    #[strum(serialize = "overlap wrong for the fan")]
    OverlapWrong,
    #[strum(serialize = "uneven speed")]
    UnevenSpeed,
    #[strum(serialize = "dose of additive differs from fill to fill")]
    DoseDiffers,
    #[strum(serialize = "tape pulled too late")]
    TapeLate,
    #[strum(serialize = "past its pot life")]
    PastLife,
    #[strum(serialize = "too large a mass in the pot")]
    LargeMass,
    #[strum(serialize = "supply hardly over what is set")]
    SupplyNear,
    #[strum(serialize = "air in the fluid line")]
    AirInLine,
    #[strum(serialize = "material past its date or damaged")]
    OldMaterial,
    /// Something that stands in no row; only as an outcome.
    #[strum(serialize = "something else")]
    SomethingElse,
}

impl Worded for Cause {}

impl Cause {
    /// What is done so that it does not come again. **Source:** common practice in the trade; the data sheet rules.
    pub fn next_time(self) -> &'static str {
        match self {
            Cause::FirstPassHeavy => "Read the comb on the first pass, and lighten it.",
            Cause::FilmHeavy => "More and lighter passes; read the comb between them.",
            Cause::CatalystAirHigh | Cause::CatalystAirLow => "Catalyst air into the sheet's band; a burst on a card first.",
            Cause::CatalystDroplets => "Spray a card after every start; look for wet specks of catalyst.",
            Cause::FluidHigh | Cause::FluidLow => "Set fluid by stream and flow, as at the last good set-up.",
            Cause::AirHigh | Cause::AirLow => "Set air on a card: the least that closes the pattern.",
            Cause::FluidOverAir => "Less fluid, or a step more air, on a card.",
            Cause::ColdMaterial => "Warm the material through before it is mixed.",
            Cause::ColdSurface => "Warm part or mould, and read it.",
            Cause::Hot => "Work in the cool of the day, smaller pots.",
            Cause::HardenerMuch | Cause::HardenerShort => "Prove the ratio before the part.",
            Cause::OverMixed => "Stir by the clock of the sheet.",
            Cause::NotStirred => "Stir the whole pot, sides and bottom; again after a pause.",
            Cause::SolventTrapped => "Wait for the look the sheet asks before the next pass.",
            Cause::StyreneLow => "Air moving over hollows and the lowest places.",
            Cause::FastBrushing => "Lay it on slowly, and leave it.",
            Cause::WetAir => "Drain the traps before each shift, look at the filter.",
            Cause::Dirt => "Clean twice, then the water-break test.",
            Cause::OverThinned => "Thinner by the plan and no further.",
            Cause::GunSlow | Cause::UnevenSpeed => "Spray to the click at the wanted pace.",
            Cause::GunFar => "Hold the distance of the sheet.",
            Cause::SectionLarge => "Smaller sections: plan them at Spray.",
            Cause::TipWorn | Cause::TipLarge => "Another tip, and its flow written down.",
            Cause::TipDirty => "Clean tip and cap at every use.",
            Cause::PartTrigger => "Pull the trigger through; set the needle stop.",
            Cause::RecoatEarly | Cause::RecoatLate => "Keep the window; past it, abrade.",
            Cause::Blush | Cause::Dew => "Hold until the surface is clear of the dew point, and keep it so while it cures.",
            Cause::OldEdges => "Feather the edges out, seal them, light passes first.",
            Cause::OverlapWrong => "Laps by the fan, as the lap plan draws them.",
            Cause::DoseDiffers => "The same dose in every fill.",
            Cause::TapeLate => "Tape off at its clock.",
            Cause::PastLife => "Mix smaller pots; flush at last call.",
            Cause::LargeMass => "Divide it, and mix less at once.",
            Cause::SupplyNear => "Supply well over what is set; nothing else on that line.",
            Cause::AirInLine => "Bleed the line, look at the suction side.",
            Cause::OldMaterial => "First in, first out; damaged cans go into quarantine.",
            Cause::SomethingElse => "Write down what it was.",
        }
    }
}
