//! Rigs: rows a lead edits, each with a book of its own.

use crate::auth::Person;
use crate::books::NewEntry;
use crate::books::chain::{Link, open_book, request_hash, stored_before};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, post, put, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::atomizing::tips::{Tip, decode};
use level_keel_core::batch::payload::read;
use level_keel_core::canonical::cut;
use level_keel_core::film::laps::{FanProfile, ripple_pct, section, spread_pct};
use level_keel_core::film::speed::{Lap, solve};
use level_keel_core::limits;
use level_keel_core::people::{Duty, Role, has_duty};
use level_keel_core::pot_life::after;
use level_keel_core::quantity::{Kind, Prefs, Shown, resolve, show, show_duration};
use level_keel_core::refusal::Refusal;
use level_keel_core::rigs::book::{RigEntry, RigEntryKind};
use level_keel_core::rigs::{LinePoint, Rig, points};
use level_keel_core::working::Working;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use std::collections::BTreeMap;
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
    /// Its book, newest first; only for one rig.
    pub book: Vec<RigLine>,
}

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

/// A rig as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedRig {
    /// Made by the browser, for a new one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// The rig; quantities as numbers or texts.
    #[schema(value_type = Object)]
    pub rig: Value,
    /// Not used any more.
    #[serde(default)]
    pub retired: bool,
}

