//! One pass over a JSON request: every field whose name ends in a unit takes a number in that unit or a
//! text as typed. Texts become numbers; what was typed is kept beside them under `typed`.

use super::{Prefs, QuantityKind, Shown, edit_text, parse, show};
use crate::refusal::Refusal;
use crate::worded::Worded;
use serde_json::Value;
use std::collections::BTreeMap;

/// Resolves a request object in place and returns what was typed, by path.
///
/// **Errors:** a [`Refusal`] naming the path of every field that cannot be read (all of them, so a form can
/// mark each).
pub fn resolve(value: &mut Value, prefs: Prefs) -> Result<BTreeMap<String, String>, Vec<Refusal>> {
    let mut typed = BTreeMap::new();
    let mut errors = Vec::new();
    walk(value, "", prefs, &mut typed, &mut errors);
    if errors.is_empty() { Ok(typed) } else { Err(errors) }
}

fn walk(value: &mut Value, path: &str, prefs: Prefs, typed: &mut BTreeMap<String, String>, errors: &mut Vec<Refusal>) {
    match value {
        Value::Object(map) => {
            // What was typed is kept beside the figures; it is no figure of its own.
            for (key, inner) in map.iter_mut().filter(|(key, _)| *key != "typed") {
                let here = if path.is_empty() { key.clone() } else { format!("{path}.{key}") };
                match QuantityKind::of_field(key) {
                    Some(kind) => field(inner, kind, here, prefs, typed, errors),
                    None => walk(inner, &here, prefs, typed, errors),
                }
            }
        }
        Value::Array(items) => {
            for (index, inner) in items.iter_mut().enumerate() {
                walk(inner, &format!("{path}[{index}]"), prefs, typed, errors);
            }
        }
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => {}
    }
}

fn field(
    value: &mut Value,
    kind: QuantityKind,
    path: String,
    prefs: Prefs,
    typed: &mut BTreeMap<String, String>,
    errors: &mut Vec<Refusal>,
) {
    match value {
        Value::Null | Value::Number(_) => {}
        Value::Array(items) => {
            // A list of one kind, such as the teeth of a comb.
            for (index, inner) in items.iter_mut().enumerate() {
                field(inner, kind, format!("{path}[{index}]"), prefs, typed, errors);
            }
        }
        // An emptied field is a field not given.
        Value::String(text) if text.trim().is_empty() => *value = Value::Null,
        Value::String(text) => match parse(text, kind, prefs) {
            Ok(number) => {
                typed.insert(path, std::mem::take(text));
                *value = Value::from(number);
            }
            Err(e) => errors.push(Refusal::bad_input("not-understood", &path, format!("{}: {e}.", kind_word(kind)))),
        },
        Value::Bool(_) | Value::Object(_) => {
            errors.push(Refusal::bad_input("not-understood", &path, format!("{} wants a number or a text.", kind_word(kind))));
        }
    }
}

fn kind_word(kind: QuantityKind) -> String {
    let word = kind.word();
    let mut letters = word.chars();
    letters.next().map(|c| c.to_uppercase().collect::<String>() + letters.as_str()).unwrap_or_default()
}

/// What a resolved object means, shown in the person's units: one entry per quantity field, by its path.
pub fn understood(value: &Value, prefs: Prefs) -> BTreeMap<String, Shown> {
    let mut out = BTreeMap::new();
    figures(value, "", &mut |path, kind, number| drop(out.insert(path, show(number, kind, prefs))));
    out
}

/// Every quantity of a stored object as a form shows it, by path: as it was typed, where this reader would be understood so
/// too; else a text that reads back as the very figure ([`edit_text`]).
pub fn form_texts(value: &Value, typed: &BTreeMap<String, String>, prefs: Prefs) -> BTreeMap<String, String> {
    let mut out = BTreeMap::new();
    figures(value, "", &mut |path, kind, number| {
        let as_typed = typed.get(&path).filter(|text| parse(text, kind, prefs) == Ok(number)).cloned();
        out.insert(path, as_typed.unwrap_or_else(|| edit_text(number, kind, prefs)));
    });
    out
}

/// Every quantity of an object, by its path.
fn figures(value: &Value, path: &str, each: &mut impl FnMut(String, QuantityKind, f64)) {
    match value {
        Value::Object(map) => {
            for (key, inner) in map.iter().filter(|(key, _)| *key != "typed") {
                let here = if path.is_empty() { key.clone() } else { format!("{path}.{key}") };
                match (QuantityKind::of_field(key), inner.as_f64()) {
                    (Some(kind), Some(number)) => each(here, kind, number),
                    _ => figures(inner, &here, each),
                }
            }
        }
        Value::Array(items) => {
            for (index, inner) in items.iter().enumerate() {
                figures(inner, &format!("{path}[{index}]"), each);
            }
        }
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => {}
    }
}
