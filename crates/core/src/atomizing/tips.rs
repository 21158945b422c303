//! Airless tips: what their code says, and when they are worn.

use crate::limits::{self, check_text};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::verdict::is_over;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

const INCH_MM: f64 = 25.4;

/// What a tip is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Tip {
    /// Angle of its fan.
    pub angle_deg: f64,
    /// Fan at twelve inches as the trade names it.
    pub nominal_fan_mm: f64,
    /// Fan at twelve inches by geometry.
    pub geometric_fan_mm: f64,
    /// Its hole.
    pub hole_mm: f64,
}

/// A row of the shop's own table, for codes that follow another rule.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TipRow {
    /// The code as it is stamped.
    pub code: String,
    /// Angle of its fan.
    pub angle_deg: f64,
    /// Its hole.
    pub hole_mm: f64,
}

impl TipRow {
    /// Whether it is the row of a code, whatever its letters' case.
    pub fn is(&self, code: &str) -> bool {
        self.code.trim().eq_ignore_ascii_case(code.trim())
    }

    /// What the tip is. A row states no fan: the nominal one is that of geometry. **Formula:** [`fan_mm`] at 12 in.
    pub fn tip(&self) -> Tip {
        let fan = fan_mm(self.angle_deg, 12.0 * INCH_MM);
        Tip { angle_deg: self.angle_deg, nominal_fan_mm: fan, geometric_fan_mm: fan, hole_mm: self.hole_mm }
    }

    /// Checks a row as typed; its code is kept in capitals.
    ///
    /// **Errors:** a refusal naming `code`, `angle_deg` or `hole_mm`.
    pub fn validate(mut self, prefs: Prefs) -> Result<TipRow, Refusal> {
        self.code = check_text("code", &self.code, limits::TIP_CODE_CHARS)?.to_uppercase();
        limits::FAN_ANGLE.check("angle_deg", self.angle_deg, prefs)?;
        limits::NOZZLE.check("hole_mm", self.hole_mm, prefs)?;
        Ok(self)
    }
}

/// Width of a fan by geometry.
///
/// **Formula:** `2·distance·tan(angle/2)`. **Units:** mm, degrees. **Source:** trigonometry.
pub fn fan_mm(angle_deg: f64, distance_mm: f64) -> f64 {
    2.0 * distance_mm * (angle_deg.to_radians() / 2.0).tan()
}

/// Reads a tip's code: the shop's own table first, then the common rule of three digits.
///
/// **Formula:** first digit × 10 = angle, × 2 = nominal fan in inches at 12 in; the last two are thousandths of an inch.
/// **Source:** common practice in the trade. **Check:** 517 → 50°, 10 in, 0.017 in; by geometry 11.19 in.
/// **Errors:** `tip-code` at `tip_code` for what follows neither.
///
/// ```
/// use level_keel_core::atomizing::tips::decode;
/// let tip = decode("517", &[]).unwrap();
/// assert_eq!((tip.angle_deg, (tip.hole_mm / 0.0254).round()), (50.0, 17.0));
/// assert!(decode("52", &[]).is_err());
/// ```
pub fn decode(code: &str, table: &[TipRow]) -> Result<Tip, Refusal> {
    let code = code.trim();
    if let Some(row) = table.iter().find(|r| r.is(code)) {
        return Ok(row.tip());
    }
    let digits: Vec<u32> = code.chars().filter_map(|c| c.to_digit(10)).collect();
    match digits[..] {
        [first @ 1..=9, tens, ones] if code.len() == 3 && tens * 10 + ones > 0 => {
            let (first, mils) = (f64::from(first), f64::from(tens * 10 + ones));
            Ok(Tip {
                angle_deg: first * 10.0,
                nominal_fan_mm: first * 2.0 * INCH_MM,
                geometric_fan_mm: fan_mm(first * 10.0, 12.0 * INCH_MM),
                hole_mm: mils * INCH_MM / 1000.0,
            })
        }
        _ => Err(Refusal::bad_input(
            "tip-code",
            "tip_code",
            "A code has three digits, as 517: half the fan, then two of thousandths. Put other codes into the shop's table.",
        )),
    }
}

/// Holes up to these, in thousandths of an inch, and the mesh of the screen before them.
const SCREENS: [(f64, u32); 2] = [(13.0, 100), (19.0, 60)];
/// The mesh before wider ones.
const COARSE_MESH: u32 = 30;

/// The mesh of the screen a tip of this hole carries in its gun: what passes the screen passes the tip.
///
/// **Rule:** 100 mesh to 0.013 in, 60 to 0.019 in, 30 over that; where the sheet says no filter, none. **Units:** mm; wires an inch.
/// **Source:** common practice in the trade, the figures from memory.
///
/// ```
/// use level_keel_core::atomizing::tips::screen_mesh;
/// assert_eq!([0.33, 0.43, 0.53].map(screen_mesh), [100, 60, 30]);
/// ```
pub fn screen_mesh(hole_mm: f64) -> u32 {
    let mils = hole_mm / INCH_MM * 1000.0;
    SCREENS.iter().find(|(most, _)| !is_over(mils, *most)).map_or(COARSE_MESH, |(_, mesh)| *mesh)
}

/// Flow over a tip's own first flow at which it is watched; from memory.
pub const WORN_WATCH: f64 = 1.15;
/// And at which it is replaced; from memory.
pub const WORN_OUT: f64 = 1.25;

/// How worn a tip is: its flow now over its flow when new, both at the same pressure or brought to it.
///
/// **Formula:** `Q/Q₀·√(P₀/P)`, since flow goes with the root of pressure. **Units:** mL/min, kPa. `None` without pressure
/// or flow. **Source:** arithmetic; the limits 15 % and 25 % from memory.
///
/// ```
/// use level_keel_core::atomizing::tips::wear;
/// // 10 % more at 21 % more pressure is the same tip.
/// assert!((wear((1000.0, 10_000.0), (1100.0, 12_100.0)).unwrap() - 1.0).abs() < 1e-12);
/// ```
pub fn wear(new: (f64, f64), now: (f64, f64)) -> Option<f64> {
    let factor = now.0 / new.0 * (new.1 / now.1).sqrt();
    (factor.is_finite() && factor > 0.0).then_some(factor)
}

/// What wear says.
pub fn wear_words(factor: f64) -> Option<&'static str> {
    match factor {
        f if f > WORN_OUT => Some("worn out: replace it"),
        f if f > WORN_WATCH => Some("wearing: have another ready"),
        _ => None,
    }
}
