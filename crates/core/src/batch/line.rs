//! Mixed paint in the hose: a vessel of its own on the rack.

use super::Record;
use super::mixed::FillInto;
use super::record::Charge;
use crate::mixing;
use crate::pot_life::{Clocked, clock};
use jiff::Timestamp;
use uuid::Uuid;

/// Mixed paint in the hose: a vessel of its own.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Line {
    /// The pot it came from.
    pub charge: Uuid,
    /// Its number.
    pub no: i64,
    /// What the hose holds.
    pub hose_ml: f64,
    /// Its clocks; they run on though the pot is empty.
    pub clock: Clocked,
    /// Until new paint arrives at the gun from here.
    pub renewed_s: Option<f64>,
}

impl Record {
    /// What stands in the hose, once mixed paint went into it and until it is flushed. `None` without a hose in the
    /// plan, and for paint that does not age.
    ///
    /// **Formula:** its age is that of the pot it came from; new paint is at the gun after hose volume ÷ flow.
    /// **Units:** mL, s. **Source:** arithmetic; common practice in the trade (mixed paint does not stay in a hose).
    /// **Check:** 543 mL at 350 mL/min are renewed in 1.55 min.
    pub fn line(&self, now: Timestamp) -> Option<Line> {
        let more = self.plan_mix.as_ref()?.it.more;
        let hose_ml = mixing::hose_ml(more.hose_bore_mm?, more.hose_length_mm?);
        let into_line = |c: &Charge| {
            let fills = c.fills.iter().filter(|f| f.it.into == FillInto::PressurePot).map(|f| f.at);
            c.started.into_iter().chain(fills).max()
        };
        let flushed = self.flushes.iter().map(|f| f.at).max();
        let (at, charge) = self
            .charges
            .iter()
            .filter_map(|c| into_line(c).filter(|at| *at <= now).map(|at| (at, c)))
            .max_by_key(|(at, _)| *at)?;
        if flushed.is_some_and(|f| f >= at) {
            return None;
        }
        let clock = clock(&self.aim()?.sheet, &self.temperatures(charge), charge.combined()?, charge.stirred, now)?;
        let renewed_s = self.flow_ml_min().map(|flow| hose_ml / flow * 60.0);
        Some(Line { charge: charge.id, no: charge.no, hose_ml, clock, renewed_s })
    }
}
