//! What finished batches come to, what was thrown away, and the trends over many of them.

use crate::book::*;
use crate::mix::near;
use jiff::civil::Date;
use level_keel_core::batch::EntryKind;
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::trends::{Followed, TrendOf, WeekMean, groups};
use serde_json::json;

/// A pot of the sheet mixed, sprayed and closed, its film read.
fn sprayed() -> Book {
    let mut book = Book::begun(sheet());
    book.ready();
    book.mixed(328.0);
    book.sprayed();
    book
}

#[test]
fn a_batch_comes_to_what_was_measured_of_it() {
    let book = sprayed();
    let came = book.record().came_to();
    // The comb read above its last wetted tooth: the middle of the interval, of the film that was wanted.
    let zone = &book.record().film_by_zone(None)[0];
    let middle: f64 = zone.last.iter().map(|r| r.total_um.value).sum::<f64>() / zone.last.len() as f64;
    near(came.film_pct.unwrap(), 100.0 * middle / book.record().wet_aim_um(), 1e-9);
    assert!(came.use_pct.is_some_and(|pct| pct > 0.0) && came.work_s.is_some_and(|s| s > 0.0), "{came:?}");
    assert!(came.ratio_off_pct.is_some_and(|pct| pct.abs() < 5.0), "{came:?}");
    assert_eq!(came.first_time, None, "nothing is said before it is accepted");
}

#[test]
fn nothing_measured_is_nothing_said() {
    let mut book = Book::begun(sheet());
    let came = book.record().came_to();
    assert_eq!((came.film_pct, came.ratio_off_pct, came.use_pct, came.work_s), (None, None, None, None));
    book.ready();
    assert_eq!(book.record().came_to().film_pct, None);
}

#[test]
fn right_the_first_time_is_accepted_and_never_reopened_and_without_a_defect() {
    let mut book = sprayed();
    let seen = book.seen();
    book.pass(10.0).write(EntryKind::Sign, seen).unwrap();
    let seen = book.seen();
    book.pass(10.0).write_as(Role::Inspector, EntryKind::Accept, seen).unwrap();
    assert_eq!(book.record().came_to().first_time, Some(true));
    let seen = json!({ "symptom": "sag", "zone": null });
    let defect = book.write_as(Role::Lead, EntryKind::DefectSeen, seen).unwrap();
    assert_eq!(book.record().came_to().first_time, Some(false), "a defect that was seen after it");
    book.write_as(Role::Lead, EntryKind::Strike, json!({ "entry": defect, "reason": "it was dust" })).unwrap();
    assert_eq!(book.record().came_to().first_time, Some(true));
    book.write_as(Role::Lead, EntryKind::Reopen, json!({ "reason": "the wrong zone" })).unwrap();
    assert_eq!(book.record().came_to().first_time, None, "open again");
}

#[test]
fn waste_is_weighed_and_its_volume_and_cost_follow() {
    let mut book = Book::begun(with(sheet(), json!({ "price_minor_l": 2400.0 })));
    book.ready();
    book.mixed(328.0);
    let mixed_ml: f64 = book.record().charges[0].mixed_ml(&book.record().aim().unwrap().sheet);
    // 1,900 g of base and 328 g of hardener on one scale.
    let mixed_g = 2228.0;
    // Half of what was weighed into it is half of its volume.
    let thrown = json!({ "charge": POT, "how": "discarded", "reason": "late", "waste_g": mixed_g / 2.0 });
    book.write(EntryKind::CloseCharge, thrown).unwrap();
    let waste = book.record().wasted();
    assert_eq!(waste.len(), 1);
    near(waste[0].waste_ml.unwrap(), mixed_ml / 2.0, 1e-6);
    near(waste[0].cost_minor.unwrap(), (2400.0 * mixed_ml / 2000.0).round(), 1e-9);
    assert_eq!(waste[0].waste_g, Some(mixed_g / 2.0));
}

#[test]
fn waste_is_said_one_way_and_never_more_than_was_mixed() {
    let mut book = Book::begun(sheet());
    book.ready();
    let close = |more: serde_json::Value| {
        let mut all = json!({ "charge": POT, "how": "discarded", "reason": "late" });
        all.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        all
    };
    let mut empty = Book::begun(sheet());
    empty.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    let unknown = empty.write(EntryKind::CloseCharge, close(json!({ "waste_g": 100.0 }))).unwrap_err();
    assert_eq!((unknown.code.as_str(), unknown.field.as_deref()), ("no-density", Some("waste_g")), "an empty pot has no density");
    book.mixed(328.0);
    let both = book.write(EntryKind::CloseCharge, close(json!({ "waste_g": 100.0, "waste_ml": 100.0 }))).unwrap_err();
    assert_eq!((both.code.as_str(), both.field.as_deref()), ("one-of", Some("waste_g")));
    let more = book.write(EntryKind::CloseCharge, close(json!({ "waste_g": 50_000.0 }))).unwrap_err();
    assert_eq!(more.field.as_deref(), Some("waste_g"), "{more:?}");
    assert!(book.write(EntryKind::CloseCharge, close(json!({ "waste_g": -1.0 }))).is_err());
}

