//! The batch card as an open document: plain facts in base units, for other programs and for the years.
//!
//! Its JSON Schema is served beside it. A new field may be added in a version; none changes its meaning.

mod acceptance;
mod make;
mod passes;
mod rows;

pub use acceptance::{DocAcceptance, DocFoil, DocGauge, DocLook, DocMethod, DocMoved, DocSample, DocSpot};
pub use make::document;
pub use passes::{DocFilm, DocHappening, DocPass};
pub use rows::{HEADS, Row, rows};

use crate::batch::beside::GoodSetUp;
use crate::batch::entries::FillInto;
use crate::batch::record::Signature;
use crate::batch::{entries::Ended, gates::GateName};
use crate::coat_system::Method;
use crate::lists::{Did, Substrate};
use crate::mixing::{Component, PlannedPour};
use crate::pot_life::HeldTemperature;
use crate::ratio_check::BondResult;
use crate::recoat::{CoatOver, RecoatWindow};
use crate::rigs::Rig;
use crate::sheets::{ChargeKind, Hazard, Sheet};
use crate::stores::LotKnown;
use crate::verdict::Verdict;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Name of the format.
pub const FORMAT: &str = "level-keel-card";
/// Version of the format.
pub const FORMAT_VERSION: u32 = 1;

/// The card of a batch. Field names end in their unit; times are UTC.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CardDocument {
    /// Always `level-keel-card`.
    pub format: String,
    pub format_version: u32,
    /// The version of the rules that judged it.
    pub core_version: String,
    pub batch: Uuid,
    pub number: i64,
    pub part: String,
    pub coat: String,
    pub zones: Vec<String>,
    pub area_m2: f64,
    pub wet_aim_um: f64,
    /// Dry film asked for, when it was.
    pub dry_asked_um: Option<f64>,
    pub transfer_pct: f64,
    pub thinner_pct: f64,
    pub sheet: Sheet,
    pub sheet_edition: i32,
    pub begun: Timestamp,
    pub conditions: Vec<DocConditions>,
    /// What was coated, and how.
    #[serde(default)]
    pub substrate: Option<Substrate>,
    #[serde(default)]
    pub method: Option<Method>,
    /// Lots taken, with what the stores knew of them then.
    #[serde(default)]
    pub lots: Vec<DocLot>,
    /// Items of the Ready lists.
    #[serde(default)]
    pub checks: Vec<DocCheck>,
    /// Hazards whose guards were ticked.
    pub guards: Vec<Hazard>,
    pub charges: Vec<DocCharge>,
    /// The rig, as it stood.
    pub rig: Option<Rig>,
    pub set_ups: Vec<DocSetUp>,
    /// Last good set-ups of the same product and rig, as they were when this was written.
    #[serde(default)]
    pub last_good: Vec<GoodSetUp>,
    pub flows: Vec<DocFlow>,
    pub catches: Vec<DocCatch>,
    /// Whole runs, by their supplies.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub runs: Vec<DocRun>,
    /// Bond tests.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bonds: Vec<DocBond>,
    pub passes: Vec<DocPass>,
    /// What happened while it was sprayed.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub happenings: Vec<DocHappening>,
    pub films: Vec<DocFilm>,
    /// What accepted it, with its evidence.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub acceptance: Option<DocAcceptance>,
    pub deviations: Vec<DocDeviation>,
    pub releases: Vec<DocRelease>,
    pub recoat: Option<RecoatWindow>,
    pub signed: Option<Signature>,
    pub accepted: Option<Signature>,
    pub log: Vec<DocLine>,
    /// Sequence and hash of the last entry this card was made from.
    pub head_seq: i64,
    pub head_hash: String,
}

/// One reading of the conditions.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocConditions {
    pub at: Timestamp,
    pub by: String,
    pub air_c: f64,
    pub surface_c: f64,
    pub material_c: f64,
    pub rh_pct: f64,
    pub dew_point_c: f64,
    pub margin_dk: f64,
}

/// A ratio with its interval, as A to one B or in per cent as the sheet states it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocRatio {
    /// `parts` of A to one of B, or `per_cent` of B on A.
    pub said_in: String,
    pub least: f64,
    pub value: f64,
    pub most: f64,
    pub limit_low: f64,
    pub limit_high: f64,
    pub verdict: Verdict,
}

/// A pot, or a charge at the gun.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocCharge {
    pub no: i64,
    pub kind: ChargeKind,
    pub wanted_ml: f64,
    pub opened: Timestamp,
    pub pours: Vec<DocPour>,
    pub ratio: Option<DocRatio>,
    /// When hardener met base: its clock.
    pub combined: Option<Timestamp>,
    pub stirred: Option<Timestamp>,
    pub started: Option<Timestamp>,
    /// The window of the coat beneath, as known when spraying began.
    pub over: Option<CoatOver>,
    pub closed: Option<DocClosed>,
    /// What was to be poured, with what rescues and divisions made of it.
    #[serde(default)]
    pub planned: Vec<PlannedPour>,
    #[serde(default)]
    pub rescued: Vec<Timestamp>,
    /// Temperatures that held, from when on.
    #[serde(default)]
    pub temperatures: Vec<HeldTemperature>,
    /// Age at its end, spent at 1.
    #[serde(default)]
    pub age: Option<f64>,
    #[serde(default)]
    pub fills: Vec<DocFill>,
}

