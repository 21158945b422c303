//! How a place keeps what stands in it: temperature against a band, and how long it was outside.

use crate::quantity::{Prefs, QuantityKind};
use crate::verdict::{Level, Measured, Tolerance};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A temperature read in a place, by probe or by hand.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct StoreReading {
    /// When.
    pub at: Timestamp,
    /// How warm.
    pub temp_c: f64,
}

/// The band a place is to keep.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct StoreBand {
    /// Coldest.
    pub min_c: Option<f64>,
    /// Warmest.
    pub max_c: Option<f64>,
}

impl StoreBand {
    /// The tolerance of the band.
    pub fn tolerance(self) -> Tolerance {
        Tolerance { lo: self.min_c, hi: self.max_c }
    }
}

/// A reading counts until the next, and at most so long: a probe that died says nothing of the night.
pub const READING_HOLDS_S: f64 = 6.0 * 3600.0;

/// Seconds outside the band between two instants.
///
/// **Formula:** each reading holds until the next, at most six hours; the readings' own error is not counted against
/// the place. **Example:** 20 °C at noon, 31 °C at one, 24 °C at three, band to 29 °C → 2 h.
/// **Units:** °C, instants; s. **Source:** the time over a limit, as storage is judged; the six hours are from memory.
pub fn out_of_band_s(readings: &[StoreReading], band: StoreBand, from: Timestamp, to: Timestamp) -> f64 {
    let mut sorted: Vec<&StoreReading> = readings.iter().collect();
    sorted.sort_by_key(|r| r.at);
    let ends = sorted.iter().skip(1).map(|r| r.at).chain([to]);
    sorted
        .iter()
        .zip(ends)
        .filter(|(r, _)| band.tolerance().judge(Measured::pm(r.temp_c, 0.0)).is_out())
        .map(|(r, end)| {
            let from = r.at.max(from);
            let held = crate::pot_life::after(r.at, READING_HOLDS_S);
            end.min(held).min(to).duration_since(from).as_secs_f64().max(0.0)
        })
        .sum()
}

/// The last reading on a level.
pub fn level(label: &str, reading: f64, band: StoreBand, prefs: Prefs) -> Level {
    let measured = Measured::pm(reading, crate::conditions::THERMOMETER_DK);
    Level::draw(label, measured, band.tolerance(), 10.0, QuantityKind::Temperature, prefs)
}

/// A usual band, to choose from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct StoreSchool {
    /// Its words.
    pub name: String,
    /// Coldest, as one would type it.
    pub min_c: Option<String>,
    /// Warmest, as one would type it.
    pub max_c: Option<String>,
}

/// Usual bands. **Source:** common practice in the trade, two schools for gel coat; the data sheet rules.
pub fn schools() -> Vec<StoreSchool> {
    [
        ("gel coat, school 1", Some("70 °F"), Some("85 °F")),
        ("gel coat, school 2", Some("75 °F"), Some("85 °F")),
        ("peroxide", None, Some("80 °F")),
        ("paint", Some("5 °C"), Some("35 °C")),
    ]
    .into_iter()
    .map(|(name, min, max)| StoreSchool { name: name.into(), min_c: min.map(Into::into), max_c: max.map(Into::into) })
    .collect()
}
