//! Film: wet and dry, how much paint a coat needs, and what a comb gauge says.

mod comb_kept;
pub mod laps;
pub mod pace;
pub mod section;
pub mod speed;

pub use comb_kept::{CombInWords, CombKept, UsualComb, teeth_text};

use crate::limits;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::verdict::Measured;
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Whether the film asked for is wet or dry.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FilmIs {
    /// Wet.
    Wet,
    /// Dry.
    Dry,
}

/// Wet film that dries to a given film.
///
/// **Formula:** `WFT = DFT / VS`. **Units:** µm, per cent. **Source:** arithmetic of volume solids.
/// **Check:** 2.2 mil dry at 56.36 % → 3.903 mil wet.
pub fn wet_for_dry_um(dry_um: f64, solids_pct: f64) -> f64 {
    dry_um / (solids_pct / 100.0)
}

/// Dry film left by a wet film: the inverse of [`wet_for_dry_um`].
///
/// **Formula:** `DFT = WFT × VS`. **Units:** µm, per cent by volume. **Source:** arithmetic: what evaporates leaves the solids.
///
/// ```
/// assert!((level_keel_core::film::dry_of_wet_um(100.0, 62.0) - 62.0).abs() < 1e-9);
/// ```
pub fn dry_of_wet_um(wet_um: f64, solids_pct: f64) -> f64 {
    wet_um * solids_pct / 100.0
}

/// Paint needed for a coat.
///
/// **Formula:** `area × WFT / TE`; a square metre at one micrometre is one millilitre.
/// **Check:** 1 US gal on 80 ft², nothing lost = 20.05 mil. **Source:** arithmetic.
/// **Units:** m², µm, per cent; mL.
///
/// ```
/// assert_eq!(level_keel_core::film::need_ml(10.0, 100.0, 50.0), 2000.0);
/// ```
pub fn need_ml(area_m2: f64, wet_um: f64, transfer_pct: f64) -> f64 {
    area_m2 * wet_um / (transfer_pct / 100.0)
}

/// The need as a sum on paper.
pub fn need_working(area_m2: f64, wet_um: f64, transfer_pct: f64, prefs: Prefs) -> Working {
    let mut w = Working::new("Paint needed", "Area × wet film ÷ transfer efficiency");
    let area = show(area_m2, QuantityKind::Area, prefs).text;
    let film = show(wet_um, QuantityKind::Film, prefs).text;
    let te = show(transfer_pct, QuantityKind::Percent, prefs).text;
    w.line("On the part", format!("{area} × {film}"), area_m2 * wet_um, QuantityKind::Volume, prefs);
    w.line("To put on", format!("÷ {te} that stays"), need_ml(area_m2, wet_um, transfer_pct), QuantityKind::Volume, prefs);
    w
}

/// Wet film by use: what left the gun, what of it stayed, on what area.
///
/// **Formula:** `wet = volume × TE ÷ area`, each with its interval, worst case carried. **Units:** mL, per cent, m²; µm out,
/// for a millilitre on a square metre is a micrometre. **Source:** arithmetic.
/// **Errors:** `None` where the area may be nothing.
/// **Check:** 3.52 kg of 1.28 kg/L at 62 ± 10 % on 14.6 ± 0.7 m² → 116.8 µm, 93.5 to 142.4.
///
/// ```
/// use level_keel_core::{film::by_use_um, verdict::Measured};
/// let um = by_use_um(Measured::pm(2750.0, 0.0), Measured::pm(62.0, 10.0), Measured::pm(14.6, 0.7)).unwrap();
/// assert!((um.lo - 93.5).abs() < 0.05 && (um.value - 116.8).abs() < 0.05 && (um.hi - 142.4).abs() < 0.05);
/// ```
pub fn by_use_um(volume_ml: Measured, transfer_pct: Measured, area_m2: Measured) -> Option<Measured> {
    let um = |ml: f64, pct: f64, m2: f64| (ml * pct / 100.0 / m2).max(0.0);
    (area_m2.lo > 0.0).then(|| Measured {
        lo: um(volume_ml.lo, transfer_pct.lo, area_m2.hi),
        value: um(volume_ml.value, transfer_pct.value, area_m2.value),
        hi: um(volume_ml.hi, transfer_pct.hi, area_m2.lo),
    })
}

