//! The Ready station: conditions on their levels and over time, the lists, the coat beneath.

use crate::batch::case::Case;
use crate::batch::gates::GateName;
use crate::batch::gates::{self, Hold, lot_words_of};
use crate::batch::ready_lists;
use crate::component::Component;
use crate::conditions;
use crate::lists::{self, ChecklistItem, Group, ItemState, What};
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::recoat::RecoatClock;
use crate::verdict::Level;
use crate::worded::Worded;
use crate::working::Working;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The Ready station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ReadyView {
    /// Levels of the last reading.
    pub levels: Vec<Level>,
    /// What the sheet does not judge, in words.
    pub not_applicable: Vec<String>,
    /// Go, hold, stop, or not read.
    pub gate: Option<conditions::Gate>,
    pub working: Option<Working>,
    pub read_at: Option<Timestamp>,
    /// The reading is too old to work by.
    pub old: bool,
    pub air: Option<Shown>,
    pub surface: Option<Shown>,
    pub material: Option<Shown>,
    pub humidity: Option<Shown>,
    pub dew_point: Option<Shown>,
    /// How far the surface may still fall before it holds.
    pub may_fall: Option<Shown>,
    /// Earlier readings, for the picture; missing under two.
    pub history: Option<History>,
    /// The lists, in the order of the hands.
    pub groups: Vec<ListGroup>,
    /// Key of the item the hands take next; missing: nothing waits for them.
    pub in_hand: Option<String>,
    /// What is coated, and how, in words.
    pub substrate: Option<String>,
    pub method: Option<String>,
    /// The clock of the coat beneath, when there is one.
    pub beneath: Option<RecoatClock>,
    /// What the pair of products asks for between the two coats.
    pub prepare: Option<String>,
}

/// Surface, dew point and the sheet's margin over time; places run from 0 (left, bottom) to 1.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct History {
    pub from: Timestamp,
    pub to: Timestamp,
    pub points: Vec<HistoryPoint>,
    pub top: Shown,
    pub bottom: Shown,
}

/// One reading in the picture.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct HistoryPoint {
    pub at: Timestamp,
    pub x: f64,
    pub surface: f64,
    pub dew: f64,
    /// Dew point and the sheet's margin: under it the work holds.
    pub least: Option<f64>,
}

/// The items under one heading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ListGroup {
    pub group: Group,
    pub name: String,
    pub done: usize,
    pub items: Vec<ChecklistItemView>,
}

/// An item as the screen shows it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ChecklistItemView {
    pub key: String,
    pub text: String,
    pub hint: String,
    pub what: What,
    pub state: ItemState,
    /// How it stands, in a few words.
    pub line: String,
    pub by: Option<String>,
    pub at: Option<Timestamp>,
    /// Seconds until it changes by itself.
    pub changes_s: Option<f64>,
    /// Seconds a timer has run.
    pub ran_s: Option<f64>,
    /// Who released it, and why.
    pub released: Option<String>,
    /// The lot in use, for an item that takes one.
    pub lot: Option<String>,
    pub component: Option<Component>,
    /// Name of that component.
    pub component_name: Option<String>,
}

/// The dew margin, or what else the newest reading is judged by first.
pub(super) fn margin(case: &Case<'_>, prefs: Prefs) -> Option<Level> {
    let last = case.conditions.iter().max_by_key(|c| (c.at, c.seq))?;
    conditions::judge(&case.aim()?.sheet, &last.it, prefs).levels.into_iter().next()
}

