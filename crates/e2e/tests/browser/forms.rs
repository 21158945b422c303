//! Forms of the page that no journey goes through: records found, people kept, the life of a lot, a card reopened, a proof by
//! catches, a batch begun wrong.

use level_keel_e2e::{Browser, Shop};
use serde_json::Value;
use sqlx::PgPool;

async fn script(browser: &Browser, source: &str) -> Value {
    browser.client.execute(source, vec![]).await.expect("a script")
}

/// Rows of the list on the page.
async fn rows(browser: &Browser) -> u64 {
    script(browser, "return document.querySelectorAll('.list tbody tr').length").await.as_u64().expect("a number")
}

async fn rows_are(browser: &Browser, many: u64) {
    browser.until(&format!("never {many} rows"), async || rows(browser).await == many).await;
}

/// Each field of the search finds what the records hold; the list taken along is the list shown.
#[sqlx::test(migrations = "../server/migrations")]
async fn records_are_found_by_each_field(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Celo Wick", "3579").await;
    let all = browser.read("/api/v1/records").await["rows"].as_array().expect("rows").clone();
    assert!(all.len() >= 2, "{all:?}");
    let like = |field: &str, text: &str| {
        let fits = |r: &&Value| r[field].to_string().to_lowercase().contains(&text.to_lowercase());
        all.iter().filter(fits).count() as u64
    };
    let newest = &all[0];
    let (product, lot) = (newest["product"].as_str().expect("a product"), newest["lots"][0].as_str().expect("a lot"));
    let part = newest["label"].as_str().expect("a label").split(" · ").next().expect("a part").to_string();
    browser.go(&format!("{}/records", shop.address)).await;
    rows_are(&browser, all.len() as u64).await;
    let person = newest["people"][0].as_str().expect("a person");
    for (name, text, found) in [
        ("part", part.as_str(), like("label", &part)),
        ("product", product, like("product", product)),
        ("lot", lot, like("lots", lot)),
        ("person", person, like("people", person)),
    ] {
        browser.fill(&format!("find-{name}"), text).await;
        rows_are(&browser, found).await;
        let taken = script(&browser, "return document.querySelector(\"a[href*='records.csv']\").getAttribute('href')").await;
        let csv = "const d = arguments[1]; fetch(arguments[0]).then(r => r.text()).then(d)";
        let csv = browser.client.execute_async(csv, vec![taken]).await.expect("an answer");
        let lines = csv.as_str().expect("a table").trim().lines().count() as u64;
        assert_eq!(lines, found + 1, "{name}: the list taken along is the list shown, and a line of names");
        browser.fill(&format!("find-{name}"), "").await;
        rows_are(&browser, all.len() as u64).await;
    }
    browser.fill("find-find", "no such thing").await;
    browser.wait_text("No finished batch fits").await;
    browser.fill("find-find", "").await;
    // A day of the search stands in the wrong order: it is said at its field, and no list is shown for it.
    browser.fill("find-from", "2031-02-01").await;
    browser.wait_text("No finished batch fits").await;
    browser.fill("find-from", "").await;
    rows_are(&browser, all.len() as u64).await;
    drop(browser);
    shop.close().await;
}

/// A role given, a PIN set anew that ends their sessions, someone retired who cannot sign in and is brought back.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_owner_keeps_people(db: PgPool) {
    let shop = Shop::open(db).await;
    let (owner, worker) = (Browser::start().await, Browser::start().await);
    worker.sign_in(&shop.address, "Ansa Reef", "1357").await;
    worker.wait(".next").await;
    owner.sign_in(&shop.address, "Dunja Fenn", "4680").await;
    owner.go(&format!("{}/people", shop.address)).await;
    owner.wait("[name='role-Ansa Reef']").await;
    let role = async || worker.read("/api/v1/session").await["role"].clone();
    assert_eq!(role().await, "applicator");
    owner.fill("role-Ansa Reef", "lead").await;
    owner.until("the role never changed", async || role().await == "lead").await;
    owner.fill("role-Ansa Reef", "applicator").await;
    owner.until("the role never changed back", async || role().await == "applicator").await;

    owner.press("pin-Ansa Reef").await;
    owner.fill("new-pin", "12").await;
    owner.press("save-pin").await;
    owner.wait("[role='dialog'] .Mui-error").await;
    owner.fill("new-pin", "9182").await;
    owner.press("save-pin").await;
    owner.gone("[role='dialog']").await;
    let board = "const d = arguments[0]; fetch('/api/v1/board').then(r => d(r.status))";
    assert_eq!(worker.client.execute_async(board, vec![]).await.expect("an answer"), 401, "their session is over");
    worker.sign_in(&shop.address, "Ansa Reef", "9182").await;
    worker.wait(".next").await;

    owner.press("retire-Ansa Reef").await;
    owner.wait_text("Bring back").await;
    assert_eq!(worker.client.execute_async(board, vec![]).await.expect("an answer"), 401);
    worker.go(&shop.address).await;
    worker.wait(".names button").await;
    assert!(!worker.text().await.contains("Ansa Reef"), "nobody retired is offered at the door");
    owner.press("retire-Ansa Reef").await;
    owner.wait_text("Ansa Reef").await;
    worker
        .until("never offered again", async || {
            worker.client.refresh().await.expect("a reload");
            worker.wait(".names button").await;
            worker.text().await.contains("Ansa Reef")
        })
        .await;
    // The owner alone stays owner: the last of them cannot be taken away.
    owner.fill("role-Dunja Fenn", "lead").await;
    owner.wait("p.refusal").await;
    assert_eq!(owner.read("/api/v1/session").await["role"], "owner");
    drop((owner, worker));
    shop.close().await;
}

