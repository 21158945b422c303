//! A product sheet: what the maker states and the shop holds to.

use crate::limits::{self, check_name, check_text, required};
use crate::mixing::Component;
use crate::quantity::{Kind, Prefs, show};
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// How A and B are proportioned. Never guessed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Basis {
    /// Parts by volume.
    ByVolume,
    /// Parts by weight.
    ByWeight,
    /// Per cent of B on A, by weight.
    PercentByWeight,
    /// Per cent of B on A, by volume.
    PercentByVolume,
    /// Only as the factory filled the two cans of a kit.
    ByKit,
}

/// What the thinner percentage is of, by volume.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ThinnerBasis {
    /// Of the base.
    OfBase,
    /// Of base and hardener together.
    OfMixed,
    /// Of everything in the cup, thinner included.
    OfFinished,
}

/// What a charge of this product is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ChargeKind {
    /// One mixed vessel.
    Pot,
    /// Mixed at the gun by a machine or twin feed.
    AtGun,
}

/// The stream school of the product or gun.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StreamSchool {
    /// 6–8 in, general pressure pot.
    #[default]
    GeneralPot,
    /// 8–10 in, high-transfer guns.
    HighTransfer,
    /// 8–12 in, industrial urethanes and single-pack.
    Industrial,
}

/// A hazard a person must have met with its guard before work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Hazard {
    /// Isocyanate hardener.
    Isocyanate,
    /// Organic peroxide catalyst.
    Peroxide,
    /// Flammable solvent.
    Solvent,
    /// Styrene vapour.
    Styrene,
    /// A vessel under pressure.
    PressureVessel,
    /// Airless fluid pressure.
    HighPressureFluid,
    /// Chromate primer or dust.
    Chromate,
    /// A mix that heats.
    Exotherm,
}

impl Hazard {
    /// Name and the guard, in short. The data sheet, local codes and licensed practice rule.
    pub fn caution(self) -> (&'static str, &'static str) {
        match self {
            Hazard::Isocyanate => ("Isocyanate hardener", "Air-fed breathing protection and gloves as the data sheet says."),
            Hazard::Peroxide => {
                ("Peroxide catalyst", "Eyes covered. Never in contact with promoter. Wet soaked rags and remove them.")
            }
            Hazard::Solvent => ("Flammable solvent", "Bond and earth rig and pails. Exhaust on before atomizing. No flame."),
            Hazard::Styrene => ("Styrene vapour", "Heavier than air: exhaust low, respirator as the data sheet says."),
            Hazard::PressureVessel => {
                ("Pot under pressure", "Never over its rating. Never loosen a clamp before the gauge reads zero.")
            }
            Hazard::HighPressureFluid => {
                ("High-pressure fluid", "A jet through the skin is an emergency. Trigger lock on when idle.")
            }
            Hazard::Chromate => ("Chromate", "No dry sanding without dust control. Respirator as the data sheet says."),
            Hazard::Exotherm => ("Mix that heats", "A pot that heats or smokes goes outside, unsealed, away from what burns."),
        }
    }
}

/// Something stirred in for colour, sheen or grip, after the ratio is made.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Additive {
    /// Its name.
    pub name: String,
    /// Dose per litre of sprayable paint: base, hardener and thinner together.
    #[serde(default)]
    pub dose_g_l: Option<f64>,
    /// Dose as per cent of the base, by weight.
    #[serde(default)]
    pub dose_pct: Option<f64>,
    /// Its density; missing: it is taken not to add volume.
    #[serde(default)]
    pub density_kg_l: Option<f64>,
}

/// What the two cans of a factory kit hold.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Kit {
    /// Base.
    pub base_g: f64,
    /// Hardener.
    pub hardener_g: f64,
}

