//! A coat by brush or roller: nothing is set, the words are its own, the plan goes by area.

use level_keel_core::batch::EntryKind;
use serde_json::{Value, json};

use crate::book::*;
use crate::gates::gel;
use crate::mix::seen;
use crate::set::thick_sheet;
use crate::set_by_gun::{cup_rig, of_kind};

/// Nobody is asked for pressures a brush does not have, nor warned of a pot under pressure that is not there.
#[test]
fn by_brush_and_roller_nothing_is_set() {
    let mut sheet = thick_sheet();
    sheet["hazards"] = json!(["solvent", "pressure_vessel", "high_pressure_fluid"]);
    let of = |method: Value, rig: Option<Value>| {
        let mut book = Book::begun_with(sheet.clone(), json!({ "method": method }));
        if let Some(rig) = rig {
            book.write(EntryKind::ChooseRig, json!({ "rig": uuid::Uuid::from_u128(30), "fitted": rig })).unwrap();
        }
        let record = book.record();
        let hazards: Vec<&str> = record.hazards().into_iter().map(level_keel_core::worded::Worded::word).collect();
        (seen(&book).set.by_hand.map(|by| by.text), hazards.join(", "), record.put_on().station)
    };
    let (by_hand, hazards, station) = of(json!("brush"), None);
    assert!(by_hand.is_some_and(|text| text.starts_with("By brush nothing is set")));
    assert_eq!((hazards.as_str(), station), ("Flammable solvent", "Coat"));
    assert!(of(json!("roller"), None).0.is_some_and(|text| text.starts_with("By roller")));
    let all = "Flammable solvent, Pot under pressure, High-pressure fluid";
    // One way is the gel coat's rule.
    let how = |sheet: Value| seen(&Book::begun_with(sheet, json!({ "method": "brush" }))).set.by_hand.unwrap().how.join(" ");
    assert!(!how(thick_sheet()).contains("one way"));
    assert!(how(gel(json!({}))).ends_with("Gel coat one way only."));
    assert_eq!(of(json!("pot"), None), (None, all.into(), "Spray"));
    assert_eq!(of(Value::Null, None).1, all, "what is not known warns of all");
    assert_eq!(of(Value::Null, Some(cup_rig(json!({})))).1, "Flammable solvent");
    assert_eq!(of(json!("gun_cup"), Some(pot_rig())).1, all, "the rig in hand says more than the plan");
    assert_eq!(of(json!("airless"), Some(of_kind("airless", json!({})))).1, "Flammable solvent, High-pressure fluid");
}

/// By brush and roller the rate is an area in an hour. 15 m² at 4 mil (101.6 µm) with 100 % staying take 1,524 mL: 25.4 mL a minute.
#[test]
fn by_brush_the_rate_is_an_area_in_an_hour() {
    let by_hand = || Book::begun_with(sheet(), json!({ "method": "brush", "transfer_pct": 100.0 }));
    let mut book = by_hand();
    book.write(EntryKind::PlanMix, json!({ "in_an_hour_m2": 15.0, "fill_ml": 1000.0 })).unwrap();
    let record = book.record();
    let plan = &record.plan_mix.as_ref().unwrap().it;
    assert!((plan.rate_ml_min - 25.4).abs() < 1e-9, "{plan:?}");
    let view = seen(&book).mix.plan.unwrap();
    assert_eq!((view.texts["in_an_hour_m2"].as_str(), view.texts["rate_ml_min"].as_str()), ("15\u{a0}m²", ""));
    assert!(view.pots.iter().all(|p| !p.mix_by.contains("gun")), "{:?}", view.pots);
    // Half of it stays: twice the paint in the same hour.
    let mut lossy = Book::begun_with(sheet(), json!({ "method": "roller", "transfer_pct": 50.0 }));
    lossy.write(EntryKind::PlanMix, json!({ "in_an_hour_m2": 15.0 })).unwrap();
    assert!((lossy.record().plan_mix.unwrap().it.rate_ml_min - 50.8).abs() < 1e-9);
    let both = by_hand().write(EntryKind::PlanMix, json!({ "in_an_hour_m2": 15.0, "rate_ml_min": 30.0 })).unwrap_err();
    assert_eq!((both.code, both.field.as_deref()), ("one-of-two".into(), Some("rate_ml_min")));
    for nothing in [json!({ "in_an_hour_m2": 0.0 }), json!({ "in_an_hour_m2": -4.0 })] {
        assert_eq!(by_hand().write(EntryKind::PlanMix, nothing).unwrap_err().field.as_deref(), Some("in_an_hour_m2"));
    }
    assert_eq!(by_hand().write(EntryKind::PlanMix, json!({})).unwrap_err().field.as_deref(), Some("rate_ml_min"));
}
