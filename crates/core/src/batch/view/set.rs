//! The Set station: the rig as a line, tries of pressure and the stream each gave, what the model makes of them.

use crate::atomizing::classes::{AirRead, ReadAt, air_notes};
use crate::atomizing::ladder::{self, Climb, LadderSchool, Rung};
use crate::batch::record::Record;
use crate::batch::set_up::{KnownFrom, Paint};
use crate::delivery::advise::{Held, Seen, next, start_kpa};
use crate::delivery::choose::{FINE_MOST_KPA, LOOK_FROM_KPA, USUAL_KPA, smallest_nozzle_mm};
use crate::delivery::{ArcPoint, BEND_MM, Drops, FluidLine, RuleMark, Stream, arc, calibrate, judge_stream, rule};
use crate::quantity::{Kind, Prefs, Shown, show};
use crate::rigs::{LinePoint, Rig, RigKind, points};
use crate::sheets::StreamSchool;
use crate::working::Working;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// One try of the Set station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Try {
    pub entry: Uuid,
    pub pot: Shown,
    pub atomizing: Option<Shown>,
    pub stream: Option<Shown>,
    /// What the model expected at this pressure.
    pub expected: Option<Shown>,
    pub pattern: Option<String>,
    pub word: String,
    /// The stream of this try, for the picture.
    pub arc: Vec<ArcPoint>,
}

/// A point of flow against pressure.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlowPoint {
    pub kpa: f64,
    pub ml_min: f64,
}

/// A mark on the pressure of the curve.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlowMark {
    pub kpa: f64,
    pub word: String,
    /// Usual, most of a fine-finish gun, look for a fault, rating.
    pub is: String,
}

/// Flow against pressure of this rig with this paint.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlowCurve {
    pub points: Vec<FlowPoint>,
    pub marks: Vec<FlowMark>,
    /// Flows that give the school's shortest and longest stream.
    pub band_lo_ml_min: f64,
    pub band_hi_ml_min: f64,
    /// End of the pressure axis.
    pub most_kpa: f64,
    pub most_ml_min: f64,
    /// Figures for the axes, as shown.
    pub most_pressure: Shown,
    pub most_flow: Shown,
}

/// Where the pressure goes, as parts of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PressureShare {
    pub word: String,
    pub kpa: Shown,
    /// 0 to 1 of the whole.
    pub part: f64,
}

/// What the model makes of rig and paint.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Modelled {
    pub viscosity: Shown,
    /// “by the sheet, at 20 °C, pot 30 % of its life”.
    pub viscosity_of: String,
    pub curve: FlowCurve,
    pub shares: Vec<PressureShare>,
    /// At the last pressure, else at the one advised: flow and stream as reckoned.
    pub at: Shown,
    pub flow: Shown,
    pub stream: Shown,
    pub regime: String,
    pub working: Working,
}

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

/// A set-up that was good, of the same product and rig.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Preset {
    pub number: i64,
    pub pot: Shown,
    pub atomizing: Option<Shown>,
    pub stream: Option<Shown>,
    pub temperature: Option<Shown>,
    /// The fitted nozzle or tip is another than today's.
    pub other_nozzle: bool,
}

/// The Set station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SetView {
    /// Area of the part, for the time a coat takes.
    pub area_m2: f64,
    /// The rig chosen.
    pub rig: Option<Uuid>,
    pub rig_name: Option<String>,
    pub rig_kind: Option<RigKind>,
    /// The rig drawn as a line.
    pub points: Vec<LinePoint>,
    /// What is short of the rig.
    pub troubles: Vec<String>,
    /// Tries, oldest first.
    pub tries: Vec<Try>,
    /// The last stream seen.
    pub stream: Option<Stream>,
    /// The school's band, in words.
    pub school: String,
    /// The band, for the picture before any stream is seen.
    pub band_lo_mm: f64,
    pub band_hi_mm: f64,
    /// Marks of the rule under the stream, in the reader's unit.
    pub rule: Vec<RuleMark>,
    /// Unit of the rule.
    pub rule_unit: String,
    pub modelled: Option<Modelled>,
    pub advice: Option<SetAdvice>,
    /// What wants saying of pressures and air.
    pub notes: Vec<String>,
    /// “Set the wall to”, where the air was read at the gun.
    pub wall: Option<String>,
    /// Last good set-ups, newest first.
    pub presets: Vec<Preset>,
    /// How today differs from the last good one, and why that may be.
    pub drift: Option<String>,
    /// It climbs the pattern ladder instead of a stream.
    pub ladder: bool,
}

