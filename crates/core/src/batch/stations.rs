//! The six stations of a batch and the one line under each, derived.

use super::case::Case;
use super::charge::Charge;
use super::gates::GateName;
use super::gates::{Hold, Severity};
use crate::atomizing::ladder::Pattern;
use crate::pot_life::PotState;
use crate::quantity::{Kind, Prefs, show, show_duration};
use crate::sheets::ChargeKind;
use crate::verdict::Verdict;
use crate::worded::Worded;
use crate::{mixing, ratio_check};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a station stands. Worst first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Stand {
    /// Nobody may go on.
    Stop,
    /// Hangs below the line; a lead may release.
    Hold,
    /// Lies across the line.
    InWork,
    /// An outline.
    NotReached,
    /// Rides above the line.
    Done,
    /// A gap in the line.
    NotNeeded,
}

/// A station on the waterline.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Station {
    /// 1 to 6.
    pub no: u8,
    /// Ready, Mix, Set, Prove, Spray, Close.
    pub name: String,
    /// How it stands.
    pub stand: Stand,
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
        ("Set", set(case, now, prefs)),
        ("Prove", prove(case, holds, prefs)),
        ("Spray", spray(case, holds, prefs)),
        ("Close", close(case)),
    ];
    (1..)
        .zip(each)
        .map(|(no, (name, (stand, line)))| Station {
            no,
            name: name.into(),
            stand,
            line: line.chars().take(LINE_CHARS).collect(),
        })
        .collect()
}

/// The stand the gates of a station impose, if one is closed and not released.
fn held(holds: &[Hold], station: u8) -> Option<Stand> {
    let open = holds.iter().filter(|h| h.released.is_none() && h.gate.station() == station);
    open.map(|h| if h.severity == Severity::Stop { Stand::Stop } else { Stand::Hold }).min_by_key(|s| *s != Stand::Stop)
}

fn ready(case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> (Stand, String) {
    use GateName::{Conditions, Guards, Lists, Lots, Recoat};
    let open: Vec<&Hold> = holds.iter().filter(|h| h.released.is_none()).collect();
    let margin = case.conditions.last().map(|c| show(c.it.margin_dk().value, Kind::TempDiff, prefs).text);
    // What was read or done and is held, worst gate first; then what only waits to be done.
    for gate in [Lots, Conditions, Lists, Recoat] {
        let Some(hold) = open.iter().find(|h| h.gate == gate && h.reached) else { continue };
        let stand = if hold.severity == Severity::Stop { Stand::Stop } else { Stand::Hold };
        let line = hold.line(case, now, prefs).unwrap_or_default();
        return (stand, line);
    }
    let Some(margin) = margin else { return (Stand::InWork, "read the conditions".into()) };
    let waiting = open.iter().filter(|h| h.gate == Lists).count();
    if waiting > 0 {
        let all = case.aim().map_or(0, |b| b.items.len());
        return (Stand::InWork, format!("{} of {all} done", all.saturating_sub(waiting)));
    }
    if open.iter().any(|h| h.gate == Guards) {
        return (Stand::InWork, "guards not on yet".into());
    }
    let released = holds.iter().any(|h| h.released.is_some() && matches!(h.gate, Lots | Conditions | Lists));
    (Stand::Done, if released { "released by a lead".into() } else { format!("dew margin {margin}") })
}

fn mix(case: &Case<'_>, now: Timestamp) -> (Stand, String) {
    let Some(aim) = case.aim() else { return (Stand::NotReached, String::new()) };
    if aim.sheet.charge == ChargeKind::AtGun {
        return (Stand::NotNeeded, "mixed at the gun".into());
    }
    let Some(last) = case.charges.last() else { return (Stand::NotReached, String::new()) };
    // Worst first: a spent pot, then one that wants hands, then the one that dies first.
    let of = |pot: &Charge| match case.clock(pot, now) {
        None if pot.started.is_some() => (2, f64::MAX, Stand::Done, format!("pot {} filled", pot.no)),
        None => (1, 1.0, Stand::InWork, format!("pot {} · filling", pot.no)),
        Some(c) if c.state == PotState::Mixing => (1, 0.0, Stand::InWork, format!("pot {} · stir it", pot.no)),
        Some(c) if c.state == PotState::Spent => (0, 0.0, Stand::Stop, format!("pot {} · spent", pot.no)),
        Some(c) => {
            let left = c.spent_at.duration_since(now).as_secs_f64();
            (2, left, Stand::Done, format!("pot {} · {}", pot.no, show_duration(left)))
        }
    };
    let live = case.charges.iter().filter(|c| c.closed.is_none()).map(of);
    live.min_by(|a, b| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)))
        .map_or((Stand::Done, format!("pot {} closed", last.no)), |(_, _, stand, line)| (stand, line))
}

