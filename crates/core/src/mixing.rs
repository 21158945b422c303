//! Proportioning: how much of each, what the scale can prove, and what a wrong pour still allows.

use crate::limits;
use crate::quantity::{Kind, Prefs, show};
use crate::refusal::Refusal;
use crate::sheets::{Basis, Sheet, ThinnerBasis};
use crate::verdict::{Measured, Tolerance};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is poured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Component {
    /// A.
    Base,
    /// B.
    Hardener,
    /// Thinner.
    Thinner,
}

impl Component {
    /// The trade's word.
    pub fn word(self) -> &'static str {
        match self {
            Component::Base => "base",
            Component::Hardener => "hardener",
            Component::Thinner => "thinner",
        }
    }
}

/// One line of a pouring plan.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlannedPour {
    /// What.
    pub component: Component,
    /// How much of it in all.
    pub mass_g: f64,
    /// Its volume.
    pub volume_ml: f64,
    /// What one tared cup on the scale shows when it is in.
    pub running_g: f64,
}

/// Grams of thinner and the volume it adds, per millilitre of A and B.
///
/// **Formula:** of base `p·A`; of mixed `p·(A+B)`; of finished `p/(1−p)·(A+B)`, all by volume.
/// **Check:** 15 % on 800 mL + 200 mL: 120, 150, 176.5 mL. **Source:** arithmetic of the words.
pub fn thinner_ml(a_ml: f64, b_ml: f64, pct: f64, basis: ThinnerBasis) -> f64 {
    let p = pct / 100.0;
    match basis {
        ThinnerBasis::OfBase => p * a_ml,
        ThinnerBasis::OfMixed => p * (a_ml + b_ml),
        ThinnerBasis::OfFinished => p / (1.0 - p) * (a_ml + b_ml),
    }
}

