//! Pots from the pour to the part, by the book: rescues chosen, cups changed, pots divided, fills, the line.

use level_keel_core::batch::view::{PotPourView, Viewer};
use level_keel_core::batch::{EntryKind, whole};
use level_keel_core::people::Role;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

pub const SECOND: Uuid = Uuid::from_u128(70);

pub fn near(got: f64, want: f64, within: f64) {
    assert!((got - want).abs() <= within, "got {got}, want {want} ± {within}");
}

pub fn seen(book: &Book) -> level_keel_core::batch::view::WholeView {
    let viewer = Viewer { writer: writer(Role::Applicator), comb_um: vec![25.4, 50.8], scale_g: 1.0 };
    whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("a begun batch")
}

pub fn planned(book: &mut Book, more: Value) {
    book.write(EntryKind::PlanMix, json!({ "more": more, "rate_ml_min": 300.0, "fill_ml": 2000.0 })).unwrap();
}

/// 4:1 by volume at 1.42 and 0.98 kg/L: 1,900 g base wants 327.8 g; 380 g are poured. 380/0.17254 = 2,202.4 g of base.
#[test]
fn an_over_pour_is_rescued_and_the_plan_follows() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2280.0).unwrap();
    let pot = seen(&book).mix.pots[0].clone();
    assert_eq!(pot.rescues.len(), 2, "exact and least: {:?}", pot.rescues);
    book.write(EntryKind::Rescue, json!({ "charge": POT, "to": "exact" })).unwrap();
    let record = book.record();
    let plan = record.plan(&record.charges[0]);
    near(plan[0].mass_g, 380.0 / 0.172_535, 0.5);
    near(plan[1].mass_g, 380.0, 1e-9);
    book.pour("base", plan[0].mass_g.round() + 380.0).unwrap();
    let pot = seen(&book).mix.pots[0].clone();
    assert!(pot.rescues.is_empty() && pot.hand.is_none(), "in: {:?}", pot.rescues);
    refused(book.write(EntryKind::Rescue, json!({ "charge": POT, "to": "exact" })), "nothing-to-rescue");
    // Stirred and past induction there is no way back any more; there is none to need either.
    book.write(EntryKind::Stirred, on()).unwrap();
    assert_eq!(seen(&book).mix.pots[0].judgements, []);
}

/// Stirred and past its induction, a pot out of its ratio has no way back, and that is said.
#[test]
fn past_induction_nothing_brings_a_wrong_pot_back() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(420.0);
    assert!(!seen(&book).mix.pots[0].rescues.is_empty(), "while it inducts there is a way");
    book.pass(40.0);
    let pot = seen(&book).mix.pots[0].clone();
    assert!(pot.rescues.is_empty());
    assert_eq!((pot.judgements[0].code.as_str(), pot.judgements[0].stop), ("past-rescue", true));
}

/// Thrown away is what a person says, else what is left; nothing is thrown away of a pot that was emptied.
#[test]
fn waste_is_what_was_said_of_it() {
    let closed = |how: Value| {
        let mut book = Book::begun(sheet());
        book.ready();
        book.mixed(328.0);
        book.write(EntryKind::CloseCharge, how).unwrap();
        book.record().charges[0].closed.clone().unwrap().it.waste_ml
    };
    assert_eq!(closed(json!({ "charge": POT, "how": "discarded", "reason": "late", "waste_ml": 10.0 })), Some(10.0));
    assert_eq!(closed(json!({ "charge": POT, "how": "emptied" })), None);
    // Of a product that keeps in its can nothing need have been poured to be thrown away.
    let mut body = sheet();
    for field in ["basis", "ratio", "hardener_density_kg_l", "tolerance_pct", "pot_life_s", "pot_life_at_c", "induction_s"] {
        body.as_object_mut().unwrap().remove(field);
    }
    body["has_hardener"] = json!(false);
    let mut single = Book::begun(body);
    single.ready();
    single.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    single
        .write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "discarded", "reason": "skinned", "waste_ml": 300.0 }))
        .unwrap();
    // 250 mL at 42.10 a litre are 10.525, said to the hundredth.
    let priced = serde_json::from_value(with_price(4210)).unwrap();
    assert_eq!(level_keel_core::batch::entries::cost_words(&priced, 250.0), Some("10.53".into()));
    let free = serde_json::from_value(sheet()).unwrap();
    assert_eq!(level_keel_core::batch::entries::cost_words(&free, 250.0), None);
    // A gallon of 90.80 wasted costs 90.80, though a litre of it is 23.987: a gallon is 3,785.411784 mL.
    let by_gallon = serde_json::from_value(with_price(9080.0 / 3.785_411_784)).unwrap();
    assert_eq!(level_keel_core::batch::entries::cost_words(&by_gallon, 3785.411784), Some("90.80".into()));
}

