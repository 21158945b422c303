//! Every view in both themes, read by axe: nothing serious. And the tokens: every text and state colour reads
//! on its ground (WCAG 2.1, 1.4.3: 4.5 : 1).

use level_keel_e2e::{Browser, Shop};
use serde_json::Value;
use sqlx::PgPool;

const AXE: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/node_modules/axe-core/axe.min.js");

async fn read(browser: &Browser, view: &str, axe: &str) {
    browser.client.execute(axe, vec![]).await.expect("axe loads");
    let run = "const d = arguments[0]; axe.run(document, { resultTypes: ['violations'], preload: false }).then(r => d(r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.map(n => n.html.slice(0, 120)).join(' | '))))";
    let found = browser.client.execute_async(run, vec![]).await.expect("axe runs");
    let found: Vec<String> = serde_json::from_value(found).expect("texts");
    assert!(found.is_empty(), "{view}: {found:#?}");
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
    let id = "const d = arguments[0]; fetch('/api/v1/board').then(r => r.json()).then(b => d(b.batches.find(x => x.label.startsWith('Buoy 7')).id))";
    let id = browser.client.execute_async(id, vec![]).await.expect("the board");
    let batch = format!("batches/{}", id.as_str().expect("an id"));
    let mut views = vec![
        ("".to_string(), ".next"),
        ("sheets".into(), ".rows"),
        ("sheets/new".into(), "form.form"),
        ("records".into(), ".rows"),
        ("begin".into(), ".station"),
        (format!("{batch}/card"), ".card"),
    ];
    views.extend((1..=6).map(|n| (format!("{batch}?at={n}"), ".station .see")));
    for theme in ["day", "booth"] {
        browser
            .client
            .execute("localStorage.setItem('level-keel-theme', arguments[0])", vec![theme.into()])
            .await
            .expect("a script");
        for (path, wait) in &views {
            browser.go(&format!("{base}/{path}")).await;
            browser.wait(wait).await;
            read(&browser, &format!("{theme} /{path}"), &axe).await;
        }
    }
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
    let tokens: Value = serde_json::from_str(include_str!("../../../web/src/app/tokens.json")).expect("the token file");
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
