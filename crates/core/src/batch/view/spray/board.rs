//! The pass board: each zone with its passes, its film, its wait and its way; the next pass; how far the paint reaches.

use super::agreement::{FilmAgreement, film_agreement};
use super::film::{interval, judged_pass};
use crate::atomizing::classes::GunClass;
use crate::batch::Payload;
use crate::batch::after_care::{CoatClock, coat_clocks};
use crate::batch::case::Case;
use crate::batch::entries::{Happened, Happening};
use crate::batch::film_zones::ZoneState;
use crate::batch::passes::{self, NextPass, NextStep, SectionsNow, Wait, ZoneDrawn, ZonePasses};
use crate::batch::record::Stamped;
use crate::batch::view::set::{fan_mm, lap_start};
use crate::book::Ledger;
use crate::coat_system::Method;
use crate::conditions::falling::meets;
use crate::film::speed::{Lap, LapStart, solve};
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_duration};
use crate::rigs::{Rig, RigKind};
use crate::sheets::{ChargeKind, CoatStep, FilmProof, OverlapSchool, PassWay, ReadyLook};
use crate::verdict::{Level, Tolerance, Verdict};
use crate::worded::{Worded, capital};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The next pass of all.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct NextPassSeen {
    pub zone: Option<Uuid>,
    /// “Hull, pass 2 of 3”.
    pub title: String,
    pub way: Option<PassWay>,
    /// “across · 18–36 in off · edges first”.
    pub line: String,
    /// How laps lie, and what else holds for every stroke.
    pub hint: String,
    /// The cap is turned a quarter for it.
    pub turned: bool,
}

/// What the next pass of a zone waits for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct WaitSeen {
    pub since: Timestamp,
    pub earliest: Option<Timestamp>,
    pub latest: Option<Timestamp>,
    pub look: Option<ReadyLook>,
    pub look_word: Option<String>,
    pub looked: bool,
}

/// A zone on the board.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ZoneCard {
    pub id: Option<Uuid>,
    pub name: String,
    pub done: usize,
    pub planned: Option<usize>,
    /// “pass 1 of 3”.
    pub line: String,
    pub area: Shown,
    pub wait: Option<WaitSeen>,
    /// All wet so far.
    pub wet: Option<Level>,
    /// Readings of its last pass, of those that prove it.
    pub readings: Option<String>,
    /// Every planned pass is on.
    pub complete: bool,
    /// In so many patches, each so large, a pass of one in so long.
    pub patches: Option<String>,
    pub patch_count: usize,
}

/// Something that happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct HappenedSeen {
    pub entry: Uuid,
    pub at: Timestamp,
    pub what: Happened,
    /// “Run at hull, pass 2”.
    pub text: String,
}

/// What limits a patch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PatchSeen {
    pub word: String,
    pub area: Shown,
    /// It is the least, and rules.
    pub binds: bool,
}

/// The part in sections.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SectionsSeen {
    pub limits: Vec<PatchSeen>,
    /// By what the rate is known.
    pub by: String,
    /// The plan as texts to edit.
    pub texts: std::collections::BTreeMap<String, String>,
}

/// The pace wanted of the gun.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PaceSeen {
    pub speed: Shown,
    /// As a text to edit.
    pub text: String,
    /// From what.
    pub line: String,
}

/// The pass board.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PassBoard {
    pub next: Option<NextPassSeen>,
    pub zones: Vec<ZoneCard>,
    pub drawing: Vec<ZoneDrawn>,
    /// Hash of the photo behind the zones.
    pub backdrop: Option<String>,
    /// How far the paint reaches.
    pub paint: Option<String>,
    /// A pot dies before it is empty, or the next is mixed by now.
    pub paint_presses: bool,
    pub happened: Vec<HappenedSeen>,
    /// What one tap may say.
    pub may_happen: Vec<Happened>,
    pub paused_since: Option<Timestamp>,
    pub sections: Option<SectionsSeen>,
    pub pace: Option<PaceSeen>,
    /// Film by use, where what was weighed says it.
    pub by_use: Option<Level>,
    /// Whether comb and use agree, or which is suspect.
    pub agreement: Option<FilmAgreement>,
    /// A margin that falls toward its gate.
    pub falling: Vec<String>,
    /// The clocks of the coat once it is on.
    pub clocks: Vec<CoatClock>,
}

