//! The real interface, driven as a person would.

use jiff::SignedDuration;
use level_keel_e2e::{Browser, Shop};
use level_keel_server::settings::DEMO_RIG;

use crate::pot::pick_rig;
use sqlx::PgPool;

pub async fn sign_out(browser: &Browser) {
    let leave = "const d = arguments[0]; fetch('/api/v1/session', { method: 'DELETE' }).then(() => d(true))";
    browser.client.execute_async(leave, vec![]).await.expect("a script");
}

async fn fill(browser: &Browser, fields: &[(&str, &str)]) {
    for (name, text) in fields {
        browser.fill(name, text).await;
    }
}

/// A person types in their own sheet and takes a batch through six stations to a signed card.
#[sqlx::test(migrations = "../server/migrations")]
async fn own_sheet_to_signed_card(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;

    a_sheet_with_a_mistake(&browser, &base).await;

    // Two lots come in.
    for (component, code) in [("base", "A-17"), ("hardener", "B-4")] {
        receive(&browser, &shop, "Harbour", component, code).await;
    }

    // Begin.
    let fields = [("part", "Jetty ladder 2"), ("coat", "finish"), ("area_m2", "60 ft2"), ("film_um", "4 mil")];
    browser.begin(&base, "Harbour", &fields).await;

    // Ready.
    browser.wait_text("1 Ready").await;
    fill(&browser, &[("air_c", "70 F"), ("surface_c", "20"), ("material_c", "20"), ("rh_pct", "55")]).await;
    browser.wait_text("as typed, not taken yet").await;
    browser.press("take-conditions").await;
    browser.click("input[name='guard-solvent']").await;
    browser.press("take-guards").await;
    browser.wait_text("Flammable solvent: on").await;
    through_the_lists(&browser).await;

    a_pot_is_mixed(&browser).await;

    // Set: the rig first, since what it bears is on its plate.
    let book = browser.batch("Jetty ladder 2").await;
    pick_rig(&browser, &base, &book, DEMO_RIG).await;
    browser.press("set-try").await;
    fill(&browser, &[("pot_kpa", "0.7 bar"), ("stream_mm", "9 in"), ("atomizing_kpa", "45")]).await;
    browser.wait_text("= 10.2 psi").await;
    browser.press("take-try").await;
    browser.wait_text("10.2 psi, 9 in · in").await;

    // Prove: as weighed.
    browser.click(".station-tab:nth-of-type(4)").await;
    browser.wait_text("as weighed").await;

    a_pot_is_sprayed(&browser, &shop).await;

    signed_and_accepted(&browser, &base).await;

    browser.click("a[href$='/card']").await;
    browser.wait("article.card").await;
    let card = browser.text().await;
    for said in ["Jetty ladder 2 · finish", "lot A-17", "lot B-4", "Accepted: Celo Wick", "core 0.1.0", "Next coat: not before"]
    {
        assert!(card.contains(said), "the card does not say {said}:\n{card}");
    }
    drop(browser);
    shop.close().await;
}

/// A lot of a product comes in by the dialog of the stores.
pub async fn receive(browser: &Browser, shop: &Shop, product: &str, component: &str, code: &str) {
    let base = &shop.address;
    browser.go(&format!("{base}/stores")).await;
    browser.press("receive-lot").await;
    browser.wait("select[name='lot-sheet'] option:nth-child(2)").await;
    let find = "return [...document.querySelectorAll('select[name=\"lot-sheet\"] option')].find(o => o.text.startsWith(arguments[0])).value";
    let sheet = browser.client.execute(find, vec![product.into()]).await.expect("a script");
    browser.fill("lot-sheet", sheet.as_str().expect("an id")).await;
    let day = |n: i64| shop.state.shop_day().saturating_add(SignedDuration::from_hours(24 * n)).to_string();
    let (today, expires) = (day(0), day(90));
    fill(
        browser,
        &[
            ("lot-component", component),
            ("lot-code", code),
            ("lot-received", &today),
            ("lot-expires", &expires),
            ("container_g", "44 lb"),
            ("containers_count", "2"),
            ("lot-place", "Quay locker"),
        ],
    )
    .await;
    browser.wait_text("= 19.96 kg").await;
    browser.press("save-lot").await;
    browser.wait_text("Received 2 ×").await;
}

