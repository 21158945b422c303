//! Whether a proof by two catches still stands: it is of a time, a day, lots, a rig and its pressures.

use crate::batch::case::Case;
use crate::batch::entries::RatioCheck;
use crate::batch::record::Stamped;
use crate::component::Component;
use crate::ratio_check::PRESSURE_OFF;
use crate::rigs::RigKind;
use crate::verdict::is_over;
use jiff::{Timestamp, tz::TimeZone};

pub use crate::ratio_check::PROOF_GOOD_FOR_S;
/// Why a proof by two catches does not stand any more, if it does not: the trouble's word and the reason.
///
/// **Rule:** 12 h, another shop day, another lot, a pressure of A or B over 10 % off the one it was caught at, another
/// rig, an exchanged tip, hose, pump, filter or packing. **Source:** common practice in the trade; hours and per cent from memory.
/// What nobody wrote cannot be compared and makes it stale: a pressure at the catch once one is set, the pressure of B in the
/// newest try on twin pots, a zone for its day.
/// With `at`, by what the book knew then.
pub fn proof_stale(
    case: &Case<'_>,
    catch: &Stamped<RatioCheck>,
    at: Option<Timestamp>,
    now: Timestamp,
) -> Option<(&'static str, String)> {
    let then = at.unwrap_or(now);
    if then.duration_since(catch.at).as_secs_f64() > PROOF_GOOD_FOR_S {
        return Some(("stale-time", "it is more than 12 h old".into()));
    }
    if let Some(stale) = of_another_day(case, catch.at, then) {
        return Some(stale);
    }
    if let Some(code) = another_lot(case, catch.at, then) {
        return Some(("stale-lot", format!("lot {code} is another than it was caught with")));
    }
    if let Some(rig) = case.rig_changes.iter().find(|c| c.at > catch.at && c.at <= then) {
        return Some(("stale-rig", format!("the rig is another: {}", rig.it)));
    }
    if let Some(changed) = case.beside.rig_exchanged.iter().find(|c| at.is_none() && c.at > catch.at && c.at <= then) {
        return Some(("stale-exchange", changed.what.clone()));
    }
    pressures_moved(case, catch, then)
}

/// The lot of base or hardener that is in use by then and was not at the proof; one nobody named then is another.
pub(super) fn another_lot(case: &Case<'_>, proved: Timestamp, then: Timestamp) -> Option<String> {
    let in_use = |component: Component, when: Timestamp| {
        case.lots_at(when).into_iter().rev().find(|l| l.component == component).map(|l| (l.lot.id, l.lot.code.clone()))
    };
    [Component::Base, Component::Hardener].into_iter().find_map(|component| {
        let (was, is) = (in_use(component, proved), in_use(component, then)?);
        (was.map(|w| w.0) != Some(is.0)).then_some(is.1)
    })
}

/// Whether a pressure was set since that is off the one of the proof, or that cannot be compared with it.
fn pressures_moved(case: &Case<'_>, catch: &Stamped<RatioCheck>, then: Timestamp) -> Option<(&'static str, String)> {
    let tries: Vec<_> = case.set_ups.iter().filter(|s| s.at <= then).collect();
    let flows = case.flow_catches.iter().filter(|c| c.at <= then).map(|c| (c.at, c.it.pot_kpa));
    let mut of_a: Vec<_> = tries.iter().filter_map(|s| Some((s.at, s.it.pot_kpa?))).chain(flows).collect();
    of_a.sort_by_key(|(at, _)| *at);
    let of_b: Vec<_> = tries.iter().filter_map(|s| Some((s.at, s.it.b_kpa?))).collect();
    // On twin pots the newest try must say B, or nobody knows where B stands.
    let twin = case.rig().is_some_and(|rig| rig.kind == RigKind::TwinPots);
    let silent = twin && tries.last().is_some_and(|s| s.at > catch.at && s.it.b_kpa.is_none());
    let unknown = |why: &str| Some(("stale-pressure-unknown", why.to_string()));
    for (of, set, said) in [("", &of_a, catch.it.a_kpa), (" of B", &of_b, catch.it.b_kpa)] {
        let before = set.iter().rev().find(|(at, _)| *at <= catch.at).map(|(_, kpa)| *kpa);
        let Some((_, is)) = set.last().filter(|(at, _)| *at > catch.at) else { continue };
        // Caught without a pressure said: at the one set before.
        let Some(proved_at) = said.or(before) else {
            return unknown(&format!("nobody wrote at what pressure{of} it was caught, and one was set since"));
        };
        if is_over((is - proved_at).abs(), PRESSURE_OFF * proved_at) {
            return Some(("stale-pressure", format!("the pressure{of} was moved by more than a tenth since")));
        }
    }
    if silent {
        return unknown("a pressure was set since and nobody wrote the pressure of B (a try that says it settles that)");
    }
    None
}

/// Whether the shop's day is another by now. The zone is the one in the book, else the shop's of today; where neither is
/// known a proof stands until the next quarter of an hour, since every zone has its midnight on one.
fn of_another_day(case: &Case<'_>, caught: Timestamp, then: Timestamp) -> Option<(&'static str, String)> {
    let named = case.aim().and_then(|b| b.zone.as_deref()).or(case.beside.zone.as_deref());
    let Some(zone) = named.and_then(|name| TimeZone::get(name).ok()) else {
        let quarter = |at: Timestamp| at.as_second().div_euclid(15 * 60);
        let why = "no zone of the shop is known, so nobody can say whether it is of today";
        return (quarter(caught) != quarter(then)).then(|| ("stale-day-unknown", why.into()));
    };
    let another = caught.to_zoned(zone.clone()).date() != then.to_zoned(zone).date();
    another.then(|| ("stale-day", "it is of another day".into()))
}
