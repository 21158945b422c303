//! The pace of the gun by ear: a click at the end of each stroke, and the speed that strokes of a known width had.

use crate::limits;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::verdict::Measured;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A hand that stamps a beginning and an end is off by this much, both together; from memory.
pub const STAMP_OFF_S: f64 = 0.3;

/// Fastest and slowest clicks an ear follows; from memory.
const CLICKS_S: (f64, f64) = (0.2, 30.0);

/// What is asked of the pace: the clicks of a speed, the speed of strokes, or both.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PaceAsked {
    /// Width of the stretch.
    pub width_mm: f64,
    /// Speed wanted.
    #[serde(default)]
    pub gun_speed_m_s: Option<f64>,
    /// Strokes that were stamped.
    #[serde(default)]
    pub stroke_count: Option<f64>,
    /// Time they took together.
    #[serde(default)]
    pub stroked_watch_s: Option<f64>,
}

/// Time of one stroke over the width of the part.
///
/// **Formula:** `t = width / v`. **Units:** mm, m/s; s. **Source:** arithmetic. **Check:** 600 mm at 0.245 m/s → 2.45 s.
/// **Errors:** a refusal at the figure outside its limit; `no-click` where the clicks would be too fast or too slow to follow.
///
/// ```
/// use level_keel_core::{film::pace::click_s, quantity::Prefs};
/// assert!((click_s(600.0, 0.245, Prefs::METRIC).unwrap() - 2.449).abs() < 5e-4);
/// ```
pub fn click_s(width_mm: f64, gun_speed_m_s: f64, prefs: Prefs) -> Result<f64, Refusal> {
    limits::TAKE_OFF.check("width_mm", width_mm, prefs)?;
    limits::GUN_SPEED.check("gun_speed_m_s", gun_speed_m_s, prefs)?;
    let s = width_mm / 1e3 / gun_speed_m_s;
    if (CLICKS_S.0..=CLICKS_S.1).contains(&s) {
        return Ok(s);
    }
    let text = if s < CLICKS_S.0 {
        "The clicks would run together: take a wider stretch."
    } else {
        "A click that seldom is no pace: take a shorter stretch."
    };
    Err(Refusal::bad_input("no-click", "width_mm", text))
}

/// The speed of so many strokes over a known width, stamped at the first and the last.
///
/// **Formula:** `v = n·width / t`, with `t` off by [`STAMP_OFF_S`] either way. **Units:** mm, s; m/s. **Source:** arithmetic.
/// **Check:** 5 strokes of 600 mm in 12.2 s → 0.246 m/s, 0.240 to 0.252.
/// **Errors:** a refusal at the figure outside its limit.
///
/// ```
/// use level_keel_core::{film::pace::measured_m_s, quantity::Prefs};
/// let v = measured_m_s(5.0, 600.0, 12.2, Prefs::METRIC).unwrap();
/// assert!((v.lo - 0.240).abs() < 5e-4 && (v.value - 0.2459).abs() < 5e-5 && (v.hi - 0.2521).abs() < 5e-5);
/// ```
pub fn measured_m_s(stroke_count: f64, width_mm: f64, watch_s: f64, prefs: Prefs) -> Result<Measured, Refusal> {
    limits::STROKES.check("stroke_count", stroke_count, prefs)?;
    limits::TAKE_OFF.check("width_mm", width_mm, prefs)?;
    limits::CATCH_TIME.check("stroked_watch_s", watch_s, prefs)?;
    let way_m = stroke_count * width_mm / 1e3;
    Ok(Measured { lo: way_m / (watch_s + STAMP_OFF_S), value: way_m / watch_s, hi: way_m / (watch_s - STAMP_OFF_S) })
}
