//! The book of a rig: every kind of entry read, judged, carried out and taken back; how its tip wears.

use crate::book::{sheet, with};
use jiff::{SignedDuration, Timestamp};
use level_keel_core::atomizing::tips::TipRow;
use level_keel_core::book::{Asking, Entry, InMemory, LedgerKind, Wanted};
use level_keel_core::care::{Done, RigState};
use level_keel_core::people::{Role, Writer};
use level_keel_core::quantity::{Prefs, UnitSet};
use level_keel_core::refusal::{Refusal, Why};
use level_keel_core::rig_book::{RigBeside, RigBook, RigEntry, RigEntryKind, Sprayed, sprayed_kg, tip_wear, wear_points};
use level_keel_core::rigs::Rig;
use level_keel_core::verdict::Verdict;
use level_keel_core::worded::{VariantArray, Worded};
use proptest::prelude::*;
use serde_json::{Value, json};
use uuid::Uuid;

const PSI: f64 = 6.894_757_293_168_361;

fn rig(changes: Value) -> Rig {
    let mut body = json!({ "name": "Flume machine", "kind": "gel_coat_machine", "pump_most_kpa": 120.0 * PSI, "hose_bore_mm": 9.525,
        "hose_length_mm": 9000.0, "gun": "Flume gun", "class": "air_assisted", "tip_code": "521" });
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    serde_json::from_value(body).unwrap()
}

fn at_rest(rig: &Rig) -> RigState<'_> {
    RigState { rig, steps: &[], cared: &[], pressed_at: None, live_kpa: None }
}

fn entry(kind: RigEntryKind, payload: Value) -> RigEntry {
    RigEntry::new(kind, &payload, Prefs::METRIC).unwrap_or_else(|r| panic!("{kind:?} {payload}: {}", r.text))
}

fn flow(psi: f64, ml: f64, s: f64) -> RigEntry {
    entry(RigEntryKind::TipFlow, json!({ "pot_kpa": psi * PSI, "caught_ml": ml, "caught_watch_s": s }))
}

fn fitted(payload: Value) -> RigEntry {
    entry(RigEntryKind::Fitted, payload)
}

/// What was once written is read for ever: one fixture a kind.
#[test]
fn fixtures_parse_for_ever() {
    for kind in RigEntryKind::VARIANTS.iter().copied() {
        let path = format!("{}/tests/fixtures/rig/{}.v1.json", env!("CARGO_MANIFEST_DIR"), kind.name());
        let text = std::fs::read_to_string(&path).unwrap_or_else(|e| panic!("{path}: {e}"));
        let value: Value = serde_json::from_str(&text).unwrap();
        let read = RigEntry::decode(kind, 1, &value).unwrap_or_else(|r| panic!("{path}: {}", r.text));
        // Written again it says the same; and it says something to people.
        let again = RigEntry::decode(kind, 1, &read.payload().unwrap()).unwrap();
        assert_eq!(again, read, "{path}");
        assert!(!read.words(Prefs::METRIC).is_empty(), "{path}");
        assert_eq!(RigEntryKind::from_name(kind.name()), Some(kind));
    }
    assert_eq!(RigEntryKind::from_name("burnt"), None);
}

#[test]
fn what_cannot_be_read_is_refused_at_its_field() {
    for (kind, payload, field) in [
        (RigEntryKind::Inspected, json!({ "sound": false }), "text"),
        (RigEntryKind::Inspected, json!({ "sound": "perhaps" }), "sound"),
        (RigEntryKind::Inspected, json!({ "sound": true, "text": "x".repeat(2001) }), "text"),
        (RigEntryKind::Note, json!({}), "text"),
        (RigEntryKind::Fitted, json!({}), "nozzle_mm"),
        (RigEntryKind::Fitted, json!({ "tip_code": "  " }), "nozzle_mm"),
        (RigEntryKind::Fitted, json!({ "nozzle_mm": 0.0 }), "nozzle_mm"),
        (RigEntryKind::Fitted, json!({ "nozzle_mm": 1.8, "colour": "brass" }), "colour"),
        (RigEntryKind::TipFlow, json!({ "pot_kpa": 0.0, "caught_ml": 300.0, "caught_watch_s": 15.0 }), "pot_kpa"),
        (RigEntryKind::TipFlow, json!({ "pot_kpa": 280.0, "caught_ml": -1.0, "caught_watch_s": 15.0 }), "caught_ml"),
        (RigEntryKind::TipFlow, json!({ "pot_kpa": 280.0, "caught_ml": 300.0, "caught_watch_s": 0.0 }), "caught_watch_s"),
        (RigEntryKind::ShutStep, json!({ "step": "" }), "step"),
        (RigEntryKind::ShutStep, json!({ "step": "zero", "gauge_kpa": -200.0 }), "gauge_kpa"),
        (RigEntryKind::Cared, json!({ "item": " " }), "item"),
        (RigEntryKind::Strike, json!({ "entry": uuid::Uuid::nil(), "reason": "" }), "reason"),
    ] {
        let refusal = RigEntry::new(kind, &payload, Prefs::METRIC).expect_err(&format!("{payload} must be refused"));
        assert_eq!(refusal.field.as_deref(), Some(field), "{payload}: {}", refusal.text);
    }
}