pub(super) fn board(case: &Case<'_>, films: &[ZoneState], now: Timestamp, prefs: Prefs) -> PassBoard {
    let zones = case.zone_passes();
    let paint = passes::ahead(case, &zones, now);
    let sections = passes::sections(case, now);
    let over = case.is_sprayed();
    let next = passes::next_of(&zones, now).filter(|_| !over);
    PassBoard {
        next: next.map(|n| next_seen(case, &n, &zones, prefs)),
        zones: zones.iter().map(|z| card(case, z, films, sections.as_ref(), prefs)).collect(),
        drawing: passes::drawn(case.record),
        backdrop: case.backdrop.as_ref().and_then(|b| b.it.photo.as_ref()).map(|p| p.sha256.clone()),
        paint_presses: paint.as_ref().is_some_and(|p| p.presses(now)),
        paint: paint.map(|p| p.words(now, |at| case.shop_time(at), prefs)).filter(|_| !over),
        happened: happened(case, prefs),
        may_happen: may_happen(case),
        paused_since: case.paused_since(now),
        sections: sections_seen(case, sections.as_ref(), prefs),
        pace: pace(case, prefs),
        by_use: by_use(case, prefs),
        agreement: film_agreement(case, films, prefs),
        falling: falling(case, now),
        clocks: coat_clocks(case, prefs),
    }
}

fn next_seen(case: &Case<'_>, next: &NextPass<'_, '_>, zones: &[ZonePasses<'_>], prefs: Prefs) -> NextPassSeen {
    let NextPass { zone, next } = next;
    let no = zone.made.len() + 1;
    let of = zone.planned.map_or(String::new(), |n| format!(" of {n}"));
    let named = zones.len() > 1 || zone.id.is_some();
    let title = if named { format!("{}, pass {no}{of}", capital(&zone.name)) } else { format!("Pass {no}{of}") };
    let steps = case.aim().map_or(0, |aim| aim.sheet.steps.len());
    let mut line: Vec<String> = Vec::new();
    line.extend(next.step.filter(|_| steps > 1).map(|s| s.name.clone()));
    line.extend(next.way.map(|w| w.word().to_string()));
    line.extend(distance(case, next.step, prefs));
    line.extend(
        next.step.and_then(|s| s.atomizing_kpa).map(|kpa| format!("{} of air", show(kpa, QuantityKind::Pressure, prefs).text)),
    );
    line.extend(first(case, zone, next, zones).map(String::from));
    NextPassSeen { zone: zone.id, title, way: next.way, line: line.join(" · "), hint: hint(case, next), turned: next.turned }
}

/// What goes first in a zone, where corners and edges are no zones of their own.
fn first(case: &Case<'_>, zone: &ZonePasses<'_>, next: &NextStep<'_>, zones: &[ZonePasses<'_>]) -> Option<&'static str> {
    let own = zones.iter().any(|z| z.rank < zone.rank);
    let faces = next.way != Some(PassWay::Corners) && !own;
    (faces && case.aim().is_some_and(|aim| aim.method.is_none_or(Method::sprays))).then_some("edges first")
}

/// How far off the gun is held.
///
/// **Rule:** by the step of the sheet, else by the trade: gel coat 18–36 in, textures 20–30, all other spraying 6–12. **Units:** mm.
/// **Source:** common practice in the trade.
fn distance(case: &Case<'_>, step: Option<&CoatStep>, prefs: Prefs) -> Option<String> {
    const IN: f64 = 25.4;
    let aim = case.aim().filter(|aim| aim.method.is_none_or(Method::sprays))?;
    let stated = step.and_then(|s| {
        s.distance_min_mm.or(s.distance_max_mm).map(|one| (s.distance_min_mm.unwrap_or(one), s.distance_max_mm.unwrap_or(one)))
    });
    let rig: Option<&Rig> = case.rig();
    let gel_coat = rig.is_some_and(|r| r.kind == RigKind::GelCoatMachine) || aim.sheet.catalyst_air_min_kpa.is_some();
    let usual = match rig.map(|r| r.class) {
        _ if gel_coat => (18.0 * IN, 36.0 * IN),
        Some(GunClass::Texture) => (20.0 * IN, 30.0 * IN),
        _ => (6.0 * IN, 12.0 * IN),
    };
    let (least, most) = stated.unwrap_or(usual);
    let (lo, hi) = (show(least, QuantityKind::Length, prefs), show(most, QuantityKind::Length, prefs));
    let both = lo.unit == hi.unit && lo.figure != hi.figure;
    Some(if both { format!("{}–{} off", lo.figure, hi.text) } else { format!("{} off", hi.text) })
}

fn hint(case: &Case<'_>, next: &NextStep<'_>) -> String {
    let Some(aim) = case.aim() else { return String::new() };
    if aim.method.is_some_and(|m| !m.sprays()) {
        return "load it fully, slowly, one way · fast or back and forth whips air in".into();
    }
    let mut said: Vec<&str> = Vec::new();
    said.extend(next.turned.then_some("turn the cap a quarter"));
    said.push(match (next.way, aim.sheet.overlap) {
        (Some(PassWay::Circles), _) => "small circles half over each other, along an S",
        (Some(PassWay::Corners), _) => "each corner in one pass, then away from it",
        (_, Some(OverlapSchool::Fifth)) => "a fifth of the fan over the last lap",
        (_, Some(OverlapSchool::Half) | None) => "half the fan over the last lap",
    });
    said.push("start and stop off the part");
    said.join(" · ")
}

