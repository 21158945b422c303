//! A browser of its own: its own chromedriver on a free port, in its own process group, gone when dropped.

use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder, Locator};
use serde_json::{Value, json};
use std::os::unix::process::CommandExt;
use std::process::{Child, Command, Stdio};
use std::time::Duration;

const FLAGS: [&str; 19] = [
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    // Shared memory may be closed to an ordinary user on a bare machine; the profile folder is not.
    "--disable-dev-shm-usage",
    "--disable-quic",
    "--no-first-run",
    "--no-default-browser-check",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-extensions",
    "--disable-crash-reporter",
    "--disable-breakpad",
    "--hide-scrollbars",
    "--force-device-scale-factor=1",
    "--font-render-hinting=none",
    "--lang=en-US",
    "--force-prefers-reduced-motion",
    "--window-size=1280,800",
];

/// How long a thing may take to appear.
const PATIENCE: Duration = Duration::from_secs(40);

/// A headless Chromium.
pub struct Browser {
    /// The WebDriver client.
    pub client: Client,
    driver: Child,
    /// The session at its driver, as an address: what a failed test is looked at by.
    session: String,
    profile: std::path::PathBuf,
}

impl Browser {
    /// Starts one at 1280×800.
    pub async fn start() -> Browser {
        let port = std::net::TcpListener::bind("127.0.0.1:0").and_then(|l| l.local_addr()).expect("a free port").port();
        let driver = Command::new("chromedriver")
            .arg(format!("--port={port}"))
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .process_group(0)
            .spawn()
            .expect("chromedriver is installed by script/test");
        let profile = std::env::temp_dir().join(format!("level-keel-{}", uuid::Uuid::now_v7()));
        let mut flags: Vec<String> = FLAGS.iter().map(ToString::to_string).collect();
        flags.push(format!("--user-data-dir={}", profile.display()));
        let caps = json!({ "goog:chromeOptions": { "args": flags }, "goog:loggingPrefs": { "browser": "ALL" } });
        let Value::Object(caps) = caps else { unreachable!("an object literal") };
        let mut builder = ClientBuilder::new(hyper_util::client::legacy::connect::HttpConnector::new());
        builder.capabilities(caps);
        let mut tries = 0;
        let client = loop {
            match builder.connect(&format!("http://127.0.0.1:{port}")).await {
                Ok(client) => break client,
                Err(e) if tries > 100 => panic!("chromedriver does not answer: {e}"),
                Err(_) => tries += 1,
            }
            tokio::time::sleep(Duration::from_millis(100)).await;
        };
        let session = client.session_id().await.expect("an answer").expect("a session");
        let session = format!("http://127.0.0.1:{port}/session/{session}");
        let browser = Browser { client, driver, session, profile };
        browser.size(1280, 800).await;
        browser
    }

    /// Keeps the page as it is: its picture, its text and its console.
    pub fn keep(&self, folder: &std::path::Path, test: &str) {
        crate::failed::keep(&self.session, folder, test);
    }

    /// Sets the size of the page itself.
    pub async fn size(&self, width: u32, height: u32) {
        let params = json!({ "width": width, "height": height, "deviceScaleFactor": 1, "mobile": false });
        self.cdp("Emulation.setDeviceMetricsOverride", params).await;
    }

    /// Dots of a picture to one of the page.
    pub async fn sharpness(&self, dots: u32) {
        let params = json!({ "width": 1280, "height": 800, "deviceScaleFactor": dots, "mobile": false });
        self.cdp("Emulation.setDeviceMetricsOverride", params).await;
    }

    /// Shows the page as it is printed.
    pub async fn as_printed(&self) {
        self.cdp("Emulation.setEmulatedMedia", json!({ "media": "print" })).await;
    }

    /// The page as a printer gets it, as PDF on paper of the usual size.
    pub async fn printed(&self) -> Vec<u8> {
        self.client.print(fantoccini::wd::PrintConfiguration::default()).await.expect("the page prints")
    }

