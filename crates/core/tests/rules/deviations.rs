//! Facts that broke a rule: stored all the same, marked with their code, answered before the signature.

use level_keel_core::batch::view::{Viewer, view};
use level_keel_core::batch::{Case, Entry, EntryKind, StationName, gates};
use level_keel_core::batch::{Payload, gates::GateName};
use level_keel_core::people::{Role, Writer};
use level_keel_core::quantity::{Prefs, UnitSet};
use level_keel_core::refusal::Why;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

fn codes(book: &Book) -> Vec<String> {
    book.record().deviations.into_iter().map(|d| d.code).collect()
}

/// Written without asking core first, as an entry of another time might have been: the fold marks what it broke.
fn force(book: &mut Book, kind: EntryKind, payload: Value) -> Uuid {
    let (id, record) = (Uuid::from_u128(5000 + book.entries.len() as u128), book.record());
    Payload::decode(kind, 1, &payload).expect("well formed");
    book.kept.entries.push(Entry {
        id,
        seq: record.log.head_seq + 1,
        kind,
        version: 1,
        payload,
        who: person(Role::Applicator),
        by: "hand".into(),
        happened: book.now,
        arrived: book.now,
        hash: format!("hash {}", record.log.head_seq + 1),
    });
    id
}

fn poured(book: &mut Book) {
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    book.pour("base", 1900.0).unwrap();
}

#[test]
fn combined_without_conditions_guards_or_what_the_lists_want() {
    let items = json!([
        { "key": "stirred_a", "group": "material", "text": "Base stirred", "what": { "kind": "tick" }, "before": "combine" },
        { "key": "stirred_b", "group": "material", "text": "Hardener stirred", "what": { "kind": "tick" }, "before": "combine" }
    ]);
    let mut book = Book::begun_with(sheet(), json!({ "items": items }));
    poured(&mut book);
    assert!(book.write(EntryKind::Combine, on()).is_err(), "asked first, it is refused");
    force(&mut book, EntryKind::Combine, on());
    let found = codes(&book);
    for code in ["combined-on-hold", "combined-without-guards", "combined-not-ready"] {
        assert_eq!(found.iter().filter(|c| *c == code).count(), 1, "{code} once, in {found:?}");
    }
    // Hardener poured without a word of combining is combining too.
    let mut book = Book::begun(sheet());
    poured(&mut book);
    book.pour("hardener", 2228.0).unwrap();
    assert!(codes(&book).contains(&"combined-without-guards".into()));
}

/// A lot as the stores knew it when it was taken; what is wrong with it holds the combining, and marks one that happened.
#[test]
fn what_is_wrong_with_a_lot_holds_and_is_marked() {
    let items = json!([{ "key": "lot_base", "group": "material", "text": "Base lot", "what": { "kind": "lot", "component": "base" }, "before": "combine" }]);
    let colour = with(sheet(), json!({ "colour": "signal red", "certificate_needed": true }));
    let sound = json!({ "received": true, "expires_at": "2027-01-01T00:00:00Z", "certified": true, "colour": "Signal Red " });
    let begun = |stand: &Value| {
        let mut book = Book::begun_with(colour.clone(), json!({ "items": items }));
        book.ready();
        let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1", "stand": stand });
        book.write(EntryKind::TakeLot, json!({ "component": "base", "lot": lot })).unwrap();
        poured(&mut book);
        book
    };
    begun(&sound).write(EntryKind::Combine, on()).unwrap();
    for (change, word) in [
        (json!({ "received": false }), "not received"),
        (json!({ "expires_at": null }), "has no date"),
        (json!({ "damaged": "lid dented" }), "lid dented"),
        (json!({ "colour": "white" }), "is white; the sheet says signal red"),
        (json!({ "colour": null }), "has no colour written"),
        (json!({ "certified": false }), "no certificate"),
        (json!({ "on_part": "P-0" }), "second on this part, after P-0"),
    ] {
        let stand = with(sound.clone(), change);
        let mut book = begun(&stand);
        let refusal = book.write(EntryKind::Combine, on()).expect_err(word);
        assert!(refusal.why == Why::Hold && refusal.text.contains(word), "{word}: {}", refusal.text);
        force(&mut book, EntryKind::Combine, on());
        assert_eq!(codes(&book), ["combined-with-lot-held"], "{word}");
        // Released by a lead before, it is neither held nor marked.
        let mut book = begun(&stand);
        let held = gates::all(&Case::alone(&book.record()), book.now, Prefs::METRIC)
            .into_iter()
            .find(|h| h.gate == GateName::Lots)
            .expect(word);
        let release =
            json!({ "gate": "lots", "item": held.item, "reason": "asked the maker", "seen_seq": book.record().log.head_seq });
        assert!(book.write(EntryKind::Release, release.clone()).is_err(), "not by an applicator");
        book.write_as(Role::Lead, EntryKind::Release, release).unwrap();
        book.write(EntryKind::Combine, on()).unwrap();
        assert_eq!(codes(&book), Vec::<String>::new(), "{word}");
    }
    // An unknown colour was not asked by older rules: held by those of today, and not marked.
    let mut book = begun(&with(sound.clone(), json!({ "colour": null })));
    book.entries[0].payload["rules"] = json!(0);
    force(&mut book, EntryKind::Combine, on());
    assert_eq!(codes(&book), Vec::<String>::new());
    assert!(gates::all(&Case::alone(&book.record()), book.now, Prefs::METRIC).iter().any(|h| h.trouble == "colour-unknown"));
    // What nobody may take is refused where it is taken.
    for (change, code) in [
        (json!({ "quarantined": "gelled in the can" }), "quarantined-lot"),
        (json!({ "expires_at": "2026-05-01T00:00:00Z" }), "expired-lot"),
        (json!({ "belongs_to": "a finish" }), "wrong-lot"),
    ] {
        let mut book = Book::begun_with(colour.clone(), json!({ "items": items }));
        book.ready();
        let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1", "stand": with(sound.clone(), change) });
        let refusal = book.write_as(Role::Owner, EntryKind::TakeLot, json!({ "component": "base", "lot": lot })).unwrap_err();
        assert_eq!((refusal.why, refusal.code.as_str(), refusal.field.as_deref()), (Why::Stop, code, Some("lot")));
    }
}

