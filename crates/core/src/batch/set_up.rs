//! What entries say at Set: a try of pressure with all that was set, and what the gun delivered.

use super::Record;
use super::record::Stamped;
use crate::atomizing::classes::{AirRead, ReadAt, ReadHow};
use crate::atomizing::fan::CapTurn;
use crate::atomizing::ladder::Pattern;
use crate::care::looked_at;
use crate::delivery::viscosity::{FlowCup, STEEPNESS_K, aged, at_temperature, by_cup_mpa_s, steepness_k};
use crate::delivery::{BEND_MM, Eye, Fluid, FluidLine, calibrate, stream_verdict};
use crate::limits;
use crate::mixing;
use crate::quantity::{Kind as Quantity, Prefs, show};
use crate::refusal::Refusal;
use crate::rigs::{Rig, RigKind, may_press};
use crate::schedule::GoodSetUp;
use crate::stores::Attached;
use crate::verdict::{Measured, Verdict, is_over};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Pressures and stream of one try, with every knob that is a setting.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetUp {
    /// Fluid pressure at the pot, or at the pump's air motor.
    pub pot_kpa: f64,
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
    /// What the pattern looked like.
    #[serde(default)]
    pub pattern: Option<Pattern>,
    /// A flow cup that was run; since cups have an entry of their own, only in older logs.
    #[serde(default)]
    pub cup: Option<FlowCup>,
    /// How long it ran.
    #[serde(default)]
    pub run_cup_s: Option<f64>,
    /// The step of the coat these settings are for: steps keep the fluid pressure and change the air.
    #[serde(default)]
    pub step: Option<CoatStep>,
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
    pub gauge_pot_kpa: Option<f64>,
    /// What the gun's transmitter read then; the server fills it in.
    #[serde(default)]
    pub gauge_gun_kpa: Option<f64>,
}

/// A step of a coat.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CoatStep {
    /// A dry first one.
    Tack,
    /// The wet one after it.
    Wet,
    /// A thin ground.
    Ground,
    /// The pattern on it.
    Pattern,
    /// Across the one before.
    Cross,
}

impl CoatStep {
    /// Every step.
    pub const ALL: [CoatStep; 5] = [CoatStep::Tack, CoatStep::Wet, CoatStep::Ground, CoatStep::Pattern, CoatStep::Cross];

    /// In words.
    pub fn word(self) -> &'static str {
        match self {
            CoatStep::Tack => "tack",
            CoatStep::Wet => "wet",
            CoatStep::Ground => "ground",
            CoatStep::Pattern => "pattern",
            CoatStep::Cross => "cross",
        }
    }
}

/// A step of the stream test, ticked.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetStep {
    /// Its name.
    pub step: String,
}

impl SetUp {
    /// Its air as it can be judged with this rig; `None` where no air was read.
    pub fn air(&self, rig: &Rig) -> Option<AirRead> {
        let kpa = self.atomizing_kpa?;
        let at_gun_kpa = rig.air().and_then(|(hose, nl_min)| hose.at_gun_kpa(kpa, nl_min).ok());
        Some(AirRead { kpa, at: self.air_at, how: self.air_how, printed_kpa: rig.printed_air_kpa, at_gun_kpa })
    }
}

impl SetStep {
    /// What it is called, for any kind of rig.
    pub fn words(&self) -> &'static str {
        let all = RigKind::ALL.into_iter().flat_map(looked_at);
        all.filter(|(id, _)| *id == self.step).map(|(_, word)| *word).next().unwrap_or("A step")
    }
}

/// A flow cup that was run, at the paint's own temperature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CupRun {
    /// Which cup.
    pub cup: FlowCup,
    /// How long it ran.
    pub run_cup_s: f64,
}

/// What the gun delivered at full trigger.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FlowCatch {
    /// At this pressure.
    pub pot_kpa: f64,
    /// What was caught, weighed.
    #[serde(default)]
    pub caught_g: Option<f64>,
    /// What was caught, measured.
    #[serde(default)]
    pub caught_ml: Option<f64>,
    /// How long.
    pub caught_watch_s: f64,
}

