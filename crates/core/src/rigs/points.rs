//! The rig drawn as a line from the supply to the nozzle, with the pressures at each point once they are known.

use super::{Rig, RigKind};
use crate::atomizing::classes::ReadAt;
use crate::delivery::Drops;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// One piece of the line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct LinePoint {
    /// Supply, regulator, vessel, hose, gun, nozzle: for the picture.
    pub is: String,
    pub name: String,
    /// Its measures.
    pub facts: String,
    /// Fluid pressure behind it, once a set-up is known.
    pub kpa: Option<Shown>,
    /// Air pressure there, once it is known.
    pub air: Option<Shown>,
}

/// What is known of the pressures along a rig.
#[derive(Debug, Clone, Copy, Default)]
pub struct Along<'a> {
    /// Where the fluid's pressure goes, where the line is reckoned.
    pub drops: Option<&'a Drops>,
    /// What was set on pot or pump.
    pub pot_kpa: Option<f64>,
    /// Air as it was read last, and where.
    pub air: Option<(f64, Option<ReadAt>)>,
}

/// Atomizing air at the wall and at the gun, from where it was read; what the hose takes between stands between them.
///
/// **Formula:** [`AirHose::at_gun_kpa`](crate::atomizing::air_hose::AirHose::at_gun_kpa) and its inverse. **Units:** kPa.
/// `None` at the end that nothing tells: no hose stated, or one that is too thin.
fn air_along(rig: &Rig, (kpa, at): (f64, Option<ReadAt>)) -> (Option<f64>, Option<f64>) {
    let hose = rig.air();
    match at {
        Some(ReadAt::Wall) => (Some(kpa), hose.and_then(|(h, nl)| h.at_gun_kpa(kpa, nl).ok())),
        _ => (hose.and_then(|(h, nl)| h.at_wall_kpa(kpa, nl).ok()), Some(kpa)),
    }
}

/// The pieces of a rig, from supply to nozzle, with the pressures along it.
pub fn points(rig: &Rig, along: Along, prefs: Prefs) -> Vec<LinePoint> {
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    let kpa = |v: f64| show(v, QuantityKind::Pressure, prefs);
    let drops = along.drops;
    let (wall, gun_air) = along.air.map_or((None, None), |read| air_along(rig, read));
    let mut line = Vec::new();
    let mut add = |is: &str, name: &str, facts: Vec<String>, fluid: Option<f64>, air: Option<f64>| {
        let facts = facts.join(", ");
        line.push(LinePoint { is: is.into(), name: name.into(), facts, kpa: fluid.map(kpa), air: air.map(kpa) });
    };
    let some = |v: Option<f64>, k: QuantityKind, word: &str| v.map(|v| format!("{word}{}", say(v, k)));
    let facts = |of: Vec<Option<String>>| of.into_iter().flatten().collect::<Vec<_>>();
    let gives = facts(vec![some(rig.compressor_nl_min, QuantityKind::AirFlow, "gives ")]);
    add("supply", "Air supply", gives, None, rig.supply_kpa);
    let regulators = if rig.two_regulators { "one for fluid, one for air" } else { "one" };
    let shut_off = rig.shut_off.then(|| "shut-off".into());
    add("regulator", "Regulators", facts(vec![Some(regulators.into()), shut_off]), None, wall);
    if rig.kind != RigKind::GunCup {
        add(
            "vessel",
            rig.kind.word(),
            facts(vec![
                some(rig.rating_kpa, QuantityKind::Pressure, "rated "),
                some(rig.relief_kpa, QuantityKind::Pressure, "relief "),
                some(rig.pump_most_kpa, QuantityKind::Pressure, "to "),
                some(rig.pump_stands_kpa, QuantityKind::Pressure, "stands at "),
                some(rig.fill_ml, QuantityKind::Volume, "fill "),
                rig.agitator.then(|| "agitator".into()),
            ]),
            drops.map(|d| d.total_kpa).or(along.pot_kpa),
            None,
        );
        add(
            "hose",
            "Fluid hose",
            facts(vec![
                some(rig.hose_bore_mm, QuantityKind::Bore, ""),
                some(rig.hose_length_mm, QuantityKind::Length, ""),
                rig.hose_since.map(|d| format!("since {d}")),
                some(rig.lift_mm.filter(|mm| *mm != 0.0), QuantityKind::Length, "lift "),
            ]),
            drops.map(|d| d.nozzle_kpa),
            None,
        );
    }
    let gun = facts(vec![Some(rig.class.word().into()), some(rig.printed_air_kpa, QuantityKind::Pressure, "air to ")]);
    add("gun", &rig.gun, gun, drops.map(|d| d.nozzle_kpa), gun_air);
    let nozzle = facts(vec![some(rig.nozzle_mm, QuantityKind::Nozzle, ""), rig.tip_code.clone().map(|c| format!("tip {c}"))]);
    add("nozzle", "Nozzle", nozzle, drops.map(|_| 0.0), None);
    line
}
