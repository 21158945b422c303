//! What a release covers, and what it does not.

use super::*;

#[test]
fn a_release_of_humidity_is_none_of_the_dew_margin() {
    let mut book = ready(sheet());
    // 88 %: too humid; 1.1 K of margin: too near the dew point.
    book.write(EntryKind::Conditions, conditions(20.0, 88.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under", "over"]);
    let refusal = release(&mut book, "conditions", json!({})).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("which-hold", Some("item")));
    release(&mut book, "conditions", json!({ "item": "humidity" })).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under"]);
    // No worse stays covered, worse does not, and the one behind it never was.
    book.write(EntryKind::Conditions, conditions(20.0, 87.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under"]);
    book.write(EntryKind::Conditions, conditions(20.0, 89.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under", "over"]);
    release(&mut book, "conditions", json!({ "item": "dew-margin" })).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["over"]);
    assert_eq!(release(&mut book, "conditions", json!({ "item": "surface" })).unwrap_err().code, "nothing-held");
}

#[test]
fn a_release_of_cannot_tell_is_none_of_out() {
    let mut book = ready(sheet());
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 170.0 })).unwrap();
    book.pour("base", 50.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 59.0).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["cannot-tell"]);
    release_pot(&mut book, "ratio").unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    book.pour("hardener", 66.0).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["under"], "3.1 : 1 is out, whatever was released before");
    let kept = book.record().releases[0].it.clone();
    assert_eq!((kept.trouble.as_deref(), kept.item), (Some("cannot-tell"), None));
}

#[test]
fn a_release_of_not_stirred_is_none_of_the_induction_nor_of_the_next_one() {
    let mut book = opened(sheet());
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    release_pot(&mut book, "induction").unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    assert_eq!(troubles(&book, GateName::Induction), ["inducting"]);
    release_pot(&mut book, "induction").unwrap();
    assert_eq!(troubles(&book, GateName::Induction), Vec::<String>::new());
    // Added to and stirred again, another induction runs: shorter now than the one released, and still not released.
    book.pass(15.0).pour("hardener", 2230.0).unwrap();
    assert_eq!(troubles(&book, GateName::Induction), ["not-stirred"], "the release was of what stood before");
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(10.0);
    assert_eq!(troubles(&book, GateName::Induction), ["inducting"]);
}

#[test]
fn a_release_of_nothing_beneath_is_none_of_too_early() {
    let mut book = ready(sheet());
    assert_eq!(over_a_coat(&book, None, None), [("not-sprayed".to_string(), false)]);
    // The release as core would store it.
    let id = Uuid::from_u128(4000);
    let seq = book.record().log.head_seq + 1;
    let payload =
        json!({ "gate": "recoat", "trouble": "not-sprayed", "reason": "a test panel", "seen_seq": seq - 1, "badness": 1e6 });
    let last = book.entries.last().unwrap().clone();
    book.kept.entries.push(Entry { id, seq, kind: EntryKind::Release, payload, ..last });
    assert_eq!(over_a_coat(&book, None, None), [("not-sprayed".to_string(), true)]);
    assert_eq!(over_a_coat(&book, Some(book.now), None), [("too-early".to_string(), false)]);
}

/// An older log's releases name no trouble: they stand for what was done under them, and for nothing that stands now.
#[test]
fn a_release_of_an_older_log_covers_the_past_alone() {
    let mut book = Book::begun_with(sheet(), json!({ "rules": 0 }));
    book.ready();
    book.write(EntryKind::Conditions, conditions(16.5, 65.0)).unwrap();
    let seq = book.record().log.head_seq + 1;
    let payload = json!({ "gate": "conditions", "reason": "shed is warming", "seen_seq": seq - 1, "badness": 2.0 });
    let last = book.entries.last().unwrap().clone();
    book.kept.entries.push(Entry { id: Uuid::from_u128(4001), seq, kind: EntryKind::Release, payload, ..last });
    assert_eq!(troubles(&book, GateName::Conditions), ["under"]);
    open(&mut book, POT);
    book.pour("base", 1900.0).unwrap();
    let before = book.entries.len();
    assert!(book.write(EntryKind::Combine, on()).is_err());
    force(&mut book, EntryKind::Combine, on());
    assert_eq!(book.entries.len(), before + 1);
    assert_eq!(codes(&book), Vec::<String>::new(), "what was combined under it is no deviation");
}

#[test]
fn a_probes_next_reading_no_worse_leaves_the_release_standing() {
    let mut book = ready(sheet());
    book.write(EntryKind::Conditions, conditions(16.5, 65.0)).unwrap();
    release(&mut book, "conditions", json!({})).unwrap();
    for surface in [16.5, 16.6, 16.5] {
        book.pass(10.0).write(EntryKind::Conditions, conditions(surface, 65.0)).unwrap();
        assert_eq!(troubles(&book, GateName::Conditions), Vec::<String>::new());
    }
    book.pass(10.0).write(EntryKind::Conditions, conditions(16.4, 65.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under"]);
}

#[test]
fn one_guard_released_is_one_guard() {
    let both = with(sheet(), json!({ "hazards": ["solvent", "isocyanate"] }));
    let mut book = Book::begun(both);
    release(&mut book, "guards", json!({ "item": "solvent" })).unwrap();
    let open: Vec<_> = holds(&book).into_iter().filter(|h| h.gate == GateName::Guards && h.released.is_none()).collect();
    assert_eq!(open.iter().map(|h| h.item.as_deref().unwrap()).collect::<Vec<_>>(), ["isocyanate"]);
}

#[test]
fn bad_releases_are_refused_by_name() {
    let mut book = ready(sheet());
    assert_eq!(release(&mut book, "film", json!({})).unwrap_err().code, "nothing-held");
    assert_eq!(release(&mut book, "conditions", json!({ "item": "dew-margin" })).unwrap_err().code, "nothing-held");
    let begin = book.entries[0].id;
    let strike = json!({ "entry": begin, "reason": "the wrong part" });
    assert_eq!(book.write_as(Role::Owner, EntryKind::Strike, strike).unwrap_err().code, "not-strikable");
}

// ---- C. Nothing gets younger, nothing is forgotten under way.

/// The release of an item that is not right stands while other items are ticked; another failure of the item itself reopens it.
#[test]
fn a_release_of_an_item_is_not_reopened_by_others() {
    let test = |key: &str| json!({ "key": key, "group": "rig", "text": key, "what": { "kind": "test", "fails": "it leaks" }, "before": "combine" });
    let mut book = Book::begun_with(sheet(), json!({ "items": [test("hose"), test("trap")] }));
    book.ready();
    let tick = |book: &mut Book, item: &str, did: &str| {
        book.pass(1.0).write(EntryKind::Tick, json!({ "item": item, "did": did, "text": "seen" })).unwrap();
    };
    let held = |book: &Book| {
        let lists = holds(book).into_iter().filter(|h| h.gate == GateName::Lists);
        lists.filter(|h| h.released.is_none()).filter_map(|h| h.item).collect::<Vec<_>>()
    };
    tick(&mut book, "hose", "failed");
    let item = json!({ "item": "hose", "trouble": "not-right" });
    book.pass(1.0);
    release(&mut book, "lists", item).unwrap();
    tick(&mut book, "trap", "failed");
    tick(&mut book, "trap", "done");
    assert_eq!(held(&book), Vec::<String>::new(), "the trap says nothing of the hose");
    tick(&mut book, "hose", "failed");
    assert_eq!(held(&book), ["hose"]);
}
