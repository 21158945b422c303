//! The book of an instrument: its checks, and the answers to what it put in doubt.

use super::checked::{CHECK_AGAIN_DAYS, Checked, Found, MarkAnswered};
use crate::book::{Asking, Carries, Entry, Ledger, LedgerKind, Log, Strike, kinds, own_or_lead};
use crate::limits::{self, check_text};
use crate::people::Role;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use jiff::{SignedDuration, Timestamp};
use serde_json::Value;
use uuid::Uuid;

kinds! {
    /// Kinds of entry in the book of an instrument.
    enum InstrumentEntryKind;
    /// What an entry in the book of an instrument says, decoded.
    enum InstrumentEntry;

    /// Checked against a known mass or another gauge.
    Checked: Checked,
    /// A mark is answered.
    MarkAnswered: MarkAnswered,
    /// An entry is struck.
    Strike: Strike,
}

impl LedgerKind for InstrumentEntryKind {
    const STRIKE: InstrumentEntryKind = InstrumentEntryKind::Strike;

    fn carries(self) -> Carries {
        self.carried()
    }
}

/// Something written at a time.
#[derive(Debug, Clone, PartialEq)]
pub struct Written<T> {
    /// The entry.
    pub entry: Uuid,
    /// When.
    pub at: Timestamp,
    /// By whom.
    pub by: String,
    /// What.
    pub it: T,
}

/// An instrument as its book says.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct InstrumentBook {
    /// Its checks, oldest first.
    pub checks: Vec<Written<Checked>>,
    /// Marks that were answered.
    pub answers: Vec<Written<MarkAnswered>>,
    /// Every entry, and the head.
    pub log: Log<InstrumentEntryKind, InstrumentEntry>,
}

/// How an instrument stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct InstrumentLife {
    /// What the last check found.
    pub found: Found,
    /// When it was.
    pub checked: Timestamp,
    /// When the next one is due.
    pub due: Timestamp,
}

impl InstrumentBook {
    /// How it stands; `None` while no check is written.
    pub fn life(&self) -> Option<InstrumentLife> {
        let last = self.checks.last()?;
        let days = last.it.again_day_count.unwrap_or(CHECK_AGAIN_DAYS);
        let found = last.it.found()?;
        // One that was found off is due at once: until it is found good, what it says is doubted.
        let due = match found.fault {
            Some(_) => last.at,
            None => last.at.checked_add(SignedDuration::from_secs_f64(days * 86_400.0)).ok()?,
        };
        Some(InstrumentLife { found, checked: last.at, due })
    }
}

impl Ledger for InstrumentBook {
    const BOOK: &'static str = "instrument";
    type Kind = InstrumentEntryKind;
    type Said = InstrumentEntry;
    /// Whether it is a gauge.
    type Beside = bool;

    fn log(&self) -> &Log<InstrumentEntryKind, InstrumentEntry> {
        &self.log
    }

    fn log_mut(&mut self) -> &mut Log<InstrumentEntryKind, InstrumentEntry> {
        &mut self.log
    }

    fn decode(kind: InstrumentEntryKind, version: i32, payload: &Value) -> Result<InstrumentEntry, Refusal> {
        InstrumentEntry::decode(kind, version, payload)
    }

    fn strike(said: &InstrumentEntry) -> Option<&Strike> {
        if let InstrumentEntry::Strike(strike) = said { Some(strike) } else { None }
    }

    fn apply(&mut self, said: &InstrumentEntry, entry: &Entry<InstrumentEntryKind>) {
        let (id, at, by) = (entry.id, entry.happened, entry.by.clone());
        match said {
            InstrumentEntry::Checked(it) => {
                self.checks.push(Written { entry: id, at, by, it: it.clone() });
                self.checks.sort_by_key(|c| c.at);
            }
            InstrumentEntry::MarkAnswered(it) => self.answers.push(Written { entry: id, at, by, it: it.clone() }),
            InstrumentEntry::Strike(_) => {}
        }
    }

    fn may(&self, entry: &mut Entry<InstrumentEntryKind>, asked: &Asking<'_, bool>) -> Result<(), Refusal> {
        match InstrumentBook::decode(entry.kind, entry.version, &entry.payload)? {
            InstrumentEntry::Checked(c) => c.check(*asked.beside, asked.writer.prefs),
            InstrumentEntry::MarkAnswered(a) => {
                if !matches!(asked.writer.role, Role::Lead | Role::Owner) {
                    return Err(Refusal::forbidden("not-yours", "A lead answers what a scale that was off put in doubt."));
                }
                check_text("text", &a.text, limits::TEXT_CHARS).map(drop)
            }
            InstrumentEntry::Strike(s) => {
                s.has_a_reason()?;
                own_or_lead(s.of(&self.log)?, asked.writer)
            }
        }
    }

    fn words(&self, said: &InstrumentEntry, prefs: Prefs) -> String {
        match said {
            InstrumentEntry::Checked(c) => c.words(prefs),
            InstrumentEntry::MarkAnswered(a) => format!("A mark answered: {}", a.text),
            InstrumentEntry::Strike(s) => format!("Struck an entry: {}", s.reason),
        }
    }
}
