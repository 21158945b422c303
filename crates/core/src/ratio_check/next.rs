//! The next pressure: which of the two to move, and to what, from the catches so far.

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
}

/// What to do next.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Advice {
    pub side: Side,
    pub to_kpa: Option<f64>,
    /// It goes up.
    pub raise: bool,
    /// In words: which, to what, what to expect.
    pub text: String,
    pub working: Working,
}

/// The pressure that carries the fluid only to the gun: below it nothing flows.
///
/// **Formula:** `P₀ = ρ·g·Δz`. **Units:** mm, kg/L, kPa. **Source:** hydrostatics.
pub fn lift_kpa(lift_mm: f64, density_kg_l: f64) -> f64 {
    KPA_PER_MM * lift_mm * density_kg_l
}

/// A stream against its pressure, as a straight line.
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

    fn pressure_for(self, y: f64) -> f64 {
        self.from_kpa + y / self.slope
    }
}

/// The next pressure after some trials; `None` when there is none yet, or the last one is in.
///
/// **Formula:** the moved stream per gram of the other is a straight line in its pressure. First trial: the line
/// runs through P₀ of the lift ([`lift_kpa`]). From the second on, through the last two trials that moved this one
/// pressure. Where both moved, each stream needs its own flow, so both catches must be timed. A step is at most
/// half again, and never over `most_kpa`, what the rig bears; where that is not known, no pressure is advised. **Source:** derived; flow ∝ pressure over what the lift takes.
/// **Check:** target 5 : 1, 9 psi 2.00 and 13 psi 3.418 → 17.5 psi.
pub fn advise(sheet: &Sheet, trials: &[Trial], most_kpa: Option<f64>, prefs: Prefs) -> Option<Advice> {
    let hardener = sheet.hardener()?;
    let now = *trials.last()?;
    let said_now = said(sheet, Measured::pm(now.b_g / now.a_g, 0.0))?;
    if said_now.tolerance.judge(said_now.measured) == Verdict::In {
        return None;
    }
    let before = trials.len().checked_sub(2).map(|i| trials[i]);
    let moved = before.map(|b| ((b.a_kpa - now.a_kpa).abs() > SAME_KPA, (b.b_kpa - now.b_kpa).abs() > SAME_KPA));
    let percent = matches!(sheet.basis, Some(Basis::PercentByWeight | Basis::PercentByVolume));
    let side = match moved {
        Some((true, false)) => Side::A,
        Some((false, true)) => Side::B,
        // Catalyst is set by its own pressure; a twin feed by the base.
        _ if percent => Side::B,
        _ => Side::A,
    };
    let density = if side == Side::A { sheet.base_kg_l() } else { hardener.density_kg_l };
    let target = if side == Side::A { 1.0 / hardener.b_per_a } else { hardener.b_per_a };
    let (p, y) = (now.kpa(side), now.of_other(side));
    let mut w = Working::new("Next pressure", "Flow in proportion to the pressure over what the lift takes");
    let name = if side == Side::A { "A" } else { "B" };
    let stuck = |text: String, w: Working| Some(Advice { side, to_kpa: None, raise: false, text, working: w });

    let Some(most_kpa) = most_kpa else {
        return stuck("Choose the rig at Set first: what its pots bear is not known, so no pressure is advised.".into(), w);
    };
    let line = match (moved, before) {
        (Some((true, true)), Some(b)) => {
            let flows = b.flow_g_s(side).zip(now.flow_g_s(side));
            let Some((f1, f2)) = flows else {
                return stuck("Both pressures moved. Time both catches, or move one pressure alone.".into(), w);
            };
            w.line("As it was caught", "both pressures moved: each stream by its own flow", p, QuantityKind::Pressure, prefs);
            // The other stream stays as it runs now.
            let other = now.flow_g_s(if side == Side::A { Side::B } else { Side::A }).unwrap_or(1.0);
            Line::through(b.kpa(side), f1 / other, p, f2 / other)
        }
        (Some((true, false) | (false, true)), Some(b)) => Line::through(b.kpa(side), b.of_other(side), p, y),
        _ => {
            let p0 = lift_kpa(now.lift_mm, density);
            let figures = format!("lift {} of {name}", show(now.lift_mm, QuantityKind::Length, prefs).text);
            w.line("Flow begins at", figures, p0, QuantityKind::Pressure, prefs);
            Line::through(p0, 0.0, p, y)
        }
    };
    let Some(line) = line else {
        return stuck(format!("More pressure on {name} gave no more of it. Look for a clog, a kink or air before you go on."), w);
    };
    let wanted = line.pressure_for(target);
    w.line("Meets the ratio at", format!("straight line through {name}’s trials"), wanted, QuantityKind::Pressure, prefs);
    let stepped = wanted.clamp(p / MOST_STEP, p * MOST_STEP);
    let to = stepped.clamp(POT_PRESSURE.min, most_kpa.max(POT_PRESSURE.min));
    if (to - p).abs() < 1e-6 || (to < p) != (wanted < p) {
        let most = show(most_kpa, QuantityKind::Pressure, prefs).text;
        return stuck(
            format!("{name} is at its limit: the rig bears {most}. Change the nozzle or the needle, then catch again."),
            w,
        );
    }
    w.line("Next", "at most half again in one step", to, QuantityKind::Pressure, prefs);
    let y_then = (to - line.from_kpa) * line.slope;
    let b_per_a = if side == Side::A { 1.0 / y_then } else { y_then };
    let expect = said(sheet, Measured::pm(b_per_a, 0.0)).map_or(String::new(), |s| show(s.measured.value, s.kind, prefs).text);
    let verb = if to > p { "Raise" } else { "Lower" };
    let vent = if to > p { "" } else { ", and vent it" };
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    let text = format!("{verb} {name} from {} to {}{vent}. Expect {expect}; catch again with clean cups.", say(p), say(to));
    Some(Advice { side, to_kpa: Some(to), raise: to > p, text, working: w })
}
