//! The whole run by its supplies: its ratio beside the mean of the catches, and where the paint went.

use crate::batch::case::Case;
use crate::batch::entries::Begin;
use crate::batch::proofs::mean_of_catches;
use crate::coat_system::Method;
use crate::component::Component;
use crate::mixing;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::ratio_check::{Account, Agreement, Run};
use crate::takeoff;
use crate::verdict::{Level, Measured};
use crate::working::Working;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How far transfer is known, in points: sprayed, and by brush or roller; from memory.
const TRANSFER_OFF: (f64, f64) = (10.0, 5.0);

/// A whole run.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct RunView {
    pub at: Timestamp,
    pub by: String,
    /// Sprayed of each.
    pub a: Shown,
    pub b: Shown,
    /// The ratio over the run.
    pub level: Level,
    pub working: Working,
    /// The mean of the catches, with its own interval.
    pub catches: Option<Level>,
    pub agreement: Option<Agreement>,
    /// Whether they agree, and which to doubt.
    pub text: String,
    /// Where the paint went, against area, film and transfer.
    pub account: String,
}

/// The last whole run; `None` without one that says a ratio.
pub(super) fn seen(case: &Case<'_>, prefs: Prefs) -> Option<RunView> {
    let (aim, last) = (case.aim()?, case.runs.last()?);
    let run = last.it.run(prefs).ok()?;
    let said = mixing::said(&aim.sheet, run.b_per_a()?)?;
    let draw = |label: &str, m: Measured| Level::draw(label, m, said.tolerance, 1.0, said.kind, prefs);
    let mean = mean_of_catches(case);
    let agreement = mean.map(|mean| Agreement::of(said.measured, mean));
    let of = |m: Measured| show(m.value, QuantityKind::Mass, prefs);
    Some(RunView {
        at: last.at,
        by: last.by.clone(),
        a: of(run.a_g),
        b: of(run.b_g),
        level: draw("Whole run", said.measured),
        working: run.working(&aim.sheet, prefs)?,
        catches: mean.map(|m| draw("Mean of the catches", m)),
        text: agreement.map_or("Nothing was caught beside it.", Agreement::words).into(),
        agreement,
        account: account(case, aim, run, prefs)?.words(Some(run.a_g.value / aim.sheet.base_kg_l()), prefs),
    })
}

/// What went, beside what area, film and transfer ask: area by its take-off, film as aimed or as combed, transfer as planned.
fn account(case: &Case<'_>, aim: &Begin, run: Run, prefs: Prefs) -> Option<Account> {
    let (a, b) = (aim.sheet.base_kg_l(), aim.sheet.density_kg_l(Component::Hardener)?);
    let ml = |f: fn(Measured) -> f64| f(run.a_g) / a + f(run.b_g) / b;
    let went_ml = Measured { lo: ml(|m| m.lo), value: ml(|m| m.value), hi: ml(|m| m.hi) };
    let stated = Measured::pm(aim.area_m2, 0.0);
    let area_m2 = takeoff::area(&aim.takeoff, prefs).map_or(stated, |(m2, _)| m2);
    let off = if aim.method.is_none_or(Method::sprays) { TRANSFER_OFF.0 } else { TRANSFER_OFF.1 };
    let te = aim.transfer_pct;
    let transfer_pct = Measured { lo: (te - off).max(1.0), value: te, hi: (te + off).min(100.0) };
    let combed = case.combs.iter().map(|c| c.it.read_um).reduce(Measured::hull);
    let wet_um = combed.unwrap_or_else(|| Measured::pm(case.wet_aim_um(), 0.0));
    Some(Account { went_ml, area_m2, wet_um, transfer_pct })
}
