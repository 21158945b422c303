//! Nothing gets younger: births, temperatures, stirring, what may be filled.

use super::*;

#[test]
fn what_goes_in_after_stirring_is_stirred_again_and_inducts_anew() {
    for (component, more_g) in [("hardener", 4.0), ("base", 20.0)] {
        let mut book = ready(sheet());
        book.mixed(328.0);
        let born = book.record().charges[0].combined();
        book.pass(25.0).pour(component, 1900.0 + 328.0 + more_g).unwrap();
        assert_eq!(troubles(&book, GateName::Induction), ["not-stirred"], "{component}");
        held(start(&mut book), "Stir it again");
        book.write(EntryKind::Stirred, on()).unwrap();
        held(book.pass(19.9).write(EntryKind::StartSpraying, on()), "induction ends in");
        book.pass(0.2).write(EntryKind::StartSpraying, on()).unwrap();
        assert_eq!(book.record().charges[0].combined(), born, "its birth stays");
    }
    // Stirring once more, with nothing added, restarts nothing; nor does thinner.
    let thin = with(sheet(), json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 }));
    let mut book = ready(thin);
    book.mixed(328.0);
    book.pass(15.0).write(EntryKind::Stirred, on()).unwrap();
    book.pour("thinner", 2228.0 + 50.0).unwrap();
    book.pass(5.0).write(EntryKind::StartSpraying, on()).unwrap();
}

fn strike(book: &mut Book, kind: EntryKind) {
    let lines: Vec<Uuid> = book.record().log.iter().filter(|l| l.kind == kind && l.struck.is_none()).map(|l| l.entry).collect();
    for entry in lines {
        book.write_as(Role::Lead, EntryKind::Strike, json!({ "entry": entry, "reason": "entered wrong" })).unwrap();
    }
}

fn age(book: &Book) -> f64 {
    let record = book.record();
    record.clock(&record.charges[0], book.now).unwrap().age
}

#[test]
fn striking_and_entering_anew_leaves_the_birth_where_it_was() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(115.0);
    assert!((age(&book) - 0.5).abs() < 1e-9, "two hours of four");
    strike(&mut book, EntryKind::Combine);
    strike(&mut book, EntryKind::Pour);
    strike(&mut book, EntryKind::Stirred);
    // Nothing stands of it, and it is as old as it was.
    assert!((age(&book) - 0.5).abs() < 1e-9);
    book.ready();
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    assert!((age(&book) - 0.5).abs() < 1e-9);
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Life), ["birth-in-doubt"]);
    held(start(&mut book), "struck");
    // A lead who knows better says so, with a reason; an applicator does not.
    let deny = json!({ "charge": POT, "reason": "the pot stood empty: the wrong batch" });
    assert_eq!(book.write(EntryKind::DenyBirth, deny.clone()).unwrap_err().why, Why::Forbidden);
    let bare = json!({ "charge": POT, "reason": " " });
    assert_eq!(book.write_as(Role::Lead, EntryKind::DenyBirth, bare).unwrap_err().field.as_deref(), Some("reason"));
    book.write_as(Role::Owner, EntryKind::DenyBirth, deny.clone()).unwrap();
    assert!((age(&book) - 25.0 / 240.0).abs() < 1e-9);
    assert_eq!(book.write_as(Role::Lead, EntryKind::DenyBirth, deny).unwrap_err().code, "no-birth-in-doubt");
    start(&mut book).unwrap();
}

/// Hardener named alone by a slip, while base stands in another pot, is no birth.
#[test]
fn a_slip_of_the_hand_beside_another_pot_is_no_birth() {
    let mut book = ready(sheet());
    open(&mut book, OTHER);
    let base = json!({ "charge": OTHER, "component": "base", "reading_g": 1900.0, "resolution_g": 1.0, "lot": null });
    book.write(EntryKind::Pour, base).unwrap();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 2, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    let slip = book.pour("hardener", 5.0).unwrap();
    book.write(EntryKind::Strike, json!({ "entry": slip, "reason": "that was the base" })).unwrap();
    book.pass(30.0).pour("base", 1900.0).unwrap();
    book.ready();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    let record = book.record();
    assert_eq!(record.clock(record.charge(POT).unwrap(), book.now).unwrap().age, 0.0);
    assert_eq!(troubles(&book, GateName::Life), Vec::<String>::new());
}

