//! One box that finds everything, by key, by button, and by a scanner that types.

use level_keel_e2e::{Browser, Shop};
use sqlx::PgPool;

async fn path(browser: &Browser) -> String {
    let at = browser.client.execute("return location.pathname + location.search", vec![]).await.expect("a script");
    at.as_str().expect("a path").to_string()
}

/// Types as a wedge scanner does: every key at once, Enter at the end, nothing in focus.
async fn scan(browser: &Browser, line: &str) {
    let type_it = "document.activeElement?.blur();
        for (const key of [...arguments[0], 'Enter'])
            document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))";
    browser.client.execute(type_it, vec![line.into()]).await.expect("a script");
}

/// A browser that reads codes, as some do: this one always sees the same line, once its camera runs.
const READS_CODES: &str = "
    window.BarcodeDetector = class { async detect(seen) { return seen.srcObject ? [{ rawValue: window.seenByCamera }] : []; } };
    navigator.mediaDevices.getUserMedia = async () => {
        if (window.noCamera) throw new DOMException('not allowed', 'NotAllowedError');
        const sheet = document.createElement('canvas');
        sheet.getContext('2d').fillRect(0, 0, 9, 9);
        return (window.ran = sheet.captureStream(5));
    };";

/// Where the browser reads codes its camera is a scanner too; elsewhere it is not offered. A foreign code opens nothing.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_camera_reads_a_label_where_the_browser_can(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.before_every_page(READS_CODES).await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    let lot = browser.read("/api/v1/lots?find=H-118").await["lots"][0]["id"].as_str().expect("a lot").to_string();
    let sees = async |line: &str| {
        browser.client.execute("window.seenByCamera = arguments[0]", vec![line.into()]).await.expect("a script")
    };
    sees("https://example.com/x").await;
    browser.press("find").await;
    browser.press("scan-camera").await;
    browser.wait_text("This label is not of this shop. Nothing was opened.").await;
    sees(&format!("{}/stores/{lot}", shop.address)).await;
    browser.press("scan-camera").await;
    browser.wait(".lot-page").await;
    assert_eq!(path(&browser).await, format!("/stores/{lot}"));
    let running = "return window.ran.getTracks().some((t) => t.readyState === 'live')";
    assert_eq!(browser.client.execute(running, vec![]).await.expect("a script"), false, "the camera is let go");
    // A camera that is not given says what else can be done.
    browser.client.execute("window.noCamera = true", vec![]).await.expect("a script");
    browser.press("find").await;
    browser.press("scan-camera").await;
    browser.wait_text("The camera does not open. Allow it for this page in the browser, or type the code.").await;
    // This browser reads no codes by itself: nothing is offered that would not work.
    browser.before_every_page("delete window.BarcodeDetector").await;
    browser.client.refresh().await.expect("a reload");
    browser.press("find").await;
    browser.wait("input[name='find-all']").await;
    browser.gone("[name='scan-camera']").await;
    drop(browser);
    shop.close().await;
}

/// A scanned thing is taken where one of its kind is wanted: a part where a batch is begun, a lot at Ready, a rig at Set.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_scan_is_taken_where_its_kind_is_wanted(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    let parts = browser.read("/api/v1/parts").await;
    let part = parts.as_array().expect("parts").iter().find(|p| p["name"] == "Buoy 8").expect("the part").clone();
    let address = format!("{}/parts/{}", shop.address, part["id"].as_str().expect("an id"));
    browser.go(&format!("{}/begin", shop.address)).await;
    browser.wait("input[name='part']").await;
    let named = async || {
        browser.client.find(fantoccini::Locator::Css("input[name='part']")).await.expect("the field").prop("value").await
    };
    scan(&browser, &address).await;
    browser.until("the part of the label", async || named().await.expect("a value").as_deref() == Some("Buoy 8")).await;
    // Into the field itself the whole address is typed; its name takes its place.
    browser.go(&format!("{}/begin", shop.address)).await;
    browser.fill("part", &address).await;
    browser.until("the name in the field", async || named().await.expect("a value").as_deref() == Some("Buoy 8")).await;
    // A lot, at the item of its component; another kind of thing is opened as ever.
    browser
        .begin(
            &shop.address,
            "Island epoxy primer",
            &[("part", "Buoy 21"), ("coat", "primer"), ("area_m2", "120 ft2"), ("film_um", "4 mil")],
        )
        .await;
    browser.wait("[name='take-lot']").await;
    let book = browser.batch("Buoy 21").await;
    scan(&browser, "P-2204").await;
    browser
        .until("the lot on the batch", async || {
            let seen = browser.read(&format!("/api/v1/batches/{book}?station=ready")).await;
            seen["ready"].to_string().contains("P-2204")
        })
        .await;
    assert!(path(&browser).await.starts_with("/batches/"), "it was taken, not opened");
    drop(browser);
    shop.close().await;
}

