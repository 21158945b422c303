//! Every bound of every input, stated once. Messages come from here.
//!
//! They are limits of sense (beyond them the figure is a slip of the pen), not tolerances of the trade.

use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::verdict::{is_over, is_under};

/// A bound: what it bounds, its kind (so its unit), least and most allowed.
#[derive(Debug, Clone, Copy)]
pub struct Limit {
    /// The trade's word.
    pub name: &'static str,
    /// Kind, which gives the unit.
    pub kind: QuantityKind,
    /// Least allowed, in the base unit.
    pub min: f64,
    /// Most allowed, in the base unit.
    pub max: f64,
}

const fn limit(name: &'static str, kind: QuantityKind, min: f64, max: f64) -> Limit {
    Limit { name, kind, min, max }
}

impl Limit {
    /// Passes `value` or refuses it, naming the field and both bounds in the person's units.
    ///
    /// **Rule:** `min ≤ value ≤ max`, the hairline in. **Units:** the base unit of its kind. **Source:** each limit states its
    /// own.
    ///
    /// ```
    /// use level_keel_core::{limits::DENSITY, quantity::Prefs};
    /// assert!(DENSITY.check("base_density_kg_l", 0.2, Prefs::METRIC).is_err());
    /// ```
    pub fn check(&self, field: &str, value: f64, prefs: Prefs) -> Result<f64, Refusal> {
        if value.is_finite() && !is_under(value, self.min) && !is_over(value, self.max) {
            return Ok(value);
        }
        let say = |v: f64| show(v, self.kind, prefs).text;
        Err(Refusal::bad_input(
            "outside-limits",
            field,
            format!("{} {} is outside {} to {}.", self.name, say(value), say(self.min), say(self.max)),
        ))
    }

    /// As [`Limit::check`], for a field that may be left out.
    ///
    /// **Rule:** nothing passes. **Units:** as there. **Source:** as there.
    pub fn check_optional(&self, field: &str, value: Option<f64>, prefs: Prefs) -> Result<Option<f64>, Refusal> {
        value.map(|v| self.check(field, v, prefs)).transpose()
    }
}

