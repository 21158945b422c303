//! The batch card: what is printed, signed and stored. It carries the head hash and the version of core.

use super::case::Case;
use super::charge::Charge;
use super::document::{CardDocument, document};
use super::entries::{Ended, Payload, cost_words};
use super::log_line::LogLine;
use super::record::{Deviation, Signature};
use super::view::WholeView;
use crate::CORE_VERSION;
use crate::batch::beside::window_of;
use crate::batch::gates::{self, BY_CUP, lots_noted};
use crate::mixing::{self, Component, RescueTo};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::recoat::RecoatWindow;
use crate::sheets::{ChargeKind, Sheet};
use crate::worded::{Worded, capital};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// The card of a batch. Stored as it was when the work was accepted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Card {
    pub batch: Uuid,
    pub core_version: String,
    pub head_seq: i64,
    pub head_hash: String,
    /// Everything as it is shown: levels, pours, passes, films.
    pub view: WholeView,
    pub deviations: Vec<Deviation>,
    pub signed: Option<Signature>,
    pub accepted: Option<Signature>,
    /// What is to be known of how it was worked: alone, with lots that nobody knows.
    #[serde(default)]
    pub noted: Vec<String>,
    /// When the next coat may go on.
    pub recoat: Option<RecoatWindow>,
    /// The same as an open document, in base units.
    #[serde(default)]
    pub document: Option<CardDocument>,
    /// Each pot: planned, poured, ratio, rescues, times, temperatures, ages, waste.
    #[serde(default)]
    pub pots: Vec<CardPot>,
    /// The whole log, oldest first, struck lines included.
    pub log: Vec<LogLine>,
}

/// A pot on the card.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CardPot {
    pub title: String,
    pub lines: Vec<CardLine>,
}

/// A line of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CardLine {
    pub at: Option<Timestamp>,
    pub text: String,
}

fn pot(case: &Case<'_>, sheet: &Sheet, c: &Charge, prefs: Prefs) -> CardPot {
    let say = |v, k| show(v, k, prefs).text;
    let mut lines: Vec<CardLine> = Vec::new();
    let mut add = |at: Option<Timestamp>, text: String| lines.push(CardLine { at, text });
    let weighed = c.weighed();
    let plan = case.plan(c);
    let list = |mass: &dyn Fn(Component) -> f64| {
        let all = plan
            .iter()
            .map(|p| format!("{} {}", sheet.component_name(p.component), say(mass(p.component), sheet.said_in(p.component))));
        all.collect::<Vec<_>>().join(", ")
    };
    if !plan.is_empty() {
        let planned = |of| plan.iter().filter(|p| p.component == of).map(|p| p.mass_g).sum::<f64>();
        add(Some(c.opened), format!("planned {}", list(&planned)));
        let cup = c.pours.iter().rev().find_map(|p| p.it.cup.as_ref());
        let by_mark = if c.pours.iter().any(|p| p.it.by_mark) { ", by the mark" } else { "" };
        let by = cup.map_or(by_mark.into(), |cup| format!(", by the {cup}"));
        add(c.pours.last().map(|p| p.at), format!("poured {}{by}", list(&|of| mixing::total_g(&weighed, of))));
    }
    if let Some(s) = mixing::b_per_a(&weighed).and_then(|r| mixing::said(sheet, r)) {
        let m = s.measured;
        let (lo, hi) = (say(m.lo, s.kind), say(m.hi, s.kind));
        add(None, format!("ratio {} between {lo} and {hi}: {}", say(m.value, s.kind), s.tolerance.judge(m).word()));
    }
    for r in &c.rescues {
        let how = match r.it {
            RescueTo::Exact => "back on target",
            RescueTo::Least => "the least that is in",
        };
        add(Some(r.at), format!("rescued, {how}"));
    }
    for t in &c.transfers {
        add(Some(t.at), format!("to another cup: {}", say(t.it, sheet.said_in(Component::Base))));
    }
    let from = format!("{} from", case.put_on().done);
    for (what, at) in [("hardener in", c.combined()), ("stirred", c.stirred), (&from, c.started)] {
        if at.is_some() {
            add(at, what.into());
        }
    }
    let end = c.closed.as_ref().map(|x| x.at);
    let held = case.temperatures(c).into_iter().filter(|h| end.is_none_or(|e| h.from <= e)).map(|h| h.temp_c);
    let (lo, hi) = held.fold((f64::MAX, f64::MIN), |(lo, hi), t| (lo.min(t), hi.max(t)));
    if lo <= hi && c.combined().is_some() {
        add(None, format!("temperature {} to {}", say(lo, QuantityKind::Temperature), say(hi, QuantityKind::Temperature)));
    }
    let last = case.passes.iter().filter(|p| p.it.charge == c.id).map(|p| p.at).max();
    for (what, at) in [("at its last pass", last), ("at its end", end)] {
        if let Some(clock) = at.and_then(|at| case.clock(c, at)) {
            add(at, format!("age {} of its life {what}", say(100.0 * clock.age, QuantityKind::Percent)));
        }
    }
    for f in c.all_fills() {
        let dose = f.dose_g.map_or(String::new(), |g| format!(", dose {}", say(g, QuantityKind::Mass)));
        add(Some(f.at), format!("{} into the {}{dose}", say(f.fill_ml, QuantityKind::Volume), f.into.word()));
    }
    if let Some(x) = &c.closed {
        let weighed = x.it.waste_g.map_or(String::new(), |g| format!(" {},", say(g, QuantityKind::Mass)));
        let waste = x.it.waste_ml.map_or(String::new(), |ml| format!("{weighed} {}", say(ml, QuantityKind::Volume)));
        let cost =
            x.it.waste_ml
                .filter(|_| x.it.how == Ended::Discarded)
                .and_then(|ml| cost_words(sheet, ml))
                .map_or(String::new(), |c| format!(", cost {c}"));
        let why = x.it.reason.as_deref().map_or(String::new(), |r| format!(": {r}"));
        add(Some(x.at), format!("{}{waste}{cost}{why}", x.it.how.word()));
    }
    let from = c.born.map_or(String::new(), |b| match b.of_batch {
        Some(number) => format!(", from batch {number:04}"),
        None => format!(", part of pot {}", b.of_no),
    });
    let kind = if c.kind == ChargeKind::Pot { "Pot" } else { "Gun load" };
    CardPot { title: format!("{kind} {}{from}", c.no), lines }
}

