//! The story of a part over HTTP.

use crate::auth::Person;
use crate::books::chain::at_head;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, web};
use level_keel_core::batch::Record;
use level_keel_core::batch::story::{StoryLine, story};
use std::sync::Arc;
use uuid::Uuid;

/// Batches of one part that are told of, the newest ones.
const TOLD_OF: i64 = 60;

/// What happened to a part, oldest first: coats, signatures, defects, what they came of, repairs.
#[utoipa::path(operation_id = "part_story", tag = "parts", params(("id" = Uuid, Path)), responses((status = 200, body = [StoryLine]), (status = 404)))]
#[get("/parts/{id}/story")]
pub async fn of_part(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<Vec<StoryLine>> {
    let mut db = state.db.acquire().await?;
    sqlx::query_scalar!("select id from part where id = $1", *id)
        .fetch_optional(&mut *db)
        .await?
        .ok_or(Problem::NotFound("part"))?;
    let rows = sqlx::query!(
        "select b.id, h.head_seq from batch b join book h on h.id = b.id where b.part_id = $1 order by b.number desc limit $2",
        *id,
        TOLD_OF
    )
    .fetch_all(&mut *db)
    .await?;
    let mut records: Vec<(Uuid, Arc<Record>)> = Vec::new();
    for row in rows {
        records.push((row.id, at_head(&mut db, &state, row.id, row.head_seq).await?));
    }
    let told: Vec<(Uuid, &Record)> = records.iter().map(|(id, record)| (*id, record.as_ref())).collect();
    Ok(web::Json(story(&told, person.prefs)))
}
