//! The batch card as an open document: plain facts in base units, for other programs and for the years.
//!
//! Its JSON Schema is served beside it. A new field may be added in a version; none changes its meaning.

mod rows;

pub use rows::{HEADS, Row, rows};

use crate::batch::beside::{GoodSetUp, window_of};
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::entries::FillInto;
use crate::batch::record::Signature;
use crate::batch::{entries::Ended, gates::GateName};
use crate::coats::Method;
use crate::conditions::dew_point_c;
use crate::lists::{Did, Substrate};
use crate::mixing::{self, Component, PlannedPour};
use crate::pot_life::HeldTemperature;
use crate::quantity::Prefs;
use crate::rigs::Rig;
use crate::schedule::{CoatOver, RecoatWindow};
use crate::sheets::{ChargeKind, Hazard, Sheet};
use crate::stores::LotStand;
use crate::verdict::{Measured, Verdict};
use crate::worded::Worded;
use crate::{CORE_VERSION, film, ratio_check};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Name of the format.
pub const FORMAT: &str = "level-keel-card";
/// Version of the format.
pub const FORMAT_VERSION: u32 = 1;

/// The card of a batch. Field names end in their unit; times are UTC.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CardDocument {
    /// Always `level-keel-card`.
    pub format: String,
    pub format_version: u32,
    /// The version of the rules that judged it.
    pub core_version: String,
    pub batch: Uuid,
    pub number: i64,
    pub part: String,
    pub coat: String,
    pub zones: Vec<String>,
    pub area_m2: f64,
    pub wet_aim_um: f64,
    /// Dry film asked for, when it was.
    pub dry_asked_um: Option<f64>,
    pub transfer_pct: f64,
    pub thinner_pct: f64,
    pub sheet: Sheet,
    pub sheet_edition: i32,
    pub begun: Timestamp,
    pub conditions: Vec<DocConditions>,
    /// What was coated, and how.
    #[serde(default)]
    pub substrate: Option<Substrate>,
    #[serde(default)]
    pub method: Option<Method>,
    /// Lots taken, with what the stores knew of them then.
    #[serde(default)]
    pub lots: Vec<DocLot>,
    /// Items of the Ready lists.
    #[serde(default)]
    pub checks: Vec<DocCheck>,
    /// Hazards whose guards were ticked.
    pub guards: Vec<Hazard>,
    pub charges: Vec<DocCharge>,
    /// The rig, as it stood.
    pub rig: Option<Rig>,
    pub set_ups: Vec<DocSetUp>,
    /// Last good set-ups of the same product and rig, as they were when this was written.
    #[serde(default)]
    pub last_good: Vec<GoodSetUp>,
    pub flows: Vec<DocFlow>,
    pub catches: Vec<DocCatch>,
    pub passes: Vec<DocPass>,
    pub films: Vec<DocFilm>,
    pub deviations: Vec<DocDeviation>,
    pub releases: Vec<DocRelease>,
    pub recoat: Option<RecoatWindow>,
    pub signed: Option<Signature>,
    pub accepted: Option<Signature>,
    pub log: Vec<DocLine>,
    /// Sequence and hash of the last entry this card was made from.
    pub head_seq: i64,
    pub head_hash: String,
}

/// One reading of the conditions.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocConditions {
    pub at: Timestamp,
    pub by: String,
    pub air_c: f64,
    pub surface_c: f64,
    pub material_c: f64,
    pub rh_pct: f64,
    pub dew_point_c: f64,
    pub margin_dk: f64,
}

/// A ratio with its interval, as A to one B or in per cent as the sheet states it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocRatio {
    /// `parts` of A to one of B, or `per_cent` of B on A.
    pub said_in: String,
    pub least: f64,
    pub value: f64,
    pub most: f64,
    pub limit_low: f64,
    pub limit_high: f64,
    pub verdict: Verdict,
}

/// A pot, or a charge at the gun.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocCharge {
    pub no: i64,
    pub kind: ChargeKind,
    pub wanted_ml: f64,
    pub opened: Timestamp,
    pub pours: Vec<DocPour>,
    pub ratio: Option<DocRatio>,
    /// When hardener met base: its clock.
    pub combined: Option<Timestamp>,
    pub stirred: Option<Timestamp>,
    pub started: Option<Timestamp>,
    /// The window of the coat beneath, as known when spraying began.
    pub over: Option<CoatOver>,
    pub closed: Option<DocClosed>,
    /// What was to be poured, with what rescues and divisions made of it.
    #[serde(default)]
    pub planned: Vec<PlannedPour>,
    #[serde(default)]
    pub rescued: Vec<Timestamp>,
    /// Temperatures that held, from when on.
    #[serde(default)]
    pub temperatures: Vec<HeldTemperature>,
    /// Age at its end, spent at 1.
    #[serde(default)]
    pub age: Option<f64>,
    #[serde(default)]
    pub fills: Vec<DocFill>,
}