    /// As for who asked the system for less motion, or did not.
    pub async fn motion(&self, less: bool) {
        let features = json!([{ "name": "prefers-reduced-motion", "value": if less { "reduce" } else { "no-preference" } }]);
        self.cdp("Emulation.setEmulatedMedia", json!({ "features": features })).await;
    }

    /// Runs before any script of every page that is opened from now on.
    pub async fn before_every_page(&self, source: &str) {
        self.cdp("Page.addScriptToEvaluateOnNewDocument", json!({ "source": source })).await;
    }

    /// Keeps what would be heard and said, and how many locks hold the screen awake: this machine has no loudspeaker and no
    /// screen, so they are stood in for.
    pub async fn with_ears(&self) {
        self.before_every_page(
            "window.heard = []; window.said = []; window.awake = 0;
            const start = OscillatorNode.prototype.start;
            OscillatorNode.prototype.start = function (at) { window.heard.push(Math.round(this.frequency.value)); return start.call(this, at); };
            speechSynthesis.speak = (u) => window.said.push(u.text);
            navigator.wakeLock.request = async () => { window.awake += 1; return { release: async () => { window.awake -= 1; } }; };",
        )
        .await;
    }

    /// Hertz of all that was heard on this page since it was opened.
    pub async fn heard(&self) -> Vec<i64> {
        let heard = self.client.execute("return window.heard", vec![]).await.expect("a script");
        heard.as_array().expect("tones").iter().filter_map(Value::as_i64).collect()
    }

    /// Makes it a touch screen.
    pub async fn touch(&self) {
        self.cdp("Emulation.setTouchEmulationEnabled", json!({ "enabled": true, "maxTouchPoints": 5 })).await;
    }

    /// Cuts the network of the page, or gives it back.
    pub async fn offline(&self, cut: bool) {
        self.cdp("Network.enable", json!({})).await;
        let params = json!({ "offline": cut, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1 });
        self.cdp("Network.emulateNetworkConditions", params).await;
    }

    /// Lets every call of the page to the server fail, while the built page itself still loads.
    pub async fn fail_reads(&self, fail: bool) {
        self.cdp("Network.enable", json!({})).await;
        let urls = if fail { json!(["*/api/v1/*"]) } else { json!([]) };
        self.cdp("Network.setBlockedURLs", json!({ "urls": urls })).await;
    }