/// What a comb reading is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CombOf {
    /// Everything wet so far: wet on wet.
    Total,
    /// This pass alone: on a dried layer.
    ThisPass,
}

/// The film between the last wetted tooth and the next.
///
/// **Source:** ASTM D4414: above the last wetted tooth, below the next. Tooth 0 (`None`) is under the
/// first. **Errors:** a tooth that is not on the comb; the last tooth wetted (the film is off the comb).
/// **Rule:** from the last wetted tooth to the next. **Units:** µm.
pub fn comb(teeth_um: &[f64], wetted_um: Option<f64>, prefs: Prefs) -> Result<Measured, Refusal> {
    for tooth in teeth_um {
        limits::FILM.check("teeth_um", *tooth, prefs)?;
    }
    comb_as_written(teeth_um, wetted_um, prefs)
}

/// As [`comb`], of a reading that was written before: no limit of today is asked of it.
///
/// **Rule:** the same. **Units:** µm. **Source:** ASTM D4414.
pub fn comb_as_written(teeth_um: &[f64], wetted_um: Option<f64>, prefs: Prefs) -> Result<Measured, Refusal> {
    let mut teeth = teeth_um.to_vec();
    teeth.sort_by(f64::total_cmp);
    let field = "tooth_um";
    let first = *teeth.first().ok_or_else(|| Refusal::bad_input("missing", "teeth_um", "The comb has no teeth."))?;
    let Some(wetted) = wetted_um else {
        return Ok(Measured::between(0.0, first));
    };
    // Teeth are entered as people write them, in mil or µm: allow for rounding, not for another tooth.
    let at = teeth.iter().position(|t| (t - wetted).abs() < 0.5).ok_or_else(|| {
        Refusal::bad_input(
            "not-on-comb",
            field,
            format!("There is no tooth of {} on this comb.", show(wetted, QuantityKind::Film, prefs).text),
        )
    })?;
    match teeth.get(at + 1) {
        Some(next) => Ok(Measured::between(teeth[at], *next)),
        None => Err(Refusal::bad_input(
            "comb-too-short",
            field,
            "The last tooth is wet: the film is thicker than this comb reads. Take a longer comb.",
        )),
    }
}

/// This pass from two totals, or a total from a pass and the total before: interval arithmetic.
///
/// **Formula:** `[a.lo − b.hi, a.hi − b.lo]`, never under nothing. **Units:** as given. **Source:** interval arithmetic.
///
/// ```
/// use level_keel_core::{film::less, verdict::Measured};
/// let pass = less(Measured::between(100.0, 120.0), Measured::between(40.0, 50.0));
/// assert_eq!((pass.lo, pass.hi), (50.0, 80.0));
/// ```
pub fn less(total: Measured, before: Measured) -> Measured {
    Measured {
        lo: (total.lo - before.hi).max(0.0),
        value: (total.value - before.value).max(0.0),
        hi: (total.hi - before.lo).max(0.0),
    }
}

/// Sum of two intervals.
///
/// **Formula:** `[a.lo + b.lo, a.hi + b.hi]`. **Units:** as given. **Source:** interval arithmetic.
///
/// ```
/// use level_keel_core::{film::plus, verdict::Measured};
/// let total = plus(Measured::between(1.0, 2.0), Measured::between(10.0, 20.0));
/// assert_eq!((total.lo, total.hi), (11.0, 22.0));
/// ```
pub fn plus(a: Measured, b: Measured) -> Measured {
    Measured { lo: a.lo + b.lo, value: a.value + b.value, hi: a.hi + b.hi }
}
