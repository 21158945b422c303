//! Working alone: one signature, lists cut to what can spoil or hurt, lots nobody knows noted; a stop stays a stop.

use level_keel_core::batch::card::card;
use level_keel_core::batch::gates::GateName;
use level_keel_core::batch::{Case, EntryKind};
use level_keel_core::book::{Asking, Wanted};
use level_keel_core::lists::{Choosing, ReadyLists, Substrate};
use level_keel_core::people::{Role, Writer};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::{Refusal, Why};
use level_keel_core::sheets::Sheet;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;
use crate::mix::seen;

fn of_lots(alone: bool, changes: Value) -> Book {
    let item = json!([{ "key": "lot_base", "group": "material", "text": "Base lot", "what": { "kind": "lot", "component": "base" }, "before": "combine" }]);
    let mut sheet = sheet();
    sheet["film_proof"] = json!("not_asked");
    for (field, value) in changes.as_object().unwrap() {
        sheet[field] = value.clone();
    }
    let mut book = Book::begun_with(sheet, json!({ "items": item, "alone": alone }));
    book.ready();
    book
}

fn take(book: &mut Book, stand: Value) -> Result<Uuid, Refusal> {
    let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1", "stand": stand });
    book.write(EntryKind::TakeLot, json!({ "component": "base", "lot": lot }))
}

fn lot_holds(book: &Book) -> Vec<String> {
    seen(book).holds.iter().filter(|h| h.gate == GateName::Lots).map(|h| h.trouble.clone()).collect()
}

/// What is only not known of a lot holds a crew, and is noted for who works alone; what is known to be wrong holds both, and a lot
/// past its date or in quarantine is refused to both.
#[test]
fn a_lot_nobody_knows_is_noted_and_a_stop_stays() {
    for (stand, changes, trouble) in [
        (json!({ "received": false }), json!({}), "unknown-lot"),
        (json!({ "received": true }), json!({}), "undated-lot"),
        (json!({ "received": true, "expires_at": "2027-01-01T00:00:00Z" }), json!({ "colour": "grey" }), "colour-unknown"),
    ] {
        let holds = |alone: bool| {
            let mut book = of_lots(alone, changes.clone());
            take(&mut book, stand.clone()).unwrap();
            let record = book.record();
            let noted = card(&Case::alone(&record), seen(&book), Prefs::METRIC).noted;
            (lot_holds(&book), noted)
        };
        assert_eq!(holds(false).0, [trouble]);
        assert!(holds(false).1.is_empty());
        let (held, noted) = holds(true);
        assert_eq!(held, [""; 0], "{trouble}");
        assert!(noted[0].starts_with("Worked alone: no second signature") && noted[1].contains("Lot P-1"), "{noted:?}");
    }
    let dented = json!({ "received": true, "expires_at": "2027-01-01T00:00:00Z", "damaged": "lid dented" });
    let mut alone = of_lots(true, json!({}));
    take(&mut alone, dented).unwrap();
    assert_eq!(lot_holds(&alone), ["damaged-lot"]);
    for stop in [
        json!({ "received": true, "expires_at": "2026-05-01T00:00:00Z" }),
        json!({ "received": true, "expires_at": "2027-01-01T00:00:00Z", "quarantined": "lumps" }),
        json!({ "received": true, "belongs_to": "the finish" }),
    ] {
        let refused = take(&mut of_lots(true, json!({})), stop).unwrap_err();
        assert_eq!(refused.why, Why::Stop, "{}", refused.text);
    }
}

fn signed_by(role: Role, works_alone: bool, begun_alone: bool) -> (bool, bool) {
    let mut book = of_lots(begun_alone, json!({}));
    take(&mut book, json!({ "received": true, "expires_at": "2027-01-01T00:00:00Z" })).unwrap();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 100.0 })).unwrap();
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    let writer = Writer { works_alone, ..writer(role) };
    let (payload, now, beside) = (book.seen(), book.now, Default::default());
    let wanted = Wanted { id: Uuid::from_u128(9000), kind: EntryKind::Sign, payload, happened: now };
    book.kept.write(wanted, "Someone", &Asking { writer: &writer, beside: &beside, now }).unwrap();
    let record = book.record();
    (record.signature.is_some(), record.acceptance.is_some())
}

/// One signature closes the card where the shop is one person's, was so when the work was begun, and they may accept.
#[test]
fn one_signature_closes_the_card() {
    assert_eq!(signed_by(Role::Owner, true, true), (true, true));
    assert_eq!(signed_by(Role::Lead, true, true), (true, true));
    assert_eq!(signed_by(Role::Applicator, true, true), (true, false), "an applicator accepts nothing");
    assert_eq!(signed_by(Role::Owner, false, true), (true, false), "a crew works there now");
    assert_eq!(signed_by(Role::Owner, true, false), (true, false), "a crew began it");
}

/// The lists of who works alone keep what can spoil or hurt.
#[test]
fn lists_are_cut_to_what_can_spoil_or_hurt() {
    let mut full = sheet();
    for (field, value) in [
        ("certificate_needed", json!(true)),
        ("strain_um", json!(190.0)),
        ("gun_filter_um", json!(125.0)),
        ("mock_up_over_m2", json!(9.0)),
        ("excludes", json!("standing water")),
    ] {
        full[field] = value;
    }
    let full: Sheet = serde_json::from_value(full).unwrap();
    let keys = |alone: bool| {
        let choosing = Choosing {
            sheet: &full,
            substrate: Some(Substrate::Wood),
            method: None,
            area_m2: 12.0,
            thinner_pct: 5.0,
            alone,
            repair: false,
        };
        choosing.choose(&ReadyLists::usual().items).into_iter().map(|i| i.key).collect::<Vec<_>>()
    };
    let (crew, alone) = (keys(false), keys(true));
    let left_out: Vec<&str> = crew.iter().filter(|k| !alone.contains(k)).map(String::as_str).collect();
    let paper = ["lot_thinner", "certificate", "strainer", "mock_up", "fittings_off"];
    assert_eq!(left_out, paper);
    for kept in [
        "lot_base",
        "lot_hardener",
        "containers",
        "stir_base",
        "stir_hardener",
        "gun_filter",
        "nibs",
        "rig_sound",
        "water_traps",
        "earthed",
        "exhaust",
        "masked",
    ] {
        assert!(alone.iter().any(|k| k == kept), "{kept}");
    }
    assert!(alone.iter().any(|k| k == "excluded_service") && alone.iter().any(|k| k == "blown_wiped"));
}
