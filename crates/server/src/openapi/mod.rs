//! The description of the wire: what every request takes and every answer gives, made from the code that reads and writes it.
//!
//! What an entry carries is described kind by kind from the registries of core, as a browser sends it: quantities as numbers in
//! the unit of their field's name or as typed, and nothing of what the server or core fills in.

use actix_web::http::StatusCode;
use level_keel_core::batch::Record;
use level_keel_core::batch::begin::Wanted;
use level_keel_core::book::{Carries, Ledger, LedgerKind};
use level_keel_core::quantity::QuantityKind;
use level_keel_core::rig_book::RigBook;
use level_keel_core::stores::Lot;
use level_keel_core::stores::place::PlaceBook;
use level_keel_core::worded::VariantArray;
use serde_json::{Map, Value, json};
use std::borrow::Cow;
use std::collections::BTreeSet;
use utoipa::openapi::{RefOr, schema::Schema};
use utoipa::{OpenApi, PartialSchema, ToSchema};
use utoipa_actix_web::{AppExt, service_config::ServiceConfig};

// What only parameters name is not found by itself.
#[derive(OpenApi)]
#[openapi(
    info(
        title = "Level Keel",
        description = "Request fields whose names end in a unit take a number in that unit or a text as typed; answers give `shown` texts in the reader's units."
    ),
    components(schemas(level_keel_core::batch::StationName))
)]
struct Doc;

/// The OpenAPI document of a route table.
pub fn describe(api: fn(&mut ServiceConfig)) -> Value {
    let (_, mut doc) = actix_web::App::new().into_utoipa_app().openapi(Doc::openapi()).configure(api).split_for_parts();
    doc.info.title = "Level Keel".into();
    doc.info.license = None;
    doc.info.version = env!("CARGO_PKG_VERSION").into();
    let mut doc = serde_json::to_value(doc).unwrap_or_default();
    for operation in operations(&mut doc) {
        for (status, response) in operation["responses"].as_object_mut().into_iter().flatten() {
            if response["description"].as_str().is_none_or(str::is_empty) {
                response["description"] = meaning(status).into();
            }
        }
    }
    doc
}

fn operations(doc: &mut Value) -> impl Iterator<Item = &mut Value> {
    let paths = doc["paths"].as_object_mut().into_iter().flat_map(|paths| paths.values_mut());
    paths.flat_map(|path| path.as_object_mut().into_iter().flat_map(|methods| methods.values_mut()))
}

/// What a status says here.
fn meaning(status: &str) -> &'static str {
    match status {
        "200" => "The answer.",
        "204" => "Done; nothing to say.",
        "401" => "Nobody is signed in.",
        "403" => "Not in this role.",
        "404" => "There is no such thing.",
        "409" => "It does not go with what stands there now.",
        "413" => "Too large.",
        "422" => "A field cannot be read, or a rule refuses it; the problem names both.",
        "429" => "Too many tries; wait.",
        other => other.parse().ok().and_then(|s: StatusCode| s.canonical_reason()).unwrap_or("Another answer."),
    }
}

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
    /// A new entry in the book of a place.
    NewPlaceEntry of PlaceBook;
}

/// What a batch begins with, as typed.
pub struct WantedTyped;

impl PartialSchema for WantedTyped {
    fn schema() -> RefOr<Schema> {
        let (name, all) = as_typed(Carries::of::<Wanted>());
        all.into_iter().find(|(other, _)| *other == name).map(|(_, schema)| schema).unwrap_or_else(Value::schema)
    }
}

impl ToSchema for WantedTyped {
    fn name() -> Cow<'static, str> {
        typed_name(&Wanted::name()).into()
    }

    fn schemas(all: &mut Vec<(String, RefOr<Schema>)>) {
        all.extend(as_typed(Carries::of::<Wanted>()).1);
    }
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

fn schema_of(value: Value) -> RefOr<Schema> {
    serde_json::from_value(value).unwrap_or_else(|e| unreachable!("a schema made here: {e}"))
}

fn typed_name(name: &str) -> String {
    format!("{name}Typed")
}

