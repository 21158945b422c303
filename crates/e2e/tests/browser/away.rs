//! An answer that is lost after the entry is stored, and a database that goes away: nothing is entered twice, nothing is left in doubt.

use jiff::Timestamp;
use level_keel_e2e::MORNING;
use level_keel_e2e::{Browser, Gateway, Line, Lost, Shop, Standing};
use level_keel_server::clock::{Clock, Host};
use level_keel_server::clock_watch::look_once;
use sqlx::PgPool;

async fn kinds(shop: &Shop, book: &str, kind: &str) -> i64 {
    let count = "select count(*) from entry where book_id = $1::uuid and kind = $2";
    sqlx::query_scalar(count).bind(book).bind(kind).fetch_one(&shop.state.db).await.expect("a count")
}

/// Stored, and then a gateway answers for the server, or the line breaks: the stamp is sent again and is one entry.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_stamp_whose_answer_is_lost_is_one_entry(db: PgPool) {
    let shop = Shop::open(db).await;
    let gateway = Gateway::to(&shop.address).await;
    let browser = Browser::start().await;
    browser.sign_in(&gateway.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{id}?at=5", gateway.address)).await;
    let before = kinds(&shop, &id, "pass").await;
    let lost = [Lost::Status(500), Lost::Status(502), Lost::Status(503), Lost::Status(504), Lost::Cut];
    for (n, lost) in (1..).zip(lost) {
        browser.wait("button[name='stamp-pass']:not([disabled])").await;
        browser.fill("used_ml", &format!("{n}50 mL")).await;
        gateway.lose(&[lost]);
        browser.press("stamp-pass").await;
        browser.until("it was never stored", async || kinds(&shop, &id, "pass").await == before + n).await;
        browser.until("no answer was lost", async || gateway.still() == 0).await;
        // The page shows it only once it was answered, and nothing is left to be sent.
        browser.wait_text(&format!("Passes {}", before + n)).await;
        browser.gone("[data-waiting]").await;
        assert_eq!(kinds(&shop, &id, "pass").await, before + n, "{lost:?}");
    }
    drop(browser);
    shop.close().await;
}

/// What needs a decision is not sent again by itself: the page says that it is not known, asks, and says what it found.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_decision_whose_answer_is_lost_is_asked_for(db: PgPool) {
    let shop = Shop::open(db).await;
    let gateway = Gateway::to(&shop.address).await;
    let browser = Browser::start().await;
    browser.sign_in(&gateway.address, "Brok Tarn", "2468").await;
    let id = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{id}?at=6", gateway.address)).await;
    browser.press("close-note").await;
    browser.fill("reason", "Written on the wrong batch").await;
    browser.press("confirm-reason").await;
    browser.gone("[role='dialog']").await;
    let seq: i64 = sqlx::query_scalar("select max(seq) from entry where book_id = $1::uuid and kind = 'note'")
        .bind(&id)
        .fetch_one(&shop.state.db)
        .await
        .expect("its place");
    browser.press("open-log").await;
    browser.press(&format!("strike-{seq}")).await;
    browser.fill("reason", "another batch").await;
    gateway.lose(&[Lost::Status(502)]);
    browser.press("confirm-reason").await;
    browser.wait_text("it is not known whether this is stored").await;
    browser.wait_text("Strike: It is stored.").await;
    assert_eq!(kinds(&shop, &id, "strike").await, 1);
    // Pressed again it is the same entry, and with its answer nothing is left to be asked.
    browser.press("confirm-reason").await;
    browser.wait_text("struck, Brok Tarn: another batch").await;
    browser.gone("[data-waiting]").await;
    assert_eq!(kinds(&shop, &id, "strike").await, 1);
    drop(browser);
    shop.close().await;
}

/// The database goes away under an open page: it says so, keeps what it shows, and goes on by itself.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_page_waits_for_the_database(db: PgPool) {
    let near = Shop::open(db).await;
    let line = Line::to(near.state.db.connect_options().get_port()).await;
    let shop = Shop::over(&near, line.port).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{id}?at=5", shop.address)).await;
    browser.wait("button[name='stamp-pass']:not([disabled])").await;
    let before = kinds(&near, &id, "pass").await;
    line.stand(Standing::Cut);
    browser.press("stamp-pass").await;
    browser.wait_text("The database does not answer").await;
    browser.wait("[data-waiting='1']").await;
    browser.wait("button[name='stamp-pass']").await;
    // On a low screen, which the banner makes lower still, nothing runs over what stands below it.
    browser.size(1280, 657).await;
    let over = "const all = [...document.querySelector('.see').children].map(e => e.getBoundingClientRect()).filter(r => r.height > 0); \
        return all.slice(1).filter((r, i) => r.top < all[i].bottom - 1).length";
    let over = browser.client.execute(over, vec![]).await.expect("a script");
    assert_eq!(over, 0, "what stands in the picture's side lies over one another");
    assert_eq!(kinds(&near, &id, "pass").await, before);
    line.stand(Standing::Open);
    browser.gone("[data-waiting]").await;
    assert_eq!(kinds(&near, &id, "pass").await, before + 1);
    browser.wait_text(&format!("Passes {}", before + 1)).await;
    drop(browser);
    shop.close().await;
    near.close().await;
}

/// A tablet that sleeps: the browser's own clock stands still meanwhile, the stamp is none the younger for it.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_stamp_made_before_the_tablet_slept_is_as_old_as_it_is(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{id}?at=5", shop.address)).await;
    browser.wait("button[name='stamp-pass']:not([disabled])").await;
    browser.offline(true).await;
    browser.press("stamp-pass").await;
    browser.wait("[data-waiting='1']").await;
    let sleep =
        "const at = performance.now(), told = Date.now.bind(Date); performance.now = () => at; Date.now = () => told() + 90000";
    browser.client.execute(sleep, vec![]).await.expect("a script");
    browser.offline(false).await;
    browser.gone("[data-waiting]").await;
    let age = "select extract(epoch from arrived - happened)::float8 from entry where book_id = $1::uuid and kind = 'pass' order by seq desc";
    let age: f64 = sqlx::query_scalar(age).bind(&id).fetch_one(&shop.state.db).await.expect("the pass");
    assert!((90.0..120.0).contains(&age), "{age} s");
    drop(browser);
    shop.close().await;
}

/// The machine's clock set back: every page says so, and the log of the batch holds it.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_clock_set_back_is_told_on_every_page(db: PgPool) {
    let first = Shop::open(db).await;
    let morning: Timestamp = MORNING.parse().expect("an instant");
    let host = Host::standing(morning);
    let shop = Shop::by(&first, Clock::of(host.clone(), morning, 1.0)).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let id = browser.batch("Buoy 7").await;
    host.run(60.0);
    host.step(-7200.0);
    look_once(&shop.state, true).await.expect("it is written");
    for page in ["", "parts", &format!("batches/{id}?at=5")] {
        browser.go(&format!("{}/{page}", shop.address)).await;
        browser.wait_text("set back by 2 h 0 min").await;
    }
    browser.press("open-log").await;
    browser.wait_text("The shop’s clock").await;
    drop(browser);
    shop.close().await;
    first.close().await;
}
