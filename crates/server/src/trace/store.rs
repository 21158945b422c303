//! Which batches a question is about, and what is told of each.

use crate::books::read;
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::instruments::InstrumentBook;
use level_keel_core::rig_book::RigBook;
use level_keel_core::trace::{Span, doubts, tips};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// Batches told of on the page at most; how many there are is said.
pub const SHOWN: i64 = 100;
/// On paper; the table that goes along with it has all.
pub const ON_PAPER: i64 = 600;
/// In a table to take along: all of a century.
pub const IN_A_TABLE: i64 = 200_000;

/// The batches a question is about, the newest, and how many there are.
pub struct Batches {
    /// The newest of them.
    pub ids: Vec<Uuid>,
    /// How many there are.
    pub count: i64,
}

/// Another coat of the same part.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CoatBeside {
    pub batch: Uuid,
    pub number: i64,
    pub coat: String,
    /// It lies over this one, by the coat system.
    pub over: bool,
}

/// A batch that is told of.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TraceRow {
    pub id: Uuid,
    pub number: i64,
    pub label: String,
    pub product: String,
    /// open, signed, accepted, left out.
    pub state: String,
    pub begun: Timestamp,
    pub part: Uuid,
    pub part_name: String,
    pub coat: String,
    /// Defects that were seen on it.
    pub defects: i64,
    pub lots: Vec<String>,
    pub people: Vec<String>,
    pub rig: Option<String>,
    pub scales: Vec<String>,
    /// Air, surface and humidity read last before its last pass.
    pub air_c: Option<f64>,
    pub surface_c: Option<f64>,
    pub rh_pct: Option<f64>,
    pub beside: Vec<CoatBeside>,
}

fn counted(ids: Vec<Uuid>, count: Option<i64>) -> Batches {
    Batches { ids, count: count.unwrap_or(0) }
}

/// Those a lot went into.
pub async fn of_lot(db: &mut PgConnection, lot: Uuid, most: i64) -> Result<Batches, Problem> {
    let count = sqlx::query_scalar!("select count(*) from lot_use where lot_id = $1", lot).fetch_one(&mut *db).await?;
    let ids = sqlx::query_scalar!(
        "select b.id from lot_use u join batch b on b.id = u.batch_id where u.lot_id = $1 order by b.number desc limit $2",
        lot,
        most
    );
    Ok(counted(ids.fetch_all(db).await?, count))
}

/// Those that went onto a part.
pub async fn of_part(db: &mut PgConnection, part: Uuid, most: i64) -> Result<Batches, Problem> {
    let count = sqlx::query_scalar!("select count(*) from batch where part_id = $1", part).fetch_one(&mut *db).await?;
    let ids = sqlx::query_scalar!("select id from batch where part_id = $1 order by number desc limit $2", part, most);
    Ok(counted(ids.fetch_all(db).await?, count))
}

/// Those a rig sprayed within a span: begun before its end, and not ended before it began.
pub async fn of_rig(db: &mut PgConnection, rig: Uuid, span: &Span, most: i64) -> Result<Batches, Problem> {
    let (from, to) = (span.from.map(ToSqlx::to_sqlx), span.to.map(ToSqlx::to_sqlx));
    let count = sqlx::query_scalar!(
        "select count(*) from batch where rig_id = $1 and ($2::timestamptz is null or state = 'open' or coalesce(ended, last_happened) >= $2)
           and ($3::timestamptz is null or begun < $3)",
        rig,
        from as _,
        to as _
    )
    .fetch_one(&mut *db)
    .await?;
    let ids = sqlx::query_scalar!(
        "select id from batch where rig_id = $1 and ($2::timestamptz is null or state = 'open' or coalesce(ended, last_happened) >= $2)
           and ($3::timestamptz is null or begun < $3) order by number desc limit $4",
        rig,
        from as _,
        to as _,
        most
    );
    Ok(counted(ids.fetch_all(db).await?, count))
}

/// Those weighed on a scale within a span.
pub async fn of_scale(db: &mut PgConnection, scale: Uuid, span: &Span, most: i64) -> Result<Batches, Problem> {
    let (from, to) = (span.from.map(ToSqlx::to_sqlx), span.to.map(ToSqlx::to_sqlx));
    let count = sqlx::query_scalar!(
        "select count(*) from batch_instrument where instrument_id = $1 and ($2::timestamptz is null or last_at >= $2)
           and ($3::timestamptz is null or first_at <= $3)",
        scale,
        from as _,
        to as _
    )
    .fetch_one(&mut *db)
    .await?;
    let ids = sqlx::query_scalar!(
        "select b.id from batch_instrument i join batch b on b.id = i.batch_id
         where i.instrument_id = $1 and ($2::timestamptz is null or i.last_at >= $2) and ($3::timestamptz is null or i.first_at <= $3)
         order by b.number desc limit $4",
        scale,
        from as _,
        to as _,
        most
    );
    Ok(counted(ids.fetch_all(db).await?, count))
}

