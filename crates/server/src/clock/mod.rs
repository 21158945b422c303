//! The one clock. Injected, so that demo, practice, tests and pictures can run at another time and rate. How it counts is
//! `core::shop_time`; it is kept over restarts, and what was set is told, by `clock_watch`.

mod host;

pub use host::Host;

use jiff::{SignedDuration, Timestamp};
use level_keel_core::book::canonical::cut;
use level_keel_core::shop_time::{Mark, ShopTime, Step};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

/// A clock with a settable origin and rate.
#[derive(Clone)]
pub struct Clock(Arc<Inner>);

struct Inner {
    host: Host,
    kept: Mutex<Kept>,
}

struct Kept {
    time: ShopTime,
    /// Steps that are still to be written where something lives.
    untold: Vec<Step>,
    /// The last one.
    last: Option<Step>,
}

impl Clock {
    /// The wall clock.
    pub fn wall() -> Self {
        Self::at(Timestamp::now(), 1.0)
    }

    /// A clock that reads `origin` now and runs at `rate` seconds a second (0 stands still).
    pub fn at(origin: Timestamp, rate: f64) -> Self {
        Self::of(Host::Machine, origin, rate)
    }

    /// As [`Clock::at`], over a host of its own.
    pub fn of(host: Host, origin: Timestamp, rate: f64) -> Self {
        let time = ShopTime::begun(origin, host.hands(), rate);
        Self::kept(host, time, None)
    }

    /// Goes on from a mark.
    pub fn resumed(host: Host, mark: &Mark) -> Self {
        let (time, step) = ShopTime::resumed(mark, host.hands(), &host.boot());
        Self::kept(host, time, step)
    }

    fn kept(host: Host, time: ShopTime, step: Option<Step>) -> Self {
        Clock(Arc::new(Inner { host, kept: Mutex::new(Kept { time, untold: step.into_iter().collect(), last: step }) }))
    }

    /// The present, cut to the microsecond as the database keeps it.
    pub fn now(&self) -> Timestamp {
        let hands = self.0.host.hands();
        let mut kept = self.lock();
        let look = kept.time.look(hands);
        if let Some(step) = look.step {
            kept.untold.push(step);
            kept.last = Some(step);
        }
        cut(look.now)
    }

    /// Seconds of this clock in one real second.
    pub fn rate(&self) -> f64 {
        self.lock().time.rate()
    }

    /// Moves the clock on.
    pub fn advance(&self, by: SignedDuration) {
        self.lock().time.advance(by.as_secs_f64());
    }

    /// What was set of the machine's clock, in words, while it still bears on what is shown: as long as the clock is held ahead, and for
    /// a shift after.
    pub fn said(&self) -> Option<String> {
        let now = self.now();
        let kept = self.lock();
        let held = kept.time.ahead_s() > level_keel_core::shop_time::STEP_S;
        kept.last.filter(|step| held || now.duration_since(step.at) < SHIFT).map(|step| step.said())
    }

    /// Something is written at this instant: the clock does not stand before it.
    pub fn not_before(&self, written: Timestamp) {
        let mut kept = self.lock();
        if let Some(step) = kept.time.not_before(written) {
            kept.untold.push(step);
            kept.last = Some(step);
        }
    }

    /// Steps nobody has written down yet.
    pub fn untold(&self) -> Vec<Step> {
        self.lock().untold.clone()
    }

    /// A step is written down.
    pub fn told(&self, step: Step) {
        self.lock().untold.retain(|s| *s != step);
    }

    /// How far the shop has come, to be kept.
    pub fn mark(&self) -> Mark {
        let boot = self.0.host.boot();
        self.lock().time.mark(&boot)
    }

    fn lock(&self) -> MutexGuard<'_, Kept> {
        // A panic while holding this lock cannot leave a half-written time: it is read whole.
        self.0.kept.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// As long as a step is shown.
const SHIFT: SignedDuration = SignedDuration::from_hours(12);
