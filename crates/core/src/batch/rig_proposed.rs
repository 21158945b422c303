//! Which rig a coat is sprayed with most likely, as long as none is taken: Set opens on it. Nothing of it is written down; the
//! entry that takes a rig is a person's.

use super::beside::GoodSetUp;
use super::case::Case;
use super::record::{Record, Stamped};
use crate::coat_system::Method;
use crate::quantity::Prefs;
use crate::rigs::{ChooseRig, Rig, RigKind};
use crate::sheets::{ChargeKind, Sheet};
use jiff::Timestamp;
use serde::Deserialize;
use uuid::Uuid;

/// A rig of the shop that is in use, as it stands today.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct RigAtHand {
    /// Which.
    pub id: Uuid,
    /// As it stands.
    pub rig: Rig,
    /// The newest batch of this product that it sprayed, by its number.
    pub last_number: Option<i64>,
    /// Its last good set-ups with this product, newest first.
    #[serde(default)]
    pub last_good: Vec<GoodSetUp>,
}

/// Whether a kind of rig does what a coat needs.
///
/// **Rule:** the method names its rig; brush and roller need none. Where no method is stated the sheet tells: at the gun a gel-coat
/// machine for a catalyst in per cent and twin pots for a ratio; in a pot anything that sprays from one vessel. **Source:** common
/// practice in the trade.
///
/// ```
/// use level_keel_core::batch::rig_proposed::suits;
/// use level_keel_core::coat_system::Method;
/// use level_keel_core::rigs::RigKind;
/// # let sheet: level_keel_core::sheets::Sheet = serde_json::from_value(serde_json::json!({ "name": "Primer",
/// #     "label": "Primer", "has_hardener": false, "charge": "pot",
/// #     "base_density_kg_l": 1.4, "solids_pct": 60.0, "wet_um": 100.0, "wet_min_um": 75.0, "wet_max_um": 125.0,
/// #     "temp_min_c": 10.0, "temp_max_c": 35.0, "stream": "industrial" })).unwrap();
/// assert!(suits(RigKind::Airless, Some(Method::Airless), &sheet));
/// assert!(!suits(RigKind::Pot, Some(Method::Brush), &sheet), "a brush needs no rig");
/// assert!(!suits(RigKind::TwinPots, None, &sheet), "what stands in one pot is not fed from two");
/// ```
pub fn suits(kind: RigKind, method: Option<Method>, sheet: &Sheet) -> bool {
    match method {
        Some(Method::Pot) => matches!(kind, RigKind::Pot | RigKind::Pump),
        Some(Method::GunCup) => kind == RigKind::GunCup,
        Some(Method::Airless) => kind == RigKind::Airless,
        Some(Method::GelCoatMachine) => kind == RigKind::GelCoatMachine,
        Some(Method::TwinFeed) => kind == RigKind::TwinPots,
        Some(Method::Brush | Method::Roller) => false,
        None => match sheet.charge {
            ChargeKind::Pot => matches!(kind, RigKind::Pot | RigKind::Pump | RigKind::Airless | RigKind::GunCup),
            ChargeKind::AtGun if sheet.hardener_pct.is_some() => kind == RigKind::GelCoatMachine,
            ChargeKind::AtGun => kind == RigKind::TwinPots,
        },
    }
}

/// The rig that is proposed, and why, in words.
#[derive(Debug, Clone, PartialEq)]
pub struct RigProposed<'a> {
    /// Which.
    pub at_hand: &'a RigAtHand,
    /// Where that comes from.
    pub from: String,
}

/// The rig to open Set on.
///
/// **Rule:** of those that suit the coat, and have what its sheet asks where any has, the one this product was sprayed with last; else the first as they are listed. `None` once
/// a rig is taken, a try written without one, or the work signed. **Source:** ours.
pub fn rig_proposed<'a>(case: &Case<'a>) -> Option<RigProposed<'a>> {
    let aim = case.record.aim()?;
    if case.rig.is_some() || !case.set_ups.is_empty() || case.signature.is_some() {
        return None;
    }
    let fit: Vec<&RigAtHand> = case.beside.rigs_at_hand.iter().filter(|r| suits(r.rig.kind, aim.method, &aim.sheet)).collect();
    // One that has what the sheet asks before one that is short of it.
    let enough: Vec<&RigAtHand> = fit.iter().copied().filter(|r| r.rig.short_of(&aim.sheet, Prefs::METRIC).is_empty()).collect();
    let fit = if enough.is_empty() { fit } else { enough };
    let used = fit.iter().filter(|r| r.last_number.is_some()).max_by_key(|r| r.last_number);
    let at_hand = *used.or(fit.first())?;
    let from = match (at_hand.last_number, fit.len()) {
        (Some(number), _) => format!("as in batch {number:04}"),
        (None, 1) => "the only one here that suits".into(),
        (None, n) => format!("the first of {n} that suit"),
    };
    Some(RigProposed { at_hand, from })
}

/// The record as it would be with that rig taken: to look at, never to store.
pub(in crate::batch) fn with_rig(case: &Case<'_>, proposed: &RigProposed<'_>, now: Timestamp) -> Record {
    let it = ChooseRig { rig: proposed.at_hand.id, fitted: Some(proposed.at_hand.rig.clone()) };
    let taken = Stamped { entry: Uuid::nil(), seq: 0, at: now, by: String::new(), who: Uuid::nil(), it };
    Record { rig: Some(taken), ..case.record.clone() }
}