/// By brush or roller there is nothing to set and nothing to prove: a gap in the line.
fn by_hand(case: &Case<'_>) -> Option<(Stand, String)> {
    let method = case.aim()?.method.filter(|m| !m.sprays())?;
    Some((Stand::NotNeeded, format!("by {}", method.word())))
}

fn set(case: &Case<'_>, now: Timestamp, prefs: Prefs) -> (Stand, String) {
    if let Some(gap) = by_hand(case) {
        return gap;
    }
    let Some(last) = case.set_ups.last() else { return (Stand::NotReached, String::new()) };
    let pot = show(last.it.pot_kpa, Kind::Pressure, prefs).text;
    match last.it.stream_mm {
        None if last.it.pattern == Some(Pattern::Even) => (Stand::Done, format!("{pot}, even")),
        None if last.it.pattern.is_some() => (Stand::InWork, format!("{pot}, not full")),
        None => match case.stream_stand(now).map(|s| s.verdict) {
            Some(Verdict::In) if case.rig().is_some() => (Stand::Done, format!("{pot}, by the catch")),
            _ => (Stand::InWork, format!("{pot}, no stream")),
        },
        Some(mm) => {
            let verdict = case.stream_stand(now).map_or(Verdict::CannotTell, |s| s.verdict);
            let stand = if verdict == Verdict::In && case.rig().is_some() { Stand::Done } else { Stand::InWork };
            let line = match verdict {
                Verdict::CannotTell => format!("{pot}, catch a flow"),
                Verdict::In | Verdict::Low | Verdict::High => {
                    format!("{pot}, {} · {}", show(mm, Kind::Length, prefs).text, verdict.word())
                }
            };
            (stand, line)
        }
    }
}

fn prove(case: &Case<'_>, holds: &[Hold], prefs: Prefs) -> (Stand, String) {
    if let Some(gap) = by_hand(case) {
        return gap;
    }
    let Some(aim) = case.aim() else { return (Stand::NotReached, String::new()) };
    if !aim.sheet.has_hardener {
        return (Stand::NotNeeded, "nothing to prove".into());
    }
    let said = match aim.sheet.charge {
        ChargeKind::Pot => case.charges.iter().rev().find_map(|c| mixing::said(&aim.sheet, mixing::b_per_a(&c.weighed())?)),
        ChargeKind::AtGun => case
            .catches
            .last()
            .and_then(|c| mixing::said(&aim.sheet, ratio_check::b_per_a_of(c.it.a_g, c.it.b_g, c.it.resolution_g)?)),
    };
    let Some(said) = said else {
        return (if case.charges.is_empty() { Stand::NotReached } else { Stand::InWork }, "not proved yet".into());
    };
    let line = format!("{} {}", show(said.measured.value, said.kind, prefs).text, said.tolerance.judge(said.measured).word());
    let stirred = case.charges.iter().any(|c| c.stirred.is_some() || c.kind == ChargeKind::AtGun);
    (held(holds, 4).filter(|_| stirred).unwrap_or(if stirred { Stand::Done } else { Stand::InWork }), line)
}

fn spray(case: &Case<'_>, holds: &[Hold], prefs: Prefs) -> (Stand, String) {
    let started = case.charges.iter().any(|c| c.started.is_some());
    if !started && case.passes.is_empty() {
        return (Stand::NotReached, String::new());
    }
    let count = case.passes.len();
    let passes = if count == 1 { "1 pass".to_string() } else { format!("{count} passes") };
    let line = match case.newest_read() {
        Some(read) => {
            let say = |um| show(um, Kind::Film, prefs);
            format!("{passes} · {}–{}", say(read.total_um.lo).figure, say(read.total_um.hi).text)
        }
        None => passes,
    };
    let over = case.charges.iter().all(|c| c.closed.is_some()) && count > 0;
    let stand = held(holds, 5).filter(|s| *s == Stand::Stop || over);
    (stand.unwrap_or(if over { Stand::Done } else { Stand::InWork }), line)
}

fn close(case: &Case<'_>) -> (Stand, String) {
    let open = case.deviations.iter().filter(|d| d.answer.is_none()).count();
    match (&case.signature, &case.acceptance) {
        (_, Some(_)) => (Stand::Done, "accepted".into()),
        (Some(_), None) => (Stand::InWork, "signed, to accept".into()),
        (None, None) if open > 0 => (Stand::Hold, format!("{open} to answer")),
        (None, None) if !case.passes.is_empty() && case.charges.iter().all(|c| c.closed.is_some()) => {
            (Stand::InWork, "to sign".into())
        }
        (None, None) => (Stand::NotReached, String::new()),
    }
}
