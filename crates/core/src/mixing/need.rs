//! How much to mix for a job: what lands, what is lost, what stays in hose and pot, what it took before.

use crate::limits;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::verdict::{Measured, is_over};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use utoipa::ToSchema;

/// What a job takes beyond the film on the part.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Allowances {
    /// Bore of the fluid hose.
    #[serde(default)]
    pub hose_bore_mm: Option<f64>,
    /// Its length.
    #[serde(default)]
    pub hose_length_mm: Option<f64>,
    /// What stays in the pot: under the tube, on a liner, around a can stood in it.
    #[serde(default)]
    pub heel_ml: Option<f64>,
    /// Paint that fills a blast profile, as a dry film.
    #[serde(default)]
    pub profile_um: Option<f64>,
    /// Mixed beyond all that.
    #[serde(default)]
    pub extra_pct: Option<f64>,
    /// Reckon with what such coats really took.
    #[serde(default)]
    pub by_learned: bool,
}

/// What coats of this product, by this method on this kind of part, really took against what was reckoned.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Learned {
    /// Used over reckoned, the mean.
    pub factor: f64,
    /// The least of it.
    pub least: f64,
    /// The most.
    pub most: f64,
    /// From so many coats.
    pub coats: i64,
}

/// What one coat really took beside what was reckoned for it.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
pub struct Took {
    /// Left the pots for the part.
    pub used_ml: f64,
    /// By area, film and transfer efficiency.
    pub reckoned_ml: f64,
}

impl Learned {
    /// What coats took, newest first: the mean of used over reckoned of the newest [`LEARN_NEWEST`], with its least and most; `None` of fewer
    /// than [`LEARN_FROM`].
    ///
    /// **Formula:** `mean(used/reckoned)`. **Units:** mL. **Errors:** none; a coat that reckoned nothing is left out.
    /// **Source:** common practice in the trade; how many, from memory.
    ///
    /// ```
    /// use level_keel_core::mixing::{Learned, Took};
    /// let took = |used_ml| Took { used_ml, reckoned_ml: 1000.0 };
    /// assert_eq!(Learned::of([took(1080.0)]), None);
    /// let known = Learned::of([took(1120.0), took(1040.0)]).unwrap();
    /// assert_eq!((known.factor, known.least, known.most, known.coats), (1.08, 1.04, 1.12, 2));
    /// ```
    pub fn of(took: impl IntoIterator<Item = Took>) -> Option<Learned> {
        let factors: Vec<f64> =
            took.into_iter().filter(|t| t.reckoned_ml > 0.0).take(LEARN_NEWEST).map(|t| t.used_ml / t.reckoned_ml).collect();
        let coats = factors.len();
        (coats >= LEARN_FROM).then(|| Learned {
            factor: factors.iter().sum::<f64>() / coats as f64,
            least: factors.iter().copied().fold(f64::INFINITY, f64::min),
            most: factors.iter().copied().fold(0.0, f64::max),
            coats: coats as i64,
        })
    }

    /// In words: how much, of how many coats, how far apart they are, and what would make it surer.
    ///
    /// ```
    /// use level_keel_core::mixing::Learned;
    /// let known = Learned { factor: 1.08, least: 0.98, most: 1.15, coats: 4 };
    /// assert_eq!(known.words(), "you usually need 8 % more (4 coats, from 2 % less to 15 % more). Surer with more coats signed.");
    /// ```
    pub fn words(&self) -> String {
        let pct = |factor: f64| (100.0 * (factor - 1.0)).round();
        let say = |factor: f64| match pct(factor) {
            p if p > 0.0 => format!("{p:.0} % more"),
            p if p < 0.0 => format!("{:.0} % less", -p),
            _ => "just as reckoned".into(),
        };
        let verb = if pct(self.factor) == 0.0 { "it usually takes" } else { "you usually need" };
        let alike = pct(self.least) == pct(self.most);
        let spread = if alike { "all alike".into() } else { format!("from {} to {}", say(self.least), say(self.most)) };
        format!("{verb} {} ({} coats, {spread}).{}", say(self.factor), self.coats, self.surer())
    }

    /// What would make it surer; nothing where it is sure.
    fn surer(&self) -> &'static str {
        if self.coats < SURE_FROM {
            " Surer with more coats signed."
        } else if is_over(self.most - self.least, WIDE) {
            " Surer if what is left in the pot is weighed at each end."
        } else {
            ""
        }
    }
}

/// Fewest coats from which use is learned, from memory.
pub const LEARN_FROM: usize = 2;
/// Newest coats it is learned from, from memory.
pub const LEARN_NEWEST: usize = 12;
/// Coats from which a mean is taken to be sure; from memory.
const SURE_FROM: i64 = 5;
/// A spread wider than this part of what was reckoned is of how it was measured, more than of the work; from memory.
const WIDE: f64 = 0.2;

