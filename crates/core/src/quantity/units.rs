//! The unit table. Factors come from `uom`, never from a hand-typed constant.

use super::{QuantityKind, UnitSet};
use crate::worded::VariantArray;
use std::sync::LazyLock;
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

/// Every unit of every kind, made once: factors come out of `uom` by arithmetic.
static TABLE: LazyLock<Vec<Vec<Unit>>> = LazyLock::new(|| QuantityKind::VARIANTS.iter().copied().map(table).collect());

/// All units a field of this kind accepts.
pub(super) fn units(kind: QuantityKind) -> &'static [Unit] {
    &TABLE[kind as usize]
}

/// The unit of a symbol, exactly as it is shown.
pub(super) fn by_symbol(kind: QuantityKind, symbol: &str) -> Option<&'static Unit> {
    units(kind).iter().find(|u| u.symbol == symbol)
}

/// The units of a kind. Names are lower case; matching folds case.
fn table(kind: QuantityKind) -> Vec<Unit> {
    match kind {
        QuantityKind::Mass => mass_units(),
        QuantityKind::Volume => volume_units(),
        QuantityKind::Length => length_units(),
        QuantityKind::Nozzle | QuantityKind::Bore => table(QuantityKind::Length),
        QuantityKind::Film => film_units(),
        QuantityKind::Area => area_units(),
        QuantityKind::Temperature => temperature_units(),
        QuantityKind::TempDiff => temp_diff_units(),
        QuantityKind::Pressure => pressure_units(),
        QuantityKind::Percent => vec![plain("%", &["%", "pct", "percent", "per cent"], 1.0)],
        QuantityKind::Thinner => thinner_units(),
        QuantityKind::Mesh => table(QuantityKind::Film),
        QuantityKind::Ratio => vec![plain(": 1", &[], 1.0)],
        QuantityKind::Time | QuantityKind::Stopwatch => time_units(),
        QuantityKind::CupSeconds => vec![plain("s", &["s", "sec", "secs", "second", "seconds"], 1.0)],
        QuantityKind::Flow => flow_units(),
        QuantityKind::Density => density_units(),
        QuantityKind::Viscosity => viscosity_units(),
        QuantityKind::Kinematic => kinematic_units(),
        QuantityKind::Speed => speed_units(),
        QuantityKind::Angle => angle_units(),
        QuantityKind::MassPerVolume => mass_per_volume_units(),
        QuantityKind::VolumePerArea => volume_per_area_units(),
        QuantityKind::AreaPerVolume => area_per_volume_units(),
        QuantityKind::AirFlow => air_flow_units(),
        QuantityKind::Price => price_units(),
        QuantityKind::Count => vec![plain("×", &["x", "pieces", "pcs", "sides", "coats", "kits", "kit"], 1.0)],
    }
}

fn mass_units() -> Vec<Unit> {
    vec![
        plain("g", &["g", "gram", "grams"], 1.0),
        plain("mg", &["mg"], 1e-3),
        unit!("kg", ["kg", "kilo", "kilos", "kilogram", "kilograms"], Mass, mass, kilogram, gram),
        plain("t", &["t", "tonne", "tonnes"], 1e6),
        unit!("oz", ["oz", "ounce", "ounces"], Mass, mass, ounce, gram),
        unit!("lb", ["lb", "lbs", "pound", "pounds", "#"], Mass, mass, pound, gram),
    ]
}

fn volume_units() -> Vec<Unit> {
    vec![
        plain("mL", &["ml", "cc", "cm3", "cm³", "milliliter", "millilitre"], 1.0),
        unit!("L", ["l", "liter", "litre", "liters", "litres"], Volume, volume, liter, milliliter),
        plain("m³", &["m³", "m3"], 1e6),
        unit!("fl oz", ["fl oz", "floz", "oz", "ozs", "fluid ounces", "fluid ounce"], Volume, volume, fluid_ounce, milliliter),
        unit!("pt", ["pt", "pint", "pints"], Volume, volume, pint_liquid, milliliter),
        unit!("qt", ["qt", "quart", "quarts"], Volume, volume, quart_liquid, milliliter),
        unit!("gal", ["gal", "gallon", "gallons", "us gal"], Volume, volume, gallon, milliliter),
    ]
}

