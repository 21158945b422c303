//! Advice obeys every limit the tool knows, and nothing over one is stored.

use level_keel_core::batch::stations::StationState;
use level_keel_core::batch::view::{Viewer, WholeView};
use level_keel_core::batch::{EntryKind, whole};
use level_keel_core::people::Role;
use level_keel_core::refusal::Why;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

const IN: f64 = 25.4;

fn seen(book: &Book) -> WholeView {
    let viewer = Viewer { writer: writer(Role::Applicator), comb_um: vec![25.4, 50.8], scale_g: 1.0 };
    whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("a begun batch")
}

fn says(book: &Book) -> String {
    seen(book).set.advice.map_or(String::new(), |a| a.text).replace('\u{a0}', " ")
}

fn thick() -> Value {
    with(sheet(), json!({ "viscosity_mpa_s": 100.0, "viscosity_at_c": 20.0 }))
}

fn stopped(book: &mut Book, payload: Value) -> (String, String) {
    let refusal = book.write(EntryKind::SetUp, payload.clone()).expect_err(&payload.to_string());
    assert_eq!(refusal.why, Why::Stop, "{refusal:?}");
    (refusal.code, refusal.field.unwrap_or_default())
}

fn psi(p: f64) -> f64 {
    p * PSI
}

#[test]
fn no_pressure_is_advised_or_caught_over_the_plate() {
    let adhesive = with(sheet(), json!({ "charge": "at_gun", "basis": "by_weight", "ratio": 8.0 }));
    let caught = |a: f64, a_g: f64| json!({ "charge": POT, "a_g": a_g, "b_g": 20.0, "resolution_g": 0.1, "a_kpa": psi(a), "b_kpa": psi(8.0) });
    let begun = |rig: Option<Value>| {
        let mut book = Book::begun(adhesive.clone());
        book.ready();
        if let Some(rig) = rig {
            book.write(EntryKind::ChooseRig, json!({ "rig": Uuid::from_u128(30), "fitted": rig })).unwrap();
        }
        book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 700.0 })).unwrap();
        book
    };
    let mut book = begun(Some(with(pot_rig(), json!({ "kind": "twin_pots", "class": "twin_feed" }))));
    let refusal = book.write(EntryKind::RatioCheck, caught(130.0, 100.0)).unwrap_err();
    assert_eq!((refusal.why, refusal.code.as_str(), refusal.field.as_deref()), (Why::Stop, "over-rating", Some("a_kpa")));
    // 75 psi gives 6:1; half again would be 112.5 psi on a pot of 80.
    book.write(EntryKind::RatioCheck, caught(75.0, 120.0)).unwrap();
    let advice = seen(&book).prove.advice.expect("it is out");
    assert!((advice.to_kpa.unwrap() - psi(80.0)).abs() < 1e-6, "{}", advice.text);
    book.write(EntryKind::RatioCheck, caught(80.0, 130.0)).unwrap();
    let advice = seen(&book).prove.advice.expect("it is out");
    // A can go no further: B is moved instead, to a sixth less.
    assert!(advice.text.contains("the rig bears") && advice.text.contains("Lower B from"), "{}", advice.text);
    assert!((advice.to_kpa.unwrap() - psi(8.0) * 6.5 / 8.0).abs() < 1e-6 && !advice.raise, "{}", advice.text);
    // Without a rig nobody knows what its pots bear.
    let mut book = begun(None);
    book.write(EntryKind::RatioCheck, caught(75.0, 120.0)).unwrap();
    let advice = seen(&book).prove.advice.expect("it is out");
    assert!(advice.to_kpa.is_none() && advice.text.starts_with("Choose the rig"), "{}", advice.text);
}

