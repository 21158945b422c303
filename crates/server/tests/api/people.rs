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
    assert_ne!(before, after, "temperatures and films are said in other units");
    let whole = client.get(&format!("/sheets/{}", before[0]["id"].as_str().unwrap())).await.1;
    client.put("/session/reads", json!({ "units": "metric", "numbers": "point" })).await;
    let metric = client.get(&format!("/sheets/{}", before[0]["id"].as_str().unwrap())).await.1;
    assert_ne!(whole[0]["shown"]["temp_min_c"], metric[0]["shown"]["temp_min_c"]);
    assert_eq!(whole[0]["sheet"], metric[0]["sheet"]);
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

async fn owner(shop: &Shop) -> Client {
    Client::signed(&shop.address, ("Dunja Fenn", "4680")).await
}

async fn id_of(client: &Client, name: &str) -> String {
    let (_, all) = client.get("/people/kept").await;
    let row = all.as_array().unwrap().iter().find(|p| p["name"] == name).expect("a person").clone();
    row["id"].as_str().unwrap().to_string()
}

#[sqlx::test]
async fn a_retired_person_is_out_at_once_and_their_name_stays(db: PgPool) {
    let shop = Shop::open(db).await;
    let (owner, worker) = (owner(&shop).await, applicator(&shop).await);
    let book = worker.begun().await;
    let id = id_of(&owner, APPLICATOR.0).await;
    assert_eq!(lead(&shop).await.put(&format!("/people/{id}"), json!({ "retired": true })).await.0, 403);
    assert_eq!(owner.put(&format!("/people/{id}"), json!({ "retired": true })).await.0, 204);
    assert_eq!(worker.get("/board").await.0, 401, "their session is over");
    let right = json!({ "name": APPLICATOR.0, "pin": APPLICATOR.1 });
    let (status, body) = Client::unsigned(&shop.address).post("/session", right.clone()).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (422, Some("wrong-pin")), "reads like any wrong PIN");
    let (_, names) = owner.get("/people").await;
    assert!(!names.as_array().unwrap().iter().any(|p| p["name"] == APPLICATOR.0), "not on the sign-in page");
    let (_, view) = owner.get(&format!("/batches/{book}")).await;
    assert_eq!(view["log"][0]["by"], APPLICATOR.0, "the log keeps their name");
    assert_eq!(owner.put(&format!("/people/{id}"), json!({ "retired": false })).await.0, 204);
    assert_eq!(Client::unsigned(&shop.address).post("/session", right).await.0, 204);
    shop.close().await;
}

#[sqlx::test]
async fn a_new_pin_ends_the_old_sessions_and_opens_the_lock(db: PgPool) {
    let shop = Shop::open(db).await;
    let (owner, worker) = (owner(&shop).await, applicator(&shop).await);
    let id = id_of(&owner, APPLICATOR.0).await;
    for _ in 0..5 {
        Client::unsigned(&shop.address).post("/session", json!({ "name": APPLICATOR.0, "pin": "9999" })).await;
    }
    let (status, body) = owner.put(&format!("/people/{id}"), json!({ "pin": "1111" })).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("pin")));
    assert_eq!(owner.put(&format!("/people/{id}"), json!({ "pin": "8642" })).await.0, 204);
    assert_eq!(worker.get("/board").await.0, 401);
    let client = Client::unsigned(&shop.address);
    assert_eq!(client.post("/session", json!({ "name": APPLICATOR.0, "pin": "8642" })).await.0, 204, "and the lock is open");
    shop.close().await;
}

#[sqlx::test]
async fn one_owner_always_stays(db: PgPool) {
    let shop = Shop::open(db).await;
    let owner = owner(&shop).await;
    let id = id_of(&owner, "Dunja Fenn").await;
    for change in [json!({ "retired": true }), json!({ "role": "lead" })] {
        let (status, body) = owner.put(&format!("/people/{id}"), change).await;
        assert_eq!((status.as_u16(), body["code"].as_str()), (409, Some("last-owner")));
    }
    let other = id_of(&owner, "Brok Tarn").await;
    assert_eq!(owner.put(&format!("/people/{other}"), json!({ "role": "owner" })).await.0, 204);
    assert_eq!(owner.put(&format!("/people/{id}"), json!({ "role": "lead" })).await.0, 204);
    assert_eq!(owner.get("/people/kept").await.0, 403, "no longer");
    shop.close().await;
}

#[sqlx::test]
async fn sessions_are_listed_and_ended(db: PgPool) {
    let shop = Shop::open(db).await;
    let (here, there) = (applicator(&shop).await, applicator(&shop).await);
    let lead = lead(&shop).await;
    let (_, mine) = here.get("/sessions").await;
    let mine = mine.as_array().unwrap();
    assert_eq!(mine.len(), 2, "one's own alone");
    assert_eq!(mine.iter().filter(|s| s["this_one"] == true).count(), 1);
    assert_eq!(mine[0]["opened_from"], "127.0.0.1");
    let other = mine.iter().find(|s| s["this_one"] == false).unwrap()["id"].as_str().unwrap().to_string();
    let end = async |client: &Client, id: &str| {
        client.http.delete(format!("{}/sessions/{id}", client.base)).send().await.unwrap().status().as_u16()
    };
    assert_eq!(end(&lead, &other).await, 404, "not theirs to end");
    assert_eq!(end(&here, &other).await, 204);
    assert_eq!(there.get("/board").await.0, 401);
    assert_eq!(here.get("/board").await.0, 200);
    let owner = owner(&shop).await;
    let (_, all) = owner.get("/sessions").await;
    assert_eq!(all.as_array().unwrap().len(), 3, "the owner sees everybody's");
    shop.close().await;
}

/// A batch is handed to people of this shop alone, under the name the shop has for them.
#[sqlx::test]
async fn a_batch_is_handed_to_somebody_who_works_here(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let (_, names) = client.get("/people").await;
    let celo = names.as_array().unwrap().iter().find(|p| p["name"] == "Celo Wick").unwrap().clone();
    for person in [json!("0191d000-0000-7000-8000-00000000dead"), json!("Celo"), json!(7), json!(null)] {
        let (status, body) = client.write(&book, "in_hand", json!({ "person": person })).await;
        assert_eq!(status, 422, "{person}: {body}");
    }
    // Whatever name is sent, the shop's own stands in the log.
    let written = client.wrote(&book, "in_hand", json!({ "person": celo["id"], "name": "Somebody Else" })).await;
    assert_eq!(written["view"]["on_it"], "Celo Wick");
    assert_eq!(written["view"]["mine"], false);
    let (_, board) = client.get("/board").await;
    let row = board["batches"].as_array().unwrap().iter().find(|b| b["id"] == json!(book)).unwrap().clone();
    assert_eq!((&row["on_it"], &row["mine"]), (&json!("Celo Wick"), &json!(false)));
    let (_, csv) = client.file("/board.csv").await;
    let line = csv.lines().find(|line| line.contains(&book) && line.starts_with("in work")).unwrap();
    assert!(line.contains("Celo Wick"), "{line}");
    // Nobody is handed a batch who left the shop.
    sqlx::query("update person set retired = true where name = 'Brok Tarn'").execute(&shop.state.db).await.unwrap();
    let brok = names.as_array().unwrap().iter().find(|p| p["name"] == "Brok Tarn").unwrap().clone();
    let (status, body) = client.write(&book, "in_hand", json!({ "person": brok["id"] })).await;
    assert_eq!(
        (status.as_u16(), body["field"].as_str().or(body["fields"][0]["field"].as_str())),
        (422, Some("person")),
        "{body}"
    );
    shop.close().await;
}
