//! Gates: none is passed by absence, a release covers what it named, nothing gets younger, what goes bad under way is judged.

mod births;
mod coverage;
mod film;
mod proofs;
mod ratio;
mod recoat;
mod registry;
mod releases;
mod under_way;

use jiff::SignedDuration;
use level_keel_core::batch::beside::Exchanged;
use level_keel_core::batch::gates::{self, Answer, Hold, Severity, Standing};
use level_keel_core::batch::{Entry, EntryKind, RULES};
use level_keel_core::batch::{Payload, gates::GateName};
use level_keel_core::book::InMemory;
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::recoat::{CoatBeneath, CoatLink, RecoatTimes, SurfaceRange};
use level_keel_core::refusal::{Refusal, Why};
use level_keel_core::sheets::Sheet;
use level_keel_core::stores::LotKnown;
use level_keel_core::worded::VariantArray;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::book::*;

const OTHER: Uuid = Uuid::from_u128(8);

const HULL: Uuid = Uuid::from_u128(3);

const DECK: Uuid = Uuid::from_u128(4);

fn with(mut body: Value, changes: Value) -> Value {
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    body
}

fn ready(sheet: Value) -> Book {
    let mut book = Book::begun(sheet);
    book.ready();
    book
}

fn opened(sheet: Value) -> Book {
    let mut book = ready(sheet);
    open(&mut book, POT);
    book
}

