//! Which items apply to a batch: by substrate, method, hazard and what its sheet states.

use super::{ChecklistItem, Has, SheetClock, Substrate, What, When};
use crate::coat_system::Method;
use crate::sheets::{ChargeKind, Sheet};

/// What is known of a batch when its items are chosen.
#[derive(Debug, Clone, Copy)]
pub struct Choosing<'a> {
    /// Its sheet.
    pub sheet: &'a Sheet,
    /// What is coated; unknown: only items for any.
    pub substrate: Option<Substrate>,
    /// How; unknown: as the sheet is mixed.
    pub method: Option<Method>,
    /// Area.
    pub area_m2: f64,
    /// Thinner planned.
    pub thinner_pct: f64,
    /// One person works here: what neither spoils nor hurts is left out.
    pub alone: bool,
    /// It repairs a defect.
    pub repair: bool,
}

impl Choosing<'_> {
    fn has(&self, has: Has) -> bool {
        let sheet = self.sheet;
        match has {
            Has::Hardener => sheet.has_hardener,
            Has::Pot => sheet.charge == ChargeKind::Pot,
            Has::AtGun => sheet.charge == ChargeKind::AtGun,
            Has::Spray => self.method.is_none_or(Method::sprays),
            Has::Thinner => self.thinner_pct > 0.0,
            Has::Drum => sheet.drum_stir_min_s.is_some(),
            Has::Profile => sheet.profile_min_um.is_some(),
            Has::Settles => sheet.stir_again_s.is_some(),
            Has::MockUp => sheet.mock_up_over_m2.is_some_and(|m2| self.area_m2 > m2),
            Has::Undercoat => sheet.undercoat_colour.is_some(),
            Has::Certificate => sheet.certificate_needed,
            Has::Strain => sheet.strain_um.is_some(),
            Has::GunFilter => sheet.gun_filter_um.is_some(),
            Has::NoGunFilter => sheet.no_gun_filter,
            Has::LeastRig => sheet.least_rig.is_some(),
            Has::Excludes => sheet.excludes.is_some(),
            Has::NoSurface => self.substrate.is_none(),
            Has::Repair => self.repair,
        }
    }

    fn wants(&self, when: &When) -> bool {
        let any = |list_is_empty: bool, holds: bool| list_is_empty || holds;
        any(when.substrates.is_empty(), self.substrate.is_some_and(|s| when.substrates.contains(&s)))
            && any(when.methods.is_empty(), self.method.is_some_and(|m| when.methods.contains(&m)))
            && any(when.hazards.is_empty(), when.hazards.iter().any(|h| self.sheet.hazards.contains(h)))
            && when.has.iter().all(|h| self.has(*h))
    }

    /// The items that apply, in the order of the hands, with the sheet's figures put in.
    pub fn choose(&self, items: &[ChecklistItem]) -> Vec<ChecklistItem> {
        let mut chosen: Vec<ChecklistItem> =
            items.iter().filter(|i| self.wants(&i.when) && !(self.alone && i.crew_only)).map(|i| self.with_figures(i)).collect();
        chosen.sort_by_key(|i| i.group);
        chosen
    }

    fn with_figures(&self, item: &ChecklistItem) -> ChecklistItem {
        let mut item = item.clone();
        // What the sheet says of it stands with the hint.
        let says = |has: &Has| match has {
            Has::LeastRig => self.sheet.least_rig.clone(),
            Has::Excludes => self.sheet.excludes.clone(),
            Has::Undercoat => self.sheet.undercoat_colour.clone(),
            _ => None,
        };
        for said in item.when.has.iter().filter_map(says) {
            item.hint = format!("{} By the sheet: {said}.", item.hint).trim().to_string();
        }
        item.when = When::default();
        match &mut item.what {
            What::Timer { least_s, most_s, by: Some(by), .. } => match by {
                SheetClock::DrumStir => (*least_s, *most_s) = (self.sheet.drum_stir_min_s, self.sheet.drum_stir_max_s),
                SheetClock::DrumRest => *least_s = self.sheet.drum_rest_s,
                SheetClock::StirAgain => *most_s = self.sheet.stir_again_s,
            },
            What::GoodFor { window_s, by: Some(SheetClock::StirAgain), .. } => *window_s = self.sheet.stir_again_s,
            _ => {}
        }
        item
    }
}
