//! The book of a lot in the database: its row, what is left of it, and what an entry is judged with.

use super::files;
use super::left::{settle, unsettled};
use super::places::{clash, ensure_place};
use crate::books::kept::{Columns, Kept};
use crate::books::{Cache, Writing};
use crate::problem::Problem;
use crate::state::State;
use level_keel_core::limits::check_name;
use level_keel_core::refusal::Refusal;
use level_keel_core::stores::check::Around;
use level_keel_core::stores::{Lot, LotKind, StoreClass};
use serde_json::{Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

impl Kept for Lot {
    const TABLE: &'static str = "lot";

    fn cache(state: &State) -> &Cache<Lot> {
        &state.books.lots
    }

    async fn lock(tx: &mut PgConnection, book: Uuid) -> Result<(), Problem> {
        let row = sqlx::query!("select id from lot where id = $1 for no key update", book).fetch_optional(tx).await?;
        row.map(drop).ok_or(Problem::NotFound("lot"))
    }

    async fn prepare(
        &self,
        w: &Writing<'_>,
        tx: &mut PgConnection,
        book: Uuid,
        kind: LotKind,
        payload: &mut Value,
    ) -> Result<Around, Problem> {
        let place = place(w, tx, kind, payload).await?;
        if let Some(sha) = payload.pointer("/paper/sha256").and_then(Value::as_str) {
            files::must_be_here(tx, sha, &files::PAPERS).await?;
        }
        let class = sqlx::query_scalar!("select class from lot where id = $1", book).fetch_one(&mut *tx).await?;
        let class = StoreClass::from_name(&class);
        let clash = match place {
            Some(place) => clash(tx, place, book, class).await?,
            None => None,
        };
        Ok(Around { class: Some(class), clash, today: w.state.shop_day() })
    }

    fn columns(&self) -> Result<Option<Columns>, Problem> {
        let came = self.received.as_ref();
        let columns = json!({
            "makers_lot": came.and_then(|r| r.makers_lot.as_ref()), "colour": came.and_then(|r| r.colour.as_ref()),
            "received": came.map(|r| r.received), "made": came.and_then(|r| r.made), "expires": came.and_then(|r| r.expires_on()),
            "container_g": came.map(|r| r.container_g), "containers": came.map(|r| r.containers_count),
            "counted_g": self.counted.map(|c| c.0), "counted_at": self.counted.map(|c| c.1),
            "place_id": self.place.as_ref().map(|p| p.id), "quarantined": self.quarantined, "damaged": self.damaged,
            "certified": !self.certificates.is_empty(),
        });
        Ok(columns.as_object().cloned())
    }

    async fn derive(&self, tx: &mut PgConnection, book: Uuid, before: Option<&Lot>) -> Result<(), Problem> {
        let of = |lot: &Lot| (lot.received.as_ref().map(|r| r.total_g().to_bits()), lot.counted);
        if before.is_some_and(|b| of(b) == of(self)) {
            return Ok(());
        }
        settle(tx, &[book]).await
    }

    async fn underived(&self, db: &mut PgConnection, book: Uuid) -> Result<Vec<String>, Problem> {
        unsettled(db, book).await
    }
}

/// A place is sent by its name; it becomes a row at once, and both are kept.
async fn place(w: &Writing<'_>, tx: &mut PgConnection, kind: LotKind, payload: &mut Value) -> Result<Option<Uuid>, Problem> {
    if !matches!(kind, LotKind::Received | LotKind::Moved) {
        return Ok(None);
    }
    let named = match payload.get("place") {
        None | Some(Value::Null) => None,
        Some(Value::String(name)) if name.trim().is_empty() => None,
        Some(Value::String(name)) => {
            // The same place however many blanks are typed in its name.
            let name = name.split_whitespace().collect::<Vec<_>>().join(" ");
            Some(ensure_place(w, tx, &check_name("place", &name)?).await?)
        }
        // Named by its row, it is that row and no other.
        Some(other) => Some(place_by_id(tx, other).await?),
    };
    let Some((id, name)) = named else {
        return if kind == LotKind::Moved { Err(Refusal::bad_input("missing", "place", "Where to?").into()) } else { Ok(None) };
    };
    payload["place"] = json!({ "id": id, "name": name });
    Ok(Some(id))
}

async fn place_by_id(tx: &mut PgConnection, named: &Value) -> Result<(Uuid, String), Problem> {
    let unknown = || Refusal::bad_input("unknown-place", "place", "There is no such place. Send its name.");
    let id = named.get("id").and_then(Value::as_str).and_then(|t| Uuid::parse_str(t).ok()).ok_or_else(unknown)?;
    let row = sqlx::query!("select id, name from place where id = $1", id).fetch_optional(tx).await?.ok_or_else(unknown)?;
    Ok((row.id, row.name))
}