fn monday(week: i64) -> Date {
    "2026-01-05".parse::<Date>().unwrap().checked_add(jiff::Span::new().weeks(week)).unwrap()
}

fn followed(means: &[f64]) -> Followed {
    let week = |(n, mean): (i64, &f64)| WeekMean { week: monday(n), of: TrendOf::Film, mean: *mean, count: 2 };
    Followed { name: "Epoxy primer".into(), count: 2 * means.len() as i64, weeks: (0..).zip(means).map(week).collect() }
}

#[test]
fn a_trend_is_said_only_where_it_is_no_chance() {
    let line = |means: &[f64]| groups(vec![followed(means)], monday(0), monday(9), Prefs::METRIC)[0].lines[0].clone();
    // The catches of the ratio's own worked example, a hundredfold: scipy's linregress has slope 1.9333 and p = 0.00003.
    let rising = line(&[802.0, 797.0, 805.0, 804.0, 810.0, 806.0, 813.0, 811.0, 817.0, 816.0]);
    assert!(rising.moves && rising.word == "rising 2\u{a0}% a week", "{}", rising.word);
    let falling = line(&[816.0, 817.0, 811.0, 813.0, 806.0, 810.0, 804.0, 805.0, 797.0, 802.0]);
    assert!(falling.moves && falling.word.starts_with("falling"), "{}", falling.word);
    assert_eq!(line(&[100.0, 104.0, 97.0, 101.0, 99.0, 103.0, 98.0, 102.0, 100.0, 101.0]).word, "steady");
    assert_eq!(line(&[90.0, 95.0, 100.0, 105.0, 110.0, 115.0, 120.0]).word, "too few weeks");
    // Ten weeks of many batches and a last one with a single batch: that one moves nothing.
    let mut weeks: Vec<WeekMean> =
        (0..10).map(|n| WeekMean { week: monday(n), of: TrendOf::FirstTime, mean: 86.0, count: 168 }).collect();
    weeks.push(WeekMean { week: monday(10), of: TrendOf::FirstTime, mean: 100.0, count: 1 });
    let many = Followed { name: "Many".into(), count: 1681, weeks };
    let right =
        groups(vec![many], monday(0), monday(10), Prefs::METRIC)[0].lines.iter().find(|l| l.of == TrendOf::FirstTime).cloned();
    assert_eq!(right.map(|l| l.word), Some("steady".to_string()));
    // A slope that is nothing in the digits it is said with is none.
    let slight: Vec<f64> = (0..12).map(|n| 99.0 + 0.01 * f64::from(n)).collect();
    assert_eq!(line(&slight).word, "steady");
    let off = vec![WeekMean { week: monday(0), of: TrendOf::Ratio, mean: -0.01, count: 1 }];
    let off = groups(vec![Followed { name: "Off".into(), count: 1, weeks: off }], monday(0), monday(1), Prefs::METRIC);
    assert_eq!(off[0].lines[1].mean.as_deref(), Some("0.0\u{a0}%"), "no minus before nothing");
    let none = line(&[]);
    assert_eq!((none.word.as_str(), none.mean, none.planned_y), ("not measured", None, None));
}

#[test]
fn a_mean_counts_batches_and_not_weeks_and_the_plan_stands_in_the_picture() {
    let weeks = vec![
        WeekMean { week: monday(0), of: TrendOf::Film, mean: 90.0, count: 3 },
        WeekMean { week: monday(4), of: TrendOf::Film, mean: 110.0, count: 1 },
        WeekMean { week: monday(4), of: TrendOf::FirstTime, mean: 50.0, count: 2 },
    ];
    let small = Followed { name: "Alone".into(), count: 1, weeks: Vec::new() };
    let seen = groups(vec![small, Followed { name: "Many".into(), count: 4, weeks }], monday(0), monday(8), Prefs::METRIC);
    assert_eq!(seen.iter().map(|g| g.name.as_str()).collect::<Vec<_>>(), ["Many", "Alone"], "most batches first");
    let film = &seen[0].lines[0];
    assert_eq!((film.mean.as_deref(), film.count), (Some("95\u{a0}%"), 4), "(3 · 90 + 110) / 4");
    assert_eq!(film.points.iter().map(|p| (p.x, p.y)).collect::<Vec<_>>(), [(0.0, 0.0), (0.5, 1.0)]);
    assert_eq!(film.planned_y, Some(0.5));
    let right = seen[0].lines.iter().find(|l| l.of == TrendOf::FirstTime).unwrap();
    assert_eq!(right.mean.as_deref(), Some("50\u{a0}%"));
    assert_eq!(seen[1].lines[0].word, "not measured");
}
