//! What each kind of entry says. Unknown fields are refused, so that nothing is silently dropped.

use super::Kind;
use super::hand_over::{HandOver, TakeOver};
use super::mixed::{ByMark, ChooseRescue, Divide, Fill, Flush, PlanMix, Transfer};
use super::set_up::{CupRun, FlowCatch, SetStep, SetUp};
use crate::coats::Method;
use crate::conditions::Readings;
use crate::film::CombOf;
use crate::lists::{ListItem, Substrate, Tick};
use crate::mixing::{Amount, Component};
use crate::refusal::Refusal;
use crate::rigs::ChooseRig;
use crate::schedule::CoatOver;
use crate::sheets::{ChargeKind, Hazard, Sheet};
use crate::stores::LotStand;
use crate::takeoff::Piece;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::BTreeSet;
use utoipa::ToSchema;
use uuid::Uuid;

/// A zone of a part, named.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Zone {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
}

/// Begin: everything the fold will need, so that the book stands alone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Begin {
    /// Running number of the shop.
    pub number: i64,
    pub sheet_version: Uuid,
    /// Number of that version of the sheet.
    pub sheet_edition: i32,
    /// The sheet as pinned.
    pub sheet: Sheet,
    pub part: Uuid,
    pub part_name: String,
    pub part_label: String,
    pub zones: Vec<Zone>,
    pub coat: Uuid,
    pub coat_name: String,
    pub area_m2: f64,
    /// Wet film aimed at, with the thinner the batch began with.
    pub wet_um: f64,
    /// Dry film asked for; missing: a wet one was asked.
    #[serde(default)]
    pub dry_um: Option<f64>,
    pub transfer_pct: f64,
    pub thinner_pct: f64,
    /// What is coated.
    #[serde(default)]
    pub substrate: Option<Substrate>,
    /// How it is put on; missing: as the sheet is mixed.
    #[serde(default)]
    pub method: Option<Method>,
    /// The shapes the area was taken off from.
    #[serde(default)]
    pub takeoff: Vec<Piece>,
    /// The Ready items that apply, as the lists stood then.
    #[serde(default)]
    pub items: Vec<ListItem>,
    /// The version of the rules it was begun under ([`super::RULES`]); missing: begun before they had one.
    #[serde(default)]
    pub rules: i32,
    /// The zone the shop works in, for what is of another shop day.
    #[serde(default)]
    pub zone: Option<String>,
}

/// Guards acknowledged.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Guards {
    /// The hazards whose guards are on.
    pub hazards: BTreeSet<Hazard>,
}

/// A charge opened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OpenCharge {
    /// Its id.
    pub charge: Uuid,
    /// Pot number of the shop day; the server gives it.
    #[serde(default)]
    pub no: i64,
    /// Pot or at the gun.
    pub kind: ChargeKind,
    /// Finished paint wanted in it; core reckons it from `amount` when that is given.
    #[serde(default)]
    pub wanted_ml: f64,
    /// How much, said another way than by finished volume.
    #[serde(default)]
    pub amount: Option<Amount>,
}

/// A lot used.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LotRef {
    /// Id.
    pub id: Uuid,
    /// Code on the can.
    pub code: String,
    /// What the stores knew of it then; the server fills it in.
    #[serde(default)]
    pub stand: Option<LotStand>,
}

/// A lot taken for a component.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeLot {
    /// For which.
    pub component: Component,
    /// The lot; a browser sends its code.
    pub lot: LotRef,
    /// Why this one, when another is first in.
    #[serde(default)]
    pub reason: Option<String>,
}

