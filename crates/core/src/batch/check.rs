//! May this entry be written? Facts are taken when well formed; acts must keep the rules of their kind.

use super::Entry;
use super::case::Case;
use super::entries::{Asked, EntryKind, Payload, Phase, closed};
use super::record::Record;
use crate::book::Ledger;
use crate::people::{May, Writer};
use crate::refusal::Refusal;
use crate::worded::Worded;
use jiff::Timestamp;
use uuid::Uuid;

/// Decides on a new entry against the record so far. What core adds to it (`badness` of a release, the plan of a rescue …) is
/// filled in.
///
/// **Errors:** a [`Refusal`] with its reason and way out; nothing is half taken.
pub fn check(case: &Case<'_>, entry: &mut Entry, writer: &Writer, now: Timestamp) -> Result<(), Refusal> {
    let asked = Asked { case, writer, happened: entry.happened, now };
    let mut payload = Payload::decode(entry.kind, entry.version, &entry.payload)?;
    payload.complete(&asked, &mut entry.payload)?;
    payload.well_formed(writer.prefs)?;
    in_order(case, entry.kind)?;
    let voids = Record::strike(&payload).map(|s| s.entry);
    permitted(case, entry.kind, voids, writer)?;
    if case.phase() < entry.kind.from_phase() {
        return Err(Refusal::conflict("not-signed", "The work is not signed yet."));
    }
    if let Some(id) = payload.charge() {
        let charge = case
            .charge(id)
            .ok_or_else(|| Refusal::bad_input("unknown-charge", "charge", "There is no such pot in this batch."))?;
        if charge.closed.is_some() {
            return Err(Refusal::conflict("charge-closed", format!("Pot {} is closed already.", charge.no)));
        }
    }
    payload.may(&asked, &mut entry.payload)
}

fn in_order(record: &Record, kind: EntryKind) -> Result<(), Refusal> {
    match (record.begin.is_some(), kind == EntryKind::Begin) {
        (false, true) | (true, false) => {}
        (false, false) => return Err(Refusal::conflict("not-begun", "This batch is not begun.")),
        (true, true) => return Err(Refusal::conflict("begun-already", "This batch is begun already.")),
    }
    match record.phase() {
        phase if phase <= kind.until() => Ok(()),
        Phase::Accepted => Err(closed()),
        Phase::Signed | Phase::Sprayed | Phase::Open => {
            Err(Refusal::conflict("signed", "The work is signed. Write a note, or ask a lead to reopen it."))
        }
    }
}

/// What the viewer may do, by the one table.
///
/// `voids` is the entry that a strike would void.
///
/// **Errors:** a refusal that says whom to ask.
pub fn permitted(record: &Record, kind: EntryKind, voids: Option<Uuid>, writer: &Writer) -> Result<(), Refusal> {
    let role = writer.role.word();
    let no = |text: String| Err(Refusal::forbidden("not-your-role", text));
    match kind.may(writer.role) {
        May::Yes => Ok(()),
        May::No => no(format!("The role {role} may not do this. Ask someone who may.")),
        May::OwnBatch if record.workers.contains(&writer.id) => Ok(()),
        May::OwnBatch => no("You did not work on this batch. Someone who did signs it.".into()),
        May::NotAlone if writer.works_alone || record.workers.iter().any(|w| *w != writer.id) => Ok(()),
        May::NotAlone => no("You did this work alone. Someone else accepts it.".into()),
        May::OwnEntry if record.log.iter().any(|l| Some(l.entry) == voids && l.who != writer.id) => {
            no("Somebody else wrote this. They or a lead may strike it.".into())
        }
        May::OwnEntry => Ok(()),
    }
}
