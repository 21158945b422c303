//! Gun speed and film: five figures, any one of which follows from the others.

use crate::limits;
use crate::quantity::{Kind, Prefs, show};
use crate::refusal::Refusal;
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is known; exactly one is left out and solved for.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Lap {
    /// Out of the gun.
    #[serde(default)]
    pub flow_ml_min: Option<f64>,
    /// Width of the fan on the part.
    #[serde(default)]
    pub fan_mm: Option<f64>,
    /// Of each lap over the one before.
    #[serde(default)]
    pub overlap_pct: Option<f64>,
    /// Of the gun.
    #[serde(default)]
    pub gun_speed_m_s: Option<f64>,
    /// Wet film of one coat.
    #[serde(default)]
    pub wet_um: Option<f64>,
    /// What stays on the part.
    pub transfer_pct: f64,
}

/// All five.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Solved {
    pub flow_ml_min: f64,
    pub fan_mm: f64,
    pub overlap_pct: f64,
    pub gun_speed_m_s: f64,
    pub wet_um: f64,
}

impl Solved {
    /// Time the trigger is pulled for an area.
    ///
    /// **Formula:** `area / (v·W·(1−o))`. **Units:** m², s.
    pub fn time_s(&self, area_m2: f64) -> f64 {
        area_m2 / (self.gun_speed_m_s * self.fan_mm / 1e3 * (1.0 - self.overlap_pct / 100.0))
    }
}

