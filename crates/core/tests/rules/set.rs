//! Set by the book: the rig chosen, tries, what a catch teaches, the ladder, what was good last time.

use level_keel_core::batch::beside::GoodSetUp;
use level_keel_core::batch::entries::{FlowCatch, SetStep};
use level_keel_core::batch::paint::KnownFrom;
use level_keel_core::batch::stream::SeenBend;
use level_keel_core::batch::view::{SetView, Viewer};
use level_keel_core::batch::{EntryKind, whole};
use level_keel_core::delivery::Eye;
use level_keel_core::people::Role;
use level_keel_core::rigs::Rig;
use level_keel_core::worded::Worded;
use level_keel_core::{atomizing::ladder::Pattern, quantity::Prefs};
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

pub fn thick_sheet() -> Value {
    let mut sheet = sheet();
    (sheet["viscosity_mpa_s"], sheet["viscosity_at_c"]) = (json!(100.0), json!(20.0));
    sheet
}

pub fn seen_of(case: &Case<'_>, book: &Book) -> SetView {
    let viewer = Viewer { writer: writer(Role::Applicator), comb_um: vec![25.4, 50.8], scale_g: 1.0 };
    whole(Uuid::from_u128(9), case, &viewer, book.now).expect("a begun batch").set
}

fn seen(book: &Book) -> SetView {
    seen_of(&Case::alone(&book.record()), book)
}

pub fn field(refusal: Result<Uuid, level_keel_core::refusal::Refusal>) -> (String, String) {
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
    let pressed = |book: &mut Book, kpa: f64| book.write(EntryKind::SetUp, json!({ "pot_kpa": kpa }));
    assert_eq!(field(pressed(&mut book, 81.0 * PSI)), ("over-rating".into(), "pot_kpa".into()));
    assert_eq!(field(pressed(&mut book, -5.0)).1, "pot_kpa");
    // What such paint really does, by the line itself.
    let line = serde_json::from_value::<Rig>(pot_rig()).unwrap().line().unwrap();
    let record = book.record();
    let mut fluid = record.paint(book.now).unwrap().fluid;
    fluid.viscosity_mpa_s *= 1.6;
    let really = |kpa: f64| line.at(&fluid, kpa);
    let ten = 10.0 * PSI;
    book.write(EntryKind::SetUp, json!({ "pot_kpa": ten, "stream_mm": really(ten).stream_mm(25.4) })).unwrap();
    let advice = seen(&book).advice.expect("too short");
    let to: f64 = advice.to.unwrap().figure.parse().unwrap();
    let there = really(to);
    let (lo, hi) = record.aim().unwrap().sheet.stream.band_mm();
    assert!((lo..=hi).contains(&there.stream_mm(25.4)), "{} mm at {to} kPa", there.stream_mm(25.4));
    book.write(
        EntryKind::SetUp,
        json!({ "pot_kpa": to, "stream_mm": there.stream_mm(25.4), "atomizing_kpa": 45.0 * PSI, "air_at": "gun" }),
    )
    .unwrap();
    let done = seen(&book);
    assert!(done.advice.is_none(), "in: nothing to change");
    assert!(done.wall.as_deref().is_some_and(|w| w.starts_with("Set the wall to")), "{:?}", done.wall);
    // A catch tells how thick it is; what no paint could give is refused at its field.
    let caught = |ml: f64| json!({ "pot_kpa": to, "caught_ml": ml, "caught_watch_s": 60.0 });
    assert_eq!(field(book.write(EntryKind::FlowCatch, caught(9000.0))), ("flows-too-much".into(), "caught_ml".into()));
    let negative = json!({ "pot_kpa": to, "caught_g": -4.0, "caught_watch_s": 60.0 });
    assert_eq!(field(book.write(EntryKind::FlowCatch, negative)).1, "caught_g");
    book.write(EntryKind::FlowCatch, caught(there.flow_ml_min)).unwrap();
    let paint = book.record().paint(book.now).unwrap();
    assert_eq!(paint.from, KnownFrom::Catch);
    assert!((paint.fluid.viscosity_mpa_s / fluid.viscosity_mpa_s - 1.0).abs() < 1e-3);
    // A cup out of its range is refused by name, with a better one.
    let cup = json!({ "pot_kpa": to, "cup": "ford4", "run_cup_s": 9.0 });
    assert_eq!(field(book.write(EntryKind::SetUp, cup)), ("cup-out-of-range".into(), "run_cup_s".into()));
}

