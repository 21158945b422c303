//! What a person sees when something breaks: the network cut, the server newer than the page, someone else's stamps.

use level_keel_e2e::{Browser, Shop};
use level_keel_server::settings::Settings;
use serde_json::json;
use sqlx::PgPool;

async fn passes(browser: &Browser, id: &str) -> usize {
    browser.read(&format!("/api/v1/batches/{id}")).await["spray"]["passes"].as_array().expect("passes").len()
}

/// Stamped with the network cut, they wait in the browser's storage and land once when it is back.
#[sqlx::test(migrations = "../server/migrations")]
async fn stamps_made_offline_wait_and_land_once(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Buoy 7").await;
    let before = passes(&browser, &id).await;
    browser.go(&format!("{}/batches/{id}?at=5", shop.address)).await;
    browser.wait("button[name='stamp-pass']").await;

    browser.offline(true).await;
    browser.press("stamp-pass").await;
    browser.wait("[data-waiting='1']").await;
    browser.wait_text("The server does not answer").await;
    browser.wait_text("1 stamp waits in this browser").await;
    // Another pass says something else: the same once more at once is one tap of a gloved hand.
    browser.fill("used_ml", "150 mL").await;
    browser.press("stamp-pass").await;
    browser.wait("[data-waiting='2']").await;
    browser.press("see-waiting").await;
    browser.wait_text("Stamps that wait for the server").await;
    browser.wait_text("Ansa Reef").await;

    browser.offline(false).await;
    browser.gone("[data-waiting]").await;
    assert_eq!(passes(&browser, &id).await, before + 2, "both landed, each once");
    // The page shows them, and nothing lands again after a reload.
    browser.go(&format!("{}/batches/{id}?at=5", shop.address)).await;
    browser.wait_text(&format!("Passes {}", before + 2)).await;
    assert_eq!(passes(&browser, &id).await, before + 2);
    drop(browser);
    shop.close().await;
}

/// A stamp kept by a page that is gone: nobody else's session sends it, its person's does, and it lands once.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_stamp_survives_its_page_and_is_its_own_persons(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Buoy 7").await;
    let me = browser.read("/api/v1/session").await["id"].clone();
    let wall = "return Date.now() - 90000";
    let wall = browser.client.execute(wall, vec![]).await.expect("a script");
    let stored = json!([{ "id": "0191d000-0000-7000-8000-00000000abce", "book": id, "kind": "note", "who": me, "name": "Ansa Reef",
        "payload": { "text": "Wind got up at the third pass" }, "page": "a page that is gone", "since": 0, "wall": wall, "rate": 1 }])
    .to_string();
    // A stamp of the lead's own waits behind it: once that has landed, the first was passed over and not merely late.
    let people = browser.read("/api/v1/people").await;
    let lead = people.as_array().and_then(|all| all.iter().find(|p| p["name"] == "Brok Tarn")).expect("the lead")["id"].clone();
    let mut both: serde_json::Value = serde_json::from_str(&stored).expect("what is stored");
    let mut second = both[0].clone();
    second["id"] = json!("0191d000-0000-7000-8000-00000000abcf");
    (second["who"], second["name"], second["payload"]) = (lead, json!("Brok Tarn"), json!({ "text": "Seen by the lead" }));
    both.as_array_mut().expect("a list").push(second);
    let put = "localStorage.setItem('level-keel-outbox', arguments[0])";
    browser.client.delete_all_cookies().await.expect("the session is gone");
    browser.client.execute(put, vec![json!(both.to_string())]).await.expect("a script");
    let notes = async |browser: &Browser| {
        let view = browser.read(&format!("/api/v1/batches/{id}")).await;
        let log = view["log"].as_array().expect("a log").clone();
        log.iter().filter(|l| l["text"].as_str().is_some_and(|t| t.contains("Wind got up"))).cloned().collect::<Vec<_>>()
    };
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait_text("Ansa Reef must sign in to send theirs").await;
    browser
        .until("the lead's own stamp never landed", async || {
            let view = browser.read(&format!("/api/v1/batches/{id}")).await;
            view["log"].as_array().expect("a log").iter().any(|l| l["text"] == "Note: Seen by the lead")
        })
        .await;
    let early = notes(&browser).await;
    assert!(early.is_empty(), "a lead’s session does not send it: {early:?}");

    browser.client.delete_all_cookies().await.expect("the session is gone");
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.gone("[data-waiting]").await;
    let landed = notes(&browser).await;
    assert_eq!(landed.len(), 1);
    assert_eq!(landed[0]["by"], "Ansa Reef");
    // A minute and a half ago by the difference of the browser's clock: the hand's time, not the landing's.
    let at: jiff::Timestamp = landed[0]["at"].as_str().expect("a time").parse().expect("a time");
    let ago = shop.clock.now().duration_since(at).as_secs();
    assert!((90..150).contains(&ago), "{ago} s ago");

    // The same stored stamp once more, as a browser that lost the answer would keep it: the id makes it the same entry.
    browser.client.execute(put, vec![json!(stored)]).await.expect("a script");
    browser.go(&shop.address).await;
    browser.wait(".next").await;
    browser.gone("[data-waiting]").await;
    assert_eq!(notes(&browser).await.len(), 1, "it landed once");
    drop(browser);
    shop.close().await;
}

