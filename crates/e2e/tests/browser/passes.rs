//! The pass board: coats pass by pass, on one screen and on two.

use jiff::SignedDuration;
use level_keel_e2e::stress::Hand;
use level_keel_e2e::{Browser, Shop};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// A sheet of one can that is looked at, with these steps.
fn one_can(name: &str, steps: Value) -> Value {
    json!({ "name": name, "label": name, "charge": "pot", "base_density_kg_l": 1.2, "solids_pct": 50, "has_hardener": false,
        "wet_um": "20 mil", "film_proof": "look", "wet_min_um": "10 mil", "wet_max_um": "30 mil", "temp_min_c": 10, "temp_max_c": 35,
        "stream": "general_pot", "hazards": [], "steps": steps })
}

/// A part of these zones on a sheet of its own, its charge on the gun.
async fn on_the_gun(shop: &Shop, sheet: Value, zones: Value, method: &str) -> Uuid {
    let lead = Hand::signed(&shop.address, "Brok Tarn", "2468").await;
    let at_gun = sheet["charge"] == "at_gun";
    let id = lead.send("POST", "/sheets", json!({ "sheet": sheet })).await["id"].clone();
    let book = Uuid::now_v7();
    let wanted = json!({ "sheet": id, "part": format!("Slipway {}", sheet["name"].as_str().unwrap_or_default()), "coat": "coat",
        "zones": zones, "area_m2": 8, "film_um": "20 mil", "film_is": "wet", "transfer_pct": 80, "method": method });
    lead.send("POST", "/batches", json!({ "id": book, "wanted": wanted })).await;
    lead.write(book, "conditions", json!({ "air_c": 21, "surface_c": 20, "material_c": 20, "rh_pct": 50 }), 0.0).await;
    shop.make_ready(&book.to_string()).await;
    let charge = Uuid::now_v7();
    lead.write(book, "open_charge", json!({ "charge": charge, "kind": sheet["charge"], "wanted_ml": "20 L" }), 0.0).await;
    if at_gun {
        let catch = json!({ "charge": charge, "a_g": 500, "b_g": 9, "resolution_g": 0.1, "caught_watch_s": 30 });
        lead.write(book, "ratio_check", catch, 0.0).await;
    } else {
        let fill = json!({ "charge": charge, "component": "base", "reading_g": 24_000, "resolution_g": 1 });
        lead.write(book, "pour", fill, 0.0).await;
    }
    lead.write(book, "start_spraying", json!({ "charge": charge }), 0.0).await;
    book
}

async fn open(shop: &Shop, book: Uuid, width: u32, height: u32) -> Browser {
    let browser = Browser::start().await;
    browser.size(width, height).await;
    browser.sign_in(&format!("{}/batches/{book}?at=5", shop.address), "Brok Tarn", "2468").await;
    browser.wait("[name='stamp-pass']").await;
    browser
}

async fn board(browser: &Browser, book: Uuid) -> Value {
    browser.read(&format!("/api/v1/batches/{book}?station=spray")).await["spray"].clone()
}

/// A stamp while the answer to the one before is under way is a second tap of it: a hand waits for longer than that.
async fn stamp(browser: &Browser) {
    browser.wait("button[name='stamp-pass'][aria-busy='false']").await;
    browser.press("stamp-pass").await;
}

async fn title(browser: &Browser, title: &str) {
    let said = "return document.querySelector('.next-pass h2')?.innerText ?? ''";
    browser.until(title, async || browser.client.execute(said, vec![]).await.expect("a script") == title).await;
}