pub(super) fn set(record: &Record, now: Timestamp, prefs: Prefs) -> SetView {
    let school = record.aim().map(|b| b.sheet.stream).unwrap_or_default();
    let (lo, hi) = school.band_mm();
    let (rule, rule_unit) = rule(prefs);
    let rig = record.rig();
    let line = rig.and_then(Rig::line);
    let paint = record.paint(now);
    let last = record.set_ups.last();
    let climbs = rig.is_some_and(|r| matches!(r.kind, RigKind::Airless | RigKind::GelCoatMachine));
    // With the paint as it was then: a pot that aged since pushed more.
    let expected = |kpa: f64, at| line.zip(record.paint(at)).map(|(l, p)| l.at(&p.fluid, kpa).stream_mm(BEND_MM));
    let tries = record
        .set_ups
        .iter()
        .map(|s| Try {
            entry: s.entry,
            pot: show(s.it.pot_kpa, Kind::Pressure, prefs),
            atomizing: s.it.atomizing_kpa.map(|p| show(p, Kind::Pressure, prefs)),
            stream: s.it.stream_mm.map(|mm| show(mm, Kind::Length, prefs)),
            expected: s.it.stream_mm.and_then(|_| expected(s.it.pot_kpa, s.at)).map(|mm| show(mm, Kind::Length, prefs)),
            pattern: s.it.pattern.map(|p| p.word().into()),
            word: s.it.stream_mm.map_or(String::new(), |mm| judge_stream(school, mm, prefs).level.word),
            arc: s.it.stream_mm.map(arc).unwrap_or_default(),
        })
        .collect();
    let advice = if climbs { climb(record, rig, prefs) } else { advice(record, school, line, paint, rig, prefs) };
    let at_kpa = last.map(|s| s.it.pot_kpa).filter(|kpa| *kpa > 0.0);
    let modelled = line.zip(paint).zip(rig).map(|((l, p), rig)| modelled(&l, &p, rig, school, at_kpa, prefs));
    let drops = line.zip(paint).zip(at_kpa).map(|((l, p), kpa)| l.at(&p.fluid, kpa));
    SetView {
        area_m2: record.aim().map_or(0.0, |b| b.area_m2),
        rig: record.rig.as_ref().map(|r| r.it.rig),
        rig_name: rig.map(|r| r.name.clone()),
        rig_kind: rig.map(|r| r.kind),
        points: rig.map(|r| points(r, drops.as_ref(), prefs)).unwrap_or_default(),
        troubles: rig.map(|r| r.troubles(prefs)).unwrap_or_default(),
        tries,
        stream: last.and_then(|s| s.it.stream_mm).map(|mm| judge_stream(school, mm, prefs)),
        school: format!("{} to {}", show(lo, Kind::Length, prefs).figure, show(hi, Kind::Length, prefs).text),
        band_lo_mm: lo,
        band_hi_mm: hi,
        rule,
        rule_unit,
        modelled,
        advice,
        notes: notes(record, rig, line, paint, prefs),
        wall: wall(record, rig, prefs),
        presets: presets(record, rig, prefs),
        drift: drift(record, now, prefs),
        ladder: climbs,
    }
}

