//! Signing in by name and PIN. The cookie holds a random token; the table keeps only its hash.

use crate::live;
use crate::problem::Problem;
use crate::state::State;
use actix_web::cookie::{Cookie, SameSite, time::Duration as CookieDuration};
use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpMessage, HttpRequest, web};
use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};
use jiff::{SignedDuration, Timestamp};
use jiff_sqlx::ToSqlx;
use level_keel_core::people::Role;
use level_keel_core::people::Writer;
use level_keel_core::quantity::{NumberFormat, Prefs, UnitSet};
use level_keel_core::refusal::Refusal;
use rand::Rng;
use sha2::{Digest, Sha256};
use std::future::Future;
use std::pin::Pin;
use std::sync::LazyLock;
use std::time::Duration;
use tokio::task::JoinHandle;
use uuid::Uuid;

/// Name of the cookie. A browser keeps one jar for every port of a machine: the demo beside a shop has a name of its own.
fn cookie_name(state: &State) -> &'static str {
    if state.shop.is_demo() { "level_keel_demo_session" } else { "level_keel_session" }
}

/// A shift and a half.
const SESSION_HOURS: i64 = 12;
/// Wrong PINs of one name before the lock.
const TRIES: i32 = 5;
/// Wrong tries from one address before the lock: a shop's tablets may share one.
const ADDRESS_TRIES: i32 = 20;
/// How long the lock holds, and the window tries are counted in.
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
    /// The shop is worked by one person.
    pub works_alone: bool,
}

impl Person {
    /// As core wants to know them.
    pub fn writer(&self) -> Writer {
        Writer { id: self.id, role: self.role, prefs: self.prefs, works_alone: self.works_alone }
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
        // The edge found them already (`edge::signed_in`).
        if let Some(person) = req.extensions().get::<Person>().cloned() {
            return Box::pin(std::future::ready(Ok(person)));
        }
        let state = req.app_data::<web::Data<State>>().cloned();
        let token = state.as_ref().and_then(|s| req.cookie(cookie_name(s))).map(|c| c.value().to_string());
        Box::pin(async move {
            let (Some(state), Some(token)) = (state, token) else { return Err(Problem::SignIn) };
            find(&state, &token).await?.ok_or(Problem::SignIn)
        })
    }
}

