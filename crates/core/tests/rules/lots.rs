//! The book of a lot: what may be written in it, by whom, what it adds up to, and what it says.

use jiff::civil::date;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::book::{Asking, Entry, InMemory, Ledger, LedgerKind, Line, Wanted};
use level_keel_core::people::{Role, Writer};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::{Refusal, Why};
use level_keel_core::stores::check::{Around, may_lot};
use level_keel_core::stores::lot::left_g;
use level_keel_core::stores::{Lot, LotKind, LotPayload, StoreClass};
use level_keel_core::worded::{VariantArray, Worded};
use serde_json::{Value, json};
use uuid::Uuid;

/// The book of one lot, as the stores keep it.
struct Book {
    kept: InMemory<Lot>,
    now: Timestamp,
    around: Around,
}

impl Book {
    fn new() -> Book {
        let around = Around { class: None, clash: None, today: date(2026, 5, 4) };
        Book { kept: InMemory::new(Uuid::from_u128(6)), now: "2026-05-04T08:00:00Z".parse().unwrap(), around }
    }

    fn received() -> Book {
        let mut book = Book::new();
        book.write(Role::Applicator, LotKind::Received, receipt(json!({}))).unwrap();
        book
    }

    fn lot(&self) -> Lot {
        self.kept.fold()
    }

    fn write(&mut self, role: Role, kind: LotKind, payload: Value) -> Result<Uuid, Refusal> {
        self.write_at(role, kind, payload, self.now)
    }

    /// Written now, of an instant.
    fn write_at(&mut self, role: Role, kind: LotKind, payload: Value, happened: Timestamp) -> Result<Uuid, Refusal> {
        let id = Uuid::from_u128(1001 + self.kept.entries.len() as u128);
        let writer = Writer { id: Uuid::from_u128(100 + role as u128), role, prefs: Prefs::METRIC, works_alone: false };
        let asked = Asking { writer: &writer, beside: &self.around, now: self.now };
        self.kept.write(Wanted { id, kind, payload, happened }, role.word(), &asked)?;
        Ok(id)
    }

    fn lines(&self) -> Vec<String> {
        let lot = self.lot();
        let said = |line: &Line<LotKind, LotPayload>| {
            line.said.as_deref().map_or("cannot be read".into(), |said| lot.words(said, Prefs::METRIC))
        };
        lot.log.iter().map(|line| said(line).replace('\u{a0}', " ")).collect()
    }
}

fn receipt(changes: Value) -> Value {
    let mut body = json!({ "code": "P-1", "sheet": Uuid::nil(), "product": "Primer", "component": "base", "received": "2026-05-04",
        "container_g": 20_000.0, "containers_count": 3.0 });
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    body
}

fn place(n: u128, name: &str) -> Value {
    json!({ "place": { "id": Uuid::from_u128(n), "name": name } })
}

fn because(reason: &str) -> Value {
    json!({ "reason": reason })
}

/// What each kind may say that is right, once the lot is in the stores.
fn sound(kind: LotKind, of: Uuid) -> Value {
    match kind {
        LotKind::Received => receipt(json!({})),
        LotKind::Counted => json!({ "left_g": 30_000.0 }),
        LotKind::Moved => place(5, "Cage"),
        LotKind::Quarantined | LotKind::Freed | LotKind::Damaged => because("seen today"),
        LotKind::Certified => json!({ "values": [{ "name": "gel time", "value": "14 min" }] }),
        LotKind::Note => json!({ "text": "stands at the back" }),
        LotKind::Strike => json!({ "entry": of, "reason": "wrong lot" }),
    }
}

/// Everyone writes everything; only who may free a lot frees it.
#[test]
fn who_may_write_what() {
    for kind in LotKind::VARIANTS {
        let row: Vec<bool> = Role::VARIANTS.iter().map(|role| may_lot(*role, *kind)).collect(); // applicator, lead, inspector, owner
        let wanted = if *kind == LotKind::Freed { [false, true, true, true] } else { [true; 4] };
        assert_eq!(row, wanted, "{}", kind.name());
    }
    let mut book = Book::received();
    book.write(Role::Applicator, LotKind::Quarantined, because("gelled in the can")).unwrap();
    let refusal = book.write(Role::Applicator, LotKind::Freed, because("it is fine")).unwrap_err();
    assert_eq!((refusal.why, refusal.code.as_str()), (Why::Forbidden, "not-your-role"));
    book.write(Role::Inspector, LotKind::Freed, because("the maker says so")).unwrap();
    assert_eq!(book.lot().quarantined, None);
}

