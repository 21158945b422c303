//! What the model makes of rig and paint: flow against pressure, where the pressure goes, other nozzles and hoses.

use crate::batch::paint::{KnownFrom, Paint};
use crate::delivery::advise::start_kpa;
use crate::delivery::choose::{FINE_MOST_KPA, LOOK_FROM_KPA, USUAL_KPA, by_bore};
use crate::delivery::{Drops, FluidLine, calibrate, drawn};
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::rigs::Rig;
use crate::sheets::StreamSchool;
use crate::verdict::is_over;
use crate::worded::Worded;
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A point of flow against pressure.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlowPoint {
    pub kpa: f64,
    pub ml_min: f64,
}

/// A mark on the pressure of the curve.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlowMark {
    pub kpa: f64,
    pub word: String,
    /// Usual, most of a fine-finish gun, look for a fault, rating.
    pub is: String,
}

/// Flow against pressure of this rig with this paint.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlowCurve {
    pub points: Vec<FlowPoint>,
    pub marks: Vec<FlowMark>,
    /// Flows that give the school's shortest and longest stream.
    pub band_lo_ml_min: f64,
    pub band_hi_ml_min: f64,
    /// End of the pressure axis.
    pub most_kpa: f64,
    pub most_ml_min: f64,
    /// Figures for the axes, as shown.
    pub most_pressure: Shown,
    pub most_flow: Shown,
}

/// Where the pressure goes, as parts of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PressureShare {
    pub word: String,
    pub kpa: Shown,
    /// 0 to 1 of the whole.
    pub part: f64,
}

/// What the model makes of rig and paint.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Modelled {
    pub viscosity: Shown,
    /// “by the sheet, at 20 °C, pot 30 % of its life”.
    pub viscosity_of: String,
    pub curve: FlowCurve,
    pub shares: Vec<PressureShare>,
    /// At the last pressure, else at the one advised: flow and stream as reckoned.
    pub at: Shown,
    pub flow: Shown,
    pub stream: Shown,
    pub regime: String,
    /// The pressure falls where laminar and turbulent join: the flow is rough there.
    pub rough: bool,
    /// The same flow through other nozzles and other hoses.
    pub nozzles: Vec<OtherPiece>,
    pub hoses: Vec<OtherPiece>,
    pub working: Working,
}

/// The pressure a flow would take through another nozzle or hose.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct OtherPiece {
    pub size: Shown,
    pub kpa: Shown,
    /// It is the one fitted.
    pub fitted: bool,
    /// Over what a fine-finish gun wants: this one is too small.
    pub too_small: bool,
}

/// The model with its picture and its sum.
pub(super) fn modelled(
    (line, paint): (&FluidLine, &Paint),
    rig: &Rig,
    school: StreamSchool,
    at_kpa: Option<f64>,
    bend_mm: f64,
    prefs: Prefs,
) -> Modelled {
    let say = |v: f64, k: QuantityKind| show(v, k, prefs);
    let (lo, hi) = school.band_mm();
    let kpa =
        at_kpa.unwrap_or_else(|| start_kpa(line, &paint.fluid, bend_mm, (lo * hi).sqrt(), rig.most_kpa().unwrap_or(f64::MAX)));
    let at = line.at(&paint.fluid, kpa);
    let most_kpa = (line.for_stream(&paint.fluid, hi, bend_mm).total_kpa * 1.3).max(LOOK_FROM_KPA * 1.1).max(kpa * 1.1);
    let most_kpa = rig.most_kpa().map_or(most_kpa, |rating| most_kpa.min(rating * 1.1));
    let points: Vec<FlowPoint> = (0..=CURVE_POINTS)
        .map(|i| most_kpa * f64::from(i) / f64::from(CURVE_POINTS))
        .map(|kpa| FlowPoint { kpa: drawn(kpa), ml_min: drawn(line.at(&paint.fluid, kpa).flow_ml_min) })
        .collect();
    let most_ml_min = points.last().map_or(1.0, |p| p.ml_min.max(1.0));
    let mark = |kpa: f64, word: String, is: &str| FlowMark { kpa, word, is: is.into() };
    let figure = |kpa: f64| say(kpa, QuantityKind::Pressure).figure;
    let mut marks = vec![
        mark(USUAL_KPA.0, figure(USUAL_KPA.0), "usual_from"),
        mark(USUAL_KPA.1, figure(USUAL_KPA.1), "usual_to"),
        mark(FINE_MOST_KPA, figure(FINE_MOST_KPA), "fine_most"),
        mark(LOOK_FROM_KPA, figure(LOOK_FROM_KPA), "look"),
    ];
    marks.extend(rig.most_kpa().map(|kpa| mark(kpa, "rating".into(), "rating")));
    marks.retain(|m| m.kpa <= most_kpa);
    let age = if paint.age > 0.005 {
        format!(", pot at {} of its life", say(100.0 * paint.age, QuantityKind::Percent).text)
    } else {
        String::new()
    };
    let thin = paint.or_thin_mpa_s.map_or(String::new(), |mpa_s| {
        format!(
            "; a thin paint of {}, turbulent in the hose, would have given the same catch",
            say(mpa_s, QuantityKind::Viscosity).text
        )
    });
    let share = |word: &str, kpa: f64| PressureShare {
        word: word.into(),
        kpa: say(kpa, QuantityKind::Pressure),
        part: (kpa / at.total_kpa.max(f64::MIN_POSITIVE)).clamp(0.0, 1.0),
    };
    Modelled {
        viscosity: say(paint.fluid.viscosity_mpa_s, QuantityKind::Viscosity),
        viscosity_of: match paint.from {
            KnownFrom::Asked => paint.from.word().into(),
            from => format!("{}, at {}{age}{thin}", from.word(), say(paint.temp_c, QuantityKind::Temperature).text),
        },
        curve: FlowCurve {
            points,
            marks,
            band_lo_ml_min: line.for_stream(&paint.fluid, lo, bend_mm).flow_ml_min,
            band_hi_ml_min: line.for_stream(&paint.fluid, hi, bend_mm).flow_ml_min,
            most_kpa,
            most_ml_min,
            most_pressure: say(most_kpa, QuantityKind::Pressure),
            most_flow: say(most_ml_min, QuantityKind::Flow),
        },
        shares: vec![share("hose", at.hose_kpa), share("lift", at.lift_kpa.max(0.0)), share("nozzle", at.nozzle_kpa)],
        at: say(kpa, QuantityKind::Pressure),
        flow: say(at.flow_ml_min, QuantityKind::Flow),
        stream: say(at.stream_mm(bend_mm), QuantityKind::Length),
        regime: at.regime.words().into(),
        rough: calibrate::is_rough(at.regime),
        nozzles: nozzles(line, paint, rig, at.flow_ml_min, prefs),
        hoses: hoses(line, paint, at.flow_ml_min, prefs),
        working: working(line, paint, &at, bend_mm, prefs),
    }
}