fn length_units() -> Vec<Unit> {
    vec![
        plain("mm", &["mm", "millimeter", "millimetre"], 1.0),
        unit!("cm", ["cm", "centimeter", "centimetre"], Length, length, centimeter, millimeter),
        unit!("m", ["m", "meter", "metre", "meters", "metres"], Length, length, meter, millimeter),
        plain("km", &["km"], 1e6),
        unit!("in", ["in", "inch", "inches", "\"", "″", "”"], Length, length, inch, millimeter),
        unit!("ft", ["ft", "foot", "feet", "'", "′", "’"], Length, length, foot, millimeter),
    ]
}

fn film_units() -> Vec<Unit> {
    vec![
        plain("µm", &["µm", "um", "μm", "micron", "microns"], 1.0),
        unit!("mil", ["mil", "mils", "thou"], Length, length, mil, micrometer),
        unit!("mm", ["mm"], Length, length, millimeter, micrometer),
        unit!("in", ["in", "inch", "\""], Length, length, inch, micrometer),
    ]
}

fn area_units() -> Vec<Unit> {
    vec![
        plain("m²", &["m²", "m2", "sqm", "sq m", "square metres", "square meters"], 1.0),
        unit!("cm²", ["cm²", "cm2"], Area, area, square_centimeter, square_meter),
        unit!("ft²", ["ft²", "ft2", "sqft", "sq ft", "sf", "square feet"], Area, area, square_foot, square_meter),
        unit!("in²", ["in²", "in2", "sq in"], Area, area, square_inch, square_meter),
    ]
}

fn temperature_units() -> Vec<Unit> {
    vec![
        plain("°C", &["°c", "c", "degc", "celsius", "deg c"], 1.0),
        Unit {
            symbol: "°F",
            names: &["°f", "f", "degf", "fahrenheit", "deg f"],
            factor: fahrenheit_step(),
            offset: fahrenheit_zero_c(),
        },
    ]
}

fn temp_diff_units() -> Vec<Unit> {
    vec![
        plain("°C", &["°c", "c", "k", "kelvin"], 1.0),
        Unit { symbol: "°F", names: &["°f", "f"], factor: fahrenheit_step(), offset: 0.0 },
    ]
}

fn pressure_units() -> Vec<Unit> {
    vec![
        plain("kPa", &["kpa"], 1.0),
        unit!("psi", ["psi", "psig", "lb/in2", "lb/in²", "lbs"], Pressure, pressure, psi, kilopascal),
        unit!("bar", ["bar", "barg"], Pressure, pressure, bar, kilopascal),
        unit!("MPa", ["mpa"], Pressure, pressure, megapascal, kilopascal),
        unit!("mbar", ["mbar"], Pressure, pressure, millibar, kilopascal),
        unit!(
            "kgf/cm²",
            ["kgf/cm2", "kg/cm²", "kg/cm2", "kgf"],
            Pressure,
            pressure,
            kilogram_force_per_square_centimeter,
            kilopascal
        ),
    ]
}

/// Thinner is measured by volume: so many fluid ounces in the gallon are so many hundredths of it.
fn thinner_units() -> Vec<Unit> {
    vec![
        plain("%", &["%", "pct", "percent", "per cent"], 1.0),
        plain("fl oz/gal", &["fl oz/gal", "floz/gal", "oz/gal", "oz/us gal"], 100.0 * fluid_ounce_ml() / gallon_ml()),
        plain("mL/L", &["ml/l"], 0.1),
    ]
}

fn time_units() -> Vec<Unit> {
    vec![
        plain("s", &["s", "sec", "secs", "second", "seconds"], 1.0),
        unit!("min", ["min", "mins", "minute", "minutes", "'"], Time, time, minute, second),
        unit!("h", ["h", "hr", "hrs", "hour", "hours"], Time, time, hour, second),
        unit!("d", ["d", "day", "days"], Time, time, day, second),
    ]
}

fn flow_units() -> Vec<Unit> {
    vec![
        plain("mL/min", &["ml/min", "cc/min"], 1.0),
        plain("L/min", &["l/min", "lpm"], litre_ml()),
        plain("mL/s", &["ml/s", "cc/s"], 60.0),
        plain("fl oz/min", &["fl oz/min", "oz/min"], fluid_ounce_ml()),
        plain("gal/min", &["gal/min", "gpm"], gallon_ml()),
    ]
}

