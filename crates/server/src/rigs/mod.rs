//! Rigs: rows a lead edits, put together from pieces, each rig with a book of its own.

pub mod book;
pub mod gauges;
pub mod pieces;

use crate::atomizing::table;
use crate::auth::Person;
use crate::books::{Writing, read as read_book};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, post, put, web};
use book::{RigLogLine, changed, lines, pressed_at};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::care::{CareView, RigState};
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{Prefs, QuantityKind, edit_text, resolve};
use level_keel_core::refusal::Refusal;
use level_keel_core::rig_book::{Changed, RigBook, Sprayed, WearView, sprayed_kg};
use level_keel_core::rigs::pieces::assemble;
use level_keel_core::rigs::{Along, LinePoint, Rig, RigKind, points};
use level_keel_core::sheets::Sheet;
use level_keel_core::wire::read;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use std::collections::BTreeMap;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// A rig as it is listed.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RigView {
    pub id: Uuid,
    pub rig: Rig,
    pub retired: bool,
    /// Each quantity as a text to edit, by field.
    pub texts: BTreeMap<String, String>,
    pub points: Vec<LinePoint>,
    pub troubles: Vec<String>,
    /// Since when a batch has it under pressure, by its book.
    pub under_pressure: Option<Timestamp>,
    /// How it stands; only for one rig.
    pub care: Option<CareView>,
    /// How worn its tip is; only for one rig, once two flows were caught through it.
    pub wear: Option<WearView>,
    /// Its book, newest first; only for one rig.
    pub book: Vec<RigLogLine>,
}

/// A rig as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedRig {
    /// Made by the browser, for a new one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// The rig; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::RigForm)]
    pub rig: Value,
    /// Not used any more.
    #[serde(default)]
    pub retired: bool,
}

/// Each quantity of a thing as a text to edit.
fn texts(value: &Value, prefs: Prefs) -> BTreeMap<String, String> {
    let fields = value.as_object().into_iter().flatten();
    fields
        .filter_map(|(field, v)| {
            let kind = QuantityKind::of_field(field)?;
            let text = |v: &Value| v.as_f64().map(|v| edit_text(v, kind, prefs));
            Some((
                field.clone(),
                v.as_array().map_or_else(
                    || text(v).unwrap_or_default(),
                    |all| all.iter().filter_map(text).collect::<Vec<_>>().join("; "),
                ),
            ))
        })
        .collect()
}

fn seen(id: Uuid, rig: Rig, retired: bool, prefs: Prefs) -> RigView {
    RigView {
        id,
        texts: serde_json::to_value(&rig).map(|v| texts(&v, prefs)).unwrap_or_default(),
        points: points(&rig, Along::default(), prefs),
        troubles: rig.troubles(prefs),
        rig,
        retired,
        under_pressure: None,
        care: None,
        wear: None,
        book: Vec::new(),
    }
}

/// Empty texts are fields not given; spare nozzles are typed in one field, apart by a semicolon.
fn as_given(value: &mut Value, prefs: Prefs) -> Result<(), Problem> {
    if let Value::Object(map) = value {
        map.retain(|_, v| v.as_str().is_none_or(|t| !t.trim().is_empty()));
        if let Some(Value::String(text)) = map.get("spare_mm").cloned() {
            let all: Vec<&str> = text.split(';').map(str::trim).filter(|t| !t.is_empty()).collect();
            map.insert("spare_mm".into(), all.into());
        }
    }
    resolve(value, prefs)?;
    Ok(())
}

/// Reads a rig as typed, with the figures of its pieces.
async fn parse(tx: &mut PgConnection, value: Value, prefs: Prefs) -> Result<Rig, Problem> {
    let tips = table(&mut *tx).await?;
    Ok(assembled(tx, value, prefs).await?.validate(&tips, prefs)?)
}

/// A rig as far as it is typed, with the figures of its pieces: nothing it needs is asked for.
async fn assembled(tx: &mut PgConnection, mut value: Value, prefs: Prefs) -> Result<Rig, Problem> {
    as_given(&mut value, prefs)?;
    if let Value::Object(map) = &mut value {
        let kind: RigKind = read(map.get("kind").cloned().unwrap_or(Value::Null))?;
        let wanted: BTreeMap<String, Option<Uuid>> = match map.get("pieces") {
            None | Some(Value::Null) => BTreeMap::new(),
            Some(fitted) => read(fitted.clone())?,
        };
        let wanted: BTreeMap<String, Uuid> = wanted.into_iter().filter_map(|(place, id)| Some((place, id?))).collect();
        let fitted = pieces::fitted(tx, &wanted).await?;
        assemble(map, kind, &fitted)?;
        map.insert("pieces".into(), serde_json::to_value(&wanted)?);
    }
    Ok(read::<Rig>(value)?)
}

