//! Cups as they are sold: lines to fill to, what they prove, mixing by volume alone, kits filled to the line.

use level_keel_core::batch::view::cup_lines;
use level_keel_core::batch::{EntryKind, card};
use level_keel_core::mixing::{Component, Printed, PrintedCup, fill_lines, least_by_cup_ml, on_whole_lines_ml, parts_of, plan};
use level_keel_core::quantity::{Prefs, QuantityKind, parse};
use level_keel_core::sheets::Sheet;
use serde_json::{Value, json};

use crate::book::*;
use crate::mix::{near, seen};

/// A US fluid ounce, exact by definition.
const OZ: f64 = 29.573_529_562_5;

fn read(sheet: Value) -> Sheet {
    serde_json::from_value::<Sheet>(sheet).unwrap().validate(Prefs::METRIC).unwrap()
}

/// The sheet of the tests without any density.
fn by_volume(more: Value) -> Value {
    with(with(sheet(), json!({ "base_density_kg_l": null, "hardener_density_kg_l": null })), more)
}

fn ounces(holds: f64, step: f64) -> PrintedCup {
    let cup = json!({ "name": "Quart cup", "printed": "fl_oz", "holds_ml": holds * OZ, "step_ml": step * OZ });
    serde_json::from_value(cup).unwrap()
}

fn columns(parts: &str) -> PrintedCup {
    let cup = json!({ "name": "Column cup", "printed": "parts", "holds_ml": 880.0, "parts": parts, "last_count": 5.0, "step_count": 1.0 });
    serde_json::from_value(cup).unwrap()
}

fn words(cup: &PrintedCup, sheet: &Sheet, wanted_ml: f64, thinner_pct: f64) -> Vec<String> {
    let plan = plan(sheet, wanted_ml, thinner_pct, Prefs::METRIC).unwrap();
    let lines = fill_lines(cup, sheet, thinner_pct, &plan, Prefs::METRIC).unwrap();
    lines.iter().map(|l| format!("{:?} to {}", l.pour.component, cup.in_words(l.column, l.at, Prefs::METRIC))).collect()
}

/// Base to 6, thinner as much again: 1:1 thinning of a product without hardener, on a cup of ounces. Common practice in the trade.
#[test]
fn a_plan_is_said_as_lines_to_fill_to() {
    let one_to_one = json!({ "has_hardener": false, "thinner_max_pct": 100.0, "thinner_basis": "of_base" });
    let varnish = read(by_volume(one_to_one));
    assert_eq!(
        words(&ounces(16.0, 1.0), &varnish, 12.0 * OZ, 100.0),
        ["Base to 6\u{a0}fl\u{a0}oz", "Thinner to 12\u{a0}fl\u{a0}oz"]
    );
    // 4:1: eight ounces of base and two of hardener stand at ten.
    let primer = read(sheet());
    assert_eq!(
        words(&ounces(16.0, 1.0), &primer, 10.0 * OZ, 0.0),
        ["Base to 8\u{a0}fl\u{a0}oz", "Hardener to 10\u{a0}fl\u{a0}oz"]
    );
    // Nobody reads a cup finer than a quarter of its step: 6.13 is said as 6.25.
    assert_eq!(words(&ounces(16.0, 1.0), &varnish, 12.26 * OZ, 100.0)[0], "Base to 6.25\u{a0}fl\u{a0}oz");
}

/// Columns of 3 : 1 : 0.4 say one number for all three. A part is 880/(5·4.4) = 40 mL; at number 3 stand 120, 160 and 176 mL.
#[test]
fn a_cup_of_columns_says_one_number_for_all() {
    let thinned = json!({ "ratio": 3.0, "thinner_max_pct": 20.0, "thinner_basis": "of_mixed" });
    let sheet = read(by_volume(thinned));
    let said = words(&columns("3 : 1 : 0.4"), &sheet, 528.0, 10.0);
    assert_eq!(said, ["Base to 3 in its first column", "Hardener to 3 in its second column", "Thinner to 3 in its third column"]);
    // Columns of another ratio are refused, whatever stands in the third.
    let plan = plan(&sheet, 528.0, 10.0, Prefs::METRIC).unwrap();
    let other = fill_lines(&columns("4:1"), &sheet, 10.0, &plan, Prefs::METRIC).unwrap_err();
    assert_eq!((other.code.as_str(), other.field.as_deref()), ("column-of-another-ratio", Some("parts")));
    assert!(other.text.contains("4") && other.text.contains("3"), "{}", other.text);
    // Thinner in another proportion than its column is measured in another cup, and base and hardener stay.
    let half = level_keel_core::mixing::plan(&sheet, 504.0, 5.0, Prefs::METRIC).unwrap();
    let lines = fill_lines(&columns("3:1:0.4"), &sheet, 5.0, &half, Prefs::METRIC).unwrap();
    assert_eq!(lines.iter().map(|l| l.pour.component).collect::<Vec<_>>(), [Component::Base, Component::Hardener]);
}