/// A reading after a pour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Pour {
    pub charge: Uuid,
    pub component: Component,
    /// What the scale showed.
    pub reading_g: f64,
    /// Tared before this pour.
    #[serde(default)]
    pub tared: bool,
    /// Resolution of the scale.
    pub resolution_g: f64,
    /// The scale.
    #[serde(default)]
    pub instrument: Option<Uuid>,
    /// The lot.
    #[serde(default)]
    pub lot: Option<LotRef>,
    /// Read at a mark of the cup: core reckons the mass and its interval from it.
    #[serde(default)]
    pub mark: Option<ByMark>,
    /// Taken by the scale itself, steady and in.
    #[serde(default)]
    pub by_scale: bool,
    /// A can of the kit, emptied whole: core fills in what it holds.
    #[serde(default)]
    pub whole_can: bool,
}

/// Something done to one charge, with nothing more to say.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OnCharge {
    /// Which.
    pub charge: Uuid,
}

/// Spraying begins.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StartSpraying {
    /// Which charge.
    pub charge: Uuid,
    /// The recoat window it goes on in; core fills it in from what the shop knows.
    #[serde(default)]
    pub over: Option<CoatOver>,
}

/// The pot's own temperature.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PotTemperature {
    /// Which.
    pub charge: Uuid,
    /// How warm.
    pub temp_c: f64,
    /// Read by this probe; missing: by hand.
    #[serde(default)]
    pub probe: Option<String>,
}

/// Two catches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Catch {
    /// Which charge.
    pub charge: Uuid,
    /// A.
    pub a_g: f64,
    /// B.
    pub b_g: f64,
    /// Resolution of the scale.
    pub resolution_g: f64,
    /// The scale.
    #[serde(default)]
    pub instrument: Option<Uuid>,
    /// Pressure on A while it was caught.
    #[serde(default)]
    pub a_kpa: Option<f64>,
    /// Pressure on B while it was caught.
    #[serde(default)]
    pub b_kpa: Option<f64>,
    /// How long both ran, when it was timed: gives flow.
    #[serde(default)]
    pub caught_watch_s: Option<f64>,
    /// How far the gun hangs above the pots.
    #[serde(default)]
    pub lift_mm: Option<f64>,
}

/// A pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Pass {
    /// Which charge.
    pub charge: Uuid,
    /// Which zones; empty means the whole part.
    #[serde(default)]
    pub zones: Vec<Uuid>,
    /// Paint used, when known; core reckons it from the time sprayed and the flow where that is given instead.
    #[serde(default)]
    pub used_ml: Option<f64>,
    /// How long the trigger was pulled.
    #[serde(default)]
    pub sprayed_watch_s: Option<f64>,
}

/// A comb reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Comb {
    /// Where; missing: anywhere on the part.
    #[serde(default)]
    pub zone: Option<Uuid>,
    /// Last wetted tooth; missing: none was.
    #[serde(default)]
    pub tooth_um: Option<f64>,
    /// Teeth of the comb.
    pub teeth_um: Vec<f64>,
    /// Total so far or this pass.
    pub of: CombOf,
}

/// The film, looked at: where no comb works it is what proves it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FilmLook {
    /// It is right everywhere: runs, voids, stripes, sheen.
    pub good: bool,
    /// What was seen; needed where it is not right.
    #[serde(default)]
    pub text: Option<String>,
}

/// A lead says that a birth which only a struck entry knows never happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DenyBirth {
    /// Of which pot.
    pub charge: Uuid,
    /// How they know.
    pub reason: String,
}

/// How a charge ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Ended {
    /// Sprayed out.
    Emptied,
    /// Thrown away, what was left of it.
    Discarded,
    /// Handed over to another batch.
    HandedOver,
}

impl Ended {
    /// In words.
    pub fn word(self) -> &'static str {
        match self {
            Ended::Emptied => "emptied",
            Ended::Discarded => "discarded",
            Ended::HandedOver => "handed over",
        }
    }
}

/// A charge ended.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CloseCharge {
    /// Which.
    pub charge: Uuid,
    /// How.
    pub how: Ended,
    /// Why, for a discard.
    #[serde(default)]
    pub reason: Option<String>,
    /// Waste.
    #[serde(default)]
    pub waste_ml: Option<f64>,
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
    pub about: Option<String>,
}

