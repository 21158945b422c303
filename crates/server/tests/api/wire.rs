use super::client::{Client, applicator, lead};
use level_keel_core::batch::{EntryKind, StationName};
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_harness::{ReadSql, Shop};
use level_keel_server::auth::Person;
use level_keel_server::board;
use level_keel_server::books::{NewEntry, Writing};
use serde_json::{Value, json};
use sqlx::PgPool;
use std::collections::BTreeSet;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::Duration;
use tracing::Dispatch;
use tracing::instrument::WithSubscriber;
use tracing_subscriber::layer::{Context, Layer, SubscriberExt};
use tracing_subscriber::registry::Registry;
use uuid::Uuid;

#[sqlx::test]
async fn headers_cookie_and_addresses(db: PgPool) {
    let shop = Shop::open(db).await;
    let http = reqwest::Client::new();
    let health = http.get(format!("{}/healthz", shop.address)).send().await.unwrap();
    assert_eq!(health.status(), 200);
    let csp = health.headers()["content-security-policy"].to_str().unwrap().to_string();
    assert!(csp.contains("default-src 'none'") && !csp.contains("unsafe"), "{csp}");
    for (name, value) in [
        ("x-content-type-options", "nosniff"),
        ("x-frame-options", "DENY"),
        ("referrer-policy", "no-referrer"),
        ("cross-origin-opener-policy", "same-origin"),
        ("cross-origin-resource-policy", "same-origin"),
        ("cache-control", "no-store"),
    ] {
        assert_eq!(health.headers()[name], value, "{name}");
    }
    let missing = http.get(format!("{}/assets/no-such.js", shop.address)).send().await.unwrap();
    assert_eq!(missing.status(), 404, "a missing asset is not the page");
    // A stranger is not told what there is; who is signed in reads that it is not there.
    let signed = applicator(&shop).await;
    for (asks, status) in [(&http, 401), (&signed.http, 404)] {
        let nowhere = asks.get(format!("{}/api/v1/no-such", shop.address)).send().await.unwrap();
        let told = (nowhere.status().as_u16(), nowhere.headers()["content-type"].to_str().unwrap());
        assert_eq!(told, (status, "application/problem+json"));
    }
    shop.close().await;
}

#[sqlx::test]
async fn broken_large_and_lost_requests(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let post = |body: Vec<u8>| {
        client
            .http
            .post(format!("{}/books/{book}/entries", client.base))
            .header("content-type", "application/json")
            .body(body)
            .send()
    };
    let broken = post(b"{\"id\": ".to_vec()).await.unwrap();
    assert_eq!(broken.status(), 400);
    assert_eq!(broken.json::<serde_json::Value>().await.unwrap()["code"], "not-understood");
    let huge = post(vec![b' '; 5 * 1024 * 1024]).await;
    // The server may answer or close the door while five megabytes are still coming.
    assert!(huge.is_err() || huge.unwrap().status() == 413);
    let (status, body) = client.write(&Uuid::now_v7().to_string(), "note", json!({ "text": "x" })).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (404, Some("not-found")));
    assert_eq!(client.write("not-an-id", "note", json!({ "text": "x" })).await.0, 404);
    assert_eq!(client.get(&format!("/batches/{}", Uuid::now_v7())).await.0, 404);
    let (status, _) = client.write(&book, "note", json!("text")).await;
    assert_eq!(status, 422);
    shop.close().await;
}

/// The committed document is what the server says of itself.
#[test]
fn the_committed_openapi_document_is_current() {
    let committed = include_str!("../../../../openapi.json");
    let now = serde_json::to_string_pretty(&level_keel_server::routes::openapi()).unwrap();
    assert_eq!(committed.trim(), now.trim(), "run script/generate and commit");
}

