//! What a record means at an instant, for one person: everything the screen draws.

mod mix;
mod next;
mod pots;
mod spray;

pub use mix::{CupMark, MixPot, MixView, PourLine};
pub use next::{Next, Tone, next};
pub use pots::{PotView, pots};
pub use spray::{PassRow, SprayView, Tooth, ZoneFilm};

use super::check::{self, Writer, permitted};
use super::deviations;
use super::holds::{self, Hold};
use super::log::{self, LogLine};
use super::payload::{Payload, Sign};
use super::record::{Deviation, Record, Signature};
use super::stations::{self, Station};
use super::{Kind as EntryKind, payload};
use crate::conditions;
use crate::delivery::{Stream, judge_stream};
use crate::quantity::{Kind, Prefs, Shown, show};
use crate::sheets::{ChargeKind, Hazard};
use crate::verdict::Level;
use crate::working::Working;
use crate::{mixing, ratio_check};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Who looks, and with what at hand.
#[derive(Debug, Clone)]
pub struct Viewer {
    /// Who they are and how they read.
    pub writer: Writer,
    /// Teeth of the shop's comb.
    pub comb_um: Vec<f64>,
}

/// A caution at the top of a station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Caution {
    /// Which hazard.
    pub hazard: Hazard,
    /// Its name.
    pub name: String,
    /// The guard.
    pub text: String,
    /// Ticked.
    pub met: bool,
}

/// The Ready station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ReadyView {
    /// Levels of the last reading.
    pub levels: Vec<Level>,
    /// Go, hold, stop, or not read.
    pub gate: Option<conditions::Gate>,
    pub working: Option<Working>,
    pub read_at: Option<Timestamp>,
    pub air: Option<Shown>,
    pub surface: Option<Shown>,
    pub material: Option<Shown>,
    pub humidity: Option<Shown>,
    pub dew_point: Option<Shown>,
}

/// One try of the Set station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Try {
    pub entry: Uuid,
    pub pot: Shown,
    pub atomizing: Option<Shown>,
    pub stream: Option<Shown>,
    pub word: String,
}

/// The Set station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SetView {
    /// Tries, oldest first.
    pub tries: Vec<Try>,
    /// The last stream seen.
    pub stream: Option<Stream>,
    /// The school's band, in words.
    pub school: String,
}

/// One proof: a pot as weighed, or a pair of catches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Proof {
    pub title: String,
    pub level: Level,
    pub working: Working,
}

/// The Prove station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ProveView {
    /// Every proof, newest first.
    pub proofs: Vec<Proof>,
    /// Catches are what proves this product.
    pub by_catch: bool,
}

/// The Close station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CloseView {
    pub deviations: Vec<Deviation>,
    pub signature: Option<Signature>,
    pub acceptance: Option<Signature>,
    /// Why this person cannot sign now; missing: they can.
    pub cannot_sign: Option<String>,
    /// Why this person cannot accept now.
    pub cannot_accept: Option<String>,
    pub can_reopen: bool,
}

/// A batch as one person sees it at an instant.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct BatchView {
    pub id: Uuid,
    pub number: i64,
    pub title: String,
    pub subtitle: String,
    /// Short: part · coat.
    pub label: String,
    pub product: String,
    pub as_of: Timestamp,
    pub head_seq: i64,
    pub head_hash: String,
    pub stations: Vec<Station>,
    /// The station that wants hands, 1 to 6.
    pub hands_at: u8,
    pub holds: Vec<Hold>,
    /// This person may release holds.
    pub can_release: bool,
    pub cautions: Vec<Caution>,
    pub ready: ReadyView,
    pub mix: MixView,
    pub set: SetView,
    pub prove: ProveView,
    pub spray: SprayView,
    pub close: CloseView,
    pub pots: Vec<PotView>,
    pub next: Vec<Next>,
    pub log: Vec<LogLine>,
    pub zones: Vec<payload::Zone>,
    /// Level of the last ratio, for lists.
    pub ratio_level: Option<Level>,
    /// Level of the last film, for lists.
    pub film_level: Option<Level>,
    pub hardened: bool,
    pub at_gun: bool,
    /// Shown need and film, for the facts line.
    pub need: Shown,
    pub wet: Shown,
}

/// The view of a begun batch; `None` before its first entry.
pub fn view(id: Uuid, record: &Record, viewer: &Viewer, now: Timestamp) -> Option<BatchView> {
    let prefs = viewer.writer.prefs;
    let aim = record.aim()?;
    let holds = holds::all(record, now, prefs);
    let stations = stations::stations(record, &holds, now, prefs);
    let prove = prove(record, prefs);
    let spray = spray::spray(record, viewer, now);
    let say = |v: f64, k: Kind| show(v, k, prefs);
    let need = say(crate::film::need_ml(aim.area_m2, aim.wet_um, aim.transfer_pct), Kind::Volume);
    let wet = say(aim.wet_um, Kind::Film);
    let pots = pots(id, record, now, prefs);
    Some(BatchView {
        id,
        number: aim.number,
        title: format!("{} · {}", aim.part_name, aim.coat_name),
        subtitle: format!(
            "{}, {} · {} · {} wet · batch {:04}",
            aim.sheet.name,
            aim.sheet.ratio_words(prefs),
            say(aim.area_m2, Kind::Area).text,
            wet.text,
            aim.number
        ),
        label: format!("{} · {}", aim.part_label, aim.coat_name),
        product: aim.sheet.label.clone(),
        as_of: now,
        head_seq: record.head_seq,
        head_hash: record.head_hash.clone(),
        hands_at: hands_at(&stations),
        stations,
        can_release: crate::people::may(viewer.writer.role, EntryKind::Release) == crate::people::May::Yes,
        cautions: cautions(record),
        ready: ready(record, prefs),
        mix: mix::mix(record, prefs),
        set: set(record, prefs),
        close: close(record, viewer, now),
        next: next(id, record, &holds, now, prefs),
        log: log::lines(record, prefs),
        zones: aim.zones.clone(),
        ratio_level: prove.proofs.first().map(|p| p.level.clone()),
        film_level: spray.total.clone(),
        hardened: aim.sheet.has_hardener,
        at_gun: aim.sheet.charge == ChargeKind::AtGun,
        holds,
        prove,
        spray,
        pots,
        need,
        wet,
    })
}

