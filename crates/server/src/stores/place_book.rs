//! The book of a place in the database: its row, and the readings it kept.

use crate::books::kept::{Columns, Kept};
use crate::books::{Cache, Writing};
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::stores::place::{PlaceBook, PlaceKind};
use serde_json::Value;
use sqlx::PgConnection;
use uuid::Uuid;

impl Kept for PlaceBook {
    const TABLE: &'static str = "place";

    fn cache(state: &State) -> &Cache<PlaceBook> {
        &state.books.places
    }

    async fn lock(tx: &mut PgConnection, book: Uuid) -> Result<(), Problem> {
        let row = sqlx::query!("select id from place where id = $1 for update", book).fetch_optional(tx).await?;
        row.map(drop).ok_or(Problem::NotFound("place"))
    }

    async fn prepare(
        &self,
        _w: &Writing<'_>,
        _tx: &mut PgConnection,
        _book: Uuid,
        _kind: PlaceKind,
        _payload: &mut Value,
    ) -> Result<(), Problem> {
        Ok(())
    }

    fn columns(&self) -> Result<Option<Columns>, Problem> {
        let place = self.place.as_ref().map(serde_json::to_value).transpose()?;
        Ok(place.and_then(|p| p.as_object().cloned()))
    }

    async fn derive(&self, tx: &mut PgConnection, book: Uuid, before: Option<&PlaceBook>) -> Result<(), Problem> {
        let known = match before {
            Some(before) => before.readings.clone(),
            None => kept(tx, book).await?,
        };
        for (at, _) in known.iter().filter(|r| !self.readings.contains(r)) {
            sqlx::query!("delete from reading where source = $1 and at = $2", source(book), at.to_sqlx() as _)
                .execute(&mut *tx)
                .await?;
        }
        for (at, temp_c) in self.readings.iter().filter(|r| !known.contains(r)) {
            sqlx::query!("insert into reading (source, at, value) values ($1, $2, $3)", source(book), at.to_sqlx() as _, *temp_c)
                .execute(&mut *tx)
                .await?;
        }
        Ok(())
    }

    async fn underived(&self, db: &mut PgConnection, book: Uuid) -> Result<Vec<String>, Problem> {
        let mut told = self.readings.clone();
        told.sort_by_key(|(at, _)| *at);
        let kept = kept(db, book).await?;
        if kept == told {
            return Ok(Vec::new());
        }
        Ok(vec![format!("its readings are not those of its book ({} told, {} kept)", told.len(), kept.len())])
    }
}

/// What the readings of a place are kept under.
fn source(place: Uuid) -> String {
    format!("place:{place}")
}

async fn kept(db: &mut PgConnection, place: Uuid) -> Result<Vec<(Timestamp, f64)>, Problem> {
    let rows = sqlx::query!(
        r#"select at as "at: jiff_sqlx::Timestamp", value from reading where source = $1 order by at"#,
        source(place)
    );
    Ok(rows.fetch_all(db).await?.into_iter().map(|r| (r.at.to_jiff(), r.value)).collect())
}
