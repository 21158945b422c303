//! The Ready lists: what is checked before a coat, by substrate, method, hazard and sheet. They are data a lead edits;
//! a batch pins the items that apply to it when it is begun.

mod state;

pub use state::{Did, ItemNow, ItemState, Tick, profile};

use crate::coat_system::Method;
use crate::component::Component;
use crate::limits::{self, check_text};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::sheets::{ChargeKind, Hazard, Sheet};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
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
    /// The sheet states a least rig.
    #[strum(serialize = "the sheet states a least rig")]
    LeastRig,
    /// The sheet excludes some service.
    #[strum(serialize = "the sheet excludes some service")]
    Excludes,
}

impl Worded for Has {}

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
    /// Key of an item that must be done first, and whose doing anew undoes this one.
    #[serde(default)]
    pub after: Option<String>,
}

/// What is known of a batch when its items are chosen.
#[derive(Debug, Clone, Copy)]
pub struct Choosing<'a> {
    /// Its sheet.
    pub sheet: &'a Sheet,
    /// What is coated; unknown: only items for any.
    pub substrate: Option<Substrate>,
    /// How; unknown: as the sheet is mixed.
    pub method: Option<Method>,
    /// Area.
    pub area_m2: f64,
    /// Thinner planned.
    pub thinner_pct: f64,
}

impl Choosing<'_> {
    fn has(&self, has: Has) -> bool {
        let sheet = self.sheet;
        match has {
            Has::Hardener => sheet.has_hardener,
            Has::Pot => sheet.charge == ChargeKind::Pot,
            Has::AtGun => sheet.charge == ChargeKind::AtGun,
            Has::Spray => self.method.is_none_or(Method::sprays),
            Has::Thinner => self.thinner_pct > 0.0,
            Has::Drum => sheet.drum_stir_min_s.is_some(),
            Has::Profile => sheet.profile_min_um.is_some(),
            Has::Settles => sheet.stir_again_s.is_some(),
            Has::MockUp => sheet.mock_up_over_m2.is_some_and(|m2| self.area_m2 > m2),
            Has::Undercoat => sheet.undercoat_colour.is_some(),
            Has::Certificate => sheet.certificate_needed,
            Has::Strain => sheet.strain_um.is_some(),
            Has::GunFilter => sheet.gun_filter_um.is_some(),
            Has::LeastRig => sheet.least_rig.is_some(),
            Has::Excludes => sheet.excludes.is_some(),
        }
    }

    fn wants(&self, when: &When) -> bool {
        let any = |list_is_empty: bool, holds: bool| list_is_empty || holds;
        any(when.substrates.is_empty(), self.substrate.is_some_and(|s| when.substrates.contains(&s)))
            && any(when.methods.is_empty(), self.method.is_some_and(|m| when.methods.contains(&m)))
            && any(when.hazards.is_empty(), when.hazards.iter().any(|h| self.sheet.hazards.contains(h)))
            && when.has.iter().all(|h| self.has(*h))
    }

    /// The items that apply, in the order of the hands, with the sheet's figures put in.
    pub fn choose(&self, items: &[ChecklistItem]) -> Vec<ChecklistItem> {
        let mut chosen: Vec<ChecklistItem> = items.iter().filter(|i| self.wants(&i.when)).map(|i| self.with_figures(i)).collect();
        chosen.sort_by_key(|i| i.group);
        chosen
    }

    fn with_figures(&self, item: &ChecklistItem) -> ChecklistItem {
        let mut item = item.clone();
        // What the sheet says of it stands with the hint.
        let says = |has: &Has| match has {
            Has::LeastRig => self.sheet.least_rig.clone(),
            Has::Excludes => self.sheet.excludes.clone(),
            Has::Undercoat => self.sheet.undercoat_colour.clone(),
            _ => None,
        };
        for said in item.when.has.iter().filter_map(says) {
            item.hint = format!("{} By the sheet: {said}.", item.hint).trim().to_string();
        }
        item.when = When::default();
        match &mut item.what {
            What::Timer { least_s, most_s, by: Some(by), .. } => match by {
                SheetClock::DrumStir => (*least_s, *most_s) = (self.sheet.drum_stir_min_s, self.sheet.drum_stir_max_s),
                SheetClock::DrumRest => *least_s = self.sheet.drum_rest_s,
                SheetClock::StirAgain => *most_s = self.sheet.stir_again_s,
            },
            What::GoodFor { window_s, by: Some(SheetClock::StirAgain), .. } => *window_s = self.sheet.stir_again_s,
            _ => {}
        }
        item
    }
}

