//! Whether the database answers, and which of its errors say that it does not.

use sqlx::postgres::PgConnectOptions;
use sqlx::{ConnectOptions, Connection, PgPool};
use std::sync::Arc;
use std::time::{Duration, Instant};
use tokio::sync::Mutex;
use tokio::time::timeout;

/// How long the database has to say that it is there. With the wait of a request before it (`away`) this stays under three seconds.
const ANSWERS_IN: Duration = Duration::from_millis(1500);

/// Whether the database answers. It is asked over a connection of its own, since those of the pool may all be busy, which
/// is no reason to call it away.
#[derive(Clone)]
pub struct Pulse(Arc<Inner>);

struct Inner {
    options: PgConnectOptions,
    last: Mutex<Option<(Instant, bool)>>,
}

impl Pulse {
    /// The pulse of the database behind a pool.
    pub fn of(db: &PgPool) -> Pulse {
        Pulse(Arc::new(Inner { options: (*db.connect_options()).clone(), last: Mutex::new(None) }))
    }

    /// True: it answered just now. Many who wait are told by one asking, if that began after they did.
    pub async fn beats(&self) -> bool {
        let called = Instant::now();
        let mut last = self.0.last.lock().await;
        if let Some((_, beats)) = last.filter(|(asked, _)| *asked >= called) {
            return beats;
        }
        let asked = Instant::now();
        let beats = matches!(timeout(ANSWERS_IN, self.asked()).await, Ok(Ok(())));
        *last = Some((asked, beats));
        beats
    }

    async fn asked(&self) -> Result<(), sqlx::Error> {
        let mut connection = self.0.options.connect().await?;
        connection.ping().await?;
        connection.close().await
    }
}

/// Seconds after which it is worth asking again.
pub const AGAIN_S: &str = "2";

/// The database is not there, went away under a statement, is about to be, or only reads: none of them is a fault of ours,
/// and all of them pass.
pub fn is_away(e: &sqlx::Error) -> bool {
    match e {
        sqlx::Error::Io(_) | sqlx::Error::PoolTimedOut | sqlx::Error::PoolClosed | sqlx::Error::WorkerCrashed => true,
        sqlx::Error::Database(d) => d.code().is_some_and(|code| AWAY.iter().any(|away| code.starts_with(away))),
        _ => false,
    }
}

/// PostgreSQL, by the class or the code: connection exceptions, too many connections, shut down or starting up, a standby
/// that only reads, two transactions that waited for each other.
const AWAY: [&str; 6] = ["08", "53300", "57P", "25006", "40001", "40P01"];
