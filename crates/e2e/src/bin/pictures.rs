//! Takes pictures of every view from a running demo: `pictures ADDRESS FOLDER [booth] [1280x657] [stress] [owner] [only=mix] [hand=ADDRESS]`.

use level_keel_e2e::{Browser, stress};
use serde_json::Value;
use std::path::PathBuf;

struct Camera {
    browser: Browser,
    address: String,
    folder: PathBuf,
    only: Option<String>,
}

impl Camera {
    async fn shot(&self, name: &str) {
        if self.only.as_deref().is_none_or(|only| only.split(',').any(|o| o == name)) {
            self.browser.picture(&self.folder.join(format!("{name}.png"))).await;
        }
    }

    async fn view(&self, name: &str, path: &str, wait: &str) {
        self.browser.go(&format!("{}/{path}", self.address)).await;
        self.browser.wait(wait).await;
        self.shot(name).await;
    }
}

#[tokio::main]
async fn main() {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let [address, folder, rest @ ..] = args.as_slice() else {
        eprintln!("pictures ADDRESS FOLDER [booth] [WIDTHxHEIGHT] [stress] [owner] [only=NAME,NAME]");
        std::process::exit(2);
    };
    let full = rest.iter().any(|a| a == "stress");
    let coat = if full { Some(stress::lay_on(address).await) } else { None };
    let browser = Browser::start().await;
    if let Some((w, h)) = rest.iter().find_map(|a| a.split_once('x')).and_then(|(w, h)| w.parse().ok().zip(h.parse().ok())) {
        browser.size(w, h).await;
    }
    let only = rest.iter().find_map(|a| a.strip_prefix("only=")).map(String::from);
    let camera = Camera { browser, address: address.clone(), folder: folder.into(), only };
    let browser = &camera.browser;
    camera.view("sign-in", "", ".names button").await;
    if rest.iter().any(|a| a == "booth") {
        browser.client.execute("localStorage.setItem('level-keel-theme', 'booth')", vec![]).await.expect("a script");
    }
    let owner = rest.iter().any(|a| a == "owner");
    let (name, pin) = match (full, owner) {
        (true, _) => ("Ansa Reef", "1357"),
        (_, true) => ("Dunja Fenn", "4680"),
        _ => ("Brok Tarn", "2468"),
    };
    browser.sign_in(address, name, pin).await;
    browser.wait(".next").await;
    camera.shot("board").await;
    camera.view("sheets", "sheets", ".rows").await;
    browser.click(".rows a").await;
    browser.wait("form.form").await;
    camera.shot("sheet").await;
    camera.view("stores", "stores", ".rows").await;
    let lots = browser.read("/api/v1/lots?find=P-2207").await;
    let lot = lots["lots"][0]["id"].as_str().unwrap_or_default().to_string();
    camera.view("lot", &format!("stores/{lot}"), ".lot-page").await;
    camera.view("labels", &format!("labels?of=lot:{lot}"), ".thing-label svg").await;
    camera.view("lists", "lists", ".rows").await;
    camera.view("parts", "parts", ".part-row").await;
    let parts = browser.read("/api/v1/parts").await;
    let buoy = parts.as_array().and_then(|all| all.iter().find(|p| p["name"] == "Buoy 7")).cloned().unwrap_or_default();
    camera.view("part", &format!("parts/{}", buoy["id"].as_str().unwrap_or_default()), ".layer").await;
    camera.view("rigs", "rigs", ".rig-line").await;
    for (tab, wait) in [
        ("rig-shut", ".steps"),
        ("rig-care", ".check-group"),
        ("rigs-pieces", ".rows"),
        ("rigs-tips", ".tips-two svg"),
        ("rigs-scales", "[name='resolution_g']"),
    ] {
        browser.press(tab).await;
        browser.wait(wait).await;
        camera.shot(tab).await;
    }
    browser.press("rigs-rigs").await;
    browser.press("rig-Flume gel-coat machine").await;
    browser.press("rig-tip").await;
    browser.wait(".tip-wear .level").await;
    camera.shot("rig-wear").await;
    camera.view("records", "records", ".rows").await;
    camera.view("people", "people", ".rows").await;
    begin(&camera).await;
    stations(&camera, coat.map(|id| id.to_string())).await;
    if let Some(hand) = rest.iter().find_map(|a| a.strip_prefix("hand=")) {
        weigh_in(&camera, hand).await;
    }
    let found = camera.browser.read("/api/v1/records?find=Flume%20section%207").await;
    if let Some(porous) = found["rows"].as_array().and_then(|all| all.iter().find(|r| r["label"] == "Flume section 7 · gel coat"))
    {
        let id = porous["id"].as_str().unwrap_or_default();
        browser.go(&format!("{address}/batches/{id}?at=6")).await;
        browser.press("close-defects").await;
        browser.wait(".causes").await;
        camera.shot("defects").await;
    }
    let records = camera.browser.read("/api/v1/records").await;
    let id = records["rows"][0]["id"].as_str().unwrap_or_default().to_string();
    camera.view("card", &format!("batches/{id}/card"), "article.card").await;
    browser.go(&format!("{address}/")).await;
    browser.wait(".next").await;
    browser.press("units").await;
    browser.wait("[data-units]").await;
    camera.shot("units").await;
    camera.browser.client.clone().close().await.expect("the browser closes");
}

