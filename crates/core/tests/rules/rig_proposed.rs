//! Which rig Set opens on: of those the method can use, the one this product had last.

use level_keel_core::batch::beside::{GoodSetUp, HandTo, Neighbour};
use level_keel_core::batch::rig_proposed::{RigAtHand, suits};
use level_keel_core::batch::view::{Viewer, view};
use level_keel_core::batch::{Case, EntryKind, StationName};
use level_keel_core::coat_system::Method;
use level_keel_core::mixing::{Learned, Took};
use level_keel_core::people::Role;
use level_keel_core::rigs::RigKind;
use level_keel_core::sheets::{ChargeKind, Sheet};
use level_keel_core::worded::VariantArray;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;
use crate::set::{field, seen_of, thick_sheet};

/// A batch that is begun and read, and has no rig.
fn begun(sheet: Value) -> Book {
    let mut book = Book::begun(sheet);
    book.ready();
    book
}

/// The rigs of a shop, each by its kind, and the last batch of this product it sprayed.
fn at_hand(rigs: &[(u128, &str, Option<i64>)]) -> Beside {
    let one = |(id, kind, last_number): &(u128, &str, Option<i64>)| {
        let mut rig = pot_rig();
        (rig["name"], rig["kind"]) = (json!(format!("the {kind}")), json!(kind));
        RigAtHand {
            id: Uuid::from_u128(*id),
            rig: serde_json::from_value(rig).unwrap(),
            last_number: *last_number,
            last_good: Vec::new(),
        }
    };
    Beside { rigs_at_hand: rigs.iter().map(one).collect(), ..Beside::default() }
}

#[test]
fn each_method_has_its_rig() {
    let sheet: Sheet = serde_json::from_value(sheet()).unwrap();
    let fit = |method: Option<Method>, sheet: &Sheet| -> Vec<RigKind> {
        RigKind::VARIANTS.iter().copied().filter(|kind| suits(*kind, method, sheet)).collect()
    };
    use RigKind::{Airless, GelCoatMachine, GunCup, Pot, Pump, TwinPots};
    for (method, kinds) in [
        (Method::Pot, vec![Pot, Pump]),
        (Method::GunCup, vec![GunCup]),
        (Method::Airless, vec![Airless]),
        (Method::GelCoatMachine, vec![GelCoatMachine]),
        (Method::TwinFeed, vec![TwinPots]),
        (Method::Brush, vec![]),
        (Method::Roller, vec![]),
    ] {
        assert_eq!(fit(Some(method), &sheet), kinds, "{method:?}");
    }
    // Without a method the sheet tells.
    assert_eq!(fit(None, &sheet), [Pot, Pump, Airless, GunCup]);
    let at_gun = |hardener_pct| Sheet { charge: ChargeKind::AtGun, hardener_pct, ..sheet.clone() };
    assert_eq!(fit(None, &at_gun(Some(1.8))), [GelCoatMachine], "a catalyst in per cent");
    assert_eq!(fit(None, &at_gun(None)), [TwinPots], "a ratio");
}

#[test]
fn set_opens_on_the_rig_this_product_had_last() {
    let book = begun(thick_sheet());
    let record = book.record();
    let proposed = |beside: &Beside| {
        let set = seen_of(&Case::new(&record, beside), &book);
        (set.rig.map(|id| id.as_u128()), set.rig_proposed, set.rig_kind)
    };
    let shop = at_hand(&[(1, "pump", None), (2, "pot", Some(4)), (3, "gun_cup", Some(9)), (4, "twin_pots", Some(12))]);
    // Of those that suit, the one used last for this product; one that does not suit is none, however new.
    assert_eq!(proposed(&shop), (Some(3), Some("as in batch 0009".into()), Some(RigKind::GunCup)));
    let never = at_hand(&[(4, "twin_pots", None), (1, "pump", None), (2, "pot", None)]);
    assert_eq!(proposed(&never), (Some(1), Some("the first of 2 that suit".into()), Some(RigKind::Pump)));
    let one = at_hand(&[(4, "twin_pots", None), (2, "pot", None)]);
    assert_eq!(proposed(&one), (Some(2), Some("the only one here that suits".into()), Some(RigKind::Pot)));
    assert_eq!(proposed(&at_hand(&[(4, "twin_pots", Some(1))])), (None, None, None));
    // It is reckoned with at once: the line of that rig and the paint of the sheet.
    let set = seen_of(&Case::new(&record, &one), &book);
    assert!(set.modelled.is_some() && !set.points.is_empty() && set.advice.is_some_and(|a| a.to.is_some()));
}

