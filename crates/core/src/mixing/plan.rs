//! The pouring plan: every basis a sheet may state, turned to masses on one scale.

use super::Component;
use crate::limits;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::sheets::{Sheet, ThinnerBasis};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// One line of a pouring plan.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlannedPour {
    /// What.
    pub component: Component,
    /// How much of it in all.
    pub mass_g: f64,
    /// Its volume; 0 for an additive whose density the sheet does not state.
    pub volume_ml: f64,
    /// What one tared cup on the scale shows when it is in.
    pub running_g: f64,
}

impl PlannedPour {
    /// A part of it, or so many times it.
    pub fn scaled(self, by: f64) -> PlannedPour {
        PlannedPour { mass_g: self.mass_g * by, volume_ml: self.volume_ml * by, running_g: self.running_g * by, ..self }
    }
}

/// Volume of thinner for volumes of A and B.
///
/// **Formula:** of base `p·A`; of mixed `p·(A+B)`; of finished `p/(1−p)·(A+B)`, all by volume.
/// **Check:** 15 % on 800 mL + 200 mL: 120, 150, 176.5 mL. **Source:** arithmetic of the words.
/// **Units:** mL, per cent.
///
/// ```
/// use level_keel_core::{mixing::thinner_ml, sheets::ThinnerBasis};
/// assert_eq!(thinner_ml(800.0, 200.0, 15.0, ThinnerBasis::OfMixed), 150.0);
/// assert!((thinner_ml(800.0, 200.0, 15.0, ThinnerBasis::OfFinished) - 176.47).abs() < 0.01);
/// ```
pub fn thinner_ml(a_ml: f64, b_ml: f64, pct: f64, basis: ThinnerBasis) -> f64 {
    let p = pct / 100.0;
    match basis {
        ThinnerBasis::OfBase => p * a_ml,
        ThinnerBasis::OfMixed => p * (a_ml + b_ml),
        ThinnerBasis::OfFinished => p / (1.0 - p) * (a_ml + b_ml),
    }
}

/// What one millilitre of base brings with it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Share {
    /// What.
    pub component: Component,
    /// Millilitres for a millilitre of base.
    pub volume: f64,
    /// Grams for a millilitre of base.
    pub mass_g: f64,
}

/// Everything a millilitre of base brings with it, in the order poured.
///
/// **Formula:** ideal mixing, volumes add. With `r` grams of B per gram of A, a litre of A brings `r·ρA/ρB`
/// litres of B and the thinner of [`thinner_ml`]. An additive dosed per litre is per litre of *sprayable* mix,
/// A, B and thinner together; one in per cent is of the base by weight. **Source:** arithmetic of the words.
pub fn shares(sheet: &Sheet, thinner_pct: f64) -> Vec<Share> {
    let base_density = sheet.base_kg_l();
    let mut out = vec![Share { component: Component::Base, volume: 1.0, mass_g: base_density }];
    let b = sheet.hardener().map_or(0.0, |h| h.b_per_a * base_density / h.density_kg_l);
    if let Some(h) = sheet.hardener() {
        out.push(Share { component: Component::Hardener, volume: b, mass_g: b * h.density_kg_l });
    }
    let thin = sheet.thinner_basis.map_or(0.0, |basis| thinner_ml(1.0, b, thinner_pct, basis));
    if let (true, Some(density)) = (thin > 0.0, sheet.density_kg_l(Component::Thinner)) {
        out.push(Share { component: Component::Thinner, volume: thin, mass_g: thin * density });
    }
    let sprayable = 1.0 + b + thin;
    for (component, additive) in Component::ADDITIVES.into_iter().zip(&sheet.additives) {
        let per_litre = additive.dose_g_l.map_or(0.0, |g_l| g_l * sprayable / 1000.0);
        let mass_g = per_litre + additive.dose_pct.map_or(0.0, |pct| pct / 100.0 * base_density);
        out.push(Share { component, volume: additive.density_kg_l.map_or(0.0, |d| mass_g / d), mass_g });
    }
    out
}

