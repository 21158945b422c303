//! The line of a batch asked both ways, the rig drawn with its pressures, and what is said of pressures and air.

use level_keel_core::batch::view::{AskLine, LineAsked, SetView, Viewer, ask, whole};
use level_keel_core::batch::{EntryKind, Record};
use level_keel_core::delivery::BEND_MM;
use level_keel_core::people::Role;
use level_keel_core::quantity::{Prefs, UnitSet};
use level_keel_core::refusal::Refusal;
use proptest::prelude::*;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

/// Psi and inch at the gun, millilitres beside them.
const MIXED: Prefs = Prefs { units: UnitSet::Mixed, ..Prefs::METRIC };

/// 100 mPa·s, 1.2 kg/L, nothing mixed into it: the paint of the worked examples.
fn plain() -> Value {
    let mut body = sheet();
    (body["has_hardener"], body["base_density_kg_l"]) = (json!(false), json!(1.2));
    (body["viscosity_mpa_s"], body["viscosity_at_c"]) = (json!(100.0), json!(20.0));
    body
}

fn changed(mut body: Value, changes: Value) -> Value {
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    body
}

fn asked(book: &Book, line: Value) -> Result<LineAsked, Refusal> {
    let wanted: AskLine = serde_json::from_value(line).expect("a question");
    ask(&Case::alone(&book.record()), &wanted, BEND_MM, book.now, MIXED)
}

fn figure(text: &str) -> f64 {
    text.chars().take_while(|c| c.is_ascii_digit() || *c == '.').collect::<String>().parse().expect("a figure")
}

fn set(record: &Record, book: &Book) -> SetView {
    let writer = level_keel_core::people::Writer { prefs: MIXED, ..writer(Role::Applicator) };
    whole(Uuid::from_u128(9), &Case::alone(record), &Viewer { writer, comb_um: vec![25.4], scale_g: 1.0 }, book.now)
        .expect("a begun batch")
        .set
}

/// Derived, and agreeing with the trade's “8–12 psi gives 8–12 in”: 8 psi 462 mL/min and 8.6 in, 10 psi 564 and 10.5, 12 psi
/// 658 and 12.2. Each way round.
#[test]
fn a_pressure_gives_a_flow_and_a_flow_or_stream_takes_it() {
    let book = Book::with_rig(plain(), pot_rig());
    for (psi, ml_min, inches) in [(8.0, 462.0, 8.6), (10.0, 564.0, 10.5), (12.0, 658.0, 12.2)] {
        let by_pressure = asked(&book, json!({ "pot_kpa": psi * PSI })).unwrap().modelled;
        assert!((figure(&by_pressure.flow.text) - ml_min).abs() < 1.0, "{}", by_pressure.flow.text);
        assert!((figure(&by_pressure.stream.text) - inches).abs() < 0.06, "{}", by_pressure.stream.text);
        let by_flow = asked(&book, json!({ "flow_ml_min": ml_min })).unwrap().modelled;
        assert!((figure(&by_flow.at.text) - psi).abs() < 0.06, "{}", by_flow.at.text);
        let by_stream = asked(&book, json!({ "stream_mm": inches * 25.4 })).unwrap().modelled;
        assert!((figure(&by_stream.at.text) - psi).abs() < 0.11, "{}", by_stream.at.text);
    }
    let ten = asked(&book, json!({ "pot_kpa": 10.0 * PSI })).unwrap();
    assert_eq!((ten.level.word.as_str(), ten.stop, ten.note), ("in", None, None));
    assert_eq!(ten.modelled.regime, "smooth in the hose (laminar)");
    // 4·Q·ρ/(π·d·µ) of 564 mL/min in 9.525 mm, worked by hand: 15.1.
    assert!((figure(&ten.reynolds.text) - 15.1).abs() < 0.1, "{}", ten.reynolds.text);
}

