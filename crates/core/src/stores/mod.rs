//! Stores: lots of every component, what is left of them, which to take first, and how they are kept.
//!
//! A lot has its own log book: [`payload`] (what an entry says) → [`Lot`] (the lot as it stands, without time) →
//! [`stand`] (what it means for a batch at an instant). [`check()`] decides whether an entry may be written.

pub mod check;
pub mod fifo;
pub mod import;
pub mod known;
pub mod lot;
pub mod payload;
pub mod place;
pub mod storage;

pub use check::check;
pub use fifo::LotState;
pub use known::{LotKnown, Trouble, good_until};
pub use lot::Lot;
pub use payload::{Attached, Certified, LotEntry, LotKind, LotPayload, Received};

use crate::component::Component;
use crate::sheets::{Hazard, Sheet};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a lot is, for who may stand beside whom.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::EnumString)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum StoreClass {
    /// Organic peroxide.
    Peroxide,
    /// Resin or gel coat that a peroxide cures.
    Resin,
    /// Anything else.
    Other,
}

impl StoreClass {
    /// The class of a component of a sheet.
    pub fn of(sheet: &Sheet, component: Component) -> StoreClass {
        let peroxide = sheet.hazards.contains(&Hazard::Peroxide);
        match component {
            Component::Hardener if peroxide => StoreClass::Peroxide,
            Component::Base if peroxide || sheet.hazards.contains(&Hazard::Styrene) => StoreClass::Resin,
            _ => StoreClass::Other,
        }
    }

    /// Whether two may never stand in one place. **Source:** common practice in the trade; the data sheet rules.
    pub fn clashes(self, other: StoreClass) -> bool {
        matches!((self, other), (StoreClass::Peroxide, StoreClass::Resin) | (StoreClass::Resin, StoreClass::Peroxide))
    }

    /// The column value.
    pub fn name(self) -> &'static str {
        self.into()
    }

    /// Reads a column value.
    pub fn from_name(name: &str) -> StoreClass {
        name.parse().unwrap_or(StoreClass::Other)
    }
}
