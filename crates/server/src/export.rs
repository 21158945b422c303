//! Open formats out: tables as CSV, documents as files to keep, JSON Schema of what is documented.

use crate::problem::Problem;
use actix_web::HttpResponse;
use actix_web::http::header::{ContentDisposition, DispositionParam, DispositionType};
use jiff::Timestamp;
use jiff::tz::TimeZone;
use rust_xlsxwriter::{ExcelDateTime, Format, Workbook, XlsxError};
use serde_json::{Value, json};
use utoipa::ToSchema;

/// A file to keep.
pub fn download(kind: &str, name: &str, body: impl Into<String>) -> HttpResponse {
    download_bytes(kind, name, body.into().into_bytes())
}

/// A file to keep, of bytes.
pub fn download_bytes(kind: &str, name: &str, body: Vec<u8>) -> HttpResponse {
    let disposition = ContentDisposition {
        disposition: DispositionType::Attachment,
        parameters: vec![DispositionParam::Filename(name.into())],
    };
    HttpResponse::Ok().content_type(kind).insert_header(disposition).body(body)
}

/// A table on its way out.
pub struct Table(csv::Writer<Vec<u8>>);

impl Table {
    /// A table with its heads.
    pub fn new(heads: &[&str]) -> Result<Table, Problem> {
        let mut writer = csv::Writer::from_writer(Vec::new());
        writer.write_record(heads).map_err(|e| Problem::Fault(e.to_string()))?;
        Ok(Table(writer))
    }

    /// Adds a row.
    pub fn row<I: IntoIterator<Item = T>, T: AsRef<str>>(&mut self, cells: I) -> Result<(), Problem> {
        let cells = cells.into_iter().map(|c| disarmed(c.as_ref()));
        self.0.write_record(cells).map_err(|e| Problem::Fault(e.to_string()))
    }

    /// The table as text.
    pub fn text(self) -> Result<String, Problem> {
        let bytes = self.0.into_inner().map_err(|e| Problem::Fault(e.to_string()))?;
        String::from_utf8(bytes).map_err(|e| Problem::Fault(e.to_string()))
    }

    /// The table as a file to keep.
    pub fn download(self, name: &str) -> Result<HttpResponse, Problem> {
        Ok(download("text/csv; charset=utf-8", name, self.text()?))
    }
}

/// A cell that a table program would read as a formula gets an apostrophe before it. A plain number does not.
fn disarmed(cell: &str) -> String {
    let armed = cell.starts_with(['=', '+', '-', '@', '\t', '\r']) && cell.parse::<f64>().is_err();
    if armed { format!("'{cell}") } else { cell.into() }
}

/// A cell of a workbook. Text is kept as text: no table program reads a formula out of it.
pub enum Cell {
    /// Words.
    Text(String),
    /// A number.
    Number(f64),
    /// An instant, as a clock of the shop shows it.
    At(Timestamp),
}

/// A table as an open workbook (Office Open XML), its head frozen, its instants in the shop's own time.
pub fn workbook(
    name: &str,
    heads: &[&str],
    rows: impl IntoIterator<Item = Vec<Cell>>,
    zone: &TimeZone,
) -> Result<HttpResponse, Problem> {
    let fault = |e: XlsxError| Problem::Fault(e.to_string());
    let mut book = Workbook::new();
    let (bold, dated) = (Format::new().set_bold(), Format::new().set_num_format("yyyy-mm-dd hh:mm"));
    let sheet = book.add_worksheet();
    for (column, head) in (0..).zip(heads) {
        sheet.write_string_with_format(0, column, *head, &bold).map_err(fault)?;
    }
    sheet.set_freeze_panes(1, 0).map_err(fault)?;
    for (row, cells) in (1..).zip(rows) {
        for (column, cell) in (0..).zip(cells) {
            match cell {
                Cell::Text(text) => sheet.write_string(row, column, text).map_err(fault)?,
                Cell::Number(number) => sheet.write_number(row, column, number).map_err(fault)?,
                Cell::At(at) => {
                    let at = at.to_zoned(zone.clone()).datetime();
                    let (year, month, day) = (at.year().unsigned_abs(), at.month().unsigned_abs(), at.day().unsigned_abs());
                    let day = ExcelDateTime::from_ymd(year, month, day).map_err(fault)?;
                    let at = day
                        .and_hms(at.hour().unsigned_abs().into(), at.minute().unsigned_abs(), f64::from(at.second()))
                        .map_err(fault)?;
                    sheet.write_datetime_with_format(row, column, at, &dated).map_err(fault)?
                }
            };
        }
    }
    sheet.autofit();
    let bytes = book.save_to_buffer().map_err(fault)?;
    Ok(download_bytes("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", name, bytes))
}

/// The JSON Schema of a documented type, with everything it names.
pub fn schema<T: ToSchema>() -> Result<String, Problem> {
    let name = T::name().to_string();
    let mut all = vec![(name.clone(), T::schema())];
    T::schemas(&mut all);
    let mut named = serde_json::Map::new();
    for (of, schema) in all {
        let mut body = serde_json::to_value(schema)?;
        references(&mut body);
        named.insert(of, body);
    }
    let schema = json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": format!("Level Keel: {name}"),
        "$ref": format!("#/$defs/{name}"),
        "$defs": named,
    });
    Ok(serde_json::to_string_pretty(&schema)?)
}

/// Points references at `$defs`.
fn references(value: &mut Value) {
    match value {
        Value::Object(map) => {
            if let Some(Value::String(target)) = map.get_mut("$ref")
                && let Some(name) = target.strip_prefix("#/components/schemas/").map(String::from)
            {
                *target = format!("#/$defs/{name}");
            }
            map.values_mut().for_each(references);
        }
        Value::Array(items) => items.iter_mut().for_each(references),
        _ => {}
    }
}

#[cfg(test)]
mod tests {
    use super::disarmed;

    #[test]
    fn a_cell_is_never_a_formula_and_a_number_stays_one() {
        for armed in ["=1+1", "+cmd", "-2+3", "@SUM(A1)", "\t=1", "\r=1"] {
            assert_eq!(disarmed(armed), format!("'{armed}"));
        }
        for plain in ["-5.2", "+4", "primer", "", "1=1"] {
            assert_eq!(disarmed(plain), plain);
        }
    }
}
