//! The log book of a batch: gates, holds, deviations, strikes, signatures; and payloads that must parse for ever.

use jiff::SignedDuration;
use level_keel_core::batch::check::permitted;
use level_keel_core::batch::view::Viewer;
use level_keel_core::batch::{Entry, EntryKind, whole};
use level_keel_core::book::{Asking, LedgerKind, judge};
use level_keel_core::people::{Role, Writer};
use level_keel_core::refusal::{Refusal, Why};
use level_keel_core::worded::VariantArray;
use serde_json::json;
use uuid::Uuid;

use crate::book::*;

#[test]
fn no_combining_before_conditions_are_go_and_guards_on() {
    let mut book = Book::begun(sheet());
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    refused(book.write(EntryKind::Stirred, on()), "not-combined");
    book.pour("base", 1900.0).unwrap();
    assert_eq!(refused(book.write(EntryKind::Combine, on()), "hold").why, Why::Hold);
    book.ready();
    book.write(EntryKind::Combine, on()).unwrap();
    refused(book.write(EntryKind::Combine, on()), "combined-already");
}

#[test]
fn a_wet_surface_is_a_stop_that_no_lead_releases() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::Conditions, json!({ "air_c": 21.0, "surface_c": 13.0, "material_c": 20.0, "rh_pct": 65.0 })).unwrap();
    let release = json!({ "gate": "conditions", "reason": "sun is out", "seen_seq": 4 });
    assert_eq!(refused(book.write_as(Role::Lead, EntryKind::Release, release), "stop").why, Why::Stop);
}

#[test]
fn a_lead_releases_an_applicator_does_not_and_worse_reopens() {
    let mut book = Book::begun(sheet());
    book.ready();
    let read = |surface_c: f64| json!({ "air_c": 21.0, "surface_c": surface_c, "material_c": 20.0, "rh_pct": 65.0 });
    book.write(EntryKind::Conditions, read(16.5)).unwrap();
    let release = |seen: i64| json!({ "gate": "conditions", "reason": "shed is warming", "seen_seq": seen });
    refused(book.write(EntryKind::Release, release(4)), "not-your-role");
    refused(book.write_as(Role::Lead, EntryKind::Release, release(3)), "seen-older");
    book.write_as(Role::Lead, EntryKind::Release, release(4)).unwrap();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Conditions, read(16.0)).unwrap();
    refused(book.write(EntryKind::Combine, on()), "hold");
    book.write(EntryKind::Conditions, read(16.8)).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
}

#[test]
fn no_spraying_in_induction_and_a_spent_pot_is_a_stop() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let text = refused(book.pass(5.0).write(EntryKind::StartSpraying, on()), "hold").text;
    assert!(text.contains("induction ends in 15"), "{text}");
    book.pass(16.0).write(EntryKind::StartSpraying, on()).unwrap();
    let mut late = Book::begun(sheet());
    late.ready();
    late.mixed(328.0);
    assert_eq!(refused(late.pass(300.0).write(EntryKind::StartSpraying, on()), "stop").why, Why::Stop);
    // A pass that happened all the same is stored, and must be answered.
    late.write(EntryKind::Pass, json!({ "charge": POT })).unwrap();
    let codes: Vec<String> = late.record().deviations.into_iter().map(|d| d.code).collect();
    assert_eq!(codes, ["pass-without-start", "sprayed-spent"]);
}

#[test]
fn a_ratio_out_of_tolerance_holds_the_spraying_and_the_rest_of_the_plan_grows() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(400.0);
    book.pass(25.0);
    assert!(refused(book.write(EntryKind::StartSpraying, on()), "hold").text.contains("is out"));
    let record = book.record();
    let go = level_keel_core::mixing::to_go(
        &record.aim().expect("begun").sheet,
        &record.plan(&record.charges[0]),
        &record.charges[0].weighed(),
    );
    book.pour("base", 2300.0 + go[0].mass_g).unwrap();
    // What goes in after stirring wants stirring again, and its induction runs anew.
    assert!(refused(book.write(EntryKind::StartSpraying, on()), "hold").text.contains("Stir it again"));
    book.write(EntryKind::Stirred, on()).unwrap();
    assert!(refused(book.pass(19.0).write(EntryKind::StartSpraying, on()), "hold").text.contains("induction ends in"));
    book.pass(1.0).write(EntryKind::StartSpraying, on()).unwrap();
}

