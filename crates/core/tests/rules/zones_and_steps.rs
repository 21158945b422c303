//! Zones with their area and order, steps and ways of a pass, and the table of phases.

use crate::book::*;
use level_keel_core::batch::begin::{ZoneWanted, zone_areas};
use level_keel_core::batch::beside::Neighbour;
use level_keel_core::batch::entries::{Phase, Zone};
use level_keel_core::batch::view::{SprayView, Viewer};
use level_keel_core::batch::{Case, whole};
use level_keel_core::batch::{EntryKind, Payload};
use level_keel_core::book::{Ledger, LedgerKind};
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::worded::VariantArray;
use serde_json::json;
use uuid::Uuid;

fn measured(name: &str, area_m2: f64) -> ZoneWanted {
    ZoneWanted::Measured { name: name.into(), area_m2 }
}

fn named(name: &str) -> ZoneWanted {
    ZoneWanted::Named(name.into())
}

fn seen_at_spray(book: &Book) -> SprayView {
    let viewer = Viewer { writer: writer(Role::Lead), comb_um: vec![MIL], scale_g: 1.0 };
    whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("a begun batch").spray
}

/// What is measured counts; the others share what is left, and are marked.
#[test]
fn zones_that_nobody_measured_share_the_rest() {
    let areas = |zones: &[ZoneWanted], whole| zone_areas(zones, whole, Prefs::METRIC);
    assert_eq!(areas(&[], 10.0).unwrap(), []);
    assert_eq!(areas(&[named("a"), named("b")], 10.0).unwrap(), [(5.0, true), (5.0, true)]);
    assert_eq!(areas(&[measured("a", 4.0), named("b"), named("c")], 10.0).unwrap(), [(4.0, false), (3.0, true), (3.0, true)]);
    assert_eq!(areas(&[measured("a", 4.0), measured("b", 6.0)], 10.0).unwrap(), [(4.0, false), (6.0, false)]);
    // One per cent of the whole is what rounding does; beyond it something is wrong, either way.
    assert!(areas(&[measured("a", 10.09)], 10.0).is_ok() && areas(&[measured("a", 9.91)], 10.0).is_ok());
    for wrong in [
        vec![measured("a", 10.11)],
        vec![measured("a", 9.89)],
        vec![measured("a", 10.0), named("b")],
        vec![measured("a", 9.95), named("b")],
    ] {
        let refusal = areas(&wrong, 10.0).unwrap_err();
        assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("zones-do-not-add-up", Some("zones")), "{wrong:?}");
    }
    // What is left is more than rounding: it is a zone.
    assert!(areas(&[measured("a", 9.89), named("b")], 10.0).is_ok());
    let refusal = areas(&[named("a"), measured("b", -1.0)], 10.0).unwrap_err();
    assert_eq!(refusal.field.as_deref(), Some("zones[1].area_m2"), "each figure is inside the limits of sense");
}

/// A book of before zones had areas is read with equal shares of its area, marked as assumed; a later one as it was written.
#[test]
fn zones_of_older_books_have_equal_shares() {
    let zone = |n: u128, name: &str| json!({ "id": Uuid::from_u128(n), "name": name });
    let three = json!([zone(1, "hull"), zone(2, "keel"), zone(3, "rudder")]);
    let old = Book::begun_with(sheet(), json!({ "area_m2": 12.0, "zones": three }));
    let zones = old.record().aim().unwrap().zones.clone();
    let expected = |n: u128, name: &str, place| Zone {
        id: Uuid::from_u128(n),
        name: name.into(),
        area_m2: 4.0,
        area_assumed: true,
        place,
        shape: None,
    };
    assert_eq!(zones, [expected(1, "hull", 1), expected(2, "keel", 2), expected(3, "rudder", 3)]);
    let whole = json!({ "id": Uuid::from_u128(1), "name": "hull", "area_m2": 9.0, "area_assumed": false, "place": 1 });
    let new = Book::begun_with(sheet(), json!({ "area_m2": 12.0, "zones": [whole.clone()] }));
    assert_eq!(serde_json::to_value(&new.record().aim().unwrap().zones).unwrap(), json!([whole]));
}