fn with_price(minor_l: impl Into<Value>) -> Value {
    let mut body = sheet();
    body["price_minor_l"] = minor_l.into();
    body
}

/// 12.7 m² by the shapes, ± 5 %; 300 mL/min into pots of two litres.
#[test]
fn the_plan_says_how_many_pots_and_when() {
    let mut book = Book::begun(sheet());
    assert!(seen(&book).mix.plan.is_some_and(|p| p.entered.is_none() && p.pots.is_empty()));
    refused(book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 0.0 })), "outside-limits");
    let wrong = refused(
        book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 300.0, "more": { "hose_bore_mm": -3.0 } })),
        "outside-limits",
    );
    assert_eq!(wrong.field.as_deref(), Some("more.hose_bore_mm"));
    planned(&mut book, json!({ "extra_pct": 10.0 }));
    // 10 m² × 101.6 µm ÷ 0.6 × 1.1 = 1,862.7 mL: one pot.
    let plan = seen(&book).mix.plan.unwrap();
    assert_eq!(plan.pots.len(), 1);
    near(plan.pots[0].ml, 1862.67, 0.01);
    book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 300.0, "fill_ml": 700.0 })).unwrap();
    let plan = seen(&book).mix.plan.unwrap();
    assert_eq!((plan.pots.len(), plan.because.as_deref()), (3, Some("the vessel holds no more")));
    // The next pot is proposed as planned, not all that is missing.
    near(plan.pots[0].ml, 1693.33 / 3.0, 0.01);
    assert_eq!(seen(&book).mix.propose.text, plan.pots[0].amount.text);
    // Each of the three: 564.4 mL at 4 : 1 by volume is 451.6 mL of 1.42 kg/L and 112.9 mL of 0.98 kg/L, into one tared vessel.
    let pour = |p: &PotPourView| {
        format!("{}: {}, {}, shows {}", p.name, p.volume.as_ref().unwrap().text, p.mass.text, p.to_reading.text)
            .replace('\u{a0}', " ")
    };
    let each: Vec<_> = plan.each_pot.iter().map(pour).collect();
    assert_eq!(each, ["base: 452 mL, 641.2 g, shows 641.2 g", "hardener: 113 mL, 110.6 g, shows 751.8 g"]);
    // More thinner than the sheet allows is planned into no pot.
    let thin = json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 });
    let mut body = sheet();
    thin.as_object().unwrap().iter().for_each(|(key, value)| body[key] = value.clone());
    let mut over = Book::begun(body);
    let most = json!({ "rate_ml_min": 300.0, "fill_ml": 700.0, "thinner_pct": 25.0 });
    let refusal = over.write(EntryKind::PlanMix, most).unwrap_err();
    assert_eq!(refusal.field.as_deref(), Some("thinner_pct"));
    assert_eq!(seen(&over).mix.plan.unwrap().each_pot, []);
    // Two components that meet in the gun go into no pot together.
    let mut at_gun = sheet();
    at_gun["charge"] = json!("at_gun");
    let mut book = Book::begun(at_gun);
    book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 300.0, "fill_ml": 700.0 })).unwrap();
    assert_eq!(seen(&book).mix.plan.unwrap().each_pot, []);
}