    /// Lets the page hear the answer to everything it sends this much later; what it reads comes as always.
    pub async fn slow_answers(&self, ms: u32) {
        let source = format!(
            "const quick = window.fetch; window.fetch = async (asked, how) => {{
                const answer = await quick(asked, how);
                const method = asked instanceof Request ? asked.method : how?.method;
                if (method === 'POST' && !answer.url.includes('/session')) await new Promise((go) => setTimeout(go, {ms}));
                if (method === 'POST' && !answer.url.includes('dry_run=true')) window.answered = (window.answered ?? 0) + 1;
                return answer;
            }};"
        );
        self.before_every_page(&source).await;
    }

    /// A tap as a finger gives it: nothing waits for the button to be ready, and one that is off swallows it.
    pub async fn tap(&self, name: &str) {
        let tap = "document.querySelector(`button[name='${arguments[0]}']`)?.click()";
        self.client.execute(tap, vec![name.into()]).await.expect("a script");
    }

    async fn cdp(&self, cmd: &str, params: Value) {
        let body = json!({ "cmd": cmd, "params": params });
        self.client.issue_cmd(Cdp(body)).await.expect("a devtools command");
    }

    /// Opens an address.
    pub async fn go(&self, address: &str) {
        self.client.goto(address).await.expect("the page opens");
    }

    /// Waits for a CSS selector.
    pub async fn wait(&self, css: &str) -> fantoccini::elements::Element {
        match self.client.wait().at_most(PATIENCE).for_element(Locator::Css(css)).await {
            Ok(element) => element,
            Err(_) => panic!("never appeared: {css}\n--- the page says:\n{}", self.text().await),
        }
    }

    /// Asks again until it is so. The one place where a test lets time pass; what never comes names itself and the page.
    pub async fn until(&self, what: &str, mut so: impl AsyncFnMut() -> bool) {
        let end = std::time::Instant::now() + PATIENCE;
        while !so().await {
            if std::time::Instant::now() > end {
                panic!("{what}\n--- the page says:\n{}", self.text().await);
            }
            tokio::time::sleep(Duration::from_millis(100)).await;
        }
    }

    /// Waits until nothing moves or fades on the page.
    pub async fn still(&self) {
        let moving = "return document.getAnimations().filter((a) => a.playState === 'running').length";
        self.until("something never came to rest", async || {
            self.client.execute(moving, vec![]).await.expect("a script").as_u64() == Some(0)
        })
        .await;
    }

    /// Waits until nothing fits a CSS selector any more.
    pub async fn gone(&self, css: &str) {
        self.until(&format!("never went: {css}"), async || self.client.find(Locator::Css(css)).await.is_err()).await;
    }

    /// Waits until the page holds a text.
    pub async fn wait_text(&self, text: &str) {
        let words: String = text.split_whitespace().collect::<Vec<_>>().join(" ");
        self.until(&format!("never said: {words}"), async || self.text().await.contains(&words)).await;
    }

    /// How many answers to what it stores the page has heard since [`Browser::slow_answers`].
    pub async fn answered(&self) -> u64 {
        let heard = self.client.execute("return window.answered ?? 0", vec![]).await.expect("a script");
        heard.as_u64().unwrap_or(0)
    }

    /// All text of the page, spaces folded (no-break ones too).
    pub async fn text(&self) -> String {
        let text = self.client.execute("return document.body.innerText", vec![]).await.expect("a script");
        text.as_str()
            .unwrap_or_default()
            .split(|c: char| c.is_whitespace() || c == '\u{a0}')
            .filter(|w| !w.is_empty())
            .collect::<Vec<_>>()
            .join(" ")
    }

    /// Clicks once it can be clicked. What lies under a mark at the edge of its place is brought to the middle, as a finger would.
    pub async fn click(&self, css: &str) {
        let middle = format!("document.querySelector(`{css}`)?.scrollIntoView({{ block: 'center', inline: 'center' }})");
        self.until(&format!("cannot click {css}"), async || {
            let clicked = self.wait(&format!("{css}:not([disabled])")).await.click().await.is_ok();
            if !clicked {
                self.client.execute(&middle, vec![]).await.expect("a script");
            }
            clicked
        })
        .await;
    }

    /// Clicks a button by its name attribute.
    pub async fn press(&self, name: &str) {
        self.click(&format!("button[name='{name}']")).await;
    }

    /// Types into a field by its name attribute, replacing what is there.
    pub async fn fill(&self, name: &str, text: &str) {
        let field = self.wait(&format!("[name='{name}']")).await;
        let set = "const [f, t] = arguments; const p = Object.getOwnPropertyDescriptor(f.tagName === 'SELECT' ? HTMLSelectElement.prototype : HTMLInputElement.prototype, 'value'); f.focus(); p.set.call(f, t); f.dispatchEvent(new Event(f.tagName === 'SELECT' ? 'change' : 'input', { bubbles: true }));";
        let element = serde_json::to_value(&field).expect("an element");
        self.client.execute(set, vec![element, json!(text)]).await.expect("a script");
    }

    /// Hands a file to a file field, as the system's own dialog would.
    pub async fn choose_file(&self, css: &str, path: &std::path::Path) {
        let field = self.wait(css).await;
        field.send_keys(&path.display().to_string()).await.expect("a file is chosen");
    }

    /// Types real key strokes into a field by its name attribute.
    pub async fn type_in(&self, name: &str, text: &str) {
        self.wait(&format!("[name='{name}']")).await.send_keys(text).await.expect("keys");
    }

    /// Presses keys where the focus is.
    pub async fn keys(&self, text: &str) {
        self.client.active_element().await.expect("a focus").send_keys(text).await.expect("keys");
    }

    /// What the server answers the page at a path.
    pub async fn read(&self, path: &str) -> Value {
        let fetch = "const d = arguments[1]; fetch(arguments[0]).then(r => r.json()).then(d)";
        self.client.execute_async(fetch, vec![path.into()]).await.expect("an answer")
    }

    /// The id of the open batch whose label begins so.
    pub async fn batch(&self, label: &str) -> String {
        let board = self.read("/api/v1/board").await;
        let rows = board["batches"].as_array().cloned().unwrap_or_default();
        let row = rows.into_iter().find(|b| b["label"].as_str().is_some_and(|l| l.starts_with(label)));
        row.and_then(|b| b["id"].as_str().map(String::from)).unwrap_or_else(|| panic!("no batch {label}"))
    }

    /// Begins a batch of the product whose name begins so, with these fields.
    pub async fn begin(&self, base: &str, product: &str, fields: &[(&str, &str)]) {
        self.go(&format!("{base}/begin")).await;
        self.wait("select[name='sheet'] option:nth-child(2)").await;
        let find =
            "return [...document.querySelectorAll('select[name=sheet] option')].find(o => o.text.startsWith(arguments[0])).value";
        let sheet = self.client.execute(find, vec![product.into()]).await.expect("a script");
        self.fill("sheet", sheet.as_str().expect("an id")).await;
        for (field, text) in fields {
            self.fill(field, text).await;
        }
        self.press("begin-batch").await;
    }

    /// Opens a part by its whole name. The server finds it: until it answered, the rows are those of before.
    pub async fn open_part(&self, base: &str, name: &str) {
        self.go(&format!("{base}/parts")).await;
        self.fill("find-part", name).await;
        self.until("the part alone", async || {
            let rows = "return [...document.querySelectorAll('.part-row b')].map((b) => b.innerText).join()";
            self.client.execute(rows, vec![]).await.expect("a script") == name
        })
        .await;
        self.click(".part-row").await;
    }

    /// Signs in by name and PIN.
    pub async fn sign_in(&self, address: &str, name: &str, pin: &str) {
        self.go(address).await;
        self.sign_in_here(name, pin).await;
    }

    /// Signs in on the page as it is.
    pub async fn sign_in_here(&self, name: &str, pin: &str) {
        self.wait(".names button").await;
        let pick = "[...document.querySelectorAll('.names button')].find(b => b.innerText.includes(arguments[0])).click()";
        self.client.execute(pick, vec![json!(name)]).await.expect("a script");
        self.type_in("pin", pin).await;
        self.press("sign-in").await;
        self.wait(".top nav").await;
    }

    /// A picture once fonts are there and two frames are drawn.
    pub async fn picture(&self, path: &std::path::Path) {
        let settle = "const done = arguments[arguments.length - 1]; document.fonts.ready.then(() => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(() => done(true), 350))));";
        self.client.execute_async(settle, vec![]).await.expect("a script");
        let png = self.client.screenshot().await.expect("a picture");
        std::fs::write(path, png).expect("the picture is written");
    }
}

impl Drop for Browser {
    fn drop(&mut self) {
        if std::thread::panicking() {
            self.keep(&crate::failed::folder(), std::thread::current().name().unwrap_or("a_test"));
        }
        // The whole group: chromedriver and every browser it started.
        // By the system call and not by the kill program, which reads a negative number in its own way.
        let group = rustix::process::Pid::from_child(&self.driver);
        let _ = rustix::process::kill_process_group(group, rustix::process::Signal::KILL);
        let _ = self.driver.wait();
        let _ = std::fs::remove_dir_all(&self.profile);
    }
}

#[derive(Debug)]
struct Cdp(Value);

impl WebDriverCompatibleCommand for Cdp {
    fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/goog/cdp/execute", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(self.0.to_string()))
    }
}
