//! The demo as rows: loaded once in a test program by the code that loads it everywhere, then copied into the database of every
//! other test. A shop opens the same morning each time, so the rows are the same.

use futures_util::StreamExt;
use sqlx::{PgConnection, PgPool};
use std::sync::{Arc, Mutex};

/// A table: its name, its columns as a list, and its rows as PostgreSQL copies them.
struct Table {
    name: String,
    columns: String,
    rows: Vec<u8>,
}

/// Every table of a database, by its rows.
pub struct Snapshot(Vec<Table>);

static TAKEN: Mutex<Option<Arc<Snapshot>>> = Mutex::new(None);

impl Snapshot {
    /// The one that was taken in this program, if any was yet.
    pub fn taken() -> Option<Arc<Snapshot>> {
        TAKEN.lock().unwrap_or_else(std::sync::PoisonError::into_inner).clone()
    }

    /// Takes one of a database, for the tests that follow.
    pub async fn take(db: &PgPool) -> sqlx::Result<()> {
        let mut db = db.acquire().await?;
        let mut tables = Vec::new();
        for (name, columns) in names(&mut db).await? {
            let mut rows = Vec::new();
            let mut copied = db.copy_out_raw(&format!("copy {name} ({columns}) to stdout")).await?;
            while let Some(bytes) = copied.next().await {
                rows.extend_from_slice(&bytes?);
            }
            drop(copied);
            tables.push(Table { name, columns, rows });
        }
        *TAKEN.lock().unwrap_or_else(std::sync::PoisonError::into_inner) = Some(Arc::new(Snapshot(tables)));
        Ok(())
    }

    /// Puts its rows into a database that has the tables. Triggers and references are left out: the rows kept them once.
    pub async fn put(&self, db: &PgPool) -> sqlx::Result<()> {
        let mut db = db.acquire().await?;
        sqlx::raw_sql("set session_replication_role = replica").execute(&mut *db).await?;
        let all: Vec<&str> = self.0.iter().map(|t| t.name.as_str()).collect();
        sqlx::raw_sql(sqlx::AssertSqlSafe(format!("truncate {}", all.join(", ")))).execute(&mut *db).await?;
        for table in &self.0 {
            let mut copy = db.copy_in_raw(&format!("copy {} ({}) from stdin", table.name, table.columns)).await?;
            copy.send(table.rows.as_slice()).await?;
            copy.finish().await?;
        }
        sqlx::raw_sql("set session_replication_role = default").execute(&mut *db).await?;
        Ok(())
    }
}

/// Tables with the columns that are written; what the database reckons itself is left to it.
async fn names(db: &mut PgConnection) -> sqlx::Result<Vec<(String, String)>> {
    sqlx::query_as(
        "select quote_ident(c.table_name), string_agg(quote_ident(c.column_name), ', ' order by c.ordinal_position)
         from information_schema.columns c join information_schema.tables t using (table_schema, table_name)
         where c.table_schema = 'public' and t.table_type = 'BASE TABLE' and c.is_generated = 'NEVER' and c.table_name <> '_sqlx_migrations'
         group by c.table_name order by c.table_name",
    )
    .fetch_all(db)
    .await
}
