//! What is mixed goes to other vessels: another cup, the gun, a part of it.

use super::pour::on_scale;
use super::{Asked, Statement, Told, everyone, on, stamp};
use crate::batch::Entry;
use crate::batch::charge::{Born, Charge};
use crate::batch::gates::{self, Act};
use crate::batch::record::Record;
use crate::limits;
use crate::mixing::{Component, total_g};
use crate::people::{May, Role};
use crate::pot_life::PotState;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::sheets::ChargeKind;
use crate::worded::VariantArray;
use crate::worded::Worded;
use crate::worded::capital;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// Everything in the pot went to another cup and was weighed again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Transfer {
    /// Which pot.
    pub charge: Uuid,
    /// What stands in the new cup, tared.
    pub reading_g: f64,
    /// Resolution of the scale.
    #[schema(required = false)]
    pub resolution_g: f64,
    /// The scale.
    #[serde(default)]
    pub instrument: Option<Uuid>,
}

/// Where a fill goes.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum FillInto {
    /// The gun's own cup.
    #[default]
    #[strum(serialize = "gun cup")]
    GunCup,
    /// The pressure pot.
    #[strum(serialize = "pressure pot")]
    PressurePot,
    /// A tray or pail for brush and roller.
    #[strum(serialize = "tray")]
    Tray,
}

impl Worded for FillInto {}

/// So much of a pot goes to the gun.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Fill {
    /// From which pot.
    pub charge: Uuid,
    /// Into what.
    pub into: FillInto,
    /// How much.
    pub fill_ml: f64,
    /// Additive put into this fill.
    #[serde(default)]
    pub dose_g: Option<f64>,
    /// Stirred just before.
    #[serde(default)]
    pub stirred: bool,
    /// Through the strainer.
    #[serde(default)]
    pub strained: bool,
}

/// A part of a pot goes into a vessel of its own; both age on as one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Divide {
    /// Which pot.
    pub charge: Uuid,
    /// The new one.
    pub new_charge: Uuid,
    /// Its number; the server gives it.
    #[serde(default)]
    #[schema(read_only)]
    pub no: i64,
    /// What goes into it.
    pub part_ml: f64,
}

