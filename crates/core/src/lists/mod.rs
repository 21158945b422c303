//! The Ready lists: what is checked before a coat, by substrate, method, hazard and sheet. They are data a lead edits;
//! a batch pins the items that apply to it when it is begun.

mod choosing;
mod document;
mod state;

pub use choosing::Choosing;
pub use document::{MOST_ITEMS, ReadyLists};
pub use state::{Did, ItemNow, ItemState, Tick, profile};

use crate::coat_system::Method;
use crate::component::Component;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::{Hazard, Sheet};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is coated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Substrate {
    /// Steel, blasted.
    #[strum(serialize = "blasted steel")]
    BlastedSteel,
    /// Aluminium, sanded or disc-cut to bright metal.
    #[strum(serialize = "sanded aluminium")]
    SandedAluminium,
    /// A mould that takes gel coat.
    #[strum(serialize = "gel-coat mould")]
    GelCoatMould,
    /// Cured fibreglass.
    #[strum(serialize = "fibreglass")]
    Fibreglass,
    /// Wood.
    #[strum(serialize = "wood")]
    Wood,
    /// Foam.
    #[strum(serialize = "foam")]
    Foam,
    /// A coat already on.
    #[strum(serialize = "already coated")]
    AlreadyCoated,
    /// Steel, sanded or disc-cut bright.
    #[strum(serialize = "sanded steel")]
    SandedSteel,
    /// Bodywork down to the metal.
    #[strum(serialize = "bare bodywork")]
    BareBodywork,
    /// Bodywork with paint on.
    #[strum(serialize = "painted bodywork")]
    PaintedBodywork,
    /// Fabric, doped and taut.
    #[strum(serialize = "doped fabric")]
    DopedFabric,
    /// Brick, block, render, concrete.
    #[strum(serialize = "masonry")]
    Masonry,
    /// Plasterboard, jointed.
    #[strum(serialize = "plasterboard")]
    Plasterboard,
    /// Between wind and water.
    #[strum(serialize = "splash zone")]
    SplashZone,
    /// Below the water line.
    #[strum(serialize = "under water")]
    UnderWater,
}

impl Worded for Substrate {}

/// The heading an item stands under, in the order of the hands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Group {
    /// Cans, drums, lots.
    #[strum(serialize = "Material")]
    Material,
    /// Mock-up panel and control sample.
    #[strum(serialize = "Mock-up")]
    MockUp,
    /// Rig and air.
    #[strum(serialize = "Rig and air")]
    Rig,
    /// The part or the mould.
    #[strum(serialize = "Surface")]
    Surface,
    /// What must stay bare.
    #[strum(serialize = "Masking")]
    Masking,
}

impl Worded for Group {}

/// Which act waits for an item.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Before {
    /// Hardener to base.
    Combine,
    /// The first pass.
    Spray,
}

/// A clock whose figures the sheet states.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SheetClock {
    /// Stirring the drum: its least and most.
    DrumStir,
    /// The drum's rest.
    DrumRest,
    /// A settling mix, stirred again.
    StirAgain,
}

/// What is done for an item.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[derive(strum::EnumDiscriminants)]
#[strum_discriminants(name(WhatKind), doc = "The kinds of what is done for an item.")]
#[strum_discriminants(derive(Serialize, Deserialize, ToSchema, strum::IntoStaticStr, strum::VariantArray))]
#[strum_discriminants(serde(rename_all = "snake_case"))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum What {
    /// Done, and ticked.
    #[strum_discriminants(strum(serialize = "done"))]
    Tick,
    /// Tried: good, or failed with these words.
    #[strum_discriminants(strum(serialize = "good, or failed"))]
    Test {
        /// What a failure looks like.
        fails: String,
    },
    /// A profile read against the sheet.
    #[strum_discriminants(strum(serialize = "a profile read"))]
    Profile,
    /// Started and stopped; at least and at most so long.
    #[strum_discriminants(strum(serialize = "timed"))]
    Timer {
        /// At least.
        #[serde(default)]
        least_s: Option<f64>,
        /// At most.
        #[serde(default)]
        most_s: Option<f64>,
        /// Figures from the sheet.
        #[serde(default)]
        by: Option<SheetClock>,
        /// Words when it ran too long.
        #[serde(default)]
        over: String,
    },
    /// Good for so long once done, then to be done again.
    #[strum_discriminants(strum(serialize = "good for so long"))]
    GoodFor {
        /// So long.
        #[serde(default)]
        window_s: Option<f64>,
        /// From here on it is watched.
        #[serde(default)]
        watch_s: Option<f64>,
        /// Figures from the sheet.
        #[serde(default)]
        by: Option<SheetClock>,
        /// Judged only until the first pass is on.
        #[serde(default)]
        until_coated: bool,
        /// What to do when it is over.
        over: String,
    },
    /// A lead or the owner approves, and names what was compared; a photo may hang on it.
    #[strum_discriminants(strum(serialize = "approved by a lead"))]
    Approve,
    /// A lot is taken.
    #[strum_discriminants(strum(serialize = "a lot taken"))]
    Lot {
        /// Of which component.
        component: Component,
    },
}

