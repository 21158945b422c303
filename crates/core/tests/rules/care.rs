//! Care by the book: never opened under pressure, flushed by either school, what is due, a rig put together from pieces.

use jiff::{SignedDuration, Timestamp};
use level_keel_core::atomizing::tips::TipRow;
use level_keel_core::care::{CareList, Done, FlushSchool, RigState, StepIs, flush_ml, items, looked_at, steps};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::Why;
use level_keel_core::rig_book::{RigEntry, RigEntryKind};
use level_keel_core::rigs::pieces::{Piece, PieceKind, assemble};
use level_keel_core::rigs::{Rig, RigKind};
use level_keel_core::worded::VariantArray;
use proptest::prelude::*;
use serde_json::{Value, json};

const P: Prefs = Prefs::METRIC;

fn rig(kind: RigKind) -> Rig {
    serde_json::from_value(json!({ "name": "R", "kind": kind, "gun": "G", "class": "conventional", "rating_kpa": 500.0,
        "relief_kpa": 500.0, "hose_bore_mm": 9.525, "hose_length_mm": 7620.0, "nozzle_mm": 1.8, "two_regulators": true }))
    .unwrap()
}

fn at(minutes: i64) -> Timestamp {
    "2026-05-04T08:00:00Z".parse::<Timestamp>().unwrap() + SignedDuration::from_mins(minutes)
}

fn done(id: &str, minutes: i64) -> Done {
    Done { id: id.into(), at: at(minutes), by: "Ansa".into() }
}

fn stand<'a>(rig: &'a Rig, steps: &'a [Done], pressed: Option<i64>) -> RigState<'a> {
    RigState { rig, steps, cared: &[], pressed_at: pressed.map(at), live_kpa: None }
}

#[test]
fn nothing_is_opened_before_a_gauge_reads_zero() {
    let pot = rig(RigKind::Pot);
    let none = [];
    let pressed = stand(&pot, &none, Some(0));
    let stop = pressed.may_step("lid", None, P).unwrap_err();
    assert_eq!((stop.why, stop.code.as_str()), (Why::Stop, "open-under-pressure"));
    assert_eq!(pressed.may_open(P).unwrap_err().why, Why::Stop);
    // Backing the regulator off is not enough: only a gauge read as zero is.
    let supply = [done("air_off", 1), done("supply_off", 2), done("vent", 3)];
    assert!(stand(&pot, &supply, Some(0)).may_step("lid", None, P).is_err());
    // Zero is a figure: it is asked for, and 20 kPa are none.
    let missing = pressed.may_step("zero", None, P).unwrap_err();
    assert_eq!((missing.code.as_str(), missing.field.as_deref()), ("missing", Some("gauge_kpa")));
    let not_zero = pressed.may_step("zero", Some(20.0), P).unwrap_err();
    assert_eq!((not_zero.code.as_str(), not_zero.field.as_deref()), ("not-zero", Some("gauge_kpa")));
    // Half a psi is half a division, and zero.
    assert!(pressed.may_step("zero", Some(3.4), P).is_ok());
    let zero = [done("zero", 5)];
    assert!(stand(&pot, &zero, Some(0)).may_step("lid", None, P).is_ok());
    assert!(stand(&pot, &zero, Some(0)).under_pressure().is_none());
    // Pressed again by a batch: what was zero before is zero no more.
    assert!(stand(&pot, &zero, Some(6)).may_step("lid", None, P).is_err());
    assert_eq!(stand(&pot, &zero, Some(6)).under_pressure(), Some(at(6)));
}

#[test]
fn flushing_presses_it_again() {
    let pot = rig(RigKind::Pot);
    let flushed = [done("zero", 5), done("lid", 6), done("flush", 10)];
    let kept = stand(&pot, &flushed, Some(0));
    assert_eq!(kept.under_pressure(), Some(at(10)));
    assert!(kept.may_step("hose_off", None, P).is_err());
    let again = [done("zero", 5), done("flush", 10), done("zero_again", 12)];
    assert!(stand(&pot, &again, Some(0)).may_step("hose_off", None, P).is_ok());
}

#[test]
fn the_transmitter_is_believed_over_the_tick() {
    let pot = rig(RigKind::Pot);
    let zero = [done("zero", 5)];
    let live = RigState { live_kpa: Some(55.0), ..stand(&pot, &zero, Some(0)) };
    assert_eq!(live.may_step("lid", None, P).unwrap_err().code, "open-under-pressure");
    assert_eq!(live.may_step("zero", Some(0.0), P).unwrap_err().code, "not-zero");
    assert!(live.view(at(9), P).open.unwrap().contains("55"));
    // A rig that no book knows under pressure: it may hold some all the same, so zero is looked at first.
    assert_eq!(stand(&pot, &[], None).may_step("lid", None, P).unwrap_err().code, "open-under-pressure");
    assert!(stand(&pot, &[], None).may_open(P).is_ok());
}

