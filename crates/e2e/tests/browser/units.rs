//! Units and amounts through the real interface.

use level_keel_e2e::{Browser, Shop};
use sqlx::PgPool;

async fn open(browser: &Browser, shop: &Shop, part: &str, at: u8) -> String {
    let id = browser.batch(part).await;
    browser.go(&format!("{}/batches/{id}?at={at}", shop.address)).await;
    browser.wait(".station .see").await;
    id
}

/// The switch in the header changes every figure at once; the log's own figures stay what they were.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_unit_switch_changes_every_figure_and_no_stored_value(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = open(&browser, &shop, "Buoy 7", 3).await;
    browser.wait_text("10.5 psi").await;
    let stored = browser.read(&format!("/api/v1/batches/{id}/card.json")).await;
    browser.press("units").await;
    browser.click("[data-units='metric']").await;
    browser.gone("[data-units]").await;
    browser.wait_text("72.4 kPa").await;
    browser.wait_text("241 mm").await;
    let text = browser.text().await;
    assert!(!text.contains(" psi") && !text.contains(" mil"), "{text}");
    browser.press("units").await;
    browser.click("[data-units='us']").await;
    browser.gone("[data-units]").await;
    browser.wait_text("°F").await;
    browser.until("a figure stayed as it was", async || !browser.text().await.contains("°C")).await;
    let after = browser.read(&format!("/api/v1/batches/{id}/card.json")).await;
    assert_eq!(stored["set_ups"], after["set_ups"]);
    assert_eq!(stored["head_hash"], after["head_hash"]);
    // A watch that ran for an hour says hours: 61 alone would be read as seconds.
    open(&browser, &shop, "Harbour sign", 5).await;
    let ran = browser.wait(".station .do .live").await.text().await.expect("a text");
    assert!(ran.contains(" h ") || ran.contains(':'), "{ran}");
    drop(browser);
    shop.close().await;
}

/// Two catches typed: the picture, the ratio, and which pressure to move to.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_next_pressure_is_said_and_the_next_catch_is_in(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    open(&browser, &shop, "Float", 4).await;
    browser.wait_text("Raise A from 13 psi to 15.6 psi").await;
    for (field, text) in [("a_kpa", "15.5 psi"), ("a_g", "48.6 g"), ("b_g", "6.1 g")] {
        browser.fill(field, text).await;
    }
    browser.wait_text("7.97 : 1 in").await;
    browser.press("take-catch").await;
    // Its line in the log comes with the answer; until then the page says what stood before.
    browser.wait_text("Caught A 48.6").await;
    assert!(!browser.text().await.contains("Raise A"), "nothing to move any more");
    drop(browser);
    shop.close().await;
}

/// A pot asked by what is in hand and by the piece: the plan follows, the answers say what was asked.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_pot_is_asked_by_what_is_in_hand_or_by_the_piece(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    open(&browser, &shop, "Buoy 8", 2).await;
    browser.press("another-pot").await;
    browser.fill("from", "base_mass").await;
    browser.fill("amount.base_g", "1420 g").await;
    // A litre of base at 1.42 kg/L, 4:1 by volume, 5 % thinner of mixed: 1,312.5 mL.
    browser.wait_text("makes 1.31 L").await;
    browser.fill("from", "pieces").await;
    for (field, text) in [
        ("amount.piece_count", "24"),
        ("amount.per_piece_ml", "2 fl oz"),
        ("amount.figure_side_count", "1"),
        ("amount.side_count", "2"),
        ("amount.figure_coat_count", "1"),
        ("amount.coat_count", "1"),
    ] {
        browser.fill(field, text).await;
    }
    assert!(
        browser.client.find(fantoccini::Locator::Css("button[name='open-pot'][disabled]")).await.is_ok(),
        "base or finished?"
    );
    browser.fill("figure_is", "finished").await;
    // 48 × 59.147 mL.
    browser.wait_text("makes 2.84 L").await;
    browser.press("open-pot").await;
    browser.wait_text("stop at").await;
    drop(browser);
    shop.close().await;
}
