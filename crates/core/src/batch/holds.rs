//! Gates: what holds or stops the work now, why, and whether a lead has released it.

use super::payload::GateName;
use super::record::{Charge, Record};
use crate::conditions::{self, Gate};
use crate::lists::{self, Before, ItemStand, What};
use crate::mixing::{self, Component};
use crate::pot_life::PotState;
use crate::quantity::{Prefs, show, show_duration};
use crate::ratio_check;
use crate::schedule::{self, WindowState};
use crate::sheets::ChargeKind;
use crate::verdict::{Measured, Verdict};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Hold or stop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Severity {
    /// A lead may release it.
    Hold,
    /// Nobody may.
    Stop,
}

/// A closed gate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Hold {
    /// Which gate.
    pub gate: GateName,
    /// Which charge, for a gate of one.
    pub charge: Option<Uuid>,
    /// Which trouble of a gate that may have several.
    pub item: Option<String>,
    /// Hold or stop.
    pub severity: Severity,
    /// What, why, and what to do.
    pub text: String,
    /// How far past the limit, for comparing with what was released.
    pub badness: f64,
    /// Something was read or done and is held. False: it only waits to be done, and its station says so.
    pub reached: bool,
    /// Who released it and why.
    pub released: Option<String>,
}

impl Hold {
    /// What is wrong with which lot, in a few words: `no certificate P-2204`.
    pub fn lot_words(&self) -> String {
        let item = self.item.as_deref().unwrap_or_default();
        let (word, code) = item.split_once(' ').unwrap_or((item, ""));
        format!("{} {code}", word.replace('-', " "))
    }
}

/// Nothing was read at all: worse than any reading.
const UNREAD: f64 = 1e6;

/// What a hold is on.
#[derive(Clone)]
struct Scope {
    gate: GateName,
    charge: Option<Uuid>,
    item: Option<String>,
    /// Judged as of then; a release given later does not reach back. `None`: now.
    at: Option<Timestamp>,
}

fn hold(record: &Record, Scope { gate, charge, item, at }: Scope, severity: Severity, text: String, badness: f64) -> Hold {
    let released = record
        .releases
        .iter()
        .rev()
        .filter(|_| severity == Severity::Hold)
        .filter(|r| at.is_none_or(|at| r.at <= at))
        .find(|r| r.it.gate == gate && r.it.charge == charge && r.it.item == item && r.it.badness >= badness - 1e-9)
        .map(|r| format!("{}: {}", r.by, r.it.reason));
    let reached = badness != UNREAD && gate != GateName::Guards;
    Hold { gate, charge, item, severity, text, badness, reached, released }
}

/// The hold of a gate of the whole batch, judged by what was known at `at` (`None`: all that is known).
pub fn batch_hold(record: &Record, gate: GateName, at: Option<Timestamp>, prefs: Prefs) -> Option<Hold> {
    let aim = record.aim()?;
    let scope = Scope { gate, charge: None, item: None, at };
    match gate {
        GateName::Conditions => {
            let last = match at {
                Some(at) => record.conditions_at(at),
                None => record.conditions.iter().max_by_key(|c| (c.at, c.seq)),
            };
            let Some(read) = last else {
                return Some(hold(
                    record,
                    scope,
                    Severity::Hold,
                    "Conditions are not read yet. Read air, surface, material and humidity.".into(),
                    UNREAD,
                ));
            };
            if conditions::is_go(&aim.sheet, &read.it) {
                return None;
            }
            let judged = conditions::judge(&aim.sheet, &read.it, prefs);
            let severity = match judged.gate {
                Gate::Go => return None,
                Gate::Hold => Severity::Hold,
                Gate::Stop => Severity::Stop,
            };
            Some(hold(
                record,
                scope,
                severity,
                format!("Conditions: {}. Wait, warm or dry, then read again.", judged.reason),
                judged.badness,
            ))
        }
        GateName::Guards => {
            let missing: Vec<&str> =
                aim.sheet.hazards.iter().filter(|h| !record.guards.contains(h)).map(|h| h.caution().0).collect();
            let text = format!("Guards not on yet: {}. Put them on and tick them.", missing.join(", "));
            (!missing.is_empty()).then(|| hold(record, scope, Severity::Hold, text, missing.len() as f64))
        }
        GateName::Film => {
            let read = record.combs.last()?;
            let tol = crate::verdict::Tolerance::between(aim.sheet.wet_min_um, aim.sheet.wet_max_um);
            let m = read.it.total_um;
            let what = match tol.judge(m) {
                Verdict::In => return None,
                Verdict::Low => "is under the sheet",
                Verdict::High => "is over the sheet",
                Verdict::CannotTell => "cannot be told from its limit",
            };
            let say = |um| show(um, crate::quantity::Kind::Film, prefs).text;
            let text = format!("Wet film {} to {} {what}.", say(m.lo), say(m.hi));
            Some(hold(record, scope, Severity::Hold, text, outside(m, aim.sheet.wet_min_um, aim.sheet.wet_max_um)))
        }
        _ => None,
    }
}

