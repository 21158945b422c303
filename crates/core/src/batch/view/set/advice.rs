//! What to set next: a pressure for the stream, a rung of the ladder, a turn for the fan.

use super::{by_tries, twin};
use crate::atomizing::classes::GunClass;
use crate::atomizing::fan;
use crate::atomizing::ladder::{self, Climb, LadderSchool, Rung};
use crate::atomizing::tips::{decode, screen_mesh};
use crate::batch::case::Case;
use crate::batch::entries::Flowed;
use crate::batch::paint::{KnownFrom, Paint};
use crate::delivery::FluidLine;
use crate::delivery::advise::{Held, Next, Seen, Short, Takes, believed, next, short_of, start_kpa};
use crate::delivery::choose::{FINE_MOST_KPA, LOOK_FROM_KPA};
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::rigs::{Rig, RigKind};
use crate::sheets::StreamSchool;
use crate::verdict::{Verdict, is_over};
use crate::worded::Worded;
use jiff::Timestamp;
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

pub(super) fn only(text: impl Into<String>) -> SetAdvice {
    SetAdvice { to: None, text: text.into(), down: false }
}

/// The next pressure for the stream; with the stream in its band, what the fan wants.
pub(super) fn stream(
    case: &Case<'_>,
    school: StreamSchool,
    known: Option<(FluidLine, Paint)>,
    rig: Option<&Rig>,
    (bend_mm, now): (f64, Timestamp),
    prefs: Prefs,
) -> Option<SetAdvice> {
    let (lo, hi) = school.band_mm();
    let aim = (lo * hi).sqrt();
    let set_ups: Vec<Seen> = case
        .tries()
        .filter(|s| s.it.flowed != Some(Flowed::B))
        .filter_map(|s| Some(Seen { pot_kpa: s.it.fluid_kpa(), stream_mm: s.it.stream_mm?, eye: case.eye(s.who) }))
        .collect();
    let stand = case.stream_state(now);
    // One stream of a twin feed alone is half of it: the other follows before the fan.
    let alone = case.tries().last().is_some_and(|s| matches!(s.it.flowed, Some(Flowed::A | Flowed::B)));
    if rig.is_some() && !alone && stand.is_some_and(|s| s.verdict == Verdict::In) {
        return fan_next(case, rig, prefs);
    }
    // Without a stream asked for or seen, the fan and the pattern are advised all the same.
    if set_ups.is_empty() && case.tries().last().is_some_and(|s| s.it.pattern.is_some()) {
        return fan_next(case, rig, prefs);
    }
    let Some(rig) = rig else {
        let text = "Choose the rig first: what it bears is on its plate, and no pressure is advised without it.";
        return Some(only(text));
    };
    if !rig.kind.is_pressed() {
        return Some(cup(case, rig, prefs));
    }
    let of_a = || pressure(case, (school, known), rig, &set_ups, (bend_mm, now), prefs);
    if rig.kind == RigKind::TwinPots { twin::advise(case, rig, (aim, stand), of_a, prefs) } else { of_a() }
}

