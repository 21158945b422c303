//! Acceptance of a batch: spots drawn by lot and read, the gauge on its foil, what it takes to accept, and who may.

use crate::book::*;
use jiff::SignedDuration;
use level_keel_core::acceptance::AcceptBy;
use level_keel_core::acceptance::spots::SPOTS_OF_AREA;
use level_keel_core::batch::accepting::Unproved;
use level_keel_core::batch::gates::{self, GateName, Hold};
use level_keel_core::batch::view::{AcceptView, Viewer};
use level_keel_core::batch::{EntryKind, whole};
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::{Refusal, Why};
use level_keel_core::verdict::Verdict;
use serde_json::{Value, json};
use uuid::Uuid;

const HULL: Uuid = Uuid::from_u128(3);

/// The work signed, on a sheet that is accepted by these.
fn signed(by: Value, changes: Value) -> Book {
    let sheet = with(with(sheet(), json!({ "accepted_by": by })), changes);
    let mut book = Book::begun_with(sheet, json!({ "substrate": "sanded_steel" }));
    book.ready();
    book.mixed(328.0);
    book.sprayed();
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
    book
}

fn foil(book: &mut Book, um: f64) {
    book.pass(1.0)
        .write(EntryKind::GaugeFoil, json!({ "gauge": "Gauge 1", "foil_um": 127.0, "readings_um": [um], "division_um": 1.0 }))
        .unwrap();
}

fn plan(book: &mut Book, changes: Value) -> Result<Uuid, Refusal> {
    let plan = json!({ "by": "spots", "dry_min_um": 110.0, "dry_max_um": 150.0 });
    book.pass(1.0).write_as(Role::Inspector, EntryKind::PlanAcceptance, with(plan, changes))
}

fn spot(area_no: u32, spot_no: u32, um: [f64; 3]) -> Value {
    json!({ "gauge": "gauge 1 ", "division_um": 1.0, "spots": [{ "area_no": area_no, "spot_no": spot_no, "readings_um": um }] })
}

fn every_spot(book: &mut Book, um: f64) {
    for drawn in book.record().spots_now() {
        book.pass(0.5).write(EntryKind::GaugeRead, spot(drawn.area_no, drawn.spot_no, [um - 1.0, um, um + 1.0])).unwrap();
    }
}

fn verdict(book: &Book) -> Option<Verdict> {
    Case::alone(&book.record()).by_gauge().unwrap().verdict()
}

fn unproved(book: &Book) -> Vec<Unproved> {
    Case::alone(&book.record()).by_gauge().unwrap().unproved
}

fn accept(book: &mut Book, role: Role) -> Result<Uuid, Refusal> {
    let seen = book.seen();
    book.write_as(role, EntryKind::Accept, seen)
}

fn held(book: &Book) -> Vec<Hold> {
    let all = gates::all(&Case::alone(&book.record()), book.now, Prefs::METRIC);
    all.into_iter().filter(|h| h.gate == GateName::Acceptance && h.released.is_none()).collect()
}

fn seen(book: &Book) -> AcceptView {
    let viewer = Viewer { writer: writer(Role::Inspector), comb_um: vec![MIL], scale_g: 1.0 };
    whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("a begun batch").close.accept.unwrap()
}

#[test]
fn spots_are_drawn_read_and_accepted() {
    let mut book = signed(json!(["spots"]), json!({}));
    refused(accept(&mut book, Role::Inspector), "hold");
    refused(
        book.write(EntryKind::PlanAcceptance, json!({ "by": "spots", "dry_min_um": 110.0, "dry_max_um": 150.0 })),
        "not-your-role",
    );
    foil(&mut book, 126.0);
    plan(&mut book, json!({})).unwrap();
    let record = book.record();
    let drawn = &record.acceptance_plan.as_ref().unwrap().it;
    // 10 m² are 108 ft²: two areas.
    assert_eq!((drawn.spots.len(), drawn.level), (2 * SPOTS_OF_AREA, Some(3)));
    assert!(drawn.spots.iter().all(|s| s.zone == Some(HULL)) && drawn.generator.contains("PCG64"));
    refused(accept(&mut book, Role::Inspector), "hold");
    assert_eq!(held(&book)[0].trouble, "under-way");
    every_spot(&mut book, 121.0);
    // The figures are in; the gauge has not been on its foil since.
    assert_eq!((verdict(&book), unproved(&book)), (None, vec![Unproved::GaugeAwaits]));
    foil(&mut book, 128.0);
    assert_eq!((verdict(&book), unproved(&book)), (Some(Verdict::In), vec![]));
    accept(&mut book, Role::Inspector).unwrap();
    assert_eq!(book.record().accepted_by, [AcceptBy::Spots]);
    // The card is closed: no reading more, and none struck.
    refused(book.write(EntryKind::GaugeRead, spot(1, 1, [121.0; 3])), "accepted");
    // Reopened, both signatures are void, and what it was accepted by with them.
    book.write_as(Role::Lead, EntryKind::Reopen, json!({ "reason": "a run was seen" })).unwrap();
    assert!(book.record().accepted_by.is_empty() && book.record().signature.is_none());
}

