//! What every journey through Mix begins with: a batch made ready, a pot weighed in by hand.
#![allow(dead_code)] // no journey needs all of it

use level_keel_e2e::Browser;
use level_keel_harness::Shop;

/// A primer begun and made ready, its Mix open.
pub async fn begun(shop: &Shop, browser: &Browser, part: &str) -> String {
    let fields = [("part", part), ("coat", "primer"), ("area_m2", "20 m2"), ("film_um", "4 mil"), ("thinner_pct", "0")];
    browser.begin(&shop.address, "Island", &fields).await;
    browser.wait_text("Containers sound").await;
    made_ready(shop, browser, part).await
}

/// The batch on the page made ready, its Mix open.
pub async fn made_ready(shop: &Shop, browser: &Browser, part: &str) -> String {
    let id = browser.batch(part).await;
    for (field, text) in [("air_c", "21"), ("surface_c", "20"), ("material_c", "20"), ("rh_pct", "55")] {
        browser.fill(field, text).await;
    }
    browser.press("take-conditions").await;
    browser.wait_text("the surface may still fall").await;
    for guard in ["solvent", "pressure_vessel"] {
        browser.click(&format!("input[name='guard-{guard}']")).await;
    }
    browser.press("take-guards").await;
    browser.wait_text("Guards on").await;
    shop.make_ready(&id).await;
    browser.go(&format!("{}/batches/{id}?at=2", shop.address)).await;
    id
}

/// A rig chosen at Set.
pub async fn pick_rig(browser: &Browser, address: &str, book: &str, name: &str) {
    browser.go(&format!("{address}/batches/{book}?at=3")).await;
    browser.press("set-rig").await;
    let rigs = browser.read("/api/v1/rigs").await;
    let rig = rigs.as_array().expect("rigs").iter().find(|r| r["rig"]["name"] == name).expect("the rig")["id"].clone();
    browser.wait("select[name='rig'] option").await;
    browser.fill("rig", rig.as_str().expect("an id")).await;
    browser.press("choose-rig").await;
    browser.wait("button[name='choose-rig'][disabled]").await;
}

/// A rig chosen, its steps unticked, and its first advice on the page.
pub async fn choose(browser: &Browser, address: &str, book: &str, name: &str) {
    pick_rig(browser, address, book, name).await;
    browser.wait("[name='guide-backed_off']:not(:disabled)").await;
    browser.press("set-try").await;
    browser.wait(".advice").await;
}

/// The newest pot weighed in as planned, by typed readings, and stirred. Each step waits for the page to show the one
/// before, so that a reading is never typed for the pour it does not belong to.
pub async fn weigh_in_typed(browser: &Browser, book: &str) {
    for component in ["base", "hardener"] {
        if component == "hardener" {
            browser.press("combine").await;
        }
        browser.wait_text(&format!("Pour {component} onto")).await;
        let view = browser.read(&format!("/api/v1/batches/{book}")).await;
        let reading = view["mix"]["pots"][0]["to_reading"]["text"].as_str().expect("a reading").to_string();
        browser.fill("reading_g", &reading).await;
        browser.press("take-reading").await;
    }
    browser.press("stirred").await;
    browser.wait("button[name='another-pot']").await;
}
