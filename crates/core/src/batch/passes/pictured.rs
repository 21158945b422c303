//! The part as it is drawn: its zones by their shapes, one over the other, or side by side where they are many.

use crate::batch::Record;
use crate::batch::entries::Zone;
use crate::takeoff::Shape;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use utoipa::ToSchema;
use uuid::Uuid;

/// The outline of a zone.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Outline {
    /// A flat sheet, or a mantle unrolled.
    Flat,
    /// A mantle of a cylinder or pipe, unrolled: its two ends are one edge.
    Unrolled,
    /// A dome.
    Dome,
    /// A cone, narrow above.
    Cone,
    /// A channel or rail: bottom with two sides.
    Channel,
    /// A door: its sides side by side.
    Door,
    /// A box: its faces as a net.
    Net,
}

/// A zone in the picture; places run from 0 to 1 across and down.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ZoneDrawn {
    pub id: Option<Uuid>,
    pub outline: Outline,
    pub x: f64,
    pub y: f64,
    pub wide: f64,
    pub high: f64,
    /// Sides of a door, faces that are drawn apart.
    pub apart: u32,
}

/// So many are drawn one over the other; more stand in rows.
const STACKED: usize = 5;
/// Width of the picture over its height.
const ASPECT: f64 = 1.25;
/// Part of a place that stays free between two zones.
const GAP: f64 = 0.08;

/// What a shape looks like laid flat: its outline, its width over its height, and how many faces stand side by side.
fn laid_flat(shape: &Shape) -> (Outline, f64, u32) {
    match *shape {
        Shape::Plate { width_mm, height_mm, .. } => (Outline::Flat, width_mm / height_mm, 1),
        Shape::Box { .. } => (Outline::Net, 4.0 / 3.0, 1),
        Shape::Cylinder { diameter_mm, height_mm, .. } => (Outline::Unrolled, PI * diameter_mm / height_mm, 1),
        Shape::Cone { diameter_mm, height_mm } => (Outline::Cone, diameter_mm / height_mm, 1),
        Shape::Dome { diameter_mm, height_mm } => (Outline::Dome, diameter_mm / height_mm, 1),
        Shape::Pipe { diameter_mm, length_mm } => (Outline::Unrolled, length_mm / (PI * diameter_mm), 1),
        Shape::Rail { girth_mm, length_mm } => (Outline::Channel, length_mm / girth_mm, 1),
        Shape::Door { width_mm, height_mm, side_count, .. } => {
            let sides = side_count.round().clamp(1.0, 4.0);
            (Outline::Door, sides * width_mm / height_mm, sides as u32)
        }
    }
}

/// The zones as they are drawn.
///
/// **Rule:** each as its shape lies flat, as large as its area allows beside the others; up to five one over the other in the order of
/// the work, more of them in rows. A part without zones is one sheet. **Source:** ours.
pub fn drawn(record: &Record) -> Vec<ZoneDrawn> {
    let zones: &[Zone] = record.aim().map_or(&[], |aim| &aim.zones);
    let whole = [(None, None, 1.0)];
    let each: Vec<(Option<Uuid>, Option<Shape>, f64)> = match zones {
        [] => whole.to_vec(),
        zones => zones.iter().map(|z| (Some(z.id), z.shape, z.area_m2.max(0.0))).collect(),
    };
    let most = each.iter().map(|(.., m2)| *m2).fold(f64::MIN_POSITIVE, f64::max);
    let columns = if each.len() <= STACKED { 1 } else { (each.len() as f64 * ASPECT).sqrt().ceil() as usize };
    let rows = each.len().div_ceil(columns);
    let (cell_w, cell_h) = (1.0 / columns as f64, 1.0 / rows as f64);
    let one = |(i, (id, shape, m2)): (usize, (Option<Uuid>, Option<Shape>, f64))| {
        let (outline, over, apart) = shape.as_ref().map_or((Outline::Flat, 2.4, 1), laid_flat);
        // A very long or very high one is drawn shorter than it is, so that a figure fits into it.
        let over = over.clamp(0.8, 5.0);
        // Not under three quarters of the room: the figure in it is read from two steps away.
        let share = (m2 / most).sqrt().clamp(0.75, 1.0);
        let room = (cell_w * (1.0 - GAP) * share, cell_h * (1.0 - GAP) * share);
        let wide = room.0.min(room.1 * over / ASPECT);
        // In a stack the height is what is scarce: what is not as wide as the room is still as high.
        let high = if columns == 1 { room.1 } else { cell_h * (1.0 - GAP) };
        let wide = if columns == 1 { wide.max(0.45 * room.0) } else { cell_w * (1.0 - GAP) };
        let (column, row) = (i % columns, i / columns);
        ZoneDrawn {
            id,
            outline,
            x: (column as f64 + 0.5) * cell_w - wide / 2.0,
            y: (row as f64 + 0.5) * cell_h - high / 2.0,
            wide,
            high,
            apart,
        }
    };
    each.into_iter().enumerate().map(one).collect()
}