/// What would bring a reading in that is not in: another gauge, a foil read wrong, none before, a spot read twice, a spot moved after it was
/// read.
#[test]
fn a_gauge_that_was_not_verified_proves_nothing() {
    let mut book = signed(json!(["spots"]), json!({}));
    plan(&mut book, json!({})).unwrap();
    every_spot(&mut book, 121.0);
    assert_eq!((verdict(&book), unproved(&book)), (Some(Verdict::CannotTell), vec![Unproved::GaugeNotBefore]));
    foil(&mut book, 126.0);
    assert_eq!(verdict(&book), Some(Verdict::CannotTell), "a foil afterwards alone is not enough");
    let refusal = refused(accept(&mut book, Role::Inspector), "hold");
    assert!(refusal.text.contains("on no foil before"), "{}", refusal.text);
    let mut book = signed(json!(["spots"]), json!({}));
    foil(&mut book, 126.0);
    plan(&mut book, json!({})).unwrap();
    every_spot(&mut book, 121.0);
    foil(&mut book, 118.0);
    assert_eq!((verdict(&book), unproved(&book)), (Some(Verdict::CannotTell), vec![Unproved::GaugeInDoubt]));
    // Read right again afterwards it still was wrong between: what was read is read again.
    foil(&mut book, 127.0);
    assert_eq!(unproved(&book), [Unproved::GaugeInDoubt]);
    refused(book.write(EntryKind::GaugeRead, spot(1, 1, [121.0; 3])), "spot-read");
    refused(book.write(EntryKind::MoveSpot, json!({ "area_no": 1, "spot_no": 1, "reason": "thin there" })), "spot-read");
    refused(book.write(EntryKind::GaugeRead, spot(9, 1, [121.0; 3])), "unknown-spot");
    refused(book.write(EntryKind::GaugeRead, json!({ "gauge": "Gauge 1", "division_um": 1.0, "spots": [{ "area_no": 1, "spot_no": 2, "readings_um": [121.0, 120.0] }] })), "too-few");
    // Struck with its reason by who read it, after the signature, it may be read again.
    let read = book.record().spot_readings(1, 1).unwrap().0.entry;
    book.write(EntryKind::Strike, json!({ "entry": read, "reason": "gauge was off" })).unwrap();
    book.pass(1.0).write(EntryKind::GaugeRead, spot(1, 1, [121.0; 3])).unwrap();
    // What is of the work is not struck after the signature.
    let comb = book.record().combs[0].entry;
    refused(book.write(EntryKind::Strike, json!({ "entry": comb, "reason": "x" })), "signed");
}

