//! The Mix station: the plan, the pour in hand, the cup, the ratio as it stands.

use crate::batch::record::{Charge, Record};
use crate::film;
use crate::mixing::{self, Component, PlannedPour, Said, Way};
use crate::quantity::{Kind, Prefs, Shown, show};
use crate::sheets::{ChargeKind, DEFAULT_TOLERANCE_PCT, Sheet};
use crate::verdict::{Level, Measured, Tolerance, Verdict};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// One row of the pour table.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PourLine {
    pub component: Component,
    pub name: String,
    pub lot: Option<String>,
    pub plan: Shown,
    pub poured: Option<Shown>,
    /// in, short, over, pouring.
    pub word: String,
    /// This is the pour in hand.
    pub in_hand: bool,
}

/// A mark on the cup.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CupMark {
    pub component: Component,
    pub label: String,
    /// Height, 0 to 1 of the cup.
    pub at: f64,
    /// Liquid stands to here.
    pub poured: bool,
}

/// A pot at Mix.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct MixPot {
    pub id: Uuid,
    pub no: i64,
    pub wanted: Shown,
    pub lines: Vec<PourLine>,
    /// What to pour now; missing when all is in.
    pub hand: Option<Component>,
    /// Its name.
    pub hand_name: Option<String>,
    /// What one tared cup shows when it is in.
    pub to_reading: Option<Shown>,
    /// What is still to go.
    pub to_go: Option<Shown>,
    /// What the scale shows.
    pub on_scale: Shown,
    /// The pour in hand, or the last one.
    pub level: Option<Level>,
    pub ratio: Option<Level>,
    pub marks: Vec<CupMark>,
    pub combined: bool,
    pub stirred: bool,
    pub working: Working,
    /// How the wanted volume was reckoned, when it was asked another way.
    pub asked: Option<Working>,
}

/// The Mix station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct MixView {
    pub need: Shown,
    /// Need less what was mixed: proposed for the next pot, as a text to edit.
    pub propose: Shown,
    pub need_working: Option<Working>,
    /// The ways of asking how much.
    pub ways: Vec<Way>,
    /// Open pots, newest first.
    pub pots: Vec<MixPot>,
}

/// The ratio of a pot as weighed, in the sheet's words, with its sum.
pub(super) fn ratio(sheet: &Sheet, charge: &Charge, prefs: Prefs) -> Option<(Said, Working)> {
    let weighed = charge.weighed();
    let said = mixing::said(sheet, mixing::b_per_a(&weighed)?)?;
    let mut w = Working::new(
        &format!("Ratio as weighed, {}", sheet.ratio_words(prefs)),
        "Each reading ± half the scale's resolution, worst case carried through",
    );
    let a = mixing::total_g(&weighed, Component::Base);
    let b = mixing::total_g(&weighed, Component::Hardener);
    w.line("Base", "on the scale", a, Kind::Mass, prefs);
    w.line("Hardener", "difference of two readings, or weighed apart", b, Kind::Mass, prefs);
    w.line("At the least", "worst case of the scale", said.measured.lo, said.kind, prefs);
    w.line("At the most", "worst case of the scale", said.measured.hi, said.kind, prefs);
    w.line("As weighed", "with the densities of the sheet", said.measured.value, said.kind, prefs);
    Some((said, w))
}

pub(super) fn mix(record: &Record, prefs: Prefs) -> MixView {
    let Some(aim) = record.aim() else {
        let none = show(0.0, Kind::Volume, prefs);
        return MixView { need: none.clone(), propose: none, need_working: None, ways: Vec::new(), pots: Vec::new() };
    };
    let need = film::need_ml(aim.area_m2, aim.wet_um, aim.transfer_pct);
    let mixed: f64 = record.charges.iter().map(|c| c.mixed_ml(&aim.sheet)).sum();
    MixView {
        need: show(need, Kind::Volume, prefs),
        propose: show((need - mixed).max(need * 0.05), Kind::Volume, prefs),
        ways: mixing::ways(&aim.sheet),
        need_working: Some(film::need_working(aim.area_m2, aim.wet_um, aim.transfer_pct, prefs)),
        pots: record
            .charges
            .iter()
            .rev()
            .filter(|c| c.closed.is_none() && c.kind == ChargeKind::Pot)
            .map(|c| pot(record, &aim.sheet, c, aim.thinner_pct, prefs))
            .collect(),
    }
}

