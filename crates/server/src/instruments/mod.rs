//! Instruments: scales and combs, each with its own resolution or teeth.

pub mod book;

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, put, web};
use level_keel_core::batch::beside::Measures;
use level_keel_core::batch::view::Viewer;
use level_keel_core::film::{CombInWords, UsualComb, teeth_text};
use level_keel_core::instruments::{OVERDUE_FACTOR, Overdue};
use level_keel_core::mixing::{Printed, PrintedCup};
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{Prefs, QuantityKind, Shown, form_texts, resolve, show};
use level_keel_core::refusal::Refusal;
use level_keel_core::weighing::ScaleKept;
use level_keel_core::wire::read;
use level_keel_core::worded::Worded;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::{PgConnection, PgExecutor};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// An instrument of the shop.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Instrument {
    pub id: Uuid,
    pub kind: String,
    pub name: String,
    /// In the base unit of its kind: grams, micrometres.
    pub resolution: f64,
    pub shown: Shown,
    /// Teeth of a comb, as they are typed.
    pub teeth: Option<String>,
    /// A printed cup.
    pub cup: Option<PrintedCup>,
    /// Its figures as texts that read back as themselves, by field.
    pub texts: BTreeMap<String, String>,
    /// What a cup holds, in what is printed on it.
    pub holds: Option<String>,
}

/// The instruments of the shop.
#[utoipa::path(operation_id = "instruments_list", tag = "instruments", responses((status = 200, body = [Instrument])))]
#[get("/instruments")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<Instrument>> {
    let rows = sqlx::query!("select id, kind, name, resolution, teeth_um, body from instrument order by kind, resolution, name")
        .fetch_all(&state.db)
        .await?;
    let shown = |kind: &str, r: f64| {
        let in_what = match kind {
            "scale" => QuantityKind::Mass,
            "cup" => QuantityKind::Volume,
            "gauge" => QuantityKind::Pressure,
            _ => QuantityKind::Film,
        };
        show(r, in_what, person.prefs)
    };
    let cup = |body: Option<Value>| body.and_then(|cup| serde_json::from_value::<PrintedCup>(cup).ok());
    let all = rows.into_iter().map(|r| Instrument {
        shown: shown(&r.kind, r.resolution),
        texts: r.body.as_ref().map(|cup| cup_texts(cup, person.prefs)).unwrap_or_default(),
        holds: cup(r.body.clone()).map(|cup| cup.said_ml(cup.holds_ml, person.prefs)),
        cup: cup(r.body),
        teeth: (r.kind == "comb").then(|| teeth_text(&r.teeth_um, person.prefs)),
        id: r.id,
        kind: r.kind,
        name: r.name,
        resolution: r.resolution,
    });
    Ok(web::Json(all.collect()))
}

/// Teeth of the shop's comb, the finest when there are several; a common comb when there is none.
pub async fn comb_um(db: impl PgExecutor<'_>) -> Result<Vec<f64>, Problem> {
    let row = sqlx::query!("select teeth_um from instrument where kind = 'comb' order by resolution limit 1")
        .fetch_optional(db)
        .await?;
    Ok(row.map_or_else(|| UsualComb::Mil.teeth_um(), |r| r.teeth_um))
}

/// Who looks, with what the shop measures with; what it has not put down is the usual.
pub fn viewer(person: &Person, measures: &Measures) -> Viewer {
    Viewer {
        writer: person.writer(),
        comb_um: measures.comb_um.clone().unwrap_or_else(|| UsualComb::Mil.teeth_um()),
        scale_g: measures.scale_g.unwrap_or(USUAL_SCALE_G),
    }
}

/// Resolution of a usual bench scale; from memory.
const USUAL_SCALE_G: f64 = 1.0;

