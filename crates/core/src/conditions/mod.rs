//! Conditions: dew point, margin of the surface, go / hold / stop.

pub mod falling;
pub mod probe;

use crate::limits;
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::sheets::Sheet;
use crate::verdict::{Level, Measured, Tolerance, Verdict, is_over, is_under};
use crate::worded::Worded;
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What was read.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Readings {
    /// Air.
    pub air_c: f64,
    /// Surface of the part or mould.
    pub surface_c: f64,
    /// The material in its can.
    pub material_c: f64,
    /// Relative humidity.
    pub rh_pct: f64,
}

/// Error of a shop thermometer, from memory; an instrument's own figure replaces it.
pub const THERMOMETER_DK: f64 = 0.5;
/// Error of a shop hygrometer, from memory.
pub const HYGROMETER_PCT: f64 = 3.0;

/// Magnus coefficients over water. Source: Alduchov & Eskridge, J. Appl. Meteor. 35 (1996) 601–609.
const MAGNUS_B: f64 = 17.625;
const MAGNUS_C: f64 = 243.04;

/// Dew point over water.
///
/// **Formula:** `γ = ln(RH/100) + 17.625·T/(243.04+T)`, `Td = 243.04·γ/(17.625−γ)`. **Units:** °C, %.
/// **Source:** Alduchov & Eskridge 1996. **Example:** 25 °C at 50 % → 13.86 °C.
///
/// ```
/// let dew = level_keel_core::conditions::dew_point_c(25.0, 50.0);
/// assert!((dew - 13.86).abs() < 0.04);
/// ```
pub fn dew_point_c(air_c: f64, rh_pct: f64) -> f64 {
    let gamma = (rh_pct / 100.0).ln() + MAGNUS_B * air_c / (MAGNUS_C + air_c);
    MAGNUS_C * gamma / (MAGNUS_B - gamma)
}

impl Readings {
    /// Checks every reading against the limits of sense.
    pub fn validate(self, prefs: Prefs) -> Result<Readings, Refusal> {
        limits::TEMPERATURE.check("air_c", self.air_c, prefs)?;
        limits::TEMPERATURE.check("surface_c", self.surface_c, prefs)?;
        limits::TEMPERATURE.check("material_c", self.material_c, prefs)?;
        limits::HUMIDITY.check("rh_pct", self.rh_pct, prefs)?;
        Ok(self)
    }

    /// Surface above dew point, with the error of both instruments carried in the worst way.
    ///
    /// **Formula:** `Ts − Td`; least `Ts − e − Td(Ta + e, RH + e)`, most the other way. **Units:** °C, per cent; K. **Source:**
    /// interval arithmetic on [`dew_point_c`]; the errors of the instruments are from memory.
    pub fn margin_dk(&self) -> Measured {
        let value = self.surface_c - dew_point_c(self.air_c, self.rh_pct);
        let most = dew_point_c(self.air_c + THERMOMETER_DK, (self.rh_pct + HYGROMETER_PCT).min(100.0));
        let least = dew_point_c(self.air_c - THERMOMETER_DK, (self.rh_pct - HYGROMETER_PCT).max(1.0));
        Measured { lo: self.surface_c - THERMOMETER_DK - most, value, hi: self.surface_c + THERMOMETER_DK - least }
    }
}

/// What the conditions allow.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Gate {
    /// Work may go on.
    #[strum(serialize = "Go")]
    Go,
    /// A lead may release it.
    #[strum(serialize = "Hold")]
    Hold,
    /// Nobody may.
    #[strum(serialize = "Stop")]
    Stop,
}

impl Worded for Gate {}

/// A figure of the conditions that is judged.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Figure {
    /// Surface above the dew point.
    DewMargin,
    /// Relative humidity.
    Humidity,
    /// Temperature of the part or mould.
    Surface,
    /// Temperature of the air.
    Air,
    /// Temperature of the material.
    Material,
}

impl Figure {
    /// The name a hold and its release are keyed by.
    pub fn item(self) -> &'static str {
        match self {
            Figure::DewMargin => "dew-margin",
            Figure::Humidity => "humidity",
            Figure::Surface => "surface",
            Figure::Air => "air",
            Figure::Material => "material",
        }
    }
}

/// One figure of a reading that the sheet does not allow.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Trouble {
    /// Which.
    pub figure: Figure,
    /// Hold, or stop.
    pub gate: Gate,
    /// How it stands to its limits: under, over, or not to be told.
    pub verdict: Verdict,
    /// How far past its limit, for comparing a later reading with the one released.
    pub badness: f64,
    /// The figure as read: kelvin, per cent, or degrees Celsius.
    pub value: f64,
}

impl Trouble {
    /// Why it holds, in words.
    pub fn words(&self, prefs: Prefs) -> String {
        let say = |kind| crate::quantity::show(self.value, kind, prefs).text;
        let temperature = |name: &str| match self.verdict {
            Verdict::Low => format!("{name} is too cold at {}", say(QuantityKind::Temperature)),
            Verdict::High => format!("{name} is too hot at {}", say(QuantityKind::Temperature)),
            Verdict::In | Verdict::CannotTell => {
                format!("{name} at {} is too near its limit to tell", say(QuantityKind::Temperature))
            }
        };
        match self.figure {
            Figure::DewMargin if self.gate == Gate::Stop => "the surface is at or under the dew point: it is wet".into(),
            Figure::DewMargin => format!("the surface is only {} above the dew point", say(QuantityKind::TempDiff)),
            Figure::Humidity => format!("relative humidity is {}", say(QuantityKind::Percent)),
            Figure::Surface => temperature("surface"),
            Figure::Air => temperature("air"),
            Figure::Material => temperature("material"),
        }
    }
}

