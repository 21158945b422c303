//! Writing a number as a person reads it: their unit, sensible digits, at most eight characters.

use super::units::by_symbol;
use super::{NumberFormat, Prefs, QuantityKind, UnitSet, parse};
use serde::{Deserialize, Serialize};
use std::fmt::Write;
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

/// Longest figure: a live one must stand in its place at 44 px.
pub const FIGURE_CHARS: usize = 8;

/// Shows `value` (in the base unit of `kind`) in the person's units.
///
/// **Formula:** `(value − offset) / factor`, rounded to the digits of the unit chosen; fewer where the value has no more: a pot rated
/// 80 psi is not said to be rated 80.0. **Errors:** none; a value that is not finite shows as `–`.
///
/// ```
/// use level_keel_core::quantity::{show, QuantityKind, Prefs};
/// assert_eq!(show(6.1, QuantityKind::TempDiff, Prefs::METRIC).text, "6.1\u{a0}°C");
/// assert_eq!(show(4.0, QuantityKind::Ratio, Prefs::METRIC).text, "4\u{a0}: 1");
/// assert_eq!(show(68.947_572_9, QuantityKind::Pressure, Prefs::default()).figure, "10");
/// assert_eq!(show(9.525, QuantityKind::Bore, Prefs::default()).text, "3/8\u{a0}in");
/// assert_eq!(show(1.8, QuantityKind::Nozzle, Prefs::default()).text, "1.8\u{a0}mm");
/// ```
pub fn show(value: f64, kind: QuantityKind, prefs: Prefs) -> Shown {
    shown(value, kind, prefs, Digits::OfTheValue)
}

/// As [`show`], with all the digits of its unit, so that a figure that moves or carries an uncertainty keeps its form.
///
/// ```
/// use level_keel_core::quantity::{show_live, QuantityKind, Prefs};
/// assert_eq!(show_live(22.0, QuantityKind::Temperature, Prefs::METRIC).figure, "22.0");
/// ```
pub fn show_live(value: f64, kind: QuantityKind, prefs: Prefs) -> Shown {
    shown(value, kind, prefs, Digits::OfTheUnit)
}

/// How many digits a figure has after its point.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Digits {
    /// Those of its unit.
    OfTheUnit,
    /// Those, less zeros that say nothing.
    OfTheValue,
}

/// So far a value may lie off a shorter figure and still be it, as a part of it: what conversion between units leaves.
const SAME: f64 = 1e-7;

fn shown(value: f64, kind: QuantityKind, prefs: Prefs, digits: Digits) -> Shown {
    if !value.is_finite() {
        return Shown { figure: "–".into(), unit: String::new(), text: "–".into() };
    }
    if matches!(kind, QuantityKind::Time) {
        let text = show_duration(value);
        let (figure, unit) = text.rsplit_once('\u{a0}').filter(|_| !text.contains('h')).unwrap_or((&text, ""));
        return Shown { figure: figure.into(), unit: unit.into(), text: text.clone() };
    }
    if let Some(figure) = in_fractions(value, kind, prefs.units) {
        return Shown { text: format!("{figure}\u{a0}in"), figure, unit: "in".into() };
    }
    let (symbol, decimals) = choose(value, kind, prefs.units);
    let unit = by_symbol(kind, symbol);
    let (factor, offset) = unit.map_or((1.0, 0.0), |u| (u.factor, u.offset));
    let in_unit = (value - offset) / factor;
    let said =
        |d: &usize| (in_unit - (in_unit * 10_f64.powi(*d as i32)).round() / 10_f64.powi(*d as i32)).abs() <= SAME * in_unit.abs();
    let decimals = match digits {
        Digits::OfTheUnit => decimals,
        Digits::OfTheValue => (at_least(kind)..decimals).find(said).unwrap_or(decimals),
    };
    let figure = typeset(fitted(in_unit, decimals), prefs.numbers);
    if kind == QuantityKind::Count {
        return Shown { text: figure.clone(), figure, unit: String::new() };
    }
    // A page holds hundreds of figures: put together in room of their size.
    let mut text = String::with_capacity(figure.len() + 2 + symbol.len());
    text.push_str(&figure);
    text.push('\u{a0}');
    text.push_str(symbol);
    Shown { text, figure, unit: symbol.into() }
}

