//! Set: the rig chosen, and a try of pressure with all that was set.

use super::{Asked, Statement, Told, everyone, stamp};
use crate::atomizing::classes::{AirRead, ReadAt, ReadHow};
use crate::atomizing::fan::CapTurn;
use crate::atomizing::ladder::Pattern;
use crate::batch::Entry;
use crate::batch::beside::Neighbour;
use crate::batch::record::Record;
use crate::batch::rig_proposed::rig_proposed;
use crate::delivery::viscosity::FlowCup;
use crate::limits::{self, check_text};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::rigs::{ChooseRig, Rig, RigKind, may_press};
use crate::stores::Attached;
use crate::verdict::is_over;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

/// Pressures and stream of one try, with every knob that is a setting.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetUp {
    /// Fluid pressure at the pot, or at the pump's air motor; none where the gun's own cup feeds it.
    #[serde(default)]
    pub pot_kpa: Option<f64>,
    /// Fluid pressure at the pot of B, on twin pots: the one above is that of A.
    #[serde(default)]
    pub b_kpa: Option<f64>,
    /// Atomizing pressure.
    #[serde(default)]
    pub atomizing_kpa: Option<f64>,
    /// Length at which the stream bends.
    #[serde(default)]
    pub stream_mm: Option<f64>,
    /// Where the air was read.
    #[serde(default)]
    pub air_at: Option<ReadAt>,
    /// How it was read.
    #[serde(default)]
    pub air_how: Option<ReadHow>,
    /// Catalyst air.
    #[serde(default)]
    pub catalyst_kpa: Option<f64>,
    /// Turns of the fan knob from shut.
    #[serde(default)]
    pub fan_turns_count: Option<f64>,
    /// Turns of the fluid needle from shut.
    #[serde(default)]
    pub needle_turns_count: Option<f64>,
    /// Air at the cap, by a test cap; the figure above is then that of the inlet.
    #[serde(default)]
    pub cap_kpa: Option<f64>,
    /// What a pump stood at, before the regulator of its fluid.
    #[serde(default)]
    pub supply_kpa: Option<f64>,
    /// Turns of the valve of A from shut, on twin pots.
    #[serde(default)]
    pub a_valve_turns_count: Option<f64>,
    /// Turns of the valve of B from shut.
    #[serde(default)]
    pub b_valve_turns_count: Option<f64>,
    /// Which of two streams flowed, on twin pots.
    #[serde(default)]
    pub flowed: Option<Flowed>,
    /// What the pattern looked like.
    #[serde(default)]
    pub pattern: Option<Pattern>,
    /// A flow cup that was run; since cups have an entry of their own, only in older logs.
    #[serde(default)]
    pub cup: Option<FlowCup>,
    /// How long it ran.
    #[serde(default)]
    pub run_cup_s: Option<f64>,
    /// The step of the coat these settings are for, as the sheet names it: steps keep the fluid pressure and change the air.
    #[serde(default)]
    pub step: Option<String>,
    /// Refinement air, turns from shut: quarters.
    #[serde(default)]
    pub refine_turns_count: Option<f64>,
    /// What a lop-sided pattern did when the cap was turned half round.
    #[serde(default)]
    pub cap: Option<CapTurn>,
    /// The abrasive paper its texture looked like.
    #[serde(default)]
    pub texture_grit_count: Option<f64>,
    /// How long after spraying the texture was looked at.
    #[serde(default)]
    pub looked_after_s: Option<f64>,
    /// A picture of the pattern.
    #[serde(default)]
    pub photo: Option<Attached>,
    /// What the pot's transmitter read then; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub gauge_pot_kpa: Option<f64>,
    /// What the gun's transmitter read then; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub gauge_gun_kpa: Option<f64>,
}