/// Those somebody worked on between two instants.
pub async fn of_person(
    db: &mut PgConnection,
    person: Uuid,
    from: Timestamp,
    to: Timestamp,
    most: i64,
) -> Result<Batches, Problem> {
    let (from, to) = (from.to_sqlx(), to.to_sqlx());
    let ids = sqlx::query_scalar!(
        "select b.id from batch_person w join batch b on b.id = w.batch_id
         where w.person_id = $1 and b.begun < $3 and (b.state = 'open' or b.last_happened >= $2)
           and exists (select 1 from entry e where e.book_id = b.id and e.who = $1 and e.happened >= $2 and e.happened < $3)
         order by b.number desc limit $4",
        person,
        from as _,
        to as _,
        most
    )
    .fetch_all(db)
    .await?;
    let count = i64::try_from(ids.len()).ok();
    Ok(counted(ids, count))
}

/// The tips of a rig, each with its span.
pub async fn spans_of_rig(db: &mut PgConnection, state: &State, rig: Uuid) -> Result<Vec<Span>, Problem> {
    let book: Arc<RigBook> = read(db, state, rig).await?;
    Ok(tips(&book.tip))
}

/// Each time a scale was found off, with what that puts in doubt; and whether a check of it ever told anything.
pub async fn spans_of_scale(db: &mut PgConnection, state: &State, scale: Uuid) -> Result<(Vec<Span>, bool), Problem> {
    let book: Arc<InstrumentBook> = read(db, state, scale).await?;
    let checks: Vec<_> = book.checks.iter().filter_map(|c| Some((c.at, c.it.found()?.fault))).collect();
    Ok((doubts(&checks), !checks.is_empty()))
}

/// What is told of batches, the newest first.
pub async fn rows(db: &mut PgConnection, ids: &[Uuid]) -> Result<Vec<TraceRow>, Problem> {
    let rows = sqlx::query!(
        r#"select b.id, b.number, b.label, b.product, b.state, b.begun as "begun: jiff_sqlx::Timestamp", b.part_id, p.name as part_name,
             c.name as coat, r.name as "rig?",
             (select count(*) from defect d where d.batch_id = b.id) as "defects!",
             array(select distinct l.code from lot_use u join lot l on l.id = u.lot_id where u.batch_id = b.id order by 1) as "lots!",
             array(select w.name from batch_person x join person w on w.id = x.person_id where x.batch_id = b.id order by 1) as "people!",
             array(select i.name from batch_instrument x join instrument i on i.id = x.instrument_id where x.batch_id = b.id order by 1)
               as "scales!",
             (select e.payload_json from entry e where e.book_id = b.id and e.kind = 'conditions'
                and (b.ended is null or e.happened <= b.ended) order by e.happened desc, e.seq desc limit 1) as weather,
             (select coalesce(jsonb_agg(jsonb_build_object('batch', o.id, 'number', o.number, 'coat', oc.name,
                'over', (oc.place, o.number) > (c.place, b.number)) order by oc.place, o.number), '[]')
                from batch o join coat oc on oc.id = o.coat_id
                where o.part_id = b.part_id and o.id <> b.id and o.state <> 'left_out') as "beside!"
           from batch b join part p on p.id = b.part_id join coat c on c.id = b.coat_id left join rig r on r.id = b.rig_id
           where b.id = any($1) order by b.number desc"#,
        ids
    )
    .fetch_all(db)
    .await?;
    let read = |weather: &Option<Value>, field: &str| weather.as_ref().and_then(|w| w.get(field)).and_then(Value::as_f64);
    rows.into_iter()
        .map(|r| {
            Ok(TraceRow {
                id: r.id,
                number: r.number,
                label: r.label,
                product: r.product,
                state: r.state,
                begun: r.begun.to_jiff(),
                part: r.part_id,
                part_name: r.part_name,
                coat: r.coat,
                defects: r.defects,
                lots: r.lots,
                people: r.people,
                rig: r.rig,
                scales: r.scales,
                air_c: read(&r.weather, "air_c"),
                surface_c: read(&r.weather, "surface_c"),
                rh_pct: read(&r.weather, "rh_pct"),
                beside: serde_json::from_value(r.beside)?,
            })
        })
        .collect()
}
