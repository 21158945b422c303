//! What an empty shop is asked, and in which order it puts down its first things.

use level_keel_core::film::{CombInWords, UsualComb};
use level_keel_core::quantity::{NumberFormat, Prefs, UnitSet};
use level_keel_core::shop::{FirstThing, FirstVisit, PutDown, Shop, first_steps};

fn visit() -> FirstVisit {
    FirstVisit {
        owner: "Mara Sill".into(),
        pin: "258036".into(),
        units: UnitSet::Us,
        shop: "Tern Yard".into(),
        zone: "America/Halifax".into(),
        works_alone: true,
        scale_resolution_g: 1.0,
        comb: UsualComb::Mil,
    }
}

#[test]
fn a_first_visit_names_every_field_that_is_wrong() {
    let (kept, shop) = FirstVisit { owner: "  Mara Sill ".into(), ..visit() }.validate(6).unwrap();
    assert_eq!((kept.owner.as_str(), shop.name.as_str(), shop.works_alone), ("Mara Sill", "Tern Yard", true));
    let wrong = FirstVisit { owner: " ".into(), pin: "0000".into(), shop: String::new(), zone: "Nowhere/Reef".into(), ..visit() };
    let fields: Vec<_> = wrong.validate(6).unwrap_err().into_iter().map(|r| r.field.unwrap()).collect();
    assert_eq!(fields, ["owner", "pin", "shop", "zone"]);
    for (wrong, field) in [
        (FirstVisit { scale_resolution_g: 0.0, ..visit() }, "scale_resolution_g"),
        (FirstVisit { scale_resolution_g: f64::NAN, ..visit() }, "scale_resolution_g"),
        (FirstVisit { owner: "x".repeat(81), ..visit() }, "owner"),
        (FirstVisit { pin: "12a4".into(), ..visit() }, "pin"),
        (FirstVisit { shop: "a\u{7}b".into(), ..visit() }, "shop"),
        (FirstVisit { zone: "../../etc/passwd".into(), ..visit() }, "zone"),
    ] {
        let refusals = wrong.validate(6).unwrap_err();
        assert_eq!(refusals.iter().map(|r| r.field.as_deref().unwrap()).collect::<Vec<_>>(), [field]);
    }
}

#[test]
fn a_zone_is_one_of_the_worlds() {
    let of = |zone: &str| {
        Shop {
            name: "Tern Yard".into(),
            zone: zone.into(),
            works_alone: false,
            check_every_s: None,
            overdue_scale: Default::default(),
        }
        .validate(Prefs::METRIC)
    };
    assert_eq!(of("europe/lisbon").unwrap().zone, "Europe/Lisbon", "as it is written in the list");
    for unknown in ["", "Lisbon", "UTC+25", "Europe/Lisbon/Reef"] {
        assert_eq!(of(unknown).unwrap_err().code, "unknown-zone", "{unknown}");
    }
}

#[test]
fn the_sheet_is_first_and_then_a_batch_may_be_begun() {
    let now = |has| first_steps(has, true).into_iter().filter(|s| s.now).map(|s| s.thing).collect::<Vec<_>>();
    assert_eq!(now(PutDown::default()), [FirstThing::Sheet]);
    assert_eq!(now(PutDown { rig: true, people: true, ..PutDown::default() }), [FirstThing::Sheet]);
    assert_eq!(now(PutDown { sheet: true, ..PutDown::default() }), [FirstThing::Batch], "the rig can wait");
    assert!(now(PutDown { sheet: true, batch: true, ..PutDown::default() }).is_empty());
    let done: Vec<_> = first_steps(PutDown { rig: true, ..PutDown::default() }, true).iter().map(|s| s.done).collect();
    assert_eq!(done, [false, false, true], "a shop of one adds nobody");
    let crew = first_steps(PutDown { people: true, ..PutDown::default() }, false);
    assert_eq!(crew.last().map(|s| (s.thing, s.done)), Some((FirstThing::People, true)));
}

#[test]
fn a_comb_is_read_as_one_reads_it_aloud() {
    let read = |teeth: &str, prefs| CombInWords { name: "Pocket comb".into(), teeth: teeth.into() }.read(prefs);
    let us = Prefs { units: UnitSet::Us, ..Prefs::default() };
    let near = |teeth: Vec<f64>, wanted: &[f64]| {
        assert_eq!(teeth.len(), wanted.len());
        assert!(teeth.iter().zip(wanted).all(|(a, b)| (a - b).abs() < 1e-9), "{teeth:?}");
    };
    // Their own unit fills in.
    near(read("1 2 3 4", us).unwrap().teeth_um, &[25.4, 50.8, 76.2, 101.6]);
    assert_eq!(read("50, 100; 150 µm", us).unwrap().teeth_um, [50.0, 100.0, 150.0], "the unit holds for all before it");
    near(read("100µm 8 10 mil", us).unwrap().teeth_um, &[100.0, 203.2, 254.0]);
    let comma = Prefs { numbers: NumberFormat::Comma, ..Prefs::METRIC };
    assert_eq!(read("12,5 25", comma).unwrap().teeth_um, [12.5, 25.0]);
    for (wrong, code) in [
        ("", "count"),
        ("50", "count"),
        ("mil", "count"),
        ("50 50", "out-of-order"),
        ("100 50", "out-of-order"),
        ("50 x1 2", "not-understood"),
        ("0 50", "outside-limits"),
    ] {
        let refusal = read(wrong, Prefs::METRIC).unwrap_err();
        assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), (code, Some("teeth")), "{wrong}");
    }
    for usual in [UsualComb::Mil, UsualComb::Micrometre] {
        assert!(usual.teeth_um().windows(2).all(|w| w[0] < w[1]));
    }
}
