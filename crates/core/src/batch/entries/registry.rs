//! The one list of the kinds of entry. A line gives a kind its variant, its name on the wire and in the log, its place in the list
//! of all, and its decoding; what it means stands in its own room.

use super::{
    Accept, Answer, Asked, Backdrop, Begin, BondTest, CarryOn, CloseCharge, Comb, Combine, ControlSample, CupRun, DefectLook,
    DefectSeen, DefectSettled, DenyBirth, Divide, Fill, FilmLook, FlowCatch, Flush, GaugeBare, GaugeFoil, GaugeRead, Guards,
    HandOver, Happening, Hardens, InHand, LeaveOut, MoveSpot, Note, OpenCharge, Pass, PassLook, Phase, PiecesDone,
    PlanAcceptance, PlanMix, PlanSections, PotTemperature, Pour, RatioCheck, ReadyFill, Release, Reopen, Rescue, SetStep, SetUp,
    Sign, StageLook, StartSpraying, Statement, Stirred, Strike, TakeLot, TakeOver, Told, Transfer, WholeRun,
};
use crate::batch::beside::Neighbour;
use crate::batch::{Entry, Record};
use crate::book::{Carries, LedgerKind, known_version, without_typed};
use crate::conditions::Readings;
use crate::lists::Tick;
use crate::people::{May, Role};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::rigs::ChooseRig;
use crate::wire;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

macro_rules! kinds {
    ($($(#[$doc:meta])* $kind:ident = $name:tt $(once $was:tt)?: $says:ty,)*) => {
        /// Kinds of entry in a batch book.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
        #[derive(strum::IntoStaticStr, strum::EnumString, strum::VariantArray)]
        pub enum EntryKind {
            $($(#[$doc])* #[serde(rename = $name $(, alias = $was)?)] #[strum(to_string = $name $(, serialize = $was)?)] $kind,)*
        }

        impl EntryKind {
            /// Who may write it.
            pub fn may(self, role: Role) -> May {
                match self { $(EntryKind::$kind => (<$says>::WHO)(role),)* }
            }

            /// What the page calls it while it waits for the server; `None`: it may not wait.
            pub fn waits_as(self) -> Option<&'static str> {
                match self { $(EntryKind::$kind => <$says>::WAITS_AS,)* }
            }

            /// From where on in the life of a batch it may be written.
            pub fn from_phase(self) -> Phase {
                match self { $(EntryKind::$kind => <$says>::FROM,)* }
            }

            /// How far in the life of a batch it may still be written.
            pub fn until(self) -> Phase {
                match self { $(EntryKind::$kind => <$says>::UNTIL,)* }
            }

            /// Its writer is one of those who did the work.
            pub fn is_work(self) -> bool {
                match self { $(EntryKind::$kind => <$says>::IS_WORK,)* }
            }

            /// A strike may void it.
            pub fn is_strikable(self) -> bool {
                match self { $(EntryKind::$kind => <$says>::STRIKABLE,)* }
            }

            /// Why it cannot be sent from outside.
            fn inside(self) -> Option<&'static str> {
                match self { $(EntryKind::$kind => <$says>::WRITTEN_INSIDE,)* }
            }

            fn carried(self) -> Carries {
                match self { $(EntryKind::$kind => Carries::of::<$says>(),)* }
            }

            /// The name it had before its second version; `None`: it always had the one it has.
            fn once(self) -> Option<&'static str> {
                match self { $(EntryKind::$kind => kinds!(@once $($was)?),)* }
            }

            /// What the shop knows beside the book that it is judged with.
            pub fn needs(self) -> &'static [Neighbour] {
                match self { $(EntryKind::$kind => <$says>::NEEDS,)* }
            }
        }

        /// What an entry says, decoded.
        #[derive(Debug, Clone, PartialEq)]
        pub enum Payload {
            $($(#[$doc])* $kind(Box<$says>),)*
        }

        impl Payload {
            fn read(kind: EntryKind, value: &Value) -> Result<Payload, Refusal> {
                Ok(match kind { $(EntryKind::$kind => Payload::$kind(Box::new(wire::parse::<$says>(value)?)),)* })
            }

            /// The charge it is about, where that charge must be there and open.
            pub fn charge(&self) -> Option<Uuid> {
                match self { $(Payload::$kind(it) => it.charge(),)* }
            }

            /// Hardener goes into this vessel by it.
            pub fn hardens(&self) -> Option<Hardens> {
                match self { $(Payload::$kind(it) => it.hardens(),)* }
            }

            pub(in crate::batch) fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
                match self { $(Payload::$kind(it) => it.complete(asked, value),)* }
            }

            pub(in crate::batch) fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
                match self { $(Payload::$kind(it) => it.well_formed(prefs),)* }
            }

            pub(in crate::batch) fn may(&self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
                match self { $(Payload::$kind(it) => it.may(asked, value),)* }
            }

            pub(in crate::batch) fn apply(self, record: &mut Record, entry: &Entry) {
                match self { $(Payload::$kind(it) => it.apply(record, entry),)* }
            }

            pub(in crate::batch) fn words(&self, told: &Told<'_>) -> String {
                match self { $(Payload::$kind(it) => it.words(told),)* }
            }
        }
    };
    (@once) => { None };
    (@once $was:tt) => { Some($was) };
}

