//! A signed-in client of the shop.

use crate::report::{Millis, Times};
use futures_util::StreamExt;
use serde_json::{Value, json};
use std::time::Instant;
use tokio::sync::mpsc::UnboundedSender;
use tokio::task::JoinHandle;
use uuid::Uuid;

#[derive(Clone)]
pub struct Client {
    http: reqwest::Client,
    base: String,
}

impl Client {
    pub async fn signed(address: &str) -> Client {
        let http = reqwest::Client::builder().cookie_store(true).build().expect("a client");
        let client = Client { http, base: format!("{address}/api/v1") };
        let body = json!({ "name": "Ansa Reef", "pin": "1357" });
        let answer = client.http.post(format!("{}/session", client.base)).json(&body).send().await.expect("an answer");
        assert!(answer.status().is_success(), "signing in: {}", answer.status());
        client
    }

    pub async fn get(&self, path: &str) -> Value {
        self.http.get(format!("{}{path}", self.base)).send().await.expect("an answer").json().await.expect("JSON")
    }

    /// Sends what must be taken.
    pub async fn post(&self, path: &str, body: &Value) {
        let sent = self.http.post(format!("{}{path}", self.base)).json(body).send().await.expect("an answer");
        assert!(sent.status().is_success(), "{path}: {}", sent.status());
    }

    pub async fn entry(&self, book: &str, kind: &str, payload: Value, dry: bool) -> Value {
        let body = json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload });
        // As the page asks: for the station it was made at.
        let station = if kind == "set_up" { "set" } else { "mix" };
        let path = format!("{}/books/{book}/entries?dry_run={dry}&station={station}", self.base);
        let answer = self.http.post(path).json(&body).send().await.expect("an answer");
        let (status, text) = (answer.status(), answer.text().await.expect("a text"));
        assert!(status.is_success(), "{kind}: {status} {text}");
        serde_json::from_str(&text).expect("JSON")
    }

    /// Asks the line of a batch.
    pub async fn line(&self, book: &str, line: Value) -> Value {
        let path = format!("{}/compute/delivery/line/{book}", self.base);
        let answer = self.http.post(path).json(&json!({ "line": line })).send().await.expect("an answer");
        assert!(answer.status().is_success(), "the line: {}", answer.status());
        answer.json().await.expect("JSON")
    }

    /// A stamp sent and acknowledged, with nothing more asked back.
    pub async fn stamp(&self, book: &str, text: &str) {
        let body = json!({ "id": Uuid::now_v7(), "kind": "note", "payload": { "text": text } });
        let path = format!("{}/books/{book}/entries?view=false", self.base);
        let answer = self.http.post(path).json(&body).send().await.expect("an answer");
        assert!(answer.status().is_success(), "{}", answer.status());
        answer.bytes().await.expect("a body");
    }

    /// A table of lots in one import; all of it must be stored.
    pub async fn import(&self, table: String) {
        let path = format!("{}/lots/import?id={}", self.base, Uuid::now_v7());
        let rows = table.lines().count() - 1;
        let answer = self.http.post(path).header("content-type", "text/csv").body(table).send().await.expect("an answer");
        let said: Value = answer.json().await.expect("JSON");
        assert_eq!(said["stored"], rows, "{said}");
    }

    /// Times of the same question asked one after the other.
    pub async fn times(&self, path: &str, asked: usize) -> Times {
        let mut times = Times::default();
        for _ in 0..asked {
            let start = Instant::now();
            self.get(path).await;
            times.add(start.elapsed());
        }
        times
    }

    pub async fn begun(&self) -> String {
        let sheets = self.get("/sheets").await;
        let sheet = sheets.as_array().and_then(|s| s.iter().find(|s| s["label"] == "Epoxy primer")).expect("a sheet");
        let id = Uuid::now_v7();
        let wanted = json!({ "sheet": sheet["id"], "part": format!("Load {id}"), "coat": "primer", "area_m2": 11, "film_um": 100,
            "film_is": "wet", "transfer_pct": 62 });
        let answer = self.http.post(format!("{}/batches", self.base)).json(&json!({ "id": id, "wanted": wanted })).send().await;
        assert!(answer.expect("an answer").status().is_success());
        id.to_string()
    }

    /// A batch as it is in the middle of its work, with a pot to pour into.
    pub async fn pot(&self) -> (String, Uuid) {
        let book = self.begun().await;
        self.entry(&book, "conditions", json!({ "air_c": 21, "surface_c": 20, "material_c": 20, "rh_pct": 60 }), false).await;
        for n in 0..40 {
            self.entry(&book, "note", json!({ "text": format!("note {n}") }), false).await;
        }
        let charge = Uuid::now_v7();
        self.entry(&book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 1900 }), false).await;
        (book, charge)
    }

    /// Answers a second, by so many at once, each asking so often.
    pub async fn rate(&self, address: &str, hands: usize, each: usize) -> f64 {
        let start = Instant::now();
        let tasks: Vec<_> = (0..hands)
            .map(|_| {
                let (http, address) = (self.http.clone(), address.to_string());
                tokio::spawn(async move {
                    for _ in 0..each {
                        let answer = http.get(&address).send().await.expect("an answer");
                        assert!(answer.status().is_success(), "{}", answer.status());
                        answer.bytes().await.expect("a body");
                    }
                })
            })
            .collect();
        for task in tasks {
            task.await.expect("a reader");
        }
        (hands * each) as f64 / start.elapsed().as_secs_f64()
    }

    pub async fn median(&self, path: &str, times: usize) -> Millis {
        let mut all = Times::default();
        for _ in 0..times {
            let start = Instant::now();
            let answer = self.get(path).await;
            all.add(start.elapsed());
            // A problem has a code.
            assert!(answer.is_object() && answer["code"].is_null(), "{answer}");
        }
        all.at(50)
    }

    /// A stream, open.
    pub async fn stream(&self, path: &str) -> reqwest::Response {
        let answer = self.http.get(format!("{}{path}", self.base)).send().await.expect("a stream");
        assert!(answer.status().is_success(), "{}", answer.status());
        answer
    }

    /// Listens; tells when each event comes.
    pub async fn listen(&self, heard: UnboundedSender<Instant>) -> JoinHandle<()> {
        let answer = self.http.get(format!("{}/live", self.base)).send().await.expect("a stream");
        tokio::spawn(async move {
            let mut stream = answer.bytes_stream();
            while let Some(Ok(chunk)) = stream.next().await {
                let at = Instant::now();
                for _ in 0..String::from_utf8_lossy(&chunk).matches("event: changed").count() {
                    let _ = heard.send(at);
                }
            }
        })
    }
}
