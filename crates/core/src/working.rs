//! A sum as one would write it on paper. The result of a working *is* the value of its last line.

use crate::quantity::{Prefs, QuantityKind, show_live};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// One line: what, how, and what came out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Line {
    /// What is computed.
    pub label: String,
    /// The sum with the figures put in.
    pub figures: String,
    /// The result with its unit.
    pub result: String,
    /// The result in the base unit.
    pub value: f64,
}

/// A whole sum with its source.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Working {
    /// What the sum is for.
    pub title: String,
    /// Line by line.
    pub lines: Vec<Line>,
    /// Where the rule comes from.
    pub source: String,
}

impl Working {
    /// An empty sheet of paper.
    pub fn new(title: &str, source: &str) -> Self {
        Working { title: title.into(), lines: Vec::new(), source: source.into() }
    }

    /// Writes a line and hands the value on.
    ///
    /// **Rule:** the value goes through unchanged. **Units:** the base unit of `kind`. **Source:** ours.
    pub fn line(&mut self, label: &str, figures: impl Into<String>, value: f64, kind: QuantityKind, prefs: Prefs) -> f64 {
        let result = show_live(value, kind, prefs).text;
        self.lines.push(Line { label: label.into(), figures: figures.into(), result, value });
        value
    }

    /// The value of the last line.
    ///
    /// **Rule:** the last line is the result. **Units:** those of that line. **Source:** ours.
    pub fn result(&self) -> Option<f64> {
        self.lines.last().map(|l| l.value)
    }
}
