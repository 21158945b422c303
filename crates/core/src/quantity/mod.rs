//! Quantities: what people type, in one base unit per kind, and back in the unit set they read.
//!
//! A *temperature* and a *temperature difference* are different kinds and never convert into each other.

mod mesh;
mod parse;
mod resolve;
mod show;
mod units;

pub use parse::{ParseError, parse};
pub use resolve::{form_texts, resolve, understood};
pub use show::{Shown, edit_text, show, show_duration, show_live, show_to};

use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The kinds of quantity a field can hold, each with its base unit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum QuantityKind {
    /// grams
    #[strum(serialize = "mass")]
    Mass,
    /// millilitres
    #[strum(serialize = "volume")]
    Volume,
    /// millimetres
    #[strum(serialize = "length")]
    Length,
    /// millimetres of a nozzle's hole: read and said in millimetres by everybody
    #[strum(serialize = "nozzle")]
    Nozzle,
    /// millimetres of a hose's bore: an inch reader says it in fractions
    #[strum(serialize = "bore")]
    Bore,
    /// micrometres
    #[strum(serialize = "film thickness")]
    Film,
    /// square metres
    #[strum(serialize = "area")]
    Area,
    /// degrees Celsius on the scale
    #[strum(serialize = "temperature")]
    Temperature,
    /// kelvin, a difference of two temperatures
    #[strum(serialize = "temperature difference")]
    TempDiff,
    /// kilopascal, gauge
    #[strum(serialize = "pressure")]
    Pressure,
    /// per cent
    #[strum(serialize = "percent")]
    Percent,
    /// per cent by volume of thinner, also typed as fluid ounces in a gallon or as `1:1`
    #[strum(serialize = "thinner")]
    Thinner,
    /// micrometres of a strainer's or filter's opening, also typed as a mesh count
    #[strum(serialize = "opening")]
    Mesh,
    /// parts of A to one part of B
    #[strum(serialize = "ratio")]
    Ratio,
    /// seconds, typed bare as minutes
    #[strum(serialize = "time")]
    Time,
    /// seconds by stopwatch, typed bare as seconds
    #[strum(serialize = "time")]
    Stopwatch,
    /// millilitres a minute
    #[strum(serialize = "flow")]
    Flow,
    /// kilograms a litre
    #[strum(serialize = "density")]
    Density,
    /// millipascal seconds, dynamic
    #[strum(serialize = "viscosity")]
    Viscosity,
    /// square millimetres a second, kinematic: what a cup gives
    #[strum(serialize = "kinematic viscosity")]
    Kinematic,
    /// seconds a viscosity cup runs
    #[strum(serialize = "cup seconds")]
    CupSeconds,
    /// metres a second
    #[strum(serialize = "speed")]
    Speed,
    /// degrees of arc
    #[strum(serialize = "angle")]
    Angle,
    /// grams a litre: a dose in sprayable paint
    #[strum(serialize = "mass in a volume")]
    MassPerVolume,
    /// millilitres a square metre: paint laid on
    #[strum(serialize = "volume on an area")]
    VolumePerArea,
    /// square metres a litre: spreading rate
    #[strum(serialize = "spreading rate")]
    AreaPerVolume,
    /// litres of free air a minute, at 20 °C and 1 atm
    #[strum(serialize = "air flow")]
    AirFlow,
    /// hundredths of the shop's money a litre: typed and said in whole money by litre, quart or gallon
    #[strum(serialize = "price")]
    Price,
    /// how many: pieces, sides, coats, kits
    #[strum(serialize = "count")]
    Count,
}

impl Worded for QuantityKind {}

/// What a field's name ends in when it holds a quantity. Longest first, so that `_ml_min` is not read as something else.
const SUFFIXES: [(&str, QuantityKind); 25] = [
    ("_minor_l", QuantityKind::Price),
    ("_nl_min", QuantityKind::AirFlow),
    ("_count", QuantityKind::Count),
    ("_index", QuantityKind::Count),
    ("_mpa_s", QuantityKind::Viscosity),
    ("_mm2_s", QuantityKind::Kinematic),
    ("_cup_s", QuantityKind::CupSeconds),
    ("_ml_m2", QuantityKind::VolumePerArea),
    ("_m2_l", QuantityKind::AreaPerVolume),
    ("_g_l", QuantityKind::MassPerVolume),
    ("_m_s", QuantityKind::Speed),
    ("_deg", QuantityKind::Angle),
    ("_watch_s", QuantityKind::Stopwatch),
    ("_ml_min", QuantityKind::Flow),
    ("_kg_l", QuantityKind::Density),
    ("_kpa", QuantityKind::Pressure),
    ("_pct", QuantityKind::Percent),
    ("_ml", QuantityKind::Volume),
    ("_mm", QuantityKind::Length),
    ("_um", QuantityKind::Film),
    ("_m2", QuantityKind::Area),
    ("_dk", QuantityKind::TempDiff),
    ("_c", QuantityKind::Temperature),
    ("_g", QuantityKind::Mass),
    ("_s", QuantityKind::Time),
];