/// A fill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocFill {
    pub at: Timestamp,
    pub by: String,
    pub into: FillInto,
    pub fill_ml: f64,
    pub dose_g: Option<f64>,
}

/// One pour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocPour {
    pub at: Timestamp,
    pub by: String,
    pub component: Component,
    pub name: String,
    pub poured_g: f64,
    pub reading_g: f64,
    pub tared: bool,
    pub resolution_g: f64,
    pub lot: Option<String>,
}

/// How a charge ended.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocClosed {
    pub at: Timestamp,
    pub by: String,
    pub how: Ended,
    pub reason: Option<String>,
    pub waste_ml: Option<f64>,
}

/// One try of pressure and stream.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocSetUp {
    pub at: Timestamp,
    pub by: String,
    pub pot_kpa: f64,
    /// At the pot of B, on twin pots.
    #[serde(default)]
    pub b_kpa: Option<f64>,
    pub atomizing_kpa: Option<f64>,
    pub stream_mm: Option<f64>,
    pub catalyst_kpa: Option<f64>,
    /// The pattern as it was called.
    pub pattern: Option<String>,
    /// The step of the coat it was for.
    #[serde(default)]
    pub step: Option<String>,
    #[serde(default)]
    pub refine_turns: Option<f64>,
    /// Abrasive paper its texture looked like.
    #[serde(default)]
    pub texture_grit: Option<f64>,
    /// What the transmitters read then.
    #[serde(default)]
    pub gauge_pot_kpa: Option<f64>,
    #[serde(default)]
    pub gauge_gun_kpa: Option<f64>,
    /// Hash of the picture of the pattern.
    #[serde(default)]
    pub photo_sha256: Option<String>,
}

/// What the gun delivered.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocFlow {
    pub at: Timestamp,
    pub by: String,
    pub pot_kpa: f64,
    pub flow_ml_min: f64,
}

/// A pair of catches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocCatch {
    pub at: Timestamp,
    pub by: String,
    pub a_g: f64,
    pub b_g: f64,
    pub a_kpa: Option<f64>,
    pub b_kpa: Option<f64>,
    pub time_s: Option<f64>,
    pub ratio: Option<DocRatio>,
}

/// A pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocPass {
    pub no: usize,
    pub at: Timestamp,
    pub by: String,
    pub charge: i64,
    /// Empty: the whole part.
    pub zones: Vec<String>,
    pub used_ml: Option<f64>,
}

/// A film reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocFilm {
    pub at: Timestamp,
    pub by: String,
    pub zone: Option<String>,
    pub after_pass: usize,
    pub wet_least_um: f64,
    pub wet_most_um: f64,
    /// Predicted from the volume solids of the finished paint.
    pub dry_least_um: f64,
    pub dry_most_um: f64,
    /// A pass was made that nobody measured: the film may be more than its most here.
    #[serde(default)]
    pub open_ended: bool,
}

/// A deviation with its answer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocDeviation {
    pub code: String,
    pub text: String,
    pub answer: Option<String>,
}

/// A lot taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocLot {
    pub at: Timestamp,
    pub by: String,
    pub component: Component,
    pub code: String,
    /// Why this one, when another was first in.
    pub reason: Option<String>,
    pub stand: Option<LotStand>,
}

/// An item of the lists ticked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocCheck {
    pub at: Timestamp,
    pub by: String,
    pub item: String,
    pub text: String,
    pub did: Did,
    pub read_um: Option<f64>,
    pub remark: Option<String>,
    /// Hash of the photo.
    pub photo: Option<String>,
}

/// A hold released.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocRelease {
    pub at: Timestamp,
    pub by: String,
    pub gate: GateName,
    /// Which trouble of that gate.
    #[serde(default)]
    pub item: Option<String>,
    pub reason: String,
}

/// A line of the log, struck ones included.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocLine {
    pub seq: i64,
    pub at: Timestamp,
    pub by: String,
    pub kind: super::Kind,
    pub text: String,
    pub struck: Option<String>,
}