/// Points of the curve: enough for a smooth line.
const CURVE_POINTS: i32 = 48;

/// Nozzles a shop usually has, where none are at hand by the rig; millimetres. Common practice in the trade.
const USUAL_NOZZLES_MM: [f64; 6] = [1.0, 1.2, 1.4, 1.8, 2.2, 2.8];
/// Bores fluid hoses are sold in: 1/4, 5/16, 3/8 and 1/2 in. Common practice in the trade.
const USUAL_BORES_MM: [f64; 4] = [6.35, 7.937_5, 9.525, 12.7];

fn other(mm: f64, kind: QuantityKind, kpa: f64, fitted_mm: f64, prefs: Prefs) -> OtherPiece {
    OtherPiece {
        size: show(mm, kind, prefs),
        kpa: show(kpa, QuantityKind::Pressure, prefs),
        fitted: (mm - fitted_mm).abs() < 1e-6,
        too_small: is_over(kpa, FINE_MOST_KPA),
    }
}

/// The same flow through each nozzle at hand.
fn nozzles(line: &FluidLine, paint: &Paint, rig: &Rig, flow_ml_min: f64, prefs: Prefs) -> Vec<OtherPiece> {
    let at_hand = if rig.spare_mm.is_empty() { USUAL_NOZZLES_MM.to_vec() } else { rig.spare_mm.clone() };
    let mut all: Vec<f64> = at_hand.into_iter().filter(|mm| (mm - line.nozzle_mm).abs() > 1e-6).chain([line.nozzle_mm]).collect();
    all.sort_by(f64::total_cmp);
    let kpa = |mm: f64| FluidLine { nozzle_mm: mm, ..*line }.drops(&paint.fluid, flow_ml_min).total_kpa;
    all.into_iter().map(|mm| other(mm, QuantityKind::Nozzle, kpa(mm), line.nozzle_mm, prefs)).collect()
}

/// The same flow through each usual hose.
fn hoses(line: &FluidLine, paint: &Paint, flow_ml_min: f64, prefs: Prefs) -> Vec<OtherPiece> {
    let usual = USUAL_BORES_MM.into_iter().filter(|mm| (mm - line.hose_bore_mm).abs() > 1e-3);
    let all: Vec<f64> = usual.chain([line.hose_bore_mm]).collect();
    by_bore(line, &paint.fluid, &all, flow_ml_min)
        .into_iter()
        .map(|(mm, kpa)| other(mm, QuantityKind::Bore, kpa, line.hose_bore_mm, prefs))
        .collect()
}

fn working(line: &FluidLine, paint: &Paint, at: &Drops, bend_mm: f64, prefs: Prefs) -> Working {
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    let mut w = Working::new(
        "Where the pressure goes",
        "Hose 128·µ·L·Q/(π·d⁴) to Re 2,300, above it Haaland; nozzle ρ/2·(Q/(Cd·A))² with Cd 0.7 and a 3 mm land (from memory)",
    );
    let fluid = &paint.fluid;
    let figures =
        format!("{}, {}", say(fluid.viscosity_mpa_s, QuantityKind::Viscosity), say(fluid.density_kg_l, QuantityKind::Density));
    w.line("Flow", figures, at.flow_ml_min, QuantityKind::Flow, prefs);
    w.line("Reynolds in the hose", at.regime.words(), at.reynolds, QuantityKind::Count, prefs);
    let figures = format!("{} of {}", say(line.hose_length_mm, QuantityKind::Length), say(line.hose_bore_mm, QuantityKind::Bore));
    w.line("Lost in the hose", figures, at.hose_kpa, QuantityKind::Pressure, prefs);
    w.line("To lift it", say(line.lift_mm, QuantityKind::Length), at.lift_kpa, QuantityKind::Pressure, prefs);
    w.line("Lost in the nozzle", say(line.nozzle_mm, QuantityKind::Nozzle), at.nozzle_kpa, QuantityKind::Pressure, prefs);
    w.line("Speed out of it", "flow ÷ its hole", at.speed_m_s, QuantityKind::Speed, prefs);
    w.line(
        "Stream",
        format!("falls {} on the way", say(bend_mm, QuantityKind::Length)),
        at.stream_mm(bend_mm),
        QuantityKind::Length,
        prefs,
    );
    w.line("On the pot", "all together", at.total_kpa, QuantityKind::Pressure, prefs);
    w
}
