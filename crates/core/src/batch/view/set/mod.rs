//! The Set station: the rig as a line, set_ups of pressure and the stream each gave, what the model makes of them.

mod advice;
mod asked;
mod asks;
mod by_tries;
mod modelled;
mod notes;
mod presets;
mod twin;

pub use advice::SetAdvice;
pub use asked::{AskLine, LineAsked, ask};
pub use asks::SetAsk;
pub use modelled::{FlowCurve, FlowMark, FlowPoint, Modelled, OtherPiece, PressureShare};
pub use notes::StepSetting;
pub use presets::Preset;

use super::Viewer;
use crate::atomizing::classes::{ReadAt, ReadHow};
use crate::atomizing::ladder::Pattern;
use crate::atomizing::tips::decode;
use crate::batch::case::Case;
use crate::batch::entries::Flowed;
use crate::batch::rig_proposed::{rig_proposed, with_rig};
use crate::care::looked_at;
use crate::coat_system::Method;
use crate::delivery::{ArcPoint, RuleMark, Stream, arc, judge_stream, rule, stream_verdict};
use crate::film::speed::{LapKnown, LapStart, USUAL_FAN_MM, usual_lap};
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::rigs::{Along, LinePoint, Rig, RigKind, points};
use crate::sheet_form::ProductKind;
use crate::sheets::{Sheet, USUAL_STEPS};
use crate::worded::Worded;
use jiff::Timestamp;
use modelled::modelled;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// One try of the Set station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SetUpRow {
    pub entry: Uuid,
    /// None where the gun's own cup fed it.
    pub pot: Option<Shown>,
    /// At the pot of B, on twin pots.
    pub b: Option<Shown>,
    /// What the pump stood at.
    #[serde(default)]
    pub supply: Option<Shown>,
    pub atomizing: Option<Shown>,
    /// Its air at the cap.
    #[serde(default)]
    pub cap: Option<Shown>,
    /// Which of two streams it is.
    #[serde(default)]
    pub flowed: Option<String>,
    pub stream: Option<Shown>,
    /// What the model expected at this pressure.
    pub expected: Option<Shown>,
    pub pattern: Option<String>,
    /// Which, for the picture.
    #[serde(default)]
    pub pattern_is: Option<Pattern>,
    pub word: String,
    /// Its knobs and valves, as they were set.
    #[serde(default)]
    pub knobs: String,
    /// Where and how its air was read.
    #[serde(default)]
    pub air_read: String,
    /// The step of the coat it was for.
    pub step: Option<String>,
    /// What the pot's transmitter read then.
    pub gauge: Option<Shown>,
    /// A picture of the pattern, by its hash.
    pub photo: Option<String>,
    /// The stream of this try, for the picture.
    pub arc: Vec<ArcPoint>,
}

/// A step of the stream test.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct GuideStep {
    pub id: String,
    pub word: String,
    pub done_at: Option<Timestamp>,
    pub done_by: Option<String>,
}

/// A coat that is put on by hand.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ByHand {
    pub method: Method,
    pub text: String,
    /// What counts instead, line by line.
    pub how: Vec<String>,
}

/// A pattern to choose.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PatternView {
    pub pattern: Pattern,
    pub word: String,
}

