//! Set through the page: a rig kept, chosen, a stream in two tries, a catch, the ladder, the last good set-up.

use crate::pot::{begun, choose, pick_rig};
use level_keel_core::care::ZERO_KPA;
use level_keel_core::conditions::probe::ProbeOf;
use level_keel_core::delivery::{BEND_MM, Fluid, FluidLine};
use level_keel_devices::{modbus, weather::Weather};
use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use level_keel_server::conditions::listen;
use level_keel_server::settings::{DEMO_RIG, ProbeAt, RegisterTable, RegisterType, Transmitter};
use serde_json::Value;
use sqlx::PgPool;

const PSI: f64 = 6.894_757_293_168_361;

async fn set(browser: &Browser, book: &str) -> Value {
    browser.read(&format!("/api/v1/batches/{book}")).await["set"].clone()
}

/// The steps of a shut-down up to and with one; a step of zero with what the gauge reads.
async fn steps(browser: &Browser, ids: &[&str]) {
    for id in ids {
        browser.wait(&format!("[name='step-{id}']")).await;
        if id.starts_with("zero") {
            browser.fill("gauge_kpa", "0 psi").await;
        }
        browser.press(&format!("step-{id}")).await;
        browser.gone(&format!("[name='step-{id}']")).await;
    }
}

