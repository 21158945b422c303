//! The role a server works under. It owns nothing: it reads and writes the tables, and of the log it can only read and add.
//! Whoever brings the database to this version works under another, the owner of the tables (docs/operations.md).

use sqlx::{AssertSqlSafe, PgPool};

/// Why nothing is served under a role that may not migrate.
#[derive(Debug, thiserror::Error)]
pub enum NotServed {
    /// The tables are of another version.
    #[error("the database is at migration {there}, this version wants {wanted}: run `level-keel migrate` as its owner first")]
    OtherVersion {
        /// What it is at.
        there: i64,
        /// What is wanted.
        wanted: i64,
    },
    /// It could not be asked.
    #[error(transparent)]
    Database(#[from] sqlx::Error),
}

/// Whether whoever is connected may bring the database to this version.
pub async fn may_migrate(db: &PgPool) -> Result<bool, sqlx::Error> {
    let sql = "select has_schema_privilege(current_user, 'public', 'create')";
    sqlx::query_scalar(sql).fetch_one(db).await
}

/// A server that may not migrate says so before it serves from tables it does not know.
pub async fn is_up_to_date(db: &PgPool) -> Result<(), NotServed> {
    let wanted = sqlx::migrate!("./migrations").iter().map(|m| m.version).max().unwrap_or(0);
    let there = sqlx::query_scalar::<_, Option<i64>>("select max(version) from _sqlx_migrations where success");
    let there = there.fetch_one(db).await?.unwrap_or(0);
    if there == wanted { Ok(()) } else { Err(NotServed::OtherVersion { there, wanted }) }
}

/// Gives a role what a server needs, and takes from it what it does not.
pub async fn grant(db: &PgPool, role: &str) -> Result<(), sqlx::Error> {
    let role: String = sqlx::query_scalar("select quote_ident($1)").bind(role).fetch_one(db).await?;
    let sql = format!(
        "revoke create on schema public from public;
         revoke all on all tables in schema public from {role};
         grant usage on schema public to {role};
         grant select, insert, update, delete on all tables in schema public to {role};
         revoke update, delete on entry, _sqlx_migrations from {role};
         revoke insert on _sqlx_migrations from {role};
         grant usage on all sequences in schema public to {role};"
    );
    sqlx::raw_sql(AssertSqlSafe(sql)).execute(db).await.map(drop)
}
