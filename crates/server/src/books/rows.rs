//! The row of a book, written from what its log decides, and held against it. Both go by the same list of columns, so that no
//! column is written that is not checked.

use super::kept::{Columns, Kept};
use crate::problem::Problem;
use serde_json::Value;
use sqlx::{AssertSqlSafe, PgConnection};
use uuid::Uuid;

/// Writes the row of a book.
pub async fn project<L: Kept>(tx: &mut PgConnection, id: Uuid, book: &L) -> Result<(), Problem> {
    let Some(columns) = book.columns()? else { return Ok(()) };
    let names = listed(&columns, "");
    let said = listed(&columns, "s.");
    let table = L::TABLE;
    // Names of tables and columns are our own words; what people wrote is bound.
    let update =
        format!("update {table} set ({names}) = (select {said} from jsonb_populate_record(null::{table}, $2) s) where id = $1");
    let columns = Value::Object(columns);
    let done = sqlx::query(AssertSqlSafe(update)).bind(id).bind(&columns).execute(&mut *tx).await?;
    if L::BEGINS_ITSELF && done.rows_affected() == 0 {
        let insert =
            format!("insert into {table} (id, {names}) select $1, {said} from jsonb_populate_record(null::{table}, $2) s");
        sqlx::query(AssertSqlSafe(insert)).bind(id).bind(&columns).execute(tx).await?;
    }
    Ok(())
}

/// The columns of a row that do not say what the log says; its own name where there is no row.
pub async fn differing<L: Kept>(db: &mut PgConnection, id: Uuid, book: &L) -> Result<Vec<String>, Problem> {
    let Some(columns) = book.columns()? else { return Ok(Vec::new()) };
    let table = L::TABLE;
    let query = format!(
        "select (select coalesce(array_agg(s.key order by s.key), '{{}}')
                 from jsonb_each(to_jsonb(jsonb_populate_record(b, $2))) s where s.value is distinct from to_jsonb(b) -> s.key)
         from {table} b where b.id = $1"
    );
    let found: Option<Vec<String>> =
        sqlx::query_scalar(AssertSqlSafe(query)).bind(id).bind(Value::Object(columns)).fetch_optional(db).await?;
    Ok(found.unwrap_or_else(|| vec!["row".into()]))
}

fn listed(columns: &Columns, before: &str) -> String {
    columns.keys().map(|name| format!("{before}{name}")).collect::<Vec<_>>().join(", ")
}
