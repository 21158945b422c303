//! What a wrong pour still allows.

use super::{PlannedPour, Weighed, total_g};

/// What is still to pour so that every component is on target, growing the plan where one is over.
///
/// **Formula:** poured mᵢ, planned fᵢ: `S = max(1, max mᵢ/fᵢ)`, add `S·fᵢ − mᵢ`; never negative, so a
/// rescue never takes anything out. **Check:** 4:1 by weight, A 1,000 g, B 268 g → add 72 g A, 1,340 g.
pub fn to_go(plan: &[PlannedPour], pours: &[Weighed]) -> Vec<PlannedPour> {
    let poured = |c| total_g(pours, c);
    // What the scale cannot tell from the plan is no over-pour.
    let half = pours.last().map_or(0.0, |p| p.resolution_g / 2.0);
    let over = |p: &PlannedPour| if poured(p.component) - half > p.mass_g { poured(p.component) / p.mass_g } else { 1.0 };
    let stretch = plan.iter().map(over).fold(1.0_f64, f64::max);
    let mut running_g = pours.last().map_or(0.0, |p| p.reading_g);
    plan.iter()
        .map(|p| {
            let mass_g = (stretch * p.mass_g - poured(p.component)).max(0.0);
            running_g += mass_g;
            PlannedPour {
                component: p.component,
                mass_g,
                volume_ml: p.volume_ml * mass_g / p.mass_g.max(f64::MIN_POSITIVE),
                running_g,
            }
        })
        .collect()
}
