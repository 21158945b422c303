//! What a sheet says of its passes, and of the times after them: checked.

use super::validate::pair;
use super::{MOST_STEPS, Sheet};
use crate::limits::{self, check_text};
use crate::quantity::Prefs;
use crate::refusal::Refusal;

impl Sheet {
    /// Every step with its waits, and how far off the gun is held.
    pub(super) fn check_steps(&mut self, prefs: Prefs) -> Result<(), Refusal> {
        if self.steps.len() > MOST_STEPS {
            return Err(Refusal::bad_input("too-many", "steps", format!("At most {MOST_STEPS} steps.")));
        }
        for (i, step) in self.steps.iter_mut().enumerate() {
            let at = |field: &str| format!("steps[{i}].{field}");
            step.name = check_text(&at("name"), &step.name, limits::ADDITIVE_CHARS)?;
            limits::ATOMIZING_PRESSURE.check_optional(&at("atomizing_kpa"), step.atomizing_kpa, prefs)?;
            limits::COUNT.check_optional(&at("passes_count"), step.passes_count, prefs)?;
            for (field, s) in
                [("wait_s", step.wait_s), ("between_s", step.between_s), ("between_latest_s", step.between_latest_s)]
            {
                limits::SHEET_TIME.check_optional(&at(field), s, prefs)?;
            }
            let between = "The latest between passes is before the earliest.";
            pair(&at("between_latest_s"), step.between_s, step.between_latest_s, between)?;
            for (field, mm) in [("distance_min_mm", step.distance_min_mm), ("distance_max_mm", step.distance_max_mm)] {
                limits::GUN_DISTANCE.check_optional(&at(field), mm, prefs)?;
            }
            let farthest = "The farthest is nearer than the nearest.";
            pair(&at("distance_max_mm"), step.distance_min_mm, step.distance_max_mm, farthest)?;
        }
        Ok(())
    }

    /// The band of the first pass and of each later one: each in order, and none over the most of all.
    pub(super) fn check_pass_bands(&self, prefs: Prefs) -> Result<(), Refusal> {
        for (least, min, most, max) in [
            ("first_pass_min_um", self.first_pass_min_um, "first_pass_max_um", self.first_pass_max_um),
            ("pass_min_um", self.pass_min_um, "pass_max_um", self.pass_max_um),
        ] {
            limits::FILM.check_optional(least, min, prefs)?;
            limits::FILM.check_optional(most, max, prefs)?;
            pair(most, min, max, "The most of a pass is less than its least.")?;
            pair(most, max, Some(self.wet_max_um), "One pass may not be more than the most wet film of all.")?;
        }
        Ok(())
    }

    /// How long a prepared surface may wait, and the times after the last pass.
    pub(super) fn check_times_after(&self, prefs: Prefs) -> Result<(), Refusal> {
        for (field, s) in [
            ("open_surface_s", self.open_surface_s),
            ("mask_off_s", self.mask_off_s),
            ("dust_dry_s", self.dust_dry_s),
            ("touch_dry_s", self.touch_dry_s),
            ("handle_s", self.handle_s),
            ("service_s", self.service_s),
            ("next_trade_s", self.next_trade_s),
        ] {
            limits::SHEET_TIME.check_optional(field, s, prefs)?;
        }
        Ok(())
    }
}
