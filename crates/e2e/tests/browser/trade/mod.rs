//! Whole jobs of the island works, from a new sheet to the signed card, as their users would do them.

mod cups_and_cans;
mod jobs;
mod solo;

use crate::journeys::{open_group, receive, sign_out, through_the_lists};
use level_keel_e2e::{Browser, Shop};
use sqlx::PgPool;

/// A group of a sheet with the fields that are filled in it.
type Group<'a> = (&'a str, &'a [(&'a str, &'a str)]);

/// The lead at work in the browser.
struct Work {
    shop: Shop,
    browser: Browser,
}

impl Work {
    async fn open(db: PgPool) -> Work {
        let work = Work { shop: Shop::open(db).await, browser: Browser::start().await };
        work.browser.size(1280, 800).await;
        work.browser.sign_in(&work.shop.address, "Brok Tarn", "2468").await;
        work
    }

    async fn close(self) {
        drop(self.browser);
        self.shop.close().await;
    }

    async fn fill(&self, fields: &[(&str, &str)]) {
        for (name, text) in fields {
            self.browser.fill(name, text).await;
        }
    }

    /// A new sheet by its kind, with what only some sheets say, and its ticks; its lots come in.
    async fn sheet(&self, kind: &str, fields: &[(&str, &str)], more: &[Group<'_>], ticks: &[&str], lots: &[&str]) {
        self.browser.go(&format!("{}/sheets/new", self.shop.address)).await;
        self.browser.press(&format!("kind-{kind}")).await;
        self.fill(fields).await;
        self.browser.press("sheet-more").await;
        for (group, fields) in more {
            open_group(&self.browser, group).await;
            self.fill(fields).await;
        }
        for tick in ticks {
            self.browser.click(&format!("input[name='{tick}']")).await;
        }
        self.browser.press("save-sheet").await;
        self.browser.wait("[name='new-sheet']").await;
        let name = fields.iter().find(|f| f.0 == "name").expect("a name").1;
        for component in lots {
            receive(&self.browser, &self.shop, name, component, &format!("N-{component}")).await;
        }
    }

    /// A batch begun on it, as the page then shows it.
    async fn begun(&self, product: &str, part: &str, fields: &[(&str, &str)]) -> String {
        let all: Vec<(&str, &str)> = [("part", part)].into_iter().chain(fields.iter().copied()).collect();
        self.browser.begin(&self.shop.address, product, &all).await;
        self.browser.wait(".batch-head").await;
        self.browser.batch(part).await
    }

    async fn to(&self, book: &str, station: u8) {
        self.browser.go(&format!("{}/batches/{book}?at={station}", self.shop.address)).await;
    }

    /// Conditions read, guards on, the lists gone through.
    async fn ready(&self, guards: &[&str]) {
        self.fill(&[("air_c", "21"), ("surface_c", "20"), ("material_c", "20"), ("rh_pct", "50")]).await;
        self.browser.press("take-conditions").await;
        self.browser.wait("[name='read-again']").await;
        for guard in guards {
            self.browser.click(&format!("input[name='guard-{guard}']")).await;
        }
        if !guards.is_empty() {
            self.browser.press("take-guards").await;
            self.browser.wait_text("Guards on").await;
        }
        through_the_lists(&self.browser).await;
    }

    /// One pass, with what it took.
    async fn pass(&self, used: &str, no: u32) {
        self.browser.fill("used_ml", used).await;
        self.browser.press("stamp-pass").await;
        self.browser.wait_text(&format!("Passes {no}")).await;
    }

    /// Signed by the lead, accepted by the inspector; the card says all of this.
    async fn signed(&self, book: &str, card: &[&str]) {
        self.to(book, 6).await;
        self.browser.press("sign").await;
        self.browser.wait_text("You did this work alone").await;
        sign_out(&self.browser).await;
        self.browser.sign_in(&format!("{}/batches/{book}?at=6", self.shop.address), "Celo Wick", "3579").await;
        self.browser.press("accept").await;
        self.browser.wait_text("The card is closed").await;
        self.browser.go(&format!("{}/batches/{book}/card", self.shop.address)).await;
        self.browser.wait("article.card").await;
        let text = self.browser.text().await;
        for said in card.iter().chain(&["Accepted: Celo Wick"]) {
            assert!(text.contains(said), "the card does not say {said}:\n{text}");
        }
        sign_out(&self.browser).await;
        self.browser.sign_in(&self.shop.address, "Brok Tarn", "2468").await;
    }
}

const FILM: [(&str, &str); 4] =
    [("wet_min_um", "2 mil"), ("wet_max_um", "6 mil"), ("temp_min_c", "10 C"), ("temp_max_c", "35 C")];

/// The figures of a two-part finish that is rolled or sprayed and looked at.
fn two_part(name: &str) -> Vec<(&str, &str)> {
    let own = [
        ("name", name),
        ("ratio", "4:1"),
        ("base_density_kg_l", "1.3 kg/L"),
        ("hardener_density_kg_l", "1 kg/L"),
        ("pot_life_s", "4 h"),
        ("pot_life_at_c", "20 C"),
        ("solids_pct", "60"),
    ];
    own.into_iter().chain(FILM).collect()
}

/// The batch whose page is open.
pub async fn book_on_page(browser: &Browser) -> String {
    let address = browser.client.current_url().await.expect("an address");
    address.path_segments().and_then(|mut parts| parts.nth(1)).expect("the page of a batch").to_string()
}

/// Presses a button that is there only where it is needed.
pub async fn if_there(browser: &Browser, name: &str) {
    let there = format!("return Boolean(document.querySelector(`button[name='{name}']`))");
    if browser.client.execute(&there, vec![]).await.expect("a script") == true {
        browser.press(name).await;
        browser.gone(&format!("button[name='{name}']")).await;
    }
}
