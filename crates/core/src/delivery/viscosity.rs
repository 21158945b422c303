//! What the paint's viscosity is: by cup seconds, by temperature, by age.

use crate::limits;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::worded::VariantArray;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A flow cup.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum FlowCup {
    #[strum(serialize = "Ford 2")]
    Ford2,
    #[strum(serialize = "Ford 3")]
    Ford3,
    #[strum(serialize = "Ford 4")]
    Ford4,
    #[strum(serialize = "Zahn 1")]
    Zahn1,
    #[strum(serialize = "Zahn 2")]
    Zahn2,
    #[strum(serialize = "Zahn 3")]
    Zahn3,
    #[strum(serialize = "Zahn 4")]
    Zahn4,
    #[strum(serialize = "Zahn 5")]
    Zahn5,
    #[strum(serialize = "ISO 3 mm")]
    Iso3,
    #[strum(serialize = "ISO 4 mm")]
    Iso4,
    #[strum(serialize = "ISO 5 mm")]
    Iso5,
    #[strum(serialize = "ISO 6 mm")]
    Iso6,
}

impl Worded for FlowCup {}

impl FlowCup {
    /// Seconds within which its formula holds; from memory.
    ///
    /// **Rule:** a table by cup. **Units:** s. **Source:** from memory.
    pub fn range_s(self) -> (f64, f64) {
        match self {
            FlowCup::Ford2 => (40.0, 100.0),
            FlowCup::Ford3 | FlowCup::Ford4 => (20.0, 100.0),
            // Near 29 s its formula reaches nothing.
            FlowCup::Zahn1 => (35.0, 80.0),
            FlowCup::Zahn2 | FlowCup::Zahn3 | FlowCup::Zahn4 | FlowCup::Zahn5 => (20.0, 80.0),
            FlowCup::Iso3 | FlowCup::Iso4 | FlowCup::Iso5 | FlowCup::Iso6 => (30.0, 100.0),
        }
    }

    /// The formula, wherever it is read.
    fn formula(self, t: f64) -> f64 {
        match self {
            FlowCup::Ford2 => 1.44 * (t - 18.0),
            FlowCup::Ford3 => 2.31 * (t - 6.58),
            FlowCup::Ford4 => 3.85 * (t - 4.49),
            FlowCup::Zahn1 => 1.1 * (t - 29.0),
            FlowCup::Zahn2 => 3.5 * (t - 14.0),
            FlowCup::Zahn3 => 11.7 * (t - 7.5),
            FlowCup::Zahn4 => 14.8 * (t - 5.0),
            FlowCup::Zahn5 => 23.0 * t,
            FlowCup::Iso3 => 0.443 * t - 200.0 / t,
            FlowCup::Iso4 => 1.37 * t - 200.0 / t,
            FlowCup::Iso5 => 3.28 * t - 220.0 / t,
            FlowCup::Iso6 => 6.90 * t - 570.0 / t,
        }
    }

    fn family(self) -> usize {
        match self {
            FlowCup::Ford2 | FlowCup::Ford3 | FlowCup::Ford4 => 0,
            FlowCup::Zahn1 | FlowCup::Zahn2 | FlowCup::Zahn3 | FlowCup::Zahn4 | FlowCup::Zahn5 => 1,
            FlowCup::Iso3 | FlowCup::Iso4 | FlowCup::Iso5 | FlowCup::Iso6 => 2,
        }
    }

    /// Kinematic viscosity in mm²/s from the seconds the cup ran.
    ///
    /// **Formula:** Ford #2 `1.44(t−18.0)`, #3 `2.31(t−6.58)`, #4 `3.85(t−4.49)`; Zahn #1 `1.1(t−29)`, #2 `3.5(t−14)`,
    /// #3 `11.7(t−7.5)`, #4 `14.8(t−5)`, #5 `23t`; ISO 3 mm `0.443t − 200/t`, 4 mm `1.37t − 200/t`, 5 mm `3.28t − 220/t`,
    /// 6 mm `6.90t − 570/t`. **Units:** s, mm²/s. **Source:** ASTM D1200, ASTM D4212, ISO 2431; the ranges from memory.
    /// **Errors:** `cup-out-of-range`, naming a cup of its family that would run inside its own range.
    ///
    /// ```
    /// use level_keel_core::{delivery::viscosity::FlowCup, quantity::Prefs};
    /// assert!((FlowCup::Ford4.mm2_s(30.0, Prefs::METRIC).unwrap() - 98.2).abs() < 0.1);
    /// assert!(FlowCup::Ford4.mm2_s(9.0, Prefs::METRIC).is_err());
    /// ```
    pub fn mm2_s(self, cup_s: f64, prefs: Prefs) -> Result<f64, Refusal> {
        let (lo, hi) = self.range_s();
        let mm2_s = self.formula(cup_s);
        if cup_s >= lo && cup_s <= hi && mm2_s > 0.0 {
            return Ok(mm2_s);
        }
        let say = |s: f64| show(s, QuantityKind::CupSeconds, prefs).text;
        let better = self.better(cup_s).map_or(String::new(), |c| format!(" {} would run inside its range.", c.word()));
        Err(Refusal::bad_input(
            "cup-out-of-range",
            "cup_s",
            format!("{} reads from {} to {}, not {}.{better}", self.word(), say(lo), say(hi), say(cup_s)),
        ))
    }

