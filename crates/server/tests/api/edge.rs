//! The edge: cookies, origins, tries, streams nobody reads, clocks that are wrong.

use super::client::{APPLICATOR, Client, INSPECTOR, LEAD, applicator};
use jiff::SignedDuration;
use level_keel_harness::Shop;
use level_keel_server::settings::Settings;
use serde_json::json;
use sqlx::PgPool;
use std::time::Duration;

async fn cookie_of(shop: &Shop) -> (String, Option<String>) {
    let body = json!({ "name": APPLICATOR.0, "pin": APPLICATOR.1 });
    let http = reqwest::Client::new();
    let signed = http.post(format!("{}/api/v1/session", shop.address)).json(&body).send().await.unwrap();
    let header = |name: &str| signed.headers().get(name).map(|v| v.to_str().unwrap().to_string());
    let cookie = header("set-cookie").unwrap_or_else(|| panic!("no cookie, {}", signed.status()));
    (cookie, header("strict-transport-security"))
}

#[sqlx::test]
async fn the_cookie_is_http_only_strict_and_secure_behind_tls(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let (cookie, hsts) = cookie_of(&shop).await;
    assert!(cookie.contains("HttpOnly") && cookie.contains("SameSite=Strict") && cookie.contains("Path=/"), "{cookie}");
    assert!(!cookie.contains("Secure") && hsts.is_none(), "plain http on loopback: {cookie}");
    let shop = shop.again(Settings { behind_tls: true, ..Settings::default() }, "0.0.0").await;
    let (cookie, hsts) = cookie_of(&shop).await;
    assert!(cookie.contains("Secure") && cookie.contains("HttpOnly"), "{cookie}");
    assert!(hsts.is_some());
    shop.close().await;
}

/// A connection dies with the runtime of the worker that opened it, so each server of a test has connections of its own.
#[sqlx::test]
async fn a_server_that_stops_takes_no_connection_of_another(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    // While those that stand open are held, whatever the worker needs it opens itself.
    let held: Vec<_> = std::iter::from_fn(|| db.try_acquire()).collect();
    assert_eq!(applicator(&shop).await.get("/board").await.0, 200);
    drop(held);
    let mut standing: Vec<_> = std::iter::from_fn(|| db.try_acquire()).collect();
    shop.close().await;
    for connection in &mut standing {
        let one = sqlx::query_scalar::<_, i32>("select 1").fetch_one(&mut **connection).await;
        assert_eq!(one.unwrap(), 1);
    }
}

#[sqlx::test]
async fn a_change_comes_from_our_own_page_only(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let send = |name: &'static str, value: String| {
        let entry = json!({ "id": uuid::Uuid::now_v7(), "kind": "note", "payload": { "text": "x" } });
        client.http.post(format!("{}/books/{book}/entries", client.base)).header(name, value).json(&entry).send()
    };
    for (name, value) in [
        ("origin", "https://elsewhere.example".to_string()),
        ("origin", "null".into()),
        ("sec-fetch-site", "cross-site".into()),
        ("sec-fetch-site", "same-site".into()),
    ] {
        assert_eq!(send(name, value.clone()).await.unwrap().status(), 403, "{name}: {value}");
    }
    for (name, value) in [("origin", shop.address.clone()), ("sec-fetch-site", "same-origin".into())] {
        assert_eq!(send(name, value.clone()).await.unwrap().status(), 200, "{name}: {value}");
    }
    shop.close().await;
}

/// Twenty wrong tries from one address, whatever the names, lock the address; a minute later it is open again.
#[sqlx::test]
async fn an_address_is_throttled_whatever_the_names(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = Client::unsigned(&shop.address);
    for n in 0..20 {
        let (status, _) = client.post("/session", json!({ "name": format!("Nobody {n}"), "pin": "1234" })).await;
        assert_eq!(status, 422, "try {n}");
    }
    let right = json!({ "name": LEAD.0, "pin": LEAD.1 });
    let (status, body) = client.post("/session", right.clone()).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (429, Some("too-many-tries")));
    shop.clock.advance(SignedDuration::from_secs(61));
    assert_eq!(client.post("/session", right).await.0, 204);
    shop.close().await;
}

