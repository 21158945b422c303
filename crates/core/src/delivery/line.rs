//! Hose, lift and nozzle: what a pressure pushes, and what a flow takes.

use crate::limits;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use roots::{SimpleConvergency, find_root_brent, find_root_newton_raphson};
use serde::{Deserialize, Serialize};
use std::f64::consts::{LN_10, PI};
use utoipa::ToSchema;

/// Standard gravity, m/s².
const GRAVITY: f64 = 9.806_65;
/// The pressure that lifts the paint from the vessel to the gun.
///
/// **Formula:** `ρ·g·Δz`. **Units:** kg/L, mm; kPa. **Source:** hydrostatics.
///
/// ```
/// use level_keel_core::delivery::lift_kpa;
/// assert!((lift_kpa(1.2, 500.0) - 5.884).abs() < 1e-3);
/// ```
pub fn lift_kpa(density_kg_l: f64, lift_mm: f64) -> f64 {
    density_kg_l * GRAVITY * lift_mm * 1e-3
}

/// Above it a hose is reckoned turbulent. Handbooks; reference libraries switch elsewhere.
pub const LAMINAR_TO: f64 = 2300.0;
/// Discharge of a fluid nozzle, from memory.
pub const DISCHARGE: f64 = 0.7;
/// Length of a nozzle's land in millimetres, from memory.
pub const LAND_MM: f64 = 3.0;

/// What flows.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Fluid {
    /// Viscosity; of a power-law fluid its consistency, in mPa·sⁿ.
    pub viscosity_mpa_s: f64,
    /// Density.
    pub density_kg_l: f64,
    /// Power-law index: 1 flows as water does, less thins under shear.
    #[serde(default = "newton")]
    pub flow_index: f64,
}

fn newton() -> f64 {
    1.0
}

/// Where it flows.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FluidLine {
    /// Bore of the hose.
    pub hose_bore_mm: f64,
    /// Its length.
    pub hose_length_mm: f64,
    /// The gun above the pot; under zero where it hangs lower.
    pub lift_mm: f64,
    /// Hole of the nozzle.
    pub nozzle_mm: f64,
}

/// How the hose flows.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Regime {
    /// Nothing flows: the pressure does not carry the fluid up.
    Still,
    /// Up to Reynolds 2,300.
    Laminar,
    /// Inside the step between the two: the flow is that at Reynolds 2,300.
    Join,
    /// Above it.
    Turbulent,
}

impl Regime {
    /// In words, with what to know of it.
    pub fn words(self) -> &'static str {
        match self {
            Regime::Still => "nothing flows: the pressure does not lift it to the gun",
            Regime::Laminar => "smooth in the hose (laminar)",
            Regime::Join => "between smooth (laminar) and churning (turbulent): the flow may sit anywhere near this",
            Regime::Turbulent => "churning in the hose (turbulent)",
        }
    }
}

/// Where the pressure goes at a flow.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Drops {
    /// Volume in a minute.
    pub flow_ml_min: f64,
    /// Lost in the hose.
    pub hose_kpa: f64,
    /// To lift it to the gun.
    pub lift_kpa: f64,
    /// Lost in the nozzle.
    pub nozzle_kpa: f64,
    /// All together: what the pot's gauge shows.
    pub total_kpa: f64,
    /// Speed out of the nozzle.
    pub speed_m_s: f64,
    /// Reynolds number in the hose.
    pub reynolds: f64,
    /// How the hose flows.
    pub regime: Regime,
}

/// The sum in SI, made once for a line and a fluid.
struct Si {
    viscosity: f64,
    density: f64,
    index: f64,
    bore: f64,
    length: f64,
    hole: f64,
    lift_pa: f64,
}

const ML_MIN: f64 = 1e-6 / 60.0;

