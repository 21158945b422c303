//! Close: the dry film by gauge, spoken and from a file, to its acceptance; the look of a stage with its photo.

use crate::access::{AXE, found};
use level_keel_devices::film_gauge;
use level_keel_e2e::{Browser, Shop};
use level_keel_server::film_gauges;
use level_keel_server::settings::Settings;
use sqlx::PgPool;

/// The buoy the demo measured is opened again and signed; then the inspector measures it anew.
async fn signed_again(shop: &Shop, browser: &Browser) -> String {
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let records = browser.read("/api/v1/records?find=Buoy%203").await;
    let book = records["rows"][0]["id"].as_str().expect("a finished batch").to_string();
    browser.go(&format!("{}/batches/{book}?at=6", shop.address)).await;
    browser.press("reopen").await;
    browser.fill("reason", "to be measured anew").await;
    browser.press("confirm-reason").await;
    browser.gone(".MuiDialog-root").await;
    browser.press("sign").await;
    browser.wait("button[name='accept']").await;
    book
}

/// Readings of the gauge come to the dialog now: one pressed before would be nobody's.
async fn in_the_dialog(browser: &Browser) {
    let said = "return document.querySelector('.MuiDialog-root')?.innerText.includes('or press the gauge') ?? false";
    browser
        .until("the gauge is heard in the dialog", async || browser.client.execute(said, vec![]).await.expect("a script") == true)
        .await;
}

#[sqlx::test(migrations = "../server/migrations")]
async fn a_gauge_spoken_and_from_a_file_to_accepted(db: PgPool) {
    let shop = Shop::open(db).await;
    let gauge = film_gauge::serve("127.0.0.1:0", 17).await.expect("a gauge");
    let settings = Settings { demo_gauge: gauge.address.to_string(), ..shop.state.settings.clone() };
    let tasks = film_gauges::listen(&settings, &shop.state.gauges).expect("it is heard");
    let lead = Browser::start().await;
    let book = signed_again(&shop, &lead).await;
    drop(lead);
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&format!("{}/batches/{book}?at=6", shop.address), "Celo Wick", "3579").await;
    browser.press("close-gauge").await;
    // Drawn and read before, and of this coat still: planned anew, other spots are drawn.
    browser.wait_text("10 of 10 spots").await;
    browser.press("plan-anew").await;
    browser.fill("dry_min_um", "45 µm").await;
    browser.fill("dry_max_um", "90 µm").await;
    browser.press("plan-gauge").await;
    browser.wait_text("0 of 10 spots").await;
    // On its foil, spoken.
    browser.press("foil").await;
    browser.wait("[name='foil_um']").await;
    browser.fill("foil_um", "127 µm").await;
    in_the_dialog(&browser).await;
    gauge.hand("on 127").expect("a hand");
    gauge.hand("press").expect("a hand");
    browser.wait("button[name='take-foil']:not([disabled])").await;
    browser.press("take-foil").await;
    browser.gone(".MuiDialog-root").await;
    browser.wait_text("Right.").await;
    // A spot by the gauge: three presses fill it in. What was read on the foil is none of them.
    let field = "return document.querySelector(\"[name='readings_um']\").value";
    assert_eq!(browser.client.execute(field, vec![]).await.expect("a script"), "", "the foil is no spot");
    browser.wait_text("or press the gauge").await;
    gauge.hand("on 92").expect("a hand");
    for n in 1..=3 {
        gauge.hand("press").expect("a hand");
        let typed = "return document.querySelector(\"[name='readings_um']\").value.split(/µm|mil/).length - 1";
        browser.until("it fills in", async || browser.client.execute(typed, vec![]).await.expect("a script") == n).await;
    }
    browser.press("take-gauge").await;
    browser.wait_text("1 of 10 spots").await;
    // One that cannot be reached is drawn anew, with its reason.
    browser.press("move-spot").await;
    browser.fill("reason", "behind the bracket").await;
    browser.press("confirm-reason").await;
    browser.gone(".MuiDialog-root").await;
    browser.wait_text("drawn anew: behind the bracket").await;
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    let wrong = found(&browser, &axe).await;
    assert!(wrong.is_empty(), "{wrong:#?}");
    // The others out of a file.
    let file = std::env::temp_dir().join(format!("level-keel-{book}.csv"));
    std::fs::write(&file, format!("film_um\n{}", "93\n91\n92\n".repeat(9))).expect("a file");
    browser.choose_file("input[aria-label='A file of the gauge']", &file).await;
    browser.press("take-file").await;
    std::fs::remove_file(file).ok();
    browser.wait_text("10 of 10 spots").await;
    browser.wait_text("Put the gauge on its foil once more").await;
    browser.press("close-sign").await;
    browser.wait_text("Spots by gauge: Put the gauge on its foil once more").await;
    browser.press("method-spots").await;
    browser.press("foil").await;
    browser.wait("[name='foil_um']").await;
    in_the_dialog(&browser).await;
    gauge.hand("on 127").expect("a hand");
    gauge.hand("press").expect("a hand");
    browser.wait("button[name='take-foil']:not([disabled])").await;
    browser.press("take-foil").await;
    browser.gone(".MuiDialog-root").await;
    browser.wait_text("The dry film is in.").await;
    browser.press("close-sign").await;
    browser.press("accept").await;
    browser.wait_text("The card is closed.").await;
    let card = browser.read(&format!("/api/v1/batches/{book}/card.json")).await;
    let read = |n: usize| card["acceptance"]["gauge"]["spots"][n]["readings_um"].as_array().map(Vec::len);
    assert_eq!((read(0), read(9)), (Some(3), Some(3)));
    let said = card["acceptance"].to_string();
    assert!(said.contains("\"spots\"") && said.contains("PCG64") && said.contains("behind the bracket"), "{said}");
    for task in tasks {
        task.abort();
    }
    gauge.close();
    drop(browser);
    shop.close().await;
}

