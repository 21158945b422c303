//! The form of a sheet: every kind can be kept from what it asks; what contradicts is named before anything is whole.

use level_keel_core::quantity::{Prefs, UnitSet, resolve};
use level_keel_core::sheet_form::{AtWork, MOST_ASKED, ProductKind, SheetKind, at_work, propose, sheet_kinds};
use level_keel_core::sheets::Sheet;
use level_keel_core::wire::read;
use serde_json::{Value, json};

/// Figures a data sheet might state, by field.
fn stated(field: &str) -> &'static str {
    match field {
        "ratio" => "4:1",
        "base_density_kg_l" => "1.42",
        "hardener_density_kg_l" => "0.98",
        "tolerance_pct" => "5",
        "hardener_pct" => "1.8",
        "band_low_pct" => "1.2",
        "band_high_pct" => "3",
        "pot_life_s" => "4 h",
        "pot_life_at_c" | "recoat_at_c" => "21",
        "induction_s" => "20 min",
        "recoat_min_s" => "6 h",
        "recoat_max_s" => "4 d",
        "solids_pct" => "62",
        "wet_min_um" => "76",
        "wet_max_um" => "127",
        "thinner_max_pct" => "10",
        "temp_min_c" => "10",
        "temp_max_c" => "35",
        "rh_max_pct" => "85",
        "margin_min_dk" => "3",
        "tip_min_um" => "1.8 mm",
        "stir_again_s" => "10 min",
        other => panic!("no figure for {other}"),
    }
}

/// A form as a page makes it: what the kind fills, then what is typed.
fn form(kind: &SheetKind) -> Value {
    let mut form = json!({ "name": "Harbour primer", "has_hardener": kind.has_hardener });
    for (field, text) in &kind.fills {
        form[*field] = json!(text);
    }
    for field in &kind.asks {
        form[*field] = json!(stated(field));
    }
    form
}

fn work(form: &Value) -> AtWork {
    let mut form = form.clone();
    let _ = resolve(&mut form, Prefs::METRIC);
    propose(&mut form);
    at_work(&form, Prefs::METRIC)
}

#[test]
fn every_kind_is_kept_from_what_it_asks_and_is_known_again() {
    for kind in sheet_kinds() {
        assert!(kind.asks.len() <= MOST_ASKED, "{}: {}", kind.word, kind.asks.len());
        let mut form = form(&kind);
        // A most of thinner asks what it is of, and its density: only then.
        let thinned = kind.asks.contains(&"thinner_max_pct");
        assert_eq!(
            work(&form).missing,
            if thinned { vec!["thinner_density_kg_l", "thinner_basis"] } else { vec![] },
            "{}",
            kind.word
        );
        if thinned {
            (form["thinner_basis"], form["thinner_density_kg_l"]) = (json!("of_mixed"), json!("0.87"));
        }
        let at_work = work(&form);
        assert!(at_work.missing.is_empty() && at_work.contradictions.is_empty(), "{}: {at_work:?}", kind.word);
        resolve(&mut form, Prefs::METRIC).unwrap();
        propose(&mut form);
        let sheet =
            read::<Sheet>(form).and_then(|s| s.validate(Prefs::METRIC)).unwrap_or_else(|r| panic!("{}: {r:?}", kind.word));
        assert_eq!(ProductKind::of(&sheet), kind.value);
        assert_eq!((sheet.wet_um, sheet.label.as_str()), (101.5, "Harbour primer"), "the middle of its band");
    }
}

#[test]
fn what_is_missing_is_what_a_sheet_cannot_be_kept_without() {
    for kind in sheet_kinds() {
        let whole = form(&kind);
        for field in kind.asks.iter().filter(|f| **f != "thinner_max_pct") {
            let mut one_less = whole.clone();
            one_less[*field] = Value::Null;
            one_less["thinner_max_pct"] = Value::Null;
            let said = work(&one_less).missing;
            resolve(&mut one_less, Prefs::METRIC).unwrap();
            propose(&mut one_less);
            let kept = read::<Sheet>(one_less).and_then(|s| s.validate(Prefs::METRIC)).is_ok();
            assert_eq!(said.is_empty(), kept, "{} without {field}: {said:?}", kind.word);
        }
    }
}

