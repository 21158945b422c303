//! What the book refuses, each rule by its code: with the field it belongs to, and nothing written.

use level_keel_core::batch::entries::{HandOver, TakeOver, take};
use level_keel_core::batch::{EntryKind, Record};
use level_keel_core::book::InMemory;
use level_keel_core::limits::{self, check_name, check_text};
use level_keel_core::people::{Role, check_pin};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::{Refusal, Why};
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

/// What was said, and that the book is as long as before.
#[track_caller]
fn no(book: &mut Book, role: Role, kind: EntryKind, payload: Value) -> (String, String) {
    let before = book.entries.len();
    let refusal = book.write_as(role, kind, payload.clone()).expect_err(&format!("{kind:?} {payload} must be refused"));
    assert_eq!(book.entries.len(), before);
    assert!(refusal.text.ends_with(['.', '?']) || refusal.why == Why::Forbidden, "{}", refusal.text);
    (refusal.code, refusal.field.unwrap_or_default())
}

fn open(kind: &str) -> Value {
    json!({ "charge": POT, "no": 1, "kind": kind, "wanted_ml": 1700.0 })
}

#[test]
fn a_batch_is_begun_once_and_before_all_else() {
    let mut book = Book::begun(sheet());
    let begin = book.entries[0].payload.clone();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Begin, begin).0, "begun-already");
    let mut empty = Book { kept: InMemory::new(Uuid::from_u128(6)), now: book.now };
    for (kind, payload) in [
        (EntryKind::Note, json!({ "text": "first" })),
        (EntryKind::Guards, json!({ "hazards": [] })),
        (EntryKind::Sign, json!({ "seen_seq": 0 })),
    ] {
        assert_eq!(no(&mut empty, Role::Lead, kind, payload).0, "not-begun");
    }
}

#[test]
fn a_pot_is_one_of_this_batch_open_and_of_the_sheets_kind() {
    let mut book = Book::begun(sheet());
    book.ready();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::OpenCharge, open("at_gun")), ("wrong-charge".into(), "kind".into()));
    let nowhere = Uuid::from_u128(99);
    for (kind, payload) in [
        (EntryKind::Combine, json!({ "charge": nowhere })),
        (EntryKind::Stirred, json!({ "charge": nowhere })),
        (EntryKind::StartSpraying, json!({ "charge": nowhere })),
        (EntryKind::Fill, json!({ "charge": nowhere, "into": "gun_cup", "fill_ml": 500.0 })),
        (EntryKind::Divide, json!({ "charge": nowhere, "part_ml": 500.0, "new_charge": Uuid::from_u128(8), "no": 2 })),
        (EntryKind::CloseCharge, json!({ "charge": nowhere, "how": "emptied" })),
    ] {
        assert_eq!(no(&mut book, Role::Applicator, kind, payload).0, "unknown-charge", "{kind:?}");
    }
    book.mixed(328.0);
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::OpenCharge, open("pot")).0, "charge-exists");
    book.sprayed();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::StartSpraying, on()).0, "charge-closed");
    assert_eq!(
        no(&mut book, Role::Applicator, EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).0,
        "charge-closed"
    );
}