impl Si {
    fn of(line: &FluidLine, fluid: &Fluid) -> Si {
        Si {
            viscosity: fluid.viscosity_mpa_s * 1e-3,
            density: fluid.density_kg_l * 1e3,
            index: fluid.flow_index,
            bore: line.hose_bore_mm * 1e-3,
            length: line.hose_length_mm * 1e-3,
            hole: line.nozzle_mm * 1e-3,
            lift_pa: lift_kpa(fluid.density_kg_l, line.lift_mm) * 1e3,
        }
    }

    fn newtonian(&self) -> bool {
        (self.index - 1.0).abs() < 1e-9
    }

    /// Laminar loss of a round passage, a power law if it is one.
    fn laminar(&self, bore: f64, length: f64, flow: f64) -> f64 {
        if self.newtonian() {
            return 128.0 * self.viscosity * length * flow / (PI * bore.powi(4));
        }
        let (r, n) = (bore / 2.0, self.index);
        2.0 * self.viscosity * length / r * ((3.0 * n + 1.0) / n * flow / (PI * r.powi(3))).powf(n)
    }

    fn hose_speed(&self, flow: f64) -> f64 {
        4.0 * flow / (PI * self.bore * self.bore)
    }

    /// Reynolds of the hose; of a power law after Metzner and Reed.
    fn reynolds(&self, flow: f64) -> f64 {
        let v = self.hose_speed(flow);
        if self.newtonian() {
            return self.density * v * self.bore / self.viscosity;
        }
        let n = self.index;
        let wall = self.viscosity * ((3.0 * n + 1.0) / (4.0 * n)).powf(n) * 8f64.powf(n - 1.0);
        self.density * v.powf(2.0 - n) * self.bore.powf(n) / wall
    }

    /// Flow at which the hose leaves the laminar range.
    fn join(&self) -> f64 {
        if self.newtonian() {
            return LAMINAR_TO * self.viscosity * PI * self.bore / (4.0 * self.density);
        }
        let n = self.index;
        let wall = self.viscosity * ((3.0 * n + 1.0) / (4.0 * n)).powf(n) * 8f64.powf(n - 1.0);
        let v = (LAMINAR_TO * wall / (self.density * self.bore.powf(n))).powf(1.0 / (2.0 - n));
        v * PI * self.bore * self.bore / 4.0
    }

    /// Turbulent loss of a smooth hose after Haaland; a power law is taken to have the friction of its Reynolds number.
    fn turbulent(&self, flow: f64) -> f64 {
        let root = -1.8 * (6.9 / self.reynolds(flow)).log10();
        let v = self.hose_speed(flow);
        self.length / self.bore * self.density * v * v / 2.0 / (root * root)
    }

    fn nozzle(&self, flow: f64) -> f64 {
        let area = PI * self.hole * self.hole / 4.0;
        let v = flow / (DISCHARGE * area);
        self.density / 2.0 * v * v + self.laminar(self.hole, LAND_MM * 1e-3, flow)
    }

    fn drops(&self, flow: f64, regime: Regime) -> Drops {
        let hose = if regime == Regime::Turbulent { self.turbulent(flow) } else { self.laminar(self.bore, self.length, flow) };
        let nozzle = self.nozzle(flow);
        Drops {
            flow_ml_min: flow / ML_MIN,
            hose_kpa: hose / 1e3,
            lift_kpa: self.lift_pa / 1e3,
            nozzle_kpa: nozzle / 1e3,
            total_kpa: (hose + nozzle + self.lift_pa) / 1e3,
            speed_m_s: flow / (PI * self.hole * self.hole / 4.0),
            reynolds: if flow > 0.0 { self.reynolds(flow) } else { 0.0 },
            regime,
        }
    }

    /// The flow of a driving pressure while the hose is laminar.
    fn laminar_flow(&self, driving: f64) -> f64 {
        let area = PI * self.hole * self.hole / 4.0;
        let square = self.density / 2.0 / (DISCHARGE * area).powi(2);
        if self.newtonian() {
            let linear = 128.0 * self.viscosity / PI * (self.length / self.bore.powi(4) + LAND_MM * 1e-3 / self.hole.powi(4));
            // The stable form: no difference of two nearly equal numbers.
            return 2.0 * driving / (linear + (linear * linear + 4.0 * square * driving).sqrt());
        }
        let most = (driving / square).sqrt();
        self.bracketed(0.0, most, |q| self.laminar(self.bore, self.length, q) + self.nozzle(q) - driving)
    }

