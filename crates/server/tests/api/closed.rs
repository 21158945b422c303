//! Closed to strangers: every operation of the wire, as its own document lists them.

use super::client::Client;
use level_keel_harness::Shop;
use reqwest::Method;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::collections::BTreeSet;

/// What is open: the names to sign in by, signing in itself, and a document that says nothing of a shop.
const OPEN: [(&str, &str); 3] = [("get", "/api/v1/openapi.json"), ("get", "/api/v1/people"), ("post", "/api/v1/session")];

/// A path with its places filled by something of the right shape.
fn filled(path: &str) -> String {
    let places = [
        ("{sha256}", "ab".repeat(32)),
        ("{code}", "517".into()),
        ("{from}", id()),
        ("{to}", id()),
        ("{charge}", id()),
        ("{id}", id()),
    ];
    places.iter().fold(path.to_string(), |path, (place, with)| path.replace(place, with))
}

fn id() -> String {
    uuid::Uuid::from_u128(5).to_string()
}

fn operations() -> Vec<(String, String)> {
    let doc: Value = serde_json::from_str(include_str!("../../../../openapi.json")).unwrap();
    let paths = doc["paths"].as_object().unwrap();
    paths.iter().flat_map(|(path, of)| of.as_object().unwrap().keys().map(|m| (m.clone(), path.clone()))).collect()
}

async fn status(client: &Client, method: &str, path: &str) -> u16 {
    let method: Method = method.to_uppercase().parse().unwrap();
    let url = format!("{}{}", client.base.trim_end_matches("/api/v1"), filled(path));
    client.http.request(method, url).json(&json!({})).send().await.unwrap().status().as_u16()
}

#[sqlx::test]
async fn a_stranger_is_let_into_nothing(db: PgPool) {
    let shop = Shop::open(db).await;
    let stranger = Client::unsigned(&shop.address);
    let forged = Client {
        http: reqwest::Client::builder()
            .default_headers(
                [(reqwest::header::COOKIE, "level_keel=forged; session=forged".parse().unwrap())].into_iter().collect(),
            )
            .build()
            .unwrap(),
        ..stranger.clone()
    };
    let all = operations();
    assert!(all.len() > 70, "{} operations", all.len());
    let mut open = BTreeSet::new();
    for (method, path) in &all {
        for client in [&stranger, &forged] {
            match status(client, method, path).await {
                401 => {}
                _ => drop(open.insert((method.as_str(), path.as_str()))),
            }
        }
    }
    assert_eq!(open, BTreeSet::from(OPEN));
    shop.close().await;
}

/// What cannot be read is a problem of the client's, whoever sends it: nothing here is answered by a 5xx.
#[sqlx::test]
async fn an_empty_body_is_never_the_servers_fault(db: PgPool) {
    let shop = Shop::open(db).await;
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    for (method, path) in operations() {
        // Signing out would end the walk; streams do not end.
        if path.ends_with("/session") || ["/live", "/weigh-in", "/gauges"].iter().any(|end| path.ends_with(end)) {
            continue;
        }
        let answer = status(&owner, &method, &path).await;
        assert!(answer < 500, "{method} {path}: {answer}");
    }
    shop.close().await;
}
