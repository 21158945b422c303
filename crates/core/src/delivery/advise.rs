//! The next pressure of a stream test: the model's, corrected by what was seen.

use super::choose::START_KPA;
use super::{Fluid, FluidLine, stream_speed_m_s};

/// Most a pot is raised at once: two and a half times; from memory. It goes up slowly, by hand, with an eye on the gun.
const MOST_STEP: f64 = 2.5;

/// A try: a pressure and the stream seen at it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Seen {
    /// On the pot.
    pub pot_kpa: f64,
    /// Where it began to bend.
    pub stream_mm: f64,
}

/// What the model and the tries say together.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Next {
    /// To this pressure.
    pub to_kpa: f64,
    /// What stopped it short of the aim.
    pub held: Option<Held>,
    /// Seen speed over reckoned speed, of all tries: 1 where the model is right.
    pub trust: f64,
}

/// Why a step is shorter than the model wants.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Held {
    /// At most two and a half times at once.
    Step,
    /// The vessel bears no more.
    Rating,
}

/// A little more than the usual start, for what is reckoned to want twice as much; from memory.
const A_LITTLE_MORE: f64 = 1.5;

/// Where to start: the trade's 10 psi; less where the model wants less, a little more where it wants twice as much or more.
///
/// **Units:** kPa. **Source:** common practice in the trade.
pub fn start_kpa(line: &FluidLine, fluid: &Fluid, bend_mm: f64, aim_mm: f64) -> f64 {
    let wants = line.for_stream(fluid, aim_mm, bend_mm).total_kpa;
    if wants >= 2.0 * START_KPA { START_KPA * A_LITTLE_MORE } else { START_KPA.min(wants) }
}

/// Fastest and slowest a stream is believed to be of what is reckoned: beyond it something else is wrong.
const BELIEVED: (f64, f64) = (0.05, 20.0);

/// The next pressure for a stream of `aim_mm`; `None` before the first try and where nothing was seen to flow.
///
/// **Formula:** each try gives a correction `k = v seen / v reckoned`; their geometric mean corrects the model, which is
/// asked for `v aim / k`. A step is at most two and a half times, and never over what the vessel bears. **Units:** mm, kPa.
/// **Source:** derived: where the hose takes the pressure an unknown viscosity, and where the nozzle takes it an unknown
/// discharge, are each a factor on speed that hardly changes from try to try; a mean of readings halves a blurred eye.
/// **Check:** 200 seeded rigs with paint off by half to double and an eye off by 15 % are in the band in three tries.
pub fn next(line: &FluidLine, fluid: &Fluid, bend_mm: f64, tries: &[Seen], aim_mm: f64, most_kpa: f64) -> Option<Next> {
    let factor = |t: &Seen| {
        let reckoned = line.at(fluid, t.pot_kpa).speed_m_s;
        let seen = stream_speed_m_s(t.stream_mm, bend_mm);
        (reckoned > 0.0 && seen > 0.0).then(|| (seen / reckoned).clamp(BELIEVED.0, BELIEVED.1))
    };
    let factors: Vec<f64> = tries.iter().filter_map(factor).collect();
    let last = tries.last()?;
    if factors.is_empty() {
        return None;
    }
    let trust = (factors.iter().map(|k| k.ln()).sum::<f64>() / factors.len() as f64).exp();
    let wanted = line.for_stream(fluid, aim_mm / trust, bend_mm).total_kpa;
    let most_step = last.pot_kpa * MOST_STEP;
    let (to_kpa, held) = if wanted > most_kpa && most_kpa <= most_step {
        (most_kpa, Some(Held::Rating))
    } else if wanted > most_step {
        (most_step, Some(Held::Step))
    } else {
        (wanted, None)
    };
    Some(Next { to_kpa, held, trust })
}
