//! The end of a day: what may not stay over night as it is, which rigs are to be shut down and cared for, what was thrown away.

use crate::batch::view::{Next, PotView, Tone, Vessel, Waits};
use crate::care::{CareList, CareView, StepIs};
use crate::pot_life::PotState;
use crate::quantity::{Prefs, QuantityKind, show};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A rig that is in use.
#[derive(Debug, Clone)]
pub struct RigTonight {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// How it stands.
    pub care: CareView,
    /// A batch put it under pressure today.
    pub used_today: bool,
    /// The batch that put it under pressure last.
    pub batch: Option<Uuid>,
    /// A batch has paint in work for it: it is shut down when that is over.
    pub in_work: bool,
}

/// What was thrown away of a product today.
#[derive(Debug, Clone, PartialEq)]
pub struct WasteOf {
    /// The product.
    pub product: String,
    /// How often.
    pub times: i64,
    /// Of these, weighed.
    pub weighed: i64,
    /// In all.
    pub waste_ml: f64,
    /// What was weighed of it.
    pub waste_g: Option<f64>,
    /// What it cost; none where a sheet states no price.
    pub cost_minor: Option<f64>,
}

/// A line of the list.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DayEndItem {
    pub what: String,
    pub why: String,
    /// The part or the rig it is of.
    pub of: String,
    /// Done: it stands at the end, ticked.
    pub done: bool,
    pub tone: Tone,
    /// The batch that answers it, and at which station.
    pub batch: Option<Uuid>,
    pub station: u8,
    /// The rig that answers it.
    pub rig: Option<Uuid>,
    /// It is of the care of that rig, and not of its shut-down.
    pub is_care: bool,
}

/// What was thrown away of a product, for people.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct WasteLine {
    pub product: String,
    pub volume: String,
    pub mass: Option<String>,
    /// In the shop's money.
    pub cost: Option<String>,
    pub line: String,
}

/// The end of a day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DayEnd {
    /// What is left to do first, then what is done.
    pub items: Vec<DayEndItem>,
    /// So many are left to do.
    pub left: usize,
    pub waste: Vec<WasteLine>,
    /// What the waste of the day cost, where every sheet states a price.
    pub cost: Option<String>,
    /// What no book knows and nobody may leave undone.
    pub cautions: Vec<String>,
}

/// What no book knows at the end of a day. Source: common practice in the trade; the data sheet and local codes rule.
const CAUTIONS: [&str; 4] = [
    "Solvent rags wetted, lidded and out of the building; none in a heap.",
    "Catches of peroxide and resin apart, never pooled; what heats stands outside, unsealed.",
    "Cans closed and back in their store, peroxide in its own.",
    "Mixed paint left over cures in the open before it is binned; nothing goes down a drain.",
];

fn money(minor: f64) -> String {
    format!("{:.2}", minor / 100.0)
}

/// The list of a day's end: first what is lost or dangerous as it stands, then what is to be cleaned, last what is done.
///
/// **Rule:** everything that *Hands next* counts as a loss, pots that are mixed and not ready yet, rigs under pressure or not shut down
/// to the end since, the care that is due of rigs used today. **Source:** common practice in the trade.
pub fn day_end(next: &[Next], pots: &[PotView], rigs: &[RigTonight], waste: &[WasteOf], now: Timestamp, prefs: Prefs) -> DayEnd {
    let mut items: Vec<DayEndItem> = Vec::new();
    for n in next.iter().filter(|n| n.waits == Waits::Loss) {
        items.push(DayEndItem {
            what: n.text.clone(),
            why: n.why.clone(),
            of: n.part.clone(),
            done: false,
            tone: if n.at <= now { Tone::Urgent } else { n.tone },
            batch: Some(n.batch),
            station: n.station,
            rig: None,
            is_care: false,
        });
    }
    // What dies within its life stands above; one that is stirred or not yet stirred does not, and may not stay either.
    let young = |p: &&PotView| p.vessel == Vessel::Pot && matches!(p.state, PotState::Mixing | PotState::Inducting);
    for pot in pots.iter().filter(young) {
        items.push(DayEndItem {
            what: format!("Use pot {} up, or discard it", pot.no),
            why: format!("{}, {} left; mixed paint does not stay over night", pot.word, pot.left.text),
            of: pot.part.clone(),
            done: false,
            tone: Tone::Watch,
            batch: Some(pot.batch),
            station: 5,
            rig: None,
            is_care: false,
        });
    }
    for rig in rigs.iter().filter(|r| r.used_today || pressing(r).is_some()) {
        items.push(shut_down(rig));
        items.extend(care(rig));
    }
    items.sort_by_key(|i| (i.done, i.tone));
    let left = items.iter().filter(|i| !i.done).count();
    let priced: Option<f64> = waste.iter().map(|w| w.cost_minor).sum();
    let say = |w: &WasteOf| {
        let times = if w.times == 1 { "1 pot".into() } else { format!("{} pots", w.times) };
        let weighed = match w.weighed {
            0 => "not weighed".into(),
            n if n == w.times => "weighed".into(),
            n => format!("{n} of them weighed"),
        };
        WasteLine {
            product: w.product.clone(),
            volume: show(w.waste_ml, QuantityKind::Volume, prefs).text,
            mass: w.waste_g.map(|g| show(g, QuantityKind::Mass, prefs).text),
            cost: w.cost_minor.map(money),
            line: format!("{times}, {weighed}"),
        }
    };
    DayEnd {
        items,
        left,
        waste: waste.iter().map(say).collect(),
        cost: priced.filter(|_| !waste.is_empty()).map(money),
        cautions: CAUTIONS.map(String::from).to_vec(),
    }
}

