//! What one version of a sheet says that the one before did not, readable.

use super::Sheet;
use crate::quantity::{Prefs, QuantityKind, show};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// One field that changed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct SheetChange {
    /// Path of the field.
    pub field: String,
    /// Its words.
    pub label: String,
    /// What it said; a dash for nothing.
    pub before: String,
    /// What it says.
    pub after: String,
}

/// Every difference between two versions, by field, in the reader's units.
pub fn changes(before: &Sheet, after: &Sheet, prefs: Prefs) -> Vec<SheetChange> {
    let (before, after) = (leaves(before, prefs), leaves(after, prefs));
    let mut paths: Vec<&String> = before.keys().chain(after.keys()).collect();
    paths.sort();
    paths.dedup();
    let said = |of: &BTreeMap<String, String>, path: &String| of.get(path).cloned().unwrap_or_else(|| "–".into());
    paths
        .into_iter()
        .filter(|path| before.get(*path) != after.get(*path))
        .map(|path| SheetChange {
            label: label(path),
            before: said(&before, path),
            after: said(&after, path),
            field: path.clone(),
        })
        .collect()
}

/// Every given field as a text.
fn leaves(sheet: &Sheet, prefs: Prefs) -> BTreeMap<String, String> {
    let mut out = BTreeMap::new();
    walk(&serde_json::to_value(sheet).unwrap_or_default(), "", prefs, &mut out);
    out
}

fn walk(value: &Value, path: &str, prefs: Prefs, out: &mut BTreeMap<String, String>) {
    let text = match value {
        Value::Null => return,
        Value::Object(map) => {
            for (key, inner) in map {
                walk(inner, &if path.is_empty() { key.clone() } else { format!("{path}.{key}") }, prefs, out);
            }
            return;
        }
        // A list of words, such as the hazards, reads as one.
        Value::Array(items) if items.iter().all(Value::is_string) => {
            if items.is_empty() {
                return;
            }
            items.iter().filter_map(Value::as_str).map(spaced).collect::<Vec<_>>().join(", ")
        }
        Value::Array(items) => {
            for (i, inner) in items.iter().enumerate() {
                walk(inner, &format!("{path}[{i}]"), prefs, out);
            }
            return;
        }
        Value::Bool(yes) => if *yes { "yes" } else { "no" }.into(),
        Value::String(text) => {
            if is_word_of_ours(path) {
                spaced(text)
            } else {
                text.clone()
            }
        }
        Value::Number(n) => {
            let last = path.rsplit('.').next().unwrap_or(path);
            match (QuantityKind::of_field(last), n.as_f64()) {
                (Some(kind), Some(v)) => show(v, kind, prefs).text,
                _ => n.to_string(),
            }
        }
    };
    out.insert(path.into(), text);
}

/// Fields that hold one of our own words and not a person's text.
fn is_word_of_ours(path: &str) -> bool {
    matches!(path, "charge" | "basis" | "thinner_basis" | "stream" | "stir" | "overlap" | "film_proof")
}

fn spaced(word: &str) -> String {
    word.replace('_', " ")
}

/// `times[1].pot_life_s` → `Times 2, pot life`.
fn label(path: &str) -> String {
    let words: Vec<String> = path
        .split('.')
        .map(|part| {
            let (name, index) =
                part.split_once('[').map_or((part, None), |(n, i)| (n, i.trim_end_matches(']').parse::<usize>().ok()));
            let plain = QuantityKind::bare(name);
            index.map_or(spaced(plain), |i| format!("{} {}", spaced(plain), i + 1))
        })
        .collect();
    let text = words.join(", ");
    let mut letters = text.chars();
    letters.next().map(|c| c.to_uppercase().collect::<String>() + letters.as_str()).unwrap_or_default()
}
