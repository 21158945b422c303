//! The Spray station: passes, comb, film wet and dry.

use super::Viewer;
use crate::batch::beside::HandTo;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::entries::Pass;
use crate::batch::entries::may_spray;
use crate::batch::film_zones::ZoneState;
use crate::batch::record::Stamped;
use crate::batch::steps::StepAtHand;
use crate::film::{dry_of_wet_um, less};
use crate::pot_life::PotState;
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_duration};
use crate::sheets::FilmProof;
use crate::verdict::{Level, Measured, Tolerance, Verdict, is_under};
use crate::worded::{Worded, capital};
use crate::working::Working;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A pass in the table.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PassRow {
    pub entry: Uuid,
    pub no: usize,
    pub at: Timestamp,
    pub pot: i64,
    /// Zones by name; empty: the whole part.
    pub zones: Vec<String>,
    /// The step it was of.
    #[serde(default)]
    pub step: Option<String>,
    /// Its way, in words.
    #[serde(default)]
    pub way: Option<String>,
    pub used: Option<Shown>,
    /// It went on while the step before was wet, by the sheet's wait.
    #[serde(default)]
    pub early: Option<String>,
    /// Wet film read after it.
    pub wet: Option<Shown>,
}

/// The film of a zone so far.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ZoneFilm {
    pub id: Option<Uuid>,
    pub name: String,
    pub wet: Option<Shown>,
    pub word: String,
    /// Readings of its last pass, of those that prove it: `2 of 3`; missing where another proof is asked.
    pub readings: Option<String>,
}

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
    /// That step in words: which of its passes, at which air.
    #[serde(default)]
    pub step_line: Option<String>,
    /// Before that the step before is still wet, by the sheet's wait.
    #[serde(default)]
    pub step_from: Option<Timestamp>,
    /// The paint of a pass may be said by how long the trigger was pulled: the flow is planned.
    #[serde(default)]
    pub by_time: bool,
    /// A pass and a reading name their zone: the part has several.
    pub asks_zone: bool,
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
        passes: passes(case, prefs),
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
        step_line: at_hand.map(|at| step_line(&at, prefs)),
        step_from: at_hand.and_then(|at| at.from).filter(|from| *from > now),
        covered: covered(case, prefs),
        by_time: case.plan_mix.is_some(),
        pieces: pieces(case),
        next_coat: case.beside.hand_to.iter().find(|h| h.next_coat).cloned(),
        asks_zone: case.zones().len() > 1,
    }
}