/// Goes through the Ready lists as a hand would: what lies in hand is done, until nothing does.
pub async fn through_the_lists(browser: &Browser) {
    let act = "const hand = document.querySelector('.check-hand'); if (!hand) return 'done';
        const lot = hand.querySelector('.lot-choice button.first'); if (lot && !lot.disabled) { lot.click(); return 'lot' }
        const next = hand.querySelector(\"button[name^='do-']\"); if (next && !next.disabled) { next.click(); return next.name }
        return 'wait'";
    for _ in 0..200 {
        let did = browser.client.execute(act, vec![]).await.expect("a script");
        if did.as_str() == Some("done") {
            return;
        }
        tokio::time::sleep(std::time::Duration::from_millis(120)).await;
    }
    panic!("the lists do not end:\n{}", browser.text().await);
}

/// A hold is refused to an applicator and released by a lead; a wrong entry is struck and stays readable.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_hold_released_and_an_entry_struck(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Ansa Reef", "1357").await;
    browser.press("begin").await;
    browser.wait("select[name='sheet'] option:nth-child(2)").await;
    let find = "return [...document.querySelectorAll('select[name=sheet] option')].find(o => o.text.startsWith('Island')).value";
    let sheet = browser.client.execute(find, vec![]).await.expect("a script");
    browser.fill("sheet", sheet.as_str().expect("an id")).await;
    fill(&browser, &[("part", "Buoy 12"), ("coat", "primer"), ("area_m2", "11 m2"), ("film_um", "4 mil")]).await;
    browser.press("begin-batch").await;
    fill(&browser, &[("air_c", "21"), ("surface_c", "16"), ("material_c", "20"), ("rh_pct", "65")]).await;
    browser.press("take-conditions").await;
    browser.wait_text("a lead may release").await;
    for hazard in ["solvent", "pressure_vessel"] {
        browser.click(&format!("input[name='guard-{hazard}']")).await;
    }
    browser.press("take-guards").await;
    browser.click(".station-tab:nth-of-type(2)").await;
    browser.press("open-pot").await;
    browser.wait_text("Pour base").await;
    browser.fill("reading_g", "1,604").await;
    browser.wait_text("without the comma").await;
    browser.fill("reading_g", "1604").await;
    browser.press("take-reading").await;
    browser.wait_text("1604 g on the scale").await;
    browser.fill("reading_g", "2060").await;
    browser.press("take-reading").await;
    browser.wait_text("2060 g on the scale").await;
    let address = browser.client.current_url().await.expect("an address");
    let book = address.path_segments().and_then(|mut parts| parts.nth(1)).expect("a batch's page").to_string();
    shop.make_ready(&book).await;
    browser.press("combine").await;
    browser.wait_text("Conditions: the surface is only").await;

    let here = browser.client.current_url().await.expect("an address").to_string();
    sign_out(&browser).await;
    browser.sign_in(&here, "Brok Tarn", "2468").await;
    browser.press("release").await;
    browser.fill("reason", "Dry air is on, the surface is rising").await;
    browser.press("confirm-reason").await;
    browser.wait_text("Brok Tarn: Dry air is on").await;
    browser.press("combine").await;
    browser.wait_text("Pour hardener").await;

    // The first reading of base was a wrong one: struck, with a reason.
    browser.press("open-log").await;
    browser.press("strike-5").await;
    browser.fill("reason", "read the wrong scale").await;
    browser.press("confirm-reason").await;
    browser.wait_text("struck, Brok Tarn: read the wrong scale").await;
    drop(browser);
    shop.close().await;
}

