//! What entries say between the pour and the part: the plan of the pots, rescues, fills, pots divided.

use crate::batch::Record;
use crate::batch::payload::{CloseCharge, Ended, Payload};
use crate::batch::record::{Charge, Poured, Stamped};
use crate::limits;
use crate::mixing::{self, Allowances, Component, Cup, PlannedPour, RescueTo, check_thinner, rescues, retarget, total_g};
use crate::pot_life::PotState;
use crate::quantity::{Kind, Prefs, show};
use crate::refusal::Refusal;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// How the coat is to be mixed and sprayed. The newest stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlanMix {
    /// What it takes beyond the film.
    #[serde(default)]
    pub more: Allowances,
    /// Sprayed in a minute.
    pub rate_ml_min: f64,
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
pub struct ChooseRescue {
    /// Which pot.
    pub charge: Uuid,
    /// How far.
    pub to: RescueTo,
    /// The plan it makes; core fills it in.
    #[serde(default)]
    pub plan: Vec<PlannedPour>,
}

/// Everything in the pot went to another cup and was weighed again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Transfer {
    /// Which pot.
    pub charge: Uuid,
    /// What stands in the new cup, tared.
    pub reading_g: f64,
    /// Resolution of the scale.
    pub resolution_g: f64,
    /// The scale.
    #[serde(default)]
    pub instrument: Option<Uuid>,
}

/// Where a fill goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FillInto {
    /// The gun's own cup.
    GunCup,
    /// The pressure pot.
    PressurePot,
    /// A tray or pail for brush and roller.
    Tray,
}

impl FillInto {
    /// In words.
    pub fn word(self) -> &'static str {
        match self {
            FillInto::GunCup => "gun cup",
            FillInto::PressurePot => "pressure pot",
            FillInto::Tray => "tray",
        }
    }
}

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
    pub no: i64,
    /// What goes into it.
    pub part_ml: f64,
}

/// The line is flushed: no mixed paint stands in it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Flush {
    /// With what.
    #[serde(default)]
    pub text: Option<String>,
}

/// A pour read at a mark of the cup instead of on a scale.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ByMark {
    /// The cup.
    pub cup: Cup,
    /// The level it stands at now.
    pub level_mm: f64,
}

/// Where a charge came from, when it was not opened in this book.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Born {
    /// Number of the pot it was part of.
    pub of_no: i64,
    /// Number of the batch it came from, when another.
    pub of_batch: Option<i64>,
}

impl Charge {
    /// The pours as they are of a part of it.
    pub fn share(&self, part: f64) -> Vec<Stamped<Poured>> {
        let mut pours = self.pours.clone();
        for pour in &mut pours {
            let w = &mut pour.it.weighed;
            w.reading_g *= part;
            w.resolution_g *= part;
            w.start_g = w.start_g.map(|g| g * part);
        }
        pours
    }

    /// The pours with what stands on the scale now: after a move to another cup that is what was weighed again.
    pub fn standing(&self) -> Vec<crate::mixing::Weighed> {
        let mut weighed = self.weighed();
        if let (Some(g), Some(last)) = (self.moved_g, weighed.last().copied()) {
            // Nothing is poured by it: the reading alone is another.
            weighed.push(crate::mixing::Weighed { reading_g: g, start_g: Some(g), ..last });
        }
        weighed
    }

    /// Everything in another cup: what is missing stayed in the old one, of all alike.
    pub fn transferred(&mut self, reading_g: f64) {
        let weighed = self.weighed();
        let total: f64 = Component::ALL.into_iter().map(|c| crate::mixing::total_g(&weighed, c)).sum();
        if total > 0.0 {
            let part = reading_g / total;
            self.pours = self.share(part);
            self.kept *= part;
            self.retarget = self.retarget.iter().map(|p| p.scaled(part)).collect();
        }
        self.moved_g = Some(reading_g);
    }
}

/// How finely the mass of a factory-filled can counts: its ratio is the maker's, and nothing in the shop measured it.
const WHOLE_CAN_G: f64 = 0.1;