    /// The turbulent flow of a driving pressure, by Newton's way from above: the loss is convex in the flow and the start
    /// is never too little, so every step comes down to the root. `None` where it does not settle, or for a power law.
    fn turbulent_flow(&self, driving: f64, laminar: f64) -> Option<f64> {
        if !self.newtonian() {
            return None;
        }
        let bore_area = PI * self.bore * self.bore / 4.0;
        let hole_area = PI * self.hole * self.hole / 4.0;
        let hose = self.length / self.bore * self.density / 2.0 / (bore_area * bore_area);
        let square = self.density / 2.0 / (DISCHARGE * hole_area).powi(2);
        let linear = 128.0 * self.viscosity * LAND_MM * 1e-3 / (PI * self.hole.powi(4));
        let per_flow = self.density * self.bore / (bore_area * self.viscosity);
        let root = |q: f64| 1.8 * (per_flow * q / 6.9).log10();
        let wants = |q: f64| q * (q * (hose / root(q).powi(2) + square) + linear) - driving;
        let slope = |q: f64| {
            let r = root(q);
            2.0 * q * (hose / (r * r) * (1.0 - 1.8 / (LN_10 * r)) + square) + linear
        };
        // With the friction of the laminar flow, which is the least there may be.
        let start = (driving / (hose / root(laminar).powi(2) + square)).sqrt().min(laminar);
        // Flow and pressure as parts of their own size, so that one bound of convergence fits both.
        let mut until = SimpleConvergency { eps: 1e-13, max_iter: 30 };
        let part = |x: f64| wants(x * start) / driving;
        let steep = |x: f64| slope(x * start) * start / driving;
        find_root_newton_raphson(1.0, part, steep, &mut until).ok().map(|x| x * start)
    }

    /// A root between two flows of which one gives too little and one too much.
    fn bracketed(&self, low: f64, high: f64, wants: impl Fn(f64) -> f64) -> f64 {
        let at = |x: f64| low + x * (high - low);
        let mut until = SimpleConvergency { eps: 1e-13, max_iter: 100 };
        find_root_brent(0.0, 1.0, |x| wants(at(x)), &mut until).map_or_else(
            // The root lies on an end, to rounding.
            |_| if wants(low).abs() < wants(high).abs() { low } else { high },
            at,
        )
    }
}

impl FluidLine {
    /// A line of sense.
    ///
    /// **Errors:** a refusal naming the measure: a nozzle of 0, a hose of 0 or of 5 km.
    pub fn check(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::HOSE_BORE.check("hose_bore_mm", self.hose_bore_mm, prefs)?;
        limits::LINE_LENGTH.check("hose_length_mm", self.hose_length_mm, prefs)?;
        limits::LIFT.check("lift_mm", self.lift_mm, prefs)?;
        limits::NOZZLE.check("nozzle_mm", self.nozzle_mm, prefs)?;
        Ok(())
    }