impl Statement for Transfer {
    const WAITS_AS: Option<&'static str> = Some("Another cup");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        on_scale("reading_g", self.reading_g, self.resolution_g, prefs)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let Some(charge) = asked.case.charge(self.charge) else { return Ok(()) };
        if asked.case.aim().is_some_and(|aim| aim.sheet.by_volume_alone()) {
            let text = "The sheet states no densities: what stands in another cup cannot be weighed again. Divide it by volume.";
            return Err(Refusal::bad_input("density-missing", "reading_g", text));
        }
        let weighed = charge.weighed();
        let total: f64 = Component::VARIANTS.iter().copied().map(|c| total_g(&weighed, c)).sum();
        if total <= 0.0 {
            return Err(Refusal::conflict("empty-pot", format!("Pot {} is empty: there is nothing to move.", charge.no)));
        }
        let half: f64 = weighed.iter().map(|w| w.resolution_g).sum();
        if self.reading_g <= 0.0 || self.reading_g > total + half + self.resolution_g {
            return Err(Refusal::bad_input(
                "more-than-before",
                "reading_g",
                "The new cup cannot hold more than was in the old one. Was it tared?",
            ));
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| {
            c.transfers.push(stamp(entry, self.reading_g));
            c.transferred(self.reading_g);
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("{} to another cup: {}", capital(&told.pot(self.charge)), told.say(self.reading_g, QuantityKind::Mass))
    }
}

/// No more than is left.
pub(super) fn within(record: &Record, charge: &Charge, field: &str, ml: f64, prefs: Prefs) -> Result<(), Refusal> {
    let left = record.left_ml(charge);
    if ml <= left * 1.001 + 0.5 {
        return Ok(());
    }
    let say = |ml| show(ml, QuantityKind::Volume, prefs).text;
    Err(Refusal::bad_input(
        "more-than-left",
        field,
        format!("{} is more than the {} left in pot {}.", say(ml), say(left), charge.no),
    ))
}

impl Statement for Fill {
    const WAITS_AS: Option<&'static str> = Some("Fill");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::AMOUNT.check("fill_ml", self.fill_ml, prefs)?;
        limits::SCALE_READING.check_optional("dose_g", self.dose_g, prefs).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let Some(charge) = asked.case.charge(self.charge) else { return Ok(()) };
        within(asked.case, charge, "fill_ml", self.fill_ml, asked.prefs())?;
        let hardened = asked.case.aim().is_none_or(|b| b.sheet.has_hardener);
        match asked.case.clock(charge, asked.then()).map(|c| c.state) {
            Some(PotState::Spent) => {
                Err(Refusal::stop("spent", format!("Pot {} is spent: nothing of it goes to the gun.", charge.no)))
            }
            Some(PotState::Mixing) => {
                Err(Refusal::hold("unstirred", format!("Pot {} is not stirred yet: stir it, then fill.", charge.no)))
            }
            None if charge.kind == ChargeKind::Pot && hardened && charge.combined().is_none() => {
                Err(Refusal::hold("no-hardener", format!("Pot {} holds no hardener yet: mix and stir it, then fill.", charge.no)))
            }
            // Its age cannot be reckoned: what a lead releases for spraying is released for the fill.
            None => gates::before_with(asked.case, Act::Fill, charge, asked.then(), asked.prefs()).refuse(),
            // Whether it may be sprayed is asked when spraying begins: a fill alone says nothing of it.
            Some(
                PotState::Open | PotState::Filling | PotState::Inducting | PotState::Ready | PotState::Watch | PotState::LastCall,
            ) => Ok(()),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| {
            if self.stirred {
                c.stirs.push(entry.happened);
            }
            c.fills.push(stamp(entry, self));
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        let dose = self.dose_g.map_or(String::new(), |g| format!(", dose {}", told.say(g, QuantityKind::Mass)));
        let strained = if self.strained { ", strained" } else { "" };
        let (much, pot) = (told.say(self.fill_ml, QuantityKind::Volume), told.pot(self.charge));
        format!("{much} from {pot} into the {}{dose}{strained}", self.into.word())
    }
}

impl Statement for Divide {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::AMOUNT.check("part_ml", self.part_ml, prefs).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let record = asked.case;
        let Some(charge) = record.charge(self.charge) else { return Ok(()) };
        if record.charge(self.new_charge).is_some() {
            return Err(Refusal::conflict("charge-exists", "This pot is open already."));
        }
        if record.aim().is_some_and(|b| b.sheet.has_hardener) && charge.combined().is_some() && charge.stirred.is_none() {
            let text = format!("Stir pot {} first, or the two parts are not alike.", charge.no);
            return Err(Refusal::hold("unstirred", text));
        }
        within(record, charge, "part_ml", self.part_ml, asked.prefs())
    }

    /// A part of a pot in a vessel of its own: what was poured is shared, the clocks are the same.
    fn apply(self, record: &mut Record, _entry: &Entry) {
        let Some(aim) = record.aim() else { return };
        let Some(from) = record.charge(self.charge) else { return };
        let mixed = from.mixed_ml(&aim.sheet);
        if mixed <= 0.0 {
            return;
        }
        let part = self.part_ml / mixed;
        let plan = record.plan(from).into_iter().map(|p| p.scaled(part)).collect();
        let new = Charge {
            id: self.new_charge,
            no: self.no,
            wanted_ml: self.part_ml,
            amount: None,
            pours: from.share(part),
            retarget: plan,
            started: None,
            over: None,
            fills: Vec::new(),
            ready_fills: Vec::new(),
            out_ml: 0.0,
            born: Some(Born { of_no: from.no, of_batch: None }),
            combined_before: from.combined(),
            born_struck: None,
            combine: None,
            ..from.clone()
        };
        on(record, self.charge, |c| c.out_ml += self.part_ml);
        record.charges.push(new);
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("{} of {} into pot {}", told.say(self.part_ml, QuantityKind::Volume), told.pot(self.charge), self.no)
    }
}
