//! A simulated pressure pot with hose, gun and two pressure transmitters, moved by the very line physics of core. What the
//! hand does is said in words: `set 10 psi` (regulator), `trigger`, `release`, `vent`, `shut` (its vent valve), `show`.

use level_keel_core::delivery::{Fluid, FluidLine};
use level_keel_core::quantity::{Prefs, QuantityKind, parse};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Instant;

/// Standard gravity, m/s².
const GRAVITY: f64 = 9.806_65;
/// The pot follows its regulator upwards within a second or so.
const FILLS_S: f64 = 0.4;
/// Vented, it falls to a third of what it held in so many seconds.
const VENTS_S: f64 = 0.6;
/// A vented pot hisses away what the regulator gives: so much of it stays.
const HISS: f64 = 0.25;
/// A trigger pulled with the supply shut lets the pot down, slower than a vent.
const SPRAYS_OUT_S: f64 = 25.0;

/// The pot as it stands.
#[derive(Debug, Clone)]
struct State {
    line: FluidLine,
    fluid: Fluid,
    most_kpa: f64,
    set_kpa: f64,
    pot_kpa: f64,
    trigger: bool,
    vent: bool,
    at: Instant,
}

impl State {
    /// Brings it up to an instant.
    fn settle(&mut self, now: Instant) {
        let s = now.duration_since(self.at).as_secs_f64();
        self.at = now;
        let toward = |from: f64, to: f64, after_s: f64| to + (from - to) * (-s / after_s).exp();
        if self.vent {
            let stays = HISS * self.set_kpa;
            if self.pot_kpa > stays {
                self.pot_kpa = toward(self.pot_kpa, stays, VENTS_S);
            }
        } else if self.pot_kpa < self.set_kpa {
            self.pot_kpa = toward(self.pot_kpa, self.set_kpa, FILLS_S);
        } else if self.trigger {
            // A pot does not fall by its regulator: only paint that leaves lets it down.
            self.pot_kpa = toward(self.pot_kpa, self.set_kpa, SPRAYS_OUT_S);
        }
        // Its relief valve opens.
        self.pot_kpa = self.pot_kpa.min(self.most_kpa);
    }

    /// Before the nozzle: what stands there at rest, what the line leaves of it while paint flows.
    fn gun_kpa(&self) -> f64 {
        if self.trigger {
            return self.line.at(&self.fluid, self.pot_kpa).nozzle_kpa;
        }
        let lift = self.fluid.density_kg_l * 1e3 * GRAVITY * self.line.lift_mm / 1e3 / 1e3;
        (self.pot_kpa - lift).max(0.0)
    }
}

/// A pot that can be set, triggered and vented.
#[derive(Debug, Clone)]
pub struct Plant(Arc<Mutex<State>>);

impl Plant {
    /// A pot on a line with a paint; its relief opens at `most_kpa`. It stands empty of pressure.
    pub fn new(line: FluidLine, fluid: Fluid, most_kpa: f64) -> Plant {
        let at = Instant::now();
        let state = State { line, fluid, most_kpa, set_kpa: 0.0, pot_kpa: 0.0, trigger: false, vent: false, at };
        Plant(Arc::new(Mutex::new(state)))
    }

    /// The demo's two-litre pot: 25 ft of 3/8 in, half a metre of lift, 1.8 mm, a primer of 130 mPa·s.
    pub fn demo() -> Plant {
        let line = FluidLine { hose_bore_mm: 9.525, hose_length_mm: 7620.0, lift_mm: 500.0, nozzle_mm: 1.8 };
        let fluid = Fluid { viscosity_mpa_s: 130.0, density_kg_l: 1.33, flow_index: 1.0 };
        Plant::new(line, fluid, 551.6)
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, State> {
        // A step is taken whole.
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Pressure of the pot and at the gun, kPa.
    pub fn read(&self) -> (f64, f64) {
        let mut state = self.lock();
        state.settle(Instant::now());
        (state.pot_kpa, state.gun_kpa())
    }

    /// What the hand does; answered with what the gauges read then.
    ///
    /// **Errors:** in words, what could not be done.
    pub fn hand(&self, said: &str) -> Result<String, String> {
        let mut state = self.lock();
        state.settle(Instant::now());
        match said.trim().split_once(' ').map_or((said.trim(), ""), |(a, b)| (a, b.trim())) {
            ("set", text) => {
                let kpa = parse(text, QuantityKind::Pressure, Prefs::METRIC).map_err(|e| e.to_string())?;
                if !(0.0..=1000.0).contains(&kpa) {
                    return Err(format!("{text} is no pressure for a pot"));
                }
                state.set_kpa = kpa;
            }
            ("trigger", "") => state.trigger = true,
            ("release", "") => state.trigger = false,
            ("vent", "") => state.vent = true,
            ("shut", "") => state.vent = false,
            ("show", "") => {}
            (other, _) => return Err(format!("cannot {other}")),
        }
        let (pot, gun) = (state.pot_kpa, state.gun_kpa());
        Ok(format!("pot {pot:.1} kPa, gun {gun:.1} kPa, set {:.1} kPa", state.set_kpa))
    }
}
