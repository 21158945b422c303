//! What every handler can reach.

use crate::books::Caches;
use crate::clock::Clock;
use crate::conditions::Probes;
use crate::film_gauges::Gauges;
use crate::house::{FirstCode, ShopKept};
use crate::live::Live;
use crate::pulse::Pulse;
use crate::scales::Scales;
use crate::settings::Settings;
use sqlx::PgPool;

/// Shared state of the server.
#[derive(Clone)]
pub struct State {
    /// Database.
    pub db: PgPool,
    /// The same, where something is searched.
    pub searches: PgPool,
    /// Whether the database answers.
    pub pulse: Pulse,
    /// Time.
    pub clock: Clock,
    /// Live updates.
    pub live: Live,
    /// Settings.
    pub settings: Settings,
    /// Folded books.
    pub books: Caches,
    /// Probes as they are heard.
    pub probes: Probes,
    /// Scales as they are heard.
    pub scales: Scales,
    /// The film gauges that speak.
    pub gauges: Gauges,
    /// What the shop says of itself.
    pub shop: ShopKept,
    /// The one-time code of an empty shop.
    pub first_code: FirstCode,
    /// Version told to every page; one that is older says reload.
    pub version: String,
}

/// The version of this build.
pub const VERSION: &str = env!("CARGO_PKG_VERSION");

impl State {
    /// What the transmitters of a rig read now.
    pub fn gauges(&self, rig: &str, now: jiff::Timestamp) -> level_keel_core::rigs::Gauges {
        self.probes.gauges(rig, now)
    }

    /// The shop's day, for pot numbers.
    pub fn shop_day(&self) -> jiff::civil::Date {
        self.clock.now().to_zoned(self.shop.zone()).date()
    }
}