/// The pouring plan for `wanted_ml` of finished paint: the [`shares`] scaled to it.
///
/// **Errors:** thinner over 100 % of finished, a wanted volume outside its limit, more thinner than the
/// sheet allows.
pub fn plan(sheet: &Sheet, wanted_ml: f64, thinner_pct: f64, prefs: Prefs) -> Result<Vec<PlannedPour>, Refusal> {
    limits::AMOUNT.check("wanted_ml", wanted_ml, prefs)?;
    check_thinner(sheet, thinner_pct, prefs)?;
    let shares = shares(sheet, thinner_pct);
    let a_ml = wanted_ml / shares.iter().map(|s| s.volume).sum::<f64>();
    let mut running_g = 0.0;
    Ok(shares
        .into_iter()
        .map(|s| {
            let mass_g = a_ml * s.mass_g;
            running_g += mass_g;
            PlannedPour { component: s.component, mass_g, volume_ml: a_ml * s.volume, running_g }
        })
        .collect())
}

/// Thinner is judged by its maximum only.
pub fn check_thinner(sheet: &Sheet, pct: f64, prefs: Prefs) -> Result<(), Refusal> {
    if pct == 0.0 {
        return Ok(());
    }
    let Some(max) = sheet.thinner_max_pct else {
        return Err(Refusal::bad_input("never-thinned", "thinner_pct", "The sheet allows no thinner."));
    };
    if !(pct >= 0.0 && pct <= max) {
        let say = |p| show(p, QuantityKind::Percent, prefs).text;
        return Err(Refusal::bad_input(
            "thinner-over-limit",
            "thinner_pct",
            format!("{} thinner is outside 0 to {}, the most the sheet allows.", say(pct), say(max)),
        ));
    }
    Ok(())
}

/// Volume solids of the finished mix as planned. Additives are left out: a sheet's solids do not know them.
///
/// **Check:** 62 % with 10 % thinner of mixed → 56.36 %.
/// **Formula:** [`thinned_solids_pct`] of the shares. **Units:** per cent by volume. **Source:** arithmetic; thinner has no
/// solids.
pub fn finished_solids_pct(sheet: &Sheet, thinner_pct: f64) -> f64 {
    let volume = |c| shares(sheet, thinner_pct).iter().find(|s| s.component == c).map_or(0.0, |s| s.volume);
    thinned_solids_pct(sheet, 1.0 + volume(Component::Hardener), volume(Component::Thinner))
}

/// Volume solids of A and B together once thinner is in.
///
/// **Formula:** `VS = VS_AB / (1 + thinner volume/(A+B))`. **Units:** per cent in and out; millilitres.
/// **Source:** arithmetic; ideal mixing.
pub fn thinned_solids_pct(sheet: &Sheet, mixed_ml: f64, thinner_ml: f64) -> f64 {
    sheet.solids_pct / (1.0 + thinner_ml / mixed_ml.max(f64::MIN_POSITIVE))
}

/// The pour plan as a sum on paper.
pub fn working(sheet: &Sheet, plan: &[PlannedPour], wanted_ml: f64, thinner_pct: f64, prefs: Prefs) -> Working {
    let mut w =
        Working::new(&format!("Pour plan, {}", sheet.ratio_words(prefs)), "Arithmetic of the ratio; volumes taken to add");
    w.line("Finished paint wanted", "need, or as asked", wanted_ml, QuantityKind::Volume, prefs);
    for pour in plan {
        let say = |v, k| show(v, k, prefs).text;
        let figures = match pour.component {
            c if c.additive().is_some() => sheet.dose_words(c, prefs),
            c => {
                let density = say(pour.mass_g / pour.volume_ml, QuantityKind::Density);
                let note = match (c, sheet.thinner_words()) {
                    (Component::Thinner, Some(of)) => format!(" ({} {of})", say(thinner_pct, QuantityKind::Percent)),
                    _ => String::new(),
                };
                format!("{} × {density}{note}", say(pour.volume_ml, QuantityKind::Volume))
            }
        };
        w.line(&sheet.component_name(pour.component), figures, pour.mass_g, sheet.said_in(pour.component), prefs);
    }
    if let Some(last) = plan.last() {
        let sum: Vec<String> = plan.iter().map(|p| show(p.mass_g, sheet.said_in(p.component), prefs).figure).collect();
        let (where_, in_what) = match sheet.said_in(Component::Base) {
            QuantityKind::Volume => ("In the cup", QuantityKind::Volume),
            _ => ("On the scale", QuantityKind::Mass),
        };
        w.line(where_, sum.join(" + "), last.running_g, in_what, prefs);
    }
    w
}
