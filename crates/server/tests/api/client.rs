//! A client that speaks JSON and keeps its cookie.

use level_keel_harness::Shop;
use reqwest::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

pub const APPLICATOR: (&str, &str) = ("Ansa Reef", "1357");
pub const LEAD: (&str, &str) = ("Brok Tarn", "2468");
pub const INSPECTOR: (&str, &str) = ("Celo Wick", "3579");

#[derive(Clone)]
pub struct Client {
    pub http: reqwest::Client,
    pub base: String,
}

impl Client {
    pub fn unsigned(address: &str) -> Client {
        let http = reqwest::Client::builder().cookie_store(true).build().unwrap();
        Client { http, base: format!("{address}/api/v1") }
    }

    pub async fn signed(address: &str, (name, pin): (&str, &str)) -> Client {
        let client = Client::unsigned(address);
        let (status, body) = client.post("/session", json!({ "name": name, "pin": pin })).await;
        assert_eq!(status, 204, "{body}");
        client
    }

    pub async fn get(&self, path: &str) -> (StatusCode, Value) {
        answer(self.http.get(format!("{}{path}", self.base)).send().await.unwrap()).await
    }

    pub async fn post(&self, path: &str, body: Value) -> (StatusCode, Value) {
        answer(self.http.post(format!("{}{path}", self.base)).json(&body).send().await.unwrap()).await
    }

    pub async fn put(&self, path: &str, body: Value) -> (StatusCode, Value) {
        answer(self.http.put(format!("{}{path}", self.base)).json(&body).send().await.unwrap()).await
    }

    /// Writes an entry under a fresh id.
    pub async fn write(&self, book: &str, kind: &str, payload: Value) -> (StatusCode, Value) {
        let entry = json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload });
        self.post(&format!("/books/{book}/entries"), entry).await
    }

    /// Writes an entry that must be stored.
    pub async fn wrote(&self, book: &str, kind: &str, payload: Value) -> Value {
        let (status, body) = self.write(book, kind, payload).await;
        assert_eq!(status, 200, "{kind}: {body}");
        body
    }

    /// What an entry would do; refusals are answers here.
    pub async fn dry(&self, book: &str, kind: &str, payload: Value) -> Value {
        let entry = json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload });
        let (status, body) = self.post(&format!("/books/{book}/entries?dry_run=true"), entry).await;
        assert_eq!(status, 200, "{kind}: {body}");
        body
    }

    /// The text of a file to keep.
    pub async fn file(&self, path: &str) -> (String, String) {
        let response = self.http.get(format!("{}{path}", self.base)).send().await.unwrap();
        assert_eq!(response.status(), 200, "{path}");
        let name = response.headers().get("content-disposition").map_or("", |v| v.to_str().unwrap()).to_string();
        (name, response.text().await.unwrap())
    }

    /// Begins a batch on the demo's primer and returns its id.
    pub async fn begun(&self) -> String {
        let (_, sheets) = self.get("/sheets").await;
        let primer = sheets.as_array().unwrap().iter().find(|s| s["name"] == "Island epoxy primer").unwrap();
        let wanted = json!({ "sheet": primer["id"], "part": "Buoy 21", "coat": "primer", "area_m2": "120 ft2", "film_um": "4 mil",
                             "film_is": "wet", "transfer_pct": 62, "thinner_pct": null });
        let id = Uuid::now_v7();
        let (status, body) = self.post("/batches", json!({ "id": id, "wanted": wanted })).await;
        assert_eq!(status, 200, "{body}");
        id.to_string()
    }
}

async fn answer(response: reqwest::Response) -> (StatusCode, Value) {
    let status = response.status();
    let text = response.text().await.unwrap();
    (status, serde_json::from_str(&text).unwrap_or(Value::String(text)))
}

pub async fn lead(shop: &Shop) -> Client {
    Client::signed(&shop.address, LEAD).await
}

pub async fn applicator(shop: &Shop) -> Client {
    Client::signed(&shop.address, APPLICATOR).await
}