fn texts(rig: &Rig, prefs: Prefs) -> BTreeMap<String, String> {
    let value = serde_json::to_value(rig).unwrap_or_default();
    let fields = value.as_object().into_iter().flatten();
    fields
        .filter_map(|(field, v)| {
            let kind = Kind::of_field(field)?;
            let text = |v: &Value| v.as_f64().map(|v| show(v, kind, prefs).text);
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

fn seen(id: Uuid, rig: Rig, retired: bool, prefs: Prefs, book: Vec<RigLine>) -> RigView {
    RigView {
        id,
        texts: texts(&rig, prefs),
        points: points(&rig, None, prefs),
        troubles: rig.troubles(prefs),
        rig,
        retired,
        book,
    }
}

fn parse(mut value: Value, prefs: Prefs) -> Result<Rig, Problem> {
    // Empty texts are fields not given; spare nozzles are typed in one field, apart by a semicolon.
    if let Value::Object(map) = &mut value {
        map.retain(|_, v| v.as_str().is_none_or(|t| !t.trim().is_empty()));
        if let Some(Value::String(text)) = map.get("spare_mm").cloned() {
            let all: Vec<&str> = text.split(';').map(str::trim).filter(|t| !t.is_empty()).collect();
            map.insert("spare_mm".into(), all.into());
        }
    }
    resolve(&mut value, prefs)?;
    Ok(read::<Rig>(value)?.validate(prefs)?)
}

/// The rigs of the shop, those in use first.
#[utoipa::path(operation_id = "rigs_list", tag = "rigs", responses((status = 200, body = [RigView])))]
#[get("/rigs")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<RigView>> {
    let rows = sqlx::query!("select id, body, retired from rig order by retired, lower(name)").fetch_all(&state.db).await?;
    let all: Result<Vec<RigView>, Problem> =
        rows.into_iter().map(|r| Ok(seen(r.id, serde_json::from_value(r.body)?, r.retired, person.prefs, Vec::new()))).collect();
    Ok(web::Json(all?))
}

/// One rig with its book.
#[utoipa::path(operation_id = "rigs_one", tag = "rigs", params(("id" = Uuid, Path)), responses((status = 200, body = RigView), (status = 404)))]
#[get("/rigs/{id}")]
pub async fn one(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<RigView> {
    let row = sqlx::query!("select body, retired from rig where id = $1", *id)
        .fetch_optional(&state.db)
        .await?
        .ok_or(Problem::NotFound("rig"))?;
    let book = lines(&mut *state.db.acquire().await?, *id, person.prefs).await?;
    Ok(web::Json(seen(*id, serde_json::from_value(row.body)?, row.retired, person.prefs, book)))
}

/// The book of a rig, newest first.
async fn lines(db: &mut PgConnection, rig: Uuid, prefs: Prefs) -> Result<Vec<RigLine>, Problem> {
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
            let said = kind.and_then(|k| RigEntry::decode(k, &r.payload, prefs).ok());
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

fn taken() -> Refusal {
    Refusal::bad_input("taken", "name", "There is a rig of this name.")
}

/// A new rig.
#[utoipa::path(operation_id = "rigs_create", tag = "rigs", request_body = TypedRig, responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[post("/rigs")]
pub async fn create(state: web::Data<State>, person: Person, body: web::Json<TypedRig>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let body = body.into_inner();
    let rig = parse(body.rig, person.prefs)?;
    let id = body.id.unwrap_or_else(Uuid::now_v7);
    put_rig(&state, id, &rig, state.clock.now()).await?;
    Ok(web::Json(id))
}

/// Makes the row of a rig; the same id with the same name is one rig.
pub async fn put_rig(state: &State, id: Uuid, rig: &Rig, now: Timestamp) -> Result<(), Problem> {
    let made = sqlx::query!(
        "insert into rig (id, name, body, created) values ($1, $2, $3, $4) on conflict do nothing returning id",
        id,
        rig.name,
        serde_json::to_value(rig)?,
        now.to_sqlx() as _,
    )
    .fetch_optional(&state.db)
    .await?;
    let known = sqlx::query_scalar!("select name from rig where id = $1", id).fetch_optional(&state.db).await?;
    if made.is_none() && known.as_deref() != Some(rig.name.as_str()) {
        return Err(taken().into());
    }
    Ok(())
}

/// Changes a rig, or retires it. Batches keep it as they had it.
#[utoipa::path(operation_id = "rigs_change", tag = "rigs", params(("id" = Uuid, Path)), request_body = TypedRig, responses((status = 200, body = Uuid), (status = 403), (status = 404), (status = 422)))]
#[put("/rigs/{id}")]
pub async fn change(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<TypedRig>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let body = body.into_inner();
    let rig = parse(body.rig, person.prefs)?;
    let mut tx = state.db.begin().await?;
    let other = sqlx::query_scalar!("select id from rig where lower(name) = lower($1) and id <> $2", rig.name, *id)
        .fetch_optional(&mut *tx)
        .await?;
    if other.is_some() {
        return Err(taken().into());
    }
    let changed = sqlx::query_scalar!(
        "update rig set name = $2, body = $3, retired = $4 where id = $1 returning id",
        *id,
        rig.name,
        serde_json::to_value(&rig)?,
        body.retired
    )
    .fetch_optional(&mut *tx)
    .await?
    .ok_or(Problem::NotFound("rig"))?;
    tx.commit().await?;
    Ok(web::Json(changed))
}

/// Writes in the book of a rig: inspected, cleaned, fitted, note, strike.
#[utoipa::path(operation_id = "rigs_append", tag = "rigs", params(("id" = Uuid, Path)), request_body = NewEntry, responses((status = 200, body = RigView), (status = 404), (status = 409), (status = 422)))]
#[post("/rigs/{id}/entries")]
pub async fn append(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<NewEntry>) -> Answer<RigView> {
    let new = body.into_inner();
    let now = state.clock.now();
    if !(0.0..=limits::BACK_DATE_S).contains(&new.ago_s) {
        return Err(Refusal::bad_input("outside-limits", "ago_s", "An entry may be at most 24 h old.").into());
    }
    let kind = RigEntryKind::from_name(&new.kind)
        .ok_or_else(|| Refusal::bad_input("unknown-kind", "kind", "There is no such kind of entry."))?;
    let request = request_hash(&new.kind, &new.payload);
    let mut payload = new.payload;
    resolve(&mut payload, person.prefs)?;
    let entry = RigEntry::decode(kind, &payload, person.prefs)?;
    let mut tx = state.db.begin().await?;
    let row = sqlx::query!("select body from rig where id = $1 for update", *id)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("rig"))?;
    let (head_seq, head_hash) = open_book(&mut tx, *id, "rig", now).await?;
    if stored_before(&mut tx, *id, new.id, &request).await?.is_none() {
        let mut rig: Rig = serde_json::from_value(row.body)?;
        if kind == RigEntryKind::Fitted {
            payload["before"] = serde_json::json!({ "nozzle_mm": rig.nozzle_mm, "tip_code": rig.tip_code });
        }
        if let RigEntry::Strike(s) = &entry {
            let struck = sqlx::query!(
                r#"select who, kind, payload_json as "payload!" from entry where id = $1 and book_id = $2 and kind <> 'strike'"#,
                s.entry,
                *id
            )
            .fetch_optional(&mut *tx)
            .await?
            .ok_or_else(|| Refusal::bad_input("unknown-entry", "entry", "There is no such entry in this book."))?;
            if let Some(kind) = RigEntryKind::from_name(&struck.kind) {
                rig = RigEntry::decode(kind, &struck.payload, person.prefs)?.undo(rig);
            }
            if struck.who != person.id && !matches!(person.role, Role::Lead | Role::Owner) {
                return Err(Refusal::forbidden("not-your-role", "This is another's entry. They or a lead may strike it.").into());
            }
        }
        let rig = entry.apply(rig);
        sqlx::query!("update rig set body = $2 where id = $1", *id, serde_json::to_value(&rig)?).execute(&mut *tx).await?;
        let link = Link {
            book: *id,
            seq: head_seq + 1,
            id: new.id,
            kind: &new.kind,
            version: 1,
            payload: &payload,
            who: person.id,
            happened: cut(after(now, -new.ago_s)),
            arrived: cut(now),
            request: &request,
            previous: &head_hash,
        };
        let forged = link.forge();
        link.store(&mut tx, &forged).await?;
    }
    tx.commit().await?;
    one_view(&state, &person, *id).await.map(web::Json)
}

async fn one_view(state: &State, person: &Person, id: Uuid) -> Result<RigView, Problem> {
    let row = sqlx::query!("select body, retired from rig where id = $1", id).fetch_one(&state.db).await?;
    let book = lines(&mut *state.db.acquire().await?, id, person.prefs).await?;
    Ok(seen(id, serde_json::from_value(row.body)?, row.retired, person.prefs, book))
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

/// A tip's code, read.
#[utoipa::path(operation_id = "tips_decode", tag = "rigs", params(("code" = String, Path)), responses((status = 200, body = TipView), (status = 422)))]
#[get("/compute/tips/{code}")]
pub async fn tip(person: Person, code: web::Path<String>) -> Answer<TipView> {
    let Tip { angle_deg, nominal_fan_mm, geometric_fan_mm, hole_mm } = decode(&code, &[])?;
    let say = |v, k| show(v, k, person.prefs);
    Ok(web::Json(TipView {
        angle: say(angle_deg, Kind::Angle),
        nominal_fan: say(nominal_fan_mm, Kind::Length),
        geometric_fan: say(geometric_fan_mm, Kind::Length),
        hole: say(hole_mm, Kind::Length),
    }))
}

/// What a tip's code says.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TipView {
    pub angle: Shown,
    pub nominal_fan: Shown,
    pub geometric_fan: Shown,
    pub hole: Shown,
}

/// Laps as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedLap {
    /// `flow_ml_min`, `fan_mm`, `overlap_pct`, `gun_speed_m_s`, `wet_um`: one left out; `transfer_pct`; as numbers or texts.
    #[schema(value_type = Object)]
    pub lap: Value,
    /// How the fan lays its paint.
    #[serde(default)]
    pub profile: FanProfile,
    /// Area the time is asked for.
    #[serde(default)]
    pub area_m2: Option<f64>,
}

/// Gun speed and laps, solved.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LapView {
    pub flow: Shown,
    pub fan: Shown,
    pub overlap: Shown,
    pub gun_speed: Shown,
    pub wet: Shown,
    /// Trigger time for the area.
    pub time: Option<String>,
    /// Film across two spacings, of its mean.
    pub section: Vec<f64>,
    /// One lap alone, across the same width; the picture lays them side by side.
    pub spacing_of_fan: f64,
    pub ripple: Shown,
    /// Unevenness of one coat and of a cross coat.
    pub spread: Shown,
    pub spread_crossed: Shown,
    /// The overlap that suits this fan.
    pub even_at: Shown,
    pub words: String,
    pub working: Working,
}

/// Solves gun speed and film for the one left out, and draws the laps.
#[utoipa::path(operation_id = "film_laps", tag = "rigs", request_body = TypedLap, responses((status = 200, body = LapView), (status = 422)))]
#[post("/compute/film/laps")]
pub async fn laps(person: Person, body: web::Json<TypedLap>) -> Answer<LapView> {
    let TypedLap { mut lap, profile, area_m2 } = body.into_inner();
    resolve(&mut lap, person.prefs)?;
    let (solved, working) = solve(&read::<Lap>(lap)?, person.prefs)?;
    let say = |v, k| show(v, k, person.prefs);
    let film = section(profile, solved.overlap_pct, SECTION_POINTS);
    let mean = film[1..].iter().sum::<f64>() / SECTION_POINTS as f64;
    let ripple = ripple_pct(profile, solved.overlap_pct);
    let words = match profile {
        FanProfile::Fading => {
            "A fan that fades from its middle lies even at half overlap: each place gets the thin edge of one lap and the thick middle of the next."
        }
        FanProfile::Flat => {
            "A flat fan lies even where only its fading edges overlap, about a fifth; at half overlap every second strip is double."
        }
        FanProfile::Parabola => "A rounded fan is never quite even; it is nearest at about sixty per cent.",
    };
    Ok(web::Json(LapView {
        flow: say(solved.flow_ml_min, Kind::Flow),
        fan: say(solved.fan_mm, Kind::Length),
        overlap: say(solved.overlap_pct, Kind::Percent),
        gun_speed: say(solved.gun_speed_m_s, Kind::Speed),
        wet: say(solved.wet_um, Kind::Film),
        time: area_m2.filter(|m2| *m2 > 0.0).map(|m2| show_duration(solved.time_s(m2))),
        section: film.iter().chain(&film[1..]).map(|v| v / mean).collect(),
        spacing_of_fan: 1.0 - solved.overlap_pct / 100.0,
        ripple: say(ripple, Kind::Percent),
        spread: say(spread_pct(profile, solved.overlap_pct, false), Kind::Percent),
        spread_crossed: say(spread_pct(profile, solved.overlap_pct, true), Kind::Percent),
        even_at: say(profile.even_at_pct(), Kind::Percent),
        words: words.into(),
        working,
    }))
}

/// Points of the drawn section, one spacing.
const SECTION_POINTS: usize = 60;
