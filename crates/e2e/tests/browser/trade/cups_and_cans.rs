//! Out of a gun's cup, a printed cup and a can: pearl letters, a pile under water, a release film, a granite texture.

use super::{FILM, Group, Work, if_there};
use crate::journeys::{open_group, receive, through_the_lists};
use crate::pot::pick_rig;
use jiff::SignedDuration;
use level_keel_e2e::Browser;
use sqlx::PgPool;

/// Letters of a sign with pearl out of a gun's own cup: the second fill keeps the dose of the first, and another is named.
#[sqlx::test(migrations = "../server/migrations")]
async fn sign_letters_with_a_pearl_from_a_gun_cup(db: PgPool) {
    let work = Work::open(db).await;
    let own = [("name", "Pearl letter coat"), ("base_density_kg_l", "1.02"), ("solids_pct", "30")];
    let fields: Vec<_> = own.into_iter().chain(FILM).collect();
    let pearl: Group<'_> = ("Additives", &[("additives[0].name", "Pearl"), ("additives[0].dose_g_l", "12.7 g/L")]);
    let looked: Group<'_> = ("Film and conditions", &[("film_proof", "look")]);
    work.sheet("ready_to_use", &fields, &[pearl, looked, ("Stirring and straining", &[])], &["no_gun_filter"], &["base"]).await;
    let begin = [("coat", "pearl"), ("area_m2", "0.8 m2"), ("film_um", "3 mil"), ("transfer_pct", "60"), ("method", "gun_cup")];
    let book = work.begun("Pearl letter", "Sign letters", &begin).await;
    work.ready(&[]).await;
    work.to(&book, 2).await;
    let browser = &work.browser;
    work.fill(&[("fill_ml", "200 mL"), ("dose_g", "2.54 g")]).await;
    browser.press("ready-fill").await;
    browser.wait_text("200 mL into the gun cup").await;
    // The shade would step: 4 g in 150 mL is 26.7 g a litre.
    work.fill(&[("fill_ml", "150 mL"), ("dose_g", "4 g")]).await;
    browser.wait_text("the first of the coat 12.7 g/L: the shade will step").await;
    browser.fill("dose_g", "1.91 g").await;
    browser.press("ready-fill").await;
    browser.wait_text("150 mL into the gun cup").await;
    pick_rig(browser, &work.shop.address, &book, "Sign gun, its own cup").await;
    browser.press("set-try").await;
    work.fill(&[("fan_turns_count", "2"), ("needle_turns_count", "2"), ("atomizing_kpa", "24 psi")]).await;
    browser.press("pattern-even").await;
    browser.press("take-try").await;
    browser.wait_text("fan 2, needle 2").await;
    work.to(&book, 5).await;
    browser.press("start-spraying").await;
    work.pass("150 mL", 1).await;
    work.shop.clock.advance(SignedDuration::from_mins(5));
    work.to(&book, 5).await;
    work.pass("150 mL", 2).await;
    browser.press("film-right").await;
    // Dosed paint does not go back to its can.
    browser.press("back-to-can").await;
    browser.wait_text("It is thinned or dosed").await;
    browser.press("emptied").await;
    browser.gone("button[name='stamp-pass']").await;
    work.signed(&book, &["Sign letters · pearl", "dose 2.54 g", "dose 1.91 g", "lot N-base"]).await;
    work.close().await;
}

