//! Live updates: one listener on the database for the process, one stream per browser. Ids only; a browser
//! that hears one reads the state again.

pub mod http;
mod leash;

pub use leash::{Leash, ended, is_of_a_session};

use sqlx::PgPool;
use sqlx::postgres::PgListener;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::{Notify, broadcast};

/// The channel of the database.
pub const CHANNEL: &str = "level_keel";
/// Told to browsers when changes may have been missed.
pub(crate) const RESYNC: &str = "resync";

/// The broadcast all streams hang on.
#[derive(Clone)]
pub struct Live {
    /// What every browser hears.
    pub(crate) told: broadcast::Sender<String>,
    /// A card was signed or accepted by this server: whoever keeps checkpoints makes one.
    pub(crate) signed: Arc<Notify>,
}

impl Default for Live {
    fn default() -> Self {
        Live { told: broadcast::channel(256).0, signed: Arc::default() }
    }
}

impl Live {
    /// Listens until the process ends. After a lost connection every browser is told to read again.
    pub async fn listen(self, db: PgPool) {
        loop {
            if let Ok(mut listener) = PgListener::connect_with(&db).await
                && listener.listen(CHANNEL).await.is_ok()
            {
                let _ = self.told.send(RESYNC.into());
                while let Ok(message) = listener.try_recv().await {
                    let text = message.map_or(RESYNC.into(), |n| n.payload().to_string());
                    // No browser open is no fault.
                    let _ = self.told.send(text);
                }
            }
            if db.is_closed() {
                return;
            }
            tokio::time::sleep(Duration::from_millis(500)).await;
        }
    }
}
