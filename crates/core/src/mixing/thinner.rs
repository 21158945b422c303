//! Thinner in a pot against what the sheet allows of it.

use super::{Component, Weighed, thinner_ml, total_g};
use crate::sheets::Sheet;
use crate::verdict::is_over;

/// Thinner in a pot against what the sheet allows of it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ThinnerState {
    /// In the pot.
    pub poured_g: f64,
    /// By volume, where the sheet states its density.
    pub poured_ml: f64,
    /// The sheet's most; `None`: it allows none.
    pub allowed_ml: Option<f64>,
    /// Past the most by more than a step of the scale, or any of it where none is allowed.
    pub over: bool,
}

/// How the thinner of a pot stands; `None` where there is none in it.
///
/// **Rule:** thinner is judged by its maximum only, and by the reading: a step of the scale is no over-pour. **Units:** g, mL.
/// **Source:** the sheet; common practice in the trade.
pub fn thinner_state(sheet: &Sheet, pours: &[Weighed]) -> Option<ThinnerState> {
    let poured_g = total_g(pours, Component::Thinner);
    if poured_g <= 0.0 {
        return None;
    }
    let (Some(max), Some(basis), Some(density)) =
        (sheet.thinner_max_pct, sheet.thinner_basis, sheet.density_kg_l(Component::Thinner))
    else {
        return Some(ThinnerState { poured_g, poured_ml: 0.0, allowed_ml: None, over: true });
    };
    let volume = |c| sheet.density_kg_l(c).map_or(0.0, |d| total_g(pours, c) / d);
    let (base_ml, hardener_ml) = (volume(Component::Base), volume(Component::Hardener));
    let allowed_ml = thinner_ml(base_ml, hardener_ml, max, basis);
    let step_ml = pours.iter().map(|w| w.resolution_g).fold(0.0, f64::max) / density;
    let poured_ml = poured_g / density;
    let over = is_over(poured_ml, allowed_ml + step_ml);
    Some(ThinnerState { poured_g, poured_ml, allowed_ml: Some(allowed_ml), over })
}
