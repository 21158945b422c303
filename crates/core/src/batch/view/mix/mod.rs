//! The Mix station: the plan, the pour in hand, the cup, the ratio as it stands.

mod cup_lines;
mod pot;

pub use cup_lines::{CupLines, LineToFill, cup_lines};
pub(in crate::batch::view) use pot::MINUTES_SHORT_S;
use pot::pot;

use crate::batch::beside::HandTo;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::entries::FillInto;
use crate::batch::view::Viewer;
use crate::batch::view::plan::{PlanView, plan};
use crate::coat_system::Method;
use crate::film;
use crate::mixing::{self, Component, Judgement, RescueTo, Said, Way};
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::sheets::{ChargeKind, Sheet};
use crate::verdict::Level;
use crate::working::Working;
use jiff::Timestamp;
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
    /// What wants saying of this mix, worst first.
    pub judgements: Vec<Judgement>,
    /// Ways back from a wrong pour.
    pub rescues: Vec<RescueView>,
    /// Left in it.
    pub left: Shown,
    pub left_ml: f64,
    /// What went to the gun, newest first.
    pub fills: Vec<FillView>,
    /// The dose that matches the coat's first fill, for a litre; before that the sheet's.
    pub dose_for_litre: Option<Shown>,
    /// When it is to be stirred again, in words.
    pub stir_again: Option<String>,
    /// How much thicker than fresh, and what that does.
    pub thicker: Option<String>,
    /// What the kit's can of the pour in hand holds: emptied whole it needs no scale.
    pub whole_can: Option<Shown>,
    /// It is filled up to the line of the kit's base can, and no can of it is emptied.
    #[serde(default)]
    pub to_the_line: bool,
    /// Cautions of this pot: heat, a life in minutes.
    pub cautions: Vec<String>,
    /// Where it came from.
    pub born: Option<String>,
}

/// A way back, as a person chooses it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct RescueView {
    pub to: RescueTo,
    /// “Exact” or “The least”.
    pub word: String,
    /// What to add, in words.
    pub add: String,
    pub total: Shown,
    pub total_mass: Shown,
    /// What does not hold it: cup, stock.
    pub wants: Vec<String>,
    pub working: Working,
}

/// A fill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FillView {
    pub at: Timestamp,
    pub into: String,
    pub amount: Shown,
    pub dose: Option<Shown>,
    /// What would have matched the coat's first fill.
    #[serde(default)]
    pub matching: Option<Shown>,
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
    /// Measured by volume alone: a scale says nothing of it.
    #[serde(default)]
    pub by_volume: bool,
    /// What then cannot be known.
    #[serde(default)]
    pub not_known: Vec<String>,
    /// Ready to use: one press a fill, nothing is mixed.
    #[serde(default)]
    pub ready_to_use: bool,
    /// Where a fill of it goes most likely, by the method.
    #[serde(default)]
    pub ready_into: FillInto,
    /// The dose of a litre that a new cup wants.
    #[serde(default)]
    pub dose_for_litre: Option<Shown>,
    /// The plan of the pots.
    pub plan: Option<PlanView>,
    /// Other open batches of this sheet that the remainder of an open pot may go to.
    pub hand_to: Vec<HandTo>,
}

/// The ratio of a pot as weighed, in the sheet's words, with its sum.
pub(super) fn ratio(sheet: &Sheet, charge: &Charge, prefs: Prefs) -> Option<(Said, Working)> {
    let weighed = charge.weighed();
    let said = mixing::said(sheet, mixing::b_per_a(&weighed)?)?;
    let mut w = Working::new(
        &format!("Ratio as weighed, {}", sheet.ratio_words(prefs)),
        if sheet.by_volume_alone() {
            "Each line read to a quarter of its step, worst case carried through"
        } else {
            "Each reading ± half the scale's resolution, worst case carried through"
        },
    );
    let in_what = sheet.said_in(Component::Base);
    let a = mixing::total_g(&weighed, Component::Base);
    let b = mixing::total_g(&weighed, Component::Hardener);
    w.line("Base", "as measured", a, in_what, prefs);
    w.line("Hardener", "difference of two readings, or measured apart", b, in_what, prefs);
    w.line("At the least", "worst case of the scale", said.measured.lo, said.kind, prefs);
    w.line("At the most", "worst case of the scale", said.measured.hi, said.kind, prefs);
    w.line("As weighed", "with the densities of the sheet", said.measured.value, said.kind, prefs);
    Some((said, w))
}

