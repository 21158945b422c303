//! Spray: a charge goes on the part, passes, the charge ended, the line flushed.

use super::ready::optional_text;
use super::vessels::within;
use super::{Asked, Statement, Told, everyone, known, on, stamp};
use crate::batch::Entry;
use crate::batch::beside::{Neighbour, window_beneath};
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::gates::{self, Act};
use crate::batch::passes::ZonePasses;
use crate::batch::record::{Record, Stamped};
use crate::limits::{self, check_text};
use crate::mixing::{self, Component};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::recoat::{CoatLink, CoatOver};
use crate::refusal::Refusal;
pub use crate::sheets::PassWay;
use crate::sheets::{ChargeKind, Sheet};
use crate::worded::Worded;
use crate::worded::{VariantArray, capital};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// Spraying begins.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StartSpraying {
    /// Which charge.
    pub charge: Uuid,
    /// The recoat window it goes on in; core fills it in from what the shop knows.
    #[serde(default)]
    #[schema(read_only)]
    pub over: Option<CoatOver>,
}

/// A pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Pass {
    /// Which charge.
    pub charge: Uuid,
    /// Which zones; empty means the whole part.
    #[serde(default)]
    pub zones: Vec<Uuid>,
    /// The step of the coat it is of, as the sheet names it.
    #[serde(default)]
    pub step: Option<String>,
    /// Its way over the part.
    #[serde(default)]
    pub way: Option<PassWay>,
    /// Paint used, when known; core reckons it from the time sprayed and the flow where that is given instead.
    #[serde(default)]
    pub used_ml: Option<f64>,
    /// How long the trigger was pulled.
    #[serde(default)]
    pub sprayed_watch_s: Option<f64>,
}

/// How a charge ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum Ended {
    /// Sprayed out.
    #[strum(serialize = "emptied")]
    Emptied,
    /// Thrown away, what was left of it.
    #[strum(serialize = "discarded")]
    Discarded,
    /// Handed over to another batch.
    #[strum(serialize = "handed over")]
    HandedOver,
    /// What was left, ready to use, went back to its can.
    #[strum(serialize = "back to its can")]
    BackToCan,
    /// What is left, ready to use, stays in pot and hose.
    #[strum(serialize = "left in the pot")]
    LeftInPot,
}

impl Worded for Ended {}

/// A charge ended.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CloseCharge {
    /// Which.
    pub charge: Uuid,
    /// How.
    pub how: Ended,
    /// Why, for a discard.
    #[serde(default)]
    pub reason: Option<String>,
    /// What was thrown away, or went back.
    #[serde(default)]
    pub waste_ml: Option<f64>,
    /// The same as weighed, without its can; the volume follows from what is in the pot.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub waste_g: Option<f64>,
}

/// The line is flushed: no mixed paint stands in it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Flush {
    /// With what.
    #[serde(default)]
    pub text: Option<String>,
}

impl Statement for StartSpraying {
    const WAITS_AS: Option<&'static str> = Some("Spraying began");
    const WHO: fn(Role) -> May = everyone;
    const NEEDS: &'static [Neighbour] = Neighbour::OF_THE_GATES;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        may_spray(asked.case, self.charge, asked.then(), asked.prefs())?;
        let over = asked.case.beside.beneath.as_ref().and_then(|b| {
            let CoatLink { batch, number, coat, .. } = b.link.clone();
            window_beneath(asked.case).map(|w| CoatOver { batch, number, coat, earliest: w.earliest, latest: w.latest })
        });
        value["over"] = serde_json::to_value(over).unwrap_or_default();
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| {
            if c.started.is_none() {
                (c.started, c.started_seq) = (Some(entry.happened), entry.seq);
            }
            c.over = self.over;
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("{} from {}", capital(told.record.put_on().doing), told.pot(self.charge))
    }
}

