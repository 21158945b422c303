//! Verifying the log: sequence, hashes, and the projection against a fresh fold.

use super::store;
use crate::problem::Problem;
use level_keel_core::batch::fold;
use level_keel_core::canonical::{Sealed, seal};
use sqlx::PgPool;
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
    for book in sqlx::query_scalar!("select id from book order by id").fetch_all(db).await? {
        checked.books += 1;
        check_book(db, book, &mut checked).await?;
    }
    Ok(checked)
}

async fn check_book(db: &PgPool, book: Uuid, checked: &mut Checked) -> Result<(), Problem> {
    let rows = sqlx::query!(
        r#"select seq, id, kind, version, payload, who, previous_hash, hash,
             happened as "happened: jiff_sqlx::Timestamp", arrived as "arrived: jiff_sqlx::Timestamp"
           from entry where book_id = $1 order by seq"#,
        book
    )
    .fetch_all(db)
    .await?;
    let mut previous = String::new();
    for (row, wants) in rows.iter().zip(1..) {
        checked.entries += 1;
        if row.seq != wants {
            checked.faults.push(format!("book {book}: entry {wants} is missing"));
        }
        let sealed = Sealed {
            book,
            seq: row.seq,
            id: row.id,
            kind: &row.kind,
            version: row.version,
            payload: &row.payload,
            who: row.who,
            happened: row.happened.to_jiff(),
            arrived: row.arrived.to_jiff(),
        };
        if row.previous_hash != previous || seal(&previous, &sealed) != row.hash {
            checked.faults.push(format!("book {book}: entry {} does not match its hash", row.seq));
        }
        previous.clone_from(&row.hash);
    }
    let kind = sqlx::query_scalar!("select kind from book where id = $1", book).fetch_one(db).await?;
    if kind != "batch" {
        return crate::stores::check_row(db, &kind, book, &mut checked.faults).await;
    }
    let record = fold(&store::load(&mut *db.acquire().await?, book).await?);
    if record.begin.is_some() && !store::row_matches(&mut *db.acquire().await?, book, &record).await? {
        checked.faults.push(format!("book {book}: its row does not match its log; run rebuild"));
    }
    Ok(())
}

/// What the rows hold beyond an older version; raised when a column is added that the log must fill.
const ROWS: &str = "4";

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

/// Rebuilds every projection row from its log; signed cards stay as they were signed.
pub async fn rebuild(db: &PgPool) -> Result<usize, Problem> {
    // Lots after batches: what is left of one hangs on what every batch took.
    let books = sqlx::query_scalar!("select id from book where kind = 'batch' order by id").fetch_all(db).await?;
    for book in &books {
        let mut tx = db.begin().await?;
        sqlx::query!("select id from book where id = $1 for update", book).fetch_one(&mut *tx).await?;
        let record = fold(&store::load(&mut tx, *book).await?);
        let card =
            sqlx::query_scalar!("select signed_card from batch where id = $1", book).fetch_optional(&mut *tx).await?.flatten();
        store::project(&mut tx, *book, &record, card.as_ref()).await?;
        if record.begin.is_some() {
            store::derive(&mut tx, *book, &record, None).await?;
        }
        tx.commit().await?;
    }
    Ok(books.len() + crate::stores::rebuild(db).await?)
}
