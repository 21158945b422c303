//! Mixed paint in the hose: a vessel of its own on the rack.

use super::Record;
use super::charge::Charge;
use super::entries::{FillInto, Happened};
use crate::coat_system::Method;
use crate::mixing;
use crate::pot_life::{Clocked, after};
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
    /// Work stopped then, and goes on no more yet: what is in it stands.
    pub stands_since: Option<Timestamp>,
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
        let (charge, hose_ml, _) = self.in_hose(now)?;
        let clock = self.clock_until(charge, now)?;
        let renewed_s = self.flow_ml_min().map(|flow| hose_ml / flow * 60.0);
        let stands_since = self.paused_since(now);
        Some(Hose { charge: charge.id, no: charge.no, hose_ml, clock, renewed_s, stands_since })
    }

    /// Paint that does not age in the hose, and until when it may stay there. `None` without a hose, for paint that ages, and once
    /// the hose is flushed.
    ///
    /// **Rule:** a week from the first of it that came in since the hose was flushed. **Units:** mL. **Source:** common practice
    /// in the trade.
    pub fn stays_in_hose(&self, now: Timestamp) -> Option<StaysInHose> {
        if self.aim()?.sheet.has_hardener {
            return None;
        }
        let (charge, hose_ml, since) = self.in_hose(now)?;
        Some(StaysInHose { charge: charge.id, no: charge.no, hose_ml, flush_by: after(since, FLUSH_WITHIN_S) })
    }

    /// Since when work stands still: the last pause, unless it goes on or a pass was made since.
    ///
    /// **Rule:** the newest of pause, going on and pass rules. **Source:** the book.
    pub fn paused_since(&self, now: Timestamp) -> Option<Timestamp> {
        let said = self.happenings.iter().filter(|h| h.at <= now);
        let stops = said.filter(|h| matches!(h.it.what, Happened::Pause | Happened::GoesOn));
        let newest = stops.max_by_key(|h| (h.at, h.seq)).filter(|h| h.it.what == Happened::Pause)?;
        let worked = self.passes.iter().any(|p| p.at <= now && (p.at, p.seq) > (newest.at, newest.seq));
        (!worked).then_some(newest.at)
    }

    /// When work stopped last, whether or not it goes on.
    pub fn last_pause(&self, now: Timestamp) -> Option<Timestamp> {
        let pauses = self.happenings.iter().filter(|h| h.it.what == Happened::Pause && h.at <= now);
        pauses.map(|h| h.at).max()
    }

    /// The charge that went into the hose last and was not flushed out, what the hose holds, and since when paint is in it.
    fn in_hose(&self, now: Timestamp) -> Option<(&Charge, f64, Timestamp)> {
        if self.aim()?.method.is_some_and(|m| !m.sprays() || m == Method::GunCup) {
            return None;
        }
        let of_rig = self.rig().and_then(|r| r.hose_bore_mm.zip(r.hose_length_mm));
        let of_plan = self.plan_mix.as_ref().and_then(|p| p.it.more.hose_bore_mm.zip(p.it.more.hose_length_mm));
        let (bore_mm, length_mm) = of_rig.or(of_plan)?;
        let into_line = |c: &Charge| {
            let fills = c.all_fills().filter(|f| f.into == FillInto::PressurePot).map(|f| (f.at, f.seq));
            let elsewhere = c.all_fills().count() > 0 && c.all_fills().all(|f| f.into != FillInto::PressurePot);
            let all: Vec<_> = c.started.map(|at| (at, c.started_seq)).filter(|_| !elsewhere).into_iter().chain(fills).collect();
            all
        };
        // At the same instant the later entry of the two tells which came first.
        let flushed = self.flushes.iter().map(|f| (f.at, f.seq)).max();
        let since_flushed = self.charges.iter().flat_map(|c| into_line(c).into_iter().map(move |at| (at, c)));
        let in_it: Vec<_> = since_flushed.filter(|(at, _)| at.0 <= now && flushed.is_none_or(|f| f < *at)).collect();
        let (_, charge) = in_it.iter().max_by_key(|(at, _)| *at)?;
        let since = in_it.iter().map(|(at, _)| at.0).min()?;
        Some((charge, mixing::hose_ml(bore_mm, length_mm), since))
    }
}

/// How long paint that does not age may stay in pot and hose: a week; common practice in the trade.
const FLUSH_WITHIN_S: f64 = 7.0 * 86_400.0;

/// Paint that does not age, in the hose.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StaysInHose {
    /// The pot it came from.
    pub charge: Uuid,
    /// Its number.
    pub no: i64,
    /// What the hose holds.
    pub hose_ml: f64,
    /// It is flushed by then.
    pub flush_by: Timestamp,
}
