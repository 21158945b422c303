//! The pour in hand while it runs: how far it is, when to slow down, when it may be taken.

use super::{Notice, Pan};
use crate::mixing::{Component, PlannedPour, Weighed, b_per_a, is_done, pour_state, said, slack_g, to_go, total_g};
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_live};
use crate::sheets::Sheet;
use crate::verdict::{Level, Measured, Tolerance, Verdict};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// From this part of the way the hand slows down, from memory.
const SLOW_FROM: f64 = 0.85;
/// So near the target the pour is done, as a part of it; never finer than the scale. From memory.
const AIM: f64 = 0.01;
/// Steady so long before it is taken by itself, from memory.
const STEADY_S: f64 = 1.0;

/// What the hand does.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Pace {
    /// Pour.
    Pour,
    /// Slow down.
    Slow,
    /// Stop: it is in.
    Stop,
    /// Too much.
    Over,
    /// Something is wrong on the pan.
    Wait,
}

/// The pot that is poured into.
#[derive(Debug, Clone)]
pub struct Pouring<'a> {
    /// Its sheet.
    pub sheet: &'a Sheet,
    /// Its id.
    pub charge: Uuid,
    /// What goes into it.
    pub plan: &'a [PlannedPour],
    /// What is in.
    pub pours: &'a [Weighed],
    /// The scale was tared since the last pour.
    pub tared: bool,
    /// Hardener met base, by the book.
    pub combined: bool,
    /// Why hardener may not go in now.
    pub held: Option<String>,
}

/// The pour in hand at one line of the scale.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct WeighIn {
    /// What the scale shows.
    pub load: Shown,
    pub load_g: Option<f64>,
    pub stable: bool,
    pub component: Option<Component>,
    /// Name of what is poured.
    pub name: String,
    pub pace: Pace,
    /// What the hand does, in words.
    pub word: String,
    /// Still to pour; what is too much is told in words.
    pub to_go: Option<Shown>,
    pub level: Option<Level>,
    /// Ratio as it would be with this reading.
    pub ratio: Option<Level>,
    /// What is wrong, and what to do.
    pub notice: Option<String>,
    /// It jumped: a person may say that it is meant.
    pub jumped: bool,
    /// The scale shows nothing of what was in the cup: it was tared.
    pub tared: bool,
    /// The weight is rising: this pour has begun.
    pub begun: bool,
    /// Hardener runs in and the book does not know it yet: the clock of the pot begins.
    pub combines: bool,
    /// It may be taken by itself.
    pub accept: bool,
    /// Id of the entry that takes it: the same on every screen, so that two of them write one.
    pub entry: Uuid,
}

impl WeighIn {
    /// What the scale shows, with nothing said of a pour yet.
    fn waiting(pan: &Pan, entry: Uuid, prefs: Prefs) -> WeighIn {
        let over = || Shown { text: "over".into(), figure: "over".into(), unit: String::new() };
        WeighIn {
            load: pan.load_g.map_or_else(over, |g| show_live(g, QuantityKind::Mass, prefs)),
            load_g: pan.load_g,
            stable: pan.stable,
            component: None,
            name: String::new(),
            pace: Pace::Wait,
            word: "look at the scale".into(),
            to_go: None,
            level: None,
            ratio: None,
            notice: None,
            tared: false,
            jumped: matches!(pan.notice, Some(Notice::Jumped { .. })),
            begun: false,
            combines: false,
            accept: false,
            entry,
        }
    }
}

