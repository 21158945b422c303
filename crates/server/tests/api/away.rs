//! A database that goes away: told in time and by its name, and everything goes on by itself when it is back.

use super::client::{APPLICATOR, Client};
use futures_util::StreamExt;
use level_keel_harness::{Line, Shop, Standing};
use level_keel_server::books::check_log;
use reqwest::StatusCode;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::time::Duration;
use tokio::time::{sleep, timeout};
use uuid::Uuid;

/// Long enough for a slow machine, and far under the half minute a connection was once waited for.
const IN_TIME: Duration = Duration::from_secs(12);

fn note(id: Uuid) -> Value {
    json!({ "id": id, "kind": "note", "payload": { "text": "wiped the lip" } })
}

/// Asks until it is answered; never may it be a fault.
async fn until_stored(client: &Client, path: &str, body: &Value) -> Value {
    for _ in 0..400 {
        let (status, answer) = client.post(path, body.clone()).await;
        if status == StatusCode::OK {
            return answer;
        }
        assert_eq!((status.as_u16(), &answer["code"]), (503, &json!("database-away")), "{answer}");
        sleep(Duration::from_millis(25)).await;
    }
    panic!("the database never came back")
}

#[sqlx::test]
async fn a_database_that_is_away_is_told_and_comes_back(db: PgPool) {
    let near = Shop::open(db.clone()).await;
    let line = Line::to(db.connect_options().get_port()).await;
    let shop = Shop::over(&near, line.port).await;
    let client = Client::signed(&shop.address, APPLICATOR).await;
    let book = client.begun().await;
    let path = format!("/books/{book}/entries");
    let mut heard = client.http.get(format!("{}/live", client.base)).send().await.unwrap().bytes_stream();
    let health = || client.http.get(format!("{}/healthz", shop.address)).send();
    assert_eq!(health().await.unwrap().status(), 200);
    for standing in [Standing::Cut, Standing::Silent] {
        line.stand(standing);
        let id = Uuid::now_v7();
        let read = client.http.get(format!("{}/board", client.base)).send();
        let write = client.http.post(format!("{}{path}", client.base)).json(&note(id)).send();
        for asked in [timeout(IN_TIME, read).await, timeout(IN_TIME, write).await] {
            let answer = asked.expect("an answer in time").unwrap();
            assert_eq!(answer.headers().get("retry-after").map(|v| v.as_bytes()), Some("2".as_bytes()), "{standing:?}");
            assert_eq!(answer.status(), 503, "{standing:?}");
            let body: Value = answer.json().await.unwrap();
            assert_eq!(body["code"], "database-away");
            assert!(body["detail"].as_str().unwrap().contains("counts once"), "{body}");
        }
        let sick = timeout(IN_TIME, health()).await.expect("an answer in time").unwrap();
        assert_eq!(sick.status(), 503, "{standing:?}");
        // A line that was silent loses what lay on it, as a network does when it comes back.
        line.stand(Standing::Cut);
        line.stand(Standing::Open);
        let stored = until_stored(&client, &path, &note(id)).await;
        assert_eq!(until_stored(&client, &path, &note(id)).await["seq"], stored["seq"]);
        assert_eq!(client.get("/board").await.0, 200);
        assert_eq!(health().await.unwrap().status(), 200);
        // Every screen is told to read again.
        let told = timeout(IN_TIME, async {
            while let Some(Ok(bytes)) = heard.next().await {
                if String::from_utf8_lossy(&bytes).contains("resync") {
                    return true;
                }
            }
            false
        });
        assert!(told.await.expect("in time"), "{standing:?}");
    }
    drop(heard);
    shop.close().await;
    near.close().await;
    assert!(check_log(&db).await.unwrap().faults.is_empty());
}

/// Connections that die under a statement, again and again: each entry is stored once, and none of it is a fault.
#[sqlx::test]
async fn a_connection_that_dies_under_an_entry_is_no_fault(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let client = Client::signed(&shop.address, APPLICATOR).await;
    let book = client.begun().await;
    let path = format!("/books/{book}/entries");
    let ids: Vec<Uuid> = (0..40).map(|_| Uuid::now_v7()).collect();
    let writing = async {
        for id in &ids {
            until_stored(&client, &path, &note(*id)).await;
        }
    };
    let killing = async {
        loop {
            let kill = "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()";
            sqlx::query(kill).execute(&db).await.ok();
            sleep(Duration::from_millis(15)).await;
        }
    };
    tokio::select! { () = writing => {}, () = killing => {} }
    let count = "select count(*) from entry where book_id = $1 and kind = 'note'";
    let notes: i64 = sqlx::query_scalar(count).bind(Uuid::parse_str(&book).unwrap()).fetch_one(&db).await.unwrap();
    assert_eq!(notes, 40);
    shop.close().await;
    assert!(check_log(&db).await.unwrap().faults.is_empty());
}
