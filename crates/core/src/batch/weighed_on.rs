//! Which scales a batch was weighed on, and when: what a scale that was found off is traced by.

use super::record::Record;
use jiff::Timestamp;
use std::collections::BTreeMap;
use uuid::Uuid;

/// A scale and when it was used.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct WeighedOn {
    /// Which.
    pub instrument: Uuid,
    /// First.
    pub first: Timestamp,
    /// Last.
    pub last: Timestamp,
}

/// Every scale of a batch: of its pours, its catches and its whole runs. Struck entries are not in the record.
pub fn weighed_on(record: &Record) -> Vec<WeighedOn> {
    let pours = record.charges.iter().flat_map(|c| &c.pours).filter_map(|p| Some((p.it.instrument?, p.at)));
    let catches = record.catches.iter().filter_map(|c| Some((c.it.instrument?, c.at)));
    let runs = record.runs.iter().filter_map(|r| Some((r.it.instrument?, r.at)));
    let mut found: BTreeMap<Uuid, WeighedOn> = BTreeMap::new();
    for (instrument, at) in pours.chain(catches).chain(runs) {
        let used = found.entry(instrument).or_insert(WeighedOn { instrument, first: at, last: at });
        (used.first, used.last) = (used.first.min(at), used.last.max(at));
    }
    found.into_values().collect()
}
