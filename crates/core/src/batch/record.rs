//! What the entries of a batch add up to. No clock is read here.

use super::charge::Charge;
use super::entries::{
    Answer, Backdrop, Begin, BondTest, ControlSample, CupRun, DefectLook, DefectSeen, DefectSettled, DenyBirth, EntryKind,
    FilmLook, FlowCatch, Flush, GaugeBare, GaugeFoil, GaugeRead, Happening, InHand, LotRef, MoveSpot, Pass, PassLook, Payload,
    PiecesDone, PlanAcceptance, PlanMix, PlanSections, RatioCheck, Release, SetStep, SetUp, StageLook, TakeLot, WholeRun,
};
use crate::acceptance::AcceptBy;
use crate::book::Log;
use crate::coat_system::PutOn;
use crate::conditions::Readings;
use crate::film::{self, CombOf};
use crate::lists::Tick;
use crate::mixing::{self, Component, OnThePart, PlannedPour};
use crate::pot_life::{self, CAN_READING_FRESH_S, Clocked, HeldTemperature, POT_READING_FRESH_S, Place, SafeSide, Temperatures};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::rigs::ChooseRig;
use crate::sheets::{ChargeKind, Hazard};
use crate::verdict::Measured;
use crate::working::Working;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
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

/// A comb reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CombRead {
    /// Where.
    pub zone: Option<Uuid>,
    /// Of all wet so far, or of this pass.
    pub of: CombOf,
    /// Between the last wetted tooth and the next.
    pub read_um: Measured,
}

/// Hardener met base in a vessel, by an entry that stands or was struck.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Birth {
    /// In this vessel.
    pub charge: Uuid,
    /// Then.
    pub at: Timestamp,
    /// The entry's sequence.
    pub seq: i64,
    /// The entry was struck.
    pub struck: bool,
    /// Lots of base and hardener in it, where they were named.
    pub lots: Vec<Uuid>,
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

