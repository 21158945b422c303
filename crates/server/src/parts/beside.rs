//! What the shop knows beside the books of batches, read with one statement.

use crate::problem::Problem;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use level_keel_core::batch::beside::{Beside, Exchanged, HandTo, Measures, Neighbour};
use level_keel_core::batch::proofs::RigLedger;
use level_keel_core::book::LedgerKind;
use level_keel_core::mixing::{LEARN_NEWEST, Learned};
use level_keel_core::recoat::{CoatBeneath, CoatLink, PairTimes, RecoatTimes, SurfaceRange};
use level_keel_core::rig_book::{RigEntry, RigEntryKind};
use level_keel_core::sheets::Sheet;
use level_keel_core::shop::Shop;
use level_keel_core::stores::{LotKnown, good_until};
use level_keel_core::worded::VariantArray;
use serde::Deserialize;
use serde::de::DeserializeOwned;
use serde_json::Value;
use sqlx::PgConnection;
use uuid::Uuid;

/// Last good set-ups looked back to.
const GOOD_SET_UPS: i64 = 5;

/// Bends looked back to.
const BENDS: i64 = 20;
/// Batches a remainder may go to that are offered.
const HANDED: i64 = 12;

/// What the shop knows beside each of these batches, asked in one go: the coat beneath and the one that follows, what such
/// coats really took, what was good of Set, what people called a bend, where a remainder may go.
///
/// The coat beneath is the newest earlier batch of an earlier coat of the same part; the one that follows the oldest later
/// batch of a later coat. Learned goes by product, method and kind of part, and by rig once one is chosen; good set-ups by
/// product and rig; bends by gun: the newest few of each.
///
/// `batches`: these; `None`: every one that is not accepted, the newest first. Of the neighbours only `needs` are looked for.
/// Of `shop` come the zone it works in, for a book that names none, and its own interval between two checks.
pub async fn beside(
    tx: &mut PgConnection,
    shop: &Shop,
    batches: Option<&[Uuid]>,
    needs: &[Neighbour],
) -> Result<Vec<Opened>, Problem> {
    // The weather is not kept beside a batch: `weather::weather` reads it; what defects ask `diagnosis::store` does.
    let [beneath, lots, rig, shown, mix, set, ledger, _weather, _defects] = Neighbour::VARIANTS else {
        return Err(Problem::Fault("another neighbour".into()));
    };
    let wants = |one: &Neighbour| needs.contains(one);
    let rows = sqlx::query_file_as!(
        Row,
        "src/parts/beside.sql",
        batches as Option<&[Uuid]>,
        LEARN_NEWEST as i64,
        GOOD_SET_UPS,
        BENDS,
        HANDED,
        wants(beneath),
        wants(lots),
        wants(rig),
        wants(shown),
        wants(mix),
        wants(set),
        wants(ledger)
    )
    .fetch_all(tx)
    .await?;
    let zone = TimeZone::get(&shop.zone).unwrap_or(TimeZone::UTC);
    rows.into_iter().map(|row| row.opened(shop, &zone)).collect()
}

/// A row of it.
struct Row {
    id: Uuid,
    head_seq: i64,
    comb_um: Option<Vec<f64>>,
    scales_g: Option<Vec<f64>>,
    lots: Option<Value>,
    beneath: Option<Uuid>,
    beneath_number: Option<i64>,
    beneath_coat: Option<String>,
    beneath_product: Option<String>,
    ended: Option<jiff_sqlx::Timestamp>,
    beneath_sheet: Option<Value>,
    coldest_c: Option<f64>,
    hottest_c: Option<f64>,
    since_coldest_c: Option<f64>,
    since_hottest_c: Option<f64>,
    pair: Option<Value>,
    exchanged: Option<Value>,
    next: Option<Uuid>,
    next_number: Option<i64>,
    next_coat: Option<String>,
    next_product: Option<String>,
    took: Option<Value>,
    good: Option<Value>,
    bends: Option<Value>,
    hand_to: Option<Value>,
    rigs_at_hand: Option<Value>,
    job: Option<Value>,
    ledger: Option<Value>,
}

