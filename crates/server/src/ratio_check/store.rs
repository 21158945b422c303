//! The ledger of a rig and a product, as it is read.

use crate::books::read as read_book;
use crate::instruments::book::marked;
use crate::problem::Problem;
use crate::state::State;
use level_keel_core::ratio_check::{Ledger, SprayedBatch};
use level_keel_core::rig_book::RigBook;
use level_keel_core::rigs::Exchanged;
use sqlx::PgConnection;
use std::collections::HashMap;
use std::sync::Arc;
use uuid::Uuid;

/// The ledger of a rig and a product, whole.
pub async fn ledger(db: &mut PgConnection, state: &State, rig: Uuid, sheet: Uuid) -> Result<Ledger, Problem> {
    let kept = state.books.ledgers.read(&mut *db, rig, sheet).await?;
    let totals = sqlx::query!(
        r#"select number, ended as "ended: jiff_sqlx::Timestamp", kg from batch_sprayed where rig_id = $1 and sheet_id = $2"#,
        rig,
        sheet
    )
    .fetch_all(&mut *db)
    .await?;
    let scales = sqlx::query!("select id, name from instrument where kind = 'scale'").fetch_all(&mut *db).await?;
    let book: Arc<RigBook> = read_book(db, state, rig).await?;
    let mut ledger = Ledger {
        totals: totals.into_iter().map(|r| SprayedBatch { number: r.number, ended: r.ended.to_jiff(), kg: r.kg }).collect(),
        exchanged: exchanged(&book),
        renewed: book.renewed.iter().filter(|(of, _)| *of == sheet).map(|(_, at)| *at).collect(),
        shop_s: state.shop.now().check_every_s,
        scales: scales.into_iter().map(|r| (r.id, r.name)).collect(),
        proofs: kept.proofs.clone(),
        batches: kept.batches.clone(),
        marks: HashMap::new(),
    };
    let of: Vec<Uuid> = ledger.scales.keys().copied().collect();
    ledger.marks = marked(db, state, &of).await?;
    Ok(ledger)
}

/// What was exchanged in the way of the paint, oldest first.
fn exchanged(book: &RigBook) -> Vec<Exchanged> {
    let lines = book.log.iter().filter(|l| l.struck.is_none());
    let mut all: Vec<Exchanged> =
        lines.filter_map(|l| Some(Exchanged { at: l.at, what: l.said.as_ref()?.exchanged()? })).collect();
    all.sort_by_key(|e| e.at);
    all
}

/// The rig and the product of a batch.
pub async fn of(db: &mut PgConnection, batch: Uuid) -> Result<(Option<Uuid>, Uuid), Problem> {
    let row = sqlx::query!(
        "select b.rig_id, v.sheet_id from batch b join sheet_version v on v.id = b.sheet_version_id where b.id = $1",
        batch
    );
    let row = row.fetch_optional(db).await?.ok_or(Problem::NotFound("batch"))?;
    Ok((row.rig_id, row.sheet_id))
}

/// Products a rig has proofs of, the newest first: sheet, its name of today, how many.
pub async fn products(db: &mut PgConnection, rig: Uuid) -> Result<Vec<(Uuid, String, i64)>, Problem> {
    let rows = sqlx::query!(
        r#"select p.sheet_id, count(*) as "count!",
             (select v.name from sheet_version v where v.sheet_id = p.sheet_id order by v.edition desc limit 1) as "name!"
           from ratio_proof p where p.rig_id = $1 group by p.sheet_id order by max(p.at) desc"#,
        rig
    );
    Ok(rows.fetch_all(db).await?.into_iter().map(|r| (r.sheet_id, r.name, r.count)).collect())
}
