//! Set through the page: a rig kept, chosen, a stream in two tries, a catch, the ladder, the last good set-up.

use crate::pot::begun;
use level_keel_core::delivery::{BEND_MM, Fluid, FluidLine};
use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use serde_json::Value;
use sqlx::PgPool;

const PSI: f64 = 6.894_757_293_168_361;

async fn set(browser: &Browser, book: &str) -> Value {
    browser.read(&format!("/api/v1/batches/{book}")).await["set"].clone()
}

async fn choose(browser: &Browser, address: &str, book: &str, name: &str) {
    browser.go(&format!("{address}/batches/{book}?at=3")).await;
    browser.press("set-rig").await;
    let rigs = browser.read("/api/v1/rigs").await;
    let rig = rigs.as_array().expect("rigs").iter().find(|r| r["rig"]["name"] == name).expect("the rig")["id"].clone();
    browser.wait("select[name='rig'] option").await;
    browser.fill("rig", rig.as_str().expect("an id")).await;
    browser.press("choose-rig").await;
    browser.wait(".advice").await;
}

/// A new rig through its dialog; the stream of a paint half as thick again as the sheet says, in two tries; the plate is
/// a stop; a catch brings the model to what is seen.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_stream_in_two_tries_with_a_rig_of_ones_own(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    browser.go(&format!("{base}/rigs")).await;
    browser.press("new-rig").await;
    for (field, text) in [
        ("name", "Second pot"),
        ("rating_kpa", "80 psi"),
        ("relief_kpa", "110 psi"),
        ("hose_bore_mm", "3/8 in"),
        ("hose_length_mm", "25 ft"),
        ("lift_mm", "50 cm"),
        ("gun", "Gun two"),
        ("nozzle_mm", "1.8 mm"),
    ] {
        browser.fill(field, text).await;
    }
    browser.press("save-rig").await;
    browser.wait_text("The relief opens over the rating").await;
    browser.fill("relief_kpa", "80 psi").await;
    browser.press("save-rig").await;
    browser.wait_text("needs a shut-off in its air line").await;
    browser.click("input[name='shut_off']").await;
    browser.press("save-rig").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("vented at its relief ring").await;
    browser.press("inspected").await;
    browser.wait_text("Inspected, sound").await;

    let book = begun(&shop, &browser, "Buoy 61").await;
    choose(&browser, &base, &book, "Second pot").await;
    browser.wait_text("Start at").await;
    browser.fill("pot_kpa", "90 psi").await;
    browser.wait_text("Never over it").await;
    // What the paint really does: the line of this rig, the paint half as thick again as the model takes it.
    let line = FluidLine { hose_bore_mm: 9.525, hose_length_mm: 7620.0, lift_mm: 500.0, nozzle_mm: 1.8 };
    let view = set(&browser, &book).await;
    let reckoned = view["modelled"]["viscosity"]["figure"].as_str().expect("a figure").parse::<f64>().expect("a number");
    let really = Fluid { viscosity_mpa_s: reckoned * 1.5, density_kg_l: 1.33, flow_index: 1.0 };
    let sees = |psi: f64| line.at(&really, psi * PSI).stream_mm(BEND_MM) / 25.4;
    browser.fill("pot_kpa", "10 psi").await;
    browser.fill("stream_mm", &format!("{:.1} in", sees(10.0))).await;
    browser.press("take-try").await;
    browser.wait_text("Slowly.").await;
    let to = set(&browser, &book).await["advice"]["to"]["figure"].as_str().expect("a pressure").parse::<f64>().expect("a number");
    browser.fill("pot_kpa", &format!("{to} psi")).await;
    browser.fill("stream_mm", &format!("{:.1} in", sees(to))).await;
    browser.press("take-try").await;
    browser.gone(".advice").await;
    let last = set(&browser, &book).await["tries"][1].clone();
    assert_eq!(last["word"], "in", "{last}");
    // A minute's catch: now the model knows this paint.
    browser.press("set-catch").await;
    browser.fill("pot_kpa", &format!("{to} psi")).await;
    browser.fill("caught_watch_s", "60 s").await;
    browser.fill("caught_ml", "90 L").await;
    browser.wait_text("were it water").await;
    browser.fill("caught_ml", &format!("{:.0} mL", line.at(&really, to * PSI).flow_ml_min)).await;
    browser.press("take-catch").await;
    // The book says so: the page alone says it while typing.
    browser.wait_text("in 60.0 s at").await;
    let view = set(&browser, &book).await;
    let known = view["modelled"]["viscosity"]["figure"].as_str().expect("a figure").parse::<f64>().expect("a number");
    assert!((known / really.viscosity_mpa_s - 1.0).abs() < 0.15, "{known} for {}", really.viscosity_mpa_s);
    // Gun speed for this flow: leave it empty and it is solved; a flat fan shows what half an overlap does to it.
    browser.press("set-speed").await;
    browser.wait_text("Trigger pulled for the part").await;
    browser.fill("profile", "flat").await;
    browser.wait_text("62.5 %").await;
    drop(browser);
    shop.close().await;
}

/// Up the ladder by pictures of the pattern, to the lowest full one.
#[sqlx::test(migrations = "../server/migrations")]
async fn up_the_ladder_to_the_lowest_full_pattern(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    let fields = [("part", "Flume 41"), ("coat", "gel coat"), ("area_m2", "9 m2"), ("film_um", "20 mil")];
    browser.begin(&base, "Flume", &fields).await;
    browser.wait_text("Containers sound").await;
    let book = browser.batch("Flume 41").await;
    choose(&browser, &base, &book, "Flume gel-coat machine").await;
    browser.wait_text("Catalyst air first").await;
    for (psi, pattern, then) in [
        ("20", "round_fingers", "30.0 psi at the pump"),
        ("30", "oval_fingers", "35.0 psi at the pump"),
        ("35", "lopsided", "turn the cap half round"),
        ("35", "even", "35.0 psi is the lowest full pattern"),
    ] {
        browser.fill("pot_kpa", &format!("{psi} psi")).await;
        browser.fill("catalyst_kpa", "22 psi").await;
        browser.press(&format!("pattern-{pattern}")).await;
        browser.press("take-try").await;
        browser.wait_text(then).await;
    }
    let view = browser.read(&format!("/api/v1/batches/{book}")).await;
    assert!(view["stations"][2]["line"].as_str().expect("a line").ends_with("even"), "{}", view["stations"][2]);
    // The tip's own book: another one is fitted, a code that is none is refused.
    browser.go(&format!("{base}/rigs")).await;
    browser.press("rig-Flume gel-coat machine").await;
    browser.wait("[name='fitted_tip']").await;
    browser.fill("fitted_tip", "52").await;
    browser.press("fitted").await;
    browser.wait_text("A code has three digits").await;
    browser.fill("fitted_tip", "517").await;
    browser.press("fitted").await;
    browser.wait_text("Fitted tip 517").await;
    drop(browser);
    shop.close().await;
}
