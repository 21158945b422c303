//! The air hose: what it costs, both ways, and when it is too thin.

use crate::limits;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use roots::{SimpleConvergency, find_root_brent};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use utoipa::ToSchema;

/// One atmosphere, kPa.
pub const ATMOSPHERE_KPA: f64 = 101.325;
/// Gas constant of air, J/(kg·K).
const AIR_R: f64 = 287.05;
/// Free air is counted at 20 °C and 1 atm.
const FREE_K: f64 = 293.15;
/// Viscosity of air at 20 °C, Pa·s.
const AIR_VISCOSITY: f64 = 1.813e-5;
/// Roughness of a rubber hose, m; from memory.
const ROUGHNESS: f64 = 1e-5;

/// A hose for air.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AirHose {
    /// Bore.
    pub bore_mm: f64,
    /// Length.
    pub length_mm: f64,
}

struct Flow {
    /// Absolute pressure at which the hose chokes, Pa.
    choke: f64,
    /// `(ṁ/A)²·R·T`, Pa².
    squared: f64,
    /// `f·L/D`.
    friction: f64,
}

impl Flow {
    fn of(hose: &AirHose, nl_min: f64) -> Flow {
        let (d, l) = (hose.bore_mm * 1e-3, hose.length_mm * 1e-3);
        let density = ATMOSPHERE_KPA * 1e3 / (AIR_R * FREE_K);
        let flux = density * nl_min * 1e-3 / 60.0 / (PI * d * d / 4.0);
        let reynolds = flux * d / AIR_VISCOSITY;
        let friction = if reynolds < 2300.0 {
            64.0 / reynolds
        } else {
            let root = -1.8 * ((ROUGHNESS / d / 3.7).powf(1.11) + 6.9 / reynolds).log10();
            1.0 / (root * root)
        };
        let squared = flux * flux * AIR_R * FREE_K;
        Flow { choke: squared.sqrt(), squared, friction: friction * l / d }
    }

    /// Zero where both ends agree; rises with the pressure in, falls with the pressure out.
    fn wants(&self, p_in: f64, p_out: f64) -> f64 {
        p_in * p_in - p_out * p_out - self.squared * (self.friction + 2.0 * (p_in / p_out).ln())
    }
}

impl AirHose {
    /// A hose of sense.
    ///
    /// **Errors:** a refusal naming the measure.
    pub fn check(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::HOSE_BORE.check("bore_mm", self.bore_mm, prefs)?;
        limits::LINE_LENGTH.check("length_mm", self.length_mm, prefs)?;
        Ok(())
    }

    /// The pressure left at the gun with so much air flowing.
    ///
    /// **Formula:** isothermal `p₁² − p₂² = (ṁ/A)²·R·T·(f·L/D + 2·ln(p₁/p₂))`, Haaland, roughness 0.01 mm. **Units:** kPa
    /// gauge, litres of free air a minute at 20 °C and 1 atm. **Source:** handbooks of compressible flow.
    /// **Check:** 20 °C, 50 psi in, 12 scfm through 25 ft: of 1/4 in 26.5 psi is left, 5/16 in 43.6, 3/8 in 47.5; 50 ft of
    /// 5/16 in 36.4 (fluids and CoolProp with Colebrook; within 2 % of the drop).
    /// **Errors:** `hose-too-thin` where no pressure at its end carries so much: the hose chokes.
    pub fn at_gun_kpa(&self, wall_kpa: f64, nl_min: f64) -> Result<f64, Refusal> {
        let flow = Flow::of(self, nl_min);
        let p_in = (wall_kpa + ATMOSPHERE_KPA) * 1e3;
        let least = flow.choke.max(ATMOSPHERE_KPA * 1e3);
        if p_in <= least || flow.wants(p_in, least) < 0.0 {
            return Err(too_thin());
        }
        let mut until = SimpleConvergency { eps: 1e-13, max_iter: 200 };
        let at = |x: f64| least + x * (p_in - least);
        find_root_brent(0.0, 1.0, |x| flow.wants(p_in, at(x)), &mut until)
            .map(|x| at(x) / 1e3 - ATMOSPHERE_KPA)
            .map_err(|_| too_thin())
    }

    /// What the wall must be set to so that the gun has a pressure: the inverse of [`AirHose::at_gun_kpa`].
    ///
    /// **Errors:** `hose-too-thin` where the hose chokes before.
    /// **Rule:** the root of the loss of the hose ([`AirHose::at_gun_kpa`]), by Brent. **Units:** kPa gauge, NL/min.
    /// **Source:** as there.
    pub fn at_wall_kpa(&self, gun_kpa: f64, nl_min: f64) -> Result<f64, Refusal> {
        let flow = Flow::of(self, nl_min);
        let p_out = (gun_kpa + ATMOSPHERE_KPA) * 1e3;
        if p_out <= flow.choke {
            return Err(too_thin());
        }
        // More than all that is lost at the density of the outlet.
        let most = (p_out * p_out + flow.squared * (flow.friction + 40.0)).sqrt();
        let at = |x: f64| p_out + x * (most - p_out);
        let mut until = SimpleConvergency { eps: 1e-13, max_iter: 200 };
        let wall = find_root_brent(0.0, 1.0, |x| flow.wants(at(x), p_out), &mut until).map_err(|_| too_thin())?;
        Ok(at(wall) / 1e3 - ATMOSPHERE_KPA)
    }
}

fn too_thin() -> Refusal {
    Refusal::bad_input(
        "hose-too-thin",
        "air_bore_mm",
        "This air hose is too thin: so much air does not pass it at this pressure. Take a wider or a shorter one.",
    )
}
