//! The one clock. Injected, so that demo, practice, tests and pictures can run at another time and rate.

use jiff::{SignedDuration, Timestamp};
use std::sync::{Arc, Mutex};
use std::time::Instant;

/// A clock with a settable origin and rate.
#[derive(Clone)]
pub struct Clock(Arc<Mutex<Inner>>);

struct Inner {
    origin: Timestamp,
    since: Instant,
    rate: f64,
}

impl Clock {
    /// The wall clock.
    pub fn wall() -> Self {
        Self::at(Timestamp::now(), 1.0)
    }

    /// A clock that reads `origin` now and runs at `rate` seconds a second (0 stands still).
    pub fn at(origin: Timestamp, rate: f64) -> Self {
        Clock(Arc::new(Mutex::new(Inner { origin, since: Instant::now(), rate })))
    }

    /// The present, cut to the microsecond as the database keeps it.
    pub fn now(&self) -> Timestamp {
        let inner = self.lock();
        level_keel_core::book::canonical::cut(level_keel_core::pot_life::after(
            inner.origin,
            inner.since.elapsed().as_secs_f64() * inner.rate,
        ))
    }

    /// Seconds of this clock in one real second.
    pub fn rate(&self) -> f64 {
        self.lock().rate
    }

    /// Moves the clock on.
    pub fn advance(&self, by: SignedDuration) {
        let mut inner = self.lock();
        inner.origin = inner.origin.checked_add(by).unwrap_or(inner.origin);
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, Inner> {
        // A panic while holding this lock cannot leave a half-written time: it is read whole.
        self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
    }
}
