//! What opens over a view: each dialog and each drawer lies whole on the glass, holds the focus, says why a button is grey, and gives
//! the focus back when it is left.

use super::access::{AXE, found, theme, views};
use super::glass::{cut, grey};
use level_keel_e2e::{Browser, Shop};
use sqlx::PgPool;
use std::collections::BTreeSet;

/// What opens a dialog here, or within the one that is open, and what it is called: of forty like buttons of a table one is enough.
const OPENERS: &str = "const kind = (b) => b.closest('tr, .place-acts') ? (b.name || b.innerText).split('-')[0].trim() + ' of a row' : b.name || b.innerText.split(':')[0].trim();
    const over = [...document.querySelectorAll('.MuiDialog-paper, .MuiDrawer-paper')].at(-1);
    const all = [...(over ?? document).querySelectorAll('[aria-haspopup=dialog]')].filter(b => b.offsetParent);
    if (arguments.length === 0) return all.map(kind);
    const b = all.find(b => kind(b) === arguments[0]);
    b.scrollIntoView({ block: 'nearest' }); b.focus(); window.opener_of_this = b; b.click()";

/// Those that stand in the demo whenever it is opened: the test has looked at each.
const SOME: [&str; 22] = [
    "find",
    "person",
    "person, Keys",
    "person, hands-and-ears",
    "receive-lot",
    "new-place",
    "ask-counted",
    "ask-quarantined",
    "new-pair",
    "edit-coats",
    "clone-part",
    "add-item",
    "new-rig",
    "edit-rig",
    "new-piece",
    "add-person",
    "edit-shop",
    "in-hand",
    "open-log",
    "open-log, note",
    "release",
    "Open the working",
];

/// What is wrong with the one that lies on top.
const FITS: &str = "const over = [...document.querySelectorAll('.MuiDialog-paper, .MuiDrawer-paper')].at(-1), r = over.getBoundingClientRect();
    const out = [];
    if (r.left < 0 || r.right > innerWidth || r.top < 0 || r.bottom > innerHeight) out.push('it lies beyond the glass: ' + [r.left, r.right, r.top, r.bottom]);
    if (over.scrollWidth > over.clientWidth + 1) out.push('it scrolls sideways by ' + (over.scrollWidth - over.clientWidth));
    for (const e of over.querySelectorAll('*')) { const b = e.getBoundingClientRect();
        if (b.width > 0 && b.right > r.right + 1 && !e.closest('.ellipsis, .list, .table-room, .rig-line, svg')) out.push('sticks out: ' + e.outerHTML.slice(0, 80)); }
    for (const b of over.querySelectorAll('button')) if (b.offsetParent && !b.classList.contains('link') && b.getBoundingClientRect().height < 44)
        out.push('is too small: ' + b.outerHTML.slice(0, 80));
    if (!over.closest('.MuiModal-root').contains(document.activeElement)) out.push('the focus is outside');
    return out";

const HOW_MANY: &str = "return document.querySelectorAll('.MuiDialog-paper, .MuiDrawer-paper').length";

async fn open_now(browser: &Browser) -> u64 {
    browser.client.execute(HOW_MANY, vec![]).await.expect("a script").as_u64().expect("a number")
}

async fn openers(browser: &Browser) -> BTreeSet<String> {
    let found = browser.client.execute(OPENERS, vec![]).await.expect("a script");
    serde_json::from_value(found).expect("names")
}

/// Leaves what is open by Escape, and the focus goes back to what opened it.
async fn leave(browser: &Browser, at: &str) {
    browser.keys("\u{e00c}").await;
    browser.until(&format!("{at}: Escape leaves it"), async || open_now(browser).await == 0).await;
    let back = "const a = document.activeElement; return a === window.opener_of_this || !window.opener_of_this.isConnected";
    browser
        .until(&format!("{at}: the focus goes back"), async || {
            browser.client.execute(back, vec![]).await.expect("a script") == true
        })
        .await;
}

/// Opens it over the view it is in and looks at it.
async fn look(browser: &Browser, name: &str, at: &str, axe: Option<&str>, faults: &mut Vec<String>) {
    browser.client.execute(OPENERS, vec![name.into()]).await.expect("a script");
    browser.wait(".MuiDialog-paper, .MuiDrawer-paper").await;
    browser.still().await;
    let beyond = browser.client.execute(FITS, vec![]).await.expect("a script");
    let beyond: Vec<String> = serde_json::from_value(beyond).expect("texts");
    faults.extend(beyond.into_iter().map(|f| format!("{at}: {f}")));
    faults.extend(cut(browser).await.into_iter().map(|f| format!("{at} is cut: {f}")));
    let more = if let Some(axe) = axe { found(browser, axe).await } else { grey(browser).await };
    faults.extend(more.into_iter().map(|f| format!("{at}: {f}")));
}

#[sqlx::test(migrations = "../server/migrations")]
async fn every_dialog_fits(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    browser.sign_in(&base, "Dunja Fenn", "4680").await;
    let mut all = views(&browser, "Buoy 8").await;
    all.extend(views(&browser, "Buoy 7").await.into_iter().filter(|(path, _)| path.contains("?at=")));
    let signed = browser.read("/api/v1/records").await["rows"][0]["id"].as_str().expect("a record").to_string();
    all.push((format!("batches/{signed}?at=6"), ".station"));
    all.push(("rigs#pieces".into(), ".rig-line, .rig-list"));
    let (mut seen, mut faults) = (BTreeSet::new(), Vec::new());
    // Colours are the same wherever a dialog lies: axe reads each once, on the phone.
    for (w, h, look_of, axe) in [(390, 844, "booth", Some(axe.as_str())), (1280, 657, "day", None)] {
        browser.size(w, h).await;
        theme(&browser, look_of).await;
        let mut known = BTreeSet::new();
        for (path, wait) in &all {
            let address = format!("{base}/{path}");
            browser.go(&address).await;
            browser.wait(wait).await;
            if path.ends_with("#pieces") {
                browser.press("rigs-pieces").await;
                browser.wait("button[name='new-piece']").await;
            }
            for name in openers(&browser).await {
                let view = if name.ends_with("of a row") && !path.contains("?at=") { path.as_str() } else { "" };
                if !known.insert(format!("{view} {name}").trim().to_string()) {
                    continue;
                }
                let at = format!("{w}×{h} /{path} {name}");
                look(&browser, &name, &at, axe, &mut faults).await;
                let within = openers(&browser).await;
                leave(&browser, &at).await;
                for inner in within {
                    if !known.insert(format!("{name}, {inner}")) {
                        continue;
                    }
                    browser.client.execute(OPENERS, vec![name.clone().into()]).await.expect("a script");
                    browser.wait(".MuiDialog-paper, .MuiDrawer-paper").await;
                    browser.still().await;
                    look(&browser, &inner, &format!("{at}, {inner}"), axe, &mut faults).await;
                    browser.go(&address).await;
                    browser.wait(wait).await;
                }
            }
        }
        seen.extend(known);
    }
    assert!(faults.is_empty(), "{faults:#?}");
    for name in SOME {
        assert!(seen.contains(name), "{name} was not opened: {seen:?}");
    }
    drop(browser);
    shop.close().await;
}
