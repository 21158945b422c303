//! Each pass judged by itself at once: the first by its own band, the later ones by theirs; the comb beside what was used.

use super::*;
use level_keel_core::verdict::Verdict;

/// First pass 7 to 12 mil and never over, then 6 to 10; 18 to 24 in all, aim 20.
fn gel() -> Value {
    json!({ "wet_um": 20.0 * MIL, "wet_min_um": 18.0 * MIL, "wet_max_um": 24.0 * MIL, "first_pass_min_um": 6.0 * MIL,
        "first_pass_max_um": 12.0 * MIL, "pass_min_um": 6.0 * MIL, "pass_max_um": 10.0 * MIL })
}

fn comb(book: &mut Book, zone: u128, tooth: f64) {
    let teeth: Vec<f64> = (1..28).map(|t| f64::from(t) * MIL).collect();
    let read = json!({ "zone": Uuid::from_u128(zone), "tooth_um": tooth * MIL, "teeth_um": teeth, "of": "total" });
    book.write(EntryKind::Comb, read).unwrap();
}

#[test]
fn a_first_pass_that_is_too_heavy_is_said_at_once() {
    let mut book = spraying(gel());
    assert_eq!(next(&book).as_deref(), Some("Tower, pass 1 of 3"), "9 of the first, then 8 and 8: three make 20");
    stamp(&mut book, HULL);
    let pass = |book: &Book| spray(book).this_pass.map(|l| (l.label, l.verdict, l.advice));
    for (tooth, verdict, says) in [
        (8.0, Verdict::In, "first pass in"),
        (11.0, Verdict::In, "first pass in"),
        (12.0, Verdict::CannotTell, "near its limit"),
        (13.0, Verdict::High, "too heavy, 305\u{a0}µm at the most: wait until it looks ready"),
        (5.0, Verdict::CannotTell, "near its limit"),
        (4.0, Verdict::Low, "one more light pass"),
    ] {
        comb(&mut book, HULL, tooth);
        let (label, got, advice) = pass(&book).unwrap();
        assert_eq!((label.as_str(), got), ("First pass", Some(verdict)), "{tooth} mil: {advice}");
        assert!(advice.contains(says), "{tooth} mil: {advice}");
        book.pass(0.1);
    }
    // The later ones have a band of their own: eleven more are too many, though a first might have had them.
    stamp(&mut book, TOWER);
    comb(&mut book, TOWER, 8.0);
    book.pass(2.0);
    stamp(&mut book, TOWER);
    comb(&mut book, TOWER, 20.0);
    assert_eq!(pass(&book).unwrap().1, Some(Verdict::High), "11 to 13 of one later pass");
    comb(&mut book, TOWER, 16.0);
    assert_eq!(pass(&book).unwrap().1, Some(Verdict::In), "7 to 9");
    // A pass that nobody read in between: of two together no band of one can speak.
    book.pass(2.0);
    stamp(&mut book, SKIRT);
    book.pass(2.0);
    stamp(&mut book, SKIRT);
    comb(&mut book, SKIRT, 14.0);
    assert_ne!(pass(&book).unwrap().1, Some(Verdict::High));
}

/// What a zone has so far is no verdict while passes are to come; too much is one at any time.
#[test]
fn a_zone_is_judged_when_its_passes_are_on() {
    let mut book = spraying(gel());
    stamp(&mut book, HULL);
    comb(&mut book, HULL, 8.0);
    let wet = |book: &Book| board(book).zones[1].wet.clone().map(|l| (l.verdict, l.word));
    assert_eq!(wet(&book), Some((None, "so far".into())));
    comb(&mut book, HULL, 25.0);
    assert_eq!(wet(&book).unwrap().0, Some(Verdict::High));
    let mut book = spraying(gel());
    for tooth in [8.0, 15.0, 20.0] {
        stamp(&mut book, HULL);
        comb(&mut book, HULL, tooth);
        book.pass(2.0);
    }
    assert_eq!(wet(&book).unwrap().0, Some(Verdict::In));
}

/// Comb and use, once all is closed: they agree, or the widest of the three is looked at first.
#[test]
fn comb_and_use_agree_or_one_is_suspect() {
    let done = |tooth: f64, off_pct: f64| {
        let mut book = spraying(json!({}));
        let plate = json!({ "is": "plate", "width_mm": 4000.0, "height_mm": 3000.0, "side_count": 1.0 });
        let record = book.record();
        let aim = record.aim().unwrap();
        let zones = serde_json::to_value(&aim.zones).unwrap();
        book = Book::begun_with(
            sheet(),
            json!({ "zones": zones, "area_m2": 12.0, "takeoff": [{ "shape": plate, "piece_count": 1.0, "off_pct": off_pct }] }),
        );
        book.ready();
        book.mixed(328.0);
        book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
        for zone in [TOWER, HULL, SKIRT] {
            stamp(&mut book, zone);
            for _ in 0..3 {
                comb(&mut book, zone, tooth);
            }
        }
        assert_eq!(board(&book).agreement, None, "the pot is not closed yet");
        book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
        board(&book)
    };
    // 1672.7 mL × 60 % on 12 m² are 83.6 µm, 3.3 mil.
    let agrees = done(3.0, 5.0);
    assert!(agrees.agreement.unwrap().agrees);
    assert!(agrees.by_use.is_some());
    // 6 to 7 mil cannot come of so little; of transfer ± 10 points, area ± 2 % and the comb the transfer is the widest.
    let off = done(6.0, 2.0).agreement.unwrap();
    assert!(!off.agrees && off.text.starts_with("Comb and use do not agree. Look at the transfer first."), "{}", off.text);
    let off = done(6.0, 40.0).agreement.unwrap();
    assert!(off.agrees || off.text.contains("Look at the area first"), "{}", off.text);
}
