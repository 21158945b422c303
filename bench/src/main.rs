//! Load on a real server over a real database, each figure beside the bare thing on the same machine in the same run.
//! Bounded in count and time; talks to loopback only. `level-keel-bench DATABASE_URL`, or `bench/run`.

mod bare;
mod client;
mod mix;
mod report;
mod set;

use client::Client;
use level_keel_harness::Shop;
use level_keel_server::books::{NewEntry, Writing};
use report::{Report, Times};
use serde_json::json;
use std::time::{Duration, Instant};
use uuid::Uuid;

/// That of the server; the bare handlers have it too.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Clients that type at once.
const TYPISTS: usize = 20;
/// Keys each of them strikes; a pause of the hand between two.
const KEYS: usize = 60;
const PAUSE: Duration = Duration::from_millis(180);
/// Writers and readers at once.
const HANDS: usize = 8;
/// Entries each writer writes in a round, into a fresh book.
const ENTRIES: usize = 50;
/// Reads each reader reads in a round.
const READS: usize = 60;
/// Rounds of ours and of the bare thing, turn by turn.
const ROUNDS: usize = 15;
/// Browsers that listen.
const LISTENERS: usize = 200;
/// Entries they hear.
const HEARD: usize = 20;
/// Lots in the stores when they are listed, rows of one import, times each list is asked.
const LOTS: usize = 20_000;
const TABLE: usize = 50_000;
const ASKED: usize = 60;
/// Rows of a long list.
const LONG: i64 = 100_000;

#[actix_web::main]
async fn main() {
    let url = std::env::args().nth(1).expect("level-keel-bench DATABASE_URL");
    let db = level_keel_server::serve::pool(&url).await.expect("the database answers");
    sqlx::migrate!("../crates/server/migrations").run(&db).await.expect("the database migrates");
    let shop = Shop::open_with(db, 2).await;
    let mut report = Report::default();
    // Named parts alone, or all of them.
    let named: Vec<String> = std::env::args().skip(2).collect();
    let wants = |part: &str| named.is_empty() || named.iter().any(|n| n == part);
    if wants("typing") {
        typing(&shop, &mut report).await;
    }
    if wants("append") {
        appending(&shop, &mut report).await;
    }
    if wants("read") {
        reading(&shop, &mut report).await;
    }
    if wants("live") {
        hearing(&shop, &mut report).await;
    }
    if wants("stamp") {
        stamping(&shop, &mut report).await;
    }
    if wants("list") {
        listing(&shop, &mut report).await;
    }
    if wants("stores") {
        storing(&shop, &mut report).await;
    }
    if wants("mix") {
        mix::planning(&shop, &mut report).await;
    }
    if wants("set") {
        set::curves(&shop, &mut report).await;
    }
    if wants("weigh") {
        mix::weighing(&shop, &mut report).await;
    }
    report.print();
    shop.close().await;
}

/// Twenty people type a reading; each pause of the hand asks the server what it would mean.
async fn typing(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    let tasks: Vec<_> = (0..TYPISTS)
        .map(|n| {
            let client = client.clone();
            tokio::spawn(async move {
                let (book, charge) = client.pot().await;
                let mut times = Times::default();
                for key in 0..KEYS {
                    tokio::time::sleep(PAUSE + Duration::from_millis((n * 7 % 40) as u64)).await;
                    let payload = json!({ "charge": charge, "component": "base", "reading_g": format!("{}.{} g", 800 + n, key), "resolution_g": 1 });
                    let start = Instant::now();
                    let answer = client.entry(&book, "pour", payload, true).await;
                    times.add(start.elapsed());
                    assert!(answer["view"].is_object(), "{answer}");
                }
                times
            })
        })
        .collect();
    let mut all = Times::default();
    for task in tasks {
        all.join(task.await.expect("a typist"));
    }
    report.line(
        "dry run while typing, 20 clients",
        &format!("p50 {}, p95 {}, p99 {}", all.at(50), all.at(95), all.at(99)),
        "p95 ≤ 50 ms",
        all.at(95).0 <= 50.0,
    );
}