fn pot(record: &Record, sheet: &Sheet, charge: &Charge, thinner_pct: f64, prefs: Prefs) -> MixPot {
    let plan = record.plan(charge);
    let weighed = charge.weighed();
    let go = mixing::to_go(&plan, &weighed);
    let half = weighed.last().map_or(0.5, |w| w.resolution_g / 2.0);
    let judge = |p: &PlannedPour, left: &PlannedPour| {
        let target = mixing::total_g(&weighed, p.component) + left.mass_g;
        let slack = slack_g(sheet, target);
        (target, Tolerance::between(target - slack, target + slack))
    };
    let done = |p: &PlannedPour, left: &PlannedPour| {
        let poured = mixing::total_g(&weighed, p.component);
        poured > 0.0 && matches!(judge(p, left).1.judge(Measured::pm(poured, half)), Verdict::In | Verdict::CannotTell)
    };
    let hand = plan.iter().zip(&go).find(|(p, left)| !done(p, left)).map(|(p, left)| (p.component, *left));
    let lines = plan
        .iter()
        .zip(&go)
        .map(|(p, left)| {
            let poured = mixing::total_g(&weighed, p.component);
            let (target, tol) = judge(p, left);
            let in_hand = hand.is_some_and(|(c, _)| c == p.component);
            let word = match tol.judge(Measured::pm(poured, half)) {
                _ if poured == 0.0 => "",
                Verdict::In | Verdict::CannotTell => "in",
                Verdict::Low => "short",
                Verdict::High => "over",
            };
            PourLine {
                component: p.component,
                name: sheet.component_name(p.component),
                lot: charge
                    .pours
                    .iter()
                    .rev()
                    .find(|x| x.it.weighed.component == p.component)
                    .and_then(|x| x.it.lot.clone())
                    .map(|l| l.code),
                plan: show(target, Kind::Mass, prefs),
                poured: (poured > 0.0).then(|| show(poured, Kind::Mass, prefs)),
                word: word.into(),
                in_hand,
            }
        })
        .collect();
    let said = ratio(sheet, charge, prefs).map(|(said, _)| said);
    let ratio_level = said.map(|s| {
        let level = Level::draw("Ratio as it stands", s.measured, s.tolerance, 1.0, s.kind, prefs);
        if hand.is_some_and(|(c, _)| c == Component::Hardener) { level.under_way("short so far") } else { level }
    });
    MixPot {
        id: charge.id,
        no: charge.no,
        wanted: show(charge.wanted_ml, Kind::Volume, prefs),
        lines,
        hand: hand.map(|(c, _)| c),
        hand_name: hand.map(|(c, _)| sheet.component_name(c)),
        to_reading: hand.map(|(_, left)| show(weighed.last().map_or(0.0, |w| w.reading_g) + left.mass_g, Kind::Mass, prefs)),
        to_go: hand.map(|(_, left)| show(left.mass_g, Kind::Mass, prefs)),
        on_scale: show(weighed.last().map_or(0.0, |w| w.reading_g), Kind::Mass, prefs),
        level: pour_level(&plan, &go, charge, sheet, prefs),
        ratio: ratio_level,
        marks: marks(sheet, charge, &plan, &go, prefs),
        combined: charge.combined().is_some(),
        stirred: charge.stirred.is_some(),
        working: mixing::working(sheet, &plan, charge.wanted_ml, thinner_pct, prefs),
        asked: charge
            .amount
            .as_ref()
            .zip(record.on_the_part())
            .and_then(|(amount, on)| mixing::wanted_ml(sheet, amount, on, prefs).ok())
            .map(|(_, working)| working),
    }
}

/// How far one pour may be off its target: the sheet's tolerance, 5 % where it states none.
fn slack_g(sheet: &Sheet, target_g: f64) -> f64 {
    target_g * sheet.hardener().map_or(DEFAULT_TOLERANCE_PCT / 100.0, |h| h.tolerance)
}

/// The last pour on its level: mass poured of that component against what it should be.
fn pour_level(plan: &[PlannedPour], go: &[PlannedPour], charge: &Charge, sheet: &Sheet, prefs: Prefs) -> Option<Level> {
    let weighed = charge.weighed();
    let last = weighed.last()?;
    let left = plan.iter().zip(go).find(|(p, _)| p.component == last.component)?.1;
    let poured = mixing::total_g(&weighed, last.component);
    let target = poured + left.mass_g;
    let slack = slack_g(sheet, target);
    let tol = Tolerance::between(target - slack, target + slack);
    let first = weighed.len() == 1 || last.tared;
    let m = Measured::pm(poured, if first { last.resolution_g / 2.0 } else { last.resolution_g });
    let level = Level::draw(&format!("{} poured", sheet.component_name(last.component)), m, tol, 1.0, Kind::Mass, prefs);
    Some(match tol.judge(m) {
        Verdict::Low => level.under_way("pouring").advise(format!("{} to go", show(left.mass_g, Kind::Mass, prefs).text)),
        Verdict::High => level.advise("the rest of the plan grows to match"),
        Verdict::In | Verdict::CannotTell => level,
    })
}

/// Marks on the cup: poured layers, then what is still to come, by volume, the cup a fifth larger than the plan.
fn marks(sheet: &Sheet, charge: &Charge, plan: &[PlannedPour], go: &[PlannedPour], prefs: Prefs) -> Vec<CupMark> {
    let weighed = charge.weighed();
    // What has no density on the sheet is taken not to add volume.
    let volume_of = |c: Component, g: f64| sheet.density_kg_l(c).map_or(0.0, |d| g / d);
    let volume =
        |p: &PlannedPour, left: &PlannedPour| volume_of(p.component, mixing::total_g(&weighed, p.component) + left.mass_g);
    let full: f64 = plan.iter().zip(go).map(|(p, l)| volume(p, l)).sum::<f64>() * 1.2;
    if full <= 0.0 {
        return Vec::new();
    }
    let mut out = Vec::new();
    let (mut height, mut reading) = (0.0, 0.0);
    for (p, left) in plan.iter().zip(go) {
        let poured = mixing::total_g(&weighed, p.component);
        if poured > 0.0 {
            reading += poured;
            height += volume_of(p.component, poured);
            let label = format!("{}, {}", sheet.component_name(p.component), show(poured, Kind::Mass, prefs).text);
            out.push(CupMark { component: p.component, label, at: height / full, poured: true });
        }
        // What is in within tolerance needs no mark to pour to.
        if left.mass_g > slack_g(sheet, poured + left.mass_g) {
            reading += left.mass_g;
            height += volume_of(p.component, left.mass_g);
            let label = format!("{} to {}", sheet.component_name(p.component), show(reading, Kind::Mass, prefs).text);
            out.push(CupMark { component: p.component, label, at: height / full, poured: false });
        }
    }
    out
}