#[test]
fn pours_stand_in_the_sheet_and_a_scale_does_not_fall() {
    let pour = |component: &str, g: f64| json!({ "charge": POT, "component": component, "reading_g": g, "resolution_g": 1.0 });
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, open("pot")).unwrap();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Combine, on()).0, "no-base");
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Stirred, on()).0, "not-combined");
    book.pour("base", 1900.0).unwrap();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Pour, pour("base", 1800.0)), ("scale-fell".into(), "reading_g".into()));
    // Tared it may begin anew; a division of the scale is no fall.
    book.pour("base", 1899.0).unwrap();
    let mut tared = pour("base", 40.0);
    tared["tared"] = json!(true);
    book.write(EntryKind::Pour, tared).unwrap();
    assert_eq!(
        no(&mut book, Role::Applicator, EntryKind::Pour, pour("additive1", 2000.0)),
        ("no-additive".into(), "component".into())
    );
    for (field, value) in [("reading_g", json!(-1.0)), ("reading_g", json!(2e6)), ("resolution_g", json!(0.0))] {
        let mut bad = pour("base", 1950.0);
        bad[field] = value;
        assert_eq!(no(&mut book, Role::Applicator, EntryKind::Pour, bad), ("outside-limits".into(), field.into()));
    }
    // Mixed at the gun there is no pot to pour into.
    let gun = with(
        sheet(),
        json!({ "charge": "at_gun", "basis": "percent_by_weight", "ratio": null, "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 }),
    );
    let mut at_gun = Book::begun(gun);
    at_gun.ready();
    at_gun.write(EntryKind::OpenCharge, open("at_gun")).unwrap();
    assert_eq!(no(&mut at_gun, Role::Applicator, EntryKind::Pour, pour("base", 900.0)).0, "at-gun");
}

#[test]
fn nothing_is_sprayed_from_an_empty_or_unhardened_pot() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, open("pot")).unwrap();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::StartSpraying, on()).0, "empty-pot");
    book.pour("base", 1900.0).unwrap();
    let refusal = book.write(EntryKind::StartSpraying, on()).unwrap_err();
    assert!(refusal.why == Why::Hold, "{refusal:?}");
    book.write(EntryKind::Combine, on()).unwrap();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Combine, on()).0, "combined-already");
}

#[test]
fn passes_and_combs_name_zones_of_the_part() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    let nowhere = Uuid::from_u128(77);
    let pass = json!({ "charge": POT, "zones": [nowhere], "used_ml": 100.0 });
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Pass, pass), ("unknown-zone".into(), "zones".into()));
    let teeth: Vec<f64> = (1..12).map(|t| f64::from(t) * MIL).collect();
    let comb = |zone: Value, tooth: f64| json!({ "zone": zone, "tooth_um": tooth, "teeth_um": teeth, "of": "total" });
    assert_eq!(
        no(&mut book, Role::Applicator, EntryKind::Comb, comb(json!(nowhere), 4.0 * MIL)),
        ("unknown-zone".into(), "zone".into())
    );
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Comb, comb(json!(null), 4.5 * MIL)).0, "not-on-comb");
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Comb, comb(json!(null), 11.0 * MIL)).0, "comb-too-short");
    let answer = json!({ "entry": nowhere, "code": "sprayed-spent", "text": "why" });
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Answer, answer), ("unknown-deviation".into(), "entry".into()));
}

/// A pot is opened for an amount, and its temperature is of a pot that is there.
#[test]
fn a_pot_is_of_something_and_its_temperature_of_a_pot() {
    let mut book = Book::begun(sheet());
    book.ready();
    for ml in [0.0, -5.0, f64::from(u32::MAX)] {
        let open = json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": ml });
        assert_eq!(no(&mut book, Role::Applicator, EntryKind::OpenCharge, open), ("outside-limits".into(), "wanted_ml".into()));
    }
    let warm = json!({ "charge": POT, "temp_c": 21.0 });
    let (code, _) = no(&mut book, Role::Applicator, EntryKind::PotTemperature, warm.clone());
    assert_eq!(code, "unknown-charge");
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 900.0 })).unwrap();
    book.write(EntryKind::PotTemperature, warm).unwrap();
}

#[test]
fn what_is_not_held_is_not_released_and_what_is_not_signed_not_accepted() {
    let mut book = Book::begun(sheet());
    book.ready();
    let head = book.record().log.head_seq;
    let release = |seq: i64, reason: &str| json!({ "gate": "conditions", "reason": reason, "seen_seq": seq });
    assert_eq!(no(&mut book, Role::Lead, EntryKind::Release, release(head, "dry by touch")).0, "nothing-held");
    assert_eq!(no(&mut book, Role::Lead, EntryKind::Release, release(head - 1, "dry by touch")).0, "seen-older");
    assert_eq!(no(&mut book, Role::Lead, EntryKind::Release, release(head, "  ")), ("missing".into(), "reason".into()));
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Release, release(head, "dry by touch")).0, "not-your-role");
    let seen = book.seen();
    assert_eq!(no(&mut book, Role::Inspector, EntryKind::Accept, seen).0, "not-signed");
    assert_eq!(no(&mut book, Role::Lead, EntryKind::Reopen, json!({ "reason": "a wrong lot" })).0, "not-signed");
    let seen = book.seen();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Sign, seen).0, "nothing-sprayed");
}

