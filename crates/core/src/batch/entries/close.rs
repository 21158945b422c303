//! Close and the book itself: notes, answers, releases, strikes, births denied, signature, acceptance, reopening.

use super::{Asked, Phase, Statement, Told, everyone, leads, signature, stamp};
use crate::acceptance::AcceptBy;
use crate::batch::Entry;
use crate::batch::beside::Neighbour;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::gates::{self, Act, GateName, Severity};
use crate::batch::record::Record;
use crate::book::Strike;
use crate::limits::{self, check_text};
use crate::people::{May, Role, Writer};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::verdict::Verdict;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A lead says that a birth which only a struck entry knows never happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DenyBirth {
    /// Of which pot.
    pub charge: Uuid,
    /// How they know.
    pub reason: String,
}

/// A note.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Note {
    /// What.
    pub text: String,
}

/// An answer to a deviation.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Answer {
    /// The entry it hangs on.
    pub entry: Uuid,
    /// Its code.
    pub code: String,
    /// The answer.
    pub text: String,
    /// What was answered, as it read then; core fills it in, so that a signed batch keeps it.
    #[serde(default)]
    #[schema(read_only)]
    pub about: Option<String>,
}

/// A release.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Release {
    /// Which gate.
    pub gate: GateName,
    /// Which charge, for a gate of a charge.
    #[serde(default)]
    pub charge: Option<Uuid>,
    /// Which of several troubles of one gate: an item of the lists, a lot, a reading that is old.
    #[serde(default)]
    pub item: Option<String>,
    /// What was wrong with it, as the hold says; where a gate holds one thing only, core fills it in. Missing in logs written
    /// before releases named it.
    #[serde(default)]
    pub trouble: Option<String>,
    /// Why.
    pub reason: String,
    /// Head the releaser saw.
    pub seen_seq: i64,
    /// How far past the limit it was; core fills it in. Worse later reopens the hold.
    #[serde(default)]
    #[schema(read_only)]
    pub badness: f64,
}

/// A signature: it signs what was seen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Sign {
    /// Head the signer saw.
    pub seen_seq: i64,
    /// Who signs works alone: nobody else is there to accept, and this signature closes the card; core fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub alone: bool,
}

/// An acceptance: it accepts what was seen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Accept {
    /// Head the one who accepts saw.
    pub seen_seq: i64,
    /// What it was accepted by; core fills it in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(read_only)]
    pub by: Vec<AcceptBy>,
}

/// A reopening.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Reopen {
    /// Why.
    pub reason: String,
}

/// A text that is needed, and readable.
fn needed_text(field: &str, text: &str) -> Result<(), Refusal> {
    check_text(field, text, limits::TEXT_CHARS).map(drop)
}

impl Statement for DenyBirth {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = leads;
    const IS_WORK: bool = false;

    fn charge(&self) -> Option<Uuid> {
        Some(self.charge)
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        needed_text("reason", &self.reason)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        match asked.case.charge(self.charge).and_then(Charge::birth_in_doubt) {
            Some(_) => Ok(()),
            None => Err(Refusal::conflict(
                "no-birth-in-doubt",
                "No struck entry says that this pot is older: there is nothing to deny.",
            )),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.denied.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        format!("Hardener never met base then in {}: {}", told.pot(self.charge), self.reason)
    }
}

impl Statement for Note {
    const WAITS_AS: Option<&'static str> = Some("Note");
    const WHO: fn(Role) -> May = everyone;
    const UNTIL: Phase = Phase::Accepted;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        needed_text("text", &self.text)
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    // A note stands in the log and changes nothing.
    fn apply(self, _record: &mut Record, _entry: &Entry) {}

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Note: {}", self.text)
    }
}

impl Statement for Answer {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        needed_text("text", &self.text)
    }

    fn may(&self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        let known = asked.case.deviations.iter().find(|d| d.entry == self.entry && d.code == self.code);
        let known = known.ok_or_else(|| Refusal::bad_input("unknown-deviation", "entry", "There is no such deviation."))?;
        value["about"] = known.text.clone().into();
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.answers.push(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Answered: {}", self.text)
    }
}

