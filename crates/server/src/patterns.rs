//! What is typed, as a pattern of the database, and searches that are planned for it.

use sqlx::{PgPool, Postgres, Transaction};

/// A pattern that finds a word anywhere; the signs of patterns are taken as they are.
pub fn anywhere(word: &str) -> String {
    let plain = word.trim().replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_");
    format!("%{plain}%")
}

/// A transaction whose statements are planned for what is asked: a rare word and a common one want different plans, and which it is
/// only the word tells. Everywhere else a statement is planned once (`serve`).
pub async fn planned(db: &PgPool) -> Result<Transaction<'static, Postgres>, sqlx::Error> {
    let mut tx = db.begin().await?;
    sqlx::query("set local plan_cache_mode = force_custom_plan").execute(&mut *tx).await?;
    Ok(tx)
}
