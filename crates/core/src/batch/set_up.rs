//! What entries say at Set: a try of pressure with all that was set, and what the gun delivered.

use super::Record;
use super::record::Stamped;
use crate::atomizing::classes::{ReadAt, ReadHow};
use crate::atomizing::ladder::Pattern;
use crate::delivery::viscosity::{FlowCup, STEEPNESS_K, aged, at_temperature, by_cup_mpa_s, steepness_k};
use crate::delivery::{Fluid, FluidLine, calibrate};
use crate::limits;
use crate::mixing;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::rigs::{Rig, may_press};
use crate::schedule::GoodSetUp;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

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
    /// A flow cup that was run.
    #[serde(default)]
    pub cup: Option<FlowCup>,
    /// How long it ran.
    #[serde(default)]
    pub run_cup_s: Option<f64>,
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
    match (s.cup, s.run_cup_s) {
        (Some(cup), Some(cup_s)) => {
            cup.mm2_s(cup_s, prefs).map(|_| ()).map_err(|r| Refusal { field: Some("run_cup_s".into()), ..r })
        }
        (None, Some(_)) => Err(Refusal::bad_input("missing", "cup", "Which cup ran?")),
        _ => Ok(()),
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
    record.rig().map_or_else(
        || limits::POT_PRESSURE.check("pot_kpa", s.pot_kpa, prefs).map(|_| ()),
        |rig| may_press(rig, "pot_kpa", s.pot_kpa, prefs),
    )
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
}

impl KnownFrom {
    /// In words.
    pub fn word(self) -> &'static str {
        match self {
            KnownFrom::Catch => "by the catch",
            KnownFrom::Cup => "by the cup",
            KnownFrom::Sheet => "by the sheet, rougher",
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
}

impl Record {
    /// The rig chosen last.
    pub fn rig(&self) -> Option<&Rig> {
        self.rig.as_ref().and_then(|r| r.it.fitted.as_ref())
    }

    /// What was good of the set-up: the last one, where its stream was in or its pattern even.
    ///
    /// **Rule:** the last entry of Set with its rig, and the material's temperature then. **Source:** common practice in the
    /// trade: what stood when the coat went on well is where the next one starts.
    pub fn good_set_up(&self) -> Option<(uuid::Uuid, GoodSetUp)> {
        let (aim, chosen, rig, last) = (self.aim()?, self.rig.as_ref()?, self.rig()?, self.set_ups.last()?);
        let (lo, hi) = aim.sheet.stream.band_mm();
        let stream = last.it.stream_mm.is_some_and(|mm| (lo..=hi).contains(&mm));
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
        let warm = sheet.viscosity_warm_mpa_s.zip(sheet.viscosity_warm_at_c);
        let steep = stated.zip(warm).and_then(|(a, b)| steepness_k(a, b)).unwrap_or(STEEPNESS_K);
        let (temp_c, age) = self.warm_and_old(now);
        let fluid = |viscosity_mpa_s| Fluid { viscosity_mpa_s, density_kg_l, flow_index };
        let brought = |mpa_s: f64, at: Timestamp, from| {
            let (was_c, was_age) = self.warm_and_old(at);
            let now_mpa_s = at_temperature(mpa_s, was_c, temp_c, steep) * aged(1.0, age) / aged(1.0, was_age);
            Paint { fluid: fluid(now_mpa_s), from, temp_c, age }
        };
        let by_catch = self.flow_catches.last().and_then(|c| {
            let line: FluidLine = self.rig()?.line()?;
            let guess = fluid(stated.map_or(100.0, |(mpa_s, _)| mpa_s));
            let flow = c.it.flow_ml_min(density_kg_l);
            let mpa_s = calibrate::viscosity_mpa_s(&line, &guess, c.it.pot_kpa, flow).ok()?;
            Some((c.at, mpa_s, KnownFrom::Catch))
        });
        let by_cup = self.set_ups.iter().rev().find_map(|s: &Stamped<SetUp>| {
            let mpa_s = by_cup_mpa_s(s.it.cup?, s.it.run_cup_s?, density_kg_l, Prefs::METRIC).ok()?;
            Some((s.at, mpa_s, KnownFrom::Cup))
        });
        if let Some((at, mpa_s, from)) = by_catch.or(by_cup) {
            return Some(brought(mpa_s, at, from));
        }
        let (mpa_s, at_c) = stated?;
        let now_mpa_s = aged(at_temperature(mpa_s, at_c, temp_c, steep), age);
        Some(Paint { fluid: fluid(now_mpa_s), from: KnownFrom::Sheet, temp_c, age })
    }
}
