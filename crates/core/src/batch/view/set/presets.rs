//! Last good set-ups beside today's, on levels; what it may mean that today wants more.

use super::{air_read, knobs};
use crate::atomizing::classes::{ReadAt, ReadHow};
use crate::batch::beside::GoodSetUp;
use crate::batch::case::Case;
use crate::batch::entries::SetUp;
use crate::batch::stream::SAME_TURNS;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::rigs::Rig;
use crate::verdict::{Level, Measured, Tolerance, is_over};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// A set-up that was good, of the same product and rig.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Preset {
    pub number: i64,
    pub pot: Option<Shown>,
    pub atomizing: Option<Shown>,
    pub stream: Option<Shown>,
    pub temperature: Option<Shown>,
    /// Its knobs: fan, needle, refinement air.
    #[serde(default)]
    pub knobs: String,
    /// Where and how its air was read.
    #[serde(default)]
    pub air_read: String,
    /// Where its air was read, and how.
    #[serde(default)]
    pub air_at: Option<ReadAt>,
    #[serde(default)]
    pub air_how: Option<ReadHow>,
    /// What a try is begun with that takes it over: each figure as it would be typed. Empty through another nozzle.
    #[serde(default)]
    #[schema(value_type = BTreeMap<String, String>)]
    pub typed: BTreeMap<String, String>,
    /// Its paint was warmer or colder than today's by more than counts as alike: it stands after those that were alike.
    #[serde(default)]
    pub other_temperature: bool,
    /// The fitted nozzle or tip is another than today's.
    pub other_nozzle: bool,
    /// Today's figures on the levels of this one.
    pub levels: Vec<Level>,
}

/// More than the last good one by so much of it is a sign; from memory.
const DRIFT: f64 = 0.15;
/// Half a division of a common gauge, half a psi; from memory.
const GAUGE_KPA: f64 = 3.447_378_646_584_18;

/// So far two temperatures of the paint may lie apart and still be alike, in kelvin: its thickness changes by a quarter; from memory.
const ALIKE_K: f64 = 5.0;

/// The paint of a good one was warmer or colder than that of today, as it was read last; what was not read is not known to be.
fn other_temperature(case: &Case<'_>, good: &GoodSetUp) -> bool {
    let today = case.conditions.iter().max_by_key(|c| (c.at, c.seq)).map(|c| c.it.material_c);
    today.zip(good.temp_c).is_some_and(|(now, then)| is_over((now - then).abs(), ALIKE_K))
}

/// The one today is held against: of the same nozzle the newest at a temperature alike, else the newest.
fn held_against<'a>(case: &Case<'a>, rig: &Rig) -> Option<&'a GoodSetUp> {
    last_good(case).iter().filter(|g| same_nozzle(rig, g)).min_by_key(|g| other_temperature(case, g))
}

fn same_nozzle(rig: &Rig, good: &GoodSetUp) -> bool {
    rig.nozzle_mm == good.nozzle_mm && rig.tip_code == good.tip_code
}

/// Today's pressure between the drift either side of a good one.
fn beside(label: &str, today_kpa: f64, good_kpa: f64, prefs: Prefs) -> Level {
    let tol = Tolerance::between(good_kpa * (1.0 - DRIFT), good_kpa * (1.0 + DRIFT));
    let level = Level::draw(label, Measured::pm(today_kpa, GAUGE_KPA), tol, good_kpa, QuantityKind::Pressure, prefs);
    // The drift is itself the guard: the gauge's error is drawn and not judged.
    let level = level.judged_by_reading(tol, today_kpa);
    let word = match tol.judge(Measured::pm(today_kpa, 0.0)) {
        crate::verdict::Verdict::In => "as then",
        crate::verdict::Verdict::Low => "less than then",
        crate::verdict::Verdict::High | crate::verdict::Verdict::CannotTell => "more than then",
    };
    Level { word: word.into(), ..level }
}

/// Two airs say something of each other where they were read at one place and in one way, with the fan as it was.
fn comparable(today: &SetUp, good: &GoodSetUp) -> bool {
    let moved = today.fan_turns_count.zip(good.fan_turns_count).is_some_and(|(now, then)| (now - then).abs() > SAME_TURNS);
    today.air_at == good.air_at && today.air_how == good.air_how && !moved
}

fn levels(today: Option<&SetUp>, good: &GoodSetUp, prefs: Prefs) -> Vec<Level> {
    let Some(today) = today else { return Vec::new() };
    let pot = today.pot_kpa.zip(good.pot_kpa).map(|(now, then)| beside("Fluid", now, then, prefs));
    let airs = today.atomizing_kpa.zip(good.atomizing_kpa).filter(|_| comparable(today, good));
    let air = airs.map(|(now, then)| beside("Air", now, then, prefs));
    [pot, air].into_iter().flatten().collect()
}

/// The settings of a good one as a try would be typed; what was seen then is to be seen again.
fn typed(good: &GoodSetUp, prefs: Prefs) -> BTreeMap<String, String> {
    let pressure = |kpa: Option<f64>| kpa.map(|v| show(v, QuantityKind::Pressure, prefs).text);
    let turns = |count: Option<f64>| count.map(|v| show(v, QuantityKind::Count, prefs).figure);
    let all = [
        ("pot_kpa", pressure(good.pot_kpa)),
        ("b_kpa", pressure(good.b_kpa)),
        ("atomizing_kpa", pressure(good.atomizing_kpa)),
        ("catalyst_kpa", pressure(good.catalyst_kpa)),
        ("cap_kpa", pressure(good.cap_kpa)),
        ("supply_kpa", pressure(good.supply_kpa)),
        ("a_valve_turns_count", turns(good.a_valve_turns_count)),
        ("b_valve_turns_count", turns(good.b_valve_turns_count)),
        ("fan_turns_count", turns(good.fan_turns_count)),
        ("needle_turns_count", turns(good.needle_turns_count)),
        ("refine_turns_count", turns(good.refine_turns_count)),
    ];
    all.into_iter().filter_map(|(field, text)| Some((field.to_string(), text?))).collect()
}

