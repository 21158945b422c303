//! Acceptance over the wire: a gauge that speaks, and files of readings.

use super::client::{Client, INSPECTOR, applicator, lead};
use level_keel_devices::film_gauge;
use level_keel_harness::Shop;
use level_keel_server::film_gauges;
use level_keel_server::settings::Settings;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::time::Duration;

/// The buoy the demo measured, open again.
async fn open_again(lead: &Client) -> String {
    let (_, records) = lead.get("/records?find=Buoy%203").await;
    let book = records["rows"][0]["id"].as_str().expect("a finished batch").to_string();
    lead.wrote(&book, "reopen", json!({ "reason": "to be measured anew" })).await;
    book
}

#[sqlx::test]
async fn a_gauge_that_speaks_is_heard(db: PgPool) {
    let shop = Shop::open(db).await;
    let gauge = film_gauge::serve("127.0.0.1:0", 17).await.unwrap();
    let settings = Settings { demo_gauge: gauge.address.to_string(), ..shop.state.settings.clone() };
    let tasks = film_gauges::listen(&settings, &shop.state.gauges).unwrap();
    let heard = shop.state.gauges.one("Film gauge").expect("a gauge");
    let mut readings = heard.follow();
    let client = applicator(&shop).await;
    let wait = async |want: bool| {
        for _ in 0..200 {
            let (_, gauges) = client.get("/film-gauges").await;
            if gauges[0]["heard"] == want {
                return;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("the gauge is not {want}");
    };
    wait(true).await;
    gauge.hand("on 118").unwrap();
    gauge.hand("press").unwrap();
    let um = tokio::time::timeout(Duration::from_secs(5), readings.recv()).await.unwrap().unwrap();
    assert!((um - 118.0).abs() < 1.3, "{um}");
    gauge.hand("fault unplugged").unwrap();
    wait(false).await;
    let gauges = serde_json::from_value(json!([{ "name": "x", "address": "127.0.0.1:1", "pattern": "(" }])).unwrap();
    let refused = film_gauges::listen(&Settings { gauges, ..Settings::default() }, &shop.state.gauges);
    assert!(refused.is_err_and(|e| e.contains("pattern")));
    for task in tasks {
        task.abort();
    }
    gauge.close();
    shop.close().await;
}

#[sqlx::test]
async fn a_file_of_readings_goes_in_whole_or_not_at_all(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    let inspector = Client::signed(&shop.address, INSPECTOR).await;
    let book = open_again(&lead).await;
    let send = async |text: &str| -> (u16, Value) {
        let address = format!("{}/batches/{book}/gauge-file?gauge=Film%20gauge&division=1%20um&name=buoy.csv", inspector.base);
        let answer = inspector.http.post(address).header("content-type", "text/csv").body(text.to_string()).send().await.unwrap();
        (answer.status().as_u16(), answer.json().await.unwrap())
    };
    // What the demo planned and read was of this coat too: another plan draws other spots.
    inspector.wrote(&book, "plan_acceptance", json!({ "by": "spots", "dry_min_um": "45 um", "dry_max_um": "90 um" })).await;
    let thirty = |um: &str| format!("film (µm)\n{}", format!("{um}\n").repeat(30));
    for (text, code, field) in [
        ("film (furlong)\n3\n".to_string(), "not-understood", "rows[2].film"),
        ("film_um\n118,4\n".into(), "not-understood", "rows[2].film"),
        ("film_um\n=SUM(A1)\n".into(), "formula", "rows[2].film"),
        ("film_um\n-3\n".into(), "outside-limits", "rows[2].film"),
        (format!("film_um\n{}", "88\n".repeat(20_000)), "too-many", "rows"),
        ("film_um\n88\n88\n".into(), "not-whole", "rows"),
        (format!("film_um\n{}", "88\n".repeat(33)), "too-many", "rows"),
    ] {
        let (status, refused) = send(&text).await;
        let named = (refused["code"].as_str(), refused["field"].as_str());
        assert_eq!((status, named), (422, (Some(code), Some(field))), "{text:.40}: {refused}");
    }
    let (_, view) = inspector.get(&format!("/batches/{book}?station=close")).await;
    assert_eq!(view["close"]["accept"]["gauge"]["count_line"], "0 of 10 spots", "nothing of them was kept");
    let (status, read) = send(&thirty("92")).await;
    assert_eq!((status, read["count"].as_u64()), (200, Some(30)), "{read}");
    let foil = json!({ "gauge": "Film gauge", "foil_um": "127 um", "readings_um": ["126 um"], "division_um": "1 um" });
    inspector.wrote(&book, "gauge_foil", foil.clone()).await;
    inspector.wrote(&book, "gauge_read", read["payload"].clone()).await;
    inspector.wrote(&book, "gauge_foil", foil).await;
    let (_, view) = inspector.get(&format!("/batches/{book}?station=close")).await;
    let gauge = &view["close"]["accept"]["gauge"];
    // 92 less the 24 the demo read on bare steel.
    assert_eq!((gauge["verdict"].as_str(), gauge["areas"].as_array().unwrap().len()), (Some("in"), 2), "{gauge}");
    assert!(gauge["level"]["shown"]["text"].as_str().unwrap().starts_with("2.7"), "{}", gauge["level"]);
    let (status, refused) = send("film_um\n88\n88\n88\n").await;
    assert_eq!((status, refused["code"].as_str()), (422, Some("too-many")), "every spot is read: {refused}");
    shop.close().await;
}
