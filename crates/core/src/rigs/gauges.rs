//! What the transmitters of a rig read, beside what was typed.

use crate::quantity::{Prefs, QuantityKind, show};

/// Pressures of a rig as its transmitters read them now.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Gauges {
    /// In the pot, or at the pump. **Units:** kPa gauge.
    pub pot_kpa: Option<f64>,
    /// At the gun. **Units:** kPa gauge.
    pub gun_kpa: Option<f64>,
}

/// A typed pressure and a transmitter differ by more than this: one of the two is misread. 1 psi; from memory.
pub const AGREE_KPA: f64 = 6.894_757_293_168_361;
/// Or by more than this part of it; from memory.
pub const AGREE_PART: f64 = 0.05;

/// What is to say where the typed pressure and the transmitter's do not agree.
///
/// **Rule:** within 1 psi or 5 %, whichever is more, they agree. **Units:** kPa. **Source:** from memory, for common gauges.
///
/// ```
/// use level_keel_core::quantity::Prefs;
/// use level_keel_core::rigs::disagree;
/// assert_eq!(disagree(69.0, 66.0, Prefs::METRIC), None);
/// assert!(disagree(69.0, 110.0, Prefs::METRIC).is_some());
/// ```
pub fn disagree(typed_kpa: f64, read_kpa: f64, prefs: Prefs) -> Option<String> {
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    let apart = (typed_kpa - read_kpa).abs();
    (apart > AGREE_KPA.max(AGREE_PART * typed_kpa)).then(|| {
        format!(
            "You typed {} and the transmitter reads {}: one of the two is wrong. Vent and see whether the gauge goes to zero.",
            say(typed_kpa),
            say(read_kpa)
        )
    })
}
