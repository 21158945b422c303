//! One box that finds everything, by key, by button, and by a scanner that types.

use level_keel_e2e::{Browser, Shop};
use sqlx::PgPool;

async fn path(browser: &Browser) -> String {
    let at = browser.client.execute("return location.pathname + location.search", vec![]).await.expect("a script");
    at.as_str().expect("a path").to_string()
}

/// Types as a wedge scanner does: every key at once, Enter at the end, nothing in focus.
async fn scan(browser: &Browser, line: &str) {
    let type_it = "document.activeElement?.blur();
        for (const key of [...arguments[0], 'Enter'])
            document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))";
    browser.client.execute(type_it, vec![line.into()]).await.expect("a script");
}

#[sqlx::test(migrations = "../server/migrations")]
async fn anything_is_found_and_a_label_opens_what_it_names(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    // By its key, to a part; Enter opens the first that is found.
    browser.click("body").await;
    browser.keys("/").await;
    browser.fill("find-all", "P-2207").await;
    browser.wait(".finder li button").await;
    browser.keys("\u{e007}").await;
    browser.gone(".finder").await;
    browser.wait(".lot-page").await;
    // By its button, to a rig, which opens chosen; a reload stays there.
    browser.press("find").await;
    browser.fill("find-all", "twin pots").await;
    browser.click(".finder li button").await;
    browser.wait("button[name='rig-Collar twin pots'][aria-current='true']").await;
    browser.client.refresh().await.expect("a reload");
    browser.wait("button[name='rig-Collar twin pots'][aria-current='true']").await;
    // A person opens what they signed, asked for in the address.
    browser.press("find").await;
    browser.fill("find-all", "Ansa").await;
    browser.click(".finder li button").await;
    browser.wait("input[name='find-person']").await;
    assert_eq!(path(&browser).await, "/records?person=%22Ansa+Reef%22".replace("%22", ""), "the state is in the address");
    // A scanner types a label: it opens, and its letters press no key of the page (b is the board, 1 a station).
    let lot = browser.read("/api/v1/lots?find=H-118").await["lots"][0]["id"].as_str().expect("a lot").to_string();
    scan(&browser, &format!("{}/stores/{lot}", shop.address)).await;
    browser.wait(".lot-page").await;
    browser.until("the lot of the label", async || path(&browser).await == format!("/stores/{lot}")).await;
    // A foreign one opens nothing and says so; so does a script, which is only words.
    scan(&browser, "https://example.com/b/1?p=2").await;
    browser.wait_text("This label is not of this shop. Nothing was opened.").await;
    assert_eq!(path(&browser).await, format!("/stores/{lot}"));
    browser.fill("find-all", "javascript:alert(1)").await;
    browser.wait_text("Nothing here goes by that.").await;
    // A code that begins with the key of a stamp, or a station, stamps nothing and opens the lot.
    let book = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{book}?at=5", shop.address)).await;
    browser.wait("[name='stamp-pass']").await;
    let entries = async || browser.read(&format!("/api/v1/batches/{book}?station=spray")).await["head_seq"].clone();
    let before = entries().await;
    scan(&browser, "p-2207").await;
    browser.wait(".lot-page").await;
    assert_eq!(entries().await, before, "no pass was stamped");
    browser.press("find").await;
    // In a field the scanner types there, as it should.
    browser.fill("find-all", "buoy 8").await;
    browser.wait_text("batch in work").await;
    drop(browser);
    shop.close().await;
}
