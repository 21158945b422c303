//! While a pot lives, what the probe at the mixing bench reads goes into its book: on a change of half a degree, or every
//! ten minutes. The fold reads nothing but the book, so the age of a pot is the same on every day it is folded.

use super::{NewEntry, Writing, read};
use crate::auth::{self, Person};
use crate::problem::Problem;
use crate::state::State;
use level_keel_core::batch::temperature_feed::due;
use level_keel_core::batch::{EntryKind, Record};
use level_keel_core::conditions::probe::ProbeOf;
use serde_json::json;
use std::sync::Arc;
use std::time::Duration;
use tokio::task::JoinHandle;
use uuid::Uuid;

/// How often it is looked.
const LOOK: Duration = Duration::from_secs(15);

/// Feeds until the task is aborted. A fault is told to the log and tried again.
pub fn keep_feeding(state: State) -> JoinHandle<()> {
    tokio::spawn(async move {
        loop {
            tokio::time::sleep(LOOK).await;
            if let Err(e) = feed(&state).await {
                tracing::warn!(?e, "pot temperatures could not be written");
            }
        }
    })
}

/// Writes what is due now; how many entries that made.
pub async fn feed(state: &State) -> Result<usize, Problem> {
    let now = state.clock.now();
    let probes = state.probes.all();
    let Some((name, (at, temp_c))) =
        probes.iter().filter(|(_, p)| p.of == ProbeOf::Material).find_map(|(n, p)| Some((n.clone(), p.fresh(now)?)))
    else {
        return Ok(0);
    };
    let open = sqlx::query_scalar!("select id from batch where state = 'open'").fetch_all(&state.db).await?;
    let mut written = 0;
    for book in open {
        let record: Arc<Record> = read(&mut *state.db.acquire().await?, state, book).await?;
        for (charge, who) in due(&record, at, temp_c) {
            let Some(person) = person(state, who).await? else { continue };
            let payload = json!({ "charge": charge, "temp_c": temp_c, "probe": name });
            let ago_s = now.duration_since(at).as_secs_f64().max(0.0);
            let entry = NewEntry { ago_s, ..NewEntry::now(Uuid::now_v7(), EntryKind::PotTemperature, payload) };
            Writing { inside: true, ..Writing::of(state, &person, now) }.one::<Record>(book, entry).await?;
            written += 1;
        }
    }
    Ok(written)
}

async fn person(state: &State, id: Uuid) -> Result<Option<Person>, Problem> {
    let row =
        sqlx::query!("select id, name, role, units, numbers from person where id = $1", id).fetch_optional(&state.db).await?;
    row.map(|r| {
        Ok(Person {
            id: r.id,
            name: r.name,
            role: auth::word(&r.role)?,
            prefs: auth::prefs(&r.units, &r.numbers)?,
            session: Uuid::nil(),
            works_alone: false,
        })
    })
    .transpose()
}
