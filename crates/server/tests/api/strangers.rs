//! A stranger costs nothing: asked by another name, slow, looking for what is not there; and a stream ends with its session.

use super::client::{APPLICATOR, Client, LEAD, applicator};
use futures_util::StreamExt;
use level_keel_harness::Shop;
use level_keel_server::auth;
use level_keel_server::settings::Settings;
use serde_json::json;
use sqlx::PgPool;
use std::time::Duration;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use tokio::time::timeout;

const IN_TIME: Duration = Duration::from_secs(30);

fn port(shop: &Shop) -> &str {
    shop.address.rsplit_once(':').unwrap().1
}

#[sqlx::test]
async fn a_server_answers_to_its_own_names_only(db: PgPool) {
    let shop = Shop::open(db).await;
    let settings = Settings { host_names: vec!["keel.example".into()], ..shop.state.settings.clone() };
    let shop = shop.again(settings, "0.1.0").await;
    let http = reqwest::Client::new();
    for (host, status) in [
        ("localhost", 200),
        ("LOCALHOST:7070", 200),
        ("127.0.0.1", 200),
        ("127.0.0.2:80", 200),
        ("[::1]:7070", 200),
        ("keel.example:443", 200),
        ("Keel.Example", 200),
        ("rebound.example", 421),
        ("keel.example.elsewhere", 421),
        ("192.0.2.9", 421),
        ("localhost.elsewhere", 421),
        ("", 421),
    ] {
        for path in ["/api/v1/door", "/", "/healthz"] {
            let asked = http.get(format!("{}{path}", shop.address)).header("host", host).send().await.unwrap();
            assert_eq!(asked.status().as_u16(), status, "{host} {path}");
        }
    }
    shop.close().await;
}

/// A body that trickles is cut off; until then one connection of it held nothing that another wants.
#[sqlx::test]
async fn a_body_that_trickles_ends(db: PgPool) {
    let shop = Shop::open(db).await;
    let mut slow = TcpStream::connect(("127.0.0.1", port(&shop).parse::<u16>().unwrap())).await.unwrap();
    let head = "POST /api/v1/session HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 60\r\n\r\n";
    slow.write_all(head.as_bytes()).await.unwrap();
    let (mut read, mut write) = slow.split();
    let trickle = async {
        loop {
            if write.write_all(b" ").await.is_err() {
                return;
            }
            tokio::time::sleep(Duration::from_secs(1)).await;
        }
    };
    let answer = async {
        let mut said = [0; 16];
        let many = read.read(&mut said).await.unwrap_or(0);
        String::from_utf8_lossy(&said[..many]).into_owned()
    };
    let said = tokio::select! { said = timeout(IN_TIME, answer) => said.expect("it is cut off"), () = trickle => panic!("cut off without a word") };
    assert!(said.starts_with("HTTP/1.1 4"), "{said:?}");
    shop.close().await;
}

#[sqlx::test]
async fn a_missing_file_is_not_kept_for_ever(db: PgPool) {
    let shop = Shop::open(db).await;
    let http = reqwest::Client::new();
    let page = http.get(&shop.address).send().await.unwrap().text().await.unwrap();
    let script =
        page.split('"').find(|p| p.starts_with("/assets/") && p.ends_with(".js")).expect("the script of the page").to_string();
    for (path, status, kept) in [(script.as_str(), 200, true), ("/assets/gone-0123abcd.js", 404, false)] {
        let answer = http.get(format!("{}{path}", shop.address)).send().await.unwrap();
        let said = answer.headers().get("cache-control").map_or("", |v| v.to_str().unwrap()).to_string();
        assert_eq!((answer.status().as_u16(), said.contains("immutable")), (status, kept), "{path}: {said}");
    }
    shop.close().await;
}