/// A figure without a plate is a fact and is kept, marked until the rig is named; over the plate of that rig it stays marked.
#[test]
fn a_pressure_without_a_rig_is_marked_and_the_rig_asked_for() {
    let mut book = Book::begun(thick());
    book.ready();
    let set = book.write(EntryKind::SetUp, json!({ "pot_kpa": psi(140.0), "stream_mm": 10.0 * IN })).unwrap();
    let marked = |book: &Book| book.record().deviations.into_iter().map(|d| (d.entry, d.code)).collect::<Vec<_>>();
    assert_eq!(marked(&book), [(set, "plate-unknown".into())]);
    assert!(says(&book).starts_with("Choose the rig first"), "{}", says(&book));
    assert_eq!(seen(&book).stations[2].state, StationState::InWork, "however right the stream looks");
    book.write(EntryKind::ChooseRig, json!({ "rig": Uuid::from_u128(30), "fitted": pot_rig() })).unwrap();
    assert_eq!(marked(&book), [(set, "over-plate".into())]);
    let mut book = Book::begun(thick());
    book.ready();
    book.write(EntryKind::SetUp, json!({ "pot_kpa": psi(10.0), "stream_mm": 10.0 * IN })).unwrap();
    book.write(EntryKind::ChooseRig, json!({ "rig": Uuid::from_u128(30), "fitted": pot_rig() })).unwrap();
    assert!(marked(&book).is_empty());
}

#[test]
fn the_eye_says_right_only_when_all_it_allows_is_in() {
    let mut book = Book::with_rig(thick(), pot_rig());
    let stream = |inches: f64| json!({ "pot_kpa": psi(9.0), "stream_mm": inches * IN });
    book.write(EntryKind::SetUp, stream(8.1)).unwrap();
    let set = seen(&book);
    assert_eq!(set.set.stream.as_ref().unwrap().level.word, "cannot tell");
    assert_eq!(set.set.set_ups.last().unwrap().word, "cannot tell");
    assert!(
        set.stations[2].state == StationState::InWork && set.stations[2].line.ends_with("catch a flow"),
        "{:?}",
        set.stations[2]
    );
    assert!(says(&book).contains("Catch a minute of flow"), "{}", says(&book));
    book.write(EntryKind::SetUp, stream(8.6)).unwrap();
    assert_eq!(seen(&book).stations[2].state, StationState::Done);
    // A caught flow decides where the eye cannot: here the paint is as the sheet says, and 9 psi give 9.6 in.
    book.write(EntryKind::SetUp, stream(8.1)).unwrap();
    let record = book.record();
    let line = record.rig().unwrap().line().unwrap();
    let flow = line.at(&record.paint(book.now).unwrap().fluid, psi(9.0)).flow_ml_min;
    book.write(EntryKind::FlowCatch, json!({ "pot_kpa": psi(9.0), "caught_ml": flow, "caught_watch_s": 60.0 })).unwrap();
    let set = seen(&book);
    assert_eq!((set.stations[2].state, set.set.stream.unwrap().level.word.as_str()), (StationState::Done, "in"));
}

/// Three catches of one person with one gun calibrate the eye; before that it is good to half an inch.
#[test]
fn the_level_is_as_long_as_that_persons_eye() {
    let mut book = Book::with_rig(thick(), pot_rig());
    book.write(EntryKind::SetUp, json!({ "pot_kpa": psi(9.0), "stream_mm": 10.0 * IN })).unwrap();
    let (record, mut beside) = (book.record(), Beside::default());
    let me = person(Role::Applicator);
    let bend = |mm: f64| serde_json::from_value(json!({ "gun": "Pot gun", "by": me, "mm": mm })).unwrap();
    let width = |beside: &Beside| {
        let m = Case::new(&record, beside).stream_state(book.now).unwrap().length_mm;
        (m.hi - m.lo) / IN
    };
    assert!((width(&beside) - 1.0).abs() < 1e-9);
    beside.bends = vec![bend(IN), bend(IN)];
    assert!((width(&beside) - 1.0).abs() < 1e-9, "two are no calibration");
    // Lengths go with the root of the bend: bends of 1.3225 and 0.7225 in are streams 15 % long and short.
    beside.bends = vec![bend(IN), bend(1.3225 * IN), bend(0.7225 * IN)];
    let m = Case::new(&record, &beside).stream_state(book.now).unwrap().length_mm;
    assert!(m.lo / IN < 8.8 && m.hi / IN > 11.5, "{m:?}");
}

