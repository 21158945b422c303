//! Every view in both themes, read by axe: nothing serious. And the tokens: every text and state colour reads
//! on its ground (WCAG 2.1, 1.4.3: 4.5 : 1).

use level_keel_e2e::{Browser, Shop, stress};
use serde_json::Value;
use sqlx::PgPool;

const AXE: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/node_modules/axe-core/axe.min.js");

async fn read(browser: &Browser, view: &str, axe: &str) {
    let grey = browser.client.execute(GREY, vec![]).await.expect("a script");
    assert_eq!(grey, serde_json::json!([]), "{view}: grey without a reason");
    browser.client.execute(axe, vec![]).await.expect("axe loads");
    let run = "const d = arguments[0]; axe.run(document, { resultTypes: ['violations'], preload: false }).then(r => d(r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.map(n => n.html.slice(0, 120)).join(' | '))))";
    let found = browser.client.execute_async(run, vec![]).await.expect("axe runs");
    let found: Vec<String> = serde_json::from_value(found).expect("texts");
    assert!(found.is_empty(), "{view}: {found:#?}");
}

/// Every view of the shop, with what to wait for.
async fn views(browser: &Browser, part: &str) -> Vec<(String, &'static str)> {
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

async fn theme(browser: &Browser, name: &str) {
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
    browser.wait_text("Start the watch").await;
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

/// Text of a picture that stands under twelve dots on the glass.
const SMALL: &str = "return [...document.querySelectorAll('.station svg text')].filter(t => t.getBoundingClientRect().width > 0)
    .map(t => [parseFloat(getComputedStyle(t).fontSize) * t.getScreenCTM().a, t.textContent]).filter(([px]) => px < 11.95)
    .map(([px, text]) => text + ' ' + px.toFixed(1))";

/// Buttons that cannot be pressed and do not say beside them what they wait for.
const GREY: &str = "return [...document.querySelectorAll('button.MuiButton-root:disabled, button.go:disabled')]
    .filter(b => b.offsetParent && !b.getAttribute('aria-describedby')).map(b => b.outerHTML.slice(-120))";

/// What is wanted first on a tab and ends below the glass, 61 dots above its foot.
const LOW: &str = "const first = (css) => [...document.querySelectorAll(css)].find(e => e.offsetParent);
    return [first('.station .do .MuiButton-contained'), first('.station .live'), first('.station .level.big')]
    .filter(e => e && e.getBoundingClientRect().bottom > innerHeight - 61)
    .map(e => e.outerHTML.slice(0, 80) + ' ' + Math.ceil(e.getBoundingClientRect().bottom))";

/// Places of which something lies beyond the lower or the right edge, with no mark at that edge that shows it on a tap.
const CLIPPED: &str = "const boxes = (css) => [...document.querySelectorAll(css)].map(b => b.getBoundingClientRect());
    const below = boxes('.more-beyond.below'), beside = boxes('.more-beyond.beside');
    const out = [], say = (e, px) => out.push(e.outerHTML.slice(0, 90) + ' ' + px);
    for (const e of document.querySelectorAll('body *')) {
        if (!e.offsetParent || e.tagName === 'TEXTAREA' || e.tagName === 'INPUT' || e.closest('[aria-hidden=true]')) continue;
        const css = getComputedStyle(e), box = e.getBoundingClientRect();
        if (box.top > innerHeight - 48 || box.left > innerWidth - 48) continue;
        const foot = Math.min(box.bottom, innerHeight), side = Math.min(box.right, innerWidth);
        const under = e.scrollHeight - e.clientHeight - e.scrollTop, after = e.scrollWidth - e.clientWidth - e.scrollLeft;
        if (under >= 20 && e.clientHeight >= 60 && css.overflowY !== 'visible') {
            const marked = /auto|scroll/.test(css.overflowY) && below.some(m => Math.abs(m.bottom - foot) < 3 && m.right <= side + 1 && m.right > box.left);
            if (!marked) say(e, under + ' below');
        }
        // Words that end in an ellipsis are said whole elsewhere.
        if (after >= 20 && e.clientWidth >= 60 && css.overflowX !== 'visible' && css.textOverflow !== 'ellipsis') {
            const marked = /auto|scroll/.test(css.overflowX) && beside.some(m => Math.abs(m.right - side) < 3 && m.top < foot && m.bottom > box.top);
            if (!marked) say(e, after + ' beside');
        }
    }
    return out";

/// What lies beyond an edge unmarked once everything is drawn: a mark follows what it marks within half a second, so it is looked at
/// again.
async fn cut(browser: &Browser) -> Vec<String> {
    let frames = "const done = arguments[0], next = (n) => n ? requestAnimationFrame(() => next(n - 1)) : done(); next(4)";
    let mut found = Vec::new();
    for _ in 0..40 {
        browser.client.execute_async(frames, vec![]).await.expect("frames");
        let seen = browser.client.execute(CLIPPED, vec![]).await.expect("a script");
        found = serde_json::from_value(seen).expect("texts");
        if found.is_empty() {
            break;
        }
    }
    found
}

/// What each part of a batch may take of the height, in dots.
#[derive(Clone, Copy)]
struct Limits {
    band: i64,
    strip: i64,
    /// Where the work begins.
    from: i64,
    log: i64,
    scrolls: bool,
}

/// Title and waterline in one band, what holds and what can hurt in one strip: the rest of the glass is for the work, at every
/// station and tab, in both themes, with a hold and cautions there.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_head_leaves_the_room_to_the_work(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let id = browser.batch("Buoy 8").await;
    let measure = "const box = (css) => document.querySelector(css)?.getBoundingClientRect();
        const of = (css) => Math.ceil(box(css)?.height ?? 0);
        return { header: of('.top'), band: of('.batch-head'), strip: of('.strip'), tabs: of('.station-tabs'), log: of('.log'),
                 from: Math.ceil(box('.station').top), to: Math.floor(box('.station').bottom), page: innerHeight,
                 beyond: document.documentElement.scrollHeight }";
    // Wide, an upright tablet with the pots in a band above, and a phone whose page scrolls as one under a title of its own.
    let wide = Limits { band: 112, strip: 48, from: 212, log: 50, scrolls: false };
    let upright = Limits { from: 212 + 96, ..wide };
    let phone = Limits { band: 150, strip: 130, from: 470, log: 200, scrolls: true };
    for (name, width, height, most) in [
        ("day", 1280, 657, wide),
        ("booth", 1280, 657, wide),
        ("day", 1280, 800, wide),
        ("day", 800, 1280, upright),
        ("booth", 390, 844, phone),
    ] {
        browser.size(width, height).await;
        theme(&browser, name).await;
        for station in 1..=6 {
            browser.go(&format!("{}/batches/{id}?at={station}", shop.address)).await;
            browser.wait(".station .do, .station .empty").await;
            let tabs = browser.client.execute("return document.querySelectorAll('.station-tabs button').length", vec![]).await;
            for tab in 0..tabs.expect("a script").as_u64().expect("a number").max(1) {
                let press = "document.querySelectorAll('.station-tabs button')[arguments[0]]?.click()";
                browser.client.execute(press, vec![tab.into()]).await.expect("a script");
                let at = browser.client.execute(measure, vec![]).await.expect("a script");
                let px = |part: &str| at[part].as_i64().expect("a measure");
                let place = format!("{name}, {width}×{height}, station {station}, tab {tab}: {at}");
                assert!(px("header") <= 52 && px("band") <= most.band && px("strip") <= most.strip, "{place}");
                assert!(px("strip") > 0, "a hold and cautions are there: {place}");
                assert!(px("tabs") <= 50 && px("log") <= most.log && px("from") <= most.from, "{place}");
                assert!(px("beyond") <= px("page"), "the page never scrolls: {place}");
                if !most.scrolls {
                    assert!(px("to") >= px("page") - 50, "{place}");
                    // The first primary action, the live figure and the large level are seen without scrolling.
                    let low = browser.client.execute(LOW, vec![]).await.expect("a script");
                    assert_eq!(low, serde_json::json!([]), "{place}");
                }
                let grey = browser.client.execute(GREY, vec![]).await.expect("a script");
                assert_eq!(grey, serde_json::json!([]), "grey without a reason: {place}");
                browser.still().await;
                assert_eq!(cut(&browser).await, Vec::<String>::new(), "beyond an edge, and nothing shows it: {place}");
                let small = browser.client.execute(SMALL, vec![]).await.expect("a script");
                assert_eq!(small, serde_json::json!([]), "text of a picture under 12 px: {place}");
            }
        }
    }
    // On a phone a pass is stamped without scrolling.
    let sprayed = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{sprayed}?at=5", shop.address)).await;
    let stamp = browser.wait("button[name='stamp-pass']").await;
    let (_, top, _, height) = stamp.rectangle().await.expect("a place");
    assert!(top + height <= 844.0 - 48.0, "the stamp ends at {}", top + height);
    browser.size(1280, 657).await;
    browser.go(&format!("{}/batches/{id}?at=1", shop.address)).await;
    browser.wait(".station .do").await;
    // A tap opens all of it over the work, and the work does not move; another closes it.
    let top = "return Math.ceil(document.querySelector('.station').getBoundingClientRect().top)";
    let before = browser.client.execute(top, vec![]).await.expect("a script");
    browser.press("open-strip").await;
    for said in ["Bond and earth", "The data sheet, local codes and licensed practice rule."] {
        browser.wait_text(said).await;
    }
    assert_eq!(browser.client.execute(top, vec![]).await.expect("a script"), before);
    browser.press("open-strip").await;
    browser.gone(".strip-all").await;
    drop(browser);
    shop.close().await;
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
    let kept = browser.client.execute("return localStorage.getItem('level-keel-theme')", vec![]).await.expect("a script");
    assert_eq!(kept, "booth");
    drop(browser);
    shop.close().await;
}
