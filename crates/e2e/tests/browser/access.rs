//! Every view in both themes, read by axe: nothing serious. And the tokens: every text and state colour reads
//! on its ground (WCAG 2.1, 1.4.3: 4.5 : 1).

use super::glass::{cut, grey};
use level_keel_e2e::{Browser, Shop, stress};
use serde_json::Value;
use sqlx::PgPool;

pub const AXE: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/node_modules/axe-core/axe.min.js");

/// What axe finds serious, and the buttons that are grey without a reason.
pub async fn found(browser: &Browser, axe: &str) -> Vec<String> {
    let grey = grey(browser).await;
    browser.client.execute(axe, vec![]).await.expect("axe loads");
    let run = "const d = arguments[0]; axe.run(document, { resultTypes: ['violations'], preload: false }).then(r => d(r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.map(n => n.html.slice(0, 120)).join(' | '))))";
    let found = browser.client.execute_async(run, vec![]).await.expect("axe runs");
    let found: Vec<String> = serde_json::from_value(found).expect("texts");
    grey.into_iter().chain(found).collect()
}

async fn read(browser: &Browser, view: &str, axe: &str) {
    let found = found(browser, axe).await;
    assert!(found.is_empty(), "{view}: {found:#?}");
}

/// Every view of the shop, with what to wait for.
pub async fn views(browser: &Browser, part: &str) -> Vec<(String, &'static str)> {
    let batch = format!("batches/{}", browser.batch(part).await);
    let lots = browser.read("/api/v1/lots").await;
    let lot = lots["lots"][0]["id"].as_str().unwrap_or_default().to_string();
    let parts = browser.read("/api/v1/parts").await;
    let piece = parts[0]["id"].as_str().unwrap_or_default().to_string();
    let mut views = vec![
        (String::new(), ".next"),
        ("sheets".into(), ".rows"),
        ("sheets/new".into(), ".kinds"),
        ("records".into(), ".rows"),
        ("begin".into(), ".station"),
        ("people".into(), ".rows"),
        (format!("{batch}/card"), ".card"),
        ("stores".into(), ".rows"),
        ("stores/import".into(), "button[name='choose-table']"),
        (format!("stores/{lot}"), ".lot-page"),
        (format!("labels?of=lot:{lot}"), ".thing-label"),
        ("parts".into(), ".part-row"),
        (format!("parts/{piece}"), ".layer"),
        ("lists".into(), ".rows"),
        ("rigs".into(), ".rig-line"),
    ];
    views.extend((1..=6).map(|n| (format!("{batch}?at={n}"), ".station")));
    views
}

pub async fn theme(browser: &Browser, name: &str) {
    let set = "localStorage.setItem('level-keel-theme', arguments[0])";
    browser.client.execute(set, vec![name.into()]).await.expect("a script");
}

#[sqlx::test(migrations = "../server/migrations")]
async fn axe_finds_nothing_serious(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    browser.go(&base).await;
    browser.wait(".names button").await;
    read(&browser, "sign-in", &axe).await;
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    let mut all = views(&browser, "Buoy 7").await;
    let twin = views(&browser, "Float").await;
    all.extend(twin.into_iter().filter(|(path, _)| path.contains("at=4") || path.contains("at=2")));
    for name in ["day", "booth"] {
        theme(&browser, name).await;
        for (path, wait) in &all {
            browser.go(&format!("{base}/{path}")).await;
            browser.wait(wait).await;
            read(&browser, &format!("{name} /{path}"), &axe).await;
        }
        // The leaves of Mix.
        let mix = all.iter().find(|(path, _)| path.ends_with("at=2")).map(|(path, _)| path.clone()).expect("Mix");
        browser.go(&format!("{base}/{mix}")).await;
        for tab in ["plan", "ways", "mark", "work"] {
            browser.press(&format!("mix-{tab}")).await;
            browser.wait(".see, .two-ways").await;
            read(&browser, &format!("{name} mix {tab}"), &axe).await;
        }
        let set = all.iter().find(|(path, _)| path.ends_with("at=3")).map(|(path, _)| path.clone()).expect("Set");
        browser.go(&format!("{base}/{set}")).await;
        for (tab, there) in [("catch", ".shares"), ("ask", ".see .shares"), ("speed", ".from-above"), ("rig", ".rig-line")] {
            browser.press(&format!("set-{tab}")).await;
            browser.wait(there).await;
            read(&browser, &format!("{name} set {tab}"), &axe).await;
        }
        // The leaves of the rigs.
        browser.go(&format!("{base}/rigs")).await;
        for (tab, there) in [
            ("rig-shut", ".steps"),
            ("rig-care", ".check-group"),
            ("rigs-pieces", ".rows"),
            ("rigs-tips", ".tips-two svg"),
            ("rigs-scales", "[name='resolution_g']"),
        ] {
            browser.press(tab).await;
            browser.wait(there).await;
            read(&browser, &format!("{name} {tab}"), &axe).await;
        }
        // What opens over a view.
        browser.go(&base).await;
        browser.wait(".next").await;
        for (open, wait) in [("units", "[data-units]"), ("person", "#person-title")] {
            browser.press(open).await;
            browser.wait(wait).await;
            // Past its fade: half-drawn text has half its contrast.
            browser.still().await;
            read(&browser, &format!("{name} {open}"), &axe).await;
            browser.go(&base).await;
            browser.wait(".next").await;
        }
    }
    drop(browser);
    shop.close().await;
}