impl FlowCatch {
    /// The flow; of a weighed catch with the density of the paint.
    pub fn flow_ml_min(&self, density_kg_l: f64) -> f64 {
        let ml = self.caught_ml.or(self.caught_g.map(|g| g / density_kg_l)).unwrap_or(0.0);
        ml / self.caught_watch_s * 60.0
    }
}

/// Well formed, whatever the rig.
pub(super) fn well_formed(s: &SetUp, prefs: Prefs) -> Result<(), Refusal> {
    limits::FLUID_PRESSURE.check("pot_kpa", s.pot_kpa, prefs)?;
    limits::ATOMIZING_PRESSURE.check_optional("atomizing_kpa", s.atomizing_kpa, prefs)?;
    limits::ATOMIZING_PRESSURE.check_optional("catalyst_kpa", s.catalyst_kpa, prefs)?;
    limits::TURNS.check_optional("fan_turns_count", s.fan_turns_count, prefs)?;
    limits::TURNS.check_optional("needle_turns_count", s.needle_turns_count, prefs)?;
    limits::STREAM.check_optional("stream_mm", s.stream_mm, prefs)?;
    limits::TURNS.check_optional("refine_turns_count", s.refine_turns_count, prefs)?;
    limits::GRIT.check_optional("texture_grit_count", s.texture_grit_count, prefs)?;
    limits::HANDLING_TIME.check_optional("looked_after_s", s.looked_after_s, prefs)?;
    match (s.cup, s.run_cup_s) {
        (Some(cup), Some(cup_s)) => {
            cup.mm2_s(cup_s, prefs).map(|_| ()).map_err(|r| Refusal { field: Some("run_cup_s".into()), ..r })
        }
        (None, Some(_)) => Err(Refusal::bad_input("missing", "cup", "Which cup ran?")),
        _ => Ok(()),
    }
}

/// A step of some rig's stream test.
pub(super) fn known_step(s: &SetStep) -> Result<(), Refusal> {
    let known = RigKind::ALL.into_iter().flat_map(looked_at).any(|(id, _)| *id == s.step);
    if known { Ok(()) } else { Err(Refusal::bad_input("unknown", "step", "There is no such step.")) }
}

/// The cup may run so long.
pub(super) fn ran(c: &CupRun, prefs: Prefs) -> Result<(), Refusal> {
    c.cup.mm2_s(c.run_cup_s, prefs).map(|_| ()).map_err(|r| r.at("run_cup_s"))
}

/// No paint goes through a rig that is new and not flushed.
///
/// **Errors:** a conflict `new-rig`, with the way out.
pub(super) fn may_choose(r: &crate::rigs::ChooseRig) -> Result<(), Refusal> {
    match r.fitted.as_ref().filter(|rig| rig.unflushed) {
        Some(rig) => Err(Refusal::conflict(
            "new-rig",
            format!("{} is new and not flushed yet. Flush it, tick so in its book, then take it.", rig.name),
        )),
        None => Ok(()),
    }
}

/// Well formed: something was caught, in some time.
pub(super) fn caught(c: &FlowCatch, prefs: Prefs) -> Result<(), Refusal> {
    limits::FLUID_PRESSURE.check("pot_kpa", c.pot_kpa, prefs)?;
    limits::CATCH_TIME.check("caught_watch_s", c.caught_watch_s, prefs)?;
    limits::SCALE_READING.check_optional("caught_g", c.caught_g, prefs)?;
    limits::AMOUNT.check_optional("caught_ml", c.caught_ml, prefs)?;
    match (c.caught_g, c.caught_ml) {
        (Some(g), None) if g <= 0.0 => Err(Refusal::bad_input("nothing-caught", "caught_g", "This catch is empty.")),
        (Some(_), None) | (None, Some(_)) => Ok(()),
        (None, None) => Err(Refusal::bad_input("missing", "caught_g", "What was caught? Weighed, or measured in a cup.")),
        (Some(_), Some(_)) => Err(Refusal::bad_input("one-of-two", "caught_ml", "Weighed or measured: one of the two.")),
    }
}

