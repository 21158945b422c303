//! A schema as a browser sends it: a quantity is a number or a text, and what the server or core fills in is left out.

use level_keel_core::book::Carries;
use level_keel_core::quantity::QuantityKind;
use serde_json::{Map, Value};
use std::collections::BTreeSet;
use utoipa::openapi::{RefOr, schema::Schema};

pub(super) fn schema_of(value: Value) -> RefOr<Schema> {
    serde_json::from_value(value).unwrap_or_else(|e| unreachable!("a schema made here: {e}"))
}

pub(super) fn typed_name(name: &str) -> String {
    format!("{name}Typed")
}

/// The schemas of what is carried as a browser sends it, each under its own name for that.
///
/// A quantity is a number or a text; what is filled in (`readOnly`) is not sent; a payload may be empty of all that is not asked.
pub(super) fn as_typed(carries: Carries) -> (String, Vec<(String, RefOr<Schema>)>) {
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
                fields.iter_mut().filter(|(field, _)| is_quantity(field)).for_each(|(_, inner)| number_or_text(inner));
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
