//! The gauge on a certified foil: before the readings and after them. A foil read wrong puts in doubt what was read since the last one
//! read right.

use crate::verdict::{Measured, Tolerance, Verdict};
use jiff::Timestamp;

/// What a gauge may be off where its papers are not at hand, of the film; from memory.
pub const GAUGE_OFF_PCT: f64 = 3.0;
/// What a foil may be off where its certificate is not at hand; from memory.
pub const FOIL_OFF_UM: f64 = 2.0;

/// Whether a gauge reads a foil as it should.
///
/// **Rule:** within foil and gauge tolerance together, the mean of the readings by half a division. **Units:** µm, per cent.
/// **Source:** SSPC-PA 2, from memory.
///
/// ```
/// use level_keel_core::{acceptance::foil, verdict::Verdict};
/// // 2 µm of the foil and 3 % of 127 µm of the gauge: 5.8 µm either way.
/// assert_eq!(foil::judge(127.0, &[126.0], 1.0, 2.0, 3.0), Some(Verdict::In));
/// assert_eq!(foil::judge(127.0, &[120.0], 1.0, 2.0, 3.0), Some(Verdict::Low));
/// ```
pub fn judge(foil_um: f64, readings_um: &[f64], division_um: f64, foil_off_um: f64, gauge_off_pct: f64) -> Option<Verdict> {
    let mean = super::spots::mean_um(readings_um, division_um, Measured::pm(0.0, 0.0))?;
    let off = foil_off_um + foil_um * gauge_off_pct / 100.0;
    Some(Tolerance::between(foil_um - off, foil_um + off).judge(mean))
}

/// How a gauge stood when something was read with it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Standing {
    /// Read right on a foil before, and after.
    Verified,
    /// Read right before; nobody has put it on a foil since.
    AwaitsAfter,
    /// On no foil before.
    NotBefore,
    /// The foil before or the one after was read wrong.
    InDoubt,
}

/// When something was written: its instant, and its place in the book where two are of one instant.
pub type When = (Timestamp, i64);

/// How a gauge stood at an instant, by its checks on foils: when, and whether it read right. In time order.
///
/// **Rule:** the nearest check before and the nearest after both right. **Source:** SSPC-PA 2, from memory.
pub fn standing(checks: &[(When, bool)], at: When) -> Standing {
    let before = checks.iter().rev().find(|(t, _)| *t <= at);
    let after = checks.iter().find(|(t, _)| *t > at);
    match (before, after) {
        (None, _) => Standing::NotBefore,
        (Some((_, false)), _) | (_, Some((_, false))) => Standing::InDoubt,
        (Some(_), None) => Standing::AwaitsAfter,
        (Some(_), Some(_)) => Standing::Verified,
    }
}