#[test]
fn strikes_reach_entries_that_stand_and_that_may_be_struck() {
    let mut book = Book::begun(sheet());
    let note = book.write(EntryKind::Note, json!({ "text": "a wasp in the booth" })).unwrap();
    let strike = |entry: Uuid| json!({ "entry": entry, "reason": "mis-typed" });
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Strike, strike(Uuid::from_u128(5))).0, "unknown-entry");
    let begin = book.entries[0].id;
    assert_eq!(no(&mut book, Role::Lead, EntryKind::Strike, strike(begin)).0, "not-strikable");
    // Another's entry: a lead, and nobody else.
    let leads = book.write_as(Role::Lead, EntryKind::Note, json!({ "text": "seen" })).unwrap();
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::Strike, strike(leads)).0, "not-your-role");
    let struck = book.write(EntryKind::Strike, strike(note)).unwrap();
    assert_eq!(no(&mut book, Role::Lead, EntryKind::Strike, strike(note)).0, "struck-already");
    assert_eq!(no(&mut book, Role::Lead, EntryKind::Strike, strike(struck)).0, "not-strikable");
}

#[test]
fn items_are_ticked_the_way_they_are() {
    let items = json!([
        { "key": "wiped", "group": "surface", "text": "Wiped", "what": { "kind": "tick" }, "before": "spray" },
        { "key": "rest", "group": "material", "text": "Rest", "what": { "kind": "timer", "least_s": 600.0 }, "before": "combine" },
        { "key": "profile", "group": "surface", "text": "Profile read", "what": { "kind": "profile" }, "before": "spray" },
        { "key": "panel", "group": "mock_up", "text": "Panel approved", "what": { "kind": "approve" }, "before": "spray" },
        { "key": "last", "group": "surface", "text": "Blown off", "what": { "kind": "tick" }, "after": "wiped", "before": "spray" }
    ]);
    let mut book = Book::begun_with(sheet(), json!({ "items": items }));
    let tick = |item: &str, did: &str, more: Value| with(json!({ "item": item, "did": did }), more);
    let hand = Role::Applicator;
    for (role, payload, code, field) in [
        (hand, tick("waxed", "done", json!({})), "unknown-item", "item"),
        (hand, tick("wiped", "start", json!({})), "wrong-tick", "did"),
        (hand, tick("rest", "done", json!({})), "wrong-tick", "did"),
        (hand, tick("rest", "stop", json!({})), "not-running", ""),
        (hand, tick("profile", "done", json!({})), "missing", "read_um"),
        (hand, tick("profile", "done", json!({ "read_um": 0.1 })), "outside-limits", "read_um"),
        (hand, tick("panel", "done", json!({ "text": "sample 4" })), "not-your-role", ""),
        (Role::Lead, tick("panel", "done", json!({})), "missing", "text"),
        (hand, tick("last", "done", json!({})), "not-yet", ""),
    ] {
        assert_eq!(no(&mut book, role, EntryKind::Tick, payload.clone()), (code.into(), field.into()), "{payload}");
    }
    book.write(EntryKind::Tick, tick("wiped", "done", json!({}))).unwrap();
    book.write(EntryKind::Tick, tick("last", "done", json!({}))).unwrap();
    book.write(EntryKind::Tick, tick("rest", "start", json!({}))).unwrap();
    book.pass(11.0).write(EntryKind::Tick, tick("rest", "stop", json!({}))).unwrap();
    book.write_as(Role::Lead, EntryKind::Tick, tick("panel", "done", json!({ "text": "sample 4" }))).unwrap();
}

#[test]
fn lots_are_of_this_product() {
    let mut book = Book::begun(with(sheet(), json!({ "has_hardener": false })));
    let lot = json!({ "id": Uuid::from_u128(60), "code": "H-1" });
    let payload = json!({ "component": "hardener", "lot": lot });
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::TakeLot, payload), ("no-hardener".into(), "component".into()));
}

