//! Take-off: the area of a job from simple shapes, with its uncertainty.

use crate::limits;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::verdict::Measured;
use crate::working::Working;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use strum::IntoEnumIterator;
use utoipa::ToSchema;

/// A simple shape; lengths in millimetres.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema, strum::EnumIter)]
#[serde(tag = "is", rename_all = "snake_case", deny_unknown_fields)]
#[allow(missing_docs)]
pub enum Shape {
    /// A flat plate, so many sides of it.
    Plate { width_mm: f64, height_mm: f64, side_count: f64 },
    /// A box, all six faces.
    Box { width_mm: f64, height_mm: f64, length_mm: f64 },
    /// The mantle of a cylinder and so many of its ends.
    Cylinder { diameter_mm: f64, height_mm: f64, end_count: f64 },
    /// The mantle of a cone, by its height.
    Cone { diameter_mm: f64, height_mm: f64 },
    /// The cap of a sphere.
    Dome { diameter_mm: f64, height_mm: f64 },
    /// A run of pipe, outside.
    Pipe { diameter_mm: f64, length_mm: f64 },
    /// A rail or profile: the girth round it times its length.
    Rail { girth_mm: f64, length_mm: f64 },
    /// A door with its edges, so many sides.
    Door { width_mm: f64, height_mm: f64, thick_mm: f64, side_count: f64 },
}

/// A shape on the job, so many times.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeOffShape {
    /// What it is.
    pub shape: Shape,
    /// How many.
    pub piece_count: f64,
    /// How far its area may be off, either way.
    #[serde(default)]
    pub off_pct: f64,
    /// Share added for corners, overlaps and edges.
    #[serde(default)]
    pub corner_pct: f64,
    /// The zone of the part it is, or is a piece of; missing: it makes no zone.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub zone: Option<String>,
}

/// Most pieces of one take-off.
pub const MOST_SHAPES: usize = 40;

impl TakeOffShape {
    /// Its area with all its pieces and its corners.
    ///
    /// **Formula:** `area × count × (1 + corner share)`. **Units:** m². **Source:** plane and solid geometry.
    pub fn area_m2(&self) -> f64 {
        self.shape.area_m2() * self.piece_count * (1.0 + self.corner_pct / 100.0)
    }
}

const MM2_PER_M2: f64 = 1e6;

impl Shape {
    /// The word for it.
    pub fn word(&self) -> &'static str {
        match self {
            Shape::Plate { .. } => "plate",
            Shape::Box { .. } => "box",
            Shape::Cylinder { .. } => "cylinder",
            Shape::Cone { .. } => "cone",
            Shape::Dome { .. } => "dome",
            Shape::Pipe { .. } => "pipe run",
            Shape::Rail { .. } => "rail",
            Shape::Door { .. } => "door",
        }
    }

    /// Its measures by field, for bounds and words.
    fn measures(&self) -> Vec<(&'static str, f64)> {
        match *self {
            Shape::Plate { width_mm, height_mm, .. } => vec![("width_mm", width_mm), ("height_mm", height_mm)],
            Shape::Box { width_mm, height_mm, length_mm } => {
                vec![("width_mm", width_mm), ("height_mm", height_mm), ("length_mm", length_mm)]
            }
            Shape::Cylinder { diameter_mm, height_mm, .. }
            | Shape::Cone { diameter_mm, height_mm }
            | Shape::Dome { diameter_mm, height_mm } => vec![("diameter_mm", diameter_mm), ("height_mm", height_mm)],
            Shape::Pipe { diameter_mm, length_mm } => vec![("diameter_mm", diameter_mm), ("length_mm", length_mm)],
            Shape::Rail { girth_mm, length_mm } => vec![("girth_mm", girth_mm), ("length_mm", length_mm)],
            Shape::Door { width_mm, height_mm, thick_mm, .. } => {
                vec![("width_mm", width_mm), ("height_mm", height_mm), ("thick_mm", thick_mm)]
            }
        }
    }

    fn sides(&self) -> Option<(&'static str, f64)> {
        match *self {
            Shape::Plate { side_count, .. } | Shape::Door { side_count, .. } => Some(("side_count", side_count)),
            Shape::Cylinder { end_count, .. } => Some(("end_count", end_count)),
            Shape::Box { .. } | Shape::Cone { .. } | Shape::Dome { .. } | Shape::Pipe { .. } | Shape::Rail { .. } => None,
        }
    }

    /// Its surface.
    ///
    /// **Formula:** plate `w·h·sides`; box `2(wh + wl + hl)`; cylinder `π·d·h + ends·π·d²/4`; cone `π·d/2·√(d²/4 + h²)`;
    /// dome `π(d²/4 + h²)`; pipe `π·d·l`; rail `girth·l`; door `w·h·sides + 2·t·(w + h)`.
    /// **Units:** mm in, m² out. **Source:** plane and solid geometry.
    ///
    /// ```
    /// use level_keel_core::takeoff::Shape;
    /// let ball = Shape::Dome { diameter_mm: 1000.0, height_mm: 500.0 };
    /// assert!((ball.area_m2() - std::f64::consts::PI / 2.0).abs() < 1e-12);
    /// ```
    pub fn area_m2(&self) -> f64 {
        let mm2 = match *self {
            Shape::Plate { width_mm, height_mm, side_count } => width_mm * height_mm * side_count,
            Shape::Box { width_mm: w, height_mm: h, length_mm: l } => 2.0 * (w * h + w * l + h * l),
            Shape::Cylinder { diameter_mm: d, height_mm: h, end_count } => PI * d * h + end_count * PI * d * d / 4.0,
            Shape::Cone { diameter_mm: d, height_mm: h } => PI * d / 2.0 * (d * d / 4.0 + h * h).sqrt(),
            Shape::Dome { diameter_mm: d, height_mm: h } => PI * (d * d / 4.0 + h * h),
            Shape::Pipe { diameter_mm, length_mm } => PI * diameter_mm * length_mm,
            Shape::Rail { girth_mm, length_mm } => girth_mm * length_mm,
            Shape::Door { width_mm: w, height_mm: h, thick_mm: t, side_count } => w * h * side_count + 2.0 * t * (w + h),
        };
        mm2 / MM2_PER_M2
    }
}

