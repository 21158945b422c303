//! Instruments: scales and combs, each with its own resolution or teeth.

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, web};
use level_keel_core::quantity::{Kind, Shown, show};
use level_keel_core::refusal::Refusal;
use serde::Serialize;
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
    let shown = |kind: &str, r: f64| show(r, if kind == "scale" { Kind::Mass } else { Kind::Film }, person.prefs);
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

/// 1 to 30 mil in the steps combs are usually cut; common practice in the trade.
pub fn usual_comb_um() -> Vec<f64> {
    const MIL: f64 = 25.4;
    [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30].map(|t| f64::from(t) * MIL).to_vec()
}

/// Resolution of a scale by its id.
pub async fn scale_g(db: impl PgExecutor<'_>, id: Uuid) -> Result<f64, Problem> {
    let row = sqlx::query!("select resolution from instrument where id = $1 and kind = 'scale'", id).fetch_optional(db).await?;
    row.map(|r| r.resolution).ok_or_else(|| Refusal::bad_input("unknown-scale", "instrument", "There is no such scale.").into())
}
