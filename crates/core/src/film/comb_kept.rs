//! A comb as the shop keeps it: its name and its teeth.

use crate::limits::{self, check_name};
use crate::quantity::{NumberFormat, Prefs, QuantityKind, parse, show};
use crate::refusal::Refusal;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Fewest and most teeth of a comb.
const TEETH: std::ops::RangeInclusive<usize> = 2..=60;

/// Combs as they are usually cut; common practice in the trade.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum UsualComb {
    /// By one to ten, by two to thirty.
    #[strum(serialize = "1 to 30 mil")]
    Mil,
    /// By 25 to 250, by 50 to 750.
    #[strum(serialize = "25 to 750 µm")]
    Micrometre,
}

impl Worded for UsualComb {}

impl UsualComb {
    /// Its teeth.
    ///
    /// **Rule:** each step from 1 to 10, then each second to 30; a step is a mil, or 25 µm. **Units:** µm. **Source:** common practice in
    /// the trade.
    ///
    /// ```
    /// use level_keel_core::film::UsualComb;
    /// let teeth = UsualComb::Mil.teeth_um();
    /// assert_eq!((teeth.len(), teeth[0], teeth[19]), (20, 25.4, 762.0));
    /// ```
    pub fn teeth_um(self) -> Vec<f64> {
        let step = match self {
            UsualComb::Mil => 25.4,
            UsualComb::Micrometre => 25.0,
        };
        (1..=10).chain((12..=30).step_by(2)).map(|n| f64::from(n) * step).collect()
    }
}

/// Teeth as one would type them: `1 2 3 4 mil`.
///
/// **Units:** of the reader. **Source:** common practice in the trade.
pub fn teeth_text(teeth_um: &[f64], prefs: Prefs) -> String {
    let shown: Vec<_> = teeth_um.iter().map(|um| show(*um, QuantityKind::Film, prefs)).collect();
    let mut words = Vec::new();
    for (i, tooth) in shown.iter().enumerate() {
        words.push(tooth.figure.clone());
        if shown.get(i + 1).is_none_or(|next| next.unit != tooth.unit) {
            words.push(tooth.unit.to_string());
        }
    }
    words.join(" ")
}

/// A comb as it is typed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CombInWords {
    /// Its name.
    pub name: String,
    /// Its teeth, least first: `1 2 3 4 6 8 mil`. A unit holds for every figure before it that has none of its own.
    pub teeth: String,
}

/// A comb of the shop.
#[derive(Debug, Clone, PartialEq)]
pub struct CombKept {
    /// Its name.
    pub name: String,
    /// Its teeth, least first.
    pub teeth_um: Vec<f64>,
}

impl CombInWords {
    /// Reads the teeth.
    ///
    /// **Units:** µm out; a figure without a unit is in the reader's own.
    /// **Errors:** a refusal at `name` or `teeth`: a figure that cannot be read, too few or too many, out of order.
    ///
    /// ```
    /// use level_keel_core::film::CombInWords;
    /// let comb = CombInWords { name: "Pocket comb".into(), teeth: "50 100 150 µm".into() };
    /// assert_eq!(comb.read(Default::default()).unwrap().teeth_um, [50.0, 100.0, 150.0]);
    /// ```
    pub fn read(&self, prefs: Prefs) -> Result<CombKept, Refusal> {
        let name = check_name("name", &self.name)?;
        let wrong = |code: &str, text: String| Refusal::bad_input(code, "teeth", text);
        let apart = |c: char| c.is_whitespace() || c == ';' || (c == ',' && prefs.numbers == NumberFormat::Point);
        let mut figures: Vec<(String, bool)> = Vec::new();
        for word in self.teeth.split(apart).filter(|w| !w.is_empty()) {
            if word.starts_with(|c: char| c.is_ascii_digit() || c == '.') {
                figures.push((word.into(), word.ends_with(|c: char| !c.is_ascii_digit() && c != '.')));
                continue;
            }
            for (figure, has_unit) in figures.iter_mut().rev().take_while(|f| !f.1) {
                (*figure, *has_unit) = (format!("{figure} {word}"), true);
            }
        }
        if !TEETH.contains(&figures.len()) {
            return Err(wrong(
                "count",
                format!("A comb has {} to {} teeth; here stand {}.", TEETH.start(), TEETH.end(), figures.len()),
            ));
        }
        let mut teeth_um = Vec::new();
        for (figure, _) in figures {
            let um = parse(&figure, QuantityKind::Film, prefs).map_err(|e| wrong("not-understood", e.to_string()))?;
            let um = limits::FILM.check("teeth", um, prefs)?;
            if teeth_um.last().is_some_and(|before| um <= *before) {
                return Err(wrong("out-of-order", format!("{figure} is not more than the tooth before it.")));
            }
            teeth_um.push(um);
        }
        Ok(CombKept { name, teeth_um })
    }
}
