//! Places where lots stand: the band each is to keep, what a probe or a person read there, how long it was outside.

use crate::auth::Person;
use crate::books::{NewEntry, Writing};
use crate::conditions::readings_since;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, post, put, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::pot_life::after;
use level_keel_core::quantity::{Shown, resolve, show_duration};
use level_keel_core::refusal::Refusal;
use level_keel_core::stores::StoreClass;
use level_keel_core::stores::place::{Place, PlaceBook, PlaceChanged, PlaceKind};
use level_keel_core::stores::storage::{StoreBand, StoreReading, StoreSchool, level, out_of_band_s, schools};
use level_keel_core::verdict::Level;
use level_keel_core::wire::read;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

/// Days looked back for time out of band.
const LOOKS_BACK_DAYS: f64 = 7.0;
/// A reading by hand is shown as old after this.
const OLD_S: f64 = 24.0 * 3600.0;

/// A place with what it keeps.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PlaceView {
    pub id: Uuid,
    pub name: String,
    pub store_min_c: Option<f64>,
    pub store_max_c: Option<f64>,
    pub min: Option<Shown>,
    pub max: Option<Shown>,
    pub probe: Option<String>,
    /// The last reading on its level; missing: none yet.
    pub level: Option<Level>,
    pub read_at: Option<Timestamp>,
    /// Whether a probe or a person read it last.
    pub by_probe: bool,
    /// Too old to be taken for now.
    pub old: bool,
    /// Time out of band in the last seven days, in words; missing: none.
    pub out_of_band: Option<String>,
    /// Readings of the last seven days, oldest first, for the picture: x from 0 to 1, y as the level's places.
    pub trace: Vec<TracePoint>,
    pub lots: i64,
    /// It holds peroxide, or resin: the other may not come here.
    pub holds: Option<StoreClass>,
}

/// A reading in the picture; places run from 0 (a week ago, bottom) to 1.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TracePoint {
    pub x: f64,
    pub y: f64,
}

/// The places, and the usual bands to choose from.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Places {
    pub places: Vec<PlaceView>,
    pub schools: Vec<StoreSchool>,
}

/// A place as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedPlace {
    /// `name`, `store_min_c`, `store_max_c`, `probe`; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::PlaceTyped)]
    pub place: Value,
}

fn parse(mut value: Value, person: &Person) -> Result<Place, Problem> {
    resolve(&mut value, person.prefs)?;
    Ok(read::<Place>(value)?.validate(person.prefs)?)
}

/// The row of a typed name, made when it is new, with the entry that says who named it.
pub async fn ensure_place(w: &Writing<'_>, tx: &mut PgConnection, name: &str) -> Result<(Uuid, String), Problem> {
    if let Some(known) = by_name(tx, name).await? {
        return Ok(known);
    }
    match put_down(w, tx, Uuid::now_v7(), Place::named(name)).await? {
        Some(id) => Ok((id, name.into())),
        // Another named it at the same moment.
        None => by_name(tx, name).await?.ok_or(Problem::NotFound("place")),
    }
}

async fn by_name(tx: &mut PgConnection, name: &str) -> Result<Option<(Uuid, String)>, Problem> {
    let row = sqlx::query!("select id, name from place where lower(name) = lower($1)", name).fetch_optional(tx).await?;
    Ok(row.map(|r| (r.id, r.name)))
}

fn taken() -> Refusal {
    Refusal::bad_input("taken", "name", "There is a place of this name.")
}

/// Makes the row and the book of a place; `None`: the name is taken.
pub async fn put_down(w: &Writing<'_>, tx: &mut PgConnection, id: Uuid, place: Place) -> Result<Option<Uuid>, Problem> {
    let made = sqlx::query_scalar!(
        "insert into place (id, name, created) values ($1, $2, $3) on conflict (lower(name)) do nothing returning id",
        id,
        place.name,
        w.now.to_sqlx() as _,
    );
    if made.fetch_optional(&mut *tx).await?.is_none() {
        return Ok(None);
    }
    changed(w, tx, id, PlaceChanged { place, before: None }).await?;
    Ok(Some(id))
}

/// Writes down how a place is to be kept from now on.
async fn changed(w: &Writing<'_>, tx: &mut PgConnection, id: Uuid, what: PlaceChanged) -> Result<(), Problem> {
    let entry = NewEntry::now(Uuid::now_v7(), PlaceKind::Changed, serde_json::to_value(what)?);
    let inside = Writing { inside: true, dry_run: false, ..*w };
    // Boxed: a lot that comes in to a new place writes in two books at once.
    Box::pin(inside.write::<PlaceBook>(tx, id, entry)).await.map(drop)
}

/// The code of a lot in a place that this class may not stand beside. The place is locked, so that two that come in at
/// once see each other.
pub async fn clash(tx: &mut PgConnection, place: Uuid, lot: Uuid, class: StoreClass) -> Result<Option<String>, Problem> {
    sqlx::query!("select id from place where id = $1 for update", place).fetch_one(&mut *tx).await?;
    let other = match class {
        StoreClass::Peroxide => StoreClass::Resin,
        StoreClass::Resin => StoreClass::Peroxide,
        StoreClass::Other => return Ok(None),
    };
    let code = sqlx::query_scalar!(
        "select code from lot where place_id = $1 and class = $2 and id <> $3 and left_g > 0 order by code limit 1",
        place,
        other.name(),
        lot
    )
    .fetch_optional(tx)
    .await?;
    Ok(code)
}

