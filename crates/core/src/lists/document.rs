//! The lists as a lead edits them: one document, checked whole.

use super::{ChecklistItem, What};
use crate::limits::{self, check_text};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// The whole of the lists, one document.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadyLists {
    /// Items.
    pub items: Vec<ChecklistItem>,
}

/// Most items of the lists.
pub const MOST_ITEMS: usize = 200;
const TEXT_CHARS: usize = 80;
const HINT_CHARS: usize = 240;
const KEY_CHARS: usize = 40;

/// A key for an item that has none yet, from its words.
fn own_key(text: &str, taken: &BTreeSet<String>) -> String {
    let plain: String = text.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '_' }).take(30).collect();
    let stem = format!("own_{}", plain.trim_matches('_'));
    (1..).map(|n| if n == 1 { stem.clone() } else { format!("{stem}_{n}") }).find(|k| !taken.contains(k)).unwrap_or(stem)
}

impl ReadyLists {
    /// The lists a shop begins with. **Source:** common practice in the trade; every figure editable.
    pub fn usual() -> ReadyLists {
        // A broken file cannot be shipped: a test parses and validates it.
        serde_json::from_str(include_str!("../../data/ready_lists.json")).unwrap_or(ReadyLists { items: Vec::new() })
    }

    /// Checks every item; gives a key to one that has none.
    ///
    /// **Errors:** a [`Refusal`] naming the path, such as `items[3].text`.
    ///
    /// ```
    /// use level_keel_core::lists::ReadyLists;
    /// let one = r#"{ "items": [{ "group": "rig", "text": "Drain the trap", "what": { "kind": "tick" }, "before": "spray" }] }"#;
    /// let lists: ReadyLists = serde_json::from_str(one).unwrap();
    /// assert_eq!(lists.validate(Default::default()).unwrap().items[0].key, "own_drain_the_trap");
    /// ```
    pub fn validate(mut self, prefs: Prefs) -> Result<ReadyLists, Refusal> {
        if self.items.len() > MOST_ITEMS {
            return Err(Refusal::bad_input("too-many", "items", format!("At most {MOST_ITEMS} items.")));
        }
        let mut taken: BTreeSet<String> = self.items.iter().map(|i| i.key.clone()).collect();
        let mut keys = BTreeSet::new();
        for (i, item) in self.items.iter_mut().enumerate() {
            let at = |field: &str| format!("items[{i}].{field}");
            if item.key.is_empty() {
                item.key = own_key(&item.text, &taken);
                taken.insert(item.key.clone());
            }
            item.key = check_text(&at("key"), &item.key, KEY_CHARS)?;
            if !keys.insert(item.key.clone()) {
                return Err(Refusal::bad_input("twice", &at("key"), "Two items cannot have the same key."));
            }
            item.text = check_text(&at("text"), &item.text, TEXT_CHARS)?;
            if !item.hint.trim().is_empty() {
                item.hint = check_text(&at("hint"), &item.hint, HINT_CHARS)?;
            }
            if let Some(after) = &item.after
                && !keys.contains(after.as_str())
            {
                return Err(Refusal::bad_input("unknown-item", &at("after"), "No item above this one has that key."));
            }
            let times: &[(&str, Option<f64>)] = match &item.what {
                What::Timer { least_s, most_s, .. } => &[("least_s", *least_s), ("most_s", *most_s)],
                What::GoodFor { window_s, watch_s, .. } => &[("window_s", *window_s), ("watch_s", *watch_s)],
                _ => &[],
            };
            for (field, s) in times {
                limits::HANDLING_TIME.check_optional(&at(&format!("what.{field}")), *s, prefs)?;
            }
            match &item.what {
                What::Timer { least_s: Some(least), most_s: Some(most), .. } if least > most => {
                    return Err(Refusal::bad_input("out-of-order", &at("what.most_s"), "The most is less than the least."));
                }
                What::GoodFor { window_s: None, by: None, .. } => {
                    return Err(Refusal::bad_input("missing", &at("what.window_s"), "How long is it good for?"));
                }
                _ => {}
            }
        }
        Ok(self)
    }
}
