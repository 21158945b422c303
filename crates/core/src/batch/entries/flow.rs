//! What goes with a try of pressure: steps of the stream test, flow cups, and what the gun delivered.

use super::{Asked, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::record::Record;
use crate::care::looked_at;
use crate::delivery::calibrate;
use crate::delivery::viscosity::FlowCup;
use crate::limits;
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::rigs::{RigKind, may_press};
use crate::worded::{VariantArray, Worded};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

/// A step of the stream test, ticked.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetStep {
    /// Its name.
    pub step: String,
}

impl SetStep {
    /// What it is called, for any kind of rig.
    pub fn name(&self) -> &'static str {
        let all = RigKind::VARIANTS.iter().copied().flat_map(looked_at);
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
    ///
    /// **Formula:** `V/t`, `V = m/ρ` where it was weighed. **Units:** mL or g, s, kg/L; mL/min. **Source:** arithmetic.
    ///
    /// ```
    /// let caught = r#"{ "pot_kpa": 70.0, "caught_g": 140.0, "caught_watch_s": 20.0 }"#;
    /// let caught: level_keel_core::batch::entries::FlowCatch = serde_json::from_str(caught).unwrap();
    /// assert!((caught.flow_ml_min(1.4) - 300.0).abs() < 1e-9);
    /// ```
    pub fn flow_ml_min(&self, density_kg_l: f64) -> f64 {
        let ml = self.caught_ml.or(self.caught_g.map(|g| g / density_kg_l)).unwrap_or(0.0);
        ml / self.caught_watch_s * 60.0
    }
}

impl Statement for SetStep {
    const WAITS_AS: Option<&'static str> = Some("Step of the stream test");
    const WHO: fn(Role) -> May = everyone;

    /// A step of some rig's stream test.
    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        let known = RigKind::VARIANTS.iter().copied().flat_map(looked_at).any(|(id, _)| *id == self.step);
        if known { Ok(()) } else { Err(Refusal::bad_input("unknown", "step", "There is no such step.")) }
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.set_steps.push(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        self.name().to_string()
    }
}

impl Statement for CupRun {
    const WAITS_AS: Option<&'static str> = Some("Flow cup");
    const WHO: fn(Role) -> May = everyone;

    /// The cup may run so long.
    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        self.cup.mm2_s(self.run_cup_s, prefs).map(drop).map_err(|r| r.at("run_cup_s"))
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.cup_runs.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("{} ran {}", self.cup.word(), told.say(self.run_cup_s, QuantityKind::CupSeconds))
    }
}

impl Statement for FlowCatch {
    const WAITS_AS: Option<&'static str> = Some("Catch of flow");
    const WHO: fn(Role) -> May = everyone;

    /// Something was caught, in some time.
    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::FLUID_PRESSURE.check("pot_kpa", self.pot_kpa, prefs)?;
        limits::CATCH_TIME.check("caught_watch_s", self.caught_watch_s, prefs)?;
        limits::SCALE_READING.check_optional("caught_g", self.caught_g, prefs)?;
        limits::AMOUNT.check_optional("caught_ml", self.caught_ml, prefs)?;
        match (self.caught_g, self.caught_ml) {
            (Some(g), None) if g <= 0.0 => Err(Refusal::bad_input("nothing-caught", "caught_g", "This catch is empty.")),
            (Some(_), None) | (None, Some(_)) => Ok(()),
            (None, None) => Err(Refusal::bad_input("missing", "caught_g", "What was caught? Weighed, or measured in a cup.")),
            (Some(_), Some(_)) => Err(Refusal::bad_input("one-of-two", "caught_ml", "Weighed or measured: one of the two.")),
        }
    }

    /// Nobody presses a rig over what it bears, and the catch must be one the line can give.
    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let Some(rig) = asked.case.rig() else {
            return Err(Refusal::conflict("no-rig", "Choose the rig first: a catch is reckoned with its hose and nozzle."));
        };
        may_press(rig, "pot_kpa", self.pot_kpa, asked.prefs())?;
        if self.caught_g.is_some() && asked.case.aim().is_some_and(|aim| aim.sheet.by_volume_alone()) {
            let text = "The sheet states no density: measure the catch in a cup, by volume.";
            return Err(Refusal::bad_input("density-missing", "caught_g", text));
        }
        if let (Some(line), Some(paint)) = (rig.line(), asked.case.paint(asked.then())) {
            let flow = self.flow_ml_min(paint.fluid.density_kg_l);
            let field = if self.caught_g.is_some() { "caught_g" } else { "caught_ml" };
            calibrate::viscosity_mpa_s(&line, &paint.fluid, self.pot_kpa, flow).map_err(|r| r.at(field))?;
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.flow_catches.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let what = match (self.caught_g, self.caught_ml) {
            (Some(g), _) => told.say(g, QuantityKind::Mass),
            (_, ml) => told.say(ml.unwrap_or(0.0), QuantityKind::Volume),
        };
        let (time, pressure) =
            (told.say(self.caught_watch_s, QuantityKind::Stopwatch), told.say(self.pot_kpa, QuantityKind::Pressure));
        format!("Caught {what} in {time} at {pressure}")
    }
}
