//! Mix with a scale that speaks: weighed in without a touch, an over-pour led back, three staggered pots, silence and back.

use jiff::SignedDuration;
use level_keel_devices::scale::{self, Made, Scale};
use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use level_keel_server::scales;
use level_keel_server::settings::Settings;
use level_keel_server::state::State;
use sqlx::PgPool;
use std::time::Duration;
use tokio::task::JoinHandle;

use crate::pot::{begun, weigh_in_typed};

async fn with_scale(shop: &Shop) -> (Scale, Vec<JoinHandle<()>>) {
    let made = Made { lines_s: 30.0, ..Made::default() };
    let scale = scale::serve("127.0.0.1:0", "127.0.0.1:0", made).await.expect("a scale");
    let settings = Settings { demo_scale: scale.address.to_string(), ..shop.state.settings.clone() };
    let tasks = scales::listen(&State { settings, ..shop.state.clone() }).await.expect("it is heard");
    (scale, tasks)
}

async fn end(tasks: Vec<JoinHandle<()>>) {
    for task in tasks {
        task.abort();
        let _ = task.await;
    }
}

/// A litre asked for, the empty cup on the scale and tared.
async fn cup_on_scale(shop: &Shop, browser: &Browser, scale: &Scale) -> String {
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = begun(shop, browser, "Buoy 51").await;
    browser.fill("wanted_ml", "1 L").await;
    browser.press("open-pot").await;
    browser.wait(".weigh").await;
    hand(shop, scale, "put 350").await;
    hand(shop, scale, "tare").await;
    book
}

/// Does something at the scale, and waits until the server heard it come to rest: some lines of it, and one that is steady.
async fn hand(shop: &Shop, scale: &Scale, said: &str) {
    let mut heard = shop.state.scales.one("Mixing scale").expect("it is heard").follow();
    scale.hand(said).expect("the hand knows how");
    let rest = async {
        for line in 0.. {
            heard.changed().await.expect("it goes on speaking");
            if line >= 10 && heard.borrow().is_some_and(|pan| pan.stable) {
                break;
            }
        }
    };
    tokio::time::timeout(Duration::from_secs(30), rest).await.expect("the scale never came to rest");
}

/// Planned mass of the component in hand, as the page's own data says it.
async fn to_pour(browser: &Browser, book: &str) -> f64 {
    let view = browser.read(&format!("/api/v1/batches/{book}")).await;
    let pot = &view["mix"]["pots"][0];
    let text = pot["to_go"]["text"].as_str().expect("something to pour").replace('\u{a0}', " ");
    let (figure, unit) = text.split_once(' ').expect("a figure and a unit");
    figure.replace(',', "").parse::<f64>().expect("a number") * if unit == "kg" { 1000.0 } else { 1.0 }
}

#[sqlx::test(migrations = "../server/migrations")]
async fn weighed_in_without_a_touch_and_an_over_pour_led_back(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.with_ears().await;
    let (scale, tasks) = with_scale(&shop).await;
    let book = cup_on_scale(&shop, &browser, &scale).await;
    let base = to_pour(&browser, &book).await;
    // Nobody touches the screen from here until all is in the cup.
    hand(&shop, &scale, &format!("pour {base} 500")).await;
    browser.wait_text("Pour hardener").await;
    let heard = browser.heard().await;
    assert!(heard.ends_with(&[587, 587, 523, 784]), "slow down, then in: {heard:?}");
    let hardener = to_pour(&browser, &book).await;
    hand(&shop, &scale, &format!("pour {} 300", hardener / 3.0)).await;
    // In the middle of it the plug is pulled, and put back.
    scale.hand("fault unplugged").expect("a fault");
    browser.wait_text("The scale is silent").await;
    scale.hand("fault none").expect("none");
    browser.wait(".weigh.pour, .weigh.slow").await;
    // Too much: it is not taken by itself; taken by hand, the screen leads back.
    hand(&shop, &scale, &format!("pour {} 300", hardener * 2.0 / 3.0 * 1.2 + hardener / 10.0)).await;
    browser.wait_text("too much").await;
    browser.until("three low tones", async || browser.heard().await.ends_with(&[330, 262, 196])).await;
    browser.press("take-weight").await;
    browser.wait("button[name='rescue-exact']").await;
    browser.press("rescue-exact").await;
    browser.wait_text("rescued, back on target").await;
    browser.wait_text("Pour base").await;
    let more = to_pour(&browser, &book).await;
    hand(&shop, &scale, &format!("pour {more} 300")).await;
    browser.press("stirred").await;
    browser.wait_text("It stands on the rack with its clock").await;
    let view = browser.read(&format!("/api/v1/batches/{book}")).await;
    let pot = &view["mix"]["pots"][0];
    assert_eq!(pot["ratio"]["verdict"], "in", "{}", pot["ratio"]);
    end(tasks).await;
    scale.close().await;
    drop(browser);
    shop.close().await;
}

