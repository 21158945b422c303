//! The next pressure: which of the two to move, and to what, from the catches so far.

use super::USUAL_REPEAT;
use crate::limits::POT_PRESSURE;
use crate::mixing::said;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::{Basis, Sheet};
use crate::verdict::{Measured, Verdict};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most a pressure is raised, or lowered, in one step: half again.
pub const MOST_STEP: f64 = 1.5;
/// Two pressures nearer than this are the same setting: half a division of a small gauge, from memory.
const SAME_KPA: f64 = 1.0;
/// A move smaller than this, as a part of the pressure, shows nothing past the play of the catches; from memory.
const TELLING_MOVE: f64 = 0.15;
/// How a stream answers its pressure, as per cent of flow for one per cent of pressure, at the least and at the most: an
/// orifice alone gives a half, a line with 3 psi of lift at 5 psi gives two and a half; derived.
const ANSWERS: (f64, f64) = (0.4, 2.5);
/// Standard gravity over a millimetre of a kilogram a litre, in kilopascal.
const KPA_PER_MM: f64 = 9.806_65e-3;

/// Which stream.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Side {
    /// Base.
    A,
    /// Hardener.
    B,
}

impl Side {
    fn other(self) -> Side {
        if self == Side::A { Side::B } else { Side::A }
    }

    fn name(self) -> &'static str {
        if self == Side::A { "A" } else { "B" }
    }
}

/// A pair of catches with both pressures known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Trial {
    /// Mass of A.
    pub a_g: f64,
    /// Mass of B.
    pub b_g: f64,
    /// Pressure on A.
    pub a_kpa: f64,
    /// Pressure on B.
    pub b_kpa: f64,
    /// How long both ran, if timed.
    pub time_s: Option<f64>,
    /// Lift from pot to gun.
    pub lift_mm: f64,
    /// Resolution of the scale.
    pub resolution_g: f64,
}

impl Trial {
    fn kpa(&self, side: Side) -> f64 {
        if side == Side::A { self.a_kpa } else { self.b_kpa }
    }

    /// The stream that is moved, per gram of the other.
    fn of_other(&self, side: Side) -> f64 {
        if side == Side::A { self.a_g / self.b_g } else { self.b_g / self.a_g }
    }

    fn flow_g_s(&self, side: Side) -> Option<f64> {
        self.time_s.map(|t| if side == Side::A { self.a_g / t } else { self.b_g / t })
    }

    /// One standard deviation of its ratio, as a part of it: the catch's own play, and the scale's.
    fn sigma(&self) -> f64 {
        let scale = self.resolution_g / 2.0 * (1.0 / self.a_g + 1.0 / self.b_g);
        (USUAL_REPEAT * USUAL_REPEAT + scale * scale / 3.0).sqrt()
    }
}

/// What to do next.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Advice {
    pub side: Side,
    pub to_kpa: Option<f64>,
    /// A machine's catalyst setting, where it is what is moved.
    #[serde(default)]
    pub to_setting: Option<f64>,
    /// It goes up.
    pub raise: bool,
    /// In words: which, to what, what to expect.
    pub text: String,
    /// The other stream would do as well: so.
    #[serde(default)]
    pub other: Option<String>,
    /// This stream can go no further.
    #[serde(default)]
    pub at_its_limit: bool,
    pub working: Working,
}

/// The pressure that carries the fluid only to the gun: below it nothing flows.
///
/// **Formula:** `P₀ = ρ·g·Δz`. **Units:** mm, kg/L, kPa. **Source:** hydrostatics.
pub fn lift_kpa(lift_mm: f64, density_kg_l: f64) -> f64 {
    KPA_PER_MM * lift_mm * density_kg_l
}

/// A stream against its pressure, as a straight line through the last trial.
#[derive(Clone, Copy)]
struct Line {
    /// Where the line gives nothing.
    from_kpa: f64,
    /// Gain per kilopascal.
    slope: f64,
}

impl Line {
    fn through(p1: f64, y1: f64, p2: f64, y2: f64) -> Option<Line> {
        let slope = (y2 - y1) / (p2 - p1);
        (slope > 0.0 && slope.is_finite()).then(|| Line { from_kpa: p1 - y1 / slope, slope })
    }

    /// The same, no flatter and no steeper than a stream can answer.
    fn answering(self, p: f64, y: f64) -> Line {
        let answer = (self.slope * p / y).clamp(ANSWERS.0, ANSWERS.1);
        let slope = answer * y / p;
        Line { from_kpa: p - y / slope, slope }
    }

    fn pressure_for(self, y: f64) -> f64 {
        self.from_kpa + y / self.slope
    }

    fn at(self, kpa: f64) -> f64 {
        (kpa - self.from_kpa) * self.slope
    }
}

