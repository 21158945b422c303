//! The Prove station: pots as weighed, pairs of catches, and the next pressure.

use super::{mix, spray};
use crate::batch::case::Case;
use crate::batch::entries::RatioCheck;
use crate::mixing;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::ratio_check::{self, Advice, Trial};
use crate::rigs::Rig;
use crate::sheets::{ChargeKind, Sheet};
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
    let trials: Vec<Trial> = case.catches.iter().filter_map(|c| c.it.trial()).collect();
    ProveView {
        charge: spray::on_gun(case).or_else(|| spray::waiting(case, now, prefs)).map(|c| c.id),
        proofs: proofs(case, prefs).collect(),
        by_catch: aim.sheet.charge == ChargeKind::AtGun,
        cups: last.map(|c| cups(&aim.sheet, c, prefs)),
        advice: ratio_check::advise(&aim.sheet, &trials, case.rig().and_then(Rig::most_kpa), prefs),
        last_a: again(last.and_then(|c| c.a_kpa), QuantityKind::Pressure),
        last_b: again(last.and_then(|c| c.b_kpa), QuantityKind::Pressure),
        last_lift: again(last.and_then(|c| c.lift_mm), QuantityKind::Length),
    }
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
