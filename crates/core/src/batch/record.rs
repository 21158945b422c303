//! What the entries of a batch add up to. No clock is read here.

use super::Kind;
use super::mixed::{Born, Fill, Flush, PlanMix};
use super::payload::{Answer, Begin, Catch, CloseCharge, LotRef, Pass, Payload, Release, TakeLot};
use super::set_up::{CupRun, FlowCatch, SetStep, SetUp};
use crate::conditions::Readings;
use crate::film;
use crate::lists::Tick;
use crate::mixing::{self, Amount, Component, OnThePart, PlannedPour, RescueTo, Weighed};
use crate::pot_life::{self, Clocked, HeldTemperature};
use crate::quantity::Prefs;
use crate::rigs::ChooseRig;
use crate::schedule::{Beside, CoatOver};
use crate::sheets::{ChargeKind, Hazard, Sheet};
use crate::verdict::Measured;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// Something written by someone at some time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Stamped<T> {
    /// The entry.
    pub entry: Uuid,
    /// Its sequence.
    pub seq: i64,
    /// When it happened.
    pub at: Timestamp,
    /// Who wrote it.
    pub by: String,
    /// Who, by id.
    #[serde(default)]
    pub who: Uuid,
    /// What.
    pub it: T,
}

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
    /// Pours in order.
    pub pours: Vec<Stamped<Poured>>,
    /// Entry and time of the combine act.
    pub combine: Option<Stamped<()>>,
    /// When it was stirred.
    pub stirred: Option<Timestamp>,
    /// Its own temperatures.
    pub temperatures: Vec<HeldTemperature>,
    /// When spraying from it began.
    pub started: Option<Timestamp>,
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
    /// What went to other vessels.
    #[serde(default)]
    pub out_ml: f64,
    /// Where it came from, when it was not opened here.
    #[serde(default)]
    pub born: Option<Born>,
    /// When hardener met base where it came from.
    #[serde(default)]
    pub combined_before: Option<Timestamp>,
}

fn whole() -> f64 {
    1.0
}

impl Charge {
    /// A charge as it is opened.
    pub fn open(id: Uuid, no: i64, kind: ChargeKind, wanted_ml: f64, opened: Timestamp) -> Charge {
        Charge {
            id,
            no,
            kind,
            wanted_ml,
            amount: None,
            opened,
            pours: Vec::new(),
            combine: None,
            stirred: None,
            temperatures: Vec::new(),
            started: None,
            over: None,
            closed: None,
            retarget: Vec::new(),
            kept: 1.0,
            moved_g: None,
            stirs: Vec::new(),
            rescues: Vec::new(),
            transfers: Vec::new(),
            fills: Vec::new(),
            out_ml: 0.0,
            born: None,
            combined_before: None,
        }
    }

    /// The pours as the scale saw them.
    pub fn weighed(&self) -> Vec<Weighed> {
        self.pours.iter().map(|p| p.it.weighed).collect()
    }

    /// When hardener first met base: the act of combining, or the first pour of B, whichever is earlier.
    /// The earlier is the safe side.
    pub fn combined(&self) -> Option<Timestamp> {
        let poured = self.pours.iter().find(|p| p.it.weighed.component == Component::Hardener).map(|p| p.at);
        [self.combine.as_ref().map(|c| c.at), poured, self.combined_before].into_iter().flatten().min()
    }

    /// Volume in the pot by what was weighed, in millilitres.
    pub fn mixed_ml(&self, sheet: &Sheet) -> f64 {
        Component::ALL.into_iter().map(|c| self.poured_ml(sheet, c)).sum()
    }

    /// Volume of one component by what was weighed; nothing where the sheet states no density.
    pub fn poured_ml(&self, sheet: &Sheet, component: Component) -> f64 {
        sheet.density_kg_l(component).map_or(0.0, |d| mixing::total_g(&self.weighed(), component) / d)
    }
}

/// A comb reading with its film.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CombRead {
    /// Where.
    pub zone: Option<Uuid>,
    /// Passes on that place before the reading.
    pub after_pass: usize,
    /// All wet so far.
    pub total_um: Measured,
    /// The pass alone.
    pub pass_um: Measured,
}

/// A fact that broke a rule and must be answered before signing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Deviation {
    /// The entry it hangs on.
    pub entry: Uuid,
    /// Code.
    pub code: String,
    /// What happened.
    pub text: String,
    /// The answer, once given.
    pub answer: Option<String>,
}

/// A signature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Signature {
    /// Who.
    pub who: Uuid,
    /// Name.
    pub by: String,
    /// When.
    pub at: Timestamp,
    /// Hash of the entry that signs.
    pub hash: String,
}

