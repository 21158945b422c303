//! Live updates: one listener on the database for the process, one stream per browser. Ids only; a browser
//! that hears one reads the state again.

pub mod http;

use sqlx::PgPool;
use sqlx::postgres::PgListener;
use std::time::Duration;
use tokio::sync::broadcast;

/// The channel of the database.
pub const CHANNEL: &str = "level_keel";
/// Told to browsers when changes may have been missed.
pub(crate) const RESYNC: &str = "resync";

/// The broadcast all streams hang on.
#[derive(Clone)]
pub struct Live(pub(crate) broadcast::Sender<String>);

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