/// A pile below the water line: parts by volume in a printed cup, put on by brush, no more area than the sheet lets a gallon cover.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_mooring_pile_below_the_water_line_by_brush(db: PgPool) {
    let work = Work::open(db).await;
    let browser = &work.browser;
    let fields = [
        ("name", "Mooring epoxy"),
        ("ratio", "1:1"),
        ("pot_life_s", "50 min"),
        ("pot_life_at_c", "20"),
        ("solids_pct", "100"),
        ("wet_min_um", "15 mil"),
        ("wet_max_um", "40 mil"),
        ("temp_min_c", "4"),
        ("temp_max_c", "35"),
    ];
    let film: Group<'_> = ("Film and conditions", &[("film_proof", "use"), ("area_max_m2_l", "0 ft2/gal")]);
    let tolerance: Group<'_> = ("Product and proportion", &[("tolerance_pct", "10")]);
    // An area of nothing is refused at its field; the sheet says no density, and none is asked.
    browser.go(&format!("{}/sheets/new", work.shop.address)).await;
    browser.press("kind-two_part").await;
    work.fill(&fields).await;
    browser.press("sheet-more").await;
    for (group, fields) in [film, tolerance] {
        open_group(browser, group).await;
        work.fill(fields).await;
    }
    browser.click("input[name='hazard-exotherm']").await;
    browser.press("save-sheet").await;
    browser.wait_text("Area of a litre").await;
    browser.fill("area_max_m2_l", "85 ft2/gal").await;
    browser.press("save-sheet").await;
    browser.wait("[name='new-sheet']").await;
    for component in ["base", "hardener"] {
        receive(browser, &work.shop, "Mooring epoxy", component, &format!("N-{component}")).await;
    }
    let begin = [
        ("coat", "epoxy"),
        ("area_m2", "1.5 m2"),
        ("film_um", "20 mil"),
        ("transfer_pct", "95"),
        ("method", "brush"),
        ("substrate", "under_water"),
    ];
    let book = work.begun("Mooring epoxy", "Mooring pile 2", &begin).await;
    work.ready(&["exotherm"]).await;
    work.to(&book, 2).await;
    browser.wait_text("Measured by volume alone").await;
    browser.fill("wanted_ml", "28 fl oz").await;
    browser.press("open-pot").await;
    // A cup that is smaller than the plan says so; the quart cup takes it, line by line.
    let quart = cup(browser, "Quart cup").await;
    let columns = cup(browser, "Column cup, 4 : 1").await;
    browser.fill("cup", &columns).await;
    browser.wait_text("Take another cup").await;
    browser.fill("cup", &quart).await;
    browser.wait_text("Base to 14 fl oz").await;
    browser.press("at-the-line").await;
    browser.press("combine").await;
    browser.wait_text("Hardener to 28 fl oz").await;
    browser.press("at-the-line").await;
    browser.press("stirred").await;
    browser.wait("button[name='another-pot']").await;
    work.to(&book, 5).await;
    browser.press("start-spraying").await;
    work.pass("780 mL", 1).await;
    browser.press("emptied").await;
    browser.gone("button[name='emptied']").await;
    work.signed(&book, &["Mooring pile 2 · epoxy", "by the Quart cup", "Measured by volume alone"]).await;
    work.close().await;
}

/// The id of a kept cup.
async fn cup(browser: &Browser, name: &str) -> String {
    let all = browser.read("/api/v1/instruments").await;
    let one = all.as_array().expect("a list").iter().find(|i| i["name"] == name).unwrap_or_else(|| panic!("no cup {name}"));
    one["id"].as_str().expect("an id").to_string()
}

/// A mould takes its release film in mists: three, five minutes apart, out of one can.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_mould_takes_its_release_film_in_mists(db: PgPool) {
    let work = Work::open(db).await;
    let browser = &work.browser;
    let fields = [
        ("name", "Mould film, misted"),
        ("solids_pct", "8"),
        ("wet_min_um", "10 um"),
        ("wet_max_um", "60 um"),
        ("temp_min_c", "15"),
        ("temp_max_c", "35"),
    ];
    let steps: Group<'_> = (
        "Spraying, step by step",
        &[
            ("steps[0].name", "mist"),
            ("steps[0].atomizing_kpa", "10 psi"),
            ("steps[0].passes_count", "3"),
            ("steps[0].wait_s", "5 min"),
        ],
    );
    work.sheet("release_film", &fields, &[steps], &[], &["base"]).await;
    let begin = [("coat", "release"), ("area_m2", "2 m2"), ("film_um", "25 um"), ("transfer_pct", "50"), ("method", "gun_cup")];
    let book = work.begun("Mould film", "Flume mould 3", &begin).await;
    work.ready(&[]).await;
    work.to(&book, 2).await;
    browser.fill("fill_ml", "250 mL").await;
    browser.press("ready-fill").await;
    browser.wait_text("250 mL into the gun cup").await;
    work.to(&book, 5).await;
    browser.press("start-spraying").await;
    for no in 1..=3 {
        browser.wait_text(&format!("Pass {no} of 3")).await;
        work.pass("60 mL", no).await;
        work.shop.clock.advance(SignedDuration::from_mins(6));
        work.to(&book, 5).await;
    }
    browser.press("film-right").await;
    browser.press("back-to-can").await;
    browser.gone("button[name='stamp-pass']").await;
    work.signed(&book, &["Flume mould 3 · release", "Pass from pot"]).await;
    work.close().await;
}

