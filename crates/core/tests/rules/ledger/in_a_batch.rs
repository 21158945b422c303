//! The ledger at work in a batch: an overdue check, a trend, the bond test, the whole run.

use super::*;

fn collar() -> Book {
    let mut book = Book::begun(adhesive());
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    book
}

fn catch(a_g: f64, b_g: f64) -> Value {
    json!({ "charge": POT, "a_g": a_g, "b_g": b_g, "resolution_g": 0.1 })
}

fn knows(shop_s: Option<f64>, proofs: Vec<LedgerProof>) -> Beside {
    Beside { ledger: RigLedger { shop_s, proofs, ..RigLedger::default() }, ..Beside::default() }
}

fn ratio_troubles(book: &Book) -> Vec<String> {
    let record = book.record();
    let all = gates::all(&Case::alone(&record), book.now, Prefs::METRIC);
    all.into_iter().filter(|h| h.gate == gates::GateName::Ratio).map(|h| h.trouble).collect()
}

/// A check that is overdue holds spraying with its reason; a catch settles it, and passes made meanwhile are marked.
#[test]
fn an_overdue_check_holds_and_a_catch_settles_it() {
    let four = knows(Some(4.0 * 3600.0), Vec::new());
    let of = |shop: &Beside| {
        let mut book = collar();
        book.write_beside(shop, EntryKind::RatioCheck, catch(40.0, 5.0)).unwrap();
        book.pass(240.0).ready();
        assert_eq!(ratio_troubles(&book), Vec::<String>::new(), "on the hour it still stands");
        book.pass(1.0);
        book
    };
    assert_eq!(ratio_troubles(&of(&knows(None, Vec::new()))), Vec::<String>::new());
    let mut book = of(&four);
    assert_eq!(ratio_troubles(&book), ["check-due"]);
    let refused = book.write(EntryKind::StartSpraying, json!({ "charge": POT })).unwrap_err();
    assert!(refused.text.contains("A check of the ratio is due: the shop’s own interval ended"), "{}", refused.text);
    book.write(EntryKind::Pass, json!({ "charge": POT })).unwrap();
    let record = book.record();
    let marked = level_keel_core::batch::deviations::find(&record, Prefs::METRIC);
    assert!(marked.iter().any(|d| d.text.contains("A check of the ratio is due")), "{marked:?}");
    book.pass(1.0).write_beside(&four, EntryKind::RatioCheck, catch(40.0, 5.0)).unwrap();
    assert_eq!(ratio_troubles(&book), Vec::<String>::new());
    // What a browser sends of it is not taken: core reckons it.
    let said = json!({ "since": "2026-05-04T08:00:00Z", "at_kg": 9e9, "at": null, "at_by": null, "noisy": false });
    let claimed =
        level_keel_core::batch::Payload::decode(EntryKind::RatioCheck, 2, &with(catch(40.0, 5.0), json!({ "due": said })));
    assert!(claimed.is_ok());
    book.pass(1.0).write(EntryKind::RatioCheck, with(catch(40.0, 5.0), json!({ "due": said }))).unwrap();
    assert_eq!(book.record().catches.last().unwrap().it.due, None);
}

/// The trend of the rig's ledger holds a batch that is sprayed past where its band meets the limit.
#[test]
fn a_trend_from_other_batches_holds_this_one() {
    // Nine catches of other batches before this morning, rising; this batch's own is the tenth.
    let earlier: Vec<LedgerProof> = (1..10)
        .map(f64::from)
        .zip(RISING)
        .map(|(x, r)| LedgerProof {
            number: Some(3),
            lot_a: None,
            lot_b: None,
            a_kpa: None,
            b_kpa: None,
            ..caught(r, x - 12.0, x)
        })
        .collect();
    let totals = vec![SprayedBatch { number: 3, ended: after(-2.0), kg: 10.0 }];
    let beside = Beside { ledger: RigLedger { proofs: earlier, totals, ..RigLedger::default() }, ..Beside::default() };
    let mut book = collar();
    book.pass(1.0).write_beside(&beside, EntryKind::RatioCheck, catch(81.6, 10.0)).unwrap();
    let (due, kg) = {
        let record = book.record();
        proofs::next_due(&Case::alone(&record), None, book.now).unwrap()
    };
    // At 17.54 kg of rig and product, of which ten were sprayed before.
    assert!((due.at_kg.unwrap() - 7.54).abs() < 0.05, "{due:?}");
    assert_eq!(kg, Some(0.0));
    book.write_beside(&beside, EntryKind::StartSpraying, json!({ "charge": POT })).unwrap();
    // 8 : 1 by weight of 0.85 and 1.05 kg/L weighs 0.868 kg a litre: 8.6 L are 7.47 kg, 8.8 L 7.64 kg.
    book.pass(1.0).write(EntryKind::Pass, json!({ "charge": POT, "used_ml": 8600.0 })).unwrap();
    assert_eq!(ratio_troubles(&book), Vec::<String>::new());
    book.pass(1.0).write(EntryKind::Pass, json!({ "charge": POT, "used_ml": 200.0 })).unwrap();
    assert_eq!(ratio_troubles(&book), ["check-due"]);
}