    /// A cup of the same family that would run inside its range for the same paint: the next smaller hole for a thin one,
    /// the next larger for a thick one. The formula is followed outside its range only to tell which cup to take.
    fn better(self, cup_s: f64) -> Option<FlowCup> {
        if !cup_s.is_finite() || cup_s <= 0.0 {
            return None;
        }
        let mm2_s = self.formula(cup_s);
        let inside = |c: &FlowCup| {
            let (lo, hi) = c.range_s();
            (c.formula(lo)..=c.formula(hi)).contains(&mm2_s)
        };
        let same = FlowCup::VARIANTS.iter().copied().filter(|c| c.family() == self.family());
        if cup_s < self.range_s().0 {
            same.filter(|c| (*c as usize) < self as usize).rev().find(inside)
        } else {
            same.filter(|c| *c as usize > self as usize).find(inside)
        }
    }
}

/// Viscosity from a cup: `µ = ν·ρ`. **Units:** s, kg/L, mPa·s.
///
/// **Errors:** as [`FlowCup::mm2_s`].
/// **Formula:** as said. **Source:** the formula of the cup ([`FlowCup::mm2_s`]).
pub fn by_cup_mpa_s(cup: FlowCup, cup_s: f64, density_kg_l: f64, prefs: Prefs) -> Result<f64, Refusal> {
    Ok(cup.mm2_s(cup_s, prefs)? * density_kg_l)
}

/// Steepness of viscosity over temperature where a sheet states one point, in kelvin; from memory.
pub const STEEPNESS_K: f64 = 4500.0;
const ZERO_C_K: f64 = 273.15;

/// Steepness from two points of a sheet.
///
/// **Formula:** `B = ln(µ₁/µ₂)/(1/T₁ − 1/T₂)`. **Units:** mPa·s at °C; K. `None` for two equal temperatures.
/// **Source:** the equation of Andrade and Guzmán.
///
/// ```
/// use level_keel_core::delivery::viscosity::steepness_k;
/// // Halved from 20 to 30 °C.
/// assert!((steepness_k((200.0, 20.0), (100.0, 30.0)).unwrap() - 6160.0).abs() < 10.0);
/// assert_eq!(steepness_k((200.0, 20.0), (100.0, 20.0)), None);
/// ```
pub fn steepness_k(one: (f64, f64), other: (f64, f64)) -> Option<f64> {
    let inverse = |c: f64| 1.0 / (c + ZERO_C_K);
    let b = (one.0 / other.0).ln() / (inverse(one.1) - inverse(other.1));
    b.is_finite().then_some(b)
}

/// Viscosity at another temperature.
///
/// **Formula:** `µ(T) = µ₀·exp(B(1/T − 1/T₀))`. **Units:** mPa·s, °C, K. **Source:** Andrade's law; 4,500 K from memory.
///
/// ```
/// use level_keel_core::delivery::viscosity::{STEEPNESS_K, at_temperature};
/// let warm = at_temperature(100.0, 20.0, 30.0, STEEPNESS_K);
/// assert!((at_temperature(warm, 30.0, 20.0, STEEPNESS_K) - 100.0).abs() < 1e-9);
/// ```
pub fn at_temperature(mpa_s: f64, at_c: f64, temp_c: f64, steepness_k: f64) -> f64 {
    mpa_s * (steepness_k * (1.0 / (temp_c + ZERO_C_K) - 1.0 / (at_c + ZERO_C_K))).exp()
}

/// Viscosity of a pot of this age: the pot life is the time to double.
///
/// **Formula:** `µ = µ₀·2^age`. **Source:** common practice in the trade.
/// **Units:** mPa·s; age as a part of the life.
///
/// ```
/// assert_eq!(level_keel_core::delivery::viscosity::aged(100.0, 1.0), 200.0);
/// ```
pub fn aged(mpa_s: f64, age: f64) -> f64 {
    mpa_s * 2f64.powf(age.max(0.0))
}

/// A viscosity of sense.
///
/// **Errors:** a refusal at `viscosity_mpa_s`.
/// **Rule:** inside [`limits::VISCOSITY`]. **Units:** mPa·s. **Source:** from memory.
pub fn check(mpa_s: f64, prefs: Prefs) -> Result<f64, Refusal> {
    limits::VISCOSITY.check("viscosity_mpa_s", mpa_s, prefs)
}
