//! The kinds of entry of a batch book, a room for each: what it says, when it is well formed, who may write it and when, what
//! it changes, and its line in the log stand side by side. The registry ([`registry`]) is the only list of them.

mod begin;
mod close;
mod defect;
mod film;
mod flow;
mod gauge;
mod hand_over;
mod in_hand;
mod job;
mod mix;
mod passing;
mod pour;
mod prove;
mod ready;
mod ready_fill;
mod registry;
mod set;
mod spray;
mod staged;
mod vessels;

pub use crate::book::Strike;
pub use begin::{Begin, Repairs, Zone};
pub use close::{Accept, Answer, DenyBirth, Note, Release, Reopen, Sign};
pub use defect::{DefectLook, DefectSeen, DefectSettled};
pub use film::{Comb, FilmLook};
pub use flow::{CupRun, FlowCatch, SetStep};
pub use gauge::{GaugeBare, GaugeFoil, GaugeRead, MoveSpot, PlanAcceptance, SpotRead, ZoneReads};
pub use hand_over::{HandOver, TakeOver, take};
pub use in_hand::{InHand, OnIt};
pub use job::{CarryOn, LeaveOut, PiecesDone, carried};
pub use mix::{Combine, OpenCharge, PlanMix, PotTemperature, Rescue, Stirred};
pub use passing::{Backdrop, Happened, Happening, PassLook, PlanSections};
pub use pour::{ByMark, LotRef, Pour};
pub use prove::{BondTest, RatioCheck, WholeRun};
pub use ready::{Guards, TakeLot};
pub use ready_fill::ReadyFill;
pub use registry::{EntryKind, Payload};
pub use set::{Flowed, SetUp};
pub use spray::{CloseCharge, Ended, Flush, Pass, PassWay, StartSpraying, cost_words};
pub use staged::{ControlSample, StageLook};
pub use vessels::{Divide, Fill, FillInto, Transfer};

pub(crate) use close::closed;
pub use close::{may_sign, signs_alone};
pub use mix::may_combine;
pub use spray::may_spray;

use super::Entry;
use super::beside::Neighbour;
use super::case::Case;
use super::charge::Charge;
use super::record::{Record, Signature, Stamped};
use crate::people::{May, Role, Writer};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::de::DeserializeOwned;
use serde_json::Value;
use uuid::Uuid;

/// What an entry of one kind says. Whoever writes a new kind answers every question here that has no answer yet.
pub trait Statement: DeserializeOwned {
    /// What the page calls it while it waits for the server; `None`: it needs the server's answer at once.
    const WAITS_AS: Option<&'static str>;

    /// Who may write it.
    const WHO: fn(Role) -> May;

    /// From where on in the life of a batch it may be written.
    const FROM: Phase = Phase::Open;

    /// How far in the life of a batch it may still be written: the work, up to its signature.
    const UNTIL: Phase = Phase::Sprayed;

    /// Its writer is one of those who did the work.
    const IS_WORK: bool = true;

    /// A strike may void it.
    const STRIKABLE: bool = true;

    /// Why it cannot be sent from outside, where it is half of an act the server writes.
    const WRITTEN_INSIDE: Option<&'static str> = None;

    /// What the shop knows beside the book that it is judged with.
    const NEEDS: &'static [Neighbour] = &[];

    /// The charge it is about, where that charge must be there and open.
    fn charge(&self) -> Option<Uuid> {
        None
    }

    /// Hardener goes into this vessel by it.
    fn hardens(&self) -> Option<Hardens> {
        None
    }

