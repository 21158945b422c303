//! A shop at its fullest, laid on over the wire: long names, twelve live pots, eight coats of one part, a comma
//! for the decimal mark. For pictures and for axe: a screen that holds this holds anything.

use reqwest::Client;
use serde_json::{Value, json};
use uuid::Uuid;

/// The longest names that are taken.
pub const PART: &str = "Breakwater range-light tower, seaward leaf of the upper gallery railing, no. 118";
const PRODUCT: &str = "Two-pack zinc-rich surface-tolerant epoxy holding primer, winter grade, oxide";
const COATS: [&str; 8] =
    ["holding primer", "stripe coat", "build coat 1", "build coat 2", "tie coat", "finish 1", "finish 2", "anti-graffiti"];
/// Pots alive when it stands.
pub const POTS: usize = 12;

/// A signed-in client of the shop.
pub struct Hand {
    http: Client,
    base: String,
}

impl Hand {
    /// Signs in.
    pub async fn signed(address: &str, name: &str, pin: &str) -> Hand {
        let http = Client::builder().cookie_store(true).build().expect("a client");
        let hand = Hand { http, base: format!("{address}/api/v1") };
        hand.send("POST", "/session", json!({ "name": name, "pin": pin })).await;
        hand
    }

    /// What the server answers; a refusal ends the test.
    pub async fn send(&self, method: &str, path: &str, body: Value) -> Value {
        let method = method.parse().expect("a method");
        let answer = self.http.request(method, format!("{}{path}", self.base)).json(&body).send().await.expect("an answer");
        let (status, text) = (answer.status(), answer.text().await.expect("a text"));
        assert!(status.is_success(), "{path}: {status} {text}");
        serde_json::from_str(&text).unwrap_or_default()
    }

    /// Writes an entry that happened so many minutes ago.
    pub async fn write(&self, book: Uuid, kind: &str, payload: Value, ago_min: f64) -> Value {
        let entry = json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload, "ago_s": ago_min * 60.0 });
        self.send("POST", &format!("/books/{book}/entries"), entry).await
    }
}