/// A lead's denial is of one vessel.
#[test]
fn a_denied_birth_leaves_another_pots_where_it_was() {
    let mut book = ready(sheet());
    open(&mut book, OTHER);
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 2, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    for charge in [OTHER, POT] {
        let pour = |component: &str, g: f64| json!({ "charge": charge, "component": component, "reading_g": g, "resolution_g": 1.0, "lot": null });
        book.write(EntryKind::Pour, pour("base", 1900.0)).unwrap();
        book.write(EntryKind::Combine, json!({ "charge": charge })).unwrap();
        book.pass(2.0).write(EntryKind::Pour, pour("hardener", 2228.0)).unwrap();
    }
    strike(&mut book, EntryKind::Combine);
    assert_eq!(troubles(&book, GateName::Life), ["birth-in-doubt", "birth-in-doubt"]);
    book.write_as(Role::Lead, EntryKind::DenyBirth, json!({ "charge": POT, "reason": "never combined" })).unwrap();
    let doubted: Vec<_> = holds(&book).into_iter().filter(|h| h.gate == GateName::Life).map(|h| h.charge).collect();
    assert_eq!(doubted, [Some(OTHER)]);
}

#[test]
fn a_pot_with_a_struck_birth_may_be_released_as_old_as_it_says() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    strike(&mut book, EntryKind::Combine);
    strike(&mut book, EntryKind::Stirred);
    // The pour of the hardener still stands, two minutes later than the combining.
    assert_eq!(troubles(&book, GateName::Life), ["birth-in-doubt"]);
    release(&mut book, "life", json!({ "charge": POT, "item": "birth" })).unwrap();
    assert_eq!(troubles(&book, GateName::Life), Vec::<String>::new());
    assert!((age(&book) - 5.0 / 240.0).abs() < 1e-9);
}

#[test]
fn another_pot_in_its_place_is_as_old() {
    let lot = |n: u128, code: &str| json!({ "id": Uuid::from_u128(n), "code": code });
    let fill = |book: &mut Book, charge: Uuid, lot: &Value| {
        let pour = |component: &str, g: f64| json!({ "charge": charge, "component": component, "reading_g": g, "resolution_g": 1.0, "lot": lot });
        book.write(EntryKind::Pour, pour("base", 1900.0)).unwrap();
        book.write(EntryKind::Combine, json!({ "charge": charge })).unwrap();
        book.write(EntryKind::Pour, pour("hardener", 2228.0)).unwrap();
        book.write(EntryKind::Stirred, json!({ "charge": charge })).unwrap();
    };
    let born = |second: &Value, strike_first: bool| {
        let mut book = opened(sheet());
        fill(&mut book, POT, &lot(61, "P-1"));
        if strike_first {
            strike(&mut book, EntryKind::Combine);
            strike(&mut book, EntryKind::Pour);
            strike(&mut book, EntryKind::OpenCharge);
        }
        book.pass(120.0).ready();
        open(&mut book, OTHER);
        fill(&mut book, OTHER, second);
        let record = book.record();
        let pot = record.charge(OTHER).unwrap().clone();
        (record.clock(&pot, book.now).unwrap().age, book)
    };
    let same = lot(61, "P-1");
    let (age, mut book) = born(&same, true);
    assert!((age - 0.5).abs() < 1e-9, "opened in the place of what was struck");
    assert_eq!(troubles(&book, GateName::Life), ["birth-in-doubt"]);
    let deny = json!({ "charge": OTHER, "reason": "the first pot was thrown away unmixed" });
    book.write_as(Role::Lead, EntryKind::DenyBirth, deny).unwrap();
    assert_eq!(troubles(&book, GateName::Life), Vec::<String>::new());
    assert_eq!(born(&same, false).0, 0.0, "a second pot beside the first is its own");
    assert_eq!(born(&lot(62, "P-2"), true).0, 0.0, "other lots are another paint");
    assert!((born(&Value::Null, true).0 - 0.5).abs() < 1e-9, "without a lot it is not known to be another");
}

#[test]
fn a_pour_of_the_wrong_component_that_is_struck_is_no_birth() {
    let mut book = opened(sheet());
    let slip = book.pour("hardener", 1900.0).unwrap();
    book.write(EntryKind::Strike, json!({ "entry": slip, "reason": "it was the base" })).unwrap();
    book.pour("base", 1900.0).unwrap();
    assert_eq!(book.record().charges[0].combined(), None);
    assert_eq!(troubles(&book, GateName::Life), Vec::<String>::new());
}