/// Every answer says what it is: a description is what the standard asks of each, and what a reader of the document has.
#[test]
fn every_answer_is_described() {
    let doc = level_keel_server::routes::openapi();
    let mut seen = 0;
    for (path, methods) in doc["paths"].as_object().unwrap() {
        for (method, operation) in methods.as_object().unwrap() {
            for (status, answer) in operation["responses"].as_object().unwrap() {
                let text = answer["description"].as_str().unwrap_or_default();
                assert!(!text.trim().is_empty(), "{method} {path} {status}");
                seen += 1;
            }
        }
    }
    assert!(seen > 150, "{seen}");
}

/// Each kind that is sent from outside has its own branch in the document, with what it carries as it is typed.
#[test]
fn the_document_says_what_each_kind_of_entry_carries() {
    use level_keel_core::batch::EntryKind;
    use level_keel_core::book::LedgerKind;
    use level_keel_core::worded::VariantArray;
    let doc = level_keel_server::routes::openapi();
    let schema = |name: &str| doc["components"]["schemas"][name].clone();
    let branches = schema("NewBatchEntry")["oneOf"].as_array().unwrap().clone();
    let kinds: Vec<&str> = branches.iter().map(|b| b["properties"]["kind"]["enum"][0].as_str().unwrap()).collect();
    let sent: Vec<&str> = EntryKind::VARIANTS.iter().filter(|k| k.written_inside().is_none()).map(|k| k.name()).collect();
    assert_eq!(kinds, sent);
    assert!(!kinds.contains(&"begin") && !kinds.contains(&"take_over"), "what the server alone writes is not offered");
    for branch in &branches {
        let target = branch["properties"]["payload"]["$ref"].as_str().unwrap().rsplit('/').next().unwrap().to_string();
        assert_eq!(schema(&target)["type"], "object", "{target}");
    }
    // A quantity is a number or a text; what the server fills in is not sent; a lot is sent by its code.
    let pour = schema("PourTyped");
    assert_eq!(pour["properties"]["reading_g"]["type"], json!(["number", "string"]));
    assert_eq!(pour["properties"]["lot"]["type"], json!(["string", "null"]));
    assert!(!pour["required"].as_array().unwrap().contains(&json!("resolution_g")), "the scale says it");
    let set_up = schema("SetUpTyped");
    assert!(set_up["properties"]["gauge_pot_kpa"].is_null() && set_up["properties"]["pot_kpa"].is_object());
    // A quantity deep in a payload is typed as well: the mark of a cup.
    assert_eq!(schema("ByMarkTyped")["properties"]["level_mm"]["type"], json!(["number", "string"]));
    assert_eq!(schema("NewPlaceEntry")["oneOf"].as_array().unwrap().len(), 2, "a reading and a strike");
    assert_eq!(schema("NewRigEntry")["oneOf"].as_array().unwrap().len(), 11);
    assert_eq!(schema("NewInstrumentEntry")["oneOf"].as_array().unwrap().len(), 3);
    assert_eq!(schema("NewLotEntry")["oneOf"].as_array().unwrap().len(), 9);
}

/// What a browser sends is described to its last field: nothing in a request is "any object", so that the page's compiler checks
/// all of it.
#[test]
fn nothing_that_is_sent_is_any_object() {
    let doc = level_keel_server::routes::openapi();
    let mut sent = BTreeSet::new();
    for methods in doc["paths"].as_object().unwrap().values() {
        for operation in methods.as_object().unwrap().values() {
            named(&operation["requestBody"], &mut sent);
        }
    }
    let mut looked = BTreeSet::new();
    let mut bare = Vec::new();
    while let Some(name) = sent.pop_first() {
        let schema = &doc["components"]["schemas"][&name];
        without_type(schema, &name, &mut bare);
        looked.insert(name);
        let mut inner = BTreeSet::new();
        named(schema, &mut inner);
        sent.extend(inner.difference(&looked).cloned());
    }
    assert!(looked.len() > 80 && looked.contains("SheetTyped") && looked.contains("RigForm"), "{looked:?}");
    assert_eq!(bare, [""; 0]);
}