/// No spraying in induction, from a spent pot, with the ratio open or the conditions on hold.
pub fn may_spray(case: &Case<'_>, charge: Uuid, now: Timestamp, prefs: Prefs) -> Result<(), Refusal> {
    let charge = known(case, charge)?;
    let standing = gates::before_with(case, Act::Spray, charge, now, prefs);
    let waits = standing.waits.clone();
    standing.refuse()?;
    if charge.kind == ChargeKind::Pot && charge.pours.is_empty() {
        return Err(Refusal::hold("empty-pot", format!("Pot {} is empty. Fill it at Mix.", charge.no)));
    }
    // What the gates of the charge wait for is not there yet: absence is never a pass. Film is what the spraying itself brings.
    match waits.into_iter().find(|(gate, _)| gate.is_of_a_charge()) {
        Some((_, what)) => Err(Refusal::hold("not-combined", what)),
        None => Ok(()),
    }
}

/// Every zone named is one of the part; where it has several, one must be named.
pub(super) fn in_zones(record: &Record, field: &str, zones: &[Uuid]) -> Result<(), Refusal> {
    let all = record.aim().map(|b| b.zones.as_slice()).unwrap_or_default();
    if zones.is_empty() && all.len() > 1 {
        return Err(Refusal::bad_input("which-zone", field, "The part has several zones: which of them?"));
    }
    match zones.iter().all(|z| all.iter().any(|k| k.id == *z)) {
        true => Ok(()),
        false => Err(Refusal::bad_input("unknown-zone", field, "The part has no such zone.")),
    }
}

/// Two stamps nearer than this are one pass: no pass over a zone takes less; from memory.
const ONE_STAMP_S: f64 = 0.5;

impl Pass {
    /// A bare stamp just after another of the same zones is a second tap, whoever's screen it came from.
    fn is_no_second_tap(&self, asked: &Asked<'_>) -> Result<(), Refusal> {
        // A stamp that says what it took, or of which step it is, is no second tap.
        let bare = self.used_ml.is_none() && self.sprayed_watch_s.is_none() && self.step.is_none() && self.way.is_none();
        let again = |p: &Stamped<Pass>| {
            let apart_s = asked.happened.duration_since(p.at).as_secs_f64().abs();
            let said_nothing = p.it.used_ml.is_none() && p.it.sprayed_watch_s.is_none();
            said_nothing && p.it.zones == self.zones && p.it.charge == self.charge && apart_s < ONE_STAMP_S
        };
        match bare && asked.case.passes.iter().any(again) {
            true => Err(Refusal::conflict("stamped-just-now", "This pass is stamped already: two taps are one pass.")),
            false => Ok(()),
        }
    }

    /// The step and the way, as the sheet plans them for the first of its zones, where they are not said.
    fn as_planned(&mut self, asked: &Asked<'_>, value: &mut Value) {
        let zones = asked.case.zone_passes();
        let here = |z: &&ZonePasses<'_>| self.zones.is_empty() || z.id.is_some_and(|id| self.zones.contains(&id));
        let Some(next) = zones.iter().filter(here).min_by_key(|z| (z.made.len(), z.rank, z.place)).and_then(|z| z.next) else {
            return;
        };
        if let (None, Some(step)) = (&self.step, next.step) {
            self.step = Some(step.name.clone());
            value["step"] = step.name.clone().into();
        }
        if let (None, Some(way)) = (self.way, next.way) {
            self.way = Some(way);
            value["way"] = serde_json::to_value(way).unwrap_or_default();
        }
    }
}