/// A pass names its step by the sheet's own word, and its way; so does a try of pressure.
#[test]
fn a_pass_names_its_step_and_its_way() {
    let mut of_steps = sheet();
    of_steps["steps"] =
        json!([{ "name": "mist", "passes_count": 2.0 }, { "name": "flood" }, { "name": "dust", "passes_count": 1.0 }]);
    let mut book = Book::begun(of_steps);
    book.ready();
    book.write(EntryKind::SetUp, json!({ "pot_kpa": 69.0, "step": "mist" })).unwrap();
    book.mixed(328.0);
    book.pass(21.0).write(EntryKind::Stirred, on()).unwrap();
    book.write(EntryKind::StartSpraying, on()).unwrap();
    let at_hand = |book: &Book| seen_at_spray(book).step_at_hand;
    assert_eq!(seen_at_spray(&book).steps, ["mist", "flood", "dust"]);
    assert_eq!(at_hand(&book).as_deref(), Some("mist"));
    let pass = |book: &mut Book, step: &str, way: &str| {
        book.write(EntryKind::Pass, json!({ "charge": POT, "step": step, "way": way })).unwrap();
    };
    pass(&mut book, "Mist", "along");
    assert_eq!(at_hand(&book).as_deref(), Some("mist"), "one of its two passes is on");
    pass(&mut book, "mist", "across");
    assert_eq!(at_hand(&book).as_deref(), Some("flood"));
    pass(&mut book, "flood", "circles");
    assert_eq!(at_hand(&book).as_deref(), Some("flood"), "nobody says how many: the next is named by hand");
    pass(&mut book, "dust", "corners");
    assert_eq!(at_hand(&book).as_deref(), Some("dust"), "the last one stays");
    let rows = seen_at_spray(&book).passes;
    assert_eq!((rows[2].step.as_deref(), rows[2].way.as_deref()), (Some("flood"), Some("in circles")));
    let record = book.record();
    let line = record.words(record.log.last().unwrap().said.as_deref().unwrap(), Prefs::METRIC);
    assert!(line.contains(", dust, corners and edges"), "{line}");
    // A word that is none is refused by its field; another name than the sheet's is a fact, and taken.
    assert_eq!(
        book.write(EntryKind::Pass, json!({ "charge": POT, "way": "upwards" })).unwrap_err().field.as_deref(),
        Some("way")
    );
    let long = book.write(EntryKind::Pass, json!({ "charge": POT, "step": "x".repeat(200) })).unwrap_err();
    assert_eq!(long.field.as_deref(), Some("step"));
    book.write(EntryKind::Pass, json!({ "charge": POT, "step": "extra" })).unwrap();
    let mut plain = Book::begun(sheet());
    plain.ready();
    assert_eq!(seen_at_spray(&plain).step_at_hand, None, "a sheet without steps asks for none");
}

/// When each kind may be written: from which phase on, and until which.
#[test]
fn the_table_of_phases() {
    let row = |kind: &EntryKind| (kind.name(), kind.from_phase(), kind.until());
    let unusual: Vec<_> =
        EntryKind::VARIANTS.iter().map(row).filter(|(_, from, until)| (*from, *until) != (Phase::Open, Phase::Sprayed)).collect();
    assert_eq!(
        unusual,
        [
            ("stage_look", Phase::Open, Phase::Signed),
            ("control_sample", Phase::Open, Phase::Signed),
            ("gauge_bare", Phase::Open, Phase::Signed),
            ("gauge_foil", Phase::Open, Phase::Signed),
            ("plan_acceptance", Phase::Sprayed, Phase::Signed),
            ("move_spot", Phase::Sprayed, Phase::Signed),
            ("gauge_read", Phase::Sprayed, Phase::Signed),
            ("defect_seen", Phase::Open, Phase::Accepted),
            ("defect_look", Phase::Open, Phase::Accepted),
            ("defect_settled", Phase::Open, Phase::Accepted),
            ("note", Phase::Open, Phase::Accepted),
            ("release", Phase::Open, Phase::Signed),
            ("strike", Phase::Open, Phase::Accepted),
            ("accept", Phase::Signed, Phase::Signed),
            ("reopen", Phase::Signed, Phase::Accepted)
        ]
    );
    let mut book = Book::begun(sheet());
    assert_eq!(book.record().phase(), Phase::Open);
    let refusal = book.write_as(Role::Lead, EntryKind::Reopen, json!({ "reason": "why" })).unwrap_err();
    assert_eq!(refusal.code, "not-signed");
    book.ready();
    book.mixed(328.0);
    assert_eq!(book.record().phase(), Phase::Open);
    book.sprayed();
    assert_eq!(book.record().phase(), Phase::Sprayed, "passes are on and every pot is ended");
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
    assert_eq!(book.record().phase(), Phase::Signed);
    assert_eq!(book.write(EntryKind::Guards, json!({ "hazards": [] })).unwrap_err().code, "signed");
}

/// What a kind asks of the shop beside its book: only what gates ask, for the acts they stand before, and
/// what a catch keeps of the next check.
#[test]
fn kinds_that_are_judged_with_their_neighbours() {
    let asking: Vec<&str> = EntryKind::VARIANTS.iter().filter(|k| !k.needs().is_empty()).map(|k| k.name()).collect();
    assert_eq!(asking, ["combine", "set_up", "ratio_check", "start_spraying", "release", "sign", "accept"]);
    for kind in EntryKind::VARIANTS {
        assert!(!kind.needs().contains(&Neighbour::Shown), "{}: what is only shown judges nothing", kind.name());
    }
    assert!(Payload::decode(EntryKind::Pass, 1, &json!({ "charge": POT })).is_ok());
}

#[test]
fn every_measure_of_a_shape_has_a_label() {
    for shape in level_keel_core::takeoff::shapes_asked() {
        for measure in shape.fields {
            assert_ne!(measure.label, measure.name, "{}", shape.is);
        }
    }
}