/// What the fluid pressure of the rig that is on stands at, in the log.
fn driven_by(told: &Told<'_>) -> &'static str {
    match told.record.rig().map(|rig| rig.kind) {
        Some(RigKind::Airless | RigKind::GelCoatMachine) => "Pump",
        Some(RigKind::Pump) => "Fluid",
        Some(RigKind::Pot | RigKind::TwinPots | RigKind::GunCup) | None => "Pot pressure",
    }
}

/// Which streams of a twin feed were looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Flowed {
    /// A, with B shut.
    #[strum(serialize = "A alone")]
    A,
    /// B, with A shut.
    #[strum(serialize = "B alone")]
    B,
    /// Both as they are sprayed.
    #[strum(serialize = "both together")]
    Both,
}

impl Worded for Flowed {}

impl SetUp {
    /// What drives the fluid; nothing does in the gun's own cup.
    ///
    /// **Units:** kPa, gauge. **Rule:** the pot's pressure, else none.
    pub fn fluid_kpa(&self) -> f64 {
        self.pot_kpa.unwrap_or(0.0)
    }

    /// What drives the stream that was looked at: of B alone the pressure of B.
    ///
    /// **Units:** kPa, gauge. **Rule:** [`SetUp::fluid_kpa`], of B alone what stands at B.
    pub fn driving_kpa(&self) -> f64 {
        if self.flowed == Some(Flowed::B) { self.b_kpa.unwrap_or(0.0) } else { self.fluid_kpa() }
    }

    /// Nothing was set and nothing seen.
    fn says_nothing(&self) -> bool {
        let figures = [
            self.pot_kpa,
            self.b_kpa,
            self.atomizing_kpa,
            self.stream_mm,
            self.catalyst_kpa,
            self.cap_kpa,
            self.supply_kpa,
            self.a_valve_turns_count,
            self.b_valve_turns_count,
            self.fan_turns_count,
            self.needle_turns_count,
            self.refine_turns_count,
            self.texture_grit_count,
        ];
        figures.iter().all(Option::is_none) && self.pattern.is_none() && self.cup.is_none() && self.photo.is_none()
    }

    /// Its air in words, with where and how it was read; a comma before each part.
    fn air_words(&self, told: &Told<'_>) -> String {
        let say = |kpa| told.say(kpa, QuantityKind::Pressure);
        let read: Vec<&str> = [self.air_at.map(Worded::word), self.air_how.map(Worded::word)].into_iter().flatten().collect();
        let read = if read.is_empty() { String::new() } else { format!(" ({})", read.join(", ")) };
        let air = self.atomizing_kpa.map_or(String::new(), |kpa| format!(", air {}{read}", say(kpa)));
        let cap = self.cap_kpa.map_or(String::new(), |kpa| format!(", {} at the cap", say(kpa)));
        let catalyst = self.catalyst_kpa.map_or(String::new(), |kpa| format!(", catalyst air {}", say(kpa)));
        air + &cap + &catalyst
    }

    /// Every knob and valve, in turns from shut.
    pub fn knobs(&self) -> [(&'static str, Option<f64>); 5] {
        [
            ("fan", self.fan_turns_count),
            ("needle", self.needle_turns_count),
            ("refinement", self.refine_turns_count),
            ("valve of A", self.a_valve_turns_count),
            ("valve of B", self.b_valve_turns_count),
        ]
    }

    /// Its knobs in words, a comma before each.
    fn knob_words(&self, told: &Told<'_>) -> String {
        let said = self.knobs().into_iter().filter_map(|(what, turns)| Some((what, turns?)));
        said.map(|(what, turns)| format!(", {what} {} turns", told.say(turns, QuantityKind::Count))).collect()
    }

    /// Its air as it can be judged with this rig; `None` where no air was read.
    pub fn air(&self, rig: &Rig) -> Option<AirRead> {
        let kpa = self.atomizing_kpa?;
        let at_gun_kpa = rig.air().and_then(|(hose, nl_min)| hose.at_gun_kpa(kpa, nl_min).ok());
        Some(AirRead { kpa, at: self.air_at, how: self.air_how, printed_kpa: rig.printed_air_kpa, at_gun_kpa })
    }
}

impl Statement for ChooseRig {
    const WAITS_AS: Option<&'static str> = Some("Rig chosen");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        match &self.fitted {
            // Its tip was read with the shop's own table when it was fitted; a batch keeps the code.
            Some(rig) => Rig { tip_code: None, ..rig.clone() }.validate(&[], prefs).map(drop),
            None => Err(Refusal::bad_input("missing", "rig", "Which rig?")),
        }
    }

    /// No paint goes through a rig that is new and not flushed.
    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        match self.fitted.as_ref().filter(|rig| rig.unflushed) {
            Some(rig) => Err(Refusal::conflict(
                "new-rig",
                format!("{} is new and not flushed yet. Flush it, tick so in its book, then take it.", rig.name),
            )),
            None => Ok(()),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        if record.rig.as_ref().is_some_and(|had| had.it.rig != self.rig) {
            let name = self.fitted.as_ref().map_or(String::new(), |rig| rig.name.clone());
            record.rig_changes.push(stamp(entry, name));
        }
        record.rig = Some(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Rig: {}", self.fitted.as_ref().map_or(String::new(), |f| f.name.clone()))
    }
}

