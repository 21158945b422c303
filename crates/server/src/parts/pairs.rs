//! Recoat times by pair of products: they stand before the sheet's own.

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, put, web};
use jiff_sqlx::ToSqlx;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{QuantityKind, Shown, resolve, show};
use level_keel_core::recoat::PairTimes;
use level_keel_core::refusal::Refusal;
use level_keel_core::wire::read;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

/// The times of a pair of products.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PairView {
    pub from: Uuid,
    pub from_name: String,
    pub to: Uuid,
    pub to_name: String,
    pub times: PairTimes,
    pub min: Option<Shown>,
    pub max: Option<Shown>,
    pub at: Shown,
}

/// A pair as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedPair {
    /// `recoat_min_s`, `recoat_max_s`, `recoat_at_c`, `prepare`; null takes the pair away.
    #[schema(value_type = Option<crate::openapi::PairTimesTyped>)]
    pub times: Value,
}

/// The times of one pair, where somebody stated them.
pub(super) async fn pair(tx: &mut PgConnection, from: Uuid, to: Uuid) -> Result<Option<PairTimes>, Problem> {
    let body = sqlx::query_scalar!("select body from pair_window where from_sheet = $1 and to_sheet = $2", from, to)
        .fetch_optional(tx)
        .await?;
    Ok(body.map(serde_json::from_value).transpose()?)
}

/// Recoat times by pair of products.
#[utoipa::path(operation_id = "pairs_list", tag = "parts", responses((status = 200, body = [PairView])))]
#[get("/pairs")]
pub async fn pairs(state: web::Data<State>, person: Person) -> Answer<Vec<PairView>> {
    let rows = sqlx::query!(
        r#"select w.from_sheet, w.to_sheet, w.body,
             (select v.name from sheet_version v where v.sheet_id = w.from_sheet order by edition desc limit 1) as "from_name!",
             (select v.name from sheet_version v where v.sheet_id = w.to_sheet order by edition desc limit 1) as "to_name!"
           from pair_window w order by 4, 5"#
    )
    .fetch_all(&state.db)
    .await?;
    let all = rows.into_iter().map(|r| {
        let times: PairTimes = serde_json::from_value(r.body)?;
        let say = |s: Option<f64>| s.map(|s| show(s, QuantityKind::Time, person.prefs));
        Ok(PairView {
            from: r.from_sheet,
            from_name: r.from_name,
            to: r.to_sheet,
            to_name: r.to_name,
            min: say(times.recoat_min_s),
            max: say(times.recoat_max_s),
            at: show(times.recoat_at_c, QuantityKind::Temperature, person.prefs),
            times,
        })
    });
    Ok(web::Json(all.collect::<Result<_, Problem>>()?))
}

/// Sets the times of a pair, or takes them away.
#[utoipa::path(operation_id = "pairs_set", tag = "parts", params(("from" = Uuid, Path), ("to" = Uuid, Path)), request_body = TypedPair, responses((status = 200, body = bool), (status = 403), (status = 422)))]
#[put("/pairs/{from}/{to}")]
pub async fn set_pair(
    state: web::Data<State>,
    person: Person,
    path: web::Path<(Uuid, Uuid)>,
    body: web::Json<TypedPair>,
) -> Answer<bool> {
    has_duty(person.role, Duty::Sheets)?;
    let (from, to) = path.into_inner();
    let mut times = body.into_inner().times;
    if times.is_null() {
        sqlx::query!("delete from pair_window where from_sheet = $1 and to_sheet = $2", from, to).execute(&state.db).await?;
        return Ok(web::Json(false));
    }
    resolve(&mut times, person.prefs)?;
    let times = read::<PairTimes>(times)?.validate(person.prefs)?;
    let known =
        sqlx::query_scalar!("select count(*) from sheet where id = any($1)", &[from, to][..]).fetch_one(&state.db).await?;
    if known != Some(if from == to { 1 } else { 2 }) {
        return Err(Refusal::bad_input("unknown-sheet", "sheet", "There is no such sheet.").into());
    }
    sqlx::query!(
        "insert into pair_window (from_sheet, to_sheet, body, written_by, written) values ($1, $2, $3, $4, $5)
         on conflict (from_sheet, to_sheet) do update set body = $3, written_by = $4, written = $5",
        from,
        to,
        serde_json::to_value(&times)?,
        person.id,
        state.clock.now().to_sqlx() as _,
    )
    .execute(&state.db)
    .await?;
    Ok(web::Json(true))
}
