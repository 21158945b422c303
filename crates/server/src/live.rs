//! Live updates: one listener on the database for the process, one stream per browser. Ids only; a browser
//! that hears one reads the state again.

use crate::auth::Person;
use crate::state::State;
use actix_web::{Responder, get, web};
use actix_web_lab::sse;
use sqlx::PgPool;
use sqlx::postgres::PgListener;
use std::time::Duration;
use tokio::sync::{broadcast, mpsc};

/// The channel of the database.
pub const CHANNEL: &str = "level_keel";
/// Told to browsers when changes may have been missed.
const RESYNC: &str = "resync";

/// The broadcast all streams hang on.
#[derive(Clone)]
pub struct Live(broadcast::Sender<String>);

impl Default for Live {
    fn default() -> Self {
        Live(broadcast::channel(256).0)
    }
}

impl Live {
    /// Listens until the process ends. After a lost connection every browser is told to read again.
    pub async fn listen(self, db: PgPool) {
        loop {
            if let Ok(mut listener) = PgListener::connect_with(&db).await
                && listener.listen(CHANNEL).await.is_ok()
            {
                let _ = self.0.send(RESYNC.into());
                while let Ok(message) = listener.try_recv().await {
                    let text = message.map_or(RESYNC.into(), |n| n.payload().to_string());
                    // No browser open is no fault.
                    let _ = self.0.send(text);
                }
            }
            if db.is_closed() {
                return;
            }
            tokio::time::sleep(Duration::from_millis(500)).await;
        }
    }
}

/// The stream of one browser.
#[utoipa::path(tag = "live", responses((status = 200, description = "Server-sent events: `changed` with a book id, or `resync`")))]
#[get("/live")]
pub async fn stream(state: web::Data<State>, _person: Person) -> impl Responder {
    let (tx, rx) = mpsc::channel(16);
    let mut changes = state.live.0.subscribe();
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