/// The demo's pot with a transmitter in the pot and one at the gun.
fn gauges(shop: &Shop, address: &str) -> Vec<tokio::task::JoinHandle<()>> {
    let gauge = |name: &str, of, register| ProbeAt {
        name: name.into(),
        of,
        rig: Some(DEMO_RIG.into()),
        table: RegisterTable::Input,
        register,
        holds: RegisterType::I16,
        scale: 0.1,
        offset: 0.0,
    };
    let probes = vec![gauge("pot gauge", ProbeOf::Pot, 6), gauge("gun gauge", ProbeOf::Gun, 7)];
    let transmitter = Transmitter { name: "rig".into(), address: address.into(), unit: 1, poll_s: 0.05, probes };
    listen(&[transmitter], &shop.state.probes, &shop.state.db, &shop.state.clock)
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
    // Up to the stream, step by step; each stands in the book.
    browser.press("set-rig").await;
    for step in ["backed_off", "gauge", "hose_laid", "up_slowly", "prime", "vent_back", "full_trigger"] {
        browser.press(&format!("guide-{step}")).await;
        browser.wait(&format!("[name='guide-{step}']:disabled")).await;
    }
    assert!(set(&browser, &book).await["guide"].as_array().expect("steps").iter().all(|g| g["done_at"].is_string()));
    browser.press("set-try").await;
    browser.wait_text("Start at").await;
    browser.fill("pot_kpa", "90 psi").await;
    browser.wait_text("Never over it").await;
    // What the paint really does: the line of this rig, the paint half as thick again as the model takes it.
    let line = FluidLine { hose_bore_mm: 9.525, hose_length_mm: 7620.0, lift_mm: 500.0, nozzle_mm: 1.8 };
    let view = set(&browser, &book).await;
    let reckoned = view["modelled"]["viscosity"]["figure"].as_str().expect("a figure").parse::<f64>().expect("a number");
    let really = Fluid { viscosity_mpa_s: reckoned * 1.5, density_kg_l: 1.33, flow_index: 1.0 };
    let sees = |psi: f64| line.at(&really, psi * PSI).stream_mm(BEND_MM) / 25.4;
    let top = async || {
        let script = "return document.querySelector(\"button[name='take-try']\").getBoundingClientRect().top";
        browser.client.execute(script, vec![]).await.expect("a script").as_f64().expect("a number")
    };
    browser.fill("pot_kpa", "10 psi").await;
    browser.wait_text("Pot pressure = 10.0 psi").await;
    let before = top().await;
    browser.fill("stream_mm", &format!("{:.1} in", sees(10.0))).await;
    browser.wait_text("in short: a little more pot pressure").await;
    assert_eq!(top().await, before, "the button stays under the finger while the stream is judged");
    browser.press("take-try").await;
    browser.wait_text("Slowly.").await;
    let to = set(&browser, &book).await["advice"]["to"]["figure"].as_str().expect("a pressure").parse::<f64>().expect("a number");
    browser.fill("pot_kpa", &format!("{to} psi")).await;
    browser.fill("stream_mm", &format!("{:.1} in", sees(to))).await;
    browser.press("take-try").await;
    browser.wait_text("The stream is right").await;
    let last = set(&browser, &book).await["set_ups"][1].clone();
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
    // The eye of this person and this gun, now that the speed is known: about the inch it was reckoned with.
    assert!(view["notes"].to_string().contains("call it bent at"), "{}", view["notes"]);
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
        // The last small fingers ask for refinement air, not for more pressure.
        ("30", "oval_fingers", "half a turn of refinement air"),
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
    // Refinement air last, just felt: then nothing is left to advise.
    browser.fill("pot_kpa", "35 psi").await;
    browser.fill("catalyst_kpa", "30 psi").await;
    browser.wait_text("for long hoses only").await;
    browser.fill("catalyst_kpa", "80 psi").await;
    browser.wait_text("catalyst regulator's plate").await;
    browser.fill("catalyst_kpa", "22 psi").await;
    browser.fill("refine_turns_count", "0.25").await;
    browser.press("pattern-even").await;
    browser.press("take-try").await;
    browser.gone(".advice").await;
    // The tip's own book: not under pressure; then another one is fitted, a code that is none is refused.
    browser.go(&format!("{base}/rigs")).await;
    browser.press("rig-Flume gel-coat machine").await;
    browser.wait("[name='fitted_tip']").await;
    browser.fill("fitted_tip", "517").await;
    browser.press("fitted").await;
    browser.wait_text("Never open it under pressure").await;
    browser.press("rig-shut").await;
    steps(&browser, &["catalyst_off", "power_off", "pail", "drain", "zero"]).await;
    browser.wait_text("Not under pressure").await;
    browser.press("rig-book").await;
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

/// On twin pots a try says both pressures; the one of B has its own pot's plate.
#[sqlx::test(migrations = "../server/migrations")]
async fn twin_pots_say_both_pressures(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    let fields = [("part", "Collar 14"), ("coat", "bond"), ("area_m2", "2 m2"), ("film_um", "3 mil")];
    browser.begin(&base, "Collar", &fields).await;
    browser.wait(".station-tab").await;
    let book = browser.batch("Collar 14").await;
    pick_rig(&browser, &base, &book, "Collar twin pots").await;
    browser.press("set-try").await;
    browser.fill("pot_kpa", "12 psi").await;
    browser.fill("b_kpa", "90 psi").await;
    browser.wait_text("either of these pots bears").await;
    browser.fill("b_kpa", "8 psi").await;
    browser.fill("stream_mm", "9 in").await;
    browser.press("take-try").await;
    browser.wait_text("Pot B").await;
    let tries = set(&browser, &book).await["set_ups"].clone();
    assert_eq!((&tries[0]["pot"]["figure"], &tries[0]["b"]["figure"]), (&"12.0".into(), &"8.0".into()), "{tries}");
    drop(browser);
    shop.close().await;
}

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
    browser.press("close-shut").await;
    browser.wait_text("Under pressure").await;
    // The lid first: a stop.
    browser.press("to-step-lid").await;
    browser.press("step-lid").await;
    browser.wait_text("Never open it under pressure").await;
    plant.hand("set 0 psi").expect("backed off");
    browser.press("to-step-air_off").await;
    steps(&browser, &["air_off", "supply_off", "vent"]).await;
    // The regulator is backed off and nothing is vented: it has not fallen, whatever is ticked or typed.
    browser.fill("gauge_kpa", "0 psi").await;
    browser.press("step-zero").await;
    browser.wait_text("is not zero").await;
    browser.fill("gauge_kpa", "-20 bar").await;
    browser.press("step-zero").await;
    browser.wait_text("is outside").await;
    plant.hand("vent").expect("a vent");
    browser.wait_text("0.0 psi").await;
    browser
        .until("the gauge never fell", async || {
            shop.state.gauges(DEMO_RIG, shop.clock.now()).pot_kpa.is_some_and(|kpa| kpa < ZERO_KPA / 2.0)
        })
        .await;
    steps(&browser, &["zero"]).await;
    browser.wait_text("Not under pressure").await;
    steps(&browser, &["pail", "lid", "liner"]).await;
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
    browser.wait_text("50.0 ft").await;
    // Cut shorter: the rig with it.
    browser.press("rigs-pieces").await;
    browser.press("piece-Long hose").await;
    browser.wait_text("Fitted to").await;
    browser.fill("hose_length_mm", "40 ft").await;
    browser.press("save-piece").await;
    browser.gone("[role='dialog']").await;
    browser.press("rigs-rigs").await;
    browser.press(&format!("rig-{DEMO_RIG}")).await;
    browser.wait_text("40.0 ft").await;
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

/// What is typed while an answer is under way is not emptied by it: the gauge read at once after the step before.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_gauge_typed_while_an_answer_is_under_way_stays(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.slow_answers(1500).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.go(&format!("{}/rigs", shop.address)).await;
    browser.press("rig-Flume gel-coat machine").await;
    browser.press("rig-shut").await;
    steps(&browser, &["catalyst_off", "power_off", "pail"]).await;
    browser.wait("button[name='step-drain']").await;
    browser.tap("step-drain").await;
    // The live stream shows the next step before the answer to this one is here.
    browser.wait("[name='gauge_kpa']").await;
    browser.fill("gauge_kpa", "0 psi").await;
    browser.until("every step was answered", async || browser.answered().await >= 4).await;
    browser.tap("step-zero").await;
    browser.wait_text("Not under pressure").await;
    drop(browser);
    shop.close().await;
}

