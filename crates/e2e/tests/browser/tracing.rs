//! The recall of a lot: from its code to every batch and part it is on, to the list that is taken along; and back from a part.

use crate::access::{AXE, found};
use level_keel_e2e::{Browser, Shop};
use sqlx::PgPool;

#[sqlx::test(migrations = "../server/migrations")]
async fn a_lot_is_recalled(db: PgPool) {
    let shop = Shop::open(db).await;
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.go(&format!("{}/records", shop.address)).await;
    browser.click("a[href='/trace']").await;
    browser.fill("trace-find", "P-2207").await;
    browser.press("trace-lot").await;
    browser.wait_text("3 batches got this lot.").await;
    browser.wait_text("Lot P-2207").await;
    // Each with its part, what lies over it, what it was sprayed with.
    browser.wait_text("Slip ladder 2").await;
    browser.wait_text("finish").await;
    browser.wait("a[href^='/api/v1/trace.csv?lot=']").await;
    let wrong = found(&browser, &axe).await;
    assert!(wrong.is_empty(), "{wrong:#?}");
    // On to the part, and from the part back to all that went onto it.
    browser.click(".chain a[href^='/parts/']").await;
    browser.wait_text("Its story").await;
    browser.click("a[href^='/trace?part=']").await;
    browser.wait_text("went onto it.").await;
    browser.wait_text("lots").await;
    // A rig's tips, each with its span.
    browser.go(&format!("{}/trace", shop.address)).await;
    browser.fill("trace-find", "Flume gel-coat machine").await;
    browser.press("trace-rig").await;
    browser.wait("button[name='span-0'][aria-pressed='true']").await;
    browser.press("span-1").await;
    browser.wait_text("No batch went through the tip before.").await;
    drop(browser);
    shop.close().await;
}
