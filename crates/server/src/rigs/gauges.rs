//! Live gauges: what the transmitters of a rig read, to every screen through the process and never through the database.

use super::pinned;
use crate::auth::Person;
use crate::problem::Problem;
use crate::state::State;
use actix_web::{Responder, get, web};
use actix_web_lab::sse;
use level_keel_core::quantity::{Prefs, QuantityKind, Shown, show};
use level_keel_core::rigs::Gauges;
use serde::Serialize;
use std::time::Duration;
use tokio::sync::mpsc;
use utoipa::ToSchema;
use uuid::Uuid;

/// Least time between two pictures of one screen.
const BETWEEN: Duration = Duration::from_millis(80);
/// A picture comes at least so often, so that a silent transmitter is seen to be silent.
const AT_LEAST: Duration = Duration::from_secs(1);
/// Pictures a screen may miss in a row before it is let go.
const MISSED: u32 = 200;

/// Top of the picture where a rig states no most: ten bar.
const UNKNOWN_MOST_KPA: f64 = 1000.0;

/// What the transmitters of a rig read now.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct GaugesView {
    /// The rig has transmitters.
    pub fitted: bool,
    /// Missing: silent, or none.
    pub pot: Option<Shown>,
    pub gun: Option<Shown>,
    /// Parts of what the rig bears, 0 to 1, for the picture.
    pub pot_part: Option<f64>,
    pub gun_part: Option<f64>,
    /// What is lost between the two while paint flows; nothing flows where they are the same.
    pub between: Option<Shown>,
}

fn view(fitted: bool, read: Gauges, most_kpa: f64, prefs: Prefs) -> GaugesView {
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs);
    let part = |kpa: f64| (kpa / most_kpa).clamp(0.0, 1.0);
    GaugesView {
        fitted,
        pot: read.pot_kpa.map(say),
        gun: read.gun_kpa.map(say),
        pot_part: read.pot_kpa.map(part),
        gun_part: read.gun_kpa.map(part),
        between: read.pot_kpa.zip(read.gun_kpa).map(|(pot, gun)| say((pot - gun).max(0.0))),
    }
}

/// The gauges of a rig as they move.
#[utoipa::path(operation_id = "rigs_gauges", tag = "rigs", params(("id" = Uuid, Path)),
    responses((status = 200, description = "Server-sent events: `gauges` with a GaugesView", body = GaugesView, content_type = "text/event-stream"), (status = 404)))]
#[get("/rigs/{id}/gauges")]
pub async fn stream(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Result<impl Responder, Problem> {
    let rig = pinned(&mut *state.db.acquire().await?, *id).await?;
    let (most_kpa, rig) = (rig.most_kpa().unwrap_or(UNKNOWN_MOST_KPA), rig.name);
    let (tx, rx) = mpsc::channel(4);
    let mut moved = state.probes.follow_gauges();
    tokio::spawn(async move {
        let (mut missed, mut last) = (0, None);
        loop {
            let now = view(state.probes.on_rig(&rig), state.gauges(&rig, state.clock.now()), most_kpa, person.prefs);
            if last.as_ref() != Some(&now) {
                let text = serde_json::to_string(&now).unwrap_or_default();
                match tx.try_send(sse::Event::Data(sse::Data::new(text).event("gauges"))) {
                    Ok(()) => (missed, last) = (0, Some(now)),
                    Err(mpsc::error::TrySendError::Full(_)) if missed < MISSED => missed += 1,
                    Err(_) => return,
                }
            }
            if tx.is_closed() {
                return;
            }
            tokio::time::sleep(BETWEEN).await;
            // Silence moves nothing: it is looked for now and then.
            let _ = tokio::time::timeout(AT_LEAST, moved.changed()).await;
        }
    });
    Ok(sse::Sse::from_infallible_receiver(rx)
        .with_keep_alive(Duration::from_secs(15))
        .with_retry_duration(Duration::from_secs(1)))
}
