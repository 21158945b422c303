//! What to set next: a pressure for the stream, a rung of the ladder, a turn for the fan.

use crate::atomizing::fan;
use crate::atomizing::ladder::{self, Climb, LadderSchool, Rung};
use crate::batch::record::Record;
use crate::batch::set_up::{KnownFrom, Paint};
use crate::delivery::FluidLine;
use crate::delivery::advise::{Held, Seen, next, start_kpa};
use crate::quantity::{Kind, Prefs, Shown, show};
use crate::rigs::{Rig, RigKind};
use crate::sheets::StreamSchool;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What to set next.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SetAdvice {
    pub to: Option<Shown>,
    /// In words: to what, and why.
    pub text: String,
    /// It goes down: regulator back *and* vent.
    pub down: bool,
}

fn only(text: impl Into<String>) -> SetAdvice {
    SetAdvice { to: None, text: text.into(), down: false }
}

/// The next pressure for the stream; with the stream in its band, what the fan wants.
pub(super) fn stream(
    record: &Record,
    school: StreamSchool,
    known: Option<(FluidLine, Paint)>,
    rig: Option<&Rig>,
    bend_mm: f64,
    prefs: Prefs,
) -> Option<SetAdvice> {
    let say = |v: f64, k: Kind| show(v, k, prefs);
    let (lo, hi) = school.band_mm();
    let aim = (lo + hi) / 2.0;
    let tries: Vec<Seen> =
        record.set_ups.iter().filter_map(|s| Some(Seen { pot_kpa: s.it.pot_kpa, stream_mm: s.it.stream_mm? })).collect();
    if tries.last().is_some_and(|t| (lo..=hi).contains(&t.stream_mm)) {
        return fan_next(record, rig);
    }
    let (line, paint) = known?;
    let rough = if paint.from == KnownFrom::Sheet { " The sheet's viscosity is rough: a catch tells it." } else { "" };
    let Some(last) = tries.last() else {
        let to = start_kpa(&line, &paint.fluid, bend_mm, aim);
        let reckoned = line.at(&paint.fluid, to).stream_mm(bend_mm);
        return Some(SetAdvice {
            text: format!(
                "Start at {}: {} of stream is to be expected.{rough}",
                say(to, Kind::Pressure).text,
                say(reckoned, Kind::Length).text
            ),
            to: Some(say(to, Kind::Pressure)),
            down: false,
        });
    };
    let most = rig.and_then(Rig::most_kpa).unwrap_or(f64::MAX);
    let Some(to) = next(&line, &paint.fluid, bend_mm, &tries, aim, most) else {
        return Some(only("Nothing was seen to flow: is the pot under pressure, the hose open, the nozzle clear?"));
    };
    let down = to.to_kpa < last.pot_kpa;
    let how = if down { "Back the regulator off and vent: the pot does not fall by itself." } else { "Slowly." };
    let held = match to.held {
        Some(Held::Step) => " More will be wanted after that; one step at a time.",
        Some(Held::Rating) => " The vessel bears no more: a larger nozzle, a wider hose, or thinner paint.",
        None => "",
    };
    let differs = if (0.67..=1.5).contains(&to.trust) {
        String::new()
    } else {
        format!(
            " The stream is {:.1} times what is reckoned: catch a minute of flow, or look for air, a clog, a wrong nozzle.",
            to.trust
        )
    };
    Some(SetAdvice {
        text: format!("To {}. {how}{held}{differs}", say(to.to_kpa, Kind::Pressure).text),
        to: Some(say(to.to_kpa, Kind::Pressure)),
        down,
    })
}

/// With the stream right: the fan, then the air, by what was seen of the last pattern.
fn fan_next(record: &Record, rig: Option<&Rig>) -> Option<SetAdvice> {
    let rig = rig.filter(|r| r.class.air().is_some())?;
    let last = record.set_ups.iter().rev().find(|s| s.it.pattern.is_some() || s.it.atomizing_kpa.is_some());
    match last.map(|s| &s.it) {
        None => Some(only("The stream is right. Now the fan, then the air: a short burst on paper, and say what it looks like.")),
        Some(s) => s.pattern.and_then(|p| fan::look(p, s.cap, rig.fixed_air)).map(only),
    }
}

/// Most of refinement air that is just felt: half a turn; common practice in the trade.
const REFINE_MOST: f64 = 0.5;

/// The next rung of the ladder.
pub(super) fn climb(record: &Record, rig: Option<&Rig>, prefs: Prefs) -> Option<SetAdvice> {
    let say = |kpa: f64| show(kpa, Kind::Pressure, prefs);
    let school = rig.map_or(LadderSchool::default(), |r| r.ladder);
    let tried: Vec<Rung> =
        record.set_ups.iter().filter_map(|s| Some(Rung { pump_kpa: s.it.pot_kpa, pattern: s.it.pattern? })).collect();
    let machine = rig.is_some_and(|r| r.kind == RigKind::GelCoatMachine);
    let catalyst = !machine || record.set_ups.iter().any(|s| s.it.catalyst_kpa.is_some());
    let last = record.set_ups.last().map(|s| &s.it);
    let refined = last.and_then(|s| s.refine_turns_count).filter(|t| *t > 0.0);
    Some(match ladder::next(school, catalyst, &tried) {
        Climb::CatalystAir => {
            let (lo, hi, long) = school.catalyst_air_kpa();
            only(format!(
                "Catalyst air first: {} to {} (to {} on long hoses), refinement air off. Then the ladder: {}.",
                say(lo).figure,
                say(hi).text,
                say(long).text,
                school.words(prefs)
            ))
        }
        Climb::To(kpa) => SetAdvice {
            text: format!("{} at the pump: a short burst, square to the paper.", say(kpa).text),
            to: Some(say(kpa)),
            down: tried.last().is_some_and(|t| t.pump_kpa > kpa),
        },
        Climb::Done(_) if refined.is_some_and(|t| t <= REFINE_MOST) => return None,
        Climb::Done(kpa) => match refined {
            Some(_) => only("More than half a turn of refinement air: back to a quarter, just felt."),
            None => only(format!(
                "{} is the lowest full pattern. Leave it there; now a quarter to half a turn of refinement air, just felt.",
                say(kpa).text
            )),
        },
        Climb::ChangeTip => {
            only("The top rung is not full. Flow and fan go by the tip, never by pressure: a smaller hole, or warmer paint.")
        }
        Climb::TurnCap => only(fan::lopsided(last.and_then(|s| s.cap))),
    })
}