#[test]
fn a_bond_test_is_a_proof_where_the_sheet_asks_for_it() {
    let mut sheet = adhesive();
    sheet["bond_test"] = true.into();
    let bond = |book: &Book| -> Vec<String> {
        let all = gates::all(&Case::alone(&book.record()), book.now, Prefs::METRIC);
        all.into_iter().filter(|h| h.gate == gates::GateName::Bond).map(|h| h.trouble).collect()
    };
    let mut book = Book::begun(sheet);
    book.ready();
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    book.write(EntryKind::RatioCheck, catch(40.0, 5.0)).unwrap();
    assert_eq!(bond(&book), ["not-tested"]);
    let test = |result: &str| json!({ "charge": POT, "result": result, "substrate": "float foam" });
    for (result, troubles) in [("wet_bubbles", vec!["out"]), ("one_side_bare", vec!["out"]), ("holds", vec![])] {
        book.pass(1.0).write(EntryKind::BondTest, test(result)).unwrap();
        assert_eq!(bond(&book), troubles, "{result}");
    }
    let lot = json!({ "component": "hardener", "lot": { "id": Uuid::from_u128(60), "code": "V-60" } });
    book.pass(1.0).write(EntryKind::TakeLot, lot).unwrap();
    assert_eq!(bond(&book), ["stale-lot"]);
    book.pass(1.0).write(EntryKind::BondTest, test("holds")).unwrap();
    assert_eq!(bond(&book), Vec::<String>::new());
    assert_eq!(bond(&collar()), Vec::<String>::new(), "a sheet that does not ask has no gate");
    let nowhere: BondTest = serde_json::from_value(json!({ "charge": POT, "result": "holds", "substrate": " " })).unwrap();
    assert_eq!(nowhere.well_formed(Prefs::METRIC).unwrap_err().field.as_deref(), Some("substrate"));
}

#[test]
fn a_whole_run_is_refused_at_the_field_that_cannot_be() {
    let mut book = collar();
    let mut run = |a: Value, b: Value| {
        let said = json!({ "charge": POT, "a": a, "b": b, "resolution_g": 20.0 });
        book.write(EntryKind::WholeRun, said).map_err(|r| (r.code, r.field.unwrap_or_default()))
    };
    let (a, b) = (json!({ "before_g": 48620, "after_g": 31400 }), json!({ "before_g": 6850, "after_g": 4720 }));
    let refused = |code: &str, field: &str| Err((code.to_string(), field.to_string()));
    let heavier = json!({ "before_g": 4720, "after_g": 6850 });
    assert_eq!(run(a.clone(), heavier.clone()).map(|_| ()), refused("supply-heavier", "b.after_g"));
    let filled = json!({ "before_g": 4720, "after_g": 6850, "added_g": 5000 });
    assert!(run(a.clone(), filled).is_ok());
    let purged = json!({ "before_g": 6850, "after_g": 4720, "purged_g": 2500 });
    assert_eq!(run(a.clone(), purged).map(|_| ()), refused("purged-over-use", "b.purged_g"));
    assert_eq!(run(json!({ "before_g": -1, "after_g": 0 }), b.clone()).map(|_| ()), refused("outside-limits", "a.before_g"));
    assert!(run(a, b).is_ok());
    let record = book.record();
    let all = proofs::proofs(&record);
    let figure = all.last().unwrap().1.figure.unwrap();
    assert!((figure.value - 8.085).abs() < 1e-3 && (figure.lo - 8.0).abs() < 1e-3 && (figure.hi - 8.171).abs() < 1e-3);
}
