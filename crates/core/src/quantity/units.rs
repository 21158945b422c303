//! The unit table. Factors come from `uom`, never from a hand-typed constant.

use super::{Kind, UnitSet};
use uom::si::f64 as si;

/// One unit of one kind: `base = typed × factor + offset`.
pub(super) struct Unit {
    pub symbol: &'static str,
    pub names: &'static [&'static str],
    pub factor: f64,
    pub offset: f64,
}

macro_rules! unit {
    ($symbol:literal, $names:expr, $q:ident, $module:ident, $from:ident, $base:ident) => {{
        use uom::si::$module::{$base, $from};
        Unit { symbol: $symbol, names: &$names, factor: si::$q::new::<$from>(1.0).get::<$base>(), offset: 0.0 }
    }};
}

/// A unit whose factor is one or a power of ten of the base, with no question of standard.
const fn plain(symbol: &'static str, names: &'static [&'static str], factor: f64) -> Unit {
    Unit { symbol, names, factor, offset: 0.0 }
}

/// All units a field of this kind accepts. Names are lower case; matching folds case.
pub(super) fn units(kind: Kind) -> Vec<Unit> {
    match kind {
        Kind::Mass => vec![
            plain("g", &["g", "gram", "grams"], 1.0),
            unit!("kg", ["kg", "kilo", "kilos", "kilogram", "kilograms"], Mass, mass, kilogram, gram),
            unit!("oz", ["oz", "ounce", "ounces"], Mass, mass, ounce, gram),
            unit!("lb", ["lb", "lbs", "pound", "pounds", "#"], Mass, mass, pound, gram),
        ],
        Kind::Volume => vec![
            plain("mL", &["ml", "cc", "cm3", "cm³", "milliliter", "millilitre"], 1.0),
            unit!("L", ["l", "liter", "litre", "liters", "litres"], Volume, volume, liter, milliliter),
            unit!("fl oz", ["fl oz", "floz", "fl. oz.", "oz", "fluid ounces"], Volume, volume, fluid_ounce, milliliter),
            unit!("pt", ["pt", "pint", "pints"], Volume, volume, pint_liquid, milliliter),
            unit!("qt", ["qt", "quart", "quarts"], Volume, volume, quart_liquid, milliliter),
            unit!("gal", ["gal", "gallon", "gallons", "us gal"], Volume, volume, gallon, milliliter),
        ],
        Kind::Length => vec![
            plain("mm", &["mm", "millimeter", "millimetre"], 1.0),
            unit!("cm", ["cm", "centimeter", "centimetre"], Length, length, centimeter, millimeter),
            unit!("m", ["m", "meter", "metre", "meters", "metres"], Length, length, meter, millimeter),
            unit!("in", ["in", "inch", "inches", "\"", "″"], Length, length, inch, millimeter),
            unit!("ft", ["ft", "foot", "feet", "'", "′"], Length, length, foot, millimeter),
        ],
        Kind::Film => vec![
            plain("µm", &["µm", "um", "μm", "micron", "microns"], 1.0),
            unit!("mil", ["mil", "mils", "thou"], Length, length, mil, micrometer),
            unit!("mm", ["mm"], Length, length, millimeter, micrometer),
            unit!("in", ["in", "inch", "\""], Length, length, inch, micrometer),
        ],
        Kind::Area => vec![
            plain("m²", &["m²", "m2", "sqm", "sq m", "square metres", "square meters"], 1.0),
            unit!("cm²", ["cm²", "cm2"], Area, area, square_centimeter, square_meter),
            unit!("ft²", ["ft²", "ft2", "sqft", "sq ft", "sf", "square feet"], Area, area, square_foot, square_meter),
            unit!("in²", ["in²", "in2", "sq in"], Area, area, square_inch, square_meter),
        ],
        Kind::Temperature => vec![
            plain("°C", &["°c", "c", "degc", "celsius", "deg c"], 1.0),
            Unit {
                symbol: "°F",
                names: &["°f", "f", "degf", "fahrenheit", "deg f"],
                factor: fahrenheit_step(),
                offset: fahrenheit_zero_c(),
            },
        ],
        Kind::TempDiff => vec![
            plain("°C", &["°c", "c", "k", "kelvin"], 1.0),
            Unit { symbol: "°F", names: &["°f", "f"], factor: fahrenheit_step(), offset: 0.0 },
        ],
        Kind::Pressure => vec![
            plain("kPa", &["kpa"], 1.0),
            unit!("psi", ["psi", "psig", "lb/in2", "lbs"], Pressure, pressure, psi, kilopascal),
            unit!("bar", ["bar", "barg"], Pressure, pressure, bar, kilopascal),
            unit!("MPa", ["mpa"], Pressure, pressure, megapascal, kilopascal),
            unit!("mbar", ["mbar"], Pressure, pressure, millibar, kilopascal),
        ],
        Kind::Percent => vec![plain("%", &["%", "pct", "percent", "per cent"], 1.0)],
        Kind::Ratio => vec![plain(": 1", &[], 1.0)],
        Kind::Time | Kind::Stopwatch => vec![
            plain("s", &["s", "sec", "secs", "second", "seconds"], 1.0),
            unit!("min", ["min", "mins", "minute", "minutes", "'"], Time, time, minute, second),
            unit!("h", ["h", "hr", "hrs", "hour", "hours"], Time, time, hour, second),
            unit!("d", ["d", "day", "days"], Time, time, day, second),
        ],
        Kind::Flow => vec![
            plain("mL/min", &["ml/min", "cc/min"], 1.0),
            plain("L/min", &["l/min"], litre_ml()),
            plain("fl oz/min", &["fl oz/min", "oz/min"], fluid_ounce_ml()),
        ],
        Kind::Density => vec![
            plain("kg/L", &["kg/l", "g/ml", "g/cm3", "g/cm³", "sg"], 1.0),
            plain("lb/gal", &["lb/gal", "lbs/gal", "ppg"], pound_per_gallon_kg_l()),
        ],
    }
}

fn fahrenheit_step() -> f64 {
    use uom::si::temperature_interval::{degree_fahrenheit, kelvin};
    si::TemperatureInterval::new::<degree_fahrenheit>(1.0).get::<kelvin>()
}

fn fahrenheit_zero_c() -> f64 {
    use uom::si::thermodynamic_temperature::{degree_celsius, degree_fahrenheit};
    si::ThermodynamicTemperature::new::<degree_fahrenheit>(0.0).get::<degree_celsius>()
}

fn litre_ml() -> f64 {
    use uom::si::volume::{liter, milliliter};
    si::Volume::new::<liter>(1.0).get::<milliliter>()
}

fn fluid_ounce_ml() -> f64 {
    use uom::si::volume::{fluid_ounce, milliliter};
    si::Volume::new::<fluid_ounce>(1.0).get::<milliliter>()
}

fn pound_per_gallon_kg_l() -> f64 {
    use uom::si::{mass::kilogram, mass::pound, volume::gallon, volume::liter};
    si::Mass::new::<pound>(1.0).get::<kilogram>() / si::Volume::new::<gallon>(1.0).get::<liter>()
}

/// The unit a bare number is read in.
pub(super) fn bare_unit(kind: Kind, set: UnitSet) -> &'static str {
    let us = set == UnitSet::Us;
    let gun = set != UnitSet::Metric;
    match kind {
        Kind::Mass => {
            if us {
                "oz"
            } else {
                "g"
            }
        }
        Kind::Volume => {
            if us {
                "fl oz"
            } else {
                "mL"
            }
        }
        Kind::Length => {
            if gun {
                "in"
            } else {
                "mm"
            }
        }
        Kind::Film => {
            if gun {
                "mil"
            } else {
                "µm"
            }
        }
        Kind::Area => {
            if us {
                "ft²"
            } else {
                "m²"
            }
        }
        Kind::Temperature | Kind::TempDiff => {
            if us {
                "°F"
            } else {
                "°C"
            }
        }
        Kind::Pressure => {
            if gun {
                "psi"
            } else {
                "kPa"
            }
        }
        Kind::Percent => "%",
        Kind::Ratio => ": 1",
        Kind::Time => "min",
        Kind::Stopwatch => "s",
        Kind::Flow => {
            if us {
                "fl oz/min"
            } else {
                "mL/min"
            }
        }
        Kind::Density => {
            if us {
                "lb/gal"
            } else {
                "kg/L"
            }
        }
    }
}

pub(super) fn find(kind: Kind, name: &str) -> Option<Unit> {
    let folded = name.trim().trim_end_matches('.').to_lowercase();
    units(kind).into_iter().find(|u| u.symbol.to_lowercase() == folded || u.names.contains(&folded.as_str()))
}