/// The Set station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SetView {
    /// Area of the part, for the time a coat takes.
    pub area_m2: f64,
    /// The rig chosen, else the one that is proposed.
    pub rig: Option<Uuid>,
    /// Where a rig that is only proposed comes from; missing: it was chosen.
    #[serde(default)]
    pub rig_proposed: Option<String>,
    pub rig_name: Option<String>,
    pub rig_kind: Option<RigKind>,
    /// A fluid pressure is set; not where the gun's own cup feeds it.
    pub pressed: bool,
    /// What a try is asked for with this rig; once the work is signed, nothing.
    #[serde(default)]
    pub asks: Vec<SetAsk>,
    /// Which stream of a twin feed is looked at next; none elsewhere.
    #[serde(default)]
    pub flows_next: Option<Flowed>,
    /// By brush or roller nothing is set: what counts instead.
    #[serde(default)]
    pub by_hand: Option<ByHand>,
    /// The rig drawn as a line.
    pub points: Vec<LinePoint>,
    /// What is short of the rig.
    pub troubles: Vec<String>,
    /// Tries, oldest first.
    pub set_ups: Vec<SetUpRow>,
    /// The last stream seen.
    pub stream: Option<Stream>,
    /// The school's band, in words.
    pub school: String,
    /// The band, for the picture before any stream is seen.
    pub band_lo_mm: f64,
    pub band_hi_mm: f64,
    /// Marks of the rule under the stream, in the reader's unit.
    pub rule: Vec<RuleMark>,
    /// Unit of the rule.
    pub rule_unit: String,
    pub modelled: Option<Modelled>,
    /// What the line and its paint are now, for the fields of what else it might be.
    #[schema(value_type = BTreeMap<String, String>)]
    pub line: BTreeMap<String, String>,
    pub advice: Option<SetAdvice>,
    /// What wants saying of pressures and air.
    pub notes: Vec<String>,
    /// “Set the wall to”, where the air was read at the gun.
    pub wall: Option<String>,
    /// Last good set-ups, newest first.
    pub presets: Vec<Preset>,
    /// The steps of this coat by name: the sheet's own, else the usual.
    #[serde(default)]
    pub step_names: Vec<String>,
    /// What was set for each step of the coat.
    pub steps: Vec<StepSetting>,
    /// The steps of the stream test, in order, ticked since the rig was chosen.
    pub guide: Vec<GuideStep>,
    /// What a pattern is chosen from.
    pub patterns: Vec<PatternView>,
    /// Where the sums of gun speed start from.
    pub lap: LapStart,
    /// How today differs from the last good one, and why that may be.
    pub drift: Option<String>,
    /// It climbs the pattern ladder instead of a stream.
    pub ladder: bool,
}

/// The station on the rig of the batch; as long as none is chosen, on the one that is proposed.
pub(super) fn set(case: &Case<'_>, viewer: &Viewer, now: Timestamp) -> SetView {
    let Some(proposed) = rig_proposed(case) else { return on_its_rig(case, viewer, now) };
    let record = with_rig(case, &proposed, now);
    let view = on_its_rig(&Case::new(&record, case.beside), viewer, now);
    SetView { rig_proposed: Some(proposed.from), ..view }
}

