//! How base and hardener are proportioned by a sheet.

use super::{Basis, Kit, Sheet};
use crate::component::Component;
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
        let density_kg_l = self.hardener_density_kg_l?;
        let b_per_a = match self.basis? {
            Basis::ByVolume => density_kg_l / (self.ratio? * self.base_density_kg_l),
            Basis::ByWeight => 1.0 / self.ratio?,
            Basis::PercentByWeight => self.hardener_pct? / 100.0,
            Basis::PercentByVolume => self.hardener_pct? / 100.0 * density_kg_l / self.base_density_kg_l,
            Basis::ByKit => self.kit_hardener_g? / self.kit_base_g?,
        };
        // A band is in the basis of the percent it bounds, and bounds nothing else: on a ratio it is a leftover.
        let per = match self.basis? {
            Basis::PercentByWeight => Some(1.0),
            Basis::PercentByVolume => Some(density_kg_l / self.base_density_kg_l),
            Basis::ByVolume | Basis::ByWeight | Basis::ByKit => None,
        };
        let bound = |pct: Option<f64>| per.zip(pct).map(|(per, pct)| per * pct / 100.0);
        let band = Band { lo: bound(self.band_low_pct), hi: bound(self.band_high_pct) };
        Some(Hardener { b_per_a, density_kg_l, tolerance: self.tolerance_pct.unwrap_or(DEFAULT_TOLERANCE_PCT) / 100.0, band })
    }

    /// The kit, when the sheet states one.
    pub fn kit(&self) -> Option<Kit> {
        let (base_g, hardener_g) = self.kit_base_g.zip(self.kit_hardener_g)?;
        Some(Kit { base_g, hardener_g })
    }

    /// Density of a component; `None` where the sheet states none.
    ///
    /// **Units:** kg/L. **Source:** the sheet. **Rule:** as stated, never guessed.
    pub fn density_kg_l(&self, component: Component) -> Option<f64> {
        match component {
            Component::Base => Some(self.base_density_kg_l),
            Component::Hardener => self.hardener_density_kg_l,
            Component::Thinner => self.thinner_density_kg_l,
            c => self.additives.get(c.additive()?)?.density_kg_l,
        }
    }
}

/// Allowed error of B per A unless the sheet says otherwise. Common practice in the trade.
pub const DEFAULT_TOLERANCE_PCT: f64 = 5.0;
