//! Scales over the wire: which there are, and the pour in hand as it runs.

use super::Scale;
use crate::auth::Person;
use crate::books::http::looked;
use crate::live::Leash;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, Responder, get, post, web};
use actix_web_lab::sse;
use jiff::Timestamp;
use level_keel_core::batch::Case;
use level_keel_core::batch::StationName;
use level_keel_core::batch::entries::may_combine;
use level_keel_core::quantity::{QuantityKind, Shown, show};
use level_keel_core::weighing::{Pouring, TwoLoads, TwoLoadsView, WeighIn, weigh_in};
use serde::{Deserialize, Serialize};
use std::time::Duration;
use tokio::sync::{broadcast, mpsc};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Least time between two pictures of one screen: a hand follows no faster.
const BETWEEN: Duration = Duration::from_millis(50);
/// Pictures a screen may miss in a row before it is let go.
const MISSED: u32 = 200;

/// A scale of the shop.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ScaleView {
    pub name: String,
    pub instrument: Uuid,
    /// It sends readings now.
    pub heard: bool,
    pub load: Option<Shown>,
}

/// What the stream of a weigh-in sends.
#[derive(Debug, Serialize, ToSchema)]
pub struct Weighing {
    /// The pour in hand; missing: the scale is silent.
    pub weigh: Option<WeighIn>,
    /// The scale's instrument, for the entry that takes the reading.
    pub instrument: Uuid,
}

/// Which scale.
#[derive(Debug, Deserialize, IntoParams)]
pub struct By {
    /// Its name.
    pub scale: String,
}

/// The scales of the shop that speak.
#[utoipa::path(operation_id = "scales_list", tag = "scales", responses((status = 200, body = [ScaleView])))]
#[get("/scales")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<ScaleView>> {
    let view = |s: std::sync::Arc<Scale>| {
        let now = s.now();
        ScaleView {
            name: s.at.name.clone(),
            instrument: s.instrument,
            heard: now.is_some(),
            load: now.and_then(|p| p.load_g).map(|g| show(g, QuantityKind::Mass, person.prefs)),
        }
    };
    Ok(web::Json(state.scales.all().into_iter().map(view).collect()))
}

/// What stands on the scale is meant: a jump is forgotten.
#[utoipa::path(operation_id = "scales_go_on", tag = "scales", params(By), responses((status = 204), (status = 404)))]
#[post("/scales/go-on")]
pub async fn go_on(state: web::Data<State>, _person: Person, by: web::Query<By>) -> Result<HttpResponse, Problem> {
    state.scales.one(&by.scale).ok_or(Problem::NotFound("scale"))?.go_on();
    Ok(HttpResponse::NoContent().finish())
}

/// The pour in hand of a pot, line by line of a scale. Of several lines a screen is late for it sees the newest.
#[utoipa::path(operation_id = "weigh_in", tag = "scales", params(("id" = Uuid, Path), ("charge" = Uuid, Path), By),
    responses((status = 200, description = "Server-sent events: `weigh` with a Weighing", body = Weighing, content_type = "text/event-stream"), (status = 404)))]