kinds! {
    /// Act: sheet, part, area, film.
    Begin = "begin": Begin,
    /// Fact: air, surface, material, humidity.
    Conditions = "conditions": Readings,
    /// Fact: guards against hazards are on.
    Guards = "guards": Guards,
    /// Act: a lot is taken for a component.
    TakeLot = "take_lot": TakeLot,
    /// Fact: an item of the Ready lists is done, tried, timed or read.
    Tick = "tick": Tick,
    /// Act: a pot or an at-the-gun charge is opened.
    OpenCharge = "open_charge": OpenCharge,
    /// Fact: a reading after a pour.
    Pour = "pour": Pour,
    /// Act: hardener goes to base; the pot begins to age.
    Combine = "combine": Combine,
    /// Fact: stirred; induction begins.
    Stirred = "stirred": Stirred,
    /// Fact: the pot's own temperature.
    PotTemperature = "pot_temperature": PotTemperature,
    /// Act: the rig this coat is sprayed with.
    ChooseRig = "choose_rig": ChooseRig,
    /// Fact: pressures and stream.
    SetUp = "set_up": SetUp,
    /// A step of the stream test, ticked.
    SetStep = "set_step": SetStep,
    /// A flow cup was run.
    CupRun = "cup_run": CupRun,
    /// Fact: what the gun delivers, by stopwatch and scale or cup.
    FlowCatch = "flow_catch": FlowCatch,
    /// Fact: two catches.
    RatioCheck = "ratio_check" once "catch": RatioCheck,
    /// Fact: both supplies weighed before and after.
    WholeRun = "whole_run": WholeRun,
    /// Fact: a test piece pressed and parted.
    BondTest = "bond_test": BondTest,
    /// Act: this charge goes on the part.
    StartSpraying = "start_spraying": StartSpraying,
    /// Fact: a pass.
    Pass = "pass": Pass,
    /// Fact: the last pass looks as the sheet asks before the next.
    PassLook = "pass_look": PassLook,
    /// Fact: something happened while it was sprayed.
    Happening = "happening": Happening,
    /// Act: what limits a patch.
    PlanSections = "plan_sections": PlanSections,
    /// Act: a photo stands behind the zones.
    Backdrop = "backdrop": Backdrop,
    /// Fact: a comb reading.
    Comb = "comb": Comb,
    /// Fact: the film, looked at.
    FilmLook = "film_look": FilmLook,
    /// Act: a lead says that a birth a struck entry knows never happened.
    DenyBirth = "birth_denied": DenyBirth,
    /// Fact: a charge is emptied or discarded.
    CloseCharge = "close_charge": CloseCharge,
    /// Fact: how the coat is to be mixed and sprayed.
    PlanMix = "plan_mix": PlanMix,
    /// Act: a way back from a wrong pour is chosen.
    Rescue = "rescue": Rescue,
    /// Fact: moved to another cup and weighed again.
    Transfer = "transfer": Transfer,
    /// Fact: so much of a pot goes to the gun.
    Fill = "fill": Fill,
    /// Fact: so much of a can, ready to use, goes to the gun.
    ReadyFill = "ready_fill": ReadyFill,
    /// Act: a pot is divided.
    Divide = "divide": Divide,
    /// Act: a live remainder goes to another batch.
    HandOver = "hand_over": HandOver,
    /// Act: a live remainder comes from another batch.
    TakeOver = "take_over": TakeOver,
    /// Fact: the line is flushed.
    Flush = "flush": Flush,
    /// Act: the batch is taken in hand, or handed to somebody.
    InHand = "in_hand": InHand,
    /// Act: what was made ready for the coat before stands for this one.
    CarryOn = "carry_on": CarryOn,
    /// Act: this coat of a job is not put on.
    LeaveOut = "leave_out": LeaveOut,
    /// Fact: pieces of the part are done on one side.
    PiecesDone = "pieces_done": PiecesDone,
    /// Fact: the coat, looked at at a stage.
    StageLook = "stage_look": StageLook,
    /// Act: the sample the coat should match.
    ControlSample = "control_sample": ControlSample,
    /// Fact: the gauge on the bare surface.
    GaugeBare = "gauge_bare": GaugeBare,
    /// Fact: the gauge on its foil.
    GaugeFoil = "gauge_foil": GaugeFoil,
    /// Act: how the dry film is accepted by gauge, and against what.
    PlanAcceptance = "plan_acceptance": PlanAcceptance,
    /// Act: a spot that cannot be reached is drawn anew.
    MoveSpot = "move_spot": MoveSpot,
    /// Fact: readings of the dry film.
    GaugeRead = "gauge_read": GaugeRead,
    /// A defect is seen.
    DefectSeen = "defect_seen": DefectSeen,
    /// Somebody looked at what parts the causes of a defect.
    DefectLook = "defect_look": DefectLook,
    /// What a defect came of.
    DefectSettled = "defect_settled": DefectSettled,
    /// Fact: a note.
    Note = "note": Note,
    /// Fact: an answer to a deviation.
    Answer = "answer": Answer,
    /// Act: a lead releases a hold.
    Release = "release": Release,
    /// Act: an entry is struck.
    Strike = "strike": Strike,
    /// Act: the work is signed.
    Sign = "sign": Sign,
    /// Act: the work is accepted; the card closes.
    Accept = "accept": Accept,
    /// Act: a signature is voided.
    Reopen = "reopen": Reopen,
}

