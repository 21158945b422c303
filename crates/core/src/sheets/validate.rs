//! Checking a sheet: every field, and the sense of them together.

use super::{Basis, ChargeKind, Sheet, ThinnerBasis};
use crate::component::Component;
use crate::limits::{self, check_name, check_text, required};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;

/// Further temperatures a sheet may state its clocks at.
pub const MOST_TIMES: usize = 5;
/// Steps of a coat.
pub const MOST_STEPS: usize = 4;
/// Coats of a product over itself that a sheet may state, and that one job may have.
pub const MOST_COATS: f64 = 6.0;
/// Additives, one a component of its own.
pub const MOST_ADDITIVES: usize = Component::ADDITIVES.len();

impl Sheet {
    /// Checks every field and the sense of them together.
    ///
    /// **Errors:** a [`Refusal`] naming the first field at fault.
    pub fn validate(mut self, prefs: Prefs) -> Result<Sheet, Refusal> {
        self.name = check_name("name", &self.name)?;
        self.label = check_text("label", &self.label, limits::LABEL_CHARS)?;
        limits::DENSITY.check_optional("base_density_kg_l", self.base_density_kg_l, prefs)?;
        if !self.may_go_by_volume() {
            required("base_density_kg_l", self.base_density_kg_l)?;
        }
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
        for (field, film) in [("dry_min_um", self.dry_min_um), ("dry_max_um", self.dry_max_um)] {
            limits::FILM.check_optional(field, film, prefs)?;
        }
        if let (Some(least), Some(most)) = (self.dry_min_um, self.dry_max_um) {
            ordered("dry_max_um", least, most, f64::MAX, "The most dry film is under its least.")?;
        }
        limits::TEMPERATURE.check("temp_min_c", self.temp_min_c, prefs)?;
        limits::TEMPERATURE.check("temp_max_c", self.temp_max_c, prefs)?;
        ordered("temp_max_c", self.temp_min_c, self.temp_max_c, f64::MAX, "The hottest is below the coldest.")?;
        limits::MARGIN.check_optional("margin_min_dk", self.margin_min_dk, prefs)?;
        limits::HUMIDITY.check_optional("rh_max_pct", self.rh_max_pct, prefs)?;
        limits::SHEET_TIME.check_optional("recoat_min_s", self.recoat_min_s, prefs)?;
        limits::SHEET_TIME.check_optional("recoat_max_s", self.recoat_max_s, prefs)?;
        limits::TEMPERATURE.check_optional("recoat_at_c", self.recoat_at_c, prefs)?;
        if self.coats_most_count.is_some_and(|n| n.fract() != 0.0 || !(1.0..=MOST_COATS).contains(&n)) {
            let text = format!("Coats of it over itself are whole ones, 1 to {MOST_COATS}.");
            return Err(Refusal::bad_input("outside-limits", "coats_most_count", text));
        }
        self.check_times_after(prefs)?;
        self.check_pass_bands(prefs)?;
        if let (Some(min), Some(max)) = (self.recoat_min_s, self.recoat_max_s) {
            ordered("recoat_max_s", min, max, f64::MAX, "The latest recoat is before the earliest.")?;
        }
        self.check_flow(prefs)?;
        self.check_times(prefs)?;
        self.check_handling(prefs)?;
        self.check_surface_and_stores(prefs)?;
        Ok(self)
    }

    /// Each viscosity with its temperature.
    fn check_flow(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::FLOW_INDEX.check_optional("flow_index", self.flow_index, prefs)?;
        for (field, mpa_s, at, at_c) in [
            ("viscosity_mpa_s", self.viscosity_mpa_s, "viscosity_at_c", self.viscosity_at_c),
            ("viscosity_warm_mpa_s", self.viscosity_warm_mpa_s, "viscosity_warm_at_c", self.viscosity_warm_at_c),
        ] {
            limits::VISCOSITY.check_optional(field, mpa_s, prefs)?;
            limits::TEMPERATURE.check_optional(at, at_c, prefs)?;
            if mpa_s.is_some() != at_c.is_some() {
                let missing = if mpa_s.is_some() { at } else { field };
                return Err(Refusal::bad_input("missing", missing, "A viscosity and its temperature belong together."));
            }
        }
        Ok(())
    }

