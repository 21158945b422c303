//! Nothing starts wrong: lots imported, a batch begun, the evening's dew, a lead's release.

use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use sqlx::PgPool;

/// Chooses a file as a hand would, without a dialog: the browser makes it from a text.
async fn choose(browser: &Browser, input: &str, name: &str, text: &str) {
    browser.wait(&format!("button[name='{}']", if input == "lots-table" { "choose-table" } else { "import-sheet" })).await;
    let put = "const [name, file, text] = arguments; const input = document.querySelector(`input[name='${name}']`); \
        const held = new DataTransfer(); held.items.add(new File([text], file)); input.files = held.files; \
        input.dispatchEvent(new Event('change', { bubbles: true }))";
    let arguments = vec![input.into(), name.into(), text.into()];
    browser.client.execute(put, arguments).await.expect("a script");
}

async fn sign_out(browser: &Browser) {
    browser.press("person").await;
    browser.wait("#person-title").await;
    let out = "[...document.querySelectorAll('button')].find(b => b.textContent === 'Sign out').click()";
    browser.client.execute(out, vec![]).await.expect("a script");
    browser.wait(".names button").await;
}

async fn read(browser: &Browser, air: &str, surface: &str, humidity: &str) {
    for (field, text) in [("air_c", air), ("surface_c", surface), ("material_c", "20"), ("rh_pct", humidity)] {
        browser.fill(field, text).await;
    }
    browser.press("take-conditions").await;
}

#[sqlx::test(migrations = "../server/migrations")]
async fn lots_in_a_batch_begun_evening_dew_held_and_released(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Ansa Reef", "1357").await;

    two_lots_by_table(&browser, &shop).await;

    // A batch on sanded aluminium: its own list.
    let fields = [
        ("part", "Ladder 9"),
        ("coat", "primer"),
        ("substrate", "sanded_aluminium"),
        ("method", "pot"),
        ("area_m2", "4 m2"),
        ("film_um", "4 mil"),
    ];
    browser.begin(&base, "Island", &fields).await;
    browser.wait_text("Water-break test").await;

    // The expired lot is stopped however it is named; the oldest fit one is offered first.
    browser.fill("lot", "OLD-1").await;
    browser.press("take-lot").await;
    browser.wait_text("is past its date").await;
    browser.press("lot-Z-1").await;
    // Two troubles of one lot: the strip says the first, and all of them on a tap.
    browser.wait_text("Lot Z-1 has no colour written").await;
    browser.wait_text("and 1 more").await;
    browser.press("open-strip").await;
    browser.wait_text("Lot Z-1 has no certificate").await;
    browser.press("open-strip").await;
    // The next older one has; it wants a reason, since another came in first.
    browser.press("lot-P-2204").await;
    browser.wait_text("came in first and is fit").await;
    browser.fill("reason", "Z-1 waits for its certificate").await;
    browser.press("take-lot").await;
    browser.wait_text("lot P-2204").await;

    // Afternoon: go. The water beads: held, cleaned, good.
    read(&browser, "21", "20", "60").await;
    browser.wait_text("the surface may still fall").await;
    browser.press("item-water_break").await;
    browser.press("fail-water_break").await;
    browser.wait_text("Water-break test: water beads: clean again").await;
    browser.press("do-water_break").await;
    browser.wait_text("good").await;

    // Evening: an hour later the readings are old, and the new ones hold.
    shop.clock.advance(jiff::SignedDuration::from_mins(70));
    browser.client.refresh().await.expect("a reload");
    browser.wait_text("Conditions were read 70 min ago").await;
    read(&browser, "18", "14.5", "72").await;
    browser.wait_text("Conditions: the surface is only").await;
    browser.wait_text("a lead may release").await;
    let here = browser.client.current_url().await.expect("an address").to_string();
    sign_out(&browser).await;
    browser.sign_in(&here, "Brok Tarn", "2468").await;
    browser.press("release").await;
    browser.fill("reason", "Dry air is on, the ladder is warmed").await;
    browser.press("confirm-reason").await;
    browser.wait_text("Brok Tarn: Dry air is on").await;
    // Worse than what was released: held again.
    read(&browser, "18", "13.5", "74").await;
    browser.wait("button[name='release']").await;
    drop(browser);
    shop.close().await;
}

/// A table with a fault is refused by its row, then goes in whole.
async fn two_lots_by_table(browser: &Browser, shop: &Shop) {
    browser.go(&format!("{}/stores/import", shop.address)).await;
    let day = |n: i64| shop.state.shop_day().saturating_add(jiff::SignedDuration::from_hours(24 * n));
    let table = |kind: &str| {
        format!(
            "code,product,component,received,expires,container_g,containers_count\n\
             OLD-1,Island epoxy primer,{kind},{},{},20 kg,1\nZ-1,Island epoxy primer,base,{},{},20 kg,2\n",
            day(-400),
            day(-1),
            day(-300),
            day(60)
        )
    };
    choose(browser, "lots-table", "lots.csv", &table("basement")).await;
    browser.wait_text("1 fault in 2 rows").await;
    browser.wait_text("Base, hardener, thinner, or additive").await;
    choose(browser, "lots-table", "lots.csv", &table("base")).await;
    browser.wait_text("As it is understood").await;
    browser.press("store-table").await;
    browser.wait_text("2 lots are in the stores").await;
}

/// A sheet carried in as a document, a new version compared, and a part cloned with its coats.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_sheet_carried_in_and_a_part_cloned(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    browser.go(&format!("{base}/sheets")).await;
    browser.wait(".rows").await;
    let sheets = browser.read("/api/v1/sheets").await;
    let primer = sheets.as_array().and_then(|all| all.iter().find(|s| s["label"] == "Epoxy primer")).cloned();
    let id = primer.and_then(|p| p["id"].as_str().map(String::from)).expect("the primer");
    let mut document = browser.read(&format!("/api/v1/sheets/{id}/sheet.json")).await;
    document["sheet"]["strain_um"] = serde_json::json!(-3.0);
    choose(&browser, "sheet-document", "sheet.json", &document.to_string()).await;
    browser.wait_text("is outside").await;
    document["sheet"]["strain_um"] = serde_json::json!(190.0);
    choose(&browser, "sheet-document", "sheet.json", &document.to_string()).await;
    browser.wait_text("Island epoxy primer: version 2").await;
    browser.go(&format!("{base}/sheets/{id}")).await;
    browser.press("sheet-more").await;
    browser.press("version-2").await;
    browser.wait_text("Strain").await;
    browser.wait_text("Its clocks over temperature").await;

    browser.open_part(&base, "Buoy 3").await;
    browser.wait_text("abrade first").await;
    browser.press("clone-part").await;
    browser.fill("clone-name", "Buoy 41").await;
    browser.press("save-clone").await;
    browser.wait_text("primer: may begin").await;
    browser.press("begin-primer").await;
    // What the plan of the coat says stands in the form, and says so.
    browser.wait_text("by the plan of the coat").await;
    browser.fill("area_m2", "11 m2").await;
    browser.wait_text("of finished paint").await;
    drop(browser);
    shop.close().await;
}
