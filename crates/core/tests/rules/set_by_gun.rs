//! Set by the gun in hand: the gun's cup, a gun of fixed air, release film, airless with air assist, a pump, twin pots.

use level_keel_core::batch::EntryKind;
use level_keel_core::batch::entries::Flowed;
use level_keel_core::batch::view::SetView;
use level_keel_core::book::Ledger;
use level_keel_core::quantity::Prefs;
use serde_json::{Value, json};

use crate::book::*;
use crate::set::{field, seen_of, thick_sheet};

fn seen(book: &Book) -> SetView {
    seen_of(&Case::alone(&book.record()), book)
}

pub fn cup_rig(more: Value) -> Value {
    let mut rig = json!({ "name": "Sign gun", "kind": "gun_cup", "gun": "Sign gun", "class": "hvlp", "nozzle_mm": 1.3, "needle_full_count": 2.5 });
    for (field, value) in more.as_object().unwrap() {
        rig[field] = value.clone();
    }
    rig
}

/// Nothing presses the paint of a gun's cup: the try is its air, its knobs, its pattern. Everywhere else the pressure is asked for.
#[test]
fn a_gun_cup_is_set_by_its_air_and_its_knobs() {
    let mut book = Book::with_rig(thick_sheet(), cup_rig(json!({})));
    let first = seen(&book);
    assert!(!first.pressed);
    let advice = first.advice.unwrap();
    for said in ["Fan open", "witness mark, 2.5 turns", "172.4\u{a0}kPa of air", "At the cap 68.9\u{a0}kPa is the most"] {
        assert!(advice.text.contains(said), "{said}: {}", advice.text);
    }
    assert_eq!(
        advice.to.unwrap().text,
        "172.4\u{a0}kPa",
        "25 psi for a high volume, low pressure gun: common practice in the trade"
    );
    assert_eq!(field(book.write(EntryKind::SetUp, json!({}))), ("missing".into(), "atomizing_kpa".into()));
    book.write(EntryKind::SetUp, json!({ "atomizing_kpa": 25.0 * PSI, "air_at": "gun", "air_how": "pulled", "fan_turns_count": 3.0, "needle_turns_count": 2.5 })).unwrap();
    let tried = seen(&book);
    assert!(tried.advice.unwrap().text.starts_with("A short burst on paper"));
    let row = &tried.set_ups[0];
    assert_eq!(
        (row.pot.as_ref(), row.knobs.as_str(), row.air_read.as_str()),
        (None, "fan 3, needle 2.5", "at the gun, trigger pulled")
    );
    book.write(EntryKind::SetUp, json!({ "atomizing_kpa": 26.0 * PSI, "pattern": "even" })).unwrap();
    let record = book.record();
    assert_eq!(record.pressed_at(), None, "nothing stands under pressure");
    let (_, good) = record.good_set_up().expect("an even pattern");
    assert_eq!((good.pot_kpa, good.atomizing_kpa), (None, Some(26.0 * PSI)));
    // A pot's pressure is not guessed.
    let mut pot = Book::with_rig(thick_sheet(), pot_rig());
    assert_eq!(field(pot.write(EntryKind::SetUp, json!({ "atomizing_kpa": 45.0 * PSI }))), ("missing".into(), "pot_kpa".into()));
    assert!(seen(&pot).pressed);
}

/// Where the air is fixed, as with a turbine, no air is advised: the needle is what is turned.
#[test]
fn a_gun_of_fixed_air_is_advised_by_its_fluid() {
    let mut book = Book::with_rig(thick_sheet(), cup_rig(json!({ "fixed_air": true, "needle_full_count": null })));
    let advice = seen(&book).advice.unwrap();
    assert!(
        advice.to.is_none() && advice.text.contains("The air is fixed") && advice.text.contains("by the needle"),
        "{}",
        advice.text
    );
    book.write(EntryKind::SetUp, json!({ "needle_turns_count": 1.5, "pattern": "heavy_middle" })).unwrap();
    assert!(seen(&book).advice.unwrap().text.contains("needle in by a quarter turn"));
    book.write(EntryKind::SetUp, json!({ "needle_turns_count": 1.0, "pattern": "heavy_ends" })).unwrap();
    assert!(seen(&book).advice.unwrap().text.contains("needle out by a quarter turn"));
}