impl Row {
    fn opened(self, shop: &Shop, zone: &TimeZone) -> Result<Opened, Problem> {
        let pair: Option<PairTimes> = self.pair.and_then(|body| serde_json::from_value(body).ok());
        // The surface while its own book was open, and by every book of the part since.
        let read = [self.coldest_c, self.hottest_c, self.since_coldest_c, self.since_hottest_c];
        let surface = SurfaceRange::of(read.into_iter().flatten());
        let sheet: Option<Sheet> = self.beneath_sheet.and_then(|body| serde_json::from_value(body).ok());
        let times = match (&pair, &sheet) {
            (Some(pair), _) => pair.times(),
            (None, Some(sheet)) => RecoatTimes::of_sheet(sheet),
            (None, None) => RecoatTimes::default(),
        };
        let (ended, prepare) = (self.ended.map(|t| t.to_jiff()), pair.and_then(|p| p.prepare));
        let beneath = link(self.beneath, self.beneath_number, self.beneath_coat, self.beneath_product);
        let ledger: RigLedger = self.ledger.map(serde_json::from_value).transpose()?.unwrap_or_default();
        let beside = Beside {
            beneath: beneath.map(|link| CoatBeneath { link, ended, times, surface, prepare }),
            next: link(self.next, self.next_number, self.next_coat, self.next_product),
            zone: Some(shop.zone.clone()),
            rig_exchanged: listed::<RigWritten>(self.exchanged)?.into_iter().filter_map(RigWritten::exchanged).collect(),
            learned: Learned::of(listed(self.took)?),
            last_good: listed(self.good)?,
            bends: listed(self.bends)?,
            lots: listed::<LotNow>(self.lots)?.into_iter().map(|l| l.known(zone)).collect(),
            hand_to: listed::<Open>(self.hand_to)?.into_iter().map(Open::offered).collect(),
            rigs_at_hand: listed(self.rigs_at_hand)?,
            weather: Vec::new(),
            job: listed(self.job)?,
            rig_told: Vec::new(),
            settled: Vec::new(),
            repairs: Vec::new(),
            measures: Measures {
                comb_um: self.comb_um,
                scale_g: self.scales_g.as_ref().and_then(|all| all.first().copied()),
                scales_g: self.scales_g.unwrap_or_default(),
            },
            ledger: RigLedger { shop_s: shop.check_every_s, ..ledger },
        };
        Ok(Opened { id: self.id, head_seq: self.head_seq, beside })
    }
}

fn link(batch: Option<Uuid>, number: Option<i64>, coat: Option<String>, product: Option<String>) -> Option<CoatLink> {
    Some(CoatLink { batch: batch?, number: number?, coat: coat?, product: product? })
}

/// A batch as it is opened: its head, and what stands beside it.
pub struct Opened {
    /// Which.
    pub id: Uuid,
    /// Sequence of its head.
    pub head_seq: i64,
    /// What stands beside it.
    pub beside: Beside,
}

/// A lot in use, as the stores know it.
#[derive(Deserialize)]
struct LotNow {
    id: Uuid,
    received: bool,
    colour: Option<String>,
    expires: Option<Date>,
    quarantined: Option<String>,
    damaged: Option<String>,
    certified: bool,
    left_g: Option<f64>,
}

impl LotNow {
    fn known(self, zone: &TimeZone) -> (Uuid, LotKnown) {
        let known = LotKnown {
            received: self.received,
            colour: self.colour,
            expires_at: self.expires.and_then(|d| good_until(d, zone)),
            quarantined: self.quarantined,
            damaged: self.damaged,
            certified: self.certified,
            left_g: self.left_g,
            ..LotKnown::default()
        };
        (self.id, known)
    }
}

/// An entry of the rig's book.
#[derive(Deserialize)]
struct RigWritten {
    kind: String,
    version: i32,
    payload: Value,
    at: Timestamp,
}

impl RigWritten {
    /// What it exchanged in the way of the paint, if it did.
    fn exchanged(self) -> Option<Exchanged> {
        let entry = RigEntry::decode(RigEntryKind::from_name(&self.kind)?, self.version, &self.payload).ok()?;
        Some(Exchanged { at: self.at, what: entry.exchanged()? })
    }
}

/// An open batch, as it is offered.
#[derive(Deserialize)]
struct Open {
    id: Uuid,
    number: i64,
    label: String,
    next_coat: bool,
}

impl Open {
    fn offered(self) -> HandTo {
        HandTo { id: self.id, label: format!("{:04} {}", self.number, self.label), next_coat: self.next_coat }
    }
}

/// What a list of the database says; nothing where there is none.
fn listed<T: DeserializeOwned>(rows: Option<Value>) -> Result<Vec<T>, Problem> {
    Ok(rows.map(serde_json::from_value).transpose()?.unwrap_or_default())
}
