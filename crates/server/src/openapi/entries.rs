//! New entries of every sort of book, described kind by kind from the registries of core.

use super::typed::{as_typed, schema_of};
use level_keel_core::batch::Record;
use level_keel_core::book::{Ledger, LedgerKind};
use level_keel_core::instruments::InstrumentBook;
use level_keel_core::rig_book::RigBook;
use level_keel_core::stores::Lot;
use level_keel_core::stores::place::PlaceBook;
use level_keel_core::worded::VariantArray;
use serde_json::{Value, json};
use std::borrow::Cow;
use utoipa::openapi::{RefOr, schema::Schema};
use utoipa::{PartialSchema, ToSchema};

/// Entries of one sort of book as a browser sends them.
macro_rules! entries {
    ($($(#[$doc:meta])* $name:ident of $ledger:ty;)*) => {$(
        $(#[$doc])*
        pub struct $name;

        impl PartialSchema for $name {
            fn schema() -> RefOr<Schema> {
                entry_schema::<$ledger>()
            }
        }

        impl ToSchema for $name {
            fn name() -> Cow<'static, str> {
                stringify!($name).into()
            }

            fn schemas(all: &mut Vec<(String, RefOr<Schema>)>) {
                for kind in sent::<$ledger>() {
                    all.extend(as_typed(kind.carries()).1);
                }
            }
        }
    )*};
}

entries! {
    /// A new entry in the book of a batch.
    NewBatchEntry of Record;
    /// A new entry in the book of a rig.
    NewRigEntry of RigBook;
    /// A new entry in the book of a lot.
    NewLotEntry of Lot;
    /// A new entry in the book of an instrument.
    NewInstrumentEntry of InstrumentBook;
    /// A new entry in the book of a place.
    NewPlaceEntry of PlaceBook;
}

/// Kinds that are sent from outside.
fn sent<L: Ledger<Kind: VariantArray>>() -> impl Iterator<Item = L::Kind> {
    L::Kind::VARIANTS.iter().copied().filter(|kind| kind.written_inside().is_none())
}

fn entry_schema<L: Ledger<Kind: VariantArray>>() -> RefOr<Schema> {
    let kinds: Vec<Value> = sent::<L>()
        .map(|kind| {
            let payload = as_typed(kind.carries()).0;
            json!({
                "type": "object",
                "required": ["id", "kind", "payload"],
                "additionalProperties": false,
                "properties": {
                    "id": { "type": "string", "format": "uuid",
                            "description": "Made by the browser when the form is armed, renewed after the answer: a double tap is one entry." },
                    "kind": { "type": "string", "enum": [kind.name()] },
                    "payload": { "$ref": format!("#/components/schemas/{payload}") },
                    "ago_s": { "type": "number", "format": "double",
                               "description": "Seconds ago it happened, by the browser's own monotonic clock." },
                },
            })
        })
        .collect();
    schema_of(json!({ "oneOf": kinds }))
}