/// Entries a second, by hands at once, against the bare insert and notify of the same row: by the call that stores, as
/// the bare one is a call too, and over the wire with all that a browser's request needs besides.
async fn appending(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    // Turn by turn in short rounds, as for the reads.
    let mut rounds = Vec::new();
    for round in 0..=ROUNDS {
        let call = appended(shop, &client, true).await;
        let wire = appended(shop, &client, false).await;
        let bare = bare::insert_and_notify(&shop.state.db, HANDS, ENTRIES).await;
        // The first one warms all.
        if round > 0 {
            rounds.push((call, wire, bare));
        }
    }
    rounds.sort_by(|x, y| (x.0 / x.2).total_cmp(&(y.0 / y.2)));
    let (call, _, bare) = rounds[ROUNDS / 2];
    report.ratio("append, 8 writers, by the call that stores", call, bare, "bare insert + notify", 0.5);
    rounds.sort_by(|x, y| (x.1 / x.2).total_cmp(&(y.1 / y.2)));
    let (_, wire, bare) = rounds[ROUNDS / 2];
    report.line("the same over HTTP, signed in", &format!("{wire:.0}/s: {:.2} of the bare call", wire / bare), "–", true);
}

async fn appended(shop: &Shop, client: &Client, by_call: bool) -> f64 {
    let mut books = Vec::new();
    for _ in 0..HANDS {
        books.push(client.begun().await);
    }
    let person = bare::somebody(&shop.state.db).await;
    let start = Instant::now();
    let tasks: Vec<_> = books
        .into_iter()
        .map(|book| {
            let (client, state, person) = (client.clone(), shop.state.clone(), person.clone());
            tokio::spawn(async move {
                for n in 0..ENTRIES {
                    let text = format!("note {n} of the load");
                    if by_call {
                        let writing = Writing::of(&state, &person, state.clock.now());
                        let entry =
                            NewEntry { id: Uuid::now_v7(), kind: "note".into(), payload: json!({ "text": text }), ago_s: 0.0 };
                        writing.append(book.parse().expect("an id"), entry).await.expect("it is stored");
                    } else {
                        client.stamp(&book, &text).await;
                    }
                }
            })
        })
        .collect();
    for task in tasks {
        task.await.expect("a writer");
    }
    (HANDS * ENTRIES) as f64 / start.elapsed().as_secs_f64()
}

/// Batches a second, read as the page reads them, a station at a time, against a bare handler with the same SQL and the same bytes.
async fn reading(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    let board = client.get("/board").await;
    let id = board["batches"].as_array().and_then(|b| b.last()).and_then(|b| b["id"].as_str()).expect("a batch").to_string();
    let body = client.get(&format!("/batches/{id}?station=mix")).await.to_string();
    let bare = bare::Handler::start(shop.state.db.clone(), body).await;
    // Turn by turn in short rounds, each beside the other's: what else the machine does falls on both, and the middle round
    // speaks for all.
    let mut rounds = Vec::new();
    for round in 0..=ROUNDS {
        let a = client.rate(&format!("{}/api/v1/batches/{id}?station=mix", shop.address), HANDS, READS).await;
        let b = client.rate(&format!("{}/bare/{id}", bare.address), HANDS, READS).await;
        // The first one warms both.
        if round > 0 {
            rounds.push((a, b));
        }
    }
    rounds.sort_by(|x, y| (x.0 / x.1).total_cmp(&(y.0 / y.1)));
    let (ours, theirs) = rounds[ROUNDS / 2];
    report.ratio("read of a batch, 8 readers", ours, theirs, "bare handler, same SQL", 0.5);
    bare.stop().await;
}

