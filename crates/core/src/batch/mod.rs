//! The log book of a batch: what may be written, what it adds up to, and what it means now.
//!
//! Data flows one way: [`entries`] (what an entry of each kind says and does) → [`fold`] (the [`record::Record`], which knows no
//! time) → [`gates`] and [`view`] (what it means at an instant, for a person). [`check`] decides whether a new entry may be
//! written, by what its kind asks of the record.

pub mod accepting;
mod after_care;
pub mod begin;
pub mod beside;
pub mod came_to;
pub mod card;
pub mod case;
pub mod charge;
pub mod check;
mod coverage;
pub mod deviations;
pub mod diagnosis;
pub mod document;
mod doses;
pub mod entries;
pub mod film_zones;
pub mod fold;
pub mod gates;
mod hazards;
pub mod hose;
pub mod job;
pub mod log_line;
pub mod lot_uses;
pub mod paint;
pub mod passes;
pub mod proofs;
pub mod proposal;
pub mod ready_lists;
pub mod record;
pub mod rig_proposed;
pub mod stations;
pub mod story;
pub mod stream;
pub mod temperature_feed;
pub mod view;
pub mod weighed_on;

pub use after_care::{CoatClock, coat_clocks};
pub use case::Case;
pub use entries::{EntryKind, Payload};
pub use record::Record;
pub use stations::StationName;
pub use view::{view, whole};

use crate::book;

/// The version of the rules a batch is begun under. It is kept in its book, so that a later rule never asks of a batch what
/// was not asked when it was begun.
///
/// - 0: begun before the rules had a version.
/// - 1: what cannot be reckoned holds; film by zone and by the sheet's proof; what goes bad under way marks the passes.
pub const RULES: i32 = 1;

/// An entry of a batch.
pub type Entry = book::Entry<EntryKind>;
