//! A value with its uncertainty against a tolerance: in, out, or cannot tell; and the level that shows it.

use crate::quantity::{Prefs, QuantityKind, Shown, show, show_live};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A measured value and the interval it may lie in. `lo ≤ value ≤ hi`.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Measured {
    /// Least it may be.
    pub lo: f64,
    /// The reading.
    pub value: f64,
    /// Most it may be.
    pub hi: f64,
}

impl Measured {
    /// A reading with a symmetric half width.
    pub fn pm(value: f64, half: f64) -> Self {
        Measured { lo: value - half, value, hi: value + half }
    }

    /// A reading known only as an interval, valued at its middle.
    pub fn between(lo: f64, hi: f64) -> Self {
        Measured { lo, value: (lo + hi) / 2.0, hi }
    }

    /// The interval both lie in, valued at its middle.
    pub fn hull(self, other: Measured) -> Self {
        Measured::between(self.lo.min(other.lo), self.hi.max(other.hi))
    }

    /// Maps all three through an increasing function.
    pub fn map(self, f: impl Fn(f64) -> f64) -> Self {
        Measured { lo: f(self.lo), value: f(self.value), hi: f(self.hi) }
    }
}

/// What is allowed. A missing side is unlimited. On a hairline counts as in.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Tolerance {
    /// Least allowed.
    pub lo: Option<f64>,
    /// Most allowed.
    pub hi: Option<f64>,
}

impl Tolerance {
    /// Both sides.
    pub fn between(lo: f64, hi: f64) -> Self {
        Tolerance { lo: Some(lo), hi: Some(hi) }
    }

    /// Only a least.
    pub fn at_least(lo: f64) -> Self {
        Tolerance { lo: Some(lo), hi: None }
    }

    /// Only a most.
    pub fn at_most(hi: f64) -> Self {
        Tolerance { lo: None, hi: Some(hi) }
    }

    /// Judges a measured value.
    ///
    /// **Formula:** wholly inside = in; wholly past one limit = out; across a limit = cannot tell. On the hairline is in,
    /// whatever unit it was typed in: the slack is that of [`slack`].
    /// **Units:** those of the tolerance. **Source:** the decision rule of a measured value with its uncertainty (ISO 14253-1).
    ///
    /// ```
    /// use level_keel_core::verdict::{Measured, Tolerance, Verdict};
    /// let catalyst = Tolerance::between(1.5, 2.5);
    /// assert_eq!(catalyst.judge(Measured::pm(2.0, 0.4)), Verdict::In);
    /// assert_eq!(catalyst.judge(Measured::pm(2.0, 0.6)), Verdict::CannotTell);
    /// assert_eq!(catalyst.judge(Measured::pm(3.0, 0.1)), Verdict::High);
    /// ```
    pub fn judge(&self, m: Measured) -> Verdict {
        // Nothing that is no number may pass as in.
        if m.lo.is_nan() || m.hi.is_nan() {
            return Verdict::CannotTell;
        }
        let width = self.lo.zip(self.hi).map_or(0.0, |(lo, hi)| hi - lo);
        if self.lo.is_some_and(|lo| m.hi < lo - slack(lo, width)) {
            Verdict::Low
        } else if self.hi.is_some_and(|hi| m.lo > hi + slack(hi, width)) {
            Verdict::High
        } else if self.lo.is_some_and(|lo| m.lo < lo - slack(lo, width)) || self.hi.is_some_and(|hi| m.hi > hi + slack(hi, width))
        {
            Verdict::CannotTell
        } else {
            Verdict::In
        }
    }
}

/// How far a figure may stand past a limit and still count as on it.
///
/// **Formula:** `10⁻⁶ × max(|limit|, width of the tolerance)`, in base units. It forgives what turning a typed unit into
/// the base unit leaves in the last digits, and nothing an instrument could show. **Source:** derived.
/// **Units:** those of the limit.
///
/// ```
/// use level_keel_core::verdict::slack;
/// assert!((slack(100.0, 5.0) - 1e-4).abs() < 1e-18);
/// ```
pub fn slack(limit: f64, width: f64) -> f64 {
    // A limit of some 10³⁰⁰ stands for none.
    1e-6 * limit.abs().max(width).min(1e300)
}

/// Past a most; on it is not past it.
///
/// ```
/// use level_keel_core::verdict::{is_over, is_under};
/// let psi = 6.894757293168361;
/// assert!(!is_over(35.0 * psi * (1.0 + 1e-12), 35.0 * psi) && is_over(35.01 * psi, 35.0 * psi));
/// assert!(!is_under(18.0 * psi * (1.0 - 1e-12), 18.0 * psi) && is_under(17.99 * psi, 18.0 * psi));
/// ```
pub fn is_over(value: f64, most: f64) -> bool {
    value.is_nan() || value > most + slack(most, 0.0)
}

/// Under a least; on it is not under it.
pub fn is_under(value: f64, least: f64) -> bool {
    value.is_nan() || value < least - slack(least, 0.0)
}

