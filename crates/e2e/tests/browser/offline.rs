//! What waits in the browser while the server is silent: kept or said not to be, in order, by every tab, over a session that ends.

use level_keel_e2e::{Browser, Shop};
use serde_json::{Value, json};
use sqlx::PgPool;

const KEY: &str = "level-keel-outbox";

/// The notes of a batch, oldest first, as its log says them.
async fn notes(browser: &Browser, id: &str) -> Vec<String> {
    let view = browser.read(&format!("/api/v1/batches/{id}")).await;
    let log = view["log"].as_array().expect("a log").clone();
    let mut lines: Vec<&Value> = log.iter().filter(|l| l["text"].as_str().is_some_and(|t| t.starts_with("Note: "))).collect();
    lines.sort_by_key(|l| l["seq"].as_i64());
    lines.iter().map(|l| l["text"].as_str().expect("words").trim_start_matches("Note: ").to_string()).collect()
}

async fn script(browser: &Browser, source: &str, given: Value) -> Value {
    browser.client.execute(source, vec![given]).await.expect("a script")
}

/// Writes a note in the dialog of the Close station.
async fn note(browser: &Browser, text: &str) {
    browser.press("close-note").await;
    browser.fill("reason", text).await;
    browser.press("confirm-reason").await;
    browser.gone("[role='dialog']").await;
}

async fn at_close(browser: &Browser, shop: &Shop) -> String {
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{id}?at=6", shop.address)).await;
    browser.wait("button[name='close-note']").await;
    id
}

/// A storage with no room keeps nothing: that is said, the form keeps what was typed, and it lands when the server is back.
#[sqlx::test(migrations = "../server/migrations")]
async fn what_cannot_be_kept_is_not_said_to_wait(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let id = at_close(&browser, &shop).await;
    let fill = "for (let n = 0, size = 1 << 22; size >= 1; ) {
        try { localStorage.setItem(`filler ${n}`, 'x'.repeat(size)); n++; } catch { size >>= 1; }
    }";
    script(&browser, fill, json!(null)).await;
    browser.offline(true).await;
    browser.press("close-note").await;
    browser.fill("reason", "Wind got up").await;
    browser.press("confirm-reason").await;
    browser.wait_text("no room to keep it").await;
    assert_eq!(script(&browser, "return localStorage.getItem(arguments[0])", json!(KEY)).await, Value::Null);
    let typed = script(&browser, "return document.querySelector('[name=reason]').value", json!(null)).await;
    assert_eq!(typed, "Wind got up", "what was typed stays in the form");
    browser.wait("[data-waiting='0']").await;

    browser.offline(false).await;
    browser.press("confirm-reason").await;
    browser.gone("[role='dialog']").await;
    browser.until("the note never landed", async || notes(&browser, &id).await == ["Wind got up"]).await;
    drop(browser);
    shop.close().await;
}

/// A list no page can read is put aside and not written over; what can be read of it is sent.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_list_that_cannot_be_read_is_put_aside(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let id = at_close(&browser, &shop).await;
    let me = browser.read("/api/v1/session").await["id"].clone();
    let sound = json!({ "id": "0191d000-0000-7000-8000-00000000abc1", "book": id, "kind": "note", "who": me, "name": "Ansa Reef",
        "payload": { "text": "The sound one" }, "page": "gone", "since": 0, "wall": 0, "rate": 0 });
    let torn = "{\"id\": \"0191d000";
    let half = json!([null, { "id": 7 }, sound]).to_string();
    for (put, lands) in [(torn, &[][..]), (&half, &["The sound one"][..])] {
        let keep = format!("localStorage.clear(); localStorage.setItem('{KEY}', arguments[0])");
        script(&browser, &keep, json!(put)).await;
        browser.go(&format!("{}/batches/{id}?at=6", shop.address)).await;
        browser.wait("button[name='close-note']").await;
        browser.until("what is sound never landed", async || notes(&browser, &id).await == lands).await;
        // A stamp of now is kept beside it, and does not take its place.
        browser.offline(true).await;
        note(&browser, "Written after").await;
        browser.wait("[data-waiting='1']").await;
        let aside = format!("return localStorage.getItem('{KEY}-unread')");
        assert_eq!(script(&browser, &aside, json!(null)).await, put, "put aside as it was");
        browser.press("see-waiting").await;
        browser.wait_text("Ansa Reef").await;
        script(&browser, &format!("localStorage.removeItem('{KEY}')"), json!(null)).await;
        browser.offline(false).await;
    }
    drop(browser);
    shop.close().await;
}

/// Three notes written with the network cut land in the order they were written, each at the time of its hand.
#[sqlx::test(migrations = "../server/migrations")]
async fn what_waits_lands_in_order_and_from_any_tab(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let id = at_close(&browser, &shop).await;
    browser.offline(true).await;
    for text in ["first", "second", "third"] {
        note(&browser, text).await;
    }
    browser.wait("[data-waiting='3']").await;
    let online = script(&browser, "return navigator.onLine", json!(null)).await;
    assert_eq!(online, false, "this tab is cut off");

    // Another tab of this browser has the network: it sends them, and the first one shows that nothing waits any more.
    let first = browser.client.window().await.expect("a window");
    let other = browser.client.new_window(true).await.expect("another tab");
    browser.client.switch_to_window(other.handle).await.expect("the other tab");
    browser.go(&format!("{}/batches/{id}?at=6", shop.address)).await;
    browser.wait("button[name='close-note']").await;
    browser.until("they never landed in order", async || notes(&browser, &id).await == ["first", "second", "third"]).await;
    browser.gone("[data-waiting='1'], [data-waiting='2'], [data-waiting='3']").await;
    browser.client.close_window().await.expect("the tab closes");
    browser.client.switch_to_window(first).await.expect("the first tab");
    browser.wait("[data-waiting='0']").await;
    browser.offline(false).await;
    browser.gone("[data-waiting]").await;
    assert_eq!(notes(&browser, &id).await, ["first", "second", "third"], "each once");
    drop(browser);
    shop.close().await;
}

/// A session that ended meanwhile: what waits goes on waiting, and lands once its person has signed in again.
#[sqlx::test(migrations = "../server/migrations")]
async fn what_waits_outlives_its_session(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let id = at_close(&browser, &shop).await;
    browser.offline(true).await;
    note(&browser, "Hose squeezed by the forklift").await;
    browser.wait("[data-waiting='1']").await;
    browser.client.delete_all_cookies().await.expect("the session is gone");
    browser.offline(false).await;
    browser.wait(".overlay .names button").await;
    let held = script(&browser, "return JSON.parse(localStorage.getItem(arguments[0])).length", json!(KEY)).await;
    assert_eq!(held, 1, "it goes on waiting");
    browser.sign_in_here("Ansa Reef", "1357").await;
    browser.gone(".overlay").await;
    browser.gone("[data-waiting]").await;
    assert_eq!(notes(&browser, &id).await, ["Hose squeezed by the forklift"]);
    drop(browser);
    shop.close().await;
}
