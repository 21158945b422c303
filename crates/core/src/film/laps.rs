//! Laps side by side: the section of the film, and how even it is.

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a fan lays its paint across its width.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum FanProfile {
    /// Fades from its middle to nothing: air spray.
    #[default]
    #[strum(serialize = "fading from its middle")]
    Fading,
    /// Flat, its outer fifths fading: airless.
    #[strum(serialize = "flat, fading edges")]
    Flat,
    /// Between the two.
    #[strum(serialize = "rounded")]
    Parabola,
}

impl Worded for FanProfile {}

/// Part of a flat fan's width that fades, each side.
const FADE: f64 = 0.2;

/// Film at a place across a fan that fades over a part of its width on each side and is even between, of the most it lays.
///
/// **Formula:** `min(1, e/f)`, with `e` the distance to the edge and `f` the fading part; `f = 0.5` fades from the middle.
/// **Units:** parts of the width and of the most. **Source:** ours: a simple picture of what fans do.
///
/// ```
/// use level_keel_core::film::laps::height_of_fade;
/// assert_eq!(height_of_fade(0.0, 0.3), 1.0);
/// assert!((height_of_fade(0.35, 0.3) - 0.5).abs() < 1e-12);
/// ```
pub fn height_of_fade(x: f64, fade: f64) -> f64 {
    ((0.5 - x.abs()) / fade).clamp(0.0, 1.0)
}

/// The part of a fan's width that fades on each side, by two widths read off a sprayed card: where any paint lies, and where it
/// lies in full.
///
/// **Formula:** `f = (outer − full) / (2·outer)`. **Units:** mm; parts of the width. **Source:** geometry.
/// **Errors:** `None` unless `0 ≤ full < outer`.
///
/// ```
/// use level_keel_core::film::laps::fade_of_card;
/// assert_eq!(fade_of_card(300.0, 180.0), Some(0.2));
/// assert_eq!(fade_of_card(300.0, 300.0), None);
/// ```
pub fn fade_of_card(outer_mm: f64, full_mm: f64) -> Option<f64> {
    (0.0 <= full_mm && full_mm < outer_mm).then(|| (outer_mm - full_mm) / (2.0 * outer_mm))
}

/// What the overlap of a fan with that fade is, and why.
///
/// **Rule:** its laps lie even where they overlap by the fade itself. **Units:** parts of the width; per cent. **Source:** derived.
pub fn even_of_fade_pct(fade: f64) -> f64 {
    100.0 * fade
}

/// The film from above of a fan with that fade, as [`from_above`].
///
/// **Formula:** as there. **Units:** parts of the mean. **Source:** derived.
pub fn from_above_of_fade(fade: f64, overlap_pct: f64, crossed: bool, places: usize) -> Vec<Vec<f64>> {
    seen_from_above(&section_of(|x| height_of_fade(x, fade), overlap_pct, places.div_ceil(2)), crossed)
}

/// How far the film of a fan with that fade spreads, as [`spread_pct`].
///
/// **Formula:** as there. **Units:** per cent of the mean. **Source:** derived.
pub fn spread_of_fade_pct(fade: f64, overlap_pct: f64, crossed: bool) -> f64 {
    spread(&section_of(|x| height_of_fade(x, fade), overlap_pct, STEPS), crossed)
}

/// How uneven the laps of a fan with that fade lie, as [`ripple_pct`].
///
/// **Formula:** `(max − min) / mean` over one spacing. **Units:** parts of the width, per cent; per cent of the mean.
/// **Source:** derived. **Check:** even where the overlap is the fade itself.
///
/// ```
/// use level_keel_core::film::laps::ripple_of_fade_pct;
/// assert!(ripple_of_fade_pct(0.35, 35.0) < 0.1);
/// ```
pub fn ripple_of_fade_pct(fade: f64, overlap_pct: f64) -> f64 {
    ripple(&section_of(|x| height_of_fade(x, fade), overlap_pct, STEPS))
}

