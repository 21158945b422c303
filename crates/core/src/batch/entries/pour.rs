//! A pour: weighed on a scale, read at a mark of the cup, or a can of a kit emptied whole.

use super::ready::refuse_stopped;
use super::{Asked, Hardens, Statement, Told, everyone, on, stamp};
use crate::batch::Entry;
use crate::batch::charge::{Charge, Poured};
use crate::batch::record::Record;
use crate::instruments::Overdue;
use crate::limits;
use crate::mixing::{self, ByLine, Component, Cup, Weighed};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::sheets::{ChargeKind, Sheet};
use crate::stores::LotKnown;
use crate::worded::capital;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A lot used.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LotRef {
    /// Id.
    pub id: Uuid,
    /// Code on the can.
    pub code: String,
    /// What the stores knew of it then; the server fills it in.
    #[serde(rename = "stand", default)]
    pub known: Option<LotKnown>,
}

/// A reading after a pour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Pour {
    pub charge: Uuid,
    pub component: Component,
    /// What the scale showed.
    pub reading_g: f64,
    /// Tared before this pour.
    #[serde(default)]
    pub tared: bool,
    /// Resolution of the scale; of a can or a cup core fills it in.
    #[serde(default)]
    #[schema(required = false)]
    pub resolution_g: f64,
    /// The scale.
    #[serde(default)]
    pub instrument: Option<Uuid>,
    /// The check of the scale was overdue, and what that did; the server fills it in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(read_only)]
    pub overdue: Option<Overdue>,
    /// The lot.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub lot: Option<LotRef>,
    /// Read at a mark of the cup: core reckons the mass and its interval from it.
    #[serde(default)]
    pub mark: Option<ByMark>,
    /// Filled to a line of a printed cup: core reckons the mass and its interval from it.
    #[serde(default)]
    pub line: Option<ByLine>,
    /// Taken by the scale itself, steady and in.
    #[serde(default)]
    pub by_scale: bool,
    /// A can of the kit, emptied whole, or filled up to its line: core fills in what it holds.
    #[serde(default)]
    pub whole_can: bool,
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

/// How finely the mass of a factory-filled can counts: its ratio is the maker's, and nothing in the shop measured it.
const WHOLE_CAN_G: f64 = 0.1;

impl Pour {
    /// A can of the kit, emptied whole: its mass is the maker's.
    fn of_whole_can(&mut self, sheet: &Sheet) -> Result<(), Refusal> {
        let kit = sheet.kit().ok_or_else(|| {
            Refusal::bad_input("no-kit", "whole_can", "The sheet states no kit: weigh what goes in, or state its cans.")
        })?;
        let can_g = match self.component {
            Component::Base => kit.base_g,
            Component::Hardener => kit.hardener_g,
            _ => return Err(Refusal::bad_input("no-kit", "component", "A kit has a can of base and a can of hardener.")),
        };
        (self.reading_g, self.resolution_g, self.tared, self.mark, self.line) = (can_g, WHOLE_CAN_G, true, None, None);
        Ok(())
    }

    /// Read at a mark of the cup: its mass and its interval are reckoned from the level.
    fn by_mark(&mut self, mark: ByMark, charge: &Charge, sheet: &Sheet, prefs: Prefs) -> Result<(), Refusal> {
        mark.cup.check(prefs)?;
        let density = sheet
            .density_kg_l(self.component)
            .ok_or_else(|| Refusal::bad_input("density-missing", "component", "The sheet states no density of it: weigh it."))?;
        let below_ml = charge.mixed_ml(sheet);
        let below_mm = mark.cup.level_mm(below_ml).ok_or_else(|| too_small(&mark.cup, prefs))?;
        limits::CUP_LEVEL.check("mark.level_mm", mark.level_mm, prefs)?;
        if mark.level_mm > mark.cup.height_mm {
            return Err(too_small(&mark.cup, prefs));
        }
        if mark.level_mm <= below_mm {
            let text = format!("It stood at {} before: a pour stands higher.", show(below_mm, QuantityKind::Length, prefs).text);
            return Err(Refusal::bad_input("mark-too-low", "mark.level_mm", text));
        }
        self.reading_g = (mark.cup.volume_ml(mark.level_mm) - below_ml) * density;
        self.resolution_g = 2.0 * mark.cup.off_ml(below_mm, mark.level_mm) * density;
        self.tared = true;
        Ok(())
    }
}

impl Pour {
    /// Filled to a line of a printed cup.
    fn by_line(&mut self, line: &ByLine, charge: &Charge, sheet: &Sheet, asked: &Asked<'_>) -> Result<(), Refusal> {
        let density = sheet
            .density_kg_l(self.component)
            .ok_or_else(|| Refusal::bad_input("density-missing", "component", "The sheet states no density of it: weigh it."))?;
        let before = charge.pours.last().map(|last| (last.it.weighed.component, charge.mixed_ml(sheet)));
        let thinner_pct = asked.case.thinner_pct();
        let read = line.read(sheet, (self.component, thinner_pct), before, asked.prefs())?;
        (self.reading_g, self.resolution_g, self.tared) = (read.poured_ml * density, 2.0 * read.off_ml * density, true);
        Ok(())
    }
}

fn too_small(cup: &Cup, prefs: Prefs) -> Refusal {
    let holds = show(cup.volume_ml(cup.height_mm), QuantityKind::Volume, prefs).text;
    Refusal::bad_input("cup-too-small", "mark.cup.height_mm", format!("This cup holds {holds}. Take a larger one."))
}

