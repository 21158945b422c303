//! Conditions when it went on, and while it cured.

use super::{Said, Scene, against, for_it, judged, of_all, unknown};
use crate::batch::gates::CONDITIONS_GOOD_FOR_S;
use crate::batch::record::Stamped;
use crate::conditions::{Readings, THERMOMETER_DK};
use crate::quantity::{QuantityKind, show_duration};
use crate::sheets::Sheet;
use crate::verdict::{Measured, Tolerance, Verdict, is_over, is_under};

impl<'a> Scene<'a> {
    fn sheet(&self) -> Option<&'a Sheet> {
        self.case.record.aim().map(|aim| &aim.sheet)
    }

    /// Of each pass what was read last before it, not longer ago than a reading stands.
    fn at_passes(&self, of: impl Fn(&Stamped<Readings>) -> Said) -> Vec<Said> {
        let one = |at| match self.case.record.conditions_at(at) {
            None => unknown("Nobody read the conditions"),
            Some(read) => {
                let ago = at.duration_since(read.at).as_secs_f64();
                if ago <= CONDITIONS_GOOD_FOR_S {
                    of(read)
                } else {
                    unknown(format!("The conditions were read {} before", show_duration(ago)))
                }
            }
        };
        self.passes.iter().map(|p| one(p.at)).collect()
    }

    /// What was read after the last pass, where it shows it: the coat cures in it.
    fn while_it_cured(&self, of: impl Fn(&Stamped<Readings>) -> Said) -> Option<Said> {
        let last = self.last()?;
        let mut later = self.case.record.conditions.iter().filter(|c| c.at > last).map(of);
        later.rfind(|said| said.side == crate::diagnosis::Side::For)
    }
}

const NOT_SPRAYED: &str = "No pass is stamped";

fn temperature(s: &Scene<'_>, name: &str, value: f64, (limit, asked): (f64, Verdict), read: &Stamped<Readings>) -> Said {
    let measured = Measured::pm(value, THERMOMETER_DK);
    let tolerance = if asked == Verdict::Low { Tolerance::at_least(limit) } else { Tolerance::at_most(limit) };
    let say = |c| s.say(c, QuantityKind::Temperature);
    let bound = if asked == Verdict::Low { "at the least" } else { "at the most" };
    judged(tolerance.judge(measured), asked, format!("{name} {}, {} {bound}", say(value), say(limit)), Some(read.entry))
}

pub(super) fn material_cold(s: &Scene<'_>) -> Said {
    let Some(sheet) = s.sheet() else { return unknown(NOT_SPRAYED) };
    let of = |r: &Stamped<Readings>| temperature(s, "Material", r.it.material_c, (sheet.temp_min_c, Verdict::Low), r);
    of_all(s.at_passes(of), NOT_SPRAYED)
}

pub(super) fn surface_cold(s: &Scene<'_>) -> Said {
    let Some(sheet) = s.sheet() else { return unknown(NOT_SPRAYED) };
    let of = |r: &Stamped<Readings>| temperature(s, "Surface", r.it.surface_c, (sheet.temp_min_c, Verdict::Low), r);
    s.while_it_cured(of).unwrap_or_else(|| of_all(s.at_passes(of), NOT_SPRAYED))
}

pub(super) fn hot(s: &Scene<'_>) -> Said {
    let Some(sheet) = s.sheet() else { return unknown(NOT_SPRAYED) };
    let of = |r: &Stamped<Readings>| {
        let each = [("Air", r.it.air_c), ("Surface", r.it.surface_c), ("Material", r.it.material_c)];
        let hottest = each.into_iter().max_by(|a, b| a.1.total_cmp(&b.1));
        hottest.map_or_else(|| unknown(NOT_SPRAYED), |(name, c)| temperature(s, name, c, (sheet.temp_max_c, Verdict::High), r))
    };
    of_all(s.at_passes(of), NOT_SPRAYED)
}

pub(super) fn dew(s: &Scene<'_>) -> Said {
    let Some(sheet) = s.sheet() else { return unknown(NOT_SPRAYED) };
    let of = |r: &Stamped<Readings>| {
        let margin = r.it.margin_dk().value;
        let text = format!("Surface {} above the dew point", s.say(margin, QuantityKind::TempDiff));
        match sheet.margin_min_dk {
            Some(least) if is_under(margin, least) => for_it(text, Some(r.entry)),
            Some(_) => against(text, Some(r.entry)),
            None if margin <= 0.0 => for_it(text, Some(r.entry)),
            None => unknown("The sheet states no margin to the dew point"),
        }
    };
    s.while_it_cured(of).unwrap_or_else(|| of_all(s.at_passes(of), NOT_SPRAYED))
}

pub(super) fn damp(s: &Scene<'_>) -> Said {
    let Some(most) = s.sheet().and_then(|sheet| sheet.rh_max_pct) else {
        return unknown("The sheet states no most of humidity");
    };
    let of = |r: &Stamped<Readings>| {
        let say = |pct| s.say(pct, QuantityKind::Percent);
        let text = format!("Relative humidity {}, {} at the most", say(r.it.rh_pct), say(most));
        if is_over(r.it.rh_pct, most) { for_it(text, Some(r.entry)) } else { against(text, Some(r.entry)) }
    };
    s.while_it_cured(of).unwrap_or_else(|| of_all(s.at_passes(of), NOT_SPRAYED))
}
