//! What stands beside a batch when the causes of its defects are looked for.

use crate::problem::Problem;
use level_keel_core::batch::Record;
use level_keel_core::batch::beside::Beside;
use level_keel_core::batch::diagnosis::{RepairedBy, RigTold, Settled};
use level_keel_core::book::LedgerKind;
use level_keel_core::rig_book::{RigEntry, RigEntryKind};
use serde::de::DeserializeOwned;
use serde_json::Value;
use sqlx::PgConnection;
use uuid::Uuid;

/// What a name of a row means; none of a later version that is not known here.
fn named<T: DeserializeOwned>(name: String) -> Option<T> {
    serde_json::from_value(Value::String(name)).ok()
}

/// Adds to what stands beside a batch what the causes of its defects ask: the book of its rig, what was settled in the shop, the
/// batches that repair it.
pub async fn beside(db: &mut PgConnection, batch: Uuid, record: &Record, beside: Beside) -> Result<Beside, Problem> {
    let rig = record.rig.as_ref().map(|r| r.it.rig);
    let told = sqlx::query!(
        r#"select e.id, e.kind, e.version, e.payload_json as "payload!", e.happened as "at: jiff_sqlx::Timestamp" from entry e
           where e.book_id = $1 and e.kind in ('fitted', 'tip_flow', 'cared')
             and not exists (select 1 from entry s where s.book_id = e.book_id and s.kind = 'strike'
               and (s.payload_json ->> 'entry')::uuid = e.id)
           order by e.happened, e.seq"#,
        rig
    )
    .fetch_all(&mut *db)
    .await?;
    let rig_told = told.into_iter().filter_map(|row| {
        let said = RigEntry::decode(RigEntryKind::from_name(&row.kind)?, row.version, &row.payload).ok()?;
        Some(RigTold { entry: row.id, at: row.at.to_jiff(), said })
    });
    let rig_told = rig_told.collect();
    let settled = sqlx::query!(
        r#"select symptom, cause as "cause!", count(*) as "count!" from defect
           where cause is not null and batch_id <> $1 group by symptom, cause order by symptom, cause"#,
        batch
    )
    .fetch_all(&mut *db)
    .await?;
    let settled = settled.into_iter().filter_map(|row| -> Option<Settled> {
        Some((named(row.symptom)?, named(row.cause)?, u32::try_from(row.count).unwrap_or(u32::MAX)))
    });
    let settled = settled.collect();
    let repairs = sqlx::query!(
        r#"select id, number, repairs_defect as "defect!", state from batch
           where repairs_batch = $1 and repairs_defect is not null order by number"#,
        batch
    )
    .fetch_all(&mut *db)
    .await?;
    let repairs =
        repairs.into_iter().map(|r| RepairedBy { batch: r.id, number: r.number, defect: r.defect, stands: r.state }).collect();
    Ok(Beside { rig_told, settled, repairs, ..beside })
}