fn open(book: &mut Book, charge: Uuid) -> Uuid {
    book.write(EntryKind::OpenCharge, json!({ "charge": charge, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap()
}

fn holds(book: &Book) -> Vec<Hold> {
    gates::all(&Case::alone(&book.record()), book.now, Prefs::METRIC)
}

/// Gate, trouble, and whether it is released, of every hold.
fn troubles(book: &Book, gate: GateName) -> Vec<String> {
    holds(book).into_iter().filter(|h| h.gate == gate && h.released.is_none()).map(|h| h.trouble).collect()
}

fn codes(book: &Book) -> Vec<String> {
    book.record().deviations.into_iter().map(|d| d.code).collect()
}

fn release(book: &mut Book, gate: &str, more: Value) -> Result<Uuid, Refusal> {
    let seen = book.record().log.head_seq;
    let body = with(json!({ "gate": gate, "reason": "seen and judged", "seen_seq": seen }), more);
    book.write_as(Role::Lead, EntryKind::Release, body)
}

fn release_pot(book: &mut Book, gate: &str) -> Result<Uuid, Refusal> {
    release(book, gate, json!({ "charge": POT }))
}

#[track_caller]
fn held(result: Result<Uuid, Refusal>, words: &str) {
    let refusal = result.expect_err(words);
    assert!(refusal.why == Why::Hold && refusal.text.contains(words), "{words}: {refusal:?}");
}

fn start(book: &mut Book) -> Result<Uuid, Refusal> {
    book.write(EntryKind::StartSpraying, on())
}

pub fn gel(changes: Value) -> Value {
    let gel = json!({ "charge": "at_gun", "basis": "percent_by_weight", "ratio": null, "hardener_pct": 2.0,
        "band_low_pct": 1.5, "band_high_pct": 2.5 });
    with(with(sheet(), gel), changes)
}

fn at_gun(sheet: Value) -> Book {
    let mut book = ready(sheet);
    book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    book
}

fn catch(a_g: f64, b_g: f64) -> Value {
    json!({ "charge": POT, "a_g": a_g, "b_g": b_g, "resolution_g": 0.1 })
}

fn pass_on(zones: &[Uuid]) -> Value {
    json!({ "charge": POT, "zones": zones, "used_ml": 100.0 })
}

fn comb_on(zone: Option<Uuid>, tooth: f64, of: &str) -> Value {
    let teeth: Vec<f64> = (1..12).map(|t| f64::from(t) * MIL).collect();
    json!({ "zone": zone, "tooth_um": tooth * MIL, "teeth_um": teeth, "of": of })
}

// ---- A. A gate cannot be passed by absence.

#[test]
fn every_gate_answers_and_none_is_silent() {
    let book = Book::begun(sheet());
    let standing = gates::before(&Case::alone(&book.record()), gates::Act::Spray, None, book.now, Prefs::METRIC);
    assert!(standing.holds.iter().any(|h| h.gate == GateName::Conditions && h.trouble == "not-read"));
    assert!(standing.waits.iter().any(|(gate, _)| *gate == GateName::Conditions));
    // An empty pot is not reached; a product without hardener needs no ratio; a proved one is go.
    let mut book = opened(sheet());
    let ratio =
        |book: &Book| gates::ratio(&Case::alone(&book.record()), &book.record().charges[0], None, book.now, Prefs::METRIC);
    assert!(matches!(ratio(&book), Answer::NotReached(GateName::Ratio, _)));
    book.pour("base", 1900.0).unwrap();
    assert!(matches!(ratio(&book), Answer::NotReached(GateName::Ratio, _)));
    book.write(EntryKind::Combine, on()).unwrap();
    assert!(matches!(ratio(&book), Answer::Held(_)));
    book.pour("hardener", 2228.0).unwrap();
    assert_eq!(ratio(&book), Answer::Go);
    let plain = with(sheet(), json!({ "has_hardener": false, "basis": null, "ratio": null, "pot_life_s": null }));
    assert_eq!(ratio(&opened(plain)), Answer::NotNeeded);
    let stop = Answer::Stopped(Hold { severity: Severity::Stop, ..held_one(&book) });
    assert_eq!(Standing::of([Answer::Go, stop, Answer::Held(held_one(&book))]).holds[0].severity, Severity::Stop);
}

/// The registry as agreed: each gate once, the station that answers it, the acts it stands before, and what it looks at.
#[test]
fn the_table_of_gates() {
    use gates::Act::{Accept, Combine, Fill, Sign, Spray};
    let row = |name: GateName| (name.station(), name.acts().to_vec(), name.is_of_a_charge(), name.combined_past());
    let on_hold = "combined-on-hold";
    for name in GateName::VARIANTS.iter().copied() {
        let agreed = match name {
            GateName::Conditions => (1, vec![Combine, Spray], false, on_hold),
            GateName::Guards => (1, vec![Combine, Spray], false, "combined-without-guards"),
            GateName::Lots => (1, vec![Combine, Spray], false, "combined-with-lot-held"),
            GateName::Lists => (1, vec![Combine, Spray], false, "combined-not-ready"),
            GateName::Recoat => (1, vec![Spray], false, on_hold),
            GateName::Rig => (3, vec![Spray], false, on_hold),
            GateName::Film => (5, vec![Spray, Sign], false, on_hold),
            GateName::Coverage | GateName::Pieces => (5, vec![Sign], false, on_hold),
            GateName::Ratio | GateName::Bond => (4, vec![Spray], true, on_hold),
            GateName::Thinner => (2, vec![Spray], true, on_hold),
            GateName::Life => (5, vec![Fill, Spray], true, on_hold),
            GateName::Induction => (2, vec![Fill, Spray], true, on_hold),
            GateName::Acceptance => (6, vec![Accept], false, on_hold),
        };
        assert_eq!(row(name), agreed, "{name:?}");
    }
}

fn held_one(book: &Book) -> Hold {
    let mut other = Book::begun(sheet());
    other.now = book.now;
    holds(&other).remove(0)
}

// ---- B. A release covers what it named.

fn conditions(surface_c: f64, rh_pct: f64) -> Value {
    json!({ "air_c": 21.0, "surface_c": surface_c, "material_c": 20.0, "rh_pct": rh_pct })
}

fn over_a_coat(book: &Book, ended: Option<jiff::Timestamp>, surface: Option<SurfaceRange>) -> Vec<(String, bool)> {
    let primer: Sheet = serde_json::from_value(with(sheet(), json!({ "recoat_max_s": 86_400.0 }))).unwrap();
    let (record, mut beside) = (book.record(), Beside::default());
    let link = CoatLink { batch: Uuid::from_u128(80), number: 11, coat: "primer".into(), product: "Example".into() };
    beside.beneath = Some(CoatBeneath { link, ended, times: RecoatTimes::of_sheet(&primer), surface, prepare: None });
    let all = gates::all(&Case::new(&record, &beside), book.now, Prefs::METRIC);
    all.into_iter().filter(|h| h.gate == GateName::Recoat).map(|h| (h.trouble, h.released.is_some())).collect()
}

/// Written as an entry of another time might have been.
fn force(book: &mut Book, kind: EntryKind, payload: Value) -> Uuid {
    let (id, record) = (Uuid::from_u128(5000 + book.entries.len() as u128), book.record());
    Payload::decode(kind, 1, &payload).expect("well formed");
    let last = book.entries.last().unwrap().clone();
    book.kept.entries.push(Entry {
        id,
        seq: record.log.head_seq + 1,
        kind,
        payload,
        happened: book.now,
        arrived: book.now,
        ..last
    });
    id
}

fn close(book: &mut Book) {
    book.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
}

/// The one hold of a gate.
#[track_caller]
fn one(book: &Book, gate: GateName) -> Hold {
    let mut found: Vec<Hold> = holds(book).into_iter().filter(|h| h.gate == gate).collect();
    assert_eq!(found.len(), 1, "{found:?}");
    found.remove(0)
}

#[track_caller]
fn near(got: f64, want: f64, within: f64) {
    assert!((got - want).abs() <= within, "got {got}, want {want} ± {within}");
}

/// A release is compared by how far past the limit it was: in widths of the band, worked by hand.
#[test]
fn badness_is_counted_in_widths_of_the_band() {
    // 4 : 1 ± 5 % of B per A is 3.8095 to 4.2105, 0.4010 wide. 420 g of hardener: 1,338.03 / 428.57 = 3.1221.
    let ratio = |hardener_g: f64| {
        let mut book = ready(sheet());
        book.mixed(hardener_g);
        one(&book, GateName::Ratio)
    };
    let low = ratio(420.0);
    near(low.badness, (3.8095 - 3.1221) / 0.4010, 0.05);
    // 250 g: 1,338.03 / 255.10 = 5.2451.
    near(ratio(250.0).badness, (5.2451 - 4.2105) / 0.4010, 0.1);
    assert!(low.reached);
    // 150 g of thinner at 0.87 kg/L are 172.4 mL; a tenth of 1,672.7 mL is allowed.
    let thin = with(sheet(), json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 }));
    let mut book = ready(thin);
    book.mixed(328.0);
    book.pour("thinner", 2228.0 + 150.0).unwrap();
    near(one(&book, GateName::Thinner).badness, (150.0 / 0.87) / 167.27, 0.001);
    // Wet to the first tooth of 1 mil and dry at 2, once every pot is closed: 3 to 6 mil are asked, (3 − 1) / 3 short.
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, pass_on(&[])).unwrap();
    for _ in 0..3 {
        book.write(EntryKind::Comb, comb_on(None, 1.0, "total")).unwrap();
    }
    assert_eq!(troubles(&book, GateName::Film), Vec::<String>::new(), "while the work goes on it is not at its film yet");
    close(&mut book);
    let film = one(&book, GateName::Film);
    assert!(film.trouble == "under" && film.reached, "{film:?}");
    near(film.badness, 2.0 / 3.0, 1e-6);
    // Wet to 8 mil and dry at 9: 6 at the most are asked, (9 − 6) / 3 over. With no width at all it is as bad as any reading may be.
    let over = |sheet: Value| {
        let mut book = ready(sheet);
        book.mixed(328.0);
        book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
        book.write(EntryKind::Pass, pass_on(&[])).unwrap();
        book.write(EntryKind::Comb, comb_on(None, 8.0, "total")).unwrap();
        one(&book, GateName::Film)
    };
    let film = over(sheet());
    assert!(film.trouble == "over" && film.reached, "{film:?}");
    near(film.badness, (9.0 - 6.0) / 3.0, 1e-6);
    let narrow = json!({ "wet_um": 4.0 * MIL, "wet_min_um": 4.0 * MIL, "wet_max_um": 4.0 * MIL });
    assert_eq!(over(with(sheet(), narrow)).badness, 5e5);
    // Hardener that the scale cannot tell from none is no ratio at all: as bad as any reading may be, and yet read.
    let endless = ratio(0.4);
    assert!(endless.reached && endless.badness == 5e5, "{endless:?}");
}

