//! Books over the wire.

use super::{NewBatch, NewEntry, Writing, Written};
use crate::auth::Person;
use crate::instruments::comb_um;
use crate::problem::{Answer, Problem};
use crate::sheets::DryRun;
use crate::state::State;
use actix_web::{get, post, web};
use level_keel_core::batch::Record;
use level_keel_core::batch::card::{Card, card};
use level_keel_core::batch::view::{BatchView, Viewer, view};
use uuid::Uuid;

/// Begins a batch. With `dry_run` it parses, judges and shows what would be; it stores nothing.
#[utoipa::path(tag = "batch", params(DryRun), request_body = NewBatch, responses((status = 200, body = Written), (status = 422)))]
#[post("/batches")]
pub async fn begin(
    state: web::Data<State>,
    person: Person,
    dry: web::Query<DryRun>,
    body: web::Json<NewBatch>,
) -> Answer<Written> {
    let writing = Writing { state: &state, person: &person, now: state.clock.now(), dry_run: dry.dry_run };
    Ok(web::Json(writing.begin(body.into_inner()).await?))
}

/// Appends an entry to a book. With `dry_run` it answers by the very code that stores, and stores nothing.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path), DryRun), request_body = NewEntry,
    responses((status = 200, body = Written), (status = 409), (status = 422), (status = 403)))]
#[post("/books/{id}/entries")]
pub async fn append(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    dry: web::Query<DryRun>,
    body: web::Json<NewEntry>,
) -> Answer<Written> {
    let writing = Writing { state: &state, person: &person, now: state.clock.now(), dry_run: dry.dry_run };
    Ok(web::Json(writing.append(*id, body.into_inner()).await?))
}

async fn record(state: &State, id: Uuid) -> Result<Record, Problem> {
    let row = sqlx::query_scalar!("select record from batch where id = $1", id).fetch_optional(&state.db).await?;
    Ok(serde_json::from_value(row.ok_or(Problem::NotFound("batch"))?)?)
}

/// A batch as the reader sees it now.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, body = BatchView), (status = 404)))]
#[get("/batches/{id}")]
pub async fn batch(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<BatchView> {
    let viewer = Viewer { writer: person.writer(), comb_um: comb_um(&state.db).await? };
    let view = view(*id, &record(&state, *id).await?, &viewer, state.clock.now());
    Ok(web::Json(view.ok_or(Problem::NotFound("batch"))?))
}

/// The card: as it was signed, or as it stands while it is not.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, body = Card), (status = 404)))]
#[get("/batches/{id}/card")]
pub async fn batch_card(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<Card> {
    let stored = sqlx::query_scalar!("select signed_card from batch where id = $1", *id).fetch_optional(&state.db).await?;
    if let Some(signed) = stored.ok_or(Problem::NotFound("batch"))? {
        return Ok(web::Json(serde_json::from_value(signed)?));
    }
    let viewer = Viewer { writer: person.writer(), comb_um: comb_um(&state.db).await? };
    let record = record(&state, *id).await?;
    let view = view(*id, &record, &viewer, state.clock.now()).ok_or(Problem::NotFound("batch"))?;
    Ok(web::Json(card(&record, view)))
}
