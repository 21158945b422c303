//! What is written of a lot: it comes in, or an entry goes into its book.

use super::column;
use crate::books::{Made, NewEntry, Writing};
use crate::parts::ensure_lot;
use crate::problem::Problem;
use crate::sheets::newest;
use level_keel_core::limits::check_text;
use level_keel_core::mixing::Component;
use level_keel_core::quantity::Shown;
use level_keel_core::refusal::Refusal;
use level_keel_core::stores::check::CODE_CHARS;
use level_keel_core::stores::{Lot, StoreClass};
use level_keel_core::wire::read;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::PgConnection;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// What came of an entry in the stores.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Stored {
    /// The lot.
    pub lot: Uuid,
    /// Stored; false for a dry run.
    pub stored: bool,
    /// It was stored before, by the same id and content.
    pub repeated: bool,
    /// Every quantity as understood, by field.
    pub understood: BTreeMap<String, Shown>,
    /// What is wrong with it (dry run only; else an error).
    pub refusals: Vec<Refusal>,
}

/// What names a lot that comes in.
#[derive(Debug, Deserialize)]
struct Coming {
    code: String,
    sheet: Uuid,
    component: Component,
}

/// A lot comes in: its row and book are made when they are new.
pub async fn receive(w: &Writing<'_>, new: NewEntry) -> Result<Stored, Problem> {
    let mut tx = w.state.db.begin().await?;
    let received = Box::pin(receive_in(w, &mut tx, new)).await;
    close(w, tx, received).await
}

async fn receive_in(w: &Writing<'_>, tx: &mut PgConnection, mut new: NewEntry) -> Result<(Uuid, Made<Lot>), Problem> {
    let lot = row_for(w, tx, &mut new).await?;
    Ok((lot, w.write(tx, lot, new).await?))
}

/// The row of a lot that comes in, made when it is new; what only its sheet knows is filled into the entry.
pub async fn row_for(w: &Writing<'_>, tx: &mut PgConnection, new: &mut NewEntry) -> Result<Uuid, Problem> {
    if let Value::Object(map) = &mut new.payload {
        let blank: Vec<String> =
            map.iter().filter(|(_, v)| v.as_str().is_some_and(|t| t.trim().is_empty())).map(|(k, _)| k.clone()).collect();
        blank.iter().for_each(|key| drop(map.remove(key)));
    }
    // Only what names the lot is read here; the whole is judged with the rest.
    let part: Value = ["code", "sheet", "component"]
        .iter()
        .filter_map(|k| Some(((*k).to_string(), new.payload.get(*k)?.clone())))
        .collect::<serde_json::Map<_, _>>()
        .into();
    let coming: Coming = read(part)?;
    let code = check_text("code", &coming.code, CODE_CHARS)?;
    let (_, _, sheet) = newest(tx, coming.sheet).await?;
    if coming.component == Component::Hardener && !sheet.has_hardener {
        return Err(Refusal::bad_input("no-hardener", "component", "This product has no second component.").into());
    }
    let lot = ensure_lot(tx, coming.sheet, &column(coming.component), &code, w.state.clock.now()).await?;
    let class = StoreClass::of(&sheet, coming.component);
    sqlx::query!("update lot set class = $2 where id = $1", lot, class.name()).execute(&mut *tx).await?;
    if let Value::Object(map) = &mut new.payload {
        map.insert("product".into(), json!(sheet.name));
        if map.get("shelf_life_days").is_none_or(Value::is_null) {
            map.insert("shelf_life_days".into(), json!(sheet.shelf_life_days));
        }
    }
    Ok(lot)
}

/// Any other entry in the book of a lot.
pub async fn append(w: &Writing<'_>, lot: Uuid, new: NewEntry) -> Result<Stored, Problem> {
    let mut tx = w.state.db.begin().await?;
    let made = Box::pin(w.write::<Lot>(&mut tx, lot, new)).await;
    close(w, tx, made.map(|made| (lot, made))).await
}

/// Commits what was newly stored, and answers; in a dry run with what is wrong.
async fn close(
    w: &Writing<'_>,
    tx: sqlx::Transaction<'_, sqlx::Postgres>,
    written: Result<(Uuid, Made<Lot>), Problem>,
) -> Result<Stored, Problem> {
    match written {
        Ok((lot, made)) => {
            let made = w.end(tx, lot, Ok(made)).await?;
            let (stored, repeated) = (made.new || made.repeated, made.repeated);
            Ok(Stored { lot, stored, repeated, understood: made.understood, refusals: Vec::new() })
        }
        Err(problem) => {
            tx.rollback().await?;
            let refusals = w.refusals(problem)?;
            Ok(Stored { lot: Uuid::nil(), stored: false, repeated: false, understood: BTreeMap::new(), refusals })
        }
    }
}
