//! Pressures, pattern and needle as they were set when it went on, against the sheet, the rig and the last good set-up.

use super::{Said, Scene, against, for_it, judged, of_all, unknown};
use crate::atomizing::SUPPLY_OVER_KPA;
use crate::batch::beside::GoodSetUp;
use crate::batch::entries::SetUp;
use crate::batch::record::Stamped;
use crate::quantity::QuantityKind;
use crate::sheets::ChargeKind;
use crate::verdict::{Verdict, is_over, is_under};

/// So far off the last good set-up it is another; from memory.
const OFF: f64 = 0.15;
/// So near it is the same; from memory.
const ALIKE: f64 = 0.08;
/// A hole wider by this than the one before is another tip; from memory.
const WIDER: f64 = 0.02;

/// What stood when a pass went on: the newest try by then that says it.
fn in_force<'a, T>(s: &Scene<'a>, of: impl Fn(&SetUp) -> Option<T>) -> Vec<(&'a Stamped<SetUp>, T)> {
    let tries = &s.case.record.set_ups;
    let mut found: Vec<(&Stamped<SetUp>, T)> = Vec::new();
    for pass in &s.passes {
        let said = tries.iter().filter(|t| t.at <= pass.at).rev().find_map(|t| Some((t, of(&t.it)?)));
        if let Some((set, value)) = said.filter(|(set, _)| !found.iter().any(|(f, _)| f.entry == set.entry)) {
            found.push((set, value));
        }
    }
    found
}

/// The last good set-up of this product and rig in another batch that says it.
fn good<T>(s: &Scene<'_>, of: impl Fn(&GoodSetUp) -> Option<T>) -> Option<(i64, T)> {
    let own = s.case.aim().map(|aim| aim.number);
    s.case.beside.last_good.iter().filter(|g| Some(g.number) != own).find_map(|g| Some((g.number, of(g)?)))
}

fn verdict_beside(value: f64, wanted: f64) -> Verdict {
    let off = value / wanted - 1.0;
    match () {
        () if off > OFF => Verdict::High,
        () if off < -OFF => Verdict::Low,
        () if off.abs() <= ALIKE => Verdict::In,
        () => Verdict::CannotTell,
    }
}

pub(super) fn catalyst_air(s: &Scene<'_>, asked: Verdict) -> Said {
    let Some(aim) = s.case.aim() else { return unknown("Nothing is begun") };
    if aim.sheet.charge == ChargeKind::Pot {
        return against("It is mixed in a pot: no catalyst air", None);
    }
    let (lo, hi) = (aim.sheet.catalyst_air_min_kpa, aim.sheet.catalyst_air_max_kpa);
    if lo.is_none() && hi.is_none() {
        return unknown("The sheet states no band for catalyst air");
    }
    let one = |(set, kpa): (&Stamped<SetUp>, f64)| {
        let verdict = match () {
            () if hi.is_some_and(|hi| is_over(kpa, hi)) => Verdict::High,
            () if lo.is_some_and(|lo| is_under(kpa, lo)) => Verdict::Low,
            () => Verdict::In,
        };
        let band: Vec<String> = [lo, hi].into_iter().flatten().map(|kpa| s.say(kpa, QuantityKind::Pressure)).collect();
        let text = format!("Catalyst air {}, the sheet {}", s.say(kpa, QuantityKind::Pressure), band.join(" to "));
        judged(verdict, asked, text, Some(set.entry))
    };
    of_all(in_force(s, |t| t.catalyst_kpa).into_iter().map(one).collect(), "Nobody wrote down the catalyst air")
}

pub(super) fn fluid(s: &Scene<'_>, asked: Verdict) -> Said {
    let Some((number, wanted)) = good(s, |g| g.pot_kpa.filter(|kpa| *kpa > 0.0)) else {
        return unknown("No good set-up of this product and rig stands in the records");
    };
    let one = |(set, kpa): (&Stamped<SetUp>, f64)| {
        let text = format!(
            "Fluid at {}, {} in batch {number:04}",
            s.say(kpa, QuantityKind::Pressure),
            s.say(wanted, QuantityKind::Pressure)
        );
        judged(verdict_beside(kpa, wanted), asked, text, Some(set.entry))
    };
    of_all(in_force(s, |t| t.pot_kpa).into_iter().map(one).collect(), "Nobody wrote down the fluid pressure")
}

