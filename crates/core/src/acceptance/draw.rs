//! Spots drawn by lot: uniform by area over the zones laid flat, an inch from edges, by a generator that is named on the card.

use super::flat::{Face, Lies, Place, Seam, faces};
use super::spots::{SPOTS_OF_AREA, areas_asked};
use crate::takeoff::Shape;
use rand_pcg::Pcg64;
use rand_pcg::rand_core::Rng;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;

/// The generator, as the card names it.
pub const GENERATOR: &str = "PCG64 (XSL RR 128/64), rand_pcg 0.10, seeded by SHA-256 of the seed's text; draw 1";
/// Signs of a seed: without those that are read as another.
const SEED_SIGNS: &[u8; 32] = b"23456789ABCDEFGHJKLMNPQRSTUVWXYZ";
const SEED_LONG: usize = 6;
/// So far from an edge, in millimetres: an inch.
pub const FROM_EDGE_MM: f64 = 25.4;
/// So often a place is drawn anew before a zone counts as too narrow to keep the inch.
const TRIES: usize = 200;
/// A zone without a shape is drawn as a sheet so many times as wide as high.
const SHEET_OVER: f64 = 2.4;

/// A zone that spots are drawn on.
#[derive(Debug, Clone, PartialEq)]
pub struct DrawnOn {
    /// The zone; `None`: the whole part.
    pub id: Option<Uuid>,
    /// Its area.
    pub area_m2: f64,
    /// Its shape, where the take-off knows it.
    pub shape: Option<Shape>,
}

/// A spot drawn.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DrawnSpot {
    /// Of which area, from 1.
    pub area_no: u32,
    /// Which of its spots, from 1.
    pub spot_no: u32,
    /// Which part of 100 ft² along the zones its area is, from 0.
    pub cell: u32,
    /// In which zone; missing: the part has none.
    #[serde(default)]
    pub zone: Option<Uuid>,
    /// Which piece and face of it, in words; empty where there is one.
    #[serde(default)]
    pub face: String,
    /// From its left edge, or round it; missing where the zone was not taken off by shape.
    #[serde(default)]
    pub across_mm: Option<f64>,
    /// From its top.
    #[serde(default)]
    pub down_mm: Option<f64>,
    /// Place in the picture of the zone, 0 to 1.
    pub x: f64,
    /// As well.
    pub y: f64,
}

/// The seed of a draw, out of the hash at the head of the log: nobody chooses it.
///
/// ```
/// let seed = level_keel_core::acceptance::draw::seed_of("5f3c");
/// assert_eq!(seed.len(), 6);
/// assert_ne!(seed, level_keel_core::acceptance::draw::seed_of("5f3d"));
/// ```
pub fn seed_of(head_hash: &str) -> String {
    let hash = Sha256::digest(format!("level-keel spots {head_hash}"));
    hash.iter().take(SEED_LONG).map(|byte| char::from(SEED_SIGNS[usize::from(byte % 32)])).collect()
}

/// Chances out of a seed.
pub struct Lot(Pcg64);

impl Lot {
    /// Of a seed: the first 16 bytes of its hash are the state, the others the stream, each big end first.
    pub fn new(seed: &str) -> Lot {
        let hash = Sha256::digest(seed.as_bytes());
        let half = |from: usize| hash[from..from + 16].iter().fold(0_u128, |n, byte| (n << 8) | u128::from(*byte));
        Lot(Pcg64::new(half(0), half(16)))
    }

    /// The next chance, 0 up to 1.
    ///
    /// **Formula:** the upper 53 bits over 2⁵³. **Source:** the usual way to a double, as numpy's `Generator.random` has it.
    pub fn chance(&mut self) -> f64 {
        (self.0.next_u64() >> 11) as f64 / (1_u64 << 53) as f64
    }

    fn below(&mut self, n: usize) -> usize {
        ((self.chance() * n as f64) as usize).min(n.saturating_sub(1))
    }
}

/// The spots of a part: five in each area that is measured.
///
/// **Rule:** the zones one after the other are cut into areas of 100 ft²; as many as [`areas_asked`] says are measured, taken by lot where
/// not all are; in each five places uniform by area. **Units:** m², mm. **Source:** SSPC-PA 2, from memory, for the numbers; ours for the
/// draw.
pub fn draw(zones: &[DrawnOn], seed: &str) -> Vec<DrawnSpot> {
    let whole: f64 = zones.iter().map(|z| z.area_m2.max(0.0)).sum();
    if whole <= 0.0 {
        return Vec::new();
    }
    let asked = areas_asked(whole);
    let mut lot = Lot::new(seed);
    let mut left: Vec<usize> = (0..asked.of).collect();
    let mut chosen: Vec<usize> = (0..asked.count)
        .map(|_| if asked.count == asked.of { left.remove(0) } else { left.remove(lot.below(left.len())) })
        .collect();
    chosen.sort_unstable();
    let each = whole / asked.of as f64;
    let spots = chosen
        .into_iter()
        .zip(1_u32..)
        .flat_map(|(cell, area_no)| (1..=SPOTS_OF_AREA as u32).map(move |spot_no| Which { area_no, spot_no, cell: cell as u32 }));
    spots.map(|which| one(zones, &mut lot, which, each)).collect()
}

