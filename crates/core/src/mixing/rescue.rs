//! What a wrong pour still allows.

use super::{Component, PlannedPour, Weighed, b_per_a, said, thinner_ml, total_g};
use crate::sheets::Sheet;
use crate::verdict::Verdict;
use crate::worded::VariantArray;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is still to pour so that every component is on target, growing the plan where one is over.
///
/// **Formula:** poured mᵢ, planned fᵢ: `S = max(1, max mᵢ/fᵢ)`, add `S·fᵢ − mᵢ`; never negative, so a
/// rescue never takes anything out. Thinner has a most and no target to be over: it counts only past the sheet's most.
/// **Check:** 4:1 by weight, A 1,000 g, B 268 g → add 72 g A, 1,340 g.
pub fn to_go(sheet: &Sheet, plan: &[PlannedPour], pours: &[Weighed]) -> Vec<PlannedPour> {
    // What the scale cannot tell from the plan is no over-pour.
    let half = pours.last().map_or(0.0, |p| p.resolution_g / 2.0);
    grown(plan, pours, stretch(sheet, plan, pours, half))
}

/// A pour of the plan with another mass.
fn of_mass(p: &PlannedPour, mass_g: f64, running_g: f64) -> PlannedPour {
    let volume_ml = p.volume_ml * mass_g / p.mass_g.max(f64::MIN_POSITIVE);
    PlannedPour { component: p.component, mass_g, volume_ml, running_g }
}

/// How many times the plan what is most over it is; 1 where nothing is.
fn stretch(sheet: &Sheet, plan: &[PlannedPour], pours: &[Weighed], blind_g: f64) -> f64 {
    let most_ml = most_thinner_ml(sheet, planned_ml(sheet, plan, Component::Base), planned_ml(sheet, plan, Component::Hardener));
    let thin_ml = sheet.density_kg_l(Component::Thinner).map_or(0.0, |d| (total_g(pours, Component::Thinner) - blind_g) / d);
    let over = |p: &PlannedPour| {
        let poured = total_g(pours, p.component);
        if poured - blind_g > p.mass_g { poured / p.mass_g } else { 1.0 }
    };
    let rest = plan.iter().filter(|p| p.component != Component::Thinner).map(over).fold(1.0_f64, f64::max);
    match most_ml {
        Some(most) if thin_ml > most * rest => {
            let thinner = plan.iter().find(|p| p.component == Component::Thinner);
            thinner.map_or(thin_ml / most, |p| total_g(pours, Component::Thinner) / p.mass_g).max(rest)
        }
        _ => rest,
    }
}

