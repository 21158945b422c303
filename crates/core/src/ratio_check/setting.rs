//! A gel-coat machine is set by its catalyst setting, and before the first catch a rig is set by the trade's start points.

use super::next::{Advice, MOST_STEP, Side, stuck};
use super::{LedgerFigure, USUAL_REPEAT};
use crate::mixing::said;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::rigs::RigKind;
use crate::sheets::Sheet;
use crate::verdict::{Measured, Verdict};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Where adhesive is started on twin pots: about 10 psi; common practice in the trade.
pub const START_A_KPA: f64 = 68.947_572_931_683_61;
/// Where activator is started: about 8 psi; common practice in the trade.
pub const START_B_KPA: f64 = 55.158_058_345_346_89;
/// Under this a stream hardly runs: who types so little often reads a gauge in bar; 3 psi, from memory.
const HARDLY_KPA: f64 = 20.684_271_879_505_08;

/// A catch at a catalyst setting.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SettingTrial {
    /// B per A by weight.
    pub b_per_a: Measured,
    /// The setting, where somebody wrote it.
    pub setting: Option<f64>,
}

/// The next catalyst setting; `None` before a catch, or when the last one is in.
///
/// **Formula:** catalyst ∝ setting; from the second catch on the straight line through the last two settings, where they
/// differ. A step is at most half again. **Units:** the machine's own marks. **Source:** derived: the catalyst is pumped in proportion.
pub fn advise_setting(sheet: &Sheet, trials: &[SettingTrial], prefs: Prefs) -> Option<Advice> {
    let (hardener, now) = (sheet.hardener()?, trials.last()?);
    let said_now = said(sheet, Measured::pm(now.b_per_a.value, 0.0))?;
    if said_now.tolerance.judge(said_now.measured) == Verdict::In {
        return None;
    }
    let (y, target) = (now.b_per_a.value, hardener.b_per_a);
    let factor = (target / y).clamp(1.0 / MOST_STEP, MOST_STEP);
    let up = target > y;
    let word = if up { "up" } else { "down" };
    let say = |b_per_a: f64| {
        said(sheet, Measured::pm(b_per_a, 0.0)).map_or(String::new(), |s| show(s.measured.value, s.kind, prefs).text)
    };
    let mut w = Working::new("Next catalyst setting", "The catalyst is pumped in proportion to its setting");
    let Some(setting) = now.setting.filter(|s| *s > 0.0) else {
        w.line("So much of what it gives now", "aim over catch, at most half again", factor, QuantityKind::Count, prefs);
        let by = format!("{:.0} %", (factor - 1.0).abs() * 100.0);
        let text =
            format!("Turn the catalyst setting {word} by {by}: it gives {} and {} is wanted. Catch again.", say(y), say(target));
        return Some(Advice { raise: up, ..stuck(Side::B, text, w) });
    };
    let before = trials.iter().rev().skip(1).find_map(|t| Some((t.setting?, t.b_per_a.value)));
    // Two settings apart by more than the play of a catch say how the machine answers; else it answers in proportion.
    let line = before.filter(|(s, v)| (s - setting).abs() > 0.05 * setting && (v - y) * (s - setting) > 0.0);
    let wanted = match line {
        Some((s, v)) => setting + (target - y) * (setting - s) / (y - v),
        None => setting * target / y,
    };
    let to = wanted.clamp(setting / MOST_STEP, setting * MOST_STEP);
    // A dial is not read nearer than a twentieth of a mark.
    let to = (to * 20.0).round() / 20.0;
    w.line("Meets the aim at", "in proportion, or through the last two", wanted, QuantityKind::Count, prefs);
    w.line("Next", "at most half again in one step", to, QuantityKind::Count, prefs);
    let then = match line {
        Some((s, v)) => y + (to - setting) * (y - v) / (setting - s),
        None => y * to / setting,
    };
    let off = (now.b_per_a.hi - now.b_per_a.lo) / 2.0 / y;
    let spread = 2.0 * then * (2.0 * USUAL_REPEAT * USUAL_REPEAT + off * off / 3.0).sqrt();
    let ends = said(sheet, Measured { lo: (then - spread).max(then * 0.1), value: then, hi: then + spread })?;
    let (from, till) = (show(ends.measured.lo, ends.kind, prefs).figure, show(ends.measured.hi, ends.kind, prefs).text);
    let (is, goes) = (show(setting, QuantityKind::Count, prefs).figure, show(to, QuantityKind::Count, prefs).figure);
    let text =
        format!("Turn the catalyst setting {word} from {is} to {goes}. Expect {from} to {till}; catch again with clean cups.");
    Some(Advice { to_setting: Some(to), raise: up, ..stuck(Side::B, text, w) })
}

