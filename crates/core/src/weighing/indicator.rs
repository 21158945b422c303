//! One line of an indicator, by a grammar a shop can state for its own.

use crate::quantity::{Prefs, QuantityKind, parse};
use regex::bytes::{Regex, RegexBuilder};
use serde::{Deserialize, Serialize};

/// Longest line that is read at all.
pub const MOST_LINE: usize = 200;

/// What one line says.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Seen {
    /// The load; nothing when the indicator is over its capacity.
    pub load_g: Option<f64>,
    /// The indicator calls it steady.
    pub stable: bool,
    /// Over its capacity.
    pub overload: bool,
}

/// Why a line says nothing.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum LineFault {
    /// It does not follow the grammar: half a line, another instrument's, noise.
    NotOurs,
    /// Its unit is not one of mass.
    Unit(String),
    /// It is no number of sense.
    Figure,
}

/// How an indicator's lines are read: a pattern with names.
///
/// Names: `load` the figure (with its sign, spaces allowed between), `unit` its unit, `steady` there only when the load is
/// stable, `moving` there only when it is not, `over` there only over capacity.
#[derive(Debug, Clone)]
pub struct Grammar {
    pattern: Regex,
    unit: Option<String>,
}

/// The pattern of the simulated indicator that ships with the program.
pub const OWN_PATTERN: &str =
    r"^W=\s*(?:(?<over>OVER)|(?<load>[+-]?\s*\d+(?:\.\d+)?));U=(?<unit>[A-Za-z]+);M=(?:(?<steady>still)|moving)$";

impl Grammar {
    /// A grammar from its pattern, and the unit of lines that name none.
    ///
    /// **Errors:** what is wrong with the pattern, in words.
    ///
    /// ```
    /// use level_keel_core::weighing::Grammar;
    /// let grammar = Grammar::new(r"^(?<steady>=)?(?<load>[+-]?[\d.]+)(?<unit>kg|g)$", None).unwrap();
    /// assert_eq!(grammar.read(b"=1.25kg").unwrap().load_g, Some(1250.0));
    /// assert!(grammar.read(b"1.25lb").is_err());
    /// ```
    pub fn new(pattern: &str, unit: Option<&str>) -> Result<Grammar, String> {
        let pattern =
            RegexBuilder::new(pattern).size_limit(1 << 18).build().map_err(|e| format!("the pattern cannot be read: {e}"))?;
        let names: Vec<&str> = pattern.capture_names().flatten().collect();
        if !names.contains(&"load") {
            return Err("the pattern names no load: (?<load>…)".into());
        }
        if !names.contains(&"unit") && unit.is_none() {
            return Err("neither the pattern nor the setting names a unit".into());
        }
        if let Some(unit) = unit {
            grams(1.0, unit).ok_or_else(|| format!("{unit} is no unit of mass"))?;
        }
        Ok(Grammar { pattern, unit: unit.map(String::from) })
    }

    /// What a line says.
    ///
    /// **Errors:** [`LineFault`]; any bytes at all are an answer or a fault, never a panic.
    pub fn read(&self, line: &[u8]) -> Result<Seen, LineFault> {
        let line = line.trim_ascii();
        if line.is_empty() || line.len() > MOST_LINE {
            return Err(LineFault::NotOurs);
        }
        let found = self.pattern.captures(line).ok_or(LineFault::NotOurs)?;
        let text = |name: &str| found.name(name).map(|m| String::from_utf8_lossy(m.as_bytes()).into_owned());
        if text("over").is_some() {
            return Ok(Seen { load_g: None, stable: false, overload: true });
        }
        let figure: String = text("load").ok_or(LineFault::NotOurs)?.chars().filter(|c| !c.is_whitespace()).collect();
        let figure: f64 = figure.parse().map_err(|_| LineFault::Figure)?;
        let unit = text("unit").or_else(|| self.unit.clone()).unwrap_or_default();
        let load_g = grams(figure, &unit).ok_or(LineFault::Unit(unit))?;
        if !load_g.is_finite() || load_g.abs() > crate::limits::SCALE_READING.max {
            return Err(LineFault::Figure);
        }
        let names = |name: &str| self.pattern.capture_names().flatten().any(|n| n == name);
        let stable = if names("steady") { text("steady").is_some() } else { names("moving") && text("moving").is_none() };
        Ok(Seen { load_g: Some(load_g), stable, overload: false })
    }
}

/// Grams of a figure in a unit of mass as people write it.
fn grams(figure: f64, unit: &str) -> Option<f64> {
    let one = parse(&format!("1 {unit}"), QuantityKind::Mass, Prefs::METRIC).ok()?;
    Some(figure * one)
}