/// A limit of today is of what is written today: what is in a book already is read, whatever it says.
#[test]
fn what_was_written_is_read_though_todays_limits_refuse_it() {
    for (kind, payload) in [
        (RigEntryKind::Inspected, json!({ "sound": false })),
        (RigEntryKind::Fitted, json!({ "nozzle_mm": 400.0 })),
        (RigEntryKind::TipFlow, json!({ "pot_kpa": 900_000.0, "caught_ml": 0.0, "caught_watch_s": 15.0 })),
        (RigEntryKind::ShutStep, json!({ "step": "zero", "gauge_kpa": -200.0 })),
        (RigEntryKind::Note, json!({ "text": "x".repeat(5000) })),
    ] {
        assert!(RigEntry::new(kind, &payload, Prefs::METRIC).is_err(), "today it is refused: {payload}");
        let read = RigEntry::decode(kind, 1, &payload).unwrap_or_else(|r| panic!("{payload}: {}", r.text));
        assert!(!read.words(Prefs::METRIC).is_empty());
        assert_eq!(RigEntry::decode(kind, 1, &read.payload().unwrap()).unwrap(), read);
    }
}

#[test]
fn what_the_rig_does_not_bear_or_have_is_refused() {
    let (machine, tips) = (rig(json!({})), [TipRow { code: "K19".into(), angle_deg: 40.0, hole_mm: 0.48 }]);
    let may = |rig: &Rig, e: &RigEntry| e.may(&at_rest(rig), &tips, Prefs::METRIC);
    let code = |r: Result<(), Refusal>| r.map_err(|r| r.code).unwrap_err();
    assert!(may(&machine, &fitted(json!({ "tip_code": "517" }))).is_ok());
    assert!(may(&machine, &fitted(json!({ "tip_code": "k19" }))).is_ok(), "the shop's table knows it");
    assert_eq!(code(may(&machine, &fitted(json!({ "tip_code": "52" })))), "tip-code");
    assert!(may(&machine, &flow(40.0, 300.0, 15.0)).is_ok());
    assert_eq!(code(may(&machine, &flow(121.0, 300.0, 15.0))), "over-rating");
    let pot = rig(json!({ "kind": "pot", "rating_kpa": 552.0, "relief_kpa": 552.0, "tip_code": null, "nozzle_mm": 1.8 }));
    assert_eq!(code(may(&pot, &flow(10.0, 300.0, 60.0))), "no-such-place");
    // Under pressure nothing is fitted, by the transmitter's word.
    let live = RigState { live_kpa: Some(70.0), ..at_rest(&machine) };
    let refusal = fitted(json!({ "tip_code": "517" })).may(&live, &tips, Prefs::METRIC).unwrap_err();
    assert_eq!((refusal.why, refusal.code.as_str()), (Why::Stop, "open-under-pressure"));
}

/// The book of one rig, put down by a lead.
struct Book {
    kept: InMemory<RigBook>,
    now: Timestamp,
}

impl Book {
    fn put_down(body: Value) -> Book {
        let mut book = Book { kept: InMemory::new(Uuid::from_u128(6)), now: "2026-05-04T08:00:00Z".parse().unwrap() };
        let changed = json!({ "rig": rig(body) });
        book.write(Role::Lead, RigEntryKind::Changed, changed).unwrap();
        book
    }