/// What core adds to an entry before it is judged: a mass read at a mark, the plan of a rescue, paint by time and flow.
pub(super) fn complete(record: &Record, payload: &mut Payload, value: &mut Value, prefs: Prefs) -> Result<(), Refusal> {
    let Some(sheet) = record.aim().map(|b| &b.sheet) else { return Ok(()) };
    match payload {
        Payload::Pour(p) if p.whole_can => {
            let kit = sheet.kit().ok_or_else(|| {
                Refusal::bad_input("no-kit", "whole_can", "The sheet states no kit: weigh what goes in, or state its cans.")
            })?;
            let can_g = match p.component {
                Component::Base => kit.base_g,
                Component::Hardener => kit.hardener_g,
                _ => return Err(Refusal::bad_input("no-kit", "component", "A kit has a can of base and a can of hardener.")),
            };
            (p.reading_g, p.resolution_g, p.tared, p.mark) = (can_g, WHOLE_CAN_G, true, None);
            (value["reading_g"], value["resolution_g"], value["tared"]) = (can_g.into(), WHOLE_CAN_G.into(), true.into());
        }
        Payload::Pour(p) => {
            let (Some(mark), Some(charge)) = (p.mark, record.charge(p.charge)) else { return Ok(()) };
            mark.cup.check(prefs)?;
            let density = sheet.density_kg_l(p.component).ok_or_else(|| {
                Refusal::bad_input("density-missing", "component", "The sheet states no density of it: weigh it.")
            })?;
            let below_ml = charge.mixed_ml(sheet);
            let below_mm = mark.cup.level_mm(below_ml).ok_or_else(|| too_small(&mark.cup, prefs))?;
            limits::CUP_LEVEL.check("mark.level_mm", mark.level_mm, prefs)?;
            if mark.level_mm > mark.cup.height_mm {
                return Err(too_small(&mark.cup, prefs));
            }
            if mark.level_mm <= below_mm {
                return Err(Refusal::bad_input(
                    "mark-too-low",
                    "mark.level_mm",
                    format!("It stood at {} before: a pour stands higher.", show(below_mm, Kind::Length, prefs).text),
                ));
            }
            p.reading_g = (mark.cup.volume_ml(mark.level_mm) - below_ml) * density;
            p.resolution_g = 2.0 * mark.cup.off_ml(below_mm, mark.level_mm) * density;
            p.tared = true;
            (value["reading_g"], value["resolution_g"], value["tared"]) =
                (p.reading_g.into(), p.resolution_g.into(), true.into());
        }
        Payload::Rescue(r) => {
            let Some(charge) = record.charge(r.charge) else { return Ok(()) };
            let (plan, pours) = (record.plan(charge), charge.weighed());
            let way =
                rescues(sheet, &plan, &pours, charge.stirred.is_some()).into_iter().find(|w| w.to == r.to).ok_or_else(|| {
                    Refusal::conflict("nothing-to-rescue", "There is no such way any more: look at the ratio again.")
                })?;
            r.plan = retarget(&plan, &pours, &way);
            value["plan"] = serde_json::to_value(&r.plan).unwrap_or_default();
        }
        Payload::Pass(p) => {
            if let (None, Some(s), Some(flow)) = (p.used_ml, p.sprayed_watch_s, record.flow_ml_min()) {
                p.used_ml = Some(s / 60.0 * flow);
                value["used_ml"] = (s / 60.0 * flow).into();
            }
        }
        // What is thrown away is what is left, unless it is said otherwise.
        Payload::CloseCharge(c) if c.how == Ended::Discarded && c.waste_ml.is_none() => {
            let left = record.charge(c.charge).map_or(0.0, |pot| record.left_ml(pot));
            if left >= limits::AMOUNT.min {
                c.waste_ml = Some(left);
                value["waste_ml"] = left.into();
            }
        }
        _ => {}
    }
    Ok(())
}

/// What a waste costs, in words; nothing where the sheet states no price.
///
/// **Formula:** `price of a litre × waste`, rounded to the hundredth. **Units:** hundredths of the shop's money, mL.
pub fn cost_words(sheet: &crate::sheets::Sheet, waste_ml: f64) -> Option<String> {
    let minor = (sheet.price_minor_l? as f64 * waste_ml / 1000.0).round();
    Some(format!("{:.2}", minor / 100.0))
}

fn too_small(cup: &Cup, prefs: Prefs) -> Refusal {
    let holds = show(cup.volume_ml(cup.height_mm), Kind::Volume, prefs).text;
    Refusal::bad_input("cup-too-small", "mark.cup.height_mm", format!("This cup holds {holds}. Take a larger one."))
}

pub(super) fn may_plan(record: &Record, p: &PlanMix, prefs: Prefs) -> Result<(), Refusal> {
    let Some(aim) = record.aim() else { return Ok(()) };
    check_thinner(&aim.sheet, p.thinner_pct.unwrap_or(aim.thinner_pct), prefs)?;
    if aim.dry_um.is_some() {
        let thinner = p.thinner_pct.unwrap_or(aim.thinner_pct);
        let wet_um = record.wet_um(mixing::finished_solids_pct(&aim.sheet, thinner));
        limits::FILM.check("thinner_pct", wet_um, prefs)?;
    }
    record.need_by(p, None, prefs).map(|_| ())
}