/// How far an interval reaches past a band, relative to the band.
fn outside(m: Measured, lo: f64, hi: f64) -> f64 {
    ((m.hi - hi).max(lo - m.lo) / (hi - lo).max(1e-9)).max(0.0)
}

/// The ratio gate of a charge: as weighed for a pot, as caught at the gun.
///
/// With `at`, only what was poured, caught and released by then counts.
pub fn ratio_hold(record: &Record, charge: &Charge, at: Option<Timestamp>, prefs: Prefs) -> Option<Hold> {
    let aim = record.aim()?;
    let hardener = aim.sheet.hardener()?;
    let scope = Scope { gate: GateName::Ratio, charge: Some(charge.id), item: None, at };
    let by_then = |when: Timestamp| at.is_none_or(|at| when <= at);
    let (said, what) = match charge.kind {
        ChargeKind::Pot => {
            let weighed: Vec<_> = charge.pours.iter().filter(|p| by_then(p.at)).map(|p| p.it.weighed).collect();
            (mixing::said(&aim.sheet, mixing::b_per_a(&weighed)?)?, "as weighed")
        }
        ChargeKind::AtGun => {
            let Some(catch) = record.catches.iter().rev().find(|c| c.it.charge == charge.id && by_then(c.at)) else {
                return Some(hold(
                    record,
                    scope,
                    Severity::Hold,
                    "The ratio is not proved yet. Catch both streams.".into(),
                    UNREAD,
                ));
            };
            let b_per_a = ratio_check::b_per_a_of(catch.it.a_g, catch.it.b_g, catch.it.resolution_g)?;
            (mixing::said(&aim.sheet, b_per_a)?, "as caught")
        }
    };
    let (lo, hi) = (said.tolerance.lo.unwrap_or(0.0), said.tolerance.hi.unwrap_or(f64::MAX));
    let verdict = said.tolerance.judge(said.measured);
    let figure = show(said.measured.value, said.kind, prefs).text;
    let (severity, text) = match (verdict, charge.kind) {
        (Verdict::In, _) => return None,
        (Verdict::CannotTell, ChargeKind::Pot) => (
            Severity::Hold,
            format!("Pot {} at {figure} {what}: this scale cannot tell. Tare before hardener, or take a finer scale.", charge.no),
        ),
        (Verdict::CannotTell, ChargeKind::AtGun) => (
            Severity::Hold,
            format!("The ratio at {figure} {what}: this scale cannot tell. Catch longer, or take a finer scale."),
        ),
        (Verdict::Low | Verdict::High, _) if hardener.band.is_some() => (
            Severity::Stop,
            format!("Catalyst at {figure} is outside its band. It is no gel-time control: discard, or correct the pour."),
        ),
        (Verdict::Low | Verdict::High, ChargeKind::Pot) => {
            (Severity::Hold, format!("Pot {} at {figure} {what} is out. Add what is short before you stir.", charge.no))
        }
        (Verdict::Low | Verdict::High, ChargeKind::AtGun) => {
            (Severity::Hold, format!("The ratio at {figure} {what} is out. Move one pressure at Prove, then catch again."))
        }
    };
    Some(hold(record, scope, severity, text, outside(said.measured, lo, hi)))
}

