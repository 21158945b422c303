//! Mix: charges opened, combined and stirred; their temperatures; the plan of the coat and ways back from a wrong pour.

use super::{Asked, Hardens, Statement, Told, everyone, known, on, stamp};
use crate::batch::Entry;
use crate::batch::beside::Neighbour;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::gates::{self, Act};
use crate::batch::record::Record;
use crate::film;
use crate::limits;
use crate::mixing::{self, Allowances, Amount, Component, PlannedPour, RescueTo, check_thinner, rescues, retarget};
use crate::people::{May, Role};
use crate::pot_life::HeldTemperature;
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::sheets::ChargeKind;
use crate::worded::capital;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A charge opened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OpenCharge {
    /// Its id.
    pub charge: Uuid,
    /// Pot number of the shop day; the server gives it.
    #[serde(default)]
    #[schema(read_only)]
    pub no: i64,
    /// Pot or at the gun.
    pub kind: ChargeKind,
    /// Finished paint wanted in it; core reckons it from `amount` when that is given.
    #[serde(default)]
    pub wanted_ml: f64,
    /// How much, said another way than by finished volume.
    #[serde(default)]
    pub amount: Option<Amount>,
}

/// Hardener goes to base.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Combine {
    /// In which charge.
    pub charge: Uuid,
}

/// Stirred.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Stirred {
    /// Which charge.
    pub charge: Uuid,
}

/// The pot's own temperature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PotTemperature {
    /// Which.
    pub charge: Uuid,
    /// How warm.
    pub temp_c: f64,
    /// Read by this probe; missing: by hand.
    #[serde(default)]
    pub probe: Option<String>,
}

/// How the coat is to be mixed and sprayed. The newest stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlanMix {
    /// What it takes beyond the film.
    #[serde(default)]
    pub more: Allowances,
    /// Sprayed in a minute; by brush and roller core reckons it from the area of an hour.
    #[serde(default)]
    pub rate_ml_min: f64,
    /// Coated in an hour, by brush or roller.
    #[serde(default)]
    pub in_an_hour_m2: Option<f64>,
    /// What the vessel may be filled to.
    #[serde(default)]
    pub fill_ml: Option<f64>,
    /// From the first hardener to the gun, without induction.
    #[serde(default)]
    pub handling_s: Option<f64>,
    /// Thinner to plan with, when it is another than the batch began with.
    #[serde(default)]
    pub thinner_pct: Option<f64>,
}

/// A way back from a wrong pour, chosen: the plan of the pot follows it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Rescue {
    /// Which pot.
    pub charge: Uuid,
    /// How far.
    pub to: RescueTo,
    /// The plan it makes; core fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub plan: Vec<PlannedPour>,
}

impl Statement for OpenCharge {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        if let (Some(amount), Some(aim), Some(onto)) = (&self.amount, asked.case.aim(), asked.case.on_the_part()) {
            (self.wanted_ml, _) = mixing::wanted_ml(&aim.sheet, amount, onto, asked.prefs())?;
            value["wanted_ml"] = self.wanted_ml.into();
        }
        Ok(())
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::AMOUNT.check("wanted_ml", self.wanted_ml, prefs).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        if asked.case.aim().is_some_and(|b| b.sheet.charge != self.kind) {
            return Err(Refusal::bad_input("wrong-charge", "kind", "The sheet mixes this product the other way."));
        }
        if asked.case.charge(self.charge).is_some() {
            return Err(Refusal::conflict("charge-exists", "This pot is open already."));
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        let fresh = Charge::open(self.charge, self.no, self.kind, self.wanted_ml, entry.happened);
        record.charges.push(Charge { amount: self.amount, opened_seq: entry.seq, ..fresh });
    }

    fn words(&self, told: &Told<'_>) -> String {
        match self.kind {
            ChargeKind::AtGun => format!("Gun load {}: both components", self.no),
            ChargeKind::Pot => format!("Pot {} opened for {}", self.no, told.say(self.wanted_ml, QuantityKind::Volume)),
        }
    }
}

impl Statement for Combine {
    const WAITS_AS: Option<&'static str> = Some("Hardener to base");
    const WHO: fn(Role) -> May = everyone;
    const NEEDS: &'static [Neighbour] = Neighbour::OF_THE_GATES;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn hardens(&self) -> Option<Hardens> {
        Some(Hardens { charge: self.charge, lot: None, onto_base: true })
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        may_combine(asked.case, self.charge, asked.then(), asked.prefs())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| c.combine = Some(stamp(entry, ())));
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("Hardener to base in {}", told.pot(self.charge))
    }
}

/// No combining before conditions are go, guards on and base in.
pub fn may_combine(case: &Case<'_>, charge: Uuid, now: Timestamp, prefs: Prefs) -> Result<(), Refusal> {
    gates::before(case, Act::Combine, None, now, prefs).refuse()?;
    let charge = known(case, charge)?;
    if charge.combine.is_some() {
        return Err(Refusal::conflict("combined-already", format!("Pot {} is combined already.", charge.no)));
    }
    if !charge.pours.iter().any(|p| p.it.weighed.component == Component::Base) {
        return Err(Refusal::hold("no-base", format!("There is no base in pot {} yet. Pour the base first.", charge.no)));
    }
    Ok(())
}

