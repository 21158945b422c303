//! The stream at the gun: how far it runs before it bends, and the school that judges it.

use crate::quantity::{Prefs, QuantityKind, UnitSet, show};
use crate::sheets::StreamSchool;
use crate::verdict::{Level, Measured, Tolerance, Verdict};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Standard gravity, m/s².
const GRAVITY: f64 = 9.806_65;
/// One inch in millimetres (exact).
const INCH_MM: f64 = 25.4;
/// Fall at which a stream is called bent: one inch. Derived; agrees with 8–12 psi giving 8–12 in.
pub const BEND_MM: f64 = INCH_MM;
/// Length of the rule in the picture: sixteen inches.
const RULE_MM: f64 = 16.0 * INCH_MM;
/// How well an eye reads a stream, half width, from memory.
pub const STREAM_EYE_MM: f64 = 0.5 * INCH_MM;

/// How well a person's eye reads a stream.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Eye {
    /// Within so many millimetres either way.
    Within(f64),
    /// Off by at most this part of the true length.
    Part(f64),
}

impl Eye {
    /// An eye that nothing is known of: half an inch either way, from memory.
    pub const USUAL: Eye = Eye::Within(STREAM_EYE_MM);

    /// What a stream may be that this eye sees so long.
    ///
    /// **Formula:** `seen ± half`, or `seen / (1 + p)` to `seen / (1 − p)`. **Units:** mm.
    /// **Source:** interval arithmetic.
    ///
    /// ```
    /// use level_keel_core::delivery::Eye;
    /// let seen = Eye::Within(12.7).interval(254.0);
    /// assert_eq!((seen.lo, seen.hi), (241.3, 266.7));
    /// ```
    pub fn interval(self, seen_mm: f64) -> Measured {
        match self {
            Eye::Within(half) => Measured { lo: (seen_mm - half).max(0.0), value: seen_mm, hi: seen_mm + half },
            Eye::Part(p) => Measured { lo: seen_mm / (1.0 + p), value: seen_mm, hi: seen_mm / (1.0 - p.min(0.9)) },
        }
    }
}

/// Speed of a stream that has fallen `bend_mm` after `length_mm`.
///
/// **Formula:** `v = L / √(2s/g)`. **Units:** mm in, m/s out. **Source:** free fall.
/// **Check:** 6 in ↔ 2.12 m/s, 8 ↔ 2.82, 10 ↔ 3.53, 12 ↔ 4.24 m/s at s = 1 in.
///
/// ```
/// let v = level_keel_core::delivery::stream_speed_m_s(8.0 * 25.4, 25.4);
/// assert!((v - 2.82).abs() < 0.005);
/// ```
pub fn stream_speed_m_s(length_mm: f64, bend_mm: f64) -> f64 {
    length_mm / 1000.0 / (2.0 * bend_mm / 1000.0 / GRAVITY).sqrt()
}

/// Length after which a stream of this speed has fallen `bend_mm`: the inverse of [`stream_speed_m_s`].
///
/// **Formula:** `L = v·√(2s/g)`. **Units:** m/s, mm. **Source:** free fall; the drag of the air is left out.
///
/// ```
/// use level_keel_core::delivery::stream_length_mm;
/// // 3.5 m/s falls an inch in 72 ms.
/// assert!((stream_length_mm(3.5, 25.4) - 251.9).abs() < 0.2);
/// ```
pub fn stream_length_mm(speed_m_s: f64, bend_mm: f64) -> f64 {
    1000.0 * speed_m_s * (2.0 * bend_mm / 1000.0 / GRAVITY).sqrt()
}

/// Drop of the stream at a distance, for the picture: `y = s·(x/L)²`.
///
/// **Formula:** as said, `s` an inch. **Units:** mm. **Source:** free fall.
///
/// ```
/// assert!((level_keel_core::delivery::drop_mm(254.0, 254.0) - 25.4).abs() < 1e-12);
/// ```
pub fn drop_mm(x_mm: f64, length_mm: f64) -> f64 {
    BEND_MM * (x_mm / length_mm.max(1.0)).powi(2)
}

impl StreamSchool {
    /// The band of lengths. Common practice in the trade; the product or gun picks the school.
    ///
    /// **Rule:** 6 to 8 in, 8 to 10 in, 8 to 12 in. **Units:** mm. **Source:** common practice in the trade.
    pub fn band_mm(self) -> (f64, f64) {
        let (lo, hi) = match self {
            StreamSchool::GeneralPot => (6.0, 8.0),
            StreamSchool::HighTransfer => (8.0, 10.0),
            StreamSchool::Industrial => (8.0, 12.0),
        };
        (lo * INCH_MM, hi * INCH_MM)
    }
}

