//! The board with a full shop: whose each batch is, what is lost first, and forty of them on one page.

use level_keel_e2e::stress::Hand;
use level_keel_e2e::{Browser, Shop};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// Most elements the page may hold with forty batches on it.
const ELEMENTS: u64 = 4000;

async fn texts(browser: &Browser, css: &str) -> Vec<String> {
    let read = "return [...document.querySelectorAll(arguments[0])].map(e => e.innerText.replace(/\\s+/g, ' '))";
    let all = browser.client.execute(read, vec![css.into()]).await.expect("a script");
    serde_json::from_value(all).expect("texts")
}

/// A batch is handed over on its page; the board shows whose it is, and each person their own.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_batch_is_handed_over_and_found_again(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".board-rows tbody tr").await;
    let row = async |label: &str| {
        let rows = texts(&browser, ".board-rows tbody tr").await;
        rows.into_iter().find(|row| row.starts_with(label)).unwrap_or_default()
    };
    assert!(row("Buoy 8 · primer").await.contains("Ansa Reef"), "who worked on it last: {}", row("Buoy 8").await);
    // The lead takes it, and finds it among his own; the hands-list is of his batches alone.
    let id = browser.batch("Buoy 8").await;
    browser.go(&format!("{}/batches/{id}?at=2", shop.address)).await;
    browser.press("in-hand").await;
    browser.press("take-in-hand").await;
    browser.wait_text("In hand: you").await;
    browser.go(&shop.address).await;
    browser.wait(".board-rows tbody tr").await;
    browser.until("the row is the reader's", async || row("Buoy 8 · primer").await.contains("you")).await;
    browser.press("mine").await;
    browser.until("only their own", async || texts(&browser, ".board-rows tbody tr").await.len() == 1).await;
    assert!(texts(&browser, ".next").await.iter().all(|line| line.contains("Buoy 8")));
    // The filter is in the address: a reload keeps it.
    browser.client.refresh().await.expect("a reload");
    browser.wait(".board-rows tbody tr").await;
    browser.until("still only their own", async || texts(&browser, ".board-rows tbody tr").await.len() == 1).await;
    // Handed on by name, it is not theirs any more.
    browser.go(&format!("{}/batches/{id}?at=2", shop.address)).await;
    browser.press("in-hand").await;
    browser.press("hand-to-Celo Wick").await;
    browser.wait_text("In hand: Celo Wick").await;
    let line = browser.read(&format!("/api/v1/batches/{id}?station=mix")).await;
    assert_eq!(line["log"][0]["text"], "In the hands of Celo Wick");
    browser.go(&format!("{}/?mine=true", shop.address)).await;
    browser.wait_text("Nothing of yours waits for hands.").await;
    drop(browser);
    shop.close().await;
}

/// Forty open batches: every label whole, what is lost first with its time, and a page that stays light.
#[sqlx::test(migrations = "../server/migrations")]
async fn forty_batches_stay_readable(db: PgPool) {
    let shop = Shop::open(db).await;
    let hand = Hand::signed(&shop.address, "Ansa Reef", "1357").await;
    let browser = Browser::start().await;
    browser.size(1280, 800).await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let sheets = browser.read("/api/v1/sheets").await;
    let sheet =
        sheets.as_array().and_then(|all| all.iter().find(|s| s["name"] == "Island epoxy primer")).expect("a sheet").clone();
    let open = browser.read("/api/v1/board").await["batches"].as_array().map_or(0, Vec::len);
    for n in open..40 {
        let wanted = json!({ "sheet": sheet["id"], "part": format!("Breakwater lamp {n}, north"), "coat": "primer", "zones": ["shaft"],
            "area_m2": "4 m2", "film_um": "100 µm", "film_is": "wet", "transfer_pct": 60, "thinner_pct": 0 });
        hand.send("POST", "/batches", json!({ "id": Uuid::now_v7(), "wanted": wanted })).await;
    }
    browser.go(&shop.address).await;
    browser.until("forty rows", async || texts(&browser, ".board-rows tbody tr").await.len() == 40).await;
    let count = browser.client.execute("return document.querySelectorAll('*').length", vec![]).await.expect("a script");
    let elements = count.as_u64().expect("a number");
    assert!((600..ELEMENTS).contains(&elements), "{elements} elements");
    // No label of a row is cut, and none of the hands-list.
    let cut = "return [...document.querySelectorAll('.board-rows td:first-child, .next > span:last-child')]
        .filter(e => e.scrollWidth > e.clientWidth + 1).map(e => e.innerText)";
    assert_eq!(browser.client.execute(cut, vec![]).await.expect("a script"), json!([]));
    // What is lost first has its time in the row, the same as at the top of the list.
    let board: Value = browser.read("/api/v1/board").await;
    let loses = board["batches"].as_array().expect("rows").iter().filter(|b| b["loses"].is_object()).count();
    let times = texts(&browser, ".board-rows tbody td:nth-child(4)").await.into_iter().filter(|t| !t.trim().is_empty()).count();
    assert!(loses > 0 && times == loses, "{times} of {loses}");
    drop(browser);
    shop.close().await;
}
