//! Ratio check by two catches: both streams at full trigger for the same time.

mod next;

pub use next::{Advice, MOST_STEP, Side, Trial, advise, lift_kpa};

use crate::mixing::{Component, Said, Weighed, b_per_a, said};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::Sheet;
use crate::verdict::Measured;
use crate::working::Working;

/// B per A from two catches weighed apart on one scale.
///
/// **Formula:** `mB/mA`, each mass ± half the resolution. **Check:** 24.6 : 4.9 g = 5.02.
/// **Units:** g. **Source:** interval arithmetic.
pub fn b_per_a_of(a_g: f64, b_g: f64, resolution_g: f64) -> Option<Measured> {
    let weighed = |component, reading_g| Weighed { component, reading_g, tared: true, resolution_g, start_g: None };
    b_per_a(&[weighed(Component::Base, a_g), weighed(Component::Hardener, b_g)])
}

/// A catch judged in the sheet's own words, with its sum.
pub fn judge(sheet: &Sheet, a_g: f64, b_g: f64, resolution_g: f64, prefs: Prefs) -> Option<(Said, Working)> {
    let ratio = said(sheet, b_per_a_of(a_g, b_g, resolution_g)?)?;
    let mut working = Working::new("Ratio of two catches", "Two masses weighed apart, each ± half the scale's resolution");
    let say = |g: f64| show(g, QuantityKind::Mass, prefs).text;
    let figures = match ratio.kind {
        QuantityKind::Percent => format!("100 × {} ÷ {}", say(b_g), say(a_g)),
        _ => format!("A {} to B {}, {}", say(a_g), say(b_g), sheet.ratio_words(prefs)),
    };
    let m = ratio.measured;
    working.line("At the least", "worst case of the scale", m.lo, ratio.kind, prefs);
    working.line("At the most", "worst case of the scale", m.hi, ratio.kind, prefs);
    working.line("As caught", figures, m.value, ratio.kind, prefs);
    Some((ratio, working))
}
