//! What would settle the last proof where it is *cannot tell*.

use crate::batch::case::Case;
use crate::batch::proofs;
use crate::mixing::{self, Component, Weighed, b_per_a};
use crate::quantity::Prefs;
use crate::ratio_check::{Doubt, Settling, USUAL_REPEAT, settle};
use crate::sheets::{ChargeKind, Sheet};
use crate::verdict::Verdict;

/// Of a pair of catches the last, of pots the last that holds both; `None` where it is no doubt.
pub(super) fn settling(case: &Case<'_>, prefs: Prefs) -> Option<Settling> {
    let sheet = &case.aim()?.sheet;
    let scales_g = &case.beside.measures.scales_g;
    let allowed = sheet.hardener()?.allowed();
    if sheet.charge == ChargeKind::Pot {
        let charge = case.charges.iter().rev().find(|c| c.combined_now().is_some())?;
        // A cup says its own way out at its hold.
        if charge.pours.iter().any(|p| p.it.by_mark) {
            return None;
        }
        let weighed = charge.weighed();
        let pot = Doubt { weighed: &weighed, caught: false, time_s: None, allowed, repeat: 0.0, scales_g };
        return in_doubt(sheet, &weighed).then(|| settle(&pot, prefs));
    }
    let last = &case.catches.last()?.it;
    let apart = |component, reading_g| {
        let resolution_g = last.resolution_g;
        Weighed { component, reading_g, tared: true, resolution_g, start_g: None }
    };
    let weighed = [apart(Component::Base, last.a_g), apart(Component::Hardener, last.b_g)];
    if !in_doubt(sheet, &weighed) {
        return None;
    }
    let repeat = proofs::studied(case, None).last().map_or(USUAL_REPEAT, crate::ratio_check::Studied::repeat);
    let time_s = last.caught_watch_s;
    Some(settle(&Doubt { weighed: &weighed, caught: true, time_s, allowed, repeat, scales_g }, prefs))
}

fn in_doubt(sheet: &Sheet, weighed: &[Weighed]) -> bool {
    let said = b_per_a(weighed).and_then(|b_per_a| mixing::said(sheet, b_per_a));
    said.is_some_and(|s| s.tolerance.judge(s.measured) == Verdict::CannotTell)
}
