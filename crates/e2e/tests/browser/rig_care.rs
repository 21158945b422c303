//! The rig itself: shut down, its pieces and codes, what is strange about its pressure.

use crate::pot::{begun, choose};
use crate::setting::{PSI, gauges, set, steps};
use level_keel_core::care::ZERO_KPA;
use level_keel_core::delivery::{Fluid, FluidLine};
use level_keel_devices::modbus;
use level_keel_devices::plant::Plant;
use level_keel_devices::weather::Weather;
use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use level_keel_server::settings::DEMO_RIG;
use sqlx::PgPool;

/// Opening under pressure is a stop, by the book and by the transmitter, whose pot is moved by core's own line physics.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_rig_is_shut_down_and_never_opened_under_pressure(db: PgPool) {
    let shop = Shop::open(db).await;
    let served = modbus::serve("127.0.0.1:0", Weather::new(17), 15.0, 0.0).await.expect("a transmitter");
    let tasks = gauges(&shop, &served.address.to_string());
    let plant = served.plant();
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Ansa Reef", "1357").await;
    let book = begun(&shop, &browser, "Buoy 63").await;
    plant.hand("set 10 psi").expect("a regulator");
    plant.hand("trigger").expect("a trigger");
    choose(&browser, &base, &book, DEMO_RIG).await;
    // The live figure beside the typed one, and taken into it.
    browser.wait("[data-gauge='pot']").await;
    browser.wait_text("Take 10.0 psi").await;
    browser.press("take-gauge").await;
    browser.fill("stream_mm", "9 in").await;
    browser.press("take-try").await;
    browser.wait_text("The stream is right").await;
    let last = set(&browser, &book).await["set_ups"][0].clone();
    let read: f64 = last["gauge"]["figure"].as_str().expect("what the transmitter read").parse().expect("a number");
    assert!((read - 10.0).abs() < 0.3, "{last}");
    // The line leaves of it what core says at this very pressure.
    let line = FluidLine { hose_bore_mm: 9.525, hose_length_mm: 7620.0, lift_mm: 500.0, nozzle_mm: 1.8 };
    let paint = Fluid { viscosity_mpa_s: 130.0, density_kg_l: 1.33, flow_index: 1.0 };
    let gun: f64 = browser
        .wait("[data-gauge='gun']")
        .await
        .text()
        .await
        .expect("a text")
        .trim_end_matches("\u{a0}psi")
        .trim_end_matches(" psi")
        .parse()
        .expect("a figure");
    let wants = line.at(&paint, 10.0 * PSI).nozzle_kpa / PSI;
    assert!((gun - wants).abs() < 0.15, "{gun} read, {wants} by core");
    // One who types another figure than the transmitter reads is told.
    browser.fill("pot_kpa", "16 psi").await;
    browser.fill("stream_mm", "9 in").await;
    browser.press("take-try").await;
    browser.wait_text("one of the two is wrong").await;

    browser.go(&format!("{base}/batches/{book}?at=6")).await;
    vented_by_the_book(&browser, &shop, &plant).await;
    // What it is flushed with, by either school: a quart, or three times what 25 ft of 3/8 in hold.
    browser.wait_text("946 mL").await;
    browser.wait_text("1.63 L").await;
    steps(&browser, &["flush"]).await;
    browser.wait_text("Under pressure").await;
    browser.press("to-step-hose_off").await;
    browser.press("step-hose_off").await;
    browser.wait_text("no gauge was read at zero since").await;
    browser.press("to-step-zero_again").await;
    steps(&browser, &["zero_again", "hose_off"]).await;
    browser.wait_text("Shut down, flushed and relieved").await;
    // The rig's own book says all of it, and its daily list is ticked there.
    browser.go(&format!("{base}/rigs")).await;
    browser.press(&format!("rig-{DEMO_RIG}")).await;
    browser.wait_text("Open the lid").await;
    browser.press("rig-care").await;
    browser.press("care-traps").await;
    browser.press("rig-book").await;
    browser.wait_text("Water traps at supply and gun drained").await;
    // The transmitter gone: the page says so and shows no old figure.
    browser.press("rig-shut").await;
    browser.wait("[data-gauge='pot']").await;
    for task in tasks {
        task.abort();
    }
    served.stop().await;
    browser.wait_text("The transmitters do not answer").await;
    drop(browser);
    shop.close().await;
}

