//! The log book of a batch: what may be written, what it adds up to, and what it means now.
//!
//! Data flows one way: [`payload`] (what an entry says) → [`fold`] (the [`record::Record`], which knows no
//! time) → [`gates`] and [`view`] (what it means at an instant, for a person). [`check`] decides whether a
//! new entry may be written, by folding it in and asking the same rules.

pub mod begin;
pub mod card;
pub mod check;
pub mod deviations;
pub mod document;
pub mod feed;
pub mod film_zones;
pub mod fold;
pub mod gates;
pub mod hand_over;
pub mod line;
pub mod log;
pub mod mixed;
pub mod payload;
pub mod record;
pub mod set_up;
pub mod stations;
pub mod view;

pub use fold::{fold, fold_on};
pub use record::Record;
pub use view::view;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The version of the rules a batch is begun under. It is kept in its book, so that a later rule never asks of a batch what
/// was not asked when it was begun.
///
/// - 0: begun before the rules had a version.
/// - 1: what cannot be reckoned holds; film by zone and by the sheet's proof; what goes bad under way marks the passes.
pub const RULES: i32 = 1;

/// Kinds of entry in a batch book.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// Act: sheet, part, area, film.
    Begin,
    /// Fact: air, surface, material, humidity.
    Conditions,
    /// Fact: guards against hazards are on.
    Guards,
    /// Act: a lot is taken for a component.
    TakeLot,
    /// Fact: an item of the Ready lists is done, tried, timed or read.
    Tick,
    /// Act: a pot or an at-the-gun charge is opened.
    OpenCharge,
    /// Fact: a reading after a pour.
    Pour,
    /// Act: hardener goes to base; the pot begins to age.
    Combine,
    /// Fact: stirred; induction begins.
    Stirred,
    /// Fact: the pot's own temperature.
    PotTemperature,
    /// Act: the rig this coat is sprayed with.
    ChooseRig,
    /// Fact: pressures and stream.
    SetUp,
    /// A step of the stream test, ticked.
    SetStep,
    /// A flow cup was run.
    CupRun,
    /// Fact: what the gun delivers, by stopwatch and scale or cup.
    FlowCatch,
    /// Fact: two catches.
    Catch,
    /// Act: this charge goes on the part.
    StartSpraying,
    /// Fact: a pass.
    Pass,
    /// Fact: a comb reading.
    Comb,
    /// Fact: the film, looked at.
    FilmLook,
    /// Act: a lead says that a birth a struck entry knows never happened.
    #[serde(rename = "birth_denied")]
    DenyBirth,
    /// Fact: a charge is emptied or discarded.
    CloseCharge,
    /// Fact: how the coat is to be mixed and sprayed.
    PlanMix,
    /// Act: a way back from a wrong pour is chosen.
    Rescue,
    /// Fact: moved to another cup and weighed again.
    Transfer,
    /// Fact: so much of a pot goes to the gun.
    Fill,
    /// Act: a pot is divided.
    Divide,
    /// Act: a live remainder goes to another batch.
    HandOver,
    /// Act: a live remainder comes from another batch.
    TakeOver,
    /// Fact: the line is flushed.
    Flush,
    /// Fact: a note.
    Note,
    /// Fact: an answer to a deviation.
    Answer,
    /// Act: a lead releases a hold.
    Release,
    /// Act: an entry is struck.
    Strike,
    /// Act: the work is signed.
    Sign,
    /// Act: the work is accepted; the card closes.
    Accept,
    /// Act: a signature is voided.
    Reopen,
}

impl Kind {
    /// Every kind.
    pub const ALL: [Kind; 37] = [
        Kind::Begin,
        Kind::Conditions,
        Kind::Guards,
        Kind::TakeLot,
        Kind::Tick,
        Kind::OpenCharge,
        Kind::Pour,
        Kind::Combine,
        Kind::Stirred,
        Kind::PotTemperature,
        Kind::ChooseRig,
        Kind::SetUp,
        Kind::SetStep,
        Kind::CupRun,
        Kind::FlowCatch,
        Kind::Catch,
        Kind::StartSpraying,
        Kind::Pass,
        Kind::Comb,
        Kind::FilmLook,
        Kind::DenyBirth,
        Kind::CloseCharge,
        Kind::PlanMix,
        Kind::Rescue,
        Kind::Transfer,
        Kind::Fill,
        Kind::Divide,
        Kind::HandOver,
        Kind::TakeOver,
        Kind::Flush,
        Kind::Note,
        Kind::Answer,
        Kind::Release,
        Kind::Strike,
        Kind::Sign,
        Kind::Accept,
        Kind::Reopen,
    ];

    /// The wire and column name.
    pub fn name(self) -> &'static str {
        match self {
            Kind::Begin => "begin",
            Kind::Conditions => "conditions",
            Kind::Guards => "guards",
            Kind::TakeLot => "take_lot",
            Kind::Tick => "tick",
            Kind::OpenCharge => "open_charge",
            Kind::Pour => "pour",
            Kind::Combine => "combine",
            Kind::Stirred => "stirred",
            Kind::PotTemperature => "pot_temperature",
            Kind::ChooseRig => "choose_rig",
            Kind::SetUp => "set_up",
            Kind::SetStep => "set_step",
            Kind::CupRun => "cup_run",
            Kind::FlowCatch => "flow_catch",
            Kind::Catch => "catch",
            Kind::StartSpraying => "start_spraying",
            Kind::Pass => "pass",
            Kind::Comb => "comb",
            Kind::FilmLook => "film_look",
            Kind::DenyBirth => "birth_denied",
            Kind::CloseCharge => "close_charge",
            Kind::PlanMix => "plan_mix",
            Kind::Rescue => "rescue",
            Kind::Transfer => "transfer",
            Kind::Fill => "fill",
            Kind::Divide => "divide",
            Kind::HandOver => "hand_over",
            Kind::TakeOver => "take_over",
            Kind::Flush => "flush",
            Kind::Note => "note",
            Kind::Answer => "answer",
            Kind::Release => "release",
            Kind::Strike => "strike",
            Kind::Sign => "sign",
            Kind::Accept => "accept",
            Kind::Reopen => "reopen",
        }
    }

    /// Reads a wire name.
    pub fn from_name(name: &str) -> Option<Kind> {
        Kind::ALL.into_iter().find(|k| k.name() == name)
    }

    /// The payload version written today. Older versions are upcast in [`payload::Payload::decode`].
    pub fn version(self) -> i32 {
        1
    }
}

/// An entry as it stands in the book, with the writer's name joined on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Entry {
    /// Id, made by the client.
    pub id: Uuid,
    /// Sequence in the book.
    pub seq: i64,
    /// Kind.
    pub kind: Kind,
    /// Payload version.
    pub version: i32,
    /// Payload.
    pub payload: serde_json::Value,
    /// Who.
    pub who: Uuid,
    /// Their name.
    pub by: String,
    /// When it happened.
    pub happened: Timestamp,
    /// When it arrived.
    pub arrived: Timestamp,
    /// Its hash.
    pub hash: String,
}
