//! The door: what a page is told before anyone is signed in, and how an empty shop gets its owner.
//!
//! An owner may be made from the machine the server runs on; from anywhere else only with the code the server printed when it
//! started. Once there is anybody, this door is shut for good.

use crate::auth;
use crate::edge::{is_loopback, name_of};
use crate::house::store;
use crate::instruments;
use crate::people::{Added, add, address, pin_digits};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use level_keel_core::film::UsualComb;
use level_keel_core::forms::{UnitSetOffered, Word, forms};
use level_keel_core::people::Role;
use level_keel_core::quantity::{Prefs, resolve};
use level_keel_core::refusal::Refusal;
use level_keel_core::shop::{FirstVisit, Shop};
use level_keel_core::wire::read;
use level_keel_core::worded::{VariantArray, Worded};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgExecutor;
use utoipa::ToSchema;
use uuid::Uuid;

/// Wrong codes before the door waits a minute.
const TRIES: i32 = 5;
/// The door has one count for everyone: a try from another address is a try at the same code.
const KEY: &str = "first-visit";

/// What a page is told before anyone is signed in.
#[derive(Debug, Serialize, ToSchema)]
pub struct Door {
    /// Name of the shop.
    pub shop: String,
    /// This is the demo: an invented shop.
    pub demo: bool,
    /// The names to sign in by are listed; else one types it.
    pub names_listed: bool,
    /// Nobody works here yet: how the first one comes in.
    pub first_visit: Option<FirstVisitAsks>,
}

/// What the first visit asks.
#[derive(Debug, Serialize, ToSchema)]
pub struct FirstVisitAsks {
    /// Digits the owner's PIN has at the least.
    pub pin_digits: usize,
    /// The one-time code is asked: this page is not on the machine of the server.
    pub code_needed: bool,
    /// Time zones to choose from.
    pub zones: Vec<String>,
    /// Unit sets to choose from.
    pub unit_sets: Vec<UnitSetOffered>,
    /// Combs to choose from.
    pub combs: Vec<Word<UsualComb>>,
}

/// The first visit as it is sent.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OpenShop {
    /// The one-time code, from elsewhere than the machine itself.
    #[serde(default)]
    pub code: Option<String>,
    /// Who, what the shop says of itself, and what it measures with.
    #[schema(value_type = crate::openapi::FirstVisitTyped)]
    pub visit: Value,
}

/// What a page is told before anyone is signed in.
#[utoipa::path(operation_id = "door", tag = "shop", responses((status = 200, body = Door)))]
#[get("/door")]
pub async fn door(state: web::Data<State>, req: HttpRequest) -> Answer<Door> {
    let empty = nobody_here(&state.db).await?;
    let asks = || FirstVisitAsks {
        pin_digits: pin_digits(&state),
        code_needed: !from_this_machine(&state, &req),
        unit_sets: forms().unit_sets,
        combs: UsualComb::VARIANTS.iter().map(|c| Word { value: *c, word: c.word() }).collect(),
        zones: jiff::tz::db().available().map(|z| z.as_str().to_string()).collect(),
    };
    Ok(web::Json(Door {
        shop: state.shop.now().name,
        demo: state.shop.is_demo(),
        names_listed: state.settings.list_people,
        first_visit: empty.then(asks),
    }))
}

/// Opens an empty shop: its owner, its name, its zone; the owner is signed in.
#[utoipa::path(operation_id = "open_shop", tag = "shop", responses((status = 204), (status = 403), (status = 409), (status = 422), (status = 429)))]
#[post("/first-visit")]
pub async fn open_shop(state: web::Data<State>, req: HttpRequest, body: web::Json<OpenShop>) -> Result<HttpResponse, Problem> {
    let OpenShop { code, visit } = body.into_inner();
    if !nobody_here(&state.db).await? {
        return Err(has_owner());
    }
    if !from_this_machine(&state, &req) {
        auth::count_try(&state, KEY, TRIES).await?;
        if !code.is_some_and(|typed| state.first_code.is(&typed)) {
            let text = "This is not the code. It stands where the server was started; or open this page on that machine.";
            return Err(Refusal::bad_input("wrong-code", "code", text).into());
        }
    }
    let (visit, shop) = understood(visit, pin_digits(&state))?;
    let now = state.clock.now();
    let mut tx = state.db.begin().await?;
    // Two first visits at once: the second waits here and then finds the owner of the first.
    sqlx::query!("lock table person in share row exclusive mode").execute(&mut *tx).await?;
    if !nobody_here(&mut *tx).await? {
        return Err(has_owner());
    }
    let pin_digits = pin_digits(&state);
    let owner = Added { id: Uuid::now_v7(), name: &visit.owner, role: Role::Owner, pin: &visit.pin, pin_digits };
    let id = add(&mut *tx, &owner, now).await?;
    let units = serde_json::to_value(visit.units)?;
    sqlx::query!("update person set units = $2 where id = $1", id, units.as_str()).execute(&mut *tx).await?;
    store(&mut tx, &shop).await?;
    instruments::at_the_first_visit(&mut tx, visit.scale_resolution_g, visit.comb).await?;
    tx.commit().await?;
    state.shop.set(shop);
    tracing::info!(role = Role::Owner.word(), "the shop is open");
    let cookie = auth::open_session(&state, id, &address(&state, &req), now).await?;
    Ok(HttpResponse::NoContent().cookie(cookie).finish())
}

/// Reads what was typed in the units it chooses itself.
fn understood(mut visit: Value, pin_digits: usize) -> Result<(FirstVisit, Shop), Problem> {
    let units = serde_json::from_value(visit["units"].clone()).unwrap_or_default();
    resolve(&mut visit, Prefs { units, ..Prefs::default() })?;
    Ok(read::<FirstVisit>(visit)?.validate(pin_digits)?)
}

fn has_owner() -> Problem {
    Refusal::conflict("has-owner", "This shop has its owner already. Sign in, or ask the owner to add you.").into()
}

/// Whether nobody was ever entered, retired people counted.
pub async fn nobody_here(db: impl PgExecutor<'_>) -> Result<bool, sqlx::Error> {
    Ok(!sqlx::query_scalar!(r#"select exists(select 1 from person) as "any!""#).fetch_one(db).await?)
}

/// Asked from the machine itself: from its loopback, under its loopback name, and through nobody who forwards.
fn from_this_machine(state: &State, req: &HttpRequest) -> bool {
    let forwarded = ["forwarded", "x-forwarded-for", "x-real-ip", "via"].iter().any(|h| req.headers().contains_key(*h));
    let loopback = req.peer_addr().is_some_and(|a| a.ip().to_canonical().is_loopback());
    // A page of elsewhere whose name was turned to point here still asks under that name.
    let host = req.connection_info().host().to_string();
    let named = is_loopback(name_of(&host));
    loopback && named && !forwarded && !state.settings.behind_tls
}
