//! Conditions: read at all, go by the sheet, and not too old.

use super::{Act, Answer, Found, Gate, Hold, Judging, Looks, ON_HOLD, Severity, UNREAD, over, trouble_of};
use crate::batch::case::Case;
use crate::batch::gates::GateName;
use crate::conditions::{self, Gate as Judged};
use crate::quantity::{Prefs, QuantityKind, show, show_duration};
use jiff::Timestamp;

/// Readings older than this hold: the weather moves. Common practice in the trade.
pub const GOOD_FOR_S: f64 = 3600.0;

/// The trouble, and the item, of a reading that grew old.
pub const OLD: &str = "old-reading";

pub(super) const GATE: Gate = Gate {
    station: 1,
    acts: &[Act::Combine, Act::Spray],
    judge: Looks::AtBatch(judge),
    combined_past: ON_HOLD,
    next: |hold| Some(if hold.trouble == OLD { "Read the conditions again" } else { "Conditions on hold" }),
    line,
};

/// Every trouble of the conditions, with their age while there is work left.
fn judge(j: &Judging<'_>) -> Vec<Answer> {
    let mut answers = as_read(j.case, j.at, j.prefs);
    answers.push(age(j.case, j.at, j.now));
    answers
}

fn line(j: &Judging<'_>, hold: &Hold) -> Option<String> {
    let margin = j.case.conditions.last().map(|c| show(c.it.margin_dk().value, QuantityKind::TempDiff, j.prefs).text);
    Some(match hold.item.as_deref() {
        _ if hold.trouble == OLD => "read conditions again".into(),
        Some("humidity") => "too humid".into(),
        Some("dew-margin") => format!("dew margin {}", margin.unwrap_or_default()),
        other => format!("{} out of band", other.unwrap_or("it")),
    })
}

/// Every trouble of the last reading, whatever its age.
pub(super) fn as_read(case: &Case<'_>, at: Option<Timestamp>, prefs: Prefs) -> Vec<Answer> {
    let Some(aim) = case.aim() else { return vec![Answer::NotReached(GateName::Conditions, "The batch is not begun.".into())] };
    let last = match at {
        Some(at) => case.conditions_at(at),
        None => case.conditions.iter().max_by_key(|c| (c.at, c.seq)),
    };
    let Some(read) = last else {
        let text = "Conditions are not read yet. Read air, surface, material and humidity.";
        let found = Found { badness: UNREAD, reached: false, ..Found::hold(GateName::Conditions, "not-read", text) };
        return vec![found.answer(case, at)];
    };
    let troubles = conditions::troubles(&aim.sheet, &read.it);
    if troubles.is_empty() {
        return vec![Answer::Go];
    }
    let one = |t: &conditions::Trouble| {
        let wet = t.gate == Judged::Stop;
        let text = format!("Conditions: {}. Wait, warm or dry, then read again.", t.words(prefs));
        let found = Found::hold(GateName::Conditions, if wet { "wet" } else { trouble_of(t.verdict) }, text);
        let severity = if wet { Severity::Stop } else { Severity::Hold };
        Found { item: Some(t.figure.item().into()), severity, badness: t.badness, ..found }.answer(case, at)
    };
    troubles.iter().map(one).collect()
}

/// Readings that are too old at an instant; judged while there is work left.
fn age(case: &Case<'_>, at: Option<Timestamp>, now: Timestamp) -> Answer {
    let then = at.unwrap_or(now);
    if at.is_none() && over(case) {
        return Answer::NotNeeded;
    }
    // Without any reading the gate says so itself.
    let Some(read) = case.conditions_at(then) else {
        return Answer::NotReached(GateName::Conditions, "Conditions are not read yet.".into());
    };
    let age = then.duration_since(read.at).as_secs_f64();
    if age <= GOOD_FOR_S {
        return Answer::Go;
    }
    let text = format!("Conditions were read {} ago. Read them again.", show_duration(age));
    // One release covers one reading that grew old, not the next.
    let readings = case.conditions.iter().filter(|c| c.at <= then).count() as f64;
    Found { item: Some(OLD.into()), badness: readings, ..Found::hold(GateName::Conditions, OLD, text) }.answer(case, at)
}