#[test]
fn a_catch_and_a_set_up_say_what_is_wrong_with_them() {
    let mut book = Book::begun(sheet());
    book.ready();
    let flow = |more: Value| with(json!({ "pot_kpa": 70.0, "caught_watch_s": 60.0 }), more);
    for (payload, code, field) in [
        (flow(json!({})), "missing", "caught_g"),
        (flow(json!({ "caught_g": 500.0, "caught_ml": 400.0 })), "one-of-two", "caught_ml"),
        (flow(json!({ "caught_g": 0.0 })), "nothing-caught", "caught_g"),
        (flow(json!({ "caught_ml": 400.0, "caught_watch_s": 0.0 })), "outside-limits", "caught_watch_s"),
        (flow(json!({ "caught_ml": 400.0 })), "no-rig", ""),
    ] {
        assert_eq!(
            no(&mut book, Role::Applicator, EntryKind::FlowCatch, payload.clone()),
            (code.into(), field.into()),
            "{payload}"
        );
    }
    for (payload, code, field) in [
        (json!({ "pot_kpa": -3.0 }), "outside-limits", "pot_kpa"),
        (json!({ "pot_kpa": 1200.0 }), "outside-limits", "pot_kpa"),
        (json!({ "pot_kpa": 70.0, "stream_mm": 9000.0 }), "outside-limits", "stream_mm"),
        (json!({ "pot_kpa": 70.0, "fan_turns_count": 40.0 }), "outside-limits", "fan_turns_count"),
        (json!({ "pot_kpa": 70.0, "run_cup_s": 30.0 }), "missing", "cup"),
        (json!({ "pot_kpa": 70.0, "texture_grit_count": 1.0 }), "outside-limits", "texture_grit_count"),
    ] {
        assert_eq!(no(&mut book, Role::Applicator, EntryKind::SetUp, payload.clone()), (code.into(), field.into()), "{payload}");
    }
    assert_eq!(
        no(&mut book, Role::Applicator, EntryKind::SetStep, json!({ "step": "dance" })),
        ("unknown".into(), "step".into())
    );
    assert_eq!(
        no(&mut book, Role::Applicator, EntryKind::ChooseRig, json!({ "rig": Uuid::nil() })),
        ("missing".into(), "rig".into())
    );
    let two = json!({ "charge": POT, "a_g": 12.4, "b_g": 0.0, "resolution_g": 0.1 });
    assert_eq!(no(&mut book, Role::Applicator, EntryKind::RatioCheck, two), ("nothing-caught".into(), "b_g".into()));
}

/// What one batch hands another: the same version of the same sheet, thinned alike, a live pot.
#[test]
fn a_remainder_goes_only_where_it_belongs() {
    let mut source =
        Book::begun(with(sheet(), json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 })));
    source.ready();
    source.mixed(328.0);
    let begun = |with: Value| Book::begun_with(source.entries[0].payload["sheet"].clone(), with);
    let here = source.record();
    let (from, to) = (Uuid::from_u128(40), Uuid::from_u128(41));
    let wanted = |charge: Uuid, to_batch: Uuid| -> HandOver {
        serde_json::from_value(json!({ "charge": charge, "to_batch": to_batch })).unwrap()
    };
    let code = |r: Result<_, Refusal>| r.map(|_: TakeOver| ()).unwrap_err().code;
    let alike = begun(json!({})).record();
    assert_eq!(code(take(&here, &alike, &wanted(POT, from), from, to)), "other-sheet", "not to itself");
    let other = begun(json!({ "sheet_version": Uuid::from_u128(2) })).record();
    assert_eq!(code(take(&here, &other, &wanted(POT, to), from, to)), "other-sheet");
    let thinned = begun(json!({ "thinner_pct": 5.0 })).record();
    assert_eq!(code(take(&here, &thinned, &wanted(POT, to), from, to)), "other-thinner");
    assert_eq!(code(take(&here, &alike, &wanted(Uuid::from_u128(3), to), from, to)), "unknown-charge");
    assert_eq!(code(take(&Record::default(), &alike, &wanted(POT, to), from, to)), "not-begun");
    let taken = take(&here, &alike, &wanted(POT, to), from, Uuid::from_u128(50)).unwrap();
    // All of it is left: 1,900 g at 1.42 and 328 g at 0.98 kg/L, worked by hand.
    assert!((taken.ml - (1900.0 / 1.42 + 328.0 / 0.98)).abs() < 1e-6, "{}", taken.ml);
    assert!(taken.combined.is_some() && taken.pours.len() == 2);
}

