//! What was prepared: the lists of Ready, the drum, the surface, the way it was put on.

use super::{Said, Scene, against, for_it, of_all, unknown};
use crate::batch::gates::GateName;
use crate::batch::ready_lists::state;
use crate::coat_system::Method;
use crate::lists::{ChecklistItem, Did, ItemState, Substrate, What};
use crate::quantity::show_duration;
use crate::worded::Worded;
use jiff::Timestamp;

/// An item as it stood when the first pass went on. Not ticked and let go by a lead is not done; not ticked alone is not recorded.
fn item(s: &Scene<'_>, item: &ChecklistItem) -> Said {
    let at = s.first().unwrap_or(Timestamp::MAX);
    let now = state(s.case.record, item, at, s.prefs);
    let tick = s.case.record.ticks.iter().rev().find(|t| t.it.item == item.key && t.at <= at).map(|t| t.entry);
    let release = s
        .case
        .record
        .releases
        .iter()
        .find(|r| r.it.gate == GateName::Lists && r.it.item.as_deref() == Some(item.key.as_str()) && r.at <= at);
    let text = format!("{}: {}", item.text, now.line);
    match now.state {
        ItemState::Done | ItemState::Watch => against(text, tick),
        ItemState::Held => for_it(text, tick),
        ItemState::Open | ItemState::Running => match release {
            Some(r) => for_it(format!("{}: not done, let go by {}", item.text, r.by), Some(r.entry)),
            None => unknown(text),
        },
    }
}

fn items<'a>(s: &Scene<'a>, keys: &[&str]) -> Vec<&'a ChecklistItem> {
    let all: &'a [ChecklistItem] = s.case.record.aim().map(|aim| aim.items.as_slice()).unwrap_or_default();
    all.iter().filter(|i| keys.contains(&i.key.as_str())).collect()
}

/// One of these items was not done, or failed.
pub(super) fn not_done(s: &Scene<'_>, keys: &[&str]) -> Said {
    of_all(items(s, keys).into_iter().map(|i| item(s, i)).collect(), "No list asked for it")
}

/// Traps drained at Ready, or that day by the book of the rig.
pub(super) fn traps(s: &Scene<'_>) -> Said {
    let by_list = not_done(s, &["water_traps"]);
    match super::rig::cared_within_a_day(s, &["traps"]) {
        Some(said) if by_list.side != crate::diagnosis::Side::For => said,
        Some(_) | None => by_list,
    }
}

pub(super) fn drum_over_stirred(s: &Scene<'_>) -> Said {
    let at = s.first().unwrap_or(Timestamp::MAX);
    let one = |item: &ChecklistItem| {
        let What::Timer { most_s: Some(most_s), .. } = item.what else { return unknown("The sheet states no longest stirring") };
        let ticks = || s.case.record.ticks.iter().filter(|t| t.it.item == item.key && t.at <= at);
        let start = ticks().rfind(|t| t.it.did == Did::Start);
        let stop = start.and_then(|b| ticks().find(|t| t.it.did == Did::Stop && t.at >= b.at));
        let Some((start, stop)) = start.zip(stop) else { return unknown("How long the drum was stirred is not recorded") };
        let ran_s = stop.at.duration_since(start.at).as_secs_f64();
        let text = format!("The drum was stirred {}, {} at the most", show_duration(ran_s), show_duration(most_s));
        if ran_s > most_s { for_it(text, Some(stop.entry)) } else { against(text, Some(stop.entry)) }
    };
    of_all(items(s, &["drum_stir"]).into_iter().map(one).collect(), "No drum is stirred")
}

pub(super) fn by_hand(s: &Scene<'_>) -> Said {
    match s.case.aim().and_then(|aim| aim.method) {
        Some(by @ (Method::Brush | Method::Roller)) => for_it(format!("Put on by {}", by.word()), None),
        Some(by) => against(format!("Put on by {}", by.word()), None),
        None => unknown("How it was put on is not recorded"),
    }
}

pub(super) fn over_old_paint(s: &Scene<'_>) -> Said {
    match s.case.aim().and_then(|aim| aim.substrate) {
        Some(on @ (Substrate::PaintedBodywork | Substrate::AlreadyCoated | Substrate::DopedFabric)) => {
            for_it(format!("It went over {}", on.word()), None)
        }
        Some(on) => against(format!("It went on {}", on.word()), None),
        None => unknown("What it went on is not recorded"),
    }
}
