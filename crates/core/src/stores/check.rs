//! May this entry be written in the book of a lot?

use super::StoreClass;
use super::lot::Lot;
use super::payload::{Certified, LotEntry, LotKind, LotPayload, Received};
use crate::book::own_or_lead;
use crate::limits::{self, check_name, check_text};
use crate::people::Role;
use crate::people::Writer;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::worded::Worded;
use jiff::civil::Date;

/// Longest code of a lot, ours or the maker's.
pub const CODE_CHARS: usize = 40;
/// Values on one certificate.
const MOST_VALUES: usize = 20;

/// Where an entry would put the lot, and what stands there.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Around {
    /// The class of this lot.
    pub class: Option<StoreClass>,
    /// Another lot in that place it must not stand beside: its code.
    pub clash: Option<String>,
    /// The shop's day.
    pub today: Date,
}

/// Decides on a new entry against the lot so far.
///
/// **Errors:** a [`Refusal`] with its reason; peroxide beside resin is a stop.
pub fn check(lot: &Lot, entry: &LotEntry, writer: &Writer, around: &Around) -> Result<(), Refusal> {
    let payload = LotPayload::decode(entry.kind, entry.version, &entry.payload)?;
    if !may_lot(writer.role, entry.kind) {
        return Err(Refusal::forbidden("not-your-role", format!("The role {} may not do this. Ask a lead.", writer.role.word())));
    }
    if lot.received.is_none() && !matches!(entry.kind, LotKind::Received | LotKind::Quarantined | LotKind::Note | LotKind::Strike)
    {
        return Err(Refusal::conflict("not-received", "This lot is not received in the stores yet. Receive it first."));
    }
    match payload {
        LotPayload::Received(r) => {
            if lot.received.is_some() {
                return Err(Refusal::conflict(
                    "received-already",
                    format!("Lot {} of this product is in the stores already.", r.code),
                ));
            }
            received(r, around.today, writer.prefs)?;
            beside(around)
        }
        LotPayload::Counted(c) => limits::STOCK.check("left_g", c.left_g, writer.prefs).map(drop),
        LotPayload::Moved(m) => {
            check_name("place", &m.place.name)?;
            beside(around)
        }
        LotPayload::Quarantined(b) | LotPayload::Damaged(b) => check_text("reason", &b.reason, limits::TEXT_CHARS).map(drop),
        LotPayload::Freed(b) => {
            if lot.quarantined.is_none() {
                return Err(Refusal::conflict("not-quarantined", "This lot is not in quarantine."));
            }
            check_text("reason", &b.reason, limits::TEXT_CHARS).map(drop)
        }
        LotPayload::Certified(c) => certified(&c),
        LotPayload::Note(n) => check_text("text", &n.text, limits::TEXT_CHARS).map(drop),
        LotPayload::Strike(s) => {
            s.has_a_reason()?;
            let line = s.of(&lot.log)?;
            // To strike a quarantine is to free the lot: not for everyone, not even its writer.
            if line.kind == LotKind::Quarantined && !may_lot(writer.role, LotKind::Freed) {
                return Err(Refusal::forbidden("not-your-role", "A lead or the owner may strike this entry. Ask them."));
            }
            own_or_lead(line, writer)
        }
    }
}

/// Peroxide never beside resin or gel coat. **Source:** common practice in the trade; the data sheet rules.
fn beside(around: &Around) -> Result<(), Refusal> {
    let (Some(class), Some(other)) = (around.class, &around.clash) else { return Ok(()) };
    let (this, that) =
        if class == StoreClass::Peroxide { ("Peroxide", "resin or gel coat") } else { ("Resin or gel coat", "peroxide") };
    Err(Refusal {
        field: Some("place".into()),
        ..Refusal::stop(
            "peroxide-beside-resin",
            format!("{this} may not stand beside {that}: lot {other} stands there. Put it in another place."),
        )
    })
}

/// A reception on its own: names, amounts, dates in their order.
pub fn received(r: Received, today: Date, prefs: Prefs) -> Result<(), Refusal> {
    check_text("code", &r.code, CODE_CHARS)?;
    if let Some(makers) = &r.makers_lot {
        check_text("makers_lot", makers, CODE_CHARS)?;
    }
    if let Some(colour) = &r.colour {
        check_text("colour", colour, limits::COLOUR_CHARS)?;
    }
    limits::STOCK.check("container_g", r.container_g, prefs)?;
    limits::COUNT.check("containers_count", r.containers_count, prefs)?;
    if r.containers_count < 1.0 || r.containers_count.fract() != 0.0 {
        return Err(Refusal::bad_input("outside-limits", "containers_count", "Containers are counted whole, at least one."));
    }
    if r.shelf_life_days.is_some_and(|d| !(1..=3650).contains(&d)) {
        return Err(Refusal::bad_input("outside-limits", "shelf_life_days", "Shelf life is 1 to 3650 days."));
    }
    for (field, date) in [("received", Some(r.received)), ("made", r.made), ("expires", r.expires)] {
        if date.is_some_and(|d| !(1990..=2100).contains(&d.year())) {
            return Err(Refusal::bad_input("outside-limits", field, "This date is not of our time. Write it as 2026-11-23."));
        }
    }
    if r.received > today {
        return Err(Refusal::bad_input("out-of-order", "received", "It cannot have come in on a day to come."));
    }
    if r.made.is_some_and(|m| m > r.received) {
        return Err(Refusal::bad_input("out-of-order", "made", "It cannot be made after it came in."));
    }
    if r.made.zip(r.expires).is_some_and(|(m, e)| e < m) {
        return Err(Refusal::bad_input("out-of-order", "expires", "It cannot expire before it was made."));
    }
    Ok(())
}

fn certified(c: &Certified) -> Result<(), Refusal> {
    if c.values.is_empty() && c.paper.is_none() {
        return Err(Refusal::bad_input("missing", "values", "A certificate has values, or its paper, or both."));
    }
    if c.values.len() > MOST_VALUES {
        return Err(Refusal::bad_input("too-many", "values", format!("At most {MOST_VALUES} values.")));
    }
    for (i, value) in c.values.iter().enumerate() {
        check_text(&format!("values[{i}].name"), &value.name, CODE_CHARS)?;
        check_text(&format!("values[{i}].value"), &value.value, CODE_CHARS)?;
    }
    Ok(())
}

/// The table for the books of lots: kind of entry and role.
pub fn may_lot(role: Role, kind: LotKind) -> bool {
    match kind {
        LotKind::Received
        | LotKind::Counted
        | LotKind::Moved
        | LotKind::Quarantined
        | LotKind::Damaged
        | LotKind::Certified
        | LotKind::Note
        | LotKind::Strike => true,
        LotKind::Freed => matches!(role, Role::Lead | Role::Inspector | Role::Owner),
    }
}
