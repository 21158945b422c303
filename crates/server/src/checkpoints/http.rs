//! Checkpoints over HTTP: the owner makes and takes them along; every card says which one covers it.

use super::{covering, files, folder, make};
use crate::auth::Person;
use crate::export::{download_bytes, schema};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, post, web};
use jiff::Timestamp;
use level_keel_core::checkpoint::Checkpoint;
use level_keel_core::people::{Duty, has_duty};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// Told of in the list at most, the newest.
const TOLD: usize = 50;

/// A checkpoint in the list.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CheckpointLine {
    pub number: u64,
    pub made: Timestamp,
    pub root: String,
    pub books: usize,
    pub entries: i64,
}

fn line(checkpoint: &Checkpoint) -> CheckpointLine {
    let s = &checkpoint.statement;
    CheckpointLine { number: s.number, made: s.made, root: s.root.clone(), books: s.books.count, entries: s.entries }
}

/// The newest checkpoints. Owner only; empty where no folder is set for them.
#[utoipa::path(operation_id = "checkpoints_list", tag = "shop", responses((status = 200, body = [CheckpointLine]), (status = 403)))]
#[get("/checkpoints")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<CheckpointLine>> {
    has_duty(person.role, Duty::House)?;
    let Some(folder) = folder(&state) else { return Ok(web::Json(Vec::new())) };
    let names = files::names(folder).unwrap_or_default();
    let newest = names.iter().rev().take(TOLD).filter_map(|kept| files::read(&kept.path).ok());
    Ok(web::Json(newest.map(|c| line(&c)).collect()))
}

/// Makes one now. Owner only.
#[utoipa::path(operation_id = "checkpoints_make", tag = "shop", responses((status = 200, body = CheckpointLine), (status = 403), (status = 404)))]
#[post("/checkpoints")]
pub async fn now(state: web::Data<State>, person: Person) -> Answer<CheckpointLine> {
    has_duty(person.role, Duty::House)?;
    let made = make(&state).await?.ok_or(Problem::NotFound("folder for checkpoints"))?;
    Ok(web::Json(line(&made)))
}

/// One as its file, to keep elsewhere. Owner only.
#[utoipa::path(operation_id = "checkpoints_take", tag = "shop", params(("number" = u64, Path)), responses((status = 200, body = Checkpoint), (status = 403), (status = 404)))]
#[get("/checkpoints/{number}")]
pub async fn take(state: web::Data<State>, person: Person, number: web::Path<u64>) -> Result<HttpResponse, Problem> {
    has_duty(person.role, Duty::House)?;
    let names = folder(&state).and_then(|folder| files::names(folder).ok()).unwrap_or_default();
    let kept = names.into_iter().find(|kept| kept.number == *number).ok_or(Problem::NotFound("checkpoint"))?;
    let bytes = std::fs::read(&kept.path).map_err(|e| Problem::Fault(e.to_string()))?;
    Ok(download_bytes("application/json", &format!("level-keel-checkpoint-{:06}.json", kept.number), bytes))
}

/// JSON Schema of the file.
#[utoipa::path(operation_id = "checkpoints_schema", tag = "shop", responses((status = 200)))]
#[get("/schemas/checkpoint.json")]
pub async fn of_schema(_person: Person) -> Result<HttpResponse, Problem> {
    Ok(HttpResponse::Ok().content_type("application/schema+json").body(schema::<Checkpoint>()?))
}

/// The checkpoint that covers a signed card.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CoveredBy {
    /// None: no checkpoint covers it yet, or it is not signed.
    pub line: Option<String>,
}

/// Which checkpoint covers a card, in words with its root.
pub async fn said(state: &State, id: Uuid) -> Result<Option<String>, Problem> {
    let row = sqlx::query!(
        r#"select (signed_card ->> 'head_seq')::bigint as seq,
             coalesce(signed_card #>> '{accepted,at}', signed_card #>> '{signed,at}')::timestamptz as "at: jiff_sqlx::Timestamp"
           from batch where id = $1 and signed_card is not null"#,
        id
    )
    .fetch_optional(&state.db)
    .await?;
    let Some((seq, at)) = row.and_then(|r| r.seq.zip(r.at)) else { return Ok(None) };
    let found = covering(state, id, seq, at.to_jiff()).await;
    Ok(found.map(|c| {
        let s = c.statement;
        let made = s.made.to_zoned(state.shop.zone()).strftime("%Y-%m-%d %H:%M").to_string();
        format!("covered by checkpoint {} of {made} · root {}", s.number, s.root)
    }))
}

/// The same for the page of a card.
#[utoipa::path(operation_id = "card_checkpoint", tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, body = CoveredBy)))]
#[get("/batches/{id}/checkpoint")]
pub async fn of_card(state: web::Data<State>, _person: Person, id: web::Path<Uuid>) -> Answer<CoveredBy> {
    Ok(web::Json(CoveredBy { line: said(&state, *id).await? }))
}
