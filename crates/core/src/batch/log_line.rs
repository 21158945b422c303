//! The log strip: each entry in one line of plain words, in the reader's units.

use super::check::permitted;
use super::entries::EntryKind;
use super::record::Record;
use crate::book::Ledger;
use crate::limits::in_plain_sight;
use crate::people::Writer;
use crate::quantity::Prefs;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A line of the strip.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LogLine {
    /// The entry.
    pub entry: Uuid,
    /// Its sequence.
    pub seq: i64,
    /// Its kind.
    pub kind: EntryKind,
    /// When it happened.
    pub at: Timestamp,
    /// Entered more than two minutes after it happened.
    pub late: bool,
    /// The clock was set back between this entry and the one before it.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub clock_back: bool,
    /// Who wrote it.
    pub who: Uuid,
    /// Their name.
    pub by: String,
    /// What, in words.
    pub text: String,
    /// Struck: by whom and why.
    pub struck: Option<String>,
    /// The reader may strike it.
    #[serde(default)]
    pub may_strike: bool,
}

/// The newest lines of a record, newest first, as one person reads them: what they may strike says so.
pub fn lines_for(record: &Record, reader: &Writer, most: usize) -> Vec<LogLine> {
    let mut lines: Vec<LogLine> = lines(record, reader.prefs).take(most).collect();
    if record.phase() <= EntryKind::Strike.until() {
        let phase = record.phase();
        for line in lines.iter_mut().filter(|l| l.struck.is_none() && l.kind.is_strikable() && phase <= l.kind.until()) {
            line.may_strike = permitted(record, EntryKind::Strike, Some(line.entry), reader).is_ok();
        }
    }
    lines
}

/// The strip of a record, newest first, for anybody.
pub fn lines(record: &Record, prefs: Prefs) -> impl DoubleEndedIterator<Item = LogLine> + '_ {
    record.log.iter().rev().map(move |l| LogLine {
        entry: l.entry,
        seq: l.seq,
        kind: l.kind,
        at: l.at,
        late: l.late,
        clock_back: l.clock_back,
        who: l.who,
        by: l.by.clone(),
        text: l
            .said
            .as_deref()
            .map_or("An entry this version cannot read".into(), |said| in_plain_sight(&record.words(said, prefs))),
        struck: l.struck.as_deref().map(in_plain_sight),
        may_strike: false,
    })
}
