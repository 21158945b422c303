//! What accepts a batch, and how each of it stands: by gauge as it was planned and read, by comb, by use, by look, by bond test.

use super::case::Case;
use super::entries::{GaugeRead, PlanAcceptance, SpotRead, StageLook};
use super::gates;
use super::record::{Record, Stamped};
use crate::acceptance::draw::{DrawnOn, DrawnSpot};
use crate::acceptance::eighty_twenty::{self, MOST_PART};
use crate::acceptance::foil::{self, Standing};
use crate::acceptance::spots::{self, AreaJudged, USUAL_LEVEL, mean_um};
use crate::acceptance::{AcceptBy, Roughness};
use crate::film::dry_of_wet_um;
use crate::lists::Substrate;
use crate::quantity::Prefs;
use crate::ratio_check::BondResult;
use crate::sheets::{FilmProof, LookStage};
use crate::verdict::{Measured, Verdict};
use crate::worded::VariantArray;
use jiff::Timestamp;
use uuid::Uuid;

/// A spot with what was read at it.
#[derive(Debug, Clone, PartialEq)]
pub struct SpotState<'a> {
    /// Where it was drawn.
    pub drawn: DrawnSpot,
    /// The entry and its readings; `None`: not read yet.
    pub read: Option<(Uuid, &'a SpotRead)>,
    /// Their mean, less what is not of this coat.
    pub mean_um: Option<Measured>,
}

/// An area with its spots.
#[derive(Debug, Clone, PartialEq)]
pub struct AreaState<'a> {
    /// Which, from 1.
    pub no: u32,
    /// Its spots.
    pub spots: Vec<SpotState<'a>>,
    /// As judged.
    pub judged: AreaJudged,
}

/// A single reading.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OneRead {
    /// The entry.
    pub entry: Uuid,
    /// Where.
    pub zone: Option<Uuid>,
    /// The film, less what is not of this coat.
    pub um: Measured,
}

/// Why what was read is not proved, though the figures may be right.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unproved {
    /// The gauge was on no foil before.
    GaugeNotBefore,
    /// The gauge read its foil wrong.
    GaugeInDoubt,
    /// The gauge is still to be put on its foil.
    GaugeAwaits,
    /// Blasted steel makes a gauge read too much, and nobody read it bare or said its roughness.
    BareNotRead,
    /// There are coats beneath that the gauge reads along, and nobody said how thick they are.
    BeneathNotSaid,
}

/// What the gauge says of the coat.
#[derive(Debug, Clone, PartialEq)]
pub struct ByGauge<'a> {
    /// What is measured and against what.
    pub plan: &'a Stamped<PlanAcceptance>,
    /// By spots: each area.
    pub areas: Vec<AreaState<'a>>,
    /// By single readings: each.
    pub reads: Vec<OneRead>,
    /// Single readings that are asked.
    pub asked: usize,
    /// By 80/20.
    pub eighty: Option<eighty_twenty::Judged>,
    /// Taken off each reading.
    pub taken_off_um: Measured,
    /// Why it is not proved, whatever the figures say.
    pub unproved: Vec<Unproved>,
    /// What the figures say; `None`: under way.
    pub figures: Option<Verdict>,
}

impl ByGauge<'_> {
    /// How much was read of what is asked, in words.
    pub fn read_of_asked(&self) -> String {
        if self.plan.it.by != AcceptBy::Spots {
            return format!("{} of {} readings", self.reads.len(), self.asked);
        }
        let all: Vec<&SpotState<'_>> = self.areas.iter().flat_map(|a| &a.spots).collect();
        format!("{} of {} spots", all.iter().filter(|s| s.read.is_some()).count(), all.len())
    }

    /// The verdict: the figures, where nothing puts them in doubt.
    ///
    /// **Rule:** what is out is out, though the gauge be in doubt; *in* is said only of readings the gauge was verified before and after.
    /// **Source:** SSPC-PA 2, from memory, for the foils; ours for the rest.
    pub fn verdict(&self) -> Option<Verdict> {
        match self.figures {
            Some(Verdict::In) if self.unproved == [Unproved::GaugeAwaits] => None,
            Some(Verdict::In) if !self.unproved.is_empty() => Some(Verdict::CannotTell),
            figures => figures,
        }
    }
}

