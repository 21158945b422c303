//! How base and hardener are proportioned by a sheet.

use super::{Basis, Kit, Sheet};
use crate::component::Component;
use crate::quantity::QuantityKind;
use crate::verdict::Verdict;

/// The second component of a sheet, all of it known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Hardener {
    /// Grams of B for one gram of A.
    pub b_per_a: f64,
    /// Density of B.
    pub density_kg_l: f64,
    /// Allowed relative error of B per A, as a fraction.
    pub tolerance: f64,
    /// Catalyst band as fractions of A by weight; outside it is a stop.
    pub band: Band,
}

/// A catalyst band. A side that is not stated is bounded by the tolerance alone; one that is stated stays a stop by itself.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Band {
    /// Least.
    pub lo: Option<f64>,
    /// Most.
    pub hi: Option<f64>,
}

impl Hardener {
    /// Least and most B per A by weight: the band where it is stated, else the tolerance around the target.
    ///
    /// **Formula:** `b·(1 ± t)` on a side without a band. **Units:** g per g. **Source:** the sheet; ±5 % where it states
    /// none is common practice in the trade.
    pub fn allowed(&self) -> (f64, f64) {
        let (lo, hi) = (self.b_per_a * (1.0 - self.tolerance), self.b_per_a * (1.0 + self.tolerance));
        (self.band.lo.unwrap_or(lo), self.band.hi.unwrap_or(hi))
    }

    /// Whether a ratio judged so is out on a side that the catalyst band bounds: nobody may go on.
    pub fn is_stop(&self, verdict: Verdict) -> bool {
        match verdict {
            Verdict::Low => self.band.lo.is_some(),
            Verdict::High => self.band.hi.is_some(),
            Verdict::In | Verdict::CannotTell => false,
        }
    }
}

impl Sheet {
    /// The second component, in grams of B for a gram of A.
    ///
    /// **Formula:** by volume `B/A = ρB / (r·ρA)`; by weight `1/r`; percent by weight `p/100`, by volume
    /// `p/100·ρB/ρA`; by kit what the cans hold.
    /// **Source:** arithmetic of the ratio; check value 4:1 at 1.42 and 0.98 kg/L → 17.254 g B per 100 g A.
    pub fn hardener(&self) -> Option<Hardener> {
        if !self.has_hardener {
            return None;
        }
        let (base_kg_l, density_kg_l) = (self.base_kg_l(), self.density_kg_l(Component::Hardener)?);
        let b_per_a = match self.basis? {
            Basis::ByVolume => density_kg_l / (self.ratio? * base_kg_l),
            Basis::ByWeight => 1.0 / self.ratio?,
            Basis::PercentByWeight => self.hardener_pct? / 100.0,
            Basis::PercentByVolume => self.hardener_pct? / 100.0 * density_kg_l / base_kg_l,
            Basis::ByKit => self.kit().map(|kit| kit.hardener_g / kit.base_g)?,
        };
        // A band is in the basis of the percent it bounds, and bounds nothing else: on a ratio it is a leftover.
        let per = match self.basis? {
            Basis::PercentByWeight => Some(1.0),
            Basis::PercentByVolume => Some(density_kg_l / base_kg_l),
            Basis::ByVolume | Basis::ByWeight | Basis::ByKit => None,
        };
        let bound = |pct: Option<f64>| per.zip(pct).map(|(per, pct)| per * pct / 100.0);
        let band = Band { lo: bound(self.band_low_pct), hi: bound(self.band_high_pct) };
        Some(Hardener { b_per_a, density_kg_l, tolerance: self.tolerance_pct.unwrap_or(DEFAULT_TOLERANCE_PCT) / 100.0, band })
    }

    /// The kit, when the sheet states one: by weight, or by volume.
    ///
    /// **Formula:** `m = V·ρ` of a kit by volume. **Units:** mL, kg/L; g. **Source:** the sheet.
    pub fn kit(&self) -> Option<Kit> {
        if let Some((base_g, hardener_g)) = self.kit_base_g.zip(self.kit_hardener_g) {
            return Some(Kit { base_g, hardener_g });
        }
        let (base_ml, hardener_ml) = self.kit_base_ml.zip(self.kit_hardener_ml)?;
        let hardener_kg_l = self.density_kg_l(Component::Hardener)?;
        Some(Kit { base_g: base_ml * self.base_kg_l(), hardener_g: hardener_ml * hardener_kg_l })
    }

    /// No weight can be said of this product: a density of its parts is not stated, and everything is measured by volume.
    pub fn by_volume_alone(&self) -> bool {
        self.base_density_kg_l.is_none() || (self.has_hardener && self.hardener_density_kg_l.is_none())
    }

    /// Density of a component as sums take it; `None` where the sheet states none.
    ///
    /// **Rule:** as stated, never guessed. Of a product that is measured by volume alone no weight is ever said: there
    /// [`NOMINAL_KG_L`] makes one sum of both, and [`Sheet::said_in`] says what comes of it as a volume.
    /// **Units:** kg/L. **Source:** the sheet.
    pub fn density_kg_l(&self, component: Component) -> Option<f64> {
        match component {
            Component::Base | Component::Hardener | Component::Thinner if self.by_volume_alone() => Some(NOMINAL_KG_L),
            Component::Base => self.base_density_kg_l,
            Component::Hardener => self.hardener_density_kg_l,
            Component::Thinner => self.thinner_density_kg_l,
            c => self.additives.get(c.additive()?)?.density_kg_l,
        }
    }

    /// Density of the base as sums take it.
    pub fn base_kg_l(&self) -> f64 {
        self.density_kg_l(Component::Base).unwrap_or(NOMINAL_KG_L)
    }

    /// What an amount of a component is said in: its weight, or its volume where no weight can be said. An additive is dosed by
    /// weight always.
    pub fn said_in(&self, component: Component) -> QuantityKind {
        if self.by_volume_alone() && component.additive().is_none() { QuantityKind::Volume } else { QuantityKind::Mass }
    }

    /// What cannot be known of a product that is measured by volume alone; nothing where its densities are stated.
    pub fn not_known(&self) -> &'static [&'static str] {
        if self.by_volume_alone() { &UNKNOWN_BY_VOLUME } else { &[] }
    }
}

/// Stands in where a product is measured by volume alone: a gram of it is a millilitre, and is said as one.
pub const NOMINAL_KG_L: f64 = 1.0;

/// What a weight would have told.
const UNKNOWN_BY_VOLUME: [&str; 5] = [
    "a check of the ratio on a scale",
    "what is left of a lot: the stores show what came in",
    "whether a pot is heavier than its life was measured on",
    "the stream reckoned from pressure and viscosity",
    "kilograms sprayed, for the wear of a tip",
];

/// Allowed error of B per A unless the sheet says otherwise. Common practice in the trade.
pub const DEFAULT_TOLERANCE_PCT: f64 = 5.0;