/// The first station, in order, that is not finished and stands worst.
fn hands_at(stations: &[Station]) -> u8 {
    use stations::Stand::{Hold, InWork, NotReached, Stop};
    [Stop, Hold, InWork, NotReached].into_iter().find_map(|stand| stations.iter().find(|s| s.stand == stand)).map_or(6, |s| s.no)
}

fn cautions(record: &Record) -> Vec<Caution> {
    let hazards = record.aim().map(|b| b.sheet.hazards.clone()).unwrap_or_default();
    hazards
        .into_iter()
        .map(|hazard| {
            let (name, text) = hazard.caution();
            Caution { hazard, name: name.into(), text: text.into(), met: record.guards.contains(&hazard) }
        })
        .collect()
}

fn ready(record: &Record, prefs: Prefs) -> ReadyView {
    let last = record.conditions.iter().max_by_key(|c| (c.at, c.seq));
    let judged = record.aim().zip(last).map(|(aim, read)| conditions::judge(&aim.sheet, &read.it, prefs));
    let temp = |f: fn(&conditions::Readings) -> f64| last.map(|r| show(f(&r.it), Kind::Temperature, prefs));
    ReadyView {
        gate: judged.as_ref().map(|j| j.gate),
        working: judged.as_ref().map(|j| j.working.clone()),
        levels: judged.map(|j| j.levels).unwrap_or_default(),
        read_at: last.map(|r| r.at),
        air: temp(|r| r.air_c),
        surface: temp(|r| r.surface_c),
        material: temp(|r| r.material_c),
        humidity: last.map(|r| show(r.it.rh_pct, Kind::Percent, prefs)),
        dew_point: temp(|r| conditions::dew_point_c(r.air_c, r.rh_pct)),
    }
}

fn set(record: &Record, prefs: Prefs) -> SetView {
    let Some(aim) = record.aim() else { return SetView { tries: Vec::new(), stream: None, school: String::new() } };
    let (lo, hi) = aim.sheet.stream.band_mm();
    let tries = record
        .set_ups
        .iter()
        .map(|s| Try {
            entry: s.entry,
            pot: show(s.it.pot_kpa, Kind::Pressure, prefs),
            atomizing: s.it.atomizing_kpa.map(|p| show(p, Kind::Pressure, prefs)),
            stream: s.it.stream_mm.map(|mm| show(mm, Kind::Length, prefs)),
            word: s.it.stream_mm.map_or(String::new(), |mm| judge_stream(aim.sheet.stream, mm, prefs).level.word),
        })
        .collect();
    SetView {
        tries,
        stream: record.set_ups.last().and_then(|s| s.it.stream_mm).map(|mm| judge_stream(aim.sheet.stream, mm, prefs)),
        school: format!("{} to {}", show(lo, Kind::Length, prefs).figure, show(hi, Kind::Length, prefs).text),
    }
}

fn prove(record: &Record, prefs: Prefs) -> ProveView {
    let Some(aim) = record.aim() else { return ProveView { proofs: Vec::new(), by_catch: false } };
    let draw = |said: mixing::Said| Level::draw("Ratio", said.measured, said.tolerance, 1.0, said.kind, prefs);
    let mut proofs = Vec::new();
    for catch in record.catches.iter().rev() {
        if let Some((said, working)) = ratio_check::judge(&aim.sheet, catch.it.a_g, catch.it.b_g, catch.it.resolution_g, prefs) {
            proofs.push(Proof { title: format!("Caught by {}", catch.by), level: draw(said), working });
        }
    }
    for charge in record.charges.iter().rev() {
        if let Some((said, working)) = mix::ratio(&aim.sheet, charge, prefs) {
            proofs.push(Proof { title: format!("Pot {} as weighed", charge.no), level: draw(said), working });
        }
    }
    ProveView { proofs, by_catch: aim.sheet.charge == ChargeKind::AtGun }
}

fn close(record: &Record, viewer: &Viewer, now: Timestamp) -> CloseView {
    let w = &viewer.writer;
    let sign = Payload::Sign(Sign { seen_seq: record.head_seq });
    let cannot_sign = match &record.signature {
        Some(_) => Some("The work is signed.".to_string()),
        None => permitted(record, EntryKind::Sign, &sign, w)
            .and_then(|()| check::may_sign(record, record.head_seq, now, w.prefs))
            .err()
            .map(|r| r.text),
    };
    let cannot_accept = match (&record.signature, &record.acceptance) {
        (_, Some(_)) => Some("The card is closed.".to_string()),
        (None, _) => Some("The work is not signed yet.".to_string()),
        (Some(_), None) => permitted(record, EntryKind::Accept, &sign, w).err().map(|r| r.text),
    };
    CloseView {
        deviations: deviations::find(record, w.prefs),
        signature: record.signature.clone(),
        acceptance: record.acceptance.clone(),
        cannot_sign,
        cannot_accept,
        can_reopen: record.signature.is_some() && permitted(record, EntryKind::Reopen, &sign, w).is_ok(),
    }
}