/// The clock gates of a charge at an instant: induction and life.
pub fn clock_hold(record: &Record, charge: &Charge, now: Timestamp) -> Option<Hold> {
    let clock = record.clock(charge, now)?;
    let scope = |gate| Scope { gate, charge: Some(charge.id), item: None, at: None };
    match clock.state {
        PotState::Spent => {
            let text = format!("Pot {} is spent. Discard it; thinner does not bring it back.", charge.no);
            Some(hold(record, scope(GateName::Life), Severity::Stop, text, clock.age))
        }
        PotState::Mixing => {
            let text = format!("Pot {} cannot be sprayed yet: it is not stirred. Stir it.", charge.no);
            Some(hold(record, scope(GateName::Induction), Severity::Hold, text, UNREAD))
        }
        PotState::Inducting => {
            let left = clock.induction_ends.map_or(0.0, |end| end.duration_since(now).as_secs_f64());
            let text = format!(
                "Pot {} cannot be sprayed yet: induction ends in {}. Stir it once more then.",
                charge.no,
                show_duration(left)
            );
            Some(hold(record, scope(GateName::Induction), Severity::Hold, text, left))
        }
        _ => None,
    }
}

/// Past the latest recoat: one figure whatever the delay, so that a release after abrading stands.
const PAST_LATEST: f64 = 1e7;

/// The recoat gate: the coat beneath is not on, too fresh, or past its latest. Judged until spraying begins.
pub fn recoat_hold(record: &Record, at: Timestamp) -> Option<Hold> {
    let beneath = record.beside.beneath.as_ref().filter(|_| record.passes.is_empty())?;
    let (state, text, how_far) = schedule::too_soon_or_late(beneath, at)?;
    let badness = match state {
        WindowState::Past => PAST_LATEST,
        WindowState::NotSprayed => UNREAD,
        WindowState::Wait | WindowState::Open => how_far,
    };
    Some(hold(record, Scope { gate: GateName::Recoat, charge: None, item: None, at: None }, Severity::Hold, text, badness))
}

/// Readings older than this hold: the weather moves. Common practice in the trade.
pub const CONDITIONS_GOOD_FOR_S: f64 = 3600.0;

/// Readings that are too old at an instant; judged while there is work left.
fn stale_hold(record: &Record, at: Option<Timestamp>, now: Timestamp) -> Option<Hold> {
    let then = at.unwrap_or(now);
    let read = record.conditions_at(then)?;
    let age = then.duration_since(read.at).as_secs_f64();
    if age <= CONDITIONS_GOOD_FOR_S || (at.is_none() && over(record)) {
        return None;
    }
    let text = format!("Conditions were read {} ago. Read them again.", show_duration(age));
    // One release covers one reading that grew old, not the next.
    let readings = record.conditions.iter().filter(|c| c.at <= then).count() as f64;
    let scope = Scope { gate: GateName::Conditions, charge: None, item: Some("old-reading".into()), at };
    Some(hold(record, scope, Severity::Hold, text, readings))
}

/// Whether spraying is over: something was sprayed and every charge is closed.
pub fn over(record: &Record) -> bool {
    !record.passes.is_empty() && record.charges.iter().all(|c| c.closed.is_some())
}

