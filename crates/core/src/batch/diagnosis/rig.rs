//! What the book of the rig and the stores say of the day it went on.

use super::{Said, Scene, against, for_it, judged, of_all, unknown};
use crate::component::Component;
use crate::quantity::QuantityKind;
use crate::rig_book::worn_watch_pct;
use crate::rig_book::{RigEntry, wear_over_new_pct};
use crate::verdict::{Tolerance, Verdict};
use crate::worded::Worded;
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

/// An entry of the book of a rig that stands, as it is looked back at.
#[derive(Debug, Clone, PartialEq)]
pub struct RigTold {
    /// The entry.
    pub entry: Uuid,
    /// When.
    pub at: Timestamp,
    /// What it says.
    pub said: RigEntry,
}

/// Cleaned within so many hours before the first pass it counts for it: the shift before, and the night; from memory.
const CARED_H: i64 = 24;

impl Scene<'_> {
    /// What the rig's book told by the last pass, oldest first.
    fn told(&self) -> Vec<&RigTold> {
        let until = self.last().unwrap_or(Timestamp::MAX);
        self.case.beside.rig_told.iter().filter(|t| t.at <= until).collect()
    }
}

pub(super) fn tip_worn(s: &Scene<'_>) -> Said {
    let told = s.told();
    let said: Vec<RigEntry> = told.iter().map(|t| t.said.clone()).collect();
    let Some(over) = wear_over_new_pct(&said) else { return unknown("No two flows were caught through this tip") };
    let entry = told.iter().rev().find(|t| matches!(t.said, RigEntry::TipFlow(_))).map(|t| t.entry);
    let say = |pct| s.say(pct, QuantityKind::Percent);
    let text = format!("The tip lets through {} more than when new, {} is worn", say(over.value), say(worn_watch_pct()));
    judged(Tolerance::at_most(worn_watch_pct()).judge(over), Verdict::High, text, entry)
}

/// One of these items of care, done within a day before the first pass; `None`: not.
pub(super) fn cared_within_a_day(s: &Scene<'_>, items: &[&str]) -> Option<Said> {
    let first = s.first()?;
    let from = first.checked_sub(SignedDuration::from_hours(CARED_H)).ok()?;
    let done =
        s.told().into_iter().rev().find(|t| {
            t.at >= from && t.at <= first && matches!(&t.said, RigEntry::Cared(c) if items.contains(&c.item.as_str()))
        })?;
    let RigEntry::Cared(cared) = &done.said else { return None };
    Some(against(format!("{}, {}", cared.word, s.case.shop_time(done.at)), Some(done.entry)))
}

pub(super) fn cap_not_cleaned(s: &Scene<'_>) -> Said {
    const ITEMS: [&str; 3] = ["cap", "cap_daily", "screens"];
    if let Some(done) = cared_within_a_day(s, &ITEMS) {
        return done;
    }
    let first = s.first().unwrap_or(Timestamp::MAX);
    let cares = |t: &&RigTold| matches!(&t.said, RigEntry::Cared(_)) && t.at <= first;
    let told = s.told();
    let newest = told
        .iter()
        .rev()
        .copied()
        .filter(cares)
        .find(|t| matches!(&t.said, RigEntry::Cared(c) if ITEMS.contains(&c.item.as_str())));
    match newest {
        Some(t) => {
            let ago_s = first.duration_since(t.at).as_secs_f64();
            for_it(format!("Cap and screens were cleaned {} before", crate::quantity::show_duration(ago_s)), Some(t.entry))
        }
        None => unknown("When cap and screens were cleaned is not in the rig's book"),
    }
}

pub(super) fn lot_old(s: &Scene<'_>) -> Said {
    let at = s.last().unwrap_or(Timestamp::MAX);
    let one = |taken: crate::batch::record::TakenLot<'_>| {
        let code = &taken.lot.code;
        let entry = s.case.record.lots.iter().find(|l| l.it.lot.id == taken.lot.id).map(|l| l.entry);
        let now = s.case.beside.lots.get(&taken.lot.id);
        // Put into quarantine since, it was what it is.
        if let Some(why) = now.and_then(|known| known.quarantined.as_ref()) {
            return for_it(format!("Lot {code} is in quarantine: {why}"), entry);
        }
        let Some(known) = taken.lot.known.as_ref().or(now) else {
            return unknown(format!("Lot {code} is not known to the stores"));
        };
        match (&known.quarantined, &known.damaged, known.expires_at) {
            (Some(why), ..) => for_it(format!("Lot {code} was in quarantine: {why}"), entry),
            (None, Some(how), _) => for_it(format!("The container of lot {code} was damaged: {how}"), entry),
            (None, None, Some(end)) if end <= taken.at => for_it(format!("Lot {code} was past its date"), entry),
            (None, None, Some(_)) => against(format!("Lot {code} was in date"), entry),
            (None, None, None) => unknown(format!("The date of lot {code} is not known")),
        }
    };
    let lots = s.case.record.lots_at(at);
    let hardened = s.case.aim().is_some_and(|aim| aim.sheet.has_hardener);
    let wanted = [Some(Component::Base), hardened.then_some(Component::Hardener)].into_iter().flatten();
    let unnamed = wanted.filter(|c| !lots.iter().any(|l| l.component == *c));
    let unnamed: Vec<Said> = unnamed.map(|c| unknown(format!("No lot of the {} is recorded", c.word()))).collect();
    of_all(lots.into_iter().map(one).chain(unnamed).collect(), "No lot is recorded")
}
