//! A file of readings, read against a batch: what would be written, shown before it is.

use crate::auth::Person;
use crate::books::http::looked;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::http::StatusCode;
use actix_web::{post, web};
use level_keel_core::acceptance::file::read;
use level_keel_core::batch::StationName;
use level_keel_core::batch::entries::GaugeRead;
use level_keel_core::limits;
use level_keel_core::quantity::{QuantityKind, parse};
use level_keel_core::refusal::Refusal;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// The gauge that wrote it.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Wrote {
    /// Its name.
    pub gauge: String,
    /// One division of it, as typed.
    pub division: String,
    /// The name of the file.
    pub name: String,
}

/// What a file says.
#[derive(Debug, Serialize, ToSchema)]
pub struct FileRead {
    /// Readings in it.
    pub count: usize,
    /// The entry it makes.
    pub payload: GaugeRead,
}

/// Reads a table of films against a batch. Nothing is kept: the entry it makes is written as any other.
#[utoipa::path(operation_id = "gauge_file", tag = "acceptance", params(("id" = Uuid, Path), Wrote), request_body(content = String, content_type = "text/csv"), responses((status = 200, body = FileRead), (status = 404), (status = 409), (status = 422)))]
#[post("/batches/{id}/gauge-file")]
pub async fn gauge_file(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    wrote: web::Query<Wrote>,
    body: web::Bytes,
) -> Answer<FileRead> {
    let text = std::str::from_utf8(&body)
        .map_err(|_| Problem::Request(StatusCode::BAD_REQUEST, "This table is not written in UTF-8.".into()))?;
    limits::check_name("gauge", &wrote.gauge)?;
    let division_um = parse(&wrote.division, QuantityKind::Film, person.prefs)
        .map_err(|e| Refusal::bad_input("not-understood", "division_um", format!("Division of the gauge: {e}.")))?;
    limits::FILM_DIVISION.check("division_um", division_um, person.prefs)?;
    let name = limits::check_name("name", &wrote.name)?;
    let readings = read(text, person.prefs)?;
    let kept = looked(&state, *id, StationName::Close).await?;
    let payload = kept.case().of_file(&readings, &wrote.gauge, division_um, &name)?;
    Ok(web::Json(FileRead { count: readings.len(), payload }))
}