#[test]
fn colder_paint_and_an_older_pot_are_thicker() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    let fresh = book.record().paint(book.now).unwrap().fluid.viscosity_mpa_s;
    book.write(EntryKind::Conditions, json!({ "air_c": 15.0, "surface_c": 14.0, "material_c": 12.0, "rh_pct": 40.0 })).unwrap();
    let cold = book.record().paint(book.now).unwrap().fluid.viscosity_mpa_s;
    // exp(4500·(1/285.15 − 1/293.15)) = 1.538, worked by hand.
    assert!((cold / fresh - 1.538).abs() < 0.002, "{}", cold / fresh);
    book.write(EntryKind::Conditions, json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 20.0, "rh_pct": 40.0 })).unwrap();
    book.mixed(0.0);
    book.pass(120.0);
    let old = book.record().paint(book.now).unwrap();
    assert!((old.fluid.viscosity_mpa_s / fresh - 2f64.powf(old.age)).abs() < 1e-9 && old.age > 0.3, "{old:?}");
}

#[test]
fn the_ladder_of_a_machine() {
    let machine = json!({ "name": "Machine", "kind": "gel_coat_machine", "pump_most_kpa": 120.0 * PSI, "hose_bore_mm": 9.525,
        "hose_length_mm": 9000.0, "gun": "Gun", "class": "air_assisted", "tip_code": "521", "catalyst_most_kpa": 60.0 * PSI });
    let mut book = Book::with_rig(sheet(), machine);
    let says = |book: &Book| seen(book).advice.expect("a next rung").text.replace('\u{a0}', " ");
    assert!(says(&book).starts_with("Catalyst air first"), "{}", says(&book));
    let burst = |psi: f64, pattern: &str| json!({ "pot_kpa": psi * PSI, "catalyst_kpa": 22.0 * PSI, "pattern": pattern });
    book.write(EntryKind::SetUp, burst(20.0, "round_fingers")).unwrap();
    assert!(says(&book).starts_with("207 kPa") || says(&book).starts_with("206.8 kPa"), "{}", says(&book));
    book.write(EntryKind::SetUp, burst(30.0, "lopsided")).unwrap();
    assert!(says(&book).contains("turn the cap half round"));
    book.write(EntryKind::SetUp, burst(30.0, "heavy_ends")).unwrap();
    book.write(EntryKind::SetUp, burst(35.0, "even")).unwrap();
    assert!(says(&book).contains("lowest full pattern"));
    let stations = whole(
        Uuid::from_u128(9),
        &Case::alone(&book.record()),
        &Viewer { writer: writer(Role::Applicator), comb_um: vec![25.4], scale_g: 1.0 },
        book.now,
    );
    assert!(stations.unwrap().stations[2].line.ends_with("even"));
    assert_eq!(book.record().set_ups.last().unwrap().it.pattern, Some(Pattern::Even));
    assert_eq!(field(book.write(EntryKind::SetUp, burst(130.0, "fog"))).0, "over-rating");
}

