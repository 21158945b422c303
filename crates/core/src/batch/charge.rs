//! A charge: a pot, or what goes through the gun; what was poured into it, when it was born and stirred, what became of it.

use super::entries::{CloseCharge, Fill, FillInto, LotRef, ReadyFill};
use super::record::Stamped;
use crate::instruments::Overdue;
use crate::mixing::{self, Amount, Component, PlannedPour, RescueTo, Weighed};
use crate::pot_life::HeldTemperature;
use crate::recoat::CoatOver;
use crate::sheets::{ChargeKind, Sheet};
use crate::worded::VariantArray;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

/// One accepted pour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Poured {
    /// As weighed.
    pub weighed: Weighed,
    /// The lot.
    pub lot: Option<LotRef>,
    /// What it took out of its can, whatever was lost since.
    #[serde(default)]
    pub taken_g: f64,
    /// Read at a mark of a cup.
    #[serde(default)]
    pub by_mark: bool,
    /// A can of the kit, emptied whole.
    #[serde(default)]
    pub whole_can: bool,
    /// The printed cup it was read on.
    #[serde(default)]
    pub cup: Option<String>,
    /// The scale it was read on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub instrument: Option<Uuid>,
    /// The check of that scale was overdue, and what that did.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub overdue: Option<Overdue>,
}

/// A charge as it stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Charge {
    /// Id.
    pub id: Uuid,
    /// Pot number.
    pub no: i64,
    /// Pot or at the gun.
    pub kind: ChargeKind,
    /// Wanted in it.
    pub wanted_ml: f64,
    /// How it was asked, when not as a finished volume.
    #[serde(default)]
    pub amount: Option<Amount>,
    /// When it was opened.
    pub opened: Timestamp,
    /// The sequence of that entry.
    #[serde(default)]
    pub opened_seq: i64,
    /// Pours in order.
    pub pours: Vec<Stamped<Poured>>,
    /// Entry and time of the combine act.
    pub combine: Option<Stamped<()>>,
    /// When it was stirred with all that is in it: what is added later wants stirring again.
    pub stirred: Option<Timestamp>,
    /// Every time it was stirred as a step of its own, by instant and sequence.
    #[serde(default)]
    pub mixes: Vec<(Timestamp, i64)>,
    /// Its own temperatures, read in it.
    pub temperatures: Vec<HeldTemperature>,
    /// What the probe at the mixing bench read while it lived.
    #[serde(default)]
    pub bench_temperatures: Vec<HeldTemperature>,
    /// When spraying from it began.
    pub started: Option<Timestamp>,
    /// The sequence of that entry.
    #[serde(default)]
    pub started_seq: i64,
    /// The recoat window of the coat beneath, as it was known then.
    #[serde(default)]
    pub over: Option<CoatOver>,
    /// How it ended.
    pub closed: Option<Stamped<CloseCharge>>,
    /// The plan a rescue, a division or a transfer made; empty: that of the wanted volume.
    #[serde(default)]
    pub retarget: Vec<PlannedPour>,
    /// Part of what was planned that came along, through transfers and divisions.
    #[serde(default = "whole")]
    pub kept: f64,
    /// What the scale showed of it after it was moved to another cup, until the next pour.
    #[serde(default)]
    pub moved_g: Option<f64>,
    /// Every time it was stirred.
    #[serde(default)]
    pub stirs: Vec<Timestamp>,
    /// Ways back from a wrong pour that were taken.
    #[serde(default)]
    pub rescues: Vec<Stamped<RescueTo>>,
    /// Other cups it was moved to, with what was weighed there.
    #[serde(default)]
    pub transfers: Vec<Stamped<f64>>,
    /// What went to the gun.
    #[serde(default)]
    pub fills: Vec<Stamped<Fill>>,
    /// What came ready to use out of its can.
    #[serde(default)]
    pub ready_fills: Vec<Stamped<ReadyFill>>,
    /// What went to other vessels.
    #[serde(default)]
    pub out_ml: f64,
    /// Where it came from, when it was not opened here.
    #[serde(default)]
    pub born: Option<Born>,
    /// When hardener met base where it came from.
    #[serde(default)]
    pub combined_before: Option<Timestamp>,
    /// When hardener met base by entries that were struck, and that no lead denied.
    #[serde(default)]
    pub born_struck: Option<Timestamp>,
}

fn whole() -> f64 {
    1.0
}

/// What went to the gun at one time, out of a pot or out of a can.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OneFill {
    /// The entry.
    pub entry: Uuid,
    /// When.
    pub at: Timestamp,
    /// Its sequence.
    pub seq: i64,
    /// Into what.
    pub into: FillInto,
    /// How much.
    pub fill_ml: f64,
    /// Additive put into it.
    pub dose_g: Option<f64>,
    /// Stirred just before.
    pub stirred: bool,
    /// Through the strainer.
    pub strained: bool,
}

impl Charge {
    /// Every fill, out of a pot or out of a can.
    pub fn all_fills(&self) -> impl Iterator<Item = OneFill> {
        let of_pot = self.fills.iter().map(|f| {
            let Fill { into, fill_ml, dose_g, stirred, strained, .. } = f.it;
            OneFill { entry: f.entry, at: f.at, seq: f.seq, into, fill_ml, dose_g, stirred, strained }
        });
        let of_can = self.ready_fills.iter().map(|f| {
            let ReadyFill { into, fill_ml, dose_g, stirred, strained, .. } = f.it;
            OneFill { entry: f.entry, at: f.at, seq: f.seq, into, fill_ml, dose_g, stirred, strained }
        });
        of_pot.chain(of_can)
    }

