//! The coat system of a part: its coats as planned, what is on it, what comes next and when.

use super::pairs::pair;
use crate::auth::{Person, word};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, post, put, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::coat_system::{CoatPlan, CoatState, Method, check};
use level_keel_core::film::FilmIs;
use level_keel_core::limits::check_name;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{QuantityKind, Shown, resolve, show};
use level_keel_core::recoat::{CoatLink, RecoatClock, RecoatTimes, RecoatWindow, SurfaceRange, clock};
use level_keel_core::refusal::Refusal;
use level_keel_core::sheets::{Sheet, propose_label};
use level_keel_core::wire::read;
use level_keel_core::worded::Worded;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use std::collections::HashMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// A batch that put a coat on.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CoatBatch {
    pub id: Uuid,
    pub number: i64,
    pub state: String,
    pub begun: Timestamp,
    /// Its last pass.
    pub ended: Option<Timestamp>,
    /// The coat of a job it is: `2 of 3`.
    pub of_job: Option<String>,
}

/// A coat of the system with what is on.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CoatView {
    pub id: Uuid,
    pub name: String,
    pub sheet: Option<Uuid>,
    pub product: Option<String>,
    pub method: Option<Method>,
    pub method_word: Option<String>,
    pub film: Option<Shown>,
    pub film_um: Option<f64>,
    pub film_is: Option<FilmIs>,
    pub prepare: Option<String>,
    /// Its batches, newest first.
    pub batches: Vec<CoatBatch>,
    /// The window to the coat that follows, once this one is on.
    pub window: Option<RecoatClock>,
    /// Where the times of that window come from: `pair` or `sheet`.
    pub window_by: Option<String>,
    /// This is the coat to put on next.
    pub is_next: bool,
    /// What that window leads to: the next coat of the job, or the coat that follows.
    pub then: Option<String>,
}

/// A part, whole.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PartView {
    pub id: Uuid,
    pub name: String,
    pub label: String,
    pub zones: Vec<String>,
    pub coats: Vec<CoatView>,
    /// What comes next, in words.
    pub next: String,
    pub may_edit: bool,
}

/// A system as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedSystem {
    /// Coats in order; quantities as numbers or texts.
    #[schema(value_type = Vec<crate::openapi::CoatPlanTyped>)]
    pub coats: Value,
}

/// The clone's own name.
#[derive(Debug, Deserialize, ToSchema)]
pub struct CloneAs {
    /// Made by the browser: a double tap is one part.
    pub id: Uuid,
    /// Its name.
    pub name: String,
}

struct Ended {
    batch: CoatBatch,
    window: Option<RecoatWindow>,
    surface: Option<SurfaceRange>,
    sheet: Uuid,
}

async fn batches(tx: &mut PgConnection, part: Uuid) -> Result<HashMap<Uuid, Vec<Ended>>, Problem> {
    let rows = sqlx::query!(
        r#"select b.id, b.number, b.state, b.coat_id, b.begun as "begun: jiff_sqlx::Timestamp", b.ended as "ended: jiff_sqlx::Timestamp",
             b.surface_min_c, b.surface_max_c, v.sheet_id, v.body, b.job_coat,
             (select count(*) from batch o where o.job_id = b.job_id) as "job_of!",
             (select jsonb_agg((e.payload_json ->> 'surface_c')::float8) from entry e join batch x on x.id = e.book_id
                where x.part_id = b.part_id and (x.state = 'open' or x.last_happened >= b.ended) and e.kind = 'conditions' and e.happened > b.ended
                  and not exists (select 1 from entry s where s.book_id = e.book_id and s.kind = 'strike'
                    and (s.payload_json ->> 'entry')::uuid = e.id)) as since
           from batch b join sheet_version v on v.id = b.sheet_version_id where b.part_id = $1 order by b.number desc"#,
        part
    )
    .fetch_all(tx)
    .await?;
    let mut by_coat: HashMap<Uuid, Vec<Ended>> = HashMap::new();
    for r in rows {
        let at = |t: Option<jiff_sqlx::Timestamp>| t.map(|t| t.to_jiff());
        let ended = at(r.ended);
        let since: Vec<f64> = r.since.map(serde_json::from_value).transpose()?.unwrap_or_default();
        let surface = SurfaceRange::of([r.surface_min_c, r.surface_max_c].into_iter().flatten().chain(since));
        let times = RecoatTimes::of_sheet(&serde_json::from_value::<Sheet>(r.body)?);
        by_coat.entry(r.coat_id).or_default().push(Ended {
            batch: CoatBatch {
                id: r.id,
                number: r.number,
                state: r.state,
                begun: r.begun.to_jiff(),
                ended,
                of_job: r.job_coat.map(|coat| format!("{coat} of {}", r.job_of)),
            },
            window: ended.map(|end| times.window(end, surface)),
            surface,
            sheet: r.sheet_id,
        });
    }
    Ok(by_coat)
}