/// Those of the rig that is on; of one that is only proposed, what is known of it at hand.
fn last_good<'a>(case: &Case<'a>) -> &'a [GoodSetUp] {
    let beside = case.beside;
    let chosen = case.rig.as_ref().map(|r| r.it.rig);
    let at_hand = beside.rigs_at_hand.iter().find(|r| Some(r.id) == chosen).map(|r| r.last_good.as_slice());
    at_hand.filter(|_| beside.last_good.is_empty()).unwrap_or(&beside.last_good)
}

/// The last good ones, newest first; those at another temperature after those at one alike.
pub(super) fn presets(case: &Case<'_>, prefs: Prefs) -> Vec<Preset> {
    let rig = case.rig();
    let today = case.tries().last().map(|s| &s.it);
    let say = |v: f64, k: QuantityKind| show(v, k, prefs);
    let one = |g: &GoodSetUp| {
        let other_nozzle = rig.is_some_and(|r| !same_nozzle(r, g));
        Preset {
            number: g.number,
            pot: g.pot_kpa.map(|v| say(v, QuantityKind::Pressure)),
            atomizing: g.atomizing_kpa.map(|v| say(v, QuantityKind::Pressure)),
            stream: g.stream_mm.map(|v| say(v, QuantityKind::Length)),
            temperature: g.temp_c.map(|v| say(v, QuantityKind::Temperature)),
            knobs: knobs(
                &[("fan", g.fan_turns_count), ("needle", g.needle_turns_count), ("refinement", g.refine_turns_count)],
                prefs,
            ),
            air_read: air_read(g.air_at, g.air_how),
            air_at: g.air_at,
            air_how: g.air_how,
            typed: if other_nozzle { BTreeMap::new() } else { typed(g, prefs) },
            other_temperature: other_temperature(case, g),
            other_nozzle,
            // Through another nozzle the pressures say nothing of each other.
            levels: if other_nozzle { Vec::new() } else { levels(today, g, prefs) },
        }
    };
    let mut all: Vec<Preset> = last_good(case).iter().map(one).collect();
    all.sort_by_key(|p| p.other_temperature);
    all
}

/// How today's pressures differ from the last good one of the same product and nozzle, with causes in order; no viscosity is needed.
pub(super) fn drift(case: &Case<'_>, now: Timestamp, prefs: Prefs) -> Option<String> {
    let all = [fluid_drift(case, now, prefs), air_drift(case, prefs)];
    let said: Vec<String> = all.into_iter().flatten().collect();
    (!said.is_empty()).then(|| said.join(" "))
}

/// More air than last time for the same fan: what stands between the gauge and the pattern.
fn air_drift(case: &Case<'_>, prefs: Prefs) -> Option<String> {
    let (rig, today) = (case.rig()?, case.air_in_force()?);
    let good = held_against(case, rig).filter(|g| comparable(today, g))?;
    let (now_kpa, good_kpa) = today.atomizing_kpa.zip(good.atomizing_kpa)?;
    let more = now_kpa - good_kpa;
    if more <= DRIFT * good_kpa {
        return None;
    }
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    Some(format!(
        "{} more air than last time (batch {:04}, {}). Look, in this order: a wrong or dirty cap; a thin or kinked air hose; too much fluid.",
        say(more),
        good.number,
        say(good_kpa)
    ))
}

fn fluid_drift(case: &Case<'_>, now: Timestamp, prefs: Prefs) -> Option<String> {
    let rig = case.rig()?;
    let last = case.tries().last()?;
    let good = held_against(case, rig)?;
    let (now_kpa, good_kpa) = last.it.pot_kpa.zip(good.pot_kpa)?;
    let more = now_kpa - good_kpa;
    if more.abs() <= DRIFT * good_kpa {
        return None;
    }
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    if more < 0.0 {
        // While the stream or the pattern is still looked for, less is only the way up.
        case.good_set_up()?;
        return Some(format!(
            "{} less than last time (batch {:04}): thinner or warmer paint, a worn nozzle, or a gauge that sticks.",
            say(-more, QuantityKind::Pressure),
            good.number
        ));
    }
    let paint = case.paint(now);
    let colder = paint.zip(good.temp_c).is_some_and(|(p, was)| p.temp_c < was - 2.0);
    let older = paint.is_some_and(|p| p.age > 0.3);
    let mut causes = Vec::new();
    if older {
        causes.push("the pot is well into its life");
    }
    if colder {
        causes.push("the paint is colder than then");
    }
    causes.push("a clog in nozzle, strainer or tube");
    if !colder {
        causes.push("thicker paint than then");
    }
    causes.push("a kinked hose");
    Some(format!(
        "{} more than last time (batch {:04}, {}). Look, in this order: {}.",
        say(more, QuantityKind::Pressure),
        good.number,
        say(good_kpa, QuantityKind::Pressure),
        causes.join("; ")
    ))
}
