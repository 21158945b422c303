//! One box that finds everything, and what a scanned label opens.

use super::client::{Client, applicator, lead};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn found(client: &Client, q: &str) -> (u16, Value) {
    let address = reqwest::Url::parse_with_params("http://shop/find", [("q", q)]).unwrap();
    let (status, body) = client.get(&format!("/find?{}", address.query().unwrap())).await;
    (status.as_u16(), body)
}

fn labels(body: &Value) -> Vec<(String, String)> {
    let rows = body["rows"].as_array().unwrap_or_else(|| panic!("{body}"));
    rows.iter().map(|r| (r["is"].as_str().unwrap().into(), r["label"].as_str().unwrap().into())).collect()
}

#[sqlx::test]
async fn everything_is_found_from_one_box(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    for (q, is, label) in [
        ("buoy 8", "batch", "Buoy 8 · primer"),
        ("Buoy 7", "card", "Buoy 7 · primer"),
        ("BUOY 8", "part", "Buoy 8"),
        ("p-2207", "lot", "P-2207"),
        ("gel coat", "sheet", "Flume gel coat, sand"),
        ("twin", "rig", "Collar twin pots"),
        ("celo", "person", "Celo Wick"),
    ] {
        let (status, body) = found(&client, q).await;
        assert_eq!(status, 200, "{q}");
        assert!(labels(&body).contains(&(is.into(), label.into())), "{q}: {body}");
        assert_eq!(body["by_label"], false);
    }
    // By the number of a batch, with or without its zeros; what stands in work comes first.
    for q in ["5", "0005", "#5"] {
        let (_, body) = found(&client, q).await;
        assert!(
            body["rows"].as_array().unwrap().iter().any(|r| r["facts"].as_str().unwrap().ends_with("batch 0005")),
            "{q}: {body}"
        );
    }
    let (_, body) = found(&client, "buoy").await;
    let order: Vec<String> = labels(&body).into_iter().map(|(is, _)| is).collect();
    assert_eq!(order.first().map(String::as_str), Some("batch"), "{order:?}");
    // The signs of patterns are letters like others, and nothing is found by nothing.
    for q in ["%", "_", "x'; drop table part; --", "  "] {
        assert_eq!(labels(&found(&client, q).await.1), [], "{q}");
    }
    assert_eq!(Client::unsigned(&shop.address).get("/find?q=buoy").await.0, 401);
    shop.close().await;
}

#[sqlx::test]
async fn a_label_opens_what_it_names_and_a_foreign_one_opens_nothing(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = lead(&shop).await;
    let (_, lots) = client.get("/lots?find=P-2207").await;
    let lot = lots["lots"][0]["id"].as_str().unwrap().to_string();
    // As it was printed, under whatever name the server had then.
    for host in [shop.address.as_str(), "http://192.168.1.4:7070", "https://shop.example"] {
        let (status, body) = found(&client, &format!("{host}/stores/{lot}")).await;
        assert_eq!((status, labels(&body)), (200, vec![("lot".into(), "P-2207".into())]), "{host}");
        assert_eq!((&body["by_label"], &body["rows"][0]["id"]), (&json!(true), &json!(lot)));
    }
    let (_, board) = client.get("/board").await;
    let batch = board["batches"][0]["id"].as_str().unwrap();
    let (_, body) = found(&client, &format!("{}/batches/{batch}?at=2", shop.address)).await;
    assert_eq!((labels(&body).len(), &body["rows"][0]["is"]), (1, &json!("batch")), "{body}");
    // A label of another shop has an id that is not kept here.
    let (status, body) = found(&client, &format!("{}/stores/{}", shop.address, Uuid::now_v7())).await;
    assert_eq!((status, labels(&body).len(), &body["by_label"]), (200, 0, &json!(true)));
    // What leads elsewhere, what is no text, what is too long: refused by the field, nothing looked up.
    let long = "x".repeat(4096);
    for (line, code) in [
        ("https://example.com/win?prize=1", "foreign-label"),
        ("http://127.0.0.1:7070/stores/not-an-id", "foreign-label"),
        ("http://127.0.0.1:7070/people/0191d000-0000-7000-8000-000000000007", "foreign-label"),
        ("HTTP://EXAMPLE.COM", "foreign-label"),
        ("P-22\u{7}07", "scan-unreadable"),
        (long.as_str(), "scan-too-long"),
    ] {
        let (status, body) = found(&client, line).await;
        assert_eq!((status, body["code"].as_str()), (422, Some(code)), "{body}");
    }
    // A script is words that nothing goes by.
    assert_eq!(labels(&found(&client, "javascript:alert(1)").await.1), []);
    assert_eq!(labels(&found(&client, "<script>alert(1)</script>").await.1), []);
    shop.close().await;
}
