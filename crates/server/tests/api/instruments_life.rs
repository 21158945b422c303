//! Scales and gauges have a life: checked, due, found off, and what that puts in doubt.

use super::client::{Client, applicator, lead};
use jiff::SignedDuration;
use level_keel_harness::Shop;
use level_keel_server::books::{check_log, rebuild};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn instrument(client: &Client, kind: &str, name: &str) -> Option<Value> {
    let (_, all) = client.get("/instruments").await;
    all.as_array().unwrap().iter().find(|i| i["kind"] == kind && i["name"] == name).cloned()
}

#[sqlx::test]
async fn a_scale_found_off_puts_in_doubt_what_was_weighed_on_it(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let fine = instrument(&lead, "scale", "Fine scale").await.expect("a scale of the demo");
    let id = fine["id"].as_str().unwrap().to_string();
    let write = async |client: &Client, kind: &str, payload: Value| {
        let entry = json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload });
        client.post(&format!("/instruments/{id}/entries"), entry).await
    };
    // Nothing was ever written: nothing is overdue.
    let (_, state) = hand.get(&format!("/instruments/{id}")).await;
    assert_eq!((&state["last"], &state["overdue"]), (&Value::Null, &json!(false)));
    let (status, refused) = write(&hand, "checked", json!({ "known_g": "500 g", "against": "brass" })).await;
    assert_eq!((status.as_u16(), &refused["field"]), (422, &json!("read_g")));
    let good =
        json!({ "known_g": "500 g", "read_g": "500.1 g", "empty_g": "0 g", "against": "500 g brass", "again_day_count": 30 });
    let (status, state) = write(&hand, "checked", good).await;
    assert_eq!((status.as_u16(), &state["good"]), (200, &json!(true)), "{state}");
    // Weighed on it: a pair of catches.
    let (_, board) = lead.get("/board").await;
    let rows = board["batches"].as_array().unwrap();
    let collar = rows.iter().find(|b| b["label"].as_str().unwrap().starts_with("Float 12")).unwrap();
    let book = collar["id"].as_str().unwrap().to_string();
    let charge = lead.get(&format!("/batches/{book}?station=prove")).await.1["prove"]["charge"].clone();
    let caught =
        json!({ "charge": charge, "a_g": "40.2 g", "b_g": "5 g", "instrument": id, "a_kpa": "15.6 psi", "b_kpa": "8 psi" });
    hand.wrote(&book, "ratio_check", caught.clone()).await;
    let newest = async || {
        let row = sqlx::query_scalar::<_, Value>(
            "select payload_json from entry where book_id = $1::uuid and kind = 'ratio_check' order by seq desc limit 1",
        );
        row.bind(book.parse::<Uuid>().unwrap()).fetch_one(&db).await.unwrap()
    };
    assert_eq!((newest().await["resolution_g"].as_f64(), &newest().await["overdue"]), (Some(0.1), &Value::Null));
    // A month later its check is overdue: every reading is taken to be off by twice as much.
    shop.clock.advance(SignedDuration::from_hours(24 * 31));
    let (hand, lead) = (applicator(&shop).await, super::client::lead(&shop).await);
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    let (_, state) = hand.get(&format!("/instruments/{id}")).await;
    assert_eq!(state["overdue"], true);
    hand.wrote(&book, "ratio_check", caught.clone()).await;
    assert_eq!((newest().await["resolution_g"].as_f64(), &newest().await["overdue"]), (Some(0.2), &json!("widens")));
    // Where the shop says so, it holds.
    let mut says = owner.get("/shop").await.1;
    says["overdue_scale"] = json!("holds");
    assert_eq!(owner.put("/shop", says).await.0, 200);
    let written = hand.wrote(&book, "ratio_check", caught).await;
    let holds = written["view"]["holds"].as_array().unwrap();
    assert!(holds.iter().any(|h| h["trouble"] == "scale-overdue"), "{holds:?}");
    // Found off, and not read empty: the three catches since the good check are in doubt; their verdicts stay.
    let off = json!({ "known_g": 500, "read_g": 509, "against": "500 g brass" });
    let (_, state) = write(&hand, "checked", off).await;
    assert_eq!((&state["good"], state["marks"].as_array().unwrap().len()), (&json!(false), 3), "{state}");
    let (_, ledger) = lead.get(&format!("/batches/{book}/ledger")).await;
    let rows = ledger["page"]["rows"].as_array().unwrap();
    assert!(rows[..3].iter().all(|r| r["mark"].as_str().is_some_and(|m| m.contains("found off")) && r["verdict"] == "in"));
    let answer = json!({ "proof": state["marks"][0]["proof"], "text": "weighed again on the bench scale, in" });
    assert_eq!(write(&hand, "mark_answered", answer.clone()).await.0, 403);
    let (_, state) = write(&lead, "mark_answered", answer).await;
    assert!(state["marks"][0]["answered"].as_str().unwrap().contains("bench scale"));
    // Struck, nothing is in doubt any more; the row follows its book.
    let entry =
        state["book"].as_array().unwrap().iter().find(|l| l["text"].as_str().unwrap().contains("509")).unwrap()["entry"].clone();
    let (_, state) = write(&hand, "strike", json!({ "entry": entry, "reason": "the mass was not clean" })).await;
    assert_eq!(state["marks"].as_array().unwrap().len(), 0);
    assert!(check_log(&db).await.unwrap().faults.is_empty());
    sqlx::raw_sql("update instrument set due = null").execute(&db).await.unwrap();
    assert!(!check_log(&db).await.unwrap().faults.is_empty());
    rebuild(&db).await.unwrap();
    assert!(check_log(&db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn a_gauge_is_checked_against_another(db: PgPool) {
    let shop = Shop::open(db).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let gauge = json!({ "name": "Pot gauge", "division_kpa": "2 psi" });
    assert_eq!(hand.put("/instruments/gauges", gauge.clone()).await.0, 403);
    let (status, refused) = lead.put("/instruments/gauges", json!({ "name": "Pot gauge", "division_kpa": "2 furlongs" })).await;
    assert_eq!((status.as_u16(), &refused["field"]), (422, &json!("division_kpa")));
    let (status, id) = lead.put("/instruments/gauges", gauge).await;
    assert_eq!(status, 200);
    let write = async |payload: Value| {
        let entry = json!({ "id": Uuid::now_v7(), "kind": "checked", "payload": payload });
        hand.post(&format!("/instruments/{}/entries", id.as_str().unwrap()), entry).await
    };
    let (status, refused) = write(json!({ "known_g": 500, "read_g": 500, "against": "brass" })).await;
    assert_eq!((status.as_u16(), &refused["field"]), (422, &json!("known_kpa")));
    let (_, state) =
        write(json!({ "known_kpa": "60 psi", "read_kpa": "64 psi", "empty_kpa": "0 psi", "against": "the test gauge" })).await;
    assert!(state["last"].as_str().unwrap().contains("a gain error"), "{state}");
    let comb = lead.get("/instruments").await.1.as_array().unwrap().iter().find(|i| i["kind"] == "comb").unwrap()["id"].clone();
    let entry =
        json!({ "id": Uuid::now_v7(), "kind": "checked", "payload": { "known_g": 500, "read_g": 500, "against": "brass" } });
    assert_eq!(hand.post(&format!("/instruments/{}/entries", comb.as_str().unwrap()), entry).await.0, 422);
    shop.close().await;
}
