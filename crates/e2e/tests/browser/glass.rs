//! The room on the glass: what each part of a batch may take of it, nothing cut at an edge unmarked, no grey button without a reason;
//! and the strip, which says what holds the work and what is to be answered.

use super::access::theme;
use level_keel_e2e::{Browser, Shop};
use sqlx::PgPool;

/// Text of a picture that stands under twelve dots on the glass.
const SMALL: &str = "return [...document.querySelectorAll('.station svg text')].filter(t => t.getBoundingClientRect().width > 0)
    .map(t => [parseFloat(getComputedStyle(t).fontSize) * t.getScreenCTM().a, t.textContent]).filter(([px]) => px < 11.95)
    .map(([px, text]) => text + ' ' + px.toFixed(1))";

/// Buttons that cannot be pressed and do not say beside them what they wait for.
const GREY: &str = "return [...document.querySelectorAll('button.MuiButton-root:disabled, button.go:disabled')]
    .filter(b => b.offsetParent && !document.getElementById(b.getAttribute('aria-describedby'))?.textContent.trim())
    .map(b => b.outerHTML.slice(-120))";

/// The buttons that are grey without a reason.
pub async fn grey(browser: &Browser) -> Vec<String> {
    let found = browser.client.execute(GREY, vec![]).await.expect("a script");
    let found: Vec<String> = serde_json::from_value(found).expect("texts");
    found.into_iter().map(|b| format!("grey without a reason: {b}")).collect()
}

/// What is wanted first on a tab and ends below the glass, 61 dots above its foot.
const LOW: &str = "const first = (css) => [...document.querySelectorAll(css)].find(e => e.offsetParent);
    return [first('.station .do .MuiButton-contained'), first('.station .live'), first('.station .level.big')]
    .filter(e => e && e.getBoundingClientRect().bottom > innerHeight - 61)
    .map(e => e.outerHTML.slice(0, 80) + ' ' + Math.ceil(e.getBoundingClientRect().bottom))";

/// Places of which something lies beyond the lower or the right edge, with no mark at that edge that shows it on a tap.
const CLIPPED: &str = "const boxes = (css) => [...document.querySelectorAll(css)].map(b => b.getBoundingClientRect());
    const below = boxes('.more-beyond.below'), beside = boxes('.more-beyond.beside');
    const marks = [...below, ...beside], over = (a, b) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;
    const out = marks.some((a, i) => marks.some((b, j) => j > i && over(a, b))) ? ['two marks lie over each other'] : [], say = (e, px) => out.push(e.outerHTML.slice(0, 90) + ' ' + px);
    for (const e of document.querySelectorAll('body *')) {
        if (!e.offsetParent || e.tagName === 'TEXTAREA' || e.tagName === 'INPUT' || e.closest('[aria-hidden=true]')) continue;
        const css = getComputedStyle(e), box = e.getBoundingClientRect();
        if (box.top > innerHeight - 48 || box.left > innerWidth - 48) continue;
        const foot = Math.min(box.bottom, innerHeight), side = Math.min(box.right, innerWidth);
        const under = e.scrollHeight - e.clientHeight - e.scrollTop, after = e.scrollWidth - e.clientWidth - e.scrollLeft;
        if (under >= 20 && e.clientHeight >= 60 && css.overflowY !== 'visible') {
            const marked = /auto|scroll/.test(css.overflowY) && below.some(m => Math.abs(m.bottom - foot) < 60 && m.right <= side + 1 && m.right > box.left);
            if (!marked) say(e, under + ' below');
        }
        // Words that end in an ellipsis are said whole elsewhere.
        if (after >= 20 && foot - Math.max(box.top, 0) >= 110 && e.clientWidth >= 60 && css.overflowX !== 'visible' && css.textOverflow !== 'ellipsis') {
            const marked = /auto|scroll/.test(css.overflowX) && beside.some(m => Math.abs(m.right - side) < 3 && m.top < foot && m.bottom > box.top);
            if (!marked) say(e, after + ' beside');
        }
    }
    return out";

/// What lies beyond an edge unmarked once everything is drawn: a mark follows what it marks within half a second, so it is looked at
/// again.
pub async fn cut(browser: &Browser) -> Vec<String> {
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
                assert_eq!(grey(&browser).await, Vec::<String>::new(), "{place}");
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

/// A title of two lines leaves every line beneath it whole: the strip lies under it, never over it. The header's words keep apart.
#[sqlx::test(migrations = "../server/migrations")]
async fn no_line_of_a_long_title_is_covered(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Dunja Fenn", "4680").await;
    let id = browser.batch("Slip ladder 2").await;
    for (width, height) in [(1280, 657), (1280, 800), (800, 1280)] {
        browser.size(width, height).await;
        browser.go(&format!("{}/batches/{id}?at=3", shop.address)).await;
        browser.wait(".station .do").await;
        // What lies on the glass at the middle of each line's lower edge must be the title itself.
        let covered = "return [...document.querySelectorAll('.batch-title > *')].flatMap(e => {
            const range = document.createRange(); range.selectNodeContents(e);
            return [...range.getClientRects()].filter(r => r.width && !e.contains(document.elementFromPoint(r.left + 4, r.bottom - 3)))
                .map(r => e.textContent + ' at ' + Math.round(r.bottom)) })";
        let covered = browser.client.execute(covered, vec![]).await.expect("a script");
        assert_eq!(covered, serde_json::json!([]), "{width}×{height}");
        // The header's words keep apart.
        let touching = "const boxes = [...document.querySelectorAll('.top > *')].map(e => {
                const range = document.createRange(); range.selectNodeContents(e.tagName === 'NAV' ? e.lastChild : e);
                const { left, right, width } = range.getBoundingClientRect();
                return [e.textContent, { left, right: e.tagName === 'NAV' ? Math.min(right, e.getBoundingClientRect().right) : right, width }] }).filter(([, r]) => r.width);
            return boxes.slice(1).filter(([, r], i) => r.left - boxes[i][1].right < 6).map(([text]) => text)";
        let touching = browser.client.execute(touching, vec![]).await.expect("a script");
        assert_eq!(touching, serde_json::json!([]), "{width}×{height}");
    }
    drop(browser);
    shop.close().await;
}

/// A fact that broke a rule is said in the strip of every station until it is answered; its button leads to where it is.
#[sqlx::test(migrations = "../server/migrations")]
async fn what_is_to_be_answered_stands_in_the_strip(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let id = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{id}?at=5", shop.address)).await;
    browser.wait("button[name='stamp-pass']").await;
    let line = "return document.querySelector('.strip-line').innerText";
    let said = async || browser.client.execute(line, vec![]).await.expect("a script").as_str().expect("words").to_string();
    assert!(!said().await.contains("To answer"), "{}", said().await);
    // Beside 1.15 L of the pass before, of a pot of 1.9 L.
    browser.fill("used_ml", "9 L").await;
    browser.press("stamp-pass").await;
    browser.until("the strip does not say it", async || said().await.contains("To answer 10.15")).await;
    // At another station too.
    browser.go(&format!("{}/batches/{id}?at=2", shop.address)).await;
    browser.wait_text("To answer").await;
    browser.press("to-answer").await;
    browser.wait_text("Deviations, with their answers").await;
    browser.gone("button[name='to-answer']").await;
    browser.press("answer").await;
    browser.fill("reason", "read off the wrong mark").await;
    browser.press("confirm-reason").await;
    browser.until("it still asks", async || !said().await.contains("To answer")).await;
    drop(browser);
    shop.close().await;
}
