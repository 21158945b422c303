//! Old paper cards into the ledger: a table of catches, read whole or not at all.

use super::{HEADS, must_be};
use crate::auth::Person;
use crate::books::{NewEntry, Writing};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::http::StatusCode;
use actix_web::{post, web};
use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::TimeZone;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::QuantityKind;
use level_keel_core::refusal::Refusal;
use level_keel_core::rig_book::{RigBook, RigEntryKind};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Most cards of one file.
const MOST_CARDS: usize = 300;

/// Of which product, and whether it is only looked at.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Cards {
    /// The product, by its sheet.
    pub sheet: Uuid,
    /// Nothing is kept.
    #[serde(default)]
    pub dry_run: bool,
}

/// What came of it.
#[derive(Debug, Serialize, ToSchema)]
pub struct CardsRead {
    /// Cards that were read.
    pub read: usize,
    /// They are kept.
    pub kept: bool,
}

/// Takes old cards in from a table with the heads of the ledger's own: `at`, `a_g`, `b_g`, `resolution_g` at the least. A bare
/// figure is in the unit of its head. All are kept, or none.
#[utoipa::path(operation_id = "ledger_cards", tag = "ratio check", params(("id" = Uuid, Path), Cards), request_body(content = String, content_type = "text/csv"), responses((status = 200, body = CardsRead), (status = 403), (status = 404), (status = 422)))]
#[post("/rigs/{id}/ledger/cards")]
pub async fn read_cards(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    cards: web::Query<Cards>,
    body: web::Bytes,
) -> Answer<CardsRead> {
    has_duty(person.role, Duty::Sheets)?;
    must_be(&state, *id).await?;
    let text = std::str::from_utf8(&body)
        .map_err(|_| Problem::Request(StatusCode::BAD_REQUEST, "This table is not written in UTF-8.".into()))?;
    let rows = table(text, cards.sheet, &state.shop.zone())?;
    let writing = Writing::of(&state, &person, state.clock.now());
    let mut tx = state.db.begin().await?;
    let mut made = None;
    for (row, payload) in &rows {
        let entry = NewEntry::now(Uuid::now_v7(), RigEntryKind::PaperProof, payload.clone());
        match writing.write::<RigBook>(&mut tx, *id, entry).await {
            Ok(one) => made = Some(one),
            Err(Problem::Refused(refusal)) => return Err(of_row(*row, refusal).into()),
            Err(Problem::Fields(refusals)) => {
                return Err(Problem::Fields(refusals.into_iter().map(|r| of_row(*row, r)).collect()));
            }
            Err(other) => return Err(other),
        }
    }
    let read = rows.len();
    let Some(made) = made.filter(|_| !cards.dry_run) else { return Ok(web::Json(CardsRead { read, kept: false })) };
    writing.end(tx, *id, Ok(made)).await?;
    Ok(web::Json(CardsRead { read, kept: true }))
}

/// A refusal of a row, named by it.
fn of_row(row: usize, refusal: Refusal) -> Refusal {
    let field = refusal.field.clone().unwrap_or_default();
    let text = format!("Row {row}, {field}: {}", refusal.text);
    Refusal { field: Some(format!("rows[{row}].{field}")), text, ..refusal }
}

/// Reads the table: each card with the number of its row, as one counts them in a table program.
fn table(text: &str, sheet: Uuid, zone: &TimeZone) -> Result<Vec<(usize, Value)>, Problem> {
    let wrong = |row: usize, field: &str, text: String| of_row(row, Refusal::bad_input("not-understood", field, text));
    let mut reader = csv::ReaderBuilder::new().trim(csv::Trim::All).flexible(false).from_reader(text.as_bytes());
    let heads: Vec<String> = reader.headers().map_err(|e| wrong(1, "heads", e.to_string()))?.iter().map(str::to_string).collect();
    if let Some(other) = heads.iter().find(|h| !HEADS.contains(&h.as_str())) {
        return Err(
            wrong(1, "heads", format!("“{other}” is no head of the ledger. They are: {}.", HEADS[..12].join(", "))).into()
        );
    }
    if let Some(missing) = ["at", "a_g", "b_g", "resolution_g"].iter().find(|h| !heads.iter().any(|head| head == **h)) {
        return Err(wrong(1, "heads", format!("The column “{missing}” is missing.")).into());
    }
    let mut cards = Vec::new();
    // Whether a column's cells say their unit: settled by its first one.
    let mut says_unit: Map<String, Value> = Map::new();
    for (record, row) in reader.records().zip(2..) {
        if cards.len() == MOST_CARDS {
            let text = format!("A file may have at most {MOST_CARDS} cards. Send them in parts.");
            return Err(Refusal::bad_input("too-many", "rows", text).into());
        }
        let record = record.map_err(|e| wrong(row, "row", e.to_string()))?;
        let mut card = json!({ "sheet": sheet });
        for (head, cell) in
            heads.iter().zip(record.iter()).filter(|(head, cell)| !cell.is_empty() && HEADS[..12].contains(&head.as_str()))
        {
            match head.as_str() {
                "at" => {
                    card["proved_at"] = json!(at(cell, zone).ok_or_else(|| {
                        wrong(row, "at", format!("“{cell}” is no day and time. Write 2026-03-02 09:40."))
                    })?)
                }
                "by" => card["caught_by"] = cell.into(),
                head if QuantityKind::of_field(head).is_some() => {
                    let bare = cell.parse::<f64>().ok().filter(|v| v.is_finite());
                    let unit = says_unit.entry(head).or_insert_with(|| bare.is_none().into());
                    if *unit != Value::Bool(bare.is_none()) {
                        let text = format!(
                            "“{cell}” and the rows before it do not agree on whether a unit is said. Say it in every row, or in none: a bare figure is in the unit of the head."
                        );
                        return Err(of_row(row, Refusal::bad_input("mixed-units", head, text)).into());
                    }
                    card[head] = bare.map_or_else(|| cell.into(), Value::from);
                }
                head => card[head] = cell.into(),
            }
        }
        cards.push((row, card));
    }
    if cards.is_empty() {
        return Err(Refusal::bad_input("empty", "rows", "There is no card in this table.").into());
    }
    Ok(cards)
}

/// A day and time of the shop, or an instant.
fn at(cell: &str, zone: &TimeZone) -> Option<Timestamp> {
    cell.parse::<Timestamp>().ok().or_else(|| Some(cell.parse::<DateTime>().ok()?.to_zoned(zone.clone()).ok()?.timestamp()))
}