#[get("/batches/{id}/charges/{charge}/weigh-in")]
pub async fn stream(
    state: web::Data<State>,
    person: Person,
    path: web::Path<(Uuid, Uuid)>,
    by: web::Query<By>,
) -> Result<impl Responder, Problem> {
    let (book, charge) = path.into_inner();
    let scale = state.scales.one(&by.scale).ok_or(Problem::NotFound("scale"))?;
    let mut kept = looked(&state, book, StationName::Mix).await?;
    kept.case().charge(charge).ok_or(Problem::NotFound("pot"))?;
    let leash = Leash::of(&state, &person).await?;
    let (tx, rx) = mpsc::channel(4);
    let (mut heard, mut changes) = (scale.follow(), state.live.told.subscribe());
    tokio::spawn(async move {
        let mut missed = 0;
        let id = book.to_string();
        // The first picture at once, whatever the scale does.
        heard.mark_changed();
        loop {
            tokio::select! {
                line = heard.changed() => if line.is_err() || !leash.holds("").await { return },
                changed = changes.recv() => match changed {
                    Ok(text) if !leash.holds(&text).await => return,
                    Ok(text) if text != id && text != crate::live::RESYNC => continue,
                    Err(broadcast::error::RecvError::Closed) => return,
                    _ => match looked(&state, book, StationName::Mix).await {
                        Ok(newer) => kept = newer,
                        Err(_) => return,
                    },
                },
            }
            heard.mark_unchanged();
            let Some(weigh) = picture(&kept.case(), charge, &scale, &person, state.clock.now()) else { return };
            let text = serde_json::to_string(&Weighing { weigh, instrument: scale.instrument }).unwrap_or_default();
            match tx.try_send(sse::Event::Data(sse::Data::new(text).event("weigh"))) {
                Ok(()) => missed = 0,
                Err(mpsc::error::TrySendError::Full(_)) if missed < MISSED => missed += 1,
                Err(_) => return,
            }
            tokio::time::sleep(BETWEEN).await;
        }
    });
    Ok(sse::Sse::from_infallible_receiver(rx)
        .with_keep_alive(Duration::from_secs(15))
        .with_retry_duration(Duration::from_secs(1)))
}

/// `None`: the pot is gone, and the stream with it.
fn picture(case: &Case<'_>, charge: Uuid, scale: &Scale, person: &Person, now: Timestamp) -> Option<Option<WeighIn>> {
    let (sheet, pot) = (&case.aim()?.sheet, case.charge(charge).filter(|c| c.closed.is_none())?);
    let Some(pan) = scale.now() else { return Some(None) };
    let (plan, pours) = (case.plan(pot), pot.standing());
    let combined = pot.combined().is_some();
    let held = if combined { None } else { may_combine(case, charge, now, person.prefs).err().map(|r| r.text) };
    let tared = scale.is_tared(charge, pours.len());
    let pouring = Pouring { sheet, charge, plan: &plan, pours: &pours, tared, combined, held };
    let weigh = weigh_in(&pouring, &pan, scale.at.resolution_g, person.prefs);
    if weigh.tared && pan.stable {
        scale.was_tared(charge, pours.len());
    }
    Some(Some(weigh))
}

/// What the stream of two cups sends.
#[derive(Debug, Serialize, ToSchema)]
pub struct TwoCupsWeighed {
    /// The cups; missing: the scale is silent.
    pub cups: Option<TwoLoadsView>,
    /// The scale's instrument, for the entry that takes the readings.
    pub instrument: Uuid,
}

/// Two cups put on a scale one after the other, line by line, from the first look on.
#[utoipa::path(operation_id = "two_cups", tag = "scales", params(By),
    responses((status = 200, description = "Server-sent events: `cups` with a TwoCupsWeighed", body = TwoCupsWeighed, content_type = "text/event-stream"), (status = 404)))]
#[get("/scales/two-cups")]
pub async fn two_cups(state: web::Data<State>, person: Person, by: web::Query<By>) -> Result<impl Responder, Problem> {
    let scale = state.scales.one(&by.scale).ok_or(Problem::NotFound("scale"))?;
    let (tx, rx) = mpsc::channel(4);
    let mut heard = scale.follow();
    tokio::spawn(async move {
        let (mut loads, mut missed) = (TwoLoads::new(scale.at.resolution_g), 0);
        heard.mark_changed();
        while heard.changed().await.is_ok() {
            let pan = *heard.borrow_and_update();
            let cups = pan.map(|pan| {
                loads.push(&pan);
                loads.view(&pan, person.prefs)
            });
            let text = serde_json::to_string(&TwoCupsWeighed { cups, instrument: scale.instrument }).unwrap_or_default();
            match tx.try_send(sse::Event::Data(sse::Data::new(text).event("cups"))) {
                Ok(()) => missed = 0,
                Err(mpsc::error::TrySendError::Full(_)) if missed < MISSED => missed += 1,
                Err(_) => return,
            }
        }
    });
    Ok(sse::Sse::from_infallible_receiver(rx)
        .with_keep_alive(Duration::from_secs(15))
        .with_retry_duration(Duration::from_secs(1)))
}
