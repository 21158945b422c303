//! Takes the pictures of `docs/screenshots` from a running demo: `pictures ADDRESS FOLDER [theme]`.

use level_keel_e2e::Browser;
use serde_json::Value;
use std::path::Path;

#[tokio::main]
async fn main() {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let [address, folder, rest @ ..] = args.as_slice() else {
        eprintln!("pictures ADDRESS FOLDER [booth|small]");
        std::process::exit(2);
    };
    let mode = rest.first().map(String::as_str).unwrap_or_default();
    let browser = Browser::start().await;
    let shot = async |name: &str| browser.picture(&Path::new(folder).join(format!("{name}.png"))).await;
    if mode == "small" {
        browser.size(1280, 657).await;
    }
    browser.go(address).await;
    browser.wait(".names button").await;
    shot("sign-in").await;
    if mode == "booth" {
        browser.client.execute("localStorage.setItem('level-keel-theme', 'booth')", vec![]).await.expect("a script");
    }
    browser.sign_in(address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    shot("board").await;
    for (name, path, wait) in [("sheets", "sheets", ".rows"), ("records", "records", ".rows"), ("begin", "begin", ".station")] {
        browser.go(&format!("{address}/{path}")).await;
        browser.wait(wait).await;
        if name == "sheets" {
            shot(name).await;
            browser.click(".rows a").await;
            browser.wait("form.form").await;
            shot("sheet").await;
        } else if name == "begin" {
            browser.wait("select[name='sheet'] option:nth-child(2)").await;
            let pick =
                "return [...document.querySelectorAll('select[name=sheet] option')].find(o => o.text.startsWith('Island')).value";
            let sheet = browser.client.execute(pick, vec![]).await.expect("a script");
            browser.fill("sheet", sheet.as_str().unwrap_or_default()).await;
            for (field, text) in
                [("part", "Buoy 9"), ("coat", "primer"), ("area_m2", "11.4 m2"), ("film_um", "4 mil"), ("thinner_pct", "5")]
            {
                browser.fill(field, text).await;
            }
            browser.wait(".live").await;
            shot(name).await;
        } else {
            shot(name).await;
        }
    }
    let board = browser
        .client
        .execute_async("const d = arguments[0]; fetch('/api/v1/board').then(r => r.json()).then(d)", vec![])
        .await
        .expect("the board");
    let find = |part: &str| {
        let rows = board["batches"].as_array().cloned().unwrap_or_default();
        let row = rows.iter().find(|b| b["label"].as_str().is_some_and(|l| l.starts_with(part))).map(|b| b["id"].clone());
        row.and_then(|id| id.as_str().map(String::from)).unwrap_or_default()
    };
    for (name, part, at) in [
        ("ready", "Buoy 7", 1),
        ("mix", "Buoy 8", 2),
        ("set", "Buoy 7", 3),
        ("prove", "Buoy 7", 4),
        ("spray", "Buoy 7", 5),
        ("close", "Buoy 7", 6),
    ] {
        browser.go(&format!("{address}/batches/{}?at={at}", find(part))).await;
        browser.wait(".station .see").await;
        shot(name).await;
    }
    let records: Value = browser
        .client
        .execute_async("const d = arguments[0]; fetch('/api/v1/records').then(r => r.json()).then(d)", vec![])
        .await
        .expect("the records");
    browser.go(&format!("{address}/batches/{}/card", records[0]["id"].as_str().unwrap_or_default())).await;
    browser.wait("article.card").await;
    shot("card").await;
    browser.client.clone().close().await.expect("the browser closes");
}
