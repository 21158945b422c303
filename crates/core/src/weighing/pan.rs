//! What happens on the pan between two lines: how long it is steady, and jumps no pouring hand makes.

use super::Seen;

/// A rise within this time is one movement, from memory.
const JUMP_WITHIN_S: f64 = 0.6;
/// Poured faster than this, it was set down, from memory.
const FASTEST_POUR_G_S: f64 = 700.0;
/// Least jump that is called one, in divisions.
const JUMP_DIVISIONS: f64 = 50.0;
/// A fall of this part of a jump takes it back, from memory.
const FALLS_BACK: f64 = 0.7;
/// Moving to and fro for so long is no pouring: draught, a shaky bench, a loose plug. From memory.
const RESTLESS_S: f64 = 15.0;

/// What is wrong on the pan.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Notice {
    /// Over the scale's capacity.
    Overload,
    /// It jumped up: a tare lost, or something set down.
    Jumped {
        /// From.
        from_g: f64,
        /// To.
        to_g: f64,
    },
    /// It never comes to rest.
    Restless,
}

/// The pan at a line.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pan {
    /// The load.
    pub load_g: Option<f64>,
    /// The indicator calls it steady.
    pub stable: bool,
    /// Seconds it has been steady at this load.
    pub steady_s: f64,
    /// What is wrong.
    pub notice: Option<Notice>,
}

/// Follows one scale from line to line. The caller gives the time, in seconds of a clock that only goes forward.
#[derive(Debug, Clone)]
pub struct Watch {
    resolution_g: f64,
    capacity_g: Option<f64>,
    last: Option<(f64, f64)>,
    steady: Option<(f64, f64)>,
    still_at: Option<f64>,
    turns: u32,
    rising: bool,
    jumped: Option<(f64, f64)>,
}

impl Watch {
    /// Watches a scale of this resolution.
    pub fn new(resolution_g: f64) -> Watch {
        Watch::up_to(resolution_g, None)
    }

    /// Watches a scale of this resolution and capacity: a load over it is an overload, whatever the indicator says.
    pub fn up_to(resolution_g: f64, capacity_g: Option<f64>) -> Watch {
        Watch { resolution_g, capacity_g, last: None, steady: None, still_at: None, turns: 0, rising: true, jumped: None }
    }

    /// The pan after one more line.
    ///
    /// ```
    /// use level_keel_core::weighing::{Notice, Seen, Watch};
    /// let mut watch = Watch::new(1.0);
    /// let still = |g: f64| Seen { load_g: Some(g), stable: true, overload: false };
    /// watch.push(still(500.0), 0.0);
    /// // Half a kilogram more within a tenth of a second: nobody pours so fast.
    /// assert_eq!(watch.push(still(1000.0), 0.1).notice, Some(Notice::Jumped { from_g: 500.0, to_g: 1000.0 }));
    /// // Back where it was: forgotten.
    /// assert_eq!(watch.push(still(500.0), 0.9).notice, None);
    /// ```
    pub fn push(&mut self, seen: Seen, at_s: f64) -> Pan {
        let Some(load_g) = seen.load_g.filter(|g| self.capacity_g.is_none_or(|most| *g <= most)) else {
            self.steady = None;
            return Pan { load_g: None, stable: false, steady_s: 0.0, notice: Some(Notice::Overload) };
        };
        let near = 2.0 * self.resolution_g;
        if let Some((before, then)) = self.last {
            let (rise, took) = (load_g - before, (at_s - then).max(0.01));
            let fast = rise > FASTEST_POUR_G_S * took.max(0.1) && took <= JUMP_WITHIN_S;
            if fast && rise > JUMP_DIVISIONS * self.resolution_g {
                // Several lines of one movement are one jump, from where it began.
                self.jumped = Some((self.jumped.map_or(before, |(from, _)| from), load_g));
            } else if let Some((from, to)) = self.jumped
                && rise > 0.0
                && to - load_g < near
                && took <= JUMP_WITHIN_S
                && !seen.stable
            {
                self.jumped = Some((from, load_g.max(to)));
            }
            if (load_g - before).abs() > self.resolution_g && (load_g > before) != self.rising {
                self.rising = load_g > before;
                self.turns += 1;
            }
        }
        // Back where it was; or what had jumped up fell off again, while the pour ran on.
        let fell = self.last.map_or(0.0, |(before, _)| before - load_g);
        if self.jumped.is_some_and(|(from, to)| load_g <= from + near || fell >= FALLS_BACK * (to - from)) {
            self.jumped = None;
        }
        self.last = Some((load_g, at_s));
        if seen.stable {
            (self.still_at, self.turns) = (Some(at_s), 0);
            if self.steady.is_none_or(|(at, _)| (at - load_g).abs() > self.resolution_g) {
                self.steady = Some((load_g, at_s));
            }
        } else {
            self.steady = None;
            self.still_at.get_or_insert(at_s);
        }
        let restless = self.turns > 6 && self.still_at.is_some_and(|t| at_s - t > RESTLESS_S);
        let jumped = self.jumped.map(|(from_g, to_g)| Notice::Jumped { from_g, to_g });
        Pan {
            load_g: Some(load_g),
            stable: seen.stable,
            steady_s: self.steady.map_or(0.0, |(_, since)| at_s - since),
            notice: jumped.or(restless.then_some(Notice::Restless)),
        }
    }

    /// What stands on the pan is meant: a jump is forgotten.
    pub fn accept(&mut self) {
        self.jumped = None;
    }
}