/// Density of a liquid component.
pub const DENSITY: Limit = limit("Density", QuantityKind::Density, 0.5, 3.5);
/// Parts of A to one part of B.
pub const RATIO: Limit = limit("Ratio", QuantityKind::Ratio, 0.05, 100.0);
/// Density of an additive: a dry pigment may be heavier than any paint.
pub const DENSITY_ADDITIVE: Limit = limit("Density", QuantityKind::Density, 0.2, 9.0);
/// A count of pieces, sides, coats or kits.
pub const COUNT: Limit = limit("Count", QuantityKind::Count, 0.01, 100_000.0);
/// What a can of a kit holds.
pub const KIT_CAN: Limit = limit("Can of the kit", QuantityKind::Mass, 1.0, 1_000_000.0);
/// Dose of an additive in sprayable paint.
pub const DOSE: Limit = limit("Dose", QuantityKind::MassPerVolume, 0.01, 500.0);
/// Dose of an additive on base, by weight.
pub const DOSE_PERCENT: Limit = limit("Dose", QuantityKind::Percent, 0.01, 50.0);
/// Percent of B on A by weight.
pub const HARDENER_PERCENT: Limit = limit("Hardener", QuantityKind::Percent, 0.1, 100.0);
/// Volume solids.
pub const SOLIDS: Limit = limit("Volume solids", QuantityKind::Percent, 1.0, 100.0);
/// Thinner, of base or of mixed.
pub const THINNER: Limit = limit("Thinner", QuantityKind::Thinner, 0.0, 300.0);
/// Thinner of finished mix: at 100 % there would be no paint.
pub const THINNER_OF_FINISHED: Limit = limit("Thinner of finished mix", QuantityKind::Thinner, 0.0, 99.0);
/// Tolerance on B per A.
pub const TOLERANCE: Limit = limit("Tolerance", QuantityKind::Percent, 0.1, 50.0);
/// Transfer efficiency.
pub const TRANSFER: Limit = limit("Transfer efficiency", QuantityKind::Percent, 5.0, 100.0);
/// Temperature of air, surface or material.
pub const TEMPERATURE: Limit = limit("Temperature", QuantityKind::Temperature, -40.0, 80.0);
/// Margin of the surface above the dew point.
pub const MARGIN: Limit = limit("Dew margin", QuantityKind::TempDiff, 0.0, 20.0);
/// Relative humidity; 0 and above 100 are faults of the instrument.
pub const HUMIDITY: Limit = limit("Relative humidity", QuantityKind::Percent, 1.0, 100.0);
/// Area of a part.
pub const AREA: Limit = limit("Area", QuantityKind::Area, 0.001, 100_000.0);
/// The most area of a litre.
pub const COVERAGE: Limit = limit("Area of a litre", QuantityKind::AreaPerVolume, 0.05, 100.0);
/// Film, wet or dry.
pub const FILM: Limit = limit("Film", QuantityKind::Film, 1.0, 10_000.0);
/// One division of a film gauge.
pub const FILM_DIVISION: Limit = limit("Division of the gauge", QuantityKind::Film, 0.01, 25.4);
/// What a gauge reads on a bare surface.
pub const BARE: Limit = limit("Reading on bare steel", QuantityKind::Film, 0.0, 200.0);
/// What a foil may be off.
pub const FOIL_OFF: Limit = limit("Tolerance of the foil", QuantityKind::Film, 0.0, 50.0);
/// What a gauge may be off, of the film.
pub const GAUGE_OFF: Limit = limit("Tolerance of the gauge", QuantityKind::Percent, 0.1, 10.0);
/// Price of a litre, in hundredths of the shop's money.
pub const PRICE: Limit = limit("Price", QuantityKind::Price, 0.0, 100_000_000.0);
/// What a container holds, what is left of a lot.
pub const STOCK: Limit = limit("Stock", QuantityKind::Mass, 0.0, 50_000_000.0);
/// A measure of a take-off.
pub const TAKE_OFF: Limit = limit("Measure", QuantityKind::Length, 1.0, 500_000.0);
/// Sides or ends of a shape that are coated.
pub const SIDES: Limit = limit("Sides", QuantityKind::Count, 0.0, 12.0);
/// How far an area may be off, what corners add.
pub const OFF: Limit = limit("Share", QuantityKind::Percent, 0.0, 90.0);
/// Paint mixed beyond the need.
pub const EXTRA: Limit = limit("Extra", QuantityKind::Percent, 0.0, 200.0);
/// Bore of a fluid hose.
pub const HOSE_BORE: Limit = limit("Hose bore", QuantityKind::Bore, 1.0, 100.0);
/// Length of a fluid hose.
pub const HOSE_LENGTH: Limit = limit("Hose length", QuantityKind::Length, 0.0, 200_000.0);
/// Paint sprayed in a minute.
pub const SPRAY_RATE: Limit = limit("Spray rate", QuantityKind::Flow, 1.0, 20_000.0);
/// Diameter or height of a mixing cup.
pub const CUP: Limit = limit("Cup", QuantityKind::Length, 10.0, 2000.0);
/// A level in a cup.
pub const CUP_LEVEL: Limit = limit("Level", QuantityKind::Length, 0.1, 2000.0);
/// A reading of a scale.
pub const SCALE_READING: Limit = limit("Scale reading", QuantityKind::Mass, 0.0, 1_000_000.0);
/// Resolution of a scale.
pub const SCALE_RESOLUTION: Limit = limit("Scale resolution", QuantityKind::Mass, 0.001, 1000.0);
/// Amount of paint.
pub const AMOUNT: Limit = limit("Amount", QuantityKind::Volume, 0.1, 1_000_000.0);
/// Fluid pressure of a pot, gauge: nothing here may pass 1,000 kPa (145 psi) until the rig says so.
pub const POT_PRESSURE: Limit = limit("Pot pressure", QuantityKind::Pressure, 0.0, 1000.0);
/// Atomizing pressure, gauge.
pub const ATOMIZING_PRESSURE: Limit = limit("Atomizing pressure", QuantityKind::Pressure, 0.0, 1000.0);
/// What a gauge reads: down to a full vacuum, not below it.
pub const GAUGE: Limit = limit("Gauge", QuantityKind::Pressure, -101.325, 60_000.0);
/// Length of the stream before it bends.
pub const STREAM: Limit = limit("Stream", QuantityKind::Length, 0.0, 2000.0);
/// Length of a hose in a rig: one stands there, and none is kilometres long.
pub const LINE_LENGTH: Limit = limit("Hose length", QuantityKind::Length, 50.0, 200_000.0);
/// Hole of a fluid nozzle or an airless tip.
pub const NOZZLE: Limit = limit("Nozzle", QuantityKind::Nozzle, 0.1, 10.0);
/// Angle of a fan.
pub const FAN_ANGLE: Limit = limit("Angle", QuantityKind::Angle, 5.0, 150.0);
/// Viscosity of what is sprayed.
pub const VISCOSITY: Limit = limit("Viscosity", QuantityKind::Viscosity, 0.2, 500_000.0);
/// Index of a power law.
pub const FLOW_INDEX: Limit = limit("Flow index", QuantityKind::Count, 0.1, 1.5);
/// Seconds of a flow cup.
pub const CUP_SECONDS: Limit = limit("Cup time", QuantityKind::CupSeconds, 1.0, 600.0);
/// Fluid pressure of a pump or an airless rig.
pub const FLUID_PRESSURE: Limit = limit("Fluid pressure", QuantityKind::Pressure, 0.0, 60_000.0);
/// What a vessel is rated for.
pub const RATING: Limit = limit("Rating", QuantityKind::Pressure, 10.0, 60_000.0);
/// Air through a hose.
pub const AIR_FLOW: Limit = limit("Air flow", QuantityKind::AirFlow, 1.0, 50_000.0);
/// Air pressure at the wall.
pub const AIR_PRESSURE: Limit = limit("Air pressure", QuantityKind::Pressure, 0.0, 1600.0);
/// Flow of fluid that is caught or asked.
pub const FLUID_FLOW: Limit = limit("Fluid flow", QuantityKind::Flow, 1.0, 50_000.0);
/// Width of a fan.
pub const FAN: Limit = limit("Fan", QuantityKind::Length, 10.0, 3000.0);
/// Overlap of laps.
pub const OVERLAP: Limit = limit("Overlap", QuantityKind::Percent, 0.0, 90.0);
/// Speed of the gun.
pub const GUN_SPEED: Limit = limit("Gun speed", QuantityKind::Speed, 0.005, 5.0);
/// How far off the part the gun is held.
pub const GUN_DISTANCE: Limit = limit("Distance of the gun", QuantityKind::Length, 50.0, 5000.0);
/// A prepared surface waits so long at the most, or takes so long.
pub const PREPARED_IN: Limit = limit("Time", QuantityKind::Time, 10.0, 172_800.0);
/// Strokes that are timed together.
pub const STROKES: Limit = limit("Strokes", QuantityKind::Count, 2.0, 200.0);
/// Turns of a needle or an air knob.
pub const TURNS: Limit = limit("Turns", QuantityKind::Count, 0.0, 12.0);
/// Grit of an abrasive paper.
pub const GRIT: Limit = limit("Grit", QuantityKind::Count, 16.0, 3000.0);
/// How long a catch runs.
pub const CATCH_TIME: Limit = limit("Time of the catch", QuantityKind::Stopwatch, 1.0, 3600.0);
/// Marks of a machine's catalyst setting.
pub const SETTING: Limit = limit("Catalyst setting", QuantityKind::Count, 0.05, 1000.0);
/// The shop's own interval between two checks of the ratio.
pub const CHECK_EVERY: Limit = limit("Interval between checks", QuantityKind::Time, 900.0, 43_200.0);
/// One division of a gauge.
pub const GAUGE_DIVISION: Limit = limit("Division", QuantityKind::Pressure, 0.1, 2000.0);
/// Days until an instrument is checked again.
pub const DAYS: Limit = limit("Days", QuantityKind::Count, 1.0, 1000.0);
/// Lift from pot to gun; under zero where the gun hangs lower.
pub const LIFT: Limit = limit("Lift", QuantityKind::Length, -20_000.0, 20_000.0);
/// Pot life and induction as a sheet states them.
pub const SHEET_TIME: Limit = limit("Time", QuantityKind::Time, 0.0, 365.0 * 86_400.0);
/// Pot life: at least half a minute.
pub const POT_LIFE: Limit = limit("Pot life", QuantityKind::Time, 30.0, 30.0 * 86_400.0);
/// Stirring, resting, stirring again: minutes to a day.
pub const HANDLING_TIME: Limit = limit("Time", QuantityKind::Time, 10.0, 86_400.0);
/// Mesh of a strainer or filter, hole of a nozzle.
pub const MESH: Limit = limit("Opening", QuantityKind::Mesh, 10.0, 10_000.0);
/// How long ago an entry may have happened, in seconds.
pub const BACK_DATE_S: f64 = 24.0 * 3600.0;
/// Longest name of a person, part, lot or product.
pub const NAME_CHARS: usize = 80;
/// Longest code of a tip.
pub const TIP_CODE_CHARS: usize = 12;
/// Longest short label.
pub const LABEL_CHARS: usize = 14;
/// Longest name of an additive: it stands in the pour table.
pub const ADDITIVE_CHARS: usize = 24;
/// Longest name of a colour.
pub const COLOUR_CHARS: usize = 40;
/// Longest note or reason.
pub const TEXT_CHARS: usize = 2000;

