//! What a lead keeps: lists, places, coats, pairs, papers and labels, through the dialogs a hand would use.

use level_keel_e2e::Browser;
use level_keel_harness::Shop;
use sqlx::PgPool;

/// A PNG of one pixel: small, and really one.
fn pixel() -> Vec<u8> {
    let mut png = std::io::Cursor::new(Vec::new());
    image::RgbImage::new(1, 1).write_to(&mut png, image::ImageFormat::Png).expect("a picture");
    png.into_inner()
}

fn file(name: &str, bytes: &[u8]) -> std::path::PathBuf {
    let folder = std::env::temp_dir().join(format!("level-keel-files-{}", uuid::Uuid::now_v7()));
    std::fs::create_dir_all(&folder).expect("a folder");
    let path = folder.join(name);
    std::fs::write(&path, bytes).expect("a file");
    path
}

/// An item of one's own, for brush on steel only, is in the next batch's list and in no other's.
#[sqlx::test(migrations = "../server/migrations")]
async fn the_lists_are_edited_and_a_new_batch_follows_them(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    browser.go(&format!("{base}/lists")).await;
    browser.press("add-item").await;
    browser.fill("item-text", "Brush loose bristles out").await;
    // A lot is asked for by the sheet's components, never by an item typed here.
    let kinds = "return [...document.querySelectorAll(\"select[name='item-kind'] option\")].map(o => o.value).sort().join()";
    let kinds = browser.client.execute(kinds, vec![]).await.expect("a script");
    assert_eq!(kinds, "approve,good_for,profile,test,tick,timer");
    browser.fill("item-kind", "timer").await;
    browser.fill("least_s", "1 min").await;
    browser.fill("most_s", "30 s").await;
    browser.click("input[name='on-blasted_steel']").await;
    browser.click("input[name='by-brush']").await;
    browser.press("save-item").await;
    browser.wait_text("The most is less than the least").await;
    browser.fill("most_s", "5 min").await;
    browser.press("save-item").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("version 1, Brok Tarn").await;
    // Edited again: what it applies to is still ticked, and a second condition joins it.
    browser.press("edit-own_brush_loose_bristles_out").await;
    let on = browser.wait("input[name='on-blasted_steel']").await;
    assert_eq!(on.prop("checked").await.expect("a property").as_deref(), Some("true"));
    browser.click("input[name='hazard-solvent']").await;
    browser.click("input[name='has-hardener']").await;
    browser.press("save-item").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("blasted steel, brush, Flammable solvent; where it has a hardener").await;

    for (method, there) in [("brush", true), ("roller", false)] {
        let part = format!("Rail {method}");
        let fields = [
            ("part", part.as_str()),
            ("coat", "primer"),
            ("substrate", "blasted_steel"),
            ("method", method),
            ("area_m2", "2 m2"),
            ("film_um", "4 mil"),
        ];
        browser.begin(&base, "Island", &fields).await;
        browser.wait_text("Containers sound").await;
        let text = browser.text().await;
        assert_eq!(text.contains("Brush loose bristles out"), there, "{method}");
        // By brush or roller nothing is set and nothing proved: those stations are gaps in the line.
        browser.wait_text("not needed").await;
    }
    drop(browser);
    shop.close().await;
}

