//! Confusions of the mixing bench, each by the figure it makes, and what is not a confusion though it looks like one.

use level_keel_core::mixing::{Amount, Component, FigureIs, Judgement, MixedPot, PlannedPour, Weighed, judgements, plan};
use level_keel_core::quantity::{Prefs, UnitSet};
use level_keel_core::sheets::Sheet;
use serde_json::{Value, json};

fn sheet(changes: Value) -> Sheet {
    let mut body = crate::book::sheet();
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    serde_json::from_value::<Sheet>(body).unwrap().validate(Prefs::METRIC).unwrap()
}

fn thinned(basis: &str) -> Sheet {
    sheet(json!({ "thinner_max_pct": 20.0, "thinner_basis": basis, "thinner_density_kg_l": 0.87 }))
}

/// A pot of a litre for a coat of a litre, on a scale of one gram.
struct Bench {
    sheet: Sheet,
    plan: Vec<PlannedPour>,
    thinner_pct: f64,
    wanted_ml: f64,
    need_ml: f64,
    resolution_g: f64,
    amount: Option<Amount>,
    prefs: Prefs,
}

impl Bench {
    fn of(sheet: Sheet, wanted_ml: f64, thinner_pct: f64) -> Bench {
        let plan = plan(&sheet, wanted_ml, thinner_pct, Prefs::METRIC).unwrap();
        Bench { sheet, plan, thinner_pct, wanted_ml, need_ml: wanted_ml, resolution_g: 1.0, amount: None, prefs: Prefs::METRIC }
    }

    /// What is said with these masses in the cup, one after the other on a running total.
    fn says(&self, masses: &[(Component, f64)]) -> Vec<Judgement> {
        let mut total = 0.0;
        let pours: Vec<Weighed> = masses
            .iter()
            .map(|(component, g)| {
                total += g;
                Weighed { component: *component, reading_g: total, resolution_g: self.resolution_g, ..Weighed::default() }
            })
            .collect();
        let mixed = MixedPot {
            sheet: &self.sheet,
            plan: &self.plan,
            pours: &pours,
            amount: self.amount.as_ref(),
            thinner_pct: self.thinner_pct,
            need_ml: self.need_ml,
            wanted_ml: self.wanted_ml,
            resolution_g: self.resolution_g,
            by_cup: false,
        };
        judgements(&mixed, self.prefs)
    }

    fn codes(&self, masses: &[(Component, f64)]) -> Vec<String> {
        self.says(masses).into_iter().map(|j| j.code).collect()
    }
}

use Component::{Base, Hardener, Thinner};

#[test]
fn a_right_pot_has_nothing_said_of_it() {
    // 4:1 by volume of 1.42 and 0.98 kg/L: 17.254 g of B per 100 g of A.
    let bench = Bench::of(sheet(json!({})), 1000.0, 0.0);
    assert_eq!(bench.codes(&[]), Vec::<String>::new());
    assert_eq!(bench.codes(&[(Base, 1136.0), (Hardener, 196.0)]), Vec::<String>::new());
}

/// 800 mL and 200 mL, 15 %: of base 120, of mixed 150, of finished 176.5 mL. Poured by another basis it is named; poured
/// right it is not, whatever the basis.
#[test]
fn thinner_of_another_basis_is_named() {
    let in_cup = |ml: f64| [(Base, 800.0 * 1.42), (Hardener, 200.0 * 0.98), (Thinner, ml * 0.87)];
    let named = |basis: &str, ml: f64| {
        let said = Bench::of(thinned(basis), 1150.0, 15.0).says(&in_cup(ml));
        said.into_iter().find(|j| j.code == "thinner-of-what").map(|j| j.text.replace('\u{a0}', " "))
    };
    for (basis, right, wrong, word) in [
        ("of_base", 120.0, 150.0, "150 mL is 15 % of mixed"),
        ("of_mixed", 150.0, 176.5, "176 mL is 15 % of finished"),
        ("of_mixed", 150.0, 120.0, "120 mL is 15 % of base"),
        ("of_finished", 176.5, 150.0, "150 mL is 15 % of mixed"),
    ] {
        assert_eq!(named(basis, right), None, "{basis} {right}");
        let said = named(basis, wrong).unwrap_or_else(|| panic!("{basis} {wrong}: nothing said"));
        assert!(said.starts_with(word) || said.starts_with(&word.replace("176", "177")), "{said}");
    }
}

#[test]
fn thinner_by_the_figure_of_its_percent_and_over_the_most() {
    let bench = Bench::of(thinned("of_mixed"), 1150.0, 15.0);
    // Fifteen fluid ounces of it: 444 mL; over the sheet's 20 % of 1,000 mL too.
    let said = bench.says(&[(Base, 1136.0), (Hardener, 196.0), (Thinner, 443.6 * 0.87)]);
    let codes: Vec<&str> = said.iter().map(|j| j.code.as_str()).collect();
    assert!(codes.contains(&"percent-as-amount") && codes.contains(&"thinner-over-limit"), "{codes:?}");
    let us = Bench { prefs: Prefs { units: UnitSet::Us, ..Prefs::METRIC }, ..bench };
    let text = us.says(&[(Base, 1136.0), (Hardener, 196.0), (Thinner, 443.6 * 0.87)]);
    let text = text.iter().find(|j| j.code == "percent-as-amount").unwrap().text.replace('\u{a0}', " ");
    // 150 mL is 5.07 fl oz.
    assert!(text.contains("15.0 fl oz") && text.contains("5.1 fl oz was meant"), "{text}");
    // At the most, to a division of the scale, it is within.
    assert!(
        !us.codes(&[(Base, 1136.0), (Hardener, 196.0), (Thinner, 200.0 * 0.87 + 0.5)]).contains(&"thinner-over-limit".into())
    );
}

