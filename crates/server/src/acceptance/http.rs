//! Film gauges over the wire: which there are, and what they read from now on.

use crate::auth::Person;
use crate::film_gauges::Gauge;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{Responder, get, web};
use actix_web_lab::sse;
use level_keel_core::quantity::{QuantityKind, Shown, edit_text, show_to};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::{broadcast, mpsc};
use utoipa::{IntoParams, ToSchema};

/// A film gauge of the shop.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct GaugeView {
    pub name: String,
    /// It sends now.
    pub heard: bool,
    /// One division of it, as a form takes it.
    pub division: String,
}

/// A reading it took.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct GaugeSaid {
    pub um: f64,
    pub film: Shown,
}

/// Which gauge.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Which {
    /// Its name.
    pub gauge: String,
}

/// The film gauges that speak.
#[utoipa::path(operation_id = "gauges_list", tag = "acceptance", responses((status = 200, body = [GaugeView])))]
#[get("/film-gauges")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<GaugeView>> {
    let view = |g: Arc<Gauge>| GaugeView {
        name: g.at.name.clone(),
        heard: g.is_heard(),
        division: edit_text(g.at.division_um, QuantityKind::Film, person.prefs),
    };
    Ok(web::Json(state.gauges.all().into_iter().map(view).collect()))
}

/// What a gauge reads from now on, reading by reading.
#[utoipa::path(operation_id = "gauge_readings", tag = "acceptance", params(Which),
    responses((status = 200, description = "Server-sent events: `film` with a GaugeSaid", body = GaugeSaid, content_type = "text/event-stream"), (status = 404)))]
#[get("/film-gauges/readings")]
pub async fn readings(state: web::Data<State>, person: Person, which: web::Query<Which>) -> Result<impl Responder, Problem> {
    let gauge = state.gauges.one(&which.gauge).ok_or(Problem::NotFound("gauge"))?;
    let (tx, rx) = mpsc::channel(4);
    let mut heard = gauge.follow();
    tokio::spawn(async move {
        loop {
            let um = tokio::select! {
                um = heard.recv() => match um {
                    Ok(um) => um,
                    // A reading that was missed is read again by who holds the gauge.
                    Err(broadcast::error::RecvError::Lagged(_)) => continue,
                    Err(broadcast::error::RecvError::Closed) => return,
                },
                () = tx.closed() => return,
            };
            let said = GaugeSaid { um, film: show_to(um, QuantityKind::Film, gauge.at.division_um, person.prefs) };
            let text = serde_json::to_string(&said).unwrap_or_default();
            if tx.send(sse::Event::Data(sse::Data::new(text).event("film"))).await.is_err() {
                return;
            }
        }
    });
    Ok(sse::Sse::from_infallible_receiver(rx)
        .with_keep_alive(Duration::from_secs(15))
        .with_retry_duration(Duration::from_secs(1)))
}
