//! The tables of symptoms, causes, signs and looks.

use level_keel_core::diagnosis::{Cause, LOOKS, Look, ROWS, Sign, Symptom, causes_of};
use level_keel_core::worded::{VariantArray, Worded};
use std::collections::BTreeSet;

#[test]
fn every_symptom_has_causes_and_every_cause_a_symptom() {
    for symptom in Symptom::VARIANTS {
        let causes: Vec<Cause> = causes_of(*symptom).iter().map(|row| row.cause).collect();
        assert!(causes.len() >= 2, "{symptom:?}");
        assert_eq!(causes.iter().collect::<BTreeSet<_>>().len(), causes.len(), "{symptom:?} has a cause twice");
        assert!(!symptom.seen_as().is_empty() && !symptom.mend().is_empty());
    }
    let named: BTreeSet<Cause> = ROWS.iter().map(|row| row.cause).collect();
    let outcomes: Vec<&Cause> = Cause::VARIANTS.iter().filter(|c| !named.contains(c)).collect();
    assert_eq!(outcomes, [&Cause::SomethingElse]);
    let signs: BTreeSet<Sign> = ROWS.iter().flat_map(|row| row.signs).map(|(sign, _)| *sign).collect();
    let idle: Vec<&Sign> = Sign::VARIANTS.iter().filter(|s| !signs.contains(s)).collect();
    assert!(idle.is_empty(), "no row asks {idle:?}");
}

/// Whatever two causes of a symptom lead, something can be looked at that parts them.
#[test]
fn any_two_causes_of_a_symptom_are_parted_by_a_look() {
    let mut together = Vec::new();
    for symptom in Symptom::VARIANTS {
        let rows = causes_of(*symptom);
        for (i, a) in rows.iter().enumerate() {
            for b in &rows[i + 1..] {
                if !LOOKS.iter().any(|look| look.asks(*symptom) && look.parts(a.cause, b.cause) > 0) {
                    together.push((symptom.word(), a.cause, b.cause));
                }
            }
        }
    }
    assert!(together.is_empty(), "{together:?}");
}

#[test]
fn looks_are_whole() {
    for look in Look::VARIANTS {
        assert_eq!(LOOKS.iter().filter(|row| row.look == *look).count(), 1, "{look:?}");
    }
    for row in LOOKS {
        assert!(row.question.ends_with('?'), "{}", row.question);
        assert!(row.yes.iter().all(|c| !row.no.contains(c)), "{:?} speaks both ways", row.look);
        // It is asked of a symptom that has one of its causes.
        let asked = Symptom::VARIANTS.iter().filter(|s| row.asks(**s));
        let speaks = |s: &Symptom| causes_of(*s).iter().any(|r| row.yes.contains(&r.cause));
        if row.of.is_empty() {
            assert!(asked.into_iter().any(speaks), "{:?}", row.look);
        } else {
            assert!(asked.into_iter().all(speaks), "{:?}", row.look);
        }
    }
}
