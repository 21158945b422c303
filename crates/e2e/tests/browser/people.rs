//! People through the real interface: the owner keeps them, a tablet changes hands, one left alone locks.

use level_keel_e2e::{Browser, Shop};
use level_keel_server::settings::Settings;
use sqlx::PgPool;

#[sqlx::test(migrations = "../server/migrations")]
async fn the_owner_adds_someone_who_signs_in_on_the_same_tablet(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Dunja Fenn", "4680").await;
    browser.go(&format!("{}/people", shop.address)).await;
    browser.press("add-person").await;
    browser.fill("new-name", "Edda Holm").await;
    browser.fill("new-pin", "1111").await;
    browser.press("save-person").await;
    browser.wait_text("among the first that are tried").await;
    browser.fill("new-pin", "8642").await;
    browser.press("save-person").await;
    browser.wait("[name='retire-Edda Holm']").await;
    // The tablet changes hands: the page stays, the session does not.
    browser.press("person").await;
    browser.press("switch-person").await;
    browser.wait_text("Who is working?").await;
    browser.sign_in_here("Edda Holm", "8642").await;
    browser.wait_text("Edda Holm here, now").await;
    let text = browser.text().await;
    assert!(text.contains("Edda Holm here, now") && !text.contains("Add a person"), "an applicator keeps no people: {text}");
    drop(browser);
    shop.close().await;
}

/// Three seconds without a hand, and the page asks who is here; what was typed is still there after.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_tablet_left_alone_locks_and_keeps_what_was_typed(db: PgPool) {
    let shop = Shop::open(db).await;
    let shop = shop.again(Settings { idle_lock_min: 0.05, ..Settings::default() }, "0.1.0").await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.go(&format!("{}/begin", shop.address)).await;
    browser.wait("[name='part']").await;
    browser.fill("area_m2", "11 m2").await;
    browser.wait(".overlay .names button").await;
    assert_eq!(board_status(&browser).await, 401, "the session is over, not only covered");
    browser.sign_in_here("Ansa Reef", "1357").await;
    browser.gone(".overlay").await;
    let typed = browser.client.execute("return document.querySelector('[name=area_m2]').value", vec![]).await.expect("a script");
    assert_eq!(typed, "11 m2");
    drop(browser);
    shop.close().await;
}

async fn board_status(browser: &Browser) -> i64 {
    let fetch = "const d = arguments[0]; fetch('/api/v1/board').then(r => d(r.status))";
    browser.client.execute_async(fetch, vec![]).await.expect("an answer").as_i64().expect("a status")
}