/// The next pressure on pot or pump: by line and paint, else by the tries alone.
fn pressure(
    case: &Case<'_>,
    (school, known): (StreamSchool, Option<(FluidLine, Paint)>),
    rig: &Rig,
    set_ups: &[Seen],
    (bend_mm, now): (f64, Timestamp),
    prefs: Prefs,
) -> Option<SetAdvice> {
    let say = |v: f64, k: QuantityKind| show(v, k, prefs);
    let (lo, hi) = school.band_mm();
    let (aim, stand) = ((lo * hi).sqrt(), case.stream_state(now));
    let Some(vessel) = rig.most_kpa() else { return Some(no_plate(rig)) };
    let Some((line, paint)) = known else { return by_tries::advise(case.density_kg_l()?, rig, set_ups, aim, vessel, prefs) };
    let caught = paint.from == KnownFrom::Catch;
    // What the looks say of the paint; at the first try, the sheet or the cup.
    let as_seen = if caught { None } else { believed(&line, &paint.fluid, bend_mm, set_ups) };
    let fluid = as_seen.unwrap_or(paint.fluid);
    if let Some(short) = short_of(&line, &fluid, bend_mm, lo, vessel, rig.is_heavy_bodied()) {
        return Some(only(short_words(&short, rig, prefs)));
    }
    if stand.is_some_and(|s| s.verdict == Verdict::CannotTell && !s.by_catch) {
        return Some(only("The eye cannot tell whether it is in. Catch a minute of flow: it decides."));
    }
    let rough = if paint.from == KnownFrom::Sheet { " The sheet's viscosity is rough: a catch tells it." } else { "" };
    let Some(last) = set_ups.last() else {
        let to = start_kpa(&line, &paint.fluid, bend_mm, aim, vessel);
        let reckoned = line.at(&paint.fluid, to).stream_mm(bend_mm);
        return Some(SetAdvice {
            text: format!(
                "Start at {}: {} of stream is to be expected.{rough}",
                say(to, QuantityKind::Pressure).text,
                say(reckoned, QuantityKind::Length).text
            ),
            to: Some(say(to, QuantityKind::Pressure)),
            down: false,
        });
    };
    let Some(to) = next(&line, &paint.fluid, bend_mm, set_ups, aim, vessel, caught) else {
        return Some(only(NOTHING_FLOWED));
    };
    Some(step(&to, last.pot_kpa, rig, prefs))
}

/// Full trigger, and no paint.
pub(super) const NOTHING_FLOWED: &str = "Nothing was seen to flow: is the pot under pressure, the hose open, the nozzle clear?";

/// The next pressure in words: by which hand, what holds it back, and whether the stream is what is reckoned.
fn step(to: &Next, from_kpa: f64, rig: &Rig, prefs: Prefs) -> SetAdvice {
    let differs = if (0.67..=1.5).contains(&to.trust) {
        String::new()
    } else {
        format!(
            " The stream is {:.1} times what is reckoned: catch a minute of flow, or look for air, a clog, a wrong nozzle.",
            to.trust
        )
    };
    let hand = by_hand(from_kpa, to.to_kpa, to.held, rig, prefs);
    SetAdvice { text: hand.text + &differs, ..hand }
}

/// A step of the regulator in words: up or down, past which mark of the trade, and what holds it back.
pub(super) fn by_hand(from_kpa: f64, to_kpa: f64, held: Option<Held>, rig: &Rig, prefs: Prefs) -> SetAdvice {
    let to = show(to_kpa, QuantityKind::Pressure, prefs);
    let down = to_kpa < from_kpa;
    let how = if down { "Back the regulator off and vent: the pot does not fall by itself." } else { "Slowly." };
    let held = match held {
        Some(Held::Step) => " More will be wanted after that; one step at a time.",
        Some(Held::Rating) => " The vessel bears no more: a larger nozzle, a wider hose, or thinner paint.",
        None => "",
    };
    let crossed = crossing(from_kpa, to_kpa, rig, prefs);
    SetAdvice { text: format!("To {}. {how}{crossed}{held}", to.text), to: Some(to), down }
}

/// A pressure whose most nobody put down is not advised.
fn no_plate(rig: &Rig) -> SetAdvice {
    only(format!(
        "What this {} bears is not written down: read its plate, write it down at the rig, choose the rig again. No pressure is advised without it.",
        rig.kind.word()
    ))
}

/// A step up that crosses a mark of the trade names it.
fn crossing(from_kpa: f64, to_kpa: f64, rig: &Rig, prefs: Prefs) -> String {
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    let over = |mark: f64| !is_over(from_kpa, mark) && is_over(to_kpa, mark);
    if over(LOOK_FROM_KPA) {
        format!(" That is past {}: look for a small nozzle, a thin hose, a leak or a clog first.", say(LOOK_FROM_KPA))
    } else if over(FINE_MOST_KPA) && !rig.class.is_high_pressure() {
        format!(" That is over {}: on a fine-finish gun its nozzle is too small.", say(FINE_MOST_KPA))
    } else {
        String::new()
    }
}

