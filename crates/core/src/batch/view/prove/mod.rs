//! The Prove station: pots as weighed, pairs of catches, the next pressure, the whole run, the bond test, the next check.

mod bond;
mod doubt;
mod run;

pub use bond::BondSeen;
pub use run::RunView;

use super::{mix, spray};
use crate::batch::case::Case;
use crate::batch::entries::RatioCheck;
use crate::batch::proofs;
use crate::mixing;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::ratio_check::{self, Advice, DueView, SettingTrial, Settling, StartAt, Trial, advise_setting, slips};
use crate::rigs::{Rig, RigKind};
use crate::sheets::{ChargeKind, Hazard, Sheet};
use crate::verdict::Level;
use crate::working::Working;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// One proof: a pot as weighed, or a pair of catches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Proof {
    pub title: String,
    pub level: Level,
    pub working: Working,
}

/// One cup of a pair of catches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CatchCup {
    pub name: String,
    pub caught: Shown,
    /// How full it is drawn, 0 to 1: by volume, the fuller cup at four fifths.
    pub full: f64,
    pub pressure: Option<Shown>,
    pub flow: Option<Shown>,
}

/// Two cups caught together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct TwoCups {
    pub a: CatchCup,
    pub b: CatchCup,
    /// How long they ran.
    pub time: Option<Shown>,
}

/// The Prove station.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ProveView {
    /// Every proof, newest first.
    pub proofs: Vec<Proof>,
    /// The charge on the gun, or the one waiting for it: catches are of it.
    #[serde(default)]
    pub charge: Option<Uuid>,
    /// Catches are what proves this product.
    pub by_catch: bool,
    /// The last pair of catches, as two cups.
    pub cups: Option<TwoCups>,
    /// Which pressure to move, and to what.
    pub advice: Option<Advice>,
    /// Where to begin before anything was caught.
    #[serde(default)]
    pub start: Option<StartAt>,
    /// Usual slips the last catch looks like.
    #[serde(default)]
    pub slips: Vec<String>,
    /// What else would settle a verdict that is *cannot tell*.
    #[serde(default)]
    pub settling: Option<Settling>,
    /// When the next check is due.
    #[serde(default)]
    pub due: Option<DueView>,
    /// A machine's catalyst is set by its setting, not by a pressure.
    #[serde(default)]
    pub by_setting: bool,
    /// The streams are never put together: peroxide.
    #[serde(default)]
    pub never_pool: bool,
    /// The charge a whole run is weighed for: the last one, ended or not.
    #[serde(default)]
    pub last_charge: Option<Uuid>,
    /// The last whole run.
    #[serde(default)]
    pub run: Option<RunView>,
    /// Bond tests, newest first.
    #[serde(default)]
    pub bonds: Vec<BondSeen>,
    /// The sheet asks for one.
    #[serde(default)]
    pub asks_bond: bool,
    /// Setting of the last pair, offered again.
    #[serde(default)]
    pub last_setting: Option<Shown>,
    /// Pressures and lift of the last pair, offered again.
    pub last_a: Option<Shown>,
    pub last_b: Option<Shown>,
    pub last_lift: Option<Shown>,
}

/// The last ratio on its level.
pub(super) fn newest(case: &Case<'_>, prefs: Prefs) -> Option<Level> {
    proofs(case, prefs).next().map(|p| p.level)
}

/// Every proof, newest first, each made as it is asked for.
fn proofs<'a>(case: &'a Case<'_>, prefs: Prefs) -> impl Iterator<Item = Proof> + 'a {
    let draw = move |said: mixing::Said| Level::draw("Ratio", said.measured, said.tolerance, 1.0, said.kind, prefs);
    let sheet = case.aim().map(|aim| &aim.sheet);
    let caught = case.catches.iter().rev().filter_map(move |catch| {
        let (said, working) = ratio_check::judge(sheet?, catch.it.a_g, catch.it.b_g, catch.it.resolution_g, prefs)?;
        Some(Proof { title: format!("Caught by {}", catch.by), level: draw(said), working })
    });
    let weighed = case.charges.iter().rev().filter_map(move |charge| {
        let (said, working) = mix::ratio(sheet?, charge, prefs)?;
        Some(Proof { title: format!("Pot {} as weighed", charge.no), level: draw(said), working })
    });
    caught.chain(weighed)
}

