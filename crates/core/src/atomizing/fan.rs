//! The fan check of air spray: what a short burst on paper says, and what to turn.

use super::ladder::Pattern;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a lop-sided pattern did when the cap was turned half round.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum CapTurn {
    /// It turned with the cap: the cap.
    #[strum(serialize = "turned with the cap")]
    Turned,
    /// It stayed: needle and nozzle.
    #[strum(serialize = "stayed where it was")]
    Stayed,
}

impl Worded for CapTurn {}

/// What to do about a lop-sided pattern.
///
/// **Source:** common practice in the trade.
pub fn lopsided(turned: Option<CapTurn>) -> &'static str {
    match turned {
        None => {
            "Lop-sided: turn the cap half round and try again. If it turns with the cap it is the cap; if it stays, needle and nozzle."
        }
        Some(CapTurn::Turned) => {
            "It turned with the cap: clean the cap, its holes with a soft pick and never wire; else replace it."
        }
        Some(CapTurn::Stayed) => "It stayed: clean needle and nozzle; worn or bent ones are replaced as a pair.",
    }
}

/// What to do after a fan was looked at; `None`: leave it.
///
/// **Rule:** fan first, then air; the lowest air with a full even fan. Where the air cannot be set the fluid is. **Source:**
/// common practice in the trade.
///
/// ```
/// use level_keel_core::atomizing::{fan::look, ladder::Pattern};
/// assert!(look(Pattern::HeavyMiddle, None, true).unwrap().contains("needle in"));
/// assert!(look(Pattern::HeavyMiddle, None, false).unwrap().contains("air"));
/// assert_eq!(look(Pattern::Even, None, false), None);
/// ```
pub fn look(pattern: Pattern, turned: Option<CapTurn>, fixed_air: bool) -> Option<&'static str> {
    match pattern {
        Pattern::Even => None,
        Pattern::Lopsided => Some(lopsided(turned)),
        Pattern::HeavyMiddle | Pattern::RoundFingers if fixed_air => {
            Some("Too much fluid for this air, and the air is fixed: needle in by a quarter turn, or less fluid pressure.")
        }
        Pattern::HeavyMiddle => Some("Heavy in its middle: a little more air, or less fluid; is the fan knob open?"),
        Pattern::RoundFingers | Pattern::OvalFingers => Some("Fingers: a little more air, or a thinner paint."),
        Pattern::HeavyEnds if fixed_air => {
            Some("Split to its ends, and the air is fixed: more fluid, needle out by a quarter turn.")
        }
        Pattern::HeavyEnds => Some("Split to its ends: less air, or a little more fluid."),
        Pattern::Fog => Some("It fogs: less air. More air is more overspray and nothing else."),
    }
}
