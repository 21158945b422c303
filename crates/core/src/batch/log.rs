//! The log strip: each entry in one line of plain words, in the reader's units.

use super::mixed::cost_words;
use super::payload::{Ended, Payload};
use super::record::{Logged, Record};
use crate::conditions::dew_point_c;
use crate::lists::{Did, Tick, What};
use crate::mixing::RescueTo;
use crate::quantity::{Kind, Prefs, show};
use crate::sheets::ChargeKind;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A line of the strip.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LogLine {
    /// The entry.
    pub entry: Uuid,
    /// Its sequence.
    pub seq: i64,
    /// Its kind.
    pub kind: super::Kind,
    /// When it happened.
    pub at: Timestamp,
    /// Entered more than two minutes after it happened.
    pub late: bool,
    /// Who wrote it.
    pub who: Uuid,
    /// Their name.
    pub by: String,
    /// What, in words.
    pub text: String,
    /// Struck: by whom and why.
    pub struck: Option<String>,
}

/// The strip of a record, newest first.
pub fn lines(record: &Record, prefs: Prefs) -> Vec<LogLine> {
    record
        .log
        .iter()
        .rev()
        .map(|l| LogLine {
            entry: l.entry,
            seq: l.seq,
            kind: l.kind,
            at: l.at,
            late: l.late,
            who: l.who,
            by: l.by.clone(),
            text: words(record, l, prefs),
            struck: l.struck.clone(),
        })
        .collect()
}

