use super::client::{APPLICATOR, Client, applicator, lead};
use jiff::SignedDuration;
use level_keel_harness::Shop;
use serde_json::json;
use sqlx::PgPool;

#[sqlx::test]
async fn a_wrong_pin_and_a_wrong_name_read_alike_and_ten_tries_lock(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = Client::unsigned(&shop.address);
    let (status, nobody) = client.post("/session", json!({ "name": "Nobody", "pin": "1234" })).await;
    assert_eq!(status, 422);
    let mut statuses = Vec::new();
    for _ in 0..10 {
        let (status, body) = client.post("/session", json!({ "name": APPLICATOR.0, "pin": "9999" })).await;
        if status == 422 {
            assert_eq!((&body["detail"], &body["field"]), (&nobody["detail"], &nobody["field"]));
        }
        statuses.push(status.as_u16());
    }
    assert_eq!(statuses, [422, 422, 422, 422, 429, 429, 429, 429, 429, 429]);
    // The right PIN waits too, then opens.
    let right = json!({ "name": APPLICATOR.0, "pin": APPLICATOR.1 });
    assert_eq!(client.post("/session", right.clone()).await.0, 429);
    shop.clock.advance(SignedDuration::from_secs(61));
    assert_eq!(client.post("/session", right).await.0, 204);
    shop.close().await;
}

#[sqlx::test]
async fn sessions_expire_and_can_be_revoked(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    assert_eq!(client.get("/session").await.0, 200);
    shop.clock.advance(SignedDuration::from_hours(13));
    let (status, body) = client.get("/board").await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (401, Some("sign-in")));
    let client = applicator(&shop).await;
    let gone = client.http.delete(format!("{}/session", client.base)).send().await.unwrap();
    assert_eq!(gone.status(), 204);
    assert_eq!(client.get("/board").await.0, 401);
    shop.close().await;
}

#[sqlx::test]
async fn nothing_is_read_or_written_without_a_session(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = Client::unsigned(&shop.address);
    for path in ["/board", "/sheets", "/parts", "/instruments", "/records", "/live", "/session"] {
        assert_eq!(client.get(path).await.0, 401, "{path}");
    }
    assert_eq!(client.post("/batches", json!({ "id": uuid::Uuid::now_v7(), "wanted": {} })).await.0, 401);
    shop.close().await;
}

#[sqlx::test]
async fn units_change_every_figure_and_no_stored_value(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = lead(&shop).await;
    let (_, before) = client.get("/sheets").await;
    let (status, _) = client.put("/session/reads", json!({ "units": "us", "numbers": "point" })).await;
    assert_eq!(status, 200);
    let (_, after) = client.get("/sheets").await;
    assert_ne!(before[0]["shown"]["temp_min_c"], after[0]["shown"]["temp_min_c"]);
    assert_eq!(before[0]["sheet"], after[0]["sheet"]);
    shop.close().await;
}

#[sqlx::test]
async fn only_the_owner_adds_people_and_pins_are_argon2id(db: PgPool) {
    let shop = Shop::open(db).await;
    let new = json!({ "name": "Edda Holm", "role": "applicator", "pin": "8642" });
    assert_eq!(lead(&shop).await.post("/people", new.clone()).await.0, 403);
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    assert_eq!(owner.post("/people", json!({ "name": "Weak", "role": "lead", "pin": "1111" })).await.1["field"], "pin");
    assert_eq!(owner.post("/people", new.clone()).await.0, 200);
    assert_eq!(owner.post("/people", new).await.1["code"], "name-taken");
    let hash = sqlx::query_scalar::<_, String>("select pin_hash from person where name = 'Edda Holm'")
        .fetch_one(&shop.state.db)
        .await
        .unwrap();
    assert!(hash.starts_with("$argon2id$"), "{hash}");
    shop.close().await;
}