#[test]
fn a_cup_smaller_than_the_plan_is_refused_with_what_it_holds() {
    let sheet = read(sheet());
    let plan = plan(&sheet, 20.0 * OZ, 0.0, Prefs::METRIC).unwrap();
    let refusal = fill_lines(&ounces(16.0, 1.0), &sheet, 0.0, &plan, Prefs::METRIC).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("cup-too-small", Some("holds_ml")));
    assert!(
        refusal.text.contains("16\u{a0}fl\u{a0}oz")
            && refusal.text.contains("20\u{a0}fl\u{a0}oz")
            && refusal.text.contains("divide"),
        "{}",
        refusal.text
    );
    assert!(fill_lines(&ounces(20.0, 1.0), &sheet, 0.0, &plan, Prefs::METRIC).is_ok(), "filled to the last line it holds it");
}

/// 4:1 within 5 %, lines of 1 fl oz read to a quarter: base ± 0.25, hardener ± 0.5. (0.5 + 1.05·0.25·0.25)/(0.05·0.2) = 56.6 fl oz,
/// by hand. At that amount the worst case is just inside, a little under it is not.
#[test]
fn what_a_cup_proves_is_the_worst_case_of_its_readings() {
    let sheet = read(sheet());
    let least = least_by_cup_ml(&sheet, 0.25 * OZ, 0.5 * OZ).unwrap();
    near(least / OZ, 56.5625, 1e-6);
    let worst = |total: f64| (total / 5.0 + 0.5) / (total * 0.8 - 0.25) / 0.25;
    assert!(worst(56.6) <= 1.05 && worst(56.0) > 1.05);
    // A cup read twice as finely proves half of it.
    near(least_by_cup_ml(&sheet, 0.125 * OZ, 0.25 * OZ).unwrap() / OZ, 56.5625 / 2.0, 1e-6);
    let alone = read(by_volume(json!({ "has_hardener": false })));
    assert_eq!(least_by_cup_ml(&alone, 1.0, 1.0), None, "without a ratio there is nothing to prove");
}

#[test]
fn the_amount_on_whole_lines_is_the_nearest() {
    let primer = read(sheet());
    let near_to = |wanted: f64| on_whole_lines_ml(&ounces(32.0, 1.0), &primer, 0.0, wanted * OZ).unwrap() / OZ;
    // 4:1 falls on ounces at every multiple of five.
    near(near_to(12.0), 10.0, 1e-9);
    near(near_to(13.0), 15.0, 1e-9);
    near(near_to(90.0), 30.0, 1e-9);
    let odd = read(with(sheet(), json!({ "ratio": 3.7 })));
    assert_eq!(on_whole_lines_ml(&ounces(16.0, 1.0), &odd, 0.0, 12.0 * OZ), None);
}

#[test]
fn parts_and_ratios_are_read_as_they_are_written() {
    let ratio = |text: &str| parse(text, QuantityKind::Ratio, Prefs::METRIC).unwrap();
    for (text, is) in [("4 1/4 to 1", 4.25), ("4¼:1", 4.25), ("1:1", 1.0), ("8.5 : 2", 4.25)] {
        near(ratio(text), is, 1e-12);
    }
    assert_eq!(parts_of("parts", "4 1/4 to 1", Prefs::METRIC).unwrap(), [4.25, 1.0]);
    for bad in ["4", "4:0", "1:2:3:4", "three to one", ""] {
        assert_eq!(parts_of("cup.parts", bad, Prefs::METRIC).unwrap_err().field.as_deref(), Some("cup.parts"), "{bad}");
    }
    // Thinner by the gallon, and strainers by their mesh. Six fluid ounces of 128 are 4.6875 %, exact by definition.
    near(parse("6 oz/gal", QuantityKind::Thinner, Prefs::METRIC).unwrap(), 4.6875, 1e-6);
    near(parse("1:1", QuantityKind::Thinner, Prefs::METRIC).unwrap(), 100.0, 1e-9);
    near(parse("120 mesh", QuantityKind::Mesh, Prefs::METRIC).unwrap(), 125.0, 1e-9);
}

