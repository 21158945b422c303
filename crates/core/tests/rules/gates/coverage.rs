//! The most area of a litre: in the plan, at the rack, while the work goes on, and by use before the signature.

use super::*;
use crate::mix::seen;

/// The most area in square metres a litre.
fn most(m2_l: f64) -> Value {
    with(sheet(), json!({ "area_max_m2_l": m2_l, "film_proof": "not_asked" }))
}

fn sprayed(sheet: Value) -> Book {
    let mut book = ready(sheet);
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 1600.0 })).unwrap();
    book
}

/// 1,672.7 mL on 10 m² is 5.978 m²/L; the scale's gram makes it 5.972 to 5.984.
#[test]
fn spread_thin_holds_the_signature() {
    let signed = |sheet: Value| {
        let mut book = sprayed(sheet);
        assert_eq!(troubles(&book, GateName::Coverage), [""; 0], "more may go on until the pots are closed");
        book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
        let next = format!("{:?}", seen(&book).next);
        let seen = book.seen();
        (book.write(EntryKind::Sign, seen), troubles(&book, GateName::Coverage), next)
    };
    let (in_, found, next) = signed(most(5.99));
    in_.unwrap();
    assert!(found.is_empty() && !next.contains("Put more on"));
    let (thin, found, next) = signed(most(5.9));
    held(thin, "Spread thin: 5.97\u{a0}m²/L to 5.98\u{a0}m²/L, over the sheet's 5.9\u{a0}m²/L");
    assert_eq!(found, ["over"]);
    assert!(next.contains("Put more on"), "{next}");
    assert_eq!(signed(most(5.978)).1, ["cannot-tell"]);
    signed(with(sheet(), json!({ "film_proof": "not_asked" }))).0.unwrap();
}

/// Thinner covers nothing: with 167 mL of it in the pot the same base and hardener still went on 5.98 m²/L.
#[test]
fn thinner_does_not_count() {
    let thinned = with(most(5.99), json!({ "thinner_max_pct": 20.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 }));
    let mut book = Book::begun_with(thinned, json!({ "thinner_pct": 10.0 }));
    book.ready();
    book.mixed(328.0);
    book.pour("thinner", 1900.0 + 328.0 + 145.0).unwrap();
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, pass_on(&[])).unwrap();
    let covered = book.record().covered_m2_l(Prefs::METRIC).unwrap();
    near(covered.value, 10_000.0 / 1672.7, 0.01);
    // A litre of what stands in the pot holds 0.909 L of them: at most 5.45 m².
    let record = book.record();
    near(record.for_at_most_m2(record.charge(POT).unwrap(), 1000.0).unwrap(), 5.99 * 1672.7 / (1672.7 + 166.7), 0.01);
    // The plan mixes that much more.
    let need = |cap: f64, thinner: f64| {
        let sheet =
            with(most(cap), json!({ "thinner_max_pct": 20.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 }));
        Book::begun_with(sheet, json!({ "thinner_pct": thinner })).record().need_ml()
    };
    near(need(5.0, 0.0), 2000.0, 1e-6);
    near(need(5.0, 20.0), 2400.0, 1e-6);
    // By the film it is 4 mil on 10 m², 60 % of it staying: 1,693 mL, which a sheet of 6 m² a litre does not ask more than.
    near(need(6.0, 0.0), 1016.0 / 0.6, 1e-6);
}

/// The plan says the least and why; the rack how far a pot goes; Spray what is on of it.
#[test]
fn plan_rack_and_spray_say_it() {
    let mut book = sprayed(most(5.0));
    book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 300.0 })).unwrap();
    let view = seen(&book);
    let plan = view.mix.plan.clone().unwrap();
    assert_eq!(plan.need.text, "2\u{a0}L");
    assert!(plan.film.ends_with("; at most 5\u{a0}m²/L"), "{}", plan.film);
    let working = format!("{:?}", plan.working.unwrap());
    assert!(working.contains("the sheet's most area of a litre, on 10"), "{working}");
    // 72.7 mL are left of 1,672.7.
    assert_eq!(view.pots[0].note.as_deref(), Some("at most 0.36\u{a0}m²"));
    let covered = view.spray.covered.clone().unwrap();
    assert_eq!(covered.advice, "1.6\u{a0}L is on 10\u{a0}m², at least 2\u{a0}L must be: 400\u{a0}mL more");
    assert_eq!(seen(&sprayed(most(6.5))).spray.covered.clone().unwrap().word, "in");
    // What was filled into the gun's cup is not on yet.
    let mut filled = ready(most(6.5));
    filled.mixed(328.0);
    filled.pass(25.0).write(EntryKind::Fill, json!({ "charge": POT, "into": "gun_cup", "fill_ml": 1600.0 })).unwrap();
    filled.write(EntryKind::StartSpraying, on()).unwrap();
    filled.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": null })).unwrap();
    assert_eq!(seen(&filled).spray.covered, None, "a pass that says no paint says of none that it is on");
    filled.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 700.0 })).unwrap();
    assert_eq!(seen(&filled).spray.covered.clone().unwrap().word, "not yet");
    assert_eq!(seen(&sprayed(sheet())).spray.covered, None);
}

/// An area of nothing, or of more than any paint covers, is refused at its field.
#[test]
fn an_area_of_nothing_is_refused() {
    for wrong in [0.0, -1.0, 100.1] {
        let sheet: Sheet = serde_json::from_value(most(wrong)).unwrap();
        assert_eq!(sheet.validate(Prefs::METRIC).unwrap_err().field.as_deref(), Some("area_max_m2_l"), "{wrong}");
    }
    let sheet: Sheet = serde_json::from_value(most(2.086)).unwrap();
    sheet.validate(Prefs::METRIC).unwrap();
}
