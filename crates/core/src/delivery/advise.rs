//! The next pressure of a stream test: the paint is taken to be as thick as every look allows.

use super::calibrate::viscosity_mpa_s;
use super::choose::{LOOK_FROM_KPA, START_KPA};
use super::stream::Eye;
use super::{Fluid, FluidLine, stream_speed_m_s};
use crate::verdict::is_over;
use std::f64::consts::PI;

/// Most a pot is raised at once: two and a half times; from memory. It goes up slowly, by hand, with an eye on the gun.
const MOST_STEP: f64 = 2.5;

/// A try: a pressure, the stream seen at it, and how well that eye sees.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Seen {
    /// On the pot.
    pub pot_kpa: f64,
    /// Where it began to bend.
    pub stream_mm: f64,
    /// Whose eye.
    pub eye: Eye,
}

/// What the line and the tries say together.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Next {
    /// To this pressure.
    pub to_kpa: f64,
    /// What stopped it short of the aim.
    pub held: Option<Held>,
    /// Seen speed over reckoned speed, of all tries: 1 where the sheet is right.
    pub trust: f64,
    /// The paint as the tries have it.
    pub fluid: Fluid,
}

/// Why a step is shorter than the line wants.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Held {
    /// At most two and a half times at once.
    Step,
    /// The vessel bears no more.
    Rating,
}

/// What keeps a line from its band.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Takes {
    /// The hose takes most of the pressure.
    Hose,
    /// The nozzle does.
    Nozzle,
    /// The lift does.
    Lift,
}

/// A line that does not reach its band.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Short {
    /// It would want this.
    pub wants_kpa: f64,
    /// And may have this.
    pub most_kpa: f64,
    /// What takes it.
    pub takes: Takes,
}

/// A little more than the usual start, for what is reckoned to want twice as much; from memory.
const A_LITTLE_MORE: f64 = 1.5;

/// Where to start: the trade's 10 psi; less where the line wants less, a little more where it wants twice as much or more;
/// never over what the vessel bears.
///
/// **Units:** kPa. **Source:** common practice in the trade.
/// **Rule:** `min(10 psi, wanted)`, a little over 10 psi where twice that is wanted, `min` of that and what it bears.
pub fn start_kpa(line: &FluidLine, fluid: &Fluid, bend_mm: f64, aim_mm: f64, most_kpa: f64) -> f64 {
    let wants = line.for_stream(fluid, aim_mm, bend_mm).total_kpa;
    let start = if wants >= 2.0 * START_KPA { START_KPA * A_LITTLE_MORE } else { START_KPA.min(wants) };
    start.min(most_kpa)
}

/// Whether the shortest stream of a band can be reached under 50 psi and under what the vessel bears; if not, what takes the
/// pressure. Heavy-bodied material is the declared exception: for it only the vessel counts.
///
/// **Formula:** [`FluidLine::for_stream`] of the band's least. **Units:** mm, kPa. **Source:** common practice in the trade: past
/// 50 psi one looks for a small nozzle, a thin hose, a leak or a clog.
pub fn short_of(line: &FluidLine, fluid: &Fluid, bend_mm: f64, least_mm: f64, vessel_kpa: f64, heavy: bool) -> Option<Short> {
    let at = line.for_stream(fluid, least_mm, bend_mm);
    let most_kpa = if heavy { vessel_kpa } else { vessel_kpa.min(LOOK_FROM_KPA) };
    is_over(at.total_kpa, most_kpa).then(|| {
        let takes = if at.lift_kpa > at.hose_kpa.max(at.nozzle_kpa) {
            Takes::Lift
        } else if at.hose_kpa >= at.nozzle_kpa {
            Takes::Hose
        } else {
            Takes::Nozzle
        };
        Short { wants_kpa: at.total_kpa, most_kpa, takes }
    })
}

/// Thinnest and thickest a paint is believed to be beside what is stated, as a part of it; beyond it something else is wrong.
const BELIEVED: f64 = 20.0;

/// Fastest and slowest a stream is believed to be of what is reckoned: beyond it something else is wrong.
const BELIEVED_SPEED: (f64, f64) = (0.05, 20.0);

