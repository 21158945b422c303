//! The paint as it is taken to flow: by what was caught, by a flow cup, by the sheet; as warm and as old as it is.

use super::entries::SetUp;
use super::record::{Record, Stamped};
use crate::delivery::viscosity::{STEEPNESS_K, aged, at_temperature, by_cup_mpa_s, steepness_k};
use crate::delivery::{Fluid, FluidLine, calibrate};
use crate::mixing;
use crate::quantity::Prefs;
use crate::rigs::Rig;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Where a viscosity is known from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum KnownFrom {
    /// A catch at the gun.
    #[strum(serialize = "by the catch")]
    Catch,
    /// A flow cup.
    #[strum(serialize = "by the cup")]
    Cup,
    /// The sheet.
    #[strum(serialize = "by the sheet, which is rough")]
    Sheet,
    /// Said for a what-if.
    #[strum(serialize = "as asked")]
    Asked,
}

impl Worded for KnownFrom {}

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
        let pressed = |s: &&Stamped<SetUp>| s.it.fluid_kpa().max(s.it.b_kpa.unwrap_or(0.0)) > 0.0;
        let tries = self.set_ups.iter().filter(pressed).map(|s| s.at);
        tries.chain(self.flow_catches.iter().filter(|c| c.it.pot_kpa > 0.0).map(|c| c.at)).max()
    }

    /// Finished density by the shares planned.
    ///
    /// **Formula:** `Σm / ΣV` of the shares of one part of base. **Units:** kg/L. **Source:** arithmetic; volumes are taken to
    /// add. `None` where it is measured by volume alone.
    pub fn density_kg_l(&self) -> Option<f64> {
        let sheet = self.aim().map(|aim| &aim.sheet).filter(|sheet| !sheet.by_volume_alone())?;
        let shares = mixing::shares(sheet, self.thinner_pct());
        let (mass, volume) = shares.iter().fold((0.0, 0.0), |(m, v), s| (m + s.mass_g, v + s.volume));
        Some(mass / volume)
    }

    /// What the sprayer delivers in a minute: the last timed catch of both streams, else as planned.
    ///
    /// **Formula:** `(mA/ρA + mB/ρB)/t`. **Units:** g, kg/L, s; mL/min. **Source:** arithmetic.
    pub fn flow_ml_min(&self) -> Option<f64> {
        let sheet = &self.aim()?.sheet;
        let caught = self.catches.iter().rev().find_map(|c| {
            let s = c.it.caught_watch_s?;
            let b = sheet.density_kg_l(mixing::Component::Hardener).map_or(0.0, |d| c.it.b_g / d);
            Some((c.it.a_g / sheet.base_kg_l() + b) / s * 60.0)
        });
        caught.or(self.plan_mix.as_ref().map(|p| p.it.rate_ml_min))
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
    /// **Units:** K. **Source:** the sheet; else from memory.
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