/// A stored card in the names of today. What was signed stays as it was stored; only its reader sees the new names.
///
/// ```
/// let old = serde_json::json!({ "view": { "set": { "tries": [] }, "stations": [{ "no": 1, "stand": "done" }] } });
/// let read = level_keel_core::batch::card::in_todays_names(old);
/// assert_eq!(read["view"]["set"]["set_ups"], serde_json::json!([]));
/// assert_eq!(read["view"]["stations"][0]["state"], "done");
/// ```
pub fn in_todays_names(mut stored: Value) -> Value {
    renamed(&mut stored["view"]["set"], "tries", "set_ups");
    for station in stored["view"]["stations"].as_array_mut().into_iter().flatten() {
        renamed(station, "stand", "state");
    }
    for group in stored["view"]["ready"]["groups"].as_array_mut().into_iter().flatten() {
        for item in group["items"].as_array_mut().into_iter().flatten() {
            renamed(item, "stand", "state");
        }
    }
    stored
}

/// Every verdict a card shows: the label and the word of each of its levels, in their order, wherever they stand.
///
/// **Rule:** two cards judge alike when these are the same; figures and units may differ, words may not. **Source:** ours.
///
/// ```
/// use level_keel_core::batch::card::verdicts;
/// let card = serde_json::json!({ "ready": { "levels": [{ "label": "Air", "word": "out", "shown": {} }] } });
/// assert_eq!(verdicts(&card), [("Air".to_string(), "out".to_string())]);
/// ```
pub fn verdicts(card: &Value) -> Vec<(String, String)> {
    match card {
        Value::Array(all) => all.iter().flat_map(verdicts).collect(),
        Value::Object(map) => {
            let text = |field: &str| map.get(field).and_then(Value::as_str).map(String::from);
            let own = text("label").zip(text("word")).into_iter();
            own.chain(map.values().flat_map(verdicts)).collect()
        }
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => Vec::new(),
    }
}

fn renamed(value: &mut Value, was: &str, is: &str) {
    if let Some(map) = value.as_object_mut()
        && let Some(it) = map.remove(was)
    {
        map.entry(is).or_insert(it);
    }
}

