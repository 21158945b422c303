//! Gun speed and film: five figures, any one of which follows from the others.

use super::laps::{FanProfile, fade_of_card};
use crate::atomizing::classes::GunClass;
use crate::limits;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::sheets::OverlapSchool;
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
    /// Width of a sprayed card where any paint lies.
    #[serde(default)]
    pub card_outer_mm: Option<f64>,
    /// Width of it where it lies in full.
    #[serde(default)]
    pub card_full_mm: Option<f64>,
}

impl Lap {
    /// The part of the fan that fades on each side, where a sprayed card was read; `None` where none was.
    ///
    /// **Formula:** [`fade_of_card`]. **Units:** mm; parts of the width. **Source:** geometry.
    /// **Errors:** a refusal where one of the two widths is missing, or the full one is not the narrower.
    pub fn fade(&self) -> Result<Option<f64>, Refusal> {
        let missing = |field: &str| Err(Refusal::bad_input("missing", field, "The fade follows from both widths of the card."));
        match (self.card_outer_mm, self.card_full_mm) {
            (None, None) => Ok(None),
            (Some(_), None) => missing("card_full_mm"),
            (None, Some(_)) => missing("card_outer_mm"),
            (Some(outer), Some(full)) => match fade_of_card(outer, full) {
                Some(fade) => Ok(Some(fade)),
                None => {
                    let text = "Where it lies in full is narrower than where any paint lies.";
                    Err(Refusal::bad_input("out-of-order", "card_full_mm", text))
                }
            },
        }
    }
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
    /// **Source:** arithmetic.
    pub fn time_s(&self, area_m2: f64) -> f64 {
        area_m2 / (self.gun_speed_m_s * self.fan_mm / 1e3 * (1.0 - self.overlap_pct / 100.0))
    }
}

/// Where the sums of gun speed start from, as texts to edit in the reader's unit.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct LapStart {
    pub flow: Option<String>,
    pub fan: String,
    pub overlap: String,
    pub transfer: String,
    pub wet: String,
    pub profile: FanProfile,
}

/// What is known of the laps before anything is typed.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct LapKnown {
    /// Class of the gun.
    pub class: Option<GunClass>,
    /// Fan of its tip at twelve inches, as the trade names it.
    pub tip_fan_mm: Option<f64>,
    /// The sheet's school.
    pub overlap: Option<OverlapSchool>,
    /// Wet film aimed at.
    pub wet_um: f64,
}

/// A fan of which nothing else is known: 12 in; common practice in the trade.
pub const USUAL_FAN_MM: f64 = 12.0 * 25.4;

/// The usual figures of a class of gun: the fan of its tip, else 12 in; half overlap and 65 % on the part for air spray, a fifth and
/// 80 % for flat airless fans. The overlap the sheet states rules over the class.
///
/// **Source:** common practice in the trade; what stays on the part from memory. **Units:** texts in the reader's units.
pub fn usual_lap(known: &LapKnown, flow: Option<String>, prefs: Prefs) -> LapStart {
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    let flat = known.class.is_some_and(GunClass::is_high_pressure);
    let transfer = if flat { 80.0 } else { 65.0 };
    let profile = match known.overlap {
        Some(OverlapSchool::Half) => FanProfile::Fading,
        Some(OverlapSchool::Fifth) => FanProfile::Flat,
        None if flat => FanProfile::Flat,
        None => FanProfile::Fading,
    };
    LapStart {
        flow,
        fan: say(known.tip_fan_mm.unwrap_or(USUAL_FAN_MM), QuantityKind::Length),
        overlap: say(profile.even_at_pct(), QuantityKind::Percent),
        transfer: say(transfer, QuantityKind::Percent),
        wet: say(known.wet_um, QuantityKind::Film),
        profile,
    }
}