impl Worded for WhatKind {}

/// What a batch must have for an item to apply.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Has {
    /// A second component.
    #[strum(serialize = "it has a hardener")]
    Hardener,
    /// Mixed in a pot.
    #[strum(serialize = "it is mixed in a pot")]
    Pot,
    /// Mixed at the gun.
    #[strum(serialize = "it is mixed at the gun")]
    AtGun,
    /// Is sprayed, not brushed or rolled.
    #[strum(serialize = "it is sprayed")]
    Spray,
    /// Thinner in the plan.
    #[strum(serialize = "it is thinned")]
    Thinner,
    /// The sheet states how long the drum is stirred.
    #[strum(serialize = "the drum is stirred")]
    Drum,
    /// The sheet states a profile.
    #[strum(serialize = "the sheet states a profile")]
    Profile,
    /// The sheet states that it settles.
    #[strum(serialize = "it settles")]
    Settles,
    /// The area is over the sheet's limit for a mock-up.
    #[strum(serialize = "the area asks for a mock-up")]
    MockUp,
    /// The sheet states the colour beneath.
    #[strum(serialize = "the sheet names the colour beneath")]
    Undercoat,
    /// The sheet asks for a certificate.
    #[strum(serialize = "the sheet asks for a certificate")]
    Certificate,
    /// The sheet states a strainer.
    #[strum(serialize = "the sheet states a strainer")]
    Strain,
    /// The sheet states a gun filter.
    #[strum(serialize = "the sheet states a gun filter")]
    GunFilter,
    /// The sheet wants no filter in the gun.
    #[strum(serialize = "the sheet wants no gun filter")]
    NoGunFilter,
    /// The sheet states a least rig.
    #[strum(serialize = "the sheet states the rig it needs")]
    LeastRig,
    /// The sheet excludes some service.
    #[strum(serialize = "the sheet excludes some service")]
    Excludes,
    /// Nobody said what the surface is.
    #[strum(serialize = "no surface was said")]
    NoSurface,
    /// It repairs a defect.
    #[strum(serialize = "it repairs a defect")]
    Repair,
}

impl Worded for Has {}

impl ChecklistItem {
    /// How it is done, with what the sheet states of it, as its reader reads figures.
    pub fn hint_by(&self, sheet: &Sheet, prefs: Prefs) -> String {
        let mesh = |um: f64| show(um, QuantityKind::Mesh, prefs).text;
        let said = self.says.and_then(|says| match says {
            SheetSays::Stir => sheet.stir.map(|stir| stir.word().to_string()),
            SheetSays::Strain => sheet.strain_um.map(mesh),
            SheetSays::GunFilter => sheet.gun_filter_um.map(mesh),
        });
        match said {
            Some(said) => format!("{} By the sheet: {said}.", self.hint).trim().to_string(),
            None => self.hint.clone(),
        }
    }
}

/// What a sheet states that is said with an item, where it states it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SheetSays {
    /// How it is stirred.
    Stir,
    /// The mesh it is strained through.
    Strain,
    /// The mesh of the filter in the gun.
    GunFilter,
}

/// When an item applies: any of each list that is not empty, and all of `has`.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct When {
    /// On these.
    #[serde(default)]
    pub substrates: Vec<Substrate>,
    /// By these.
    #[serde(default)]
    pub methods: Vec<Method>,
    /// Where the sheet names one of these.
    #[serde(default)]
    pub hazards: Vec<Hazard>,
    /// Where all of these hold.
    #[serde(default)]
    pub has: Vec<Has>,
}

/// One item of the lists.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChecklistItem {
    /// Its name in the log; never changed once used. Left out, it is made from the text.
    #[serde(default)]
    pub key: String,
    /// Heading.
    pub group: Group,
    /// What to do, in a few words.
    pub text: String,
    /// How, in a sentence.
    #[serde(default)]
    pub hint: String,
    /// What is done for it.
    pub what: What,
    /// Which act waits.
    pub before: Before,
    /// When it applies.
    #[serde(default)]
    pub when: When,
    /// Left out where one person works alone: left undone it neither spoils the work nor hurts anybody.
    #[serde(default)]
    pub crew_only: bool,
    /// What the sheet states of it stands with the hint.
    #[serde(default)]
    pub says: Option<SheetSays>,
    /// Key of an item that must be done first, and whose doing anew undoes this one.
    #[serde(default)]
    pub after: Option<String>,
}
