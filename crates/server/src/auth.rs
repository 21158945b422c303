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
use level_keel_core::people::{ADDRESS_TRIES, Role, TRIES, TRIES_WITHIN_S, Writer, lock_s};
use level_keel_core::pot_life::after;
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
/// A browser somebody signed in on is known again for so long.
const TABLET_DAYS: i64 = 400;

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

/// The cookies of whoever signs in: the session, and the browser they signed in on.
pub struct SignedIn {
    /// The session.
    pub session: Cookie<'static>,
    /// The browser, known again later.
    pub tablet: Cookie<'static>,
}

/// Checks name and PIN and opens a session.
///
/// One text for a wrong name and a wrong PIN, and the same work for both. Five wrong PINs lock the name for a minute, and longer each time;
/// twenty wrong tries from one address lock the address. On a browser where that person signed in before, tries are counted by
/// themselves: whoever guesses elsewhere locks nobody out there.
pub async fn sign_in(state: &State, name: &str, pin: &str, from: &str, tablet: Option<&str>) -> Result<SignedIn, Problem> {
    let now = state.clock.now();
    let row = sqlx::query!("select id, pin_hash from person where lower(name) = lower($1) and not retired", name.trim())
        .fetch_optional(&state.db)
        .await?;
    let known = match (tablet, &row) {
        (Some(token), Some(row)) => knows(state, token, row.id).await?,
        _ => false,
    };
    let address = format!("address:{from}");
    let last_of_address = if known { None } else { count_try(state, &address, ADDRESS_TRIES).await? };
    // A name nobody has is counted like any other, so that the answers do not tell names apart; in so many counts and no more, whatever
    // names a stranger thinks of.
    let of = row.as_ref().map_or_else(|| nobody(name), |r| r.id.to_string());
    let key = match tablet.filter(|_| known) {
        Some(token) => format!("tablet:{of}:{}", &digest(token)[..16]),
        None => format!("person:{of}"),
    };
    let last = count_try(state, &key, TRIES).await?;
    let hash = row.as_ref().map_or_else(|| NOBODY.clone(), |r| r.pin_hash.clone());
    let pin = pin.to_string();
    let matches = web::block(move || pin_matches(&pin, &hash)).await.map_err(|e| Problem::Fault(e.to_string()))?;
    match row.filter(|_| matches) {
        Some(row) => {
            right(state, &key, i32::MAX, last.is_some()).await?;
            right(state, &address, 1, last_of_address.is_some()).await?;
            let tablet = remember(state, tablet, row.id, now).await?;
            Ok(SignedIn { session: open_session(state, row.id, from, now).await?, tablet })
        }
        None => match last {
            Some(locked_s) => {
                tracing::warn!(%from, "signing in is locked for a while: too many wrong PINs");
                Err(Problem::Throttled(locked_s))
            }
            None => {
                let text = "Name and PIN do not match. Try again, or ask the owner to reset it.";
                Err(Refusal::bad_input("wrong-pin", "pin", text).into())
            }
        },
    }
}

/// The PIN was right: so many tries are taken back, and the lock too where it was this very one that locked.
async fn right(state: &State, key: &str, back: i32, locked_by_it: bool) -> Result<(), Problem> {
    sqlx::query!(
        "update sign_in_try set tries = greatest(tries - $2, 0), locks = locks - $3, locked_until = case when $3 = 1 then null else locked_until end
         where key = $1",
        key,
        back,
        i32::from(locked_by_it),
    )
    .execute(&state.db)
    .await?;
    Ok(())
}

/// Whether a person signed in on this browser before.
async fn knows(state: &State, token: &str, person: Uuid) -> Result<bool, Problem> {
    let sql = sqlx::query_scalar!(
        r#"select exists(select 1 from tablet where token_sha256 = $1 and person_id = $2) as "known!""#,
        digest(token),
        person
    );
    Ok(sql.fetch_one(&state.db).await?)
}

/// Remembers that a person signed in on a browser; one that has no name of its own is given one.
async fn remember(state: &State, tablet: Option<&str>, person: Uuid, now: Timestamp) -> Result<Cookie<'static>, Problem> {
    let token = tablet.filter(|t| t.len() == 64).map_or_else(random_token, str::to_string);
    sqlx::query!(
        "insert into tablet (token_sha256, person_id, seen) values ($1, $2, $3)
         on conflict (token_sha256, person_id) do update set seen = $3",
        digest(&token),
        person,
        now.to_sqlx() as _,
    )
    .execute(&state.db)
    .await?;
    Ok(cookie(state, tablet_cookie(state), token, TABLET_DAYS * 24))
}

