//! The section planner: the largest patch that may be prepared or sprayed at once, and what limits it.

use crate::film::need_ml;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What limits a patch.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum PatchLimit {
    /// A prepared surface must be coated while it is open.
    #[strum(serialize = "the open surface")]
    OpenSurface,
    /// The gun comes back to where it began before the edge is lost.
    #[strum(serialize = "the return time")]
    ReturnTime,
    /// The charge dies.
    #[strum(serialize = "the life of the charge")]
    ChargeLife,
    /// What is reached without moving.
    #[strum(serialize = "the reach")]
    Reach,
}

impl Worded for PatchLimit {}

/// What is known of the work; what is missing limits nothing.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct PatchAsked {
    /// Area of one pass in a minute.
    pub pass_m2_min: Option<f64>,
    /// Passes of the whole coat.
    pub pass_count: Option<f64>,
    /// Time until the gun must be back on the first of a pass.
    pub return_s: Option<f64>,
    /// Time a prepared surface stays open.
    pub open_s: Option<f64>,
    /// Area prepared in a minute.
    pub prepare_m2_min: Option<f64>,
    /// What is left of the life of the charge.
    pub life_s: Option<f64>,
    /// Area reached without moving.
    pub reach_m2: Option<f64>,
}

/// Area of one pass in a minute, by what comes out and stays.
///
/// **Formula:** `Q·TE / WFT`. **Units:** mL/min, per cent, µm; m²/min. **Source:** arithmetic: a millilitre on a square metre is a
/// micrometre. **Check:** 1 L/min, 80 %, 8 mil → 3.937 m²/min.
///
/// ```
/// use level_keel_core::film::section::pass_m2_min;
/// assert!((pass_m2_min(1000.0, 80.0, 203.2) - 3.937).abs() < 5e-4);
/// ```
pub fn pass_m2_min(flow_ml_min: f64, transfer_pct: f64, pass_um: f64) -> f64 {
    flow_ml_min / need_ml(1.0, pass_um, transfer_pct)
}

/// The area each limit allows, the least first; empty where nothing limits.
///
/// **Formula:** open surface `t·rate prepared`; return `t·rate of a pass`; life `t·rate of a pass / passes`; reach as said.
/// **Units:** s, m²/min; m². **Source:** common practice in the trade; arithmetic.
/// **Check:** 1 L/min, TE 0.8, 8 mil, 60 s to return → 3.94 m².
///
/// ```
/// use level_keel_core::film::section::{PatchAsked, PatchLimit, pass_m2_min, patch};
/// let asked = PatchAsked { pass_m2_min: Some(pass_m2_min(1000.0, 80.0, 203.2)), return_s: Some(60.0), reach_m2: Some(6.0), ..PatchAsked::default() };
/// let limits = patch(&asked);
/// assert_eq!(limits[0].0, PatchLimit::ReturnTime);
/// assert!((limits[0].1 - 3.94).abs() < 5e-3);
/// ```
pub fn patch(asked: &PatchAsked) -> Vec<(PatchLimit, f64)> {
    let rate = asked.pass_m2_min;
    let minutes = |s: Option<f64>| s.map(|s| s.max(0.0) / 60.0);
    let each = [
        (PatchLimit::OpenSurface, minutes(asked.open_s).zip(asked.prepare_m2_min).map(|(min, m2)| min * m2)),
        (PatchLimit::ReturnTime, minutes(asked.return_s).zip(rate).map(|(min, m2)| min * m2)),
        (PatchLimit::ChargeLife, minutes(asked.life_s).zip(rate).map(|(min, m2)| min * m2 / asked.pass_count.unwrap_or(1.0))),
        (PatchLimit::Reach, asked.reach_m2),
    ];
    let mut all: Vec<(PatchLimit, f64)> = each.into_iter().filter_map(|(limit, m2)| Some((limit, m2?))).collect();
    all.sort_by(|a, b| a.1.total_cmp(&b.1));
    all
}

/// An area in so many patches, none over the largest, all alike.
///
/// **Formula:** `n = ⌈area / largest⌉`, each `area / n`. **Units:** m². **Source:** arithmetic.
/// **Errors:** `None` where the largest is nothing, or the patches would be more than a thousand.
///
/// ```
/// use level_keel_core::film::section::patches;
/// assert_eq!(patches(10.0, 4.0), Some((3, 10.0 / 3.0)));
/// assert_eq!(patches(8.0, 4.0), Some((2, 4.0)));
/// ```
pub fn patches(area_m2: f64, largest_m2: f64) -> Option<(usize, f64)> {
    // A patch over by what rounding does is one patch.
    let count = (area_m2 / largest_m2 - 1e-9).ceil().max(1.0);
    (largest_m2 > 0.0 && count <= 1000.0).then(|| (count as usize, area_m2 / count))
}
