//! Records: finished batches.

use crate::auth::Person;
use crate::problem::Answer;
use crate::state::State;
use actix_web::{get, web};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// A finished batch in the list.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RecordRow {
    pub id: Uuid,
    pub number: i64,
    pub label: String,
    pub product: String,
    /// signed or accepted.
    pub state: String,
    pub begun: Timestamp,
    pub last: Timestamp,
}

/// What to find.
#[derive(Debug, Deserialize, IntoParams)]
pub struct Find {
    /// Part, coat, product or number; empty finds all.
    #[serde(default)]
    pub find: String,
}

/// Signed and accepted batches, newest first, at most 200.
#[utoipa::path(operation_id = "records_list", tag = "records", params(Find), responses((status = 200, body = [RecordRow])))]
#[get("/records")]
pub async fn list(state: web::Data<State>, _person: Person, find: web::Query<Find>) -> Answer<Vec<RecordRow>> {
    let words = format!("%{}%", find.find.trim().replace(['\\', '%', '_'], ""));
    let rows = sqlx::query!(
        r#"select id, number, label, product, state, begun as "begun: jiff_sqlx::Timestamp", last_happened as "last: jiff_sqlx::Timestamp"
           from batch where state <> 'open' and (label ilike $1 or product ilike $1 or number::text ilike $1)
           order by last_happened desc limit 200"#,
        words
    )
    .fetch_all(&state.db)
    .await?;
    let all = rows.into_iter().map(|r| RecordRow {
        id: r.id,
        number: r.number,
        label: r.label,
        product: r.product,
        state: r.state,
        begun: r.begun.to_jiff(),
        last: r.last.to_jiff(),
    });
    Ok(web::Json(all.collect()))
}
