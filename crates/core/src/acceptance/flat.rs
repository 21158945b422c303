//! A shape laid flat as its faces, so that a place on it can be drawn by area and found again with a tape.

use crate::takeoff::Shape;
use std::f64::consts::{PI, TAU};

/// A face of a shape, laid flat; lengths in millimetres.
#[derive(Debug, Clone, PartialEq)]
pub struct Face {
    /// What it is called on the shape; empty where it is the only one.
    pub name: String,
    /// Its geometry.
    pub lies: Lies,
    /// Where it stands in the picture of the zone: its corner and size, 0 to 1.
    pub drawn: [f64; 4],
}

/// How a face lies flat.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub enum Lies {
    /// A rectangle; `seam`: its left and right, or its top and bottom, are one edge and none at all.
    Rect { wide: f64, high: f64, seam: Seam },
    /// A round end.
    Disk { radius: f64 },
    /// The mantle of a cone, from its top down.
    Cone { radius: f64, slant: f64 },
    /// The cap of a sphere, from its top down.
    Cap { sphere: f64, high: f64 },
}

/// Which edges of a rectangle are none.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Seam {
    /// All four are edges.
    None,
    /// Left and right meet.
    Upright,
    /// Top and bottom meet.
    Level,
}

/// A place on a face.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Place {
    /// From the left, or round.
    pub across_mm: f64,
    /// From the top.
    pub down_mm: f64,
    /// To the nearest edge.
    pub edge_mm: f64,
    /// Place in the picture of the face, 0 to 1.
    pub x: f64,
    /// As well.
    pub y: f64,
}

impl Lies {
    /// Its area.
    ///
    /// **Formula:** `w·h`; `π·r²`; `π·r·s`; `2·π·R·h`. **Units:** mm in, mm² out. **Source:** solid geometry.
    pub fn area_mm2(self) -> f64 {
        match self {
            Lies::Rect { wide, high, .. } => wide * high,
            Lies::Disk { radius } => PI * radius * radius,
            Lies::Cone { radius, slant } => PI * radius * slant,
            Lies::Cap { sphere, high } => TAU * sphere * high,
        }
    }

    /// The place at two shares of chance, each 0 to 1: equal shares of both are equal areas.
    ///
    /// **Formula:** of a disk `ρ = r·√u`; of a cone `s = slant·√u` from the top; of a cap the height `h·u` (Archimedes: zones of one
    /// height have one area). **Units:** mm. **Source:** solid geometry.
    pub fn place(self, u: f64, v: f64) -> Place {
        match self {
            Lies::Rect { wide, high, seam } => {
                let (across_mm, down_mm) = (u * wide, v * high);
                let upright = across_mm.min(wide - across_mm);
                let level = down_mm.min(high - down_mm);
                let edge_mm = match seam {
                    Seam::None => upright.min(level),
                    Seam::Upright => level,
                    Seam::Level => upright,
                };
                Place { across_mm, down_mm, edge_mm, x: u, y: v }
            }
            Lies::Disk { radius } => {
                let (out, turn) = (radius * u.sqrt(), TAU * v);
                let (across_mm, down_mm) = (radius + out * turn.cos(), radius + out * turn.sin());
                Place { across_mm, down_mm, edge_mm: radius - out, x: across_mm / radius / 2.0, y: down_mm / radius / 2.0 }
            }
            Lies::Cone { radius, slant } => {
                let share = u.sqrt();
                // The picture is narrower above: six tenths of the width at the top.
                let x = 0.5 + (v - 0.5) * (0.6 + 0.4 * share);
                Place { across_mm: TAU * radius * share * v, down_mm: slant * share, edge_mm: slant * (1.0 - share), x, y: share }
            }
            Lies::Cap { sphere, high } => {
                let arc = |h: f64| sphere * (1.0 - h / sphere).clamp(-1.0, 1.0).acos();
                let (down_mm, whole) = (arc(high * u), arc(high));
                let ring = (2.0 * sphere * high * u - (high * u).powi(2)).max(0.0).sqrt();
                let y = down_mm / whole;
                let x = 0.5 + (v - 0.5) * (1.0 - (1.0 - y).powi(2)).sqrt();
                Place { across_mm: TAU * ring * v, down_mm, edge_mm: whole - down_mm, x, y }
            }
        }
    }
}