    fn write(&mut self, role: Role, kind: RigEntryKind, payload: Value) -> Result<Uuid, Refusal> {
        self.now += SignedDuration::from_mins(1);
        let id = Uuid::from_u128(1000 + self.kept.entries.len() as u128);
        let writer = Writer { id: Uuid::from_u128(100 + role as u128), role, prefs: Prefs::METRIC, works_alone: false };
        let asked = Asking { writer: &writer, beside: &RigBeside::default(), now: self.now };
        self.kept.write(Wanted { id, kind, payload, happened: self.now }, role.word(), &asked)?;
        Ok(id)
    }

    /// Its figures changed on its page.
    fn change(&mut self, with: Value) -> Uuid {
        let before = self.rig();
        let mut body = serde_json::to_value(&before).unwrap();
        for (key, value) in with.as_object().unwrap() {
            body[key] = value.clone();
        }
        self.write(Role::Lead, RigEntryKind::Changed, json!({ "rig": body, "before": before })).unwrap()
    }

    fn fit(&mut self, code: &str) -> Uuid {
        self.write(Role::Applicator, RigEntryKind::Fitted, json!({ "tip_code": code })).unwrap()
    }

    fn strike(&mut self, entry: Uuid) -> Result<Uuid, Refusal> {
        self.write(Role::Lead, RigEntryKind::Strike, json!({ "entry": entry, "reason": "a slip" }))
    }

    fn rig(&self) -> Rig {
        self.kept.fold().rig.expect("put down")
    }

    fn tip(&self) -> Option<String> {
        self.rig().tip_code
    }
}

#[test]
fn a_strike_gives_back_what_an_exchange_took_off() {
    let mut book = Book::put_down(json!({ "tip_code": "521" }));
    let first = book.fit("517");
    assert_eq!(book.tip().as_deref(), Some("517"));
    book.strike(first).unwrap();
    assert_eq!(book.tip().as_deref(), Some("521"));
    // Something else was fitted since: that stays.
    let second = book.fit("519");
    book.fit("619");
    book.strike(second).unwrap();
    assert_eq!(book.tip().as_deref(), Some("619"));
    // So do other figures that were changed since.
    let third = book.fit("421");
    let change = book.change(json!({ "hose_length_mm": 12_000.0 }));
    book.strike(third).unwrap();
    assert_eq!((book.tip().as_deref(), book.rig().hose_length_mm), (Some("619"), Some(12_000.0)));
    book.strike(change).unwrap();
    assert_eq!((book.tip().as_deref(), book.rig().hose_length_mm), (Some("619"), Some(9000.0)));
}

/// A new rig is flushed once; with that flushing struck it is new again, unless it was flushed a second time.
#[test]
fn a_new_rig_is_new_until_it_is_flushed() {
    let mut book = Book::put_down(json!({ "unflushed": true }));
    let flush = book.write(Role::Applicator, RigEntryKind::Cleaned, json!({ "text": "white spirit" })).unwrap();
    assert!(!book.rig().unflushed);
    book.strike(flush).unwrap();
    assert!(book.rig().unflushed);
    let first = book.write(Role::Applicator, RigEntryKind::Cleaned, json!({})).unwrap();
    let again = book.write(Role::Applicator, RigEntryKind::Cleaned, json!({})).unwrap();
    book.strike(again).unwrap();
    assert!(!book.rig().unflushed, "the first flushing stands");
    book.strike(first).unwrap();
    assert!(book.rig().unflushed);
}

/// A rig that was put down is not struck away: it is changed, or not used any more. Of another's entry a lead disposes.
#[test]
fn what_is_not_struck_in_the_book_of_a_rig() {
    let mut book = Book::put_down(json!({}));
    let code = |r: Result<Uuid, Refusal>| r.map_err(|r| r.code).unwrap_err();
    let put_down = book.kept.entries[0].id;
    assert_eq!(code(book.strike(put_down)), "not-strikable");
    let fit = book.fit("517");
    let other = book.write(Role::Inspector, RigEntryKind::Strike, json!({ "entry": fit, "reason": "not mine" }));
    assert_eq!(code(other), "not-your-role");
    let own = book.write(Role::Applicator, RigEntryKind::Strike, json!({ "entry": fit, "reason": "a slip" })).unwrap();
    assert_eq!(code(book.strike(fit)), "struck-already");
    assert_eq!(code(book.strike(own)), "not-strikable");
    assert_eq!(code(book.strike(Uuid::nil())), "unknown-entry");
    // A book without the figures of its rig takes nothing but them.
    let mut empty = Book { kept: InMemory::new(Uuid::nil()), now: book.now };
    assert_eq!(code(empty.write(Role::Lead, RigEntryKind::Note, json!({ "text": "a" }))), "not-put-down");
}