    /// Every further temperature once, and each time what it belongs to.
    fn check_times(&mut self, prefs: Prefs) -> Result<(), Refusal> {
        if self.times.len() > MOST_TIMES {
            return Err(Refusal::bad_input("too-many", "times", format!("At most {MOST_TIMES} further temperatures.")));
        }
        if !self.has_hardener {
            self.times.iter_mut().for_each(|t| (t.pot_life_s, t.induction_s) = (None, None));
        }
        for (i, t) in self.times.iter().enumerate() {
            let at = |field: &str| format!("times[{i}].{field}");
            limits::TEMPERATURE.check(&at("at_c"), t.at_c, prefs)?;
            limits::POT_LIFE.check_optional(&at("pot_life_s"), t.pot_life_s, prefs)?;
            for (field, s) in [("induction_s", t.induction_s), ("recoat_min_s", t.recoat_min_s), ("recoat_max_s", t.recoat_max_s)]
            {
                limits::SHEET_TIME.check_optional(&at(field), s, prefs)?;
            }
            if self.times[..i].iter().any(|u| (u.at_c - t.at_c).abs() < 0.5) {
                return Err(Refusal::bad_input("twice", &at("at_c"), "This temperature stands here twice."));
            }
        }
        // What sets in faster when it is colder is a slip of the pen.
        for (field, curve) in [("pot_life_s", self.life_curve()), ("recoat_min_s", self.recoat_min_curve())] {
            let Some(curve) = curve else { continue };
            if let Some(w) = curve.points().windows(2).find(|w| w[1].1 > w[0].1) {
                let warm = show(w[1].0, QuantityKind::Temperature, prefs).text;
                let row = self.times.iter().position(|t| (t.at_c - w[1].0).abs() < 0.5 || (t.at_c - w[0].0).abs() < 0.5);
                let path = row.map_or(field.to_string(), |i| format!("times[{i}].{field}"));
                return Err(Refusal::bad_input("longer-when-warm", &path, format!("This is longer at {warm} than when colder.")));
            }
        }
        Ok(())
    }

    fn check_handling(&mut self, prefs: Prefs) -> Result<(), Refusal> {
        for (field, s) in [
            ("stir_again_s", self.stir_again_s),
            ("drum_stir_min_s", self.drum_stir_min_s),
            ("drum_stir_max_s", self.drum_stir_max_s),
            ("drum_rest_s", self.drum_rest_s),
        ] {
            limits::HANDLING_TIME.check_optional(field, s, prefs)?;
        }
        pair("drum_stir_max_s", self.drum_stir_min_s, self.drum_stir_max_s, "The most stirring is less than the least.")?;
        for (field, um) in [("strain_um", self.strain_um), ("gun_filter_um", self.gun_filter_um), ("tip_min_um", self.tip_min_um)]
        {
            limits::MESH.check_optional(field, um, prefs)?;
        }
        if self.no_gun_filter && self.gun_filter_um.is_some() {
            let text = "The sheet wants no filter in the gun, and states the mesh of one. Which?";
            return Err(Refusal::bad_input("filter-or-none", "gun_filter_um", text));
        }
        limits::HOSE_BORE.check_optional("least_hose_bore_mm", self.least_hose_bore_mm, prefs)?;
        limits::HOSE_BORE.check_optional("least_air_bore_mm", self.least_air_bore_mm, prefs)?;
        limits::RATING.check_optional("least_rating_kpa", self.least_rating_kpa, prefs)?;
        for (field, kpa) in
            [("catalyst_air_min_kpa", self.catalyst_air_min_kpa), ("catalyst_air_max_kpa", self.catalyst_air_max_kpa)]
        {
            limits::ATOMIZING_PRESSURE.check_optional(field, kpa, prefs)?;
        }
        pair(
            "catalyst_air_max_kpa",
            self.catalyst_air_min_kpa,
            self.catalyst_air_max_kpa,
            "The most air is less than the least.",
        )?;
        limits::KIT_CAN.check_optional("pot_life_mass_g", self.pot_life_mass_g, prefs)?;
        self.check_steps(prefs)?;
        Ok(())
    }

    fn check_surface_and_stores(&mut self, prefs: Prefs) -> Result<(), Refusal> {
        limits::FILM.check_optional("profile_min_um", self.profile_min_um, prefs)?;
        limits::FILM.check_optional("profile_max_um", self.profile_max_um, prefs)?;
        pair("profile_max_um", self.profile_min_um, self.profile_max_um, "The most profile is less than the least.")?;
        limits::AREA.check_optional("mock_up_over_m2", self.mock_up_over_m2, prefs)?;
        limits::COVERAGE.check_optional("area_max_m2_l", self.area_max_m2_l, prefs)?;
        for (field, c) in [
            ("store_min_c", self.store_min_c),
            ("store_max_c", self.store_max_c),
            ("hardener_store_max_c", self.hardener_store_max_c),
        ] {
            limits::TEMPERATURE.check_optional(field, c, prefs)?;
        }
        pair("store_max_c", self.store_min_c, self.store_max_c, "The warmest store is colder than the coldest.")?;
        limits::PRICE.check_optional("price_minor_l", self.price_minor_l, prefs)?;
        if self.shelf_life_days.is_some_and(|d| !(1..=3650).contains(&d)) {
            return Err(Refusal::bad_input("outside-limits", "shelf_life_days", "Shelf life is 1 to 3650 days."));
        }
        for (field, text, most) in [
            ("colour", &mut self.colour, limits::COLOUR_CHARS),
            ("undercoat_colour", &mut self.undercoat_colour, limits::COLOUR_CHARS),
            ("least_rig", &mut self.least_rig, limits::TEXT_CHARS),
            ("least_cap", &mut self.least_cap, limits::LABEL_CHARS),
            ("excludes", &mut self.excludes, limits::TEXT_CHARS),
            ("flush_with", &mut self.flush_with, limits::NAME_CHARS),
        ] {
            if let Some(words) = text.take().filter(|t| !t.trim().is_empty()) {
                *text = Some(check_text(field, &words, most)?);
            }
        }
        Ok(())
    }