/// The gates of a batch.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum GateName {
    /// Dew margin, humidity, temperatures.
    Conditions,
    /// Guards by hazard.
    Guards,
    /// Ratio as weighed, or as caught.
    Ratio,
    /// Induction of a pot.
    Induction,
    /// Life of a pot.
    Life,
    /// Film at the end.
    Film,
    /// Recoat window of the coat beneath.
    Recoat,
    /// A lot taken: date, quarantine, colour, certificate, one for the part.
    Lots,
    /// An item of the Ready lists.
    Lists,
    /// Thinner in a pot.
    Thinner,
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
    pub badness: f64,
}

/// A strike.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Strike {
    /// Which entry.
    pub entry: Uuid,
    /// Why.
    pub reason: String,
}

/// A signature: it signs what was seen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Sign {
    /// Head the signer saw.
    pub seen_seq: i64,
}

/// A reopening.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Reopen {
    /// Why.
    pub reason: String,
}

/// A decoded payload.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub enum Payload {
    Begin(Box<Begin>),
    Conditions(Readings),
    Guards(Guards),
    TakeLot(TakeLot),
    Tick(Tick),
    OpenCharge(OpenCharge),
    Pour(Pour),
    Combine(OnCharge),
    Stirred(OnCharge),
    PotTemperature(PotTemperature),
    ChooseRig(Box<ChooseRig>),
    SetUp(SetUp),
    SetStep(SetStep),
    CupRun(CupRun),
    FlowCatch(FlowCatch),
    Catch(Catch),
    StartSpraying(StartSpraying),
    Pass(Pass),
    Comb(Comb),
    FilmLook(FilmLook),
    DenyBirth(DenyBirth),
    CloseCharge(CloseCharge),
    PlanMix(PlanMix),
    Rescue(ChooseRescue),
    Transfer(Transfer),
    Fill(Fill),
    Divide(Divide),
    HandOver(HandOver),
    TakeOver(Box<TakeOver>),
    Flush(Flush),
    Note(Note),
    Answer(Answer),
    Release(Release),
    Strike(Strike),
    Sign(Sign),
    Accept(Sign),
    Reopen(Reopen),
}

impl Payload {
    /// Decodes a payload of any version ever written. What was typed (`typed`) is for people, not for sums.
    ///
    /// **Errors:** a [`Refusal`] naming the field that is missing, unknown or of the wrong shape.
    pub fn decode(kind: Kind, version: i32, value: &Value) -> Result<Payload, Refusal> {
        if version != kind.version() {
            return Err(Refusal::bad_input(
                "unknown-version",
                "version",
                format!("There is no version {version} of this entry."),
            ));
        }
        // What was typed is kept for people; only an entry that has it is copied to leave it out.
        let plain = value.as_object().filter(|map| map.contains_key("typed")).map(|map| {
            let mut map = map.clone();
            map.remove("typed");
            Value::Object(map)
        });
        let value = plain.as_ref().unwrap_or(value);
        Ok(match kind {
            Kind::Begin => Payload::Begin(parse(value)?),
            Kind::Conditions => Payload::Conditions(parse(value)?),
            Kind::Guards => Payload::Guards(parse(value)?),
            Kind::TakeLot => Payload::TakeLot(parse(value)?),
            Kind::Tick => Payload::Tick(parse(value)?),
            Kind::OpenCharge => Payload::OpenCharge(parse(value)?),
            Kind::Pour => Payload::Pour(parse(value)?),
            Kind::Combine => Payload::Combine(parse(value)?),
            Kind::Stirred => Payload::Stirred(parse(value)?),
            Kind::PotTemperature => Payload::PotTemperature(parse(value)?),
            Kind::ChooseRig => Payload::ChooseRig(parse(value)?),
            Kind::SetUp => Payload::SetUp(parse(value)?),
            Kind::SetStep => Payload::SetStep(parse(value)?),
            Kind::CupRun => Payload::CupRun(parse(value)?),
            Kind::FlowCatch => Payload::FlowCatch(parse(value)?),
            Kind::Catch => Payload::Catch(parse(value)?),
            Kind::StartSpraying => Payload::StartSpraying(parse(value)?),
            Kind::Pass => Payload::Pass(parse(value)?),
            Kind::Comb => Payload::Comb(parse(value)?),
            Kind::FilmLook => Payload::FilmLook(parse(value)?),
            Kind::DenyBirth => Payload::DenyBirth(parse(value)?),
            Kind::CloseCharge => Payload::CloseCharge(parse(value)?),
            Kind::PlanMix => Payload::PlanMix(parse(value)?),
            Kind::Rescue => Payload::Rescue(parse(value)?),
            Kind::Transfer => Payload::Transfer(parse(value)?),
            Kind::Fill => Payload::Fill(parse(value)?),
            Kind::Divide => Payload::Divide(parse(value)?),
            Kind::HandOver => Payload::HandOver(parse(value)?),
            Kind::TakeOver => Payload::TakeOver(parse(value)?),
            Kind::Flush => Payload::Flush(parse(value)?),
            Kind::Note => Payload::Note(parse(value)?),
            Kind::Answer => Payload::Answer(parse(value)?),
            Kind::Release => Payload::Release(parse(value)?),
            Kind::Strike => Payload::Strike(parse(value)?),
            Kind::Sign => Payload::Sign(parse(value)?),
            Kind::Accept => Payload::Accept(parse(value)?),
            Kind::Reopen => Payload::Reopen(parse(value)?),
        })
    }

