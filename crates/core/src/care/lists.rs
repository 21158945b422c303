//! What is done for a rig when it is new, at every use, each day and each week, and when it is due again.
//!
//! **Source:** common practice in the trade. The whole gun is never soaked.

use crate::rigs::{Rig, RigKind};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How often.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum CareList {
    /// Once, before its first paint.
    #[strum(serialize = "New rig")]
    New,
    /// At every use.
    #[strum(serialize = "At every use")]
    EachUse,
    /// Each day it is used.
    #[strum(serialize = "Each day")]
    Daily,
    /// Each week.
    #[strum(serialize = "Each week")]
    Weekly,
}

impl Worded for CareList {}

impl CareList {
    /// Seconds after which it is due again; `None`: it goes by use, or is done once.
    ///
    /// **Rule:** a day; seven days. **Units:** s. **Source:** common practice in the trade.
    ///
    /// ```
    /// use level_keel_core::care::CareList;
    /// assert_eq!(CareList::Weekly.due_after_s(), Some(604_800.0));
    /// assert_eq!(CareList::EachUse.due_after_s(), None);
    /// ```
    pub fn due_after_s(self) -> Option<f64> {
        match self {
            CareList::New | CareList::EachUse => None,
            CareList::Daily => Some(86_400.0),
            CareList::Weekly => Some(7.0 * 86_400.0),
        }
    }
}

/// An item of a list.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct CareItem {
    /// Its name on the wire, and in the book for ever.
    pub id: &'static str,
    /// Its list.
    pub list: CareList,
    /// What is done.
    pub word: &'static str,
    /// Something comes off: never under pressure.
    pub opens: bool,
}

const fn item_of(id: &'static str, list: CareList, word: &'static str, opens: bool) -> CareItem {
    CareItem { id, list, word, opens }
}

const NEW: CareItem =
    item_of("flushed_new", CareList::New, "Flushed with solvent before its first paint; the oil it was kept with is out", false);
const ALL: [CareItem; 8] = [
    item_of("screens", CareList::EachUse, "Screens of gun and tip cleaned", true),
    item_of("cap", CareList::EachUse, "Cap wiped, its holes clear; no wire", true),
    item_of("traps", CareList::Daily, "Water traps at supply and gun drained", false),
    item_of("cap_daily", CareList::Daily, "Cap off, brushed, wiped, put straight back; the gun is never soaked whole", true),
    item_of("strip", CareList::Weekly, "Gun stripped, cleaned, looked over, oiled: nozzle first", true),
    item_of("needle", CareList::Weekly, "Needle stop set at full trigger", false),
    item_of("hose", CareList::Weekly, "Hose looked over whole: no kink, no cut, ends sound", false),
    item_of("gauge", CareList::Weekly, "Gauge rests at zero when vented; relief ring lifts", false),
];
/// Paint of one can may stay in pot and hose, for a week.
const STAYS: CareItem = item_of("flushed_week", CareList::Weekly, "Flushed, where paint of one can stays in pot and hose", false);
const GASKET: CareItem = item_of("gasket", CareList::Weekly, "A spare gasket for the lid in stock", false);

/// The items for a rig.
pub fn items(rig: &Rig) -> Vec<CareItem> {
    let mut all = vec![NEW];
    all.extend(ALL.iter().copied().filter(|i| rig.kind != RigKind::GunCup || !matches!(i.id, "hose" | "gauge")));
    if rig.kind.has_hose() {
        all.push(STAYS);
    }
    if rig.kind.has_vessel() {
        all.push(GASKET);
    }
    all
}

/// An item of a rig by its name.
pub fn item(rig: &Rig, id: &str) -> Option<CareItem> {
    items(rig).into_iter().find(|i| i.id == id)
}

/// What is looked at before any pressure, in order, by kind of rig.
pub fn looked_at(kind: RigKind) -> &'static [(&'static str, &'static str)] {
    match kind {
        RigKind::Pot | RigKind::TwinPots => &[
            ("backed_off", "All regulators backed off before the air goes on"),
            ("gauge", "Gauge looked at first: a pot can hold pressure with its hose off"),
            ("hose_laid", "Hoses laid out: no kink, no cut, their ends tight"),
            ("up_slowly", "Pot up slowly; listen for leaks"),
            ("prime", "Atomizing air off. Trigger into a bonded pail until air and solvent are out"),
            ("vent_back", "More to prime is fine; then back off and vent, or nothing falls"),
            ("full_trigger", "Full trigger, atomizing air off: now the stream"),
        ],
        RigKind::Pump | RigKind::Airless | RigKind::GelCoatMachine => &[
            ("lock", "Trigger lock on while anything is fitted"),
            ("backed_off", "Pump regulator backed off before air or power goes on"),
            ("gauge", "Gauge looked at first"),
            ("hose_laid", "Hoses laid out: no kink, no cut, their ends tight"),
            ("up_slowly", "Pressure up slowly from nothing; listen for leaks. No hand before the tip"),
            ("prime", "Trigger into a bonded pail until air and solvent are out"),
        ],
        RigKind::GunCup => {
            &[("backed_off", "Regulator backed off before the air goes on"), ("cup", "Cup seated, its vent hole clear")]
        }
    }
}

/// An item as it stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CareItemView {
    pub id: String,
    pub word: String,
    /// When and by whom it was done last.
    pub done_at: Option<jiff::Timestamp>,
    pub done_by: Option<String>,
    pub due: bool,
    /// Why it may not be ticked now.
    pub held: Option<String>,
}
