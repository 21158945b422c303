//! A plan as lines of a printed cup, what such lines can prove, and the amount for which they are printed ones.

use super::printed_cup::{READ_TO, too_small};
use super::{Component, PlannedPour, Printed, PrintedCup, Weighed, column_of, shares};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::sheets::Sheet;

/// A pour of a plan as a line to fill to.
#[derive(Debug, Clone, PartialEq)]
pub struct FillLine {
    /// What is poured.
    pub pour: PlannedPour,
    /// What stands in the cup then.
    pub up_to_ml: f64,
    /// The figure of the scale there: millilitres, or a number of the column.
    pub at: f64,
    /// The column it is read in.
    pub column: usize,
    /// Half the interval of what is poured, this line and the one beneath.
    pub off_ml: f64,
    /// It falls on a line that is printed.
    pub on_a_line: bool,
}

/// How near a figure lies to a printed line to be on it, as a part of the step: half of what an eye reads.
const ON_A_LINE: f64 = READ_TO / 2.0;

/// The lines a plan is filled to, from the floor up. Additives have none: they are dosed by weight.
///
/// **Errors:** `cup-too-small` at `holds_ml`; `column-of-another-ratio` at `parts`; figures of the cup that make no sense.
pub fn fill_lines(
    cup: &PrintedCup,
    sheet: &Sheet,
    thinner_pct: f64,
    plan: &[PlannedPour],
    prefs: Prefs,
) -> Result<Vec<FillLine>, Refusal> {
    cup.check(prefs)?;
    cup.fits(sheet, thinner_pct, Component::Hardener, prefs)?;
    let (mut up_to_ml, mut beneath_ml) = (0.0, 0.0);
    let mut lines = Vec::new();
    for pour in plan.iter().filter(|p| p.volume_ml > 0.0) {
        let Some(column) = column_of(sheet, pour.component) else { continue };
        up_to_ml += pour.volume_ml;
        if up_to_ml > cup.holds_ml * (1.0 + 1e-9) {
            let all: f64 = plan.iter().map(|p| p.volume_ml).sum();
            return Err(too_small(cup, all, "holds_ml", prefs));
        }
        if cup.fits(sheet, thinner_pct, pour.component, prefs).is_err() {
            // Thinner in another proportion than its column: measured in another cup.
            continue;
        }
        let (at, off) = (cup.at(column, up_to_ml), cup.off_ml(column));
        let step = if cup.printed == Printed::Parts { cup.step_count } else { cup.step_ml }.unwrap_or(1.0);
        let on_a_line = (at / step - (at / step).round()).abs() <= ON_A_LINE;
        lines.push(FillLine { pour: *pour, up_to_ml, at, column, off_ml: off + beneath_ml, on_a_line });
        beneath_ml = off;
    }
    Ok(lines)
}

/// The least of base and hardener together that readings of a cup can prove, by half the interval of the base and of the
/// hardener as poured; `None` for a product without a ratio, and where
/// its band ends at the aim.
///
/// **Formula:** with `a·V` of base and `b·V` of hardener, `(b·V + eB)/(a·V − eA) ≤ (1 + t)·b/a` for the worst case, so
/// `V = (eB + (1 + t)·b/a·eA) / (t·b)`. Where the band is not even, the nearer side counts. **Units:** mL. **Source:** derived from the
/// interval of each reading. **Check:** 4 : 1 within 5 %, lines of 1 fl oz read to a quarter: 56.6 fl oz.
pub fn least_by_cup_ml(sheet: &Sheet, base_off_ml: f64, hardener_off_ml: f64) -> Option<f64> {
    let h = sheet.hardener()?;
    let per = sheet.base_kg_l() / h.density_kg_l;
    let ratio = h.b_per_a * per;
    let (lo, hi) = (h.allowed().0 * per / ratio, h.allowed().1 * per / ratio);
    // A band that ends at the aim leaves no room on that side: no amount proves it.
    if hi - 1.0 <= 1e-9 || 1.0 - lo <= 1e-9 {
        return None;
    }
    let b = ratio / (1.0 + ratio);
    let over = (hardener_off_ml + hi * ratio * base_off_ml) / ((hi - 1.0) * b);
    let under = (hardener_off_ml + lo * ratio * base_off_ml) / ((1.0 - lo) * b);
    let least = over.max(under);
    (least.is_finite() && least >= 0.0).then_some(least)
}

/// The amount nearest to what is wanted for which every pour falls on a printed line; `None` where the cup has none.
///
/// **Rule:** base goes to a whole number of steps; every line above it must be one too. **Units:** mL. **Source:** arithmetic.
pub fn on_whole_lines_ml(cup: &PrintedCup, sheet: &Sheet, thinner_pct: f64, wanted_ml: f64) -> Option<f64> {
    let shares: Vec<_> = shares(sheet, thinner_pct).into_iter().filter(|s| s.component.additive().is_none()).collect();
    let step = if cup.printed == Printed::Parts { cup.step_count? } else { cup.step_ml? };
    let all: f64 = shares.iter().map(|s| s.volume).sum();
    let whole = |k: usize| {
        let base_ml = cup.up_to_ml(0, k as f64 * step);
        let mut up_to = 0.0;
        shares
            .iter()
            .all(|s| {
                up_to += base_ml * s.volume;
                let column = column_of(sheet, s.component).unwrap_or(0);
                let lines = cup.at(column, up_to) / step;
                (lines - lines.round()).abs() < 0.02
            })
            .then_some(base_ml * all)
    };
    let most = (cup.at(0, cup.holds_ml) / step).floor().clamp(0.0, 2000.0) as usize;
    let fit = (1..=most).filter_map(whole).filter(|ml| *ml <= cup.holds_ml * (1.0 + 1e-9));
    fit.min_by(|a, b| (a - wanted_ml).abs().total_cmp(&(b - wanted_ml).abs()))
}

/// The least of base and hardener together that cups read so can prove, by the first pour of each.
///
/// **Formula:** [`least_by_cup_ml`] with half the interval of each pour. **Units:** mL. **Source:** as that.
pub fn least_read_ml(sheet: &Sheet, pours: &[Weighed]) -> Option<f64> {
    let off_ml = |c: Component| {
        let pour = pours.iter().find(|p| p.component == c)?;
        Some(pour.resolution_g / 2.0 / sheet.density_kg_l(c)?)
    };
    least_by_cup_ml(sheet, off_ml(Component::Base)?, off_ml(Component::Hardener)?)
}
