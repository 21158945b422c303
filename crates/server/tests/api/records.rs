//! Finding finished batches: by every way asked, a page at a time.

use super::client::{Client, applicator};
use level_keel_core::batch::StationName;
use level_keel_core::batch::beside::Neighbour;
use level_keel_harness::Shop;
use level_keel_server::parts::beside;
use serde_json::Value;
use sqlx::{Connection, PgPool};

async fn found(client: &Client, query: &str) -> Vec<String> {
    let (status, page) = client.get(&format!("/records?{query}")).await;
    assert_eq!(status, 200, "{query}: {page}");
    page["rows"].as_array().unwrap().iter().map(|r| r["label"].as_str().unwrap().to_string()).collect()
}

#[sqlx::test]
async fn by_part_product_lot_person_and_day(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let buoy = "Buoy 3 · primer".to_string();
    let seven = "Buoy 7 · primer".to_string();
    let flume = "Flume section 11 · gel coat".to_string();
    let day = |ago: i64| shop.state.shop_day().checked_sub(jiff::Span::new().days(ago)).unwrap();
    assert_eq!(found(&client, "").await, [seven.clone(), flume.clone(), buoy.clone()], "newest first");
    for (query, want) in [
        ("part=buoy".to_string(), vec![&seven, &buoy]),
        ("product=gel".into(), vec![&flume]),
        ("lot=P-2204".into(), vec![&buoy]),
        ("lot=p-22&person=ansa".into(), vec![&seven, &buoy]),
        ("person=Celo".into(), vec![]),
        ("find=H-118".into(), vec![&seven, &buoy]),
        ("find=flume".into(), vec![&flume]),
        ("find=1".into(), vec![&seven, &flume, &buoy]),
        ("part=100%25".into(), vec![]),
        (format!("from={}", day(7)), vec![&seven, &flume]),
        (format!("to={}", day(8)), vec![&buoy]),
        (format!("from={}&to={}", day(10), day(8)), vec![&buoy]),
        (format!("from={}", day(1)), vec![]),
    ] {
        let got = found(&client, &query).await;
        assert_eq!(got.iter().collect::<Vec<_>>(), want, "{query}");
    }
    let (_, page) = client.get("/records?lot=P-2204").await;
    assert_eq!(page["rows"][0]["lots"], serde_json::json!(["H-118", "P-2204", "T-77"]));
    assert_eq!(page["rows"][0]["people"], serde_json::json!(["Ansa Reef"]));
    for (query, field) in [("from=yesterday", "from"), ("to=2026-13-01", "to"), ("after=elsewhere", "after")] {
        let (status, body) = client.get(&format!("/records?{query}")).await;
        assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some(field)), "{query}");
    }
    assert_eq!(client.get("/records?colour=blue").await.0, 400, "what is not known is said");
    shop.close().await;
}

/// Copies of a finished batch, for the length of a list; their books are empty, so only lists may look at them.
pub async fn fill(db: &PgPool, many: i64) {
    sqlx::query(
        "with made as (
           insert into book (id, kind, created) select gen_random_uuid(), 'rig', now() from generate_series(1, $1) returning id
         )
         insert into batch (id, number, sheet_version_id, part_id, coat_id, label, product, state, begun, last_happened)
         select k.id, 1000 + k.n, b.sheet_version_id, b.part_id, b.coat_id, 'Copy ' || k.n || ' · primer', b.product, 'accepted',
           b.begun - k.n * interval '1 hour', b.last_happened - (k.n / 3) * interval '1 hour'
         from (select id, row_number() over (order by id) as n from made) k,
           (select * from batch where state = 'accepted' order by number limit 1) b",
    )
    .bind(many)
    .execute(db)
    .await
    .unwrap();
}

#[sqlx::test]
async fn pages_join_without_gap_or_repeat(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    fill(&shop.state.db, 250).await;
    let (mut seen, mut after, mut pages) = (Vec::new(), String::new(), 0);
    loop {
        let (_, page) = client.get(&format!("/records?after={after}")).await;
        seen.extend(page["rows"].as_array().unwrap().iter().map(|r| r["number"].as_i64().unwrap()));
        pages += 1;
        match &page["next"] {
            Value::String(next) => after = next.replace(':', "%3A").replace('+', "%2B"),
            _ => break,
        }
    }
    assert_eq!((pages, seen.len()), (3, 253));
    seen.sort_unstable();
    seen.dedup();
    assert_eq!(seen.len(), 253, "nothing comes twice");
    shop.close().await;
}