#[test]
fn a_line_that_cannot_reach_says_so_at_the_first_try() {
    let thin_hose = with(pot_rig(), json!({ "hose_bore_mm": 6.35 }));
    let mut book = Book::with_rig(with(thick(), json!({ "viscosity_mpa_s": 260.0 })), thin_hose);
    assert!(
        says(&book).contains("does not reach its band") && says(&book).contains("hose takes most"),
        "{}",
        says(&book).to_lowercase()
    );
    book.write(EntryKind::SetUp, json!({ "pot_kpa": psi(15.0), "stream_mm": 2.0 * IN })).unwrap();
    assert!(says(&book).contains("does not reach its band"), "it does not climb: {}", says(&book));
    assert!(seen(&book).set.advice.unwrap().to.is_none());
}

#[test]
fn a_step_up_names_twenty_and_fifty_psi_when_it_crosses_them() {
    let mut book = Book::with_rig(with(thick(), json!({ "viscosity_mpa_s": 240.0 })), pot_rig());
    book.write(EntryKind::SetUp, json!({ "pot_kpa": psi(15.0), "stream_mm": 6.0 * IN })).unwrap();
    assert!(says(&book).contains("That is over 137.9 kPa"), "{}", says(&book));
}

#[test]
fn air_is_judged_where_it_was_read() {
    let air = |p: f64, at: &str| json!({ "pot_kpa": psi(10.0), "atomizing_kpa": psi(p), "air_at": at });
    // 60 psi are printed on this gun; on the limit is in, whatever its last bit.
    let mut book = Book::with_rig(thick(), pot_rig());
    book.write(EntryKind::SetUp, air(60.0 * (1.0 + 1e-9), "gun")).unwrap();
    assert_eq!(stopped(&mut book, air(60.1, "gun")), ("over-printed".into(), "atomizing_kpa".into()));
    // At the wall 12 scfm through 25 ft of 5/16 in cost 6.4 psi at 50: 64 psi there are under 60 at the gun, 75 are not.
    book.write(EntryKind::SetUp, air(64.0, "wall")).unwrap();
    assert_eq!(stopped(&mut book, air(75.0, "wall")).0, "over-printed");
    // Without the hose it is not known, and said.
    let mut book = Book::with_rig(thick(), with(pot_rig(), json!({ "air_bore_mm": null })));
    book.write(EntryKind::SetUp, air(75.0, "wall")).unwrap();
    assert!(seen(&book).set.notes.iter().any(|n| n.contains("is not known")), "{:?}", seen(&book).set.notes);
    // The cap has a limit of its own: ten psi at the cap of such a gun, thirty at its inlet.
    let mut book = Book::with_rig(thick(), with(pot_rig(), json!({ "class": "hvlp", "printed_air_kpa": null })));
    book.write(EntryKind::SetUp, air(10.0, "cap")).unwrap();
    assert_eq!(stopped(&mut book, air(11.0, "cap")).0, "over-class");
    book.write(EntryKind::SetUp, air(30.0, "gun")).unwrap();
    assert_eq!(stopped(&mut book, air(31.0, "gun")).0, "over-class");
    // A release film: ten at the cap; its inlet is the gun's own, sixteen say.
    let mut book = Book::with_rig(thick(), with(pot_rig(), json!({ "class": "release_film", "printed_air_kpa": null })));
    book.write(EntryKind::SetUp, air(16.0, "gun")).unwrap();
    assert_eq!(stopped(&mut book, air(16.0, "cap")).0, "over-class");
}

