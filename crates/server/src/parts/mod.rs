//! Parts, zones, coats and lots: names typed by people become rows at once.

mod beside;
pub mod pairs;
pub mod story;
pub mod system;
pub mod weather;

pub use beside::{Opened, beside};

use crate::auth::Person;
use crate::export::Table;
use crate::patterns::anywhere;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::entries::Zone;
use level_keel_core::sheets::propose_label;
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// A part by name.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Part {
    pub id: Uuid,
    pub name: String,
    pub label: String,
    /// Its zones.
    pub zones: Vec<String>,
    /// Its coats, in order.
    pub coats: Vec<String>,
}

/// Parts of one page.
const PAGE: i64 = 100;
/// Most rows of an export.
const EXPORT: i64 = 200_000;

/// Which parts are wanted.
#[derive(Debug, Default, Deserialize, IntoParams)]
#[serde(default, deny_unknown_fields)]
pub struct FindParts {
    /// In the name or the label.
    find: String,
    /// The id of the last part of the page before.
    after: Option<Uuid>,
}

/// Parts, newest first, a hundred at a time.
#[utoipa::path(operation_id = "parts_list", tag = "parts", params(FindParts), responses((status = 200, body = [Part])))]
#[get("/parts")]
pub async fn list(state: web::Data<State>, _person: Person, find: web::Query<FindParts>) -> Answer<Vec<Part>> {
    Ok(web::Json(found(&state, &find, PAGE).await?))
}

/// The same list whole, as a table.
#[utoipa::path(operation_id = "parts_csv", tag = "parts", params(FindParts), responses((status = 200, content_type = "text/csv")))]
#[get("/parts.csv")]
pub async fn csv(state: web::Data<State>, _person: Person, find: web::Query<FindParts>) -> Result<HttpResponse, Problem> {
    let mut table = Table::new(&["part", "label", "coats", "zones", "id"])?;
    for p in found(&state, &find, EXPORT).await? {
        table.row([p.name, p.label, p.coats.join("; "), p.zones.join("; "), p.id.to_string()])?;
    }
    table.download(&format!("level-keel-parts-{}.csv", state.shop_day()))
}

async fn found(state: &State, find: &FindParts, most: i64) -> Result<Vec<Part>, Problem> {
    let word = Some(find.find.as_str()).filter(|w| !w.trim().is_empty()).map(anywhere);
    let rows = sqlx::query!(
        r#"select p.id, p.name, p.label,
             coalesce((select array_agg(z.name order by z.place, z.id) from zone z where z.part_id = p.id), '{}') as "zones!",
             coalesce((select array_agg(c.name order by c.place) from coat c where c.part_id = p.id and not c.retired), '{}') as "coats!"
           from part p
           where ($1::text is null or p.name ilike $1 or p.label ilike $1)
             and ($2::uuid is null or (p.created, p.id) < (select a.created, a.id from part a where a.id = $2))
           order by p.created desc, p.id desc limit $3"#,
        word,
        find.after,
        most,
    )
    .fetch_all(&state.db)
    .await?;
    let parts = rows.into_iter().map(|r| Part { id: r.id, name: r.name, label: r.label, zones: r.zones, coats: r.coats });
    Ok(parts.collect())
}

/// The part, coat and zones of these names, made when they are new.
pub struct Named {
    /// Part.
    pub part: Uuid,
    /// Its short label.
    pub label: String,
    /// Coat.
    pub coat: Uuid,
    /// Zones in the order asked.
    pub zones: Vec<Zone>,
}

/// Finds or makes the rows for typed names, zones with their area and whether it is assumed, inside the caller's transaction.
pub async fn ensure(
    tx: &mut PgConnection,
    part: &str,
    coat: &str,
    zones: &[(&str, f64, bool)],
    now: Timestamp,
) -> Result<Named, Problem> {
    let (part, coat) = (part.trim(), coat.trim());
    let row = sqlx::query!(
        "insert into part (id, name, label, created) values ($1, $2, $3, $4)
         on conflict (lower(name)) do update set name = part.name returning id, label",
        Uuid::now_v7(),
        part,
        propose_label(part),
        now.to_sqlx() as _,
    )
    .fetch_one(&mut *tx)
    .await?;
    let coat = sqlx::query_scalar!(
        "insert into coat (id, part_id, name, place)
         values ($1, $2, $3, (select count(*)::int + 1 from coat where part_id = $2))
         on conflict (part_id, lower(name)) do update set name = coat.name returning id",
        Uuid::now_v7(),
        row.id,
        coat,
    )
    .fetch_one(&mut *tx)
    .await?;
    let mut found = Vec::new();
    for (place, (name, area_m2, area_assumed)) in (1..).zip(zones) {
        // What somebody measured is not given up for a share of the whole.
        let zone = sqlx::query!(
            "insert into zone (id, part_id, name, place, area_m2, area_assumed) values ($1, $2, $3, $4, $5, $6)
             on conflict (part_id, lower(name)) do update set place = $4,
               area_m2 = case when $6 and not zone.area_assumed then zone.area_m2 else $5 end,
               area_assumed = zone.area_assumed and $6
             returning id, name",
            Uuid::now_v7(),
            row.id,
            name,
            place,
            area_m2,
            area_assumed,
        )
        .fetch_one(&mut *tx)
        .await?;
        found.push(Zone {
            id: zone.id,
            name: zone.name,
            area_m2: *area_m2,
            area_assumed: *area_assumed,
            place: u32::try_from(place).unwrap_or(u32::MAX),
            shape: None,
        });
    }
    Ok(Named { part: row.id, label: row.label, coat, zones: found })
}

/// The lot of this code for a component of a product, made when it is new.
pub async fn ensure_lot(
    tx: &mut PgConnection,
    sheet: Uuid,
    component: &str,
    code: &str,
    now: Timestamp,
) -> Result<Uuid, Problem> {
    // A lot that is there is only read: writing it to learn its id would lock it, and two who pour from the same two lots
    // would wait for each other.
    let known = sqlx::query_scalar!(
        "select id from lot where sheet_id = $1 and component = $2 and lower(code) = lower($3)",
        sheet,
        component,
        code
    )
    .fetch_optional(&mut *tx)
    .await?;
    if let Some(id) = known {
        return Ok(id);
    }
    Ok(sqlx::query_scalar!(
        "insert into lot (id, code, sheet_id, component, created) values ($1, $2, $3, $4, $5)
         on conflict (sheet_id, component, lower(code)) do update set code = lot.code returning id",
        Uuid::now_v7(),
        code,
        sheet,
        component,
        now.to_sqlx() as _,
    )
    .fetch_one(tx)
    .await?)
}
