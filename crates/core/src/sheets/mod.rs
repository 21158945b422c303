//! A product sheet: what the maker states and the shop holds to.

pub mod changes;
pub mod document;
mod handling;
mod hazard;
mod label;
mod passes;
mod proportion;
pub mod schools;
pub mod times;
mod validate;
mod words;

pub use handling::{FilmProof, LookStage, OverlapSchool, PassWay, ReadyLook, Stir, StreamSchool};
pub use hazard::Hazard;
pub use label::propose_label;
pub use proportion::{Band, DEFAULT_TOLERANCE_PCT, Hardener};
pub use validate::{MOST_ADDITIVES, MOST_COATS, MOST_STEPS, MOST_TIMES, check_thinner_percent};

use crate::acceptance::AcceptBy;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// How A and B are proportioned. Never guessed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Basis {
    /// Parts by volume.
    #[strum(serialize = "by volume")]
    ByVolume,
    /// Parts by weight.
    #[strum(serialize = "by weight")]
    ByWeight,
    /// Per cent of B on A, by weight.
    #[strum(serialize = "percent on base, by weight")]
    PercentByWeight,
    /// Per cent of B on A, by volume.
    #[strum(serialize = "percent on base, by volume")]
    PercentByVolume,
    /// Only as the factory filled the two cans of a kit.
    #[strum(serialize = "as the kit is filled")]
    ByKit,
}

impl Worded for Basis {}

/// What the thinner percentage is of, by volume.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ThinnerBasis {
    /// Of the base.
    #[strum(serialize = "of base")]
    OfBase,
    /// Of base and hardener together.
    #[strum(serialize = "of mixed")]
    OfMixed,
    /// Of everything in the cup, thinner included.
    #[strum(serialize = "of finished")]
    OfFinished,
}

impl Worded for ThinnerBasis {}

/// What a charge of this product is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ChargeKind {
    /// One mixed vessel.
    #[strum(serialize = "in a pot")]
    Pot,
    /// Mixed at the gun by a machine or twin feed.
    #[strum(serialize = "at the gun")]
    AtGun,
}

impl Worded for ChargeKind {}

/// Something stirred in for colour, sheen or grip, after the ratio is made.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Additive {
    /// Its name.
    pub name: String,
    /// Dose per litre of sprayable paint: base, hardener and thinner together.
    #[serde(default)]
    pub dose_g_l: Option<f64>,
    /// Dose as per cent of the base, by weight.
    #[serde(default)]
    pub dose_pct: Option<f64>,
    /// Its density; missing: it is taken not to add volume.
    #[serde(default)]
    pub density_kg_l: Option<f64>,
}

/// A step of a coat: its name and how it is sprayed. The fluid pressure stays, the atomizing may change.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CoatStep {
    /// Tack, wet, ground, pattern, mist …
    pub name: String,
    /// Its own atomizing pressure.
    #[serde(default)]
    pub atomizing_kpa: Option<f64>,
    /// Passes in it.
    #[serde(default)]
    pub passes_count: Option<f64>,
    /// Wait before the step that follows.
    #[serde(default)]
    pub wait_s: Option<f64>,
    /// Least wait between two of its passes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub between_s: Option<f64>,
    /// Most wait after one of its passes: then the edge is lost.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub between_latest_s: Option<f64>,
    /// What one of its passes looks like when the next may go over it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub look: Option<ReadyLook>,
    /// The way of its first pass.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub way: Option<PassWay>,
    /// Every pass crosses the one before, with the cap turned a quarter.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub crossed: bool,
    /// Nearest the gun is held.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub distance_min_mm: Option<f64>,
    /// Farthest.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub distance_max_mm: Option<f64>,
}

/// What steps of a coat are usually called, where a sheet names none; common practice in the trade.
pub const USUAL_STEPS: [&str; 5] = ["tack", "wet", "ground", "pattern", "cross"];

/// The clocks as a sheet states them at one further temperature.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TimesAt {
    /// The temperature.
    pub at_c: f64,
    /// Pot life there.
    #[serde(default)]
    pub pot_life_s: Option<f64>,
    /// Induction there.
    #[serde(default)]
    pub induction_s: Option<f64>,
    /// Earliest recoat there.
    #[serde(default)]
    pub recoat_min_s: Option<f64>,
    /// Latest recoat there.
    #[serde(default)]
    pub recoat_max_s: Option<f64>,
}

/// What the two cans of a factory kit hold.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Kit {
    /// Base.
    pub base_g: f64,
    /// Hardener.
    pub hardener_g: f64,
}