/// The paint as the looks have it: every look bounds how thick it can be, and what all of them allow stands.
///
/// **Formula:** a stream between two lengths is a flow between two, so a viscosity between two ([`viscosity_mpa_s`]); the
/// intervals of all looks are cut with each other, the geometric middle of what is left is taken; of looks that contradict
/// each other, the mean of their middles. **Units:** mPa·s. **Source:** derived; a bounded error of an eye.
pub fn believed(line: &FluidLine, fluid: &Fluid, bend_mm: f64, tries: &[Seen]) -> Option<Fluid> {
    let hole = line.nozzle_mm * 1e-3;
    let area_m2 = PI * hole * hole / 4.0;
    let of = |pot_kpa: f64, length_mm: f64| {
        let flow_ml_min = stream_speed_m_s(length_mm, bend_mm) * area_m2 * 60.0 * 1e6;
        viscosity_mpa_s(line, fluid, pot_kpa, flow_ml_min).ok().filter(|v| v.is_normal() && *v > 0.0)
    };
    let (least, most) = ((fluid.viscosity_mpa_s / BELIEVED).ln(), (fluid.viscosity_mpa_s * BELIEVED).ln());
    if !least.is_finite() || !most.is_finite() {
        return None;
    }
    let (mut lo, mut hi) = (least, most);
    let mut middles: Vec<f64> = Vec::new();
    for t in tries.iter().filter(|t| t.stream_mm > 0.0) {
        let m = t.eye.interval(t.stream_mm);
        // A longer stream is a thinner paint; one too long for any paint bounds nothing.
        let thin = of(t.pot_kpa, m.hi).map_or(least, f64::ln);
        let thick = of(t.pot_kpa, m.lo).map_or(most, f64::ln);
        let (thin, thick) = (thin.clamp(least, most), thick.clamp(least, most));
        middles.push((thin + thick) / 2.0);
        (lo, hi) = (lo.max(thin), hi.min(thick));
    }
    if middles.is_empty() {
        return None;
    }
    let log = if lo <= hi { (lo + hi) / 2.0 } else { middles.iter().sum::<f64>() / middles.len() as f64 };
    Some(Fluid { viscosity_mpa_s: log.exp(), ..*fluid })
}

/// The next pressure for a stream of `aim_mm`; `None` before the first try and where nothing was seen to flow. With `caught`
/// the paint is known from a flow that was caught, and the eye is not asked.
///
/// **Formula:** [`FluidLine::for_stream`] with the paint of [`believed`]. A step is at most two and a half times, and never
/// over what the vessel bears. **Units:** mm, kPa. **Source:** derived.
/// **Check:** on 200 seeded rigs with paint off by up to 1.8 times the true stream is in its band at one of the first three
/// tries in at least 98, 97 and 93 % for 8–12, 6–8 and 8–10 in by an eye that is off by 15 %, and in at least 99 % for all
/// three when the second try is a caught flow.
pub fn next(
    line: &FluidLine,
    fluid: &Fluid,
    bend_mm: f64,
    tries: &[Seen],
    aim_mm: f64,
    most_kpa: f64,
    caught: bool,
) -> Option<Next> {
    let factor = |t: &Seen| {
        let reckoned = line.at(fluid, t.pot_kpa).speed_m_s;
        let seen = stream_speed_m_s(t.stream_mm, bend_mm);
        (reckoned > 0.0 && seen > 0.0).then(|| (seen / reckoned).clamp(BELIEVED_SPEED.0, BELIEVED_SPEED.1))
    };
    let last = tries.last()?;
    let factors: Vec<f64> = tries.iter().filter_map(factor).collect();
    if factors.is_empty() {
        return None;
    }
    let trust = (factors.iter().map(|k| k.ln()).sum::<f64>() / factors.len() as f64).exp();
    let fluid = if caught { *fluid } else { believed(line, fluid, bend_mm, tries)? };
    let wanted = line.for_stream(&fluid, aim_mm, bend_mm).total_kpa;
    let (to_kpa, held) = one_step(last.pot_kpa, wanted, most_kpa);
    Some(Next { to_kpa, held, trust, fluid })
}

/// How far towards what is wanted one step goes: at most two and a half times, and never over what the vessel bears.
pub(super) fn one_step(from_kpa: f64, wanted_kpa: f64, most_kpa: f64) -> (f64, Option<Held>) {
    let most_step = from_kpa * MOST_STEP;
    if wanted_kpa > most_kpa && most_kpa <= most_step {
        (most_kpa, Some(Held::Rating))
    } else if wanted_kpa > most_step {
        (most_step, Some(Held::Step))
    } else {
        (wanted_kpa, None)
    }
}