/// The pouring plan for `wanted_ml` of finished paint.
///
/// **Formula:** ideal mixing, volumes add. With `r` grams of B per gram of A, a litre of A brings
/// `r·ρA/ρB` litres of B and the thinner of [`thinner_ml`]; everything scales to the wanted volume.
/// **Errors:** thinner over 100 % of finished, a wanted volume outside its limit, more thinner than the
/// sheet allows.
pub fn plan(sheet: &Sheet, wanted_ml: f64, thinner_pct: f64, prefs: Prefs) -> Result<Vec<PlannedPour>, Refusal> {
    limits::AMOUNT.check("wanted_ml", wanted_ml, prefs)?;
    check_thinner(sheet, thinner_pct, prefs)?;
    let b_ml = sheet.hardener().map_or(0.0, |h| h.b_per_a * sheet.base_density_kg_l / h.density_kg_l);
    let thin_ml = sheet.thinner_basis.map_or(0.0, |basis| thinner_ml(1.0, b_ml, thinner_pct, basis));
    let a_ml = wanted_ml / (1.0 + b_ml + thin_ml);
    let mut pours = vec![(Component::Base, a_ml, sheet.base_density_kg_l)];
    if let Some(h) = sheet.hardener() {
        pours.push((Component::Hardener, a_ml * b_ml, h.density_kg_l));
    }
    if let (true, Some(density)) = (thin_ml > 0.0, sheet.thinner_density_kg_l) {
        pours.push((Component::Thinner, a_ml * thin_ml, density));
    }
    let mut running_g = 0.0;
    Ok(pours
        .into_iter()
        .map(|(component, volume_ml, density)| {
            let mass_g = volume_ml * density;
            running_g += mass_g;
            PlannedPour { component, mass_g, volume_ml, running_g }
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
        let say = |p| show(p, Kind::Percent, prefs).text;
        return Err(Refusal::bad_input(
            "thinner-over-limit",
            "thinner_pct",
            format!("{} thinner is outside 0 to {}, the most the sheet allows.", say(pct), say(max)),
        ));
    }
    Ok(())
}

/// Volume solids of the finished mix.
///
/// **Formula:** `VS = VS_AB / (1 + thinner volume/(A+B))`. **Units:** per cent in and out.
/// **Check:** 62 % with 10 % thinner of mixed → 56.36 %. **Source:** arithmetic; ideal mixing.
pub fn finished_solids_pct(sheet: &Sheet, thinner_pct: f64) -> f64 {
    let b_ml = sheet.hardener().map_or(0.0, |h| h.b_per_a * sheet.base_density_kg_l / h.density_kg_l);
    let thin = sheet.thinner_basis.map_or(0.0, |basis| thinner_ml(1.0, b_ml, thinner_pct, basis));
    sheet.solids_pct / (1.0 + thin / (1.0 + b_ml))
}

/// One accepted reading of a scale: the total shown after a pour.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Weighed {
    /// What was poured.
    pub component: Component,
    /// What the scale showed.
    pub reading_g: f64,
    /// The scale was tared before this pour, so it is weighed apart.
    pub tared: bool,
    /// Resolution of the scale.
    pub resolution_g: f64,
}

/// Mass poured in the `index`th pour, as read.
pub fn poured_g(pours: &[Weighed], index: usize) -> f64 {
    let start = if index == 0 || pours[index].tared { 0.0 } else { pours[index - 1].reading_g };
    pours[index].reading_g - start
}

/// Total of one component, as read.
pub fn total_g(pours: &[Weighed], component: Component) -> f64 {
    (0..pours.len()).filter(|i| pours[*i].component == component).map(|i| poured_g(pours, i)).sum()
}

/// Most readings whose corners are tried one by one; beyond it the cruder bound is used.
const CORNERS: usize = 12;

/// B per A by weight with the worst case the scale allows.
///
/// **Formula:** every reading may be off by half a resolution. Each mass is a difference of readings, so
/// A and B are linear in them and B/A is monotone in each: its extremes lie at the corners, which are
/// all tried. A tared start is exact. This is what ties a running total to the reading before it.
/// **Check:** 100 g + 2 g on a 1 g scale: apart 1.49–2.51 %, running 1.00–3.02 %. **Source:** derived.
/// **Errors:** `None` when A or B is missing or A may be nothing.
pub fn b_per_a(pours: &[Weighed]) -> Option<Measured> {
    let (a, b) = (total_g(pours, Component::Base), total_g(pours, Component::Hardener));
    if a <= 0.0 || !pours.iter().any(|p| p.component == Component::Hardener) {
        return None;
    }
    if pours.len() > CORNERS {
        let half: f64 = pours.iter().map(|p| p.resolution_g).sum();
        return (a > half).then(|| Measured {
            lo: ((b - half) / (a + half)).max(0.0),
            value: b / a,
            hi: (b + half) / (a - half),
        });
    }
    let (mut lo, mut hi) = (f64::MAX, f64::MIN);
    for corner in 0..1_u32 << pours.len() {
        let mut shifted = pours.to_vec();
        for (i, pour) in shifted.iter_mut().enumerate() {
            let half = pour.resolution_g / 2.0;
            pour.reading_g += if corner >> i & 1 == 1 { half } else { -half };
        }
        let (a, b) = (total_g(&shifted, Component::Base), total_g(&shifted, Component::Hardener));
        if a <= 0.0 {
            return None;
        }
        lo = lo.min(b / a);
        hi = hi.max(b / a);
    }
    Some(Measured { lo: lo.max(0.0), value: b / a, hi })
}

/// B per A expressed as people say it for this sheet: parts A to one B, or per cent.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Said {
    /// The figure with its interval.
    pub measured: Measured,
    /// The tolerance in the same figure.
    pub tolerance: Tolerance,
    /// [`Kind::Ratio`] or [`Kind::Percent`].
    pub kind: Kind,
}

