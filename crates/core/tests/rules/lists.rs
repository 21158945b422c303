//! The Ready lists: which items a batch gets, how each stands, what waits for them.

use jiff::{SignedDuration, Timestamp};
use level_keel_core::batch::gates::GateName;
use level_keel_core::batch::gates::{self, Act, Severity};
use level_keel_core::batch::ready_lists::states;
use level_keel_core::batch::{Case, EntryKind, Record, beside::Beside};
use level_keel_core::book::{Asking, InMemory, Wanted};
use level_keel_core::coat_system::Method;
use level_keel_core::lists::{Choosing, ItemState, ReadyLists, Substrate};
use level_keel_core::people::{Role, Writer};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::{Refusal, Why};
use level_keel_core::sheets::Sheet;
use level_keel_core::worded::Worded;
use serde_json::{Value, json};
use uuid::Uuid;

pub fn sheet(changes: Value) -> Sheet {
    let mut body = json!({
        "name": "Example", "label": "Example", "charge": "pot", "base_density_kg_l": 1.42, "solids_pct": 62.0, "has_hardener": true,
        "basis": "by_volume", "ratio": 4.0, "hardener_density_kg_l": 0.98, "pot_life_s": 14400.0, "pot_life_at_c": 20.0,
        "wet_um": 101.6, "wet_min_um": 76.2, "wet_max_um": 152.4, "temp_min_c": 10.0, "temp_max_c": 35.0,
        "margin_min_dk": 3.0, "rh_max_pct": 85.0, "stream": "industrial", "hazards": []
    });
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    serde_json::from_value::<Sheet>(body).unwrap().validate(Prefs::METRIC).unwrap()
}

pub fn keys(sheet: &Sheet, substrate: Option<Substrate>, method: Option<Method>, area_m2: f64) -> Vec<String> {
    let choosing = Choosing { sheet, substrate, method, area_m2, thinner_pct: 0.0, alone: false, repair: false };
    choosing.choose(&ReadyLists::usual().items).into_iter().map(|i| i.key).collect()
}

#[test]
fn the_lists_a_shop_begins_with_are_whole() {
    let lists = ReadyLists::usual();
    assert!(lists.items.len() >= 30, "{}", lists.items.len());
    lists.validate(Prefs::METRIC).unwrap();
}

#[test]
fn items_follow_substrate_method_sheet_and_area() {
    let plain = sheet(json!({}));
    let has = |of: &[String], key: &str| of.iter().any(|k| k == key);
    let steel = keys(&plain, Some(Substrate::BlastedSteel), None, 10.0);
    assert!(has(&steel, "open_steel") && has(&steel, "lot_hardener") && !has(&steel, "water_break") && !has(&steel, "profile"));
    let aluminium = keys(&plain, Some(Substrate::SandedAluminium), None, 10.0);
    assert!(has(&aluminium, "water_break") && has(&aluminium, "open_aluminium") && !has(&aluminium, "open_steel"));
    let brushed = keys(&plain, Some(Substrate::Wood), Some(Method::Brush), 10.0);
    assert!(!has(&brushed, "water_traps") && !has(&brushed, "masked") && has(&brushed, "sanded"));
    let single = keys(&sheet(json!({ "has_hardener": false })), None, None, 10.0);
    assert!(!has(&single, "lot_hardener") && !has(&single, "stir_hardener") && has(&single, "lot_base"));
    let flake = keys(&sheet(json!({ "no_gun_filter": true })), None, Some(Method::Pot), 10.0);
    assert!(has(&flake, "no_gun_filter") && !has(&steel, "no_gun_filter") && !has(&flake, "gun_filter"));
    let full = sheet(json!({
        "profile_min_um": 40.0, "mock_up_over_m2": 9.29, "drum_stir_min_s": 600.0, "drum_stir_max_s": 900.0, "drum_rest_s": 900.0,
        "stir_again_s": 1200.0, "certificate_needed": true, "least_rig": "3/8 in hose", "hazards": ["solvent"]
    }));
    let all = keys(&full, Some(Substrate::BlastedSteel), Some(Method::Pot), 9.3);
    for key in ["profile", "mock_up", "drum_stir", "drum_rest", "stir_again", "certificate", "least_rig", "earthed"] {
        assert!(has(&all, key), "{key}");
    }
    assert!(!has(&keys(&full, Some(Substrate::BlastedSteel), None, 9.29), "mock_up"), "at the limit none is wanted");
}