/// The model with its picture and its sum.
fn modelled(line: &FluidLine, paint: &Paint, rig: &Rig, school: StreamSchool, at_kpa: Option<f64>, prefs: Prefs) -> Modelled {
    let say = |v: f64, k: Kind| show(v, k, prefs);
    let (lo, hi) = school.band_mm();
    let kpa = at_kpa.unwrap_or_else(|| start_kpa(line, &paint.fluid, BEND_MM, (lo + hi) / 2.0));
    let at = line.at(&paint.fluid, kpa);
    let most_kpa = (line.for_stream(&paint.fluid, hi, BEND_MM).total_kpa * 1.3).max(LOOK_FROM_KPA * 1.1).max(kpa * 1.1);
    let most_kpa = rig.most_kpa().map_or(most_kpa, |rating| most_kpa.min(rating * 1.1));
    let points: Vec<FlowPoint> = (0..=CURVE_POINTS)
        .map(|i| most_kpa * f64::from(i) / f64::from(CURVE_POINTS))
        .map(|kpa| FlowPoint { kpa, ml_min: line.at(&paint.fluid, kpa).flow_ml_min })
        .collect();
    let most_ml_min = points.last().map_or(1.0, |p| p.ml_min.max(1.0));
    let mark = |kpa: f64, word: String, is: &str| FlowMark { kpa, word, is: is.into() };
    let figure = |kpa: f64| say(kpa, Kind::Pressure).figure;
    let mut marks = vec![
        mark(USUAL_KPA.0, figure(USUAL_KPA.0), "usual_from"),
        mark(USUAL_KPA.1, figure(USUAL_KPA.1), "usual_to"),
        mark(FINE_MOST_KPA, figure(FINE_MOST_KPA), "fine_most"),
        mark(LOOK_FROM_KPA, figure(LOOK_FROM_KPA), "look"),
    ];
    marks.extend(rig.most_kpa().map(|kpa| mark(kpa, "rating".into(), "rating")));
    marks.retain(|m| m.kpa <= most_kpa);
    let age = if paint.age > 0.005 {
        format!(", pot at {} of its life", say(100.0 * paint.age, Kind::Percent).text)
    } else {
        String::new()
    };
    let share = |word: &str, kpa: f64| PressureShare {
        word: word.into(),
        kpa: say(kpa, Kind::Pressure),
        part: (kpa / at.total_kpa.max(f64::MIN_POSITIVE)).clamp(0.0, 1.0),
    };
    Modelled {
        viscosity: say(paint.fluid.viscosity_mpa_s, Kind::Viscosity),
        viscosity_of: format!("{}, at {}{age}", paint.from.word(), say(paint.temp_c, Kind::Temperature).text),
        curve: FlowCurve {
            points,
            marks,
            band_lo_ml_min: line.for_stream(&paint.fluid, lo, BEND_MM).flow_ml_min,
            band_hi_ml_min: line.for_stream(&paint.fluid, hi, BEND_MM).flow_ml_min,
            most_kpa,
            most_ml_min,
            most_pressure: say(most_kpa, Kind::Pressure),
            most_flow: say(most_ml_min, Kind::Flow),
        },
        shares: vec![share("hose", at.hose_kpa), share("lift", at.lift_kpa.max(0.0)), share("nozzle", at.nozzle_kpa)],
        at: say(kpa, Kind::Pressure),
        flow: say(at.flow_ml_min, Kind::Flow),
        stream: say(at.stream_mm(BEND_MM), Kind::Length),
        regime: at.regime.words().into(),
        working: working(line, paint, &at, prefs),
    }
}

/// Points of the curve: enough for a smooth line.
const CURVE_POINTS: i32 = 48;

fn working(line: &FluidLine, paint: &Paint, at: &Drops, prefs: Prefs) -> Working {
    let say = |v: f64, k: Kind| show(v, k, prefs).text;
    let mut w = Working::new(
        "Where the pressure goes",
        "Hose 128·µ·L·Q/(π·d⁴) to Re 2,300, above it Haaland; nozzle ρ/2·(Q/(Cd·A))² with Cd 0.7 and a 3 mm land (from memory)",
    );
    let fluid = &paint.fluid;
    let figures = format!("{}, {}", say(fluid.viscosity_mpa_s, Kind::Viscosity), say(fluid.density_kg_l, Kind::Density));
    w.line("Flow", figures, at.flow_ml_min, Kind::Flow, prefs);
    w.line("Reynolds in the hose", at.regime.words(), at.reynolds, Kind::Count, prefs);
    let figures = format!("{} of {}", say(line.hose_length_mm, Kind::Length), say(line.hose_bore_mm, Kind::Length));
    w.line("Lost in the hose", figures, at.hose_kpa, Kind::Pressure, prefs);
    w.line("To lift it", say(line.lift_mm, Kind::Length), at.lift_kpa, Kind::Pressure, prefs);
    w.line("Lost in the nozzle", say(line.nozzle_mm, Kind::Length), at.nozzle_kpa, Kind::Pressure, prefs);
    w.line("Speed out of it", "flow ÷ its hole", at.speed_m_s, Kind::Speed, prefs);
    w.line("Stream", format!("falls {} on the way", say(BEND_MM, Kind::Length)), at.stream_mm(BEND_MM), Kind::Length, prefs);
    w.line("On the pot", "all together", at.total_kpa, Kind::Pressure, prefs);
    w
}

