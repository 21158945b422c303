//! What happens between the passes: one tap each, with zone, pass and time.

use super::*;
use level_keel_core::batch::entries::Happened;

#[test]
fn what_happens_is_written_with_its_zone_and_pass() {
    let mut book = spraying(json!({ "film_proof": "not_asked", "steps": [{ "name": "coat", "passes_count": 2.0 }] }));
    stamp(&mut book, HULL);
    book.pass(1.0).write(EntryKind::Happening, json!({ "what": "run", "zone": Uuid::from_u128(HULL) })).unwrap();
    book.write(EntryKind::Happening, json!({ "what": "tip_plugged" })).unwrap();
    let seen = board(&book);
    let texts: Vec<&str> = seen.happened.iter().map(|h| h.text.as_str()).collect();
    assert_eq!(texts, ["Tip plugged", "Run at hull, pass 2"], "during the pass that follows the one stamped");
    assert!(!seen.may_happen.contains(&Happened::CatalystBurst), "there is no catalyst at this gun");
    let elsewhere = json!({ "what": "run", "zone": Uuid::from_u128(77) });
    assert_eq!(refused(book.write(EntryKind::Happening, elsewhere), "unknown-zone").field.as_deref(), Some("zone"));
    let card = level_keel_core::batch::document::document(Uuid::from_u128(9), &Case::alone(&book.record())).unwrap();
    let kept: Vec<_> = card.happenings.iter().map(|h| (h.what.as_str(), h.zone.as_deref(), h.pass_no)).collect();
    assert_eq!(kept, [("run", Some("hull"), Some(2)), ("tip plugged", None, None)]);
    let rows = level_keel_core::batch::document::rows(&card);
    assert!(rows.iter().any(|r| r[0] == "happening" && r[4] == "run" && r[5] == "2"));
}

/// A pause: what settles is stirred again at once, and what stands in the hose stands, until work goes on.
#[test]
fn a_pause_restarts_the_clocks_of_stirring_and_hose() {
    let changes = json!({ "film_proof": "not_asked", "stir_again_s": 1800.0 });
    let mut book = Book::with_rig(with(sheet(), changes), pot_rig());
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::Stirred, on()).unwrap();
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    let stands = |book: &Book| book.record().hose(book.now).expect("a hose").stands_since;
    assert_eq!(stands(&book), None);
    book.pass(1.0).write(EntryKind::Happening, json!({ "what": "pause" })).unwrap();
    let paused = book.now;
    book.pass(1.0);
    assert_eq!((stands(&book), board(&book).paused_since), (Some(paused), Some(paused)));
    let viewer = Viewer { writer: writer(Role::Lead), comb_um: vec![MIL], scale_g: 1.0 };
    let stir = |book: &Book| {
        let seen = whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).unwrap();
        seen.head.next.iter().find(|n| n.text == "Stir pot 1 again").map(|n| n.in_s).expect("it settles")
    };
    assert!(stir(&book) <= 0.0, "due since the pause");
    book.write(EntryKind::Happening, json!({ "what": "goes_on" })).unwrap();
    assert_eq!(stands(&book), None);
    assert!(stir(&book) <= 0.0, "going on stirs nothing");
    book.write(EntryKind::Stirred, on()).unwrap();
    assert!((stir(&book) - 1800.0).abs() < 1.0);
    // A pass says that work goes on as well.
    book.write(EntryKind::Happening, json!({ "what": "pause" })).unwrap();
    book.pass(1.0).write(EntryKind::Pass, json!({ "charge": POT, "zones": [] })).unwrap();
    assert_eq!(stands(&book), None);
}
