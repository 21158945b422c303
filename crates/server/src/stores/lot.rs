//! The book of a lot read back, and the row it decides.

use super::left::settle;
use super::places::place_row;
use crate::problem::Problem;
use jiff_sqlx::ToSqlx;
use level_keel_core::stores::{Lot, LotEntry, LotKind, fold};
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

/// The entries of a lot's book, in sequence; none when it has no book.
pub async fn load(tx: &mut PgConnection, lot: Uuid) -> Result<Vec<LotEntry>, Problem> {
    let rows = sqlx::query!(
        r#"select e.seq, e.id, e.kind, e.version, e.payload, e.who, p.name as by, e.hash,
             e.happened as "happened: jiff_sqlx::Timestamp"
           from entry e join person p on p.id = e.who where e.book_id = $1 order by e.seq"#,
        lot
    )
    .fetch_all(tx)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(LotEntry {
                id: r.id,
                seq: r.seq,
                kind: LotKind::from_name(&r.kind)
                    .ok_or_else(|| Problem::Fault(format!("unknown kind {} in lot {lot}", r.kind)))?,
                version: r.version,
                payload: serde_json::from_str(&r.payload)?,
                who: r.who,
                by: r.by,
                happened: r.happened.to_jiff(),
                hash: r.hash,
            })
        })
        .collect()
}

/// Writes what the book decides into the row of the lot.
pub async fn project(tx: &mut PgConnection, id: Uuid, lot: &Lot) -> Result<(), Problem> {
    let came = lot.received.as_ref();
    let counted = lot.counted;
    sqlx::query!(
        "update lot set makers_lot = $2, colour = $3, received = $4, made = $5, expires = $6, container_g = $7, containers = $8,
           counted_g = $9, counted_at = $10, place_id = $11, quarantined = $12, damaged = $13, certified = $14 where id = $1",
        id,
        came.and_then(|r| r.makers_lot.clone()),
        came.and_then(|r| r.colour.clone()),
        came.map(|r| r.received.to_sqlx()) as _,
        came.and_then(|r| r.made).map(|d| d.to_sqlx()) as _,
        came.and_then(|r| r.expires_on()).map(|d| d.to_sqlx()) as _,
        came.map(|r| r.container_g),
        came.map(|r| r.containers_count),
        counted.map(|c| c.0),
        counted.map(|c| c.1.to_sqlx()) as _,
        lot.place.as_ref().map(|p| p.id),
        lot.quarantined,
        lot.damaged,
        !lot.certificates.is_empty(),
    )
    .execute(&mut *tx)
    .await?;
    settle(tx, &[id]).await
}

/// Whether the row of a lot, or of a place, says what its book says.
pub async fn check_row(db: &PgPool, kind: &str, book: Uuid, faults: &mut Vec<String>) -> Result<(), Problem> {
    // The row of a rig is edited by a lead too: its book alone does not make it, only its chain is checked.
    if kind == "rig" {
        return Ok(());
    }
    let mut db = db.acquire().await?;
    if kind == "place" {
        return place_row(&mut db, book, faults).await;
    }
    let lot = fold(&load(&mut db, book).await?);
    let row = sqlx::query!(
        r#"select received as "received: jiff_sqlx::Date", quarantined, damaged, place_id, counted_g, certified,
             (select head_seq from book where id = $1) as head_seq from lot where id = $1"#,
        book
    )
    .fetch_optional(&mut *db)
    .await?;
    let same = row.is_some_and(|r| {
        r.received.map(|d| d.to_jiff()) == lot.received.as_ref().map(|l| l.received)
            && r.quarantined == lot.quarantined
            && r.damaged == lot.damaged
            && r.place_id == lot.place.as_ref().map(|p| p.id)
            && r.counted_g == lot.counted.map(|c| c.0)
            && r.certified != lot.certificates.is_empty()
            && r.head_seq == Some(lot.head_seq)
    });
    if !same {
        faults.push(format!("lot {book}: its row does not match its book; run rebuild"));
    }
    Ok(())
}

/// Rebuilds the rows of all lots from their books.
pub async fn rebuild(db: &PgPool) -> Result<usize, Problem> {
    let books = sqlx::query_scalar!("select id from book where kind = 'lot' order by id").fetch_all(db).await?;
    for id in &books {
        let mut tx = db.begin().await?;
        sqlx::query!("select id from lot where id = $1 for update", id).fetch_optional(&mut *tx).await?;
        let lot = fold(&load(&mut tx, *id).await?);
        project(&mut tx, *id, &lot).await?;
        tx.commit().await?;
    }
    Ok(books.len())
}
