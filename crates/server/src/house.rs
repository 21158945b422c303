//! What the server keeps of the shop beside its database: what it says of itself, and the code of an empty one.

use crate::problem::Problem;
use crate::settings::Settings;
use jiff::tz::TimeZone;
use level_keel_core::instruments::Overdue;
use level_keel_core::shop::Shop;
use rand::RngExt;
use sha2::{Digest, Sha256};
use sqlx::{PgConnection, PgExecutor};
use std::sync::{Arc, PoisonError, RwLock};

/// What is called so until the shop says otherwise.
const UNNAMED: &str = "Level Keel";

/// The shop as it stands in the database, kept beside it: every figure with a time asks for its zone.
#[derive(Clone)]
pub struct ShopKept(Arc<RwLock<Kept>>);

#[derive(Clone)]
struct Kept {
    shop: Shop,
    demo: bool,
}

impl ShopKept {
    /// Read from the database; what is not said there comes from the settings.
    pub async fn read(db: impl PgExecutor<'_>, settings: &Settings) -> Result<ShopKept, sqlx::Error> {
        let kept = ShopKept::default();
        kept.read_again(db, settings).await?;
        Ok(kept)
    }

    /// Read again: something else wrote it.
    pub async fn read_again(&self, db: impl PgExecutor<'_>, settings: &Settings) -> Result<(), sqlx::Error> {
        let rows = sqlx::query!("select key, value from house").fetch_all(db).await?;
        let of = |key: &str| rows.iter().find(|r| r.key == key).map(|r| r.value.clone());
        let shop = Shop {
            name: of("shop").unwrap_or_else(|| UNNAMED.into()),
            zone: of("zone").unwrap_or_else(|| settings.zone.clone()),
            works_alone: of("works alone").is_some_and(|v| v == "true"),
            overdue_scale: of("overdue scale").and_then(|v| serde_json::from_value(v.into()).ok()).unwrap_or_default(),
            check_every_s: of("check every").and_then(|s| s.parse().ok()),
        };
        *self.0.write().unwrap_or_else(PoisonError::into_inner) = Kept { shop, demo: of("demo").is_some() };
        Ok(())
    }

    /// As it stands now.
    pub fn now(&self) -> Shop {
        self.kept().shop
    }

    /// It is the demo: an invented shop.
    pub fn is_demo(&self) -> bool {
        self.kept().demo
    }

    fn kept(&self) -> Kept {
        self.0.read().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// Its time zone.
    pub fn zone(&self) -> TimeZone {
        TimeZone::get(&self.zone_name()).unwrap_or(TimeZone::UTC)
    }

    /// The name of its time zone.
    pub fn zone_name(&self) -> String {
        self.kept().shop.zone
    }

    /// After it was stored.
    pub fn set(&self, shop: Shop) {
        self.0.write().unwrap_or_else(PoisonError::into_inner).shop = shop;
    }
}

/// A shop that has said nothing yet.
impl Default for ShopKept {
    fn default() -> Self {
        let shop = Shop {
            name: UNNAMED.into(),
            zone: "UTC".into(),
            works_alone: false,
            check_every_s: None,
            overdue_scale: Overdue::default(),
        };
        ShopKept(Arc::new(RwLock::new(Kept { shop, demo: false })))
    }
}

/// Writes what the shop says of itself.
pub async fn store(tx: &mut PgConnection, shop: &Shop) -> Result<(), Problem> {
    let overdue = serde_json::to_value(shop.overdue_scale)?.as_str().unwrap_or_default().to_string();
    let check_every = shop.check_every_s.map(|s| s.to_string()).unwrap_or_default();
    let said = [
        ("shop", &shop.name),
        ("zone", &shop.zone),
        ("works alone", &shop.works_alone.to_string()),
        ("check every", &check_every),
        ("overdue scale", &overdue),
    ];
    for (key, value) in said {
        sqlx::query!("insert into house (key, value) values ($1, $2) on conflict (key) do update set value = $2", key, value)
            .execute(&mut *tx)
            .await?;
    }
    Ok(())
}

/// Letters of the code: none that are taken for another when read off a screen.
const LETTERS: &[u8] = b"ABCDEFGHJKMNPQRSTUVWXYZ23456789";
/// Letters in it; with these tries a minute it is not found by trying.
const LENGTH: usize = 8;
/// The code of this start of the server.
#[derive(Clone)]
pub struct FirstCode(String);

impl FirstCode {
    /// A new one.
    pub fn new() -> FirstCode {
        let mut rng = rand::rng();
        FirstCode((0..LENGTH).map(|_| LETTERS[rng.random_range(0..LETTERS.len())] as char).collect())
    }

    /// As it is printed: in two halves.
    pub fn printed(&self) -> String {
        let (first, second) = self.0.split_at(LENGTH / 2);
        format!("{first}-{second}")
    }

    /// What is printed at the start of a shop nobody works in yet.
    pub fn invitation(&self) -> String {
        format!("Nobody works here yet. Open the address on this machine, or elsewhere with the one-time code {}", self.printed())
    }

    /// Whether this is it, however it was spaced or cased. Compared by digest: the time taken tells nothing of the letters.
    pub fn is(&self, typed: &str) -> bool {
        let bare: String = typed.chars().filter(char::is_ascii_alphanumeric).collect();
        Sha256::digest(bare.to_ascii_uppercase()) == Sha256::digest(&self.0)
    }
}

impl Default for FirstCode {
    fn default() -> Self {
        FirstCode::new()
    }
}