/// A line, and how far a catch at another pressure may stray from it.
struct Answer {
    line: Line,
    /// The trial before the last, where the line goes through both.
    through: Option<(f64, f64)>,
}

/// What is asked of one stream.
struct Asked<'a> {
    sheet: &'a Sheet,
    trials: &'a [Trial],
    side: Side,
    most_kpa: f64,
    prefs: Prefs,
}

/// The next pressure after some trials; `None` when there is none yet, or the last one is in.
///
/// **Formula:** the moved stream per gram of the other is a straight line in its pressure. First trial: the line
/// runs through P₀ of the lift ([`lift_kpa`]). From the second on, through the last two trials that moved this one
/// pressure, unless that move was too small to show anything past the play of the catches. Where both moved, each stream needs
/// its own flow, so both catches must be timed. A step is at most half again, and never over `most_kpa`, what the rig bears; where
/// that is not known, no pressure is advised. Where this stream is at its limit the other is moved. **Units:** g, kPa.
/// **Source:** derived; flow ∝ pressure over what the lift takes. **Check:** target 5 : 1, 9 psi 2.00 and 13 psi 3.418 → 17.5 psi.
pub fn advise(sheet: &Sheet, trials: &[Trial], most_kpa: Option<f64>, prefs: Prefs) -> Option<Advice> {
    let now = *trials.last()?;
    if is_in(sheet, now)? {
        return None;
    }
    let percent = matches!(sheet.basis, Some(Basis::PercentByWeight | Basis::PercentByVolume));
    let moved = moved(trials);
    let side = match moved {
        Some((true, false)) => Side::A,
        Some((false, true)) => Side::B,
        // Catalyst is set by its own pressure; a twin feed by the base.
        _ if percent => Side::B,
        _ => Side::A,
    };
    let Some(most_kpa) = most_kpa else {
        let w = Working::new("Next pressure", SOURCE);
        let text = "Choose the rig at Set first: what its pots bear is not known, so no pressure is advised.";
        return Some(stuck(side, text.into(), w));
    };
    let of = |side| Asked { sheet, trials, side, most_kpa, prefs }.advice();
    let (first, second) = (of(side)?, of(side.other())?);
    let both_moved = matches!(moved, Some((true, true)));
    // Catalyst is never set by the pressure of the base.
    if first.at_its_limit && second.to_kpa.is_some() && !both_moved && !percent {
        let text = format!("{} {}", first.text, second.text);
        return Some(Advice { text, ..second });
    }
    let other = second.to_kpa.filter(|_| first.to_kpa.is_some() && !percent).map(|to| {
        let verb = if second.raise { "raise" } else { "lower" };
        format!("Or {verb} {} to {}.", second.side.name(), show(to, QuantityKind::Pressure, prefs).text)
    });
    Some(Advice { other, ..first })
}

const SOURCE: &str = "Flow in proportion to the pressure over what the lift takes";

fn is_in(sheet: &Sheet, now: Trial) -> Option<bool> {
    let said_now = said(sheet, Measured::pm(now.b_g / now.a_g, 0.0))?;
    Some(said_now.tolerance.judge(said_now.measured) == Verdict::In)
}

/// Whether A and B were moved between the last two trials.
fn moved(trials: &[Trial]) -> Option<(bool, bool)> {
    let [.., before, now] = trials else { return None };
    Some(((before.a_kpa - now.a_kpa).abs() > SAME_KPA, (before.b_kpa - now.b_kpa).abs() > SAME_KPA))
}

pub(super) fn stuck(side: Side, text: String, working: Working) -> Advice {
    Advice { side, to_kpa: None, to_setting: None, raise: false, text, other: None, at_its_limit: false, working }
}

