//! The book of an instrument over HTTP: its checks, and what a scale that was found off put in doubt.

use crate::auth::Person;
use crate::books::kept::{Columns, Kept};
use crate::books::{Cache, NewEntry, Writing, read as read_book};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, post, put, web};
use jiff::Timestamp;
use level_keel_core::book::Ledger;
use level_keel_core::instruments::{InstrumentBook, InstrumentEntryKind, ProofInDoubt, marks};
use level_keel_core::limits::{self, check_name};
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::resolve;
use level_keel_core::ratio_check::LedgerProof;
use level_keel_core::refusal::Refusal;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::PgConnection;
use std::collections::HashMap;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// Lines of a book that are shown.
const LINES: usize = 50;

impl Kept for InstrumentBook {
    const TABLE: &'static str = "instrument";

    fn cache(state: &State) -> &Cache<InstrumentBook> {
        &state.books.instruments
    }

    async fn lock(tx: &mut PgConnection, book: Uuid) -> Result<(), Problem> {
        let row = sqlx::query!("select id from instrument where id = $1 for update", book).fetch_optional(tx).await?;
        row.map(drop).ok_or(Problem::NotFound("instrument"))
    }

    async fn prepare(
        &self,
        _w: &Writing<'_>,
        tx: &mut PgConnection,
        book: Uuid,
        kind: InstrumentEntryKind,
        payload: &mut Value,
    ) -> Result<bool, Problem> {
        let row = sqlx::query!("select kind, resolution from instrument where id = $1", book).fetch_optional(tx).await?;
        let row = row.ok_or(Problem::NotFound("instrument"))?;
        if let (InstrumentEntryKind::Checked, Value::Object(map)) = (kind, payload) {
            if !matches!(row.kind.as_str(), "scale" | "gauge") {
                return Err(Refusal::bad_input("not-checked", "instrument", "A comb or a cup is not checked here.").into());
            }
            map.insert("step".into(), json!(row.resolution));
        }
        Ok(row.kind == "gauge")
    }

    fn columns(&self) -> Result<Option<Columns>, Problem> {
        Ok(json!({ "due": self.life().map(|life| life.due) }).as_object().cloned())
    }

    async fn derive(&self, _tx: &mut PgConnection, _book: Uuid, _before: Option<&InstrumentBook>) -> Result<(), Problem> {
        Ok(())
    }

    async fn underived(&self, _db: &mut PgConnection, _book: Uuid) -> Result<Vec<String>, Problem> {
        Ok(Vec::new())
    }
}

/// A line of an instrument's book.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct InstrumentLine {
    pub entry: Uuid,
    pub at: Timestamp,
    pub by: String,
    pub text: String,
    pub struck: bool,
}

/// How an instrument stands, with its book and what it put in doubt.
#[derive(Debug, Serialize, ToSchema)]
pub struct InstrumentState {
    /// The instrument.
    pub id: Uuid,
    /// The last check; none was written.
    pub last: Option<String>,
    /// When it was.
    pub checked: Option<Timestamp>,
    /// It was found good.
    pub good: bool,
    /// When the next one is due.
    pub due: Option<Timestamp>,
    /// That is past.
    pub overdue: bool,
    /// Proofs in doubt.
    pub marks: Vec<ProofInDoubt>,
    /// Its book, newest first.
    pub book: Vec<InstrumentLine>,
}

async fn seen(state: &State, person: &Person, id: Uuid) -> Result<InstrumentState, Problem> {
    let mut db = state.db.acquire().await?;
    let book: Arc<InstrumentBook> = read_book(&mut db, state, id).await?;
    let life = book.life();
    let now = state.clock.now();
    let marks = if book.checks.is_empty() { Vec::new() } else { marks(&book, &weighed_on(&mut db, id).await?) };
    let lines = book.log.iter().rev().take(LINES).map(|l| InstrumentLine {
        entry: l.entry,
        at: l.at,
        by: l.by.clone(),
        text: l.said.as_deref().map_or_else(String::new, |said| book.words(said, person.prefs)),
        struck: l.struck.is_some(),
    });
    Ok(InstrumentState {
        id,
        last: book.checks.last().map(|c| c.it.words(person.prefs)),
        checked: life.map(|l| l.checked),
        good: life.is_some_and(|l| l.found.fault.is_none()),
        due: life.map(|l| l.due),
        overdue: life.is_some_and(|l| now > l.due),
        marks: marks.iter().map(level_keel_core::instruments::Mark::view).collect(),
        book: lines.collect(),
    })
}

