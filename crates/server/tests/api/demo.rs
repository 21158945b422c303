use super::client::applicator;
use jiff::SignedDuration;
use level_keel_harness::Shop;
use level_keel_server::books::{check_log, rebuild};
use level_keel_server::demo;
use serde_json::Value;
use sqlx::PgPool;

async fn words(shop: &Shop) -> Vec<String> {
    let (_, board) = applicator(shop).await.get("/board").await;
    let mut words: Vec<String> =
        board["pots"].as_array().unwrap().iter().map(|p| p["word"].as_str().unwrap().to_string()).collect();
    words.sort();
    words
}

/// The rack of a shift: a hose that holds paint, pots at every age, and one can that does not age.
const ALIVE: [&str; 8] = ["Flush by", "In the hose", "Inducting", "Last call", "Open", "Ready", "Ready", "Ready"];

/// Every kind of work stands on the board, each on its way, and one is held.
#[sqlx::test]
async fn the_shift_shows_every_kind_of_work(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (_, board) = client.get("/board").await;
    let mut kinds = std::collections::BTreeMap::new();
    let mut held = Vec::new();
    for row in board["batches"].as_array().unwrap() {
        let id = row["id"].as_str().unwrap();
        let begun: (String,) =
            sqlx::query_as("select method from batch where id = $1::uuid").bind(id).fetch_one(&shop.state.db).await.unwrap();
        *kinds.entry(begun.0).or_insert(0) += 1;
        if row["stations"].as_array().unwrap().iter().any(|s| s["state"] == "hold" && s["name"] == "Ready") {
            held.push(row["label"].as_str().unwrap().to_string());
        }
    }
    let kinds: Vec<(&str, i32)> = kinds.iter().map(|(k, n)| (k.as_str(), *n)).collect();
    assert_eq!(kinds, [("brush", 1), ("gel-coat machine", 1), ("gun cup", 1), ("pressure pot", 4), ("twin feed", 1)]);
    assert_eq!(held, ["Buoy 9 · primer"], "one waits for warmth");
    shop.close().await;
}

#[sqlx::test]
async fn the_demo_is_alive_whenever_it_is_started(db: PgPool) {
    let shop = Shop::open(db).await;
    assert_eq!(words(&shop).await, ALIVE);
    let records = async || applicator(&shop).await.get("/records").await.1["rows"].as_array().unwrap().len();
    assert_eq!(records().await, 3);
    // Started again an hour later: nothing is added.
    shop.clock.advance(SignedDuration::from_hours(1));
    demo::bring_up(&shop.state).await.unwrap();
    assert_eq!(records().await, 3);
    // The next morning: the crew has closed the old shift, and a new one is on.
    shop.clock.advance(SignedDuration::from_hours(15));
    demo::bring_up(&shop.state).await.unwrap();
    assert_eq!(words(&shop).await, ALIVE);
    assert_eq!(records().await, 11, "all eight are closed by the crew, the one that was held too");
    let (_, board) = applicator(&shop).await.get("/board").await;
    assert_eq!(board["batches"].as_array().unwrap().len(), 8);
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn a_shops_own_database_is_left_alone(db: PgPool) {
    let shop = Shop::open(db).await;
    sqlx::query("delete from house").execute(&shop.state.db).await.unwrap();
    let count = || sqlx::query_scalar::<_, i64>("select count(*) from entry").fetch_one(&shop.state.db);
    let before = count().await.unwrap();
    shop.clock.advance(SignedDuration::from_hours(30));
    demo::bring_up(&shop.state).await.unwrap();
    assert_eq!(count().await.unwrap(), before);
    shop.close().await;
}

#[sqlx::test]
async fn the_rows_can_be_rebuilt_from_the_log(db: PgPool) {
    let shop = Shop::open(db).await;
    let rows = || {
        sqlx::query_as::<_, (uuid::Uuid, String, Option<String>, Option<Value>)>(
            "select id, state, ended::text, signed_card from batch order by id",
        )
        .fetch_all(&shop.state.db)
    };
    let before = rows().await.unwrap();
    sqlx::query("update batch set state = 'open', ended = null").execute(&shop.state.db).await.unwrap();
    assert!(!check_log(&shop.state.db).await.unwrap().faults.is_empty(), "a row that lies is found");
    let books: i64 = sqlx::query_scalar("select count(*) from book").fetch_one(&shop.state.db).await.unwrap();
    assert_eq!(rebuild(&shop.state.db).await.unwrap(), usize::try_from(books).unwrap(), "every book has its row");
    assert_eq!(rows().await.unwrap(), before);
    // Whatever a row or a small table says that its book does not say is found by name, and mended from the book.
    for (lie, named) in [
        ("update batch set label = 'another part'", "label"),
        ("update batch set reckoned_ml = reckoned_ml + 1", "reckoned_ml"),
        ("update batch set begun = begun + interval '1 second'", "begun"),
        ("update batch set rig_id = null where rig_id is not null", "rig_id"),
        ("delete from lot_use", "its lots are not"),
        ("delete from batch_person", "its people are not"),
        ("update lot_pour set used_g = used_g + 1", "what it took of its lots"),
        ("update rig set retired = true", "retired"),
        ("update rig set body = jsonb_set(body, '{gun}', '\"another\"')", "body"),
        ("update lot set expires = null", "expires"),
        ("update lot set quarantined = 'for no reason'", "quarantined"),
        ("update lot set left_g = left_g + 1", "what is left of it"),
        ("update place set store_max_c = 90", "store_max_c"),
        ("update reading set value = value + 1 where source like 'place:%'", "its readings are not"),
        ("update book set head_seq = head_seq + 1 where kind = 'rig'", "its head is"),
    ] {
        sqlx::query(lie).execute(&shop.state.db).await.unwrap();
        let faults = check_log(&shop.state.db).await.unwrap().faults;
        assert!(faults.iter().any(|f| f.contains(named)), "{lie}: {faults:?}");
        if lie.starts_with("update book") {
            break;
        }
        rebuild(&shop.state.db).await.unwrap();
        assert_eq!(check_log(&shop.state.db).await.unwrap().faults, [""; 0], "{lie}");
    }
    shop.close().await;
}

/// A shift is of one day, and so are the jobs before it: the demo loads at any hour, those around midnight too.
async fn loads_at(db: PgPool, at: &str) {
    let shop = Shop::loaded_at(db, at).await;
    let board = applicator(&shop).await.get("/board").await.1;
    let alive = board["pots"].as_array().unwrap().len();
    assert!(alive >= 6, "{at}: {alive} pots alive");
    shop.close().await;
}

#[sqlx::test]
async fn the_demo_loads_just_after_midnight(db: PgPool) {
    loads_at(db, "2026-12-02T00:20:00Z").await;
}

#[sqlx::test]
async fn the_demo_loads_before_dawn(db: PgPool) {
    loads_at(db, "2026-12-02T03:10:00Z").await;
}

#[sqlx::test]
async fn the_demo_loads_late_in_the_evening(db: PgPool) {
    loads_at(db, "2026-12-01T22:57:00Z").await;
}

#[sqlx::test]
async fn the_demo_loads_just_before_midnight(db: PgPool) {
    loads_at(db, "2026-12-01T23:45:00Z").await;
}