/// Gel coat in three passes over four zones, one first pass too heavy; a phone stamps beside the tablet, and what happens is told on
/// both.
#[sqlx::test(migrations = "../server/migrations")]
async fn gel_coat_in_three_passes_with_a_phone_beside_the_tablet(db: PgPool) {
    let shop = Shop::open(db).await;
    let sheet = json!({ "name": "Gel", "label": "Gel", "charge": "at_gun", "base_density_kg_l": 1.25, "solids_pct": 98,
        "has_hardener": true, "basis": "percent_by_weight", "hardener_pct": 1.8, "band_low_pct": 1.5, "band_high_pct": 2.5,
        "hardener_density_kg_l": 1.12, "wet_um": "20 mil", "film_proof": "comb", "wet_min_um": "18 mil", "wet_max_um": "24 mil",
        "first_pass_min_um": "6 mil", "first_pass_max_um": "12 mil", "pass_min_um": "5 mil", "pass_max_um": "10 mil",
        "steps": [{ "name": "build", "passes_count": 3, "between_s": "60 s", "distance_min_mm": "18 in", "distance_max_mm": "36 in" }],
        "temp_min_c": 15, "temp_max_c": 32, "stream": "industrial", "hazards": [] });
    let book = on_the_gun(&shop, sheet, json!(["edges", "inlet", "run", "lip"]), "gel_coat_machine").await;
    let tablet = open(&shop, book, 1280, 657).await;
    let phone = open(&shop, book, 390, 844).await;
    title(&tablet, "Edges, pass 1 of 3").await;
    tablet.wait_text("18–36 in off").await;
    stamp(&tablet).await;
    title(&tablet, "Inlet, pass 1 of 3").await;
    // Too heavy by itself, though the total has room for it.
    tablet.press("comb-now").await;
    tablet.click(".comb .tooth[aria-label^='14']").await;
    tablet.wait_text("first pass too heavy, 12 mil at the most").await;
    tablet.press("take-comb").await;
    tablet.gone("[name='take-comb']").await;
    tablet.press("spray-board").await;
    // The phone stamps the next; the tablet follows, and so on to the last.
    title(&phone, "Inlet, pass 1 of 3").await;
    stamp(&phone).await;
    title(&tablet, "Run, pass 1 of 3").await;
    stamp(&tablet).await;
    title(&phone, "Lip, pass 1 of 3").await;
    phone.press("something-odd").await;
    phone.press("happened-catalyst_burst").await;
    phone.gone(".MuiDialog-root").await;
    stamp(&phone).await;
    for pass in ["2", "3"] {
        shop.clock.advance(SignedDuration::from_secs(61));
        for zone in ["Edges", "Inlet", "Run", "Lip"] {
            title(&tablet, &format!("{zone}, pass {pass} of 3")).await;
            stamp(&tablet).await;
            shop.clock.advance(SignedDuration::from_secs(20));
        }
    }
    title(&phone, "All passes are on").await;
    tablet.press("spray-passes").await;
    tablet.wait_text("Burst of catalyst at lip, pass 1").await;
    let spray = board(&tablet, book).await;
    let passes = spray["passes"].as_array().expect("passes");
    assert_eq!(passes.len(), 12);
    assert!(passes.iter().all(|p| p["named"] == json!([])), "{passes:?}");
    drop(phone);
    drop(tablet);
    shop.close().await;
}

/// A texture in two steps, dry to touch between them; then a cross coat on fabric, the cap turned a quarter.
#[sqlx::test(migrations = "../server/migrations")]
async fn two_steps_of_a_texture_and_a_cross_coat(db: PgPool) {
    let shop = Shop::open(db).await;
    let steps = json!([
        { "name": "ground", "passes_count": 1, "wait_s": "1 h", "look": "dry_to_touch", "atomizing_kpa": "40 psi" },
        { "name": "pattern", "passes_count": 1, "way": "circles", "atomizing_kpa": "35 psi" }
    ]);
    let book = on_the_gun(&shop, one_can("Pattern", steps), json!(["deck", "curb"]), "pot").await;
    let browser = open(&shop, book, 1280, 657).await;
    browser.with_ears().await;
    title(&browser, "Deck, pass 1 of 2").await;
    browser.wait_text("ground ·").await;
    stamp(&browser).await;
    title(&browser, "Curb, pass 1 of 2").await;
    stamp(&browser).await;
    title(&browser, "Deck, pass 2 of 2").await;
    browser.wait_text("then look").await;
    // The time is over, the look is not said: it may be stamped, and would be named.
    shop.clock.advance(SignedDuration::from_mins(61));
    browser.client.refresh().await.expect("the page reloads");
    browser.wait_text("look: dry to touch").await;
    // The pace by ear: a stretch and a speed make a click, and it goes on until it is silenced.
    browser.press("spray-pace").await;
    browser.fill("width_mm", "1 ft").await;
    browser.fill("gun_speed_m_s", "24 in/s").await;
    browser.wait_text("0.5 s").await;
    browser.press("click").await;
    browser.until("three clicks", async || browser.heard().await.iter().filter(|hz| **hz == 1000).count() >= 3).await;
    browser.press("click").await;
    browser.wait_text("Click").await;
    browser.press("spray-board").await;
    browser.press("look-ready").await;
    browser.wait_text("may be coated").await;
    browser.wait_text("in circles · 6–12 in off · 35 psi of air").await;
    stamp(&browser).await;
    title(&browser, "Curb, pass 2 of 2").await;
    stamp(&browser).await;
    title(&browser, "All passes are on").await;
    browser.press("spray-passes").await;
    browser.wait_text("nobody said “dry to touch”").await;
    let spray = board(&browser, book).await;
    let named: Vec<usize> =
        spray["passes"].as_array().expect("passes").iter().map(|p| p["named"].as_array().map_or(0, Vec::len)).collect();
    assert_eq!(named, [0, 0, 0, 1], "only the curb was not looked at");

    let steps = json!([{ "name": "coat", "passes_count": 2, "way": "along", "crossed": true, "between_s": "10 min", "look": "damp_dull" }]);
    let fabric = on_the_gun(&shop, one_can("Fabric", steps), json!([]), "pot").await;
    browser.go(&format!("{}/batches/{fabric}?at=5", shop.address)).await;
    title(&browser, "Pass 1 of 2").await;
    stamp(&browser).await;
    title(&browser, "Pass 2 of 2").await;
    browser.wait_text("across ·").await;
    browser.wait_text("turn the cap a quarter").await;
    // Too early on wet is a fact, and named. Two taps alike within 400 ms are one tap of a glove: the page is opened anew, as it would be
    // after four minutes.
    shop.clock.advance(SignedDuration::from_mins(4));
    browser.client.refresh().await.expect("the page reloads");
    title(&browser, "Pass 2 of 2").await;
    stamp(&browser).await;
    title(&browser, "All passes are on").await;
    let spray = board(&browser, fabric).await;
    let second = &spray["passes"][1];
    assert_eq!(second["way"], "across");
    assert!(second["named"][0].as_str().is_some_and(|n| n.contains("early on the one before")), "{second}");
    drop(browser);
    shop.close().await;
}

