//! A cup as it is sold, with its scale printed on: the line each pour is filled to, and what such lines can prove.

use super::{Component, shares};
use crate::limits::{self, check_name, required};
use crate::quantity::{Prefs, QuantityKind, parse, show};
use crate::refusal::Refusal;
use crate::sheets::Sheet;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use std::sync::LazyLock;
use utoipa::ToSchema;

/// How well an eye reads such a cup, half width, as a part of the step between two lines; from memory.
pub const READ_TO: f64 = 0.25;

/// Two ratios this near are one, as a part of them: a column is printed for one ratio; from memory.
const SAME_RATIO: f64 = 0.01;

/// What is printed on a cup.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Printed {
    /// Lines of US fluid ounces.
    #[strum(serialize = "fluid ounces")]
    FlOz,
    /// Lines of millilitres.
    #[strum(serialize = "millilitres")]
    Ml,
    /// A set of columns for one ratio, each with the same numbers: base to a number in the first, hardener to the same number in
    /// the second.
    #[strum(serialize = "columns of parts")]
    Parts,
}

impl Worded for Printed {}

/// A cup with its scale printed on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PrintedCup {
    /// What the shop calls it.
    pub name: String,
    /// What is printed on it.
    pub printed: Printed,
    /// What it holds up to its last line.
    pub holds_ml: f64,
    /// From one line to the next; a cup of columns has none.
    #[serde(default)]
    pub step_ml: Option<f64>,
    /// The parts its columns are for, base first: `3 : 1 : 0.4`.
    #[serde(default)]
    pub parts: Option<String>,
    /// The last number of its columns.
    #[serde(default)]
    pub last_count: Option<f64>,
    /// From one line of a column to the next, in its numbers.
    #[serde(default)]
    pub step_count: Option<f64>,
}

/// Parts as people write them: `4 1/4 to 1`, `3:1:0.4`.
///
/// **Errors:** a refusal at `field`: none or one part, more than three, a part that is nothing or cannot be read.
///
/// ```
/// use level_keel_core::mixing::parts_of;
/// assert_eq!(parts_of("parts", "4 1/4 to 1", Default::default()).unwrap(), [4.25, 1.0]);
/// assert_eq!(parts_of("parts", "3 : 1 : 0.4", Default::default()).unwrap(), [3.0, 1.0, 0.4]);
/// ```
pub fn parts_of(field: &str, text: &str, prefs: Prefs) -> Result<Vec<f64>, Refusal> {
    let plain = text.replace(" to ", ":").replace(['∶', '：'], ":");
    let parts: Result<Vec<f64>, _> = plain.split(':').map(|part| parse(part.trim(), QuantityKind::Count, prefs)).collect();
    let parts = parts.map_err(|e| Refusal::bad_input("not-understood", field, format!("Parts: {e}.")))?;
    if !(2..=3).contains(&parts.len()) || parts.iter().any(|p| *p <= 0.0) {
        let text = "Two or three parts, base first, such as 4:1 or 3:1:0.4, each more than nothing.";
        return Err(Refusal::bad_input("not-parts", field, text));
    }
    Ok(parts)
}

