//! The pots it came from: stirred, aged, warm, thinned, dosed.

use super::{Said, Scene, against, for_it, judged, of_all, unknown};
use crate::batch::charge::Charge;
use crate::batch::record::Record;
use crate::component::Component;
use crate::mixing;
use crate::pot_life::{PotState, SafeSide};
use crate::quantity::QuantityKind;
use crate::sheets::ChargeKind;
use crate::verdict::{Measured, Tolerance, Verdict, is_over};
use crate::worded::VariantArray;
use jiff::Timestamp;
use uuid::Uuid;

/// So much over the temperature its life is stated at a pot is hot; from memory.
const HOT_OVER_DK: f64 = 5.0;

const NO_POT: &str = "No pot is recorded";

impl<'a> Scene<'a> {
    /// The pots that were sprayed there; where nothing is on yet, all of them.
    fn pots(&self) -> Vec<&'a Charge> {
        let used = |c: &&Charge| self.passes.is_empty() || self.passes.iter().any(|p| p.it.charge == c.id);
        let record: &'a Record = self.case.record;
        record.charges.iter().filter(used).filter(|c| c.kind == ChargeKind::Pot).collect()
    }

    /// When a pot was sprayed from last, or ended, or was filled last.
    fn until(&self, pot: &Charge) -> Timestamp {
        let passes = self.case.passes.iter().filter(|p| p.it.charge == pot.id).map(|p| p.at);
        let ends = passes.chain(pot.closed.as_ref().map(|c| c.at)).max();
        ends.or(pot.last_added()).unwrap_or(pot.opened)
    }

    /// What makes a question of pots none: mixed at the gun, or one can.
    fn no_pot(&self, what: &str) -> Option<Said> {
        let sheet = &self.case.record.aim()?.sheet;
        if !sheet.has_hardener {
            return Some(against(format!("One component: {what}"), None));
        }
        (sheet.charge == ChargeKind::AtGun).then(|| against(format!("It is mixed at the gun: {what}"), None))
    }
}

pub(super) fn unstirred(s: &Scene<'_>) -> Said {
    if let Some(said) = s.no_pot("nothing is stirred together") {
        return said;
    }
    let one = |pass: &&crate::batch::record::Stamped<crate::batch::entries::Pass>| {
        let Some(pot) = s.case.charge(pass.it.charge) else { return unknown(NO_POT) };
        match s.case.clock(pot, pass.at).map(|c| c.state) {
            Some(PotState::Mixing) => for_it(format!("Pot {} was not stirred when it was sprayed", pot.no), Some(pass.entry)),
            Some(PotState::Inducting) => for_it(format!("Pot {} was still inducting", pot.no), Some(pass.entry)),
            Some(PotState::Spent) if pot.stirred_by(pass.at).is_none() => {
                for_it(format!("Pot {} was not stirred when it was sprayed", pot.no), Some(pass.entry))
            }
            Some(PotState::Ready | PotState::Watch | PotState::LastCall | PotState::Spent) => {
                against(format!("Pot {} was stirred", pot.no), Some(pass.entry))
            }
            Some(PotState::Filling | PotState::Open) | None => unknown(format!("How pot {} was stirred is not recorded", pot.no)),
        }
    };
    of_all(s.passes.iter().map(one).collect(), NO_POT)
}

pub(super) fn past_life(s: &Scene<'_>) -> Said {
    if let Some(said) = s.no_pot("no pot ages") {
        return said;
    }
    let one = |pot: &Charge| {
        let until = s.until(pot);
        let Some(clock) = s.case.clock_until(pot, until) else {
            return unknown(format!("How old pot {} was is not known", pot.no));
        };
        let entry = s.case.passes.iter().rev().find(|p| p.it.charge == pot.id).map(|p| p.entry);
        let text = format!("Pot {} was at {:.0} % of its life at the last of it", pot.no, 100.0 * clock.age);
        // Without a reading its age is that of the sheet's own temperature: a warmer pot is older.
        let unread = s.case.held_temperatures(pot, SafeSide::Hotter).is_empty();
        match clock.state == PotState::Spent {
            true => for_it(text, entry),
            false if unread => unknown(format!("Nobody read how warm pot {} was: how old it grew is not known", pot.no)),
            false => against(text, entry),
        }
    };
    of_all(s.pots().into_iter().map(one).collect(), NO_POT)
}