#[test]
fn every_kind_has_zero_before_it_is_opened() {
    for kind in RigKind::VARIANTS.iter().copied() {
        let of = steps(&rig(kind));
        let place = |is: StepIs| of.iter().position(|s| s.is == is);
        let (zero, opens, presses) = (place(StepIs::Zero), place(StepIs::Opens), place(StepIs::Presses));
        assert_eq!(zero.is_some(), kind != RigKind::GunCup, "{kind:?}");
        assert!(opens.is_none_or(|o| zero.is_some_and(|z| z < o)), "{kind:?}");
        let after = |i: usize| of[i..].iter().position(|s| s.is == StepIs::Zero).is_some();
        assert!(presses.is_none_or(after), "{kind:?}: relieved again after flushing");
        let mut ids: Vec<&str> = of.iter().map(|s| s.id).chain(items(&rig(kind)).iter().map(|i| i.id)).collect();
        assert!(ids.iter().all(|id| id.len() <= 14));
        let all = ids.len();
        ids.sort_unstable();
        ids.dedup();
        assert_eq!(ids.len(), all, "{kind:?}: a name stands for one thing");
        assert!(!looked_at(kind).is_empty());
    }
    // A pot without a valve is vented at its ring.
    let vented = Rig { vent_valve: true, ..rig(RigKind::Pot) };
    assert_ne!(steps(&vented)[2].word, steps(&rig(RigKind::Pot))[2].word);
}

/// By hand: 25 ft of 3/8 in hold 543 mL (domain check); three of them 1.63 L; a US quart is 946 mL.
#[test]
fn flush_by_either_school() {
    let pot = rig(RigKind::Pot);
    assert!((flush_ml(FlushSchool::HoseVolumes, &pot).unwrap() - 3.0 * 543.0).abs() < 1.0);
    assert!((flush_ml(FlushSchool::Quart, &pot).unwrap() - 946.0).abs() < 0.5);
    let cup = Rig { hose_bore_mm: None, ..rig(RigKind::GunCup) };
    assert_eq!(flush_ml(FlushSchool::HoseVolumes, &cup), None);
    let shown: Vec<String> = stand(&pot, &[], None).view(at(0), P).flush.into_iter().map(|f| f.volume.text).collect();
    assert_eq!(shown.len(), 2);
}

#[test]
fn what_is_due_by_day_week_and_use() {
    let pot = rig(RigKind::Pot);
    let cared = [done("traps", 0), done("strip", 0), done("cap", 0)];
    let due = |minutes: i64, pressed: Option<i64>| {
        let kept = RigState { rig: &pot, steps: &[], cared: &cared, pressed_at: pressed.map(at), live_kpa: None };
        let view = kept.view(at(minutes), P);
        let all: Vec<String> = view.lists.iter().flat_map(|l| &l.items).filter(|i| i.due).map(|i| i.id.clone()).collect();
        move |id: &str| all.iter().any(|d| d == id)
    };
    let hour = 60;
    assert!(!due(hour, None)("traps") && due(25 * hour, None)("traps"));
    assert!(!due(25 * hour, None)("strip") && due(8 * 24 * hour, None)("strip"));
    assert!(!due(hour, None)("cap") && due(hour, Some(30))("cap"), "used since: due again");
    assert!(due(hour, None)("gasket"), "never done is due");
    let kinds = |kind| items(&rig(kind)).into_iter().filter(|i| i.list == CareList::Weekly).count();
    assert!(kinds(RigKind::Pot) > kinds(RigKind::GunCup));
}

#[test]
fn a_new_rig_is_flushed_first() {
    let new = Rig { unflushed: true, ..rig(RigKind::Pot) };
    let none = [];
    let kept = stand(&new, &none, None);
    assert!(new.troubles(P)[0].contains("not flushed"));
    let tick = RigEntry::decode(RigEntryKind::Cared, 1, &json!({ "item": "flushed_new" })).unwrap();
    tick.may(&kept, &[], P).unwrap();
    let tick = tick.filled(&kept);
    // What is stored reads the same.
    let stored = RigEntry::decode(RigEntryKind::Cared, 1, &tick.payload().unwrap()).unwrap();
    assert_eq!(stored, tick);
    assert!(stored.words(P).contains("before its first paint"));
    let unknown = RigEntry::decode(RigEntryKind::Cared, 1, &json!({ "item": "polish" })).unwrap();
    assert_eq!(unknown.may(&kept, &[], P).unwrap_err().field.as_deref(), Some("item"));
}

#[test]
fn another_tip_is_not_fitted_under_pressure_and_its_code_may_be_the_shops() {
    let rig = Rig { tip_code: Some("517".into()), ..rig(RigKind::Airless) };
    let fit = |code: &str| RigEntry::decode(RigEntryKind::Fitted, 1, &json!({ "tip_code": code })).unwrap();
    let none = [];
    assert_eq!(fit("521").may(&stand(&rig, &none, Some(0)), &[], P).unwrap_err().code, "open-under-pressure");
    let zero = [done("zero", 1)];
    assert!(fit("521").may(&stand(&rig, &zero, Some(0)), &[], P).is_ok());
    assert_eq!(fit("K19").may(&stand(&rig, &zero, Some(0)), &[], P).unwrap_err().field.as_deref(), Some("tip_code"));
    let table = [TipRow { code: "K19".into(), angle_deg: 40.0, hole_mm: 0.48 }];
    assert!(fit("k19").may(&stand(&rig, &zero, Some(0)), &table, P).is_ok());
    let bad = |row: Value| serde_json::from_value::<TipRow>(row).unwrap().validate(P).unwrap_err().field.unwrap();
    assert_eq!(bad(json!({ "code": "K19", "angle_deg": 0.0, "hole_mm": 0.5 })), "angle_deg");
    assert_eq!(bad(json!({ "code": "K19", "angle_deg": 40.0, "hole_mm": 0.0 })), "hole_mm");
    assert_eq!(bad(json!({ "code": " ", "angle_deg": 40.0, "hole_mm": 0.5 })), "code");
}

