//! What a scale can prove: pairs of figures it can show whose whole interval lies inside the tolerance.

use super::{Component, Weighed, b_per_a, said};
use crate::sheets::Sheet;
use crate::verdict::Verdict;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Two masses a scale can show.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Pair {
    /// Base.
    pub base_g: f64,
    /// Hardener.
    pub hardener_g: f64,
    /// Weighed apart: the scale is tared between the two.
    pub tared: bool,
}

/// Most steps of hardener tried.
const MOST_STEPS: u32 = 4000;

/// Whether two masses, weighed so, are provably inside the tolerance.
pub fn proves(sheet: &Sheet, pair: Pair, resolution_g: f64) -> bool {
    let reading_g = if pair.tared { pair.hardener_g } else { pair.base_g + pair.hardener_g };
    let pours = [
        Weighed { component: Component::Base, reading_g: pair.base_g, resolution_g, ..Weighed::default() },
        Weighed { component: Component::Hardener, reading_g, tared: pair.tared, resolution_g, ..Weighed::default() },
    ];
    b_per_a(&pours).and_then(|r| said(sheet, r)).is_some_and(|s| s.tolerance.judge(s.measured) == Verdict::In)
}

/// The provable pair nearest above an amount of base; `None`: no pair this scale can show up to that many steps.
///
/// **Check:** gel coat, band 1.5–2.5 %, 1 g scale: apart from 3 g with 141 to 166 g on, running from 5 g with 241 to 266 g.
/// **Source:** derived.
pub fn nearest(sheet: &Sheet, base_g: f64, resolution_g: f64, tared: bool) -> Option<Pair> {
    let h = sheet.hardener()?;
    let (lo, hi) = h.allowed();
    let d = resolution_g;
    let first = (h.b_per_a * base_g / d).round().max(1.0) as u32;
    (first..first + MOST_STEPS).find_map(|n| {
        let hardener_g = f64::from(n) * d;
        // Every base this hardener could belong to; of those that prove it, the one nearest to target.
        let (least, most) = ((hardener_g / hi).max(base_g - d / 2.0), hardener_g / lo);
        let target = (hardener_g / h.b_per_a).max(least);
        let steps = ((most - least) / d).clamp(0.0, f64::from(MOST_STEPS)) as i64 + 1;
        (0..=steps)
            .flat_map(|k| [k, -k])
            .map(|k| Pair { base_g: ((target / d).round() + k as f64) * d, hardener_g, tared })
            .filter(|p| p.base_g >= least - 1e-9 && p.base_g <= most + 1e-9)
            .find(|p| proves(sheet, *p, d))
    })
}

/// The least mixture this scale can prove, tared between or not; the smaller of the two.
pub fn least(sheet: &Sheet, resolution_g: f64) -> Option<Pair> {
    let total = |p: &Pair| p.base_g + p.hardener_g;
    [true, false]
        .into_iter()
        .filter_map(|tared| nearest(sheet, resolution_g, resolution_g, tared))
        .min_by(|a, b| total(a).total_cmp(&total(b)))
}
