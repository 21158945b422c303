//! What a scale can prove of what was poured.

use super::Component;
use crate::quantity::QuantityKind;
use crate::sheets::{Basis, Sheet};
use crate::verdict::{Measured, Tolerance};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// One accepted reading of a scale: the total shown after a pour.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Weighed {
    /// What was poured.
    pub component: Component,
    /// What the scale showed.
    pub reading_g: f64,
    /// The scale was tared before this pour, so it is weighed apart.
    pub tared: bool,
    /// Resolution of the scale.
    pub resolution_g: f64,
    /// What stood on the scale before this pour, when it was moved to another cup and weighed again; else the reading
    /// before.
    #[serde(default)]
    pub start_g: Option<f64>,
}

/// What one pour on a scale may be off, half the interval: half a resolution weighed apart, a whole one as the difference
/// of two readings.
///
/// **Formula:** `d/2` tared, `d` on a running total. **Units:** g. **Source:** derived from the rounding of a display.
///
/// ```
/// use level_keel_core::mixing::off_g;
/// assert_eq!((off_g(1.0, true), off_g(1.0, false)), (0.5, 1.0));
/// ```
pub fn off_g(resolution_g: f64, tared: bool) -> f64 {
    if tared { resolution_g / 2.0 } else { resolution_g }
}

/// Mass poured in the `index`th pour, as read.
///
/// **Formula:** the reading less the one before, or less nothing where it was tared. **Units:** g. **Source:** arithmetic.
pub fn poured_g(pours: &[Weighed], index: usize) -> f64 {
    let pour = &pours[index];
    let before = if index == 0 { 0.0 } else { pours[index - 1].reading_g };
    let start = if pour.tared { 0.0 } else { pour.start_g.unwrap_or(before) };
    pours[index].reading_g - start
}

/// Total of one component, as read.
///
/// **Formula:** `Σ` [`poured_g`]. **Units:** g. **Source:** arithmetic.
pub fn total_g(pours: &[Weighed], component: Component) -> f64 {
    (0..pours.len()).filter(|i| pours[*i].component == component).map(|i| poured_g(pours, i)).sum()
}

/// Most rounds of the search for an extreme of a ratio; it ends by itself after a few.
const ROUNDS: usize = 64;

/// Total of one component with what the scale may be off, worst case.
///
/// **Formula:** each reading ± half its resolution; what two pours of the component share cancels. **Units:** g.
/// **Source:** derived from the rounding of a display.
pub fn component_g(pours: &[Weighed], component: Component) -> Measured {
    let mut weights: Vec<(f64, f64)> = Vec::new();
    let mut off = 0.0;
    for pour in pours {
        let (mine, half) = (if pour.component == component { 1.0 } else { 0.0 }, pour.resolution_g / 2.0);
        match (pour.tared, pour.start_g) {
            (true, _) => {}
            (false, Some(_)) => off += mine * half,
            (false, None) => {
                if let Some(before) = weights.last_mut() {
                    before.0 -= mine;
                }
            }
        }
        weights.push((mine, half));
    }
    off += weights.iter().map(|(weight, half)| weight.abs() * half).sum::<f64>();
    Measured::pm(total_g(pours, component), off)
}

/// How A and B depend on the readings: `A = a + Σ αᵢ·eᵢ`, `B = b + Σ βᵢ·eᵢ`, every error inside ± half its resolution.
struct ErrorBox {
    a_g: f64,
    b_g: f64,
    /// `(αᵢ, βᵢ, half width)` of each error.
    errors: Vec<(f64, f64, f64)>,
}

impl ErrorBox {
    fn of(pours: &[Weighed]) -> ErrorBox {
        let part = |c: Component, of: Component| if c == of { 1.0 } else { 0.0 };
        let mut readings: Vec<(f64, f64, f64)> = Vec::new();
        let mut starts = Vec::new();
        for pour in pours {
            let (a, b) = (part(pour.component, Component::Base), part(pour.component, Component::Hardener));
            let half = pour.resolution_g / 2.0;
            // What stood on the scale before: nothing when it was tared, a cup weighed again, or the reading before.
            match (pour.tared, pour.start_g) {
                (true, _) => {}
                (false, Some(_)) => starts.push((-a, -b, half)),
                (false, None) => {
                    if let Some(before) = readings.last_mut() {
                        (before.0, before.1) = (before.0 - a, before.1 - b);
                    }
                }
            }
            readings.push((a, b, half));
        }
        readings.extend(starts);
        ErrorBox { a_g: total_g(pours, Component::Base), b_g: total_g(pours, Component::Hardener), errors: readings }
    }

