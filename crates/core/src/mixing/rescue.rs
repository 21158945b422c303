//! What a wrong pour still allows.

use super::{Component, PlannedPour, Weighed, b_per_a, said, total_g};
use crate::sheets::Sheet;
use crate::verdict::Verdict;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is still to pour so that every component is on target, growing the plan where one is over.
///
/// **Formula:** poured mᵢ, planned fᵢ: `S = max(1, max mᵢ/fᵢ)`, add `S·fᵢ − mᵢ`; never negative, so a
/// rescue never takes anything out. **Check:** 4:1 by weight, A 1,000 g, B 268 g → add 72 g A, 1,340 g.
pub fn to_go(plan: &[PlannedPour], pours: &[Weighed]) -> Vec<PlannedPour> {
    // What the scale cannot tell from the plan is no over-pour.
    let half = pours.last().map_or(0.0, |p| p.resolution_g / 2.0);
    grown(plan, pours, half)
}

/// A pour of the plan with another mass.
fn of_mass(p: &PlannedPour, mass_g: f64, running_g: f64) -> PlannedPour {
    let volume_ml = p.volume_ml * mass_g / p.mass_g.max(f64::MIN_POSITIVE);
    PlannedPour { component: p.component, mass_g, volume_ml, running_g }
}

fn grown(plan: &[PlannedPour], pours: &[Weighed], blind_g: f64) -> Vec<PlannedPour> {
    let poured = |c| total_g(pours, c);
    let over = |p: &PlannedPour| if poured(p.component) - blind_g > p.mass_g { poured(p.component) / p.mass_g } else { 1.0 };
    let stretch = plan.iter().map(over).fold(1.0_f64, f64::max);
    let mut running_g = pours.last().map_or(0.0, |p| p.reading_g);
    plan.iter()
        .map(|p| {
            let mass_g = (stretch * p.mass_g - poured(p.component)).max(0.0);
            running_g += mass_g;
            of_mass(p, mass_g, running_g)
        })
        .collect()
}

/// How far a rescue goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RescueTo {
    /// Back on target.
    Exact,
    /// The least after which the whole interval is inside the tolerance.
    Least,
}

/// What must be added, and what it makes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Rescue {
    /// How far.
    pub to: RescueTo,
    /// What to add, in the order of the plan; none that is nothing.
    pub adds: Vec<PlannedPour>,
    /// Everything in the cup afterwards.
    pub total_g: f64,
    /// By volume, of what has a density.
    pub total_ml: f64,
}

/// Steps of the search for the least addition: finer than any scale.
const HALVINGS: usize = 48;

/// Ways back from an over- or under-pour of A and B: exact first, then the least that the scale can prove, when it is
/// less. Empty when nothing is wrong, or nothing was poured of one of the two.
///
/// **Formula:** exact as [`to_go`] without blindness. Least: the smallest addition of the one component that is short
/// after which the worst case of [`b_per_a`] lies inside the tolerance, found by halving, since the ratio moves one way
/// with it; rounded up to what the scale shows. **Source:** arithmetic.
pub fn rescues(sheet: &Sheet, plan: &[PlannedPour], pours: &[Weighed]) -> Vec<Rescue> {
    let Some(now) = b_per_a(pours).and_then(|r| said(sheet, r)) else { return Vec::new() };
    let verdict = now.tolerance.judge(now.measured);
    if verdict == Verdict::In {
        return Vec::new();
    }
    let exact = grown(plan, pours, 0.0);
    let mut ways = vec![made(sheet, RescueTo::Exact, exact.clone(), pours)];
    let short = if b_per_a(pours).is_some_and(|r| sheet.hardener().is_some_and(|h| r.value > h.b_per_a)) {
        Component::Base
    } else {
        Component::Hardener
    };
    let Some(full) = exact.iter().find(|p| p.component == short).filter(|p| p.mass_g > 0.0) else { return ways };
    let d = pours.last().map_or(1.0, |p| p.resolution_g);
    let proves = |add_g: f64| {
        let last = pours.last().map_or(0.0, |p| p.reading_g);
        let more = Weighed { component: short, reading_g: last + add_g, resolution_g: d, ..Weighed::default() };
        let all: Vec<Weighed> = pours.iter().copied().chain([more]).collect();
        b_per_a(&all).and_then(|r| said(sheet, r)).is_some_and(|s| s.tolerance.judge(s.measured) == Verdict::In)
    };
    if !proves(full.mass_g) {
        return ways;
    }
    let (mut out, mut inside) = (0.0, full.mass_g);
    for _ in 0..HALVINGS {
        let middle = (out + inside) / 2.0;
        if proves(middle) { inside = middle } else { out = middle }
    }
    let shown_g = ((inside / d).ceil() * d).min(full.mass_g);
    if shown_g < full.mass_g - d / 2.0 && proves(shown_g) {
        let volume_ml = full.volume_ml * shown_g / full.mass_g;
        let running_g = pours.last().map_or(0.0, |p| p.reading_g) + shown_g;
        let least = vec![PlannedPour { component: short, mass_g: shown_g, volume_ml, running_g }];
        ways.push(made(sheet, RescueTo::Least, least, pours));
    }
    ways
}

fn made(sheet: &Sheet, to: RescueTo, adds: Vec<PlannedPour>, pours: &[Weighed]) -> Rescue {
    let adds: Vec<PlannedPour> = adds.into_iter().filter(|p| p.mass_g > 0.0).collect();
    let in_it = |c: Component| total_g(pours, c) + adds.iter().filter(|a| a.component == c).map(|a| a.mass_g).sum::<f64>();
    let volume = |c: Component| sheet.density_kg_l(c).map_or(0.0, |d| in_it(c) / d);
    Rescue {
        to,
        total_g: Component::ALL.into_iter().map(in_it).sum(),
        total_ml: Component::ALL.into_iter().map(volume).sum(),
        adds,
    }
}

/// The plan a chosen rescue re-targets to: what is in and what is to be added, and of the rest what the plan had.
pub fn retarget(plan: &[PlannedPour], pours: &[Weighed], rescue: &Rescue) -> Vec<PlannedPour> {
    let mut running_g = 0.0;
    plan.iter()
        .map(|p| {
            let poured = total_g(pours, p.component);
            let add: f64 = rescue.adds.iter().filter(|a| a.component == p.component).map(|a| a.mass_g).sum();
            let mass_g = if add > 0.0 || poured > 0.0 { poured + add } else { p.mass_g };
            running_g += mass_g;
            of_mass(p, mass_g, running_g)
        })
        .collect()
}
