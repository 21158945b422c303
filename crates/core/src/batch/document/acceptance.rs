//! Acceptance in the document: what was planned, drawn, read and looked at.

use crate::acceptance::{AcceptBy, Roughness};
use crate::batch::case::Case;
use crate::quantity::Prefs;
use crate::sheets::LookStage;
use crate::verdict::Verdict;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What the coat was accepted by, with its evidence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocAcceptance {
    /// What it was accepted by; empty while it is not.
    pub accepted_by: Vec<AcceptBy>,
    /// Each thing that accepts it, and its verdict.
    pub methods: Vec<DocMethod>,
    pub gauge: Option<DocGauge>,
    pub looks: Vec<DocLook>,
    /// The sample it should match.
    pub sample: Option<DocSample>,
}

/// One thing that accepts a coat.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocMethod {
    pub by: AcceptBy,
    pub verdict: Option<Verdict>,
}

/// The dry film by gauge.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocGauge {
    pub by: AcceptBy,
    pub dry_min_um: f64,
    pub dry_max_um: Option<f64>,
    pub level: Option<u8>,
    pub roughness: Option<Roughness>,
    /// What was taken off each reading, at the least and at the most.
    pub taken_off_um: [f64; 2],
    /// Seed and generator of the draw.
    pub seed: String,
    pub generator: String,
    /// The spots as they were read; drawn anew where one could not be reached.
    pub spots: Vec<DocSpot>,
    /// Spots that were drawn anew, and why.
    pub moved: Vec<DocMoved>,
    /// Single readings.
    pub readings_um: Vec<f64>,
    /// The gauge on its foil.
    pub foils: Vec<DocFoil>,
}

/// A spot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocSpot {
    pub area_no: u32,
    pub spot_no: u32,
    /// The part of 100 ft² along the zones that its area is, from 0.
    pub cell: u32,
    pub zone: Option<String>,
    pub face: String,
    pub across_mm: Option<f64>,
    pub down_mm: Option<f64>,
    pub readings_um: Vec<f64>,
}

/// A spot drawn anew.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocMoved {
    pub at: Timestamp,
    pub by: String,
    pub area_no: u32,
    pub spot_no: u32,
    pub reason: String,
}

/// The gauge on a foil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocFoil {
    pub at: Timestamp,
    pub by: String,
    pub gauge: String,
    pub foil_um: f64,
    pub readings_um: Vec<f64>,
    pub right: bool,
}

/// A look at a stage.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocLook {
    pub at: Timestamp,
    pub by: String,
    pub stage: LookStage,
    pub zone: Option<String>,
    pub good: bool,
    pub text: Option<String>,
    pub photo_sha256: Option<String>,
}

/// The sample.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DocSample {
    pub text: String,
    pub photo_sha256: Option<String>,
}

/// The evidence of a coat; `None` where nothing was measured or looked at after it was on.
pub(super) fn acceptance(case: &Case<'_>) -> Option<DocAcceptance> {
    let any = case.acceptance_plan.is_some() || !case.stage_looks.is_empty() || !case.accepted_by.is_empty();
    any.then(|| DocAcceptance {
        accepted_by: case.accepted_by.clone(),
        methods: case.methods(Prefs::METRIC).into_iter().map(|m| DocMethod { by: m.by, verdict: m.verdict }).collect(),
        gauge: gauge(case),
        looks: looks(case),
        sample: case
            .control_sample
            .as_ref()
            .map(|s| DocSample { text: s.it.text.clone(), photo_sha256: s.it.photo.as_ref().map(|p| p.sha256.clone()) }),
    })
}

fn looks(case: &Case<'_>) -> Vec<DocLook> {
    let zones = case.zones();
    let all = case.stage_looks.iter().map(|l| DocLook {
        at: l.at,
        by: l.by.clone(),
        stage: l.it.stage,
        zone: l.it.zone.and_then(|zone| zones.iter().find(|(id, _)| *id == Some(zone)).map(|(_, name)| name.clone())),
        good: l.it.good,
        text: l.it.text.clone(),
        photo_sha256: l.it.photo.as_ref().map(|p| p.sha256.clone()),
    });
    all.collect()
}

fn gauge(case: &Case<'_>) -> Option<DocGauge> {
    let by = case.by_gauge()?;
    let plan = &by.plan.it;
    let zones = case.zones();
    let spots = by.areas.iter().flat_map(|a| &a.spots).map(|s| DocSpot {
        area_no: s.drawn.area_no,
        spot_no: s.drawn.spot_no,
        cell: s.drawn.cell,
        zone: zones.iter().find(|(id, _)| id.is_some() && *id == s.drawn.zone).map(|(_, name)| name.clone()),
        face: s.drawn.face.clone(),
        across_mm: s.drawn.across_mm,
        down_mm: s.drawn.down_mm,
        readings_um: s.read.map(|(_, r)| r.readings_um.clone()).unwrap_or_default(),
    });
    let moved = case.moved_spots.iter().map(|m| DocMoved {
        at: m.at,
        by: m.by.clone(),
        area_no: m.it.area_no,
        spot_no: m.it.spot_no,
        reason: m.it.reason.clone(),
    });
    let foils = case.gauge_foils.iter().map(|f| DocFoil {
        at: f.at,
        by: f.by.clone(),
        gauge: f.it.gauge.clone(),
        foil_um: f.it.foil_um,
        readings_um: f.it.readings_um.clone(),
        right: f.it.verdict() == Some(Verdict::In),
    });
    Some(DocGauge {
        by: plan.by,
        dry_min_um: plan.dry_min_um,
        dry_max_um: plan.dry_max_um,
        level: plan.level,
        roughness: plan.roughness,
        taken_off_um: [by.taken_off_um.lo, by.taken_off_um.hi],
        seed: plan.seed.clone(),
        generator: plan.generator.clone(),
        spots: spots.collect(),
        moved: moved.collect(),
        readings_um: by.reads.iter().map(|r| r.um.value + by.taken_off_um.value).collect(),
        foils: foils.collect(),
    })
}