/// The schemas a part of the document names.
fn named(of: &Value, found: &mut BTreeSet<String>) {
    match of {
        Value::Object(map) => map.iter().for_each(|(key, inner)| match inner.as_str().filter(|_| key == "$ref") {
            Some(target) => drop(found.insert(target.rsplit('/').next().unwrap().to_string())),
            None => named(inner, found),
        }),
        Value::Array(items) => items.iter().for_each(|inner| named(inner, found)),
        _ => {}
    }
}

/// Fields of a schema that may be anything.
fn without_type(schema: &Value, path: &str, found: &mut Vec<String>) {
    let says = ["properties", "additionalProperties", "allOf", "oneOf", "anyOf", "$ref", "enum", "items"];
    let kind = &schema["type"];
    let plain = kind.is_array() || kind.as_str().is_some_and(|k| k != "object" && k != "array");
    if !plain && says.iter().all(|part| schema[part].is_null()) {
        found.push(path.to_string());
    }
    for (field, inner) in schema["properties"].as_object().into_iter().flatten() {
        without_type(inner, &format!("{path}.{field}"), found);
    }
    for part in ["allOf", "oneOf", "anyOf"] {
        for inner in schema[part].as_array().into_iter().flatten() {
            without_type(inner, &format!("{path}.{part}"), found);
        }
    }
}

/// The board of forty open batches is one statement, once their records were read.
#[sqlx::test]
async fn the_board_of_forty_batches_is_two_statements(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let open = client.get("/board").await.1["batches"].as_array().unwrap().len();
    for _ in open..40 {
        client.begun().await;
    }
    let person = Person {
        id: sqlx::query_scalar("select id from person limit 1").fetch_one(&shop.state.db).await.unwrap(),
        name: "Ansa Reef".into(),
        role: Role::Applicator,
        prefs: Prefs::METRIC,
        session: Uuid::nil(),
        works_alone: false,
    };
    let counted = async || {
        let (seen, statements) = counting(board::read(&shop.state, &person)).await;
        (seen.unwrap().batches.len(), statements)
    };
    let (_, cold) = counted().await;
    assert!(cold >= 1, "statements are counted");
    // One for the batches, one for the rigs that were put under pressure.
    assert_eq!(counted().await, (40, 2));
    // One that is written in is read again, and no other.
    let (_, board) = client.get("/board").await;
    client.wrote(board["batches"][0]["id"].as_str().unwrap(), "note", json!({ "text": "Rain at the door." })).await;
    assert_eq!(counted().await, (40, 2), "its writer kept it");
    shop.close().await;
}

/// What is typed asks the database for the head of its book and for what stands beside it, and is rolled back: nothing more.
#[sqlx::test]
async fn a_dry_run_asks_little_and_waits_for_no_writer(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let book = Uuid::parse_str(&book).unwrap();
    let person = sqlx::query_scalar("select id from person where name = 'Ansa Reef'").fetch_one(&shop.state.db).await.unwrap();
    let person = Person {
        id: person,
        name: "Ansa Reef".into(),
        role: Role::Applicator,
        prefs: Prefs::METRIC,
        session: Uuid::nil(),
        works_alone: false,
    };
    let air = json!({ "air_c": 21.0, "rh_pct": 50.0, "surface_c": 20.0, "material_c": 20.0 });
    let typed = async || {
        let station = Some(StationName::Mix);
        let writing = Writing { dry_run: true, view: true, station, ..Writing::of(&shop.state, &person, shop.state.clock.now()) };
        let entry = NewEntry::now(Uuid::now_v7(), EntryKind::Conditions, air.clone());
        let (written, statements) = counting(writing.append(book, entry)).await;
        let written = written.unwrap();
        assert!(written.refusals.is_empty() && !written.stored, "{:?}", written.refusals);
        let shown = serde_json::to_value(written.view.unwrap()).unwrap();
        assert!(shown["mix"].is_object(), "the answer shows the station");
        statements
    };
    assert_eq!(typed().await, 3);
    // Another hand is writing in this very book, and is not done.
    let mut writer = shop.state.db.begin().await.unwrap();
    sqlx::query("select head_seq from book where id = $1 for update").bind(book).execute(&mut *writer).await.unwrap();
    // A bound against hanging, not a measure: it would wait until the writer is done, which is never.
    let answered = tokio::time::timeout(Duration::from_secs(20), typed()).await;
    assert_eq!(answered.expect("an answer while somebody writes"), 3);
    writer.rollback().await.unwrap();
    shop.close().await;
}