impl QuantityKind {
    /// The kind a wire field holds, read from its unit suffix; `None` for a field without one.
    ///
    /// ```
    /// use level_keel_core::quantity::QuantityKind;
    /// assert_eq!(QuantityKind::of_field("pot_kpa"), Some(QuantityKind::Pressure));
    /// assert_eq!(QuantityKind::of_field("flow_ml_min"), Some(QuantityKind::Flow));
    /// assert_eq!(QuantityKind::of_field("dose_g_l"), Some(QuantityKind::MassPerVolume));
    /// assert_eq!(QuantityKind::of_field("thin_mpa_s"), Some(QuantityKind::Viscosity));
    /// assert_eq!(QuantityKind::of_field("note"), None);
    /// ```
    pub fn of_field(field: &str) -> Option<QuantityKind> {
        match field {
            "ratio" => return Some(QuantityKind::Ratio),
            "thinner_pct" | "thinner_max_pct" => return Some(QuantityKind::Thinner),
            "nozzle_mm" | "spare_mm" => return Some(QuantityKind::Nozzle),
            _ if field.ends_with("_bore_mm") => return Some(QuantityKind::Bore),
            "strain_um" | "gun_filter_um" => return Some(QuantityKind::Mesh),
            _ if field.ends_with("_ratio") => return Some(QuantityKind::Ratio),
            _ => {}
        }
        SUFFIXES.iter().find(|(s, _)| field.ends_with(s)).map(|(_, k)| *k)
    }

    /// A field's name without its unit, for a label.
    ///
    /// ```
    /// use level_keel_core::quantity::QuantityKind;
    /// assert_eq!(QuantityKind::bare("viscosity_mpa_s"), "viscosity");
    /// assert_eq!(QuantityKind::bare("hazards"), "hazards");
    /// ```
    pub fn bare(field: &str) -> &str {
        let units = SUFFIXES.iter().map(|(suffix, _)| *suffix).chain(["_days"]);
        units.into_iter().find_map(|suffix| field.strip_suffix(suffix)).unwrap_or(field)
    }
}

/// Units offered beside a field, by the end of its name; longer ends first. All of them are read wherever they are typed.
pub const CHIPS: [(&str, &[&str]); 25] = [
    ("_m2_l", &["m²/L", "ft²/gal"]),
    ("_minor_l", &["/L", "/gal", "/qt"]),
    ("nozzle_mm", &["mm", "in"]),
    ("spare_mm", &["mm", "in"]),
    ("_mpa_s", &["mPa·s", "cP", "Pa·s"]),
    ("_watch_s", &["s", "min"]),
    ("_cup_s", &["s"]),
    ("_g_l", &["g/L", "oz/gal", "lb/gal"]),
    ("_m_s", &["in/s", "m/s", "ft/min"]),
    ("_count", &[]),
    ("_nl_min", &["scfm", "L/min"]),
    ("_ml_min", &["mL/min", "L/min", "fl oz/min"]),
    ("_kg_l", &["kg/L", "g/mL", "lb/gal"]),
    ("_kpa", &["psi", "bar", "kPa"]),
    ("_pct", &["%"]),
    ("_deg", &["°"]),
    ("_ml", &["mL", "L", "fl oz"]),
    ("_mm", &["in", "mm", "ft"]),
    ("_um", &["mil", "µm", "mm"]),
    ("_m2", &["m²", "ft²", "cm²"]),
    ("_dk", &["°C", "°F"]),
    ("_c", &["°C", "°F"]),
    ("_g", &["g", "kg", "oz"]),
    ("_s", &["min", "h", "s"]),
    ("ratio", &[":"]),
];

/// The unit set a person reads in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum UnitSet {
    /// US customary throughout.
    #[strum(serialize = "US")]
    Us,
    /// Metric throughout.
    #[strum(serialize = "Metric")]
    Metric,
    /// psi, mil and inch for the gun and the film; °C, g, L, m² for the rest.
    #[default]
    #[strum(serialize = "Mixed")]
    Mixed,
}

impl Worded for UnitSet {}

impl UnitSet {
    /// The units it is made of, for whoever chooses it.
    pub fn units(self) -> &'static str {
        match self {
            UnitSet::Us => "psi, mil, inch, °F, oz, fl oz, ft²",
            UnitSet::Metric => "kPa, µm, mm, °C, g, L, m²",
            UnitSet::Mixed => "psi, mil and inch for gun and film; °C, g, L, m² for the rest",
        }
    }
}

/// How a person writes numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum NumberFormat {
    /// `1604.2`; a comma is refused, because `0,8` and `1,604` cannot be told apart.
    #[default]
    Point,
    /// `1604,2`; a comma is the decimal mark.
    Comma,
}

/// A person's way of reading and writing numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
pub struct Prefs {
    /// Unit set.
    pub units: UnitSet,
    /// Number format.
    pub numbers: NumberFormat,
}

impl Prefs {
    /// Metric with a decimal point: what the log and the tests read.
    pub const METRIC: Prefs = Prefs { units: UnitSet::Metric, numbers: NumberFormat::Point };
}