#[test]
fn a_list_at_fault_is_refused_at_its_path() {
    let item = |changes: Value| {
        let mut item = json!({ "key": "a", "group": "rig", "text": "Do it", "what": { "kind": "tick" }, "before": "spray" });
        for (key, value) in changes.as_object().unwrap() {
            item[key] = value.clone();
        }
        item
    };
    let first = item(json!({}));
    for (second, field) in [
        (item(json!({})), "items[1].key"),
        (item(json!({ "key": "k".repeat(41) })), "items[1].key"),
        (item(json!({ "key": "b", "text": " " })), "items[1].text"),
        (item(json!({ "key": "b", "after": "z" })), "items[1].after"),
        (item(json!({ "key": "b", "what": { "kind": "timer", "least_s": 1.0 } })), "items[1].what.least_s"),
        (item(json!({ "key": "b", "what": { "kind": "timer", "least_s": 900.0, "most_s": 600.0 } })), "items[1].what.most_s"),
        (item(json!({ "key": "b", "what": { "kind": "good_for", "over": "again" } })), "items[1].what.window_s"),
        (item(json!({ "key": "b", "what": { "kind": "good_for", "window_s": 1.0, "over": "again" } })), "items[1].what.window_s"),
        (
            item(json!({ "key": "b", "what": { "kind": "good_for", "window_s": 600.0, "watch_s": 1.0, "over": "again" } })),
            "items[1].what.watch_s",
        ),
        (item(json!({ "key": "b", "hint": "h".repeat(241) })), "items[1].hint"),
    ] {
        let lists: ReadyLists = serde_json::from_value(json!({ "items": [first, second] })).unwrap();
        assert_eq!(lists.validate(Prefs::METRIC).unwrap_err().field.as_deref(), Some(field));
    }
    // As long at the most as at the least is a time to keep exactly; a window from the sheet needs none of its own.
    for what in [
        json!({ "kind": "timer", "least_s": 600.0, "most_s": 600.0 }),
        json!({ "kind": "timer", "least_s": 600.0, "most_s": 601.0 }),
        json!({ "kind": "good_for", "by": "stir_again", "over": "again" }),
    ] {
        let lists: ReadyLists =
            serde_json::from_value(json!({ "items": [first, item(json!({ "key": "b", "what": what }))] })).unwrap();
        lists.validate(Prefs::METRIC).unwrap();
    }
    let many = |count: usize| {
        let items: Vec<Value> = (0..count).map(|i| item(json!({ "key": format!("k{i}") }))).collect();
        serde_json::from_value::<ReadyLists>(json!({ "items": items })).unwrap().validate(Prefs::METRIC)
    };
    assert!(many(200).is_ok());
    assert_eq!(many(201).unwrap_err().field.as_deref(), Some("items"));
}

/// A key is made from the words once, and no two items share one.
#[test]
fn an_item_without_a_key_gets_one_of_its_own() {
    let item = |key: &str, text: &str| json!({ "key": key, "group": "rig", "text": text, "what": { "kind": "tick" }, "before": "spray" });
    let made = |items: Vec<Value>| {
        let lists: ReadyLists = serde_json::from_value(json!({ "items": items })).unwrap();
        lists.validate(Prefs::METRIC).unwrap().items.into_iter().map(|i| i.key).collect::<Vec<_>>()
    };
    let four = vec![
        item("", "Drain the trap!"),
        item("", "Drain the trap!"),
        item("own_drain_the_trap_3", "Other"),
        item("", "drain THE trap"),
    ];
    assert_eq!(made(four), ["own_drain_the_trap", "own_drain_the_trap_2", "own_drain_the_trap_3", "own_drain_the_trap_4"]);
    assert_eq!(made(vec![item("", &"long ".repeat(15))]), ["own_long_long_long_long_long_long"]);
}

