//! What to set next on twin pots: each stream alone, then both together.

use super::advice::{BURST, SetAdvice, fan_next, only};
use super::by_tries;
use crate::batch::case::Case;
use crate::batch::entries::Flowed;
use crate::batch::stream::StreamState;
use crate::component::Component;
use crate::delivery::advise::Seen;
use crate::quantity::Prefs;
use crate::rigs::Rig;
use crate::verdict::Verdict;

/// What stands next, or the pressure of the stream that is looked at; `of_a` is that of A.
///
/// **Rule:** A alone with B shut, B alone with A shut, then both together and only then the air. **Source:** common practice in the
/// trade.
pub(super) fn advise(
    case: &Case<'_>,
    rig: &Rig,
    (aim_mm, stand): (f64, Option<StreamState>),
    of_a: impl FnOnce() -> Option<SetAdvice>,
    prefs: Prefs,
) -> Option<SetAdvice> {
    let Some(last) = case.tries().last() else {
        let order = " A alone, B shut; then B alone; then both.";
        return of_a().map(|advice| SetAdvice { text: advice.text + order, ..advice });
    };
    let stands = stand.is_some_and(|s| s.verdict == Verdict::In);
    match last.it.flowed {
        Some(Flowed::A | Flowed::B) if stands => Some(only(next_words(case))),
        Some(Flowed::B) => of_b(case, rig, aim_mm, prefs),
        // Together no stream is read: the pattern tells.
        Some(Flowed::Both) if last.it.stream_mm.is_none() => {
            fan_next(case, Some(rig), prefs).or_else(|| last.it.pattern.is_none().then(|| only(BURST)))
        }
        Some(Flowed::A | Flowed::Both) | None => of_a(),
    }
}

/// Which stream is looked at next: A, then B, each until it stands, then both.
pub(super) fn flows_next(case: &Case<'_>) -> Flowed {
    let seen = |of: Flowed| case.tries().any(|s| s.it.flowed == Some(of));
    let stands = case.tries().last().is_some_and(|last| case.stream_state(last.at).is_some_and(|s| s.verdict == Verdict::In));
    match case.tries().last().and_then(|s| s.it.flowed) {
        Some(alone @ (Flowed::A | Flowed::B)) if !stands => alone,
        Some(Flowed::A) if !seen(Flowed::B) => Flowed::B,
        Some(Flowed::B) if !seen(Flowed::A) => Flowed::A,
        Some(_) => Flowed::Both,
        // A book that never said which stream it was goes on so.
        None if case.tries().next().is_some() => Flowed::Both,
        None => Flowed::A,
    }
}

/// What is looked at next, once a stream alone stands.
fn next_words(case: &Case<'_>) -> &'static str {
    match flows_next(case) {
        Flowed::B => "A stands. Now B alone, the valve of A shut.",
        Flowed::A => "B stands. Now A alone, the valve of B shut.",
        Flowed::Both => "Each stands alone. Now both together, and only then the air.",
    }
}

/// The next pressure of B, by its own tries: of the paint of B nothing else is known.
fn of_b(case: &Case<'_>, rig: &Rig, aim_mm: f64, prefs: Prefs) -> Option<SetAdvice> {
    let alone = case.tries().filter(|s| s.it.flowed == Some(Flowed::B));
    let tries: Vec<Seen> =
        alone.filter_map(|s| Some(Seen { pot_kpa: s.it.b_kpa?, stream_mm: s.it.stream_mm?, eye: case.eye(s.who) })).collect();
    let density_kg_l = case.aim()?.sheet.density_kg_l(Component::Hardener)?;
    by_tries::advise(density_kg_l, rig, &tries, aim_mm, rig.most_kpa()?, prefs)
}
