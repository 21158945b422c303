use super::client::{Client, applicator};
use level_keel_harness::Shop;
use serde_json::json;
use sqlx::PgPool;
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
    let nowhere = http.get(format!("{}/api/v1/no-such", shop.address)).send().await.unwrap();
    assert_eq!(
        (nowhere.status().as_u16(), nowhere.headers()["content-type"].to_str().unwrap()),
        (404, "application/problem+json")
    );
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
    let now = level_keel_server::routes::openapi().to_pretty_json().unwrap();
    assert_eq!(committed.trim(), now.trim(), "run script/generate and commit");
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