/// Fan first, then air: closing the fan lifts the air by half or more, so a figure read before it was moved is void.
#[test]
fn air_read_before_the_fan_was_moved_is_void() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    let at = |more: Value| {
        let mut body = json!({ "pot_kpa": 10.0 * PSI, "stream_mm": 254.0 });
        for (field, value) in more.as_object().unwrap() {
            body[field] = value.clone();
        }
        body
    };
    let void = |book: &Book| seen(book).notes.iter().any(|n| n.contains("The fan was moved since the air was read: 310.3"));
    book.write(EntryKind::SetUp, at(json!({ "fan_turns_count": 3.0, "atomizing_kpa": 45.0 * PSI, "air_at": "wall" }))).unwrap();
    assert!(!void(&book), "read with the fan as it is");
    assert!(seen(&book).wall.unwrap().contains("at the wall leaves"));
    book.write(EntryKind::SetUp, at(json!({ "fan_turns_count": 3.04 }))).unwrap();
    assert!(!void(&book), "a twentieth of a turn is no turn");
    book.write(EntryKind::SetUp, at(json!({ "fan_turns_count": 2.0 }))).unwrap();
    assert!(void(&book), "{:?}", seen(&book).notes);
    assert_eq!(book.record().air_in_force(), None);
    assert!(seen(&book).wall.unwrap().starts_with("Set the wall to"), "what was read no longer stands");
    book.write(EntryKind::SetUp, at(json!({ "atomizing_kpa": 52.0 * PSI }))).unwrap();
    assert!(!void(&book), "read again");
    assert_eq!(book.record().air_in_force().and_then(|s| s.atomizing_kpa), Some(52.0 * PSI));
    book.write(EntryKind::SetUp, at(json!({}))).unwrap();
    assert!(!void(&book), "a try that says nothing of the fan did not move it");
}

/// A release film goes on with the needle at most half a turn open: common practice in the trade.
#[test]
fn the_needle_of_a_release_film_opens_half_a_turn() {
    let mut book = Book::with_rig(thick_sheet(), cup_rig(json!({ "class": "release_film" })));
    let noted = |book: &Book| seen(book).notes.iter().any(|n| n.contains("half a turn at the most"));
    book.write(EntryKind::SetUp, json!({ "needle_turns_count": 0.5 })).unwrap();
    assert!(!noted(&book));
    book.write(EntryKind::SetUp, json!({ "needle_turns_count": 0.75 })).unwrap();
    assert!(noted(&book));
    let mut other = Book::with_rig(thick_sheet(), cup_rig(json!({})));
    other.write(EntryKind::SetUp, json!({ "needle_turns_count": 0.75 })).unwrap();
    assert!(!noted(&other), "of another class");
}

/// Before a rig is known nobody knows that nothing presses it: the pressure is asked for.
#[test]
fn a_try_without_a_rig_says_its_pressure() {
    let mut book = Book::begun(thick_sheet());
    book.ready();
    let even = json!({ "atomizing_kpa": 45.0 * PSI, "pattern": "even" });
    assert_eq!(field(book.write(EntryKind::SetUp, even)), ("missing".into(), "pot_kpa".into()));
    assert!(seen(&book).pressed);
}

pub fn of_kind(kind: &str, more: Value) -> Value {
    let mut rig = pot_rig();
    rig["kind"] = json!(kind);
    for (field, value) in more.as_object().unwrap() {
        rig[field] = value.clone();
    }
    rig
}

/// Each rig is asked for its own settings, in the order they are made, and for none it does not have.
#[test]
fn each_rig_is_asked_for_its_own_settings() {
    let first = |rig: Value| {
        let book = Book::with_rig(thick_sheet(), rig);
        seen(&book).asks.into_iter().filter(|a| a.first).map(|a| a.field).collect::<Vec<_>>()
    };
    for (rig, asked) in [
        (pot_rig(), vec!["pot_kpa", "stream_mm", "atomizing_kpa"]),
        (cup_rig(json!({})), vec!["fan_turns_count", "needle_turns_count", "atomizing_kpa", "cap_kpa"]),
        (cup_rig(json!({ "class": "conventional" })), vec!["fan_turns_count", "needle_turns_count", "atomizing_kpa"]),
        (of_kind("pump", json!({ "pump_most_kpa": 500.0 })), vec!["supply_kpa", "pot_kpa", "stream_mm", "atomizing_kpa"]),
        (
            of_kind("twin_pots", json!({})),
            vec!["flowed", "pot_kpa", "b_kpa", "a_valve_turns_count", "b_valve_turns_count", "stream_mm", "atomizing_kpa"],
        ),
        (of_kind("airless", json!({ "class": "airless" })), vec!["pot_kpa"]),
        (of_kind("airless", json!({ "class": "air_assisted" })), vec!["pot_kpa", "atomizing_kpa"]),
        (
            of_kind("gel_coat_machine", json!({ "class": "airless" })),
            vec!["catalyst_kpa", "pot_kpa", "refine_turns_count", "atomizing_kpa"],
        ),
    ] {
        assert_eq!(first(rig.clone()), asked, "{rig}");
    }
}