/// The fullest shop at every size: nothing sticks out sideways, every target is large enough, axe finds nothing serious.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_fullest_shop_fits_every_size(db: PgPool) {
    let shop = Shop::open(db).await;
    stress::lay_on(&shop.address).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    browser.sign_in(&base, "Ansa Reef", "1357").await;
    let all = views(&browser, "Breakwater").await;
    // What sticks out of the window, except what lies in a place that scrolls by itself.
    let wide = "const out = []; for (const e of document.querySelectorAll('main *, .top *, .rack *')) { \
        const r = e.getBoundingClientRect(); if (r.width === 0 || r.right <= innerWidth + 1) continue; \
        let p = e.parentElement, scrolls = false; \
        while (p) { const o = getComputedStyle(p).overflowX; if (o === 'auto' || o === 'hidden' || o === 'scroll') scrolls = true; p = p.parentElement; } \
        if (!scrolls) out.push(e.outerHTML.slice(0, 90)); } \
        if (document.documentElement.scrollWidth > innerWidth) out.push('the page scrolls sideways'); \
        const main = document.querySelector('.main'); if (main.scrollWidth > main.clientWidth + 1) out.push('the view scrolls sideways: ' + [...main.querySelectorAll('*')].filter(e => e.getBoundingClientRect().right > innerWidth + 1).map(e => e.className?.baseVal ?? e.className ?? e.tagName).slice(0, 12).join(' | ')); return out";
    // Pictures and hidden inputs of a larger control are not targets by themselves.
    let small = "return [...document.querySelectorAll('main button, .top button, .rack a, main .MuiInputBase-root')] \
        .filter(e => e.offsetParent && !e.classList.contains('link') && !e.closest('.MuiAutocomplete-endAdornment') && e.getBoundingClientRect().height < 44) \
        .map(e => e.outerHTML.slice(0, 90) + ' ' + e.getBoundingClientRect().height)";
    // What is pressed lies on top of what is around it.
    let covered = "return [...document.querySelectorAll('.top button')].filter(b => { const r = b.getBoundingClientRect(); \
        if (r.width === 0 || r.left >= innerWidth || r.right <= 0) return false; \
        const e = document.elementFromPoint(Math.min(r.left + r.width / 2, innerWidth - 2), r.top + r.height / 2); \
        return !(e && (e === b || b.contains(e))); }).map(b => b.outerHTML.slice(0, 90))";
    let mut faults = Vec::new();
    for (w, h) in [(1280, 800), (1280, 657), (800, 1280), (390, 844)] {
        browser.size(w, h).await;
        for (path, wait) in &all {
            browser.go(&format!("{base}/{path}")).await;
            browser.wait(wait).await;
            for (what, script) in [("sticks out", wide), ("is too small", small), ("is covered", covered)] {
                let found = browser.client.execute(script, vec![]).await.expect("a script");
                let found: Vec<String> = serde_json::from_value(found).expect("texts");
                faults.extend(found.into_iter().map(|f| format!("{w}×{h} /{path} {what}: {f}")));
            }
            faults.extend(cut(&browser).await.into_iter().map(|f| format!("{w}×{h} /{path} is cut: {f}")));
        }
    }
    assert!(faults.is_empty(), "{faults:#?}");
    browser.size(390, 844).await;
    for (path, wait) in &all {
        browser.go(&format!("{base}/{path}")).await;
        browser.wait(wait).await;
        read(&browser, &format!("full, 390 wide /{path}"), &axe).await;
    }
    drop(browser);
    shop.close().await;
}

