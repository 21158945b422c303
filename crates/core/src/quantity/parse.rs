//! Reading what people type: `3 1/2 in`, `0.8 bar`, `1 h 30`, `4:1`, `62°F`.

use super::units::{Unit, bare_unit, find, part_of, units};
use super::{NumberFormat, Prefs, QuantityKind};
use crate::worded::Worded;
use thiserror::Error;

/// Why a text is not a quantity of the kind asked for.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum ParseError {
    /// Nothing was typed.
    #[error("nothing typed")]
    Empty,
    /// The text does not begin with a number, or holds something that is not one.
    #[error("“{0}” is not a number")]
    NotANumber(String),
    /// A number too large to compute with.
    #[error("“{0}” is too large")]
    TooLarge(String),
    /// A comma that could be a decimal mark or a thousands mark.
    #[error("write “{0}” without the comma: it can be read in two ways. Use a point for decimals, or set your number format")]
    Comma(String),
    /// A fraction over zero.
    #[error("“{0}” divides by zero")]
    ZeroDivisor(String),
    /// A number too small to compute with.
    #[error("“{0}” is too small")]
    TooSmall(String),
    /// A bare second part that is more than one of the first.
    #[error("“{0}” can be read in two ways: write the unit after each figure, and no mark between thousands")]
    TwoWays(String),
    /// Ounces of weight or fluid ounces.
    #[error("an ounce of weight or of volume in “{0}”? Write “oz wt/gal”; a volume is weighed first")]
    WhichOunce(String),
    /// Parts of thinner whose order is not known.
    #[error("“{0}”: which of the two is thinner? Only 1:1 is the same both ways; write it in per cent")]
    WhichIsThinner(String),
    /// A mesh no table knows.
    #[error("“{0}” is no mesh of a strainer here: 18 to 400, or its opening in µm")]
    NoSuchMesh(String),
    /// A unit that belongs to another kind, or to none.
    #[error("“{unit}” is not a unit of {kind} here. Use {known}")]
    UnknownUnit {
        /// As typed.
        unit: String,
        /// The word of the kind.
        kind: &'static str,
        /// The symbols that would do.
        known: String,
    },
}

/// Longest text read as a quantity.
const LONGEST: usize = 60;

/// Parses `text` as a quantity of `kind`.
///
/// **Units:** the result is in the base unit of the kind ([`QuantityKind`]). A missing unit is filled from the
/// person's unit set. Parts add up: `5 ft 6 in`, `1 h 30` (the bare part takes the next smaller unit).
/// **Errors:** [`ParseError`]; never panics, never guesses a comma.
/// **Rule:** number, unit, in parts. **Source:** factors of the `uom` library, SI and the US customary units.
///
/// ```
/// use level_keel_core::quantity::{parse, QuantityKind, Prefs};
/// assert_eq!(parse("1 h 30", QuantityKind::Time, Prefs::METRIC), Ok(5400.0));
/// assert_eq!(parse("4:1", QuantityKind::Ratio, Prefs::METRIC), Ok(4.0));
/// assert!(parse("12 furlongs", QuantityKind::Length, Prefs::METRIC).is_err());
/// ```
pub fn parse(text: &str, kind: QuantityKind, prefs: Prefs) -> Result<f64, ParseError> {
    let text = text.trim();
    if text.is_empty() {
        return Err(ParseError::Empty);
    }
    if text.chars().count() > LONGEST {
        return Err(ParseError::NotANumber(text.chars().take(LONGEST).collect()));
    }
    let whole = normalise(text, prefs.numbers)?;
    match kind {
        QuantityKind::Ratio => return ratio(&whole, text),
        // Half and half is a hundred per cent of the base, whichever is named first.
        QuantityKind::Thinner if whole.contains(':') || whole.contains(" to ") => {
            let parts = ratio(&whole, text)?;
            let half = (parts - 1.0).abs() < 1e-12;
            return if half { Ok(100.0) } else { Err(ParseError::WhichIsThinner(text.into())) };
        }
        QuantityKind::Mesh if whole.to_lowercase().trim_end().ends_with("mesh") => {
            let (count, _) = number(&whole, text)?;
            return super::mesh::opening_um(count).ok_or_else(|| ParseError::NoSuchMesh(text.into()));
        }
        QuantityKind::MassPerVolume if is_undecided_ounce(&whole) => return Err(ParseError::WhichOunce(text.into())),
        _ => {}
    }
    let mut rest = if kind == QuantityKind::Price { without_money(&whole) } else { &whole };
    if rest.is_empty() {
        return Err(ParseError::NotANumber(text.into()));
    }
    let mut total = 0.0;
    let mut last: Option<&Unit> = None;
    while !rest.is_empty() {
        let (number, after) = number(rest, text)?;
        let cut = unit_end(after, kind);
        let (name, next) = (after[..cut].trim(), after[cut..].trim_start());
        let unit = match (name.is_empty(), last) {
            (true, None) => bare(kind, prefs, next.is_empty(), text)?,
            (true, Some(previous)) => {
                let unit = smaller(kind, previous, text)?;
                // `1'604` is no foot and six hundred inches: a bare part that is a whole of the one before is a slip.
                if number * unit.factor >= previous.factor * (1.0 - 1e-9) {
                    return Err(ParseError::TwoWays(text.into()));
                }
                unit
            }
            (false, _) => find(kind, name).ok_or_else(|| unknown(name, kind))?,
        };
        if let Some(previous) = last
            && (unit.factor >= previous.factor || number < 0.0)
        {
            return Err(ParseError::NotANumber(text.into()));
        }
        total += number * unit.factor + unit.offset;
        if unit.offset != 0.0 && !next.is_empty() {
            return Err(ParseError::NotANumber(text.into()));
        }
        last = Some(unit);
        rest = next;
    }
    if !total.is_finite() {
        return Err(ParseError::TooLarge(text.into()));
    }
    if total != 0.0 && !total.is_normal() {
        return Err(ParseError::TooSmall(text.into()));
    }
    Ok(total)
}

