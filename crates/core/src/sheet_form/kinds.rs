//! Kinds of product, for a new sheet: what each is, what stands in its fields before anything is typed, and the few figures
//! it is asked for first, in the order they stand on a data sheet.

use crate::sheets::{ChargeKind, FilmProof, Sheet};
use crate::worded::{VariantArray, Worded};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Figures asked of any kind before the rest unfolds.
pub const MOST_ASKED: usize = 12;

/// A kind of product.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ProductKind {
    /// Base and hardener in a pot.
    #[strum(serialize = "two-part, by the pot")]
    TwoPart,
    /// Gel coat with its catalyst.
    #[strum(serialize = "gel coat")]
    GelCoat,
    /// Waterborne with a catalyst.
    #[strum(serialize = "waterborne, catalysed")]
    Waterborne,
    /// Two streams that meet at the gun.
    #[strum(serialize = "twin feed")]
    TwinFeed,
    /// One can, as it comes.
    #[strum(serialize = "ready to use")]
    ReadyToUse,
    /// One can with grain or flake in it.
    #[strum(serialize = "textured")]
    Textured,
    /// A film that lets go.
    #[strum(serialize = "release film")]
    ReleaseFilm,
}

impl Worded for ProductKind {}

/// What a kind is and asks.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct SheetKind {
    /// Which.
    pub value: ProductKind,
    /// What it is called.
    pub word: &'static str,
    /// What it is known by.
    pub what: &'static str,
    /// What stands in fields before anything is typed.
    pub fills: BTreeMap<&'static str, &'static str>,
    /// It has a second component.
    pub has_hardener: bool,
    /// Figures asked first, in the order of a data sheet.
    pub asks: Vec<&'static str>,
    /// Words chosen first.
    pub chooses: Vec<&'static str>,
}

type Fields = &'static [&'static str];

/// Every kind.
///
/// **Rule:** at most [`MOST_ASKED`] figures, in the order of a data sheet. **Source:** common practice in the trade.
///
/// ```
/// use level_keel_core::sheet_form::{MOST_ASKED, sheet_kinds};
/// assert!(sheet_kinds().iter().all(|k| k.asks.len() <= MOST_ASKED));
/// ```
pub fn sheet_kinds() -> Vec<SheetKind> {
    ProductKind::VARIANTS.iter().map(|kind| kind.asked()).collect()
}

const FILM: [&str; 2] = ["wet_min_um", "wet_max_um"];
const AIR: [&str; 2] = ["temp_min_c", "temp_max_c"];

impl ProductKind {
    fn asked(self) -> SheetKind {
        let (what, has_hardener, charge, proof): (_, _, _, _) = match self {
            ProductKind::TwoPart => ("base and hardener, weighed or measured into one pot", true, "pot", "comb"),
            ProductKind::GelCoat => ("catalyst in per cent of the base; gels in minutes", true, "pot", "comb"),
            ProductKind::Waterborne => ("water in it, a catalyst beside it; humidity decides", true, "pot", "comb"),
            ProductKind::TwinFeed => ("two streams that meet at the gun; no pot, no pot life", true, "at_gun", "use"),
            ProductKind::ReadyToUse => ("one can: stir, strain, put it on", false, "pot", "comb"),
            ProductKind::Textured => ("grain or flake in it: a nozzle that lets it through", false, "pot", "look"),
            ProductKind::ReleaseFilm => ("thin coats that let go of the mould", false, "pot", "look"),
        };
        let basis = match self {
            ProductKind::TwoPart | ProductKind::Waterborne => Some("by_volume"),
            ProductKind::GelCoat => Some("percent_by_weight"),
            ProductKind::TwinFeed => Some("by_weight"),
            ProductKind::ReadyToUse | ProductKind::Textured | ProductKind::ReleaseFilm => None,
        };
        let proportion: Fields = match self {
            ProductKind::TwoPart | ProductKind::Waterborne => &["ratio", "base_density_kg_l", "hardener_density_kg_l"],
            ProductKind::GelCoat => {
                &["hardener_pct", "band_low_pct", "band_high_pct", "base_density_kg_l", "hardener_density_kg_l"]
            }
            ProductKind::TwinFeed => &["ratio", "tolerance_pct", "base_density_kg_l", "hardener_density_kg_l"],
            ProductKind::ReadyToUse | ProductKind::Textured | ProductKind::ReleaseFilm => &["base_density_kg_l"],
        };
        let clocks: Fields = match self {
            ProductKind::TwoPart => &["pot_life_s", "pot_life_at_c", "induction_s"],
            ProductKind::GelCoat | ProductKind::Waterborne => &["pot_life_s", "pot_life_at_c"],
            ProductKind::TwinFeed | ProductKind::Textured => &[],
            ProductKind::ReadyToUse | ProductKind::ReleaseFilm => &["recoat_min_s", "recoat_max_s", "recoat_at_c"],
        };
        let thinner: Fields = match self {
            ProductKind::TwoPart | ProductKind::Waterborne | ProductKind::ReadyToUse => &["thinner_max_pct"],
            ProductKind::GelCoat | ProductKind::TwinFeed | ProductKind::Textured | ProductKind::ReleaseFilm => &[],
        };
        let last: Fields = match self {
            ProductKind::Waterborne => &["rh_max_pct"],
            ProductKind::Textured => &["tip_min_um", "stir_again_s"],
            ProductKind::ReadyToUse | ProductKind::TwinFeed => &["margin_min_dk"],
            ProductKind::TwoPart | ProductKind::GelCoat | ProductKind::ReleaseFilm => &[],
        };
        let groups: [Fields; 7] = [proportion, clocks, &["solids_pct"], &FILM, thinner, &AIR, last];
        let fills = [("charge", Some(charge)), ("film_proof", Some(proof)), ("stream", Some("industrial")), ("basis", basis)];
        SheetKind {
            value: self,
            word: self.word(),
            what,
            fills: fills.into_iter().filter_map(|(field, text)| Some((field, text?))).collect(),
            has_hardener,
            asks: groups.concat(),
            chooses: match self {
                ProductKind::GelCoat => vec!["charge", "basis"],
                ProductKind::TwoPart | ProductKind::Waterborne | ProductKind::TwinFeed => vec!["basis"],
                ProductKind::ReadyToUse | ProductKind::Textured | ProductKind::ReleaseFilm => Vec::new(),
            },
        }
    }

    /// The kind a sheet reads as: which fields its page asks first. A sheet does not keep its kind.
    pub fn of(sheet: &Sheet) -> ProductKind {
        let percent = sheet.hardener_pct.is_some();
        let grain = sheet.tip_min_um.is_some();
        match (sheet.has_hardener, sheet.charge) {
            (true, ChargeKind::AtGun) if !percent => ProductKind::TwinFeed,
            (true, _) if percent => ProductKind::GelCoat,
            (true, _) if sheet.rh_max_pct.is_some() && sheet.margin_min_dk.is_none() => ProductKind::Waterborne,
            (true, _) => ProductKind::TwoPart,
            (false, _) if grain => ProductKind::Textured,
            (false, _) if sheet.film_proof == Some(FilmProof::Look) => ProductKind::ReleaseFilm,
            (false, _) => ProductKind::ReadyToUse,
        }
    }
}
