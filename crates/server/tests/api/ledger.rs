//! The ledger of the ratio over the wire: from catches, pots and old cards; out as CSV and JSON; struck and rebuilt.

use super::client::{applicator, lead};
use level_keel_harness::Shop;
use level_keel_server::books::{check_log, rebuild};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn rig_named(client: &super::client::Client, name: &str) -> String {
    let (_, rigs) = client.get("/rigs").await;
    let rig = rigs.as_array().unwrap().iter().find(|r| r["rig"]["name"] == name).expect("a rig of the demo").clone();
    rig["id"].as_str().unwrap().to_string()
}

async fn batch_of(client: &super::client::Client, label: &str) -> String {
    let (_, board) = client.get("/board").await;
    let rows = board["batches"].as_array().unwrap();
    rows.iter().find(|b| b["label"].as_str().unwrap().starts_with(label)).expect("a batch of the demo")["id"]
        .as_str()
        .unwrap()
        .into()
}

#[sqlx::test]
async fn a_catch_stands_in_the_ledger_of_its_rig_and_a_strike_takes_it_out(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let lead = lead(&shop).await;
    let (rig, book) = (rig_named(&lead, "Collar twin pots").await, batch_of(&lead, "Float 12").await);
    let count = async || lead.get(&format!("/rigs/{rig}/ledger")).await.1["page"]["count"].as_u64().unwrap();
    // Fifteen old cards and today's two.
    assert_eq!(count().await, 17);
    let (_, view) = lead.get(&format!("/batches/{book}?station=prove")).await;
    let charge = view["prove"]["charge"].clone();
    let caught =
        json!({ "charge": charge, "a_g": "40.2 g", "b_g": "5 g", "resolution_g": 0.1, "a_kpa": "15.6 psi", "b_kpa": "8 psi" });
    let written = lead.wrote(&book, "ratio_check", caught).await;
    assert!(written["view"]["prove"]["due"]["text"].as_str().unwrap().contains("shop’s interval"), "{written}");
    assert_eq!(count().await, 18);
    let (_, ledger) = lead.get(&format!("/batches/{book}/ledger")).await;
    let newest = &ledger["page"]["rows"][0];
    assert_eq!((newest["verdict"].as_str(), newest["number"].as_i64()), (Some("in"), view["number"].as_i64()));
    assert_eq!(newest["batch"], book.as_str());
    assert_eq!(ledger["page"]["chart"]["regimes"].as_array().unwrap().len(), 5);
    assert!(check_log(&db).await.unwrap().faults.is_empty());
    let (_, log) = lead.get(&format!("/batches/{book}/log")).await;
    let entry = log.as_array().unwrap().iter().find(|l| l["kind"] == "ratio_check").unwrap()["entry"].clone();
    lead.wrote(&book, "strike", json!({ "entry": entry, "reason": "the cup was not tared" })).await;
    assert_eq!(count().await, 17);
    // Rows that were lost come back from the log.
    sqlx::raw_sql("delete from ratio_proof; delete from batch_sprayed").execute(&db).await.unwrap();
    assert!(!check_log(&db).await.unwrap().faults.is_empty());
    rebuild(&db).await.unwrap();
    assert!(check_log(&db).await.unwrap().faults.is_empty());
    assert_eq!(count().await, 17);
    shop.close().await;
}

