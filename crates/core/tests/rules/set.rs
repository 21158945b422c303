//! Set by the book: the rig chosen, tries, what a catch teaches, the ladder, what was good last time.

use level_keel_core::batch::set_up::KnownFrom;
use level_keel_core::batch::view::{SetView, Viewer};
use level_keel_core::batch::{Kind, Record, view};
use level_keel_core::people::Role;
use level_keel_core::rigs::Rig;
use level_keel_core::schedule::GoodSetUp;
use level_keel_core::{atomizing::ladder::Pattern, quantity::Prefs};
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

fn thick_sheet() -> Value {
    let mut sheet = sheet();
    (sheet["viscosity_mpa_s"], sheet["viscosity_at_c"]) = (json!(100.0), json!(20.0));
    sheet
}

fn seen_of(record: &Record, book: &Book) -> SetView {
    let viewer = Viewer { writer: writer(Role::Applicator), comb_um: vec![25.4, 50.8], scale_g: 1.0 };
    view(Uuid::from_u128(9), record, &viewer, book.now).expect("a begun batch").set
}

fn seen(book: &Book) -> SetView {
    seen_of(&book.record(), book)
}

fn field(refusal: Result<Uuid, level_keel_core::refusal::Refusal>) -> (String, String) {
    let refusal = refusal.unwrap_err();
    (refusal.code.to_string(), refusal.field.unwrap_or_default())
}

#[test]
fn a_rig_without_its_plate_is_refused() {
    let with = |change: Value| {
        let mut rig = pot_rig();
        for (k, v) in change.as_object().unwrap() {
            rig[k] = v.clone();
        }
        serde_json::from_value::<Rig>(rig).unwrap().validate(&[], Prefs::METRIC)
    };
    assert!(with(json!({})).is_ok());
    for (change, field) in [
        (json!({ "rating_kpa": null }), "rating_kpa"),
        (json!({ "relief_kpa": null }), "relief_kpa"),
        (json!({ "relief_kpa": 90.0 * PSI }), "relief_kpa"),
        (json!({ "two_regulators": false }), "shut_off"),
        (json!({ "hose_bore_mm": null }), "hose_bore_mm"),
        (json!({ "hose_length_mm": 0.0 }), "hose_length_mm"),
        (json!({ "hose_length_mm": 5e6 }), "hose_length_mm"),
        (json!({ "nozzle_mm": 0.0 }), "nozzle_mm"),
        (json!({ "spare_mm": [1.2, 0.0] }), "spare_mm[1]"),
        (json!({ "tip_code": "52" }), "tip_code"),
        (json!({ "name": " " }), "name"),
    ] {
        assert_eq!(with(change.clone()).unwrap_err().field.as_deref(), Some(field), "{change}");
    }
}

/// The model of the worked examples: 10 psi gives 10.5 in with 100 mPa·s; today's paint is 1.6 times as thick.
#[test]
fn a_stream_in_two_tries_and_what_a_catch_teaches() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    let first = seen(&book);
    assert!(first.advice.as_ref().unwrap().text.starts_with("Start at"), "{:?}", first.advice);
    let modelled = first.modelled.as_ref().unwrap();
    assert!(modelled.viscosity_of.starts_with("by the sheet"), "{}", modelled.viscosity_of);
    assert_eq!((modelled.curve.points.len(), modelled.shares.len()), (49, 3));
    assert!(modelled.curve.points.windows(2).all(|w| w[1].ml_min >= w[0].ml_min));
    // Over the plate nobody presses it; under vacuum no gauge reads.
    let pressed = |book: &mut Book, kpa: f64| book.write(Kind::SetUp, json!({ "pot_kpa": kpa }));
    assert_eq!(field(pressed(&mut book, 81.0 * PSI)), ("over-rating".into(), "pot_kpa".into()));
    assert_eq!(field(pressed(&mut book, -5.0)).1, "pot_kpa");
    // What such paint really does, by the line itself.
    let line = serde_json::from_value::<Rig>(pot_rig()).unwrap().line().unwrap();
    let record = book.record();
    let mut fluid = record.paint(book.now).unwrap().fluid;
    fluid.viscosity_mpa_s *= 1.6;
    let really = |kpa: f64| line.at(&fluid, kpa);
    let ten = 10.0 * PSI;
    book.write(Kind::SetUp, json!({ "pot_kpa": ten, "stream_mm": really(ten).stream_mm(25.4) })).unwrap();
    let advice = seen(&book).advice.expect("too short");
    let to: f64 = advice.to.unwrap().figure.parse().unwrap();
    let there = really(to);
    let (lo, hi) = record.aim().unwrap().sheet.stream.band_mm();
    assert!((lo..=hi).contains(&there.stream_mm(25.4)), "{} mm at {to} kPa", there.stream_mm(25.4));
    book.write(
        Kind::SetUp,
        json!({ "pot_kpa": to, "stream_mm": there.stream_mm(25.4), "atomizing_kpa": 45.0 * PSI, "air_at": "gun" }),
    )
    .unwrap();
    let done = seen(&book);
    assert!(done.advice.is_none(), "in: nothing to change");
    assert!(done.wall.as_deref().is_some_and(|w| w.starts_with("Set the wall to")), "{:?}", done.wall);
    // A catch tells how thick it is; what no paint could give is refused at its field.
    let caught = |ml: f64| json!({ "pot_kpa": to, "caught_ml": ml, "caught_watch_s": 60.0 });
    assert_eq!(field(book.write(Kind::FlowCatch, caught(9000.0))), ("flows-too-much".into(), "caught_ml".into()));
    let negative = json!({ "pot_kpa": to, "caught_g": -4.0, "caught_watch_s": 60.0 });
    assert_eq!(field(book.write(Kind::FlowCatch, negative)).1, "caught_g");
    book.write(Kind::FlowCatch, caught(there.flow_ml_min)).unwrap();
    let paint = book.record().paint(book.now).unwrap();
    assert_eq!(paint.from, KnownFrom::Catch);
    assert!((paint.fluid.viscosity_mpa_s / fluid.viscosity_mpa_s - 1.0).abs() < 1e-3);
    // A cup out of its range is refused by name, with a better one.
    let cup = json!({ "pot_kpa": to, "cup": "ford4", "run_cup_s": 9.0 });
    assert_eq!(field(book.write(Kind::SetUp, cup)), ("cup-out-of-range".into(), "run_cup_s".into()));
}

