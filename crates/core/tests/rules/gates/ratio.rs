//! The ratio of a pot and what bounds it: measured, in its band, thinned as the sheet allows.

use super::*;

#[test]
fn hardener_that_was_never_measured_is_no_ratio() {
    let mut book = opened(sheet());
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pass(3.0).write(EntryKind::Stirred, on()).unwrap();
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["not-measured"]);
    held(start(&mut book), "never measured");
    // Sprayed all the same it is marked; a lead may release it, and then it is not held.
    release_pot(&mut book, "ratio").unwrap();
    start(&mut book).unwrap();
}

#[test]
fn hardener_alone_is_no_ratio() {
    let mut book = opened(sheet());
    book.pour("hardener", 328.0).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(30.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["hardener-alone"]);
    held(start(&mut book), "no measured base");
}

#[test]
fn a_scale_too_coarse_to_bound_holds() {
    let pour = |component: &str, g: f64| json!({ "charge": POT, "component": component, "reading_g": g, "resolution_g": 500.0 });
    let mut book = opened(sheet());
    book.write(EntryKind::Pour, pour("base", 200.0)).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.write(EntryKind::Pour, pour("hardener", 250.0)).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["cannot-bound"]);
    held(start(&mut book), "too coarse");
}

/// Forty readings of a gram each way: the bound is still the true one, and a ratio it cannot prove holds.
#[test]
fn many_readings_are_bounded_exactly() {
    let mut book = opened(sheet());
    let mut g = 0.0;
    for _ in 0..20 {
        g += 95.0;
        book.pour("base", g).unwrap();
    }
    book.write(EntryKind::Combine, on()).unwrap();
    for _ in 0..20 {
        g += 16.4;
        book.pour("hardener", g).unwrap();
    }
    book.write(EntryKind::Stirred, on()).unwrap();
    book.pass(25.0);
    // 1,900 g and 328 g on one running cup: only the first and last readings matter, ± 1 g in 328 is in.
    start(&mut book).unwrap();
}

#[test]
fn a_kit_emptied_whole_is_measured() {
    let kit = with(sheet(), json!({ "kit_base_g": 1900.0, "kit_hardener_g": 328.0 }));
    let can = |component: &str| json!({ "charge": POT, "component": component, "whole_can": true, "reading_g": 0.0, "resolution_g": 1.0 });
    let mut book = opened(kit);
    book.write(EntryKind::Pour, can("base")).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.write(EntryKind::Pour, can("hardener")).unwrap();
    book.write(EntryKind::Stirred, on()).unwrap();
    assert_eq!(book.record().charges[0].weighed().iter().map(|w| w.reading_g).collect::<Vec<_>>(), [1900.0, 328.0]);
    book.pass(25.0);
    start(&mut book).unwrap();
    // No kit on the sheet: there is no can to empty.
    let mut book = opened(sheet());
    let refusal = book.write(EntryKind::Pour, can("base")).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("no-kit", Some("whole_can")));
    let mut book = opened(with(sheet(), json!({ "kit_base_g": 1900.0, "kit_hardener_g": 328.0 })));
    assert_eq!(book.write(EntryKind::Pour, can("thinner")).unwrap_err().code, "no-kit");
}

#[test]
fn thinner_where_none_is_allowed_and_over_the_most_holds_the_spraying() {
    let thin = with(sheet(), json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 }));
    for (sheet, g, trouble, code) in
        [(sheet(), 20.0, "none-allowed", "thinner-not-allowed"), (thin.clone(), 150.0, "over", "thinner-over-limit")]
    {
        let mut book = ready(sheet);
        book.mixed(328.0);
        let thinned = book.pour("thinner", 2228.0 + g).unwrap();
        book.pass(25.0);
        assert_eq!(troubles(&book, GateName::Thinner), [trouble]);
        held(start(&mut book), "of thinner in it");
        let marked: Vec<_> = book.record().deviations.into_iter().map(|d| (d.code, d.entry)).collect();
        assert_eq!(marked, [(code.to_string(), thinned)], "it stands at the pour of thinner");
        release_pot(&mut book, "thinner").unwrap();
        start(&mut book).unwrap();
    }
    // A tenth of 1,673 mL is 167 mL, 145.5 g: a step of the scale over it is no over-pour.
    let mut book = ready(thin);
    book.mixed(328.0);
    book.pour("thinner", 2228.0 + 146.0).unwrap();
    book.pass(25.0);
    start(&mut book).unwrap();
    assert_eq!(codes(&book), Vec::<String>::new());
}

