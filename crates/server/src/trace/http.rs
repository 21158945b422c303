//! Trace over HTTP: as the screen draws it, and as a table to take along.

use super::store::{self, Batches, IN_A_TABLE, SHOWN, TraceRow};
use crate::auth::Person;
use crate::export::Table;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{Prefs, QuantityKind, show};
use level_keel_core::refusal::Refusal;
use level_keel_core::trace::{Span, Told, TraceOf, line};
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// What is asked: one of these.
#[derive(Debug, Default, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Asked {
    /// What a lot went into.
    #[serde(default)]
    pub lot: Option<Uuid>,
    /// What went onto a part.
    #[serde(default)]
    pub part: Option<Uuid>,
    /// What the tips of a rig sprayed.
    #[serde(default)]
    pub rig: Option<Uuid>,
    /// What a scale weighed while it was in doubt.
    #[serde(default)]
    pub scale: Option<Uuid>,
    /// What somebody did …
    #[serde(default)]
    pub person: Option<Uuid>,
    /// … on a shop day, `2026-11-23`; missing: today.
    #[serde(default)]
    pub day: String,
    /// Which tip, or which time in doubt: its place in the list, the newest is 0.
    #[serde(default)]
    pub span: usize,
}

/// A tip, or a time in doubt, to choose from.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SpanSeen {
    pub words: String,
    pub from: Option<Timestamp>,
    pub to: Option<Timestamp>,
}

/// A row with its weather in the reader's units.
#[derive(Debug, Serialize, ToSchema)]
pub struct TraceSeen {
    /// The batch.
    #[serde(flatten)]
    pub row: TraceRow,
    /// Air, surface, humidity in words.
    pub weather: Option<String>,
}

/// The answer.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TraceView {
    pub of: TraceOf,
    pub title: String,
    /// What is told of, in a sentence.
    pub line: String,
    /// Tips of the rig, or times the scale was in doubt.
    pub spans: Vec<SpanSeen>,
    /// Which of them is shown.
    pub span: usize,
    pub rows: Vec<TraceSeen>,
    /// So many there are.
    pub count: i64,
}

struct Found {
    of: TraceOf,
    title: String,
    line: String,
    spans: Vec<Span>,
    batches: Batches,
}

async fn found(state: &State, db: &mut PgConnection, person: &Person, asked: &Asked, most: i64) -> Result<Found, Problem> {
    let given = [asked.lot, asked.part, asked.rig, asked.scale, asked.person].into_iter().flatten().count();
    if given != 1 {
        let text = "Ask for one: a lot, a part, a rig, a scale or a person.";
        return Err(Refusal::bad_input(if given == 0 { "missing" } else { "one-of" }, "lot", text).into());
    }
    if let Some(lot) = asked.lot {
        let code = sqlx::query_scalar!("select code from lot where id = $1", lot).fetch_optional(&mut *db).await?;
        let batches = store::of_lot(db, lot, most).await?;
        let line = line(Told::Lot, batches.count, most);
        let title = format!("Lot {}", code.ok_or(Problem::NotFound("lot"))?);
        return Ok(Found { of: TraceOf::Lot, title, line, spans: Vec::new(), batches });
    }
    if let Some(part) = asked.part {
        let name = sqlx::query_scalar!("select name from part where id = $1", part).fetch_optional(&mut *db).await?;
        let batches = store::of_part(db, part, most).await?;
        let line = line(Told::Part, batches.count, most);
        return Ok(Found { of: TraceOf::Part, title: name.ok_or(Problem::NotFound("part"))?, line, spans: Vec::new(), batches });
    }
    if let Some(rig) = asked.rig {
        let name = sqlx::query_scalar!("select name from rig where id = $1", rig).fetch_optional(&mut *db).await?;
        let title = name.ok_or(Problem::NotFound("rig"))?;
        let spans = store::spans_of_rig(db, state, rig).await?;
        let unnamed = Span { from: None, to: None, words: String::new() };
        let span = spans.get(asked.span).unwrap_or(&unnamed);
        let batches = store::of_rig(db, rig, span, most).await?;
        let line = line(Told::Through(&span.words), batches.count, most);
        return Ok(Found { of: TraceOf::Tip, title, line, spans, batches });
    }
    if let Some(scale) = asked.scale {
        let name = sqlx::query_scalar!("select name from instrument where id = $1", scale).fetch_optional(&mut *db).await?;
        let title = name.ok_or(Problem::NotFound("scale"))?;
        let (spans, checked) = store::spans_of_scale(db, state, scale).await?;
        let Some(span) = spans.get(asked.span) else {
            let line = line(if checked { Told::NeverFoundOff } else { Told::NeverChecked }, 0, most);
            return Ok(Found { of: TraceOf::Scale, title, line, spans, batches: Batches { ids: Vec::new(), count: 0 } });
        };
        let batches = store::of_scale(db, scale, span, most).await?;
        let line = line(Told::InDoubt(&span.words), batches.count, most);
        return Ok(Found { of: TraceOf::Scale, title, line, spans, batches });
    }
    // What one person did is theirs, a lead's and the owner's to look at.
    let who = asked.person.unwrap_or(person.id);
    if who != person.id {
        has_duty(person.role, Duty::Sheets)?;
    }
    let name = sqlx::query_scalar!("select name from person where id = $1", who).fetch_optional(&mut *db).await?;
    let (day, from, to) = shift(state, &asked.day)?;
    let batches = store::of_person(db, who, from, to, most).await?;
    let line = line(Told::On(day), batches.count, most);
    Ok(Found { of: TraceOf::Shift, title: name.ok_or(Problem::NotFound("person"))?, line, spans: Vec::new(), batches })
}

