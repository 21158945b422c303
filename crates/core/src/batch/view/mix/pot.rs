//! One pot as it is mixed.

use super::{CupMark, FillView, MixPot, PourLine, RescueView, ratio};
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::mixing::{self, Component, Judgement, PlannedPour, RescueTo};
use crate::pot_life::{self, PotState};
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_duration, show_to};
use crate::sheets::{Hazard, Sheet};
use crate::verdict::{Level, Verdict};
use crate::worded::Worded;
use crate::working::Working;
use jiff::Timestamp;

#[allow(clippy::too_many_arguments)] // what one pot is shown by
pub(super) fn pot(
    case: &Case<'_>,
    sheet: &Sheet,
    charge: &Charge,
    need_ml: f64,
    finest_g: f64,
    now: Timestamp,
    prefs: Prefs,
) -> MixPot {
    let thinner_pct = case.thinner_pct();
    let plan = case.plan(charge);
    let weighed = charge.weighed();
    let go = mixing::to_go(sheet, &plan, &weighed);
    let division_g = weighed.last().map_or(1.0, |w| w.resolution_g);
    // Masses stand to the digits of the scale that weighs them: the one in use, before the first pour the finest at hand.
    let digits_g = weighed.last().map_or(finest_g, |w| w.resolution_g);
    let say_g = |c: Component, g: f64| match sheet.said_in(c) {
        QuantityKind::Volume => show(g, QuantityKind::Volume, prefs),
        _ => show_to(g, QuantityKind::Mass, digits_g, prefs),
    };
    let done = |p: &PlannedPour, left: &PlannedPour| mixing::is_done(sheet, &weighed, p.component, left.mass_g, division_g);
    let hand = plan.iter().zip(&go).find(|(p, left)| !done(p, left)).map(|(p, left)| (p.component, *left));
    let said = ratio(sheet, charge, prefs).map(|(said, _)| said);
    let ratio_level = said.map(|s| {
        let level = Level::draw("Ratio as it stands", s.measured, s.tolerance, 1.0, s.kind, prefs);
        if hand.is_some_and(|(c, _)| c == Component::Hardener) { level.under_way("short so far") } else { level }
    });
    let can = |c: Component, g: f64| match sheet.kit_base_ml {
        Some(_) => show(g / sheet.density_kg_l(c).unwrap_or(1.0), QuantityKind::Volume, prefs),
        None => show(g, QuantityKind::Mass, prefs),
    };
    MixPot {
        id: charge.id,
        no: charge.no,
        wanted: show(charge.wanted_ml, QuantityKind::Volume, prefs),
        lines: pour_lines(sheet, charge, (&plan, &go), hand.map(|(c, _)| c), say_g),
        hand: hand.map(|(c, _)| c),
        hand_name: hand.map(|(c, _)| sheet.component_name(c)),
        to_reading: hand.map(|(c, left)| say_g(c, weighed.last().map_or(0.0, |w| w.reading_g) + left.mass_g)),
        to_go: hand.map(|(c, left)| say_g(c, left.mass_g)),
        on_scale: say_g(Component::Base, weighed.last().map_or(0.0, |w| w.reading_g)),
        level: pour_level(&plan, &go, charge, sheet, prefs),
        ratio: ratio_level,
        marks: marks(sheet, charge, &plan, &go, prefs),
        combined: charge.combined().is_some(),
        stirred: charge.stirred.is_some(),
        working: mixing::working(sheet, &plan, charge.wanted_ml, thinner_pct, prefs),
        asked: charge
            .amount
            .as_ref()
            .zip(case.on_the_part())
            .and_then(|(amount, on)| mixing::wanted_ml(sheet, amount, on, prefs).ok())
            .map(|(_, working)| working),
        judgements: judgements(case, sheet, charge, &plan, need_ml, now, prefs),
        rescues: rescue_views(case, sheet, charge, &plan, now, prefs),
        left: show(case.left_ml(charge), QuantityKind::Volume, prefs),
        left_ml: case.left_ml(charge),
        fills: fills(case, charge, prefs),
        dose_for_litre: case.matching_dose_g_l(Some(charge)).map(|g_l| show(g_l, QuantityKind::MassPerVolume, prefs)),
        stir_again: stir_again(sheet, charge, now),
        thicker: thicker(case, charge, now),
        whole_can: hand.zip(sheet.kit()).and_then(|((c, _), kit)| match c {
            Component::Base => Some(can(c, kit.base_g)),
            Component::Hardener => Some(can(c, kit.hardener_g)),
            Component::Thinner | Component::Additive1 | Component::Additive2 | Component::Additive3 => None,
        }),
        to_the_line: sheet.kit_to_line && hand.is_some_and(|(c, _)| c == Component::Hardener),
        cautions: cautions(case, sheet, charge, &plan, now, prefs),
        born: charge.born.map(|b| match b.of_batch {
            Some(number) => format!("pot {} of batch {number:04}", b.of_no),
            None => format!("part of pot {}", b.of_no),
        }),
    }
}