/// A product sheet. One flat form, so that every refusal names its field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Sheet {
    /// Product name.
    pub name: String,
    /// Short label for rack, floats and lists.
    pub label: String,
    /// Pot or at the gun.
    pub charge: ChargeKind,
    /// Density of A.
    pub base_density_kg_l: f64,
    /// Volume solids of the mixed product before thinning.
    pub solids_pct: f64,
    /// Whether there is a second component.
    pub has_hardener: bool,
    /// Basis of the ratio.
    #[serde(default)]
    pub basis: Option<Basis>,
    /// Parts of A to one part of B.
    #[serde(default)]
    pub ratio: Option<f64>,
    /// Per cent of B on A, for [`Basis::PercentByWeight`] and [`Basis::PercentByVolume`].
    #[serde(default)]
    pub hardener_pct: Option<f64>,
    /// Least of the catalyst band; under it is a stop.
    #[serde(default)]
    pub band_low_pct: Option<f64>,
    /// Most of the catalyst band; over it is a stop.
    #[serde(default)]
    pub band_high_pct: Option<f64>,
    /// Density of B.
    #[serde(default)]
    pub hardener_density_kg_l: Option<f64>,
    /// Base in the can of a factory kit.
    #[serde(default)]
    pub kit_base_g: Option<f64>,
    /// Hardener in the can of a factory kit.
    #[serde(default)]
    pub kit_hardener_g: Option<f64>,
    /// Allowed error of B per A.
    #[serde(default)]
    pub tolerance_pct: Option<f64>,
    /// Most thinner allowed; 0 or missing: never thinned.
    #[serde(default)]
    pub thinner_max_pct: Option<f64>,
    /// What the thinner percentage is of.
    #[serde(default)]
    pub thinner_basis: Option<ThinnerBasis>,
    /// Density of the thinner.
    #[serde(default)]
    pub thinner_density_kg_l: Option<f64>,
    /// Additives, in the order stirred in; at most three.
    #[serde(default)]
    pub additives: Vec<Additive>,
    /// Pot life.
    #[serde(default)]
    pub pot_life_s: Option<f64>,
    /// The temperature it is stated at.
    #[serde(default)]
    pub pot_life_at_c: Option<f64>,
    /// Induction.
    #[serde(default)]
    pub induction_s: Option<f64>,
    /// Earliest recoat.
    #[serde(default)]
    pub recoat_min_s: Option<f64>,
    /// Latest recoat without abrading.
    #[serde(default)]
    pub recoat_max_s: Option<f64>,
    /// The temperature the recoat times are stated at.
    #[serde(default)]
    pub recoat_at_c: Option<f64>,
    /// Wet film aimed at in one coat.
    pub wet_um: f64,
    /// Least wet film.
    pub wet_min_um: f64,
    /// Most wet film.
    pub wet_max_um: f64,
    /// Coldest air, surface and material.
    pub temp_min_c: f64,
    /// Hottest air, surface and material.
    pub temp_max_c: f64,
    /// Least margin of the surface above dew point; missing: not applicable by sheet.
    #[serde(default)]
    pub margin_min_dk: Option<f64>,
    /// Most relative humidity; missing: not applicable by sheet.
    #[serde(default)]
    pub rh_max_pct: Option<f64>,
    /// Stream school.
    pub stream: StreamSchool,
    /// Hazards.
    #[serde(default)]
    pub hazards: BTreeSet<Hazard>,
}

/// The second component of a sheet, all of it known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Hardener {
    /// Grams of B for one gram of A.
    pub b_per_a: f64,
    /// Density of B.
    pub density_kg_l: f64,
    /// Allowed relative error of B per A, as a fraction.
    pub tolerance: f64,
    /// Catalyst band as fractions of A by weight; outside it is a stop.
    pub band: Option<(f64, f64)>,
}

impl Sheet {
    /// Checks every field and the sense of them together.
    ///
    /// **Errors:** a [`Refusal`] naming the first field at fault.
    pub fn validate(mut self, prefs: Prefs) -> Result<Sheet, Refusal> {
        self.name = check_name("name", &self.name)?;
        self.label = check_text("label", &self.label, limits::LABEL_CHARS)?;
        limits::DENSITY.check("base_density_kg_l", self.base_density_kg_l, prefs)?;
        limits::SOLIDS.check("solids_pct", self.solids_pct, prefs)?;
        self.check_hardener(prefs)?;
        self.check_thinner(prefs)?;
        self.check_additives(prefs)?;
        for (field, film) in [("wet_um", self.wet_um), ("wet_min_um", self.wet_min_um), ("wet_max_um", self.wet_max_um)] {
            limits::FILM.check(field, film, prefs)?;
        }
        ordered(
            "wet_um",
            self.wet_min_um,
            self.wet_um,
            self.wet_max_um,
            "The wet film aimed at lies outside its least and most.",
        )?;
        limits::TEMPERATURE.check("temp_min_c", self.temp_min_c, prefs)?;
        limits::TEMPERATURE.check("temp_max_c", self.temp_max_c, prefs)?;
        ordered("temp_max_c", self.temp_min_c, self.temp_max_c, f64::MAX, "The hottest is below the coldest.")?;
        limits::MARGIN.check_optional("margin_min_dk", self.margin_min_dk, prefs)?;
        limits::HUMIDITY.check_optional("rh_max_pct", self.rh_max_pct, prefs)?;
        limits::SHEET_TIME.check_optional("recoat_min_s", self.recoat_min_s, prefs)?;
        limits::SHEET_TIME.check_optional("recoat_max_s", self.recoat_max_s, prefs)?;
        limits::TEMPERATURE.check_optional("recoat_at_c", self.recoat_at_c, prefs)?;
        if let (Some(min), Some(max)) = (self.recoat_min_s, self.recoat_max_s) {
            ordered("recoat_max_s", min, max, f64::MAX, "The latest recoat is before the earliest.")?;
        }
        Ok(self)
    }