/// Nobody presses a rig over what it bears; a catch that no paint explains is said.
pub(super) fn may_set(record: &Record, s: &SetUp, prefs: Prefs) -> Result<(), Refusal> {
    let Some(rig) = record.rig() else { return limits::POT_PRESSURE.check("pot_kpa", s.pot_kpa, prefs).map(|_| ()) };
    may_press(rig, "pot_kpa", s.pot_kpa, prefs)?;
    if let Some(over) = s.air(rig).and_then(|read| read.over(rig.class)) {
        let say = |v: f64| show(v, Quantity::Pressure, prefs).text;
        let (air, most) = (say(over.kpa), say(over.most_kpa));
        let (code, text) = if over.printed {
            (
                "over-printed",
                format!("{air} of air is over the {most} printed on this gun. Never over it: look at cap, hose and fluid."),
            )
        } else {
            let text = format!(
                "{air} of air is over the {most} of a {} gun. Where the gun itself allows more, put its printed limit down on the rig.",
                rig.class.word()
            );
            ("over-class", text)
        };
        return Err(Refusal::stop(code, text).at("atomizing_kpa"));
    }
    match (s.catalyst_kpa, rig.catalyst_most_kpa) {
        (Some(kpa), Some(most)) if is_over(kpa, most) => {
            let say = |v: f64| show(v, Quantity::Pressure, prefs).text;
            let text = format!("{} is over the {} of the catalyst regulator's plate. Never over it.", say(kpa), say(most));
            Err(Refusal::stop("over-rating", text).at("catalyst_kpa"))
        }
        _ => Ok(()),
    }
}

/// Nobody catches both streams at more than the rig bears.
pub(super) fn may_catch_both(record: &Record, c: &super::payload::Catch, prefs: Prefs) -> Result<(), Refusal> {
    let Some(rig) = record.rig() else { return Ok(()) };
    for (field, kpa) in [("a_kpa", c.a_kpa), ("b_kpa", c.b_kpa)] {
        if let Some(kpa) = kpa {
            may_press(rig, field, kpa, prefs)?;
        }
    }
    Ok(())
}

/// As [`may_set`], and the catch must be one the line can give.
pub(super) fn may_catch(record: &Record, c: &FlowCatch, now: Timestamp, prefs: Prefs) -> Result<(), Refusal> {
    let Some(rig) = record.rig() else {
        return Err(Refusal::conflict("no-rig", "Choose the rig first: a catch is reckoned with its hose and nozzle."));
    };
    may_press(rig, "pot_kpa", c.pot_kpa, prefs)?;
    if let (Some(line), Some(paint)) = (rig.line(), record.paint(now)) {
        calibrate::viscosity_mpa_s(&line, &paint.fluid, c.pot_kpa, c.flow_ml_min(paint.fluid.density_kg_l)).map_err(|r| {
            let field = if c.caught_g.is_some() { "caught_g" } else { "caught_ml" };
            Refusal { field: Some(field.into()), ..r }
        })?;
    }
    Ok(())
}

/// Catches of one person with one gun that calibrate an eye; from memory.
const CALIBRATED_BY: usize = 3;
/// No eye reads better than this part; from memory.
const EYE_LEAST: f64 = 0.05;
/// How far a caught flow may be off, as a part of the stream it is turned to: stopwatch and scale; from memory.
const CATCH_OFF: f64 = 0.03;

/// How the stream of a set-up stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StreamStand {
    /// All it may be.
    pub length_mm: Measured,
    /// Against the band.
    pub verdict: Verdict,
    /// By a caught flow, not by an eye.
    pub by_catch: bool,
}

/// Falls that an eye may call a bend; outside them catch or stream is wrong.
const BENDS_MM: std::ops::RangeInclusive<f64> = 2.0..=250.0;

/// What a person and a gun call a bend.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SeenBend {
    /// The gun.
    pub gun: String,
    /// Whose eye.
    pub by: Uuid,
    /// The fall.
    pub mm: f64,
}

/// Where a viscosity is known from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum KnownFrom {
    /// A catch at the gun.
    Catch,
    /// A flow cup.
    Cup,
    /// The sheet.
    Sheet,
    /// Said for a what-if.
    Asked,
}

