//! Hands and ears: the foot switch, what is heard and muted, what is said, and the screen that stays awake.

use level_keel_e2e::{Browser, Shop};
use serde_json::Value;
use sqlx::PgPool;

/// A key as a foot switch sends it, with nothing in focus or with a field in focus, and nothing else.
async fn step_on(browser: &Browser, key: &str) {
    let press = "(document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keydown', { key: arguments[0], bubbles: true, cancelable: true }))";
    browser.client.execute(press, vec![key.into()]).await.expect("a script");
}

async fn number(browser: &Browser, script: &str) -> i64 {
    browser.client.execute(script, vec![]).await.expect("a script").as_i64().expect("a number")
}

async fn said(browser: &Browser) -> Vec<String> {
    let said = browser.client.execute("return window.said", vec![]).await.expect("a script");
    said.as_array().expect("what was said").iter().filter_map(|t| t.as_str().map(String::from)).collect()
}

/// The foot stamps a pass, once for a switch that closes twice, also while a figure is typed, and not behind a dialog.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_foot_switch_is_learnt_and_stamps_a_pass(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.with_ears().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    let book = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{book}?at=5", shop.address)).await;
    browser.wait("[name='stamp-pass']").await;
    let passes = async || {
        browser.read(&format!("/api/v1/batches/{book}?station=spray")).await["spray"]["passes"].as_array().map_or(0, Vec::len)
    };
    let before = passes().await;
    // Nobody told which key it is: it does nothing.
    step_on(&browser, "F15").await;
    browser.press("person").await;
    browser.press("hands-and-ears").await;
    browser.press("learn-pedal").await;
    step_on(&browser, "b").await;
    browser.wait_text("It types b, which people type too.").await;
    step_on(&browser, "F15").await;
    browser.wait_text("It types F15. Another").await;
    // Behind the dialog nothing is pressed.
    step_on(&browser, "F15").await;
    browser.press("hands-done").await;
    browser.gone(".MuiDialog-root").await;
    assert_eq!(passes().await, before);
    // A figure is being typed; the foot stamps all the same, and twice within a tenth of a second is once.
    browser.fill("used_ml", "40 mL").await;
    let twice = "const key = () => document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key: 'F15', bubbles: true, cancelable: true })); key(); key();";
    browser.client.execute(twice, vec![]).await.expect("a script");
    browser.until("the pass of the foot", async || passes().await == before + 1).await;
    browser.still().await;
    assert_eq!(passes().await, before + 1, "a switch that closes twice is one foot");
    // A reload knows the switch still; the next step is another pass.
    browser.client.refresh().await.expect("a reload");
    browser.wait("[name='stamp-pass']").await;
    step_on(&browser, "F15").await;
    browser.until("the next pass", async || passes().await == before + 2).await;
    drop(browser);
    shop.close().await;
}

/// A pass keeps the screen awake until its page is left; the live figure is said when asked for; a film sounds, unless it is muted.
#[sqlx::test(migrations = "../server/migrations")]
async fn what_runs_is_heard_said_and_keeps_the_screen_awake(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.with_ears().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    let awake = async || number(&browser, "return window.awake").await;
    assert_eq!(awake().await, 0, "nothing runs on the board");
    browser.gone("[name='say-it']").await;
    let book = browser.batch("Buoy 7").await;
    browser
        .client
        .execute("document.querySelector('a[href*=\"' + arguments[0] + '\"]').click()", vec![Value::from(book.as_str())])
        .await
        .expect("a script");
    browser.wait(".waterline").await;
    browser.keys("5").await;
    browser.wait("[name='stamp-pass']").await;
    browser.until("a screen that stays awake", async || awake().await == 1).await;
    browser.press("say-it").await;
    browser.keys("h").await;
    browser.until("what is said", async || said(&browser).await.len() == 2).await;
    let all = said(&browser).await;
    assert!(all[0].contains("passes") && all[0].contains("since the last"), "{all:?}");
    browser.press("spray-film").await;
    // The first tooth is far below any film wanted: out. Muted, the next one is silent.
    let comb = async || {
        browser.click(".comb button").await;
        browser.press("take-comb").await;
        browser.gone("[name='take-comb']").await;
    };
    comb().await;
    browser.until("three low tones", async || browser.heard().await.ends_with(&[330, 262, 196])).await;
    browser.press("person").await;
    browser.press("hands-and-ears").await;
    browser.click("input[name='sound-out']").await;
    browser.press("hands-done").await;
    browser.gone(".MuiDialog-root").await;
    let before = browser.heard().await.len();
    comb().await;
    browser.still().await;
    assert_eq!(browser.heard().await.len(), before, "muted");
    // One hears what one mutes.
    browser.press("person").await;
    browser.press("hands-and-ears").await;
    browser.press("hear-out").await;
    assert_eq!(browser.heard().await.len(), before + 3);
    browser.press("hands-done").await;
    browser.keys("b").await;
    browser.wait(".next").await;
    browser.until("the screen is let go", async || awake().await == 0).await;
    drop(browser);
    shop.close().await;
}

/// What a browser cannot do is not offered, and nothing depends on it.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_browser_that_can_do_less_offers_less(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser
        .before_every_page("delete window.speechSynthesis; delete Navigator.prototype.wakeLock; delete window.BarcodeDetector")
        .await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    let book = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{book}?at=5", shop.address)).await;
    browser.press("stamp-pass").await;
    browser.wait("[name='stamp-pass']").await;
    browser.gone("[name='say-it']").await;
    browser.press("person").await;
    browser.press("hands-and-ears").await;
    browser.wait_text("This browser cannot speak.").await;
    browser.wait_text("Set the display of this device to stay on.").await;
    drop(browser);
    shop.close().await;
}
