//! The stream over the wire.

use super::{Leash, RESYNC, is_of_a_session};
use crate::auth::Person;
use crate::problem::Problem;
use crate::state::State;
use actix_web::{Responder, get, web};
use actix_web_lab::sse;
use std::time::Duration;
use tokio::sync::{broadcast, mpsc};

/// The stream of one browser.
#[utoipa::path(tag = "live", responses((status = 200, description = "Server-sent events: `changed` with a book id, or `resync`")))]
#[get("/live")]
pub async fn stream(state: web::Data<State>, person: Person) -> Result<impl Responder, Problem> {
    let leash = Leash::of(&state, &person).await?;
    let (tx, rx) = mpsc::channel(16);
    let mut changes = state.live.told.subscribe();
    tokio::spawn(async move {
        loop {
            let text = match tokio::time::timeout(leash.left(), changes.recv()).await {
                Ok(Ok(text)) => text,
                Ok(Err(broadcast::error::RecvError::Lagged(_))) => RESYNC.into(),
                Ok(Err(broadcast::error::RecvError::Closed)) => return,
                Err(_) => String::new(),
            };
            if !leash.holds(&text).await {
                return;
            }
            if text.is_empty() || is_of_a_session(&text) {
                continue;
            }
            // A browser that never reads fills its small channel and is let go; it reconnects and reads again.
            let event = sse::Event::Data(sse::Data::new(text).event("changed"));
            if tx.try_send(event).is_err() {
                return;
            }
        }
    });
    Ok(sse::Sse::from_infallible_receiver(rx)
        .with_keep_alive(Duration::from_secs(15))
        .with_retry_duration(Duration::from_secs(1)))
}
