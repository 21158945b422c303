//! One person, one part, one cup.

use super::two_part;
use crate::journeys::{open_group, through_the_lists};
use level_keel_e2e::{Browser, Shop};
use sqlx::PgPool;

/// Taps a solo painter may need from an empty shop to a signed card.
const MOST_TAPS: u32 = 40;

/// One person, one small part, one cup: the shop works alone, and the whole half hour is a matter of taps.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_solo_painters_half_hour(db: PgPool) {
    let shop = Shop::empty(db).await;
    let browser = Browser::start().await;
    let taps = std::cell::Cell::new(0_u32);
    let tap = async |name: &str| {
        taps.set(taps.get() + 1);
        browser.press(name).await;
    };
    let click = async |css: &str| {
        taps.set(taps.get() + 1);
        browser.click(css).await;
    };
    browser.size(1280, 657).await;
    browser.go(&shop.address).await;
    for (name, text) in [("owner", "Mara Sill"), ("pin", "258036"), ("shop", "Tern Yard")] {
        browser.fill(name, text).await;
    }
    tap("alone").await;
    tap("open-shop").await;
    tap("first-sheet").await;
    tap("kind-two_part").await;
    for (name, text) in two_part("Tiller varnish") {
        browser.fill(name, text).await;
    }
    tap("sheet-more").await;
    open_group(&browser, "Film and conditions").await;
    browser.fill("film_proof", "look").await;
    tap("save-sheet").await;
    tap("first-batch").await;
    let fields = [
        ("part", "Tiller"),
        ("coat", "varnish"),
        ("area_m2", "0.5 m2"),
        ("film_um", "4 mil"),
        ("method", "brush"),
        ("substrate", "wood"),
    ];
    for (name, text) in fields {
        browser.fill(name, text).await;
    }
    browser.wait_text("of finished paint").await;
    tap("begin-batch").await;
    for (name, text) in [("air_c", "21 C"), ("surface_c", "20 C"), ("material_c", "20 C"), ("rh_pct", "50")] {
        browser.fill(name, text).await;
    }
    tap("take-conditions").await;
    browser.wait("[name='read-again']").await;
    taps.set(taps.get() + listed(&browser).await);
    let book = browser.batch("Tiller").await;
    click(".station-tab:nth-of-type(2)").await;
    browser.fill("wanted_ml", "200 mL").await;
    tap("open-pot").await;
    for component in ["base", "hardener"] {
        if component == "hardener" {
            tap("combine").await;
        }
        browser.wait_text(&format!("Pour {component} onto")).await;
        let view = browser.read(&format!("/api/v1/batches/{book}")).await;
        let reading = view["mix"]["pots"][0]["to_reading"]["text"].as_str().expect("a reading").to_string();
        browser.fill("reading_g", &reading).await;
        tap("take-reading").await;
    }
    tap("stirred").await;
    browser.wait("button[name='another-pot']").await;
    click(".station-tab:nth-of-type(5)").await;
    tap("start-spraying").await;
    browser.fill("used_ml", "150 mL").await;
    tap("stamp-pass").await;
    browser.wait_text("Passes 1").await;
    tap("film-right").await;
    tap("emptied").await;
    browser.gone("button[name='emptied']").await;
    click(".station-tab:nth-of-type(6)").await;
    tap("sign").await;
    browser.wait_text("The card is closed").await;
    println!("a solo painter's half hour took {} taps", taps.get());
    assert!(taps.get() < MOST_TAPS, "{}", taps.get());
    drop(browser);
    shop.close().await;
}

/// The lists gone through, counted: one tap an item.
async fn listed(browser: &Browser) -> u32 {
    let items = "return document.querySelectorAll('.check-row, .check-hand').length";
    let many = browser.client.execute(items, vec![]).await.expect("a count").as_u64().unwrap_or(99);
    for component in ["base", "hardener"] {
        browser.wait_text(&format!("Lot of the {component} no lot taken")).await;
        browser.fill("lot", "no label").await;
        browser.press("take-lot").await;
        browser.wait_text(&format!("Lot no label taken for {component}")).await;
    }
    through_the_lists(browser).await;
    u32::try_from(many).unwrap_or(99)
}
