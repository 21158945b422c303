//! Waits, windows and what happened while it was sprayed.

use super::{Said, Scene, against, for_it, judged, of_all, unknown};
use crate::batch::entries::Happened;
use crate::batch::passes::{Made, OutOfOrder, ZonePasses};
use crate::quantity::show_duration;
use crate::verdict::Verdict;
use crate::worded::{Worded, capital};

impl<'a> Scene<'a> {
    fn made(&self) -> Vec<ZonePasses<'a>> {
        let record: &'a crate::batch::Record = self.case.record;
        let here = |z: &ZonePasses<'_>| self.zone.is_none() || z.id.is_none() || z.id == self.zone;
        record.zone_passes().into_iter().filter(here).collect()
    }

    /// Passes that were out of order the asked way; none were, where the sheet states what to keep.
    fn out_of_order(&self, stated: bool, of: impl Fn(&OutOfOrder) -> Option<String>, nothing: &str) -> Said {
        let zones = self.made();
        let one = |zone: &str, m: &Made<'_>| {
            let found = m.out_of_order.iter().find_map(&of)?;
            Some(for_it(format!("{zone}: a pass {found}"), Some(m.pass.entry)))
        };
        let found = zones.iter().flat_map(|z| z.made.iter().filter_map(|m| one(&z.name, m))).next();
        found.unwrap_or_else(|| match zones.iter().any(|z| z.made.len() > 1) {
            _ if !stated => unknown(nothing),
            true => against("Every pass waited as the sheet asks", None),
            false => unknown("There is one pass, or none"),
        })
    }
}

pub(super) fn pass_early(s: &Scene<'_>) -> Said {
    let steps = s.case.aim().map(|aim| aim.sheet.steps.as_slice()).unwrap_or_default();
    let stated = steps.iter().any(|step| step.between_s.is_some() || step.wait_s.is_some());
    let early = |o: &OutOfOrder| match o {
        OutOfOrder::Early(by_s) => Some(format!("{} early on the one before", show_duration(*by_s))),
        OutOfOrder::Late(_) | OutOfOrder::NotLooked(_) | OutOfOrder::Skipped(_) | OutOfOrder::Extra => None,
    };
    s.out_of_order(stated, early, "The sheet states no wait between passes")
}

pub(super) fn edge_lost(s: &Scene<'_>) -> Said {
    let steps = s.case.aim().map(|aim| aim.sheet.steps.as_slice()).unwrap_or_default();
    let stated = steps.iter().any(|step| step.between_latest_s.is_some());
    let late = |o: &OutOfOrder| match o {
        OutOfOrder::Late(by_s) => Some(format!("{} after the edge was lost", show_duration(*by_s))),
        OutOfOrder::Early(_) | OutOfOrder::NotLooked(_) | OutOfOrder::Skipped(_) | OutOfOrder::Extra => None,
    };
    s.out_of_order(stated, late, "The sheet states no latest for the next pass")
}

/// Against the window of the coat beneath: `Low` is too early, `High` too late.
pub(super) fn recoat(s: &Scene<'_>, asked: Verdict) -> Said {
    let used = |id| s.passes.iter().any(|p| p.it.charge == id);
    let charges = s.case.charges.iter().filter(|c| used(c.id));
    let one = |c: &crate::batch::charge::Charge| {
        let (Some(over), Some(started)) = (&c.over, c.started) else {
            return unknown("What lies beneath, and since when, is not recorded");
        };
        let entry = s.case.log.iter().find(|l| l.seq == c.started_seq).map(|l| l.entry);
        let early = over.earliest.map(|t| t.duration_since(started).as_secs_f64()).filter(|by_s| *by_s > 0.0);
        let late = over.latest.map(|t| started.duration_since(t).as_secs_f64()).filter(|by_s| *by_s > 0.0);
        let (verdict, text) = match (early, late) {
            (Some(by_s), _) => (Verdict::Low, format!("{} before the {} may be coated over", show_duration(by_s), over.coat)),
            (None, Some(by_s)) => (Verdict::High, format!("{} after the window of the {}", show_duration(by_s), over.coat)),
            (None, None) if over.earliest.is_none() && over.latest.is_none() => {
                return unknown(format!("The window of the {} is not stated", over.coat));
            }
            (None, None) => (Verdict::In, format!("Inside the window of the {}", over.coat)),
        };
        judged(verdict, asked, text, entry)
    };
    of_all(charges.map(one).collect(), "What lies beneath, and since when, is not recorded")
}

/// Tapped while it was sprayed. That nobody tapped it says nothing.
pub(super) fn happened(s: &Scene<'_>, what: Happened) -> Said {
    let here = |h: &&crate::batch::record::Stamped<crate::batch::entries::Happening>| h.it.what == what && s.is_here(h.it.zone);
    match s.case.happenings.iter().find(here) {
        Some(h) => {
            let seen = h.it.text.as_deref().map_or(String::new(), |t| format!(": {t}"));
            for_it(format!("{}, {}{seen}", capital(what.word()), s.case.shop_time(h.at)), Some(h.entry))
        }
        None => unknown(format!("Nobody tapped “{}”", what.word())),
    }
}
