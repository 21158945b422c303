//! Pieces a rig is put together from: each kept once, with the figures it brings.

use super::{Rig, RigKind};
use crate::limits::check_name;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

/// A kind of piece, which is also its place in a rig.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum PieceKind {
    /// A pot, or two alike.
    Vessel,
    /// A pump, airless or not.
    Pump,
    /// A gel-coat machine, with its catalyst air.
    Machine,
    /// Regulators and shut-off.
    Regulators,
    /// A fluid hose.
    FluidHose,
    /// A gun.
    Gun,
    /// A fluid nozzle.
    Nozzle,
    /// An airless tip.
    Tip,
    /// An air hose.
    AirHose,
    /// A compressor with its supply.
    Compressor,
}

/// How a figure is asked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum AskedAs {
    /// A quantity, in any unit.
    Quantity,
    /// A text.
    Text,
    /// A day.
    Day,
    /// Yes or no.
    Tick,
    /// A class of guns.
    Class,
    /// A school of the pattern ladder.
    Ladder,
}

/// A figure of a piece or of the rig itself, as a form asks for it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Asks {
    /// The field of the rig.
    pub field: &'static str,
    pub label: &'static str,
    pub hint: &'static str,
    pub as_a: AskedAs,
    /// What stands before its figure where the figures of a piece are said in one line.
    #[serde(skip)]
    pub said: &'static str,
}

impl Asks {
    const fn said(self, said: &'static str) -> Asks {
        Asks { said, ..self }
    }
}

const fn quantity(field: &'static str, label: &'static str, hint: &'static str) -> Asks {
    Asks { field, label, hint, as_a: AskedAs::Quantity, said: "" }
}

const fn tick(field: &'static str, label: &'static str) -> Asks {
    Asks { field, label, hint: "", as_a: AskedAs::Tick, said: "" }
}

impl PieceKind {
    /// In the order in which air and paint pass them.
    pub const ALONG_THE_LINE: [PieceKind; 10] = [
        PieceKind::Compressor,
        PieceKind::Regulators,
        PieceKind::Vessel,
        PieceKind::Pump,
        PieceKind::Machine,
        PieceKind::FluidHose,
        PieceKind::Gun,
        PieceKind::Nozzle,
        PieceKind::Tip,
        PieceKind::AirHose,
    ];

    /// The wire name.
    pub fn name(self) -> &'static str {
        self.into()
    }

    /// In words.
    pub fn word(self) -> &'static str {
        match self {
            PieceKind::Vessel => "Pot",
            PieceKind::Pump => "Pump",
            PieceKind::Machine => "Gel-coat machine",
            PieceKind::Regulators => "Regulators",
            PieceKind::FluidHose => "Fluid hose",
            PieceKind::Gun => "Gun",
            PieceKind::Nozzle => "Nozzle",
            PieceKind::Tip => "Tip",
            PieceKind::AirHose => "Air hose",
            PieceKind::Compressor => "Compressor",
        }
    }

    /// The figures it brings to a rig.
    pub fn asks(self) -> Vec<Asks> {
        match self {
            PieceKind::Vessel => vec![
                quantity("rating_kpa", "Rated for", "on its plate").said("rated "),
                quantity("relief_kpa", "Relief opens at", "its own valve").said("relief "),
                quantity("fill_ml", "Filled to", "").said("fill "),
                tick("vent_valve", "valve to vent by"),
                tick("agitator", "agitator"),
            ],
            PieceKind::Pump => vec![
                quantity("pump_most_kpa", "Gives at most", "").said("to "),
                quantity("pump_stands_kpa", "Stands at", "before its fluid regulator").said("stands at "),
            ],
            PieceKind::Machine => vec![
                quantity("pump_most_kpa", "Air motor at most", "").said("to "),
                quantity("catalyst_most_kpa", "Catalyst air at most", "its regulator's plate").said("catalyst air to "),
                Asks { field: "ladder", label: "Pattern ladder", hint: "", as_a: AskedAs::Ladder, said: "pressure " },
            ],
            PieceKind::Regulators => {
                vec![tick("two_regulators", "a regulator each for fluid and air"), tick("shut_off", "shut-off in the air line")]
            }
            PieceKind::FluidHose => vec![
                quantity("hose_bore_mm", "Hose bore", ""),
                quantity("hose_length_mm", "Hose length", ""),
                Asks { field: "hose_since", label: "Hose since", hint: "as 2026-03-01", as_a: AskedAs::Day, said: "since " },
            ],
            PieceKind::Gun => vec![
                Asks { field: "class", label: "Of the class", hint: "", as_a: AskedAs::Class, said: "" },
                quantity("printed_air_kpa", "Air printed on it", "at most").said("air to "),
                quantity("air_nl_min", "Air it takes", "").said("takes "),
                quantity("needle_full_count", "Needle at full trigger", "turns from shut").said("turns of the needle: "),
                tick("fixed_air", "its air cannot be set"),
                tick("internal_mix", "mixes inside its cap"),
            ],
            PieceKind::Nozzle => {
                vec![
                    quantity("nozzle_mm", "Nozzle fitted", ""),
                    Asks { field: "cap", label: "Cap fitted", hint: "as stamped", as_a: AskedAs::Text, said: "cap " },
                    quantity("spare_mm", "Nozzles at hand", "apart by a semicolon").said("at hand "),
                ]
            }
            PieceKind::Tip => {
                vec![Asks { field: "tip_code", label: "Tip fitted", hint: "as 517", as_a: AskedAs::Text, said: "tip " }]
            }
            PieceKind::AirHose => {
                vec![quantity("air_bore_mm", "Air hose bore", ""), quantity("air_length_mm", "Air hose length", "")]
            }
            PieceKind::Compressor => {
                vec![
                    quantity("supply_kpa", "Supply stands at", ""),
                    quantity("compressor_nl_min", "Compressor gives", "").said("gives "),
                ]
            }
        }
    }
}

