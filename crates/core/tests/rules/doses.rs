//! Additives from fill to fill: as the coat's first, what is in the pot counted, strained before and never after.

use level_keel_core::batch::EntryKind;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;
use crate::mix::seen;

const SECOND: Uuid = Uuid::from_u128(77);

fn pearl(changes: Value) -> Value {
    let mut sheet = sheet();
    sheet["additives"] = json!([{ "name": "Pearl", "dose_g_l": 12.7 }]);
    for (field, value) in changes.as_object().unwrap() {
        sheet[field] = value.clone();
    }
    sheet
}

fn mixed(sheet: Value) -> Book {
    let mut book = Book::begun(sheet);
    book.ready();
    book.mixed(328.0);
    book.pass(25.0);
    book
}

fn fill(book: &mut Book, charge: Uuid, ml: f64, dose_g: Option<f64>, strained: bool) {
    let body = json!({ "charge": charge, "into": "gun_cup", "fill_ml": ml, "dose_g": dose_g, "strained": strained });
    book.pass(1.0).write(EntryKind::Fill, body).unwrap();
}

/// What is said of the last fill of a pot, by its place, with the code given.
fn said(book: &Book, pot: usize, code: &str) -> Option<String> {
    let judgements = seen(book).mix.pots[pot].judgements.clone();
    judgements.into_iter().find(|j| j.code == code).map(|j| j.text.replace('\u{a0}', " "))
}

/// 5.08 g in 400 mL are 12.7 g/L, 12 g are 30 g/L: named, and from then on against the first, not against the one before.
#[test]
fn every_fill_is_dosed_as_the_coats_first() {
    let mut book = mixed(pearl(json!({})));
    fill(&mut book, POT, 400.0, Some(5.08), false);
    assert_eq!(said(&book, 0, "dose-steps"), None);
    fill(&mut book, POT, 400.0, Some(5.08 * 1.049), false);
    assert_eq!(said(&book, 0, "dose-steps"), None, "five in a hundred is alike");
    fill(&mut book, POT, 400.0, Some(12.0), false);
    let step = said(&book, 0, "dose-steps").unwrap();
    assert_eq!(step, "This fill holds 30 g/L of additive, the first of the coat 12.7 g/L: the shade will step.");
    fill(&mut book, POT, 100.0, Some(3.0), false);
    assert!(said(&book, 0, "dose-steps").is_some(), "as the one before, and yet another than the first");
    fill(&mut book, POT, 100.0, None, false);
    assert!(said(&book, 0, "dose-steps").unwrap().contains("holds nothing of additive"));
    fill(&mut book, POT, 100.0, Some(1.27 * 0.951), false);
    assert_eq!(said(&book, 0, "dose-steps"), None);
}

/// The second pot of a coat is matched to the first fill of the first pot.
#[test]
fn the_next_pot_is_matched_to_the_first() {
    let mut book = mixed(pearl(json!({})));
    fill(&mut book, POT, 400.0, Some(5.08), false);
    let part = json!({ "charge": POT, "new_charge": SECOND, "no": 2, "part_ml": 600.0 });
    book.write(EntryKind::Divide, part).unwrap();
    let view = seen(&book);
    let pot = view.mix.pots.iter().find(|p| p.id == SECOND).unwrap();
    assert_eq!(pot.dose_for_litre.as_ref().unwrap().text, "12.7\u{a0}g/L");
    fill(&mut book, SECOND, 500.0, Some(15.0), false);
    let view = seen(&book);
    let at = view.mix.pots.iter().position(|p| p.id == SECOND).unwrap();
    assert!(said(&book, at, "dose-steps").is_some());
    assert_eq!(view.mix.pots[at].fills[0].matching.as_ref().unwrap().text, "6.35\u{a0}g");
}

/// 20 g of pearl in 1,672.7 mL are 11.96 g/L: a litre of it wants 0.74 g more to hold the sheet's 12.7.
#[test]
fn what_is_in_the_pot_counts() {
    let mut book = mixed(pearl(json!({})));
    let asked = |book: &Book| book.record().matching_dose_g_l(Some(&book.record().charges[0]));
    assert!((asked(&book).unwrap() - 12.7).abs() < 1e-9, "before the first fill the sheet's");
    book.pour("additive1", 1900.0 + 328.0 + 20.0).unwrap();
    assert!((asked(&book).unwrap() - (12.7 - 20.0 / 1.6727)).abs() < 0.01);
    fill(&mut book, POT, 500.0, None, false);
    assert_eq!(said(&book, 0, "dose-steps"), None);
    fill(&mut book, POT, 500.0, Some(2.0), false);
    let step = said(&book, 0, "dose-steps").unwrap();
    assert!(step.starts_with("This fill holds 15.96 g/L of additive, the first of the coat 11.96 g/L"), "{step}");
    assert_eq!(asked(&book), None, "the pot holds what the first fill held");
}

/// A strainer takes pearl out: the paint is strained first.
#[test]
fn straining_comes_before_the_pearl() {
    let strained = |sheet: Value, in_pot: bool, dose: Option<f64>, strained: bool| {
        let mut book = mixed(sheet);
        if in_pot {
            book.pour("additive1", 1900.0 + 328.0 + 20.0).unwrap();
        }
        fill(&mut book, POT, 400.0, dose, strained);
        said(&book, 0, "straining")
    };
    let sheet = || pearl(json!({ "strain_um": 190.0 }));
    assert!(strained(sheet(), true, None, true).unwrap().contains("took some of it out"));
    assert_eq!(strained(sheet(), true, None, false), None);
    assert!(strained(sheet(), false, Some(5.08), false).unwrap().contains("strain the paint, then put the additive in"));
    assert_eq!(strained(sheet(), false, Some(5.08), true), None);
    assert_eq!(strained(sheet(), false, None, false), None, "nothing is dosed");
    assert_eq!(strained(pearl(json!({})), true, None, true), None, "the sheet states no strainer");
}
