//! The kinds of entry: who writes each, what may wait, and that every one ever written is read for ever.

use crate::book::*;
use level_keel_core::batch::beside::Beside;
use level_keel_core::batch::{Entry, EntryKind, Payload};
use level_keel_core::book::Ledger;
use level_keel_core::book::{Asking, LedgerKind, Wanted, canonical};
use level_keel_core::people::{May, Role};
use level_keel_core::quantity::Prefs;
use level_keel_core::worded::VariantArray;
use serde_json::{Value, json};
use uuid::Uuid;

/// The table of permissions as it was agreed, written out: entry kind by role.
#[test]
fn the_permission_table() {
    use May::{No, NotAlone, OwnBatch, OwnEntry, Yes};
    for kind in EntryKind::VARIANTS.iter().copied() {
        let row: Vec<May> = Role::VARIANTS.iter().map(|role| kind.may(*role)).collect(); // applicator, lead, inspector, owner
        let want = match kind {
            EntryKind::Sign => [OwnBatch, Yes, No, Yes],
            EntryKind::Accept => [No, NotAlone, NotAlone, NotAlone],
            EntryKind::PlanAcceptance | EntryKind::DefectSettled => [No, Yes, Yes, Yes],
            EntryKind::Release | EntryKind::DenyBirth | EntryKind::Reopen => [No, Yes, No, Yes],
            EntryKind::Strike => [OwnEntry, Yes, OwnEntry, Yes],
            _ => [Yes, Yes, Yes, Yes],
        };
        assert_eq!(row, want, "{}", kind.name());
        assert_eq!(EntryKind::from_name(kind.name()), Some(kind));
    }
}

/// What a hand has done may wait in a browser for the server; what somebody decides needs its answer at once.
#[test]
fn what_may_wait_in_a_browser() {
    let waits: Vec<&str> = EntryKind::VARIANTS.iter().copied().filter(|k| k.waits_as().is_some()).map(LedgerKind::name).collect();
    assert_eq!(
        waits,
        [
            "conditions",
            "guards",
            "take_lot",
            "tick",
            "pour",
            "combine",
            "stirred",
            "pot_temperature",
            "choose_rig",
            "set_up",
            "set_step",
            "cup_run",
            "flow_catch",
            "ratio_check",
            "whole_run",
            "bond_test",
            "start_spraying",
            "pass",
            "pass_look",
            "happening",
            "comb",
            "film_look",
            "close_charge",
            "transfer",
            "fill",
            "ready_fill",
            "flush",
            "pieces_done",
            "stage_look",
            "gauge_bare",
            "gauge_foil",
            "gauge_read",
            "defect_seen",
            "note"
        ]
    );
    // Two kinds of one name in the list of what waits could not be told apart.
    let words: std::collections::BTreeSet<&str> = EntryKind::VARIANTS.iter().copied().filter_map(EntryKind::waits_as).collect();
    assert_eq!(words.len(), waits.len());
}

/// One committed payload per kind and version: it must parse for ever.
#[test]
fn fixtures_parse_for_ever() {
    let dir = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/fixtures");
    for kind in EntryKind::VARIANTS.iter().copied() {
        for version in 1..=kind.version() {
            let path = format!("{dir}/{}.v{version}.json", kind.name_at(version));
            let text = std::fs::read_to_string(&path).unwrap_or_else(|_| panic!("a fixture is missing: {path}"));
            let value: Value = serde_json::from_str(&text).unwrap();
            Payload::decode(kind, version, &value).unwrap_or_else(|e| panic!("{path}: {e}"));
            // Canonical text is a fixed point: hashing what was read gives what was hashed.
            let canonical = canonical::text(&value);
            assert_eq!(canonical::text(&serde_json::from_str(&canonical).unwrap()), canonical);
        }
    }
}

/// Every kind of entry says what it is in one line of the log: its figures, its pot, its place, in the reader's units.
#[test]
fn each_kind_says_itself_in_one_line() {
    let dir = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/fixtures");
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1673.0 })).unwrap();
    let record = book.record();
    let mut names: Vec<String> =
        std::fs::read_dir(dir).unwrap().map(|file| file.unwrap().file_name().into_string().unwrap()).collect();
    names.retain(|name| name.ends_with(".json"));
    names.sort();
    let lines: Vec<String> = names
        .iter()
        .map(|name| {
            let (kind, version) = name.split_once(".v").unwrap();
            let payload = std::fs::read_to_string(format!("{dir}/{name}")).unwrap();
            let version = version[..1].parse().unwrap();
            let said =
                Payload::decode(EntryKind::from_name(kind).unwrap(), version, &serde_json::from_str(&payload).unwrap()).unwrap();
            let words = record.words(&said, Prefs::METRIC).replace('\u{a0}', " ");
            assert!(!words.is_empty() && !words.contains('_'), "{name}: {words}");
            format!("{}: {words}", name.trim_end_matches(".json"))
        })
        .collect();
    insta::assert_snapshot!("lines", lines.join("\n"));
}