    /// Where the pressure goes at a flow.
    ///
    /// **Formula:** hose, laminar `128·µ·L·Q/(π·d⁴)` to Re 2,300, above it Darcy–Weisbach with Haaland's friction of a
    /// smooth bore; lift `ρ·g·Δz`; nozzle `ρ/2·(Q/(Cd·A))² + 128·µ·ℓ·Q/(π·dₙ⁴)`. A power law takes
    /// `2KL/R·((3n+1)/n·Q/(πR³))ⁿ` for both passages. **Units:** mm, mL/min, kPa, mPa·s, kg/L.
    /// **Source:** handbooks of fluid mechanics; Cd 0.7 and the 3 mm land from memory.
    /// **Check:** 350 mL/min of 100 mPa·s in 25 ft of 3/8 in: 3.19 psi, of 1/4 in 16.16 psi (fluids 1.3.1).
    ///
    /// ```
    /// use level_keel_core::delivery::{Fluid, FluidLine};
    /// let line = FluidLine { hose_bore_mm: 9.525, hose_length_mm: 7620.0, lift_mm: 0.0, nozzle_mm: 1.8 };
    /// let paint = Fluid { viscosity_mpa_s: 100.0, density_kg_l: 1.2, flow_index: 1.0 };
    /// let psi = line.drops(&paint, 350.0).hose_kpa / 6.894757;
    /// assert!((psi - 3.19).abs() < 0.005);
    /// ```
    pub fn drops(&self, fluid: &Fluid, flow_ml_min: f64) -> Drops {
        let si = Si::of(self, fluid);
        let flow = flow_ml_min.max(0.0) * ML_MIN;
        let regime = match flow {
            0.0 => Regime::Still,
            q if q > si.join() * (1.0 + 1e-12) => Regime::Turbulent,
            _ => Regime::Laminar,
        };
        si.drops(flow, regime)
    }

    /// What a pressure on the pot pushes: the inverse of [`FluidLine::drops`].
    ///
    /// **Formula:** laminar a quadratic in Q, else Newton's root from above, or a bracketed one. At the join the pressure steps up: a pressure
    /// inside the step gives the flow at Re 2,300, and [`Regime::Join`] says so. Under the lift nothing flows.
    /// **Check:** 1.8 mm, 25 ft × 3/8 in, 100 mPa·s, 1.2 kg/L, lift 0.5 m: 8 psi 462 mL/min, 10 psi 564, 12 psi 658.
    pub fn at(&self, fluid: &Fluid, pot_kpa: f64) -> Drops {
        let si = Si::of(self, fluid);
        let driving = pot_kpa * 1e3 - si.lift_pa;
        if driving.is_nan() || driving <= 0.0 {
            return si.drops(0.0, Regime::Still);
        }
        let laminar = si.laminar_flow(driving);
        let join = si.join();
        if laminar <= join {
            return si.drops(laminar, Regime::Laminar);
        }
        let wants = |q: f64| si.turbulent(q) + si.nozzle(q) - driving;
        if wants(join) >= 0.0 {
            return si.drops(join, Regime::Join);
        }
        // Turbulent never carries more than laminar would.
        let flow = si.turbulent_flow(driving, laminar).filter(|q| (join..=laminar).contains(q));
        si.drops(flow.unwrap_or_else(|| si.bracketed(join, laminar, wants)), Regime::Turbulent)
    }

    /// The pressure for a length of stream, with what it takes.
    pub fn for_stream(&self, fluid: &Fluid, length_mm: f64, bend_mm: f64) -> Drops {
        let speed = super::stream_speed_m_s(length_mm, bend_mm);
        let area_mm2 = PI * self.nozzle_mm * self.nozzle_mm / 4.0;
        self.drops(fluid, speed * 1e3 * area_mm2 * 60.0 / 1e3)
    }
}

impl Drops {
    /// Length of the stream before it has fallen `bend_mm`.
    ///
    /// **Formula:** [`super::stream_length_mm`] of its speed. **Units:** mm. **Source:** as there.
    pub fn stream_mm(&self, bend_mm: f64) -> f64 {
        super::stream_length_mm(self.speed_m_s, bend_mm)
    }
}

impl Fluid {
    /// A fluid of sense.
    ///
    /// **Errors:** a refusal naming the figure.
    pub fn check(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::VISCOSITY.check("viscosity_mpa_s", self.viscosity_mpa_s, prefs)?;
        limits::DENSITY.check("density_kg_l", self.density_kg_l, prefs)?;
        limits::FLOW_INDEX.check("flow_index", self.flow_index, prefs)?;
        Ok(())
    }
}