/// Lays it on and returns the batch of the first coat. The applicator reads metric with a comma from then on.
pub async fn lay_on(address: &str) -> Uuid {
    let lead = Hand::signed(address, "Brok Tarn", "2468").await;
    let sheet = json!({
        "name": PRODUCT, "label": "Zinc-rich wint", "charge": "pot", "base_density_kg_l": 2.41, "solids_pct": 62.5,
        "has_hardener": true, "basis": "by_volume", "ratio": "4:1", "hardener_density_kg_l": 0.98,
        "thinner_max_pct": 10, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87,
        "additives": [{ "name": "Flattening paste, coarse", "dose_g_l": "25 g/L", "density_kg_l": 1.6 }],
        "pot_life_s": "8 h", "pot_life_at_c": 20, "induction_s": "30 min", "recoat_min_s": "16 h", "recoat_max_s": "30 d",
        "recoat_at_c": 20, "wet_um": "150 µm", "wet_min_um": "120 µm", "wet_max_um": "220 µm", "temp_min_c": 5, "temp_max_c": 35,
        "margin_min_dk": 3, "rh_max_pct": 85, "stream": "general_pot",
        "hazards": ["isocyanate", "peroxide", "solvent", "styrene", "pressure_vessel", "high_pressure_fluid", "chromate", "exotherm"]
    });
    let sheet = lead.send("POST", "/sheets", json!({ "sheet": sheet })).await["id"].clone();
    let hand = Hand::signed(address, "Ansa Reef", "1357").await;
    let mut books = Vec::new();
    for coat in COATS {
        let book = Uuid::now_v7();
        let wanted = json!({ "sheet": sheet, "part": PART, "coat": coat, "zones": ["north gallery", "south gallery", "ladder", "stair"],
            "area_m2": "1234.5 m2", "film_um": "150 µm", "film_is": "wet", "transfer_pct": 60, "thinner_pct": 5 });
        hand.send("POST", "/batches", json!({ "id": book, "wanted": wanted })).await;
        books.push(book);
        hand.write(book, "conditions", json!({ "air_c": 21, "surface_c": 20.2, "material_c": 20, "rh_pct": 64 }), 500.0).await;
        let all =
            ["isocyanate", "peroxide", "solvent", "styrene", "pressure_vessel", "high_pressure_fluid", "chromate", "exotherm"];
        hand.write(book, "guards", json!({ "hazards": all }), 499.0).await;
        make_ready(&hand, &lead, &sheet, book).await;
    }
    // Pots of every age, the oldest spent, spread over the coats; the first has been sprayed from.
    for n in 0..POTS {
        let (book, ago) = (books[n % books.len()], 490.0 - 42.0 * n as f64);
        let charge = Uuid::now_v7();
        let opened =
            hand.write(book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": "12.5 L" }), ago).await;
        let pots = opened["view"]["mix"]["pots"].as_array().cloned().unwrap_or_default();
        let pot = pots.iter().find(|p| p["id"] == json!(charge)).cloned().unwrap_or_default();
        let mut reading = 0.0;
        for line in pot["lines"].as_array().expect("a plan") {
            if line["component"] == "hardener" {
                hand.write(book, "conditions", json!({ "air_c": 21, "surface_c": 20.2, "material_c": 20, "rh_pct": 64 }), ago)
                    .await;
                hand.write(book, "combine", json!({ "charge": charge }), ago - 1.0).await;
            }
            reading += grams(line["plan"]["text"].as_str().unwrap_or_default());
            let pour = json!({ "charge": charge, "component": line["component"], "reading_g": reading, "resolution_g": 1.0,
                "lot": if line["component"] == "additive1" { Value::Null } else { json!(code(line["component"].as_str().unwrap_or_default())) } });
            hand.write(book, "pour", pour, ago - 2.0).await;
        }
        if n != POTS - 2 {
            hand.write(book, "stirred", json!({ "charge": charge }), ago - 4.0).await;
        }
    }
    let first = books[0];
    let view = hand.send_get(&format!("/batches/{first}")).await;
    let live = view["pots"].as_array().expect("pots").iter().find(|p| p["state"] == "ready" || p["state"] == "watch");
    if let Some(pot) = live {
        hand.write(first, "conditions", json!({ "air_c": 21, "surface_c": 20.2, "material_c": 20, "rh_pct": 64 }), 1.5).await;
        hand.write(first, "start_spraying", json!({ "charge": pot["id"] }), 1.0).await;
        for n in 0..9 {
            let zone = &view["zones"][n % 4]["id"];
            hand.write(first, "pass", json!({ "charge": pot["id"], "zones": [zone], "used_ml": 700 }), 0.9).await;
        }
    }
    hand.send("PUT", "/session/reads", json!({ "units": "metric", "numbers": "comma" })).await;
    first
}

/// A long code of a lot.
fn code(component: &str) -> String {
    format!("LOT-2026-{component}-LONG-CODE-ON-THE-CAN")
}

/// Receives the lots of the sheet once, and goes through the lists of a batch.
async fn make_ready(hand: &Hand, lead: &Hand, sheet: &Value, book: Uuid) {
    let view = hand.send_get(&format!("/batches/{book}")).await;
    let items =
        view["ready"]["groups"].as_array().into_iter().flatten().flat_map(|g| g["items"].as_array().cloned().unwrap_or_default());
    for item in items {
        let tick = |did: &str| json!({ "item": item["key"], "did": did, "text": "control sample 4", "read_um": 58 });
        match item["what"]["kind"].as_str().unwrap_or_default() {
            "lot" => {
                let component = item["component"].as_str().unwrap_or_default();
                let payload = json!({ "code": code(component), "sheet": sheet, "component": component, "received": "2026-01-05",
                    "expires": "2099-01-05", "container_g": 900_000, "containers_count": 9 });
                // Received with the first coat; with the next it stands there already.
                let entry = json!({ "id": Uuid::now_v7(), "kind": "received", "payload": payload });
                let _ = lead.http.post(format!("{}/lots", lead.base)).json(&entry).send().await;
                hand.write(book, "take_lot", json!({ "component": component, "lot": code(component) }), 498.0).await;
            }
            "timer" => {
                hand.write(book, "tick", tick("start"), 498.0).await;
                hand.write(book, "tick", tick("stop"), 485.0).await;
            }
            "approve" => drop(lead.write(book, "tick", tick("done"), 498.0).await),
            _ => drop(hand.write(book, "tick", tick("done"), 498.0).await),
        }
    }
}

impl Hand {
    async fn send_get(&self, path: &str) -> Value {
        self.http.get(format!("{}{path}", self.base)).send().await.expect("an answer").json().await.expect("JSON")
    }
}

/// Grams of a shown mass, `2,41 kg` or `812 g`.
fn grams(text: &str) -> f64 {
    let plain = text.replace('\u{a0}', " ").replace(',', ".");
    let (figure, unit) = plain.split_once(' ').unwrap_or((&plain, "g"));
    figure.parse::<f64>().unwrap_or(0.0) * if unit == "kg" { 1000.0 } else { 1.0 }
}
