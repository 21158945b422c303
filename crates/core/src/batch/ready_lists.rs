//! How an item of the Ready lists stands at an instant, by what was ticked in the book.

use crate::batch::record::{Record, Stamped};
use crate::component::Component;
use crate::lists::{ChecklistItem, Did, ItemNow, ItemState, SheetClock, Tick, What, profile};
use crate::quantity::{Prefs, QuantityKind, show, show_duration};
use crate::verdict::Verdict;
use jiff::Timestamp;

/// Every item of a batch with its state at `now`, by what was known then.
pub fn states(record: &Record, now: Timestamp, prefs: Prefs) -> Vec<(&ChecklistItem, ItemNow)> {
    let items = record.aim().map(|b| b.items.as_slice()).unwrap_or_default();
    items.iter().map(|item| (item, state(record, item, now, prefs))).collect()
}

/// One item at `now`.
pub fn state(record: &Record, item: &ChecklistItem, now: Timestamp, prefs: Prefs) -> ItemNow {
    // What it waits for, done anew, makes an earlier tick of this one void.
    let since =
        item.after.as_ref().and_then(|k| record.ticks.iter().filter(|t| t.it.item == *k && t.at <= now).map(|t| t.at).max());
    let ticks: Vec<_> =
        record.ticks.iter().filter(|t| t.it.item == item.key && t.at <= now && since.is_none_or(|s| t.at >= s)).collect();
    let last = ticks.last().copied();
    let stamp = last.map(|t| (t.at, t.by.clone()));
    let say = |state, line: String| ItemNow { state, line, last: stamp.clone(), changes_s: None, ran_s: None };
    let noted = |word: &str| last.and_then(|t| t.it.text.clone()).map_or(word.to_string(), |t| format!("{word}: {t}"));
    let anew = last.is_some_and(|t| record.carried_from.as_ref().is_some_and(|c| t.seq > c.seq && t.at >= c.at));
    if record.carried.contains(&item.key) && !anew {
        let before = record.carried_from.as_ref().map_or(0, |c| c.it);
        return say(ItemState::Done, format!("as of batch {before:04}"));
    }
    match &item.what {
        What::Tick => match last {
            Some(t) if t.it.did == Did::Done => say(ItemState::Done, noted("done")),
            Some(_) => say(ItemState::Held, noted("not right")),
            None => say(ItemState::Open, "to do".into()),
        },
        What::Test { fails } => match last {
            Some(t) if t.it.did == Did::Done => say(ItemState::Done, noted("good")),
            Some(_) => say(ItemState::Held, noted(fails)),
            None => say(ItemState::Open, "to try".into()),
        },
        What::Approve => match last {
            Some(t) if t.it.did == Did::Done => say(ItemState::Done, noted("approved")),
            Some(_) => say(ItemState::Held, noted("not approved")),
            None => say(ItemState::Open, "a lead approves".into()),
        },
        What::Lot { component } => lot(record, *component, now)
            .map_or_else(|| say(ItemState::Open, "no lot taken".into()), |code| say(ItemState::Done, format!("lot {code}"))),
        What::Profile => {
            let read = last.and_then(|t| t.it.read_um);
            let Some((um, sheet)) = read.zip(record.aim().map(|b| &b.sheet)) else {
                return say(ItemState::Open, "to read".into());
            };
            if sheet.profile_min_um.is_none() && sheet.profile_max_um.is_none() {
                return say(
                    ItemState::Held,
                    format!("{}, and the sheet states no profile", show(um, QuantityKind::Film, prefs).text),
                );
            }
            let (verdict, text) = profile(sheet, um, prefs);
            say(if verdict == Verdict::In { ItemState::Done } else { ItemState::Held }, text)
        }
        What::Timer { least_s, most_s, over, .. } => timer(&ticks, (*least_s, *most_s), over, now, say),
        What::GoodFor { window_s, watch_s, until_coated, over, by } => {
            let ticked = ticks.iter().rev().find(|t| t.it.did == Did::Done).map(|t| t.at);
            let stirs = *by == Some(SheetClock::StirAgain);
            // What settles is stirred again after every pause: what was done before it does not count.
            let since_pause = |at: &Timestamp| !stirs || record.last_pause(now).is_none_or(|pause| *at >= pause);
            let done = ticked.max(all_stirred(record, now).filter(|_| stirs)).filter(since_pause);
            good_for(record, done, (*window_s, *watch_s, *until_coated), over, now, say)
        }
    }
}