impl Statement for Release {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = leads;
    const IS_WORK: bool = false;
    const UNTIL: Phase = Phase::Signed;
    const NEEDS: &'static [Neighbour] = Neighbour::OF_THE_GATES;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        needed_text("reason", &self.reason)
    }

    fn may(&self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        // What was signed stays as it was signed: only what keeps it from being accepted is released after that.
        if asked.case.phase() > Phase::Sprayed && self.gate != GateName::Acceptance {
            return Err(Refusal::conflict("signed", "The work is signed. Write a note, or ask a lead to reopen it."));
        }
        seen(asked.case, self.seen_seq)?;
        let hold = held(asked.case, self, asked.now, asked.prefs())?;
        if hold.severity == Severity::Stop {
            return Err(Refusal::stop("stop", format!("{} This is a stop: nobody may release it.", hold.text)));
        }
        value["badness"] = hold.badness.into();
        value["trouble"] = hold.trouble.into();
        value["item"] = hold.item.into();
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.releases.push(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Released: {}", self.reason)
    }
}

/// The hold a release names: gate and charge, and its item and trouble where the gate holds several things.
fn held(case: &Case<'_>, r: &Release, now: Timestamp, prefs: Prefs) -> Result<gates::Hold, Refusal> {
    let named = |h: &gates::Hold| {
        h.gate == r.gate
            && h.charge == r.charge
            && (r.item.is_none() || r.item == h.item)
            && r.trouble.as_ref().is_none_or(|t| *t == h.trouble)
    };
    let mut found: Vec<gates::Hold> =
        gates::all(case, now, prefs).into_iter().filter(|h| named(h) && h.released.is_none()).collect();
    match found.len() {
        0 => Err(Refusal::conflict("nothing-held", "Nothing is on hold there any more.")),
        1 => Ok(found.remove(0)),
        _ => {
            let texts: Vec<String> = found.into_iter().map(|h| h.text).collect();
            let text = format!("This gate holds several things. Which is released? {}", texts.join(" "));
            Err(Refusal::bad_input("which-hold", "item", text))
        }
    }
}

/// Nothing of the card is changed once it is closed.
pub(crate) fn closed() -> Refusal {
    Refusal::conflict("accepted", "The card is closed. Write a note, or ask a lead to reopen it.")
}

impl Statement for Strike {
    const WAITS_AS: Option<&'static str> = None;
    const IS_WORK: bool = false;
    const STRIKABLE: bool = false;
    const UNTIL: Phase = Phase::Accepted;
    const WHO: fn(Role) -> May = |role| match role {
        Role::Lead | Role::Owner => May::Yes,
        Role::Applicator | Role::Inspector => May::OwnEntry,
    };

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        self.has_a_reason()
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let line = self.of(&asked.case.log)?;
        // What may be written after the signature may be struck after it: readings and looks, and nothing of the work.
        let phase = asked.case.phase();
        match phase > line.kind.until() {
            true if phase == Phase::Accepted => Err(closed()),
            true => Err(Refusal::conflict("signed", "The work is signed. Write a note, or ask a lead to reopen it.")),
            false => Ok(()),
        }
    }

    // What it voids was left out when the book was added up.
    fn apply(self, _record: &mut Record, _entry: &Entry) {}

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Struck an entry: {}", self.reason)
    }
}

impl Statement for Sign {
    const WAITS_AS: Option<&'static str> = None;
    const IS_WORK: bool = false;
    const STRIKABLE: bool = false;
    const NEEDS: &'static [Neighbour] = Neighbour::OF_THE_GATES;
    const WHO: fn(Role) -> May = |role| match role {
        Role::Applicator => May::OwnBatch,
        Role::Lead | Role::Owner => May::Yes,
        Role::Inspector => May::No,
    };

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        may_sign(asked.case, self.seen_seq, asked.now, asked.prefs())?;
        // What is measured after the signature keeps the card open: then the one who works alone accepts it besides.
        value["alone"] = (signs_alone(asked.case, asked.writer) && !asked.case.is_accepted_after()).into();
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.signature = Some(signature(entry));
        if self.alone {
            record.acceptance = Some(signature(entry));
        }
    }

    fn words(&self, _told: &Told<'_>) -> String {
        if self.alone { "Work signed, alone: no second signature" } else { "Work signed" }.into()
    }
}