/// What another screen writes is seen here without a hand on this one.
#[sqlx::test(migrations = "../server/migrations")]
async fn two_screens_see_the_same(db: PgPool) {
    let shop = Shop::open(db).await;
    let (one, two) = (Browser::start().await, Browser::start().await);
    one.sign_in(&shop.address, "Ansa Reef", "1357").await;
    two.sign_in(&shop.address, "Brok Tarn", "2468").await;
    for browser in [&one, &two] {
        browser.click(".rows a").await;
        browser.press("open-log").await;
    }
    one.press("note").await;
    one.fill("reason", "Wind from the east door").await;
    one.press("confirm-reason").await;
    two.wait_text("Note: Wind from the east door").await;
    drop((one, two));
    shop.close().await;
}

/// A session that ends while someone types: sign in above it, and what was typed is still there.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_session_ends_and_what_was_typed_stays(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.click(".rows a").await;
    browser.click(".station-tab:nth-of-type(1)").await;
    browser.press("read-again").await;
    fill(&browser, &[("air_c", "21"), ("surface_c", "20"), ("material_c", "20"), ("rh_pct", "54")]).await;
    browser.wait("button[name='take-conditions']:not([disabled])").await;
    shop.clock.advance(SignedDuration::from_hours(13));
    // By script: the page may notice by itself first and lay the sign-in over the button.
    let tap = "document.querySelector(\"button[name='take-conditions']\").click()";
    browser.client.execute(tap, vec![]).await.expect("a script");
    browser.wait(".overlay .names button").await;
    let pick = "[...document.querySelectorAll('.overlay .names button')].find(b => b.innerText.includes('Ansa')).click()";
    browser.client.execute(pick, vec![]).await.expect("a script");
    browser.type_in("pin", "1357").await;
    browser.press("sign-in").await;
    browser.press("take-conditions").await;
    browser.wait_text("Conditions: surface 20 °C").await;
    drop(browser);
    shop.close().await;
}

/// On touch the fields bring a keypad of our own, with the units of their kind.
#[sqlx::test(migrations = "../server/migrations")]
async fn on_touch_a_keypad_with_units(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.touch().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.click(".rows a").await;
    browser.click(".station-tab:nth-of-type(3)").await;
    browser.click("input[name='pot_kpa']").await;
    browser.wait(".keypad").await;
    let tap = "const b = [...document.querySelectorAll('.keypad button')].find(b => b.innerText === arguments[0]); b.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, cancelable: true }));";
    for key in ["0", ".", "8", "bar"] {
        browser.client.execute(tap, vec![key.into()]).await.expect("a script");
    }
    browser.wait_text("= 11.6 psi").await;
    let input = browser.wait("input[name='pot_kpa']").await;
    assert_eq!(input.attr("inputmode").await.expect("an attribute").as_deref(), Some("none"));
    drop(browser);
    shop.close().await;
}

/// Opens a folded group of a sheet by its name.
pub async fn open_group(browser: &Browser, name: &str) {
    let open =
        "for (const d of document.querySelectorAll('details.group')) if (d.innerText.startsWith(arguments[0])) d.open = true";
    browser.client.execute(open, vec![name.into()]).await.expect("a script");
}

/// A sheet of one's own: first with a mistake, which is said at its field; then mended.
async fn a_sheet_with_a_mistake(browser: &Browser, base: &str) {
    browser.go(&format!("{base}/sheets")).await;
    browser.press("new-sheet").await;
    browser.press("kind-two_part").await;
    browser.wait("form.form").await;
    fill(
        browser,
        &[
            ("name", "Harbour two-pack"),
            ("solids_pct", "60 %"),
            ("base_density_kg_l", "0.2"),
            ("hardener_density_kg_l", "1.05"),
            ("basis", "by_volume"),
            ("ratio", "3:1"),
            ("pot_life_s", "3 h"),
            ("pot_life_at_c", "20 °C"),
            ("induction_s", "10 min"),
            ("wet_min_um", "3 mil"),
            ("wet_max_um", "6 mil"),
            ("temp_min_c", "10"),
            ("temp_max_c", "35"),
        ],
    )
    .await;
    browser.press("sheet-more").await;
    for group in ["Clocks", "Film and conditions"] {
        open_group(browser, group).await;
    }
    let more =
        [("recoat_min_s", "5 h"), ("recoat_at_c", "20 C"), ("wet_um", "4 mil"), ("margin_min_dk", "3"), ("rh_max_pct", "85")];
    fill(browser, &more).await;
    browser.press("sheet-more").await;
    browser.click("input[name='hazard-solvent']").await;
    browser.wait_text("is outside 0.5 kg/L to 3.5 kg/L").await;
    browser.press("save-sheet").await;
    browser.wait_text("Density of A: Density").await;
    browser.fill("base_density_kg_l", "1.3 g/mL").await;
    browser.wait_text("= 1.3 kg/L").await;
    browser.press("save-sheet").await;
    browser.wait_text("Harbour two-pack 3 : 1 by volume").await;
}