pub(super) fn may_transfer(record: &Record, t: &Transfer) -> Result<(), Refusal> {
    let Some(charge) = record.charge(t.charge) else { return Ok(()) };
    let weighed = charge.weighed();
    let total: f64 = Component::ALL.into_iter().map(|c| total_g(&weighed, c)).sum();
    if total <= 0.0 {
        return Err(Refusal::conflict("empty-pot", format!("Pot {} is empty: there is nothing to move.", charge.no)));
    }
    let half: f64 = weighed.iter().map(|w| w.resolution_g).sum();
    if t.reading_g <= 0.0 || t.reading_g > total + half + t.resolution_g {
        return Err(Refusal::bad_input(
            "more-than-before",
            "reading_g",
            "The new cup cannot hold more than was in the old one. Was it tared?",
        ));
    }
    Ok(())
}

/// No more than is left.
fn within(record: &Record, charge: &Charge, field: &str, ml: f64, prefs: Prefs) -> Result<(), Refusal> {
    let left = record.left_ml(charge);
    if ml <= left * 1.001 + 0.5 {
        return Ok(());
    }
    let say = |ml| show(ml, Kind::Volume, prefs).text;
    Err(Refusal::bad_input(
        "more-than-left",
        field,
        format!("{} is more than the {} left in pot {}.", say(ml), say(left), charge.no),
    ))
}

pub(super) fn may_fill(record: &Record, f: &Fill, now: Timestamp, prefs: Prefs) -> Result<(), Refusal> {
    let Some(charge) = record.charge(f.charge) else { return Ok(()) };
    within(record, charge, "fill_ml", f.fill_ml, prefs)?;
    match record.clock(charge, now).map(|c| c.state) {
        Some(PotState::Spent) => {
            Err(Refusal::stop("spent", format!("Pot {} is spent: nothing of it goes to the gun.", charge.no)))
        }
        Some(PotState::Mixing) => {
            Err(Refusal::hold("unstirred", format!("Pot {} is not stirred yet: stir it, then fill.", charge.no)))
        }
        _ => Ok(()),
    }
}

pub(super) fn may_divide(record: &Record, d: &Divide, prefs: Prefs) -> Result<(), Refusal> {
    let Some(charge) = record.charge(d.charge) else { return Ok(()) };
    if record.charge(d.new_charge).is_some() {
        return Err(Refusal::conflict("charge-exists", "This pot is open already."));
    }
    if record.aim().is_some_and(|b| b.sheet.has_hardener) && charge.combined().is_some() && charge.stirred.is_none() {
        return Err(Refusal::hold("unstirred", format!("Stir pot {} first, or the two parts are not alike.", charge.no)));
    }
    within(record, charge, "part_ml", d.part_ml, prefs)
}

pub(super) fn may_close(record: &Record, c: &CloseCharge, prefs: Prefs) -> Result<(), Refusal> {
    let Some(charge) = record.charge(c.charge) else { return Ok(()) };
    match (c.how, c.waste_ml) {
        (Ended::HandedOver, _) => Err(Refusal::bad_input("not-this-way", "how", "Hand it over to a batch by name.")),
        // A product without hardener keeps in its can; what was poured is no bound for what is thrown away.
        (_, Some(ml)) => {
            let mixed = record.aim().map_or(0.0, |b| charge.mixed_ml(&b.sheet));
            if mixed > 0.0 { within(record, charge, "waste_ml", ml, prefs) } else { Ok(()) }
        }
        _ => Ok(()),
    }
}

impl Record {
    /// The need by a plan: area with its interval, the wet film of the thinner planned, and what the plan adds.
    ///
    /// **Formula:** [`mixing::need`] with the wet film of [`Record::wet_um`]. **Units:** mL. **Errors:** a refusal at
    /// `more.…` for an allowance outside its limit; `not-begun` for an empty book. **Source:** arithmetic.
    pub fn need_by(
        &self,
        plan: &PlanMix,
        learned: Option<mixing::Learned>,
        prefs: Prefs,
    ) -> Result<(crate::verdict::Measured, crate::working::Working), Refusal> {
        let Some(aim) = self.aim() else { return Err(Refusal::conflict("not-begun", "This batch is not begun.")) };
        let stated = crate::verdict::Measured::pm(aim.area_m2, 0.0);
        let area_m2 = crate::takeoff::area(&aim.takeoff, prefs).map_or(stated, |(m2, _)| m2);
        let thinner = plan.thinner_pct.unwrap_or(aim.thinner_pct);
        let solids_pct = mixing::finished_solids_pct(&aim.sheet, thinner);
        let wet_um = self.wet_um(solids_pct);
        let coat = mixing::CoatNeed { area_m2, wet_um, transfer_pct: aim.transfer_pct, solids_pct };
        mixing::need(&coat, &plan.more, learned, prefs).map_err(|r| match r.field.clone() {
            Some(field) => Refusal { field: Some(format!("more.{field}")), ..r },
            None => r,
        })
    }
}
