//! Proofs of a rig and product in memory. Each stands for exactly one version of its row, and the versions are asked of the
//! database each time: another process that writes makes a proof stale and never wrong, and a catch costs one row, not the ledger.

use crate::problem::Problem;
use level_keel_core::ratio_check::LedgerProof;
use sqlx::PgConnection;
use sqlx::types::Json;
use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};
use uuid::Uuid;

/// Ledgers kept; a shop proves with a few rigs a day.
const LEDGERS: usize = 64;

/// The row of a proof: its book, its entry, and the transaction that wrote it last.
type RowVersion = (Uuid, Uuid, i64);

/// Proofs of one ledger, oldest first, and which book each stands in.
#[derive(Default)]
pub struct KeptLedger {
    versions: HashMap<RowVersion, usize>,
    /// The proofs.
    pub proofs: Arc<Vec<LedgerProof>>,
    /// Of each its batch; an old card has none.
    pub batches: Arc<HashMap<Uuid, Uuid>>,
}

/// A rig and a product, by its sheet.
type RigAndSheet = (Uuid, Uuid);

/// Ledgers as they were read last.
#[derive(Clone, Default)]
pub struct Ledgers(Arc<Mutex<HashMap<RigAndSheet, Arc<KeptLedger>>>>);

impl Ledgers {
    fn get(&self, of: RigAndSheet) -> Arc<KeptLedger> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).get(&of).cloned().unwrap_or_default()
    }

    fn put(&self, of: RigAndSheet, ledger: Arc<KeptLedger>) {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if kept.len() >= LEDGERS && !kept.contains_key(&of) {
            // Any one: what is asked for again is read again.
            let old = kept.keys().next().copied();
            old.and_then(|l| kept.remove(&l));
        }
        kept.insert(of, ledger);
    }

    /// The proofs of a rig by a sheet: those whose row is the one in memory from there, the others read.
    pub async fn read(&self, db: &mut PgConnection, rig: Uuid, sheet: Uuid) -> Result<Arc<KeptLedger>, Problem> {
        let kept = self.get((rig, sheet));
        let now = versions(db, rig, sheet).await?;
        let missing: Vec<RowVersion> = now.iter().filter(|v| !kept.versions.contains_key(v)).copied().collect();
        if missing.is_empty() && now.len() == kept.versions.len() {
            return Ok(kept);
        }
        let mut rows: Vec<(RowVersion, LedgerProof)> = now
            .iter()
            .filter_map(|version| Some((*version, kept.proofs[*kept.versions.get(version)?].clone())))
            .chain(proofs(db, rig, sheet, &missing).await?)
            .collect();
        // Of one instant in the order of their entries, whatever order they are kept in.
        rows.sort_by_key(|(_, p)| (p.at, p.entry));
        let versions = rows.iter().enumerate().map(|(at, (version, _))| (*version, at)).collect();
        // An old card stands in the book of the rig itself.
        let batches = rows.iter().filter(|((book, ..), _)| *book != rig).map(|((book, ..), p)| (p.entry, *book)).collect();
        let proofs = rows.into_iter().map(|(_, proof)| proof).collect();
        let read = Arc::new(KeptLedger { versions, proofs: Arc::new(proofs), batches: Arc::new(batches) });
        self.put((rig, sheet), read.clone());
        Ok(read)
    }
}

/// Every row of a ledger by its version.
async fn versions(db: &mut PgConnection, rig: Uuid, sheet: Uuid) -> Result<Vec<RowVersion>, Problem> {
    let row = sqlx::query!(
        r#"select coalesce(array_agg(book_id), '{}') as "books!", coalesce(array_agg(entry_id), '{}') as "entries!",
             coalesce(array_agg(xmin::text::bigint), '{}') as "written!"
           from ratio_proof where rig_id = $1 and sheet_id = $2"#,
        rig,
        sheet
    )
    .fetch_one(db)
    .await?;
    Ok(row.books.into_iter().zip(row.entries).zip(row.written).map(|((book, entry), written)| (book, entry, written)).collect())
}

/// Proofs with the version they were read at. A row that is written over meanwhile comes with its new version.
async fn proofs(
    db: &mut PgConnection,
    rig: Uuid,
    sheet: Uuid,
    of: &[RowVersion],
) -> Result<Vec<(RowVersion, LedgerProof)>, Problem> {
    let entries: Vec<Uuid> = of.iter().map(|(_, entry, _)| *entry).collect();
    let rows = sqlx::query!(
        r#"select book_id, entry_id, xmin::text::bigint as "written!", body as "body: Json<LedgerProof>"
           from ratio_proof where rig_id = $1 and sheet_id = $2 and entry_id = any($3)"#,
        rig,
        sheet,
        &entries
    )
    .fetch_all(db)
    .await?;
    Ok(rows.into_iter().map(|r| ((r.book_id, r.entry_id, r.written), r.body.0)).collect())
}
