//! Looking back over finished work: trends and kept views, a card on paper, the end of a day.

use crate::access::{AXE, found};
use level_keel_e2e::{Browser, Shop};
use level_keel_server::settings::Settings;
use sqlx::PgPool;

#[sqlx::test(migrations = "../server/migrations")]
async fn trends_are_looked_at_and_what_is_asked_again_is_kept(db: PgPool) {
    let shop = Shop::open(db).await;
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.go(&format!("{}/records", shop.address)).await;
    browser.press("see-trends").await;
    browser.wait_text("Right the first time").await;
    browser.wait_text("Island epoxy primer").await;
    assert!(!browser.text().await.contains("By person"), "an applicator is not offered people's figures");
    browser.press("by-rig").await;
    browser.wait_text("Buoy pot, two litres").await;
    browser.wait("a[href*='/api/v1/records/trends.csv?'][href*='by=rig']").await;
    let wrong = found(&browser, &axe).await;
    assert!(wrong.is_empty(), "{wrong:#?}");
    // Kept under a name, left, and asked again with one tap.
    browser.fill("find-product", "primer").await;
    browser.press("keep-view").await;
    browser.fill("view-name", "Primer by rig").await;
    browser.press("keep-view-go").await;
    browser.gone("[role=dialog]").await;
    browser.go(&format!("{}/records", shop.address)).await;
    browser.wait_text("Buoy 7").await;
    browser.press("saved-view").await;
    browser.wait("button[name='by-rig'][aria-pressed='true']").await;
    browser.wait("input[name='find-product'][value='primer']").await;
    // Forgotten: nothing else goes with it.
    browser.press("forget-views").await;
    browser.press("saved-view").await;
    browser.gone("button[name='saved-view']").await;
    // A lead is offered people's figures.
    drop(browser);
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.go(&format!("{}/records?trends=person", shop.address)).await;
    browser.wait("button[name='by-person'][aria-pressed='true']").await;
    browser.wait_text("Ansa Reef").await;
    drop(browser);
    shop.close().await;
}

#[sqlx::test(migrations = "../server/migrations")]
async fn a_card_is_taken_as_paper_and_a_printer_that_is_gone_is_said(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Celo Wick", "3579").await;
    let records = browser.read("/api/v1/records").await;
    let id = records["rows"][0]["id"].as_str().expect("a finished batch").to_string();
    browser.go(&format!("{}/batches/{id}/card", shop.address)).await;
    browser.wait_text("signed card").await;
    // Printed from the page a card takes two sheets at the most, its log aside; the code that opens it is on the first.
    let buoy = records["rows"].as_array().unwrap().iter().find(|r| r["label"] == "Buoy 3 · primer").expect("Buoy 3");
    browser.go(&format!("{}/batches/{}/card", shop.address, buoy["id"].as_str().unwrap())).await;
    browser.wait(".card-code svg").await;
    browser.wait_text("Spots by gauge: in").await;
    let paper = lopdf::Document::load_mem(&browser.printed().await).expect("another reader opens it");
    let pages = paper.get_pages().len();
    assert!(pages <= 2, "{pages} pages");
    browser.go(&format!("{}/batches/{id}/card", shop.address)).await;
    browser.wait_text("signed card").await;
    browser.press("take-pdf").await;
    browser.wait("button[name='take-pdf']:not([disabled])").await;
    assert!(!browser.text().await.contains("print program"), "it was set");
    // The program is gone: the page says so, and the card stands as it stood.
    let shop = shop.again(Settings { demo: true, print_program: "/nowhere/at/all".into(), ..Settings::default() }, "0.1.0").await;
    browser.press("take-pdf").await;
    browser.wait_text("The print program could not set this document.").await;
    browser.wait_text("on the page, as JSON and as CSV").await;
    browser.wait("a[href$='/card.json']").await;
    drop(browser);
    shop.close().await;
}

#[sqlx::test(migrations = "../server/migrations")]
async fn the_day_ends_on_the_board(db: PgPool) {
    let shop = Shop::open(db).await;
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    // A pot whose batch is long accepted, and that nobody shut down, is wanted on the board.
    let left = "with k as (insert into book (id, kind, created) values ('00000000-0000-4000-8000-000000000001', 'rig', now()) returning id)
                 insert into rig (id, name, body, created, pressed_at, pressed_by)
                 select k.id, 'Yard pot', r.body || '{\"name\": \"Yard pot\"}', r.created, b.ended, b.number
                 from k, rig r, batch b where r.name = 'Buoy pot, two litres' and b.label = 'Buoy 7 · primer'";
    sqlx::raw_sql(left).execute(&shop.state.db).await.unwrap();
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.wait_text("Yard pot").await;
    browser.press("day-end").await;
    browser.wait_text("things left to do").await;
    browser.wait_text("Buoy pot, two litres").await;
    browser.wait_text("Nothing was discarded today.").await;
    browser.wait_text("Solvent rags wetted").await;
    browser.wait("a[href='/api/v1/board/day-end.csv']").await;
    let wrong = found(&browser, &axe).await;
    assert!(wrong.is_empty(), "{wrong:#?}");
    // A rig leads to its shut-down.
    browser.click(".tonight[href^='/rigs?rig=']").await;
    browser.wait("[role=tab][name='rig-shut'][aria-selected='true']").await;
    browser.wait_text("nothing is opened before a gauge reads zero").await;
    drop(browser);
    shop.close().await;
}