impl Statement for SetUp {
    const WAITS_AS: Option<&'static str> = Some("Try of pressure");
    const WHO: fn(Role) -> May = everyone;
    const NEEDS: &'static [Neighbour] = &[Neighbour::Rig, Neighbour::Set];

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        if self.says_nothing() {
            return Err(Refusal::bad_input("missing", "atomizing_kpa", "What was set, or what was seen?"));
        }
        limits::FLUID_PRESSURE.check_optional("pot_kpa", self.pot_kpa, prefs)?;
        limits::FLUID_PRESSURE.check_optional("b_kpa", self.b_kpa, prefs)?;
        limits::ATOMIZING_PRESSURE.check_optional("atomizing_kpa", self.atomizing_kpa, prefs)?;
        limits::ATOMIZING_PRESSURE.check_optional("catalyst_kpa", self.catalyst_kpa, prefs)?;
        limits::ATOMIZING_PRESSURE.check_optional("cap_kpa", self.cap_kpa, prefs)?;
        limits::FLUID_PRESSURE.check_optional("supply_kpa", self.supply_kpa, prefs)?;
        limits::TURNS.check_optional("a_valve_turns_count", self.a_valve_turns_count, prefs)?;
        limits::TURNS.check_optional("b_valve_turns_count", self.b_valve_turns_count, prefs)?;
        limits::TURNS.check_optional("fan_turns_count", self.fan_turns_count, prefs)?;
        limits::TURNS.check_optional("needle_turns_count", self.needle_turns_count, prefs)?;
        limits::STREAM.check_optional("stream_mm", self.stream_mm, prefs)?;
        limits::TURNS.check_optional("refine_turns_count", self.refine_turns_count, prefs)?;
        limits::GRIT.check_optional("texture_grit_count", self.texture_grit_count, prefs)?;
        limits::HANDLING_TIME.check_optional("looked_after_s", self.looked_after_s, prefs)?;
        if let Some(step) = &self.step {
            check_text("step", step, limits::ADDITIVE_CHARS)?;
        }
        match (self.cup, self.run_cup_s) {
            (Some(cup), Some(cup_s)) => cup.mm2_s(cup_s, prefs).map(drop).map_err(|r| r.at("run_cup_s")),
            (None, Some(_)) => Err(Refusal::bad_input("missing", "cup", "Which cup ran?")),
            (_, None) => Ok(()),
        }
    }

    /// Nobody presses a rig over what it bears.
    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let prefs = asked.prefs();
        // A page takes the rig it opened on with the first try, so a try without one is judged by that rig already.
        let rig = asked.case.rig().or_else(|| Some(&rig_proposed(asked.case)?.at_hand.rig));
        // B of a twin feed alone says its own pressure.
        let b_alone = self.flowed == Some(Flowed::B) && rig.is_some_and(|rig| rig.kind == RigKind::TwinPots);
        if b_alone && self.b_kpa.is_none() {
            return Err(Refusal::bad_input("missing", "b_kpa", "At what pressure of B? What it stands at, or 0."));
        }
        // Only of a gun's own cup is it known that nothing presses the paint.
        if self.pot_kpa.is_none() && !b_alone && rig.is_none_or(|rig| rig.kind.is_pressed()) {
            return Err(Refusal::bad_input("missing", "pot_kpa", "At what fluid pressure? What it stands at, or 0."));
        }
        let Some(rig) = rig else {
            limits::POT_PRESSURE.check_optional("b_kpa", self.b_kpa, prefs)?;
            return limits::POT_PRESSURE.check_optional("pot_kpa", self.pot_kpa, prefs).map(drop);
        };
        if let Some(kpa) = self.pot_kpa {
            may_press(rig, "pot_kpa", kpa, prefs)?;
        }
        for (field, kpa) in [("b_kpa", self.b_kpa), ("supply_kpa", self.supply_kpa)] {
            kpa.map_or(Ok(()), |kpa| may_press(rig, field, kpa, prefs))?;
        }
        let say = |v: f64| show(v, QuantityKind::Pressure, prefs).text;
        if let Some(over) = self.air(rig).and_then(|read| read.over(rig.class)) {
            let (air, most) = (say(over.kpa), say(over.most_kpa));
            let (code, text) = if over.printed {
                (
                    "over-printed",
                    format!("{air} of air is over the {most} printed on this gun. Never over it: look at cap, hose and fluid."),
                )
            } else {
                let text = format!(
                    "{air} of air is over the {most} of a {} gun. Where the gun itself allows more, write its printed limit down at the rig.",
                    rig.class.word()
                );
                ("over-class", text)
            };
            return Err(Refusal::stop(code, text).at("atomizing_kpa"));
        }
        if let Some((kpa, most)) = self.cap_kpa.zip(rig.class.cap_most_kpa()).filter(|(kpa, most)| is_over(*kpa, *most)) {
            let text = format!(
                "{} at the cap is over the {} of a {} gun. Less air; the inlet is another figure.",
                say(kpa),
                say(most),
                rig.class.word()
            );
            return Err(Refusal::stop("over-class", text).at("cap_kpa"));
        }
        match (self.catalyst_kpa, rig.catalyst_most_kpa) {
            (Some(kpa), Some(most)) if is_over(kpa, most) => {
                let text = format!("{} is over the {} of the catalyst regulator's plate. Never over it.", say(kpa), say(most));
                Err(Refusal::stop("over-rating", text).at("catalyst_kpa"))
            }
            // On the plate is not over it. A plate nobody wrote refuses no fact: it is marked (`catalyst-plate-unknown`).
            (Some(_), Some(_) | None) | (None, _) => Ok(()),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.set_ups.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let say = |kpa| told.say(kpa, QuantityKind::Pressure);
        let stream = match (self.stream_mm, self.pattern) {
            (Some(mm), _) => format!(", stream {}", told.say(mm, QuantityKind::Length)),
            (None, Some(pattern)) => format!(", {}", pattern.word()),
            (None, None) => ", no stream read".to_string(),
        };
        let of = self.flowed.map_or(String::new(), |flowed| format!(" of {}", flowed.word()));
        let step = self.step.as_deref().map_or(String::new(), |step| format!(" ({step})"));
        let b = |and: &str| self.b_kpa.map_or(String::new(), |kpa| format!("{and}{} on B", say(kpa)));
        let supply = self.supply_kpa.map_or(String::new(), |kpa| format!(" behind {} at the pump", say(kpa)));
        let (air, knobs) = (self.air_words(told), self.knob_words(told));
        match self.pot_kpa {
            Some(kpa) => format!("{} {}{}{supply}{stream}{of}{air}{knobs}{step}", driven_by(told), say(kpa), b(" and ")),
            None if self.b_kpa.is_some() => format!("Pot pressure {}{stream}{of}{air}{knobs}{step}", b("")),
            None => {
                let seen = self.pattern.map_or(String::new(), |p| format!(", {}", p.word()));
                let air = if air.is_empty() { ", no air read".into() } else { air };
                format!("Gun cup: {}{seen}{knobs}{step}", &air[2..])
            }
        }
    }
}
