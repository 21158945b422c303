//! What leaves the shop: cards as JSON by their schema and as CSV, lists as CSV.

use super::client::{Client, applicator, lead};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn finished(client: &Client) -> Vec<String> {
    let (_, page) = client.get("/records").await;
    page["rows"].as_array().unwrap().iter().map(|r| r["id"].as_str().unwrap().to_string()).collect()
}

/// JSON Schema 2020-12, judged by the `jsonschema` crate.
#[sqlx::test]
async fn every_card_fits_its_schema(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let schema: Value = serde_json::from_str(&client.file("/schemas/card.json").await.1).unwrap();
    assert_eq!(schema["$schema"], "https://json-schema.org/draft/2020-12/schema");
    let validator = jsonschema::validator_for(&schema).expect("a schema");
    let (_, board) = client.get("/board").await;
    let open = board["batches"].as_array().unwrap().iter().map(|b| b["id"].as_str().unwrap().to_string());
    for id in finished(&client).await.into_iter().chain(open) {
        let (name, text) = client.file(&format!("/batches/{id}/card.json")).await;
        assert!(name.starts_with("attachment") && name.contains("level-keel-card-"), "{name}");
        let card: Value = serde_json::from_str(&text).unwrap();
        let faults: Vec<String> = validator.iter_errors(&card).map(|e| format!("{}: {e}", e.instance_path())).collect();
        assert!(faults.is_empty(), "{faults:#?}");
        assert_eq!((&card["format"], &card["format_version"]), (&json!("level-keel-card"), &json!(1)));
        let mut broken = card.clone();
        broken["area_m2"] = json!("much");
        assert!(!validator.is_valid(&broken), "the schema can say no");
    }
    shop.close().await;
}

/// A signed card is sent as it was signed, whatever the record says later.
#[sqlx::test]
async fn a_signed_card_is_kept_as_it_was(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let id = &finished(&client).await[0];
    let before = client.get(&format!("/batches/{id}/card")).await.1;
    sqlx::query("update batch set signed_card = jsonb_set(signed_card, '{core_version}', '\"0.0.1-old\"') where id = $1::uuid")
        .bind(id)
        .execute(&shop.state.db)
        .await
        .unwrap();
    let after = client.get(&format!("/batches/{id}/card")).await.1;
    assert_eq!(after["core_version"], "0.0.1-old");
    assert_eq!(before["document"], after["document"]);
    client.wrote(id, "note", json!({ "text": "found blistered at the weld" })).await;
    assert_eq!(client.get(&format!("/batches/{id}/card")).await.1["core_version"], "0.0.1-old", "a note leaves it");
    shop.close().await;
}

/// A card keeps all that stood beside its batch, whichever station it was signed at and whether or not a view was asked back.
#[sqlx::test]
async fn a_card_keeps_all_that_stood_beside(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    let mut with_set_ups = 0;
    for id in finished(&lead).await {
        for asked in ["station=close", "view=false", "station=ready"] {
            let head = lead.wrote(&id, "reopen", json!({ "reason": "signed anew" })).await["seq"].clone();
            let sign = json!({ "id": Uuid::now_v7(), "kind": "sign", "payload": { "seen_seq": head } });
            let whole = lead.get(&format!("/batches/{id}/card")).await.1["document"]["last_good"].clone();
            let (status, body) = lead.post(&format!("/books/{id}/entries?{asked}"), sign).await;
            assert_eq!(status, 200, "{body}");
            let kept = lead.get(&format!("/batches/{id}/card.json")).await.1["last_good"].clone();
            assert_eq!(kept, whole, "{asked}");
            with_set_ups += kept.as_array().unwrap().len();
        }
    }
    assert!(with_set_ups > 0, "the demo has coats that were set up alike");
    shop.close().await;
}