/// A line of the log strip.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Logged {
    /// The entry.
    pub entry: Uuid,
    /// Its sequence.
    pub seq: i64,
    /// Kind.
    pub kind: Kind,
    /// When it happened.
    pub at: Timestamp,
    /// It was entered later than two minutes after.
    pub late: bool,
    /// Who.
    pub who: Uuid,
    /// Name.
    pub by: String,
    /// What it said.
    pub payload: Arc<serde_json::Value>,
    /// The same, read once; `None` where this version cannot read it.
    #[serde(skip)]
    pub said: Option<Arc<Payload>>,
    /// The charge it is about, if it is about one.
    #[serde(default)]
    pub about: Option<Uuid>,
    /// Struck: by whom and why.
    pub struck: Option<String>,
}

/// The whole record of a batch.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Record {
    pub begin: Option<Stamped<Begin>>,
    pub conditions: Vec<Stamped<Readings>>,
    pub guards: BTreeSet<Hazard>,
    /// Lots taken at Ready, in order.
    #[serde(default)]
    pub lots: Vec<Stamped<TakeLot>>,
    /// Items of the lists, in order.
    #[serde(default)]
    pub ticks: Vec<Stamped<Tick>>,
    pub charges: Vec<Charge>,
    /// How the coat is to be mixed and sprayed, as last planned.
    #[serde(default)]
    pub plan_mix: Option<Stamped<PlanMix>>,
    /// When the line was flushed.
    #[serde(default)]
    pub flushes: Vec<Stamped<Flush>>,
    /// The rig it is sprayed with.
    #[serde(default)]
    pub rig: Option<Stamped<ChooseRig>>,
    pub set_ups: Vec<Stamped<SetUp>>,
    /// What the gun delivered.
    #[serde(default)]
    pub flow_catches: Vec<Stamped<FlowCatch>>,
    /// Steps of the stream test that were ticked.
    pub set_steps: Vec<Stamped<SetStep>>,
    /// Flow cups that were run.
    pub cup_runs: Vec<Stamped<CupRun>>,
    pub catches: Vec<Stamped<Catch>>,
    pub passes: Vec<Stamped<Pass>>,
    pub combs: Vec<Stamped<CombRead>>,
    pub answers: Vec<Stamped<Answer>>,
    pub releases: Vec<Stamped<Release>>,
    pub deviations: Vec<Deviation>,
    pub signature: Option<Signature>,
    pub acceptance: Option<Signature>,
    /// Everyone who wrote a fact or act of the work.
    pub workers: BTreeSet<Uuid>,
    pub log: Vec<Logged>,
    /// What the shop knows beside this book; given at reading, never stored.
    #[serde(skip)]
    pub beside: Beside,
    pub head_seq: i64,
    pub head_hash: String,
}

/// A lot in use for a component: taken at Ready, or named at a pour.
#[derive(Debug, Clone, Copy)]
pub struct TakenLot<'a> {
    /// For which.
    pub component: Component,
    /// Which.
    pub lot: &'a LotRef,
    /// Since when.
    pub at: Timestamp,
}