#[test]
fn steps_and_items_keep_their_words_for_ever() {
    let machine = rig(json!({}));
    let step = entry(RigEntryKind::ShutStep, json!({ "step": "zero", "gauge_kpa": 0.0 })).filled(&at_rest(&machine));
    let words = step.words(Prefs { units: UnitSet::Us, ..Prefs::METRIC });
    assert!(words.starts_with("Look at the gauge") && words.contains("(0\u{a0}psi)"), "{words}");
    let cared = entry(RigEntryKind::Cared, json!({ "item": "traps" })).filled(&at_rest(&machine));
    assert_eq!(cared.words(Prefs::METRIC), "Water traps at supply and gun drained");
    assert!(entry(RigEntryKind::Cared, json!({ "item": "sing" })).may(&at_rest(&machine), &[], Prefs::METRIC).is_err());
    let done = [Done { id: "traps".into(), at: "2026-05-04T08:00:00Z".parse().unwrap(), by: "Hand".into() }];
    let stand = RigState { cared: &done, ..at_rest(&machine) };
    let daily = |now: &str| {
        let view = stand.view(now.parse().unwrap(), Prefs::METRIC);
        let all = view.lists.into_iter().flat_map(|l| l.items);
        all.into_iter().find(|i| i.id == "traps").unwrap().due
    };
    assert!(!daily("2026-05-05T07:59:00Z") && daily("2026-05-05T08:01:00Z"), "each day");
}

/// Flow goes with the root of pressure: 300 mL in 15 s at 40 psi is 1,200 mL/min; at 44.1 psi a sound tip gives 1,260, since
/// √(44.1/40) = 1.05. Worked by hand.
#[test]
fn a_tip_wears_against_its_own_first_flow() {
    let wear = |book: &[RigEntry]| tip_wear(book, Prefs::METRIC);
    assert_eq!(wear(&[]), None);
    assert_eq!(wear(&[flow(40.0, 300.0, 15.0)]), None, "one flow is its measure when new");
    let over = |book: &[RigEntry]| {
        let seen = wear(book).expect("two flows");
        (seen.level.shown.figure.parse::<f64>().unwrap(), seen.level.verdict.unwrap(), seen.level.advice)
    };
    let (pct, verdict, advice) = over(&[flow(40.0, 300.0, 15.0), flow(44.1, 315.0, 15.0)]);
    assert!(pct.abs() < 0.1 && verdict == Verdict::In && advice.is_empty(), "{pct} {verdict:?} {advice}");
    // A fifth more at the same pressure: watched. A quarter and more: out.
    let (pct, verdict, advice) = over(&[flow(40.0, 300.0, 15.0), flow(40.0, 360.0, 15.0)]);
    assert!((pct - 20.0).abs() < 0.05 && verdict == Verdict::High && advice.starts_with("wearing"), "{pct} {verdict:?} {advice}");
    let (_, _, advice) = over(&[flow(40.0, 300.0, 15.0), flow(40.0, 380.0, 15.0)]);
    assert!(advice.starts_with("worn out"), "{advice}");
    // 16 % over, good to four: cannot tell.
    assert_eq!(over(&[flow(40.0, 300.0, 15.0), flow(40.0, 348.0, 15.0)]).1, Verdict::CannotTell);
    // Another tip begins anew.
    let book = [flow(40.0, 300.0, 15.0), flow(40.0, 380.0, 15.0), fitted(json!({ "tip_code": "517" })), flow(40.0, 240.0, 15.0)];
    assert_eq!(wear(&book), None);
    let seen = wear(&[flow(40.0, 300.0, 15.0), flow(44.1, 378.0, 15.0)]).unwrap();
    let last = seen.working.lines.last().unwrap();
    assert_eq!(last.result, seen.level.shown.text, "the figure is the last line of its working");
}

