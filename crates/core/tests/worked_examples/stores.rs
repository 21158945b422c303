//! Stores: worked by hand from the rules; first in first out and the keeping of peroxide are common practice in the trade.

use super::near;
use super::sheet::{example, with};
use jiff::civil::{Date, date};
use jiff::{SignedDuration, Timestamp};
use level_keel_core::batch::gates::Severity;
use level_keel_core::mixing::Component;
use level_keel_core::quantity::Prefs;
use level_keel_core::stores::StoreClass;
use level_keel_core::stores::fifo::{Waiting, first};
use level_keel_core::stores::import::Columns;
use level_keel_core::stores::known::LotKnown;
use level_keel_core::stores::lot::left_g;
use level_keel_core::stores::storage::{StoreBand, StoreReading, out_of_band_s};
use serde_json::json;

fn at(hours: f64) -> Timestamp {
    Timestamp::UNIX_EPOCH + SignedDuration::from_secs_f64(hours * 3600.0)
}

#[test]
fn what_is_left_is_the_last_count_less_what_was_taken_since() {
    assert_eq!(left_g(Some(20_000.0), None, &[(at(1.0), 1_200.0)]), Some(18_800.0));
    let taken = [(at(1.0), 1_200.0), (at(5.0), 500.0)];
    assert_eq!(left_g(Some(20_000.0), Some((18_500.0, at(3.0))), &taken), Some(18_000.0));
    assert_eq!(left_g(Some(100.0), None, &taken), Some(0.0), "never under nothing");
    assert_eq!(left_g(None, None, &taken), None, "what never came in cannot be left");
}

fn lot(code: &str, received: Date, expires: Option<Date>) -> Waiting {
    Waiting { code: code.into(), received, expires, quarantined: false, damaged: false, left_g: 1.0 }
}

#[test]
fn the_oldest_that_is_fit_goes_first() {
    let today = date(2026, 5, 4);
    let old = lot("A", date(2026, 1, 1), Some(date(2026, 5, 3)));
    let second = lot("B", date(2026, 2, 1), Some(date(2026, 5, 4)));
    let third = lot("C", date(2026, 2, 1), Some(date(2026, 9, 1)));
    let of = |lots: &[&Waiting]| first(&lots.iter().map(|l| (*l).clone()).collect::<Vec<_>>(), today).map(|l| l.code.clone());
    assert_eq!(
        of(&[&third, &old, &second]).as_deref(),
        Some("B"),
        "A is a day past, B has its last day, C is of the same day and later"
    );
    assert_eq!(of(&[&third, &old]).as_deref(), Some("C"));
    assert_eq!(of(&[&old]), None);
    let held = Waiting { quarantined: true, ..second.clone() };
    let dented = Waiting { damaged: true, ..second.clone() };
    let empty = Waiting { left_g: 0.0, ..second };
    assert_eq!(of(&[&held, &dented, &empty, &third]).as_deref(), Some("C"));
}

#[test]
fn time_out_of_band_is_counted_from_reading_to_reading() {
    let read = |h: f64, temp_c: f64| StoreReading { at: at(h), temp_c };
    let band = StoreBand { min_c: Some(21.0), max_c: Some(29.0) };
    let noon = [read(12.0, 24.0), read(13.0, 31.0), read(15.0, 24.0)];
    near(out_of_band_s(&noon, band, at(0.0), at(24.0)), 7_200.0, 1e-6);
    near(out_of_band_s(&noon, band, at(14.0), at(24.0)), 3_600.0, 1e-6);
    // A probe that died warm says nothing of the rest of the night: six hours at most.
    near(out_of_band_s(&[read(1.0, 35.0)], band, at(0.0), at(24.0)), 6.0 * 3_600.0, 1e-6);
    near(out_of_band_s(&[read(1.0, 29.0)], band, at(0.0), at(24.0)), 0.0, 1e-6);
    near(out_of_band_s(&[], band, at(0.0), at(24.0)), 0.0, 1e-6);
}

#[test]
fn peroxide_and_the_resin_it_cures_never_stand_together() {
    let gel_coat = with(json!({ "hazards": ["peroxide", "styrene"] })).unwrap();
    let (resin, peroxide) = (StoreClass::of(&gel_coat, Component::Base), StoreClass::of(&gel_coat, Component::Hardener));
    assert!(resin.clashes(peroxide) && peroxide.clashes(resin));
    let primer = StoreClass::of(&example(), Component::Hardener);
    assert!(!primer.clashes(resin) && !primer.clashes(peroxide) && !resin.clashes(resin));
}

