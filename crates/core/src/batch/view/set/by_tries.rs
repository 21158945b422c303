//! What to set next where neither sheet, cup nor catch says how thick the paint is: by the tries themselves.

use super::advice::{NOTHING_FLOWED, SetAdvice, by_hand, only};
use crate::delivery::advise::Seen;
use crate::delivery::by_tries::{next, start_kpa};
use crate::delivery::choose::LOOK_FROM_KPA;
use crate::delivery::lift_kpa;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::rigs::Rig;
use crate::verdict::is_over;

/// The first pressure, then one after the other; `None` for a rig that is not set by its stream.
pub(super) fn advise(
    density_kg_l: f64,
    rig: &Rig,
    tries: &[Seen],
    aim_mm: f64,
    vessel_kpa: f64,
    prefs: Prefs,
) -> Option<SetAdvice> {
    if !rig.kind.is_modelled() {
        return None;
    }
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs);
    let Some(last) = tries.last() else {
        let to = say(start_kpa(rig.is_heavy_bodied(), vessel_kpa));
        let text = format!("Start at {}. Nothing says how thick this paint is: its stream tells the next pressure.", to.text);
        return Some(SetAdvice { to: Some(to), text, down: false });
    };
    let lift_kpa = lift_kpa(density_kg_l, rig.lift_mm.unwrap_or(0.0));
    let Some(found) = next(tries, lift_kpa, aim_mm, vessel_kpa) else { return Some(only(NOTHING_FLOWED)) };
    // Up to the mark one goes all the same: what the tries say is rough.
    if is_over(found.to_kpa, LOOK_FROM_KPA) && !rig.is_heavy_bodied() {
        return Some(only(format!(
            "By the tries it would want {}. Past {} look for a small nozzle, a thin hose, a leak or a clog first; more pressure is no cure.",
            say(found.wants_kpa).text,
            say(LOOK_FROM_KPA).text
        )));
    }
    let hand = by_hand(last.pot_kpa, found.to_kpa, found.held, rig, prefs);
    Some(SetAdvice { text: hand.text + " By the tries alone, which is rough.", ..hand })
}