/// The band of a place, a reading outside it, a certificate with its paper, and the label read back by a scanner.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_place_a_paper_and_a_label(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    browser.go(&format!("{base}/stores")).await;
    browser.press("new-place").await;
    browser.fill("place-name", "North shed").await;
    browser.fill("store_min_c", "85 F").await;
    browser.fill("store_max_c", "70 F").await;
    browser.press("save-place").await;
    browser.wait_text("The warmest is colder than the coldest").await;
    browser.fill("store_min_c", "70 F").await;
    browser.fill("store_max_c", "85 F").await;
    browser.press("save-place").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("North shed").await;
    browser.press("read-North shed").await;
    browser.fill("temp_c", "31").await;
    browser.press("save-reading").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("31.0 °C").await;

    // A lot without a certificate: the paper is not what it says, then a real one.
    let lots = browser.read("/api/v1/lots").await;
    let lot = lots["lots"].as_array().and_then(|l| l.iter().find(|l| l["certified"] == false)).expect("one without").clone();
    let (id, code) = (lot["id"].as_str().expect("an id"), lot["code"].as_str().expect("a code"));
    browser.go(&format!("{base}/stores/{id}")).await;
    browser.press("ask-certified").await;
    let (sham, paper) = (file("paper.pdf", b"MZ not a paper"), file("paper.pdf", b"%PDF-1.7\n1 0 obj<<>>endobj\n%%EOF"));
    browser.choose_file("input[aria-label='The paper']", &sham).await;
    browser.wait_text("PDF").await;
    browser.wait("[role='dialog'] .refusal").await;
    browser.choose_file("input[aria-label='The paper']", &paper).await;
    browser.wait_text("paper.pdf").await;
    let values = browser.wait("textarea[name='entry-values']").await;
    values.send_keys("gel time: 12 min, density: 1.25 kg/L").await.expect("keys");
    browser.press("save-entry").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("gel time").await;
    let href = browser.wait("a[href*='/files/']").await.attr("href").await.expect("an attribute").expect("an address");
    let kept = "const d = arguments[1]; fetch(arguments[0]).then(async r => d([r.headers.get('content-disposition'), (await r.text()).slice(0, 5)]))";
    let kept = browser.client.execute_async(kept, vec![href.into()]).await.expect("an answer");
    assert!(kept[0].as_str().is_some_and(|d| d.starts_with("attachment")), "{kept}");
    assert_eq!(kept[1], "%PDF-");

    // The label is looked at as a scanner would: from the pixels of the page.
    browser.go(&format!("{base}/labels?of=lot:{id}")).await;
    browser.wait(".thing-label svg").await;
    // A telephone sees a label with more dots than a screen has.
    browser.sharpness(3).await;
    let png = browser.client.screenshot().await.expect("a picture");
    let grey = image::load_from_memory(&png).expect("a PNG").to_luma8();
    let (wide, high) = (grey.width() as usize, grey.height() as usize);
    let mut page = rqrr::PreparedImage::prepare_from_greyscale(wide, high, |x, y| grey.as_raw()[y * wide + x]);
    let found = page.detect_grids();
    let (_, address) = found.first().expect("a code on the label").decode().expect("it can be read");
    assert_eq!(address, format!("{base}/stores/{id}"));
    browser.go(&address).await;
    browser.wait_text(code).await;
    labels_in_true_size(&browser, &base).await;
    drop(browser);
    shop.close().await;
}

/// Coats of a part planned, moved and refused by name; a pair of products with a window of its own.
#[sqlx::test(migrations = "../server/migrations")]
async fn coats_and_a_pair(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    browser.open_part(&base, "Buoy 3").await;
    browser.press("edit-coats").await;
    browser.press("add-coat").await;
    let count = "return document.querySelectorAll('.coat-row').length";
    let rows = browser.client.execute(count, vec![]).await.expect("a script").as_u64().expect("a number");
    let (last, name) = (rows - 1, |field: &str| format!("coat-{}{field}", rows - 1));
    browser.fill(&name(""), "primer").await;
    browser.press("save-coats").await;
    browser.wait_text("Two coats of a part cannot have the same name").await;
    browser.fill(&name(""), "stripe").await;
    browser.fill(&name("-method"), "brush").await;
    browser.fill(&name("-film"), "120 um").await;
    browser.fill(&name("-film_is"), "dry").await;
    browser.press("save-coats").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("stripe").await;
    let part = browser.client.current_url().await.expect("an address").path().replace("/parts/", "/api/v1/parts/");
    let kept = browser.read(&part).await;
    let coat = &kept["coats"][usize::try_from(last).expect("a place")];
    assert_eq!((&coat["name"], &coat["method"], &coat["film_is"]), (&"stripe".into(), &"brush".into(), &"dry".into()));
    assert_eq!(coat["film_um"], 120.0);

    browser.go(&format!("{base}/parts")).await;
    browser.press("new-pair").await;
    browser.wait("select[name='pair-from'] option:nth-child(3)").await;
    for end in ["from", "to"] {
        let find = "return [...document.querySelectorAll(`select[name='pair-${arguments[0]}'] option`)].find(o => o.text.startsWith('Island')).value";
        let sheet = browser.client.execute(find, vec![end.into()]).await.expect("a script");
        browser.fill(&format!("pair-{end}"), sheet.as_str().expect("an id")).await;
    }
    browser.fill("recoat_min_s", "8 h").await;
    browser.fill("recoat_max_s", "2 h").await;
    browser.press("save-pair").await;
    browser.wait("[role='dialog'] .Mui-error").await;
    browser.fill("recoat_max_s", "3 d").await;
    browser.press("save-pair").await;
    browser.gone("[role='dialog']").await;
    browser.wait_text("8 h 00 to 72 h").await;
    drop(browser);
    shop.close().await;
}