    fn check_hardener(&mut self, prefs: Prefs) -> Result<(), Refusal> {
        if !self.has_hardener {
            // Nothing to proportion and nothing to age: a leftover figure would only mislead.
            (self.basis, self.ratio, self.hardener_pct, self.band_low_pct, self.band_high_pct) = (None, None, None, None, None);
            (self.hardener_density_kg_l, self.tolerance_pct, self.kit_base_g, self.kit_hardener_g) = (None, None, None, None);
            (self.pot_life_s, self.pot_life_at_c, self.induction_s) = (None, None, None);
            return Ok(());
        }
        let basis = self.basis.ok_or_else(|| {
            Refusal::bad_input("basis-missing", "basis", "By volume or by weight? The ratio means nothing without its basis.")
        })?;
        match basis {
            Basis::ByVolume | Basis::ByWeight => {
                limits::RATIO.check("ratio", required("ratio", self.ratio)?, prefs)?;
            }
            Basis::ByKit => {
                required("kit_base_g", self.kit_base_g)?;
                required("kit_hardener_g", self.kit_hardener_g)?;
                self.ratio = None;
            }
            Basis::PercentByWeight | Basis::PercentByVolume => {
                let aim = limits::HARDENER_PERCENT.check("hardener_pct", required("hardener_pct", self.hardener_pct)?, prefs)?;
                if let (Some(lo), Some(hi)) = (self.band_low_pct, self.band_high_pct) {
                    limits::HARDENER_PERCENT.check("band_low_pct", lo, prefs)?;
                    limits::HARDENER_PERCENT.check("band_high_pct", hi, prefs)?;
                    ordered("hardener_pct", lo, aim, hi, "The percent aimed at lies outside its band.")?;
                }
            }
        }
        limits::DENSITY.check("hardener_density_kg_l", required("hardener_density_kg_l", self.hardener_density_kg_l)?, prefs)?;
        limits::TOLERANCE.check_optional("tolerance_pct", self.tolerance_pct, prefs)?;
        self.check_kit(prefs)?;
        if self.charge == ChargeKind::Pot {
            limits::POT_LIFE.check("pot_life_s", required("pot_life_s", self.pot_life_s)?, prefs)?;
            limits::TEMPERATURE.check("pot_life_at_c", required("pot_life_at_c", self.pot_life_at_c)?, prefs)?;
            limits::SHEET_TIME.check_optional("induction_s", self.induction_s, prefs)?;
            if let (Some(induction), Some(life)) = (self.induction_s, self.pot_life_s)
                && induction >= life
            {
                return Err(Refusal::bad_input(
                    "induction-too-long",
                    "induction_s",
                    "The induction is longer than the pot life.",
                ));
            }
        }
        Ok(())
    }

    /// Both cans or none, and what they hold must be the ratio the sheet states.
    fn check_kit(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::KIT_CAN.check_optional("kit_base_g", self.kit_base_g, prefs)?;
        limits::KIT_CAN.check_optional("kit_hardener_g", self.kit_hardener_g, prefs)?;
        match (self.kit_base_g, self.kit_hardener_g) {
            (Some(_), None) => required("kit_hardener_g", None),
            (None, Some(_)) => required("kit_base_g", None),
            (Some(a), Some(b)) => {
                let stated = self.hardener();
                let off = stated.map_or(0.0, |h| (b / a / h.b_per_a - 1.0).abs() - h.tolerance);
                if off <= 1e-9 {
                    return Ok(());
                }
                let percent = show(100.0 * stated.map_or(0.0, |h| b / a / h.b_per_a - 1.0), Kind::Percent, prefs).text;
                Err(Refusal::bad_input(
                    "kit-off-ratio",
                    "kit_hardener_g",
                    format!("The kit's cans are {percent} off the ratio of the sheet. One of the two is wrong: ask the maker."),
                ))
            }
            (None, None) => Ok(()),
        }
    }