/// Whoever signed it in whatever units: a reader of mil reads mil, a reader of micrometres reads those, and what was signed is the
/// same. Where the book says another thing than what was signed, the card is read as it was signed.
#[sqlx::test]
async fn a_signed_card_is_read_in_ones_own_units(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    for id in finished(&client).await {
        let read = async |units: &str| {
            client.put("/session/reads", json!({ "units": units, "numbers": "point" })).await;
            client.get(&format!("/batches/{id}/card")).await.1
        };
        let (metric, us) = (read("metric").await, read("us").await);
        let line = |card: &Value| card["view"]["subtitle"].as_str().unwrap().to_string();
        assert!(line(&metric).contains("µm wet") && line(&metric).contains("m²"), "{}", line(&metric));
        assert!(line(&us).contains("mil wet") && line(&us).contains("ft²"), "{}", line(&us));
        for same in ["document", "signed", "accepted", "head_hash", "recoat"] {
            assert_eq!(metric[same], us[same], "{same}");
        }
        let words = |card: &Value| -> Vec<Value> {
            card["view"]["close"]["levels"].as_array().unwrap().iter().map(|level| level["word"].clone()).collect()
        };
        assert_eq!(words(&metric), words(&us), "what was judged");
        // A verdict that was signed as another than the book gives now is read as it was signed: no card turns to go by itself.
        let verdict = |word: &str| {
            let set = format!(
                "update batch set signed_card = jsonb_set(signed_card, '{{view,ready,levels,0,word}}', '\"{word}\"') where id = $1::uuid"
            );
            sqlx::AssertSqlSafe(set)
        };
        sqlx::query(verdict("out")).bind(&id).execute(&shop.state.db).await.unwrap();
        assert_eq!(read("us").await["view"]["ready"]["levels"][0]["word"], "out", "as it was signed");
        sqlx::query(verdict("in")).bind(&id).execute(&shop.state.db).await.unwrap();
        // Another figure in what was stored: that is what was signed, and it is sent as it was.
        let other = "update batch set signed_card = jsonb_set(signed_card, '{document,wet_aim_um}', '77') where id = $1::uuid";
        sqlx::query(other).bind(&id).execute(&shop.state.db).await.unwrap();
        let (again, stored) = (read("us").await, read("metric").await);
        assert_eq!(again, stored, "no reader's units any more");
        assert_eq!(again["document"]["wet_aim_um"], 77.0);
    }
    shop.close().await;
}

#[sqlx::test]
async fn tables_never_carry_a_formula(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    client.wrote(&book, "note", json!({ "text": "=HYPERLINK(1)" })).await;
    let (name, text) = client.file(&format!("/batches/{book}/card.csv")).await;
    assert!(name.contains(".csv"), "{name}");
    let mut reader = csv::Reader::from_reader(text.as_bytes());
    assert_eq!(reader.headers().unwrap().len(), 8);
    let rows: Vec<csv::StringRecord> = reader.records().map(Result::unwrap).collect();
    assert!(rows.iter().any(|r| &r[0] == "log" && r[7].contains("=HYPERLINK(1)")));
    let formula = |c: &str| c.starts_with(['=', '+', '-', '@']) && c.parse::<f64>().is_err();
    for row in &rows {
        assert!(!row.iter().any(formula), "{row:?}");
    }
    for path in ["/records.csv", "/board.csv", "/sheets.csv", "/parts.csv"] {
        let (name, text) = client.file(path).await;
        assert!(name.starts_with("attachment"), "{path}");
        let rows = csv::Reader::from_reader(text.as_bytes()).into_records().map(Result::unwrap).count();
        assert!(rows >= 2, "{path}: {text}");
    }
    shop.close().await;
}