#[test]
fn sprayed_before_it_was_stirred_while_inducting_and_after_its_life() {
    let pass = |ml: f64| json!({ "charge": POT, "zones": [], "used_ml": ml });
    // Combined and never stirred.
    let mut book = Book::begun(sheet());
    book.ready();
    poured(&mut book);
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    book.write(EntryKind::Pass, pass(100.0)).unwrap();
    assert_eq!(codes(&book), ["pass-without-start", "sprayed-unstirred"]);
    // Stirred, its induction running: twenty minutes by the sheet.
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    assert!(book.pass(5.0).write(EntryKind::StartSpraying, on()).is_err());
    book.write(EntryKind::Pass, pass(100.0)).unwrap();
    assert_eq!(codes(&book), ["pass-without-start", "sprayed-inducting"]);
    // Four hours at 20 °C by the sheet: after them it is spent.
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, pass(100.0)).unwrap();
    book.pass(240.0).write(EntryKind::Pass, pass(100.0)).unwrap();
    assert_eq!(codes(&book), ["sprayed-spent"]);
}

#[test]
fn more_sprayed_than_mixed_more_thinner_than_allowed_more_film_than_wanted() {
    let thin = with(sheet(), json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 }));
    let mut book = Book::begun(thin);
    book.ready();
    book.mixed(328.0);
    // A tenth of the 1,673 mL is 167 mL, 146 g of thinner; 200 g are poured.
    book.pour("thinner", 2228.0 + 200.0).unwrap();
    book.pass(25.0);
    let refused = book.write(EntryKind::StartSpraying, on());
    assert!(refused.is_ok() || codes(&book).contains(&"thinner-over-limit".into()), "{refused:?}");
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 2500.0 })).unwrap();
    book.comb(7.0).unwrap();
    let found = codes(&book);
    for code in ["thinner-over-limit", "sprayed-more-than-mixed", "film-over"] {
        assert!(found.contains(&code.to_string()), "{code} in {found:?}");
    }
}

/// What a release of the induction covers: passes after it, of its own pot, of that stirring.
#[test]
fn a_release_of_the_induction_is_of_one_stirring_and_reaches_forward() {
    let pass = json!({ "charge": POT, "zones": [], "used_ml": 100.0 });
    let release = |book: &mut Book| {
        let seen = book.record().log.head_seq;
        let body = json!({ "gate": "induction", "charge": POT, "reason": "the maker says so", "seen_seq": seen });
        book.write_as(Role::Lead, EntryKind::Release, body).unwrap();
    };
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    release(&mut book);
    book.pass(1.0).write(EntryKind::Pass, pass.clone()).unwrap();
    assert_eq!(codes(&book), ["pass-without-start"], "released before it");
    // More goes in and is stirred: its induction begins anew, and the release was of the one before.
    book.pass(1.0).pour("base", 2328.0).unwrap();
    book.pour("hardener", 2345.0).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(1.0).write(EntryKind::Pass, pass.clone()).unwrap();
    assert_eq!(codes(&book), ["pass-without-start", "sprayed-inducting"]);
    // Given after the pass it does not reach back.
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.write(EntryKind::Pass, pass).unwrap();
    book.pass(1.0);
    release(&mut book);
    assert_eq!(codes(&book), ["pass-without-start", "sprayed-inducting"]);
}

