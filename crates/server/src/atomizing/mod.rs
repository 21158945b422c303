//! Tips over the wire: their codes read, and the shop's own table of codes that follow another rule.

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, delete, get, put, web};
use level_keel_core::atomizing::tips::{Tip, TipRow, decode};
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{Prefs, QuantityKind, Shown, resolve, show};
use level_keel_core::wire::read;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgExecutor;
use utoipa::ToSchema;

/// What a tip's code says.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TipView {
    pub code: String,
    pub angle: Shown,
    pub nominal_fan: Shown,
    pub geometric_fan: Shown,
    pub hole: Shown,
    /// A row of the shop's table says so, and not the common rule.
    pub by_table: bool,
}

/// A row of the table as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedTip {
    /// `code`, `angle_deg`, `hole_mm`; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::TipRowTyped)]
    pub tip: Value,
}

fn view(code: &str, tip: Tip, by_table: bool, prefs: Prefs) -> TipView {
    let say = |v, k| show(v, k, prefs);
    TipView {
        code: code.into(),
        angle: say(tip.angle_deg, QuantityKind::Angle),
        nominal_fan: say(tip.nominal_fan_mm, QuantityKind::Length),
        geometric_fan: say(tip.geometric_fan_mm, QuantityKind::Length),
        hole: say(tip.hole_mm, QuantityKind::Length),
        by_table,
    }
}

/// The shop's own table.
pub async fn table(db: impl PgExecutor<'_>) -> Result<Vec<TipRow>, Problem> {
    let rows = sqlx::query!("select code, angle_deg, hole_mm from tip_row order by code").fetch_all(db).await?;
    Ok(rows.into_iter().map(|r| TipRow { code: r.code, angle_deg: r.angle_deg, hole_mm: r.hole_mm }).collect())
}

/// A tip's code, read: by the shop's table, else by the common rule.
#[utoipa::path(operation_id = "tips_decode", tag = "atomizing", params(("code" = String, Path)), responses((status = 200, body = TipView), (status = 422)))]
#[get("/compute/tips/{code}")]
pub async fn decoded(state: web::Data<State>, person: Person, code: web::Path<String>) -> Answer<TipView> {
    let rows = table(&state.db).await?;
    let tip = decode(&code, &rows)?;
    Ok(web::Json(view(code.trim(), tip, rows.iter().any(|r| r.is(&code)), person.prefs)))
}

/// The shop's table of codes that follow another rule.
#[utoipa::path(operation_id = "tips_list", tag = "atomizing", responses((status = 200, body = [TipView])))]
#[get("/tips")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<TipView>> {
    let rows = table(&state.db).await?;
    Ok(web::Json(rows.iter().map(|r| view(&r.code, r.tip(), true, person.prefs)).collect()))
}

/// Keeps a row of the table; a code that stands there is changed.
#[utoipa::path(operation_id = "tips_keep", tag = "atomizing", request_body = TypedTip, responses((status = 200, body = TipView), (status = 403), (status = 422)))]
#[put("/tips")]
pub async fn keep(state: web::Data<State>, person: Person, body: web::Json<TypedTip>) -> Answer<TipView> {
    has_duty(person.role, Duty::Sheets)?;
    let mut tip = body.into_inner().tip;
    resolve(&mut tip, person.prefs)?;
    let row = read::<TipRow>(tip)?.validate(person.prefs)?;
    sqlx::query!(
        "insert into tip_row (code, angle_deg, hole_mm) values ($1, $2, $3) on conflict (code) do update set angle_deg = $2, hole_mm = $3",
        row.code,
        row.angle_deg,
        row.hole_mm
    )
    .execute(&state.db)
    .await?;
    Ok(web::Json(view(&row.code, row.tip(), true, person.prefs)))
}

/// Takes a row off the table; rigs keep the code they have.
#[utoipa::path(operation_id = "tips_drop", tag = "atomizing", params(("code" = String, Path)), responses((status = 204), (status = 403), (status = 404)))]
#[delete("/tips/{code}")]
pub async fn drop_row(state: web::Data<State>, person: Person, code: web::Path<String>) -> Result<HttpResponse, Problem> {
    has_duty(person.role, Duty::Sheets)?;
    let gone = sqlx::query!("delete from tip_row where code = $1", code.trim().to_uppercase()).execute(&state.db).await?;
    if gone.rows_affected() == 0 {
        return Err(Problem::NotFound("code"));
    }
    Ok(HttpResponse::NoContent().finish())
}