/// The step at hand in words.
fn step_line(at: &StepAtHand<'_>, prefs: Prefs) -> String {
    let of = at.step.passes_count.map_or(String::new(), |n| format!(" of {}", show(n, QuantityKind::Count, prefs).figure));
    let more = at.step.passes_count.is_some_and(|n| at.pass_no as f64 > n);
    let pass = if more { "all its passes are on".into() } else { format!("pass {}{of}", at.pass_no) };
    let air =
        at.step.atomizing_kpa.map_or(String::new(), |kpa| format!(", {} of air", show(kpa, QuantityKind::Pressure, prefs).text));
    format!("{}: {pass}{air}", capital(&at.step.name))
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

fn advice(total: Measured, min: f64, max: f64, prefs: Prefs) -> String {
    match Tolerance::between(min, max).judge(total) {
        Verdict::In => "in: let it flash, then look again".into(),
        Verdict::High => "too heavy: stop, let it level, do not add".into(),
        Verdict::Low | Verdict::CannotTell if total.lo < min => {
            let wants = less(Measured::between(min, min), total);
            let say = |um: f64| show(um, QuantityKind::Film, prefs);
            format!("one more pass of {} or so", say(wants.hi.max(1.0)).text)
        }
        Verdict::Low | Verdict::CannotTell => "near its most: no more on this place".into(),
    }
}

type Levels = (Option<Level>, Option<Level>, Option<Level>, Option<Working>);

pub(super) fn levels(case: &Case<'_>, prefs: Prefs) -> Levels {
    let (Some(aim), Some(read)) = (case.aim(), case.newest_read()) else { return (None, None, None, None) };
    let sheet = &aim.sheet;
    let vs = case.finished_solids_pct();
    let draw = |label: &str, m: Measured, tol: Tolerance| {
        Level::draw(label, m, tol, case.wet_aim_um(), QuantityKind::Film, prefs).as_interval(m, QuantityKind::Film, prefs)
    };
    let band = Tolerance::between(sheet.wet_min_um, sheet.wet_max_um);
    let drawn = draw("Total wet so far", read.total_um, band);
    // With a pass between that nobody measured the total is at least this: over it may be told, in it may not.
    let open = read.open_ended && band.judge(Measured::pm(read.total_um.lo, 0.0)) != Verdict::High;
    let total = if open { drawn.ruled_by(Verdict::CannotTell) } else { drawn };
    let pass = draw("This pass", read.pass_um, Tolerance::at_most(sheet.wet_max_um));
    let dry_um = read.total_um.map(|um| dry_of_wet_um(um, vs));
    let dry_tol = Tolerance::between(dry_of_wet_um(sheet.wet_min_um, vs), dry_of_wet_um(sheet.wet_max_um, vs));
    let dry = draw("Dry, predicted", dry_um, dry_tol);
    let mut w = Working::new("Film", "ASTM D4414 comb: above the last wetted tooth, below the next. Dry = wet × volume solids");
    let solids = show(vs, QuantityKind::Percent, prefs).text;
    w.line("Wet, at the least", "last wetted tooth", read.total_um.lo, QuantityKind::Film, prefs);
    w.line("Wet, at the most", "next tooth", read.total_um.hi, QuantityKind::Film, prefs);
    w.line(
        "Dry, middle",
        format!("{} × {solids} finished solids", show(read.total_um.value, QuantityKind::Film, prefs).text),
        dry_um.value,
        QuantityKind::Film,
        prefs,
    );
    (Some(pass), Some(total), Some(dry), Some(w))
}

fn passes(case: &Case<'_>, prefs: Prefs) -> Vec<PassRow> {
    let films = case.film_by_zone(None);
    let name =
        |id: &Uuid| case.aim().and_then(|b| b.zones.iter().find(|z| z.id == *id)).map_or(String::new(), |z| z.name.clone());
    (1..)
        .zip(&case.passes)
        .map(|(no, p)| PassRow {
            entry: p.entry,
            no,
            at: p.at,
            pot: case.charge(p.it.charge).map_or(0, |c| c.no),
            zones: p.it.zones.iter().map(name).collect(),
            step: p.it.step.clone(),
            way: p.it.way.map(|w| w.word().into()),
            used: p.it.used_ml.map(|ml| show(ml, QuantityKind::Volume, prefs)),
            early: case.too_early_s(p).map(|s| format!("{} early for its step", show_duration(s))),
            wet: read_after(case, &films, p).map(|um| interval(um, prefs)),
        })
        .collect()
}

fn interval(m: Measured, prefs: Prefs) -> Shown {
    Level::draw("", m, Tolerance { lo: None, hi: None }, 1.0, QuantityKind::Film, prefs)
        .as_interval(m, QuantityKind::Film, prefs)
        .shown
}

/// The film read after a pass, before the next one on the same zone.
fn read_after(case: &Case<'_>, films: &[ZoneState], pass: &Stamped<Pass>) -> Option<Measured> {
    let on = |id: Option<Uuid>| pass.it.zones.is_empty() || id.is_none_or(|id| pass.it.zones.contains(&id));
    let mut found = films.iter().filter(|z| on(z.id)).filter_map(|z| {
        let here = |p: &&Stamped<Pass>| p.it.zones.is_empty() || z.id.is_none_or(|id| p.it.zones.contains(&id));
        let mine = case.passes.iter().filter(here).filter(|p| (p.at, p.seq) <= (pass.at, pass.seq)).count();
        z.reads.iter().rev().find(|r| r.after_pass == mine).map(|r| r.total_um)
    });
    found.next()
}

fn zones(case: &Case<'_>, prefs: Prefs) -> Vec<ZoneFilm> {
    let Some(aim) = case.aim() else { return Vec::new() };
    let band = Tolerance::between(aim.sheet.wet_min_um, aim.sheet.wet_max_um);
    let by_comb = case.film_proof() == FilmProof::Comb;
    let one = |zone: ZoneState| {
        let newest = zone.reads.last();
        let word = match newest {
            None => String::new(),
            Some(_) if zone.open_ended && band.judge(Measured::pm(zone.at_least_um(), 0.0)) != Verdict::High => {
                "not proved".into()
            }
            Some(r) => band.judge(r.total_um).word().into(),
        };
        let readings = (by_comb && zone.passes > 0).then(|| format!("{} of {}", zone.last.len().min(zone.asked), zone.asked));
        ZoneFilm { id: zone.id, name: zone.name, wet: newest.map(|r| interval(r.total_um, prefs)), word, readings }
    };
    case.film_by_zone(None).into_iter().map(one).collect()
}