/// A rig while it is put together.
#[derive(Debug, Serialize, ToSchema)]
pub struct RigDrawn {
    /// The line as it would be drawn.
    pub points: Vec<LinePoint>,
    /// What is short of it before any pressure.
    pub troubles: Vec<String>,
    /// What it still needs before it can be kept; missing: nothing.
    pub needs: Option<String>,
}

/// What a rig would be, drawn while it is typed. Nothing is kept.
#[utoipa::path(operation_id = "rigs_understand", tag = "rigs", request_body = TypedRig, responses((status = 200, body = RigDrawn), (status = 422)))]
#[post("/rigs/understand")]
pub async fn understand(state: web::Data<State>, person: Person, body: web::Json<TypedRig>) -> Answer<RigDrawn> {
    let mut db = state.db.acquire().await?;
    let mut typed = body.into_inner().rig;
    let unnamed = typed["name"].as_str().is_none_or(|text| text.trim().is_empty());
    if let Value::Object(map) = &mut typed {
        // The drawing needs neither name nor gun.
        map.retain(|field, v| !matches!(field.as_str(), "name" | "gun") || v.as_str().is_some_and(|t| !t.trim().is_empty()));
        for (field, word) in [("name", "rig"), ("gun", "Gun"), ("class", "conventional")] {
            map.entry(field).or_insert_with(|| word.into());
        }
    }
    let rig = assembled(&mut db, typed, person.prefs).await?;
    let tips = table(&mut *db).await?;
    let needs = match rig.clone().validate(&tips, person.prefs) {
        Err(refusal) => Some(refusal.text),
        Ok(_) if unnamed => Some("What is it called?".into()),
        Ok(_) => None,
    };
    Ok(web::Json(RigDrawn { points: points(&rig, Along::default(), person.prefs), troubles: rig.troubles(person.prefs), needs }))
}

/// The rigs of the shop, those in use first.
#[utoipa::path(operation_id = "rigs_list", tag = "rigs", responses((status = 200, body = [RigView])))]
#[get("/rigs")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<RigView>> {
    let rows = sqlx::query!("select id, body, retired from rig order by retired, lower(name)").fetch_all(&state.db).await?;
    let all: Result<Vec<RigView>, Problem> =
        rows.into_iter().map(|r| Ok(seen(r.id, serde_json::from_value(r.body)?, r.retired, person.prefs))).collect();
    Ok(web::Json(all?))
}

