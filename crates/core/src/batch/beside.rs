//! What the shop knows beside the book of a batch, and the recoat windows that follow from both.

use crate::atomizing::classes::{ReadAt, ReadHow};
use crate::batch::case::Case;
use crate::batch::diagnosis::{RepairedBy, RigTold, Settled};
use crate::batch::job::JobMate;
use crate::batch::proofs::RigLedger;
use crate::batch::record::Record;
use crate::batch::rig_proposed::RigAtHand;
use crate::batch::stations::StationName;
use crate::batch::stream::SeenBend;
use crate::mixing::Learned;
use crate::recoat::{CoatBeneath, CoatLink, RecoatWindow, SurfaceRange, recoat};
pub use crate::rigs::Exchanged;
use crate::stores::LotKnown;
use crate::worded::VariantArray;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// The window of the coat beneath, by the surface temperatures known since it ended: those kept beside it, and those read in
/// this book. A signed coat goes on being judged while the next one waits. `None` without such a coat, or while it is not
/// sprayed.
pub fn window_beneath(case: &Case<'_>) -> Option<RecoatWindow> {
    let beneath = case.beside.beneath.as_ref()?;
    let ended = beneath.ended?;
    let kept = beneath.surface.into_iter().flat_map(|s| [s.coldest_c, s.hottest_c]);
    let read = case.conditions.iter().filter(|c| c.at > ended).map(|c| c.it.surface_c);
    Some(beneath.times.window(ended, SurfaceRange::of(kept.chain(read))))
}

/// What stands beside the book of a batch, by what it takes to know it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[derive(strum::VariantArray)]
pub enum Neighbour {
    /// The coat beneath, with the window to this one.
    Beneath,
    /// What the stores know of the lots in use.
    Lots,
    /// What was exchanged on its rig.
    Rig,
    /// What every station shows: the coat that follows, what people called a bend.
    Shown,
    /// For Mix: what such coats took, where a remainder may go.
    Mix,
    /// For Set: good set-ups, and the rigs at hand where it has none.
    Set,
    /// For Prove: the ledger of its rig and product.
    Ledger,
    /// For Spray: air and surface by the probes over the last hour.
    Weather,
    /// For the cause of a defect: the book of its rig, what the shop settled before, what mends it.
    Defects,
}

impl Neighbour {
    /// Those that gates ask.
    pub const OF_THE_GATES: &'static [Neighbour] = &[Neighbour::Beneath, Neighbour::Lots, Neighbour::Rig];

    /// Those that the head of every view and a row of the board ask.
    pub const OF_THE_HEAD: &'static [Neighbour] = &[Neighbour::Beneath, Neighbour::Lots, Neighbour::Rig, Neighbour::Shown];

    /// Those the causes of a defect ask.
    pub const OF_A_DEFECT: &'static [Neighbour] =
        &[Neighbour::Beneath, Neighbour::Lots, Neighbour::Rig, Neighbour::Set, Neighbour::Ledger, Neighbour::Defects];

    /// Those a view asks at a station; `None`: at all of them.
    pub fn of_view(at: Option<StationName>) -> &'static [Neighbour] {
        use Neighbour::{Beneath, Ledger, Lots, Mix, Rig, Set, Shown, Weather};
        match at {
            None => Self::VARIANTS,
            Some(StationName::Mix) => &[Beneath, Lots, Rig, Shown, Mix],
            Some(StationName::Set) => &[Beneath, Lots, Rig, Shown, Set],
            Some(StationName::Prove) => &[Beneath, Lots, Rig, Shown, Ledger],
            Some(StationName::Spray) => &[Beneath, Lots, Rig, Shown, Weather],
            Some(StationName::Ready | StationName::Close) => Self::OF_THE_HEAD,
        }
    }
}