impl CoatView {
    /// As the order of the coats asks it.
    fn stands(&self) -> CoatState {
        CoatState {
            name: self.name.clone(),
            // Newest first: of a job the coat at hand is the oldest that is open.
            in_work: self.batches.iter().rev().find(|b| b.state == "open").map(|b| b.number),
            begun: self.batches.iter().any(|b| b.state != "left_out"),
            window: self.window.as_ref().map(|w| w.word.clone()),
        }
    }
}

async fn read_part(state: &State, person: &Person, id: Uuid) -> Result<PartView, Problem> {
    let now = state.clock.now();
    let mut db = state.db.acquire().await?;
    let part = sqlx::query!(
        r#"select name, label, coalesce((select array_agg(z.name order by z.place, z.id) from zone z where z.part_id = p.id), '{}') as "zones!"
           from part p where p.id = $1"#,
        id
    )
    .fetch_optional(&mut *db)
    .await?
    .ok_or(Problem::NotFound("part"))?;
    let rows = sqlx::query!(
        r#"select c.id, c.name, c.sheet_id, c.method, c.film_um, c.film_is, c.prepare,
             (select v.name from sheet_version v where v.sheet_id = c.sheet_id order by edition desc limit 1) as product
           from coat c where c.part_id = $1 and not c.retired order by c.place"#,
        id
    )
    .fetch_all(&mut *db)
    .await?;
    let mut on = batches(&mut db, id).await?;
    let mut coats: Vec<CoatView> = Vec::new();
    let sheets: Vec<Option<Uuid>> = rows.iter().map(|r| r.sheet_id.or_else(|| on.get(&r.id)?.first().map(|b| b.sheet))).collect();
    for (i, r) in rows.into_iter().enumerate() {
        let put = on.remove(&r.id).unwrap_or_default();
        let last = put.iter().find(|b| b.batch.ended.is_some());
        let follows = sheets.get(i + 1).copied().flatten();
        let times = match (last, follows) {
            (Some(last), Some(next)) => pair(&mut db, last.sheet, next).await?,
            _ => None,
        };
        let window = last.and_then(|l| {
            let window = times.as_ref().zip(l.batch.ended).map(|(t, end)| t.window(end, l.surface)).or(l.window)?;
            let link = CoatLink {
                batch: l.batch.id,
                number: l.batch.number,
                coat: r.name.clone(),
                product: r.product.clone().unwrap_or_default(),
            };
            Some(clock(Some(window), l.batch.ended, Some(link), now))
        });
        let method: Option<Method> = r.method.as_deref().map(word).transpose()?;
        coats.push(CoatView {
            id: r.id,
            name: r.name,
            sheet: sheets[i],
            product: r.product,
            method,
            method_word: method.map(|m| m.word().into()),
            film: r.film_um.map(|um| show(um, QuantityKind::Film, person.prefs)),
            film_um: r.film_um,
            film_is: r.film_is.and_then(|word| serde_json::from_value(Value::String(word)).ok()),
            prepare: r.prepare,
            window_by: window.as_ref().map(|_| if times.is_some() { "pair" } else { "sheet" }.into()),
            window,
            is_next: false,
            then: None,
            batches: put.into_iter().map(|b| b.batch).collect(),
        });
    }
    for i in 0..coats.len() {
        let of_job =
            coats[i].batches.iter().rev().find(|b| b.state == "open" && b.ended.is_none()).and_then(|b| b.of_job.clone());
        let follows = coats.get(i + 1).map(|c| c.name.clone());
        coats[i].then = of_job.map(|of| format!("coat {of}")).or(follows);
    }
    let stands: Vec<CoatState> = coats.iter().map(CoatView::stands).collect();
    let (at, next) = level_keel_core::coat_system::next(&stands);
    if let Some(coat) = at.and_then(|i| coats.get_mut(i)) {
        coat.is_next = true;
    }
    Ok(PartView {
        id,
        name: part.name,
        label: part.label,
        zones: part.zones,
        coats,
        next,
        may_edit: has_duty(person.role, Duty::Sheets).is_ok(),
    })
}

