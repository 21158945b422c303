//! What the form of a new batch begins with: the planned coats that come next, and what is known of the one that is named.

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::sheets::newest;
use crate::state::State;
use actix_web::{get, web};
use level_keel_core::batch::entries::Begin;
use level_keel_core::batch::proposal::{Filled, Known, proposal};
use level_keel_core::book::without_typed;
use level_keel_core::coat_system::CoatPlan;
use level_keel_core::refusal::Refusal;
use level_keel_core::scan::{ThingKind, scanned_into};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use std::collections::BTreeMap;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// What is named so far.
#[derive(Debug, Default, Deserialize, IntoParams)]
pub struct Named {
    /// The part, by its name.
    #[serde(default)]
    part: String,
    /// Its coat, by its name.
    #[serde(default)]
    coat: String,
    /// The sheet that was chosen; missing: that of the plan.
    #[serde(default)]
    sheet: Option<Uuid>,
}

/// A coat that is planned and comes next on its part.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ComesNext {
    pub part: String,
    pub coat: String,
    pub product: String,
}

/// What the form of a new batch begins with.
#[derive(Debug, Serialize, ToSchema)]
pub struct Proposed {
    /// The fields that can be filled, by name, each with where it comes from.
    pub fields: BTreeMap<String, Filled>,
    /// Planned coats that come next, newest part first, at most eight.
    pub next: Vec<ComesNext>,
    /// Name of the part whose label was scanned where its name is typed.
    pub part: Option<String>,
}

/// What is known of a batch before it is begun.
#[utoipa::path(operation_id = "batches_proposed", tag = "batch", params(Named), responses((status = 200, body = Proposed), (status = 422)))]
#[get("/batches/proposed")]
pub async fn proposed(state: web::Data<State>, person: Person, named: web::Query<Named>) -> Answer<Proposed> {
    let mut db = state.db.acquire().await?;
    let mut named = named.into_inner();
    let part_scanned = match scanned_into("part", &named.part, ThingKind::Part)? {
        None => None,
        Some(id) => Some(name_on_label(&mut db, id).await?),
    };
    if let Some(name) = &part_scanned {
        named.part.clone_from(name);
    }
    let plan = planned(&mut db, &named).await?;
    let named_sheet = named.sheet.or_else(|| plan.as_ref()?.sheet);
    let only_sheet = if named_sheet.is_none() { only_sheet(&mut db).await? } else { None };
    let sheet = match named_sheet.or(only_sheet) {
        Some(id) => Some((id, newest(&mut db, id).await?.2)),
        None => None,
    };
    let [part, coat, product] = begun(&mut db, &named, sheet.as_ref().map(|s| s.0)).await?;
    let known = Known {
        plan: plan.as_ref(),
        sheet: sheet.as_ref().map(|(id, sheet)| (*id, sheet)),
        only_sheet,
        part_before: part.as_ref(),
        coat_before: coat.as_ref(),
        product_before: product.as_ref(),
    };
    let fields = proposal(&known, person.prefs);
    Ok(web::Json(Proposed { fields, next: come_next(&mut db).await?, part: part_scanned }))
}

async fn name_on_label(db: &mut PgConnection, part: Uuid) -> Result<String, Problem> {
    let name = sqlx::query_scalar!("select name from part where id = $1", part).fetch_optional(db).await?;
    Ok(name.ok_or_else(|| Refusal::bad_input("unknown-part", "part", "This label names no part that is kept here."))?)
}

/// The sheet of a shop that has one.
async fn only_sheet(db: &mut PgConnection) -> Result<Option<Uuid>, Problem> {
    let ids = sqlx::query_scalar!("select id from sheet limit 2").fetch_all(db).await?;
    Ok(ids.first().copied().filter(|_| ids.len() == 1))
}

async fn planned(db: &mut PgConnection, named: &Named) -> Result<Option<CoatPlan>, Problem> {
    let row = sqlx::query!(
        "select c.id, c.name, c.sheet_id, c.method, c.film_um, c.film_is, c.prepare from coat c join part p on p.id = c.part_id
         where lower(p.name) = lower($1) and lower(c.name) = lower($2) and not c.retired",
        named.part.trim(),
        named.coat.trim()
    )
    .fetch_optional(db)
    .await?;
    let word = |text: Option<String>| text.map_or(Value::Null, Value::String);
    row.map(|r| {
        Ok(CoatPlan {
            id: Some(r.id),
            name: r.name,
            sheet: r.sheet_id,
            method: serde_json::from_value(word(r.method))?,
            film_um: r.film_um,
            film_is: serde_json::from_value(word(r.film_is))?,
            prepare: r.prepare,
        })
    })
    .transpose()
}

/// The newest batch of the part, of its coat, and of the product; of the product among the last five hundred.
async fn begun(db: &mut PgConnection, named: &Named, sheet: Option<Uuid>) -> Result<[Option<Begin>; 3], Problem> {
    let row = sqlx::query!(
        r#"with first as (select book_id, payload from entry where seq = 1)
           select
             (select f.payload from batch b join part p on p.id = b.part_id join first f on f.book_id = b.id
                where lower(p.name) = lower($1) order by b.number desc limit 1) as part,
             (select f.payload from batch b join coat c on c.id = b.coat_id join part p on p.id = c.part_id join first f on f.book_id = b.id
                where lower(p.name) = lower($1) and lower(c.name) = lower($2) order by b.number desc limit 1) as coat,
             (select f.payload from (select id, number, sheet_version_id from batch order by number desc limit 500) b
                join sheet_version v on v.id = b.sheet_version_id join first f on f.book_id = b.id
                where v.sheet_id = $3 order by b.number desc limit 1) as product"#,
        named.part.trim(),
        named.coat.trim(),
        sheet
    )
    .fetch_one(db)
    .await?;
    let read = |text: Option<String>| -> Result<Option<Begin>, Problem> {
        let Some(text) = text else { return Ok(None) };
        let payload: Value = serde_json::from_str(&text)?;
        Ok(Some(serde_json::from_value(without_typed(&payload).unwrap_or(payload))?))
    };
    Ok([read(row.part)?, read(row.coat)?, read(row.product)?])
}

async fn come_next(db: &mut PgConnection) -> Result<Vec<ComesNext>, Problem> {
    let rows = sqlx::query!(
        r#"select p.name as part, c.name as coat,
             (select v.name from sheet_version v where v.sheet_id = c.sheet_id order by v.edition desc limit 1) as "product!"
           from (select id, name, created from part order by created desc limit 200) p
           join lateral (select c.name, c.sheet_id from coat c
             where c.part_id = p.id and not c.retired and not exists (select 1 from batch b where b.coat_id = c.id)
             order by c.place limit 1) c on true
           where c.sheet_id is not null and not exists (select 1 from batch b where b.part_id = p.id and b.state = 'open')
           order by p.created desc limit 8"#
    )
    .fetch_all(db)
    .await?;
    Ok(rows.into_iter().map(|r| ComesNext { part: r.part, coat: r.coat, product: r.product }).collect())
}
