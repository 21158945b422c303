//! Prove: the two streams of a twin feed or a machine, caught together.

use super::pour::on_scale;
use super::{Asked, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::record::Record;
use crate::limits;
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::ratio_check::Trial;
use crate::refusal::Refusal;
use crate::rigs::may_press;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// Two catches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RatioCheck {
    /// Which charge.
    pub charge: Uuid,
    /// A.
    pub a_g: f64,
    /// B.
    pub b_g: f64,
    /// Resolution of the scale.
    #[schema(required = false)]
    pub resolution_g: f64,
    /// The scale.
    #[serde(default)]
    pub instrument: Option<Uuid>,
    /// Pressure on A while it was caught.
    #[serde(default)]
    pub a_kpa: Option<f64>,
    /// Pressure on B while it was caught.
    #[serde(default)]
    pub b_kpa: Option<f64>,
    /// How long both ran, when it was timed: gives flow.
    #[serde(default)]
    pub caught_watch_s: Option<f64>,
    /// How far the gun hangs above the pots.
    #[serde(default)]
    pub lift_mm: Option<f64>,
}

impl RatioCheck {
    /// As a trial for the next pressure; `None` without both pressures.
    pub fn trial(&self) -> Option<Trial> {
        let (a_kpa, b_kpa) = self.a_kpa.zip(self.b_kpa)?;
        let (a_g, b_g, lift_mm) = (self.a_g, self.b_g, self.lift_mm.unwrap_or(0.0));
        Some(Trial { a_g, b_g, a_kpa, b_kpa, time_s: self.caught_watch_s, lift_mm })
    }
}

impl Statement for RatioCheck {
    const WAITS_AS: Option<&'static str> = Some("Catch");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::POT_PRESSURE.check_optional("a_kpa", self.a_kpa, prefs)?;
        limits::POT_PRESSURE.check_optional("b_kpa", self.b_kpa, prefs)?;
        limits::CATCH_TIME.check_optional("caught_watch_s", self.caught_watch_s, prefs)?;
        limits::LIFT.check_optional("lift_mm", self.lift_mm, prefs)?;
        for (field, g) in [("a_g", self.a_g), ("b_g", self.b_g)] {
            on_scale(field, g, self.resolution_g, prefs)?;
            if g < self.resolution_g {
                return Err(Refusal::bad_input("nothing-caught", field, "This catch is empty on this scale."));
            }
        }
        Ok(())
    }

    /// Nobody catches at more than the rig bears.
    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let Some(rig) = asked.case.rig() else { return Ok(()) };
        for (field, kpa) in [("a_kpa", self.a_kpa), ("b_kpa", self.b_kpa)] {
            if let Some(kpa) = kpa {
                may_press(rig, field, kpa, asked.prefs())?;
            }
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.catches.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("Caught A {} to B {}", told.say(self.a_g, QuantityKind::Mass), told.say(self.b_g, QuantityKind::Mass))
    }
}