/// Why it may hold pressure, by its transmitter or by the books; `None`: it does not, or it is a gun with its own cup, which holds none.
fn pressing(rig: &RigTonight) -> Option<&str> {
    let has_gauge = rig.care.steps.iter().any(|s| s.is == StepIs::Zero);
    rig.care.open.as_deref().filter(|_| has_gauge)
}

/// How the shut-down of a rig stands.
fn shut_down(rig: &RigTonight) -> DayEndItem {
    let (done, of) = (rig.care.done, rig.care.steps.len());
    let all = done >= of;
    let next = rig.care.next.as_ref().map_or(String::new(), |next| format!("; next: {next}"));
    let (what, why, tone) = match pressing(rig) {
        Some(_) if rig.in_work => ("Shut down", "in work, under pressure".into(), Tone::Watch),
        Some(held) => ("Shut down", format!("{held} {done} of {of} steps done{next}"), Tone::Urgent),
        None if all => ("Shut down", "every step done".into(), Tone::Quiet),
        None => ("Finish the shut-down", format!("{done} of {of} steps done{next}"), Tone::Watch),
    };
    DayEndItem {
        what: what.into(),
        why,
        of: rig.name.clone(),
        done: all && pressing(rig).is_none(),
        tone,
        batch: rig.batch,
        station: 6,
        rig: Some(rig.id),
        is_care: false,
    }
}

/// The care of a rig that is due after a day's use.
fn care(rig: &RigTonight) -> Option<DayEndItem> {
    if !rig.used_today {
        return None;
    }
    let after_use = |list: CareList| list != CareList::New;
    let due: Vec<&str> = rig
        .care
        .lists
        .iter()
        .filter(|l| after_use(l.list))
        .flat_map(|l| &l.items)
        .filter(|i| i.due)
        .map(|i| i.word.as_str())
        .collect();
    let (what, why) = match due.as_slice() {
        [] => ("Cared for", "nothing of its lists is due".to_string()),
        [first] => ("Care for it", (*first).to_string()),
        [first, rest @ ..] => ("Care for it", format!("{first}; and {} more", rest.len())),
    };
    Some(DayEndItem {
        what: what.into(),
        why,
        of: rig.name.clone(),
        done: due.is_empty(),
        tone: if due.is_empty() { Tone::Quiet } else { Tone::Calm },
        batch: None,
        station: 6,
        rig: Some(rig.id),
        is_care: true,
    })
}

/// What *Hands next* wants of rigs: those whose work is over and that stand under pressure.
pub fn wants(rigs: &[RigTonight], now: Timestamp) -> Vec<Next> {
    let left = rigs.iter().filter(|r| !r.in_work && pressing(r).is_some());
    left.filter_map(|rig| {
        let item = shut_down(rig);
        Some(Next {
            batch: rig.batch?,
            at: now,
            in_s: 0.0,
            text: item.what,
            why: item.why,
            part: rig.name.clone(),
            tone: Tone::Watch,
            waits: Waits::Chore,
            station: 6,
        })
    })
    .collect()
}