/// A percentage by weight poured as so many grams: 1.8 % of 2,400 g is 43.2 g; 1.8 g in is named and a stop.
#[test]
fn a_catalyst_percent_poured_as_grams() {
    let gel = sheet(
        json!({ "basis": "percent_by_weight", "ratio": null, "hardener_pct": 1.8, "band_low_pct": 1.5, "band_high_pct": 2.5 }),
    );
    let bench = Bench { resolution_g: 0.1, ..Bench::of(gel, 1700.0, 0.0) };
    let said = bench.says(&[(Base, 2400.0), (Hardener, 1.8)]);
    assert!(said[0].stop && said[0].code == "catalyst-outside-band" && said[0].text.contains("never cure"), "{said:?}");
    let named = said.iter().find(|j| j.code == "percent-as-amount").expect("named").text.replace('\u{a0}', " ");
    assert!(named.contains("not 1.8") && named.contains("43.2 g was meant"), "{named}");
    // Over the band it cures brittle; inside it nothing is said.
    let hot = bench.says(&[(Base, 2400.0), (Hardener, 72.0)]);
    assert!(hot[0].stop && hot[0].text.contains("brittle"), "{hot:?}");
    assert_eq!(bench.codes(&[(Base, 2400.0), (Hardener, 43.2)]), Vec::<String>::new());
}

/// 100 g and 2 g on a 1 g scale, band 1.5–2.5 %: cannot tell. Apart 3 g are proved with 141–166 g, as a running total 5 g with
/// 241–266 g: of these the ones at the 2 % aimed at are said.
#[test]
fn a_scale_that_cannot_tell_says_what_could() {
    let gel = sheet(
        json!({ "basis": "percent_by_weight", "ratio": null, "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 }),
    );
    let bench = Bench::of(gel, 72.0, 0.0);
    let said = bench.says(&[(Base, 100.0), (Hardener, 2.0)]);
    let text = said.iter().find(|j| j.code == "scale-too-coarse").expect("it cannot tell").text.replace('\u{a0}', " ");
    assert!(text.contains("tare before the hardener: 150 g base with 3 g hardener"), "{text}");
    assert!(text.contains("250 g base with 5 g hardener") && text.ends_with("a finer scale."), "{text}");
    // Between the two: tared it is proved, as a running total not. 150 g with 3 g.
    let middle = Bench::of(bench.sheet.clone(), 150.0 / 1.42 + 3.0 / 0.98, 0.0);
    assert_eq!(middle.codes(&[]), ["tare-before-hardener"]);
}

/// Pieces whose figure is half, or a third, of what area and film want: a side, or a coat, was left out.
#[test]
fn one_side_or_coat_counted() {
    let pieces = |figure_is| Amount::Pieces {
        piece_count: 10.0,
        per_piece_ml: 100.0,
        figure_is,
        figure_side_count: 1.0,
        side_count: 1.0,
        figure_coat_count: 1.0,
        coat_count: 1.0,
    };
    let of = |need_ml: f64, figure_is| {
        let bench = Bench { need_ml, amount: Some(pieces(figure_is)), ..Bench::of(sheet(json!({})), 1000.0, 0.0) };
        bench.codes(&[])
    };
    assert_eq!(of(2000.0, FigureIs::Finished), ["one-side-or-coat"]);
    assert_eq!(of(3000.0, FigureIs::Finished), ["one-side-or-coat"]);
    assert_eq!(of(1000.0, FigureIs::Finished), Vec::<String>::new());
    assert_eq!(of(1400.0, FigureIs::Finished), Vec::<String>::new(), "neither half nor a third");
    // A litre of finished 4:1 holds 800 mL of base: a figure of base taken for one of finished paint shows as that.
    assert_eq!(of(800.0, FigureIs::Finished), ["base-or-finished"]);
    assert_eq!(of(1250.0, FigureIs::Base), ["base-or-finished"]);
}

#[test]
fn a_pot_heavier_than_its_life_was_measured_on_and_a_density_nobody_states() {
    let small = Bench::of(sheet(json!({ "pot_life_mass_g": 500.0 })), 1000.0, 0.0);
    assert_eq!(small.codes(&[]), ["heavier-than-sheet"]);
    assert_eq!(Bench::of(sheet(json!({ "pot_life_mass_g": 1500.0 })), 1000.0, 0.0).codes(&[]), Vec::<String>::new());
    let pearl = sheet(json!({ "additives": [{ "name": "Pearl", "dose_g_l": 20.0 }] }));
    let said = Bench::of(pearl, 1000.0, 0.0).says(&[]);
    assert_eq!(said[0].code, "density-missing");
    assert!(said[0].text.contains("Pearl"), "{}", said[0].text);
}

#[test]
fn the_wrong_one_first_is_said_while_it_can_be_mended() {
    let bench = Bench::of(sheet(json!({})), 1000.0, 0.0);
    assert_eq!(bench.codes(&[(Hardener, 196.0)])[0], "wrong-order");
    assert_eq!(bench.codes(&[(Hardener, 196.0), (Base, 1136.0)]), ["wrong-order"], "the ratio itself is right");
    // 4:1 by volume poured as 4:1 by weight.
    assert!(bench.codes(&[(Base, 1136.0), (Hardener, 284.0)]).contains(&"volume-as-weight".into()));
}
