//! The book of a lot added up. Total: any book folds, and striking never fails.

use super::check::{Around, check};
use super::payload::{Certified, LotEntry, LotKind, LotPayload, PlaceRef, Received};
use crate::book::{Asking, Ledger, Log, Strike};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use jiff::Timestamp;
use serde_json::Value;

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
    /// Every entry, and the head.
    pub log: Log<LotKind, LotPayload>,
}

impl Ledger for Lot {
    const BOOK: &'static str = "lot";
    type Kind = LotKind;
    type Said = LotPayload;
    type Beside = Around;

    fn log(&self) -> &Log<LotKind, LotPayload> {
        &self.log
    }

    fn log_mut(&mut self) -> &mut Log<LotKind, LotPayload> {
        &mut self.log
    }

    fn decode(kind: LotKind, version: i32, payload: &Value) -> Result<LotPayload, Refusal> {
        LotPayload::decode(kind, version, payload)
    }

    fn strike(said: &LotPayload) -> Option<&Strike> {
        if let LotPayload::Strike(strike) = said { Some(strike) } else { None }
    }

    fn apply(&mut self, said: &LotPayload, entry: &LotEntry) {
        match said {
            LotPayload::Received(r) => {
                self.place.clone_from(&r.place);
                self.received = Some(r.clone());
            }
            LotPayload::Counted(c) => self.counted = Some((c.left_g, entry.happened)),
            LotPayload::Moved(m) => self.place = Some(m.place.clone()),
            LotPayload::Quarantined(b) => self.quarantined = Some(b.reason.clone()),
            LotPayload::Freed(_) => self.quarantined = None,
            LotPayload::Damaged(b) => self.damaged = Some(b.reason.clone()),
            LotPayload::Certified(c) => self.certificates.push(c.clone()),
            LotPayload::Note(_) | LotPayload::Strike(_) => {}
        }
    }

    fn may(&self, entry: &mut LotEntry, asked: &Asking<'_, Around>) -> Result<(), Refusal> {
        check(self, entry, asked.writer, asked.beside)
    }

    fn words(&self, said: &LotPayload, prefs: Prefs) -> String {
        let grams = |g: f64| show(g, QuantityKind::Mass, prefs).text;
        match said {
            LotPayload::Received(r) => {
                let place = r.place.as_ref().map_or(String::new(), |p| format!(", {}", p.name));
                format!("Received {} × {}{place}", r.containers_count, grams(r.container_g))
            }
            LotPayload::Counted(c) => format!("Counted {}", grams(c.left_g)),
            LotPayload::Moved(m) => format!("Moved to {}", m.place.name),
            LotPayload::Quarantined(b) => format!("Quarantined: {}", b.reason),
            LotPayload::Freed(b) => format!("Freed: {}", b.reason),
            LotPayload::Damaged(b) => format!("Container damaged: {}", b.reason),
            LotPayload::Certified(c) => {
                let values = c.values.iter().map(|v| format!("{} {}", v.name, v.value)).collect::<Vec<_>>().join(", ");
                let paper = c.paper.as_ref().map_or(String::new(), |p| format!(" ({})", p.name));
                format!("Certificate: {values}{paper}")
            }
            LotPayload::Note(n) => n.text.clone(),
            LotPayload::Strike(s) => format!("Struck an entry: {}", s.reason),
        }
    }
}

/// What is left of a lot: the last count, or what came in, less what batches took since. Never under nothing; `None`
/// for one that never came in.
///
/// **Example:** 20 kg received, 1,200 g poured → 18.8 kg; counted 18.5 kg, then 500 g poured → 18 kg.
/// **Formula:** `max(0, from − Σ taken since)`. **Units:** g. **Source:** arithmetic.
///
/// ```
/// use level_keel_core::stores::lot::left_g;
/// let at = |s: i64| jiff::Timestamp::from_second(s).unwrap();
/// assert_eq!(left_g(Some(20_000.0), None, &[(at(1), 1200.0)]), Some(18_800.0));
/// assert_eq!(left_g(Some(20_000.0), Some((18_500.0, at(2))), &[(at(1), 1200.0), (at(3), 500.0)]), Some(18_000.0));
/// ```
pub fn left_g(total_g: Option<f64>, counted: Option<(f64, Timestamp)>, taken: &[(Timestamp, f64)]) -> Option<f64> {
    let (from, since) = match counted {
        Some((g, at)) => (g, Some(at)),
        None => (total_g?, None),
    };
    let used: f64 = taken.iter().filter(|(at, _)| since.is_none_or(|s| *at > s)).map(|(_, g)| g).sum();
    Some((from - used).max(0.0))
}
