//! The figures of a sheet do something: the rig is held against them, steps are waited for, laps begin with tip and overlap.

use level_keel_core::atomizing::classes::GunClass;
use level_keel_core::batch::EntryKind;
use level_keel_core::batch::beside::Beside;
use level_keel_core::batch::gates::GateName;
use level_keel_core::film::laps::FanProfile;
use level_keel_core::film::speed::{LapKnown, usual_lap};
use level_keel_core::lists::ReadyLists;
use level_keel_core::quantity::Prefs;
use level_keel_core::rigs::Rig;
use level_keel_core::sheets::{OverlapSchool, Sheet};
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;
use crate::mix::seen;
use crate::set_by_gun::{cup_rig, of_kind};

fn parsed(changes: Value) -> Sheet {
    serde_json::from_value(with(sheet(), changes)).unwrap()
}

/// Which figures a rig is short of, and whether it is known to be.
fn short(rig: &Value, changes: Value) -> Vec<(&'static str, bool)> {
    let rig: Rig = serde_json::from_value(rig.clone()).unwrap();
    rig.short_of(&parsed(changes), Prefs::METRIC).into_iter().map(|s| (s.item, s.known)).collect()
}

/// The pot has a nozzle of 1.8 mm, hoses of 9.525 and 7.94 mm, a vessel of 80 psi, two regulators and no shut-off.
#[test]
fn a_rig_is_held_against_each_figure_of_the_sheet() {
    let pot = pot_rig();
    assert_eq!(short(&pot, json!({})), [], "a sheet that asks nothing");
    let enough = json!({ "tip_min_um": 1800.0, "least_hose_bore_mm": 9.525, "least_air_bore_mm": 7.94,
        "least_rating_kpa": 80.0 * PSI, "least_two_regulators": true });
    assert_eq!(short(&pot, enough), [], "as much as is asked is enough");
    for (asked, item) in [
        (json!({ "tip_min_um": 1810.0 }), "nozzle"),
        (json!({ "least_hose_bore_mm": 12.7 }), "fluid-hose"),
        (json!({ "least_air_bore_mm": 8.0 }), "air-hose"),
        (json!({ "least_rating_kpa": 110.0 * PSI }), "rating"),
        (json!({ "least_shut_off": true }), "shut-off"),
    ] {
        assert_eq!(short(&pot, asked), [(item, true)]);
    }
    assert_eq!(short(&with(pot.clone(), json!({ "two_regulators": false })), json!({ "least_two_regulators": true })).len(), 1);
    // What nobody wrote down is not taken to be there.
    // The cap is compared by what is stamped on it.
    let cap = |stamped: Value| short(&with(pot.clone(), json!({ "cap": stamped })), json!({ "least_cap": "C 12" }));
    assert_eq!(cap(json!(" c 12 ")), []);
    assert_eq!(cap(json!("C 13")), [("cap", true)]);
    assert_eq!(cap(json!(null)), [("cap", false)]);
    assert_eq!(short(&with(pot, json!({ "air_bore_mm": null })), json!({ "least_air_bore_mm": 6.0 })), [("air-hose", false)]);
    // A gun's own cup has no fluid hose and no vessel; its nozzle counts.
    let vessel =
        json!({ "least_hose_bore_mm": 12.7, "least_rating_kpa": 552.0, "least_two_regulators": true, "least_shut_off": true });
    assert_eq!(short(&cup_rig(json!({})), vessel), []);
    assert_eq!(short(&cup_rig(json!({})), json!({ "tip_min_um": 1400.0 })), [("nozzle", true)]);
    // Tip 517 is 0.017 in, 431.8 µm.
    let airless = of_kind("airless", json!({ "tip_code": "517" }));
    assert_eq!(short(&airless, json!({ "tip_min_um": 431.0 })), []);
    assert_eq!(short(&airless, json!({ "tip_min_um": 440.0 })), [("nozzle", true)]);
    assert_eq!(short(&of_kind("airless", json!({})), json!({ "tip_min_um": 300.0 })), [("nozzle", false)]);
}