/// What was good last time stands beside; clearly more today names its causes in order.
#[test]
fn drift_from_the_last_good_set_up() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 14.0 * PSI, "stream_mm": 255.0 })).unwrap();
    let (record, mut beside) = (book.record(), Beside::default());
    let good = |psi: f64, nozzle_mm: f64| GoodSetUp {
        number: 7,
        pot_kpa: Some(psi * PSI),
        stream_mm: Some(250.0),
        temp_c: Some(20.0),
        nozzle_mm: Some(nozzle_mm),
        ..GoodSetUp::default()
    };
    beside.last_good = vec![good(10.0, 1.8)];
    let drift = seen_of(&Case::new(&record, &beside), &book).drift.expect("four psi more").replace('\u{a0}', " ");
    assert!(drift.starts_with("27.6 kPa more than last time (batch 0007") && drift.contains("a clog in nozzle"), "{drift}");
    assert!(drift.find("clog") < drift.find("kinked"), "{drift}");
    // Colder by eight degrees: that is the first to say.
    beside.last_good = vec![GoodSetUp { temp_c: Some(28.0), ..good(10.0, 1.8) }];
    let drift = seen_of(&Case::new(&record, &beside), &book).drift.unwrap();
    assert!(drift.find("colder") < drift.find("clog"), "{drift}");
    // Within a sixth it is the same; with another nozzle it says nothing of a fault.
    beside.last_good = vec![good(13.0, 1.8)];
    assert_eq!(seen_of(&Case::new(&record, &beside), &book).drift, None);
    beside.last_good = vec![good(10.0, 1.4)];
    let set = seen_of(&Case::new(&record, &beside), &book);
    assert!(set.drift.is_none() && set.presets[0].other_nozzle);
    // Parted by temperature: what stood at 20 °C as today comes first and is what today is held against, though it is older.
    let cold = GoodSetUp { number: 9, temp_c: Some(8.0), ..good(19.0, 1.8) };
    beside.last_good = vec![cold.clone(), good(13.0, 1.8)];
    let set = seen_of(&Case::new(&record, &beside), &book);
    assert_eq!(set.presets.iter().map(|p| (p.number, p.other_temperature)).collect::<Vec<_>>(), [(7, false), (9, true)]);
    assert_eq!(set.drift, None);
    // Five degrees are still alike, more are not; where it was not read it is not known to be another.
    let alike = |temp_c: Option<f64>| {
        let beside = Beside { last_good: vec![GoodSetUp { temp_c, ..cold.clone() }], ..Beside::default() };
        !seen_of(&Case::new(&record, &beside), &book).presets[0].other_temperature
    };
    assert_eq!([Some(15.0), Some(14.9), Some(25.0), Some(25.1), None].map(alike), [true, false, true, false, true]);
    // What is kept of this one when it is signed.
    let (rig, kept) = book.record().good_set_up().expect("its stream is in");
    assert_eq!((rig, kept.pot_kpa, kept.nozzle_mm), (Uuid::from_u128(30), Some(14.0 * PSI), Some(1.8)));
}

// ---- What is known of the paint and of an eye.

/// 4:1 by volume at 1.42 and 0.98 kg/L: (4 × 1.42 + 0.98) / 5 = 1.332 kg/L. 133.2 g in 30 s are 200 mL a minute.
#[test]
fn a_weighed_catch_is_a_flow_by_the_density_of_the_finished_paint() {
    let book = Book::with_rig(thick_sheet(), pot_rig());
    let density = book.record().density_kg_l().unwrap();
    assert!((density - 1.332).abs() < 1e-9, "{density}");
    let caught = |body: Value| serde_json::from_value::<FlowCatch>(body).unwrap().flow_ml_min(density);
    let weighed = caught(json!({ "pot_kpa": 60.0, "caught_g": 133.2, "caught_watch_s": 30.0 }));
    assert!((weighed - 200.0).abs() < 1e-9, "{weighed}");
    let measured = caught(json!({ "pot_kpa": 60.0, "caught_ml": 100.0, "caught_watch_s": 30.0 }));
    assert!((measured - 200.0).abs() < 1e-9, "{measured}");
}