/// What the server refuses when it lands stays visible with its reason until its person has seen it.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_refused_stamp_is_shown_and_not_lost(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Buoy 7").await;
    let me = browser.read("/api/v1/session").await["id"].clone();
    let waits = json!([{ "id": "0191d000-0000-7000-8000-00000000abcd", "book": id, "kind": "pass", "who": me, "name": "Ansa Reef",
        "payload": { "charge": "0191d000-0000-7000-8000-00000000ffff", "zones": [] }, "page": "other", "since": 0, "wall": 0, "rate": 0 }]);
    let put = "localStorage.setItem('level-keel-outbox', arguments[0])";
    browser.client.execute(put, vec![json!(waits.to_string())]).await.expect("a script");
    browser.go(&shop.address).await;
    browser.wait_text("1 was refused").await;
    browser.press("see-waiting").await;
    browser.wait_text("There is no such pot in this batch").await;
    drop(browser);
    shop.close().await;
}

#[sqlx::test(migrations = "../server/migrations")]
async fn a_page_older_than_its_server_says_reload(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.wait(".next").await;
    let shop = shop.again(Settings::default(), "9.9.9").await;
    browser.wait_text("This page is older than its server").await;
    browser.press("reload").await;
    browser.gone("button[name='reload']").await;
    browser.wait(".next").await;
    drop(browser);
    shop.close().await;
}

/// Every view has its own words for a server that does not answer.
#[sqlx::test(migrations = "../server/migrations")]
async fn views_opened_without_an_answer_say_so(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.wait(".next").await;
    browser.fail_reads(true).await;
    for (link, words) in [("Sheets", "This cannot be shown"), ("Records", "This cannot be shown")] {
        let click = "[...document.querySelectorAll('.top nav a')].find(a => a.innerText === arguments[0]).click()";
        browser.client.execute(click, vec![json!(link)]).await.expect("a script");
        browser.wait_text(words).await;
        browser.wait_text("Try again").await;
    }
    drop(browser);
    shop.close().await;
}

/// What a failed browser test leaves: the picture, and the page's words and console beside it.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_failed_test_leaves_its_picture_and_log(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.go(&shop.address).await;
    browser.wait(".names button").await;
    browser.client.execute("console.error('said to the console')", vec![]).await.expect("a script");
    let folder = std::env::temp_dir().join(format!("level-keel-kept-{}", uuid::Uuid::now_v7()));
    for _ in 0..2 {
        browser.keep(&folder, "faults::one");
    }
    let picture = image::open(folder.join("faults__one.png")).expect("a picture");
    assert_eq!((picture.width(), picture.height()), (1280, 800));
    assert!(folder.join("faults__one-2.png").exists(), "a second does not overwrite the first");
    let log = std::fs::read_to_string(folder.join("faults__one.log")).expect("a log");
    for said in [shop.address.as_str(), "Ansa Reef", "said to the console"] {
        assert!(log.contains(said), "{log}");
    }
    std::fs::remove_dir_all(&folder).expect("it goes away");
    drop(browser);
    shop.close().await;
}