/// What is wrong with the lots in use; asked only where the lists ask for lots.
fn lot_holds(record: &Record, at: Option<Timestamp>, now: Timestamp) -> Vec<Hold> {
    let Some(aim) = record.aim() else { return Vec::new() };
    let asked = |c| aim.items.iter().any(|i| matches!(i.what, What::Lot { component } if component == c));
    let then = at.unwrap_or(now);
    let in_use = record.lots_at(then);
    let mut holds = Vec::new();
    for component in Component::ALL.into_iter().filter(|c| asked(*c)) {
        let Some(taken) = in_use.iter().rev().find(|l| l.component == component) else { continue };
        // What the stores know now stands before what they knew when it was taken.
        let known = record.beside.lots.get(&taken.lot.id).filter(|_| at.is_none()).or(taken.lot.stand.as_ref());
        let Some(stand) = known else { continue };
        for trouble in stand.troubles(&taken.lot.code, &aim.sheet, component, then) {
            let item = Some(format!("{} {}", trouble.code, taken.lot.code));
            let scope = Scope { gate: GateName::Lots, charge: None, item, at };
            holds.push(hold(record, scope, trouble.severity, trouble.text, 1.0));
        }
    }
    holds
}

/// Items of the lists that are not done, or not right; `before` narrows them to those an act waits for.
fn list_holds(record: &Record, before: Option<Before>, at: Option<Timestamp>, now: Timestamp, prefs: Prefs) -> Vec<Hold> {
    if at.is_none() && over(record) {
        return Vec::new();
    }
    let then = at.unwrap_or(now);
    lists::states(record, then, prefs)
        .into_iter()
        .filter(|(item, state)| before.is_none_or(|b| b == item.before) && state.stand > ItemStand::Watch)
        .map(|(item, state)| {
            let text = match state.stand {
                ItemStand::Held => format!("{}: {}.", item.text, state.line),
                ItemStand::Running => format!("{}: {}. Wait for it.", item.text, state.line),
                _ => format!("{}: not done yet. Do it, then tick it at Ready.", item.text),
            };
            // Each new tick that is not right is a trouble of its own.
            let ticks = record.ticks.iter().filter(|t| t.it.item == item.key && t.at <= then).count() as f64;
            let scope = Scope { gate: GateName::Lists, charge: None, item: Some(item.key.clone()), at };
            let made = hold(record, scope, Severity::Hold, text, ticks);
            Hold { reached: state.stand == ItemStand::Held, ..made }
        })
        .collect()
}

/// What stands before hardener goes to base, or before the first pass.
pub fn before(record: &Record, act: Before, at: Option<Timestamp>, now: Timestamp, prefs: Prefs) -> Vec<Hold> {
    let mut holds: Vec<Hold> =
        [GateName::Conditions, GateName::Guards].into_iter().filter_map(|g| batch_hold(record, g, at, prefs)).collect();
    holds.extend(stale_hold(record, at, now));
    holds.extend(lot_holds(record, at, now));
    // Who sprays has passed what combining waits for; what combining waits for is asked again, for at the gun there is none.
    let narrowed = if act == Before::Combine { Some(Before::Combine) } else { None };
    holds.extend(list_holds(record, narrowed, at, now, prefs));
    holds.sort_by_key(|h| h.severity == Severity::Hold);
    holds
}

/// Every closed gate now, worst first.
pub fn all(record: &Record, now: Timestamp, prefs: Prefs) -> Vec<Hold> {
    // Film is held only once spraying is over: until then it is under way.
    let mut holds = before(record, Before::Spray, None, now, prefs);
    holds.extend(batch_hold(record, GateName::Film, None, prefs).filter(|_| over(record)));
    holds.extend(recoat_hold(record, now));
    for charge in record.charges.iter().filter(|c| c.closed.is_none()) {
        holds.extend(ratio_hold(record, charge, None, prefs));
        holds.extend(clock_hold(record, charge, now));
    }
    holds.sort_by_key(|h| (h.severity == Severity::Hold, h.released.is_some()));
    holds
}