#[test]
fn a_cup_of_no_sense_is_refused_at_its_field() {
    let good = json!({ "name": "Cup", "printed": "fl_oz", "holds_ml": 473.0, "step_ml": 29.6 });
    let cases = [
        (json!({ "name": " " }), "name"),
        (json!({ "holds_ml": 0.0 }), "holds_ml"),
        (json!({ "step_ml": null }), "step_ml"),
        (json!({ "step_ml": 300.0 }), "step_ml"),
        (json!({ "printed": "parts" }), "parts"),
        (json!({ "printed": "parts", "parts": "4:1" }), "last_count"),
        (json!({ "printed": "parts", "parts": "4:1", "last_count": 5.0 }), "step_count"),
        (json!({ "printed": "parts", "parts": "4:1", "last_count": 5.0, "step_count": 4.0 }), "step_count"),
        (json!({ "printed": "parts", "parts": "4:x", "last_count": 5.0, "step_count": 1.0 }), "parts"),
    ];
    for (change, field) in cases {
        let cup: PrintedCup = serde_json::from_value(with(good.clone(), change.clone())).unwrap();
        assert_eq!(cup.validate(Prefs::METRIC).unwrap_err().field.as_deref(), Some(field), "{change}");
    }
    assert_eq!(serde_json::from_value::<PrintedCup>(good).unwrap().validate(Prefs::METRIC).unwrap().printed, Printed::FlOz);
}

fn line(component: &str, at: &str, cup: &PrintedCup) -> Value {
    json!({ "charge": POT, "component": component, "reading_g": 0.0, "resolution_g": 1.0, "line": { "cup": cup, "at": at } })
}

fn opened(sheet: Value, wanted_ml: f64) -> Book {
    let mut book = Book::begun(sheet);
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": wanted_ml })).unwrap();
    book
}

fn mixed_by_cup(sheet: Value, cup: &PrintedCup, base: &str, all: &str) -> Book {
    let mut book = opened(sheet, 10.0 * OZ);
    book.write(EntryKind::Pour, line("base", base, cup)).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.write(EntryKind::Pour, line("hardener", all, cup)).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    book
}

/// A bare figure is in what is printed on the cup, whatever the reader types amounts in; with a unit it is read as that.
#[test]
fn a_pour_to_a_line_carries_what_the_cup_may_be_off() {
    let cup = ounces(16.0, 1.0);
    let book = mixed_by_cup(sheet(), &cup, "8", "10 fl oz");
    let record = book.record();
    let pours = &record.charges[0].pours;
    near(pours[0].it.weighed.reading_g, 8.0 * OZ * 1.42, 1e-4);
    near(pours[1].it.weighed.reading_g, 2.0 * OZ * 0.98, 1e-4);
    // A quarter of an ounce at each line that was read: one for the base, two for the hardener.
    near(pours[0].it.weighed.resolution_g / 2.0, 0.25 * OZ * 1.42, 1e-6);
    near(pours[1].it.weighed.resolution_g / 2.0, 0.5 * OZ * 0.98, 1e-6);
    assert_eq!(pours[0].it.cup.as_deref(), Some("Quart cup"));
    let said: Vec<String> = seen(&book).log.iter().map(|l| l.text.clone()).collect();
    assert!(said.iter().any(|t| t.contains("to a line of the Quart cup")), "{said:?}");
    let mut again = opened(sheet(), 10.0 * OZ);
    again.write(EntryKind::Pour, line("base", "8", &cup)).unwrap();
    for (at, code) in [("8", "mark-too-low"), ("17", "cup-too-small"), ("10 psi", "not-understood"), ("0", "outside-limits")] {
        let refusal = refused(again.write(EntryKind::Pour, line("hardener", at, &cup)), code);
        assert_eq!(refusal.field.as_deref(), Some("line.at"));
    }
    let columns = refused(again.write(EntryKind::Pour, line("hardener", "3", &columns("3:1"))), "column-of-another-ratio");
    assert_eq!(columns.field.as_deref(), Some("line.cup.parts"));
}

