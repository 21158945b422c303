//! Instruments: scales and combs, each with its own resolution or teeth.

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, put, web};
use level_keel_core::batch::view::Viewer;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{Prefs, QuantityKind, Shown, resolve, show};
use level_keel_core::refusal::Refusal;
use level_keel_core::weighing::ScaleKept;
use level_keel_core::wire::read;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgExecutor;
use utoipa::ToSchema;
use uuid::Uuid;

/// An instrument of the shop.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Instrument {
    pub id: Uuid,
    pub kind: String,
    pub name: String,
    /// In the base unit of its kind: grams, micrometres.
    pub resolution: f64,
    pub shown: Shown,
}

/// The instruments of the shop.
#[utoipa::path(operation_id = "instruments_list", tag = "instruments", responses((status = 200, body = [Instrument])))]
#[get("/instruments")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<Instrument>> {
    let rows = sqlx::query!("select id, kind, name, resolution from instrument order by kind, resolution, name")
        .fetch_all(&state.db)
        .await?;
    let shown = |kind: &str, r: f64| show(r, if kind == "scale" { QuantityKind::Mass } else { QuantityKind::Film }, person.prefs);
    let all = rows.into_iter().map(|r| Instrument {
        shown: shown(&r.kind, r.resolution),
        id: r.id,
        kind: r.kind,
        name: r.name,
        resolution: r.resolution,
    });
    Ok(web::Json(all.collect()))
}

/// Teeth of the shop's comb, the finest when there are several; a common comb when there is none.
pub async fn comb_um(db: impl PgExecutor<'_>) -> Result<Vec<f64>, Problem> {
    let row = sqlx::query!("select teeth_um from instrument where kind = 'comb' order by resolution limit 1")
        .fetch_optional(db)
        .await?;
    Ok(row.map_or_else(usual_comb_um, |r| r.teeth_um))
}

/// What a person has at hand, for what is shown to them: the teeth of the comb, the digits of the finest scale.
pub async fn at_hand(db: impl PgExecutor<'_>, person: &Person) -> Result<Viewer, Problem> {
    let row = sqlx::query!(
        "select (select teeth_um from instrument where kind = 'comb' order by resolution limit 1) as comb_um,
           (select min(resolution) from instrument where kind = 'scale') as scale_g"
    )
    .fetch_one(db)
    .await?;
    Ok(viewer(person, row.comb_um, row.scale_g))
}

/// The same of what was read with something else; what a shop has not put down is the usual.
pub fn viewer(person: &Person, comb_um: Option<Vec<f64>>, scale_g: Option<f64>) -> Viewer {
    Viewer { writer: person.writer(), comb_um: comb_um.unwrap_or_else(usual_comb_um), scale_g: scale_g.unwrap_or(USUAL_SCALE_G) }
}

/// Resolution of a usual bench scale; from memory.
const USUAL_SCALE_G: f64 = 1.0;

/// 1 to 30 mil in the steps combs are usually cut; common practice in the trade.
fn usual_comb_um() -> Vec<f64> {
    const MIL: f64 = 25.4;
    [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30].map(|t| f64::from(t) * MIL).to_vec()
}

/// Resolution of a scale by its id.
pub async fn scale_g(db: impl PgExecutor<'_>, id: Uuid) -> Result<f64, Problem> {
    let row = sqlx::query!("select resolution from instrument where id = $1 and kind = 'scale'", id).fetch_optional(db).await?;
    row.map(|r| r.resolution).ok_or_else(|| Refusal::bad_input("unknown-scale", "instrument", "There is no such scale.").into())
}

/// A scale as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedScale {
    /// Made by the browser, for a new one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// `name`, `resolution_g`; the resolution as a number or a text.
    #[schema(value_type = crate::openapi::ScaleKeptTyped)]
    pub scale: Value,
}

fn parse(mut value: Value, prefs: Prefs) -> Result<ScaleKept, Problem> {
    if let Value::Object(map) = &mut value {
        map.retain(|_, v| v.as_str().is_none_or(|t| !t.trim().is_empty()));
    }
    resolve(&mut value, prefs)?;
    Ok(read::<ScaleKept>(value)?.validate(prefs)?)
}

/// Keeps a scale: a new one, or another name or resolution for one that is here. What was weighed keeps the resolution it
/// was read with.
#[utoipa::path(operation_id = "scales_keep", tag = "instruments", request_body = TypedScale, responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[put("/instruments/scales")]
pub async fn keep_scale(state: web::Data<State>, person: Person, body: web::Json<TypedScale>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let TypedScale { id, scale } = body.into_inner();
    let wanted = parse(scale, person.prefs)?;
    let id = id.unwrap_or_else(Uuid::now_v7);
    if state.scales.all().iter().any(|s| s.instrument == id) {
        let text = "This one speaks: its name and resolution stand in the server's settings.";
        return Err(Refusal::conflict("set-elsewhere", text).into());
    }
    let mut tx = state.db.begin().await?;
    let other = sqlx::query_scalar!(
        "select id from instrument where kind = 'scale' and lower(name) = lower($1) and id <> $2",
        wanted.name,
        id
    )
    .fetch_optional(&mut *tx)
    .await?;
    if other.is_some() {
        return Err(Refusal::bad_input("taken", "name", "There is a scale of this name.").into());
    }
    sqlx::query!(
        "insert into instrument (id, kind, name, resolution) values ($1, 'scale', $2, $3)
         on conflict (id) do update set name = $2, resolution = $3 where instrument.kind = 'scale'",
        id,
        wanted.name,
        wanted.resolution_g
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(web::Json(id))
}