/// Volume of a hose.
///
/// **Formula:** `π/4·d²·L`. **Units:** mm, mL. **Check:** 25 ft of 3/8 in = 543 mL, of 1/4 in = 241 mL.
/// **Source:** solid geometry.
///
/// ```
/// let ml = level_keel_core::mixing::hose_ml(9.525, 7620.0);
/// assert!((ml - 543.0).abs() < 0.5);
/// ```
pub fn hose_ml(bore_mm: f64, length_mm: f64) -> f64 {
    PI / 4.0 * bore_mm * bore_mm * length_mm / 1000.0
}

/// The coat the need is of.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CoatNeed {
    /// Area with its interval.
    pub area_m2: Measured,
    /// Wet film.
    pub wet_um: f64,
    /// What stays on the part.
    pub transfer_pct: f64,
    /// Volume solids of the finished paint.
    pub solids_pct: f64,
    /// The least for a square metre, where the sheet states the most area of a litre.
    pub least_ml_m2: Option<f64>,
}

/// Finished paint for a coat, with the interval of its area and the sum.
///
/// **Formula:** `max(area × (WFT + profile/VS) / TE × learned, area × least) + hose + heel`, all by `(1 + extra)`.
/// **Errors:** a refusal naming the field that is outside its limit.
/// **Units:** m², µm, per cent, mm, mL. **Source:** arithmetic; hose, heel and profile are common practice in the trade.
pub fn need(coat: &CoatNeed, more: &Allowances, learned: Option<Learned>, prefs: Prefs) -> Result<(Measured, Working), Refusal> {
    limits::HOSE_BORE.check_optional("hose_bore_mm", more.hose_bore_mm, prefs)?;
    limits::HOSE_LENGTH.check_optional("hose_length_mm", more.hose_length_mm, prefs)?;
    limits::STOCK.check_optional("heel_ml", more.heel_ml, prefs)?;
    limits::EXTRA.check_optional("extra_pct", more.extra_pct, prefs)?;
    if let Some(um) = more.profile_um.filter(|um| *um != 0.0) {
        limits::FILM.check("profile_um", um, prefs)?;
    }
    let say = |v, k| show(v, k, prefs).text;
    let mut w = Working::new("Paint needed", "Area × wet film ÷ transfer efficiency, and what stays behind");
    let profile_um = more.profile_um.unwrap_or(0.0) / (coat.solids_pct / 100.0);
    let wet_um = coat.wet_um + profile_um;
    if profile_um > 0.0 {
        let figures = format!(
            "{} dry in the profile ÷ {} solids",
            say(more.profile_um.unwrap_or(0.0), QuantityKind::Film),
            say(coat.solids_pct, QuantityKind::Percent)
        );
        w.line("Film with the profile", figures, wet_um, QuantityKind::Film, prefs);
    }
    let on = coat.area_m2.map(|m2| m2 * wet_um);
    let figures = format!("{} × {}", say(coat.area_m2.value, QuantityKind::Area), say(wet_um, QuantityKind::Film));
    w.line("On the part", figures, on.value, QuantityKind::Volume, prefs);
    let mut need = on.map(|ml| ml / (coat.transfer_pct / 100.0));
    w.line(
        "To put on",
        format!("÷ {} that stays", say(coat.transfer_pct, QuantityKind::Percent)),
        need.value,
        QuantityKind::Volume,
        prefs,
    );
    if let (true, Some(known)) = (more.by_learned, learned) {
        need = need.map(|ml| ml * known.factor);
        w.line("As such coats took", known.words(), need.value, QuantityKind::Volume, prefs);
    }
    if let Some(least) =
        coat.least_ml_m2.map(|ml_m2| coat.area_m2.map(|m2| m2 * ml_m2)).filter(|least| is_over(least.value, need.value))
    {
        need = least;
        let figures = format!("the sheet's most area of a litre, on {}", say(coat.area_m2.value, QuantityKind::Area));
        w.line("At the least", figures, need.value, QuantityKind::Volume, prefs);
    }
    let mut stays = 0.0;
    if let (Some(bore), Some(length)) = (more.hose_bore_mm, more.hose_length_mm) {
        stays += hose_ml(bore, length);
        w.line(
            "In the hose",
            format!("π/4 × {}² × {}", say(bore, QuantityKind::Bore), say(length, QuantityKind::Length)),
            hose_ml(bore, length),
            QuantityKind::Volume,
            prefs,
        );
    }
    if let Some(heel) = more.heel_ml.filter(|h| *h > 0.0) {
        stays += heel;
        w.line("Stays in the pot", "as stated", heel, QuantityKind::Volume, prefs);
    }
    let extra = 1.0 + more.extra_pct.unwrap_or(0.0) / 100.0;
    let total = need.map(|ml| (ml + stays) * extra);
    let span = if total.hi - total.lo > 0.5 {
        format!(", {} to {} by the area", say(total.lo, QuantityKind::Volume), say(total.hi, QuantityKind::Volume))
    } else {
        String::new()
    };
    w.line(
        "To mix",
        format!("with {} extra{span}", say(more.extra_pct.unwrap_or(0.0), QuantityKind::Percent)),
        total.value,
        QuantityKind::Volume,
        prefs,
    );
    Ok((total, w))
}