/// Counted, moved, damaged, quarantined, freed, a note and a strike: the page says each, and who may not is not offered it.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_life_of_a_lot(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let lots = browser.read("/api/v1/lots?find=P-2215").await;
    let id = lots["lots"][0]["id"].as_str().expect("the lot").to_string();
    let lot = async || browser.read(&format!("/api/v1/lots/{id}")).await;
    browser.go(&format!("{}/stores/{id}", shop.address)).await;
    let ask = async |asked: &str, field: &str, text: &str| {
        browser.press(&format!("ask-{asked}")).await;
        browser.fill(field, text).await;
        browser.press("save-entry").await;
    };
    // A count that is no amount is refused at its field; nothing is written.
    ask("counted", "left_g", "plenty").await;
    browser.wait("[role='dialog'] .Mui-error").await;
    browser.fill("left_g", "110 lb").await;
    browser.press("save-entry").await;
    browser.gone("[role='dialog']").await;
    browser.until("never counted", async || lot().await["left"]["figure"] == "49.90").await;

    ask("moved", "entry-place", "").await;
    browser.wait_text("Where to?").await;
    browser.fill("entry-place", "Gel-coat room").await;
    browser.press("save-entry").await;
    browser.gone("[role='dialog']").await;
    browser.until("never moved", async || lot().await["place"]["name"] == "Gel-coat room").await;

    ask("damaged", "entry-reason", "dented on the rim").await;
    browser.wait_text("Container: dented on the rim").await;
    ask("quarantined", "entry-reason", "colour off").await;
    browser.wait("button[name='ask-freed']").await;
    assert_eq!(lot().await["state"], "quarantined");
    ask("freed", "entry-reason", "checked against the standard").await;
    browser.wait("button[name='ask-quarantined']").await;
    ask("note", "entry-text", "opened by the night shift").await;
    browser.wait_text("opened by the night shift").await;

    // The move is struck: it lies where it lay, and the line stays with its reason.
    let strike = "[...document.querySelectorAll('tr')].find(r => r.innerText.includes('Gel-coat room') && r.querySelector('button.link')).querySelector('button.link').click()";
    script(&browser, strike).await;
    browser.fill("reason", "wrong lot").await;
    browser.press("confirm-reason").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("wrong lot").await;
    browser.until("never back", async || lot().await["place"]["name"] == "Paint store").await;
    browser.wait("tr.struck s").await;
    drop(browser);
    shop.close().await;
}

/// A lead reopens a signed batch: the signatures are void, the card is no signed card, and both can be given again.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_card_is_reopened_and_signed_again(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    let records = browser.read("/api/v1/records").await;
    let closed = records["rows"].as_array().and_then(|r| r.iter().find(|r| r["state"] == "accepted")).expect("one accepted");
    let id = closed["id"].as_str().expect("an id").to_string();
    let at = format!("{}/batches/{id}?at=6", shop.address);
    browser.go(&at).await;
    browser.wait_text("The card is closed").await;
    let card = async || browser.read(&format!("/api/v1/batches/{id}/card")).await;
    let before = card().await;
    assert!(before["accepted"].is_object(), "{before}");
    browser.press("reopen").await;
    browser.fill("reason", "").await;
    browser.press("confirm-reason").await;
    browser.wait("[role='dialog'] .Mui-error").await;
    browser.fill("reason", "a reading of the film was left out").await;
    browser.press("confirm-reason").await;
    browser.gone("[role='dialog']").await;
    browser.wait("button[name='sign']").await;
    let reopened = card().await;
    assert!(reopened["signed"].is_null() && reopened["accepted"].is_null(), "{reopened}");
    assert!(reopened["log"].to_string().contains("a reading of the film was left out"));
    browser.press("close-note").await;
    browser.fill("reason", "3.9 mil read at the skirt").await;
    browser.press("confirm-reason").await;
    browser.gone("[role='dialog']").await;
    browser.press("sign").await;
    browser.wait_text("Work signed by").await;
    assert!(card().await["accepted"].is_null(), "the acceptance of before does not stand for the work of now");
    // The work is the crew's: the lead, who did none of it alone, may accept it as well.
    browser.press("accept").await;
    browser.wait_text("The card is closed").await;
    assert_eq!(card().await["accepted"]["by"], "Brok Tarn");
    drop(browser);
    shop.close().await;
}

