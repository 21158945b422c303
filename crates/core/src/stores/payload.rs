//! What each kind of entry in the book of a lot says.

use crate::book::{Entry, LedgerKind, Strike, known_version, without_typed};
use crate::component::Component;
use crate::refusal::Refusal;
use crate::wire::parse;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// Kinds of entry in the book of a lot.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::EnumString, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum LotKind {
    /// Came in.
    Received,
    /// What is left was counted or weighed.
    Counted,
    /// Stands elsewhere now.
    Moved,
    /// Nobody takes it until it is freed.
    Quarantined,
    /// May be taken again.
    Freed,
    /// Its container is damaged.
    Damaged,
    /// Certificate values, with the paper.
    Certified,
    /// A note.
    Note,
    /// An entry is struck.
    Strike,
}

impl LedgerKind for LotKind {
    const STRIKE: LotKind = LotKind::Strike;
}

/// Where a lot stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct PlaceRef {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
}

/// A lot that came in.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Received {
    /// Code on the label.
    pub code: String,
    /// Its product.
    pub sheet: Uuid,
    pub product: String,
    pub component: Component,
    #[serde(default)]
    pub makers_lot: Option<String>,
    #[serde(default)]
    pub colour: Option<String>,
    pub received: Date,
    #[serde(default)]
    pub made: Option<Date>,
    #[serde(default)]
    pub expires: Option<Date>,
    #[serde(default)]
    pub shelf_life_days: Option<i32>,
    pub container_g: f64,
    pub containers_count: f64,
    #[serde(default)]
    pub place: Option<PlaceRef>,
}

impl Received {
    /// What came in.
    pub fn total_g(&self) -> f64 {
        self.container_g * self.containers_count
    }

    /// The last day it is good: as stated, else made and shelf life together. `None`: not known.
    pub fn expires_on(&self) -> Option<Date> {
        self.expires.or_else(|| {
            let days = i64::from(self.shelf_life_days?);
            self.made?.checked_add(jiff::Span::new().try_days(days).ok()?).ok()
        })
    }
}

/// What is left.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Counted {
    /// So much.
    pub left_g: f64,
}

/// Moved.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Moved {
    /// There.
    pub place: PlaceRef,
}

/// Something with its reason.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Because {
    /// Why.
    pub reason: String,
}

/// A file kept by its hash.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Attached {
    /// Its hash.
    pub sha256: String,
    /// Its name, for people.
    pub name: String,
}

/// One value of a certificate.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CertificateValue {
    /// Gel time, viscosity, density …
    pub name: String,
    /// As printed, with its unit.
    pub value: String,
}

/// A certificate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Certified {
    /// Its values.
    #[serde(default)]
    pub values: Vec<CertificateValue>,
    /// The paper.
    #[serde(default)]
    pub paper: Option<Attached>,
}

/// A note.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LotNote {
    /// What.
    pub text: String,
}

/// A decoded payload.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub enum LotPayload {
    Received(Received),
    Counted(Counted),
    Moved(Moved),
    Quarantined(Because),
    Freed(Because),
    Damaged(Because),
    Certified(Certified),
    Note(LotNote),
    Strike(Strike),
}

impl LotPayload {
    /// Decodes a payload. What was typed (`typed`) is for people.
    ///
    /// **Errors:** a [`Refusal`] naming the field that is missing, unknown or of the wrong shape.
    pub fn decode(kind: LotKind, version: i32, value: &Value) -> Result<LotPayload, Refusal> {
        known_version(kind, version)?;
        let plain = without_typed(value);
        let value = plain.as_ref().unwrap_or(value);
        Ok(match kind {
            LotKind::Received => LotPayload::Received(parse(value)?),
            LotKind::Counted => LotPayload::Counted(parse(value)?),
            LotKind::Moved => LotPayload::Moved(parse(value)?),
            LotKind::Quarantined => LotPayload::Quarantined(parse(value)?),
            LotKind::Freed => LotPayload::Freed(parse(value)?),
            LotKind::Damaged => LotPayload::Damaged(parse(value)?),
            LotKind::Certified => LotPayload::Certified(parse(value)?),
            LotKind::Note => LotPayload::Note(parse(value)?),
            LotKind::Strike => LotPayload::Strike(parse(value)?),
        })
    }
}

/// An entry of the book of a lot.
pub type LotEntry = Entry<LotKind>;