#[test]
fn a_rig_that_was_taken_is_not_proposed_and_neither_is_one_after_a_try() {
    let shop = at_hand(&[(2, "pot", Some(4))]);
    let book = Book::with_rig(thick_sheet(), pot_rig());
    assert_eq!(seen_of(&Case::new(&book.record(), &shop), &book).rig_proposed, None, "a person took one");
    let mut tried = begun(thick_sheet());
    tried.write(EntryKind::SetUp, json!({ "pot_kpa": 10.0 * PSI, "stream_mm": 200.0 })).unwrap();
    let set = seen_of(&Case::new(&tried.record(), &shop), &tried);
    assert_eq!((set.rig, set.rig_proposed), (None, None), "a try was written without one");
}

#[test]
fn a_try_is_judged_by_the_rig_that_is_proposed() {
    let mut book = begun(thick_sheet());
    let shop = at_hand(&[(2, "pot", None)]);
    let at = |psi: f64| json!({ "pot_kpa": psi * PSI, "stream_mm": 200.0 });
    let over = book.write_beside(&shop, EntryKind::SetUp, at(85.0));
    assert_eq!(field(over), ("over-rating".into(), "pot_kpa".into()));
    assert!(book.write_beside(&shop, EntryKind::SetUp, at(12.0)).is_ok());
    let mut alone = begun(thick_sheet());
    assert!(alone.write(EntryKind::SetUp, at(85.0)).is_ok(), "a shop that keeps no rig is asked for none");
}

/// A view asks of the shop only what it shows: at each station it is the same without what it did not ask for.
#[test]
fn a_view_asks_for_what_it_shows() {
    let mut book = begun(thick_sheet());
    book.mixed(328.0);
    book.write(EntryKind::PlanMix, json!({ "more": {}, "rate_ml_min": 300.0, "fill_ml": 2000.0 })).unwrap();
    let record = book.record();
    let good = GoodSetUp { number: 3, pot_kpa: Some(90.0), stream_mm: Some(230.0), nozzle_mm: Some(1.8), ..GoodSetUp::default() };
    let full = Beside {
        learned: Learned::of(vec![Took { used_ml: 1300.0, reckoned_ml: 1000.0 }; 3]),
        hand_to: vec![HandTo { id: Uuid::from_u128(77), label: "Buoy 9".into(), next_coat: false }],
        last_good: vec![good],
        ..at_hand(&[(1, "pot", Some(3))])
    };
    let viewer = Viewer { writer: writer(Role::Applicator), comb_um: Vec::new(), scale_g: 1.0 };
    let seen = |beside: &Beside, at| view(Uuid::from_u128(9), &Case::new(&record, beside), &viewer, book.now, at).unwrap();
    assert!(full.learned.is_some());
    for (at, mix, set) in [
        (Some(StationName::Ready), false, false),
        (Some(StationName::Mix), true, false),
        (Some(StationName::Set), false, true),
        (Some(StationName::Prove), false, false),
        (Some(StationName::Spray), false, false),
        (Some(StationName::Close), false, false),
        (None, true, true),
    ] {
        let asked = Neighbour::of_view(at);
        assert_eq!((asked.contains(&Neighbour::Mix), asked.contains(&Neighbour::Set)), (mix, set), "{at:?}");
        let mut known = full.clone();
        if !mix {
            (known.learned, known.hand_to) = (None, Vec::new());
        }
        if !set {
            (known.last_good, known.rigs_at_hand) = (Vec::new(), Vec::new());
        }
        assert_eq!(seen(&known, at), seen(&full, at), "{at:?}");
    }
    // Each of them is shown where it is asked for.
    let nothing = Beside::default();
    for at in [StationName::Mix, StationName::Set] {
        assert_ne!(seen(&nothing, Some(at)), seen(&full, Some(at)), "{at:?}");
    }
}