#[test]
fn colder_paint_and_an_older_pot_are_thicker() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    let fresh = book.record().paint(book.now).unwrap().fluid.viscosity_mpa_s;
    book.write(Kind::Conditions, json!({ "air_c": 15.0, "surface_c": 14.0, "material_c": 12.0, "rh_pct": 40.0 })).unwrap();
    let cold = book.record().paint(book.now).unwrap().fluid.viscosity_mpa_s;
    // exp(4500·(1/285.15 − 1/293.15)) = 1.538, worked by hand.
    assert!((cold / fresh - 1.538).abs() < 0.002, "{}", cold / fresh);
    book.write(Kind::Conditions, json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 20.0, "rh_pct": 40.0 })).unwrap();
    book.mixed(0.0);
    book.pass(120.0);
    let old = book.record().paint(book.now).unwrap();
    assert!((old.fluid.viscosity_mpa_s / fresh - 2f64.powf(old.age)).abs() < 1e-9 && old.age > 0.3, "{old:?}");
}

#[test]
fn the_ladder_of_a_machine() {
    let machine = json!({ "name": "Machine", "kind": "gel_coat_machine", "pump_most_kpa": 120.0 * PSI, "hose_bore_mm": 9.525,
        "hose_length_mm": 9000.0, "gun": "Gun", "class": "air_assisted", "tip_code": "521" });
    let mut book = Book::with_rig(sheet(), machine);
    let says = |book: &Book| seen(book).advice.expect("a next rung").text.replace('\u{a0}', " ");
    assert!(says(&book).starts_with("Catalyst air first"), "{}", says(&book));
    let burst = |psi: f64, pattern: &str| json!({ "pot_kpa": psi * PSI, "catalyst_kpa": 22.0 * PSI, "pattern": pattern });
    book.write(Kind::SetUp, burst(20.0, "round_fingers")).unwrap();
    assert!(says(&book).starts_with("207 kPa") || says(&book).starts_with("206.8 kPa"), "{}", says(&book));
    book.write(Kind::SetUp, burst(30.0, "lopsided")).unwrap();
    assert!(says(&book).contains("turn the cap half round"));
    book.write(Kind::SetUp, burst(30.0, "heavy_ends")).unwrap();
    book.write(Kind::SetUp, burst(35.0, "even")).unwrap();
    assert!(says(&book).contains("lowest full pattern"));
    let stations = view(
        Uuid::from_u128(9),
        &book.record(),
        &Viewer { writer: writer(Role::Applicator), comb_um: vec![25.4], scale_g: 1.0 },
        book.now,
    );
    assert!(stations.unwrap().stations[2].line.ends_with("even"));
    assert_eq!(book.record().set_ups.last().unwrap().it.pattern, Some(Pattern::Even));
    assert_eq!(field(book.write(Kind::SetUp, burst(130.0, "fog"))).0, "over-rating");
}

/// What was good last time stands beside; clearly more today names its causes in order.
#[test]
fn drift_from_the_last_good_set_up() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    book.write(Kind::SetUp, json!({ "pot_kpa": 14.0 * PSI, "stream_mm": 255.0 })).unwrap();
    let mut record = book.record();
    let good = |psi: f64, nozzle_mm: f64| GoodSetUp {
        number: 7,
        pot_kpa: psi * PSI,
        atomizing_kpa: None,
        stream_mm: Some(250.0),
        temp_c: Some(20.0),
        nozzle_mm: Some(nozzle_mm),
        tip_code: None,
    };
    record.beside.last_good = vec![good(10.0, 1.8)];
    let drift = seen_of(&record, &book).drift.expect("four psi more").replace('\u{a0}', " ");
    assert!(drift.starts_with("27.6 kPa more than last time (batch 0007") && drift.contains("a clog in nozzle"), "{drift}");
    assert!(drift.find("clog") < drift.find("kinked"), "{drift}");
    // Colder by eight degrees: that is the first to say.
    record.beside.last_good = vec![GoodSetUp { temp_c: Some(28.0), ..good(10.0, 1.8) }];
    let drift = seen_of(&record, &book).drift.unwrap();
    assert!(drift.find("colder") < drift.find("clog"), "{drift}");
    // Within a sixth it is the same; with another nozzle it says nothing of a fault.
    record.beside.last_good = vec![good(13.0, 1.8)];
    assert_eq!(seen_of(&record, &book).drift, None);
    record.beside.last_good = vec![good(10.0, 1.4)];
    let set = seen_of(&record, &book);
    assert!(set.drift.is_none() && set.presets[0].other_nozzle);
    // What is kept of this one when it is signed.
    let (rig, kept) = book.record().good_set_up().expect("its stream is in");
    assert_eq!((rig, kept.pot_kpa, kept.nozzle_mm), (Uuid::from_u128(30), 14.0 * PSI, Some(1.8)));
}