#[test]
fn thin_and_heavy_areas_say_what_to_do() {
    let read = |um: f64| {
        let mut book = signed(json!(["spots"]), json!({}));
        foil(&mut book, 126.0);
        plan(&mut book, json!({})).unwrap();
        every_spot(&mut book, um);
        foil(&mut book, 126.0);
        book
    };
    let mut thin = read(100.0);
    assert_eq!(verdict(&thin), Some(Verdict::Low));
    let view = seen(&thin);
    let advice = view.gauge.advice.join(" ");
    assert!(
        advice.contains("Area 1 is thin") && advice.contains("one more coat") && advice.contains("its mean is 100\u{a0}µm"),
        "{advice}"
    );
    assert_eq!(view.methods[0].word, "out");
    let refusal = refused(accept(&mut thin, Role::Inspector), "hold");
    assert_eq!(refusal.why, Why::Hold);
    // A lead lets it stand with a reason; an inspector may not.
    let release = |book: &Book| with(json!({ "gate": "acceptance", "reason": "owner agrees, inside only" }), book.seen());
    let body = release(&thin);
    refused(thin.write_as(Role::Inspector, EntryKind::Release, body), "not-your-role");
    let body = release(&thin);
    thin.write_as(Role::Lead, EntryKind::Release, body).unwrap();
    accept(&mut thin, Role::Inspector).unwrap();
    assert!(thin.record().accepted_by.is_empty(), "it was not accepted by spots");
    let heavy = read(170.0);
    assert_eq!(verdict(&heavy), Some(Verdict::High));
    assert!(seen(&heavy).gauge.advice[0].contains("sand back"), "{:?}", seen(&heavy).gauge.advice);
    // One spot at 86 among four at 121: out by its own limit, though the mean is in.
    let mut one = signed(json!(["spots"]), json!({}));
    foil(&mut one, 126.0);
    plan(&mut one, json!({})).unwrap();
    one.write(EntryKind::GaugeRead, spot(1, 1, [86.0; 3])).unwrap();
    assert_eq!(verdict(&one), Some(Verdict::Low), "it fails though the others are not read yet");
    let next = seen(&one).gauge.next.unwrap();
    assert_eq!((next.area_no, next.spot_no), (1, 2));
}

/// Steel that was blasted reads 25 µm bare: 121 µm read on it are 96. Nobody read it bare and nobody said how rough it is: not proved.
#[test]
fn what_is_not_of_this_coat_is_taken_off() {
    let sheet = with(sheet(), json!({ "accepted_by": ["spots"] }));
    let begun = |substrate: Value| {
        let mut book = Book::begun_with(sheet.clone(), json!({ "substrate": substrate }));
        book.ready();
        book.mixed(328.0);
        book.sprayed();
        foil(&mut book, 126.0);
        book
    };
    let mut book = begun(json!("blasted_steel"));
    plan(&mut book, json!({})).unwrap();
    every_spot(&mut book, 121.0);
    foil(&mut book, 126.0);
    assert_eq!((verdict(&book), unproved(&book)), (Some(Verdict::CannotTell), vec![Unproved::BareNotRead]));
    book.write(EntryKind::GaugeBare, json!({ "gauge": "Gauge 1", "division_um": 1.0, "bare_um": [24.0, 25.0, 26.0] })).unwrap();
    assert_eq!(verdict(&book), Some(Verdict::Low));
    let mean = Case::alone(&book.record()).by_gauge().unwrap().areas[0].judged.mean_um.unwrap();
    assert!((mean.value - 96.0).abs() < 1e-9 && (mean.hi - mean.lo - 2.0).abs() < 1e-9, "a division of each: {mean:?}");
    let mut coarse = begun(json!("blasted_steel"));
    plan(&mut coarse, json!({ "roughness": "fine" })).unwrap();
    every_spot(&mut coarse, 125.0);
    foil(&mut coarse, 126.0);
    assert_eq!(verdict(&coarse), Some(Verdict::In), "125 less 10");
    for coated in ["painted_bodywork", "already_coated"] {
        let mut painted = begun(json!(coated));
        plan(&mut painted, json!({})).unwrap();
        assert!(seen(&painted).gauge.beneath, "the form asks what lies beneath");
        every_spot(&mut painted, 121.0);
        foil(&mut painted, 126.0);
        assert_eq!((verdict(&painted), unproved(&painted)), (Some(Verdict::CannotTell), vec![Unproved::BeneathNotSaid]));
    }
    // Where nobody said what it is, it may be blasted or painted: nothing is proved.
    let mut unsaid = begun(Value::Null);
    plan(&mut unsaid, json!({})).unwrap();
    every_spot(&mut unsaid, 121.0);
    foil(&mut unsaid, 126.0);
    assert_eq!((verdict(&unsaid), unproved(&unsaid)), (Some(Verdict::CannotTell), vec![Unproved::SurfaceNotSaid]));
    let mut over = begun(json!("already_coated"));
    refused(plan(&mut over, json!({ "beneath_min_um": 60.0 })), "missing");
    plan(&mut over, json!({})).unwrap();
    every_spot(&mut over, 190.0);
    foil(&mut over, 126.0);
    assert_eq!(unproved(&over), [Unproved::BeneathNotSaid]);
    plan(&mut over, json!({ "beneath_min_um": 60.0, "beneath_max_um": 70.0 })).unwrap();
    assert_eq!(verdict(&over), None, "another plan draws other spots, and they are read");
    every_spot(&mut over, 190.0);
    foil(&mut over, 126.0);
    assert_eq!(verdict(&over), Some(Verdict::In), "190 less 60 to 70 is 120 to 130");
}