/// A hull by roller in two zones: no gun, sections by reach, a pause; once it is on its clocks go into a calendar.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_hull_by_roller(db: PgPool) {
    let shop = Shop::open(db).await;
    let mut sheet = one_can("Roller", json!([]));
    for (field, value) in [("recoat_min_s", "6 h"), ("recoat_max_s", "2 d"), ("touch_dry_s", "2 h"), ("mask_off_s", "1 h")] {
        sheet[field] = json!(value);
    }
    let book =
        on_the_gun(&shop, sheet, json!([{ "name": "port", "area_m2": 5 }, { "name": "starboard", "area_m2": 3 }]), "roller")
            .await;
    let browser = open(&shop, book, 1280, 657).await;
    title(&browser, "Port, pass 1").await;
    browser.wait_text("load it fully, slowly, one way").await;
    // A photo of the part goes behind its zones, and the zones stay readable and can be tapped.
    let photo = std::env::temp_dir().join(format!("level-keel-{book}.png"));
    image::RgbImage::from_pixel(60, 40, image::Rgb([20, 90, 200])).save(&photo).expect("a photo");
    browser.choose_file("input[type='file']", &photo).await;
    browser.wait(".zone-drawing image").await;
    std::fs::remove_file(photo).ok();
    let kept = board(&browser, book).await["board"]["backdrop"].as_str().expect("a photo by its hash").to_string();
    let drawn = browser.wait(".zone-drawing image").await.attr("href").await.expect("an attribute").unwrap_or_default();
    assert_eq!(drawn, format!("/api/v1/photos/{kept}/small"));
    let loads = "const done = arguments[1]; fetch(arguments[0]).then(r => done(r.status + ' ' + r.headers.get('content-type')))";
    let loaded = browser.client.execute_async(loads, vec![json!(drawn)]).await.expect("an answer");
    assert!(loaded.as_str().is_some_and(|l| l.starts_with("200 image/")), "{loaded}");
    browser.press("spray-pace").await;
    browser.fill("reach_m2", "2 m2").await;
    browser.wait_text("this one rules").await;
    browser.press("plan-sections").await;
    browser.press("spray-board").await;
    browser.wait_text("3 × 1.67 m²").await;
    stamp(&browser).await;
    title(&browser, "Starboard, pass 1").await;
    browser.press("pause").await;
    browser.wait_text("Go on").await;
    browser.press("pause").await;
    stamp(&browser).await;
    title(&browser, "Port, pass 2").await;
    // No word of the sheet, no leave: the wait is not told as over.
    browser.wait_text("the sheet states no wait").await;
    let go =
        browser.client.execute("return document.querySelectorAll('.zone-card .wait-go').length", vec![]).await.expect("a script");
    assert_eq!(go, 0, "nothing is told as right to coat");
    browser.press("film-right").await;
    browser.press("emptied").await;
    browser.press("spray-passes").await;
    browser.wait_text("The coat from now on").await;
    browser.wait_text("Masking off").await;
    browser.wait_text("Next coat may go on").await;
    let calendar =
        "const done = arguments[0]; fetch(document.querySelector(\"a[href$='clocks.ics']\").href).then(r => r.text()).then(done)";
    let text = browser.client.execute_async(calendar, vec![]).await.expect("a calendar");
    let text = text.as_str().unwrap_or_default();
    assert!(text.starts_with("BEGIN:VCALENDAR") && text.matches("BEGIN:VEVENT").count() == 4, "{text}");
    assert!(text.contains("SUMMARY:Dry to touch: Slipway Roller"), "{text}");
    // And they stand on the board.
    browser.go(&format!("{}/", shop.address)).await;
    browser.wait_text("Masking off").await;
    drop(browser);
    shop.close().await;
}