impl KnownFrom {
    /// In words.
    pub fn word(self) -> &'static str {
        match self {
            KnownFrom::Catch => "by the catch",
            KnownFrom::Cup => "by the cup",
            KnownFrom::Sheet => "by the sheet, rougher",
            KnownFrom::Asked => "as asked",
        }
    }
}

/// The paint as it is taken to flow.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Paint {
    /// What flows.
    pub fluid: Fluid,
    /// Where that is known from.
    pub from: KnownFrom,
    /// Temperature it is reckoned at.
    pub temp_c: f64,
    /// Age of the pot it is reckoned at.
    pub age: f64,
    /// The thin paint, running turbulent, that would have given the same catch.
    pub or_thin_mpa_s: Option<f64>,
}

impl Record {
    /// The rig chosen last.
    pub fn rig(&self) -> Option<&Rig> {
        self.rig.as_ref().and_then(|r| r.it.fitted.as_ref())
    }

    /// When a try or a catch put the rig under pressure last.
    pub fn pressed_at(&self) -> Option<Timestamp> {
        let tries = self.set_ups.iter().filter(|s| s.it.pot_kpa > 0.0).map(|s| s.at);
        tries.chain(self.flow_catches.iter().filter(|c| c.it.pot_kpa > 0.0).map(|c| c.at)).max()
    }

    /// The fall at which the person of the last stream calls it bent, with this gun: known where a flow was caught.
    ///
    /// **Formula:** [`calibrate::bend_mm`] of the stream seen and the speed the caught paint leaves with. **Units:** mm.
    /// **Source:** as that. `None` without a catch, or where the two together make no sense.
    pub fn seen_bend(&self) -> Option<SeenBend> {
        let (line, rig) = (self.rig()?.line()?, self.rig()?);
        self.flow_catches.last()?;
        let seen = self.set_ups.iter().rev().find(|s| s.it.stream_mm.is_some_and(|mm| mm > 0.0) && s.it.pot_kpa > 0.0)?;
        let paint = self.paint(seen.at).filter(|p| p.from == KnownFrom::Catch)?;
        let speed = line.at(&paint.fluid, seen.it.pot_kpa).speed_m_s;
        let mm = calibrate::bend_mm(seen.it.stream_mm?, speed);
        BENDS_MM.contains(&mm).then(|| SeenBend { gun: rig.gun.clone(), by: seen.who, mm })
    }

    /// Every bend known of a person with today's gun, newest first: where a stream was seen and its flow caught.
    fn bends_of(&self, who: Uuid) -> Vec<f64> {
        let gun = self.rig().map(|r| r.gun.as_str());
        let own = |b: &&SeenBend| b.by == who && Some(b.gun.as_str()) == gun;
        let here = self.seen_bend();
        here.iter().chain(&self.beside.bends).filter(own).map(|b| b.mm).collect()
    }

    /// The fall at which a person calls the stream of today's gun bent: the geometric mean of three or more caught flows, else
    /// an inch. One look beside one catch is as wrong as that look was.
    pub fn bend_mm(&self, who: Uuid) -> f64 {
        let known = self.bends_of(who);
        if known.len() < CALIBRATED_BY {
            return BEND_MM;
        }
        (known.iter().map(|mm| mm.ln()).sum::<f64>() / known.len() as f64).exp()
    }

    /// How well a person's eye reads the stream of today's gun: half an inch until three catches show better or worse.
    ///
    /// **Formula:** lengths go with the root of the bend, so the part is the widest `√(s/s̄) − 1` of the bends known; never under
    /// a twentieth. **Source:** derived; the least from memory.
    pub fn eye(&self, who: Uuid) -> Eye {
        let known = self.bends_of(who);
        if known.len() < CALIBRATED_BY {
            return Eye::USUAL;
        }
        let mean = self.bend_mm(who);
        let widest = known.iter().map(|mm| ((mm / mean).sqrt() - 1.0).abs());
        Eye::Part(widest.fold(EYE_LEAST, f64::max))
    }

