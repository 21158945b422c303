//! The film of each zone as the comb read it, and of the whole part by use.

use super::Record;
use super::entries::Ended;
use super::record::{CombRead, Stamped};
use crate::coat_system::Method;
use crate::component::Component;
use crate::film::{self, CombOf};
use crate::quantity::Prefs;
use crate::rigs::Rig;
use crate::sheets::{Basis, ChargeKind, FilmProof};
use crate::verdict::Measured;
use crate::worded::VariantArray;
use jiff::Timestamp;
use uuid::Uuid;

/// Readings of a zone's last pass that prove its total. Source: ASTM D4414, from memory.
pub const READINGS_ASKED: usize = 3;
/// A zone under this area, measured, is proved by one reading; from memory.
pub const SMALL_ZONE_M2: f64 = 0.5;
/// How far transfer efficiency may be off, in points; from memory.
const TRANSFER_OFF_PCT: f64 = 10.0;
/// What stays of brushed and rolled paint, least and most; from memory.
const BY_HAND_PCT: (f64, f64) = (90.0, 100.0);

/// A reading with what it says of its zone.
#[derive(Debug, Clone, PartialEq)]
pub struct ZoneRead {
    /// The entry.
    pub entry: Uuid,
    /// Passes on the zone before it.
    pub after_pass: usize,
    /// All wet so far; with `open_ended` at least this.
    pub total_um: Measured,
    /// This pass alone; of several passes where one between was not read.
    pub pass_um: Measured,
    /// So many passes `pass_um` is of: more than one where one between was not read.
    pub of_passes: usize,
    /// A pass was made that nobody measured: the total may be more.
    pub open_ended: bool,
    /// The total is under the one before, whatever the comb may be off.
    pub fell_from_um: Option<Measured>,
}

/// How the film of a zone stands.
#[derive(Debug, Clone, PartialEq)]
pub struct ZoneState {
    /// The zone; `None`: the part has none, and is one.
    pub id: Option<Uuid>,
    /// Its name.
    pub name: String,
    /// Passes on it.
    pub passes: usize,
    /// Readings in it.
    pub read: usize,
    /// Every reading, in time order.
    pub reads: Vec<ZoneRead>,
    /// Readings made after its last pass.
    pub last: Vec<ZoneRead>,
    /// Its last pass, or one before, was measured by nobody.
    pub open_ended: bool,
    /// Readings of the last pass that are asked.
    pub asked: usize,
}

impl ZoneState {
    /// The name a hold and its release are keyed by.
    pub fn item(&self) -> String {
        self.id.map_or("part".into(), |id| id.to_string())
    }

    /// What is on at the least, by the last readings.
    ///
    /// **Rule:** the largest of the lower ends of what was read after the newest pass that was read. **Units:** µm. **Source:**
    /// ASTM D4414, above the last wetted tooth.
    pub fn at_least_um(&self) -> f64 {
        let newest = self.reads.iter().map(|r| r.after_pass).max();
        self.reads.iter().filter(|r| Some(r.after_pass) == newest).map(|r| r.total_um.lo).fold(0.0, f64::max)
    }
}

impl Record {
    /// The zones that are coated; a part without zones is one.
    pub fn zones(&self) -> Vec<(Option<Uuid>, String)> {
        match self.aim().map(|b| b.zones.as_slice()) {
            None | Some([]) => vec![(None, "Whole part".into())],
            Some(zones) => zones.iter().map(|z| (Some(z.id), z.name.clone())).collect(),
        }
    }

    /// The area of a zone as somebody measured it; of a part that is one zone, the area of the part. `None`: it is an equal share
    /// that nobody measured.
    fn measured_m2(&self, id: Option<Uuid>) -> Option<f64> {
        let aim = self.aim()?;
        match aim.zones.as_slice() {
            [] | [_] => Some(aim.area_m2),
            zones => zones.iter().find(|z| Some(z.id) == id && !z.area_assumed).map(|z| z.area_m2),
        }
    }

