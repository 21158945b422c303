//! What a scale can prove of what was poured.

use super::Component;
use crate::quantity::Kind;
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
pub fn poured_g(pours: &[Weighed], index: usize) -> f64 {
    let pour = &pours[index];
    let before = if index == 0 { 0.0 } else { pours[index - 1].reading_g };
    let start = if pour.tared { 0.0 } else { pour.start_g.unwrap_or(before) };
    pours[index].reading_g - start
}

/// Total of one component, as read.
pub fn total_g(pours: &[Weighed], component: Component) -> f64 {
    (0..pours.len()).filter(|i| pours[*i].component == component).map(|i| poured_g(pours, i)).sum()
}

/// Most readings whose corners are tried one by one; beyond it the cruder bound is used.
const CORNERS: usize = 12;

/// B per A by weight with the worst case the scale allows.
///
/// **Formula:** every reading may be off by half a resolution. Each mass is a difference of readings, so
/// A and B are linear in them and B/A is monotone in each: its extremes lie at the corners, which are
/// all tried. A tared start is exact. This is what ties a running total to the reading before it.
/// **Check:** 100 g + 2 g on a 1 g scale: apart 1.49–2.51 %, running 1.00–3.02 %. **Source:** derived.
/// **Errors:** `None` when A or B is missing or A may be nothing.
pub fn b_per_a(pours: &[Weighed]) -> Option<Measured> {
    let (a, b) = (total_g(pours, Component::Base), total_g(pours, Component::Hardener));
    if a <= 0.0 || !pours.iter().any(|p| p.component == Component::Hardener) {
        return None;
    }
    if pours.len() > CORNERS {
        let half: f64 = pours.iter().map(|p| p.resolution_g).sum();
        return (a > half).then(|| Measured {
            lo: ((b - half) / (a + half)).max(0.0),
            value: b / a,
            hi: (b + half) / (a - half),
        });
    }
    let (mut lo, mut hi) = (f64::MAX, f64::MIN);
    for corner in 0..1_u32 << pours.len() {
        let mut shifted = pours.to_vec();
        for (i, pour) in shifted.iter_mut().enumerate() {
            let half = pour.resolution_g / 2.0;
            pour.reading_g += if corner >> i & 1 == 1 { half } else { -half };
        }
        let (a, b) = (total_g(&shifted, Component::Base), total_g(&shifted, Component::Hardener));
        if a <= 0.0 {
            return None;
        }
        lo = lo.min(b / a);
        hi = hi.max(b / a);
    }
    Some(Measured { lo: lo.max(0.0), value: b / a, hi })
}

/// B per A expressed as people say it for this sheet: parts A to one B, or per cent.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Said {
    /// The figure with its interval.
    pub measured: Measured,
    /// The tolerance in the same figure.
    pub tolerance: Tolerance,
    /// [`Kind::Ratio`] or [`Kind::Percent`].
    pub kind: Kind,
}

/// Puts a weight ratio in the sheet's own words with the tolerance beside it.
///
/// **Formula:** by volume `A/B = (ρB/ρA)/(mB/mA)`; by weight and by kit the inverse; percent by weight
/// `100·mB/mA`, by volume `100·(mB/ρB)/(mA/ρA)`. The
/// tolerance is on B per A, so a ratio's limits are `r/(1+t)` and `r/(1−t)`.
pub fn said(sheet: &Sheet, b_per_a: Measured) -> Option<Said> {
    let h = sheet.hardener()?;
    let allowed = h.band.unwrap_or((h.b_per_a * (1.0 - h.tolerance), h.b_per_a * (1.0 + h.tolerance)));
    Some(match sheet.basis? {
        basis @ (Basis::PercentByWeight | Basis::PercentByVolume) => {
            let per = if basis == Basis::PercentByVolume { sheet.base_density_kg_l / h.density_kg_l } else { 1.0 };
            Said {
                measured: b_per_a.map(|x| 100.0 * per * x),
                tolerance: Tolerance::between(100.0 * per * allowed.0, 100.0 * per * allowed.1),
                kind: Kind::Percent,
            }
        }
        basis => {
            let scale = if basis == Basis::ByVolume { h.density_kg_l / sheet.base_density_kg_l } else { 1.0 };
            let ratio = |x: f64| if x > 0.0 { scale / x } else { f64::MAX };
            Said {
                measured: Measured { lo: ratio(b_per_a.hi), value: ratio(b_per_a.value), hi: ratio(b_per_a.lo) },
                tolerance: Tolerance::between(ratio(allowed.1), ratio(allowed.0)),
                kind: Kind::Ratio,
            }
        }
    })
}
