//! A probe that sends readings: when it may be believed, and when it may not.
//!
//! **Source:** the figures are from memory, for slow shop probes.

use super::{HYGROMETER_PCT, THERMOMETER_DK};
use crate::limits::{self, Limit};
use crate::quantity::QuantityKind;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a probe reads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ProbeOf {
    /// Air where the work is.
    Air,
    /// Relative humidity there.
    Humidity,
    /// Surface of the part.
    Surface,
    /// Material in its can.
    Material,
    /// A place of the stores.
    Store,
    /// Fluid pressure in the pot or at the pump of a rig.
    Pot,
    /// Fluid pressure at the gun of a rig.
    Gun,
}

impl ProbeOf {
    /// Kind of quantity.
    pub fn kind(self) -> QuantityKind {
        match self {
            ProbeOf::Humidity => QuantityKind::Percent,
            ProbeOf::Pot | ProbeOf::Gun => QuantityKind::Pressure,
            ProbeOf::Air | ProbeOf::Surface | ProbeOf::Material | ProbeOf::Store => QuantityKind::Temperature,
        }
    }

    /// The field of the conditions it can fill in; `None`: it reads nothing of them.
    pub fn reading(self) -> Option<&'static str> {
        match self {
            ProbeOf::Air => Some("air_c"),
            ProbeOf::Humidity => Some("rh_pct"),
            ProbeOf::Surface => Some("surface_c"),
            ProbeOf::Material => Some("material_c"),
            ProbeOf::Store | ProbeOf::Pot | ProbeOf::Gun => None,
        }
    }

    /// It reads a pressure of a rig: shown live, and never kept as a history.
    pub fn is_gauge(self) -> bool {
        self.kind() == QuantityKind::Pressure
    }

    fn limit(self) -> Limit {
        match self.kind() {
            QuantityKind::Percent => limits::HUMIDITY,
            QuantityKind::Pressure => limits::GAUGE,
            _ => limits::TEMPERATURE,
        }
    }

    /// More than this between two readings is doubted; a pressure may leap with the trigger.
    fn leap(self) -> f64 {
        match self.kind() {
            QuantityKind::Percent => 20.0,
            QuantityKind::Pressure => f64::INFINITY,
            _ => 5.0,
        }
    }

    /// Half its uncertainty: readings within it are one.
    fn grain(self) -> f64 {
        if self == ProbeOf::Humidity { HYGROMETER_PCT } else { THERMOMETER_DK }
    }

    /// A reading older than this is not fresh.
    ///
    /// **Rule:** a gauge sooner than a thermometer. **Units:** s. **Source:** from memory.
    pub fn stale_s(self) -> f64 {
        if self.is_gauge() { GAUGE_STALE_S } else { STALE_S }
    }

    /// A value that does not move at all so long is doubted; a rig at rest stands at zero for weeks.
    fn stuck_s(self) -> f64 {
        if self.is_gauge() { f64::INFINITY } else { STUCK_S }
    }
}

/// A reading older than this is not fresh.
pub const STALE_S: f64 = 60.0;
/// And of a pressure: it moves with every pull of the trigger.
pub const GAUGE_STALE_S: f64 = 3.0;
/// A value that does not move at all so long is doubted.
pub const STUCK_S: f64 = 2.0 * 3600.0;
/// Readings in a row that make a leap believed.
const AGREE: u32 = 3;

/// Why a probe is not believed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum ProbeFault {
    /// No answer, or a broken one.
    #[strum(serialize = "no answer")]
    Silent,
    /// A value no shop has.
    #[strum(serialize = "reads nonsense")]
    Absurd,
    /// A leap, not yet confirmed.
    #[strum(serialize = "leapt, being watched")]
    Leapt,
    /// It does not move.
    #[strum(serialize = "does not move")]
    Stuck,
}

impl Worded for ProbeFault {}

/// A probe as it was heard.
#[derive(Debug, Clone, PartialEq)]
pub struct Probe {
    /// What it reads.
    pub of: ProbeOf,
    last: Option<(Timestamp, f64)>,
    moved: Option<Timestamp>,
    doubted: Option<(f64, u32)>,
    fault: Option<ProbeFault>,
}

impl Probe {
    /// One that was not heard yet.
    pub fn new(of: ProbeOf) -> Probe {
        Probe { of, last: None, moved: None, doubted: None, fault: Some(ProbeFault::Silent) }
    }

    /// What it reads.
    pub fn of(&self) -> ProbeOf {
        self.of
    }

    /// It sent a value. A nonsense is not taken; a leap is taken when three in a row agree.
    pub fn heard(&mut self, at: Timestamp, value: f64) {
        let limit = self.of.limit();
        if !value.is_finite() || value < limit.min || value > limit.max {
            self.fault = Some(ProbeFault::Absurd);
            return;
        }
        let recent = self.last.filter(|(then, _)| at.duration_since(*then).as_secs_f64() <= self.of.stale_s());
        if recent.is_some_and(|(_, was)| (value - was).abs() > self.of.leap()) {
            let times = match self.doubted {
                Some((d, n)) if (d - value).abs() <= self.of.grain() => n + 1,
                _ => 1,
            };
            self.doubted = Some((value, times));
            if times < AGREE {
                self.fault = Some(ProbeFault::Leapt);
                return;
            }
        }
        self.doubted = None;
        if self.last.is_none_or(|(_, was)| was != value) {
            self.moved = Some(at);
        }
        self.last = Some((at, value));
        let still = self.moved.map_or(0.0, |m| at.duration_since(m).as_secs_f64());
        self.fault = (still > self.of.stuck_s()).then_some(ProbeFault::Stuck);
    }

    /// It did not answer, or not whole.
    pub fn missed(&mut self) {
        self.fault = Some(ProbeFault::Silent);
    }

    /// The last value taken and when, whatever came after.
    ///
    /// **Units:** those of the probe. **Source:** the transmitter. **Rule:** the newest that was taken.
    pub fn last(&self) -> Option<(Timestamp, f64)> {
        self.last
    }

    /// The value, if it may be taken for now: heard within its time and without a fault.
    ///
    /// **Rule:** no fault, and not older than [`Of::stale_s`]. **Units:** those of the probe. **Source:** the transmitter.
    pub fn fresh(&self, now: Timestamp) -> Option<(Timestamp, f64)> {
        self.last.filter(|(at, _)| self.fault(now).is_none() && now.duration_since(*at).as_secs_f64() <= self.of.stale_s())
    }

    /// Why it may not be taken for now.
    pub fn fault(&self, now: Timestamp) -> Option<ProbeFault> {
        let old = self.last.is_none_or(|(at, _)| now.duration_since(at).as_secs_f64() > self.of.stale_s());
        self.fault.or(old.then_some(ProbeFault::Silent))
    }
}