/// A figure of a picture, to a hundredth: a line needs no more, and a page is read sooner.
///
/// **Formula:** rounding to 0.01. **Units:** as given. **Source:** ours.
pub fn drawn(value: f64) -> f64 {
    (value * 100.0).round() / 100.0
}

/// A point of the stream's arc, for the picture.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ArcPoint {
    /// Distance from the gun.
    pub x_mm: f64,
    /// How far it has fallen.
    pub drop_mm: f64,
}

/// A seen stream, judged.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Stream {
    /// The level against the school.
    pub level: Level,
    /// The seen arc.
    pub arc: Vec<ArcPoint>,
    /// Arc of the shortest stream allowed.
    pub shortest: Vec<ArcPoint>,
    /// Arc of the longest stream allowed.
    pub longest: Vec<ArcPoint>,
    /// The school's band.
    pub band_lo_mm: f64,
    /// The school's band.
    pub band_hi_mm: f64,
    /// The sum.
    pub working: Working,
}

/// The arc of a stream, for the picture.
pub fn arc(length_mm: f64) -> Vec<ArcPoint> {
    // Drawn inch by inch until it has fallen four inches or run sixteen: what the picture's rule can hold.
    (0..=16)
        .map(|i| drawn(f64::from(i) * INCH_MM))
        .map(|x_mm| ArcPoint { x_mm, drop_mm: drawn(drop_mm(x_mm, length_mm)) })
        .take_while(|p| p.drop_mm <= 4.0 * INCH_MM)
        .collect()
}

/// A mark of the rule under the stream.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct RuleMark {
    /// Distance from the gun.
    pub at_mm: f64,
    /// The figure beside it; empty for a small mark.
    pub figure: String,
}

/// The rule under the stream in the reader's unit: inches, or centimetres where all is metric.
pub fn rule(prefs: Prefs) -> (Vec<RuleMark>, String) {
    let (step_mm, unit) = if prefs.units == UnitSet::Metric { (20.0, "cm") } else { (INCH_MM, "in") };
    let per_figure = if prefs.units == UnitSet::Metric { 2 } else { 1 };
    let marks = (0..)
        .map(|i: i32| (i, f64::from(i) * step_mm))
        .take_while(|(_, at_mm)| *at_mm <= RULE_MM + 1e-9)
        .map(|(i, at_mm)| RuleMark { at_mm, figure: if i % 2 == 0 { (i * per_figure).to_string() } else { String::new() } });
    (marks.collect(), unit.into())
}

/// A stream against its school's band: right only when all it may be lies inside.
///
/// **Units:** mm. **Source:** common practice in the trade for the bands.
/// **Rule:** [`Tolerance::judge`] of the whole interval.
pub fn stream_verdict(school: StreamSchool, m: Measured) -> Verdict {
    let (lo, hi) = school.band_mm();
    Tolerance::between(lo, hi).judge(m)
}

/// Judges a stream against its school, as far as the eye that saw it, or the flow that was caught, can tell.
pub fn judge_stream(school: StreamSchool, m: Measured, prefs: Prefs) -> Stream {
    let (lo, hi) = school.band_mm();
    let tol = Tolerance::between(lo, hi);
    let length_mm = m.value;
    let say = |mm: f64| show(mm, QuantityKind::Length, prefs).text;
    let advice = match stream_verdict(school, m) {
        Verdict::In => String::new(),
        Verdict::Low => format!("{} short: a little more pot pressure", say(lo - length_mm)),
        Verdict::High => format!("{} long: back the pot off, and vent it", say(length_mm - hi)),
        Verdict::CannotTell => "the eye cannot tell: catch a minute of flow".into(),
    };
    let mut working = Working::new("Stream", "Free fall; bent = 1 in of fall. Bands: common practice in the trade");
    let speed = stream_speed_m_s(length_mm, BEND_MM);
    working.line(
        "Length seen",
        format!("leaves at {}, falls {} on the way", show(speed, QuantityKind::Speed, prefs).text, say(BEND_MM)),
        length_mm,
        QuantityKind::Length,
        prefs,
    );
    Stream {
        level: Level::draw("Stream", m, tol, 50.0, QuantityKind::Length, prefs).advise(advice),
        arc: arc(length_mm),
        shortest: arc(lo),
        longest: arc(hi),
        band_lo_mm: lo,
        band_hi_mm: hi,
        working,
    }
}
