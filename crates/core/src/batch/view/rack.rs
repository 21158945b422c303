//! The pot rack: each live charge with its liquid and its ring.

use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::pot_life::PotState;
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_duration};
use crate::sheets::ChargeKind;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A live pot on the rack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PotView {
    pub id: Uuid,
    pub batch: Uuid,
    pub no: i64,
    /// Part label.
    pub part: String,
    pub state: PotState,
    pub word: String,
    /// Seconds the large figure counts down: to the end of induction, else to the end of life.
    pub counts_s: Option<f64>,
    /// Age at `as_of`, spent at 1.
    pub age: f64,
    /// Age gained in a second.
    pub age_per_s: f64,
    pub spent_at: Option<Timestamp>,
    pub induction_ends: Option<Timestamp>,
    pub left: Shown,
    /// Liquid left as a share of what was mixed, 0 to 1.
    pub left_share: f64,
    /// Seconds until the state changes by itself.
    pub changes_s: Option<f64>,
    pub sprayed: bool,
    /// What it is: a pot, or the hose that still holds what came from one.
    pub vessel: Vessel,
    /// Minutes-short: the large figure counts seconds.
    pub in_seconds: bool,
    /// A line in place of what is left: when new paint arrives, the most area it may go on.
    pub note: Option<String>,
}

/// What stands on the rack.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Vessel {
    /// A pot.
    Pot,
    /// Mixed paint in the hose; `line` on cards kept by older versions.
    #[serde(alias = "line")]
    Hose,
}

/// The part, and which coat of a job.
fn part_of(case: &Case<'_>) -> String {
    let Some(aim) = case.aim() else { return String::new() };
    aim.job.map_or(aim.part_label.clone(), |job| format!("{}, coat {}", aim.part_label, job.coat))
}

/// The live charges of a batch. A charge at the gun is no vessel and does not stand on the rack.
pub fn pots(batch: Uuid, case: &Case<'_>, now: Timestamp, prefs: Prefs) -> Vec<PotView> {
    case.charges
        .iter()
        .filter(|c| c.closed.is_none() && c.kind == ChargeKind::Pot)
        .map(|c| pot(batch, case, c, now, prefs))
        .chain(hose(batch, case, now, prefs))
        .chain(stays(batch, case, now, prefs))
        .collect()
}

/// The hose, once mixed paint went into it and until it is flushed: it dies with the pot it came from.
fn hose(batch: Uuid, case: &Case<'_>, now: Timestamp, prefs: Prefs) -> Option<PotView> {
    let hose = case.hose(now)?;
    let until = |at: Timestamp| at.duration_since(now).as_secs_f64();
    let spent_s = until(hose.clock.spent_at);
    let to_age = |age: f64| (age - hose.clock.age) / hose.clock.age_per_s;
    let steps = [to_age(crate::pot_life::WATCH_FROM), to_age(crate::pot_life::LAST_CALL_FROM), to_age(1.0)];
    let word = if hose.clock.state == PotState::Spent { "Hose spent" } else { "Flush by" };
    Some(PotView {
        id: Uuid::new_v5(&hose.charge, b"line"),
        batch,
        no: hose.no,
        part: part_of(case),
        state: hose.clock.state,
        word: word.into(),
        counts_s: Some(spent_s),
        age: hose.clock.age,
        age_per_s: hose.clock.age_per_s,
        spent_at: Some(hose.clock.spent_at),
        induction_ends: None,
        left: show(hose.hose_ml, QuantityKind::Volume, prefs),
        left_share: 1.0,
        changes_s: steps.into_iter().filter(|s| *s > 0.0).min_by(f64::total_cmp),
        sprayed: true,
        vessel: Vessel::Hose,
        in_seconds: spent_s < super::mix::MINUTES_SHORT_S && hose.clock.age_per_s * super::mix::MINUTES_SHORT_S > 1.0,
        note: hose.renewed_s.map(|s| match hose.stands_since {
            Some(_) => format!("stands; new paint after {}", show_duration(s)),
            None => format!("renewed in {}", show_duration(s)),
        }),
    })
}

/// The hose with paint that does not age: it may stay a week.
fn stays(batch: Uuid, case: &Case<'_>, now: Timestamp, prefs: Prefs) -> Option<PotView> {
    let hose = case.stays_in_hose(now)?;
    let until_s = hose.flush_by.duration_since(now).as_secs_f64();
    let note = if until_s > 0.0 { format!("flush within {}", show_duration(until_s)) } else { "flush it now".into() };
    Some(PotView {
        id: Uuid::new_v5(&hose.charge, b"line"),
        batch,
        no: hose.no,
        part: part_of(case),
        state: PotState::Open,
        word: "In the hose".into(),
        counts_s: None,
        age: 0.0,
        age_per_s: 0.0,
        spent_at: None,
        induction_ends: None,
        left: show(hose.hose_ml, QuantityKind::Volume, prefs),
        left_share: 1.0,
        changes_s: Some(until_s).filter(|s| *s > 0.0),
        sprayed: true,
        vessel: Vessel::Hose,
        in_seconds: false,
        note: Some(note),
    })
}

fn pot(batch: Uuid, case: &Case<'_>, charge: &Charge, now: Timestamp, prefs: Prefs) -> PotView {
    let clock = case.clock(charge, now);
    let hardened = case.aim().is_some_and(|b| b.sheet.has_hardener);
    let state = clock.map_or(if hardened { PotState::Filling } else { PotState::Open }, |c| c.state);
    let mixed = case.aim().map_or(0.0, |b| charge.mixed_ml(&b.sheet));
    let left = case.left_ml(charge);
    let for_at_most = case.for_at_most_m2(charge, left).filter(|_| left > 0.0);
    let until = |at: Timestamp| at.duration_since(now).as_secs_f64();
    let counts_s = clock.map(|c| match (c.state, c.induction_ends) {
        (PotState::Inducting, Some(end)) => until(end),
        _ => until(c.spent_at),
    });
    let changes_s = clock.and_then(|c| {
        let to_age = |age: f64| (age - c.age) / c.age_per_s;
        let steps = [to_age(crate::pot_life::WATCH_FROM), to_age(crate::pot_life::LAST_CALL_FROM), to_age(1.0)];
        steps.into_iter().chain(c.induction_ends.map(until)).filter(|s| *s > 0.0).min_by(f64::total_cmp)
    });
    PotView {
        id: charge.id,
        batch,
        no: charge.no,
        part: part_of(case),
        state,
        word: state.word().into(),
        counts_s,
        age: clock.map_or(0.0, |c| c.age),
        age_per_s: clock.map_or(0.0, |c| c.age_per_s),
        spent_at: clock.map(|c| c.spent_at),
        induction_ends: clock.and_then(|c| c.induction_ends),
        left: show(left, QuantityKind::Volume, prefs),
        left_share: if mixed > 0.0 { (left / mixed).clamp(0.0, 1.0) } else { 0.0 },
        changes_s,
        sprayed: charge.started.is_some(),
        vessel: Vessel::Pot,
        in_seconds: clock.is_some_and(|c| c.age_per_s * super::mix::MINUTES_SHORT_S > 1.0),
        note: for_at_most.map(|m2| format!("at most {}", show(m2, QuantityKind::Area, prefs).text)),
    }
}