    fn check_hardener(&mut self, prefs: Prefs) -> Result<(), Refusal> {
        if !self.has_hardener {
            // Nothing to proportion and nothing to age: a leftover figure would only mislead.
            (self.basis, self.ratio, self.hardener_pct, self.band_low_pct, self.band_high_pct) = (None, None, None, None, None);
            (self.hardener_density_kg_l, self.tolerance_pct, self.kit_base_g, self.kit_hardener_g) = (None, None, None, None);
            (self.kit_base_ml, self.kit_hardener_ml, self.kit_to_line) = (None, None, false);
            (self.pot_life_s, self.pot_life_at_c, self.induction_s) = (None, None, None);
            return Ok(());
        }
        let basis = self.basis.ok_or_else(|| {
            Refusal::bad_input("basis-missing", "basis", "By volume or by weight? The ratio means nothing without its basis.")
        })?;
        // A band is of a percentage. Left over on a ratio it would bound nothing, and look as if it did.
        let percent = matches!(basis, Basis::PercentByWeight | Basis::PercentByVolume);
        for (field, left_over) in [("band_low_pct", self.band_low_pct), ("band_high_pct", self.band_high_pct)] {
            if left_over.is_some() && !percent {
                return Err(Refusal::bad_input(
                    "band-of-a-ratio",
                    field,
                    "A band bounds a percentage of hardener. This ratio has none: clear the band, or state the ratio in per cent.",
                ));
            }
        }
        match basis {
            Basis::ByVolume | Basis::ByWeight => {
                limits::RATIO.check("ratio", required("ratio", self.ratio)?, prefs)?;
            }
            Basis::ByKit => {
                if self.kit_base_ml.or(self.kit_hardener_ml).is_none() {
                    required("kit_base_g", self.kit_base_g)?;
                    required("kit_hardener_g", self.kit_hardener_g)?;
                }
                self.ratio = None;
            }
            Basis::PercentByWeight | Basis::PercentByVolume => {
                let aim = limits::HARDENER_PERCENT.check("hardener_pct", required("hardener_pct", self.hardener_pct)?, prefs)?;
                limits::HARDENER_PERCENT.check_optional("band_low_pct", self.band_low_pct, prefs)?;
                limits::HARDENER_PERCENT.check_optional("band_high_pct", self.band_high_pct, prefs)?;
                pair("band_high_pct", self.band_low_pct, self.band_high_pct, "The most of the band is less than its least.")?;
                let (lo, hi) = (self.band_low_pct.unwrap_or(0.0), self.band_high_pct.unwrap_or(f64::MAX));
                ordered("hardener_pct", lo, aim, hi, "The percent aimed at lies outside its band.")?;
            }
        }
        self.check_densities(prefs)?;
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

    /// Whether a volume alone says how this is mixed: parts by volume, a kit by volume, or one can; and in a pot, for a catch at
    /// the gun is weighed.
    fn may_go_by_volume(&self) -> bool {
        let by_kit = || self.kit_base_ml.and(self.kit_hardener_ml).is_some();
        let by_volume = match self.basis {
            Some(Basis::ByVolume | Basis::PercentByVolume) => true,
            Some(Basis::ByKit) => by_kit(),
            Some(Basis::ByWeight | Basis::PercentByWeight) => false,
            None => true,
        };
        self.charge == ChargeKind::Pot && (!self.has_hardener || by_volume)
    }

    /// Both densities, or neither where it goes by volume alone: with one of two nothing could be weighed.
    fn check_densities(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::DENSITY.check_optional("hardener_density_kg_l", self.hardener_density_kg_l, prefs)?;
        let one_alone = |field: &str| -> Result<(), Refusal> {
            let text =
                "The density of one part alone weighs nothing: state both, or neither, and it is measured by volume alone.";
            Err(Refusal::bad_input("missing", field, text))
        };
        match (self.base_density_kg_l, self.hardener_density_kg_l) {
            (Some(_), Some(_)) => Ok(()),
            (None, None) if self.may_go_by_volume() => Ok(()),
            (Some(_), None) if self.may_go_by_volume() => one_alone("hardener_density_kg_l"),
            (None, Some(_)) if self.may_go_by_volume() => one_alone("base_density_kg_l"),
            (_, None) => required("hardener_density_kg_l", None::<f64>).map(drop),
            (None, _) => required("base_density_kg_l", None::<f64>).map(drop),
        }
    }

    /// Both cans or none, and what they hold must be the ratio the sheet states.
    fn check_kit(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::KIT_CAN.check_optional("kit_base_g", self.kit_base_g, prefs)?;
        limits::KIT_CAN.check_optional("kit_hardener_g", self.kit_hardener_g, prefs)?;
        limits::AMOUNT.check_optional("kit_base_ml", self.kit_base_ml, prefs)?;
        limits::AMOUNT.check_optional("kit_hardener_ml", self.kit_hardener_ml, prefs)?;
        let cans = |g: Option<f64>, ml: Option<f64>| (g.is_some(), ml.is_some());
        match (cans(self.kit_base_g, self.kit_base_ml), cans(self.kit_hardener_g, self.kit_hardener_ml)) {
            ((true, true), _) | (_, (true, true)) | ((true, _), (_, true)) | ((_, true), (true, _)) => {
                let text = "The cans of a kit by weight or by volume: one of the two.";
                return Err(Refusal::bad_input("one-of-two", "kit_base_ml", text));
            }
            ((_, true), (false, false)) => return required("kit_hardener_ml", None::<f64>).map(drop),
            ((false, false), (_, true)) => return required("kit_base_ml", None::<f64>).map(drop),
            ((true, false), (false, false)) => return required("kit_hardener_g", None::<f64>).map(drop),
            ((false, false), (true, false)) => return required("kit_base_g", None::<f64>).map(drop),
            _ => {}
        }
        if self.kit_to_line && self.kit().is_none() {
            let text =
                "A line to fill to belongs to a kit: say what its can of base holds, and what of hardener the line stands for.";
            return Err(Refusal::bad_input("no-kit", "kit_to_line", text));
        }
        match self.kit() {
            Some(kit) => {
                let (a, b) = (kit.base_g, kit.hardener_g);
                let stated = self.hardener();
                let off = stated.map_or(0.0, |h| (b / a / h.b_per_a - 1.0).abs() - h.tolerance);
                if off <= 1e-9 {
                    return Ok(());
                }
                let percent = show(100.0 * stated.map_or(0.0, |h| b / a / h.b_per_a - 1.0), QuantityKind::Percent, prefs).text;
                let field = if self.kit_hardener_ml.is_some() { "kit_hardener_ml" } else { "kit_hardener_g" };
                Err(Refusal::bad_input(
                    "kit-off-ratio",
                    field,
                    format!("The kit's cans are {percent} off the ratio of the sheet. One of the two is wrong: ask the maker."),
                ))
            }
            None => Ok(()),
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
            if additive.dose_pct.is_some() && self.base_density_kg_l.is_none() {
                let text = "Per cent of the base by weight wants the density of the base. Or state the dose for a litre.";
                return Err(Refusal::bad_input("density-missing", &at("dose_pct"), text));
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
        limits::DENSITY.check_optional("thinner_density_kg_l", self.thinner_density_kg_l, prefs)?;
        if !self.by_volume_alone() {
            required("thinner_density_kg_l", self.thinner_density_kg_l)?;
        }
        Ok(())
    }
}

/// Checks a thinner percentage on its basis: only *of finished* must stay below 100 %.
///
/// **Rule:** inside the limit of its basis. **Units:** per cent by volume. **Source:** arithmetic: finished paint cannot be all
/// thinner.
pub fn check_thinner_percent(field: &str, pct: f64, basis: ThinnerBasis, prefs: Prefs) -> Result<f64, Refusal> {
    match basis {
        ThinnerBasis::OfBase | ThinnerBasis::OfMixed => limits::THINNER.check(field, pct, prefs),
        ThinnerBasis::OfFinished => limits::THINNER_OF_FINISHED.check(field, pct, prefs),
    }
}

/// Two bounds where both are given: the least first.
pub(super) fn pair(field: &str, least: Option<f64>, most: Option<f64>, text: &str) -> Result<(), Refusal> {
    least.zip(most).map_or(Ok(()), |(lo, hi)| ordered(field, lo, hi, f64::MAX, text))
}

fn ordered(field: &str, lo: f64, value: f64, hi: f64, text: &str) -> Result<(), Refusal> {
    if lo <= value && value <= hi { Ok(()) } else { Err(Refusal::bad_input("out-of-order", field, text)) }
}