/// The beginning of a batch, filled in.
async fn begin(camera: &Camera) {
    let browser = &camera.browser;
    browser.go(&format!("{}/begin", camera.address)).await;
    browser.wait("select[name='sheet'] option:nth-child(2)").await;
    let pick = "return [...document.querySelectorAll('select[name=sheet] option')].find(o => o.text.startsWith('Island')).value";
    let sheet = browser.client.execute(pick, vec![]).await.expect("a script");
    browser.fill("sheet", sheet.as_str().unwrap_or_default()).await;
    for (field, text) in
        [("part", "Buoy 9"), ("coat", "primer"), ("area_m2", "11 m2"), ("film_um", "4 mil"), ("thinner_pct", "5")]
    {
        browser.fill(field, text).await;
    }
    browser.wait(".see .live").await;
    camera.shot("begin").await;
}

/// The plan of the pots, two ways of it, a marked cup, and a pour as the simulated scale tells it.
async fn weigh_in(camera: &Camera, hand: &str) {
    let browser = &camera.browser;
    let book = browser.batch("Buoy 8").await;
    browser.go(&format!("{}/batches/{book}?at=2", camera.address)).await;
    for (tab, wait) in [("plan", ".see .live"), ("ways", ".facts"), ("work", "[name='fill_ml']")] {
        browser.press(&format!("mix-{tab}")).await;
        browser.wait(wait).await;
        camera.shot(&format!("mix-{tab}")).await;
    }
    browser.press("mix-pour").await;
    browser.press("another-pot").await;
    browser.press("open-pot").await;
    browser.wait(".weigh").await;
    for said in ["take", "put 350", "tare", "pour 690 400"] {
        tell(hand, said).await;
        tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    }
    tokio::time::sleep(std::time::Duration::from_secs(2)).await;
    camera.shot("mix-weigh").await;
    browser.press("mix-mark").await;
    browser.wait(".export").await;
    camera.shot("mix-mark").await;
}

async fn tell(hand: &str, said: &str) {
    use tokio::io::AsyncWriteExt;
    let mut stream = tokio::net::TcpStream::connect(hand).await.expect("the hand at the scale");
    stream.write_all(format!("{said}\n").as_bytes()).await.expect("it hears");
}

/// The six stations: each of the batch that shows it best, or all of one.
async fn stations(camera: &Camera, one: Option<String>) {
    let records = camera.browser.read("/api/v1/records").await;
    let find = |list: &Value, part: &str| {
        let rows = list.as_array().cloned().unwrap_or_default();
        let row = rows.iter().find(|b| b["label"].as_str().is_some_and(|l| l.starts_with(part))).map(|b| b["id"].clone());
        row.and_then(|id| id.as_str().map(String::from)).unwrap_or_default()
    };
    for (name, part, at) in [
        ("ready", "Buoy 8", 1),
        ("ready-read", "Buoy 7", 1),
        ("mix", "Buoy 8", 2),
        ("set", "Buoy 7", 3),
        ("prove", "Float", 4),
        ("spray", "Buoy 7", 5),
        ("close", "Buoy 7", 6),
    ] {
        let book = match &one {
            Some(book) => book.clone(),
            None => camera.browser.batch(part).await,
        };
        camera.view(name, &format!("batches/{book}?at={at}"), ".station .see").await;
        if name == "close" {
            camera.browser.press("close-shut").await;
            camera.browser.wait(".steps").await;
            camera.shot("close-shut").await;
        }
        if name == "set" && camera.only.as_deref().is_none_or(|only| only.contains("set-")) {
            for (tab, wait) in [("speed", ".see svg"), ("ask", ".see .shares"), ("catch", ".shares"), ("rig", ".rig-line")] {
                camera.browser.press(&format!("set-{tab}")).await;
                camera.browser.wait(wait).await;
                camera.shot(&format!("set-{tab}")).await;
            }
        }
    }
    if one.is_none() {
        let signed = find(&records["rows"], "Buoy 7");
        camera.view("close-signed", &format!("batches/{signed}?at=6"), ".station .see").await;
    }
}