/// A price without the sign of its money: a shop has one money.
fn without_money(text: &str) -> &str {
    text.strip_prefix(['$', '€', '£']).map_or(text, str::trim_start)
}

/// An ounce in a gallon that may be of weight or of volume.
fn is_undecided_ounce(text: &str) -> bool {
    let folded: String = text.to_lowercase().chars().filter(|c| !c.is_whitespace()).collect();
    let unit = folded.trim_start_matches(|c: char| c.is_ascii_digit() || matches!(c, '.' | '/' | '-' | '+'));
    matches!(unit, "oz/gal" | "oz/usgal" | "floz/gal" | "oz/gallon" | "ozs/gal")
}

fn bare(kind: QuantityKind, prefs: Prefs, alone: bool, text: &str) -> Result<&'static Unit, ParseError> {
    if !alone {
        return Err(ParseError::NotANumber(text.into()));
    }
    find(kind, bare_unit(kind, prefs.units)).ok_or_else(|| ParseError::NotANumber(text.into()))
}

fn smaller(kind: QuantityKind, than: &Unit, text: &str) -> Result<&'static Unit, ParseError> {
    part_of(than.symbol).and_then(|s| find(kind, s)).ok_or_else(|| ParseError::NotANumber(text.into()))
}

fn unknown(name: &str, kind: QuantityKind) -> ParseError {
    let known: Vec<&str> = units(kind).iter().map(|u| u.symbol).collect();
    ParseError::UnknownUnit { unit: name.into(), kind: kind.word(), known: known.join(", ") }
}

/// Folds typographic signs to plain ones and settles the comma.
fn normalise(text: &str, format: NumberFormat) -> Result<String, ParseError> {
    let mut out = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '½' => out.push_str(" 1/2"),
            '¼' => out.push_str(" 1/4"),
            '¾' => out.push_str(" 3/4"),
            '⅛' => out.push_str(" 1/8"),
            '⅜' => out.push_str(" 3/8"),
            '⅝' => out.push_str(" 5/8"),
            '⅞' => out.push_str(" 7/8"),
            '⅓' => out.push_str(" 1/3"),
            '⅔' => out.push_str(" 2/3"),
            '⁄' => out.push('/'),
            '−' | '–' => out.push('-'),
            '∶' | '：' => out.push(':'),
            'º' | '˚' => out.push('°'),
            '^' => {}
            '\u{a0}' | '\u{202f}' => out.push(' '),
            ',' if format == NumberFormat::Comma => out.push('.'),
            ',' => return Err(ParseError::Comma(text.into())),
            '.' if format == NumberFormat::Comma => return Err(ParseError::Comma(text.into())),
            c => out.push(c),
        }
    }
    Ok(out.trim().to_string())
}

