//! Hazards a sheet may name, each with its guard.

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A hazard a person must have met with its guard before work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Hazard {
    /// Isocyanate hardener.
    #[strum(serialize = "Isocyanate hardener")]
    Isocyanate,
    /// Organic peroxide catalyst.
    #[strum(serialize = "Peroxide catalyst")]
    Peroxide,
    /// Flammable solvent.
    #[strum(serialize = "Flammable solvent")]
    Solvent,
    /// Styrene vapour.
    #[strum(serialize = "Styrene vapour")]
    Styrene,
    /// A vessel under pressure.
    #[strum(serialize = "Pot under pressure")]
    PressureVessel,
    /// Airless fluid pressure.
    #[strum(serialize = "High-pressure fluid")]
    HighPressureFluid,
    /// Chromate primer or dust.
    #[strum(serialize = "Chromate")]
    Chromate,
    /// A mix that heats.
    #[strum(serialize = "Mix that heats")]
    Exotherm,
}

impl Worded for Hazard {}

impl Hazard {
    /// The guard, in short. The data sheet, local codes and licensed practice rule.
    pub fn guard(self) -> &'static str {
        match self {
            Hazard::Isocyanate => "Air-fed breathing protection and gloves as the data sheet says.",
            Hazard::Peroxide => "Eyes covered. Never in contact with promoter. Wet soaked rags and remove them.",
            Hazard::Solvent => "Bond and earth rig and pails. Exhaust on before atomizing. No flame.",
            Hazard::Styrene => "Heavier than air: exhaust low, respirator as the data sheet says.",
            Hazard::PressureVessel => "Never over its rating. Never loosen a clamp before the gauge reads zero.",
            Hazard::HighPressureFluid => "A jet through the skin is an emergency. Trigger lock on when idle.",
            Hazard::Chromate => "No dry sanding without dust control. Respirator as the data sheet says.",
            Hazard::Exotherm => "A pot that heats or smokes goes outside, unsealed, away from what burns.",
        }
    }
}