impl PrintedCup {
    /// A cup of sense; its name is trimmed.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn validate(mut self, prefs: Prefs) -> Result<PrintedCup, Refusal> {
        self.name = check_name("name", &self.name)?;
        self.check(prefs)?;
        Ok(self)
    }

    /// The figures of it.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn check(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::AMOUNT.check("holds_ml", self.holds_ml, prefs)?;
        let too_coarse = |field| Refusal::bad_input("outside-limits", field, "A scale has at least two lines.");
        match self.printed {
            Printed::FlOz | Printed::Ml => {
                let step_ml = limits::AMOUNT.check("step_ml", required("step_ml", self.step_ml)?, prefs)?;
                if step_ml > self.holds_ml / 2.0 * (1.0 + 1e-9) {
                    return Err(too_coarse("step_ml"));
                }
            }
            Printed::Parts => {
                let none = || Refusal::bad_input("missing", "parts", "For which parts are its columns printed? Such as 3:1:0.4.");
                parts_of("parts", self.parts.as_deref().filter(|p| !p.trim().is_empty()).ok_or_else(none)?, prefs)?;
                let last = limits::COUNT.check("last_count", required("last_count", self.last_count)?, prefs)?;
                let step = limits::COUNT.check("step_count", required("step_count", self.step_count)?, prefs)?;
                if step > last / 2.0 * (1.0 + 1e-9) {
                    return Err(too_coarse("step_count"));
                }
            }
        }
        Ok(())
    }

    /// The parts of its columns; none of a cup of fluid ounces or millilitres.
    fn parts(&self) -> Vec<f64> {
        let text = self.parts.as_deref().filter(|_| self.printed == Printed::Parts);
        text.and_then(|text| parts_of("parts", text, Prefs::METRIC).ok()).unwrap_or_default()
    }

    /// What stands in it at the number one of a column, everything under it included.
    ///
    /// **Formula:** `holds ÷ (last · Σ parts) · Σ parts up to the column`. **Units:** mL. **Source:** what columns of parts are.
    fn column_ml(&self, column: usize) -> f64 {
        let parts = self.parts();
        let all: f64 = parts.iter().sum();
        let up_to: f64 = parts.iter().take(column + 1).sum();
        self.holds_ml / (self.last_count.unwrap_or(1.0) * all) * up_to
    }

    /// What one of the figure that is read stands for: a millilitre, or a number of the column.
    fn of_one_ml(&self, column: usize) -> f64 {
        if self.printed == Printed::Parts { self.column_ml(column) } else { 1.0 }
    }

    /// Half the interval of one reading.
    ///
    /// **Formula:** a quarter of the step between two lines. **Units:** mL. **Source:** from memory.
    pub fn off_ml(&self, column: usize) -> f64 {
        let step = if self.printed == Printed::Parts { self.step_count } else { self.step_ml };
        READ_TO * step.unwrap_or(self.holds_ml) * self.of_one_ml(column)
    }

    /// Whether its columns are those of this product as it is thinned.
    ///
    /// **Errors:** `column-of-another-ratio` at `parts`.
    pub fn fits(&self, sheet: &Sheet, thinner_pct: f64, component: Component, prefs: Prefs) -> Result<(), Refusal> {
        let parts = self.parts();
        if parts.is_empty() {
            return Ok(());
        }
        let planned = shares(sheet, thinner_pct);
        let of = |c: Component| planned.iter().find(|s| s.component == c).map(|s| s.volume);
        let wanted = [Component::Hardener, Component::Thinner].into_iter().filter_map(|c| Some((c, of(c)?)));
        for (i, (c, for_one)) in wanted.enumerate() {
            let printed = parts.get(i + 1).map(|p| p / parts[0]);
            let fits = printed.is_some_and(|p| (p / for_one - 1.0).abs() <= SAME_RATIO);
            // Base and hardener stand in columns of one ratio or in none; thinner may be measured another way.
            if !fits && (c == Component::Hardener || component == c) {
                let say = |v: f64| show(v, QuantityKind::Ratio, prefs).text;
                let name = sheet.component_name(c);
                let is = printed.map_or_else(
                    || format!("no column for {name}"),
                    |p| format!("columns for {} of base to {name}", say(1.0 / p)),
                );
                let text = format!("This cup has {is}; the mix is {}. Take another cup.", say(1.0 / for_one));
                return Err(Refusal::bad_input("column-of-another-ratio", "parts", text));
            }
        }
        Ok(())
    }

    /// What stands in it when it is filled to a figure of its scale.
    pub fn up_to_ml(&self, column: usize, at: f64) -> f64 {
        at * self.of_one_ml(column)
    }

    /// The figure of its scale that a volume stands at.
    pub fn at(&self, column: usize, up_to_ml: f64) -> f64 {
        up_to_ml / self.of_one_ml(column)
    }

    /// What was read on it: a bare figure in what is printed there, or a volume with its unit.
    ///
    /// **Errors:** `not-understood`, `outside-limits` at `field`.
    fn figure(&self, field: &str, text: &str, prefs: Prefs) -> Result<f64, Refusal> {
        let bare = parse(text, QuantityKind::Count, prefs);
        let figure = match (self.printed, bare) {
            (Printed::FlOz, Ok(oz)) => Ok(oz * *FL_OZ_ML),
            (Printed::Ml | Printed::Parts, Ok(figure)) => Ok(figure),
            (Printed::Parts, Err(e)) => Err(e),
            (Printed::FlOz | Printed::Ml, Err(_)) => parse(text, QuantityKind::Volume, prefs),
        };
        let figure = figure.map_err(|e| Refusal::bad_input("not-understood", field, format!("Line: {e}.")))?;
        let limit = if self.printed == Printed::Parts { limits::COUNT } else { limits::AMOUNT };
        limit.check(field, figure, prefs)
    }

    /// One figure of what is printed, in that of the scale: a fluid ounce in millilitres.
    fn printed_one(&self) -> f64 {
        if self.printed == Printed::FlOz { *FL_OZ_ML } else { 1.0 }
    }

    /// A figure of its scale as it is read on the cup, to a quarter of its step: nobody reads it finer.
    pub fn digits(&self, at: f64, prefs: Prefs) -> String {
        let step = if self.printed == Printed::Parts { self.step_count } else { self.step_ml }.unwrap_or(1.0);
        let quarters = (at / (step * READ_TO)).round() * step * READ_TO / self.printed_one();
        show((quarters * 1000.0).round() / 1000.0, QuantityKind::Count, prefs).text
    }

    /// The same in the words on the cup.
    pub fn in_words(&self, column: usize, at: f64, prefs: Prefs) -> String {
        let unit = match self.printed {
            Printed::FlOz => "\u{a0}fl\u{a0}oz",
            Printed::Ml => "\u{a0}mL",
            Printed::Parts => "",
        };
        let digits = self.digits(at, prefs);
        let columns = ["first", "second", "third"];
        let column =
            if self.printed == Printed::Parts { format!(" in its {} column", columns[column.min(2)]) } else { "".into() };
        format!("{digits}{unit}{column}")
    }

    /// A volume in what is printed on the cup; of a cup of columns in the reader's unit.
    pub fn said_ml(&self, ml: f64, prefs: Prefs) -> String {
        if self.printed != Printed::FlOz {
            return show(ml, QuantityKind::Volume, prefs).text;
        }
        let oz = (ml / *FL_OZ_ML * 1000.0).round() / 1000.0;
        format!("{}\u{a0}fl\u{a0}oz", show(oz, QuantityKind::Count, prefs).text)
    }

    /// Its lines, for the picture: how much stands at each.
    pub fn graduations_ml(&self) -> Vec<f64> {
        let step = match self.printed {
            Printed::FlOz | Printed::Ml => self.step_ml.unwrap_or(self.holds_ml),
            Printed::Parts => self.step_count.unwrap_or(1.0) * self.column_ml(self.parts().len().saturating_sub(1)),
        };
        let many = (self.holds_ml / step + 1e-9).floor().min(MOST_LINES);
        (1..=many as usize).map(|i| i as f64 * step).collect()
    }
}