fn card(case: &Case<'_>, z: &ZonePasses<'_>, films: &[ZoneState], sections: Option<&SectionsNow>, prefs: Prefs) -> ZoneCard {
    let done = z.made.len();
    let film = films.iter().find(|f| f.id == z.id);
    let patch = sections.and_then(|s| s.zones.iter().find(|p| p.id == z.id));
    let wait = |w: Wait| WaitSeen {
        since: w.since,
        earliest: w.earliest,
        latest: w.latest,
        look: w.look,
        look_word: w.look.map(|l| l.word().into()),
        looked: w.looked,
    };
    ZoneCard {
        id: z.id,
        name: z.name.clone(),
        done,
        planned: z.planned,
        line: match (done, z.planned) {
            (0, Some(n)) => format!("{n} passes to go"),
            (0, None) => "no pass yet".into(),
            (_, Some(n)) => format!("pass {done} of {n}"),
            (_, None) => format!("pass {done}"),
        },
        area: show(z.area_m2, QuantityKind::Area, prefs),
        wait: z.wait.map(wait),
        wet: film.and_then(|f| wet(case, f, prefs)),
        readings: film
            .filter(|f| f.passes > 0 && case.film_proof() == FilmProof::Comb)
            .map(|f| format!("{} of {}", f.last.len().min(f.asked), f.asked)),
        complete: z.next.is_none(),
        patches: patch.filter(|p| p.count > 1 || p.pass_s.is_some()).map(|p| {
            let each = show(p.each_m2, QuantityKind::Area, prefs).text;
            let takes = p.pass_s.map_or(String::new(), |s| format!(", {} a pass", show_duration(s)));
            format!("{} × {each}{takes}", p.count)
        }),
        patch_count: patch.map_or(1, |p| p.count),
    }
}

/// All wet on a zone, as its last reading says it.
fn wet(case: &Case<'_>, film: &ZoneState, prefs: Prefs) -> Option<Level> {
    let sheet = &case.aim()?.sheet;
    let read = film.reads.last()?;
    let band = Tolerance::between(sheet.wet_min_um, sheet.wet_max_um);
    let level = Level::draw(&film.name, read.total_um, band, case.wet_aim_um(), QuantityKind::Film, prefs);
    let level = level.as_interval(read.total_um, QuantityKind::Film, prefs);
    // While passes are to come a film that is not there yet is no verdict; of the pass alone one is.
    let judged = judged_pass(case, read, prefs).map_or(String::new(), |j| j.text);
    let complete = case.planned_passes().is_some_and(|n| film.passes >= n);
    let under = !complete && level.verdict != Some(Verdict::High);
    Some(if under { level.under_way("so far") } else { level }.advise(judged))
}

fn happened(case: &Case<'_>, prefs: Prefs) -> Vec<HappenedSeen> {
    let told = |h: &Stamped<Happening>| case.record.words(&Payload::Happening(Box::new(h.it.clone())), prefs);
    let mut all: Vec<_> = case.happenings.iter().collect();
    all.sort_by_key(|h| std::cmp::Reverse((h.at, h.seq)));
    all.into_iter().map(|h| HappenedSeen { entry: h.entry, at: h.at, what: h.it.what, text: told(h) }).collect()
}

/// What can happen with this rig, pause and going on apart: a burst of catalyst only where there is catalyst at the gun.
fn may_happen(case: &Case<'_>) -> Vec<Happened> {
    use Happened::{CatalystBurst, DripMended, Run, Spat, TipPlugged, Touched};
    let Some(aim) = case.aim() else { return Vec::new() };
    let sprays = aim.method.is_none_or(Method::sprays);
    let at_gun = aim.sheet.charge == ChargeKind::AtGun;
    let each = [(TipPlugged, sprays), (CatalystBurst, at_gun), (Run, true), (DripMended, true), (Spat, sprays), (Touched, true)];
    each.into_iter().filter(|(_, may)| *may).map(|(what, _)| what).collect()
}