/// Planned, mixed one after the other, filled, one divided, the hose a vessel, the spent one a stop.
#[sqlx::test(migrations = "../server/migrations")]
async fn three_staggered_pots_from_inducting_to_spent(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = begun(&shop, &browser, "Buoy 51").await;
    browser.press("mix-plan").await;
    for (field, text) in
        [("rate_ml_min", "300 mL/min"), ("fill_ml", "1.2 L"), ("more.hose_bore_mm", "3/8 in"), ("more.hose_length_mm", "25 ft")]
    {
        browser.fill(field, text).await;
    }
    browser.wait_text("the vessel holds no more").await;
    browser.press("plan-pots").await;
    browser.wait_text("Planned: 300 mL/min").await;
    browser.press("mix-ways").await;
    browser.fill("two-fill_ml", "600 mL").await;
    browser.fill("two-temp_c", "32 C").await;
    browser.wait_text("Sprayed in").await;
    browser.press("mix-pour").await;
    for pot in 0..3 {
        if pot > 0 {
            browser.press("another-pot").await;
        }
        browser.press("open-pot").await;
        weigh_in_typed(&browser, &book).await;
        shop.clock.advance(SignedDuration::from_mins(18));
        browser.client.refresh().await.expect("a reload");
        browser.wait("button[name='mix-work']").await;
    }
    // The first is through its induction; a fill of it goes to the gun, the hose stands on the rack.
    let view = browser.read(&format!("/api/v1/batches/{book}")).await;
    let states: Vec<&str> = view["pots"].as_array().expect("pots").iter().filter_map(|p| p["state"].as_str()).collect();
    assert_eq!(states.len(), 3, "{states:?}");
    browser.press("mix-work").await;
    browser.fill("fill_ml", "9 L").await;
    browser.wait_text("is more than the").await;
    browser.fill("fill_ml", "500 mL").await;
    browser.click("input[name='fill-stirred']").await;
    browser.press("log-fill").await;
    browser.wait_text("into the pressure pot").await;
    browser.wait_text("Flush by").await;
    browser.click("summary").await;
    browser.fill("part_ml", "200 mL").await;
    browser.press("divide").await;
    browser.wait_text("into pot").await;
    // Hours later all are spent on every screen, and the hose with them.
    shop.clock.advance(SignedDuration::from_hours(9));
    browser.client.refresh().await.expect("a reload");
    browser.wait_text("Hose spent").await;
    browser.wait_text("Spent").await;
    browser.go(&format!("{}/batches/{book}?at=5", shop.address)).await;
    browser.press("flushed").await;
    browser.wait_text("Line flushed").await;
    drop(browser);
    shop.close().await;
}