/// What the shop knows beside the book of a batch. Given by the server when the record is read, never stored.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Beside {
    /// The coat beneath.
    pub beneath: Option<CoatBeneath>,
    /// The batch of the coat that follows, once begun.
    pub next: Option<CoatLink>,
    /// What the stores know now of the lots in use.
    pub lots: HashMap<Uuid, LotKnown>,
    /// What was exchanged on the rig of this batch, by the rig's own book.
    pub rig_exchanged: Vec<Exchanged>,
    /// The zone the shop works in today, for a book that names none.
    pub zone: Option<String>,
    /// What such coats really took.
    pub learned: Option<Learned>,
    /// Last good set-ups of the same product and rig, newest first.
    pub last_good: Vec<GoodSetUp>,
    /// What people called a bend with this gun, newest first.
    pub bends: Vec<SeenBend>,
    /// Other open batches of the same version of the sheet: a remainder may go to them.
    pub hand_to: Vec<HandTo>,
    /// The shop's rigs in use, where the batch has none: those used last first.
    pub rigs_at_hand: Vec<RigAtHand>,
    /// What the ledger of its rig and product knows from other batches.
    pub ledger: RigLedger,
    /// What the shop measures with.
    pub measures: Measures,
    /// Air and surface by the probes over the last hour, oldest first.
    pub weather: Vec<WeatherRead>,
    /// Every coat of the job it belongs to, in order.
    pub job: Vec<JobMate>,
    /// The book of its rig, as far as it tells of care and tips, oldest first.
    pub rig_told: Vec<RigTold>,
    /// What defects came of in this shop.
    pub settled: Vec<Settled>,
    /// Batches that repair it.
    pub repairs: Vec<RepairedBy>,
}

/// Air and surface at an instant, by the probes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WeatherRead {
    /// When.
    pub at: Timestamp,
    /// Surface above the dew point; none where a probe of the three is missing.
    pub margin_dk: Option<f64>,
    /// Relative humidity.
    pub rh_pct: Option<f64>,
}

/// What the shop measures with, where it has put that down.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Measures {
    /// Teeth of its comb.
    pub comb_um: Option<Vec<f64>>,
    /// Digits of its finest scale.
    pub scale_g: Option<f64>,
    /// Digits of each of its scales.
    pub scales_g: Vec<f64>,
}

impl Beside {
    /// With what only the book knows of its lots: what they belong to, what else is on the part, which was first in.
    pub fn remembering(mut self, record: &Record) -> Beside {
        for taken in record.lots_at(Timestamp::MAX) {
            if let (Some(now), Some(then)) = (self.lots.get_mut(&taken.lot.id), &taken.lot.known) {
                now.belongs_to.clone_from(&then.belongs_to);
                now.on_part.clone_from(&then.on_part);
                now.first.clone_from(&then.first);
            }
        }
        self
    }
}

/// A batch a remainder may go to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct HandTo {
    pub id: Uuid,
    pub label: String,
    /// It is the next coat of the same job.
    #[serde(default)]
    pub next_coat: bool,
}

/// A set-up that was good: what stood at the end of Set in a signed batch.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct GoodSetUp {
    pub number: i64,
    #[serde(default)]
    pub pot_kpa: Option<f64>,
    #[serde(default)]
    pub b_kpa: Option<f64>,
    pub atomizing_kpa: Option<f64>,
    #[serde(default)]
    pub air_at: Option<ReadAt>,
    #[serde(default)]
    pub air_how: Option<ReadHow>,
    #[serde(default)]
    pub catalyst_kpa: Option<f64>,
    #[serde(default)]
    pub fan_turns_count: Option<f64>,
    #[serde(default)]
    pub needle_turns_count: Option<f64>,
    #[serde(default)]
    pub refine_turns_count: Option<f64>,
    #[serde(default)]
    pub a_valve_turns_count: Option<f64>,
    #[serde(default)]
    pub b_valve_turns_count: Option<f64>,
    #[serde(default)]
    pub cap_kpa: Option<f64>,
    #[serde(default)]
    pub supply_kpa: Option<f64>,
    pub stream_mm: Option<f64>,
    pub temp_c: Option<f64>,
    pub nozzle_mm: Option<f64>,
    pub tip_code: Option<String>,
}

/// The window of a batch's own coat, from its last pass; `None` while nothing is sprayed.
pub fn window_of(record: &Record) -> Option<RecoatWindow> {
    let (aim, last) = record.aim().zip(ended(record))?;
    Some(recoat(&aim.sheet, last, surface_since(record)))
}

/// When a batch's coat was on: its last pass.
pub fn ended(record: &Record) -> Option<Timestamp> {
    record.passes.iter().map(|p| p.at).max()
}

/// How cold and how hot the surface was since a batch's coat ended; `None` while nothing is sprayed or read.
pub fn surface_since(record: &Record) -> Option<SurfaceRange> {
    let last = ended(record)?;
    let held = record.conditions_at(last).into_iter();
    let later = record.conditions.iter().filter(|c| c.at > last);
    SurfaceRange::of(held.chain(later).map(|c| c.it.surface_c))
}