    /// A charge as it is opened.
    pub fn open(id: Uuid, no: i64, kind: ChargeKind, wanted_ml: f64, opened: Timestamp) -> Charge {
        Charge {
            id,
            no,
            kind,
            wanted_ml,
            amount: None,
            opened,
            opened_seq: 0,
            pours: Vec::new(),
            combine: None,
            stirred: None,
            temperatures: Vec::new(),
            bench_temperatures: Vec::new(),
            started: None,
            started_seq: 0,
            over: None,
            closed: None,
            retarget: Vec::new(),
            kept: 1.0,
            moved_g: None,
            stirs: Vec::new(),
            rescues: Vec::new(),
            transfers: Vec::new(),
            fills: Vec::new(),
            ready_fills: Vec::new(),
            out_ml: 0.0,
            born: None,
            combined_before: None,
            born_struck: None,
            mixes: Vec::new(),
        }
    }

    /// The pours as the scale saw them.
    pub fn weighed(&self) -> Vec<Weighed> {
        self.pours.iter().map(|p| p.it.weighed).collect()
    }

    /// When hardener first met base by what stands: the act of combining, or the first pour of B, whichever is earlier.
    /// The earlier is the safe side.
    pub fn combined_now(&self) -> Option<Timestamp> {
        let poured = self.pours.iter().filter(|p| p.it.weighed.component == Component::Hardener).map(|p| p.at).min();
        [self.combine.as_ref().map(|c| c.at), poured, self.combined_before].into_iter().flatten().min()
    }

    /// The birth of the vessel: when hardener first met base, though the entry that says so be struck. Nothing gets younger.
    pub fn combined(&self) -> Option<Timestamp> {
        [self.combined_now(), self.born_struck].into_iter().flatten().min()
    }

    /// A birth that only a struck entry knows, earlier than what stands: a lead denies it, or releases the pot with it.
    pub fn birth_in_doubt(&self) -> Option<Timestamp> {
        self.born_struck.filter(|born| self.combined_now().is_none_or(|now| *born < now))
    }

    /// When base or hardener went in last.
    pub fn last_added(&self) -> Option<Timestamp> {
        self.last_addition().map(|(at, _)| at)
    }

    fn last_addition(&self) -> Option<(Timestamp, i64)> {
        self.additions().max()
    }

    /// Instant and sequence of every pour of base or hardener.
    fn additions(&self) -> impl Iterator<Item = (Timestamp, i64)> {
        let proportioned = |c: Component| matches!(c, Component::Base | Component::Hardener);
        self.pours.iter().filter(move |p| proportioned(p.it.weighed.component)).map(|p| (p.at, p.seq))
    }

    /// Stirring counts from the first time after base or hardener went in last: stirring once more changes nothing, an
    /// addition begins induction anew.
    pub fn settle_stirring(&mut self) {
        self.stirred = self.stirred_by(Timestamp::MAX);
    }

    /// The stirring that counted at an instant: what went in after it, and was stirred after it, did not matter then.
    pub fn stirred_by(&self, at: Timestamp) -> Option<Timestamp> {
        let added = self.additions().filter(|a| a.0 <= at).max();
        let mixes = self.mixes.iter().filter(|m| m.0 <= at);
        mixes.filter(|m| added.is_none_or(|a| **m >= a)).min().map(|(at, _)| *at)
    }

    /// Volume in the pot by what was weighed, in millilitres.
    ///
    /// **Formula:** `Σ m/ρ` over the components. **Units:** mL. **Source:** arithmetic; volumes are taken to add.
    pub fn mixed_ml(&self, sheet: &Sheet) -> f64 {
        Component::VARIANTS.iter().copied().map(|c| self.poured_ml(sheet, c)).sum()
    }

    /// Volume of one component by what was weighed; nothing where the sheet states no density.
    ///
    /// **Formula:** `m/ρ`. **Units:** g, kg/L, mL. **Source:** arithmetic with the density of the sheet.
    pub fn poured_ml(&self, sheet: &Sheet, component: Component) -> f64 {
        sheet.density_kg_l(component).map_or(0.0, |d| mixing::total_g(&self.weighed(), component) / d)
    }
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
    pub fn standing(&self) -> Vec<Weighed> {
        let mut weighed = self.weighed();
        if let (Some(g), Some(last)) = (self.moved_g, weighed.last().copied()) {
            // Nothing is poured by it: the reading alone is another.
            weighed.push(Weighed { reading_g: g, start_g: Some(g), ..last });
        }
        weighed
    }

    /// Everything in another cup: what is missing stayed in the old one, of all alike.
    pub fn transferred(&mut self, reading_g: f64) {
        let weighed = self.weighed();
        let total: f64 = Component::VARIANTS.iter().copied().map(|c| mixing::total_g(&weighed, c)).sum();
        if total > 0.0 {
            let part = reading_g / total;
            self.pours = self.share(part);
            self.kept *= part;
            self.retarget = self.retarget.iter().map(|p| p.scaled(part)).collect();
        }
        self.moved_g = Some(reading_g);
    }
}
