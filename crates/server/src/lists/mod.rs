//! The Ready lists: one document a lead edits, every edit a new edition. A batch pins the items it was begun with.

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, put, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::lists::ReadyLists;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{Shown, resolve, understood};
use level_keel_core::refusal::Refusal;
use level_keel_core::wire::read;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// The lists with their edition.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ListsView {
    /// 0: as a shop begins with.
    pub edition: i32,
    pub written: Option<Timestamp>,
    pub written_by: Option<String>,
    pub lists: ReadyLists,
    /// Every quantity in the reader's units, by path.
    pub shown: BTreeMap<String, Shown>,
    /// This reader may edit them.
    pub may_edit: bool,
}

/// The lists as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedLists {
    /// The edition the editor saw.
    pub seen_edition: i32,
    /// The document; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::ReadyListsTyped)]
    pub lists: Value,
}

/// The newest edition, or the lists a shop begins with.
pub async fn newest(tx: &mut PgConnection) -> Result<(i32, ReadyLists), Problem> {
    let row = sqlx::query!("select edition, body from ready_lists order by edition desc limit 1").fetch_optional(tx).await?;
    match row {
        Some(row) => Ok((row.edition, serde_json::from_value(row.body)?)),
        None => Ok((0, ReadyLists::usual())),
    }
}

/// The lists now.
#[utoipa::path(operation_id = "lists_read", tag = "lists", responses((status = 200, body = ListsView)))]
#[get("/lists")]
pub async fn now(state: web::Data<State>, person: Person) -> Answer<ListsView> {
    let mut db = state.db.acquire().await?;
    let (edition, lists) = newest(&mut db).await?;
    let row = sqlx::query!(
        r#"select l.written as "written: jiff_sqlx::Timestamp", p.name as "name?" from ready_lists l left join person p on p.id = l.written_by where l.edition = $1"#,
        edition
    )
    .fetch_optional(&mut *db)
    .await?;
    let shown = understood(&serde_json::to_value(&lists)?, person.prefs);
    let may_edit = has_duty(person.role, Duty::Sheets).is_ok();
    let (written, written_by) = row.map_or((None, None), |r| (Some(r.written.to_jiff()), r.name));
    Ok(web::Json(ListsView { edition, written, written_by, lists, shown, may_edit }))
}

/// Edits the lists: a new edition. Batches begun keep the items they pinned.
#[utoipa::path(operation_id = "lists_edit", tag = "lists", request_body = TypedLists, responses((status = 200, body = i32), (status = 403), (status = 409), (status = 422)))]
#[put("/lists")]
pub async fn edit(state: web::Data<State>, person: Person, body: web::Json<TypedLists>) -> Answer<i32> {
    has_duty(person.role, Duty::Sheets)?;
    let TypedLists { seen_edition, mut lists } = body.into_inner();
    resolve(&mut lists, person.prefs)?;
    let lists = read::<ReadyLists>(lists)?.validate(person.prefs)?;
    let mut tx = state.db.begin().await?;
    sqlx::query!("lock table ready_lists in exclusive mode").execute(&mut *tx).await?;
    let (edition, _) = newest(&mut tx).await?;
    if edition != seen_edition {
        return Err(Refusal::conflict("seen-older", "Someone edited the lists since you opened them. Open them again.").into());
    }
    sqlx::query!(
        "insert into ready_lists (edition, body, written_by, written) values ($1, $2, $3, $4)",
        edition + 1,
        serde_json::to_value(&lists)?,
        person.id,
        state.clock.now().to_sqlx() as _,
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(web::Json(edition + 1))
}
