//! Lots over the wire.

use super::append::{self as write, Stored};
use super::component;
use super::list::name_of;
use crate::auth::Person;
use crate::books::{NewEntry, Writing, read};
use crate::problem::{Answer, Problem};
use crate::sheets::DryRun;
use crate::state::State;
use actix_web::{get, post, web};
use jiff::Timestamp;
use jiff::civil::Date;
use level_keel_core::book::{Ledger, LedgerKind};
use level_keel_core::mixing::Component;
use level_keel_core::quantity::{QuantityKind, Shown, show};
use level_keel_core::stores::check::may_lot;
use level_keel_core::stores::fifo::{LotState, Waiting};
use level_keel_core::stores::payload::PlaceRef;
use level_keel_core::stores::{Certified, Lot, LotKind};
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// A line of the book of a lot.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LotLogLine {
    pub entry: Uuid,
    pub kind: LotKind,
    pub at: Timestamp,
    pub by: String,
    pub text: String,
    pub struck: Option<String>,
    /// This reader may strike it.
    pub may_strike: bool,
}

/// A batch that took from a lot.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LotTaken {
    pub batch: Uuid,
    pub number: i64,
    pub label: String,
    pub used: Shown,
    pub at: Timestamp,
}

/// A lot, whole.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LotView {
    pub id: Uuid,
    pub code: String,
    pub sheet: Uuid,
    pub product: String,
    pub component: Component,
    pub component_name: String,
    /// False: typed at a pour, never received.
    pub is_received: bool,
    pub makers_lot: Option<String>,
    pub colour: Option<String>,
    pub received: Option<Date>,
    pub made: Option<Date>,
    pub expires: Option<Date>,
    pub container: Option<Shown>,
    pub containers: Option<f64>,
    pub left: Option<Shown>,
    pub left_part: f64,
    pub place: Option<PlaceRef>,
    pub quarantined: Option<String>,
    pub damaged: Option<String>,
    pub state: LotState,
    pub word: String,
    pub certificates: Vec<Certified>,
    pub taken: Vec<LotTaken>,
    pub log: Vec<LotLogLine>,
    pub may_free: bool,
}

/// A lot with its book and what batches took of it.
#[utoipa::path(operation_id = "lots_one", tag = "stores", params(("id" = Uuid, Path)), responses((status = 200, body = LotView), (status = 404)))]
#[get("/lots/{id}")]
pub async fn one(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<LotView> {
    let mut db = state.db.acquire().await?;
    let row = sqlx::query!(
        r#"select l.code, l.sheet_id, l.component, l.left_g, l.expires as "expires: jiff_sqlx::Date", v.name as product, v.body ->> 'additives' as additives
           from lot l join lateral (select name, body from sheet_version where sheet_id = l.sheet_id order by edition desc limit 1) v on true
           where l.id = $1"#,
        *id
    )
    .fetch_optional(&mut *db)
    .await?
    .ok_or(Problem::NotFound("lot"))?;
    let lot: Arc<Lot> = read(&mut db, &state, *id).await?;
    let taken = sqlx::query!(
        r#"select b.id, b.number, b.label, sum(u.used_g) as "used_g!", min(u.at) as "at!: jiff_sqlx::Timestamp"
           from lot_pour u join batch b on b.id = u.batch_id where u.lot_id = $1 group by b.id, b.number, b.label order by 5 desc limit 200"#,
        *id
    )
    .fetch_all(&mut *db)
    .await?;
    let prefs = person.prefs;
    let came = lot.received.as_ref();
    let waiting = Waiting {
        code: row.code.clone(),
        received: came.map_or(Date::MIN, |r| r.received),
        expires: row.expires.map(|d| d.to_jiff()),
        quarantined: lot.quarantined.is_some(),
        damaged: lot.damaged.is_some(),
        left_g: row.left_g.unwrap_or(0.0),
    };
    let (lot_state, word) = waiting.state(state.shop_day());
    let of = component(&row.component)?;
    let grams = |g: f64| show(g, QuantityKind::Mass, prefs);
    let lead = matches!(person.role, level_keel_core::people::Role::Lead | level_keel_core::people::Role::Owner);
    let log = lot.log.iter().rev().map(|l| LotLogLine {
        entry: l.entry,
        kind: l.kind,
        at: l.at,
        by: l.by.clone(),
        text: l.said.as_deref().map_or_else(|| "cannot be read".into(), |said| lot.words(said, prefs)),
        struck: l.struck.clone(),
        may_strike: l.struck.is_none()
            && l.kind != LotKind::Strike
            && (lead || l.who == person.id)
            && (l.kind != LotKind::Quarantined || may_lot(person.role, LotKind::Freed)),
    });
    Ok(web::Json(LotView {
        id: *id,
        code: row.code,
        sheet: row.sheet_id,
        product: row.product,
        component: of,
        component_name: name_of(of, row.additives.as_deref()),
        is_received: came.is_some(),
        makers_lot: came.and_then(|r| r.makers_lot.clone()),
        colour: came.and_then(|r| r.colour.clone()),
        received: came.map(|r| r.received),
        made: came.and_then(|r| r.made),
        expires: waiting.expires,
        container: came.map(|r| grams(r.container_g)),
        containers: came.map(|r| r.containers_count),
        left: row.left_g.map(grams),
        left_part: came.map_or(0.0, |r| (waiting.left_g / r.total_g().max(1e-9)).clamp(0.0, 1.0)),
        place: lot.place.clone(),
        quarantined: lot.quarantined.clone(),
        damaged: lot.damaged.clone(),
        state: lot_state,
        word: if came.is_some() { word } else { "not received".into() },
        certificates: lot.certificates.clone(),
        taken: taken
            .into_iter()
            .map(|t| LotTaken { batch: t.id, number: t.number, label: t.label, used: grams(t.used_g), at: t.at.to_jiff() })
            .collect(),
        log: log.collect(),
        may_free: may_lot(person.role, LotKind::Freed),
    }))
}

/// A lot comes in.
#[utoipa::path(operation_id = "lots_receive", tag = "stores", params(DryRun), request_body = crate::openapi::NewLotEntry, responses((status = 200, body = Stored), (status = 409), (status = 422)))]
#[post("/lots")]
pub async fn receive(
    state: web::Data<State>,
    person: Person,
    dry: web::Query<DryRun>,
    body: web::Json<NewEntry>,
) -> Answer<Stored> {
    let writing = Writing { dry_run: dry.dry_run, ..Writing::of(&state, &person, state.clock.now()) };
    let mut new = body.into_inner();
    new.kind = LotKind::Received.name().into();
    Ok(web::Json(write::receive(&writing, new).await?))
}

/// Writes in the book of a lot: counted, moved, quarantined, freed, damaged, certified, note, strike.
#[utoipa::path(operation_id = "lots_append", tag = "stores", params(("id" = Uuid, Path), DryRun), request_body = crate::openapi::NewLotEntry, responses((status = 200, body = Stored), (status = 404), (status = 409), (status = 422)))]
#[post("/lots/{id}/entries")]
pub async fn append(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    dry: web::Query<DryRun>,
    body: web::Json<NewEntry>,
) -> Answer<Stored> {
    let writing = Writing { dry_run: dry.dry_run, ..Writing::of(&state, &person, state.clock.now()) };
    Ok(web::Json(write::append(&writing, *id, body.into_inner()).await?))
}