    /// The share of the part's area that passes reached.
    ///
    /// **Formula:** `Σ area of the zones with a pass ÷ Σ area of all zones`. **Units:** 0 to 1; `None` where only some zones
    /// were reached and one of them has an area that nobody measured. **Source:** arithmetic.
    fn share_sprayed(&self) -> Option<f64> {
        let films = self.film_by_zone(None);
        if films.iter().all(|z| z.passes > 0) {
            return Some(1.0);
        }
        let areas = films.iter().map(|z| self.measured_m2(z.id)).collect::<Option<Vec<f64>>>()?;
        let reached: f64 = films.iter().zip(&areas).filter(|(z, _)| z.passes > 0).map(|(_, m2)| m2).sum();
        Some(reached / areas.iter().sum::<f64>())
    }

    /// The film of every zone, by passes and readings up to an instant (`None`: all).
    ///
    /// **Rule:** wet on wet a reading is the total; on a dried layer it is of this pass and adds to the total before, where
    /// that was read. A pass without a reading makes a total of passes open-ended; a reading of the total closes it again.
    /// A pass without a zone is on every zone; a reading without one counts only where the part has no other.
    /// **Units:** µm. **Source:** ASTM D4414 for the interval; arithmetic.
    pub fn film_by_zone(&self, at: Option<Timestamp>) -> Vec<ZoneState> {
        let zones = self.zones();
        let alone = zones.len() == 1;
        let by_then = |when: Timestamp| at.is_none_or(|at| when <= at);
        zones
            .into_iter()
            .map(|(id, name)| {
                let here = |zone: Option<Uuid>| zone == id || (alone && zone.is_none());
                let passes: Vec<(Timestamp, i64)> = self
                    .passes
                    .iter()
                    .filter(|p| by_then(p.at) && (p.it.zones.is_empty() || id.is_none_or(|id| p.it.zones.contains(&id))))
                    .map(|p| (p.at, p.seq))
                    .collect();
                let mut combs: Vec<&Stamped<CombRead>> = self.combs.iter().filter(|c| by_then(c.at) && here(c.it.zone)).collect();
                combs.sort_by_key(|c| (c.at, c.seq));
                let mut reads: Vec<ZoneRead> = Vec::new();
                for comb in combs {
                    let after_pass = passes.iter().filter(|p| **p < (comb.at, comb.seq)).count();
                    reads.push(read_after(comb, after_pass, &reads));
                }
                let last: Vec<ZoneRead> =
                    reads.iter().filter(|r| r.after_pass == passes.len() && !passes.is_empty()).cloned().collect();
                let open_ended = last.is_empty() || last.iter().any(|r| r.open_ended);
                let small = self.measured_m2(id).is_some_and(|m2| m2 < SMALL_ZONE_M2);
                let asked = if small { 1 } else { READINGS_ASKED };
                ZoneState { id, name, passes: passes.len(), read: reads.len(), reads, last, open_ended, asked }
            })
            .collect()
    }

    /// The newest reading with what it says of its zone.
    pub fn newest_read(&self) -> Option<ZoneRead> {
        let newest = self.combs.iter().max_by_key(|c| (c.at, c.seq))?.entry;
        self.film_by_zone(None).into_iter().flat_map(|z| z.reads).find(|r| r.entry == newest)
    }

    /// What proves the film of this batch.
    ///
    /// **Rule:** the sheet's word; a sheet kept before that was asked takes the comb, and for twin feed, textures and release
    /// films the eye. **Source:** common practice in the trade.
    pub fn film_proof(&self) -> FilmProof {
        let Some(aim) = self.aim() else { return FilmProof::Comb };
        let twin_feed =
            aim.sheet.charge == ChargeKind::AtGun && matches!(aim.sheet.basis, Some(Basis::ByVolume | Basis::ByWeight));
        let by_eye = twin_feed || self.rig().is_some_and(Rig::is_judged_by_eye);
        aim.sheet.film_proof.unwrap_or(if by_eye { FilmProof::Look } else { FilmProof::Comb })
    }

    /// Wet film by what was weighed and is not there any more, on the zones that passes reached; `None` where nothing was weighed,
    /// or the area it went on is not known.
    ///
    /// **Formula:** [`film::by_use_um`] of what left the pots, over the part's area times the share sprayed. **Units:** µm.
    /// **Source:** arithmetic; the width of transfer efficiency from memory.
    pub fn film_by_use_um(&self, prefs: Prefs) -> Option<Measured> {
        film::by_use_um(self.went_ml()?, self.transfer_in_use_pct()?, self.reached_m2(prefs)?)
    }