    /// The charge this entry is about, if it is about one.
    pub fn charge(&self) -> Option<Uuid> {
        match self {
            Payload::Pour(p) => Some(p.charge),
            Payload::Combine(c) | Payload::Stirred(c) => Some(c.charge),
            Payload::StartSpraying(s) => Some(s.charge),
            Payload::PotTemperature(p) => Some(p.charge),
            Payload::Catch(c) => Some(c.charge),
            Payload::Pass(p) => Some(p.charge),
            Payload::CloseCharge(c) => Some(c.charge),
            Payload::DenyBirth(d) => Some(d.charge),
            Payload::Rescue(r) => Some(r.charge),
            Payload::Transfer(t) => Some(t.charge),
            Payload::Fill(f) => Some(f.charge),
            Payload::Divide(d) => Some(d.charge),
            Payload::HandOver(h) => Some(h.charge),
            _ => None,
        }
    }
}

/// Reads any wire form, turning serde's words into a refusal at the field.
pub fn read<T: serde::de::DeserializeOwned>(value: Value) -> Result<T, Refusal> {
    parse(&value)
}

fn parse<'a, T: Deserialize<'a>>(value: &'a Value) -> Result<T, Refusal> {
    serde_path_to_error::deserialize(value).map_err(|e| {
        let path = e.path().to_string();
        let text = e.into_inner().to_string();
        let named = text.split('`').nth(1).unwrap_or("payload").to_string();
        // The path leads to what was read when it failed: of a field that is missing, to what it is missing in.
        let here = if path == "." { "payload".to_string() } else { path.clone() };
        let inside = |name: &str| match path.rsplit_once('.') {
            _ if path == "." || path == name => name.to_string(),
            Some((_, last)) if last == name => path.clone(),
            _ => format!("{path}.{name}"),
        };
        match text.as_str() {
            t if t.starts_with("missing field") => Refusal::bad_input("missing", &inside(&named), "This is needed."),
            t if t.starts_with("unknown field") => {
                Refusal::bad_input("unknown-field", &inside(&named), "There is no such field here.")
            }
            t if t.contains("null") => Refusal::bad_input("missing", &here, "This is needed."),
            _ => Refusal::bad_input("not-understood", &here, format!("This cannot be read: {text}.")),
        }
    })
}
