//! What is left of a lot: its own book less what batches took. Kept in the row, so that lists need no sums.

use crate::problem::Problem;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::lot_uses::LotUse;
use level_keel_core::stores::lot::left_g;
use sqlx::PgConnection;
use std::collections::BTreeSet;
use uuid::Uuid;

/// Replaces what a batch took; what it took no more is given back.
pub async fn give_and_take(tx: &mut PgConnection, batch: Uuid, taken: &[LotUse]) -> Result<(), Problem> {
    let before =
        sqlx::query_scalar!("delete from lot_pour where batch_id = $1 returning lot_id", batch).fetch_all(&mut *tx).await?;
    for used in taken {
        sqlx::query!(
            "insert into lot_pour (batch_id, entry_id, lot_id, used_g, at) values ($1, $2, $3, $4, $5)",
            batch,
            used.entry,
            used.lot,
            used.used_g,
            used.at.to_sqlx() as _,
        )
        .execute(&mut *tx)
        .await?;
    }
    let touched: BTreeSet<Uuid> = before.into_iter().chain(taken.iter().map(|u| u.lot)).collect();
    settle(tx, &touched.into_iter().collect::<Vec<_>>()).await
}

/// Reckons anew what is left of some lots. Their rows are locked in the order of their ids, so that two batches that
/// take from the same lots cannot wait for each other.
pub async fn settle(tx: &mut PgConnection, lots: &[Uuid]) -> Result<(), Problem> {
    let rows = sqlx::query!(
        r#"select id, container_g * containers as total_g, counted_g, counted_at as "counted_at: jiff_sqlx::Timestamp"
           from lot where id = any($1) order by id for no key update"#,
        lots
    )
    .fetch_all(&mut *tx)
    .await?;
    for row in rows {
        let taken = taken(tx, row.id).await?;
        let counted = row.counted_g.zip(row.counted_at.map(|t| t.to_jiff()));
        let left = left_g(row.total_g, counted, &taken);
        sqlx::query!("update lot set left_g = $2 where id = $1", row.id, left).execute(&mut *tx).await?;
    }
    Ok(())
}

/// Whether what is kept as left of a lot is what its book and the batches say, in words where not.
pub async fn unsettled(db: &mut PgConnection, lot: Uuid) -> Result<Vec<String>, Problem> {
    let row = sqlx::query!(
        r#"select container_g * containers as total_g, counted_g, counted_at as "counted_at: jiff_sqlx::Timestamp", left_g
           from lot where id = $1"#,
        lot
    );
    let Some(row) = row.fetch_optional(&mut *db).await? else { return Ok(Vec::new()) };
    let left = left_g(row.total_g, row.counted_g.zip(row.counted_at.map(|t| t.to_jiff())), &taken(db, lot).await?);
    Ok(if left == row.left_g { Vec::new() } else { vec!["what is left of it is not what the books say".into()] })
}

async fn taken(db: &mut PgConnection, lot: Uuid) -> Result<Vec<(Timestamp, f64)>, Problem> {
    let rows = sqlx::query!(
        r#"select at as "at: jiff_sqlx::Timestamp", used_g from lot_pour where lot_id = $1 order by at, entry_id"#,
        lot
    );
    Ok(rows.fetch_all(db).await?.into_iter().map(|t| (t.at.to_jiff(), t.used_g)).collect())
}