impl Statement for Pour {
    const WAITS_AS: Option<&'static str> = Some("Pour");
    const WHO: fn(Role) -> May = everyone;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn hardens(&self) -> Option<Hardens> {
        let lot = self.lot.as_ref().map(|l| l.id);
        (self.component == Component::Hardener).then_some(Hardens { charge: self.charge, lot, onto_base: false })
    }

    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        let Some(sheet) = asked.case.aim().map(|b| &b.sheet) else { return Ok(()) };
        match (self.whole_can, self.mark, self.line.clone(), asked.case.charge(self.charge)) {
            (true, ..) => self.of_whole_can(sheet)?,
            (false, Some(mark), None, Some(charge)) => self.by_mark(mark, charge, sheet, asked.prefs())?,
            (false, None, Some(line), Some(charge)) => self.by_line(&line, charge, sheet, asked)?,
            (false, Some(_), Some(_), _) => {
                return Err(Refusal::bad_input("one-of-two", "line", "Read at a mark or at a line: one of the two."));
            }
            (false, ..) => return Ok(()),
        }
        (value["reading_g"], value["resolution_g"], value["tared"]) =
            (self.reading_g.into(), self.resolution_g.into(), true.into());
        Ok(())
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        on_scale("reading_g", self.reading_g, self.resolution_g, prefs)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let record = asked.case;
        if let Some(charge) = record.charge(self.charge) {
            self.fits(record, charge)?;
        }
        self.lot.as_ref().map_or(Ok(()), |lot| refuse_stopped(record, self.component, lot, asked.happened))
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        on(record, self.charge, |c| {
            let (component, start_g) = (self.component, c.moved_g.take());
            let (reading_g, tared, resolution_g) = (self.reading_g, self.tared, self.resolution_g);
            let weighed = Weighed { component, reading_g, tared, resolution_g, start_g };
            let (by_mark, whole_can) = (self.mark.is_some() || self.line.is_some(), self.whole_can);
            let cup = self.line.map(|line| line.cup.name);
            c.pours.push(stamp(
                entry,
                Poured {
                    weighed,
                    lot: self.lot,
                    taken_g: 0.0,
                    by_mark,
                    whole_can,
                    cup,
                    instrument: self.instrument,
                    overdue: self.overdue,
                },
            ));
            let (all, last) = (c.weighed(), c.pours.len() - 1);
            c.pours[last].it.taken_g = mixing::poured_g(&all, last);
            c.settle_stirring();
        });
    }

    fn words(&self, told: &Told<'_>) -> String {
        let lot = self.lot.as_ref().map_or(String::new(), |l| format!(", lot {}", l.code));
        let sheet = told.record.aim().map(|aim| &aim.sheet);
        let to_line = self.component == Component::Hardener && sheet.is_some_and(|s| s.kit_to_line);
        let on_line = self.line.as_ref().map(|line| format!("to a line of the {}", line.cup.name));
        let how = match (self.whole_can, self.mark.is_some(), &on_line, self.tared) {
            (true, ..) if to_line => "to the line of the can",
            (true, ..) => "a whole can",
            (_, true, ..) => "by the mark",
            (_, _, Some(line), _) => line,
            (.., true) => "apart",
            (.., false) => "on the scale",
        };
        let name = capital(&told.component(self.component));
        let in_what = sheet.map_or(QuantityKind::Mass, |s| s.said_in(self.component));
        format!("{name} in {}: {} {how}{lot}", told.pot(self.charge), told.say(self.reading_g, in_what))
    }
}

impl Pour {
    /// What this charge and its sheet have a place for.
    fn fits(&self, record: &Record, charge: &Charge) -> Result<(), Refusal> {
        if charge.kind == ChargeKind::AtGun {
            return Err(Refusal::conflict("at-gun", "This product is mixed at the gun: there is nothing to pour together."));
        }
        let last = charge.pours.last().map_or(0.0, |p| p.it.weighed.reading_g);
        if !self.tared && self.reading_g < last - self.resolution_g {
            return Err(Refusal::bad_input(
                "scale-fell",
                "reading_g",
                "The scale shows less than before this pour. Was it tared, or the cup changed? Tick “tared before” or read again.",
            ));
        }
        let on_a_scale = self.mark.is_none() && self.line.is_none() && !self.whole_can && self.component.additive().is_none();
        if on_a_scale && record.aim().is_some_and(|b| b.sheet.by_volume_alone()) {
            return Err(Refusal::bad_input(
                "density-missing",
                "reading_g",
                "The sheet states no densities: a weight says nothing of this ratio. Fill to a line of a cup, or complete the sheet.",
            ));
        }
        if self.component.additive().is_some_and(|i| record.aim().is_some_and(|b| i >= b.sheet.additives.len())) {
            return Err(Refusal::bad_input("no-additive", "component", "The sheet has no such additive."));
        }
        if self.component == Component::Hardener && record.aim().is_some_and(|b| !b.sheet.has_hardener) {
            return Err(Refusal::bad_input("no-hardener", "component", "This product has no second component."));
        }
        Ok(())
    }
}

/// A reading and the resolution of its scale, inside the limits of sense.
pub(super) fn on_scale(field: &str, reading_g: f64, resolution_g: f64, prefs: Prefs) -> Result<(), Refusal> {
    limits::SCALE_READING.check(field, reading_g, prefs)?;
    limits::SCALE_RESOLUTION.check("resolution_g", resolution_g, prefs).map(drop)
}