/// Why the band is out of reach, and what would bring it.
fn short_words(short: &Short, rig: &Rig, prefs: Prefs) -> String {
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    let hose = rig
        .hose_bore_mm
        .zip(rig.hose_length_mm)
        .map(|(bore, length)| format!("{} of {}", say(length, QuantityKind::Length), say(bore, QuantityKind::Bore)));
    let cause = match short.takes {
        Takes::Hose => {
            format!("the hose takes most of it{}: a wider or shorter one", hose.map_or(String::new(), |h| format!(" ({h})")))
        }
        Takes::Nozzle => "the nozzle takes most of it: a larger one".into(),
        Takes::Lift => "the lift takes most of it: the vessel nearer to the gun".into(),
    };
    format!(
        "This line does not reach its band: it would want {}, and {} is the most here. {}, or thinner or warmer paint; more pressure is no cure.",
        say(short.wants_kpa, QuantityKind::Pressure),
        say(short.most_kpa, QuantityKind::Pressure),
        cause[..1].to_uppercase() + &cause[1..]
    )
}

/// Out of the gun's own cup, before a pattern was seen: the fan, the needle at its witness mark, then the air; where the air is
/// fixed, the fluid by the needle.
fn cup(case: &Case<'_>, rig: &Rig, prefs: Prefs) -> SetAdvice {
    if case.tries().last().is_some() {
        return only(BURST);
    }
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs);
    let needle = match rig.needle_full_count {
        Some(turns) => format!("the needle at its witness mark, {} turns", show(turns, QuantityKind::Count, prefs).figure),
        None => "the needle at the mark where the trigger just opens it fully".into(),
    };
    let cap = rig.class.cap_most_kpa().map_or(String::new(), |most| format!(" At the cap {} is the most.", say(most).text));
    let usual = rig.class.air().map(|air| air.start_kpa);
    let first = of_the_step(case, rig, prefs).or(usual.map(|kpa| (kpa, String::new())));
    match first.filter(|_| !rig.fixed_air) {
        Some((kpa, by)) => SetAdvice {
            to: Some(say(kpa)),
            text: format!(
                "Fan open, {needle}; then {} of air{by} with the trigger pulled, and a short burst on paper.{cap}",
                say(kpa).text
            ),
            down: false,
        },
        None => only(format!(
            "Fan open, {needle}. The air is fixed: a short burst on paper, then more or less fluid by the needle.{cap}"
        )),
    }
}

/// The air the sheet states for the step at hand, and that it does; no more than is printed on the gun.
fn of_the_step(case: &Case<'_>, rig: &Rig, prefs: Prefs) -> Option<(f64, String)> {
    let step = case.step_at_hand()?.step;
    let asked = step.atomizing_kpa?;
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    Some(match rig.printed_air_kpa.filter(|most| is_over(asked, *most)) {
        Some(most) => (most, format!(" (the sheet's {} for {} is over what is printed on the gun)", say(asked), step.name)),
        None => (asked, format!(" (the sheet's, for {})", step.name)),
    })
}

/// Air is on, and nobody said yet what it makes.
pub(super) const BURST: &str = "A short burst on paper with the trigger full, and say what it looks like.";

/// With the stream right: the fan, then the air, by what was seen of the last pattern.
pub(super) fn fan_next(case: &Case<'_>, rig: Option<&Rig>, prefs: Prefs) -> Option<SetAdvice> {
    let rig = rig.filter(|r| r.class.air().is_some())?;
    let last = case.tries().rev().find(|s| s.it.pattern.is_some() || s.it.atomizing_kpa.is_some());
    match last.map(|s| &s.it) {
        None => {
            let air = of_the_step(case, rig, prefs).filter(|_| !rig.fixed_air);
            let air = air.map_or(String::new(), |(kpa, by)| format!(", {}{by}", show(kpa, QuantityKind::Pressure, prefs).text));
            let text = format!(
                "The stream is right. Now the fan, then the air{air}: a short burst on paper, and say what it looks like."
            );
            Some(only(text))
        }
        Some(s) => s.pattern.and_then(|p| fan::look(p, s.cap, rig.fixed_air)).map(only),
    }
}