/// Tab goes the way the eye goes; keys work everywhere and never while typing.
#[sqlx::test(migrations = "../server/migrations")]
async fn keys_and_the_order_of_focus(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let all = views(&browser, "Float").await;
    let (prove, _) = all.iter().find(|(path, _)| path.ends_with("at=4")).expect("Prove");
    browser.go(&format!("{}/{prove}", shop.address)).await;
    browser.wait("[name='take-catch']").await;
    let place = "const e = document.activeElement, r = e.getBoundingClientRect(), m = e.closest('.do, .see'); \
        return [e.getAttribute('name') || e.innerText, m ? m.className : '', r.top, r.left]";
    browser.client.execute("document.querySelector('[name=a_g]').focus()", vec![]).await.expect("a script");
    let mut seen = Vec::new();
    for _ in 0..7 {
        let at = browser.client.execute(place, vec![]).await.expect("a script");
        seen.push((at[0].as_str().unwrap_or_default().to_string(), at[2].as_f64().unwrap_or(0.0)));
        browser.keys("\u{e004}").await;
    }
    let names: Vec<&str> = seen.iter().map(|(n, _)| n.as_str()).collect();
    assert_eq!(names, ["a_g", "b_g", "scale", "a_kpa", "b_kpa", "caught_watch_s", "lift_mm"]);
    assert!(seen.windows(2).all(|w| w[1].1 >= w[0].1 - 1.0), "focus goes down the page: {seen:?}");
    // While typing a key is a letter.
    browser.client.execute("document.querySelector('[name=a_g]').focus()", vec![]).await.expect("a script");
    browser.keys("b?s1").await;
    assert_eq!(
        browser.client.current_url().await.expect("an address").path(),
        format!("/{}", prove.split('?').next().unwrap_or(""))
    );
    browser.client.execute("document.activeElement.blur()", vec![]).await.expect("a script");
    // The stopwatch by `s`, stations by number, the list by `?`, the board by `b`.
    browser.keys("s").await;
    browser.wait_text("Stop ·").await;
    browser.keys("s").await;
    browser.wait_text("Watch · s").await;
    browser.keys("6").await;
    browser.wait("button[name='close-note']").await;
    browser.keys("?").await;
    browser.wait("#keys-title").await;
    browser.wait_text("stopwatch of the catch").await;
    browser.keys("\u{e00c}").await;
    browser.gone("#keys-title").await;
    browser.keys("b").await;
    browser.wait(".next").await;
    drop(browser);
    shop.close().await;
}

fn luminance(hex: &str) -> f64 {
    let channel = |i: usize| {
        let c = f64::from(u8::from_str_radix(&hex[i..i + 2], 16).expect("a colour")) / 255.0;
        if c <= 0.040_45 { c / 12.92 } else { ((c + 0.055) / 1.055).powf(2.4) }
    };
    0.2126 * channel(1) + 0.7152 * channel(3) + 0.0722 * channel(5)
}

fn contrast(a: &str, b: &str) -> f64 {
    let (a, b) = (luminance(a), luminance(b));
    (a.max(b) + 0.05) / (a.min(b) + 0.05)
}

#[test]
fn every_text_and_state_token_reads_on_its_grounds() {
    assert!((contrast("#000000", "#FFFFFF") - 21.0).abs() < 1e-9);
    let tokens: Value = serde_json::from_str(include_str!("../../../../web/src/app/tokens.json")).expect("the token file");
    for theme in ["day", "booth"] {
        let token = |name: &str| tokens[theme][name].as_str().unwrap_or_else(|| panic!("{theme} has no {name}"));
        for text in ["ink", "verdigris", "oxide", "ochreText", "slate"] {
            for ground in ["ground", "panel"] {
                let c = contrast(token(text), token(ground));
                assert!(c >= 4.5, "{theme}: {text} on {ground} is {c:.2} : 1");
            }
        }
        assert!(contrast(token("onVerdigris"), token("verdigris")) >= 4.5, "{theme}: button text");
        // Graphics that carry a state: WCAG 2.1, 1.4.11, 3 : 1.
        for state in ["verdigris", "oxide", "ochre", "slate"] {
            let c = contrast(token(state), token("vial"));
            assert!(c >= 3.0, "{theme}: bubble {state} on the vial is {c:.2} : 1");
        }
    }
}

