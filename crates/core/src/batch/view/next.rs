//! What needs hands next, soonest first.

use crate::batch::beside::window_of;
use crate::batch::case::Case;
use crate::batch::gates::GateName;
use crate::batch::gates::{Hold, Severity, over, recoat_clock};
use crate::batch::ready_lists;
use crate::lists::ItemStand;
use crate::pot_life::{PotState, after};
use crate::quantity::{Kind, Prefs, show};
use crate::schedule::WindowState;
use crate::sheets::ChargeKind;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// How urgent it looks: position and word say it too.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Tone {
    /// Now or lost.
    Urgent,
    /// Held.
    Watch,
    /// In order.
    Calm,
    /// Only waiting.
    Quiet,
}

/// What is lost while it waits: the order of the list, before the time.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Waits {
    /// Paint that dies or sets, a window that closes: by the time it does.
    Loss,
    /// Paint already mixed is held up.
    Mixed,
    /// A person is held up.
    Person,
    /// A chore; it can wait and is never marked as now.
    Chore,
}

/// One line of *Hands next*.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Next {
    pub batch: Uuid,
    pub at: Timestamp,
    /// Seconds from `as_of`; zero or less is now.
    pub in_s: f64,
    pub text: String,
    pub why: String,
    pub part: String,
    pub tone: Tone,
    pub waits: Waits,
    /// Station that answers it.
    pub station: u8,
}

/// Loss first, by the time it comes; then what holds up mixed paint, then what holds up a person, then chores. Of what
/// wants hands at one time, the worst first.
pub fn order(list: &mut [Next], now: Timestamp) {
    list.sort_by_key(|n| (n.waits, n.at.max(now), n.tone));
}