/// The rows of the pour table, in the order of the plan.
fn pour_lines(
    sheet: &Sheet,
    charge: &Charge,
    (plan, go): (&[PlannedPour], &[PlannedPour]),
    in_hand: Option<Component>,
    say_g: impl Fn(Component, f64) -> Shown,
) -> Vec<PourLine> {
    let weighed = charge.weighed();
    let line = |(p, left): (&PlannedPour, &PlannedPour)| {
        let poured = mixing::total_g(&weighed, p.component);
        let target = poured + left.mass_g;
        let word = match mixing::pour_state(sheet, &weighed, p.component, target).verdict {
            None => "",
            Some(Verdict::In) => "in",
            Some(Verdict::CannotTell) => "cannot tell",
            Some(Verdict::Low) => "short",
            Some(Verdict::High) => "over",
        };
        let last = charge.pours.iter().rev().find(|x| x.it.weighed.component == p.component);
        PourLine {
            component: p.component,
            name: sheet.component_name(p.component),
            lot: last.and_then(|x| x.it.lot.clone()).map(|l| l.code),
            plan: say_g(p.component, target),
            poured: (poured > 0.0).then(|| say_g(p.component, poured)),
            word: word.into(),
            in_hand: in_hand == Some(p.component),
        }
    };
    plan.iter().zip(go).map(line).collect()
}

/// What is said of the pot as it is mixed.
fn judgements(
    case: &Case<'_>,
    sheet: &Sheet,
    charge: &Charge,
    plan: &[PlannedPour],
    need_ml: f64,
    now: Timestamp,
    prefs: Prefs,
) -> Vec<Judgement> {
    let weighed = charge.weighed();
    let mixed = mixing::MixedPot {
        sheet,
        plan,
        pours: &weighed,
        amount: charge.amount.as_ref(),
        thinner_pct: case.thinner_pct(),
        need_ml,
        wanted_ml: charge.wanted_ml,
        resolution_g: weighed.last().map_or(1.0, |w| w.resolution_g),
        by_cup: charge.pours.iter().any(|p| p.it.by_mark),
    };
    past_rescue(sheet, charge, case, now)
        .into_iter()
        .chain(case.judged_fill(charge, prefs))
        .chain(mixing::judgements(&mixed, prefs))
        .collect()
}

/// What went to the gun, newest first.
fn fills(case: &Case<'_>, charge: &Charge, prefs: Prefs) -> Vec<FillView> {
    let matching_g_l = case.matching_dose_g_l(Some(charge));
    let mut all: Vec<_> = charge.all_fills().collect();
    all.sort_by_key(|f| std::cmp::Reverse((f.at, f.seq)));
    let mass = |g| show(g, QuantityKind::Mass, prefs);
    all.into_iter()
        .map(|f| FillView {
            at: f.at,
            into: f.into.word().into(),
            amount: show(f.fill_ml, QuantityKind::Volume, prefs),
            dose: f.dose_g.map(mass),
            matching: matching_g_l.map(|g_l| mass(g_l * f.fill_ml / 1000.0)),
        })
        .collect()
}