#[sqlx::test(migrations = "../server/migrations")]
async fn anything_is_found_and_a_label_opens_what_it_names(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    // By its key, to a part; Enter opens the first that is found.
    browser.click("body").await;
    browser.keys("/").await;
    browser.fill("find-all", "P-2207").await;
    browser.wait(".finder li button").await;
    browser.keys("\u{e007}").await;
    browser.gone(".finder").await;
    browser.wait(".lot-page").await;
    // By its button, to a rig, which opens chosen; a reload stays there.
    browser.press("find").await;
    browser.fill("find-all", "twin pots").await;
    browser.click(".finder li button").await;
    browser.wait("button[name='rig-Collar twin pots'][aria-current='true']").await;
    browser.client.refresh().await.expect("a reload");
    browser.wait("button[name='rig-Collar twin pots'][aria-current='true']").await;
    // A person opens what they signed, asked for in the address.
    browser.press("find").await;
    browser.fill("find-all", "Ansa").await;
    browser.click(".finder li button").await;
    browser.wait("input[name='find-person']").await;
    assert_eq!(path(&browser).await, "/records?person=%22Ansa+Reef%22".replace("%22", ""), "the state is in the address");
    // A scanner types a label: it opens, and its letters press no key of the page (b is the board, 1 a station).
    let lot = browser.read("/api/v1/lots?find=H-118").await["lots"][0]["id"].as_str().expect("a lot").to_string();
    scan(&browser, &format!("{}/stores/{lot}", shop.address)).await;
    browser.wait(".lot-page").await;
    browser.until("the lot of the label", async || path(&browser).await == format!("/stores/{lot}")).await;
    // A foreign one opens nothing and says so; so does a script, which is only words.
    scan(&browser, "https://example.com/b/1?p=2").await;
    browser.wait_text("This label is not of this shop. Nothing was opened.").await;
    assert_eq!(path(&browser).await, format!("/stores/{lot}"));
    browser.fill("find-all", "javascript:alert(1)").await;
    browser.wait_text("Nothing here goes by that.").await;
    // A code that begins with the key of a stamp, or a station, stamps nothing and opens the lot.
    let book = browser.batch("Buoy 7").await;
    browser.go(&format!("{}/batches/{book}?at=5", shop.address)).await;
    browser.wait("[name='stamp-pass']").await;
    let entries = async || browser.read(&format!("/api/v1/batches/{book}?station=spray")).await["head_seq"].clone();
    let before = entries().await;
    scan(&browser, "p-2207").await;
    browser.wait(".lot-page").await;
    assert_eq!(entries().await, before, "no pass was stamped");
    // Nor does one that ends with such a key: the Enter of the scanner follows it at once.
    browser.go(&format!("{}/batches/{book}?at=5", shop.address)).await;
    browser.wait("[name='stamp-pass']").await;
    scan(&browser, "ZZ-22p").await;
    browser.wait_text("Nothing here goes by that.").await;
    assert_eq!(entries().await, before, "no pass was stamped");
    // In a field the scanner types there, as it should.
    browser.fill("find-all", "buoy 8").await;
    browser.wait_text("batch in work").await;
    drop(browser);
    shop.close().await;
}

