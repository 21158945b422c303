//! What to look at next: one observation each, and which causes its answer parts.

use super::{Cause, Symptom};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// An observation somebody can make now.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::VariantArray)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Look {
    HolesFromBelow,
    FrothThroughout,
    ThickerThere,
    CatalystAirDown,
    CatalystAirUp,
    WetSpecks,
    FluidDown,
    FluidUp,
    AirUp,
    AirDown,
    WarmIt,
    ColdThere,
    InTheSun,
    CatchShort,
    CatchMuch,
    SmellsInside,
    LowPlaces,
    AlongTheBrush,
    AirOnGlass,
    WaterBeads,
    CupFast,
    StrokeSlow,
    CardAtDistance,
    OnlyAtSeams,
    NewTip,
    CleanCap,
    StrokeEnds,
    RestInPot,
    BackGlossy,
    Greasy,
    WaterMarks,
    SoftBeneath,
    AlongOldEdges,
    EvenBands,
    EndsOfReach,
    StepAtFill,
    TapeBrittle,
    PotWarm,
    SmallCup,
    SupplyFalls,
    BubblesInPail,
    CanSays,
    SmallerTip,
}

/// An observation with what its answer says.
///
/// *Yes* speaks for the causes under `yes` and against those under `no`; *no* speaks against those under `yes`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LookRow {
    /// Which.
    pub look: Look,
    /// For these symptoms; empty: for any that has one of its causes.
    pub of: &'static [Symptom],
    /// What is asked.
    pub question: &'static str,
    /// A yes speaks for these.
    pub yes: &'static [Cause],
    /// And against these.
    pub no: &'static [Cause],
}

impl LookRow {
    /// The row of a look.
    pub fn of(look: Look) -> &'static LookRow {
        // A test holds that every look has its row.
        LOOKS.iter().find(|row| row.look == look).unwrap_or(&LOOKS[0])
    }

    /// It is asked of this symptom.
    pub fn asks(&self, symptom: Symptom) -> bool {
        self.of.is_empty() || self.of.contains(&symptom)
    }

    /// How well its answer parts two causes: 2 where a yes speaks for the one and against the other, 1 where it speaks of one alone,
    /// 0 where it parts them not at all.
    pub fn parts(&self, a: Cause, b: Cause) -> u8 {
        let one = |a: &Cause, b: &Cause| match (self.yes.contains(a), self.yes.contains(b), self.no.contains(b)) {
            (true, false, true) => 2,
            (true, false, false) => 1,
            (true, true, _) | (false, ..) => 0,
        };
        one(&a, &b).max(one(&b, &a))
    }
}