#[test]
fn half_a_catalyst_band_stops_on_its_own_side() {
    let upper = gel(json!({ "band_low_pct": null }));
    let mut book = at_gun(upper.clone());
    book.write(EntryKind::RatioCheck, catch(800.0, 24.0)).unwrap();
    assert_eq!(start(&mut book).unwrap_err().why, Why::Stop, "3 % is over the one bound there is");
    assert_eq!(release_pot(&mut book, "ratio").unwrap_err().why, Why::Stop);
    // Under it there is only the tolerance, ± 5 % of 2 %: a hold.
    let mut book = at_gun(upper);
    book.write(EntryKind::RatioCheck, catch(800.0, 14.0)).unwrap();
    held(start(&mut book), "is out");
    let mut book = at_gun(gel(json!({ "band_high_pct": null })));
    book.write(EntryKind::RatioCheck, catch(800.0, 8.0)).unwrap();
    assert_eq!(start(&mut book).unwrap_err().why, Why::Stop, "1 % is under the least");
    // On the hairline is in: 2.5 % exactly, by a scale that can tell.
    let mut book = at_gun(gel(json!({})));
    book.write(EntryKind::RatioCheck, json!({ "charge": POT, "a_g": 4000.0, "b_g": 99.9, "resolution_g": 0.001 })).unwrap();
    start(&mut book).unwrap();
}

#[test]
fn a_band_left_over_on_a_ratio_is_refused_and_bounds_nothing() {
    let left = with(sheet(), json!({ "band_high_pct": 2.5 }));
    let refusal = serde_json::from_value::<Sheet>(left.clone()).unwrap().validate(Prefs::METRIC).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("band-of-a-ratio", Some("band_high_pct")));
    // On a sheet kept before, it bounds nothing: 4:1 by volume is 17 % by weight and right.
    let mut book = ready(left);
    book.mixed(328.0);
    book.pass(25.0);
    start(&mut book).unwrap();
    let swapped = serde_json::from_value::<Sheet>(gel(json!({ "band_low_pct": 2.6 }))).unwrap().validate(Prefs::METRIC);
    assert_eq!(swapped.unwrap_err().field.as_deref(), Some("band_high_pct"));
}

#[test]
fn a_failed_check_marks_every_pass_since_the_last_good_one() {
    let mut book = at_gun(gel(json!({ "film_proof": "not_asked" })));
    book.write(EntryKind::RatioCheck, catch(800.0, 16.0)).unwrap();
    start(&mut book).unwrap();
    let before = book.pass(1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(EntryKind::RatioCheck, catch(800.0, 16.2)).unwrap();
    let between = book.pass(1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    let second = book.pass(1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(EntryKind::RatioCheck, catch(800.0, 26.0)).unwrap();
    assert!(holds(&book).iter().any(|h| h.gate == GateName::Ratio && h.severity == Severity::Stop));
    let after = book.pass(1.0).write(EntryKind::Pass, pass_on(&[])).unwrap();
    let record = book.record();
    let of = |entry: Uuid| record.deviations.iter().filter(|d| d.entry == entry).map(|d| d.code.as_str()).collect::<Vec<_>>();
    assert_eq!((of(before), of(between), of(after)), (vec![], vec!["check-failed-after"], vec!["catalyst-outside-band"]));
    assert_eq!(of(second), ["check-failed-after"], "every pass since, not the first one only");
}

/// A combining stands though its pours were struck: hardener went in, and nobody says how much.
#[test]
fn a_combining_without_its_pours_is_not_measured() {
    let mut book = opened(sheet());
    let base = book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.write(EntryKind::Strike, json!({ "entry": base, "reason": "that was another pot" })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["not-measured"]);
}
