//! Items of the Ready lists that are not done, or not right.

use super::{Act, Answer, Found, Gate, Hold, Judging, Looks, over};
use crate::batch::gates::GateName;
use crate::batch::ready_lists;
use crate::lists::{Before, ItemState};

pub(super) const GATE: Gate = Gate {
    station: 1,
    acts: &[Act::Combine, Act::Spray],
    judge: Looks::AtBatch(judge),
    combined_past: "combined-not-ready",
    next: |_| Some("Make it ready"),
    line,
};

fn line(j: &Judging<'_>, hold: &Hold) -> Option<String> {
    let items = ready_lists::states(j.case, j.now, j.prefs);
    Some(items.into_iter().find(|(i, _)| Some(&i.key) == hold.item.as_ref()).map_or(String::new(), |(i, _)| i.text.clone()))
}

/// One answer an item. Who sprays has passed what combining waits for; what combining waits for is asked again, for at the gun
/// there is none.
fn judge(j: &Judging<'_>) -> Vec<Answer> {
    let (case, at, now, prefs) = (j.case, j.at, j.now, j.prefs);
    let before = (j.act == Some(Act::Combine)).then_some(Before::Combine);
    if at.is_none() && over(case) {
        return vec![Answer::NotNeeded];
    }
    let then = at.unwrap_or(now);
    ready_lists::states(case, then, prefs)
        .into_iter()
        .filter(|(item, _)| before.is_none_or(|b| b == item.before))
        .map(|(item, state)| {
            let (trouble, text) = match state.state {
                ItemState::Done | ItemState::Watch => return Answer::Go,
                ItemState::Held => ("not-right", format!("{}: {}.", item.text, state.line)),
                ItemState::Running => ("running", format!("{}: {}. Wait for it.", item.text, state.line)),
                ItemState::Open => ("not-done", format!("{}: not done yet. Do it, then tick it at Ready.", item.text)),
            };
            // Each new tick that is not right is a trouble of its own.
            let ticks = case.ticks.iter().filter(|t| t.it.item == item.key && t.at <= then).count() as f64;
            let found = Found::hold(GateName::Lists, trouble, text);
            let reached = state.state == ItemState::Held;
            Found { item: Some(item.key.clone()), badness: ticks, reached, ..found }.answer(case, at)
        })
        .collect()
}