const WHOLE: [f64; 4] = [0.0, 0.0, 1.0, 1.0];

fn rect(wide: f64, high: f64, seam: Seam) -> Lies {
    Lies::Rect { wide, high, seam }
}

/// So many sides: every one drawn in the same place, or side by side.
fn sides(count: f64, lies: Lies, apart: bool) -> Vec<Face> {
    let n = count.round().max(1.0) as usize;
    let one = |i: usize| Face {
        name: if n == 1 { String::new() } else { format!("side {}", i + 1) },
        lies,
        drawn: if apart { [i as f64 / n as f64, 0.0, 1.0 / n as f64, 1.0] } else { WHOLE },
    };
    (0..n).map(one).collect()
}

/// The faces of a shape that are coated.
///
/// **Rule:** mantles unrolled, sides and ends as they are counted, a box as its six faces. **Units:** mm. **Source:** plane and solid
/// geometry; their areas add up to [`Shape::area_m2`].
///
/// ```
/// use level_keel_core::{acceptance::flat::faces, takeoff::Shape};
/// let drum = Shape::Cylinder { diameter_mm: 600.0, height_mm: 900.0, end_count: 1.0 };
/// let m2: f64 = faces(&drum).iter().map(|f| f.lies.area_mm2() / 1e6).sum();
/// assert!((m2 - drum.area_m2()).abs() < 1e-9);
/// ```
pub fn faces(shape: &Shape) -> Vec<Face> {
    let face = |name: &str, lies: Lies, drawn: [f64; 4]| Face { name: name.into(), lies, drawn };
    match *shape {
        Shape::Plate { width_mm, height_mm, side_count } => sides(side_count, rect(width_mm, height_mm, Seam::None), false),
        Shape::Box { width_mm: w, height_mm: h, length_mm: l } => {
            let third = 1.0 / 3.0;
            vec![
                face("front", rect(w, h, Seam::None), [0.0, third, 0.25, third]),
                face("right", rect(l, h, Seam::None), [0.25, third, 0.25, third]),
                face("back", rect(w, h, Seam::None), [0.5, third, 0.25, third]),
                face("left", rect(l, h, Seam::None), [0.75, third, 0.25, third]),
                face("top", rect(w, l, Seam::None), [0.25, 0.0, 0.25, third]),
                face("bottom", rect(w, l, Seam::None), [0.25, 2.0 * third, 0.25, third]),
            ]
        }
        Shape::Cylinder { diameter_mm: d, height_mm, end_count } => {
            let ends = end_count.round().clamp(0.0, 2.0) as usize;
            let mantle = face(if ends > 0 { "mantle" } else { "" }, rect(PI * d, height_mm, Seam::Upright), WHOLE);
            let end = |i: usize| {
                let name = if ends == 1 { "end".into() } else { format!("end {}", i + 1) };
                // The picture shows the mantle: an end is marked at its rim.
                Face { name, lies: Lies::Disk { radius: d / 2.0 }, drawn: [0.3, i as f64 * 0.94, 0.4, 0.06] }
            };
            std::iter::once(mantle).chain((0..ends).map(end)).collect()
        }
        Shape::Cone { diameter_mm: d, height_mm: h } => {
            let radius = d / 2.0;
            vec![face("", Lies::Cone { radius, slant: (radius * radius + h * h).sqrt() }, WHOLE)]
        }
        Shape::Dome { diameter_mm: d, height_mm: high } => {
            let sphere = (d * d / 4.0 + high * high) / (2.0 * high);
            vec![face("", Lies::Cap { sphere, high }, WHOLE)]
        }
        Shape::Pipe { diameter_mm, length_mm } => vec![face("", rect(length_mm, PI * diameter_mm, Seam::Level), WHOLE)],
        Shape::Rail { girth_mm, length_mm } => vec![face("", rect(length_mm, girth_mm, Seam::None), WHOLE)],
        Shape::Door { width_mm: w, height_mm: h, thick_mm, side_count } => {
            let mut all = sides(side_count, rect(w, h, Seam::None), true);
            all.push(face("edge", rect(2.0 * (w + h), thick_mm, Seam::Upright), [0.0, 0.0, 1.0, 0.03]));
            all
        }
    }
}
