//! The spot method: spots of three readings, areas of five spots, and how many areas a part asks.

use crate::verdict::{Measured, Tolerance, Verdict, is_over};

/// Readings of a spot, in a circle of 1.5 in; SSPC-PA 2, from memory.
pub const READINGS_OF_SPOT: usize = 3;
/// Spots of an area; SSPC-PA 2, from memory.
pub const SPOTS_OF_AREA: usize = 5;
/// An area: 100 ft².
pub const AREA_M2: f64 = 9.290_304;
/// Of the levels the one that rules where nobody says another; SSPC-PA 2, from memory.
pub const USUAL_LEVEL: u8 = 3;
/// The levels there are.
pub const LEVELS: std::ops::RangeInclusive<u8> = 1..=5;

/// Up to here every area is measured.
const EACH_TO_AREAS: f64 = 3.0;
/// Up to here three areas are; above it one more for each so much, or part of it.
const THREE_TO_M2: f64 = 10.0 * AREA_M2;

/// Areas of a part, and how many of them are measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct AreasAsked {
    /// It has so many areas of 100 ft² or part.
    pub of: usize,
    /// So many are measured.
    pub count: usize,
}

/// How many areas a part asks.
///
/// **Rule:** up to 300 ft² each 100 ft² or part; to 1,000 ft² three; above one more per further 1,000 ft² or part; a smaller part is
/// one area. **Units:** m². **Source:** SSPC-PA 2, from memory. **Check:** 640 ft² → 15 spots, 4,200 ft² → 35.
///
/// ```
/// use level_keel_core::acceptance::spots::{AREA_M2, SPOTS_OF_AREA, areas_asked};
/// assert_eq!(areas_asked(6.4 * AREA_M2).count * SPOTS_OF_AREA, 15);
/// assert_eq!(areas_asked(42.0 * AREA_M2).count * SPOTS_OF_AREA, 35);
/// ```
pub fn areas_asked(area_m2: f64) -> AreasAsked {
    // On the hairline it is not over: 300 ft² are three areas.
    let parts = |m2: f64, of_m2: f64| {
        let whole = (m2 / of_m2).floor();
        whole as usize + usize::from(is_over(m2, whole * of_m2))
    };
    let of = parts(area_m2, AREA_M2).max(1);
    let count = if !is_over(area_m2, EACH_TO_AREAS * AREA_M2) {
        of
    } else if !is_over(area_m2, THREE_TO_M2) {
        3
    } else {
        3 + parts(area_m2 - THREE_TO_M2, THREE_TO_M2)
    };
    AreasAsked { of, count: count.min(of) }
}

/// What a spot may be, by the level of the method.
///
/// **Rule:** at least the least (levels 1, 2) or 80 % of it (3 to 5); at most the most (1), 120 % of it (2, 3), 150 % (4), any (5).
/// **Units:** those of the band. **Source:** SSPC-PA 2, from memory.
///
/// ```
/// use level_keel_core::acceptance::spots::spot_limits;
/// let third = spot_limits(3, 110.0, 150.0);
/// assert_eq!((third.lo, third.hi), (Some(88.0), Some(180.0)));
/// ```
pub fn spot_limits(level: u8, least: f64, most: f64) -> Tolerance {
    let lo = if (3..=5).contains(&level) { 0.8 * least } else { least };
    let hi = match level {
        2 | 3 => Some(1.2 * most),
        4 => Some(1.5 * most),
        5 => None,
        // The first, and as strictly what is no level.
        _ => Some(most),
    };
    Tolerance { lo: Some(lo), hi }
}

