//! A probe that sends readings: when it may be believed, and when it may not.
//!
//! **Source:** the figures are from memory, for slow shop probes.

use super::{HYGROMETER_PCT, THERMOMETER_DK};
use crate::limits::{self, Limit};
use crate::quantity::Kind;
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
}

impl ProbeOf {
    /// Kind of quantity.
    pub fn kind(self) -> Kind {
        if self == ProbeOf::Humidity { Kind::Percent } else { Kind::Temperature }
    }

    fn limit(self) -> Limit {
        if self == ProbeOf::Humidity { limits::HUMIDITY } else { limits::TEMPERATURE }
    }

    /// More than this between two readings is doubted.
    fn leap(self) -> f64 {
        if self == ProbeOf::Humidity { 20.0 } else { 5.0 }
    }

    /// Half its uncertainty: readings within it are one.
    fn grain(self) -> f64 {
        if self == ProbeOf::Humidity { HYGROMETER_PCT } else { THERMOMETER_DK }
    }
}

/// A reading older than this is not fresh.
pub const STALE_S: f64 = 60.0;
/// A value that does not move at all so long is doubted.
pub const STUCK_S: f64 = 2.0 * 3600.0;
/// Readings in a row that make a leap believed.
const AGREE: u32 = 3;

/// Why a probe is not believed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ProbeFault {
    /// No answer, or a broken one.
    Silent,
    /// A value no shop has.
    Absurd,
    /// A leap, not yet confirmed.
    Leapt,
    /// It does not move.
    Stuck,
}

impl ProbeFault {
    /// The words.
    pub fn word(self) -> &'static str {
        match self {
            ProbeFault::Silent => "no answer",
            ProbeFault::Absurd => "reads nonsense",
            ProbeFault::Leapt => "leapt, being watched",
            ProbeFault::Stuck => "does not move",
        }
    }
}

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
        let recent = self.last.filter(|(then, _)| at.duration_since(*then).as_secs_f64() <= STALE_S);
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
        self.fault = (still > STUCK_S).then_some(ProbeFault::Stuck);
    }

    /// It did not answer, or not whole.
    pub fn missed(&mut self) {
        self.fault = Some(ProbeFault::Silent);
    }

    /// The last value taken and when, whatever came after.
    pub fn last(&self) -> Option<(Timestamp, f64)> {
        self.last
    }

    /// The value, if it may be taken for now: heard within a minute and without a fault.
    pub fn fresh(&self, now: Timestamp) -> Option<(Timestamp, f64)> {
        self.last.filter(|(at, _)| self.fault(now).is_none() && now.duration_since(*at).as_secs_f64() <= STALE_S)
    }

    /// Why it may not be taken for now.
    pub fn fault(&self, now: Timestamp) -> Option<ProbeFault> {
        let old = self.last.is_none_or(|(at, _)| now.duration_since(at).as_secs_f64() > STALE_S);
        self.fault.or(old.then_some(ProbeFault::Silent))
    }
}