/// A kind that was renamed is read under both names, and an entry is hashed under the one it was written with.
#[test]
fn a_renamed_kind_keeps_the_hash_of_what_was_written() {
    let kind = EntryKind::from_name("catch").unwrap();
    assert_eq!((kind, EntryKind::from_name("ratio_check")), (EntryKind::RatioCheck, Some(EntryKind::RatioCheck)));
    assert_eq!((kind.name(), kind.name_at(1), kind.name_at(2), kind.version()), ("ratio_check", "catch", "ratio_check", 2));
    for other in EntryKind::VARIANTS.iter().copied().filter(|k| *k != EntryKind::RatioCheck) {
        assert_eq!((other.version(), other.name_at(1)), (1, other.name()));
    }
    assert!(Payload::decode(kind, 3, &json!({})).is_err(), "a version nobody ever wrote");
    // A hash taken before the renaming, of the entry as it was then.
    let entry = Entry {
        id: Uuid::from_u128(7),
        seq: 1,
        kind,
        version: 1,
        payload: json!({ "a_g": 50.0 }),
        who: Uuid::from_u128(8),
        by: String::new(),
        happened: "2026-03-02T10:00:00Z".parse().unwrap(),
        arrived: "2026-03-02T10:00:01Z".parse().unwrap(),
        hash: String::new(),
    };
    let (_, hash) = canonical::seal_entry(Uuid::from_u128(9), &entry, "");
    assert_eq!(hash, "11b904f3888b6aea2e2ac8b5924417164a77ad69ce7a915143e390a1ae8298ce");
}

/// Fields added within a version: their fixtures are named `kind.vN.what.json`.
#[test]
fn fixtures_of_added_fields_parse_for_ever() {
    let dir = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/fixtures");
    let mut seen = 0;
    for file in std::fs::read_dir(dir).unwrap() {
        let name = file.unwrap().file_name().into_string().unwrap();
        let parts: Vec<&str> = name.split('.').collect();
        let [kind, version, _, "json"] = parts.as_slice() else { continue };
        let value: Value = serde_json::from_str(&std::fs::read_to_string(format!("{dir}/{name}")).unwrap()).unwrap();
        let version = version[1..].parse().unwrap();
        Payload::decode(EntryKind::from_name(kind).unwrap(), version, &value).unwrap_or_else(|e| panic!("{name}: {e}"));
        seen += 1;
    }
    assert!(seen >= 4, "{seen}");
}

/// Kinds of the other books were never renamed: each is written and hashed under its own name, and all are sent from outside
/// but those that are halves of one act.
#[test]
fn kinds_of_the_other_books_keep_their_names() {
    use level_keel_core::rig_book::RigEntryKind;
    use level_keel_core::stores::LotKind;
    use level_keel_core::stores::place::PlaceKind;
    fn plain<K: LedgerKind + VariantArray>() -> Vec<&'static str> {
        for kind in K::VARIANTS {
            assert_eq!((kind.name_at(1), K::from_name(kind.name())), (kind.name(), Some(*kind)));
        }
        K::VARIANTS.iter().filter(|k| k.written_inside().is_some()).map(|k| k.name()).collect()
    }
    let inside: Vec<&str> = EntryKind::VARIANTS.iter().filter(|k| k.written_inside().is_some()).map(|k| k.name()).collect();
    assert_eq!(inside, ["begin", "hand_over", "take_over"]);
    assert_eq!(plain::<LotKind>(), [""; 0]);
    assert_eq!(plain::<RigEntryKind>(), ["changed"]);
    assert_eq!(plain::<PlaceKind>(), ["changed"]);
}

/// A line is flagged as late when its entry came more than two minutes after what it tells of.
#[test]
fn a_line_that_came_late_says_so() {
    let late = |seconds: i64| {
        let mut book = Book::begun(sheet());
        let happened = book.now;
        book.now += jiff::SignedDuration::from_secs(seconds);
        let id = Uuid::from_u128(500);
        let payload = json!({ "text": "Wind from the door." });
        let writer = writer(Role::Applicator);
        let asked = Asking { writer: &writer, beside: &Beside::default(), now: book.now };
        book.kept.write(Wanted { id, kind: EntryKind::Note, payload, happened }, "Ansa", &asked).unwrap();
        book.record().log.line(id).unwrap().late
    };
    assert_eq!([late(0), late(120), late(121)], [false, false, true]);
}

/// A remark may be left blank; one that is there is bounded.
#[test]
fn a_remark_may_be_left_out() {
    let mut book = Book::begun(sheet());
    book.ready();
    for text in [Value::Null, json!(""), json!("  "), json!("sheen even")] {
        book.write(EntryKind::FilmLook, json!({ "good": true, "text": text })).unwrap();
    }
    let long = book.write(EntryKind::FilmLook, json!({ "good": true, "text": "x".repeat(5_000) })).unwrap_err();
    assert_eq!(long.field.as_deref(), Some("text"));
}