/// Ended by whatever way, the stream of a session says nothing more and closes.
#[sqlx::test]
async fn a_stream_ends_with_its_session(db: PgPool) {
    let shop = Shop::open(db).await;
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    for way in ["signed out", "ended by the owner", "retired"] {
        let client = Client::signed(&shop.address, APPLICATOR).await;
        let other = Client::signed(&shop.address, LEAD).await;
        let me = client.get("/session").await.1["id"].as_str().unwrap().to_string();
        let mut stream = client.http.get(format!("{}/live", client.base)).send().await.unwrap().bytes_stream();
        let mut others = other.http.get(format!("{}/live", other.base)).send().await.unwrap().bytes_stream();
        match way {
            "signed out" => {
                assert_eq!(client.http.delete(format!("{}/session", client.base)).send().await.unwrap().status(), 204)
            }
            "ended by the owner" => {
                let sessions = owner.get("/sessions").await.1;
                let own = sessions.as_array().unwrap().iter().find(|s| s["person"] == APPLICATOR.0).unwrap()["id"].clone();
                let path = format!("{}/sessions/{}", owner.base, own.as_str().unwrap());
                assert_eq!(owner.http.delete(path).send().await.unwrap().status(), 204);
            }
            _ => assert_eq!(owner.put(&format!("/people/{me}"), json!({ "retired": true })).await.0, 204),
        }
        let ended = timeout(IN_TIME, async { while stream.next().await.is_some_and(|c| c.is_ok()) {} }).await;
        assert!(ended.is_ok(), "{way}: the stream goes on");
        let quiet = timeout(Duration::from_millis(300), async {
            while let Some(Ok(said)) = others.next().await {
                assert!(!String::from_utf8_lossy(&said).contains("ended:"), "what is told of sessions is told to no browser");
            }
        });
        assert!(quiet.await.is_err(), "{way}: the stream of another ended too");
        owner.put(&format!("/people/{me}"), json!({ "retired": false })).await;
    }
    shop.close().await;
}

/// A session that runs out under an open stream.
#[sqlx::test]
async fn a_stream_ends_when_its_session_runs_out(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let soon = level_keel_core::pot_life::after(shop.state.clock.now(), 2.0);
    use jiff_sqlx::ToSqlx;
    sqlx::query("update session set expires = $1").bind(soon.to_sqlx()).execute(&shop.state.db).await.unwrap();
    let mut stream = client.http.get(format!("{}/live", client.base)).send().await.unwrap().bytes_stream();
    let ended = timeout(IN_TIME, async { while stream.next().await.is_some_and(|c| c.is_ok()) {} }).await;
    assert!(ended.is_ok(), "the stream goes on");
    assert_eq!(client.get("/board").await.0, 401);
    shop.close().await;
}

#[sqlx::test]
async fn nobody_fills_the_disk_or_the_counts(db: PgPool) {
    let shop = Shop::open(db).await;
    let settings = Settings { files_a_day_mb: 0, ..shop.state.settings.clone() };
    let shop = shop.again(settings, "0.1.0").await;
    let client = applicator(&shop).await;
    let sent = client.http.put(format!("{}/files?name=a.pdf", client.base)).body("%PDF-1.7 a").send().await.unwrap();
    assert_eq!(sent.status(), 409);
    assert!(sent.text().await.unwrap().contains("the most for one person"));
    // Names nobody has share so many counts, and counts that are over are thrown away.
    let stranger = Client::unsigned(&shop.address);
    for n in 0..3 {
        stranger.post("/session", json!({ "name": format!("{n} {}", "x".repeat(3000)), "pin": "0000" })).await;
    }
    let kept: Vec<String> = sqlx::query_scalar("select key from sign_in_try").fetch_all(&shop.state.db).await.unwrap();
    assert!(kept.len() >= 3 && kept.iter().all(|key| key.len() < 60), "{kept:?}");
    shop.clock.advance(jiff::SignedDuration::from_hours(25));
    auth::tidy(&shop.state).await.unwrap();
    let left: i64 = sqlx::query_scalar("select count(*) from sign_in_try").fetch_one(&shop.state.db).await.unwrap();
    assert_eq!(left, 0);
    // A name hides nothing.
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    for name in ["Ansa\u{202e}Reef", "Ansa\u{200b}Reef", "Ansa\u{2066}Reef", "Ansa\u{7}Reef"] {
        let person = json!({ "name": name, "role": "applicator", "pin": "739152" });
        assert_eq!(owner.post("/people", person).await.0, 422, "{name:?}");
    }
    // A note says what was written, in plain sight.
    let client = applicator(&shop).await;
    let book = client.begun().await;
    client.wrote(&book, "note", json!({ "text": "wiped \u{202e}ton" })).await;
    let log = client.get(&format!("/batches/{book}/log")).await.1;
    assert_eq!(log[0]["text"], "Note: wiped \u{fffd}ton");
    shop.close().await;
}
