//! Prove: the two streams of a twin feed or a machine, caught together; a whole run by its supplies; the bond test.

use super::pour::on_scale;
use super::{Asked, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::beside::Neighbour;
use crate::batch::proofs;
use crate::batch::record::{Record, Stamped};
use crate::instruments::Overdue;
use crate::limits::{self, check_text};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::ratio_check::{BondResult, Due, Run, Supply, Trial};
use crate::refusal::Refusal;
use crate::rigs::may_press;
use crate::stores::Attached;
use crate::worded::Worded;
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
    /// The machine's catalyst setting while it was caught.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting_count: Option<f64>,
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
    /// The check of the scale was overdue, and what that did; the server fills it in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(read_only)]
    pub overdue: Option<Overdue>,
    /// When the next check is due, by the ledger of the rig and the shop's own interval as they stood then; core fills it in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(read_only)]
    pub due: Option<Due>,
}

impl RatioCheck {
    /// As a trial for the next pressure; `None` without both pressures.
    pub fn trial(&self) -> Option<Trial> {
        let (a_kpa, b_kpa) = self.a_kpa.zip(self.b_kpa)?;
        let (a_g, b_g, lift_mm) = (self.a_g, self.b_g, self.lift_mm.unwrap_or(0.0));
        Some(Trial { a_g, b_g, a_kpa, b_kpa, time_s: self.caught_watch_s, lift_mm, resolution_g: self.resolution_g })
    }
}

impl Statement for RatioCheck {
    const WAITS_AS: Option<&'static str> = Some("Catch");
    const WHO: fn(Role) -> May = everyone;
    const NEEDS: &'static [Neighbour] = &[Neighbour::Rig, Neighbour::Ledger];

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::POT_PRESSURE.check_optional("a_kpa", self.a_kpa, prefs)?;
        limits::POT_PRESSURE.check_optional("b_kpa", self.b_kpa, prefs)?;
        limits::CATCH_TIME.check_optional("caught_watch_s", self.caught_watch_s, prefs)?;
        limits::LIFT.check_optional("lift_mm", self.lift_mm, prefs)?;
        limits::SETTING.check_optional("setting_count", self.setting_count, prefs)?;
        for (field, g) in [("a_g", self.a_g), ("b_g", self.b_g)] {
            on_scale(field, g, self.resolution_g, prefs)?;
            if g < self.resolution_g {
                return Err(Refusal::bad_input("nothing-caught", field, "This catch is empty on this scale."));
            }
        }
        Ok(())
    }

    /// Nobody catches at more than the rig bears. It keeps when the next check is due.
    fn may(&self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        for (field, kpa) in [("a_kpa", self.a_kpa), ("b_kpa", self.b_kpa)] {
            if let (Some(rig), Some(kpa)) = (asked.case.rig(), kpa) {
                may_press(rig, field, kpa, asked.prefs())?;
            }
        }
        let (entry, who) = (Uuid::nil(), asked.writer.id);
        let this = Stamped { entry, seq: i64::MAX, at: asked.then(), by: String::new(), who, it: self.clone() };
        match proofs::due_after(asked.case, &this) {
            Some(due) => value["due"] = serde_json::to_value(due).unwrap_or_default(),
            None => drop(value.as_object_mut().and_then(|map| map.remove("due"))),
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

/// Both supplies weighed before a run and after it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WholeRun {
    /// Which charge.
    pub charge: Uuid,
    /// Supply of A.
    pub a: Supply,
    /// Supply of B.
    pub b: Supply,
    /// Resolution of the scale.
    #[schema(required = false)]
    pub resolution_g: f64,
    /// The scale.
    #[serde(default)]
    pub instrument: Option<Uuid>,
}

impl WholeRun {
    /// What was sprayed of each.
    ///
    /// **Errors:** a refusal naming the field, as [`Supply::used_g`].
    pub fn run(&self, prefs: Prefs) -> Result<Run, Refusal> {
        let used = |side: &str, supply: &Supply| supply.used_g(side, self.resolution_g, prefs);
        Ok(Run { a_g: used("A", &self.a)?, b_g: used("B", &self.b)? })
    }
}

impl Statement for WholeRun {
    const WAITS_AS: Option<&'static str> = Some("Supplies weighed");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        None
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::SCALE_RESOLUTION.check("resolution_g", self.resolution_g, prefs)?;
        for (side, s) in [("a", &self.a), ("b", &self.b)] {
            let each = [
                ("before_g", Some(s.before_g)),
                ("after_g", Some(s.after_g)),
                ("added_g", s.added_g),
                ("purged_g", s.purged_g),
                ("returned_g", s.returned_g),
            ];
            for (field, g) in each {
                limits::STOCK.check_optional(&format!("{side}.{field}"), g, prefs)?;
            }
        }
        self.run(prefs).map(drop)
    }

    /// The run of a charge that is there; it may be ended by then.
    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        super::known(asked.case, self.charge).map(drop)
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.runs.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let used = self.run(told.prefs).map(|r| (r.a_g.value, r.b_g.value)).unwrap_or_default();
        format!("Whole run: A {} to B {}", told.say(used.0, QuantityKind::Mass), told.say(used.1, QuantityKind::Mass))
    }
}

/// A test piece on the real substrate, pressed and parted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BondTest {
    /// Which charge.
    pub charge: Uuid,
    /// How it parted.
    pub result: BondResult,
    /// On which substrate.
    pub substrate: String,
    /// A photo of it.
    #[serde(default)]
    pub photo: Option<Attached>,
    /// What else was seen.
    #[serde(default)]
    pub text: Option<String>,
}

impl Statement for BondTest {
    const WAITS_AS: Option<&'static str> = Some("Bond test");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        check_text("substrate", &self.substrate, limits::LABEL_CHARS)?;
        super::ready::optional_text("text", self.text.as_deref())
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.bonds.push(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Bond test on {}: {}", self.substrate.trim(), self.result.word())
    }
}