#[sqlx::test]
async fn a_ledger_goes_out_and_old_cards_come_in(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let (hand, lead) = (applicator(&shop).await, lead(&shop).await);
    let rig = rig_named(&lead, "Collar twin pots").await;
    let (_, ledger) = lead.get(&format!("/rigs/{rig}/ledger")).await;
    let sheet = ledger["sheet"].as_str().unwrap().to_string();
    let (name, csv) = lead.file(&format!("/rigs/{rig}/ledger.csv?sheet={sheet}")).await;
    assert!(name.contains("level-keel-ledger") && csv.lines().count() == 18, "{csv}");
    assert!(csv.contains("two catches") && csv.contains("the filter was exchanged"), "{csv}");
    let (_, open) = lead.file(&format!("/rigs/{rig}/ledger.json?sheet={sheet}")).await;
    let open: Value = serde_json::from_str(&open).unwrap();
    assert_eq!((open["format"].as_str(), open["proofs"].as_array().unwrap().len()), (Some("level-keel-ratio-ledger"), 17));
    let (_, schema) = lead.file("/schemas/ledger.json").await;
    assert!(schema.contains("json-schema.org") && schema.contains("caught_watch_s"));
    let send = async |client: &super::client::Client, body: &str| {
        let address = format!("{}/rigs/{rig}/ledger/cards?sheet={sheet}", client.base);
        let answer = client.http.post(address).header("content-type", "text/csv").body(body.to_string()).send().await.unwrap();
        let status = answer.status().as_u16();
        (status, answer.json::<Value>().await.unwrap())
    };
    let heads = "at,by,a_g,b_g,resolution_g,a_kpa,b_kpa,lot_a,lot_b";
    let good = format!(
        "{heads}\n2026-03-02 09:40,Ansa Reef,40.4,5.0,0.1,13 psi,8 psi,K-0040,V-0011\n2026-03-03 10:05,,1.43 oz,0.18 oz,0.1,13 psi,8 psi,K-0040,V-0011\n"
    );
    // Mixed units: one row says its unit and the next does not.
    let (status, refused) = send(&lead, &good).await;
    assert_eq!((status, refused["fields"][0]["code"].as_str()), (422, Some("mixed-units")), "{refused}");
    assert!(refused["fields"][0]["field"].as_str().unwrap().starts_with("rows[3].a_g"), "{refused}");
    let good = good.replace("1.43 oz,0.18 oz", "40.5,5.1");
    assert_eq!(send(&hand, &good).await.0, 403);
    for (bad, field) in [
        (good.replace("2026-03-03 10:05", "2024-03-03 10:05"), "rows[3].proved_at"),
        (good.replace("2026-03-03 10:05", "2096-03-03 10:05"), "rows[3].proved_at"),
        (good.replace("2026-03-03 10:05", "yesterday"), "rows[3].at"),
        (good.replace(",5.1,0.1", ",0,0.1"), "rows[3].b_g"),
        (good.replace("lot_b", "lot_c"), "rows[1].heads"),
        (good.replace("resolution_g", "temp_c"), "rows[1].heads"),
        (heads.to_string(), "rows"),
    ] {
        let (status, refused) = send(&lead, &bad).await;
        assert_eq!((status, refused["fields"][0]["field"].as_str()), (422, Some(field)), "{bad}: {refused}");
    }
    let count = async || lead.get(&format!("/rigs/{rig}/ledger")).await.1["page"]["count"].as_u64().unwrap();
    assert_eq!(count().await, 17, "nothing is half kept");
    let (status, read) = send(&lead, &good).await;
    assert_eq!((status, read["read"].as_u64()), (200, Some(2)), "{read}");
    assert_eq!(count().await, 19);
    assert!(check_log(&db).await.unwrap().faults.is_empty());
    shop.close().await;
}

/// Ten thousand proofs of one rig are read page by page, and drawn whole where that is asked for.
#[sqlx::test]
async fn ten_thousand_proofs_of_a_rig(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let lead = lead(&shop).await;
    let rig = rig_named(&lead, "Collar twin pots").await;
    let copies = "insert into ratio_proof (book_id, entry_id, rig_id, sheet_id, at, body)
        select p.book_id, gen_random_uuid(), p.rig_id, p.sheet_id, p.at - n * interval '1 hour',
          jsonb_set(jsonb_set(p.body, '{at}', to_jsonb(p.at - n * interval '1 hour')), '{entry}', to_jsonb(gen_random_uuid()))
        from (select * from ratio_proof where rig_id = $1::uuid order by at limit 1) p, generate_series(1, 10000) n";
    sqlx::query(copies).bind(rig.parse::<Uuid>().unwrap()).execute(&db).await.unwrap();
    let (_, first) = lead.get(&format!("/rigs/{rig}/ledger")).await;
    assert_eq!((first["page"]["count"].as_u64(), first["page"]["next"].as_u64()), (Some(10_017), Some(50)));
    assert_eq!(first["page"]["chart"]["points"].as_array().unwrap().len(), 40);
    let (_, last) = lead.get(&format!("/rigs/{rig}/ledger?skip=10000")).await;
    assert_eq!((last["page"]["rows"].as_array().unwrap().len(), last["page"]["next"].as_u64()), (17, None));
    let (_, whole) = lead.get(&format!("/rigs/{rig}/ledger?all=true")).await;
    assert_eq!(whole["page"]["chart"]["points"].as_array().unwrap().len(), 10_017);
    // What another process wrote over or took away since is seen at the next reading.
    let newest = Uuid::parse_str(first["page"]["rows"][0]["entry"].as_str().unwrap()).unwrap();
    let renamed = r#"update ratio_proof set body = jsonb_set(body, '{by}', '"Ansa Reef"') where entry_id = $1"#;
    sqlx::query(renamed).bind(newest).execute(&db).await.unwrap();
    let first_row = async || lead.get(&format!("/rigs/{rig}/ledger")).await.1["page"]["rows"][0].clone();
    assert_eq!(
        (first_row().await["entry"].as_str(), first_row().await["by"].as_str()),
        (Some(&*newest.to_string()), Some("Ansa Reef"))
    );
    sqlx::query("delete from ratio_proof where entry_id = $1").bind(newest).execute(&db).await.unwrap();
    assert_ne!(first_row().await["entry"].as_str(), Some(&*newest.to_string()));
    shop.close().await;
}

