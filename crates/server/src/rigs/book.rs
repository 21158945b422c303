//! The book of a rig: what was inspected, cleaned, fitted, shut down and cared for; what that says of its pressure.

use super::RigView;
use crate::atomizing::table;
use crate::auth::Person;
use crate::books::NewEntry;
use crate::books::small::{Small, happened};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{post, web};
use jiff::Timestamp;
use level_keel_core::canonical::cut;
use level_keel_core::care::{Done, Stand};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::Refusal;
use level_keel_core::rig_book::{Changed, RigEntry, RigEntryKind, WearView, tip_wear};
use level_keel_core::rigs::Rig;
use serde::Serialize;
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

/// A line of a rig's book.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RigLine {
    pub entry: Uuid,
    pub at: Timestamp,
    pub by: String,
    pub text: String,
    pub struck: bool,
    /// A strike, or struck: no more to be done with it.
    pub may_strike: bool,
}

/// The book of a rig, newest first.
pub async fn lines(db: &mut PgConnection, rig: Uuid, prefs: Prefs) -> Result<Vec<RigLine>, Problem> {
    let rows = sqlx::query!(
        r#"select e.id, e.kind, e.payload_json as "payload!", p.name, e.happened as "at: jiff_sqlx::Timestamp",
             exists (select 1 from entry s where s.book_id = $1 and s.kind = 'strike' and (s.payload_json ->> 'entry')::uuid = e.id) as "struck!"
           from entry e join person p on p.id = e.who where e.book_id = $1 order by e.seq desc limit 200"#,
        rig
    )
    .fetch_all(db)
    .await?;
    Ok(rows
        .into_iter()
        .map(|r| {
            let kind = RigEntryKind::from_name(&r.kind);
            let said = kind.and_then(|k| RigEntry::decode(k, &r.payload).ok());
            RigLine {
                entry: r.id,
                at: r.at.to_jiff(),
                by: r.name,
                text: said.map_or_else(|| "An entry this version cannot read".into(), |s| s.words(prefs)),
                struck: r.struck,
                may_strike: !r.struck && kind != Some(RigEntryKind::Strike),
            }
        })
        .collect())
}

/// How worn the fitted tip is, by the flows its book keeps.
pub async fn worn(db: &mut PgConnection, rig: Uuid, prefs: Prefs) -> Result<Option<WearView>, Problem> {
    let rows = sqlx::query!(
        r#"select e.kind, e.payload_json as "payload!" from entry e
           where e.book_id = $1 and e.kind in ('fitted', 'tip_flow')
             and not exists (select 1 from entry s where s.book_id = $1 and s.kind = 'strike' and (s.payload_json ->> 'entry')::uuid = e.id)
           order by e.happened, e.seq"#,
        rig
    )
    .fetch_all(db)
    .await?;
    let said = |kind: &str, payload| RigEntry::decode(RigEntryKind::from_name(kind)?, payload).ok();
    let book: Vec<RigEntry> = rows.iter().filter_map(|r| said(&r.kind, &r.payload)).collect();
    Ok(tip_wear(&book, prefs))
}

/// What the book and the gauges say of a rig.
pub struct Kept {
    steps: Vec<Done>,
    cared: Vec<Done>,
    pressed_at: Option<Timestamp>,
    live_kpa: Option<f64>,
}

impl Kept {
    /// Of this rig.
    pub fn of<'a>(&'a self, rig: &'a Rig) -> Stand<'a> {
        Stand { rig, steps: &self.steps, cared: &self.cared, pressed_at: self.pressed_at, live_kpa: self.live_kpa }
    }
}