/// Granite on a lamp house: a thin ground, then the pattern at its own air, through a nozzle that lets the grain pass.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_granite_texture_on_a_lamp_house(db: PgPool) {
    let work = Work::open(db).await;
    let browser = &work.browser;
    let fields = [
        ("name", "Lamp house granite"),
        ("base_density_kg_l", "1.6"),
        ("solids_pct", "45"),
        ("wet_min_um", "15 mil"),
        ("wet_max_um", "30 mil"),
        ("temp_min_c", "10"),
        ("temp_max_c", "35"),
        ("tip_min_um", "2500 um"),
        ("stir_again_s", "30 min"),
    ];
    let steps: Group<'_> = (
        "Spraying, step by step",
        &[
            ("steps[0].name", "ground"),
            ("steps[0].atomizing_kpa", "40 psi"),
            ("steps[0].passes_count", "1"),
            ("steps[0].wait_s", "30 min"),
            ("steps[1].name", "pattern"),
            ("steps[1].atomizing_kpa", "35 psi"),
            ("steps[1].passes_count", "1"),
        ],
    );
    work.sheet("textured", &fields, &[steps], &["hazard-pressure_vessel"], &["base"]).await;
    let begin = [("coat", "granite"), ("area_m2", "3 m2"), ("film_um", "20 mil"), ("transfer_pct", "75"), ("method", "pot")];
    let book = work.begun("Lamp house granite", "Lamp house", &begin).await;
    work.ready(&["pressure_vessel"]).await;
    work.to(&book, 2).await;
    browser.fill("fill_ml", "3 L").await;
    browser.press("ready-fill").await;
    browser.wait_text("3 L into the pressure pot").await;
    // The bench's nozzle is too small for the grain; the deck's lets it pass.
    pick_rig(browser, &work.shop.address, &book, "Buoy pot, two litres").await;
    browser.wait_text("nozzle").await;
    work.to(&book, 5).await;
    browser.press("start-spraying").await;
    browser.wait("p.refusal").await;
    pick_rig(browser, &work.shop.address, &book, "Deck texture pot").await;
    work.to(&book, 5).await;
    browser.press("start-spraying").await;
    browser.wait_text("ground").await;
    work.pass("1 L", 1).await;
    work.shop.clock.advance(SignedDuration::from_mins(35));
    work.to(&book, 2).await;
    if_there(browser, "stir-again").await;
    work.to(&book, 1).await;
    through_the_lists(browser).await;
    work.to(&book, 5).await;
    browser.wait_text("pattern").await;
    work.pass("1.5 L", 2).await;
    browser.press("film-right").await;
    browser.press("back-to-can").await;
    browser.gone("button[name='stamp-pass']").await;
    if_there(browser, "flushed").await;
    work.signed(&book, &["Lamp house · granite", "lot N-base"]).await;
    work.close().await;
}

/// A kit sold by volume is emptied and filled to its line, whatever cup lies at hand.
#[sqlx::test(migrations = "../server/migrations")]
async fn a_kit_is_filled_to_the_line_of_its_can(db: PgPool) {
    let work = Work::open(db).await;
    let browser = &work.browser;
    let own = [("name", "Hatch kit"), ("solids_pct", "80"), ("pot_life_s", "1 h"), ("pot_life_at_c", "20"), ("basis", "by_kit")];
    let fields: Vec<_> = own.into_iter().chain(FILM).collect();
    let cans: Group<'_> = ("Product and proportion", &[("kit_base_ml", "750 mL"), ("kit_hardener_ml", "250 mL")]);
    work.sheet("two_part", &fields, &[cans], &["kit_to_line"], &["base", "hardener"]).await;
    let begin = [
        ("coat", "coat"),
        ("area_m2", "2 m2"),
        ("film_um", "4 mil"),
        ("transfer_pct", "90"),
        ("method", "brush"),
        ("substrate", "wood"),
    ];
    let book = work.begun("Hatch kit", "Hatch 2", &begin).await;
    work.ready(&[]).await;
    work.to(&book, 2).await;
    browser.fill("wanted_ml", "1 L").await;
    browser.press("open-pot").await;
    // The quart cup is smaller than the kit: its can is not.
    browser.wait_text("This cup holds 32 fl oz").await;
    browser.press("whole-can").await;
    browser.press("combine").await;
    browser.wait_text("Filled to its line, 250 mL").await;
    browser.press("whole-can").await;
    browser.press("stirred").await;
    browser.wait("button[name='another-pot']").await;
    drop(book);
    work.close().await;
}
