//! Stores: lots in their own books, what is left of each, where they stand, tables in and out, papers.

pub mod append;
pub mod files;
pub mod http;
pub mod import;
mod known;
mod left;
pub mod list;
mod lot;
mod place_book;
pub mod places;

pub use known::{first_in, known};
pub use left::give_and_take;

use crate::problem::Problem;
use level_keel_core::mixing::Component;
use level_keel_core::refusal::Refusal;

/// The column value of a component.
pub fn column(component: Component) -> String {
    serde_json::to_value(component).ok().and_then(|v| v.as_str().map(String::from)).unwrap_or_default()
}

/// A component from its column value.
pub fn component(name: &str) -> Result<Component, Problem> {
    serde_json::from_value(serde_json::Value::from(name))
        .map_err(|_| Refusal::bad_input("unknown-component", "component", "Base, hardener, thinner or additive.").into())
}
