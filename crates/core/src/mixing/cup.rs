//! By marked cup: how high each pour stands in a straight or tapered cup, and what the marks can prove.

use super::PlannedPour;
use crate::limits;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use utoipa::ToSchema;

/// A cup, round, straight or tapered; measured inside.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Cup {
    /// Diameter at the floor.
    pub floor_mm: f64,
    /// Diameter at the rim.
    pub rim_mm: f64,
    /// Height inside.
    pub height_mm: f64,
}

/// How well an eye reads a level against a mark, half width, from memory.
pub const MARK_EYE_MM: f64 = 1.0;

impl Cup {
    /// A cup of sense.
    ///
    /// **Errors:** a refusal naming the measure.
    pub fn check(&self, prefs: Prefs) -> Result<(), Refusal> {
        for (field, mm) in [("cup.floor_mm", self.floor_mm), ("cup.rim_mm", self.rim_mm), ("cup.height_mm", self.height_mm)] {
            limits::CUP.check(field, mm, prefs)?;
        }
        Ok(())
    }

    /// Inside diameter at a level.
    ///
    /// **Formula:** `floor + (rim − floor)·h/H`. **Units:** mm. **Source:** plane geometry.
    ///
    /// ```
    /// use level_keel_core::mixing::Cup;
    /// let cup = Cup { floor_mm: 90.0, rim_mm: 120.0, height_mm: 150.0 };
    /// assert_eq!(cup.width_mm(75.0), 105.0);
    /// ```
    pub fn width_mm(&self, level_mm: f64) -> f64 {
        self.floor_mm + (self.rim_mm - self.floor_mm) * level_mm / self.height_mm
    }

    /// What stands in it up to a level.
    ///
    /// **Formula:** a frustum, `π·h/12·(d₀² + d₀·d + d²)`. **Units:** mm, mL. **Source:** solid geometry.
    ///
    /// ```
    /// let cup = level_keel_core::mixing::Cup { floor_mm: 100.0, rim_mm: 100.0, height_mm: 150.0 };
    /// assert!((cup.volume_ml(100.0) - 785.398).abs() < 0.001);
    /// ```
    pub fn volume_ml(&self, level_mm: f64) -> f64 {
        let (a, b) = (self.floor_mm, self.width_mm(level_mm));
        PI * level_mm / 12.0 * (a * a + a * b + b * b) / 1000.0
    }

    /// The level of a volume: the inverse of [`Cup::volume_ml`]; `None` when the cup is too small.
    ///
    /// **Formula:** with the taper `k = (rim − floor)/height`, `d³ = floor³ + 12·k·V/π` and `h = (d − floor)/k`;
    /// straight: `h = 4V/(π·d²)`.
    /// **Units:** mL, mm. **Source:** the frustum of a cone.
    pub fn level_mm(&self, volume_ml: f64) -> Option<f64> {
        let taper = (self.rim_mm - self.floor_mm) / self.height_mm;
        let mm3 = volume_ml * 1000.0;
        let level = if taper.abs() < 1e-9 {
            4.0 * mm3 / (PI * self.floor_mm * self.floor_mm)
        } else {
            ((self.floor_mm.powi(3) + 12.0 * taper * mm3 / PI).cbrt() - self.floor_mm) / taper
        };
        (level.is_finite() && level >= 0.0 && level <= self.height_mm + 1e-9).then_some(level)
    }

    /// How far a level lies along the wall: on a tapered cup further than it is high.
    ///
    /// **Formula:** `h·√(1 + ((rim − floor)/2/height)²)`. **Units:** mm. **Source:** Pythagoras.
    ///
    /// ```
    /// // 3-4-5: the wall goes out 30 mm while it rises 40.
    /// let cup = level_keel_core::mixing::Cup { floor_mm: 60.0, rim_mm: 120.0, height_mm: 40.0 };
    /// assert_eq!(cup.along_wall_mm(40.0), 50.0);
    /// ```
    pub fn along_wall_mm(&self, level_mm: f64) -> f64 {
        level_mm * (1.0 + ((self.rim_mm - self.floor_mm) / 2.0 / self.height_mm).powi(2)).sqrt()
    }

    /// Half the interval of a volume read between two marks at these levels.
    ///
    /// **Formula:** `π/4·w²·e` at each mark that is read, added. **Units:** mm, mL. **Source:** solid geometry; what an eye
    /// reads a mark to is from memory.
    pub fn off_ml(&self, from_mm: f64, to_mm: f64) -> f64 {
        let slice = |level: f64| PI / 4.0 * self.width_mm(level).powi(2) * MARK_EYE_MM / 1000.0;
        // The floor of an empty cup is no mark: nothing is read there.
        slice(to_mm) + if from_mm > 0.0 { slice(from_mm) } else { 0.0 }
    }
}

/// A mark of the strip.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Mark {
    /// What stands up to it when it is poured.
    pub pour: PlannedPour,
    /// Its height above the floor inside.
    pub level_mm: f64,
    /// Half the interval of the mass poured between this mark and the one under it.
    pub off_g: f64,
}

/// The marks of a plan on a cup, from the floor up. What has no density on the sheet has no mark.
///
/// **Errors:** `cup-too-small`, saying how much it holds.
pub fn marks(cup: &Cup, plan: &[PlannedPour], prefs: Prefs) -> Result<Vec<Mark>, Refusal> {
    cup.check(prefs)?;
    let (mut volume, mut below) = (0.0, 0.0);
    let mut marks = Vec::new();
    for pour in plan.iter().filter(|p| p.volume_ml > 0.0) {
        volume += pour.volume_ml;
        let level_mm = cup.level_mm(volume).ok_or_else(|| {
            let holds = crate::quantity::show(cup.volume_ml(cup.height_mm), crate::quantity::QuantityKind::Volume, prefs).text;
            Refusal::bad_input(
                "cup-too-small",
                "cup.height_mm",
                format!("This cup holds {holds}: less than the plan. Take a larger one."),
            )
        })?;
        let off_g = cup.off_ml(below, level_mm) * pour.mass_g / pour.volume_ml;
        marks.push(Mark { pour: *pour, level_mm, off_g });
        below = level_mm;
    }
    Ok(marks)
}
