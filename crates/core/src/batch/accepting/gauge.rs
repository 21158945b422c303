//! What the gauge says of the coat: spots and single readings as they were planned and read, and what puts them in doubt.

use super::surface::read_along;
use crate::acceptance::draw::{DrawnOn, DrawnSpot};
use crate::acceptance::eighty_twenty::{self, MOST_PART};
use crate::acceptance::foil::{self, Standing};
use crate::acceptance::spots::{self, AreaJudged, USUAL_LEVEL, mean_um};
use crate::acceptance::{AcceptBy, Roughness};
use crate::batch::case::Case;
use crate::batch::entries::{GaugeRead, PlanAcceptance, SpotRead, Zone};
use crate::batch::record::{Record, Stamped};
use crate::film::dry_of_wet_um;
use crate::verdict::{Measured, Verdict};
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
    /// Nobody said what was coated: it may be blasted steel, or painted.
    SurfaceNotSaid,
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

impl Record {
    /// When the last pass went on.
    pub fn last_pass_at(&self) -> Option<Timestamp> {
        self.passes.iter().map(|p| p.at).max()
    }

    /// The zones as spots are drawn on them.
    pub fn drawn_on(&self) -> Vec<DrawnOn> {
        let Some(aim) = self.aim() else { return Vec::new() };
        if aim.zones.is_empty() {
            return vec![DrawnOn { id: None, area_m2: aim.area_m2, shape: None }];
        }
        let share = aim.area_m2 / aim.zones.len() as f64;
        let one = |z: &Zone| DrawnOn { id: Some(z.id), area_m2: if z.area_m2 > 0.0 { z.area_m2 } else { share }, shape: z.shape };
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
        unproved.extend(self.surface_unproved(&plan.it));
        Some(ByGauge { plan, areas, reads, asked, eighty, taken_off_um: off, unproved, figures })
    }

    /// What the surface leaves open: the gauge may read along what is not of this coat.
    fn surface_unproved(&self, plan: &PlanAcceptance) -> Vec<Unproved> {
        let substrate = self.aim().and_then(|aim| aim.substrate);
        let along = read_along(substrate);
        let rough = along.rough && plan.roughness.is_none() && self.gauge_bares.is_empty();
        let coats = along.coats && plan.beneath_max_um.is_none();
        if substrate.is_none() {
            return if rough || coats { vec![Unproved::SurfaceNotSaid] } else { Vec::new() };
        }
        [(rough, Unproved::BareNotRead), (coats, Unproved::BeneathNotSaid)]
            .into_iter()
            .filter_map(|(is, why)| is.then_some(why))
            .collect()
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
}