    /// What core adds before it is judged, in itself and in what is stored.
    ///
    /// **Errors:** a [`Refusal`] at the field it cannot be reckoned from.
    fn complete(&mut self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    /// Every figure inside the limits of sense, every text readable, whatever the record says.
    ///
    /// **Errors:** a [`Refusal`] that names the field.
    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal>;

    /// May it be written, by what stands in the book? It may add to what is stored what it was judged by.
    ///
    /// **Errors:** a [`Refusal`] with its reason and way out.
    fn may(&self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal>;

    /// What it changes. Total: about a charge that is not there any more it changes nothing.
    fn apply(self, record: &mut Record, entry: &Entry);

    /// Its line in the log, in the reader's units.
    fn words(&self, told: &Told<'_>) -> String;
}

/// How far a batch has come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Phase {
    /// The work goes on.
    Open,
    /// Passes are on and every charge is ended: the coat is there, and the work not signed yet.
    Sprayed,
    /// The work is signed.
    Signed,
    /// The card is closed.
    Accepted,
}

/// Hardener goes into a vessel.
#[derive(Debug, Clone, Copy)]
pub struct Hardens {
    /// Which.
    pub charge: Uuid,
    /// The lot, where it is named.
    pub lot: Option<Uuid>,
    /// It says that base was in; else what was poured before tells.
    pub onto_base: bool,
}

/// What an entry is judged with.
#[derive(Clone, Copy)]
pub struct Asked<'a> {
    /// The record so far, and what stands beside it.
    pub case: &'a Case<'a>,
    /// Who writes.
    pub writer: &'a Writer,
    /// When it happened.
    pub happened: Timestamp,
    /// When it is judged.
    pub now: Timestamp,
}

impl Asked<'_> {
    /// How the writer reads numbers.
    pub fn prefs(&self) -> Prefs {
        self.writer.prefs
    }

    /// When it happened, and never later than now.
    pub fn then(&self) -> Timestamp {
        self.happened.min(self.now)
    }
}

/// What a line of the log is told with.
#[derive(Clone, Copy)]
pub struct Told<'a> {
    /// The record it stands in.
    pub record: &'a Record,
    /// How the reader reads numbers.
    pub prefs: Prefs,
}

impl Told<'_> {
    fn say(&self, value: f64, kind: QuantityKind) -> String {
        show(value, kind, self.prefs).text
    }

    fn pot(&self, id: Uuid) -> String {
        self.record.charge(id).map_or("a struck pot".to_string(), |c| format!("pot {}", c.no))
    }

    fn zone(&self, id: Uuid) -> String {
        self.record.aim().and_then(|b| b.zones.iter().find(|z| z.id == id)).map_or(String::new(), |z| z.name.clone())
    }

    fn component(&self, component: crate::mixing::Component) -> String {
        self.record.aim().map_or(component.word().into(), |b| b.sheet.component_name(component))
    }
}

impl Record {
    /// Passes are on, and every charge is ended.
    pub fn is_sprayed(&self) -> bool {
        !self.passes.is_empty() && self.charges.iter().all(|c| c.closed.is_some())
    }

    /// How far it has come.
    pub fn phase(&self) -> Phase {
        match (&self.signature, &self.acceptance) {
            _ if self.left_out.is_some() => Phase::Accepted,
            (_, Some(_)) => Phase::Accepted,
            (Some(_), None) => Phase::Signed,
            (None, None) if self.is_sprayed() => Phase::Sprayed,
            (None, None) => Phase::Open,
        }
    }
}

/// Facts and the acts of the work itself: everyone who may sign in may write them.
fn everyone(_role: Role) -> May {
    May::Yes
}

/// What only a lead or the owner may do.
fn leads(role: Role) -> May {
    match role {
        Role::Lead | Role::Owner => May::Yes,
        Role::Applicator | Role::Inspector => May::No,
    }
}

fn stamp<T>(entry: &Entry, it: T) -> Stamped<T> {
    Stamped { entry: entry.id, seq: entry.seq, at: entry.happened, by: entry.by.clone(), who: entry.who, it }
}

fn signature(entry: &Entry) -> Signature {
    Signature { who: entry.who, by: entry.by.clone(), at: entry.happened, hash: entry.hash.clone() }
}

/// Does something to a charge; to one that was struck away, nothing (a deviation says so).
fn on(record: &mut Record, charge: Uuid, act: impl FnOnce(&mut Charge)) {
    if let Some(charge) = record.charges.iter_mut().find(|c| c.id == charge) {
        act(charge);
    }
}

fn known(record: &Record, charge: Uuid) -> Result<&Charge, Refusal> {
    record.charge(charge).ok_or_else(|| Refusal::bad_input("unknown-charge", "charge", "There is no such pot in this batch."))
}