/// The load sends the server's own SQL bare, to have something to stand beside: every statement of it is still one of the server's.
#[test]
fn the_load_finds_the_sql_by_which_a_batch_is_read() {
    let sql = ReadSql::prepared();
    assert!(sql.session.contains("from session") && sql.beside.contains("from batch b join book"), "{}", sql.beside);
}

/// What comes of some work, and how many statements it sent.
async fn counting<T>(work: impl Future<Output = T>) -> (T, usize) {
    let asked = Asked::default();
    // A second one that listens to nothing: with one alone, a test beside this one decides by its own thread that nobody listens.
    let _second = Dispatch::new(Registry::default().with(Asked::default()));
    let done = work.with_subscriber(Registry::default().with(asked.clone())).await;
    (done, asked.0.load(Ordering::Relaxed))
}

/// Counts the statements that are sent while it listens.
#[derive(Clone, Default)]
struct Asked(Arc<AtomicUsize>);

impl<S: tracing::Subscriber> Layer<S> for Asked {
    fn on_event(&self, event: &tracing::Event<'_>, _: Context<'_, S>) {
        if event.metadata().target() == "sqlx::query" {
            self.0.fetch_add(1, Ordering::Relaxed);
        }
    }
}

/// A browser asks for the station it shows: the head and that one panel come, a dry run likewise, and neither is large. A third of
/// what a dry run was before, 60 kB, is the most.
#[sqlx::test]
async fn a_station_at_a_time(db: PgPool) {
    const MOST_BYTES: usize = 20_000;
    let shop = Shop::open(db).await;
    let client = lead(&shop).await;
    let (_, board) = client.get("/board").await;
    let panels = ["ready", "mix", "set", "prove", "spray", "close"];
    for batch in board["batches"].as_array().unwrap() {
        let id = batch["id"].as_str().unwrap();
        let (_, whole) = client.get(&format!("/batches/{id}")).await;
        assert!(panels.iter().all(|p| whole[p].is_object()), "without a station all of them come");
        for station in panels {
            let (status, one) = client.get(&format!("/batches/{id}?station={station}")).await;
            assert_eq!(status, 200, "{one}");
            let there: Vec<&str> = panels.into_iter().filter(|p| !one[p].is_null()).collect();
            assert_eq!(there, [station]);
            assert_eq!((&one["title"], &one["stations"]), (&whole["title"], &whole["stations"]), "the head is the same");
            assert_eq!(one["log"].as_array().unwrap().len(), 3);
            assert_eq!(one["log_count"], whole["log"].as_array().unwrap().len());
        }
        for (station, kind, payload) in [
            ("set", "set_up", json!({ "pot_kpa": "10 psi", "stream_mm": "9 in", "atomizing_kpa": "45 psi" })),
            ("mix", "open_charge", json!({ "charge": Uuid::now_v7(), "kind": "pot", "wanted_ml": "2 L" })),
        ] {
            let entry = json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload });
            let (status, answer) = client.post(&format!("/books/{id}/entries?dry_run=true&station={station}"), entry).await;
            assert_eq!(status, 200, "{answer}");
            let there: Vec<&str> = panels.into_iter().filter(|p| !answer["view"][p].is_null()).collect();
            assert!(there.is_empty() || there == [station], "{there:?}");
            assert!(answer.to_string().len() <= MOST_BYTES, "{kind} in {}: {}", batch["label"], answer.to_string().len());
        }
    }
    let (_, log) = client.get(&format!("/batches/{}/log", board["batches"][0]["id"].as_str().unwrap())).await;
    assert!(log.as_array().unwrap().iter().any(|line| line["may_strike"] == true), "a lead may strike");
    assert!(log.as_array().unwrap().iter().all(|line| line["kind"] != "begin" || line["may_strike"] == false));
    assert_eq!(client.get(&format!("/batches/{}/log", Uuid::now_v7())).await.0, 404);
    // Lists carry rows: seven sheets are a few kilobytes.
    let (_, sheets) = client.get("/sheets").await;
    assert!(sheets.to_string().len() < 1_000 * sheets.as_array().unwrap().len(), "{}", sheets.to_string().len());
    assert!(sheets.as_array().unwrap().iter().all(|s| s["sheet"].is_null() && s["name"].is_string()));
    assert!(board.to_string().len() < 20_000, "{}", board.to_string().len());
    shop.close().await;
}