/// A batch begun wrong: each field that is not understood says so, nothing is begun; the plan of the coat fills it in one tap.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_batch_begun_wrong_is_not_begun(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let many = async || browser.read("/api/v1/board").await["batches"].as_array().expect("batches").len();
    let before = many().await;
    browser.go(&format!("{}/begin", shop.address)).await;
    let find = "return [...document.querySelectorAll(\"select[name='sheet'] option\")].find(o => o.text.startsWith('Island'))?.value ?? ''";
    browser.until("no sheets", async || script(&browser, find).await != "").await;
    let sheet = script(&browser, find).await;
    browser.fill("sheet", sheet.as_str().expect("an id")).await;
    for (field, text) in
        [("part", "Cover 9"), ("coat", "primer"), ("area_m2", "twelve"), ("film_um", "4 mil"), ("thinner_pct", "0")]
    {
        browser.fill(field, text).await;
    }
    let wrong = |field: &str| format!("return document.querySelector(\"[name='{field}']\").getAttribute('aria-invalid')");
    browser.until("the area is not marked", async || script(&browser, &wrong("area_m2")).await == "true").await;
    assert_eq!(script(&browser, &wrong("film_um")).await, "false", "what is right is not marked");
    browser.fill("area_m2", "12 m2").await;
    browser.until("the area stays marked", async || script(&browser, &wrong("area_m2")).await == "false").await;
    // One zone named twice would be two beside each other with one name in the log.
    browser.fill("zones", "hull: 8 m2, Hull: 4 m2").await;
    browser.until("a zone twice is not marked", async || script(&browser, &wrong("zones")).await == "true").await;
    assert_eq!(many().await, before, "nothing is begun");

    // A part with a plan: its coat says what was planned, and takes it.
    browser.fill("zones", "").await;
    browser.fill("part", "Buoy 8").await;
    browser.fill("coat", "finish").await;
    browser.press("use-plan").await;
    let chosen = "const s = document.querySelector(\"select[name='sheet']\"); return s.options[s.selectedIndex].text";
    browser
        .until("the plan was not taken", async || {
            script(&browser, chosen).await.as_str().is_some_and(|name| name.starts_with("Marker urethane finish"))
        })
        .await;
    assert_eq!(script(&browser, "return document.querySelector('[name=film_um]').value").await, "4\u{a0}mil");
    drop(browser);
    shop.close().await;
}

/// A proof by two catches: no time, no scale, no ratio; with the stopwatch the flow as well; the pressures stay for the next.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_proof_by_catches_with_the_watch(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    let fields = [
        ("part", "Hatch 40"),
        ("coat", "gel coat"),
        ("substrate", "gel_coat_mould"),
        ("method", "gel_coat_machine"),
        ("area_m2", "12 m2"),
        ("film_um", "18 mil"),
    ];
    browser.begin(&shop.address, "Flume", &fields).await;
    browser.wait_text("Stir the drum").await;
    let id = browser.batch("Hatch 40").await;
    shop.make_ready(&id).await;
    let at = format!("{}/batches/{id}?at=4", shop.address);
    browser.go(&at).await;
    browser.press("open-at-gun").await;
    browser.wait("[name='a_g']").await;
    let off = "return document.querySelector(\"button[name='take-catch']\").disabled";
    assert_eq!(script(&browser, off).await, true, "two empty cups are no catch");
    let (a, b) = ("600 g", "12 g");
    browser.fill("a_g", a).await;
    browser.fill("b_g", b).await;
    browser.press("stopwatch").await;
    browser.wait_text("Stop ·").await;
    browser.press("stopwatch").await;
    let watch = "return document.querySelector('[name=caught_watch_s]').value";
    browser
        .until("the watch gave no time", async || script(&browser, watch).await.as_str().is_some_and(|t| t.ends_with(" s")))
        .await;
    browser.fill("caught_watch_s", "15 s").await;
    browser.fill("a_kpa", "40 psi").await;
    browser.fill("b_kpa", "35 psi").await;
    browser.press("take-catch").await;
    let prove = async || browser.read(&format!("/api/v1/batches/{id}?station=prove")).await["prove"].clone();
    browser.until("the catch was not taken", async || prove().await["proofs"].as_array().is_some_and(|p| p.len() == 1)).await;
    let value = |name: &str| format!("return document.querySelector('[name={name}]').value");
    browser.until("the cups are not emptied", async || script(&browser, &value("a_g")).await == "").await;
    assert_eq!(script(&browser, &value("a_kpa")).await, "40 psi", "pressures stay until somebody moves them");
    // 12 g in 600 g is 2 %: the sheet's own rate.
    let proof = prove().await["proofs"][0].clone();
    assert!(proof["level"].to_string().contains("2.0"), "{proof}");
    drop(browser);
    shop.close().await;
}