#[test]
fn eighty_twenty_and_least_and_most_of_single_readings() {
    let mut book = signed(json!(["eighty_twenty"]), json!({}));
    foil(&mut book, 126.0);
    plan(&mut book, json!({ "by": "eighty_twenty", "dry_min_um": 160.0, "dry_max_um": null })).unwrap();
    let read = |um: &[f64]| json!({ "gauge": "Gauge 1", "division_um": 1.0, "reads": [{ "zone": HULL, "readings_um": um }] });
    let ten = [162.0, 171.0, 158.0, 149.0, 166.0, 174.0, 160.0, 155.0, 168.0, 161.0];
    book.pass(1.0).write(EntryKind::GaugeRead, read(&ten)).unwrap();
    // 10 m² ask fifteen.
    assert_eq!((verdict(&book), seen(&book).gauge.count_line.as_str()), (None, "10 of 15 readings"));
    book.pass(1.0).write(EntryKind::GaugeRead, read(&[170.0; 5])).unwrap();
    foil(&mut book, 126.0);
    assert_eq!(verdict(&book), Some(Verdict::Low), "three of fifteen are a fifth, and one more may be");
    assert!(seen(&book).gauge.advice[0].contains("3 of 15 under 160\u{a0}µm"), "{:?}", seen(&book).gauge.advice);
    for wrong in [json!([-4.0]), json!([20_000.0])] {
        let payload = json!({ "gauge": "Gauge 1", "division_um": 1.0, "reads": [{ "readings_um": wrong }] });
        assert_eq!(
            refused(book.write(EntryKind::GaugeRead, payload), "outside-limits").field.as_deref(),
            Some("reads[0].readings_um[0]")
        );
    }
    let elsewhere =
        json!({ "gauge": "Gauge 1", "division_um": 1.0, "reads": [{ "readings_um": [120.0], "zone": Uuid::from_u128(77) }] });
    refused(book.write(EntryKind::GaugeRead, elsewhere), "unknown-zone");
    // Dated before the coat was on.
    let when = book.now;
    book.now = when - SignedDuration::from_hours(3);
    refused(book.write(EntryKind::GaugeRead, read(&[120.0])), "before-the-coat");
    book.now = when;
    plan(&mut book, json!({ "by": "least_most", "dry_min_um": 140.0, "dry_max_um": 180.0 })).unwrap();
    assert_eq!(verdict(&book), Some(Verdict::In), "single readings stay with the part, whatever they are judged against");
    // The sheet asks 80/20: another way by gauge stands beside it and not in its place.
    let stands: Vec<_> = seen(&book).methods.iter().map(|m| (m.by, m.verdict)).collect();
    assert_eq!(stands, [(AcceptBy::EightyTwenty, None), (AcceptBy::LeastMost, Some(Verdict::In))]);
    refused(accept(&mut book, Role::Inspector), "hold");
    refused(plan(&mut book, json!({ "by": "look" })), "not-by-gauge");
    refused(plan(&mut book, json!({ "dry_max_um": 100.0 })), "wrong-way-round");
    refused(plan(&mut book, json!({ "dry_max_um": null })), "missing");
    refused(plan(&mut book, json!({ "level": 6 })), "outside-limits");
}

