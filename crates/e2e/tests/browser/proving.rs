//! Prove: three catches to the ratio, the ledger beside them, a check that falls due, a trend that leads to a filter.

use jiff::SignedDuration;
use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use serde_json::Value;
use sqlx::PgPool;

async fn prove(browser: &Browser, book: &str) -> Value {
    browser.read(&format!("/api/v1/batches/{book}?station=prove")).await
}

/// Two tries of the demo are out. The third is named a slip while it is typed the wrong way round, then it is in; a whole run agrees
/// with it, and a test piece is kept with its photo.
#[sqlx::test(migrations = "../server/migrations")]
async fn three_catches_to_the_ratio(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = browser.batch("Float 12").await;
    browser.go(&format!("{}/batches/{book}?at=4", shop.address)).await;
    browser.wait_text("Raise A from 13 psi to 15.6 psi. Expect").await;
    browser.wait_text("Or lower B to").await;
    browser.fill("a_kpa", "15.6 psi").await;
    browser.fill("a_g", "5 g").await;
    browser.fill("b_g", "40.2 g").await;
    browser.wait_text("looks told the wrong way round").await;
    browser.fill("b_kpa", "0.9 psi").await;
    browser.wait_text("If the gauge reads bar: 0.9 bar is 13").await;
    browser.fill("b_kpa", "8 psi").await;
    browser.fill("a_g", "40.2 g").await;
    browser.fill("b_g", "5 g").await;
    browser.fill("caught_watch_s", "15 s").await;
    browser.press("take-catch").await;
    browser
        .until("three catches, the last one in", async || {
            let view = prove(&browser, &book).await;
            view["prove"]["proofs"][0]["level"]["verdict"] == "in"
                && view["prove"]["proofs"].as_array().is_some_and(|p| p.len() == 3)
        })
        .await;
    // The shop asks every four hours: under its float stands when.
    let line = prove(&browser, &book).await["stations"][3]["line"].as_str().unwrap_or_default().to_string();
    assert!(line.starts_with("due in"), "{line}");
    // The ledger: the weeks before the filter and since, and today's catches beside them.
    browser.press("prove-ledger").await;
    browser.wait(".ledger-chart").await;
    browser.wait_text("the filter was exchanged").await;
    browser.press("ledger-list").await;
    browser.wait_text("A 13 psi to 15.6 psi").await;
    browser.press("catch-now").await;
    browser.wait("[name='take-catch']").await;
    // A run of 4 kg of A: 8.0 to one.
    browser.press("prove-run").await;
    for (name, text) in [("a.before_g", "9.200 kg"), ("a.after_g", "5.200 kg"), ("b.before_g", "1.900 kg"), ("b.after_g", "2 kg")]
    {
        browser.fill(name, text).await;
    }
    browser.wait_text("nothing was taken").await;
    browser.fill("b.after_g", "1.403 kg").await;
    browser.press("take-run").await;
    browser.wait_text("The run and its catches agree.").await;
    browser.wait_text("was reckoned").await;
    browser.press("prove-bond").await;
    browser.press("bond-one_side_bare").await;
    browser.fill("bond-substrate", "float foam").await;
    let photo = std::env::temp_dir().join(format!("level-keel-{book}.png"));
    image::RgbImage::from_pixel(40, 30, image::Rgb([180, 120, 60])).save(&photo).expect("a photo");
    browser.choose_file("input[type='file']", &photo).await;
    browser.wait_text("Photo: another").await;
    browser.press("take-bond").await;
    browser.wait_text("Too much activator. Lower B a little").await;
    browser.wait("img.kept-photo").await;
    std::fs::remove_file(photo).ok();
    drop(browser);
    shop.close().await;
}

/// An overdue check holds spraying with its reason, on the board too; a catch settles it.
#[sqlx::test(migrations = "../server/migrations")]
async fn an_overdue_check_is_settled_by_a_catch(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = browser.batch("Float 12").await;
    let at = format!("{}/batches/{book}?at=4", shop.address);
    let catch = async || {
        browser.fill("a_g", "40.2 g").await;
        browser.fill("b_g", "5 g").await;
        browser.press("take-catch").await;
    };
    let overdue = async || {
        let view = prove(&browser, &book).await;
        view["holds"].as_array().is_some_and(|all| all.iter().any(|h| h["trouble"] == "check-due"))
    };
    browser.go(&at).await;
    browser.wait("[name='take-catch']").await;
    browser.fill("a_kpa", "15.6 psi").await;
    catch().await;
    browser.wait_text("Next check by the shop’s interval in").await;
    shop.clock.advance(SignedDuration::from_mins(241));
    browser.go(&at).await;
    browser.wait_text("Check due: the shop’s own interval ended").await;
    assert!(overdue().await);
    browser.go(&shop.address).await;
    browser.wait_text("Catch both streams again").await;
    browser.go(&at).await;
    browser.wait("[name='take-catch']").await;
    catch().await;
    browser.until("the check is settled", async || !overdue().await).await;
    drop(browser);
    shop.close().await;
}

