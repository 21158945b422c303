//! The steps of a shut-down, in the order of the hands, by kind of rig.
//!
//! **Source:** common practice in the trade; the maker's own instructions and local codes rule over it.

use crate::rigs::{Rig, RigKind};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a step does to the pressure in the rig.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StepIs {
    /// Nothing that is judged.
    Plain,
    /// The gauge is read, and reads zero.
    Zero,
    /// Something comes off: never under pressure.
    Opens,
    /// It is put under pressure again.
    Presses,
}

/// A step.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ShutDownStep {
    /// Its name on the wire, and in the book for ever.
    pub id: &'static str,
    /// What is done.
    pub word: &'static str,
    /// What it does to the pressure.
    pub is: StepIs,
}

const fn plain(id: &'static str, word: &'static str) -> ShutDownStep {
    ShutDownStep { id, word, is: StepIs::Plain }
}

const fn of(id: &'static str, word: &'static str, is: StepIs) -> ShutDownStep {
    ShutDownStep { id, word, is }
}

const PAIL: ShutDownStep = plain("pail", "Trigger into a bonded metal pail until nothing comes");
const ZERO: ShutDownStep = of("zero", "Look at the gauge: it reads zero", StepIs::Zero);
const ZERO_AGAIN: ShutDownStep = of("zero_again", "Relieve it again the same way: the gauge reads zero", StepIs::Zero);
const FLUSH: ShutDownStep = of("flush", "Flush with the solvent the sheet names, until it runs clear", StepIs::Presses);
const HOSE_OFF: ShutDownStep = of("hose_off", "Hose, screens, cap and nozzle off and cleaned", StepIs::Opens);
const LINER: ShutDownStep = plain(
    "liner",
    "What is left in the liner cures, then is binned; draw tube, rim and gasket wiped. Mixed paint never goes back",
);

const AIR_OFF: ShutDownStep = plain("air_off", "Atomizing air off");
const SUPPLY_OFF: ShutDownStep = plain("supply_off", "Air supply to the pot off, its regulator backed off");
const VENT: ShutDownStep = plain("vent", "Vent the pot at its valve; it does not fall by its regulator");
const VENT_RING: ShutDownStep =
    plain("vent", "This pot has no valve: vent it at its relief ring; it does not fall by its regulator");
const LID: ShutDownStep = of("lid", "Open the lid, the clamps by hand, one after the other", StepIs::Opens);

const POWER_OFF: ShutDownStep = plain("power_off", "Air or power of the pump off");
const DRAIN: ShutDownStep = plain("drain", "Drain valve open, and left open");
const LOCK: ShutDownStep = plain("lock", "Trigger lock on");
const TIP: ShutDownStep = of("tip", "Tip and guard off and cleaned", StepIs::Opens);
const CATALYST: ShutDownStep =
    plain("catalyst_off", "Catalyst and its air off and vented, into a pail of its own: never with resin, never pooled");

const CUP: ShutDownStep = plain("cup", "Cup off over the pail; what is mixed never goes back into a can");
const CUP_FLUSH: ShutDownStep = plain("flush", "Solvent the sheet names through cup and gun, until it runs clear");

/// The steps for a rig.
pub fn steps(rig: &Rig) -> Vec<ShutDownStep> {
    let vent = if rig.vent_valve { VENT } else { VENT_RING };
    match rig.kind {
        RigKind::Pot | RigKind::TwinPots => {
            vec![AIR_OFF, SUPPLY_OFF, vent, ZERO, PAIL, LID, LINER, FLUSH, ZERO_AGAIN, HOSE_OFF]
        }
        RigKind::Pump | RigKind::Airless => vec![POWER_OFF, PAIL, DRAIN, ZERO, LOCK, TIP, FLUSH, ZERO_AGAIN, HOSE_OFF],
        RigKind::GelCoatMachine => {
            vec![CATALYST, POWER_OFF, PAIL, DRAIN, ZERO, LOCK, TIP, FLUSH, ZERO_AGAIN, HOSE_OFF]
        }
        RigKind::GunCup => vec![AIR_OFF, plain("pail", "Trigger until no air is left in the gun"), CUP, CUP_FLUSH],
    }
}

/// A step of a rig by its name.
pub fn step(rig: &Rig, id: &str) -> Option<ShutDownStep> {
    steps(rig).into_iter().find(|s| s.id == id)
}