/// A litre is weighed in and stirred.
async fn a_pot_is_mixed(browser: &Browser) {
    browser.client.find(fantoccini::Locator::Css("body")).await.expect("a body").send_keys("2").await.expect("keys");
    browser.fill("wanted_ml", "1 L").await;
    browser.press("open-pot").await;
    browser.wait_text("Pour base onto the same cup").await;
    fill(browser, &[("reading_g", "975")]).await;
    browser.press("take-reading").await;
    browser.wait_text("Base is in").await;
    browser.press("combine").await;
    browser.wait_text("Pour hardener onto the same cup").await;
    // Under way: still short, so there is no verdict yet.
    browser.fill("reading_g", "1100").await;
    browser.wait_text("pouring").await;
    fill(browser, &[("reading_g", "1238")]).await;
    browser.press("take-reading").await;
    browser.press("stirred").await;
    browser.wait_text("It stands on the rack with its clock").await;
    browser.wait_text("Inducting").await;
}

/// Not in induction; then a pass, its film at three places, the pot emptied and the hose flushed.
async fn a_pot_is_sprayed(browser: &Browser, shop: &Shop) {
    browser.click(".station-tab:nth-of-type(5)").await;
    browser.press("start-spraying").await;
    // The refusal itself, not the notice that stood there before: the clock moves only after the answer.
    browser.wait("p.refusal").await;
    browser.wait_text("cannot be sprayed yet: induction ends in").await;
    shop.clock.advance(SignedDuration::from_mins(11));
    browser.client.refresh().await.expect("the page reloads");
    browser.press("start-spraying").await;
    browser.fill("used_ml", "900 mL").await;
    browser.press("stamp-pass").await;
    browser.wait_text("Passes 1").await;
    browser.press("comb-now").await;
    // One reading is no proof: three places of its zone are asked for.
    for (nth, said) in [(1, "1 of 3"), (2, "2 of 3"), (3, "3 of 3")] {
        browser.click(".comb .tooth[aria-label^='4']").await;
        browser.wait_text("Take 4–5 mil").await;
        browser.press("take-comb").await;
        browser.wait_text(said).await;
        if nth == 1 {
            browser.wait_text("Total wet so far").await;
        }
    }
    browser.press("spray-board").await;
    // The rows of the pot go with it; the hose's own button stays under the finger.
    let top = async || {
        let script = "return document.querySelector(\"button[name='flushed']\").getBoundingClientRect().top";
        browser.client.execute(script, vec![]).await.expect("a script").as_f64().expect("a number")
    };
    let before = top().await;
    browser.press("emptied").await;
    browser.gone("button[name='emptied']").await;
    assert!((top().await - before).abs() < 1.0, "{} after {before}", top().await);
    // Mixed paint stands in the hose: it is flushed before the work is signed.
    browser.press("flushed").await;
}

/// Signed by who worked, accepted by another.
async fn signed_and_accepted(browser: &Browser, base: &str) {
    browser.click(".station-tab:nth-of-type(6)").await;
    browser.press("sign").await;
    browser.wait_text("You did this work alone").await;
    sign_out(browser).await;
    browser.sign_in(base, "Celo Wick", "3579").await;
    browser.wait_text("Accept the work").await;
    browser.click("a.next[href*='at=6']").await;
    browser.press("accept").await;
    browser.wait_text("The card is closed").await;
}