/// Digits after the point that are said even when they are zeros: a nozzle is stamped 2.0, money has its hundredths.
fn at_least(kind: QuantityKind) -> usize {
    match kind {
        QuantityKind::Nozzle => 1,
        QuantityKind::Price => 2,
        _ => 0,
    }
}

/// How far a bore may lie off a fraction of an inch and still be called by it, in millimetres: hoses are sold by the fraction.
const FRACTION_MM: f64 = 0.02;
/// The finest fraction of an inch a hose is sold by.
const FINEST: u32 = 32;

/// A bore as an inch reader says it, `3/8`; `None` for another kind, another reader, or a bore that is no fraction.
fn in_fractions(mm: f64, kind: QuantityKind, set: UnitSet) -> Option<String> {
    if kind != QuantityKind::Bore || set == UnitSet::Metric || mm <= 0.0 {
        return None;
    }
    let finest = (mm / 25.4 * f64::from(FINEST)).round();
    if finest < 1.0 || finest > f64::from(FINEST * FINEST) || (finest / f64::from(FINEST) * 25.4 - mm).abs() > FRACTION_MM {
        return None;
    }
    let (mut top, mut bottom) = (finest as u32, FINEST);
    while top.is_multiple_of(2) && bottom > 1 {
        (top, bottom) = (top / 2, bottom / 2);
    }
    let (whole, rest) = (top / bottom, top % bottom);
    Some(match (whole, rest) {
        (_, 0) => whole.to_string(),
        (0, _) => format!("{rest}/{bottom}"),
        (_, _) => format!("{whole} {rest}/{bottom}"),
    })
}

/// As [`show`], to the digits of an instrument: a target on a scale of a tenth of a gram is not rounded to whole grams.
///
/// ```
/// use level_keel_core::quantity::{show_to, QuantityKind, Prefs};
/// assert_eq!(show_to(1931.24, QuantityKind::Mass, 0.1, Prefs::METRIC).figure, "1931.2");
/// assert_eq!(show_to(1931.24, QuantityKind::Mass, 1.0, Prefs::METRIC).figure, "1931");
/// ```
pub fn show_to(value: f64, kind: QuantityKind, resolution: f64, prefs: Prefs) -> Shown {
    let plain = show(value, kind, prefs);
    let Some(unit) = by_symbol(kind, &plain.unit).filter(|_| value.is_finite() && resolution > 0.0) else { return plain };
    let (_, usual) = choose(value, kind, prefs.units);
    let step = resolution / unit.factor;
    let digits = (-step.log10() - 1e-9).ceil().clamp(0.0, 4.0) as usize;
    let figure = typeset(fitted((value - unit.offset) / unit.factor, digits.max(usual)), prefs.numbers);
    let text = format!("{figure}\u{a0}{}", plain.unit);
    Shown { figure, unit: plain.unit, text }
}