/// A millilitre a minute in cubic metres a second.
const ML_MIN: f64 = 1e-6 / 60.0;

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
    let (q, w) = (lap.flow_ml_min.map(|q| q * ML_MIN), lap.fan_mm.map(|w| w * 1e-3));
    let (o, v, film) = (lap.overlap_pct.map(|o| o / 100.0), lap.gun_speed_m_s, lap.wet_um.map(|um| um * 1e-6));
    let say = |v: f64, k| show(v, k, prefs).text;
    // The five and what stays, as they stand in a sum; what is not known stands in none.
    let flow = q.map_or(String::new(), |q| say(q / ML_MIN, QuantityKind::Flow));
    let fan = w.map_or(String::new(), |w| say(w * 1e3, QuantityKind::Length));
    let apart = o.map_or(String::new(), |o| say(100.0 - o * 100.0, QuantityKind::Percent));
    let speed = v.map_or(String::new(), |v| say(v, QuantityKind::Speed));
    let wet = film.map_or(String::new(), |f| say(f * 1e6, QuantityKind::Film));
    let stays = say(te * 100.0, QuantityKind::Percent);
    let sum = |label: &str, figures: String, value: f64, kind: QuantityKind| {
        let mut working =
            Working::new("Gun speed and film", "What is laid down is what comes out and stays: Q·TE = WFT·v·W·(1−o)");
        working.line(label, figures, value, kind, prefs);
        working
    };
    let all = |q: f64, w: f64, o: f64, v: f64, film: f64| Solved {
        flow_ml_min: q / ML_MIN,
        fan_mm: w * 1e3,
        overlap_pct: o * 100.0,
        gun_speed_m_s: v,
        wet_um: film * 1e6,
    };
    match (q, w, o, v, film) {
        (Some(q), Some(w), Some(o), Some(v), None) => {
            let film = q * te / (v * w * (1.0 - o));
            limits::FILM.check("wet_um", film * 1e6, prefs)?;
            let figures = format!("{flow} × {stays} ÷ ({speed} × {fan} × {apart})");
            Ok((all(q, w, o, v, film), sum("Wet film", figures, film * 1e6, QuantityKind::Film)))
        }
        (Some(q), Some(w), Some(o), None, Some(film)) => {
            let v = q * te / (film * w * (1.0 - o));
            limits::GUN_SPEED.check("gun_speed_m_s", v, prefs)?;
            let figures = format!("{flow} × {stays} ÷ ({wet} × {fan} × {apart})");
            Ok((all(q, w, o, v, film), sum("Gun speed", figures, v, QuantityKind::Speed)))
        }
        (Some(q), Some(w), None, Some(v), Some(film)) => {
            let o = 1.0 - q * te / (film * v * w);
            if !(0.0..=0.9).contains(&o) {
                let text = if o < 0.0 {
                    "The laps would lie apart: slower, a narrower fan, or a thinner film."
                } else {
                    "Each lap would lie almost on the one before: faster, or a wider fan."
                };
                return Err(Refusal::bad_input("no-overlap", "overlap_pct", text));
            }
            let figures = format!("1 − {flow} × {stays} ÷ ({wet} × {speed} × {fan})");
            Ok((all(q, w, o, v, film), sum("Overlap", figures, o * 100.0, QuantityKind::Percent)))
        }
        (Some(q), None, Some(o), Some(v), Some(film)) => {
            let w = q * te / (film * v * (1.0 - o));
            limits::FAN.check("fan_mm", w * 1e3, prefs)?;
            let figures = format!("{flow} × {stays} ÷ ({wet} × {speed} × {apart})");
            Ok((all(q, w, o, v, film), sum("Fan", figures, w * 1e3, QuantityKind::Length)))
        }
        (None, Some(w), Some(o), Some(v), Some(film)) => {
            let q = film * v * w * (1.0 - o) / te;
            limits::FLUID_FLOW.check("flow_ml_min", q / ML_MIN, prefs)?;
            let figures = format!("{wet} × {speed} × {fan} × {apart} ÷ {stays}");
            Ok((all(q, w, o, v, film), sum("Flow", figures, q / ML_MIN, QuantityKind::Flow)))
        }
        _ => Err(Refusal::bad_input(
            "leave-one-out",
            "gun_speed_m_s",
            "Leave exactly one of flow, fan, overlap, speed and film empty: that one is reckoned.",
        )),
    }
}