pub(super) fn hot(s: &Scene<'_>) -> Said {
    if let Some(said) = s.no_pot("no pot warms") {
        return said;
    }
    let Some(stated) = s.case.aim().and_then(|aim| aim.sheet.pot_life_at_c) else {
        return unknown("The sheet states no temperature for its pot life");
    };
    let most = stated + HOT_OVER_DK;
    let one = |pot: &Charge| {
        let (from, until) = (pot.combined().unwrap_or(pot.opened), s.until(pot));
        let held = s.case.held_temperatures(pot, SafeSide::Hotter);
        let before = held.iter().rev().find(|h| h.from <= from).into_iter();
        let during = held.iter().filter(|h| h.from > from && h.from <= until);
        let hottest = before.chain(during).map(|h| h.temp_c).max_by(f64::total_cmp);
        let Some(hottest) = hottest else { return unknown(format!("Nobody read how warm pot {} was", pot.no)) };
        let say = |c| s.say(c, QuantityKind::Temperature);
        let text = format!("Pot {} at {}, its life is stated at {}", pot.no, say(hottest), say(stated));
        let measured = Measured::pm(hottest, crate::conditions::THERMOMETER_DK);
        judged(Tolerance::at_most(most).judge(measured), Verdict::High, text, None)
    };
    of_all(s.pots().into_iter().map(one).collect(), NO_POT)
}

pub(super) fn large_mass(s: &Scene<'_>) -> Said {
    if let Some(said) = s.no_pot("no mass heats") {
        return said;
    }
    let Some(most) = s.case.aim().and_then(|aim| aim.sheet.pot_life_mass_g) else {
        return unknown("The sheet does not say at what mass its life was measured");
    };
    let one = |pot: &Charge| {
        let weighed = pot.weighed();
        if weighed.is_empty() {
            return unknown(format!("Nothing was weighed into pot {}", pot.no));
        }
        let g: f64 = Component::VARIANTS.iter().map(|c| mixing::total_g(&weighed, *c)).sum();
        let say = |g| s.say(g, QuantityKind::Mass);
        let text = format!("Pot {} held {}, its life was measured at {}", pot.no, say(g), say(most));
        let entry = pot.pours.last().map(|p| p.entry);
        if is_over(g, most) { for_it(text, entry) } else { against(text, entry) }
    };
    of_all(s.pots().into_iter().map(one).collect(), NO_POT)
}

pub(super) fn over_thinned(s: &Scene<'_>) -> Said {
    let Some(sheet) = s.case.aim().map(|aim| &aim.sheet) else { return unknown(NO_POT) };
    if sheet.charge == ChargeKind::AtGun {
        return unknown("Thinner of what is mixed at the gun is not recorded");
    }
    let one = |pot: &Charge| {
        let weighed = pot.weighed();
        let thinned = pot.pours.iter().rev().find(|p| p.it.weighed.component == Component::Thinner).map(|p| p.entry);
        match mixing::thinner_state(sheet, &weighed) {
            Some(t) => {
                let allowed =
                    t.allowed_ml.map_or("none allowed".into(), |ml| format!("{} allowed", s.say(ml, QuantityKind::Volume)));
                let text = format!("Pot {}: {} of thinner, {allowed}", pot.no, s.say(t.poured_ml, QuantityKind::Volume));
                if t.over { for_it(text, thinned) } else { against(text, thinned) }
            }
            None if weighed.is_empty() => unknown(format!("Nothing was weighed into pot {}", pot.no)),
            None => unknown(format!("Nobody weighed thinner into pot {}", pot.no)),
        }
    };
    of_all(s.pots().into_iter().map(one).collect(), NO_POT)
}

pub(super) fn doses_differ(s: &Scene<'_>) -> Said {
    let none = s.case.aim().is_some_and(|aim| aim.sheet.additives.is_empty());
    let steps = s.case.record.dose_steps(s.prefs);
    let of_fill = |(entry, step): &(Uuid, Option<String>)| match step {
        Some(text) => for_it(text.trim_end_matches('.').to_string(), Some(*entry)),
        None => against("This fill holds what the first held", Some(*entry)),
    };
    match steps.len() {
        0 if none => against("Nothing is stirred in for colour or grip", None),
        0 => unknown("What went into the fills is not recorded"),
        1 => against("All of it is of one fill", Some(steps[0].0)),
        _ => of_all(steps[1..].iter().map(of_fill).collect(), NO_POT),
    }
}