/// A pour by the mark of a cup: its mass and its interval are reckoned from the level.
#[test]
fn a_pour_by_the_mark_carries_what_an_eye_may_be_off() {
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1000.0 })).unwrap();
    let cup = json!({ "floor_mm": 100.0, "rim_mm": 100.0, "height_mm": 160.0 });
    let mark = |component: &str, level: f64| {
        json!({ "charge": POT, "component": component, "reading_g": 0.0, "resolution_g": 1.0, "lot": null,
                "mark": { "cup": cup, "level_mm": level } })
    };
    assert_eq!(
        refused(book.write(EntryKind::Pour, mark("base", 200.0)), "cup-too-small").field.as_deref(),
        Some("mark.cup.height_mm")
    );
    // 101.86 mm of a cup 100 mm across are 800 mL: 1,136 g of base.
    book.write(EntryKind::Pour, mark("base", 101.859)).unwrap();
    let record = book.record();
    let poured = &record.charges[0].pours[0].it;
    near(poured.weighed.reading_g, 1136.0, 0.1);
    near(poured.weighed.resolution_g, 2.0 * 7.854 * 1.42, 0.01);
    book.write(EntryKind::Combine, on()).unwrap();
    refused(book.write(EntryKind::Pour, mark("hardener", 90.0)), "mark-too-low");
    book.write(EntryKind::Pour, mark("hardener", 127.324)).unwrap();
    let record = book.record();
    let ratio = level_keel_core::mixing::b_per_a(&record.charges[0].weighed()).unwrap();
    near(ratio.value, 196.0 / 1136.0, 0.0002);
    assert!(ratio.hi / ratio.value > 1.05, "an eye cannot prove 5 % in this cup: {ratio:?}");
}

/// 100 s at the planned 300 mL/min are 500 mL.
#[test]
fn paint_by_time_and_flow() {
    let mut book = Book::begun(sheet());
    book.ready();
    planned(&mut book, json!({}));
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    let before = book.record().left_ml(&book.record().charges[0]);
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "sprayed_watch_s": 100.0 })).unwrap();
    let record = book.record();
    near(record.passes[0].it.used_ml.unwrap(), 500.0, 1e-9);
    near(record.left_ml(&record.charges[0]), before - 500.0, 1e-9);
    near(book.entries.last().unwrap().payload["used_ml"].as_f64().expect("it is kept in the book"), 500.0, 1e-9);
}

/// A percentage poured as an amount, a volume ratio weighed as weight, thinner by the wrong basis.
#[test]
fn confusions_are_named() {
    let codes = |body: Value, pours: &[(&str, f64)]| {
        let mut book = Book::begun(body);
        book.ready();
        book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1000.0 })).unwrap();
        for (component, reading) in pours {
            if *component == "hardener" {
                book.write(EntryKind::Combine, on()).unwrap();
            }
            book.pour(component, *reading).unwrap();
        }
        seen(&book).mix.pots[0].judgements.iter().map(|j| (j.code.clone(), j.text.replace('\u{a0}', " "))).collect::<Vec<_>>()
    };
    let change = |more: Value| {
        let mut body = sheet();
        for (key, value) in more.as_object().unwrap() {
            body[key] = value.clone();
        }
        body
    };
    // 10 % by volume on 40 US fl oz is 4; 10 fl oz are poured: 25 %. Densities one, so that grams are millilitres.
    let ten = change(
        json!({ "basis": "percent_by_volume", "ratio": null, "hardener_pct": 10.0, "base_density_kg_l": 1.0, "hardener_density_kg_l": 1.0 }),
    );
    let oz = 29.5735;
    let found = codes(ten, &[("base", 40.0 * oz), ("hardener", 50.0 * oz)]);
    assert_eq!(found[0].0, "percent-as-amount");
    assert!(found[0].1.starts_with("This is 25 %, not 10 %"), "{found:?}");
    assert!(found[0].1.contains("118 mL was meant") || found[0].1.contains("4 fl oz was meant"), "{found:?}");
    // A pot too small for its scale is said before anything is poured, with the least that can be proved.
    let found = codes(sheet(), &[]);
    assert!(found.is_empty(), "a litre is proved on a 1 g scale: {found:?}");
    let small = change(
        json!({ "basis": "percent_by_weight", "ratio": null, "hardener_pct": 1.8, "band_low_pct": 1.5, "band_high_pct": 2.5 }),
    );
    let mut book = Book::begun(small);
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 80.0 })).unwrap();
    let said = seen(&book).mix.pots[0].judgements.clone();
    assert_eq!(said[0].code, "scale-too-coarse");
    assert!(said[0].text.contains("tared between"), "{said:?}");
    // The wrong one first.
    let mut book = Book::begun(sheet());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1000.0 })).unwrap();
    book.pour("hardener", 196.0).unwrap();
    assert_eq!(seen(&book).mix.pots[0].judgements[0].code, "wrong-order");
    // 4:1 by volume poured as 4:1 by weight.
    let found = codes(sheet(), &[("base", 1200.0), ("hardener", 1500.0)]);
    assert!(found.iter().any(|(code, _)| code == "volume-as-weight"), "{found:?}");
    // A catalyst outside its band is a stop, and says what to do instead.
    let gel = change(
        json!({ "basis": "percent_by_weight", "ratio": null, "hardener_pct": 1.8, "band_low_pct": 1.5, "band_high_pct": 2.5 }),
    );
    let found = codes(gel.clone(), &[("base", 1000.0), ("hardener", 1040.0)]);
    assert_eq!(found[0].0, "catalyst-outside-band");
    assert!(found[0].1.contains("no control of gel time"), "{found:?}");
    // 100 g and 2 g on a 1 g scale: nothing is proved; what would is said.
    let found = codes(gel, &[("base", 100.0), ("hardener", 102.0)]);
    assert!(
        found.iter().any(|(code, text)| code == "scale-too-coarse" && text.contains("tare before the hardener")),
        "{found:?}"
    );
    // 15 % of finished poured where the sheet means of base: 176 mL for 120.
    let thin = change(
        json!({ "thinner_max_pct": 20.0, "thinner_basis": "of_base", "thinner_density_kg_l": 1.0, "pot_life_mass_g": 1000.0 }),
    );
    let mut book = Book::begun(thin);
    book.ready();
    book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 300.0, "thinner_pct": 15.0 })).unwrap();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1120.0 })).unwrap();
    book.pour("base", 1136.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 1332.0).unwrap();
    book.pour("thinner", 1332.0 + 176.5).unwrap();
    let codes: Vec<String> = seen(&book).mix.pots[0].judgements.iter().map(|j| j.code.clone()).collect();
    for code in ["thinner-of-what", "thinner-over-limit", "heavier-than-sheet"] {
        assert!(codes.iter().any(|c| c == code), "{code}: {codes:?}");
    }
}

