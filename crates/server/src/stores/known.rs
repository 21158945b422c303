//! What the stores know of a lot when a batch takes it, and while it works with it.

use super::{column, component};
use crate::parts::ensure_lot;
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::Record;
use level_keel_core::mixing::Component;
use level_keel_core::sheets::ChargeKind;
use level_keel_core::stores::fifo::{Waiting, first};
use level_keel_core::stores::{LotKnown, good_until};
use level_keel_core::worded::Worded;
use sqlx::PgConnection;
use std::collections::HashMap;
use uuid::Uuid;

/// Candidates for first in that are read; the order of the table is that of core, which decides.
const CANDIDATES: i64 = 20;

/// The lot of a code for a batch, made a row when it is new, with what is known of it.
pub async fn known(
    tx: &mut PgConnection,
    state: &State,
    (batch, record): (Uuid, &Record),
    of: Component,
    code: &str,
    now: Timestamp,
) -> Result<(Uuid, LotKnown), Problem> {
    let Some(aim) = record.aim() else { return Err(Problem::NotFound("batch")) };
    let sheet =
        sqlx::query_scalar!("select sheet_id from sheet_version where id = $1", aim.sheet_version).fetch_one(&mut *tx).await?;
    let wanted = column(of);
    let others = sqlx::query!(
        r#"select l.sheet_id, l.component, (select v.name from sheet_version v where v.sheet_id = l.sheet_id order by edition desc limit 1) as "product!"
           from lot l where lower(l.code) = lower($1) and l.received is not null"#,
        code
    )
    .fetch_all(&mut *tx)
    .await?;
    let ours = others.iter().any(|o| o.sheet_id == sheet && o.component == wanted);
    let id = ensure_lot(tx, sheet, &wanted, code, now).await?;
    let mut known = read(tx, state, &[id]).await?.remove(&id).unwrap_or_default();
    if let Some(other) = others.first().filter(|_| !ours) {
        let word = component(&other.component)?.word();
        known.belongs_to = Some(format!("{word} of {}", other.product));
    }
    known.first = first_in(tx, sheet, of, state.shop_day()).await?.filter(|f| f.to_lowercase() != code.to_lowercase());
    known.on_part = other_on_part(tx, (batch, record), (sheet, id, of)).await?;
    Ok((id, known))
}

/// The code of the lot that is first in.
pub async fn first_in(tx: &mut PgConnection, sheet: Uuid, of: Component, today: Date) -> Result<Option<String>, Problem> {
    let rows = sqlx::query!(
        r#"select code, received as "received!: jiff_sqlx::Date", expires as "expires: jiff_sqlx::Date", quarantined, damaged, left_g
           from lot where sheet_id = $1 and component = $2 and received is not null and left_g > 0
             and quarantined is null and damaged is null and (expires is null or expires >= $3)
           order by received, expires, code limit $4"#,
        sheet,
        column(of),
        today.to_sqlx() as _,
        CANDIDATES,
    )
    .fetch_all(tx)
    .await?;
    let waiting: Vec<Waiting> = rows
        .into_iter()
        .map(|r| Waiting {
            code: r.code,
            received: r.received.to_jiff(),
            expires: r.expires.map(|d| d.to_jiff()),
            quarantined: r.quarantined.is_some(),
            damaged: r.damaged.is_some(),
            left_g: r.left_g.unwrap_or(0.0),
        })
        .collect();
    Ok(first(&waiting, today).map(|l| l.code.clone()))
}

/// Another lot of the same component already on this part's coat: in this batch, or in another of the same coat.
async fn other_on_part(
    tx: &mut PgConnection,
    (batch, record): (Uuid, &Record),
    (sheet, lot, of): (Uuid, Uuid, Component),
) -> Result<Option<String>, Problem> {
    if !matches!(of, Component::Base | Component::Hardener) {
        return Ok(None);
    }
    let poured =
        record.charges.iter().flat_map(|c| &c.pours).filter(|p| p.it.weighed.component == of).filter_map(|p| p.it.lot.as_ref());
    let mut own: Vec<(Uuid, String)> = poured.map(|l| (l.id, l.code.clone())).collect();
    let at_gun = record.aim().is_some_and(|b| b.sheet.charge == ChargeKind::AtGun);
    if at_gun && let Some(last) = record.passes.iter().map(|p| p.at).max() {
        own.extend(record.lots_at(last).into_iter().filter(|l| l.component == of).map(|l| (l.lot.id, l.lot.code.clone())));
    }
    if let Some((_, code)) = own.into_iter().find(|(id, _)| *id != lot) {
        return Ok(Some(code));
    }
    let Some(aim) = record.aim() else { return Ok(None) };
    Ok(sqlx::query_scalar!(
        "select l.code from lot_pour u join batch b on b.id = u.batch_id join lot l on l.id = u.lot_id
         where b.part_id = $1 and b.coat_id = $2 and b.id <> $3 and l.sheet_id = $4 and l.component = $5 and l.id <> $6
         order by u.at desc limit 1",
        aim.part,
        aim.coat,
        batch,
        sheet,
        column(of),
        lot,
    )
    .fetch_optional(tx)
    .await?)
}

async fn read(tx: &mut PgConnection, state: &State, lots: &[Uuid]) -> Result<HashMap<Uuid, LotKnown>, Problem> {
    let rows = sqlx::query!(
        r#"select id, received is not null as "received!", colour, expires as "expires: jiff_sqlx::Date", quarantined, damaged, certified, left_g
           from lot where id = any($1)"#,
        lots
    )
    .fetch_all(tx)
    .await?;
    let zone = state.shop.zone();
    Ok(rows
        .into_iter()
        .map(|r| {
            let known = LotKnown {
                received: r.received,
                colour: r.colour,
                expires_at: r.expires.and_then(|d| good_until(d.to_jiff(), &zone)),
                quarantined: r.quarantined,
                damaged: r.damaged,
                certified: r.certified,
                left_g: r.left_g,
                ..LotKnown::default()
            };
            (r.id, known)
        })
        .collect())
}