/// At the cap 10 psi is the most of a high volume, low pressure gun, whatever stands at its inlet: common practice in the trade.
#[test]
fn air_at_the_cap_is_judged_by_the_cap_and_the_inlet_by_the_inlet() {
    let mut book = Book::with_rig(thick_sheet(), cup_rig(json!({})));
    let at = |inlet: f64, cap: f64| json!({ "atomizing_kpa": inlet * PSI, "cap_kpa": cap * PSI });
    let over = book.write(EntryKind::SetUp, at(25.0, 10.5)).unwrap_err();
    assert_eq!((over.code, over.field.as_deref()), ("over-class".into(), Some("cap_kpa")));
    assert!(over.text.contains("at the cap"), "{}", over.text);
    assert_eq!(book.write(EntryKind::SetUp, at(31.0, 9.0)).unwrap_err().field.as_deref(), Some("atomizing_kpa"));
    book.write(EntryKind::SetUp, at(25.0, 10.0)).unwrap();
    assert_eq!(seen(&book).set_ups[0].cap.as_ref().unwrap().text, "68.9\u{a0}kPa");
    let mut other = Book::with_rig(thick_sheet(), cup_rig(json!({ "class": "conventional" })));
    other.write(EntryKind::SetUp, at(45.0, 30.0)).unwrap();
}

/// What a pump stands at is a setting of the try: under 30 psi its change-over is seen in the fan (common practice in the trade).
#[test]
fn the_supply_of_a_pump_is_a_setting_of_the_try() {
    let rig = of_kind(
        "pump",
        json!({ "pump_most_kpa": 60.0 * PSI, "pump_stands_kpa": 35.0 * PSI, "rating_kpa": null, "relief_kpa": null }),
    );
    let mut book = Book::with_rig(thick_sheet(), rig);
    let mut at = |supply: f64| {
        book.write(EntryKind::SetUp, json!({ "pot_kpa": 12.0 * PSI, "stream_mm": 250.0, "supply_kpa": supply * PSI }))?;
        Ok::<bool, level_keel_core::refusal::Refusal>(seen(&book).notes.iter().any(|n| n.contains("change-over will pulse")))
    };
    assert!(!at(30.0).unwrap());
    assert!(at(29.0).unwrap(), "the try says what it stands at, and not the rig");
    let over = at(61.0).unwrap_err();
    assert_eq!((over.code, over.field.as_deref()), ("over-rating".into(), Some("supply_kpa")));
}

/// Airless with air assist: fluid in hundreds of psi, the screen its tip wants, a little air; common practice in the trade.
#[test]
fn airless_with_air_assist_is_told_its_fluid_its_screen_and_its_air() {
    let rig = of_kind(
        "airless",
        json!({ "class": "air_assisted", "tip_code": "413", "pump_most_kpa": 700.0 * PSI, "rating_kpa": null, "relief_kpa": null }),
    );
    let mut book = Book::with_rig(thick_sheet(), rig);
    let advice = seen(&book).advice.unwrap();
    assert_eq!(advice.to.unwrap().text, "20.7\u{a0}bar", "300 psi");
    for said in ["Tip 413: a screen of 100 mesh", "a little air, 68.9 to 103.4"] {
        assert!(advice.text.contains(said), "{said}: {}", advice.text);
    }
    let over =
        |psi: f64, book: &mut Book| field(book.write(EntryKind::SetUp, json!({ "pot_kpa": psi * PSI, "pattern": "even" })));
    assert_eq!(over(601.0, &mut book), ("over-class".into(), "pot_kpa".into()));
    assert_eq!(over(900.0, &mut book).1, "pot_kpa");
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 300.0 * PSI, "pattern": "round_fingers" })).unwrap();
    let record = book.record();
    let said = record.words(record.log.iter().next_back().unwrap().said.as_deref().unwrap(), Prefs::METRIC);
    assert!(said.starts_with("Pump 20.7"), "an airless has no pot: {said}");
    let next = seen(&book).advice.unwrap();
    assert!(next.text.starts_with("27.6") && !next.text.contains("screen"), "{}", next.text);
}