/// Checks a name: something visible, not too long, no control characters.
pub fn check_name(field: &str, text: &str) -> Result<String, Refusal> {
    check_text(field, text, NAME_CHARS)
}

/// Characters that show nothing and change how what is around them shows: marks, embeddings, overrides and isolates of direction,
/// breaks of line and paragraph, blanks of no width. A name with one reads as another name. **Source:** Unicode, UAX 9, table of
/// explicit formatting characters; from memory.
fn is_unseen(c: char) -> bool {
    matches!(c, '\u{61c}' | '\u{200b}'..='\u{200f}' | '\u{2028}'..='\u{202e}' | '\u{2060}'..='\u{2069}' | '\u{feff}')
}

/// A text as it is shown: what would hide or turn what is around it is seen as a sign that stands for it.
///
/// ```
/// assert_eq!(level_keel_core::limits::in_plain_sight("wiped \u{202e}ton"), "wiped \u{fffd}ton");
/// ```
pub fn in_plain_sight(text: &str) -> String {
    text.chars().map(|c| if is_unseen(c) || (c.is_control() && c != '\n') { '\u{fffd}' } else { c }).collect()
}

/// Checks a text of at most `most` characters; trims it.
pub fn check_text(field: &str, text: &str, most: usize) -> Result<String, Refusal> {
    let text = text.trim();
    if text.is_empty() {
        return Err(Refusal::bad_input("missing", field, "This cannot be empty."));
    }
    let length = text.chars().count();
    if length > most {
        return Err(Refusal::bad_input("too-long", field, format!("{length} characters; at most {most} fit here.")));
    }
    // A note says what somebody wrote, and is shown in plain sight; what things are called by hides nothing.
    let is_name = most < TEXT_CHARS;
    if text.chars().any(|c| (c.is_control() && c != '\n') || (is_name && is_unseen(c))) {
        return Err(Refusal::bad_input("not-text", field, "This holds characters that cannot be printed."));
    }
    Ok(text.into())
}

/// The value of a required field, or a refusal naming it.
pub fn required<T>(field: &str, value: Option<T>) -> Result<T, Refusal> {
    value.ok_or_else(|| Refusal::bad_input("missing", field, "This is needed."))
}