/// What was sprayed ready stays sprayed ready, though more goes into the pot afterwards and is not stirred yet.
#[test]
fn what_goes_in_later_marks_no_pass_made_before() {
    let mut book = Book::begun(with(sheet(), json!({ "film_proof": "not_asked" })));
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 100.0 })).unwrap();
    book.pass(1.0).pour("base", 2328.0).unwrap();
    assert_eq!(codes(&book), Vec::<String>::new(), "not stirred yet");
    book.pour("hardener", 2345.0).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    assert_eq!(codes(&book), Vec::<String>::new(), "inducting anew");
}

/// 1,900 g at 1.42 kg/L and 328 g at 0.98 kg/L are 1,672.7 mL: a thousandth more is no contradiction, two are.
#[test]
fn a_thousandth_more_sprayed_than_mixed_is_no_contradiction() {
    for (used_ml, marked) in [(1674.0, false), (1676.0, true)] {
        let mut book = Book::begun(with(sheet(), json!({ "film_proof": "not_asked" })));
        book.ready();
        book.mixed(328.0);
        book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
        book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": used_ml })).unwrap();
        assert_eq!(codes(&book).contains(&"sprayed-more-than-mixed".to_string()), marked, "{used_ml}");
    }
}

/// An answer stands beside its deviation with a name; struck, the deviation is open again.
#[test]
fn an_answer_is_given_by_someone_and_can_be_struck() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let pass = book.pass(5.0).write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 100.0 })).unwrap();
    let answer = |code: &str| json!({ "entry": pass, "code": code, "text": "a test card, not the part" });
    let said = book.write(EntryKind::Answer, answer("sprayed-inducting")).unwrap();
    let open =
        |book: &Book| book.record().deviations.iter().filter(|d| d.answer.is_none()).map(|d| d.code.clone()).collect::<Vec<_>>();
    assert_eq!(open(&book), ["pass-without-start"]);
    let answered = book.record().deviations.into_iter().find(|d| d.code == "sprayed-inducting").unwrap().answer.unwrap();
    assert!(answered.ends_with("a test card, not the part") && answered.contains(':'), "{answered}");
    book.write(EntryKind::Strike, json!({ "entry": said, "reason": "the wrong one" })).unwrap();
    assert_eq!(open(&book), ["pass-without-start", "sprayed-inducting"]);
    // The pass itself struck, nothing is left of either.
    book.write(EntryKind::Strike, json!({ "entry": pass, "reason": "another pot" })).unwrap();
    assert_eq!(open(&book), Vec::<String>::new());
}

/// What is to be answered stands at the head of every station, in the reader's own units, until it is answered or signed.
#[test]
fn what_is_to_be_answered_is_said_at_every_station() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let texts = |book: &Book, at: StationName| {
        let writer = Writer { prefs: Prefs { units: UnitSet::Us, ..Prefs::METRIC }, ..writer(Role::Applicator) };
        let viewer = Viewer { writer, comb_um: Vec::new(), scale_g: 1.0 };
        let seen = view(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now, Some(at)).unwrap();
        seen.head.to_answer.into_iter().map(|d| d.text).collect::<Vec<_>>()
    };
    assert_eq!(texts(&book, StationName::Mix), Vec::<String>::new());
    book.pass(25.0).write(EntryKind::StartSpraying, json!({ "charge": POT })).unwrap();
    let pass = book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 1700.0 })).unwrap();
    for at in [StationName::Ready, StationName::Mix, StationName::Set, StationName::Prove, StationName::Spray, StationName::Close]
    {
        let said = texts(&book, at);
        assert!(said.len() == 1 && said[0].contains("sprayed from pot 1") && !said[0].contains(" L"), "{at:?}: {said:?}");
    }
    book.write(
        EntryKind::Answer,
        json!({ "entry": pass, "code": "sprayed-more-than-mixed", "text": "a remainder was in the hose" }),
    )
    .unwrap();
    assert_eq!(texts(&book, StationName::Mix), Vec::<String>::new());
}