#[test]
fn the_cup_is_drawn_from_the_ratio_alone() {
    let layers = |form: &Value| {
        work(form).cup.map(|c| {
            (c.title, c.layers.iter().map(|l| (l.name.clone(), l.amount.text.replace('\u{a0}', " "))).collect::<Vec<_>>())
        })
    };
    let two = json!({ "has_hardener": true, "basis": "by_volume", "ratio": "4:1" });
    let (title, parts) = layers(&two).unwrap();
    assert_eq!(title, "One litre of it");
    assert_eq!(parts, [("A".into(), "800 mL".into()), ("B".into(), "200 mL".into())]);
    // By weight, and no density yet: grams, for volumes would be a guess.
    let (title, parts) = layers(&json!({ "has_hardener": true, "basis": "by_weight", "ratio": "8:1" })).unwrap();
    assert_eq!((title.as_str(), parts[1].1.as_str()), ("One kilogram of it", "111.1 g"));
    let mut us = two.clone();
    resolve(&mut us, Prefs::METRIC).unwrap();
    let quart = at_work(&us, Prefs { units: UnitSet::Us, ..Prefs::METRIC }).cup.unwrap();
    let said: Vec<_> = quart.layers.iter().map(|l| l.amount.text.replace('\u{a0}', " ")).collect();
    assert_eq!((quart.title.as_str(), said), ("One quart of it", vec!["25.6 fl oz".to_string(), "6.4 fl oz".to_string()]));
    assert!(layers(&json!({ "has_hardener": true, "basis": "by_volume" })).is_none(), "no ratio, no cup");
    assert!(layers(&json!({ "has_hardener": true, "ratio": "4:1" })).is_none(), "no basis, no cup");
    assert!(layers(&json!({ "has_hardener": true, "basis": "by_volume", "ratio": "four" })).is_none(), "unread is not given");
}

#[test]
fn the_film_is_told_with_its_thinner_and_in_the_readers_units() {
    let typed = json!({ "has_hardener": false, "solids_pct": "62", "wet_min_um": "3 mil", "wet_max_um": "5 mil",
                        "thinner_max_pct": "10 %", "thinner_basis": "of_mixed" });
    let mut form = typed.clone();
    resolve(&mut form, Prefs::METRIC).unwrap();
    let us = Prefs { units: UnitSet::Us, ..Prefs::METRIC };
    let film = at_work(&form, us).film.unwrap();
    // 62 % of 4 mil; thinned 62/1.1 = 56.36 % of it; 1604.2 mil·ft² in a gallon ÷ 4 mil.
    assert_eq!(
        film.text.replace('\u{a0}', " "),
        "4 mil wet dries to 2.5 mil, with 10 % thinner to 2.3 mil; it covers 401 ft²/gal with nothing lost"
    );
    assert!((film.dry_part - 0.62).abs() < 1e-9);
}

#[test]
fn figures_that_contradict_each_other_are_named_at_once() {
    let said = |form: Value| work(&form).contradictions.into_iter().map(|c| (c.field, c.other)).collect::<Vec<_>>();
    assert_eq!(said(json!({ "pot_life_s": "20 min", "induction_s": "30 min" })), [("pot_life_s", "induction_s")]);
    assert_eq!(
        said(json!({ "pot_life_s": "20 min", "induction_s": "20 min" })),
        [("pot_life_s", "induction_s")],
        "dead as it may be sprayed"
    );
    assert!(said(json!({ "pot_life_s": "4 h", "induction_s": "20 min" })).is_empty());
    assert_eq!(said(json!({ "recoat_min_s": "2 d", "recoat_max_s": "6 h" })), [("recoat_max_s", "recoat_min_s")]);
    assert_eq!(said(json!({ "wet_min_um": "5 mil", "wet_max_um": "3 mil", "wet_um": "4 mil" })).len(), 3);
    assert_eq!(said(json!({ "temp_min_c": "30", "temp_max_c": "10" })), [("temp_max_c", "temp_min_c")]);
    assert_eq!(
        said(json!({ "band_low_pct": "1.2", "hardener_pct": "1", "band_high_pct": "3" })),
        [("hardener_pct", "band_low_pct")]
    );
    assert!(said(json!({ "wet_min_um": "100", "wet_max_um": "100" })).is_empty(), "a hairline is in");
}