#[test]
fn signing_wants_answers_closed_pots_and_the_newest_page() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let seen = book.seen();
    refused(book.write(EntryKind::Sign, seen), "nothing-sprayed");
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    let pass = book.write(EntryKind::Pass, json!({ "charge": POT, "used_ml": 9000.0 })).unwrap();
    book.film(4.0);
    let seen = book.seen();
    refused(book.write(EntryKind::Sign, seen), "open-deviation");
    book.write(EntryKind::Answer, json!({ "entry": pass, "code": "sprayed-more-than-mixed", "text": "slip of the pen: 900" }))
        .unwrap();
    let seen = book.seen();
    refused(book.write(EntryKind::Sign, seen), "charge-open");
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    refused(book.write(EntryKind::Sign, json!({ "seen_seq": 3 })), "seen-older");
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
    refused(book.pour("base", 2500.0), "signed");
    let seen = book.seen();
    refused(book.write(EntryKind::Accept, seen.clone()), "not-your-role");
    refused(book.write_as(Role::Inspector, EntryKind::Accept, json!({ "seen_seq": 3 })), "seen-older");
    book.write_as(Role::Inspector, EntryKind::Accept, seen).unwrap();
    refused(book.write_as(Role::Lead, EntryKind::Conditions, json!({})), "missing");
    book.write(EntryKind::Note, json!({ "text": "tape pulled" })).unwrap();
    book.write_as(Role::Lead, EntryKind::Reopen, json!({ "reason": "wrong area" })).unwrap();
    assert!(book.record().signature.is_none() && book.record().acceptance.is_none());
}

#[test]
fn a_film_out_of_its_band_holds_the_signature() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT })).unwrap();
    book.comb(1.0).unwrap();
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "discarded", "reason": "gun trouble" })).unwrap();
    let seen = book.seen();
    refused(book.write(EntryKind::Sign, seen), "hold");
    let seen = book.record().log.head_seq;
    book.write_as(Role::Lead, EntryKind::Release, json!({ "gate": "film", "reason": "second coat tomorrow", "seen_seq": seen }))
        .unwrap();
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
}

#[test]
fn striking_never_fails_and_what_hung_on_it_becomes_a_deviation() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let open = book.record().log.iter().find(|l| l.kind == EntryKind::OpenCharge).unwrap().entry;
    let reason = json!({ "entry": open, "reason": "wrong batch" });
    refused(book.write_as(Role::Inspector, EntryKind::Strike, reason.clone()), "not-your-role");
    book.write(EntryKind::Strike, reason.clone()).unwrap();
    refused(book.write(EntryKind::Strike, reason), "struck-already");
    let record = book.record();
    assert!(record.charges.is_empty());
    assert_eq!(record.deviations.iter().filter(|d| d.code == "names-nothing").count(), 4);
    let begin = record.log[0].entry;
    refused(book.write_as(Role::Lead, EntryKind::Strike, json!({ "entry": begin, "reason": "no" })), "not-strikable");
}

#[test]
fn striking_the_conditions_leaves_a_combining_to_answer_for() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let read = book.record().log.iter().find(|l| l.kind == EntryKind::Conditions).unwrap().entry;
    book.write(EntryKind::Strike, json!({ "entry": read, "reason": "read at the wrong part" })).unwrap();
    assert!(book.record().deviations.iter().any(|d| d.code == "combined-on-hold"));
}