/// Two points of a sheet: 100 mPa·s at 20 °C and 60 at 30 °C are ln(100/60) / (1/293.15 − 1/303.15) = 4,540 K.
#[test]
fn a_sheet_with_two_points_says_how_steeply_it_thins() {
    let mut body = thick_sheet();
    (body["viscosity_warm_mpa_s"], body["viscosity_warm_at_c"]) = (json!(60.0), json!(30.0));
    let steep = Book::begun(body).record().steepness_k();
    assert!((steep - 4539.7).abs() < 0.5, "{steep}");
    assert_eq!(Book::begun(thick_sheet()).record().steepness_k(), 4500.0, "from memory, where a sheet says nothing");
}

/// A catch of an older pot is brought to the age of today's: thicker by 2 to the power of the age between.
#[test]
fn a_catch_ages_with_its_pot_and_a_closed_pot_ages_no_paint() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    book.mixed(328.0);
    book.pass(35.0).write(EntryKind::FlowCatch, json!({ "pot_kpa": 69.0, "caught_ml": 300.0, "caught_watch_s": 60.0 })).unwrap();
    let first = book.record().paint(book.now).unwrap();
    // As old as it was when it was caught, it gives what was caught.
    let line = book.record().rig().and_then(Rig::line).unwrap();
    let again = line.at(&first.fluid, 69.0).flow_ml_min;
    assert!((again - 300.0).abs() < 1e-3, "{again}");
    book.pass(60.0);
    let later = book.record().paint(book.now).unwrap();
    assert!(first.age > 0.1 && later.age > first.age + 0.2, "{first:?} {later:?}");
    let ratio = later.fluid.viscosity_mpa_s / first.fluid.viscosity_mpa_s;
    assert!((ratio - 2f64.powf(later.age - first.age)).abs() < 1e-9, "{ratio}");
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    book.pass(1.0);
    assert_eq!(book.record().paint(book.now).unwrap().age, 0.0);
}

/// A rig is under pressure since it was pressed last; a gauge at nought presses nothing.
#[test]
fn only_pressure_puts_a_rig_under_pressure() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    assert_eq!(book.record().pressed_at(), None);
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 69.0, "stream_mm": 250.0 })).unwrap();
    let pressed = Some(book.now);
    book.pass(5.0).write(EntryKind::SetUp, json!({ "pot_kpa": 0.0 })).unwrap();
    assert_eq!(book.record().pressed_at(), pressed);
    book.pass(5.0).write(EntryKind::FlowCatch, json!({ "pot_kpa": 69.0, "caught_ml": 300.0, "caught_watch_s": 60.0 })).unwrap();
    assert_eq!(book.record().pressed_at(), Some(book.now), "a catch presses it too");
    // A stream written beside no pressure is nobody's look; the one before it still teaches.
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 0.0, "stream_mm": 250.0 })).unwrap();
    assert!(book.record().seen_bend().is_some());
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 0.0 })).unwrap();
    let stands = Case::alone(&book.record()).stream_state(book.now);
    assert!(stands.is_none_or(|s| !s.by_catch), "without pressure no catch says what leaves the nozzle");
}

/// Two bends known are chance; three are an eye, by their geometric mean, of this person and this gun alone.
#[test]
fn an_eye_is_known_from_three_bends_of_its_own() {
    let me = person(Role::Applicator);
    let bend = |by: Uuid, gun: &str, mm: f64| SeenBend { gun: gun.into(), by, mm };
    let known = |bends: Vec<SeenBend>| {
        let record = Book::with_rig(thick_sheet(), pot_rig()).record();
        let beside = Beside { bends, ..Beside::default() };
        let case = Case::new(&record, &beside);
        (case.bend_mm(me), case.eye(me))
    };
    let mine = |mm: &[f64]| -> Vec<SeenBend> { mm.iter().map(|mm| bend(me, "Pot gun", *mm)).collect() };
    assert_eq!(known(mine(&[16.0, 36.0])), (25.4, Eye::USUAL));
    // √[3](16 × 24 × 36) = 24; the widest is √(36/24) − 1 = 22.47 %.
    let (mm, eye) = known(mine(&[16.0, 24.0, 36.0]));
    assert!((mm - 24.0).abs() < 1e-9, "{mm}");
    assert!(matches!(eye, Eye::Part(part) if (part - 0.224_745).abs() < 1e-6), "{eye:?}");
    let (mm, _) = known(mine(&[16.0, 24.0, 36.0, 24.0]));
    assert!((mm - 24.0).abs() < 1e-9, "{mm}");
    // Alike to the hair they are still no better than a twentieth.
    assert_eq!(known(mine(&[25.0, 25.0, 25.0])).1, Eye::Part(0.05));
    for (by, gun) in [(person(Role::Lead), "Pot gun"), (me, "Another gun")] {
        let others = [16.0, 24.0, 36.0].map(|mm| bend(by, gun, mm)).to_vec();
        assert_eq!(known(others), (25.4, Eye::USUAL), "{gun}");
    }
}

