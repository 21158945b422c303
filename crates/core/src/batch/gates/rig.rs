//! The rig: at least what the sheet asks, by its figures.

use super::{Act, Answer, Found, Gate, Judging, Looks, ON_HOLD, UNREAD};
use crate::batch::gates::GateName;
use crate::coat_system::Method;

pub(super) const GATE: Gate = Gate {
    station: 3,
    acts: &[Act::Spray],
    judge: Looks::AtBatch(judge),
    combined_past: ON_HOLD,
    next: |hold| hold.reached.then_some("The rig is less than the sheet asks"),
    line: |_, hold| Some(if hold.reached { "rig short of the sheet" } else { "choose the rig" }.into()),
};

/// One answer for each figure the rig is short of; one for all where no rig is chosen.
fn judge(j: &Judging<'_>) -> Vec<Answer> {
    let Some(aim) = j.case.aim() else { return vec![Answer::NotReached(GateName::Rig, "The batch is not begun.".into())] };
    if !aim.sheet.asks_of_the_rig() || !aim.method.is_none_or(Method::sprays) {
        return vec![Answer::NotNeeded];
    }
    let held = |item: &str, trouble: &'static str, known: bool, text: String| {
        let badness = if known { 1.0 } else { UNREAD };
        let found = Found::hold(GateName::Rig, trouble, text);
        Found { item: Some(item.into()), badness, reached: known, ..found }.answer(j.case, j.at)
    };
    let Some(rig) = j.case.rig() else {
        let text = "The sheet states the least rig, and no rig is chosen. Choose it at Set.";
        return vec![held("rig", "not-chosen", false, text.into())];
    };
    let short = rig.short_of(&aim.sheet, j.prefs);
    if short.is_empty() {
        return vec![Answer::Go];
    }
    let say = |s: crate::rigs::ShortOf| {
        let trouble = if s.known { "less" } else { "not-written" };
        held(s.item, trouble, s.known, format!("{} Take another rig, or ask a lead.", s.text))
    };
    short.into_iter().map(say).collect()
}
