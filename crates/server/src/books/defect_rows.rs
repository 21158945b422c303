//! Defects in the database: the rows the log of a batch decides.

use crate::problem::Problem;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::Record;
use level_keel_core::batch::entries::DefectSeen;
use level_keel_core::batch::record::Stamped;
use serde::Serialize;
use sqlx::PgConnection;
use uuid::Uuid;

/// A defect as its row keeps it.
#[derive(Debug, Clone, PartialEq)]
pub struct DefectRow {
    entry: Uuid,
    symptom: String,
    zone: Option<Uuid>,
    cause: Option<String>,
    at: Timestamp,
}

/// A symptom or a cause as rows keep it: by its name on the wire, which no change of words moves.
fn name_of<T: Serialize>(what: T) -> String {
    serde_json::to_value(what).ok().and_then(|v| v.as_str().map(String::from)).unwrap_or_default()
}

/// The defects of a batch with what each came of.
pub fn rows(record: &Record) -> Vec<DefectRow> {
    let cause = |entry: Uuid| record.defects_settled.iter().rev().find(|s| s.it.defect == entry).map(|s| s.it.cause);
    let row = |d: &Stamped<DefectSeen>| DefectRow {
        entry: d.entry,
        symptom: name_of(d.it.symptom),
        zone: d.it.zone,
        cause: cause(d.entry).map(name_of),
        at: d.at,
    };
    record.defects.iter().map(row).collect()
}

/// Keeps the rows of a batch.
pub async fn keep(tx: &mut PgConnection, batch: Uuid, rows: &[DefectRow]) -> Result<(), Problem> {
    sqlx::query!("delete from defect where batch_id = $1", batch).execute(&mut *tx).await?;
    for row in rows {
        sqlx::query!(
            "insert into defect (batch_id, entry_id, symptom, zone_id, cause, at) values ($1, $2, $3, $4, $5, $6)",
            batch,
            row.entry,
            row.symptom,
            row.zone,
            row.cause,
            row.at.to_sqlx() as _
        )
        .execute(&mut *tx)
        .await?;
    }
    Ok(())
}

/// The rows that are kept say what the log says.
pub async fn is_kept(db: &mut PgConnection, batch: Uuid, record: &Record) -> Result<bool, Problem> {
    let kept = sqlx::query!(
        r#"select entry_id, symptom, zone_id, cause, at as "at: jiff_sqlx::Timestamp" from defect where batch_id = $1 order by entry_id"#,
        batch
    )
    .fetch_all(db)
    .await?;
    let mut told = rows(record);
    told.sort_by_key(|r| r.entry);
    let same = kept.iter().zip(&told).all(|(k, t)| {
        (k.entry_id, &k.symptom, k.zone_id, &k.cause, k.at.to_jiff()) == (t.entry, &t.symptom, t.zone, &t.cause, t.at)
    });
    Ok(same && kept.len() == told.len())
}