#[test]
fn solids_are_held_against_density_and_film_against_the_peaks() {
    let said = |form: Value| work(&form).contradictions.into_iter().map(|c| c.field).collect::<Vec<_>>();
    let one = |density: &str, solids: &str| json!({ "has_hardener": false, "base_density_kg_l": density, "solids_pct": solids });
    assert!(said(one("1.42", "62")).is_empty());
    // (3.2 − 0.75·1) / 0.25 = 9.8 kg/L: heavier than zinc. (0.70 − 0.8·0.65) / 0.2 = 0.90: a resin might be.
    assert_eq!(said(one("3.2", "25")), ["solids_pct"]);
    assert!(said(one("0.70", "20")).is_empty());
    // (0.70 − 0.3·0.65) / 0.7 = 0.72 kg/L: lighter than any resin.
    assert_eq!(said(one("0.70", "70")), ["solids_pct"]);
    // (2.5 − 0.75·1) / 0.25 = 7.0 kg/L, under zinc; at 2.6 it is 7.4, over it.
    assert!(said(one("2.5", "25")).is_empty());
    assert_eq!(said(one("2.6", "25")), ["solids_pct"]);
    // The mix counts, not the base alone: 4 : 1 of 3.2 and 1.0 kg/L is 2.76.
    let mix = json!({ "has_hardener": true, "basis": "by_volume", "ratio": "1:1", "base_density_kg_l": "3.2", "hardener_density_kg_l": "0.9", "solids_pct": "25" });
    assert!(said(mix).is_empty(), "2.05 kg/L in all: 5.2 kg/L stays");
    let film = |profile: &str| json!({ "has_hardener": false, "base_density_kg_l": "1.4", "solids_pct": "50", "wet_max_um": "150", "profile_max_um": profile });
    assert_eq!(said(film("76")), ["profile_max_um"], "150 µm wet dries to 75");
    assert!(said(film("75")).is_empty());
}

/// A life without its temperature is no curve: it would be drawn as if it were stated at another.
#[test]
fn a_life_is_drawn_only_at_the_temperature_it_is_stated_at() {
    let clocks = |form: Value| work(&form).clocks.into_iter().map(|c| c.name).collect::<Vec<_>>();
    let life = |at: Value| json!({ "has_hardener": true, "pot_life_s": "4 h", "induction_s": "20 min", "pot_life_at_c": at });
    assert!(clocks(life(Value::Null)).is_empty());
    assert!(clocks(life(json!("warm"))).is_empty(), "unread is not given");
    assert_eq!(clocks(life(json!("21"))), ["Pot life", "Induction"]);
    let stated = work(&life(json!("21"))).clocks[0].points.iter().find(|p| p.stated).unwrap().clone();
    assert_eq!((stated.time.as_str(), stated.at.text.as_str()), ("4\u{a0}h\u{a0}00", "21\u{a0}°C"));
    // What another kind left behind has no clock: one can does not age.
    let mut one_can = life(json!("21"));
    one_can["has_hardener"] = json!(false);
    assert!(clocks(one_can).is_empty());
}

/// Thinner is told of a film only where its share is known.
#[test]
fn thinner_of_the_base_waits_for_the_ratio() {
    let film = |ratio: Value, basis: &str| {
        let form = json!({ "has_hardener": true, "basis": "by_volume", "ratio": ratio, "solids_pct": "60", "wet_min_um": "100",
                           "wet_max_um": "100", "thinner_max_pct": "50", "thinner_basis": basis });
        work(&form).film.unwrap().text.replace('\u{a0}', " ")
    };
    // 1 : 1 with half a part of thinner to the base: 60 % of 2 / 2.5 is 48 µm; of mixed: 60 % of 2 / 3 is 40 µm.
    assert!(film(json!("1:1"), "of_base").contains("with 50 % thinner to 48 µm"));
    assert!(film(json!("1:1"), "of_mixed").contains("with 50 % thinner to 40 µm"));
    assert!(!film(Value::Null, "of_base").contains("thinner"), "without the ratio it would be told as of one can");
    assert!(film(Value::Null, "of_base").contains("100 µm wet dries to 60 µm"), "the rest stands");
}

/// What a form leaves out is proposed, and nothing that was typed is changed.
#[test]
fn the_label_and_the_aim_are_proposed() {
    let proposed = |mut form: Value| {
        propose(&mut form);
        form
    };
    let all = proposed(json!({ "name": "Channel-marker buoy 7 (north)", "label": " ", "wet_min_um": 80.0, "wet_max_um": 120.0 }));
    assert_eq!((&all["label"], &all["wet_um"]), (&json!("Channel-mark 7"), &json!(100.0)));
    let typed =
        proposed(json!({ "name": "Harbour primer", "label": "Primer", "wet_um": 90.0, "wet_min_um": 80.0, "wet_max_um": 120.0 }));
    assert_eq!((&typed["label"], &typed["wet_um"]), (&json!("Primer"), &json!(90.0)));
    let half = proposed(json!({ "name": "", "wet_min_um": 80.0 }));
    assert_eq!((half.get("label"), half.get("wet_um")), (None, None), "half a band has no middle");
}
