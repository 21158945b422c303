//! A margin that falls toward its gate while spraying goes on: how long until it meets it, by the last hour.

use crate::quantity::show_duration;
use crate::ratio_check::Trend;
use crate::verdict::Tolerance;
use jiff::Timestamp;

/// Readings so old say nothing of now; from memory.
pub const LOOKS_BACK_S: f64 = 3600.0;
/// A gate further off than this is not spoken of; from memory.
pub const SPOKEN_OF_S: f64 = 4.0 * 3600.0;
/// The newest reading may be so old.
const FRESH_S: f64 = 900.0;

/// Where a reading is going.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Falling {
    /// Until the line meets the limit.
    pub in_s: f64,
    /// Until it may, at the earliest: where the band of the next reading meets it.
    pub earliest_s: f64,
}

impl Falling {
    /// In words: “dew gate in about 25 min at this rate, 18 min at the earliest”.
    pub fn words(&self, gate: &str) -> String {
        if self.in_s <= 0.0 {
            return format!("{gate} by the trend of the last hour now");
        }
        let earliest = if self.earliest_s <= 0.0 {
            "it may be there already".into()
        } else {
            format!("{} at the earliest", show_duration(self.earliest_s))
        };
        format!("{gate} in about {} at this rate, {earliest}", show_duration(self.in_s))
    }
}

/// When readings meet a limit, if they go on as in the last hour. `None` with fewer than eight of them in it, none fresh, a slope
/// that may be chance or leads away, or a gate that is hours off.
///
/// **Formula:** the straight line through the last hour by least squares, [`Trend::of`]; its line and the band of its next reading
/// against the limit. **Units:** s since now; the readings in any one unit. **Source:** NIST/SEMATECH e-Handbook 4.4.3.1.
/// **Check:** 7.0 K at −0.1 K a minute against 4.5 K → 25 min.
///
/// ```
/// use level_keel_core::{conditions::falling::meets, pot_life::after, verdict::Tolerance};
/// let now = jiff::Timestamp::UNIX_EPOCH;
/// let read: Vec<_> = (0..12).map(|i| (after(now, -60.0 * f64::from(i)), 7.0 + 0.1 * f64::from(i))).collect();
/// let falling = meets(&read, Tolerance::at_least(4.5), now).unwrap();
/// assert!((falling.in_s / 60.0 - 25.0).abs() < 1e-6);
/// ```
pub fn meets(read: &[(Timestamp, f64)], limit: Tolerance, now: Timestamp) -> Option<Falling> {
    let age_s = |at: Timestamp| at.duration_since(now).as_secs_f64();
    let hour: Vec<(f64, f64)> =
        read.iter().map(|(at, v)| (age_s(*at), *v)).filter(|(s, _)| (-LOOKS_BACK_S..=0.0).contains(s)).collect();
    let newest = hour.iter().map(|(s, _)| *s).fold(f64::NEG_INFINITY, f64::max);
    let trend = Trend::of(&hour).filter(|t| newest >= -FRESH_S && t.is_real())?;
    let toward = |limit: Option<f64>, falls: bool| limit.filter(|_| (trend.slope < 0.0) == falls);
    let (value, side) = match (toward(limit.lo, true), toward(limit.hi, false)) {
        (Some(lo), _) => (lo, Tolerance::at_least(lo)),
        (None, Some(hi)) => (hi, Tolerance::at_most(hi)),
        (None, None) => return None,
    };
    let in_s = (value - trend.at(0.0)) / trend.slope;
    let earliest_s = trend.meets(side, 0.0).unwrap_or(in_s);
    (in_s <= SPOKEN_OF_S).then_some(Falling { in_s: in_s.max(0.0), earliest_s: earliest_s.min(in_s).max(0.0) })
}