    /// How the stream stands: by the flow that was caught where one was, else as far as the eye that saw it can tell.
    /// `None` before either.
    ///
    /// **Rule:** a caught flow says what leaves the nozzle, so what stream it is; it decides where the eye cannot.
    /// **Units:** mm. **Source:** derived; how far a catch is off, from memory.
    pub fn stream_stand(&self, now: Timestamp) -> Option<StreamStand> {
        let school = self.aim()?.sheet.stream;
        let last = self.set_ups.last()?;
        // A stream seen stands for the pressure it was seen at, with this rig, whatever was written of the air since.
        let chosen = self.rig.as_ref().map_or(0, |r| r.seq);
        let same = |s: &Stamped<SetUp>| (s.it.pot_kpa - last.it.pot_kpa).abs() <= 1e-3 * last.it.pot_kpa;
        let seen = self.set_ups.iter().rev().find(|s| s.it.stream_mm.is_some() && s.seq > chosen && same(s));
        let known = self.rig().and_then(Rig::line).zip(self.paint(now)).filter(|(_, p)| p.from == KnownFrom::Catch);
        if let Some((line, paint)) = known.filter(|_| last.it.pot_kpa > 0.0) {
            let mm = line.at(&paint.fluid, last.it.pot_kpa).stream_mm(BEND_MM);
            let length_mm = Measured::pm(mm, mm * CATCH_OFF);
            return Some(StreamStand { length_mm, verdict: stream_verdict(school, length_mm), by_catch: true });
        }
        let seen = seen?;
        let length_mm = self.eye(seen.who).interval(seen.it.stream_mm?);
        Some(StreamStand { length_mm, verdict: stream_verdict(school, length_mm), by_catch: false })
    }

    /// What was good of the set-up: the last one, where its stream was in or its pattern even.
    ///
    /// **Rule:** the last entry of Set with its rig, and the material's temperature then. **Source:** common practice in the
    /// trade: what stood when the coat went on well is where the next one starts.
    pub fn good_set_up(&self) -> Option<(uuid::Uuid, GoodSetUp)> {
        let (aim, chosen, rig, last) = (self.aim()?, self.rig.as_ref()?, self.rig()?, self.set_ups.last()?);
        let stream = self.stream_stand(last.at).is_some_and(|s| s.verdict == Verdict::In);
        let even = last.it.pattern == Some(Pattern::Even);
        (stream || even).then(|| {
            let good = GoodSetUp {
                number: aim.number,
                pot_kpa: last.it.pot_kpa,
                atomizing_kpa: last.it.atomizing_kpa,
                stream_mm: last.it.stream_mm,
                temp_c: self.conditions_at(last.at).map(|c| c.it.material_c),
                nozzle_mm: rig.nozzle_mm,
                tip_code: rig.tip_code.clone(),
            };
            (chosen.it.rig, good)
        })
    }

    /// Finished density by the shares planned.
    pub fn density_kg_l(&self) -> Option<f64> {
        let shares = mixing::shares(&self.aim()?.sheet, self.thinner_pct());
        let (mass, volume) = shares.iter().fold((0.0, 0.0), |(m, v), s| (m + s.mass_g, v + s.volume));
        Some(mass / volume)
    }

    /// Temperature of the material and age of the pot on the gun, at an instant.
    fn warm_and_old(&self, at: Timestamp) -> (f64, f64) {
        let usual = self.aim().and_then(|b| b.sheet.viscosity_at_c.or(b.sheet.pot_life_at_c)).unwrap_or(20.0);
        let temp_c = self.conditions_at(at).map_or(usual, |c| c.it.material_c);
        // The pot that went on the gun last; before any did, the one mixed last.
        let live = self.charges.iter().filter(|c| c.closed.as_ref().is_none_or(|x| x.at > at));
        let mixed = live.filter(|c| c.combined().is_some_and(|t| t <= at));
        let on_gun = mixed.max_by_key(|c| (c.started.filter(|t| *t <= at), c.combined()));
        let age = on_gun.and_then(|c| self.clock(c, at)).map_or(0.0, |c| c.age.clamp(0.0, 1.0));
        (temp_c, age)
    }

