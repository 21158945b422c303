//! Lots from a table: the columns, and one row read as a person would have typed it. The same columns go out.

use super::payload::Received;
use crate::component::Component;
use crate::quantity::{Prefs, QuantityKind, parse};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The columns, in the order they go out.
pub const COLUMNS: [&str; 13] = [
    "code",
    "product",
    "component",
    "makers_lot",
    "colour",
    "received",
    "made",
    "expires",
    "shelf_life_days",
    "container_g",
    "containers_count",
    "place",
    "left_g",
];
/// Columns a table must have.
const NEEDED: [&str; 6] = ["code", "product", "component", "received", "container_g", "containers_count"];

/// What is wrong in a table.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct RowFault {
    /// Line of the table, its header being 1.
    pub row: usize,
    /// Column, when it is one.
    pub column: Option<String>,
    /// What, and what to do.
    pub text: String,
}

/// One row read.
#[derive(Debug, Clone, PartialEq)]
pub struct Row {
    /// The lot; product and place are still names.
    pub lot: Received,
    /// Name of the product.
    pub product: String,
    /// Name of the place.
    pub place: Option<String>,
    /// What is left, when it is not all that came in.
    pub left_g: Option<f64>,
}

/// Which cell of a row holds which column.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Columns(Vec<Option<usize>>);

impl Columns {
    /// Reads the header. Order does not matter, case and blanks neither; an unknown column is a fault, since what it
    /// says would be lost.
    pub fn read(header: &[&str]) -> Result<Columns, Vec<RowFault>> {
        let cells: Vec<String> = header.iter().map(|h| h.trim().to_lowercase().replace([' ', '-'], "_")).collect();
        let fault = |column: Option<String>, text: String| RowFault { row: 1, column, text };
        let mut faults: Vec<RowFault> = Vec::new();
        for (i, cell) in cells.iter().enumerate() {
            if !COLUMNS.contains(&cell.as_str()) {
                let text = format!("There is no such column here. Known are: {}.", COLUMNS.join(", "));
                faults.push(fault(Some(header[i].trim().to_string()), text));
            } else if cells[..i].contains(cell) {
                faults.push(fault(Some(cell.clone()), "This column stands here twice.".into()));
            }
        }
        for needed in NEEDED.iter().filter(|n| !cells.iter().any(|c| c == *n)) {
            faults.push(fault(Some((*needed).into()), "This column is missing.".into()));
        }
        if !faults.is_empty() {
            return Err(faults);
        }
        Ok(Columns(COLUMNS.iter().map(|c| cells.iter().position(|h| h == c)).collect()))
    }