/// The catalyst pump of the flume machine drifts, and the chart says so before a catch is out. Its filter is exchanged, and with the
/// next catch a new regime begins.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_trend_leads_to_a_filter_and_a_new_regime(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 800).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let rigs = browser.read("/api/v1/rigs").await;
    let flume = rigs.as_array().unwrap().iter().find(|r| r["rig"]["name"] == "Flume gel-coat machine").expect("the machine");
    let id = flume["id"].as_str().unwrap();
    browser.go(&format!("{}/rigs?rig={id}", shop.address)).await;
    browser.press("rig-ledger").await;
    browser.wait_text("It drifts.").await;
    browser.wait_text("check by here").await;
    let ledger = browser.read(&format!("/api/v1/rigs/{id}/ledger")).await;
    let verdicts = ledger["page"]["rows"].as_array().unwrap();
    assert!(verdicts.len() == 15 && verdicts.iter().all(|r| r["verdict"] == "in"), "every catch is in yet");
    browser.press("rig-book").await;
    browser.wait("[name='exchanged_piece']").await;
    browser
        .client
        .execute(
            "const s = document.querySelector(\"[name='exchanged_piece']\");
             Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(s, 'filter');
             s.dispatchEvent(new Event('change', { bubbles: true }))",
            vec![],
        )
        .await
        .expect("a script");
    browser.press("exchanged").await;
    browser.wait_text("The filter exchanged").await;
    let book = browser.batch("Flume 12").await;
    browser.go(&format!("{}/batches/{book}?at=4", shop.address)).await;
    browser.wait_text("Never pour the catches together").await;
    browser.fill("a_g", "812 g").await;
    browser.fill("b_g", "10.5 g").await;
    browser.fill("setting_count", "4").await;
    browser.wait_text("Turn the catalyst setting up from 4 to").await;
    browser.fill("b_g", "14.7 g").await;
    browser.press("take-catch").await;
    browser.wait_text("Next check by the shop’s interval in").await;
    browser.press("prove-ledger").await;
    browser.wait_text("the filter was exchanged, 1 catch").await;
    let text = browser.text().await;
    assert!(!text.contains("It drifts."), "a new regime has no trend yet");
    drop(browser);
    shop.close().await;
}

/// A scale is checked against a known mass at its own page: good, then off; what was weighed on it since is in doubt, and a lead
/// answers that.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_scale_found_off_is_answered_by_a_lead(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 800).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let check = async |known: &str, read: &str| {
        browser.press("check-Fine scale").await;
        browser.fill("against", "500 g brass").await;
        browser.fill("known_g", known).await;
        browser.fill("read_g", read).await;
        browser.press("keep-check").await;
        browser.gone("[name='keep-check']").await;
    };
    let scales = async || {
        browser.go(&format!("{}/rigs", shop.address)).await;
        browser.press("rigs-scales").await;
        browser.wait("[name='check-Fine scale']").await;
    };
    scales().await;
    browser.wait_text("2 kg cast weight").await;
    check("500 g", "500 g").await;
    browser.wait_text("500 g read 500 g, good").await;
    let book = browser.batch("Float 12").await;
    browser.go(&format!("{}/batches/{book}?at=4", shop.address)).await;
    browser.fill("a_kpa", "15.6 psi").await;
    browser.fill("a_g", "40.2 g").await;
    browser.fill("b_g", "5 g").await;
    browser.press("take-catch").await;
    browser.wait_text("Next check by the shop’s interval in").await;
    scales().await;
    check("500 g", "508 g").await;
    browser.wait_text("1 to answer").await;
    browser.press("marks-Fine scale").await;
    browser.wait_text("two catches: the scale was found off, of an unknown kind").await;
    browser.press("answer-mark").await;
    browser.fill("reason", "caught again on the bench scale, in").await;
    browser.press("confirm-reason").await;
    browser.wait_text("caught again on the bench scale, in").await;
    browser.go(&format!("{}/batches/{book}?at=4", shop.address)).await;
    browser.press("prove-ledger").await;
    browser.press("ledger-list").await;
    browser.wait_text("the scale was found off").await;
    drop(browser);
    shop.close().await;
}
