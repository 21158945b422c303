//! The book of a lot added up. Total: any book folds, and striking never fails.

use super::payload::{Certified, LotEntry, LotKind, LotPayload, PlaceRef, Received};
use crate::quantity::{Kind, Prefs, show};
use jiff::Timestamp;
use std::collections::HashMap;
use uuid::Uuid;

/// A line of the log.
#[derive(Debug, Clone, PartialEq)]
pub struct LotLine {
    /// The entry.
    pub entry: Uuid,
    /// Its sequence.
    pub seq: i64,
    /// Kind.
    pub kind: LotKind,
    /// When.
    pub at: Timestamp,
    /// Who.
    pub who: Uuid,
    /// Name.
    pub by: String,
    /// What it said; missing where it cannot be read any more.
    pub payload: Option<LotPayload>,
    /// Struck: by whom and why.
    pub struck: Option<String>,
}

/// A lot as its book says; what batches used of it stands in theirs.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Lot {
    /// As it came in; `None`: typed at a pour, or its reception was struck.
    pub received: Option<Received>,
    /// What was counted last, and when.
    pub counted: Option<(f64, Timestamp)>,
    /// Where it stands.
    pub place: Option<PlaceRef>,
    /// Why nobody may take it.
    pub quarantined: Option<String>,
    /// How its container is damaged.
    pub damaged: Option<String>,
    /// Certificates, oldest first.
    pub certificates: Vec<Certified>,
    /// Every entry.
    pub log: Vec<LotLine>,
    /// Sequence of the last.
    pub head_seq: i64,
    /// Hash of the last.
    pub head_hash: String,
}

/// Folds the entries of a lot's book, in sequence.
pub fn fold(entries: &[LotEntry]) -> Lot {
    let struck: HashMap<Uuid, String> = entries
        .iter()
        .filter(|e| e.kind == LotKind::Strike)
        .filter_map(|e| match LotPayload::decode(e.kind, e.version, &e.payload) {
            Ok(LotPayload::Strike(s)) => Some((s.entry, format!("{}: {}", e.by, s.reason))),
            _ => None,
        })
        .collect();
    let mut lot = Lot::default();
    for entry in entries {
        let payload = LotPayload::decode(entry.kind, entry.version, &entry.payload).ok();
        let gone = struck.get(&entry.id).cloned();
        if let Some(payload) = payload.clone().filter(|_| gone.is_none()) {
            apply(&mut lot, payload, entry.happened);
        }
        lot.head_seq = entry.seq;
        lot.head_hash.clone_from(&entry.hash);
        lot.log.push(LotLine {
            entry: entry.id,
            seq: entry.seq,
            kind: entry.kind,
            at: entry.happened,
            who: entry.who,
            by: entry.by.clone(),
            payload,
            struck: gone,
        });
    }
    lot
}

fn apply(lot: &mut Lot, payload: LotPayload, at: Timestamp) {
    match payload {
        LotPayload::Received(r) => {
            lot.place.clone_from(&r.place);
            lot.received = Some(r);
        }
        LotPayload::Counted(c) => lot.counted = Some((c.left_g, at)),
        LotPayload::Moved(m) => lot.place = Some(m.place),
        LotPayload::Quarantined(b) => lot.quarantined = Some(b.reason),
        LotPayload::Freed(_) => lot.quarantined = None,
        LotPayload::Damaged(b) => lot.damaged = Some(b.reason),
        LotPayload::Certified(c) => lot.certificates.push(c),
        LotPayload::Note(_) | LotPayload::Strike(_) => {}
    }
}

/// What is left of a lot: the last count, or what came in, less what batches took since. Never under nothing; `None`
/// for one that never came in.
///
/// **Example:** 20 kg received, 1,200 g poured → 18.8 kg; counted 18.5 kg, then 500 g poured → 18 kg.
pub fn left_g(total_g: Option<f64>, counted: Option<(f64, Timestamp)>, taken: &[(Timestamp, f64)]) -> Option<f64> {
    let (from, since) = match counted {
        Some((g, at)) => (g, Some(at)),
        None => (total_g?, None),
    };
    let used: f64 = taken.iter().filter(|(at, _)| since.is_none_or(|s| *at > s)).map(|(_, g)| g).sum();
    Some((from - used).max(0.0))
}

impl LotLine {
    /// What the entry said, in the reader's units.
    pub fn text(&self, prefs: Prefs) -> String {
        let grams = |g: f64| show(g, Kind::Mass, prefs).text;
        match &self.payload {
            None => "cannot be read".into(),
            Some(LotPayload::Received(r)) => {
                let place = r.place.as_ref().map_or(String::new(), |p| format!(", {}", p.name));
                format!("Received {} × {}{place}", r.containers_count, grams(r.container_g))
            }
            Some(LotPayload::Counted(c)) => format!("Counted {}", grams(c.left_g)),
            Some(LotPayload::Moved(m)) => format!("Moved to {}", m.place.name),
            Some(LotPayload::Quarantined(b)) => format!("Quarantined: {}", b.reason),
            Some(LotPayload::Freed(b)) => format!("Freed: {}", b.reason),
            Some(LotPayload::Damaged(b)) => format!("Container damaged: {}", b.reason),
            Some(LotPayload::Certified(c)) => {
                let values = c.values.iter().map(|v| format!("{} {}", v.name, v.value)).collect::<Vec<_>>().join(", ");
                let paper = c.paper.as_ref().map_or(String::new(), |p| format!(" ({})", p.name));
                format!("Certificate: {values}{paper}")
            }
            Some(LotPayload::Note(n)) => n.text.clone(),
            Some(LotPayload::Strike(s)) => format!("Struck an entry: {}", s.reason),
        }
    }
}