    fn cell<'a>(&self, cells: &[&'a str], column: &str) -> &'a str {
        let place = COLUMNS.iter().position(|c| *c == column).and_then(|i| self.0[i]);
        let text = place.and_then(|i| cells.get(i)).map_or("", |c| c.trim());
        // Our own tables guard a cell that looks like a formula with an apostrophe.
        text.strip_prefix('\'').filter(|t| armed(t)).unwrap_or(text)
    }

    /// Reads a row: quantities with or without unit, dates as 2026-11-23.
    ///
    /// **Errors:** every cell at fault.
    pub fn row(&self, row: usize, cells: &[&str], today: Date, prefs: Prefs) -> Result<Row, Vec<RowFault>> {
        let mut read = Reading { row, today, prefs, faults: Vec::new() };
        let text = |read: &mut Reading, column: &str| read.text(column, self.cell(cells, column));
        let code = text(&mut read, "code").unwrap_or_default();
        let product = text(&mut read, "product").unwrap_or_default();
        for (column, value) in [("code", &code), ("product", &product)] {
            if value.is_empty() && !read.faults.iter().any(|f| f.column.as_deref() == Some(column)) {
                read.fault(column, "This is needed.");
            }
        }
        let component = read.component(self.cell(cells, "component"));
        let lot = Received {
            code,
            sheet: Uuid::nil(),
            product: product.clone(),
            component,
            makers_lot: text(&mut read, "makers_lot"),
            colour: text(&mut read, "colour"),
            received: read.date("received", self.cell(cells, "received")).unwrap_or(Date::MIN),
            made: read.date("made", self.cell(cells, "made")),
            expires: read.date("expires", self.cell(cells, "expires")),
            shelf_life_days: read.days(self.cell(cells, "shelf_life_days")),
            container_g: read.figure("container_g", self.cell(cells, "container_g"), true).unwrap_or(0.0),
            containers_count: read.figure("containers_count", self.cell(cells, "containers_count"), true).unwrap_or(0.0),
            place: None,
        };
        let place = text(&mut read, "place");
        let left_g = read.figure("left_g", self.cell(cells, "left_g"), false).filter(|g| (*g - lot.total_g()).abs() > 1e-9);
        if self.cell(cells, "received").is_empty() {
            read.fault("received", "This is needed.");
        } else if read.faults.is_empty()
            && let Err(refusal) = super::check::received(lot.clone(), today, prefs)
        {
            read.faults.push(RowFault { row, column: refusal.field, text: refusal.text });
        }
        if left_g.is_some_and(|g| g < 0.0) {
            read.fault("left_g", "Less than nothing cannot be left.");
        }
        if read.faults.is_empty() { Ok(Row { lot, product, place, left_g }) } else { Err(read.faults) }
    }
}

/// A cell that a table program would read as a formula.
fn armed(text: &str) -> bool {
    text.starts_with(['=', '+', '-', '@', '\t', '\r']) && text.parse::<f64>().is_err()
}

struct Reading {
    row: usize,
    today: Date,
    prefs: Prefs,
    faults: Vec<RowFault>,
}

impl Reading {
    fn fault(&mut self, column: &str, text: impl Into<String>) {
        self.faults.push(RowFault { row: self.row, column: Some(column.into()), text: text.into() });
    }

    fn text(&mut self, column: &str, text: &str) -> Option<String> {
        if armed(text) {
            self.fault(column, "This looks like a formula. A lot's facts are plain text.");
            return None;
        }
        (!text.is_empty()).then(|| text.to_string())
    }

    fn component(&mut self, text: &str) -> Component {
        let word = text.to_lowercase().replace(' ', "_");
        let known = match word.as_str() {
            "base" | "a" => Some(Component::Base),
            "hardener" | "catalyst" | "activator" | "b" => Some(Component::Hardener),
            "thinner" => Some(Component::Thinner),
            "additive" | "additive1" | "additive_1" => Some(Component::Additive1),
            "additive2" | "additive_2" => Some(Component::Additive2),
            "additive3" | "additive_3" => Some(Component::Additive3),
            _ => None,
        };
        known.unwrap_or_else(|| {
            self.fault("component", "Base, hardener, thinner, or additive.");
            Component::Base
        })
    }

    fn date(&mut self, column: &str, text: &str) -> Option<Date> {
        if text.is_empty() {
            return None;
        }
        let date = text.parse().ok();
        if date.is_none() {
            self.fault(column, format!("Write the date as {}.", self.today));
        }
        date
    }

    fn days(&mut self, text: &str) -> Option<i32> {
        if text.is_empty() {
            return None;
        }
        let days = text.parse().ok();
        if days.is_none() {
            self.fault("shelf_life_days", "A whole number of days.");
        }
        days
    }

    fn figure(&mut self, column: &str, text: &str, needed: bool) -> Option<f64> {
        if text.is_empty() {
            if needed {
                self.fault(column, "This is needed.");
            }
            return None;
        }
        let kind = QuantityKind::of_field(column).unwrap_or(QuantityKind::Count);
        parse(text, kind, self.prefs).map_err(|e| self.fault(column, format!("{e}."))).ok()
    }
}
