//! Probes over the wire.

use crate::auth::Person;
use crate::problem::Answer;
use crate::state::State;
use actix_web::{get, web};
use jiff::Timestamp;
use level_keel_core::conditions::probe::{ProbeFault, ProbeOf};
use level_keel_core::quantity::{Shown, show_live};
use level_keel_core::worded::Worded;
use serde::Serialize;
use utoipa::ToSchema;

/// A probe as it is heard now.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ProbeView {
    pub name: String,
    pub of: ProbeOf,
    /// The field of the conditions it can fill in.
    pub reading: Option<&'static str>,
    /// The last value taken; it may be old.
    pub shown: Option<Shown>,
    pub at: Option<Timestamp>,
    /// It may be taken for now.
    pub fresh: bool,
    pub fault: Option<ProbeFault>,
    /// Why it may not, in words.
    pub word: String,
}

/// The probes of the shop, by name.
#[utoipa::path(operation_id = "probes_list", tag = "conditions", responses((status = 200, body = [ProbeView])))]
#[get("/probes")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<ProbeView>> {
    let now = state.clock.now();
    let view = |(name, probe): (String, level_keel_core::conditions::probe::Probe)| {
        let fault = probe.fault(now);
        ProbeView {
            name,
            of: probe.of(),
            reading: probe.of().reading(),
            shown: probe.last().map(|(_, v)| show_live(v, probe.of().kind(), person.prefs)),
            at: probe.last().map(|(at, _)| at),
            fresh: probe.fresh(now).is_some(),
            word: fault.map_or("fresh", ProbeFault::word).into(),
            fault,
        }
    };
    Ok(web::Json(state.probes.all().into_iter().map(view).collect()))
}
