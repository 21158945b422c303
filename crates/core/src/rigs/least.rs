//! The least rig a sheet asks for, figure by figure, against a rig as it stands.

use super::Rig;
use crate::atomizing::tips::decode;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::Sheet;
use crate::verdict::is_under;

/// What a rig has less of than a sheet asks, or of what nobody wrote down how much it has.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ShortOf {
    /// Which figure: `nozzle`, `fluid-hose`, `air-hose`, `rating`, `regulators`, `shut-off`, `cap`.
    pub item: &'static str,
    /// It is written down at the rig, and is less. False: it is not written down.
    pub known: bool,
    /// What, and what to do.
    pub text: String,
}

impl Rig {
    /// Everything this rig is short of by a sheet.
    ///
    /// **Rule:** at least the sheet's bore of hose, rating of the vessel and nozzle, two regulators and a shut-off where it asks
    /// them; what is asked and not written down is not taken to be there. A vessel's figures are asked of a vessel only, a hose's
    /// where there is one. **Units:** mm, kPa. **Source:** the sheet.
    pub fn short_of(&self, sheet: &Sheet, prefs: Prefs) -> Vec<ShortOf> {
        let least = |item, what: &str, has: Option<f64>, asked: Option<f64>, kind: QuantityKind| {
            let asked = asked?;
            let say = |v| show(v, kind, prefs).text;
            match has {
                Some(has) if !is_under(has, asked) => None,
                Some(has) => Some(ShortOf {
                    item,
                    known: true,
                    text: format!("The {what} is {}; the sheet asks at least {}.", say(has), say(asked)),
                }),
                None => Some(ShortOf {
                    item,
                    known: false,
                    text: format!(
                        "The {what} is not written down; the sheet asks at least {}. Write it down at the rig.",
                        say(asked)
                    ),
                }),
            }
        };
        let asked_yes = |item, what: &str, has: bool, asked: bool| {
            (asked && !has).then(|| ShortOf {
                item,
                known: true,
                text: format!("The sheet asks {what}; this rig has none written down."),
            })
        };
        let vessel = self.kind.has_vessel();
        let hole = self.tip_code.as_deref().filter(|_| self.kind.is_tipped()).and_then(|code| decode(code, &[]).ok());
        let nozzle = if self.kind.is_tipped() { hole.map(|tip| tip.hole_mm) } else { self.nozzle_mm };
        let fluid = sheet.least_hose_bore_mm.filter(|_| self.kind.has_hose());
        [
            least("nozzle", "nozzle", nozzle, sheet.tip_min_um.map(|um| um / 1000.0), QuantityKind::Nozzle),
            least("fluid-hose", "fluid hose", self.hose_bore_mm, fluid, QuantityKind::Bore),
            least("air-hose", "air hose", self.air_bore_mm, sheet.least_air_bore_mm, QuantityKind::Bore),
            least(
                "rating",
                "rating of the vessel",
                self.rating_kpa,
                sheet.least_rating_kpa.filter(|_| vessel),
                QuantityKind::Pressure,
            ),
            asked_yes(
                "regulators",
                "a regulator each for fluid and air",
                self.two_regulators,
                vessel && sheet.least_two_regulators,
            ),
            asked_yes("shut-off", "a shut-off in the air line", self.shut_off, vessel && sheet.least_shut_off),
            self.cap_beside(sheet),
        ]
        .into_iter()
        .flatten()
        .collect()
    }
}

impl Rig {
    /// The cap that is fitted beside the one the sheet asks, by what is stamped on it.
    fn cap_beside(&self, sheet: &Sheet) -> Option<ShortOf> {
        let asked = sheet.least_cap.as_deref().filter(|_| !self.kind.is_tipped())?.trim();
        match self.cap.as_deref().map(str::trim) {
            Some(has) if has.eq_ignore_ascii_case(asked) => None,
            Some(has) => {
                let text = format!("The cap is {has}; the sheet asks {asked}.");
                Some(ShortOf { item: "cap", known: true, text })
            }
            None => {
                let text = format!("Which cap is fitted is not written down; the sheet asks {asked}. Write it down at the rig.");
                Some(ShortOf { item: "cap", known: false, text })
            }
        }
    }
}

impl Sheet {
    /// It states the least rig by figures.
    pub fn asks_of_the_rig(&self) -> bool {
        let figures = [self.tip_min_um, self.least_hose_bore_mm, self.least_air_bore_mm, self.least_rating_kpa];
        figures.iter().any(Option::is_some) || self.least_two_regulators || self.least_shut_off || self.least_cap.is_some()
    }
}