/// What a reader of the card is to know beside its figures.
fn noted(case: &Case<'_>) -> Vec<String> {
    let alone = case.aim().is_some_and(|aim| aim.alone);
    // One signature was both, or who did the work gave the second too.
    let both = case.signature.as_ref().zip(case.acceptance.as_ref()).is_some_and(|(s, a)| s.hash != a.hash);
    let second = if both { "the second signature is theirs too" } else { "no second signature" };
    let said = alone.then(|| format!("Worked alone: {second}, and lists cut to what can spoil or hurt."));
    let at = case.signature.as_ref().map_or(Timestamp::MAX, |s| s.at);
    said.into_iter()
        .chain(by_cup(case))
        .chain(lots_noted(case, at))
        .chain(of_the_gauge_struck(case))
        .chain(reopened(case))
        .chain(defects(case))
        .collect()
}

/// What was struck of the measuring: whoever reads until it is right has measured nothing, so each strike is told with its reason.
fn of_the_gauge_struck(case: &Case<'_>) -> Vec<String> {
    use super::entries::EntryKind::{GaugeBare, GaugeFoil, GaugeRead, PlanAcceptance};
    let measuring = |kind| matches!(kind, GaugeBare | GaugeFoil | GaugeRead | PlanAcceptance);
    let struck: Vec<&str> = case.log.iter().filter(|l| measuring(l.kind)).filter_map(|l| l.struck.as_deref()).collect();
    match struck.as_slice() {
        [] => Vec::new(),
        [one] => vec![format!("One entry of the gauge was struck: {one}.")],
        all => vec![format!("{} entries of the gauge were struck: {}.", all.len(), all.join("; "))],
    }
}

/// What it repairs, and the defects that were seen on it by then, with what each came of.
fn defects(case: &Case<'_>) -> Vec<String> {
    let repairs = case.aim().and_then(|aim| aim.repairs.as_ref());
    let repairs = repairs.map(|r| format!("It repairs {} of batch {:04}.", r.symptom.word(), r.number));
    let seen = case.record.defects.iter().map(|d| {
        let place = case.zones().into_iter().find(|(id, _)| id.is_some() && *id == d.it.zone);
        let place = place.map_or(String::new(), |(_, name)| format!(" on {name}"));
        let of = case.defects_settled.iter().rev().find(|s| s.it.defect == d.entry);
        let of = of.map_or("not settled what it came of".into(), |s| format!("it came of {}", s.it.cause.word()));
        format!("{}{place} was seen: {of}.", capital(d.it.symptom.word()))
    });
    repairs.into_iter().chain(seen).collect()
}

/// Why signatures were voided.
fn reopened(case: &Case<'_>) -> Vec<String> {
    let said = case.log.iter().filter_map(|l| match l.said.as_deref() {
        Some(Payload::Reopen(r)) => Some(format!("Reopened, both signatures void: {} ({}).", r.reason, l.by)),
        _ => None,
    });
    said.collect()
}

/// Pots that were mixed by a cup which cannot prove the ratio, as the sheet lets it be done; and what no weight says.
fn by_cup(case: &Case<'_>) -> Vec<String> {
    let Some(aim) = case.aim() else { return Vec::new() };
    let at = case.signature.as_ref().map_or(Timestamp::MAX, |s| s.at);
    let released = gates::all(case, at, Prefs::METRIC).into_iter().filter(|hold| hold.trouble == BY_CUP);
    let mut said: Vec<String> =
        released.map(|hold| format!("{} Released for every batch by the sheet: mixed by cup.", hold.text)).collect();
    if aim.sheet.by_volume_alone() {
        said.push(format!("Measured by volume alone; not known: {}.", aim.sheet.not_known().join("; ")));
    }
    said
}

/// Makes the card of a batch.
pub fn card(case: &Case<'_>, view: WholeView, prefs: Prefs) -> Card {
    let pots = case.aim().map(|b| case.charges.iter().map(|c| pot(case, &b.sheet, c, prefs)).collect());
    let mut log = view.log.clone();
    log.reverse();
    Card {
        batch: view.id,
        core_version: CORE_VERSION.into(),
        head_seq: case.log.head_seq,
        head_hash: case.log.head_hash.clone(),
        deviations: view.close.deviations.clone(),
        signed: case.signature.clone(),
        accepted: case.acceptance.clone(),
        noted: noted(case),
        recoat: window_of(case),
        document: document(view.id, case),
        pots: pots.unwrap_or_default(),
        log,
        view,
    }
}
