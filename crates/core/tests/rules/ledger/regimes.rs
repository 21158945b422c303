//! Regimes, run rules, and what limits are taken from; old cards.

use super::*;

#[test]
fn a_regime_begins_where_something_else_is_caught() {
    let parts = |proofs: &[LedgerProof], exchanged: &[Exchanged]| -> Vec<(usize, usize, Option<String>)> {
        regimes(proofs, exchanged).into_iter().map(|r| (r.from, r.to, r.began)).collect()
    };
    let mut proofs = rising();
    assert_eq!(parts(&proofs, &[]), [(0, 10, None)]);
    // An exchange between the fourth and the fifth; one before the first begins nothing.
    let filter = [exchanged(0.5, "the hose was exchanged"), exchanged(4.5, "the filter was exchanged")];
    assert_eq!(parts(&proofs, &filter), [(0, 4, None), (4, 10, Some("the filter was exchanged".into()))]);
    // Another lot; what nobody wrote is not compared, and does not hide the change.
    proofs[6].lot_b = None;
    for proof in &mut proofs[7..] {
        proof.lot_b = Some("V-2".into());
    }
    assert_eq!(parts(&proofs, &[]), [(0, 7, None), (7, 10, Some("B from lot V-2".into()))]);
    // A pressure by over a tenth of the regime's first: a tenth exactly is none, and small steps add up.
    let mut creeping = rising();
    for (proof, kpa) in creeping.iter_mut().zip([90.0, 94.0, 99.0, 99.1, 90.0, 90.0, 90.0, 90.0, 90.0, 90.0]) {
        proof.a_kpa = Some(kpa);
    }
    assert_eq!(parts(&creeping, &[]), [(0, 3, None), (3, 10, Some("pressure of A moved".into()))]);
    assert_eq!(parts(&[], &filter), []);
}

#[test]
fn what_was_moved_after_a_proof_is_told_with_it() {
    let (mut before, mut then) = (caught(8.0, 1.0, 0.0), caught(8.0, 3.0, 0.0));
    let words = |before: &LedgerProof, then: &LedgerProof, exchanged: &[Exchanged]| moved(before, then, exchanged, Prefs::METRIC);
    assert_eq!(words(&before, &then, &[]), Vec::<String>::new());
    then.a_kpa = Some(100.0);
    then.lot_b = Some("V-2".into());
    before.setting_count = Some(4.0);
    then.setting_count = Some(4.5);
    let said: Vec<String> = words(&before, &then, &[exchanged(2.0, "the filter was exchanged"), exchanged(4.0, "later")]);
    let said: Vec<String> = said.into_iter().map(|s| s.replace('\u{a0}', " ")).collect();
    assert_eq!(said, ["A 90 kPa to 100 kPa", "catalyst setting 4 to 4.5", "B from lot V-2", "the filter was exchanged"]);
}

/// Each rule fires by its own pattern, on its own side, and stays silent one step short of it.
#[test]
fn each_run_rule_fires_alone() {
    let limits = Limits { mean: 0.0, range: 1.128, n: 8 };
    let rules = |values: &[f64]| -> Vec<(RunRule, bool)> {
        fired_at(values, &limits, values.len() - 1).into_iter().map(|f| (f.rule, f.high)).collect()
    };
    assert_eq!(rules(&[0.2, 3.01]), [(RunRule::OneBeyond, true)]);
    assert_eq!(rules(&[0.2, -3.01]), [(RunRule::OneBeyond, false)]);
    assert_eq!(rules(&[0.2, 3.0]), []);
    assert_eq!(rules(&[2.1, -0.5, 2.1]), [(RunRule::TwoOfThree, true)]);
    assert_eq!(rules(&[2.1, -0.5, 2.0]), []);
    assert_eq!(rules(&[2.1, -0.5, -2.1]), [], "on one side");
    assert_eq!(rules(&[1.1, 1.2, -0.5, 1.1, 1.3]), [(RunRule::FourOfFive, true)]);
    assert_eq!(rules(&[1.1, 1.2, -0.5, 1.0, 1.3]), []);
    let eight = [-0.5, -0.2, -0.4, -0.1, -0.3, -0.6, -0.2, -0.5];
    assert_eq!(rules(&eight), [(RunRule::EightInARow, false)]);
    assert_eq!(rules(&[-0.5, -0.2, 0.0, -0.1, -0.3, -0.6, -0.2, -0.5]), [], "on the mean is on no side");
    assert_eq!(rules(&[0.5, 0.4, 0.1, 0.0, -0.2, -0.4]), [(RunRule::SixTheSameWay, false)]);
    assert_eq!(rules(&[0.5, 0.4, 0.1, 0.1, -0.2, -0.4]), []);
    // A rule is not said again of a catch that is itself of the crowd.
    assert_eq!(rules(&[2.1, 2.2, 0.1]), []);
}