/// The laps of a fan with that fade, as [`even_section`].
///
/// **Formula:** as there. **Units:** parts of the mean. **Source:** derived.
pub fn even_section_of_fade(fade: f64, overlap_pct: f64, points: usize) -> Vec<f64> {
    evened(&section_of(|x| height_of_fade(x, fade), overlap_pct, points))
}

impl FanProfile {
    /// Film at a place across the fan, −½ to ½ of its width, of the most it lays.
    ///
    /// **Formula:** `2e`; `min(1, e/fade)`; `1 − 4x²`, with `e` the distance to the edge. **Units:** parts of the width and of
    /// the most. **Source:** ours: simple pictures of what fans do.
    ///
    /// ```
    /// use level_keel_core::film::laps::FanProfile;
    /// assert_eq!(FanProfile::Fading.height(0.0), 1.0);
    /// assert_eq!(FanProfile::Fading.height(0.25), 0.5);
    /// assert_eq!(FanProfile::Parabola.height(0.6), 0.0);
    /// ```
    pub fn height(self, x: f64) -> f64 {
        let edge = 0.5 - x.abs();
        match self {
            _ if edge <= 0.0 => 0.0,
            FanProfile::Fading => height_of_fade(x, 0.5),
            FanProfile::Flat => height_of_fade(x, FADE),
            FanProfile::Parabola => 1.0 - 4.0 * x * x,
        }
    }

    /// What its overlap is and why.
    pub fn reason(self) -> &'static str {
        match self {
            FanProfile::Fading => {
                "A fan that fades from its middle lies even at half overlap: each place gets the thin edge of one lap and the thick middle of the next."
            }
            FanProfile::Flat => {
                "A flat fan lies even where only its fading edges overlap, about a fifth; at half overlap every second strip is double."
            }
            FanProfile::Parabola => "A rounded fan is never quite even; it is nearest at about sixty per cent.",
        }
    }

    /// The overlap at which its laps are even, or the nearest to it. The school of each fan: 50 % where it fades from the
    /// middle, about 20 % where it is flat.
    ///
    /// **Rule:** 50, 20, 60. **Units:** per cent of the fan. **Source:** common practice in the trade for the first two; the
    /// third is derived from its profile.
    pub fn even_at_pct(self) -> f64 {
        match self {
            FanProfile::Fading => 50.0,
            FanProfile::Flat => 20.0,
            FanProfile::Parabola => 60.0,
        }
    }
}

/// Places a spacing is looked at; every kink of a profile falls near one.
const STEPS: usize = 4000;

/// The film across laps at a spacing of `W·(1−o)`, from one lap's middle to the next, `points` places.
///
/// **Formula:** `Σₖ height(x − k·W(1−o))`. **Units:** parts of the most of one lap. **Source:** derived.
pub fn section(profile: FanProfile, overlap_pct: f64, points: usize) -> Vec<f64> {
    section_of(|x| profile.height(x), overlap_pct, points)
}

fn section_of(height: impl Fn(f64) -> f64, overlap_pct: f64, points: usize) -> Vec<f64> {
    let spacing = 1.0 - overlap_pct / 100.0;
    let reach = (1.0 / spacing).ceil() as i32 + 1;
    (0..=points)
        .map(|i| {
            let x = spacing * i as f64 / points as f64;
            (-reach..=reach).map(|k| height(x - f64::from(k) * spacing)).sum()
        })
        .collect()
}

/// The section of two spacings as parts of its own mean, for the picture.
///
/// **Formula:** [`section`] over its mean. **Units:** parts of the mean. **Source:** derived.
pub fn even_section(profile: FanProfile, overlap_pct: f64, points: usize) -> Vec<f64> {
    evened(&section(profile, overlap_pct, points))
}

