//! Two cups put on a scale one after the other: the first load that rests, then the second, once the first is off.

use super::Pan;
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_live};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A load under so many digits is no cup: a drop, a breath of air.
const LEAST_DIGITS: f64 = 10.0;

/// What has rested on the scale so far.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TwoLoads {
    resolution_g: f64,
    first_g: Option<f64>,
    /// The first is off.
    lifted: bool,
    second_g: Option<f64>,
}

impl TwoLoads {
    /// Nothing yet, on a scale of this resolution.
    pub fn new(resolution_g: f64) -> TwoLoads {
        TwoLoads { resolution_g, first_g: None, lifted: false, second_g: None }
    }

    /// Takes what the scale says now.
    ///
    /// **Rule:** a load that rests and is more than ten digits is a cup; the next one counts once the scale showed less than
    /// that in between. **Units:** g. **Source:** common practice in the trade: each cup on a tared scale.
    pub fn push(&mut self, pan: &Pan) {
        let Some(load_g) = pan.load_g else { return };
        let is_cup = load_g > LEAST_DIGITS * self.resolution_g;
        match (self.first_g, self.second_g) {
            (None, _) if is_cup && pan.stable => self.first_g = Some(load_g),
            (Some(_), None) if !is_cup => self.lifted = true,
            (Some(_), None) if self.lifted && pan.stable => self.second_g = Some(load_g),
            (None | Some(_), _) => {}
        }
    }

    /// For the glass.
    pub fn view(&self, pan: &Pan, prefs: Prefs) -> TwoLoadsView {
        let taken = |g: Option<f64>| g.map(|g| show(g, QuantityKind::Mass, prefs));
        let says = match (self.first_g, self.lifted, self.second_g) {
            (None, ..) => "Put the first cup on.",
            (Some(_), false, _) => "Take it off.",
            (Some(_), true, None) => "Put the second cup on.",
            (Some(_), true, Some(_)) => "Both are weighed.",
        };
        TwoLoadsView {
            load: pan.load_g.map(|g| show_live(g, QuantityKind::Mass, prefs)),
            first: taken(self.first_g),
            second: taken(self.second_g),
            says: says.into(),
        }
    }
}

/// Two cups on a scale, as they are shown.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct TwoLoadsView {
    /// What stands on it.
    pub load: Option<Shown>,
    /// The first cup.
    pub first: Option<Shown>,
    /// The second.
    pub second: Option<Shown>,
    /// What to do.
    pub says: String,
}