/// A part with its coats, its batches, and what comes next.
#[utoipa::path(operation_id = "parts_one", tag = "parts", params(("id" = Uuid, Path)), responses((status = 200, body = PartView), (status = 404)))]
#[get("/parts/{id}")]
pub async fn one(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<PartView> {
    Ok(web::Json(read_part(&state, &person, *id).await?))
}

/// Plans the coats of a part: their order, products, methods, films. A coat that was sprayed stays.
#[utoipa::path(operation_id = "parts_plan", tag = "parts", params(("id" = Uuid, Path)), request_body = TypedSystem, responses((status = 200, body = PartView), (status = 403), (status = 404), (status = 422)))]
#[put("/parts/{id}/coats")]
pub async fn plan(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    body: web::Json<TypedSystem>,
) -> Answer<PartView> {
    has_duty(person.role, Duty::Sheets)?;
    let mut coats = serde_json::json!({ "coats": body.into_inner().coats });
    resolve(&mut coats, person.prefs)?;
    let coats: Vec<CoatPlan> = read(coats["coats"].take())?;
    let coats = check(coats, person.prefs)?;
    let mut tx = state.db.begin().await?;
    sqlx::query!("select id from part where id = $1 for update", *id)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("part"))?;
    let standing = sqlx::query!(
        r#"select c.id, c.name, exists (select 1 from batch b where b.coat_id = c.id) as "sprayed!" from coat c where c.part_id = $1"#,
        *id
    )
    .fetch_all(&mut *tx)
    .await?;
    let kept: Vec<Uuid> = coats
        .iter()
        .filter_map(|c| {
            standing.iter().find(|s| Some(s.id) == c.id || s.name.to_lowercase() == c.name.to_lowercase()).map(|s| s.id)
        })
        .collect();
    if let Some(lost) = standing.iter().find(|s| s.sprayed && !kept.contains(&s.id)) {
        let text = format!("The coat “{}” has batches: it stays in the system.", lost.name);
        return Err(Refusal::bad_input("coat-in-use", "coats", text).into());
    }
    let gone: Vec<Uuid> = standing.iter().filter(|s| !kept.contains(&s.id)).map(|s| s.id).collect();
    sqlx::query!("delete from coat where id = any($1)", &gone).execute(&mut *tx).await?;
    for (place, (index, coat)) in (1..).zip(coats.iter().enumerate()) {
        if let Some(sheet) = coat.sheet {
            let known = sqlx::query_scalar!("select id from sheet where id = $1", sheet).fetch_optional(&mut *tx).await?;
            known.ok_or_else(|| {
                Refusal::bad_input("unknown-sheet", &format!("coats[{index}].sheet"), "There is no such sheet.")
            })?;
        }
        let same = standing.iter().find(|s| Some(s.id) == coat.id || s.name.to_lowercase() == coat.name.to_lowercase());
        let method = coat.method.map(text_of).transpose()?;
        let film_is = coat.film_is.map(text_of).transpose()?;
        sqlx::query!(
            "insert into coat (id, part_id, name, place, sheet_id, method, film_um, film_is, prepare) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)
             on conflict (id) do update set name = $3, place = $4, sheet_id = $5, method = $6, film_um = $7, film_is = $8, prepare = $9",
            same.map_or_else(Uuid::now_v7, |s| s.id),
            *id,
            coat.name,
            place,
            coat.sheet,
            method,
            coat.film_um,
            film_is,
            coat.prepare,
        )
        .execute(&mut *tx)
        .await?;
    }
    tx.commit().await?;
    Ok(web::Json(read_part(&state, &person, *id).await?))
}

fn text_of<T: Serialize>(value: T) -> Result<String, Problem> {
    Ok(serde_json::to_value(value)?.as_str().unwrap_or_default().to_string())
}

/// A new part with the zones and the coat system of this one.
#[utoipa::path(operation_id = "parts_clone", tag = "parts", params(("id" = Uuid, Path)), request_body = CloneAs, responses((status = 200, body = PartView), (status = 404), (status = 422)))]
#[post("/parts/{id}/clone")]
pub async fn clone(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<CloneAs>) -> Answer<PartView> {
    has_duty(person.role, Duty::Sheets)?;
    let name = check_name("name", &body.name)?;
    let mut tx = state.db.begin().await?;
    sqlx::query!("select id from part where id = $1", *id).fetch_optional(&mut *tx).await?.ok_or(Problem::NotFound("part"))?;
    let known = sqlx::query_scalar!("select id from part where lower(name) = lower($1)", name).fetch_optional(&mut *tx).await?;
    if known == Some(body.id) {
        return Ok(web::Json(read_part(&state, &person, body.id).await?));
    }
    if known.is_some() {
        return Err(Refusal::bad_input("taken", "name", "There is a part of this name.").into());
    }
    sqlx::query!(
        "insert into part (id, name, label, created) values ($1, $2, $3, $4)",
        body.id,
        name,
        propose_label(&name),
        state.clock.now().to_sqlx() as _
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "insert into zone (id, part_id, name, place, area_m2, area_assumed)
         select gen_random_uuid(), $2, name, place, area_m2, area_assumed from zone where part_id = $1",
        *id,
        body.id
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "insert into coat (id, part_id, name, place, sheet_id, method, film_um, film_is, prepare)
         select gen_random_uuid(), $2, name, place, sheet_id, method, film_um, film_is, prepare from coat where part_id = $1 and not retired",
        *id,
        body.id
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(web::Json(read_part(&state, &person, body.id).await?))
}
