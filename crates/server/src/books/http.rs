//! Books over the wire.

use super::chain::{at_head, read};
use super::{LookOf, NewBatch, NewEntry, Writing, Written};
use crate::auth::Person;
use crate::export::{Table, download, schema};
use crate::instruments::viewer;
use crate::parts::weather::weather;
use crate::parts::{Opened, beside};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, post, web};
use level_keel_core::batch::beside::{Beside, Neighbour};
use level_keel_core::batch::card::{Card, card, in_todays_names, verdicts};
use level_keel_core::batch::document::{CardDocument, HEADS, document, rows};
use level_keel_core::batch::log_line::{LogLine, lines_for};
use level_keel_core::batch::view::{BatchView, Viewer, view, whole};
use level_keel_core::batch::{Case, EntryKind, Record, StationName};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::sync::Arc;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// How an entry is appended.
#[derive(Debug, Deserialize, IntoParams)]
pub struct Appending {
    /// Parse, judge and show; store nothing.
    #[serde(default)]
    pub dry_run: bool,
    /// Answer with the batch as it is then; a stamp that is only sent again can do without.
    #[serde(default = "yes")]
    pub view: bool,
    /// The station it is asked at; missing: the answer shows all of them.
    #[serde(default)]
    pub station: Option<StationName>,
}

/// What of a batch is wanted.
#[derive(Debug, Deserialize, IntoParams)]
pub struct At {
    /// This station; missing: all of them.
    #[serde(default)]
    pub station: Option<StationName>,
}

fn yes() -> bool {
    true
}

/// Begins a batch. With `dry_run` it parses, judges and shows what would be; it stores nothing.
#[utoipa::path(tag = "batch", params(Appending), request_body = NewBatch, responses((status = 200, body = Written), (status = 422)))]
#[post("/batches")]
pub async fn begin(
    state: web::Data<State>,
    person: Person,
    how: web::Query<Appending>,
    body: web::Json<NewBatch>,
) -> Answer<Written> {
    let writing =
        Writing { dry_run: how.dry_run, view: how.view, station: how.station, ..Writing::of(&state, &person, state.clock.now()) };
    Ok(web::Json(writing.begin(body.into_inner()).await?))
}

/// Appends an entry to a book. With `dry_run` it answers by the very code that stores, and stores nothing.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path), Appending), request_body = crate::openapi::NewBatchEntry,
    responses((status = 200, body = Written), (status = 409), (status = 422), (status = 403)))]
#[post("/books/{id}/entries")]
pub async fn append(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    how: web::Query<Appending>,
    body: web::Json<NewEntry>,
) -> Answer<Written> {
    let writing =
        Writing { dry_run: how.dry_run, view: how.view, station: how.station, ..Writing::of(&state, &person, state.clock.now()) };
    let entry = body.into_inner();
    let accepts = matches!(entry.kind.parse(), Ok(EntryKind::Accept | EntryKind::Sign));
    let written = writing.append(*id, entry).await?;
    if accepts && written.stored && !how.dry_run {
        state.live.signed.notify_one();
    }
    Ok(web::Json(written))
}

/// Whether an entry is in a book.
#[derive(Debug, Serialize, ToSchema)]
pub struct EntryFound {
    /// It is stored.
    pub stored: bool,
    /// Its place in the book.
    pub seq: Option<i64>,
}

/// Whether an entry is stored, for whoever sent it and got no answer. It waits for one that is just being written, so that a no
/// holds for what had reached the server.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path), ("entry" = Uuid, Path)), responses((status = 200, body = EntryFound), (status = 404)))]
#[get("/books/{id}/entries/{entry}")]
pub async fn find_entry(state: web::Data<State>, _person: Person, path: web::Path<(Uuid, Uuid)>) -> Answer<EntryFound> {
    let (book, entry) = path.into_inner();
    let mut tx = state.db.begin().await?;
    let there = sqlx::query_scalar!("select head_seq from book where id = $1 for share", book).fetch_optional(&mut *tx).await?;
    there.ok_or(Problem::NotFound("book"))?;
    let find = sqlx::query_scalar!("select seq from entry where id = $1 and book_id = $2", entry, book);
    let seq = find.fetch_optional(&mut *tx).await?;
    tx.rollback().await?;
    Ok(web::Json(EntryFound { stored: seq.is_some(), seq }))
}

