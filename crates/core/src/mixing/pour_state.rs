//! How one pour stands: the one judgement of the pour table, the level, the scale's weigh-in and the gate.

use super::scale::component_g;
use super::{Component, Weighed, b_per_a, said, total_g};
use crate::sheets::{DEFAULT_TOLERANCE_PCT, Sheet};
use crate::verdict::{Measured, Tolerance, Verdict};

/// One component of a pot, judged.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PourState {
    /// What is in, with what the scale may be off; for hardener as the ratio sees it, both readings carried.
    pub poured_g: Measured,
    /// What may be in.
    pub tolerance: Tolerance,
    /// The judgement; `None` while nothing of it is in.
    pub verdict: Option<Verdict>,
}

/// How far a pour may be off its target.
///
/// **Source:** the sheet's tolerance; 5 % where it states none is common practice in the trade. **Units:** g.
/// **Formula:** `target × tolerance`.
pub fn slack_g(sheet: &Sheet, target_g: f64) -> f64 {
    target_g * sheet.hardener().map_or(DEFAULT_TOLERANCE_PCT / 100.0, |h| h.tolerance)
}

/// Judges what is in of a component.
///
/// **Rule:** hardener beside base is judged by the ratio and by nothing else, so that table, level and gate cannot differ;
/// everything else by its own mass against the target. **Units:** g. **Source:** arithmetic of the ratio; the tolerance is
/// the sheet's. **Example:** 100 g + 2 g on a 1 g scale, band 1.5–2.5 %: *cannot tell*, apart and on a running total.
pub fn pour_state(sheet: &Sheet, pours: &[Weighed], component: Component, target_g: f64) -> PourState {
    let poured_g = component_g(pours, component);
    let slack = slack_g(sheet, target_g);
    let by_mass = Tolerance::between(target_g - slack, target_g + slack);
    let none = poured_g.value <= 0.0;
    if component == Component::Hardener && !none {
        let base_g = total_g(pours, Component::Base);
        if let (Some(ratio), Some(h), true) = (b_per_a(pours), sheet.hardener(), base_g > 0.0) {
            let (lo, hi) = h.allowed();
            return PourState {
                poured_g: ratio.map(|x| x * base_g),
                tolerance: Tolerance::between(lo * base_g, hi * base_g),
                verdict: said(sheet, ratio).map(|s| by_mass_of(s.tolerance.judge(s.measured), s.kind)),
            };
        }
        if base_g > 0.0 {
            return PourState { poured_g, tolerance: by_mass, verdict: Some(Verdict::CannotTell) };
        }
    }
    let verdict = (!none).then(|| by_mass.judge(poured_g));
    PourState { poured_g, tolerance: by_mass, verdict }
}

/// A ratio of A to B is low where there is much B: said of the mass of B it is the other way round.
fn by_mass_of(verdict: Verdict, kind: crate::quantity::QuantityKind) -> Verdict {
    match (verdict, kind) {
        (Verdict::Low, crate::quantity::QuantityKind::Ratio) => Verdict::High,
        (Verdict::High, crate::quantity::QuantityKind::Ratio) => Verdict::Low,
        (same, _) => same,
    }
}

/// Whether a pour is done: something is in, and what is left is within its tolerance or a division of the scale.
///
/// **Source:** common practice in the trade.
pub fn is_done(sheet: &Sheet, pours: &[Weighed], component: Component, left_g: f64, division_g: f64) -> bool {
    let poured = total_g(pours, component);
    poured > 0.0 && left_g <= slack_g(sheet, poured + left_g).max(division_g)
}