    fn check_additives(&mut self, prefs: Prefs) -> Result<(), Refusal> {
        if self.additives.len() > Component::ADDITIVES.len() {
            return Err(Refusal::bad_input("too-many", "additives", "At most three additives."));
        }
        for (i, additive) in self.additives.iter_mut().enumerate() {
            let at = |field: &str| format!("additives[{i}].{field}");
            additive.name = check_text(&at("name"), &additive.name, limits::ADDITIVE_CHARS)?;
            limits::DOSE.check_optional(&at("dose_g_l"), additive.dose_g_l, prefs)?;
            limits::DOSE_PERCENT.check_optional(&at("dose_pct"), additive.dose_pct, prefs)?;
            limits::DENSITY_ADDITIVE.check_optional(&at("density_kg_l"), additive.density_kg_l, prefs)?;
            if additive.dose_g_l.is_some() == additive.dose_pct.is_some() {
                return Err(Refusal::bad_input(
                    "dose-basis",
                    &at("dose_g_l"),
                    "One dose: per litre of sprayable paint, or per cent of the base.",
                ));
            }
        }
        Ok(())
    }

    fn check_thinner(&mut self, prefs: Prefs) -> Result<(), Refusal> {
        let Some(max) = self.thinner_max_pct.filter(|p| *p != 0.0) else {
            (self.thinner_max_pct, self.thinner_basis, self.thinner_density_kg_l) = (None, None, None);
            return Ok(());
        };
        let basis = self
            .thinner_basis
            .ok_or_else(|| Refusal::bad_input("basis-missing", "thinner_basis", "Per cent of what: base, mixed, or finished?"))?;
        check_thinner_percent("thinner_max_pct", max, basis, prefs)?;
        limits::DENSITY.check("thinner_density_kg_l", required("thinner_density_kg_l", self.thinner_density_kg_l)?, prefs)?;
        Ok(())
    }

    /// The second component, in grams of B for a gram of A.
    ///
    /// **Formula:** by volume `B/A = ρB / (r·ρA)`; by weight `1/r`; percent by weight `p/100`, by volume
    /// `p/100·ρB/ρA`; by kit what the cans hold.
    /// **Source:** arithmetic of the ratio; check value 4:1 at 1.42 and 0.98 kg/L → 17.254 g B per 100 g A.
    pub fn hardener(&self) -> Option<Hardener> {
        if !self.has_hardener {
            return None;
        }
        let density_kg_l = self.hardener_density_kg_l?;
        let b_per_a = match self.basis? {
            Basis::ByVolume => density_kg_l / (self.ratio? * self.base_density_kg_l),
            Basis::ByWeight => 1.0 / self.ratio?,
            Basis::PercentByWeight => self.hardener_pct? / 100.0,
            Basis::PercentByVolume => self.hardener_pct? / 100.0 * density_kg_l / self.base_density_kg_l,
            Basis::ByKit => self.kit_hardener_g? / self.kit_base_g?,
        };
        // A band is in the basis of the percent it bounds.
        let per = if self.basis? == Basis::PercentByVolume { density_kg_l / self.base_density_kg_l } else { 1.0 };
        let band = self.band_low_pct.zip(self.band_high_pct).map(|(lo, hi)| (per * lo / 100.0, per * hi / 100.0));
        Some(Hardener { b_per_a, density_kg_l, tolerance: self.tolerance_pct.unwrap_or(DEFAULT_TOLERANCE_PCT) / 100.0, band })
    }

    /// The kit, when the sheet states one.
    pub fn kit(&self) -> Option<Kit> {
        let (base_g, hardener_g) = self.kit_base_g.zip(self.kit_hardener_g)?;
        Some(Kit { base_g, hardener_g })
    }