/// First cells of a table, in their order.
async fn first_cells(browser: &Browser, column: usize) -> Vec<String> {
    let read =
        "return [...document.querySelectorAll('table.rows tbody tr')].map((r) => r.children[arguments[0]].innerText.trim())";
    let cells = browser.client.execute(read, vec![column.into()]).await.expect("a script");
    cells.as_array().expect("cells").iter().map(|c| c.as_str().unwrap_or_default().replace('\u{a0}', " ")).collect()
}

/// Every list sorts by its columns and is filtered; both stand in the address, hold over a reload, and go with what is taken along.
#[sqlx::test(migrations = "../server/migrations")]
async fn tables_sort_by_their_columns_and_keep_it_in_the_address(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    browser.sign_in(&shop.address, "Brok Tarn", "2468").await;
    browser.wait(".next").await;
    // Sheets by pot life: three hours, four, four, and those that have none at the end, whichever way.
    browser.go(&format!("{}/sheets", shop.address)).await;
    browser.press("sort-life").await;
    browser
        .until("the shortest life first", async || {
            first_cells(&browser, 2).await.first().is_some_and(|c| c.starts_with("50 min"))
        })
        .await;
    assert!(first_cells(&browser, 2).await.ends_with(&["–".into(), "–".into()]), "what has none stands last");
    browser.press("sort-life").await;
    browser
        .until("the longest first", async || first_cells(&browser, 2).await.first().is_some_and(|c| c.starts_with("4 h 00")))
        .await;
    assert!(first_cells(&browser, 2).await.ends_with(&["–".into(), "–".into()]), "also from the end");
    browser.fill("find-sheet", "finish").await;
    browser
        .until("the two finishes", async || {
            first_cells(&browser, 0).await == ["Marker urethane finish", "Sign finish, waterborne"]
        })
        .await;
    assert_eq!(path(&browser).await, "/sheets?find=finish&sort=-life");
    browser.client.refresh().await.expect("a reload");
    browser
        .until("the same after a reload", async || {
            first_cells(&browser, 0).await == ["Marker urethane finish", "Sign finish, waterborne"]
        })
        .await;
    let export = browser.wait("a[href*='sheets.csv']").await.attr("href").await.expect("an attribute").expect("an address");
    assert!(export.ends_with("find=finish"), "{export}");
    // The board by who loses first, and by a word.
    browser.go(&format!("{}/?sort=left", shop.address)).await;
    browser
        .until("the shortest time left first", async || {
            first_cells(&browser, 0).await.first().is_some_and(|c| c == "Buoy 7 · finish")
        })
        .await;
    browser.fill("find-batch", "flume").await;
    browser.until("one row", async || first_cells(&browser, 0).await == ["Flume 12 · gel coat"]).await;
    browser.fill("find-batch", "nothing at all").await;
    browser.wait_text("No batch in work fits.").await;
    // Stores and records are sorted where they are kept.
    browser.go(&format!("{}/stores", shop.address)).await;
    browser.press("sort-code").await;
    browser.until("by code", async || first_cells(&browser, 2).await.first().is_some_and(|c| c == "C-0412")).await;
    browser.press("sort-code").await;
    browser.until("by code from the end", async || first_cells(&browser, 2).await.first().is_some_and(|c| c == "X-0030")).await;
    assert_eq!(path(&browser).await, "/stores?sort=-code");
    browser.go(&format!("{}/records", shop.address)).await;
    browser.press("sort-part").await;
    let labels = ["Buoy 3 · primer", "Buoy 7 · primer", "Flume section 11 · gel coat"];
    browser.until("by part", async || first_cells(&browser, 1).await == labels).await;
    browser.fill("find-part", "buoy").await;
    browser.until("the buoys", async || first_cells(&browser, 1).await == labels[..2]).await;
    assert_eq!(path(&browser).await, "/records?part=buoy&sort=part");
    // Parts: found by the server, kept in the address.
    browser.go(&format!("{}/parts?find=sign", shop.address)).await;
    browser.wait_text("Harbour sign 4").await;
    assert!(!browser.text().await.contains("Float collar"), "only what was asked for");
    drop(browser);
    shop.close().await;
}
