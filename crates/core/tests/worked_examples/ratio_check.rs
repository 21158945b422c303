//! Two catches. Arithmetic; the example pairs are common practice in the trade.

use super::near;
use super::sheet::with;
use level_keel_core::quantity::Prefs;
use level_keel_core::ratio_check::judge;
use level_keel_core::verdict::Verdict;
use serde_json::json;

#[test]
fn catches_of_a_five_to_one() {
    let sheet = with(json!({ "basis": "by_weight", "ratio": 5.0 })).unwrap();
    for (a, b, ratio, verdict) in
        [(12.4, 6.2, 2.00, Verdict::Low), (27.0, 7.9, 3.418, Verdict::Low), (24.6, 4.9, 5.02, Verdict::In)]
    {
        let (said, working) = judge(&sheet, a, b, 0.1, Prefs::METRIC).unwrap();
        near(said.measured.value, ratio, 0.005);
        near(working.result().unwrap(), ratio, 0.005);
        assert_eq!(said.tolerance.judge(said.measured), verdict, "{a} : {b}");
    }
}

#[test]
fn a_coarse_scale_cannot_tell() {
    let sheet = with(json!({ "basis": "by_weight", "ratio": 5.0 })).unwrap();
    let (said, _) = judge(&sheet, 25.0, 5.0, 1.0, Prefs::METRIC).unwrap();
    assert_eq!(said.tolerance.judge(said.measured), Verdict::CannotTell);
}

#[test]
fn nothing_caught_is_no_ratio() {
    let sheet = with(json!({})).unwrap();
    assert!(judge(&sheet, 0.0, 5.0, 0.1, Prefs::METRIC).is_none());
}