/// A shop day, from its first instant to that of the next.
fn shift(state: &State, day: &str) -> Result<(Date, Timestamp, Timestamp), Problem> {
    let not = || Refusal::bad_input("not-a-date", "day", "Write a day as year-month-day: 2026-11-23.");
    let day: Date = if day.trim().is_empty() { state.shop_day() } else { day.trim().parse().map_err(|_| not())? };
    let start = |date: Date| date.to_zoned(state.shop.zone()).map(|z| z.timestamp()).map_err(|_| not());
    Ok((day, start(day)?, start(day.checked_add(1.day()).map_err(|_| not())?)?))
}

fn weather(row: &TraceRow, prefs: Prefs) -> Option<String> {
    let say = |value: Option<f64>, what: &str, kind| value.map(|v| format!("{what}{}", show(v, kind, prefs).text));
    let said: Vec<String> = [
        say(row.air_c, "air ", QuantityKind::Temperature),
        say(row.surface_c, "surface ", QuantityKind::Temperature),
        say(row.rh_pct, "", QuantityKind::Percent),
    ]
    .into_iter()
    .flatten()
    .collect();
    (!said.is_empty()).then(|| said.join(", "))
}

/// What is asked, told to its reader: so many batches at the most, the newest.
pub async fn told(state: &State, person: &Person, asked: &Asked, most: i64) -> Result<TraceView, Problem> {
    let mut db = state.db.acquire().await?;
    let found = found(state, &mut db, person, asked, most).await?;
    let rows = store::rows(&mut db, &found.batches.ids).await?;
    let seen = |row: TraceRow| TraceSeen { weather: weather(&row, person.prefs), row };
    Ok(TraceView {
        of: found.of,
        title: found.title,
        line: found.line,
        spans: found.spans.into_iter().map(|s| SpanSeen { words: s.words, from: s.from, to: s.to }).collect(),
        span: asked.span,
        rows: rows.into_iter().map(seen).collect(),
        count: found.batches.count,
    })
}

/// What else got it: every batch that a lot, a tip, a scale in doubt or somebody's shift touched, with its part, the coats beside it and
/// what else went into it; or all that went onto a part.
#[utoipa::path(operation_id = "trace", tag = "records", params(Asked), responses((status = 200, body = TraceView), (status = 403), (status = 404), (status = 422)))]
#[get("/trace")]
pub async fn view(state: web::Data<State>, person: Person, asked: web::Query<Asked>) -> Answer<TraceView> {
    Ok(web::Json(told(&state, &person, &asked, SHOWN).await?))
}

/// The same as a table: a recall list with the state of each batch.
#[utoipa::path(operation_id = "trace_csv", tag = "records", params(Asked), responses((status = 200, content_type = "text/csv"), (status = 403), (status = 404), (status = 422)))]
#[get("/trace.csv")]
pub async fn csv(state: web::Data<State>, person: Person, asked: web::Query<Asked>) -> Result<HttpResponse, Problem> {
    let told = told(&state, &person, &asked, IN_A_TABLE).await?;
    as_table(&told)?.download(&format!("level-keel-trace-{}.csv", <&str>::from(told.of)))
}

/// A trace as a table, a batch a row.
pub fn as_table(told: &TraceView) -> Result<Table, Problem> {
    let heads = [
        "batch",
        "part",
        "coat",
        "product",
        "state",
        "begun",
        "defects",
        "lots",
        "people",
        "rig",
        "scales",
        "air_c",
        "surface_c",
        "rh_pct",
        "coats_beside",
        "id",
    ];
    let mut table = Table::new(&heads)?;
    let figure = |value: Option<f64>| value.map_or(String::new(), |v| v.to_string());
    for TraceSeen { row, .. } in &told.rows {
        let beside: Vec<String> = row.beside.iter().map(|b| format!("{:04} {}", b.number, b.coat)).collect();
        table.row([
            &row.number.to_string(),
            &row.part_name,
            &row.coat,
            &row.product,
            &row.state,
            &row.begun.to_string(),
            &row.defects.to_string(),
            &row.lots.join(" "),
            &row.people.join(", "),
            row.rig.as_deref().unwrap_or_default(),
            &row.scales.join(", "),
            &figure(row.air_c),
            &figure(row.surface_c),
            &figure(row.rh_pct),
            &beside.join(", "),
            &row.id.to_string(),
        ])?;
    }
    Ok(table)
}
