//! Where people are signed in, and ending it.

use crate::auth::Person;
use crate::live;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, delete, get, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::people::{Duty, has_duty};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// A live session.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SessionRow {
    pub id: Uuid,
    pub person: String,
    pub opened: Timestamp,
    pub opened_from: String,
    pub last_seen: Timestamp,
    pub expires: Timestamp,
    /// The one this answer was asked by.
    pub this_one: bool,
}

/// Live sessions: one's own, for the owner everybody's. Newest first.
#[utoipa::path(operation_id = "sessions_list", tag = "people", responses((status = 200, body = [SessionRow])))]
#[get("/sessions")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<SessionRow>> {
    let all = has_duty(person.role, Duty::House).is_ok();
    let rows = sqlx::query!(
        r#"select s.id, p.name, s.opened_from, s.created as "opened: jiff_sqlx::Timestamp",
             s.last_seen as "seen: jiff_sqlx::Timestamp", s.expires as "expires: jiff_sqlx::Timestamp"
           from session s join person p on p.id = s.person_id
           where s.revoked is null and s.expires > $1 and ($2 or s.person_id = $3) order by s.last_seen desc limit 200"#,
        state.clock.now().to_sqlx() as _,
        all,
        person.id,
    )
    .fetch_all(&state.db)
    .await?;
    let rows = rows.into_iter().map(|r| SessionRow {
        this_one: r.id == person.session,
        id: r.id,
        person: r.name,
        opened: r.opened.to_jiff(),
        opened_from: r.opened_from,
        last_seen: r.seen.to_jiff(),
        expires: r.expires.to_jiff(),
    });
    Ok(web::Json(rows.collect()))
}

/// Ends a session: one's own, for the owner anybody's.
#[utoipa::path(operation_id = "sessions_end", tag = "people", params(("id" = Uuid, Path)), responses((status = 204), (status = 404)))]
#[delete("/sessions/{id}")]
pub async fn end(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let all = has_duty(person.role, Duty::House).is_ok();
    let ended = sqlx::query!(
        "update session set revoked = $2 where id = $1 and revoked is null and ($3 or person_id = $4)",
        *id,
        state.clock.now().to_sqlx() as _,
        all,
        person.id,
    )
    .execute(&state.db)
    .await?;
    if ended.rows_affected() == 0 {
        return Err(Problem::NotFound("session"));
    }
    live::ended(&state.db, &[*id]).await?;
    Ok(HttpResponse::NoContent().finish())
}