/// Two hundred browsers hear of an entry.
async fn hearing(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    let book = client.begun().await;
    let (heard, mut ears) = tokio::sync::mpsc::unbounded_channel();
    let mut listeners = Vec::new();
    for _ in 0..LISTENERS {
        listeners.push(client.listen(heard.clone()).await);
    }
    tokio::time::sleep(Duration::from_millis(500)).await;
    while ears.try_recv().is_ok() {}
    let mut times = Times::default();
    for n in 0..HEARD {
        let start = Instant::now();
        client.entry(&book, "note", json!({ "text": format!("heard {n}") }), false).await;
        for _ in 0..LISTENERS {
            let at = tokio::time::timeout(Duration::from_secs(10), ears.recv()).await.expect("all hear").expect("an ear");
            times.add(at.duration_since(start));
        }
    }
    listeners.iter().for_each(tokio::task::JoinHandle::abort);
    report.line(
        "200 browsers hear an entry",
        &format!("p50 {}, p99 {}", times.at(50), times.at(99)),
        "p99 ≤ 200 ms",
        times.at(99).0 <= 200.0,
    );
}

/// A pass is stamped: 200 screens are told, and each reads its board anew.
async fn stamping(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    let rows = client.get("/board").await["batches"].as_array().cloned().unwrap_or_default();
    let buoy = rows.iter().find(|b| b["label"].as_str().is_some_and(|l| l.starts_with("Buoy 7"))).expect("a batch of the demo");
    let book = buoy["id"].as_str().expect("an id").to_string();
    let path = format!("/batches/{book}?station=spray");
    let view = client.get(&path).await;
    let (heard, mut ears) = tokio::sync::mpsc::unbounded_channel();
    let mut listeners = Vec::new();
    for _ in 0..LISTENERS {
        listeners.push(client.listen(heard.clone()).await);
    }
    tokio::time::sleep(Duration::from_millis(500)).await;
    while ears.try_recv().is_ok() {}
    let (mut told, mut shown) = (Times::default(), Times::default());
    for n in 0..HEARD {
        let start = Instant::now();
        let pass = json!({ "charge": view["spray"]["charge"], "zones": [view["zones"][n % 3]["id"]], "used_ml": 1 });
        client.entry(&book, "pass", pass, false).await;
        let mut reads = Vec::new();
        for _ in 0..LISTENERS {
            let at = tokio::time::timeout(Duration::from_secs(10), ears.recv()).await.expect("all hear").expect("an ear");
            told.add(at.duration_since(start));
            let (client, path) = (client.clone(), path.clone());
            reads.push(tokio::spawn(async move {
                client.get(&path).await;
                start.elapsed()
            }));
        }
        for read in reads {
            shown.add(read.await.expect("a board"));
        }
    }
    listeners.iter().for_each(tokio::task::JoinHandle::abort);
    report.line(
        "200 screens are told of a stamp",
        &format!("p50 {}, p99 {}", told.at(50), told.at(99)),
        "p99 ≤ 200 ms",
        told.at(99).0 <= 200.0,
    );
    let line = format!("p50 {}, p99 {}", shown.at(50), shown.at(99));
    report.line("and each has read its board anew", &line, "p99 ≤ 200 ms", shown.at(99).0 <= 200.0);
}

/// The first page of the records, and a search by lot, with a few batches and with a hundred thousand.
async fn listing(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    for (what, path) in [
        ("records, first page", "/records"),
        ("records by part", "/records?part=Buoy%203"),
        ("records by lot", "/records?lot=P-2204"),
        ("records sorted by part and coat", "/records?sort=part"),
        ("records sorted by product, from the end", "/records?sort=-product"),
        ("anything found by a word", "/find?q=Buoy%203"),
    ] {
        let few = client.median(path, 30).await;
        if what == "records, first page" {
            bare::long_list(&shop.state.db, LONG).await;
        }
        let many = client.median(path, 30).await;
        let first = what == "records, first page";
        let shown = if first { format!("{few} with a few, {many} with {LONG}") } else { format!("{many} with {LONG}") };
        report.line(what, &shown, "≤ 50 ms", many.0 <= 50.0);
    }
    looking_back(shop, &client, report).await;
}

