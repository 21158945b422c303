//! What a batch means at an instant, for one person: everything the screen draws.

mod board_row;
mod close;
mod defects;
mod mix;
mod next;
mod plan;
mod prove;
mod rack;
mod ready;
mod set;
mod spray;

pub use board_row::{AirNow, BoardRow, OnBoard, on_board};
pub use close::{
    AcceptView, AreaSeen, CloseView, FoilSeen, GaugeSeen, LookSeen, MethodSeen, NextSpot, ReadSeen, SampleSeen, SpotSeen,
    StageSeen, StagesView,
};
pub use defects::{
    CauseSeen, DefectView, DefectsView, EvidenceSeen, NextLookSeen, RepairSeen, RepairsSeen, SettledSeen, SymptomSeen, defects,
};
pub use mix::{CupLines, CupMark, FillView, LineToFill, MixPot, MixView, PourLine, RescueView, cup_lines};
pub use next::{Next, Tone, Waits, next, order};
pub use plan::{PlanView, PlannedPotView, PotPourView, WayToMix, WhatIf, what_if};
pub use prove::{CatchCup, Proof, ProveView, TwoCups};
pub use rack::{PotView, Vessel, pots};
pub use ready::ReadyView;
pub use set::{
    AskLine, FlowCurve, FlowMark, FlowPoint, GuideStep, LineAsked, Modelled, OtherPiece, PatternView, Preset, PressureShare,
    SetAdvice, SetUpRow, SetView, StepSetting, ask,
};
pub use spray::{
    FilmAgreement, HappenedSeen, NextPassSeen, OtherPot, PaceSeen, PassBoard, PassRow, PatchSeen, SectionsSeen, SprayView, Tooth,
    WaitSeen, ZoneCard, ZoneFilm,
};

use super::case::Case;
use super::deviations;
use super::entries::{Begin, EntryKind, Zone};
use super::gates::{self, Hold};
use super::job::{JobView, job_view};
use super::log_line::{self, LogLine};
use super::record::Deviation;
use super::stations::{self, Station, StationName};
use crate::coat_system::Method;
use crate::people::{May, Writer};
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::sheets::{ChargeKind, Hazard};
use crate::verdict::Level;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::ops::Deref;
use utoipa::ToSchema;
use uuid::Uuid;

/// Who looks, and with what at hand.
#[derive(Debug, Clone)]
pub struct Viewer {
    /// Who they are and how they read.
    pub writer: Writer,
    /// Teeth of the shop's comb.
    pub comb_um: Vec<f64>,
    /// Resolution of the shop's finest scale.
    pub scale_g: f64,
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

/// What every station of a batch shows, as one person sees it at an instant.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Head {
    /// What the line is flushed with, by the sheet.
    pub flush_with: Option<String>,
    pub id: Uuid,
    pub number: i64,
    pub title: String,
    pub subtitle: String,
    /// Short: part · coat.
    pub label: String,
    pub product: String,
    /// The version of the sheet it pinned, to find its lots by.
    pub sheet_version: Uuid,
    pub as_of: Timestamp,
    pub head_seq: i64,
    pub head_hash: String,
    pub stations: Vec<Station>,
    /// The station that wants hands, 1 to 6.
    pub hands_at: u8,
    pub holds: Vec<Hold>,
    /// Facts that broke a rule and that nobody has answered; a signed batch has none.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub to_answer: Vec<Deviation>,
    /// This person may release holds.
    pub can_release: bool,
    pub cautions: Vec<Caution>,
    pub pots: Vec<PotView>,
    pub next: Vec<Next>,
    /// Who is on it.
    #[serde(default)]
    pub on_it: Option<String>,
    /// The reader is.
    #[serde(default)]
    pub mine: bool,
    /// The job it is a coat of.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub job: Option<JobView>,
    pub zones: Vec<Zone>,
    /// Name of the part, for beginning its next coat.
    pub part_name: String,
    pub hardened: bool,
    pub at_gun: bool,
    /// What putting it on is called: sprayed, or coated by hand.
    #[serde(default)]
    pub put_on: PutOnWords,
    /// Shown need and film, for the facts line.
    pub need: Shown,
    pub wet: Shown,
}

/// The words of putting a coat on.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PutOnWords {
    /// By brush or roller.
    pub by_hand: bool,
    pub roller: bool,
    /// “spraying”, “coating”.
    pub doing: String,
    /// “sprayed”, “coated”.
    pub done: String,
}

fn put_on_words(case: &Case<'_>) -> PutOnWords {
    let method = case.aim().and_then(|aim| aim.method);
    let words = case.put_on();
    PutOnWords {
        by_hand: method.is_some_and(|m| !m.sprays()),
        roller: method == Some(Method::Roller),
        doing: words.doing.into(),
        done: words.done.into(),
    }
}

/// A batch with all its stations: what a card keeps.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct WholeView {
    #[serde(flatten)]
    pub head: Head,
    pub ready: ReadyView,
    pub mix: MixView,
    pub set: SetView,
    pub prove: ProveView,
    pub spray: SprayView,
    pub close: CloseView,
    pub log: Vec<LogLine>,
    /// Level of the last ratio.
    pub ratio_level: Option<Level>,
    /// Level of the last film.
    pub film_level: Option<Level>,
}

impl Deref for WholeView {
    type Target = Head;

    fn deref(&self) -> &Head {
        &self.head
    }
}

/// A batch with the stations that were asked for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct BatchView {
    #[serde(flatten)]
    pub head: Head,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ready: Option<ReadyView>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mix: Option<MixView>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub set: Option<SetView>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub prove: Option<ProveView>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spray: Option<SprayView>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub close: Option<CloseView>,
    /// The newest lines of the log; all of them where every station was asked for.
    pub log: Vec<LogLine>,
    /// How many lines the log has.
    pub log_count: usize,
}