#[test]
fn a_release_given_later_does_not_reach_back() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let read = book.record().log.iter().find(|l| l.kind == EntryKind::Conditions).unwrap().entry;
    book.write(EntryKind::Strike, json!({ "entry": read, "reason": "another part" })).unwrap();
    let damp = json!({ "air_c": 21.0, "surface_c": 16.0, "material_c": 20.0, "rh_pct": 65.0 });
    book.pass(5.0).write(EntryKind::Conditions, damp).unwrap();
    let seen = book.record().log.head_seq;
    book.write_as(Role::Lead, EntryKind::Release, json!({ "gate": "conditions", "reason": "now it is fine", "seen_seq": seen }))
        .unwrap();
    assert!(book.record().deviations.iter().any(|d| d.code == "combined-on-hold"));
}

#[test]
fn a_ratio_proved_after_spraying_does_not_reach_back() {
    let mut gel = sheet();
    for (key, value) in [
        ("charge", json!("at_gun")),
        ("basis", json!("percent_by_weight")),
        ("hardener_pct", json!(1.8)),
        ("band_low_pct", json!(1.5)),
        ("band_high_pct", json!(2.5)),
    ] {
        gel[key] = value;
    }
    let mut book = Book::begun(gel);
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    refused(book.write(EntryKind::StartSpraying, on()), "hold");
    book.write(EntryKind::Pass, json!({ "charge": POT })).unwrap();
    let catch = |b_g: f64| json!({ "charge": POT, "a_g": 800.0, "b_g": b_g, "resolution_g": 0.1 });
    book.pass(1.0).write(EntryKind::RatioCheck, catch(30.0)).unwrap();
    assert_eq!(refused(book.write(EntryKind::StartSpraying, on()), "stop").why, Why::Stop, "3.75 % is outside the band");
    book.pass(1.0).write(EntryKind::RatioCheck, catch(14.6)).unwrap();
    book.write(EntryKind::StartSpraying, on()).unwrap();
    assert!(book.record().deviations.iter().any(|d| d.code == "ratio-not-proved"));
}

#[test]
fn bad_input_names_its_field() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    let field = |r: Result<Uuid, Refusal>| r.expect_err("must be refused").field;
    assert_eq!(field(book.pour("base", 100.0)).as_deref(), Some("reading_g"));
    assert_eq!(field(book.write(EntryKind::SetUp, json!({ "pot_kpa": 5000.0 }))).as_deref(), Some("pot_kpa"));
    assert_eq!(field(book.write(EntryKind::Note, json!({ "text": " " }))).as_deref(), Some("text"));
    assert_eq!(field(book.write(EntryKind::Note, json!({ "txt": "x" }))).as_deref(), Some("txt"));
    assert_eq!(field(book.write(EntryKind::Pass, json!({ "charge": Uuid::nil() }))).as_deref(), Some("charge"));
    assert_eq!(field(book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::nil()] }))).as_deref(), Some("zones"));
    assert_eq!(field(book.comb(3.5)).as_deref(), Some("tooth_um"));
    let discard = json!({ "charge": POT, "how": "discarded" });
    assert_eq!(field(book.write(EntryKind::CloseCharge, discard)).as_deref(), Some("reason"));
    assert_eq!(
        field(book.write(EntryKind::RatioCheck, json!({ "charge": POT, "a_g": 20.0, "b_g": 0.0, "resolution_g": 1.0 })))
            .as_deref(),
        Some("b_g")
    );
}

#[test]
fn more_than_a_day_back_is_refused() {
    let mut book = Book::begun(sheet());
    let record = book.record();
    let mut entry = Entry { kind: EntryKind::Note, payload: json!({ "text": "late" }), ..book.entries[0].clone() };
    entry.seq = 2;
    book.pass(24.0 * 60.0 + 1.0);
    let (lead, now) = (writer(Role::Lead), book.now);
    let asked = Asking { writer: &lead, beside: &Beside::default(), now };
    let judged = |entry: &Entry| judge(&record, &mut entry.clone(), &asked);
    assert_eq!(judged(&entry).unwrap_err().code, "too-long-ago");
    entry.happened = book.now + SignedDuration::from_secs(60);
    assert_eq!(judged(&entry).unwrap_err().code, "in-the-future");
    // Both limits are inside: a day back to the second, and a second ahead for a clock that runs a little fast.
    for s in [-24 * 3600, 1] {
        entry.happened = book.now + SignedDuration::from_secs(s);
        assert!(judged(&entry).is_ok(), "{s}");
    }
}