/// The browser a request comes from, where it is known.
pub fn tablet_of(state: &State, req: &HttpRequest) -> Option<String> {
    req.cookie(tablet_cookie(state)).map(|c| c.value().to_string())
}

fn tablet_cookie(state: &State) -> &'static str {
    if state.shop.is_demo() { "level_keel_demo_tablet" } else { "level_keel_tablet" }
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

/// Throws away counts that nobody was added to for a day, and browsers nobody signed in on for longer than they are known.
pub async fn tidy(state: &State) -> Result<(), Problem> {
    let ago = |days: f64| level_keel_core::pot_life::after(state.clock.now(), -86_400.0 * days);
    let day_ago = ago(1.0);
    sqlx::query!(
        "delete from sign_in_try where since < $1 and (locked_until is null or locked_until < $1)",
        day_ago.to_sqlx() as _
    )
    .execute(&state.db)
    .await?;
    sqlx::query!("delete from tablet where seen < $1", ago(TABLET_DAYS as f64).to_sqlx() as _).execute(&state.db).await?;
    Ok(())
}

/// A hash nobody's PIN has: a wrong name costs as much time as a wrong PIN.
static NOBODY: LazyLock<String> = LazyLock::new(|| hash_pin(&Uuid::now_v7().to_string()).unwrap_or_default());

/// Counts a try before it is judged, so that many at once cannot slip past the count. `Some`: it is the last one, and locks for so many
/// seconds if it is wrong.
pub async fn count_try(state: &State, key: &str, most: i32) -> Result<Option<i64>, Problem> {
    let now = state.clock.now();
    let window = after(now, -(TRIES_WITHIN_S as f64));
    let row = sqlx::query!(
        r#"insert into sign_in_try as t (key, tries, since) values ($1, 1, $2)
           on conflict (key) do update set
             tries = case when t.locked_until > $2 then t.tries when t.since < $3 or t.locked_until is not null then 1 else t.tries + 1 end,
             locked_until = case when t.locked_until > $2 then t.locked_until end,
             since = case when t.locked_until > $2 then t.since else $2 end
           returning tries, locks, locked_until as "locked: jiff_sqlx::Timestamp""#,
        key,
        now.to_sqlx() as _,
        window.to_sqlx() as _,
    )
    .fetch_one(&state.db)
    .await?;
    if let Some(until) = row.locked {
        return Err(Problem::Throttled(until.to_jiff().duration_since(now).as_secs().max(0) + 1));
    }
    if row.tries < most {
        return Ok(None);
    }
    // The one that fills the count locks at once; of several at once all but one find it locked.
    let s = lock_s(row.locks);
    let locked = sqlx::query!(
        "update sign_in_try set locks = locks + 1, locked_until = $2 where key = $1 and locked_until is null",
        key,
        after(now, s as f64).to_sqlx() as _
    );
    match locked.execute(&state.db).await?.rows_affected() {
        0 => Err(Problem::Throttled(s)),
        _ => Ok(Some(s)),
    }
}

/// What was guessed at within a day, in words, for the owner.
pub async fn guessing(state: &State) -> Result<Option<String>, Problem> {
    let day_ago = after(state.clock.now(), -86_400.0);
    let rows = sqlx::query!(
        r#"select t.key, t.locks, p.name as "name?" from sign_in_try t
           left join person p on t.key in ('person:' || p.id, 'tablet:' || p.id) or t.key like 'tablet:' || p.id || ':%'
           where t.locks > 0 and t.since > $1 order by t.locks desc, t.key limit 20"#,
        day_ago.to_sqlx() as _
    )
    .fetch_all(&state.db)
    .await?;
    let said = rows.iter().map(|r| {
        let times = if r.locks == 1 { "once".into() } else { format!("{} times", r.locks) };
        match (&r.name, r.key.strip_prefix("address:")) {
            (Some(name), _) => format!("{name} locked {times}"),
            (None, Some(address)) => format!("address {address} locked {times}"),
            (None, None) => format!("a name nobody has locked {times}"),
        }
    });
    let said: Vec<String> = said.collect();
    Ok((!said.is_empty()).then(|| format!("PINs were guessed at within a day: {}.", said.join("; "))))
}

/// Opens a session and makes its cookie.
pub async fn open_session(state: &State, person: Uuid, from: &str, now: Timestamp) -> Result<Cookie<'static>, Problem> {
    let token = random_token();
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
    Ok(cookie(state, cookie_name(state), token, SESSION_HOURS))
}

fn random_token() -> String {
    let mut bytes = [0_u8; 32];
    rand::rng().fill_bytes(&mut bytes);
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

fn cookie(state: &State, name: &'static str, token: String, hours: i64) -> Cookie<'static> {
    Cookie::build(name, token)
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
    Ok(cookie(state, cookie_name(state), String::new(), 0))
}
