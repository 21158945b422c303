//! The clock of the machine set under a running server: written in every live book, shown, and no paint the younger for it.

use super::client::applicator;
use jiff::{SignedDuration, Timestamp};
use level_keel_harness::{MORNING, Shop};
use level_keel_server::books::check_log;
use level_keel_server::clock::{Clock, Host};
use level_keel_server::clock_watch::{look_once, resume};
use serde_json::Value;
use sqlx::PgPool;

fn morning() -> Timestamp {
    MORNING.parse().unwrap()
}

#[sqlx::test]
async fn a_clock_set_back_is_told_in_every_live_book(db: PgPool) {
    let first = Shop::open(db.clone()).await;
    let host = Host::standing(morning());
    let shop = Shop::by(&first, Clock::of(host.clone(), morning(), 1.0)).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let spent = |board: &Value| board["pots"].as_array().unwrap().iter().map(|p| p["spent_at"].clone()).collect::<Vec<_>>();
    let before = client.get("/board").await.1;
    assert_eq!(before["clock_said"], Value::Null);
    host.run(600.0);
    host.step(-7200.0);
    look_once(&shop.state, true).await.unwrap();
    look_once(&shop.state, true).await.unwrap();
    let after = client.get("/board").await.1;
    assert_eq!(after["as_of"], "2026-11-16T09:50:00Z", "ten minutes went by");
    assert_eq!(spent(&after), spent(&before), "no pot lives longer for it");
    assert!(after["clock_said"].as_str().unwrap().contains("set back by 2 h 0 min"), "{}", after["clock_said"]);
    let open = "select count(*) from batch where state = 'open'";
    let noted =
        "select count(*) from entry e join person p on p.id = e.who where p.name = 'The shop’s clock' and e.kind = 'note'";
    let open: i64 = sqlx::query_scalar(open).fetch_one(&db).await.unwrap();
    let noted: i64 = sqlx::query_scalar(noted).fetch_one(&db).await.unwrap();
    assert_eq!(noted, open, "once in each");
    let log = client.get(&format!("/batches/{book}/log")).await.1;
    let line = &log.as_array().unwrap()[0];
    assert_eq!(line["by"], "The shop’s clock");
    assert_eq!(line["at"], "2026-11-16T09:50:00Z");
    // It works on nothing, signs in by nothing, and is no name to sign in by.
    let names = client.get("/people").await.1;
    assert!(names.as_array().unwrap().iter().all(|p| p["name"] != "The shop’s clock"), "{names}");
    let who = "select count(*) from batch_person w join person p on p.id = w.person_id where p.name = 'The shop’s clock'";
    assert_eq!(sqlx::query_scalar::<_, i64>(who).fetch_one(&db).await.unwrap(), 0);
    // Nothing is left open, and time still does not go back: a coat that is on, a check, a lot would grow younger by it.
    sqlx::query("update batch set state = 'signed' where state = 'open'").execute(&db).await.unwrap();
    look_once(&shop.state, false).await.unwrap();
    assert_eq!(shop.state.clock.now(), morning() + SignedDuration::from_secs(600));
    sqlx::query("update batch set state = 'open' where id = $1::uuid").bind(&book).execute(&db).await.unwrap();
    // Another server, whose clock stands before what is written: the log says so of its entry.
    applicator(&first).await.wrote(&book, "note", serde_json::json!({ "text": "after" })).await;
    let log = client.get(&format!("/batches/{book}/log")).await.1;
    assert_eq!((&log[0]["clock_back"], &log[1]["clock_back"]), (&Value::Bool(true), &Value::Null));
    shop.close().await;
    first.close().await;
}

/// A server that starts again goes on from its mark; one that has none, from what is written.
#[sqlx::test]
async fn a_restart_goes_on_from_where_the_shop_had_come(db: PgPool) {
    let first = Shop::open(db.clone()).await;
    let host = Host::standing(morning());
    let shop = Shop::by(&first, Clock::of(host.clone(), morning(), 1.0)).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    host.run(300.0);
    client.wrote(&book, "note", serde_json::json!({ "text": "the last before" })).await;
    let written = shop.state.clock.now();
    // No mark yet, and a clock that came up an hour behind.
    host.step(-3600.0);
    let clock = resume(&db, host.clone()).await.unwrap();
    assert_eq!(clock.now(), written);
    assert!(clock.said().unwrap().contains("trust no pot mixed before"), "{:?}", clock.said());
    // A mark: the boot clock says how long the server was down.
    host.step(3600.0);
    look_once(&shop.state, true).await.unwrap();
    host.run(120.0);
    host.step(-3600.0);
    let clock = resume(&db, host.clone()).await.unwrap();
    assert_eq!(clock.now(), written + SignedDuration::from_secs(120));
    assert!(clock.said().unwrap().contains("set back by 60 min 0 s"), "{:?}", clock.said());
    shop.close().await;
    first.close().await;
    assert!(check_log(&db).await.unwrap().faults.is_empty());
}