/// 2.2 mil dry at 62 % solids is 3.548 mil wet; thinned by 10 % of mixed, 3.903 mil dries to it: the aim and the need follow.
#[test]
fn a_dry_film_asked_stays_asked_whatever_thinner_is_planned() {
    let mut thinned = sheet();
    (thinned["solids_pct"], thinned["thinner_max_pct"]) = (json!(62.0), json!(15.0));
    (thinned["thinner_basis"], thinned["thinner_density_kg_l"]) = (json!("of_mixed"), json!(0.88));
    let dry_mil = |book: &Book| {
        let record = book.record();
        (record.wet_aim_um() / MIL, record.need_ml())
    };
    let wet = 2.2 * MIL / 0.62;
    let mut book = Book::begun_with(thinned.clone(), json!({ "wet_um": wet, "dry_um": 2.2 * MIL }));
    near(dry_mil(&book).0, 3.548, 5e-4);
    let plan = |pct: f64| json!({ "rate_ml_min": 300.0, "thinner_pct": pct });
    book.write(EntryKind::PlanMix, plan(10.0)).unwrap();
    near(dry_mil(&book).0, 3.903, 5e-4);
    near(dry_mil(&book).1, 10.0 * 3.903 * MIL / 0.6, 0.5);
    let view = seen(&book);
    let film = view.mix.plan.expect("a plan").film.replace('\u{a0}', " ");
    assert!(film.contains("99 µm wet, dries to 56 µm"), "{film}");
    // What is weighed in rules over what was planned: half the thinner, so 3.726 mil.
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1050.0 })).unwrap();
    book.pour("base", 800.0 * 1.42).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 800.0 * 1.42 + 196.0).unwrap();
    book.pour("thinner", 800.0 * 1.42 + 196.0 + 44.0).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(20.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, on()).unwrap();
    near(dry_mil(&book).0, 3.548 * 1.05, 2e-3);
    // A wet film asked stays as it was asked.
    let mut book = Book::begun_with(thinned, json!({}));
    book.write(EntryKind::PlanMix, plan(10.0)).unwrap();
    near(dry_mil(&book).0, 4.0, 1e-9);
}