/// A planned coat that comes next is two taps to Ready: it says where each figure comes from, and what is typed rules.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_planned_coat_is_two_taps(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Ansa Reef", "1357").await;
    browser.press("begin").await;
    // With nothing named, the button says what is missing.
    browser.wait_text("Still needed: the sheet, the part, its coat, the area, the film.").await;
    browser.press("next-Buoy 3").await;
    browser.wait_text("of finished paint").await;
    browser.wait("button[name='begin-batch']:not([disabled])").await;
    let text = browser.text().await;
    for said in ["by the plan of the coat", "over batch 0001", "as in batch 0001"] {
        assert!(text.contains(said), "{said}: {text}");
    }
    assert!(!text.contains("Still needed"), "{text}");
    let value = |name: &str| format!("return document.querySelector(\"[name='{name}']\").value");
    for (name, stands) in [("substrate", "already_coated"), ("method", "pot"), ("part", "Buoy 3"), ("coat", "finish")] {
        assert_eq!(script(&browser, &value(name)).await, stands, "{name}");
    }
    browser.press("begin-batch").await;
    browser.wait_text("Containers sound").await;
    let id = browser.batch("Buoy 3").await;
    let at = browser.client.current_url().await.expect("an address").to_string();
    assert!(at.ends_with(&format!("/batches/{id}?at=1")), "{at}");

    // What is typed rules over what is known, also when it is emptied; another part takes another part's figures away.
    browser.go(&format!("{}/begin?part=Buoy%207&coat=finish", shop.address)).await;
    browser.wait_text("as in batch").await;
    browser.until("the area is not filled", async || script(&browser, &value("area_m2")).await != "").await;
    let film = script(&browser, &value("film_um")).await;
    browser.fill("film_um", "5 mil").await;
    browser.fill("part", "Buoy 77").await;
    browser.wait_text("Still needed:").await;
    browser.until("another part's area stays", async || script(&browser, &value("area_m2")).await == "").await;
    assert_eq!(script(&browser, &value("film_um")).await, "5 mil", "what was typed stays, not {film}");
    drop(browser);
    shop.close().await;
}

/// What is known of a part fills the form; until it is of the part typed now, nothing is begun: another part's area would be taken.
#[sqlx::test(migrations = "../server/migrations")]
async fn nothing_is_begun_with_another_parts_figures(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    // What is known of a part comes when the test lets it.
    let held = "const quick = window.fetch; window.fetch = async (asked, how) => {
        const answer = await quick(asked, how);
        if (answer.url.includes('/batches/proposed') && window.held) await new Promise((go) => { window.letGo = go; });
        return answer;
    };";
    browser.before_every_page(held).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.go(&format!("{}/begin?part=Buoy%207&coat=finish", shop.address)).await;
    browser.wait("button[name='begin-batch']:not([disabled])").await;
    script(&browser, "window.held = true").await;
    browser.fill("part", "Buoy 77").await;
    browser.wait("button[name='begin-batch'][disabled]").await;
    browser.wait_text("Looking up this part").await;
    let area = "return document.querySelector(\"[name='area_m2']\").value";
    assert_ne!(script(&browser, area).await, "", "the area of Buoy 7 still stands there");
    browser.tap("begin-batch").await;
    browser.keys("\u{e007}").await;
    browser.until("it was asked again", async || script(&browser, "return typeof window.letGo").await == "function").await;
    assert!(script(&browser, "return location.pathname").await == "/begin", "nothing was begun");
    script(&browser, "window.held = false; window.letGo()").await;
    browser.wait_text("the area, the film.").await;
    assert_eq!(script(&browser, area).await, "", "nothing is known of Buoy 77");
    let begun = browser.read("/api/v1/board").await["batches"].to_string();
    assert!(!begun.contains("Buoy 77"), "{begun}");
    drop(browser);
    shop.close().await;
}
