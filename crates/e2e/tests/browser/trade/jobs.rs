//! Several coats of one product as one job: shutters by airless, a gangway by roller.

use super::{Group, Work, book_on_page, if_there, two_part};
use crate::journeys::through_the_lists;
use crate::pot::{pick_rig, weigh_in_typed};
use jiff::SignedDuration;
use sqlx::PgPool;

/// Two dozen shutters of a lighthouse, both sides, in two light coats hours apart: one job on the board and on paper.
#[sqlx::test(migrations = "../server/migrations")]
async fn lighthouse_shutters_in_two_light_coats_by_airless(db: PgPool) {
    let work = Work::open(db).await;
    let browser = &work.browser;
    let clocks: Group<'_> =
        ("Clocks", &[("recoat_min_s", "2 h"), ("recoat_max_s", "2 d"), ("recoat_at_c", "20"), ("coats_most_count", "2")]);
    let looked: Group<'_> = ("Film and conditions", &[("film_proof", "look")]);
    let lots = ["base", "hardener"];
    work.sheet(
        "two_part",
        &two_part("Shutter enamel"),
        &[clocks, looked],
        &["hazard-solvent", "hazard-high_pressure_fluid"],
        &lots,
    )
    .await;
    browser.client.execute_async(SHUTTER_PUMP, vec![]).await.expect("a script");
    let begin = [
        ("coat", "enamel"),
        ("coat_count", "3"),
        ("piece_count", "24"),
        ("side_count", "2"),
        ("side_m2", "0.1 m2"),
        ("film_um", "3 mil"),
        ("transfer_pct", "70"),
        ("method", "airless"),
        ("substrate", "wood"),
        ("part", "Lighthouse shutters"),
    ];
    browser.begin(&work.shop.address, "Shutter enamel", &begin).await;
    // A third coat, where the sheet allows two.
    browser.wait_text("The sheet allows 2 coats of it").await;
    browser.fill("coat_count", "2").await;
    browser.press("begin-batch").await;
    browser.wait(".batch-head").await;
    browser.wait_text("coat 1 of 2").await;
    let first = book_on_page(browser).await;
    work.ready(&["solvent", "high_pressure_fluid"]).await;
    work.to(&first, 2).await;
    browser.fill("wanted_ml", "1 L").await;
    browser.press("open-pot").await;
    weigh_in_typed(browser, &first).await;
    pick_rig(browser, &work.shop.address, &first, "Shutter pump").await;
    browser.press("set-try").await;
    // 900 psi on a pump of 700 is refused at its field.
    work.fill(&[("pot_kpa", "900 psi"), ("atomizing_kpa", "12 psi")]).await;
    browser.press("pattern-even").await;
    browser.wait_text("900 psi is over the 600 psi").await;
    browser.fill("pot_kpa", "400 psi").await;
    browser.press("take-try").await;
    browser.wait_text("400 psi, even").await;
    coat_of_pieces(&work, &first).await;
    // What is left goes to the second coat with one tap, and so does what was made ready.
    browser.press("to-next-coat").await;
    browser.gone("button[name='stamp-pass']").await;
    if_there(browser, "flushed").await;
    browser.go(&work.shop.address).await;
    browser.wait_text("coat 2 of 2").await;
    let rows = browser.read("/api/v1/board").await["batches"].to_string().matches("Lighthouse").count();
    assert!(rows >= 1 && !browser.text().await.contains("coat 1 of 2 Shutter"), "one row of the job");
    let second = browser.batch("Lighthouse").await;
    work.to(&second, 1).await;
    browser.press("carry-on").await;
    browser.wait_text("Carried on from batch").await;
    // Too soon: the window of the coat beneath holds.
    work.to(&second, 5).await;
    browser.press("start-spraying").await;
    browser.wait_text("may be coated in").await;
    work.shop.clock.advance(SignedDuration::from_mins(125));
    work.to(&second, 1).await;
    work.fill(&[("air_c", "21"), ("surface_c", "20"), ("material_c", "20"), ("rh_pct", "50")]).await;
    browser.press("take-conditions").await;
    browser.wait("[name='read-again']").await;
    through_the_lists(browser).await;
    coat_of_pieces(&work, &second).await;
    browser.press("emptied").await;
    browser.gone("button[name='emptied']").await;
    if_there(browser, "flushed").await;
    work.signed(&first, &["coat 1 of 2", "24 pieces done, side 2"]).await;
    work.signed(&second, &["coat 2 of 2", "Carried on from batch"]).await;
    browser.go(&format!("{}/jobs/{first}", work.shop.address)).await;
    browser.wait("article.card:nth-of-type(2)").await;
    browser.wait_text("2 coats coat 1 accepted, coat 2 accepted").await;
    work.close().await;
}