pub(super) fn air(s: &Scene<'_>, asked: Verdict) -> Said {
    let steps = s.case.aim().map(|aim| aim.sheet.steps.as_slice()).unwrap_or_default();
    let of_step = |set: &SetUp| {
        let step = steps.iter().find(|step| set.step.as_deref().is_some_and(|said| said.eq_ignore_ascii_case(&step.name)))?;
        Some((format!("the sheet for {}", step.name), step.atomizing_kpa?))
    };
    let before = good(s, |g| g.atomizing_kpa.filter(|kpa| *kpa > 0.0)).map(|(no, kpa)| (format!("batch {no:04}"), kpa));
    let one = |(set, kpa): (&Stamped<SetUp>, f64)| match of_step(&set.it).or_else(|| before.clone()) {
        Some((from, wanted)) => {
            let say = |kpa| s.say(kpa, QuantityKind::Pressure);
            let text = format!("Air at {}, {} by {from}", say(kpa), say(wanted));
            judged(verdict_beside(kpa, wanted), asked, text, Some(set.entry))
        }
        None => unknown("Neither the sheet nor a good set-up says what air it wants"),
    };
    of_all(in_force(s, |t| t.atomizing_kpa).into_iter().map(one).collect(), "Nobody wrote down the atomizing air")
}

pub(super) fn pattern(s: &Scene<'_>) -> Said {
    let one = |(set, pattern): (&Stamped<SetUp>, crate::atomizing::ladder::Pattern)| {
        let text = format!("The pattern was “{}”", crate::worded::Worded::word(pattern));
        if pattern.is_full() { against(text, Some(set.entry)) } else { for_it(text, Some(set.entry)) }
    };
    of_all(in_force(s, |t| t.pattern).into_iter().map(one).collect(), "Nobody wrote down the pattern")
}

pub(super) fn supply(s: &Scene<'_>) -> Said {
    let Some(supply) = s.case.rig().and_then(|rig| rig.supply_kpa) else {
        return unknown("What the supply stands at is not written at the rig");
    };
    let one = |(set, kpa): (&Stamped<SetUp>, f64)| {
        let say = |kpa| s.say(kpa, QuantityKind::Pressure);
        let text = format!("Supply at {}, air set to {}", say(supply), say(kpa));
        if is_under(supply, kpa + SUPPLY_OVER_KPA) { for_it(text, Some(set.entry)) } else { against(text, Some(set.entry)) }
    };
    of_all(in_force(s, |t| t.atomizing_kpa).into_iter().map(one).collect(), "Nobody wrote down the atomizing air")
}

pub(super) fn needle(s: &Scene<'_>) -> Said {
    let Some(full) = s.case.rig().and_then(|rig| rig.needle_full_count) else {
        return unknown("At which turn of the needle the trigger is full is not written at the rig");
    };
    let one = |(set, turns): (&Stamped<SetUp>, f64)| {
        let say = |turns| s.say(turns, QuantityKind::Count);
        let text = format!("Needle {} turns open, {} are the full trigger", say(turns), say(full));
        if is_under(turns, full) { for_it(text, Some(set.entry)) } else { against(text, Some(set.entry)) }
    };
    of_all(in_force(s, |t| t.needle_turns_count).into_iter().map(one).collect(), "Nobody wrote down the needle")
}

pub(super) fn tip_larger(s: &Scene<'_>) -> Said {
    let rig = s.case.record.rig.as_ref();
    let entry = rig.map(|r| r.entry);
    let fitted = rig.and_then(|r| r.it.fitted.as_ref());
    if let Some((now, (number, before))) = fitted.and_then(|f| f.nozzle_mm).zip(good(s, |g| g.nozzle_mm)) {
        let say = |mm| s.say(mm, QuantityKind::Nozzle);
        let text = format!("Nozzle {}, {} in batch {number:04}", say(now), say(before));
        return if is_over(now, before * (1.0 + WIDER)) { for_it(text, entry) } else { against(text, entry) };
    }
    match fitted.and_then(|f| f.tip_code.clone()).zip(good(s, |g| g.tip_code.clone())) {
        Some((now, (number, before))) if now == before => against(format!("Tip {now}, as in batch {number:04}"), entry),
        Some((now, (number, before))) => unknown(format!("Tip {now}, {before} in batch {number:04}")),
        None => unknown("Which nozzle or tip was good before is not recorded"),
    }
}