pub(super) fn mix(case: &Case<'_>, viewer: &Viewer, now: Timestamp) -> MixView {
    let prefs = viewer.writer.prefs;
    let Some(aim) = case.aim() else {
        let none = show(0.0, QuantityKind::Volume, prefs);
        return MixView {
            need: none.clone(),
            propose: none,
            need_working: None,
            ways: Vec::new(),
            pots: Vec::new(),
            by_volume: false,
            not_known: Vec::new(),
            ready_to_use: false,
            ready_into: FillInto::default(),
            dose_for_litre: None,
            plan: None,
            hand_to: Vec::new(),
        };
    };
    let planned = case.plan_mix.as_ref().and_then(|p| case.need_by(&p.it, case.beside.learned, prefs).ok());
    let need = planned.map_or_else(|| case.need_ml(), |(n, _)| n.value);
    let mixed: f64 = case.charges.iter().map(|c| c.mixed_ml(&aim.sheet) - c.out_ml).sum();
    let plan = plan(case, prefs);
    // The next pot as planned; without a plan, all that is missing.
    let one_pot = plan.as_ref().and_then(|p| p.pots.first()).map_or(f64::MAX, |p| p.ml);
    let missing = (need - mixed).max(need * 0.05);
    let open = case.charges.iter().rev().filter(|c| c.closed.is_none() && c.kind == ChargeKind::Pot);
    let pots: Vec<MixPot> = open.map(|c| pot(case, &aim.sheet, c, need, viewer.scale_g, now, prefs)).collect();
    MixView {
        need: show(need, QuantityKind::Volume, prefs),
        propose: show(missing.min(one_pot), QuantityKind::Volume, prefs),
        ways: ways(case, &aim.sheet, prefs),
        need_working: Some(
            plan.as_ref()
                .and_then(|p| p.working.clone())
                .unwrap_or_else(|| film::need_working(aim.area_m2, case.wet_aim_um(), aim.transfer_pct, prefs)),
        ),
        hand_to: if pots.is_empty() { Vec::new() } else { case.beside.hand_to.clone() },
        pots,
        by_volume: aim.sheet.by_volume_alone(),
        not_known: aim.sheet.not_known().iter().map(|what| (*what).into()).collect(),
        ready_to_use: !aim.sheet.has_hardener && aim.sheet.charge == ChargeKind::Pot && case.thinner_pct() <= 0.0,
        ready_into: match aim.method {
            Some(Method::Brush | Method::Roller) => FillInto::Tray,
            Some(Method::GunCup) => FillInto::GunCup,
            None if case.rig().is_some_and(|rig| !rig.kind.is_pressed()) => FillInto::GunCup,
            Some(Method::Pot | Method::Airless | Method::GelCoatMachine | Method::TwinFeed) | None => FillInto::PressurePot,
        },
        dose_for_litre: case.matching_dose_g_l(None).map(|g_l| show(g_l, QuantityKind::MassPerVolume, prefs)),
        plan,
    }
}

/// The ways of asking; where one asks for what is in hand, what the lot in use still holds stands beside it.
fn ways(case: &Case<'_>, sheet: &Sheet, prefs: Prefs) -> Vec<Way> {
    let left = |of: Component| {
        let lot = case.lots_at(Timestamp::MAX).into_iter().rev().find(|l| l.component == of)?;
        Some((lot.lot.code.clone(), case.beside.lots.get(&lot.lot.id)?.left_g?))
    };
    let mut all = mixing::ways(sheet);
    for field in all.iter_mut().flat_map(|w| &mut w.fields) {
        let of = match field.name.as_str() {
            "base_g" => Component::Base,
            "hardener_g" => Component::Hardener,
            _ => continue,
        };
        field.in_stores = left(of).map(|(code, g)| format!("{} in lot {code}", show(g, QuantityKind::Mass, prefs).text));
    }
    all
}