/// Twin pots: A alone, B alone, then both, and only then the air.
#[test]
fn twin_pots_are_set_each_alone_and_then_together() {
    let mut sheet = sheet();
    (sheet["charge"], sheet["stream"]) = (json!("at_gun"), json!("general_pot"));
    let mut book = Book::with_rig(sheet, of_kind("twin_pots", json!({ "class": "twin_feed" })));
    // While A alone is looked at, nothing of B is asked.
    let asked = |book: &Book| {
        let set = seen(book);
        let next = set.flows_next.unwrap();
        let mine = set.asks.into_iter().filter(|a| a.first && (a.of.is_empty() || a.of.contains(&next)));
        (next, mine.map(|a| a.field).collect::<Vec<_>>().join(" "))
    };
    let advice = |book: &Book| seen(book).advice.unwrap().text;
    assert!(advice(&book).contains("A alone, B shut; then B alone; then both"), "{}", advice(&book));
    assert_eq!(asked(&book), (Flowed::A, "flowed pot_kpa a_valve_turns_count stream_mm".into()));
    let mut tried = |more: Value| {
        book.write(EntryKind::SetUp, more).unwrap();
        (advice(&book), stations_line(&book), asked(&book))
    };
    let (next, line, (of, _)) =
        tried(json!({ "pot_kpa": 10.0 * PSI, "flowed": "a", "stream_mm": 178.0, "a_valve_turns_count": 2.0 }));
    assert!(next.starts_with("A stands. Now B alone"), "{next}");
    assert!(line.ends_with("A alone") && of == Flowed::B, "half of it is not done: {line}");
    let (short, _, (of, fields)) =
        tried(json!({ "flowed": "b", "b_kpa": 8.0 * PSI, "stream_mm": 90.0, "b_valve_turns_count": 1.0 }));
    assert!(short.starts_with("To ") && short.contains("By the tries alone"), "{short}");
    assert_eq!((of, fields.as_str()), (Flowed::B, "flowed b_kpa b_valve_turns_count stream_mm"), "B does not stand yet");
    // Nearly twice the stream wants nearly twice the pressure of B over its lift, and not that of A.
    let to: f64 = short[3..].split('\u{a0}').next().unwrap().parse().unwrap();
    assert!((90.0..115.0).contains(&to), "from 55 kPa: {to}");
    let (both, _, (of, fields)) = tried(json!({ "flowed": "b", "b_kpa": 15.0 * PSI, "stream_mm": 178.0 }));
    assert!(both.starts_with("Each stands alone. Now both together"), "{both}");
    assert_eq!((of, fields.as_str()), (Flowed::Both, "flowed pot_kpa b_kpa atomizing_kpa"));
    let (air, line, _) =
        tried(json!({ "flowed": "both", "pot_kpa": 10.0 * PSI, "b_kpa": 15.0 * PSI, "atomizing_kpa": 40.0 * PSI }));
    assert!(air.starts_with("A short burst on paper") && line.ends_with("no pattern"), "{air} {line}");
    let rows = seen(&book).set_ups;
    assert_eq!((rows[0].flowed.as_deref(), rows[0].knobs.as_str()), (Some("A alone"), "valve of A 2"));
    assert_eq!(
        field(book.write(EntryKind::SetUp, json!({ "flowed": "b", "stream_mm": 90.0 }))),
        ("missing".into(), "b_kpa".into())
    );
    assert_eq!(
        field(book.write(EntryKind::SetUp, json!({ "flowed": "a", "stream_mm": 90.0 }))),
        ("missing".into(), "pot_kpa".into())
    );
}

fn stations_line(book: &Book) -> String {
    use level_keel_core::batch::{
        StationName,
        view::{Viewer, view},
    };
    let viewer = Viewer { writer: writer(level_keel_core::people::Role::Applicator), comb_um: vec![25.4, 50.8], scale_g: 1.0 };
    let record = book.record();
    let head = view(uuid::Uuid::from_u128(9), &Case::alone(&record), &viewer, book.now, Some(StationName::Set)).unwrap().head;
    head.stations.into_iter().find(|s| s.name == "Set").unwrap().line
}

/// What was seen through another rig says nothing of this one: neither its stream nor its pattern nor its air stands for it.
#[test]
fn tries_through_another_rig_say_nothing_of_this_one() {
    let mut book = Book::with_rig(thick_sheet(), cup_rig(json!({})));
    book.write(EntryKind::SetUp, json!({ "atomizing_kpa": 25.0 * PSI, "pattern": "even" })).unwrap();
    assert!(book.record().good_set_up().is_some());
    let mut other = cup_rig(json!({ "class": "conventional" }));
    other["name"] = json!("Old gun");
    book.write(EntryKind::ChooseRig, json!({ "rig": uuid::Uuid::from_u128(31), "fitted": other })).unwrap();
    let record = book.record();
    assert_eq!((record.good_set_up(), record.air_in_force()), (None, None));
    let set = seen(&book);
    assert!(set.advice.unwrap().text.starts_with("Fan open"), "it is set from the beginning");
    assert!(set.notes.is_empty(), "{:?}", set.notes);
    assert_eq!(set.set_ups.len(), 1, "what was tried stays in the table");
    assert_eq!(stations_line(&book), "", "the station is not reached again");
}