/// The whole of the lists, one document.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadyLists {
    /// Items.
    pub items: Vec<ChecklistItem>,
}

/// Most items of the lists.
pub const MOST_ITEMS: usize = 200;
const TEXT_CHARS: usize = 80;
const HINT_CHARS: usize = 240;
const KEY_CHARS: usize = 40;

/// A key for an item that has none yet, from its words.
fn own_key(text: &str, taken: &BTreeSet<String>) -> String {
    let plain: String = text.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '_' }).take(30).collect();
    let stem = format!("own_{}", plain.trim_matches('_'));
    (1..).map(|n| if n == 1 { stem.clone() } else { format!("{stem}_{n}") }).find(|k| !taken.contains(k)).unwrap_or(stem)
}

impl ReadyLists {
    /// The lists a shop begins with. **Source:** common practice in the trade; every figure editable.
    pub fn usual() -> ReadyLists {
        // A broken file cannot be shipped: a test parses and validates it.
        serde_json::from_str(include_str!("../../data/ready_lists.json")).unwrap_or(ReadyLists { items: Vec::new() })
    }

    /// Checks every item; gives a key to one that has none.
    ///
    /// **Errors:** a [`Refusal`] naming the path, such as `items[3].text`.
    ///
    /// ```
    /// use level_keel_core::lists::ReadyLists;
    /// let one = r#"{ "items": [{ "group": "rig", "text": "Drain the trap", "what": { "kind": "tick" }, "before": "spray" }] }"#;
    /// let lists: ReadyLists = serde_json::from_str(one).unwrap();
    /// assert_eq!(lists.validate(Default::default()).unwrap().items[0].key, "own_drain_the_trap");
    /// ```
    pub fn validate(mut self, prefs: Prefs) -> Result<ReadyLists, Refusal> {
        if self.items.len() > MOST_ITEMS {
            return Err(Refusal::bad_input("too-many", "items", format!("At most {MOST_ITEMS} items.")));
        }
        let mut taken: BTreeSet<String> = self.items.iter().map(|i| i.key.clone()).collect();
        let mut keys = BTreeSet::new();
        for (i, item) in self.items.iter_mut().enumerate() {
            let at = |field: &str| format!("items[{i}].{field}");
            if item.key.is_empty() {
                item.key = own_key(&item.text, &taken);
                taken.insert(item.key.clone());
            }
            item.key = check_text(&at("key"), &item.key, KEY_CHARS)?;
            if !keys.insert(item.key.clone()) {
                return Err(Refusal::bad_input("twice", &at("key"), "Two items cannot have the same key."));
            }
            item.text = check_text(&at("text"), &item.text, TEXT_CHARS)?;
            if !item.hint.trim().is_empty() {
                item.hint = check_text(&at("hint"), &item.hint, HINT_CHARS)?;
            }
            if let Some(after) = &item.after
                && !keys.contains(after.as_str())
            {
                return Err(Refusal::bad_input("unknown-item", &at("after"), "No item above this one has that key."));
            }
            let times: &[(&str, Option<f64>)] = match &item.what {
                What::Timer { least_s, most_s, .. } => &[("least_s", *least_s), ("most_s", *most_s)],
                What::GoodFor { window_s, watch_s, .. } => &[("window_s", *window_s), ("watch_s", *watch_s)],
                _ => &[],
            };
            for (field, s) in times {
                limits::HANDLING_TIME.check_optional(&at(&format!("what.{field}")), *s, prefs)?;
            }
            match &item.what {
                What::Timer { least_s: Some(least), most_s: Some(most), .. } if least > most => {
                    return Err(Refusal::bad_input("out-of-order", &at("what.most_s"), "The most is less than the least."));
                }
                What::GoodFor { window_s: None, by: None, .. } => {
                    return Err(Refusal::bad_input("missing", &at("what.window_s"), "How long is it good for?"));
                }
                _ => {}
            }
        }
        Ok(self)
    }
}