/// Solves for the one that is left out.
///
/// **Formula:** `WFT = Q·TE / (v·W·(1−o))`. **Units:** µm, mL/min, m/s, mm, per cent. **Source:** what is laid down is
/// what comes out and stays. **Check:** 350 mL/min, TE 0.65, 12 in, 50 %, 4 mil → 0.245 m/s.
/// **Errors:** a refusal at the figure outside its limit; `leave-one-out` unless exactly one is missing; `no-overlap` where
/// the laps would have to lie apart.
///
/// ```
/// use level_keel_core::{film::speed::{Lap, solve}, quantity::Prefs};
/// let lap = Lap { flow_ml_min: Some(350.0), fan_mm: Some(304.8), overlap_pct: Some(50.0), wet_um: Some(101.6), transfer_pct: 65.0, ..Lap::default() };
/// let (solved, _) = solve(&lap, Prefs::METRIC).unwrap();
/// assert!((solved.gun_speed_m_s - 0.245).abs() < 5e-4);
/// ```
pub fn solve(lap: &Lap, prefs: Prefs) -> Result<(Solved, Working), Refusal> {
    limits::FLUID_FLOW.check_optional("flow_ml_min", lap.flow_ml_min, prefs)?;
    limits::FAN.check_optional("fan_mm", lap.fan_mm, prefs)?;
    limits::OVERLAP.check_optional("overlap_pct", lap.overlap_pct, prefs)?;
    limits::GUN_SPEED.check_optional("gun_speed_m_s", lap.gun_speed_m_s, prefs)?;
    limits::FILM.check_optional("wet_um", lap.wet_um, prefs)?;
    let te = limits::TRANSFER.check("transfer_pct", lap.transfer_pct, prefs)? / 100.0;
    // mL/min to m³/s, mm to m, µm to m.
    let (q, w) = (lap.flow_ml_min.map(|q| q * 1e-6 / 60.0), lap.fan_mm.map(|w| w * 1e-3));
    let (o, v, film) = (lap.overlap_pct.map(|o| o / 100.0), lap.gun_speed_m_s, lap.wet_um.map(|um| um * 1e-6));
    let one = |solved: Solved, label: &str, figures: String, value: f64, kind: Kind| {
        let mut working =
            Working::new("Gun speed and film", "What is laid down is what comes out and stays: Q·TE = WFT·v·W·(1−o)");
        working.line(label, figures, value, kind, prefs);
        (solved, working)
    };
    let say = |v: f64, k| show(v, k, prefs).text;
    let all = |flow_ml_min, fan_mm, overlap_pct, gun_speed_m_s, wet_um| Solved {
        flow_ml_min,
        fan_mm,
        overlap_pct,
        gun_speed_m_s,
        wet_um,
    };
    match (q, w, o, v, film) {
        (Some(q), Some(w), Some(o), Some(v), None) => {
            let um = q * te / (v * w * (1.0 - o)) * 1e6;
            limits::FILM.check("wet_um", um, prefs)?;
            let figures = format!(
                "{} × {} ÷ ({} × {} × {})",
                say(q * 6e7, Kind::Flow),
                say(te * 100.0, Kind::Percent),
                say(v, Kind::Speed),
                say(w * 1e3, Kind::Length),
                say(100.0 - o * 100.0, Kind::Percent)
            );
            Ok(one(all(q * 6e7, w * 1e3, o * 100.0, v, um), "Wet film", figures, um, Kind::Film))
        }
        (Some(q), Some(w), Some(o), None, Some(film)) => {
            let v = q * te / (film * w * (1.0 - o));
            limits::GUN_SPEED.check("gun_speed_m_s", v, prefs)?;
            let figures = format!(
                "{} × {} ÷ ({} × {} × {})",
                say(q * 6e7, Kind::Flow),
                say(te * 100.0, Kind::Percent),
                say(film * 1e6, Kind::Film),
                say(w * 1e3, Kind::Length),
                say(100.0 - o * 100.0, Kind::Percent)
            );
            Ok(one(all(q * 6e7, w * 1e3, o * 100.0, v, film * 1e6), "Gun speed", figures, v, Kind::Speed))
        }
        (Some(q), Some(w), None, Some(v), Some(film)) => {
            let o = 100.0 * (1.0 - q * te / (film * v * w));
            if !(0.0..=90.0).contains(&o) {
                let text = if o < 0.0 {
                    "The laps would lie apart: slower, a narrower fan, or a thinner film."
                } else {
                    "Each lap would lie almost on the one before: faster, or a wider fan."
                };
                return Err(Refusal::bad_input("no-overlap", "overlap_pct", text));
            }
            let figures = format!(
                "1 − {} × {} ÷ ({} × {} × {})",
                say(q * 6e7, Kind::Flow),
                say(te * 100.0, Kind::Percent),
                say(film * 1e6, Kind::Film),
                say(v, Kind::Speed),
                say(w * 1e3, Kind::Length)
            );
            Ok(one(all(q * 6e7, w * 1e3, o, v, film * 1e6), "Overlap", figures, o, Kind::Percent))
        }
        (Some(q), None, Some(o), Some(v), Some(film)) => {
            let mm = q * te / (film * v * (1.0 - o)) * 1e3;
            limits::FAN.check("fan_mm", mm, prefs)?;
            let figures = format!(
                "{} × {} ÷ ({} × {} × {})",
                say(q * 6e7, Kind::Flow),
                say(te * 100.0, Kind::Percent),
                say(film * 1e6, Kind::Film),
                say(v, Kind::Speed),
                say(100.0 - o * 100.0, Kind::Percent)
            );
            Ok(one(all(q * 6e7, mm, o * 100.0, v, film * 1e6), "Fan", figures, mm, Kind::Length))
        }
        (None, Some(w), Some(o), Some(v), Some(film)) => {
            let flow = film * v * w * (1.0 - o) / te * 6e7;
            limits::FLUID_FLOW.check("flow_ml_min", flow, prefs)?;
            let figures = format!(
                "{} × {} × {} × {} ÷ {}",
                say(film * 1e6, Kind::Film),
                say(v, Kind::Speed),
                say(w * 1e3, Kind::Length),
                say(100.0 - o * 100.0, Kind::Percent),
                say(te * 100.0, Kind::Percent)
            );
            Ok(one(all(flow, w * 1e3, o * 100.0, v, film * 1e6), "Flow", figures, flow, Kind::Flow))
        }
        _ => Err(Refusal::bad_input(
            "leave-one-out",
            "gun_speed_m_s",
            "Leave exactly one of flow, fan, overlap, speed and film empty: that one is solved for.",
        )),
    }
}