/// A pump for the shutters, put together by the lead.
const SHUTTER_PUMP: &str = "const d = arguments[0]; fetch('/api/v1/rigs', { method: 'POST', headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ rig: { name: 'Shutter pump', kind: 'airless', class: 'air_assisted', gun: 'Shutter gun', tip_code: '413',
    pump_most_kpa: '700 psi', hose_bore_mm: '1/4 in', hose_length_mm: '30 ft', air_nl_min: '6 scfm', air_bore_mm: '1/4 in', air_length_mm: '30 ft' } }) })
    .then(r => r.text()).then(d)";

/// One light pass over every piece, counted side by side, and looked at.
async fn coat_of_pieces(work: &Work, book: &str) {
    let browser = &work.browser;
    work.to(book, 5).await;
    browser.press("start-spraying").await;
    work.pass("150 mL", 1).await;
    browser.press("piece-1").await;
    browser.wait_text("1 of 24").await;
    work.shop.clock.advance(SignedDuration::from_mins(4));
    work.to(book, 5).await;
    browser.click(".zone-card:nth-of-type(2)").await;
    work.pass("150 mL", 2).await;
    for side in [1, 2] {
        browser.press(&format!("pieces-all-{side}")).await;
        browser.wait_text(&format!("Side {side}: 24 of 24")).await;
    }
    browser.press("film-right").await;
    browser.wait_text("looked at, right").await;
}

/// A steel gangway: one coat of primer, then two of finish as one job, all by roller.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_gangway_with_primer_and_two_of_finish(db: PgPool) {
    let work = Work::open(db).await;
    let browser = &work.browser;
    let looked: Group<'_> = ("Film and conditions", &[("film_proof", "look")]);
    let times = [("recoat_min_s", "30 min"), ("recoat_max_s", "7 d"), ("recoat_at_c", "20"), ("coats_most_count", "2")];
    let (primer, finish): (Group<'_>, Group<'_>) = (("Clocks", &times[..3]), ("Clocks", &times));
    let lots = ["base", "hardener"];
    work.sheet("two_part", &two_part("Gangway primer"), &[primer, looked], &["hazard-solvent"], &lots).await;
    work.sheet("two_part", &two_part("Gangway finish"), &[finish, looked], &["hazard-solvent"], &lots).await;
    let plain =
        [("area_m2", "5 m2"), ("film_um", "4 mil"), ("transfer_pct", "95"), ("method", "roller"), ("substrate", "sanded_steel")];
    let of = |coat: &'static str| -> Vec<(&str, &str)> { [("coat", coat)].into_iter().chain(plain).collect() };
    let book = work.begun("Gangway primer", "Gangway 4", &of("primer")).await;
    rolled(&work, &book, true).await;
    work.signed(&book, &["Gangway 4 · primer"]).await;
    work.shop.clock.advance(SignedDuration::from_mins(40));
    let two: Vec<(&str, &str)> = of("finish").into_iter().chain([("coat_count", "2")]).collect();
    browser.begin(&work.shop.address, "Gangway finish", &[two, vec![("part", "Gangway 4")]].concat()).await;
    browser.wait(".batch-head").await;
    browser.wait_text("coat 1 of 2").await;
    let first = book_on_page(browser).await;
    rolled(&work, &first, true).await;
    work.shop.clock.advance(SignedDuration::from_mins(40));
    let second = browser.batch("Gangway 4").await;
    assert_ne!(first, second, "the board shows the coat at hand");
    work.to(&second, 1).await;
    browser.press("carry-on").await;
    browser.wait_text("Carried on from batch").await;
    rolled(&work, &second, false).await;
    work.signed(&first, &["finish, coat 1 of 2"]).await;
    work.signed(&second, &["finish, coat 2 of 2"]).await;
    // The part tells the whole story.
    browser.open_part(&work.shop.address, "Gangway 4").await;
    browser.wait_text("coat 1 of 2, accepted").await;
    browser.wait_text("coat 2 of 2, accepted").await;
    work.close().await;
}

/// Made ready where it is not yet, mixed, rolled on in one go, looked at, the pot empty.
async fn rolled(work: &Work, book: &str, ready: bool) {
    let browser = &work.browser;
    work.to(book, 1).await;
    if ready {
        work.ready(&["solvent"]).await;
    }
    work.to(book, 2).await;
    browser.fill("wanted_ml", "800 mL").await;
    browser.press("open-pot").await;
    weigh_in_typed(browser, book).await;
    work.to(book, 5).await;
    browser.press("start-spraying").await;
    work.pass("700 mL", 1).await;
    browser.press("film-right").await;
    browser.press("emptied").await;
    browser.gone("button[name='emptied']").await;
}
