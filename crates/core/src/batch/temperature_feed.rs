//! When the temperature of a live pot is written into its book.

use super::{Payload, Record};
use crate::pot_life::temperature_at;
use jiff::Timestamp;
use uuid::Uuid;

/// A change that is written; common practice in the trade has no figure for it, so from memory.
pub const CHANGE_DK: f64 = 0.5;
/// The longest time without a temperature written, from memory.
pub const EVERY_S: f64 = 600.0;

/// Live pots whose temperature is to be written, each with the person who worked on it last.
///
/// **Rule:** on a change of [`CHANGE_DK`], or [`EVERY_S`] after the last. **Units:** °C at an instant. **Source:** ours,
/// so that a book holds the temperatures its clocks are reckoned with, and no more.
pub fn due(record: &Record, at: Timestamp, temp_c: f64) -> Vec<(Uuid, Uuid)> {
    let live = record.charges.iter().filter(|c| c.closed.is_none() && c.combined().is_some_and(|t| t <= at));
    live.filter_map(|c| {
        let known = record.temperatures(c);
        let last = known.iter().rev().find(|h| h.from <= at).map(|h| h.from);
        let moved = temperature_at(&known, at).is_none_or(|was| (was - temp_c).abs() >= CHANGE_DK);
        let old = last.is_none_or(|t| at.duration_since(t).as_secs_f64() >= EVERY_S);
        let who = record.log.iter().rev().find(|l| l.said.as_deref().and_then(Payload::charge) == Some(c.id)).map(|l| l.who)?;
        (moved || old).then_some((c.id, who))
    })
    .collect()
}
