//! Gates: none is passed by absence, a release covers what it named, nothing gets younger, what goes bad under way is judged.

use jiff::SignedDuration;
use level_keel_core::batch::gates::{self, Answer, Hold, Severity, Standing};
use level_keel_core::batch::{Entry, Kind, RULES, fold};
use level_keel_core::batch::{Payload, gates::GateName};
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::{Refusal, Why};
use level_keel_core::schedule::{CoatBeneath, CoatLink, Exchanged, RecoatTimes, SurfaceRange};
use level_keel_core::sheets::Sheet;
use level_keel_core::stores::LotStand;
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
    book.write(Kind::OpenCharge, json!({ "charge": charge, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap()
}

fn holds(book: &Book) -> Vec<Hold> {
    gates::all(&book.record(), book.now, Prefs::METRIC)
}

/// Gate, trouble, and whether it is released, of every hold.
fn troubles(book: &Book, gate: GateName) -> Vec<String> {
    holds(book).into_iter().filter(|h| h.gate == gate && h.released.is_none()).map(|h| h.trouble).collect()
}

fn codes(book: &Book) -> Vec<String> {
    book.record().deviations.into_iter().map(|d| d.code).collect()
}

fn release(book: &mut Book, gate: &str, more: Value) -> Result<Uuid, Refusal> {
    let seen = book.record().head_seq;
    let body = with(json!({ "gate": gate, "reason": "seen and judged", "seen_seq": seen }), more);
    book.write_as(Role::Lead, Kind::Release, body)
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
    book.write(Kind::StartSpraying, on())
}

fn gel(changes: Value) -> Value {
    let gel = json!({ "charge": "at_gun", "basis": "percent_by_weight", "ratio": null, "hardener_pct": 2.0,
        "band_low_pct": 1.5, "band_high_pct": 2.5 });
    with(with(sheet(), gel), changes)
}

fn at_gun(sheet: Value) -> Book {
    let mut book = ready(sheet);
    book.write(Kind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
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
fn hardener_that_was_never_measured_is_no_ratio() {
    let mut book = opened(sheet());
    book.pour("base", 1900.0).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.pass(3.0).write(Kind::Stirred, on()).unwrap();
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["not-measured"]);
    held(start(&mut book), "never measured");
    // Sprayed all the same it is marked; a lead may release it, and then it is not held.
    release_pot(&mut book, "ratio").unwrap();
    start(&mut book).unwrap();
}

#[test]
fn hardener_alone_is_no_ratio() {
    let mut book = opened(sheet());
    book.pour("hardener", 328.0).unwrap();
    book.write(Kind::Stirred, on()).unwrap();
    book.pass(30.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["hardener-alone"]);
    held(start(&mut book), "no measured base");
}

#[test]
fn a_scale_too_coarse_to_bound_holds() {
    let pour = |component: &str, g: f64| json!({ "charge": POT, "component": component, "reading_g": g, "resolution_g": 500.0 });
    let mut book = opened(sheet());
    book.write(Kind::Pour, pour("base", 200.0)).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.write(Kind::Pour, pour("hardener", 250.0)).unwrap();
    book.write(Kind::Stirred, on()).unwrap();
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["cannot-bound"]);
    held(start(&mut book), "too coarse");
}

/// Forty readings of a gram each way: the bound is still the true one, and a ratio it cannot prove holds.
#[test]
fn many_readings_are_bounded_exactly() {
    let mut book = opened(sheet());
    let mut g = 0.0;
    for _ in 0..20 {
        g += 95.0;
        book.pour("base", g).unwrap();
    }
    book.write(Kind::Combine, on()).unwrap();
    for _ in 0..20 {
        g += 16.4;
        book.pour("hardener", g).unwrap();
    }
    book.write(Kind::Stirred, on()).unwrap();
    book.pass(25.0);
    // 1,900 g and 328 g on one running cup: only the first and last readings matter, ± 1 g in 328 is in.
    start(&mut book).unwrap();
}

#[test]
fn a_kit_emptied_whole_is_measured() {
    let kit = with(sheet(), json!({ "kit_base_g": 1900.0, "kit_hardener_g": 328.0 }));
    let can = |component: &str| json!({ "charge": POT, "component": component, "whole_can": true, "reading_g": 0.0, "resolution_g": 1.0 });
    let mut book = opened(kit);
    book.write(Kind::Pour, can("base")).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.write(Kind::Pour, can("hardener")).unwrap();
    book.write(Kind::Stirred, on()).unwrap();
    assert_eq!(book.record().charges[0].weighed().iter().map(|w| w.reading_g).collect::<Vec<_>>(), [1900.0, 328.0]);
    book.pass(25.0);
    start(&mut book).unwrap();
    // No kit on the sheet: there is no can to empty.
    let mut book = opened(sheet());
    let refusal = book.write(Kind::Pour, can("base")).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("no-kit", Some("whole_can")));
    let mut book = opened(with(sheet(), json!({ "kit_base_g": 1900.0, "kit_hardener_g": 328.0 })));
    assert_eq!(book.write(Kind::Pour, can("thinner")).unwrap_err().code, "no-kit");
}

#[test]
fn what_goes_in_after_stirring_is_stirred_again_and_inducts_anew() {
    for (component, more_g) in [("hardener", 4.0), ("base", 20.0)] {
        let mut book = ready(sheet());
        book.mixed(328.0);
        let born = book.record().charges[0].combined();
        book.pass(25.0).pour(component, 1900.0 + 328.0 + more_g).unwrap();
        assert_eq!(troubles(&book, GateName::Induction), ["not-stirred"], "{component}");
        held(start(&mut book), "Stir it again");
        book.write(Kind::Stirred, on()).unwrap();
        held(book.pass(19.9).write(Kind::StartSpraying, on()), "induction ends in");
        book.pass(0.2).write(Kind::StartSpraying, on()).unwrap();
        assert_eq!(book.record().charges[0].combined(), born, "its birth stays");
    }
    // Stirring once more, with nothing added, restarts nothing; nor does thinner.
    let thin = with(sheet(), json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 }));
    let mut book = ready(thin);
    book.mixed(328.0);
    book.pass(15.0).write(Kind::Stirred, on()).unwrap();
    book.pour("thinner", 2228.0 + 50.0).unwrap();
    book.pass(5.0).write(Kind::StartSpraying, on()).unwrap();
}

