//! Rigs: what stands between the supply and the nozzle, what it bears, and what is judged of it.

mod gauges;
mod least;
pub mod pieces;
mod points;

pub use gauges::{Gauges, disagree};
use jiff::Timestamp;
pub use least::ShortOf;
pub use points::{Along, LinePoint, points};

use crate::atomizing::air_hose::AirHose;
use crate::atomizing::classes::GunClass;
use crate::atomizing::ladder::LadderSchool;
use crate::atomizing::tips::{TipRow, decode};
use crate::delivery::FluidLine;
use crate::limits::{self, check_name, check_text};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::verdict::is_over;
use crate::worded::Worded;
use pieces::PieceKind;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// What drives the fluid.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum RigKind {
    /// A pressure pot.
    #[strum(serialize = "pressure pot")]
    Pot,
    /// Two pots, one for each part.
    #[strum(serialize = "twin pots")]
    TwinPots,
    /// A low-pressure pump.
    #[strum(serialize = "pump")]
    Pump,
    /// An airless pump, with or without air at the gun.
    #[strum(serialize = "airless pump")]
    Airless,
    /// A gel-coat machine: airless, with catalyst air.
    #[strum(serialize = "gel-coat machine")]
    GelCoatMachine,
    /// The gun's own cup.
    #[strum(serialize = "gun cup")]
    GunCup,
}

impl Worded for RigKind {}

impl RigKind {
    /// Paint stands under air pressure in a vessel: it may hold pressure with its hose off.
    pub fn has_vessel(self) -> bool {
        matches!(self, RigKind::Pot | RigKind::TwinPots)
    }

    /// The paint goes to the gun under a pressure that is set: by pot or pump, and not out of the gun's own cup.
    pub fn is_pressed(self) -> bool {
        self != RigKind::GunCup
    }

    /// The fluid passes a hose of its own.
    pub fn has_hose(self) -> bool {
        self != RigKind::GunCup
    }

    /// Paint leaves by an airless tip, and not by a round nozzle.
    pub fn is_tipped(self) -> bool {
        matches!(self, RigKind::Airless | RigKind::GelCoatMachine)
    }

    /// The fluid line's own physics holds: a pot or a pump through hose and round nozzle. An airless tip is no round hole.
    pub fn is_modelled(self) -> bool {
        matches!(self, RigKind::Pot | RigKind::TwinPots | RigKind::Pump)
    }
}

/// An assembled rig.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Rig {
    /// Its name.
    pub name: String,
    /// What drives it.
    pub kind: RigKind,
    /// What the vessel is rated for.
    #[serde(default)]
    pub rating_kpa: Option<f64>,
    /// At which its relief valve opens.
    #[serde(default)]
    pub relief_kpa: Option<f64>,
    /// What it may be filled to.
    #[serde(default)]
    pub fill_ml: Option<f64>,
    /// It has an agitator.
    #[serde(default)]
    pub agitator: bool,
    /// Pot and gun have a regulator each.
    #[serde(default)]
    pub two_regulators: bool,
    /// A shut-off stands in the air line.
    #[serde(default)]
    pub shut_off: bool,
    /// It has a valve to vent by.
    #[serde(default)]
    pub vent_valve: bool,
    /// Most a pump gives.
    #[serde(default)]
    pub pump_most_kpa: Option<f64>,
    /// At which a pump stands, before the regulator of its fluid.
    #[serde(default)]
    pub pump_stands_kpa: Option<f64>,
    /// Bore of the fluid hose.
    #[serde(default)]
    pub hose_bore_mm: Option<f64>,
    /// Its length.
    #[serde(default)]
    pub hose_length_mm: Option<f64>,
    /// When it was new.
    #[serde(default)]
    pub hose_since: Option<jiff::civil::Date>,
    /// The gun above the vessel, as one usually works.
    #[serde(default)]
    pub lift_mm: Option<f64>,
    /// The gun.
    pub gun: String,
    /// Its class.
    pub class: GunClass,
    /// Inlet limit printed on gun or cap.
    #[serde(default)]
    pub printed_air_kpa: Option<f64>,
    /// Air it takes.
    #[serde(default)]
    pub air_nl_min: Option<f64>,
    /// Its air cannot be set: the fluid is cut instead.
    #[serde(default)]
    pub fixed_air: bool,
    /// It mixes inside its cap, which comes off for the stream.
    #[serde(default)]
    pub internal_mix: bool,
    /// Hole of the fitted nozzle.
    #[serde(default)]
    pub nozzle_mm: Option<f64>,
    /// What is stamped on the fitted cap.
    #[serde(default)]
    pub cap: Option<String>,
    /// Nozzles at hand.
    #[serde(default)]
    pub spare_mm: Vec<f64>,
    /// Code of the fitted airless tip.
    #[serde(default)]
    pub tip_code: Option<String>,
    /// Bore of the air hose.
    #[serde(default)]
    pub air_bore_mm: Option<f64>,
    /// Its length.
    #[serde(default)]
    pub air_length_mm: Option<f64>,
    /// What the compressor delivers.
    #[serde(default)]
    pub compressor_nl_min: Option<f64>,
    /// What stands before the regulators.
    #[serde(default)]
    pub supply_kpa: Option<f64>,
    /// New, and not flushed yet: no paint before that.
    #[serde(default)]
    pub unflushed: bool,
    /// School of its pattern ladder.
    #[serde(default)]
    pub ladder: LadderSchool,
    /// Most its catalyst air may be put to.
    #[serde(default)]
    pub catalyst_most_kpa: Option<f64>,
    /// Turns of the needle from shut at which the trigger opens it fully: its witness mark.
    #[serde(default)]
    pub needle_full_count: Option<f64>,
    /// Since when it is in use.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub since: Option<jiff::civil::Date>,
    /// The pieces it is put together from, by their place.
    #[serde(default)]
    #[schema(value_type = BTreeMap<String, Uuid>)]
    pub pieces: BTreeMap<PieceKind, Uuid>,
}