/// What the sheet says of an item stands with its hint: the least rig, the service it excludes, the colour beneath.
#[test]
fn an_item_says_what_the_sheet_says_of_it() {
    let full = sheet(json!({ "excludes": "standing water", "least_rig": "3/8 in hose", "undercoat_colour": "grey" }));
    let hints = |sheet: &Sheet| {
        let choosing = Choosing {
            sheet,
            substrate: None,
            method: Some(Method::Pot),
            area_m2: 5.0,
            thinner_pct: 0.0,
            alone: false,
            repair: false,
        };
        choosing.choose(&ReadyLists::usual().items).into_iter().map(|i| i.hint).collect::<Vec<_>>().join(" | ")
    };
    for said in ["By the sheet: standing water.", "By the sheet: 3/8 in hose.", "By the sheet: grey."] {
        assert!(hints(&full).contains(said), "{said}: {}", hints(&full));
        assert!(!hints(&sheet(json!({}))).contains("By the sheet"));
    }
}

struct Book {
    kept: InMemory<Record>,
    now: Timestamp,
}

impl Book {
    fn begun(sheet: &Sheet, substrate: Substrate, area_m2: f64) -> Book {
        let choosing = Choosing {
            sheet,
            substrate: Some(substrate),
            method: Some(Method::Pot),
            area_m2,
            thinner_pct: 0.0,
            alone: false,
            repair: false,
        };
        let items = choosing.choose(&ReadyLists::usual().items);
        let begin = json!({
            "number": 1, "sheet_version": Uuid::nil(), "sheet_edition": 1, "sheet": sheet, "part": Uuid::nil(), "part_name": "Buoy 5",
            "part_label": "Buoy 5", "zones": [], "coat": Uuid::nil(), "coat_name": "primer", "area_m2": area_m2, "wet_um": 101.6,
            "transfer_pct": 60.0, "thinner_pct": 0.0, "substrate": substrate, "method": "pot", "items": items
        });
        let mut book = Book { kept: InMemory::new(Uuid::from_u128(6)), now: "2026-05-04T08:00:00Z".parse().unwrap() };
        book.write(Role::Applicator, EntryKind::Begin, begin).unwrap();
        book
    }

    fn wait(&mut self, minutes: f64) -> &mut Self {
        self.now += SignedDuration::from_secs_f64(minutes * 60.0);
        self
    }

    fn record(&self) -> Record {
        self.kept.fold()
    }

    fn write(&mut self, role: Role, kind: EntryKind, payload: Value) -> Result<(), Refusal> {
        let id = Uuid::from_u128(1000 + self.kept.entries.len() as u128);
        let writer = Writer { id: Uuid::from_u128(role as u128), role, prefs: Prefs::METRIC, works_alone: false };
        let asked = Asking { writer: &writer, beside: &Beside::default(), now: self.now };
        self.kept.write(Wanted { id, kind, payload, happened: self.now }, role.word(), &asked).map(drop)
    }

    fn tick(&mut self, item: &str, did: &str) -> Result<(), Refusal> {
        self.write(Role::Applicator, EntryKind::Tick, json!({ "item": item, "did": did }))
    }

    fn item(&self, key: &str) -> (ItemState, String) {
        let record = self.record();
        let all = states(&record, self.now, Prefs::METRIC);
        let (_, state) = all.into_iter().find(|(i, _)| i.key == key).unwrap();
        // Units never wrap from their figure; plain blanks are easier to read here.
        (state.state, state.line.replace('\u{a0}', " "))
    }

    fn held(&self, key: &str) -> bool {
        let all = gates::all(&Case::alone(&self.record()), self.now, Prefs::METRIC);
        all.iter().any(|h| h.item.as_deref() == Some(key) && h.reached && h.released.is_none())
    }
}

fn drum() -> Sheet {
    sheet(json!({ "drum_stir_min_s": 600.0, "drum_stir_max_s": 900.0, "drum_rest_s": 900.0 }))
}