/// A fill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocFill {
    pub at: Timestamp,
    pub by: String,
    pub into: FillInto,
    pub fill_ml: f64,
    pub dose_g: Option<f64>,
}

/// One pour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocPour {
    pub at: Timestamp,
    pub by: String,
    pub component: Component,
    pub name: String,
    /// Missing where the product is measured by volume alone, as the reading and its step are.
    pub poured_g: Option<f64>,
    pub reading_g: Option<f64>,
    pub tared: bool,
    pub resolution_g: Option<f64>,
    /// What was poured, of a product that is measured by volume alone.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub poured_ml: Option<f64>,
    pub lot: Option<String>,
}

/// How a charge ended.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocClosed {
    pub at: Timestamp,
    pub by: String,
    pub how: Ended,
    pub reason: Option<String>,
    pub waste_ml: Option<f64>,
    /// As weighed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub waste_g: Option<f64>,
}

/// One try of pressure and stream.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocSetUp {
    pub at: Timestamp,
    pub by: String,
    /// None where the gun's own cup feeds it.
    #[serde(default)]
    pub pot_kpa: Option<f64>,
    /// At the pot of B, on twin pots.
    #[serde(default)]
    pub b_kpa: Option<f64>,
    pub atomizing_kpa: Option<f64>,
    pub stream_mm: Option<f64>,
    pub catalyst_kpa: Option<f64>,
    /// The pattern as it was called.
    pub pattern: Option<String>,
    /// The step of the coat it was for.
    #[serde(default)]
    pub step: Option<String>,
    /// Turns of the fan knob from shut.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fan_turns: Option<f64>,
    /// Turns of the fluid needle from shut.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub needle_turns: Option<f64>,
    /// Where the air was read, in words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub air_at: Option<String>,
    /// How it was read, in words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub air_how: Option<String>,
    #[serde(default)]
    pub refine_turns: Option<f64>,
    /// Turns of the valves of A and B from shut.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub a_valve_turns: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub b_valve_turns: Option<f64>,
    /// Which streams were looked at, in words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub flowed: Option<String>,
    /// Air at the cap.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cap_kpa: Option<f64>,
    /// What the pump stood at, before the regulator of its fluid.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub supply_kpa: Option<f64>,
    /// Abrasive paper its texture looked like.
    #[serde(default)]
    pub texture_grit: Option<f64>,
    /// What the transmitters read then.
    #[serde(default)]
    pub gauge_pot_kpa: Option<f64>,
    #[serde(default)]
    pub gauge_gun_kpa: Option<f64>,
    /// Hash of the picture of the pattern.
    #[serde(default)]
    pub photo_sha256: Option<String>,
}

/// What the gun delivered.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocFlow {
    pub at: Timestamp,
    pub by: String,
    pub pot_kpa: f64,
    pub flow_ml_min: f64,
}

/// A pair of catches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocCatch {
    pub at: Timestamp,
    pub by: String,
    pub a_g: f64,
    pub b_g: f64,
    pub a_kpa: Option<f64>,
    pub b_kpa: Option<f64>,
    pub time_s: Option<f64>,
    /// The machine's catalyst setting.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting: Option<f64>,
    pub ratio: Option<DocRatio>,
}

/// A whole run.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocRun {
    pub at: Timestamp,
    pub by: String,
    /// Sprayed of each.
    pub a_g: f64,
    pub b_g: f64,
    pub ratio: Option<DocRatio>,
}

/// A bond test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocBond {
    pub at: Timestamp,
    pub by: String,
    pub result: BondResult,
    pub substrate: String,
    pub text: Option<String>,
    pub photo_sha256: Option<String>,
}

/// A deviation with its answer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocDeviation {
    pub code: String,
    pub text: String,
    pub answer: Option<String>,
}

/// A lot taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocLot {
    pub at: Timestamp,
    pub by: String,
    pub component: Component,
    pub code: String,
    /// Why this one, when another was first in.
    pub reason: Option<String>,
    #[serde(rename = "stand")]
    pub known: Option<LotKnown>,
}

/// An item of the lists ticked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocCheck {
    pub at: Timestamp,
    pub by: String,
    pub item: String,
    pub text: String,
    pub did: Did,
    pub read_um: Option<f64>,
    pub remark: Option<String>,
    /// Hash of the photo.
    pub photo: Option<String>,
}

/// A hold released.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocRelease {
    pub at: Timestamp,
    pub by: String,
    pub gate: GateName,
    /// Which trouble of that gate.
    #[serde(default)]
    pub item: Option<String>,
    pub reason: String,
}

/// A line of the log, struck ones included.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocLine {
    pub seq: i64,
    pub at: Timestamp,
    pub by: String,
    pub kind: super::EntryKind,
    pub text: String,
    pub struck: Option<String>,
}
