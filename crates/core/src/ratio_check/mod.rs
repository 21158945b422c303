//! The ratio of two streams: caught, kept in a ledger, followed over time, balanced over a run.
//!
//! | file | says |
//! |---|---|
//! | `next`, `setting` | which pressure or setting to move, where to start, usual slips |
//! | `ledger`, `study` | every proof of a rig and product, parted into regimes |
//! | `limits_of`, `trend`, `due` | control limits and run rules, the trend, when to check next |
//! | `chart`, `page` | the ledger drawn and read |
//! | `balance` | a whole run, and where the paint went |
//! | `settle` | what else would settle a doubt |
//! | `bond` | the bond test of an adhesive |

mod balance;
mod bond;
mod chart;
mod due;
mod ledger;
mod limits_of;
mod next;
mod page;
mod setting;
mod settle;
mod study;
mod trend;

pub use balance::{Account, Agreement, Run, Supply};
pub use bond::BondResult;
pub use chart::{Chart, ChartPoint, ChartRange, ChartRegime, ChartTrend, DueView, NEWEST_DRAWN, RuleSaid, chart};
pub use due::{Due, DueBy, PROOF_GOOD_FOR_S, due, mean_of};
pub use ledger::{LedgerFigure, LedgerProof, PRESSURE_OFF, ProofKind, Regime, moved, regimes};
pub use limits_of::{D2_OF_TWO, D4_OF_TWO, Fired, Limits, RunRule, fired_at};
pub use next::{Advice, MOST_STEP, Side, Trial, advise, lift_kpa};
pub use page::{LEDGER_PAGE, Ledger, LedgerPage, LedgerRow};
pub use setting::{SettingTrial, StartAt, advise_setting, slips, start};
pub use settle::{Doubt, Further, Settles, Settling, settle};
pub use study::{Along, Caught, SprayedBatch, Studied, USUAL_REPEAT, along_kg, study};
pub use trend::{SIGNIFICANT, Trend, normal_under, student_t};

use crate::mixing::{Component, Said, Weighed, b_per_a, said};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::Sheet;
use crate::verdict::Measured;
use crate::working::Working;

/// Catches that limits and a trend are taken from, at the least.
pub const LEAST_FOR_LIMITS: usize = 8;

/// B per A from two catches weighed apart on one scale.
///
/// **Formula:** `mB/mA`, each mass ± half the resolution. **Check:** 24.6 : 4.9 g = 5.02.
/// **Units:** g. **Source:** interval arithmetic.
pub fn b_per_a_of(a_g: f64, b_g: f64, resolution_g: f64) -> Option<Measured> {
    let weighed = |component, reading_g| Weighed { component, reading_g, tared: true, resolution_g, start_g: None };
    b_per_a(&[weighed(Component::Base, a_g), weighed(Component::Hardener, b_g)])
}

/// A catch judged in the sheet's own words, with its sum.
pub fn judge(sheet: &Sheet, a_g: f64, b_g: f64, resolution_g: f64, prefs: Prefs) -> Option<(Said, Working)> {
    let ratio = said(sheet, b_per_a_of(a_g, b_g, resolution_g)?)?;
    let mut working = Working::new("Ratio of two catches", "Two masses weighed apart, each ± half the scale's resolution");
    let say = |g: f64| show(g, QuantityKind::Mass, prefs).text;
    let figures = match ratio.kind {
        QuantityKind::Percent => format!("100 × {} ÷ {}", say(b_g), say(a_g)),
        _ => format!("A {} to B {}, {}", say(a_g), say(b_g), sheet.ratio_words(prefs)),
    };
    let m = ratio.measured;
    working.line("At the least", "worst case of the scale", m.lo, ratio.kind, prefs);
    working.line("At the most", "worst case of the scale", m.hi, ratio.kind, prefs);
    working.line("As caught", figures, m.value, ratio.kind, prefs);
    Some((ratio, working))
}