/// A rig as a batch has it: which, and how it stood then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChooseRig {
    /// Which.
    pub rig: Uuid,
    /// How it stands; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub fitted: Option<Rig>,
}

impl Rig {
    /// Checks every figure and what the kind needs, and returns it with its texts trimmed.
    ///
    /// **Rules:** a vessel whose rating or relief is not known is refused; relief lies at or under the rating; a pot with
    /// one regulator needs a shut-off in its air line. **Source:** common practice in the trade.
    /// **Errors:** a refusal naming the field.
    pub fn validate(mut self, tips: &[TipRow], prefs: Prefs) -> Result<Rig, Refusal> {
        self.name = check_name("name", &self.name)?;
        self.gun = check_text("gun", &self.gun, limits::NAME_CHARS)?;
        self.figures_in_limits(prefs)?;
        self.tip_code = self.tip_code.map(|t| t.trim().to_string()).filter(|t| !t.is_empty());
        self.cap = self.cap.filter(|t| !t.trim().is_empty()).map(|t| check_text("cap", &t, limits::LABEL_CHARS)).transpose()?;
        if let Some(code) = &self.tip_code {
            decode(code, tips)?;
        }
        self.needs(prefs)?;
        Ok(self)
    }

    /// Whether every figure is one of sense.
    ///
    /// **Errors:** a refusal naming the field.
    pub(super) fn figures_in_limits(&self, prefs: Prefs) -> Result<(), Refusal> {
        let figures = [
            (limits::RATING, "rating_kpa", self.rating_kpa),
            (limits::RATING, "relief_kpa", self.relief_kpa),
            (limits::RATING, "pump_most_kpa", self.pump_most_kpa),
            (limits::RATING, "pump_stands_kpa", self.pump_stands_kpa),
            (limits::RATING, "printed_air_kpa", self.printed_air_kpa),
            (limits::RATING, "catalyst_most_kpa", self.catalyst_most_kpa),
            (limits::AIR_PRESSURE, "supply_kpa", self.supply_kpa),
            (limits::AMOUNT, "fill_ml", self.fill_ml),
            (limits::HOSE_BORE, "hose_bore_mm", self.hose_bore_mm),
            (limits::LINE_LENGTH, "hose_length_mm", self.hose_length_mm),
            (limits::LIFT, "lift_mm", self.lift_mm),
            (limits::NOZZLE, "nozzle_mm", self.nozzle_mm),
            (limits::HOSE_BORE, "air_bore_mm", self.air_bore_mm),
            (limits::LINE_LENGTH, "air_length_mm", self.air_length_mm),
            (limits::AIR_FLOW, "air_nl_min", self.air_nl_min),
            (limits::AIR_FLOW, "compressor_nl_min", self.compressor_nl_min),
            (limits::TURNS, "needle_full_count", self.needle_full_count),
        ];
        for (limit, field, value) in figures {
            limit.check_optional(field, value, prefs)?;
        }
        for (i, mm) in self.spare_mm.iter().enumerate() {
            limits::NOZZLE.check(&format!("spare_mm[{i}]"), *mm, prefs)?;
        }
        Ok(())
    }

    fn needs(&self, prefs: Prefs) -> Result<(), Refusal> {
        let at = |field: &str, text: &str| Err(Refusal::bad_input("rig-needs", field, text));
        if self.kind.has_vessel() {
            let Some(rating) = self.rating_kpa else {
                return at("rating_kpa", "What is this vessel rated for? Without its plate nobody puts it under pressure.");
            };
            let Some(relief) = self.relief_kpa else {
                return at("relief_kpa", "At what does its own relief valve open? Without one nobody puts it under pressure.");
            };
            if is_over(relief, rating) {
                return Err(Refusal::bad_input(
                    "relief-over-rating",
                    "relief_kpa",
                    format!("The relief opens over the rating of {}.", show(rating, QuantityKind::Pressure, prefs).text),
                ));
            }
            if !self.two_regulators && !self.shut_off {
                return at("shut_off", "A pot with one regulator needs a shut-off in its air line.");
            }
        }
        if self.kind.has_hose() && (self.hose_bore_mm.is_none() || self.hose_length_mm.is_none()) {
            let field = if self.hose_bore_mm.is_none() { "hose_bore_mm" } else { "hose_length_mm" };
            return at(field, "Bore and length of the fluid hose are needed.");
        }
        if self.kind.is_modelled() && self.nozzle_mm.is_none() {
            return at("nozzle_mm", "The hole of the fitted nozzle is needed.");
        }
        Ok(())
    }