/// Reads it: the newest doing of each step and item that is not struck, when a batch pressed it last, what its transmitter
/// reads now.
pub async fn stand(db: &mut PgConnection, state: &State, id: Uuid, rig: &Rig) -> Result<Kept, Problem> {
    let rows = sqlx::query!(
        r#"select distinct on (e.kind, coalesce(e.payload_json ->> 'step', e.payload_json ->> 'item'))
             e.kind, coalesce(e.payload_json ->> 'step', e.payload_json ->> 'item') as "id!", p.name,
             e.happened as "at: jiff_sqlx::Timestamp"
           from entry e join person p on p.id = e.who
           where e.book_id = $1 and e.kind in ('shut_step', 'cared')
             and not exists (select 1 from entry s where s.book_id = $1 and s.kind = 'strike' and (s.payload_json ->> 'entry')::uuid = e.id)
           order by e.kind, coalesce(e.payload_json ->> 'step', e.payload_json ->> 'item'), e.happened desc, e.seq desc"#,
        id
    )
    .fetch_all(&mut *db)
    .await?;
    let pressed = sqlx::query_scalar!(r#"select pressed_at as "at: jiff_sqlx::Timestamp" from rig where id = $1"#, id)
        .fetch_optional(db)
        .await?;
    let mut kept = Kept {
        steps: Vec::new(),
        cared: Vec::new(),
        pressed_at: pressed.flatten().map(|t| t.to_jiff()),
        live_kpa: state.gauges(&rig.name, state.clock.now()).pot_kpa,
    };
    for row in rows {
        let done = Done { id: row.id, at: row.at.to_jiff(), by: row.name };
        if row.kind == "cared" { kept.cared.push(done) } else { kept.steps.push(done) }
    }
    Ok(kept)
}

/// Writes in the book of a rig: inspected, cleaned, fitted, a tip's flow, a step of its shut-down, an item of care, note, strike.
#[utoipa::path(operation_id = "rigs_append", tag = "rigs", params(("id" = Uuid, Path)), request_body = NewEntry, responses((status = 200, body = RigView), (status = 404), (status = 409), (status = 422)))]
#[post("/rigs/{id}/entries")]
pub async fn append(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<NewEntry>) -> Answer<RigView> {
    write(&state, &person, *id, body.into_inner(), state.clock.now()).await?;
    super::one_view(&state, &person, *id).await.map(web::Json)
}

/// Writes an entry in the book of a rig at an instant, and what it changes of the rig, in one go.
pub async fn write(state: &State, person: &Person, id: Uuid, new: NewEntry, now: Timestamp) -> Result<(), Problem> {
    let at = happened(now, new.ago_s)?;
    let kind = RigEntryKind::from_name(&new.kind)
        .ok_or_else(|| Refusal::bad_input("unknown-kind", "kind", "There is no such kind of entry."))?;
    let mut tx = state.db.begin().await?;
    let row = sqlx::query!("select body from rig where id = $1 for update", id)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("rig"))?;
    let Some(mut small) = Small::open(&mut tx, (id, "rig"), person, new, at, now).await? else { return Ok(()) };
    let mut rig: Rig = serde_json::from_value(row.body)?;
    let entry = RigEntry::new(kind, &small.payload, person.prefs)?;
    let kept = stand(&mut tx, state, id, &rig).await?;
    let tips = table(&mut *tx).await?;
    entry.may(&kept.of(&rig), &tips, person.prefs)?;
    let entry = entry.filled(&kept.of(&rig));
    if let RigEntry::Strike(s) = &entry {
        let struck = small.struck(&mut tx, s.entry).await?;
        if let Some(kind) = RigEntryKind::from_name(&struck.kind) {
            rig = RigEntry::decode(kind, &struck.payload)?.undo(rig);
        }
    }
    small.payload = entry.payload()?;
    let rig = entry.apply(rig);
    sqlx::query!("update rig set body = $2, name = $3 where id = $1", id, serde_json::to_value(&rig)?, rig.name)
        .execute(&mut *tx)
        .await?;
    small.store(&mut tx).await?;
    tx.commit().await?;
    Ok(())
}

/// Writes down what the figures of a rig are from now on: who put them so stands in its book.
pub async fn changed(tx: &mut PgConnection, person: &Person, id: Uuid, what: Changed, now: Timestamp) -> Result<(), Problem> {
    let payload = RigEntry::Changed(what).payload()?;
    let new = NewEntry { id: Uuid::now_v7(), kind: RigEntryKind::Changed.name().into(), payload, ago_s: 0.0 };
    if let Some(small) = Small::open(&mut *tx, (id, "rig"), person, new, cut(now), now).await? {
        small.store(tx).await?;
    }
    Ok(())
}
