//! Sheets carried as open documents, what changed between versions, their curves and the schools of the trade.

use super::{Typed, newest, write};
use crate::auth::Person;
use crate::export::{download, schema};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, post, web};
use jiff_sqlx::ToSqlx;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::Refusal;
use level_keel_core::sheets::Sheet;
use level_keel_core::sheets::changes::{SheetChange, changes};
use level_keel_core::sheets::document::SheetDocument;
use level_keel_core::sheets::schools::{School, schools};
use level_keel_core::sheets::times::{CurveView, drawn};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// A sheet as an open document; its schema is at `/schemas/sheet.json`.
#[utoipa::path(operation_id = "sheets_json", tag = "sheets", params(("id" = Uuid, Path)), responses((status = 200, body = SheetDocument), (status = 404)))]
#[get("/sheets/{id}/sheet.json")]
pub async fn json(state: web::Data<State>, _person: Person, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let (_, edition, sheet) = newest(&mut *state.db.acquire().await?, *id).await.map_err(|_| Problem::NotFound("sheet"))?;
    let name = format!("level-keel-sheet-{}.json", sheet.label.to_lowercase().replace(|c: char| !c.is_ascii_alphanumeric(), "-"));
    Ok(download("application/json", &name, serde_json::to_string_pretty(&SheetDocument::of(sheet, edition))?))
}

/// JSON Schema of a sheet document.
#[utoipa::path(operation_id = "sheets_schema", tag = "sheets", responses((status = 200)))]
#[get("/schemas/sheet.json")]
pub async fn json_schema(_person: Person) -> Result<HttpResponse, Problem> {
    Ok(HttpResponse::Ok().content_type("application/schema+json").body(schema::<SheetDocument>()?))
}

/// What came of an import.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SheetImported {
    pub id: Uuid,
    pub name: String,
    pub edition: i32,
    /// A sheet of that name stood already: this is its new version.
    pub new_version: bool,
}

/// Reads a sheet document. A sheet of the same name gets a new version. Nothing is stored when anything is wrong.
#[utoipa::path(operation_id = "sheets_import", tag = "sheets", request_body(content = String, content_type = "application/json"), responses((status = 200, body = SheetImported), (status = 403), (status = 422)))]
#[post("/sheets/import")]
pub async fn import(state: web::Data<State>, person: Person, text: web::Bytes) -> Answer<SheetImported> {
    has_duty(person.role, Duty::Sheets)?;
    let sheet = parse(&text)?;
    let now = state.clock.now();
    let mut tx = state.db.begin().await?;
    sqlx::query!("lock table sheet in share row exclusive mode").execute(&mut *tx).await?;
    let known = sqlx::query!(
        r#"select sheet_id, max(edition) as "edition!" from sheet_version v
           where lower((select name from sheet_version n where n.sheet_id = v.sheet_id order by edition desc limit 1)) = lower($1)
           group by sheet_id limit 1"#,
        sheet.name
    )
    .fetch_optional(&mut *tx)
    .await?;
    let (id, edition) = match &known {
        Some(row) => (row.sheet_id, row.edition + 1),
        None => {
            let id = Uuid::now_v7();
            sqlx::query!("insert into sheet (id, created) values ($1, $2)", id, now.to_sqlx() as _).execute(&mut *tx).await?;
            (id, 1)
        }
    };
    let typed = Typed { sheet, texts: BTreeMap::new() };
    write(&mut tx, id, edition, &typed, person.id, now).await?;
    let sheet = typed.sheet;
    tx.commit().await?;
    Ok(web::Json(SheetImported { id, name: sheet.name, edition, new_version: known.is_some() }))
}

/// The sheet in a document; every error names its path.
fn parse(text: &[u8]) -> Result<Sheet, Problem> {
    let mut reader = serde_json::Deserializer::from_slice(text);
    let document: SheetDocument = serde_path_to_error::deserialize(&mut reader).map_err(|e| {
        let path = e.path().to_string();
        let inner = e.inner().to_string();
        let field = inner.split('`').nth(1).filter(|_| inner.contains("field"));
        let whole = match (path.as_str(), field) {
            (".", Some(field)) => field.to_string(),
            (path, Some(field)) if !path.ends_with(field) => format!("{path}.{field}"),
            (path, _) => path.to_string(),
        };
        Refusal::bad_input("not-understood", &whole, format!("{whole}: {inner}."))
    })?;
    reader.end().map_err(|e| Refusal::bad_input("not-understood", ".", format!("There is more after the document: {e}.")))?;
    Ok(document.accept(Prefs::METRIC)?)
}

/// Which two versions.
#[derive(Debug, Deserialize, IntoParams)]
pub struct Between {
    /// The edition before; the one before `to` when missing.
    #[serde(default)]
    pub from: Option<i32>,
    /// The edition after; the newest when missing.
    #[serde(default)]
    pub to: Option<i32>,
    /// Another sheet: its newest version stands before this one's.
    #[serde(default)]
    pub against: Option<Uuid>,
}

/// What one version says that another did not.
#[utoipa::path(operation_id = "sheets_changes", tag = "sheets", params(("id" = Uuid, Path), Between), responses((status = 200, body = [SheetChange]), (status = 404)))]
#[get("/sheets/{id}/changes")]
pub async fn between(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    which: web::Query<Between>,
) -> Answer<Vec<SheetChange>> {
    let rows = sqlx::query!("select edition, body from sheet_version where sheet_id = $1 order by edition desc", *id)
        .fetch_all(&state.db)
        .await?;
    let to = which.to.or(rows.first().map(|r| r.edition)).ok_or(Problem::NotFound("sheet"))?;
    let from = which.from.unwrap_or(to.saturating_sub(1));
    let find = |edition: i32| rows.iter().find(|r| r.edition == edition).ok_or(Problem::NotFound("version"));
    let before: Sheet = match which.against {
        Some(other) => newest(&mut *state.db.acquire().await?, other).await.map_err(|_| Problem::NotFound("sheet"))?.2,
        None => serde_json::from_value(find(from)?.body.clone())?,
    };
    let after: Sheet = serde_json::from_value(find(to)?.body.clone())?;
    Ok(web::Json(changes(&before, &after, person.prefs)))
}

/// The clocks of a sheet over temperature, by the rules that run the pots.
#[utoipa::path(operation_id = "sheets_curves", tag = "sheets", params(("id" = Uuid, Path)), responses((status = 200, body = [CurveView]), (status = 404)))]
#[get("/sheets/{id}/curves")]
pub async fn curves(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<Vec<CurveView>> {
    let (_, _, sheet) = newest(&mut *state.db.acquire().await?, *id).await.map_err(|_| Problem::NotFound("sheet"))?;
    Ok(web::Json(drawn(&sheet, person.prefs)))
}

/// Schools of the trade: figures good shops hold to, to fill a sheet with.
#[utoipa::path(operation_id = "sheets_schools", tag = "sheets", responses((status = 200, body = [School])))]
#[get("/sheets/schools")]
pub async fn school_list(_person: Person) -> Answer<Vec<School>> {
    Ok(web::Json(schools()))
}