pub(super) fn prove(case: &Case<'_>, now: Timestamp, prefs: Prefs) -> ProveView {
    let Some(aim) = case.aim() else { return ProveView::default() };
    let last = case.catches.last().map(|c| &c.it);
    let again = |v: Option<f64>, kind| v.map(|v| show(v, kind, prefs));
    let by_catch = aim.sheet.charge == ChargeKind::AtGun;
    let rig = case.rig();
    let by_setting = rig.is_some_and(|rig| rig.kind == RigKind::GelCoatMachine);
    let due = proofs::next_due(case, None, now);
    ProveView {
        start: rig
            .filter(|_| by_catch && last.is_none())
            .and_then(|rig| ratio_check::start(rig.kind, rig.fluid_most_kpa(), prefs)),
        slips: last.map(|c| slips_of(&aim.sheet, c, by_setting, prefs)).unwrap_or_default(),
        settling: doubt::settling(case, prefs),
        due: due.map(|(due, kg)| due.view(now, kg, proofs::last_hours_rate(case, now), prefs)),
        by_setting,
        never_pool: aim.sheet.hazards.contains(&Hazard::Peroxide),
        last_charge: case.charges.last().map(|c| c.id),
        run: run::seen(case, prefs),
        bonds: bond::seen(case),
        asks_bond: aim.sheet.bond_test,
        last_setting: again(last.and_then(|c| c.setting_count), QuantityKind::Count),
        charge: spray::on_gun(case).or_else(|| spray::waiting(case, now, prefs)).map(|c| c.id),
        proofs: proofs(case, prefs).collect(),
        by_catch,
        cups: last.map(|c| cups(&aim.sheet, c, prefs)),
        advice: advice(case, &aim.sheet, by_setting, prefs),
        last_a: again(last.and_then(|c| c.a_kpa), QuantityKind::Pressure),
        last_b: again(last.and_then(|c| c.b_kpa), QuantityKind::Pressure),
        last_lift: again(last.and_then(|c| c.lift_mm), QuantityKind::Length),
    }
}

/// The next pressure of a twin feed, or the next catalyst setting of a machine.
fn advice(case: &Case<'_>, sheet: &Sheet, by_setting: bool, prefs: Prefs) -> Option<Advice> {
    if by_setting {
        let trial = |c: &RatioCheck| {
            let b_per_a = ratio_check::b_per_a_of(c.a_g, c.b_g, c.resolution_g)?;
            Some(SettingTrial { b_per_a, setting: c.setting_count })
        };
        let trials: Vec<SettingTrial> = case.catches.iter().filter_map(|c| trial(&c.it)).collect();
        return advise_setting(sheet, &trials, prefs);
    }
    let trials: Vec<Trial> = case.catches.iter().filter_map(|c| c.it.trial()).collect();
    ratio_check::advise(sheet, &trials, case.rig().and_then(Rig::fluid_most_kpa), prefs)
}

fn slips_of(sheet: &Sheet, c: &RatioCheck, by_setting: bool, prefs: Prefs) -> Vec<String> {
    // A machine's pressures are of its air motor.
    let pressures = [("A", c.a_kpa), ("B", c.b_kpa)];
    let read: Vec<(&str, f64)> =
        pressures.into_iter().filter(|_| !by_setting).filter_map(|(name, kpa)| Some((name, kpa?))).collect();
    slips(sheet, c.a_g, c.b_g, &read, prefs)
}

fn cups(sheet: &Sheet, c: &RatioCheck, prefs: Prefs) -> TwoCups {
    let (a_ml, b_ml) =
        (c.a_g / sheet.base_kg_l(), c.b_g / sheet.density_kg_l(crate::component::Component::Hardener).unwrap_or(1.0));
    let most = a_ml.max(b_ml).max(f64::MIN_POSITIVE);
    let cup = |name: &str, g: f64, ml: f64, kpa: Option<f64>| CatchCup {
        name: name.into(),
        caught: show(g, QuantityKind::Mass, prefs),
        full: 0.8 * ml / most,
        pressure: kpa.map(|p| show(p, QuantityKind::Pressure, prefs)),
        flow: c.caught_watch_s.map(|s| show(ml / s * 60.0, QuantityKind::Flow, prefs)),
    };
    TwoCups {
        a: cup("A", c.a_g, a_ml, c.a_kpa),
        b: cup("B", c.b_g, b_ml, c.b_kpa),
        time: c.caught_watch_s.map(|s| show(s, QuantityKind::Stopwatch, prefs)),
    }
}