impl Statement for Stirred {
    const WAITS_AS: Option<&'static str> = Some("Stirred");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let charge = known(asked.case, self.charge)?;
        let hardened = asked.case.aim().is_none_or(|b| !b.sheet.has_hardener) || charge.combined().is_some();
        if charge.pours.is_empty() || !hardened {
            let text = format!("Pot {} holds no hardener yet; its induction begins when both are stirred.", charge.no);
            return Err(Refusal::hold("not-combined", text));
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| {
            c.mixes.push((entry.happened, entry.seq));
            c.stirs.push(entry.happened);
            c.settle_stirring();
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("Stirred {}", told.pot(self.charge))
    }
}

impl Statement for PotTemperature {
    const WAITS_AS: Option<&'static str> = Some("Pot temperature");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::TEMPERATURE.check("temp_c", self.temp_c, prefs).map(drop)
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| {
            let held = HeldTemperature { from: entry.happened, temp_c: self.temp_c };
            // The bench's probe stands beside the pot; a hand that reads the pot is nearer.
            if self.probe.is_some() { c.bench_temperatures.push(held) } else { c.temperatures.push(held) }
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("{} at {}", capital(&told.pot(self.charge)), told.say(self.temp_c, QuantityKind::Temperature))
    }
}

impl PlanMix {
    /// With its rate, where that is told by the area of an hour.
    ///
    /// **Formula:** `need of that area / 60 min` ([`film::need_ml`] at the film aimed at). **Units:** m², mL/min. **Source:** arithmetic.
    /// **Errors:** `one-of-two` where both are given; `in_an_hour_m2` outside the limits of an area.
    pub fn with_rate(mut self, record: &Record, prefs: Prefs) -> Result<PlanMix, Refusal> {
        let Some(m2) = self.in_an_hour_m2 else { return Ok(self) };
        if self.rate_ml_min > 0.0 {
            return Err(Refusal::bad_input(
                "one-of-two",
                "rate_ml_min",
                "By the minute or by the area of an hour: one of the two.",
            ));
        }
        limits::AREA.check("in_an_hour_m2", m2, prefs)?;
        let Some(aim) = record.aim() else { return Ok(self) };
        let solids_pct = mixing::finished_solids_pct(&aim.sheet, self.thinner_pct.unwrap_or(aim.thinner_pct));
        self.rate_ml_min = film::need_ml(m2, record.wet_um(solids_pct), aim.transfer_pct) / 60.0;
        limits::SPRAY_RATE.check("in_an_hour_m2", self.rate_ml_min, prefs)?;
        Ok(self)
    }
}

impl Statement for PlanMix {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        if self.in_an_hour_m2.is_some() {
            *self = self.clone().with_rate(asked.case, asked.prefs())?;
            value["rate_ml_min"] = self.rate_ml_min.into();
        }
        Ok(())
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::SPRAY_RATE.check("rate_ml_min", self.rate_ml_min, prefs)?;
        limits::AMOUNT.check_optional("fill_ml", self.fill_ml, prefs)?;
        limits::SHEET_TIME.check_optional("handling_s", self.handling_s, prefs).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let (record, prefs) = (asked.case, asked.prefs());
        let Some(aim) = record.aim() else { return Ok(()) };
        let thinner = self.thinner_pct.unwrap_or(aim.thinner_pct);
        check_thinner(&aim.sheet, thinner, prefs)?;
        if aim.dry_um.is_some() {
            let wet_um = record.wet_um(mixing::finished_solids_pct(&aim.sheet, thinner));
            limits::FILM.check("thinner_pct", wet_um, prefs)?;
        }
        record.need_by(self, None, prefs).map(drop)
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.plan_mix = Some(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let fill = self.fill_ml.map_or(String::new(), |ml| format!(", pots to {}", told.say(ml, QuantityKind::Volume)));
        match self.in_an_hour_m2 {
            Some(m2) => format!("Planned: {} in an hour{fill}", told.say(m2, QuantityKind::Area)),
            None => format!("Planned: {} from the gun{fill}", told.say(self.rate_ml_min, QuantityKind::Flow)),
        }
    }
}

impl Statement for Rescue {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    /// The plan that this way back makes.
    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        let record = asked.case;
        let (Some(aim), Some(charge)) = (record.aim(), record.charge(self.charge)) else { return Ok(()) };
        let (plan, pours) = (record.plan(charge), charge.weighed());
        let ways = rescues(&aim.sheet, &plan, &pours, charge.stirred.is_some());
        let way = ways
            .into_iter()
            .find(|w| w.to == self.to)
            .ok_or_else(|| Refusal::conflict("nothing-to-rescue", "There is no such way any more: look at the ratio again."))?;
        self.plan = retarget(&plan, &pours, &way);
        value["plan"] = serde_json::to_value(&self.plan).unwrap_or_default();
        Ok(())
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| {
            c.rescues.push(stamp(entry, self.to));
            c.retarget = self.plan;
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        let total: f64 = self.plan.iter().map(|p| p.mass_g).sum();
        let in_what = told.record.aim().map_or(QuantityKind::Mass, |aim| aim.sheet.said_in(Component::Base));
        let how = match self.to {
            RescueTo::Exact => "back on target",
            RescueTo::Least => "the least that is in",
        };
        format!("{} rescued, {how}: {} in all", capital(&told.pot(self.charge)), told.say(total, in_what))
    }
}