/// Ways back, each with what it wants of cup and stock. After induction the honest advice is another.
fn rescue_views(
    case: &Case<'_>,
    sheet: &Sheet,
    charge: &Charge,
    plan: &[PlannedPour],
    now: Timestamp,
    prefs: Prefs,
) -> Vec<RescueView> {
    let inducting = case.clock(charge, now).is_none_or(|c| matches!(c.state, PotState::Mixing | PotState::Inducting));
    let weighed = charge.weighed();
    if !inducting {
        return Vec::new();
    }
    let say = |v, k| show(v, k, prefs);
    mixing::rescues(sheet, plan, &weighed, charge.stirred.is_some())
        .into_iter()
        .map(|r| {
            let fill = case.plan_mix.as_ref().and_then(|p| p.it.fill_ml);
            let mut wants: Vec<String> = fill
                .filter(|ml| r.total_ml > *ml)
                .map(|ml| format!("the vessel holds {}: divide it first", say(ml, QuantityKind::Volume).text))
                .into_iter()
                .collect();
            for add in &r.adds {
                let lot = case.lots_at(now).into_iter().rev().find(|l| l.component == add.component);
                let left = lot.and_then(|l| case.beside.lots.get(&l.lot.id)).and_then(|s| s.left_g);
                if let Some(left) = left.filter(|left| *left < add.mass_g && !sheet.by_volume_alone()) {
                    let name = sheet.component_name(add.component);
                    wants.push(format!("only {} of {name} is left of its lot", say(left, QuantityKind::Mass).text));
                }
            }
            if let Some(g) = sheet.pot_life_mass_g.filter(|g| r.total_g > *g && !sheet.by_volume_alone()) {
                wants.push(format!("over the {} its life was measured on", say(g, QuantityKind::Mass).text));
            }
            RescueView {
                working: rescue_working(sheet, &weighed, &r, prefs),
                to: r.to,
                word: match r.to {
                    RescueTo::Exact => "Back on target",
                    RescueTo::Least => "The least that is in",
                }
                .into(),
                add: r
                    .adds
                    .iter()
                    .map(|a| format!("{} {}", say(a.mass_g, sheet.said_in(a.component)).text, sheet.component_name(a.component)))
                    .collect::<Vec<_>>()
                    .join(" and "),
                total: say(r.total_ml, QuantityKind::Volume),
                total_mass: say(r.total_g, sheet.said_in(Component::Base)),
                wants,
            }
        })
        .collect()
}

/// The rescue as a sum on paper.
fn rescue_working(sheet: &Sheet, weighed: &[mixing::Weighed], r: &mixing::Rescue, prefs: Prefs) -> Working {
    let mut w = Working::new(
        "Rescue",
        "Arithmetic of the ratio: nothing is taken out, the rest grows to what is over; the least is what the scale can prove",
    );
    let (a, b) = (mixing::total_g(weighed, Component::Base), mixing::total_g(weighed, Component::Hardener));
    let in_what = sheet.said_in(Component::Base);
    let (read, of_one) = match in_what {
        QuantityKind::Volume => ("in the cup", "mL for a mL"),
        _ => ("on the scale", "g for a gram"),
    };
    w.line("Base in it", read, a, in_what, prefs);
    w.line("Hardener in it", read, b, in_what, prefs);
    let per = sheet.hardener().map_or(0.0, |h| h.b_per_a);
    w.line("Base to that hardener", format!("{} ÷ {per:.4} {of_one}", show(b, in_what, prefs).text), b / per, in_what, prefs);
    for add in &r.adds {
        let had = mixing::total_g(weighed, add.component);
        let figures = format!("to {} in all", show(had + add.mass_g, sheet.said_in(add.component), prefs).text);
        w.line(&format!("Add {}", sheet.component_name(add.component)), figures, add.mass_g, sheet.said_in(add.component), prefs);
    }
    w.line("In the cup then", "everything together", r.total_g, in_what, prefs);
    w
}

/// Out of its ratio and past its induction: nothing brings it back.
fn past_rescue(sheet: &Sheet, charge: &Charge, case: &Case<'_>, now: Timestamp) -> Option<Judgement> {
    let said = mixing::said(sheet, mixing::b_per_a(&charge.weighed())?)?;
    let over = case.clock(charge, now).is_some_and(|c| !matches!(c.state, PotState::Mixing | PotState::Inducting));
    (over && said.tolerance.judge(said.measured).is_out()).then(|| Judgement {
        code: "past-rescue".into(),
        text: "It is out of its ratio and its induction is over: nothing brings it back. Discard it, and mix another.".into(),
        stop: true,
    })
}

fn stir_again(sheet: &Sheet, charge: &Charge, now: Timestamp) -> Option<String> {
    let left = sheet.stir_again_s? - now.duration_since(*charge.stirs.iter().max()?).as_secs_f64();
    Some(if left > 0.0 { format!("stir again in {}", show_duration(left)) } else { "stir it again now".into() })
}

/// Thickness doubles in a pot life: what that leaves of the flow at the same pressure.
///
/// **Formula:** `µ = µ₀·2^age`; laminar flow at one pressure falls as `1/µ`. **Source:** common practice in the trade.
fn thicker(case: &Case<'_>, charge: &Charge, now: Timestamp) -> Option<String> {
    let times = 2f64.powf(case.clock(charge, now)?.age);
    (times >= 1.15).then(|| {
        format!(
            "about {times:.1} times as thick as fresh: the same pressure pushes {:.0} % of the flow; more pressure is no cure for an old pot",
            100.0 / times
        )
    })
}

/// A life this short is counted in seconds, and cooled; from memory.
pub(in crate::batch::view) const MINUTES_SHORT_S: f64 = 900.0;

