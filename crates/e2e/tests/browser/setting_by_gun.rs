//! Set by the gun in hand, in the browser: the gun's own cup, twin pots, a brush; a good set-up taken over.

use crate::setting::set;
use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use sqlx::PgPool;

/// A gun with its own cup has no pot and no stream to read: Set asks its knobs, its air and its pattern, and says when the air is void.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_gun_cup_is_set_by_knobs_air_and_pattern(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let fields =
        [("part", "Harbour sign 9"), ("coat", "finish"), ("area_m2", "1.6 m2"), ("film_um", "4 mil"), ("method", "gun_cup")];
    browser.begin(&shop.address, "Sign finish", &fields).await;
    browser.wait(".batch-head").await;
    let book = browser.batch("Harbour sign 9").await;
    browser.go(&format!("{}/batches/{book}?at=3", shop.address)).await;
    browser.wait_text("Fan open, the needle").await;
    let asked = "return ['pot_kpa', 'stream_mm', 'fan_turns_count', 'needle_turns_count', 'atomizing_kpa'].map(n => !!document.querySelector(`[name='${n}']`))";
    assert_eq!(
        browser.client.execute(asked, vec![]).await.expect("a script"),
        serde_json::json!([false, false, true, true, true])
    );
    browser.wait_text("type the air, a knob or the pattern").await;
    browser.fill("fan_turns_count", "3").await;
    browser.fill("needle_turns_count", "2.5").await;
    browser.fill("atomizing_kpa", "25 psi").await;
    browser.press("pattern-heavy_middle").await;
    browser.press("take-try").await;
    browser.wait_text("fan 3, needle 2.5").await;
    browser.wait_text("Heavy in its middle").await;
    // The fan is closed by a turn: the air read before it stands no longer.
    browser.fill("fan_turns_count", "2").await;
    browser.press("take-try").await;
    browser.wait_text("The fan was moved since the air was read: 25").await;
    browser.fill("atomizing_kpa", "26 psi").await;
    browser.press("pattern-even").await;
    browser.press("take-try").await;
    browser
        .until("the air is read again", async || {
            let notes = set(&browser, &book).await["notes"].to_string();
            !notes.contains("The fan was moved")
        })
        .await;
    let tries = set(&browser, &book).await["set_ups"].clone();
    assert_eq!(
        (&tries[2]["pot"], &tries[2]["atomizing"]["figure"], &tries[2]["pattern_is"]),
        (&serde_json::Value::Null, &"26".into(), &"even".into()),
        "{tries}"
    );
    drop(browser);
    shop.close().await;
}

/// Without a viscosity on the sheet the tries advise; what was good last time stands beside today before the rig is even taken, and one
/// tap begins the try with it.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_last_good_set_up_is_taken_over_with_one_tap(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = browser.batch("Buoy 8").await;
    browser.go(&format!("{}/batches/{book}?at=3", shop.address)).await;
    browser.wait_text("Today beside the last good set-ups").await;
    assert!(set(&browser, &book).await["rig"].is_string() && set(&browser, &book).await["rig_proposed"].is_string());
    browser.press("take-over").await;
    let typed = "return ['pot_kpa', 'atomizing_kpa', 'stream_mm'].map(n => document.querySelector(`[name='${n}']`).value)";
    let typed = browser.client.execute(typed, vec![]).await.expect("a script");
    assert_eq!(typed.to_string().replace('\u{a0}', " "), r#"["10 psi","45 psi",""]"#, "what was seen is seen again");
    browser.fill("stream_mm", "10 in").await;
    browser.press("take-try").await;
    browser
        .until("the try is taken", async || {
            set(&browser, &book).await["set_ups"].as_array().is_some_and(|tries| tries.len() == 1)
        })
        .await;
    drop(browser);
    shop.close().await;
}

/// Of two streams the one that is next is asked for, with its own pressure and valve; then both with the air.
#[sqlx::test(migrations = "../server/migrations")]
async fn twin_pots_are_asked_stream_by_stream(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = browser.batch("Float 12").await;
    browser.go(&format!("{}/batches/{book}?at=3", shop.address)).await;
    browser.wait_text("A alone, B shut; then B alone; then both.").await;
    let fields = async || {
        let names = "return [...document.querySelectorAll('.do .fields:first-of-type input, .do .fields:first-of-type select')].map(e => e.name).join(' ')";
        browser.client.execute(names, vec![]).await.expect("a script").as_str().unwrap_or_default().to_string()
    };
    assert_eq!(fields().await, "flowed pot_kpa a_valve_turns_count stream_mm");
    browser.fill("pot_kpa", "12 psi").await;
    browser.fill("stream_mm", "7 in").await;
    browser.press("take-try").await;
    browser.wait_text("A stands. Now B alone, the valve of A shut.").await;
    assert_eq!(fields().await, "flowed b_kpa b_valve_turns_count stream_mm");
    browser.fill("b_kpa", "6 psi").await;
    browser.fill("stream_mm", "7 in").await;
    browser.press("take-try").await;
    browser.wait_text("Each stands alone. Now both together").await;
    assert_eq!(fields().await, "flowed pot_kpa b_kpa atomizing_kpa");
    browser.fill("pot_kpa", "12 psi").await;
    browser.fill("b_kpa", "6 psi").await;
    browser.fill("atomizing_kpa", "40 psi").await;
    browser.press("take-try").await;
    // The words stand in the choice too: the third try itself is waited for.
    browser
        .until("three tries", async || set(&browser, &book).await["set_ups"].as_array().is_some_and(|tries| tries.len() == 3))
        .await;
    let tries = set(&browser, &book).await["set_ups"].clone();
    assert_eq!(
        [&tries[0]["flowed"], &tries[1]["flowed"], &tries[2]["flowed"]],
        [&serde_json::json!("A alone"), &"B alone".into(), &"both together".into()],
        "{tries}"
    );
    drop(browser);
    shop.close().await;
}

/// By brush nothing is set: the station says so with a picture, the waterline calls the work Coat, and nobody is warned of a pot
/// under pressure.
#[sqlx::test(migrations = "../server/migrations")]
async fn by_brush_nothing_is_set(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = browser.batch("Slip ladder 2").await;
    browser.go(&format!("{}/batches/{book}?at=3", shop.address)).await;
    browser.wait_text("By brush nothing is set").await;
    browser.wait(".see svg[aria-label^='The brush laid on slowly']").await;
    let said =
        browser.client.execute("return document.querySelector('.batch').innerText", vec![]).await.expect("a script").to_string();
    for never in ["Spray", "Pot under pressure", "Choose the rig", "trigger"] {
        assert!(!said.contains(never), "{never}: {said}");
    }
    browser.press("to-station").await;
    browser.wait_text("Stamp a pass").await;
    drop(browser);
    shop.close().await;
}