/// A product sheet. One flat form, so that every refusal names its field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Sheet {
    /// Product name.
    pub name: String,
    /// Short label for rack, floats and lists.
    pub label: String,
    /// Pot or at the gun.
    pub charge: ChargeKind,
    /// Density of A; missing: it is measured by volume alone.
    #[serde(default)]
    pub base_density_kg_l: Option<f64>,
    /// Volume solids of the mixed product before thinning.
    pub solids_pct: f64,
    /// Whether there is a second component.
    pub has_hardener: bool,
    /// Basis of the ratio.
    #[serde(default)]
    pub basis: Option<Basis>,
    /// Parts of A to one part of B.
    #[serde(default)]
    pub ratio: Option<f64>,
    /// Per cent of B on A, for [`Basis::PercentByWeight`] and [`Basis::PercentByVolume`].
    #[serde(default)]
    pub hardener_pct: Option<f64>,
    /// Least of the catalyst band; under it is a stop.
    #[serde(default)]
    pub band_low_pct: Option<f64>,
    /// Most of the catalyst band; over it is a stop.
    #[serde(default)]
    pub band_high_pct: Option<f64>,
    /// Density of B; missing: measured by volume alone.
    #[serde(default)]
    pub hardener_density_kg_l: Option<f64>,
    /// Base in the can of a factory kit.
    #[serde(default)]
    pub kit_base_g: Option<f64>,
    /// Hardener in the can of a factory kit.
    #[serde(default)]
    pub kit_hardener_g: Option<f64>,
    /// The same by volume, where the kit is sold so.
    #[serde(default)]
    pub kit_base_ml: Option<f64>,
    /// Hardener of a kit that is sold by volume.
    #[serde(default)]
    pub kit_hardener_ml: Option<f64>,
    /// The kit's base can has a line: hardener is filled up to it, and no can of hardener is emptied.
    #[serde(default)]
    pub kit_to_line: bool,
    /// It may be mixed by a cup that cannot prove the ratio: a standing release, said on every card.
    #[serde(default)]
    pub mixed_by_cup: bool,
    /// A bond test on the real substrate comes before it goes on the part.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub bond_test: bool,
    /// Allowed error of B per A.
    #[serde(default)]
    pub tolerance_pct: Option<f64>,
    /// Most thinner allowed; 0 or missing: never thinned.
    #[serde(default)]
    pub thinner_max_pct: Option<f64>,
    /// What the thinner percentage is of.
    #[serde(default)]
    pub thinner_basis: Option<ThinnerBasis>,
    /// Density of the thinner; missing: measured by volume alone.
    #[serde(default)]
    pub thinner_density_kg_l: Option<f64>,
    /// Additives, in the order stirred in; at most three.
    #[serde(default)]
    pub additives: Vec<Additive>,
    /// Pot life.
    #[serde(default)]
    pub pot_life_s: Option<f64>,
    /// The temperature it is stated at.
    #[serde(default)]
    pub pot_life_at_c: Option<f64>,
    /// Induction.
    #[serde(default)]
    pub induction_s: Option<f64>,
    /// Earliest recoat.
    #[serde(default)]
    pub recoat_min_s: Option<f64>,
    /// Latest recoat without abrading.
    #[serde(default)]
    pub recoat_max_s: Option<f64>,
    /// The temperature the recoat times are stated at.
    #[serde(default)]
    pub recoat_at_c: Option<f64>,
    /// A prepared surface is coated within this time.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub open_surface_s: Option<f64>,
    /// Masking comes off after this time; the times of the coat are stated where recoat is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mask_off_s: Option<f64>,
    /// Dust does not stick any more.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dust_dry_s: Option<f64>,
    /// Dry to touch.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub touch_dry_s: Option<f64>,
    /// It may be handled.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub handle_s: Option<f64>,
    /// It may go into service.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub service_s: Option<f64>,
    /// The next trade may work on it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub next_trade_s: Option<f64>,
    /// Coats of it that may stand one over the other; missing: the sheet does not say that it goes over itself.
    #[serde(default)]
    pub coats_most_count: Option<f64>,
    /// Viscosity as sprayed; of a power-law fluid its consistency.
    #[serde(default)]
    pub viscosity_mpa_s: Option<f64>,
    /// The temperature it is stated at.
    #[serde(default)]
    pub viscosity_at_c: Option<f64>,
    /// Viscosity at a second temperature.
    #[serde(default)]
    pub viscosity_warm_mpa_s: Option<f64>,
    /// That temperature.
    #[serde(default)]
    pub viscosity_warm_at_c: Option<f64>,
    /// Power-law index; missing: it flows as water does.
    #[serde(default)]
    #[schema(minimum = 0.1)]
    pub flow_index: Option<f64>,
    /// Wet film aimed at in one coat.
    pub wet_um: f64,
    /// Least wet film.
    pub wet_min_um: f64,
    /// Most wet film.
    pub wet_max_um: f64,
    /// Least of the first pass, judged by itself.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub first_pass_min_um: Option<f64>,
    /// Most of the first pass: never over it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub first_pass_max_um: Option<f64>,
    /// Least of each later pass.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pass_min_um: Option<f64>,
    /// Most of each later pass.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pass_max_um: Option<f64>,
    /// What proves it; missing on a sheet kept before that was asked: the comb, and the eye for twin feed, textures and
    /// release films.
    #[serde(default)]
    pub film_proof: Option<FilmProof>,
    /// Least dry film of one coat; missing: its wet film times the solids.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dry_min_um: Option<f64>,
    /// Most dry film of one coat.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dry_max_um: Option<f64>,
    /// What accepts it after the work is signed; empty: what proves its film.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub accepted_by: BTreeSet<AcceptBy>,
    /// Stages it is looked at.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub look_stages: BTreeSet<LookStage>,
    /// The most area that a litre of base and hardener may go on, thinner not counted.
    #[serde(default)]
    pub area_max_m2_l: Option<f64>,
    /// Coldest air, surface and material.
    pub temp_min_c: f64,
    /// Hottest air, surface and material.
    pub temp_max_c: f64,
    /// Least margin of the surface above dew point; missing: not applicable by sheet.
    #[serde(default)]
    pub margin_min_dk: Option<f64>,
    /// Most relative humidity; missing: not applicable by sheet.
    #[serde(default)]
    pub rh_max_pct: Option<f64>,
    /// Stream school.
    pub stream: StreamSchool,
    /// The clocks at further temperatures, at most five.
    #[serde(default)]
    pub times: Vec<TimesAt>,
    /// Colour the sheet is for.
    #[serde(default)]
    pub colour: Option<String>,
    /// Colour of the coat beneath, where the finish is see-through.
    #[serde(default)]
    pub undercoat_colour: Option<String>,
    /// How base and hardener are stirred.
    #[serde(default)]
    pub stir: Option<Stir>,
    /// A settling mix: stirred again at least this often.
    #[serde(default)]
    pub stir_again_s: Option<f64>,
    /// Drum of gel coat: least stirring.
    #[serde(default)]
    pub drum_stir_min_s: Option<f64>,
    /// Drum of gel coat: most stirring; longer takes its body away.
    #[serde(default)]
    pub drum_stir_max_s: Option<f64>,
    /// Drum of gel coat: rest after stirring.
    #[serde(default)]
    pub drum_rest_s: Option<f64>,
    /// Mesh the mix is strained through.
    #[serde(default)]
    pub strain_um: Option<f64>,
    /// Mesh of the filter in the gun.
    #[serde(default)]
    pub gun_filter_um: Option<f64>,
    /// No filter may stand in the gun: it would keep pearl or flake back.
    #[serde(default)]
    pub no_gun_filter: bool,
    /// Smallest nozzle that lets the flake through.
    #[serde(default)]
    pub tip_min_um: Option<f64>,
    /// Steps of a coat, at most four.
    #[serde(default)]
    pub steps: Vec<CoatStep>,
    /// Overlap school.
    #[serde(default)]
    pub overlap: Option<OverlapSchool>,
    /// Catalyst atomizing air, least.
    #[serde(default)]
    pub catalyst_air_min_kpa: Option<f64>,
    /// Catalyst atomizing air, most.
    #[serde(default)]
    pub catalyst_air_max_kpa: Option<f64>,
    /// Least profile of a blasted surface.
    #[serde(default)]
    pub profile_min_um: Option<f64>,
    /// Most profile of a blasted surface.
    #[serde(default)]
    pub profile_max_um: Option<f64>,
    /// Over this area a mock-up panel is approved first.
    #[serde(default)]
    pub mock_up_over_m2: Option<f64>,
    /// A lot without its certificate is held.
    #[serde(default)]
    pub certificate_needed: bool,
    /// The cap it asks, by what is stamped on it.
    #[serde(default)]
    pub least_cap: Option<String>,
    /// What else the sheet asks of the rig, in words: how it is fed.
    #[serde(default)]
    pub least_rig: Option<String>,
    /// Least bore of the fluid hose.
    #[serde(default)]
    pub least_hose_bore_mm: Option<f64>,
    /// Least bore of the air hose.
    #[serde(default)]
    pub least_air_bore_mm: Option<f64>,
    /// What the vessel is rated for at the least.
    #[serde(default)]
    pub least_rating_kpa: Option<f64>,
    /// Fluid and air want a regulator each.
    #[serde(default)]
    pub least_two_regulators: bool,
    /// A shut-off stands in the air line.
    #[serde(default)]
    pub least_shut_off: bool,
    /// Service the sheet excludes.
    #[serde(default)]
    pub excludes: Option<String>,
    /// Solvent that flushes it.
    #[serde(default)]
    pub flush_with: Option<String>,
    /// Price of a litre of finished paint, in hundredths of the shop's money.
    #[serde(default)]
    pub price_minor_l: Option<f64>,
    /// Most mass its pot life was measured at.
    #[serde(default)]
    pub pot_life_mass_g: Option<f64>,
    /// Shelf life from the day it was made, in days.
    #[serde(default)]
    pub shelf_life_days: Option<i32>,
    /// Coldest store.
    #[serde(default)]
    pub store_min_c: Option<f64>,
    /// Warmest store.
    #[serde(default)]
    pub store_max_c: Option<f64>,
    /// Warmest store of the hardener, where it wants its own.
    #[serde(default)]
    pub hardener_store_max_c: Option<f64>,
    /// Hazards.
    #[serde(default)]
    pub hazards: BTreeSet<Hazard>,
}