pub(super) fn ready(case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> ReadyView {
    let last = case.conditions.iter().max_by_key(|c| (c.at, c.seq));
    let groups = groups(case, holds, now, prefs);
    let judged = case.aim().zip(last).map(|(aim, read)| conditions::judge(&aim.sheet, &read.it, prefs));
    let temp = |f: fn(&conditions::Readings) -> f64| last.map(|r| show(f(&r.it), QuantityKind::Temperature, prefs));
    let sheet = case.aim().map(|b| &b.sheet);
    let margin_min = sheet.and_then(|s| s.margin_min_dk);
    let missing = |name: &str, given: bool| (!given).then(|| format!("{name}: not applicable by sheet"));
    ReadyView {
        gate: judged.as_ref().map(|j| j.gate),
        working: judged.as_ref().map(|j| j.working.clone()),
        levels: judged.map(|j| j.levels).unwrap_or_default(),
        not_applicable: sheet.map_or(Vec::new(), |s| {
            let dry = missing("Dew margin", s.margin_min_dk.is_some());
            dry.into_iter().chain(missing("Humidity", s.rh_max_pct.is_some())).collect()
        }),
        read_at: last.map(|r| r.at),
        old: holds.iter().any(|h| h.gate == GateName::Conditions && h.trouble == "old-reading" && h.released.is_none()),
        air: temp(|r| r.air_c),
        surface: temp(|r| r.surface_c),
        material: temp(|r| r.material_c),
        humidity: last.map(|r| show(r.it.rh_pct, QuantityKind::Percent, prefs)),
        dew_point: temp(|r| conditions::dew_point_c(r.air_c, r.rh_pct)),
        may_fall: last
            .zip(margin_min)
            .map(|(r, min)| (r.it.surface_c - conditions::dew_point_c(r.it.air_c, r.it.rh_pct) - min).max(0.0))
            .map(|dk| show(dk, QuantityKind::TempDiff, prefs)),
        history: history(case, margin_min, prefs),
        in_hand: in_hand(&groups),
        groups,
        substrate: case.aim().and_then(|b| b.substrate).map(|s| s.word().into()),
        method: case.aim().and_then(|b| b.method).map(|m| m.word().into()),
        beneath: gates::recoat_clock(case, now),
        prepare: case.beside.beneath.as_ref().and_then(|b| b.prepare.clone()),
    }
}

/// Most readings drawn.
const DRAWN: usize = 48;

fn history(case: &Case<'_>, margin_min: Option<f64>, prefs: Prefs) -> Option<History> {
    let mut read: Vec<_> = case.conditions.iter().collect();
    read.sort_by_key(|c| (c.at, c.seq));
    let read = &read[read.len().saturating_sub(DRAWN)..];
    let (first, last) = (read.first()?.at, read.last()?.at);
    let run = last.duration_since(first).as_secs_f64();
    if run <= 0.0 {
        return None;
    }
    let of = |c: &conditions::Readings| {
        let dew = conditions::dew_point_c(c.air_c, c.rh_pct);
        (c.surface_c, dew, margin_min.map(|m| dew + m))
    };
    let every = read.iter().map(|c| of(&c.it)).flat_map(|(s, d, l)| [Some(s), Some(d), l]).flatten();
    let (lo, hi) = every.fold((f64::MAX, f64::MIN), |(lo, hi), v| (lo.min(v), hi.max(v)));
    let (lo, hi) = ((lo - 0.5).floor(), (hi + 0.5).ceil());
    let place = |v: f64| (v - lo) / (hi - lo);
    let points = read
        .iter()
        .map(|c| {
            let (surface, dew, least) = of(&c.it);
            let x = c.at.duration_since(first).as_secs_f64() / run;
            HistoryPoint { at: c.at, x, surface: place(surface), dew: place(dew), least: least.map(place) }
        })
        .collect();
    let say = |c| show(c, QuantityKind::Temperature, prefs);
    Some(History { from: first, to: last, points, top: say(hi), bottom: say(lo) })
}

/// What failed is first, then what is open; a timer that runs needs no hand until it is over.
fn in_hand(groups: &[ListGroup]) -> Option<String> {
    let first =
        |state| groups.iter().flat_map(|g| &g.items).find(|i| i.state == state && i.released.is_none()).map(|i| i.key.clone());
    first(ItemState::Held).or_else(|| first(ItemState::Open))
}

fn groups(case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> Vec<ListGroup> {
    let mut groups: Vec<ListGroup> = Vec::new();
    for (item, state) in ready_lists::states(case, now, prefs) {
        let view = item_view(case, holds, item, state, (now, prefs));
        let done = usize::from(view.state <= ItemState::Watch || view.released.is_some());
        match groups.iter_mut().find(|g| g.group == item.group) {
            Some(group) => {
                group.done += done;
                group.items.push(view);
            }
            None => groups.push(ListGroup { group: item.group, name: item.group.word().into(), done, items: vec![view] }),
        }
    }
    groups
}

fn item_view(
    case: &Case<'_>,
    holds: &[Hold],
    item: &ChecklistItem,
    state: lists::ItemNow,
    (now, prefs): (Timestamp, Prefs),
) -> ChecklistItemView {
    let component = match item.what {
        What::Lot { component } => Some(component),
        _ => None,
    };
    let hold = holds.iter().find(|h| h.gate == GateName::Lists && h.item.as_ref() == Some(&item.key));
    let in_use = case.lots_at(now);
    let taken = component.and_then(|c| in_use.iter().rev().find(|l| l.component == c));
    // A lot that is held shows it at its own line, released or not.
    let lot_hold = taken.and_then(|t| {
        holds.iter().find(|h| h.gate == GateName::Lots && h.item.as_ref().is_some_and(|i| i.ends_with(&t.lot.code)))
    });
    let held = lot_hold.filter(|h| h.released.is_none());
    ChecklistItemView {
        key: item.key.clone(),
        text: item.text.clone(),
        hint: case.aim().map_or_else(|| item.hint.clone(), |aim| item.hint_by(&aim.sheet, prefs)),
        what: item.what.clone(),
        state: if held.is_some() { ItemState::Held } else { state.state },
        line: held.map_or(state.line, |h| lot_words_of(h.item.as_deref().unwrap_or_default())),
        by: taken.map_or(state.last.as_ref().map(|l| l.1.clone()), |t| {
            case.lots.iter().rev().find(|l| l.it.lot.id == t.lot.id).map(|l| l.by.clone())
        }),
        at: taken.map(|t| t.at).or(state.last.map(|l| l.0)),
        changes_s: state.changes_s,
        ran_s: state.ran_s,
        released: hold.or(lot_hold).and_then(|h| h.released.clone()),
        lot: taken.map(|t| t.lot.code.clone()),
        component,
        component_name: component.and_then(|c| case.aim().map(|b| b.sheet.component_name(c))),
    }
}