/// A batch with what stands beside it, as it is read.
pub(crate) struct Looked {
    pub(crate) record: Arc<Record>,
    pub(crate) beside: Beside,
}

impl Looked {
    /// The two together.
    pub fn case(&self) -> Case<'_> {
        Case::new(&self.record, &self.beside)
    }

    /// Who looks at it, with what the shop measures with.
    fn viewer(&self, person: &Person) -> Viewer {
        viewer(person, &self.beside.measures)
    }
}

/// A batch with what stands beside it, as a station asks it.
pub(crate) async fn looked(state: &State, id: Uuid, at: StationName) -> Result<Looked, Problem> {
    look(state, id, Some(at)).await
}

/// Reads a batch and all that stands beside it: one statement while its record is in the cache.
async fn look(state: &State, id: Uuid, at: Option<StationName>) -> Result<Looked, Problem> {
    look_with(state, id, Neighbour::of_view(at)).await
}

/// Reads a batch and those of its neighbours that are asked for.
pub(crate) async fn look_with(state: &State, id: Uuid, needs: &[Neighbour]) -> Result<Looked, Problem> {
    let mut db = state.db.acquire().await?;
    let opened = beside(&mut db, &state.shop.now(), Some(&[id]), needs).await?.pop();
    let Opened { head_seq, beside, .. } = opened.ok_or(Problem::NotFound("batch"))?;
    let record: Arc<Record> = at_head(&mut db, state, id, head_seq).await?;
    let mut beside = beside.remembering(&record);
    if needs.contains(&Neighbour::Weather) {
        beside.weather = weather(&mut db, state.probes.weather_sources(), state.clock.now()).await?;
    }
    Ok(Looked { record, beside })
}

/// A batch as the reader sees it now.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path), At), responses((status = 200, body = BatchView), (status = 404)))]
#[get("/batches/{id}")]
pub async fn batch(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    at: web::Query<At>,
) -> Result<HttpResponse, Problem> {
    let of = LookOf {
        batch: *id,
        station: at.station.map(|s| s as u8),
        person: person.id,
        reads: (person.role, person.prefs.units, person.prefs.numbers, person.works_alone),
    };
    // Screens that hear of one stamp ask in the same instant: those of one person share a look that begins after they asked.
    let body = state.books.looks.shared(of, || written(&state, &person, *id, at.station)).await?;
    Ok(HttpResponse::Ok().content_type("application/json").body(body))
}

/// A batch as one person sees it now, as it goes over the wire.
async fn written(state: &State, person: &Person, id: Uuid, at: Option<StationName>) -> Result<web::Bytes, Problem> {
    let looked = look(state, id, at).await?;
    let view = view(id, &looked.case(), &looked.viewer(person), state.clock.now(), at);
    // Written into room that is there, not into one that doubles ten times.
    let mut body = Vec::with_capacity(VIEW_BYTES);
    serde_json::to_writer(&mut body, &view.ok_or(Problem::NotFound("batch"))?)?;
    Ok(body.into())
}

/// Room for the JSON of a view.
const VIEW_BYTES: usize = 32 * 1024;