fn on_its_rig(case: &Case<'_>, viewer: &Viewer, now: Timestamp) -> SetView {
    let prefs = viewer.writer.prefs;
    let bend_mm = case.bend_mm(viewer.writer.id);
    let school = case.aim().map(|b| b.sheet.stream).unwrap_or_default();
    let (lo, hi) = school.band_mm();
    let (rule, rule_unit) = rule(prefs);
    let band = format!("{} to {}", show(lo, QuantityKind::Length, prefs).figure, show(hi, QuantityKind::Length, prefs).text);
    let rig = case.rig();
    let line = rig.and_then(Rig::line);
    let paint = case.paint(now);
    let last = case.tries().last();
    let climbs = rig.is_some_and(|r| r.kind.is_tipped());
    // With the paint as it was then: a pot that aged since pushed more.
    let expected = |kpa: f64, at| line.zip(case.paint(at)).map(|(l, p)| l.at(&p.fluid, kpa).stream_mm(bend_mm));
    let set_ups = case
        .set_ups
        .iter()
        .map(|s| SetUpRow {
            entry: s.entry,
            pot: s.it.pot_kpa.map(|p| show(p, QuantityKind::Pressure, prefs)),
            b: s.it.b_kpa.map(|p| show(p, QuantityKind::Pressure, prefs)),
            supply: s.it.supply_kpa.map(|p| show(p, QuantityKind::Pressure, prefs)),
            atomizing: s.it.atomizing_kpa.map(|p| show(p, QuantityKind::Pressure, prefs)),
            cap: s.it.cap_kpa.map(|p| show(p, QuantityKind::Pressure, prefs)),
            flowed: s.it.flowed.map(|flowed| flowed.word().into()),
            stream: s.it.stream_mm.map(|mm| show(mm, QuantityKind::Length, prefs)),
            expected: s
                .it
                .stream_mm
                .and_then(|_| expected(s.it.fluid_kpa(), s.at))
                .map(|mm| show(mm, QuantityKind::Length, prefs)),
            pattern: s.it.pattern.map(|p| p.word().into()),
            pattern_is: s.it.pattern,
            word: s.it.stream_mm.map_or(String::new(), |mm| stream_verdict(school, case.eye(s.who).interval(mm)).word().into()),
            knobs: knobs(&s.it.knobs(), prefs),
            air_read: air_read(s.it.air_at, s.it.air_how),
            step: s.it.step.clone(),
            gauge: s.it.gauge_pot_kpa.map(|p| show(p, QuantityKind::Pressure, prefs)),
            photo: s.it.photo.as_ref().map(|p| p.sha256.clone()),
            arc: s.it.stream_mm.map(arc).unwrap_or_default(),
        })
        .collect();
    let known = line.zip(paint);
    let advice =
        if climbs { advice::climb(case, rig, prefs) } else { advice::stream(case, school, known, rig, (bend_mm, now), prefs) };
    let at_kpa = last.map(|s| s.it.fluid_kpa()).filter(|kpa| *kpa > 0.0);
    let modelled = known.zip(rig).map(|((l, p), rig)| modelled((&l, &p), rig, school, at_kpa, bend_mm, prefs));
    let drops = known.zip(at_kpa).map(|((l, p), kpa)| l.at(&p.fluid, kpa));
    let air = case.air_in_force().and_then(|s| Some((s.atomizing_kpa?, s.air_at)));
    let along = Along { drops: drops.as_ref(), pot_kpa: at_kpa, air };
    let flow = modelled.as_ref().map(|m| m.flow.text.clone());
    let lap = lap_start(case, flow, prefs);
    let short = rig.zip(case.aim()).map(|(rig, aim)| rig.short_of(&aim.sheet, prefs)).unwrap_or_default();
    SetView {
        area_m2: case.aim().map_or(0.0, |b| b.area_m2),
        rig: case.rig.as_ref().map(|r| r.it.rig),
        rig_proposed: None,
        rig_name: rig.map(|r| r.name.clone()),
        rig_kind: rig.map(|r| r.kind),
        pressed: rig.is_none_or(|r| r.kind.is_pressed()),
        points: rig.map(|r| points(r, along, prefs)).unwrap_or_default(),
        troubles: rig.into_iter().flat_map(|r| r.troubles(prefs)).chain(short.into_iter().map(|s| s.text)).collect(),
        set_ups,
        stream: case.stream_state(now).map(|s| judge_stream(school, s.length_mm, prefs)),
        asks: if case.signature.is_some() { Vec::new() } else { asks::asks(rig, &band, prefs) },
        flows_next: rig.filter(|r| r.kind == RigKind::TwinPots).map(|_| twin::flows_next(case)),
        by_hand: case.aim().and_then(|aim| by_hand(aim.method?, &aim.sheet)),
        school: band,
        band_lo_mm: lo,
        band_hi_mm: hi,
        rule,
        rule_unit,
        lap,
        line: asked::as_it_is(rig, paint.as_ref(), prefs),
        modelled,
        advice,
        notes: notes::notes(case, known, prefs),
        wall: notes::wall(case, prefs),
        presets: presets::presets(case, prefs),
        drift: presets::drift(case, now, prefs),
        step_names: step_names(case),
        steps: notes::steps(case, prefs),
        guide: guide(case),
        patterns: patterns(climbs),
        ladder: climbs,
    }
}

