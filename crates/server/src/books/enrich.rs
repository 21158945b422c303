//! What the server adds to an entry before core sees it: pot numbers, lots, the resolution of a scale.

use super::Writing;
use crate::instruments::scale_g;
use crate::parts::ensure_lot;
use crate::problem::Problem;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::{Kind, Record};
use level_keel_core::limits::check_text;
use level_keel_core::refusal::Refusal;
use serde_json::{Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

/// Longest lot code.
const LOT_CHARS: usize = 40;
/// Keys of the advisory locks that make numbers run without gaps.
pub(super) const BATCH_NUMBERS: i64 = 0x4b45_4c01;
const POT_NUMBERS: i64 = 0x4b45_4c02;

/// Adds to `payload` in place.
pub async fn enrich(
    w: &Writing<'_>,
    tx: &mut PgConnection,
    record: &Record,
    kind: Kind,
    payload: &mut Value,
) -> Result<(), Problem> {
    let Value::Object(map) = payload else {
        return Err(Refusal::bad_input("not-understood", "payload", "This is not an entry.").into());
    };
    if matches!(kind, Kind::Pour | Kind::Catch) {
        let scale = map.get("instrument").and_then(Value::as_str).map(Uuid::parse_str);
        if let Some(id) = scale {
            let id = id.map_err(|_| Refusal::bad_input("unknown-scale", "instrument", "There is no such scale."))?;
            map.insert("resolution_g".into(), json!(scale_g(&mut *tx, id).await?));
        }
    }
    if kind == Kind::Pour
        && let (Some(code), Some(aim)) = (map.get("lot").and_then(Value::as_str), record.aim())
    {
        let code = code.trim().to_string();
        if code.is_empty() {
            map.insert("lot".into(), Value::Null);
        } else {
            let code = check_text("lot", &code, LOT_CHARS)?;
            let component = map.get("component").and_then(Value::as_str).unwrap_or_default().to_string();
            let sheet = sqlx::query_scalar!("select sheet_id from sheet_version where id = $1", aim.sheet_version)
                .fetch_one(&mut *tx)
                .await?;
            let id = ensure_lot(tx, sheet, &component, &code, w.now).await?;
            map.insert("lot".into(), json!({ "id": id, "code": code }));
        }
    }
    if kind == Kind::OpenCharge
        && let Some(id) = map.get("charge").and_then(Value::as_str).and_then(|t| Uuid::parse_str(t).ok())
    {
        map.insert("no".into(), json!(pot_number(w, tx, id).await?));
    }
    Ok(())
}

/// The next pot number of the shop day.
async fn pot_number(w: &Writing<'_>, tx: &mut PgConnection, charge: Uuid) -> Result<i32, Problem> {
    let zone = jiff::tz::TimeZone::get(&w.state.settings.zone).unwrap_or(jiff::tz::TimeZone::UTC);
    let day = w.now.to_zoned(zone).date();
    sqlx::query!("select pg_advisory_xact_lock($1)", POT_NUMBERS).execute(&mut *tx).await?;
    let taken = sqlx::query_scalar!("select no from pot_number where charge_id = $1", charge).fetch_optional(&mut *tx).await?;
    if let Some(no) = taken {
        return Ok(no);
    }
    Ok(sqlx::query_scalar!(
        "insert into pot_number (day, no, charge_id)
         select $1, coalesce(max(no), 0) + 1, $2 from pot_number where day = $1 returning no",
        day.to_sqlx() as _,
        charge,
    )
    .fetch_one(tx)
    .await?)
}
