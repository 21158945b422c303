//! Checkpoints in their folder: made daily, at each acceptance and on demand; verified against the database by `check-log`.
//!
//! The folder holds the key (mode 600) and one file a checkpoint. Neither is in the database: whoever holds that cannot sign another.

mod files;
pub mod http;
mod verify;

pub use files::{Kept, read_all};
pub use verify::verify;

use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use level_keel_core::checkpoint::{BookHead, CardKept, Checkpoint, Rows};
use sqlx::PgPool;
use std::path::Path;
use std::time::Duration;
use uuid::Uuid;

/// How often it is asked whether the day has its checkpoint.
const ASKED_EVERY: Duration = Duration::from_secs(600);
/// The lock that one maker holds, whichever server it runs in.
const LOCK: i64 = 0x6b65_656c_6368_6b70;

/// Everything a checkpoint covers, as it stands in one instant.
async fn rows(db: &PgPool) -> Result<Rows, Problem> {
    let mut tx = db.begin().await?;
    sqlx::query("set transaction isolation level repeatable read read only").execute(&mut *tx).await?;
    let books = sqlx::query!(
        "select k.id, k.kind, e.seq, e.hash from book k join entry e on e.book_id = k.id and e.seq = k.head_seq order by k.id"
    )
    .fetch_all(&mut *tx)
    .await?;
    let cards = sqlx::query!(
        r#"select id, encode(sha256(convert_to(signed_card::text, 'UTF8')), 'hex') as "sha256!" from batch where signed_card is not null order by id"#
    )
    .fetch_all(&mut *tx)
    .await?;
    let files = sqlx::query_scalar!("select sha256 from attachment order by sha256").fetch_all(&mut *tx).await?;
    tx.commit().await?;
    Ok(Rows {
        books: books.into_iter().map(|b| BookHead { id: b.id, kind: b.kind, seq: b.seq, hash: b.hash }).collect(),
        cards: cards.into_iter().map(|c| CardKept { batch: c.id, sha256: c.sha256 }).collect(),
        files,
    })
}

/// Makes a checkpoint; `None` where no folder is set. Readers and writers of books wait for nothing.
pub async fn make(state: &State) -> Result<Option<Checkpoint>, Problem> {
    let Some(folder) = folder(state) else { return Ok(None) };
    // Given back with its transaction, whatever happens.
    let mut turn = state.db.begin().await?;
    sqlx::query("select pg_advisory_xact_lock($1)").bind(LOCK).execute(&mut *turn).await?;
    let made = made_in(state, folder).await?;
    turn.commit().await?;
    Ok(Some(made))
}

async fn made_in(state: &State, folder: &Path) -> Result<Checkpoint, Problem> {
    // The instant lies before what is read: all that had happened by then is covered.
    let made = state.clock.now();
    let rows = rows(&state.db).await?;
    let folder = folder.to_path_buf();
    let kept = actix_web::web::block(move || files::sign_and_keep(&folder, rows, made)).await;
    kept.map_err(|e| Problem::Fault(e.to_string()))?.map_err(|e| Problem::Fault(format!("the folder of checkpoints: {e}")))
}

/// The folder that is set.
fn folder(state: &State) -> Option<&Path> {
    (!state.settings.checkpoint_dir.is_empty()).then(|| Path::new(&state.settings.checkpoint_dir))
}

/// Makes one after each signature, and one a shop day; nobody who signs waits for it. What fails is in the log of the server. Ends at once
/// where no folder is set.
pub async fn keep_making(state: State) {
    if folder(&state).is_none() {
        return;
    }
    let mut signed = false;
    loop {
        if (signed || !has_todays(&state))
            && let Err(problem) = make(&state).await
        {
            tracing::error!(%problem, "no checkpoint was made");
        }
        signed = tokio::time::timeout(ASKED_EVERY, state.live.signed.notified()).await.is_ok();
    }
}

fn has_todays(state: &State) -> bool {
    let newest = folder(state).and_then(|folder| files::names(folder).ok()?.pop());
    newest.is_some_and(|kept| kept.made.to_zoned(state.shop.zone()).date() >= state.shop_day())
}

/// The first checkpoint that covers a book up to an entry, made since; the same one whenever it is asked.
pub async fn covering(state: &State, book: Uuid, seq: i64, since: Timestamp) -> Option<Checkpoint> {
    let folder = folder(state)?.to_path_buf();
    let found = actix_web::web::block(move || {
        let later = files::names(&folder).ok()?.into_iter().filter(|kept| kept.made >= since);
        later.filter_map(|kept| files::read(&kept.path).ok()).find(|checkpoint| checkpoint.covers(book, seq))
    });
    found.await.ok().flatten()
}
