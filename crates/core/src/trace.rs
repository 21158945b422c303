//! What else got it: which span of time a tip, or a scale that was found off, touched.

use crate::instruments::Fault;
use crate::rig_book::RigEntry;
use crate::worded::Worded;
use jiff::Timestamp;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is asked back for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum TraceOf {
    /// What a lot went into.
    #[strum(serialize = "lot")]
    Lot,
    /// What went onto a part.
    #[strum(serialize = "part")]
    Part,
    /// What a tip or nozzle sprayed.
    #[strum(serialize = "tip")]
    Tip,
    /// What a scale weighed while it was in doubt.
    #[strum(serialize = "scale")]
    Scale,
    /// What somebody did on a day.
    #[strum(serialize = "shift")]
    Shift,
}

impl Worded for TraceOf {}

/// What a trace tells of, for its sentence.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Told<'a> {
    /// What a lot went into.
    Lot,
    /// What went onto a part.
    Part,
    /// What went through a tip of a rig, by its words; empty: through the rig.
    Through(&'a str),
    /// What a scale weighed while it was in doubt.
    InDoubt(&'a str),
    /// A scale that checks were made of, none of which found it off.
    NeverFoundOff,
    /// A scale nobody ever checked: nothing is known of it, which is not the same.
    NeverChecked,
    /// What somebody did on a shop day.
    On(Date),
}

/// The sentence over a trace: how many batches there are, and how many of them are shown.
///
/// ```
/// use level_keel_core::trace::{Told, line};
/// assert_eq!(line(Told::Lot, 1, 500), "One batch got this lot.");
/// assert_eq!(line(Told::Through("tip 521"), 612, 500), "612 batches went through tip 521, the newest 500 of them.");
/// assert_eq!(line(Told::NeverFoundOff, 0, 500), "No check found it off.");
/// ```
pub fn line(told: Told, count: i64, most: i64) -> String {
    let of = match told {
        Told::Lot => "got this lot".into(),
        Told::Part => "went onto it".into(),
        Told::Through("") => "went through it".into(),
        Told::Through(tip) => format!("went through {tip}"),
        Told::InDoubt(how) => format!("weighed on it while in doubt: {how}"),
        Told::On(day) => format!("worked on {day}"),
        Told::NeverFoundOff => return "No check found it off.".into(),
        Told::NeverChecked => return "Nobody has checked it: whether it weighs true is not known.".into(),
    };
    match count {
        0 => format!("No batch {of}."),
        1 => format!("One batch {of}."),
        n if n > most => format!("{n} batches {of}, the newest {most} of them."),
        n => format!("{n} batches {of}."),
    }
}

/// From one instant to another; open at an end where nothing bounds it.
#[derive(Debug, Clone, PartialEq)]
pub struct Span {
    /// From then on; none: from the beginning.
    pub from: Option<Timestamp>,
    /// Up to then; none: until now.
    pub to: Option<Timestamp>,
    /// What it is the span of.
    pub words: String,
}

/// Each tip or nozzle of a rig, from its fitting to the next one's, newest first.
///
/// **Rule:** what was sprayed before the first fitting that was written down went through a tip nobody named. **Source:** the book.
///
/// ```
/// use level_keel_core::{rig_book::{Fitted, RigEntry}, trace::tips};
/// let at = |day: i8| format!("2026-05-0{day}T08:00:00Z").parse().unwrap();
/// let fitted = |code: &str| RigEntry::Fitted(Fitted { nozzle_mm: None, tip_code: Some(code.into()), before: None });
/// let spans = tips(&[(at(2), fitted("517")), (at(5), fitted("521"))]);
/// assert_eq!((spans[0].from, spans[0].to, spans[0].words.as_str()), (Some(at(5)), None, "tip 521"));
/// assert_eq!((spans[1].from, spans[1].to), (Some(at(2)), Some(at(5))));
/// assert_eq!((spans[2].from, spans[2].to, spans[2].words.as_str()), (None, Some(at(2)), "the tip before"));
/// ```
pub fn tips(told: &[(Timestamp, RigEntry)]) -> Vec<Span> {
    let named = |e: &RigEntry| match e {
        RigEntry::Fitted(f) => Some(match (&f.tip_code, f.nozzle_mm) {
            (Some(code), _) if !code.trim().is_empty() => format!("tip {}", code.trim()),
            (Some(_) | None, Some(mm)) => format!("nozzle {mm} mm"),
            (Some(_) | None, None) => "a tip".into(),
        }),
        RigEntry::Inspected(_)
        | RigEntry::Cleaned(_)
        | RigEntry::Exchanged(_)
        | RigEntry::Changed(_)
        | RigEntry::TipFlow(_)
        | RigEntry::ShutStep(_)
        | RigEntry::Cared(_)
        | RigEntry::PaperProof(_)
        | RigEntry::LimitsRenewed(_)
        | RigEntry::Note(_)
        | RigEntry::Strike(_) => None,
    };
    let mut fitted: Vec<(Timestamp, String)> = told.iter().filter_map(|(at, e)| Some((*at, named(e)?))).collect();
    fitted.sort_by_key(|(at, _)| *at);
    let mut spans = vec![Span { from: None, to: fitted.first().map(|(at, _)| *at), words: "the tip before".into() }];
    for (i, (at, words)) in fitted.iter().enumerate() {
        spans.push(Span { from: Some(*at), to: fitted.get(i + 1).map(|(at, _)| *at), words: words.clone() });
    }
    spans.reverse();
    spans
}

/// Each time a scale was found off: what it weighed since the last good check is in doubt, up to the next good one; newest first.
///
/// **Rule:** a check that found it off doubts backwards to the good one before it, and forwards to the good one after. **Source:** common
/// practice in the trade.
///
/// ```
/// use level_keel_core::{instruments::Fault, trace::doubts};
/// let at = |day: i8| format!("2026-05-0{day}T08:00:00Z").parse().unwrap();
/// let spans = doubts(&[(at(1), None), (at(3), Some(Fault::Offset)), (at(4), Some(Fault::Offset)), (at(6), None)]);
/// assert_eq!(spans.len(), 1);
/// assert_eq!((spans[0].from, spans[0].to), (Some(at(1)), Some(at(6))));
/// ```
pub fn doubts(checks: &[(Timestamp, Option<Fault>)]) -> Vec<Span> {
    let mut checks = checks.to_vec();
    checks.sort_by_key(|(at, _)| *at);
    let mut spans: Vec<Span> = Vec::new();
    let (mut good, mut open): (Option<Timestamp>, Option<(Option<Timestamp>, Fault)>) = (None, None);
    for (at, fault) in &checks {
        match (fault, open.take()) {
            (Some(fault), None) => open = Some((good, *fault)),
            (Some(_), Some(was)) => open = Some(was),
            (None, Some((from, fault))) => {
                spans.push(Span { from, to: Some(*at), words: format!("found off, {}", fault.word()) });
                good = Some(*at);
            }
            (None, None) => good = Some(*at),
        }
    }
    if let Some((from, fault)) = open {
        spans.push(Span { from, to: None, words: format!("found off, {}", fault.word()) });
    }
    spans.reverse();
    spans
}
