//! The half that is looked at: a picture at every station and tab, also of a batch that has no figure yet; Set on the rig the
//! coat wants.

use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use serde_json::json;
use sqlx::PgPool;

/// Halves that show no picture: neither a drawing of some size nor a level.
const BARE: &str = "return [...document.querySelectorAll('.station .see, .station .two-ways section')]
    .filter(half => ![...half.querySelectorAll('svg, .level, .patterns')].some(p => {
        const box = p.getBoundingClientRect();
        return box.width >= 180 && box.height >= 30 && box.top < innerHeight;
    }))
    .map(half => half.innerText.slice(0, 120))";

/// What is planned for the walk: product, method.
const COATS: [(&str, &str); 6] = [
    ("Island", "pot"),
    ("Flume", "gel_coat_machine"),
    ("Collar", "twin_feed"),
    ("Sign finish", "gun_cup"),
    ("Mould", "gun_cup"),
    ("Deck", "roller"),
];

#[sqlx::test(migrations = "../server/migrations")]
async fn every_station_shows_a_picture_before_the_first_figure(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    for (product, method) in COATS {
        let fields = [("part", product), ("coat", "first"), ("area_m2", "4 m2"), ("film_um", "4 mil"), ("method", method)];
        browser.begin(&shop.address, product, &fields).await;
        browser.wait(".batch-head").await;
        let id = browser.batch(product).await;
        for station in 1..=6 {
            browser.go(&format!("{}/batches/{id}?at={station}", shop.address)).await;
            browser.wait(".station .see").await;
            let tabs = browser.client.execute("return document.querySelectorAll('.station-tabs button').length", vec![]).await;
            for tab in 0..tabs.expect("a script").as_u64().expect("a number").max(1) {
                let press = "document.querySelectorAll('.station-tabs button')[arguments[0]]?.click()";
                browser.client.execute(press, vec![tab.into()]).await.expect("a script");
                let place = format!("a picture: {product}, station {station}, tab {tab}");
                browser.until(&place, async || browser.client.execute(BARE, vec![]).await.expect("a script") == json!([])).await;
            }
        }
    }
    drop(browser);
    shop.close().await;
}

/// Set is on the rig the coat wants before anybody chose it, with the controls of that rig; the first figure takes it.
#[sqlx::test(migrations = "../server/migrations")]
async fn set_opens_on_the_right_rig(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let fields = [("part", "Buoy 12"), ("coat", "primer"), ("area_m2", "4 m2"), ("film_um", "4 mil"), ("method", "pot")];
    browser.begin(&shop.address, "Island", &fields).await;
    browser.wait(".batch-head").await;
    let id = browser.batch("Buoy 12").await;
    browser.go(&format!("{}/batches/{id}?at=3", shop.address)).await;
    browser.wait_text("Buoy pot, two litres, as in batch").await;
    let set = async || browser.read(&format!("/api/v1/batches/{id}?station=set")).await["set"].clone();
    assert!(set().await["rig_proposed"].is_string());
    // Over what that vessel bears is a stop while it is typed, before the rig is taken.
    browser.fill("pot_kpa", "95 psi").await;
    browser.wait_text("Stop.").await;
    browser.fill("pot_kpa", "10 psi").await;
    browser.fill("stream_mm", "10 in").await;
    browser.press("take-try").await;
    // Two entries with one press: the rig, then the try.
    browser.until("the try is kept", async || set().await["set_ups"].as_array().is_some_and(|all| all.len() == 1)).await;
    browser.gone(".rig-proposed").await;
    let after = set().await;
    assert!(after["rig_proposed"].is_null(), "{after}");
    assert_eq!(after["rig_name"], "Buoy pot, two litres");

    // A gel coat by the machine is asked by its ladder: no stream, and the catalyst's air.
    let fields =
        [("part", "Plug 3"), ("coat", "gel"), ("area_m2", "4 m2"), ("film_um", "20 mil"), ("method", "gel_coat_machine")];
    browser.begin(&shop.address, "Flume", &fields).await;
    browser.wait(".batch-head").await;
    let id = browser.batch("Plug 3").await;
    browser.go(&format!("{}/batches/{id}?at=3", shop.address)).await;
    browser.wait("[name='catalyst_kpa']").await;
    browser.gone("[name='stream_mm']").await;
    browser.wait_text("Flume gel-coat machine").await;
    drop(browser);
    shop.close().await;
}
