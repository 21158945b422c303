//! The rows of the ledger: proofs and kilograms, kept beside the logs that decide them.

use crate::books::read as read_book;
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::Record;
use level_keel_core::batch::proofs::{proofs, sprayed_in_all};
use level_keel_core::ratio_check::{Ledger, LedgerProof, SprayedBatch};
use level_keel_core::rig_book::RigBook;
use level_keel_core::rigs::Exchanged;
use serde_json::Value;
use sqlx::PgConnection;
use std::sync::Arc;
use uuid::Uuid;

/// A proof as it is kept: of which rig, by which sheet.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptProof {
    rig: Option<Uuid>,
    sheet: Uuid,
    proof: LedgerProof,
}

impl KeptProof {
    /// In which they are read.
    pub fn order(&self) -> (Timestamp, Uuid) {
        (self.proof.at, self.proof.entry)
    }
}

/// What a batch sprayed in all, as it is kept: through which rig, when it ended, kilograms.
pub fn sprayed(record: &Record) -> Option<(Uuid, Timestamp, f64)> {
    let ((ended, kg), rig) = sprayed_in_all(record).zip(record.rig.as_ref())?;
    Some((rig.it.rig, ended, kg))
}

/// Proofs from old cards, of the rig in whose book they stand.
pub fn of_rig(rig: Uuid, book: &RigBook) -> Vec<KeptProof> {
    book.papers.iter().map(|(sheet, proof)| KeptProof { rig: Some(rig), sheet: *sheet, proof: proof.clone() }).collect()
}

/// The product of a batch, by its sheet.
async fn sheet_of(db: &mut PgConnection, record: &Record) -> Result<Option<Uuid>, Problem> {
    let Some(aim) = record.aim() else { return Ok(None) };
    let row = sqlx::query_scalar!("select sheet_id from sheet_version where id = $1", aim.sheet_version);
    Ok(row.fetch_optional(db).await?)
}

/// Proofs of a batch as they are kept.
pub async fn of_batch(db: &mut PgConnection, record: &Record) -> Result<Vec<KeptProof>, Problem> {
    let all = proofs(record);
    if all.is_empty() {
        return Ok(Vec::new());
    }
    let Some(sheet) = sheet_of(db, record).await? else { return Ok(Vec::new()) };
    Ok(all.into_iter().map(|(rig, proof)| KeptProof { rig, sheet, proof }).collect())
}

/// What is kept of a book's proofs, for holding them against its log.
pub async fn kept(db: &mut PgConnection, book: Uuid) -> Result<Vec<KeptProof>, Problem> {
    let rows = sqlx::query!("select rig_id, sheet_id, body from ratio_proof where book_id = $1 order by at, entry_id", book);
    let rows = rows.fetch_all(db).await?.into_iter();
    rows.map(|r| Ok(KeptProof { rig: r.rig_id, sheet: r.sheet_id, proof: serde_json::from_value(r.body)? })).collect()
}

/// Keeps the proofs of a book: what is gone is deleted, what is new or says something else is written.
pub async fn keep(tx: &mut PgConnection, book: Uuid, now: &[KeptProof], before: &[KeptProof]) -> Result<(), Problem> {
    let gone: Vec<Uuid> =
        before.iter().map(|k| k.proof.entry).filter(|entry| !now.iter().any(|k| k.proof.entry == *entry)).collect();
    if !gone.is_empty() {
        sqlx::query!("delete from ratio_proof where book_id = $1 and entry_id = any($2)", book, &gone).execute(&mut *tx).await?;
    }
    let known: std::collections::HashMap<Uuid, &KeptProof> = before.iter().map(|k| (k.proof.entry, k)).collect();
    for k in now.iter().filter(|k| known.get(&k.proof.entry) != Some(k)) {
        sqlx::query!(
            "insert into ratio_proof (book_id, entry_id, rig_id, sheet_id, at, body) values ($1, $2, $3, $4, $5, $6)
             on conflict (book_id, entry_id) do update set rig_id = $3, sheet_id = $4, at = $5, body = $6",
            book,
            k.proof.entry,
            k.rig,
            k.sheet,
            k.proof.at.to_sqlx() as _,
            serde_json::to_value(&k.proof)?
        )
        .execute(&mut *tx)
        .await?;
    }
    Ok(())
}

/// Deletes what is kept of a book, before all of it is made anew.
pub async fn forget(tx: &mut PgConnection, book: Uuid) -> Result<(), Problem> {
    sqlx::query!("delete from ratio_proof where book_id = $1", book).execute(tx).await?;
    Ok(())
}

/// Keeps what a batch sprayed in all.
pub async fn keep_sprayed(tx: &mut PgConnection, batch: Uuid, record: &Record) -> Result<(), Problem> {
    let Some(((rig, ended, kg), aim)) = sprayed(record).zip(record.aim()) else {
        sqlx::query!("delete from batch_sprayed where batch_id = $1", batch).execute(tx).await?;
        return Ok(());
    };
    sqlx::query!(
        "insert into batch_sprayed (batch_id, number, rig_id, sheet_id, ended, kg)
         select $1, $2, $3, v.sheet_id, $5, $6 from sheet_version v where v.id = $4
         on conflict (batch_id) do update set rig_id = $3, ended = $5, kg = $6",
        batch,
        aim.number,
        rig,
        aim.sheet_version,
        ended.to_sqlx() as _,
        kg
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// What is kept of what a batch sprayed.
pub async fn kept_sprayed(db: &mut PgConnection, batch: Uuid) -> Result<Option<(Uuid, Timestamp, f64)>, Problem> {
    let row = sqlx::query!(
        r#"select rig_id, ended as "ended: jiff_sqlx::Timestamp", kg from batch_sprayed where batch_id = $1"#,
        batch
    );
    Ok(row.fetch_optional(db).await?.map(|r| (r.rig_id, r.ended.to_jiff(), r.kg)))
}

/// The ledger of a rig and a product, whole.
pub async fn ledger(db: &mut PgConnection, state: &State, rig: Uuid, sheet: Uuid) -> Result<Ledger, Problem> {
    let rows = sqlx::query!(
        r#"select p.body, b.id as "batch?" from ratio_proof p left join batch b on b.id = p.book_id
           where p.rig_id = $1 and p.sheet_id = $2 order by p.at, p.entry_id"#,
        rig,
        sheet
    )
    .fetch_all(&mut *db)
    .await?;
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
        ..Ledger::default()
    };
    for row in rows {
        let proof: LedgerProof = serde_json::from_value(row.body)?;
        if let Some(batch) = row.batch {
            ledger.batches.insert(proof.entry, batch);
        }
        ledger.proofs.push(proof);
    }
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

/// The sheet of a product as it is today.
pub async fn sheet_today(db: &mut PgConnection, sheet: Uuid) -> Result<Value, Problem> {
    let row = sqlx::query_scalar!("select body from sheet_version where sheet_id = $1 order by edition desc limit 1", sheet);
    row.fetch_optional(db).await?.ok_or(Problem::NotFound("product"))
}