/// What a scale by its id shows, and what an overdue check of it does: where that widens, every reading is taken to be off by
/// twice as much.
pub async fn weighs_g(
    db: impl PgExecutor<'_>,
    id: Uuid,
    now: jiff::Timestamp,
    overdue: Overdue,
) -> Result<(f64, Option<Overdue>), Problem> {
    let row = sqlx::query!(
        r#"select resolution, due as "due: jiff_sqlx::Timestamp" from instrument where id = $1 and kind = 'scale'"#,
        id
    )
    .fetch_optional(db)
    .await?
    .ok_or_else(|| Refusal::bad_input("unknown-scale", "instrument", "There is no such scale."))?;
    let late = row.due.is_some_and(|due| now > due.to_jiff());
    let factor = if late && overdue == Overdue::Widens { OVERDUE_FACTOR } else { 1.0 };
    Ok((row.resolution * factor, late.then_some(overdue)))
}

/// A scale as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedScale {
    /// Made by the browser, for a new one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// `name`, `resolution_g`; the resolution as a number or a text.
    #[schema(value_type = crate::openapi::ScaleKeptTyped)]
    pub scale: Value,
}

fn parse(mut value: Value, prefs: Prefs) -> Result<ScaleKept, Problem> {
    if let Value::Object(map) = &mut value {
        map.retain(|_, v| v.as_str().is_none_or(|t| !t.trim().is_empty()));
    }
    resolve(&mut value, prefs)?;
    Ok(read::<ScaleKept>(value)?.validate(prefs)?)
}

/// Keeps a scale: a new one, or another name or resolution for one that is here. What was weighed keeps the resolution it
/// was read with.
#[utoipa::path(operation_id = "scales_keep", tag = "instruments", request_body = TypedScale, responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[put("/instruments/scales")]
pub async fn keep_scale(state: web::Data<State>, person: Person, body: web::Json<TypedScale>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let TypedScale { id, scale } = body.into_inner();
    let wanted = parse(scale, person.prefs)?;
    let id = id.unwrap_or_else(Uuid::now_v7);
    if state.scales.all().iter().any(|s| s.instrument == id) {
        let text = "This one speaks: its name and resolution stand in the server's settings.";
        return Err(Refusal::conflict("set-elsewhere", text).into());
    }
    let mut tx = state.db.begin().await?;
    free_name(&mut tx, "scale", &wanted.name, id).await?;
    sqlx::query!(
        "insert into instrument (id, kind, name, resolution) values ($1, 'scale', $2, $3)
         on conflict (id) do update set name = $2, resolution = $3 where instrument.kind = 'scale'",
        id,
        wanted.name,
        wanted.resolution_g
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(web::Json(id))
}

/// A comb as typed.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TypedComb {
    /// Made by the browser, for a new one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// Its name and its teeth.
    pub comb: CombInWords,
}

/// Keeps a comb: a new one, or another name or other teeth for one that is here. A reading keeps the teeth it was read with.
#[utoipa::path(operation_id = "combs_keep", tag = "instruments", responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[put("/instruments/combs")]
pub async fn keep_comb(state: web::Data<State>, person: Person, body: web::Json<TypedComb>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let TypedComb { id, comb } = body.into_inner();
    let wanted = comb.read(person.prefs)?;
    let id = id.unwrap_or_else(Uuid::now_v7);
    let mut tx = state.db.begin().await?;
    free_name(&mut tx, "comb", &wanted.name, id).await?;
    sqlx::query!(
        "insert into instrument (id, kind, name, resolution, teeth_um) values ($1, 'comb', $2, $3, $4)
         on conflict (id) do update set name = $2, resolution = $3, teeth_um = $4 where instrument.kind = 'comb'",
        id,
        wanted.name,
        wanted.teeth_um.first(),
        &wanted.teeth_um
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(web::Json(id))
}

/// The figures of a kept cup as one would type them: of a cup of fluid ounces in those.
fn cup_texts(body: &Value, prefs: Prefs) -> BTreeMap<String, String> {
    let mut texts = form_texts(body, &BTreeMap::new(), prefs);
    if let Ok(cup) = serde_json::from_value::<PrintedCup>(body.clone()) {
        for (field, ml) in [("holds_ml", Some(cup.holds_ml)), ("step_ml", cup.step_ml)] {
            if let (Printed::FlOz, Some(ml)) = (cup.printed, ml) {
                texts.insert(field.into(), cup.said_ml(ml, prefs));
            }
        }
    }
    texts
}

/// A printed cup as typed.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TypedPrintedCup {
    /// Made by the browser, for a new one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// Its name, what is printed on it, what it holds; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::PrintedCupTyped)]
    pub cup: Value,
}