/// A pot at 35 °C lives 1 h 25 of its 4 h at 20 °C: the can at 20 °C says nothing against it.
#[test]
fn the_can_never_overrules_a_fresh_reading_of_the_pot() {
    let read = |c: f64| json!({ "charge": POT, "temp_c": c });
    let rate = |book: &Book| {
        let record = book.record();
        record.clock(&record.charges[0], book.now).unwrap().age_per_s * 14_400.0
    };
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.write(EntryKind::PotTemperature, read(30.0)).unwrap();
    assert!((rate(&book) - 2.0).abs() < 1e-9);
    book.pass(5.0).write(EntryKind::Conditions, conditions(20.0, 55.0)).unwrap();
    assert!((rate(&book) - 2.0).abs() < 1e-9, "the can at 20 °C");
    book.write(EntryKind::PotTemperature, json!({ "charge": POT, "temp_c": 20.0, "probe": "bench" })).unwrap();
    assert!((rate(&book) - 2.0).abs() < 1e-9, "the probe at the bench is further off than the hand in the pot");
    // Stale after a quarter of an hour: the hotter of the two ages it.
    book.pass(9.9);
    assert!((rate(&book) - 2.0).abs() < 1e-9);
    book.pass(5.2);
    assert!((rate(&book) - 2.0).abs() < 1e-9, "30 °C of the pot is hotter than 20 °C of the can");
    book.write(EntryKind::PotTemperature, read(20.0)).unwrap();
    assert!((rate(&book) - 1.0).abs() < 1e-9);
    book.pass(14.9)
        .write(EntryKind::Conditions, json!({ "air_c": 31.0, "surface_c": 30.0, "material_c": 30.0, "rh_pct": 40.0 }))
        .unwrap();
    assert!((rate(&book) - 1.0).abs() < 1e-9, "fresh: the pot's own stands");
    book.pass(0.2);
    assert!((rate(&book) - 2.0).abs() < 1e-9, "stale: the can is hotter");
}

/// Induction of 20 min at 20 °C is 40 min at 10 °C. Half of it stirred warm, the rest cold: 10 + 20 min.
#[test]
fn induction_follows_the_temperature_like_everything_else() {
    let mut book = ready(with(sheet(), json!({ "temp_min_c": 5.0 })));
    book.mixed(328.0);
    let cold = json!({ "charge": POT, "temp_c": 10.0 });
    book.pass(10.0).write(EntryKind::PotTemperature, cold.clone()).unwrap();
    let left = |book: &Book| {
        let record = book.record();
        record.clock(&record.charges[0], book.now).unwrap().induction_ends.unwrap().duration_since(book.now).as_secs_f64() / 60.0
    };
    assert!((left(&book) - 20.0).abs() < 1e-6, "{}", left(&book));
    book.pass(10.0);
    held(start(&mut book), "induction ends in 10");
    book.write(EntryKind::PotTemperature, cold).unwrap();
    book.pass(10.0).write(EntryKind::StartSpraying, on()).unwrap();
    // Hotter never shortens it.
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.write(EntryKind::PotTemperature, json!({ "charge": POT, "temp_c": 33.0 })).unwrap();
    assert!((left(&book) - 20.0).abs() < 1e-6);
}

/// Nothing goes to the gun of a pot that holds no hardener, or whose age nobody can reckon.
#[test]
fn a_fill_waits_for_hardener_and_for_a_known_life() {
    let fill = json!({ "charge": POT, "into": "gun_cup", "fill_ml": 400.0 });
    let mut book = ready(sheet());
    open(&mut book, POT);
    book.pour("base", 1900.0).unwrap();
    held(book.write(EntryKind::Fill, fill.clone()), "holds no hardener yet");
    // A paint without hardener is filled as it is.
    let mut plain = ready(with(sheet(), json!({ "has_hardener": false, "basis": null, "ratio": null })));
    open(&mut plain, POT);
    plain.pour("base", 1900.0).unwrap();
    plain.write(EntryKind::Fill, fill.clone()).unwrap();
    // Without a pot life a lead may release it, as for spraying.
    let mut ageless = ready(with(sheet(), json!({ "pot_life_s": null })));
    ageless.mixed(328.0);
    ageless.pass(25.0);
    held(ageless.write(EntryKind::Fill, fill.clone()), "states no pot life");
    release_pot(&mut ageless, "life").unwrap();
    ageless.write(EntryKind::Fill, fill).unwrap();
}