/// All of them. **Source:** common practice in the trade.
#[rustfmt::skip]
pub const LOOKS: &[LookRow] = &[
    LookRow { look: Look::HolesFromBelow, of: &[Symptom::Porosity], question: "Cut a hole open: does it begin at the bottom of the film?", yes: &[Cause::FirstPassHeavy, Cause::ColdSurface, Cause::SolventTrapped], no: &[Cause::FastBrushing, Cause::OverMixed, Cause::CatalystAirHigh] },
    LookRow { look: Look::FrothThroughout, of: &[Symptom::Porosity, Symptom::Sag], question: "Stir a sample and tilt the cup: does it run like water and froth, its body gone?", yes: &[Cause::OverMixed], no: &[Cause::FirstPassHeavy, Cause::OverThinned, Cause::FilmHeavy] },
    LookRow { look: Look::ThickerThere, of: &[], question: "Read the dry film on it and beside it: clearly thicker on it?", yes: &[Cause::FilmHeavy, Cause::GunSlow, Cause::FirstPassHeavy], no: &[Cause::OverThinned, Cause::Hot, Cause::HardenerMuch, Cause::TipLarge, Cause::TapeLate, Cause::ColdSurface] },
    LookRow { look: Look::CatalystAirDown, of: &[Symptom::Porosity, Symptom::LargePits], question: "Spray a card with catalyst air a step lower: are the pits gone?", yes: &[Cause::CatalystAirHigh], no: &[Cause::CatalystAirLow, Cause::CatalystDroplets, Cause::AirInLine] },
    LookRow { look: Look::CatalystAirUp, of: &[Symptom::Porosity], question: "Spray a card with catalyst air a step higher: are the holes gone?", yes: &[Cause::CatalystAirLow], no: &[Cause::CatalystAirHigh, Cause::FirstPassHeavy] },
    LookRow { look: Look::WetSpecks, of: &[], question: "On a sprayed card under a glass: wet specks that stay soft?", yes: &[Cause::CatalystDroplets], no: &[Cause::WetAir, Cause::Dirt, Cause::SolventTrapped, Cause::RecoatEarly, Cause::StyreneLow, Cause::CatalystAirHigh] },
    LookRow { look: Look::FluidDown, of: &[], question: "Spray a card with a step less fluid: is it better?", yes: &[Cause::FluidHigh, Cause::FluidOverAir], no: &[Cause::FluidLow, Cause::AirLow, Cause::ColdMaterial, Cause::TipDirty] },
    LookRow { look: Look::FluidUp, of: &[], question: "Spray a card with a step more fluid: is it better?", yes: &[Cause::FluidLow], no: &[Cause::FluidHigh, Cause::TipWorn, Cause::AirHigh, Cause::TipDirty] },
    LookRow { look: Look::AirUp, of: &[], question: "Spray a card with a step more atomizing air: is it better?", yes: &[Cause::AirLow], no: &[Cause::AirHigh, Cause::ColdMaterial, Cause::FluidHigh] },
    LookRow { look: Look::AirDown, of: &[], question: "Spray a card with a step less atomizing air: is it better?", yes: &[Cause::AirHigh], no: &[Cause::AirLow, Cause::GunFar, Cause::FluidLow] },
    LookRow { look: Look::WarmIt, of: &[], question: "Warm a cupful of it and spray a card: is it better?", yes: &[Cause::ColdMaterial], no: &[Cause::FluidLow, Cause::AirLow, Cause::TipWorn, Cause::TipDirty, Cause::FluidHigh, Cause::CatalystAirHigh, Cause::CatalystAirLow] },
    LookRow { look: Look::ColdThere, of: &[], question: "Lay a thermometer on it and beside it: colder on it?", yes: &[Cause::ColdSurface], no: &[Cause::HardenerShort, Cause::NotStirred, Cause::OldMaterial, Cause::HardenerMuch, Cause::ColdMaterial] },
    LookRow { look: Look::InTheSun, of: &[], question: "Ask who was there: was it in the sun, or warm to the hand?", yes: &[Cause::Hot], no: &[Cause::FilmHeavy, Cause::OverThinned, Cause::OverMixed, Cause::GunFar, Cause::TapeLate, Cause::LargeMass] },
    LookRow { look: Look::CatchShort, of: &[], question: "Catch both streams, or weigh a trial pot: too little hardener?", yes: &[Cause::HardenerShort], no: &[Cause::HardenerMuch, Cause::ColdSurface, Cause::OldMaterial, Cause::NotStirred] },
    LookRow { look: Look::CatchMuch, of: &[], question: "Catch both streams, or weigh a trial pot: too much hardener?", yes: &[Cause::HardenerMuch], no: &[Cause::HardenerShort, Cause::FilmHeavy, Cause::PastLife, Cause::LargeMass] },
    LookRow { look: Look::SmellsInside, of: &[Symptom::Porosity, Symptom::Blisters, Symptom::Sag, Symptom::Ghosting], question: "Cut it open: does it smell of solvent or styrene?", yes: &[Cause::SolventTrapped], no: &[Cause::CatalystDroplets, Cause::FastBrushing, Cause::OverMixed, Cause::OldEdges] },
    LookRow { look: Look::LowPlaces, of: &[Symptom::PatchyCure], question: "Is it soft in hollows and the lowest places alone?", yes: &[Cause::StyreneLow], no: &[Cause::NotStirred, Cause::PartTrigger, Cause::CatalystDroplets, Cause::HardenerShort] },
    LookRow { look: Look::AlongTheBrush, of: &[Symptom::Porosity], question: "Do the holes follow the strokes of the brush?", yes: &[Cause::FastBrushing], no: &[Cause::FirstPassHeavy, Cause::OverMixed] },
    LookRow { look: Look::AirOnGlass, of: &[Symptom::FishEyes], question: "Blow the gun's air on clean glass for a minute: wet, or oily?", yes: &[Cause::WetAir], no: &[Cause::Dirt, Cause::CatalystDroplets] },
    LookRow { look: Look::WaterBeads, of: &[Symptom::FishEyes, Symptom::Peel], question: "Wet the bare surface beside it: does water bead?", yes: &[Cause::Dirt], no: &[Cause::WetAir, Cause::RecoatLate, Cause::Blush, Cause::Dew] },
    LookRow { look: Look::CupFast, of: &[Symptom::Sag], question: "Run the flow cup: faster than planned?", yes: &[Cause::OverThinned], no: &[Cause::FilmHeavy, Cause::OverMixed, Cause::Hot] },
    LookRow { look: Look::StrokeSlow, of: &[Symptom::Sag], question: "Spray a yard of card to the click: slower than the wanted pace?", yes: &[Cause::GunSlow], no: &[Cause::FilmHeavy, Cause::Hot, Cause::OverThinned, Cause::FluidHigh] },
    LookRow { look: Look::CardAtDistance, of: &[Symptom::DrySpray], question: "Spray a card at the sheet's distance: wet and closed?", yes: &[Cause::GunFar], no: &[Cause::AirHigh, Cause::FluidLow, Cause::Hot] },
    LookRow { look: Look::OnlyAtSeams, of: &[Symptom::DrySpray], question: "Is it only where one field meets the next?", yes: &[Cause::SectionLarge], no: &[Cause::GunFar, Cause::AirHigh, Cause::FluidLow, Cause::Hot] },
    LookRow { look: Look::NewTip, of: &[Symptom::Fingers], question: "Fit a new tip and spray a card: is it gone?", yes: &[Cause::TipWorn], no: &[Cause::FluidLow, Cause::ColdMaterial] },
    LookRow { look: Look::CleanCap, of: &[], question: "Clean tip and cap and spray a card: is it gone?", yes: &[Cause::TipDirty], no: &[Cause::TipWorn, Cause::SupplyNear, Cause::AirInLine, Cause::FluidOverAir] },
    LookRow { look: Look::StrokeEnds, of: &[Symptom::PatchyCure], question: "Is it soft at the start and end of strokes?", yes: &[Cause::PartTrigger], no: &[Cause::NotStirred, Cause::StyreneLow, Cause::ColdSurface] },
    LookRow { look: Look::RestInPot, of: &[], question: "Look at the rest in the pot: unlike at top and bottom?", yes: &[Cause::NotStirred], no: &[Cause::PartTrigger, Cause::DoseDiffers, Cause::HardenerShort, Cause::ColdSurface] },
    LookRow { look: Look::BackGlossy, of: &[Symptom::Peel], question: "Look at the back of a flake: glossy, with nothing of the coat beneath?", yes: &[Cause::RecoatLate], no: &[Cause::Dew, Cause::Dirt, Cause::Blush] },
    LookRow { look: Look::Greasy, of: &[Symptom::Peel], question: "Is the coat beneath greasy or cloudy, and does a wet rag take it off?", yes: &[Cause::Blush], no: &[Cause::RecoatLate, Cause::Dew, Cause::Dirt] },
    LookRow { look: Look::WaterMarks, of: &[Symptom::Peel], question: "On the back of a flake: drops, rust or water marks?", yes: &[Cause::Dew], no: &[Cause::RecoatLate, Cause::Blush, Cause::Dirt] },
    LookRow { look: Look::SoftBeneath, of: &[Symptom::Blisters, Symptom::Ghosting], question: "Press a nail into the coat beneath: soft?", yes: &[Cause::RecoatEarly], no: &[Cause::CatalystDroplets, Cause::OldEdges, Cause::SolventTrapped] },
    LookRow { look: Look::AlongOldEdges, of: &[Symptom::Ghosting], question: "Does it follow the edges of an old repair?", yes: &[Cause::OldEdges], no: &[Cause::RecoatEarly, Cause::SolventTrapped] },
    LookRow { look: Look::EvenBands, of: &[Symptom::Stripes], question: "Are the bands evenly spaced, as wide as a stroke?", yes: &[Cause::OverlapWrong], no: &[Cause::UnevenSpeed] },
    LookRow { look: Look::EndsOfReach, of: &[Symptom::Stripes, Symptom::ShadeSteps], question: "Do they lie at the ends of the arm's reach?", yes: &[Cause::UnevenSpeed], no: &[Cause::OverlapWrong, Cause::DoseDiffers, Cause::NotStirred] },
    LookRow { look: Look::StepAtFill, of: &[Symptom::ShadeSteps], question: "Does the shade step where a new fill began?", yes: &[Cause::DoseDiffers], no: &[Cause::NotStirred, Cause::UnevenSpeed] },
    LookRow { look: Look::TapeBrittle, of: &[Symptom::RaggedTape], question: "Pull a strip of tape that is left: does the film break brittle?", yes: &[Cause::TapeLate], no: &[Cause::Hot, Cause::FilmHeavy] },
    LookRow { look: Look::PotWarm, of: &[Symptom::EarlyGel], question: "Was the rest in the pot hot to the hand?", yes: &[Cause::LargeMass], no: &[Cause::PastLife, Cause::HardenerMuch] },
    LookRow { look: Look::SmallCup, of: &[Symptom::EarlyGel], question: "Mix a small cup of the same lots at the same warmth: does it keep its life?", yes: &[Cause::PastLife], no: &[Cause::HardenerMuch, Cause::Hot] },
    LookRow { look: Look::SupplyFalls, of: &[Symptom::PulsingFan], question: "Watch the supply gauge while another tool draws air: does it fall?", yes: &[Cause::SupplyNear], no: &[Cause::AirInLine, Cause::TipDirty] },
    LookRow { look: Look::BubblesInPail, of: &[], question: "Run fluid into a pail: does it spit or bubble?", yes: &[Cause::AirInLine], no: &[Cause::SupplyNear, Cause::TipDirty, Cause::FluidOverAir, Cause::CatalystAirHigh] },
    LookRow { look: Look::CanSays, of: &[Symptom::PoorCure], question: "Read the cans and look in: past the date, lumps, a skin?", yes: &[Cause::OldMaterial], no: &[Cause::HardenerShort, Cause::ColdSurface, Cause::NotStirred] },
    LookRow { look: Look::SmallerTip, of: &[Symptom::BridgedGaps], question: "Spray a card of the joint with a tip a size smaller: does it stay open?", yes: &[Cause::TipLarge], no: &[Cause::FilmHeavy] },
];