/// Where the unit after a number ends. The longest name that is a unit and stands alone wins, so that a digit
/// inside one (`m2`, `kgf/cm2`, `mm2/s`) belongs to it; else the text runs to the next digit.
fn unit_end(after: &str, kind: QuantityKind) -> usize {
    let ends = after.char_indices().map(|(i, c)| i + c.len_utf8()).take(LONGEST);
    let stands_alone = |end: usize, unit: &Unit| match after[end..].chars().next() {
        None => true,
        Some(c) if c.is_whitespace() => true,
        // A digit may follow a sign (`5'6`), or a unit that has a smaller part (`1h30`); else it is part of the name.
        Some(c) if c.is_ascii_digit() => !after[..end].ends_with(char::is_alphabetic) || part_of(unit.symbol).is_some(),
        Some(_) => false,
    };
    ends.filter(|end| !after[..*end].trim().is_empty())
        .filter(|end| find(kind, &after[..*end]).is_some_and(|unit| stands_alone(*end, unit)))
        .last()
        .unwrap_or_else(|| after.find(|c: char| c.is_ascii_digit() || c == '.').unwrap_or(after.len()))
}

/// Takes a number off the front: decimal, exponent, `1/2`, or `3 1/2`.
fn number<'a>(text: &'a str, whole: &str) -> Result<(f64, &'a str), ParseError> {
    let (first, rest) = decimal(text).ok_or_else(|| ParseError::NotANumber(whole.into()))?;
    if !first.is_finite() {
        return Err(ParseError::TooLarge(whole.into()));
    }
    // `5-1/2`: a dash between a whole and its fraction, as drawings have it.
    if let Some(fraction) = rest.strip_prefix('-')
        && fraction.starts_with(|c: char| c.is_ascii_digit())
        && let Some((over, after)) = decimal(fraction)
        && let Some(after) = after.strip_prefix('/')
        && after.starts_with(|c: char| c.is_ascii_digit())
        && first.fract() == 0.0
    {
        let (under, rest) = decimal(after).ok_or_else(|| ParseError::NotANumber(whole.into()))?;
        let part = divide(over, under, whole)?;
        return Ok((if first < 0.0 { first - part } else { first + part }, rest));
    }
    if let Some(after) = rest.strip_prefix('/')
        && after.starts_with(|c: char| c.is_ascii_digit())
    {
        let (under, rest) = decimal(after).ok_or_else(|| ParseError::NotANumber(whole.into()))?;
        return Ok((divide(first, under, whole)?, rest));
    }
    let spaced = rest.trim_start();
    if spaced.len() < rest.len()
        && let Some((over, after)) = decimal(spaced)
        && let Some(after) = after.strip_prefix('/')
        && after.starts_with(|c: char| c.is_ascii_digit())
    {
        let (under, rest) = decimal(after).ok_or_else(|| ParseError::NotANumber(whole.into()))?;
        let part = divide(over, under, whole)?;
        return Ok((if first < 0.0 { first - part } else { first + part }, rest));
    }
    Ok((first, rest))
}

fn divide(over: f64, under: f64, whole: &str) -> Result<f64, ParseError> {
    if under == 0.0 { Err(ParseError::ZeroDivisor(whole.into())) } else { Ok(over / under) }
}

/// A decimal number with optional sign and exponent; `None` when there is none at the front.
fn decimal(text: &str) -> Option<(f64, &str)> {
    let bytes = text.as_bytes();
    let mut end = usize::from(matches!(bytes.first(), Some(b'-' | b'+')));
    let digits_from = end;
    while end < bytes.len() && (bytes[end].is_ascii_digit() || bytes[end] == b'.') {
        end += 1;
    }
    if !bytes[digits_from..end].iter().any(u8::is_ascii_digit) {
        return None;
    }
    if matches!(bytes.get(end), Some(b'e' | b'E')) {
        let mut exponent = end + 1 + usize::from(matches!(bytes.get(end + 1), Some(b'-' | b'+')));
        let from = exponent;
        while exponent < bytes.len() && bytes[exponent].is_ascii_digit() {
            exponent += 1;
        }
        if exponent > from {
            end = exponent;
        }
    }
    text[..end].parse().ok().map(|n| (n, &text[end..]))
}

fn ratio(text: &str, whole: &str) -> Result<f64, ParseError> {
    let (a, rest) = number(text, whole)?;
    let rest = rest.trim_start();
    let rest = rest.strip_prefix(':').or_else(|| rest.strip_prefix("to")).map(str::trim_start);
    match rest {
        None if number(text, whole)?.1.trim().is_empty() => Ok(a),
        None => Err(ParseError::NotANumber(whole.into())),
        Some(rest) => {
            let (b, end) = number(rest, whole)?;
            if !end.trim().is_empty() {
                return Err(ParseError::NotANumber(whole.into()));
            }
            divide(a, b, whole)
        }
    }
}