/// One thing that accepts a coat, and how it stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Method {
    /// Which.
    pub by: AcceptBy,
    /// How it stands; `None`: not done, or under way.
    pub verdict: Option<Verdict>,
    /// Somebody began it.
    pub begun: bool,
    /// What is not right with it was released by a lead when the work was signed.
    pub released: bool,
}

impl Record {
    /// When the last pass went on.
    pub fn last_pass_at(&self) -> Option<Timestamp> {
        self.passes.iter().map(|p| p.at).max()
    }

    /// Something is measured or looked at after the signature, before the coat is accepted.
    pub fn is_accepted_after(&self) -> bool {
        let sheet = self.aim().map(|aim| &aim.sheet);
        self.acceptance_plan.is_some() || sheet.is_some_and(|s| !s.accepted_by.is_empty() || !s.look_stages.is_empty())
    }

    /// The zones as spots are drawn on them.
    pub fn drawn_on(&self) -> Vec<DrawnOn> {
        let Some(aim) = self.aim() else { return Vec::new() };
        if aim.zones.is_empty() {
            return vec![DrawnOn { id: None, area_m2: aim.area_m2, shape: None }];
        }
        let share = aim.area_m2 / aim.zones.len() as f64;
        let one = |z: &super::entries::Zone| DrawnOn {
            id: Some(z.id),
            area_m2: if z.area_m2 > 0.0 { z.area_m2 } else { share },
            shape: z.shape,
        };
        aim.zones.iter().map(one).collect()
    }

    /// The spots as they are now: drawn, and drawn anew where one could not be reached.
    pub fn spots_now(&self) -> Vec<DrawnSpot> {
        let Some(plan) = &self.acceptance_plan else { return Vec::new() };
        let mut spots = plan.it.spots.clone();
        for moved in &self.moved_spots {
            let here = |s: &&mut DrawnSpot| (s.area_no, s.spot_no) == (moved.it.area_no, moved.it.spot_no);
            if let (Some(spot), Some(to)) = (spots.iter_mut().find(here), &moved.it.to) {
                *spot = to.clone();
            }
        }
        spots
    }

    /// Readings that count: of this coat, and for spots of this draw.
    fn readings_that_count(&self) -> impl Iterator<Item = &Stamped<GaugeRead>> {
        let last = self.last_pass_at();
        let drawn = self.acceptance_plan.as_ref().map_or(0, |p| p.seq);
        let counts =
            move |r: &&Stamped<GaugeRead>| last.is_none_or(|last| r.at >= last) && (r.it.spots.is_empty() || r.seq > drawn);
        self.gauge_reads.iter().filter(counts)
    }

    /// What was read at a spot of this draw.
    pub fn spot_readings(&self, area_no: u32, spot_no: u32) -> Option<(&Stamped<GaugeRead>, &SpotRead)> {
        self.readings_that_count().find_map(|read| {
            let spot = read.it.spots.iter().find(|s| (s.area_no, s.spot_no) == (area_no, spot_no))?;
            Some((read, spot))
        })
    }

    /// Stages as they were seen last, each where it was looked at.
    pub fn stages_seen(&self) -> Vec<&Stamped<StageLook>> {
        let newest = |look: &&Stamped<StageLook>| {
            // A look everywhere is a look at each zone; one at a zone says nothing of the others.
            let later = |other: &Stamped<StageLook>| {
                let of_it = other.it.zone == look.it.zone || other.it.zone.is_none();
                other.it.stage == look.it.stage && of_it && (other.at, other.seq) > (look.at, look.seq)
            };
            // The finished film was another one before its last pass.
            let of_this_film = !look.it.stage.is_of_the_finished_film() || self.last_pass_at().is_none_or(|last| look.at >= last);
            of_this_film && !self.stage_looks.iter().any(later)
        };
        self.stage_looks.iter().filter(newest).collect()
    }