/// One rig with its book and how it stands.
#[utoipa::path(operation_id = "rigs_one", tag = "rigs", params(("id" = Uuid, Path)), responses((status = 200, body = RigView), (status = 404)))]
#[get("/rigs/{id}")]
pub async fn one(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<RigView> {
    Ok(web::Json(one_view(&state, &person, *id).await?))
}

async fn one_view(state: &State, person: &Person, id: Uuid) -> Result<RigView, Problem> {
    let mut db = state.db.acquire().await?;
    let row = sqlx::query!("select body, retired from rig where id = $1", id)
        .fetch_optional(&mut *db)
        .await?
        .ok_or(Problem::NotFound("rig"))?;
    let rig: Rig = serde_json::from_value(row.body)?;
    let now = state.clock.now();
    let book: Arc<RigBook> = read_book(&mut db, state, id).await?;
    let (pressed_at, live_kpa) = (pressed_at(&mut db, id).await?, state.gauges(&rig.name, now).pot_kpa);
    let care = RigState { rig: &rig, steps: &book.steps, cared: &book.cared, pressed_at, live_kpa }.view(now, person.prefs);
    let view = seen(id, rig, row.retired, person.prefs);
    let (wear, lines) = (book.wear(&sprayed(&mut db, id).await?, person.prefs), lines(&book, person.prefs));
    Ok(RigView { under_pressure: care.under_pressure, care: Some(care), wear, book: lines, ..view })
}

/// What signed batches sprayed through a rig, by the paint they used and the densities of its sheet.
async fn sprayed(db: &mut PgConnection, rig: Uuid) -> Result<Vec<Sprayed>, Problem> {
    let rows = sqlx::query!(
        r#"select b.ended as "ended!: jiff_sqlx::Timestamp", b.used_ml as "used_ml!", v.body
           from batch b join sheet_version v on v.id = b.sheet_version_id
           where b.rig_id = $1 and b.used_ml is not null and b.ended is not null"#,
        rig
    )
    .fetch_all(db)
    .await?;
    let mut all = Vec::new();
    for row in rows {
        let sheet: Sheet = serde_json::from_value(row.body)?;
        all.extend(sprayed_kg(&sheet, row.used_ml).map(|kg| Sprayed { at: row.ended.to_jiff(), kg }));
    }
    Ok(all)
}

fn taken() -> Refusal {
    Refusal::bad_input("taken", "name", "There is a rig of this name.")
}

/// A new rig.
#[utoipa::path(operation_id = "rigs_create", tag = "rigs", request_body = TypedRig, responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[post("/rigs")]
pub async fn create(state: web::Data<State>, person: Person, body: web::Json<TypedRig>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let body = body.into_inner();
    let mut tx = state.db.begin().await?;
    let rig = parse(&mut tx, body.rig, person.prefs).await?;
    let id = body.id.unwrap_or_else(Uuid::now_v7);
    put_rig(&writing(&state, &person), &mut tx, id, &rig).await?;
    tx.commit().await?;
    Ok(web::Json(id))
}

/// Makes the row of a rig, with the entry that says who put it down. The same id with the same figures is one rig, sent
/// again; an id or a name that is taken refuses the whole of it.
pub async fn put_rig(w: &Writing<'_>, tx: &mut PgConnection, id: Uuid, rig: &Rig) -> Result<(), Problem> {
    let made = sqlx::query!(
        "insert into rig (id, name, body, created) values ($1, $2, $3, $4) on conflict do nothing returning id",
        id,
        rig.name,
        serde_json::to_value(rig)?,
        w.now.to_sqlx() as _,
    )
    .fetch_optional(&mut *tx)
    .await?;
    if made.is_some() {
        let what = Changed { rig: Box::new(rig.clone()), before: None, retired: false };
        return changed(w, tx, id, what).await;
    }
    let known = sqlx::query_scalar!("select body from rig where id = $1", id).fetch_optional(tx).await?;
    match known.map(serde_json::from_value::<Rig>).transpose()? {
        Some(same) if same == *rig => Ok(()),
        Some(_) => Err(Refusal::bad_input("id-taken", "id", "Another rig has this id. Begin it afresh.").into()),
        None => Err(taken().into()),
    }
}

/// Changes a rig, or retires it. Batches keep it as they had it.
#[utoipa::path(operation_id = "rigs_change", tag = "rigs", params(("id" = Uuid, Path)), request_body = TypedRig, responses((status = 200, body = Uuid), (status = 403), (status = 404), (status = 422)))]
#[put("/rigs/{id}")]
pub async fn change(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<TypedRig>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let body = body.into_inner();
    let mut tx = state.db.begin().await?;
    let rig = parse(&mut tx, body.rig, person.prefs).await?;
    let other = sqlx::query_scalar!("select id from rig where lower(name) = lower($1) and id <> $2", rig.name, *id)
        .fetch_optional(&mut *tx)
        .await?;
    if other.is_some() {
        return Err(taken().into());
    }
    let before = sqlx::query!("select body, retired from rig where id = $1 for update", *id)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("rig"))?;
    let (was_retired, before): (bool, Rig) = (before.retired, serde_json::from_value(before.body)?);
    if before != rig || was_retired != body.retired {
        let what = Changed { rig: Box::new(rig), before: Some(Box::new(before)), retired: body.retired };
        changed(&writing(&state, &person), &mut tx, *id, what).await?;
    }
    tx.commit().await?;
    Ok(web::Json(*id))
}

/// The server puts down what a person did on the page of a rig.
fn writing<'a>(state: &'a State, person: &'a Person) -> Writing<'a> {
    Writing { inside: true, ..Writing::of(state, person, state.clock.now()) }
}

/// A rig by its id, as a batch pins it.
pub async fn pinned(tx: &mut PgConnection, id: Uuid) -> Result<Rig, Problem> {
    let row = sqlx::query!("select body, retired from rig where id = $1", id).fetch_optional(tx).await?;
    match row {
        Some(row) if !row.retired => Ok(serde_json::from_value(row.body)?),
        Some(_) => Err(Refusal::bad_input("retired", "rig", "This rig is not used any more.").into()),
        None => Err(Refusal::bad_input("unknown-rig", "rig", "There is no such rig.").into()),
    }
}

/// A batch put its rig under pressure: the row knows when last, so that nobody opens it unseen. A struck try leaves it:
/// the safe side is to look at the gauge.
pub async fn pressed(tx: &mut PgConnection, rig: Uuid, number: i64, at: Timestamp) -> Result<(), Problem> {
    sqlx::query!(
        "update rig set pressed_at = $2, pressed_by = $3 where id = $1 and (pressed_at is null or pressed_at < $2)",
        rig,
        at.to_sqlx() as _,
        number
    )
    .execute(tx)
    .await?;
    Ok(())
}
