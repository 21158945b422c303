//! The stream over the wire.

use super::RESYNC;
use crate::auth::Person;
use crate::state::State;
use actix_web::{Responder, get, web};
use actix_web_lab::sse;
use std::time::Duration;
use tokio::sync::{broadcast, mpsc};

/// The stream of one browser.
#[utoipa::path(tag = "live", responses((status = 200, description = "Server-sent events: `changed` with a book id, or `resync`")))]
#[get("/live")]
pub async fn stream(state: web::Data<State>, _person: Person) -> impl Responder {
    let (tx, rx) = mpsc::channel(16);
    let mut changes = state.live.told.subscribe();
    tokio::spawn(async move {
        loop {
            let text = match changes.recv().await {
                Ok(text) => text,
                Err(broadcast::error::RecvError::Lagged(_)) => RESYNC.into(),
                Err(broadcast::error::RecvError::Closed) => return,
            };
            // A browser that never reads fills its small channel and is let go; it reconnects and reads again.
            let event = sse::Event::Data(sse::Data::new(text).event("changed"));
            if tx.try_send(event).is_err() {
                return;
            }
        }
    });
    sse::Sse::from_infallible_receiver(rx).with_keep_alive(Duration::from_secs(15)).with_retry_duration(Duration::from_secs(1))
}
