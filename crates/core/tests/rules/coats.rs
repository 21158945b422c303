//! The coat system of a part: how a coat is put on, which comes next, what is wrong with a plan, the times of a pair.

use jiff::{SignedDuration, Timestamp};
use level_keel_core::coat_system::{CoatPlan, CoatState, MOST_COATS, Method, check, next};
use level_keel_core::quantity::Prefs;
use level_keel_core::recoat::{PairTimes, SurfaceRange};
use level_keel_core::refusal::Why;
use level_keel_core::sheets::ChargeKind;
use level_keel_core::worded::{VariantArray, Worded};
use serde_json::{Value, json};

/// Two methods mix at the gun, two do not spray; every other one mixes in a pot and sprays.
#[test]
fn where_components_meet_and_what_sprays() {
    for method in Method::VARIANTS.iter().copied() {
        let at_gun = matches!(method, Method::GelCoatMachine | Method::TwinFeed);
        assert_eq!(method.charge() == ChargeKind::AtGun, at_gun, "{}", method.word());
        assert_eq!(method.sprays(), !matches!(method, Method::Brush | Method::Roller), "{}", method.word());
    }
}

fn stands(name: &str, begun: bool, in_work: Option<i64>, window: Option<&str>) -> CoatState {
    CoatState { name: name.into(), in_work, begun, window: window.map(String::from) }
}

#[test]
fn the_coat_in_work_comes_first_then_the_first_that_is_not_begun() {
    let primer = |begun, in_work| stands("Primer", begun, in_work, Some("from 14:10"));
    let bare = |name: &str| stands(name, false, None, None);
    assert_eq!(next(&[bare("Primer"), bare("Finish")]), (Some(0), "Primer: may begin".into()));
    assert_eq!(next(&[primer(true, Some(7)), bare("Finish")]), (Some(0), "Primer: in work, batch 0007".into()));
    assert_eq!(next(&[primer(true, None), bare("Finish")]), (Some(1), "Finish: from 14:10".into()));
    let second = stands("Tie", true, None, None);
    assert_eq!(next(&[primer(true, None), second.clone(), bare("Finish")]), (Some(2), "Finish: may begin".into()));
    assert_eq!(next(&[primer(true, None), second]), (None, "every coat is on".into()));
    assert_eq!(next(&[]), (None, "every coat is on".into()));
}

fn plan(changes: Value) -> CoatPlan {
    let mut body = json!({ "name": "Primer" });
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    serde_json::from_value(body).unwrap()
}

#[test]
fn what_is_wrong_with_a_system_is_named_by_its_path() {
    for (second, field) in [
        (json!({ "name": " " }), "coats[1].name"),
        (json!({ "name": "n".repeat(200) }), "coats[1].name"),
        (json!({ "name": "pRIMER" }), "coats[1].name"),
        (json!({ "name": "Finish", "film_um": -1.0 }), "coats[1].film_um"),
        (json!({ "name": "Finish", "film_um": 1e9 }), "coats[1].film_um"),
        (json!({ "name": "Finish", "prepare": "p".repeat(5000) }), "coats[1].prepare"),
    ] {
        let refusal = check(vec![plan(json!({})), plan(second.clone())], Prefs::METRIC).expect_err(&second.to_string());
        assert_eq!((refusal.why, refusal.field.as_deref()), (Why::BadInput, Some(field)), "{second}");
    }
    let many = |count: usize| check((0..count).map(|i| plan(json!({ "name": format!("Coat {i}") }))).collect(), Prefs::METRIC);
    assert_eq!(many(0).unwrap_err().field.as_deref(), Some("coats"));
    assert_eq!(many(MOST_COATS).unwrap().len(), MOST_COATS);
    assert_eq!(many(MOST_COATS + 1).unwrap_err().field.as_deref(), Some("coats"));
    // Blanks around a name go, and a preparation of blanks is none.
    let kept = check(vec![plan(json!({ "name": "  Primer ", "prepare": "  " }))], Prefs::METRIC).unwrap();
    assert_eq!((kept[0].name.as_str(), kept[0].prepare.as_deref()), ("Primer", None));
}

fn pair(changes: Value) -> PairTimes {
    let mut body = json!({ "recoat_min_s": 7200.0, "recoat_max_s": 86_400.0, "recoat_at_c": 20.0 });
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    serde_json::from_value(body).unwrap()
}

#[test]
fn the_times_of_a_pair_are_in_order_and_inside_sense() {
    for (change, field) in [
        (json!({ "recoat_min_s": 86_401.0 }), "recoat_max_s"),
        (json!({ "recoat_min_s": -1.0 }), "recoat_min_s"),
        (json!({ "recoat_max_s": 1e12 }), "recoat_max_s"),
        (json!({ "recoat_at_c": 500.0 }), "recoat_at_c"),
        (json!({ "prepare": "p".repeat(5000) }), "prepare"),
    ] {
        let refusal = pair(change.clone()).validate(Prefs::METRIC).expect_err(&change.to_string());
        assert_eq!(refusal.field.as_deref(), Some(field), "{change}");
    }
    for change in [
        json!({ "recoat_min_s": 86_400.0 }),
        json!({ "recoat_min_s": null }),
        json!({ "recoat_max_s": null }),
        json!({ "prepare": "abrade" }),
    ] {
        pair(change.clone()).validate(Prefs::METRIC).unwrap_or_else(|r| panic!("{change}: {}", r.text));
    }
}

/// By the rule of a sheet's own times (common practice in the trade): 2 h at 20 °C are 4 h at 10 °C; a day is half a day at 30 °C.
#[test]
fn a_pair_follows_the_temperature_like_a_sheet() {
    let ended: Timestamp = "2026-05-04T08:00:00Z".parse().unwrap();
    let window = |c: f64| pair(json!({})).window(ended, SurfaceRange::of([c]));
    let hours = |n: i64| Some(ended + SignedDuration::from_hours(n));
    assert_eq!((window(20.0).earliest, window(20.0).latest), (hours(2), hours(24)));
    assert_eq!((window(10.0).earliest, window(10.0).latest), (hours(4), hours(24)));
    assert_eq!((window(30.0).earliest, window(30.0).latest), (hours(2), hours(12)));
    let open = pair(json!({ "recoat_min_s": null, "recoat_max_s": null })).window(ended, None);
    assert_eq!((open.earliest, open.latest), (None, None));
}
