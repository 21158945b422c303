//! The six stations of a batch and the one line under each, derived.

use super::case::Case;
use super::charge::Charge;
use super::entries::Flowed;
use super::gates::{self, GateName};
use super::gates::{Hold, Severity};
use super::proofs;
use crate::atomizing::ladder::Pattern;
use crate::pot_life::PotState;
use crate::quantity::{Prefs, QuantityKind, show, show_duration};
use crate::sheets::ChargeKind;
use crate::verdict::Verdict;
use crate::worded::Worded;
use crate::{mixing, ratio_check};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a station stands. Worst first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum StationState {
    /// Nobody may go on.
    #[strum(serialize = "stopped")]
    Stop,
    /// Hangs below the line; a lead may release.
    #[strum(serialize = "on hold")]
    Hold,
    /// Lies across the line.
    #[strum(serialize = "in work")]
    InWork,
    /// An outline.
    #[strum(serialize = "not reached")]
    NotReached,
    /// Rides above the line.
    #[strum(serialize = "done")]
    Done,
    /// A gap in the line.
    #[strum(serialize = "not needed")]
    NotNeeded,
}

impl Worded for StationState {}

/// The stations, in order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
#[allow(missing_docs)]
pub enum StationName {
    Ready,
    Mix,
    Set,
    Prove,
    Spray,
    Close,
}

/// A station on the waterline.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Station {
    /// 1 to 6.
    pub no: u8,
    /// Ready, Mix, Set, Prove, Spray, Close.
    pub name: String,
    /// How it stands.
    pub state: StationState,
    /// At most 22 characters.
    pub line: String,
}

/// Longest line under a float.
pub const LINE_CHARS: usize = 22;

/// The waterline of a batch at an instant.
pub fn stations(case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> Vec<Station> {
    let each = [
        ("Ready", ready(case, holds, now, prefs)),
        ("Mix", mix(case, now)),
        ("Set", set(case, holds, now, prefs)),
        ("Prove", prove(case, holds, now, prefs)),
        (case.put_on().station, spray(case, holds, prefs)),
        ("Close", close(case, holds)),
    ];
    (1..)
        .zip(each)
        .map(|(no, (name, (state, line)))| Station {
            no,
            name: name.into(),
            state,
            line: line.chars().take(LINE_CHARS).collect(),
        })
        .collect()
}

/// The stand the gates of a station impose, if one is closed and not released.
fn held(holds: &[Hold], station: u8) -> Option<StationState> {
    let open = holds.iter().filter(|h| h.released.is_none() && h.gate.station() == station);
    open.map(|h| if h.severity == Severity::Stop { StationState::Stop } else { StationState::Hold })
        .min_by_key(|s| *s != StationState::Stop)
}

fn ready(case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> (StationState, String) {
    use GateName::{Conditions, Guards, Lists, Lots, Recoat};
    let open: Vec<&Hold> = holds.iter().filter(|h| h.released.is_none()).collect();
    let margin = case.conditions.last().map(|c| show(c.it.margin_dk().value, QuantityKind::TempDiff, prefs).text);
    // What was read or done and is held: a stop before what a lead could release, then the worst gate; then what only waits to be done.
    let first = |severity: Severity| {
        let of = |gate| open.iter().find(|h| h.gate == gate && h.reached && h.severity == severity);
        [Lots, Conditions, Lists, Recoat].into_iter().find_map(of)
    };
    if let Some(hold) = first(Severity::Stop).or_else(|| first(Severity::Hold)) {
        let state = if hold.severity == Severity::Stop { StationState::Stop } else { StationState::Hold };
        let line = hold.line(case, now, prefs).unwrap_or_default();
        return (state, line);
    }
    let Some(margin) = margin else { return (StationState::InWork, "read the conditions".into()) };
    let waiting = open.iter().filter(|h| h.gate == Lists).count();
    if waiting > 0 {
        let all = case.aim().map_or(0, |b| b.items.len());
        return (StationState::InWork, format!("{} of {all} done", all.saturating_sub(waiting)));
    }
    if open.iter().any(|h| h.gate == Guards) {
        return (StationState::InWork, "guards not on yet".into());
    }
    let released = holds.iter().any(|h| h.released.is_some() && matches!(h.gate, Lots | Conditions | Lists));
    (StationState::Done, if released { "released by a lead".into() } else { format!("dew margin {margin}") })
}

fn mix(case: &Case<'_>, now: Timestamp) -> (StationState, String) {
    let Some(aim) = case.aim() else { return (StationState::NotReached, String::new()) };
    if aim.sheet.charge == ChargeKind::AtGun {
        return (StationState::NotNeeded, "mixed at the gun".into());
    }
    let Some(last) = case.charges.last() else { return (StationState::NotReached, String::new()) };
    // Worst first: a spent pot, then one that wants hands, then the one that dies first.
    let of = |pot: &Charge| match case.clock(pot, now) {
        None if pot.started.is_some() => (2, f64::MAX, StationState::Done, format!("pot {} filled", pot.no)),
        None => (1, 1.0, StationState::InWork, format!("pot {} · filling", pot.no)),
        Some(c) if c.state == PotState::Mixing => (1, 0.0, StationState::InWork, format!("pot {} · stir it", pot.no)),
        Some(c) if c.state == PotState::Spent => (0, 0.0, StationState::Stop, format!("pot {} · spent", pot.no)),
        Some(c) => {
            let left = c.spent_at.duration_since(now).as_secs_f64();
            (2, left, StationState::Done, format!("pot {} · {}", pot.no, show_duration(left)))
        }
    };
    let live = case.charges.iter().filter(|c| c.closed.is_none()).map(of);
    live.min_by(|a, b| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)))
        .map_or((StationState::Done, format!("pot {} closed", last.no)), |(_, _, state, line)| (state, line))
}

