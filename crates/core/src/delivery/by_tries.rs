//! The next pressure of a stream test where nothing says how thick the paint is: the tries themselves tell it.

use super::advise::{Held, Seen, one_step};
use super::choose::{HEAVY_START_KPA, START_KPA};

/// Two tries tell a line where their pressures are at least a tenth apart; nearer, the eye is off by more. From memory.
const APART: f64 = 0.1;

/// The next pressure, as the tries have it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ByTries {
    /// To this pressure.
    pub to_kpa: f64,
    /// What stopped it short of the aim.
    pub held: Option<Held>,
    /// What the aim would want, by these tries.
    pub wants_kpa: f64,
}

/// Where to start without a viscosity: 10 psi, heavy-bodied material a little more; never over what the vessel bears.
///
/// **Units:** kPa. **Rule:** `min(10 psi, what it bears)`; 15 psi for heavy-bodied. **Source:** common practice in the trade.
///
/// ```
/// use level_keel_core::delivery::by_tries::start_kpa;
/// assert!((start_kpa(false, 500.0) - 68.948).abs() < 1e-3);
/// assert_eq!(start_kpa(false, 50.0), 50.0);
/// ```
pub fn start_kpa(heavy: bool, most_kpa: f64) -> f64 {
    let start = if heavy { HEAVY_START_KPA } else { START_KPA };
    start.min(most_kpa)
}

/// The next pressure for a stream of `aim_mm`, from the tries alone; `None` before the first try and where nothing was seen to flow.
///
/// **Formula:** flow, and so the stream, rises with the pressure over the lift: `P = p_lift + (P₁ − p_lift)·L/L₁`. From two tries at
/// pressures at least a tenth apart, the straight line through them: `P = P₂ + (L − L₂)·(P₂ − P₁)/(L₂ − L₁)`, where the longer
/// stream goes with the higher pressure; else the last one alone. A step is at most two and a half times, and never over what the
/// vessel bears. **Units:** kPa, gauge; mm. **Source:** common practice in the trade; a straight line is what a hose does while it
/// runs laminar, a nozzle bends it.
///
/// ```
/// use level_keel_core::delivery::{Eye, advise::Seen, by_tries::next};
/// let seen = |pot_kpa, stream_mm| Seen { pot_kpa, stream_mm, eye: Eye::USUAL };
/// // 10 over a lift of 2 gave 8 in; 10 in want a quarter more over it.
/// let one = next(&[seen(10.0, 8.0)], 2.0, 10.0, 100.0).unwrap();
/// assert!((one.to_kpa - 12.0).abs() < 1e-9);
/// let two = next(&[seen(10.0, 8.0), seen(15.0, 9.0)], 2.0, 10.0, 100.0).unwrap();
/// assert!((two.to_kpa - 20.0).abs() < 1e-9);
/// ```
pub fn next(tries: &[Seen], lift_kpa: f64, aim_mm: f64, most_kpa: f64) -> Option<ByTries> {
    let last = tries.last()?;
    if tries.iter().all(|t| t.stream_mm <= 0.0) {
        return None;
    }
    let wants_kpa = line_through(tries, aim_mm).or_else(|| from_one(tries, lift_kpa, aim_mm))?;
    let (to_kpa, held) = one_step(last.pot_kpa, wants_kpa, most_kpa);
    Some(ByTries { to_kpa, held, wants_kpa })
}

/// Where the straight line through the last try and the newest one far enough from it reaches the aim.
fn line_through(tries: &[Seen], aim_mm: f64) -> Option<f64> {
    let (last, before) = tries.split_last()?;
    let apart = |t: &&Seen| (t.pot_kpa - last.pot_kpa).abs() >= APART * t.pot_kpa.max(last.pot_kpa);
    let other = before.iter().rev().find(apart)?;
    let (over_kpa, over_mm) = (last.pot_kpa - other.pot_kpa, last.stream_mm - other.stream_mm);
    // More pressure and a shorter stream is no line: a pot that ages, air in the hose, two eyes.
    let rises = over_kpa * over_mm > 0.0;
    let wants_kpa = last.pot_kpa + (aim_mm - last.stream_mm) * over_kpa / over_mm;
    (rises && wants_kpa > 0.0).then_some(wants_kpa)
}

/// From the newest try that flowed: the stream goes with the pressure over the lift.
fn from_one(tries: &[Seen], lift_kpa: f64, aim_mm: f64) -> Option<f64> {
    let seen = tries.iter().rev().find(|t| t.stream_mm > 0.0)?;
    // Paint came, so the pressure is over the lift whatever was put down of it.
    let lift_kpa = if seen.pot_kpa > lift_kpa { lift_kpa } else { 0.0 };
    Some(lift_kpa + (seen.pot_kpa - lift_kpa) * aim_mm / seen.stream_mm)
}