// Drum of gel coat: 10 to 15 min of stirring, then 15 min of rest; common practice in the trade.
#[test]
fn the_drum_is_stirred_long_enough_not_too_long_and_then_rests() {
    let mut book = Book::begun(&drum(), Substrate::GelCoatMould, 5.0);
    assert_eq!(book.tick("drum_rest", "start").unwrap_err().code, "not-yet", "the stir comes first");
    book.tick("drum_stir", "start").unwrap();
    assert_eq!(book.wait(9.0).item("drum_stir").0, ItemState::Running);
    assert_eq!(book.wait(2.0).item("drum_stir").1, "enough: stop now");
    book.tick("drum_stir", "stop").unwrap();
    assert_eq!(book.wait(60.0).item("drum_stir"), (ItemState::Done, "11 min".into()));
    book.tick("drum_rest", "start").unwrap();
    assert_eq!(book.wait(14.0).item("drum_rest").0, ItemState::Running);
    assert_eq!(book.wait(1.0).item("drum_rest").0, ItemState::Done);
    // Stirred again: the rest begins anew.
    book.tick("drum_stir", "start").unwrap();
    assert_eq!(book.wait(1.0).item("drum_rest").0, ItemState::Open);
    // Forgotten: over-mixed, and a hold.
    assert!(!book.held("drum_stir"));
    assert_eq!(book.wait(15.0).item("drum_stir").0, ItemState::Held);
    assert!(book.held("drum_stir"));
}

// Blasted steel is coated within 20 to 30 min; common practice in the trade.
#[test]
fn an_open_surface_is_watched_then_held_until_it_is_coated_or_opened_anew() {
    let mut book = Book::begun(&sheet(json!({})), Substrate::BlastedSteel, 5.0);
    book.tick("open_steel", "done").unwrap();
    assert_eq!(book.wait(19.0).item("open_steel"), (ItemState::Done, "11 min left".into()));
    assert_eq!(book.wait(2.0).item("open_steel").0, ItemState::Watch);
    assert_eq!(book.wait(10.0).item("open_steel").0, ItemState::Held);
    assert!(book.held("open_steel"));
    // A lead releases it; a new blast that grows old is a new trouble.
    let release = |book: &Book| json!({ "gate": "lists", "item": "open_steel", "reason": "dry and clean", "seen_seq": book.record().log.head_seq });
    let refused = book.write(Role::Applicator, EntryKind::Release, release(&book)).unwrap_err();
    assert_eq!(refused.why, Why::Forbidden);
    book.write(Role::Lead, EntryKind::Release, release(&book)).unwrap();
    assert!(!book.held("open_steel"));
    book.tick("open_steel", "done").unwrap();
    assert_eq!(book.item("open_steel").0, ItemState::Done);
    assert!(book.wait(31.0).held("open_steel"));
}

/// What a page counts down to: from the tick to the watch, from the watch to the end; coated or over, nothing changes by itself.
/// On the very second of the watch it is watched, and counts to the end.
#[test]
fn what_an_open_surface_counts_down_to() {
    let mut book = Book::begun(&sheet(json!({})), Substrate::BlastedSteel, 5.0);
    let counts = |book: &Book| {
        let record = book.record();
        let all = states(&record, book.now, Prefs::METRIC);
        all.into_iter().find(|(i, _)| i.key == "open_steel").and_then(|(_, state)| state.changes_s)
    };
    assert_eq!(counts(&book), None, "it is not opened yet");
    book.tick("open_steel", "done").unwrap();
    assert_eq!(counts(&book), Some(1200.0));
    assert_eq!(counts(book.wait(19.0)), Some(60.0));
    assert_eq!((counts(book.wait(1.0)), book.item("open_steel").0), (Some(600.0), ItemState::Watch));
    assert_eq!((counts(book.wait(10.0)), book.item("open_steel").0), (Some(0.0), ItemState::Watch));
    assert_eq!((counts(book.wait(1.0)), book.item("open_steel").0), (None, ItemState::Held));
}

#[test]
fn a_failed_test_holds_and_each_new_failure_is_its_own() {
    let mut book = Book::begun(&sheet(json!({})), Substrate::SandedAluminium, 5.0);
    book.tick("water_break", "failed").unwrap();
    assert_eq!(book.item("water_break"), (ItemState::Held, "water beads: clean again".into()));
    let release =
        json!({ "gate": "lists", "item": "water_break", "reason": "only at the rim", "seen_seq": book.record().log.head_seq });
    book.write(Role::Lead, EntryKind::Release, release).unwrap();
    assert!(!book.held("water_break"));
    book.tick("water_break", "failed").unwrap();
    assert!(book.held("water_break"), "a release is of one failure");
    book.tick("water_break", "done").unwrap();
    assert_eq!(book.item("water_break").0, ItemState::Done);
}