/// Keeps a printed cup: a new one, or other figures for one that is here. A pour keeps the cup it was read on.
#[utoipa::path(operation_id = "cups_keep", tag = "instruments", request_body = TypedPrintedCup, responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[put("/instruments/cups")]
pub async fn keep_cup(state: web::Data<State>, person: Person, body: web::Json<TypedPrintedCup>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let TypedPrintedCup { id, cup } = body.into_inner();
    Ok(web::Json(put_cup(&state, id.unwrap_or_else(Uuid::now_v7), cup, person.prefs).await?))
}

/// Keeps a printed cup as typed, under this id.
pub async fn put_cup(state: &State, id: Uuid, mut cup: Value, prefs: Prefs) -> Result<Uuid, Problem> {
    if let Value::Object(map) = &mut cup {
        map.retain(|_, v| v.as_str().is_none_or(|t| !t.trim().is_empty()));
    }
    resolve(&mut cup, prefs)?;
    let wanted = read::<PrintedCup>(cup)?.validate(prefs)?;
    let mut tx = state.db.begin().await?;
    free_name(&mut tx, "cup", &wanted.name, id).await?;
    sqlx::query!(
        "insert into instrument (id, kind, name, resolution, body) values ($1, 'cup', $2, $3, $4)
         on conflict (id) do update set name = $2, resolution = $3, body = $4 where instrument.kind = 'cup'",
        id,
        wanted.name,
        wanted.off_ml(0),
        serde_json::to_value(&wanted)?
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(id)
}

/// What a shop said on its first visit that it measures with takes the place of what a new database comes with.
pub async fn at_the_first_visit(tx: &mut PgConnection, scale_g: f64, comb: UsualComb) -> Result<(), Problem> {
    sqlx::query!("delete from instrument where id = any($1)", &COMES_WITH).execute(&mut *tx).await?;
    let teeth = comb.teeth_um();
    let rows =
        [("scale", "Bench scale".to_string(), scale_g, Vec::new()), ("comb", format!("Comb {}", comb.word()), teeth[0], teeth)];
    for (kind, name, resolution, teeth_um) in rows {
        sqlx::query!(
            "insert into instrument (id, kind, name, resolution, teeth_um) values ($1, $2, $3, $4, $5)",
            Uuid::now_v7(),
            kind,
            name,
            resolution,
            &teeth_um
        )
        .execute(&mut *tx)
        .await?;
    }
    Ok(())
}

/// The instruments a new database comes with (migration 3).
const COMES_WITH: [Uuid; 3] = [
    Uuid::from_u128(0x0191_d000_0000_7000_8000_0000_0000_0001),
    Uuid::from_u128(0x0191_d000_0000_7000_8000_0000_0000_0002),
    Uuid::from_u128(0x0191_d000_0000_7000_8000_0000_0000_0003),
];

async fn free_name(tx: &mut PgConnection, kind: &str, name: &str, id: Uuid) -> Result<(), Problem> {
    let other =
        sqlx::query_scalar!("select id from instrument where kind = $1 and lower(name) = lower($2) and id <> $3", kind, name, id)
            .fetch_optional(tx)
            .await?;
    match other {
        Some(_) => Err(Refusal::bad_input("taken", "name", format!("There is a {kind} of this name.")).into()),
        None => Ok(()),
    }
}
