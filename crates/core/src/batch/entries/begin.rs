//! A batch is begun: everything the fold will need, so that the book stands alone.

use super::{Asked, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::job::{JobCoat, Pieces};
use crate::batch::record::Record;
use crate::coat_system::Method;
use crate::diagnosis::Symptom;
use crate::lists::{ChecklistItem, Substrate};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::sheets::Sheet;
use crate::takeoff::{Shape, TakeOffShape};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A zone of a part, named, with its area and its place in the order of the work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Zone {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Its area; zero in books written before zones had one, until they are added up.
    #[serde(default)]
    pub area_m2: f64,
    /// Nobody measured it: it is an equal share of what is left of the whole.
    #[serde(default)]
    pub area_assumed: bool,
    /// Its place in the order of the work, from 1; zero in books written before zones had one.
    #[serde(default)]
    pub place: u32,
    /// What it is drawn as: a shape its area was taken off from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shape: Option<Shape>,
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
    pub takeoff: Vec<TakeOffShape>,
    /// The Ready items that apply, as the lists stood then.
    #[serde(default)]
    pub items: Vec<ChecklistItem>,
    /// The version of the rules it was begun under ([`crate::batch::RULES`]); missing: begun before they had one.
    #[serde(default)]
    pub rules: i32,
    /// One person worked in the shop then: the lists are cut to what can spoil or hurt, a lot the stores do not know is noted, and
    /// one signature closes the card.
    #[serde(default)]
    pub alone: bool,
    /// Which coat of a job it is; missing: a batch of its own.
    #[serde(default)]
    pub job: Option<JobCoat>,
    /// Pieces and sides, where the part is done piece by piece.
    #[serde(default)]
    pub pieces: Option<Pieces>,
    /// The zone the shop works in, for what is of another shop day.
    #[serde(default)]
    pub zone: Option<String>,
    /// The defect of another batch that it repairs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub repairs: Option<Repairs>,
}

/// The defect a batch repairs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Repairs {
    /// The batch it was seen in.
    pub batch: Uuid,
    /// Its number.
    pub number: i64,
    /// The entry of the defect.
    pub defect: Uuid,
    /// What was seen.
    pub symptom: Symptom,
}

impl Statement for Begin {
    const WRITTEN_INSIDE: Option<&'static str> = Some("A batch is begun by a request of its own: nothing is pinned by hand.");
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;
    const STRIKABLE: bool = false;

    // What is wanted was checked against its sheet before the server pinned it here: `crate::batch::begin`.
    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    // A book written before zones had areas is read with equal shares of the whole, marked as assumed.
    fn apply(mut self, record: &mut Record, entry: &Entry) {
        let share_m2 = self.area_m2 / self.zones.len().max(1) as f64;
        for (place, zone) in (1..).zip(&mut self.zones) {
            if zone.place == 0 {
                (zone.area_m2, zone.area_assumed, zone.place) = (share_m2, true, place);
            }
        }
        record.begin = Some(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let wet = || format!("{} wet", told.say(self.wet_um, QuantityKind::Film));
        let film = self.dry_um.map_or_else(wet, |um| format!("{} dry", told.say(um, QuantityKind::Film)));
        let area = told.say(self.area_m2, QuantityKind::Area);
        let job = self.job.map_or(String::new(), |job| format!(", {}", job.words()));
        let repairs = self.repairs.as_ref();
        let repairs = repairs.map_or(String::new(), |r| format!(", repairs {} of batch {:04}", r.symptom.word(), r.number));
        format!("Begun: {} {}{job}, {area}, {film}{repairs}", self.part_label, self.coat_name)
    }
}