/// Before its receipt a lot can only be received, held back, noted or struck: there is nothing yet to count or move.
#[test]
fn a_lot_that_is_not_received_is_received_first() {
    for kind in LotKind::VARIANTS.iter().copied() {
        let mut book = Book::new();
        let note = book.write(Role::Lead, LotKind::Note, json!({ "text": "on its way" })).unwrap();
        let answer = book.write(Role::Lead, kind, sound(kind, note));
        let code = answer.err().map(|r| r.code);
        let waits = matches!(kind, LotKind::Counted | LotKind::Moved | LotKind::Freed | LotKind::Damaged | LotKind::Certified);
        assert_eq!(code.as_deref(), waits.then_some("not-received"), "{}", kind.name());
    }
    let mut book = Book::received();
    assert_eq!(book.write(Role::Lead, LotKind::Received, receipt(json!({}))).unwrap_err().code, "received-already");
    assert_eq!(book.write(Role::Lead, LotKind::Freed, because("x")).unwrap_err().code, "not-quarantined");
}

#[test]
fn what_is_wrong_with_a_receipt_is_named() {
    for (change, field) in [
        (json!({ "code": " " }), "code"),
        (json!({ "code": "P".repeat(41) }), "code"),
        (json!({ "makers_lot": "M".repeat(41) }), "makers_lot"),
        (json!({ "colour": "c".repeat(200) }), "colour"),
        (json!({ "container_g": -1.0 }), "container_g"),
        (json!({ "container_g": 1e12 }), "container_g"),
        (json!({ "containers_count": 0.0 }), "containers_count"),
        (json!({ "containers_count": 0.5 }), "containers_count"),
        (json!({ "containers_count": 2.5 }), "containers_count"),
        (json!({ "shelf_life_days": 0 }), "shelf_life_days"),
        (json!({ "shelf_life_days": 3651 }), "shelf_life_days"),
        (json!({ "received": "2026-05-05" }), "received"),
        (json!({ "received": "1989-12-31" }), "received"),
        (json!({ "made": "2026-05-05" }), "made"),
        (json!({ "made": "1989-12-31" }), "made"),
        (json!({ "expires": "2101-01-01" }), "expires"),
        (json!({ "made": "2026-05-01", "expires": "2026-04-30" }), "expires"),
        (json!({ "paint": true }), "paint"),
    ] {
        let mut book = Book::new();
        let refusal = book.write(Role::Lead, LotKind::Received, receipt(change.clone())).expect_err(&change.to_string());
        assert_eq!((refusal.why, refusal.field.as_deref()), (Why::BadInput, Some(field)), "{change}: {}", refusal.text);
    }
    // On the limit is in it.
    for change in [
        json!({ "code": "P".repeat(40), "makers_lot": "M".repeat(40) }),
        json!({ "containers_count": 1.0, "shelf_life_days": 1 }),
        json!({ "shelf_life_days": 3650, "made": "2026-05-04" }),
        json!({ "received": "1990-01-01", "made": "1990-01-01", "expires": "2100-12-31" }),
        json!({ "made": "2026-05-01", "expires": "2026-05-01" }),
    ] {
        Book::new()
            .write(Role::Lead, LotKind::Received, receipt(change.clone()))
            .unwrap_or_else(|r| panic!("{change}: {}", r.text));
    }
}