/// Puts a weight ratio in the sheet's own words with the tolerance beside it.
///
/// **Formula:** by volume `A/B = (ρB/ρA)/(mB/mA)`; by weight the inverse; percent `100·mB/mA`. The
/// tolerance is on B per A, so a ratio's limits are `r/(1+t)` and `r/(1−t)`.
pub fn said(sheet: &Sheet, b_per_a: Measured) -> Option<Said> {
    let h = sheet.hardener()?;
    let allowed = h.band.unwrap_or((h.b_per_a * (1.0 - h.tolerance), h.b_per_a * (1.0 + h.tolerance)));
    Some(match sheet.basis? {
        Basis::PercentByWeight => Said {
            measured: b_per_a.map(|x| 100.0 * x),
            tolerance: Tolerance::between(100.0 * allowed.0, 100.0 * allowed.1),
            kind: Kind::Percent,
        },
        basis => {
            let scale = if basis == Basis::ByVolume { h.density_kg_l / sheet.base_density_kg_l } else { 1.0 };
            let ratio = |x: f64| if x > 0.0 { scale / x } else { f64::MAX };
            Said {
                measured: Measured { lo: ratio(b_per_a.hi), value: ratio(b_per_a.value), hi: ratio(b_per_a.lo) },
                tolerance: Tolerance::between(ratio(allowed.1), ratio(allowed.0)),
                kind: Kind::Ratio,
            }
        }
    })
}

/// What is still to pour so that every component is on target, growing the plan where one is over.
///
/// **Formula:** poured mᵢ, planned fᵢ: `S = max(1, max mᵢ/fᵢ)`, add `S·fᵢ − mᵢ`; never negative, so a
/// rescue never takes anything out. **Check:** 4:1 by weight, A 1,000 g, B 268 g → add 72 g A, 1,340 g.
pub fn to_go(plan: &[PlannedPour], pours: &[Weighed]) -> Vec<PlannedPour> {
    let poured = |c| total_g(pours, c);
    // What the scale cannot tell from the plan is no over-pour.
    let half = pours.last().map_or(0.0, |p| p.resolution_g / 2.0);
    let over = |p: &PlannedPour| if poured(p.component) - half > p.mass_g { poured(p.component) / p.mass_g } else { 1.0 };
    let stretch = plan.iter().map(over).fold(1.0_f64, f64::max);
    let mut running_g = pours.last().map_or(0.0, |p| p.reading_g);
    plan.iter()
        .map(|p| {
            let mass_g = (stretch * p.mass_g - poured(p.component)).max(0.0);
            running_g += mass_g;
            PlannedPour { component: p.component, mass_g, volume_ml: p.volume_ml * mass_g / p.mass_g, running_g }
        })
        .collect()
}

/// The pour plan as a sum on paper.
pub fn working(sheet: &Sheet, plan: &[PlannedPour], wanted_ml: f64, thinner_pct: f64, prefs: Prefs) -> Working {
    let mut w =
        Working::new(&format!("Pour plan, {}", sheet.ratio_words(prefs)), "Arithmetic of the ratio; volumes taken to add");
    w.line("Finished paint wanted", "need, or as asked", wanted_ml, Kind::Volume, prefs);
    for pour in plan {
        let density = pour.mass_g / pour.volume_ml;
        let note = if pour.component == Component::Thinner {
            format!(" ({})", show(thinner_pct, Kind::Percent, prefs).text)
        } else {
            String::new()
        };
        let figures =
            format!("{} × {}{note}", show(pour.volume_ml, Kind::Volume, prefs).text, show(density, Kind::Density, prefs).text);
        w.line(pour.component.word(), figures, pour.mass_g, Kind::Mass, prefs);
    }
    if let Some(last) = plan.last() {
        let sum: Vec<String> = plan.iter().map(|p| show(p.mass_g, Kind::Mass, prefs).figure).collect();
        w.line("On the scale", sum.join(" + "), last.running_g, Kind::Mass, prefs);
    }
    w
}
