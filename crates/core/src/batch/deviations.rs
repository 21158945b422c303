//! Facts that broke a rule. They are stored all the same, marked here, and answered before signing.

use super::holds::{self, Severity};
use super::payload::GateName;
use super::record::{Deviation, Record};
use crate::lists::Before;
use crate::mixing::{self, Component};
use crate::pot_life::PotState;
use crate::quantity::{Kind, Prefs, show};
use crate::verdict::Tolerance;
use uuid::Uuid;

/// Every deviation of a record, in the order of the entries they hang on.
pub fn find(record: &Record, prefs: Prefs) -> Vec<Deviation> {
    let mut found: Vec<(Uuid, &str, String)> = Vec::new();
    orphans(record, &mut found);
    combined(record, prefs, &mut found);
    poured(record, prefs, &mut found);
    passes(record, prefs, &mut found);
    film(record, prefs, &mut found);
    found
        .into_iter()
        .map(|(entry, code, text)| {
            let answer = record.answers.iter().rev().find(|a| a.it.entry == entry && a.it.code == code);
            Deviation { entry, code: code.into(), text, answer: answer.map(|a| format!("{}: {}", a.by, a.it.text)) }
        })
        .collect()
}

/// Entries about a charge that is not there, because what opened it was struck.
fn orphans(record: &Record, found: &mut Vec<(Uuid, &'static str, String)>) {
    for line in record.log.iter().filter(|l| l.struck.is_none()) {
        if line.about.is_some_and(|id| record.charge(id).is_none()) {
            found.push((line.entry, "names-nothing", "This entry is about a pot that was struck.".into()));
        }
    }
}

fn combined(record: &Record, prefs: Prefs, found: &mut Vec<(Uuid, &'static str, String)>) {
    for charge in &record.charges {
        let Some(at) = charge.combined() else { continue };
        let first_b = charge.pours.iter().find(|p| p.it.weighed.component == Component::Hardener);
        let Some(entry) = charge.combine.as_ref().map(|c| c.entry).or(first_b.map(|p| p.entry)) else { continue };
        // One deviation a gate: several items of one list are one thing to answer.
        let mut said: Vec<GateName> = Vec::new();
        for hold in holds::before(record, Before::Combine, Some(at), at, prefs).into_iter().filter(|h| h.released.is_none()) {
            if !said.contains(&hold.gate) {
                said.push(hold.gate);
                let text = format!("Pot {} was combined while held: {}", charge.no, hold.text);
                let code = match hold.gate {
                    GateName::Guards => "combined-without-guards",
                    GateName::Lots => "combined-with-lot-held",
                    GateName::Lists => "combined-not-ready",
                    _ => "combined-on-hold",
                };
                found.push((entry, code, text));
            }
        }
    }
}

fn poured(record: &Record, prefs: Prefs, found: &mut Vec<(Uuid, &'static str, String)>) {
    let Some(aim) = record.aim() else { return };
    for charge in &record.charges {
        let (Some(last), Some(max), Some(basis)) = (charge.pours.last(), aim.sheet.thinner_max_pct, aim.sheet.thinner_basis)
        else {
            continue;
        };
        let volume = |c| charge.poured_ml(&aim.sheet, c);
        let allowed_ml = mixing::thinner_ml(volume(Component::Base), volume(Component::Hardener), max, basis);
        let thinner_ml = volume(Component::Thinner);
        let step_ml = last.it.weighed.resolution_g / aim.sheet.thinner_density_kg_l.unwrap_or(1.0);
        if thinner_ml > 0.0
            && Tolerance::at_most(allowed_ml + step_ml).judge(crate::verdict::Measured::pm(thinner_ml, 0.0)).is_out()
        {
            let say = |ml| show(ml, Kind::Volume, prefs).text;
            let text = format!("Pot {}: {} thinner, the sheet allows {}.", charge.no, say(thinner_ml), say(allowed_ml));
            found.push((last.entry, "thinner-over-limit", text));
        }
    }
}

fn passes(record: &Record, prefs: Prefs, found: &mut Vec<(Uuid, &'static str, String)>) {
    for charge in &record.charges {
        let of_charge: Vec<_> = record.passes.iter().filter(|p| p.it.charge == charge.id).collect();
        let Some(first) = of_charge.first() else { continue };
        if charge.started.is_none() {
            found.push((first.entry, "pass-without-start", format!("A pass from pot {} that was not started.", charge.no)));
        }
        for pass in &of_charge {
            let state = record.clock(charge, pass.at).map(|c| c.state);
            let (code, what, gate) = match state {
                Some(PotState::Spent) => ("sprayed-spent", "after its life was spent", GateName::Life),
                Some(PotState::Inducting) => ("sprayed-inducting", "during induction", GateName::Induction),
                Some(PotState::Mixing) => ("sprayed-unstirred", "before it was stirred", GateName::Induction),
                _ => continue,
            };
            let released = record.releases.iter().any(|r| r.it.gate == gate && r.it.charge == Some(charge.id) && r.at <= pass.at);
            if !released {
                found.push((pass.entry, code, format!("Pot {} was sprayed {what}.", charge.no)));
            }
        }
        if let Some(hold) = holds::ratio_hold(record, charge, Some(first.at), prefs).filter(|h| h.released.is_none()) {
            let code = if hold.severity == Severity::Stop { "catalyst-outside-band" } else { "ratio-not-proved" };
            found.push((first.entry, code, format!("Sprayed with the ratio on hold: {}", hold.text)));
        }
        let used: f64 = of_charge.iter().filter_map(|p| p.it.used_ml).sum();
        let mixed = record.aim().map_or(0.0, |b| charge.mixed_ml(&b.sheet));
        if mixed > 0.0 && used > mixed * 1.001 {
            let say = |ml| show(ml, Kind::Volume, prefs).text;
            let entry = of_charge.last().map_or(first.entry, |p| p.entry);
            found.push((
                entry,
                "sprayed-more-than-mixed",
                format!("{} sprayed from pot {}, {} was mixed.", say(used), charge.no, say(mixed)),
            ));
        }
    }
}

fn film(record: &Record, prefs: Prefs, found: &mut Vec<(Uuid, &'static str, String)>) {
    let Some(aim) = record.aim() else { return };
    for read in &record.combs {
        if Tolerance::at_most(aim.sheet.wet_max_um).judge(read.it.total_um).is_out() {
            let say = |um| show(um, Kind::Film, prefs).text;
            let text = format!("Wet film over {}: read {} or more.", say(aim.sheet.wet_max_um), say(read.it.total_um.lo));
            found.push((read.entry, "film-over", text));
        }
    }
}
