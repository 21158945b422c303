//! What is seen on a part, or at the gun.

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A defect as it is seen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::EnumString, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Symptom {
    /// Fine holes through the film.
    #[strum(serialize = "porosity")]
    Porosity,
    /// Round dimples with a rim.
    #[strum(serialize = "fish-eyes")]
    FishEyes,
    /// Single large pits.
    #[strum(serialize = "large pits")]
    LargePits,
    /// It hangs and runs.
    #[strum(serialize = "sag or run")]
    Sag,
    /// A coarse surface.
    #[strum(serialize = "coarse")]
    Coarse,
    /// Single large drops.
    #[strum(serialize = "splatter")]
    Splatter,
    /// Dry dust on and in the film.
    #[strum(serialize = "dry spray")]
    DrySpray,
    /// Streaks at the edges of the fan.
    #[strum(serialize = "fingers")]
    Fingers,
    /// Soft everywhere.
    #[strum(serialize = "poor cure")]
    PoorCure,
    /// Soft in places.
    #[strum(serialize = "patchy cure")]
    PatchyCure,
    /// Domes under the film.
    #[strum(serialize = "blisters")]
    Blisters,
    /// It comes off.
    #[strum(serialize = "peel")]
    Peel,
    /// Cracks.
    #[strum(serialize = "cracks")]
    Cracks,
    /// Closed over what should stay open.
    #[strum(serialize = "bridged gaps")]
    BridgedGaps,
    /// What lies beneath shows through.
    #[strum(serialize = "ghosting")]
    Ghosting,
    /// Light and dark bands.
    #[strum(serialize = "stripes")]
    Stripes,
    /// The shade steps from one field to the next.
    #[strum(serialize = "shade steps")]
    ShadeSteps,
    /// The line of the tape is torn.
    #[strum(serialize = "ragged tape line")]
    RaggedTape,
    /// It set in the pot.
    #[strum(serialize = "early gel")]
    EarlyGel,
    /// The fan breathes.
    #[strum(serialize = "pulsing fan")]
    PulsingFan,
}

impl Worded for Symptom {}

impl Symptom {
    /// What it looks like, in a few words.
    pub fn seen_as(self) -> &'static str {
        match self {
            Symptom::Porosity => "fine holes, close together",
            Symptom::FishEyes => "round dimples, bare in the middle",
            Symptom::LargePits => "single deep holes",
            Symptom::Sag => "curtains and tears on upright faces",
            Symptom::Coarse => "rough like peel, not laid down",
            Symptom::Splatter => "single large drops",
            Symptom::DrySpray => "dull dust that never flowed",
            Symptom::Fingers => "heavy streaks at the ends of the fan",
            Symptom::PoorCure => "soft all over",
            Symptom::PatchyCure => "soft in places, hard beside them",
            Symptom::Blisters => "domes that give under a nail",
            Symptom::Peel => "sheets that lift from what is beneath",
            Symptom::Cracks => "lines that open, first at corners",
            Symptom::BridgedGaps => "a skin over joints and holes",
            Symptom::Ghosting => "old edges drawn through the new coat",
            Symptom::Stripes => "bands as wide as the fan",
            Symptom::ShadeSteps => "one field darker than the next",
            Symptom::RaggedTape => "teeth and threads along the line",
            Symptom::EarlyGel => "thick or set before it was on",
            Symptom::PulsingFan => "the pattern swells and shrinks",
        }
    }

    /// It is seen at pot or gun, and not in a zone.
    pub fn is_at_the_gun(self) -> bool {
        match self {
            Symptom::EarlyGel | Symptom::PulsingFan | Symptom::Fingers => true,
            Symptom::Porosity
            | Symptom::FishEyes
            | Symptom::LargePits
            | Symptom::Sag
            | Symptom::Coarse
            | Symptom::Splatter
            | Symptom::DrySpray
            | Symptom::PoorCure
            | Symptom::PatchyCure
            | Symptom::Blisters
            | Symptom::Peel
            | Symptom::Cracks
            | Symptom::BridgedGaps
            | Symptom::Ghosting
            | Symptom::Stripes
            | Symptom::ShadeSteps
            | Symptom::RaggedTape => false,
        }
    }

    /// How it is mended where nothing speaks against it; the data sheet rules. **Source:** common practice in the trade.
    pub fn mend(self) -> &'static str {
        match self {
            Symptom::Sag => "While wet: scrape it off, let it dry, coat again. Hard: sand it level, clean, scuff, spray.",
            Symptom::Stripes | Symptom::ShadeSteps => "Cross the light areas lightly; what stays is cleaned, scuffed, sprayed.",
            Symptom::EarlyGel => "Discard the pot outside, away from what burns. Flush gun and hose at once.",
            Symptom::PulsingFan | Symptom::Fingers => "Stop, mend the cause, spray a card, then go on.",
            Symptom::PoorCure | Symptom::PatchyCure => "Soft paint comes off down to what is sound. Then clean, scuff, spray.",
            Symptom::Peel | Symptom::Blisters | Symptom::Cracks => {
                "Off with what is loose, feather the edge. Then clean, scuff, spray."
            }
            Symptom::Porosity
            | Symptom::FishEyes
            | Symptom::LargePits
            | Symptom::Coarse
            | Symptom::Splatter
            | Symptom::DrySpray
            | Symptom::BridgedGaps
            | Symptom::Ghosting
            | Symptom::RaggedTape => "Clean, scuff, spray the zone again.",
        }
    }
}