/// Trace, trends and the day's end over the same hundred thousand.
async fn looking_back(shop: &Shop, client: &Client, report: &mut Report) {
    let one = async |sql: &str| -> Uuid {
        sqlx::query_scalar(sqlx::AssertSqlSafe(sql.to_string())).fetch_one(&shop.state.db).await.expect("one of them")
    };
    let lot = one("select id from lot where code = 'P-2207'").await;
    let part = one("select part_id from batch where number = 100001").await;
    let rig = one("select rig_id from batch where number = 100001").await;
    let scale = one("select id from instrument where name = 'Bench scale'").await;
    let person = one("select id from person where name = 'Ansa Reef'").await;
    // Found off today: everything it weighed since its last good check is in doubt.
    let checked = json!({ "known_g": "2 kg", "read_g": "1.9 kg", "empty_g": "0 g", "against": "2 kg cast weight" });
    client
        .post(&format!("/instruments/{scale}/entries"), &json!({ "id": Uuid::now_v7(), "kind": "checked", "payload": checked }))
        .await;
    for (what, path) in [
        ("trace of a lot in every tenth batch", format!("/trace?lot={lot}")),
        ("trace of a part", format!("/trace?part={part}")),
        ("trace of a tip", format!("/trace?rig={rig}")),
        ("trace of a scale in doubt", format!("/trace?scale={scale}")),
        ("trace of a person's day", format!("/trace?person={person}")),
        ("trends by product, half a year", "/records/trends".to_string()),
        ("the end of the day", "/board/day-end".to_string()),
    ] {
        let took = client.median(&path, 30).await;
        report.line(what, &format!("{took} with {LONG}"), "≤ 100 ms", took.0 <= 100.0);
    }
}

/// Lots listed, filtered and first in with many in the stores; a large table in one import.
async fn storing(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    let today = shop.state.shop_day();
    let table = |letter: &str, rows: usize| {
        let day = |n: i64| today.saturating_add(jiff::SignedDuration::from_hours(24 * n));
        let products = ["Island epoxy primer", "Marker urethane finish", "Collar contact adhesive", "Mould release film"];
        let mut text = String::from("code,product,component,makers_lot,received,expires,container_g,containers_count,place\n");
        for n in 0..rows {
            let (came, good) = (day(-((n % 700) as i64)), day((n % 900) as i64 - 200));
            text += &format!("{letter}-{n:06},{},base,MK-{n},{came},{good},20 kg,{},Load store\n", products[n % 4], 1 + n % 5);
        }
        text
    };
    client.import(table("A", LOTS)).await;
    let sheets = client.get("/sheets").await;
    let primer = sheets.as_array().and_then(|s| s.iter().find(|s| s["label"] == "Epoxy primer")).expect("a sheet");
    let sheet = primer["id"].as_str().expect("an id").to_string();
    for (what, path) in [
        ("lots, first page", "/lots".to_string()),
        ("lots by a word in code or maker's lot", "/lots?find=A-0199".into()),
        ("lots of a product that are fit, with the one first in", format!("/lots?sheet={sheet}&component=base&state=fit")),
        ("expired lots", "/lots?state=expired".into()),
        ("lots sorted by code", "/lots?sort=code".into()),
    ] {
        let times = client.times(&path, ASKED).await;
        let figure = format!("p50 {}, p95 {} with {LOTS}", times.at(50), times.at(95));
        report.line(what, &figure, "p95 ≤ 50 ms", times.at(95).0 <= 50.0);
    }
    let big = table("B", TABLE);
    let start = Instant::now();
    client.import(big).await;
    let took = start.elapsed().as_secs_f64();
    report.line("one import", &format!("{TABLE} rows in {took:.1} s"), "≤ 10 s", took <= 10.0);
}