/// A text for a form that reads back as exactly this value: the shown one where it does, more digits or the base unit where it
/// does not. A form that is opened and saved changes nothing.
///
/// ```
/// use level_keel_core::quantity::{edit_text, parse, QuantityKind, Prefs};
/// for (value, kind) in [(170.0, QuantityKind::Time), (288_000.0, QuantityKind::Time), (11.494, QuantityKind::Area), (100.0, QuantityKind::Film)] {
///     assert_eq!(parse(&edit_text(value, kind, Prefs::default()), kind, Prefs::default()), Ok(value));
/// }
/// ```
pub fn edit_text(value: f64, kind: QuantityKind, prefs: Prefs) -> String {
    let plain = |text: &str| text.replace('\u{a0}', " ").replace('−', "-");
    let exact = |text: &str| parse(text, kind, prefs) == Ok(value);
    let shown = show(value, kind, prefs);
    let own = if kind == QuantityKind::Ratio { plain(&shown.figure) } else { plain(&shown.text) };
    if exact(&own) {
        return own;
    }
    let mut tries: Vec<String> = Vec::new();
    if matches!(kind, QuantityKind::Time) {
        tries.extend([(86_400.0, "d"), (3600.0, "h"), (60.0, "min")].map(|(s, unit)| format!("{} {unit}", value / s)));
    } else if let Some(unit) = by_symbol(kind, &shown.unit) {
        let figure = (value - unit.offset) / unit.factor;
        tries.extend((1..=4).map(|digits| plain(&typeset(format!("{figure:.digits$}"), prefs.numbers)) + " " + &shown.unit));
    }
    let short = |text: &String| text.chars().count() <= 2 * FIGURE_CHARS;
    if let Some(text) = tries.into_iter().filter(short).find(|text| exact(text)) {
        return text;
    }
    let base = super::units::units(kind).first().map_or("", |unit| unit.symbol);
    let figure = plain(&typeset(value.to_string(), prefs.numbers));
    if matches!(kind, QuantityKind::Ratio | QuantityKind::Count) { figure } else { format!("{figure} {base}") }
}

/// A figure with the sign and the mark of its reader; most have neither to change.
fn typeset(figure: String, numbers: NumberFormat) -> String {
    let comma = numbers == NumberFormat::Comma && figure.contains('.');
    match (comma, figure.contains('-')) {
        (false, false) => figure,
        (false, true) => figure.replace('-', "−"),
        (true, _) => figure.replace('.', ",").replace('-', "−"),
    }
}

/// Digits with at most so many decimals, fewer when the figure would pass eight characters.
fn fitted(value: f64, decimals: usize) -> String {
    let mut figure = String::with_capacity(FIGURE_CHARS);
    // Digits, a sign and a point: as many bytes as characters. Writing into a text does not fail.
    let short = (0..=decimals).rev().any(|d| {
        figure.clear();
        write!(figure, "{value:.d$}").is_ok() && figure.len() <= FIGURE_CHARS
    });
    if !short {
        figure = format!("{value:.1e}");
    }
    if figure.starts_with('-') && figure.chars().all(|c| matches!(c, '-' | '0' | '.')) {
        figure.remove(0); // no minus zero
    }
    figure
}

/// From so long on a time is told in days: a hundred hours.
const DAYS_FROM_S: f64 = 100.0 * 3600.0;

/// Minutes as the rack shows them: `45 s`, `6 min`, from 100 minutes `2 h 15`.
///
/// ```
/// use level_keel_core::quantity::show_duration;
/// assert_eq!(show_duration(6.0 * 60.0), "6\u{a0}min");
/// assert_eq!(show_duration(135.0 * 60.0), "2\u{a0}h\u{a0}15");
/// assert_eq!(show_duration(80.0 * 3600.0), "80\u{a0}h");
/// ```
pub fn show_duration(seconds: f64) -> String {
    if seconds.abs() >= DAYS_FROM_S {
        return format!("{:.1}\u{a0}d", seconds / 86_400.0);
    }
    let sign = if seconds < 0.0 { "−" } else { "" };
    let whole = seconds.abs().round() as u64;
    match whole {
        0..120 => format!("{sign}{whole}\u{a0}s"),
        120..6000 => format!("{sign}{}\u{a0}min", whole / 60),
        // A sheet's 80 h is told as it stands there.
        86_400.. if whole.is_multiple_of(3600) => format!("{sign}{}\u{a0}h", whole / 3600),
        _ => format!("{sign}{}\u{a0}h\u{a0}{:02}", whole / 3600, whole % 3600 / 60),
    }
}

