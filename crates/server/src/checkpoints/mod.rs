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
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::Method;
use actix_web::middleware::Next;
use actix_web::web::Data;
use jiff::Timestamp;
use level_keel_core::checkpoint::{BookHead, CardKept, Checkpoint, HouseRow, Rows};
use sqlx::{PgConnection, PgPool};
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
    let house = house(&mut tx).await?;
    tx.commit().await?;
    Ok(Rows {
        books: books.into_iter().map(|b| BookHead { id: b.id, kind: b.kind, seq: b.seq, hash: b.hash }).collect(),
        cards: cards.into_iter().map(|c| CardKept { batch: c.id, sha256: c.sha256 }).collect(),
        files,
        house,
    })
}

/// What a shop keeps beside its books, each row as the hash of its text. Columns are named, so that one that is added later
/// changes no hash.
async fn house(db: &mut PgConnection) -> Result<Vec<HouseRow>, Problem> {
    let rows = sqlx::query!(
        r#"select x.of as "of!", x.id as "id!", encode(sha256(convert_to(x.says::text, 'UTF8')), 'hex') as "sha256!" from (
             select 'person' as of, id::text as id, json_build_array(name, role, retired, pin_hash) as says from person
             union all select 'sheet edition', id::text,
               json_build_array(sheet_id, edition, name, body, typed, written_by, extract(epoch from written)) from sheet_version
             union all select 'ready lists', edition::text, json_build_array(body, written_by) from ready_lists
             union all select 'recoat pair', from_sheet || ' ' || to_sheet, json_build_array(body, written_by) from pair_window
             union all select 'piece', id::text, json_build_array(kind, name, figures, retired) from piece
             union all select 'tip', code, json_build_array(angle_deg, hole_mm) from tip_row
             union all select 'instrument', id::text, json_build_array(kind, name, resolution, teeth_um, body) from instrument
             union all select 'setting', key, json_build_array(value) from house where key <> 'rows'
           ) x order by 1, 2"#
    )
    .fetch_all(db)
    .await?;
    Ok(rows.into_iter().map(|r| HouseRow { of: r.of, id: r.id, sha256: r.sha256 }).collect())
}

/// What changes by these is beside the books: it is covered at once, so that what differs from the newest checkpoint was changed by
/// nobody through this application.
const HOUSE: [&str; 9] = ["people", "sheets", "lists", "pairs", "pieces", "tips", "instruments", "shop", "first-visit"];

/// Has a checkpoint made after each change of what is beside the books; whoever changes it waits for nothing.
pub async fn after_changes(
    req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let reads = matches!(*req.method(), Method::GET | Method::HEAD | Method::OPTIONS);
    let of = req.path().strip_prefix("/api/v1/").and_then(|path| path.split('/').next()).unwrap_or_default();
    let state = req.app_data::<Data<State>>().filter(|_| !reads && HOUSE.contains(&of)).cloned();
    let answer = next.call(req).await?;
    if let Some(state) = state.filter(|_| answer.status().is_success()) {
        state.live.signed.notify_one();
    }
    Ok(answer)
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