/// Paper is white: a card printed from a dark booth is dark on white, and the screen stays as it was.
#[sqlx::test(migrations = "../server/migrations")]
async fn what_is_printed_is_printed_by_day(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.go(&shop.address).await;
    browser.client.execute("localStorage.setItem('level-keel-theme', 'booth')", vec![]).await.expect("a script");
    browser.sign_in(&shop.address, "Celo Wick", "3579").await;
    let record = browser.read("/api/v1/records").await["rows"][0]["id"].as_str().expect("a record").to_string();
    browser.go(&format!("{}/batches/{record}/card", shop.address)).await;
    browser.wait(".card .rows").await;
    let ink = async || {
        let light = "const c = getComputedStyle(document.querySelector('.card h1')).color.match(/[0-9.]+/g).map(Number); return (c[0] + c[1] + c[2]) / 765";
        browser.client.execute(light, vec![]).await.expect("a script").as_f64().expect("a number")
    };
    assert!(ink().await > 0.6, "light on a dark booth");
    browser.as_printed().await;
    browser.until("dark ink", async || ink().await < 0.3).await;
    let seen = "return ['.top', '.rack'].map((c) => document.querySelector(c).getBoundingClientRect().height)";
    assert_eq!(
        browser.client.execute(seen, vec![]).await.expect("a script"),
        serde_json::json!([0, 0]),
        "neither header nor rack"
    );
    // No level and no row of the log is torn between two pages.
    let torn = "return [...document.querySelectorAll('.card .level, .card .rows tr')].filter(e => getComputedStyle(e).breakInside !== 'avoid').length";
    assert_eq!(browser.client.execute(torn, vec![]).await.expect("a script"), 0, "torn between pages");
    let kept = browser.client.execute("return localStorage.getItem('level-keel-theme')", vec![]).await.expect("a script");
    assert_eq!(kept, "booth");
    // The plan of the pots is a table of what is poured; what is pressed or typed is not on paper, at no station.
    let pressed = "return [...document.querySelectorAll('main button:not(.tooth *), main input, .log')].filter(e => e.getBoundingClientRect().height > 0 && getComputedStyle(e).visibility !== 'hidden').map(e => e.outerHTML.slice(0, 90))";
    let id = browser.batch("Buoy 8").await;
    browser.go(&format!("{}/batches/{id}?at=2", shop.address)).await;
    browser.wait("button[name='mix-plan']").await;
    browser.tap("mix-plan").await;
    browser.as_printed().await;
    browser.wait_text("One tared vessel shows").await;
    // What holds it and what can hurt goes along on paper, whole.
    browser.wait_text("Hold Pot 3 cannot be sprayed yet").await;
    browser.wait_text("The data sheet, local codes and licensed practice rule.").await;
    assert_eq!(browser.client.execute(pressed, vec![]).await.expect("a script"), serde_json::json!([]));
    drop(browser);
    shop.close().await;
}

/// Who asked the system for less motion gets none: what opens is there at once.
#[sqlx::test(migrations = "../server/migrations")]
async fn less_motion_is_none(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    // The longest any element takes to change, in seconds.
    let longest = async || {
        browser.press("person").await;
        browser.wait("#person-title").await;
        let slowest = "return Math.max(...[...document.querySelectorAll('*')].flatMap((e) => { const c = getComputedStyle(e);
            return (c.transitionDuration + ',' + c.animationDuration).split(',').map(parseFloat); }).filter((s) => !isNaN(s)))";
        let found = browser.client.execute(slowest, vec![]).await.expect("a script").as_f64().expect("seconds");
        browser.keys("\u{e00c}").await;
        browser.gone("#person-title").await;
        found
    };
    browser.motion(false).await;
    assert!(longest().await >= 0.1, "what opens is seen to come");
    browser.motion(true).await;
    assert!(longest().await <= 0.001);
    drop(browser);
    shop.close().await;
}