/// Mean of readings, each off by half a division, less what bare steel reads.
///
/// **Formula:** `Σ readings / n − bare`. A gauge that is off is off the same way in all of them, so the mean is off by half a division
/// too. **Units:** µm. **Source:** arithmetic. **Errors:** `None` without readings.
///
/// ```
/// use level_keel_core::{acceptance::spots::mean_um, verdict::Measured};
/// let spot = mean_um(&[109.0, 113.0, 112.0], 1.0, Measured::pm(0.0, 0.0)).unwrap();
/// assert!((spot.value - 111.333).abs() < 1e-3 && (spot.hi - spot.lo - 1.0).abs() < 1e-9);
/// ```
pub fn mean_um(readings_um: &[f64], division_um: f64, bare_um: Measured) -> Option<Measured> {
    if readings_um.is_empty() {
        return None;
    }
    let mean = readings_um.iter().sum::<f64>() / readings_um.len() as f64;
    let half = division_um / 2.0;
    Some(Measured { lo: mean - half - bare_um.hi, value: mean - bare_um.value, hi: mean + half - bare_um.lo })
}

/// An area as judged.
#[derive(Debug, Clone, PartialEq)]
pub struct AreaJudged {
    /// Each spot by its own limits; `None`: not read yet.
    pub spots: Vec<Option<Verdict>>,
    /// Mean of the spots read.
    pub mean_um: Option<Measured>,
    /// The area; `None`: under way.
    pub verdict: Option<Verdict>,
}

/// Judges an area by its spots.
///
/// **Rule:** the mean of its five spots within the band, every spot within the limits of the level. A spot that is out makes the area
/// out, whatever the others say. **Units:** those of the band. **Source:** SSPC-PA 2, from memory.
///
/// ```
/// use level_keel_core::{acceptance::spots::judge_area, verdict::{Measured, Verdict}};
/// let spots = [121.0, 111.33, 129.0, 99.67, 121.67].map(|um| Some(Measured::pm(um, 0.0)));
/// assert_eq!(judge_area(&spots, 3, 110.0, 150.0).verdict, Some(Verdict::In));
/// assert_eq!(judge_area(&spots, 1, 110.0, 150.0).verdict, Some(Verdict::Low));
/// ```
pub fn judge_area(spots: &[Option<Measured>], level: u8, least: f64, most: f64) -> AreaJudged {
    let limits = spot_limits(level, least, most);
    let judged: Vec<Option<Verdict>> = spots.iter().map(|s| s.map(|um| limits.judge(um))).collect();
    let read: Vec<Measured> = spots.iter().flatten().copied().collect();
    let mean = |of: fn(&Measured) -> f64| read.iter().map(of).sum::<f64>() / read.len() as f64;
    let mean_um = (!read.is_empty()).then(|| Measured { lo: mean(|m| m.lo), value: mean(|m| m.value), hi: mean(|m| m.hi) });
    let whole = !spots.is_empty() && read.len() == spots.len();
    let area = mean_um.filter(|_| whole).map(|um| Tolerance::between(least, most).judge(um));
    let out = judged.iter().flatten().copied().find(|v| v.is_out());
    let unsure = judged.iter().flatten().any(|v| *v == Verdict::CannotTell);
    let verdict = out.or(match area {
        Some(Verdict::In) if unsure => Some(Verdict::CannotTell),
        area => area,
    });
    AreaJudged { spots: judged, mean_um, verdict }
}

/// The part by its areas: one that is out is enough, one that is under way leaves it under way.
///
/// ```
/// use level_keel_core::{acceptance::spots::worst, verdict::Verdict};
/// assert_eq!(worst(&[Some(Verdict::In), None]), None);
/// assert_eq!(worst(&[Some(Verdict::High), None]), Some(Verdict::High));
/// ```
pub fn worst(verdicts: &[Option<Verdict>]) -> Option<Verdict> {
    let out = verdicts.iter().flatten().copied().find(|v| v.is_out());
    if out.is_some() || verdicts.is_empty() || verdicts.iter().any(Option::is_none) {
        return out;
    }
    let unsure = verdicts.contains(&Some(Verdict::CannotTell));
    Some(if unsure { Verdict::CannotTell } else { Verdict::In })
}
