//! What was caught and what was seen, against what was reckoned: a catch teaches the viscosity, a stream the bend.

use super::line::{DISCHARGE, LAMINAR_TO, LAND_MM};
use super::{Fluid, FluidLine, Regime};
use crate::refusal::Refusal;
use roots::{SimpleConvergency, find_root_brent};
use std::f64::consts::PI;

/// Standard gravity, m/s².
const GRAVITY: f64 = 9.806_65;

/// The viscosity that gives a caught flow at a pressure: the paint as it is today, the line as it is.
///
/// **Formula:** laminar, `µ = (P − ρgΔz − ρ/2·(Q/(Cd·A))²) / (128·Q/π·(L/d⁴ + ℓ/dₙ⁴))`; where that would be turbulent, the
/// root of [`FluidLine::drops`] over µ. Where a thick paint running laminar and a thin one running turbulent both explain
/// the catch, the thick one is taken: paint is. **Units:** kPa, mL/min, mPa·s. **Source:** the inverse of the line.
/// **Errors:** `flows-too-much` where no paint, however thin, flows so: another nozzle, a wrong gauge, a wrong catch;
/// `nothing-caught` for a flow of nothing. Power-law fluids keep their index; what is returned is their consistency.
///
/// ```
/// use level_keel_core::delivery::{Fluid, FluidLine, calibrate::viscosity_mpa_s};
/// let line = FluidLine { hose_bore_mm: 9.525, hose_length_mm: 7620.0, lift_mm: 500.0, nozzle_mm: 1.8 };
/// let paint = Fluid { viscosity_mpa_s: 130.0, density_kg_l: 1.2, flow_index: 1.0 };
/// let caught = line.at(&paint, 70.0).flow_ml_min;
/// let known = viscosity_mpa_s(&line, &Fluid { viscosity_mpa_s: 100.0, ..paint }, 70.0, caught).unwrap();
/// assert!((known - 130.0).abs() < 1e-6);
/// ```
pub fn viscosity_mpa_s(line: &FluidLine, fluid: &Fluid, pot_kpa: f64, flow_ml_min: f64) -> Result<f64, Refusal> {
    if flow_ml_min.is_nan() || flow_ml_min <= 0.0 {
        return Err(Refusal::bad_input("nothing-caught", "caught", "Nothing was caught: there is no flow to reckon with."));
    }
    let q = flow_ml_min * 1e-6 / 60.0;
    let (d, hole) = (line.hose_bore_mm * 1e-3, line.nozzle_mm * 1e-3);
    let density = fluid.density_kg_l * 1e3;
    let area = PI * hole * hole / 4.0;
    let inertia = density / 2.0 * (q / (DISCHARGE * area)).powi(2);
    let left = pot_kpa * 1e3 - density * GRAVITY * line.lift_mm * 1e-3 - inertia;
    let too_much = || {
        Refusal::bad_input(
            "flows-too-much",
            "caught",
            "So much would not flow at this pressure were it water. Another nozzle than stated, a gauge that reads low, or a catch timed short?",
        )
    };
    if left <= 0.0 {
        return Err(too_much());
    }
    let newtonian = (fluid.flow_index - 1.0).abs() < 1e-9;
    if newtonian {
        let slope = 128.0 * q / PI * (line.hose_length_mm * 1e-3 / d.powi(4) + LAND_MM * 1e-3 / hole.powi(4));
        let mpa_s = left / slope * 1e3;
        let reynolds = density * 4.0 * q / (PI * d) / (mpa_s * 1e-3);
        if reynolds <= LAMINAR_TO {
            return Ok(mpa_s);
        }
    }
    // One root in the logarithm of the viscosity; the least and the most a paint may have bracket it.
    let wants = |log: f64| line.drops(&Fluid { viscosity_mpa_s: log.exp(), ..*fluid }, flow_ml_min).total_kpa - pot_kpa;
    let (low, high) = (0.05_f64.ln(), 1e7_f64.ln());
    if wants(low) > 0.0 {
        return Err(too_much());
    }
    let mut until = SimpleConvergency { eps: 1e-12, max_iter: 200 };
    find_root_brent(low, high, wants, &mut until).map(f64::exp).map_err(|_| too_much())
}

/// The thin paint, running turbulent in the hose, that would give the same catch as the thick one of [`viscosity_mpa_s`];
/// `None` where only one paint explains it.
///
/// **Formula:** the root of [`FluidLine::drops`] over µ on the turbulent side of Re 2,300. **Units:** mPa·s. **Source:** the
/// inverse of the line, whose pressure steps up at the join, so that two paints may meet one pressure.
pub fn thin_mpa_s(line: &FluidLine, fluid: &Fluid, pot_kpa: f64, flow_ml_min: f64, thick_mpa_s: f64) -> Option<f64> {
    let drops = |log: f64| line.drops(&Fluid { viscosity_mpa_s: log.exp(), ..*fluid }, flow_ml_min);
    let low = 0.05_f64.ln();
    // The thickest that still runs turbulent: halved until it stands.
    let (mut turbulent, mut laminar) = (low, thick_mpa_s.ln());
    let is_turbulent = |log: f64| drops(log).regime == Regime::Turbulent;
    if !is_turbulent(turbulent) || is_turbulent(laminar) {
        return None;
    }
    for _ in 0..60 {
        let middle = f64::midpoint(turbulent, laminar);
        if is_turbulent(middle) { turbulent = middle } else { laminar = middle }
    }
    let wants = |log: f64| drops(log).total_kpa - pot_kpa;
    if wants(low) > 0.0 || wants(turbulent) < 0.0 {
        return None;
    }
    let mut until = SimpleConvergency { eps: 1e-12, max_iter: 200 };
    find_root_brent(low, turbulent, wants, &mut until).map(f64::exp).ok()
}

/// The fall at which this gun and this person call a stream bent.
///
/// **Formula:** `s = g/2·(L/v)²`. **Units:** mm, m/s. **Source:** free fall.
/// **Check:** 318 mL/min through 1.8 mm leaves at 2.08 m/s; who sees 7 in has s = 1.4 in.
pub fn bend_mm(length_mm: f64, speed_m_s: f64) -> f64 {
    GRAVITY / 2.0 * (length_mm / 1e3 / speed_m_s).powi(2) * 1e3
}

/// The pressure falls inside the step between laminar and turbulent: what is reckoned there is rough.
pub fn is_rough(regime: Regime) -> bool {
    regime == Regime::Join
}