/// The schemas of what is carried as a browser sends it, each under its own name for that.
///
/// A quantity is a number or a text; what is filled in (`readOnly`) is not sent; a payload may be empty of all that is not asked.
fn as_typed(carries: Carries) -> (String, Vec<(String, RefOr<Schema>)>) {
    let mut plain: Map<String, Value> = carries
        .schemas
        .into_iter()
        .filter_map(|(name, schema)| serde_json::to_value(schema).ok().map(|schema| (name, schema)))
        .collect();
    let changed = typed_ones(&plain, &carries.name);
    let name = typed_name(&carries.name);
    let all = changed
        .iter()
        .filter_map(|name| plain.remove(name).map(|schema| (name, schema)))
        .map(|(name, mut schema)| {
            type_schema(&mut schema, &changed);
            (typed_name(name), schema_of(schema))
        })
        .collect::<Vec<_>>();
    (name, all.into_iter().chain(plain.into_iter().map(|(name, schema)| (name, schema_of(schema)))).collect())
}

/// The schemas that read otherwise when typed: the payload itself, and all that hold a quantity, however deep.
fn typed_ones(all: &Map<String, Value>, top: &str) -> BTreeSet<String> {
    let mut found: BTreeSet<String> = all.iter().filter(|(_, s)| has_quantity(s)).map(|(name, _)| name.clone()).collect();
    found.insert(top.to_string());
    loop {
        let more: Vec<String> = all
            .iter()
            .filter(|(name, schema)| !found.contains(*name) && refers(schema, &found))
            .map(|(name, _)| name.clone())
            .collect();
        if more.is_empty() {
            return found;
        }
        found.extend(more);
    }
}

fn is_quantity(field: &str) -> bool {
    QuantityKind::of_field(field).is_some()
}

fn has_quantity(schema: &Value) -> bool {
    match schema {
        Value::Object(map) => map.iter().any(|(key, inner)| {
            let here = key == "properties" && inner.as_object().is_some_and(|fields| fields.keys().any(|f| is_quantity(f)));
            here || has_quantity(inner)
        }),
        Value::Array(items) => items.iter().any(has_quantity),
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => false,
    }
}

fn refers(schema: &Value, to: &BTreeSet<String>) -> bool {
    match schema {
        Value::Object(map) => map.iter().any(|(key, inner)| match inner.as_str().filter(|_| key == "$ref") {
            Some(target) => target.rsplit('/').next().is_some_and(|name| to.contains(name)),
            None => refers(inner, to),
        }),
        Value::Array(items) => items.iter().any(|inner| refers(inner, to)),
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => false,
    }
}

/// Rewrites a schema to what is typed, at every depth.
fn type_schema(schema: &mut Value, changed: &BTreeSet<String>) {
    match schema {
        Value::Object(map) => {
            if let Some(Value::Object(fields)) = map.get_mut("properties") {
                let filled: Vec<String> =
                    fields.iter().filter(|(_, s)| s["readOnly"] == true).map(|(field, _)| field.clone()).collect();
                fields.retain(|field, _| !filled.contains(field));
                for (field, inner) in fields.iter_mut().filter(|(field, _)| is_quantity(field)) {
                    let _ = field;
                    number_or_text(inner);
                }
                if let Some(Value::Array(required)) = map.get_mut("required") {
                    required.retain(|field| field.as_str().is_none_or(|f| !filled.iter().any(|gone| gone == f)));
                }
            }
            if let Some(Value::String(target)) = map.get_mut("$ref")
                && let Some(name) = target.rsplit('/').next().filter(|name| changed.contains(*name))
            {
                *target = format!("#/components/schemas/{}", typed_name(name));
            }
            map.values_mut().for_each(|inner| type_schema(inner, changed));
        }
        Value::Array(items) => items.iter_mut().for_each(|inner| type_schema(inner, changed)),
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => {}
    }
}

/// A number becomes a number or a text; a list of numbers a list of either.
fn number_or_text(schema: &mut Value) {
    let Some(map) = schema.as_object_mut() else { return };
    if let Some(items) = map.get_mut("items") {
        number_or_text(items);
        return;
    }
    let mut types: Vec<Value> = match map.get("type") {
        Some(Value::Array(types)) => types.clone(),
        Some(one) => vec![one.clone()],
        None => return,
    };
    if types.iter().any(|t| t == "number" || t == "integer") {
        types.push("string".into());
        map.insert("type".into(), types.into());
        // A format of numbers says nothing of a text.
        map.remove("format");
    }
}
