//! How worn a tip is: what it lets through now, beside what it let through when it was new.

use super::RigEntry;
use crate::atomizing::tips::{WORN_OUT, WORN_WATCH, wear, wear_words};
use crate::limits;
use crate::mixing::shares;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::refusal::Refusal;
use crate::sheets::Sheet;
use crate::verdict::{Level, Measured, Tolerance};
use crate::working::Working;
use jiff::Timestamp;
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
    /// Every catch since it was fitted over the kilograms sprayed since the first, for the picture.
    #[serde(default)]
    pub points: Vec<WearPoint>,
    /// From so much over new on it is watched, in per cent.
    #[serde(default)]
    pub watch_pct: f64,
    /// From so much on it is replaced.
    #[serde(default)]
    pub replace_pct: f64,
    pub working: Working,
}

/// A catch, drawn.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct WearPoint {
    pub at: Timestamp,
    /// Sprayed by this rig since the first catch, by the signed batches.
    pub kg: f64,
    pub sprayed: Shown,
    /// Over new, brought to one pressure, with what a catch may be off: per cent.
    pub lo_pct: f64,
    pub over_pct: f64,
    pub hi_pct: f64,
    pub over: Shown,
}

/// What a batch sprayed through a rig, and when it ended.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sprayed {
    /// When.
    pub at: Timestamp,
    /// So much.
    pub kg: f64,
}

/// What so much mixed paint of a sheet weighs; `None` where the sheet is measured by volume alone.
///
/// **Formula:** `V · Σm/ΣV` of base and hardener; thinner and additives are left out. **Units:** mL; kg. **Source:** arithmetic;
/// volumes are taken to add. **Check:** 1,000 mL of 4:1 by volume at 1.42 and 0.98 kg/L: 1.332 kg.
pub fn sprayed_kg(sheet: &Sheet, used_ml: f64) -> Option<f64> {
    let shares = shares(&Sheet { additives: Vec::new(), ..sheet.clone() }, 0.0);
    let (mass, volume) = shares.iter().fold((0.0, 0.0), |(m, v), s| (m + s.mass_g, v + s.volume));
    (!sheet.by_volume_alone()).then_some(used_ml / 1000.0 * mass / volume)
}

/// How far a later flow stands over the first, in per cent, with what two catches may be off.
fn over_new_pct(first: &TipFlow, later: &TipFlow) -> Option<Measured> {
    let of = |f: &TipFlow| (f.flow_ml_min(), f.pot_kpa);
    let factor = wear(of(first), of(later))?;
    let over = |factor: f64| 100.0 * (factor - 1.0);
    Some(Measured {
        lo: over(factor * (1.0 - CATCH_OFF) / (1.0 + CATCH_OFF)),
        value: over(factor),
        hi: over(factor * (1.0 + CATCH_OFF) / (1.0 - CATCH_OFF)),
    })
}

/// Every catch since the tip was fitted over what was sprayed since the first of them.
///
/// **Formula:** per cent over the first flow, brought to one pressure; kilograms of the batches that ended in between. **Units:** kg,
/// per cent. **Source:** arithmetic.
pub fn wear_points(told: &[(Timestamp, RigEntry)], sprayed: &[Sprayed], prefs: Prefs) -> Vec<WearPoint> {
    let from = told.iter().rposition(|(_, e)| matches!(e, RigEntry::Fitted(_))).map_or(0, |at| at + 1);
    let flows: Vec<(Timestamp, &TipFlow)> =
        told[from..].iter().filter_map(|(at, e)| if let RigEntry::TipFlow(f) = e { Some((*at, f)) } else { None }).collect();
    let Some((began, first)) = flows.first().copied() else { return Vec::new() };
    let one = |(at, flow): &(Timestamp, &TipFlow)| {
        let over = if *at == began { Measured::pm(0.0, 0.0) } else { over_new_pct(first, flow)? };
        let kg: f64 = sprayed.iter().filter(|s| s.at > began && s.at <= *at).map(|s| s.kg).sum();
        Some(WearPoint {
            at: *at,
            kg,
            sprayed: said_kg(kg, prefs),
            lo_pct: over.lo,
            over_pct: over.value,
            hi_pct: over.hi,
            over: show(over.value, QuantityKind::Percent, prefs),
        })
    };
    flows.iter().filter_map(one).collect()
}

/// Kilograms as such: what a tip sprayed is tens of them, whatever the reader's unit of a pour.
fn said_kg(kg: f64, prefs: Prefs) -> Shown {
    let figure = show((kg * 10.0).round() / 10.0, QuantityKind::Count, prefs).figure;
    Shown { text: format!("{figure}\u{a0}kg"), figure, unit: "kg".into() }
}

/// The flows caught since the tip was fitted, oldest first.
fn since_fitted(book: &[RigEntry]) -> Vec<&TipFlow> {
    let from = book.iter().rposition(|e| matches!(e, RigEntry::Fitted(_))).map_or(0, |at| at + 1);
    book[from..].iter().filter_map(|e| if let RigEntry::TipFlow(f) = e { Some(f) } else { None }).collect()
}

/// More than this over new is worn, in per cent.
///
/// **Source:** from memory.
pub fn worn_watch_pct() -> f64 {
    100.0 * (WORN_WATCH - 1.0)
}

/// What the fitted tip lets through over what it let through when new, by the first and the last catch since it was fitted; `None`
/// before two.
///
/// **Formula:** [`wear`], each catch good to 2 %. **Units:** per cent. **Source:** arithmetic.
pub fn wear_over_new_pct(book: &[RigEntry]) -> Option<Measured> {
    let flows = since_fitted(book);
    over_new_pct(flows.first()?, flows.last().filter(|_| flows.len() > 1)?)
}

/// How worn the fitted tip is by the entries of its rig's book that are not struck, oldest first; `None` before two flows
/// were caught through it.
///
/// **Formula:** [`wear`] of the first and the last flow since it was fitted; each catch is good to 2 %, so their quotient to
/// about 4 %. **Units:** per cent over new. **Source:** 15 % watch and 25 % replace from memory.
pub fn tip_wear(book: &[RigEntry], prefs: Prefs) -> Option<WearView> {
    let flows = since_fitted(book);
    let (first, last) = (*flows.first()?, *flows.last().filter(|_| flows.len() > 1)?);
    let measured = wear_over_new_pct(book)?;
    let factor = 1.0 + measured.value / 100.0;
    let over = |factor: f64| 100.0 * (factor - 1.0);
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
        points: Vec::new(),
        watch_pct: over(WORN_WATCH),
        replace_pct: over(WORN_OUT),
        working,
    })
}