/// Where to begin before anything was caught.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct StartAt {
    /// Pressure on A.
    pub a_kpa: Option<f64>,
    /// Pressure on B.
    pub b_kpa: Option<f64>,
    /// In words.
    pub text: String,
}

/// The trade's start points for a rig, never over what it bears; `None` for one without two streams.
///
/// **Rule:** twin pots: A about 10 psi, B about 8, each stream seen alone by its valve; a machine: as its catalyst stands.
/// **Units:** kPa. **Source:** common practice in the trade.
pub fn start(kind: RigKind, most_kpa: Option<f64>, prefs: Prefs) -> Option<StartAt> {
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    match kind {
        RigKind::TwinPots => {
            let Some(most) = most_kpa else {
                let text =
                    "What these pots bear is not known, so no pressure is advised. Put rating and relief down with the rig.";
                return Some(StartAt { a_kpa: None, b_kpa: None, text: text.into() });
            };
            let (a, b) = (START_A_KPA.min(most), START_B_KPA.min(most));
            let text =
                format!("Start with A at {} and B at {}: see each stream alone by its valve, then catch both.", say(a), say(b));
            Some(StartAt { a_kpa: Some(a), b_kpa: Some(b), text })
        }
        RigKind::GelCoatMachine => {
            let text = "Catch once as the catalyst stands and write its setting down: the next one is reckoned from it.";
            Some(StartAt { a_kpa: None, b_kpa: None, text: text.into() })
        }
        RigKind::Pot | RigKind::Pump | RigKind::Airless | RigKind::GunCup => None,
    }
}

/// Usual slips in a catch, named; none is refused: it may be as it says.
///
/// **Rule:** A and B told the wrong way round, where the other way it is in; a pressure under 3 psi that in bar would be a usual
/// one. **Units:** g, kPa. **Source:** common practice in the trade.
pub fn slips(sheet: &Sheet, a_g: f64, b_g: f64, pressures: &[(&str, f64)], prefs: Prefs) -> Vec<String> {
    let mut all = Vec::new();
    let figure = |b_per_a: f64| said(sheet, Measured::pm(b_per_a, 0.0)).and_then(LedgerFigure::of);
    let as_told = figure(b_g / a_g).map(|f| f.tolerance().judge(f.measured()));
    if let Some(turned) = figure(a_g / b_g).filter(|f| f.tolerance().judge(f.measured()) == Verdict::In)
        && as_told.is_some_and(Verdict::is_out)
    {
        let (a, b) = (show(a_g, QuantityKind::Mass, prefs).text, show(b_g, QuantityKind::Mass, prefs).text);
        let then = show(turned.value, turned.kind(), prefs).text;
        all.push(format!("{a} of A to {b} of B looks told the wrong way round: turned, it is {then}."));
    }
    for (name, kpa) in pressures.iter().filter(|(_, kpa)| *kpa > 0.0 && *kpa < HARDLY_KPA) {
        let psi = show(*kpa, QuantityKind::Pressure, Prefs::default());
        let bar =
            format!("{} bar is {}", psi.figure, show(kpa * KPA_OF_PSI_AS_BAR, QuantityKind::Pressure, Prefs::default()).text);
        all.push(format!("{} on {name} hardly moves a stream. If the gauge reads bar: {bar}.", psi.text));
    }
    all
}

/// A figure read in bar and taken for psi is so many times too small.
const KPA_OF_PSI_AS_BAR: f64 = 14.503_773_773_020_92;
