//! Reading a book back as core knows it, and keeping its projection.

use super::cache::Cache;
use crate::problem::Problem;
use crate::rigs;
use crate::stores;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::beside;
use level_keel_core::batch::lot_uses::uses;
use level_keel_core::batch::stream::SeenBend;
use level_keel_core::batch::{Entry, Kind, Record, fold};
use level_keel_core::schedule;
use level_keel_core::worded::Worded;
use serde_json::Value;
use sqlx::PgConnection;
use std::sync::Arc;
use uuid::Uuid;

/// The entries of a book, in sequence.
pub async fn load(tx: &mut PgConnection, book: Uuid) -> Result<Vec<Entry>, Problem> {
    let rows = sqlx::query!(
        r#"select e.seq, e.id, e.kind, e.version, e.payload, e.who, p.name as by, e.hash,
             e.happened as "happened: jiff_sqlx::Timestamp", e.arrived as "arrived: jiff_sqlx::Timestamp"
           from entry e join person p on p.id = e.who where e.book_id = $1 order by e.seq"#,
        book
    )
    .fetch_all(tx)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(Entry {
                id: r.id,
                seq: r.seq,
                kind: Kind::from_name(&r.kind)
                    .ok_or_else(|| Problem::Fault(format!("unknown kind {} in book {book}", r.kind)))?,
                version: r.version,
                payload: serde_json::from_str(&r.payload)?,
                who: r.who,
                by: r.by,
                happened: r.happened.to_jiff(),
                arrived: r.arrived.to_jiff(),
                hash: r.hash,
            })
        })
        .collect()
}

/// The indexed columns of a batch that its record decides.
#[derive(PartialEq)]
struct Columns {
    state: &'static str,
    ended: Option<Timestamp>,
    window: Option<schedule::RecoatWindow>,
    surface: Option<schedule::SurfaceRange>,
    rig: Option<Uuid>,
    /// What was good of its set-up, once it is signed.
    good: Option<beside::GoodSetUp>,
    /// What eye and gun call a bend, once a flow was caught.
    bend: Option<SeenBend>,
    /// What the work really took, once it is signed.
    used_ml: Option<f64>,
}

impl Columns {
    fn of(record: &Record) -> Columns {
        let state = match (&record.signature, &record.acceptance) {
            (_, Some(_)) => "accepted",
            (Some(_), None) => "signed",
            (None, None) => "open",
        };
        Columns {
            state,
            ended: beside::ended(record),
            window: beside::window_of(record),
            surface: beside::surface_since(record),
            rig: record.rig.as_ref().map(|r| r.it.rig),
            good: record.signature.as_ref().and_then(|_| record.good_set_up()).map(|(_, good)| good),
            bend: record.seen_bend(),
            used_ml: record.signature.as_ref().map(|_| record.used_in_all_ml()).filter(|ml| *ml > 0.0),
        }
    }
}

/// Whether an entry leaves the indexed row of an open batch as it is.
pub fn unchanged(before: &Record, record: &Record) -> bool {
    before.begin.is_some() && before.signature.is_none() && Columns::of(before) == Columns::of(record)
}

/// Writes the indexed row of a batch, with the card when there is one.
pub async fn project(tx: &mut PgConnection, book: Uuid, record: &Record, card: Option<&Value>) -> Result<(), Problem> {
    let Some(begin) = &record.begin else { return Ok(()) };
    let aim = &begin.it;
    let Columns { state, ended, window, surface, used_ml, rig: _, good, bend } = Columns::of(record);
    let last = record.log.iter().map(|l| l.at).max().unwrap_or(begin.at);
    let recoat = |pick: fn(&schedule::RecoatWindow) -> Option<Timestamp>| window.as_ref().and_then(pick).map(|t| t.to_sqlx());
    sqlx::query!(
        "insert into batch (id, number, sheet_version_id, part_id, coat_id, label, product, state, begun, last_happened,
           signed_card, ended, recoat_earliest, recoat_latest, surface_min_c, surface_max_c, method, substrate, reckoned_ml, used_ml,
           rig_id, good_set_up, seen_bend)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22, $23)
         on conflict (id) do update set state = $8, last_happened = $10, signed_card = $11,
           ended = $12, recoat_earliest = $13, recoat_latest = $14, surface_min_c = $15, surface_max_c = $16,
           method = $17, substrate = $18, reckoned_ml = $19, used_ml = $20,
           rig_id = $21, good_set_up = $22, seen_bend = $23",
        book,
        aim.number,
        aim.sheet_version,
        aim.part,
        aim.coat,
        format!("{} · {}", aim.part_name, aim.coat_name),
        aim.sheet.name,
        state,
        begin.at.to_sqlx() as _,
        last.to_sqlx() as _,
        card,
        ended.map(|t| t.to_sqlx()) as _,
        recoat(|w| w.earliest) as _,
        recoat(|w| w.latest) as _,
        surface.map(|s| s.coldest_c),
        surface.map(|s| s.hottest_c),
        aim.method.map(|m| m.word()),
        aim.substrate.map(|s| s.word()),
        record.need_ml(),
        used_ml,
        record.rig.as_ref().map(|r| r.it.rig),
        good.map(serde_json::to_value).transpose()?,
        bend.map(serde_json::to_value).transpose()?,
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// The record of a book: kept in memory for this head, or folded from its log. `None` when there is no such book.
pub async fn record(tx: &mut PgConnection, cache: &Cache, book: Uuid) -> Result<Option<Arc<Record>>, Problem> {
    let head = sqlx::query_scalar!("select head_seq from book where id = $1", book).fetch_optional(&mut *tx).await?;
    match head {
        None => Ok(None),
        Some(head) => Ok(Some(at_head(tx, cache, book, head).await?)),
    }
}

