//! A product of one can, as its user meets it: one press a fill, and at the end the rest goes back or stays.

use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use sqlx::PgPool;

#[sqlx::test(migrations = "../server/migrations")]
async fn out_of_one_can_a_fill_is_one_press(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Jetty deck 3").await;
    browser.go(&format!("{}/batches/{id}?at=2", shop.address)).await;
    // Nothing is weighed: an amount that is none is named at its field, one that is goes in by one press.
    browser.wait("[name='ready-fill']").await;
    browser.gone("[name='reading_g']").await;
    browser.fill("fill_ml", "0 L").await;
    browser.wait_text("is outside").await;
    browser.fill("fill_ml", "1 L").await;
    browser.press("ready-fill").await;
    browser.wait_text("1 L into the pressure pot, stirred").await;
    // Not stirred, it is said while it is typed: this one settles.
    browser.click("[name='fill-stirred']").await;
    browser.fill("fill_ml", "200 mL").await;
    browser.wait_text("It settles: stir it at every fill").await;
    browser.go(&format!("{}/batches/{id}?at=5", shop.address)).await;
    // What stands in the hose may stay for a week; what is left of the can goes back to it.
    browser.wait_text("flush within").await;
    browser.press("back-to-can").await;
    browser.wait_text("back to its can").await;
    browser.gone("button[name='stamp-pass']").await;
    drop(browser);
    shop.close().await;
}