/// A photo is written anew: turned upright, without what the camera said, with a small picture; what is none is refused by its name.
#[sqlx::test]
async fn a_photo_is_kept_without_what_the_camera_said(db: PgPool) {
    // Made before anything is asked: it takes seconds, in which a server closes a connection that rests.
    let mut sixty = std::io::Cursor::new(Vec::new());
    image::GrayImage::new(10_000, 6_000).write_to(&mut sixty, image::ImageFormat::Png).unwrap();
    let shop = Shop::open(db.clone()).await;
    let hand = applicator(&shop).await;
    let send = async |bytes: Vec<u8>| {
        let answer = hand.http.put(format!("{}/files?name=piece.jpg", hand.base)).body(bytes).send().await.unwrap();
        let status = answer.status().as_u16();
        (status, answer.json::<Value>().await.unwrap())
    };
    // 60 by 40, turned by a quarter through its EXIF orientation 6; the segment carries a maker's note as well.
    let mut jpeg = std::io::Cursor::new(Vec::new());
    let picture = image::RgbImage::from_fn(60, 40, |x, _| image::Rgb([(x * 4) as u8, 90, 30]));
    picture.write_to(&mut jpeg, image::ImageFormat::Jpeg).unwrap();
    let plain = jpeg.into_inner();
    let mut exif = b"Exif\0\0MM\0\x2a\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0\x06\0\0\0\0\0\0".to_vec();
    exif.extend(b"maker's note: somebody's yard");
    let mut turned = plain[..2].to_vec();
    turned.extend([0xff, 0xe1]);
    turned.extend(u16::try_from(exif.len() + 2).unwrap().to_be_bytes());
    turned.extend(&exif);
    turned.extend(&plain[2..]);
    let (status, kept) = send(turned).await;
    assert_eq!(status, 200, "{kept}");
    let sha = kept["sha256"].as_str().unwrap();
    let bytes = async |path: String| hand.http.get(format!("{}{path}", hand.base)).send().await.unwrap().bytes().await.unwrap();
    let kept = bytes(format!("/files/{sha}")).await;
    assert!(!kept.windows(5).any(|w| w == b"maker") && !kept.windows(4).any(|w| w == b"Exif"));
    let read = image::load_from_memory(&kept).unwrap();
    assert_eq!((read.width(), read.height()), (40, 60), "it is upright");
    assert!(image::load_from_memory(&bytes(format!("/photos/{sha}/small")).await).is_ok());
    // One that is a page or an archive as well is written anew as the picture it is, and nothing of the rest is kept.
    let mut both = plain.clone();
    both.extend(b"<script>alert(1)</script>PK\x03\x04");
    let (status, kept) = send(both).await;
    assert_eq!(status, 200, "{kept}");
    let kept = bytes(format!("/files/{}", kept["sha256"].as_str().unwrap())).await;
    assert!(!kept.windows(7).any(|w| w == b"<script") && !kept.windows(4).any(|w| w == b"PK\x03\x04"));
    assert!(image::load_from_memory(&kept).is_ok());
    // A page that begins like a picture is none.
    assert_eq!(send(b"GIF89a/*<svg onload=alert(1)>*/".to_vec()).await.0, 422);
    // Sixty megapixels are a camera's; they are kept no larger than a tablet shows.
    let (status, kept) = send(sixty.into_inner()).await;
    assert_eq!(status, 200, "{kept}");
    let kept = image::load_from_memory(&bytes(format!("/files/{}", kept["sha256"].as_str().unwrap())).await).unwrap();
    assert_eq!((kept.width(), kept.height()), (2400, 1440));
    let mut heic = b"\0\0\0\x18ftypheic\0\0\0\0heicmif1".to_vec();
    heic.resize(200, 0);
    let (status, refused) = send(heic).await;
    assert!(status == 422 && refused["fields"][0]["text"].as_str().unwrap().contains("HEIC"), "{refused}");
    // A picture that says it is larger than any camera makes one.
    let mut huge = std::io::Cursor::new(Vec::new());
    image::GrayImage::new(12_001, 2).write_to(&mut huge, image::ImageFormat::Png).unwrap();
    assert_eq!(send(huge.into_inner()).await.0, 422);
    assert_eq!(send(plain[..plain.len() / 3].to_vec()).await.0, 422);
    shop.close().await;
}