/// With the network cut the steps of the stream test and a run of the flow cup wait like every fact of the hand, and land once.
#[sqlx::test(migrations = "../server/migrations")]
async fn steps_and_cups_made_offline_wait_and_land_once(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let book = begun(&shop, &browser, "Buoy 63").await;
    choose(&browser, &shop.address, &book, DEMO_RIG).await;
    browser.press("set-rig").await;
    browser.wait("[name='guide-backed_off']").await;
    browser.offline(true).await;
    browser.press("guide-backed_off").await;
    browser.wait("[data-waiting='1']").await;
    browser.press("set-catch").await;
    browser.fill("run_cup_s", "30 s").await;
    browser.press("take-cup").await;
    browser.wait("[data-waiting='2']").await;
    browser.offline(false).await;
    browser.gone("[data-waiting]").await;
    let kinds: Vec<String> =
        sqlx::query_scalar("select kind from entry where book_id = $1::uuid and kind in ('set_step', 'cup_run') order by seq")
            .bind(&book)
            .fetch_all(&shop.state.db)
            .await
            .expect("the log");
    assert_eq!(kinds, ["set_step", "cup_run"]);
    drop(browser);
    shop.close().await;
}

/// A dialog opened while an answer is under way stays open for its own, and its press is not lost.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_strike_asked_for_while_an_answer_is_under_way_is_done(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.slow_answers(4000).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.go(&format!("{}/rigs", shop.address)).await;
    browser.press("rig-Flume gel-coat machine").await;
    browser.wait("button[name='inspected']").await;
    browser.press("inspected").await;
    browser.click("table.rows button.link").await;
    browser.fill("reason", "another rig").await;
    browser.tap("confirm-reason").await;
    browser.wait("table.rows tr.struck").await;
    browser.gone("[role='dialog']").await;
    drop(browser);
    shop.close().await;
}
