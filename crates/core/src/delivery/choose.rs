//! Another nozzle, another hose: what they would do.

use super::{Fluid, FluidLine};

/// Most pressure a fine-finish gun wants: more means its nozzle is too small. 20 psi; common practice in the trade.
pub const FINE_MOST_KPA: f64 = 137.895_145_863_367_2;
/// Past this look for a small nozzle, a thin hose, a leak, a clog. 50 psi; common practice in the trade.
pub const LOOK_FROM_KPA: f64 = 344.737_864_658_418;
/// Where fine-finish guns usually work: 8 to 12 psi; common practice in the trade.
pub const USUAL_KPA: (f64, f64) = (55.158_058_345_346_9, 82.737_087_518_020_3);
/// Where one starts: 10 psi; common practice in the trade.
pub const START_KPA: f64 = 68.947_572_931_683_6;
/// And heavy-bodied material: a little more, 15 psi; from memory.
pub const HEAVY_START_KPA: f64 = 103.421_359_397_525_4;

/// The smallest of some nozzles that gives a flow at no more than a pressure; `None` when none does.
///
/// **Formula:** [`FluidLine::drops`] of each, smallest first. **Units:** mm, mL/min, kPa.
/// **Source:** as [`FluidLine::drops`].
pub fn smallest_nozzle_mm(line: &FluidLine, fluid: &Fluid, nozzles_mm: &[f64], flow_ml_min: f64, most_kpa: f64) -> Option<f64> {
    let mut sorted = nozzles_mm.to_vec();
    sorted.sort_by(f64::total_cmp);
    sorted.into_iter().find(|n| FluidLine { nozzle_mm: *n, ..*line }.drops(fluid, flow_ml_min).total_kpa <= most_kpa)
}

/// The pressure a flow takes through each of some hose bores, smallest first.
///
/// **Formula:** [`FluidLine::drops`] of each. **Units:** mm, mL/min; mm with kPa. **Source:** as there.
pub fn by_bore(line: &FluidLine, fluid: &Fluid, bores_mm: &[f64], flow_ml_min: f64) -> Vec<(f64, f64)> {
    let mut sorted = bores_mm.to_vec();
    sorted.sort_by(f64::total_cmp);
    sorted.into_iter().map(|b| (b, FluidLine { hose_bore_mm: b, ..*line }.drops(fluid, flow_ml_min).total_kpa)).collect()
}