fn density_units() -> Vec<Unit> {
    vec![
        plain("kg/L", &["kg/l", "g/ml", "g/cm3", "g/cm³", "g/cc", "sg"], 1.0),
        plain("kg/m³", &["kg/m³", "kg/m3"], 1e-3),
        plain("lb/gal", &["lb/gal", "lbs/gal", "ppg"], pound_g() / gallon_ml()),
    ]
}

fn viscosity_units() -> Vec<Unit> {
    vec![
        plain("mPa·s", &["mpa·s", "mpas", "mpa s", "mpa.s", "mpa*s", "cp", "cps", "centipoise"], 1.0),
        unit!("P", ["p", "poise"], DynamicViscosity, dynamic_viscosity, poise, millipascal_second),
        unit!(
            "Pa·s",
            ["pa·s", "pas", "pa s", "pa.s", "pa*s"],
            DynamicViscosity,
            dynamic_viscosity,
            pascal_second,
            millipascal_second
        ),
    ]
}

fn kinematic_units() -> Vec<Unit> {
    vec![
        plain("mm²/s", &["mm²/s", "mm2/s", "cst", "centistokes"], 1.0),
        unit!("St", ["st", "stokes"], KinematicViscosity, kinematic_viscosity, stokes, square_millimeter_per_second),
    ]
}

fn speed_units() -> Vec<Unit> {
    vec![
        plain("m/s", &["m/s"], 1.0),
        unit!("cm/s", ["cm/s"], Velocity, velocity, centimeter_per_second, meter_per_second),
        unit!("in/s", ["in/s", "ips"], Velocity, velocity, inch_per_second, meter_per_second),
        unit!("ft/s", ["ft/s", "fps"], Velocity, velocity, foot_per_second, meter_per_second),
        unit!("ft/min", ["ft/min", "fpm"], Velocity, velocity, foot_per_minute, meter_per_second),
        plain("m/min", &["m/min"], 1.0 / 60.0),
    ]
}

fn angle_units() -> Vec<Unit> {
    vec![
        plain("°", &["°", "deg", "degree", "degrees"], 1.0),
        unit!("rad", ["rad", "radians"], Angle, angle, radian, degree),
        unit!("turn", ["turns", "turn", "rev"], Angle, angle, revolution, degree),
    ]
}

fn mass_per_volume_units() -> Vec<Unit> {
    vec![
        plain("g/L", &["g/l", "kg/m3", "kg/m³"], 1.0),
        plain("g/gal", &["g/gal"], 1.0 / (gallon_ml() / litre_ml())),
        unit!(
            "oz wt/gal",
            ["oz wt/gal", "oz(wt)/gal", "ozwt/gal", "wt oz/gal"],
            MassDensity,
            mass_density,
            ounce_per_gallon,
            kilogram_per_cubic_meter
        ),
        unit!("lb/gal", ["lb/gal", "lbs/gal"], MassDensity, mass_density, pound_per_gallon, kilogram_per_cubic_meter),
    ]
}

fn volume_per_area_units() -> Vec<Unit> {
    vec![
        plain("mL/m²", &["ml/m²", "ml/m2"], 1.0),
        plain("L/m²", &["l/m²", "l/m2"], litre_ml()),
        plain("fl oz/ft²", &["fl oz/ft²", "fl oz/ft2", "oz/ft2", "oz/ft²", "floz/ft2"], fluid_ounce_ml() / square_foot_m2()),
        plain("gal/ft²", &["gal/ft²", "gal/ft2"], gallon_ml() / square_foot_m2()),
    ]
}

fn area_per_volume_units() -> Vec<Unit> {
    vec![
        plain("m²/L", &["m²/l", "m2/l"], 1.0),
        plain("ft²/gal", &["ft²/gal", "ft2/gal", "sqft/gal", "sf/gal"], square_foot_m2() / (gallon_ml() / litre_ml())),
    ]
}

fn air_flow_units() -> Vec<Unit> {
    vec![
        plain("L/min", &["l/min", "lpm", "nl/min"], 1.0),
        plain("scfm", &["scfm", "cfm"], cubic_foot_l()),
        plain("m³/h", &["m³/h", "m3/h"], 1000.0 / 60.0),
    ]
}