/// Everything of a reading that the sheet does not allow, worst first; empty where it is go.
///
/// **Rule:** the margin and RH judge the *reading*: the margin is itself the guard against reading error. The temperatures
/// judge with their uncertainty, and *cannot tell* holds. Under the margin is a hold; at or under the dew point a stop.
/// **Source:** ISO 8502-4 / 12944-7 for the 3 °C margin; common practice in the trade.
pub fn troubles(sheet: &Sheet, r: &Readings) -> Vec<Trouble> {
    let mut found = Vec::new();
    if let Some(min) = sheet.margin_min_dk {
        let margin = r.surface_c - dew_point_c(r.air_c, r.rh_pct);
        let wet = margin <= 0.0 || margin.is_nan();
        if wet || is_under(margin, min) {
            let gate = if wet { Gate::Stop } else { Gate::Hold };
            let (verdict, badness) = (Verdict::Low, min - margin);
            found.push(Trouble { figure: Figure::DewMargin, gate, verdict, badness, value: margin });
        }
    }
    if let Some(max) = sheet.rh_max_pct.filter(|max| is_over(r.rh_pct, *max)) {
        let (verdict, badness) = (Verdict::High, (r.rh_pct - max) / 5.0);
        found.push(Trouble { figure: Figure::Humidity, gate: Gate::Hold, verdict, badness, value: r.rh_pct });
    }
    let band = Tolerance::between(sheet.temp_min_c, sheet.temp_max_c);
    for (figure, value) in [(Figure::Surface, r.surface_c), (Figure::Air, r.air_c), (Figure::Material, r.material_c)] {
        let m = Measured::pm(value, THERMOMETER_DK);
        let verdict = band.judge(m);
        if verdict != Verdict::In {
            let badness = (m.hi - sheet.temp_max_c).max(sheet.temp_min_c - m.lo);
            found.push(Trouble { figure, gate: Gate::Hold, verdict, badness, value });
        }
    }
    found
}

/// Conditions judged: the gate, the levels, the reasons.
#[derive(Debug, Clone, PartialEq)]
pub struct Judged {
    /// Worst of all.
    pub gate: Gate,
    /// One level per judged figure.
    pub levels: Vec<Level>,
    /// Why it is not go, in words; empty on go.
    pub reason: String,
    /// The sum.
    pub working: Working,
}

/// Judges readings against a sheet: [`troubles`] with the levels and the sum beside them.
pub fn judge(sheet: &Sheet, r: &Readings, prefs: Prefs) -> Judged {
    let dew = dew_point_c(r.air_c, r.rh_pct);
    let margin = r.margin_dk();
    let mut working = Working::new("Dew margin", "Magnus formula, Alduchov & Eskridge 1996");
    let t = |c: f64| crate::quantity::show(c, QuantityKind::Temperature, prefs).text;
    let rh = crate::quantity::show(r.rh_pct, QuantityKind::Percent, prefs).text;
    working.line("Dew point", format!("air {} at {rh}", t(r.air_c)), dew, QuantityKind::Temperature, prefs);
    working.line("Surface above it", format!("{} − {}", t(r.surface_c), t(dew)), margin.value, QuantityKind::TempDiff, prefs);

    let mut levels = Vec::new();
    if let Some(min) = sheet.margin_min_dk {
        let tol = Tolerance::at_least(min);
        levels.push(
            Level::draw("Dew margin", margin, tol, 6.0, QuantityKind::TempDiff, prefs).judged_by_reading(tol, margin.value),
        );
    }
    if let Some(max) = sheet.rh_max_pct {
        let tol = Tolerance::at_most(max);
        let m = Measured { hi: (r.rh_pct + HYGROMETER_PCT).min(100.0), ..Measured::pm(r.rh_pct, HYGROMETER_PCT) };
        levels
            .push(Level::draw("Relative humidity", m, tol, 30.0, QuantityKind::Percent, prefs).judged_by_reading(tol, r.rh_pct));
    }
    let band = Tolerance::between(sheet.temp_min_c, sheet.temp_max_c);
    for (label, temp) in [("Surface", r.surface_c), ("Air", r.air_c), ("Material", r.material_c)] {
        levels.push(Level::draw(label, Measured::pm(temp, THERMOMETER_DK), band, 10.0, QuantityKind::Temperature, prefs));
    }
    let troubles = troubles(sheet, r);
    let gate = troubles.iter().fold(Gate::Go, |gate, t| gate.worst(t.gate));
    let reason = troubles.iter().map(|t| t.words(prefs)).collect::<Vec<_>>().join("; ");
    Judged { gate, levels, reason, working }
}

impl Gate {
    /// The worse of two.
    pub fn worst(self, other: Gate) -> Gate {
        match (self, other) {
            (Gate::Stop, _) | (_, Gate::Stop) => Gate::Stop,
            (Gate::Hold, _) | (_, Gate::Hold) => Gate::Hold,
            (Gate::Go, Gate::Go) => Gate::Go,
        }
    }
}