/// A clock that is started and stopped: at least and at most so long.
fn timer(
    ticks: &[&Stamped<Tick>],
    (least_s, most_s): (Option<f64>, Option<f64>),
    over: &str,
    now: Timestamp,
    say: impl Fn(ItemState, String) -> ItemNow,
) -> ItemNow {
    let start = ticks.iter().rev().find(|t| t.it.did == Did::Start).map(|t| t.at);
    let stop = ticks.iter().rev().find(|t| t.it.did == Did::Stop).map(|t| t.at).filter(|s| start.is_some_and(|b| *s >= b));
    let Some(start) = start else {
        return say(ItemState::Open, least_s.map_or("to time".into(), |s| format!("at least {}", show_duration(s))));
    };
    let ran = stop.unwrap_or(now).duration_since(start).as_secs_f64();
    let (short, long) = (least_s.is_some_and(|s| ran < s), most_s.is_some_and(|s| ran > s));
    let mut state = match (stop, short, long) {
        (_, _, true) => say(ItemState::Held, format!("{}, {over}", show_duration(ran))),
        (Some(_), true, _) => say(ItemState::Held, format!("only {}, too short", show_duration(ran))),
        (Some(_), false, _) => say(ItemState::Done, show_duration(ran)),
        // A rest is over by itself; a stir, and what has no time at all, is stopped by hand.
        (None, false, _) if most_s.is_none() && least_s.is_none() => say(ItemState::Running, "stop when done".into()),
        (None, false, _) if most_s.is_none() => say(ItemState::Done, show_duration(ran)),
        (None, true, _) => say(ItemState::Running, format!("{} to go", show_duration(least_s.unwrap_or(0.0) - ran))),
        (None, false, _) => say(ItemState::Running, "enough: stop now".into()),
    };
    if stop.is_none() {
        state.ran_s = Some(ran);
        let next = if short { least_s } else { most_s };
        state.changes_s = next.filter(|n| *n > ran).map(|n| n - ran);
    }
    state
}

/// Since when everything that stands open is stirred: stirred at a fill is stirred, and the pot that was stirred longest ago rules.
fn all_stirred(record: &Record, now: Timestamp) -> Option<Timestamp> {
    let open = record.charges.iter().filter(|c| c.opened <= now && c.closed.as_ref().is_none_or(|end| end.at > now));
    let last: Option<Vec<Timestamp>> = open.map(|c| c.stirs.iter().filter(|at| **at <= now).max().copied()).collect();
    last?.into_iter().min()
}

/// Done, and good for a time: until it is over, or until the part is coated.
fn good_for(
    record: &Record,
    done: Option<Timestamp>,
    (window_s, watch_s, until_coated): (Option<f64>, Option<f64>, bool),
    over: &str,
    now: Timestamp,
    say: impl Fn(ItemState, String) -> ItemNow,
) -> ItemNow {
    let Some(done) = done else { return say(ItemState::Open, "to do".into()) };
    let Some(window) = window_s else {
        return say(ItemState::Open, "no time is stated".into());
    };
    let coated = record.passes.iter().map(|p| p.at).filter(|at| *at >= done && *at <= now).min();
    let until = coated.filter(|_| until_coated).unwrap_or(now);
    let gone = until.duration_since(done).as_secs_f64();
    let left = window - gone;
    let ended = coated.is_some() && until_coated;
    let mut state = match (left < 0.0, ended) {
        (true, _) => say(ItemState::Held, format!("{} over: {over}", show_duration(-left))),
        (false, true) => say(ItemState::Done, format!("coated after {}", show_duration(gone))),
        (false, false) if watch_s.is_some_and(|w| gone >= w) => say(ItemState::Watch, format!("{} left", show_duration(left))),
        (false, false) => say(ItemState::Done, format!("{} left", show_duration(left))),
    };
    if !ended && left >= 0.0 {
        state.changes_s = Some(watch_s.filter(|w| *w > gone).map_or(left, |w| w - gone));
    }
    state
}

/// The lot of a component, taken or poured last.
fn lot(record: &Record, component: Component, now: Timestamp) -> Option<String> {
    record.lots_at(now).into_iter().rev().find(|l| l.component == component).map(|l| l.lot.code.clone())
}