#[test]
fn what_is_wrong_with_any_other_entry_is_named() {
    let value = |n: usize| json!({ "name": format!("value {n}"), "value": "1" });
    let values = |count: usize| json!({ "values": (0..count).map(value).collect::<Vec<_>>() });
    let bad = json!({ "values": [value(1), { "name": "density", "value": "" }] });
    for (kind, payload, field) in [
        (LotKind::Counted, json!({ "left_g": -0.1 }), "left_g"),
        (LotKind::Counted, json!({}), "left_g"),
        (LotKind::Moved, place(5, " "), "place"),
        (LotKind::Quarantined, because(""), "reason"),
        (LotKind::Damaged, because("  "), "reason"),
        (LotKind::Certified, json!({}), "values"),
        (LotKind::Certified, values(21), "values"),
        (LotKind::Certified, bad, "values[1].value"),
        (LotKind::Certified, json!({ "values": [{ "name": "", "value": "2" }] }), "values[0].name"),
        (LotKind::Note, json!({ "text": "" }), "text"),
        (LotKind::Strike, json!({ "entry": Uuid::nil(), "reason": "twice" }), "entry"),
        (LotKind::Strike, json!({ "entry": Uuid::nil(), "reason": "" }), "reason"),
    ] {
        let refusal = Book::received().write(Role::Owner, kind, payload.clone()).expect_err(&payload.to_string());
        assert_eq!((refusal.why, refusal.field.as_deref()), (Why::BadInput, Some(field)), "{payload}: {}", refusal.text);
    }
    Book::received().write(Role::Lead, LotKind::Certified, values(20)).unwrap();
    let paper = json!({ "paper": { "sha256": "0".repeat(64), "name": "paper.pdf" } });
    Book::received().write(Role::Lead, LotKind::Certified, paper).unwrap();
    let refusal = Lot::decode(LotKind::Note, 2, &json!({ "text": "a" })).unwrap_err();
    assert_eq!(refusal.field.as_deref(), Some("version"));
}

/// An entry is of the last 24 h and never of a time to come, but for the second two clocks may differ.
#[test]
fn an_entry_is_of_the_last_day() {
    for (ago_s, allowed) in [(-2, false), (-1, true), (0, true), (24 * 3600, true), (24 * 3600 + 1, false)] {
        let mut book = Book::received();
        let then = book.now - SignedDuration::from_secs(ago_s);
        let answer = book.write_at(Role::Lead, LotKind::Note, json!({ "text": "seen" }), then);
        assert_eq!(answer.is_ok(), allowed, "{ago_s} s ago");
        assert_eq!(answer.err().and_then(|r| r.field), (!allowed).then(|| "ago_s".to_string()));
    }
}

/// Peroxide and what it cures never share a place, whether a lot comes in or is moved; the words say which is which.
#[test]
fn a_place_refuses_what_burns_beside_what_stands_there() {
    for (class, clash, refused) in [
        (Some(StoreClass::Peroxide), Some("G-7"), Some("Peroxide may not stand beside resin or gel coat: lot G-7")),
        (Some(StoreClass::Resin), Some("X-2"), Some("Resin or gel coat may not stand beside peroxide: lot X-2")),
        (Some(StoreClass::Peroxide), None, None),
        (None, Some("G-7"), None),
    ] {
        let around = Around { class, clash: clash.map(String::from), today: date(2026, 5, 4) };
        let receiving = Book { around: around.clone(), ..Book::new() }.write(Role::Owner, LotKind::Received, receipt(json!({})));
        let moving = Book { around, ..Book::received() }.write(Role::Owner, LotKind::Moved, place(5, "Cage"));
        for answer in [receiving, moving] {
            match refused {
                None => drop(answer.unwrap()),
                Some(words) => {
                    let refusal = answer.unwrap_err();
                    assert_eq!((refusal.why, refusal.field.as_deref()), (Why::Stop, Some("place")));
                    assert!(refusal.text.starts_with(words), "{}", refusal.text);
                }
            }
        }
    }
}