/// Knobs as they were set, in turns from shut.
fn knobs(all: &[(&'static str, Option<f64>)], prefs: Prefs) -> String {
    let said =
        all.iter().filter_map(|(what, turns)| Some(format!("{what} {}", show((*turns)?, QuantityKind::Count, prefs).figure)));
    said.collect::<Vec<_>>().join(", ")
}

/// Where and how an air was read, in words.
fn air_read(at: Option<ReadAt>, how: Option<ReadHow>) -> String {
    [at.map(Worded::word), how.map(Worded::word)].into_iter().flatten().collect::<Vec<_>>().join(", ")
}

/// What counts by brush and by roller; common practice in the trade.
fn by_hand(method: Method, sheet: &Sheet) -> Option<ByHand> {
    let load = match method {
        Method::Brush => "Load the brush fully.",
        Method::Roller => "Saturate the roller.",
        Method::Pot | Method::GunCup | Method::Airless | Method::GelCoatMachine | Method::TwinFeed => return None,
    };
    let text = format!("By {} nothing is set: no rig, no pressure, no stream. Go on with Mix, then Coat.", method.word());
    let gel_coat = ProductKind::of(sheet) == ProductKind::GelCoat;
    let one_way = gel_coat.then_some("Gel coat one way only.");
    let how = [Some(load), Some("Slowly: fast, or back and forth, whips air in."), one_way];
    Some(ByHand { method, text, how: how.into_iter().flatten().map(String::from).collect() })
}

fn step_names(case: &Case<'_>) -> Vec<String> {
    let own: Vec<String> = case.aim().into_iter().flat_map(|aim| &aim.sheet.steps).map(|s| s.name.clone()).collect();
    if own.is_empty() { USUAL_STEPS.map(String::from).to_vec() } else { own }
}

/// The steps of this rig's stream test; ticked since the rig was chosen.
fn guide(case: &Case<'_>) -> Vec<GuideStep> {
    let kind = case.rig().map_or(RigKind::Pot, |r| r.kind);
    let since = case.rig.as_ref().map(|r| r.seq);
    let ticked = |id: &str| case.set_steps.iter().rev().find(|s| s.it.step == id && since.is_none_or(|seq| s.seq > seq));
    looked_at(kind)
        .iter()
        .map(|(id, word)| {
            let done = ticked(id);
            GuideStep { id: (*id).into(), word: (*word).into(), done_at: done.map(|d| d.at), done_by: done.map(|d| d.by.clone()) }
        })
        .collect()
}

fn patterns(climbs: bool) -> Vec<PatternView> {
    let of: &[Pattern] = if climbs { &Pattern::LADDER } else { &Pattern::FAN };
    of.iter().map(|p| PatternView { pattern: *p, word: p.word().into() }).collect()
}

/// What is known of the laps: the class of the gun, the fan of its tip, the school of the sheet.
fn lap_known(case: &Case<'_>) -> LapKnown {
    let rig = case.rig();
    let tip = rig.filter(|r| r.kind.is_tipped()).and_then(|r| decode(r.tip_code.as_deref()?, &[]).ok());
    LapKnown {
        class: rig.map(|r| r.class),
        tip_fan_mm: tip.map(|tip| tip.nominal_fan_mm),
        overlap: case.aim().and_then(|aim| aim.sheet.overlap),
        wet_um: case.wet_aim_um(),
    }
}

/// Where the sums of gun speed start from.
pub(super) fn lap_start(case: &Case<'_>, flow: Option<String>, prefs: Prefs) -> LapStart {
    usual_lap(&lap_known(case), flow, prefs)
}

/// Width of the fan on the part: of the tip fitted, else the usual one.
pub(super) fn fan_mm(case: &Case<'_>) -> f64 {
    lap_known(case).tip_fan_mm.unwrap_or(USUAL_FAN_MM)
}