    /// Stages of the sheet that nobody looked at yet, everywhere or in each of the zones.
    pub fn stages_missing(&self) -> Vec<LookStage> {
        let (seen, zones) = (self.stages_seen(), self.zones());
        let asked = self.aim().into_iter().flat_map(|aim| aim.sheet.look_stages.iter().copied());
        let looked = |stage: LookStage, zone: Option<Uuid>| {
            seen.iter().any(|s| s.it.stage == stage && (s.it.zone.is_none() || s.it.zone == zone))
        };
        asked.filter(|stage| !zones.iter().all(|(zone, _)| looked(*stage, *zone))).collect()
    }

    /// The dry film the sheet wants of this coat, least and most.
    ///
    /// **Rule:** the sheet's own band of the dry film; where it states none, its wet band times the solids of what was mixed.
    /// **Units:** µm. **Source:** the sheet; arithmetic of volume solids.
    pub fn dry_band_um(&self) -> Option<(f64, f64)> {
        let sheet = &self.aim()?.sheet;
        let vs = self.finished_solids_pct();
        let dry = |said: Option<f64>, wet: f64| said.unwrap_or_else(|| dry_of_wet_um(wet, vs));
        Some((dry(sheet.dry_min_um, sheet.wet_min_um), dry(sheet.dry_max_um, sheet.wet_max_um)))
    }

    /// How a gauge stood at each reading, the worst first said.
    fn gauge_standings(&self) -> Vec<Unproved> {
        let mut found = Vec::new();
        for read in self.readings_that_count() {
            let mut checks: Vec<((Timestamp, i64), bool)> = self
                .gauge_foils
                .iter()
                .filter(|f| f.it.gauge.trim().eq_ignore_ascii_case(read.it.gauge.trim()))
                // A check written after a reading of the same instant is after it.
                .map(|f| ((f.at, f.seq), f.it.verdict() == Some(Verdict::In)))
                .collect();
            checks.sort_by_key(|(when, _)| *when);
            let unproved = match foil::standing(&checks, (read.at, read.seq)) {
                Standing::Verified => continue,
                Standing::AwaitsAfter => Unproved::GaugeAwaits,
                Standing::NotBefore => Unproved::GaugeNotBefore,
                Standing::InDoubt => Unproved::GaugeInDoubt,
            };
            if !found.contains(&unproved) {
                found.push(unproved);
            }
        }
        found
    }

    /// What a gauge reads that is not of this coat: bare steel or its roughness, and the coats beneath.
    fn taken_off(&self, plan: &PlanAcceptance) -> Measured {
        let read: Vec<f64> = self.gauge_bares.iter().flat_map(|b| b.it.bare_um.iter().copied()).collect();
        let division = self.gauge_bares.iter().map(|b| b.it.division_um).fold(0.0, f64::max);
        let nothing = Measured::pm(0.0, 0.0);
        let bare = match plan.roughness.map(Roughness::correction_um) {
            Some(um) => Measured::pm(um, 0.0),
            None => mean_um(&read, division, nothing).unwrap_or(nothing),
        };
        let beneath = plan.beneath_min_um.zip(plan.beneath_max_um).map_or(nothing, |(lo, hi)| Measured::between(lo, hi));
        Measured { lo: bare.lo + beneath.lo, value: bare.value + beneath.value, hi: bare.hi + beneath.hi }
    }
}