fn sections_seen(case: &Case<'_>, sections: Option<&SectionsNow>, prefs: Prefs) -> Option<SectionsSeen> {
    let plan = &case.section_plan.as_ref()?.it;
    let say = |v: Option<f64>, kind| v.map(|v| show(v, kind, prefs).text);
    let each = [
        ("open_s", say(plan.open_s, QuantityKind::Time)),
        ("prepared_m2", say(plan.prepared_m2, QuantityKind::Area)),
        ("prepared_s", say(plan.prepared_s, QuantityKind::Time)),
        ("return_s", say(plan.return_s, QuantityKind::Time)),
        ("reach_m2", say(plan.reach_m2, QuantityKind::Area)),
    ];
    let limits = sections.map(|s| s.limits.as_slice()).unwrap_or_default();
    let by = match sections {
        Some(SectionsNow { by_passes: Some(n), .. }) => format!("by {n} passes as they went"),
        Some(SectionsNow { pass_m2_min: Some(_), .. }) => "by flow, transfer and film".into(),
        Some(_) => "the rate of a pass is not known: plan the flow at Mix, or stamp passes".into(),
        None => "nothing limits a patch yet".into(),
    };
    Some(SectionsSeen {
        limits: limits
            .iter()
            .enumerate()
            .map(|(i, (limit, m2))| PatchSeen {
                word: limit.word().into(),
                area: show(*m2, QuantityKind::Area, prefs),
                binds: i == 0,
            })
            .collect(),
        by,
        texts: each.into_iter().filter_map(|(field, text)| Some((field.to_string(), text?))).collect(),
    })
}

/// The speed the gun wants for the film of a pass.
fn pace(case: &Case<'_>, prefs: Prefs) -> Option<PaceSeen> {
    let aim = case.aim().filter(|aim| aim.method.is_none_or(Method::sprays))?;
    let wet_um = case.pass_um(false);
    let LapStart { profile, .. } = lap_start(case, None, prefs);
    let flow = case.flow_ml_min()?;
    let fan_mm = fan_mm(case);
    let lap = Lap {
        flow_ml_min: Some(flow),
        fan_mm: Some(fan_mm),
        overlap_pct: Some(profile.even_at_pct()),
        gun_speed_m_s: None,
        wet_um: Some(wet_um),
        transfer_pct: aim.transfer_pct,
        ..Lap::default()
    };
    let (solved, _) = solve(&lap, prefs).ok()?;
    let say = |v, kind| show(v, kind, prefs).text;
    let speed = show(solved.gun_speed_m_s, QuantityKind::Speed, prefs);
    Some(PaceSeen {
        text: speed.text.clone(),
        speed,
        line: format!(
            "for {} a pass: {} through a fan of {}, {} over",
            say(wet_um, QuantityKind::Film),
            say(flow, QuantityKind::Flow),
            say(fan_mm, QuantityKind::Length),
            say(profile.even_at_pct(), QuantityKind::Percent)
        ),
    })
}

/// Film by use, as a level, once something was weighed and passes are on.
fn by_use(case: &Case<'_>, prefs: Prefs) -> Option<Level> {
    let sheet = &case.aim().filter(|_| case.is_sprayed() && !case.passes.is_empty())?.sheet;
    let um = case.film_by_use_um(prefs)?;
    let band = Tolerance::between(sheet.wet_min_um, sheet.wet_max_um);
    let level = Level::draw("Wet, by use", um, band, case.wet_aim_um(), QuantityKind::Film, prefs);
    Some(
        level
            .as_interval(um, QuantityKind::Film, prefs)
            .advise(format!("by what was weighed and is gone: {}", interval(um, prefs).text)),
    )
}

/// Margin to the dew point and humidity over the last hour, against their gates.
fn falling(case: &Case<'_>, now: Timestamp) -> Vec<String> {
    let Some(aim) = case.aim().filter(|_| !case.is_sprayed()) else { return Vec::new() };
    // Probes where they are heard: what is read by hand comes from another instrument, and would bend the line.
    let heard: Vec<_> = case.beside.weather.iter().map(|w| (w.at, w.margin_dk, w.rh_pct)).collect();
    let read = || case.conditions.iter().map(|c| (c.at, Some(c.it.margin_dk().value), Some(c.it.rh_pct))).collect();
    let all: Vec<(Timestamp, Option<f64>, Option<f64>)> = if heard.is_empty() { read() } else { heard };
    let margin: Vec<(Timestamp, f64)> = all.iter().filter_map(|(at, m, _)| Some((*at, (*m)?))).collect();
    let humidity: Vec<(Timestamp, f64)> = all.iter().filter_map(|(at, _, rh)| Some((*at, (*rh)?))).collect();
    let dew = aim.sheet.margin_min_dk.and_then(|least| meets(&margin, Tolerance::at_least(least), now));
    let damp = aim.sheet.rh_max_pct.and_then(|most| meets(&humidity, Tolerance::at_most(most), now));
    dew.map(|f| f.words("dew gate")).into_iter().chain(damp.map(|f| f.words("humidity gate"))).collect()
}
