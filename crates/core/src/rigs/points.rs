//! The rig drawn as a line from the supply to the nozzle, with the pressure at each point once it is known.

use super::{Rig, RigKind};
use crate::delivery::Drops;
use crate::quantity::{Kind, Prefs, Shown, show};
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
}

/// The pieces of a rig, from supply to nozzle, with the pressures of a flow.
pub fn points(rig: &Rig, drops: Option<&Drops>, prefs: Prefs) -> Vec<LinePoint> {
    let say = |v: f64, k: Kind| show(v, k, prefs).text;
    let kpa = |v: f64| Some(show(v, Kind::Pressure, prefs));
    let mut line = Vec::new();
    let mut add = |is: &str, name: &str, facts: Vec<String>, at: Option<Shown>| {
        line.push(LinePoint { is: is.into(), name: name.into(), facts: facts.join(", "), kpa: at });
    };
    let some = |v: Option<f64>, k: Kind, word: &str| v.map(|v| format!("{word}{}", say(v, k)));
    let facts = |of: Vec<Option<String>>| of.into_iter().flatten().collect::<Vec<_>>();
    add(
        "supply",
        "Air supply",
        facts(vec![some(rig.supply_kpa, Kind::Pressure, ""), some(rig.compressor_nl_min, Kind::AirFlow, "gives ")]),
        None,
    );
    let regulators = if rig.two_regulators { "one for fluid, one for air" } else { "one" };
    add("regulator", "Regulators", vec![regulators.into()], None);
    if rig.kind != RigKind::GunCup {
        add(
            "vessel",
            rig.kind.word(),
            facts(vec![
                some(rig.rating_kpa, Kind::Pressure, "rated "),
                some(rig.relief_kpa, Kind::Pressure, "relief "),
                some(rig.pump_most_kpa, Kind::Pressure, "to "),
                some(rig.fill_ml, Kind::Volume, "fill "),
                rig.agitator.then(|| "agitator".into()),
            ]),
            drops.and_then(|d| kpa(d.total_kpa)),
        );
        add(
            "hose",
            "Fluid hose",
            facts(vec![
                some(rig.hose_bore_mm, Kind::Length, ""),
                some(rig.hose_length_mm, Kind::Length, ""),
                rig.hose_since.map(|d| format!("since {d}")),
                some(rig.lift_mm.filter(|mm| *mm != 0.0), Kind::Length, "lift "),
            ]),
            drops.and_then(|d| kpa(d.nozzle_kpa)),
        );
    }
    add("gun", &rig.gun, facts(vec![Some(rig.class.word().into()), some(rig.printed_air_kpa, Kind::Pressure, "air to ")]), None);
    let nozzle = facts(vec![some(rig.nozzle_mm, Kind::Length, ""), rig.tip_code.clone().map(|c| format!("tip {c}"))]);
    add("nozzle", "Nozzle", nozzle, drops.and_then(|_| kpa(0.0)));
    line
}
