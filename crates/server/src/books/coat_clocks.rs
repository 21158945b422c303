//! The clocks of a coat as a calendar, for whoever plans by one.

use super::http::looked;
use crate::auth::Person;
use crate::export::download;
use crate::problem::Problem;
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use chrono::{DateTime, Utc};
use icalendar::{Calendar, Component, Event, EventLike};
use level_keel_core::batch::{StationName, coat_clocks};
use uuid::Uuid;

/// Every clock of a coat that is on, as iCalendar; none while it is sprayed.
#[utoipa::path(operation_id = "coat_clocks_ics", tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, content_type = "text/calendar"), (status = 404)))]
#[get("/batches/{id}/clocks.ics")]
pub async fn coat_clocks_ics(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let looked = looked(&state, *id, StationName::Close).await?;
    let case = looked.case();
    let aim = case.aim().ok_or(Problem::NotFound("batch"))?;
    let mut calendar = Calendar::new();
    for clock in coat_clocks(&case, person.prefs) {
        let at = chrono_of(clock.at)?;
        let of = format!("{}: {} · {}", clock.what, aim.part_name, aim.coat_name);
        let uid = Uuid::new_v5(&id, clock.what.as_bytes());
        calendar.push(Event::new().uid(&uid.to_string()).summary(&of).description(&clock.why).starts(at).ends(at).done());
    }
    Ok(download("text/calendar; charset=utf-8", &format!("level-keel-{:04}.ics", aim.number), calendar.to_string()))
}

/// The same instant as the calendar library counts it.
fn chrono_of(at: jiff::Timestamp) -> Result<DateTime<Utc>, Problem> {
    DateTime::from_timestamp(at.as_second(), 0).ok_or(Problem::Fault("an instant that no calendar has".into()))
}
