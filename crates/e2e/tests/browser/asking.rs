//! What the Set station answers before anything is tried: the line asked both ways, laps from above; and what the shop keeps
//! of its tips and scales.

use crate::pot::{begun, pick_rig};
use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use level_keel_server::settings::DEMO_RIG;
use sqlx::PgPool;

/// A pressure gives flow and stream, a stream takes a pressure, another nozzle takes more; over the plate is a stop.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_line_answers_both_ways(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Ansa Reef", "1357").await;
    let book = begun(&shop, &browser, "Buoy 66").await;
    browser.go(&format!("{base}/batches/{book}?at=3")).await;
    browser.press("set-ask").await;
    // Before a rig is taken it is of the one the station opened on.
    browser.wait_text("Reckoned: flow against pressure").await;
    pick_rig(&browser, &base, &book, DEMO_RIG).await;
    browser.wait("[name='guide-backed_off']:not(:disabled)").await;
    browser.press("set-ask").await;
    // One figure given: the two others stand under their fields, the stream on its level.
    browser.fill("pot_kpa", "10 psi").await;
    browser.wait("[role='meter'][aria-label='Stream']").await;
    let followed = async |field: &str| {
        let script = "const f = document.querySelector(`[name='${arguments[0]}']`); const w = f && f.closest('.MuiFormControl-root'); return w ? w.innerText : ''";
        let text = browser.client.execute(script, vec![field.into()]).await.expect("a script");
        text.as_str().unwrap_or_default().replace('\u{a0}', " ")
    };
    browser.wait_text("Leaves the nozzle at").await;
    assert!(followed("flow_ml_min").await.contains("= ") && followed("stream_mm").await.contains("= "));
    // Given a stream the pressure follows, and what was given before is gone.
    browser.fill("stream_mm", "9 in").await;
    browser.wait("[name='pot_kpa'][value='']").await;
    browser.wait_text("9.0 in in").await;
    let psi = |text: String| -> f64 {
        let figure = text.split("= ").nth(1).unwrap_or_default();
        figure.split(' ').next().unwrap_or_default().parse().unwrap_or_else(|e| panic!("{text}: {e}"))
    };
    // The same flow through a smaller nozzle takes more.
    browser.fill("flow_ml_min", "350 mL/min").await;
    browser.wait("[name='stream_mm'][value='']").await;
    browser.wait("[name='flow_ml_min'][value='350 mL/min']").await;
    browser.wait_text("350 mL/min, stream").await;
    let wide = psi(followed("pot_kpa").await);
    browser.fill("nozzle_mm", "1.2 mm").await;
    browser.wait_text("Through another hose").await;
    let mut narrow = wide;
    for _ in 0..400 {
        narrow = psi(followed("pot_kpa").await);
        if narrow > wide {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    assert!(narrow > wide, "{narrow} psi through 1.2 mm, {wide} through 1.8");
    browser.fill("nozzle_mm", "0").await;
    browser.wait_text("Nozzle 0.0 mm is outside").await;
    browser.fill("nozzle_mm", "").await;
    browser.fill("pot_kpa", "90 psi").await;
    browser.wait_text("Never over it").await;
    // Nothing of it is in the book.
    let view = browser.read(&format!("/api/v1/batches/{book}")).await;
    assert_eq!(view["set"]["set_ups"].as_array().map(Vec::len), Some(0));
    // The laps from above, one coat beside a cross coat.
    browser.press("set-speed").await;
    browser.fill("profile", "flat").await;
    browser.fill("flow_ml_min", "350 mL/min").await;
    browser.wait_text("With a cross coat").await;
    browser.wait(".from-above svg[aria-label^='With a cross coat']").await;
    drop(browser);
    shop.close().await;
}

/// The tip of the demo's machine is over its first flow; another catch is refused over the plate and taken under it. A scale
/// is kept with its step.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_worn_tip_and_a_finer_scale(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    browser.go(&format!("{base}/rigs")).await;
    browser.press("rig-Flume gel-coat machine").await;
    browser.press("rig-tip").await;
    browser.wait_text("wearing: have another ready").await;
    for (pot, caught) in [("130 psi", "300 mL"), ("40 psi", "318 mL")] {
        for (field, text) in [("pot_kpa", pot), ("caught_ml", caught), ("caught_watch_s", "15 s")] {
            browser.fill(field, text).await;
        }
        browser.press("take-tip-flow").await;
        if pot == "130 psi" {
            browser.wait_text("Never over it").await;
        }
    }
    browser.wait_text("now 1272 mL/min").await;
    browser.gone("[name='pot_kpa']:not([value=''])").await;
    browser.press("rig-book").await;
    browser.wait_text("The tip let through 1272 mL/min at 40 psi").await;
    browser.press("rigs-scales").await;
    browser.fill("name", "Gold scale").await;
    browser.fill("resolution_g", "furlong").await;
    browser.press("keep-scale").await;
    browser.wait(".Mui-error").await;
    browser.fill("resolution_g", "10 mg").await;
    browser.press("keep-scale").await;
    browser.wait("[name='scale-Gold scale']").await;
    browser.wait_text("0.01 g").await;
    drop(browser);
    shop.close().await;
}
