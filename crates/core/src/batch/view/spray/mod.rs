//! The Spray station: passes, comb, film wet and dry.

mod agreement;
mod board;
mod film;
mod passes;

pub use agreement::FilmAgreement;
pub use board::{HappenedSeen, NextPassSeen, PaceSeen, PassBoard, PatchSeen, SectionsSeen, WaitSeen, ZoneCard};
pub use film::ZoneFilm;
pub(super) use film::levels;
pub use passes::PassRow;

use super::Viewer;
use crate::batch::beside::HandTo;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::entries::may_spray;
use crate::pot_life::PotState;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::sheets::FilmProof;
use crate::verdict::{Level, Measured, Tolerance, is_under};
use crate::worded::Worded;
use crate::working::Working;
use board::board;
use film::{advice, zones};
use jiff::Timestamp;
use passes::passes;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A tooth of the comb.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Tooth {
    pub tooth_um: f64,
    pub shown: Shown,
}

/// A pot that is neither on the gun nor the next to go on it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct OtherPot {
    pub id: Uuid,
    pub no: i64,
    pub word: String,
    pub left: Shown,
}

/// The Spray station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SprayView {
    /// The charge on the gun.
    pub charge: Option<Uuid>,
    pub pot: Option<i64>,
    /// A pot that may be started, or the reason it may not.
    pub start: Option<Uuid>,
    pub start_pot: Option<i64>,
    pub cannot_start: Option<String>,
    /// Open pots beside these two: a spent one can be discarded from here.
    pub others: Vec<OtherPot>,
    pub passes: Vec<PassRow>,
    pub last_pass: Option<Timestamp>,
    pub zones: Vec<ZoneFilm>,
    pub teeth: Vec<Tooth>,
    /// Index of the tooth nearest the aim: the comb shows ten around it.
    pub aim_at: usize,
    pub this_pass: Option<Level>,
    pub total: Option<Level>,
    pub dry: Option<Level>,
    pub working: Option<Working>,
    pub advice: String,
    /// What proves the film of this batch.
    pub proof: FilmProof,
    /// The film as it was looked at last, where the eye proves it: right or not.
    pub looked: Option<bool>,
    /// The steps of this coat, as its sheet names them.
    #[serde(default)]
    pub steps: Vec<String>,
    /// The step the next pass is of, as far as the sheet counts passes.
    #[serde(default)]
    pub step_at_hand: Option<String>,
    /// What is on so far of the least the sheet wants, where it states the most area of a litre.
    #[serde(default)]
    pub covered: Option<Level>,
    /// The paint of a pass may be said by how long the trigger was pulled: the flow is planned.
    #[serde(default)]
    pub by_time: bool,
    /// A pass and a reading name their zone: the part has several.
    pub asks_zone: bool,
    /// The pass board; a card kept before there was one has none.
    #[serde(default)]
    pub board: PassBoard,
    /// Pieces, side by side, where the part is counted in them.
    #[serde(default)]
    pub pieces: Vec<SidePieces>,
    /// The next coat of the job: what is left of a pot may go to it.
    #[serde(default)]
    pub next_coat: Option<HandTo>,
}

/// Pieces of one side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SidePieces {
    pub side: u32,
    pub done_count: f64,
    pub of_count: f64,
    /// Done, as a part of all.
    pub share: f64,
    /// “7 of 24”.
    pub text: String,
}

/// Every side of the pieces with what is done of it.
fn pieces(case: &Case<'_>) -> Vec<SidePieces> {
    let Some(pieces) = case.aim().and_then(|aim| aim.pieces) else { return Vec::new() };
    let side = |side: u32| {
        let done_count = case.pieces_done(side);
        let text = format!("{done_count} of {}", pieces.piece_count);
        SidePieces { side, done_count, of_count: pieces.piece_count, share: done_count / pieces.piece_count, text }
    };
    (1..=pieces.side_count as u32).map(side).collect()
}

/// The charge on the gun.
pub(super) fn on_gun<'a>(case: &'a Case<'_>) -> Option<&'a Charge> {
    case.charges.iter().rev().find(|c| c.closed.is_none() && c.started.is_some())
}

