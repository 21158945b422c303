//! People: who is here, signing in and out, how they read numbers.

pub mod keep;
pub mod sessions;

use crate::auth::{self, Person};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpRequest, HttpResponse, delete, get, post, put, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::EntryKind;
use level_keel_core::book::LedgerKind;
use level_keel_core::forms::{Forms, forms};
use level_keel_core::limits::check_name;
use level_keel_core::people::{Duty, Role, check_pin, has_duty};
use level_keel_core::quantity::{NumberFormat, UnitSet};
use level_keel_core::refusal::Refusal;
use level_keel_core::worded::{VariantArray, Worded};
use serde::{Deserialize, Serialize};
use sqlx::PgExecutor;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// A name to sign in with.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Named {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Role.
    pub role: Role,
}

/// The signed-in person, and how the shop's time runs.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Me {
    pub id: Uuid,
    pub name: String,
    pub role: Role,
    pub units: UnitSet,
    pub numbers: NumberFormat,
    /// May keep people and see everybody's sessions.
    pub may_keep_people: bool,
    /// Seconds without a hand on the page after which it locks; 0: never.
    pub idle_lock_s: f64,
    /// May create and edit sheets.
    pub may_edit_sheets: bool,
    /// Server time now.
    pub now: Timestamp,
    /// Seconds of shop time in a real second.
    pub clock_rate: f64,
    /// The shop's time zone.
    pub zone: String,
    /// The shop's name.
    pub shop: String,
    /// One person does all the work.
    pub works_alone: bool,
    /// This is the demo: an invented shop.
    pub demo: bool,
    /// Version of the application; on a mismatch the page says reload.
    pub version: String,
    /// Kinds of entry that may wait in the browser while the server does not answer, with what the page calls them.
    pub waits: BTreeMap<&'static str, &'static str>,
}

/// Name and PIN.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SignIn {
    /// Name.
    pub name: String,
    /// PIN.
    pub pin: String,
}

/// How a person reads and writes numbers.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Reads {
    /// Unit set.
    pub units: UnitSet,
    /// Number format.
    pub numbers: NumberFormat,
}

fn me(state: &State, person: &Person) -> Me {
    let shop = state.shop.now();
    Me {
        id: person.id,
        name: person.name.clone(),
        role: person.role,
        units: person.prefs.units,
        numbers: person.prefs.numbers,
        may_keep_people: has_duty(person.role, Duty::House).is_ok(),
        idle_lock_s: state.settings.idle_lock_min * 60.0,
        may_edit_sheets: has_duty(person.role, Duty::Sheets).is_ok(),
        now: state.clock.now(),
        clock_rate: state.clock.rate(),
        zone: shop.zone,
        shop: shop.name,
        works_alone: shop.works_alone,
        demo: state.shop.is_demo(),
        version: state.version.clone(),
        waits: EntryKind::VARIANTS.iter().filter_map(|kind| Some((kind.name(), kind.waits_as()?))).collect(),
    }
}

/// What forms are made of: words to choose from, units to tap, how long a list may be.
#[utoipa::path(operation_id = "forms", tag = "people", responses((status = 200, body = Forms)))]
#[get("/forms")]
pub async fn forms_read(_person: Person) -> Answer<Forms> {
    Ok(web::Json(forms()))
}

/// Names to sign in with. The one list that needs no session: it is the sign-in page.
#[utoipa::path(operation_id = "people_list", tag = "people", responses((status = 200, body = [Named])))]
#[get("/people")]
pub async fn list(state: web::Data<State>) -> Answer<Vec<Named>> {
    let rows = sqlx::query!("select id, name, role from person where not retired order by name").fetch_all(&state.db).await?;
    let named = rows.into_iter().map(|r| Ok(Named { id: r.id, name: r.name, role: auth::word(&r.role)? }));
    Ok(web::Json(named.collect::<Result<_, Problem>>()?))
}

/// Writes a person's row.
pub async fn add(db: impl PgExecutor<'_>, id: Uuid, name: &str, role: Role, pin: &str, now: Timestamp) -> Result<Uuid, Problem> {
    let name = check_name("name", name)?;
    check_pin(pin)?;
    sqlx::query!(
        "insert into person (id, name, role, pin_hash, created) values ($1, $2, $3, $4, $5)",
        id,
        name,
        role.word(),
        auth::hash_pin(pin)?,
        now.to_sqlx() as _,
    )
    .execute(db)
    .await
    .map_err(|e| match e.as_database_error() {
        Some(d) if d.is_unique_violation() => Refusal::bad_input("name-taken", "name", "Someone has this name already.").into(),
        _ => Problem::from(e),
    })?;
    Ok(id)
}

/// Who is signed in here.
#[utoipa::path(tag = "people", responses((status = 200, body = Me), (status = 401)))]
#[get("/session")]
pub async fn current(state: web::Data<State>, person: Person) -> Answer<Me> {
    Ok(web::Json(me(&state, &person)))
}

/// Signs in.
#[utoipa::path(tag = "people", responses((status = 204), (status = 422), (status = 429)))]
#[post("/session")]
pub async fn sign_in(state: web::Data<State>, req: HttpRequest, body: web::Json<SignIn>) -> Result<HttpResponse, Problem> {
    let cookie = auth::sign_in(&state, &body.name, &body.pin, &address(&state, &req)).await?;
    Ok(HttpResponse::NoContent().cookie(cookie).finish())
}

/// Behind a proxy the peer is the proxy; the address it forwards counts. Elsewhere that header is anyone's to write.
pub fn address(state: &State, req: &HttpRequest) -> String {
    let info = req.connection_info();
    let address = if state.settings.behind_tls { info.realip_remote_addr() } else { info.peer_addr() };
    address.unwrap_or("unknown").to_string()
}

/// Signs out and revokes the session.
#[utoipa::path(tag = "people", responses((status = 204)))]
#[delete("/session")]
pub async fn sign_out(state: web::Data<State>, person: Person) -> Result<HttpResponse, Problem> {
    let cookie = auth::sign_out(&state, &person).await?;
    Ok(HttpResponse::NoContent().cookie(cookie).finish())
}

/// Sets how the signed-in person reads numbers. Changes no stored value.
#[utoipa::path(tag = "people", responses((status = 200, body = Me)))]
#[put("/session/reads")]
pub async fn reads(state: web::Data<State>, mut person: Person, body: web::Json<Reads>) -> Answer<Me> {
    let word = |v: serde_json::Value| v.as_str().unwrap_or_default().to_string();
    let (units, numbers) = (word(serde_json::to_value(body.units)?), word(serde_json::to_value(body.numbers)?));
    sqlx::query!("update person set units = $2, numbers = $3 where id = $1", person.id, units, numbers)
        .execute(&state.db)
        .await?;
    person.prefs = level_keel_core::quantity::Prefs { units: body.units, numbers: body.numbers };
    Ok(web::Json(me(&state, &person)))
}
