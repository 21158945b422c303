//! Open formats out: tables as CSV, documents as files to keep, JSON Schema of what is documented.

use crate::problem::Problem;
use actix_web::HttpResponse;
use actix_web::http::header::{ContentDisposition, DispositionParam, DispositionType};
use serde_json::{Value, json};
use utoipa::ToSchema;

/// A file to keep.
pub fn download(kind: &str, name: &str, body: impl Into<String>) -> HttpResponse {
    let disposition = ContentDisposition {
        disposition: DispositionType::Attachment,
        parameters: vec![DispositionParam::Filename(name.into())],
    };
    HttpResponse::Ok().content_type(kind).insert_header(disposition).body(body.into())
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

    /// The table as a file to keep.
    pub fn download(self, name: &str) -> Result<HttpResponse, Problem> {
        let bytes = self.0.into_inner().map_err(|e| Problem::Fault(e.to_string()))?;
        let text = String::from_utf8(bytes).map_err(|e| Problem::Fault(e.to_string()))?;
        Ok(download("text/csv; charset=utf-8", name, text))
    }
}

/// A cell that a table program would read as a formula gets an apostrophe before it. A plain number does not.
fn disarmed(cell: &str) -> String {
    let armed = cell.starts_with(['=', '+', '-', '@', '\t', '\r']) && cell.parse::<f64>().is_err();
    if armed { format!("'{cell}") } else { cell.into() }
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
