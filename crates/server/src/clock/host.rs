//! The two clocks of the machine, or a stand-in whose hands a test moves.

use jiff::{SignedDuration, Timestamp};
use level_keel_core::shop_time::Hands;
use std::sync::{Arc, Mutex, PoisonError};

/// Where the time is read.
#[derive(Clone)]
pub enum Host {
    /// This machine.
    Machine,
    /// A stand-in.
    Moved(Arc<Mutex<Hands>>),
}

impl Host {
    /// A stand-in that stands still at an instant.
    pub fn standing(wall: Timestamp) -> Host {
        Host::Moved(Arc::new(Mutex::new(Hands { wall, boot_s: 0.0 })))
    }

    /// What both clocks read. The boot clock goes on while the machine is suspended; a monotonic one would not.
    pub fn hands(&self) -> Hands {
        match self {
            Host::Machine => {
                let boot = rustix::time::clock_gettime(rustix::time::ClockId::Boottime);
                Hands { wall: Timestamp::now(), boot_s: boot.tv_sec as f64 + boot.tv_nsec as f64 / 1e9 }
            }
            Host::Moved(hands) => *hands.lock().unwrap_or_else(PoisonError::into_inner),
        }
    }

    /// Lets time go by on a stand-in.
    pub fn run(&self, s: f64) {
        self.step(s);
        if let Host::Moved(hands) = self {
            hands.lock().unwrap_or_else(PoisonError::into_inner).boot_s += s;
        }
    }

    /// Sets the wall clock of a stand-in.
    pub fn step(&self, s: f64) {
        if let Host::Moved(hands) = self {
            let mut hands = hands.lock().unwrap_or_else(PoisonError::into_inner);
            hands.wall = hands.wall.checked_add(SignedDuration::from_secs_f64(s)).unwrap_or(hands.wall);
        }
    }

    /// Which start of the machine its boot clock counts from.
    pub fn boot(&self) -> String {
        match self {
            Host::Machine => std::fs::read_to_string("/proc/sys/kernel/random/boot_id").unwrap_or_default().trim().into(),
            Host::Moved(_) => "a stand-in".into(),
        }
    }
}
