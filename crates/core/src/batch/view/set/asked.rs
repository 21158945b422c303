//! The line of a batch asked both ways: a pressure, a flow or a stream is given, and the other two follow; through another
//! nozzle or hose, with a thicker, thinner or warmer paint.

use super::modelled::{Modelled, modelled};
use super::notes::of_pressure;
use crate::batch::case::Case;
use crate::batch::paint::Paint;
use crate::batch::rig_proposed::{rig_proposed, with_rig};
use crate::delivery::viscosity::at_temperature;
use crate::delivery::{Fluid, FluidLine, judge_stream};
use crate::limits;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::refusal::Refusal;
use crate::rigs::{Rig, may_press};
use crate::verdict::Level;
use crate::verdict::Measured;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// What is asked: one of the first three. The others stand in for what the rig and the paint are.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AskLine {
    /// This pressure on the pot.
    #[serde(default)]
    pub pot_kpa: Option<f64>,
    /// This flow.
    #[serde(default)]
    pub flow_ml_min: Option<f64>,
    /// A stream of this length.
    #[serde(default)]
    pub stream_mm: Option<f64>,
    /// Through another nozzle.
    #[serde(default)]
    pub nozzle_mm: Option<f64>,
    /// Through another hose.
    #[serde(default)]
    pub hose_bore_mm: Option<f64>,
    /// A shorter or longer one.
    #[serde(default)]
    pub hose_length_mm: Option<f64>,
    /// The gun higher or lower.
    #[serde(default)]
    pub lift_mm: Option<f64>,
    /// A paint as thick as this.
    #[serde(default)]
    pub viscosity_mpa_s: Option<f64>,
    /// This paint at another temperature.
    #[serde(default)]
    pub paint_c: Option<f64>,
}

/// What the line answers.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct LineAsked {
    /// The stream to expect, against the school.
    pub level: Level,
    /// Out of the nozzle.
    pub speed: Shown,
    /// In the hose.
    pub reynolds: Shown,
    /// The rig does not bear it.
    pub stop: Option<String>,
    /// What is to be said of such a pressure.
    pub note: Option<String>,
    pub modelled: Modelled,
}

fn missing(field: &str, text: &str) -> Refusal {
    Refusal::bad_input("one-of-three", field, text)
}

/// Answers.
///
/// **Formula:** [`FluidLine::at`] of a pressure, [`FluidLine::drops`] of a flow, [`FluidLine::for_stream`] of a stream; the
/// paint brought to its temperature by [`at_temperature`]. **Units:** kPa, mL/min, mm, mPa·s, °C. **Source:** as those.
/// **Errors:** `one-of-three` unless exactly one of pressure, flow and stream is given; a refusal naming the field outside
/// its limits; `no-line` for a rig that has none, `no-paint` where nothing says how thick the paint is.
pub fn ask(case: &Case<'_>, asked: &AskLine, bend_mm: f64, now: Timestamp, prefs: Prefs) -> Result<LineAsked, Refusal> {
    // As long as none is chosen, of the rig the station opens on.
    let proposed = rig_proposed(case).map(|proposed| with_rig(case, &proposed, now));
    let case = &Case::new(proposed.as_ref().unwrap_or(case.record), case.beside);
    let rig =
        case.rig().ok_or_else(|| Refusal::conflict("no-line", "Choose the rig first: its hose and nozzle are reckoned with."))?;
    let fitted = rig.line().ok_or_else(|| {
        Refusal::conflict(
            "no-line",
            format!("A {} is set by its pattern: no line is reckoned through an airless tip.", rig.kind.word()),
        )
    })?;
    let line = FluidLine {
        nozzle_mm: asked.nozzle_mm.unwrap_or(fitted.nozzle_mm),
        hose_bore_mm: asked.hose_bore_mm.unwrap_or(fitted.hose_bore_mm),
        hose_length_mm: asked.hose_length_mm.unwrap_or(fitted.hose_length_mm),
        lift_mm: asked.lift_mm.unwrap_or(fitted.lift_mm),
    };
    line.check(prefs)?;
    let paint = paint(case, asked, now, prefs)?;
    let kpa = pressure(asked, &line, &paint.fluid, bend_mm, prefs)?;
    let school = case.aim().map(|b| b.sheet.stream).unwrap_or_default();
    let at = line.at(&paint.fluid, kpa);
    Ok(LineAsked {
        level: judge_stream(school, Measured::pm(at.stream_mm(bend_mm), 0.0), prefs).level,
        speed: show(at.speed_m_s, QuantityKind::Speed, prefs),
        reynolds: show(at.reynolds, QuantityKind::Count, prefs),
        stop: may_press(rig, "pot_kpa", kpa, prefs).err().map(|r| r.text),
        note: of_pressure(rig, kpa, Some(&(line, paint)), prefs),
        modelled: modelled((&line, &paint), rig, school, Some(kpa), bend_mm, prefs),
    })
}