/// The log of a batch, newest first.
#[utoipa::path(operation_id = "batch_log", tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, body = [LogLine]), (status = 404)))]
#[get("/batches/{id}/log")]
pub async fn log(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<Vec<LogLine>> {
    let mut db = state.db.acquire().await?;
    let record: Arc<Record> = read(&mut db, &state, *id).await?;
    if record.begin.is_none() {
        return Err(Problem::NotFound("batch"));
    }
    Ok(web::Json(lines_for(&record, &person.writer(), usize::MAX)))
}

/// The card: as it was signed, or as it stands while it is not. A signed one is sent in the reader's own units where the book
/// still says what was signed, else as it was stored.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, body = Card), (status = 404)))]
#[get("/batches/{id}/card")]
pub async fn batch_card(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<Value> {
    Ok(web::Json(card_told(&state, &person, *id).await?))
}

/// The card as it is told to its reader.
pub async fn card_told(state: &State, person: &Person, id: Uuid) -> Result<Value, Problem> {
    let stored = sqlx::query_scalar!("select signed_card from batch where id = $1", id).fetch_optional(&state.db).await?;
    if let Some(signed) = stored.ok_or(Problem::NotFound("batch"))? {
        let own = in_own_units(state, person, id, &signed).await?;
        return Ok(own.unwrap_or_else(|| in_todays_names(signed)));
    }
    let looked = look(state, id, None).await?;
    let view = whole(id, &looked.case(), &looked.viewer(person), state.clock.now()).ok_or(Problem::NotFound("batch"))?;
    Ok(serde_json::to_value(card(&looked.case(), view, person.prefs))?)
}

/// A signed card in the units of its reader, as at its last signature. `None` where the document of the card and the words of its
/// levels do not come out as they were stored: then what was signed is read as it was signed.
async fn in_own_units(state: &State, person: &Person, id: Uuid, signed: &Value) -> Result<Option<Value>, Problem> {
    let kept = serde_json::from_value::<CardDocument>(signed["document"].clone()).ok();
    let last = [&signed["accepted"]["at"], &signed["signed"]["at"]].into_iter().find_map(Value::as_str);
    let Some((kept, at)) = kept.zip(last.and_then(|at| at.parse().ok())) else { return Ok(None) };
    let mut looked = look(state, id, None).await?;
    looked.beside.last_good.clone_from(&kept.last_good);
    let view = whole(id, &looked.case(), &looked.viewer(person), at).ok_or(Problem::NotFound("batch"))?;
    let own = card(&looked.case(), view, person.prefs);
    let same = |field: &str, own: &str| signed[field].as_str() == Some(own);
    let as_signed =
        own.document.as_ref() == Some(&kept) && same("core_version", &own.core_version) && same("head_hash", &own.head_hash);
    let own = serde_json::to_value(own)?;
    Ok((as_signed && verdicts(&own["view"]) == verdicts(&signed["view"])).then_some(own))
}

/// The document of a card: as it was stored with the signature, or as it stands.
pub async fn open_card(state: &State, id: Uuid) -> Result<CardDocument, Problem> {
    let stored = sqlx::query_scalar!("select signed_card -> 'document' from batch where id = $1", id)
        .fetch_optional(&state.db)
        .await?
        .ok_or(Problem::NotFound("batch"))?;
    if let Some(document) = stored.and_then(|v| serde_json::from_value(v).ok()) {
        return Ok(document);
    }
    let looked = look(state, id, None).await?;
    document(id, &looked.case()).ok_or(Problem::NotFound("batch"))
}

/// The card as an open document; its schema is at `/schemas/card.json`.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, body = CardDocument), (status = 404)))]
#[get("/batches/{id}/card.json")]
pub async fn card_json(state: web::Data<State>, _person: Person, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let card = open_card(&state, *id).await?;
    let name = format!("level-keel-card-{:04}.json", card.number);
    Ok(download("application/json", &name, serde_json::to_string_pretty(&card)?))
}

/// The card as a table, a figure a row.
#[utoipa::path(tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, content_type = "text/csv"), (status = 404)))]
#[get("/batches/{id}/card.csv")]
pub async fn card_csv(state: web::Data<State>, _person: Person, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let card = open_card(&state, *id).await?;
    let mut table = Table::new(&HEADS)?;
    for row in rows(&card) {
        table.row(row)?;
    }
    table.download(&format!("level-keel-card-{:04}.csv", card.number))
}

/// JSON Schema of the open card.
#[utoipa::path(tag = "batch", responses((status = 200)))]
#[get("/schemas/card.json")]
pub async fn card_schema(_person: Person) -> Result<HttpResponse, Problem> {
    Ok(HttpResponse::Ok().content_type("application/schema+json").body(schema::<CardDocument>()?))
}
