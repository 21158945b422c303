//! Defects over HTTP.

use super::store;
use crate::auth::Person;
use crate::books::http::look_with;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, web};
use level_keel_core::batch::beside::Neighbour;
use level_keel_core::batch::view::{DefectsView, defects};
use uuid::Uuid;

/// The defects of a batch: what was seen, the causes of each with their evidence, what to look at next.
#[utoipa::path(tag = "diagnosis", params(("id" = Uuid, Path)), responses((status = 200, body = DefectsView), (status = 404)))]
#[get("/batches/{id}/defects")]
pub async fn of_batch(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<DefectsView> {
    let mut looked = look_with(&state, *id, Neighbour::OF_A_DEFECT).await?;
    let mut db = state.db.acquire().await?;
    looked.beside = store::beside(&mut db, *id, &looked.record, looked.beside).await?;
    let case = looked.case();
    let version = case.aim().ok_or(Problem::NotFound("batch"))?.sheet_version;
    // A repair begins with the newest version of the same sheet.
    let sheet = sqlx::query_scalar!("select sheet_id from sheet_version where id = $1", version).fetch_optional(&mut *db).await?;
    Ok(web::Json(DefectsView { sheet, ..defects(&case, &person.writer()) }))
}