async fn find(state: &State, token: &str) -> Result<Option<Person>, Problem> {
    let now = state.clock.now();
    let row = sqlx::query!(
        r#"select s.id as session, s.last_seen as "last_seen: jiff_sqlx::Timestamp", p.id, p.name, p.role, p.units, p.numbers
           from session s join person p on p.id = s.person_id
           where s.token_sha256 = $1 and s.revoked is null and s.expires > $2 and not p.retired"#,
        digest(token),
        now.to_sqlx() as _,
    )
    .fetch_optional(&state.db)
    .await?;
    // Seen to the minute: a write on every request would cost more than it tells.
    if let Some(r) = row.as_ref().filter(|r| now.duration_since(r.last_seen.to_jiff()).as_secs() >= 60) {
        sqlx::query!("update session set last_seen = $2 where id = $1", r.session, now.to_sqlx() as _).execute(&state.db).await?;
    }
    row.map(|r| {
        Ok(Person {
            id: r.id,
            name: r.name,
            role: word(&r.role)?,
            prefs: prefs(&r.units, &r.numbers)?,
            session: r.session,
            works_alone: state.shop.now().works_alone,
        })
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
/// One text for a wrong name and a wrong PIN, and the same work for both. Five wrong PINs lock the name for a
/// minute, twenty wrong tries from one address lock the address.
pub async fn sign_in(state: &State, name: &str, pin: &str, from: &str) -> Result<Cookie<'static>, Problem> {
    let now = state.clock.now();
    let row = sqlx::query!("select id, pin_hash from person where lower(name) = lower($1) and not retired", name.trim())
        .fetch_optional(&state.db)
        .await?;
    let address = format!("address:{from}");
    count_try(state, &address, ADDRESS_TRIES).await?;
    // A name nobody has is counted like any other, so that the answers do not tell names apart; in so many counts and no more, whatever
    // names a stranger thinks of.
    let person = format!("person:{}", row.as_ref().map_or_else(|| nobody(name), |r| r.id.to_string()));
    let last = count_try(state, &person, TRIES).await?;
    let hash = row.as_ref().map_or_else(|| NOBODY.clone(), |r| r.pin_hash.clone());
    let pin = pin.to_string();
    let matches = web::block(move || pin_matches(&pin, &hash)).await.map_err(|e| Problem::Fault(e.to_string()))?;
    match row.filter(|_| matches) {
        Some(row) => {
            sqlx::query!("delete from sign_in_try where key = $1", person).execute(&state.db).await?;
            sqlx::query!("update sign_in_try set tries = greatest(tries - 1, 0) where key = $1", address)
                .execute(&state.db)
                .await?;
            open_session(state, row.id, from, now).await
        }
        None if last => {
            tracing::warn!(%from, "signing in is locked for a while: too many wrong PINs");
            Err(Problem::Throttled(LOCK_S))
        }
        None => {
            Err(Refusal::bad_input("wrong-pin", "pin", "Name and PIN do not match. Try again, or ask the owner to reset it.")
                .into())
        }
    }
}

/// The count of a name nobody has: one of 65,536.
fn nobody(name: &str) -> String {
    format!("nobody {}", &digest(&name.trim().to_lowercase())[..4])
}

/// How often counts of tries that are over are thrown away.
const TIDIED_EVERY: Duration = Duration::from_secs(600);

/// Throws away counts of tries and sessions that bear on nothing any more, until the task is aborted.
pub fn keep_tidy(state: State) -> JoinHandle<()> {
    tokio::spawn(async move {
        loop {
            if let Err(problem) = tidy(&state).await {
                tracing::warn!(%problem, "counts of tries could not be thrown away");
            }
            tokio::time::sleep(TIDIED_EVERY).await;
        }
    })
}

/// Throws away counts that nobody was added to for a day.
pub async fn tidy(state: &State) -> Result<(), Problem> {
    let day_ago = level_keel_core::pot_life::after(state.clock.now(), -86_400.0);
    sqlx::query!("delete from sign_in_try where since < $1", day_ago.to_sqlx() as _).execute(&state.db).await?;
    Ok(())
}

/// A hash nobody's PIN has: a wrong name costs as much time as a wrong PIN.
static NOBODY: LazyLock<String> = LazyLock::new(|| hash_pin(&Uuid::now_v7().to_string()).unwrap_or_default());

/// Counts a try before it is judged, so that many at once cannot slip past the count. True: it is the last one.
pub async fn count_try(state: &State, key: &str, most: i32) -> Result<bool, Problem> {
    let now = state.clock.now();
    let window = level_keel_core::pot_life::after(now, -(LOCK_S as f64));
    let row = sqlx::query!(
        r#"insert into sign_in_try as t (key, tries, since) values ($1, 1, $2)
           on conflict (key) do update set
             tries = case when t.since < $3 then 1 else t.tries + 1 end,
             since = case when t.since >= $3 and t.tries >= $4 then t.since else $2 end
           returning tries, since as "since: jiff_sqlx::Timestamp""#,
        key,
        now.to_sqlx() as _,
        window.to_sqlx() as _,
        most,
    )
    .fetch_one(&state.db)
    .await?;
    if row.tries > most {
        return Err(Problem::Throttled(LOCK_S - now.duration_since(row.since.to_jiff()).as_secs().clamp(0, LOCK_S - 1)));
    }
    Ok(row.tries == most)
}

/// Opens a session and makes its cookie.
pub async fn open_session(state: &State, person: Uuid, from: &str, now: Timestamp) -> Result<Cookie<'static>, Problem> {
    let mut bytes = [0_u8; 32];
    rand::rng().fill_bytes(&mut bytes);
    let token: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
    let expires = now.checked_add(SignedDuration::from_hours(SESSION_HOURS)).unwrap_or(now);
    sqlx::query!(
        "insert into session (id, token_sha256, person_id, created, last_seen, expires, opened_from) values ($1, $2, $3, $4, $4, $5, $6)",
        Uuid::now_v7(),
        digest(&token),
        person,
        now.to_sqlx() as _,
        expires.to_sqlx() as _,
        from,
    )
    .execute(&state.db)
    .await?;
    Ok(cookie(state, token, SESSION_HOURS))
}

fn cookie(state: &State, token: String, hours: i64) -> Cookie<'static> {
    Cookie::build(cookie_name(state), token)
        .path("/")
        .http_only(true)
        .secure(state.settings.behind_tls)
        .same_site(SameSite::Strict)
        .max_age(CookieDuration::hours(hours))
        .finish()
}

/// Revokes a session and empties the cookie.
pub async fn sign_out(state: &State, person: &Person) -> Result<Cookie<'static>, Problem> {
    let now = state.clock.now();
    sqlx::query!("update session set revoked = $2 where id = $1", person.session, now.to_sqlx() as _).execute(&state.db).await?;
    live::ended(&state.db, &[person.session]).await?;
    Ok(cookie(state, String::new(), 0))
}