/// What has no band is counted in what it is: a guard, a fault of a lot, seconds of induction, lives of a pot.
#[test]
fn what_has_no_band_is_counted_in_itself() {
    let book = Book::begun(sheet());
    let guard = one(&book, GateName::Guards);
    assert!(guard.badness == 1.0 && !guard.reached, "{guard:?}");
    let unread = one(&book, GateName::Conditions);
    assert!(unread.badness >= 1e6 && !unread.reached, "{unread:?}");
    let item = json!([{ "key": "lot_base", "group": "material", "text": "Base lot", "what": { "kind": "lot", "component": "base" }, "before": "combine" }]);
    let mut book = Book::begun_with(sheet(), json!({ "items": item }));
    let dented = json!({ "received": true, "expires_at": "2027-01-01T00:00:00Z", "damaged": "lid dented" });
    let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1", "stand": dented });
    book.write(EntryKind::TakeLot, json!({ "component": "base", "lot": lot })).unwrap();
    assert_eq!(one(&book, GateName::Lots).badness, 1.0);
    // Twenty minutes of induction, five of them gone; five hours of a life of four.
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(5.0);
    near(one(&book, GateName::Induction).badness, 900.0, 1e-6);
    book.pass(295.0);
    near(one(&book, GateName::Life).badness, 1.25, 0.03);
}

