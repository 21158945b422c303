//! What is typed, as a pattern of the database, and searches that are planned for it.

use sqlx::PgPool;
use sqlx::postgres::PgPoolOptions;
use std::time::Duration;

/// How long a connection is waited for: longer, and a database that is away looks like a server that hangs.
pub const PATIENCE: Duration = Duration::from_secs(2);

/// Connections that only search: a search takes tens of milliseconds at the most, and two cores run no more of them at once.
const SEARCHES: u32 = 4;

/// A pattern that finds a word anywhere; the signs of patterns are taken as they are.
pub fn anywhere(word: &str) -> String {
    let plain = word.trim().replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_");
    format!("%{plain}%")
}

/// Connections of their own for lists and searches, opened when the first is asked: their statements are planned for what is asked,
/// since a rare word and a common one, many rows and few want different plans. Everywhere else a statement is planned once (`serve`).
pub fn planned(db: &PgPool) -> PgPool {
    let options = (*db.connect_options()).clone().options([("plan_cache_mode", "force_custom_plan")]);
    PgPoolOptions::new().max_connections(SEARCHES).acquire_timeout(PATIENCE).connect_lazy_with(options)
}