impl LedgerKind for EntryKind {
    const STRIKE: EntryKind = EntryKind::Strike;

    fn carries(self) -> Carries {
        self.carried()
    }

    // A kind that was renamed is of its second version since, with the same payload.
    fn version(self) -> i32 {
        if self.once().is_some() { 2 } else { 1 }
    }

    fn name_at(self, version: i32) -> &'static str {
        self.once().filter(|_| version < 2).unwrap_or(self.name())
    }

    fn written_inside(self) -> Option<&'static str> {
        self.inside()
    }

    fn may_be_struck(self) -> Result<(), Refusal> {
        if self.is_strikable() {
            return Ok(());
        }
        Err(Refusal::conflict("not-strikable", "This entry cannot be struck. Enter it again, or ask a lead to reopen."))
    }
}

impl Payload {
    /// Decodes a payload of any version ever written. What was typed (`typed`) is for people, not for sums.
    ///
    /// **Errors:** a [`Refusal`] naming the field that is missing, unknown or of the wrong shape.
    pub fn decode(kind: EntryKind, version: i32, value: &Value) -> Result<Payload, Refusal> {
        known_version(kind, version)?;
        // Only an entry that has something typed is copied to leave it out.
        Payload::read(kind, without_typed(value).as_ref().unwrap_or(value))
    }
}