    /// The most its vessel may be put under: the lower of rating and relief.
    ///
    /// **Formula:** `min(rating, relief, pump)` of those that are written. **Units:** kPa. **Source:** the plates.
    pub fn most_kpa(&self) -> Option<f64> {
        [self.rating_kpa, self.relief_kpa, self.pump_most_kpa].into_iter().flatten().min_by(f64::total_cmp)
    }

    /// The fluid line, where its physics holds.
    pub fn line(&self) -> Option<FluidLine> {
        if !self.kind.is_modelled() {
            return None;
        }
        Some(FluidLine {
            hose_bore_mm: self.hose_bore_mm?,
            hose_length_mm: self.hose_length_mm?,
            lift_mm: self.lift_mm.unwrap_or(0.0),
            nozzle_mm: self.nozzle_mm?,
        })
    }

    /// Most fluid pressure that plate, relief, pump and class allow.
    ///
    /// **Formula:** `min` of [`Rig::most_kpa`] and
    /// [`GunClass::fluid_most_kpa`](crate::atomizing::classes::GunClass::fluid_most_kpa). **Units:** kPa. **Source:** as there.
    pub fn fluid_most_kpa(&self) -> Option<f64> {
        let class = if self.kind == RigKind::Airless { self.class.fluid_most_kpa() } else { None };
        [self.most_kpa(), class].into_iter().flatten().min_by(f64::total_cmp)
    }

    /// Heavy-bodied material: the declared exception to the usual pressures.
    pub fn is_heavy_bodied(&self) -> bool {
        matches!(self.class, GunClass::Texture | GunClass::Filler)
    }

    /// What it sprays is judged by the eye: textures, and films too thin for a comb.
    pub fn is_judged_by_eye(&self) -> bool {
        matches!(self.class, GunClass::Texture | GunClass::ReleaseFilm)
    }

    /// The air hose and what flows through it.
    ///
    /// **Units:** mm, NL/min. **Source:** what was put down. **Rule:** all three, or nothing.
    pub fn air(&self) -> Option<(AirHose, f64)> {
        Some((AirHose { bore_mm: self.air_bore_mm?, length_mm: self.air_length_mm? }, self.air_nl_min?))
    }

    /// What is short of it before any pressure: worst first.
    pub fn troubles(&self, prefs: Prefs) -> Vec<String> {
        let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
        let mut found = Vec::new();
        if self.unflushed {
            found.push("New, and not flushed yet: flush it and tick so in its book before any paint.".into());
        }
        if let (Some(gives), Some(takes)) = (self.compressor_nl_min, self.air_nl_min)
            && gives < takes
        {
            found.push(format!(
                "The gun takes {} and the compressor gives {}: its pressure will sink while you spray.",
                say(takes, QuantityKind::AirFlow),
                say(gives, QuantityKind::AirFlow)
            ));
        }
        if self.kind == RigKind::Pot && !self.vent_valve {
            found.push("This pot has no valve to vent by: it is vented at its relief ring, and the gauge looked at.".into());
        }
        if self.internal_mix {
            found.push("This gun mixes inside its cap: the cap comes off for the stream.".into());
        }
        found
    }
}

/// A piece of a rig that was exchanged.
#[derive(Debug, Clone, PartialEq)]
pub struct Exchanged {
    /// When.
    pub at: Timestamp,
    /// What, in words that end a sentence.
    pub what: String,
}

/// A pressure is more than a rig bears: nobody may.
pub fn may_press(rig: &Rig, field: &str, kpa: f64, prefs: Prefs) -> Result<(), Refusal> {
    if let Some(most) = rig.fluid_most_kpa().filter(|most| rig.most_kpa() != Some(*most) && is_over(kpa, *most)) {
        let text = format!(
            "{} is over the {} that a gun of this class takes: {}. What wants more is another class of rig.",
            show(kpa, QuantityKind::Pressure, prefs).text,
            show(most, QuantityKind::Pressure, prefs).text,
            rig.class.word()
        );
        return Err(Refusal::stop("over-class", text).at(field));
    }
    match rig.most_kpa().filter(|most| is_over(kpa, *most)) {
        Some(most) => {
            let mut stop = Refusal::stop(
                "over-rating",
                format!(
                    "{} is over the {} {} bears. Never over it, and never with another relief valve than its own.",
                    show(kpa, QuantityKind::Pressure, prefs).text,
                    show(most, QuantityKind::Pressure, prefs).text,
                    if rig.kind == RigKind::TwinPots {
                        "either of these pots".into()
                    } else {
                        format!("this {}", rig.kind.word())
                    }
                ),
            );
            stop.field = Some(field.into());
            Err(stop)
        }
        None => Ok(()),
    }
}
