//! What a try is asked for with a rig: its own settings first, in the order they are made; the rest folded away.

use crate::batch::entries::Flowed;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::rigs::{Rig, RigKind};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A setting that is asked for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SetAsk {
    /// The field of the try.
    pub field: String,
    pub label: String,
    pub hint: String,
    /// Asked at first; else folded away.
    pub first: bool,
    /// Asked only while one of these streams is looked at; empty: whatever flows.
    pub of: Vec<Flowed>,
}

/// Every setting of this rig; without one, of a pressure pot. `band` is that of its stream, in words.
pub(super) fn asks(rig: Option<&Rig>, band: &str, prefs: Prefs) -> Vec<SetAsk> {
    let kind = rig.map_or(RigKind::Pot, |r| r.kind);
    let ask = |first: bool, field: &str, label: &str, hint: &str| SetAsk {
        field: field.into(),
        label: label.into(),
        hint: hint.into(),
        first,
        of: Vec::new(),
    };
    let only = |of: &[Flowed], ask: SetAsk| SetAsk { of: of.to_vec(), ..ask };
    let first = |field: &str, label: &str, hint: &str| ask(true, field, label, hint);
    let more = |field: &str, label: &str, hint: &str| ask(false, field, label, hint);
    let air = |after: &str| first("atomizing_kpa", if kind.is_tipped() { "Gun air" } else { "Atomizing" }, after);
    let fan = |at_first| ask(at_first, "fan_turns_count", "Fan knob", "turns from shut");
    let needle = |at_first| ask(at_first, "needle_turns_count", "Needle", "turns from shut");
    let mut all = match kind {
        RigKind::Pot => vec![first("pot_kpa", "Pot pressure", ""), first("stream_mm", "Stream", band), air("after the stream")],
        RigKind::Pump => vec![
            first("supply_kpa", "Pump stands at", "before the regulator"),
            first("pot_kpa", "Fluid, regulated", ""),
            first("stream_mm", "Stream", band),
            air("after the stream"),
        ],
        RigKind::TwinPots => vec![
            first("flowed", "Which stream", ""),
            only(&[Flowed::A, Flowed::Both], first("pot_kpa", "Pressure of A", "")),
            only(&[Flowed::B, Flowed::Both], first("b_kpa", "Pressure of B", "the proof is of both")),
            only(&[Flowed::A], first("a_valve_turns_count", "Valve of A", "turns from shut")),
            only(&[Flowed::B], first("b_valve_turns_count", "Valve of B", "turns from shut")),
            only(&[Flowed::A, Flowed::B], first("stream_mm", "Stream", band)),
            only(&[Flowed::Both], air("after the streams")),
            only(&[Flowed::Both], more("a_valve_turns_count", "Valve of A", "turns from shut")),
            only(&[Flowed::Both], more("b_valve_turns_count", "Valve of B", "turns from shut")),
        ],
        RigKind::GelCoatMachine => vec![
            first("catalyst_kpa", "Catalyst air", "before the pump"),
            first("pot_kpa", "Pump", ""),
            first("refine_turns_count", "Refinement", "turns, in quarters"),
            air("after the pattern"),
        ],
        RigKind::Airless => vec![first("pot_kpa", "Pump", "")],
        RigKind::GunCup => vec![fan(true), needle(true), air("after the fan, at the inlet")],
    };
    let class = rig.map(|r| r.class);
    // Airless without air has none to read.
    if kind == RigKind::Airless && class.is_some_and(|c| c.air().is_some()) {
        all.push(air("a little, at the last"));
    }
    if let Some(most) = class.and_then(|c| c.cap_most_kpa()) {
        let hint = format!("by a test cap, {} at most", show(most, QuantityKind::Pressure, prefs).text);
        all.push(ask(kind == RigKind::GunCup, "cap_kpa", "Air at the cap", &hint));
    }
    if kind != RigKind::GunCup {
        all.extend([fan(false), needle(false)]);
    }
    if kind == RigKind::Airless {
        all.push(more("refine_turns_count", "Refinement", "turns, in quarters"));
    }
    if kind == RigKind::GunCup {
        all.push(more("stream_mm", "Stream", "only if one is wanted"));
    }
    all.push(more("texture_grit_count", "Texture like grit", "waterborne, on paper"));
    all.push(more("looked_after_s", "Looked at after", "it levels late"));
    all
}