/// A drum stirred too short, too long and right, its rest, and the mock-up approved with a photo by a lead.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_drum_is_stirred_and_rests_and_a_mock_up_is_approved(db: PgPool) {
    let shop = Shop::open(db).await;
    let browser = Browser::start().await;
    let base = shop.address.clone();
    browser.sign_in(&base, "Brok Tarn", "2468").await;
    let fields = [
        ("part", "Flume section 31"),
        ("coat", "gel coat"),
        ("substrate", "gel_coat_mould"),
        ("method", "gel_coat_machine"),
        ("area_m2", "40 m2"),
        ("film_um", "18 mil"),
    ];
    browser.begin(&base, "Flume", &fields).await;
    browser.wait_text("Stir the drum").await;
    let minutes = |m: i64| shop.clock.advance(jiff::SignedDuration::from_mins(m));
    browser.press("item-drum_stir").await;
    browser.press("do-drum_stir").await;
    // It runs by itself: the hand goes on to what is open.
    browser.click(".check.running[name='item-drum_stir']").await;
    minutes(4);
    browser.press("do-drum_stir").await;
    browser.wait_text("too short").await;
    // Once more, forgotten: over-mixed.
    browser.press("do-drum_stir").await;
    // It runs by itself: the hand goes on to what is open.
    browser.click(".check.running[name='item-drum_stir']").await;
    minutes(17);
    browser.client.refresh().await.expect("a reload");
    browser.wait_text("over-mixed: it will sag").await;
    // Stopped, left, and stirred afresh.
    browser.press("do-drum_stir").await;
    browser.wait_text("Start anew").await;
    browser.press("do-drum_stir").await;
    // It runs by itself: the hand goes on to what is open.
    browser.click(".check.running[name='item-drum_stir']").await;
    minutes(12);
    browser.client.refresh().await.expect("a reload");
    browser.press("item-drum_stir").await;
    browser.press("do-drum_stir").await;
    browser.press("item-drum_rest").await;
    browser.press("do-drum_rest").await;
    browser.wait(".check.running[name='item-drum_rest']").await;
    minutes(16);
    browser.client.refresh().await.expect("a reload");
    browser.wait(".check.done[name='item-drum_rest']").await;

    // A large area of finish: a panel first, approved with a photo and the control sample.
    let fields = [("part", "Marker 40"), ("coat", "finish"), ("area_m2", "40 m2"), ("film_um", "3 mil")];
    browser.begin(&base, "Marker", &fields).await;
    browser.press("item-mock_up").await;
    browser.choose_file("input[aria-label='Photo']", &file("panel.png", &pixel())).await;
    browser.wait_text("panel.png").await;
    browser.fill("sample", "Control 4").await;
    browser.press("do-mock_up").await;
    browser.wait_text("Mock-up panel approved: approved, Control 4").await;
    drop(browser);
    shop.close().await;
}

/// A label is as large on paper as its paper, none of its words is cut, and the code of a pot opens the pot.
async fn labels_in_true_size(browser: &Browser, base: &str) {
    let board = browser.read("/api/v1/board").await;
    let pot = board["pots"].as_array().expect("pots").iter().find(|p| p["vessel"] == "pot").expect("a live pot").clone();
    let (batch, charge) = (pot["batch"].as_str().expect("a batch"), pot["id"].as_str().expect("a charge"));
    let id = async |path: &str| browser.read(path).await[0]["id"].as_str().expect("an id").to_string();
    let (part, rig) = (id("/api/v1/parts").await, id("/api/v1/rigs").await);
    let lot = browser.read("/api/v1/lots").await["lots"][0]["id"].as_str().expect("a lot").to_string();
    browser.as_printed().await;
    for (paper, wide_mm, high_mm) in [("sheet", 70.0, 36.0), ("roll", 100.0, 50.0)] {
        browser.go(&format!("{base}/labels?of=pot:{batch}:{charge},part:{part},lot:{lot},rig:{rig}&paper={paper}")).await;
        browser.wait(".thing-label.of-rig").await;
        let measure = "return [...document.querySelectorAll('.thing-label')].map((l) => {
            const box = l.getBoundingClientRect(), words = l.lastElementChild;
            return [box.width, box.height, words.scrollHeight > l.clientHeight || words.scrollWidth > words.clientWidth, words.innerText];
        })";
        let labels = browser.client.execute(measure, vec![]).await.expect("a script");
        for label in labels.as_array().expect("labels") {
            let mm = |i: usize| label[i].as_f64().expect("a length") * 25.4 / 96.0;
            assert!((mm(0) - wide_mm).abs() < 0.1 && (mm(1) - high_mm).abs() < 0.1, "{paper}: {} by {} mm", mm(0), mm(1));
            assert_eq!(label[2], false, "words are cut: {label}");
        }
        assert!(labels[0][3].as_str().is_some_and(|t| t.contains("use by")), "{labels}");
    }
    browser.go(&format!("{base}/batches/{batch}/pots/{charge}")).await;
    browser
        .until("the pot where it is sprayed", async || {
            let at = browser.client.execute("return location.pathname + location.search", vec![]).await.expect("a script");
            at == format!("/batches/{batch}?at=5")
        })
        .await;
}
