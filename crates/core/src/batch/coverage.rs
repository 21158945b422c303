//! Coverage: how large an area the sheet lets a litre go on at the most, kept in the plan, at the rack and by use.
//!
//! Some epoxies, under water above all, look covered long before they are thick enough: their sheet states the most area.

use super::Record;
use super::charge::Charge;
use super::entries::Ended;
use crate::component::Component;
use crate::mixing;
use crate::quantity::Prefs;
use crate::verdict::Measured;
use crate::worded::VariantArray;
use uuid::Uuid;

impl Record {
    /// The least finished paint for a square metre, thinned so much; `None` where the sheet states no most area.
    ///
    /// **Formula:** `1000/most × finished/(A + B)`: thinner and additives cover nothing. **Units:** m²/L, mL/m². **Source:**
    /// the sheet; arithmetic.
    pub(super) fn least_ml_m2(&self, thinner_pct: f64) -> Option<f64> {
        let sheet = &self.aim()?.sheet;
        let most_m2_l = sheet.area_max_m2_l?;
        let shares = mixing::shares(sheet, thinner_pct);
        let of = |counts: fn(Component) -> bool| shares.iter().filter(|s| counts(s.component)).map(|s| s.volume).sum::<f64>();
        Some(1000.0 / most_m2_l * of(|_| true) / of(is_of_the_product))
    }

    /// The most area that finished paint as it stands in a charge may go on.
    ///
    /// **Formula:** `V × (A + B)/poured × most`. **Units:** mL, m²/L, m². **Source:** the sheet; arithmetic.
    pub fn for_at_most_m2(&self, charge: &Charge, finished_ml: f64) -> Option<f64> {
        let sheet = &self.aim()?.sheet;
        Some(finished_ml * self.share_of_product(charge)? / 1000.0 * sheet.area_max_m2_l?)
    }

    /// How much of what was poured into a charge is base and hardener, 0 to 1; `None` where nothing was.
    fn share_of_product(&self, charge: &Charge) -> Option<f64> {
        let sheet = &self.aim()?.sheet;
        let of = |counts: fn(Component) -> bool| {
            let all = Component::VARIANTS.iter().copied().filter(|c| counts(*c));
            all.map(|c| charge.poured_ml(sheet, c)).sum::<f64>()
        };
        let poured = of(|_| true);
        (poured > 0.0).then(|| of(is_of_the_product) / poured)
    }

    /// The area that base and hardener went on, by what was weighed and is not there any more; `None` where nothing was weighed,
    /// or the area is not known.
    ///
    /// **Formula:** `area reached ÷ (A + B that left the pots)`, each with its interval. **Units:** m²/L. **Source:**
    /// arithmetic.
    pub fn covered_m2_l(&self, prefs: Prefs) -> Option<Measured> {
        let product_ml = self.gone_by(|charge| self.share_of_product(charge))?;
        let area = self.reached_m2(prefs)?;
        if product_ml.lo <= 0.0 {
            return None;
        }
        let per = |m2: f64, ml: f64| 1000.0 * m2 / ml;
        Some(Measured {
            lo: per(area.lo, product_ml.hi),
            value: per(area.value, product_ml.value),
            hi: per(area.hi, product_ml.lo),
        })
    }

    /// While the work goes on: base and hardener that went on by the passes, and the least that the zones reached must take.
    /// `None` where the sheet states no most area, nothing was used yet, or the area is not known.
    ///
    /// **Units:** mL, mL, m². **Source:** the sheet; arithmetic.
    pub fn on_so_far(&self, prefs: Prefs) -> Option<OnSoFar> {
        let most_m2_l = self.aim()?.sheet.area_max_m2_l?;
        let used = self.charges.iter().filter(|c| self.on_ml(c) > 0.0);
        let on_ml: Option<f64> = used.map(|c| Some(self.on_ml(c) * self.share_of_product(c)?)).sum();
        let on_ml = on_ml.filter(|ml| *ml > 0.0)?;
        let reached_m2 = self.reached_m2(prefs)?.value;
        Some(OnSoFar { on_ml, least_ml: 1000.0 * reached_m2 / most_m2_l, reached_m2 })
    }

    /// What the passes of a charge said they took; one that said nothing says of nothing that it is on.
    fn on_ml(&self, charge: &Charge) -> f64 {
        self.passes.iter().filter(|p| p.it.charge == charge.id).filter_map(|p| p.it.used_ml).sum()
    }

    /// What a count of every charge that was sprayed from gives, of what left it, with the scale's share; `None` where one was
    /// not weighed, or none was sprayed from.
    ///
    /// **Formula:** `Σ gone × count`. **Units:** mL. **Source:** arithmetic.
    pub(super) fn gone_by(&self, count: impl Fn(&Charge) -> Option<f64>) -> Option<Measured> {
        let aim = self.aim()?;
        let sprayed = |id: Uuid| self.passes.iter().any(|p| p.it.charge == id);
        let used: Vec<_> = self.charges.iter().filter(|c| sprayed(c.id)).collect();
        if used.is_empty() || used.iter().any(|c| c.pours.is_empty()) {
            return None;
        }
        let (mut value, mut off) = (0.0, 0.0);
        for charge in used {
            let counts = count(charge)?;
            // What stays in the pot is known only by what the passes said they took.
            let stays = charge.closed.as_ref().is_some_and(|c| c.it.how == Ended::LeftInPot);
            if stays && self.passes.iter().any(|p| p.it.charge == charge.id && p.it.used_ml.is_none()) {
                return None;
            }
            value += self.gone_ml(charge) * counts;
            for pour in &charge.pours {
                let density = aim.sheet.density_kg_l(pour.it.weighed.component)?;
                off += mixing::off_g(pour.it.weighed.resolution_g, pour.it.weighed.tared) / density * counts;
            }
        }
        Some(Measured::pm(value, off))
    }
}

/// What is on so far, of what must be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OnSoFar {
    /// Base and hardener that went on.
    pub on_ml: f64,
    /// The least for the zones reached.
    pub least_ml: f64,
    /// Their area.
    pub reached_m2: f64,
}

/// Base and hardener cover; thinner flies off, and additives lie in them.
fn is_of_the_product(component: Component) -> bool {
    matches!(component, Component::Base | Component::Hardener)
}
