//! A stream ends with the session it was opened by: signed out, ended by the owner, retired, expired.

use super::{CHANNEL, RESYNC};
use crate::auth::Person;
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use sqlx::PgExecutor;
use uuid::Uuid;

/// Told on the channel of the database, with the id of a session that ended.
const ENDED: &str = "ended:";

/// Tells every server that sessions ended; their streams end with them.
pub async fn ended(db: impl PgExecutor<'_>, sessions: &[Uuid]) -> Result<(), sqlx::Error> {
    let told: Vec<String> = sessions.iter().map(|id| format!("{ENDED}{id}")).collect();
    sqlx::query!("select pg_notify($1, x) from unnest($2::text[]) x", CHANNEL, &told).fetch_all(db).await.map(drop)
}

/// What is told of sessions is told to no browser.
pub fn is_of_a_session(told: &str) -> bool {
    told.starts_with(ENDED)
}

/// The session of a stream.
pub struct Leash {
    state: State,
    session: Uuid,
    own: String,
    expires: Timestamp,
}

impl Leash {
    /// The leash of whoever opens a stream.
    pub async fn of(state: &State, person: &Person) -> Result<Leash, Problem> {
        let find =
            sqlx::query_scalar!(r#"select expires as "at: jiff_sqlx::Timestamp" from session where id = $1"#, person.session);
        let expires = find.fetch_optional(&state.db).await?.ok_or(Problem::SignIn)?.to_jiff();
        Ok(Leash { state: state.clone(), session: person.session, own: format!("{ENDED}{}", person.session), expires })
    }

    /// Asked at each event: whether the session still stands. Where events may have been missed the database is asked.
    pub async fn holds(&self, told: &str) -> bool {
        let now = self.state.clock.now();
        if told == self.own || now >= self.expires {
            return false;
        }
        told != RESYNC || self.stands(now).await
    }

    /// Seconds until it expires; never quite at the instant, so that whoever waits for it finds it over.
    pub fn left(&self) -> std::time::Duration {
        let s = self.expires.duration_since(self.state.clock.now()).as_secs_f64() / self.state.clock.rate().max(0.001);
        std::time::Duration::from_secs_f64((s + 0.05).clamp(0.05, 86_400.0))
    }

    async fn stands(&self, now: Timestamp) -> bool {
        let sql = sqlx::query_scalar!(
            r#"select exists(select 1 from session s join person p on p.id = s.person_id
               where s.id = $1 and s.revoked is null and s.expires > $2 and not p.retired) as "stands!""#,
            self.session,
            now.to_sqlx() as _
        );
        // A database that is away ends no session.
        sql.fetch_one(&self.state.db).await.unwrap_or(true)
    }
}
