//! Writing a number as a person reads it: their unit, sensible digits, at most eight characters.

use super::units::find;
use super::{Kind, NumberFormat, Prefs, UnitSet};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A figure ready to set: the digits, the unit, and both together.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Shown {
    /// The digits alone, for large figures.
    pub figure: String,
    /// The unit alone.
    pub unit: String,
    /// Both, joined by a no-break space.
    pub text: String,
}

/// Shows `value` (in the base unit of `kind`) in the person's units.
///
/// **Formula:** `(value − offset) / factor`, rounded to the digits of the unit chosen.
/// **Errors:** none; a value that is not finite shows as `–`.
///
/// ```
/// use level_keel_core::quantity::{show, Kind, Prefs};
/// assert_eq!(show(6.1, Kind::TempDiff, Prefs::METRIC).text, "6.1\u{a0}°C");
/// assert_eq!(show(68.94757, Kind::Pressure, Prefs::default()).figure, "10.0");
/// ```
pub fn show(value: f64, kind: Kind, prefs: Prefs) -> Shown {
    if !value.is_finite() {
        return Shown { figure: "–".into(), unit: String::new(), text: "–".into() };
    }
    if matches!(kind, Kind::Time) {
        let text = show_duration(value);
        let (figure, unit) = text.rsplit_once('\u{a0}').filter(|_| !text.contains('h')).unwrap_or((&text, ""));
        return Shown { figure: figure.into(), unit: unit.into(), text: text.clone() };
    }
    let (symbol, decimals) = choose(value, kind, prefs.units);
    let unit = find(kind, symbol);
    let (factor, offset) = unit.map_or((1.0, 0.0), |u| (u.factor, u.offset));
    let mut figure = format!("{:.*}", decimals, (value - offset) / factor);
    if figure.starts_with('-') && figure.chars().all(|c| matches!(c, '-' | '0' | '.')) {
        figure.remove(0); // no minus zero
    }
    if prefs.numbers == NumberFormat::Comma {
        figure = figure.replace('.', ",");
    }
    let figure = figure.replace('-', "−");
    Shown { text: format!("{figure}\u{a0}{symbol}"), figure, unit: symbol.into() }
}

/// Minutes as the rack shows them: `45 s`, `6 min`, from 100 minutes `2 h 15`.
///
/// ```
/// use level_keel_core::quantity::show_duration;
/// assert_eq!(show_duration(6.0 * 60.0), "6\u{a0}min");
/// assert_eq!(show_duration(135.0 * 60.0), "2\u{a0}h\u{a0}15");
/// ```
pub fn show_duration(seconds: f64) -> String {
    if seconds.abs() >= 72.0 * 3600.0 {
        return format!("{:.1}\u{a0}d", seconds / 86_400.0);
    }
    let sign = if seconds < 0.0 { "−" } else { "" };
    let whole = seconds.abs().round() as u64;
    match whole {
        0..120 => format!("{sign}{whole}\u{a0}s"),
        120..6000 => format!("{sign}{}\u{a0}min", whole / 60),
        _ => format!("{sign}{}\u{a0}h\u{a0}{:02}", whole / 3600, whole % 3600 / 60),
    }
}

/// Unit and decimals for a value, so that the figure stays within eight characters.
fn choose(value: f64, kind: Kind, set: UnitSet) -> (&'static str, usize) {
    let us = set == UnitSet::Us;
    let gun = set != UnitSet::Metric;
    let size = value.abs();
    match kind {
        Kind::Mass if us => match size {
            // One unit as far as a pot reaches, so that a bare number typed means what is shown.
            x if x < 28_000.0 => ("oz", 2),
            _ => ("lb", 2),
        },
        Kind::Mass => match size {
            x if x < 10.0 => ("g", 2),
            x if x < 1000.0 => ("g", 1),
            x if x < 10_000.0 => ("g", 0),
            _ => ("kg", 2),
        },
        Kind::Volume if us => match size {
            x if x < 1893.0 => ("fl oz", 1),
            _ => ("gal", 2),
        },
        Kind::Volume => match size {
            x if x < 100.0 => ("mL", 1),
            x if x < 1000.0 => ("mL", 0),
            _ => ("L", 2),
        },
        Kind::Length if gun => match size {
            x if x < 2540.0 => ("in", 1),
            _ => ("ft", 1),
        },
        Kind::Length => match size {
            x if x < 1000.0 => ("mm", 0),
            _ => ("m", 2),
        },
        Kind::Film if gun => ("mil", 1),
        Kind::Film => ("µm", 0),
        Kind::Area if us => ("ft²", 1),
        Kind::Area => ("m²", 2),
        Kind::Temperature | Kind::TempDiff => (if us { "°F" } else { "°C" }, 1),
        Kind::Pressure if gun => ("psi", 1),
        Kind::Pressure => match size {
            x if x < 1000.0 => ("kPa", 1),
            _ => ("bar", 1),
        },
        Kind::Percent => ("%", if size < 10.0 { 2 } else { 1 }),
        Kind::Ratio => (": 1", if size < 10.0 { 2 } else { 1 }),
        Kind::Time | Kind::Stopwatch => ("s", 1),
        Kind::Flow if us => ("fl oz/min", 1),
        Kind::Flow => ("mL/min", 0),
        Kind::Density if us => ("lb/gal", 2),
        Kind::Density => ("kg/L", 3),
    }
}