#[test]
fn through_another_nozzle_or_hose_with_another_paint() {
    let book = Book::with_rig(plain(), pot_rig());
    let kpa = |line: Value| figure(&asked(&book, line).unwrap().modelled.at.text);
    let psi_for = |more: Value| kpa(changed(json!({ "flow_ml_min": 350.0 }), more));
    let as_is = psi_for(json!({}));
    assert!(psi_for(json!({ "nozzle_mm": 1.2 })) > as_is && psi_for(json!({ "nozzle_mm": 2.2 })) < as_is);
    // 3.19 psi in 25 ft of 3/8 in, 16.16 in 1/4 in (fluids 1.3.1): the hose alone makes the difference. Two figures of one
    // decimal each are good to a tenth.
    let thin = psi_for(json!({ "hose_bore_mm": 6.35 }));
    assert!((thin - as_is - (16.16 - 3.19)).abs() < 0.11, "{as_is} {thin}");
    assert!((psi_for(json!({ "hose_length_mm": 15_240.0 })) - as_is - 3.19).abs() < 0.11);
    // A metre more of lift is ρ·g·Δz of 1.2 kg/L: 11.77 kPa, 1.71 psi.
    assert!((psi_for(json!({ "lift_mm": 1500.0 })) - as_is - 1.71).abs() < 0.11);
    // Twice as thick, twice what is lost to it; and a cold one is thicker by exp(4500·(1/283.15 − 1/293.15)) = 1.72.
    let thick = asked(&book, json!({ "flow_ml_min": 350.0, "viscosity_mpa_s": 200.0 })).unwrap().modelled;
    assert!(figure(&thick.at.text) > as_is && thick.viscosity_of == "as asked", "{}", thick.viscosity_of);
    let cold = asked(&book, json!({ "flow_ml_min": 350.0, "paint_c": 10.0 })).unwrap().modelled;
    assert!((figure(&cold.viscosity.text) / 100.0 - 1.72).abs() < 0.01, "{}", cold.viscosity.text);
    // Nothing of it is kept.
    assert_eq!(set(&book.record(), &book).modelled.unwrap().viscosity.text.replace('\u{a0}', " "), "100 mPa·s");
}

#[test]
fn what_cannot_be_asked_is_refused_at_its_field() {
    let book = Book::with_rig(plain(), pot_rig());
    for (line, code, field) in [
        (json!({}), "one-of-three", "pot_kpa"),
        (json!({ "pot_kpa": 70.0, "flow_ml_min": 300.0 }), "one-of-three", "flow_ml_min"),
        (json!({ "pot_kpa": 70.0, "stream_mm": 200.0 }), "one-of-three", "stream_mm"),
        (json!({ "pot_kpa": -1.0 }), "outside-limits", "pot_kpa"),
        (json!({ "flow_ml_min": 0.0 }), "outside-limits", "flow_ml_min"),
        (json!({ "flow_ml_min": 50_000.0, "nozzle_mm": 0.1 }), "outside-limits", "flow_ml_min"),
        (json!({ "stream_mm": 9000.0 }), "outside-limits", "stream_mm"),
        (json!({ "pot_kpa": 70.0, "nozzle_mm": 0.0 }), "outside-limits", "nozzle_mm"),
        (json!({ "pot_kpa": 70.0, "hose_length_mm": 0.0 }), "outside-limits", "hose_length_mm"),
        (json!({ "pot_kpa": 70.0, "hose_length_mm": 5e6 }), "outside-limits", "hose_length_mm"),
        (json!({ "pot_kpa": 70.0, "viscosity_mpa_s": 0.0 }), "outside-limits", "viscosity_mpa_s"),
        (json!({ "pot_kpa": 70.0, "paint_c": 300.0 }), "outside-limits", "paint_c"),
    ] {
        let refusal = asked(&book, line.clone()).expect_err(&format!("{line} must be refused"));
        assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), (code, Some(field)), "{line}: {}", refusal.text);
    }
    // No rig, an airless one, no word on how thick the paint is.
    let none = Book::begun(plain());
    assert_eq!(asked(&none, json!({ "pot_kpa": 70.0 })).unwrap_err().code, "no-line");
    let airless = json!({ "name": "A", "kind": "airless", "hose_bore_mm": 6.35, "hose_length_mm": 15_000.0, "gun": "G", "class": "airless", "tip_code": "517" });
    let airless = Book::with_rig(plain(), airless);
    let refusal = asked(&airless, json!({ "pot_kpa": 70.0 })).unwrap_err();
    assert!(refusal.code == "no-line" && refusal.text.contains("pattern"), "{}", refusal.text);
    let unknown = Book::with_rig(sheet(), pot_rig());
    assert_eq!(asked(&unknown, json!({ "pot_kpa": 70.0 })).unwrap_err().code, "no-paint");
    assert!(asked(&unknown, json!({ "pot_kpa": 70.0, "viscosity_mpa_s": 80.0 })).is_ok());
}