/// Every column sorts both ways, a page at a time, and nothing comes twice or is left out between two pages.
#[sqlx::test]
async fn every_column_sorts_a_page_at_a_time(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    fill(&shop.state.db, 230).await;
    for (sort, field) in [("number", "number"), ("part", "label"), ("product", "product"), ("begun", "begun"), ("last", "last")] {
        for down in ["", "-"] {
            let (mut rows, mut after) = (Vec::new(), String::new());
            loop {
                let address =
                    reqwest::Url::parse_with_params("http://shop/", [("sort", format!("{down}{sort}")), ("after", after)])
                        .unwrap();
                let (status, page) = client.get(&format!("/records?{}", address.query().unwrap())).await;
                assert_eq!(status, 200, "{sort}: {page}");
                rows.extend(page["rows"].as_array().unwrap().clone());
                match page["next"].as_str() {
                    Some(next) => after = next.into(),
                    None => break,
                }
            }
            let ids: std::collections::BTreeSet<String> = rows.iter().map(|r| r["id"].to_string()).collect();
            assert_eq!((rows.len(), ids.len()), (233, 233), "{down}{sort}");
            let mut said: Vec<String> = rows.iter().map(|r| r[field].to_string().to_lowercase()).collect();
            if sort == "number" {
                said = rows.iter().map(|r| format!("{:08}", r[field].as_i64().unwrap())).collect();
            }
            if down == "-" {
                said.reverse();
            }
            // The database sorts words by its own rules of language: compared where both agree.
            if !["part", "product"].contains(&sort) {
                assert!(said.is_sorted(), "{down}{sort}");
            }
        }
    }
    assert_eq!(found(&client, "sort=part&find=buoy").await, ["Buoy 3 · primer", "Buoy 7 · primer"]);
    assert_eq!(found(&client, "sort=-part&find=buoy").await, ["Buoy 7 · primer", "Buoy 3 · primer"]);
    for (query, field) in [("sort=colour", "sort"), ("sort=number&after=x~0191d000-0000-7000-8000-000000000007", "after")] {
        let (status, body) = client.get(&format!("/records?{query}")).await;
        assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some(field)), "{query}");
    }
    // The table that is taken along has the same order.
    let (_, csv) = client.file("/records.csv?sort=-number&part=buoy").await;
    let seven = csv.find("Buoy 7").unwrap();
    assert!(seven < csv.find("Buoy 3").unwrap());
    shop.close().await;
}

/// What is typed at Mix asks for the open batches of its sheet: it reads those, and not the thousands that are done.
#[sqlx::test]
async fn thousands_of_finished_batches_are_not_read_at_a_key(db: PgPool) {
    const DONE: i64 = 20_000;
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await.parse().unwrap();
    let mut conn = shop.state.db.acquire().await.unwrap();
    // Ten coats of each of two thousand parts; the oldest four hundred were left open.
    let copies = "with books as (insert into book (id, kind, created) select gen_random_uuid(), 'batch', now() from generate_series(1, $1) returning id),
         parts as (insert into part (id, name, label, created) select gen_random_uuid(), 'Copy ' || n, 'Copy', now() from generate_series(1, $1 / 10) n returning id),
         k as (select id, row_number() over () as n from books), p as (select id, row_number() over () as n from parts)
         insert into batch (id, number, sheet_version_id, part_id, coat_id, label, product, state, begun, last_happened)
         select k.id, 100000 + k.n, b.sheet_version_id, p.id, b.coat_id, b.label, b.product, case when k.n <= 400 then 'open' else 'accepted' end, b.begun, b.last_happened
         from k join p on p.n = 1 + k.n % ($1 / 10), (select * from batch where state = 'accepted' order by number limit 1) b";
    sqlx::query(copies).bind(DONE).execute(&mut *conn).await.unwrap();
    sqlx::raw_sql("analyze; set plan_cache_mode = force_generic_plan").execute(&mut *conn).await.unwrap();
    let mut tx = conn.begin().await.unwrap();
    let seen = beside(&mut tx, &shop.state.shop.now(), Some(&[book]), Neighbour::of_view(Some(StationName::Mix))).await.unwrap();
    assert_eq!(seen.len(), 1);
    let read = "select seq_tup_read + idx_tup_fetch from pg_stat_xact_user_tables where relname = 'batch'";
    let read: i64 = sqlx::query_scalar(read).fetch_one(&mut *tx).await.unwrap();
    assert!(read > 0 && read < 200, "{read} rows of batches were read");
    tx.rollback().await.unwrap();
    drop(conn);
    shop.close().await;
}

/// Words written are found through the index at once: nothing waits on a list that each search would read until a vacuum.
#[sqlx::test]
async fn words_wait_on_no_list(db: PgPool) {
    let shop = Shop::open(db).await;
    sqlx::query("insert into part (id, name, label, created) select gen_random_uuid(), 'Copy part ' || n, 'Copy', now() from generate_series(1, 300) n")
        .execute(&shop.state.db)
        .await
        .unwrap();
    for index in ["part_words", "batch_label_words", "batch_product_words"] {
        let waiting: i64 = sqlx::query_scalar("select gin_clean_pending_list($1::regclass)")
            .bind(index)
            .fetch_one(&shop.state.db)
            .await
            .unwrap();
        assert_eq!(waiting, 0, "pages of {index} that were not sorted in");
    }
    shop.close().await;
}
