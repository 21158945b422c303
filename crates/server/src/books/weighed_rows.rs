//! Scales a batch was weighed on, in the database: rows the log of the batch decides.

use crate::problem::Problem;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::weighed_on::WeighedOn;
use sqlx::PgConnection;
use uuid::Uuid;

/// Keeps the rows of a batch.
pub async fn keep(tx: &mut PgConnection, batch: Uuid, used: &[WeighedOn]) -> Result<(), Problem> {
    sqlx::query!("delete from batch_instrument where batch_id = $1", batch).execute(&mut *tx).await?;
    for one in used {
        sqlx::query!(
            "insert into batch_instrument (batch_id, instrument_id, first_at, last_at) values ($1, $2, $3, $4)",
            batch,
            one.instrument,
            one.first.to_sqlx() as _,
            one.last.to_sqlx() as _
        )
        .execute(&mut *tx)
        .await?;
    }
    Ok(())
}

/// The rows that are kept, by instrument.
pub async fn kept(db: &mut PgConnection, batch: Uuid) -> Result<Vec<WeighedOn>, Problem> {
    let rows = sqlx::query!(
        r#"select instrument_id, first_at as "first: jiff_sqlx::Timestamp", last_at as "last: jiff_sqlx::Timestamp"
           from batch_instrument where batch_id = $1 order by instrument_id"#,
        batch
    )
    .fetch_all(db)
    .await?;
    Ok(rows
        .into_iter()
        .map(|r| WeighedOn { instrument: r.instrument_id, first: r.first.to_jiff(), last: r.last.to_jiff() })
        .collect())
}