#[sqlx::test(migrations = "../server/migrations")]
async fn a_stage_is_looked_at_beside_its_sample(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    let book = signed_again(&shop, &browser).await;
    browser.press("close-look").await;
    let photo = |name: &str, colour: [u8; 3]| {
        let path = std::env::temp_dir().join(format!("level-keel-{name}-{book}.png"));
        image::RgbImage::from_pixel(60, 40, image::Rgb(colour)).save(&path).expect("a photo");
        path
    };
    let (seen, sample) = (photo("seen", [40, 90, 80]), photo("sample", [42, 92, 82]));
    browser.press("stage-finish").await;
    browser.choose_file("input[aria-label='Photo']", &seen).await;
    browser.wait_text("Photo: another").await;
    browser.fill("look-text", "a run at the skirt").await;
    browser.press("look-wrong").await;
    browser.wait_text("Not right").await;
    browser.click("details.sample summary").await;
    browser.fill("sample-text", "sample 4 on the wall").await;
    browser.choose_file("input[aria-label='Its photo']", &sample).await;
    browser.wait_text("Its photo: another").await;
    browser.press("take-sample").await;
    browser.wait_text("Should match sample 4 on the wall").await;
    browser
        .until("both photos stand side by side", async || {
            let count = "return document.querySelectorAll('.side-by-side img.kept-photo').length";
            browser.client.execute(count, vec![]).await.expect("a script") == 2
        })
        .await;
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    let wrong = found(&browser, &axe).await;
    assert!(wrong.is_empty(), "{wrong:#?}");
    for path in [seen, sample] {
        std::fs::remove_file(path).ok();
    }
    // What is not right is said on the first tab, and mended it is right.
    browser.press("look-right").await;
    browser.wait(".stage-rows .word-in").await;
    drop(browser);
    shop.close().await;
}
