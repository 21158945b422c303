//! How worn a tip is: what it lets through now, beside what it let through when it was new.

use super::RigEntry;
use crate::atomizing::tips::{WORN_OUT, WORN_WATCH, wear, wear_words};
use crate::limits;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::refusal::Refusal;
use crate::verdict::{Level, Measured, Tolerance};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a tip let through, caught by the watch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TipFlow {
    /// At this pressure on the pump.
    pub pot_kpa: f64,
    /// What was caught.
    pub caught_ml: f64,
    /// In this time.
    pub caught_watch_s: f64,
}

impl TipFlow {
    /// Volume in a minute.
    ///
    /// **Formula:** `V/t`. **Units:** mL, s; mL/min. **Source:** arithmetic.
    pub fn flow_ml_min(&self) -> f64 {
        self.caught_ml / self.caught_watch_s * 60.0
    }

    /// Well formed: something was caught, under pressure, in some time.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn check(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::RATING.check("pot_kpa", self.pot_kpa, prefs)?;
        limits::AMOUNT.check("caught_ml", self.caught_ml, prefs)?;
        limits::CATCH_TIME.check("caught_watch_s", self.caught_watch_s, prefs)?;
        Ok(())
    }
}

/// A catch by cup and watch is off by so much, either way; from memory.
const CATCH_OFF: f64 = 0.02;

/// How a tip stands against its own first flow.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct WearView {
    /// Flow when it was new, and the last one, each at its pressure.
    pub new: Shown,
    pub new_at: Shown,
    pub now: Shown,
    pub now_at: Shown,
    /// More than when new, brought to one pressure.
    pub level: Level,
    pub working: Working,
}

/// The flows caught since the tip was fitted, oldest first.
fn since_fitted(book: &[RigEntry]) -> Vec<&TipFlow> {
    let from = book.iter().rposition(|e| matches!(e, RigEntry::Fitted(_))).map_or(0, |at| at + 1);
    book[from..].iter().filter_map(|e| if let RigEntry::TipFlow(f) = e { Some(f) } else { None }).collect()
}

/// How worn the fitted tip is by the entries of its rig's book that are not struck, oldest first; `None` before two flows
/// were caught through it.
///
/// **Formula:** [`wear`] of the first and the last flow since it was fitted; each catch is good to 2 %, so their quotient to
/// about 4 %. **Units:** per cent over new. **Source:** 15 % watch and 25 % replace from memory.
pub fn tip_wear(book: &[RigEntry], prefs: Prefs) -> Option<WearView> {
    let flows = since_fitted(book);
    let (first, last) = (*flows.first()?, *flows.last().filter(|_| flows.len() > 1)?);
    let of = |f: &TipFlow| (f.flow_ml_min(), f.pot_kpa);
    let factor = wear(of(first), of(last))?;
    let over = |factor: f64| 100.0 * (factor - 1.0);
    let measured = Measured {
        lo: over(factor * (1.0 - CATCH_OFF) / (1.0 + CATCH_OFF)),
        value: over(factor),
        hi: over(factor * (1.0 + CATCH_OFF) / (1.0 - CATCH_OFF)),
    };
    let tol = Tolerance::at_most(over(WORN_WATCH));
    let level = Level::draw("Over new", measured, tol, over(WORN_OUT) * 1.2, QuantityKind::Percent, prefs);
    let say = |v: f64, k: QuantityKind| show(v, k, prefs);
    let mut working = Working::new("Wear of the tip", "Flow goes with the root of pressure: Q/Q₀·√(P₀/P)");
    let figures = |f: &TipFlow| format!("at {}", say(f.pot_kpa, QuantityKind::Pressure).text);
    working.line("Flow when new", figures(first), first.flow_ml_min(), QuantityKind::Flow, prefs);
    working.line("Flow now", figures(last), last.flow_ml_min(), QuantityKind::Flow, prefs);
    working.line("Over new", "brought to one pressure", over(factor), QuantityKind::Percent, prefs);
    Some(WearView {
        new: say(first.flow_ml_min(), QuantityKind::Flow),
        new_at: say(first.pot_kpa, QuantityKind::Pressure),
        now: say(last.flow_ml_min(), QuantityKind::Flow),
        now_at: say(last.pot_kpa, QuantityKind::Pressure),
        level: level.advise(wear_words(factor).unwrap_or_default()),
        working,
    })
}