/// Answers of over a kilobyte are packed where the browser takes it; small ones and streams are not.
#[sqlx::test]
async fn large_answers_are_packed(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = lead(&shop).await;
    let asks = |path: &str| client.http.get(format!("{}{path}", client.base)).header("accept-encoding", "gzip");
    let encoding = |answer: &reqwest::Response| answer.headers().get("content-encoding").map(|v| v.to_str().unwrap().to_string());
    let board = asks("/board").send().await.unwrap();
    assert_eq!(encoding(&board).as_deref(), Some("gzip"));
    assert!(board.bytes().await.unwrap().len() < 8_000);
    let small = asks("/people").send().await.unwrap();
    assert_ne!(encoding(&small).as_deref(), Some("gzip"));
    let live = asks("/live").send().await.unwrap();
    assert_ne!(encoding(&live).as_deref(), Some("gzip"), "a stream is never held back");
    shop.close().await;
}

/// What forms offer comes from core: a word for each value, none twice.
#[sqlx::test]
async fn forms_offer_words_and_units(db: PgPool) {
    let shop = Shop::open(db).await;
    assert_eq!(Client::unsigned(&shop.address).get("/forms").await.0, 401);
    let (_, forms) = applicator(&shop).await.get("/forms").await;
    for (name, words) in forms["words"].as_object().unwrap() {
        let all: Vec<&str> = words.as_array().unwrap().iter().map(|w| w["word"].as_str().unwrap()).collect();
        let different: std::collections::BTreeSet<&str> = all.iter().copied().collect();
        assert!(all.len() >= 2 && all.iter().all(|w| !w.is_empty() && !w.contains('_')), "{name}: {all:?}");
        // The three additives are called by their sheet; here they have one word.
        assert!(different.len() == all.len() || name == "component", "{name}: {all:?}");
    }
    assert_eq!(forms["words"]["method"][0], json!({ "value": "pot", "word": "pressure pot" }));
    assert_eq!(forms["most"], json!({ "additives": 3, "times": 5, "steps": 4 }));
    assert_eq!(forms["shapes"].as_array().unwrap().len(), 8);
    shop.close().await;
}

#[sqlx::test]
async fn hostile_texts_are_kept_as_text(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    for text in ["<script>alert(1)</script>", "'; drop table entry; --", "🙂 مرحبا", "=1+1"] {
        let written = client.wrote(&book, "note", json!({ "text": text })).await;
        assert_eq!(written["view"]["log"][0]["text"], format!("Note: {text}"));
    }
    let unsigned = Client::unsigned(&shop.address);
    assert_eq!(unsigned.get("/people").await.0, 200);
    shop.close().await;
}
