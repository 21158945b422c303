//! The rows of the ledger of the ratio: proofs and kilograms, kept beside the logs that decide them.

use crate::problem::Problem;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::Record;
use level_keel_core::batch::proofs::{proofs, sprayed_in_all};
use level_keel_core::ratio_check::LedgerProof;
use level_keel_core::rig_book::RigBook;
use sqlx::PgConnection;
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
