//! What goes to the gun at one time, from fill to fill: its additive is as the coat's first, strained before, stirred each time.

use super::Record;
use super::charge::{Charge, OneFill};
use crate::component::Component;
use crate::mixing::{self, Judgement};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::verdict::is_over;
use crate::worded::VariantArray;
use uuid::Uuid;

/// What a fill holds of additives, for a litre of it.
#[derive(Debug, Clone, Copy)]
struct Dosed<'a> {
    charge: &'a Charge,
    fill: OneFill,
    g_l: f64,
}

impl Record {
    /// Additive that stands in a pot already, for a litre of it.
    ///
    /// **Formula:** `Σ additives / V`. **Units:** g, mL; g/L. **Source:** arithmetic.
    pub fn additive_in_pot_g_l(&self, charge: &Charge) -> f64 {
        let mixed_ml = self.aim().map_or(0.0, |aim| charge.mixed_ml(&aim.sheet));
        let weighed = charge.weighed();
        let in_it: f64 =
            Component::VARIANTS.iter().filter(|c| c.additive().is_some()).map(|c| mixing::total_g(&weighed, *c)).sum();
        if mixed_ml > 0.0 { in_it / mixed_ml * 1000.0 } else { 0.0 }
    }

    /// Every fill of the coat in time order.
    fn dosed(&self) -> Vec<Dosed<'_>> {
        let mut all: Vec<Dosed<'_>> = Vec::new();
        for charge in &self.charges {
            let in_pot = self.additive_in_pot_g_l(charge);
            let dose = |f: &OneFill| f.dose_g.unwrap_or(0.0) / f.fill_ml * 1000.0;
            all.extend(charge.all_fills().map(|fill| Dosed { charge, fill, g_l: in_pot + dose(&fill) }));
        }
        all.sort_by_key(|d| (d.fill.at, d.fill.seq));
        all
    }

    /// Every fill in time order, with what is to be said where its dose is another than the first one's.
    pub fn dose_steps(&self, prefs: Prefs) -> Vec<(Uuid, Option<String>)> {
        let dosed = self.dosed();
        let first = dosed.first().map_or(0.0, |d| d.g_l);
        dosed.iter().map(|d| (d.fill.entry, dose_step(first, d.g_l, prefs).map(|said| said.text))).collect()
    }

    /// The dose that a fill wants so that the shade does not step: what the coat's first fill held, less what is in the pot
    /// already; before the first, what the sheet asks of all its additives together. `None` where none is asked.
    ///
    /// **Formula:** `first − in the pot`. **Units:** g/L. **Source:** common practice in the trade.
    pub fn matching_dose_g_l(&self, charge: Option<&Charge>) -> Option<f64> {
        let first = self.dosed().first().map(|d| d.g_l).filter(|g_l| *g_l > 0.0);
        let by_sheet = || self.aim().map(|aim| aim.sheet.additives.iter().filter_map(|a| a.dose_g_l).sum::<f64>());
        let wanted = first.or_else(by_sheet).filter(|g_l| *g_l > 0.0)?;
        Some(wanted - charge.map_or(0.0, |c| self.additive_in_pot_g_l(c))).filter(|g_l| *g_l > 0.0)
    }

    /// What is to be said of the last fill of a pot: its dose against the coat's first, straining, stirring.
    ///
    /// **Rule:** the dose of every fill matches the coat's first; the paint is strained before an additive goes in, as a strainer
    /// would take it out; what settles is stirred at every fill. **Source:** common practice in the trade.
    pub fn judged_fill(&self, charge: &Charge, prefs: Prefs) -> Vec<Judgement> {
        let dosed = self.dosed();
        let Some(last) = dosed.iter().rev().find(|d| d.charge.id == charge.id) else { return Vec::new() };
        let first = dosed.first().filter(|first| first.fill.entry != last.fill.entry);
        let step = first.and_then(|first| dose_step(first.g_l, last.g_l, prefs));
        let settles = self.aim().is_some_and(|aim| aim.sheet.stir_again_s.is_some()) && !last.fill.stirred;
        let unstirred = settles.then(|| said("not-stirred", "It settles: stir it at every fill, then pour.".into()));
        step.into_iter().chain(self.strained_out(charge, &last.fill, prefs)).chain(unstirred).collect()
    }

    fn strained_out(&self, charge: &Charge, fill: &OneFill, prefs: Prefs) -> Option<Judgement> {
        let strainer = self.aim()?.sheet.strain_um?;
        let in_pot = self.additive_in_pot_g_l(charge) > 0.0;
        if in_pot && fill.strained {
            let text = "Strained with the additive in: the strainer took some of it out. Strain before it goes in.";
            return Some(said("straining", text.into()));
        }
        let dosed_now = fill.dose_g.is_some_and(|g| g > 0.0) && !in_pot;
        (dosed_now && !fill.strained).then(|| {
            let mesh = show(strainer, QuantityKind::Mesh, prefs).text;
            said("straining", format!("The sheet wants it strained ({mesh}): strain the paint, then put the additive in."))
        })
    }
}

/// Two doses of an additive further apart than this step the shade, as a part of the first; from memory.
const DOSE_STEP: f64 = 0.05;

/// What a fill holds of additives against the first fill of its coat.
///
/// **Rule:** every fill holds as much in a litre as the first, so that the shade does not step; none where the first held some is a
/// step as well, and some where it held none. **Units:** g/L. **Source:** common practice in the trade; how near is alike, from
/// memory.
fn dose_step(first_g_l: f64, now_g_l: f64, prefs: Prefs) -> Option<Judgement> {
    is_over((now_g_l - first_g_l).abs(), DOSE_STEP * first_g_l).then(|| {
        let say = |g_l: f64| if g_l > 0.0 { show(g_l, QuantityKind::MassPerVolume, prefs).text } else { "nothing".into() };
        let text = format!(
            "This fill holds {} of additive, the first of the coat {}: the shade will step.",
            say(now_g_l),
            say(first_g_l)
        );
        Judgement { code: "dose-steps".into(), text, stop: false }
    })
}

fn said(code: &str, text: String) -> Judgement {
    Judgement { code: code.into(), text, stop: false }
}
