//! Documents as a browser sends them, described from the types of core that read them.

use super::typed::{as_typed, schema_of, typed_name};
use level_keel_core::atomizing::tips::TipRow;
use level_keel_core::batch::begin::Wanted;
use level_keel_core::batch::view::{AskLine, WayToMix};
use level_keel_core::book::Carries;
use level_keel_core::coat_system::CoatPlan;
use level_keel_core::film::pace::PaceAsked;
use level_keel_core::film::speed::Lap;
use level_keel_core::lists::ReadyLists;
use level_keel_core::mixing::{Cup, PrintedCup};
use level_keel_core::recoat::PairTimes;
use level_keel_core::rigs::Rig;
use level_keel_core::rigs::pieces::PieceKind;
use level_keel_core::sheets::Sheet;
use level_keel_core::shop::{FirstVisit, Shop};
use level_keel_core::stores::place::Place;
use level_keel_core::takeoff::TakeOffShape;
use level_keel_core::weighing::ScaleKept;
use serde_json::{Value, json};
use std::borrow::Cow;
use utoipa::openapi::{RefOr, schema::Schema};
use utoipa::{PartialSchema, ToSchema};

/// Documents as they are typed.
macro_rules! bodies {
    ($($(#[$doc:meta])* $name:ident of $of:ty;)*) => {$(
        $(#[$doc])*
        pub struct $name;

        impl PartialSchema for $name {
            fn schema() -> RefOr<Schema> {
                let (name, all) = as_typed(Carries::of::<$of>());
                all.into_iter().find(|(other, _)| *other == name).map(|(_, schema)| schema).unwrap_or_else(Value::schema)
            }
        }

        impl ToSchema for $name {
            fn name() -> Cow<'static, str> {
                typed_name(&<$of>::name()).into()
            }

            fn schemas(all: &mut Vec<(String, RefOr<Schema>)>) {
                all.extend(as_typed(Carries::of::<$of>()).1);
            }
        }
    )*};
}

bodies! {
    /// What the first visit to an empty shop says.
    FirstVisitTyped of FirstVisit;
    /// What the shop says of itself.
    ShopTyped of Shop;
    /// What a batch begins with.
    WantedTyped of Wanted;
    /// A place of the stores.
    PlaceTyped of Place;
    /// A lap of the gun, with what is asked of it left out.
    LapTyped of Lap;
    /// What is asked of the pace of the gun.
    PaceAskedTyped of PaceAsked;
    /// A fluid line asked one way.
    AskLineTyped of AskLine;
    /// One of two ways to mix.
    WayToMixTyped of WayToMix;
    /// A marked cup.
    CupTyped of Cup;
    /// A printed cup.
    PrintedCupTyped of PrintedCup;
    /// A shape of a take-off.
    TakeOffShapeTyped of TakeOffShape;
    /// A row of the shop's tips.
    TipRowTyped of TipRow;
    /// The lists of Ready.
    ReadyListsTyped of ReadyLists;
    /// Recoat times of a pair.
    PairTimesTyped of PairTimes;
    /// A coat of a part's system.
    CoatPlanTyped of CoatPlan;
    /// A sheet.
    SheetTyped of Sheet;
    /// A scale.
    ScaleKeptTyped of ScaleKept;
}

/// A rig or a piece as its form sends it: figures of a rig lie with it or come with its pieces, those of a piece beside its kind.
macro_rules! forms {
    ($($(#[$doc:meta])* $name:ident: $asked:expr, $own:expr;)*) => {$(
        $(#[$doc])*
        pub struct $name;

        impl PartialSchema for $name {
            fn schema() -> RefOr<Schema> {
                rig_form(&$asked, $own)
            }
        }

        impl ToSchema for $name {
            fn name() -> Cow<'static, str> {
                stringify!($name).into()
            }

            fn schemas(all: &mut Vec<(String, RefOr<Schema>)>) {
                all.extend(as_typed(Carries::of::<Rig>()).1);
                all.push((<PieceKind as ToSchema>::name().into_owned(), PieceKind::schema()));
            }
        }
    )*};
}

forms! {
    /// A rig with its figures, and the pieces it is put together from by their kind.
    RigForm: ["name", "kind"],
        json!({ "pieces": { "type": "object", "additionalProperties": { "type": ["string", "null"], "format": "uuid" } } });
    /// A piece of the shelf with its figures.
    PieceForm: ["kind", "name"],
        json!({ "kind": { "$ref": format!("#/components/schemas/{}", <PieceKind as ToSchema>::name()) } });
}

fn rig_form(asked: &[&str], own: Value) -> RefOr<Schema> {
    let (name, all) = as_typed(Carries::of::<Rig>());
    let rig = all.into_iter().find(|(other, _)| *other == name).map(|(_, schema)| schema);
    let mut schema = serde_json::to_value(rig).unwrap_or_default();
    schema["required"] = asked.into();
    schema["properties"]["spare_mm"] = json!({ "type": "string", "description": "Nozzles, apart by a semicolon." });
    for (field, its) in own.as_object().into_iter().flatten() {
        schema["properties"][field] = its.clone();
    }
    schema_of(schema)
}
