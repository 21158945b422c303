//! One box that finds parts, batches, cards, lots, sheets, rigs and people; and what a scanned label names.

use crate::auth::Person;
use crate::books::http::looked;
use crate::patterns::anywhere;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, web};
use level_keel_core::batch::StationName;
use level_keel_core::labels;
use level_keel_core::scan::{Scanned, ThingKind, read};
use level_keel_core::worded::{VariantArray, Worded};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Things of one kind that are shown at most.
const OF_A_KIND: i64 = 6;

/// What is asked.
#[derive(Debug, Deserialize, IntoParams)]
pub struct Asked {
    /// What was typed or scanned.
    #[serde(default)]
    q: String,
}

/// A thing that was found.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FoundRow {
    pub is: ThingKind,
    pub word: &'static str,
    pub id: Uuid,
    pub label: String,
    pub facts: String,
}

/// What was found, at most six of a kind: work first.
#[derive(Debug, Serialize, ToSchema)]
pub struct Found {
    /// The rows.
    pub rows: Vec<FoundRow>,
    /// The line was the address of a label, and the one row is what it names.
    pub by_label: bool,
}

/// Finds by any part of a name, a code or a number; or opens what a label names.
#[utoipa::path(operation_id = "find", tag = "find", params(Asked), responses((status = 200, body = Found), (status = 422)))]
#[get("/find")]
pub async fn find(state: web::Data<State>, _person: Person, asked: web::Query<Asked>) -> Answer<Found> {
    if asked.q.trim().is_empty() {
        return Ok(web::Json(Found { rows: Vec::new(), by_label: false }));
    }
    let (words, label) = match read(&asked.q)? {
        Scanned::Words(words) => (Some(anywhere(&words)), None),
        Scanned::Label(_, id) => (None, Some(id)),
        Scanned::Pot(batch, pot) => {
            return Ok(web::Json(Found { rows: found_pot(&state, batch, pot).await?.into_iter().collect(), by_label: true }));
        }
    };
    let number = asked.q.trim().trim_start_matches('#').parse::<i64>().ok();
    let asked = sqlx::query_file!("src/find/find.sql", words.as_deref(), number, label, OF_A_KIND);
    let found = asked.fetch_all(&state.searches).await?;
    let rows = found.into_iter().filter_map(|r| {
        let is = ThingKind::VARIANTS.get(usize::try_from(r.place).ok()?)?;
        Some(FoundRow { is: *is, word: is.word(), id: r.id, label: r.label, facts: r.facts })
    });
    Ok(web::Json(Found { rows: rows.collect(), by_label: label.is_some() }))
}

/// A pot of a batch that is kept here.
async fn found_pot(state: &State, batch: Uuid, pot: Uuid) -> Result<Option<FoundRow>, Problem> {
    let looked = match looked(state, batch, StationName::Mix).await {
        Err(Problem::NotFound(_)) => return Ok(None),
        looked => looked?,
    };
    let label = labels::of_pot(&looked.case(), pot, state.clock.now());
    Ok(label.map(|l| FoundRow { is: l.is, word: l.is.word(), id: batch, label: l.heading, facts: l.lines.join(", ") }))
}
