//! Guards against the hazards of the sheet, each ticked.

use super::{Act, Answer, Found, Gate, Judging, Looks, no_line, no_next};
use crate::batch::gates::GateName;
use crate::sheets::Hazard;
use crate::worded::Worded;

pub(super) const GATE: Gate = Gate {
    station: 1,
    acts: &[Act::Combine, Act::Spray],
    judge: Looks::AtBatch(judge),
    combined_past: "combined-without-guards",
    next: no_next,
    line: no_line,
};

/// One answer a hazard: releasing one guard releases no other.
fn judge(j: &Judging<'_>) -> Vec<Answer> {
    let case = j.case;
    let one = |hazard: Hazard| {
        if case.guards.contains(&hazard) {
            return Answer::Go;
        }
        let name = hazard.word();
        let text = format!("Guards not on yet: {name}. Put them on and tick them.");
        let item = serde_json::to_value(hazard).ok().and_then(|v| v.as_str().map(String::from));
        Found { item, badness: 1.0, reached: false, ..Found::hold(GateName::Guards, "not-on", text) }.answer(case, j.at)
    };
    case.hazards().into_iter().map(one).collect()
}