/// Catalyst air 20 to 25 psi with 20, 30, then five more; 18 to 25 with 30, 40, 50, 60; the sheet's own band rules over both.
#[test]
fn schools_of_the_ladder_are_paired_and_the_sheet_rules() {
    let machine = |ladder: &str| {
        json!({ "name": "Machine", "kind": "gel_coat_machine", "pump_most_kpa": psi(120.0), "hose_bore_mm": 9.525,
            "hose_length_mm": 9000.0, "gun": "Gun", "class": "air_assisted", "tip_code": "521", "ladder": ladder, "catalyst_most_kpa": psi(60.0) })
    };
    let first = |ladder: &str, sheet: Value| says(&Book::with_rig(sheet, machine(ladder)));
    assert!(first("fives", sheet()).contains("137.9 to 172.4 kPa"), "{}", first("fives", sheet()));
    assert!(first("tens", sheet()).contains("124.1 to 172.4 kPa"), "{}", first("tens", sheet()));
    let banded = with(sheet(), json!({ "catalyst_air_min_kpa": psi(15.0), "catalyst_air_max_kpa": psi(22.0) }));
    assert!(first("fives", banded).contains("103.4 to 151.7 kPa"));
    // Small fingers: refinement air before more pressure, and before a smaller hole.
    let mut book = Book::with_rig(sheet(), machine("tens"));
    let burst = |p: f64, pattern: &str, turns: f64| json!({ "pot_kpa": psi(p), "catalyst_kpa": psi(22.0), "pattern": pattern, "refine_turns_count": turns });
    book.write(EntryKind::SetUp, burst(60.0, "oval_fingers", 0.0)).unwrap();
    assert!(says(&book).contains("refinement air") && !says(&book).contains("smaller hole"), "{}", says(&book));
    book.write(EntryKind::SetUp, burst(60.0, "oval_fingers", 0.5)).unwrap();
    assert!(says(&book).contains("smaller hole"), "{}", says(&book));
}

#[test]
fn airless_with_air_assist_climbs_in_hundreds_and_is_refused_over_its_class() {
    let airless = |most: f64| {
        json!({ "name": "Airless", "kind": "airless", "pump_most_kpa": psi(most), "hose_bore_mm": 6.35, "hose_length_mm": 9000.0,
            "gun": "Gun", "class": "air_assisted", "tip_code": "517" })
    };
    let mut book = Book::with_rig(sheet(), airless(2000.0));
    assert!(says(&book).starts_with("20.7 bar at the pump"), "300 psi first: {}", says(&book));
    let burst = |p: f64, pattern: &str| json!({ "pot_kpa": psi(p), "pattern": pattern, "refine_turns_count": 0.25 });
    book.write(EntryKind::SetUp, burst(300.0, "round_fingers")).unwrap();
    assert!(says(&book).starts_with("27.6 bar"), "then 400: {}", says(&book));
    assert_eq!(stopped(&mut book, burst(650.0, "even")), ("over-class".into(), "pot_kpa".into()));
    // The plate rules where it is the less.
    let mut book = Book::with_rig(sheet(), airless(450.0));
    assert_eq!(stopped(&mut book, burst(500.0, "even")).0, "over-rating");
    book.write(EntryKind::SetUp, burst(400.0, "round_fingers")).unwrap();
    assert!(says(&book).contains("is over the"), "{}", says(&book));
}

#[test]
fn fan_and_pattern_are_advised_where_no_stream_is_read() {
    let mut book = Book::with_rig(
        sheet(),
        with(
            pot_rig(),
            json!({ "kind": "gun_cup", "hose_bore_mm": null, "hose_length_mm": null, "rating_kpa": null, "relief_kpa": null }),
        ),
    );
    book.write(
        EntryKind::SetUp,
        json!({ "pot_kpa": 0.0, "atomizing_kpa": psi(40.0), "air_at": "gun", "pattern": "heavy_middle" }),
    )
    .unwrap();
    assert!(says(&book).contains("Heavy in its middle"), "{}", says(&book));
}

/// The regulator of the catalyst air has a plate of its own.
#[test]
fn catalyst_air_never_goes_over_its_regulators_plate() {
    let machine = json!({ "name": "Machine", "kind": "gel_coat_machine", "pump_most_kpa": psi(120.0), "hose_bore_mm": 9.525,
        "hose_length_mm": 9000.0, "gun": "Gun", "class": "air_assisted", "tip_code": "521", "catalyst_most_kpa": psi(30.0) });
    let mut book = Book::with_rig(sheet(), machine);
    let catalyst = |p: f64| json!({ "pot_kpa": psi(40.0), "catalyst_kpa": psi(p), "pattern": "even" });
    assert_eq!(stopped(&mut book, catalyst(30.5)), ("over-rating".into(), "catalyst_kpa".into()));
    book.write(EntryKind::SetUp, catalyst(30.0)).expect("on the plate is not over it");
}

