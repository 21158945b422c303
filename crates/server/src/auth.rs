//! Signing in by name and PIN. The cookie holds a random token; the table keeps only its hash.

use crate::problem::Problem;
use crate::state::State;
use actix_web::cookie::{Cookie, SameSite, time::Duration as CookieDuration};
use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest, web};
use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};
use jiff::{SignedDuration, Timestamp};
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::check::Writer;
use level_keel_core::people::Role;
use level_keel_core::quantity::{NumberFormat, Prefs, UnitSet};
use rand::Rng;
use sha2::{Digest, Sha256};
use std::future::Future;
use std::pin::Pin;
use uuid::Uuid;

/// Name of the cookie.
pub const COOKIE: &str = "level_keel_session";
/// A shift and a half.
const SESSION_HOURS: i64 = 12;
/// Wrong PINs before the lock.
const TRIES: i32 = 5;
/// How long the lock holds.
const LOCK_S: i64 = 60;

/// The signed-in person.
#[derive(Debug, Clone)]
pub struct Person {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Role.
    pub role: Role,
    /// How they read and write numbers.
    pub prefs: Prefs,
    /// Their session.
    pub session: Uuid,
}

impl Person {
    /// As core wants to know them.
    pub fn writer(&self) -> Writer {
        Writer { id: self.id, role: self.role, prefs: self.prefs }
    }
}

/// Reads a wire word of core (`"us"`, `"lead"`) from a column.
pub fn word<T: serde::de::DeserializeOwned>(text: &str) -> Result<T, Problem> {
    Ok(serde_json::from_value(serde_json::Value::String(text.into()))?)
}

/// Reads the preferences of a person's row.
pub fn prefs(units: &str, numbers: &str) -> Result<Prefs, Problem> {
    Ok(Prefs { units: word::<UnitSet>(units)?, numbers: word::<NumberFormat>(numbers)? })
}

impl FromRequest for Person {
    type Error = Problem;
    type Future = Pin<Box<dyn Future<Output = Result<Person, Problem>>>>;

    fn from_request(req: &HttpRequest, _: &mut Payload) -> Self::Future {
        let state = req.app_data::<web::Data<State>>().cloned();
        let token = req.cookie(COOKIE).map(|c| c.value().to_string());
        Box::pin(async move {
            let (Some(state), Some(token)) = (state, token) else { return Err(Problem::SignIn) };
            find(&state, &token).await?.ok_or(Problem::SignIn)
        })
    }
}

async fn find(state: &State, token: &str) -> Result<Option<Person>, Problem> {
    let now = state.clock.now();
    let row = sqlx::query!(
        r#"select s.id as session, p.id, p.name, p.role, p.units, p.numbers
           from session s join person p on p.id = s.person_id
           where s.token_sha256 = $1 and s.revoked is null and s.expires > $2 and not p.retired"#,
        digest(token),
        now.to_sqlx() as _,
    )
    .fetch_optional(&state.db)
    .await?;
    row.map(|r| {
        Ok(Person { id: r.id, name: r.name, role: word(&r.role)?, prefs: prefs(&r.units, &r.numbers)?, session: r.session })
    })
    .transpose()
}

fn digest(token: &str) -> String {
    Sha256::digest(token.as_bytes()).iter().map(|b| format!("{b:02x}")).collect()
}

/// Hashes a PIN with argon2id.
pub fn hash_pin(pin: &str) -> Result<String, Problem> {
    let hash = Argon2::default().hash_password(pin.as_bytes()).map_err(|e| Problem::Fault(e.to_string()))?;
    Ok(hash.to_string())
}

fn pin_matches(pin: &str, hash: &str) -> bool {
    PasswordHash::new(hash).is_ok_and(|hash| Argon2::default().verify_password(pin.as_bytes(), &hash).is_ok())
}

/// Checks name and PIN and opens a session.
///
/// One text for a wrong name and a wrong PIN; five wrong PINs lock the name for a minute.
pub async fn sign_in(state: &State, name: &str, pin: &str) -> Result<Cookie<'static>, Problem> {
    let now = state.clock.now();
    let wrong = || {
        level_keel_core::refusal::Refusal::bad_input(
            "wrong-pin",
            "pin",
            "Name and PIN do not match. Try again, or ask the owner to reset it.",
        )
    };
    let row = sqlx::query!(
        r#"select p.id, p.pin_hash, f.failures as "failures?", f.locked_until as "locked_until?: jiff_sqlx::Timestamp"
           from person p left join sign_in_failure f on f.person_id = p.id
           where lower(p.name) = lower($1) and not p.retired"#,
        name.trim(),
    )
    .fetch_optional(&state.db)
    .await?;
    let Some(row) = row else { return Err(wrong().into()) };
    if let Some(until) = row.locked_until.map(|t| t.to_jiff()).filter(|t| *t > now) {
        return Err(Problem::Throttled(until.duration_since(now).as_secs() + 1));
    }
    let (pin, hash) = (pin.to_string(), row.pin_hash);
    let matches = web::block(move || pin_matches(&pin, &hash)).await.map_err(|e| Problem::Fault(e.to_string()))?;
    if !matches {
        let failures = row.failures.unwrap_or(0) % TRIES + 1;
        let until = (failures >= TRIES).then(|| level_keel_core::pot_life::after(now, LOCK_S as f64));
        remember_failure(state, row.id, failures, until).await?;
        return Err(until.map_or_else(|| wrong().into(), |_| Problem::Throttled(LOCK_S)));
    }
    open_session(state, row.id, now).await
}

async fn remember_failure(state: &State, person: Uuid, failures: i32, until: Option<Timestamp>) -> Result<(), Problem> {
    sqlx::query!(
        "insert into sign_in_failure (person_id, failures, locked_until) values ($1, $2, $3)
         on conflict (person_id) do update set failures = $2, locked_until = $3",
        person,
        failures,
        until.map(|t| t.to_sqlx()) as _,
    )
    .execute(&state.db)
    .await?;
    Ok(())
}

async fn open_session(state: &State, person: Uuid, now: Timestamp) -> Result<Cookie<'static>, Problem> {
    let mut bytes = [0_u8; 32];
    rand::rng().fill_bytes(&mut bytes);
    let token: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
    let expires = now.checked_add(SignedDuration::from_hours(SESSION_HOURS)).unwrap_or(now);
    sqlx::query!("delete from sign_in_failure where person_id = $1", person).execute(&state.db).await?;
    sqlx::query!(
        "insert into session (id, token_sha256, person_id, created, last_seen, expires) values ($1, $2, $3, $4, $4, $5)",
        Uuid::now_v7(),
        digest(&token),
        person,
        now.to_sqlx() as _,
        expires.to_sqlx() as _,
    )
    .execute(&state.db)
    .await?;
    Ok(cookie(token, SESSION_HOURS))
}

fn cookie(token: String, hours: i64) -> Cookie<'static> {
    Cookie::build(COOKIE, token)
        .path("/")
        .http_only(true)
        .same_site(SameSite::Strict)
        .max_age(CookieDuration::hours(hours))
        .finish()
}

/// Revokes a session and empties the cookie.
pub async fn sign_out(state: &State, person: &Person) -> Result<Cookie<'static>, Problem> {
    let now = state.clock.now();
    sqlx::query!("update session set revoked = $2 where id = $1", person.session, now.to_sqlx() as _).execute(&state.db).await?;
    Ok(cookie(String::new(), 0))
}