/// Drawn over the kilograms of the batches that ended between the first catch and each later one: 12 kg, then 30; what was sprayed
/// before the first counts for the tip before.
#[test]
fn wear_is_drawn_over_what_was_sprayed() {
    let day = |d: i64| "2026-05-01T08:00:00Z".parse::<Timestamp>().unwrap() + SignedDuration::from_hours(24 * d);
    let told = [
        (day(0), fitted(json!({ "tip_code": "521" }))),
        (day(1), flow(40.0, 300.0, 15.0)),
        (day(5), flow(40.0, 330.0, 15.0)),
        (day(9), flow(40.0, 384.0, 15.0)),
    ];
    let sprayed = [(0, 50.0), (3, 12.0), (5, 8.0), (9, 10.0), (10, 99.0)].map(|(d, kg)| Sprayed { at: day(d), kg });
    let points = wear_points(&told, &sprayed, Prefs::METRIC);
    let seen: Vec<(f64, f64)> = points.iter().map(|p| (p.kg, (p.over_pct * 10.0).round() / 10.0)).collect();
    assert_eq!(seen, [(0.0, 0.0), (20.0, 10.0), (30.0, 28.0)]);
    // 1.28 · 0.98/1.02 and 1.28 · 1.02/0.98: 22.98 to 33.22 %.
    assert!((points[2].lo_pct - 22.98).abs() < 0.01 && (points[2].hi_pct - 33.22).abs() < 0.01, "{:?}", points[2]);
    assert_eq!((points[0].lo_pct, points[0].hi_pct), (0.0, 0.0), "the first is its own measure");
    assert_eq!(wear_points(&told[..1], &sprayed, Prefs::METRIC), []);
    assert_eq!(wear_points(&told[1..], &[], Prefs::METRIC).iter().map(|p| p.kg).sum::<f64>(), 0.0);
}

/// Any leaf a rig's entry might hold, and many it never should.
fn leaf() -> impl Strategy<Value = Value> {
    prop_oneof![
        Just(Value::Null),
        any::<bool>().prop_map(Value::Bool),
        any::<f64>().prop_map(|v| serde_json::Number::from_f64(v).map_or(Value::Null, Value::Number)),
        prop::sample::select(vec!["zero", "lid", "traps", "517", "52", "", "flush", "1e999", "\u{202e}", "<script>"])
            .prop_map(Value::from),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, cases: 2000, ..ProptestConfig::default() })]

    /// Whatever an entry says, it is read or refused, judged, carried out and taken back: nothing panics, and what was read
    /// once is read again.
    #[test]
    fn any_entry_of_a_rig_is_read_or_refused(
        kind in 0..RigEntryKind::VARIANTS.len(),
        fields in prop::collection::btree_map(
            "(sound|text|step|gauge_kpa|item|nozzle_mm|tip_code|pot_kpa|caught_ml|caught_watch_s|entry|reason|was_new|before|[a-z]{1,6})",
            leaf(),
            0..6,
        ),
    ) {
        let payload = Value::Object(fields.into_iter().collect());
        if let Ok(entry) = RigEntry::new(RigEntryKind::VARIANTS[kind], &payload, Prefs::METRIC) {
            let machine = rig(json!({}));
            let _ = entry.may(&at_rest(&machine), &[], Prefs::METRIC);
            let filled = entry.filled(&at_rest(&machine));
            let again = RigEntry::decode(RigEntryKind::VARIANTS[kind], 1, &filled.payload().unwrap());
            prop_assert_eq!(again.as_ref(), Ok(&filled));
            let mut book = Book::put_down(json!({}));
            let last = book.kept.entries[0].clone();
            let (kind, payload) = (RigEntryKind::VARIANTS[kind], filled.payload().unwrap());
            book.kept.entries.push(Entry { id: Uuid::nil(), seq: 2, kind, payload, ..last });
            prop_assert_eq!(book.kept.fold().log.head_seq, 2);
            prop_assert!(filled.words(Prefs::METRIC).chars().count() < 3000);
            let _ = tip_wear(&[filled.clone(), filled], Prefs::METRIC);
        }
    }
}

/// A litre of 4:1 by volume at 1.42 and 0.98 kg/L is 0.8·1.42 + 0.2·0.98 = 1.332 kg, by hand; of one can its own density; without densities
/// nobody knows.
#[test]
fn kilograms_sprayed_go_by_the_density_of_the_mix() {
    let of = |changes: Value| serde_json::from_value(with(sheet(), changes)).unwrap();
    let kg = |changes: Value| sprayed_kg(&of(changes), 1000.0);
    assert!((kg(json!({})).unwrap() - 1.332).abs() < 1e-9);
    assert!((kg(json!({ "has_hardener": false })).unwrap() - 1.42).abs() < 1e-9);
    assert_eq!(kg(json!({ "base_density_kg_l": null, "hardener_density_kg_l": null })), None);
}