/// The judgement of a measured value.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Wholly inside.
    #[strum(serialize = "in")]
    In,
    /// Wholly under the lower limit.
    #[strum(serialize = "out")]
    Low,
    /// Wholly over the upper limit.
    #[strum(serialize = "out")]
    High,
    /// Across a limit.
    #[strum(serialize = "cannot tell")]
    CannotTell,
}

impl Worded for Verdict {}

impl Verdict {
    /// Wholly past a limit.
    pub fn is_out(self) -> bool {
        matches!(self, Verdict::Low | Verdict::High)
    }
}

/// A spirit-level vial as the browser draws it: places along the vial run from 0 to 1.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Level {
    /// What is measured.
    pub label: String,
    /// The figure beside the vial.
    pub shown: Shown,
    /// Where the bubble begins, 0–1.
    pub from: f64,
    /// Where it ends, 0–1.
    pub to: f64,
    /// The bubble rests at an end because the value is off the vial: −1 low, 1 high.
    pub off: i8,
    /// Places of the hairlines, with the limit's figure.
    pub hairlines: Vec<Hairline>,
    /// The judgement; `None` while it is still under way.
    pub verdict: Option<Verdict>,
    /// The word, or what is going on.
    pub word: String,
    /// What to do about it, in a few words.
    pub advice: String,
}

/// One hairline.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Hairline {
    /// Place, 0–1.
    pub at: f64,
    /// The limit, as a figure without unit.
    pub figure: String,
    /// The low limit (its figure is set to the left) or the high one.
    pub low: bool,
}

impl Level {
    /// Draws a level: the hairlines stand at one third and two thirds, a one-sided limit at the half.
    ///
    /// `span` is the width shown beyond a one-sided limit; with two limits it is their own distance.
    pub fn draw(label: &str, m: Measured, tol: Tolerance, span: f64, kind: QuantityKind, prefs: Prefs) -> Level {
        let (start, end) = match (tol.lo, tol.hi) {
            (Some(lo), Some(hi)) => {
                let width = (hi - lo).max(1e-9);
                (lo - width, hi + width)
            }
            (Some(limit), None) | (None, Some(limit)) => (limit - span, limit + span),
            (None, None) => (m.value - span, m.value + span),
        };
        let place = |v: f64| ((v - start) / (end - start)).clamp(0.0, 1.0);
        let off = if m.value < start { -1 } else { i8::from(m.value > end) };
        let figure = |v: f64| show(v, kind, prefs).figure;
        let mut hairlines = Vec::new();
        if let Some(lo) = tol.lo {
            hairlines.push(Hairline { at: place(lo), figure: figure(lo), low: true });
        }
        if let Some(hi) = tol.hi {
            hairlines.push(Hairline { at: place(hi), figure: figure(hi), low: false });
        }
        let verdict = tol.judge(m);
        Level {
            label: label.into(),
            shown: show_live(m.value, kind, prefs),
            from: place(m.lo),
            to: place(m.hi),
            off,
            hairlines,
            verdict: Some(verdict),
            word: verdict.word().into(),
            advice: String::new(),
        }
    }

    /// The same level while the measurement is still under way: slate, no verdict.
    pub fn under_way(mut self, word: &str) -> Level {
        self.verdict = None;
        self.word = word.into();
        self
    }

    /// The same level under the judgement of another figure that rules over it.
    pub fn ruled_by(mut self, verdict: Verdict) -> Level {
        self.word = verdict.word().into();
        self.verdict = Some(verdict);
        self
    }

    /// Judges by the reading alone, where the limit is itself the guard against reading error.
    pub fn judged_by_reading(mut self, tol: Tolerance, value: f64) -> Level {
        let verdict = tol.judge(Measured::pm(value, 0.0));
        self.word = verdict.word().into();
        self.verdict = Some(verdict);
        self
    }

    /// Adds advice.
    pub fn advise(mut self, advice: impl Into<String>) -> Level {
        self.advice = advice.into();
        self
    }

    /// Shows an interval (`16–18 mil`) as the figure instead of one value.
    pub fn as_interval(mut self, m: Measured, kind: QuantityKind, prefs: Prefs) -> Level {
        let (lo, hi) = (show_live(m.lo, kind, prefs), show_live(m.hi, kind, prefs));
        if lo.unit == hi.unit && lo.figure != hi.figure {
            // Whole figures read quicker, but only when both ends are whole: `2.4–3.0`, `16–18`.
            let whole = |f: &str| f.strip_suffix(".0").or(f.strip_suffix(",0")).map(String::from);
            let (from, to) = whole(&lo.figure).zip(whole(&hi.figure)).unwrap_or((lo.figure, hi.figure));
            let figure = format!("{from}–{to}");
            self.shown = Shown { text: format!("{figure}\u{a0}{}", hi.unit), figure, unit: hi.unit };
        }
        self
    }
}

/// Hold or stop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Severity {
    /// A lead may release it.
    Hold,
    /// Nobody may.
    Stop,
}
