//! What a batch threw away, in the database: rows the log of the batch decides.

use crate::problem::Problem;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::came_to::Waste;
use sqlx::PgConnection;
use uuid::Uuid;

/// Keeps the rows of a batch.
pub async fn keep(tx: &mut PgConnection, batch: Uuid, thrown: &[Waste]) -> Result<(), Problem> {
    sqlx::query!("delete from waste where batch_id = $1", batch).execute(&mut *tx).await?;
    for one in thrown {
        sqlx::query!(
            "insert into waste (batch_id, entry_id, at, waste_ml, waste_g, cost_minor) values ($1, $2, $3, $4, $5, $6)",
            batch,
            one.entry,
            one.at.to_sqlx() as _,
            one.waste_ml,
            one.waste_g,
            one.cost_minor
        )
        .execute(&mut *tx)
        .await?;
    }
    Ok(())
}

/// The rows that are kept, by entry.
pub async fn kept(db: &mut PgConnection, batch: Uuid) -> Result<Vec<Waste>, Problem> {
    let rows = sqlx::query!(
        r#"select entry_id, at as "at: jiff_sqlx::Timestamp", waste_ml, waste_g, cost_minor from waste where batch_id = $1 order by entry_id"#,
        batch
    )
    .fetch_all(db)
    .await?;
    let row = rows.into_iter().map(|r| Waste {
        entry: r.entry_id,
        at: r.at.to_jiff(),
        waste_ml: r.waste_ml,
        waste_g: r.waste_g,
        cost_minor: r.cost_minor,
    });
    Ok(row.collect())
}
