//! The story of a part, out of the books of every batch that was done on it: what went on, what was seen, what it came of, what mended it.

use super::entries::Phase;
use super::record::{Record, Signature};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::worded::{Worded, capital};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What kind of line it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StoryKind {
    /// Work on it.
    Work,
    /// Signed, accepted.
    Signed,
    /// A defect.
    Defect,
    /// What a defect came of.
    Settled,
    /// It is repaired.
    Repair,
}

/// A line of the story.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct StoryLine {
    pub at: Timestamp,
    pub kind: StoryKind,
    pub batch: Uuid,
    pub number: i64,
    /// The coat.
    pub coat: String,
    pub text: String,
    pub by: String,
    /// The entry of the defect it is about.
    pub defect: Option<Uuid>,
}

/// Every line of a part, oldest first.
pub fn story(batches: &[(Uuid, &Record)], prefs: Prefs) -> Vec<StoryLine> {
    let mut lines: Vec<StoryLine> = batches.iter().flat_map(|(id, record)| of_batch(*id, record, prefs)).collect();
    lines.sort_by_key(|l| (l.at, l.number));
    lines
}

fn of_batch(batch: Uuid, record: &Record, prefs: Prefs) -> Vec<StoryLine> {
    let Some(begin) = &record.begin else { return Vec::new() };
    let aim = &begin.it;
    let line = |at, kind, text: String, by: &str, defect| StoryLine {
        at,
        kind,
        batch,
        number: aim.number,
        coat: aim.coat_name.clone(),
        text,
        by: by.into(),
        defect,
    };
    let zone = |id: Option<Uuid>| id.and_then(|id| aim.zones.iter().find(|z| z.id == id)).map(|z| z.name.clone());
    let mut lines = Vec::new();
    let area = show(aim.area_m2, QuantityKind::Area, prefs).text;
    match &aim.repairs {
        Some(r) => {
            let text = format!("Repair begun, {area}: {} of batch {:04}", r.symptom.word(), r.number);
            lines.push(line(begin.at, StoryKind::Repair, text, &begin.by, Some(r.defect)));
        }
        None => lines.push(line(begin.at, StoryKind::Work, format!("Begun: {}, {area}", aim.sheet.label), &begin.by, None)),
    }
    if let Some(last) = record.passes.iter().max_by_key(|p| (p.at, p.seq)) {
        let passes = record.passes.len();
        let text = if passes == 1 { "Coated, one pass".to_string() } else { format!("Coated, {passes} passes") };
        lines.push(line(last.at, StoryKind::Work, text, &last.by, None));
    }
    if let Some(why) = &record.left_out {
        lines.push(line(why.at, StoryKind::Work, format!("Left out: {}", why.it), &why.by, None));
    }
    let signed = |s: &Signature, text: String| line(s.at, StoryKind::Signed, text, &s.by, None);
    lines.extend(record.signature.as_ref().map(|s| signed(s, "Work signed".into())));
    if record.phase() == Phase::Accepted
        && let Some(s) = &record.acceptance
    {
        let by: Vec<&str> = record.accepted_by.iter().map(|b| b.word()).collect();
        let text = if by.is_empty() { "Accepted".into() } else { format!("Accepted by {}", by.join(", ")) };
        lines.push(signed(s, text));
    }
    for d in &record.defects {
        let place = zone(d.it.zone).map_or(String::new(), |z| format!(" on {z}"));
        let seen = d.it.text.as_deref().map_or(String::new(), |t| format!(": {t}"));
        let text = format!("{}{place}{seen}", capital(d.it.symptom.word()));
        lines.push(line(d.at, StoryKind::Defect, text, &d.by, Some(d.entry)));
    }
    for s in &record.defects_settled {
        let text = format!("It came of: {}. {}", s.it.cause.word(), s.it.text);
        lines.push(line(s.at, StoryKind::Settled, text, &s.by, Some(s.it.defect)));
    }
    lines
}