/// Stages of the sheet, each looked at with its photo; what is not right is mended and looked at again.
#[test]
fn a_coat_is_looked_at_at_its_stages() {
    let stages = json!({ "look_stages": ["ground_colour", "dry_to_touch"], "film_proof": "look", "wet_um": 4.0 * MIL });
    let sheet = with(with(sheet(), json!({ "accepted_by": ["look"] })), stages);
    let mut book = Book::begun(sheet);
    book.ready();
    book.mixed(328.0);
    refused(book.write(EntryKind::StageLook, json!({ "stage": "ground_colour", "good": true })), "before-the-coat");
    book.sprayed();
    refused(book.write(EntryKind::StageLook, json!({ "stage": "ground_colour", "good": false })), "missing");
    refused(
        book.write(EntryKind::StageLook, json!({ "stage": "ground_colour", "good": true, "zone": Uuid::from_u128(70) })),
        "unknown-zone",
    );
    let photo = json!({ "sha256": "0".repeat(64), "name": "ground.png" });
    book.write(EntryKind::StageLook, json!({ "stage": "ground_colour", "good": true, "photo": photo })).unwrap();
    book.write(EntryKind::FilmLook, json!({ "good": true })).unwrap();
    let seq = book.seen();
    book.write(EntryKind::Sign, seq).unwrap();
    refused(accept(&mut book, Role::Lead), "hold");
    book.pass(60.0)
        .write(EntryKind::StageLook, json!({ "stage": "dry_to_touch", "good": false, "text": "tacky at the keel" }))
        .unwrap();
    assert_eq!(held(&book)[0].trouble, "under");
    book.pass(60.0).write(EntryKind::StageLook, json!({ "stage": "dry_to_touch", "good": true })).unwrap();
    book.write(EntryKind::ControlSample, json!({ "text": "sample 4" })).unwrap();
    let look = seen(&book).look;
    assert_eq!(look.stages.iter().filter(|s| s.asked).map(|s| s.looks.len()).collect::<Vec<_>>(), [1, 1], "the newest of each");
    assert_eq!(look.sample.unwrap().text, "sample 4");
    accept(&mut book, Role::Lead).unwrap();
    assert_eq!(book.record().accepted_by, [AcceptBy::Look]);
}

/// A sheet that names two ways by gauge leaves it to the plan which; one that names none is measured as planned.
#[test]
fn the_plan_chooses_among_the_ways_of_the_sheet() {
    let ways = |by: Value| {
        let mut book = signed(by, json!({}));
        plan(&mut book, json!({})).unwrap();
        seen(&book).methods.iter().map(|m| m.by).collect::<Vec<_>>()
    };
    assert_eq!(ways(json!(["spots", "eighty_twenty"])), [AcceptBy::Spots]);
    assert_eq!(ways(json!(["eighty_twenty", "least_most"])), [AcceptBy::Spots, AcceptBy::EightyTwenty, AcceptBy::LeastMost]);
    assert_eq!(ways(json!(["bond_test"])), [AcceptBy::Spots, AcceptBy::BondTest]);
}

/// A lead let a film stand that did not look right when the work was signed. What was seen after that at a stage is not let stand with it.
#[test]
fn a_film_let_stand_covers_no_stage_that_is_bad_after_it() {
    let stages = json!({ "accepted_by": ["look"], "look_stages": ["dry_to_touch"], "film_proof": "look" });
    let mut book = Book::begun(with(sheet(), stages));
    book.ready();
    book.mixed(328.0);
    book.sprayed();
    book.write(EntryKind::FilmLook, json!({ "good": false, "text": "dull at the keel" })).unwrap();
    let look = gates::all(&Case::alone(&book.record()), book.now, Prefs::METRIC);
    let look = look.into_iter().find(|h| h.gate == GateName::Film).expect("the look holds");
    let release = with(json!({ "gate": "film", "item": look.item, "reason": "owner saw it" }), book.seen());
    book.write_as(Role::Lead, EntryKind::Release, release).unwrap();
    let signing = book.seen();
    book.write(EntryKind::Sign, signing).unwrap();
    let stage = |book: &mut Book, good: bool| {
        book.pass(60.0).write(EntryKind::StageLook, json!({ "stage": "dry_to_touch", "good": good, "text": "as seen" })).unwrap();
    };
    stage(&mut book, false);
    refused(accept(&mut book, Role::Inspector), "hold");
    stage(&mut book, true);
    accept(&mut book, Role::Inspector).unwrap();
}

/// Nobody who did the work alone accepts it, whatever their role, unless the shop works alone.
#[test]
fn nobody_accepts_their_own_work_alone() {
    for role in [Role::Lead, Role::Inspector, Role::Owner] {
        let mut book =
            Book { kept: level_keel_core::book::InMemory::new(Uuid::from_u128(6)), now: "2026-05-04T08:00:00Z".parse().unwrap() };
        let model = signed(json!([]), json!({}));
        // The same book, every line by this one person.
        for entry in &model.entries {
            let mut entry = entry.clone();
            entry.who = person(role);
            book.entries.push(entry);
        }
        book.now = model.now;
        refused(accept(&mut book, role), "not-your-role");
        let other = if role == Role::Lead { Role::Owner } else { Role::Lead };
        accept(&mut book, other).unwrap();
    }
}

