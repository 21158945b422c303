//! Items of the Ready lists that are not done, or not right.

use super::{Answer, Found, over};
use crate::batch::case::Case;
use crate::batch::gates::GateName;
use crate::batch::ready_lists;
use crate::lists::{Before, ItemStand};
use crate::quantity::Prefs;
use jiff::Timestamp;

/// One answer an item; `before` narrows them to those an act waits for.
pub(super) fn judge(case: &Case<'_>, before: Option<Before>, at: Option<Timestamp>, now: Timestamp, prefs: Prefs) -> Vec<Answer> {
    if at.is_none() && over(case) {
        return vec![Answer::NotNeeded];
    }
    let then = at.unwrap_or(now);
    ready_lists::states(case, then, prefs)
        .into_iter()
        .filter(|(item, _)| before.is_none_or(|b| b == item.before))
        .map(|(item, state)| {
            let (trouble, text) = match state.stand {
                ItemStand::Done | ItemStand::Watch => return Answer::Go,
                ItemStand::Held => ("not-right", format!("{}: {}.", item.text, state.line)),
                ItemStand::Running => ("running", format!("{}: {}. Wait for it.", item.text, state.line)),
                ItemStand::Open => ("not-done", format!("{}: not done yet. Do it, then tick it at Ready.", item.text)),
            };
            // Each new tick that is not right is a trouble of its own.
            let ticks = case.ticks.iter().filter(|t| t.it.item == item.key && t.at <= then).count() as f64;
            let found = Found::hold(GateName::Lists, trouble, text);
            let reached = state.stand == ItemStand::Held;
            Found { item: Some(item.key.clone()), badness: ticks, reached, ..found }.answer(case, at)
        })
        .collect()
}
