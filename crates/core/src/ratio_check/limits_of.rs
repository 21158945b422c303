//! Control limits of a regime, and the rules that say when its catches stop being one crowd.

use super::LEAST_FOR_LIMITS;
use crate::quantity::QuantityKind;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Mean of the range of two values from one normal crowd, in its standard deviations.
pub const D2_OF_TWO: f64 = 1.128;
/// Upper limit of a moving range of two, over its mean.
pub const D4_OF_TWO: f64 = 3.267;

/// What a process does by itself: the middle of its single values and how far they stray.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Limits {
    /// Mean of the values.
    pub mean: f64,
    /// Mean of the moving ranges.
    pub range: f64,
    /// Catches they were taken from.
    pub n: usize,
}

impl Limits {
    /// From single values in their order; `None` under two, or where no two of them differ.
    ///
    /// **Formula:** `x̄ ± 3·MR̄/1.128`, MR the difference of each value from the one before. **Units:** those of the values.
    /// **Source:** NIST/SEMATECH e-Handbook 6.3.2.2.
    ///
    /// ```
    /// use level_keel_core::ratio_check::Limits;
    /// let flow = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1];
    /// let limits = Limits::of(&flow).unwrap();
    /// assert!((limits.lo() - 45.816).abs() < 5e-3 && (limits.hi() - 55.804).abs() < 5e-3);
    /// ```
    pub fn of(values: &[f64]) -> Option<Limits> {
        let ranges = values.len().checked_sub(1).filter(|n| *n > 0)? as f64;
        let range = values.windows(2).map(|w| (w[1] - w[0]).abs()).sum::<f64>() / ranges;
        let mean = values.iter().sum::<f64>() / values.len() as f64;
        (range > 0.0 && mean.is_finite()).then_some(Limits { mean, range, n: values.len() })
    }

    /// Frozen from the first eight values: else a drift widens the limits it is to be seen by.
    ///
    /// **Rule:** [`Limits::of`] the first eight; `None` while there are fewer. **Units:** as there. **Source:** common practice.
    pub fn frozen(values: &[f64]) -> Option<Limits> {
        Limits::of(values.get(..LEAST_FOR_LIMITS)?)
    }

    /// One standard deviation, by the moving range.
    ///
    /// **Formula:** `MR̄/1.128`. **Units:** those of the values. **Source:** NIST/SEMATECH e-Handbook 6.3.2.2.
    pub fn sigma(&self) -> f64 {
        self.range / D2_OF_TWO
    }

    /// Lower control limit.
    ///
    /// **Formula:** `x̄ − 3σ`. **Units:** those of the values. **Source:** as [`Limits::of`].
    pub fn lo(&self) -> f64 {
        self.mean - 3.0 * self.sigma()
    }

    /// Upper control limit.
    ///
    /// **Formula:** `x̄ + 3σ`. **Units:** those of the values. **Source:** as [`Limits::of`].
    pub fn hi(&self) -> f64 {
        self.mean + 3.0 * self.sigma()
    }

    /// Most a moving range is by itself.
    ///
    /// **Formula:** `3.267·MR̄`. **Units:** those of the values. **Source:** NIST/SEMATECH e-Handbook 6.3.2.2.
    pub fn most_range(&self) -> f64 {
        D4_OF_TWO * self.range
    }

    /// How many standard deviations from the mean.
    fn away(&self, value: f64) -> f64 {
        (value - self.mean) / self.sigma()
    }
}

/// A rule that says a value is no longer of the crowd.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum RunRule {
    /// One beyond three sigma.
    OneBeyond,
    /// Two of three beyond two sigma on one side.
    TwoOfThree,
    /// Four of five beyond one sigma on one side.
    FourOfFive,
    /// Eight in a row on one side.
    EightInARow,
    /// Six in a row rising or falling.
    SixTheSameWay,
}

/// A rule that fired.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Fired {
    /// Which.
    pub rule: RunRule,
    /// On the high side, or rising.
    pub high: bool,
    /// At this value, counted from 0.
    pub at: usize,
}

/// The rules that fire at one value, the strongest first.
///
/// **Rule:** one beyond 3σ; two of three beyond 2σ, four of five beyond 1σ, eight in a row, each on one side; six in a row
/// rising or falling. **Units:** none. **Source:** NIST/SEMATECH e-Handbook 6.3.2 (Western Electric rules).
pub fn fired_at(values: &[f64], limits: &Limits, at: usize) -> Vec<Fired> {
    let last = |n: usize| (at + 1).checked_sub(n).map(|from| &values[from..=at]);
    let side = |high: bool| if high { 1.0 } else { -1.0 };
    let beyond = |v: &f64, sigmas: f64, high: bool| side(high) * limits.away(*v) > sigmas;
    let mut all = Vec::new();
    for high in [true, false] {
        // Of several that must lie beyond, the one judged is one: else it fires again for what was said before.
        let of = |n: usize, least: usize, sigmas: f64| {
            beyond(&values[at], sigmas, high)
                && last(n).is_some_and(|l| l.iter().filter(|v| beyond(v, sigmas, high)).count() >= least)
        };
        let rising = |w: &[f64]| if high { w[1] > w[0] } else { w[1] < w[0] };
        let same_way = last(6).is_some_and(|l| l.windows(2).all(rising));
        let rules = [
            (RunRule::OneBeyond, of(1, 1, 3.0)),
            (RunRule::TwoOfThree, of(3, 2, 2.0)),
            (RunRule::FourOfFive, of(5, 4, 1.0)),
            (RunRule::EightInARow, of(8, 8, 0.0)),
            (RunRule::SixTheSameWay, same_way),
        ];
        all.extend(rules.into_iter().filter(|(_, yes)| *yes).map(|(rule, _)| Fired { rule, high, at }));
    }
    all
}

impl Fired {
    /// The rule in words, with its side.
    pub fn words(&self) -> String {
        let (side, way) = if self.high { ("high", "rising") } else { ("low", "falling") };
        match self.rule {
            RunRule::OneBeyond => format!("One beyond its limit, {side}."),
            RunRule::TwoOfThree => format!("Two of three {side}."),
            RunRule::FourOfFive => format!("Four of five {side}."),
            RunRule::EightInARow => format!("Eight in a row {side}."),
            RunRule::SixTheSameWay => format!("Six in a row {way}."),
        }
    }

    /// What it is, and what it usually means, by which stream grows weaker.
    ///
    /// **Rule:** A : B goes up, and B as a share of A goes down, as B grows weaker or A stronger. **Units:** none.
    /// **Source:** common practice in the trade.
    pub fn usual(&self, said_in: QuantityKind) -> String {
        let b_is_weaker = self.high == (said_in != QuantityKind::Percent);
        let (weak, strong) = if b_is_weaker { ("B", "A") } else { ("A", "B") };
        let what = match self.rule {
            RunRule::OneBeyond => "The last one stands past 3 sigma.",
            RunRule::TwoOfThree => "Two of the last three stand past 2 sigma on one side.",
            RunRule::FourOfFive => "Four of the last five stand past 1 sigma on one side.",
            RunRule::EightInARow => "The last eight stand on one side of the mean.",
            RunRule::SixTheSameWay => "Each of the last six stands further the same way.",
        };
        let slip = "a slip of this catch (outlet not wiped, half a trigger, a cup not tared), else";
        let slip = if self.rule == RunRule::OneBeyond { format!(" {slip}") } else { String::new() };
        format!("{what} Usual:{slip} {weak}’s filter loads or its packing wears, {weak}’s supply pressure falls, {strong} warms.")
    }
}