/// A : B goes up as B grows weaker; B as a share of A goes down then.
#[test]
fn a_rule_says_which_stream_grows_weaker() {
    let usual = |high, kind| Fired { rule: RunRule::EightInARow, high, at: 0 }.usual(kind);
    assert!(usual(true, QuantityKind::Ratio).contains("B’s filter"));
    assert!(usual(false, QuantityKind::Ratio).contains("A’s filter"));
    assert!(usual(true, QuantityKind::Percent).contains("A’s filter"));
    assert!(usual(false, QuantityKind::Percent).contains("B’s filter"));
    assert!(Fired { rule: RunRule::OneBeyond, high: true, at: 0 }.usual(QuantityKind::Ratio).contains("outlet not wiped"));
}

#[test]
fn limits_and_trend_come_from_catches_alone() {
    let mut proofs = rising();
    for (i, kind) in [(2, ProofKind::PotAsWeighed), (4, ProofKind::WholeRun)] {
        proofs[i].kind = kind;
    }
    let all = studied(&proofs, &[]);
    assert_eq!(all[0].catches.len(), 8);
    let values: Vec<f64> = [8.02, 7.97, 8.04, 8.06, 8.13, 8.11, 8.17, 8.16].to_vec();
    assert_eq!(all[0].limits, Limits::of(&values));
    // Frozen from the first eight; asked to be renewed, from the last eight before that.
    let ten = rising();
    let of = |renewed: &[Timestamp]| study(&ten, &along_kg(&ten, &[]), &[], renewed)[0].limits.unwrap();
    assert_eq!(of(&[]), Limits::of(&RISING[..8]).unwrap());
    assert_eq!(of(&[after(9.5)]), Limits::of(&RISING[1..9]).unwrap());
    assert_eq!(of(&[after(3.0)]), Limits::of(&RISING[..8]).unwrap(), "three catches renew nothing");
}

/// Kilograms through rig and product: what other batches had sprayed by then, and what its own had.
#[test]
fn kilograms_run_on_over_batches() {
    let totals = [
        SprayedBatch { number: 5, ended: after(-20.0), kg: 12.0 },
        SprayedBatch { number: 7, ended: after(4.0), kg: 9.0 },
        SprayedBatch { number: 8, ended: after(9.0), kg: 3.0 },
    ];
    let mut late = caught(8.0, 6.0, 9.0);
    let own = caught(8.0, 3.0, 5.0);
    let other = LedgerProof { number: Some(8), ..caught(8.0, 8.0, 1.0) };
    assert_eq!(along_kg(&[own, late.clone(), other], &totals), [Some(17.0), Some(21.0), Some(22.0)]);
    late.sprayed_kg = None;
    assert_eq!(along_kg(&[late], &totals), [None]);
}

/// A paper card is of its rig and its day.
#[test]
fn a_card_is_not_older_than_its_rig_and_not_of_tomorrow() {
    let text = include_str!("../../fixtures/rig/paper_proof.v1.json");
    let card: PaperProof = serde_json::from_str(text).unwrap();
    let zone = jiff::tz::TimeZone::get("Europe/Lisbon").unwrap();
    let (first, now) = (morning(), after(1.0));
    let dated = |since: Option<&str>, now| card.dated(since.map(|d| d.parse().unwrap()), first, now, &zone).map_err(|r| r.code);
    assert_eq!(dated(None, now).unwrap_err(), "before-its-rig");
    assert_eq!(dated(Some("2026-03-03"), now).unwrap_err(), "before-its-rig");
    assert!(dated(Some("2026-03-02"), now).is_ok(), "the day it was first used is in");
    assert_eq!(dated(Some("2026-01-01"), card.proved_at - SignedDuration::from_secs(1)).unwrap_err(), "not-yet");
    let sheet: Sheet = serde_json::from_value(adhesive()).unwrap();
    let proof = card.clone().by(&sheet).proof(Uuid::nil(), "Brok Tarn");
    assert_eq!((proof.by.as_str(), proof.verdict, proof.is_caught()), ("Ansa Reef", Verdict::In, true));
    for (field, value) in [("a_g", 0.04), ("resolution_g", 0.0), ("temp_c", 400.0), ("caught_watch_s", 0.0)] {
        let mut slip: Value = serde_json::from_str(text).unwrap();
        slip[field] = value.into();
        let refused = serde_json::from_value::<PaperProof>(slip).unwrap().check(Prefs::METRIC).unwrap_err();
        assert_eq!(refused.field.as_deref(), Some(field));
    }
}