/// Next on the gun: one that may be sprayed before one that may not yet, a spent one last; then who dies first.
pub(super) fn waiting<'a>(case: &'a Case<'_>, now: Timestamp, prefs: Prefs) -> Option<&'a Charge> {
    let order = |c: &&Charge| {
        let clock = case.clock(c, now);
        let spent = clock.is_some_and(|k| k.state == PotState::Spent);
        (spent, may_spray(case, c.id, now, prefs).is_err(), clock.map(|k| k.spent_at))
    };
    case.charges.iter().filter(|c| c.closed.is_none() && c.started.is_none()).min_by_key(order)
}

pub(super) fn spray(case: &Case<'_>, viewer: &Viewer, now: Timestamp) -> SprayView {
    let prefs = viewer.writer.prefs;
    let (on_gun, waiting) = (on_gun(case), waiting(case, now, prefs));
    let others = case.charges.iter().filter(|c| {
        let taken = [on_gun, waiting].into_iter().flatten().any(|t| t.id == c.id);
        c.closed.is_none() && !taken
    });
    let other = |c: &Charge| OtherPot {
        id: c.id,
        no: c.no,
        word: case.clock(c, now).map_or(PotState::Filling, |k| k.state).word().into(),
        left: show(case.left_ml(c), QuantityKind::Volume, prefs),
    };
    let mut teeth = viewer.comb_um.clone();
    teeth.sort_by(f64::total_cmp);
    let aim_um = case.wet_aim_um();
    let aim_at =
        teeth.iter().enumerate().min_by(|a, b| (a.1 - aim_um).abs().total_cmp(&(b.1 - aim_um).abs())).map_or(0, |(i, _)| i);
    let read = case.newest_read();
    let films = case.film_by_zone(None);
    let at_hand = case.step_at_hand();
    let (this_pass, total, dry, working) = levels(case, prefs);
    let advice = match (&read, case.aim()) {
        (Some(r), Some(_)) if r.open_ended => "a pass before was not read: set the comb on the whole wet film".into(),
        (Some(r), Some(aim)) => advice(r.total_um, aim.sheet.wet_min_um, aim.sheet.wet_max_um, prefs),
        _ => String::new(),
    };
    SprayView {
        charge: on_gun.map(|c| c.id),
        pot: on_gun.map(|c| c.no),
        start: waiting.map(|c| c.id),
        start_pot: waiting.map(|c| c.no),
        cannot_start: waiting.and_then(|c| may_spray(case, c.id, now, prefs).err()).map(|r| r.text),
        others: others.map(other).collect(),
        passes: passes(case, &films, prefs),
        last_pass: case.passes.last().map(|p| p.at),
        zones: zones(case, prefs),
        teeth: teeth.iter().map(|t| Tooth { tooth_um: *t, shown: show(*t, QuantityKind::Film, prefs) }).collect(),
        aim_at,
        this_pass,
        total,
        dry,
        working,
        advice,
        proof: case.film_proof(),
        looked: case.film_looks.last().map(|l| l.it.good),
        steps: case.aim().into_iter().flat_map(|aim| &aim.sheet.steps).map(|s| s.name.clone()).collect(),
        step_at_hand: at_hand.map(|at| at.step.name.clone()),
        covered: covered(case, prefs),
        by_time: case.plan_mix.is_some(),
        pieces: pieces(case),
        next_coat: case.beside.hand_to.iter().find(|h| h.next_coat).cloned(),
        asks_zone: case.zones().len() > 1,
        board: board(case, &films, now, prefs),
    }
}

/// What is on of what must be, on the zones that were reached.
fn covered(case: &Case<'_>, prefs: Prefs) -> Option<Level> {
    let so_far = case.on_so_far(prefs)?;
    let (on, least) = (so_far.on_ml, so_far.least_ml);
    let say = |ml| show(ml, QuantityKind::Volume, prefs).text;
    let area = show(so_far.reached_m2, QuantityKind::Area, prefs).text;
    let level =
        Level::draw("On, of the least", Measured::pm(on, 0.0), Tolerance::at_least(least), least, QuantityKind::Volume, prefs);
    Some(if is_under(on, least) {
        let advice = format!("{} is on {area}, at least {} must be: {} more", say(on), say(least), say(least - on));
        level.under_way("not yet").advise(advice)
    } else {
        level.advise(format!("{} is on {area}, at least {} must be", say(on), say(least)))
    })
}
