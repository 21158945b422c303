//! Verifying the log: sequence, hashes, and every row against a fresh fold of its book.

use super::chain::load;
use super::kept::Kept;
use super::rows::{differing, project};
use crate::problem::Problem;
use level_keel_core::batch::Record;
use level_keel_core::book::canonical::seal_entry;
use level_keel_core::book::{Entry, Ledger, LedgerKind, fold};
use level_keel_core::instruments::InstrumentBook;
use level_keel_core::rig_book::RigBook;
use level_keel_core::stores::Lot;
use level_keel_core::stores::place::PlaceBook;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

/// What was checked.
#[derive(Debug, Default, PartialEq, Eq)]
pub struct Checked {
    /// Books read.
    pub books: usize,
    /// Entries read.
    pub entries: usize,
    /// What is wrong, by book.
    pub faults: Vec<String>,
}

/// Checks every book.
pub async fn check_log(db: &PgPool) -> Result<Checked, Problem> {
    let mut checked = Checked::default();
    let mut db = db.acquire().await?;
    for book in sqlx::query!("select id, kind, head_seq from book order by id").fetch_all(&mut *db).await? {
        checked.books += 1;
        let head = (book.id, book.head_seq);
        match book.kind.as_str() {
            Record::BOOK => check::<Record>(&mut db, head, &mut checked).await?,
            RigBook::BOOK => check::<RigBook>(&mut db, head, &mut checked).await?,
            Lot::BOOK => check::<Lot>(&mut db, head, &mut checked).await?,
            InstrumentBook::BOOK => check::<InstrumentBook>(&mut db, head, &mut checked).await?,
            PlaceBook::BOOK => check::<PlaceBook>(&mut db, head, &mut checked).await?,
            other => checked.faults.push(format!("book {}: nobody knows a book of a {other}", book.id)),
        }
    }
    Ok(checked)
}

async fn check<L: Kept>(db: &mut PgConnection, (id, head): (Uuid, i64), checked: &mut Checked) -> Result<(), Problem> {
    let faults = &mut checked.faults;
    let entries = match load::<L::Kind>(db, id).await {
        Ok(entries) => entries,
        Err(Problem::Fault(why)) => {
            faults.push(format!("book {id}: {why}"));
            return Ok(());
        }
        Err(other) => return Err(other),
    };
    checked.entries += entries.len();
    broken_links(db, id, &entries, faults).await?;
    let book: L = fold(&entries);
    if book.log().head_seq != head {
        faults.push(format!("book {id}: its head is {head}, its last entry {}", book.log().head_seq));
    }
    let columns = differing(db, id, &book).await?;
    if !columns.is_empty() {
        let what = columns.join(", ");
        faults.push(format!("{} {id}: its row does not match its log ({what}); run rebuild", L::BOOK));
    }
    for said in book.underived(db, id).await? {
        faults.push(format!("{} {id}: {said}; run rebuild", L::BOOK));
    }
    Ok(())
}

/// Entries that are missing, or do not match their hash.
async fn broken_links<K: LedgerKind>(
    db: &mut PgConnection,
    id: Uuid,
    entries: &[Entry<K>],
    faults: &mut Vec<String>,
) -> Result<(), Problem> {
    let stored =
        sqlx::query!("select payload, previous_hash from entry where book_id = $1 order by seq", id).fetch_all(db).await?;
    let mut previous = String::new();
    for ((entry, stored), wants) in entries.iter().zip(stored).zip(1..) {
        if entry.seq != wants {
            faults.push(format!("book {id}: entry {wants} is missing"));
        }
        let (text, hash) = seal_entry(id, entry, &previous);
        if stored.payload != text || stored.previous_hash != previous || hash != entry.hash {
            faults.push(format!("book {id}: entry {} does not match its hash", entry.seq));
        }
        previous.clone_from(&entry.hash);
    }
    Ok(())
}

/// What the rows hold beyond an older version; raised when a column is added that the log must fill.
const ROWS: &str = "9";

/// Rebuilds the rows once when an older version wrote them.
pub async fn rebuild_older(db: &PgPool) -> Result<(), Problem> {
    let written = sqlx::query_scalar!("select value from house where key = 'rows'").fetch_optional(db).await?;
    if written.as_deref() == Some(ROWS) {
        return Ok(());
    }
    rebuild(db).await?;
    sqlx::query!("insert into house (key, value) values ('rows', $1) on conflict (key) do update set value = $1", ROWS)
        .execute(db)
        .await?;
    Ok(())
}

/// Rebuilds every row from its log; signed cards stay as they were signed. How many.
pub async fn rebuild(db: &PgPool) -> Result<usize, Problem> {
    // Lots after batches: what is left of one hangs on what every batch took.
    Ok(anew::<Record>(db).await?
        + anew::<RigBook>(db).await?
        + anew::<PlaceBook>(db).await?
        + anew::<InstrumentBook>(db).await?
        + anew::<Lot>(db).await?)
}

async fn anew<L: Kept>(db: &PgPool) -> Result<usize, Problem> {
    let books = sqlx::query_scalar!("select id from book where kind = $1 order by id", L::BOOK).fetch_all(db).await?;
    for id in &books {
        let mut tx = db.begin().await?;
        L::lock(&mut tx, *id).await?;
        sqlx::query!("select id from book where id = $1 for update", id).fetch_one(&mut *tx).await?;
        let book: L = fold(&load(&mut tx, *id).await?);
        project(&mut tx, *id, &book).await?;
        book.derive(&mut tx, *id, None).await?;
        tx.commit().await?;
    }
    Ok(books.len())
}
