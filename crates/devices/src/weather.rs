//! A day's weather: sines with a little seeded noise. The same seed and hour give the same readings.

use rand::rngs::StdRng;
use rand::{Rng, RngExt, SeedableRng};
use std::f64::consts::TAU;

/// Registers that are sent.
pub const REGISTERS: usize = 6;

/// A place on the island: mild days, damp evenings.
#[derive(Debug, Clone, Copy)]
pub struct Weather {
    seed: u64,
}

impl Weather {
    /// Weather of a seed.
    pub fn new(seed: u64) -> Weather {
        Weather { seed }
    }

    /// Air °C, humidity %, surface °C, material °C, store °C, cabinet °C at an hour counted from midnight, which may run
    /// over days. Steel follows the air late and falls under it in the evening: that is where dew comes from.
    pub fn at(self, hour: f64) -> [f64; REGISTERS] {
        let day = (hour / 24.0).floor();
        let mut rng = StdRng::seed_from_u64(self.seed ^ (day as i64).cast_unsigned());
        let warm: f64 = 20.0 + 2.0 * (rng.random::<f64>() - 0.5);
        let sine = |peak: f64| ((hour - peak) / 24.0 * TAU).cos();
        let air = warm + 3.0 * sine(14.0);
        let surface = warm - 0.6 + 3.4 * sine(15.5);
        let humidity = 62.0 - 16.0 * sine(14.0);
        let material = warm + 0.5 * sine(18.0);
        let store = 22.5 + 0.8 * sine(17.0);
        let cabinet = 19.0 + 0.4 * sine(17.0);
        let mut noise = StdRng::seed_from_u64(self.seed ^ (hour * 720.0) as u64);
        let mut little = || 0.1 * (f64::from(noise.next_u32()) / f64::from(u32::MAX) - 0.5);
        [air + little(), humidity + little(), surface + little(), material + little(), store + little(), cabinet + little()]
    }
}