    /// Density of a component; `None` where the sheet states none.
    pub fn density_kg_l(&self, component: Component) -> Option<f64> {
        match component {
            Component::Base => Some(self.base_density_kg_l),
            Component::Hardener => self.hardener_density_kg_l,
            Component::Thinner => self.thinner_density_kg_l,
            c => self.additives.get(c.additive()?)?.density_kg_l,
        }
    }

    /// What a component is called: the trade's word, or the additive's own name.
    pub fn component_name(&self, component: Component) -> String {
        let own = component.additive().and_then(|i| self.additives.get(i)).map(|a| a.name.clone());
        own.unwrap_or_else(|| component.word().into())
    }

    /// The dose of an additive in words.
    pub fn dose_words(&self, component: Component, prefs: Prefs) -> String {
        let Some(additive) = component.additive().and_then(|i| self.additives.get(i)) else { return String::new() };
        match (additive.dose_g_l, additive.dose_pct) {
            (Some(g_l), _) => format!("{} of sprayable paint", show(g_l, Kind::MassPerVolume, prefs).text),
            (_, Some(pct)) => format!("{} of the base by weight", show(pct, Kind::Percent, prefs).text),
            _ => String::new(),
        }
    }

    /// What the thinner percentage is of, in words.
    pub fn thinner_words(&self) -> Option<&'static str> {
        Some(match self.thinner_basis? {
            ThinnerBasis::OfBase => "of base",
            ThinnerBasis::OfMixed => "of mixed",
            ThinnerBasis::OfFinished => "of finished",
        })
    }

    /// The ratio in words: `5 : 1 by volume`, `1.8 % by weight`, `no second component`.
    pub fn ratio_words(&self, prefs: Prefs) -> String {
        let trimmed = |r: f64| show(r, Kind::Ratio, prefs).figure.trim_end_matches('0').trim_end_matches(['.', ',']).to_string();
        match (self.has_hardener, self.basis, self.ratio, self.hardener_pct) {
            (true, Some(Basis::ByVolume), Some(r), _) => format!("{} : 1 by volume", trimmed(r)),
            (true, Some(Basis::ByWeight), Some(r), _) => format!("{} : 1 by weight", trimmed(r)),
            (true, Some(Basis::PercentByWeight), _, Some(p)) => format!("{} by weight", show(p, Kind::Percent, prefs).text),
            (true, Some(Basis::PercentByVolume), _, Some(p)) => format!("{} by volume", show(p, Kind::Percent, prefs).text),
            (true, Some(Basis::ByKit), ..) => {
                self.kit().map_or(String::new(), |k| format!("kit, {} : 1 by weight", trimmed(k.base_g / k.hardener_g)))
            }
            _ => "no second component".into(),
        }
    }
}

/// Allowed error of B per A unless the sheet says otherwise. Common practice in the trade.
pub const DEFAULT_TOLERANCE_PCT: f64 = 5.0;

/// Checks a thinner percentage on its basis: only *of finished* must stay below 100 %.
pub fn check_thinner_percent(field: &str, pct: f64, basis: ThinnerBasis, prefs: Prefs) -> Result<f64, Refusal> {
    match basis {
        ThinnerBasis::OfBase | ThinnerBasis::OfMixed => limits::THINNER.check(field, pct, prefs),
        ThinnerBasis::OfFinished => limits::THINNER_OF_FINISHED.check(field, pct, prefs),
    }
}

fn ordered(field: &str, lo: f64, value: f64, hi: f64, text: &str) -> Result<(), Refusal> {
    if lo <= value && value <= hi { Ok(()) } else { Err(Refusal::bad_input("out-of-order", field, text)) }
}

/// A short label proposed for a full name: whole words while they fit, else cut.
///
/// ```
/// assert_eq!(level_keel_core::sheets::propose_label("Channel-marker buoy 7 (north)"), "Channel-marker");
/// assert_eq!(level_keel_core::sheets::propose_label("Flume 14"), "Flume 14");
/// ```
pub fn propose_label(name: &str) -> String {
    let mut label = String::new();
    for word in name.split_whitespace() {
        let longer = if label.is_empty() { word.to_string() } else { format!("{label} {word}") };
        if longer.chars().count() > limits::LABEL_CHARS {
            break;
        }
        label = longer;
    }
    if label.is_empty() { name.trim().chars().take(limits::LABEL_CHARS).collect() } else { label }
}