/// The spot again, elsewhere in its area: `moved` says how often it was drawn before.
pub fn draw_again(zones: &[DrawnOn], seed: &str, spot: &DrawnSpot, moved: usize) -> DrawnSpot {
    let whole: f64 = zones.iter().map(|z| z.area_m2.max(0.0)).sum();
    let mut lot = Lot::new(&format!("{seed}/{}.{}/{moved}", spot.area_no, spot.spot_no));
    let which = Which { area_no: spot.area_no, spot_no: spot.spot_no, cell: spot.cell };
    one(zones, &mut lot, which, whole / areas_asked(whole).of as f64)
}

#[derive(Clone, Copy)]
struct Which {
    area_no: u32,
    spot_no: u32,
    cell: u32,
}

fn one(zones: &[DrawnOn], lot: &mut Lot, which: Which, wide_m2: f64) -> DrawnSpot {
    let Which { area_no, spot_no, cell } = which;
    let from_m2 = f64::from(cell) * wide_m2;
    let mut best: Option<(f64, DrawnSpot)> = None;
    for _ in 0..TRIES {
        let (along, beside) = (from_m2 + lot.chance() * wide_m2, lot.chance());
        let Some((zone, share)) = at(zones, along) else { continue };
        let (name, face, place) = on(zone, share, beside);
        let [left, top, wide, high] = face.drawn;
        let measured = zone.shape.is_some();
        let spot = DrawnSpot {
            area_no,
            spot_no,
            cell,
            zone: zone.id,
            face: name,
            across_mm: measured.then(|| place.across_mm.round()),
            down_mm: measured.then(|| place.down_mm.round()),
            x: left + place.x * wide,
            y: top + place.y * high,
        };
        if place.edge_mm >= FROM_EDGE_MM {
            return spot;
        }
        if best.as_ref().is_none_or(|(edge, _)| place.edge_mm > *edge) {
            best = Some((place.edge_mm, spot));
        }
    }
    // Too narrow for an inch: as far from its edges as was found.
    let nowhere =
        DrawnSpot { area_no, spot_no, cell, zone: None, face: String::new(), across_mm: None, down_mm: None, x: 0.5, y: 0.5 };
    best.map_or(nowhere, |(_, spot)| spot)
}

/// The zone at a place along all of them, and the share of it before that place.
fn at(zones: &[DrawnOn], along_m2: f64) -> Option<(&DrawnOn, f64)> {
    let mut left = along_m2;
    for zone in zones.iter().filter(|z| z.area_m2 > 0.0) {
        if left < zone.area_m2 {
            return Some((zone, left / zone.area_m2));
        }
        left -= zone.area_m2;
    }
    zones.iter().rev().find(|z| z.area_m2 > 0.0).map(|z| (z, 1.0 - f64::EPSILON))
}

/// The piece, face and place at a share of a zone.
fn on(zone: &DrawnOn, share: f64, beside: f64) -> (String, Face, Place) {
    let Some(shape) = &zone.shape else {
        let high = (zone.area_m2 * 1e6 / SHEET_OVER).sqrt();
        let lies = Lies::Rect { wide: high * SHEET_OVER, high, seam: Seam::None };
        return (String::new(), Face { name: String::new(), lies, drawn: [0.0, 0.0, 1.0, 1.0] }, lies.place(share, beside));
    };
    let pieces = (zone.area_m2 / shape.area_m2().max(1e-9)).round().max(1.0);
    let piece = (share * pieces).floor().min(pieces - 1.0);
    let mut all = faces(shape);
    let whole: f64 = all.iter().map(|f| f.lies.area_mm2()).sum();
    let mut left = (share * pieces - piece).clamp(0.0, 1.0) * whole;
    // The last face takes what rounding leaves.
    let mut at = 0;
    while at + 1 < all.len() && left >= all[at].lies.area_mm2() {
        left -= all[at].lies.area_mm2();
        at += 1;
    }
    let face = all.swap_remove(at);
    let place = face.lies.place((left / face.lies.area_mm2().max(1e-9)).clamp(0.0, 1.0), beside);
    let piece = (pieces > 1.0).then(|| format!("piece {}", piece + 1.0));
    let named = (!face.name.is_empty()).then(|| face.name.clone());
    (piece.into_iter().chain(named).collect::<Vec<_>>().join(", "), face, place)
}