/// A rig that is less than the sheet asks holds spraying; so does none at all; a lead may release what is known.
#[test]
fn a_rig_short_of_the_sheet_holds_spraying() {
    let started = |changes: Value, method: Value, rig: Option<Value>| {
        let mut book = Book::begun_with(with(sheet(), changes), json!({ "method": method }));
        book.ready();
        book.mixed(328.0);
        if let Some(rig) = rig {
            book.write(EntryKind::ChooseRig, json!({ "rig": Uuid::from_u128(30), "fitted": rig })).unwrap();
        }
        let result = book.pass(25.0).write(EntryKind::StartSpraying, on());
        (result.map_err(|r| r.text), book)
    };
    let flake = || json!({ "tip_min_um": 2500.0 });
    let (refused, mut book) = started(flake(), json!("pot"), Some(pot_rig()));
    assert!(refused.unwrap_err().starts_with("The nozzle is 1.8\u{a0}mm; the sheet asks at least 2.5\u{a0}mm. Take another rig"));
    assert!(seen(&book).set.troubles.iter().any(|t| t.contains("at least 2.5")), "Set says it before any pressure");
    assert_eq!(seen(&book).stations[2].line, "rig short of the sheet");
    let release = json!({ "gate": "rig", "item": "nozzle", "reason": "a panel was sprayed with it", "seen_seq": book.record().log.head_seq });
    book.write_as(level_keel_core::people::Role::Lead, EntryKind::Release, release).unwrap();
    book.write(EntryKind::StartSpraying, on()).unwrap();
    assert!(started(flake(), json!("pot"), None).0.unwrap_err().contains("no rig is chosen"));
    assert!(started(flake(), json!("pot"), Some(with(pot_rig(), json!({ "nozzle_mm": 2.5 })))).0.is_ok());
    assert!(started(flake(), json!("brush"), None).0.is_ok(), "a brush has no nozzle");
    assert!(started(json!({}), json!("pot"), None).0.is_ok(), "a sheet that asks nothing of the rig");
    let holds = |book: &Book| seen(book).holds.iter().filter(|h| h.gate == GateName::Rig).count();
    assert_eq!(holds(&started(flake(), json!("pot"), Some(pot_rig())).1), 1);
}

/// Set opens on a rig that has what the sheet asks, though another sprayed this product last.
#[test]
fn set_opens_on_a_rig_that_has_enough() {
    let at_hand = |id: u128, nozzle_mm: f64, last: Option<i64>| {
        let rig = with(pot_rig(), json!({ "nozzle_mm": nozzle_mm, "name": format!("{nozzle_mm}") }));
        json!({ "id": Uuid::from_u128(id), "rig": rig, "last_number": last })
    };
    let proposed = |tip_min_um: Value, rigs: Vec<Value>| {
        let mut book = Book::begun(with(sheet(), json!({ "tip_min_um": tip_min_um })));
        book.ready();
        let rigs = rigs.into_iter().map(|r| serde_json::from_value(r).unwrap()).collect();
        let (record, beside) = (book.record(), Beside { rigs_at_hand: rigs, ..Beside::default() });
        let case = level_keel_core::batch::Case::new(&record, &beside);
        level_keel_core::batch::rig_proposed::rig_proposed(&case).map(|p| p.at_hand.rig.name.clone())
    };
    let both = || vec![at_hand(1, 1.8, Some(40)), at_hand(2, 2.5, None)];
    assert_eq!(proposed(json!(2500.0), both()).as_deref(), Some("2.5"));
    assert_eq!(proposed(Value::Null, both()).as_deref(), Some("1.8"), "the one it was sprayed with last");
    assert_eq!(proposed(json!(3000.0), both()).as_deref(), Some("1.8"), "none has enough: the one used last, and its hold");
}

fn of_steps() -> Value {
    with(
        sheet(),
        json!({ "film_proof": "not_asked", "steps": [
            { "name": "tack", "passes_count": 1.0, "wait_s": 600.0, "atomizing_kpa": 45.0 * PSI },
            { "name": "wet", "passes_count": 2.0, "atomizing_kpa": 50.0 * PSI }
        ] }),
    )
}

/// The step at hand says its pass and its air; a wet pass before the wait is over is named by how much, and kept.
#[test]
fn the_wait_between_steps_is_counted_and_named() {
    let mut book = Book::begun(of_steps());
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    let spray = |book: &Book| seen(book).spray;
    let next = |book: &Book| spray(book).board.next.map(|n| (n.title, n.line));
    let line = |step: &str, kpa: &str| format!("{step} · 152–305\u{a0}mm off · {kpa}\u{a0}kPa of air · edges first");
    assert_eq!(next(&book), Some(("Hull, pass 1 of 3".into(), line("tack", "310.3"))));
    let waits = |book: &Book| spray(book).board.zones[0].wait.as_ref().and_then(|w| w.earliest);
    assert_eq!(waits(&book), None);
    let pass = |book: &mut Book, step: &str| {
        book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 100.0, "step": step })).unwrap();
    };
    pass(&mut book, "tack");
    let tacked = book.now;
    assert_eq!(waits(&book).expect("a wait").duration_since(tacked).as_secs(), 600);
    assert_eq!(next(&book), Some(("Hull, pass 2 of 3".into(), line("wet", "344.7"))));
    book.pass(7.0);
    pass(&mut book, "wet");
    assert_eq!(spray(&book).passes[1].named, ["3\u{a0}min early on the one before"]);
    book.pass(3.0);
    pass(&mut book, "wet");
    assert!(spray(&book).passes[2].named.is_empty(), "between the passes of one step this sheet asks no wait");
    assert_eq!((waits(&book), next(&book)), (None, None), "all passes are on");
    assert!(spray(&book).passes[0].named.is_empty(), "the first waits for none");
}