/// The whole record of a batch.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
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
    pub catches: Vec<Stamped<RatioCheck>>,
    /// Whole runs, by their supplies.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub runs: Vec<Stamped<WholeRun>>,
    /// Bond tests.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bonds: Vec<Stamped<BondTest>>,
    pub passes: Vec<Stamped<Pass>>,
    /// When the last pass looked ready for the next.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pass_looks: Vec<Stamped<PassLook>>,
    /// What happened while it was sprayed.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub happenings: Vec<Stamped<Happening>>,
    /// What limits a patch, as planned last.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub section_plan: Option<Stamped<PlanSections>>,
    /// The photo behind the zones.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub backdrop: Option<Stamped<Backdrop>>,
    pub combs: Vec<Stamped<CombRead>>,
    /// The film, looked at.
    #[serde(default)]
    pub film_looks: Vec<Stamped<FilmLook>>,
    /// The coat, looked at at its stages.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub stage_looks: Vec<Stamped<StageLook>>,
    /// The sample it should match.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub control_sample: Option<Stamped<ControlSample>>,
    /// The gauge on the bare surface.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub gauge_bares: Vec<Stamped<GaugeBare>>,
    /// The gauge on its foil.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub gauge_foils: Vec<Stamped<GaugeFoil>>,
    /// How the dry film is accepted by gauge.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub acceptance_plan: Option<Stamped<PlanAcceptance>>,
    /// Spots that were drawn anew since.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub moved_spots: Vec<Stamped<MoveSpot>>,
    /// Readings of the dry film.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub gauge_reads: Vec<Stamped<GaugeRead>>,
    /// What it was accepted by.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub accepted_by: Vec<AcceptBy>,
    /// Defects that were seen.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub defects: Vec<Stamped<DefectSeen>>,
    /// What was looked at for their causes.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub defect_looks: Vec<Stamped<DefectLook>>,
    /// What they came of.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub defects_settled: Vec<Stamped<DefectSettled>>,
    /// Every time hardener met base, struck entries too: nothing gets younger by striking.
    #[serde(default)]
    pub births: Vec<Birth>,
    /// Births a lead denied.
    #[serde(default)]
    pub denied: Vec<Stamped<DenyBirth>>,
    /// Who took it in hand or was handed it, last.
    #[serde(default)]
    pub in_hand: Option<Stamped<InHand>>,
    /// Rigs taken after the first, by name.
    #[serde(default)]
    pub rig_changes: Vec<Stamped<String>>,
    pub answers: Vec<Stamped<Answer>>,
    pub releases: Vec<Stamped<Release>>,
    pub deviations: Vec<Deviation>,
    pub signature: Option<Signature>,
    pub acceptance: Option<Signature>,
    /// The coat of the job it carried on from, by number.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub carried_from: Option<Stamped<i64>>,
    /// Items of the lists that stand as they did for that coat.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub carried: BTreeSet<String>,
    /// This coat is not put on, and why.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub left_out: Option<Stamped<String>>,
    /// Pieces done, side by side.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pieces: Vec<Stamped<PiecesDone>>,
    /// Everyone who wrote a fact or act of the work.
    pub workers: BTreeSet<Uuid>,
    /// Every entry, and the head.
    #[serde(flatten)]
    pub log: Log<EntryKind, Payload>,
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
    /// The need by a plan: area with its interval, the wet film of the thinner planned, and what the plan adds.
    ///
    /// **Formula:** [`mixing::need`] with the wet film of [`Record::wet_um`]. **Units:** mL. **Errors:** a refusal at
    /// `more.…` for an allowance outside its limit; `not-begun` for an empty book. **Source:** arithmetic.
    pub fn need_by(
        &self,
        plan: &PlanMix,
        learned: Option<mixing::Learned>,
        prefs: Prefs,
    ) -> Result<(Measured, Working), Refusal> {
        let Some(aim) = self.aim() else { return Err(Refusal::conflict("not-begun", "This batch is not begun.")) };
        let stated = Measured::pm(aim.area_m2, 0.0);
        let area_m2 = crate::takeoff::area(&aim.takeoff, prefs).map_or(stated, |(m2, _)| m2);
        let thinner = plan.thinner_pct.unwrap_or(aim.thinner_pct);
        let solids_pct = mixing::finished_solids_pct(&aim.sheet, thinner);
        let wet_um = self.wet_um(solids_pct);
        let coat = mixing::CoatNeed {
            area_m2,
            wet_um,
            transfer_pct: aim.transfer_pct,
            solids_pct,
            least_ml_m2: self.least_ml_m2(thinner),
        };
        mixing::need(&coat, &plan.more, learned, prefs).map_err(|r| match r.field.clone() {
            Some(field) => Refusal { field: Some(format!("more.{field}")), ..r },
            None => r,
        })
    }

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

    /// Everything that was read of a charge's temperature: the material's readings and its own, in time order.
    pub fn temperatures(&self, charge: &Charge) -> Vec<HeldTemperature> {
        let mut all: Vec<HeldTemperature> = self.can_temperatures();
        all.extend(charge.temperatures.iter().chain(&charge.bench_temperatures).copied());
        all.sort_by_key(|h| h.from);
        all
    }

    fn can_temperatures(&self) -> Vec<HeldTemperature> {
        let mut all: Vec<HeldTemperature> =
            self.conditions.iter().map(|c| HeldTemperature { from: c.at, temp_c: c.it.material_c }).collect();
        all.sort_by_key(|h| h.from);
        all
    }

    /// The temperatures that count for a charge: its own reading before the probe at the bench, that before the can.
    pub fn held_temperatures(&self, charge: &Charge, side: SafeSide) -> Vec<HeldTemperature> {
        let can = self.can_temperatures();
        let in_order = |readings: &[HeldTemperature]| {
            let mut sorted = readings.to_vec();
            sorted.sort_by_key(|h| h.from);
            sorted
        };
        let (own, bench) = (in_order(&charge.temperatures), in_order(&charge.bench_temperatures));
        let place = |readings, fresh_s| Place { readings, fresh_s };
        let places = [
            place(own.as_slice(), POT_READING_FRESH_S),
            place(bench.as_slice(), POT_READING_FRESH_S),
            place(can.as_slice(), CAN_READING_FRESH_S),
        ];
        pot_life::nearest(&places, side)
    }

    /// The clocks of a charge at an instant; `None` for one that does not age, or not yet.
    pub fn clock(&self, charge: &Charge, now: Timestamp) -> Option<Clocked> {
        let until = charge.closed.as_ref().map_or(now, |c| c.at.min(now));
        self.clock_until(charge, until)
    }

    /// The clocks of what came from a charge, which run on though the pot is closed.
    pub fn clock_until(&self, charge: &Charge, until: Timestamp) -> Option<Clocked> {
        let (hotter, colder) =
            (self.held_temperatures(charge, SafeSide::Hotter), self.held_temperatures(charge, SafeSide::Colder));
        let held = Temperatures { hotter: &hotter, colder: &colder };
        pot_life::clock(&self.aim()?.sheet, held, charge.combined()?, charge.stirred_by(until), until)
    }

    /// The words of putting this coat on, by its method.
    pub fn put_on(&self) -> PutOn {
        PutOn::by(self.aim().and_then(|aim| aim.method))
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
    ///
    /// **Rule:** the newest plan, else what the batch began with. **Units:** per cent on the basis of the sheet. **Source:**
    /// the book.
    pub fn thinner_pct(&self) -> f64 {
        let planned = self.plan_mix.as_ref().and_then(|p| p.it.thinner_pct);
        planned.or(self.aim().map(|b| b.thinner_pct)).unwrap_or(0.0)
    }

    /// Wet film aimed at with so much of solids in the paint: where a dry film was asked, what dries to it.
    ///
    /// **Formula:** `WFT = DFT / VS` for a dry film asked; a wet one stays as asked. **Units:** µm, per cent.
    /// **Check:** 2.2 mil dry of 62 % solids is 3.548 mil wet; with 10 % thinner of mixed 3.903 mil.
    /// **Source:** arithmetic: what evaporates leaves the solids.
    pub fn wet_um(&self, solids_pct: f64) -> f64 {
        self.aim().map_or(0.0, |b| b.dry_um.map_or(b.wet_um, |dry| film::wet_for_dry_um(dry, solids_pct)))
    }

    /// Wet film aimed at with the paint in use: as poured, else as planned.
    ///
    /// **Rule:** [`Record::wet_um`] at [`Record::finished_solids_pct`]. **Units:** µm. **Source:** as there.
    pub fn wet_aim_um(&self) -> f64 {
        self.wet_um(self.finished_solids_pct())
    }

    /// Finished paint by area and film alone, in millilitres.
    ///
    /// **Formula:** [`film::need_ml`]. **Units:** mL. **Source:** as there.
    pub fn need_ml(&self) -> f64 {
        let least_ml_m2 = self.least_ml_m2(self.thinner_pct()).unwrap_or(0.0);
        self.aim().map_or(0.0, |b| film::need_ml(b.area_m2, self.wet_aim_um(), b.transfer_pct).max(b.area_m2 * least_ml_m2))
    }

    /// The film and waste of the batch, for amounts asked by area.
    pub fn on_the_part(&self) -> Option<OnThePart> {
        self.aim().map(|b| OnThePart { wet_um: self.wet_aim_um(), transfer_pct: b.transfer_pct, thinner_pct: self.thinner_pct() })
    }

    /// Volume solids of the paint that is on the part: by what was poured into the pots sprayed from, else as planned.
    ///
    /// **Formula:** [`mixing::thinned_solids_pct`] of what was poured. **Units:** per cent by volume. **Source:** arithmetic.
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
    ///
    /// **Formula:** `max(Σ fills, Σ passes)`. **Units:** mL. **Source:** ours: neither may hide what the other says.
    pub fn used_ml(&self, charge: &Charge) -> f64 {
        let sprayed: f64 = self.passes.iter().filter(|p| p.it.charge == charge.id).filter_map(|p| p.it.used_ml).sum();
        let filled: f64 = charge.fills.iter().map(|f| f.it.fill_ml).sum();
        sprayed.max(filled)
    }

    /// What left every charge for the part.
    ///
    /// **Formula:** `Σ` [`Record::used_ml`]. **Units:** mL. **Source:** arithmetic.
    pub fn used_in_all_ml(&self) -> f64 {
        self.charges.iter().map(|c| self.used_ml(c)).sum()
    }

    /// Paint left in a charge; nothing once it is closed.
    ///
    /// **Rule:** [`Record::remains_ml`] while it is open. **Units:** mL. **Source:** arithmetic.
    pub fn left_ml(&self, charge: &Charge) -> f64 {
        if charge.closed.is_some() { 0.0 } else { self.remains_ml(charge) }
    }

    /// What is or was left of a charge, closed or not.
    ///
    /// **Formula:** `mixed − divided − used`, never under nothing. **Units:** mL. **Source:** arithmetic.
    pub fn remains_ml(&self, charge: &Charge) -> f64 {
        let mixed = self.aim().map_or(0.0, |b| charge.mixed_ml(&b.sheet));
        (mixed - charge.out_ml - self.used_ml(charge)).max(0.0)
    }

    /// The last conditions read at or before an instant.
    pub fn conditions_at(&self, at: Timestamp) -> Option<&Stamped<Readings>> {
        self.conditions.iter().filter(|c| c.at <= at).max_by_key(|c| (c.at, c.seq))
    }
}