fn grown(plan: &[PlannedPour], pours: &[Weighed], stretch: f64) -> Vec<PlannedPour> {
    let mut running_g = pours.last().map_or(0.0, |p| p.reading_g);
    plan.iter()
        .map(|p| {
            let mass_g = (stretch * p.mass_g - total_g(pours, p.component)).max(0.0);
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

/// How far an additive may be off its share where nothing says how far; common practice in the trade.
const SHARE_OFF: f64 = 0.05;

/// Ways back from an over- or under-pour of anything: exact first, then the least that the scale can prove, when it is
/// less. Empty while nothing is wrong: what is in agrees, or is only not poured yet.
///
/// Wrong is: a ratio that is not in once A and B are both through; thinner over the sheet's most; a component that lacks
/// more than its tolerance beside one that is over the plan, or with a later one already on top of it, or all `stirred`;
/// an additive over its share of the base.
///
/// **Formula:** exact as [`to_go`] without blindness. Least: the smallest `λ` up to its stretch for which adding what
/// each component has less than `λ·fᵢ` leaves B per A wholly inside the tolerance, worst case of [`b_per_a`], thinner
/// within its most and every additive within 5 % of its share of the base; found by halving, rounded up to what the
/// scale shows. **Units:** g, mL. **Errors:** none. **Source:** arithmetic; the tolerance is the sheet's.
pub fn rescues(sheet: &Sheet, plan: &[PlannedPour], pours: &[Weighed], stirred: bool) -> Vec<Rescue> {
    if pours.is_empty() || !wrong(sheet, plan, pours, stirred) {
        return Vec::new();
    }
    let stretch = stretch(sheet, plan, pours, 0.0);
    let exact = grown(plan, pours, stretch);
    let mut ways = vec![made(sheet, RescueTo::Exact, exact.clone(), pours)];
    let d = pours.last().map_or(1.0, |p| p.resolution_g);
    let up_to = |part: f64| -> Vec<PlannedPour> {
        let mut running_g = pours.last().map_or(0.0, |p| p.reading_g);
        plan.iter()
            .zip(&exact)
            .map(|(p, whole)| {
                let short = (part * p.mass_g - total_g(pours, p.component)).max(0.0);
                let mass_g = ((short / d).ceil() * d).min(whole.mass_g);
                running_g += mass_g;
                of_mass(p, mass_g, running_g)
            })
            .collect()
    };
    let proves = |part: f64| agrees(sheet, plan, &poured_on(pours, &up_to(part), d));
    if !proves(stretch) {
        return ways;
    }
    let (mut out, mut inside) = (0.0, stretch);
    for _ in 0..HALVINGS {
        let middle = (out + inside) / 2.0;
        if proves(middle) { inside = middle } else { out = middle }
    }
    let least = up_to(inside);
    let mass = |adds: &[PlannedPour]| adds.iter().map(|a| a.mass_g).sum::<f64>();
    if mass(&least) < mass(&exact) - d / 2.0 {
        ways.push(made(sheet, RescueTo::Least, least, pours));
    }
    ways
}

fn wrong(sheet: &Sheet, plan: &[PlannedPour], pours: &[Weighed], stirred: bool) -> bool {
    let half = pours.last().map_or(0.0, |p| p.resolution_g / 2.0);
    let off = sheet.hardener().map_or(SHARE_OFF, |h| h.tolerance);
    let last = plan.iter().rposition(|p| total_g(pours, p.component) > 0.0);
    let behind = |c: Component| stirred || plan.iter().position(|p| p.component == c) < last;
    let through = |c: Component| behind(c) || total_g(pours, c) + half >= planned_g(plan, c) * (1.0 - off);
    let ratio = b_per_a(pours)
        .filter(|_| through(Component::Base) && through(Component::Hardener))
        .and_then(|r| said(sheet, r))
        .map(|s| s.tolerance.judge(s.measured));
    let stretch = stretch(sheet, plan, pours, half);
    let lacks = |p: &PlannedPour| {
        let by_ratio = matches!(p.component, Component::Base | Component::Hardener) && ratio == Some(Verdict::In);
        let enough = total_g(pours, p.component) + half >= stretch * p.mass_g * (1.0 - off);
        p.component != Component::Thinner && !by_ratio && !enough
    };
    let strong = |p: &PlannedPour| {
        let base_g = total_g(pours, Component::Base).max(planned_g(plan, Component::Base));
        let share = p.mass_g * base_g / planned_g(plan, Component::Base).max(f64::MIN_POSITIVE);
        p.component.additive().is_some() && total_g(pours, p.component) - half > share * (1.0 + SHARE_OFF)
    };
    ratio.is_some_and(|v| v != Verdict::In)
        || thinner_over(sheet, plan, pours)
        || plan.iter().any(strong)
        || plan.iter().any(|p| lacks(p) && (stretch > 1.0 + off || behind(p.component)))
}

fn planned_g(plan: &[PlannedPour], c: Component) -> f64 {
    plan.iter().find(|p| p.component == c).map_or(0.0, |p| p.mass_g)
}

fn planned_ml(sheet: &Sheet, plan: &[PlannedPour], c: Component) -> f64 {
    sheet.density_kg_l(c).map_or(0.0, |d| planned_g(plan, c) / d)
}

/// The most thinner a sheet allows on so much of A and B; `None` where it allows none.
fn most_thinner_ml(sheet: &Sheet, a_ml: f64, b_ml: f64) -> Option<f64> {
    Some(thinner_ml(a_ml, b_ml, sheet.thinner_max_pct?, sheet.thinner_basis?))
}

/// More thinner than the sheet allows on what is in, or will be by the plan.
fn thinner_over(sheet: &Sheet, plan: &[PlannedPour], pours: &[Weighed]) -> bool {
    let will = |c: Component| sheet.density_kg_l(c).map_or(0.0, |d| total_g(pours, c).max(planned_g(plan, c)) / d);
    let most = most_thinner_ml(sheet, will(Component::Base), will(Component::Hardener));
    let step_g = pours.last().map_or(0.0, |p| p.resolution_g);
    most.zip(sheet.density_kg_l(Component::Thinner))
        .is_some_and(|(most_ml, density)| total_g(pours, Component::Thinner) > most_ml * density + step_g)
}

/// The pours with more on top, each as a reading of the same scale.
fn poured_on(pours: &[Weighed], adds: &[PlannedPour], d: f64) -> Vec<Weighed> {
    let mut all = pours.to_vec();
    for add in adds.iter().filter(|a| a.mass_g > 0.0) {
        let reading_g = all.last().map_or(0.0, |p| p.reading_g) + add.mass_g;
        all.push(Weighed { component: add.component, reading_g, resolution_g: d, ..Weighed::default() });
    }
    all
}

/// Everything that is in agrees with the sheet: ratio proved, thinner within its most, additives by their share.
fn agrees(sheet: &Sheet, plan: &[PlannedPour], pours: &[Weighed]) -> bool {
    let ratio = sheet.hardener().is_none()
        || b_per_a(pours).and_then(|r| said(sheet, r)).is_some_and(|s| s.tolerance.judge(s.measured) == Verdict::In);
    let base = total_g(pours, Component::Base);
    let step = pours.last().map_or(0.0, |p| p.resolution_g);
    let shares = plan.iter().filter(|p| p.component.additive().is_some()).all(|p| {
        let share = p.mass_g * base / planned_g(plan, Component::Base).max(f64::MIN_POSITIVE);
        (total_g(pours, p.component) - share).abs() <= share * SHARE_OFF + step
    });
    base > 0.0 && ratio && shares && !thinner_over(sheet, &[], pours)
}

fn made(sheet: &Sheet, to: RescueTo, adds: Vec<PlannedPour>, pours: &[Weighed]) -> Rescue {
    let adds: Vec<PlannedPour> = adds.into_iter().filter(|p| p.mass_g > 0.0).collect();
    let in_it = |c: Component| total_g(pours, c) + adds.iter().filter(|a| a.component == c).map(|a| a.mass_g).sum::<f64>();
    let volume = |c: Component| sheet.density_kg_l(c).map_or(0.0, |d| in_it(c) / d);
    Rescue {
        to,
        total_g: Component::VARIANTS.iter().copied().map(in_it).sum(),
        total_ml: Component::VARIANTS.iter().copied().map(volume).sum(),
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