#[test]
fn what_a_pressure_brings_with_it_is_said() {
    let book = Book::with_rig(plain(), pot_rig());
    let over = asked(&book, json!({ "pot_kpa": 90.0 * PSI })).unwrap();
    assert!(over.stop.as_deref().is_some_and(|s| s.contains("80\u{a0}psi")), "{:?}", over.stop);
    let note = |psi: f64| asked(&book, json!({ "pot_kpa": psi * PSI })).unwrap().note.map(|n| n.replace('\u{a0}', " "));
    assert_eq!(note(20.0), None, "twenty is not over twenty");
    let small = note(25.0).expect("over twenty");
    assert!(small.starts_with("Over 20 psi on a fine-finish gun"), "{small}");
    assert!(note(51.0).expect("over fifty").starts_with("Past 50 psi look for a small nozzle"));
}

/// Fluid pressure falls along the line, the air's falls along its own hose; each stands at its piece.
#[test]
fn the_rig_is_drawn_with_the_pressures_along_it() {
    let mut book = Book::with_rig(plain(), pot_rig());
    let before = set(&book.record(), &book).points;
    assert_eq!(
        before.iter().map(|p| p.is.as_str()).collect::<Vec<_>>(),
        ["supply", "regulator", "vessel", "hose", "gun", "nozzle"]
    );
    assert!(before.iter().all(|p| p.kpa.is_none()));
    assert_eq!(before[0].air.as_ref().unwrap().text.replace('\u{a0}', " "), "89.9 psi", "the supply stands where it stands");
    let tried = |at: &str| json!({ "pot_kpa": 10.0 * PSI, "stream_mm": 267.0, "atomizing_kpa": 45.0 * PSI, "air_at": at });
    book.write(EntryKind::SetUp, tried("gun")).unwrap();
    let points = set(&book.record(), &book).points;
    let fluid: Vec<f64> = points.iter().filter_map(|p| Some(figure(&p.kpa.as_ref()?.text))).collect();
    assert!(fluid.windows(2).all(|w| w[0] >= w[1]) && fluid.first() == Some(&10.0) && fluid.last() == Some(&0.0), "{fluid:?}");
    let air = |points: &[level_keel_core::rigs::LinePoint], i: usize| figure(&points[i].air.as_ref().expect("air").text);
    assert!(air(&points, 4) == 45.0 && air(&points, 1) > 45.0, "the wall gives what the hose takes");
    book.write(EntryKind::SetUp, tried("wall")).unwrap();
    let points = set(&book.record(), &book).points;
    assert!(air(&points, 1) == 45.0 && air(&points, 4) < 45.0);
    // An airless rig has no line to reckon: the pump's own pressure stands at it.
    let airless = json!({ "name": "A", "kind": "airless", "hose_bore_mm": 6.35, "hose_length_mm": 15_000.0, "gun": "G", "class": "airless", "tip_code": "517" });
    let mut book = Book::with_rig(plain(), airless);
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 40.0 * PSI, "pattern": "even" })).unwrap();
    let points = set(&book.record(), &book).points;
    assert_eq!(points.iter().filter_map(|p| p.kpa.as_ref()).map(|k| k.figure.as_str()).collect::<Vec<_>>(), ["40"]);
}

