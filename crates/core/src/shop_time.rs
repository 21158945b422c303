//! The time a shop counts by: never younger than the host's wall clock, and never slower than the time that truly went by.
//!
//! A host has two clocks. The wall clock tells the time and may be set, by hand or over the network. The boot clock tells
//! nothing but how long the host has been up, suspended or not, and nobody sets it. Paint ages by whichever shows it older.
//!
//! ```
//! use level_keel_core::shop_time::{Hands, ShopTime};
//! let at = |text: &str| text.parse::<jiff::Timestamp>().unwrap();
//! let mut time = ShopTime::begun(at("2026-11-16T10:00:00Z"), Hands { wall: at("2026-11-16T10:00:00Z"), boot_s: 500.0 }, 1.0);
//! // Ten minutes go by, and the wall clock is set back by two hours meanwhile.
//! let look = time.look(Hands { wall: at("2026-11-16T08:10:00Z"), boot_s: 1100.0 });
//! assert_eq!(look.now, at("2026-11-16T10:10:00Z"));
//! assert_eq!(look.step.unwrap().by_s, -7200.0);
//! ```

use crate::pot_life::after;
use jiff::Timestamp;

/// A step of the wall clock of more than this is told, in seconds.
pub const STEP_S: f64 = 30.0;

/// What the two clocks of a host read at one moment.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Hands {
    /// The wall clock.
    pub wall: Timestamp,
    /// Seconds since the host was started, suspended time with them.
    pub boot_s: f64,
}

/// How far a shop had come, to be kept over a restart of the server.
#[derive(Debug, Clone, PartialEq)]
pub struct Mark {
    /// The time of the shop.
    pub shop: Timestamp,
    /// The clocks at that moment.
    pub hands: Hands,
    /// Which start of the host that boot clock counts from.
    pub boot: String,
}

/// A step of the wall clock.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Step {
    /// The time of the shop when it was seen.
    pub at: Timestamp,
    /// By how much the wall clock was set, seconds; less than nothing: back.
    pub by_s: f64,
    /// It was found at a start of the host: how long it was off is not known.
    pub over_a_start: bool,
}

impl Step {
    /// The step in words, with what follows from it.
    pub fn said(&self) -> String {
        let by = span(self.by_s.abs());
        match (self.over_a_start, self.by_s < 0.0) {
            (true, _) => format!(
                "The clock of this machine stood {by} before what was last written here. Time goes on from there. Paint may be older \
                 than it shows, by as long as the machine was off: set the clock, and trust no pot mixed before."
            ),
            (false, true) => format!(
                "The clock of this machine was set back by {by}. Time goes on here as it ran, so that no paint grows younger: it runs \
                 ahead of that clock until that has caught up."
            ),
            (false, false) => format!(
                "The clock of this machine was set forward by {by}. Ages count by it: if it is wrong, paint shows older than it is."
            ),
        }
    }
}

/// A span of seconds, in the two largest of its units.
fn span(s: f64) -> String {
    let s = s.round() as i64;
    match s {
        ..120 => format!("{s} s"),
        120..7200 => format!("{} min {} s", s / 60, s % 60),
        7200..172_800 => format!("{} h {} min", s / 3600, s % 3600 / 60),
        _ => format!("{} days {} h", s / 86_400, s % 86_400 / 3600),
    }
}

/// What one look at the clocks found.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Look {
    /// The time of the shop.
    pub now: Timestamp,
    /// The wall clock was set since the look before.
    pub step: Option<Step>,
}

/// The time of a shop, as it was last looked at.
#[derive(Debug, Clone)]
pub struct ShopTime {
    now: Timestamp,
    hands: Hands,
    /// What the time of the shop is where the wall clock reads that: another day in a demo or a test.
    origin: (Timestamp, Timestamp),
    rate: f64,
}

impl ShopTime {
    /// Begins at `shop`, and runs at `rate` seconds a second from there.
    pub fn begun(shop: Timestamp, hands: Hands, rate: f64) -> ShopTime {
        ShopTime { now: shop, hands, origin: (shop, hands.wall), rate }
    }

    /// Goes on from a mark. Within one start of the host the boot clock says how long it was; over a start nothing does, and it is
    /// only known that time did not go back.
    pub fn resumed(mark: &Mark, hands: Hands, boot: &str) -> (ShopTime, Option<Step>) {
        let mut time = ShopTime { now: mark.shop, hands: mark.hands, origin: (hands.wall, hands.wall), rate: 1.0 };
        if mark.boot == boot {
            let step = time.look(hands).step;
            return (time, step);
        }
        let behind_s = seconds(hands.wall, mark.shop);
        time.now = mark.shop.max(hands.wall);
        time.hands = hands;
        let step = (behind_s > STEP_S).then_some(Step { at: time.now, by_s: -behind_s, over_a_start: true });
        (time, step)
    }

    /// Looks at the clocks: the later of what the wall clock says and of what went by since the look before.
    pub fn look(&mut self, hands: Hands) -> Look {
        let ran_s = (hands.boot_s - self.hands.boot_s).max(0.0);
        let by_s = seconds(self.hands.wall, hands.wall) - ran_s;
        self.now = self.by_wall(hands.wall).max(after(self.now, ran_s * self.rate));
        self.hands = hands;
        let step = (by_s.abs() > STEP_S).then_some(Step { at: self.now, by_s, over_a_start: false });
        Look { now: self.now, step }
    }

    /// Seconds it runs ahead of the wall clock, held there since that was set back: coats, checks and lots were written by it, and would all
    /// grow younger if it went back.
    pub fn ahead_s(&self) -> f64 {
        seconds(self.by_wall(self.hands.wall), self.now)
    }

    /// Something is written at this instant: time does not stand before it.
    pub fn not_before(&mut self, written: Timestamp) -> Option<Step> {
        let behind_s = seconds(self.now, written);
        self.now = self.now.max(written);
        (behind_s > STEP_S).then_some(Step { at: self.now, by_s: -behind_s, over_a_start: true })
    }

    /// Moves the time of the shop, and with it what the wall clock stands for.
    pub fn advance(&mut self, by_s: f64) {
        self.now = after(self.now, by_s);
        self.origin.0 = after(self.origin.0, by_s);
    }

    /// Seconds of the shop in one second of the host.
    pub fn rate(&self) -> f64 {
        self.rate
    }

    /// To be kept.
    pub fn mark(&self, boot: &str) -> Mark {
        Mark { shop: self.now, hands: self.hands, boot: boot.into() }
    }

    fn by_wall(&self, wall: Timestamp) -> Timestamp {
        after(self.origin.0, seconds(self.origin.1, wall) * self.rate)
    }
}

fn seconds(from: Timestamp, to: Timestamp) -> f64 {
    to.duration_since(from).as_secs_f64()
}
