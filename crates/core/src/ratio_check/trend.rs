//! The trend of a regime: the straight line through its catches, and where the band of the next one meets the tolerance.

use super::LEAST_FOR_LIMITS;
use crate::verdict::{Measured, Tolerance};
use statrs::distribution::{ContinuousCDF, Normal, StudentsT};

/// A slope is real where chance alone gives one as steep in fewer than this share of cases, counted on both sides.
pub const SIGNIFICANT: f64 = 0.05;

/// Student's t that leaves half of `alpha` beyond it on either side.
///
/// **Formula:** the quantile of Student's t at `1 − alpha/2`. **Units:** none. **Source:** the library statrs; checked against
/// the table of the NIST/SEMATECH e-Handbook, 1.3.6.7.2.
///
/// ```
/// use level_keel_core::ratio_check::student_t;
/// assert!((student_t(0.05, 8.0) - 2.306).abs() < 5e-4);
/// ```
pub fn student_t(alpha: f64, freedom: f64) -> f64 {
    StudentsT::new(0.0, 1.0, freedom).map_or(f64::INFINITY, |t| t.inverse_cdf(1.0 - alpha / 2.0))
}

/// The share of a normal distribution that lies under `z` standard deviations.
///
/// **Formula:** `Φ(z)`. **Units:** none. **Source:** the library statrs.
///
/// ```
/// use level_keel_core::ratio_check::normal_under;
/// assert!((normal_under(1.959_964) - 0.975).abs() < 1e-6);
/// ```
pub fn normal_under(z: f64) -> f64 {
    Normal::new(0.0, 1.0).map_or(0.5, |n| n.cdf(z))
}

/// Ratio against kilograms, or against time, as a straight line with the scatter about it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Trend {
    /// Catches.
    pub n: usize,
    /// Gain of the ratio for one of x.
    pub slope: f64,
    /// Mean of x.
    pub mean_x: f64,
    /// Mean of the ratio.
    pub mean: f64,
    /// Scatter about the line.
    pub s: f64,
    /// Sum of squares of x about its mean.
    sxx: f64,
    /// Student's t for the band.
    t: f64,
}

impl Trend {
    /// The line through some catches; `None` under eight of them, or where all stand at one x.
    ///
    /// **Formula:** least squares: `b = Sxy/Sxx`, `s² = (Syy − b·Sxy)/(n − 2)`. **Units:** those of x and of the ratio.
    /// **Source:** NIST/SEMATECH e-Handbook 4.4.3.1; the numbers are checked against scipy's `linregress`.
    ///
    /// ```
    /// use level_keel_core::ratio_check::Trend;
    /// let y = [8.02, 7.97, 8.05, 8.04, 8.10, 8.06, 8.13, 8.11, 8.17, 8.16];
    /// let points: Vec<(f64, f64)> = (1..).map(f64::from).zip(y).collect();
    /// assert!((Trend::of(&points).unwrap().slope - 0.019_333).abs() < 1e-6);
    /// ```
    pub fn of(points: &[(f64, f64)]) -> Option<Trend> {
        let n = points.len();
        if n < LEAST_FOR_LIMITS {
            return None;
        }
        let count = n as f64;
        let mean_x = points.iter().map(|p| p.0).sum::<f64>() / count;
        let mean = points.iter().map(|p| p.1).sum::<f64>() / count;
        let sum = |of: fn(f64, f64) -> f64| points.iter().map(|(x, y)| of(x - mean_x, y - mean)).sum::<f64>();
        let (sxx, sxy, syy) = (sum(|x, _| x * x), sum(|x, y| x * y), sum(|_, y| y * y));
        let slope = sxy / sxx;
        if !slope.is_finite() {
            return None;
        }
        let s = ((syy - slope * sxy) / (count - 2.0)).max(0.0).sqrt();
        Some(Trend { n, slope, mean_x, mean, s, sxx, t: student_t(SIGNIFICANT, count - 2.0) })
    }

    /// The ratio on the line.
    ///
    /// **Formula:** `ŷ = ȳ + b·(x − x̄)`. **Units:** those of the ratio. **Source:** as [`Trend::of`].
    pub fn at(&self, x: f64) -> f64 {
        self.mean + self.slope * (x - self.mean_x)
    }

    /// Where the next catch lies in 95 of 100 cases.
    ///
    /// **Formula:** `ŷ ± t·s·√(1 + 1/n + (x − x̄)²/Sxx)`. **Units:** those of the ratio.
    /// **Source:** NIST/SEMATECH e-Handbook 4.5.1.2.
    pub fn band(&self, x: f64) -> Measured {
        let u = x - self.mean_x;
        Measured::pm(self.at(x), self.t * self.s * (1.0 + 1.0 / self.n as f64 + u * u / self.sxx).sqrt())
    }

    /// The slope is real and no play of chance.
    ///
    /// **Formula:** `|b| > t·s/√Sxx`, two-sided at 5 per cent. **Units:** none. **Source:** as [`Trend::of`].
    pub fn is_real(&self) -> bool {
        self.slope.abs() > self.t * self.s / self.sxx.sqrt()
    }

    /// The first x from `from` on where the band meets the tolerance; `from` itself where it is already past it; `None` where it
    /// never does.
    ///
    /// **Formula:** the roots of `ŷ(x) ± t·s·√(1 + 1/n + (x − x̄)²/Sxx) = limit`, a quadratic in x. **Units:** those of x.
    /// **Source:** derived.
    pub fn meets(&self, tolerance: Tolerance, from: f64) -> Option<f64> {
        let now = self.band(from);
        if tolerance.lo.is_some_and(|lo| now.lo < lo) || tolerance.hi.is_some_and(|hi| now.hi > hi) {
            return Some(from);
        }
        let ts = self.t * self.s;
        let roots = |limit: f64, upper: bool| {
            let c = self.mean - limit;
            let square = self.slope * self.slope - ts * ts / self.sxx;
            let half = self.slope * c;
            let rest = c * c - ts * ts * (1.0 + 1.0 / self.n as f64);
            let root = (half * half - square * rest).max(0.0).sqrt();
            let both = if square == 0.0 { [-rest / (2.0 * half); 2] } else { [(-half - root) / square, (-half + root) / square] };
            // Of the two, those on the wanted edge of the band.
            let edge = move |u: f64| if upper { self.slope * u + c <= 1e-12 } else { self.slope * u + c >= -1e-12 };
            both.into_iter().filter(move |u| u.is_finite() && edge(*u)).map(|u| self.mean_x + u)
        };
        let high = tolerance.hi.into_iter().flat_map(|hi| roots(hi, true));
        let low = tolerance.lo.into_iter().flat_map(|lo| roots(lo, false));
        high.chain(low).filter(|x| *x >= from).min_by(f64::total_cmp)
    }
}