/// What was never read or done is worse than any reading, and only waits to be done.
#[test]
fn what_was_never_read_is_worse_than_any_reading_and_not_reached() {
    let unread = |hold: Hold| assert!(hold.badness >= 1e6 && !hold.reached, "{hold:?}");
    unread(one(&at_gun(gel(json!({}))), GateName::Ratio));
    let mut book = opened(sheet());
    book.pour("base", 1900.0).unwrap();
    book.write(EntryKind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    unread(one(&book, GateName::Induction));
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, pass_on(&[])).unwrap();
    close(&mut book);
    unread(one(&book, GateName::Film));
    // Two of three readings are a reading: it was reached.
    for _ in 0..2 {
        book.comb(4.0).unwrap();
    }
    let few = one(&book, GateName::Film);
    assert!(few.reached && few.trouble == "too-few", "{few:?}");
    near(few.badness, 1.0, 1e-9);
    // One of three is worse by one.
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, pass_on(&[])).unwrap();
    close(&mut book);
    book.comb(4.0).unwrap();
    near(one(&book, GateName::Film).badness, 2.0, 1e-9);
    // Nothing sprayed beneath only waits; too early for the next coat was reckoned.
    let (record, mut beside) = (ready(sheet()).record(), Beside::default());
    let primer: Sheet = serde_json::from_value(sheet()).unwrap();
    let link = CoatLink { batch: Uuid::from_u128(90), number: 11, coat: "primer".into(), product: "Example primer".into() };
    let now = record.conditions[0].at;
    // Six hours are asked and one is over: five hours short.
    for (ended, reached, badness) in [(None, false, 1e6), (Some(now - SignedDuration::from_hours(1)), true, 18_000.0)] {
        let times = RecoatTimes::of_sheet(&primer);
        beside.beneath = Some(CoatBeneath { link: link.clone(), ended, times, surface: None, prepare: None });
        let all = gates::all(&Case::new(&record, &beside), now, Prefs::METRIC);
        let recoat = all.iter().find(|h| h.gate == GateName::Recoat).expect("held");
        assert_eq!(recoat.reached, reached, "{recoat:?}");
        near(recoat.badness, badness, 1.0);
    }
}

/// A lot expired or in quarantine is a stop wherever it is judged.
#[test]
fn worst_first_and_stops_before_holds() {
    let stand: LotKnown = serde_json::from_value(json!({ "received": true, "expires_at": "2026-05-01T00:00:00Z" })).unwrap();
    let items = json!([{ "key": "lot_base", "group": "material", "text": "Base lot", "what": { "kind": "lot", "component": "base" }, "before": "combine" }]);
    let mut book = Book::begun_with(sheet(), json!({ "items": items }));
    book.ready();
    let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1", "stand": stand });
    force(&mut book, EntryKind::TakeLot, json!({ "component": "base", "lot": lot }));
    book.write(EntryKind::Conditions, conditions(16.5, 65.0)).unwrap();
    let all = holds(&book);
    assert_eq!(all[0].severity, Severity::Stop);
    assert!(all.iter().skip(1).all(|h| h.severity == Severity::Hold));
}