/// One signature will do: the batch was begun in a shop worked by one person, it still is, and they may accept.
pub fn signs_alone(record: &Record, writer: &Writer) -> bool {
    let may_accept = matches!(writer.role, Role::Lead | Role::Owner);
    writer.works_alone && may_accept && record.aim().is_some_and(|aim| aim.alone)
}

fn seen(record: &Record, seen_seq: i64) -> Result<(), Refusal> {
    if seen_seq == record.log.head_seq {
        Ok(())
    } else {
        Err(Refusal::conflict("seen-older", "Something was written since you looked. Look again, then sign or release."))
    }
}

/// No signing with an open deviation or hold, a live pot, or nothing sprayed.
pub fn may_sign(case: &Case<'_>, seen_seq: i64, now: Timestamp, prefs: Prefs) -> Result<(), Refusal> {
    seen(case, seen_seq)?;
    if let Some(open) = case.deviations.iter().find(|d| d.answer.is_none()) {
        return Err(Refusal::hold("open-deviation", format!("A deviation is not answered: {}", open.text)));
    }
    if case.passes.is_empty() {
        return Err(Refusal::hold("nothing-sprayed", "No pass is stamped yet."));
    }
    if let Some(live) = case.charges.iter().find(|c| c.closed.is_none()) {
        return Err(Refusal::hold(
            "charge-open",
            format!("Pot {} is still open. Empty or discard it at {}.", live.no, case.put_on().station),
        ));
    }
    if let Some(line) = case.hose(now) {
        return Err(Refusal::hold(
            "line-not-flushed",
            format!("The hose still holds mixed paint of pot {}. Flush it at {}.", line.no, case.put_on().station),
        ));
    }
    gates::before(case, Act::Sign, None, now, prefs).refuse()
}

impl Statement for Accept {
    const WAITS_AS: Option<&'static str> = None;
    const FROM: Phase = Phase::Signed;
    const UNTIL: Phase = Phase::Signed;
    const IS_WORK: bool = false;
    const STRIKABLE: bool = false;
    const NEEDS: &'static [Neighbour] = Neighbour::OF_THE_GATES;
    const WHO: fn(Role) -> May = |role| match role {
        Role::Applicator => May::No,
        Role::Lead | Role::Inspector | Role::Owner => May::NotAlone,
    };

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        seen(asked.case, self.seen_seq)?;
        gates::before(asked.case, Act::Accept, None, asked.now, asked.prefs()).refuse()?;
        let shown = asked.case.methods(asked.prefs()).into_iter().filter(|m| m.verdict == Some(Verdict::In));
        value["by"] = serde_json::json!(shown.map(|m| m.by).collect::<Vec<_>>());
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.acceptance = Some(signature(entry));
        record.accepted_by = self.by;
    }

    fn words(&self, _told: &Told<'_>) -> String {
        match self.by.as_slice() {
            [] => "Accepted".into(),
            by => format!("Accepted by {}", by.iter().map(|b| b.word()).collect::<Vec<_>>().join(", ")),
        }
    }
}

impl Statement for Reopen {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = leads;
    const FROM: Phase = Phase::Signed;
    const UNTIL: Phase = Phase::Accepted;
    const IS_WORK: bool = false;
    const STRIKABLE: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        needed_text("reason", &self.reason)
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, _entry: &Entry) {
        (record.signature, record.acceptance, record.left_out) = (None, None, None);
        record.accepted_by.clear();
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Reopened: {}", self.reason)
    }
}