/// What is taken along is what was asked for, and no more.
#[sqlx::test]
async fn exports_take_the_filter(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let rows = async |path: &str| client.file(path).await.1.lines().skip(1).map(String::from).collect::<Vec<_>>();
    for (path, word) in [
        ("/sheets.csv?find=gel", "gel coat"),
        ("/parts.csv?find=buoy", "buoy"),
        ("/board.csv?find=flume", "flume"),
        ("/records.csv?part=buoy", "buoy"),
    ] {
        let (some, all) = (rows(path).await, rows(path.split_once('?').unwrap().0).await);
        assert!(!some.is_empty() && some.len() < all.len(), "{path}: {} of {}", some.len(), all.len());
        for row in some {
            assert!(row.to_lowercase().contains(word), "{path}: {row}");
        }
    }
    assert_eq!(rows("/board.csv?mine=true").await.len(), rows("/board.csv").await.len(), "Ansa is on all of the demo");
    let lead = lead(&shop).await;
    assert_eq!(lead.file("/board.csv?mine=true").await.1.lines().count(), 1, "the lead is on none");
    shop.close().await;
}

/// Parts come a hundred at a time, newest first, and are found by name beyond the first page.
#[sqlx::test]
async fn parts_come_a_page_at_a_time(db: PgPool) {
    let shop = Shop::open(db).await;
    sqlx::query("insert into part (id, name, label, created) select gen_random_uuid(), 'Copy part ' || n, 'Copy ' || n, now() - n * interval '1 second' from generate_series(1, 240) n")
        .execute(&shop.state.db)
        .await
        .unwrap();
    let client = applicator(&shop).await;
    let (mut all, mut after) = (Vec::new(), String::new());
    loop {
        let (_, page) = client.get(&format!("/parts?find=copy{after}")).await;
        let page = page.as_array().unwrap().clone();
        let last = page.last().map(|p| p["id"].as_str().unwrap().to_string());
        all.extend(page.iter().map(|p| p["name"].as_str().unwrap().to_string()));
        match last.filter(|_| page.len() == 100) {
            Some(last) => after = format!("&after={last}"),
            None => break,
        }
    }
    let wanted: Vec<String> = (1..=240).map(|n| format!("Copy part {n}")).collect();
    assert_eq!(all, wanted);
    let (_, one) = client.get("/parts?find=part 240").await;
    assert_eq!(one[0]["name"], "Copy part 240");
    shop.close().await;
}

/// The records as a workbook, read back with a reader that is not ours: heads, numbers as numbers, shop time, no formula out of a name.
#[sqlx::test]
async fn records_go_out_as_a_workbook(db: PgPool) {
    use calamine::{Data, Reader, Xlsx};
    let shop = Shop::open(db).await;
    let client = super::client::lead(&shop).await;
    sqlx::query("update batch set label = '=1+1 · primer' where number = 1").execute(&shop.state.db).await.unwrap();
    let answer = client.http.get(format!("{}/records.xlsx", client.base)).send().await.unwrap();
    assert_eq!(answer.status(), 200);
    let kind = answer.headers()["content-type"].to_str().unwrap().to_string();
    assert_eq!(kind, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet");
    let bytes = answer.bytes().await.unwrap();
    let mut book: Xlsx<_> = Xlsx::new(std::io::Cursor::new(bytes)).expect("a workbook");
    let sheet = book.worksheet_range_at(0).expect("a sheet").expect("it reads");
    assert_eq!((sheet.height(), sheet.width()), (4, 8), "a head and three batches");
    let row = sheet.rows().find(|r| r[0] == Data::Float(1.0)).expect("batch 1");
    assert_eq!(row[1], Data::String("=1+1 · primer".into()));
    // Begun at 09:40 in UTC, which is the shop's own time in winter.
    let Data::DateTime(begun) = &row[4] else { panic!("no instant: {row:?}") };
    let (year, month, day, hour, minute, ..) = begun.to_ymd_hms_milli();
    assert_eq!((year, month, day, hour, minute), (2026, 11, 7, 9, 40));
    assert!(book.worksheet_formula("Sheet1").is_ok_and(|f| f.is_empty()), "no formula");
    shop.close().await;
}