/// Right sign-ins do not use an address up: a shop behind one address comes to work.
#[sqlx::test]
async fn right_sign_ins_do_not_use_an_address_up(db: PgPool) {
    let shop = Shop::open(db).await;
    for (name, pin) in [APPLICATOR, LEAD, INSPECTOR].iter().cycle().take(30) {
        Client::signed(&shop.address, (name, pin)).await;
    }
    shop.close().await;
}

#[sqlx::test]
async fn many_tries_at_once_are_all_counted(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = Client::unsigned(&shop.address);
    let tries = (0..16).map(|n| {
        let client = client.clone();
        tokio::spawn(async move { client.post("/session", json!({ "name": APPLICATOR.0, "pin": format!("90{n:02}") })).await.0 })
    });
    let mut wrong = 0;
    for task in tries.collect::<Vec<_>>() {
        wrong += usize::from(task.await.unwrap() == 422);
    }
    assert_eq!(wrong, 4, "five are judged, and the fifth locks");
    shop.close().await;
}

/// A browser that opens the stream and never reads is let go; everybody else hears on.
#[sqlx::test]
async fn a_stream_nobody_reads_holds_nobody_up(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let deaf = client.http.get(format!("{}/live", client.base)).send().await.unwrap();
    let mut listener = client.http.get(format!("{}/live", client.base)).send().await.unwrap();
    for n in 0..80 {
        client.wrote(&book, "note", json!({ "text": format!("note {n}") })).await;
    }
    let mut heard = 0;
    while heard < 80 {
        let chunk = tokio::time::timeout(Duration::from_secs(20), listener.chunk()).await.expect("an event").unwrap();
        let text = String::from_utf8_lossy(&chunk.expect("a chunk")).to_string();
        heard += text.matches("event: changed").count();
        // Told to read again: it missed some, and knows.
        if text.contains("resync") && heard > 1 {
            break;
        }
    }
    assert_eq!(client.get("/board").await.0, 200);
    drop(deaf);
    drop(listener);
    shop.close().await;
}

/// Browsers never send their wall clock, so one five hours wrong changes nothing; a figure that says so is refused.
#[sqlx::test]
async fn an_entry_from_the_future_is_refused(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let entry = |ago_s: f64| json!({ "id": uuid::Uuid::now_v7(), "kind": "note", "payload": { "text": "x" }, "ago_s": ago_s });
    let path = format!("/books/{book}/entries");
    let (status, body) = client.post(&path, entry(-5.0 * 3600.0)).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (422, Some("in-the-future")));
    let (status, body) = client.post(&path, entry(5.0 * 3600.0)).await;
    assert_eq!((status.as_u16(), body["view"]["log"][0]["late"].as_bool()), (200, Some(true)), "flagged as late");
    shop.close().await;
}

#[sqlx::test]
async fn bad_texts_by_name(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    for (field, text) in [
        ("pot_kpa", "5 oz"),
        ("pot_kpa", "0,8"),
        ("stream_mm", "3 1/0"),
        ("pot_kpa", "NaN"),
        ("pot_kpa", "inf"),
        ("pot_kpa", "-inf psi"),
        ("pot_kpa", "🙂"),
        ("pot_kpa", "١٢ psi"),
        ("pot_kpa", "<script>alert(1)</script>"),
    ] {
        let mut payload = json!({ "pot_kpa": "10 psi" });
        payload[field] = json!(text);
        let (status, body) = client.write(&book, "set_up", payload).await;
        assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some(field)), "{text}: {body}");
    }
    // A comma is read where the person writes it so.
    client.put("/session/reads", json!({ "units": "metric", "numbers": "comma" })).await;
    let written = client.wrote(&book, "set_up", json!({ "pot_kpa": "0,8 bar" })).await;
    assert_eq!(written["understood"]["pot_kpa"]["text"], "80\u{a0}kPa");
    let (_, sheets) = client.get("/sheets").await;
    let wanted = json!({ "sheet": sheets[0]["id"], "part": "n".repeat(300), "coat": "c", "area_m2": 3, "film_um": 100, "film_is": "wet", "transfer_pct": 60 });
    let (status, body) = client.post("/batches", json!({ "id": uuid::Uuid::now_v7(), "wanted": wanted })).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("part")));
    shop.close().await;
}