fn cautions(case: &Case<'_>, sheet: &Sheet, charge: &Charge, plan: &[PlannedPour], now: Timestamp, prefs: Prefs) -> Vec<String> {
    let mut found = Vec::new();
    let heavy = sheet
        .pot_life_mass_g
        .filter(|_| !sheet.by_volume_alone())
        .is_some_and(|g| plan.iter().map(|p| p.mass_g).sum::<f64>() > g);
    if charge.combined().is_some() && (heavy || sheet.hazards.contains(&Hazard::Exotherm)) {
        found.push(
            "It may heat. A pot that smokes goes outside, away from what burns, not sealed. Read its own temperature.".into(),
        );
    }
    let life = sheet.life_curve().filter(|_| sheet.has_hardener).map(|c| {
        let temp = pot_life::temperature_at(&case.temperatures(charge), now).or(sheet.pot_life_at_c).unwrap_or(20.0);
        c.life_s(temp)
    });
    if life.is_some_and(|s| s < MINUTES_SHORT_S) {
        let text = "Its life is minutes: mix small, stand the pot in an ice bath (no water into it), and use it at once.";
        found.push(text.into());
    }
    let at = case.temperatures(charge).into_iter().rev().find(|h| h.from <= now).map(|h| h.temp_c);
    if let (Some(is), Some(stated)) = (at, sheet.pot_life_at_c)
        && is - stated >= 10.0
    {
        found.push(format!(
            "At {} it lives half as long as at {} or less.",
            show(is, QuantityKind::Temperature, prefs).text,
            show(stated, QuantityKind::Temperature, prefs).text
        ));
    }
    found
}

/// The last pour on its level: mass poured of that component against what it should be.
fn pour_level(plan: &[PlannedPour], go: &[PlannedPour], charge: &Charge, sheet: &Sheet, prefs: Prefs) -> Option<Level> {
    let weighed = charge.weighed();
    let last = weighed.last()?;
    let left = plan.iter().zip(go).find(|(p, _)| p.component == last.component)?.1;
    let poured = mixing::total_g(&weighed, last.component);
    let stand = mixing::pour_state(sheet, &weighed, last.component, poured + left.mass_g);
    let name = format!("{} poured", sheet.component_name(last.component));
    let level = Level::draw(&name, stand.poured_g, stand.tolerance, 1.0, sheet.said_in(last.component), prefs);
    let done = mixing::is_done(sheet, &weighed, last.component, left.mass_g, last.resolution_g);
    Some(match stand.verdict.unwrap_or(Verdict::CannotTell) {
        Verdict::Low | Verdict::CannotTell if !done => {
            level.under_way("pouring").advise(format!("{} to go", show(left.mass_g, sheet.said_in(last.component), prefs).text))
        }
        Verdict::High => level.ruled_by(Verdict::High).advise("the rest of the plan grows to match"),
        verdict => level.ruled_by(verdict),
    })
}

/// Marks on the cup: poured layers, then what is still to come, by volume, the cup a fifth larger than the plan.
fn marks(sheet: &Sheet, charge: &Charge, plan: &[PlannedPour], go: &[PlannedPour], prefs: Prefs) -> Vec<CupMark> {
    let weighed = charge.weighed();
    // What has no density on the sheet is taken not to add volume.
    let volume_of = |c: Component, g: f64| sheet.density_kg_l(c).map_or(0.0, |d| g / d);
    let volume =
        |p: &PlannedPour, left: &PlannedPour| volume_of(p.component, mixing::total_g(&weighed, p.component) + left.mass_g);
    let full: f64 = plan.iter().zip(go).map(|(p, l)| volume(p, l)).sum::<f64>() * 1.2;
    if full <= 0.0 {
        return Vec::new();
    }
    let mut out = Vec::new();
    let (mut height, mut reading) = (0.0, 0.0);
    for (p, left) in plan.iter().zip(go) {
        let poured = mixing::total_g(&weighed, p.component);
        if poured > 0.0 {
            reading += poured;
            height += volume_of(p.component, poured);
            let label =
                format!("{}, {}", sheet.component_name(p.component), show(poured, sheet.said_in(p.component), prefs).text);
            out.push(CupMark { component: p.component, label, at: height / full, poured: true });
        }
        // What is in within tolerance needs no mark to pour to.
        if left.mass_g > mixing::slack_g(sheet, poured + left.mass_g) {
            reading += left.mass_g;
            height += volume_of(p.component, left.mass_g);
            let label =
                format!("{} to {}", sheet.component_name(p.component), show(reading, sheet.said_in(p.component), prefs).text);
            out.push(CupMark { component: p.component, label, at: height / full, poured: false });
        }
    }
    out
}