/// Lines of the log that stand under every station.
const STRIP_LINES: usize = 3;

/// The view of a begun batch at one station; `None` of a station: at all of them. `None` before its first entry.
pub fn view(id: Uuid, case: &Case<'_>, viewer: &Viewer, now: Timestamp, at: Option<StationName>) -> Option<BatchView> {
    let holds = gates::all(case, now, viewer.writer.prefs);
    let prefs = viewer.writer.prefs;
    let asked = |station| at.is_none_or(|one| one == station);
    let strip = if at.is_some() { STRIP_LINES } else { usize::MAX };
    Some(BatchView {
        ready: asked(StationName::Ready).then(|| ready::ready(case, &holds, now, prefs)),
        mix: asked(StationName::Mix).then(|| mix::mix(case, viewer, now)),
        set: asked(StationName::Set).then(|| set::set(case, viewer, now)),
        prove: asked(StationName::Prove).then(|| prove::prove(case, now, prefs)),
        spray: asked(StationName::Spray).then(|| spray::spray(case, viewer, now)),
        close: asked(StationName::Close).then(|| close::close(case, viewer, now)),
        log: log_line::lines_for(case, &viewer.writer, strip),
        log_count: case.log.len(),
        head: head(id, case, holds, viewer, now)?,
    })
}

/// The view of a begun batch at all its stations; `None` before its first entry.
pub fn whole(id: Uuid, case: &Case<'_>, viewer: &Viewer, now: Timestamp) -> Option<WholeView> {
    let prefs = viewer.writer.prefs;
    let holds = gates::all(case, now, prefs);
    let prove = prove::prove(case, now, prefs);
    let spray = spray::spray(case, viewer, now);
    Some(WholeView {
        ready: ready::ready(case, &holds, now, prefs),
        mix: mix::mix(case, viewer, now),
        set: set::set(case, viewer, now),
        close: close::close(case, viewer, now),
        log: log_line::lines_for(case, &viewer.writer, usize::MAX),
        ratio_level: prove.proofs.first().map(|p| p.level.clone()),
        film_level: spray.total.clone(),
        prove,
        spray,
        head: head(id, case, holds, viewer, now)?,
    })
}

fn head(id: Uuid, case: &Case<'_>, holds: Vec<Hold>, viewer: &Viewer, now: Timestamp) -> Option<Head> {
    let prefs = viewer.writer.prefs;
    let aim = case.aim()?;
    let stations = stations::stations(case, &holds, now, prefs);
    let say = |v: f64, k: QuantityKind| show(v, k, prefs);
    let wet = say(case.wet_aim_um(), QuantityKind::Film);
    let on_it = case.record.on_it();
    Some(Head {
        mine: on_it.is_some_and(|on| on.person == viewer.writer.id),
        on_it: on_it.map(|on| on.name.to_string()),
        job: job_view(case),
        flush_with: aim.sheet.flush_with.clone(),
        id,
        number: aim.number,
        title: format!("{} · {}", aim.part_name, coat_of(aim)),
        subtitle: format!(
            "{}, {} · {} · {} wet · batch {:04}",
            aim.sheet.name,
            aim.sheet.ratio_words(prefs),
            say(aim.area_m2, QuantityKind::Area).text,
            wet.text,
            aim.number
        ),
        label: label(aim),
        product: aim.sheet.label.clone(),
        sheet_version: aim.sheet_version,
        as_of: now,
        head_seq: case.log.head_seq,
        head_hash: case.log.head_hash.clone(),
        hands_at: hands_at(&stations),
        stations,
        can_release: EntryKind::Release.may(viewer.writer.role) == May::Yes,
        cautions: cautions(case),
        next: next(id, case, &holds, now, prefs),
        zones: aim.zones.clone(),
        part_name: aim.part_name.clone(),
        put_on: put_on_words(case),
        hardened: aim.sheet.has_hardener,
        at_gun: aim.sheet.charge == ChargeKind::AtGun,
        pots: pots(id, case, now, prefs),
        holds,
        to_answer: to_answer(case, prefs),
        need: say(case.need_ml(), QuantityKind::Volume),
        wet,
    })
}

/// What the book marks is found when it is added up; its words are made again, in the reader's units, only where there are any.
fn to_answer(case: &Case<'_>, prefs: Prefs) -> Vec<Deviation> {
    let open = |d: &Deviation| d.answer.is_none();
    let any = case.deviations.iter().any(open);
    if any { deviations::find(case, prefs).into_iter().filter(open).collect() } else { Vec::new() }
}

/// Short: part · coat.
fn label(aim: &Begin) -> String {
    format!("{} · {}", aim.part_label, coat_of(aim))
}

/// The coat, and which of a job it is.
fn coat_of(aim: &Begin) -> String {
    aim.job.map_or(aim.coat_name.clone(), |job| format!("{}, {}", aim.coat_name, job.words()))
}

/// The first station, in order, that is not finished and stands worst.
fn hands_at(stations: &[Station]) -> u8 {
    use stations::StationState::{Hold, InWork, NotReached, Stop};
    [Stop, Hold, InWork, NotReached].into_iter().find_map(|state| stations.iter().find(|s| s.state == state)).map_or(6, |s| s.no)
}

fn cautions(case: &Case<'_>) -> Vec<Caution> {
    case.hazards()
        .into_iter()
        .map(|hazard| Caution {
            hazard,
            name: hazard.word().into(),
            text: hazard.guard().into(),
            met: case.guards.contains(&hazard),
        })
        .collect()
}