fn words(record: &Record, line: &Logged, prefs: Prefs) -> String {
    let Some(said) = &line.said else { return "An entry this version cannot read".into() };
    let say = |v: f64, k: Kind| show(v, k, prefs).text;
    let pot = |id: Uuid| record.charge(id).map_or("a struck pot".to_string(), |c| format!("pot {}", c.no));
    let zone =
        |id: Uuid| record.aim().and_then(|b| b.zones.iter().find(|z| z.id == id)).map_or(String::new(), |z| z.name.clone());
    match &**said {
        Payload::Begin(b) => {
            let film = b
                .dry_um
                .map_or_else(|| format!("{} wet", say(b.wet_um, Kind::Film)), |um| format!("{} dry", say(um, Kind::Film)));
            format!("Begun: {} {}, {}, {film}", b.part_label, b.coat_name, say(b.area_m2, Kind::Area))
        }
        Payload::Conditions(c) => {
            let dew = dew_point_c(c.air_c, c.rh_pct);
            format!("Conditions: surface {}, dew point {}", say(c.surface_c, Kind::Temperature), say(dew, Kind::Temperature))
        }
        Payload::Guards(g) => format!("Guards on: {}", g.hazards.iter().map(|h| h.caution().0).collect::<Vec<_>>().join(", ")),
        Payload::TakeLot(t) => {
            let name = record.aim().map_or(t.component.word().into(), |b| b.sheet.component_name(t.component));
            let why = t.reason.as_deref().map_or(String::new(), |r| format!(": {r}"));
            format!("Lot {} taken for {name}{why}", t.lot.code)
        }
        Payload::Tick(t) => tick_words(record, t, prefs),
        Payload::OpenCharge(c) if c.kind == ChargeKind::AtGun => format!("Charge {} opened at the gun", c.no),
        Payload::OpenCharge(c) => format!("Pot {} opened for {}", c.no, say(c.wanted_ml, Kind::Volume)),
        Payload::Pour(p) => {
            let lot = p.lot.as_ref().map_or(String::new(), |l| format!(", lot {}", l.code));
            let how = match (p.whole_can, p.mark.is_some(), p.tared) {
                (true, ..) => "a whole can",
                (_, true, _) => "by the mark",
                (_, _, true) => "apart",
                (_, _, false) => "on the scale",
            };
            let name = record.aim().map_or(p.component.word().into(), |b| b.sheet.component_name(p.component));
            format!("{} in {}: {} {how}{lot}", capital(&name), pot(p.charge), say(p.reading_g, Kind::Mass))
        }
        Payload::Combine(c) => format!("Hardener to base in {}", pot(c.charge)),
        Payload::Stirred(c) => format!("Stirred {}", pot(c.charge)),
        Payload::PotTemperature(p) => format!("{} at {}", capital(&pot(p.charge)), say(p.temp_c, Kind::Temperature)),
        Payload::ChooseRig(r) => format!("Rig: {}", r.fitted.as_ref().map_or(String::new(), |f| f.name.clone())),
        Payload::FlowCatch(c) => {
            let what = match (c.caught_g, c.caught_ml) {
                (Some(g), _) => say(g, Kind::Mass),
                (_, ml) => say(ml.unwrap_or(0.0), Kind::Volume),
            };
            format!("Caught {what} in {} at {}", say(c.caught_watch_s, Kind::Stopwatch), say(c.pot_kpa, Kind::Pressure))
        }
        Payload::SetStep(s) => s.words().to_string(),
        Payload::CupRun(c) => format!("{} ran {}", c.cup.word(), say(c.run_cup_s, Kind::CupSeconds)),
        Payload::SetUp(s) => {
            let stream = match (s.stream_mm, s.pattern) {
                (Some(mm), _) => format!("stream {}", say(mm, Kind::Length)),
                (None, Some(pattern)) => pattern.word().to_string(),
                (None, None) => "no stream read".to_string(),
            };
            let step = s.step.map_or(String::new(), |step| format!(" ({})", step.word()));
            format!("Pot pressure {}, {stream}{step}", say(s.pot_kpa, Kind::Pressure))
        }
        Payload::Catch(c) => format!("Caught A {} to B {}", say(c.a_g, Kind::Mass), say(c.b_g, Kind::Mass)),
        Payload::StartSpraying(c) => format!("Spraying from {}", pot(c.charge)),
        Payload::Pass(p) => {
            let used = p.used_ml.map_or(String::new(), |ml| format!(", {}", say(ml, Kind::Volume)));
            let zones: Vec<String> = p.zones.iter().map(|z| zone(*z)).collect();
            let place = if zones.is_empty() { String::new() } else { format!(" on {}", zones.join(", ")) };
            format!("Pass from {}{place}{used}", pot(p.charge))
        }
        Payload::Comb(c) => {
            let place = c.zone.map_or(String::new(), |z| format!(" at {}", zone(z)));
            c.tooth_um.map_or(format!("Comb{place}: no tooth wet"), |t| format!("Comb{place}: wet to {}", say(t, Kind::Film)))
        }
        Payload::FilmLook(l) => {
            let why = l.text.as_deref().map_or(String::new(), |t| format!(": {t}"));
            format!("Film by look {}{why}", if l.good { "right" } else { "not right" })
        }
        Payload::DenyBirth(d) => format!("Birth of {} denied: {}", pot(d.charge), d.reason),
        Payload::CloseCharge(c) => match c.how {
            Ended::Emptied | Ended::HandedOver => capital(&format!("{} {}", c.how.word(), pot(c.charge))),
            Ended::Discarded => {
                let waste = c.waste_ml.map_or(String::new(), |ml| format!(", {}", say(ml, Kind::Volume)));
                let sheet = record.aim().map(|b| &b.sheet);
                let cost = sheet.zip(c.waste_ml).and_then(|(s, ml)| cost_words(s, ml));
                let cost = cost.map_or(String::new(), |c| format!(", cost {c}"));
                format!("Discarded {}: {}{waste}{cost}", pot(c.charge), c.reason.as_deref().unwrap_or_default())
            }
        },
        Payload::PlanMix(p) => {
            let fill = p.fill_ml.map_or(String::new(), |ml| format!(", pots to {}", say(ml, Kind::Volume)));
            format!("Planned: {} from the gun{fill}", say(p.rate_ml_min, Kind::Flow))
        }
        Payload::Rescue(r) => {
            let total: f64 = r.plan.iter().map(|p| p.mass_g).sum();
            let how = match r.to {
                RescueTo::Exact => "back on target",
                RescueTo::Least => "the least that is in",
            };
            format!("{} rescued, {how}: {} in all", capital(&pot(r.charge)), say(total, Kind::Mass))
        }
        Payload::Transfer(t) => format!("{} to another cup: {}", capital(&pot(t.charge)), say(t.reading_g, Kind::Mass)),
        Payload::Fill(f) => {
            let dose = f.dose_g.map_or(String::new(), |g| format!(", dose {}", say(g, Kind::Mass)));
            let strained = if f.strained { ", strained" } else { "" };
            format!("{} from {} into the {}{dose}{strained}", say(f.fill_ml, Kind::Volume), pot(f.charge), f.into.word())
        }
        Payload::Divide(d) => format!("{} of {} into pot {}", say(d.part_ml, Kind::Volume), pot(d.charge), d.no),
        Payload::HandOver(h) => format!("{} handed over to batch {:04}", capital(&pot(h.charge)), h.to_number),
        Payload::TakeOver(t) => format!("Pot {} taken over from batch {:04}: {}", t.no, t.from_number, say(t.ml, Kind::Volume)),
        Payload::Flush(f) => f.text.as_deref().map_or("Line flushed".into(), |t| format!("Line flushed: {t}")),
        Payload::Note(n) => format!("Note: {}", n.text),
        Payload::Answer(a) => format!("Answered: {}", a.text),
        Payload::Release(r) => format!("Released: {}", r.reason),
        Payload::Strike(s) => format!("Struck an entry: {}", s.reason),
        Payload::Sign(_) => "Work signed".into(),
        Payload::Accept(_) => "Accepted".into(),
        Payload::Reopen(r) => format!("Reopened: {}", r.reason),
    }
}

fn tick_words(record: &Record, tick: &Tick, prefs: Prefs) -> String {
    let item = record.aim().and_then(|b| b.items.iter().find(|i| i.key == tick.item));
    let name = item.map_or(tick.item.clone(), |i| i.text.clone());
    let how = match (tick.did, item.map(|i| &i.what)) {
        (Did::Start, _) => "started".to_string(),
        (Did::Stop, _) => "stopped".to_string(),
        (Did::Failed, Some(What::Test { fails })) => fails.clone(),
        (Did::Failed, _) => "not right".to_string(),
        (Did::Done, Some(What::Approve)) => "approved".to_string(),
        (Did::Done, Some(What::Test { .. })) => "good".to_string(),
        (Did::Done, _) => tick.read_um.map_or("done".to_string(), |um| show(um, Kind::Film, prefs).text),
    };
    let remark = tick.text.as_deref().filter(|t| !t.is_empty()).map_or(String::new(), |t| format!(", {t}"));
    format!("{name}: {how}{remark}")
}

fn capital(word: &str) -> String {
    let mut letters = word.chars();
    letters.next().map(|c| c.to_uppercase().collect::<String>() + letters.as_str()).unwrap_or_default()
}