/// Today beside the last good set-ups on levels; more than last time, with its causes; steps of one coat; the fan.
#[sqlx::test(migrations = "../server/migrations")]
async fn more_than_last_time_is_a_sign(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Ansa Reef", "1357").await;
    let book = begun(&shop, &browser, "Buoy 64").await;
    choose(&browser, &base, &book, DEMO_RIG).await;
    browser.wait_text("Today beside the last good set-ups").await;
    for (field, text) in [("pot_kpa", "14 psi"), ("stream_mm", "10 in")] {
        browser.fill(field, text).await;
    }
    browser.press("take-try").await;
    browser.wait_text("more than last time").await;
    browser.wait_text("Look, in this order").await;
    browser.wait_text("more than then").await;
    let levels = set(&browser, &book).await["presets"][0]["levels"].clone();
    assert_eq!((levels[0]["label"].as_str(), levels[0]["verdict"].as_str()), (Some("Fluid"), Some("high")), "{levels}");
    // The fan, then the air; the steps of one coat keep the fluid and change the air.
    browser.press("more-try").await;
    for (step, pot, air, pattern, then) in [
        ("tack", "14 psi", "45 psi", "heavy_middle", "Heavy in its middle"),
        ("wet", "10 psi", "40 psi", "even", "keep the fluid as in the first step"),
        ("wet", "14 psi", "40 psi", "lopsided", "turn the cap half round"),
    ] {
        browser.fill("pot_kpa", pot).await;
        browser.fill("atomizing_kpa", air).await;
        browser.fill("step", step).await;
        browser.press(&format!("pattern-{pattern}")).await;
        browser.press("take-try").await;
        browser.wait_text(then).await;
    }
    let view = set(&browser, &book).await;
    assert_eq!(view["steps"].as_array().map(Vec::len), Some(2), "{}", view["steps"]);
    assert_eq!(view["steps"][1]["other_fluid"], false);
    // A texture looked at too early is looked at again; a cup says how thick the paint is, and is no try.
    browser.fill("pot_kpa", "14 psi").await;
    browser.fill("texture_grit_count", "60").await;
    browser.fill("looked_after_s", "2 min").await;
    browser.wait_text("Look again in ten minutes").await;
    let tries = view["set_ups"].as_array().map(Vec::len);
    browser.press("set-catch").await;
    browser.fill("run_cup_s", "5 s").await;
    browser.wait(".Mui-error").await;
    browser.fill("run_cup_s", "30 s").await;
    browser.press("take-cup").await;
    browser.wait_text("Ford 4 ran").await;
    let view = set(&browser, &book).await;
    assert_eq!(view["set_ups"].as_array().map(Vec::len), tries);
    assert!(view["modelled"]["viscosity_of"].as_str().expect("a text").contains("by the cup"));
    drop(browser);
    shop.close().await;
}

/// A piece is kept once and fitted to any rig; changed, it changes its rigs; tips of another rule are rows of a table.
#[sqlx::test(migrations = "../server/migrations")]
async fn pieces_on_the_shelf_and_codes_in_the_table(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    browser.go(&format!("{base}/rigs")).await;
    browser.press("rigs-pieces").await;
    browser.press("new-piece").await;
    browser.fill("name", "Long hose").await;
    browser.fill("hose_bore_mm", "3/8 in").await;
    for (length, why) in [("0 ft", "is outside"), ("5 km", "is outside"), ("50 ft", "")] {
        browser.fill("hose_length_mm", length).await;
        browser.press("save-piece").await;
        if why.is_empty() { browser.gone("[role='dialog']").await } else { browser.wait_text(why).await }
    }
    // On the bench pot instead of its own: the line shows it.
    browser.press("rigs-rigs").await;
    browser.press(&format!("rig-{DEMO_RIG}")).await;
    browser.press("edit-rig").await;
    let pieces = browser.read("/api/v1/pieces").await;
    let hose = pieces.as_array().expect("pieces").iter().find(|p| p["piece"]["name"] == "Long hose").expect("it")["id"].clone();
    browser.wait("select[name='piece-fluid_hose']").await;
    browser.fill("piece-fluid_hose", hose.as_str().expect("an id")).await;
    browser.press("save-rig").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("50 ft").await;
    // Cut shorter: the rig with it.
    browser.press("rigs-pieces").await;
    browser.press("piece-Long hose").await;
    browser.wait_text("Fitted to").await;
    browser.fill("hose_length_mm", "40 ft").await;
    browser.press("save-piece").await;
    browser.gone("[role='dialog']").await;
    browser.press("rigs-rigs").await;
    browser.press(&format!("rig-{DEMO_RIG}")).await;
    browser.wait_text("40 ft").await;
    // Codes: the common rule, one that is none, one of the shop's own.
    browser.press("rigs-tips").await;
    browser.wait_text("11.2 in by geometry").await;
    browser.fill("decode", "52").await;
    browser.wait_text("A code has three digits").await;
    browser.fill("decode", "q7").await;
    browser.wait_text("A code has three digits").await;
    for (field, text) in [("code", "Q7"), ("angle_deg", "60"), ("hole_mm", "0.5 mm")] {
        browser.fill(field, text).await;
    }
    browser.press("keep-tip").await;
    browser.wait("[name='drop-Q7']").await;
    browser.fill("decode", "q7").await;
    browser.wait_text("by the shop’s table").await;
    drop(browser);
    shop.close().await;
}

/// The lid first is refused; then air off, vent, zero on the gauge, and only then the lid.
async fn vented_by_the_book(browser: &Browser, shop: &Shop, plant: &Plant) {
    browser.press("close-shut").await;
    browser.wait_text("Under pressure").await;
    // The lid first: a stop.
    browser.press("to-step-lid").await;
    browser.press("step-lid").await;
    browser.wait_text("Never open it under pressure").await;
    plant.hand("set 0 psi").expect("backed off");
    browser.press("to-step-air_off").await;
    steps(browser, &["air_off", "supply_off", "vent"]).await;
    // The regulator is backed off and nothing is vented: it has not fallen, whatever is ticked or typed.
    browser.fill("gauge_kpa", "0 psi").await;
    browser.press("step-zero").await;
    browser.wait_text("is not zero").await;
    browser.fill("gauge_kpa", "-20 bar").await;
    browser.press("step-zero").await;
    browser.wait_text("is outside").await;
    plant.hand("vent").expect("a vent");
    browser.wait_text("0 psi").await;
    browser
        .until("the gauge never fell", async || {
            shop.state.gauges(DEMO_RIG, shop.clock.now()).pot_kpa.is_some_and(|kpa| kpa < ZERO_KPA / 2.0)
        })
        .await;
    steps(browser, &["zero"]).await;
    browser.wait_text("Not under pressure").await;
    steps(browser, &["pail", "lid", "liner"]).await;
}