/// What was weighed on a scale, oldest first.
async fn weighed_on(db: &mut PgConnection, scale: Uuid) -> Result<Vec<LedgerProof>, Problem> {
    let rows =
        sqlx::query_scalar!("select body from ratio_proof where body ->> 'instrument' = $1 order by at", scale.to_string());
    rows.fetch_all(db).await?.into_iter().map(|body| Ok(serde_json::from_value(body)?)).collect()
}

/// Proofs in doubt by their entry, in words: for the ledger they stand in.
pub async fn marked(db: &mut PgConnection, state: &State, scales: &[Uuid]) -> Result<HashMap<Uuid, String>, Problem> {
    let mut all = HashMap::new();
    for scale in scales {
        let book: Arc<InstrumentBook> = read_book(db, state, *scale).await?;
        if book.checks.iter().any(|c| c.it.found().is_some_and(|f| f.fault.is_some())) {
            for mark in marks(&book, &weighed_on(db, *scale).await?) {
                let view = mark.view();
                let text = view.answered.map_or(view.text.clone(), |answer| format!("{} ({answer})", view.text));
                all.insert(view.proof, text);
            }
        }
    }
    Ok(all)
}

/// One instrument: its last check, when the next is due, its book, and what it put in doubt.
#[utoipa::path(operation_id = "instrument_one", tag = "instruments", params(("id" = Uuid, Path)), responses((status = 200, body = InstrumentState), (status = 404)))]
#[get("/instruments/{id}")]
pub async fn one(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<InstrumentState> {
    let known = sqlx::query_scalar!(r#"select exists(select 1 from instrument where id = $1) as "known!""#, *id);
    if !known.fetch_one(&state.db).await? {
        return Err(Problem::NotFound("instrument"));
    }
    Ok(web::Json(seen(&state, &person, *id).await?))
}

/// Writes in the book of an instrument: `checked`, `mark_answered`, or the `strike` of one.
#[utoipa::path(operation_id = "instruments_append", tag = "instruments", params(("id" = Uuid, Path)), request_body = crate::openapi::NewInstrumentEntry, responses((status = 200, body = InstrumentState), (status = 403), (status = 404), (status = 409), (status = 422)))]
#[post("/instruments/{id}/entries")]
pub async fn append(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    body: web::Json<NewEntry>,
) -> Answer<InstrumentState> {
    Writing::of(&state, &person, state.clock.now()).one::<InstrumentBook>(*id, body.into_inner()).await?;
    Ok(web::Json(seen(&state, &person, *id).await?))
}

/// A gauge as typed.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TypedGauge {
    /// Made by the browser, for a new one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// Its name.
    pub name: String,
    /// A division of its dial; as a number in kPa or a text.
    #[schema(value_type = String)]
    pub division_kpa: Value,
}

/// Keeps a gauge: a new one, or another name or division for one that is here.
#[utoipa::path(operation_id = "gauges_keep", tag = "instruments", request_body = TypedGauge, responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[put("/instruments/gauges")]
pub async fn keep_gauge(state: web::Data<State>, person: Person, body: web::Json<TypedGauge>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let TypedGauge { id, name, division_kpa } = body.into_inner();
    let mut typed = json!({ "division_kpa": division_kpa });
    resolve(&mut typed, person.prefs)?;
    let division =
        typed["division_kpa"].as_f64().ok_or_else(|| Refusal::bad_input("missing", "division_kpa", "What is one division?"))?;
    let (name, division) = (check_name("name", &name)?, limits::GAUGE_DIVISION.check("division_kpa", division, person.prefs)?);
    let id = id.unwrap_or_else(Uuid::now_v7);
    let mut tx = state.db.begin().await?;
    super::free_name(&mut tx, "gauge", &name, id).await?;
    sqlx::query!(
        "insert into instrument (id, kind, name, resolution) values ($1, 'gauge', $2, $3)
         on conflict (id) do update set name = $2, resolution = $3 where instrument.kind = 'gauge'",
        id,
        name,
        division
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(web::Json(id))
}