impl Asked<'_> {
    fn advice(&self) -> Option<Advice> {
        let Asked { sheet, trials, side, most_kpa, prefs } = *self;
        let (hardener, now, name) = (sheet.hardener()?, *trials.last()?, side.name());
        let target = if side == Side::A { 1.0 / hardener.b_per_a } else { hardener.b_per_a };
        let (p, y) = (now.kpa(side), now.of_other(side));
        let mut w = Working::new("Next pressure", SOURCE);
        let answer = match self.line(&mut w) {
            Ok(answer) => answer,
            Err(text) => return Some(stuck(side, text, w)),
        };
        let wanted = answer.line.pressure_for(target);
        w.line("Meets the ratio at", format!("straight line through {name}’s trials"), wanted, QuantityKind::Pressure, prefs);
        let stepped = wanted.clamp(p / MOST_STEP, p * MOST_STEP);
        let to = stepped.clamp(POT_PRESSURE.min, most_kpa.max(POT_PRESSURE.min));
        if (to - p).abs() < 1e-6 || (to < p) != (wanted < p) {
            let most = show(most_kpa, QuantityKind::Pressure, prefs).text;
            let text =
                format!("{name} is at its limit: the rig bears {most}. Change the nozzle or the needle, then catch again.");
            return Some(Advice { at_its_limit: true, ..stuck(side, text, w) });
        }
        w.line("Next", "at most half again in one step", to, QuantityKind::Pressure, prefs);
        let verb = if to > p { "Raise" } else { "Lower" };
        let vent = if to > p { "" } else { ", and vent it" };
        let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
        let expect = self.expect(&answer, p, y, to).unwrap_or_default();
        let text = format!("{verb} {name} from {} to {}{vent}. Expect {expect}; catch again with clean cups.", say(p), say(to));
        Some(Advice {
            side,
            to_kpa: Some(to),
            to_setting: None,
            raise: to > p,
            text,
            other: None,
            at_its_limit: false,
            working: w,
        })
    }

    /// The line of this stream, or why there is none.
    fn line(&self, w: &mut Working) -> Result<Answer, String> {
        let Asked { sheet, trials, side, prefs, .. } = *self;
        let (Some(now), name) = (trials.last().copied(), side.name()) else { return Err(String::new()) };
        let before = trials.len().checked_sub(2).map(|i| trials[i]);
        let (p, y) = (now.kpa(side), now.of_other(side));
        let clog = || format!("More pressure on {name} gave no more of it. Look for a clog, a kink or air before you go on.");
        match (moved(trials), before) {
            (Some((true, true)), Some(b)) => {
                let flows = b.flow_g_s(side).zip(now.flow_g_s(side));
                let Some((f1, f2)) = flows else {
                    return Err("Both pressures moved. Time both catches, or move one pressure alone.".into());
                };
                w.line("As it was caught", "both pressures moved: each stream by its own flow", p, QuantityKind::Pressure, prefs);
                // The other stream stays as it runs now.
                let other = now.flow_g_s(side.other()).unwrap_or(1.0);
                let line = Line::through(b.kpa(side), f1 / other, p, f2 / other).ok_or_else(clog)?.answering(p, f2 / other);
                return Ok(Answer { line, through: Some((b.kpa(side), f1 / other)) });
            }
            (Some((a, b_moved)), Some(b)) if (a && side == Side::A) || (b_moved && side == Side::B) => {
                let (p1, y1) = (b.kpa(side), b.of_other(side));
                let telling = (p - p1).abs() > TELLING_MOVE * p1 || (y - y1).abs() > 2.0 * y * b.sigma().hypot(now.sigma());
                match Line::through(p1, y1, p, y) {
                    Some(line) if telling => return Ok(Answer { line: line.answering(p, y), through: Some((p1, y1)) }),
                    None if telling => return Err(clog()),
                    Some(_) | None => {}
                }
            }
            _ => {}
        }
        let density = match side {
            Side::A => sheet.base_kg_l(),
            Side::B => sheet.hardener().map_or(1.0, |h| h.density_kg_l),
        };
        let p0 = lift_kpa(now.lift_mm, density);
        let figures = format!("lift {} of {name}", show(now.lift_mm, QuantityKind::Length, prefs).text);
        w.line("Flow begins at", figures, p0, QuantityKind::Pressure, prefs);
        Line::through(p0, 0.0, p, y).map(|line| Answer { line, through: None }).ok_or_else(clog)
    }

    /// What the next catch should show, as far as two sigma of the catches let it be known.
    ///
    /// From one trial the stream may answer as an orifice (a half) or as a line (one); from two the line is as sure as both.
    fn expect(&self, answer: &Answer, p: f64, y: f64, to: f64) -> Option<String> {
        let last = self.trials.last()?;
        let sigma = last.sigma();
        let then = answer.line.at(to);
        let (low, high) = match answer.through {
            None => {
                let as_orifice = y * (then / y).sqrt();
                (then.min(as_orifice), then.max(as_orifice))
            }
            Some(_) => (then, then),
        };
        let spread = match answer.through {
            None => then * sigma.hypot(USUAL_REPEAT),
            Some((p1, y1)) => {
                let k = (to - p) / (p - p1);
                (((1.0 + k) * y * sigma).powi(2) + (k * y1 * sigma).powi(2) + (then * USUAL_REPEAT).powi(2)).sqrt()
            }
        };
        let (low, high) = ((low - 2.0 * spread).max(y.min(then) * 0.1), high + 2.0 * spread);
        let b_per_a = |y: f64| if self.side == Side::A { 1.0 / y } else { y };
        let ends = Measured::between(b_per_a(low).min(b_per_a(high)), b_per_a(low).max(b_per_a(high)));
        let said = said(self.sheet, ends)?;
        let (from, to) = (show(said.measured.lo, said.kind, self.prefs), show(said.measured.hi, said.kind, self.prefs));
        Some(if from.figure == to.figure { to.text } else { format!("{} to {}", from.figure, to.text) })
    }
}