/// Who did not work on a batch does not sign it; who worked on it alone does not accept it.
#[test]
fn a_signature_is_a_workers_and_an_acceptance_is_not_the_only_workers() {
    let mut book = Book::begun(sheet());
    book.ready();
    let record = book.record();
    let asked = |kind: EntryKind, id: Uuid, role: Role| {
        permitted(&record, kind, None, &Writer { id, ..writer(role) }).map_err(|r| r.text)
    };
    let (worker, other) = (person(Role::Applicator), Uuid::from_u128(77));
    assert!(asked(EntryKind::Sign, worker, Role::Applicator).is_ok());
    assert!(asked(EntryKind::Sign, other, Role::Applicator).unwrap_err().contains("did not work on this batch"));
    assert!(asked(EntryKind::Accept, other, Role::Lead).is_ok());
    assert!(asked(EntryKind::Accept, worker, Role::Lead).unwrap_err().contains("did this work alone"));
    // In a shop of one there is nobody else to accept it.
    let alone = Writer { id: worker, works_alone: true, ..writer(Role::Lead) };
    assert!(permitted(&record, EntryKind::Accept, None, &alone).is_ok());
    let applicator = Writer { id: worker, works_alone: true, ..writer(Role::Applicator) };
    assert!(permitted(&record, EntryKind::Accept, None, &applicator).is_err(), "the role still counts");
}

/// Nothing is stirred before both are in: not an empty pot, not base alone, not a pot whose pour was never entered.
#[test]
fn a_pot_without_both_is_not_stirred() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    assert_eq!(book.write(EntryKind::Stirred, on()).unwrap_err().code, "not-combined");
    book.pour("base", 1900.0).unwrap();
    assert_eq!(book.write(EntryKind::Stirred, on()).unwrap_err().code, "not-combined");
}

pub fn seen_by(book: &Book, role: Role) -> level_keel_core::batch::view::WholeView {
    let viewer = Viewer { writer: writer(role), comb_um: (1..12).map(|t| f64::from(t) * MIL).collect(), scale_g: 1.0 };
    whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("a begun batch")
}

/// How far in the life of a batch each kind may be written, and what a strike never voids.
#[test]
fn what_is_written_after_the_signature() {
    use level_keel_core::batch::entries::Phase;
    let of = |phase: Phase| {
        EntryKind::VARIANTS.iter().copied().filter(|k| k.until() == phase).map(LedgerKind::name).collect::<Vec<_>>()
    };
    let measured = ["stage_look", "control_sample", "gauge_bare", "gauge_foil", "plan_acceptance", "move_spot", "gauge_read"];
    assert_eq!(of(Phase::Signed), [&measured[..], &["release", "accept"]].concat());
    let defects = ["defect_seen", "defect_look", "defect_settled"];
    assert_eq!(of(Phase::Accepted), [&defects[..], &["note", "strike", "reopen"]].concat());
    let fixed: Vec<&str> = EntryKind::VARIANTS.iter().copied().filter(|k| !k.is_strikable()).map(LedgerKind::name).collect();
    assert_eq!(fixed, ["begin", "strike", "sign", "accept", "reopen"]);
    let no_work: Vec<&str> = EntryKind::VARIANTS.iter().copied().filter(|k| !k.is_work()).map(LedgerKind::name).collect();
    assert_eq!(
        no_work,
        [
            &["birth_denied", "in_hand", "leave_out"],
            &measured[..],
            &defects[..],
            &["note", "answer", "release", "strike", "sign", "accept", "reopen"]
        ]
        .concat()
    );
}