/// The next pressure for the stream.
fn advice(
    record: &Record,
    school: StreamSchool,
    line: Option<FluidLine>,
    paint: Option<Paint>,
    rig: Option<&Rig>,
    prefs: Prefs,
) -> Option<SetAdvice> {
    let (line, paint) = (line?, paint?);
    let say = |v: f64, k: Kind| show(v, k, prefs);
    let (lo, hi) = school.band_mm();
    let aim = (lo + hi) / 2.0;
    let tries: Vec<Seen> =
        record.set_ups.iter().filter_map(|s| Some(Seen { pot_kpa: s.it.pot_kpa, stream_mm: s.it.stream_mm? })).collect();
    let rough = if paint.from == KnownFrom::Sheet { " The sheet's viscosity is rough: a catch tells it." } else { "" };
    let Some(last) = tries.last() else {
        let to = start_kpa(&line, &paint.fluid, BEND_MM, aim);
        let reckoned = line.at(&paint.fluid, to).stream_mm(BEND_MM);
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
    if (lo..=hi).contains(&last.stream_mm) {
        return None;
    }
    let most = rig.and_then(Rig::most_kpa).unwrap_or(f64::MAX);
    let Some(to) = next(&line, &paint.fluid, BEND_MM, &tries, aim, most) else {
        let text = "Nothing was seen to flow: is the pot under pressure, the hose open, the nozzle clear?";
        return Some(SetAdvice { to: None, text: text.into(), down: false });
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

/// The next rung of the ladder.
fn climb(record: &Record, rig: Option<&Rig>, prefs: Prefs) -> Option<SetAdvice> {
    let say = |kpa: f64| show(kpa, Kind::Pressure, prefs);
    let school = LadderSchool::default();
    let tried: Vec<Rung> =
        record.set_ups.iter().filter_map(|s| Some(Rung { pump_kpa: s.it.pot_kpa, pattern: s.it.pattern? })).collect();
    let machine = rig.is_some_and(|r| r.kind == RigKind::GelCoatMachine);
    let catalyst = !machine || record.set_ups.iter().any(|s| s.it.catalyst_kpa.is_some());
    let (lo, hi, long) = school.catalyst_air_kpa();
    let (to, text, down) = match ladder::next(school, catalyst, &tried) {
        Climb::CatalystAir => (
            None,
            format!(
                "Catalyst air first: {} to {} (to {} on long hoses), refinement air off. Then the ladder: {}.",
                say(lo).figure,
                say(hi).text,
                say(long).text,
                school.word()
            ),
            false,
        ),
        Climb::To(kpa) => {
            let down = tried.last().is_some_and(|t| t.pump_kpa > kpa);
            (Some(say(kpa)), format!("{} at the pump: a short burst, square to the paper.", say(kpa).text), down)
        }
        Climb::Done(kpa) => (
            None,
            format!("{} is the lowest full pattern. Leave it there; now a quarter to half a turn of refinement air, just felt.", say(kpa).text),
            false,
        ),
        Climb::ChangeTip => (
            None,
            "The top rung is not full. Flow and fan go by the tip, never by pressure: a smaller hole, or warmer paint.".into(),
            false,
        ),
        Climb::TurnCap => (
            None,
            "Lop-sided: turn the cap half round. If the pattern turns with it, clean or replace the cap; if it stays, it is needle and nozzle.".into(),
            false,
        ),
    };
    Some(SetAdvice { to, text, down })
}

fn notes(record: &Record, rig: Option<&Rig>, line: Option<FluidLine>, paint: Option<Paint>, prefs: Prefs) -> Vec<String> {
    let Some(last) = record.set_ups.last().map(|s| &s.it) else { return Vec::new() };
    let say = |v: f64, k: Kind| show(v, k, prefs).text;
    let mut found = Vec::new();
    if let (Some(rig), Some(kpa)) = (rig, last.atomizing_kpa) {
        let read = AirRead { kpa, at: last.air_at, how: last.air_how, printed_kpa: rig.printed_air_kpa };
        found.extend(air_notes(rig.class, read, prefs));
        if let Some(supply) = rig.supply_kpa.filter(|s| *s < kpa + SUPPLY_OVER_KPA) {
            found.push(format!(
                "The supply of {} is hardly over what the regulator gives: the fan will pulse when anything else draws air.",
                say(supply, Kind::Pressure)
            ));
        }
    }
    if let (Some(rig), Some(line), Some(paint)) = (rig, line, paint) {
        if last.pot_kpa > LOOK_FROM_KPA {
            found.push("Past 50 psi look for a small nozzle, a thin hose, a leak or a clog before more pressure.".into());
        } else if last.pot_kpa > FINE_MOST_KPA && !rig.class.is_high_pressure() {
            let flow = line.at(&paint.fluid, last.pot_kpa).flow_ml_min;
            let larger = smallest_nozzle_mm(&line, &paint.fluid, &rig.spare_mm, flow, FINE_MOST_KPA);
            let take = larger.map_or("Take a larger one.".into(), |mm| {
                format!("{} at hand gives the same at 20 psi or less.", say(mm, Kind::Length))
            });
            found.push(format!("Over 20 psi on a fine-finish gun its nozzle is too small. {take}"));
        }
    }
    if let (Some(line), Some(paint), Some(mm)) = (line, paint, last.stream_mm)
        && paint.from == KnownFrom::Catch
    {
        let speed = line.at(&paint.fluid, last.pot_kpa).speed_m_s;
        if speed > 0.0 && mm > 0.0 {
            let bend = calibrate::bend_mm(mm, speed);
            found.push(format!(
                "With the flow caught, this gun and this eye call it bent at {} of fall.",
                say(bend, Kind::Length)
            ));
        }
    }
    found
}

/// Supply over a regulated pressure so that change-over does not pulse the fan: the trade's 10 psi at the least.
const SUPPLY_OVER_KPA: f64 = 68.947_572_931_683_6;

/// What the wall is to be set to for the air wanted at the gun.
fn wall(record: &Record, rig: Option<&Rig>, prefs: Prefs) -> Option<String> {
    let rig = rig?;
    let (hose, nl_min) = rig.air()?;
    let wanted = record.set_ups.last().and_then(|s| s.it.atomizing_kpa.map(|kpa| (kpa, s.it.air_at)));
    let say = |v: f64| show(v, Kind::Pressure, prefs).text;
    match wanted {
        Some((kpa, Some(ReadAt::Wall))) => Some(match hose.at_gun_kpa(kpa, nl_min) {
            Ok(gun) => format!("{} at the wall leaves {} at the gun: the hose costs {}.", say(kpa), say(gun), say(kpa - gun)),
            Err(r) => r.text,
        }),
        wanted => {
            let kpa = wanted.map(|(kpa, _)| kpa).or(rig.class.air().map(|a| a.start_kpa))?;
            Some(match hose.at_wall_kpa(kpa, nl_min) {
                Ok(wall) => {
                    format!("Set the wall to {} for {} at the gun: the hose costs {}.", say(wall), say(kpa), say(wall - kpa))
                }
                Err(r) => r.text,
            })
        }
    }
}

fn presets(record: &Record, rig: Option<&Rig>, prefs: Prefs) -> Vec<Preset> {
    let fitted = rig.map(|r| (r.nozzle_mm, r.tip_code.clone()));
    record
        .beside
        .last_good
        .iter()
        .map(|g| Preset {
            number: g.number,
            pot: show(g.pot_kpa, Kind::Pressure, prefs),
            atomizing: g.atomizing_kpa.map(|v| show(v, Kind::Pressure, prefs)),
            stream: g.stream_mm.map(|v| show(v, Kind::Length, prefs)),
            temperature: g.temp_c.map(|v| show(v, Kind::Temperature, prefs)),
            other_nozzle: fitted.as_ref().is_some_and(|f| *f != (g.nozzle_mm, g.tip_code.clone())),
        })
        .collect()
}

/// More than the last good one by so much of it is a sign; from memory.
const DRIFT: f64 = 0.15;

/// How today's pressure differs from the last good one of the same product and nozzle, with causes in order.
fn drift(record: &Record, now: Timestamp, prefs: Prefs) -> Option<String> {
    let rig = record.rig()?;
    let last = record.set_ups.last()?;
    let same = |g: &&crate::schedule::GoodSetUp| g.nozzle_mm == rig.nozzle_mm && g.tip_code == rig.tip_code;
    let good = record.beside.last_good.iter().find(same)?;
    let more = last.it.pot_kpa - good.pot_kpa;
    if more.abs() <= DRIFT * good.pot_kpa {
        return None;
    }
    let say = |v: f64, k: Kind| show(v, k, prefs).text;
    if more < 0.0 {
        return Some(format!(
            "{} less than last time (batch {:04}): thinner or warmer paint, a worn nozzle, or a gauge that sticks.",
            say(-more, Kind::Pressure),
            good.number
        ));
    }
    let paint = record.paint(now);
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
        say(more, Kind::Pressure),
        good.number,
        say(good.pot_kpa, Kind::Pressure),
        causes.join("; ")
    ))
}
