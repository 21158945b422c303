//! What somebody asks of the records again and again, kept under a name: their own, and nobody else's.

use super::Find;
use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, delete, get, put, web};
use jiff_sqlx::ToSqlx;
use level_keel_core::limits::check_name;
use level_keel_core::refusal::Refusal;
use level_keel_core::trends::TrendBy;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Views one person may keep.
const MOST: i64 = 40;

/// What is asked: of the list, or of the trends.
#[derive(Debug, Clone, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct ViewAsks {
    /// Trends instead of the list, and by what.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub trends: Option<TrendBy>,
    /// What is looked for.
    pub find: Find,
}

/// A view that is kept.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SavedView {
    /// Made by the browser.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// What it asks.
    pub asks: ViewAsks,
}

/// The reader's own views, by name.
#[utoipa::path(operation_id = "views_list", tag = "records", responses((status = 200, body = [SavedView])))]
#[get("/records/views")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<SavedView>> {
    let rows = sqlx::query!("select id, name, asks from saved_view where person_id = $1 order by lower(name)", person.id)
        .fetch_all(&state.db)
        .await?;
    let all: Result<Vec<SavedView>, Problem> =
        rows.into_iter().map(|r| Ok(SavedView { id: r.id, name: r.name, asks: serde_json::from_value(r.asks)? })).collect();
    Ok(web::Json(all?))
}

/// Keeps a view. One of the same name is written over: it asks what was meant last.
#[utoipa::path(operation_id = "views_keep", tag = "records", request_body = SavedView, responses((status = 204), (status = 422)))]
#[put("/records/views")]
pub async fn keep(state: web::Data<State>, person: Person, body: web::Json<SavedView>) -> Result<HttpResponse, Problem> {
    let view = body.into_inner();
    let name = check_name("name", &view.name)?;
    // What is kept can be asked: a day that is none is refused now and not when it is looked at.
    view.asks.find.checked(state.shop_day())?;
    let held =
        sqlx::query_scalar!("select count(*) from saved_view where person_id = $1 and lower(name) <> lower($2)", person.id, name)
            .fetch_one(&state.db)
            .await?;
    if held.unwrap_or(0) >= MOST {
        let text = format!("You keep {MOST} views already. Forget one first.");
        return Err(Refusal::bad_input("too-many", "name", text).into());
    }
    sqlx::query!(
        "insert into saved_view (id, person_id, name, asks, created) values ($1, $2, $3, $4, $5)
         on conflict (person_id, lower(name)) do update set name = $3, asks = $4",
        view.id,
        person.id,
        name,
        serde_json::to_value(&view.asks)?,
        state.clock.now().to_sqlx() as _
    )
    .execute(&state.db)
    .await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Forgets a view of one's own. Nothing of the books goes with it.
#[utoipa::path(operation_id = "views_forget", tag = "records", params(("id" = Uuid, Path)), responses((status = 204), (status = 404)))]
#[delete("/records/views/{id}")]
pub async fn forget(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let gone = sqlx::query!("delete from saved_view where id = $1 and person_id = $2", *id, person.id).execute(&state.db).await?;
    match gone.rows_affected() {
        0 => Err(Problem::NotFound("view")),
        _ => Ok(HttpResponse::NoContent().finish()),
    }
}