/// Money is said whole and kept in hundredths.
fn price_units() -> Vec<Unit> {
    let of_whole = 100.0 * litre_ml();
    vec![
        plain("/L", &["/l", "/litre", "/liter", "per l", "per litre", "per liter", "a litre", "a liter"], 100.0),
        plain("/qt", &["/quart", "per qt", "per quart", "a quart"], of_whole / quart_ml()),
        plain("/gal", &["/gallon", "/us gal", "per gal", "per gallon", "a gallon"], of_whole / gallon_ml()),
    ]
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

fn quart_ml() -> f64 {
    use uom::si::volume::{milliliter, quart_liquid};
    si::Volume::new::<quart_liquid>(1.0).get::<milliliter>()
}

fn gallon_ml() -> f64 {
    use uom::si::volume::{gallon, milliliter};
    si::Volume::new::<gallon>(1.0).get::<milliliter>()
}

fn pound_g() -> f64 {
    use uom::si::mass::{gram, pound};
    si::Mass::new::<pound>(1.0).get::<gram>()
}

fn cubic_foot_l() -> f64 {
    use uom::si::volume::{cubic_foot, liter};
    si::Volume::new::<cubic_foot>(1.0).get::<liter>()
}

fn square_foot_m2() -> f64 {
    use uom::si::area::{square_foot, square_meter};
    si::Area::new::<square_foot>(1.0).get::<square_meter>()
}

/// The unit a bare number is read in.
pub(super) fn bare_unit(kind: QuantityKind, set: UnitSet) -> &'static str {
    // The gun and the film are read in psi, mil and inch unless the whole set is metric.
    let us = |us: &'static str, metric: &'static str| if set == UnitSet::Us { us } else { metric };
    let gun = |gun: &'static str, metric: &'static str| if set == UnitSet::Metric { metric } else { gun };
    match kind {
        QuantityKind::Mass => us("oz", "g"),
        QuantityKind::Volume => us("fl oz", "mL"),
        QuantityKind::Length | QuantityKind::Bore => gun("in", "mm"),
        QuantityKind::Nozzle => "mm",
        QuantityKind::Film => gun("mil", "µm"),
        QuantityKind::Mesh => "µm",
        QuantityKind::Area => us("ft²", "m²"),
        QuantityKind::Temperature | QuantityKind::TempDiff => us("°F", "°C"),
        QuantityKind::Pressure => gun("psi", "kPa"),
        QuantityKind::Percent | QuantityKind::Thinner => "%",
        QuantityKind::Ratio => ": 1",
        QuantityKind::Time => "min",
        QuantityKind::Stopwatch | QuantityKind::CupSeconds => "s",
        QuantityKind::Flow => us("fl oz/min", "mL/min"),
        QuantityKind::Density => us("lb/gal", "kg/L"),
        QuantityKind::Viscosity => "mPa·s",
        QuantityKind::Kinematic => "mm²/s",
        QuantityKind::Speed => gun("in/s", "m/s"),
        QuantityKind::Angle => "°",
        QuantityKind::MassPerVolume => us("oz wt/gal", "g/L"),
        QuantityKind::VolumePerArea => us("fl oz/ft²", "mL/m²"),
        QuantityKind::AreaPerVolume => us("ft²/gal", "m²/L"),
        QuantityKind::AirFlow => gun("scfm", "L/min"),
        QuantityKind::Price => us("/gal", "/L"),
        QuantityKind::Count => "×",
    }
}

/// The unit a second, bare part of a compound is in: `5 ft 6`, `1 h 30`, `2 lb 3`.
pub(super) fn part_of(symbol: &str) -> Option<&'static str> {
    match symbol {
        "ft" => Some("in"),
        "lb" => Some("oz"),
        "d" => Some("h"),
        "h" => Some("min"),
        "min" => Some("s"),
        _ => None,
    }
}

pub(super) fn find(kind: QuantityKind, name: &str) -> Option<&'static Unit> {
    let folded = name.trim().trim_end_matches('.').to_lowercase();
    // `fl. oz`, `sq. ft.`: an abbreviation with its points is the same without.
    let plain: String = folded.replace('.', "").split_whitespace().collect::<Vec<_>>().join(" ");
    // The metre and the mega of a symbol differ by case alone (`mPa·s` is no `MPa`): those never share a kind.
    units(kind)
        .iter()
        .find(|u| u.symbol.to_lowercase() == folded || u.names.contains(&folded.as_str()) || u.names.contains(&plain.as_str()))
}