    /// How steeply the sheet says this paint thins as it warms, in kelvin.
    ///
    /// **Formula:** [`steepness_k`] of its two points, else [`STEEPNESS_K`].
    pub fn steepness_k(&self) -> f64 {
        let Some(sheet) = self.aim().map(|a| &a.sheet) else { return STEEPNESS_K };
        let stated = sheet.viscosity_mpa_s.zip(sheet.viscosity_at_c);
        let warm = sheet.viscosity_warm_mpa_s.zip(sheet.viscosity_warm_at_c);
        stated.zip(warm).and_then(|(a, b)| steepness_k(a, b)).unwrap_or(STEEPNESS_K)
    }

    /// The paint, were it as thick as this now.
    pub fn paint_of(&self, viscosity_mpa_s: f64, now: Timestamp) -> Option<Paint> {
        let flow_index = self.aim()?.sheet.flow_index.unwrap_or(1.0);
        let fluid = Fluid { viscosity_mpa_s, density_kg_l: self.density_kg_l()?, flow_index };
        let (temp_c, age) = self.warm_and_old(now);
        Some(Paint { fluid, from: KnownFrom::Asked, temp_c, age, or_thin_mpa_s: None })
    }

    /// What the paint's viscosity is taken to be: the last catch, else the last cup, else the sheet; brought to the
    /// temperature and age of this instant. `None` where none of the three says anything.
    ///
    /// **Formula:** [`calibrate::viscosity_mpa_s`], [`by_cup_mpa_s`], [`at_temperature`], [`aged`]. **Units:** mPa·s.
    /// **Source:** as those.
    pub fn paint(&self, now: Timestamp) -> Option<Paint> {
        let sheet = &self.aim()?.sheet;
        let density_kg_l = self.density_kg_l()?;
        let flow_index = sheet.flow_index.unwrap_or(1.0);
        let stated = sheet.viscosity_mpa_s.zip(sheet.viscosity_at_c);
        let steep = self.steepness_k();
        let (temp_c, age) = self.warm_and_old(now);
        let fluid = |viscosity_mpa_s| Fluid { viscosity_mpa_s, density_kg_l, flow_index };
        let brought = |mpa_s: f64, at: Timestamp, from| {
            let (was_c, was_age) = self.warm_and_old(at);
            let now_mpa_s = at_temperature(mpa_s, was_c, temp_c, steep) * aged(1.0, age) / aged(1.0, was_age);
            Paint { fluid: fluid(now_mpa_s), from, temp_c, age, or_thin_mpa_s: None }
        };
        let by_catch = self.flow_catches.last().and_then(|c| {
            let line: FluidLine = self.rig()?.line()?;
            let guess = fluid(stated.map_or(100.0, |(mpa_s, _)| mpa_s));
            let flow = c.it.flow_ml_min(density_kg_l);
            let mpa_s = calibrate::viscosity_mpa_s(&line, &guess, c.it.pot_kpa, flow).ok()?;
            let thin = calibrate::thin_mpa_s(&line, &guess, c.it.pot_kpa, flow, mpa_s);
            Some((c.at, mpa_s, KnownFrom::Catch, thin))
        });
        // An older log has its cups among the tries.
        let older = self.set_ups.iter().filter_map(|s: &Stamped<SetUp>| Some((s.at, s.it.cup?, s.it.run_cup_s?)));
        let ran = older.chain(self.cup_runs.iter().map(|c| (c.at, c.it.cup, c.it.run_cup_s))).max_by_key(|(at, ..)| *at);
        let by_cup = ran.and_then(|(at, cup, run_cup_s)| {
            let mpa_s = by_cup_mpa_s(cup, run_cup_s, density_kg_l, Prefs::METRIC).ok()?;
            Some((at, mpa_s, KnownFrom::Cup, None))
        });
        if let Some((at, mpa_s, from, or_thin_mpa_s)) = by_catch.or(by_cup) {
            return Some(Paint { or_thin_mpa_s, ..brought(mpa_s, at, from) });
        }
        let (mpa_s, at_c) = stated?;
        let now_mpa_s = aged(at_temperature(mpa_s, at_c, temp_c, steep), age);
        Some(Paint { fluid: fluid(now_mpa_s), from: KnownFrom::Sheet, temp_c, age, or_thin_mpa_s: None })
    }
}