/// Something heavy set down beside the cup: said, not taken, gone on from; it sounds in but once.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_jump_is_said_and_gone_on_from(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.with_ears().await;
    let (scale, tasks) = with_scale(&shop).await;
    let book = cup_on_scale(&shop, &browser, &scale).await;
    browser.wait_text("Pour base").await;
    let base = to_pour(&browser, &book).await;
    hand(&shop, &scale, &format!("pour {} 300", base / 2.0)).await;
    hand(&shop, &scale, "put 700").await;
    browser.wait_text("The scale jumped").await;
    let taken = browser.read(&format!("/api/v1/batches/{book}")).await;
    assert!(taken["mix"]["pots"][0]["lines"][0]["poured"].is_null(), "a jump is no pour");
    // It belongs there: gone on from. Taken off again, the rest is poured and taken by itself.
    browser.press("go-on").await;
    browser.gone("button[name='go-on']").await;
    hand(&shop, &scale, "put -700").await;
    hand(&shop, &scale, &format!("pour {} 300", base / 2.0)).await;
    browser.wait_text("Pour hardener").await;
    assert_eq!(browser.heard().await.iter().filter(|hz| **hz == 784).count(), 1, "in, once for one pour");
    end(tasks).await;
    scale.close().await;
    drop(browser);
    shop.close().await;
}

/// A glove does not wait for an answer: what is pressed while one is under way is sent after it, once, in the order pressed.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_press_while_an_answer_is_under_way_is_not_lost(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    // The server's word comes by the live stream at once; the answer to a press comes a second and a half later.
    browser.slow_answers(1500).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = begun(&shop, &browser, "Buoy 55").await;
    browser.fill("wanted_ml", "1 L").await;
    browser.press("open-pot").await;
    browser.wait_text("Pour base onto").await;
    let planned = async || {
        let view = browser.read(&format!("/api/v1/batches/{book}")).await;
        view["mix"]["pots"][0]["to_reading"]["text"].as_str().expect("a reading").to_string()
    };
    browser.fill("reading_g", &planned().await).await;
    browser.tap("take-reading").await;
    browser.wait("button[name='combine']").await;
    browser.tap("combine").await;
    browser.wait_text("Pour hardener onto").await;
    browser.fill("reading_g", &planned().await).await;
    for _ in 0..2 {
        browser.tap("take-reading").await;
    }
    browser.wait("button[name='stirred']").await;
    browser.tap("stirred").await;
    browser.wait_text("It stands on the rack with its clock").await;
    let view = browser.read(&format!("/api/v1/batches/{book}")).await;
    assert_eq!(view["mix"]["pots"][0]["ratio"]["verdict"], "in", "{}", view["mix"]["pots"][0]["ratio"]);
    let kinds: Vec<String> = sqlx::query_scalar(
        "select kind from entry where book_id = $1::uuid and kind in ('pour', 'combine', 'stirred') order by seq",
    )
    .bind(&book)
    .fetch_all(&shop.state.db)
    .await
    .expect("the log");
    assert_eq!(kinds, ["pour", "combine", "pour", "stirred"]);
    drop(browser);
    shop.close().await;
}

/// The same with a scale that speaks: its word comes by the live stream, before the answer to what was taken.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_weight_taken_while_an_answer_is_under_way_is_not_lost(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.slow_answers(4000).await;
    let (scale, tasks) = with_scale(&shop).await;
    let book = cup_on_scale(&shop, &browser, &scale).await;
    browser.click("input[name='auto']").await;
    let base = to_pour(&browser, &book).await;
    hand(&shop, &scale, &format!("pour {base} 500")).await;
    browser.click("button[name='take-weight']").await;
    browser.wait_text("Pour hardener").await;
    let hardener = to_pour(&browser, &book).await;
    hand(&shop, &scale, &format!("pour {hardener} 300")).await;
    browser.wait_text("Hardener is running in").await;
    browser.tap("take-weight").await;
    browser.wait_text("Take this weight").await;
    browser.press("take-weight").await;
    browser.press("stirred").await;
    browser.wait_text("It stands on the rack with its clock").await;
    let view = browser.read(&format!("/api/v1/batches/{book}")).await;
    assert_eq!(view["mix"]["pots"][0]["ratio"]["verdict"], "in", "{}", view["mix"]["pots"][0]["ratio"]);
    end(tasks).await;
    scale.close().await;
    drop(browser);
    shop.close().await;
}