    /// A and B at the corner that makes `B − ratio·A` greatest (or least).
    fn corner(&self, ratio: f64, greatest: bool) -> (f64, f64) {
        self.errors.iter().fold((self.a_g, self.b_g), |(a, b), (alpha, beta, half)| {
            let gain = beta - ratio * alpha;
            let up = if greatest { gain >= 0.0 } else { gain < 0.0 };
            let e = if up { *half } else { -half };
            (a + alpha * e, b + beta * e)
        })
    }

    /// The greatest or least B per A over the whole box.
    fn extreme(&self, greatest: bool) -> f64 {
        let mut ratio = self.b_g / self.a_g;
        for _ in 0..ROUNDS {
            let (a, b) = self.corner(ratio, greatest);
            let next = b / a;
            let better = if greatest { next > ratio } else { next < ratio };
            if !better {
                break;
            }
            ratio = next;
        }
        ratio
    }

    fn least_a_g(&self) -> f64 {
        self.a_g - self.errors.iter().map(|(alpha, _, half)| alpha.abs() * half).sum::<f64>()
    }
}

/// B per A by weight with the worst case the scale allows, for any number of readings.
///
/// **Formula:** every reading may be off by half a resolution. Each mass is a difference of readings, so A and B are
/// linear in the errors and B/A is a linear-fractional function over a box. Its extreme is found by Dinkelbach's method:
/// from a ratio `r` to the corner that makes `B − r·A` extreme, whose own ratio is the next `r`; each round ends on a
/// corner and no corner comes twice, so it is exact. A tared start is exact; the weighing of a cup that was moved is a
/// reading like any other. **Units:** g. **Check:** 100 g + 2 g on a 1 g scale: apart 1.49–2.51 %, running 1.00–3.02 %.
/// **Source:** derived; W. Dinkelbach, Management Science 13 (1967) 492–498, from memory.
/// **Errors:** `None` when A or B is missing, or A may be nothing.
///
/// ```
/// use level_keel_core::mixing::{Component, Weighed, b_per_a};
/// let base = Weighed { component: Component::Base, reading_g: 100.0, resolution_g: 1.0, ..Weighed::default() };
/// let hardener = Weighed { component: Component::Hardener, reading_g: 102.0, ..base };
/// let running = b_per_a(&[base, hardener]).unwrap();
/// assert!((running.lo - 1.0 / 100.5).abs() < 1e-12 && (running.hi - 3.0 / 99.5).abs() < 1e-12);
/// ```
pub fn b_per_a(pours: &[Weighed]) -> Option<Measured> {
    let hardened = pours.iter().any(|p| p.component == Component::Hardener);
    let over = ErrorBox::of(pours);
    if !hardened || over.a_g <= 0.0 || over.least_a_g() <= 0.0 {
        return None;
    }
    Some(Measured { lo: over.extreme(false).max(0.0), value: over.b_g / over.a_g, hi: over.extreme(true) })
}

/// B per A expressed as people say it for this sheet: parts A to one B, or per cent.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Said {
    /// The figure with its interval.
    pub measured: Measured,
    /// The tolerance in the same figure.
    pub tolerance: Tolerance,
    /// [`QuantityKind::Ratio`] or [`QuantityKind::Percent`].
    pub kind: QuantityKind,
}

/// Puts a weight ratio in the sheet's own words with the tolerance beside it.
///
/// **Formula:** by volume `A/B = (ρB/ρA)/(mB/mA)`; by weight and by kit the inverse; percent by weight
/// `100·mB/mA`, by volume `100·(mB/ρB)/(mA/ρA)`. The
/// tolerance is on B per A, so a ratio's limits are `r/(1+t)` and `r/(1−t)`.
pub fn said(sheet: &Sheet, b_per_a: Measured) -> Option<Said> {
    let h = sheet.hardener()?;
    let allowed = h.allowed();
    Some(match sheet.basis? {
        basis @ (Basis::PercentByWeight | Basis::PercentByVolume) => {
            let per = if basis == Basis::PercentByVolume { sheet.base_kg_l() / h.density_kg_l } else { 1.0 };
            Said {
                measured: b_per_a.map(|x| 100.0 * per * x),
                tolerance: Tolerance::between(100.0 * per * allowed.0, 100.0 * per * allowed.1),
                kind: QuantityKind::Percent,
            }
        }
        basis => {
            let by_volume = basis == Basis::ByVolume || (basis == Basis::ByKit && sheet.kit_base_ml.is_some());
            let scale = if by_volume { h.density_kg_l / sheet.base_kg_l() } else { 1.0 };
            let ratio = |x: f64| if x > 0.0 { scale / x } else { f64::MAX };
            Said {
                measured: Measured { lo: ratio(b_per_a.hi), value: ratio(b_per_a.value), hi: ratio(b_per_a.lo) },
                tolerance: Tolerance::between(ratio(allowed.1), ratio(allowed.0)),
                kind: QuantityKind::Ratio,
            }
        }
    })
}
