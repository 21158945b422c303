//! A scale is checked against a known mass: what it is found to be, what that puts in doubt, and what an overdue check does.

use crate::book::*;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::batch::{EntryKind, gates};
use level_keel_core::book::{Asking, InMemory, LedgerKind, Wanted};
use level_keel_core::instruments::{Checked, Fault, InstrumentBook, InstrumentEntry, InstrumentEntryKind, marks};
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::ratio_check::{LedgerProof, ProofKind};
use level_keel_core::verdict::Verdict;
use level_keel_core::worded::{VariantArray, Worded};
use serde_json::{Value, json};
use uuid::Uuid;

fn checked(read_g: f64, empty_g: Option<f64>) -> Value {
    json!({ "known_g": 500.0, "read_g": read_g, "empty_g": empty_g, "against": "500 g brass", "step": 0.1 })
}

fn found(read_g: f64, empty_g: Option<f64>) -> Option<Fault> {
    serde_json::from_value::<Checked>(checked(read_g, empty_g)).unwrap().found().unwrap().fault
}

/// 0.2 per cent of 500 g is 1 g: on it is good. What it reads empty tells an offset from a gain.
#[test]
fn a_check_says_how_a_scale_is_off() {
    assert_eq!(found(501.0, None), None);
    assert_eq!(found(499.0, Some(0.1)), None);
    assert_eq!(found(501.2, None), Some(Fault::Unknown));
    assert_eq!(found(498.8, Some(0.0)), Some(Fault::Gain));
    assert_eq!(found(501.2, Some(1.2)), Some(Fault::Offset));
    assert_eq!(found(500.0, Some(-0.2)), Some(Fault::Offset), "right with the mass on, and not when empty");
}

#[test]
fn a_check_that_says_nothing_is_refused_at_its_field() {
    let refused = |change: Value, is_gauge: bool| {
        let said: Checked = serde_json::from_value(with(checked(500.0, None), change)).unwrap();
        said.check(is_gauge, Prefs::METRIC).map_err(|r| r.field.unwrap_or_default())
    };
    assert_eq!(refused(json!({}), false), Ok(()));
    assert_eq!(refused(json!({ "known_g": null }), false), Err("known_g".into()));
    assert_eq!(refused(json!({ "read_g": null }), false), Err("read_g".into()));
    assert_eq!(refused(json!({ "known_g": 1.9 }), false), Err("known_g".into()), "under twenty steps");
    assert_eq!(refused(json!({ "against": " " }), false), Err("against".into()));
    assert_eq!(refused(json!({ "again_day_count": 0.0 }), false), Err("again_day_count".into()));
    assert_eq!(refused(json!({}), true), Err("known_kpa".into()), "a gauge is checked by a pressure");
}

struct Kept {
    book: InMemory<InstrumentBook>,
    now: Timestamp,
}

impl Kept {
    fn new() -> Kept {
        Kept { book: InMemory::new(Uuid::from_u128(9)), now: "2026-05-04T08:00:00Z".parse().unwrap() }
    }

    fn write(&mut self, role: Role, kind: InstrumentEntryKind, payload: Value) -> Result<Uuid, String> {
        let id = Uuid::from_u128(500 + self.book.entries.len() as u128);
        let writer = writer(role);
        let asked = Asking { writer: &writer, beside: &false, now: self.now };
        self.book.write(Wanted { id, kind, payload, happened: self.now }, role.word(), &asked).map_err(|r| r.code)?;
        Ok(id)
    }

    fn check(&mut self, hours: i64, read_g: f64, empty_g: Option<f64>) -> Uuid {
        self.now += SignedDuration::from_hours(hours);
        self.write(Role::Applicator, InstrumentEntryKind::Checked, checked(read_g, empty_g)).unwrap()
    }
}

fn proof(n: u128, at: Timestamp, kind: ProofKind) -> LedgerProof {
    LedgerProof {
        entry: Uuid::from_u128(n),
        kind,
        at,
        by: String::new(),
        number: Some(4),
        lot_a: None,
        lot_b: None,
        a_kpa: None,
        b_kpa: None,
        setting_count: None,
        temp_c: None,
        instrument: Some(Uuid::from_u128(9)),
        resolution_g: Some(0.1),
        a_g: Some(40.0),
        b_g: Some(5.0),
        caught_watch_s: None,
        figure: None,
        verdict: Verdict::In,
        sprayed_kg: None,
        bond: None,
        two_scales: false,
    }
}