/// 100 g and 2 g on a 1 g scale, band 1.5 to 2.5 %: *cannot tell* in the table, on the level, in the ratio and at the gate,
/// weighed apart and on a running total.
#[test]
fn one_judgement_for_the_row_the_level_and_the_gate() {
    let gel = change(
        json!({ "basis": "percent_by_weight", "ratio": null, "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 }),
    );
    for (tared, reading_g) in [(false, 102.0), (true, 2.0)] {
        let mut book = Book::begun(gel.clone());
        book.ready();
        book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 72.0 })).unwrap();
        book.pour("base", 100.0).unwrap();
        book.write(EntryKind::Combine, on()).unwrap();
        let pour = json!({ "charge": POT, "component": "hardener", "reading_g": reading_g, "tared": tared, "resolution_g": 1.0 });
        book.write(EntryKind::Pour, pour).unwrap();
        book.write(EntryKind::Stirred, on()).unwrap();
        let view = seen(&book);
        let pot = &view.mix.pots[0];
        assert_eq!(pot.lines[1].word, "cannot tell", "tared: {tared}");
        assert_eq!(pot.level.as_ref().unwrap().word, "cannot tell");
        assert_eq!(pot.ratio.as_ref().unwrap().word, "cannot tell");
        assert!(view.holds.iter().any(|h| h.trouble == "cannot-tell"), "{:?}", view.holds);
        assert_eq!(pot.hand, None, "what cannot be told is done all the same: nothing more is to pour");
    }
}

/// The scale's own rule and the table's are one: a pour is done when what is left is within its tolerance or a division.
#[test]
fn whether_a_pour_is_done_is_one_rule() {
    use level_keel_core::mixing::{Component, Weighed, is_done};
    let sheet: level_keel_core::sheets::Sheet = serde_json::from_value(sheet()).unwrap();
    let in_it = |g: f64| [Weighed { component: Component::Base, reading_g: g, resolution_g: 1.0, ..Weighed::default() }];
    assert!(is_done(&sheet, &in_it(951.0), Component::Base, 49.0, 1.0), "4.9 % of a thousand");
    assert!(!is_done(&sheet, &in_it(949.0), Component::Base, 51.0, 1.0));
    assert!(is_done(&sheet, &in_it(9.0), Component::Base, 1.0, 1.0), "a division of the scale");
    assert!(!is_done(&sheet, &in_it(0.0), Component::Base, 0.0, 1.0), "nothing is in");
}

#[test]
fn a_kit_off_the_stated_ratio_is_named() {
    let named = |hardener_g: f64| {
        let mut book = Book::begun(change(json!({ "kit_base_g": 1900.0, "kit_hardener_g": hardener_g })));
        book.ready();
        book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
        let said = seen(&book).mix.pots[0].judgements.clone();
        said.into_iter().find(|j| j.code == "kit-off-ratio").map(|j| j.text.replace('\u{a0}', " "))
    };
    // 17.254 g to 100 g: 327.8 g to 1,900 g.
    assert_eq!(named(328.0), None);
    assert!(named(341.0).unwrap().contains("4.02 % off"), "{:?}", named(341.0));
}

fn change(changes: Value) -> Value {
    let mut sheet = sheet();
    for (key, value) in changes.as_object().unwrap() {
        sheet[key] = value.clone();
    }
    sheet
}

/// Learned use says how it knows: how many coats, how far apart, and what would make it surer.
#[test]
fn learned_use_says_how_it_knows() {
    use level_keel_core::mixing::{Learned, Took};
    let of =
        |used: &[f64]| Learned::of(used.iter().map(|used_ml| Took { used_ml: *used_ml, reckoned_ml: 1000.0 })).map(|l| l.words());
    assert_eq!(of(&[1080.0]), None, "one coat teaches nothing");
    assert_eq!(of(&[1080.0; 2]).unwrap(), "you usually need 8 % more (2 coats, all alike). Surer with more coats signed.");
    let four = [1100.0, 1060.0, 1080.0, 1080.0];
    assert!(of(&four).unwrap().ends_with("(4 coats, from 6 % more to 10 % more). Surer with more coats signed."));
    let five = [1100.0, 1060.0, 1080.0, 1080.0, 1080.0];
    assert_eq!(of(&five).unwrap(), "you usually need 8 % more (5 coats, from 6 % more to 10 % more).");
    let on_the_hairline = [900.0, 1100.0, 1000.0, 1000.0, 1000.0];
    assert_eq!(of(&on_the_hairline).unwrap(), "it usually takes just as reckoned (5 coats, from 10 % less to 10 % more).");
    let wide = [890.0, 1110.0, 1000.0, 1000.0, 1000.0];
    assert!(of(&wide).unwrap().ends_with("Surer if what is left in the pot is weighed at each end."));
    // Of many the newest twelve.
    let many: Vec<f64> = std::iter::repeat_n(1100.0, 12).chain([500.0; 5]).collect();
    assert_eq!(of(&many).unwrap(), "you usually need 10 % more (12 coats, all alike).");
}
