//! What each kind of entry in the book of a lot says.

use crate::book::{Carries, Entry, LedgerKind, Strike, kinds};
use crate::component::Component;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

kinds! {
    /// Kinds of entry in the book of a lot.
    enum LotKind;
    /// What an entry in the book of a lot says, decoded.
    enum LotPayload;

    /// Came in.
    Received: Received,
    /// What is left was counted or weighed.
    Counted: Counted,
    /// Stands elsewhere now.
    Moved: Moved,
    /// Nobody takes it until it is freed.
    Quarantined: Because,
    /// May be taken again.
    Freed: Because,
    /// Its container is damaged.
    Damaged: Because,
    /// Certificate values, with the paper.
    Certified: Certified,
    /// A note.
    Note: LotNote,
    /// An entry is struck.
    Strike: Strike,
}

impl LedgerKind for LotKind {
    const STRIKE: LotKind = LotKind::Strike;

    fn carries(self) -> Carries {
        self.carried()
    }
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
    #[schema(read_only)]
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
    #[schema(value_type = Option<String>)]
    pub place: Option<PlaceRef>,
}

impl Received {
    /// What came in.
    ///
    /// **Formula:** `m × n`. **Units:** g. **Source:** arithmetic.
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
    /// There; a browser sends its name.
    #[schema(value_type = String)]
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

/// An entry of the book of a lot.
pub type LotEntry = Entry<LotKind>;