/// A plate nobody wrote bounds nothing: the figure is kept and marked, and no pressure is advised.
#[test]
fn a_plate_nobody_wrote_is_marked_and_nothing_is_advised_without_it() {
    let machine = json!({ "name": "Machine", "kind": "gel_coat_machine", "hose_bore_mm": 9.525, "hose_length_mm": 9000.0,
        "gun": "Gun", "class": "air_assisted", "tip_code": "521" });
    let begun = |plates: Value| Book::with_rig(sheet(), with(machine.clone(), plates));
    let marked = |book: &Book| book.record().deviations.into_iter().map(|d| (d.code, d.text)).collect::<Vec<_>>();
    let burst = json!({ "pot_kpa": psi(30.0), "catalyst_kpa": psi(22.0), "pattern": "round_fingers" });
    for (plates, wanting) in [
        (json!({ "pump_most_kpa": psi(120.0), "catalyst_most_kpa": psi(60.0) }), vec![]),
        (json!({ "pump_most_kpa": psi(120.0) }), vec!["catalyst"]),
        (json!({ "catalyst_most_kpa": psi(60.0) }), vec!["fluid"]),
        (json!({}), vec!["fluid", "catalyst"]),
    ] {
        let mut book = begun(plates.clone());
        let advised = |book: &Book| seen(book).set.advice.is_some_and(|a| a.to.is_some() || a.text.contains("137.9"));
        assert_eq!(advised(&book), wanting.is_empty(), "{plates}: {}", says(&book));
        book.write(EntryKind::SetUp, burst.clone()).unwrap();
        let found = marked(&book);
        // Two plates are two things to answer: an answer to the one is none to the other.
        let codes: Vec<&str> = found.iter().map(|(code, _)| code.as_str()).collect();
        let code_of = |word: &&str| if *word == "fluid" { "plate-unknown" } else { "catalyst-plate-unknown" };
        assert_eq!(codes, wanting.iter().map(code_of).collect::<Vec<_>>(), "{plates}: {found:?}");
        for (word, (_, text)) in wanting.iter().zip(&found) {
            assert!(text.contains(word), "{text}");
        }
        assert_eq!(
            seen(&book).set.advice.is_some_and(|a| a.to.is_some()),
            !wanting.contains(&"fluid"),
            "{plates}: {}",
            says(&book)
        );
    }
    // A pump is driven to no pressure of which nobody knows whether it bears it; a gun's cup has no vessel and no plate.
    let other = |kind: &str| with(pot_rig(), json!({ "kind": kind, "rating_kpa": null, "relief_kpa": null }));
    let mut pump = Book::with_rig(thick(), other("pump"));
    assert!(seen(&pump).set.advice.unwrap().to.is_none() && says(&pump).contains("not written down"), "{}", says(&pump));
    pump.write(EntryKind::SetUp, json!({ "pot_kpa": psi(9.0), "stream_mm": 9.0 * IN })).unwrap();
    assert_eq!(marked(&pump).len(), 1);
    let mut cup = Book::with_rig(thick(), other("gun_cup"));
    cup.write(EntryKind::SetUp, json!({ "pot_kpa": psi(2.0), "atomizing_kpa": psi(30.0) })).unwrap();
    assert_eq!(marked(&cup), []);
}

