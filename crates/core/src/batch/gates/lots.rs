//! The lots in use: in date, not quarantined, of the right colour, certified, one for the part.

use super::{Act, Answer, Found, Gate, Judging, Looks};
use crate::batch::RULES;
use crate::batch::case::Case;
use crate::batch::gates::GateName;
use crate::component::Component;
use crate::lists::What;
use crate::stores::LotKnown;
use crate::verdict::Severity;
use crate::worded::VariantArray;
use jiff::Timestamp;

pub(super) const GATE: Gate = Gate {
    station: 1,
    acts: &[Act::Combine, Act::Spray],
    judge: Looks::AtBatch(judge),
    combined_past: "combined-with-lot-held",
    next: |_| Some("Look at the lot"),
    line: |_, hold| Some(words_of(hold.item.as_deref().unwrap_or_default())),
};

/// What is only not known of a lot.
const NOT_KNOWN: [&str; 3] = ["unknown-lot", "undated-lot", "colour-unknown"];

/// What is not known of the lots in use where one person works alone: said on the card in place of a hold.
pub fn noted(case: &Case<'_>, now: Timestamp) -> Vec<String> {
    let Some(aim) = case.aim().filter(|aim| aim.alone) else { return Vec::new() };
    let mut said: Vec<String> = Vec::new();
    for taken in case.lots_at(now) {
        let unknown = LotKnown::default();
        let known = case.beside.lots.get(&taken.lot.id).or(taken.lot.known.as_ref()).unwrap_or(&unknown);
        let troubles = known.troubles(&taken.lot.code, &aim.sheet, taken.component, now);
        let not_known = troubles.into_iter().filter(|t| t.severity == Severity::Hold && NOT_KNOWN.contains(&t.code));
        for text in not_known.map(|t| t.text) {
            if !said.contains(&text) {
                said.push(text);
            }
        }
    }
    said
}

/// What is wrong with which lot, in a few words: `no certificate P-2204`.
pub fn words_of(item: &str) -> String {
    let (word, code) = item.split_once(' ').unwrap_or((item, ""));
    format!("{} {code}", word.replace('-', " "))
}

/// What is wrong with the lots in use; asked only where the lists ask for lots.
fn judge(j: &Judging<'_>) -> Vec<Answer> {
    let (case, at, now) = (j.case, j.at, j.now);
    let Some(aim) = case.aim() else { return Vec::new() };
    let asked = |c| aim.items.iter().any(|i| matches!(i.what, What::Lot { component } if component == c));
    let then = at.unwrap_or(now);
    let in_use = case.lots_at(then);
    let mut answers = Vec::new();
    for component in Component::VARIANTS.iter().copied().filter(|c| asked(*c)) {
        // A lot that is not taken yet is an open item of the lists.
        let Some(taken) = in_use.iter().rev().find(|l| l.component == component) else { continue };
        // What the stores know now stands before what they knew when it was taken.
        let known = case.beside.lots.get(&taken.lot.id).filter(|_| at.is_none()).or(taken.lot.known.as_ref());
        // Of a lot nobody knows it is judged as of one that was never received.
        let unknown = LotKnown::default();
        // A book of older rules is not marked for what they did not ask.
        let older = at.is_some() && aim.rules < RULES;
        let known = match known {
            Some(known) => known,
            None if older => continue,
            None => &unknown,
        };
        for trouble in known.troubles(&taken.lot.code, &aim.sheet, component, then) {
            if older && trouble.code == "colour-unknown" {
                continue;
            }
            // Who works alone has no stores to ask: it is noted on the card, and holds nothing. A stop stays a stop.
            if aim.alone && trouble.severity == Severity::Hold && NOT_KNOWN.contains(&trouble.code) {
                continue;
            }
            let found = Found::hold(GateName::Lots, trouble.code, trouble.text);
            let item = Some(format!("{} {}", trouble.code, taken.lot.code));
            answers.push(Found { item, severity: trouble.severity, badness: 1.0, ..found }.answer(case, at));
        }
    }
    answers
}