/// What this batch wants, in the order of [`order`].
pub fn next(batch: Uuid, case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> Vec<Next> {
    let Some(aim) = case.aim() else { return Vec::new() };
    let mut out: Vec<Next> = Vec::new();
    let mut add = |waits: Waits, at: Timestamp, station: u8, tone: Tone, text: String, why: String| {
        let in_s = at.duration_since(now).as_secs_f64();
        out.push(Next {
            batch,
            at,
            in_s,
            text,
            why,
            part: format!("{} · {}", aim.part_name, aim.coat_name),
            tone,
            waits,
            station,
        });
    };
    if case.acceptance.is_some() {
        return out; // a closed card wants nothing; its recoat stands with the part
    }
    if case.signature.is_some() {
        add(Waits::Chore, now, 6, Tone::Quiet, "Accept the work".into(), "signed, waits for a lead or inspector".into());
        let earliest = window_of(case).and_then(|w| w.earliest).filter(|t| *t > now);
        if let Some(earliest) = earliest.filter(|_| case.beside.next.is_none()) {
            add(Waits::Chore, earliest, 6, Tone::Quiet, "Next coat may go on".into(), "earliest recoat by sheet".into());
        }
        return out;
    }
    let work_left = !over(case);
    let mixed = case.charges.iter().any(|c| c.combined().is_some() && c.closed.is_none());
    let held = if mixed { Waits::Mixed } else { Waits::Person };
    for hold in holds.iter().filter(|h| h.released.is_none() && h.reached) {
        let Some(what) = hold.next() else { continue };
        let tone = if hold.severity == Severity::Stop { Tone::Urgent } else { Tone::Watch };
        add(held, now, hold.gate.station(), tone, what.into(), hold.text.clone());
    }
    for (item, state) in ready_lists::states(case, now, prefs).into_iter().filter(|_| work_left) {
        let Some(s) = state.changes_s else { continue };
        match state.stand {
            ItemStand::Running => {
                add(Waits::Person, after(now, s), 1, Tone::Calm, item.text.clone(), format!("then stop it; {}", state.line))
            }
            ItemStand::Watch => {
                add(Waits::Person, after(now, s), 1, Tone::Watch, item.text.clone(), format!("{}, then it holds", state.line))
            }
            _ => {}
        }
    }
    let waiting = holds.iter().filter(|h| h.gate == GateName::Lists && h.released.is_none() && !h.reached).count();
    if waiting > 0 && !case.conditions.is_empty() {
        add(
            if mixed { Waits::Mixed } else { Waits::Chore },
            now,
            1,
            Tone::Calm,
            "Go through the lists".into(),
            format!("{waiting} to do before it is sprayed"),
        );
    }
    if case.conditions.is_empty() {
        add(held, now, 1, Tone::Calm, "Read the conditions".into(), "nothing may be combined before".into());
    } else if holds.iter().any(|h| h.gate == GateName::Guards && h.released.is_none()) {
        add(held, now, 1, Tone::Calm, "Put the guards on".into(), "each hazard of the sheet, ticked".into());
    } else if case.charges.is_empty() {
        let what = if aim.sheet.charge == ChargeKind::AtGun { (4, "Catch both streams") } else { (2, "Mix the first pot") };
        add(Waits::Chore, now, what.0, Tone::Calm, what.1.into(), "conditions are go".into());
    }
    if let Some(hold) = holds.iter().find(|h| h.gate == GateName::Recoat && h.released.is_none() && h.reached) {
        let clock = recoat_clock(case, now).and_then(|c| c.changes_s);
        let at = clock.map_or(now, |s| after(now, s));
        let what = if clock.is_some() { "The coat beneath may be coated" } else { "Abrade the coat beneath" };
        add(held, at, 1, if clock.is_some() { Tone::Quiet } else { Tone::Watch }, what.into(), hold.text.clone());
    }
    // The window of the coat beneath closes whether or not somebody looks.
    let window = recoat_clock(case, now).filter(|c| c.state == WindowState::Open && case.passes.is_empty());
    if let Some(latest) = window.and_then(|c| c.latest).filter(|_| work_left) {
        add(
            Waits::Loss,
            latest,
            1,
            Tone::Watch,
            "Coat before the window closes".into(),
            "after it the coat beneath is abraded".into(),
        );
    }
    for charge in case.charges.iter().filter(|c| c.closed.is_none()) {
        let no = charge.no;
        let left = show(case.left_ml(charge), Kind::Volume, prefs).text;
        let Some(clock) = case.clock(charge, now) else {
            let ratio = holds.iter().find(|h| h.gate == GateName::Ratio && h.charge == Some(charge.id) && h.released.is_none());
            if let Some(hold) = ratio.filter(|_| charge.kind == ChargeKind::AtGun) {
                let tone = if hold.reached { Tone::Watch } else { Tone::Calm };
                let what = if hold.reached { "Move one pressure, catch again" } else { "Prove the ratio" };
                add(held, now, 4, tone, what.into(), hold.text.clone());
            } else if charge.started.is_none() && charge.kind == ChargeKind::Pot {
                add(Waits::Chore, now, 2, Tone::Calm, format!("Fill pot {no}"), "base first".into());
            }
            continue;
        };
        match clock.state {
            PotState::Spent => add(Waits::Loss, now, 5, Tone::Urgent, format!("Discard pot {no}"), "its life is spent".into()),
            PotState::LastCall => add(
                Waits::Loss,
                clock.spent_at,
                5,
                Tone::Urgent,
                format!("Empty pot {no} or set it aside"),
                format!("last call, {left} left"),
            ),
            PotState::Watch => add(
                Waits::Loss,
                clock.spent_at,
                5,
                Tone::Watch,
                format!("Use pot {no} up"),
                format!("last quarter of its life, {left} left"),
            ),
            PotState::Ready => {
                add(Waits::Loss, clock.spent_at, 5, Tone::Quiet, format!("Pot {no} must be empty"), format!("ready, {left} left"))
            }
            PotState::Mixing => add(
                Waits::Mixed,
                now,
                2,
                Tone::Calm,
                format!("Stir pot {no}"),
                "hardener is in; induction starts when stirred".into(),
            ),
            PotState::Inducting => {
                let at = clock.induction_ends.unwrap_or(now);
                add(Waits::Mixed, at, 5, Tone::Calm, format!("Pot {no} is ready: stir once, then load"), "induction ends".into());
            }
            PotState::Filling | PotState::Open => {}
        }
    }
    // What stands in the hose dies with its pot; while a pot is sprayed from, new paint pushes it out.
    let idle = case.charges.iter().all(|c| c.started.is_none() || c.closed.is_some());
    if let Some(line) = case.line(now) {
        let why = format!("it still holds {} of pot {}", show(line.hose_ml, Kind::Volume, prefs).text, line.no);
        match line.clock.state {
            PotState::Spent => add(Waits::Loss, now, 5, Tone::Urgent, "Flush the hose: it is spent".into(), why),
            PotState::LastCall => add(Waits::Loss, line.clock.spent_at, 5, Tone::Urgent, "Flush the hose".into(), why),
            _ if idle => add(Waits::Loss, line.clock.spent_at, 5, Tone::Watch, "Flush the hose".into(), why),
            _ => {}
        }
    }
    for charge in case.charges.iter().filter(|c| c.closed.is_none() && c.stirred.is_some()) {
        let (Some(again), Some(last)) = (aim.sheet.stir_again_s, charge.stirs.iter().max()) else { continue };
        let due = after(*last, again);
        let spent = case.clock(charge, now).is_some_and(|c| c.state == PotState::Spent);
        if !spent {
            let tone = if due <= now { Tone::Watch } else { Tone::Quiet };
            add(
                Waits::Mixed,
                due,
                2,
                tone,
                format!("Stir pot {} again", charge.no),
                "it settles: at every fill and after every pause".into(),
            );
        }
    }
    if !case.passes.is_empty() && case.charges.iter().all(|c| c.closed.is_some()) {
        let open = case.deviations.iter().filter(|d| d.answer.is_none()).count();
        if open > 0 {
            add(Waits::Person, now, 6, Tone::Watch, "Answer the deviations".into(), format!("{open} open before signing"));
        } else if let Some(hold) = holds.iter().find(|h| h.gate == GateName::Film && h.released.is_none()) {
            add(Waits::Person, now, 5, Tone::Watch, "Prove the film".into(), hold.text.clone());
        } else {
            add(Waits::Chore, now, 6, Tone::Calm, "Sign the work".into(), "every pot is closed".into());
        }
    }
    order(&mut out, now);
    out
}