/// The document of a batch; `None` before its first entry.
pub fn document(batch: Uuid, case: &Case<'_>) -> Option<CardDocument> {
    let begin = case.begin.as_ref()?;
    let aim = &begin.it;
    let zone = |id: &Uuid| aim.zones.iter().find(|z| z.id == *id).map_or(String::new(), |z| z.name.clone());
    let solids = case.finished_solids_pct();
    let conditions = case.conditions.iter().map(|c| DocConditions {
        at: c.at,
        by: c.by.clone(),
        air_c: c.it.air_c,
        surface_c: c.it.surface_c,
        material_c: c.it.material_c,
        rh_pct: c.it.rh_pct,
        dew_point_c: dew_point_c(c.it.air_c, c.it.rh_pct),
        margin_dk: c.it.margin_dk().value,
    });
    let set_ups = case.set_ups.iter().map(|s| DocSetUp {
        at: s.at,
        by: s.by.clone(),
        pot_kpa: s.it.pot_kpa,
        b_kpa: s.it.b_kpa,
        atomizing_kpa: s.it.atomizing_kpa,
        stream_mm: s.it.stream_mm,
        catalyst_kpa: s.it.catalyst_kpa,
        pattern: s.it.pattern.map(|p| p.word().into()),
        step: s.it.step.map(|p| p.word().into()),
        refine_turns: s.it.refine_turns_count,
        texture_grit: s.it.texture_grit_count,
        gauge_pot_kpa: s.it.gauge_pot_kpa,
        gauge_gun_kpa: s.it.gauge_gun_kpa,
        photo_sha256: s.it.photo.as_ref().map(|p| p.sha256.clone()),
    });
    let flows = case.flow_catches.iter().map(|c| DocFlow {
        at: c.at,
        by: c.by.clone(),
        pot_kpa: c.it.pot_kpa,
        flow_ml_min: c.it.flow_ml_min(case.density_kg_l().unwrap_or(1.0)),
    });
    let catches = case.catches.iter().map(|c| DocCatch {
        at: c.at,
        by: c.by.clone(),
        a_g: c.it.a_g,
        b_g: c.it.b_g,
        a_kpa: c.it.a_kpa,
        b_kpa: c.it.b_kpa,
        time_s: c.it.caught_watch_s,
        ratio: ratio(&aim.sheet, ratio_check::b_per_a_of(c.it.a_g, c.it.b_g, c.it.resolution_g)),
    });
    let passes = (1..).zip(&case.passes).map(|(no, p)| DocPass {
        no,
        at: p.at,
        by: p.by.clone(),
        charge: case.charge(p.it.charge).map_or(0, |c| c.no),
        zones: p.it.zones.iter().map(zone).collect(),
        used_ml: p.it.used_ml,
    });
    let by_zone = case.film_by_zone(None);
    let films = case.combs.iter().map(|c| {
        let said = by_zone.iter().flat_map(|z| &z.reads).find(|r| r.entry == c.entry);
        let total_um = said.map_or(c.it.read_um, |r| r.total_um);
        let dry = total_um.map(|um| film::dry_of_wet_um(um, solids));
        DocFilm {
            at: c.at,
            by: c.by.clone(),
            zone: c.it.zone.as_ref().map(zone),
            after_pass: said.map_or(0, |r| r.after_pass),
            wet_least_um: total_um.lo,
            wet_most_um: total_um.hi,
            dry_least_um: dry.lo,
            dry_most_um: dry.hi,
            open_ended: said.is_none_or(|r| r.open_ended),
        }
    });
    let lots = case.lots.iter().map(|l| DocLot {
        at: l.at,
        by: l.by.clone(),
        component: l.it.component,
        code: l.it.lot.code.clone(),
        reason: l.it.reason.clone(),
        stand: l.it.lot.stand.clone(),
    });
    let checks = case.ticks.iter().map(|t| DocCheck {
        at: t.at,
        by: t.by.clone(),
        item: t.it.item.clone(),
        text: aim.items.iter().find(|i| i.key == t.it.item).map_or(t.it.item.clone(), |i| i.text.clone()),
        did: t.it.did,
        read_um: t.it.read_um,
        remark: t.it.text.clone(),
        photo: t.it.photo.as_ref().map(|p| p.sha256.clone()),
    });
    let releases = case.releases.iter().map(|r| DocRelease {
        at: r.at,
        by: r.by.clone(),
        gate: r.it.gate,
        item: r.it.item.clone(),
        reason: r.it.reason.clone(),
    });
    let deviations =
        case.deviations.iter().map(|d| DocDeviation { code: d.code.clone(), text: d.text.clone(), answer: d.answer.clone() });
    let log = super::log::lines(case, Prefs::METRIC).into_iter().rev().map(|l| DocLine {
        seq: l.seq,
        at: l.at,
        by: l.by,
        kind: l.kind,
        text: l.text,
        struck: l.struck,
    });
    Some(CardDocument {
        format: FORMAT.into(),
        format_version: FORMAT_VERSION,
        core_version: CORE_VERSION.into(),
        batch,
        number: aim.number,
        part: aim.part_name.clone(),
        coat: aim.coat_name.clone(),
        zones: aim.zones.iter().map(|z| z.name.clone()).collect(),
        area_m2: aim.area_m2,
        wet_aim_um: case.wet_aim_um(),
        dry_asked_um: aim.dry_um,
        transfer_pct: aim.transfer_pct,
        thinner_pct: aim.thinner_pct,
        sheet: aim.sheet.clone(),
        sheet_edition: aim.sheet_edition,
        begun: begin.at,
        conditions: conditions.collect(),
        substrate: aim.substrate,
        method: aim.method,
        lots: lots.collect(),
        checks: checks.collect(),
        guards: case.guards.iter().copied().collect(),
        charges: case.charges.iter().map(|c| charge(case, &aim.sheet, c)).collect(),
        rig: case.rig().cloned(),
        set_ups: set_ups.collect(),
        last_good: case.beside.last_good.clone(),
        flows: flows.collect(),
        catches: catches.collect(),
        passes: passes.collect(),
        films: films.collect(),
        deviations: deviations.collect(),
        releases: releases.collect(),
        recoat: window_of(case),
        signed: case.signature.clone(),
        accepted: case.acceptance.clone(),
        log: log.collect(),
        head_seq: case.log.head_seq,
        head_hash: case.log.head_hash.clone(),
    })
}