/// What was weighed between the last good check and the one that found it off is in doubt; a gain error spares ratios of one scale.
#[test]
fn a_scale_found_off_marks_what_was_weighed_since_its_last_good_check() {
    let mut kept = Kept::new();
    kept.check(0, 500.0, Some(0.0));
    let at = |hours: i64| kept.now + SignedDuration::from_hours(hours);
    let weighed = [
        proof(1, at(-1), ProofKind::TwoCatches),
        proof(2, at(1), ProofKind::TwoCatches),
        proof(3, at(2), ProofKind::WholeRun),
        LedgerProof { two_scales: true, ..proof(4, at(3), ProofKind::PotAsWeighed) },
        proof(5, at(30), ProofKind::TwoCatches),
    ];
    let marked = |kept: &Kept| -> Vec<u128> {
        let book: InstrumentBook = kept.book.fold();
        marks(&book, &weighed).iter().map(|m| m.proof.entry.as_u128()).collect()
    };
    assert_eq!(marked(&kept), Vec::<u128>::new());
    // Off by its gain a day later: the run and the pot of two scales, not the ratio of one.
    let off = kept.check(24, 508.0, Some(0.0));
    assert_eq!(marked(&kept), [3, 4]);
    // A scale that was found off is due at once, until it is found good again.
    let life = kept.book.fold().life().unwrap();
    assert_eq!(life.due, life.checked);
    kept.write(Role::Lead, InstrumentEntryKind::Strike, json!({ "entry": off, "reason": "the mass was not clean" })).unwrap();
    assert_eq!(marked(&kept), Vec::<u128>::new());
    // Off, and nobody read it empty: all of them, and what was weighed on it afterwards.
    kept.check(0, 508.0, None);
    assert_eq!(marked(&kept), [2, 3, 4, 5]);
    // Mended and good again: what was weighed while it was off stays marked.
    kept.check(7, 500.0, Some(0.0));
    assert_eq!(marked(&kept), [2, 3, 4, 5]);
    // A lead answers; the verdict stays as it is.
    let answer = json!({ "proof": Uuid::from_u128(2), "text": "caught again on the fine scale, in" });
    assert_eq!(kept.write(Role::Applicator, InstrumentEntryKind::MarkAnswered, answer.clone()).unwrap_err(), "not-yours");
    kept.write(Role::Lead, InstrumentEntryKind::MarkAnswered, answer).unwrap();
    let book: InstrumentBook = kept.book.fold();
    let all = marks(&book, &weighed);
    assert!(all[0].answered.as_deref().unwrap().contains("fine scale") && all[1].answered.is_none());
    assert!(all.iter().all(|m| m.proof.verdict == Verdict::In));
}

#[test]
fn a_check_is_due_again() {
    let mut kept = Kept::new();
    assert_eq!(kept.book.fold().life(), None);
    kept.check(0, 500.0, None);
    let life = kept.book.fold().life().unwrap();
    assert_eq!(life.due.duration_since(life.checked), SignedDuration::from_hours(24 * 90));
    let sooner = with(checked(500.0, None), json!({ "again_day_count": 30.0 }));
    kept.write(Role::Applicator, InstrumentEntryKind::Checked, sooner).unwrap();
    let life = kept.book.fold().life().unwrap();
    assert_eq!(life.due.duration_since(life.checked), SignedDuration::from_hours(24 * 30));
}

/// In a shop where an overdue scale holds, what was weighed on it holds, with its way out.
#[test]
fn an_overdue_scale_holds_where_the_shop_says_so() {
    let adhesive = with(sheet(), json!({ "charge": "at_gun", "basis": "by_weight", "ratio": 8.0 }));
    let troubles = |overdue: Option<&str>| -> Vec<String> {
        let mut book = Book::begun(adhesive.clone());
        book.ready();
        book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 700.0 })).unwrap();
        let caught = json!({ "charge": POT, "a_g": 40.0, "b_g": 5.0, "resolution_g": 0.1, "overdue": overdue });
        book.write(EntryKind::RatioCheck, caught).unwrap();
        let record = book.record();
        let all = gates::all(&Case::alone(&record), book.now, Prefs::METRIC);
        all.into_iter().filter(|h| h.gate == gates::GateName::Ratio).map(|h| h.trouble).collect()
    };
    assert_eq!(troubles(None), Vec::<String>::new());
    assert_eq!(troubles(Some("widens")), Vec::<String>::new(), "its interval is widened where it is written");
    assert_eq!(troubles(Some("holds")), ["scale-overdue"]);
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1673.0 })).unwrap();
    for (component, reading_g) in [("base", 1900.0), ("hardener", 2228.0)] {
        let pour =
            json!({ "charge": POT, "component": component, "reading_g": reading_g, "resolution_g": 1.0, "overdue": "holds" });
        book.write(EntryKind::Pour, pour).unwrap();
    }
    let record = book.record();
    let held = gates::all(&Case::alone(&record), book.now, Prefs::METRIC);
    assert!(held.iter().any(|h| h.trouble == "scale-overdue" && h.text.contains("known mass")));
}

#[test]
fn fixtures_parse_for_ever() {
    for kind in InstrumentEntryKind::VARIANTS.iter().copied() {
        let path = format!("{}/tests/fixtures/instrument/{}.v1.json", env!("CARGO_MANIFEST_DIR"), kind.name());
        let text = std::fs::read_to_string(&path).unwrap_or_else(|_| panic!("a fixture is missing: {path}"));
        let said = InstrumentEntry::decode(kind, 1, &serde_json::from_str(&text).unwrap()).unwrap();
        let words = level_keel_core::book::Ledger::words(&InstrumentBook::default(), &said, Prefs::METRIC);
        assert!(!words.is_empty() && !words.contains('_'), "{words}");
    }
}