/// A pump stands 30 to 40 psi over a fluid regulated under 20, or its change-over is seen in the fan.
#[test]
fn a_pump_too_near_its_regulator_pulses() {
    let pump = |stands: f64| {
        json!({ "name": "Pump", "kind": "pump", "pump_most_kpa": 100.0 * PSI, "pump_stands_kpa": stands * PSI, "hose_bore_mm": 9.525,
            "hose_length_mm": 7620.0, "gun": "G", "class": "conventional", "nozzle_mm": 1.8 })
    };
    let notes = |stands: f64, psi: f64| {
        let mut book = Book::with_rig(plain(), pump(stands));
        book.write(EntryKind::SetUp, json!({ "pot_kpa": psi * PSI, "stream_mm": 260.0 })).unwrap();
        set(&book.record(), &book).notes.join(" ").replace('\u{a0}', " ")
    };
    assert!(notes(22.0, 12.0).contains("30 to 40 psi"), "{}", notes(22.0, 12.0));
    assert!(!notes(30.0, 12.0).contains("pulse") && !notes(38.0, 12.0).contains("pulse"));
    assert!(!notes(22.0, 21.0).contains("pulse the fan. 30"), "over twenty it is no such rig");
}

/// Catalyst air: the sheet's band rules, else the school's; long hoses may have more.
#[test]
fn catalyst_air_is_judged_by_the_sheet_first() {
    let machine = json!({ "name": "Machine", "kind": "gel_coat_machine", "pump_most_kpa": 120.0 * PSI, "hose_bore_mm": 9.525,
        "hose_length_mm": 9000.0, "gun": "Gun", "class": "air_assisted", "tip_code": "521", "catalyst_most_kpa": 60.0 * PSI });
    let says = |sheet: Value, psi: f64| {
        let mut book = Book::with_rig(sheet, machine.clone());
        book.write(EntryKind::SetUp, json!({ "pot_kpa": 30.0 * PSI, "catalyst_kpa": psi * PSI, "pattern": "even" })).unwrap();
        set(&book.record(), &book).notes.join(" ").replace('\u{a0}', " ")
    };
    let tight = changed(plain(), json!({ "catalyst_air_min_kpa": 21.0 * PSI, "catalyst_air_max_kpa": 24.0 * PSI }));
    for (body, psi, wants) in [
        (plain(), 17.0, "under 20 psi: droplets"),
        (plain(), 22.0, ""),
        (plain(), 30.0, "over 25 psi is for long hoses only"),
        (plain(), 41.0, "over 40 psi: fog"),
        (tight.clone(), 20.0, "under 21 psi: droplets"),
        (tight.clone(), 25.0, "over 24 psi is for long hoses only"),
        (tight, 23.0, ""),
    ] {
        let said = says(body, psi);
        assert!(if wants.is_empty() { !said.contains("Catalyst") } else { said.contains(wants) }, "{psi} psi: {said}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, cases: 400, ..ProptestConfig::default() })]

    /// Asked any figures, the line answers with one it would give back, or refuses at a field; it never panics.
    #[test]
    fn asked_anything_it_answers_or_refuses(
        given in 0..3usize, value in prop_oneof![any::<f64>(), 0.0..1000.0f64],
        nozzle_mm in prop::option::of(prop_oneof![any::<f64>(), 0.2..5.0f64]),
        hose_bore_mm in prop::option::of(2.0..40.0f64), paint_c in prop::option::of(-60.0..90.0f64),
        viscosity_mpa_s in prop::option::of(prop_oneof![any::<f64>(), 1.0..5000.0f64]),
    ) {
        let book = Book::with_rig(plain(), pot_rig());
        let one = |n: usize| (given == n).then_some(value);
        let line = AskLine { pot_kpa: one(0), flow_ml_min: one(1), stream_mm: one(2), nozzle_mm, hose_bore_mm, paint_c, viscosity_mpa_s, ..AskLine::default() };
        match ask(&Case::alone(&book.record()), &line, BEND_MM, book.now, MIXED) {
            Ok(answer) => prop_assert!(!answer.modelled.at.text.contains("NaN") && answer.level.from <= answer.level.to),
            Err(refusal) => prop_assert!(refusal.field.is_some(), "{}", refusal.text),
        }
    }
}
