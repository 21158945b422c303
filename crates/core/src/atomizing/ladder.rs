//! The pattern ladder: pressure goes up a rung at a time to the lowest full pattern.

use crate::quantity::{Prefs, QuantityKind, show};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

const PSI: f64 = 6.894_757_293_168_361;

/// A school of climbing.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum LadderSchool {
    /// 20, 30, then five more each.
    #[default]
    #[strum(serialize = "in small steps from the second rung")]
    Fives,
    /// 30, 40, 50, 60.
    #[strum(serialize = "in even steps")]
    Tens,
    /// Airless with air assist: fluid pressure in hundreds of psi.
    #[strum(serialize = "in hundreds of psi, airless with air assist")]
    Hundreds,
}

impl Worded for LadderSchool {}

impl LadderSchool {
    /// Its rungs in words, in the reader's unit: “20, 30, 35, 40 … 60 psi”.
    pub fn words(self, prefs: Prefs) -> String {
        let say = |kpa: &f64| show(*kpa, QuantityKind::Pressure, prefs);
        match &self.rungs_kpa()[..] {
            [first @ .., _, last] if first.len() > 4 => {
                let first: Vec<String> = first[..4].iter().map(|kpa| say(kpa).figure).collect();
                format!("{} … {}", first.join(", "), say(last).text)
            }
            [first @ .., last] => {
                let first: Vec<String> = first.iter().map(|kpa| say(kpa).figure).collect();
                format!("{}, {}", first.join(", "), say(last).text)
            }
            [] => String::new(),
        }
    }

    /// The rungs of pressure at the pump's air motor. Common practice in the trade. **Units:** kPa.
    ///
    /// **Rule:** 20, 30, then fives to 60 psi; 30 to 60 in tens; 300 to 600 in hundreds. **Source:** common practice in the
    /// trade.
    ///
    /// ```
    /// use level_keel_core::atomizing::ladder::LadderSchool;
    /// assert_eq!(LadderSchool::Tens.rungs_kpa().len(), 4);
    /// ```
    pub fn rungs_kpa(self) -> Vec<f64> {
        let psi: &[f64] = match self {
            LadderSchool::Fives => &[20.0, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0, 60.0],
            LadderSchool::Tens => &[30.0, 40.0, 50.0, 60.0],
            LadderSchool::Hundreds => &[300.0, 400.0, 500.0, 600.0],
        };
        psi.iter().map(|p| p * PSI).collect()
    }

    /// Catalyst air of the school, least and most, and the most on long hoses. Common practice in the trade. **Units:** kPa.
    ///
    /// **Rule:** 20 to 25 psi in fives, 18 to 25 in tens, none in hundreds; 40 psi on long hoses. **Source:** common practice
    /// in the trade.
    pub fn catalyst_air_kpa(self) -> (f64, f64, f64) {
        let (lo, hi) = match self {
            LadderSchool::Fives => (20.0, 25.0),
            LadderSchool::Tens => (18.0, 25.0),
            LadderSchool::Hundreds => (0.0, 0.0),
        };
        (lo * PSI, hi * PSI, 40.0 * PSI)
    }
}

/// What the pattern on the paper looks like.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum Pattern {
    /// Round, with fingers.
    #[strum(serialize = "round, with fingers")]
    RoundFingers,
    /// An oval with fingers at its ends.
    #[strum(serialize = "oval, fingers at its ends")]
    OvalFingers,
    /// Full, with heavy ends.
    #[strum(serialize = "full, heavy ends")]
    HeavyEnds,
    /// An even oval, droplets about a millimetre.
    #[strum(serialize = "even oval")]
    Even,
    /// Heavy in its middle: air spray short of air.
    #[strum(serialize = "heavy middle")]
    HeavyMiddle,
    /// Even, and fogging.
    #[strum(serialize = "even, fogging")]
    Fog,
    /// Heavier on one side.
    #[strum(serialize = "heavier on one side")]
    Lopsided,
}

