//! What a finished batch came to: film, ratio, paint and time beside what was planned, right the first time, and what was thrown away.
//!
//! These figures are for looking at many batches together. They judge nothing: what is in and out stands with each batch.

use super::Record;
use super::accepting::ByGauge;
use super::beside::{Beside, ended};
use super::case::Case;
use super::entries::{Ended, EntryKind};
use super::proofs::proofs;
use crate::film;
use crate::verdict::Measured;
use jiff::Timestamp;
use uuid::Uuid;

/// Figures of one batch; each is missing where nobody measured it.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct CameTo {
    /// Film of what was wanted, in per cent: dry by gauge, else wet by comb.
    pub film_pct: Option<f64>,
    /// How far its proofs of the ratio lay from the middle of the tolerance, in per cent of it; signed.
    pub ratio_off_pct: Option<f64>,
    /// Paint used of what was reckoned, in per cent.
    pub use_pct: Option<f64>,
    /// From its beginning to its last pass.
    pub work_s: Option<f64>,
    /// Accepted, never reopened, and no defect was seen; nothing is said before it is accepted.
    pub first_time: Option<bool>,
}

/// What was thrown away of a charge.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Waste {
    /// The entry that says so.
    pub entry: Uuid,
    /// When.
    pub at: Timestamp,
    /// How much, as typed or as what was left.
    pub waste_ml: Option<f64>,
    /// As weighed.
    pub waste_g: Option<f64>,
    /// What it cost, in hundredths of the shop's money; none where the sheet states no price.
    pub cost_minor: Option<f64>,
}

/// The mean of some figures; nothing of none.
fn mean(of: impl Iterator<Item = f64>) -> Option<f64> {
    let (count, sum) = of.fold((0.0, 0.0), |(count, sum), value| (count + 1.0, sum + value));
    (count > 0.0).then(|| sum / count)
}

impl ByGauge<'_> {
    /// The mean of what was read: of the areas, else of the single readings.
    ///
    /// **Units:** µm. **Source:** arithmetic.
    pub fn mean_um(&self) -> Option<f64> {
        let areas = mean(self.areas.iter().filter_map(|a| a.judged.mean_um).map(|m: Measured| m.value));
        areas.or_else(|| mean(self.reads.iter().map(|r| r.um.value)))
    }
}

impl Record {
    /// What it came to.
    ///
    /// **Formula:** film `100·mean dry/dry wanted`, else `100·mean of the zones' last totals/wet wanted`; ratio
    /// `100·mean((r − m)/m)` with `m` the middle of the tolerance; paint `100·used/reckoned`; time last pass less beginning.
    /// **Units:** per cent, s. **Source:** arithmetic. **Limit:** zones nobody read, and totals that are open-ended, do not count.
    pub fn came_to(&self) -> CameTo {
        let Some(begin) = &self.begin else { return CameTo::default() };
        let accepted = self.acceptance.is_some();
        let reopened = self.log.iter().any(|l| l.kind == EntryKind::Reopen && l.struck.is_none());
        let (used_ml, need_ml) = (self.used_in_all_ml(), self.need_ml());
        let off = proofs(self).into_iter().filter_map(|(_, proof)| proof.figure).map(|f| {
            let middle = f64::midpoint(f.least, f.most);
            100.0 * (f.value - middle) / middle
        });
        CameTo {
            film_pct: self.film_of_wanted_pct(),
            ratio_off_pct: mean(off).filter(|pct| pct.is_finite()),
            use_pct: (used_ml > 0.0 && need_ml > 0.0).then(|| 100.0 * used_ml / need_ml),
            work_s: ended(self).map(|at| at.duration_since(begin.at).as_secs_f64()).filter(|s| *s > 0.0),
            first_time: accepted.then_some(!reopened && self.defects.is_empty()),
        }
    }

    fn film_of_wanted_pct(&self) -> Option<f64> {
        let aim = self.aim()?;
        let wet_um = self.wet_aim_um();
        let beside = Beside::default();
        if let Some(dry_um) = Case::new(self, &beside).by_gauge().as_ref().and_then(ByGauge::mean_um) {
            let wanted_um = aim.dry_um.unwrap_or_else(|| film::dry_of_wet_um(wet_um, self.finished_solids_pct()));
            return (wanted_um > 0.0).then(|| 100.0 * dry_um / wanted_um);
        }
        let zones = self.film_by_zone(None);
        let totals = zones.iter().filter(|z| !z.open_ended).filter_map(|z| mean(z.last.iter().map(|r| r.total_um.value)));
        mean(totals).filter(|_| wet_um > 0.0).map(|um| 100.0 * um / wet_um)
    }

    /// What was thrown away, in the order of the charges.
    ///
    /// **Formula:** `price of a litre × waste`. **Units:** g, mL, hundredths of the shop's money. **Source:** the sheet; arithmetic.
    pub fn wasted(&self) -> Vec<Waste> {
        let price = self.aim().and_then(|aim| aim.sheet.price_minor_l);
        let closed = self.charges.iter().filter_map(|c| c.closed.as_ref()).filter(|c| c.it.how == Ended::Discarded);
        closed
            .map(|c| Waste {
                entry: c.entry,
                at: c.at,
                waste_ml: c.it.waste_ml,
                waste_g: c.it.waste_g,
                cost_minor: price.zip(c.it.waste_ml).map(|(minor, ml)| (minor * ml / 1000.0).round()),
            })
            .collect()
    }
}
