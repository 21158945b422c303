//! The real program, killed between entries: what was acknowledged is there, once, and pots aged right.

use super::client::{APPLICATOR, Client};
use super::program::Program;
use level_keel_server::books::check_log;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

#[sqlx::test]
async fn killed_between_entries_nothing_is_lost_or_doubled(db: PgPool) {
    let program = Program::start(&db, "true");
    let client = Client::signed(&program.address, APPLICATOR).await;
    let book = client.begun().await;
    let mut written: Vec<Value> = Vec::new();
    let (_, before) = client.get("/board").await;
    program.kill();
    for round in 0..3 {
        let program = Program::start(&db, "true");
        // The session survived, too.
        let client = Client { base: format!("{}/api/v1", program.address), ..client.clone() };
        let path = format!("/books/{book}/entries");
        if let Some(last) = written.last() {
            let (_, again) = client.post(&path, last.clone()).await;
            assert_eq!(again["repeated"], true, "the acknowledged entry is there");
        }
        for n in 0..2 {
            let entry = json!({ "id": Uuid::now_v7(), "kind": "note", "payload": { "text": format!("{round} {n}") } });
            let (status, body) = client.post(&path, entry.clone()).await;
            assert_eq!(status, 200, "{body}");
            written.push(entry);
        }
        if round == 2 {
            let (_, after) = client.get("/board").await;
            let spent =
                |b: &Value| -> Vec<Value> { b["pots"].as_array().unwrap().iter().map(|p| p["spent_at"].clone()).collect() };
            // Nothing for what does not age.
            let second = |t: &Value| t.as_str().map(|t| t.parse::<jiff::Timestamp>().unwrap().as_second());
            for (a, b) in spent(&before).iter().zip(spent(&after).iter()) {
                let apart = second(a).zip(second(b)).map_or(i64::from(a != b), |(a, b)| (a - b).abs());
                assert!(apart <= i64::from(a.is_string()), "pots age by the log, not by the process: {a} {b}");
            }
        }
        program.kill();
    }
    let notes = sqlx::query_scalar::<_, i64>("select count(*) from entry where book_id = $1 and kind = 'note'")
        .bind(Uuid::parse_str(&book).unwrap())
        .fetch_one(&db)
        .await
        .unwrap();
    assert_eq!(notes, 6);
    assert!(check_log(&db).await.unwrap().faults.is_empty());
}