/// A sheet that names nothing is accepted as before: the film was proved when it was signed.
#[test]
fn a_sheet_that_names_nothing_asks_nothing_more() {
    let mut book = signed(json!([]), json!({}));
    assert_eq!(
        seen(&book).methods.iter().map(|m| (m.by, m.verdict)).collect::<Vec<_>>(),
        [(AcceptBy::CombTotal, Some(Verdict::In))]
    );
    assert!(held(&book).is_empty());
    accept(&mut book, Role::Inspector).unwrap();
    assert_eq!(book.record().accepted_by, [AcceptBy::CombTotal]);
    // Gauge work that somebody began is finished first.
    let mut book = signed(json!([]), json!({}));
    plan(&mut book, json!({})).unwrap();
    refused(accept(&mut book, Role::Inspector), "hold");
}

/// A stage is seen once it was looked at everywhere: in one look, or zone by zone. What was not right in a zone is right again when
/// somebody looked everywhere after it, and not before.
#[test]
fn a_look_at_one_zone_is_not_a_look_everywhere() {
    let sheet = with(sheet(), json!({ "accepted_by": ["look"], "look_stages": ["dry_to_touch"], "film_proof": "look" }));
    let deck = Uuid::from_u128(33);
    let zones = json!([{ "id": HULL, "name": "hull", "area_m2": 5.0, "place": 1 }, { "id": deck, "name": "deck", "area_m2": 5.0, "place": 2 }]);
    let mut book = Book::begun_with(sheet, json!({ "zones": zones }));
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [HULL, deck], "used_ml": 1600.0 })).unwrap();
    book.pass(2.0).write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    book.write(EntryKind::FilmLook, json!({ "good": true })).unwrap();
    let seen = book.seen();
    book.write(EntryKind::Sign, seen).unwrap();
    let look = |book: &mut Book, zone: Option<Uuid>, good: bool| {
        let said = json!({ "stage": "dry_to_touch", "zone": zone, "good": good, "text": "as seen" });
        book.pass(5.0).write(EntryKind::StageLook, said).unwrap();
    };
    let stands = |book: &Book| Case::alone(&book.record()).methods(Prefs::METRIC)[0].verdict;
    look(&mut book, Some(HULL), true);
    assert_eq!(stands(&book), None, "nobody looked at the deck");
    refused(accept(&mut book, Role::Inspector), "hold");
    look(&mut book, Some(deck), true);
    assert_eq!(stands(&book), Some(Verdict::In), "each was looked at");
    look(&mut book, Some(deck), false);
    assert_eq!(stands(&book), Some(Verdict::Low));
    look(&mut book, Some(HULL), true);
    assert_eq!(stands(&book), Some(Verdict::Low), "the hull is not the deck");
    look(&mut book, None, true);
    assert_eq!(stands(&book), Some(Verdict::In), "everywhere is the deck too");
    look(&mut book, None, false);
    look(&mut book, Some(deck), true);
    assert_eq!(stands(&book), Some(Verdict::Low), "and what is not right everywhere is not mended in one zone");
}

/// Who works alone signs, measures, and then accepts; the card says that nobody else was there.
#[test]
fn who_works_alone_measures_before_the_card_closes() {
    let lone = level_keel_core::people::Writer { works_alone: true, ..writer(Role::Owner) };
    let sheet = with(sheet(), json!({ "accepted_by": ["spots"] }));
    let mut book = Book::begun_with(sheet, json!({ "alone": true, "substrate": "sanded_steel" }));
    book.ready();
    book.mixed(328.0);
    book.sprayed();
    let write = |book: &mut Book, kind: EntryKind, payload: Value| {
        let id = Uuid::from_u128(9000 + book.entries.len() as u128);
        let asked = level_keel_core::book::Asking { writer: &lone, beside: &Beside::default(), now: book.now };
        let wanted = level_keel_core::book::Wanted { id, kind, payload, happened: book.now };
        book.kept.write(wanted, "owner", &asked)
    };
    let seen = book.seen();
    write(&mut book, EntryKind::Sign, seen).unwrap();
    assert!(book.record().acceptance.is_none(), "the film is not measured yet");
    foil(&mut book, 126.0);
    book.pass(1.0);
    write(&mut book, EntryKind::PlanAcceptance, json!({ "by": "spots", "dry_min_um": 110.0, "dry_max_um": 150.0 })).unwrap();
    every_spot(&mut book, 121.0);
    foil(&mut book, 126.0);
    let seen = book.seen();
    write(&mut book, EntryKind::Accept, seen).unwrap();
    assert!(noted(&book)[0].starts_with("Worked alone: the second signature is theirs too"), "{:?}", noted(&book));
}