impl Record {
    /// Every lot taken or poured by an instant, in time order.
    pub fn lots_at(&self, at: Timestamp) -> Vec<TakenLot<'_>> {
        let taken = self.lots.iter().map(|t| TakenLot { component: t.it.component, lot: &t.it.lot, at: t.at });
        let poured = self
            .charges
            .iter()
            .flat_map(|c| &c.pours)
            .filter_map(|p| p.it.lot.as_ref().map(|lot| TakenLot { component: p.it.weighed.component, lot, at: p.at }));
        let mut all: Vec<TakenLot<'_>> = taken.chain(poured).filter(|l| l.at <= at).collect();
        all.sort_by_key(|l| l.at);
        all
    }

    /// The pinned sheet and the aim. `None` before the first entry.
    pub fn aim(&self) -> Option<&Begin> {
        self.begin.as_ref().map(|b| &b.it)
    }

    /// A charge by id.
    pub fn charge(&self, id: Uuid) -> Option<&Charge> {
        self.charges.iter().find(|c| c.id == id)
    }

    /// Temperatures that held for a charge: the material's readings and its own, in time order.
    pub fn temperatures(&self, charge: &Charge) -> Vec<HeldTemperature> {
        let mut all: Vec<HeldTemperature> = self
            .conditions
            .iter()
            .map(|c| HeldTemperature { from: c.at, temp_c: c.it.material_c })
            .chain(charge.temperatures.iter().copied())
            .collect();
        all.sort_by_key(|h| h.from);
        all
    }

    /// The clocks of a charge at an instant; `None` for one that does not age, or not yet.
    pub fn clock(&self, charge: &Charge, now: Timestamp) -> Option<Clocked> {
        let until = charge.closed.as_ref().map_or(now, |c| c.at.min(now));
        pot_life::clock(&self.aim()?.sheet, &self.temperatures(charge), charge.combined()?, charge.stirred, until)
    }

    /// The pouring plan of a charge. Empty when it has none.
    pub fn plan(&self, charge: &Charge) -> Vec<PlannedPour> {
        if !charge.retarget.is_empty() {
            return charge.retarget.clone();
        }
        let wanted_ml = charge.wanted_ml * charge.kept;
        self.aim()
            .filter(|_| charge.kind == ChargeKind::Pot)
            .and_then(|b| mixing::plan(&b.sheet, wanted_ml, self.thinner_pct(), Prefs::METRIC).ok())
            .unwrap_or_default()
    }

    /// Thinner as planned last.
    pub fn thinner_pct(&self) -> f64 {
        let planned = self.plan_mix.as_ref().and_then(|p| p.it.thinner_pct);
        planned.or(self.aim().map(|b| b.thinner_pct)).unwrap_or(0.0)
    }

    /// Wet film aimed at with so much of solids in the paint: where a dry film was asked, what dries to it.
    ///
    /// **Formula:** `WFT = DFT / VS` for a dry film asked; a wet one stays as asked. **Units:** µm, per cent.
    /// **Check:** 2.2 mil dry of 62 % solids is 3.548 mil wet; with 10 % thinner of mixed 3.903 mil.
    pub fn wet_um(&self, solids_pct: f64) -> f64 {
        self.aim().map_or(0.0, |b| b.dry_um.map_or(b.wet_um, |dry| film::wet_for_dry_um(dry, solids_pct)))
    }

    /// Wet film aimed at with the paint in use: as poured, else as planned.
    pub fn wet_aim_um(&self) -> f64 {
        self.wet_um(self.finished_solids_pct())
    }

    /// Finished paint by area and film alone, in millilitres.
    pub fn need_ml(&self) -> f64 {
        self.aim().map_or(0.0, |b| film::need_ml(b.area_m2, self.wet_aim_um(), b.transfer_pct))
    }

    /// What the sprayer delivers in a minute: the last timed catch of both streams, else as planned.
    pub fn flow_ml_min(&self) -> Option<f64> {
        let sheet = &self.aim()?.sheet;
        let caught = self.catches.iter().rev().find_map(|c| {
            let s = c.it.caught_watch_s?;
            let b = sheet.hardener_density_kg_l.map_or(0.0, |d| c.it.b_g / d);
            Some((c.it.a_g / sheet.base_density_kg_l + b) / s * 60.0)
        });
        caught.or(self.plan_mix.as_ref().map(|p| p.it.rate_ml_min))
    }

    /// The film and waste of the batch, for amounts asked by area.
    pub fn on_the_part(&self) -> Option<OnThePart> {
        self.aim().map(|b| OnThePart { wet_um: self.wet_aim_um(), transfer_pct: b.transfer_pct, thinner_pct: self.thinner_pct() })
    }

    /// Volume solids of the paint that is on the part: by what was poured into the pots sprayed from, else as planned.
    pub fn finished_solids_pct(&self) -> f64 {
        let Some(aim) = self.aim() else { return 0.0 };
        let used = self.charges.iter().filter(|c| self.passes.iter().any(|p| p.it.charge == c.id));
        let (mut mixed, mut thinner) = (0.0, 0.0);
        for charge in used {
            mixed += charge.poured_ml(&aim.sheet, Component::Base) + charge.poured_ml(&aim.sheet, Component::Hardener);
            thinner += charge.poured_ml(&aim.sheet, Component::Thinner);
        }
        if mixed > 0.0 {
            mixing::thinned_solids_pct(&aim.sheet, mixed, thinner)
        } else {
            mixing::finished_solids_pct(&aim.sheet, self.thinner_pct())
        }
    }

    /// What left a charge for the part: the larger of what was filled and what the passes say they took.
    pub fn used_ml(&self, charge: &Charge) -> f64 {
        let sprayed: f64 = self.passes.iter().filter(|p| p.it.charge == charge.id).filter_map(|p| p.it.used_ml).sum();
        let filled: f64 = charge.fills.iter().map(|f| f.it.fill_ml).sum();
        sprayed.max(filled)
    }

    /// What left every charge for the part.
    pub fn used_in_all_ml(&self) -> f64 {
        self.charges.iter().map(|c| self.used_ml(c)).sum()
    }

    /// Paint left in a charge; nothing once it is closed.
    pub fn left_ml(&self, charge: &Charge) -> f64 {
        if charge.closed.is_some() { 0.0 } else { self.remains_ml(charge) }
    }

    /// What is or was left of a charge, closed or not.
    pub fn remains_ml(&self, charge: &Charge) -> f64 {
        let mixed = self.aim().map_or(0.0, |b| charge.mixed_ml(&b.sheet));
        (mixed - charge.out_ml - self.used_ml(charge)).max(0.0)
    }

    /// The last conditions read at or before an instant.
    pub fn conditions_at(&self, at: Timestamp) -> Option<&Stamped<Readings>> {
        self.conditions.iter().filter(|c| c.at <= at).max_by_key(|c| (c.at, c.seq))
    }
}
