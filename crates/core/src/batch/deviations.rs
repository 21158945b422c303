//! Facts that broke a rule. They are stored all the same, marked here, and answered before signing.
//!
//! Of a batch begun under older rules only what those asked is marked; of a signed one only what was answered.

use super::RULES;
use super::case::Case;
use super::charge::Charge;
use super::film_zones::ZoneState;
use super::gates::GateName;
use super::gates::{self, Act, Answer, Hold, Severity, Standing};
use super::record::{Deviation, Record, Stamped};
use crate::batch::entries::{Pass, Payload, RatioCheck};
use crate::mixing::{self, Component};
use crate::pot_life::PotState;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::rigs::{Rig, RigKind};
use crate::sheets::ChargeKind;
use crate::verdict::{Tolerance, Verdict, is_over};
use crate::worded::capital;
use jiff::Timestamp;
use uuid::Uuid;

type Found = Vec<(Uuid, &'static str, String)>;

/// Every deviation of a record, in the order of the rules they broke.
pub fn find(record: &Record, prefs: Prefs) -> Vec<Deviation> {
    // What broke a rule is told by the book alone, so that it is the same whenever the book is added up.
    let case = &Case::alone(record);
    let mut found: Found = Vec::new();
    orphans(case, &mut found);
    combined(case, prefs, &mut found);
    thinner(case, prefs, &mut found);
    passes(case, prefs, &mut found);
    let films = case.film_by_zone(None);
    film_over(case, &films, prefs, &mut found);
    if record.aim().is_some_and(|b| b.rules >= RULES) {
        under_way(case, prefs, &mut found);
        pressures(case, prefs, &mut found);
        film_fell(&films, prefs, &mut found);
    }
    let answered = |entry: Uuid, code: &str| record.answers.iter().rev().find(|a| a.it.entry == entry && a.it.code == code);
    let mut all: Vec<Deviation> = found
        .into_iter()
        .map(|(entry, code, text)| {
            let answer = answered(entry, code).map(|a| format!("{}: {}", a.by, a.it.text));
            Deviation { entry, code: code.into(), text, answer }
        })
        .collect();
    if record.signature.is_some() {
        keep_as_signed(case, &mut all);
    }
    all
}

/// A signed batch keeps its deviations as it was signed with them: all were answered then, and no later rule adds one.
fn keep_as_signed(case: &Case<'_>, all: &mut Vec<Deviation>) {
    all.retain(|d| d.answer.is_some());
    for answer in &case.answers {
        let known = all.iter().any(|d| d.entry == answer.it.entry && d.code == answer.it.code);
        if let Some(text) = answer.it.about.clone().filter(|_| !known) {
            let said = Some(format!("{}: {}", answer.by, answer.it.text));
            all.push(Deviation { entry: answer.it.entry, code: answer.it.code.clone(), text, answer: said });
        }
    }
}

/// Entries about a charge that is not there, because what opened it was struck.
fn orphans(case: &Case<'_>, found: &mut Found) {
    for line in case.log.iter().filter(|l| l.struck.is_none()) {
        if line.said.as_deref().and_then(Payload::charge).is_some_and(|id| case.charge(id).is_none()) {
            found.push((line.entry, "names-nothing", "This entry is about a pot that was struck.".into()));
        }
    }
}

fn unreleased(standing: Standing) -> impl Iterator<Item = Hold> {
    standing.holds.into_iter().filter(|h| h.released.is_none())
}

fn combined(case: &Case<'_>, prefs: Prefs, found: &mut Found) {
    for charge in &case.charges {
        let Some(at) = charge.combined_now() else { continue };
        // Mixed in another batch, it was judged there.
        if charge.combined_before.is_some_and(|before| before <= at) {
            continue;
        }
        let first_b = charge.pours.iter().find(|p| p.it.weighed.component == Component::Hardener);
        let Some(entry) = charge.combine.as_ref().map(|c| c.entry).or(first_b.map(|p| p.entry)) else { continue };
        // One deviation a gate: several items of one list are one thing to answer.
        let mut said: Vec<GateName> = Vec::new();
        for hold in unreleased(gates::before(case, Act::Combine, Some(at), at, prefs)) {
            if !said.contains(&hold.gate) {
                said.push(hold.gate);
                let text = format!("Pot {} was combined while held: {}", charge.no, hold.text);
                found.push((entry, hold.gate.combined_past(), text));
            }
        }
    }
}

fn thinner(case: &Case<'_>, prefs: Prefs, found: &mut Found) {
    let Some(aim) = case.aim() else { return };
    for charge in &case.charges {
        let Some(t) = mixing::thinner_state(&aim.sheet, &charge.weighed()).filter(|t| t.over) else { continue };
        let Some(last) = charge.pours.iter().rev().find(|p| p.it.weighed.component == Component::Thinner) else { continue };
        let say = |v, k| show(v, k, prefs).text;
        match t.allowed_ml {
            Some(allowed) => {
                let entry = charge.pours.last().map_or(last.entry, |p| p.entry);
                let (in_it, allowed) = (say(t.poured_ml, QuantityKind::Volume), say(allowed, QuantityKind::Volume));
                let text = format!("Pot {}: {in_it} thinner, the sheet allows {allowed}.", charge.no);
                found.push((entry, "thinner-over-limit", text));
            }
            None if aim.rules >= RULES => {
                let text = format!(
                    "Pot {}: {} of thinner, the sheet allows none.",
                    charge.no,
                    say(t.poured_g, aim.sheet.said_in(Component::Thinner))
                );
                found.push((last.entry, "thinner-not-allowed", text));
            }
            None => {}
        }
    }
}

fn of_charge<'a>(case: &'a Case<'a>, charge: &Charge) -> Vec<&'a Stamped<Pass>> {
    case.passes.iter().filter(|p| p.it.charge == charge.id).collect()
}

fn passes(case: &Case<'_>, prefs: Prefs, found: &mut Found) {
    for charge in &case.charges {
        let passes = of_charge(case, charge);
        let Some(first) = passes.first() else { continue };
        if charge.started.is_none() {
            found.push((first.entry, "pass-without-start", format!("A pass from pot {} that was not started.", charge.no)));
        }
        for pass in &passes {
            let state = case.clock(charge, pass.at).map(|c| c.state);
            let (code, what, gate) = match state {
                Some(PotState::Spent) => ("sprayed-spent", "after its life was spent", GateName::Life),
                Some(PotState::Inducting) => ("sprayed-inducting", "during induction", GateName::Induction),
                Some(PotState::Mixing) => ("sprayed-unstirred", "before it was stirred", GateName::Induction),
                None | Some(PotState::Ready | PotState::Watch | PotState::LastCall | PotState::Filling | PotState::Open) => {
                    continue;
                }
            };
            let trouble = if state == Some(PotState::Inducting) { "inducting" } else { "not-stirred" };
            let since = if state == Some(PotState::Inducting) { charge.stirred_by(pass.at) } else { None };
            // A spent pot is a stop: no release reaches it.
            let released = state != Some(PotState::Spent)
                && case.releases.iter().any(|r| {
                    r.it.gate == gate
                        && r.it.charge == Some(charge.id)
                        && r.at <= pass.at
                        && r.it.trouble.as_ref().is_none_or(|t| t == trouble)
                        && since.is_none_or(|s| r.at >= s)
                });
            if !released {
                found.push((pass.entry, code, format!("Pot {} was {} {what}.", charge.no, case.put_on().done)));
            }
        }
        ratio(case, charge, &passes, prefs, found);
        let used: f64 = passes.iter().filter_map(|p| p.it.used_ml).sum();
        let mixed = case.aim().map_or(0.0, |b| charge.mixed_ml(&b.sheet));
        if mixed > 0.0 && used > mixed * 1.001 {
            let say = |ml| show(ml, QuantityKind::Volume, prefs).text;
            let entry = passes.last().map_or(first.entry, |p| p.entry);
            let text = format!("{} {} from pot {}, {} was mixed.", say(used), case.put_on().done, charge.no, say(mixed));
            found.push((entry, "sprayed-more-than-mixed", text));
        }
    }
}

/// Passes while the ratio was on hold. A pot has one ratio and is named at its first pass; at the gun every pass has the ratio
/// it was sprayed at, and a failed check marks every pass since the last good one.
fn ratio(case: &Case<'_>, charge: &Charge, passes: &[&Stamped<Pass>], prefs: Prefs, found: &mut Found) {
    let each = charge.kind == ChargeKind::AtGun && case.aim().is_some_and(|b| b.rules >= RULES);
    let asked = passes.iter().take(if each { usize::MAX } else { 1 });
    let mut marked: Vec<Uuid> = Vec::new();
    for pass in asked {
        let Some(hold) = gates::ratio(case, charge, Some(pass.at), pass.at, prefs).closed() else { continue };
        if hold.released.is_some() || (!each && !asked_before_rules(case, &hold)) {
            continue;
        }
        let code = if hold.severity == Severity::Stop { "catalyst-outside-band" } else { "ratio-not-proved" };
        marked.push(pass.entry);
        found.push((pass.entry, code, format!("{} with the ratio on hold: {}", capital(case.put_on().done), hold.text)));
    }
    if each {
        failed_since(case, charge, passes, &marked, found);
    }
}

/// Whether a hold of the ratio is of a kind that older rules knew: a figure that was reckoned, or no catch at all.
fn asked_before_rules(case: &Case<'_>, hold: &Hold) -> bool {
    let known = ["under", "over", "cannot-tell", "catalyst-outside-band", "not-proved"];
    case.aim().is_some_and(|b| b.rules >= RULES) || known.contains(&hold.trouble.as_str())
}

/// A check that failed says that the ratio may have been off since the last good one.
fn failed_since(case: &Case<'_>, charge: &Charge, passes: &[&Stamped<Pass>], marked: &[Uuid], found: &mut Found) {
    let Some(aim) = case.aim() else { return };
    let verdict = |c: &Stamped<RatioCheck>| {
        gates::catch_said(&aim.sheet, &c.it).map_or(Verdict::CannotTell, |s| s.tolerance.judge(s.measured))
    };
    let catches: Vec<&Stamped<RatioCheck>> = case.catches.iter().filter(|c| c.it.charge == charge.id).collect();
    for (i, failed) in catches.iter().enumerate().filter(|(_, c)| verdict(c).is_out()) {
        let good = catches[..i].iter().rev().find(|c| verdict(c) == Verdict::In).map(|c| c.at);
        for pass in passes.iter().filter(|p| p.at <= failed.at && good.is_none_or(|g| p.at > g)) {
            let known = marked.contains(&pass.entry)
                || found.iter().any(|(e, code, _)| *e == pass.entry && *code == "check-failed-after");
            if !known {
                let ago = crate::quantity::show_duration(failed.at.duration_since(pass.at).as_secs_f64());
                let text = format!(
                    "{} {ago} before a check of the ratio that failed, and after the last good one.",
                    capital(case.put_on().done)
                );
                found.push((pass.entry, "check-failed-after", text));
            }
        }
    }
}

/// Passes made while the conditions or the film were on hold, as they were read by then.
fn under_way(case: &Case<'_>, prefs: Prefs, found: &mut Found) {
    for pass in &case.passes {
        let open = |answers: Vec<Answer>| unreleased(Standing::of(answers)).next();
        if let Some(hold) = open(gates::conditions_at(case, pass.at, prefs)) {
            found.push((pass.entry, "sprayed-on-hold", format!("{} while held: {}", capital(case.put_on().done), hold.text)));
        }
        let mine = |zone: &Option<String>| {
            pass.it.zones.is_empty() || zone.as_ref().is_none_or(|item| pass.it.zones.iter().any(|z| z.to_string() == *item))
        };
        // What was read before this pass; the pass itself is not yet in it.
        let just_before = Timestamp::from_microsecond(pass.at.as_microsecond() - 1).unwrap_or(pass.at);
        let film = gates::film_at(case, just_before, prefs);
        let over = unreleased(Standing::of(film)).find(|h| h.trouble == "over" && mine(&h.item));
        if let Some(hold) = over {
            found.push((
                pass.entry,
                "sprayed-over-film",
                format!("{} onto too much: {}", capital(case.put_on().done), hold.text),
            ));
        }
    }
}

/// What a pressure was put on.
#[derive(Clone, Copy, PartialEq)]
enum PutOn {
    Fluid,
    CatalystAir,
}

/// Pressures of tries and catches without a plate that is known, or over it: a fact is kept, and asks for the rig.
fn pressures(case: &Case<'_>, prefs: Prefs, found: &mut Found) {
    let tries = case.set_ups.iter().flat_map(|s| {
        let fluid = [s.it.pot_kpa, s.it.b_kpa].into_iter().flatten().map(|kpa| (PutOn::Fluid, kpa));
        let air = s.it.catalyst_kpa.map(|kpa| (PutOn::CatalystAir, kpa));
        fluid.chain(air).map(|(put, kpa)| (s.entry, put, kpa))
    });
    let catches =
        case.catches.iter().flat_map(|c| [c.it.a_kpa, c.it.b_kpa].into_iter().flatten().map(|kpa| (c.entry, PutOn::Fluid, kpa)));
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    let mut marked: Vec<(Uuid, PutOn)> = Vec::new();
    for (entry, put, kpa) in tries.chain(catches).filter(|(_, _, kpa)| *kpa > 0.0) {
        let Some((code, text)) = of_plate(case.rig(), put, kpa, say) else { continue };
        if !marked.contains(&(entry, put)) {
            marked.push((entry, put));
            found.push((entry, code, text));
        }
    }
}

/// What is wrong with a pressure by the plate of what it was put on; `None` where it is on the plate or under it.
/// Each plate has codes of its own, so that an answer to the one is none to the other.
fn of_plate(rig: Option<&Rig>, put: PutOn, kpa: f64, say: impl Fn(f64) -> String) -> Option<(&'static str, String)> {
    let (unknown, over) = match put {
        PutOn::Fluid => ("plate-unknown", "over-plate"),
        PutOn::CatalystAir => ("catalyst-plate-unknown", "over-catalyst-plate"),
    };
    let Some(rig) = rig else {
        let text = format!("{} without a rig: what it bears is not known. Choose the rig at Set.", say(kpa));
        return Some((unknown, text));
    };
    let (most, what, bears) = match put {
        // A gun's cup has no vessel and no plate.
        PutOn::Fluid if rig.kind == RigKind::GunCup => return None,
        PutOn::Fluid => (rig.fluid_most_kpa(), "of fluid: what this rig bears", "the rig bears"),
        PutOn::CatalystAir => {
            (rig.catalyst_most_kpa, "of catalyst air: what its regulator bears", "the catalyst regulator bears")
        }
    };
    match most {
        None => {
            let text = format!(
                "{} {what} is not written down. Read its plate, write it down at the rig, choose the rig again.",
                say(kpa)
            );
            Some((unknown, text))
        }
        Some(most) if is_over(kpa, most) => Some((over, format!("{} is over the {} {bears}.", say(kpa), say(most)))),
        Some(_) => None,
    }
}

fn film_over(case: &Case<'_>, films: &[ZoneState], prefs: Prefs, found: &mut Found) {
    let Some(aim) = case.aim() else { return };
    for read in films.iter().flat_map(|z| &z.reads) {
        if Tolerance::at_most(aim.sheet.wet_max_um).judge(read.total_um).is_out() {
            let say = |um| show(um, QuantityKind::Film, prefs).text;
            let text = format!("Wet film over {}: read {} or more.", say(aim.sheet.wet_max_um), say(read.total_um.lo));
            found.push((read.entry, "film-over", text));
        }
    }
}

/// A total that falls: a comb at another place, a dry one, a wrong tooth.
fn film_fell(films: &[ZoneState], prefs: Prefs, found: &mut Found) {
    let say = |um| show(um, QuantityKind::Film, prefs).text;
    for zone in films {
        for read in &zone.reads {
            if let Some(before) = read.fell_from_um {
                let (now, was) = (say(read.total_um.hi), say(before.lo));
                let text = format!("{}: the total fell, to {now} at the most from {was} at the least before.", zone.name);
                found.push((read.entry, "film-fell", text));
            }
        }
    }
}
