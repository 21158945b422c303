//! One line a film gauge sends, by a grammar a shop can state for its own.

use crate::limits;
use crate::quantity::{Prefs, QuantityKind, parse};
use regex::bytes::{Regex, RegexBuilder};

/// Longest line that is read at all.
pub const MOST_LINE: usize = 200;

/// The pattern of the simulated gauge that ships with the program.
pub const OWN_PATTERN: &str = r"^F=\s*(?:(?<film>\d+(?:\.\d+)?)|-);U=(?<unit>[A-Za-z]+);N=\d+$";

/// What a line says.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum GaugeLine {
    /// It is there, and has read nothing new.
    Alive,
    /// A reading was taken.
    Read {
        /// The film.
        um: f64,
    },
}

/// How a gauge's lines are read: a pattern with the names `film` and `unit`.
#[derive(Debug, Clone)]
pub struct GaugeGrammar {
    pattern: Regex,
    unit: Option<String>,
}

impl GaugeGrammar {
    /// A grammar from its pattern, and the unit of lines that name none.
    ///
    /// **Errors:** what is wrong with it, in words.
    ///
    /// ```
    /// use level_keel_core::acceptance::indicator::{GaugeGrammar, GaugeLine};
    /// let grammar = GaugeGrammar::new(r"^(?<film>[\d.]+)$", Some("mil")).unwrap();
    /// assert!(matches!(grammar.read(b"5"), Some(GaugeLine::Read { um }) if (um - 127.0).abs() < 1e-9));
    /// ```
    pub fn new(pattern: &str, unit: Option<&str>) -> Result<GaugeGrammar, String> {
        let pattern =
            RegexBuilder::new(pattern).size_limit(1 << 18).build().map_err(|e| format!("the pattern cannot be read: {e}"))?;
        let names: Vec<&str> = pattern.capture_names().flatten().collect();
        if !names.contains(&"film") {
            return Err("the pattern names no film: (?<film>…)".into());
        }
        if !names.contains(&"unit") && unit.is_none() {
            return Err("neither the pattern nor the setting names a unit".into());
        }
        Ok(GaugeGrammar { pattern, unit: unit.map(String::from) })
    }

    /// What a line says; `None`: it is not of the grammar, its unit is none of film, or the film is out of sense.
    pub fn read(&self, line: &[u8]) -> Option<GaugeLine> {
        let line = line.trim_ascii();
        let found = self.pattern.captures(line).filter(|_| line.len() <= MOST_LINE)?;
        let text = |name: &str| found.name(name).map(|m| String::from_utf8_lossy(m.as_bytes()).into_owned());
        let Some(film) = text("film") else { return Some(GaugeLine::Alive) };
        let unit = text("unit").or_else(|| self.unit.clone())?;
        let um = parse(&format!("{film} {unit}"), QuantityKind::Film, Prefs::METRIC).ok()?;
        limits::FILM.check("film", um, Prefs::METRIC).ok().map(|um| GaugeLine::Read { um })
    }
}
