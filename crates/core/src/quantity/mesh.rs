//! Mesh counts of strainers and filters as openings.

/// Count and opening of test sieves, in micrometres. Source: ASTM E11, from memory.
const SIEVES: [(f64, f64); 20] = [
    (18.0, 1000.0),
    (20.0, 850.0),
    (25.0, 710.0),
    (30.0, 600.0),
    (35.0, 500.0),
    (40.0, 425.0),
    (45.0, 355.0),
    (50.0, 300.0),
    (60.0, 250.0),
    (70.0, 212.0),
    (80.0, 180.0),
    (100.0, 150.0),
    (120.0, 125.0),
    (140.0, 106.0),
    (170.0, 90.0),
    (200.0, 75.0),
    (230.0, 63.0),
    (270.0, 53.0),
    (325.0, 45.0),
    (400.0, 38.0),
];

/// The opening of a mesh count; `None` outside the table.
///
/// **Formula:** that of the sieve; between two sieves the straight line through the logarithms of both. **Units:** threads to
/// the inch, micrometres. **Source:** ASTM E11, from memory. **Check:** 120 → 125 µm, 200 → 75 µm.
pub fn opening_um(count: f64) -> Option<f64> {
    let first = SIEVES.iter().position(|(n, _)| (n - count).abs() < 1e-9);
    if let Some(i) = first {
        return Some(SIEVES[i].1);
    }
    SIEVES.windows(2).find(|w| w[0].0 < count && count < w[1].0).map(|w| {
        let part = (count / w[0].0).ln() / (w[1].0 / w[0].0).ln();
        (w[0].1.ln() + part * (w[1].1 / w[0].1).ln()).exp()
    })
}
