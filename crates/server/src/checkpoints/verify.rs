//! Every checkpoint against the database as it is: what was rewritten, cut off or taken away since it was signed.

use super::files::{public_key, read_all};
use super::house;
use crate::problem::Problem;
use level_keel_core::checkpoint::{Checkpoint, Statement};
use sqlx::PgPool;
use std::collections::{BTreeSet, HashMap, HashSet};
use std::path::Path;
use uuid::Uuid;

/// What was verified.
#[derive(Debug, Default)]
pub struct Verified {
    /// Checkpoints read.
    pub checkpoints: usize,
    /// Entries that came after the newest: it says nothing of them.
    pub later: i64,
    /// What was changed beside the books from one checkpoint to the next: by the application, or by who held the database before the
    /// later one was made.
    pub changes: Vec<String>,
    /// What is wrong.
    pub faults: Vec<String>,
}

/// Verifies a folder against a database.
pub async fn verify(db: &PgPool, folder: &Path) -> Result<Verified, Problem> {
    let read = read_all(folder).map_err(|e| Problem::Fault(format!("the folder of checkpoints: {e}")))?;
    let key = public_key(folder);
    let mut verified = Verified { checkpoints: read.len(), ..Verified::default() };
    if key.is_none() && verified.checkpoints > 0 {
        verified.faults.push("checkpoints: the key is not here, so nobody knows who signed them".into());
    }
    let mut before: Option<Statement> = None;
    // Of each book every head that was signed; the newest of each row of the others.
    let (mut heads, mut newest) = (HashMap::<Uuid, BTreeSet<(i64, String, u64)>>::new(), None::<Checkpoint>);
    for (kept, checkpoint) in read {
        match checkpoint {
            Err(e) => verified.faults.push(format!("checkpoint {}: its file cannot be read ({e})", kept.number)),
            Ok(checkpoint) => {
                verified.faults.extend(checkpoint.faults(before.as_ref(), key.as_deref()));
                for b in &checkpoint.rows.books {
                    heads.entry(b.id).or_default().insert((b.seq, b.hash.clone(), checkpoint.statement.number));
                }
                if let Some(before) = &newest {
                    let (one, two) = (before.statement.number, checkpoint.statement.number);
                    let changes = before.house_changes(&checkpoint.rows.house);
                    verified.changes.extend(changes.into_iter().map(|c| format!("between checkpoints {one} and {two}: {c}")));
                }
                before = Some(checkpoint.statement.clone());
                newest = Some(checkpoint);
            }
        }
    }
    books(db, &heads, &mut verified).await?;
    if let Some(newest) = newest {
        cards(db, &newest, &mut verified).await?;
        files(db, &newest, &mut verified).await?;
        let changes = newest.house_changes(&house(&mut *db.acquire().await?).await?);
        verified.faults.extend(changes.into_iter().map(|c| format!("{c} since checkpoint {}", newest.statement.number)));
        let now = sqlx::query_scalar!("select count(*) from entry").fetch_one(db).await?.unwrap_or(0);
        verified.later = now - newest.statement.entries;
    }
    Ok(verified)
}

/// Each head that was signed still stands in its book, with its hash.
async fn books(db: &PgPool, heads: &HashMap<Uuid, BTreeSet<(i64, String, u64)>>, verified: &mut Verified) -> Result<(), Problem> {
    for (book, signed) in heads {
        let seqs: Vec<i64> = signed.iter().map(|(seq, ..)| *seq).collect();
        let rows =
            sqlx::query!("select seq, hash from entry where book_id = $1 and seq = any($2)", book, &seqs).fetch_all(db).await?;
        let now: HashMap<i64, String> = rows.into_iter().map(|r| (r.seq, r.hash)).collect();
        // The oldest that does not fit says when: what it was made of was changed after it.
        let wrong = signed.iter().find(|(seq, hash, _)| now.get(seq) != Some(hash));
        if let Some((seq, _, number)) = wrong {
            let what = if now.contains_key(seq) { "was rewritten" } else { "was cut off or taken away" };
            verified.faults.push(format!("book {book}: what checkpoint {number} signed up to entry {seq} {what}"));
        }
    }
    Ok(())
}

/// Signed cards are as they were, but for those of a batch that was written in since.
async fn cards(db: &PgPool, newest: &Checkpoint, verified: &mut Verified) -> Result<(), Problem> {
    let rows = sqlx::query!(
        r#"select b.id, k.head_seq, encode(sha256(convert_to(b.signed_card::text, 'UTF8')), 'hex') as sha256
           from batch b join book k on k.id = b.id"#
    )
    .fetch_all(db)
    .await?;
    let now: HashMap<Uuid, (i64, Option<String>)> = rows.into_iter().map(|r| (r.id, (r.head_seq, r.sha256))).collect();
    let head: HashMap<Uuid, i64> = newest.rows.books.iter().map(|b| (b.id, b.seq)).collect();
    for card in &newest.rows.cards {
        let (seq, sha256) = now.get(&card.batch).cloned().unwrap_or((0, None));
        let is_as_it_was = sha256.as_ref() == Some(&card.sha256);
        let written_since =
            head.get(&card.batch).is_some_and(|signed| seq > *signed) && reopened(db, card.batch, head[&card.batch]).await?;
        if !is_as_it_was && !written_since {
            let what = if sha256.is_some() { "was altered" } else { "is gone" };
            verified.faults.push(format!("the card of batch {} {what} since checkpoint {}", card.batch, newest.statement.number));
        }
    }
    Ok(())
}

/// Something since then writes a card anew: it was signed, accepted or reopened.
async fn reopened(db: &PgPool, batch: Uuid, after: i64) -> Result<bool, Problem> {
    let found = sqlx::query_scalar!(
        "select exists(select 1 from entry where book_id = $1 and seq > $2 and kind in ('sign', 'accept', 'reopen'))",
        batch,
        after
    );
    Ok(found.fetch_one(db).await?.unwrap_or(false))
}

/// Files that were kept are here, and are what their name says.
async fn files(db: &PgPool, newest: &Checkpoint, verified: &mut Verified) -> Result<(), Problem> {
    let rows = sqlx::query!(r#"select sha256, encode(sha256(bytes), 'hex') as "found!" from attachment"#).fetch_all(db).await?;
    let here: HashSet<&str> = rows.iter().map(|r| r.sha256.as_str()).collect();
    for file in newest.rows.files.iter().filter(|f| !here.contains(f.as_str())) {
        verified.faults.push(format!("file {file} is gone since checkpoint {}", newest.statement.number));
    }
    for row in rows.iter().filter(|r| r.sha256 != r.found) {
        verified.faults.push(format!("file {} is not what its hash says", row.sha256));
    }
    Ok(())
}