/// Words of the log and the page.
#[test]
fn steps_and_sources_have_their_words() {
    let word = |step: &str| SetStep { step: step.into() }.name();
    assert_eq!(word("nothing of ours"), "A step");
    let all = ["backed_off", "gauge", "hose_laid", "up_slowly", "prime", "vent_back", "full_trigger"].map(word);
    assert_eq!(all.iter().collect::<std::collections::BTreeSet<_>>().len(), all.len(), "{all:?}");
    assert!(all.iter().all(|w| *w != "A step"), "{all:?}");
    assert!(word("gauge").to_lowercase().contains("gauge") && word("hose_laid").to_lowercase().contains("hose"), "{all:?}");
    let from = [KnownFrom::Catch, KnownFrom::Cup, KnownFrom::Sheet, KnownFrom::Asked].map(KnownFrom::word);
    assert_eq!(from, ["by the catch", "by the cup", "by the sheet, which is rough", "as asked"]);
}

/// A cup's seconds want the cup; its range, a catch and a plate their limits.
#[test]
fn what_is_set_is_well_formed() {
    let mut book = Book::with_rig(thick_sheet(), pot_rig());
    let ran = json!({ "pot_kpa": 69.0, "run_cup_s": 30.0 });
    assert_eq!(field(book.write(EntryKind::SetUp, ran)), ("missing".into(), "cup".into()));
    let cup = |s: f64| json!({ "cup": "ford4", "run_cup_s": s });
    assert_eq!(field(book.write(EntryKind::CupRun, cup(5.0))), ("cup-out-of-range".into(), "run_cup_s".into()));
    book.write(EntryKind::CupRun, cup(30.0)).unwrap();
    let empty = json!({ "pot_kpa": 69.0, "caught_g": 0.0, "caught_watch_s": 30.0 });
    assert_eq!(field(book.write(EntryKind::FlowCatch, empty)), ("nothing-caught".into(), "caught_g".into()));
    assert_eq!(field(book.write(EntryKind::SetStep, json!({ "step": "dance" }))), ("unknown".into(), "step".into()));
}

/// Worth keeping is a stream that is in or an even pattern, and nothing else.
#[test]
fn what_was_good_of_a_set_up() {
    let kept = |body: Value| {
        let mut book = Book::with_rig(thick_sheet(), pot_rig());
        book.write(EntryKind::SetUp, body).unwrap();
        book.record().good_set_up().map(|(rig, good)| (rig, good.number, good.stream_mm, good.temp_c))
    };
    assert_eq!(kept(json!({ "pot_kpa": 69.0, "stream_mm": 100.0 })), None);
    assert_eq!(kept(json!({ "pot_kpa": 69.0, "stream_mm": 250.0 })), Some((Uuid::from_u128(30), 12, Some(250.0), Some(20.0))));
    assert_eq!(kept(json!({ "pot_kpa": 69.0, "pattern": "heavy_middle" })), None);
    assert_eq!(kept(json!({ "pot_kpa": 69.0, "pattern": "even" })), Some((Uuid::from_u128(30), 12, None, Some(20.0))));
}

// ---- Out of the gun's own cup.