#[test]
fn thinner_where_none_is_allowed_and_over_the_most_holds_the_spraying() {
    let thin = with(sheet(), json!({ "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87 }));
    for (sheet, g, trouble, code) in
        [(sheet(), 20.0, "none-allowed", "thinner-not-allowed"), (thin.clone(), 150.0, "over", "thinner-over-limit")]
    {
        let mut book = ready(sheet);
        book.mixed(328.0);
        let thinned = book.pour("thinner", 2228.0 + g).unwrap();
        book.pass(25.0);
        assert_eq!(troubles(&book, GateName::Thinner), [trouble]);
        held(start(&mut book), "of thinner in it");
        let marked: Vec<_> = book.record().deviations.into_iter().map(|d| (d.code, d.entry)).collect();
        assert_eq!(marked, [(code.to_string(), thinned)], "it stands at the pour of thinner");
        release_pot(&mut book, "thinner").unwrap();
        start(&mut book).unwrap();
    }
    // A tenth of 1,673 mL is 167 mL, 145.5 g: a step of the scale over it is no over-pour.
    let mut book = ready(thin);
    book.mixed(328.0);
    book.pour("thinner", 2228.0 + 146.0).unwrap();
    book.pass(25.0);
    start(&mut book).unwrap();
    assert_eq!(codes(&book), Vec::<String>::new());
}

#[test]
fn film_that_is_asked_and_not_proved_holds_the_signature() {
    let sprayed = |sheet: Value, combs: usize, with_area: f64| {
        let mut book = Book::begun_with(sheet, json!({ "area_m2": with_area }));
        book.ready();
        book.mixed(328.0);
        book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
        book.write(Kind::Pass, pass_on(&[])).unwrap();
        for _ in 0..combs {
            book.comb(4.0).unwrap();
        }
        book.write(Kind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
        let seen = book.seen();
        (book.write(Kind::Sign, seen), book)
    };
    held(sprayed(sheet(), 0, 10.0).0, "no comb was set");
    held(sprayed(sheet(), 2, 10.0).0, "2 of 3 readings");
    sprayed(sheet(), 3, 10.0).0.unwrap();
    // Under half a square metre one reading will do; on it, three are asked.
    sprayed(sheet(), 1, 0.49).0.unwrap();
    held(sprayed(sheet(), 1, 0.5).0, "1 of 3 readings");
    // Where the sheet asks for no film, none is proved; where the eye proves it, somebody looks.
    sprayed(with(sheet(), json!({ "film_proof": "not_asked" })), 0, 10.0).0.unwrap();
    let (refused, mut book) = sprayed(with(sheet(), json!({ "film_proof": "look" })), 3, 10.0);
    held(refused, "nobody looked");
    book.write(Kind::FilmLook, json!({ "good": false, "text": "a run at the rim" })).unwrap();
    let seen = book.seen();
    held(book.write(Kind::Sign, seen), "a run at the rim");
    book.write(Kind::FilmLook, json!({ "good": true })).unwrap();
    let seen = book.seen();
    book.write(Kind::Sign, seen).unwrap();
    let bare = book.write(Kind::FilmLook, json!({ "good": false }));
    assert_eq!(bare.unwrap_err().field.as_deref(), Some("text"));
}

/// 1,673 mL on 10 m² at 60 ± 10 %: 83.6 to 117.1 µm, in a band of 76.2 to 152.4; on 13 m² its least is under it.
#[test]
fn film_by_use_is_an_interval_of_what_left_the_pots() {
    let sprayed = |area_m2: f64| {
        let mut book = Book::begun_with(with(sheet(), json!({ "film_proof": "use" })), json!({ "area_m2": area_m2 }));
        book.ready();
        book.mixed(328.0);
        book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
        book.write(Kind::Pass, pass_on(&[])).unwrap();
        book.write(Kind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
        let seen = book.seen();
        book.write(Kind::Sign, seen)
    };
    sprayed(10.0).unwrap();
    held(sprayed(13.0), "cannot be told");
    held(sprayed(20.0), "under the sheet");
    held(sprayed(5.0), "over the sheet");
}

#[test]
fn half_a_catalyst_band_stops_on_its_own_side() {
    let upper = gel(json!({ "band_low_pct": null }));
    let mut book = at_gun(upper.clone());
    book.write(Kind::Catch, catch(800.0, 24.0)).unwrap();
    assert_eq!(start(&mut book).unwrap_err().why, Why::Stop, "3 % is over the one bound there is");
    assert_eq!(release_pot(&mut book, "ratio").unwrap_err().why, Why::Stop);
    // Under it there is only the tolerance, ± 5 % of 2 %: a hold.
    let mut book = at_gun(upper);
    book.write(Kind::Catch, catch(800.0, 14.0)).unwrap();
    held(start(&mut book), "is out");
    let mut book = at_gun(gel(json!({ "band_high_pct": null })));
    book.write(Kind::Catch, catch(800.0, 8.0)).unwrap();
    assert_eq!(start(&mut book).unwrap_err().why, Why::Stop, "1 % is under the least");
    // On the hairline is in: 2.5 % exactly, by a scale that can tell.
    let mut book = at_gun(gel(json!({})));
    book.write(Kind::Catch, json!({ "charge": POT, "a_g": 4000.0, "b_g": 99.9, "resolution_g": 0.001 })).unwrap();
    start(&mut book).unwrap();
}

#[test]
fn a_band_left_over_on_a_ratio_is_refused_and_bounds_nothing() {
    let left = with(sheet(), json!({ "band_high_pct": 2.5 }));
    let refusal = serde_json::from_value::<Sheet>(left.clone()).unwrap().validate(Prefs::METRIC).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("band-of-a-ratio", Some("band_high_pct")));
    // On a sheet kept before, it bounds nothing: 4:1 by volume is 17 % by weight and right.
    let mut book = ready(left);
    book.mixed(328.0);
    book.pass(25.0);
    start(&mut book).unwrap();
    let swapped = serde_json::from_value::<Sheet>(gel(json!({ "band_low_pct": 2.6 }))).unwrap().validate(Prefs::METRIC);
    assert_eq!(swapped.unwrap_err().field.as_deref(), Some("band_high_pct"));
}

#[test]
fn every_gate_answers_and_none_is_silent() {
    let book = Book::begun(sheet());
    let standing = gates::before(&book.record(), level_keel_core::lists::Before::Spray, None, book.now, Prefs::METRIC);
    assert!(standing.holds.iter().any(|h| h.gate == GateName::Conditions && h.trouble == "not-read"));
    assert!(standing.waits.iter().any(|(gate, _)| *gate == GateName::Conditions));
    // An empty pot is not reached; a product without hardener needs no ratio; a proved one is go.
    let mut book = opened(sheet());
    let ratio = |book: &Book| gates::ratio(&book.record(), &book.record().charges[0], None, book.now, Prefs::METRIC);
    assert!(matches!(ratio(&book), Answer::NotReached(GateName::Ratio, _)));
    book.pour("base", 1900.0).unwrap();
    assert!(matches!(ratio(&book), Answer::NotReached(GateName::Ratio, _)));
    book.write(Kind::Combine, on()).unwrap();
    assert!(matches!(ratio(&book), Answer::Held(_)));
    book.pour("hardener", 2228.0).unwrap();
    assert_eq!(ratio(&book), Answer::Go);
    let plain = with(sheet(), json!({ "has_hardener": false, "basis": null, "ratio": null, "pot_life_s": null }));
    assert_eq!(ratio(&opened(plain)), Answer::NotNeeded);
    let stop = Answer::Stopped(Hold { severity: Severity::Stop, ..held_one(&book) });
    assert_eq!(Standing::of([Answer::Go, stop, Answer::Held(held_one(&book))]).holds[0].severity, Severity::Stop);
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

#[test]
fn a_release_of_humidity_is_none_of_the_dew_margin() {
    let mut book = ready(sheet());
    // 88 %: too humid; 1.1 K of margin: too near the dew point.
    book.write(Kind::Conditions, conditions(20.0, 88.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under", "over"]);
    let refusal = release(&mut book, "conditions", json!({})).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("which-hold", Some("item")));
    release(&mut book, "conditions", json!({ "item": "humidity" })).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under"]);
    // No worse stays covered, worse does not, and the one behind it never was.
    book.write(Kind::Conditions, conditions(20.0, 87.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under"]);
    book.write(Kind::Conditions, conditions(20.0, 89.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under", "over"]);
    release(&mut book, "conditions", json!({ "item": "dew-margin" })).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["over"]);
    assert_eq!(release(&mut book, "conditions", json!({ "item": "surface" })).unwrap_err().code, "nothing-held");
}

#[test]
fn a_release_of_cannot_tell_is_none_of_out() {
    let mut book = ready(sheet());
    book.write(Kind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 170.0 })).unwrap();
    book.pour("base", 50.0).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.pour("hardener", 59.0).unwrap();
    book.write(Kind::Stirred, on()).unwrap();
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["cannot-tell"]);
    release_pot(&mut book, "ratio").unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    book.pour("hardener", 66.0).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["under"], "3.1 : 1 is out, whatever was released before");
    let kept = book.record().releases[0].it.clone();
    assert_eq!((kept.trouble.as_deref(), kept.item), (Some("cannot-tell"), None));
}

#[test]
fn a_release_of_not_stirred_is_none_of_the_induction_nor_of_the_next_one() {
    let mut book = opened(sheet());
    book.pour("base", 1900.0).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    release_pot(&mut book, "induction").unwrap();
    book.write(Kind::Stirred, on()).unwrap();
    assert_eq!(troubles(&book, GateName::Induction), ["inducting"]);
    release_pot(&mut book, "induction").unwrap();
    assert_eq!(troubles(&book, GateName::Induction), Vec::<String>::new());
    // Added to and stirred again, another induction runs: shorter now than the one released, and still not released.
    book.pass(15.0).pour("hardener", 2230.0).unwrap();
    assert_eq!(troubles(&book, GateName::Induction), ["not-stirred"], "the release was of what stood before");
    book.write(Kind::Stirred, on()).unwrap();
    book.pass(10.0);
    assert_eq!(troubles(&book, GateName::Induction), ["inducting"]);
}

fn over_a_coat(book: &Book, ended: Option<jiff::Timestamp>, surface: Option<SurfaceRange>) -> Vec<(String, bool)> {
    let primer: Sheet = serde_json::from_value(with(sheet(), json!({ "recoat_max_s": 86_400.0 }))).unwrap();
    let mut record = book.record();
    let link = CoatLink { batch: Uuid::from_u128(80), number: 11, coat: "primer".into(), product: "Example".into() };
    record.beside.beneath = Some(CoatBeneath { link, ended, times: RecoatTimes::of_sheet(&primer), surface, prepare: None });
    let all = gates::all(&record, book.now, Prefs::METRIC);
    all.into_iter().filter(|h| h.gate == GateName::Recoat).map(|h| (h.trouble, h.released.is_some())).collect()
}

#[test]
fn a_release_of_nothing_beneath_is_none_of_too_early() {
    let mut book = ready(sheet());
    assert_eq!(over_a_coat(&book, None, None), [("not-sprayed".to_string(), false)]);
    // The release as core would store it.
    let id = Uuid::from_u128(4000);
    let seq = book.record().head_seq + 1;
    let payload =
        json!({ "gate": "recoat", "trouble": "not-sprayed", "reason": "a test panel", "seen_seq": seq - 1, "badness": 1e6 });
    let last = book.entries.last().unwrap().clone();
    book.entries.push(Entry { id, seq, kind: Kind::Release, payload, ..last });
    assert_eq!(over_a_coat(&book, None, None), [("not-sprayed".to_string(), true)]);
    assert_eq!(over_a_coat(&book, Some(book.now), None), [("too-early".to_string(), false)]);
}

/// An older log's releases name no trouble: they stand for what was done under them, and for nothing that stands now.
#[test]
fn a_release_of_an_older_log_covers_the_past_alone() {
    let mut book = Book::begun_with(sheet(), json!({ "rules": 0 }));
    book.ready();
    book.write(Kind::Conditions, conditions(16.5, 65.0)).unwrap();
    let seq = book.record().head_seq + 1;
    let payload = json!({ "gate": "conditions", "reason": "shed is warming", "seen_seq": seq - 1, "badness": 2.0 });
    let last = book.entries.last().unwrap().clone();
    book.entries.push(Entry { id: Uuid::from_u128(4001), seq, kind: Kind::Release, payload, ..last });
    assert_eq!(troubles(&book, GateName::Conditions), ["under"]);
    open(&mut book, POT);
    book.pour("base", 1900.0).unwrap();
    let before = book.entries.len();
    assert!(book.write(Kind::Combine, on()).is_err());
    force(&mut book, Kind::Combine, on());
    assert_eq!(book.entries.len(), before + 1);
    assert_eq!(codes(&book), Vec::<String>::new(), "what was combined under it is no deviation");
}

/// Written as an entry of another time might have been.
fn force(book: &mut Book, kind: Kind, payload: Value) -> Uuid {
    let (id, record) = (Uuid::from_u128(5000 + book.entries.len() as u128), fold(&book.entries));
    Payload::decode(kind, 1, &payload).expect("well formed");
    let last = book.entries.last().unwrap().clone();
    book.entries.push(Entry { id, seq: record.head_seq + 1, kind, payload, happened: book.now, arrived: book.now, ..last });
    id
}

#[test]
fn a_probes_next_reading_no_worse_leaves_the_release_standing() {
    let mut book = ready(sheet());
    book.write(Kind::Conditions, conditions(16.5, 65.0)).unwrap();
    release(&mut book, "conditions", json!({})).unwrap();
    for surface in [16.5, 16.6, 16.5] {
        book.pass(10.0).write(Kind::Conditions, conditions(surface, 65.0)).unwrap();
        assert_eq!(troubles(&book, GateName::Conditions), Vec::<String>::new());
    }
    book.pass(10.0).write(Kind::Conditions, conditions(16.4, 65.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Conditions), ["under"]);
}

#[test]
fn one_guard_released_is_one_guard() {
    let both = with(sheet(), json!({ "hazards": ["solvent", "isocyanate"] }));
    let mut book = Book::begun(both);
    release(&mut book, "guards", json!({ "item": "solvent" })).unwrap();
    let open: Vec<_> = holds(&book).into_iter().filter(|h| h.gate == GateName::Guards && h.released.is_none()).collect();
    assert_eq!(open.iter().map(|h| h.item.as_deref().unwrap()).collect::<Vec<_>>(), ["isocyanate"]);
}

#[test]
fn bad_releases_are_refused_by_name() {
    let mut book = ready(sheet());
    assert_eq!(release(&mut book, "film", json!({})).unwrap_err().code, "nothing-held");
    assert_eq!(release(&mut book, "conditions", json!({ "item": "dew-margin" })).unwrap_err().code, "nothing-held");
    let begin = book.entries[0].id;
    let strike = json!({ "entry": begin, "reason": "the wrong part" });
    assert_eq!(book.write_as(Role::Owner, Kind::Strike, strike).unwrap_err().code, "not-strikable");
}

// ---- C. Nothing gets younger, nothing is forgotten under way.

fn strike(book: &mut Book, kind: Kind) {
    let lines: Vec<Uuid> = book.record().log.iter().filter(|l| l.kind == kind && l.struck.is_none()).map(|l| l.entry).collect();
    for entry in lines {
        book.write_as(Role::Lead, Kind::Strike, json!({ "entry": entry, "reason": "entered wrong" })).unwrap();
    }
}

fn age(book: &Book) -> f64 {
    let record = book.record();
    record.clock(&record.charges[0], book.now).unwrap().age
}

#[test]
fn striking_and_entering_anew_leaves_the_birth_where_it_was() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(115.0);
    assert!((age(&book) - 0.5).abs() < 1e-9, "two hours of four");
    strike(&mut book, Kind::Combine);
    strike(&mut book, Kind::Pour);
    strike(&mut book, Kind::Stirred);
    // Nothing stands of it, and it is as old as it was.
    assert!((age(&book) - 0.5).abs() < 1e-9);
    book.ready();
    book.pour("base", 1900.0).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    book.write(Kind::Stirred, on()).unwrap();
    assert!((age(&book) - 0.5).abs() < 1e-9);
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Life), ["birth-in-doubt"]);
    held(start(&mut book), "struck");
    // A lead who knows better says so, with a reason; an applicator does not.
    let deny = json!({ "charge": POT, "reason": "the pot stood empty: the wrong batch" });
    assert_eq!(book.write(Kind::DenyBirth, deny.clone()).unwrap_err().why, Why::Forbidden);
    let bare = json!({ "charge": POT, "reason": " " });
    assert_eq!(book.write_as(Role::Lead, Kind::DenyBirth, bare).unwrap_err().field.as_deref(), Some("reason"));
    book.write_as(Role::Owner, Kind::DenyBirth, deny.clone()).unwrap();
    assert!((age(&book) - 25.0 / 240.0).abs() < 1e-9);
    assert_eq!(book.write_as(Role::Lead, Kind::DenyBirth, deny).unwrap_err().code, "no-birth-in-doubt");
    start(&mut book).unwrap();
}

/// Hardener named alone by a slip, while base stands in another pot, is no birth.
#[test]
fn a_slip_of_the_hand_beside_another_pot_is_no_birth() {
    let mut book = ready(sheet());
    open(&mut book, OTHER);
    let base = json!({ "charge": OTHER, "component": "base", "reading_g": 1900.0, "resolution_g": 1.0, "lot": null });
    book.write(Kind::Pour, base).unwrap();
    book.write(Kind::OpenCharge, json!({ "charge": POT, "no": 2, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    let slip = book.pour("hardener", 5.0).unwrap();
    book.write(Kind::Strike, json!({ "entry": slip, "reason": "that was the base" })).unwrap();
    book.pass(30.0).pour("base", 1900.0).unwrap();
    book.ready();
    book.write(Kind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    book.write(Kind::Stirred, on()).unwrap();
    let record = book.record();
    assert_eq!(record.clock(record.charge(POT).unwrap(), book.now).unwrap().age, 0.0);
    assert_eq!(troubles(&book, GateName::Life), Vec::<String>::new());
}

/// A lead's denial is of one vessel.
#[test]
fn a_denied_birth_leaves_another_pots_where_it_was() {
    let mut book = ready(sheet());
    open(&mut book, OTHER);
    book.write(Kind::OpenCharge, json!({ "charge": POT, "no": 2, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
    for charge in [OTHER, POT] {
        let pour = |component: &str, g: f64| json!({ "charge": charge, "component": component, "reading_g": g, "resolution_g": 1.0, "lot": null });
        book.write(Kind::Pour, pour("base", 1900.0)).unwrap();
        book.write(Kind::Combine, json!({ "charge": charge })).unwrap();
        book.pass(2.0).write(Kind::Pour, pour("hardener", 2228.0)).unwrap();
    }
    strike(&mut book, Kind::Combine);
    assert_eq!(troubles(&book, GateName::Life), ["birth-in-doubt", "birth-in-doubt"]);
    book.write_as(Role::Lead, Kind::DenyBirth, json!({ "charge": POT, "reason": "never combined" })).unwrap();
    let doubted: Vec<_> = holds(&book).into_iter().filter(|h| h.gate == GateName::Life).map(|h| h.charge).collect();
    assert_eq!(doubted, [Some(OTHER)]);
}

#[test]
fn a_pot_with_a_struck_birth_may_be_released_as_old_as_it_says() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    strike(&mut book, Kind::Combine);
    strike(&mut book, Kind::Stirred);
    // The pour of the hardener still stands, two minutes later than the combining.
    assert_eq!(troubles(&book, GateName::Life), ["birth-in-doubt"]);
    release(&mut book, "life", json!({ "charge": POT, "item": "birth" })).unwrap();
    assert_eq!(troubles(&book, GateName::Life), Vec::<String>::new());
    assert!((age(&book) - 5.0 / 240.0).abs() < 1e-9);
}

#[test]
fn another_pot_in_its_place_is_as_old() {
    let lot = |n: u128, code: &str| json!({ "id": Uuid::from_u128(n), "code": code });
    let fill = |book: &mut Book, charge: Uuid, lot: &Value| {
        let pour = |component: &str, g: f64| json!({ "charge": charge, "component": component, "reading_g": g, "resolution_g": 1.0, "lot": lot });
        book.write(Kind::Pour, pour("base", 1900.0)).unwrap();
        book.write(Kind::Combine, json!({ "charge": charge })).unwrap();
        book.write(Kind::Pour, pour("hardener", 2228.0)).unwrap();
        book.write(Kind::Stirred, json!({ "charge": charge })).unwrap();
    };
    let born = |second: &Value, strike_first: bool| {
        let mut book = opened(sheet());
        fill(&mut book, POT, &lot(61, "P-1"));
        if strike_first {
            strike(&mut book, Kind::Combine);
            strike(&mut book, Kind::Pour);
            strike(&mut book, Kind::OpenCharge);
        }
        book.pass(120.0).ready();
        open(&mut book, OTHER);
        fill(&mut book, OTHER, second);
        let record = book.record();
        let pot = record.charge(OTHER).unwrap().clone();
        (record.clock(&pot, book.now).unwrap().age, book)
    };
    let same = lot(61, "P-1");
    let (age, mut book) = born(&same, true);
    assert!((age - 0.5).abs() < 1e-9, "opened in the place of what was struck");
    assert_eq!(troubles(&book, GateName::Life), ["birth-in-doubt"]);
    let deny = json!({ "charge": OTHER, "reason": "the first pot was thrown away unmixed" });
    book.write_as(Role::Lead, Kind::DenyBirth, deny).unwrap();
    assert_eq!(troubles(&book, GateName::Life), Vec::<String>::new());
    assert_eq!(born(&same, false).0, 0.0, "a second pot beside the first is its own");
    assert_eq!(born(&lot(62, "P-2"), true).0, 0.0, "other lots are another paint");
    assert!((born(&Value::Null, true).0 - 0.5).abs() < 1e-9, "without a lot it is not known to be another");
}

#[test]
fn a_pour_of_the_wrong_component_that_is_struck_is_no_birth() {
    let mut book = opened(sheet());
    let slip = book.pour("hardener", 1900.0).unwrap();
    book.write(Kind::Strike, json!({ "entry": slip, "reason": "it was the base" })).unwrap();
    book.pour("base", 1900.0).unwrap();
    assert_eq!(book.record().charges[0].combined(), None);
    assert_eq!(troubles(&book, GateName::Life), Vec::<String>::new());
}

/// A pot at 35 °C lives 1 h 25 of its 4 h at 20 °C: the can at 20 °C says nothing against it.
#[test]
fn the_can_never_overrules_a_fresh_reading_of_the_pot() {
    let read = |c: f64| json!({ "charge": POT, "temp_c": c });
    let rate = |book: &Book| {
        let record = book.record();
        record.clock(&record.charges[0], book.now).unwrap().age_per_s * 14_400.0
    };
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.write(Kind::PotTemperature, read(30.0)).unwrap();
    assert!((rate(&book) - 2.0).abs() < 1e-9);
    book.pass(5.0).write(Kind::Conditions, conditions(20.0, 55.0)).unwrap();
    assert!((rate(&book) - 2.0).abs() < 1e-9, "the can at 20 °C");
    book.write(Kind::PotTemperature, json!({ "charge": POT, "temp_c": 20.0, "probe": "bench" })).unwrap();
    assert!((rate(&book) - 2.0).abs() < 1e-9, "the probe at the bench is further off than the hand in the pot");
    // Stale after a quarter of an hour: the hotter of the two ages it.
    book.pass(9.9);
    assert!((rate(&book) - 2.0).abs() < 1e-9);
    book.pass(5.2);
    assert!((rate(&book) - 2.0).abs() < 1e-9, "30 °C of the pot is hotter than 20 °C of the can");
    book.write(Kind::PotTemperature, read(20.0)).unwrap();
    assert!((rate(&book) - 1.0).abs() < 1e-9);
    book.pass(14.9)
        .write(Kind::Conditions, json!({ "air_c": 31.0, "surface_c": 30.0, "material_c": 30.0, "rh_pct": 40.0 }))
        .unwrap();
    assert!((rate(&book) - 1.0).abs() < 1e-9, "fresh: the pot's own stands");
    book.pass(0.2);
    assert!((rate(&book) - 2.0).abs() < 1e-9, "stale: the can is hotter");
}

/// Induction of 20 min at 20 °C is 40 min at 10 °C. Half of it stirred warm, the rest cold: 10 + 20 min.
#[test]
fn induction_follows_the_temperature_like_everything_else() {
    let mut book = ready(with(sheet(), json!({ "temp_min_c": 5.0 })));
    book.mixed(328.0);
    let cold = json!({ "charge": POT, "temp_c": 10.0 });
    book.pass(10.0).write(Kind::PotTemperature, cold.clone()).unwrap();
    let left = |book: &Book| {
        let record = book.record();
        record.clock(&record.charges[0], book.now).unwrap().induction_ends.unwrap().duration_since(book.now).as_secs_f64() / 60.0
    };
    assert!((left(&book) - 20.0).abs() < 1e-6, "{}", left(&book));
    book.pass(10.0);
    held(start(&mut book), "induction ends in 10");
    book.write(Kind::PotTemperature, cold).unwrap();
    book.pass(10.0).write(Kind::StartSpraying, on()).unwrap();
    // Hotter never shortens it.
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.write(Kind::PotTemperature, json!({ "charge": POT, "temp_c": 33.0 })).unwrap();
    assert!((left(&book) - 20.0).abs() < 1e-6);
}

#[test]
fn what_goes_bad_under_way_holds_and_marks_the_passes() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), Vec::<String>::new());
    book.pass(5.0).write(Kind::Conditions, conditions(13.0, 65.0)).unwrap();
    assert!(holds(&book).iter().any(|h| h.trouble == "wet" && h.severity == Severity::Stop));
    let wet = book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    let record = book.record();
    let marked: Vec<_> = record.deviations.iter().map(|d| (d.code.as_str(), d.entry)).collect();
    assert_eq!(marked, [("sprayed-on-hold", wet)]);
    // Dried and read again the next pass is clean; a pass released by a lead is too.
    book.pass(1.0).write(Kind::Conditions, conditions(16.5, 65.0)).unwrap();
    release(&mut book, "conditions", json!({})).unwrap();
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), ["sprayed-on-hold"]);
}

#[test]
fn a_pass_onto_too_much_film_is_marked() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).comb(7.0).unwrap();
    assert_eq!(troubles(&book, GateName::Film), ["over"], "held while the work goes on");
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), ["film-over", "sprayed-over-film"]);
    // Read at the very instant of the pass it was not known before it.
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    book.comb(7.0).unwrap();
    assert_eq!(codes(&book), ["film-over"]);
}

