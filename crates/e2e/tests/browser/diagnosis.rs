//! From a defect by its picture to its cause, to its repair, and the story of the part.

use crate::access::{AXE, found};
use level_keel_e2e::{Browser, Shop};
use serde_json::json;
use sqlx::PgPool;

#[sqlx::test(migrations = "../server/migrations")]
async fn a_defect_to_its_cause_to_its_repair(db: PgPool) {
    let shop = Shop::open(db).await;
    let axe = std::fs::read_to_string(AXE).expect("npm ci has run");
    let browser = Browser::start().await;
    browser.size(1280, 657).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let records = browser.read("/api/v1/records?find=Flume%20section%2011").await;
    let book = records["rows"][0]["id"].as_str().expect("a finished batch").to_string();
    let at = format!("{}/batches/{book}?at=6", shop.address);
    browser.go(&at).await;
    browser.press("close-defects").await;
    // Twenty pictures, none below the fold.
    browser.wait("[name='symptom-pulsing_fan']").await;
    let fold = "const a = document.querySelector(\"[name='symptom-pulsing_fan']\").getBoundingClientRect();
        const l = document.querySelector('.log').getBoundingClientRect(); return a.bottom <= l.top + 1";
    assert_eq!(browser.client.execute(fold, vec![]).await.expect("a script"), json!(true), "every picture is seen");
    assert_eq!(found(&browser, &axe).await, Vec::<String>::new(), "the pictures to choose from");
    browser.press("symptom-porosity").await;
    browser.wait("select[name='defect-zone'] option:nth-child(2)").await;
    let lip = "return [...document.querySelectorAll(\"select[name='defect-zone'] option\")].find(o => o.text === 'lip').value";
    let lip = browser.client.execute(lip, vec![]).await.expect("a script");
    browser.fill("defect-zone", lip.as_str().expect("a zone")).await;
    browser.fill("defect-text", "as many as grains of sand").await;
    browser.press("write-defect").await;
    browser.wait_text("Nothing in the record speaks for any cause. Look.").await;
    // What speaks against a cause leads to its entry in the log.
    browser.press("cause-first_pass_heavy").await;
    browser.wait_text("First pass on lip").await;
    browser.click("a[href*='entry=']").await;
    browser.wait("tr.shown-entry").await;
    browser.wait_text("Comb at lip").await;
    browser.go(&at).await;
    browser.press("close-defects").await;
    browser.wait("button[name='look-yes']").await;
    assert_eq!(found(&browser, &axe).await, Vec::<String>::new(), "causes and evidence");
    // The look that parts the two that lead is answered; another one is asked.
    let question = "return document.querySelector('.look-next b').innerText";
    let first = browser.client.execute(question, vec![]).await.expect("a script");
    browser.fill("look-seen", "colder by the hand").await;
    browser.press("look-yes").await;
    browser
        .until("another look is asked", async || browser.client.execute(question, vec![]).await.expect("a script") != first)
        .await;
    browser.wait_text("The record speaks a little for").await;
    // Settled by a lead.
    browser.press("settle").await;
    browser.fill("settled-text", "the mould stood outside over night").await;
    browser.press("save-settled").await;
    browser.gone(".MuiDialog-root").await;
    browser.wait_text("the mould stood outside over night").await;
    // Its repair begins with the part, the zone, its area and the sheet filled in.
    browser.press("begin-repair").await;
    browser.wait_text("It repairs a defect").await;
    let typed = "return [...document.querySelectorAll('input')].map((i) => i.value)";
    browser
        .until("the form knows the part", async || {
            let values = browser.client.execute(typed, vec![]).await.expect("a script").to_string();
            ["Flume section 11", "gel coat mend", "lip"].iter().all(|v| values.contains(v))
        })
        .await;
    browser.wait("button[name='begin-batch']:not([disabled])").await;
    browser.press("begin-batch").await;
    browser.wait_text("gel coat mend").await;
    browser.wait("[name='close-defects'], .waterline").await;
    // Linked both ways, and one story.
    browser.go(&at).await;
    browser.press("close-defects").await;
    browser.wait_text("Repaired by").await;
    browser.click(".defect-chips a.export").await;
    browser.wait_text("Repair begun").await;
    browser.wait_text("Porosity on lip: as many as grains of sand").await;
    browser.wait_text("the mould stood outside over night").await;
    assert_eq!(found(&browser, &axe).await, Vec::<String>::new(), "the story of a part");
    drop(browser);
    shop.close().await;
}
