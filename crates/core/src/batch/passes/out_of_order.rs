//! What was out of order about a pass: named, and never held. A stamp is a fact.

use super::zone::ZonePasses;
use crate::quantity::show_duration;
use crate::sheets::ReadyLook;
use crate::worded::Worded;
use uuid::Uuid;

/// What was out of order.
#[derive(Debug, Clone, PartialEq)]
pub enum OutOfOrder {
    /// So many seconds before the sheet lets it go over the one before.
    Early(f64),
    /// So many seconds after the edge was lost.
    Late(f64),
    /// Nobody said that the pass before looks ready.
    NotLooked(ReadyLook),
    /// A pass of an earlier step is not on.
    Skipped(String),
    /// More passes than the sheet plans.
    Extra,
}

impl OutOfOrder {
    /// In words.
    pub fn words(&self) -> String {
        match self {
            OutOfOrder::Early(s) => format!("{} early on the one before", show_duration(*s)),
            OutOfOrder::Late(s) => format!("{} late, the edge was lost", show_duration(*s)),
            OutOfOrder::NotLooked(look) => format!("nobody said “{}”", look.word()),
            OutOfOrder::Skipped(step) => format!("{step} was skipped"),
            OutOfOrder::Extra => "one more than planned".into(),
        }
    }

    /// The same for the worst of two of a kind.
    fn kind(&self) -> (u8, f64) {
        match self {
            OutOfOrder::Early(s) => (0, *s),
            OutOfOrder::Late(s) => (1, *s),
            OutOfOrder::NotLooked(_) => (2, 0.0),
            OutOfOrder::Skipped(_) => (3, 0.0),
            OutOfOrder::Extra => (4, 0.0),
        }
    }
}

/// What was out of order about a pass on any of its zones, the worst of each kind, in words.
pub fn names_of(zones: &[ZonePasses<'_>], entry: Uuid) -> Vec<String> {
    let mut all: Vec<&OutOfOrder> =
        zones.iter().flat_map(|z| &z.made).filter(|m| m.pass.entry == entry).flat_map(|m| &m.out_of_order).collect();
    all.sort_by(|a, b| (a.kind().0, b.kind().1).partial_cmp(&(b.kind().0, a.kind().1)).unwrap_or(std::cmp::Ordering::Equal));
    all.dedup_by_key(|o| o.kind().0);
    all.into_iter().map(OutOfOrder::words).collect()
}
