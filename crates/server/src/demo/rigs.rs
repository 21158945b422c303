//! The rigs of the island works.

use super::crew::id;
use crate::problem::Problem;
use crate::rigs;
use crate::state::State;
use level_keel_core::quantity::{Prefs, resolve};
use level_keel_core::rigs::Rig;
use serde_json::{Value, json};

/// A two-litre pot on 25 ft of hose.
pub const BUOY_POT: &str = "rig/buoy pot";
/// External-mix airless with air assist.
pub const FLUME_MACHINE: &str = "rig/flume machine";
/// Two pots for adhesive and activator.
pub const COLLAR_POTS: &str = "rig/collar pots";

fn all() -> [(&'static str, Value); 3] {
    [
        (
            BUOY_POT,
            json!({ "name": "Buoy pot, two litres", "kind": "pot", "rating_kpa": "80 psi", "relief_kpa": "80 psi", "fill_ml": "2 L",
                "two_regulators": true, "vent_valve": true, "hose_bore_mm": "3/8 in", "hose_length_mm": "25 ft", "hose_since": "2026-03-02",
                "lift_mm": "500 mm", "gun": "Pot gun, bench three", "class": "conventional", "printed_air_kpa": "60 psi", "air_nl_min": "12 scfm",
                "nozzle_mm": 1.8, "spare_mm": [1.2, 1.4, 2.2], "air_bore_mm": "5/16 in", "air_length_mm": "25 ft",
                "supply_kpa": "90 psi", "compressor_nl_min": "22 scfm" }),
        ),
        (
            FLUME_MACHINE,
            json!({ "name": "Flume gel-coat machine", "kind": "gel_coat_machine", "pump_most_kpa": "120 psi", "hose_bore_mm": "3/8 in",
                "hose_length_mm": "30 ft", "gun": "Flume gun", "class": "air_assisted", "tip_code": "521", "air_nl_min": "6 scfm",
                "air_bore_mm": "1/4 in", "air_length_mm": "30 ft", "supply_kpa": "100 psi", "compressor_nl_min": "22 scfm" }),
        ),
        (
            COLLAR_POTS,
            json!({ "name": "Collar twin pots", "kind": "twin_pots", "rating_kpa": "80 psi", "relief_kpa": "80 psi", "fill_ml": "10 L",
                "two_regulators": true, "hose_bore_mm": "3/8 in", "hose_length_mm": "20 ft", "lift_mm": "300 mm", "gun": "Collar gun",
                "class": "twin_feed", "nozzle_mm": 2.2, "air_nl_min": "10 scfm", "air_bore_mm": "5/16 in", "air_length_mm": "20 ft",
                "supply_kpa": "90 psi", "compressor_nl_min": "22 scfm" }),
        ),
    ]
}

/// Keeps the rigs; those that are there stay as they are.
pub async fn write(state: &State) -> Result<(), Problem> {
    for (name, mut body) in all() {
        resolve(&mut body, Prefs::METRIC)?;
        let rig = serde_json::from_value::<Rig>(body)?.validate(Prefs::METRIC)?;
        let known = sqlx::query_scalar!("select id from rig where id = $1", id(name)).fetch_optional(&state.db).await?;
        if known.is_none() {
            rigs::put_rig(state, id(name), &rig, state.clock.now()).await?;
        }
    }
    Ok(())
}