fn noted(book: &Book) -> Vec<String> {
    let viewer = Viewer { writer: writer(Role::Lead), comb_um: vec![MIL], scale_g: 1.0 };
    let record = book.record();
    let case = Case::alone(&record);
    let view = whole(Uuid::from_u128(9), &case, &viewer, book.now).expect("a begun batch");
    level_keel_core::batch::card::card(&case, view, Prefs::METRIC).noted
}

/// What was struck of the measuring stands on the card, and so does why it was reopened.
#[test]
fn the_card_says_what_was_struck_and_why_it_was_reopened() {
    let mut book = signed(json!(["spots"]), json!({}));
    foil(&mut book, 126.0);
    plan(&mut book, json!({})).unwrap();
    every_spot(&mut book, 121.0);
    assert!(noted(&book).is_empty(), "{:?}", noted(&book));
    let read = book.record().spot_readings(1, 1).unwrap().0.entry;
    book.write(EntryKind::Strike, json!({ "entry": read, "reason": "probe was on the seam" })).unwrap();
    assert_eq!(noted(&book), ["One entry of the gauge was struck: applicator: probe was on the seam."]);
    book.write_as(Role::Lead, EntryKind::Reopen, json!({ "reason": "a run was seen" })).unwrap();
    assert_eq!(noted(&book)[1], "Reopened, both signatures void: a run was seen (lead).");
}

/// What the inspector's hands find on the board: measure, go on, the foil once more, accept; and what is out.
#[test]
fn hands_next_says_what_is_to_be_measured() {
    let wants = |book: &Book| {
        let viewer = Viewer { writer: writer(Role::Inspector), comb_um: vec![MIL], scale_g: 1.0 };
        let next =
            whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("a begun batch").next.clone();
        next.into_iter().filter(|n| n.station == 6).map(|n| (n.text, n.why)).next().unwrap()
    };
    let mut book = signed(json!(["spots"]), json!({}));
    assert_eq!(wants(&book).0, "Measure the dry film");
    foil(&mut book, 126.0);
    plan(&mut book, json!({})).unwrap();
    let (text, why) = wants(&book);
    assert_eq!(
        (text.as_str(), why.as_str()),
        ("Go on measuring the dry film", "Spots by gauge: not finished yet, 0 of 10 spots.")
    );
    every_spot(&mut book, 121.0);
    assert!(wants(&book).1.contains("on its foil once more"), "{:?}", wants(&book));
    foil(&mut book, 126.0);
    assert_eq!(wants(&book).0, "Accept the work");
    foil(&mut book, 140.0);
    assert_eq!(
        wants(&book).0,
        "Accept the work",
        "a gauge that went off afterwards doubts nothing that stands between two right foils"
    );
    let read = book.record().spot_readings(1, 1).unwrap().0.entry;
    book.write(EntryKind::Strike, json!({ "entry": read, "reason": "on the seam" })).unwrap();
    foil(&mut book, 126.0);
    book.pass(1.0).write(EntryKind::GaugeRead, spot(1, 1, [60.0; 3])).unwrap();
    assert_eq!(wants(&book).0, "The dry film is not accepted");
}

#[test]
fn the_float_of_close_says_what_it_waits_for() {
    let line = |book: &Book| {
        let viewer = Viewer { writer: writer(Role::Inspector), comb_um: vec![MIL], scale_g: 1.0 };
        let view = whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("a begun batch");
        (view.stations[5].line.clone(), view.stations[5].state)
    };
    use level_keel_core::batch::stations::StationState::{Hold, InWork};
    let mut book = signed(json!(["spots"]), json!({}));
    assert_eq!(line(&book), ("to be measured".into(), InWork));
    foil(&mut book, 126.0);
    plan(&mut book, json!({})).unwrap();
    book.write(EntryKind::GaugeRead, spot(1, 1, [60.0; 3])).unwrap();
    assert_eq!(line(&book), ("not accepted".into(), Hold));
    assert_eq!(line(&signed(json!([]), json!({}))), ("signed, to accept".into(), InWork));
}