impl RigKind {
    /// The pieces a rig of this kind is put together from, in the order of the line.
    pub fn pieces(self) -> Vec<PieceKind> {
        let drives = match self {
            RigKind::Pot | RigKind::TwinPots => Some(PieceKind::Vessel),
            RigKind::Pump | RigKind::Airless => Some(PieceKind::Pump),
            RigKind::GelCoatMachine => Some(PieceKind::Machine),
            RigKind::GunCup => None,
        };
        let tipped = self.is_tipped();
        let wanted = |kind: &PieceKind| match kind {
            PieceKind::Vessel | PieceKind::Pump | PieceKind::Machine => Some(*kind) == drives,
            PieceKind::FluidHose => self.has_hose(),
            PieceKind::Tip => tipped,
            PieceKind::Nozzle => !tipped,
            PieceKind::Regulators | PieceKind::Gun | PieceKind::AirHose | PieceKind::Compressor => true,
        };
        PieceKind::ALONG_THE_LINE.into_iter().filter(wanted).collect()
    }
}

/// A piece: its kind, its name and the figures of it, by the field of the rig each one fills.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RigPiece)]
pub struct Piece {
    /// What it is.
    pub kind: PieceKind,
    /// Its name in the shop.
    pub name: String,
    /// Its figures.
    #[schema(value_type = std::collections::BTreeMap<String, Value>)]
    pub figures: Map<String, Value>,
}

impl Piece {
    /// Checks name and figures; figures of another kind of piece are refused.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn validate(mut self, prefs: Prefs) -> Result<Piece, Refusal> {
        self.name = check_name("name", &self.name)?;
        let own = |field: &str| self.kind.asks().iter().any(|a| a.field == field);
        if let Some(other) = self.figures.keys().find(|f| !own(f)) {
            let text = format!("A {} has no such figure.", self.kind.word().to_lowercase());
            return Err(Refusal::bad_input("unknown-field", other, text));
        }
        // Judged as part of a rig that has nothing else, by the very limits of a rig.
        let mut map = self.figures.clone();
        let usual = [("name", json!("-")), ("gun", json!("-")), ("kind", json!("gun_cup")), ("class", json!("conventional"))];
        for (field, value) in usual {
            map.entry(field).or_insert(value);
        }
        let rig: Rig = crate::wire::read(Value::Object(map))?;
        rig.figures_in_limits(prefs)?;
        let needs: &[&str] = match self.kind {
            PieceKind::Vessel => &["rating_kpa", "relief_kpa"],
            PieceKind::FluidHose => &["hose_bore_mm", "hose_length_mm"],
            PieceKind::AirHose => &["air_bore_mm", "air_length_mm"],
            PieceKind::Nozzle => &["nozzle_mm"],
            PieceKind::Tip => &["tip_code"],
            PieceKind::Gun => &["class"],
            PieceKind::Pump | PieceKind::Machine | PieceKind::Regulators | PieceKind::Compressor => &[],
        };
        match needs.iter().find(|f| self.figures.get(**f).is_none_or(Value::is_null)) {
            Some(field) => Err(Refusal::bad_input("missing", field, "This is needed.")),
            None => Ok(self),
        }
    }
}

/// A rig as typed, with the figures of the pieces that are fitted: a piece's figure stands before a typed one.
///
/// **Errors:** a refusal naming the place, where a piece is of another kind or this kind of rig has no such place.
pub fn assemble(typed: &mut Map<String, Value>, kind: RigKind, fitted: &[Piece]) -> Result<(), Refusal> {
    let places = kind.pieces();
    for piece in fitted {
        if !places.contains(&piece.kind) {
            let text = format!("A {} has no {}.", kind.word(), piece.kind.word().to_lowercase());
            return Err(Refusal::bad_input("no-such-place", &format!("pieces.{}", piece.kind.name()), text));
        }
        for asked in piece.kind.asks() {
            match piece.figures.get(asked.field) {
                Some(value) => drop(typed.insert(asked.field.into(), value.clone())),
                None => drop(typed.remove(asked.field)),
            }
        }
        if piece.kind == PieceKind::Gun {
            typed.insert("gun".into(), json!(piece.name));
        }
    }
    Ok(())
}