/// The paint as thick, or as warm, as is asked.
fn paint(case: &Case<'_>, asked: &AskLine, now: Timestamp, prefs: Prefs) -> Result<Paint, Refusal> {
    let known = case.paint(now);
    limits::VISCOSITY.check_optional("viscosity_mpa_s", asked.viscosity_mpa_s, prefs)?;
    limits::TEMPERATURE.check_optional("paint_c", asked.paint_c, prefs)?;
    if let Some(viscosity_mpa_s) = asked.viscosity_mpa_s {
        let other = case.paint_of(viscosity_mpa_s, now);
        return other.ok_or_else(|| Refusal::conflict("not-begun", "This batch is not begun."));
    }
    let mut paint = known.ok_or_else(|| {
        let text = "The sheet states no viscosity and no cup ran: how thick is this paint?";
        Refusal::bad_input("no-paint", "viscosity_mpa_s", text)
    })?;
    if let Some(c) = asked.paint_c {
        paint.fluid.viscosity_mpa_s = at_temperature(paint.fluid.viscosity_mpa_s, paint.temp_c, c, case.steepness_k());
        paint.temp_c = c;
    }
    Ok(paint)
}

/// The pressure that is asked, or that a flow or a stream takes.
fn pressure(asked: &AskLine, line: &FluidLine, fluid: &Fluid, bend_mm: f64, prefs: Prefs) -> Result<f64, Refusal> {
    // What a flow or a stream takes is refused at what was typed, where no pot could give it.
    let takes = |field: &str, kpa: f64| limits::FLUID_PRESSURE.check(field, kpa.max(0.0), prefs);
    match (asked.pot_kpa, asked.flow_ml_min, asked.stream_mm) {
        (Some(kpa), None, None) => limits::FLUID_PRESSURE.check("pot_kpa", kpa, prefs),
        (None, Some(q), None) => {
            limits::FLUID_FLOW.check("flow_ml_min", q, prefs)?;
            takes("flow_ml_min", line.drops(fluid, q).total_kpa)
        }
        (None, None, Some(mm)) => {
            limits::STREAM.check("stream_mm", mm, prefs)?;
            takes("stream_mm", line.for_stream(fluid, mm, bend_mm).total_kpa)
        }
        (None, None, None) => Err(missing("pot_kpa", "Give a pressure, a flow or a stream.")),
        (Some(_), Some(_), _) => Err(missing("flow_ml_min", "A pressure or a flow: one of the two follows from the other.")),
        _ => Err(missing("stream_mm", "A stream alone: pressure and flow follow from it.")),
    }
}

/// What the line is now, as texts in the reader's units: what stands where nothing else is typed.
pub(super) fn as_it_is(rig: Option<&Rig>, paint: Option<&Paint>, prefs: Prefs) -> BTreeMap<String, String> {
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    let line = rig.and_then(Rig::line);
    let measures = line.into_iter().flat_map(|l| {
        [
            ("nozzle_mm", say(l.nozzle_mm, QuantityKind::Nozzle)),
            ("hose_bore_mm", say(l.hose_bore_mm, QuantityKind::Bore)),
            ("hose_length_mm", say(l.hose_length_mm, QuantityKind::Length)),
            ("lift_mm", say(l.lift_mm, QuantityKind::Length)),
        ]
    });
    let paint = paint.into_iter().flat_map(|p| {
        [
            ("viscosity_mpa_s", say(p.fluid.viscosity_mpa_s, QuantityKind::Viscosity)),
            ("paint_c", say(p.temp_c, QuantityKind::Temperature)),
        ]
    });
    measures.chain(paint).map(|(field, text)| (field.into(), text)).collect()
}