fn evened(film: &[f64]) -> Vec<f64> {
    let mean = film[1..].iter().sum::<f64>() / (film.len() - 1) as f64;
    film.iter().chain(&film[1..]).map(|v| v / mean).collect()
}

/// The film of a square of the part seen from above, two spacings wide, as parts of its mean: rows of places.
///
/// **Formula:** one coat lays [`section`] across; a cross coat half of the film each way, so a place has the mean of its two.
/// **Source:** derived.
/// **Units:** parts of the mean.
///
/// ```
/// use level_keel_core::film::laps::{FanProfile, from_above};
/// let (one, crossed) = (from_above(FanProfile::Flat, 50.0, false, 12), from_above(FanProfile::Flat, 50.0, true, 12));
/// // The same paint lies on both; along a lap of one coat nothing changes.
/// let mean = |film: &[Vec<f64>]| film.iter().flatten().sum::<f64>() / 144.0;
/// assert!((mean(&one) - 1.0).abs() < 1e-12 && (mean(&crossed) - 1.0).abs() < 1e-12);
/// assert!(one.windows(2).all(|rows| rows[0] == rows[1]));
/// ```
pub fn from_above(profile: FanProfile, overlap_pct: f64, crossed: bool, places: usize) -> Vec<Vec<f64>> {
    // Two spacings of half as many places; the end of one is the beginning of the next.
    let half = places.div_ceil(2);
    seen_from_above(&section(profile, overlap_pct, half), crossed)
}

fn seen_from_above(film: &[f64], crossed: bool) -> Vec<Vec<f64>> {
    let half = film.len() - 1;
    let mean = film[1..].iter().sum::<f64>() / half as f64;
    let across: Vec<f64> = film[1..].iter().cycle().take(2 * half).map(|v| v / mean).collect();
    let row = |down: f64| across.iter().map(|v| if crossed { (v + down) / 2.0 } else { *v }).collect();
    across.iter().map(|down| row(*down)).collect()
}

/// How uneven laps lie.
///
/// **Formula:** `(max − min) / mean` over one spacing. **Units:** per cent of the mean. **Source:** derived.
/// **Check:** fading 50 % → 0, 20 % → 96.0 %; flat 20 % → 0, 50 % → 62.5 %; parabola 30 % → 18.9 %, 50 % → 37.5 %,
/// 60 % → 7.2 %.
pub fn ripple_pct(profile: FanProfile, overlap_pct: f64) -> f64 {
    ripple(&section(profile, overlap_pct, STEPS))
}

fn ripple(film: &[f64]) -> f64 {
    let (lo, hi) = film.iter().fold((f64::MAX, 0.0_f64), |(lo, hi), v| (lo.min(*v), hi.max(*v)));
    // Both ends are the same place of two laps: it counts once.
    let mean = film[1..].iter().sum::<f64>() / (film.len() - 1) as f64;
    100.0 * (hi - lo) / mean
}

/// The ripple that a cross coat leaves: two coats at right angles, the worst over the worst place against the mean.
///
/// **Formula:** the sum of two sections at right angles, each half of the film: `(max − min)/mean` is that of one, and what
/// a place has is the mean of its two. A cross coat does not lower the extremes; it makes the even ones many and the bad
/// ones few. What falls is the spread: the standard deviation, by √2. **Source:** derived.
/// **Units:** per cent of the mean.
pub fn spread_pct(profile: FanProfile, overlap_pct: f64, crossed: bool) -> f64 {
    spread(&section(profile, overlap_pct, STEPS), crossed)
}

fn spread(film: &[f64], crossed: bool) -> f64 {
    let places = (film.len() - 1) as f64;
    let mean = film[1..].iter().sum::<f64>() / places;
    let variance = film[1..].iter().map(|v| (v / mean - 1.0).powi(2)).sum::<f64>() / places;
    100.0 * if crossed { (variance / 2.0).sqrt() } else { variance.sqrt() }
}