/// By brush or roller there is nothing to set and nothing to prove: a gap in the line.
fn by_hand(case: &Case<'_>) -> Option<(StationState, String)> {
    let method = case.aim()?.method.filter(|m| !m.sprays())?;
    Some((StationState::NotNeeded, format!("by {}", method.word())))
}

fn set(case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> (StationState, String) {
    if let Some(gap) = by_hand(case) {
        return gap;
    }
    if let Some(hold) = holds.iter().find(|h| h.gate == GateName::Rig && h.reached && h.released.is_none()) {
        return (StationState::Hold, hold.line(case, now, prefs).unwrap_or_default());
    }
    let Some(last) = case.tries().last() else { return (StationState::NotReached, String::new()) };
    let pressure = |kpa| show(kpa, QuantityKind::Pressure, prefs).text;
    let pot = match (last.it.pot_kpa.or(last.it.b_kpa), last.it.atomizing_kpa) {
        (Some(_), _) => pressure(last.it.driving_kpa()),
        (None, Some(kpa)) => format!("air {}", pressure(kpa)),
        (None, None) => "by its knobs".into(),
    };
    // One stream of a twin feed alone is half of it.
    if let Some(alone @ (Flowed::A | Flowed::B)) = last.it.flowed {
        return (StationState::InWork, format!("{pot}, {}", alone.word()));
    }
    match last.it.stream_mm {
        None if last.it.pattern == Some(Pattern::Even) => (StationState::Done, format!("{pot}, even")),
        None if last.it.pattern.is_some() => (StationState::InWork, format!("{pot}, not full")),
        // Out of a gun's cup, and of two streams together, the pattern tells.
        None if last.it.flowed.is_some() || case.rig().is_some_and(|rig| !rig.kind.is_pressed()) => {
            (StationState::InWork, format!("{pot}, no pattern"))
        }
        None => match case.stream_state(now).map(|s| s.verdict) {
            Some(Verdict::In) if case.rig().is_some() => (StationState::Done, format!("{pot}, by the catch")),
            Some(Verdict::In | Verdict::Low | Verdict::High | Verdict::CannotTell) | None => {
                (StationState::InWork, format!("{pot}, no stream"))
            }
        },
        Some(mm) => {
            let verdict = case.stream_state(now).map_or(Verdict::CannotTell, |s| s.verdict);
            let state = if verdict == Verdict::In && case.rig().is_some() { StationState::Done } else { StationState::InWork };
            let line = match verdict {
                Verdict::CannotTell => format!("{pot}, catch a flow"),
                Verdict::In | Verdict::Low | Verdict::High => {
                    format!("{pot}, {} · {}", show(mm, QuantityKind::Length, prefs).text, verdict.word())
                }
            };
            (state, line)
        }
    }
}

fn prove(case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> (StationState, String) {
    if let Some(gap) = by_hand(case) {
        return gap;
    }
    let Some(aim) = case.aim() else { return (StationState::NotReached, String::new()) };
    if !aim.sheet.has_hardener {
        return (StationState::NotNeeded, "nothing to prove".into());
    }
    let said = match aim.sheet.charge {
        ChargeKind::Pot => case.charges.iter().rev().find_map(|c| mixing::said(&aim.sheet, mixing::b_per_a(&c.weighed())?)),
        ChargeKind::AtGun => case
            .catches
            .last()
            .and_then(|c| mixing::said(&aim.sheet, ratio_check::b_per_a_of(c.it.a_g, c.it.b_g, c.it.resolution_g)?)),
    };
    let Some(said) = said else {
        return (if case.charges.is_empty() { StationState::NotReached } else { StationState::InWork }, "not proved yet".into());
    };
    let line = format!("{} {}", show(said.measured.value, said.kind, prefs).text, said.tolerance.judge(said.measured).word());
    let stirred = case.charges.iter().any(|c| c.stirred.is_some() || c.kind == ChargeKind::AtGun);
    // In, it is the next check that matters.
    let in_work = said.tolerance.judge(said.measured) == Verdict::In && !gates::over(case);
    let due = proofs::next_due(case, None, now).filter(|_| in_work);
    let due = due.map(|(due, kg)| due.view(now, kg, proofs::last_hours_rate(case, now), prefs).line);
    let line = due.filter(|due| !due.is_empty()).unwrap_or(line);
    (held(holds, 4).filter(|_| stirred).unwrap_or(if stirred { StationState::Done } else { StationState::InWork }), line)
}

fn spray(case: &Case<'_>, holds: &[Hold], prefs: Prefs) -> (StationState, String) {
    let started = case.charges.iter().any(|c| c.started.is_some());
    if !started && case.passes.is_empty() {
        return (StationState::NotReached, String::new());
    }
    let count = case.passes.len();
    let passes = if count == 1 { "1 pass".to_string() } else { format!("{count} passes") };
    let line = match case.newest_read() {
        Some(read) => {
            let say = |um| show(um, QuantityKind::Film, prefs);
            format!("{passes} · {}–{}", say(read.total_um.lo).figure, say(read.total_um.hi).text)
        }
        None => passes,
    };
    let over = case.is_sprayed();
    let state = held(holds, 5).filter(|s| *s == StationState::Stop || over);
    (state.unwrap_or(if over { StationState::Done } else { StationState::InWork }), line)
}

fn close(case: &Case<'_>, holds: &[Hold]) -> (StationState, String) {
    let open = case.deviations.iter().filter(|d| d.answer.is_none()).count();
    if case.left_out.is_some() {
        return (StationState::NotNeeded, "left out".into());
    }
    match (&case.signature, &case.acceptance) {
        (_, Some(_)) => (StationState::Done, "accepted".into()),
        (Some(_), None) => match held(holds, 6) {
            None => (StationState::InWork, "signed, to accept".into()),
            // What was measured and is not in hangs under the line; what only waits to be measured lies on it.
            Some(state) if holds.iter().any(|h| h.gate == GateName::Acceptance && h.reached && h.released.is_none()) => {
                (state, "not accepted".into())
            }
            Some(_) => (StationState::InWork, "to be measured".into()),
        },
        (None, None) if open > 0 => (StationState::Hold, format!("{open} to answer")),
        (None, None) if case.is_sprayed() => (StationState::InWork, "to sign".into()),
        (None, None) => (StationState::NotReached, String::new()),
    }
}