/// The hold names the least that cup proves; a lead lets the sheet be mixed by cup, and every card says so.
#[test]
fn what_a_cup_cannot_prove_holds_until_the_sheet_lets_it() {
    let cup = ounces(16.0, 1.0);
    let held = mixed_by_cup(sheet(), &cup, "8", "10");
    let text = seen(&held).holds.iter().find(|h| h.trouble == "cannot-tell").expect("it holds").text.clone();
    assert!(text.contains("1.67\u{a0}L") && text.contains("a lead lets the sheet be mixed by cup"), "{text}");
    let allowed = mixed_by_cup(with(sheet(), json!({ "mixed_by_cup": true })), &cup, "8", "10");
    let view = seen(&allowed);
    assert!(view.holds.iter().all(|h| h.trouble != "cannot-tell"), "{:?}", view.holds);
    let released = view.holds.iter().find(|h| h.trouble == "mixed-by-cup").unwrap();
    assert!(released.released.as_deref().unwrap().contains("the sheet"));
    let card = card::card(&Case::alone(&allowed.record()), view, Prefs::METRIC);
    assert!(card.noted.iter().any(|n| n.contains("mixed by cup")), "{:?}", card.noted);
    // It lets through what reads in, never what reads out.
    let out = mixed_by_cup(with(sheet(), json!({ "mixed_by_cup": true })), &ounces(16.0, 0.125), "8", "11");
    assert!(seen(&out).holds.iter().any(|h| h.trouble == "under" && h.released.is_none()), "{:?}", seen(&out).holds);
    let near_out = mixed_by_cup(with(sheet(), json!({ "mixed_by_cup": true })), &cup, "8", "10.5");
    assert!(seen(&near_out).holds.iter().any(|h| h.trouble == "cannot-tell" && h.released.is_none()), "3.2 : 1 as read is out");
}

#[test]
fn by_volume_alone_needs_no_density_until_a_weight_is_wanted() {
    let cup = ounces(16.0, 1.0);
    let mut book = opened(by_volume(json!({})), 10.0 * OZ);
    let view = seen(&book);
    assert!(view.mix.by_volume && view.mix.not_known.iter().any(|t| t.contains("on a scale")), "{:?}", view.mix.not_known);
    assert_eq!(view.mix.pots[0].lines[0].plan.text, "237\u{a0}mL", "a volume is said as one");
    let weighed = refused(book.pour("base", 300.0), "density-missing");
    assert_eq!(weighed.field.as_deref(), Some("reading_g"));
    book.write(EntryKind::Pour, line("base", "8", &cup)).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.write(EntryKind::Pour, line("hardener", "10", &cup)).unwrap();
    let view = seen(&book);
    assert_eq!(view.mix.pots[0].lines[1].poured.as_ref().unwrap().text, "59.1\u{a0}mL");
    near(view.mix.pots[0].left_ml, 10.0 * OZ, 1e-4);
    for text in view.log.iter().map(|l| &l.text).chain(view.mix.pots[0].judgements.iter().map(|j| &j.text)) {
        assert!(!text.contains("\u{a0}g") && !text.contains("scale"), "no weight is known: {text}");
    }
    refused(
        book.write(EntryKind::Transfer, json!({ "charge": POT, "reading_g": 200.0, "resolution_g": 1.0 })),
        "density-missing",
    );
    for amount in [json!({ "from": "mass", "mass_g": 500.0 }), json!({ "from": "base_mass", "base_g": 500.0 })] {
        let asked = json!({ "charge": crate::mix::SECOND, "no": 2, "kind": "pot", "amount": amount });
        refused(book.write(EntryKind::OpenCharge, asked), "density-missing");
    }
    let record = book.record();
    assert_eq!(record.density_kg_l(), None, "no stream is reckoned from water");
    assert!(level_keel_core::batch::lot_uses::uses(&record).iter().all(|u| u.used_g == 0.0));
    let card = card::card(&Case::alone(&record), seen(&book), Prefs::METRIC);
    assert!(card.noted.iter().any(|n| n.contains("by volume alone")), "{:?}", card.noted);
    let pour = &card.document.unwrap().charges[0].pours[0];
    assert_eq!((pour.poured_g, pour.poured_ml.map(f64::round)), (None, Some(237.0)));
}

#[test]
fn a_sheet_without_densities_is_one_that_needs_none() {
    let ok = |sheet: Value| serde_json::from_value::<Sheet>(sheet).unwrap().validate(Prefs::METRIC);
    assert!(ok(by_volume(json!({}))).unwrap().by_volume_alone());
    assert!(!ok(sheet()).unwrap().by_volume_alone());
    let fields = [
        (json!({ "basis": "by_weight" }), "base_density_kg_l"),
        (json!({ "basis": "percent_by_weight", "hardener_pct": 2.0 }), "base_density_kg_l"),
        (json!({ "charge": "at_gun" }), "base_density_kg_l"),
        (json!({ "base_density_kg_l": 1.4 }), "hardener_density_kg_l"),
        (json!({ "hardener_density_kg_l": 0.98 }), "base_density_kg_l"),
        (json!({ "additives": [{ "name": "pearl", "dose_pct": 2.0 }] }), "additives[0].dose_pct"),
        (json!({ "kit_base_ml": 750.0 }), "kit_hardener_ml"),
        (json!({ "kit_base_ml": 750.0, "kit_hardener_ml": 250.0, "kit_base_g": 900.0, "kit_hardener_g": 200.0 }), "kit_base_ml"),
        (json!({ "kit_base_ml": 750.0, "kit_hardener_ml": 250.0 }), "kit_hardener_ml"),
        (json!({ "kit_to_line": true }), "kit_to_line"),
    ];
    for (change, field) in fields {
        assert_eq!(ok(by_volume(change.clone())).unwrap_err().field.as_deref(), Some(field), "{change}");
    }
}