/// What is chosen anew while an answer is under way is of the next entry, also when it is the same once more.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_tooth_tapped_while_an_answer_is_under_way_stays(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.slow_answers(3000).await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let book = browser.batch("Buoy 7").await;
    let log = async || -> i64 {
        sqlx::query_scalar("select count(*) from entry where book_id = $1::uuid and kind = 'comb'")
            .bind(&book)
            .fetch_one(&shop.state.db)
            .await
            .expect("the log")
    };
    let before = log().await;
    browser.go(&format!("{}/batches/{book}?at=5", shop.address)).await;
    browser.press("spray-film").await;
    browser.click(".comb .tooth[aria-label^='3']").await;
    browser.press("take-comb").await;
    browser.until("the first reading is in the log", async || log().await == before + 1).await;
    browser.click(".comb .tooth[aria-label^='3']").await;
    // After the answer what was chosen is still there, and is taken.
    browser.until("the first was answered", async || browser.answered().await >= 1).await;
    browser.tap("take-comb").await;
    browser.until("the second reading is in the log", async || log().await == before + 2).await;
    drop(browser);
    shop.close().await;
}

/// The figure under the hand is judged while it is typed; the button it is taken with must not move away from under the finger.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_button_stays_while_a_reading_is_judged(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    begun(&shop, &browser, "Buoy 56").await;
    browser.fill("wanted_ml", "1 L").await;
    browser.press("open-pot").await;
    browser.wait("button[name='take-reading']").await;
    let top = async || {
        let script = "return document.querySelector(\"button[name='take-reading']\").getBoundingClientRect().top";
        browser.client.execute(script, vec![]).await.expect("a script").as_f64().expect("a number")
    };
    let before = top().await;
    browser.fill("reading_g", "1136 g").await;
    browser.wait("form.do .level, .do form .level").await;
    assert_eq!(top().await, before, "with the level of the reading");
    browser.fill("reading_g", "no figure").await;
    browser.wait(".Mui-error").await;
    assert_eq!(top().await, before, "with a refusal at the field");
    drop(browser);
    shop.close().await;
}

/// A scale that speaks fills both cups of a catch: which goes on first is asked, the rest is the order they are put on.
#[sqlx::test(migrations = "../server/migrations")]
async fn both_cups_of_a_catch_from_a_scale_that_speaks(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let (scale, tasks) = with_scale(&shop).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = browser.batch("Float 12").await;
    // Tared with an empty cup of the same kind.
    hand(&shop, &scale, "put 20").await;
    hand(&shop, &scale, "tare").await;
    hand(&shop, &scale, "take").await;
    browser.go(&format!("{}/batches/{book}?at=4", shop.address)).await;
    browser.press("scale-b-first").await;
    browser.wait_text("Put the cup of B on.").await;
    hand(&shop, &scale, "put 70").await;
    browser.wait_text("Take it off.").await;
    hand(&shop, &scale, "take").await;
    browser.wait_text("Put the cup of A on.").await;
    hand(&shop, &scale, "put 421").await;
    let typed =
        "return [document.querySelector(\"[name='a_g']\").value, document.querySelector(\"[name='b_g']\").value].join('/')";
    browser
        .until("both cups stand in their fields", async || {
            let both = browser.client.execute(typed, vec![]).await.expect("a script");
            both.as_str().is_some_and(|t| t.replace('\u{a0}', " ") == "401 g/50 g")
        })
        .await;
    browser.press("take-catch").await;
    browser
        .until("it is kept with the scale that spoke", async || {
            let ledger = browser.read(&format!("/api/v1/batches/{book}/ledger")).await;
            ledger["page"]["rows"][0]["under"].as_str().is_some_and(|u| u.contains("Mixing scale"))
        })
        .await;
    end(tasks).await;
    drop(browser);
    shop.close().await;
}