/// Who wrote an entry strikes it; a lead or the owner strikes anyone's; nobody strikes twice, or a strike.
#[test]
fn an_entry_is_struck_by_its_writer_or_a_lead() {
    let strike = |entry: Uuid| json!({ "entry": entry, "reason": "wrong shelf" });
    let written = || {
        let mut book = Book::received();
        let moved = book.write(Role::Applicator, LotKind::Moved, place(5, "Cage")).unwrap();
        (book, moved)
    };
    for (role, allowed) in [(Role::Applicator, true), (Role::Lead, true), (Role::Inspector, false), (Role::Owner, true)] {
        let (mut book, moved) = written();
        assert_eq!(book.write(role, LotKind::Strike, strike(moved)).is_ok(), allowed, "{}", role.word());
        assert_eq!(book.lot().place.is_none(), allowed, "struck, it stands nowhere again");
    }
    let (mut book, moved) = written();
    let struck = book.write(Role::Applicator, LotKind::Strike, strike(moved)).unwrap();
    assert_eq!(book.write(Role::Owner, LotKind::Strike, strike(moved)).unwrap_err().code, "struck-already");
    assert_eq!(book.write(Role::Owner, LotKind::Strike, strike(struck)).unwrap_err().code, "not-strikable");
    assert_eq!(book.lot().log[1].struck.as_deref(), Some("applicator: wrong shelf"));
    // Striking a quarantine frees the lot: its own writer may not, where it could not free it.
    let mut book = Book::received();
    let held = book.write(Role::Applicator, LotKind::Quarantined, because("recall")).unwrap();
    assert_eq!(book.write(Role::Applicator, LotKind::Strike, strike(held)).unwrap_err().why, Why::Forbidden);
    book.write(Role::Lead, LotKind::Strike, strike(held)).unwrap();
    assert_eq!(book.lot().quarantined, None);
}

/// Each entry says in the log what it did, in the reader's units; one that cannot be read says that.
#[test]
fn the_log_of_a_lot_says_what_was_done() {
    let mut book = Book::new();
    book.write(Role::Lead, LotKind::Received, receipt(place(4, "Shelf"))).unwrap();
    let note = book.write(Role::Lead, LotKind::Note, json!({ "text": "stands at the back" })).unwrap();
    for kind in [LotKind::Counted, LotKind::Moved, LotKind::Quarantined, LotKind::Freed, LotKind::Damaged, LotKind::Strike] {
        book.write(Role::Lead, kind, sound(kind, note)).unwrap();
    }
    let paper = json!({ "sha256": "0".repeat(64), "name": "paper.pdf" });
    let values = json!([{ "name": "gel time", "value": "14 min" }, { "name": "density", "value": "1.2 kg/L" }]);
    book.write(Role::Lead, LotKind::Certified, json!({ "values": values, "paper": paper })).unwrap();
    // As a version to come might write it.
    let last = book.kept.entries.last().unwrap().clone();
    let (kind, payload, hash) = (LotKind::Counted, json!({ "left": 1 }), "hash 10".to_string());
    book.kept.entries.push(Entry { id: Uuid::from_u128(1), seq: 10, kind, payload, hash, ..last });
    insta::assert_snapshot!(book.lines().join("\n"), @r"
    Received 3 × 20 kg, Shelf
    stands at the back
    Counted 30 kg
    Moved to Cage
    Quarantined: seen today
    Freed: seen today
    Container damaged: seen today
    Struck an entry: wrong lot
    Certificate: gel time 14 min, density 1.2 kg/L (paper.pdf)
    cannot be read
    ");
    let lot = book.lot();
    assert_eq!((lot.log.head_seq, lot.log.head_hash.as_str(), lot.certificates.len()), (10, "hash 10", 1));
    assert_eq!((lot.damaged.as_deref(), lot.place.map(|p| p.name).as_deref()), (Some("seen today"), Some("Cage")));
    assert_eq!(lot.counted, Some((30_000.0, book.now)), "what cannot be read counts nothing");
}

/// What is left is the last count less what was taken after it; never less than nothing; not known without either.
#[test]
fn what_is_left_follows_the_last_count() {
    let at = |minutes: i64| "2026-05-04T08:00:00Z".parse::<Timestamp>().unwrap() + SignedDuration::from_mins(minutes);
    let taken = [(at(0), 100.0), (at(10), 200.0), (at(20), 300.0)];
    assert_eq!(left_g(Some(1000.0), None, &taken), Some(400.0));
    assert_eq!(left_g(Some(1000.0), Some((900.0, at(10))), &taken), Some(600.0), "what was taken as it was counted is counted");
    assert_eq!(left_g(None, Some((900.0, at(9))), &taken), Some(400.0));
    assert_eq!(left_g(Some(500.0), None, &taken), Some(0.0));
    assert_eq!(left_g(None, None, &taken), None);
}