fn charge(case: &Case<'_>, sheet: &Sheet, c: &Charge) -> DocCharge {
    let weighed = c.weighed();
    let pours = c.pours.iter().enumerate().map(|(i, p)| DocPour {
        at: p.at,
        by: p.by.clone(),
        component: p.it.weighed.component,
        name: sheet.component_name(p.it.weighed.component),
        poured_g: mixing::poured_g(&weighed, i),
        reading_g: p.it.weighed.reading_g,
        tared: p.it.weighed.tared,
        resolution_g: p.it.weighed.resolution_g,
        lot: p.it.lot.as_ref().map(|l| l.code.clone()),
    });
    DocCharge {
        no: c.no,
        kind: c.kind,
        wanted_ml: c.wanted_ml,
        opened: c.opened,
        pours: pours.collect(),
        ratio: ratio(sheet, mixing::b_per_a(&weighed)),
        combined: c.combined(),
        stirred: c.stirred,
        started: c.started,
        over: c.over.clone(),
        closed: c.closed.as_ref().map(|x| DocClosed {
            at: x.at,
            by: x.by.clone(),
            how: x.it.how,
            reason: x.it.reason.clone(),
            waste_ml: x.it.waste_ml,
        }),
        planned: case.plan(c),
        rescued: c.rescues.iter().map(|r| r.at).collect(),
        temperatures: if c.combined().is_some() { case.temperatures(c) } else { Vec::new() },
        age: c.closed.as_ref().and_then(|x| case.clock(c, x.at)).map(|x| x.age),
        fills: c
            .fills
            .iter()
            .map(|f| DocFill { at: f.at, by: f.by.clone(), into: f.it.into, fill_ml: f.it.fill_ml, dose_g: f.it.dose_g })
            .collect(),
    }
}

fn ratio(sheet: &Sheet, b_per_a: Option<Measured>) -> Option<DocRatio> {
    let said = mixing::said(sheet, b_per_a?)?;
    let m = said.measured;
    Some(DocRatio {
        said_in: if said.kind == crate::quantity::Kind::Percent { "per_cent" } else { "parts" }.into(),
        least: m.lo,
        value: m.value,
        most: m.hi.min(f64::MAX),
        limit_low: said.tolerance.lo.unwrap_or(0.0),
        limit_high: said.tolerance.hi.unwrap_or(f64::MAX),
        verdict: said.tolerance.judge(m),
    })
}