/// The record of a book at the head it has now, for readers: what they see is committed, and is kept.
pub async fn at_head(tx: &mut PgConnection, cache: &Cache, book: Uuid, head_seq: i64) -> Result<Arc<Record>, Problem> {
    let record = in_hand(tx, cache, book, head_seq).await?;
    cache.put(book, record.clone());
    Ok(record)
}

/// The same for a writer, whose transaction may see what is not committed yet: nothing enters the cache by it.
pub async fn in_hand(tx: &mut PgConnection, cache: &Cache, book: Uuid, head_seq: i64) -> Result<Arc<Record>, Problem> {
    match cache.get(book, head_seq) {
        Some(kept) => Ok(kept),
        None => Ok(Arc::new(fold(&load(tx, book).await?))),
    }
}

/// Whether the indexed row of a batch says what its record says.
pub async fn row_matches(tx: &mut PgConnection, book: Uuid, record: &Record) -> Result<bool, Problem> {
    let row = sqlx::query!(
        r#"select state, ended as "ended: jiff_sqlx::Timestamp", recoat_earliest as "earliest: jiff_sqlx::Timestamp",
             recoat_latest as "latest: jiff_sqlx::Timestamp", (select head_seq from book where id = $1) as head_seq
           from batch where id = $1"#,
        book
    )
    .fetch_optional(tx)
    .await?;
    let Columns { state, ended, window, .. } = Columns::of(record);
    let micro = |t: Option<Timestamp>| t.map(|t| t.as_microsecond());
    Ok(row.is_some_and(|r| {
        let at = |t: Option<jiff_sqlx::Timestamp>| t.map(|t| t.to_jiff().as_microsecond());
        r.state == state
            && at(r.ended) == micro(ended)
            && at(r.earliest) == micro(window.and_then(|w| w.earliest))
            && at(r.latest) == micro(window.and_then(|w| w.latest))
            && r.head_seq == Some(record.head_seq)
    }))
}

/// The small tables of a batch: lots used and people who worked. Written only where `before` had others.
pub async fn derive(tx: &mut PgConnection, book: Uuid, record: &Record, before: Option<&Record>) -> Result<(), Problem> {
    let used = lots_of(record);
    if before.is_none_or(|b| lots_of(b) != used) {
        lots(tx, book, &used).await?;
    }
    let taken = uses(record);
    let taken_before = before.map(uses);
    if taken_before.as_ref() != Some(&taken) {
        stores::give_and_take(tx, book, &taken).await?;
    }
    if let (Some(chosen), Some(at), Some(begin)) = (&record.rig, record.pressed_at(), &record.begin)
        && before.is_none_or(|b| b.pressed_at() != Some(at))
    {
        rigs::pressed(tx, chosen.it.rig, begin.it.number, at).await?;
    }
    if before.is_none_or(|b| b.begin.is_none() || b.workers != record.workers) {
        people(tx, book, record).await?;
    }
    Ok(())
}

fn lots_of(record: &Record) -> Vec<Uuid> {
    record.lots_at(Timestamp::MAX).into_iter().map(|l| l.lot.id).collect()
}

/// People by the log: everyone who wrote of the work.
async fn people(tx: &mut PgConnection, book: Uuid, record: &Record) -> Result<(), Problem> {
    let worked: Vec<Uuid> = record.workers.iter().copied().collect();
    sqlx::query!("delete from batch_person where batch_id = $1 and person_id <> all($2)", book, &worked)
        .execute(&mut *tx)
        .await?;
    sqlx::query!(
        "insert into batch_person (batch_id, person_id) select $1, unnest($2::uuid[]) on conflict do nothing",
        book,
        &worked
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// Lots by the log: a struck pour gives its lot back.
async fn lots(tx: &mut PgConnection, book: Uuid, used: &[Uuid]) -> Result<(), Problem> {
    sqlx::query!("delete from lot_use where batch_id = $1 and lot_id <> all($2)", book, used).execute(&mut *tx).await?;
    sqlx::query!("insert into lot_use (batch_id, lot_id) select $1, unnest($2::uuid[]) on conflict do nothing", book, used)
        .execute(tx)
        .await?;
    Ok(())
}