#[test]
fn a_failed_check_marks_every_pass_since_the_last_good_one() {
    let mut book = at_gun(gel(json!({ "film_proof": "not_asked" })));
    book.write(Kind::Catch, catch(800.0, 16.0)).unwrap();
    start(&mut book).unwrap();
    let before = book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(Kind::Catch, catch(800.0, 16.2)).unwrap();
    let between = book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    let second = book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(Kind::Catch, catch(800.0, 26.0)).unwrap();
    assert!(holds(&book).iter().any(|h| h.gate == GateName::Ratio && h.severity == Severity::Stop));
    let after = book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    let record = book.record();
    let of = |entry: Uuid| record.deviations.iter().filter(|d| d.entry == entry).map(|d| d.code.as_str()).collect::<Vec<_>>();
    assert_eq!((of(before), of(between), of(after)), (vec![], vec!["check-failed-after"], vec!["catalyst-outside-band"]));
    assert_eq!(of(second), ["check-failed-after"], "every pass since, not the first one only");
}

#[test]
fn a_proof_at_the_gun_goes_stale_with_its_reason() {
    let proved = || {
        let mut book = at_gun(gel(json!({})));
        book.write(Kind::Catch, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
        book
    };
    // Twelve hours, to the minute; another shop day in the zone of the shop (08:00 UTC is 09:00 in Lisbon in May).
    let mut book = proved();
    book.pass(12.0 * 60.0).ready();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    book.pass(1.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-time"]);
    let mut night = Book { entries: Vec::new(), now: "2026-05-04T22:30:00Z".parse().unwrap() };
    let begin = Book::begun(gel(json!({}))).entries[0].payload.clone();
    night.write(Kind::Begin, begin).unwrap();
    night.ready();
    night.write(Kind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    night.write(Kind::Catch, catch(800.0, 16.0)).unwrap();
    night.pass(29.0);
    assert_eq!(troubles(&night, GateName::Ratio), Vec::<String>::new(), "22:59 UTC is one minute to midnight in Lisbon");
    night.pass(2.0);
    assert_eq!(troubles(&night, GateName::Ratio), ["stale-day"]);
    held(start(&mut night), "another day");
    // Another lot.
    let take = |code: &str, n: u128| json!({ "component": "hardener", "lot": { "id": Uuid::from_u128(n), "code": code } });
    let mut book = proved();
    book.pass(1.0).write(Kind::TakeLot, take("H-2", 62)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-lot"]);
    book.pass(1.0).write(Kind::Catch, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    // A pressure over a tenth off the one it was caught at, entered at Set; a tenth exactly is none.
    for (kpa, stale) in [(110.0, false), (111.0, true), (90.0, false), (89.0, true)] {
        let mut book = proved();
        book.pass(1.0).write(Kind::SetUp, json!({ "pot_kpa": kpa })).unwrap();
        assert_eq!(troubles(&book, GateName::Ratio) == ["stale-pressure"], stale, "{kpa}");
    }
    // Another rig, and by the rig's own book another tip.
    let rig = |n: u128| json!({ "rig": Uuid::from_u128(n), "fitted": pot_rig() });
    let mut book = proved();
    book.write(Kind::ChooseRig, rig(30)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new(), "the first one named is the one it was caught with");
    book.pass(1.0).write(Kind::ChooseRig, rig(31)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-rig"]);
    let book = proved();
    let mut record = book.record();
    let at = book.now + SignedDuration::from_secs(60);
    record.beside.rig_exchanged = vec![Exchanged { at, what: "another tip is fitted".into() }];
    let all = gates::all(&record, at, Prefs::METRIC);
    assert!(all.iter().any(|h| h.trouble == "stale-exchange" && h.text.contains("another tip")));
    // A pot as weighed never goes stale.
    let mut book = ready(with(sheet(), json!({ "pot_life_s": 200_000.0 })));
    book.mixed(328.0);
    book.pass(13.0 * 60.0);
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
}

/// What nobody wrote cannot be compared, so it does not let a proof stand.
#[test]
fn a_proof_whose_pressure_or_day_nobody_knows_goes_stale() {
    // Caught before any pressure was said: the first one set after it may be another.
    let mut book = at_gun(gel(json!({})));
    book.write(Kind::Catch, catch(800.0, 16.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    book.pass(1.0).write(Kind::SetUp, json!({ "pot_kpa": 100.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure-unknown"]);
    held(start(&mut book), "nobody wrote at what pressure it was caught");
    // Caught again it is known, by the pressure that was set before it.
    book.pass(1.0).write(Kind::Catch, catch(800.0, 16.0)).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    book.pass(1.0).write(Kind::SetUp, json!({ "pot_kpa": 111.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure"]);

    // A book that names no zone goes by the zone of the shop today.
    let mut book = Book { entries: Vec::new(), now: "2026-05-04T22:20:00Z".parse().unwrap() };
    let begin = Book::begun(gel(json!({}))).entries[0].payload.clone();
    book.write(Kind::Begin, with(begin, json!({ "zone": null }))).unwrap();
    book.ready();
    book.write(Kind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5000.0 })).unwrap();
    book.write(Kind::Catch, catch(800.0, 16.0)).unwrap();
    let after = |minutes: i64, zone: Option<&str>| {
        let mut record = book.record();
        record.beside.zone = zone.map(str::to_owned);
        let now = book.now + SignedDuration::from_mins(minutes);
        let all = gates::all(&record, now, Prefs::METRIC);
        all.iter().filter(|h| h.gate == GateName::Ratio).map(|h| h.trouble.clone()).collect::<Vec<_>>()
    };
    assert_eq!(after(39, Some("Europe/Lisbon")), Vec::<String>::new());
    assert_eq!(after(40, Some("Europe/Lisbon")), ["stale-day"], "midnight in Lisbon is 23:00 UTC in May");
    // Without any zone it stands until the next quarter of an hour: every zone has its midnight on one.
    assert_eq!(after(9, None), Vec::<String>::new());
    assert_eq!(after(10, None), ["stale-day-unknown"]);
    assert_eq!(after(9, Some("Nowhere/None")), Vec::<String>::new());
    assert_eq!(after(10, Some("Nowhere/None")), ["stale-day-unknown"]);
}

/// On twin pots a proof is of both pressures: that of B moves the ratio as much as that of A.
#[test]
fn a_proof_goes_stale_by_the_pressure_of_b_too() {
    let twin =
        json!({ "rig": Uuid::from_u128(30), "fitted": with(pot_rig(), json!({ "kind": "twin_pots", "class": "twin_feed" })) });
    let proved = |at: Value| {
        let mut book = at_gun(gel(json!({})));
        book.write(Kind::ChooseRig, twin.clone()).unwrap();
        book.write(Kind::Catch, with(catch(800.0, 16.0), at)).unwrap();
        book.pass(1.0);
        book
    };
    let both = json!({ "a_kpa": 100.0, "b_kpa": 50.0 });
    for (a, b, stale) in
        [(100.0, 55.0, false), (100.0, 55.6, true), (100.0, 45.0, false), (100.0, 44.4, true), (111.0, 50.0, true)]
    {
        let mut book = proved(both.clone());
        book.write(Kind::SetUp, json!({ "pot_kpa": a, "b_kpa": b })).unwrap();
        assert_eq!(troubles(&book, GateName::Ratio) == ["stale-pressure"], stale, "{a} {b}");
    }
    // A try that says nothing of B leaves it unknown, until one says it.
    let mut book = proved(both.clone());
    book.write(Kind::SetUp, json!({ "pot_kpa": 100.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure-unknown"]);
    held(start(&mut book), "pressure of B");
    book.pass(1.0).write(Kind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": 50.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), Vec::<String>::new());
    // Caught without a pressure of B said: at the one set before, else at none that is known.
    let mut book = proved(json!({ "a_kpa": 100.0 }));
    book.write(Kind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": 50.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure-unknown"]);
    book.pass(1.0).write(Kind::Catch, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
    book.pass(1.0).write(Kind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": 60.0 })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-pressure"]);
    // B's pot has the plate of its rig.
    let refusal = book.write(Kind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": 600.0 })).unwrap_err();
    assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("over-rating", Some("b_kpa")));
    let refusal = book.write(Kind::SetUp, json!({ "pot_kpa": 100.0, "b_kpa": -1.0 })).unwrap_err();
    assert_eq!((refusal.why, refusal.field.as_deref()), (Why::BadInput, Some("b_kpa")));
}

/// What was caught for its flow was caught at a pressure that was set for it.
#[test]
fn a_flow_caught_at_another_pressure_makes_a_proof_stale() {
    for (kpa, stale) in [(110.0, false), (111.0, true)] {
        let mut book = at_gun(gel(json!({})));
        book.write(Kind::ChooseRig, json!({ "rig": Uuid::from_u128(30), "fitted": pot_rig() })).unwrap();
        book.write(Kind::Catch, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
        book.pass(1.0);
        book.write(Kind::FlowCatch, json!({ "pot_kpa": kpa, "caught_ml": 200.0, "caught_watch_s": 60.0 })).unwrap();
        assert_eq!(troubles(&book, GateName::Ratio) == ["stale-pressure"], stale, "{kpa}");
    }
}

/// Nothing goes to the gun of a pot that holds no hardener, or whose age nobody can reckon.
#[test]
fn a_fill_waits_for_hardener_and_for_a_known_life() {
    let fill = json!({ "charge": POT, "into": "gun_cup", "fill_ml": 400.0 });
    let mut book = ready(sheet());
    open(&mut book, POT);
    book.pour("base", 1900.0).unwrap();
    held(book.write(Kind::Fill, fill.clone()), "holds no hardener yet");
    // A paint without hardener is filled as it is.
    let mut plain = ready(with(sheet(), json!({ "has_hardener": false, "basis": null, "ratio": null })));
    open(&mut plain, POT);
    plain.pour("base", 1900.0).unwrap();
    plain.write(Kind::Fill, fill.clone()).unwrap();
    // Without a pot life a lead may release it, as for spraying.
    let mut ageless = ready(with(sheet(), json!({ "pot_life_s": null })));
    ageless.mixed(328.0);
    ageless.pass(25.0);
    held(ageless.write(Kind::Fill, fill.clone()), "states no pot life");
    release_pot(&mut ageless, "life").unwrap();
    ageless.write(Kind::Fill, fill).unwrap();
}

/// A lot of which neither the stores nor the entry say anything is not in date: nobody knows.
#[test]
fn a_lot_nobody_knows_holds() {
    let items = json!([{ "key": "lot_base", "group": "material", "text": "Base lot", "what": { "kind": "lot", "component": "base" }, "before": "combine" }]);
    let mut book = Book::begun_with(sheet(), json!({ "items": items }));
    book.ready();
    let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1" });
    force(&mut book, Kind::TakeLot, json!({ "component": "base", "lot": lot }));
    assert_eq!(troubles(&book, GateName::Lots), ["unknown-lot"]);
    open(&mut book, POT);
    book.pour("base", 1900.0).unwrap();
    held(book.write(Kind::Combine, on()), "P-1");
    // Combined all the same: marked where the rules asked it, and not in a book begun before they did.
    force(&mut book, Kind::Combine, on());
    assert_eq!(codes(&book), ["combined-with-lot-held"]);
    book.entries[0].payload["rules"] = json!(0);
    assert_eq!(codes(&book), Vec::<String>::new());
    assert_eq!(troubles(&book, GateName::Lots), ["unknown-lot"], "an open one is held by the rules of today");
}

#[test]
fn a_stale_proof_that_was_sprayed_on_is_marked_and_a_release_is_of_one_proof() {
    let mut book = at_gun(gel(json!({ "film_proof": "not_asked" })));
    book.write(Kind::Catch, catch(800.0, 16.0)).unwrap();
    start(&mut book).unwrap();
    book.pass(12.0 * 60.0 + 1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), ["ratio-not-proved"]);
    book.pass(1.0);
    release_pot(&mut book, "ratio").unwrap();
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    assert_eq!(codes(&book), ["ratio-not-proved"]);
    book.write(Kind::Catch, catch(800.0, 16.0)).unwrap();
    book.pass(12.0 * 60.0 + 1.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["stale-time"], "the release was of the first proof");
}

fn two_zones() -> Book {
    let zones = json!([{ "id": HULL, "name": "hull" }, { "id": DECK, "name": "deck" }]);
    let mut book = Book::begun_with(sheet(), json!({ "zones": zones }));
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book
}

fn close(book: &mut Book) {
    book.write(Kind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
}

#[test]
fn every_zone_is_asked_for_itself() {
    let mut book = two_zones();
    for (kind, payload, field) in [(Kind::Pass, pass_on(&[]), "zones"), (Kind::Comb, comb_on(None, 4.0, "total"), "zone")] {
        let refusal = book.write(kind, payload).unwrap_err();
        assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("which-zone", Some(field)));
    }
    book.write(Kind::Pass, pass_on(&[HULL, DECK])).unwrap();
    for _ in 0..3 {
        book.write(Kind::Comb, comb_on(Some(DECK), 1.0, "total")).unwrap();
    }
    for _ in 0..3 {
        book.write(Kind::Comb, comb_on(Some(HULL), 4.0, "total")).unwrap();
    }
    close(&mut book);
    // The last comb is in; the deck is not, and a good reading elsewhere does not mend it.
    let film: Vec<_> = holds(&book).into_iter().filter(|h| h.gate == GateName::Film).collect();
    assert_eq!(film.len(), 1);
    assert_eq!((film[0].trouble.as_str(), film[0].item.clone()), ("under", Some(DECK.to_string())));
    // Of several readings of one pass the worst counts.
    let mut book = two_zones();
    book.write(Kind::Pass, pass_on(&[HULL])).unwrap();
    for tooth in [4.0, 1.0, 4.0] {
        book.write(Kind::Comb, comb_on(Some(HULL), tooth, "total")).unwrap();
    }
    close(&mut book);
    let of =
        |zone: Uuid| holds(&book).into_iter().filter(|h| h.item == Some(zone.to_string())).map(|h| h.trouble).collect::<Vec<_>>();
    assert_eq!((of(HULL), of(DECK)), (vec!["under".to_string()], vec!["not-proved".to_string()]));
}

#[test]
fn a_pass_nobody_measured_makes_a_total_open() {
    let read = |book: &Book| {
        let zone = book.record().film_by_zone(None).remove(0);
        let newest = zone.reads.last().unwrap().clone();
        ((newest.total_um.lo / MIL).round(), (newest.total_um.hi / MIL).round(), zone.open_ended)
    };
    // Two passes, this pass read after each: 2–3 and 2–3 mil are 4–6.
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(Kind::Comb, comb_on(Some(HULL), 2.0, "this_pass")).unwrap();
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    assert!(book.record().film_by_zone(None)[0].open_ended, "the second pass is not read yet");
    book.pass(1.0).write(Kind::Comb, comb_on(None, 2.0, "this_pass")).unwrap();
    assert_eq!(read(&book), (4.0, 6.0, false));
    // A third one nobody read, then a fourth: only what was measured adds, and the total is open.
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(Kind::Comb, comb_on(None, 1.0, "this_pass")).unwrap();
    assert_eq!(read(&book), (5.0, 8.0, true));
    close(&mut book);
    assert_eq!(troubles(&book, GateName::Film), ["not-proved"]);
    // A reading of all that is wet closes it again.
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    for _ in 0..2 {
        book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    }
    book.pass(1.0).write(Kind::Comb, comb_on(None, 4.0, "total")).unwrap();
    assert_eq!(read(&book), (4.0, 5.0, false));
}

/// The total before a reading is that of an earlier pass, not the last one read after this one.
#[test]
fn two_readings_of_one_pass_do_not_add_up() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    for _ in 0..2 {
        book.pass(1.0).write(Kind::Comb, comb_on(None, 2.0, "this_pass")).unwrap();
    }
    let zone = book.record().film_by_zone(None).remove(0);
    assert_eq!(zone.reads.iter().map(|r| (r.total_um.lo / MIL).round()).collect::<Vec<_>>(), [2.0, 2.0]);
    // With totals, the pass alone is the total less that of the pass before.
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).write(Kind::Comb, comb_on(None, 5.0, "total")).unwrap();
    let zone = book.record().film_by_zone(None).remove(0);
    let last = zone.reads.last().unwrap();
    assert_eq!(((last.pass_um.lo / MIL).round(), (last.pass_um.hi / MIL).round()), (2.0, 4.0));
}

#[test]
fn a_total_that_falls_is_named() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).comb(5.0).unwrap();
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    book.pass(1.0).comb(4.0).unwrap();
    assert_eq!(codes(&book), Vec::<String>::new(), "4 to 5 mil after 5 to 6 mil may be the same film");
    book.pass(1.0).comb(3.0).unwrap();
    assert_eq!(codes(&book), ["film-fell"]);
}

#[test]
fn the_hose_of_the_rig_is_a_vessel_though_no_plan_named_one() {
    let mut book = Book::with_rig(sheet(), pot_rig());
    book.mixed(328.0);
    assert!(book.record().line(book.now).is_none());
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    let line = book.record().line(book.now).expect("mixed paint stands in the hose");
    assert!((line.hose_ml - 543.0).abs() < 1.0, "25 ft of 3/8 in");
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    book.film(4.0);
    close(&mut book);
    let seen = book.seen();
    assert_eq!(book.write(Kind::Sign, seen).unwrap_err().code, "line-not-flushed");
    // At the very instant the later entry of the two counts.
    book.write(Kind::Flush, json!({})).unwrap();
    assert!(book.record().line(book.now).is_none());
    let seen = book.seen();
    book.write(Kind::Sign, seen).unwrap();
}

#[test]
fn a_flush_before_the_paint_at_the_same_instant_flushes_nothing_of_it() {
    let mut book = Book::with_rig(sheet(), pot_rig());
    book.mixed(328.0);
    book.pass(25.0);
    force(&mut book, Kind::Flush, json!({}));
    book.write(Kind::StartSpraying, on()).unwrap();
    assert!(book.record().line(book.now).is_some());
    // What only went into a gun's cup went through no hose.
    let mut book = Book::with_rig(sheet(), pot_rig());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::Fill, json!({ "charge": POT, "into": "gun_cup", "fill_ml": 400.0 })).unwrap();
    book.write(Kind::StartSpraying, on()).unwrap();
    assert!(book.record().line(book.now).is_none());
}

/// Six hours at 20 °C are twelve at 10 °C: read at the part after the coat beneath was signed, the cold counts.
#[test]
fn recoat_is_judged_by_what_was_read_since() {
    let mut book = ready(sheet());
    let ended = book.now - SignedDuration::from_hours(7);
    let warm = Some(SurfaceRange { coldest_c: 20.0, hottest_c: 20.0 });
    assert!(over_a_coat(&book, Some(ended), warm).is_empty());
    book.write(Kind::Conditions, json!({ "air_c": 11.0, "surface_c": 10.0, "material_c": 20.0, "rh_pct": 40.0 })).unwrap();
    assert_eq!(over_a_coat(&book, Some(ended), warm), [("too-early".to_string(), false)]);
    // Hot since, the latest comes sooner: a day at 20 °C is half a day at 30 °C.
    let mut book = ready(sheet());
    let ended = book.now - SignedDuration::from_hours(13);
    assert!(over_a_coat(&book, Some(ended), warm).is_empty());
    book.write(Kind::Conditions, json!({ "air_c": 31.0, "surface_c": 30.0, "material_c": 25.0, "rh_pct": 40.0 })).unwrap();
    assert_eq!(over_a_coat(&book, Some(ended), warm), [("past-latest".to_string(), false)]);
}

/// Recoat is judged until spraying begins, and not after its first pass.
#[test]
fn recoat_is_judged_only_until_spraying_begins() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    let ended = book.now - SignedDuration::from_hours(5);
    let at_20 = Some(SurfaceRange { coldest_c: 20.0, hottest_c: 20.0 });
    assert_eq!(over_a_coat(&book, Some(ended), at_20), [("too-early".to_string(), false)]);
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    assert!(over_a_coat(&book, Some(ended), at_20).is_empty());
}

/// With no reading of the surface the shortest stated latest and the longest stated earliest stand in.
#[test]
fn recoat_without_a_reading_takes_the_safe_side() {
    let two = json!({ "recoat_min_s": 21_600.0, "recoat_max_s": 172_800.0, "recoat_at_c": 20.0,
        "times": [{ "at_c": 30.0, "recoat_min_s": 10_800.0, "recoat_max_s": 86_400.0 }] });
    let sheet: Sheet = serde_json::from_value(with(sheet(), two)).unwrap();
    let ended: jiff::Timestamp = "2026-05-04T08:00:00Z".parse().unwrap();
    let window = level_keel_core::schedule::recoat(&sheet, ended, None);
    assert_eq!(window.earliest.unwrap().duration_since(ended).as_secs(), 21_600);
    assert_eq!(window.latest.unwrap().duration_since(ended).as_secs(), 86_400);
}

// ---- How far past its limit, and whether it was reached at all.

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
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    for _ in 0..3 {
        book.write(Kind::Comb, comb_on(None, 1.0, "total")).unwrap();
    }
    assert_eq!(troubles(&book, GateName::Film), Vec::<String>::new(), "while the work goes on it is not at its film yet");
    close(&mut book);
    let film = one(&book, GateName::Film);
    assert!(film.trouble == "under" && film.reached, "{film:?}");
    near(film.badness, 2.0 / 3.0, 1e-6);
}

/// What was never read or done is worse than any reading, and only waits to be done.
#[test]
fn what_was_never_read_is_worse_than_any_reading_and_not_reached() {
    let unread = |hold: Hold| assert!(hold.badness >= 1e6 && !hold.reached, "{hold:?}");
    unread(one(&at_gun(gel(json!({}))), GateName::Ratio));
    let mut book = opened(sheet());
    book.pour("base", 1900.0).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.pour("hardener", 2228.0).unwrap();
    unread(one(&book, GateName::Induction));
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
    book.write(Kind::Pass, pass_on(&[])).unwrap();
    close(&mut book);
    unread(one(&book, GateName::Film));
    // Two of three readings are a reading: it was reached.
    for _ in 0..2 {
        book.comb(4.0).unwrap();
    }
    let few = one(&book, GateName::Film);
    assert!(few.reached && few.trouble == "too-few", "{few:?}");
    near(few.badness, 1.0, 1e-9);
    // Nothing sprayed beneath only waits; too early for the next coat was reckoned.
    let mut record = ready(sheet()).record();
    let primer: Sheet = serde_json::from_value(sheet()).unwrap();
    let link = CoatLink { batch: Uuid::from_u128(90), number: 11, coat: "primer".into(), product: "Example primer".into() };
    let now = record.conditions[0].at;
    for (ended, reached) in [(None, false), (Some(now - SignedDuration::from_hours(1)), true)] {
        let times = RecoatTimes::of_sheet(&primer);
        record.beside.beneath = Some(CoatBeneath { link: link.clone(), ended, times, surface: None, prepare: None });
        let all = gates::all(&record, now, Prefs::METRIC);
        let recoat = all.iter().find(|h| h.gate == GateName::Recoat).expect("held");
        assert_eq!(recoat.reached, reached, "{recoat:?}");
    }
}

/// A combining stands though its pours were struck: hardener went in, and nobody says how much.
#[test]
fn a_combining_without_its_pours_is_not_measured() {
    let mut book = opened(sheet());
    let base = book.pour("base", 1900.0).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.write(Kind::Strike, json!({ "entry": base, "reason": "that was another pot" })).unwrap();
    assert_eq!(troubles(&book, GateName::Ratio), ["not-measured"]);
}

/// A tip that was fitted before the catch, or at its instant, was caught with.
#[test]
fn what_was_exchanged_before_the_catch_leaves_its_proof() {
    let mut book = at_gun(gel(json!({})));
    book.pass(10.0).write(Kind::Catch, with(catch(800.0, 16.0), json!({ "a_kpa": 100.0 }))).unwrap();
    let caught = book.now;
    let stale = |minutes: i64| {
        let mut record = book.record();
        let at = caught + SignedDuration::from_mins(minutes);
        record.beside.rig_exchanged = vec![Exchanged { at, what: "another tip is fitted".into() }];
        let all = gates::all(&record, caught + SignedDuration::from_mins(20), Prefs::METRIC);
        all.iter().any(|h| h.trouble == "stale-exchange")
    };
    assert_eq!([-5, 0, 5, 25].map(stale), [false, false, true, false], "and what is yet to come is none");
}

/// Too much stays too much, though a later pass left the total open; what is in is go at the instant it was read.
#[test]
fn film_is_judged_as_far_as_it_is_known() {
    let spraying = |changes: Value| {
        let mut book = ready(with(sheet(), changes));
        book.mixed(328.0);
        book.pass(25.0).write(Kind::StartSpraying, on()).unwrap();
        book.write(Kind::Pass, pass_on(&[])).unwrap();
        book.pass(1.0);
        book
    };
    let mut book = spraying(json!({}));
    book.comb(7.0).unwrap();
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    assert_eq!(troubles(&book, GateName::Film), ["over"]);
    let mut book = spraying(json!({}));
    book.film(4.0);
    assert_eq!(gates::film_at(&book.record(), book.now, Prefs::METRIC), [Answer::Go]);
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    let open = gates::film_at(&book.record(), book.now, Prefs::METRIC);
    assert!(matches!(open[..], [Answer::NotReached(GateName::Film, _)]), "{open:?}");
    // 2 to 3 mil may be the least of 3 to 6, and may not: it holds once the work is over, and waits until then.
    let mut book = spraying(json!({}));
    book.film(2.0);
    assert_eq!(troubles(&book, GateName::Film), Vec::<String>::new());
    close(&mut book);
    assert_eq!(troubles(&book, GateName::Film), ["cannot-tell"]);
    // By look: as of the look it was right, whatever was sprayed after it.
    let mut book = spraying(json!({ "film_proof": "look" }));
    book.write(Kind::FilmLook, json!({ "good": true })).unwrap();
    let looked = book.now;
    book.pass(1.0).write(Kind::Pass, pass_on(&[])).unwrap();
    assert_eq!(gates::film_at(&book.record(), looked, Prefs::METRIC), [Answer::Go]);
    let later = gates::film_at(&book.record(), book.now, Prefs::METRIC);
    assert!(matches!(later[..], [Answer::NotReached(GateName::Film, _)]), "another film: {later:?}");
}

// ---- What was before.

/// A batch begun before the rules had a version gets holds by today's, and no deviation for what was not asked then.
#[test]
fn an_older_open_batch_is_held_by_todays_rules_and_marked_by_its_own() {
    let mut book = Book::begun_with(sheet(), json!({ "rules": 0 }));
    book.ready();
    open(&mut book, POT);
    book.pour("base", 1900.0).unwrap();
    book.write(Kind::Combine, on()).unwrap();
    book.write(Kind::Stirred, on()).unwrap();
    book.pass(25.0);
    assert_eq!(troubles(&book, GateName::Ratio), ["not-measured"]);
    force(&mut book, Kind::StartSpraying, on());
    book.write(Kind::Conditions, conditions(13.0, 65.0)).unwrap();
    force(&mut book, Kind::Pass, pass_on(&[]));
    assert_eq!(codes(&book), Vec::<String>::new());
    let today = book.entries[0].payload.clone();
    book.entries[0].payload = with(today, json!({ "rules": RULES }));
    assert_eq!(codes(&book), ["ratio-not-proved", "sprayed-on-hold"]);
}

/// What was signed stays signed: no rule of today adds a deviation or a hold to it, and what was answered stays answered.
#[test]
fn a_signed_batch_keeps_its_deviations_and_holds_nothing() {
    let mut book = ready(sheet());
    book.mixed(328.0);
    book.pass(5.0).write(Kind::Pass, pass_on(&[])).unwrap();
    let pass = book.record().passes[0].entry;
    for code in codes(&book) {
        book.write(Kind::Answer, json!({ "entry": pass, "code": code, "text": "a test card" })).unwrap();
    }
    close(&mut book);
    force(&mut book, Kind::Sign, json!({ "seen_seq": 1 }));
    let record = book.record();
    assert_eq!(record.deviations.len(), 2);
    assert!(record.deviations.iter().all(|d| d.answer.is_some()));
    assert!(holds(&book).is_empty(), "film was never read, and nobody asks any more");
    // Another rule that would not find them any more changes nothing: they are kept as they were answered.
    let about = record.answers[0].it.about.clone().unwrap();
    assert_eq!(record.deviations[0].text, about);
    book.entries[0].payload["sheet"]["induction_s"] = Value::Null;
    let kept = book.record();
    assert_eq!(kept.deviations.len(), 2);
    assert!(kept.deviations.iter().any(|d| d.code == "sprayed-inducting" && d.text.contains("during induction")));
}

/// A lot expired or in quarantine is a stop wherever it is judged.
#[test]
fn worst_first_and_stops_before_holds() {
    let stand: LotStand = serde_json::from_value(json!({ "received": true, "expires_at": "2026-05-01T00:00:00Z" })).unwrap();
    let items = json!([{ "key": "lot_base", "group": "material", "text": "Base lot", "what": { "kind": "lot", "component": "base" }, "before": "combine" }]);
    let mut book = Book::begun_with(sheet(), json!({ "items": items }));
    book.ready();
    let lot = json!({ "id": Uuid::from_u128(61), "code": "P-1", "stand": stand });
    force(&mut book, Kind::TakeLot, json!({ "component": "base", "lot": lot }));
    book.write(Kind::Conditions, conditions(16.5, 65.0)).unwrap();
    let all = holds(&book);
    assert_eq!(all[0].severity, Severity::Stop);
    assert!(all.iter().skip(1).all(|h| h.severity == Severity::Hold));
}