#[test]
fn troubles_of_a_lot() {
    let sheet = with(json!({ "colour": "sand", "certificate_needed": true })).unwrap();
    let good = LotKnown {
        received: true,
        colour: Some("Sand".into()),
        expires_at: Some(at(100.0)),
        certified: true,
        left_g: Some(1.0),
        ..LotKnown::default()
    };
    let codes = |stand: &LotKnown, of: Component| {
        let found = stand.troubles("P-1", &sheet, of, at(50.0));
        found.into_iter().map(|t| (t.severity == Severity::Stop, t.code)).collect::<Vec<_>>()
    };
    let base = Component::Base;
    assert_eq!(codes(&good, base), []);
    assert_eq!(codes(&LotKnown { expires_at: Some(at(50.0)), ..good.clone() }, base), [(true, "expired-lot")]);
    assert_eq!(codes(&LotKnown { quarantined: Some("recall".into()), ..good.clone() }, base), [(true, "quarantined-lot")]);
    assert_eq!(codes(&LotKnown { belongs_to: Some("hardener of X".into()), ..good.clone() }, base), [(true, "wrong-lot")]);
    assert_eq!(codes(&LotKnown { damaged: Some("dent".into()), ..good.clone() }, base), [(false, "damaged-lot")]);
    assert_eq!(codes(&LotKnown { colour: Some("white".into()), ..good.clone() }, base), [(false, "other-colour")]);
    assert_eq!(codes(&LotKnown { colour: None, ..good.clone() }, base), [(false, "colour-unknown")]);
    assert_eq!(codes(&LotKnown { colour: None, ..good.clone() }, Component::Hardener), [], "only the base has a colour");
    assert_eq!(codes(&LotKnown { colour: None, received: false, ..good.clone() }, base), [(false, "unknown-lot")], "said once");
    assert_eq!(codes(&LotKnown { certified: false, ..good.clone() }, base), [(false, "no-certificate")]);
    assert_eq!(codes(&LotKnown { on_part: Some("P-0".into()), ..good.clone() }, base), [(false, "second-lot")]);
    assert_eq!(codes(&LotKnown { expires_at: None, ..good.clone() }, base), [(false, "undated-lot")]);
    assert_eq!(
        codes(&LotKnown { expires_at: None, certified: false, colour: None, ..good.clone() }, Component::Thinner),
        [],
        "a thinner has neither"
    );
    // The stop comes first, whatever else is wrong.
    let both = LotKnown { damaged: Some("dent".into()), expires_at: Some(at(1.0)), ..good };
    assert_eq!(codes(&both, base), [(true, "expired-lot"), (false, "damaged-lot")]);
}

const HEADER: [&str; 7] = ["Code", "product", "component", "received", "expires", "container g", "containers_count"];

fn read(cells: [&str; 7]) -> Result<level_keel_core::stores::import::Row, Vec<(String, String)>> {
    let columns = Columns::read(&HEADER).unwrap();
    columns
        .row(2, &cells, date(2026, 5, 4), Prefs::METRIC)
        .map_err(|faults| faults.into_iter().map(|f| (f.column.unwrap_or_default(), f.text)).collect())
}

#[test]
fn a_row_is_read_as_a_person_would_type_it() {
    let row = read(["P-1", "Primer", "Base", "2026-05-01", "2027-01-31", "44 lb", "3"]).unwrap();
    // International pound, exact by definition; uom carries it to seven digits (docs/sources.md).
    near(row.lot.container_g, 44.0 * 453.592_37, 0.01);
    assert_eq!((row.lot.containers_count, row.lot.expires_on()), (3.0, Some(date(2027, 1, 31))));
}

#[test]
fn every_bad_cell_is_named() {
    let good = ["P-1", "Primer", "base", "2026-05-01", "", "20 kg", "3"];
    let bad = [
        (0, "", "code"),
        (0, "=HYPERLINK(1)", "code"),
        (1, "@SUM(A1)", "product"),
        (2, "paint", "component"),
        (3, "01.05.2026", "received"),
        (3, "2026-05-05", "received"),
        (3, "", "received"),
        (4, "2026-02-30", "expires"),
        (5, "20 psi", "container_g"),
        (5, "NaN", "container_g"),
        (5, "0,8", "container_g"),
        (6, "2.5", "containers_count"),
        (6, "0", "containers_count"),
    ];
    for (cell, text, column) in bad {
        let mut cells = good;
        cells[cell] = text;
        let faults = read(cells).unwrap_err();
        assert_eq!(faults.iter().map(|f| f.0.as_str()).collect::<Vec<_>>(), [column], "{text:?}: {faults:?}");
    }
    let all = read(["", "", "x", "y", "z", "", ""]).unwrap_err();
    assert_eq!(all.len(), 7, "every cell at once: {all:?}");
}

#[test]
fn a_wrong_header_is_refused_by_its_columns() {
    let faults = Columns::read(&["code", "produkt", "code"]).unwrap_err();
    let named: Vec<_> = faults.iter().filter_map(|f| f.column.as_deref()).collect();
    assert_eq!(named, ["produkt", "code", "product", "component", "received", "container_g", "containers_count"]);
}

#[test]
fn a_shelf_life_runs_from_the_day_it_was_made() {
    let columns = Columns::read(&[
        "code",
        "product",
        "component",
        "received",
        "made",
        "shelf_life_days",
        "container_g",
        "containers_count",
    ])
    .unwrap();
    let row = columns
        .row(2, &["P", "Q", "A", "2026-05-01", "2026-01-31", "365", "1000", "1"], date(2026, 5, 4), Prefs::METRIC)
        .unwrap();
    assert_eq!(row.lot.expires_on(), Some(date(2027, 1, 31)));
}
