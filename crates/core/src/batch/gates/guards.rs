//! Guards against the hazards of the sheet, each ticked.

use super::{Answer, Found};
use crate::batch::case::Case;
use crate::batch::gates::GateName;
use crate::sheets::Hazard;
use jiff::Timestamp;

/// One answer a hazard: releasing one guard releases no other.
pub(super) fn judge(case: &Case<'_>, at: Option<Timestamp>) -> Vec<Answer> {
    let hazards = case.aim().map(|b| &b.sheet.hazards);
    let one = |hazard: &Hazard| {
        if case.guards.contains(hazard) {
            return Answer::Go;
        }
        let name = hazard.caution().0;
        let text = format!("Guards not on yet: {name}. Put them on and tick them.");
        let item = serde_json::to_value(hazard).ok().and_then(|v| v.as_str().map(String::from));
        Found { item, badness: 1.0, reached: false, ..Found::hold(GateName::Guards, "not-on", text) }.answer(case, at)
    };
    hazards.into_iter().flatten().map(one).collect()
}