/// What a stream and a catch say together is believed of an eye only while it is a fall an eye could see.
#[test]
fn a_bend_nobody_could_see_teaches_nothing() {
    let taught = |stream_in: f64| {
        let mut book = Book::with_rig(thick(), pot_rig());
        book.write(EntryKind::SetUp, json!({ "pot_kpa": psi(9.0), "stream_mm": stream_in * IN })).unwrap();
        let record = book.record();
        let line = record.rig().and_then(level_keel_core::rigs::Rig::line).unwrap();
        let flow = line.at(&record.paint(book.now).unwrap().fluid, psi(9.0)).flow_ml_min;
        book.write(EntryKind::FlowCatch, json!({ "pot_kpa": psi(9.0), "caught_ml": flow, "caught_watch_s": 60.0 })).unwrap();
        book.record().seen_bend().map(|b| b.mm)
    };
    // The stream bends by an inch at about 9.6 in: by the square of the length, 2.5 in is 1.7 mm and 40 in is 440 mm.
    assert!(taught(9.6).is_some_and(|mm| (20.0..30.0).contains(&mm)), "{:?}", taught(9.6));
    assert_eq!((taught(2.5), taught(40.0)), (None, None));
    assert!(taught(3.0).is_some() && taught(29.0).is_some());
}

/// A thick paint running laminar and a thin one running turbulent may give one catch: the thick is taken, the other named.
#[test]
fn a_catch_two_paints_explain_says_so() {
    let caught = |mpa_s: f64| {
        let rig = with(pot_rig(), json!({ "hose_length_mm": 15_240.0, "lift_mm": 0.0, "nozzle_mm": 4.0 }));
        let mut book = Book::with_rig(with(sheet(), json!({ "viscosity_mpa_s": 20.0, "viscosity_at_c": 20.0 })), rig);
        let record = book.record();
        let line = record.rig().and_then(level_keel_core::rigs::Rig::line).unwrap();
        let fluid = record.paint_of(mpa_s, book.now).unwrap().fluid;
        let flow = line.at(&fluid, psi(9.0)).flow_ml_min;
        book.write(EntryKind::FlowCatch, json!({ "pot_kpa": psi(9.0), "caught_ml": flow / 6.0, "caught_watch_s": 10.0 }))
            .unwrap();
        let paint = book.record().paint(book.now).unwrap();
        let said = seen(&book).set.modelled.unwrap().viscosity_of;
        (
            paint.fluid.viscosity_mpa_s,
            paint.or_thin_mpa_s.map(|thin| line.drops(&record.paint_of(thin, book.now).unwrap().fluid, flow)),
            said,
        )
    };
    // Water-thin just inside the laminar range: Reynolds about 2,000.
    let (thick, thin, said) = caught(5.5);
    assert!((thick - 5.5).abs() < 1e-3, "{thick}");
    let thin = thin.expect("two paints give this catch");
    assert!((thin.total_kpa - psi(9.0)).abs() < 1e-6 && thin.regime == level_keel_core::delivery::Regime::Turbulent);
    assert!(said.contains("turbulent in the hose, would have given the same catch"), "{said}");
    let (_, thin, said) = caught(100.0);
    assert!(thin.is_none() && !said.contains("turbulent"), "{said}");
}

/// The air is tried after the fluid: a stream seen stands while the pressure and the rig it was seen with do.
#[test]
fn a_stream_seen_stands_for_its_pressure_and_its_rig() {
    let mut book = Book::with_rig(thick(), pot_rig());
    let at = |p: f64| json!({ "pot_kpa": psi(p), "atomizing_kpa": psi(40.0), "air_at": "gun", "pattern": "heavy_middle" });
    book.write(EntryKind::SetUp, json!({ "pot_kpa": psi(9.0), "stream_mm": 9.6 * IN })).unwrap();
    book.write(EntryKind::SetUp, at(9.0)).unwrap();
    assert!(says(&book).contains("Heavy in its middle"), "{}", says(&book));
    book.write(EntryKind::SetUp, at(11.0)).unwrap();
    assert!(Case::alone(&book.record()).stream_state(book.now).is_none(), "nobody saw it at eleven");
    book.write(EntryKind::SetUp, at(9.0)).unwrap();
    assert!(Case::alone(&book.record()).stream_state(book.now).is_some());
    let other = json!({ "rig": Uuid::from_u128(31), "fitted": with(pot_rig(), json!({ "name": "Other", "nozzle_mm": 1.4 })) });
    book.write(EntryKind::ChooseRig, other).unwrap();
    book.write(EntryKind::SetUp, at(9.0)).unwrap();
    assert!(Case::alone(&book.record()).stream_state(book.now).is_none(), "it was another rig's");
}