impl Case<'_> {
    /// What the gauge says of this coat; `None` while nobody planned it.
    pub fn by_gauge(&self) -> Option<ByGauge<'_>> {
        let plan = self.acceptance_plan.as_ref()?;
        let off = self.taken_off(&plan.it);
        let least = plan.it.dry_min_um;
        let most = plan.it.dry_max_um.unwrap_or(MOST_PART * least);
        let level = plan.it.level.unwrap_or(USUAL_LEVEL);
        let areas = self.areas(&plan.it, off, level, least, most);
        let reads: Vec<OneRead> = self
            .readings_that_count()
            .flat_map(|r| {
                let half = r.it.division_um / 2.0;
                let um = move |um: &f64| Measured { lo: um - half - off.hi, value: um - off.value, hi: um + half - off.lo };
                let all = r.it.reads.iter().flat_map(|z| z.readings_um.iter().map(move |read| (z.zone, read)));
                all.map(move |(zone, read)| OneRead { entry: r.entry, zone, um: um(read) })
            })
            .collect();
        let asked = eighty_twenty::readings_asked(self.aim().map_or(0.0, |aim| aim.area_m2));
        let films: Vec<Measured> = reads.iter().map(|r| r.um).collect();
        let eighty = eighty_twenty::judge(&films, asked, least, most).filter(|_| plan.it.by == AcceptBy::EightyTwenty);
        let figures = match plan.it.by {
            AcceptBy::Spots => spots::worst(&areas.iter().map(|a| a.judged.verdict).collect::<Vec<_>>()),
            AcceptBy::EightyTwenty => eighty.and_then(|j| j.verdict),
            AcceptBy::LeastMost => eighty_twenty::least_most(&films, asked, least, most),
            AcceptBy::CombTotal | AcceptBy::ByUse | AcceptBy::Look | AcceptBy::BondTest => None,
        };
        let mut unproved = self.gauge_standings();
        let aim = self.aim();
        let blasted = aim.is_some_and(|aim| aim.substrate == Some(Substrate::BlastedSteel));
        if blasted && plan.it.roughness.is_none() && self.gauge_bares.is_empty() {
            unproved.push(Unproved::BareNotRead);
        }
        let beneath = aim.is_some_and(|aim| aim.substrate == Some(Substrate::AlreadyCoated));
        if beneath && plan.it.beneath_max_um.is_none() {
            unproved.push(Unproved::BeneathNotSaid);
        }
        Some(ByGauge { plan, areas, reads, asked, eighty, taken_off_um: off, unproved, figures })
    }

    fn areas(&self, plan: &PlanAcceptance, off: Measured, level: u8, least: f64, most: f64) -> Vec<AreaState<'_>> {
        let drawn = self.spots_now();
        let count = drawn.iter().map(|s| s.area_no).max().unwrap_or(0);
        let state = |drawn: &DrawnSpot| {
            let read = self.record.spot_readings(drawn.area_no, drawn.spot_no);
            SpotState {
                drawn: drawn.clone(),
                mean_um: read.and_then(|(r, spot)| mean_um(&spot.readings_um, r.it.division_um, off)),
                read: read.map(|(r, spot)| (r.entry, spot)),
            }
        };
        if plan.by != AcceptBy::Spots {
            return Vec::new();
        }
        (1..=count)
            .map(|no| {
                let spots: Vec<SpotState<'_>> = drawn.iter().filter(|s| s.area_no == no).map(state).collect();
                let means: Vec<Option<Measured>> = spots.iter().map(|s| s.mean_um).collect();
                AreaState { no, judged: spots::judge_area(&means, level, least, most), spots }
            })
            .collect()
    }

    /// What accepts this batch: what its sheet names, what was planned by gauge, and what was begun.
    ///
    /// **Rule:** a sheet that names nothing is accepted by what proves its film. **Source:** the sheet; common practice in the trade.
    pub fn methods(&self, prefs: Prefs) -> Vec<Method> {
        let Some(aim) = self.aim() else { return Vec::new() };
        let planned = self.acceptance_plan.as_ref().map(|p| p.it.by);
        // Which of the ways by gauge it is, is said at the batch where the sheet names several.
        let asked = |by: AcceptBy| match planned {
            Some(planned) if by.is_by_gauge() => by == planned,
            _ if by == AcceptBy::Look && !aim.sheet.look_stages.is_empty() => true,
            _ => aim.sheet.accepted_by.contains(&by) || self.implied() == Some(by),
        };
        AcceptBy::VARIANTS.iter().copied().filter(|by| asked(*by)).map(|by| self.method(by, prefs)).collect()
    }

    fn implied(&self) -> Option<AcceptBy> {
        if self.aim().is_none_or(|aim| !aim.sheet.accepted_by.is_empty()) {
            return None;
        }
        match self.film_proof() {
            FilmProof::Comb => Some(AcceptBy::CombTotal),
            FilmProof::Use => Some(AcceptBy::ByUse),
            FilmProof::Look => Some(AcceptBy::Look),
            FilmProof::NotAsked => None,
        }
    }

    fn method(&self, by: AcceptBy, prefs: Prefs) -> Method {
        let (verdict, begun) = match by {
            AcceptBy::Spots | AcceptBy::EightyTwenty | AcceptBy::LeastMost => {
                (self.by_gauge().and_then(|g| g.verdict()), self.acceptance_plan.is_some())
            }
            AcceptBy::CombTotal => (self.film_by(FilmProof::Comb, prefs), !self.combs.is_empty()),
            AcceptBy::ByUse => (self.film_by(FilmProof::Use, prefs), self.went_ml().is_some()),
            AcceptBy::Look => (self.looked_at(), !self.film_looks.is_empty() || !self.stage_looks.is_empty()),
            AcceptBy::BondTest => {
                let newest = self.bonds.last().map(|b| b.it.result);
                let verdict = newest.map(|r| if r == BondResult::Holds { Verdict::In } else { Verdict::Low });
                (verdict, newest.is_some())
            }
        };
        let released = match by {
            AcceptBy::CombTotal => self.film_released(FilmProof::Comb, prefs),
            AcceptBy::ByUse => self.film_released(FilmProof::Use, prefs),
            AcceptBy::Look => self.stages_missing().is_empty() && self.film_released(FilmProof::Look, prefs),
            AcceptBy::Spots | AcceptBy::EightyTwenty | AcceptBy::LeastMost | AcceptBy::BondTest => false,
        };
        Method { by, verdict, begun, released }
    }

    /// Everything the gate of the film holds by one proof was released by a lead.
    fn film_released(&self, proof: FilmProof, prefs: Prefs) -> bool {
        let mut holds = gates::film_by(self, proof, prefs).into_iter().filter_map(gates::Answer::closed).peekable();
        holds.peek().is_some() && holds.all(|h| h.released.is_some())
    }

    /// The film by comb or by use, as the gate of the film judges it; released by a lead it is not in for that.
    fn film_by(&self, proof: FilmProof, prefs: Prefs) -> Option<Verdict> {
        let answers = gates::film_by(self, proof, prefs);
        if answers.iter().any(|a| matches!(a, gates::Answer::NotReached(..))) {
            return None;
        }
        let holds: Vec<gates::Hold> = answers.into_iter().filter_map(gates::Answer::closed).collect();
        let of = |trouble: &str| holds.iter().any(|h| h.trouble == trouble);
        Some(match () {
            () if holds.is_empty() => Verdict::In,
            () if of("over") => Verdict::High,
            () if of("under") => Verdict::Low,
            () if of("cannot-tell") => Verdict::CannotTell,
            () => return None,
        })
    }

    /// By the eye: every stage that was looked at stands as it was seen last, and the finished film among them.
    fn looked_at(&self) -> Option<Verdict> {
        if self.stages_seen().iter().any(|s| !s.it.good) {
            return Some(Verdict::Low);
        }
        // Where the sheet names stages they are what is looked at; else the finished film is.
        let staged = self.aim().is_some_and(|aim| !aim.sheet.look_stages.is_empty());
        match (staged, self.stages_missing().is_empty()) {
            (true, true) => Some(Verdict::In),
            (true, false) => None,
            (false, _) => self.film_by(FilmProof::Look, Prefs::METRIC),
        }
    }
}
