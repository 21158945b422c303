//! How far the paint reaches, and by when the next pot is mixed. By hand: 12 m² at 101.6 µm and 60 % take 2032 mL; a pot of
//! 1900 g base and 328 g hardener holds 1672.7 mL; three passes over three zones of 4 m² take 225.8 mL each.

use super::*;

fn three_passes() -> Value {
    json!({ "film_proof": "not_asked", "steps": [{ "name": "coat", "passes_count": 3.0 }] })
}

fn plan(book: &mut Book, rate_ml_min: f64) {
    book.write(EntryKind::PlanMix, json!({ "rate_ml_min": rate_ml_min, "fill_ml": 1900.0 })).unwrap();
}

#[test]
fn a_pot_lasts_to_a_zone_and_the_rest_is_mixed_in_time() {
    let mut book = spraying(three_passes());
    // Seven passes of 225.8 mL are 1580 mL; the eighth, of the hull, ends it: 1672.7.
    assert_eq!(
        board(&book).paint.as_deref(),
        Some(
            "Pot 1 lasts to hull, pass 3. Mix pot 2: 359\u{a0}mL is missing from hull on. Whether pots live so long is not known: plan the flow at Mix."
        )
    );
    assert!(!board(&book).paint_presses, "without a flow nobody says by when");
    // 1672.7 mL at 40 mL/min are 41.8 min; less 20 of induction and 5 of handling: in 16.8 min.
    plan(&mut book, 40.0);
    let by = |book: &Book| {
        let record = book.record();
        let zones = record.zone_passes();
        let ahead = level_keel_core::batch::passes::ahead(&Case::alone(&record), &zones, book.now).expect("paint ahead");
        ahead.mix_by.map(|at| at.duration_since(book.now).as_secs_f64() / 60.0)
    };
    assert!((by(&book).unwrap() - 16.8).abs() < 0.1, "{:?}", by(&book));
    plan(&mut book, 200.0);
    assert!(by(&book).unwrap() < 0.0 && board(&book).paint_presses, "8.4 min of paint, 25 to make more");
    assert!(board(&book).paint.unwrap().contains("Mix pot 2 now:"));
}

/// A pass that says its paint is taken at its word; one that says nothing takes what the film wants, and that is said.
#[test]
fn what_a_pass_took_counts() {
    let mut book = spraying(three_passes());
    stamp(&mut book, TOWER);
    let reckoned = |book: &Book| {
        let record = book.record();
        let zones = record.zone_passes();
        level_keel_core::batch::passes::ahead(&Case::alone(&record), &zones, book.now).map(|a| (a.reckoned, a.pots[0].left_ml))
    };
    assert!(board(&book).paint.unwrap().contains("A pass that said nothing is taken by area and film."));
    let (said, left_ml) = reckoned(&book).unwrap();
    assert!(said && (left_ml - (1672.7 - 225.8)).abs() < 0.2, "{left_ml}");
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(HULL)], "used_ml": 700.0 })).unwrap();
    assert!((reckoned(&book).unwrap().1 - (1672.7 - 225.8 - 700.0)).abs() < 0.2);
}

/// A pot that dies before it is empty is said against the zone it dies in.
#[test]
fn a_pot_that_dies_first_is_said_against_its_pass() {
    let mut book = spraying(three_passes());
    plan(&mut book, 5.0);
    // Four hours at 20 °C, half an hour old: 210 min and something at 5 mL/min, about 1060 of 1672.7 mL: in the fifth pass, the hull.
    let paint = board(&book).paint.unwrap();
    assert!(paint.starts_with("Pot 1 dies ") && paint.contains(" in hull, ") && board(&book).paint_presses, "{paint}");
    plan(&mut book, 500.0);
    assert!(board(&book).paint.unwrap().starts_with("Pot 1 lasts to hull, pass 3."));
}

/// A pot whose passes took all of it is not one that is not needed.
#[test]
fn a_pot_that_is_empty_is_said_to_be() {
    let mut book = spraying(three_passes());
    let pass = json!({ "charge": POT, "zones": [Uuid::from_u128(TOWER)], "used_ml": 1660.0 });
    book.write(EntryKind::Pass, pass).unwrap();
    assert!(board(&book).paint.unwrap().starts_with("Pot 1 lasts to hull, pass 1."), "12.7 mL are still in it");
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(HULL)], "used_ml": 12.8 })).unwrap();
    assert!(board(&book).paint.unwrap().starts_with("Pot 1 is empty by what its passes took. Mix pot 2"));
}

/// Where the sheet does not say how many passes there are, a zone wants what its passes did not bring; one that said nothing leaves that
/// unknown, and nothing is said.
#[test]
fn without_a_plan_what_was_said_counts() {
    let mut book = spraying(json!({ "film_proof": "not_asked" }));
    // 677.3 mL a zone: 2032 in all, 1672.7 in the pot.
    assert!(board(&book).paint.unwrap().contains("359\u{a0}mL is missing from skirt on"));
    let pass = |zone: u128, ml: f64| json!({ "charge": POT, "zones": [Uuid::from_u128(zone)], "used_ml": ml });
    book.write(EntryKind::Pass, pass(TOWER, 500.0)).unwrap();
    assert!(board(&book).paint.unwrap().contains("359\u{a0}mL is missing from"), "177 more at the tower, as planned");
    book.write(EntryKind::Pass, pass(TOWER, 200.0)).unwrap();
    // 700 went where 677 was wanted: 1354.7 are wanted of 972.7 left.
    assert!(board(&book).paint.unwrap().contains("382\u{a0}mL is missing from skirt on"));
    stamp(&mut book, HULL);
    assert_eq!(board(&book).paint, None);
}

/// Pots age on while a zone waits: what would last by the flow alone dies in the wait.
#[test]
fn a_pot_dies_in_the_waits_of_the_sheet() {
    let mut changes = three_passes();
    let mut book = spraying(changes.clone());
    plan(&mut book, 200.0);
    assert!(board(&book).paint.unwrap().starts_with("Pot 1 lasts to hull, pass 3."), "8.4 min of spraying");
    changes["steps"][0]["between_s"] = json!(2.0 * 3600.0);
    let mut book = spraying(changes);
    plan(&mut book, 200.0);
    // Two waits of two hours are longer than its three and a half: the third passes find it dead.
    let paint = board(&book).paint.unwrap();
    assert!(paint.starts_with("Pot 1 dies ") && paint.contains(" in tower, ") && board(&book).paint_presses, "{paint}");
}

/// Once all passes are on, or every pot is closed, nothing is said.
#[test]
fn paint_that_is_more_than_enough() {
    let mut book = spraying(
        json!({ "film_proof": "not_asked", "steps": [{ "name": "coat", "passes_count": 1.0 }], "wet_min_um": 25.0, "wet_um": 101.6 }),
    );
    for zone in [TOWER, HULL] {
        book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(zone)], "used_ml": 300.0 })).unwrap();
    }
    // 1072.7 mL are left, the skirt wants 677.3.
    assert_eq!(
        board(&book).paint.as_deref(),
        Some("Pot 1 reaches the end, 395\u{a0}mL to spare. Whether pots live so long is not known: plan the flow at Mix.")
    );
    stamp(&mut book, SKIRT);
    assert_eq!(board(&book).paint, None);
}