#[test]
fn a_profile_is_judged_with_the_error_of_its_reading() {
    let steel = sheet(json!({ "profile_min_um": 40.0, "profile_max_um": 75.0 }));
    let mut book = Book::begun(&steel, Substrate::BlastedSteel, 5.0);
    let mut read = |um: f64| {
        book.write(Role::Applicator, EntryKind::Tick, json!({ "item": "profile", "did": "done", "read_um": um })).unwrap();
        book.item("profile").1
    };
    assert_eq!(read(55.0), "55 µm in");
    assert_eq!(read(30.0), "30 µm out");
    assert_eq!(read(42.0), "42 µm cannot tell");
    let bare = book.tick("profile", "done").unwrap_err();
    assert_eq!(bare.field.as_deref(), Some("read_um"));
}

/// A lead's own items, over what the sheet says nothing of: what nobody stated lets nothing pass.
#[test]
fn an_item_by_a_sheet_that_says_nothing_is_not_done() {
    let own = |key: &str, what: Value| json!({ "key": key, "group": "surface", "text": key, "what": what, "before": "spray" });
    let items = json!([
        own("roughness", json!({ "kind": "profile" })),
        own("rest", json!({ "kind": "timer", "by": "drum_rest" })),
        own("mix", json!({ "kind": "good_for", "by": "stir_again", "over": "stir again" })),
    ]);
    let lists: ReadyLists = serde_json::from_value(json!({ "items": items })).unwrap();
    let silent = sheet(json!({}));
    let choosing =
        Choosing { sheet: &silent, substrate: None, method: None, area_m2: 5.0, thinner_pct: 0.0, alone: false, repair: false };
    let chosen = choosing.choose(&lists.validate(Prefs::METRIC).unwrap().items);
    let mut book = Book::begun(&silent, Substrate::BlastedSteel, 5.0);
    book.kept.entries[0].payload["items"] = serde_json::to_value(chosen).unwrap();
    let read = json!({ "item": "roughness", "did": "done", "read_um": 55.0 });
    book.write(Role::Applicator, EntryKind::Tick, read).unwrap();
    assert_eq!(book.item("roughness").0, ItemState::Held, "no profile is stated to judge it by");
    book.tick("mix", "done").unwrap();
    assert_eq!(book.item("mix").0, ItemState::Open, "nobody said how long it is good for");
    book.tick("rest", "start").unwrap();
    assert_eq!(book.wait(5.0).item("rest").0, ItemState::Running, "without a time it is over when a hand stops it");
    book.tick("rest", "stop").unwrap();
    assert_eq!(book.item("rest"), (ItemState::Done, "5 min".into()));
    assert!(book.held("roughness") && !book.held("rest"));
}

/// A timer counts down to its least, is enough up to its most, and is too long one second after it.
#[test]
fn a_timer_says_how_long_to_go_and_when_it_is_enough() {
    let stir = json!({ "key": "stir", "group": "surface", "text": "stir", "before": "spray",
        "what": { "kind": "timer", "least_s": 600.0, "most_s": 900.0 } });
    let lists: ReadyLists = serde_json::from_value(json!({ "items": [stir] })).unwrap();
    let silent = sheet(json!({}));
    let choosing =
        Choosing { sheet: &silent, substrate: None, method: None, area_m2: 5.0, thinner_pct: 0.0, alone: false, repair: false };
    let chosen = choosing.choose(&lists.validate(Prefs::METRIC).unwrap().items);
    let mut book = Book::begun(&silent, Substrate::BlastedSteel, 5.0);
    book.kept.entries[0].payload["items"] = serde_json::to_value(chosen).unwrap();
    book.tick("stir", "start").unwrap();
    assert_eq!(book.wait(4.0).item("stir"), (ItemState::Running, "6 min to go".into()));
    let now = states(&book.record(), book.now, Prefs::METRIC).into_iter().find(|(i, _)| i.key == "stir").unwrap().1;
    assert_eq!((now.ran_s, now.changes_s), (Some(240.0), Some(360.0)));
    assert_eq!(book.wait(6.0).item("stir"), (ItemState::Running, "enough: stop now".into()));
    assert_eq!(book.wait(5.0).item("stir").0, ItemState::Running, "the most is not over it");
    assert_eq!(book.wait(0.1).item("stir").0, ItemState::Held);
}