/// Before the first burst: the screen its tip wants, and the little air an air assist begins with.
fn at_first(rig: Option<&Rig>, tried: &[Rung], prefs: Prefs) -> String {
    let Some(rig) = rig.filter(|_| tried.is_empty()) else { return String::new() };
    let tip = rig.tip_code.as_deref().and_then(|code| Some((code, decode(code, &[]).ok()?)));
    let screen = tip.map_or(String::new(), |(code, tip)| {
        format!(" Tip {code}: a screen of {} mesh in the gun, unless the sheet wants none.", screen_mesh(tip.hole_mm))
    });
    let air = rig.class.air().filter(|_| rig.class == GunClass::AirAssisted && rig.kind == RigKind::Airless);
    let air = air.map_or(String::new(), |air| {
        let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs);
        let most = air.most_kpa.unwrap_or(air.start_kpa);
        format!(" Then a little air, {} to {}.", say(air.least_kpa.unwrap_or(air.start_kpa)).figure, say(most).text)
    });
    screen + &air
}

/// Most of refinement air that is just felt: half a turn; common practice in the trade.
const REFINE_MOST: f64 = 0.5;

/// The next rung of the ladder.
pub(super) fn climb(case: &Case<'_>, rig: Option<&Rig>, prefs: Prefs) -> Option<SetAdvice> {
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs);
    // Airless with air assist climbs in hundreds of psi of fluid, whatever the machine's own ladder is.
    let machine = rig.is_some_and(|r| r.kind == RigKind::GelCoatMachine);
    let school = match rig {
        Some(r) if !machine && r.class == GunClass::AirAssisted => LadderSchool::Hundreds,
        Some(r) => r.ladder,
        None => LadderSchool::default(),
    };
    let tried: Vec<Rung> = case
        .tries()
        .filter_map(|s| {
            let refined = s.it.refine_turns_count.is_some_and(|t| t > 0.0);
            Some(Rung { pump_kpa: s.it.fluid_kpa(), pattern: s.it.pattern?, refined })
        })
        .collect();
    let catalyst = !machine || case.tries().any(|s| s.it.catalyst_kpa.is_some());
    let last = case.tries().last().map(|s| &s.it);
    let refined = last.and_then(|s| s.refine_turns_count).filter(|t| *t > 0.0);
    let next = ladder::next(school, catalyst, &tried);
    if let Some(rig) = rig.filter(|r| r.fluid_most_kpa().is_none() && matches!(next, Climb::CatalystAir | Climb::To(_))) {
        return Some(no_plate(rig));
    }
    Some(match next {
        Climb::CatalystAir => {
            let (lo, hi, long) = school.catalyst_air_kpa();
            // The sheet's own band rules over both schools.
            let sheet = case.aim().map(|b| (b.sheet.catalyst_air_min_kpa, b.sheet.catalyst_air_max_kpa)).unwrap_or_default();
            let (lo, hi) = (sheet.0.unwrap_or(lo), sheet.1.unwrap_or(hi));
            let Some(most) = rig.and_then(|r| r.catalyst_most_kpa) else {
                let text = "Catalyst air first; but what its regulator bears is not written down: read its plate, write it down at the rig, choose the rig again. No pressure is advised without it.";
                return Some(only(text));
            };
            let (lo, hi, long) = (lo.min(most), hi.min(most), long.max(hi).min(most));
            only(format!(
                "Catalyst air first: {} to {} (to {} on long hoses), refinement air off. Then the ladder: {}.",
                say(lo).figure,
                say(hi).text,
                say(long).text,
                school.words(prefs)
            ))
        }
        Climb::To(kpa) if rig.and_then(Rig::fluid_most_kpa).is_some_and(|most| is_over(kpa, most)) => {
            let most = rig.and_then(Rig::fluid_most_kpa).unwrap_or(kpa);
            only(format!(
                "The next rung, {}, is over the {} that plate and class allow. A smaller hole, or warmer paint; never more pressure.",
                say(kpa).text,
                say(most).text
            ))
        }
        Climb::Refine(kpa) => only(format!(
            "{}: only small fingers are left. A quarter to half a turn of refinement air, just felt at the nozzle, then another burst.",
            say(kpa).text
        )),
        Climb::To(kpa) => SetAdvice {
            text: format!("{} at the pump: a short burst, square to the paper.{}", say(kpa).text, at_first(rig, &tried, prefs)),
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