/// A US fluid ounce, as every other field reads it.
static FL_OZ_ML: LazyLock<f64> = LazyLock::new(|| parse("1 fl oz", QuantityKind::Volume, Prefs::METRIC).unwrap_or(30.0));

/// Lines a picture can draw.
const MOST_LINES: f64 = 60.0;

/// The column a component is read in: base, hardener, thinner, or base and thinner where there is no hardener.
pub fn column_of(sheet: &Sheet, component: Component) -> Option<usize> {
    match component {
        Component::Base => Some(0),
        Component::Hardener => Some(1),
        Component::Thinner => Some(if sheet.has_hardener { 2 } else { 1 }),
        Component::Additive1 | Component::Additive2 | Component::Additive3 => None,
    }
}

/// A pour read at a line of a printed cup.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ByLine {
    /// The cup, as it was then.
    pub cup: PrintedCup,
    /// The line it stands at now, as it is read on the cup: a bare figure is in what is printed there.
    pub at: String,
}

/// What a reading says: the volume that was poured, and half its interval.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ReadOnCup {
    /// Poured since what stood in it before.
    pub poured_ml: f64,
    /// Half the interval: of this line, and of the one beneath.
    pub off_ml: f64,
}

impl ByLine {
    /// What was poured, by the line it stands at now and what stood in the cup before.
    ///
    /// **Formula:** `V(line) − V(before)`; half the interval is a quarter of the step at each line that was read. **Units:** mL.
    /// **Errors:** a refusal: the cup has another scale, holds less, has columns of another ratio; or it stands no higher than
    /// before.
    /// **Source:** what columns of parts are; how an eye reads a cup, from memory.
    pub fn read(
        &self,
        sheet: &Sheet,
        (component, thinner_pct): (Component, f64),
        before: Option<(Component, f64)>,
        prefs: Prefs,
    ) -> Result<ReadOnCup, Refusal> {
        let cup = &self.cup;
        let at_cup = |r: Refusal| {
            let field = r.field.as_deref().map_or("line.cup".into(), |f| format!("line.cup.{f}"));
            r.at(&field)
        };
        cup.check(prefs).map_err(at_cup)?;
        cup.fits(sheet, thinner_pct, component, prefs).map_err(at_cup)?;
        let column = column_of(sheet, component).ok_or_else(|| {
            Refusal::bad_input("weighed", "component", "An additive is dosed by weight: no line says how much.")
        })?;
        let field = "line.at";
        let up_to_ml = cup.up_to_ml(column, cup.figure(field, &self.at, prefs)?);
        if up_to_ml > cup.holds_ml * (1.0 + 1e-9) {
            return Err(too_small(cup, up_to_ml, field, prefs));
        }
        let before_ml = before.map_or(0.0, |(_, ml)| ml);
        if up_to_ml <= before_ml {
            let was = cup.in_words(column, cup.at(column, before_ml), prefs);
            return Err(Refusal::bad_input("mark-too-low", field, format!("It stood at {was} before: a pour stands higher.")));
        }
        // The floor of an empty cup is no line: nothing is read there.
        let beneath = before.filter(|(_, ml)| *ml > 0.0).and_then(|(c, _)| column_of(sheet, c));
        let off_ml = cup.off_ml(column) + beneath.map_or(0.0, |c| cup.off_ml(c));
        Ok(ReadOnCup { poured_ml: up_to_ml - before_ml, off_ml })
    }
}

pub(super) fn too_small(cup: &PrintedCup, wants_ml: f64, field: &str, prefs: Prefs) -> Refusal {
    let say = |ml: f64| cup.said_ml(ml, prefs);
    let text = format!(
        "This cup holds {} up to its last line, and {} is to stand in it. Take a larger cup, or divide the pot.",
        say(cup.holds_ml),
        say(wants_ml)
    );
    Refusal::bad_input("cup-too-small", field, text)
}