/// Set shows each step as the sheet states it before any try, names an air that is another, and advises the step's own first.
#[test]
fn set_begins_with_the_air_of_the_step() {
    let set = |book: &Book| seen(book).set;
    let book = Book::with_rig(of_steps(), cup_rig(json!({ "class": "conventional" })));
    let steps = set(&book).steps;
    assert_eq!(steps.iter().map(|s| s.step.as_str()).collect::<Vec<_>>(), ["tack", "wet"]);
    assert_eq!((steps[0].sheet_says.as_str(), steps[1].sheet_says.as_str()), ("1 pass, then wait 10\u{a0}min", "2 passes"));
    assert!(set(&book).advice.unwrap().text.contains("310.3\u{a0}kPa of air (the sheet's, for tack)"));
    // No more than is printed on the gun.
    let printed = Book::with_rig(of_steps(), cup_rig(json!({ "class": "conventional", "printed_air_kpa": 40.0 * PSI })));
    let advice = set(&printed).advice.unwrap().text;
    assert!(advice.contains("275.8\u{a0}kPa of air (the sheet's 310") && advice.contains("over what is printed"), "{advice}");
    let other = |kpa: f64, at: &str| {
        let mut book = Book::with_rig(of_steps(), cup_rig(json!({ "class": "conventional" })));
        book.write(EntryKind::SetUp, json!({ "atomizing_kpa": kpa, "air_at": at, "step": "Tack" })).unwrap();
        set(&book).steps[0].other_air
    };
    assert!(!other(45.0 * PSI * 1.099, "gun") && other(45.0 * PSI * 1.101, "gun") && other(45.0 * PSI * 0.899, "gun"));
    assert!(!other(60.0 * PSI, "wall"), "at the wall it is another figure");
}

/// A 10 in tip begins the sums of gun speed at 10 in; the sheet's overlap rules over the class of the gun.
#[test]
fn laps_begin_with_the_tip_and_the_sheets_overlap() {
    let lap = |known: LapKnown| usual_lap(&known, None, Prefs::METRIC);
    let airless = LapKnown { class: Some(GunClass::Airless), wet_um: 100.0, ..LapKnown::default() };
    assert_eq!((lap(airless).fan.as_str(), lap(airless).overlap.as_str()), ("305\u{a0}mm", "20\u{a0}%"));
    let half = lap(LapKnown { overlap: Some(OverlapSchool::Half), ..airless });
    assert_eq!((half.overlap.as_str(), half.profile), ("50\u{a0}%", FanProfile::Fading));
    let fifth = lap(LapKnown { overlap: Some(OverlapSchool::Fifth), class: Some(GunClass::Hvlp), ..airless });
    assert_eq!((fifth.overlap.as_str(), fifth.profile), ("20\u{a0}%", FanProfile::Flat));
    let book = Book::with_rig(with(sheet(), json!({ "overlap": "half" })), of_kind("airless", json!({ "tip_code": "517" })));
    let at_set = seen(&book).set.lap;
    assert_eq!((at_set.fan.as_str(), at_set.overlap.as_str()), ("254\u{a0}mm", "50\u{a0}%"));
    let pot = Book::with_rig(sheet(), pot_rig());
    assert_eq!(seen(&pot).set.lap.fan, "305\u{a0}mm");
}

/// What the sheet states of stirring, straining and the gun's filter stands with the item, in its reader's figures.
#[test]
fn the_lists_say_the_sheets_stirring_and_meshes() {
    let sheet = parsed(json!({ "stir": "paddle", "strain_um": 190.0, "gun_filter_um": 125.0 }));
    let items = ReadyLists::usual().items;
    let hint = |key: &str, sheet: &Sheet| items.iter().find(|i| i.key == key).unwrap().hint_by(sheet, Prefs::METRIC);
    assert!(hint("stir_base", &sheet).ends_with("By the sheet: with a paddle."), "{}", hint("stir_base", &sheet));
    assert_eq!(hint("stir_hardener", &sheet), "By the sheet: with a paddle.");
    assert_eq!(hint("strainer", &sheet), "By the sheet: 190\u{a0}µm.");
    assert_eq!(hint("gun_filter", &sheet), "By the sheet: 125\u{a0}µm.");
    assert!(!hint("stir_base", &parsed(json!({}))).contains("By the sheet"));
    let both = parsed(json!({ "no_gun_filter": true, "gun_filter_um": 125.0 })).validate(Prefs::METRIC).unwrap_err();
    assert_eq!((both.code.as_str(), both.field.as_deref()), ("filter-or-none", Some("gun_filter_um")));
}