fn piece(kind: PieceKind, figures: Value) -> Result<Piece, level_keel_core::refusal::Refusal> {
    let Value::Object(figures) = figures else { panic!("figures") };
    Piece { kind, name: "One".into(), figures }.validate(P)
}

#[test]
fn pieces_bring_their_figures_and_no_others() {
    let field = |kind, figures| piece(kind, figures).unwrap_err().field.unwrap_or_default();
    assert_eq!(field(PieceKind::FluidHose, json!({ "hose_bore_mm": 9.5, "hose_length_mm": 0.0 })), "hose_length_mm");
    assert_eq!(field(PieceKind::FluidHose, json!({ "hose_bore_mm": 9.5, "hose_length_mm": 5_000_000.0 })), "hose_length_mm");
    assert_eq!(field(PieceKind::Vessel, json!({ "rating_kpa": 500.0 })), "relief_kpa");
    assert_eq!(field(PieceKind::Nozzle, json!({ "nozzle_mm": 0.0 })), "nozzle_mm");
    assert_eq!(field(PieceKind::Nozzle, json!({ "nozzle_mm": 1.8, "rating_kpa": 500.0 })), "rating_kpa");
    let hose = piece(PieceKind::FluidHose, json!({ "hose_bore_mm": 6.35, "hose_length_mm": 7620.0 })).unwrap();
    let gun = piece(PieceKind::Gun, json!({ "class": "hvlp", "air_nl_min": 340.0 })).unwrap();
    let Value::Object(mut typed) = json!({ "name": "Pot", "kind": "pot", "hose_bore_mm": 12.7, "hose_since": "2020-01-01" })
    else {
        panic!("a map")
    };
    assemble(&mut typed, RigKind::Pot, &[hose, gun]).unwrap();
    // The piece's figure stands before the typed one, and what it does not state is not stated.
    assert_eq!((&typed["hose_bore_mm"], &typed["class"], &typed["gun"]), (&json!(6.35), &json!("hvlp"), &json!("One")));
    assert!(!typed.contains_key("hose_since"));
    let tip = piece(PieceKind::Tip, json!({ "tip_code": "517" })).unwrap();
    assert_eq!(assemble(&mut typed, RigKind::Pot, &[tip]).unwrap_err().field.as_deref(), Some("pieces.tip"));
}

#[test]
fn every_figure_a_form_asks_for_is_one_of_a_rig() {
    let whole = serde_json::to_value(rig(RigKind::Pot)).unwrap();
    for kind in PieceKind::ALONG_THE_LINE {
        for asked in kind.asks() {
            assert!(whole.get(asked.field).is_some(), "{kind:?}: {} is no field of a rig", asked.field);
        }
    }
    for kind in RigKind::VARIANTS.iter().copied() {
        assert!(kind.pieces().contains(&PieceKind::Gun), "{kind:?}");
    }
}

proptest! {
    /// Whatever was ticked, in whatever order: while the last pressing has no zero after it, nothing opens.
    #[test]
    fn no_order_of_ticks_opens_it_under_pressure(
        ticks in prop::collection::vec((0_usize..10, 0_i64..100), 0..20),
        pressed in prop::option::of(0_i64..100),
        kind in prop::sample::select(&RigKind::VARIANTS[..5]),
    ) {
        let rig = rig(kind);
        let of = steps(&rig);
        let mut log: Vec<Done> = ticks.iter().map(|(i, m)| done(of[i % of.len()].id, *m)).collect();
        log.sort_by_key(|d| d.at);
        let kept = stand(&rig, &log, pressed);
        let last = |is: StepIs| {
            let since = |d: &&Done| pressed.is_none_or(|p| d.at >= at(p));
            log.iter().filter(since).filter(|d| of.iter().any(|s| s.id == d.id && s.is == is)).map(|d| d.at).max()
        };
        let pressing = last(StepIs::Presses).max(pressed.map(at));
        let relieved = last(StepIs::Zero);
        let held = pressing.is_some_and(|p| relieved.is_none_or(|z| z < p));
        for step in of.iter().filter(|s| s.is == StepIs::Opens) {
            if held {
                prop_assert!(kept.may_step(step.id, None, P).is_err());
            }
        }
        prop_assert_eq!(kept.may_open(P).is_err(), held);
        // The page says the same.
        prop_assert_eq!(kept.view(at(200), P).open.is_some(), held);
    }
}