/// The pour in hand.
///
/// **Rules:** slow down from 85 % of the way; in within 1 % of the target or one division; taken by itself when it is in,
/// nothing is wrong and it has been steady for a second. **Source:** common practice in the trade.
pub fn weigh_in(pot: &Pouring<'_>, pan: &Pan, d: f64, prefs: Prefs) -> WeighIn {
    let Pouring { sheet, charge, plan, pours, .. } = *pot;
    let go = to_go(sheet, plan, pours);
    let short = |p: &PlannedPour, left: &PlannedPour| !is_done(sheet, pours, p.component, left.mass_g, d);
    let hand = plan.iter().zip(&go).find(|(p, left)| short(p, left)).map(|(p, left)| (p.component, left.mass_g));
    let in_cup = pours.last().map_or(0.0, |p| p.reading_g);
    let before = if pot.tared { 0.0 } else { in_cup };
    let load = pan.load_g.unwrap_or(0.0);
    let say = |g: f64| show(g, QuantityKind::Mass, prefs).text;
    let near = (3.0 * d).max(before * 0.01);
    // What was in the cup is not on the pan any more.
    let lost = pan.load_g.is_some() && before > near && load < before - near;
    let tared = lost && !pot.tared && load.abs() <= 3.0 * d;
    let cup = Lost { lost, tared, load, before, in_cup };
    let notice = cup.notice(pan, pours.is_empty(), d, prefs);
    let entry = Uuid::new_v5(&charge, format!("weigh-in {}", pours.len()).as_bytes());
    let name = hand.map_or(String::new(), |(c, _)| sheet.component_name(c));
    let mut out = WeighIn {
        component: hand.map(|(c, _)| c),
        name,
        notice,
        tared: tared || pot.tared,
        ..WeighIn::waiting(pan, entry, prefs)
    };
    let Some((component, left_g)) = hand else {
        out.word = "all is in".into();
        out.pace = Pace::Stop;
        return out;
    };
    if out.notice.is_some() || pan.load_g.is_none() {
        return out;
    }
    out.begun = load > before + near.max(0.01 * left_g);
    if component == Component::Hardener && !pot.combined {
        out.notice.clone_from(&pot.held);
        out.combines = out.begun && pot.held.is_none();
        if pot.held.is_some() {
            out.word = "not yet".into();
            return out;
        }
    }
    let had = total_g(pours, component);
    let (target, poured) = (had + left_g, had + load - before);
    let reading = Weighed { component, reading_g: load, resolution_g: d, tared: pot.tared, ..Weighed::default() };
    let all: Vec<Weighed> = pours.iter().copied().chain([reading]).collect();
    let stand = pour_state(sheet, &all, component, target);
    let slack = slack_g(sheet, target);
    let tolerance = Tolerance::between(target - slack, target + slack);
    out.pace = pace(poured, (had, left_g, target), tolerance, d);
    out.word = match out.pace {
        Pace::Over => format!("{} too much", say(poured - target)),
        Pace::Stop => "stop, it is in".into(),
        Pace::Slow => "slow down".into(),
        Pace::Pour | Pace::Wait => "pour".into(),
    };
    out.to_go = (poured < target).then(|| show_live(target - poured, QuantityKind::Mass, prefs));
    let level = Level::draw(&format!("{} in the cup", out.name), stand.poured_g, stand.tolerance, 1.0, QuantityKind::Mass, prefs);
    let pouring = matches!(out.pace, Pace::Pour | Pace::Slow);
    out.level = Some(match stand.verdict {
        Some(verdict) if !pouring => level.ruled_by(verdict),
        _ => level.under_way("pouring"),
    });
    let proved = b_per_a(&all).and_then(|r| said(sheet, r));
    out.ratio = proved.map(|s| {
        let level = Level::draw("Ratio as it stands", s.measured, s.tolerance, 1.0, s.kind, prefs);
        if component == Component::Hardener && out.pace != Pace::Stop { level.under_way("short so far") } else { level }
    });
    let ratio_out = proved.is_some_and(|s| s.tolerance.judge(s.measured) != Verdict::In);
    let undecided = component == Component::Hardener && (ratio_out || !pot.combined);
    out.accept = out.pace == Pace::Stop && pan.stable && pan.steady_s >= STEADY_S && !undecided;
    out
}

/// What the hand does now, by what is in of what was aimed at.
fn pace(poured: f64, (had, left_g, target): (f64, f64, f64), tolerance: Tolerance, d: f64) -> Pace {
    let aim = (AIM * target).max(d);
    match poured {
        p if p > target + aim && tolerance.judge(Measured::pm(p, 0.0)).is_out() => Pace::Over,
        p if p >= target - aim => Pace::Stop,
        p if p >= had + SLOW_FROM * left_g => Pace::Slow,
        _ => Pace::Pour,
    }
}

/// What of the cup is not on the pan any more.
struct Lost {
    lost: bool,
    tared: bool,
    load: f64,
    before: f64,
    in_cup: f64,
}

impl Lost {
    /// What is to be looked at before going on.
    fn notice(&self, pan: &Pan, empty: bool, d: f64, prefs: Prefs) -> Option<String> {
        let say = |g: f64| show(g, QuantityKind::Mass, prefs).text;
        match pan.notice {
            Some(Notice::Overload) => {
                Some("The scale is over its capacity. Take the cup off; weigh on a larger scale.".to_string())
            }
            Some(Notice::Jumped { from_g, to_g }) if empty && from_g.abs() <= 3.0 * d => {
                Some(format!("{} was set down. Tare the scale with the empty cup on it, then pour.", say(to_g)))
            }
            Some(Notice::Jumped { from_g, to_g }) => Some(format!(
                "The scale jumped from {} to {}: a tare lost, another cup, or something set down. Take off what does not belong there, or go on from here.",
                say(from_g),
                say(to_g)
            )),
            _ if self.tared => Some(format!(
                "The scale shows nothing; {} was in the cup. Tared: go on, the next pour is weighed apart. Cup lifted off: put it back.",
                say(self.in_cup)
            )),
            _ if self.lost && self.load < 0.0 => Some("The cup is off the scale. Put it back.".to_string()),
            _ if self.lost => Some(format!(
                "The scale shows {}, {} was in the cup: another cup, or something taken out. Put the right one back, or weigh it as a transfer.",
                say(self.load),
                say(self.before)
            )),
            Some(Notice::Restless) => Some("The scale does not come to rest: draught, a shaky bench, a loose plug?".to_string()),
            None => None,
        }
    }
}