#[test]
fn a_mock_up_is_approved_by_a_lead_who_names_the_sample() {
    let large = sheet(json!({ "mock_up_over_m2": 9.29 }));
    let mut book = Book::begun(&large, Substrate::BlastedSteel, 20.0);
    let approve = |text: Value| json!({ "item": "mock_up", "did": "done", "text": text });
    assert_eq!(book.write(Role::Applicator, EntryKind::Tick, approve(json!("sample 4"))).unwrap_err().why, Why::Forbidden);
    assert_eq!(book.write(Role::Inspector, EntryKind::Tick, approve(json!("sample 4"))).unwrap_err().why, Why::Forbidden);
    assert_eq!(book.write(Role::Lead, EntryKind::Tick, approve(Value::Null)).unwrap_err().field.as_deref(), Some("text"));
    book.write(Role::Lead, EntryKind::Tick, approve(json!("sample 4"))).unwrap();
    assert_eq!(book.item("mock_up"), (ItemState::Done, "approved: sample 4".into()));
}

#[test]
fn what_is_not_ready_refuses_the_act_it_stands_before() {
    let mut book = Book::begun(&sheet(json!({})), Substrate::Foam, 5.0);
    let waits = |book: &Book, act: Act| {
        let held = gates::before(&Case::alone(&book.record()), act, None, book.now, Prefs::METRIC).holds;
        held.into_iter().filter(|h| h.gate == GateName::Lists).filter_map(|h| h.item).collect::<Vec<_>>()
    };
    assert_eq!(waits(&book, Act::Combine), ["lot_base", "lot_hardener", "containers", "stir_base", "stir_hardener"]);
    assert!(waits(&book, Act::Spray).contains(&"foam_skin".to_string()));
    for item in ["containers", "stir_base", "stir_hardener"] {
        book.tick(item, "done").unwrap();
    }
    let take = |code: &str, stand: Value| json!({ "component": "base", "lot": { "id": Uuid::from_u128(9), "code": code, "stand": stand } });
    let expired = take("P-1", json!({ "received": true, "expires_at": "2026-05-04T00:00:00Z" }));
    let refused = book.write(Role::Lead, EntryKind::TakeLot, expired).unwrap_err();
    assert_eq!((refused.why, refused.code.as_str()), (Why::Stop, "expired-lot"));
    let second = take("P-3", json!({ "received": true, "expires_at": "2026-06-04T00:00:00Z", "first": "P-2" }));
    let refused = book.write(Role::Lead, EntryKind::TakeLot, second.clone()).unwrap_err();
    assert_eq!((refused.code.as_str(), refused.field.as_deref()), ("not-first-in", Some("reason")));
    let mut why = second;
    why["reason"] = json!("P-2 is frozen in");
    book.write(Role::Applicator, EntryKind::TakeLot, why).unwrap();
    assert_eq!(waits(&book, Act::Combine), ["lot_hardener"]);
    // Its date runs out while the work goes on: a stop, which nobody releases.
    book.wait(31.0 * 24.0 * 60.0);
    let held = gates::all(&Case::alone(&book.record()), book.now, Prefs::METRIC);
    let lot = held.iter().find(|h| h.gate == GateName::Lots).unwrap();
    assert_eq!((lot.severity, lot.item.as_deref()), (Severity::Stop, Some("expired-lot P-3")));
}

#[test]
fn readings_an_hour_old_hold_until_they_are_read_again() {
    let mut book = Book::begun(&sheet(json!({})), Substrate::Foam, 5.0);
    let read = json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 20.0, "rh_pct": 60.0 });
    book.write(Role::Applicator, EntryKind::Conditions, read.clone()).unwrap();
    assert!(!book.wait(60.0).held("old-reading"));
    assert!(book.wait(1.0).held("old-reading"));
    let release =
        json!({ "gate": "conditions", "item": "old-reading", "reason": "nothing moved", "seen_seq": book.record().log.head_seq });
    book.write(Role::Lead, EntryKind::Release, release).unwrap();
    assert!(!book.held("old-reading"));
    book.write(Role::Applicator, EntryKind::Conditions, read).unwrap();
    assert!(book.wait(61.0).held("old-reading"), "the release was for the first reading");
}