/// Unit and decimals for a value, so that the figure stays short and the unit is the one the hand uses.
fn choose(value: f64, kind: QuantityKind, set: UnitSet) -> (&'static str, usize) {
    let us = set == UnitSet::Us;
    let gun = set != UnitSet::Metric;
    // The first step whose limit the size stays under; the last one takes the rest.
    let step = |steps: &[(f64, &'static str, usize)]| {
        steps.iter().find(|(below, ..)| value.abs() < *below).or(steps.last()).map_or(("", 0), |(_, s, d)| (*s, *d))
    };
    const REST: f64 = f64::INFINITY;
    match kind {
        // One unit as far as a pot reaches, so that a bare number typed means what is shown.
        QuantityKind::Mass if us => step(&[(28_000.0, "oz", 2), (REST, "lb", 2)]),
        QuantityKind::Mass => step(&[(10.0, "g", 2), (1000.0, "g", 1), (10_000.0, "g", 0), (1e7, "kg", 2), (REST, "t", 2)]),
        QuantityKind::Volume if us => step(&[(1893.0, "fl oz", 1), (REST, "gal", 2)]),
        QuantityKind::Volume => step(&[(100.0, "mL", 1), (1000.0, "mL", 0), (1e8, "L", 2), (REST, "m³", 1)]),
        QuantityKind::Nozzle => ("mm", 2),
        QuantityKind::Length | QuantityKind::Bore if gun => step(&[(25.4, "in", 3), (2540.0, "in", 1), (REST, "ft", 1)]),
        QuantityKind::Bore => step(&[(10.0, "mm", 2), (REST, "mm", 1)]),
        QuantityKind::Length => step(&[(25.0, "mm", 2), (1000.0, "mm", 0), (1e7, "m", 2), (REST, "km", 2)]),
        QuantityKind::Film if gun => step(&[(25_400.0, "mil", 1), (REST, "in", 2)]),
        QuantityKind::Film => step(&[(10_000.0, "µm", 0), (REST, "mm", 2)]),
        QuantityKind::Area if us => ("ft²", 1),
        QuantityKind::Area => ("m²", 2),
        QuantityKind::Temperature | QuantityKind::TempDiff => (if us { "°F" } else { "°C" }, 1),
        QuantityKind::Pressure if gun => ("psi", 1),
        QuantityKind::Pressure => step(&[(1000.0, "kPa", 1), (1e5, "bar", 1), (REST, "MPa", 1)]),
        QuantityKind::Percent | QuantityKind::Thinner => step(&[(10.0, "%", 2), (REST, "%", 1)]),
        QuantityKind::Mesh => step(&[(10_000.0, "µm", 0), (REST, "mm", 2)]),
        QuantityKind::Ratio => step(&[(10.0, ": 1", 2), (REST, ": 1", 1)]),
        QuantityKind::Time | QuantityKind::Stopwatch | QuantityKind::CupSeconds => ("s", 1),
        QuantityKind::Flow if us => step(&[(18_927.0, "fl oz/min", 1), (REST, "gal/min", 2)]),
        QuantityKind::Flow => step(&[(10_000.0, "mL/min", 0), (REST, "L/min", 1)]),
        QuantityKind::Density if us => ("lb/gal", 2),
        QuantityKind::Density => ("kg/L", 3),
        QuantityKind::Viscosity => step(&[(100.0, "mPa·s", 1), (10_000.0, "mPa·s", 0), (REST, "Pa·s", 1)]),
        QuantityKind::Kinematic => ("mm²/s", 1),
        QuantityKind::Speed if gun => ("in/s", 1),
        QuantityKind::Speed => ("m/s", 3),
        QuantityKind::Angle => ("°", 1),
        QuantityKind::MassPerVolume if us => ("oz wt/gal", 2),
        QuantityKind::MassPerVolume => step(&[(100.0, "g/L", 2), (REST, "g/L", 1)]),
        QuantityKind::VolumePerArea if us => ("fl oz/ft²", 2),
        QuantityKind::VolumePerArea => ("mL/m²", 0),
        QuantityKind::AreaPerVolume if us => ("ft²/gal", 0),
        QuantityKind::AreaPerVolume => ("m²/L", 2),
        QuantityKind::AirFlow if gun => ("scfm", 1),
        QuantityKind::AirFlow => ("L/min", 0),
        QuantityKind::Price => (if us { "/gal" } else { "/L" }, 2),
        QuantityKind::Count => ("×", if value.fract() == 0.0 { 0 } else { 2 }),
    }
}
