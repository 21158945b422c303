//! A live remainder goes to another batch: an entry in both books, one act.

use super::{Asked, CloseCharge, Ended, Statement, Told, everyone, on, stamp};
use crate::batch::Entry;
use crate::batch::charge::{Born, Charge, Poured};
use crate::batch::record::{Record, Stamped};
use crate::people::{May, Role};
use crate::pot_life::{HeldTemperature, PotState};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::sheets::ChargeKind;
use crate::worded::capital;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A live remainder goes to another batch of the same sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HandOver {
    /// Which pot.
    pub charge: Uuid,
    /// To which batch.
    pub to_batch: Uuid,
    /// Its number, for people; the server fills it in.
    #[serde(default)]
    pub to_number: i64,
}

/// A live remainder comes from another batch, with all that is known of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeOver {
    /// Its id here.
    pub charge: Uuid,
    /// Pot number of the shop day, the same as there.
    pub no: i64,
    /// From which batch.
    pub from_batch: Uuid,
    /// Its number, for people.
    pub from_number: i64,
    /// What came.
    pub ml: f64,
    /// What was poured into it there, of what came.
    #[schema(value_type = Vec<Object>)]
    pub pours: Vec<Stamped<Poured>>,
    /// When hardener met base.
    pub combined: Option<Timestamp>,
    /// When it was stirred.
    pub stirred: Option<Timestamp>,
    /// Temperatures that held.
    #[schema(value_type = Vec<Object>)]
    pub temperatures: Vec<HeldTemperature>,
}

/// Why half of a hand-over is not taken by itself.
const IN_ONE_GO: &str = "A remainder is handed over in one go: both batches at once.";

impl Statement for HandOver {
    const WRITTEN_INSIDE: Option<&'static str> = Some(IN_ONE_GO);
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let Some(charge) = asked.case.charge(self.charge) else { return Ok(()) };
        if asked.case.left_ml(charge) <= 0.0 {
            return Err(Refusal::conflict("empty-pot", format!("Nothing is left in pot {}.", charge.no)));
        }
        match asked.case.clock(charge, asked.then()).map(|c| c.state) {
            Some(PotState::Spent) => Err(Refusal::stop("spent", format!("Pot {} is spent. Discard it.", charge.no))),
            // It keeps its clock, and the other batch asks of it what this one would.
            None
            | Some(
                PotState::Open
                | PotState::Filling
                | PotState::Mixing
                | PotState::Inducting
                | PotState::Ready
                | PotState::Watch
                | PotState::LastCall,
            ) => Ok(()),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        let closed = CloseCharge { charge: self.charge, how: Ended::HandedOver, reason: None, waste_ml: None, waste_g: None };
        on(record, self.charge, |c| c.closed = Some(stamp(entry, closed)));
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("{} handed over to batch {:04}", capital(&told.pot(self.charge)), self.to_number)
    }
}

impl Statement for TakeOver {
    const WRITTEN_INSIDE: Option<&'static str> = Some(IN_ONE_GO);
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        match asked.case.charge(self.charge) {
            Some(_) => Err(Refusal::conflict("charge-exists", "This pot is here already.")),
            None => Ok(()),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.charges.push(Charge {
            pours: self.pours,
            combined_before: self.combined,
            stirred: self.stirred,
            stirs: self.stirred.into_iter().collect(),
            // Stirred there with all that was in it then: what is added here comes after.
            mixes: self.stirred.into_iter().map(|at| (at, i64::MAX)).collect(),
            temperatures: self.temperatures,
            born: Some(Born { of_no: self.no, of_batch: Some(self.from_number) }),
            ..Charge::open(self.charge, self.no, ChargeKind::Pot, self.ml, entry.happened)
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        let much = told.say(self.ml, QuantityKind::Volume);
        format!("Pot {} taken over from batch {:04}: {much}", self.no, self.from_number)
    }
}

/// What another batch takes over of a live pot, with all that is known of it.
///
/// **Rules:** the same version of the same sheet, thinned alike; masses in proportion to what is left.
/// **Source:** arithmetic; common practice in the trade (a remainder keeps its clock).
/// **Errors:** `other-sheet` and `other-thinner` at `to_batch`, `unknown-charge` at `charge`, `not-begun`.
pub fn take(source: &Record, target: &Record, wanted: &HandOver, from: Uuid, new_charge: Uuid) -> Result<TakeOver, Refusal> {
    let begun = |record: &Record| record.aim().map(|b| (b.number, b.sheet_version));
    let (Some((number, here)), Some((_, there))) = (begun(source), begun(target)) else {
        return Err(Refusal::conflict("not-begun", "This batch is not begun."));
    };
    if from == wanted.to_batch || here != there {
        let text = "A remainder goes only to another batch of the same version of the same sheet.";
        return Err(Refusal::bad_input("other-sheet", "to_batch", text));
    }
    if (source.thinner_pct() - target.thinner_pct()).abs() > THINNED_ALIKE_PCT {
        let text = "That batch is thinned differently: its film and shade would step.";
        return Err(Refusal::bad_input("other-thinner", "to_batch", text));
    }
    let charge = source
        .charge(wanted.charge)
        .filter(|c| c.closed.is_none())
        .ok_or_else(|| Refusal::bad_input("unknown-charge", "charge", "There is no such live pot in this batch."))?;
    let mixed = source.aim().map_or(0.0, |b| charge.mixed_ml(&b.sheet));
    let left = source.left_ml(charge);
    Ok(TakeOver {
        charge: new_charge,
        no: charge.no,
        from_batch: from,
        from_number: number,
        ml: left,
        pours: charge.share(if mixed > 0.0 { left / mixed } else { 0.0 }),
        combined: charge.combined(),
        stirred: charge.stirred,
        temperatures: source.temperatures(charge),
    })
}

/// Two plans this near are thinned alike; from memory.
const THINNED_ALIKE_PCT: f64 = 0.05;
