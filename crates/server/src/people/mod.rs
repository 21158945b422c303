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
use level_keel_core::people::{Duty, PIN_DIGITS_LEAST, Role, check_pin, has_duty};
use level_keel_core::quantity::{NumberFormat, UnitSet};
use level_keel_core::refusal::Refusal;
use level_keel_core::worded::{VariantArray, Worded};
use serde::{Deserialize, Serialize};
use sqlx::PgExecutor;
use std::collections::BTreeMap;
use std::net::IpAddr;
use utoipa::ToSchema;
use uuid::Uuid;

/// A name to sign in with.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Named {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Role; not told to whoever is not signed in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub role: Option<Role>,
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
    /// Digits a PIN has at the least.
    pub pin_digits: usize,
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
        pin_digits: pin_digits(state),
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

/// Names to sign in with. The one list that needs no session: it is the sign-in page. Who is not signed in learns no roles, and no
/// names where the shop does not list them.
#[utoipa::path(operation_id = "people_list", tag = "people", responses((status = 200, body = [Named])))]
#[get("/people")]
pub async fn list(state: web::Data<State>, person: Option<Person>) -> Answer<Vec<Named>> {
    if person.is_none() && !state.settings.list_people {
        return Ok(web::Json(Vec::new()));
    }
    let rows = sqlx::query!("select id, name, role from person where not retired order by name").fetch_all(&state.db).await?;
    let named = rows
        .into_iter()
        .map(|r| Ok(Named { id: r.id, name: r.name, role: person.as_ref().map(|_| auth::word(&r.role)).transpose()? }));
    Ok(web::Json(named.collect::<Result<_, Problem>>()?))
}

/// A person as they are added.
pub struct Added<'a> {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: &'a str,
    /// Role.
    pub role: Role,
    /// PIN.
    pub pin: &'a str,
    /// Digits it has at the least.
    pub pin_digits: usize,
}

/// Digits a PIN of this shop has at the least; the demo's people have four, so that they are quickly tried.
pub fn pin_digits(state: &State) -> usize {
    if state.shop.is_demo() { PIN_DIGITS_LEAST } else { state.settings.pin_digits.max(PIN_DIGITS_LEAST) }
}

/// Writes a person's row.
pub async fn add(db: impl PgExecutor<'_>, new: &Added<'_>, now: Timestamp) -> Result<Uuid, Problem> {
    let Added { id, role, pin, .. } = *new;
    let name = check_name("name", new.name)?;
    check_pin(pin, new.pin_digits)?;
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
    let tablet = auth::tablet_of(&state, &req);
    let signed = auth::sign_in(&state, &body.name, &body.pin, &address(&state, &req), tablet.as_deref()).await?;
    Ok(HttpResponse::NoContent().cookie(signed.session).cookie(signed.tablet).finish())
}

/// The address a request comes from. Each proxy adds the one it saw to the end of `X-Forwarded-For`; what stands before those of our own
/// proxies anyone may have written. Without a proxy the header is not read at all.
pub fn address(state: &State, req: &HttpRequest) -> String {
    let proxies = state.settings.proxies.max(usize::from(state.settings.behind_tls));
    let peer = req.peer_addr().map_or_else(|| "unknown".into(), |a| a.ip().to_canonical().to_string());
    let seen = req.headers().get_all("x-forwarded-for").filter_map(|v| v.to_str().ok()).flat_map(|v| v.split(','));
    let seen: Vec<&str> = seen.map(str::trim).filter(|a| !a.is_empty()).collect();
    let outermost = seen.len().checked_sub(proxies).filter(|_| proxies > 0).and_then(|at| seen.get(at));
    // What is no address counts as the proxy's own: a proxy that writes none forwards none.
    outermost.and_then(|a| a.parse::<IpAddr>().ok()).map_or(peer, |ip| ip.to_canonical().to_string())
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