#[test]
fn texts_and_pins_of_sense() {
    assert_eq!(check_text("text", "  kept  ", 10).unwrap(), "kept");
    for (text, code) in [("", "missing"), (" \t ", "missing"), ("elevenchars", "too-long"), ("a\u{7}b", "not-text")] {
        assert_eq!(check_text("text", text, 10).unwrap_err().code, code, "{text:?}");
    }
    // Characters are counted, not bytes; what is written from right to left is text too.
    assert!(check_text("text", "ⰰⰱⰲⰳⰴⰵⰶⰷⰸⰹ", 10).is_ok() && check_text("text", "שלום", 10).is_ok());
    assert_eq!(check_name("name", &"n".repeat(300)).unwrap_err().code, "too-long");
    for pin in ["1111", "123", "1234567890123", "12a4", "", "١٢٣٤"] {
        assert_eq!(check_pin(pin, 4).unwrap_err().code, "weak-pin", "{pin}");
    }
    assert!(check_pin("1357", 4).is_ok() && check_pin("1357", 0).is_ok());
    // As many digits as the shop says, six where it says nothing, and never fewer than four or more than twelve.
    for (pin, least, fits) in [("58301", 6, false), ("583017", 6, true), ("583", 0, false), ("583017294608", 99, true)] {
        assert_eq!(check_pin(pin, least).is_ok(), fits, "{pin} of {least}");
    }
    // None of those that are tried first.
    for pin in ["123456", "890123", "654321", "210987", "121212", "583583", "5835835", "000000"] {
        assert_eq!(check_pin(pin, 4).unwrap_err().code, "weak-pin", "{pin}");
    }
    for name in ["a\u{202e}b", "a\u{200b}b", "a\u{2066}b", "a\u{feff}b", "a\u{2028}b"] {
        assert_eq!(check_name("name", name).unwrap_err().code, "not-text", "{name:?}");
        assert!(check_text("text", name, 2000).is_ok(), "a note says what was written");
    }
}

/// Each bound refuses what lies a hair outside, what is no number, and keeps its own ends.
#[test]
fn bounds_hold_at_both_ends() {
    for limit in [
        limits::DENSITY,
        limits::RATIO,
        limits::SOLIDS,
        limits::THINNER,
        limits::TEMPERATURE,
        limits::HUMIDITY,
        limits::AREA,
        limits::FILM,
        limits::HOSE_BORE,
        limits::LINE_LENGTH,
        limits::NOZZLE,
        limits::POT_PRESSURE,
        limits::ATOMIZING_PRESSURE,
        limits::GAUGE,
        limits::STREAM,
        limits::VISCOSITY,
        limits::FLUID_FLOW,
        limits::FAN,
        limits::OVERLAP,
        limits::GUN_SPEED,
        limits::TURNS,
        limits::RATING,
        limits::AIR_FLOW,
        limits::AIR_PRESSURE,
        limits::CATCH_TIME,
        limits::SCALE_READING,
    ] {
        let at = |v: f64| limit.check("a_field", v, Prefs::METRIC);
        assert!(at(limit.min).is_ok() && at(limit.max).is_ok(), "{}", limit.name);
        for bad in [limit.min - 1e-3, limit.max * 1.001 + 1e-3, f64::NAN, f64::INFINITY, f64::NEG_INFINITY] {
            let refusal = at(bad).unwrap_err();
            assert_eq!(
                (refusal.code.as_str(), refusal.field.as_deref()),
                ("outside-limits", Some("a_field")),
                "{} {bad}",
                limit.name
            );
            assert!(refusal.text.starts_with(limit.name), "{}", refusal.text);
        }
    }
}
