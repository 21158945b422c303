//! Ready to use: paint of one can goes straight to the gun, one press a fill. Nothing is mixed, so there is no ratio and no life.

use super::pour::LotRef;
use super::ready::refuse_stopped;
use super::vessels::FillInto;
use super::{Asked, Statement, Told, everyone, on, stamp};
use crate::batch::Entry;
use crate::batch::charge::{Charge, Poured};
use crate::batch::record::Record;
use crate::limits;
use crate::mixing::{Component, Weighed};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::sheets::ChargeKind;
use crate::worded::{Worded, capital};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// So much of a can, ready to use, into the gun's cup, the pressure pot or a tray.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadyFill {
    /// The cup or pot: a new one, or the one that is filled again.
    pub charge: Uuid,
    /// Its number of the shop day; the server gives it.
    #[serde(default)]
    #[schema(read_only)]
    pub no: i64,
    /// Into what.
    pub into: FillInto,
    /// How much.
    pub fill_ml: f64,
    /// Out of this lot; missing: the one taken at Ready.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub lot: Option<LotRef>,
    /// Additive put into it.
    #[serde(default)]
    pub dose_g: Option<f64>,
    /// Stirred just before.
    #[serde(default)]
    pub stirred: bool,
    /// Through the strainer.
    #[serde(default)]
    pub strained: bool,
}

/// How far a poured amount may be off that was read on the vessel, as a part of it; from memory.
const READ_OFF: f64 = 0.05;

impl Statement for ReadyFill {
    const WAITS_AS: Option<&'static str> = Some("Out of the can");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::AMOUNT.check("fill_ml", self.fill_ml, prefs)?;
        limits::SCALE_READING.check_optional("dose_g", self.dose_g, prefs).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let record = asked.case;
        let sheet = record.aim().map(|aim| &aim.sheet);
        if sheet.is_some_and(|s| s.has_hardener || s.charge == ChargeKind::AtGun) {
            return Err(Refusal::conflict("not-ready-to-use", "This product has a second component: mix a pot of it."));
        }
        if record.thinner_pct() > 0.0 {
            return Err(Refusal::conflict("thinned", "It is thinned by plan: weigh base and thinner into a pot."));
        }
        if record.charge(self.charge).is_some_and(|c| c.closed.is_some()) {
            return Err(Refusal::conflict("charge-closed", "This cup is closed: fill a new one."));
        }
        self.lot.as_ref().map_or(Ok(()), |lot| refuse_stopped(record, Component::Base, lot, asked.happened))
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        let Some(density) = record.aim().map(|aim| aim.sheet.base_kg_l()) else { return };
        if record.charge(self.charge).is_none() {
            let opened = Charge::open(self.charge, self.no, ChargeKind::Pot, 0.0, entry.happened);
            record.charges.push(Charge { opened_seq: entry.seq, ..opened });
        }
        on(record, self.charge, |c| {
            let reading_g = self.fill_ml * density;
            let resolution_g = 2.0 * READ_OFF * reading_g;
            let weighed = Weighed { component: Component::Base, reading_g, tared: true, resolution_g, start_g: None };
            let (lot, taken_g) = (self.lot.clone(), reading_g);
            c.pours.push(stamp(
                entry,
                Poured { weighed, lot, taken_g, by_mark: true, whole_can: false, cup: None, instrument: None, overdue: None },
            ));
            c.wanted_ml += self.fill_ml;
            if self.stirred {
                c.stirs.push(entry.happened);
            }
            c.ready_fills.push(stamp(entry, self));
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        let dose = self.dose_g.map_or(String::new(), |g| format!(", dose {}", told.say(g, QuantityKind::Mass)));
        let strained = if self.strained { ", strained" } else { "" };
        let stirred = if self.stirred { ", stirred" } else { "" };
        let lot = self.lot.as_ref().map_or(String::new(), |l| format!(", lot {}", l.code));
        let much = told.say(self.fill_ml, QuantityKind::Volume);
        format!("{} into the {}{stirred}{strained}{dose}{lot}", capital(&much), self.into.word())
    }
}