/// The places of the shop.
#[utoipa::path(operation_id = "places_list", tag = "stores", responses((status = 200, body = Places)))]
#[get("/places")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Places> {
    let now = state.clock.now();
    let from = after(now, -LOOKS_BACK_DAYS * 86_400.0);
    let rows = sqlx::query!(
        r#"select p.id, p.name, p.store_min_c, p.store_max_c, p.probe,
             (select count(*) from lot l where l.place_id = p.id and l.left_g > 0) as "lots!",
             (select min(l.class) from lot l where l.place_id = p.id and l.left_g > 0 and l.class <> 'other') as class
           from place p order by lower(p.name)"#
    )
    .fetch_all(&state.db)
    .await?;
    let mut db = state.db.acquire().await?;
    let mut places = Vec::new();
    for r in rows {
        let band = StoreBand { min_c: r.store_min_c, max_c: r.store_max_c };
        let mut readings = readings_since(&mut db, &format!("place:{}", r.id), from).await?;
        let by_hand = readings.last().copied();
        let mut fresh = None;
        if let Some(probe) = &r.probe {
            readings.extend(readings_since(&mut db, &format!("probe:{probe}"), from).await?);
            readings.sort_by_key(|s| s.at);
            fresh = state.probes.fresh(probe, now);
        }
        let last = fresh.map(|(at, temp_c)| StoreReading { at, temp_c }).or(readings.last().copied());
        let by_probe = last.is_some_and(|l| by_hand.is_none_or(|h| h.at < l.at));
        let outside = out_of_band_s(&readings, band, from, now);
        let drawn = last.map(|l| level("Temperature", l.temp_c, band, person.prefs));
        let place_on = |c: f64| level("", c, band, person.prefs);
        let run = now.duration_since(from).as_secs_f64();
        let step = readings.len().div_ceil(96).max(1);
        let trace = readings.iter().step_by(step).map(|s| {
            let y = place_on(s.temp_c);
            TracePoint { x: s.at.duration_since(from).as_secs_f64() / run, y: (y.from + y.to) / 2.0 }
        });
        let say = |c: f64| level_keel_core::quantity::show(c, level_keel_core::quantity::QuantityKind::Temperature, person.prefs);
        places.push(PlaceView {
            trace: trace.collect(),
            id: r.id,
            name: r.name,
            store_min_c: r.store_min_c,
            store_max_c: r.store_max_c,
            min: r.store_min_c.map(say),
            max: r.store_max_c.map(say),
            level: drawn,
            read_at: last.map(|l| l.at),
            by_probe,
            old: last.is_some_and(|l| {
                let age = now.duration_since(l.at).as_secs_f64();
                if by_probe { fresh.is_none() } else { age > OLD_S }
            }),
            probe: r.probe,
            out_of_band: (outside > 60.0).then(|| show_duration(outside)),
            lots: r.lots,
            holds: r.class.as_deref().map(StoreClass::from_name),
        });
    }
    Ok(web::Json(Places { places, schools: schools() }))
}

/// Makes a place.
#[utoipa::path(operation_id = "places_create", tag = "stores", request_body = TypedPlace, responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[post("/places")]
pub async fn create(state: web::Data<State>, person: Person, body: web::Json<TypedPlace>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let wanted = parse(body.into_inner().place, &person)?;
    let mut tx = state.db.begin().await?;
    let id = put_down(&Writing::of(&state, &person, state.clock.now()), &mut tx, Uuid::now_v7(), wanted).await?;
    let id = id.ok_or_else(taken)?;
    tx.commit().await?;
    Ok(web::Json(id))
}

/// Changes a place.
#[utoipa::path(operation_id = "places_change", tag = "stores", params(("id" = Uuid, Path)), request_body = TypedPlace, responses((status = 200, body = Uuid), (status = 403), (status = 404), (status = 422)))]
#[put("/places/{id}")]
pub async fn change(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<TypedPlace>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let wanted = parse(body.into_inner().place, &person)?;
    let mut tx = state.db.begin().await?;
    let other = sqlx::query_scalar!("select id from place where lower(name) = lower($1) and id <> $2", wanted.name, *id)
        .fetch_optional(&mut *tx)
        .await?;
    if other.is_some() {
        return Err(taken().into());
    }
    let row = sqlx::query!("select name, store_min_c, store_max_c, probe from place where id = $1 for update", *id)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("place"))?;
    let before = Place { name: row.name, store_min_c: row.store_min_c, store_max_c: row.store_max_c, probe: row.probe };
    if before != wanted {
        let what = PlaceChanged { place: wanted, before: Some(before) };
        changed(&Writing::of(&state, &person, state.clock.now()), &mut tx, *id, what).await?;
    }
    tx.commit().await?;
    Ok(web::Json(*id))
}

/// Writes in the book of a place: `temperature`, or the `strike` of one.
#[utoipa::path(operation_id = "places_append", tag = "stores", params(("id" = Uuid, Path)), request_body = crate::openapi::NewPlaceEntry, responses((status = 200, body = bool), (status = 404), (status = 409), (status = 422)))]
#[post("/places/{id}/entries")]
pub async fn append(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<NewEntry>) -> Answer<bool> {
    Writing::of(&state, &person, state.clock.now()).one::<PlaceBook>(*id, body.into_inner()).await?;
    Ok(web::Json(true))
}