/// What a shape asks of whoever takes it off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ShapeAsked {
    /// Its name on the wire.
    pub is: String,
    /// What it is called.
    pub word: &'static str,
    /// Its measures, in the order they are taken.
    pub fields: Vec<MeasureAsked>,
}

/// A measure of a shape.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MeasureAsked {
    /// The field.
    pub name: &'static str,
    /// What it is called.
    pub label: &'static str,
}

/// Every shape with what it asks.
///
/// ```
/// let pipe = level_keel_core::takeoff::shapes_asked().into_iter().find(|s| s.is == "pipe").unwrap();
/// assert_eq!(pipe.fields.iter().map(|f| f.label).collect::<Vec<_>>(), ["Across", "Long"]);
/// ```
pub fn shapes_asked() -> Vec<ShapeAsked> {
    let label = |name| match name {
        "width_mm" => "Wide",
        "height_mm" => "High",
        "diameter_mm" => "Across",
        "girth_mm" => "Round it",
        "thick_mm" => "Thick",
        "side_count" => "Sides",
        "end_count" => "Ends",
        "length_mm" => "Long",
        // A measure nobody named shows as its field: a test holds that there is none.
        unnamed => unnamed,
    };
    Shape::iter()
        .map(|shape| ShapeAsked {
            is: serde_json::to_value(shape).ok().and_then(|v| Some(v["is"].as_str()?.to_string())).unwrap_or_default(),
            word: shape.word(),
            fields: shape
                .measures()
                .into_iter()
                .chain(shape.sides())
                .map(|(name, _)| MeasureAsked { name, label: label(name) })
                .collect(),
        })
        .collect()
}

/// The area of a job with its interval, and the sum as on paper.
///
/// **Formula:** each piece `area × count × (1 + corner share)`, ± its own per cent; the uncertainties add, worst case.
/// **Errors:** a refusal naming the piece and field by its path, such as `takeoff[1].shape.width_mm`.
/// **Units:** mm, per cent; m². **Source:** plane and solid geometry; interval arithmetic.
///
/// ```
/// use level_keel_core::takeoff::{TakeOffShape, Shape, area};
/// let plate = Shape::Plate { width_mm: 1000.0, height_mm: 2000.0, side_count: 2.0 };
/// let piece = TakeOffShape { shape: plate, piece_count: 3.0, off_pct: 10.0, corner_pct: 0.0, zone: None };
/// let (m2, _) = area(&[piece], Default::default()).unwrap();
/// assert!((m2.lo - 10.8).abs() < 1e-9 && (m2.value - 12.0).abs() < 1e-9 && (m2.hi - 13.2).abs() < 1e-9);
/// ```
pub fn area(pieces: &[TakeOffShape], prefs: Prefs) -> Result<(Measured, Working), Refusal> {
    if pieces.is_empty() || pieces.len() > MOST_SHAPES {
        return Err(Refusal::bad_input("too-many", "takeoff", format!("A take-off has 1 to {MOST_SHAPES} pieces.")));
    }
    let mut sum = Measured { lo: 0.0, value: 0.0, hi: 0.0 };
    let mut w = Working::new("Area by take-off", "Plane and solid geometry; uncertainties added, worst case");
    for (i, piece) in pieces.iter().enumerate() {
        let at = |field: &str| format!("takeoff[{i}].{field}");
        for (field, mm) in piece.shape.measures() {
            limits::TAKE_OFF.check(&at(&format!("shape.{field}")), mm, prefs)?;
        }
        if let Some((field, n)) = piece.shape.sides() {
            limits::SIDES.check(&at(&format!("shape.{field}")), n, prefs)?;
        }
        limits::COUNT.check(&at("piece_count"), piece.piece_count, prefs)?;
        limits::OFF.check(&at("off_pct"), piece.off_pct, prefs)?;
        limits::OFF.check(&at("corner_pct"), piece.corner_pct, prefs)?;
        if let Some(zone) = &piece.zone {
            limits::check_text(&at("zone"), zone, limits::LABEL_CHARS)?;
        }
        let m2 = piece.area_m2();
        let off = m2 * piece.off_pct / 100.0;
        sum = Measured { lo: sum.lo + m2 - off, value: sum.value + m2, hi: sum.hi + m2 + off };
        let say = |v, k| show(v, k, prefs).text;
        let sizes: Vec<String> = piece.shape.measures().iter().map(|(_, mm)| say(*mm, QuantityKind::Length)).collect();
        let mut figures = format!("{} × {}", say(piece.piece_count, QuantityKind::Count), sizes.join(" × "));
        if piece.corner_pct > 0.0 {
            figures = format!("{figures}, {} for corners", say(piece.corner_pct, QuantityKind::Percent));
        }
        if piece.off_pct > 0.0 {
            figures = format!("{figures}, ± {}", say(piece.off_pct, QuantityKind::Percent));
        }
        w.line(piece.shape.word(), figures, m2, QuantityKind::Area, prefs);
    }
    limits::AREA.check("area_m2", sum.value, prefs)?;
    let span = format!("{} to {}", show(sum.lo, QuantityKind::Area, prefs).text, show(sum.hi, QuantityKind::Area, prefs).text);
    w.line("Area", span, sum.value, QuantityKind::Area, prefs);
    Ok((sum, w))
}
