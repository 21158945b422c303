//! Mixed paint in the hose: a vessel of its own on the rack.

use super::Record;
use super::charge::Charge;
use super::entries::FillInto;
use crate::coat_system::Method;
use crate::mixing;
use crate::pot_life::Clocked;
use jiff::Timestamp;
use uuid::Uuid;

/// Mixed paint in the hose: a vessel of its own.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Hose {
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
    /// What stands in the hose, once mixed paint went into it and until it is flushed. `None` without a hose, and for paint
    /// that does not age.
    ///
    /// **Rule:** the hose of the rig that is chosen is a vessel, else the one the plan named. What went into a gun's cup or a
    /// tray went through no hose.
    ///
    /// **Formula:** its age is that of the pot it came from; new paint is at the gun after hose volume ÷ flow.
    /// **Units:** mL, s. **Source:** arithmetic; common practice in the trade (mixed paint does not stay in a hose).
    /// **Check:** 543 mL at 350 mL/min are renewed in 1.55 min.
    pub fn hose(&self, now: Timestamp) -> Option<Hose> {
        if self.aim()?.method.is_some_and(|m| !m.sprays() || m == Method::GunCup) {
            return None;
        }
        let of_rig = self.rig().and_then(|r| r.hose_bore_mm.zip(r.hose_length_mm));
        let of_plan = self.plan_mix.as_ref().and_then(|p| p.it.more.hose_bore_mm.zip(p.it.more.hose_length_mm));
        let (bore_mm, length_mm) = of_rig.or(of_plan)?;
        let hose_ml = mixing::hose_ml(bore_mm, length_mm);
        let into_line = |c: &Charge| {
            let fills = c.fills.iter().filter(|f| f.it.into == FillInto::PressurePot).map(|f| (f.at, f.seq));
            let elsewhere = !c.fills.is_empty() && c.fills.iter().all(|f| f.it.into != FillInto::PressurePot);
            c.started.map(|at| (at, c.started_seq)).filter(|_| !elsewhere).into_iter().chain(fills).max()
        };
        // At the same instant the later entry of the two tells which came first.
        let flushed = self.flushes.iter().map(|f| (f.at, f.seq)).max();
        let (at, charge) = self
            .charges
            .iter()
            .filter_map(|c| into_line(c).filter(|(at, _)| *at <= now).map(|at| (at, c)))
            .max_by_key(|(at, _)| *at)?;
        if flushed.is_some_and(|f| f >= at) {
            return None;
        }
        let clock = self.clock_until(charge, now)?;
        let renewed_s = self.flow_ml_min().map(|flow| hose_ml / flow * 60.0);
        Some(Hose { charge: charge.id, no: charge.no, hose_ml, clock, renewed_s })
    }
}