impl Statement for Pass {
    const WAITS_AS: Option<&'static str> = Some("Pass");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    /// Paint by the time sprayed and the flow, where it is not said.
    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        if let (None, Some(s), Some(flow)) = (self.used_ml, self.sprayed_watch_s, asked.case.flow_ml_min()) {
            let used_ml = s / 60.0 * flow;
            self.used_ml = Some(used_ml);
            value["used_ml"] = used_ml.into();
        }
        self.is_no_second_tap(asked)?;
        self.as_planned(asked, value);
        Ok(())
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        if let Some(step) = &self.step {
            check_text("step", step, limits::ADDITIVE_CHARS)?;
        }
        limits::CATCH_TIME.check_optional("sprayed_watch_s", self.sprayed_watch_s, prefs)?;
        limits::AMOUNT.check_optional("used_ml", self.used_ml, prefs).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        in_zones(asked.case, "zones", &self.zones)?;
        if let Some(charge) = asked.case.charge(self.charge).filter(|c| asked.happened < c.opened) {
            let text = format!("Pot {} was not opened yet then.", charge.no);
            return Err(Refusal::bad_input("before-its-pot", "happened", text));
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.passes.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let used = self.used_ml.map_or(String::new(), |ml| format!(", {}", told.say(ml, QuantityKind::Volume)));
        let zones: Vec<String> = self.zones.iter().map(|z| told.zone(*z)).collect();
        let place = if zones.is_empty() { String::new() } else { format!(" on {}", zones.join(", ")) };
        let step = self.step.as_deref().map_or(String::new(), |s| format!(", {s}"));
        let way = self.way.map_or(String::new(), |w| format!(", {}", w.word()));
        format!("Pass from {}{place}{step}{way}{used}", told.pot(self.charge))
    }
}

impl Statement for CloseCharge {
    const WAITS_AS: Option<&'static str> = Some("Pot closed");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    /// What is thrown away or goes back is what is left, unless it is said otherwise.
    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        let Some(aim) = asked.case.aim().filter(|_| matches!(self.how, Ended::Discarded | Ended::BackToCan)) else {
            return Ok(());
        };
        if let Some(waste_g) = self.waste_g {
            let density = asked.case.charge(self.charge).and_then(|pot| mixed_kg_l(&aim.sheet, pot));
            let density = density.ok_or_else(|| {
                let text = "How dense it is nobody knows: nothing of the pot was weighed. Say how much by volume.";
                Refusal::bad_input("no-density", "waste_g", text)
            })?;
            if self.waste_ml.is_some() {
                return Err(Refusal::bad_input("one-of", "waste_g", "Say what is thrown away by volume or by weight, not both."));
            }
            self.waste_ml = Some(waste_g / density);
            value["waste_ml"] = (waste_g / density).into();
        }
        if self.waste_ml.is_some() {
            return Ok(());
        }
        let left = asked.case.charge(self.charge).map_or(0.0, |pot| asked.case.left_ml(pot));
        if left >= limits::AMOUNT.min {
            self.waste_ml = Some(left);
            value["waste_ml"] = left.into();
        }
        Ok(())
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::STOCK.check_optional("waste_g", self.waste_g, prefs)?;
        limits::AMOUNT.check_optional("waste_ml", self.waste_ml, prefs)?;
        if self.how == Ended::Discarded {
            check_text("reason", self.reason.as_deref().unwrap_or(""), limits::TEXT_CHARS)?;
        }
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let record = asked.case;
        let Some(charge) = record.charge(self.charge) else { return Ok(()) };
        let field = if self.waste_g.is_some() { "waste_g" } else { "waste_ml" };
        match (self.how, self.waste_ml) {
            (Ended::HandedOver, _) => Err(Refusal::bad_input("not-this-way", "how", "Hand it over to a batch by name.")),
            // A product without hardener keeps in its can; what was poured is no bound for what is thrown away.
            (Ended::Emptied | Ended::Discarded, Some(ml)) => {
                let mixed = record.aim().map_or(0.0, |b| charge.mixed_ml(&b.sheet));
                if mixed > 0.0 { within(record, charge, field, ml, asked.prefs()) } else { Ok(()) }
            }
            (Ended::Emptied | Ended::Discarded, None) => Ok(()),
            (Ended::BackToCan, ml) => {
                keeps_in_its_can(record, charge)?;
                ml.map_or(Ok(()), |ml| within(record, charge, field, ml, asked.prefs()))
            }
            (Ended::LeftInPot, Some(_)) => Err(Refusal::bad_input("not-this-way", "waste_ml", "What stays is not thrown away.")),
            (Ended::LeftInPot, None) => keeps(record),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| c.closed = Some(stamp(entry, self)));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let pot = told.pot(self.charge);
        match self.how {
            Ended::Emptied | Ended::HandedOver => capital(&format!("{} {pot}", self.how.word())),
            Ended::BackToCan => {
                let back = self.waste_ml.map_or("what was left".into(), |ml| told.say(ml, QuantityKind::Volume));
                format!("{}: {back} back to its can", capital(&pot))
            }
            Ended::LeftInPot => format!("{}: the rest stays in pot and hose", capital(&pot)),
            Ended::Discarded => {
                let weighed = self.waste_g.map_or(String::new(), |g| format!(", {}", told.say(g, QuantityKind::Mass)));
                let waste =
                    self.waste_ml.map_or(String::new(), |ml| format!("{weighed}, {}", told.say(ml, QuantityKind::Volume)));
                let sheet = told.record.aim().map(|b| &b.sheet);
                let cost = sheet.zip(self.waste_ml).and_then(|(s, ml)| cost_words(s, ml));
                let cost = cost.map_or(String::new(), |c| format!(", cost {c}"));
                format!("Discarded {pot}: {}{waste}{cost}", self.reason.as_deref().unwrap_or_default())
            }
        }
    }
}