/// A quart sold short: 750 mL of base in its can, hardener up to the line. Common practice in the trade.
#[test]
fn a_kit_is_filled_to_its_line() {
    let kit = json!({ "basis": "by_kit", "ratio": null, "kit_base_ml": 750.0, "kit_hardener_ml": 250.0, "kit_to_line": true });
    let mut book = opened(by_volume(kit), 1000.0);
    let can = |component: &str| json!({ "charge": POT, "component": component, "reading_g": 0.0, "whole_can": true });
    assert!(!seen(&book).mix.pots[0].to_the_line, "base comes in its can");
    book.write(EntryKind::Pour, can("base")).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    let pot = seen(&book).mix.pots[0].clone();
    assert_eq!((pot.to_the_line, pot.whole_can.unwrap().text), (true, "250\u{a0}mL".into()));
    book.write(EntryKind::Pour, can("hardener")).unwrap();
    let view = seen(&book);
    assert!(view.mix.pots[0].hand.is_none() && view.holds.iter().all(|h| h.trouble != "cannot-tell"), "{:?}", view.holds);
    assert!(view.log.iter().any(|l| l.text.contains("to the line of the can")));
    let half = json!({ "charge": crate::mix::SECOND, "no": 2, "kind": "pot", "amount": { "from": "kits", "kit_count": 0.5 } });
    refused(book.write(EntryKind::OpenCharge, half), "density-missing");
}

#[test]
fn a_pot_on_a_cup_says_its_lines_and_what_they_prove() {
    let book = opened(sheet(), 12.0 * OZ);
    let record = book.record();
    let lines = cup_lines(&Case::alone(&record), POT, ounces(16.0, 1.0), Prefs::METRIC).unwrap();
    assert_eq!(
        lines.lines.iter().map(|l| l.text.as_str()).collect::<Vec<_>>(),
        ["Base to 9.5\u{a0}fl\u{a0}oz", "Hardener to 12\u{a0}fl\u{a0}oz"]
    );
    assert_eq!(lines.lines.iter().map(|l| l.between_lines).collect::<Vec<_>>(), [true, false]);
    assert!(!lines.proves_this && lines.proves.unwrap().contains("more than it holds"));
    near(lines.graduations.len() as f64, 16.0, 0.0);
    assert_eq!(lines.whole_lines.unwrap(), "10\u{a0}fl\u{a0}oz");
    let fine = cup_lines(&Case::alone(&record), POT, ounces(16.0, 0.1), Prefs::METRIC).unwrap();
    assert!(fine.proves_this, "read ten times as finely it proves 12 fl oz: {:?}", fine.proves);
}

/// Where the band ends at the very aim, no cup can prove it: what cannot be reckoned is not proved.
#[test]
fn a_band_that_ends_at_the_aim_is_never_proved_by_a_cup() {
    let band =
        json!({ "basis": "percent_by_volume", "ratio": null, "hardener_pct": 10.0, "band_low_pct": 8.0, "band_high_pct": 10.0 });
    let book = opened(with(sheet(), band), 12.0 * OZ);
    let record = book.record();
    let lines = cup_lines(&Case::alone(&record), POT, ounces(16.0, 0.1), Prefs::METRIC).unwrap();
    assert!(!lines.proves_this, "{:?}", lines.proves);
}

/// A kit may be sold by volume and its parts be stated by weight: the ratio is said as the sheet states it.
#[test]
fn a_kit_by_volume_leaves_a_ratio_by_weight_as_it_is() {
    let by_weight = json!({ "basis": "by_weight", "ratio": 4.0, "kit_base_ml": 400.0, "kit_hardener_ml": 144.9 });
    let sheet = read(with(sheet(), by_weight));
    let said = level_keel_core::mixing::said(&sheet, level_keel_core::verdict::Measured::pm(0.25, 0.0)).unwrap();
    near(said.measured.value, 4.0, 1e-9);
}