impl Worded for Pattern {}

impl Pattern {
    /// What is chosen from on the ladder of an airless gun.
    pub const LADDER: [Pattern; 6] =
        [Pattern::RoundFingers, Pattern::OvalFingers, Pattern::HeavyEnds, Pattern::Even, Pattern::Fog, Pattern::Lopsided];
    /// What is chosen from at the fan check of air spray.
    pub const FAN: [Pattern; 5] = [Pattern::HeavyMiddle, Pattern::Even, Pattern::HeavyEnds, Pattern::Fog, Pattern::Lopsided];

    /// Every droplet is made: the pattern is full.
    pub fn is_full(self) -> bool {
        matches!(self, Pattern::Even | Pattern::Fog)
    }
}

/// A rung that was tried.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rung {
    /// At this pressure.
    pub pump_kpa: f64,
    /// What was seen.
    pub pattern: Pattern,
    /// Refinement air was on.
    pub refined: bool,
}

/// What to do after some rungs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Climb {
    /// Catalyst air first.
    CatalystAir,
    /// To this pressure.
    To(f64),
    /// Small fingers at this pressure: refinement air first, before more pressure and before a smaller hole.
    Refine(f64),
    /// This is the lowest full pattern.
    Done(f64),
    /// The top rung is not full: a smaller hole or thinner paint, not more pressure.
    ChangeTip,
    /// A lop-sided pattern is no matter of pressure.
    TurnCap,
}

/// The next step of the ladder.
///
/// **Rules:** catalyst air stands before the first rung; from there up to the **lowest** full pattern; fog goes down
/// again; small fingers are cleared by a quarter to half a turn of refinement air, and only those that stay with it want more
/// pressure; the last rung without a full pattern asks for another tip. **Source:** common practice in the trade.
///
/// ```
/// use level_keel_core::atomizing::ladder::{Climb, LadderSchool, Pattern, Rung, next};
/// let psi = 6.894757293168361;
/// let rung = |p: f64, pattern| Rung { pump_kpa: p * psi, pattern, refined: false };
/// let tried = [rung(30.0, Pattern::RoundFingers), rung(40.0, Pattern::Even)];
/// assert_eq!(next(LadderSchool::Tens, true, &tried), Climb::Done(40.0 * psi));
/// ```
pub fn next(school: LadderSchool, catalyst_air_set: bool, tried: &[Rung]) -> Climb {
    if !catalyst_air_set {
        return Climb::CatalystAir;
    }
    let rungs = school.rungs_kpa();
    let Some(last) = tried.last() else { return rungs.first().map_or(Climb::ChangeTip, |p| Climb::To(*p)) };
    if last.pattern == Pattern::Lopsided {
        return Climb::TurnCap;
    }
    let full = tried.iter().filter(|r| r.pattern == Pattern::Even).map(|r| r.pump_kpa).min_by(f64::total_cmp);
    let not_full = tried.iter().filter(|r| !r.pattern.is_full() && r.pattern != Pattern::Lopsided).map(|r| r.pump_kpa);
    let under = not_full.max_by(f64::total_cmp);
    if let Some(kpa) = full {
        // Full already at the lowest rung: a lower one may be full too, where the school has one.
        return Climb::Done(kpa);
    }
    if last.pattern == Pattern::OvalFingers && !last.refined {
        return Climb::Refine(last.pump_kpa);
    }
    if last.pattern == Pattern::Fog {
        let below = rungs.iter().rev().find(|p| **p < last.pump_kpa - 0.5 && under.is_none_or(|u| **p > u + 0.5));
        return below.map_or(Climb::Done(last.pump_kpa), |p| Climb::To(*p));
    }
    rungs.iter().find(|p| **p > last.pump_kpa + 0.5).map_or(Climb::ChangeTip, |p| Climb::To(*p))
}