/// How dense what was mixed is, by what was weighed into the pot.
///
/// **Formula:** `Σ m / Σ V`. **Units:** kg/L. **Source:** arithmetic with the densities of the sheet.
fn mixed_kg_l(sheet: &Sheet, pot: &Charge) -> Option<f64> {
    let weighed = pot.weighed();
    let poured = Component::VARIANTS.iter().map(|c| (*c, mixing::total_g(&weighed, *c))).filter(|(_, g)| *g > 0.0);
    let (mut mixed_g, mut mixed_ml) = (0.0, 0.0);
    for (component, poured_g) in poured {
        mixed_g += poured_g;
        mixed_ml += poured_g / sheet.density_kg_l(component)?;
    }
    (mixed_ml > 0.0).then(|| mixed_g / mixed_ml)
}

/// Paint that ages does not stay where it is.
fn keeps(record: &Record) -> Result<(), Refusal> {
    match record.aim().is_some_and(|aim| aim.sheet.has_hardener) {
        true => Err(Refusal::stop("mixed-stays-never", "Mixed paint cures where it stays: empty it, or discard the rest.")),
        false => Ok(()),
    }
}

/// Only what is as it came goes back to its can.
fn keeps_in_its_can(record: &Record, charge: &Charge) -> Result<(), Refusal> {
    if record.aim().is_some_and(|aim| aim.sheet.has_hardener) {
        return Err(Refusal::stop("mixed-back-never", "Mixed paint never goes back to a can: it would cure the whole of it."));
    }
    let changed = charge.pours.iter().any(|p| p.it.weighed.component != Component::Base)
        || charge.all_fills().any(|f| f.dose_g.is_some_and(|g| g > 0.0));
    match changed {
        true => Err(Refusal::hold("changed", "It is thinned or dosed: keep it in a can of its own, marked, or discard it.")),
        false => Ok(()),
    }
}

/// What a waste costs, in words; nothing where the sheet states no price.
///
/// **Formula:** `price of a litre × waste`, rounded to the hundredth. **Units:** hundredths of the shop's money a litre, mL.
pub fn cost_words(sheet: &Sheet, waste_ml: f64) -> Option<String> {
    let minor = (sheet.price_minor_l? * waste_ml / 1000.0).round();
    Some(format!("{:.2}", minor / 100.0))
}

impl Statement for Flush {
    const WAITS_AS: Option<&'static str> = Some("Line flushed");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        optional_text("text", self.text.as_deref())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        match asked.case.hose(asked.now).is_some() || asked.case.stays_in_hose(asked.now).is_some() {
            true => Ok(()),
            false => Err(Refusal::conflict("nothing-in-the-line", "No paint stands in the line.")),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.flushes.push(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        self.text.as_deref().map_or("Line flushed".into(), |t| format!("Line flushed: {t}"))
    }
}
