//! What the registry of gates says of each: which acts it stands before, what its station's float and *Hands next* say of it.

use super::*;
use gates::Act;

/// A hold of a gate, as if it had been found.
fn found(gate: GateName, trouble: &str, item: Option<&str>) -> Hold {
    Hold {
        gate,
        charge: None,
        item: item.map(String::from),
        trouble: trouble.into(),
        severity: Severity::Hold,
        text: "as found".into(),
        badness: 0.0,
        reached: true,
        released: None,
    }
}

/// Before each act only the gates are asked that stand before it, and each of those is.
#[test]
fn each_act_asks_the_gates_that_stand_before_it() {
    let mut book = Book::begun(sheet());
    open(&mut book, POT);
    let record = book.record();
    let case = Case::alone(&record);
    let pot = record.charge(POT).unwrap();
    for act in [Act::Combine, Act::Fill, Act::Spray, Act::Sign] {
        let of_batch = gates::before(&case, act, None, book.now, Prefs::METRIC);
        let with_pot = gates::before_with(&case, act, pot, book.now, Prefs::METRIC);
        let asked = |standing: &Standing| -> Vec<GateName> {
            standing.holds.iter().map(|h| h.gate).chain(standing.waits.iter().map(|(gate, _)| *gate)).collect()
        };
        for gate in asked(&of_batch).into_iter().chain(asked(&with_pot)) {
            assert!(gate.acts().contains(&act), "{gate:?} does not stand before {act:?}");
        }
        assert!(asked(&of_batch).iter().all(|gate| !gate.is_of_a_charge()), "{act:?}: no pot was named");
    }
    let asked = |act| {
        let standing = gates::before_with(&case, act, pot, book.now, Prefs::METRIC);
        let mut all: Vec<GateName> =
            standing.holds.iter().map(|h| h.gate).chain(standing.waits.iter().map(|(gate, _)| *gate)).collect();
        all.dedup();
        all
    };
    // Nothing was read, nothing is in the pot: each says what it waits for.
    assert!(asked(Act::Combine).contains(&GateName::Conditions) && asked(Act::Spray).contains(&GateName::Ratio));
    assert_eq!(asked(Act::Sign), [GateName::Film], "a signature is asked of the film alone");
}

/// Gates whose station has a figure of its own say nothing under its float; the others say it in a few words.
#[test]
fn what_stands_under_the_float() {
    let book = Book::begun(sheet());
    let record = book.record();
    let case = Case::alone(&record);
    let line = |gate, trouble, item| found(gate, trouble, item).line(&case, book.now, Prefs::METRIC);
    for gate in [
        GateName::Guards,
        GateName::Film,
        GateName::Coverage,
        GateName::Ratio,
        GateName::Thinner,
        GateName::Life,
        GateName::Induction,
    ] {
        assert_eq!(line(gate, "over", None), None, "{gate:?}");
    }
    assert_eq!(line(GateName::Lots, "no-certificate", Some("no-certificate P-2204")).as_deref(), Some("no certificate P-2204"));
    assert_eq!(line(GateName::Recoat, "past-latest", None).as_deref(), Some("abrade first"));
    assert!(line(GateName::Conditions, "not-read", Some("humidity")).is_some());
    assert_eq!(line(GateName::Lists, "not-done", Some("an item of no list")).as_deref(), Some(""));
}

/// *Hands next* has a line for what a person can go and do; for the rest another line of it speaks.
#[test]
fn what_hands_next_say_of_a_hold() {
    let next = |gate, trouble| found(gate, trouble, None).next();
    assert_eq!(next(GateName::Conditions, "dew-margin"), Some("Conditions on hold"));
    assert_eq!(next(GateName::Conditions, "old-reading"), Some("Read the conditions again"));
    assert_eq!(next(GateName::Lists, "not-done"), Some("Make it ready"));
    assert_eq!(next(GateName::Lots, "expired"), Some("Look at the lot"));
    for gate in [
        GateName::Guards,
        GateName::Recoat,
        GateName::Film,
        GateName::Coverage,
        GateName::Ratio,
        GateName::Thinner,
        GateName::Life,
    ] {
        assert_eq!(next(gate, "over"), None, "{gate:?}");
    }
}

/// A release written before releases named their trouble covers, for what was done under it, the item it named or every item of
/// its gate but an old reading; for what stands now it covers nothing.
#[test]
fn a_release_of_before_troubles_were_named_covers_what_was_done_under_it() {
    let combined_after = |item: Value| {
        let mut book = Book::begun_with(sheet(), json!({ "rules": 0 }));
        book.write(EntryKind::Conditions, conditions(20.0, 90.0)).unwrap();
        book.write(EntryKind::Guards, json!({ "hazards": ["solvent"] })).unwrap();
        let found = holds(&book).into_iter().find(|h| h.gate == GateName::Conditions).expect("too humid");
        force(
            &mut book,
            EntryKind::Release,
            json!({ "gate": "conditions", "item": item, "badness": found.badness, "reason": "tent is up", "seen_seq": 3 }),
        );
        assert!(holds(&book).iter().any(|h| h.gate == GateName::Conditions && h.released.is_none()), "now it holds");
        open(&mut book, POT);
        book.pour("base", 1900.0).unwrap();
        force(&mut book, EntryKind::Combine, on());
        codes(&book).contains(&"combined-on-hold".to_string())
    };
    assert!(!combined_after(Value::Null), "of the whole gate");
    assert!(combined_after(json!("another item")), "of another item");
}