    /// What was weighed and is not there any more; `None` where nothing was weighed.
    ///
    /// **Units:** mL. **Source:** arithmetic; each pour by its scale.
    pub fn went_ml(&self) -> Option<Measured> {
        self.gone_by(|_| Some(1.0))
    }

    /// What stays on the part: as said for the gun, off by ten points and all of it at the most; of brush and roller nearly all.
    ///
    /// **Units:** per cent. **Source:** from memory.
    pub fn transfer_in_use_pct(&self) -> Option<Measured> {
        let aim = self.aim()?;
        let by_hand = aim.method.is_some_and(|m| matches!(m, Method::Brush | Method::Roller));
        Some(if by_hand {
            Measured { lo: BY_HAND_PCT.0, value: (BY_HAND_PCT.0 + BY_HAND_PCT.1) / 2.0, hi: BY_HAND_PCT.1 }
        } else {
            let te = aim.transfer_pct;
            Measured { lo: (te - TRANSFER_OFF_PCT).max(0.0), value: te, hi: (te + TRANSFER_OFF_PCT).min(100.0) }
        })
    }

    /// The area that passes reached, with the interval of the take-off; `None` where it is not known.
    ///
    /// **Units:** m². **Source:** arithmetic.
    pub fn reached_m2(&self, prefs: Prefs) -> Option<Measured> {
        let aim = self.aim()?;
        let stated = Measured::pm(aim.area_m2, 0.0);
        let area = crate::takeoff::area(&aim.takeoff, prefs).map_or(stated, |(m2, _)| m2);
        self.share_sprayed().map(|share| area.map(|m2| m2 * share))
    }

    /// What left a pot for the part: all that was mixed, without what was thrown away, divided off or handed over.
    pub(super) fn gone_ml(&self, charge: &super::charge::Charge) -> f64 {
        let Some(aim) = self.aim() else { return 0.0 };
        let mixed: f64 = Component::VARIANTS.iter().copied().map(|c| charge.poured_ml(&aim.sheet, c)).sum();
        match &charge.closed {
            // What was handed over, or stays in the pot, is not on the part.
            Some(closed) if matches!(closed.it.how, Ended::HandedOver | Ended::LeftInPot) => self.used_ml(charge),
            closed => {
                let waste = closed.as_ref().and_then(|c| c.it.waste_ml).unwrap_or(0.0);
                (mixed - charge.out_ml - waste).max(0.0)
            }
        }
    }
}

/// What a reading says after so many passes, by the readings before it.
fn read_after(comb: &Stamped<CombRead>, after_pass: usize, before: &[ZoneRead]) -> ZoneRead {
    let nothing = Measured::pm(0.0, 0.0);
    let read = comb.it.read_um;
    // The newest total of an earlier pass, and whether it was read just before this pass.
    let earlier = before.iter().rev().find(|r| r.after_pass < after_pass);
    let of_that_pass = before.iter().filter(|r| earlier.is_some_and(|e| e.after_pass == r.after_pass)).map(|r| r.total_um);
    let known = of_that_pass.reduce(Measured::hull).unwrap_or(nothing);
    let passes_between = after_pass - earlier.map_or(0, |r| r.after_pass);
    let every_pass = passes_between <= 1;
    let (total_um, pass_um, open_ended) = match comb.it.of {
        CombOf::Total if every_pass => (read, film::less(read, known), false),
        // Of several passes: at the most all of what came since the last reading.
        CombOf::Total => (read, Measured { lo: 0.0, ..film::less(read, known) }, false),
        CombOf::ThisPass => (film::plus(known, read), read, !every_pass || earlier.is_some_and(|r| r.open_ended)),
    };
    let fell_from_um = earlier.filter(|r| comb.it.of == CombOf::Total && read.hi < known.lo && r.after_pass > 0).map(|_| known);
    let of_passes = match comb.it.of {
        CombOf::Total => passes_between,
        CombOf::ThisPass => 1,
    };
    ZoneRead { entry: comb.entry, after_pass, total_um, pass_um, of_passes, open_ended, fell_from_um }
}
